#include "core/screen/halftone.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Halftone diffusion(int dot, const PressCurve &press = {})
{
    Screen screen;
    screen.kind = ScreenKind::Diffusion;
    screen.least_dot = dot;
    return take(Halftone::make(screen, Dpi(1200), press));
}

Bitmap whole(const Halftone &screen, const Plane &tones)
{
    const PixelRect all = {0, 0, tones.width, tones.height};
    return screen.dots(tones, all, all);
}

/// The share of ink in a part.
double share(const Bitmap &film, PixelRect part)
{
    int ink = 0;
    for (int y = part.y; y < part.y + part.height; ++y) {
        for (int x = part.x; x < part.x + part.width; ++x) {
            ink += film.at(x, y) ? 1 : 0;
        }
    }
    return ink / (static_cast<double>(part.width) * part.height);
}

/// Unevenness: the root of the mean square by which squares of \p side pixels differ from \p wanted.
double grain(const Bitmap &film, int side, double wanted)
{
    double sum = 0;
    int count = 0;
    for (int y = 64; y + side + 64 <= film.height; y += side) {
        for (int x = 64; x + side + 64 <= film.width; x += side) {
            sum += std::pow(share(film, {x, y, side, side}) - wanted, 2);
            ++count;
        }
    }
    return std::sqrt(sum / count);
}

/// Something of everything: a photograph's tones, gradients, bare and solid parts with sharp edges.
Plane mixed(int width, int height)
{
    Plane plane(width, height);
    std::mt19937 random(7);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            const double wave = 0.5 + 0.3 * std::sin(x * 0.031) * std::cos(y * 0.043);
            const int noise = static_cast<int>(random() % 21) - 10;
            plane.row(y)[static_cast<std::size_t>(x)] =
                static_cast<std::uint8_t>(std::clamp(static_cast<int>(wave * 255) + noise, 1, 254));
        }
    }
    for (int y = 40; y < height / 3; ++y) {
        std::fill_n(plane.row(y).begin() + 50, width / 4, std::uint8_t(0));
        std::fill_n(plane.row(y).begin() + 50 + width / 3, width / 4, std::uint8_t(255));
    }
    return plane;
}

} // namespace

