#include "core/screen/densitometer.h"

#include "core/screen/film_rows.h"
#include "core/screen/halftone.h"
#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QtTest>

#include <tiffio.h>

#include <cmath>
#include <cstring>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Bitmap tint(const Halftone &screen, int side, double share)
{
    Bitmap film(side, side);
    const std::vector<std::uint8_t> tones(static_cast<std::size_t>(side),
                                          static_cast<std::uint8_t>(std::lround(share * 255)));
    for (int y = 0; y < side; ++y) {
        screen.screen_row(tones.data(), side, 0, y, film.row(y));
    }
    return film;
}

struct Tiff
{
    int compression = COMPRESSION_CCITTFAX4;
    int photometric = PHOTOMETRIC_MINISWHITE;
    int fill_order = FILLORDER_MSB2LSB;
    int unit = RESUNIT_INCH;
    float resolution = 600;
    int tile = 0; ///< pixels a side; 0 = strips
    int bits = 1;
};

QString write_tiff(const QTemporaryDir &folder, const Bitmap &film, const Tiff &how)
{
    const QString path = folder.filePath(QStringLiteral("film.tif"));
    TIFF *tiff = TIFFOpen(path.toLocal8Bit().constData(), "w");
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, film.width);
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, film.height);
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, how.bits);
    TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, 1);
    TIFFSetField(tiff, TIFFTAG_COMPRESSION, how.compression);
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, how.photometric);
    TIFFSetField(tiff, TIFFTAG_FILLORDER, how.fill_order);
    if (how.resolution > 0) {
        TIFFSetField(tiff, TIFFTAG_RESOLUTIONUNIT, how.unit);
        TIFFSetField(tiff, TIFFTAG_XRESOLUTION, double(how.resolution));
        TIFFSetField(tiff, TIFFTAG_YRESOLUTION, double(how.resolution));
    }
    const bool flip = how.photometric == PHOTOMETRIC_MINISBLACK;
    const auto bits_of = [&](int x0, int y, int width) {
        std::vector<std::uint8_t> row(static_cast<std::size_t>((width + 7) / 8 * (how.bits == 1 ? 1 : 8)), 0);
        for (int x = 0; x < width; ++x) {
            const bool ink = x0 + x < film.width && y < film.height && film.at(x0 + x, y);
            if (ink != flip) {
                row[static_cast<std::size_t>(x / 8)] =
                    static_cast<std::uint8_t>(row[static_cast<std::size_t>(x / 8)] | (0x80 >> (x % 8)));
            }
        }
        return row;
    };
    if (how.tile == 0) {
        TIFFSetField(tiff, TIFFTAG_ROWSPERSTRIP, 64);
        for (int y = 0; y < film.height; ++y) {
            auto row = bits_of(0, y, film.width);
            TIFFWriteScanline(tiff, row.data(), static_cast<std::uint32_t>(y), 0);
        }
    } else {
        TIFFSetField(tiff, TIFFTAG_TILEWIDTH, how.tile);
        TIFFSetField(tiff, TIFFTAG_TILELENGTH, how.tile);
        for (int y = 0; y < film.height; y += how.tile) {
            for (int x = 0; x < film.width; x += how.tile) {
                std::vector<std::uint8_t> tile;
                for (int row = 0; row < how.tile; ++row) {
                    const auto bits = bits_of(x, y + row, how.tile);
                    tile.insert(tile.end(), bits.begin(), bits.end());
                }
                TIFFWriteTile(tiff, tile.data(), static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y),
                              0, 0);
            }
        }
    }
    TIFFClose(tiff);
    return path;
}

} // namespace

