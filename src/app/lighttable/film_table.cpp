#include "app/lighttable/film_table.h"

#include "app/lighttable/dot_words.h"
#include "app/services/film_layout.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QPushButton>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int head_height = 46;
constexpr int overview_side = 4000; ///< squares along the longer side
constexpr double largest_scale = 48;
const QColor clear_film(0xf4, 0xf4, 0xf2), black_film(0x18, 0x18, 0x17);

QRgb film_colour(int share)
{
    const auto mix = [&](int clear, int black) { return clear + (black - clear) * share / 255; };
    return qRgb(mix(clear_film.red(), black_film.red()), mix(clear_film.green(), black_film.green()),
                mix(clear_film.blue(), black_film.blue()));
}

QImage grey_picture(const Plane &share)
{
    QImage image(share.width, share.height, QImage::Format_Indexed8);
    QList<QRgb> table;
    for (int i = 0; i < 256; ++i) {
        table << film_colour(i);
    }
    image.setColorTable(table);
    for (int y = 0; y < share.height; ++y) {
        std::copy_n(share.row(y).data(), share.width, image.scanLine(y));
    }
    return image.convertToFormat(QImage::Format_RGB32);
}

QImage bit_picture(const Bitmap &bits)
{
    QImage image(bits.width, bits.height, QImage::Format_RGB32);
    const QRgb ink = film_colour(255), bare = film_colour(0);
    for (int y = 0; y < bits.height; ++y) {
        auto *row = reinterpret_cast<QRgb *>(image.scanLine(y));
        for (int x = 0; x < bits.width; ++x) {
            row[x] = bits.at(x, y) ? ink : bare;
        }
    }
    return image;
}

} // namespace

FilmTable::FilmTable(Session &session, QWidget *over) : QWidget(over), m_session(session)
{
    setObjectName(QStringLiteral("filmTable"));
    setAccessibleName(tr("Film as it will be exposed"));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::OpenHandCursor);
    m_head = new QWidget(this);
    m_head->setCursor(Qt::ArrowCursor);
    m_head->setAutoFillBackground(true);
    QPalette palette = m_head->palette();
    palette.setColor(QPalette::Window, theme::panel);
    m_head->setPalette(palette);
    auto *row = new QHBoxLayout(m_head);
    row->setContentsMargins(12, 4, 8, 4);
    auto *lines = new QVBoxLayout();
    lines->setSpacing(0);
    m_words = make_label({}, 12, QFont::DemiBold, false, m_head);
    m_words->setObjectName(QStringLiteral("filmWords"));
    m_facts = make_label({}, 11, QFont::Normal, true, m_head);
    m_facts->setObjectName(QStringLiteral("filmFacts"));
    for (QLabel *label : {m_words, m_facts}) {
        label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
        lines->addWidget(label);
    }
    row->addLayout(lines, 1);
    const auto button = [&](const char *name, const QString &text, const QString &tip, const auto &act) {
        QPushButton *made = make_small_button(name, text, tip, m_head);
        made->setFocusPolicy(Qt::NoFocus);
        connect(made, &QPushButton::clicked, this, act);
        row->addWidget(made);
    };
    button("filmBefore", tr("Before"), tr("The film before (Shift+Space)"), [this] { step(-1); });
    button("filmNext", tr("Next"), tr("The next film (Space)"), [this] { step(1); });
    button("filmFit", tr("Whole"), tr("The whole film (0)"), [this] { fit(); });
    button("filmClose", tr("Artwork"), tr("Back to the artwork (Esc)"), [this] { closeTable(); });
    m_resting.setSingleShot(true);
    m_resting.setInterval(80);
    connect(&m_resting, &QTimer::timeout, this, &FilmTable::lookCloser);
    connect(&m_session, &Session::jobChanged, this, [this] {
        if (m_isOpen) {
            makeFilm();
        }
    });
    connect(&m_session, &Session::artworkChanged, this, &FilmTable::closeTable);
    connect(&m_session, &Session::pageChanged, this, [this] {
        if (m_isOpen) {
            makeFilm();
        }
    });
    over->installEventFilter(this);
    hide();
}

void FilmTable::open(std::vector<std::string> inks, const std::string &first)
{
    if (inks.empty() || !m_session.isOpen()) {
        return;
    }
    m_inks = std::move(inks);
    const auto found = std::find(m_inks.begin(), m_inks.end(), first);
    m_number = found == m_inks.end() ? 0 : static_cast<std::size_t>(found - m_inks.begin());
    m_isOpen = true;
    m_fitted = true;
    setGeometry(parentWidget()->rect());
    show();
    raise();
    setFocus();
    makeFilm();
}

