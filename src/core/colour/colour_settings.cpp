#include "core/colour/colour_settings.h"

namespace bichrom {

Outcome<std::shared_ptr<const ProcessProfile>> condition_of(const ColourSettings &settings)
{
    if (settings.condition == nullptr && settings.rendering == Rendering{}) {
        return ProcessProfile::fogra39();
    }
    return ProcessProfile::open(settings.condition != nullptr
                                    ? std::span<const std::byte>(*settings.condition)
                                    : ProcessProfile::fogra39_bytes(),
                                settings.rendering);
}

} // namespace bichrom
