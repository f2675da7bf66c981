#include "app/widgets/ink_words.h"

#include <QCoreApplication>

namespace bichrom {

QString ink_use_words(InkUse use)
{
    const auto words = [](const char *text) { return QCoreApplication::translate("InkUse", text); };
    switch (use) {
    case InkUse::Spot:
        return words("spot");
    case InkUse::Process:
        return words("process");
    case InkUse::White:
        return words("opaque white");
    case InkUse::Varnish:
        return words("varnish");
    case InkUse::Metallic:
        return words("metallic");
    case InkUse::Foil:
        return words("foil");
    case InkUse::Technical:
        break;
    }
    return words("technical");
}

} // namespace bichrom
