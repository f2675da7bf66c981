#include "core/colour/tone_curve.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

Outcome<ToneCurve> ToneCurve::through(std::vector<CurvePoint> points)
{
    constexpr std::size_t most_points = 64;
    const auto inside = [](double v) { return v >= 0.0 && v <= 1.0; };
    std::sort(points.begin(), points.end(),
              [](const CurvePoint &a, const CurvePoint &b) { return a.in < b.in; });
    bool good = points.size() <= most_points;
    for (std::size_t i = 0; i < points.size(); ++i) {
        good = good && inside(points[i].in) && inside(points[i].out) &&
               (i == 0 || points[i].in > points[i - 1].in);
    }
    if (!good) {
        return Error{ErrorCode::OutOfRange,
                     "This is no tone curve: its points lie outside 0 to 100 % or above each other.",
                     {},
                     "Give up to 64 points with different tones."};
    }
    ToneCurve curve;
    const std::size_t count = points.size();
    std::vector<double> secants(count > 0 ? count - 1 : 0);
    for (std::size_t i = 0; i + 1 < count; ++i) {
        secants[i] = (points[i + 1].out - points[i].out) / (points[i + 1].in - points[i].in);
    }
    curve.m_slopes.assign(count, 0.0);
    for (std::size_t i = 0; i < count && count > 1; ++i) {
        if (i == 0 || i + 1 == count) {
            curve.m_slopes[i] = secants[i == 0 ? 0 : i - 1];
        } else if (secants[i - 1] * secants[i] > 0.0) {
            const double before = points[i].in - points[i - 1].in, after = points[i + 1].in - points[i].in;
            const double first = 2 * after + before, second = after + 2 * before;
            curve.m_slopes[i] = (first + second) / (first / secants[i - 1] + second / secants[i]);
        }
    }
    curve.m_points = std::move(points);
    return curve;
}

double ToneCurve::at(double tone) const
{
    tone = std::clamp(tone, 0.0, 1.0);
    if (m_points.empty()) {
        return tone;
    }
    if (tone <= m_points.front().in) {
        return m_points.front().out;
    }
    if (tone >= m_points.back().in) {
        return m_points.back().out;
    }
    const auto next =
        std::upper_bound(m_points.begin(), m_points.end(), tone,
                         [](double value, const CurvePoint &point) { return value < point.in; });
    const auto i = static_cast<std::size_t>(next - m_points.begin()) - 1;
    const CurvePoint &a = m_points[i];
    const CurvePoint &b = m_points[i + 1];
    const double width = b.in - a.in;
    const double t = (tone - a.in) / width;
    const double back = 1.0 - t;
    // The cubic Hermite basis on [0, 1].
    const double value = (1.0 + 2.0 * t) * back * back * a.out + t * back * back * width * m_slopes[i] +
                         t * t * (3.0 - 2.0 * t) * b.out - t * t * back * width * m_slopes[i + 1];
    return std::clamp(value, std::min(a.out, b.out), std::max(a.out, b.out));
}

double ToneCurve::tone_for(double out) const
{
    if (m_points.empty()) {
        return std::clamp(out, 0.0, 1.0);
    }
    double low = 0;
    double high = 1;
    if (at(low) >= out) {
        return low;
    }
    for (int i = 0; i < 40; ++i) {
        const double middle = (low + high) / 2;
        (at(middle) < out ? low : high) = middle;
    }
    return high;
}

} // namespace bichrom
