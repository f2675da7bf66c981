#include "app/widgets/area_painter.h"

#include "app/widgets/theme.h"

#include <QCoreApplication>
#include <QPainter>

namespace bichrom {

namespace {

const QColor dark(0x3a, 0x3a, 0x38), light(255, 255, 255, 170);

void draw_line(QPainter &painter, const QLineF &line, const QVector<qreal> &dashes)
{
    painter.setPen(QPen(light, 3));
    painter.drawLine(line);
    QPen pen(dark, 1.5);
    pen.setDashPattern(dashes);
    painter.setPen(pen);
    painter.drawLine(line);
}

void draw_frame(QPainter &painter, const QRectF &at, const QVector<qreal> &dashes)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(light, 3));
    painter.drawRect(at);
    QPen pen(dark, 1.5);
    pen.setDashPattern(dashes);
    painter.setPen(pen);
    painter.drawRect(at);
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
                draw_line(painter, {at.left(), at.center().y(), at.right(), at.center().y()}, {8, 3, 1, 3});
            } else {
                corner.setX(at.center().x());
                draw_line(painter, {at.center().x(), at.top(), at.center().x(), at.bottom()}, {8, 3, 1, 3});
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
