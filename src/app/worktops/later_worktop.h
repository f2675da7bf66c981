/// \file
/// A stage that holds nothing yet: one sentence on what will live there.
/// Layer: app/worktops.
#pragma once

#include <QWidget>

namespace bichrom {

class LaterWorktop : public QWidget
{
    Q_OBJECT

public:
    LaterWorktop(const QString &stage, const QString &sentence, QWidget *parent = nullptr);
};

} // namespace bichrom
