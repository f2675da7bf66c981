/// \file
/// The plates in printing order, drawn as a cut through the print.
/// Layer: app/laydown.
#pragma once

#include "app/models/choice.h"
#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/session.h"

#include <QWidget>

#include <functional>
#include <vector>

class QAction;
class QLabel;
class QMenu;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace bichrom {

class PlateRow;

/// Last printed on top, the stock at the bottom.
class LayDown : public QWidget
{
    Q_OBJECT

public:
    LayDown(Session &session, ViewState &view, Choice &choice, Prompts &prompts, QWidget *parent = nullptr);

Q_SIGNALS:
    /// A plate was dragged out of the lay-down and let go there.
    void plateDropped(const QString &ink, QPoint global);

private:
    void makeRows();
    void refresh();
    [[nodiscard]] QMenu *makeStockMenu();
    void makeWhite();
    void showStock();
    /// As lists do it: with Ctrl one more or one less, with Shift all from the chosen one to it.
    void choose(const QString &ink, Qt::KeyboardModifiers keys);
    /// The plates that something done to \p ink is done to: all chosen ones when it is one of them.
    [[nodiscard]] QStringList meant(const QString &ink) const;
    void move(const QString &ink, int steps);
    /// The row above whose bottom edge a drop at that height puts the plate; rows count from the top.
    [[nodiscard]] int gapAt(const QPoint &global) const;
    void showPrint();
    void rename(const QString &ink, const QString &name);
    void remove(const QString &ink);
    void declare(const QString &ink, InkUse kind);
    void openMenu(const QString &ink, const QPoint &global);
    [[nodiscard]] QMenu *makeShowMenu();
    void showOnly(const std::function<bool(const Plate &)> &wanted);
    void stepAlone(int by); ///< through the plates, each alone

    Session &m_session;
    ViewState &m_view;
    Choice &m_choice;
    Prompts &m_prompts;
    QLabel *m_count;
    QLabel *m_first;
    QLabel *m_last;
    QPushButton *m_stock;
    QPushButton *m_white; ///< makes the white that the stock asks for; hidden where none is wanted
    QAction *m_stockHere; ///< whether a stock chosen is of this page only
    QWidget *m_content;
    QScrollArea *m_scroll;
    QWidget *m_mark; ///< where a dragged plate would go
    QVBoxLayout *m_pile;
    std::vector<PlateRow *> m_rows;   ///< last printed first
    std::vector<QWidget *> m_flashes; ///< between rows; hidden where there is none
};

} // namespace bichrom
