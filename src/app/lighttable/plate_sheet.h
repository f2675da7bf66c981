/// \file
/// All plates of the page side by side, each as a grey film.
/// Layer: app/lighttable.
#pragma once

#include "app/services/fact.h"
#include "app/services/session.h"
#include "app/tasks/task_scope.h"

#include <QImage>
#include <QWidget>

#include <vector>

namespace bichrom {

/// Lies over the light table while it is shown, and follows the job. A click on a plate shows that one alone.
class PlateSheet : public QWidget
{
    Q_OBJECT

public:
    PlateSheet(Session &session, QWidget *parent);

    /// Whether what is shown is of the job as it is.
    [[nodiscard]] bool isCurrent() const { return m_made.state() == Made::State::Known; }
    /// Where a plate's picture stands; empty when there is none of that name.
    [[nodiscard]] QRect cellOf(const QString &ink) const;

Q_SIGNALS:
    void chosen(const QString &ink);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void showEvent(QShowEvent *event) override;
    void hideEvent(QHideEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    struct Film
    {
        QString ink;
        QImage picture;
    };
    using Made = Fact<std::vector<Film>>;
    void follow();
    /// Columns of the grid in which pictures of the page come out largest.
    [[nodiscard]] int columns(std::size_t count) const;
    [[nodiscard]] QRect cell(std::size_t number, std::size_t count) const;
    /// Pixels of the screen a picture may take.
    [[nodiscard]] QSize room(std::size_t count) const;

    Session &m_session;
    Made m_made;
    CancelSwitch m_running;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
