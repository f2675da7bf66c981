// Traps: widths, directions and places worked out by hand, on meetings of plain shapes and through the page.
#include "core/line/trap.h"

#include "core/line/apply_traps.h"
#include "core/line/plate_line.h"
#include "core/output/output_set.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <cmath>
#include <numbers>

using namespace bichrom;
using namespace bichrom::test;

namespace {

constexpr double dpi = 2400;
constexpr double per_mm = dpi / 25.4;

Plate ink(const std::string &name, double density, InkUse kind = InkUse::Spot, double opacity = 0)
{
    Plate plate;
    plate.ink = name;
    plate.kind = kind;
    plate.solid = {50, 40, 0};
    plate.traits.opacity = opacity;
    plate.traits.density = density;
    return plate;
}

Plate black_ink()
{
    Plate plate = ink("Black", 1.7);
    plate.solid = {16, 0, 0};
    return plate;
}

TrapSettings settings(double width = 0.1)
{
    TrapSettings traps;
    traps.on = true;
    traps.width = width;
    traps.darker = 100;
    return traps;
}

template <class Tone> Plane drawn(int width, int height, Tone tone)
{
    Plane plane(width, height);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            plane.row(y)[static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(tone(x, y));
        }
    }
    return plane;
}

/// The planes as runs of equal tones, so that rows are what a painter gives.
RunPlane runs_of(const Plane &plane)
{
    RunPlane runs(plane.width, plane.height);
    for (int y = 0; y < plane.height; ++y) {
        for (int x = 0; x < plane.width;) {
            int end = x + 1;
            while (end < plane.width && plane.at(end, y) == plane.at(x, y)) {
                ++end;
            }
            if (plane.at(x, y) != 0) {
                runs.add({x, end, plane.at(x, y), nullptr});
            }
            x = end;
        }
        runs.end_row();
    }
    return runs;
}

/// \p planes with their traps.
std::vector<Plane> trapped(const std::vector<Plane> &planes, const std::vector<Plate> &plates,
                           const TrapSettings &traps, TrapMeetings *meetings = nullptr, int band = 0)
{
    std::vector<std::string> inks;
    for (const Plate &plate : plates) {
        inks.push_back(plate.ink);
    }
    const TrapRules rules(inks, plates, traps);
    const int height = planes.front().height;
    const int rows = band == 0 ? height : band;
    const int reach = trap_reach(traps, Dpi(dpi));
    std::vector<Plane> made(planes.size(), Plane(planes.front().width, height));
    for (int top = 0; top < height; top += rows) {
        TrapPart part;
        const int first = std::max(0, top - reach);
        const int last = std::min(height, top + rows + reach);
        part.above = top - first;
        part.rows = std::min(rows, height - top);
        part.per_mm = per_mm;
        part.y = first;
        std::vector<std::shared_ptr<const RunPlane>> kept;
        std::vector<const RunPlane *> given;
        for (const Plane &plane : planes) {
            Plane cut(plane.width, last - first);
            for (int y = first; y < last; ++y) {
                std::copy(plane.row(y).begin(), plane.row(y).end(), cut.row(y - first).begin());
            }
            // Every other plane as tones, as pictures and recipes give them.
            kept.push_back(
                std::make_shared<const RunPlane>(kept.size() % 2 == 1 ? RunPlane(cut) : runs_of(cut)));
        }
        for (std::size_t i = 0; i < kept.size(); ++i) {
            given.push_back(rules.counts(static_cast<int>(i)) ? kept[i].get() : nullptr);
        }
        const std::vector<TrapRows> found = find_traps(given, rules, part, meetings);
        for (std::size_t i = 0; i < planes.size(); ++i) {
            const RunPlane changed = with_traps(kept[i], part.above, found[i]);
            for (int y = 0; y < part.rows; ++y) {
                changed.write_row(y, made[i].row(top + y).data());
            }
        }
    }
    return made;
}

int solid(bool inside)
{
    return inside ? 255 : 0;
}

int changed(const Plane &before, const Plane &after)
{
    int more = 0;
    for (std::size_t i = 0; i < before.pixels.size(); ++i) {
        more += after.pixels[i] > before.pixels[i] ? 1 : after.pixels[i] < before.pixels[i] ? -1 : 0;
    }
    return more;
}

} // namespace

