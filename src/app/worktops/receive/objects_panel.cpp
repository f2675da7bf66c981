#include "app/worktops/receive/objects_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/artwork/found_colours.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QSignalBlocker>

#include <algorithm>
#include <array>
#include <set>

namespace bichrom {

namespace {

constexpr std::array<ObjectKind, 7> kinds = {
    ObjectKind::Fill,  ObjectKind::Stroke,    ObjectKind::Text,   ObjectKind::StrokedText,
    ObjectKind::Image, ObjectKind::ImageMask, ObjectKind::Shading};
constexpr int most_colours = 300; // in the chooser

QRectF area_of(const SceneObject &object)
{
    const auto mm = [](double points) { return to_millimetres(Points(points)).value; };
    return {mm(object.bounds.x), mm(object.bounds.y), mm(object.bounds.width), mm(object.bounds.height)};
}

QString size_text(const SceneObject &object, LengthUnit unit)
{
    const QRectF area = area_of(object);
    const int decimals = unit == LengthUnit::Inch ? 3 : 2;
    return ObjectsPanel::tr("%1 × %2").arg(
        theme::text_of(format_length(Millimetres(area.width()), unit, decimals)),
        theme::text_of(format_length(Millimetres(area.height()), unit, decimals)));
}

} // namespace

void ObjectModel::setObjects(std::shared_ptr<const LoadedPage> page, std::vector<int> objects)
{
    beginResetModel();
    m_page = std::move(page);
    m_objects = std::move(objects);
    endResetModel();
}

int ObjectModel::rowOf(int object) const
{
    const auto found = std::find(m_objects.begin(), m_objects.end(), object);
    return found == m_objects.end() ? -1 : static_cast<int>(found - m_objects.begin());
}

int ObjectModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_objects.size());
}

QVariant ObjectModel::data(const QModelIndex &index, int role) const
{
    const SceneObject &object =
        m_page->scene.objects[static_cast<std::size_t>(m_objects[static_cast<std::size_t>(index.row())])];
    if (role == Qt::DisplayRole) {
        const QString text = theme::text_of(describe(object));
        return object.text.empty() ? text : tr("“%1”  %2").arg(theme::text_of(object.text), text);
    }
    return role == Qt::ToolTipRole ? QVariant(theme::text_of(describe(object))) : QVariant();
}

ObjectsPanel::ObjectsPanel(Session &session, Choice &choice, Spotlight &spotlight, QWidget *parent)
    : QWidget(parent), m_session(session), m_choice(choice), m_spotlight(spotlight),
      m_model(new ObjectModel(this)), m_pageSeen(this, [this] { takePage(); }),
      m_chosenSeen(this, [this] { showChosen(); })
{
    setObjectName(QStringLiteral("objectsPanel"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 10);
    column->setSpacing(6);
    m_find = new QLineEdit(this);
    m_find->setObjectName(QStringLiteral("objectFind"));
    m_find->setPlaceholderText(tr("Find: words, ink, font, layer, kind"));
    m_find->setAccessibleName(tr("Find objects"));
    m_find->setToolTip(
        tr("All words must stand in what an object says or is (Ctrl+F). Return and N go on to the next"));
    m_find->setClearButtonEnabled(true);
    column->addWidget(m_find);
    m_typing.setSingleShot(true);
    m_typing.setInterval(150); // milliseconds without another letter: every object's words are looked through
    connect(&m_typing, &QTimer::timeout, this, &ObjectsPanel::filter);
    connect(m_find, &QLineEdit::textChanged, this, [this] { m_typing.start(); });
    connect(m_find, &QLineEdit::returnPressed, this, [this] { step(1); });
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    m_kind = addChooser(grid, 0, tr("Kind"), "objectKind");
    m_ink = addChooser(grid, 1, tr("Ink"), "objectInk");
    m_colour = addChooser(grid, 2, tr("Colour"), "objectColour");
    m_layer = addChooser(grid, 3, tr("Layer"), "objectLayer");
    m_overprint = addChooser(grid, 4, tr("Overprint"), "objectOverprint");
    auto *sizes = new QHBoxLayout();
    const auto size_field = [&](const char *name, const QString &hint) {
        auto *field = new QLineEdit(this);
        field->setObjectName(QString::fromLatin1(name));
        field->setPlaceholderText(hint);
        field->setAccessibleName(hint);
        field->setToolTip(tr("Of the longer side, with a unit: 0.2 mm, 1 pt, 3 in"));
        connect(field, &QLineEdit::textChanged, this, &ObjectsPanel::filter);
        sizes->addWidget(field);
        return field;
    };
    m_larger = size_field("objectLarger", tr("larger than"));
    m_smaller = size_field("objectSmaller", tr("smaller than"));
    grid->addWidget(make_label(tr("Size"), 12, QFont::Normal, true, this), 5, 0);
    grid->addLayout(sizes, 5, 1);
    column->addLayout(grid);
    m_count = make_label({}, 11, QFont::Normal, true, this);
    m_count->setObjectName(QStringLiteral("objectCount"));
    column->addWidget(m_count);
    m_list = new QListView(this);
    m_list->setObjectName(QStringLiteral("objectList"));
    m_list->setAccessibleName(tr("Objects, the topmost first"));
    m_list->setModel(m_model);
    m_list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_list->setUniformItemSizes(true);
    m_list->setTextElideMode(Qt::ElideRight);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setStyleSheet(
        QStringLiteral("QListView { background: %1; border: 1px solid %2; } QListView::item { padding: 3px; "
                       "border-left: 3px solid transparent; }"
                       "QListView::item:selected { background: %3; color: %4; border-left: 3px solid %5; }")
            .arg(theme::card.name(), theme::line.name(), theme::field.name(), theme::text.name(),
                 theme::amber.name()));
    column->addWidget(m_list, 1);
    m_chosen = make_label({}, 12, QFont::Normal, false, this);
    m_chosen->setObjectName(QStringLiteral("chosenObject"));
    m_chosen->setWordWrap(true);
    m_chosen->setMinimumHeight(64);
    m_chosen->setAlignment(Qt::AlignTop);
    m_chosen->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(m_chosen);
    connect(m_list->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &ObjectsPanel::takeSelection);
    connect(m_list->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex &now) {
                if (now.isValid()) {
                    light(m_model->object(now.row()), true);
                }
            });
    connect(&m_session, &Session::pageChanged, &m_pageSeen, &WhenSeen::refresh);
    connect(&m_spotlight, &Spotlight::changed, &m_chosenSeen, &WhenSeen::refresh);
}

