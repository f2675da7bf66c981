#include "core/base/units.h"

#include <charconv>
#include <cmath>
#include <cstdio>

namespace bichrom {

namespace {

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) {
        text.remove_prefix(1);
    }
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) {
        text.remove_suffix(1);
    }
    return text;
}

Error not_a_length(std::string_view text)
{
    return {ErrorCode::OutOfRange,
            "'" + std::string(text) + "' is not a length.",
            {},
            "Write a number and a unit, for example 0.2 mm, 14 in or 1 pt."};
}

} // namespace

Outcome<double> parse_number(std::string_view text)
{
    std::string number(trimmed(text));
    for (char &c : number) {
        if (c == ',') {
            c = '.';
        }
    }
    const char *begin = number.c_str();
    const char *end = begin + number.size();
    if (begin != end && *begin == '+') {
        ++begin;
    }
    double value = 0;
    const auto [stop, fault] = std::from_chars(begin, end, value);
    if (fault != std::errc() || stop != end || !std::isfinite(value)) {
        return Error{ErrorCode::OutOfRange, "'" + std::string(text) + "' is not a number.", {}, {}};
    }
    return value;
}

Outcome<Millimetres> parse_length(std::string_view text, LengthUnit bare)
{
    const std::string_view whole = trimmed(text);
    const std::size_t split = whole.find_last_of("0123456789.,");
    if (split == std::string_view::npos) {
        return not_a_length(text);
    }
    const auto number = parse_number(whole.substr(0, split + 1));
    if (!number) {
        return not_a_length(text);
    }
    const std::string_view unit = trimmed(whole.substr(split + 1));
    double factor = 0;
    if (unit.empty()) {
        factor = bare == LengthUnit::Millimetre ? 1.0
                 : bare == LengthUnit::Inch     ? millimetres_per_inch
                                                : millimetres_per_inch / points_per_inch;
    } else if (unit == "mm") {
        factor = 1.0;
    } else if (unit == "cm") {
        factor = 10.0;
    } else if (unit == "m") {
        factor = 1000.0;
    } else if (unit == "in" || unit == "\"" || unit == "inch") {
        factor = millimetres_per_inch;
    } else if (unit == "pt") {
        factor = millimetres_per_inch / points_per_inch;
    } else if (unit == "µm" || unit == "um") {
        factor = 0.001;
    } else {
        return not_a_length(text);
    }
    return Millimetres(*number * factor);
}

std::string format_number(double number, int decimals)
{
    char buffer[64];
    const auto [stop, fault] =
        std::to_chars(buffer, buffer + sizeof buffer, number, std::chars_format::fixed, decimals);
    if (fault != std::errc()) {
        return "?";
    }
    std::string text(buffer, stop);
    if (text.find('.') != std::string::npos) {
        while (text.back() == '0') {
            text.pop_back();
        }
        if (text.back() == '.') {
            text.pop_back();
        }
    }
    return text == "-0" ? "0" : text;
}

std::string format_length(Millimetres length, LengthUnit unit, int decimals)
{
    switch (unit) {
    case LengthUnit::Inch:
        return format_number(length.value / millimetres_per_inch, decimals) + " in";
    case LengthUnit::Point:
        return format_number(to_points(length).value, decimals) + " pt";
    case LengthUnit::Millimetre:
        break;
    }
    return format_number(length.value, decimals) + " mm";
}

} // namespace bichrom