void FilmTable::closeTable()
{
    if (!m_isOpen) {
        return;
    }
    m_isOpen = false;
    m_running.cancel();
    m_reading.cancel();
    m_film.reset();
    m_close = m_scaled = {};
    m_scaledOf.reset();
    hide();
    Q_EMIT closed();
}

std::string FilmTable::ink() const
{
    return m_number < m_inks.size() ? m_inks[m_number] : std::string();
}

void FilmTable::step(int by)
{
    if (!m_isOpen || m_inks.size() < 2) {
        return;
    }
    const auto count = static_cast<int>(m_inks.size());
    m_number = static_cast<std::size_t>((static_cast<int>(m_number) + by % count + count) % count);
    makeFilm();
}

FilmTable::Made FilmTable::make(const OpenedJob &opened, const std::string &ink, const LabelText &label,
                                const JobControl &control)
{
    auto folder = ScratchFolder::make();
    if (!folder) {
        return folder.error();
    }
    auto film = std::make_shared<Film>();
    film->folder = std::make_unique<ScratchFolder>(std::move(*folder));
    OpenedJob one = opened;
    one.job.film.format = FilmFormat::Tiff; // its pixels are those of every format
    OutputRequest request;
    request.folder = film->folder->path() / "film";
    request.inks = {ink};
    request.blank_too = true;
    request.label = label;
    auto made = write_films(one, request, control);
    if (!made) {
        return made.error();
    }
    film->plate = std::move(made->plates.front());
    film->path = request.folder / film->plate.file;
    auto overview = read_film_overview(film->path, overview_side, control);
    if (!overview) {
        return overview.error();
    }
    film->overview = std::move(*overview);
    film->small = grey_picture(film->overview.share);
    return film;
}

void FilmTable::makeFilm()
{
    m_running.cancel();
    m_reading.cancel();
    m_making = true;
    m_measured = {};
    m_measuredWords.clear();
    m_fault.clear();
    m_close = {};
    describe();
    update();
    const std::string wanted = ink();
    m_running = m_tasks.start(
        [opened = m_session.opened(), wanted, label = film_label_text(m_session.artwork())](
            const JobControl &control) { return make(opened, wanted, label, control); },
        [this, wanted](Made made) {
            if (!m_isOpen || wanted != ink() || (!made && made.error().code == ErrorCode::Cancelled)) {
                return;
            }
            const QSize before = m_film ? QSize(m_film->overview.width, m_film->overview.height) : QSize();
            m_making = false;
            m_film = made ? *made : nullptr;
            m_fault = made ? QString() : theme::text_of(made.error().message());
            // Films of a job lie at the same place: what was looked at is seen on the next one too.
            if (m_film && (m_fitted || before != QSize(m_film->overview.width, m_film->overview.height))) {
                fit();
            }
            describe();
            m_resting.start();
            update();
        },
        [this](qint64 done, qint64 total) {
            if (m_making && total > 0) {
                m_facts->setText(tr("being made: %1 %").arg(100 * done / total));
            }
        });
}

void FilmTable::describe()
{
    const QString which =
        tr("Film %1 of %2: %3").arg(m_number + 1).arg(m_inks.size()).arg(theme::text_of(ink()));
    m_words->setText(which);
    m_words->setToolTip(which);
    m_facts->setText(m_making ? tr("being made …") : QString());
    if (m_making || !m_film) {
        return;
    }
    const FilmOptions &film = m_session.job().film;
    const FilmOverview &seen = m_film->overview;
    const auto mm = [&](int pixels) {
        return theme::text_of(format_number(pixels * millimetres_per_inch / seen.resolution.value, 1));
    };
    const QString text =
        tr("%1 × %2 mm, %3 dpi, %4, %5, %6 of the art inked")
            .arg(mm(seen.width), mm(seen.height), theme::text_of(format_number(seen.resolution.value, 0)),
                 film.negative ? tr("negative") : tr("positive"),
                 film.mirror ? tr("wrong-reading") : tr("right-reading"),
                 theme::percent(m_film->plate.coverage));
    m_facts->setText(m_measuredWords.isEmpty() ? text : tr("there: %1").arg(m_measuredWords));
    m_facts->setToolTip(text + tr("\nA click reads the film there, 8 × 8 mm."));
}

QRectF FilmTable::filmRect() const
{
    return m_film ? QRectF(m_origin, QSizeF(m_film->overview.width, m_film->overview.height) * m_scale)
                  : QRectF();
}

