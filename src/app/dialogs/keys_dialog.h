/// \file
/// The keys that do something.
/// Layer: app/dialogs.
#pragma once

#include "app/models/stage.h"

#include <QDialog>

namespace bichrom {

/// Those of every stage, then those of the one that is open.
class KeysDialog : public QDialog
{
    Q_OBJECT

public:
    explicit KeysDialog(Stage stage, QWidget *parent = nullptr);
};

} // namespace bichrom
