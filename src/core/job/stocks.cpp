#include "core/job/stocks.h"

namespace bichrom {

const std::vector<ShippedStock> &shipped_stocks()
{
    // Colours of the usual kinds: common practice, no source. Garments and raw board take ink up.
    static const std::vector<ShippedStock> stocks = [] {
        std::vector<ShippedStock> made;
        const auto add = [&](const char *id, const char *name, const Lab &colour, bool clear, bool absorbs) {
            Stock stock;
            stock.name = name;
            stock.colour = colour;
            stock.clear = clear;
            stock.absorbs = absorbs;
            made.push_back({id, stock});
        };
        add("White", "White stock", {100, 0, 0}, false, false);
        add("Black", "Black cotton", {16, 0, -1}, false, true);
        add("Navy", "Navy cotton", {22, 2, -18}, false, true);
        add("Heather", "Heather cotton", {68, 0, 1}, false, true);
        add("Coated", "Coated white", {95, 1, -4}, false, false);
        add("Uncoated", "Uncoated white", {92, 0, 4}, false, true);
        add("Kraft", "Kraft board", {64, 9, 24}, false, true);
        add("Silver", "Silver board", {74, 0, 1}, false, false);
        add("Clear", "Clear film over white", {96, 0, 0}, true, false);
        add("ClearDark", "Clear film over black", {14, 0, 0}, true, false);
        add("ClearWood", "Clear film over wood", {58, 12, 26}, true, false);
        add("ClearBack", "Clear film, printed on its back", {58, 12, 26}, true, false);
        made.back().stock.behind = true;
        return made;
    }();
    return stocks;
}

} // namespace bichrom
