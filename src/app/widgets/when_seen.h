/// \file
/// Brings a part of the window up to date once it is looked at: nothing is set out for nobody.
/// Layer: app/widgets.
#pragma once

#include <QObject>

#include <functional>

class QWidget;

namespace bichrom {

class WhenSeen : public QObject
{
public:
    /// \param part     what is looked at; the owner of this
    /// \param refresh  brings it up to date, whatever it showed before
    WhenSeen(QWidget *part, std::function<void()> refresh);

    /// Something changed: at once while \p part is shown, else as soon as it is.
    void refresh();
    /// Before \p part is asked for what it shows, though nobody may look at it.
    void settle();

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    QWidget *m_part;
    std::function<void()> m_refresh;
    bool m_stale = true; ///< what is shown may be of before
};

} // namespace bichrom
