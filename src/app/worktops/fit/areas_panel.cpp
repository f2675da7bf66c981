#include "app/worktops/fit/areas_panel.h"

#include "app/widgets/area_painter.h"
#include "app/widgets/controls.h"
#include "app/widgets/kept_sets_row.h"
#include "app/widgets/theme.h"
#include "core/artwork/page_boxes.h"
#include "core/job/edits/areas.h"
#include "core/job/kept_sets.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>

#include <algorithm>

namespace bichrom {

namespace {

constexpr int area_role = Qt::UserRole;         // its number in the job
constexpr int template_role = Qt::UserRole + 1; // the artwork's number

QString size_words(const NamedArea &one)
{
    const auto mm = [](double length) { return theme::text_of(format_number(length, 1)); };
    return one.kind == AreaKind::Fold
               ? AreasPanel::tr("%1 mm long").arg(mm(std::max(one.area.width, one.area.height)))
               : QStringLiteral("%1 × %2 mm").arg(mm(one.area.width), mm(one.area.height));
}

} // namespace

AreasPanel::AreasPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to say where it is folded, glued or kept free."), parent),
      m_prompts(prompts)
{
    setObjectName(QStringLiteral("areasPanel"));
    auto *kept = new KeptSetsRow(
        QStringLiteral("areas"), QStringLiteral("areas"),
        [this](const std::string &name) {
            return area_set_text(name, area_set_of(m_session.job(), m_session.page()->info));
        },
        m_body);
    m_column->addWidget(kept);
    connect(kept, &KeptSetsRow::chosen, this, &AreasPanel::useKept);
    connect(kept, &KeptSetsRow::failed, this, [this](const QString &words) { m_words->setText(words); });
    m_list = new QListWidget(m_body);
    m_list->setObjectName(QStringLiteral("areaList"));
    m_list->setAccessibleName(tr("Areas and templates"));
    m_list->setStyleSheet(theme::listStyle());
    m_list->setFont(theme::font(12));
    m_list->setMinimumHeight(120);
    m_column->addWidget(m_list, 1);
    auto *buttons = new QHBoxLayout();
    buttons->setSpacing(4);
    auto *made = make_small_button("addArea", tr("Add an area"),
                                   tr("In the middle of the trim; or draw one on the light table"), m_body);
    m_remove = make_small_button("removeArea", tr("Remove"), tr("Takes the area or template away"), m_body);
    buttons->addWidget(made);
    buttons->addStretch();
    buttons->addWidget(m_remove);
    m_column->addLayout(buttons);
    m_fields = new QWidget(m_body);
    auto *grid = new QGridLayout(m_fields);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(0, 1);
    m_kind = new QComboBox(m_fields);
    m_kind->setObjectName(QStringLiteral("areaKind"));
    m_kind->setAccessibleName(tr("What the area is"));
    for (const AreaKind kind : all_area_kinds) {
        m_kind->addItem(area_words(kind));
    }
    m_name = new QLineEdit(m_fields);
    m_name->setObjectName(QStringLiteral("areaName"));
    m_name->setAccessibleName(tr("Name of the area"));
    m_name->setPlaceholderText(tr("a name"));
    grid->addWidget(m_kind, 0, 0);
    grid->addWidget(m_name, 0, 1, 1, 2);
    const auto field = [&](const char *object, const QString &name, double low) {
        return make_number_field(object, name, tr("mm"), 2, NumberField::length(low, 20000), 82, {},
                                 m_fields);
    };
    m_x = field("areaX", tr("From the trim's left"), -20000);
    m_y = field("areaY", tr("From the trim's top"), -20000);
    m_width = field("areaWidth", tr("Width"), 0);
    m_height = field("areaHeight", tr("Height"), 0);
    grid->addWidget(make_label(tr("From trim → ↓"), 12, QFont::Normal, true, m_fields), 1, 0);
    grid->addWidget(m_x, 1, 1);
    grid->addWidget(m_y, 1, 2);
    grid->addWidget(make_label(tr("Width, height"), 12, QFont::Normal, true, m_fields), 2, 0);
    grid->addWidget(m_width, 2, 1);
    grid->addWidget(m_height, 2, 2);
    m_thisPage = new QCheckBox(tr("on this page only"), m_fields);
    m_thisPage->setObjectName(QStringLiteral("areaThisPage"));
    grid->addWidget(m_thisPage, 3, 0, 1, 3);
    m_column->addWidget(m_fields);
    m_column->addWidget(make_rule(m_body));
    auto *ends = new QHBoxLayout();
    ends->setSpacing(4);
    m_shownBox = new QCheckBox(tr("Shown"), m_body);
    m_shownBox->setObjectName(QStringLiteral("areasShown"));
    m_shownBox->setToolTip(tr("Areas and templates are drawn over the page; they never print"));
    auto *laid = make_small_button("layTemplate", tr("Lay a template over …"),
                                   tr("A file that is looked at and never prints"), m_body);
    ends->addWidget(m_shownBox);
    ends->addStretch();
    ends->addWidget(laid);
    m_column->addLayout(ends);
    m_words = make_label({}, 11, QFont::Normal, true, m_body);
    m_words->setObjectName(QStringLiteral("areasWords"));
    m_words->setWordWrap(true);
    m_column->addWidget(m_words);

    connect(made, &QPushButton::clicked, this, [this] {
        const Rect trim = box_within(m_session.page()->info, PageBox::Trim, PageBox::Media);
        add({trim.x + trim.width / 3, trim.y + trim.height / 3, trim.width / 3, trim.height / 3});
    });
    connect(m_remove, &QPushButton::clicked, this, &AreasPanel::remove);
    connect(laid, &QPushButton::clicked, this, &AreasPanel::layTemplate);
    connect(m_list, &QListWidget::currentRowChanged, this, &AreasPanel::fillFields);
    connect(m_shownBox, &QCheckBox::clicked, this, [this](bool on) { m_view.setShowsAreas(on); });
    connect(&m_view, &ViewState::overlayChanged, this,
            [this] { m_shownBox->setChecked(m_view.showsAreas()); });
    connect(m_kind, &QComboBox::activated, this, [this](int index) {
        m_last = all_area_kinds[static_cast<std::size_t>(index)];
        change(tr("An area is: %1").arg(area_words(m_last)), [this](NamedArea &one) { one.kind = m_last; });
    });
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const std::string name = m_name->text().trimmed().toStdString();
        change(tr("Name of an area"), [&](NamedArea &one) { one.name = name; });
    });
    const auto edits = [this](NumberField *number, const auto &set) {
        connect(number, &NumberField::valueEntered, this, [this, set](double mm) {
            const Rect trim = box_within(m_session.page()->info, PageBox::Trim, PageBox::Media);
            change(tr("Place of an area"), [&](NamedArea &one) { set(one.area, mm, trim); });
        });
    };
    edits(m_x, [](Rect &area, double mm, const Rect &trim) { area.x = trim.x + mm; });
    edits(m_y, [](Rect &area, double mm, const Rect &trim) { area.y = trim.y + mm; });
    edits(m_width, [](Rect &area, double mm, const Rect &) { area.width = mm; });
    edits(m_height, [](Rect &area, double mm, const Rect &) { area.height = mm; });
    connect(m_thisPage, &QCheckBox::clicked, this, [this](bool on) {
        change(on ? tr("An area of this page only") : tr("An area of all pages"),
               [&](NamedArea &one) { one.page = on ? m_session.job().page : 0; });
    });
    refresh();
}

