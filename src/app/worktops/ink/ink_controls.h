/// \file
/// What is done to one ink of a separated picture: strength, hues, curve, which inks it keeps from.
/// Layer: app/worktops.
#pragma once

#include "core/job/job.h"

#include <QWidget>

#include <string>
#include <vector>

class QComboBox;
class QLabel;
class QLineEdit;
class QToolButton;

namespace bichrom {

class CurveEdit;
class HueBar;
class NumberField;

class InkControls : public QWidget
{
    Q_OBJECT

public:
    explicit InkControls(QWidget *parent = nullptr);

    /// \param target  of \p route, which is separated; null: nothing can be changed
    void show(const Route *route, const RouteTarget *target, const QColor &ink);

Q_SIGNALS:
    void changed(const bichrom::RouteTarget &target);

private:
    void take();
    void fillNever(const Route &route);

    RouteTarget m_target;
    bool m_filling = false;
    QLabel *m_name;
    NumberField *m_strength;
    QToolButton *m_never;
    HueBar *m_bar;
    QLineEdit *m_hues;
    CurveEdit *m_curve;
};

/// Whether a separated picture prints in tones or as square dots of one ink each.
class DotsChoice : public QWidget
{
    Q_OBJECT

public:
    explicit DotsChoice(QWidget *parent = nullptr);
    void show(const IndexDots &dots);

Q_SIGNALS:
    void chosen(const bichrom::IndexDots &dots);

private:
    void take();
    QComboBox *m_kind;
    NumberField *m_size;
};

} // namespace bichrom