void FilmTable::fit()
{
    m_fitted = true;
    if (!m_film) {
        return;
    }
    constexpr double margin = 18;
    const double ratio = devicePixelRatioF();
    const QRectF room(margin * ratio, (head_height + margin) * ratio, (width() - 2 * margin) * ratio,
                      (height() - head_height - 2 * margin) * ratio);
    m_scale = std::max(
        1e-4, std::min(room.width() / m_film->overview.width, room.height() / m_film->overview.height));
    const QSizeF size = QSizeF(m_film->overview.width, m_film->overview.height) * m_scale;
    m_origin = {std::round(room.center().x() - size.width() / 2),
                std::round(room.center().y() - size.height() / 2)};
    m_resting.start();
    update();
}

void FilmTable::zoomTo(double scale, QPointF at)
{
    if (!m_film) {
        return;
    }
    m_fitted = false;
    const QPointF pixel = at * devicePixelRatioF();
    const double to = std::clamp(scale, 0.002, largest_scale);
    m_origin = pixel - (pixel - m_origin) * (to / m_scale);
    m_origin = {std::round(m_origin.x()), std::round(m_origin.y())};
    m_scale = to;
    m_resting.start();
    update();
}

/// Reads the film's own pixels where the overview would be enlarged.
void FilmTable::lookCloser()
{
    if (!m_film || m_making || m_scale * m_film->overview.square <= 1.0) {
        return;
    }
    const double ratio = devicePixelRatioF();
    const QRectF table(0, 0, width() * ratio, height() * ratio);
    const QRectF seen = table.intersected(filmRect()).translated(-m_origin);
    if (seen.isEmpty()) {
        return;
    }
    const QRect film(0, 0, m_film->overview.width, m_film->overview.height);
    const QRect area = QRectF(seen.topLeft() / m_scale, seen.size() / m_scale)
                           .toAlignedRect()
                           .adjusted(-1, -1, 1, 1)
                           .intersected(film);
    if (!m_close.isNull() && m_closeArea.contains(area)) {
        return;
    }
    m_reading.cancel();
    const double mm = millimetres_per_inch / m_film->overview.resolution.value;
    m_reading = m_tasks.start(
        [film = m_film, area, mm](const JobControl &control) {
            const auto read = read_film(
                film->path, {area.x() * mm, area.y() * mm, area.width() * mm, area.height() * mm}, control);
            return read ? bit_picture(read->bits) : QImage();
        },
        [this, area, film = m_film](QImage picture) {
            if (film == m_film && picture.size() == area.size()) {
                m_close = std::move(picture);
                m_closeArea = area;
                update();
            }
        });
}

void FilmTable::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme::surround);
    if (!m_film) {
        painter.setPen(theme::text);
        painter.setFont(theme::font(13));
        painter.drawText(rect().adjusted(40, head_height + 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap,
                         m_fault.isEmpty() ? tr("The film is being made.") : m_fault);
        return;
    }
    const double ratio = devicePixelRatioF();
    painter.scale(1 / ratio, 1 / ratio);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, true);
    const double square = m_film->overview.square * m_scale;
    const QSizeF size = QSizeF(m_film->small.size()) * square;
    if (square < 0.7) { // averaged, so that dots make no pattern that is not on the film
        if (m_scaledOf != m_film || m_scaled.size() != size.toSize()) {
            m_scaled = m_film->small.scaled(size.toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
            m_scaledOf = m_film;
        }
        painter.drawImage(m_origin, m_scaled);
    } else {
        painter.drawImage(QRectF(m_origin, size), m_film->small);
    }
    if (!m_close.isNull() && square > 1.0) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform, m_scale < 1);
        painter.drawImage(
            QRectF(m_origin + QPointF(m_closeArea.topLeft()) * m_scale, QSizeF(m_closeArea.size()) * m_scale),
            m_close);
    }
    if (!m_measured.isEmpty() && !m_making) {
        const double pixels = m_scale * m_film->overview.resolution.value / millimetres_per_inch;
        const QRectF frame(m_origin + m_measured.topLeft() * pixels, m_measured.size() * pixels);
        painter.setPen(QPen(theme::text, 3));
        painter.drawRect(frame);
        painter.setPen(QPen(theme::amber, 1));
        painter.drawRect(frame);
    }
    if (m_making) {
        painter.fillRect(filmRect(),
                         QColor(theme::surround.red(), theme::surround.green(), theme::surround.blue(), 120));
    }
}

