#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "core/screen/densitometer.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <array>
#include <cmath>

namespace bichrom {

namespace {

class DensitometerCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub =
            app.add_subcommand("densitometer", "Measure ink, ruling, angle and dots of a 1-bit film");
        sub->add_option("FILM", m_film, "A 1-bit TIFF, written by Bichrom or not")->required();
        sub->add_option("--area", m_area,
                        "X,Y,W,H: what of it is measured, in mm from its top left; without it all of it, its "
                        "ruling where that is clearest");
        sub->add_flag("--json", m_json, "As JSON");
        return sub;
    }

    int run() override
    {
        Rect area;
        if (!m_area.empty()) {
            const std::vector<std::string> parts = CLI::detail::split(m_area, ',');
            std::array<double, 4> values{};
            bool good = parts.size() == 4;
            for (std::size_t i = 0; good && i < 4; ++i) {
                const auto value = parse_length(parts[i], LengthUnit::Millimetre);
                values[i] = value ? value->value : 0;
                good = static_cast<bool>(value);
            }
            if (!good || !(values[2] > 0) || !(values[3] > 0)) {
                return report_error(Error{ErrorCode::OutOfRange,
                                          "'" + m_area + "' is no area.",
                                          {},
                                          "Write, for example, --area 10,20,5,5 in mm."});
            }
            area = {values[0], values[1], values[2], values[3]};
        }
        const auto film = read_film(m_film, area, progress_on_terminal("densitometer"));
        if (!film) {
            return report_error(film.error());
        }
        const DotReading reading =
            m_area.empty() ? read_film_dots(*film) : read_dots(film->bits, film->resolution);
        m_json ? print_json(reading) : print_words(reading);
        return exit_done;
    }

private:
    static void print_json(const DotReading &reading)
    {
        const auto rounded = [](double value, double unit) { return std::round(value / unit) * unit; };
        nlohmann::ordered_json root;
        root["coverage"] = rounded(reading.coverage, 1e-6);
        root["lpi"] = reading.lpi > 0 ? nlohmann::json(rounded(reading.lpi, 1e-3)) : nlohmann::json();
        root["angle"] = reading.lpi > 0 ? nlohmann::json(rounded(reading.angle, 1e-3)) : nlohmann::json();
        root["dot_um"] = rounded(reading.dot_um, 1e-2);
        root["kind"] = to_string(reading.kind);
        say("%s\n", root.dump(2).c_str());
    }

    static void print_words(const DotReading &reading)
    {
        say("%.2f %% ink, %s", reading.coverage * 100, to_string(reading.kind));
        if (reading.lpi > 0) {
            say(", %.2f lpi at %.2f°", reading.lpi, reading.angle);
        }
        if (reading.dot_um > 0) {
            say(", %s about %.0f µm", reading.coverage <= 0.5 ? "ink" : "holes", reading.dot_um);
        }
        say("\n");
    }

    std::string m_film, m_area;
    bool m_json = false;
};

} // namespace

std::unique_ptr<Command> make_densitometer_command()
{
    return std::make_unique<DensitometerCommand>();
}

} // namespace bichrom
