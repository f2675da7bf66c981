/// \file
/// A row of buttons over the panels of a worktop, one shown at a time.
/// Layer: app/widgets.
#pragma once

#include <QWidget>

class QButtonGroup;
class QHBoxLayout;
class QStackedWidget;

namespace bichrom {

class PanelSwitch : public QWidget
{
    Q_OBJECT

public:
    explicit PanelSwitch(QWidget *parent);

    /// The panels, for the worktop's layout.
    [[nodiscard]] QStackedWidget *panels() const { return m_panels; }

    /// \param name  the button's object name
    void add(const QString &name, const QString &text, QWidget *panel);
    void choose(int number);

private:
    QHBoxLayout *m_row;
    QButtonGroup *m_buttons;
    QStackedWidget *m_panels;
};

} // namespace bichrom
