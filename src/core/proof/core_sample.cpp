#include "core/proof/core_sample.h"

#include "core/base/pixel_rect.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace bichrom {

namespace {

double sum_of(const Plane &plane, const PixelRect &part)
{
    long long sum = 0;
    for (int y = part.y; y < part.y + part.height; ++y) {
        for (int x = part.x; x < part.x + part.width; ++x) {
            sum += plane.at(x, y);
        }
    }
    return static_cast<double>(sum);
}

int pixel_of(double mm)
{
    return static_cast<int>(std::floor(mm * sample_resolution.value / millimetres_per_inch));
}

} // namespace

double CoreSample::total() const
{
    return std::accumulate(tones.begin(), tones.end(), 0.0);
}

void SampleSum::add(const PlateTile &tile, const PixelRect &place)
{
    PixelRect part = intersection(tile.rect, place);
    if (part.empty()) {
        return;
    }
    part.x -= tile.rect.x;
    part.y -= tile.rect.y;
    m_tones.resize(std::max(m_tones.size(), tile.plates.size()));
    for (std::size_t i = 0; i < tile.plates.size(); ++i) {
        m_tones[i] += sum_of(tile.plates[i], part);
    }
    m_painted += sum_of(tile.area, part);
    m_pixels += static_cast<long long>(part.width) * part.height;
}

CoreSample SampleSum::mean() const
{
    if (m_pixels == 0) {
        return {};
    }
    const double full = 255.0 * static_cast<double>(m_pixels);
    CoreSample sample;
    for (const double tone : m_tones) {
        sample.tones.push_back(tone / full);
    }
    sample.painted = m_painted / full;
    return sample;
}

PixelRect sample_square(const PlateLine &plate_line, double x, double y, int side)
{
    const PixelRect page = plate_line.extent(sample_resolution);
    const int column = std::clamp(pixel_of(x), 0, page.width - 1);
    const int row = std::clamp(pixel_of(y), 0, page.height - 1);
    return intersection({column - side / 2, row - side / 2, side, side}, page);
}

PixelRect sample_area(const PlateLine &plate_line, const Rect &area)
{
    const PixelRect page = plate_line.extent(sample_resolution);
    const int left = std::clamp(pixel_of(area.x), 0, page.width - 1);
    const int top = std::clamp(pixel_of(area.y), 0, page.height - 1);
    // A hair less, so that an edge on a pixel's border does not take in the next pixel.
    const int right = std::clamp(pixel_of(area.x + area.width - 1e-9), left, page.width - 1);
    const int bottom = std::clamp(pixel_of(area.y + area.height - 1e-9), top, page.height - 1);
    return {left, top, right - left + 1, bottom - top + 1};
}

Outcome<CoreSample> take_sample(const PlateLine &plate_line, const PixelRect &place,
                                const JobControl &control)
{
    constexpr int band = 256;
    SampleSum sum;
    for (int y = 0; y < place.height; y += band) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", plate_line.page().place(), {}};
        }
        const PixelRect part = {place.x, place.y + y, place.width, std::min(band, place.height - y)};
        const auto tile = plate_line.render(part, sample_resolution, Edges::Smooth, control);
        if (!tile) {
            return tile.error();
        }
        sum.add(*tile, part);
    }
    return sum.mean();
}

} // namespace bichrom
