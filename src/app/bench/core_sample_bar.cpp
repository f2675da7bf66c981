#include "app/bench/core_sample_bar.h"

#include "app/widgets/theme.h"
#include "core/artwork/page_boxes.h"
#include "core/colour/colour_difference.h"
#include "core/job/print_model.h"

#include <QComboBox>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int sides[] = {1, 3, 5, 11, 51};

} // namespace

CoreSampleBar::CoreSampleBar(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_tiles(this)
{
    setObjectName(QStringLiteral("coreSample"));
    setAccessibleName(tr("Core sample"));
    setFixedHeight(84);
    m_size = new QComboBox(this);
    m_size->setObjectName(QStringLiteral("sampleSize"));
    m_size->setAccessibleName(tr("Averaged over"));
    m_size->setToolTip(tr("Pixels at 300 dpi that are averaged around the pointer. Press A and draw a "
                          "rectangle to average over that; H holds the sample."));
    for (const int side : sides) {
        m_size->addItem(side == 1 ? tr("1 pixel") : tr("%1 × %1").arg(side), side);
    }
    m_size->setFocusPolicy(Qt::TabFocus);
    m_size->setGeometry(110, 6, 92, 24);
    connect(m_size, &QComboBox::activated, this, [this] {
        m_area.reset();
        read();
    });
    connect(&m_session, &Session::pageChanged, this, [this] {
        m_tiles.setSource(TileSource::make(*m_session.page(), m_session.job()));
        m_area.reset();
        setPoint(std::nullopt);
    });
    connect(&m_session, &Session::platesChanged, this, [this] {
        m_tiles.setSource(TileSource::make(*m_session.page(), m_session.job()));
        readArea();
        read();
    });
    connect(&m_session, &Session::jobChanged, this, [this] {
        m_reading.reset(); // it is by plate of the job, which may have others now, or in another order
        readArea();
        read();
    });
    connect(&m_tiles, &TileCache::tileReady, this, &CoreSampleBar::read);
    connect(&m_finder, &ObjectFinder::found, this, [this](QPointF, const std::vector<int> &objects) {
        m_object.clear();
        if (m_session.isOpen() && !objects.empty()) {
            const auto &all = m_session.page()->scene.objects;
            const auto top = static_cast<std::size_t>(objects.back());
            m_object = top < all.size() ? theme::text_of(describe(all[top])) : QString();
            if (objects.size() > 1) {
                m_object += tr("\nover %1 more").arg(objects.size() - 1);
            }
        }
        Q_EMIT objectsFound(objects);
        update();
    });
}

std::optional<double> CoreSampleBar::Reading::difference() const
{
    return artwork ? std::optional(ciede2000(*artwork, estimate.print())) : std::nullopt;
}

int CoreSampleBar::side() const
{
    return m_size->currentData().toInt();
}

void CoreSampleBar::setUnit(LengthUnit unit)
{
    m_unit = unit;
    update();
}

void CoreSampleBar::setPoint(std::optional<QPointF> mm)
{
    m_point = mm;
    if (!m_area) {
        m_reading.reset();
    }
    if (m_point && m_session.isOpen()) {
        m_finder.ask(m_session.page()->plate_line->share_page(), *m_point);
    } else {
        m_finder.forget();
        m_object.clear();
        Q_EMIT objectsFound({});
    }
    read();
}

void CoreSampleBar::setArea(const QRectF &area)
{
    m_area = area.isEmpty() ? std::nullopt : std::optional(area);
    m_reading.reset();
    readArea();
    read();
}

void CoreSampleBar::readArea()
{
    m_sampling.cancel();
    if (!m_area || !m_session.isOpen()) {
        return;
    }
    const auto plate_line = m_session.page()->plate_line;
    const PixelRect place =
        sample_area(*plate_line, {m_area->x(), m_area->y(), m_area->width(), m_area->height()});
    m_sampling = m_tasks.start(
        [plate_line, place, original = m_session.page()->original](const JobControl &control) {
            auto sample = std::make_shared<Outcome<CoreSample>>(take_sample(*plate_line, place, control));
            // A large area is looked at coarser: its mean colour does not change.
            const double coarser = std::max(1.0, std::max(place.width, place.height) / 1000.0);
            const PixelRect rect = {int(place.x / coarser), int(place.y / coarser),
                                    std::max(1, int(place.width / coarser)),
                                    std::max(1, int(place.height / coarser))};
            const auto pixels = original->render(rect, Dpi(sample_resolution.value / coarser));
            return std::pair(sample, pixels ? mean_colour(*pixels) : std::nullopt);
        },
        [this, place, request = ++m_request](const auto &sampled) {
            if (request == m_request && *sampled.first && m_area) {
                take(**sampled.first, static_cast<long long>(place.width) * place.height, sampled.second);
            }
        });
}

void CoreSampleBar::read()
{
    update();
    if (m_area || !m_point || !m_tiles.source() || !m_session.isOpen()) {
        return;
    }
    const PlateLine &plate_line = *m_tiles.source()->plate_line;
    const PixelRect place = sample_square(plate_line, m_point->x(), m_point->y(), side());
    constexpr int tile_side = TileCache::side;
    SampleSum sum;
    std::vector<std::uint32_t> original;
    std::vector<TileKey> missing;
    bool plates_missing = false;
    for (int row = place.y / tile_side; row <= (place.y + place.height - 1) / tile_side; ++row) {
        for (int column = place.x / tile_side; column <= (place.x + place.width - 1) / tile_side; ++column) {
            TileKey key{TileKind::Plates, std::llround(sample_resolution.value * 1000.0), column, row};
            const Tile *plates = m_tiles.find(key);
            if (plates != nullptr && plates->planes != nullptr) {
                sum.add(*plates->planes, place);
            } else if (plates == nullptr || plates->stale) { // else it cannot be made
                missing.push_back(key);
                plates_missing = true;
            }
            key.kind = TileKind::Original;
            if (const Tile *tile = m_tiles.find(key)) {
                const QRect all(column * tile_side, row * tile_side, tile->picture.width(),
                                tile->picture.height());
                const QRect part = all & QRect(place.x, place.y, place.width, place.height);
                for (int y = part.top(); y <= part.bottom(); ++y) {
                    const auto *line =
                        reinterpret_cast<const QRgb *>(tile->picture.constScanLine(y - all.y()));
                    original.insert(original.end(), line + part.left() - all.x(),
                                    line + part.right() - all.x() + 1);
                }
            } else {
                missing.push_back(key);
            }
        }
    }
    const bool whole = missing.empty();
    if (!missing.empty()) {
        m_tiles.want(std::move(missing));
    }
    if (!plates_missing) { // the customer's colour may follow
        take(sum.mean(), sum.pixels(), whole ? mean_colour(original) : std::nullopt);
    }
}

void CoreSampleBar::take(const CoreSample &sample, long long pixels, const std::optional<Lab> &artwork)
{
    Reading reading;
    reading.painted = sample.painted;
    reading.pixels = pixels;
    reading.artwork = artwork;
    const std::vector<std::string> &inks = m_session.page()->plate_line->inks();
    for (const Plate &plate : m_session.job().plates) {
        const auto found = std::find(inks.begin(), inks.end(), plate.ink);
        const auto at = static_cast<std::size_t>(found - inks.begin());
        reading.tones.push_back(at < sample.tones.size() ? sample.tones[at] : 0);
    }
    m_reading = std::move(reading);
    estimate();
    update();
}

void CoreSampleBar::estimate()
{
    if (m_reading) {
        m_reading->estimate = estimate_print(m_session.job(), m_reading->tones, *m_session.page()->condition);
    }
}

QString CoreSampleBar::placeText() const
{
    const int decimals = m_unit == LengthUnit::Inch ? 3 : 1;
    const auto length = [&](double mm) {
        return theme::text_of(format_length(Millimetres(mm), m_unit, decimals));
    };
    if (m_area) {
        return tr("area %1 × %2").arg(length(m_area->width()), length(m_area->height()));
    }
    return tr("x %1   y %2").arg(length(m_point->x()), length(m_point->y()));
}

QString CoreSampleBar::trimText() const
{
    const LoadedPage &page = *m_session.page();
    const Rect trim = box_within(page.info, PageBox::Trim, page.box);
    const QPointF at = m_point.value_or(QPointF());
    const double across = std::min(at.x() - trim.x, trim.x + trim.width - at.x());
    const double down = std::min(at.y() - trim.y, trim.y + trim.height - at.y());
    const double inside = std::min(across, down);
    // Outside a corner the way to the trim is a diagonal.
    const double away = inside >= 0 ? inside : across < 0 && down < 0 ? std::hypot(across, down) : -inside;
    const QString length =
        theme::text_of(format_length(Millimetres(away), m_unit, m_unit == LengthUnit::Inch ? 3 : 1));
    return inside >= 0 ? tr("%1 inside the trim").arg(length) : tr("%1 outside the trim").arg(length);
}

void CoreSampleBar::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme::strip);
    painter.fillRect(0, 0, width(), 1, theme::line);
    painter.setPen(theme::text);
    painter.setFont(theme::font(13, QFont::DemiBold));
    painter.drawText(QRect(16, 8, 100, 18), Qt::AlignVCenter, tr("Core sample"));
    painter.setFont(theme::font(11));
    painter.setPen(theme::quiet);
    if (!m_session.isOpen()) {
        return;
    }
    constexpr int left = 216, object_room = 176, total_room = 70, colour_room = 196;
    if (!m_point && !m_area) {
        painter.drawText(QRect(16, 34, left - 28, 44), Qt::AlignTop | Qt::TextWordWrap,
                         tr("Point at the artwork to read every plate there."));
    } else {
        painter.drawText(QRect(16, 32, left - 20, 16), Qt::AlignVCenter, placeText());
        if (m_point) {
            painter.drawText(QRect(16, 47, left - 20, 16), Qt::AlignVCenter, trimText());
        }
        if (m_reading) {
            const QString share = theme::percent(m_reading->painted, 0);
            painter.drawText(QRect(16, 62, left - 20, 16), Qt::AlignVCenter,
                             m_reading->painted <= 0   ? tr("bare: nothing paints here")
                             : m_reading->painted >= 1 ? tr("painted")
                             : m_reading->pixels > 1   ? tr("%1 of it painted").arg(share)
                                                       : tr("painted at %1").arg(share));
        }
    }
    if (!m_session.job().plates.empty()) {
        paintPlates(painter,
                    QRect(left, 0, width() - left - object_room - total_room - colour_room, height()));
        paintColours(painter, QRect(width() - object_room - colour_room, 0, colour_room, height()));
        painter.setFont(theme::font(11));
        painter.setPen(theme::quiet);
        const int at = width() - object_room - colour_room - total_room;
        painter.drawText(QRect(at, 12, total_room, 16), Qt::AlignVCenter, tr("total ink"));
        painter.setFont(theme::font(15, QFont::DemiBold));
        painter.setPen(theme::text);
        double sum = 0;
        for (const double tone : m_reading ? m_reading->tones : std::vector<double>()) {
            sum += tone;
        }
        painter.drawText(QRect(at, 28, total_room, 22), Qt::AlignVCenter,
                         m_reading ? theme::percent(sum, 0) : QStringLiteral("–"));
    }
    const QRect words(width() - object_room, 8, object_room - 16, height() - 14);
    painter.fillRect(QRect(words.x() - 10, 10, 1, height() - 20), theme::line);
    painter.setFont(theme::font(11));
    painter.setPen(m_object.isEmpty() ? theme::quiet : theme::text);
    painter.drawText(words, Qt::AlignTop | Qt::TextWordWrap,
                     !m_point             ? QString()
                     : m_object.isEmpty() ? tr("no object here")
                                          : m_object);
}

