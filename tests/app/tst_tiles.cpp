// Tiles of the light table: painted once, and composed anew beside the window when the look changes.
#include "app/lighttable/tile_cache.h"
#include "app/lighttable/tile_source.h"
#include "core/job/routing.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QSignalSpy>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const TileKey whole_page{TileKind::Plates, 72000, 0, 0};

/// Alpha at the left, Beta at the right, both solid.
std::shared_ptr<const TileSource> two_inks()
{
    const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f /B cs 1 scn 36 0 36 72 re f");
    auto source = std::make_shared<TileSource>();
    source->plate_line = take(PlateLine::make(pdf.content(), {"Alpha", "Beta"}));
    source->condition = ProcessProfile::fogra39();
    source->job = propose_job(pdf.scene(), "tiles");
    return source;
}

std::shared_ptr<const TileLook> inks(bool second_shown = true)
{
    return std::make_shared<const TileLook>(
        InkLook{{Rgb8{200, 0, 0}, true}, {Rgb8{0, 0, 200}, second_shown}});
}

QColor left(const Tile &tile)
{
    return tile.picture.pixelColor(10, 36);
}
QColor right(const Tile &tile)
{
    return tile.picture.pixelColor(60, 36);
}

} // namespace

class TestTiles : public QObject
{
    Q_OBJECT

private:
    /// Waits for the tile as it should be; asks again whenever one is ready, as the light table does.
    static const Tile *wait(TileCache &cache, const TileKey &key = whole_page)
    {
        QObject asking;
        connect(&cache, &TileCache::tileReady, &asking, [&] { cache.want({key}); });
        cache.want({key});
        const bool there = QTest::qWaitFor(
            [&] {
                const Tile *tile = cache.find(key);
                return tile != nullptr && cache.isCurrent(*tile);
            },
            30'000);
        return there ? cache.find(key) : nullptr;
    }

private Q_SLOTS:
    void aTileComesComposed()
    {
        TileCache cache;
        cache.setSource(two_inks());
        cache.setLook(inks(), 1);
        const Tile *tile = wait(cache);
        QVERIFY(tile != nullptr);
        QCOMPARE(tile->picture.size(), QSize(72, 72));
        QVERIFY(tile->picture == inks()->compose(*tile->planes));
        QVERIFY(left(*tile).red() > 150 && left(*tile).blue() < 50);
        QVERIFY(right(*tile).blue() > 150 && right(*tile).red() < 50);
    }

    void anotherLookPaintsNothingAnew()
    {
        TileCache cache;
        cache.setSource(two_inks());
        cache.setLook(inks(), 1);
        const Tile *tile = wait(cache);
        QVERIFY(tile != nullptr);
        const PlateTile *planes = tile->planes.get();
        const QImage before = tile->picture;

        cache.setLook(inks(false), 2);
        tile = cache.find(whole_page);
        QVERIFY(!cache.isCurrent(*tile));
        QVERIFY(tile->picture == before); // the old picture until the new one is there
        tile = wait(cache);
        QVERIFY(tile != nullptr);
        QCOMPARE(tile->planes.get(), planes);
        QCOMPARE(right(*tile), QColor(255, 255, 255));
        QCOMPARE(left(*tile), before.pixelColor(10, 36));

        cache.setLook(std::make_shared<const TileLook>(FilmLook{1}), 3);
        tile = wait(cache);
        QVERIFY(tile != nullptr);
        QCOMPARE(tile->planes.get(), planes);
        QCOMPARE(left(*tile), QColor(255, 255, 255)); // a film: black where it inks
        QVERIFY(right(*tile).value() < 60);

        const auto source = cache.source();
        const PrintLook print(source->job, source->plate_line->inks(), *source->condition);
        cache.setLook(std::make_shared<const TileLook>(print), 4);
        tile = wait(cache);
        QVERIFY(tile != nullptr);
        std::vector<std::uint32_t> expected(72 * 72);
        print.compose(*tile->planes, expected);
        QCOMPARE(tile->picture.pixel(10, 36), QRgb(expected[36 * 72 + 10]));
        QCOMPARE(tile->picture.pixel(60, 36), QRgb(expected[36 * 72 + 60]));
    }

    void onlyTheLastOfManyLooksIsKept()
    {
        TileCache cache;
        cache.setSource(two_inks());
        for (quint64 number = 1; number <= 20; ++number) {
            cache.setLook(inks(number % 2 == 0), number);
            cache.want({whole_page});
        }
        const Tile *tile = wait(cache);
        QVERIFY(tile != nullptr);
        QCOMPARE(tile->look, quint64(20));
        QVERIFY(right(*tile).blue() > 150);
    }

    void changedPlatesKeepThePictureUntilTheyArePainted()
    {
        TileCache cache;
        cache.setSource(two_inks());
        cache.setLook(inks(), 1);
        const Tile *tile = wait(cache);
        QVERIFY(tile != nullptr);
        const QImage before = tile->picture;
        const PlateTile *planes = tile->planes.get();
        cache.setSource(two_inks(), {}, true);
        tile = cache.find(whole_page);
        QVERIFY(tile != nullptr && tile->stale && tile->planes == nullptr);
        QVERIFY(!cache.isCurrent(*tile));
        QVERIFY(tile->picture == before);
        tile = wait(cache);
        QVERIFY(tile != nullptr && tile->planes != nullptr);
        QVERIFY(tile->planes.get() != planes);
        cache.setSource(two_inks()); // another page: nothing of the one before is shown
        QVERIFY(cache.find(whole_page) == nullptr);
    }

    void aCacheWithoutALookGivesPlanes()
    {
        TileCache cache; // the core sample's
        cache.setSource(two_inks());
        const Tile *tile = wait(cache);
        QVERIFY(tile != nullptr && tile->planes != nullptr);
        QVERIFY(tile->picture.isNull());
        QCOMPARE(int(tile->planes->plates[0].at(10, 36)), 255);
    }
};

BICHROM_TEST(TestTiles, QApplication)
#include "tst_tiles.moc"
