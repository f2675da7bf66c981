#include "core/job/curve_file.h"

#include "core/base/units.h"
#include "core/colour/tone_value.h"

#include <algorithm>
#include <map>
#include <optional>
#include <sstream>

namespace bichrom {

namespace {

constexpr std::size_t most_points = 60;

Error wrong(const std::string &why, const std::string &place)
{
    return {ErrorCode::WrongFormat, why, place,
            "Write a pair of percentages a line, film and print, such as \"50 68\"; or give a CGATS table of "
            "one ink with Lab or densities."};
}

/// The words of a line; quotes keep blanks, commas and semicolons part words.
std::vector<std::string> words_of(const std::string &line)
{
    std::vector<std::string> words;
    std::string word;
    bool quoted = false;
    const auto end = [&] {
        if (!word.empty()) {
            words.push_back(std::exchange(word, {}));
        }
    };
    for (const char c : line) {
        if (c == '"') {
            quoted = !quoted;
        } else if (!quoted && (c == ' ' || c == '\t' || c == '\r' || c == ',' || c == ';')) {
            end();
        } else if (!quoted && c == '#') {
            break;
        } else {
            word += c;
        }
    }
    end();
    return words;
}

std::vector<std::string> lines_of(std::string_view text)
{
    std::vector<std::string> lines;
    std::istringstream in{std::string(text)};
    for (std::string line; std::getline(in, line);) {
        lines.push_back(line);
    }
    return lines;
}

/// A table of numbers with names of its columns.
struct Table
{
    std::vector<std::string> columns;
    std::vector<std::vector<double>> rows;
    [[nodiscard]] std::optional<std::size_t> find(const std::string &name) const
    {
        const auto found = std::find(columns.begin(), columns.end(), name);
        return found == columns.end() ? std::nullopt
                                      : std::optional(static_cast<std::size_t>(found - columns.begin()));
    }
};

Outcome<Table> read_table(const std::vector<std::string> &lines, const std::string &place)
{
    Table table;
    enum class In
    {
        Head,
        Format,
        Data
    } in = In::Head;
    for (std::size_t number = 0; number < lines.size(); ++number) {
        const std::vector<std::string> words = words_of(lines[number]);
        if (words.empty()) {
            continue;
        }
        if (words.front() == "BEGIN_DATA_FORMAT") {
            in = In::Format;
        } else if (words.front() == "BEGIN_DATA") {
            in = In::Data;
        } else if (words.front() == "END_DATA_FORMAT" || words.front() == "END_DATA") {
            in = In::Head;
        } else if (in == In::Format) {
            table.columns.insert(table.columns.end(), words.begin(), words.end());
        } else if (in == In::Data) {
            std::vector<double> row;
            for (const std::string &word : words) {
                const auto value = parse_number(word);
                row.push_back(value ? *value : 0); // names of patches
            }
            if (row.size() != table.columns.size()) {
                return wrong("Line " + std::to_string(number + 1) + " of the table has " +
                                 std::to_string(row.size()) + " values for " +
                                 std::to_string(table.columns.size()) + " columns.",
                             place);
            }
            table.rows.push_back(std::move(row));
        }
    }
    return table;
}

/// The column of the ink that varies while all others are bare.
std::optional<std::size_t> ink_column(const Table &table)
{
    std::optional<std::size_t> found;
    for (std::size_t i = 0; i < table.columns.size(); ++i) {
        const std::string &name = table.columns[i];
        const bool ink = name.rfind("CMYK_", 0) == 0 || name.rfind("SPOT_", 0) == 0 || name == "GRAY" ||
                         name == "TINT" || name.find("CLR_") != std::string::npos;
        if (!ink || std::all_of(table.rows.begin(), table.rows.end(),
                                [&](const auto &row) { return row[i] == table.rows.front()[i]; })) {
            continue;
        }
        if (found) {
            return std::nullopt; // two inks vary: whose curve would it be?
        }
        found = i;
    }
    return found;
}

Outcome<MeasuredCurve> from_table(const std::vector<std::string> &lines, const std::string &place)
{
    const auto table = read_table(lines, place);
    if (!table) {
        return table.error();
    }
    if (table->rows.empty() || table->columns.empty()) {
        return wrong("The table holds no data.", place);
    }
    const auto ink = ink_column(*table);
    if (!ink) {
        return wrong("The table does not hold the tints of one ink alone.", place);
    }
    const auto [bare, solid] =
        std::minmax_element(table->rows.begin(), table->rows.end(),
                            [&](const auto &a, const auto &b) { return a[*ink] < b[*ink]; });
    if ((*bare)[*ink] > 0.01 || (*solid)[*ink] < 99.99) {
        return wrong("The table lacks the bare stock or the solid.", place);
    }
    std::vector<CurvePoint> points;
    std::string how;
    const auto l = table->find("LAB_L"), a = table->find("LAB_A"), b = table->find("LAB_B");
    if (l && a && b) {
        how = "from Lab, ISO 20654";
        const auto lab = [&](const std::vector<double> &row) { return Lab{row[*l], row[*a], row[*b]}; };
        for (const auto &row : table->rows) {
            points.push_back({row[*ink] / 100, spot_tone_value(lab(*bare), lab(*solid), lab(row))});
        }
    } else {
        std::optional<std::size_t> density;
        for (const char *name : {"D_VIS", "D_CYAN", "D_MAGENTA", "D_YELLOW"}) {
            const auto column = table->find(name);
            // Of several filters that of the ink's own colour, in which the solid is darkest.
            if (column && (!density || (*solid)[*column] > (*solid)[*density])) {
                density = column;
            }
        }
        if (!density) {
            return wrong("The table has neither Lab nor densities.", place);
        }
        how = "from densities, Murray–Davies";
        for (const auto &row : table->rows) {
            points.push_back({row[*ink] / 100, murray_davies(row[*density] - (*bare)[*density],
                                                             (*solid)[*density] - (*bare)[*density])});
        }
    }
    auto made = measured_curve(std::move(points));
    if (made) {
        made->how = std::to_string(table->rows.size()) + " patches, " + how;
    }
    return made;
}

} // namespace

Outcome<MeasuredCurve> measured_curve(std::vector<CurvePoint> points)
{
    for (CurvePoint &point : points) {
        if (!(point.in >= 0 && point.in <= 1) || !(point.out >= -0.05 && point.out <= 1.05)) {
            return Error{ErrorCode::OutOfRange,
                         "A point lies outside 0 to 100 %.",
                         {},
                         "Write tones in percent, such as 50 and 68."};
        }
        point.out = std::clamp(point.out, 0.0, 1.0); // measured a little beyond stock or solid
    }
    // Several readings of one tone are one: their mean.
    std::map<double, std::pair<double, int>> by_tone;
    for (const CurvePoint &point : points) {
        auto &[sum, count] = by_tone[point.in];
        sum += point.out;
        ++count;
    }
    by_tone[0] = {0, 1};
    by_tone[1] = {1, 1};
    if (by_tone.size() > most_points) {
        return Error{ErrorCode::OutOfRange,
                     "There are " + std::to_string(by_tone.size()) + " different tones.",
                     {},
                     "Give at most " + std::to_string(most_points) + "."};
    }
    // Pool adjacent violators (Ayer et al. 1955): groups of points that fall become their mean.
    struct Pool
    {
        double sum = 0;
        int count = 0;
        [[nodiscard]] double mean() const { return sum / count; }
    };
    std::vector<Pool> pools;
    MeasuredCurve made;
    for (const auto &[tone, reading] : by_tone) {
        pools.push_back({reading.first / reading.second, 1});
        while (pools.size() > 1 && pools[pools.size() - 2].mean() > pools.back().mean()) {
            const Pool last = pools.back();
            pools.pop_back();
            pools.back().sum += last.sum;
            pools.back().count += last.count;
            made.smoothed = true;
        }
    }
    std::vector<CurvePoint> even;
    auto tone = by_tone.begin();
    for (const Pool &pool : pools) {
        for (int i = 0; i < pool.count; ++i, ++tone) {
            even.push_back({tone->first, pool.mean()});
        }
    }
    even.front().out = 0;
    even.back().out = 1;
    auto curve = ToneCurve::through(std::move(even));
    if (!curve) {
        return curve.error();
    }
    made.printed = std::move(*curve);
    made.how = std::to_string(points.size()) + " points";
    return made;
}

Outcome<MeasuredCurve> read_measured_curve(std::string_view text, const std::string &place)
{
    constexpr std::size_t largest = 1 << 20;
    if (text.size() > largest) {
        return wrong("The file is too large for a curve.", place);
    }
    const std::vector<std::string> lines = lines_of(text);
    if (text.find("BEGIN_DATA") != std::string_view::npos) {
        return from_table(lines, place);
    }
    std::vector<CurvePoint> points;
    for (std::size_t number = 0; number < lines.size(); ++number) {
        std::vector<std::string> words = words_of(lines[number]);
        if (words.empty()) {
            continue;
        }
        for (std::string &word : words) {
            if (word.back() == '%') {
                word.pop_back();
            }
        }
        const auto film = words.size() == 2 ? parse_number(words[0]) : Outcome<double>(Error{});
        const auto print = words.size() == 2 ? parse_number(words[1]) : Outcome<double>(Error{});
        if (!film || !print) {
            return wrong("Line " + std::to_string(number + 1) + " is no pair of percentages: '" +
                             lines[number].substr(0, 60) + "'.",
                         place);
        }
        points.push_back({*film / 100, *print / 100});
    }
    if (points.empty()) {
        return wrong("The file holds no points.", place);
    }
    auto made = measured_curve(std::move(points));
    if (!made) {
        Error error = made.error();
        error.place = place;
        return error;
    }
    return made;
}

} // namespace bichrom
