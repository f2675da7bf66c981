/// \file
/// The real dialogs.
/// Layer: app/services.
#pragma once

#include "app/services/prompts.h"

#include <QCoreApplication>

class QWidget;

namespace bichrom {

class DialogPrompts final : public Prompts
{
    Q_DECLARE_TR_FUNCTIONS(DialogPrompts)

public:
    void setParent(QWidget *parent) { m_parent = parent; }
    QString askOpenFile(FileUse use, const QString &folder) override;
    QStringList askOpenFiles(FileUse use, const QString &folder) override;
    QString askSaveFile(FileUse use, const QString &proposal) override;
    QString askFolder(const QString &folder) override;
    std::optional<QString> askPassword(const QString &file, const QString &reason) override;
    std::optional<QColor> askColour(const QString &title, const QColor &proposal) override;
    UnsavedChoice askUnsaved(const QString &name) override;
    LeftoverChoice askLeftover(const QString &name, const QString &when) override;
    bool askPatience(const QString &file, const QString &reason) override;
    void showError(const QString &title, const QString &text) override;

private:
    QWidget *m_parent = nullptr;
};

} // namespace bichrom
