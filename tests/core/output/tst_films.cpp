#include "core/output/output_set.h"

#include "core/artwork/placed_artwork.h"
#include "core/fit/film_sheet.h"
#include "core/job/edits/resize.h"
#include "core/proof/dots_look.h"
#include "core/raster/bitmap_ops.h"
#include "core/screen/halftone.h"
#include "support/mini_pdf.h"
#include "support/spectrum.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QtTest>

#include <cmath>
#include <csignal>
#include <sys/resource.h>
#include <tiffio.h>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Two spots: Alpha solid in the left half, Beta 40 % overprinting everywhere; 3 × 2 inches.
OpenedJob two_spot_job()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 0 0 108 144 re f /OP gs /B cs 0.4 scn 0 0 216 144 re f");
    pdf.width = 216;
    pdf.height = 144;
    OpenedJob opened = pdf.job();
    opened.job.film.resolution = Dpi(600);
    return opened;
}

struct Written
{
    QTemporaryDir folder;
    Manifest manifest;
    [[nodiscard]] TiffFile film(std::size_t i) const
    {
        return read_tiff(folder.filePath(QString::fromStdString(manifest.plates[i].file)));
    }
    [[nodiscard]] QByteArray bytes(std::size_t i) const
    {
        QFile file(folder.filePath(QString::fromStdString(manifest.plates[i].file)));
        file.open(QIODevice::ReadOnly);
        return file.readAll();
    }
};

std::unique_ptr<Written> write(const OpenedJob &opened, int threads = 0, int band_rows = 0)
{
    auto written = std::make_unique<Written>();
    OutputRequest request;
    request.folder = written->folder.path().toStdString();
    request.label.date = "2026-11-25";
    request.threads = threads;
    request.band_rows = band_rows;
    written->manifest = take(write_films(opened, request));
    return written;
}

QStringList files_in(const QString &folder)
{
    return QDir(folder).entryList(QDir::Files | QDir::Hidden);
}

} // namespace

