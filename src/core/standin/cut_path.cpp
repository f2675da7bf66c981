#include "core/standin/cut_path.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <string>
#include <string_view>

namespace bichrom {

namespace {

struct Matrix
{
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    [[nodiscard]] CutPoint of(double x, double y) const { return {a * x + c * y + e, b * x + d * y + f}; }
    /// First \p inner, then this one.
    [[nodiscard]] Matrix after(const Matrix &inner) const
    {
        return {a * inner.a + c * inner.b, b * inner.a + d * inner.b,     a * inner.c + c * inner.d,
                b * inner.c + d * inner.d, a * inner.e + c * inner.f + e, b * inner.e + d * inner.f + f};
    }
};

struct State
{
    Matrix place;
    double fill = 0, stroke = 0; ///< tones
};

/// Reads the operators that vector_device.h writes.
class Reader
{
public:
    Reader(const VectorPage &page, CutPath &path) : m_page(page), m_path(path) {}

    void read(const std::string &content, int depth)
    {
        constexpr int deepest = 24;
        if (depth > deepest) {
            return;
        }
        std::string_view rest = content;
        while (!rest.empty()) {
            const std::size_t begin = rest.find_first_not_of(" \n");
            if (begin == std::string_view::npos) {
                return;
            }
            rest.remove_prefix(begin);
            const std::size_t end = std::min(rest.find_first_of(" \n"), rest.size());
            token(std::string(rest.substr(0, end)), depth);
            rest.remove_prefix(end);
        }
    }

private:
    void token(const std::string &word, int depth)
    {
        const char first = word.front();
        if (first == '/') {
            m_name = word.substr(1);
        } else if ((first >= '0' && first <= '9') || first == '-' || first == '.' || first == '+') {
            m_numbers.push_back(std::strtod(word.c_str(), nullptr));
        } else if (first != '[' && first != ']') {
            act(word, depth);
            m_numbers.clear();
        }
    }
    [[nodiscard]] double number(std::size_t from_end) const
    {
        return from_end < m_numbers.size() ? m_numbers[m_numbers.size() - 1 - from_end] : 0;
    }
    void act(const std::string &word, int depth)
    {
        if (word == "q") {
            m_stack.push_back(m_state);
        } else if (word == "Q") {
            if (!m_stack.empty()) {
                m_state = m_stack.back();
                m_stack.pop_back();
            }
        } else if (word == "cm") {
            m_state.place =
                m_state.place.after({number(5), number(4), number(3), number(2), number(1), number(0)});
        } else if (word == "scn" || word == "g") {
            m_state.fill = strongest(word == "g");
        } else if (word == "SCN" || word == "G") {
            m_state.stroke = strongest(word == "G");
        } else if (word == "m") {
            m_found.push_back({m_state.place.of(number(1), number(0))});
            m_closed.push_back(false);
        } else if (word == "l" && !m_found.empty()) {
            m_found.back().push_back(m_state.place.of(number(1), number(0)));
        } else if (word == "c" && !m_found.empty()) {
            curve(m_state.place.of(number(5), number(4)), m_state.place.of(number(3), number(2)),
                  m_state.place.of(number(1), number(0)));
        } else if (word == "h" && !m_found.empty()) {
            m_found.back().push_back(m_found.back().front());
            m_closed.back() = true;
        } else if (word == "re") {
            const double x = number(3), y = number(2), w = number(1), h = number(0);
            m_found.push_back({m_state.place.of(x, y), m_state.place.of(x + w, y),
                               m_state.place.of(x + w, y + h), m_state.place.of(x, y + h),
                               m_state.place.of(x, y)});
            m_closed.push_back(true);
        } else if (word == "S" || word == "s") {
            end_path(m_state.stroke > 0);
        } else if (word == "f" || word == "f*") {
            end_path(m_state.fill > 0);
        } else if (word == "B" || word == "B*") {
            end_path(m_state.fill > 0 || m_state.stroke > 0);
        } else if (word == "n") {
            end_path(false);
        } else if (word == "sh") {
            m_path.raster = true;
        } else if (word == "Do") {
            draw(depth);
        }
    }
    [[nodiscard]] double strongest(bool grey) const
    {
        const double most = m_numbers.empty() ? 0 : *std::max_element(m_numbers.begin(), m_numbers.end());
        return grey ? 0 : most; // grey stands in masks only
    }
    void draw(int depth)
    {
        const auto number = static_cast<std::size_t>(std::strtoul(m_name.c_str() + 1, nullptr, 10));
        if (m_name.starts_with('I') && number < m_page.images.size()) {
            const VectorImage &image = m_page.images[number];
            // A picture that has nothing in this ink only knocks it out.
            m_path.raster = m_path.raster || std::any_of(image.data.begin(), image.data.end(),
                                                         [](std::uint8_t value) { return value != 0; });
        } else if (m_name.starts_with('F') && number < m_page.forms.size()) {
            const State before = m_state;
            read(m_page.forms[number].content, depth + 1);
            m_state = before;
        }
    }
    void curve(CutPoint p1, CutPoint p2, CutPoint p3)
    {
        const CutPoint p0 = m_found.back().back();
        const double about = std::hypot(p1.x - p0.x, p1.y - p0.y) + std::hypot(p2.x - p1.x, p2.y - p1.y) +
                             std::hypot(p3.x - p2.x, p3.y - p2.y);
        // Chords miss an arc by a fraction of the square of their number.
        const int chords = std::clamp(static_cast<int>(std::sqrt(about) * 4), 8, 400);
        for (int i = 1; i <= chords; ++i) {
            const double t = static_cast<double>(i) / chords, u = 1 - t;
            const auto mix = [&](double a, double b, double c, double d) {
                return u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
            };
            m_found.back().push_back({mix(p0.x, p1.x, p2.x, p3.x), mix(p0.y, p1.y, p2.y, p3.y)});
        }
    }
    void end_path(bool cuts)
    {
        for (std::size_t i = 0; cuts && i < m_found.size(); ++i) {
            std::vector<CutPoint> &piece = m_found[i];
            if (piece.size() < 2) {
                continue;
            }
            const double apart =
                std::hypot(piece.back().x - piece.front().x, piece.back().y - piece.front().y);
            constexpr double touching = 0.03; // points, a hundredth of a millimetre
            m_path.open += !m_closed[i] && apart > touching ? 1 : 0;
            m_path.pieces.push_back(std::move(piece));
        }
        m_found.clear();
        m_closed.clear();
    }

    const VectorPage &m_page;
    CutPath &m_path;
    State m_state;
    std::vector<State> m_stack;
    std::vector<double> m_numbers;
    std::string m_name;
    std::vector<std::vector<CutPoint>> m_found;
    std::vector<bool> m_closed;
};

} // namespace

double CutPath::length_mm() const
{
    double points = 0;
    for (const std::vector<CutPoint> &piece : pieces) {
        for (std::size_t i = 1; i < piece.size(); ++i) {
            points += std::hypot(piece[i].x - piece[i - 1].x, piece[i].y - piece[i - 1].y);
        }
    }
    return points * millimetres_per_inch / points_per_inch;
}

CutPath cut_path(const VectorPage &page)
{
    CutPath path;
    Reader(page, path).read(page.content, 0);
    return path;
}

} // namespace bichrom
