/// \file
/// Films of ink on a stock, without a job around them.
#pragma once

#include "core/print/ink_solver.h"

namespace bichrom {

/// One ink as it is printed.
struct PrintedLayer
{
    InkFilm film;
    int hits = 1;
    bool wet = false;   ///< of a group printed wet on wet
    bool first = false; ///< of its wet group
};

/// Layers from the stock up, a plane each, coverages as tones.
inline PrintStack layered_print(const Bands &stock, const std::vector<PrintedLayer> &layers, double floor = 0,
                                double transfer = 1)
{
    std::vector<StackInk> inks;
    int group = -1;
    for (std::size_t i = 0; i < layers.size(); ++i) {
        group += layers[i].first || group < 0 ? 1 : 0;
        StackInk ink;
        ink.plane = i;
        ink.film = layers[i].film;
        ink.hits = layers[i].hits;
        ink.wet_group = layers[i].wet ? group : -1;
        inks.push_back(ink);
    }
    return {{stock, floor, transfer, false}, std::move(inks), nullptr};
}

/// Solves for \p inks that are \p films on \p stock, each dry before the next.
inline InkSolver film_solver(const Bands &stock, const std::vector<InkFilm> &films,
                             std::vector<SolvedInk> inks, double ink_limit = 0)
{
    std::vector<PrintedLayer> layers;
    for (const InkFilm &film : films) {
        layers.push_back({film});
    }
    return {layered_print(stock, layers), std::move(inks), ink_limit};
}

} // namespace bichrom
