/// \file
/// Films as they will be exposed, over the light table.
/// Layer: app/lighttable.
#pragma once

#include "app/services/session.h"
#include "app/tasks/task_scope.h"
#include "core/base/child_process.h"
#include "core/output/output_set.h"
#include "core/screen/densitometer.h"

#include <QImage>
#include <QTimer>
#include <QWidget>

#include <memory>
#include <optional>
#include <string>
#include <vector>

class QLabel;
class QPushButton;

namespace bichrom {

/// Shows the very file that a film would be: it is written into a folder of our own, and its pixels are read
/// again. Covers its parent while it is open.
class FilmTable : public QWidget
{
    Q_OBJECT

public:
    FilmTable(Session &session, QWidget *over);

    /// Shows the film of \p first, one of \p inks, in printing order.
    void open(std::vector<std::string> inks, const std::string &first);
    void closeTable();
    [[nodiscard]] bool isOpen() const { return m_isOpen; }

    /// The next film, or with −1 the one before.
    void step(int by);
    /// The ink whose film is shown, or is being made.
    [[nodiscard]] std::string ink() const;
    /// Whether the film's pixels are seen.
    [[nodiscard]] bool isReady() const { return m_film != nullptr && !m_making; }
    /// Device pixels that a film pixel takes.
    [[nodiscard]] double scale() const { return m_scale; }
    /// Of the film's top left, device pixels.
    [[nodiscard]] QPointF origin() const { return m_origin; }
    /// Film pixels, so that \p at (widget) stays where it is.
    void zoomTo(double scale, QPointF at);
    void fit();
    /// Reads the film around \p at (widget) like a densitometer and tells it; a click does this too.
    void measureAt(QPointF at);

Q_SIGNALS:
    void closed();

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    /// A film that was made.
    struct Film
    {
        std::unique_ptr<ScratchFolder> folder; ///< it goes with the picture
        std::filesystem::path path;
        WrittenPlate plate;
        FilmOverview overview;
        QImage small; ///< of the overview
    };
    using Made = Outcome<std::shared_ptr<Film>>;
    [[nodiscard]] static Made make(const OpenedJob &opened, const std::string &ink, const LabelText &label,
                                   const JobControl &control);
    void makeFilm();
    void describe();
    void lookCloser();
    [[nodiscard]] QRectF filmRect() const; ///< device pixels

    Session &m_session;
    std::vector<std::string> m_inks;
    std::size_t m_number = 0;
    std::shared_ptr<Film> m_film;
    QString m_fault;
    bool m_isOpen = false, m_making = false, m_fitted = true;
    double m_scale = 1;
    QPointF m_origin; ///< of the film's top left, device pixels
    QPointF m_pressed, m_dragged;
    QRectF m_measured; ///< what was read last, mm of the film; empty = nothing
    QString m_measuredWords;
    QImage m_scaled; ///< the whole of a film, as small as it is shown
    std::shared_ptr<Film> m_scaledOf;
    QImage m_close;    ///< pixels of a part
    QRect m_closeArea; ///< of the film, pixels
    QTimer m_resting;  ///< the view is not moved just now
    CancelSwitch m_running, m_reading, m_measuring;
    QWidget *m_head;
    QLabel *m_words, *m_facts;
    TaskScope m_tasks;
};

} // namespace bichrom
