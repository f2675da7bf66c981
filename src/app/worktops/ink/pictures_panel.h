/// \file
/// Ink, panel Pictures: photos as tints of inks, flat artwork taken apart into its colours.
/// Layer: app/worktops.
#pragma once

#include "app/services/session.h"
#include "app/tasks/task_scope.h"
#include "core/job/routing.h"
#include "core/line/picture_ink.h"

#include <QWidget>

#include <map>

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;
class QStackedWidget;
class QVBoxLayout;

namespace bichrom {

class BlackChoice;
class CurveEdit;
class InkChoice;
class NumberField;

class PicturesPanel : public QWidget
{
    Q_OBJECT

public:
    PicturesPanel(Session &session, QWidget *parent = nullptr);

    /// Takes the customer's colour at a page point (mm) into the palette, when one is being picked.
    void pick(QPointF mm);

Q_SIGNALS:
    /// Inks are to be chosen for all of the artwork.
    void inksWanted();

protected:
    void showEvent(QShowEvent *) override { measureInk(); }

private:
    enum Treatment
    {
        AsItIs,
        ProcessInks,
        OneInk,
        TwoInks,
        SeveralInks,
        FlatColours,
        NoPrint
    };
    /// What is to become of an ink of a separated route.
    struct Wanted
    {
        Route route;
        RouteTarget target;
    };
    struct InkRow
    {
        QWidget *widget;
        QComboBox *ink;
        NumberField *tint;
        CurveEdit *curve;
    };

    QWidget *buildInks();
    QWidget *buildFlat();
    InkRow makeInkRow(const QString &name, QVBoxLayout *column);
    void refresh();
    void refreshPictures();
    void refreshTreatment();
    void refreshPalette();
    void makeThumbnails();
    void measureInk();
    void showInk(const Outcome<PictureInk> &now, const Outcome<PictureInk> &before);
    void treat(Treatment treatment);
    void applyInks();
    void separate(const std::vector<std::string> &inks);
    void control(const RouteTarget &target);
    void doWanted();
    void want(Wanted wanted);
    void showSeparation();
    void applySplit(PaletteSplit split, const QString &step);
    void findPalette();
    void apply(Route route, const QString &step, const QString &key = {});
    [[nodiscard]] int chosen() const; ///< object of the chosen picture; −1 when none is
    /// The route made for the chosen picture, or that it is separated by with others; null when there is
    /// none.
    [[nodiscard]] const Route *ownRoute() const;
    [[nodiscard]] Treatment treatmentOf(const Route *route) const;
    [[nodiscard]] Route newRoute() const;

    Session &m_session;
    QListWidget *m_pictures;
    QComboBox *m_treatment;
    QStackedWidget *m_settings;
    InkRow m_first, m_second;
    BlackChoice *m_black;
    InkChoice *m_several;
    QListWidget *m_palette;
    QComboBox *m_paletteInk;
    NumberField *m_tolerance;
    NumberField *m_despeckle;
    QCheckBox *m_outlines;
    QPushButton *m_find;
    QPushButton *m_pick;
    QPushButton *m_drop;
    QLabel *m_state;
    QLabel *m_ink;          ///< what the chosen picture prints
    bool m_filling = false; ///< widgets are being set, not used
    quint64 m_request = 0;
    CancelSwitch m_measuring;
    std::vector<Wanted> m_wanted;          ///< the latest last; each ink of a route once
    bool m_controlling = false;            ///< some of that is being done
    quint64 m_inkRequest = 0;              ///< number of the latest measurement
    std::map<int, PictureInk> m_inkBefore; ///< by object: what the page's pictures print as they came
    TaskScope m_tasks;                     // last, so that it is destroyed first
};

} // namespace bichrom
