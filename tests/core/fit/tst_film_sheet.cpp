#include "core/fit/film_sheet.h"

#include "support/mini_pdf.h"

#include <QtTest>

#include <algorithm>
#include <cmath>

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
        const FilmSheet sheet = take(lay_out_film(job, 1234, 567, {}, {}));
        QCOMPARE(sheet.width, 1234);
        QCOMPARE(sheet.height, 567);
        QCOMPARE(sheet.art, (PixelRect{0, 0, 1234, 567}));
        QVERIFY(sheet.common.empty());
    }

    void marksLieAroundTheArtAndNotOnIt()
    {
        const int wide = 6000, high = 4000;
        const FilmSheet sheet = take(lay_out_film(
            two_plates(), wide, high, {0, 0, wide * 25.4 / 600, high * 25.4 / 600}, {"2026-11-25"}));
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
        const FilmSheet sheet = take(lay_out_film(job, 6000, 6000, {}, {}));
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
        const FilmSheet sheet = take(lay_out_film(two_plates(), 6000, 4000, {}, {}));
        QCOMPARE(sheet.wedge.size(), std::size_t(16));
        QCOMPARE(sheet.wedge.front().tone, std::uint8_t(3)); // 1 % is 2.55
        QCOMPARE(sheet.wedge[8].tone, std::uint8_t(128));
        QCOMPARE(sheet.wedge.back().tone, std::uint8_t(255));
        QCOMPARE(sheet.base, -1);
        QVERIFY(
            take(lay_out_film(two_plates(), 500, 500, {}, {})).wedge.empty()); // no room, none drawn over art
    }

    void aBaseGetsAWedgeOfItsOwn()
    {
        Job job = two_plates();
        Plate white = job.plates.front();
        white.ink = "Base White";
        white.kind = InkUse::White;
        job.plates.insert(job.plates.begin(), white);
        const FilmSheet sheet = take(lay_out_film(job, 6000, 4000, {}, {}));
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
        QCOMPARE(take(lay_out_film(job, 6000, 4000, {}, {})).base, -1);
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
        const FilmSheet sheet = take(lay_out_film(job, 6000, 4000, {}, {"2026-11-25"}));
        QVERIFY(!sheet.plate[0].empty());
        QVERIFY(!(sheet.plate[0][0].bits == sheet.plate[1][0].bits));
    }

    void aLongLabelOnANarrowFilmIsBroken()
    {
        Job job = two_plates();
        job.name = "a job with a rather long name that goes on";
        const FilmSheet sheet = take(lay_out_film(job, 300, 300, {}, {"2026-11-25"}));
        QVERIFY(sheet.plate[0].size() > 2);
        for (const MarkTile &tile : sheet.plate[0]) {
            QVERIFY(tile.x + tile.bits.width <= sheet.width);
            QVERIFY(tile.y + tile.bits.height <= sheet.height);
        }
    }

    void aFilmTooLargeIsRefusedWithTheLimit()
    {
        const auto sheet = lay_out_film(two_plates(), 200'000, 100, {}, {});
        QVERIFY(!sheet);
        QCOMPARE(sheet.error().code, ErrorCode::TooLarge);
        QVERIFY(sheet.error().reason.find("5549 mm") != std::string::npos); // 131072 pixels at 600 dpi
    }
};

QTEST_GUILESS_MAIN(TestFilmSheet)
#include "tst_film_sheet.moc"
