#include "app/worktops/ink/routes_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/colour_menu.h"
#include "app/worktops/ink/flow_picture.h"
#include "app/worktops/ink/lit_objects.h"
#include "app/worktops/ink/route_list.h"
#include "app/worktops/ink/route_words.h"
#include "core/job/edits/make_plates.h"

#include <QComboBox>
#include <QCompleter>
#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>

#include <algorithm>
#include <utility>

namespace bichrom {

namespace {

enum FreeEnd
{
    BareStockEnd,
    NothingEnd
};

} // namespace

RoutesPanel::RoutesPanel(Session &session, Router &router, Choice &choice, InkLibrary &library,
                         Spotlight &spotlight, QWidget *parent)
    : QWidget(parent), m_session(session), m_router(router), m_choice(choice), m_library(library),
      m_spotlight(spotlight), m_choiceSeen(this, [this] { refreshChoice(); }),
      m_flowSeen(this, [this] { refresh(); }) // thousands of colours may be there
{
    setObjectName(QStringLiteral("routesPanel"));
    build();
    connect(&m_router, &Router::changed, &m_flowSeen, &WhenSeen::refresh);
    connect(&m_choice, &Choice::colourChanged, &m_choiceSeen, &WhenSeen::refresh);
    connect(&m_choice, &Choice::plateChanged, &m_choiceSeen, &WhenSeen::refresh);
}

void RoutesPanel::build()
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 10);
    column->setSpacing(6);
    auto *head = new QHBoxLayout();
    head->addWidget(make_label(tr("Colours found"), 11, QFont::DemiBold, true, this));
    head->addStretch();
    head->addWidget(make_label(tr("alike within"), 11, QFont::Normal, true, this));
    m_alike = new NumberField({}, 1, NumberField::plain({}, 0, 50), this);
    m_alike->setObjectName(QStringLiteral("alikeWithin"));
    m_alike->setAccessibleName(tr("Colours alike within"));
    m_alike->setToolTip(tr("Colours no further apart than this are taken together. 0 = each by itself."));
    m_alike->setFixedWidth(48);
    m_alike->setValue(0);
    head->addWidget(m_alike);
    m_measure = new QComboBox(this);
    m_measure->setObjectName(QStringLiteral("alikeMeasure"));
    m_measure->setAccessibleName(tr("How likeness is measured"));
    m_measure->addItems({tr("ΔE"), tr("%")});
    m_measure->setToolTip(
        tr("ΔE: how different they look (CIEDE2000). %: the largest difference of a colourant, of "
           "colours in the same space."));
    m_measure->setFixedWidth(54);
    head->addWidget(m_measure);
    connect(m_measure, &QComboBox::activated, this, [this](int index) {
        m_router.setMeasure(index == 0 ? ColourMeasure::DeltaE : ColourMeasure::Colourants);
    });
    column->addLayout(head);
    m_plateEach =
        make_small_button("plateEach", tr("A plate for each colour"),
                          tr("Makes a plate for each of the colours below that is no ink of its own, "
                             "named from the nearest ink of the book, and sends the colour there"),
                          this);
    connect(m_plateEach, &QPushButton::clicked, &m_router, &Router::platesFromColours);
    column->addWidget(m_plateEach);
    auto *scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_flow = new FlowPicture(scroll);
    m_flow->setObjectName(QStringLiteral("flowPicture"));
    scroll->setWidget(m_flow);
    column->addWidget(scroll, 1);
    m_detail = make_label({}, 11, QFont::Normal, false, this);
    m_detail->setObjectName(QStringLiteral("colourDetail"));
    m_detail->setWordWrap(true);
    m_detail->setMinimumHeight(46);
    m_detail->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    column->addWidget(m_detail);
    buildActions(column);
    column->addWidget(make_rule(this));
    buildRoutes(column);

    connect(&m_session, &Session::artworkChanged, this, [this] { // as the router, for another job
        m_alike->setValue(0);
        m_measure->setCurrentIndex(0);
        m_amount->setCurrentIndex(0);
        m_tint->setValue(100);
        m_newPlate->clear();
    });
    connect(m_alike, &NumberField::valueEntered, &m_router, &Router::setTolerance);
    connect(m_flow, &FlowPicture::sourceChosen, this, [this](int source) {
        if (const std::vector<int> &objects = objectsOf(source); !objects.empty()) {
            m_choice.chooseObjects(objects);
        } else {
            m_choice.chooseColour(leaderOf(source));
        }
    });
    connect(m_flow, &FlowPicture::besidesChanged, this, [this] {
        std::vector<int> others;
        for (const int source : m_flow->besides()) {
            if (const int colour = leaderOf(source); colour >= 0) {
                others.push_back(colour);
            }
        }
        m_choice.chooseOtherColours(std::move(others));
    });
    connect(m_flow, &FlowPicture::sourceHovered, this, &RoutesPanel::light);
    connect(m_flow, &FlowPicture::endChosen, this, &RoutesPanel::takeEnd);
    connect(m_flow, &FlowPicture::menuWanted, this, [this](int source, QPoint global) {
        if (!objectsOf(source).empty()) {
            return; // the list of routes has their menu
        }
        if (QMenu *menu = make_colour_menu(m_session, m_router, m_library, leaderOf(source), -1, this)) {
            menu->popup(global);
        }
    });
    connect(m_flow, &FlowPicture::sent, this, &RoutesPanel::send);
    connect(m_flow, &FlowPicture::released, this, [this] { m_router.releaseChosen(); });
}

