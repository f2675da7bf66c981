/// \file
/// Sets that the shop keeps under a name, in its settings folder.
/// Layer: app/services. May use core/job.
#pragma once

#include "core/base/outcome.h"

#include <QString>
#include <QStringList>

#include <string>

namespace bichrom {

/// One file a set (core/job/kept_sets.h), read when it is asked for.
class KeptSets
{
public:
    /// \param kind  a folder of the settings folder: "marks", "curves"
    explicit KeptSets(const QString &kind);

    /// In the order of the alphabet.
    [[nodiscard]] QStringList names() const;
    /// The file of a set; empty when there is none of that name.
    [[nodiscard]] QString path(const QString &name) const;
    /// Keeps a set, in place of one of the same name. CannotWrite, DiskFull.
    [[nodiscard]] Done keep(const QString &name, const std::string &text) const;
    /// CannotWrite.
    [[nodiscard]] Done remove(const QString &name) const;

private:
    QString m_folder;
};

} // namespace bichrom
