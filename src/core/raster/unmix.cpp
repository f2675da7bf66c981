#include "core/raster/unmix.h"

#include "core/raster/bands.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace bichrom {

namespace {

constexpr int reach = 2; ///< pixels around an edge pixel in which its colours are looked for
constexpr std::uint8_t no_label = 255;

struct Fit
{
    std::uint8_t a = 0, b = 0;
    float share = 0;     ///< of b
    float error = 1e30f; ///< squared distance left over
};

/// How well \p p is a mixture of \p a and \p b.
Fit fit(const EncodedRgb &p, std::span<const EncodedRgb> palette, std::uint8_t a, std::uint8_t b)
{
    float along = 0;
    float length = 0;
    float offset[3];
    float step[3];
    for (std::size_t k = 0; k < 3; ++k) {
        offset[k] = static_cast<float>(p[k]) - static_cast<float>(palette[a][k]);
        step[k] = static_cast<float>(palette[b][k]) - static_cast<float>(palette[a][k]);
        along += offset[k] * step[k];
        length += step[k] * step[k];
    }
    Fit result{a, b, length > 0 ? std::clamp(along / length, 0.0f, 1.0f) : 0.0f, 0};
    for (std::size_t k = 0; k < 3; ++k) {
        const float left = offset[k] - result.share * step[k];
        result.error += left * left;
    }
    return result;
}

/// Squared distance in encoded values.
int squared(const EncodedRgb &a, const EncodedRgb &b)
{
    int sum = 0;
    for (std::size_t k = 0; k < 3; ++k) {
        const int d = int(a[k]) - int(b[k]);
        sum += d * d;
    }
    return sum;
}

std::uint8_t nearest(const EncodedRgb &p, std::span<const EncodedRgb> palette)
{
    std::size_t best = 0;
    for (std::size_t i = 1; i < palette.size(); ++i) {
        if (squared(p, palette[i]) < squared(p, palette[best])) {
            best = i;
        }
    }
    return static_cast<std::uint8_t>(best);
}

/// A number for each pixel.
struct Labels
{
    int width = 0, height = 0;
    std::vector<std::uint8_t> of;

    [[nodiscard]] std::size_t place(int x, int y) const
    {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    }
    [[nodiscard]] bool inside(int x, int y) const { return x >= 0 && y >= 0 && x < width && y < height; }
    /// The label, or none outside.
    [[nodiscard]] std::uint8_t at(int x, int y) const { return inside(x, y) ? of[place(x, y)] : no_label; }
};

/// Whether the pixel belongs to a flat part: a square of two by two with its label.
bool is_core(const Labels &labels, int x, int y)
{
    const std::uint8_t label = labels.at(x, y);
    for (const int dy : {-1, 1}) {
        for (const int dx : {-1, 1}) {
            if (labels.at(x + dx, y) == label && labels.at(x, y + dy) == label &&
                labels.at(x + dx, y + dy) == label) {
                return label != no_label;
            }
        }
    }
    return false;
}

/// Gives patches of nearest colours smaller than \p least to what touches them most; marks what was given.
void despeckle(Labels &nearest_labels, std::vector<bool> &given, int least)
{
    std::vector<bool> seen(nearest_labels.of.size());
    std::vector<std::pair<int, int>> open;
    std::vector<std::pair<int, int>> patch;
    for (int y = 0; y < nearest_labels.height; ++y) {
        for (int x = 0; x < nearest_labels.width; ++x) {
            if (seen[nearest_labels.place(x, y)]) {
                continue;
            }
            const std::uint8_t label = nearest_labels.at(x, y);
            std::map<std::uint8_t, int> around;
            patch.clear();
            open = {{x, y}};
            seen[nearest_labels.place(x, y)] = true;
            while (!open.empty()) {
                const auto [px, py] = open.back();
                open.pop_back();
                patch.emplace_back(px, py);
                constexpr int sides[4][2] = {{1, 0}, {-1, 0}, {0, 1}, {0, -1}};
                for (const auto &[dx, dy] : sides) {
                    const int nx = px + dx;
                    const int ny = py + dy;
                    if (!nearest_labels.inside(nx, ny)) {
                        continue;
                    }
                    if (nearest_labels.at(nx, ny) != label) {
                        ++around[nearest_labels.at(nx, ny)];
                    } else if (!seen[nearest_labels.place(nx, ny)]) {
                        seen[nearest_labels.place(nx, ny)] = true;
                        open.emplace_back(nx, ny);
                    }
                }
            }
            if (static_cast<int>(patch.size()) >= least || around.empty()) {
                continue;
            }
            const auto most =
                std::max_element(around.begin(), around.end(),
                                 [](const auto &a, const auto &b) { return a.second < b.second; });
            for (const auto &[px, py] : patch) {
                nearest_labels.of[nearest_labels.place(px, py)] = most->first;
                given[nearest_labels.place(px, py)] = true;
            }
        }
    }
}

} // namespace

