#include "app/worktops/layer_table.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QSignalBlocker>

namespace bichrom {

namespace {

constexpr std::size_t most_layers = 200; // a list of more is nothing to look through
constexpr int first_plate = 2;           // rows of a chooser before the plates: as in the file, left out

} // namespace

LayerTable::LayerTable(Session &session, Router &router, QWidget *parent)
    : QWidget(parent), m_session(session), m_router(router)
{
    m_grid = new QGridLayout(this);
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setVerticalSpacing(3);
    m_grid->setColumnStretch(0, 1);
    connect(&m_session, &Session::artworkChanged, this, &LayerTable::rebuild);
    connect(&m_session, &Session::jobChanged, this, &LayerTable::refresh);
    rebuild();
}

void LayerTable::rebuild()
{
    while (QLayoutItem *item = m_grid->takeAt(0)) {
        item->widget()->deleteLater();
        delete item;
    }
    m_rows.clear();
    const auto layers = m_session.isOpen() ? m_session.artwork().layers() : std::vector<Layer>();
    if (!layers.empty()) {
        m_grid->addWidget(make_label(tr("Layers"), 11, QFont::DemiBold, true, this), 0, 0, 1, 2);
    }
    for (std::size_t i = 0; i < layers.size() && i < most_layers; ++i) {
        const Layer &layer = layers[i];
        const QString name = theme::text_of(layer.name);
        auto *label = make_label({}, 11, QFont::Normal, !layer.prints, this);
        label->setText(label->fontMetrics().elidedText(name, Qt::ElideMiddle, 130));
        label->setToolTip(name);
        const int row = static_cast<int>(i) + 1;
        m_grid->addWidget(label, row, 0);
        if (layer.prints) {
            auto *chooser = new QComboBox(this);
            chooser->setObjectName(QStringLiteral("layer ") + name);
            chooser->setAccessibleName(tr("What becomes of the layer %1").arg(name));
            chooser->setFixedWidth(140);
            connect(chooser, &QComboBox::activated, this, [this, name](int chosen) { decide(name, chosen); });
            m_grid->addWidget(chooser, row, 1);
            m_rows.emplace_back(name, chooser);
        } else {
            m_grid->addWidget(make_label(!layer.counted         ? tr("hidden")
                                         : layer.unprinted == 0 ? tr("hidden, empty")
                                         : layer.unprinted == 1
                                             ? tr("hidden, 1 object")
                                             : tr("hidden, %1 objects").arg(layer.unprinted),
                                         11, QFont::Normal, true, this),
                              row, 1);
        }
    }
    setVisible(!layers.empty());
    refresh();
}

void LayerTable::showEvent(QShowEvent *)
{
    refresh();
}

void LayerTable::refresh()
{
    if (!isVisible()) {
        return;
    }
    for (const auto &[layer, chooser] : m_rows) {
        const QSignalBlocker quiet(chooser);
        chooser->clear();
        chooser->addItems({tr("as in the file"), tr("left out")});
        int now = 0;
        const Route *route = m_router.layerRoute(layer);
        for (const Plate &plate : m_session.job().plates) {
            if (route != nullptr && route->to == RouteTo::Plates && !route->targets.empty() &&
                route->targets.front().ink == plate.ink) {
                now = chooser->count();
            }
            chooser->addItem(tr("to %1").arg(theme::text_of(plate.ink)), theme::text_of(plate.ink));
        }
        if (route != nullptr && route->to == RouteTo::Nothing) {
            now = 1;
        } else if (route != nullptr && now == 0) { // decided by a script
            now = chooser->count();
            chooser->addItem(theme::text_of(describe_end(*route)));
        }
        chooser->setCurrentIndex(now);
    }
}

void LayerTable::decide(const QString &layer, int row)
{
    if (row == 0) {
        m_router.releaseLayer(layer);
    } else if (row == 1) {
        m_router.routeLayer(layer, RouteTo::Nothing);
    } else if (const std::size_t plate = static_cast<std::size_t>(row - first_plate);
               plate < m_session.job().plates.size()) {
        m_router.routeLayer(layer, RouteTo::Plates, theme::text_of(m_session.job().plates[plate].ink));
    }
}

} // namespace bichrom
