/// \file
/// Tiles made off the window's thread, kept while there is room.
/// Layer: app/lighttable.
#pragma once

#include "app/lighttable/tile_look.h"
#include "app/lighttable/tile_source.h"

#include <QHash>
#include <QObject>
#include <QThreadPool>

#include <map>
#include <memory>
#include <tuple>

namespace bichrom {

/// Which tile: kind, resolution in 1/1000 dpi, column and row of the tile grid.
struct TileKey
{
    TileKind kind = TileKind::Plates;
    qint64 milli_dpi = 72000;
    int column = 0;
    int row = 0;
    friend auto operator<=>(const TileKey &, const TileKey &) = default;
};

class TileCache : public QObject
{
    Q_OBJECT

public:
    static constexpr int side = 256; ///< pixels of a tile, fewer at the page's edges

    explicit TileCache(QObject *parent = nullptr);
    ~TileCache() override;

    /// Replaces what tiles are made from. Tiles of \p keep stay; the others go, or are held as stale
    /// pictures until new ones are there, when the page is \p the_same_page.
    void setSource(std::shared_ptr<const TileSource> source, const std::vector<TileKind> &keep = {},
                   bool the_same_page = false);
    [[nodiscard]] const std::shared_ptr<const TileSource> &source() const { return m_source; }

    /// The tile when it is ready, else null; lent until the next call. One that could not be made has its
    /// fault, and is not tried again with this source.
    [[nodiscard]] Tile *find(const TileKey &key);

    /// What planes are composed by from now on. Tiles composed otherwise keep their pictures until they are
    /// wanted again. \param number  of the look, another each time
    void setLook(std::shared_ptr<const TileLook> look, quint64 number);
    /// Whether \p tile shows what it should.
    [[nodiscard]] bool isCurrent(const Tile &tile) const
    {
        return !tile.stale && (tile.planes == nullptr || tile.look == m_lookNumber);
    }

    /// Says which tiles are needed now, most urgent first; earlier wishes are forgotten.
    void want(std::vector<TileKey> keys);

    [[nodiscard]] bool isBusy() const { return m_running > 0 || !m_wanted.empty(); }

Q_SIGNALS:
    void tileReady();

private:
    struct Entry
    {
        Tile tile;
        quint64 used = 0;
        qsizetype bytes = 0;
    };
    void startNext();
    void startComposing(const TileKey &key, std::shared_ptr<const PlateTile> planes);
    void take(const TileKey &key, quint64 generation, Outcome<Tile> tile);
    void evict();

    std::shared_ptr<const TileSource> m_source;
    std::shared_ptr<const TileLook> m_look;
    quint64 m_lookNumber = 0;
    quint64 m_generation = 0;
    std::map<TileKind, quint64> m_generations;
    std::map<TileKind, CancelSwitch> m_switches; ///< of the tiles of a generation
    std::map<TileKey, Entry> m_tiles;
    std::vector<TileKey> m_wanted;
    std::vector<TileKey> m_started;
    int m_running = 0;
    quint64 m_clock = 0;
    qsizetype m_bytes = 0;
    QThreadPool m_pool;
};

} // namespace bichrom
