// Rows of runs joined and changed: pixel by pixel what the tones of the two make.
#include "core/raster/run_join.h"
#include "core/raster/tone_rows.h"

#include "support/run_planes.h"
#include "support/test_program.h"

#include <QtTest>

#include <memory>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

PairTable table_of(const QString &name)
{
    if (name == QStringLiteral("larger")) {
        return PairTable(take_larger);
    }
    if (name == QStringLiteral("sum")) {
        return PairTable(add_tones);
    }
    if (name == QStringLiteral("shown where")) {
        return PairTable(show_where);
    }
    std::vector<std::uint8_t> values(65536);
    std::mt19937 random(5);
    for (std::size_t i = 0; i < values.size(); ++i) {
        values[i] = static_cast<std::uint8_t>(random());
    }
    return PairTable(std::move(values));
}

} // namespace

class TestRunJoin : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void rowsAreJoinedPixelByPixel_data()
    {
        QTest::addColumn<QString>("name");
        for (const char *name : {"larger", "sum", "shown where", "any table, that inks what is bare too"}) {
            QTest::newRow(name) << QString::fromLatin1(name);
        }
    }
    void rowsAreJoinedPixelByPixel()
    {
        QFETCH(const QString, name);
        const PairTable table = table_of(name);
        std::mt19937 random(11);
        for (int round = 0; round < 300; ++round) {
            const int width = 1 + static_cast<int>(random() % 200);
            RunPlane made(width, 1);
            {
                const auto one = random_row(width, random), other = random_row(width, random);
                const Plane a = one->plane(), b = other->plane();
                ToneMemory memory;
                add_joined(made, one->row(0), other->row(0), table, memory);
                memory.give_to(made);
                made.keep(one);
                made.keep(other);
                for (int x = 0; x < width; ++x) {
                    QCOMPARE(made.plane().at(x, 0), table.at(a.at(x, 0), b.at(x, 0)));
                }
            }
            // What it holds lives on without what it was made of.
            QCOMPARE(made.plane().width, width);
        }
    }

    void tonesAreLentOnWhereNothingChanges()
    {
        Plane tones(50, 1);
        for (int x = 0; x < 50; ++x) {
            tones.row(0)[static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(x * 5);
        }
        const RunPlane one(tones), bare(50, 1);
        RunPlane made(50, 1);
        ToneMemory memory;
        add_joined(made, one.row(0), bare.row(0), PairTable(take_larger), memory);
        QCOMPARE(made.row(0).size(), std::size_t(1));
        QCOMPARE(made.row(0)[0].tones, one.row(0)[0].tones);
        // And what can only come out as one tone is one.
        RunPlane solid(50, 1);
        solid.add({0, 50, 255, nullptr});
        solid.end_row();
        RunPlane larger(50, 1);
        add_joined(larger, one.row(0), solid.row(0), PairTable(take_larger), memory);
        QVERIFY(larger.row(0).size() == 1 && larger.row(0)[0].tones == nullptr &&
                larger.row(0)[0].tone == 255);
    }

    void everyToneGoesThroughATable()
    {
        ToneTable table{};
        for (std::size_t i = 0; i < table.size(); ++i) {
            table[i] = static_cast<std::uint8_t>(255 - i / 2); // bare becomes solid
        }
        std::mt19937 random(3);
        for (int round = 0; round < 100; ++round) {
            const int width = 1 + static_cast<int>(random() % 90);
            const auto row = random_row(width, random);
            RunPlane made(width, 1);
            ToneMemory memory;
            add_changed(made, row->row(0), table, memory);
            memory.give_to(made);
            for (int x = 0; x < width; ++x) {
                QCOMPARE(made.plane().at(x, 0), table[row->plane().at(x, 0)]);
            }
        }
    }
};

BICHROM_TEST(TestRunJoin, QCoreApplication)
#include "tst_run_join.moc"
