/// \file
/// The shop rules at hand: those shipped, and the shop's own in its settings folder.
/// Layer: app/services.
#pragma once

#include "core/preflight/shop_rules.h"

#include <QObject>
#include <QString>

#include <vector>

namespace bichrom {

/// One JSON file a set. Shipped sets cannot be changed, only duplicated.
class RulesShelf : public QObject
{
    Q_OBJECT

public:
    /// \param folder  of the shop's own sets; made when the first one is saved
    explicit RulesShelf(QString folder, QObject *parent = nullptr);

    struct Entry
    {
        ShopRules rules;
        QString path; ///< empty for a shipped set
    };
    [[nodiscard]] const std::vector<Entry> &entries() const { return m_entries; }
    /// Index of the set that says the same as \p rules; −1 when none does.
    [[nodiscard]] int find(const ShopRules &rules) const;

    /// Puts a set on the shelf under a file name made from its own. \return its index
    [[nodiscard]] Outcome<int> add(ShopRules rules);
    /// Replaces the shop's own set \p index.
    [[nodiscard]] Done replace(int index, const ShopRules &rules);
    [[nodiscard]] Done remove(int index);

    /// What could not be read in the folder, for people; empty when all went well.
    [[nodiscard]] const QString &fault() const { return m_fault; }

Q_SIGNALS:
    void changed();

private:
    void load();
    QString m_folder;
    QString m_fault;
    std::vector<Entry> m_entries;
};

} // namespace bichrom