/// The customer's colour beside the print's.
void CoreSampleBar::paintColours(QPainter &painter, const QRect &room) const
{
    const QRect print(room.x() + 40, 12, 40, 28);
    const QRect artwork(room.x(), 12, 40, 28);
    painter.setPen(QPen(theme::quiet, 1));
    painter.setBrush(theme::field);
    painter.drawRect(artwork.adjusted(0, 0, -1, -1));
    painter.drawRect(print.adjusted(0, 0, -1, -1));
    const QRect right(room.x() + 88, 0, room.width() - 92, 80);
    painter.setFont(theme::font(11));
    painter.drawText(QRect(room.x() - 6, 42, 52, 16), Qt::AlignCenter, tr("artwork"));
    painter.drawText(QRect(room.x() + 36, 42, 48, 16), Qt::AlignCenter, tr("print"));
    if (!m_reading) {
        return;
    }
    const PrintEstimate &estimate = m_reading->estimate;
    painter.fillRect(print.adjusted(1, 1, -1, -1), theme::ink_color(estimate.print()));
    if (m_reading->artwork) {
        painter.fillRect(artwork.adjusted(1, 1, -1, -1), theme::ink_color(*m_reading->artwork));
    }
    const auto number = [](double value) {
        return QString::number(std::fabs(value) < 0.05 ? 0.0 : value, 'f', 1);
    };
    const Lab &lab = estimate.print();
    painter.drawText(QRect(right.x(), 42, right.width(), 16), Qt::AlignVCenter,
                     QStringLiteral("L* %1").arg(number(lab.l)));
    painter.drawText(QRect(room.x(), 60, room.width() - 8, 16), Qt::AlignVCenter,
                     estimate.predictable
                         ? tr("print a* %1  b* %2, estimated").arg(number(lab.a), number(lab.b))
                         : tr("metal: cannot be predicted"));
    painter.setFont(theme::font(15, QFont::DemiBold));
    painter.setPen(theme::text);
    const auto difference = m_reading->difference();
    painter.drawText(QRect(right.x(), 14, right.width(), 22), Qt::AlignVCenter,
                     difference ? QStringLiteral("ΔE %1").arg(number(*difference)) : QStringLiteral("ΔE –"));
}

