#include "core/fit/film_sheet.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <functional>
#include <set>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Job two_plates()
{
    Job job;
    job.name = "night tote";
    job.plates = {{"Luna Green", InkUse::Spot, {}, {Lpi(55), Degrees(22.5), DotShape::Round}, {}},
                  {"Wing Rust", InkUse::Spot, {}, {Lpi(65), Degrees(52.5), DotShape::Ellipse}, {}}};
    job.film.resolution = Dpi(600);
    return job;
}

} // namespace

class TestFilmSheet : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void withoutMarksTheSheetIsTheArt()
    {
        Job job = two_plates();
        job.film.marks = false;
        const FilmSheet sheet = take(lay_out_film(job, {1234, 567, {}}, {}));
        QCOMPARE(sheet.width, 1234);
        QCOMPARE(sheet.height, 567);
        QCOMPARE(sheet.art, (PixelRect{0, 0, 1234, 567}));
        QVERIFY(sheet.common.empty());
    }

    void marksLieAroundTheArtAndNotOnIt()
    {
        const int wide = 6000, high = 4000;
        const FilmSheet sheet = take(lay_out_film(
            two_plates(), {wide, high, {0, 0, wide * 25.4 / 600, high * 25.4 / 600}}, {"2026-11-25"}));
        QCOMPARE(sheet.art.width, wide);
        QCOMPARE(sheet.art.x % 64, 0);
        QCOMPARE(sheet.registration.size(), std::size_t(4));
        const auto crosses_art = [&](const PixelRect &r) {
            return r.x < sheet.art.x + wide && r.x + r.width > sheet.art.x && r.y < sheet.art.y + high &&
                   r.y + r.height > sheet.art.y;
        };
        for (const PixelRect &mark : sheet.registration) {
            QVERIFY(!crosses_art(mark));
            QVERIFY(mark.x >= 0 && mark.y >= 0 && mark.x + mark.width <= sheet.width &&
                    mark.y + mark.height <= sheet.height);
        }
        // Top and bottom marks stand over each other, left and right ones at the same height.
        QCOMPARE(sheet.registration[0].x, sheet.registration[1].x);
        QCOMPARE(sheet.registration[2].y, sheet.registration[3].y);
        for (const auto &tiles : {sheet.common, sheet.plate[0], sheet.plate[1]}) {
            for (const MarkTile &tile : tiles) {
                QCOMPARE(tile.x % 64, 0);
                for (int y = 0; y < tile.bits.height; ++y) {
                    for (int x = 0; x < tile.bits.width; ++x) {
                        QVERIFY(!tile.bits.at(x, y) || !crosses_art({tile.x + x, tile.y + y, 1, 1}));
                    }
                }
            }
        }
    }

    void theHairlineIsOnePoint_data()
    {
        QTest::addColumn<double>("dpi");
        QTest::addColumn<int>("pixels");
        QTest::newRow("600 dpi") << 600.0 << 8;
        QTest::newRow("1200 dpi") << 1200.0 << 17;
        QTest::newRow("2400 dpi") << 2400.0 << 33;
    }
    void theHairlineIsOnePoint()
    {
        QFETCH(double, dpi);
        QFETCH(int, pixels);
        Job job = two_plates();
        job.film.resolution = Dpi(dpi);
        const FilmSheet sheet = take(lay_out_film(job, {6000, 6000, {}}, {}));
        const MarkTile &mark = sheet.common[0];
        // Along the top row of the mark only the upright hairline is inked.
        int inked = 0;
        for (int x = 0; x < mark.bits.width; ++x) {
            inked += mark.bits.at(x, 0) ? 1 : 0;
        }
        QCOMPARE(inked, pixels);
        // The mark is 8 mm.
        QVERIFY(std::abs(sheet.registration[0].width - std::lround(8 * dpi / 25.4)) <= 1);
    }

    void theWedgeRunsFromBareToSolid()
    {
        const FilmSheet sheet = take(lay_out_film(two_plates(), {6000, 4000, {}}, {}));
        QCOMPARE(sheet.wedge.size(), std::size_t(16));
        QCOMPARE(sheet.wedge.front().tone, std::uint8_t(3)); // 1 % is 2.55
        QCOMPARE(sheet.wedge[8].tone, std::uint8_t(128));
        QCOMPARE(sheet.wedge.back().tone, std::uint8_t(255));
        QCOMPARE(sheet.base, -1);
        QVERIFY(take(lay_out_film(two_plates(), {500, 500, {}}, {}))
                    .wedge.empty()); // no room, none drawn over art
    }

    void aBaseGetsAWedgeOfItsOwn()
    {
        Job job = two_plates();
        Plate white = job.plates.front();
        white.ink = "Base White";
        white.kind = InkUse::White;
        job.plates.insert(job.plates.begin(), white);
        const FilmSheet sheet = take(lay_out_film(job, {6000, 4000, {}}, {}));
        QCOMPARE(sheet.base, 0);
        QCOMPARE(sheet.wedge.size(), std::size_t(32));
        const PixelRect &mark = sheet.registration[1];
        for (std::size_t i = 0; i < 16; ++i) {
            const WedgePatch &bare = sheet.wedge[i];
            const WedgePatch &based = sheet.wedge[i + 16];
            QVERIFY(!bare.on_base && bare.rect.x >= mark.x + mark.width);
            QVERIFY(based.on_base && based.rect.x + based.rect.width <= mark.x &&
                    based.rect.x >= sheet.art.x);
            QCOMPARE(bare.tone, based.tone);
        }
        // White printed last lies under nothing.
        std::rotate(job.plates.begin(), job.plates.begin() + 1, job.plates.end());
        QCOMPARE(take(lay_out_film(job, {6000, 4000, {}}, {})).base, -1);
    }

    void labelsSayWhatTheFilmIs()
    {
        Job job = two_plates();
        job.film.mirror = true;
        job.plates[1].printing = {2, false, true, 77};
        const std::string label = film_label(job, 1, {"2026-11-25"});
        for (const char *part : {"night tote", "Wing Rust", "plate 2 of 2", "65 lpi", "52.5°", "ellipse",
                                 "600 dpi", "wrong-reading", "2026-11-25", "mesh 77/cm", "2 hits", "flash"}) {
            QVERIFY2(label.find(part) != std::string::npos, part);
        }
        const FilmSheet sheet = take(lay_out_film(job, {6000, 4000, {}}, {"2026-11-25"}));
        QVERIFY(!sheet.plate[0].empty());
        QVERIFY(!(sheet.plate[0][0].bits == sheet.plate[1][0].bits));
    }

    void aLongLabelOnANarrowFilmIsBroken()
    {
        Job job = two_plates();
        job.name = "a job with a rather long name that goes on";
        const FilmSheet sheet = take(lay_out_film(job, {300, 300, {}}, {"2026-11-25"}));
        QVERIFY(sheet.plate[0].size() > 2);
        for (const MarkTile &tile : sheet.plate[0]) {
            QVERIFY(tile.x + tile.bits.width <= sheet.width);
            QVERIFY(tile.y + tile.bits.height <= sheet.height);
        }
    }

    void copiesStandSideBySideWithCropMarksOfTheirOwn()
    {
        Job job = two_plates();
        job.film.columns = 3;
        job.film.rows = 2;
        job.film.gap = 5;
        const int gap = static_cast<int>(std::lround(5 * 600 / 25.4));
        const Rect trim{2, 3, 40, 30};
        const FilmSheet sheet = take(lay_out_film(job, {1000, 800, trim}, {}));
        QCOMPARE(sheet.art.width, 3 * 1000 + 2 * gap);
        QCOMPARE(sheet.art.height, 2 * 800 + gap);
        QCOMPARE(sheet.column_pitch, 1000 + gap);
        // Above the art a line at both trim edges of each copy across, its inner edge on the trim.
        const auto px = [](double mm) { return static_cast<int>(std::lround(mm * 600 / 25.4)); };
        std::set<int> expected, found;
        for (int copy = 0; copy < 3; ++copy) {
            expected.insert(sheet.art.x + copy * sheet.column_pitch + px(trim.x) - 8);
            expected.insert(sheet.art.x + copy * sheet.column_pitch + px(trim.x + trim.width));
        }
        for (std::size_t i = sheet.registration.size(); i < sheet.common.size(); ++i) {
            const MarkTile &tile = sheet.common[i];
            if (tile.y < sheet.art.y && tile.y + tile.bits.height < sheet.art.y && tile.bits.height > 100) {
                int x = 0;
                while (!tile.bits.at(x, 0)) {
                    ++x;
                }
                found.insert(tile.x + x);
            }
        }
        QVERIFY(found == expected);
    }

    void aFilmOfItsOwnSizeHoldsTheArtWhereItIsWanted()
    {
        Job job = two_plates();
        job.film.sheet_width = 300;
        job.film.sheet_height = 250;
        const auto px = [](double mm) { return static_cast<int>(std::lround(mm * 600 / 25.4)); };
        FilmSheet sheet = take(lay_out_film(job, {4000, 3000, {0, 0, 169.3, 127}}, {}));
        QCOMPARE(sheet.width, px(300));
        QCOMPARE(sheet.height, px(250));
        QCOMPARE(sheet.art.x, (sheet.width - 4000) / 2); // in the middle, to the pixel
        QCOMPARE(sheet.art.y, (sheet.height - 3000) / 2);
        job.film.from_left = 20;
        job.film.from_top = 50;
        sheet = take(lay_out_film(job, {4000, 3000, {0, 0, 169.3, 127}}, {}));
        QCOMPARE(sheet.art.x, px(20));
        QCOMPARE(sheet.art.y, px(50));
        // Too small: what it takes is said.
        job.film.sheet_width = 180;
        const auto small = lay_out_film(job, {4000, 3000, {}}, {});
        QVERIFY(!small);
        QCOMPARE(small.error().code, ErrorCode::OutOfRange);
        QVERIFY2(small.error().remedy.find("202 mm × 194 mm") != std::string::npos,
                 small.error().remedy.c_str());
        // And what is said does, in the middle as at a place, with a label of many lines.
        job.name = "a job with a rather long name that goes on and on so that its label takes several lines";
        for (const double from : {-1.0, 20.0}) {
            job.film.from_left = job.film.from_top = from;
            job.film.sheet_width = job.film.sheet_height = 10;
            const auto refused = lay_out_film(job, {1200, 900, {}}, {});
            QVERIFY(!refused);
            const auto said = QRegularExpression(QStringLiteral("It takes (\\d+) mm × (\\d+) mm"))
                                  .match(QString::fromStdString(refused.error().remedy));
            QVERIFY2(said.hasMatch(), refused.error().remedy.c_str());
            const double width = said.captured(1).toDouble(), height = said.captured(2).toDouble();
            job.film.sheet_width = width;
            job.film.sheet_height = height;
            QVERIFY(lay_out_film(job, {1200, 900, {}}, {}));
            job.film.sheet_height = height - 2;
            QVERIFY(!lay_out_film(job, {1200, 900, {}}, {}));
        }
    }

    void marksAreThoseOfTheSet()
    {
        Job job = two_plates();
        MarkSet &marks = job.film.mark_set;
        const FilmArt art{6000, 4000, {5, 5, 244, 159.3}, {2, 2, 250, 165.3}};
        const auto lay = [&] { return take(lay_out_film(job, art, {})); };
        const std::size_t usual = lay().common.size();
        marks.corners = true;
        QCOMPARE(lay().registration.size(), std::size_t(8));
        marks.corners = false;
        marks.bleed = true;
        QCOMPARE(lay().common.size(), usual + 8);
        marks.bleed = false;
        marks.pinholes = true;
        QCOMPARE(lay().common.size(), usual + 2);
        marks.pinholes = false;
        marks.ruler = true;
        QCOMPARE(lay().common.size(), usual + 102); // 101 ticks and a line
        // What prints is 100 mm long, whatever the plate is stretched by.
        job.film.across = 1.02;
        const int one_ruler = lay_out_film(two_plates(), art, {})->width;
        FilmSheet sheet = lay();
        const MarkTile &rule = sheet.common[sheet.common.size() - 103];
        int ink = 0;
        for (int x = 0; x < rule.bits.width; ++x) {
            ink += rule.bits.at(x, 0) ? 1 : 0;
        }
        QVERIFY(std::abs(ink - std::lround(102 * 600 / 25.4)) <= 5);
        // Stretched otherwise along, a second ruler stands upright beside the marks, of that length.
        QCOMPARE(sheet.common.size(), usual + 204);
        const MarkTile &upright = sheet.common.back();
        QVERIFY(std::abs(upright.bits.height - std::lround(100 * 600 / 25.4)) <= 5);
        QCOMPARE(upright.y, sheet.art.y);
        QVERIFY(upright.x >= sheet.registration[3].x + sheet.registration[3].width - 63);
        QVERIFY(sheet.width > one_ruler);
        job.film.along = 1.02;
        QCOMPARE(lay().common.size(), usual + 102);
        job.film.across = job.film.along = 1;
        marks.ruler = false;
        marks.crop = false;
        QCOMPARE(lay().common.size(), usual - 8);
        marks.registration = RegistrationMark::None;
        QVERIFY(lay().common.empty());
        marks.centre = true;
        QCOMPARE(lay().common.size(), std::size_t(4));
        marks.centre = false;
        marks.wedge_steps = {1, 2, 50};
        QCOMPARE(lay().wedge.size(), std::size_t(3));
        marks.patches = true;
        QCOMPARE(lay().wedge.size(), std::size_t(5));
        marks.patches = false;
        marks.wedge = false;
        QVERIFY(lay().wedge.empty());
        const int labelled = lay().height;
        marks.label = false;
        sheet = lay();
        QVERIFY(sheet.plate[0].empty() && sheet.height < labelled);
    }

    void marksKeepTheirDistanceSizeAndLine()
    {
        Job job = two_plates();
        MarkSet &marks = job.film.mark_set;
        marks.distance = 5;
        marks.size = 12;
        marks.line = 0.5;
        marks.registration = RegistrationMark::Cross;
        const FilmSheet sheet = take(lay_out_film(job, {6000, 4000, {0, 0, 254, 169.3}}, {}));
        const PixelRect &above = sheet.registration[0];
        QCOMPARE(above.width, static_cast<int>(std::lround(12 * 600 / 25.4)));
        QCOMPARE(sheet.art.y - above.y - above.height, static_cast<int>(std::lround(5 * 600 / 25.4)));
        // Without a ring only the lines are inked: 4 pixels each.
        std::int64_t ink = 0;
        const MarkTile &mark = sheet.common[0];
        for (int y = 0; y < mark.bits.height; ++y) {
            for (int x = 0; x < mark.bits.width; ++x) {
                ink += mark.bits.at(x, y) ? 1 : 0;
            }
        }
        QCOMPARE(ink, std::int64_t(4) * above.width * 2 - 16);
    }

    void centreMarksFollowTheTrim()
    {
        Job job = two_plates();
        job.film.mark_set.centre = true;
        const Rect trim{20, 10, 100, 100}; // off the middle of the art
        const FilmSheet sheet = take(lay_out_film(job, {6000, 4000, trim}, {}));
        const PixelRect &above = sheet.registration[0];
        const double middle = sheet.art.x + 70 * 600 / 25.4;
        QVERIFY(std::fabs(above.x + above.width / 2.0 - middle) <= 1);
        QVERIFY(std::fabs(sheet.registration[2].y + above.height / 2.0 - (sheet.art.y + 60 * 600 / 25.4)) <=
                1);
    }

    void labelsSayThePiecesAskedForInTheirOrder()
    {
        Job job = two_plates();
        job.film.mark_set.number = "QM-7";
        job.film.mark_set.pieces = {LabelPiece::Ink, LabelPiece::Number, LabelPiece::Size};
        job.placements.scale = 1.5;
        job.film.along = 0.985;
        QCOMPARE(
            film_label(job, 0, {"2026-11-25"}, 200, 100),
            std::string("Luna Green · QM-7 · 200 × 100 mm, 150 %, stretched 98.5 % along, 100 % across"));
        job.film.mark_set.pieces = {LabelPiece::Screen};
        job.plates[0].screen.kind = ScreenKind::Fm;
        QCOMPARE(film_label(job, 0, {}), std::string("FM 2 px"));
        job.plates[0].screen.kind = ScreenKind::None;
        job.plates[0].press.least = 0.05;
        QCOMPARE(film_label(job, 0, {}), std::string("no halftone, curve"));
    }

    void impossibleSettingsAreRefused()
    {
        const auto refused = [](const std::function<void(FilmOptions &)> &edit) {
            Job job = two_plates();
            edit(job.film);
            const auto sheet = lay_out_film(job, {600, 600, {}}, {});
            return !sheet && sheet.error().code == ErrorCode::OutOfRange && !sheet.error().remedy.empty();
        };
        QVERIFY(refused([](FilmOptions &film) { film.columns = 0; }));
        QVERIFY(refused([](FilmOptions &film) { film.rows = 101; }));
        QVERIFY(refused([](FilmOptions &film) { film.gap = -1; }));
        QVERIFY(refused([](FilmOptions &film) { film.across = std::nan(""); }));
        QVERIFY(refused([](FilmOptions &film) { film.along = 3; }));
        QVERIFY(refused([](FilmOptions &film) { film.mark_set.size = 0; }));
        QVERIFY(refused([](FilmOptions &film) { film.mark_set.wedge_steps = {120}; }));
        QVERIFY(refused([](FilmOptions &film) { film.sheet_width = 1e9; }));
    }

    void aFilmTooLargeIsRefusedWithTheLimit()
    {
        const auto sheet = lay_out_film(two_plates(), {200'000, 100, {}}, {});
        QVERIFY(!sheet);
        QCOMPARE(sheet.error().code, ErrorCode::TooLarge);
        QVERIFY(sheet.error().reason.find("5549 mm") != std::string::npos); // 131072 pixels at 600 dpi
    }
};

BICHROM_TEST(TestFilmSheet, QCoreApplication)
#include "tst_film_sheet.moc"