class TestDiffusion : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void flatTintsAreLinear_data()
    {
        QTest::addColumn<int>("dot");
        QTest::addColumn<int>("tone");
        for (const int dot : {1, 2, 3}) {
            for (const int tone : {5, 13, 26, 64, 85, 128, 170, 217, 242, 250}) {
                QTest::addRow("dots of %d px, tone %d", dot, tone) << dot << tone;
            }
        }
    }
    void flatTintsAreLinear()
    {
        QFETCH(int, dot);
        QFETCH(int, tone);
        const Bitmap film = whole(diffusion(dot), Plane(900, 900, static_cast<std::uint8_t>(tone)));
        const double made = share(film, {64, 64, 772, 772}) * 100, wanted = tone / 2.55;
        QVERIFY2(std::fabs(made - wanted) < 0.5, qPrintable(QString::number(made - wanted)));
    }

    void tintsAreFarSmootherThanChance()
    {
        // Squares of 32 pixels of dots by chance differ by √(a (1 − a)) / 32: 1.4 % at a 30 % tint.
        const Halftone screen = diffusion(1);
        for (const int tone : {26, 77, 128, 204}) {
            const double a = tone / 255.0;
            const double seen =
                grain(whole(screen, Plane(1024, 1024, static_cast<std::uint8_t>(tone))), 32, a);
            QVERIFY2(seen < 0.2 * std::sqrt(a * (1 - a)) / 32, qPrintable(QString::number(seen * 100)));
        }
    }

    void whereItsSquaresMeetIsNotSeen()
    {
        // The ink in lines of four pixels, by their distance from the seams, which are 128 dots apart: those
        // at the seams differ hardly more than others among themselves.
        const Halftone screen = diffusion(1);
        for (const int tone : {8, 26, 85, 128}) {
            const Bitmap film = whole(screen, Plane(2048, 2048, static_cast<std::uint8_t>(tone)));
            for (const bool down : {true, false}) {
                std::vector<double> at; // 0 = at the seam
                for (int away = -2; away + 4 <= 126; away += 4) {
                    double sum = 0;
                    for (int seam = 256; seam < 1800; seam += 128) {
                        sum += down ? share(film, {seam + away, 128, 4, 1792})
                                    : share(film, {128, seam + away, 1792, 4});
                    }
                    at.push_back(sum / 13 / (tone / 255.0));
                }
                const auto [least, most] = std::minmax_element(at.begin() + 1, at.end());
                const QString words = QStringLiteral("tone %1, %2: %3 of %4 to %5")
                                          .arg(tone)
                                          .arg(down ? QStringLiteral("columns") : QStringLiteral("rows"))
                                          .arg(at[0])
                                          .arg(*least)
                                          .arg(*most);
                const double spread = (*most - *least) / 2;
                QVERIFY2(at[0] > *least - spread && at[0] < *most + spread, qPrintable(words));
            }
        }
    }

    void bareStaysBareAndSolidSolid()
    {
        for (const int dot : {1, 2, 3, 8}) {
            const Plane tones = mixed(700, 500);
            const Bitmap film = whole(diffusion(dot), tones);
            for (int y = 0; y < tones.height; ++y) {
                for (int x = 0; x < tones.width; ++x) {
                    if (tones.at(x, y) == 0 || tones.at(x, y) == 255) {
                        QCOMPARE(film.at(x, y), tones.at(x, y) == 255);
                    }
                }
            }
        }
    }

    void dotsAreWhole()
    {
        for (const int dot : {2, 3}) {
            const int side = 120 * dot;
            const Bitmap film = whole(diffusion(dot), Plane(side, side, 100));
            for (int y = 0; y < side; ++y) {
                for (int x = 0; x < side; ++x) {
                    QCOMPARE(film.at(x, y), film.at(x / dot * dot, y / dot * dot));
                }
            }
        }
    }

    void anyPartIsThatOfTheWhole()
    {
        const Plane tones = mixed(1100, 900);
        std::mt19937 random(3);
        for (const int dot : {1, 2}) {
            const Halftone screen = diffusion(dot);
            const Bitmap film = whole(screen, tones);
            for (int trial = 0; trial < 25; ++trial) {
                const PixelRect part = {static_cast<int>(random() % 900), static_cast<int>(random() % 700),
                                        1 + static_cast<int>(random() % 200),
                                        1 + static_cast<int>(random() % 200)};
                const int reach = screen.reach();
                const int left = std::max(0, part.x - reach), top = std::max(0, part.y - reach);
                const PixelRect around = {left, top,
                                          std::min(tones.width, part.x + part.width + reach) - left,
                                          std::min(tones.height, part.y + part.height + reach) - top};
                Plane seen(around.width, around.height);
                for (int y = 0; y < around.height; ++y) {
                    const auto row = tones.row(around.y + y).subspan(static_cast<std::size_t>(around.x));
                    std::copy_n(row.begin(), around.width, seen.row(y).begin());
                }
                const Bitmap made = screen.dots(seen, around, part);
                for (int y = 0; y < part.height; ++y) {
                    for (int x = 0; x < part.width; ++x) {
                        QCOMPARE(made.at(x, y), film.at(part.x + x, part.y + y));
                    }
                }
            }
        }
    }

    void thePressIsMadeUpFor()
    {
        // What prints 30 % as 40 % gets less on film: inverted by hand from two points.
        PressCurve press;
        press.printed = take(ToneCurve::through({{0, 0}, {0.3, 0.4}, {1, 1}}));
        const double wanted = film_tone(press, 102 / 255.0);
        const Bitmap film = whole(diffusion(1, press), Plane(900, 900, 102));
        QVERIFY(std::fabs(wanted - 0.3) < 0.001);
        QVERIFY(std::fabs(share(film, {64, 64, 772, 772}) - wanted) < 0.005);
    }

    void tilesGiveTheSameDotsByRowsAndByParts()
    {
        const Halftone screen = take(Halftone::make({Lpi(65), Degrees(22.5), DotShape::Round}, Dpi(1200)));
        QCOMPARE(screen.reach(), 0);
        const Plane tones = mixed(400, 300);
        const PixelRect all = {-30, 17, 400, 300}, part = {-50, 100, 333, 250}; // beyond it at three sides
        const Bitmap made = screen.dots(tones, all, part);
        for (int y = 0; y < part.height; ++y) {
            for (int x = 0; x < part.width; ++x) {
                const int column = part.x + x - all.x, row = part.y + y - all.y;
                const bool inside = column >= 0 && row < tones.height && column < tones.width;
                QCOMPARE(made.at(x, y),
                         inside && tones.at(column, row) > screen.threshold_at(part.x + x, part.y + y));
            }
        }
    }

    void whatCannotBeIsRefused()
    {
        Screen screen;
        screen.kind = ScreenKind::Diffusion;
        screen.least_dot = 9;
        QCOMPARE(Halftone::make(screen, Dpi(1200)).error().code, ErrorCode::OutOfRange);
        screen.kind = ScreenKind::Tile; // there is none
        screen.least_dot = 0;
        QCOMPARE(Halftone::make(screen, Dpi(1200)).error().code, ErrorCode::OutOfRange);
    }
};

BICHROM_TEST(TestDiffusion, QCoreApplication)
#include "tst_diffusion.moc"
