#include "core/screen/halftone.h"

#include "core/raster/bitmap_ops.h"
#include "core/screen/halftone_kernel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <numbers>
#include <numeric>

namespace bichrom {

namespace {

constexpr int cell_side = 256;

/// Where the dot's centre stands in the cell. Off every simple fraction, so that on a
/// screen whose cell is a whole number of pixels no two pixels are equally far from
/// the centre and dots grow one pixel at a time.
constexpr double centre_u = 0.4127;
constexpr double centre_v = 0.5389;

/// Order in which places of the cell take ink; smaller is earlier. u, v from −0.5 to 0.5.
double growth(DotShape shape, double u, double v)
{
    switch (shape) {
    case DotShape::Round:
        return u * u + v * v;
    case DotShape::Ellipse:
        return 0.6 * u * u + v * v;
    case DotShape::Line:
        break;
    }
    // The line swings a little, so that where rows of pixels run along it, it grows pixel by
    // pixel instead of a whole row at a time.
    return std::fabs(v + 0.03 * std::sin(2 * std::numbers::pi * u));
}

std::shared_ptr<const std::vector<std::uint8_t>> make_cell(DotShape shape)
{
    constexpr int places = cell_side * cell_side;
    std::vector<double> order(places);
    for (int j = 0; j < cell_side; ++j) {
        for (int i = 0; i < cell_side; ++i) {
            const double u = std::remainder((i + 0.5) / cell_side - centre_u, 1.0);
            const double v = std::remainder((j + 0.5) / cell_side - centre_v, 1.0);
            order[static_cast<std::size_t>(j * cell_side + i)] = growth(shape, u, v);
        }
    }
    std::vector<int> rank(places);
    std::iota(rank.begin(), rank.end(), 0);
    std::stable_sort(rank.begin(), rank.end(), [&](int a, int b) {
        return order[static_cast<std::size_t>(a)] < order[static_cast<std::size_t>(b)];
    });
    auto cell = std::make_shared<std::vector<std::uint8_t>>(places + 4, std::uint8_t(0));
    for (int r = 0; r < places; ++r) {
        // Place r of 65536 is ink for tone t exactly when r < t/255 · 65536.
        (*cell)[static_cast<std::size_t>(rank[static_cast<std::size_t>(r)])] =
            static_cast<std::uint8_t>(static_cast<std::int64_t>(r) * 255 / places);
    }
    return cell;
}

std::shared_ptr<const std::vector<std::uint8_t>> shared_cell(DotShape shape)
{
    static const std::array<std::shared_ptr<const std::vector<std::uint8_t>>, 3> cells = {
        make_cell(DotShape::Round), make_cell(DotShape::Ellipse), make_cell(DotShape::Line)};
    return cells[static_cast<std::size_t>(shape)];
}

std::uint32_t fixed_phase(double cells)
{
    const double part = cells - std::floor(cells);
    return static_cast<std::uint32_t>(static_cast<std::uint64_t>(std::llround(part * 4294967296.0)));
}

} // namespace

Outcome<Halftone> Halftone::make(const Screen &screen, Dpi resolution)
{
    if (const Done good = check_screen(screen, resolution); !good) {
        return good.error();
    }
    const double frequency = screen.ruling.value / resolution.value;
    const double theta = screen.angle.value * std::numbers::pi / 180.0;
    Halftone halftone;
    // y runs down on film, so the u axis (cos, −sin) points up at a positive angle.
    halftone.m_ux = fixed_phase(frequency * std::cos(theta));
    halftone.m_uy = fixed_phase(-frequency * std::sin(theta));
    halftone.m_vx = fixed_phase(frequency * std::sin(theta));
    halftone.m_vy = fixed_phase(frequency * std::cos(theta));
    halftone.m_cell = shared_cell(screen.dot);
    halftone.calibrate();
    return halftone;
}

void Halftone::calibrate()
{
    // How much ink each tone really gives, counted at places spread evenly over a large film
    // (the R2 sequence: multiples of the plastic number's powers). Where rows of pixels and
    // cells stand in a simple ratio, only some places of the cell are ever used.
    constexpr int samples = 1 << 19;
    std::array<int, 256> count{};
    std::uint32_t x = 0;
    std::uint32_t y = 0;
    for (int i = 0; i < samples; ++i) {
        x += 3242174889u; // 2^32 / 1.32471795724…
        y += 2447445414u; // 2^32 / 1.32471795724…²
        ++count[threshold_at(x >> 15, y >> 15)];
    }
    std::array<double, 256> share{}; // ink at a tone: places whose threshold lies below it
    double below = 0;
    double worst = 0;
    for (std::size_t tone = 0; tone < 256; ++tone) {
        share[tone] = below / samples;
        worst = std::max(worst, std::fabs(share[tone] - static_cast<double>(tone) / 255.0));
        below += count[tone];
    }
    constexpr double enough = 0.001; // what counting itself may be off by
    if (worst <= enough) {
        return;
    }
    auto tones = std::make_shared<std::array<std::uint8_t, 256>>();
    std::size_t best = 0;
    for (std::size_t tone = 0; tone < 256; ++tone) {
        const double wanted = static_cast<double>(tone) / 255.0;
        while (best < 255 && std::fabs(share[best + 1] - wanted) <= std::fabs(share[best] - wanted)) {
            ++best;
        }
        (*tones)[tone] = static_cast<std::uint8_t>(best);
    }
    tones->front() = 0;
    tones->back() = 255;
    m_tones = std::move(tones);
}

std::uint8_t Halftone::threshold_at(std::int64_t x, std::int64_t y) const
{
    const auto px = static_cast<std::uint32_t>(x);
    const auto py = static_cast<std::uint32_t>(y);
    const std::uint32_t u = px * m_ux + py * m_uy;
    const std::uint32_t v = px * m_vx + py * m_vy;
    return (*m_cell)[(v >> 24) * cell_side + (u >> 24)];
}

void Halftone::screen_row(const std::uint8_t *tones, int count, std::int64_t x, std::int64_t y,
                          std::uint8_t *bits) const
{
    const auto px = static_cast<std::uint32_t>(x);
    const auto py = static_cast<std::uint32_t>(y);
    ScreenRow row;
    row.u = px * m_ux + py * m_uy;
    row.v = px * m_vx + py * m_vy;
    row.du = m_ux;
    row.dv = m_vx;
    row.cell = m_cell->data();
    thread_local std::vector<std::uint8_t> calibrated;
    if (m_tones) {
        calibrated.resize(static_cast<std::size_t>(count));
        std::transform(tones, tones + count, calibrated.begin(),
                       [&](std::uint8_t tone) { return (*m_tones)[tone]; });
        tones = calibrated.data();
    }
    const int whole = count / 64;
    screen_words(row, tones, whole, bits);
    if (const int rest = count - whole * 64; rest > 0) {
        std::uint8_t last[64] = {}; // bare beyond the end, so that padding stays 0
        std::memcpy(last, tones + whole * 64, static_cast<std::size_t>(rest));
        row.u += static_cast<std::uint32_t>(whole * 64) * m_ux;
        row.v += static_cast<std::uint32_t>(whole * 64) * m_vx;
        screen_words(row, last, 1, bits + whole * 8);
    }
}

namespace {

constexpr int word_pixels = 64; // a row of dots is made of whole words

bool is_solid(const ToneRun &run)
{
    return run.tones == nullptr && run.tone == 255;
}

} // namespace

void Halftone::screen_runs(std::span<const ToneRun> runs, int width, std::int64_t x, std::int64_t y,
                           std::uint8_t *bits, std::vector<std::uint8_t> &scratch) const
{
    const auto words = [](int pixels) { return (pixels + word_pixels - 1) / word_pixels * word_pixels; };
    const int all = words(width);
    scratch.resize(static_cast<std::size_t>(all) + static_cast<std::size_t>(all) / 8);
    std::uint8_t *tones = scratch.data();
    std::uint8_t *dots = scratch.data() + all;
    for (std::size_t i = 0; i < runs.size();) {
        if (is_solid(runs[i])) {
            set_bits(bits, runs[i].begin, runs[i].end);
            ++i;
            continue;
        }
        // The words that this run and those after it share are screened together.
        const int begin = runs[i].begin / word_pixels * word_pixels;
        int end = begin;
        int filled = begin;
        for (; i < runs.size() && (end == begin || runs[i].begin < end) && !is_solid(runs[i]); ++i) {
            const ToneRun &run = runs[i];
            end = words(run.end);
            std::memset(tones + filled, 0, static_cast<std::size_t>(run.begin - filled));
            run.write(tones);
            filled = run.end;
        }
        std::memset(tones + filled, 0, static_cast<std::size_t>(end - filled));
        screen_row(tones + begin, end - begin, x + begin, y, dots);
        for (int byte = begin / 8; byte < end / 8; ++byte) {
            bits[byte] = static_cast<std::uint8_t>(bits[byte] | dots[byte - begin / 8]);
        }
    }
}

void threshold_row(const std::uint8_t *tones, int count, std::uint8_t *bits)
{
    std::memset(bits, 0, static_cast<std::size_t>((count + 63) / 64 * 8));
    for (int x = 0; x < count; ++x) {
        if (tones[x] >= 128) {
            bits[x >> 3] = static_cast<std::uint8_t>(bits[x >> 3] | (0x80u >> (x & 7)));
        }
    }
}

} // namespace bichrom
