/// \file
/// Plates filled by hand: objects clicked and areas drawn on the light table.
/// Layer: app/worktops.
#pragma once

#include "app/models/choice.h"
#include "app/models/gesture.h"
#include "app/services/session.h"

#include <QWidget>

#include <optional>
#include <vector>

class QButtonGroup;

namespace bichrom {

/// A button each for the usual plates that are poured: while one is down, a click in the artwork makes the
/// plate, when it is not there yet, and pours into it. While none is, clicks go to the chosen plate.
class PourRow : public QWidget
{
    Q_OBJECT

public:
    PourRow(Session &session, Choice &choice, QWidget *parent = nullptr);

    /// The topmost of \p objects joins the plate, or leaves it; an area drawn there before is taken away.
    /// \param step  of the chosen plate's recipe that is being worked on; −1 = none
    /// \return whether there is a plate that could be meant
    bool pour(QPointF mm, const std::vector<int> &objects, Gesture how, int step);
    /// The rectangle joins the plate, mm of the shown page.
    void draw(const QRectF &area, Gesture how, int step);
    /// No kind is poured any more.
    void stop();

Q_SIGNALS:
    void pourWanted(); ///< clicks on the light table shall pour
    void note(const QString &sentence);

private:
    [[nodiscard]] std::optional<InkUse> kind() const;
    [[nodiscard]] const Plate *chosenPlate() const;
    /// Whether \p plate is one that \p use is poured into.
    [[nodiscard]] static bool takes(const Plate &plate, InkUse use);
    /// The plate that is poured into; made in \p job when a kind is down and there is none. Empty when none
    /// is chosen.
    [[nodiscard]] std::string target(Job &job) const;
    void change(const Job &job, const std::string &ink, const QString &text);
    [[nodiscard]] bool takeBackArea(QPointF mm);

    Session &m_session;
    Choice &m_choice;
    QButtonGroup *m_kinds;
    bool m_choosing = false; ///< the plate, by what was poured
};

} // namespace bichrom