void FilmTable::resizeEvent(QResizeEvent *)
{
    m_head->setGeometry(0, 0, width(), head_height);
    if (m_fitted) {
        fit();
    }
    m_resting.start();
}

void FilmTable::wheelEvent(QWheelEvent *event)
{
    zoomTo(m_scale * std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
}

void FilmTable::mousePressEvent(QMouseEvent *event)
{
    m_pressed = m_dragged = event->position();
    setFocus();
}

void FilmTable::mouseMoveEvent(QMouseEvent *event)
{
    if ((event->buttons() & Qt::LeftButton) != 0 && m_film) {
        const QPointF by = (event->position() - m_dragged) * devicePixelRatioF();
        m_origin += QPointF(std::round(by.x()), std::round(by.y()));
        m_dragged = event->position();
        m_fitted = false;
        m_resting.start();
        update();
    }
}

void FilmTable::mouseReleaseEvent(QMouseEvent *event)
{
    constexpr double still = 3; // pixels: a click, no drag
    const QPointF by = event->position() - m_pressed;
    if (event->button() == Qt::LeftButton && std::hypot(by.x(), by.y()) < still) {
        measureAt(event->position());
    }
}

void FilmTable::measureAt(QPointF at)
{
    if (!m_film || m_making) {
        return;
    }
    constexpr double side = 8; // mm: some hundred dots of a usual ruling
    const double mm = millimetres_per_inch / m_film->overview.resolution.value;
    const QPointF middle = (at * devicePixelRatioF() - m_origin) / m_scale * mm;
    const QRectF film(0, 0, m_film->overview.width * mm, m_film->overview.height * mm);
    m_measured = QRectF(middle.x() - side / 2, middle.y() - side / 2, side, side).intersected(film);
    if (!film.contains(middle)) {
        m_measured = {};
        m_measuredWords.clear();
        describe();
        update();
        return;
    }
    m_measuredWords = tr("being read …");
    describe();
    update();
    m_measuring.cancel();
    m_measuring = m_tasks.start(
        [film_file = m_film, area = m_measured](const JobControl &control) -> Outcome<DotReading> {
            const auto part =
                read_film(film_file->path, {area.x(), area.y(), area.width(), area.height()}, control);
            return part ? Outcome<DotReading>(read_dots(part->bits, part->resolution))
                        : Outcome<DotReading>(part.error());
        },
        [this, film_file = m_film](const Outcome<DotReading> &reading) {
            if (film_file != m_film || (!reading && reading.error().code == ErrorCode::Cancelled)) {
                return;
            }
            m_measuredWords = reading ? dot_words(*reading) : theme::text_of(reading.error().message());
            describe();
        });
}

/// Between film pixels as they are and the whole film.
void FilmTable::mouseDoubleClickEvent(QMouseEvent *event)
{
    m_scale < 1 ? zoomTo(1, event->position()) : fit();
}

void FilmTable::keyPressEvent(QKeyEvent *event)
{
    const QPointF middle(width() / 2.0, height() / 2.0);
    constexpr double pan = 60;
    const auto move = [&](double x, double y) {
        m_origin += QPointF(x, y);
        m_fitted = false;
        m_resting.start();
        update();
    };
    switch (event->key()) {
    case Qt::Key_Space:
        step((event->modifiers() & Qt::ShiftModifier) != 0 ? -1 : 1);
        return;
    case Qt::Key_Escape:
        closeTable();
        return;
    case Qt::Key_0:
        fit();
        return;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        zoomTo(m_scale * 1.5, middle);
        return;
    case Qt::Key_Minus:
        zoomTo(m_scale / 1.5, middle);
        return;
    case Qt::Key_Left:
        move(pan, 0);
        return;
    case Qt::Key_Right:
        move(-pan, 0);
        return;
    case Qt::Key_Up:
        move(0, pan);
        return;
    case Qt::Key_Down:
        move(0, -pan);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool FilmTable::eventFilter(QObject *watched, QEvent *event)
{
    if (watched != parentWidget() || !m_isOpen) {
        return QWidget::eventFilter(watched, event);
    }
    if (event->type() == QEvent::Resize) {
        setGeometry(parentWidget()->rect());
    }
    // Keys that go home to the light table are the film's while it lies on it; pages are turned by the bench.
    if (event->type() == QEvent::KeyPress) {
        auto *key = static_cast<QKeyEvent *>(event);
        if (key->key() != Qt::Key_PageUp && key->key() != Qt::Key_PageDown &&
            (key->modifiers() & Qt::ControlModifier) == 0) {
            keyPressEvent(key);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace bichrom