void RoutesPanel::buildActions(QVBoxLayout *column)
{
    auto *amount = new QHBoxLayout();
    amount->setSpacing(4);
    m_amount = new QComboBox(this);
    m_amount->setObjectName(QStringLiteral("routeAmount"));
    m_amount->setAccessibleName(tr("How much of it"));
    m_amount->addItems({tr("solid"), tr("own tint"), tr("fixed tint")});
    m_amount->setToolTip(
        tr("Solid: 100 % everywhere. Own tint: as strong as it is in the artwork. Fixed tint: "
           "what the field says, everywhere."));
    m_tint = new NumberField(QStringLiteral("%"), 0, NumberField::plain(QStringLiteral("%"), 0, 100), this);
    m_tint->setObjectName(QStringLiteral("routeTint"));
    m_tint->setAccessibleName(tr("Tint"));
    m_tint->setFixedWidth(52);
    m_tint->setValue(100);
    m_send = new QPushButton(this);
    m_send->setObjectName(QStringLiteral("sendColour"));
    m_send->setProperty("main", true);
    m_send->setToolTip(
        tr("Sends the chosen colour to the chosen plate (R). Dragging the colour onto the plate "
           "does the same; so does a click in the artwork with Pour (P)."));
    amount->addWidget(m_amount);
    amount->addWidget(m_tint);
    amount->addWidget(m_send, 1);
    column->addLayout(amount);
    auto *ends = new QHBoxLayout();
    ends->setSpacing(4);
    const auto add = [&](const char *name, const QString &text, const QString &tip, auto act) {
        QPushButton *button = make_small_button(name, text, tip, this);
        connect(button, &QPushButton::clicked, this, [this, button, act] {
            if (!button->isCheckable()) {
                act();
                return;
            }
            for (QPushButton *other : m_ends) {
                other->setChecked(other == button && button->isChecked());
            }
            Q_EMIT pourEndChanged();
        });
        button->setProperty("target", true);
        m_endActs.emplace_back(act);
        m_ends.push_back(button);
        ends->addWidget(button, 1);
    };
    add("endProcess", tr("Process"), tr("Prints as its process build, whatever its inks are called"),
        [this] { m_router.endChosen(RouteTo::Process); });
    add("endWhite", tr("White"), tr("Prints solid in white ink; a white plate is made when there is none"),
        [this] { m_router.whitenChosen(); });
    add("endBare", tr("Bare stock"), tr("Knocks out what is below and prints nothing"),
        [this] { m_router.endChosen(RouteTo::BareStock); });
    add("endNothing", tr("No print"), tr("Leaves no trace: what is below it stays"),
        [this] { m_router.endChosen(RouteTo::Nothing); });
    add("endRelease", tr("As it is"), tr("Removes the routes that take this colour (Delete)"),
        [this] { m_router.releaseChosen(); });
    column->addLayout(ends);
    connect(m_amount, &QComboBox::activated, this, &RoutesPanel::takeAmount);
    connect(m_tint, &NumberField::valueEntered, this, &RoutesPanel::takeAmount);
    connect(m_send, &QPushButton::clicked, &m_router, &Router::sendChosen);
}