int AreasPanel::chosenArea() const
{
    const QListWidgetItem *item = m_list->currentItem();
    return item == nullptr || !item->data(area_role).isValid() ? -1 : item->data(area_role).toInt();
}

int AreasPanel::chosenTemplate() const
{
    const QListWidgetItem *item = m_list->currentItem();
    return item == nullptr ? 0 : item->data(template_role).toInt();
}

void AreasPanel::change(const QString &text, const std::function<void(NamedArea &)> &edit)
{
    const int number = chosenArea();
    Job job = m_session.job();
    if (number < 0 || static_cast<std::size_t>(number) >= job.areas.size()) {
        return;
    }
    edit(job.areas[static_cast<std::size_t>(number)]);
    if (const Done good = check_areas(job.areas); !good) {
        m_words->setText(theme::text_of(good.error().message()));
        fillFields();
        return;
    }
    m_session.change(job, text);
}

void AreasPanel::add(const Rect &area)
{
    Job job = m_session.job();
    job.areas.push_back({m_last, {}, area, 0});
    if (const Done good = check_areas(job.areas); !good) {
        m_words->setText(theme::text_of(good.error().message()));
        return;
    }
    m_session.change(job, tr("Add an area: %1").arg(area_words(m_last)));
    for (int i = 0; i < m_list->count(); ++i) {
        if (m_list->item(i)->data(area_role).isValid()) {
            m_list->setCurrentRow(i); // the last of them
        }
    }
}

