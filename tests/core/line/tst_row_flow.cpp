// Planes that flow from each other: every row made once, whoever asks and in whatever order.
#include "core/line/row_flow.h"
#include "core/raster/choke.h"
#include "core/raster/tone_rows.h"

#include "support/test_program.h"

#include <QtTest>

#include <atomic>
#include <cmath>
#include <thread>

using namespace bichrom;

namespace {

constexpr int width = 300, height = 1400, rim = 40;

/// A slant and rings, a gradient on the right.
Plane art()
{
    Plane plane(width, height);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            const bool ring = std::fabs(std::hypot(x - 90, y % 350 - 170) - 60) < 9;
            const bool slant = std::abs(x - y / 8) < 5;
            const int tone = x > 220 ? x - 30 - y / 16 : ring || slant ? 255 : 0;
            plane.row(y)[static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(tone);
        }
    }
    return plane;
}

/// With a rim of bare pixels around it.
Plane framed(const Plane &plane)
{
    Plane made(plane.width + 2 * rim, plane.height + 2 * rim);
    for (int y = 0; y < plane.height; ++y) {
        std::copy(plane.row(y).begin(), plane.row(y).end(), made.row(y + rim).begin() + rim);
    }
    return made;
}

struct Flow
{
    std::shared_ptr<const RunPlane> rows = std::make_shared<const RunPlane>(art());
    std::vector<std::atomic<int>> painted = std::vector<std::atomic<int>>(height);
    JobControl control;
    RowFlow flow{{-rim, -rim, width + 2 * rim, height + 2 * rim}, control, EdgePixels::Grey};
    RowFlow::Number source =
        flow.painted({0, 0, width, height}, [this](int first, int last) -> Outcome<RunPlane> {
            RunPlane made(width, last - first);
            made.add_rows(rows, first, last);
            for (int y = first; y < last; ++y) {
                ++painted[static_cast<std::size_t>(y)];
            }
            return made;
        });
};

Plane page_of(RowFlow &flow, RowFlow::Number number, int rows)
{
    Plane made(width, height);
    for (int first = 0; first < height; first += rows) {
        const int last = std::min(height, first + rows);
        RunPlane part(width, last - first);
        if (!flow.add_rows(part, number, 0, first, last)) {
            return {};
        }
        for (int y = first; y < last; ++y) {
            part.write_row(y - first, made.row(y).data());
        }
    }
    return made;
}

} // namespace