QComboBox *ObjectsPanel::addChooser(QGridLayout *grid, int row, const QString &label, const char *name)
{
    auto *chooser = new QComboBox(this);
    chooser->setObjectName(QString::fromLatin1(name));
    chooser->setAccessibleName(label);
    chooser->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    chooser->setMinimumContentsLength(8);
    grid->addWidget(make_label(label, 12, QFont::Normal, true, this), row, 0);
    grid->addWidget(chooser, row, 1);
    connect(chooser, &QComboBox::currentIndexChanged, this, &ObjectsPanel::filter);
    return chooser;
}

void ObjectsPanel::refill(QComboBox *chooser, const QString &all, const QStringList &texts)
{
    const QSignalBlocker quiet(chooser);
    const QString before = chooser->currentText();
    chooser->clear();
    chooser->addItem(all);
    chooser->addItems(texts);
    chooser->setCurrentIndex(std::max(0, chooser->findText(before)));
}

void ObjectsPanel::setUnit(LengthUnit unit)
{
    m_unit = unit;
    m_chosenSeen.refresh();
}

void ObjectsPanel::takePage()
{
    QStringList kind_texts, inks, colours, layers;
    if (m_session.isOpen()) {
        const Scene &scene = m_session.page()->scene;
        for (const ObjectKind kind : kinds) {
            kind_texts << QString::fromLatin1(to_string(kind));
        }
        for (const FoundInk &ink : scene.inks) {
            inks << theme::text_of(ink.name);
        }
        std::set<QString> known_colours, known_layers;
        for (const FoundColour *colour : find_colours(scene)) {
            if (colours.size() == most_colours) {
                break;
            }
            const QString text = theme::text_of(describe(colour->colour));
            if (known_colours.insert(text).second) {
                colours << text;
            }
        }
        for (const SceneObject &object : scene.objects) {
            if (!object.layer.empty() && known_layers.insert(theme::text_of(object.layer)).second) {
                layers << theme::text_of(object.layer);
            }
        }
    }
    refill(m_kind, tr("all kinds"), kind_texts);
    refill(m_ink, tr("all inks"), inks);
    refill(m_colour, tr("all colours"), colours);
    refill(m_layer, tr("all layers"), QStringList(tr("outside layers")) + layers);
    refill(m_overprint, tr("either way"), {tr("overprints"), tr("knocks out")});
    m_layer->setEnabled(!layers.isEmpty());
    filter();
}

ObjectFilter ObjectsPanel::wanted() const
{
    ObjectFilter filter;
    if (m_kind->currentIndex() > 0) {
        filter.kind = kinds[static_cast<std::size_t>(m_kind->currentIndex() - 1)];
    }
    if (m_ink->currentIndex() > 0) {
        filter.ink = m_ink->currentText().toStdString();
    }
    if (m_colour->currentIndex() > 0) {
        filter.colour = m_colour->currentText().toStdString();
    }
    if (m_layer->currentIndex() > 0) {
        filter.layer = m_layer->currentIndex() == 1 ? std::string() : m_layer->currentText().toStdString();
    }
    if (m_overprint->currentIndex() > 0) {
        filter.overprint = m_overprint->currentIndex() == 1;
    }
    const auto length = [this](QLineEdit *field) -> std::optional<Millimetres> {
        const QString text = field->text().trimmed();
        const auto parsed = parse_length(text.toStdString(), m_unit);
        const bool wrong = !text.isEmpty() && !parsed;
        if (field->property("wrong").toBool() != wrong) {
            field->setProperty("wrong", wrong);
            field->style()->unpolish(field);
            field->style()->polish(field);
        }
        return text.isEmpty() || !parsed ? std::nullopt : std::optional(*parsed);
    };
    for (const QString &word : m_find->text().split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
        filter.words.push_back(word.toStdString());
    }
    filter.larger_than = length(m_larger);
    filter.smaller_than = length(m_smaller);
    return filter;
}

