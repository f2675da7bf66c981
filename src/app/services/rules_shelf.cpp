#include "app/services/rules_shelf.h"

#include "core/base/atomic_file.h"
#include "core/base/file_name.h"

#include <QDir>
#include <QFile>

#include <algorithm>

namespace bichrom {

RulesShelf::RulesShelf(QString folder, QObject *parent) : QObject(parent), m_folder(std::move(folder))
{
    load();
}

void RulesShelf::load()
{
    m_entries.clear();
    m_fault.clear();
    for (const ShopRules &rules : shipped_rules()) {
        m_entries.push_back({rules, {}});
    }
    const QDir folder(m_folder);
    for (const QString &name : folder.entryList({QStringLiteral("*.json")}, QDir::Files, QDir::Name)) {
        const QString path = folder.filePath(name);
        auto rules = read_rules(path.toStdString());
        if (rules) {
            m_entries.push_back({std::move(*rules), path});
        } else {
            m_fault += QString::fromStdString(rules.error().message()) + QLatin1Char('\n');
        }
    }
}

int RulesShelf::find(const ShopRules &rules) const
{
    const std::string text = rules_to_json(rules);
    const auto found = std::find_if(m_entries.begin(), m_entries.end(),
                                    [&](const Entry &entry) { return rules_to_json(entry.rules) == text; });
    return found == m_entries.end() ? -1 : static_cast<int>(found - m_entries.begin());
}

Outcome<int> RulesShelf::add(ShopRules rules)
{
    // Names tell sets apart in lists, so each is there once.
    const std::string wanted = rules.name;
    const auto taken = [this](const std::string &name) {
        return std::any_of(m_entries.begin(), m_entries.end(),
                           [&](const Entry &entry) { return entry.rules.name == name; });
    };
    for (int number = 2; taken(rules.name); ++number) {
        rules.name = wanted + " " + std::to_string(number);
    }
    if (const Done done = prepare_folder(m_folder.toStdString()); !done) {
        return done.error();
    }
    const std::filesystem::path path = free_path(m_folder.toStdString(), safe_file_name(rules.name), ".json");
    if (const Done done = write_rules(path, rules); !done) {
        return done.error();
    }
    m_entries.push_back({std::move(rules), QString::fromStdString(path.string())});
    Q_EMIT changed();
    return static_cast<int>(m_entries.size()) - 1;
}

Done RulesShelf::replace(int index, const ShopRules &rules)
{
    Entry &entry = m_entries[static_cast<std::size_t>(index)];
    const Done done = write_rules(entry.path.toStdString(), rules);
    if (done) {
        entry.rules = rules;
        Q_EMIT changed();
    }
    return done;
}

Done RulesShelf::remove(int index)
{
    const Entry &entry = m_entries[static_cast<std::size_t>(index)];
    if (!QFile::remove(entry.path)) {
        return Error{ErrorCode::CannotWrite, "The file cannot be removed.", entry.path.toStdString(),
                     "Look whether the folder can be written to."};
    }
    m_entries.erase(m_entries.begin() + index);
    Q_EMIT changed();
    return {};
}

} // namespace bichrom
