/// \file
/// The findings as a list, by severity.
/// Layer: app/worktops.
#pragma once

#include "core/preflight/finding_groups.h"

#include <QListWidget>

#include <vector>

namespace bichrom {

/// One row a group of findings under a heading for each severity; signs tell the severity by their shape.
class FindingList : public QListWidget
{
    Q_OBJECT

public:
    explicit FindingList(QWidget *parent = nullptr);

    void setFindings(const std::vector<Finding> &findings, const std::vector<FindingGroup> &groups,
                     int pages_in_file);
    /// The chosen group; −1 when none is.
    [[nodiscard]] int currentGroup() const;
    void setCurrentGroup(int group);

Q_SIGNALS:
    void groupChosen(int group);

private:
    /// The line under a group's title: how many places, or by what it is solved.
    [[nodiscard]] static QString countText(const Finding &first, const FindingGroup &group,
                                           int pages_in_file);
};

} // namespace bichrom
