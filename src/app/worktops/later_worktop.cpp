#include "app/worktops/later_worktop.h"

#include "app/widgets/controls.h"

namespace bichrom {

LaterWorktop::LaterWorktop(const QString &stage, const QString &sentence, QWidget *parent) : Worktop(parent)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 12, 16, 12);
    column->setSpacing(8);
    column->addWidget(make_heading(stage, this));
    QLabel *words = make_label(sentence, 12, QFont::Normal, true, this);
    words->setWordWrap(true);
    column->addWidget(words);
    column->addStretch();
}

} // namespace bichrom
