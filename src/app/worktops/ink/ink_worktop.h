/// \file
/// Ink: which ink the shop prints each colour with.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/router.h"
#include "app/worktops/worktop.h"

namespace bichrom {

class ArtworksPanel;
class PanelSwitch;
class PicturesPanel;
class RoutesPanel;

/// One of its panels at a time.
class InkWorktop : public Worktop
{
    Q_OBJECT

public:
    enum class Panel
    {
        Routes,
        Savings,
        Pictures,
        Book,
        Artworks
    };

    InkWorktop(Session &session, Router &router, ViewState &view, Choice &choice, InkLibrary &library,
               Spotlight &spotlight, Prompts &prompts, QWidget *parent = nullptr);
    void showPanel(Panel panel);
    [[nodiscard]] StageState state(bool looked_at) const override;
    void clicked(QPointF mm) override;
    /// Takes the objects that lie wholly inside.
    void areaDrawn(const QRectF &area, Gesture how) override;
    /// To the end that is down in Routes, when one is.
    bool pour(QPointF mm, const std::vector<int> &objects, Gesture how) override;
    [[nodiscard]] QString pourWords() const override;
    void setHand(bool pours, bool draws) override;
    void slid(QPointF mm, bool released) override;

Q_SIGNALS:
    void inkDropped(const QString &ink, const QPoint &global); ///< of the book, let go over the window

private:
    Session &m_session;
    Choice &m_choice;
    Spotlight &m_spotlight;
    PanelSwitch *m_switch;
    RoutesPanel *m_routes;
    PicturesPanel *m_pictures;
    ArtworksPanel *m_artworks;
};

} // namespace bichrom