class TestDensitometer : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void screensAreFoundAgain_data()
    {
        QTest::addColumn<double>("dpi");
        QTest::addColumn<double>("lpi");
        QTest::addColumn<double>("angle");
        QTest::addColumn<double>("share");
        QTest::addColumn<int>("dot");
        std::mt19937 random(16);
        for (int i = 0; i < 30; ++i) {
            const double dpi = std::array{600.0, 1200.0, 2400.0}[random() % 3];
            const double lpi = std::uniform_real_distribution<>(dpi / 30, dpi / 8)(random);
            const double angle = i < 3 ? std::array{0.0, 45.0, 90.0}[static_cast<std::size_t>(i)]
                                       : std::uniform_real_distribution<>(0, 90)(random);
            const double share = std::array{0.1, 0.25, 0.4, 0.6, 0.85}[random() % 5];
            QTest::addRow("%.2f lpi %.2f deg %s %.0f %% at %g dpi", lpi, angle,
                          to_string(all_dot_shapes[static_cast<std::size_t>(i % 5)]), share * 100, dpi)
                << dpi << lpi << angle << share << i % 5;
        }
    }
    void screensAreFoundAgain()
    {
        QFETCH(double, dpi);
        QFETCH(double, lpi);
        QFETCH(double, angle);
        QFETCH(double, share);
        QFETCH(int, dot);
        const DotShape shape = all_dot_shapes[static_cast<std::size_t>(dot)];
        const auto screen = take(Halftone::make({Lpi(lpi), Degrees(angle), shape}, Dpi(dpi)));
        const DotReading read = read_dots(tint(screen, 1024, share), Dpi(dpi));
        QVERIFY2(std::fabs(read.coverage - share) < 0.003, qPrintable(QString::number(read.coverage)));
        QCOMPARE(read.kind, shape == DotShape::Line ? DotKind::Lines : DotKind::Dots);
        QVERIFY2(std::fabs(read.lpi - lpi) <= 0.05 * dpi / 1200 + 0.03,
                 qPrintable(QString::number(read.lpi)));
        const double turn = shape == DotShape::Line ? 180 : 90;
        QVERIFY2(std::fabs(std::remainder(read.angle - angle, turn)) <= 0.1,
                 qPrintable(QString::number(read.angle)));
    }

    void filmsOfAnInterpreterAreMeasured()
    {
        // Ghostscript's own halftones, asked for by setscreen; its angles are those of the device, whose rows
        // run down (PostScript Language Reference, 7.4), so 30° reads as 60°.
        QTemporaryDir folder;
        QFile page(folder.filePath(QStringLiteral("tint.ps")));
        QVERIFY(page.open(QIODevice::WriteOnly));
        page.write("%!PS\n<< /AccurateScreens true >> setuserparams\n"
                   "60 30 {dup mul exch dup mul add 1 exch sub} setscreen\n"
                   "0.7 setgray 0 0 200 200 rectfill showpage\n");
        page.close();
        const QString film = folder.filePath(QStringLiteral("film.tif"));
        (void)output_of(QStringLiteral("gs"),
                        {QStringLiteral("-q"), QStringLiteral("-dSAFER"), QStringLiteral("-dBATCH"),
                         QStringLiteral("-dNOPAUSE"), QStringLiteral("-sDEVICE=tiffg4"),
                         QStringLiteral("-r600"), QStringLiteral("-dDEVICEWIDTHPOINTS=200"),
                         QStringLiteral("-dDEVICEHEIGHTPOINTS=200"), QStringLiteral("-o"), film,
                         page.fileName()});
        const FilmImage read = take(read_film(film.toStdString(), {5, 5, 50, 50}));
        const DotReading dots = read_dots(read.bits, read.resolution);
        QCOMPARE(dots.kind, DotKind::Dots);
        QVERIFY2(std::fabs(dots.lpi - 60) < 0.1, qPrintable(QString::number(dots.lpi)));
        QVERIFY2(std::fabs(dots.angle - 60) < 0.1, qPrintable(QString::number(dots.angle)));
        // Its whole-pixel dots give less than the 30 % asked for; counted directly it is the same.
        std::int64_t ink = 0;
        for (int y = 0; y < read.bits.height; ++y) {
            for (int x = 0; x < read.bits.width; ++x) {
                ink += read.bits.at(x, y) ? 1 : 0;
            }
        }
        const double counted = static_cast<double>(ink) / read.bits.width / read.bits.height;
        QVERIFY(std::fabs(dots.coverage - counted) < 0.003);
    }

    void onAFilmOfArtTheTintsRulingIsRead()
    {
        // Large solid shapes, which repeat by chance, and one tint.
        const int side = 2400;
        const auto screen = take(Halftone::make({Lpi(85), Degrees(45), DotShape::Round}, Dpi(600)));
        FilmImage film{Bitmap(side, side), Dpi(600)};
        std::int64_t ink = 0;
        for (int y = 0; y < side; ++y) {
            for (int x = 0; x < side; ++x) {
                const bool disc = std::hypot(x % 480 - 240, y % 480 - 240) < 150 && x < 1500;
                const bool tint = x >= 1600 && y >= 900 && y < 1700 && screen.threshold_at(x, y) < 90;
                if (disc || tint) {
                    film.bits.row(y)[x / 8] =
                        static_cast<std::uint8_t>(film.bits.row(y)[x / 8] | (0x80 >> (x % 8)));
                    ++ink;
                }
            }
        }
        const DotReading read = read_film_dots(film);
        QCOMPARE(read.kind, DotKind::Dots);
        QVERIFY2(std::fabs(read.lpi - 85) < 0.1, qPrintable(QString::number(read.lpi)));
        QVERIFY(std::fabs(read.angle - 45) < 0.1);
        QVERIFY(std::fabs(read.coverage - static_cast<double>(ink) / side / side) < 1e-9);
        // Without the tint there is none.
        for (int y = 900; y < 1700; ++y) {
            std::fill(film.bits.row(y) + 200, film.bits.row(y) + side / 8, std::uint8_t(0));
        }
        QCOMPARE(read_film_dots(film).lpi, 0.0);
    }

    void dotsHaveTheirSize()
    {
        const auto screen = take(Halftone::make({Lpi(50), Degrees(30), DotShape::Round}, Dpi(2400)));
        const DotReading read = read_dots(tint(screen, 1500, 0.2), Dpi(2400));
        // A disc of 20 % of a cell of 508 µm.
        QVERIFY(std::fabs(read.dot_um - 2 * 508 * std::sqrt(0.2 / 3.14159265)) < 5);
    }

    void scatteredDotsAndSolidsHaveNoRuling()
    {
        Screen fm;
        fm.kind = ScreenKind::Fm;
        fm.least_dot = 3;
        const DotReading read = read_dots(tint(take(Halftone::make(fm, Dpi(1200))), 1024, 0.3), Dpi(1200));
        QCOMPARE(read.kind, DotKind::Scattered);
        QCOMPARE(read.lpi, 0.0);
        QVERIFY(std::fabs(read.coverage - 0.3) < 0.002);
        QVERIFY(read.dot_um >= 3 * 25400 / 1200.0 - 0.1);
        Bitmap bare(300, 300), solid(300, 300);
        for (int y = 0; y < 300; ++y) {
            std::fill_n(solid.row(y), 37, std::uint8_t(0xFF));
            solid.row(y)[37] = 0xF0;
        }
        QCOMPARE(read_dots(bare, Dpi(600)).kind, DotKind::Bare);
        QCOMPARE(read_dots(solid, Dpi(600)).kind, DotKind::Solid);
        QCOMPARE(read_dots(Bitmap(), Dpi(600)).coverage, 0.0);
    }

    void filmsOfOtherWritersAreRead_data()
    {
        QTest::addColumn<int>("number");
        for (int i = 0; i < 6; ++i) {
            QTest::addRow("%d", i) << i;
        }
    }
    void filmsOfOtherWritersAreRead()
    {
        QFETCH(int, number);
        const Tiff ways[] = {
            {},
            {COMPRESSION_NONE, PHOTOMETRIC_MINISBLACK, FILLORDER_MSB2LSB, RESUNIT_INCH, 600, 0, 1},
            {COMPRESSION_LZW, PHOTOMETRIC_MINISBLACK, FILLORDER_LSB2MSB, RESUNIT_INCH, 600, 0, 1},
            {COMPRESSION_CCITTFAX4, PHOTOMETRIC_MINISWHITE, FILLORDER_MSB2LSB, RESUNIT_INCH, 600, 128, 1},
            {COMPRESSION_PACKBITS, PHOTOMETRIC_MINISWHITE, FILLORDER_MSB2LSB, RESUNIT_INCH, 600, 0, 1},
            {COMPRESSION_CCITTFAX3, PHOTOMETRIC_MINISBLACK, FILLORDER_MSB2LSB, RESUNIT_CENTIMETER,
             600 / 2.54F, 0, 1}};
        const auto screen = take(Halftone::make({Lpi(50), Degrees(22.5), DotShape::Round}, Dpi(600)));
        Bitmap film = tint(screen, 700, 0.3);
        QTemporaryDir folder;
        const QString path = write_tiff(folder, film, ways[number]);
        const FilmImage read = take(read_film(path.toStdString()));
        QVERIFY(std::fabs(read.resolution.value - 600) < 0.01);
        QVERIFY(read.bits == film);
        // A part of it, in mm from the top left.
        const double mm = 25.4 / 600;
        const FilmImage part = take(read_film(path.toStdString(), {100 * mm, 50 * mm, 301 * mm, 200 * mm}));
        QCOMPARE(part.bits.width, 301);
        QCOMPARE(part.bits.height, 200);
        for (int y = 0; y < 200; y += 13) {
            for (int x = 0; x < 301; ++x) {
                QCOMPARE(part.bits.at(x, y), film.at(100 + x, 50 + y));
            }
        }
    }

    void filmsAreSeenFromAfarAndRowByRow_data()
    {
        QTest::addColumn<int>("compression");
        QTest::addColumn<int>("photometric");
        QTest::newRow("Group 4") << COMPRESSION_CCITTFAX4 << PHOTOMETRIC_MINISWHITE;
        QTest::newRow("zeros are ink") << COMPRESSION_NONE << PHOTOMETRIC_MINISBLACK;
    }
    void filmsAreSeenFromAfarAndRowByRow()
    {
        QFETCH(int, compression);
        QFETCH(int, photometric);
        QTemporaryDir folder;
        Bitmap film(517, 333);
        std::mt19937 random(3);
        for (int y = 0; y < film.height; ++y) {
            for (int x = 0; x < film.width; ++x) {
                if ((x / 40 + y / 30) % 2 == 0 || random() % 9 == 0) {
                    film.row(y)[x / 8] = static_cast<std::uint8_t>(film.row(y)[x / 8] | (0x80 >> (x % 8)));
                }
            }
        }
        Tiff how;
        how.compression = compression;
        how.photometric = photometric;
        const QString path = write_tiff(folder, film, how);
        for (const int longest : {1000, 517, 100, 37, 1}) {
            const FilmOverview seen = take(read_film_overview(path.toStdString(), longest));
            QCOMPARE(seen.width, 517);
            QVERIFY(seen.share.width <= longest && seen.share.width * seen.square >= 517);
            for (int v = 0; v < seen.share.height; ++v) {
                for (int u = 0; u < seen.share.width; ++u) {
                    int black = 0, all = 0;
                    for (int y = v * seen.square; y < std::min(film.height, (v + 1) * seen.square); ++y) {
                        for (int x = u * seen.square; x < std::min(film.width, (u + 1) * seen.square); ++x) {
                            black += film.at(x, y) ? 1 : 0;
                            ++all;
                        }
                    }
                    QVERIFY(std::abs(seen.share.at(u, v) - 255.0 * black / all) <= 0.51);
                }
            }
        }
        FilmRows rows = take(FilmRows::open(path.toStdString()));
        QCOMPARE(rows.width(), 517);
        QCOMPARE(rows.resolution().value, 600.0);
        std::vector<std::uint8_t> row(65);
        for (int y = 0; y < film.height; ++y) {
            QVERIFY(rows.next(row.data()));
            QCOMPARE(std::memcmp(row.data(), film.row(y), 65), 0);
        }
        QCOMPARE(rows.next(row.data()).error().code, ErrorCode::CannotRead); // no more
        how = {COMPRESSION_NONE, PHOTOMETRIC_MINISWHITE, FILLORDER_MSB2LSB, RESUNIT_INCH, 600, 64, 1};
        QCOMPARE(FilmRows::open(write_tiff(folder, film, how).toStdString()).error().code,
                 ErrorCode::WrongFormat);
    }

    void whatIsNoFilmIsRefused()
    {
        QTemporaryDir folder;
        QCOMPARE(read_film(folder.filePath(QStringLiteral("gone.tif")).toStdString()).error().code,
                 ErrorCode::FileMissing);
        QFile junk(folder.filePath(QStringLiteral("junk.tif")));
        QVERIFY(junk.open(QIODevice::WriteOnly));
        junk.write("II*");
        junk.write(QByteArray(500, '\x5a'));
        junk.close();
        QVERIFY(!read_film(junk.fileName().toStdString()));
        const Bitmap film(300, 300);
        Tiff how;
        how.resolution = 0;
        auto read = read_film(write_tiff(folder, film, how).toStdString());
        QCOMPARE(read.error().code, ErrorCode::WrongFormat);
        QVERIFY(read.error().reason.find("resolution") != std::string::npos);
        how = {COMPRESSION_NONE, PHOTOMETRIC_MINISBLACK, FILLORDER_MSB2LSB, RESUNIT_INCH, 600, 0, 8};
        QCOMPARE(read_film(write_tiff(folder, film, how).toStdString()).error().code, ErrorCode::WrongFormat);
        const QString path = write_tiff(folder, film, {});
        QCOMPARE(read_film(path.toStdString(), {500, 500, 3, 3}).error().code, ErrorCode::OutOfRange);
        QFile cut(path);
        QVERIFY(cut.resize(cut.size() / 3));
        QVERIFY(!read_film(path.toStdString()));
    }
};

BICHROM_TEST(TestDensitometer, QCoreApplication)
#include "tst_densitometer.moc"
