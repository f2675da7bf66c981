#include "app/worktops/ink/artworks_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/ink/pile_picture.h"
#include "app/worktops/layer_table.h"
#include "core/artwork/page_boxes.h"

#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>

#include <algorithm>

namespace bichrom {

namespace {

constexpr int id_role = Qt::UserRole;

QPushButton *make_button(const QString &text, const char *name, QWidget *parent)
{
    auto *button = new QPushButton(text, parent);
    button->setObjectName(QLatin1String(name));
    return button;
}

} // namespace

ArtworksPanel::ArtworksPanel(Session &session, Router &router, ViewState &view, Spotlight &spotlight,
                             Prompts &prompts, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view), m_spotlight(spotlight), m_prompts(prompts)
{
    setObjectName(QStringLiteral("artworksPanel"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 10);
    column->setSpacing(6);
    column->addWidget(
        make_label(tr("Files of this job, the uppermost first"), 11, QFont::Normal, true, this));
    m_list = new QListWidget(this);
    m_list->setObjectName(QStringLiteral("artworks"));
    m_list->setAccessibleName(tr("Artworks"));
    m_list->setStyleSheet(theme::listStyle());
    m_list->setFont(theme::font(11));
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_list, 1);
    auto *order = new QHBoxLayout();
    order->setSpacing(4);
    m_place = make_button(tr("Place a file …"), "placeArtwork", this);
    m_place->setProperty("main", true);
    m_up = make_button(tr("Up"), "artworkUp", this);
    m_down = make_button(tr("Down"), "artworkDown", this);
    order->addWidget(m_place, 1);
    order->addWidget(m_up);
    order->addWidget(m_down);
    column->addLayout(order);
    m_picture = new PilePicture(this);
    m_picture->setAccessibleName(tr("The page and what is placed on it"));
    m_picture->setToolTip(tr("Drag a file to move it, here or on the light table."));
    column->addWidget(m_picture, 2);
    auto *layers = new LayerTable(session, router, this);
    auto *room = new QScrollArea(this);
    room->setObjectName(QStringLiteral("layers"));
    room->setWidgetResizable(true);
    room->setFrameShape(QFrame::NoFrame);
    room->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    room->setWidget(layers);
    const auto show_layers = [this, room, layers] {
        constexpr int most = 150; // pixels; the picture of the page has the rest
        room->setFixedHeight(std::min(layers->sizeHint().height(), most));
        room->setVisible(m_session.isOpen() && !m_session.artwork().layers().empty());
    };
    connect(&m_session, &Session::artworkChanged, this, show_layers);
    show_layers();
    column->addWidget(room);
    buildFields(column);

    connect(m_list, &QListWidget::currentRowChanged, this, [this] {
        refreshFields();
        refreshPicture();
        light();
    });
    connect(m_place, &QPushButton::clicked, this, &ArtworksPanel::place);
    connect(m_up, &QPushButton::clicked, this, [this] { move(1); });
    connect(m_down, &QPushButton::clicked, this, [this] { move(-1); });
    connect(m_picture, &PilePicture::chosen, this, &ArtworksPanel::choose);
    connect(m_picture, &PilePicture::moved, this, &ArtworksPanel::drop);
    connect(&m_session, &Session::jobChanged, this, &ArtworksPanel::refresh);
    connect(&m_session, &Session::pageChanged, this, &ArtworksPanel::refresh);
    connect(&m_session, &Session::loadingChanged, this, &ArtworksPanel::refreshFields);
    refresh();
}

void ArtworksPanel::buildFields(QVBoxLayout *column)
{
    m_fields = new QWidget(this);
    auto *grid = new QGridLayout(m_fields);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    const auto add = [&](int row, int place, const QString &label, NumberField *field, const char *name) {
        field->setObjectName(QLatin1String(name));
        field->setAccessibleName(label);
        grid->addWidget(make_label(label, 11, QFont::Normal, true, m_fields), row, place * 2);
        grid->addWidget(field, row, place * 2 + 1);
        return field;
    };
    m_x = add(0, 0, tr("from left"), new NumberField(tr("mm"), 2, NumberField::length(-20000, 20000), this),
              "placedX");
    m_y = add(0, 1, tr("from top"), new NumberField(tr("mm"), 2, NumberField::length(-20000, 20000), this),
              "placedY");
    m_width = add(1, 0, tr("width"), new NumberField(tr("mm"), 2, NumberField::length(0.1, 20000), this),
                  "placedWidth");
    m_scale = add(1, 1, tr("scale"), new NumberField(tr("%"), 2, NumberField::plain(tr("%"), 1, 10000), this),
                  "placedScale");
    m_page =
        add(2, 0, tr("page"), new NumberField({}, 0, NumberField::plain({}, 1, 100000), this), "placedPage");
    m_turn = new QComboBox(m_fields);
    m_turn->setObjectName(QStringLiteral("placedTurn"));
    m_turn->setAccessibleName(tr("Turned clockwise by"));
    m_turn->addItems({tr("0°"), tr("90°"), tr("180°"), tr("270°")});
    grid->addWidget(make_label(tr("turned"), 11, QFont::Normal, true, m_fields), 2, 2);
    grid->addWidget(m_turn, 2, 3);
    m_meeting = new QComboBox(m_fields);
    m_meeting->setObjectName(QStringLiteral("placedMeeting"));
    m_meeting->setAccessibleName(tr("Where it meets what is under it"));
    m_meeting->addItems({tr("knocks out what is under it"), tr("prints over what is under it"),
                         tr("does not print: an area for recipes")});
    grid->addWidget(m_meeting, 3, 0, 1, 4);
    column->addWidget(m_fields);
    auto *ends = new QHBoxLayout();
    ends->setSpacing(4);
    m_replace = make_button(tr("Replace the file …"), "replacePlaced", this);
    m_remove = make_button(tr("Remove"), "removePlaced", this);
    ends->addWidget(m_replace, 1);
    ends->addWidget(m_remove);
    column->addLayout(ends);

    connect(m_x, &NumberField::valueEntered, this, [this](double mm) {
        edit(tr("Move an artwork"), QStringLiteral("move"), [mm](PlacedArtwork &one) { one.x = mm; });
    });
    connect(m_y, &NumberField::valueEntered, this, [this](double mm) {
        edit(tr("Move an artwork"), QStringLiteral("move"), [mm](PlacedArtwork &one) { one.y = mm; });
    });
    connect(m_scale, &NumberField::valueEntered, this, [this](double percent) {
        edit(tr("Scale an artwork"), QStringLiteral("scale"),
             [percent](PlacedArtwork &one) { one.scale = percent / 100; });
    });
    connect(m_width, &NumberField::valueEntered, this, [this](double mm) {
        edit(tr("Scale an artwork"), QStringLiteral("scale"), [mm](PlacedArtwork &one) {
            if (const auto size = placed_size(one); size && size->first > 0) {
                one.scale = std::clamp(one.scale * mm / size->first, 0.01, 100.0);
            }
        });
    });
    connect(m_page, &NumberField::valueEntered, this, [this](double page) {
        edit(tr("Another page of an artwork"), {},
             [page](PlacedArtwork &one) { one.page = static_cast<int>(page); });
    });
    connect(m_turn, &QComboBox::activated, this, [this](int turn) {
        edit(tr("Turn an artwork"), {}, [turn](PlacedArtwork &one) { one.turn = turn; });
    });
    connect(m_meeting, &QComboBox::activated, this, [this](int row) {
        edit(row == 2   ? tr("An artwork is only an area")
             : row == 1 ? tr("An artwork prints over")
                        : tr("An artwork knocks out"),
             {}, [row](PlacedArtwork &one) {
                 one.overprints = row == 1;
                 one.prints = row != 2;
             });
    });
    connect(m_replace, &QPushButton::clicked, this, &ArtworksPanel::replace);
    connect(m_remove, &QPushButton::clicked, this, &ArtworksPanel::remove);
}

int ArtworksPanel::chosen() const
{
    const QListWidgetItem *item = m_list->currentItem();
    return item == nullptr ? -1 : item->data(id_role).toInt();
}

const PlacedArtwork *ArtworksPanel::chosenArtwork() const
{
    if (!m_session.isOpen()) {
        return nullptr;
    }
    return m_session.job().placements.find(chosen());
}

QRectF ArtworksPanel::areaOf(const PlacedArtwork &placed) const
{
    const auto size = placed_size(placed);
    return size ? QRectF(placed.x, placed.y, size->first, size->second) : QRectF();
}

void ArtworksPanel::refresh()
{
    int before = chosen();
    const auto newest = [](const Placements &placements) {
        int id = 0;
        for (const PlacedArtwork &one : placements.artworks) {
            id = std::max(id, one.id);
        }
        return id;
    };
    const int newest_now = m_session.isOpen() ? newest(m_session.job().placements) : 0;
    if (newest_now > m_newest) { // what was just placed is what the artist goes on with
        before = newest_now;
    }
    m_newest = newest_now;
    const QSignalBlocker quiet(m_list);
    m_list->clear();
    if (m_session.isOpen()) {
        const Placements &placements = m_session.job().placements;
        const auto add = [this](int id, const QString &text) {
            auto *item = new QListWidgetItem(text, m_list);
            item->setData(id_role, id);
        };
        const auto add_first = [&] {
            add(0, tr("%1\nthe first file")
                       .arg(QFileInfo(theme::text_of(m_session.artwork().name())).fileName()));
        };
        for (std::size_t i = placements.artworks.size(); i-- > 0;) {
            const PlacedArtwork &one = placements.artworks[i];
            if (i + 1 == placements.below) {
                add_first();
            }
            QString about = !one.prints      ? tr("only an area")
                            : one.overprints ? tr("prints over")
                                             : tr("knocks out");
            if (one.on_page != m_session.job().page) {
                about = tr("on page %1").arg(one.on_page);
            }
            add(one.id,
                tr("%1  %2\n%3, %4 %")
                    .arg(one.id)
                    .arg(theme::text_of(one.name), about, theme::text_of(format_number(one.scale * 100, 1))));
        }
        if (placements.below == 0) {
            add_first();
        }
        int row = 0;
        for (int i = 0; i < m_list->count(); ++i) {
            row = m_list->item(i)->data(id_role).toInt() == before ? i : row;
        }
        m_list->setCurrentRow(row);
    }
    refreshFields();
    refreshPicture();
}

void ArtworksPanel::refreshFields()
{
    const PlacedArtwork *one = chosenArtwork();
    const bool ready = m_session.isOpen() && !m_session.isLoading();
    m_place->setEnabled(ready);
    // What is loading would be left behind by an edit made meanwhile.
    m_fields->setEnabled(ready && one != nullptr);
    m_picture->setEnabled(ready);
    m_replace->setEnabled(ready && chosen() >= 0);
    m_remove->setEnabled(ready && one != nullptr);
    m_up->setEnabled(ready && m_list->currentRow() > 0);
    m_down->setEnabled(ready && m_list->currentRow() + 1 < m_list->count());
    refreshMovable();
    if (one == nullptr) {
        return;
    }
    m_x->setValue(one->x);
    m_y->setValue(one->y);
    m_width->setValue(areaOf(*one).width());
    m_scale->setValue(one->scale * 100);
    m_page->setValue(one->page);
    m_page->setEnabled(one->original->page_count() > 1);
    m_turn->setCurrentIndex(one->turn);
    m_meeting->setCurrentIndex(!one->prints ? 2 : one->overprints ? 1 : 0);
}

void ArtworksPanel::refreshPicture()
{
    if (!m_session.isOpen()) {
        m_picture->show({}, {}, {}, 0);
        return;
    }
    const PageInfo &info = m_session.page()->info;
    const auto rect = [](const Rect &r) { return QRectF(r.x, r.y, r.width, r.height); };
    std::vector<PilePicture::Sheet> sheets;
    for (const PlacedArtwork &one : m_session.job().placements.artworks) {
        if (one.on_page == m_session.job().page) {
            sheets.push_back({one.id, areaOf(one)});
        }
    }
    m_picture->show(rect(box_within(info, PageBox::Media, PageBox::Media)),
                    rect(box_within(info, PageBox::Trim, PageBox::Media)), std::move(sheets), chosen());
}

void ArtworksPanel::place()
{
    const QString path =
        m_prompts.askOpenFile(FileUse::Artwork, QSettings().value(QStringLiteral("folder")).toString());
    if (!path.isEmpty()) {
        m_session.placeArtwork(path);
    }
}

void ArtworksPanel::replace()
{
    const QString path =
        m_prompts.askOpenFile(FileUse::Artwork, QSettings().value(QStringLiteral("folder")).toString());
    if (!path.isEmpty()) {
        m_session.replaceArtwork(path, chosen());
    }
}

void ArtworksPanel::remove()
{
    Job next = m_session.job();
    auto &all = next.placements.artworks;
    const int id = chosen();
    const auto found =
        std::find_if(all.begin(), all.end(), [id](const PlacedArtwork &one) { return one.id == id; });
    if (found == all.end()) {
        return;
    }
    next.placements.below -= found - all.begin() < static_cast<std::ptrdiff_t>(next.placements.below) ? 1 : 0;
    all.erase(found);
    m_session.changeReading(next, tr("Remove an artwork")); // its routes go with it
}

void ArtworksPanel::move(int by)
{
    Placements placements = m_session.job().placements;
    auto &all = placements.artworks;
    const auto below = static_cast<std::ptrdiff_t>(placements.below);
    if (chosen() == 0) { // the first file itself
        placements.below = static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(below + by, 0, static_cast<std::ptrdiff_t>(all.size())));
    } else {
        const auto found = std::find_if(all.begin(), all.end(),
                                        [this](const PlacedArtwork &one) { return one.id == chosen(); });
        const std::ptrdiff_t at = found - all.begin();
        if (by > 0 && at + 1 == below) {
            --placements.below; // over the first file
        } else if (by < 0 && at == below) {
            ++placements.below; // under it
        } else if (at + by >= 0 && at + by < static_cast<std::ptrdiff_t>(all.size())) {
            std::swap(all[static_cast<std::size_t>(at)], all[static_cast<std::size_t>(at + by)]);
        }
    }
    m_session.changePlacements(placements, tr("Another order of artworks"));
}

