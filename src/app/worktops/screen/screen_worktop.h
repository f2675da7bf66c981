/// \file
/// Screen: ruling, angle and dot shape of each plate.
/// Layer: app/worktops/screen.
#pragma once

#include "app/services/session.h"
#include "app/worktops/worktop.h"

#include <vector>

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace bichrom {

class AngleDial;
class NumberField;

class ScreenWorktop : public Worktop
{
    Q_OBJECT

public:
    explicit ScreenWorktop(Session &session, QWidget *parent = nullptr);

    /// FindingsOpen when something about the screens needs the artist.
    [[nodiscard]] StageState state(bool looked_at) const override;

private:
    struct Row
    {
        std::string ink;
        QWidget *widget = nullptr;
        NumberField *ruling = nullptr;
        NumberField *angle = nullptr;
        QComboBox *dot = nullptr;
        QComboBox *kind = nullptr;
        QLabel *detail = nullptr; ///< beside the field below
        NumberField *least = nullptr, *chain = nullptr;
    };
    void refresh();
    void rebuild();
    [[nodiscard]] Row makeRow(const Plate &plate);
    void changePlate(const std::string &ink, const QString &text, const std::function<void(Screen &)> &edit);
    [[nodiscard]] QString remarks() const;

    Session &m_session;
    QLabel *m_empty;
    NumberField *m_resolution;
    NumberField *m_all;
    AngleDial *m_dial;
    QWidget *m_body;
    QVBoxLayout *m_list;
    QLabel *m_remarks;
    std::vector<Row> m_rows;
};

} // namespace bichrom