double rgb_distance(const EncodedRgb &a, const EncodedRgb &b)
{
    constexpr double longest = 441.6729559300637; // 255 × √3
    return std::sqrt(static_cast<double>(squared(a, b))) / longest;
}

std::vector<PaletteColour> find_palette(const RgbPicture &picture, int most, double apart)
{
    constexpr int alike = 3 * 12 * 12; // squared distance of neighbours in a flat part
    constexpr double least_share = 1.0 / 2000.0;
    struct Bin
    {
        std::array<double, 3> sum{};
        double count = 0;
    };
    std::map<int, Bin> bins; // by the upper four bits of each channel
    double flat = 0;
    for (int y = 1; y + 1 < picture.height; ++y) {
        for (int x = 1; x + 1 < picture.width; ++x) {
            const EncodedRgb &p = picture.at(x, y);
            if (squared(p, picture.at(x - 1, y)) > alike || squared(p, picture.at(x + 1, y)) > alike ||
                squared(p, picture.at(x, y - 1)) > alike || squared(p, picture.at(x, y + 1)) > alike) {
                continue;
            }
            Bin &bin = bins[(p[0] >> 4) << 8 | (p[1] >> 4) << 4 | p[2] >> 4];
            for (std::size_t k = 0; k < 3; ++k) {
                bin.sum[k] += p[k];
            }
            ++bin.count;
            ++flat;
        }
    }
    std::vector<Bin> sorted;
    for (const auto &[key, bin] : bins) {
        sorted.push_back(bin);
    }
    std::stable_sort(sorted.begin(), sorted.end(),
                     [](const Bin &a, const Bin &b) { return a.count > b.count; });
    const auto mean = [](const Bin &bin) {
        EncodedRgb rgb{};
        for (std::size_t k = 0; k < 3; ++k) {
            rgb[k] = static_cast<std::uint8_t>(std::lround(bin.sum[k] / bin.count));
        }
        return rgb;
    };
    std::vector<Bin> found;
    for (const Bin &bin : sorted) { // small bins join the large one they are near to
        const auto home = std::find_if(found.begin(), found.end(), [&](const Bin &other) {
            return rgb_distance(mean(other), mean(bin)) < apart;
        });
        if (home == found.end()) {
            found.push_back(bin);
            continue;
        }
        if (bin.count > home->count * 0.02) { // stragglers of noise do not pull the colour away
            for (std::size_t k = 0; k < 3; ++k) {
                home->sum[k] += bin.sum[k];
            }
            home->count += bin.count;
        }
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Bin &a, const Bin &b) { return a.count > b.count; });
    std::vector<PaletteColour> palette;
    for (const Bin &bin : found) {
        if (static_cast<int>(palette.size()) < most && bin.count >= flat * least_share) {
            palette.push_back({mean(bin), bin.count / flat});
        }
    }
    return palette;
}

