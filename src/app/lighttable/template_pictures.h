/// \file
/// Files that are laid over the page to be looked at and never print.
/// Layer: app/lighttable.
#pragma once

#include "app/services/session.h"
#include "app/tasks/task_scope.h"

#include <QImage>
#include <QObject>
#include <QRectF>

#include <functional>
#include <map>
#include <vector>

class QPainter;

namespace bichrom {

class TemplatePictures : public QObject
{
    Q_OBJECT

public:
    explicit TemplatePictures(Session &session, QObject *parent = nullptr);

    /// Multiplies them onto what is there, so that their paper is not seen; says why one cannot be shown.
    /// \param place  widget pixels of a rectangle, mm from the media box's top left
    void paint(QPainter &painter, const std::function<QRectF(const Rect &area)> &place) const;

Q_SIGNALS:
    void changed();

private:
    void follow();

    /// A page as the eye sees it, each picture half as fine as the one before, so that none has to be made
    /// much smaller while it is drawn.
    struct Seen
    {
        QSizeF millimetres; ///< of the page at its own size
        std::vector<QImage> levels;
    };
    /// Of one page of one file; without levels until it is there, or when \c fault says why it is not.
    struct Picture
    {
        std::shared_ptr<const Artwork> original;
        int page = 1;
        Seen seen{};
        QString fault{};
    };
    static Outcome<Seen> look_at(const Artwork &artwork, int page, const JobControl &control);
    Session &m_session;
    std::map<int, Picture> m_pictures; ///< by the artwork's number
    TaskScope m_tasks;                 // last, so that it is destroyed first
};

} // namespace bichrom