void ObjectsPanel::filter()
{
    if (!m_session.isOpen()) {
        m_model->setObjects(nullptr, {});
        m_count->setText(tr("No artwork is open."));
        return;
    }
    const Scene &scene = m_session.page()->scene;
    std::vector<int> objects = find_objects(scene, wanted());
    std::reverse(objects.begin(), objects.end()); // the topmost first, as one looks at them
    m_count->setText(
        objects.size() == scene.objects.size()
            ? tr("%1 objects, the topmost first").arg(objects.size())
            : tr("%1 of %2 objects, the topmost first").arg(objects.size()).arg(scene.objects.size()));
    m_model->setObjects(m_session.page(), std::move(objects));
    m_chosenSeen.refresh();
}

/// Several are lit together, and meant by what Ink does with objects.
void ObjectsPanel::takeSelection()
{
    const QModelIndexList rows = m_list->selectionModel()->selectedIndexes();
    if (rows.size() < 2) {
        return;
    }
    std::vector<int> objects;
    std::vector<QRectF> areas;
    for (const QModelIndex &index : rows) {
        objects.push_back(m_model->object(index.row()));
        areas.push_back(area_of(m_session.page()->scene.objects[static_cast<std::size_t>(objects.back())]));
    }
    m_chosen->setText(
        tr("%1 objects chosen. The buttons of Ink, Routes act on them, R sends them to the chosen "
           "plate.")
            .arg(objects.size()));
    m_spotlight.light(std::move(areas), 0, tr("%1 objects").arg(objects.size()), -1, false);
    m_choice.chooseObjects(std::move(objects));
}

void ObjectsPanel::find()
{
    m_find->setFocus(Qt::ShortcutFocusReason);
    m_find->selectAll();
}

bool ObjectsPanel::finds() const
{
    return isVisible() && !m_find->text().trimmed().isEmpty();
}

void ObjectsPanel::step(int by)
{
    if (m_typing.isActive()) {
        m_typing.stop();
        filter();
    }
    const int count = m_model->rowCount();
    if (count > 0) {
        const QModelIndex now = m_list->currentIndex();
        const int row = now.isValid() ? (now.row() + by + count) % count : by > 0 ? 0 : count - 1;
        m_list->setCurrentIndex(m_model->index(row));
    }
}

void ObjectsPanel::choose(int object, bool bring)
{
    if (!m_session.isOpen() || object < 0 ||
        object >= static_cast<int>(m_session.page()->scene.objects.size())) {
        return;
    }
    m_pageSeen.settle();
    if (m_model->rowOf(object) < 0) {
        for (QComboBox *chooser : {m_kind, m_ink, m_colour, m_layer, m_overprint}) {
            chooser->setCurrentIndex(0);
        }
        m_larger->clear();
        m_smaller->clear();
        m_find->clear();
    }
    light(object, bring);
}

void ObjectsPanel::light(int object, bool bring)
{
    const SceneObject &one = m_session.page()->scene.objects[static_cast<std::size_t>(object)];
    m_spotlight.light({area_of(one)}, 0, size_text(one, m_unit), object, bring);
}

void ObjectsPanel::showChosen()
{
    const int object = m_spotlight.object();
    const bool known = m_session.isOpen() && object >= 0 &&
                       object < static_cast<int>(m_session.page()->scene.objects.size());
    const int row = known ? m_model->rowOf(object) : -1;
    const QModelIndex index = row < 0 ? QModelIndex() : m_model->index(row);
    const bool several = m_list->selectionModel()->selectedIndexes().size() > 1;
    if (!known && several) {
        return; // takeSelection() tells of them
    }
    if (m_list->currentIndex() != index) { // else others chosen with it would be let go
        const QSignalBlocker quiet(m_list->selectionModel());
        m_list->setCurrentIndex(index);
    }
    if (row >= 0) {
        m_list->scrollTo(m_model->index(row));
    }
    m_list->viewport()->update();
    if (!known) {
        m_chosen->setText(tr("Choose an object here or click it in the artwork."));
        return;
    }
    const SceneObject &one = m_session.page()->scene.objects[static_cast<std::size_t>(object)];
    m_chosen->setText(theme::text_of(describe(one)) + QLatin1Char('\n') + size_text(one, m_unit) +
                      tr(", number %1 in painting order").arg(object + 1));
}

} // namespace bichrom
