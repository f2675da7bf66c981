#include "app/worktops/ink/pictures_panel.h"

#include "app/services/picture.h"
#include "app/widgets/controls.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/swatch.h"
#include "app/widgets/theme.h"
#include "app/worktops/ink/picture_inks.h"
#include "core/job/picture_split.h"
#include "core/page/picture_pixels.h"
#include "core/separate/separate_job.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>

#include <algorithm>
#include <cmath>
#include <utility>

namespace bichrom {

namespace {

constexpr int object_role = Qt::UserRole;
constexpr QSize thumbnail(56, 40);

QColor colour_of(const PaletteTarget &target)
{
    return {target.rgb[0], target.rgb[1], target.rgb[2]};
}

/// A picture of the part of the page where an object lies.
QImage make_thumbnail(const OriginalView &original, const Rect &bounds, double ratio)
{
    if (!(bounds.width > 0 && bounds.height > 0)) {
        return {};
    }
    const double dpi =
        std::min(thumbnail.width() * ratio / bounds.width, thumbnail.height() * ratio / bounds.height) *
        points_per_inch;
    const double scale = dpi / points_per_inch;
    const PixelRect rect = {static_cast<int>(std::floor(bounds.x * scale)),
                            static_cast<int>(std::floor(bounds.y * scale)),
                            std::max(1, static_cast<int>(std::lround(bounds.width * scale))),
                            std::max(1, static_cast<int>(std::lround(bounds.height * scale)))};
    const auto pixels = original.render(rect, Dpi(dpi));
    if (!pixels) {
        return {};
    }
    return picture_of(*pixels, rect.width, rect.height);
}

/// Takes an object out of a route of \p job, and the route away with its last.
void leave(Job &job, const Route &route, const ObjectMark &object)
{
    const auto found = std::find(job.routes.begin(), job.routes.end(), route);
    if (found == job.routes.end()) {
        return;
    }
    std::erase_if(found->objects, [&](const ObjectMark &one) {
        return one.page == object.page && one.index == object.index;
    });
    if (found->objects.empty()) {
        job.routes.erase(found);
    }
}

} // namespace

PicturesPanel::PicturesPanel(Session &session, QWidget *parent) : QWidget(parent), m_session(session)
{
    setObjectName(QStringLiteral("picturesPanel"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 10);
    column->setSpacing(6);
    m_pictures = new QListWidget(this);
    m_pictures->setObjectName(QStringLiteral("pictureList"));
    m_pictures->setAccessibleName(tr("Pictures of this page"));
    m_pictures->setIconSize(thumbnail);
    m_pictures->setWordWrap(true);
    m_pictures->setStyleSheet(theme::listStyle());
    m_pictures->setFont(theme::font(11));
    m_pictures->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_pictures->setFixedHeight(128);
    column->addWidget(m_pictures);
    m_treatment = new QComboBox(this);
    m_treatment->setObjectName(QStringLiteral("pictureTreatment"));
    m_treatment->setAccessibleName(tr("What the picture becomes"));
    m_treatment->addItems({tr("Prints as it is"), tr("Prints in process inks"), tr("A tint of one ink"),
                           tr("Two inks by their curves"), tr("Several inks, solved together"),
                           tr("Flat artwork: its colours apart"), tr("Does not print")});
    auto *treat_row = new QHBoxLayout();
    treat_row->addWidget(m_treatment, 1);
    QPushButton *best =
        make_small_button("chooseInks", tr("Best inks …"),
                          tr("Painted artwork in the inks of the book that print it best on this "
                             "stock"),
                          this);
    connect(best, &QPushButton::clicked, this, &PicturesPanel::inksWanted);
    treat_row->addWidget(best);
    column->addLayout(treat_row);
    m_ink = make_label({}, 11, QFont::Normal, true, this);
    m_ink->setObjectName(QStringLiteral("pictureInk"));
    m_ink->setWordWrap(true);
    m_ink->setMinimumHeight(60); // of four lines, so that what is below stays where it is
    m_ink->setAlignment(Qt::AlignTop);
    column->addWidget(m_ink);
    m_settings = new QStackedWidget(this);
    m_settings->addWidget(new QWidget(m_settings));
    m_settings->addWidget(buildInks());
    m_settings->addWidget(buildFlat());
    m_black = new BlackChoice(m_settings);
    m_settings->addWidget(m_black);
    m_several = new InkChoice(m_settings);
    m_settings->addWidget(m_several);
    connect(m_black, &BlackChoice::chosen, this, [this](const BlackGeneration &black) {
        Route route = newRoute();
        route.to = RouteTo::Process;
        route.black = black;
        apply(std::move(route), tr("Picture's black"), QStringLiteral("black %1").arg(chosen()));
    });
    connect(m_several, &InkChoice::chosen, this,
            [this](const std::vector<std::string> &inks) { separate(inks); });
    connect(m_several, &InkChoice::controlled, this, &PicturesPanel::control);
    connect(m_several, &InkChoice::dotsChosen, this, [this](const IndexDots &dots) {
        if (const Route *own = ownRoute(); own != nullptr && own->separated) {
            const Job &job = m_session.job();
            const auto number = static_cast<std::size_t>(own - job.routes.data());
            m_session.change(with_dots(job, number, dots),
                             dots.wanted() ? tr("Picture in square dots") : tr("Picture in tones"),
                             QStringLiteral("dots %1").arg(chosen()));
        }
    });
    column->addWidget(m_settings, 1);
    m_state = make_label({}, 11, QFont::Normal, true, this);
    m_state->setObjectName(QStringLiteral("pictureState"));
    m_state->setWordWrap(true);
    m_state->setMinimumHeight(46);
    m_state->setAlignment(Qt::AlignTop);
    column->addWidget(m_state);

    connect(m_pictures, &QListWidget::currentRowChanged, this, &PicturesPanel::refreshTreatment);
    connect(m_treatment, &QComboBox::activated, this,
            [this](int index) { treat(static_cast<Treatment>(index)); });
    connect(&m_session, &Session::pageChanged, this, [this] {
        m_inkBefore.clear();
        refreshPictures();
        refresh();
    });
    connect(&m_session, &Session::jobChanged, this, &PicturesPanel::refresh);
    connect(&m_session, &Session::separationProgress, this, [this](qint64 done, qint64 total) {
        m_state->setText(
            tr("Working out the inks: %1. Undo stops it.")
                .arg(theme::percent(
                    static_cast<double>(done) / static_cast<double>(std::max<qint64>(1, total)), 0)));
    });
    connect(&m_session, &Session::platesChanged, this, [this] {
        showSeparation();
        measureInk();
    });
    refreshPictures();
    refresh();
}

PicturesPanel::InkRow PicturesPanel::makeInkRow(const QString &name, QVBoxLayout *column)
{
    InkRow row{};
    row.widget = new QWidget(this);
    auto *box = new QVBoxLayout(row.widget);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    auto *top = new QHBoxLayout();
    top->setSpacing(4);
    row.ink = new QComboBox(row.widget);
    row.ink->setObjectName(name + QStringLiteral("Ink"));
    row.ink->setAccessibleName(tr("Ink of the picture"));
    row.tint =
        new NumberField(QStringLiteral("%"), 0, NumberField::plain(QStringLiteral("%"), 0, 100), row.widget);
    row.tint->setObjectName(name + QStringLiteral("Tint"));
    row.tint->setAccessibleName(tr("Strongest tint"));
    row.tint->setToolTip(tr("The tone of the ink where the picture is black"));
    row.tint->setFixedWidth(60);
    top->addWidget(row.ink, 1);
    top->addWidget(row.tint);
    box->addLayout(top);
    row.curve = new CurveEdit(row.widget);
    row.curve->setObjectName(name + QStringLiteral("Curve"));
    row.curve->setAccessibleName(tr("Curve from the picture's tone to the ink's"));
    row.curve->setMinimumHeight(96);
    box->addWidget(row.curve, 1);
    column->addWidget(row.widget, 1);
    connect(row.ink, &QComboBox::activated, this, &PicturesPanel::applyInks);
    connect(row.tint, &NumberField::valueEntered, this, &PicturesPanel::applyInks);
    connect(row.curve, &CurveEdit::curveChanged, this, &PicturesPanel::applyInks);
    return row;
}

QWidget *PicturesPanel::buildInks()
{
    auto *page = new QWidget(this);
    auto *column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    m_first = makeInkRow(QStringLiteral("first"), column);
    m_second = makeInkRow(QStringLiteral("second"), column);
    return page;
}

QWidget *PicturesPanel::buildFlat()
{
    auto *page = new QWidget(this);
    auto *column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto *buttons = new QHBoxLayout();
    buttons->setSpacing(4);
    const auto button = [&](const char *name, const QString &text, const QString &tip) {
        auto *made = new QPushButton(text, page);
        made->setObjectName(QString::fromLatin1(name));
        made->setToolTip(tip);
        made->setStyleSheet(QStringLiteral("padding: 3px 6px;"));
        buttons->addWidget(made, 1);
        return made;
    };
    m_find = button("findPalette", tr("Find colours"), tr("Looks for the picture's flat colours"));
    m_pick = button("pickColour", tr("Pick one"), tr("The next click in the artwork takes the colour there"));
    m_pick->setCheckable(true);
    m_drop = button("dropColour", tr("Remove"), tr("Takes the chosen colour out of the palette"));
    column->addLayout(buttons);
    m_palette = new QListWidget(page);
    m_palette->setObjectName(QStringLiteral("palette"));
    m_palette->setAccessibleName(tr("Flat colours of the picture and their plates"));
    m_palette->setIconSize(swatch_size);
    m_palette->setStyleSheet(theme::listStyle());
    column->addWidget(m_palette, 1);
    m_paletteInk = new QComboBox(page);
    m_paletteInk->setObjectName(QStringLiteral("paletteInk"));
    m_paletteInk->setAccessibleName(tr("Plate of the chosen colour"));
    column->addWidget(m_paletteInk);
    auto *limits = new QHBoxLayout();
    limits->setSpacing(4);
    m_tolerance =
        new NumberField(QStringLiteral("%"), 1, NumberField::plain(QStringLiteral("%"), 0, 50), page);
    m_tolerance->setObjectName(QStringLiteral("splitTolerance"));
    m_tolerance->setAccessibleName(tr("Tolerance"));
    m_tolerance->setToolTip(
        tr("How far a pixel may be from a flat colour and still be it; 100 % is from black to white"));
    m_despeckle = new NumberField(tr("px"), 0, NumberField::plain(tr("px"), 0, 10000), page);
    m_despeckle->setObjectName(QStringLiteral("despeckle"));
    m_despeckle->setAccessibleName(tr("Specks under"));
    m_despeckle->setToolTip(tr("Patches of fewer pixels go to what surrounds them"));
    limits->addWidget(make_label(tr("tolerance"), 11, QFont::Normal, true, page));
    limits->addWidget(m_tolerance);
    limits->addWidget(make_label(tr("specks under"), 11, QFont::Normal, true, page));
    limits->addWidget(m_despeckle);
    column->addLayout(limits);
    m_outlines = new QCheckBox(tr("as smooth outlines"), page);
    m_outlines->setObjectName(QStringLiteral("traceOutlines"));
    m_outlines->setToolTip(
        tr("Edges become curves, crisp at the film's resolution, instead of the picture's pixels"));
    column->addWidget(m_outlines);

    connect(m_find, &QPushButton::clicked, this, &PicturesPanel::findPalette);
    connect(m_palette, &QListWidget::currentRowChanged, this, &PicturesPanel::refreshPalette);
    connect(m_drop, &QPushButton::clicked, this, [this] {
        const Route *route = ownRoute();
        const int row = m_palette->currentRow();
        if (route != nullptr && row >= 0 && route->split.colours.size() > 1) {
            PaletteSplit split = route->split;
            split.colours.erase(split.colours.begin() + row);
            applySplit(std::move(split), tr("One colour fewer"));
        }
    });
    connect(m_paletteInk, &QComboBox::activated, this, [this](int index) {
        const Route *route = ownRoute();
        const int row = m_palette->currentRow();
        if (route != nullptr && row >= 0) {
            PaletteSplit split = route->split;
            split.colours[static_cast<std::size_t>(row)].ink =
                index == 0 ? std::string() : m_paletteInk->itemText(index).toStdString();
            applySplit(std::move(split), tr("Flat colour to %1").arg(m_paletteInk->itemText(index)));
        }
    });
    const auto limit = [this] {
        if (const Route *route = ownRoute(); route != nullptr && !route->split.colours.empty()) {
            PaletteSplit split = route->split;
            split.tolerance = m_tolerance->value() / 100.0;
            split.despeckle = static_cast<int>(std::lround(m_despeckle->value()));
            split.outlines = m_outlines->isChecked();
            applySplit(std::move(split), tr("Take the picture apart"));
        }
    };
    connect(m_tolerance, &NumberField::valueEntered, this, limit);
    connect(m_despeckle, &NumberField::valueEntered, this, limit);
    connect(m_outlines, &QCheckBox::clicked, this, limit);
    return page;
}

int PicturesPanel::chosen() const
{
    const QListWidgetItem *item = m_pictures->currentItem();
    return item == nullptr ? -1 : item->data(object_role).toInt();
}

const Route *PicturesPanel::ownRoute() const
{
    const int object = chosen();
    if (object < 0 || !m_session.isOpen()) {
        return nullptr;
    }
    const Job &job = m_session.job();
    const SceneObject &picture = m_session.page()->scene.objects[static_cast<std::size_t>(object)];
    const auto found = std::find_if(job.routes.begin(), job.routes.end(), [&](const Route &route) {
        return route.by == RouteBy::Objects && route.artwork == picture.artwork &&
               (route.objects.size() == 1 || route.separated) &&
               std::any_of(route.objects.begin(), route.objects.end(), [&](const ObjectMark &mark) {
                   return mark.index == picture.own_index && mark.page == job.page;
               });
    });
    return found == job.routes.end() ? nullptr : &*found;
}

PicturesPanel::Treatment PicturesPanel::treatmentOf(const Route *route) const
{
    if (route == nullptr) {
        return AsItIs;
    }
    if (route->to != RouteTo::Plates) {
        return route->to == RouteTo::Process ? ProcessInks : NoPrint;
    }
    return !route->split.colours.empty() ? FlatColours
           : route->separated            ? SeveralInks
           : route->targets.size() > 1   ? TwoInks
                                         : OneInk;
}

Route PicturesPanel::newRoute() const
{
    Route route;
    route.by = RouteBy::Objects;
    route.artwork = m_session.page()->scene.objects[static_cast<std::size_t>(chosen())].artwork;
    route.objects = {m_session.markOf(chosen())};
    return route;
}

void PicturesPanel::refreshPictures()
{
    const QSignalBlocker quiet(m_pictures);
    m_pictures->clear();
    if (m_session.isOpen()) {
        for (const SceneObject &object : m_session.page()->scene.objects) {
            if (object.kind != ObjectKind::Image) {
                continue;
            }
            auto *item = new QListWidgetItem(tr("%1 × %2 px, %3 ppi\n%4")
                                                 .arg(object.image_width)
                                                 .arg(object.image_height)
                                                 .arg(object.image_ppi, 0, 'f', 0)
                                                 .arg(theme::text_of(object.colour.space)),
                                             m_pictures);
            item->setData(object_role, object.index);
        }
        m_pictures->setCurrentRow(m_pictures->count() > 0 ? 0 : -1);
        makeThumbnails();
    }
}

void PicturesPanel::makeThumbnails()
{
    std::vector<std::pair<int, Rect>> wanted;
    for (int row = 0; row < m_pictures->count(); ++row) {
        const int object = m_pictures->item(row)->data(object_role).toInt();
        wanted.emplace_back(row, m_session.page()->scene.objects[static_cast<std::size_t>(object)].bounds);
    }
    if (wanted.empty()) {
        return;
    }
    m_tasks.start(
        [original = m_session.page()->original, wanted,
         ratio = devicePixelRatioF()](const JobControl &control) {
            std::vector<std::pair<int, QImage>> made;
            for (const auto &[row, bounds] : wanted) {
                if (!control.cancelled()) {
                    made.emplace_back(row, make_thumbnail(*original, bounds, ratio));
                }
            }
            return made;
        },
        [this, request = ++m_request](const std::vector<std::pair<int, QImage>> &made) {
            for (const auto &[row, picture] : made) {
                if (request == m_request && row < m_pictures->count() && !picture.isNull()) {
                    m_pictures->item(row)->setIcon(QPixmap::fromImage(picture));
                }
            }
        });
}

void PicturesPanel::refresh()
{
    setEnabled(m_session.isOpen() && m_pictures->count() > 0);
    m_state->setText(m_session.isOpen() && m_pictures->count() == 0 ? tr("This page holds no pictures.")
                                                                    : QString());
    refreshTreatment();
}

void PicturesPanel::refreshTreatment()
{
    m_filling = true;
    const Route *route = ownRoute();
    const Treatment treatment = treatmentOf(route);
    m_treatment->setCurrentIndex(treatment);
    m_settings->setCurrentIndex(treatment == OneInk || treatment == TwoInks ? 1
                                : treatment == FlatColours                  ? 2
                                : treatment == ProcessInks                  ? 3
                                : treatment == SeveralInks                  ? 4
                                                                            : 0);
    m_second.widget->setVisible(treatment == TwoInks);
    if (m_session.isOpen()) {
        m_black->show(route == nullptr ? BlackGeneration() : route->black);
        m_several->show(m_session.job().plates, route);
    }
    const InkRow *rows[] = {&m_first, &m_second};
    for (std::size_t i = 0; i < 2 && m_session.isOpen(); ++i) {
        const InkRow &row = *rows[i];
        row.ink->clear();
        for (const Plate &plate : m_session.job().plates) {
            row.ink->addItem(make_swatch(theme::ink_color(plate.shown())), theme::text_of(plate.ink));
        }
        if (route == nullptr || i >= route->targets.size() || route->to != RouteTo::Plates) {
            continue;
        }
        const RouteTarget &target = route->targets[i];
        const int plate = m_session.job().find_plate(target.ink);
        row.ink->setCurrentIndex(plate);
        row.tint->setValue(target.tint * 100.0);
        row.curve->setCurve(target.curve);
        row.curve->setInk(
            plate < 0 ? theme::quiet
                      : theme::ink_color(m_session.job().plates[static_cast<std::size_t>(plate)].shown()));
    }
    {
        const QSignalBlocker quiet(m_palette);
        const int before = m_palette->currentRow();
        m_palette->clear();
        if (route != nullptr && treatment == FlatColours) {
            for (const PaletteTarget &colour : route->split.colours) {
                new QListWidgetItem(make_swatch(colour_of(colour)),
                                    colour.ink.empty() ? tr("background: prints nothing")
                                                       : theme::text_of(colour.ink),
                                    m_palette);
            }
            m_tolerance->setValue(route->split.tolerance * 100.0);
            m_despeckle->setValue(route->split.despeckle);
            m_outlines->setChecked(route->split.outlines);
        }
        m_palette->setCurrentRow(std::clamp(before, -1, m_palette->count() - 1));
    }
    m_filling = false;
    refreshPalette();
    measureInk();
}

/// The plates follow the job a little later; then this comes again.
void PicturesPanel::measureInk()
{
    m_measuring.cancel();
    ++m_inkRequest;
    const int object = chosen();
    if (!isVisible() || object < 0 || !m_session.isOpen() || !m_session.platesFollow()) {
        m_ink->clear();
        return;
    }
    m_ink->setText(tr("its ink is being measured …"));
    std::vector<std::string> counted; // what lies on the stock as ink
    for (const Plate &plate : m_session.job().plates) {
        if (plate.kind != InkUse::Technical && plate.kind != InkUse::Foil) {
            counted.push_back(plate.ink);
        }
    }
    const auto known = m_inkBefore.find(object);
    using Both = std::pair<Outcome<PictureInk>, Outcome<PictureInk>>;
    m_measuring = m_tasks.start(
        [page = m_session.page(), object, counted,
         before = known == m_inkBefore.end() ? std::nullopt : std::optional(known->second)](
            const JobControl &control) -> Both {
            const Scene &scene = page->scene;
            const Rect area = scene.objects[static_cast<std::size_t>(object)].bounds;
            const auto now = ink_of_picture(*page->plate_line, area, counted, control);
            if (before) {
                return {now, *before};
            }
            const std::vector<std::string> own = propose_job(scene, {}).inks();
            const auto line = PlateLine::make(page->plate_line->share_page(), own, control);
            return {now,
                    line ? ink_of_picture(**line, area, own, control) : Outcome<PictureInk>(line.error())};
        },
        [this, object, request = ++m_inkRequest](const Both &both) {
            if (request != m_inkRequest) {
                return; // another is under way
            }
            if (both.second) {
                m_inkBefore.insert_or_assign(object, *both.second); // routes change nothing of it
            }
            showInk(both.first, both.second);
        });
}

void PicturesPanel::showInk(const Outcome<PictureInk> &now, const Outcome<PictureInk> &before)
{
    if (!now || !before) {
        const Error &error = now ? before.error() : now.error();
        m_ink->setText(error.code == ErrorCode::Cancelled
                           ? QString()
                           : tr("its ink is not known: %1").arg(theme::text_of(error.message())));
        return;
    }
    QStringList inks;
    for (const std::string &ink : now->inks) {
        inks << theme::text_of(ink);
    }
    const auto amount = [](const PictureInk &ink) {
        return tr("at most %1, on average %2").arg(theme::percent(ink.most, 0), theme::percent(ink.mean, 0));
    };
    const bool same =
        std::fabs(now->most - before->most) < 0.005 && std::fabs(now->mean - before->mean) < 0.005;
    m_ink->setText((inks.isEmpty() ? tr("Prints no ink.")
                    : inks.size() == 1
                        ? tr("Prints in %1 only; %2.").arg(inks.first(), amount(*now))
                        : tr("Prints in %1; ink in all %2.").arg(inks.join(tr(", ")), amount(*now))) +
                   (same ? QString() : tr("\nAs it came: %1.").arg(amount(*before))));
}

void PicturesPanel::refreshPalette()
{
    const Route *route = ownRoute();
    const int row = m_palette->currentRow();
    const bool known = route != nullptr && row >= 0 && row < static_cast<int>(route->split.colours.size());
    m_paletteInk->clear();
    m_paletteInk->addItem(tr("background: prints nothing"));
    if (m_session.isOpen()) {
        for (const Plate &plate : m_session.job().plates) {
            m_paletteInk->addItem(theme::text_of(plate.ink));
        }
    }
    m_paletteInk->setEnabled(known);
    m_drop->setEnabled(known && route->split.colours.size() > 1);
    if (known) {
        const std::string &ink = route->split.colours[static_cast<std::size_t>(row)].ink;
        m_paletteInk->setCurrentIndex(ink.empty() ? 0 : 1 + m_session.job().find_plate(ink));
    }
}

void PicturesPanel::apply(Route route, const QString &step, const QString &key)
{
    Job job = m_session.job();
    if (const Route *own = ownRoute(); own != nullptr && !same_source(*own, route)) {
        leave(job, *own, route.objects.front()); // else the route that it shares with others would decide
    }
    m_session.change(with_route(std::move(job), std::move(route)), step, key);
}

void PicturesPanel::control(const RouteTarget &target)
{
    const Route *own = ownRoute();
    if (own != nullptr && own->separated) {
        want({*own, target});
        doWanted();
    }
}

/// Instead of what was wanted of the same ink before.
void PicturesPanel::want(Wanted wanted)
{
    std::erase_if(m_wanted, [&](const Wanted &one) {
        return one.target.ink == wanted.target.ink && same_source(one.route, wanted.route);
    });
    m_wanted.push_back(std::move(wanted));
}

/// Does what is wanted first, and whatever else is of its route, on another thread: every flat colour that
/// was solved along is solved again. What comes meanwhile waits.
void PicturesPanel::doWanted()
{
    if (m_controlling || m_wanted.empty() || !m_session.isOpen()) {
        return;
    }
    const Job &job = m_session.job();
    const Route asked = m_wanted.front().route;
    std::vector<Wanted> now;
    for (const Wanted &one : m_wanted) {
        if (same_source(one.route, asked)) {
            now.push_back(one);
        }
    }
    std::erase_if(m_wanted, [&](const Wanted &one) { return same_source(one.route, asked); });
    const auto route = std::find_if(job.routes.begin(), job.routes.end(), [&](const Route &one) {
        return one.separated && same_source(one, asked);
    });
    if (route == job.routes.end()) {
        return; // it has gone
    }
    std::vector<RouteTarget> targets = route->targets;
    for (const Wanted &one : now) {
        std::replace_if(
            targets.begin(), targets.end(),
            [&](const RouteTarget &target) { return target.ink == one.target.ink; }, one.target);
    }
    m_controlling = true;
    m_tasks.start(
        [job, page = m_session.page(), targets = std::move(targets),
         number = static_cast<std::size_t>(route - job.routes.begin())](const JobControl &) {
            return std::pair(job, with_controls(job, page->scene, number, targets));
        },
        [this, now](const std::pair<Job, Job> &made) {
            m_controlling = false;
            const QString ink = theme::text_of(now.back().target.ink);
            if (m_session.isOpen() && m_session.job() == made.first) {
                m_session.change(made.second, tr("Control of %1").arg(ink),
                                 QStringLiteral("control %1").arg(ink));
            } else {
                const std::vector<Wanted> later = std::exchange(m_wanted, now); // of the job as it has become
                for (const Wanted &one : later) {
                    want(one);
                }
            }
            doWanted();
        });
}

/// Says what was asked of the inks and could not be had without harm.
void PicturesPanel::showSeparation()
{
    QStringList words;
    const Route *own = ownRoute();
    const auto notes = own == nullptr || own->dots.wanted() || !m_session.platesFollow()
                           ? std::vector<SeparationNote>()
                           : m_session.page()->plate_line->separations();
    for (const SeparationNote &note : notes) {
        if (note.route != static_cast<int>(own - m_session.job().routes.data())) {
            continue;
        }
        for (const SeparationNote::Ink &ink : note.inks) {
            constexpr double plain = 0.18, more = 1.2; // of a tone; of what it was
            if (ink.step > plain && ink.step > ink.step_before * more) {
                words << tr("%1 now changes by %2 between neighbouring colours (%3 before): slow gradients "
                            "may show a step there.")
                             .arg(theme::text_of(ink.name), theme::percent(ink.step, 0),
                                  theme::percent(ink.step_before, 0));
            }
        }
        if (note.limited > 0) {
            words << tr("The ink limit takes something back of %1 of all colours.")
                         .arg(theme::percent(note.limited, 1));
        }
    }
    m_state->setText(words.join(QLatin1Char(' ')));
}

void PicturesPanel::treat(Treatment treatment)
{
    if (chosen() < 0 || treatment == treatmentOf(ownRoute())) {
        return;
    }
    const auto &plates = m_session.job().plates;
    Route route = newRoute();
    const auto darkest = std::min_element(
        plates.begin(), plates.end(), [](const Plate &a, const Plate &b) { return a.solid.l < b.solid.l; });
    const auto other = std::find_if(plates.begin(), plates.end(), [&](const Plate &plate) {
        return darkest != plates.end() && plate.ink != darkest->ink && plate.kind != InkUse::White;
    });
    switch (treatment) {
    case AsItIs: {
        Job job = m_session.job();
        if (const Route *own = ownRoute(); own != nullptr) {
            leave(job, *own, m_session.markOf(chosen()));
        }
        m_session.change(job, tr("Picture as it is"));
        return;
    }
    case ProcessInks:
    case NoPrint:
        route.to = treatment == NoPrint ? RouteTo::Nothing : RouteTo::Process;
        apply(std::move(route),
              treatment == NoPrint ? tr("Picture does not print") : tr("Picture in process inks"));
        return;
    case OneInk:
    case TwoInks:
        if (plates.empty() || (treatment == TwoInks && other == plates.end())) {
            m_state->setText(tr("The job has too few plates for that."));
            refreshTreatment();
            return;
        }
        route.targets = {{darkest->ink, true, 1, {}}};
        if (treatment == TwoInks) {
            // The lighter ink carries the picture; the dark one only its shadows.
            auto shadows = ToneCurve::through({{0, 0}, {0.4, 0}, {1, 1}});
            route.targets = {{other->ink, true, 1, {}},
                             {darkest->ink, true, 1, shadows ? *shadows : ToneCurve()}};
        }
        apply(std::move(route), treatment == OneInk ? tr("Picture as a tint") : tr("Picture in two inks"));
        return;
    case SeveralInks: {
        std::vector<std::string> inks;
        for (const Plate &plate : plates) {
            const bool paints =
                plate.kind == InkUse::Spot || plate.kind == InkUse::Process || plate.kind == InkUse::White;
            if (paints && inks.size() < ColourTable::most_inks) {
                inks.push_back(plate.ink);
            }
        }
        separate(inks);
        return;
    }
    case FlatColours:
        findPalette();
        return;
    }
}

void PicturesPanel::separate(const std::vector<std::string> &inks)
{
    const Route *own = ownRoute();
    Route route = own != nullptr && own->separated ? *own : newRoute(); // other inks, the rest stays
    std::vector<RouteTarget> before = std::exchange(route.targets, {});
    route.separated = true;
    for (const std::string &ink : inks) {
        const auto known = std::find_if(before.begin(), before.end(),
                                        [&](const RouteTarget &one) { return one.ink == ink; });
        route.targets.push_back(known == before.end() ? RouteTarget{ink, true, 1, {}} : *known);
    }
    if (inks.empty()) {
        m_state->setText(tr("Choose at least one ink."));
        refreshTreatment();
        return;
    }
    apply(std::move(route), tr("Picture in several inks"));
}

void PicturesPanel::applyInks()
{
    const Route *own = ownRoute();
    if (m_filling || own == nullptr || own->targets.empty()) {
        return;
    }
    Route route = *own;
    const InkRow *rows[] = {&m_first, &m_second};
    for (std::size_t i = 0; i < route.targets.size() && i < 2; ++i) {
        route.targets[i].ink = rows[i]->ink->currentText().toStdString();
        route.targets[i].tint = rows[i]->tint->value() / 100.0;
        route.targets[i].curve = rows[i]->curve->curve();
    }
    apply(std::move(route), tr("Picture's inks"), QStringLiteral("picture %1").arg(chosen()));
}

void PicturesPanel::applySplit(PaletteSplit split, const QString &step)
{
    apply(with_split(newRoute(), std::move(split)), step);
}

/// Looks for the colours off the window's thread; each goes to the plate that looks most like it.
void PicturesPanel::findPalette()
{
    const int object = chosen();
    if (object < 0) {
        return;
    }
    m_state->setText(tr("Looking for flat colours …"));
    m_tasks.start(
        [page = m_session.page(), object](const JobControl &control) -> Outcome<std::vector<PaletteColour>> {
            const auto picture = picture_pixels(page->content(), object, control);
            if (!picture) {
                return picture.error();
            }
            return find_palette(*picture);
        },
        [this, object, page = m_session.page()](const Outcome<std::vector<PaletteColour>> &palette) {
            if (object != chosen() ||
                page->plate_line->share_page() != m_session.page()->plate_line->share_page()) {
                return;
            }
            m_state->setText(!palette ? theme::text_of(palette.error().message())
                             : palette->empty()
                                 ? tr("The picture has no flat colours: it looks like a photo.")
                                 : tr("%1 flat colours found.").arg(palette->size()));
            if (!palette || palette->empty()) {
                refreshTreatment();
                return;
            }
            PaletteSplit settings;
            if (const Route *own = ownRoute(); own != nullptr && !own->split.colours.empty()) {
                settings = own->split;
            }
            std::vector<EncodedRgb> colours;
            for (const PaletteColour &colour : *palette) {
                colours.push_back(colour.rgb);
            }
            PaletteSplit split = propose_split(colours, m_session.job(), std::move(settings));
            const QString words = m_state->text();
            applySplit(std::move(split), tr("Take the picture apart"));
            m_state->setText(words);
        });
}

void PicturesPanel::pick(QPointF mm)
{
    const Route *own = ownRoute();
    if (!isVisible() || !m_pick->isChecked() || own == nullptr || own->split.colours.empty()) {
        return;
    }
    m_pick->setChecked(false);
    constexpr double dpi = 300;
    const int x = static_cast<int>(mm.x() / millimetres_per_inch * dpi);
    const int y = static_cast<int>(mm.y() / millimetres_per_inch * dpi);
    const auto pixel = m_session.page()->original->render({x, y, 1, 1}, Dpi(dpi));
    if (!pixel) {
        m_state->setText(theme::text_of(pixel.error().message()));
        return;
    }
    const QColor colour = QColor::fromRgb((*pixel)[0]);
    PaletteSplit split = own->split;
    split.colours.push_back(
        {{static_cast<std::uint8_t>(colour.red()), static_cast<std::uint8_t>(colour.green()),
          static_cast<std::uint8_t>(colour.blue())},
         {},
         1});
    applySplit(std::move(split), tr("One more flat colour"));
    m_palette->setCurrentRow(m_palette->count() - 1);
}

} // namespace bichrom