void RoutesPanel::buildRoutes(QVBoxLayout *column)
{
    column->addWidget(new RouteList(m_session, m_router, m_spotlight, this));
    auto *foot = new QHBoxLayout();
    foot->setSpacing(4);
    m_newPlate = new QLineEdit(this);
    m_newPlate->setObjectName(QStringLiteral("newPlate"));
    m_newPlate->setPlaceholderText(tr("New plate: ink name"));
    m_newPlate->setToolTip(
        tr("Type an ink's name and press Return. Colour and kind come from the ink book."));
    m_removePlate = make_small_button("removePlate", tr("Remove plate"),
                                      tr("Removes the chosen plate from the job"), this);
    m_like = make_small_button("likeThis", tr("Light alike"),
                               tr("Lights everything in the artwork that is like the chosen colour"), this);
    foot->addWidget(m_newPlate, 1);
    foot->addWidget(m_removePlate);
    foot->addWidget(m_like);
    column->addLayout(foot);
    connect(m_newPlate, &QLineEdit::returnPressed, this, [this] {
        if (const Done added = m_router.addPlate(m_newPlate->text()); added) {
            m_newPlate->clear();
        } else {
            m_detail->setText(theme::text_of(added.error().message()));
        }
    });
    connect(m_removePlate, &QPushButton::clicked, this, [this] { m_router.removePlate(m_choice.plate()); });
    connect(m_like, &QPushButton::clicked, this, &RoutesPanel::lightAlike);
    const auto complete = [this] {
        QStringList names;
        for (const BookInk &ink : m_library.book().inks) {
            names << theme::text_of(ink.name);
        }
        auto *completer = new QCompleter(names, m_newPlate);
        completer->setCaseSensitivity(Qt::CaseInsensitive);
        completer->setFilterMode(Qt::MatchContains);
        m_newPlate->setCompleter(completer); // the old one goes with it
    };
    connect(&m_library, &InkLibrary::changed, this, complete);
    complete();
}

int RoutesPanel::leaderOf(int source) const
{
    const auto &groups = m_router.groups();
    const int flat = source - static_cast<int>(groups.size()); // the flat colours of pictures follow
    return source < 0  ? -1
           : flat >= 0 ? (flat < static_cast<int>(m_session.facts().flatColours().size())
                              ? m_router.colourOfFlat(flat)
                              : -1)
                       : groups[static_cast<std::size_t>(source)].members.front();
}

int RoutesPanel::sourceOf(int colour) const
{
    const int flat = m_router.flatOf(colour);
    return flat < 0 ? m_router.groupOf(colour) : static_cast<int>(m_router.groups().size()) + flat;
}

const std::vector<int> &RoutesPanel::objectsOf(int source) const
{
    static const std::vector<int> none;
    const int row = source - static_cast<int>(m_flow->sources().size() - m_objectRows.size());
    return row >= 0 && row < static_cast<int>(m_objectRows.size())
               ? m_objectRows[static_cast<std::size_t>(row)]
               : none;
}

void RoutesPanel::light(int source)
{
    const std::vector<int> &objects = objectsOf(source);
    if (std::exchange(m_lit, !objects.empty()) || m_lit) {
        light_objects(m_session, m_spotlight, objects, tr("1 object by this route"),
                      tr("%1 objects by this route"));
    }
}

/// A route that takes \p objects of the page by themselves.
FlowSource RoutesPanel::objectSource(const Route &route, const std::vector<int> &objects) const
{
    FlowSource source;
    source.name = short_source(route);
    source.tip = tr("%1 %2").arg(theme::text_of(describe_source(route)), theme::text_of(describe_end(route)));
    source.area = -1;
    const PageContent &content = m_session.page()->content();
    const double wide = to_millimetres(content.width()).value;
    const double high = to_millimetres(content.height()).value;
    for (const QRectF &at : places_of(m_session, objects)) {
        source.places.emplace_back(at.x() / wide, at.y() / high, at.width() / wide, at.height() / high);
    }
    for (const RouteTarget &target : route.targets) {
        if (const int plate = m_session.job().find_plate(target.ink); plate >= 0) {
            source.streams.push_back({m_firstFreeEnd - 1 - plate, static_cast<double>(target.tint)});
        }
    }
    if (route.to == RouteTo::BareStock || route.to == RouteTo::Nothing) {
        source.streams.push_back(
            {m_firstFreeEnd + (route.to == RouteTo::BareStock ? BareStockEnd : NothingEnd), 1});
    }
    return source;
}