class TestFilms : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void filmsSayExactlyWhatTheyAre()
    {
        OpenedJob opened = two_spot_job();
        opened.job.film.marks = false;
        const auto written = write(opened);
        QCOMPARE(written->manifest.plates.size(), std::size_t(2));
        for (std::size_t i = 0; i < 2; ++i) {
            const TiffFile film = written->film(i);
            QCOMPARE(film.width, 1800); // 3 in at 600 dpi
            QCOMPARE(film.height, 1200);
            QCOMPARE(film.bits, 1);
            QCOMPARE(film.samples, 1);
            QCOMPARE(film.photometric, PHOTOMETRIC_MINISWHITE);
            QCOMPARE(film.compression, COMPRESSION_CCITTFAX4);
            QCOMPARE(film.resolution_unit, RESUNIT_INCH);
            QCOMPARE(film.x_resolution, 600.0);
            QCOMPARE(film.y_resolution, 600.0);
            QCOMPARE(film.description, written->manifest.plates[i].ink);
        }
        // Solid ink is black, bare film white, the edge exactly in the middle.
        const Bitmap alpha = written->film(0).film;
        for (int y = 0; y < alpha.height; y += 7) {
            for (int x = 0; x < alpha.width; ++x) {
                QCOMPARE(alpha.at(x, y), x < 900);
            }
        }
        QVERIFY(std::fabs(written->manifest.plates[0].coverage - 0.5) < 1e-6);
        QVERIFY(std::fabs(written->manifest.plates[1].coverage - 0.4) < 1e-3);
    }

    void theTintIsTheScreenItself()
    {
        OpenedJob opened = two_spot_job();
        opened.job.film.marks = false;
        opened.job.plates[1].screen = {Lpi(50.5), Degrees(33), DotShape::Ellipse};
        const Bitmap beta = write(opened)->film(1).film;
        const auto screen = take(Halftone::make(opened.job.plates[1].screen, Dpi(600)));
        std::vector<std::uint8_t> tones(1800, 102);
        Bitmap row(1800, 1);
        for (int y = 0; y < 1200; y += 11) {
            screen.screen_row(tones.data(), 1800, 0, y, row.row(0));
            for (int x = 0; x < 1800; ++x) {
                QCOMPARE(beta.at(x, y), row.at(x, 0));
            }
        }
    }

    void errorDiffusionIsTheSameInAnyBandsAndOnTheLightTable()
    {
        OpenedJob opened = two_spot_job();
        Screen &screen = opened.job.plates[1].screen;
        screen.kind = ScreenKind::Diffusion;
        screen.least_dot = 2;
        opened.job.film.columns = 2; // what stands beside it, and below, decides too
        opened.job.film.rows = 2;
        opened.job.film.gap = 0;
        const Bitmap whole = write(opened)->film(1).film;
        QVERIFY(std::fabs(write(opened)->manifest.plates[1].coverage - 0.4) < 1e-3);
        for (const int rows : {64, 192, 1024}) {
            QVERIFY(write(opened, rows == 192 ? 1 : 2, rows)->film(1).film == whole);
        }
        opened.job.film.marks = false;
        opened.job.film.columns = opened.job.film.rows = 1;
        const Bitmap film = write(opened)->film(1).film;
        const auto line =
            take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(opened.job)));
        std::vector<Halftone> screens;
        for (const Plate &plate : opened.job.plates) {
            screens.push_back(take(Halftone::make(plate.screen, Dpi(600))));
        }
        const PixelRect part = {700, 300, 500, 400};
        const Bitmap seen = take(film_dots(*line, screens, part, Dpi(600)))[1];
        int ink = 0;
        for (int y = 0; y < part.height; ++y) {
            for (int x = 0; x < part.width; ++x) {
                QCOMPARE(seen.at(x, y), film.at(part.x + x, part.y + y));
                ink += seen.at(x, y) ? 1 : 0;
            }
        }
        QVERIFY(ink > 0);
    }

    void fourteenInchesAreFourteenInches()
    {
        // 14 in at 1200 dpi is 16 800 pixels; the page is 3 in wide.
        OpenedJob opened = two_spot_job();
        opened.job.film.resolution = Dpi(1200);
        opened.job.film.marks = false;
        opened.job = take(resized(std::move(opened.job), 14.0 / 3, *opened.artwork));
        opened.artwork = take(assemble(opened.artwork, opened.job.placements));
        const auto written = write(opened);
        QCOMPARE(written->manifest.plates[0].width, 16800);
        QCOMPARE(written->manifest.plates[0].height, 11200);
        QVERIFY(std::fabs(written->manifest.width.value - 355.6) < 1e-6);
        const TiffFile film = written->film(1);
        QCOMPARE(film.x_resolution, 1200.0);
        // Dots are as they always are: only the art grew.
        const ScreenFound found =
            find_screen(film.film, 1200, 55, opened.job.plates[1].screen.angle.value, 1000);
        QVERIFY(std::fabs(found.lpi - 55) < 0.05);
    }

    void copiesAreTheArtAgain()
    {
        OpenedJob opened = two_spot_job();
        opened.job.plates[1].screen.kind = ScreenKind::None;
        opened.job.film.columns = 2;
        opened.job.film.rows = 3;
        opened.job.film.gap = 4;
        const FilmSheet sheet =
            take(lay_out_film(opened.job, {1800, 1200, {0, 0, 76.2, 50.8}}, {"2026-11-25"}));
        const auto written = write(opened);
        QCOMPARE(written->manifest.columns * written->manifest.rows, 6);
        QVERIFY(std::fabs(written->manifest.plates[0].coverage - 0.5) < 1e-6);
        const Bitmap alpha = written->film(0).film;
        QCOMPARE(alpha.width, sheet.width);
        QCOMPARE(alpha.height, sheet.height);
        const auto inside = [&](int x, int y) {
            const int column = (x - sheet.art.x) / sheet.column_pitch,
                      row = (y - sheet.art.y) / sheet.row_pitch;
            return (x - sheet.art.x) - column * sheet.column_pitch < 900 &&
                   (y - sheet.art.y) - row * sheet.row_pitch < 1200;
        };
        for (int y = sheet.art.y; y < sheet.art.y + sheet.art.height; y += 3) {
            for (int x = sheet.art.x; x < sheet.art.x + sheet.art.width; ++x) {
                QCOMPARE(alpha.at(x, y), inside(x, y));
            }
        }
        // The same for any bands and threads.
        QVERIFY(written->bytes(0) == write(opened, 1)->bytes(0));
        QVERIFY(written->film(1).film == write(opened, 2, 64)->film(1).film);
    }

    void copiesOfComputedPlatesAreAlikeToo()
    {
        OpenedJob opened = two_spot_job();
        opened.job.traps.on = true;
        RecipeStep step;
        step.source.from = RecipeFrom::Plate;
        step.source.inks = {"Alpha"};
        RecipeStep choke;
        choke.does = RecipeDo::Choke;
        choke.distance = 1;
        opened.job.plates[1].recipe = {step, choke};
        opened.job.plates[1].screen.kind = ScreenKind::None; // dots go on from copy to copy
        opened.job.film.rows = 2;
        opened.job.film.gap = 3;
        opened.job.film.marks = false;
        const FilmSheet sheet = take(lay_out_film(opened.job, {1800, 1200, {}}, {}));
        const Bitmap film = write(opened, 0, 64)->film(1).film;
        std::int64_t ink = 0;
        for (int y = 0; y < 1200; ++y) {
            for (int x = 0; x < 1800; ++x) {
                QCOMPARE(film.at(x, y), film.at(x, y + sheet.row_pitch));
                ink += film.at(x, y) ? 1 : 0;
            }
        }
        // 36.1 × 48.8 mm at 600 dpi: a millimetre less on each side of Alpha.
        QVERIFY(std::fabs(static_cast<double>(ink) - 36.1 * 48.8 * std::pow(600 / 25.4, 2)) < 8000);
        for (int y = 1200; y < sheet.row_pitch; ++y) {
            QVERIFY(!film.at(100, y));
        }
    }

    void stretchedFilmsKeepTheirDots()
    {
        OpenedJob opened = two_spot_job();
        opened.job.film.marks = false;
        opened.job.film.along = 0.97;
        opened.job.film.across = 1.02;
        const auto written = write(opened);
        const Bitmap alpha = written->film(0).film, beta = written->film(1).film;
        QCOMPARE(alpha.width, 1836); // 1800 × 1.02
        QCOMPARE(alpha.height, 1164);
        for (int x = 0; x < alpha.width; ++x) {
            QCOMPARE(alpha.at(x, 500), x < 918);
        }
        const Screen &screen = opened.job.plates[1].screen;
        const ScreenFound found = find_screen(beta, 600, screen.ruling.value, screen.angle.value, 1000);
        QVERIFY2(std::fabs(found.lpi - screen.ruling.value) < 0.05, qPrintable(QString::number(found.lpi)));
        QVERIFY(std::fabs(std::remainder(found.angle - screen.angle.value, 90)) < 0.05);
        QCOMPARE(opened.job.film.along, 0.97); // the job itself stays as it is
        QVERIFY(std::fabs(take(opened.artwork->page_info(1)).box(PageBox::Media).width - 76.2) < 1e-6);
    }

    void theBaseLiesSolidUnderItsWedge()
    {
        OpenedJob opened = two_spot_job();
        opened.job.plates[0].kind = InkUse::White;
        const auto written = write(opened);
        const FilmSheet sheet =
            take(lay_out_film(opened.job, {1800, 1200, {0, 0, 76.2, 50.8}}, {"2026-11-25"}));
        QCOMPARE(sheet.base, 0);
        const Bitmap films[] = {written->film(0).film, written->film(1).film};
        const auto share = [&](int plate, const PixelRect &rect) {
            int inked = 0;
            for (int y = rect.y; y < rect.y + rect.height; ++y) {
                for (int x = rect.x; x < rect.x + rect.width; ++x) {
                    inked += films[plate].at(x, y) ? 1 : 0;
                }
            }
            return static_cast<double>(inked) / (rect.width * rect.height);
        };
        int on_base = 0;
        for (const WedgePatch &patch : sheet.wedge) {
            on_base += patch.on_base ? 1 : 0;
            QVERIFY(std::fabs(share(0, patch.rect) - (patch.on_base ? 1.0 : patch.tone / 255.0)) < 0.05);
            QVERIFY(std::fabs(share(1, patch.rect) - patch.tone / 255.0) < 0.05);
        }
        QVERIFY(on_base > 0);
    }

    void marksStandAtTheSamePixelOnEveryFilm()
    {
        const OpenedJob opened = two_spot_job();
        const auto written = write(opened);
        const Bitmap a = written->film(0).film;
        const Bitmap b = written->film(1).film;
        QCOMPARE(a.width, b.width);
        QCOMPARE(a.height, b.height);
        const FilmSheet sheet =
            take(lay_out_film(opened.job, {1800, 1200, {0, 0, 76.2, 50.8}}, {"2026-11-25"}));
        QCOMPARE(a.width, sheet.width);
        for (const PixelRect &mark : sheet.registration) {
            int inked = 0;
            for (int y = mark.y; y < mark.y + mark.height; ++y) {
                for (int x = mark.x; x < mark.x + mark.width; ++x) {
                    QCOMPARE(a.at(x, y), b.at(x, y));
                    inked += a.at(x, y) ? 1 : 0;
                }
            }
            QVERIFY(inked > mark.width * 8); // there is a mark
        }
        // The art is the same with and without marks.
        OpenedJob plain = two_spot_job();
        plain.job.film.marks = false;
        const Bitmap art = write(plain)->film(1).film;
        for (int y = 0; y < art.height; y += 13) {
            for (int x = 0; x < art.width; ++x) {
                QCOMPARE(b.at(sheet.art.x + x, sheet.art.y + y), art.at(x, y));
            }
        }
    }

    void mirrorAndNegativeAreExact()
    {
        const Bitmap right = write(two_spot_job())->film(1).film;
        OpenedJob opened = two_spot_job();
        opened.job.name = "mini"; // the label says "wrong-reading": leave it out of the comparison
        opened.job.film.marks = false;
        const Bitmap plain = write(opened)->film(1).film;
        opened.job.film.mirror = true;
        Bitmap turned = write(opened)->film(1).film;
        mirror(turned);
        QVERIFY(turned == plain);
        opened.job.film.mirror = false;
        opened.job.film.negative = true;
        Bitmap negative = write(opened)->film(1).film;
        invert(negative);
        QVERIFY(negative == plain);
        QVERIFY(right.width > plain.width);
    }

    void filmsAreTheSameForAnyThreadsAndBands()
    {
        auto opened = take(open_job_or_artwork(demo_file().toStdString()));
        opened.job.film.resolution = Dpi(300);
        const auto first = write(opened, 1, 64);
        for (const auto &[threads, rows] : {std::pair{2, 64}, std::pair{4, 64}}) {
            const auto other = write(opened, threads, rows);
            for (std::size_t i = 0; i < first->manifest.plates.size(); ++i) {
                QCOMPARE(other->bytes(i), first->bytes(i));
            }
        }
        // Other band heights give other strips in the file, but the same pixels.
        for (const int rows : {37, 200, 5000}) {
            const auto other = write(opened, 2, rows);
            for (std::size_t i = 0; i < first->manifest.plates.size(); ++i) {
                QVERIFY(other->film(i).film == first->film(i).film);
            }
        }
    }

    void thePdfHoldsTheSameFilms()
    {
        // Decoded by Poppler's pdfimages; page sizes by pdfinfo.
        const QString pdfimages = QStandardPaths::findExecutable(QStringLiteral("pdfimages"));
        if (pdfimages.isEmpty()) {
            QSKIP("pdfimages is not installed");
        }
        OpenedJob opened = two_spot_job();
        const auto tiffs = write(opened);
        opened.job.film.format = FilmFormat::Pdf;
        const auto written = write(opened, 2, 37);
        QCOMPARE(files_in(written->folder.path()),
                 (QStringList{QStringLiteral("manifest.json"),
                              QString::fromStdString(written->manifest.plates[0].file)}));
        const QString pdf =
            written->folder.filePath(QString::fromStdString(written->manifest.plates[0].file));
        QProcess info;
        info.start(QStringLiteral("pdfinfo"), {pdf});
        QVERIFY(info.waitForFinished());
        const QString facts = QString::fromUtf8(info.readAllStandardOutput());
        QVERIFY2(facts.contains(QRegularExpression(QStringLiteral("Pages:\\s+2"))), qPrintable(facts));
        const double points = tiffs->film(0).width * 72.0 / 600;
        QVERIFY2(facts.contains(QRegularExpression(
                     QStringLiteral("Page size:\\s+%1").arg(QString::number(points, 'g', 6)))),
                 qPrintable(facts));
        QProcess images;
        images.start(QStringLiteral("pdfimages"), {QStringLiteral("-list"), pdf});
        QVERIFY(images.waitForFinished());
        QCOMPARE(QString::fromUtf8(images.readAllStandardOutput()).count(QStringLiteral("ccitt")), 2);
        for (int page = 1; page <= 2; ++page) {
            QProcess render;
            const QString out = written->folder.filePath(QStringLiteral("page%1").arg(page));
            render.start(pdfimages, {QStringLiteral("-f"), QString::number(page), QStringLiteral("-l"),
                                     QString::number(page), pdf, out});
            QVERIFY(render.waitForFinished());
            QFile pbm(out + QStringLiteral("-000.pbm"));
            QVERIFY(pbm.open(QIODevice::ReadOnly));
            const QByteArray head = pbm.readLine().trimmed();
            QCOMPARE(head, QByteArray("P4"));
            const QList<QByteArray> size = pbm.readLine().trimmed().split(' ');
            const Bitmap film = tiffs->film(static_cast<std::size_t>(page - 1)).film;
            QCOMPARE(size[0].toInt(), film.width);
            QCOMPARE(size[1].toInt(), film.height);
            const QByteArray rows = pbm.readAll();
            const int stride = (film.width + 7) / 8;
            std::int64_t differing = 0;
            for (int y = 0; y < film.height; ++y) {
                for (int x = 0; x < film.width; ++x) {
                    const bool black =
                        (static_cast<unsigned char>(rows[y * stride + x / 8]) >> (7 - x % 8) & 1) != 0;
                    differing += black != film.at(x, y) ? 1 : 0;
                }
            }
            QCOMPARE(differing, std::int64_t(0));
        }
    }

    /// Rows of solids alone are written without pixels: the same film as its negative turned back, whose rows
    /// are all made of pixels, wherever the art stands.
    void solidRowsAreWrittenAsTheyStand_data()
    {
        QTest::addColumn<bool>("marks");
        QTest::addColumn<int>("columns");
        QTest::addColumn<double>("left");
        QTest::newRow("alone, ink to the edges") << false << 1 << -1.0;
        QTest::newRow("with marks") << true << 1 << -1.0;
        QTest::newRow("copies that touch") << false << 3 << -1.0;
        QTest::newRow("copies on a film of its own size") << true << 2 << 27.3;
    }
    void solidRowsAreWrittenAsTheyStand()
    {
        QFETCH(bool, marks);
        QFETCH(int, columns);
        QFETCH(double, left);
        MiniPdf pdf =
            spots_page("/A cs 1 scn 0 0 101.3 20 re f 31.7 20 m 70 61 l 11 55 l f 80.1 30 140 33 re f "
                       "/OP gs /B cs 0.4 scn 50 10 40 30 re f 1 scn 3 44 216 7 re f");
        pdf.width = 216;
        OpenedJob opened = pdf.job();
        opened.job.film.mark_set.label = false; // which tells a negative
        opened.job.film.marks = marks;
        opened.job.film.columns = columns;
        if (left >= 0) {
            opened.job.film.sheet_width = 300;
            opened.job.film.sheet_height = 200;
            opened.job.film.from_left = opened.job.film.from_top = left;
        }
        const auto plain = write(opened);
        opened.job.film.negative = true;
        const auto negative = write(opened);
        for (const std::size_t plate : {0, 1}) {
            Bitmap turned = negative->film(plate).film;
            invert(turned);
            const Bitmap &film = plain->film(plate).film;
            QVERIFY(film == turned);
            std::uint64_t black = 0; // the small picture's mean is the film's
            for (int y = 0; y < film.height; ++y) {
                for (int x = 0; x < film.width; ++x) {
                    black += film.at(x, y) ? 1 : 0;
                }
            }
            const Plane &small = plain->manifest.plates[plate].thumbnail;
            QVERIFY(black > 1000 && small.width > 1);
            const int square = 64 * ((std::max(film.width, film.height) + 64 * 240 - 1) / (64 * 240));
            double sum = 0;
            for (int y = 0; y < small.height; ++y) {
                for (int x = 0; x < small.width; ++x) {
                    const int wide = std::min(square, film.width - x * square);
                    sum += small.at(x, y) / 255.0 * wide * std::min(square, film.height - y * square);
                }
            }
            QVERIFY2(std::fabs(sum / static_cast<double>(black) - 1) < 0.01,
                     qPrintable(QStringLiteral("%1 of %2").arg(sum).arg(black)));
        }
    }

    void theManifestListsEveryFilm()
    {
        const OpenedJob opened = two_spot_job();
        const auto written = write(opened);
        QFile file(written->folder.filePath(QStringLiteral("manifest.json")));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QJsonObject root = QJsonDocument::fromJson(file.readAll()).object();
        QCOMPARE(root[QStringLiteral("source")].toString(), QStringLiteral("mini.pdf"));
        QCOMPARE(root[QStringLiteral("width_mm")].toDouble(), 76.2);
        const QJsonArray plates = root[QStringLiteral("plates")].toArray();
        QCOMPARE(plates.size(), 2);
        const QJsonObject beta = plates[1].toObject();
        for (const char *key : {"ink", "kind", "file", "dpi", "width_px", "height_px", "coverage", "lpi",
                                "angle", "dot", "order"}) {
            QVERIFY2(beta.contains(QString::fromLatin1(key)), key);
        }
        QCOMPARE(beta[QStringLiteral("ink")].toString(), QStringLiteral("Beta"));
        QCOMPARE(beta[QStringLiteral("order")].toInt(), 2);
        QCOMPARE(beta[QStringLiteral("lpi")].toDouble(), 55.0);
        QVERIFY(QFile::exists(written->folder.filePath(beta[QStringLiteral("file")].toString())));
    }

    void thumbnailsAreCountedFromTheFilm()
    {
        OpenedJob opened = two_spot_job();
        opened.job.film.marks = false;
        const auto written = write(opened);
        const Plane &thumbnail = written->manifest.plates[0].thumbnail;
        QCOMPARE(thumbnail.width, (1800 + 63) / 64);
        QCOMPARE(thumbnail.at(0, 0), std::uint8_t(255));
        QCOMPARE(thumbnail.at(14, 5), std::uint8_t(16)); // 900 − 14 × 64 = 4 of 64 columns
        QCOMPARE(thumbnail.at(20, 5), std::uint8_t(0));
    }

    void aStopLeavesNothing()
    {
        auto opened = take(open_job_or_artwork(demo_file().toStdString()));
        const Job before = opened.job;
        for (const FilmFormat format : {FilmFormat::Tiff, FilmFormat::Pdf}) {
            opened.job.film.format = format;
            QTemporaryDir folder;
            CancelSwitch cancel;
            const JobControl control(cancel, [&](std::int64_t done, std::int64_t total) {
                if (done * 2 >= total) {
                    cancel.cancel();
                }
            });
            OutputRequest request;
            request.folder = folder.path().toStdString();
            const auto manifest = write_films(opened, request, control);
            QVERIFY(!manifest);
            QCOMPARE(manifest.error().code, ErrorCode::Cancelled);
            QVERIFY2(files_in(folder.path()).isEmpty(),
                     qPrintable(files_in(folder.path()).join(QLatin1Char(' '))));
        }
        QVERIFY(before.plates == opened.job.plates);
    }

    void aFullDiskLeavesNothing()
    {
        std::signal(SIGXFSZ, SIG_IGN);
        auto opened = take(open_job_or_artwork(demo_file().toStdString()));
        for (const FilmFormat format : {FilmFormat::Tiff, FilmFormat::Pdf}) {
            opened.job.film.format = format;
            opened.job.film.resolution = Dpi(600);
            QTemporaryDir folder;
            OutputRequest request;
            request.folder = folder.path().toStdString();
            rlimit before{};
            getrlimit(RLIMIT_FSIZE, &before);
            rlimit small = before;
            small.rlim_cur = 50'000;
            setrlimit(RLIMIT_FSIZE, &small);
            const auto manifest = write_films(opened, request);
            setrlimit(RLIMIT_FSIZE, &before);
            QVERIFY(!manifest);
            QCOMPARE(manifest.error().code, ErrorCode::DiskFull);
            QVERIFY(!manifest.error().remedy.empty());
            QVERIFY2(files_in(folder.path()).isEmpty(),
                     qPrintable(files_in(folder.path()).join(QLatin1Char(' '))));
        }
    }

    void whatCannotBeWrittenIsRefused()
    {
        OutputRequest request;
        request.folder = "/proc/no/films";
        const auto nowhere = write_films(two_spot_job(), request);
        QVERIFY(!nowhere);
        QCOMPARE(nowhere.error().code, ErrorCode::CannotWrite);

        QTemporaryDir folder;
        request.folder = folder.path().toStdString();
        const OpenedJob empty = spots_page("").job();
        const auto nothing = write_films(empty, request);
        QVERIFY(!nothing);
        QCOMPARE(nothing.error().code, ErrorCode::NothingToPrint);

        MiniPdf huge = spots_page("/A cs 1 scn 0 0 9 9 re f");
        huge.width = 10'000 * 72 / 25.4; // ten metres
        OpenedJob opened = huge.job();
        const auto large = write_films(opened, request);
        QVERIFY(!large);
        QCOMPARE(large.error().code, ErrorCode::TooLarge);
        QVERIFY(large.error().reason.find("mm") != std::string::npos);
        QVERIFY(files_in(folder.path()).isEmpty());
        opened.job.film.resolution = Dpi(300); // the remedy works
        opened.job.film.marks = false;
        for (Plate &plate : opened.job.plates) {
            plate.screen.ruling = Lpi(25);
        }
        QVERIFY(write_films(opened, request));
    }

    void namesTellJobPageOrderAndInk()
    {
        OpenedJob opened = two_spot_job();
        opened.job.name = "Night / tote";
        const auto written = write(opened);
        QCOMPARE(written->manifest.plates[0].file, std::string("Night _ tote-p1-1-Alpha.tif"));
        QCOMPARE(written->manifest.plates[1].file, std::string("Night _ tote-p1-2-Beta.tif"));
        for (int i = 0; i < 9; ++i) { // with ten plates and more the order still sorts
            opened.job.plates.push_back(propose_plate({}, "More " + std::to_string(i), InkUse::Spot, {}));
        }
        QCOMPARE(write(opened)->manifest.plates[0].file, std::string("Night _ tote-p1-01-Alpha.tif"));
    }

    void platesWithoutInkAreLeftOut_data()
    {
        QTest::addColumn<int>("format");
        QTest::newRow("TIFF") << static_cast<int>(FilmFormat::Tiff);
        QTest::newRow("PDF") << static_cast<int>(FilmFormat::Pdf);
    }

    void platesWithoutInkAreLeftOut()
    {
        QFETCH(const int, format);
        OpenedJob opened = two_spot_job();
        opened.job.film.format = static_cast<FilmFormat>(format);
        opened.job.plates.insert(opened.job.plates.begin(), propose_plate({}, "Idle", InkUse::Spot, {}));
        const auto written = write(opened);
        QCOMPARE(written->manifest.plates.size(), std::size_t(2));
        QCOMPARE(written->manifest.plates[0].order, 2); // the order is the job's
        QCOMPARE(written->manifest.blank, std::vector<std::string>{"Idle"});
        QCOMPARE(files_in(written->folder.path()).size(),
                 format == static_cast<int>(FilmFormat::Pdf) ? 2 : 3);
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        request.blank_too = true;
        QCOMPARE(take(write_films(opened, request)).plates.size(), std::size_t(3));
        request.blank_too = false;
        request.inks = {"Idle"}; // nothing else is asked for
        QTemporaryDir other;
        request.folder = other.path().toStdString();
        QCOMPARE(write_films(opened, request).error().code, ErrorCode::NothingToPrint);
        QVERIFY(files_in(other.path()).isEmpty());
    }

    void chosenPlatesAreTheSameFilms()
    {
        const OpenedJob opened = two_spot_job();
        const auto all = write(opened);
        Written one;
        OutputRequest request;
        request.folder = one.folder.path().toStdString();
        request.label.date = "2026-11-25";
        request.inks = {"Beta"};
        one.manifest = take(write_films(opened, request));
        QCOMPARE(one.manifest.plates.size(), std::size_t(1));
        QCOMPARE(one.bytes(0), all->bytes(1));
        request.inks = {"Beta", "Nobody"};
        const auto unknown = write_films(opened, request);
        QCOMPARE(unknown.error().code, ErrorCode::UnknownInk);
        QVERIFY(unknown.error().remedy.find("Alpha") != std::string::npos);
        Written without;
        request.folder = without.folder.path().toStdString();
        request.inks.clear();
        request.without = {"Beta"};
        without.manifest = take(write_films(opened, request));
        QCOMPARE(without.manifest.plates.size(), std::size_t(1));
        QCOMPARE(without.bytes(0), all->bytes(0));
    }

    void anotherSetsFolderIsNotWrittenInto()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 108 144 re f");
        pdf.more_pages = {"/A cs 1 scn 0 0 50 50 re f"};
        OpenedJob opened = pdf.job();
        opened.job.film.resolution = Dpi(300);
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const Manifest first = take(write_films(opened, request));
        const QStringList before = files_in(folder.path());
        QVERIFY(write_films(opened, request)); // the same once more
        OpenedJob second = take(turn_to(opened, 2));
        const auto refused = write_films(second, request);
        QCOMPARE(refused.error().code, ErrorCode::CannotWrite);
        QVERIFY(refused.error().reason.find("page 1") != std::string::npos);
        QCOMPARE(write_plates(opened, Dpi(72), PageBox::Media, request).error().code, ErrorCode::CannotWrite);
        QCOMPARE(files_in(folder.path()), before);
        request.earlier = EarlierFiles::MoveAway;
        const Manifest moved = take(write_films(second, request));
        QCOMPARE(moved.moved, std::vector<std::string>{first.plates[0].file});
        QVERIFY(QFile::exists(
            folder.filePath(QStringLiteral("earlier/") + QString::fromStdString(first.plates[0].file))));
    }

    void pagesAreSetsOfTheirOwn()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 30 30 re f");
        pdf.more_pages = {"", "/B cs 1 scn 0 0 30 30 re f", "/A cs 1 scn 0 0 50 50 re f"};
        OpenedJob opened = pdf.job();
        opened.job.film.resolution = Dpi(300);
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const auto pages = take(write_pages(opened, {1, 2, 3}, request, {}, write_films));
        QCOMPARE(pages.size(), std::size_t(2)); // page 2 is blank, page 4 was not asked for
        QCOMPARE(pages[0].page, 1);
        QCOMPARE(pages[1].page, 3);
        QCOMPARE(QDir(folder.path()).entryList(QDir::Dirs | QDir::NoDotAndDotDot),
                 (QStringList{QStringLiteral("page-1"), QStringLiteral("page-3")}));
        QCOMPARE(pages[1].plates[0].ink, std::string("Beta"));
        QVERIFY(QFile::exists(
            folder.filePath(QStringLiteral("page-3/") + QString::fromStdString(pages[1].plates[0].file))));
        // The order of printing, and with it the names, is the same on every page.
        QCOMPARE(pages[0].plates[0].order, 1);
        QCOMPARE(pages[1].plates[0].order, 2);
        MiniPdf late = spots_page("/A cs 1 scn 0 0 30 30 re f");
        late.more_pages = {"0 0 0 1 k 0 0 30 30 re f /A cs 1 scn 30 0 30 30 re f"};
        OpenedJob process_later = late.job();
        process_later.job.film.resolution = Dpi(300);
        QTemporaryDir ordered;
        request.folder = ordered.path().toStdString();
        const auto both = take(write_pages(process_later, {1, 2}, request, {}, write_films));
        QCOMPARE(both[0].plates[0].file,
                 std::string("mini-p1-2-Alpha.tif")); // black comes before it on page 2
        QCOMPARE(both[1].plates[1].file, std::string("mini-p2-2-Alpha.tif"));
        // One page goes where it was told to.
        QTemporaryDir single;
        request.folder = single.path().toStdString();
        QCOMPARE(take(write_pages(opened, {4}, request, {}, write_films)).size(), std::size_t(1));
        QVERIFY(QFile::exists(single.filePath(QStringLiteral("manifest.json"))));
        QTemporaryDir blank;
        request.folder = blank.path().toStdString();
        QCOMPARE(write_pages(opened, {2}, request, {}, write_films).error().code, ErrorCode::NothingToPrint);
        QCOMPARE(write_pages(opened, {9}, request, {}, write_films).error().code, ErrorCode::NoSuchPage);
    }

    void filmsOfWhatPrintsAreThatPartOfThePage()
    {
        // Art in the middle of a page of 3 × 2 inches, at whole pixels of 600 dpi.
        MiniPdf pdf = spots_page("/A cs 1 scn 72 48 36 24 re f /OP gs /B cs 0.4 scn 90 60 54 30 re f");
        pdf.width = 216;
        pdf.height = 144;
        OpenedJob opened = pdf.job();
        opened.job.film.resolution = Dpi(600);
        opened.job.film.marks = false;
        // A gradient that dithers, and dots of two kinds: they count from the page, as on the light table.
        pdf.contents += " q 100 62 20 20 re W n /Fade sh Q";
        pdf.resources +=
            " /Shading << /Fade << /ShadingType 2 /ColorSpace " + separation("X", "Beta").substr(3) +
            " /Coords [100 0 120 0] /Function << /FunctionType 2 /Domain [0 1] /C0 [0.2] /C1 [0.3] "
            "/N 1 >> >> >>";
        const OpenedJob faded = pdf.job();
        opened.artwork = faded.artwork;
        opened.read = nullptr;
        opened.job.plates[0].screen.kind = ScreenKind::Diffusion;
        const auto whole = write(opened);
        opened.job.film.around_art = true;
        const auto part = write(opened);
        for (std::size_t plate = 0; plate < 2; ++plate) {
            const Bitmap large = whole->film(plate).film, small = part->film(plate).film;
            // 72 to 144 points across, 48 to 90 up; a pixel of 1200 dpi more where measuring rounds.
            QVERIFY(std::abs(small.width - 600) <= 4 && std::abs(small.height - 350) <= 4);
            const int dx = 600 - (small.width - 600) / 2, dy = 450 - (small.height - 350) / 2;
            for (int y = 0; y < small.height; ++y) {
                for (int x = 0; x < small.width; ++x) {
                    QCOMPARE(small.at(x, y), large.at(x + dx, y + dy));
                }
            }
        }
        QVERIFY(std::fabs(part->manifest.width.value - 25.4) < 0.2);
        // Bands, and copies side by side and under each other.
        QCOMPARE(write(opened, 1, 64)->film(1).film.bytes, part->film(1).film.bytes);
        opened.job.film.columns = opened.job.film.rows = 2;
        const Bitmap four = write(opened)->film(0).film;
        opened.job.film.columns = opened.job.film.rows = 1;
        const Bitmap one = part->film(0).film;
        QCOMPARE(four.width, 2 * one.width);
        QCOMPARE(four.height, 2 * one.height);
        std::int64_t ink = 0, of_one = 0;
        for (int y = 0; y < four.height; ++y) {
            for (int x = 0; x < four.width; ++x) {
                ink += four.at(x, y) ? 1 : 0;
                of_one += x < one.width && y < one.height && one.at(x, y) ? 1 : 0;
            }
        }
        QVERIFY(std::abs(static_cast<double>(ink) / static_cast<double>(4 * of_one) - 1) < 0.01);
        // A white frame prints nothing, a base that spreads does.
        RecipeStep area, spread;
        spread.does = RecipeDo::Spread;
        spread.distance = 2.54;
        Plate base = propose_plate(opened.job.plates, "Base", InkUse::White, {96, 0, 0});
        base.recipe = {area, spread};
        opened.job.plates.push_back(base);
        QVERIFY(std::abs(write(opened)->film(0).film.width - 720) <= 4);
    }

    void marksAroundWhatPrintsStandCloser()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 72 48 36 24 re f");
        pdf.width = 216;
        pdf.height = 144;
        pdf.page_extra = "/TrimBox [18 18 198 126]";
        OpenedJob opened = pdf.job();
        opened.job.film.resolution = Dpi(600);
        opened.job.film.mark_set.label = opened.job.film.mark_set.wedge = false;
        opened.job.film.around_art = true;
        const auto cut = write(opened);
        // 300 × 200 pixels, 3 mm and a mark of 8 mm on each side, and the rim: no crop marks, which would
        // stand an inch away.
        FilmPart part =
            cut_to({Points(216), Points(144), {6.35, 6.35, 63.5, 38.1}, {}}, {25.4, 25.4, 12.7, 8.5});
        QVERIFY(take(lay_out_film(opened.job, film_art(part, opened.job.film), {})).boxes_beyond);
        part.trim = {1, 1, 10, 7};
        QVERIFY(!take(lay_out_film(opened.job, film_art(part, opened.job.film), {})).boxes_beyond);
        const int margin = int(std::lround(12 * 600 / 25.4));
        QVERIFY(std::abs(cut->film(0).width - (300 + 2 * margin)) < 64 + 4);
        // With centre marks the middle of the trim lies on the film: they stand at it.
        opened.job.film.mark_set.centre = true;
        opened.job.film.mark_set.registration = RegistrationMark::None;
        const auto centred = write(opened);
        QVERIFY(centred->film(0).width >= 300 + 2 * int(std::lround(10 * 600 / 25.4)));
        const double middle = (108 - 72) * 600.0 / 72; // of the trim, from the art's left
        const Bitmap film = centred->film(0).film;
        std::vector<int> columns; // of the line above the art
        for (int x = 0; x < film.width; ++x) {
            if (film.at(x, 100)) {
                columns.push_back(x);
            }
        }
        QVERIFY(!columns.empty());
        const double at = (columns.front() + columns.back() + 1) / 2.0;
        const FilmSheet sheet = take(lay_out_film(opened.job, {300, 200, {}, {}, true}, {}));
        QVERIFY2(std::fabs(at - sheet.art.x - middle) < 3, qPrintable(QString::number(at)));
    }
};

BICHROM_TEST(TestFilms, QCoreApplication)
#include "tst_films.moc"
