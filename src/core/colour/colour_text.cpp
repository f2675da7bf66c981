#include "core/colour/colour_text.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

namespace {

Error not_a_colour(std::string_view text)
{
    return {ErrorCode::OutOfRange,
            "'" + std::string(text) + "' is no colour.",
            {},
            "Write #1e90ff, rgb 255 0 0, cmyk 0 100 100 0 or lab 50 20 -30."};
}

std::optional<int> hex_digit(char c)
{
    return c >= '0' && c <= '9'   ? std::optional(c - '0')
           : c >= 'a' && c <= 'f' ? std::optional(c - 'a' + 10)
                                  : std::nullopt;
}

/// Letters and numbers taken apart: "c0 m100" gives "c", "0", "m", "100".
std::vector<std::string> words_of(std::string_view text)
{
    std::vector<std::string> words;
    const auto kind = [](char c) {
        return (c >= '0' && c <= '9') || c == '.' || c == '-' || c == '+' ? 1 : c >= 'a' && c <= 'z' ? 2 : 0;
    };
    int before = 0;
    for (char c : text) {
        c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
        const int now = kind(c);
        if (now == 0) {
            if (std::string_view(" \t,;%*/:=").find(c) == std::string_view::npos) {
                return {};
            }
        } else if (now != before) {
            words.emplace_back(1, c);
        } else {
            words.back() += c;
        }
        before = now;
    }
    return words;
}

} // namespace

Outcome<Lab> parse_colour(std::string_view text, const ProcessProfile &condition)
{
    const std::size_t hash = text.find('#');
    if (hash != std::string_view::npos) {
        std::vector<int> digits;
        for (char c : text.substr(hash + 1)) {
            const auto digit = hex_digit(c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c);
            if (!digit) {
                break;
            }
            digits.push_back(*digit);
        }
        if (digits.size() != 6 || text.substr(hash).size() != 7) {
            return not_a_colour(text);
        }
        const auto byte = [&](std::size_t i) {
            return static_cast<std::uint8_t>(digits[2 * i] * 16 + digits[2 * i + 1]);
        };
        return condition.rgb_to_lab({byte(0), byte(1), byte(2)});
    }
    std::string letters;
    std::vector<double> values;
    for (const std::string &word : words_of(text)) {
        if (word[0] >= 'a' && word[0] <= 'z') {
            letters += word;
            continue;
        }
        const auto value = parse_number(word);
        if (!value) {
            return not_a_colour(text);
        }
        values.push_back(*value);
    }
    const auto within = [&](double low, double high) {
        return std::all_of(values.begin(), values.end(), [&](double v) { return v >= low && v <= high; });
    };
    if ((letters == "lab" || letters == "cielab") && values.size() == 3) {
        return values[0] >= 0 && values[0] <= 100 && within(-200, 200)
                   ? Outcome<Lab>(Lab{values[0], values[1], values[2]})
                   : not_a_colour(text);
    }
    if ((letters.empty() || letters == "rgb" || letters == "srgb") && values.size() == 3 && within(0, 255)) {
        const auto byte = [&](std::size_t i) { return static_cast<std::uint8_t>(std::lround(values[i])); };
        return condition.rgb_to_lab({byte(0), byte(1), byte(2)});
    }
    if ((letters.empty() || letters == "cmyk") && values.size() == 4 && within(0, 100)) {
        const auto part = [&](std::size_t i) { return static_cast<float>(values[i] / 100); };
        return condition.to_lab({part(0), part(1), part(2), part(3)});
    }
    return not_a_colour(text);
}

} // namespace bichrom
