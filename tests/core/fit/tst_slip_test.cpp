// The slip test against areas worked out on paper.
#include "core/fit/slip_test.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <cmath>
#include <numbers>

using namespace bichrom;
using namespace bichrom::test;

namespace {

constexpr double mm = 72 / 25.4; // points
// At 1016 dpi a tenth of a millimetre is four pixels.

/// Two inks, the lighter first, on a page of \p contents.
SlipPlates plates_of(const std::string &contents, double trap = 0, double dpi = 1016,
                     std::vector<std::pair<std::string, InkUse>> inks = {{"Alpha", InkUse::Spot},
                                                                         {"Beta", InkUse::Spot}})
{
    const MiniPdf pdf = spots_page(contents);
    Job job;
    for (const auto &[name, kind] : inks) {
        Plate plate;
        plate.ink = name;
        plate.kind = kind;
        plate.solid = {50, 40, 0};
        plate.traits.density = name == "Alpha" ? 0.1 : 0.9;
        job.plates.push_back(plate);
    }
    job.traps.on = trap > 0;
    job.traps.width = trap;
    const auto line = take(PlateLine::make(pdf.content(), setup_of(job)));
    return take(slip_plates(*line, job, Dpi(dpi)));
}

std::string rectangle(double x, double y, double width, double height)
{
    return std::to_string(x * mm) + " " + std::to_string(y * mm) + " " + std::to_string(width * mm) + " " +
           std::to_string(height * mm) + " re f ";
}

/// 8 × 5 mm each, side by side.
const std::string abutting = "/A cs 1 scn " + rectangle(4, 4, 8, 5) + "/B cs 1 scn " + rectangle(12, 4, 8, 5);

std::string circle(double x, double y, double radius)
{
    constexpr double k = 0.5522847498;
    const auto point = [&](double dx, double dy) {
        return std::to_string((x + dx * radius) * mm) + " " + std::to_string((y + dy * radius) * mm) + " ";
    };
    return point(1, 0) + "m " + point(1, k) + point(k, 1) + point(0, 1) + "c " + point(-k, 1) + point(-1, k) +
           point(-1, 0) + "c " + point(-1, -k) + point(-k, -1) + point(0, -1) + "c " + point(k, -1) +
           point(1, -k) + point(1, 0) + "c f ";
}

bool near(double value, double wanted, double tolerance)
{
    if (std::fabs(value - wanted) <= tolerance) {
        return true;
    }
    qWarning("%f instead of %f", value, wanted);
    return false;
}

} // namespace

