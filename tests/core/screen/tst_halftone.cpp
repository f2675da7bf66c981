#include "core/screen/halftone.h"

#include "support/mini_pdf.h"
#include "support/spectrum.h"
#include "support/test_program.h"

#include <QtTest>

#include <atomic>
#include <bit>
#include <cmath>
#include <numbers>
#include <random>
#include <thread>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Bitmap tint(const Halftone &screen, int width, int height, std::uint8_t tone, std::int64_t x = 0,
            std::int64_t y = 0)
{
    Bitmap film(width, height);
    const std::vector<std::uint8_t> tones(static_cast<std::size_t>(width), tone);
    for (int row = 0; row < height; ++row) {
        screen.screen_row(tones.data(), width, x, y + row, film.row(row));
    }
    return film;
}

double ink_share(const Bitmap &film)
{
    std::int64_t count = 0;
    for (const std::uint8_t byte : film.bytes) {
        count += std::popcount(byte);
    }
    return static_cast<double>(count) / (static_cast<double>(film.width) * film.height);
}

} // namespace

class TestHalftone : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void flatTintsAreLinear_data()
    {
        QTest::addColumn<double>("dpi");
        QTest::addColumn<double>("lpi");
        QTest::addColumn<double>("angle");
        QTest::addColumn<int>("dot");
        const std::tuple<double, double, double> screens[] = {
            {1200, 55, 22.5}, {1200, 65, 15}, {1200, 45, 75}, {2400, 133, 0}, {600, 55, 45}, {1200, 60, 0}};
        for (const auto &[dpi, lpi, angle] : screens) {
            for (const DotShape dot : all_dot_shapes) {
                QTest::addRow("%g lpi %g° %s at %g dpi", lpi, angle, to_string(dot), dpi)
                    << dpi << lpi << angle << static_cast<int>(dot);
            }
        }
    }
    void flatTintsAreLinear()
    {
        QFETCH(double, dpi);
        QFETCH(double, lpi);
        QFETCH(double, angle);
        QFETCH(int, dot);
        const auto screen =
            take(Halftone::make({Lpi(lpi), Degrees(angle), static_cast<DotShape>(dot)}, Dpi(dpi)));
        double worst = 0;
        for (int percent = 1; percent <= 99; ++percent) {
            const auto tone = static_cast<std::uint8_t>(std::lround(percent * 2.55));
            // About 60 × 60 cells, so that cut dots at the border weigh little.
            const int side = static_cast<int>(dpi / lpi * 60);
            worst = std::max(worst, std::fabs(ink_share(tint(screen, side, side, tone)) - tone / 255.0));
        }
        // What cut dots at the border weigh; linearity itself is tested with the tiles.
        QVERIFY2(worst <= 0.005, qPrintable(QStringLiteral("off by %1 %").arg(worst * 100)));
    }

    void bareStaysBareAndSolidStaysSolid()
    {
        const auto screen = take(Halftone::make({Lpi(55), Degrees(22.5), DotShape::Round}, Dpi(1200)));
        QCOMPARE(ink_share(tint(screen, 300, 300, 0)), 0.0);
        QCOMPARE(ink_share(tint(screen, 300, 300, 255)), 1.0);
        // Padding beyond the width stays 0.
        const Bitmap film = tint(screen, 70, 1, 255);
        QCOMPARE(film.row(0)[8], std::uint8_t(0xFC));
        QCOMPARE(film.row(0)[15], std::uint8_t(0));
    }

    void rulingAndAngleAreFoundAgain_data()
    {
        QTest::addColumn<double>("lpi");
        QTest::addColumn<double>("angle");
        QTest::addColumn<double>("dpi");
        QTest::newRow("55 lpi at 22.5°") << 55.0 << 22.5 << 1200.0;
        QTest::newRow("65 lpi at 15°") << 65.0 << 15.0 << 1200.0;
        QTest::newRow("45 lpi at 75°") << 45.0 << 75.0 << 1200.0;
        QTest::newRow("133 lpi at 0°") << 133.0 << 0.0 << 2400.0;
        QTest::newRow("an odd one: 37.3 lpi at 61.7°") << 37.3 << 61.7 << 1200.0;
    }
    void rulingAndAngleAreFoundAgain()
    {
        QFETCH(double, lpi);
        QFETCH(double, angle);
        QFETCH(double, dpi);
        const auto screen = take(Halftone::make({Lpi(lpi), Degrees(angle), DotShape::Round}, Dpi(dpi)));
        const int window = 1000;
        const ScreenFound found = find_screen(tint(screen, window, window, 77), dpi, lpi, angle, window);
        QVERIFY2(std::fabs(found.lpi - lpi) <= 0.1, qPrintable(QString::number(found.lpi)));
        QVERIFY2(std::fabs(found.angle - angle) <= 0.1, qPrintable(QString::number(found.angle)));
    }

    void thereIsNoDriftOverTwentyInches_data() { rulingAndAngleAreFoundAgain_data(); }
    void thereIsNoDriftOverTwentyInches()
    {
        // Ruling and angle in a window 20 inches away are those at the film's corner, and dots stand where
        // the exact phase of the tile's own vector puts them.
        QFETCH(double, lpi);
        QFETCH(double, angle);
        QFETCH(double, dpi);
        const Screen wanted{Lpi(lpi), Degrees(angle), DotShape::Round};
        const auto screen = take(Halftone::make(wanted, Dpi(dpi)));
        const auto far = static_cast<std::int64_t>(20 * dpi);
        const ScreenFound there = find_screen(tint(screen, 1000, 1000, 77, far, far), dpi, lpi, angle, 1000);
        QVERIFY2(std::fabs(there.lpi - lpi) <= 0.1, qPrintable(QString::number(there.lpi)));
        QVERIFY2(std::fabs(there.angle - angle) <= 0.1, qPrintable(QString::number(there.angle)));
        const auto tile = take(threshold_tile(wanted, Dpi(dpi)));
        const double f = tile->lpi / dpi;
        const double theta = tile->angle * std::numbers::pi / 180;
        int ink = 0;
        for (std::int64_t y = far; y < far + 300; ++y) {
            for (std::int64_t x = far; x < far + 300; ++x) {
                const auto px = static_cast<double>(x), py = static_cast<double>(y);
                const double u = f * (std::cos(theta) * px - std::sin(theta) * py) - 0.4127;
                const double v = f * (std::sin(theta) * px + std::cos(theta) * py) - 0.5389;
                const double off = std::hypot(u - std::round(u), v - std::round(v));
                if (off < 0.1) { // well inside the dots of a 20 % tint, whose radius is 0.25
                    QVERIFY(screen.threshold_at(x, y) < 51);
                    ++ink;
                }
            }
        }
        QVERIFY(ink > 100);
    }

    void anyPartOfAFilmIsThatOfTheWhole()
    {
        const auto screen = take(Halftone::make({Lpi(61.3), Degrees(33.3), DotShape::Ellipse}, Dpi(1200)));
        const Bitmap whole = tint(screen, 1000, 50, 120);
        for (const int x : {1, 63, 64, 65, 500}) {
            const Bitmap part = tint(screen, 300, 50, 120, x, 0);
            for (int row = 0; row < 50; ++row) {
                for (int k = 0; k < 300; ++k) {
                    QCOMPARE(part.at(k, row), whole.at(x + k, row));
                }
            }
        }
    }

    void runsAreScreenedAsTheirPixelsAre()
    {
        std::mt19937 random(11);
        std::vector<std::uint8_t> scratch;
        for (const double angle : {0.0, 22.5, 45.0}) {
            const Halftone screen =
                take(Halftone::make({Lpi(55), Degrees(angle), DotShape::Round}, Dpi(1200)));
            for (int round = 0; round < 200; ++round) {
                const int width = 1 + static_cast<int>(random() % 700);
                std::vector<std::uint8_t> tones(static_cast<std::size_t>(width), 0);
                RunPlane runs(width, 1);
                for (int x = static_cast<int>(random() % 90); x < width;
                     x += static_cast<int>(random() % 90)) {
                    const int end = std::min(width, x + 1 + static_cast<int>(random() % 150));
                    const auto kind = random() % 4; // solid, a tint, tones, nearly solid
                    const auto tone = static_cast<std::uint8_t>(kind == 0   ? 255
                                                                : kind == 3 ? 254
                                                                            : random() % 256);
                    for (int i = x; i < end; ++i) {
                        tones[static_cast<std::size_t>(i)] =
                            kind == 2 ? static_cast<std::uint8_t>(random()) : tone;
                    }
                    runs.add(
                        {x, end, kind == 2 ? std::uint8_t(0) : tone, kind == 2 ? tones.data() + x : nullptr});
                    x = end;
                }
                runs.end_row();
                Bitmap expected(width, 1), made(width, 1);
                screen.screen_row(tones.data(), width, 7, round, expected.row(0));
                screen.screen_runs(runs.row(0), width, 7, round, made.row(0), scratch);
                QVERIFY2(made == expected, qPrintable(QStringLiteral("%1°, %2").arg(angle).arg(round)));
            }
        }
    }

    void tintsThatMuchOfAFilmHasAreScreenedAsTheirPixelsAre_data()
    {
        QTest::addColumn<Screen>("screen");
        QTest::newRow("rows as long as the tile") << Screen{Lpi(55), Degrees(22.5), DotShape::Round};
        QTest::newRow("many short rows") << Screen{Lpi(60), Degrees(0), DotShape::Square};
        QTest::newRow("at 45°") << Screen{Lpi(85), Degrees(45), DotShape::Ellipse};
        Screen noise;
        noise.kind = ScreenKind::Fm;
        QTest::newRow("noise") << noise;
    }
    void tintsThatMuchOfAFilmHasAreScreenedAsTheirPixelsAre()
    {
        // Their dots are kept after a while: before and after, wherever a run begins and ends, and from
        // several threads.
        QFETCH(Screen, screen);
        const Halftone halftone = take(Halftone::make(screen, Dpi(1200)));
        static constexpr int width = 5000, rows = 2600;
        const auto runs_of = [](int y) {
            std::mt19937 random(static_cast<unsigned>(y));
            std::vector<ToneRun> runs;
            for (int x = static_cast<int>(random() % 200); x < width;) {
                const int length = random() % 8 == 0 ? 1 + static_cast<int>(random() % 70)
                                                     : 100 + static_cast<int>(random() % 2500);
                const int end = std::min(width, x + length);
                const std::uint8_t tones[] = {51, 51, 128, static_cast<std::uint8_t>(random() % 256)};
                runs.push_back({x, end, tones[random() % 4], nullptr});
                x = end + (random() % 3 == 0 ? static_cast<int>(random() % 90) : 0);
            }
            return runs;
        };
        std::vector<std::thread> threads;
        std::atomic<int> wrong = 0;
        for (int part = 0; part < 3; ++part) {
            threads.emplace_back([&, part] {
                std::vector<std::uint8_t> scratch;
                for (int y = part; y < rows; y += 3) {
                    std::vector<std::uint8_t> tones(width, 0);
                    const std::vector<ToneRun> runs = runs_of(y);
                    for (const ToneRun &run : runs) {
                        run.write(tones.data());
                    }
                    Bitmap expected(width, 1), made(width, 1);
                    halftone.screen_row(tones.data(), width, -71, y, expected.row(0));
                    halftone.screen_runs(runs, width, -71, y, made.row(0), scratch);
                    wrong += made == expected ? 0 : 1;
                }
            });
        }
        for (std::thread &thread : threads) {
            thread.join();
        }
        QCOMPARE(wrong.load(), 0);
    }

    void pixelsFollowTheThresholds()
    {
        // The vector kernel against the plain definition.
        const auto screen = take(Halftone::make({Lpi(85), Degrees(-17.25), DotShape::Line}, Dpi(2400)));
        std::vector<std::uint8_t> tones(517);
        for (std::size_t i = 0; i < tones.size(); ++i) {
            tones[i] = static_cast<std::uint8_t>(i * 37 % 256);
        }
        Bitmap row(517, 1);
        for (const std::int64_t y : {0, 1, 1000, -5}) {
            screen.screen_row(tones.data(), 517, -40, y, row.row(0));
            for (int x = 0; x < 517; ++x) {
                QCOMPARE(row.at(x, 0), tones[static_cast<std::size_t>(x)] > screen.threshold_at(-40 + x, y));
            }
        }
    }

    void roundDotsAreRound()
    {
        // Second moments of one dot of a coarse screen are equal in all directions within 2 %.
        const auto screen = take(Halftone::make({Lpi(10), Degrees(30), DotShape::Round}, Dpi(1200)));
        double xx = 0, yy = 0, xy = 0;
        const Bitmap film = tint(screen, 1200, 1200, 60);
        // Moments about the nearest dot centre, by phase of the first harmonic of the lattice.
        const double f = 10.0 / 1200, theta = std::numbers::pi / 6;
        for (int y = 0; y < 1200; ++y) {
            for (int x = 0; x < 1200; ++x) {
                if (!film.at(x, y)) {
                    continue;
                }
                const double u = f * (std::cos(theta) * x - std::sin(theta) * y) - 0.4127;
                const double v = f * (std::sin(theta) * x + std::cos(theta) * y) - 0.5389;
                const double du = u - std::round(u), dv = v - std::round(v);
                xx += du * du;
                yy += dv * dv;
                xy += du * dv;
            }
        }
        QVERIFY(std::fabs(xx / yy - 1) < 0.02);
        QVERIFY(std::fabs(xy / yy) < 0.02);
    }

    void theCurveIsFoldedIntoTheScreen()
    {
        // On film stands what prints as the wish; between them tones keep more than 8 bits.
        PressCurve press;
        press.printed = take(ToneCurve::through({{0, 0}, {0.25, 0.385}, {0.5, 0.68}, {0.75, 0.88}, {1, 1}}));
        const Screen wanted{Lpi(55), Degrees(22.5), DotShape::Round};
        const auto screen = take(Halftone::make(wanted, Dpi(1200), press));
        const int side = 1200;
        for (const int tone : {10, 26, 64, 128, 191, 230, 250}) {
            const double film = film_tone(press, tone / 255.0);
            QVERIFY(film < tone / 255.0);
            const double share = ink_share(tint(screen, side, side, static_cast<std::uint8_t>(tone)));
            QVERIFY2(std::fabs(share - film) < 0.002,
                     qPrintable(QStringLiteral("%1: %2, not %3").arg(tone).arg(share).arg(film)));
            QVERIFY(std::fabs(printed_tone(press, tone / 255.0) - tone / 255.0) < 1e-6);
        }
        QCOMPARE(ink_share(tint(screen, 300, 300, 0)), 0.0);
        QCOMPARE(ink_share(tint(screen, 300, 300, 255)), 1.0);
        // No two tones are one: an 8-bit table would have merged some.
        for (int tone = 1; tone < 256; ++tone) {
            QVERIFY(film_tone(press, tone / 255.0) * 65536 - film_tone(press, (tone - 1) / 255.0) * 65536 >
                    1);
        }
    }

    void tonesThatDoNotHoldDropOrAreHeld()
    {
        PressCurve press;
        press.least = 0.1;
        press.most = 0.9;
        QCOMPARE(film_tone(press, 0.05), 0.0);
        QCOMPARE(film_tone(press, 0.95), 1.0);
        QCOMPARE(film_tone(press, 0.5), 0.5);
        press.hold = true;
        QCOMPARE(film_tone(press, 0.05), 0.1);
        QCOMPARE(film_tone(press, 0.95), 0.9);
        QCOMPARE(film_tone(press, 0.0), 0.0); // bare stays bare, solid stays solid
        QCOMPARE(film_tone(press, 1.0), 1.0);
        const auto screen = take(Halftone::make({Lpi(55), Degrees(45), DotShape::Round}, Dpi(1200), press));
        QVERIFY(std::fabs(ink_share(tint(screen, 900, 900, 5)) - 0.1) < 0.005);
        PressCurve falling;
        falling.printed = take(ToneCurve::through({{0, 0}, {0.5, 0.7}, {0.8, 0.6}, {1, 1}}));
        QCOMPARE(Halftone::make({}, Dpi(1200), falling).error().code, ErrorCode::OutOfRange);
        press.least = 0.7;
        QCOMPARE(Halftone::make({}, Dpi(1200), press).error().code, ErrorCode::OutOfRange);
    }

    void whatCannotBeScreenedIsRefused_data()
    {
        QTest::addColumn<double>("lpi");
        QTest::addColumn<double>("angle");
        QTest::newRow("no ruling") << 0.0 << 0.0;
        QTest::newRow("not a number") << std::nan("") << 0.0;
        QTest::newRow("finer than the pixels allow") << 401.0 << 0.0;
        QTest::newRow("angle not a number") << 55.0 << std::nan("");
    }
    void whatCannotBeScreenedIsRefused()
    {
        QFETCH(double, lpi);
        QFETCH(double, angle);
        const auto screen = Halftone::make({Lpi(lpi), Degrees(angle), DotShape::Round}, Dpi(1200));
        QVERIFY(!screen);
        QCOMPARE(screen.error().code, ErrorCode::OutOfRange);
        QVERIFY(!screen.error().remedy.empty());
    }
};

BICHROM_TEST(TestHalftone, QCoreApplication)
#include "tst_halftone.moc"
