/// \file
/// The folder that something is written into.
/// Layer: app/worktops/release.
#pragma once

#include "app/services/prompts.h"

#include <QWidget>

class QLineEdit;

namespace bichrom {

/// Offered beside the artwork until the artist chooses another.
class FolderRow : public QWidget
{
    Q_OBJECT

public:
    /// \param field, button  object names \param name  what it is, for who does not see it
    FolderRow(const char *field, const char *button, const QString &name, Prompts &prompts, QWidget *parent);

    [[nodiscard]] QString folder() const; ///< empty = none
    void offer(const QString &folder);    ///< shown unless another one is chosen
    void forget() { m_chosen = false; }   ///< what was chosen is of other artwork

Q_SIGNALS:
    void chosen(); ///< another one, by the artist

private:
    QLineEdit *m_field;
    bool m_chosen = false;
};

} // namespace bichrom