void ArtworksPanel::choose(int id)
{
    for (int i = 0; i < m_list->count(); ++i) {
        if (m_list->item(i)->data(id_role).toInt() == id) {
            m_list->setCurrentRow(i);
        }
    }
}

void ArtworksPanel::drop(int id, QPointF top_left)
{
    choose(id);
    edit(tr("Move an artwork"), QStringLiteral("move"), [top_left](PlacedArtwork &one) {
        one.x = top_left.x();
        one.y = top_left.y();
    });
}

void ArtworksPanel::refreshMovable()
{
    const PlacedArtwork *one = chosenArtwork();
    const bool movable =
        isVisible() && one != nullptr && m_fields->isEnabled() && one->on_page == m_session.job().page;
    const QRectF area = movable ? areaOf(*one) : QRectF();
    m_view.setMovable(movable ? m_session.shownArea({area.x(), area.y(), area.width(), area.height()})
                              : QRectF());
}

void ArtworksPanel::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    refreshMovable();
}

void ArtworksPanel::hideEvent(QHideEvent *event)
{
    QWidget::hideEvent(event);
    m_view.setMovable({});
}

void ArtworksPanel::slid(QPointF mm, bool released)
{
    const PlacedArtwork *one = chosenArtwork();
    if (one == nullptr || m_session.isLoading()) {
        return;
    }
    if (released) {
        drop(one->id, areaOf(*one).topLeft() + mm);
        return;
    }
    const QString left = theme::text_of(format_number(one->x + mm.x(), 1));
    const QString top = theme::text_of(format_number(one->y + mm.y(), 1));
    m_spotlight.light({m_view.movable().translated(mm)}, 0,
                      tr("%1 mm from left, %2 mm from top").arg(left, top), -1, false);
}

void ArtworksPanel::light()
{
    const PlacedArtwork *one = chosenArtwork();
    if (one == nullptr || one->on_page != m_session.job().page) {
        m_spotlight.clear();
        return;
    }
    const QRectF area = areaOf(*one);
    m_spotlight.light({m_session.shownArea({area.x(), area.y(), area.width(), area.height()})}, 0,
                      theme::text_of(one->name), -1, false);
}

void ArtworksPanel::edit(const QString &text, const QString &key,
                         const std::function<void(PlacedArtwork &)> &change)
{
    Placements placements = m_session.job().placements;
    const int id = chosen();
    for (PlacedArtwork &one : placements.artworks) {
        if (one.id == id) {
            change(one);
        }
    }
    m_session.changePlacements(placements, text, key.isEmpty() ? key : key + QStringLiteral(" %1").arg(id));
}

} // namespace bichrom