class TestRowFlow : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void stepsAreThoseOfPlanes()
    {
        Flow one;
        RowFlow &flow = one.flow;
        const auto table = std::make_shared<const PairTable>(take_off);
        const auto line =
            flow.joined(flow.choked(one.source, -6.5, false), flow.choked(one.source, 6.5, false), table);
        const auto gone = flow.smoothed(flow.choked(flow.choked(one.source, 4, true), -9.3, true), 5);
        const Plane whole = framed(art());
        Plane wide = spread(whole, 6.5);
        const Plane inner = choke(whole, 6.5);
        take_off(wide.pixels.data(), inner.pixels.data(), wide.pixels.size());
        const Plane soft = smooth(spread_tones(choke_tones(whole, 4), 9.3), 5);
        const auto same = [&](const Plane &made, const Plane &wanted) {
            for (int y = 0; y < height; ++y) {
                if (!std::equal(made.row(y).begin(), made.row(y).end(), wanted.row(y + rim).begin() + rim)) {
                    return false;
                }
            }
            return true;
        };
        for (const int rows : {1400, 100, 7}) {
            QVERIFY(same(page_of(flow, line, rows), wide));
            QVERIFY(same(page_of(flow, gone, rows), soft));
        }
    }

    void eachRowIsPaintedOnce()
    {
        Flow one;
        auto number = one.source;
        for (int i = 0; i < 6; ++i) {
            number = one.flow.choked(number, i % 2 == 0 ? -5 : 5, false);
        }
        QVERIFY(one.flow.depth() >= 30);
        std::vector<std::thread> threads;
        std::atomic<int> wrong{0};
        for (int thread = 0; thread < 4; ++thread) {
            threads.emplace_back([&, thread] {
                for (int i = 0; i < 14; ++i) {
                    const int first = (i + thread * 3) % 14 * 100;
                    RunPlane part(width, 100);
                    wrong += one.flow.add_rows(part, number, 0, first, first + 100) ? 0 : 1;
                }
            });
        }
        for (std::thread &thread : threads) {
            thread.join();
        }
        QCOMPARE(wrong.load(), 0);
        for (int y = 0; y < height; ++y) {
            QCOMPARE(one.painted[static_cast<std::size_t>(y)].load(), 1);
        }
    }

    void whatIsDroppedIsNotAskedForAgain()
    {
        for (const int rows : {100, 256, 350}) { // 256: whole strips
            Flow one;
            const auto number = one.flow.choked(one.flow.choked(one.source, -20, false), 20, false);
            for (int first = 0; first < height; first += rows) {
                const int last = std::min(height, first + rows);
                RunPlane part(width, last - first);
                QVERIFY(one.flow.add_rows(part, number, 0, first, last));
                one.flow.drop_before(last);
            }
            for (int y = 0; y < height; ++y) {
                QCOMPARE(one.painted[static_cast<std::size_t>(y)].load(), 1);
            }
        }
    }

    void aPartIsThatOfTheWhole()
    {
        Flow one;
        const auto table = std::make_shared<const PairTable>(take_off);
        const auto ring = [&](RowFlow &flow, RowFlow::Number from) {
            return flow.joined(flow.choked(from, -6, false), flow.choked(from, 7.5, false), table);
        };
        const Plane whole = page_of(one.flow, ring(one.flow, one.source), height);
        const PixelRect rect = {60, 517, 150, 100};
        const PixelRect frame = {rect.x - 12, rect.y - 12, rect.width + 24, rect.height + 24};
        RowFlow part(frame, one.control, EdgePixels::Grey);
        const auto source =
            part.painted({0, 0, width, height}, [&](int first, int last) -> Outcome<RunPlane> {
                RunPlane made(width, last - first);
                made.add_rows(one.rows, first, last);
                return made;
            });
        RunPlane made(rect.width, rect.height);
        QVERIFY(part.add_rows(made, ring(part, source), rect.x, rect.y, rect.y + rect.height));
        const Plane seen = made.plane();
        for (int y = 0; y < rect.height; ++y) {
            QVERIFY(
                std::equal(seen.row(y).begin(), seen.row(y).end(), whole.row(rect.y + y).begin() + rect.x));
        }
    }

    void errorsComeThrough()
    {
        JobControl control;
        RowFlow flow({0, 0, width, height}, control, EdgePixels::Grey);
        const auto source = flow.painted({0, 0, width, height}, [](int first, int) -> Outcome<RunPlane> {
            if (first >= 512) {
                return Error{ErrorCode::CannotRead, "it is torn", {}, {}};
            }
            return RunPlane(width, 256);
        });
        const auto number = flow.choked(source, -10, false);
        RunPlane part(width, 100);
        QVERIFY(flow.add_rows(part, number, 0, 0, 100));
        const Done done = flow.add_rows(part, number, 0, 700, 800);
        QVERIFY(!done && done.error().code == ErrorCode::CannotRead);
    }

    void itStopsWhenAsked()
    {
        CancelSwitch stop;
        const JobControl control(stop);
        RowFlow flow({0, 0, width, height}, control, EdgePixels::Grey);
        const auto number = flow.choked(flow.bare(), 10, false);
        RunPlane part(width, 100);
        QVERIFY(flow.add_rows(part, number, 0, 0, 100));
        stop.cancel();
        const Done done = flow.add_rows(part, number, 0, 600, 700);
        QVERIFY(!done && done.error().code == ErrorCode::Cancelled);
    }
};

BICHROM_TEST(TestRowFlow, QCoreApplication)
#include "tst_row_flow.moc"
