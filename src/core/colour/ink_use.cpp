#include "core/colour/ink_use.h"

#include <algorithm>
#include <cctype>
#include <string>
#include <utility>
#include <vector>

namespace bichrom {

InkUse use_named(std::string_view name)
{
    for (const std::string_view process : {"Cyan", "Magenta", "Yellow", "Black"}) {
        if (name == process) {
            return InkUse::Process;
        }
    }
    // Words of the trade (common practice, no source); the first that is found decides.
    static const std::pair<InkUse, std::vector<const char *>> words[] = {
        {InkUse::Technical,
         {"cut", "cutline", "die", "dieline", "crease", "creases", "fold", "folds", "perforation",
          "technical", "guide", "guides"}},
        {InkUse::Varnish, {"varnish", "lacquer", "clear", "gloss", "coating"}},
        {InkUse::Foil, {"foil"}},
        {InkUse::White, {"white", "underbase"}},
        {InkUse::Metallic, {"metallic", "gold", "silver", "copper", "bronze"}}};
    std::string text = " ";
    for (const char c : name) {
        const auto byte = static_cast<unsigned char>(c);
        text += std::isalpha(byte) != 0 ? static_cast<char>(std::tolower(byte)) : ' ';
    }
    text += ' ';
    for (const auto &[use, list] : words) {
        for (const char *word : list) {
            if (text.find(" " + std::string(word) + " ") != std::string::npos) {
                return use;
            }
        }
    }
    return InkUse::Spot;
}

} // namespace bichrom