FlowSource RoutesPanel::flatSource(int flat) const
{
    const FlatColour &colour = m_session.facts().flatColours()[static_cast<std::size_t>(flat)];
    FlowSource source;
    source.swatch = QColor(colour.rgb[0], colour.rgb[1], colour.rgb[2]);
    source.name = tr("picture %1 %2 %3").arg(colour.rgb[0]).arg(colour.rgb[1]).arg(colour.rgb[2]);
    source.tip = tr("A flat colour in a picture, as sRGB 0 to 255. Sending it takes the picture apart.");
    source.area = colour.square_cm;
    if (const auto ink = m_router.flatInk(flat)) {
        const int plate = m_session.job().find_plate(*ink);
        source.streams.push_back({plate < 0 ? m_firstFreeEnd + BareStockEnd : m_firstFreeEnd - 1 - plate, 1});
    }
    return source;
}

void RoutesPanel::refresh()
{
    setEnabled(m_session.isOpen());
    refreshFlow();
    m_choiceSeen.refresh();
}

void RoutesPanel::refreshFlow()
{
    std::vector<FlowSource> sources;
    std::vector<FlowEnd> ends;
    m_objectRows.clear();
    if (m_session.isOpen()) {
        const auto &plates = m_session.job().plates;
        for (auto plate = plates.rbegin(); plate != plates.rend(); ++plate) { // last printed on top
            ends.push_back({theme::ink_color(plate->shown()), theme::text_of(plate->ink), true});
        }
        m_firstFreeEnd = static_cast<int>(ends.size());
        ends.push_back({{}, tr("bare stock"), true});
        ends.push_back({{}, tr("no print"), true});
        const Scene &scene = m_session.page()->scene;
        const auto &areas = m_session.facts().colourAreas();
        for (const ColourGroup &group : m_router.groups()) {
            const int leader = group.members.front();
            const FoundColour &colour = scene.colours[static_cast<std::size_t>(leader)];
            FlowSource source;
            if (!colour.colour.values.empty()) {
                source.swatch = theme::ink_color(colour.appearance);
            }
            source.name = in_artwork(colour.artwork, short_name(colour.colour));
            if (group.members.size() > 1) {
                source.name = tr("%1  +%2").arg(source.name).arg(group.members.size() - 1);
            }
            source.tip = theme::text_of(describe(colour.colour));
            if (colour.artwork != 0) {
                source.tip += tr("\nin %1").arg(theme::text_of(m_session.job().artwork_name(colour.artwork)));
            }
            source.area = -1;
            for (const int member : group.members) {
                if (const auto i = static_cast<std::size_t>(member); i < areas.size() && areas[i] >= 0) {
                    source.area = std::max(0.0, source.area) + areas[i];
                }
            }
            const Reach reach = m_router.reach(leader);
            source.lost = reach.lost();
            for (const InkAmount &one : reach.plates) {
                const int at = m_firstFreeEnd - 1 - m_session.job().find_plate(one.ink);
                source.streams.push_back({at, static_cast<double>(one.amount)});
            }
            if (reach.deliberate && reach.plates.empty() && reach.route >= 0) {
                const bool bare =
                    m_session.job().routes[static_cast<std::size_t>(reach.route)].to == RouteTo::BareStock;
                source.streams.push_back({m_firstFreeEnd + (bare ? BareStockEnd : NothingEnd), 1});
            }
            sources.push_back(std::move(source));
        }
        for (int flat = 0; flat < static_cast<int>(m_session.facts().flatColours().size()); ++flat) {
            sources.push_back(flatSource(flat));
        }
        for (std::size_t i = 0; i < m_session.job().routes.size(); ++i) {
            const Route &route = m_session.job().routes[i];
            if (route.by != RouteBy::Objects || !route.split.colours.empty()) {
                continue;
            }
            std::vector<int> objects =
                decided_by(m_session.job(), m_session.page()->scene, static_cast<int>(i));
            if (!objects.empty()) { // of this page
                sources.push_back(objectSource(route, objects));
                m_objectRows.push_back(std::move(objects));
            }
        }
        for (const FlowSource &source : sources) {
            for (const FlowSource::Stream &stream : source.streams) {
                ends[static_cast<std::size_t>(stream.to)].idle = false;
            }
        }
    }
    m_flow->setFlow(std::move(sources), std::move(ends));
    const std::size_t colours = m_router.groups().size();
    m_plateEach->setEnabled(m_session.isOpen() && colours <= most_groups_to_plates);
    m_plateEach->setText(colours <= most_groups_to_plates
                             ? tr("A plate for each colour")
                             : tr("%1 colours: too many for a plate each").arg(static_cast<int>(colours)));
}

