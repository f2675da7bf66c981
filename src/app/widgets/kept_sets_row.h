/// \file
/// A row in which settings are kept under a name, and kept ones used.
/// Layer: app/widgets. May use app/services.
#pragma once

#include "app/services/kept_sets.h"

#include <QWidget>

#include <functional>

class QComboBox;
class QPushButton;

namespace bichrom {

class KeptSetsRow : public QWidget
{
    Q_OBJECT

public:
    /// \param kind    as of KeptSets
    /// \param object  before the names of its parts, for tests: "…Kept", "…Keep", "…Forget"
    /// \param now     what is set now, as the text of a set of that name
    KeptSetsRow(const QString &kind, const QString &object,
                std::function<std::string(const std::string &name)> now, QWidget *parent = nullptr);

Q_SIGNALS:
    void chosen(const QString &name, const QString &path);
    void failed(const QString &sentence);

protected:
    void showEvent(QShowEvent *event) override;

private:
    void refresh(const QString &name);
    void refreshButtons();
    void keep();

    KeptSets m_sets;
    std::function<std::string(const std::string &)> m_now;
    QComboBox *m_names;
    QPushButton *m_keep, *m_forget;
};

} // namespace bichrom
