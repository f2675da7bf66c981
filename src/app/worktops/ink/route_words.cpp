#include "app/worktops/ink/route_words.h"

#include "app/widgets/theme.h"
#include "core/colour/process_profile.h"

#include <QCoreApplication>
#include <QStringList>

#include <cmath>

namespace bichrom {

namespace {

QString tr(const char *text)
{
    return QCoreApplication::translate("RouteWords", text);
}

} // namespace

QString short_name(const ColourUse &use)
{
    if (use.values.empty()) {
        return use.space == QStringLiteral("None").toStdString()
                   ? tr("pictures")
                   : tr("pictures, %1").arg(theme::text_of(use.space).remove(QStringLiteral("Device")));
    }
    static constexpr const char *letters[] = {"C", "M", "Y", "K"};
    QStringList parts;
    const bool lab = use.space.find("Lab") != std::string::npos;
    const bool rgb = use.colorants.size() == 3 && use.colorants.front() == "Red";
    const double whole = lab ? 1 : rgb ? 255 : 100; // as artists write them
    for (std::size_t i = 0; i < use.values.size(); ++i) {
        const double value = static_cast<double>(use.values[i]);
        const QString number = QString::number(std::lround(value * whole));
        if (use.values.size() == use.colorants.size()) {
            const QString name = theme::text_of(use.colorants[i]);
            const int channel = process_channel(use.colorants[i]);
            const QString word = channel >= 0                        ? QString::fromLatin1(letters[channel])
                                 : use.colorants.size() == 3 && !lab ? name.left(1)
                                                                     : name;
            if (channel >= 0 && value <= 0.0) {
                continue;
            }
            const bool solid_ink = use.colorants.size() == 1 && channel < 0 && value >= 1.0 &&
                                   use.space.find("Separation") != std::string::npos;
            parts << (solid_ink ? word : word + QLatin1Char(' ') + number);
        } else {
            parts << number;
        }
    }
    return parts.isEmpty() ? tr("no ink") : parts.join(QLatin1Char(' '));
}

QString in_artwork(int artwork, const QString &what)
{
    return artwork == 0 ? what : QStringLiteral("%1 · %2").arg(artwork).arg(what);
}

QString short_source(const Route &route)
{
    QString from;
    switch (route.by) {
    case RouteBy::Colour:
        from = short_name(route.colour);
        break;
    case RouteBy::Similar:
        from = tr("≈ %1, %2 %3")
                   .arg(short_name(route.colour), route.measure == ColourMeasure::DeltaE ? tr("ΔE") : tr("%"),
                        theme::text_of(format_number(route.tolerance, 1)));
        break;
    case RouteBy::Ink:
        from = tr("ink %1").arg(theme::text_of(route.name));
        break;
    case RouteBy::Layer:
        from = tr("layer %1").arg(theme::text_of(route.name));
        break;
    case RouteBy::Objects:
        from = route.objects.size() == 1
                   ? tr("one %1").arg(theme::text_of(to_string(route.objects.front().kind)))
                   : tr("%1 objects").arg(route.objects.size());
        break;
    }
    return in_artwork(route.artwork, from);
}

QString short_route(const Route &route)
{
    QStringList to;
    for (const RouteTarget &target : route.targets) {
        QString words = theme::text_of(target.ink);
        if (target.own_tint) {
            words += tr(", own tint");
        }
        if (target.tint < 1.0) {
            words += QLatin1Char(' ') + theme::percent(target.tint, 0);
        }
        to << words;
    }
    const QString end = route.to == RouteTo::Process     ? tr("process inks")
                        : route.to == RouteTo::BareStock ? tr("bare stock")
                        : route.to == RouteTo::Nothing   ? tr("no print")
                                                         : to.join(QStringLiteral(" + "));
    const QString pages =
        route.pages.empty() ? QString() : tr(" (p. %1)").arg(theme::text_of(format_pages(route.pages)));
    return tr("%1 → %2").arg(short_source(route), end) + pages;
}

} // namespace bichrom
