#include "app/widgets/theme.h"

#include <QApplication>
#include <QCoreApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>

// Resources of a static library are only linked in when somebody names them; the macro
// must stand outside every namespace.
static void load_resources()
{
    Q_INIT_RESOURCE(resources);
}

namespace bichrom::theme {

namespace {

QString family()
{
    static const QString name = [] {
        load_resources();
        QString found;
        for (const auto *file : {":/fonts/Regular.otf", ":/fonts/Medium.otf", ":/fonts/SemiBold.otf"}) {
            const int id = QFontDatabase::addApplicationFont(QString::fromLatin1(file));
            const QStringList families = QFontDatabase::applicationFontFamilies(id);
            if (found.isEmpty() && !families.isEmpty()) {
                found = families.front();
            }
        }
        return found;
    }();
    return name;
}

} // namespace

QFont font(int pixels, QFont::Weight weight)
{
    QFont result(family());
    result.setPixelSize(pixels);
    result.setWeight(weight);
    result.setHintingPreference(QFont::PreferNoHinting);
    return result;
}

QString text_of(const std::string &utf8)
{
    return QString::fromStdString(utf8);
}

QColor color_of(Rgb8 rgb)
{
    return {rgb.r, rgb.g, rgb.b};
}

QColor ink_color(const Lab &lab)
{
    return color_of(ProcessProfile::fogra39()->lab_to_rgb(lab));
}

QString switchStyle()
{
    return QStringLiteral(
        "QPushButton { border: 2px solid transparent; border-radius: 2px; background: transparent; padding: "
        "2px 9px; }"
        "QPushButton:checked { border: 2px solid #e59a1c; background: #fbfbf9; font-weight: 600; }"
        "QPushButton:focus { background: #f7f7f5; border: 2px solid #565653; }");
}

QString listStyle()
{
    return QStringLiteral(
               "QListView { background: %1; border: 1px solid %2; }"
               "QListView::item { padding: 2px; border-left: 3px solid transparent; }"
               "QListView::item:selected { background: %3; color: %4; border-left: 3px solid %5; }")
        .arg(card.name(), line.name(), amberField.name(), text.name(), amber.name());
}

QString percent(double share, int decimals)
{
    return QString::number(share * 100.0, 'f', decimals) + QStringLiteral(" %");
}

QString coverage(double share)
{
    constexpr double least = 0.0005; // of a share that reads as something at one decimal
    return share < 0                    ? QStringLiteral("…")
           : share > 0 && share < least ? QCoreApplication::translate("Coverage", "< 0.1 %")
                                        : percent(share);
}

void apply(QApplication &app)
{
    app.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
    app.setFont(font(12));
    QPalette palette;
    palette.setColor(QPalette::Window, panel);
    palette.setColor(QPalette::WindowText, text);
    palette.setColor(QPalette::Base, field);
    palette.setColor(QPalette::AlternateBase, card);
    palette.setColor(QPalette::Text, text);
    palette.setColor(QPalette::Button, card);
    palette.setColor(QPalette::ButtonText, text);
    palette.setColor(QPalette::Highlight, QColor(0x3a, 0x3a, 0x38));
    palette.setColor(QPalette::HighlightedText, field);
    palette.setColor(QPalette::ToolTipBase, field);
    palette.setColor(QPalette::ToolTipText, text);
    palette.setColor(QPalette::PlaceholderText, quiet);
    for (const QPalette::ColorRole role :
         {QPalette::Text, QPalette::ButtonText, QPalette::WindowText, QPalette::PlaceholderText}) {
        palette.setColor(QPalette::Disabled, role, unusable);
    }
    app.setPalette(palette);
    app.setStyleSheet(QStringLiteral(R"(
        QWidget { font-size: 12px; }
        QToolTip { border: 1px solid #8c8c8a; padding: 4px; }
        QPushButton { background: #eeeeeb; border: 1px solid #a9a9a4; border-radius: 3px; padding: 4px 12px; min-height: 20px; }
        QPushButton:hover { background: #f7f7f5; }
        QPushButton:pressed { background: #dcdcd8; }
        QPushButton:focus, QToolButton:focus { border: 1px solid #1c1c1b; }
        QPushButton:disabled { color: #5b5b58; border-color: #c2c2bd; }
        QPushButton[target="true"]:checked { border: 2px solid #e59a1c; background: #fbfbf9; font-weight: 600; }
        QPushButton[main="true"] { border: 2px solid #e59a1c; font-weight: 600; padding: 5px 16px; }
        QPushButton[main="true"]:disabled { border: 2px solid #c2c2bd; }
        QLineEdit, QComboBox { background: #fbfbf9; border: 1px solid #a9a9a4; border-radius: 2px; padding: 2px 6px; min-height: 20px; selection-background-color: #3a3a38; }
        QLineEdit:focus, QComboBox:focus { border: 1px solid #1c1c1b; }
        QLineEdit[wrong="true"] { border: 2px solid #e59a1c; }
        QLineEdit:disabled, QComboBox:disabled { background: #e8e8e5; }
        QComboBox::drop-down { border: 0; width: 20px; }
        QComboBox::down-arrow { image: url(:/signs/down.png); width: 8px; height: 5px; }
        QComboBox QAbstractItemView { background: #fbfbf9; border: 1px solid #8c8c8a; selection-background-color: #3a3a38; }
        QCheckBox { spacing: 8px; }
        QScrollArea { border: 0; background: transparent; }
        QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
        QScrollBar::handle:vertical { background: #b0b0ab; border-radius: 4px; min-height: 24px; margin: 1px 2px; }
        QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
        QScrollBar:horizontal { background: transparent; height: 10px; }
        QScrollBar::handle:horizontal { background: #b0b0ab; border-radius: 4px; margin: 2px 1px; }
        QProgressBar { border: 1px solid #a9a9a4; border-radius: 2px; background: #fbfbf9; text-align: center; min-height: 18px; }
        QProgressBar::chunk { background: #e59a1c; }
        QMenu { background: #eeeeeb; border: 1px solid #8c8c8a; }
        QMenu::item { padding: 5px 24px; }
        QMenu::item:selected { background: #3a3a38; color: #fbfbf9; }
        QMenu::item:disabled { color: #5b5b58; }
    )"));
}

} // namespace bichrom::theme
