#include "app/dialogs/keys_dialog.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <utility>
#include <vector>

namespace bichrom {

namespace {

using Rows = std::vector<std::pair<QString, QString>>;

Rows keys_everywhere()
{
    const auto tr = [](const char *text) { return KeysDialog::tr(text); };
    return {{tr("1 2 3 4 5"), tr("look: print, plates, dots, outline, change")},
            {tr("hold O"), tr("the customer's original")},
            {tr("+ − 0, arrows, Z"), tr("zoom, whole page, move, zoom to what is chosen")},
            {tr("PgUp PgDn"), tr("turn the page")},
            {tr("M A P Esc"), tr("measure, draw an area, pour, back to moving")},
            {tr("H"), tr("hold the core sample")},
            {tr("right button"), tr("the nearest inks of the book, and where that colour or object can go")},
            {tr("Ctrl+F"), tr("find objects by words, inks, fonts, layers")},
            {tr("N, Shift+N"), tr("next place found, the one before")},
            {tr("B"), tr("blink what reaches no plate")},
            {tr(". ,"), tr("step through the plates, each alone")},
            {tr("Ctrl+1 … Ctrl+4"), tr("show all plates, spots, process, white and finishing")},
            {tr("Alt+1 … Alt+6"), tr("stages")},
            {tr("Ctrl+Z, Ctrl+Shift+Z"), tr("undo, redo; the arrow beside Undo lists the steps")},
            {tr("Ctrl+O, Ctrl+S"), tr("open, save")}};
}

Rows keys_of(Stage stage)
{
    const auto tr = [](const char *text) { return KeysDialog::tr(text); };
    switch (stage) {
    case Stage::Receive:
        return {{tr("click"), tr("chooses the object there; again the one below it")},
                {tr("D"), tr("do what the finding that is lit proposes")}};
    case Stage::Ink:
        return {{tr("R"), tr("send the chosen colour, or the objects drawn around, to the chosen plate")},
                {tr("Shift+click with Pour"), tr("only the object there")},
                {tr("drag a plate into the artwork"), tr("pours it there, with Shift on that object only")},
                {tr("Delete"), tr("remove the routes of the chosen colour")}};
    case Stage::Build:
        return {{tr("P, click"), tr("the object there joins the chosen computed plate, or leaves it")},
                {tr("A, drag"), tr("a rectangle joins it")},
                {tr("with Alt"), tr("taken away instead")}};
    case Stage::Fit:
    case Stage::Screen:
    case Stage::Release:
        break;
    }
    return {};
}

} // namespace

KeysDialog::KeysDialog(Stage stage, QWidget *parent) : QDialog(parent)
{
    setObjectName(QStringLiteral("keysDialog"));
    setWindowTitle(tr("Keys"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(8);
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(20);
    grid->setVerticalSpacing(5);
    int row = 0;
    const auto add = [&](const QString &heading, const Rows &rows) {
        if (rows.empty()) {
            return;
        }
        grid->addWidget(make_label(heading, 12, QFont::DemiBold, true, this), row++, 0, 1, 2);
        for (const auto &[keys, what] : rows) {
            grid->addWidget(make_label(keys, 12, QFont::DemiBold, false, this), row, 0);
            grid->addWidget(make_label(what, 12, QFont::Normal, false, this), row++, 1);
        }
    };
    add(tr("This stage"), keys_of(stage));
    add(tr("In the lay-down"), {{tr("Space, Enter"), tr("hide, alone")},
                                {tr("Alt+↑ Alt+↓"), tr("print later, earlier")},
                                {tr("F2, Delete"), tr("rename, remove")}});
    add(tr("Everywhere"), keys_everywhere());
    column->addLayout(grid);
    auto *foot = new QHBoxLayout();
    foot->addStretch();
    auto *close = new QPushButton(tr("Close"), this);
    close->setObjectName(QStringLiteral("closeKeys"));
    close->setProperty("main", true);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    foot->addWidget(close);
    column->addLayout(foot);
}

} // namespace bichrom
