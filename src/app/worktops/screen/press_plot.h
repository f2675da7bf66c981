/// \file
/// A plate's tones between file, film and print, drawn.
/// Layer: app/worktops/screen.
#pragma once

#include "core/job/screen_settings.h"

#include <QWidget>

namespace bichrom {

class PressPlot : public QWidget
{
    Q_OBJECT

public:
    explicit PressPlot(QWidget *parent = nullptr);
    void show(const PressCurve &press);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    PressCurve m_press;
};

} // namespace bichrom
