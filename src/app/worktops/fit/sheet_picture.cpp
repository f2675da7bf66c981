#include "app/worktops/fit/sheet_picture.h"

#include "app/widgets/theme.h"

#include <QPainter>

#include <algorithm>

namespace bichrom {

SheetPicture::SheetPicture(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("sheetPicture"));
    setAccessibleName(tr("The film, to scale"));
    setMinimumHeight(150);
}

void SheetPicture::show(const Outcome<FilmSheet> &sheet, bool mirrored)
{
    m_sheet = sheet ? std::optional(*sheet) : std::nullopt;
    m_fault = sheet ? QString() : theme::text_of(sheet.error().message());
    m_mirrored = mirrored;
    setToolTip(sheet ? tr("%1; dark: marks, grey: the art").arg(sheet_size_words(*sheet)) : m_fault);
    update();
}

void SheetPicture::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::surround);
    if (!m_sheet) {
        painter.setPen(theme::text);
        painter.setFont(theme::font(12));
        painter.drawText(rect().adjusted(10, 8, -10, -8), Qt::AlignCenter | Qt::TextWordWrap, m_fault);
        return;
    }
    const FilmSheet &sheet = *m_sheet;
    constexpr double margin = 8;
    const double scale =
        std::min((width() - 2 * margin) / sheet.width, (height() - 2 * margin) / sheet.height);
    painter.translate(width() / 2.0, height() / 2.0);
    painter.scale(m_mirrored ? -scale : scale, scale);
    painter.translate(-sheet.width / 2.0, -sheet.height / 2.0);
    painter.fillRect(QRectF(0, 0, sheet.width, sheet.height), Qt::white);
    // Thin things stay visible.
    const double least = 1 / scale;
    const auto fill = [&](const QRectF &area, const QColor &colour) {
        painter.fillRect(
            QRectF(area.x(), area.y(), std::max(area.width(), least), std::max(area.height(), least)),
            colour);
    };
    for (int row = 0; row < sheet.rows; ++row) {
        for (int column = 0; column < sheet.columns; ++column) {
            fill(QRectF(sheet.art.x + double(column) * sheet.column_pitch,
                        sheet.art.y + double(row) * sheet.row_pitch, sheet.copy_width, sheet.copy_height),
                 QColor(204, 204, 204));
        }
    }
    QPen pen(theme::text, least);
    painter.setPen(pen);
    for (const PixelRect &mark : sheet.registration) {
        const QRectF area(mark.x, mark.y, mark.width, mark.height);
        painter.drawLine(QPointF(area.center().x(), area.top()), QPointF(area.center().x(), area.bottom()));
        painter.drawLine(QPointF(area.left(), area.center().y()), QPointF(area.right(), area.center().y()));
    }
    const std::size_t drawn = sheet.registration.size(); // the first tiles are those marks
    for (std::size_t i = drawn; i < sheet.common.size(); ++i) {
        const MarkTile &tile = sheet.common[i];
        // A tile begins at a whole word, the mark somewhere in it.
        int first = tile.bits.width, last = 0;
        for (int x = 0; x < tile.bits.width; ++x) {
            if (tile.bits.at(x, 0) || tile.bits.at(x, tile.bits.height / 2)) {
                first = std::min(first, x);
                last = std::max(last, x + 1);
            }
        }
        if (first < last) {
            fill(QRectF(tile.x + first, tile.y, last - first, tile.bits.height), theme::text);
        }
    }
    for (const WedgePatch &patch : sheet.wedge) {
        fill(QRectF(patch.rect.x, patch.rect.y, patch.rect.width, patch.rect.height),
             QColor::fromHsv(0, 0, 255 - patch.tone));
    }
    if (!sheet.plate.empty()) {
        for (const MarkTile &tile : sheet.plate.front()) {
            fill(QRectF(tile.x, tile.y + tile.bits.height * 0.3, tile.bits.width, tile.bits.height * 0.4),
                 theme::quiet);
        }
    }
}

QString sheet_size_words(const FilmSheet &sheet)
{
    return SheetPicture::tr("%1 × %2 mm")
        .arg(theme::text_of(format_number(sheet.to_length(sheet.width).value, 1)),
             theme::text_of(format_number(sheet.to_length(sheet.height).value, 1)));
}

} // namespace bichrom
