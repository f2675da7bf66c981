/// \file
/// The six stages along the top.
/// Layer: app/bench.
#pragma once

#include "app/models/stage.h"

#include <QAbstractButton>
#include <QWidget>

#include <array>

namespace bichrom {

/// One stage: its state as a sign, and its name.
class StageButton : public QAbstractButton
{
    Q_OBJECT

public:
    StageButton(const QString &name, QWidget *parent);
    void setState(StageState state);
    [[nodiscard]] StageState state() const { return m_state; }
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    StageState m_state = StageState::NotLookedAt;
};

class StageStrip : public QWidget
{
    Q_OBJECT

public:
    explicit StageStrip(QWidget *parent = nullptr);
    void setCurrent(Stage stage);
    [[nodiscard]] Stage current() const { return m_current; }
    void setState(Stage stage, StageState state);
    [[nodiscard]] static QString nameOf(Stage stage);

Q_SIGNALS:
    void chosen(bichrom::Stage stage);

private:
    std::array<StageButton *, stage_count> m_buttons{};
    Stage m_current = Stage::Receive;
};

} // namespace bichrom
