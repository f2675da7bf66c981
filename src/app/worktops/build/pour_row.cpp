#include "app/worktops/build/pour_row.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/job/edits/make_plates.h"
#include "core/job/edits/pour.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>

#include <algorithm>

namespace bichrom {

namespace {

bool adds_objects(const RecipeStep &step)
{
    return step.does == RecipeDo::Add && step.source.from == RecipeFrom::Objects;
}

} // namespace

PourRow::PourRow(Session &session, Choice &choice, QWidget *parent)
    : QWidget(parent), m_session(session), m_choice(choice)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    row->addWidget(make_label(tr("Pour"), 11, QFont::DemiBold, true, this));
    row->addSpacing(4);
    m_kinds = new QButtonGroup(this);
    m_kinds->setExclusive(false); // one or none
    struct Entry
    {
        InkUse use;
        QString object, name;
    };
    for (const Entry &entry : {Entry{InkUse::White, QStringLiteral("pourWhite"), tr("White")},
                               Entry{InkUse::Varnish, QStringLiteral("pourVarnish"), tr("Varnish")},
                               Entry{InkUse::Foil, QStringLiteral("pourFoil"), tr("Foil")},
                               Entry{InkUse::Metallic, QStringLiteral("pourMetallic"), tr("Metallic")}}) {
        auto *button = new QPushButton(entry.name, this);
        button->setObjectName(entry.object);
        button->setCheckable(true);
        button->setProperty("target", true);
        button->setStyleSheet(QStringLiteral("padding: 3px 6px;"));
        button->setToolTip(
            tr("Click objects, or draw areas (A): they are on this plate, which is made by the "
               "first. Once more, or with Alt, takes away"));
        m_kinds->addButton(button, static_cast<int>(entry.use));
        row->addWidget(button);
    }
    row->addStretch();
    connect(m_kinds, &QButtonGroup::idClicked, this, [this](int id) {
        for (QAbstractButton *other : m_kinds->buttons()) {
            if (m_kinds->id(other) != id) {
                other->setChecked(false);
            }
        }
        if (kind()) {
            const Job &job = m_session.job();
            const auto known = std::find_if(job.plates.begin(), job.plates.end(),
                                            [&](const Plate &plate) { return takes(plate, *kind()); });
            if (known != job.plates.end()) { // its steps are what the artist looks at
                m_choosing = true;
                m_choice.choosePlate(theme::text_of(known->ink));
                m_choosing = false;
            }
            Q_EMIT pourWanted();
        }
    });
    connect(&m_choice, &Choice::plateChanged, this, [this] {
        if (!m_choosing) { // another plate is meant now
            stop();
        }
    });
}

std::optional<InkUse> PourRow::kind() const
{
    for (const QAbstractButton *button : m_kinds->buttons()) {
        if (button->isChecked()) {
            return static_cast<InkUse>(m_kinds->id(const_cast<QAbstractButton *>(button)));
        }
    }
    return std::nullopt;
}

void PourRow::stop()
{
    for (QAbstractButton *button : m_kinds->buttons()) {
        button->setChecked(false);
    }
}

bool PourRow::takes(const Plate &plate, InkUse use)
{
    return plate.kind == use && std::any_of(plate.recipe.begin(), plate.recipe.end(), adds_objects);
}

const Plate *PourRow::chosenPlate() const
{
    const Job &job = m_session.job();
    const int at = job.find_plate(m_choice.plate().toStdString());
    return at < 0 ? nullptr : &job.plates[static_cast<std::size_t>(at)];
}

std::string PourRow::target(Job &job) const
{
    const Plate *chosen = chosenPlate();
    const std::optional<InkUse> use = kind();
    if (!use || (chosen != nullptr && takes(*chosen, *use))) {
        return chosen == nullptr ? std::string() : chosen->ink;
    }
    const auto known = std::find_if(job.plates.begin(), job.plates.end(),
                                    [&](const Plate &plate) { return takes(plate, *use); });
    if (known != job.plates.end()) {
        return known->ink;
    }
    const auto presets = recipe_presets(preset_table(job, m_session.page()->scene));
    const auto preset = std::find_if(presets.begin(), presets.end(), [&](const RecipePreset &one) {
        return one.use == *use && one.recipe.size() == 1 && adds_objects(one.recipe.front());
    });
    if (preset == presets.end()) {
        return {};
    }
    auto made = make_preset_plate(job, *preset);
    if (!made) {
        return {};
    }
    job = std::move(made->job);
    return made->ink;
}

void PourRow::change(const Job &job, const std::string &ink, const QString &text)
{
    const QString plate = theme::text_of(ink); // of the job that now goes, it may be
    m_session.change(job, text);
    m_choosing = true;
    m_choice.choosePlate(plate);
    m_choosing = false;
}

bool PourRow::pour(QPointF mm, const std::vector<int> &objects, Gesture how, int step)
{
    if (!kind() && chosenPlate() == nullptr) {
        return false;
    }
    if (takeBackArea(mm)) {
        return true;
    }
    if (objects.empty()) {
        Q_EMIT note(tr("Nothing is painted there. Areas are drawn with Area (A)."));
        return true;
    }
    Job job = m_session.job();
    const std::string ink = target(job);
    const int at = job.find_plate(ink);
    if (at < 0 || job.plates[static_cast<std::size_t>(at)].recipe.empty()) {
        Q_EMIT note(
            tr("%1 is made by the artwork and its routes; pour there in Ink.").arg(theme::text_of(ink)));
        return true;
    }
    const bool chosen = ink == m_choice.plate().toStdString();
    const SceneObject &object = m_session.page()->scene.objects[static_cast<std::size_t>(objects.back())];
    change(pour_object(std::move(job), ink, object.artwork, m_session.markOf(objects.back()),
                       {chosen ? step : -1, how.away}),
           ink, tr("Pour an object"));
    return true;
}

void PourRow::draw(const QRectF &area, Gesture how, int step)
{
    Job job = m_session.job();
    const std::string ink = target(job);
    if (ink.empty()) {
        Q_EMIT note(tr("Choose the plate that the area is for, in the lay-down, or what to pour."));
        return;
    }
    const bool chosen = ink == m_choice.plate().toStdString();
    change(pour_area(std::move(job), ink, m_session.mediaArea(area), {chosen ? step : -1, how.away}), ink,
           tr("Draw an area"));
}

/// Removes the area that was drawn last over a place for the chosen plate, if any.
bool PourRow::takeBackArea(QPointF mm)
{
    const Plate *plate = chosenPlate();
    if (plate == nullptr) {
        return false;
    }
    const Rect at = m_session.mediaArea({mm, QSizeF(0, 0)});
    Job job = m_session.job();
    for (RecipeStep &step : job.plates[static_cast<std::size_t>(job.find_plate(plate->ink))].recipe) {
        if (!has_source(step.does) || step.source.from != RecipeFrom::Drawn) {
            continue;
        }
        auto &areas = step.source.areas;
        const auto drawn = std::find_if(areas.rbegin(), areas.rend(), [&](const Rect &area) {
            return at.x >= area.x && at.x <= area.x + area.width && at.y >= area.y &&
                   at.y <= area.y + area.height;
        });
        if (drawn != areas.rend()) {
            areas.erase(std::next(drawn).base());
            change(job, plate->ink, tr("Remove a drawn area"));
            return true;
        }
    }
    return false;
}

} // namespace bichrom
