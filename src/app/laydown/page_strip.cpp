#include "app/laydown/page_strip.h"

#include "app/services/picture.h"
#include "app/widgets/theme.h"

#include <QImage>
#include <QScrollBar>
#include <QSignalBlocker>

#include <algorithm>

namespace bichrom {

namespace {

constexpr int side = 56;         // pixels of a thumbnail's longer side
constexpr int most_pages = 2000; // beyond that the pages are chosen by number only
constexpr int made_role = Qt::UserRole;

Outcome<QImage> thumbnail(const Artwork &artwork, int page, const ColourSettings &colours,
                          const JobControl &control)
{
    const auto content = artwork.interpret(page, PageBox::Crop, colours, control);
    if (!content) {
        return content.error();
    }
    const auto view = OriginalView::make(*content, control);
    if (!view) {
        return view.error();
    }
    const double longest = std::max((*content)->width().value, (*content)->height().value);
    const Dpi dpi(2 * side * points_per_inch / std::max(longest, 1e-3)); // sharp on dense screens too
    const auto pixels = [&](Points length) {
        return std::max(1, static_cast<int>(std::lround(length.value * dpi.value / points_per_inch)));
    };
    const PixelRect rect = {0, 0, pixels((*content)->width()), pixels((*content)->height())};
    const auto picture = (*view)->render(rect, dpi);
    if (!picture) {
        return picture.error();
    }
    return picture_of(*picture, rect.width, rect.height)
        .scaled(side, side, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

} // namespace

PageStrip::PageStrip(Session &session, QWidget *parent) : QListWidget(parent), m_session(session)
{
    setObjectName(QStringLiteral("pageStrip"));
    setAccessibleName(tr("Pages"));
    setViewMode(QListView::IconMode);
    setFlow(QListView::LeftToRight);
    setWrapping(false);
    setMovement(QListView::Static);
    setIconSize({side, side});
    setGridSize({side + 12, side + 30});
    setFixedHeight(side + 36);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setStyleSheet(
        QStringLiteral("QListView { background: %1; border: 1px solid %2; font-size: 11px; }"
                       "QListView::item { padding: 1px; border: 2px solid transparent; }"
                       "QListView::item:selected { background: %3; color: %4; border: 2px solid %5; }")
            .arg(theme::card.name(), theme::line.name(), theme::field.name(), theme::text.name(),
                 theme::amber.name()));
    hide();
    connect(this, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0) {
            Q_EMIT pageChosen(row + 1);
        }
    });
    connect(horizontalScrollBar(), &QScrollBar::valueChanged, this, &PageStrip::makeNext);
    connect(&m_session, &Session::artworkChanged, this, &PageStrip::takeArtwork);
    connect(&m_session, &Session::pageChanged, this, &PageStrip::takePage);
}

void PageStrip::takeArtwork()
{
    m_making.cancel();
    m_artwork = m_session.opened().artwork;
    const int pages = m_artwork->page_count();
    const QSignalBlocker quiet(this);
    clear();
    setVisible(pages > 1 && pages <= most_pages);
    if (!isVisibleTo(parentWidget())) {
        return;
    }
    QImage blank(side, side, QImage::Format_ARGB32);
    blank.fill(Qt::transparent);
    const QIcon empty(QPixmap::fromImage(blank));
    for (int page = 1; page <= pages; ++page) {
        auto *item = new QListWidgetItem(empty, QString::number(page), this);
        item->setTextAlignment(Qt::AlignHCenter);
    }
    takePage();
    makeNext();
}

void PageStrip::takePage()
{
    const QSignalBlocker quiet(this);
    setCurrentRow(m_session.job().page - 1);
}

void PageStrip::resizeEvent(QResizeEvent *event)
{
    QListWidget::resizeEvent(event);
    makeNext();
}

void PageStrip::makeNext()
{
    if (m_running || !m_artwork || count() == 0) {
        return;
    }
    int next = -1;
    for (int row = 0; row < count() && next < 0; ++row) {
        if (!item(row)->data(made_role).toBool() &&
            visualItemRect(item(row)).intersects(viewport()->rect())) {
            next = row;
        }
    }
    if (next < 0) {
        return; // the rest when it is scrolled to
    }
    m_running = true;
    m_making = m_tasks.start(
        [artwork = m_artwork, next, colours = m_session.job().colours](const JobControl &control) {
            return thumbnail(*artwork, next + 1, colours, control);
        },
        [this, artwork = m_artwork, next](const Outcome<QImage> &picture) {
            m_running = false;
            if (artwork == m_artwork && next < count()) {
                item(next)->setData(made_role, true);
                if (picture) {
                    const QPixmap pixels = QPixmap::fromImage(*picture);
                    QIcon icon(pixels);
                    icon.addPixmap(pixels, QIcon::Selected); // as it is, not greyed
                    item(next)->setIcon(icon);
                } else {
                    item(next)->setToolTip(theme::text_of(picture.error().message()));
                }
            }
            makeNext();
        });
}

} // namespace bichrom