class TestTrap : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void theLighterSpreadsByTheWidthAtAnyAngle_data()
    {
        QTest::addColumn<double>("degrees");
        for (int i = 0; i < 16; ++i) {
            QTest::addRow("%.1f degrees", i * 22.5) << i * 22.5;
        }
    }
    void theLighterSpreadsByTheWidthAtAnyAngle()
    {
        QFETCH(double, degrees);
        const double c = std::cos(degrees * std::numbers::pi / 180);
        const double s = std::sin(degrees * std::numbers::pi / 180);
        constexpr int size = 301;
        const auto side = [&](int x, int y) { return (x - 150.2) * c + (y - 150.2) * s; };
        const Plane yellow = drawn(size, size, [&](int x, int y) { return solid(side(x, y) < 0); });
        const Plane blue = drawn(size, size, [&](int x, int y) { return solid(side(x, y) >= 0); });
        const auto made = trapped({yellow, blue}, {ink("Yellow", 0.1), ink("Blue", 0.9)}, settings());
        QCOMPARE(made[1], blue);
        double furthest = 0;
        int inside = 0;
        for (int y = 60; y < 241; ++y) {
            for (int x = 60; x < 241; ++x) {
                const bool is = made[0].at(x, y) == 255;
                QVERIFY(is || made[0].at(x, y) == 0);
                if (is && blue.at(x, y) != 0) {
                    ++inside;
                    furthest = std::max(furthest, side(x, y));
                }
            }
        }
        // 0.1 mm is 9.449 pixels; a pixel's centre lies up to half a pixel off the edge, along its diagonal
        // 0.71. Width: area over length, the window being crossed by 181 pixels over the steeper axis.
        const double length = 181 / std::max(std::fabs(c), std::fabs(s));
        QVERIFY2(inside / length >= 9.0 - 0.05 && inside / length <= 9.9 + 0.05,
                 qPrintable(QString::number(inside / length)));
        QVERIFY2(furthest <= 9.449 + 0.75, qPrintable(QString::number(furthest)));
    }

    void aDiscGetsARing()
    {
        const auto inside = [](int x, int y) {
            return (x - 99.5) * (x - 99.5) + (y - 99.5) * (y - 99.5) < 60.0 * 60.0;
        };
        const Plane disc = drawn(200, 200, [&](int x, int y) { return solid(inside(x, y)); });
        const Plane ground = drawn(200, 200, [&](int x, int y) { return solid(!inside(x, y)); });
        const auto made = trapped({disc, ground}, {ink("Yellow", 0.1), ink("Blue", 0.9)}, settings());
        // π((60 + w)² − 60²) with w = 9.449.
        QVERIFY(std::abs(changed(disc, made[0]) - 3843) <= 3843 * 3 / 100);
    }

    void whoGives_data()
    {
        QTest::addColumn<int>("first");
        QTest::addColumn<int>("second"); // columns that each gains at an upright edge
        QTest::addColumn<int>("job");
        QTest::newRow("blue gives under a light ink that covers and is printed later") << 9 << 0 << 0;
        QTest::newRow("it takes from one printed earlier: that gives under blue") << 0 << 9 << 1;
        QTest::newRow("blue gives under metal") << 9 << 0 << 2;
        QTest::newRow("metal and foil do neither") << 0 << 0 << 3;
        QTest::newRow("varnish has no part in it") << 0 << 0 << 4;
        QTest::newRow("nor has white") << 0 << 0 << 5;
        QTest::newRow("two inks as dark give half each") << 5 << 5 << 6;
        QTest::newRow("decided by hand: the darker gives") << 0 << 9 << 7;
        QTest::newRow("decided by hand: none") << 0 << 0 << 8;
        QTest::newRow("a width of its own") << 19 << 0 << 9;
    }
    void whoGives()
    {
        QFETCH(int, first);
        QFETCH(int, second);
        QFETCH(int, job);
        const Plane left = drawn(200, 60, [](int x, int) { return solid(x < 100); });
        const Plane right = drawn(200, 60, [](int x, int) { return solid(x >= 100); });
        TrapSettings traps = settings();
        std::vector<Plate> plates = {ink("One", 0.1), ink("Two", 0.9)};
        switch (job) {
        case 0:
            plates = {ink("Blue", 0.9), ink("Cream", 0.1, InkUse::Spot, 1)};
            break;
        case 1: // the covering ink is the second in the test's planes and the first printed: seen from behind
            plates = {ink("Blue", 0.9), ink("Cream", 0.1, InkUse::Spot, 1)};
            break;
        case 2:
            plates = {ink("Blue", 0.9), ink("Copper", 0.5, InkUse::Metallic, 1)};
            break;
        case 3:
            plates = {ink("Copper", 0.5, InkUse::Metallic, 1), ink("Foil", 0.2, InkUse::Foil, 1)};
            break;
        case 4:
            plates[1].kind = InkUse::Varnish;
            break;
        case 5:
            plates[0].kind = InkUse::White;
            break;
        case 6:
            plates = {ink("One", 0.6), ink("Two", 0.6)};
            break;
        case 7:
            traps.pairs = {{"Two", "One", TrapSide::First}};
            break;
        case 8:
            traps.pairs = {{"Two", "One", TrapSide::None}};
            break;
        case 9:
            traps.pairs = {{"One", "Two", TrapSide::Usual, 0.2}}; // 18.9 pixels

            break;
        default:
            break;
        }
        const auto columns = [&](const Plane &before, const Plane &after) {
            int count = 0;
            for (int x = 0; x < 200; ++x) {
                count += after.at(x, 30) > before.at(x, 30) ? 1 : 0;
            }
            return count;
        };
        if (job == 1) {
            const auto made = trapped({right, left}, {plates[1], plates[0]}, traps);
            QCOMPARE(columns(right, made[0]), second);
            QCOMPARE(columns(left, made[1]), first);
            return;
        }
        const auto made = trapped({left, right}, plates, traps);
        QCOMPARE(columns(left, made[0]), first);
        QCOMPARE(columns(right, made[1]), second);
    }

    void commonInkNeedsNoTrap()
    {
        // M + Y beside M 60 Y C 24: they share more than half of the lighter side's ink.
        const std::vector<Plate> plates = {ink("Cyan", 0.6), ink("Magenta", 0.6), ink("Yellow", 0.1)};
        const Plane cyan = drawn(120, 40, [](int x, int) { return x < 60 ? 0 : 61; });
        const Plane magenta = drawn(120, 40, [](int x, int) { return x < 60 ? 255 : 153; });
        const Plane yellow = drawn(120, 40, [](int, int) { return 255; });
        QCOMPARE(trapped({cyan, magenta, yellow}, plates, settings()),
                 (std::vector<Plane>{cyan, magenta, yellow}));
        // Blue overprints yellow: nothing falls where it begins.
        const Plane blue = drawn(120, 40, [](int x, int) { return solid(x >= 60); });
        QCOMPARE(trapped({yellow, blue}, {ink("Yellow", 0.1), ink("Blue", 0.9)}, settings()),
                 (std::vector<Plane>{yellow, blue}));
    }

    void aRichBlackHoldsItsInksBack()
    {
        const auto square = [](int x, int y) { return x >= 50 && x < 250 && y >= 50 && y < 250; };
        const Plane black = drawn(300, 300, [&](int x, int y) { return solid(square(x, y)); });
        const Plane cyan = drawn(300, 300, [&](int x, int y) { return square(x, y) ? 153 : 0; });
        const Plane yellow = drawn(300, 300, [&](int x, int y) { return solid(!square(x, y)); });
        const auto made =
            trapped({cyan, yellow, black}, {ink("Cyan", 0.6), ink("Yellow", 0.1), black_ink()}, settings());
        QCOMPARE(changed(yellow, made[1]), 6876); // 4 × 200 × 9 − 4 × 9²
        QCOMPARE(changed(cyan, made[0]), -3900);  // 4 × 200 × 5 − 4 × 5²
        QCOMPARE(made[2], black);
    }

    void aBaseEndsBeforeItsColours()
    {
        const auto square = [](int x, int y) { return x >= 50 && x < 250 && y >= 50 && y < 250; };
        const Plane base = drawn(300, 300, [&](int x, int y) { return solid(square(x, y)); });
        const Plane red = base;
        // A square of white alone beside: it keeps its edge.
        Plane white = base;
        for (int y = 0; y < 30; ++y) {
            std::fill(white.row(y).begin(), white.row(y).begin() + 30, std::uint8_t(255));
        }
        TrapSettings traps = settings();
        const std::vector<Plate> plates = {ink("Base", 0, InkUse::White, 1), ink("Red", 0.6)};
        QCOMPARE(trapped({white, red}, plates, traps)[0], white); // nobody asked
        traps.base_choke = 0.1;
        const auto made = trapped({white, red}, plates, traps);
        QCOMPARE(changed(white, made[0]), -6876);
        QCOMPARE(int(made[0].at(29, 29)), 255);
        QCOMPARE(made[1], red);
    }

    void thinStrokesTakeAThird_data()
    {
        QTest::addColumn<int>("stroke");
        QTest::addColumn<int>("least");
        QTest::addColumn<int>("most");
        QTest::newRow("8 pixels") << 8 << 2 << 3;
        QTest::newRow("16 pixels") << 16 << 5 << 5;
        QTest::newRow("32 pixels") << 32 << 9 << 10;
    }
    void thinStrokesTakeAThird()
    {
        QFETCH(int, stroke);
        QFETCH(int, least);
        QFETCH(int, most);
        const auto inside = [&](int x) { return x >= 100 && x < 100 + stroke; };
        const Plane blue = drawn(240, 200, [&](int x, int) { return solid(inside(x)); });
        const Plane yellow = drawn(240, 200, [&](int x, int) { return solid(!inside(x)); });
        const std::vector<Plate> plates = {ink("Yellow", 0.1), ink("Blue", 0.9)};
        TrapSettings traps = settings();
        const auto made = trapped({yellow, blue}, plates, traps);
        const int gained = changed(yellow, made[0]) / 200;
        QVERIFY2(gained >= 2 * least && gained <= 2 * most, qPrintable(QString::number(gained)));
        QCOMPARE(int(made[0].at(100 + stroke / 2, 100)), 0); // never closed
        traps.under_thin = false;
        QCOMPARE(changed(yellow, trapped({yellow, blue}, plates, traps)[0]) / 200, stroke == 32 ? gained : 0);
        // Lying down the same.
        const Plane lying = drawn(200, 240, [&](int, int y) { return solid(inside(y)); });
        const Plane ground = drawn(200, 240, [&](int, int y) { return solid(!inside(y)); });
        traps.under_thin = true;
        QCOMPARE(changed(ground, trapped({ground, lying}, plates, traps)[0]) / 200, gained);
    }

    void threeInksAtAPoint()
    {
        // Yellow left, green above blue right.
        const Plane yellow = drawn(400, 400, [](int x, int) { return solid(x < 200); });
        const Plane green = drawn(400, 400, [](int x, int y) { return solid(x >= 200 && y < 200); });
        const Plane blue = drawn(400, 400, [](int x, int y) { return solid(x >= 200 && y >= 200); });
        const auto made = trapped({yellow, green, blue},
                                  {ink("Yellow", 0.1), ink("Green", 0.5), ink("Blue", 0.9)}, settings());
        QCOMPARE(changed(yellow, made[0]), 3600);
        QCOMPARE(changed(green, made[1]), 1800);
        QCOMPARE(made[2], blue);
    }

    void anOverlapThatWouldShowIsLighter()
    {
        const Plane left = drawn(200, 40, [](int x, int) { return solid(x < 100); });
        const Plane right = drawn(200, 40, [](int x, int) { return solid(x >= 100); });
        TrapSettings traps = settings();
        traps.darker = 20;
        const auto made = trapped({left, right}, {ink("Red", 0.55), ink("Green", 0.6)}, traps);
        const int tone = made[0].at(103, 20);
        QVERIFY(tone > 0 && tone < 255);
        // CIE L* of Y = 10^−D: the green alone, and with the red's tone upon it (Murray–Davies).
        const auto lightness = [](double density) { return 116 * std::cbrt(std::pow(10.0, -density)) - 16; };
        const auto of = [&](int t) {
            return lightness(0.6) - lightness(0.6 - std::log10(1 - t / 255.0 * (1 - std::pow(10.0, -0.55))));
        };
        QVERIFY(of(tone) <= 20.0 && of(tone + 1) > 20.0);
    }

    void whatSpreadsIsWhatLiesWithinTheWidth()
    {
        // Against a plain double loop: yellow comes where blue is, within the width of a yellow pixel that
        // has blue beside, over or under it.
        const auto inside = [](int x, int y) {
            const auto disc = [&](double a, double b, double r) {
                return (x - a) * (x - a) + (y - b) * (y - b) < r * r;
            };
            return disc(130, 130, 70.3) || disc(275, 120, 31.7) || (x > 60 && y > 250 && x + 2 * y < 800);
        };
        constexpr int size = 330;
        const Plane yellow = drawn(size, size, [&](int x, int y) { return solid(inside(x, y)); });
        const Plane blue = drawn(size, size, [&](int x, int y) { return solid(!inside(x, y)); });
        const auto made = trapped({yellow, blue}, {ink("Yellow", 0.1), ink("Blue", 0.9)}, settings());
        const double reach = 0.1 * per_mm + 0.5;
        int missing = 0, extra = 0, wanted = 0;
        for (int y = 12; y < size - 12; ++y) {
            for (int x = 12; x < size - 12; ++x) {
                bool within = false;
                for (int dy = -10; dy <= 10 && blue.at(x, y) != 0; ++dy) {
                    for (int dx = -10; dx <= 10; ++dx) {
                        if (dx * dx + dy * dy <= reach * reach && yellow.at(x + dx, y + dy) != 0) {
                            within = true;
                        }
                    }
                }
                const bool is = made[0].at(x, y) != 0 && blue.at(x, y) != 0;
                wanted += within ? 1 : 0;
                missing += within && !is ? 1 : 0;
                extra += is && !within ? 1 : 0;
            }
        }
        QVERIFY(wanted > 5000);
        QCOMPARE(extra, 0);
        QVERIFY2(missing * 1000 < wanted * 5,
                 qPrintable(QStringLiteral("%1 of %2").arg(missing).arg(wanted)));
    }

    void crossingTonesSlide()
    {
        // Two inks as dark; one rises down the page while the other falls.
        const Plane left = drawn(200, 800, [](int x, int y) { return x < 100 ? 250 - y / 5 : 0; });
        const Plane right = drawn(200, 800, [](int x, int y) { return x >= 100 ? 90 + y / 5 : 0; });
        const auto made = trapped({left, right}, {ink("One", 0.6), ink("Two", 0.6)}, settings());
        int before = -1;
        for (int y = 60; y < 740; ++y) {
            int first = 0, second = 0;
            for (int x = 0; x < 200; ++x) {
                first += made[0].at(x, y) > left.at(x, y) ? 1 : 0;
                second += made[1].at(x, y) > right.at(x, y) ? 1 : 0;
            }
            QVERIFY2(first + second >= 9 && first + second <= 11, qPrintable(QString::number(y)));
            QVERIFY2(before < 0 || std::abs(first - before) <= 2, qPrintable(QString::number(y)));
            before = first;
            if (y == 400) {
                QCOMPARE(first, 5);
                QVERIFY(second == 5 || second == 6);
            }
        }
    }

    void zonesDecideForTheirPlace()
    {
        const Plane yellow = drawn(300, 300, [](int x, int) { return solid(x < 150); });
        const Plane blue = drawn(300, 300, [](int x, int) { return solid(x >= 150); });
        TrapSettings traps = settings();
        traps.zones = {{{0, 100 / per_mm, 10, 100 / per_mm}, 1, 0.0}, {{0, 200 / per_mm, 10, 10}, 1, 0.2}};
        const auto made = trapped({yellow, blue}, {ink("Yellow", 0.1), ink("Blue", 0.9)}, traps);
        const auto gained = [&](int y) {
            int count = 0;
            for (int x = 150; x < 300; ++x) {
                count += made[0].at(x, y) != 0 ? 1 : 0;
            }
            return count;
        };
        QCOMPARE(gained(50), 9);
        QCOMPARE(gained(150), 0);
        QCOMPARE(gained(280), 18 + 1); // 0.2 mm is 18.9 pixels
    }

    void sameBitsForAnyBands()
    {
        // Strokes just under three widths along the edges of bands, a disc, text-like bars, a gradient.
        const auto shape = [](int x, int y) {
            return (x / 27 % 3 == 0 && y > 20) || (y / 28 % 4 == 0) ||
                   (x - 200) * (x - 200) + (y - 160) * (y - 160) < 55 * 55;
        };
        const Plane one = drawn(330, 330, [&](int x, int y) { return shape(x, y) ? 255 - x / 3 : 0; });
        const Plane two = drawn(330, 330, [&](int x, int y) { return shape(x, y) ? 0 : 60 + y / 3; });
        const Plane three = drawn(330, 330, [&](int x, int y) { return solid((x + y) / 40 % 5 == 0); });
        const std::vector<Plate> plates = {ink("One", 0.55), ink("Two", 0.6), black_ink()};
        const auto whole = trapped({one, two, three}, plates, settings());
        QVERIFY(changed(one, whole[0]) != 0);
        for (const int band : {1, 7, 64, 133}) {
            QCOMPARE(trapped({one, two, three}, plates, settings(), nullptr, band), whole);
        }
    }

    void sameTrapsWhereverItLies_data()
    {
        QTest::addColumn<int>("left");
        for (const int left :
             {0, 700, 850, 1008, 1024, 1800, 1900}) { // parts are looked at in columns of 1024
            QTest::addRow("from column %d", left) << left;
        }
    }
    void sameTrapsWhereverItLies()
    {
        QFETCH(const int, left);
        // A disc under a stroke at a slant, rings, bars thinner than three widths, all solid or flat.
        const auto place = [&](int x, int y) {
            return 330 + left > x && x >= left ? std::pair(x - left, y) : std::pair(-1, -1);
        };
        const auto ink_at = [](int x, int y) {
            return x < 0                                                       ? 0
                   : (x + y) / 40 % 5 == 0                                     ? 3
                   : x / 25 % 3 == 0 || (3 * x + 2 * y) / 60 % 4 == 0          ? 2
                   : (x - 150) * (x - 150) + (y - 160) * (y - 160) < 110 * 110 ? 1
                                                                               : 4;
        };
        const auto one_at = [&](int x, int y) {
            return ink_at(x, y) == 1 ? 255 : ink_at(x, y) == 4 ? 90 : 0;
        };
        const auto two_at = [&](int x, int y) { return ink_at(x, y) == 2 ? 200 : 0; };
        const auto three_at = [&](int x, int y) { return solid(ink_at(x, y) == 3); };
        const auto planes = [&](int width, const auto &where) {
            const auto of = [&](const auto &tone) {
                return drawn(width, 330, [&](int x, int y) {
                    const auto [u, v] = where(x, y);
                    return int(tone(u, v));
                });
            };
            return std::vector<Plane>{of(one_at), of(two_at), of(three_at)};
        };
        const std::vector<Plate> plates = {ink("One", 0.2), ink("Two", 0.9), black_ink()};
        // Bare stock around it, so that the page's edge is nowhere near.
        const auto alone = planes(630, [&](int x, int y) {
            return x >= 150 && x < 480 ? std::pair(x - 150, y) : std::pair(-1, -1);
        });
        const auto moved = planes(2600, [&](int x, int y) {
            return place(x - 150, y).first < 0 ? std::pair(-1, -1) : place(x - 150, y);
        });
        for (const double width : {0.1, 0.4}) {
            const auto expected = trapped(alone, plates, settings(width));
            QVERIFY(changed(alone[0], expected[0]) != 0);
            const auto made = trapped(moved, plates, settings(width), nullptr, 100);
            for (std::size_t plate = 0; plate < made.size(); ++plate) {
                for (int y = 0; y < 330; ++y) {
                    for (int x = 0; x < 2600; ++x) {
                        const int from = x - left;
                        const int wanted = from >= 0 && from < 630 ? expected[plate].at(from, y) : 0;
                        if (made[plate].at(x, y) != wanted) {
                            QFAIL(qPrintable(QStringLiteral("plate %1, column %2, row %3: %4, not %5")
                                                 .arg(plate)
                                                 .arg(x)
                                                 .arg(y)
                                                 .arg(int(made[plate].at(x, y)))
                                                 .arg(wanted)));
                        }
                    }
                }
            }
        }
    }

    void meetingsAreMeasured()
    {
        TrapMeetings meetings;
        const auto side = [&](int x, int y) { return (x - 150) * 0.8 + (y - 150) * 0.6; };
        const Plane yellow = drawn(300, 300, [&](int x, int y) { return solid(side(x, y) < 0); });
        const Plane blue = drawn(300, 300, [&](int x, int y) { return solid(side(x, y) >= 0); });
        (void)trapped({yellow, blue}, {ink("Yellow", 0.1), ink("Blue", 0.9)}, settings(), &meetings);
        QCOMPARE(meetings.size(), std::size_t(1));
        const TrapMeeting &one = meetings.begin()->second;
        QVERIFY2(std::fabs(one.edge - 300 / 0.8) < 300 / 0.8 * 0.05, qPrintable(QString::number(one.edge)));
        QVERIFY(one.first > 0);
        QCOMPARE(one.second, std::uint64_t(0));
        TrapMeetings upright;
        const Plane left = drawn(100, 500, [](int x, int) { return solid(x < 50); });
        const Plane right = drawn(100, 500, [](int x, int) { return solid(x >= 50); });
        (void)trapped({left, right}, {ink("Yellow", 0.1), ink("Blue", 0.9)}, settings(), &upright, 64);
        QVERIFY(std::fabs(upright.begin()->second.edge - 500) < 5);
    }

    void everyWayThroughThePageTraps()
    {
        // Alpha left, Beta right of x = 36 points, at 1200 dpi: 600 pixels; 0.1 mm is 4.72.
        const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f /B cs 1 scn 36 0 36 72 re f");
        PlateSetup setup;
        setup.inks = {"Alpha", "Beta"};
        setup.plates = {ink("Alpha", 0.1), ink("Beta", 0.9)};
        setup.traps = settings();
        const auto line = take(PlateLine::make(pdf.content(), setup));
        const PlateTile crisp = take(line->render({560, 500, 80, 40}, Dpi(1200), Edges::Crisp));
        int last = -1;
        for (int x = 0; x < 80; ++x) {
            last = crisp.plates[0].at(x, 20) != 0 ? 560 + x : last;
        }
        QCOMPARE(last, 604);
        // In bands, by runs.
        PlateSink sink;
        std::vector<std::uint64_t> sums(2);
        std::mutex guard;
        sink.compute = [&](const Band &band, const PlateRuns &plates) {
            const std::lock_guard lock(guard);
            for (int y = 0; y < band.rows; ++y) {
                sums[0] += plates.plates[0].sum(y, 0, 1200);
                sums[1] += plates.plates[1].sum(y, 0, 1200);
            }
            return Outcome<std::unique_ptr<BandResult>>(std::make_unique<BandResult>());
        };
        sink.take = [](const Band &, BandResult &) { return Done(); };
        QVERIFY(line->run({Dpi(1200), Edges::Crisp, 0, 1200, 64, 2}, sink));
        QCOMPARE(sums[0], std::uint64_t(605) * 1200 * 255);
        QCOMPARE(sums[1], std::uint64_t(600) * 1200 * 255);
        // Smooth and coarse: the mean of what is finer. 300 dpi: 5 of 4 × 4 pixels wide.
        const PlateTile smooth = take(line->render({140, 100, 20, 10}, Dpi(300)));
        QCOMPARE(int(smooth.plates[0].at(150 - 140, 5)), 255);
        QCOMPARE(int(smooth.plates[0].at(151 - 140, 5)), 64);
        QCOMPARE(int(smooth.plates[0].at(152 - 140, 5)), 0);
        const PlateTile whole = take(line->whole_page(Dpi(300), Edges::Smooth));
        QCOMPARE(int(whole.plates[0].at(151, 5)), 64);
    }

    void computedPlatesTrapToo()
    {
        // Copper is made from Beta by a recipe; Alpha meets it and gives.
        const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f /B cs 1 scn 36 0 36 72 re f");
        PlateSetup setup;
        setup.inks = {"Alpha", "Beta", "Copper"};
        setup.plates = {ink("Alpha", 0.9), ink("Beta", 0, InkUse::Varnish),
                        ink("Copper", 0.4, InkUse::Metallic, 1)};
        RecipeStep add;
        add.source.from = RecipeFrom::Plate;
        add.source.inks = {"Beta"};
        setup.plates[2].recipe = {add};
        setup.traps = settings();
        const auto line = take(PlateLine::make(pdf.content(), setup));
        const PlateTile crisp = take(line->render({560, 500, 80, 40}, Dpi(1200), Edges::Crisp));
        QCOMPARE(int(crisp.plates[0].at(44, 20)), 255);
        QCOMPARE(int(crisp.plates[0].at(45, 20)), 0);
        const PlateTile page = take(line->whole_page(Dpi(1200), Edges::Crisp));
        QCOMPARE(int(page.plates[0].at(604, 500)), 255);
        QCOMPARE(int(page.plates[0].at(605, 500)), 0);
    }
};

BICHROM_TEST(TestTrap, QGuiApplication)
#include "tst_trap.moc"
