#include "app/lighttable/tile_cache.h"

#include <QThread>

#include <algorithm>
#include <utility>

namespace bichrom {

namespace {

constexpr qsizetype most_bytes = qsizetype(256) << 20;

qsizetype size_of(const Tile &tile)
{
    qsizetype bytes = tile.picture.sizeInBytes();
    if (tile.planes != nullptr) {
        bytes += static_cast<qsizetype>(tile.planes->area.pixels.size());
        for (const Plane &plane : tile.planes->plates) {
            bytes += static_cast<qsizetype>(plane.pixels.size());
        }
    }
    return bytes;
}

} // namespace

TileCache::TileCache(QObject *parent) : QObject(parent)
{
    m_pool.setMaxThreadCount(std::max(1, QThread::idealThreadCount()));
}

TileCache::~TileCache()
{
    m_wanted.clear();
    for (auto &[kind, stop] : m_switches) {
        stop.cancel();
    }
    m_pool.waitForDone();
}

void TileCache::setSource(std::shared_ptr<const TileSource> source, const std::vector<TileKind> &keep,
                          bool the_same_page)
{
    m_source = std::move(source);
    m_wanted.clear();
    for (const TileKind kind : all_tile_kinds) {
        if (std::find(keep.begin(), keep.end(), kind) != keep.end()) {
            continue;
        }
        m_generations[kind] = ++m_generation;
        std::exchange(m_switches[kind], CancelSwitch()).cancel(); // nobody waits for what was asked before
        for (auto it = m_tiles.begin(); it != m_tiles.end();) {
            if (it->first.kind != kind) {
                ++it;
                continue;
            }
            Entry &entry = it->second;
            m_bytes -= entry.bytes;
            if (the_same_page && !entry.tile.picture.isNull()) {
                entry.tile.stale = true;
                entry.tile.planes = nullptr;
                entry.bytes = size_of(entry.tile);
                m_bytes += entry.bytes;
                ++it;
            } else {
                it = m_tiles.erase(it);
            }
        }
    }
}

Tile *TileCache::find(const TileKey &key)
{
    const auto found = m_tiles.find(key);
    if (found == m_tiles.end()) {
        return nullptr;
    }
    found->second.used = ++m_clock;
    return &found->second.tile;
}

void TileCache::want(std::vector<TileKey> keys)
{
    std::reverse(keys.begin(), keys.end()); // the most urgent last, where it is taken from
    m_wanted = std::move(keys);
    startNext();
}

void TileCache::startNext()
{
    while (m_source && m_running < m_pool.maxThreadCount() && !m_wanted.empty()) {
        const TileKey key = m_wanted.back();
        m_wanted.pop_back();
        const auto known = m_tiles.find(key);
        if ((known != m_tiles.end() && isCurrent(known->second.tile)) ||
            std::find(m_started.begin(), m_started.end(), key) != m_started.end()) {
            continue;
        }
        if (known != m_tiles.end() && !known->second.tile.stale) {
            startComposing(key, known->second.tile.planes);
            continue;
        }
        const Dpi resolution(static_cast<double>(key.milli_dpi) / 1000.0);
        const PixelRect page = m_source->plate_line->extent(resolution);
        const PixelRect rect = {key.column * side, key.row * side,
                                std::min(side, page.width - key.column * side),
                                std::min(side, page.height - key.row * side)};
        if (rect.empty() || key.column < 0 || key.row < 0) {
            continue;
        }
        m_started.push_back(key);
        ++m_running;
        m_pool.start([this, key, rect, resolution, source = m_source, look = m_look, number = m_lookNumber,
                      control = JobControl(m_switches[key.kind]), generation = m_generations[key.kind]] {
            auto tile = std::make_shared<Outcome<Tile>>(source->render(key.kind, rect, resolution, control));
            if (*tile && (*tile)->planes != nullptr && look != nullptr) {
                (*tile)->picture = look->compose(*(*tile)->planes);
                (*tile)->look = number;
            }
            QMetaObject::invokeMethod(
                this, [this, key, generation, tile] { take(key, generation, std::move(*tile)); },
                Qt::QueuedConnection);
        });
    }
}

void TileCache::setLook(std::shared_ptr<const TileLook> look, quint64 number)
{
    m_look = std::move(look);
    m_lookNumber = number;
}

/// The planes of a tile that is there, by another look.
void TileCache::startComposing(const TileKey &key, std::shared_ptr<const PlateTile> planes)
{
    m_started.push_back(key);
    ++m_running;
    m_pool.start([this, key, planes = std::move(planes), look = m_look, number = m_lookNumber,
                  generation = m_generations[key.kind]] {
        Tile tile;
        tile.planes = planes;
        tile.picture = look->compose(*planes);
        tile.look = number;
        auto made = std::make_shared<Outcome<Tile>>(std::move(tile));
        QMetaObject::invokeMethod(
            this, [this, key, generation, made] { take(key, generation, std::move(*made)); },
            Qt::QueuedConnection);
    });
}

void TileCache::take(const TileKey &key, quint64 generation, Outcome<Tile> tile)
{
    --m_running;
    std::erase(m_started, key);
    if (!tile && tile.error().code != ErrorCode::Cancelled) {
        Tile failed;
        failed.fault = QString::fromStdString(tile.error().message());
        tile = std::move(failed);
    }
    if (tile && generation == m_generations[key.kind]) {
        Entry entry{std::move(*tile), ++m_clock, 0};
        entry.bytes = size_of(entry.tile);
        if (const auto before = m_tiles.find(key); before != m_tiles.end()) {
            m_bytes -= before->second.bytes;
        }
        m_bytes += entry.bytes;
        m_tiles.insert_or_assign(key, std::move(entry));
        evict();
    }
    startNext();
    Q_EMIT tileReady();
}

void TileCache::evict()
{
    while (m_bytes > most_bytes && m_tiles.size() > 1) {
        const auto oldest =
            std::min_element(m_tiles.begin(), m_tiles.end(),
                             [](const auto &a, const auto &b) { return a.second.used < b.second.used; });
        m_bytes -= oldest->second.bytes;
        m_tiles.erase(oldest);
    }
}

} // namespace bichrom
