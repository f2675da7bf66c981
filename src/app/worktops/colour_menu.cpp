#include "app/worktops/colour_menu.h"

#include "app/widgets/theme.h"

#include <QCoreApplication>
#include <QMenu>
#include <QPainter>

#include <functional>

namespace bichrom {

namespace {

QString tr(const char *text)
{
    return QCoreApplication::translate("ColourMenu", text);
}

QIcon swatch_of(const Lab &colour)
{
    constexpr int side = 14;
    QPixmap pixels(side, side);
    pixels.fill(theme::ink_color(colour));
    QPainter painter(&pixels);
    painter.setPen(theme::quiet);
    painter.drawRect(0, 0, side - 1, side - 1);
    return QIcon(pixels);
}

/// The job's plates, last printed on top, and the other ends; \p send and \p end are done with what is
/// chosen.
void add_ends(QMenu &menu, const Job &job, const std::function<void(const QString &)> &send,
              const std::function<void(RouteTo)> &end)
{
    for (auto plate = job.plates.rbegin(); plate != job.plates.rend(); ++plate) {
        const QString ink = theme::text_of(plate->ink);
        QObject::connect(menu.addAction(swatch_of(plate->shown()), ink), &QAction::triggered, &menu,
                         [send, ink] { send(ink); });
    }
    menu.addSeparator();
    for (const auto &[to, text] :
         {std::pair(RouteTo::Process, tr("Process inks")), std::pair(RouteTo::BareStock, tr("Bare stock")),
          std::pair(RouteTo::Nothing, tr("No print"))}) {
        QObject::connect(menu.addAction(text), &QAction::triggered, &menu, [end, to = to] { end(to); });
    }
}

} // namespace

QMenu *make_colour_menu(Session &session, Router &router, const InkLibrary &library, int colour, int object,
                        QWidget *parent)
{
    const Scene &scene = session.page()->scene;
    if (colour < 0 || colour >= static_cast<int>(scene.colours.size())) {
        return nullptr;
    }
    const FoundColour &found = scene.colours[static_cast<std::size_t>(colour)];
    auto *menu = new QMenu(parent);
    menu->setObjectName(QStringLiteral("colourMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(router.nameOf(colour))->setEnabled(false);
    menu->addSeparator();
    if (!found.colour.values.empty()) { // pictures have no one colour
        int shown = 0;
        constexpr int most = 5;
        for (const NearInk &near :
             nearest_inks(library.book(), found.appearance, static_cast<int>(library.book().inks.size()))) {
            const BookInk &ink = library.book().inks[static_cast<std::size_t>(near.index)];
            if (ink.use == InkUse::Technical || ink.use == InkUse::Varnish || ++shown > most) {
                continue; // no colours
            }
            const QString name = theme::text_of(ink.name);
            const bool known = session.job().find_plate(ink.name) >= 0;
            QAction *action = menu->addAction(
                swatch_of(ink.solid), (known ? tr("%1, ΔE %2") : tr("New plate: %1, ΔE %2"))
                                          .arg(name, theme::text_of(format_number(near.difference, 1))));
            action->setObjectName(QStringLiteral("nearInk"));
            QObject::connect(action, &QAction::triggered, menu,
                             [&router, colour, name] { router.send(colour, name); });
            if (menu->activeAction() == nullptr) {
                menu->setActiveAction(action);
            }
        }
        menu->addSeparator();
    }
    add_ends(
        *menu->addMenu(tr("This colour to")), session.job(),
        [&router, colour](const QString &ink) { router.send(colour, ink); },
        [&router, colour](RouteTo to) { router.end(colour, to); });
    QAction *release = menu->addAction(tr("This colour as it is"));
    QObject::connect(release, &QAction::triggered, menu, [&router, colour] { router.release({colour}); });
    if (object >= 0) {
        add_ends(
            *menu->addMenu(tr("Only this object to")), session.job(),
            [&router, object](const QString &ink) { router.routeObjects({object}, RouteTo::Plates, ink); },
            [&router, object](RouteTo to) { router.routeObjects({object}, to); });
    }
    return menu;
}

} // namespace bichrom
