/// \file
/// A stage that holds nothing yet: one sentence on what will live there.
/// Layer: app/worktops.
#pragma once

#include "app/worktops/worktop.h"

namespace bichrom {

class LaterWorktop : public Worktop
{
    Q_OBJECT

public:
    LaterWorktop(const QString &stage, const QString &sentence, QWidget *parent = nullptr);
    [[nodiscard]] StageState state(bool) const override { return StageState::NotLookedAt; }
};

} // namespace bichrom
