/// \file
/// What the page contains: inks, objects, sizes, fonts, layers, held samples.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/models/view_state.h"
#include "app/services/router.h"
#include "app/services/session.h"
#include "app/widgets/when_seen.h"
#include "core/proof/core_sample.h"

#include <QWidget>

#include <vector>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace bichrom {

class FactList;
class InkTable;

class ContentsPanel : public QWidget
{
    Q_OBJECT

public:
    ContentsPanel(Session &session, ViewState &view, Router &router, Spotlight &spotlight,
                  QWidget *parent = nullptr);
    void setUnit(LengthUnit unit);

    /// The held samples as text with tabs, a line each, as the copy button gives them.
    [[nodiscard]] QString samplesText() const;

private:
    void refreshInks();
    void refreshPainted();
    void refreshPage();
    void refreshPins();
    void samplePins();
    [[nodiscard]] QString length(double mm) const;

    Session &m_session;
    Spotlight &m_spotlight;
    LengthUnit m_unit = LengthUnit::Millimetre;
    QLabel *m_units;
    InkTable *m_inks;
    QWidget *m_pinsGroup;
    QVBoxLayout *m_pinsColumn;
    QPushButton *m_copy;
    FactList *m_painted;
    FactList *m_boxes;
    FactList *m_fonts;
    FactList *m_about;
    std::vector<CoreSample> m_samples; ///< by pin; shorter while they are being taken
    std::vector<Pin> m_sampledPins;
    std::shared_ptr<const LoadedPage> m_sampledPage;
    WhenSeen m_inksSeen, m_pageSeen;
    CancelSwitch m_sampling;
    quint64 m_request = 0;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
