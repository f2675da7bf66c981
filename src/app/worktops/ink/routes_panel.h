/// \file
/// Ink, panel Routes: which colour goes to which plate.
/// Layer: app/worktops.
#pragma once

#include "app/models/choice.h"
#include "app/models/spotlight.h"
#include "app/services/router.h"
#include "app/widgets/when_seen.h"

#include <QWidget>

#include <functional>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bichrom {

struct FlowSource;

class FlowPicture;
class NumberField;

class RoutesPanel : public QWidget
{
    Q_OBJECT

public:
    RoutesPanel(Session &session, Router &router, Choice &choice, InkLibrary &library, Spotlight &spotlight,
                QWidget *parent = nullptr);

    /// While clicks in the artwork pour, the ends are what they pour to.
    void setPouring(bool pours);
    /// What pouring goes to, in words; empty = the chosen plate.
    [[nodiscard]] QString pourEnd() const;
    /// Pours there what the artist has in hand; false when that is the chosen plate.
    bool pourToEnd();

Q_SIGNALS:
    void pourEndChanged();

private:
    void build();
    void buildActions(class QVBoxLayout *column);
    void buildRoutes(class QVBoxLayout *column);
    void refresh();
    void refreshFlow();
    void refreshDetail();
    void refreshChoice();
    void takeEnd(int end);
    void send(int source, int end);
    void lightAlike();
    void takeAmount();
    [[nodiscard]] int leaderOf(int source) const;
    [[nodiscard]] int sourceOf(int colour) const; ///< in the flow picture; −1 = none
    [[nodiscard]] FlowSource flatSource(int flat) const;
    [[nodiscard]] FlowSource objectSource(const Route &route, const std::vector<int> &objects) const;
    /// Of the page's scene, what a row takes that is no colour; else empty.
    [[nodiscard]] const std::vector<int> &objectsOf(int source) const;
    void light(int source);

    Session &m_session;
    Router &m_router;
    Choice &m_choice;
    InkLibrary &m_library;
    Spotlight &m_spotlight;
    FlowPicture *m_flow;
    NumberField *m_alike;
    QComboBox *m_measure;
    QLabel *m_detail;
    QComboBox *m_amount;
    NumberField *m_tint;
    QPushButton *m_plateEach;
    QPushButton *m_send;
    std::vector<QPushButton *> m_ends;
    std::vector<std::function<void()>> m_endActs; ///< what each does
    QPushButton *m_like;
    QLineEdit *m_newPlate;
    QPushButton *m_removePlate;
    std::vector<std::vector<int>> m_objectRows; ///< objects of the rows after the colours
    bool m_lit = false;                         ///< by the pointer over such a row
    int m_firstFreeEnd = 0;                     ///< ends from here on are no plates
    WhenSeen m_choiceSeen, m_flowSeen;
};

} // namespace bichrom