Outcome<std::vector<Plane>> unmix(const RgbPicture &picture, std::span<const EncodedRgb> palette,
                                  const UnmixSettings &settings, const JobControl &control)
{
    constexpr std::size_t most_colours = 64;
    if (palette.empty() || palette.size() > most_colours) {
        return Error{ErrorCode::OutOfRange,
                     "A picture is taken apart into 1 to 64 colours.",
                     {},
                     "Choose the colours that are to be printed."};
    }
    const int width = picture.width;
    const int height = picture.height;
    Labels labels{width, height, std::vector<std::uint8_t>(picture.pixels.size())};
    const auto in_rows = [&](const std::function<void(int)> &work) { each_row(height, work, control); };
    in_rows([&](int y) {
        for (int x = 0; x < width; ++x) {
            labels.of[labels.place(x, y)] = nearest(picture.at(x, y), palette);
        }
    });
    std::vector<bool> given(labels.of.size());
    if (settings.despeckle > 1) {
        despeckle(labels, given, settings.despeckle);
    }
    // Flat parts: pixels near their colour whose neighbours are of the same.
    const double full = 441.6729559300637 * settings.tolerance;
    const auto limit = static_cast<int>(std::lround(full * full));
    Labels cores{width, height, std::vector<std::uint8_t>(picture.pixels.size(), no_label)};
    {
        Labels sure = labels;
        in_rows([&](int y) {
            for (int x = 0; x < width; ++x) {
                const std::size_t at = labels.place(x, y);
                if (!given[at] && squared(picture.at(x, y), palette[labels.of[at]]) > limit) {
                    sure.of[at] = no_label;
                }
            }
        });
        in_rows([&](int y) {
            for (int x = 0; x < width; ++x) {
                if (is_core(sure, x, y)) {
                    cores.of[cores.place(x, y)] = sure.at(x, y);
                }
            }
        });
    }
    // How noisy flat parts are; a pixel no further from a colour than that is the colour.
    double noise = 0;
    double count = 0;
    for (std::size_t i = 0; i < cores.of.size(); ++i) {
        if (cores.of[i] != no_label && !given[i]) {
            noise += squared(picture.pixels[i], palette[cores.of[i]]);
            ++count;
        }
    }
    constexpr double deviations = 3.0;
    const auto flat_limit = static_cast<int>(deviations * deviations * noise / std::max(1.0, count));
    std::vector<Plane> planes(palette.size(), Plane(width, height));
    in_rows([&](int y) {
        for (int x = 0; x < width; ++x) {
            const std::size_t at = labels.place(x, y);
            const std::uint8_t core = cores.of[at];
            std::array<bool, most_colours> beside{};
            int colours_beside = 0;
            bool at_edge = core == no_label;
            for (int dy = -reach; dy <= reach; ++dy) {
                for (int dx = -reach; dx <= reach; ++dx) {
                    const std::uint8_t other = cores.at(x + dx, y + dy);
                    if (other != no_label && !beside[other]) {
                        beside[other] = true;
                        ++colours_beside;
                    }
                    const bool next =
                        dx >= -1 && dx <= 1 && dy >= -1 && dy <= 1 && cores.inside(x + dx, y + dy);
                    at_edge = at_edge || (next && other != core);
                }
            }
            if (!at_edge || given[at]) {
                planes[given[at] ? labels.of[at] : core].row(y)[static_cast<std::size_t>(x)] = 255;
                continue;
            }
            const EncodedRgb &p = picture.at(x, y);
            if (core != no_label && squared(p, palette[core]) <= flat_limit) {
                planes[core].row(y)[static_cast<std::size_t>(x)] = 255;
                continue;
            }
            Fit best = core != no_label ? fit(p, palette, core, core) : Fit{};
            const auto try_pairs = [&](auto may_a, auto may_b) {
                for (std::size_t a = 0; a < palette.size(); ++a) {
                    for (std::size_t b = a; b < palette.size() && may_a(a); ++b) {
                        if (may_b(b)) {
                            const Fit one =
                                fit(p, palette, static_cast<std::uint8_t>(a), static_cast<std::uint8_t>(b));
                            if (one.error < best.error) {
                                best = one;
                            }
                        }
                    }
                }
            };
            const auto is_beside = [&](std::size_t i) { return beside[i]; };
            if (colours_beside > 0) {
                try_pairs(is_beside, is_beside);
            }
            // A line too thin to have a flat part of its own: one of the colours here with any other; then
            // any two.
            if (best.error > static_cast<float>(limit)) {
                for (std::size_t a = 0; a < palette.size(); ++a) {
                    for (std::size_t b = 0; b < palette.size() && (beside[a] || colours_beside == 0); ++b) {
                        const Fit one =
                            fit(p, palette, static_cast<std::uint8_t>(a), static_cast<std::uint8_t>(b));
                        if (one.error < best.error) {
                            best = one;
                        }
                    }
                }
            }
            if (best.error > static_cast<float>(limit)) {
                const auto any = [](std::size_t) { return true; };
                try_pairs(any, any);
            }
            const auto share = static_cast<int>(std::lround(best.share * 255.0f));
            planes[best.a].row(y)[static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(255 - share);
            if (best.b != best.a) {
                planes[best.b].row(y)[static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(share);
            }
        }
    });
    if (control.cancelled()) {
        return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
    }
    return planes;
}

} // namespace bichrom
