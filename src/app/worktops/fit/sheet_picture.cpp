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

namespace {

/// Where the ink of a tile stands, which begins at a whole word; empty when its first and middle rows are
/// bare.
QRectF inked(const MarkTile &tile)
{
    int first = tile.bits.width, last = 0;
    for (int x = 0; x < tile.bits.width; ++x) {
        if (tile.bits.at(x, 0) || tile.bits.at(x, tile.bits.height / 2)) {
            first = std::min(first, x);
            last = x + 1;
        }
    }
    return first < last ? QRectF(tile.x + first, tile.y, last - first, tile.bits.height) : QRectF();
}

QRectF rect_of(const PixelRect &rect)
{
    return {double(rect.x), double(rect.y), double(rect.width), double(rect.height)};
}

} // namespace

void SheetPicture::show(const Outcome<FilmSheet> &made, bool mirrored)
{
    m_patches.clear();
    m_crosses.clear();
    m_size = {};
    m_mirrored = mirrored;
    m_fault = made ? QString() : theme::text_of(made.error().message());
    setToolTip(made ? tr("%1; dark: marks, grey: the art").arg(sheet_size_words(*made)) : m_fault);
    update();
    if (!made) {
        return;
    }
    const FilmSheet &sheet = *made;
    m_size = QSizeF(sheet.width, sheet.height);
    for (int row = 0; row < sheet.rows; ++row) {
        for (int column = 0; column < sheet.columns; ++column) {
            m_patches.push_back(
                {rect_of({sheet.art.x + column * sheet.column_pitch, sheet.art.y + row * sheet.row_pitch,
                          sheet.copy_width, sheet.copy_height}),
                 QColor(204, 204, 204)});
        }
    }
    for (const PixelRect &mark : sheet.registration) {
        const QRectF area = rect_of(mark);
        m_crosses.emplace_back(area.center().x(), area.top(), area.center().x(), area.bottom());
        m_crosses.emplace_back(area.left(), area.center().y(), area.right(), area.center().y());
    }
    for (const MarkTile &tile : sheet.common) {
        const QRectF area = inked(tile);
        const bool is_cross =
            std::any_of(sheet.registration.begin(), sheet.registration.end(),
                        [&](const PixelRect &mark) { return rect_of(mark).contains(area.center()); });
        if (!is_cross && !area.isEmpty()) {
            m_patches.push_back({area, theme::text});
        }
    }
    for (const WedgePatch &patch : sheet.wedge) {
        m_patches.push_back({rect_of(patch.rect), QColor::fromHsv(0, 0, 255 - patch.tone)});
    }
    if (!sheet.plate.empty()) {
        for (const MarkTile &tile : sheet.plate.front()) {
            m_patches.push_back(
                {QRectF(tile.x, tile.y + tile.bits.height * 0.3, tile.bits.width, tile.bits.height * 0.4),
                 theme::quiet});
        }
    }
}

void SheetPicture::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::surround);
    if (m_size.isEmpty()) {
        painter.setPen(theme::text);
        painter.setFont(theme::font(12));
        painter.drawText(rect().adjusted(10, 8, -10, -8), Qt::AlignCenter | Qt::TextWordWrap, m_fault);
        return;
    }
    constexpr double margin = 8;
    const double scale =
        std::min((width() - 2 * margin) / m_size.width(), (height() - 2 * margin) / m_size.height());
    painter.translate(width() / 2.0, height() / 2.0);
    painter.scale(m_mirrored ? -scale : scale, scale);
    painter.translate(-m_size.width() / 2, -m_size.height() / 2);
    painter.fillRect(QRectF(QPointF(), m_size), Qt::white);
    const double least = 1 / scale; // thin things stay visible
    for (const Patch &patch : m_patches) {
        painter.fillRect(QRectF(patch.area.topLeft(), QSizeF(std::max(patch.area.width(), least),
                                                             std::max(patch.area.height(), least))),
                         patch.colour);
    }
    painter.setPen(QPen(theme::text, least));
    for (const QLineF &line : m_crosses) {
        painter.drawLine(line);
    }
}

QString sheet_size_words(const FilmSheet &sheet)
{
    return SheetPicture::tr("%1 × %2 mm")
        .arg(theme::text_of(format_number(sheet.to_length(sheet.width).value, 1)),
             theme::text_of(format_number(sheet.to_length(sheet.height).value, 1)));
}

} // namespace bichrom
