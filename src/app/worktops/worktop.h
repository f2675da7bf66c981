/// \file
/// What the bench asks of a stage's panel.
/// Layer: app/worktops.
#pragma once

#include "app/models/gesture.h"
#include "app/models/stage.h"
#include "core/base/units.h"

#include <QPointF>
#include <QRectF>
#include <QWidget>

#include <vector>

namespace bichrom {

/// One a stage. The bench knows them by this only: it brings them what happens on the light table while their
/// stage is the active one, and shows their state.
class Worktop : public QWidget
{
    Q_OBJECT

public:
    using QWidget::QWidget;

    /// The stage's state, once the artist has \p looked_at it or not; asked while a job is open.
    [[nodiscard]] virtual StageState state(bool looked_at) const
    {
        return looked_at ? StageState::InWork : StageState::NotLookedAt;
    }
    virtual void setUnit(LengthUnit) {}
    /// A click on the light table, mm of the shown page.
    virtual void clicked(QPointF) {}
    /// A rectangle drawn on the light table, mm of the shown page.
    virtual void areaDrawn(const QRectF &, Gesture) {}
    /// What slides or is movable (ViewState) was dragged on the light table by \p mm since the button went
    /// down.
    virtual void slid(QPointF /*mm*/, bool /*released*/) {}
    /// Ink poured at a place, mm of the shown page, on \p objects of its scene, the topmost last.
    /// \return whether the stage has a use of its own for it; else the colour is sent to the chosen plate
    virtual bool pour(QPointF, const std::vector<int> & /*objects*/, Gesture) { return false; }
    /// What pouring does here, for the foot of the light table.
    [[nodiscard]] virtual QString pourWords() const
    {
        return tr("a click pours the colour there into the chosen plate; Shift only that object");
    }
    /// Another stage is opened, or this one.
    virtual void setActive(bool) {}
    /// What clicks and drags on the light table do now: pour, or draw an area, or neither.
    virtual void setHand(bool /*pours*/, bool /*draws*/) {}

Q_SIGNALS:
    void stateChanged();
    void pourChanged();                 ///< pourWords() says something else
    void pourWanted();                  ///< clicks on the light table shall pour
    void note(const QString &sentence); ///< for the light table, where the artist looks
};

} // namespace bichrom
