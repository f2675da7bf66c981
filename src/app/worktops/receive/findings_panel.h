/// \file
/// What the shop rules caught: walked from place to place, accepted, asked about, reported.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/services/prompts.h"
#include "app/services/router.h"
#include "app/services/rules_shelf.h"
#include "app/services/session.h"
#include "app/widgets/when_seen.h"
#include "core/preflight/deeds.h"
#include "core/preflight/finding_groups.h"

#include <QWidget>

#include <vector>

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QToolButton;

namespace bichrom {

class FindingList;

class FindingsPanel : public QWidget
{
    Q_OBJECT

public:
    FindingsPanel(Session &session, Router &router, const Choice &choice, Spotlight &spotlight,
                  RulesShelf &shelf, Prompts &prompts, QWidget *parent = nullptr);

    /// Goes \p by places on (or back), past accepted findings, and lights the place.
    void step(int by);
    /// Does what is likeliest to be done about the finding that is lit; nothing when nothing is offered.
    void doDeed();
    void openMenu(const QPoint &at);

    /// The place now lit: index of the group and of the place within it; −1 when none is.
    [[nodiscard]] int currentGroup() const { return m_group; }
    [[nodiscard]] int currentPlace() const { return m_place; }

private:
    struct Place
    {
        const Finding *finding;
        const FindingPlace *place;
    };
    void buildDetail(class QVBoxLayout *column);
    void refresh();
    void showAll();
    void refreshRules();
    void followGroup();
    void refreshDetail();
    void showPlace(int group, int place);
    void light();
    void refreshDeed(const Finding *finding);
    void carryOut(const Deed &deed);
    void accept();
    void takeBack();
    void ask();
    void saveReport(bool as_pdf);
    void chooseRules(int row);
    [[nodiscard]] std::vector<Place> placesOf(int group) const;
    [[nodiscard]] std::vector<const Finding *> findingsOf(int group) const;

    Session &m_session;
    Router &m_router;
    const Choice &m_choice;
    Spotlight &m_spotlight;
    RulesShelf &m_shelf;
    Prompts &m_prompts;
    std::vector<FindingGroup> m_groups;
    int m_group = -1;
    int m_place = -1;
    std::string m_check, m_subject; ///< of what is lit
    std::vector<Deed> m_deeds;      ///< about the finding that is lit

    QComboBox *m_rules;
    QPushButton *m_edit;
    QLabel *m_state;
    QProgressBar *m_progress;
    QPushButton *m_stop;
    FindingList *m_list;
    QPushButton *m_back;
    QPushButton *m_next;
    QLabel *m_where;
    QWidget *m_detail;
    QLabel *m_title;
    QLabel *m_measured;
    QLabel *m_object;
    QLabel *m_why;
    QToolButton *m_deed;
    QLineEdit *m_reason;
    QPushButton *m_accept;
    QPushButton *m_takeBack;
    QPushButton *m_ask;
    QPushButton *m_report;
    WhenSeen m_seen;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