void RoutesPanel::refreshChoice()
{
    int end = -1;
    if (m_session.isOpen()) {
        const int plate = m_session.job().find_plate(m_choice.plate().toStdString());
        end = plate < 0 ? -1 : m_firstFreeEnd - 1 - plate;
    }
    int source = sourceOf(m_choice.colour());
    std::vector<int> besides;
    for (const int colour : m_choice.otherColours()) {
        besides.push_back(sourceOf(colour));
    }
    if (!m_choice.objects().empty()) {
        const auto row = std::find(m_objectRows.begin(), m_objectRows.end(), m_choice.objects());
        source = row == m_objectRows.end() ? -1
                                           : static_cast<int>(m_flow->sources().size()) -
                                                 static_cast<int>(m_objectRows.end() - row);
    }
    m_flow->choose(source, end);
    m_flow->chooseBesides(std::move(besides));
    refreshDetail();
}

void RoutesPanel::refreshDetail()
{
    const int colour = m_session.isOpen() ? m_choice.colour() : -1;
    const int group = m_router.groupOf(colour);
    const int plate = m_session.isOpen() ? m_session.job().find_plate(m_choice.plate().toStdString()) : -1;
    m_send->setText(plate < 0 ? tr("Choose a plate") : tr("To %1").arg(m_choice.plate()));
    const int flat = m_router.flatOf(colour);
    m_send->setEnabled((group >= 0 || flat >= 0) && plate >= 0);
    m_removePlate->setEnabled(plate >= 0);
    m_like->setEnabled(group >= 0);
    for (QPushButton *button : m_ends) {
        button->setEnabled(button->isCheckable() || group >= 0 ||
                           (flat >= 0 && (button->objectName() == QStringLiteral("endBare") ||
                                          button->objectName() == QStringLiteral("endRelease"))));
    }
    m_tint->setEnabled(m_amount->currentIndex() > 0);
    if (const auto &objects = m_choice.objects(); !objects.empty()) {
        m_send->setEnabled(plate >= 0);
        for (QPushButton *button : m_ends) {
            button->setEnabled(true);
        }
        m_detail->setText(
            tr("%1 chosen in the artwork; the buttons act on them, whatever their colours.")
                .arg(objects.size() == 1 ? tr("1 object") : tr("%1 objects").arg(objects.size())));
        return;
    }
    if (const auto others = static_cast<int>(m_choice.otherColours().size()); others > 0 && group >= 0) {
        m_detail->setText(tr("%1 and %2 chosen; the buttons act on all of them, in one step.")
                              .arg(m_router.nameOf(colour),
                                   others == 1 ? tr("1 more colour") : tr("%1 more colours").arg(others)));
        return;
    }
    if (flat >= 0) {
        const auto ink = m_router.flatInk(flat);
        m_detail->setText(
            tr("%1\nabout %2 cm²; %3")
                .arg(m_router.nameOf(colour))
                .arg(m_session.facts().flatColours()[static_cast<std::size_t>(flat)].square_cm, 0, 'f', 2)
                .arg(!ink           ? tr("prints with its picture")
                     : ink->empty() ? tr("background: shows what the picture leaves bare")
                                    : tr("prints on %1").arg(theme::text_of(*ink))));
        return;
    }
    if (group < 0) {
        m_detail->setText(
            tr("Choose a colour on the left and a plate on the right, or click in the artwork."));
        return;
    }
    const Scene &scene = m_session.page()->scene;
    const FoundColour &found = scene.colours[static_cast<std::size_t>(colour)];
    const ColourGroup &members = m_router.groups()[static_cast<std::size_t>(group)];
    int objects = 0;
    double area = 0;
    for (const int member : members.members) {
        objects += scene.colours[static_cast<std::size_t>(member)].objects;
        const auto i = static_cast<std::size_t>(member);
        area += i < m_session.facts().colourAreas().size() ? std::max(0.0, m_session.facts().colourAreas()[i])
                                                           : 0.0;
    }
    const Reach reach = m_router.reach(colour);
    QString fate;
    if (reach.route >= 0) {
        fate = theme::text_of(describe_end(m_session.job().routes[static_cast<std::size_t>(reach.route)]));
    } else if (reach.lost()) {
        fate = tr("reaches no plate");
    } else {
        QStringList plates;
        for (const InkAmount &one : reach.plates) {
            plates << tr("%1 %2").arg(theme::text_of(one.ink),
                                      theme::percent(static_cast<double>(one.amount), 0));
        }
        fate = plates.isEmpty() ? tr("holds no ink: it knocks out")
                                : tr("prints as it is: %1").arg(plates.join(tr(", ")));
    }
    QString what = theme::text_of(describe(found.colour));
    const QString leader =
        short_name(scene.colours[static_cast<std::size_t>(members.members.front())].colour);
    if (members.members.size() > 1) {
        const QString spread = QString::number(members.spread, 'f', 1);
        what = tr("%1 colours within %2 of %3")
                   .arg(members.members.size())
                   .arg(m_router.measure() == ColourMeasure::DeltaE ? tr("ΔE %1").arg(spread)
                                                                    : tr("%1 %").arg(spread),
                        leader);
    }
    m_detail->setText(tr("%1\n%2 cm², %3; %4")
                          .arg(what)
                          .arg(area, 0, 'f', 2)
                          .arg(objects == 1 ? tr("1 object") : tr("%1 objects").arg(objects), fate));
}