class TestSlipTest : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void rectanglesThatPart()
    {
        // The second moves 0.3 to the right and 0.2 down: 0.3 × (5 − 0.2) mm² between them. What it leaves at
        // its top has no print under it any more.
        const SlipResult bare = take(slip(plates_of(abutting), {{"Beta", 0.3, 0.2}}));
        QVERIFY(near(bare.bare, 1.44, 0.02));
        QCOMPARE(bare.pairs.front().moved, std::string("Beta"));
        QCOMPARE(bare.pairs.front().other, std::string("Alpha"));
        QVERIFY(near(bare.pairs.front().bare, 1.44, 0.02));
        QVERIFY(near(bare.worst_x, 12.15, 0.1));
        QVERIFY(near(bare.pairs.front().worst_x, 12.15, 0.1));
        QVERIFY(near(bare.pairs.front().closes, std::hypot(0.3, 0.2), 0.001));
        // A trap of 0.1 leaves two thirds, one as wide as the slip a rounding.
        QVERIFY(near(take(slip(plates_of(abutting, 0.1), {{"Beta", 0.3, 0.2}})).bare, 0.96, 0.03));
        QVERIFY(take(slip(plates_of(abutting, 0.3), {{"Beta", 0.3, 0.2}})).bare <= 0.02);
    }

    void partsOfAPixelCount()
    {
        // 0.02 mm is half a pixel at 635 dpi.
        QVERIFY(near(take(slip(plates_of(abutting, 0, 635), {{"Beta", 0.02, 0}})).bare, 0.1, 0.003));
    }

    void platesThatMoveTogetherShowNothing()
    {
        const SlipResult both = take(slip(plates_of(abutting), {{"Alpha", 0.3, 0.2}, {"Beta", 0.3, 0.2}}));
        QCOMPARE(both.bare, 0.0);
        const SlipResult closer = take(slip(plates_of(abutting), {{"Beta", -0.3, 0}}));
        QCOMPARE(closer.bare, 0.0);
        QVERIFY(near(closer.darker, 0.3 * 5, 0.03));
    }

    void discInARing()
    {
        // A disc of 3 mm in a hole of 3 mm, moved 0.303: what the disc leaves, a lens less than the disc.
        const std::string art = "/B cs 1 scn " + rectangle(2, 2, 16, 16) + "/A cs 1 scn " + circle(10, 10, 3);
        const SlipResult moved = take(slip(plates_of(art), {{"Alpha", 0.303, 0}}));
        const double r = 3, d = 0.303;
        const double lens = 2 * r * r * std::acos(d / (2 * r)) - d / 2 * std::sqrt(4 * r * r - d * d);
        QVERIFY(near(std::numbers::pi * r * r - lens, 1.815, 0.01)); // the figure on paper
        QVERIFY(near(moved.bare, std::numbers::pi * r * r - lens, 0.03));
        // Any slip up to it: the ring inside the edge of the disc and the one outside it.
        const SlipResult any = take(slip_within(plates_of(art), 0.3));
        const double inner = std::numbers::pi * (3 * 3 - 2.7 * 2.7),
                     outer = std::numbers::pi * (3.3 * 3.3 - 3 * 3);
        QVERIFY(near(any.bare, inner + outer, 0.02 * (inner + outer)));
        QVERIFY(near(any.pairs.front().closes, 0.3, 0.025));
        QVERIFY(any.map.at(static_cast<int>(12.85 / 25.4 * 1016), static_cast<int>(15.4 / 25.4 * 1016)));
    }

    void turnedPlatesPartByAWedge()
    {
        // The right rectangle is turned by 1° about the middle of the page, 12.7 mm: its left edge, 0.7 mm
        // left of the middle, lies from 2.2 mm above to 2.8 mm below it. Turned clockwise its upper part goes
        // right.
        const std::string art =
            "/A cs 1 scn " + rectangle(4, 9.9, 8, 5) + "/B cs 1 scn " + rectangle(12, 9.9, 8, 5);
        const SlipResult turned = take(slip(plates_of(art), {{"Beta", 0, 0, 1.0}}));
        // x moves by −tan(1°)·y over the part that parts: the triangle above, less the shift at the foot.
        const double sine = std::sin(std::numbers::pi / 180);
        const double above = 12.7 - (25.4 - 14.9); // mm from the middle up to the top of the rectangles
        QVERIFY(near(turned.bare, sine * above * above / 2, 0.02));
        QVERIFY(turned.darker > 0);
        // The place and the width are the pair's own: at the upper end of the edge, as far as it has parted.
        const SlipPair &pair = turned.pairs.front();
        QVERIFY(near(pair.worst_x, 12, 1.4));
        QVERIFY(near(pair.worst_y, 11.2, 1.4));
        QVERIFY(pair.closes >= sine * above - 0.01 && pair.closes < 0.15);
    }

    void trapsCloseWhatPressesOpen()
    {
        const SlipResult open = take(slip_within(plates_of(abutting), 0.2));
        QVERIFY(near(open.bare, 2 * 0.2 * 5, 0.06)); // either may leave
        QCOMPARE(open.pairs.size(), std::size_t(2));
        QVERIFY(take(slip_within(plates_of(abutting, 0.2), 0.2)).bare <= 0.06);
        const SlipResult half = take(slip_within(plates_of(abutting, 0.1), 0.2));
        QVERIFY(near(half.bare, 2 * 0.1 * 5, 0.08));
    }

    void aBaseThatEndsWithItsColourShows()
    {
        // Alpha is white under Beta, to the same edge.
        const std::string art = "/N cs 1 1 scn " + rectangle(5, 5, 10, 10);
        const std::vector<std::pair<std::string, InkUse>> inks = {{"Alpha", InkUse::White},
                                                                  {"Beta", InkUse::Spot}};
        const SlipResult any = take(slip_within(plates_of(art, 0, 1016, inks), 0.2));
        QVERIFY(near(any.base, 10 * 10 - 9.6 * 9.6, 0.3));
        QCOMPARE(any.bare, 0.0);
        QVERIFY(any.pairs.front().base);
        // Shifted by 0.2: the strip at the left that the colour leaves.
        const SlipResult one = take(slip(plates_of(art, 0, 1016, inks), {{"Beta", 0.2, 0}}));
        QVERIFY(near(one.base, 0.2 * 10, 0.08));
    }

    void theResolutionFitsTheLengths()
    {
        TrapSettings traps;
        traps.on = true;
        traps.width = 0.15;
        const double dpi = slip_resolution(traps, 0.3).value;
        QVERIFY(dpi >= 450 && dpi <= 900);
        for (const double length : {0.15, 0.3}) {
            const double pixels = length * dpi / 25.4;
            QVERIFY(near(pixels, std::round(pixels), 0.02));
        }
    }

    void whatCannotBeIsRefused()
    {
        const SlipPlates plates = plates_of(abutting, 0, 150);
        QCOMPARE(slip(plates, {{"Gamma", 1, 1}}).error().code, ErrorCode::UnknownInk);
        QCOMPARE(slip(plates, {{"Beta", 30, 1}}).error().code, ErrorCode::OutOfRange);
        QCOMPARE(slip_within(plates, 0).error().code, ErrorCode::OutOfRange);
        QCOMPARE(slip_within(plates, 6).error().code, ErrorCode::OutOfRange);
    }
};

BICHROM_TEST(TestSlipTest, QGuiApplication)
#include "tst_slip_test.moc"