/// The stock and every plate by its amount, and under each the colour of the print so far.
void CoreSampleBar::paintPlates(QPainter &painter, const QRect &room) const
{
    const auto &plates = m_session.job().plates;
    const std::vector<std::size_t> sight = order_of_sight(m_session.job());
    const int count = static_cast<int>(plates.size()) + 1;
    const int step = std::clamp(room.width() / count, 38, 104);
    const int fit = std::clamp(room.width() / step, 2, count);
    for (int i = 0; i < fit; ++i) {
        // The stock comes first, what is nearest to the eye last.
        const std::size_t number = i == 0 ? 0 : sight[static_cast<std::size_t>(i - 1)];
        const Plate *plate = i == 0 ? nullptr : &plates[number];
        const double share = plate == nullptr ? 1 : m_reading ? m_reading->tones[number] : 0;
        const QRect swatch(room.x() + i * step, 12, step - 4, 20);
        const QRect so_far(swatch.x(), swatch.bottom() + 1, swatch.width(), 8);
        painter.setPen(QPen(theme::quiet, 1));
        painter.setBrush(theme::field);
        painter.drawRect(swatch.adjusted(0, 0, -1, 7));
        // The tint fills from the bottom, so that amount is seen without colour too.
        const int high = static_cast<int>(std::lround((swatch.height() - 1) * share));
        const Lab colour = plate == nullptr ? m_session.job().stock_here().colour : plate->shown();
        painter.fillRect(QRect(swatch.x() + 1, swatch.bottom() + 1 - high, swatch.width() - 2, high),
                         theme::ink_color(colour));
        if (plate == nullptr && !m_reading) {
            painter.fillRect(so_far.adjusted(1, 0, -1, -1), theme::ink_color(colour));
        } else if (m_reading) {
            const PrintEstimate &estimate = m_reading->estimate;
            painter.fillRect(so_far.adjusted(1, 0, -1, -1),
                             theme::ink_color(plate == nullptr ? estimate.stock : estimate.after[number]));
            painter.drawLine(so_far.topLeft(), so_far.topRight());
        }
        painter.setPen(theme::quiet);
        painter.setFont(theme::font(11));
        const QString label = plate == nullptr ? tr("stock") : theme::text_of(plate->ink);
        const QString name = i == fit - 1 && fit < count
                                 ? tr("+ %1 more").arg(count - fit)
                                 : painter.fontMetrics().elidedText(label, Qt::ElideMiddle, step - 4);
        painter.drawText(QRect(swatch.x(), 42, step - 4, 16), Qt::AlignHCenter | Qt::AlignVCenter, name);
        painter.setPen(theme::text);
        painter.setFont(theme::font(12, QFont::DemiBold));
        const bool exact = m_reading && m_reading->pixels > 1;
        const QString value =
            plate == nullptr ? QStringLiteral("L* %1").arg(std::lround(m_session.job().stock_here().colour.l))
            : !m_reading     ? QStringLiteral("–")
            : share <= 0     ? QStringLiteral("0")
                             : theme::percent(share, exact && step > 56 ? 1 : 0);
        painter.drawText(QRect(swatch.x(), 58, step - 4, 18), Qt::AlignHCenter | Qt::AlignVCenter, value);
    }
}

} // namespace bichrom
