// Planes as runs say the same as planes of pixels.
#include "core/raster/run_plane.h"
#include "core/raster/shape_list.h"

#include "support/test_program.h"

#include <QtTest>

#include <random>

using namespace bichrom;

namespace {

/// Rows with bare, even and uneven stretches.
Plane mixed_plane(int width, int height, unsigned seed)
{
    std::mt19937 random(seed);
    Plane plane(width, height);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width;) {
            const int length = std::min(width - x, 1 + static_cast<int>(random() % 40));
            const auto kind = random() % 4;
            const auto tone = static_cast<std::uint8_t>(kind == 0 ? 0 : kind == 1 ? 255 : random() % 256);
            for (int i = 0; i < length; ++i, ++x) {
                plane.row(y)[static_cast<std::size_t>(x)] =
                    kind == 3 ? static_cast<std::uint8_t>(random() % 256) : tone;
            }
        }
    }
    return plane;
}

} // namespace

class TestRunPlane : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void pixelsComeBackAsTheyWere()
    {
        for (const int width : {1, 2, 63, 64, 200}) {
            const Plane plane = mixed_plane(width, 12, 3);
            const RunPlane runs{Plane(plane)};
            QCOMPARE(runs.width(), width);
            QVERIFY(runs.plane() == plane);
            for (int y = 0; y < plane.height; ++y) {
                std::uint64_t all = 0, part = 0;
                for (int x = 0; x < width; ++x) {
                    all += plane.at(x, y);
                    part += x >= width / 3 && x < width * 2 / 3 ? plane.at(x, y) : 0;
                }
                QCOMPARE(runs.sum(y, 0, width), all);
                QCOMPARE(runs.sum(y, width / 3, width * 2 / 3), part);
            }
        }
    }

    void longStretchesOfOneToneAreRuns()
    {
        std::vector<std::uint8_t> tones(300, 0);
        for (std::size_t x = 100; x < 200; ++x) {
            tones[x] = 255;
        }
        tones[99] = 30; // an edge
        tones[200] = 70;
        RunPlane made(310, 1);
        made.add_tones(5, tones.data(), 300);
        made.end_row();
        QCOMPARE(made.row(0).size(), std::size_t(3)); // edge, solid, edge; what is bare is left out
        std::vector<std::uint8_t> seen(310);
        made.write_row(0, seen.data());
        QVERIFY(std::equal(tones.begin(), tones.end(), seen.begin() + 5));
        QVERIFY(seen[4] == 0 && seen[305] == 0);
        for (const std::size_t count : {std::size_t(1), std::size_t(7)}) {
            RunPlane few(20, 1);
            few.add_tones(0, tones.data() + 98, static_cast<int>(count));
            few.end_row();
            few.write_row(0, seen.data());
            QVERIFY(
                std::equal(tones.begin() + 98, tones.begin() + 98 + static_cast<int>(count), seen.begin()));
        }
    }

    void partsOfRowsAreWhatTheWholeIs()
    {
        const Plane plane = mixed_plane(200, 12, 8);
        RunPlane runs(200, 12); // the same as flat stretches, and bare ones as none
        for (int y = 0; y < 12; ++y) {
            for (int x = 0; x < 200;) {
                int end = x + 1;
                while (end < 200 && plane.at(end, y) == plane.at(x, y)) {
                    ++end;
                }
                if (plane.at(x, y) != 0) {
                    runs.add({x, end, plane.at(x, y), nullptr});
                }
                x = end;
            }
            runs.end_row();
        }
        const RunPlane tones{Plane(plane)};
        for (int y = 0; y < 12; ++y) {
            for (int begin = 0; begin < 200; begin += 7) {
                for (int end = begin + 1; end <= 200; end += 13) {
                    const auto row = plane.row(y).subspan(static_cast<std::size_t>(begin),
                                                          static_cast<std::size_t>(end - begin));
                    for (const RunPlane *one : std::initializer_list<const RunPlane *>{&runs, &tones}) {
                        std::vector<std::uint8_t> part(row.size() + 1, 99);
                        one->write_part(y, begin, end, part.data());
                        QVERIFY(std::equal(row.begin(), row.end(), part.begin()));
                        QCOMPARE(int(part.back()), 99); // nothing behind it
                    }
                    const bool even = std::all_of(row.begin(), row.end(),
                                                  [&](std::uint8_t tone) { return tone == row.front(); });
                    QCOMPARE(runs.even_tone(y, begin, end), even ? int(row.front()) : -1);
                }
            }
        }
    }

    void averagesAreMeansOfTheirPixels()
    {
        for (const int by : {1, 2, 4}) {
            const Plane fine = mixed_plane(24 * by, 6 * by, 11);
            Plane out(24, 8);
            out.row(0)[0] = 7;
            RunPlane{Plane(fine)}.average(by, out, 2);
            QCOMPARE(int(out.at(0, 0)), 7); // rows before are left alone
            for (int y = 0; y < 6; ++y) {
                for (int x = 0; x < 24; ++x) {
                    int sum = 0;
                    for (int k = 0; k < by * by; ++k) {
                        sum += fine.at(x * by + k % by, y * by + k / by);
                    }
                    QCOMPARE(int(out.at(x, y + 2)), (2 * sum + by * by) / (2 * by * by));
                }
            }
        }
        Plane inked(3, 1);
        inked.row(0)[1] = 9;
        RunPlane(12, 4).average(4, inked, 0);
        QCOMPARE(int(inked.at(1, 0)), 0); // bare is written too
    }

    void bareAndEvenRowsAreNoPixels()
    {
        Plane plane(100, 3);
        std::fill(plane.row(1).begin(), plane.row(1).end(), std::uint8_t(77));
        plane.row(2)[50] = 1;
        const RunPlane runs{std::move(plane)};
        QVERIFY(runs.row(0).empty());
        QCOMPARE(runs.row(1).size(), std::size_t(1));
        QVERIFY(runs.row(1).front().tones == nullptr);
        QCOMPARE(runs.row(1).front().tone, std::uint8_t(77));
        QVERIFY(runs.row(2).front().tones != nullptr);
        QVERIFY(RunPlane(Plane(10, 10)).bare());
        QVERIFY(!runs.bare());
    }

    void runsThatGoOnAlikeAreOne()
    {
        RunPlane runs(100, 4);
        runs.add({10, 20, 5, nullptr});
        runs.add({20, 30, 5, nullptr});
        runs.add({30, 40, 6, nullptr});
        runs.add({50, 60, 6, nullptr});
        runs.end_row();
        runs.add({60, 70, 6, nullptr}); // another row
        runs.end_row();
        runs.repeat_row();
        QCOMPARE(runs.row(0).size(), std::size_t(3));
        QCOMPARE(runs.row(0)[0].end, 30);
        QCOMPARE(runs.row(1).size(), std::size_t(1));
        QVERIFY(runs.row(3).empty()); // not added
        const Plane plane = runs.plane();
        QCOMPARE(plane.at(29, 0), std::uint8_t(5));
        QCOMPARE(plane.at(45, 0), std::uint8_t(0));
        QCOMPARE(plane.at(65, 1), std::uint8_t(6));
        QCOMPARE(plane.at(65, 2), std::uint8_t(6));
        QCOMPARE(plane.at(65, 3), std::uint8_t(0));
    }

    void rowsOfAnotherKeepItsTones()
    {
        const Plane plane = mixed_plane(90, 9, 8);
        RunPlane part(90, 5);
        part.add_rows(std::make_shared<const RunPlane>(Plane(plane)), 2, 7); // the other goes at once
        for (int y = 0; y < 5; ++y) {
            std::vector<std::uint8_t> row(90, 1);
            part.write_row(y, row.data());
            QVERIFY(std::equal(row.begin(), row.end(), plane.row(y + 2).begin()));
        }
    }

    void shapesInkWhatTheirRuleSays_data()
    {
        QTest::addColumn<double>("left");
        QTest::addColumn<double>("right");
        QTest::addColumn<int>("first");
        QTest::addColumn<int>("last");
        QTest::newRow("whole pixels") << 2.0 << 5.0 << 2 << 5;
        QTest::newRow("centres inside") << 2.4 << 6.6 << 2 << 7;
        QTest::newRow("a left edge on a centre counts") << 2.5 << 4.0 << 2 << 4;
        QTest::newRow("a right edge on a centre does not") << 2.0 << 4.5 << 2 << 4;
        QTest::newRow("between two centres: the pixel in the middle") << 3.6 << 4.2 << 3 << 4;
        QTest::newRow("off the page to the left") << -9.0 << -3.0 << 0 << 0;
        QTest::newRow("from off the page") << -9.0 << 3.0 << 0 << 3;
        QTest::newRow("over all of it") << -1e6 << 1e6 << 0 << 10;
    }
    void shapesInkWhatTheirRuleSays()
    {
        QFETCH(double, left);
        QFETCH(double, right);
        QFETCH(int, first);
        QFETCH(int, last);
        // Once as a rectangle, once as an outline that is none to the eye of the program.
        for (const double slant : {0.0, 1e-9}) {
            ShapeList list(10, 10);
            list.begin(false, true);
            const std::vector<PixelPoint> corners = {{left, 0}, {right, slant}, {right, 10}, {left, 10}};
            list.polygon(corners);
            const int number = list.end();
            QCOMPARE(number >= 0, first < last);
            if (number < 0) {
                continue;
            }
            RowFiller filler;
            int rows = 0;
            filler.fill(list, list.shape(number), 0, 10, 10, [&](int, std::span<const InkSpan> spans) {
                ++rows;
                QCOMPARE(spans.size(), std::size_t(1));
                QCOMPARE(spans.front().begin, first);
                QCOMPARE(spans.front().end, last);
            });
            QCOMPARE(rows, 10);
        }
    }

    void partsOfAShapeAreThoseOfTheWhole()
    {
        std::mt19937 random(5);
        ShapeList list(200, 200);
        list.begin(true, true);
        for (int contour = 0; contour < 4; ++contour) {
            list.move_to({double(random() % 200), double(random() % 200)});
            for (int i = 0; i < 6; ++i) {
                list.curve_to({double(random() % 240) - 20, double(random() % 240) - 20},
                              {double(random() % 240) - 20, double(random() % 240) - 20},
                              {double(random() % 240) - 20, double(random() % 240) - 20});
            }
            list.close();
        }
        const int number = list.end();
        QVERIFY(number >= 0);
        const auto rows_of = [&](int step) {
            std::vector<std::vector<InkSpan>> rows(200);
            RowFiller filler;
            for (int top = 0; top < 200; top += step) {
                filler.fill(list, list.shape(number), top, std::min(200, top + step), 200,
                            [&](int row, std::span<const InkSpan> spans) {
                                rows[static_cast<std::size_t>(row)].assign(spans.begin(), spans.end());
                            });
            }
            return rows;
        };
        const auto whole = rows_of(200);
        QVERIFY(rows_of(1) == whole);
        QVERIFY(rows_of(37) == whole);
    }
};

BICHROM_TEST(TestRunPlane, QCoreApplication)
#include "tst_run_plane.moc"