void RoutesPanel::setPouring(bool pours)
{
    for (QPushButton *button : m_ends) {
        button->setChecked(false);
        button->setCheckable(pours);
    }
    refreshDetail();
}

QString RoutesPanel::pourEnd() const
{
    const auto down = std::find_if(m_ends.begin(), m_ends.end(),
                                   [](const QPushButton *button) { return button->isChecked(); });
    return down == m_ends.end() ? QString() : (*down)->text();
}

bool RoutesPanel::pourToEnd()
{
    for (std::size_t i = 0; i < m_ends.size(); ++i) {
        if (m_ends[i]->isChecked()) {
            m_endActs[i]();
            return true;
        }
    }
    return false;
}

void RoutesPanel::takeEnd(int end)
{
    if (end >= 0 && end < m_firstFreeEnd) {
        m_choice.choosePlate(m_flow->ends()[static_cast<std::size_t>(end)].name);
    }
}

void RoutesPanel::send(int source, int end)
{
    const RouteTo to = end < m_firstFreeEnd                   ? RouteTo::Plates
                       : end - m_firstFreeEnd == BareStockEnd ? RouteTo::BareStock
                                                              : RouteTo::Nothing;
    const QString ink =
        to == RouteTo::Plates ? m_flow->ends()[static_cast<std::size_t>(end)].name : QString();
    if (const std::vector<int> objects = objectsOf(source);
        !objects.empty()) { // the rows are made anew by it
        m_router.routeObjects(objects, to, ink);
    } else if (!m_choice.otherColours().empty()) { // the one that was dragged is among them
        to == RouteTo::Plates ? m_router.sendChosen() : m_router.endChosen(to);
    } else if (to == RouteTo::Plates) {
        m_router.send(leaderOf(source), ink);
    } else {
        m_router.end(leaderOf(source), to);
    }
}

void RoutesPanel::takeAmount()
{
    if (m_amount->currentIndex() == 0) {
        m_tint->setValue(100);
    }
    m_router.setAmount(m_amount->currentIndex() == 1, m_tint->value() / 100.0);
}

void RoutesPanel::lightAlike()
{
    const int group = m_router.groupOf(m_choice.colour());
    if (group < 0) {
        return;
    }
    const auto &members = m_router.groups()[static_cast<std::size_t>(group)].members;
    std::vector<int> alike;
    for (const SceneObject &object : m_session.page()->scene.objects) {
        if (std::find(members.begin(), members.end(), object.colour_number) != members.end()) {
            alike.push_back(object.index);
        }
    }
    light_objects(m_session, m_spotlight, alike, tr("1 object"), tr("%1 objects like this"));
}

} // namespace bichrom
