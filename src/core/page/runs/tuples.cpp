#include "core/page/runs/tuples.h"

namespace bichrom {

int Tuples::make(int under, int paint)
{
    const auto key = static_cast<std::uint64_t>(under) << 32 | static_cast<std::uint32_t>(paint);
    if (const auto found = m_painted.find(key); found != m_painted.end()) {
        return found->second;
    }
    const RunPaint &p = m_scene.paints[static_cast<std::size_t>(paint)];
    Tuple made = m_tuples[static_cast<std::size_t>(under)];
    const auto lay = [&](std::size_t plane, std::uint8_t tone, int sampler, bool multiplies) {
        std::uint8_t &tone_there = made.tones[plane];
        int &source_there = made.sources[plane];
        Source source{sampler, -1, p.mask, tone, 0, p.alpha, multiplies};
        if (!source.hides()) {
            source.under = source_there - 1;
            source.below = source_there == 0 ? tone_there : std::uint8_t(0);
        }
        if (sampler < 0 && source.under < 0) {
            const std::uint8_t over = multiplies ? multiplied(tone, source.below) : tone;
            if (p.mask < 0 || over == source.below) { // flat, then
                tone_there = source.hides() ? tone : blended(over, source.below, p.alpha);
                source_there = 0;
                return;
            }
        }
        source_there = number_of(source);
        tone_there = 0;
    };
    for (std::size_t plane = 0; plane < area_plane; ++plane) {
        const std::uint32_t bit = std::uint32_t(1) << plane;
        if ((p.replaces & bit) != 0) {
            const bool sampled = (p.sampled & bit) != 0;
            if (sampled || !p.multiplies || p.tones[plane] != 0) {
                lay(plane, sampled ? std::uint8_t(0) : p.tones[plane], sampled ? p.sampler : -1,
                    p.multiplies);
            }
        }
    }
    lay(area_plane, 255, -1, false);
    const int number = number_of(made);
    m_painted.emplace(key, number);
    return number;
}

int Tuples::number_of(const Tuple &tuple)
{
    std::string key(reinterpret_cast<const char *>(tuple.tones.data()), tuple.tones.size());
    key.append(reinterpret_cast<const char *>(tuple.sources.data()), sizeof tuple.sources);
    const auto [at, is_new] = m_numbers.try_emplace(std::move(key), static_cast<int>(m_tuples.size()));
    if (is_new) {
        m_tuples.push_back(tuple);
    }
    return at->second;
}

int Tuples::number_of(const Source &source)
{
    const auto [at, is_new] = m_source_numbers.try_emplace(source, static_cast<int>(m_sources.size()) + 1);
    if (is_new) {
        m_sources.push_back(source);
    }
    return at->second;
}

} // namespace bichrom
