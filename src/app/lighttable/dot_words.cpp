#include "app/lighttable/dot_words.h"

#include "app/widgets/theme.h"

#include <QCoreApplication>

namespace bichrom {

namespace {

QString tr(const char *text)
{
    return QCoreApplication::translate("DotWords", text);
}

} // namespace

QString dot_words(const DotReading &reading)
{
    const auto number = [](double value, int decimals) {
        return theme::text_of(format_number(value, decimals));
    };
    const QString ink = tr("%1 ink").arg(theme::percent(reading.coverage));
    if (reading.kind == DotKind::Dots || reading.kind == DotKind::Lines) {
        return tr("%1, %2 lpi at %3°, %4 of %5 µm")
            .arg(ink, number(reading.lpi, 1), number(reading.angle, 1),
                 reading.kind == DotKind::Lines ? tr("lines")
                 : reading.coverage > 0.5       ? tr("holes")
                                                : tr("dots"),
                 number(reading.dot_um, 0));
    }
    return reading.kind == DotKind::Bare    ? tr("bare film")
           : reading.kind == DotKind::Solid ? tr("solid")
                                            : tr("%1, no ruling").arg(ink);
}

} // namespace bichrom
