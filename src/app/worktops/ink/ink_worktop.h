/// \file
/// Ink: which ink the shop prints each colour with.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/services/prompts.h"
#include "app/services/router.h"

#include <QWidget>

namespace bichrom {

class PanelSwitch;
class PicturesPanel;

/// One of its panels at a time.
class InkWorktop : public QWidget
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

    InkWorktop(Session &session, Router &router, Choice &choice, InkLibrary &library, Spotlight &spotlight,
               Prompts &prompts, QWidget *parent = nullptr);
    void showPanel(Panel panel);
    /// A click on the light table, mm.
    void pick(QPointF mm);

private:
    PanelSwitch *m_switch;
    PicturesPanel *m_pictures;
};

} // namespace bichrom
