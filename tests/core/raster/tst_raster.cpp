#include "core/raster/bands.h"
#include "core/raster/bitmap_ops.h"

#include "support/test_program.h"

#include <QtTest>

#include <atomic>

using namespace bichrom;

namespace {

struct Rows final : BandResult
{
    int top = 0;
};

Bitmap pattern(int width, int height)
{
    Bitmap film(width, height);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            if ((x * 7 + y * 13 + x * x) % 5 < 2) {
                film.row(y)[x / 8] = static_cast<std::uint8_t>(film.row(y)[x / 8] | (0x80 >> (x % 8)));
            }
        }
    }
    return film;
}

} // namespace

class TestRaster : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void bandsCoverEveryRowOnceInOrder_data()
    {
        QTest::addColumn<int>("height");
        QTest::addColumn<int>("rows");
        QTest::newRow("whole bands") << 64 << 16;
        QTest::newRow("a short last band") << 70 << 16;
        QTest::newRow("one band") << 5 << 100;
        QTest::newRow("nothing") << 0 << 16;
    }
    void bandsCoverEveryRowOnceInOrder()
    {
        QFETCH(int, height);
        QFETCH(int, rows);
        int next = 0;
        BandSteps steps;
        steps.compute = [](const Band &band) -> Outcome<std::unique_ptr<BandResult>> {
            auto result = std::make_unique<Rows>();
            result->top = band.top;
            return std::unique_ptr<BandResult>(std::move(result));
        };
        steps.take = [&](const Band &band, BandResult &result) -> Done {
            if (band.top != next || static_cast<Rows &>(result).top != band.top) {
                return Error{ErrorCode::Internal, "out of order", {}, {}};
            }
            next += band.rows;
            return {};
        };
        QVERIFY(run_bands(height, rows, steps, {}));
        QCOMPARE(next, height);
    }

    void aStopIsHeardAndAnErrorIsKept()
    {
        CancelSwitch cancel;
        std::atomic<int> computed{0};
        BandSteps steps;
        steps.compute = [&](const Band &) -> Outcome<std::unique_ptr<BandResult>> {
            ++computed;
            return std::unique_ptr<BandResult>(std::make_unique<Rows>());
        };
        steps.take = [&](const Band &band, BandResult &) -> Done {
            if (band.index == 3) {
                cancel.cancel();
            }
            return {};
        };
        const Done stopped = run_bands(10'000, 1, steps, JobControl(cancel));
        QVERIFY(!stopped);
        QCOMPARE(stopped.error().code, ErrorCode::Cancelled);
        QVERIFY(computed < 100);

        steps.take = [&](const Band &band, BandResult &) -> Done {
            return band.index == 5 ? Done(Error{ErrorCode::DiskFull, "full", {}, {}}) : Done();
        };
        const Done failed = run_bands(10'000, 1, steps, {});
        QVERIFY(!failed);
        QCOMPARE(failed.error().code, ErrorCode::DiskFull);
    }

    void memoryStaysBounded()
    {
        static std::atomic<int> alive{0};
        static std::atomic<int> most{0};
        struct Counted final : BandResult
        {
            Counted() { most = std::max(most.load(), ++alive); }
            ~Counted() override { --alive; }
        };
        BandSteps steps;
        steps.compute = [](const Band &) -> Outcome<std::unique_ptr<BandResult>> {
            return std::unique_ptr<BandResult>(std::make_unique<Counted>());
        };
        steps.take = [](const Band &band, BandResult &) -> Done {
            if (band.index % 50 == 0) {
                QTest::qSleep(2);
            }
            return {};
        };
        QVERIFY(run_bands(2000, 1, steps, {}, 4));
        QVERIFY2(most <= 6, qPrintable(QString::number(most)));
    }

    void turningOverIsExact_data()
    {
        QTest::addColumn<int>("width");
        for (const int width : {1, 7, 8, 63, 64, 65, 130, 200}) {
            QTest::addRow("%d pixels wide", width) << width;
        }
    }
    void turningOverIsExact()
    {
        QFETCH(int, width);
        const Bitmap film = pattern(width, 5);
        Bitmap turned = film;
        mirror(turned);
        for (int y = 0; y < film.height; ++y) {
            for (int x = 0; x < width; ++x) {
                QCOMPARE(turned.at(x, y), film.at(width - 1 - x, y));
            }
        }
        mirror(turned);
        QVERIFY(turned == film); // padding included
        invert(turned);
        for (int x = 0; x < width; ++x) {
            QCOMPARE(turned.at(x, 0), !film.at(x, 0));
        }
        invert(turned);
        QVERIFY(turned == film);
    }
};

BICHROM_TEST(TestRaster, QCoreApplication)
#include "tst_raster.moc"
