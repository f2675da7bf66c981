/// \file
/// The shop rules: looked through, edited, duplicated, exchanged.
/// Layer: app/dialogs.
#pragma once

#include "app/services/prompts.h"
#include "app/services/rules_shelf.h"

#include <QDialog>

#include <functional>
#include <vector>

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QPlainTextEdit;
class QPushButton;

namespace bichrom {

class NumberField;

/// Accepted when the artist wants the chosen set for the job. The shop's own sets are saved as they are
/// edited; shipped ones, and one that only a job holds, can be duplicated.
class RulesDialog : public QDialog
{
    Q_OBJECT

public:
    RulesDialog(RulesShelf &shelf, const ShopRules &of_job, Prompts &prompts, QWidget *parent = nullptr);

    /// The set that is chosen in the list.
    [[nodiscard]] const ShopRules &chosen() const;

private:
    struct CheckRow
    {
        std::string check;
        QComboBox *severity;
        std::vector<std::pair<std::string, NumberField *>> limits;
    };
    QWidget *buildEditor();
    void buildChecks(QGridLayout *grid, QWidget *parent);
    NumberField *addNumber(const char *name, const QString &unit, double low, double high,
                           std::function<void(ShopRules &, double)> set);
    void refreshList(int current);
    void show(int row);
    void edit(const std::function<void(ShopRules &)> &change);
    void duplicate();
    void importRules();
    void exportRules();
    void removeRules();
    void readFolds();
    void readKeepOut();
    void complain(const QString &text);
    [[nodiscard]] bool isOfJob(int row) const { return row == static_cast<int>(m_shelf.entries().size()); }
    [[nodiscard]] bool isOwn(int row) const;

    RulesShelf &m_shelf;
    ShopRules m_ofJob;
    Prompts &m_prompts;
    bool m_hasOfJob = false;
    bool m_showing = false; ///< fields are being filled, nobody edits
    QListWidget *m_list;
    QPushButton *m_remove;
    QLabel *m_hint;
    QWidget *m_fields = nullptr;
    QLineEdit *m_name = nullptr;
    NumberField *m_units = nullptr;
    NumberField *m_width = nullptr;
    NumberField *m_height = nullptr;
    NumberField *m_resolution = nullptr;
    NumberField *m_ruling = nullptr;
    QCheckBox *m_spotOnly = nullptr;
    QPlainTextEdit *m_inks = nullptr;
    QLineEdit *m_folds = nullptr;
    QLineEdit *m_keepOut = nullptr;
    std::vector<CheckRow> m_checks;
};

} // namespace bichrom
