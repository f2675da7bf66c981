/// \file
/// Screen: ruling, angle and dot shape of each plate.
/// Layer: app/worktops/screen.
#pragma once

#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/session.h"
#include "app/widgets/when_seen.h"
#include "app/worktops/worktop.h"

#include <QColor>

#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QVBoxLayout;

namespace bichrom {

class AngleDial;
class BeatsPanel;
class CurvesPanel;
class NumberField;
class PanelSwitch;

class ScreenWorktop : public Worktop
{
    Q_OBJECT

public:
    ScreenWorktop(Session &session, ViewState &view, Prompts &prompts, QWidget *parent = nullptr);

    /// FindingsOpen when something about the screens needs the artist.
    [[nodiscard]] StageState state(bool looked_at) const override;
    void setActive(bool active) override;

Q_SIGNALS:
    /// A place on the light table is to be seen, mm of the shown page.
    void placeChosen(QPointF mm);

private:
    struct Row
    {
        std::string ink;
        QColor swatch;
        QWidget *widget = nullptr;
        NumberField *ruling = nullptr;
        NumberField *angle = nullptr;
        QComboBox *dot = nullptr;
        QComboBox *kind = nullptr;
        QLabel *detail = nullptr; ///< beside the field below
        NumberField *least = nullptr, *chain = nullptr;
    };
    void refresh();
    [[nodiscard]] bool rowsFollow() const;
    void makeRows();
    [[nodiscard]] Row makeRow(const Plate &plate);
    void showPanel(int number);
    void chooseTile(const std::string &ink);
    void changePlate(const std::string &ink, const QString &text, const std::function<void(Screen &)> &edit,
                     const QString &merge_key = {});
    void showMeant();
    [[nodiscard]] QString remarks() const;
    [[nodiscard]] QString adviceWords() const;

    Session &m_session;
    Prompts &m_prompts;
    PanelSwitch *m_switch;
    CurvesPanel *m_curves;
    BeatsPanel *m_beats;
    bool m_active = false;
    QLabel *m_empty;
    NumberField *m_resolution;
    NumberField *m_all;
    AngleDial *m_dial;
    QWidget *m_body;
    QVBoxLayout *m_list;
    QLabel *m_remarks;
    struct Tick
    {
        std::pair<std::string, std::string> inks;
        QCheckBox *box;
    };
    QWidget *m_meant; ///< ticks of close pairs
    std::vector<Tick> m_ticks;
    QLabel *m_advice;
    std::vector<Row> m_rows; ///< the last printed first, as in the lay-down
    WhenSeen m_seen;
};

} // namespace bichrom
