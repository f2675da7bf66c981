#include "app/widgets/swatch.h"

#include "app/widgets/theme.h"

#include <QPainter>

namespace bichrom {

QIcon make_swatch(const QColor &colour)
{
    QPixmap picture(swatch_size);
    picture.fill(theme::quiet);
    QPainter painter(&picture);
    painter.fillRect(1, 1, swatch_size.width() - 2, swatch_size.height() - 2, colour);
    painter.end();
    QIcon icon;
    for (const QIcon::Mode mode : {QIcon::Normal, QIcon::Selected}) {
        icon.addPixmap(picture, mode);
    }
    return icon;
}

} // namespace bichrom
