// Rows that several bands look at are painted once, whoever asks first.
#include "core/artwork/page_memory.h"
#include "core/line/strip_store.h"

#include "support/test_program.h"

#include <QtTest>

#include <atomic>
#include <thread>

using namespace bichrom;

namespace {

std::shared_ptr<const PaintedStrip> strip_of(int number)
{
    auto strip = std::make_shared<PaintedStrip>();
    strip->area = std::make_shared<const RunPlane>(number + 1, 1);
    return strip;
}

} // namespace

class TestStripStore : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void eachIsPaintedOnce()
    {
        constexpr int strips = 200;
        std::vector<std::atomic<int>> painted(strips);
        StripStore store([&](int number) -> Outcome<StripStore::Strip> {
            ++painted[static_cast<std::size_t>(number)];
            return strip_of(number);
        });
        std::atomic<int> wrong{0};
        std::vector<std::thread> threads;
        for (int thread = 0; thread < 4; ++thread) {
            threads.emplace_back([&, thread] {
                for (int first = thread; first + 3 < strips; first += 2) {
                    const auto found = store.strips(first, first + 3);
                    wrong += !found || found->size() != 4 ? 1 : 0;
                    for (std::size_t i = 0; found && i < found->size(); ++i) {
                        wrong += (*found)[i]->area->width() != first + static_cast<int>(i) + 1 ? 1 : 0;
                    }
                }
            });
        }
        for (std::thread &thread : threads) {
            thread.join();
        }
        QCOMPARE(wrong.load(), 0);
        for (int i = 0; i < strips; ++i) {
            QCOMPARE(painted[static_cast<std::size_t>(i)].load(), 1);
        }
    }

    void whatIsDroppedIsGone()
    {
        int painted = 0;
        std::weak_ptr<const PaintedStrip> first;
        StripStore store([&](int number) -> Outcome<StripStore::Strip> {
            ++painted;
            auto strip = strip_of(number);
            if (number == 0) {
                first = strip;
            }
            return strip;
        });
        QVERIFY(store.strips(0, 2));
        QVERIFY(!first.expired());
        store.drop_before(1);
        QVERIFY(first.expired()); // memory stays as large as the bands in work
        QVERIFY(store.strips(1, 3));
        QCOMPARE(painted, 4);
    }

    void aFaultReachesAllWhoAsk()
    {
        StripStore store([&](int number) -> Outcome<StripStore::Strip> {
            if (number == 1) {
                return Error{ErrorCode::CannotRead, "broken", {}, {}};
            }
            if (number == 2) {
                throw std::bad_alloc();
            }
            return strip_of(number);
        });
        QVERIFY(store.strips(0, 0));
        for (int i = 0; i < 2; ++i) {
            const auto broken = store.strips(0, 1);
            QVERIFY(!broken);
            QCOMPARE(broken.error().code, ErrorCode::CannotRead);
            const auto no_memory = store.strips(2, 3);
            QVERIFY(!no_memory);
            QCOMPARE(no_memory.error().code, ErrorCode::TooLarge);
        }
    }

    void thePageForgetsWhatWasNotUsedForLongest()
    {
        PageMemory memory;
        const auto value = [](int number) { return std::make_shared<const int>(number); };
        const auto of = [&](const char *key) {
            const auto found = memory.find(key);
            return found == nullptr ? -1 : *static_cast<const int *>(found.get());
        };
        for (int i = 0; i < 4; ++i) {
            memory.keep(std::string(1, static_cast<char>('a' + i)), value(i));
        }
        QCOMPARE(of("a"), 0); // used again
        memory.keep("e", value(4));
        QCOMPARE(of("a"), 0);
        QCOMPARE(of("b"), -1);
        QCOMPARE(of("e"), 4);
        // Large results count by their bytes and push no small ones out.
        constexpr std::size_t part = std::size_t(200) << 20;
        memory.keep("x", value(10), part);
        memory.keep("y", value(11), part);
        QCOMPARE(of("x"), 10);
        memory.keep("z", value(12), part);
        QCOMPARE(of("x"), 10);
        QCOMPARE(of("y"), -1);
        QCOMPARE(of("z"), 12);
        QCOMPARE(of("a"), 0);
        memory.keep("w", value(13), std::size_t(1) << 30); // larger than all that may be kept
        QCOMPARE(of("w"), -1);
        QCOMPARE(of("z"), 12);
    }
};

BICHROM_TEST(TestStripStore, QCoreApplication)
#include "tst_strip_store.moc"
