#include "app/worktops/build/build_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/build/pour_row.h"
#include "app/worktops/build/step_edit.h"
#include "core/job/edits/make_plates.h"
#include "core/job/edits/plates.h"
#include "core/job/print_model.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>

#include <algorithm>

namespace bichrom {

namespace {

QString step_name(RecipeDo step)
{
    static const char *const names[] = {QT_TRANSLATE_NOOP("BuildWorktop", "add"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "keep only inside"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "take away"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "invert inside the area"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "levels"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "tone curve"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "threshold"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "constant tint"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "choke"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "spread"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "smooth"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "sharpen"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "remove thin parts"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "close gaps"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "keep away from"),
                                        QT_TRANSLATE_NOOP("BuildWorktop", "outline")};
    return BuildWorktop::tr(names[static_cast<std::size_t>(step)]);
}

QPushButton *small(const char *name, const QString &text, const QString &tip, QWidget *parent)
{
    auto *button = new QPushButton(text, parent);
    button->setObjectName(QLatin1String(name));
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setStyleSheet(QStringLiteral("padding: 3px 6px;"));
    return button;
}

QListWidget *make_list(const char *name, const QString &says, int height, QWidget *parent)
{
    auto *list = new QListWidget(parent);
    list->setObjectName(QLatin1String(name));
    list->setAccessibleName(says);
    list->setStyleSheet(theme::listStyle());
    list->setFont(theme::font(11));
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setTextElideMode(Qt::ElideRight);
    list->setFixedHeight(height);
    return list;
}

} // namespace

BuildWorktop::BuildWorktop(Session &session, Choice &choice, Spotlight &spotlight, QWidget *parent)
    : Worktop(parent), m_session(session), m_choice(choice), m_spotlight(spotlight)
{
    setObjectName(QStringLiteral("buildWorktop"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 12, 16, 10);
    column->setSpacing(6);
    column->addWidget(make_heading(tr("Build"), this));
    auto *make = new QHBoxLayout();
    make->setSpacing(4);
    m_presets = new QComboBox(this);
    m_presets->setObjectName(QStringLiteral("presets"));
    m_presets->setAccessibleName(tr("Ready-made recipes"));
    m_make = new QPushButton(tr("Make"), this);
    m_make->setObjectName(QStringLiteral("makePlate"));
    m_make->setProperty("main", true);
    m_make->setToolTip(tr("Adds a plate that this recipe computes; its steps can be changed"));
    make->addWidget(m_presets, 1);
    make->addWidget(m_make);
    column->addLayout(make);
    m_about = make_label({}, 11, QFont::Normal, true, this);
    m_about->setWordWrap(true);
    column->addWidget(m_about);
    m_pour = new PourRow(session, choice, this);
    connect(m_pour, &PourRow::pourWanted, this, &BuildWorktop::pourWanted);
    connect(m_pour, &PourRow::note, this, &BuildWorktop::note);
    column->addWidget(m_pour);
    auto *head = new QHBoxLayout();
    head->setSpacing(4);
    m_chosen = make_label({}, 12, QFont::DemiBold, false, this);
    m_chosen->setObjectName(QStringLiteral("chosenPlate"));
    head->addWidget(m_chosen);
    head->addStretch();
    m_later = small("plateLater", QStringLiteral("↑"), tr("Prints later, on top"), this);
    m_earlier = small("plateEarlier", QStringLiteral("↓"), tr("Prints earlier, underneath"), this);
    head->addWidget(m_later);
    head->addWidget(m_earlier);
    column->addLayout(head);
    buildPrinting(column);
    column->addWidget(make_rule(this));
    auto *steps = new QHBoxLayout();
    steps->setSpacing(4);
    steps->addWidget(make_label(tr("Recipe"), 11, QFont::DemiBold, true, this));
    steps->addStretch();
    m_up = small("stepUp", QStringLiteral("↑"), tr("One step earlier"), this);
    m_down = small("stepDown", QStringLiteral("↓"), tr("One step later"), this);
    m_remove = small("stepRemove", QStringLiteral("×"), tr("Removes the step"), this);
    for (QPushButton *button : {m_up, m_down, m_remove}) {
        steps->addWidget(button);
    }
    column->addLayout(steps);
    m_steps = make_list("recipeSteps", tr("Steps of the recipe"), 92, this);
    column->addWidget(m_steps);
    m_kinds = new QComboBox(this);
    m_kinds->setObjectName(QStringLiteral("addStep"));
    m_kinds->setAccessibleName(tr("Add a step"));
    m_kinds->addItem(tr("Add a step …"));
    for (const RecipeDo step : all_recipe_steps) {
        m_kinds->addItem(step_name(step));
    }
    column->addWidget(m_kinds);
    auto *room = new QScrollArea(this); // steps with many settings are taller than a small window
    room->setWidgetResizable(true);
    room->setFrameShape(QFrame::NoFrame);
    room->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_step = new StepEdit(room);
    room->setWidget(m_step);
    column->addWidget(room, 1);
    m_result = make_label({}, 11, QFont::DemiBold, false, this);
    m_result->setObjectName(QStringLiteral("buildResult"));
    column->addWidget(m_result);
    m_faults = make_list("plateFaults", tr("What the shop rules say of the plates"), 64, this);
    m_faults->setToolTip(tr("Lights the place in the artwork; all of them stand in Receive, Findings"));
    column->addWidget(m_faults);

    connect(m_presets, &QComboBox::currentIndexChanged, this, [this](int row) {
        m_about->setText(row >= 0 && row < static_cast<int>(m_known.size())
                             ? theme::text_of(m_known[static_cast<std::size_t>(row)].about)
                             : QString());
    });
    connect(m_make, &QPushButton::clicked, this, &BuildWorktop::makePlate);
    connect(m_later, &QPushButton::clicked, this, [this] { movePlate(1); });
    connect(m_earlier, &QPushButton::clicked, this, [this] { movePlate(-1); });
    connect(m_steps, &QListWidget::currentRowChanged, this, &BuildWorktop::refreshSteps);
    connect(m_up, &QPushButton::clicked, this, [this] { moveStep(-1); });
    connect(m_down, &QPushButton::clicked, this, [this] { moveStep(1); });
    connect(m_remove, &QPushButton::clicked, this, [this] {
        const int row = m_steps->currentRow();
        editPlate(tr("Remove a step"), {},
                  [row](Plate &edited) { edited.recipe.erase(edited.recipe.begin() + row); });
    });
    connect(m_kinds, &QComboBox::activated, this, &BuildWorktop::addStep);
    connect(m_step, &StepEdit::changed, this, [this](const RecipeStep &step) {
        const int row = m_steps->currentRow();
        editPlate(tr("Recipe: %1").arg(theme::text_of(describe(step))), QStringLiteral("step %1").arg(row),
                  [&](Plate &edited) { edited.recipe[static_cast<std::size_t>(row)] = step; });
    });
    connect(m_faults, &QListWidget::currentRowChanged, this, &BuildWorktop::lightFault);
    connect(m_faults, &QListWidget::itemClicked, this, [this] { lightFault(m_faults->currentRow()); });
    connect(&m_session.facts(), &Facts::findingsChanged, this, &BuildWorktop::refreshResult);
    connect(&m_session.facts(), &Facts::coverageChanged, this, &BuildWorktop::refreshResult);
    connect(&m_choice, &Choice::plateChanged, this, &BuildWorktop::refresh);
    connect(&m_session, &Session::jobChanged, this, &BuildWorktop::refresh);
    refresh();
}

void BuildWorktop::buildPrinting(QVBoxLayout *column)
{
    auto *row = new QHBoxLayout();
    row->setSpacing(6);
    m_hits = new QComboBox(this);
    m_hits->setObjectName(QStringLiteral("plateHits"));
    m_hits->setAccessibleName(tr("Hits"));
    m_hits->addItems({tr("1 hit"), tr("2 hits"), tr("3 hits")});
    m_wet = new QCheckBox(tr("wet"), this);
    m_wet->setObjectName(QStringLiteral("plateWet"));
    m_wet->setToolTip(tr("Printed on the plates before it while they are wet: less ink takes"));
    m_flash = new QCheckBox(tr("flash"), this);
    m_flash->setObjectName(QStringLiteral("plateFlash"));
    m_flash->setToolTip(tr("Dried by a flash after this plate"));
    m_mesh = new NumberField(tr("/cm"), 0, NumberField::plain(tr("/cm"), 0, 1000), this);
    m_mesh->setObjectName(QStringLiteral("plateMesh"));
    m_mesh->setAccessibleName(tr("Mesh, threads per cm; 0 = not said"));
    m_mesh->setToolTip(m_mesh->accessibleName());
    m_mesh->setFixedWidth(62);
    row->addWidget(m_hits);
    row->addWidget(m_wet);
    row->addWidget(m_flash);
    row->addStretch();
    row->addWidget(m_mesh);
    column->addLayout(row);
    auto *ink = new QHBoxLayout();
    ink->setSpacing(6);
    m_opacity = new QComboBox(this);
    m_opacity->setObjectName(QStringLiteral("plateOpacity"));
    m_opacity->setAccessibleName(tr("Opacity of the ink"));
    m_opacity->setToolTip(
        tr("How much the ink hides what is under it, by its scattering; an estimate for inks "
           "that were not measured over black"));
    m_opacity->addItem(tr("transparent"), 0.0);
    m_opacity->addItem(tr("half opaque"), 0.5);
    m_opacity->addItem(tr("nearly opaque"), 0.9);
    m_opacity->addItem(tr("opaque"), 1.0);
    m_tin = new QComboBox(this);
    m_tin->setObjectName(QStringLiteral("plateTin"));
    m_tin->setAccessibleName(tr("Tin the ink comes from"));
    m_tin->setToolTip(tr("The same ink may print twice: a base and its highlight, say"));
    ink->addWidget(m_opacity);
    ink->addWidget(m_tin, 1);
    column->addLayout(ink);
    connect(m_opacity, &QComboBox::activated, this, [this](int index) {
        const double opacity = m_opacity->itemData(index).toDouble();
        editPlate(tr("Opacity"), {}, [opacity](Plate &edited) { edited.traits.opacity = opacity; });
    });
    connect(m_tin, &QComboBox::activated, this, [this](int index) {
        if (plate() != nullptr) {
            Job job = m_session.job();
            job.plates[static_cast<std::size_t>(job.find_plate(plate()->ink))].tin =
                m_tin->itemData(index).toString().toStdString();
            m_session.change(job, tr("Tin"));
        }
    });
    connect(m_hits, &QComboBox::activated, this, [this](int index) {
        editPlate(tr("Hits"), {}, [index](Plate &edited) { edited.printing.hits = index + 1; });
    });
    connect(m_wet, &QCheckBox::clicked, this, [this](bool on) {
        editPlate(tr("Wet on wet"), {}, [on](Plate &edited) { edited.printing.wet = on; });
    });
    connect(m_flash, &QCheckBox::clicked, this, [this](bool on) {
        editPlate(tr("Flash"), {}, [on](Plate &edited) { edited.printing.flash = on; });
    });
    connect(m_mesh, &NumberField::valueEntered, this, [this](double mesh) {
        editPlate(tr("Mesh"), {}, [mesh](Plate &edited) { edited.printing.mesh = mesh; });
    });
}

const Plate *BuildWorktop::plate() const
{
    if (!m_session.isOpen()) {
        return nullptr;
    }
    const Job &job = m_session.job();
    const int at = job.find_plate(m_choice.plate().toStdString());
    return at < 0 ? nullptr : &job.plates[static_cast<std::size_t>(at)];
}

void BuildWorktop::editPlate(const QString &text, const QString &key,
                             const std::function<void(Plate &)> &change)
{
    if (plate() == nullptr) {
        return;
    }
    Job job = m_session.job();
    const std::string ink = plate()->ink;
    change(job.plates[static_cast<std::size_t>(job.find_plate(ink))]);
    m_session.change(job, text, key.isEmpty() ? key : theme::text_of(ink) + QLatin1Char(' ') + key);
}

void BuildWorktop::refresh()
{
    setEnabled(m_session.isOpen());
    const QSignalBlocker quiet_steps(m_steps);
    const int step = m_steps->currentRow();
    m_chosen->setText(tr("Choose a plate in the lay-down"));
    m_steps->clear();
    if (!m_session.isOpen()) {
        refreshSteps();
        return;
    }
    const Job &job = m_session.job();
    QStringList order;
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        const Plate &one = job.plates[i];
        order << (prints_wet(job.plates, i) ? tr("wet on it ") : QString()) +
                     (one.printing.hits > 1
                          ? tr("%1 (%2 hits)").arg(theme::text_of(one.ink)).arg(one.printing.hits)
                          : theme::text_of(one.ink)) +
                     (one.printing.flash ? tr(", flash") : QString());
    }
    m_chosen->setToolTip(
        tr("On %1: %2.").arg(theme::text_of(job.stock_here().name), order.join(tr(", then "))));
    m_known = recipe_presets(presetTable());
    const int preset = std::max(0, m_presets->currentIndex());
    const QSignalBlocker quiet_presets(m_presets);
    m_presets->clear();
    for (const RecipePreset &one : m_known) {
        m_presets->addItem(theme::text_of(one.name));
    }
    m_presets->setCurrentIndex(preset);
    m_about->setText(theme::text_of(m_known[static_cast<std::size_t>(preset)].about));
    const Plate *chosen = plate();
    if (chosen != nullptr) {
        const QString ink = theme::text_of(chosen->ink);
        m_chosen->setText(
            chosen->recipe.empty() ? ink
            : chosen->recipe_pages.empty()
                ? tr("%1, computed").arg(ink)
                : tr("%1, computed %2").arg(ink, theme::text_of(describe_pages(chosen->recipe_pages))));
        m_hits->setCurrentIndex(chosen->printing.hits - 1);
        m_wet->setChecked(chosen->printing.wet);
        m_flash->setChecked(chosen->printing.flash);
        m_mesh->setValue(chosen->printing.mesh);
        int nearest = 0;
        for (int i = 0; i < m_opacity->count(); ++i) {
            const auto away = [&](int row) {
                return std::abs(m_opacity->itemData(row).toDouble() - chosen->traits.opacity);
            };
            nearest = away(i) < away(nearest) ? i : nearest;
        }
        m_opacity->setCurrentIndex(nearest);
        m_tin->clear();
        m_tin->addItem(tr("a tin of its own"), QString());
        bool shared = false; // others print from this plate's tin: it cannot print from another's
        for (const Plate &one : job.plates) {
            shared = shared || one.tin == chosen->ink;
        }
        for (const Plate &one : job.plates) {
            if (!shared && one.tin.empty() && one.ink != chosen->ink && one.kind != InkUse::Process) {
                m_tin->addItem(tr("from the tin of %1").arg(theme::text_of(one.ink)),
                               theme::text_of(one.ink));
            }
        }
        m_tin->setCurrentIndex(std::max(0, m_tin->findData(theme::text_of(chosen->tin))));
        int number = 0;
        for (const RecipeStep &one : chosen->recipe) {
            m_steps->addItem(QStringLiteral("%1  %2").arg(++number).arg(theme::text_of(describe(one))));
        }
        if (chosen->recipe.empty()) {
            m_steps->addItem(tr("as the artwork and its routes make it"));
            m_steps->item(0)->setFlags(Qt::NoItemFlags);
        } else {
            m_steps->setCurrentRow(std::clamp(step, 0, m_steps->count() - 1));
        }
    }
    const int at = chosen == nullptr ? -1 : job.find_plate(chosen->ink);
    for (QWidget *widget :
         std::initializer_list<QWidget *>{m_hits, m_wet, m_flash, m_mesh, m_kinds, m_opacity, m_tin}) {
        widget->setEnabled(chosen != nullptr);
    }
    m_wet->setEnabled(at > 0);
    refreshResult();
    m_earlier->setEnabled(at > 0);
    m_later->setEnabled(at >= 0 && at + 1 < static_cast<int>(job.plates.size()));
    refreshSteps();
}

/// Coverage of the chosen plate, and what checks say of all plates.
void BuildWorktop::refreshResult()
{
    const QSignalBlocker quiet(m_faults);
    m_faults->clear();
    m_shownFaults.clear();
    const Plate *chosen = plate();
    m_result->clear();
    if (chosen != nullptr) {
        const double share = m_session.facts().coverage(chosen->ink);
        const Rect trim = m_session.trimArea();
        m_result->setText(share < 0
                              ? tr("%1: …").arg(theme::text_of(chosen->ink))
                              : tr("%1: %2 of the trim, %3 cm²")
                                    .arg(theme::text_of(chosen->ink), theme::percent(share, 1),
                                         QString::number(share * trim.width * trim.height / 100, 'f', 1)));
    }
    for (const Finding &finding : m_session.facts().plateFindings()) {
        double mm2 = 0; // where places are areas
        for (const FindingPlace &place : finding.places) {
            const QString measured = theme::text_of(place.measured);
            mm2 += measured.endsWith(QStringLiteral(" mm²")) ? measured.chopped(4).toDouble() : 0;
        }
        const QString amount =
            mm2 > 0 ? tr("%1 mm²: ").arg(QString::number(mm2, 'f', mm2 < 10 ? 1 : 0)) : QString();
        m_faults->addItem(amount + theme::text_of(finding.title));
        m_faults->item(m_faults->count() - 1)->setToolTip(theme::text_of(finding.why + " " + finding.remedy));
        m_shownFaults.push_back(finding);
    }
    if (m_session.isOpen() && m_shownFaults.empty()) {
        m_faults->addItem(faultsSaid());
        m_faults->item(0)->setFlags(Qt::NoItemFlags);
    }
    constexpr int row_height = 20, most_rows = 3; // the room is the step's
    m_faults->setFixedHeight(std::clamp(m_faults->count(), 1, most_rows) * row_height + 6);
}

/// What is said where no fault is listed.
QString BuildWorktop::faultsSaid() const
{
    using State = Fact<Facts::Followed>::State;
    const Fact<Facts::Followed> &followed = m_session.facts().followed();
    switch (followed.state()) {
    case State::Unknown:
        return tr("the plates have not been checked");
    case State::Running:
        return tr("the plates are being checked ...");
    case State::Failed:
        return tr("the plates could not be checked: %1").arg(followed.fault());
    case State::Known:
        break;
    }
    return tr("no fault of the plates found");
}

void BuildWorktop::lightFault(int row)
{
    if (row < 0 || row >= static_cast<int>(m_shownFaults.size())) {
        return;
    }
    const Finding &finding = m_shownFaults[static_cast<std::size_t>(row)];
    std::vector<QRectF> areas;
    for (const FindingPlace &place : finding.places) {
        if (place.area.width > 0 && place.area.height > 0) {
            areas.push_back(m_session.shownArea(place.area));
        }
    }
    if (areas.empty()) {
        m_spotlight.clear();
    } else {
        m_spotlight.light(std::move(areas), 0, theme::text_of(finding.title), -1, true);
    }
}

void BuildWorktop::refreshSteps()
{
    const Plate *chosen = plate();
    const int count = chosen == nullptr ? 0 : static_cast<int>(chosen->recipe.size());
    const int row = m_steps->currentRow();
    const bool known = row >= 0 && row < count;
    m_up->setEnabled(known && row > 0);
    m_down->setEnabled(known && row + 1 < count);
    m_remove->setEnabled(known);
    m_step->show(known ? &chosen->recipe[static_cast<std::size_t>(row)] : nullptr,
                 m_session.isOpen() ? m_session.job() : Job());
}

PresetTable BuildWorktop::presetTable() const
{
    const Rect trim = m_session.trimArea();
    const Rect media = m_session.mediaArea({trim.x, trim.y, trim.width, trim.height});
    std::vector<Rect> folds;
    for (const Fold &fold : m_session.facts().rules().folds) {
        folds.push_back(fold.upright ? Rect{media.x + fold.at.value, media.y, 0, media.height}
                                     : Rect{media.x, media.y + fold.at.value, media.width, 0});
    }
    return preset_table(m_session.job(), m_session.page()->scene, std::move(folds));
}

void BuildWorktop::makePlate()
{
    const int row = m_presets->currentIndex();
    if (!m_session.isOpen() || row < 0) {
        return;
    }
    const auto made = make_preset_plate(m_session.job(), m_known[static_cast<std::size_t>(row)]);
    if (made) {
        const QString ink = theme::text_of(made->ink);
        m_session.change(made->job, tr("Make %1").arg(ink));
        m_choice.choosePlate(ink);
    }
}

void BuildWorktop::addStep()
{
    const int kind = m_kinds->currentIndex() - 1;
    m_kinds->setCurrentIndex(0);
    if (kind < 0) {
        return;
    }
    RecipeStep step;
    step.does = all_recipe_steps[static_cast<std::size_t>(kind)];
    step.distance = has_distance(step.does) ? 0.2 : 0;
    step.source.from = step.does == RecipeDo::KeepAway ? RecipeFrom::Box : RecipeFrom::Area;
    const bool halves =
        step.does == RecipeDo::Threshold || step.does == RecipeDo::Tint || step.does == RecipeDo::Sharpen;
    step.amount = halves ? 0.5 : 1;
    editPlate(tr("Recipe: %1").arg(theme::text_of(describe(step))), {}, [&](Plate &edited) {
        if (edited.recipe.empty() && step.does != RecipeDo::Add) {
            RecipeStep own; // a recipe begins bare: what is on the plate stays
            own.source.from = RecipeFrom::Plate;
            own.source.inks = {edited.ink};
            edited.recipe.push_back(own);
        }
        edited.recipe.push_back(step);
    });
    m_steps->setCurrentRow(m_steps->count() - 1);
}

void BuildWorktop::moveStep(int by)
{
    const int row = m_steps->currentRow();
    editPlate(tr("Another order of steps"), {}, [&](Plate &edited) {
        std::swap(edited.recipe[static_cast<std::size_t>(row)],
                  edited.recipe[static_cast<std::size_t>(row + by)]);
    });
    m_steps->setCurrentRow(row + by);
}

void BuildWorktop::movePlate(int by)
{
    const Plate *chosen = plate();
    if (chosen == nullptr) {
        return;
    }
    const Job &job = m_session.job();
    const int to = job.find_plate(chosen->ink) + by;
    if (to >= 0) {
        m_session.change(move_plate(job, static_cast<std::size_t>(to - by), static_cast<std::size_t>(to)),
                         tr("Another printing order"));
    }
}

bool BuildWorktop::pour(QPointF mm, const std::vector<int> &objects, Gesture how)
{
    return m_pour->pour(mm, objects, how, m_steps->currentRow());
}

void BuildWorktop::areaDrawn(const QRectF &area, Gesture how)
{
    m_pour->draw(area, how, m_steps->currentRow());
}

QString BuildWorktop::pourWords() const
{
    return tr("a click adds the object there to the chosen plate, once more takes it out; Alt takes away");
}

void BuildWorktop::setHand(bool pours, bool draws)
{
    if (!pours && !draws) { // both fill a plate
        m_pour->stop();
    }
}

} // namespace bichrom
