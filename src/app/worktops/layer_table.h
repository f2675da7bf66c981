/// \file
/// The artwork's layers, and what becomes of each.
/// Layer: app/worktops.
#pragma once

#include "app/services/router.h"
#include "app/services/session.h"

#include <QWidget>

#include <utility>
#include <vector>

class QComboBox;
class QGridLayout;

namespace bichrom {

/// A row a layer: it prints as in the file, goes to one plate, or is left out. Without layers it has no
/// height.
class LayerTable : public QWidget
{
    Q_OBJECT

public:
    LayerTable(Session &session, Router &router, QWidget *parent = nullptr);

protected:
    void showEvent(QShowEvent *event) override;

private:
    void rebuild();
    void refresh();
    void decide(const QString &layer, int row);

    Session &m_session;
    Router &m_router;
    QGridLayout *m_grid;
    std::vector<std::pair<QString, QComboBox *>> m_rows; ///< of layers that print
};

} // namespace bichrom
