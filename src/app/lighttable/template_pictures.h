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

class QPainter;

namespace bichrom {

class TemplatePictures : public QObject
{
    Q_OBJECT

public:
    explicit TemplatePictures(Session &session, QObject *parent = nullptr);

    /// Multiplies them onto what is there, so that their paper is not seen.
    /// \param place  widget pixels of a rectangle, mm from the media box's top left
    void paint(QPainter &painter, const std::function<QRectF(const Rect &area)> &place) const;

Q_SIGNALS:
    void changed();

private:
    void follow();

    /// Of one page of one file; null until it is there.
    struct Picture
    {
        std::shared_ptr<const Artwork> original;
        int page = 1;
        QImage image;
    };
    Session &m_session;
    std::map<int, Picture> m_pictures; ///< by the artwork's number
    TaskScope m_tasks;                 // last, so that it is destroyed first
};

} // namespace bichrom