void AreasPanel::addArea(const QRectF &shown)
{
    add(m_session.mediaArea(shown));
}

void AreasPanel::remove()
{
    if (const int number = chosenArea(); number >= 0) {
        Job job = m_session.job();
        job.areas.erase(job.areas.begin() + number);
        m_session.change(job, tr("Remove an area"));
    } else if (const int id = chosenTemplate(); id > 0) {
        Placements placements = m_session.job().placements;
        const auto at = std::find_if(placements.artworks.begin(), placements.artworks.end(),
                                     [id](const PlacedArtwork &one) { return one.id == id; });
        if (at != placements.artworks.end()) {
            placements.below -= at - placements.artworks.begin() < std::ptrdiff_t(placements.below) ? 1 : 0;
            placements.artworks.erase(at);
            m_session.changePlacements(placements, tr("Remove a template"));
        }
    }
}

void AreasPanel::useKept(const QString &name, const QString &path)
{
    const auto text = read_set_file(path.toStdString());
    const auto set =
        text ? read_area_set(*text, path.toStdString()) : Outcome<std::vector<NamedArea>>(text.error());
    if (!set) {
        m_words->setText(theme::text_of(set.error().message()));
        return;
    }
    m_session.change(with_area_set(m_session.job(), m_session.page()->info, *set),
                     tr("Areas of the set %1").arg(name));
}

void AreasPanel::layTemplate()
{
    const QString path =
        m_prompts.askOpenFile(FileUse::Artwork, QSettings().value(QStringLiteral("folder")).toString());
    if (!path.isEmpty()) {
        m_view.setShowsAreas(true);
        m_session.placeArtwork(path, false);
    }
}

void AreasPanel::fill()
{
    const Job &job = m_session.job();
    const int row = m_list->currentRow();
    {
        const QSignalBlocker quiet(m_list);
        m_list->clear();
        for (std::size_t i = 0; i < job.areas.size(); ++i) {
            const NamedArea &one = job.areas[i];
            if (!is_on(one, job.page)) {
                continue;
            }
            auto *item = new QListWidgetItem(
                (one.name.empty() ? area_words(one.kind)
                                  : area_words(one.kind) + QStringLiteral(" · ") + theme::text_of(one.name)) +
                    QStringLiteral("   ") + size_words(one),
                m_list);
            item->setData(area_role, static_cast<int>(i));
        }
        for (const PlacedArtwork &one : job.placements.artworks) {
            if (one.on_page == job.page && is_template(job, one)) {
                auto *item = new QListWidgetItem(tr("template · %1").arg(theme::text_of(one.name)), m_list);
                item->setData(template_role, one.id);
            }
        }
        m_list->setCurrentRow(std::min(row < 0 ? 0 : row, m_list->count() - 1));
    }
    m_shownBox->setChecked(m_view.showsAreas());
    m_words->setText(m_list->count() == 0
                         ? tr("Draw an area on the light table with the hand that draws areas, add one "
                              "and type its place, or use a kept set.")
                         : tr("They never print. What prints on glue, in what must stay free, beside the "
                              "platen or as text on a fold is a finding."));
    fillFields();
}

void AreasPanel::fillFields()
{
    const int number = chosenArea();
    m_remove->setEnabled(number >= 0 || chosenTemplate() > 0);
    m_fields->setVisible(number >= 0);
    const std::vector<NamedArea> &areas = m_session.job().areas;
    if (number < 0 || static_cast<std::size_t>(number) >= areas.size()) {
        return;
    }
    const NamedArea &one = areas[static_cast<std::size_t>(number)];
    const Rect trim = box_within(m_session.page()->info, PageBox::Trim, PageBox::Media);
    m_kind->setCurrentIndex(static_cast<int>(one.kind));
    if (!m_name->hasFocus()) {
        m_name->setText(theme::text_of(one.name));
    }
    m_x->setValue(one.area.x - trim.x);
    m_y->setValue(one.area.y - trim.y);
    m_width->setValue(one.area.width);
    m_height->setValue(one.area.height);
    m_thisPage->setChecked(one.page > 0);
    m_thisPage->setVisible(m_session.page()->artwork->page_count() > 1);
}

} // namespace bichrom
