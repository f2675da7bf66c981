#include "core/colour/colour_words.h"

#include "core/colour/ink_book.h"

namespace bichrom {

std::string colour_words(const Lab &lab)
{
    static constexpr const char *hues[] = {"grey",       "red",  "orange", "yellow", "green",
                                           "blue-green", "blue", "violet", "pink"};
    const HueFamily family = hue_family(lab);
    if (family == HueFamily::Neutral) {
        return lab.l < 22   ? "black"
               : lab.l < 45 ? "dark grey"
               : lab.l < 75 ? "grey"
               : lab.l < 93 ? "light grey"
                            : "white";
    }
    const std::string hue = hues[static_cast<std::size_t>(family)];
    return lab.l < 22 ? "very dark " + hue : lab.l < 42 ? "dark " + hue : lab.l > 78 ? "light " + hue : hue;
}

} // namespace bichrom
