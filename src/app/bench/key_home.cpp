#include "app/bench/key_home.h"

#include "app/lighttable/light_table.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenu>
#include <QTimer>

namespace bichrom {

KeyHome::KeyHome(QWidget &window, QWidget &home) : QObject(&window), m_window(window), m_home(&home)
{
    qApp->installEventFilter(this);
}

/// Once the event has done its work, and when nothing else has taken the focus by it.
void KeyHome::bringHome(QWidget *from)
{
    QTimer::singleShot(0, this, [this, from = QPointer<QWidget>(from)] {
        QWidget *now = QApplication::focusWidget();
        const bool still = now == nullptr || now == from || !from || !from->isEnabled();
        if (m_home && still && m_window.isActiveWindow() && QApplication::activePopupWidget() == nullptr) {
            m_home->setFocus();
        }
    });
}

bool KeyHome::eventFilter(QObject *watched, QEvent *event)
{
    if (event->type() != QEvent::MouseButtonRelease && event->type() != QEvent::KeyPress) {
        return false; // of every event of the program, so nothing more is asked of most
    }
    auto *widget = qobject_cast<QWidget *>(watched);
    if (widget == nullptr || widget->window() != &m_window || widget == m_home) {
        return false;
    }
    if (event->type() == QEvent::MouseButtonRelease && qobject_cast<QAbstractButton *>(widget) != nullptr) {
        bringHome(widget);
        return false;
    }
    if (event->type() != QEvent::KeyPress || !widget->hasFocus()) {
        return false;
    }
    const auto *key = static_cast<QKeyEvent *>(event);
    const bool plain = (key->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == Qt::NoModifier;
    const bool field = qobject_cast<QLineEdit *>(widget) != nullptr;
    if (key->key() == Qt::Key_Escape ||
        (field && (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter))) {
        bringHome(widget);
        return false;
    }
    const bool no_text =
        qobject_cast<QAbstractItemView *>(widget) != nullptr ||
        qobject_cast<QAbstractButton *>(widget) != nullptr ||
        (qobject_cast<QComboBox *>(widget) != nullptr && !static_cast<QComboBox *>(widget)->isEditable());
    if (no_text && plain && m_home && key->key() != Qt::Key_Escape && LightTable::takesKey(key->key())) {
        QCoreApplication::sendEvent(m_home, event);
        return true;
    }
    return false;
}

} // namespace bichrom
