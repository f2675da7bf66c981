/// \file
/// Ink, panel Fewer inks: proposals, and inks renamed or merged by name.
/// Layer: app/worktops.
#pragma once

#include "app/services/router.h"
#include "app/widgets/when_seen.h"
#include "core/job/savings.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace bichrom {

class NumberField;

class SavingsPanel : public QWidget
{
    Q_OBJECT

public:
    SavingsPanel(Session &session, Router &router, QWidget *parent = nullptr);

private:
    void buildMerge(class QVBoxLayout *column);
    void refresh();
    void refreshButtons();
    void refreshMerge();
    void take();
    void takeDownTo();
    void merge();
    [[nodiscard]] InkRename rename() const;

    Session &m_session;
    Router &m_router;
    std::vector<Saving> m_savings;
    QLabel *m_count;
    NumberField *m_alike;
    NumberField *m_small;
    NumberField *m_target;
    QListWidget *m_list;
    QPushButton *m_take;
    QPushButton *m_takeAll;
    QLineEdit *m_from;
    QComboBox *m_match;
    QLineEdit *m_to;
    QLabel *m_preview;
    QPushButton *m_merge;
    WhenSeen m_seen; ///< proposals are worked out only while somebody looks at them
};

} // namespace bichrom
