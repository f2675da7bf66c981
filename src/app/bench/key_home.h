/// \file
/// Brings the keys back to the light table.
/// Layer: app/bench.
#pragma once

#include <QObject>
#include <QPointer>

class QWidget;

namespace bichrom {

/// Watches what happens in one window. After a click on a button or a choice from a box, after Enter in a
/// field and after Esc anywhere, the keys go home again, so that the next 1, N or R does what it says. Lists,
/// boxes and buttons never swallow the home's keys. Who works by Tab keeps the focus where it is.
class KeyHome : public QObject
{
    Q_OBJECT

public:
    KeyHome(QWidget &window, QWidget &home);
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void bringHome(QWidget *from);
    QWidget &m_window;
    QPointer<QWidget> m_home;
};

} // namespace bichrom
