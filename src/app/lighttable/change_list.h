/// \file
/// What a revised file prints otherwise, ink by ink, and a walk through the places.
/// Layer: app/lighttable.
#pragma once

#include "app/models/spotlight.h"
#include "app/services/loaded_page.h"
#include "app/tasks/task_scope.h"
#include "core/proof/plate_changes.h"

#include <QFrame>

#include <optional>

class QLabel;
class QPushButton;

namespace bichrom {

class FactList;

/// A card on the light table. Compares in the background when it is first shown.
class ChangeList : public QFrame
{
    Q_OBJECT

public:
    ChangeList(Spotlight &spotlight, QWidget *parent);

    /// Compares when it is \p wanted and \p page, which may be null, replaced another; else hides the card.
    void follow(const std::shared_ptr<const LoadedPage> &page, bool wanted);
    /// Lights the next changed place, or with −1 the one before; round and round.
    void step(int by);

Q_SIGNALS:
    void resized(); ///< the card has another size

protected:
    bool event(QEvent *event) override;

private:
    void refresh();

    Spotlight &m_spotlight;
    std::shared_ptr<const PlateLine> m_before;
    std::shared_ptr<const PlateLine> m_after;
    std::optional<Outcome<PlateChanges>> m_changes; ///< none while they are compared
    int m_place = -1;
    QLabel *m_summary;
    FactList *m_inks;
    QWidget *m_steps;
    QPushButton *m_back;
    QLabel *m_where;
    QPushButton *m_next;
    CancelSwitch m_running;
    int m_request = 0;
    TaskScope m_tasks; ///< last, so that it ends first
};

} // namespace bichrom
