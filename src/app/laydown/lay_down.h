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
    /// The row above whose bottom edge a drop at that height puts the plate; rows count from the top.
    [[nodiscard]] int gapAt(const QPoint &global) const;
    void showPrint();

    Session &m_session;
    ViewState &m_view;
    Choice &m_choice;
    Prompts &m_prompts;
    QLabel *m_count;
    QLabel *m_first;
    QLabel *m_last;
    QPushButton *m_stock;
    QWidget *m_content;
    QWidget *m_mark; ///< where a dragged plate would go
    QVBoxLayout *m_pile;
    std::vector<PlateRow *> m_rows;   ///< last printed first
    std::vector<QWidget *> m_flashes; ///< between rows; hidden where there is none
};

} // namespace bichrom
