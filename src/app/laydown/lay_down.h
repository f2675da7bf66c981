/// \file
/// The plates in printing order, drawn as a cut through the print.
/// Layer: app/laydown.
#pragma once

#include "app/models/choice.h"
#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/session.h"

#include <QWidget>

#include <vector>

class QLabel;
class QMenu;
class QPushButton;
class QVBoxLayout;

namespace bichrom {

class PlateRow;

/// Last printed on top, the stock at the bottom.
class LayDown : public QWidget
{
    Q_OBJECT

public:
    LayDown(Session &session, ViewState &view, Choice &choice, Prompts &prompts, QWidget *parent = nullptr);

private:
    void rebuild();
    void refresh();
    [[nodiscard]] QMenu *makeStockMenu();
    void showStock();
    void move(const QString &ink, int steps);

    Session &m_session;
    ViewState &m_view;
    Choice &m_choice;
    Prompts &m_prompts;
    QLabel *m_count;
    QLabel *m_first;
    QLabel *m_last;
    QPushButton *m_stock;
    QVBoxLayout *m_pile;
    std::vector<PlateRow *> m_rows;
};

} // namespace bichrom
