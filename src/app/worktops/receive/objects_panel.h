/// \file
/// Every object of the page as a list that can be narrowed down.
/// Layer: app/worktops.
#pragma once

#include "app/models/choice.h"
#include "app/models/spotlight.h"
#include "app/services/session.h"
#include "app/widgets/when_seen.h"
#include "core/artwork/object_filter.h"

#include <QAbstractListModel>
#include <QTimer>
#include <QWidget>

#include <vector>

class QComboBox;
class QLabel;
class QLineEdit;
class QListView;

namespace bichrom {

/// The objects that match, by index into the page's scene; top of the pile first.
class ObjectModel : public QAbstractListModel
{
    Q_OBJECT

public:
    using QAbstractListModel::QAbstractListModel;
    void setObjects(std::shared_ptr<const LoadedPage> page, std::vector<int> objects);
    [[nodiscard]] int object(int row) const { return m_objects[static_cast<std::size_t>(row)]; }
    [[nodiscard]] int rowOf(int object) const; ///< −1 when it is not listed
    [[nodiscard]] int rowCount(const QModelIndex &parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex &index, int role) const override;

private:
    std::shared_ptr<const LoadedPage> m_page;
    std::vector<int> m_objects;
};

class ObjectsPanel : public QWidget
{
    Q_OBJECT

public:
    ObjectsPanel(Session &session, Choice &choice, Spotlight &spotlight, QWidget *parent = nullptr);

    void setUnit(LengthUnit unit);
    /// Chooses an object, as after a click in the artwork: lifts filters that hide it, lights it.
    void choose(int object, bool bring);
    /// The words to find are typed next.
    void find();
    /// Whether words are looked for here, so that the next place is the next object found.
    [[nodiscard]] bool finds() const;
    /// The next object listed, or with −1 the one before.
    void step(int by);

private:
    void takePage();
    void filter();
    void light(int object, bool bring);
    void showChosen();
    void takeSelection();
    [[nodiscard]] ObjectFilter wanted() const;
    QComboBox *addChooser(class QGridLayout *grid, int row, const QString &label, const char *name);
    void refill(QComboBox *chooser, const QString &all, const QStringList &texts);

    Session &m_session;
    Choice &m_choice;
    Spotlight &m_spotlight;
    ObjectModel *m_model;
    QLineEdit *m_find;
    QTimer m_typing; ///< since the last letter to be found
    QComboBox *m_kind;
    QComboBox *m_ink;
    QComboBox *m_colour;
    QComboBox *m_layer;
    QComboBox *m_overprint;
    QLineEdit *m_smaller;
    QLineEdit *m_larger;
    QLabel *m_count;
    QListView *m_list;
    QLabel *m_chosen;
    LengthUnit m_unit = LengthUnit::Millimetre;
    WhenSeen m_pageSeen, m_chosenSeen;
};

} // namespace bichrom
