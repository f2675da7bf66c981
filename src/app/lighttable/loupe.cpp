#include "app/lighttable/loupe.h"

#include "app/lighttable/dot_words.h"
#include "app/widgets/theme.h"

#include <algorithm>

namespace bichrom {

void Loupe::read(std::shared_ptr<const TileSource> source, QPointF mm,
                 const std::function<Seen(const QString &)> &seen)
{
    m_reading.cancel();
    const double pixels = source->film.value / millimetres_per_inch;
    const PixelRect page = source->plate_line->extent(source->film);
    const int side = std::min({source->reading_side(), page.width, page.height});
    const auto first = [side, pixels](double at, int most) {
        return std::clamp(static_cast<int>(at * pixels) - side / 2, 0, most - side);
    };
    const PixelRect rect = {first(mm.x(), page.width), first(mm.y(), page.height), side, side};
    m_area = QRectF(rect.x / pixels, rect.y / pixels, side / pixels, side / pixels);
    m_lines.clear();
    std::vector<Seen> plates;
    for (const std::string &ink : source->plate_line->inks()) {
        plates.push_back(seen(theme::text_of(ink)));
    }
    m_reading =
        m_tasks.start([source, rect](const JobControl &control) { return source->read_films(rect, control); },
                      [this, source, plates, area = m_area](const Outcome<std::vector<DotReading>> &read) {
                          if (area != m_area || (!read && read.error().code == ErrorCode::Cancelled)) {
                              return;
                          }
                          m_lines.clear();
                          for (std::size_t i = read ? read->size() : 0; i-- > 0;) {
                              const DotReading &dots = (*read)[i];
                              if (plates[i] == Seen::Alone ||
                                  (plates[i] == Seen::WithOthers && dots.kind != DotKind::Bare)) {
                                  m_lines << tr("%1: %2").arg(theme::text_of(source->plate_line->inks()[i]),
                                                              dot_words(dots));
                              }
                          }
                          if (m_lines.isEmpty()) {
                              m_lines << (read ? tr("no ink here") : theme::text_of(read.error().message()));
                          }
                          Q_EMIT changed();
                      });
    Q_EMIT changed();
}

void Loupe::forget()
{
    m_reading.cancel();
    m_area = {};
    m_lines.clear();
    Q_EMIT changed();
}

} // namespace bichrom
