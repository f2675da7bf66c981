#include "app/services/kept_sets.h"

#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/job/kept_sets.h"

#include <QDir>
#include <QFile>
#include <QStandardPaths>

#include <map>

namespace bichrom {

namespace {

/// Files by the names of their sets.
std::map<QString, QString> sets_in(const QString &folder)
{
    std::map<QString, QString> sets;
    for (const QFileInfo &file : QDir(folder).entryInfoList({QStringLiteral("*.json")}, QDir::Files)) {
        if (const auto text = read_set_file(file.filePath().toStdString())) {
            if (const std::string name = name_of_set(*text); !name.empty()) {
                sets[QString::fromStdString(name)] = file.filePath();
            }
        }
    }
    return sets;
}

} // namespace

KeptSets::KeptSets(const QString &kind)
    : m_folder(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + QLatin1Char('/') + kind)
{
}

QStringList KeptSets::names() const
{
    QStringList names;
    for (const auto &[name, path] : sets_in(m_folder)) {
        names << name;
    }
    return names;
}

QString KeptSets::path(const QString &name) const
{
    const auto sets = sets_in(m_folder);
    const auto found = sets.find(name);
    return found == sets.end() ? QString() : found->second;
}

Done KeptSets::keep(const QString &name, const std::string &text) const
{
    if (const Done done = prepare_folder(m_folder.toStdString()); !done) {
        return done;
    }
    const QString known = path(name);
    return write_file(known.isEmpty()
                          ? free_path(m_folder.toStdString(), safe_file_name(name.toStdString()), ".json")
                          : std::filesystem::path(known.toStdString()),
                      text);
}

Done KeptSets::remove(const QString &name) const
{
    const QString file = path(name);
    if (!file.isEmpty() && !QFile::remove(file)) {
        return Error{ErrorCode::CannotWrite, "The set cannot be removed.", file.toStdString(),
                     "Look whether the folder can be written to."};
    }
    return {};
}

} // namespace bichrom
