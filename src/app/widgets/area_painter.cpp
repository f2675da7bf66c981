#include "app/widgets/area_painter.h"

#include "app/widgets/theme.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPainterPath>

namespace bichrom {

namespace {

const QColor dark(0x3a, 0x3a, 0x38), light(255, 255, 255, 170);

/// Dark over light, so that it is seen on any stock and ink.
void draw(QPainter &painter, const QPainterPath &path, const QVector<qreal> &dashes)
{
    painter.strokePath(path, QPen(light, 3));
    QPen pen(dark, 1.5);
    pen.setDashPattern(dashes);
    painter.strokePath(path, pen);
}

void draw_line(QPainter &painter, QPointF from, QPointF to)
{
    QPainterPath path(from);
    path.lineTo(to);
    draw(painter, path, {8, 3, 1, 3});
}

void draw_frame(QPainter &painter, const QRectF &at, const QVector<qreal> &dashes)
{
    QPainterPath path;
    path.addRect(at);
    draw(painter, path, dashes);
}

} // namespace

QString area_words(AreaKind kind)
{
    switch (kind) {
    case AreaKind::Fold:
        return QCoreApplication::translate("bichrom::NamedArea", "fold");
    case AreaKind::Glue:
        return QCoreApplication::translate("bichrom::NamedArea", "glue");
    case AreaKind::KeepOut:
        return QCoreApplication::translate("bichrom::NamedArea", "keep out");
    case AreaKind::Platen:
        break;
    }
    return QCoreApplication::translate("bichrom::NamedArea", "platen");
}

void paint_areas(QPainter &painter, const std::vector<NamedArea> &areas, int page,
                 const std::function<QRectF(const Rect &area)> &place)
{
    painter.setFont(theme::font(11));
    for (const NamedArea &one : areas) {
        if (!is_on(one, page)) {
            continue;
        }
        const QRectF at = place(one.area);
        QPointF corner = at.topLeft();
        switch (one.kind) {
        case AreaKind::Fold:
            if (one.area.width >= one.area.height) {
                corner.setY(at.center().y());
                draw_line(painter, corner, {at.right(), corner.y()});
            } else {
                corner.setX(at.center().x());
                draw_line(painter, corner, {corner.x(), at.bottom()});
            }
            break;
        case AreaKind::Glue:
            painter.fillRect(at, QColor(255, 255, 255, 90));
            painter.fillRect(at, QBrush(QColor(0x3a, 0x3a, 0x38, 150), Qt::Dense6Pattern));
            draw_frame(painter, at, {2, 2});
            break;
        case AreaKind::KeepOut:
            painter.fillRect(at, QColor(255, 255, 255, 90));
            painter.fillRect(at, QBrush(QColor(0x3a, 0x3a, 0x38, 170), Qt::DiagCrossPattern));
            draw_frame(painter, at, {4, 2});
            break;
        case AreaKind::Platen:
            draw_frame(painter, at, {12, 4});
            break;
        }
        const QString words = one.name.empty()
                                  ? area_words(one.kind)
                                  : area_words(one.kind) + QStringLiteral(" · ") + theme::text_of(one.name);
        const QRectF box = painter.boundingRect(QRectF(), 0, words)
                               .translated(corner.x() + 3, corner.y() + 3)
                               .adjusted(-2, 0, 2, 0);
        painter.fillRect(box, QColor(255, 255, 255, 205));
        painter.setPen(dark);
        painter.drawText(box, Qt::AlignCenter, words);
    }
}

} // namespace bichrom
