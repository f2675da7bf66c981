#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "cli/words.h"
#include "core/base/rounded.h"
#include "core/base/units.h"
#include "core/job/stocks.h"
#include "core/separate/choose_inks.h"
#include "core/separate/separate_job.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

class SeparateCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand(
            "separate",
            "Print painted or photographic artwork in spot inks on a stock: a job, and how near it comes");
        sub->add_option("PICTURE", m_file, "Artwork")->required();
        sub->add_option("--stock", m_stock, "Stock by its name, or its colour as L*,a*,b*")->required();
        CLI::Option *inks = sub->add_option(
            "--inks", m_inks, "Inks of the book, with commas between them, white not among them");
        sub->add_option("--best", m_best, "The best so many inks of the book, white counted")->excludes(inks);
        sub->add_option("--book", m_book, "Ink book, CxF3 or CGATS (the shipped one)");
        sub->add_option("--white", m_white,
                        "base: a white plate of the solution; base+highlight: and a second "
                        "one on top; none")
            ->check(CLI::IsMember({"base", "base+highlight", "none"}))
            ->capture_default_str();
        sub->add_option("--choke", m_choke, "Length that white is narrower by, its tones kept (0.1mm)");
        sub->add_option("--limit", m_limit, "The most ink at a point, white counted, in percent: 250 (none)");
        sub->add_option("--dots", m_dots,
                        "Pictures as square dots of one ink each, as large as this: 0.2mm, or 0.2mm,even "
                        "for dots that are not diffused");
        sub->add_flag("--process", m_process,
                      "Cyan, magenta, yellow and black are among the inks; the others go beyond them");
        sub->add_option("--control", m_controls,
                        "What becomes of one ink: INK=STRENGTH%[,hues A-B][,never INK], such as "
                        "\"Rust=120%,hues 20-80\"");
        sub->add_option("--page", m_page, "Page number, from 1");
        sub->add_option("--out", m_out, "The job to write")->required();
        sub->add_flag("--json", m_json, "What it comes to as JSON on standard output");
        return sub;
    }

    int run() override
    {
        auto opened = open_job_or_artwork(m_file, m_page, {}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened);
        auto stock = chosen_stock();
        if (!stock) {
            return report_error(stock.error());
        }
        opened->job.stock = std::move(*stock);
        opened->job.page_stocks.clear();
        const auto read = m_book.empty() ? Outcome<InkBook>(shipped_inks()) : read_ink_book(m_book);
        if (!read) {
            return report_error(read.error());
        }
        const auto choke = parse_length(m_choke, LengthUnit::Millimetre);
        if (!choke || !(choke->value >= 0 && choke->value <= 10)) {
            return report_error(
                usage_error("'" + m_choke + "' is no choke.", "Write a length of 0 to 10 mm."));
        }
        const auto limit = parse_ink_limit(m_limit);
        if (!limit) {
            return report_error(limit.error());
        }
        const auto dots = parse_index_dots(m_dots);
        if (!dots) {
            return report_error(dots.error());
        }
        const auto inks = chosen_inks(*opened, *read);
        if (!inks) {
            return report_error(inks.error());
        }
        if (const Done done = separate(*opened, *inks, {choke->value, *limit, *dots}); !done) {
            return report_error(done.error());
        }
        const auto measured = measure_separation(*opened, 700, progress_on_terminal("measure"));
        if (!measured) {
            return report_error(measured.error());
        }
        if (const Done saved = save_job(m_out, opened->job, *opened->artwork); !saved) {
            return report_error(saved.error());
        }
        tell(opened->job, *measured);
        return exit_done;
    }

private:
    Outcome<Stock> chosen_stock() const
    {
        std::vector<double> lab;
        for (const std::string &part : CLI::detail::split(m_stock, ',')) {
            if (const auto number = parse_number(CLI::detail::trim_copy(part)); number) {
                lab.push_back(*number);
            }
        }
        if (lab.size() == 3 && lab[0] >= 0 && lab[0] <= 100 && std::fabs(lab[1]) <= 128 &&
            std::fabs(lab[2]) <= 128) {
            Stock stock;
            stock.name = "Stock " + m_stock;
            stock.colour = {lab[0], lab[1], lab[2]};
            return stock;
        }
        std::string names;
        for (const ShippedStock &one : shipped_stocks()) {
            if (one.stock.name == m_stock || one.id == m_stock) {
                return one.stock;
            }
            names += (names.empty() ? "" : ", ") + one.stock.name;
        }
        return usage_error("There is no stock '" + m_stock + "'.",
                           "There are: " + names + "; or write its colour, such as 16,0,-1.");
    }

    Outcome<std::vector<BookInk>> chosen_inks(const OpenedJob &opened, const InkBook &book) const
    {
        std::vector<BookInk> inks;
        if (m_white != "none") {
            inks.push_back(white_of(book));
        }
        const auto condition = condition_of(opened.job.colours);
        if (!condition) {
            return condition.error();
        }
        if (m_process) {
            for (BookInk &ink : process_inks(**condition)) {
                inks.push_back(std::move(ink));
            }
        }
        if (m_best > 0 || (m_inks.empty() && !m_process)) {
            auto wish = wished_colours(opened, 160, progress_on_terminal("colours"));
            if (!wish) {
                return wish.error();
            }
            InkWish asked{
                opened.job.stock, inks, {}, static_cast<std::size_t>(m_best > 0 ? m_best : 6), *condition};
            const auto choices = choose_inks(*wish, book, asked, progress_on_terminal("inks"));
            if (!choices) {
                return choices.error();
            }
            for (const InkSet &choice : *choices) {
                complain("%zu inks: expected ΔE %.1f\n", choice.inks.size(), choice.mean_difference);
            }
            return choices->back().inks;
        }
        const std::vector<std::string> parts =
            m_inks.empty() ? std::vector<std::string>() : CLI::detail::split(m_inks, ',');
        for (const std::string &part : parts) {
            const std::string name = CLI::detail::trim_copy(part);
            const auto found = std::find_if(book.inks.begin(), book.inks.end(),
                                            [&](const BookInk &ink) { return ink.name == name; });
            if (found == book.inks.end()) {
                return Error{ErrorCode::UnknownInk, "The ink book holds no '" + name + "'.", book.name,
                             "Give another book with --book, or --best N."};
            }
            if (found->use != InkUse::White || m_white == "none") {
                inks.push_back(*found);
            }
        }
        return in_printing_order(std::move(inks));
    }

    Done separate(OpenedJob &opened, const std::vector<BookInk> &inks, const SeparationWish &wish) const
    {
        const auto page =
            opened.artwork->interpret(opened.job.page, PageBox::Media, opened.job.colours, stoppable());
        if (!page) {
            return page.error();
        }
        const auto scene = record_scene(**page, stoppable());
        if (!scene) {
            return scene.error();
        }
        auto job = separated_job(std::move(opened.job), *scene, inks, wish);
        if (!job) {
            return job.error();
        }
        if (!m_controls.empty()) {
            auto controlled = with_asked_controls(std::move(*job), *scene);
            if (!controlled) {
                return controlled.error();
            }
            job = std::move(controlled);
        }
        opened.job = m_white == "base+highlight" ? with_highlight(std::move(*job)) : std::move(*job);
        return {};
    }

    Outcome<Job> with_asked_controls(Job job, const Scene &scene) const
    {
        const auto route = std::find_if(job.routes.begin(), job.routes.end(),
                                        [](const Route &one) { return one.separated; });
        if (route == job.routes.end()) {
            return usage_error("The artwork holds no picture whose inks --control could change.",
                               "Flat colours become tints; change those in the job.");
        }
        std::vector<RouteTarget> targets = route->targets;
        for (const std::string &control : m_controls) {
            if (const Done done = put_control(control, targets); !done) {
                return done.error();
            }
        }
        const auto number = static_cast<std::size_t>(route - job.routes.begin());
        return with_controls(std::move(job), scene, number, std::move(targets));
    }

    /// "Rust=120%,hues 20-80,never Deep Teal"
    static Done put_control(const std::string &text, std::vector<RouteTarget> &targets)
    {
        const auto called = [&](const std::string &name) {
            return std::find_if(targets.begin(), targets.end(),
                                [&](const RouteTarget &one) { return one.ink == name; });
        };
        const std::size_t equals = text.find('=');
        const auto target = called(CLI::detail::trim_copy(text.substr(0, equals)));
        if (equals == std::string::npos || target == targets.end()) {
            return usage_error("'" + text + "' names no ink of the separation.",
                               "Write INK=STRENGTH%[,hues A-B][,never INK].");
        }
        InkControl &control = target->control;
        for (const std::string &piece : CLI::detail::split(text.substr(equals + 1), ',')) {
            const std::string part = CLI::detail::trim_copy(piece);
            if (part.starts_with("hues ")) {
                const auto hues = parse_hues(CLI::detail::trim_copy(part.substr(5)));
                if (!hues) {
                    return hues.error();
                }
                control.hues = *hues;
            } else if (part.starts_with("never ")) {
                const auto other = called(CLI::detail::trim_copy(part.substr(6)));
                if (other == targets.end() || other == target) {
                    return usage_error("'" + part + "' names no other ink of the separation.", {});
                }
                control.never_with.push_back(other->ink);
            } else {
                const auto strength =
                    parse_number(part.ends_with('%') ? part.substr(0, part.size() - 1) : part);
                if (!strength || !(*strength >= 0 && *strength <= InkControl::most_strength * 100)) {
                    return usage_error("'" + part + "' is no strength of an ink.", "Write 0 to 200 %.");
                }
                control.strength = *strength / 100;
            }
        }
        return {};
    }

    void tell(const Job &job, const SeparationReport &report) const
    {
        if (m_json) {
            nlohmann::ordered_json coverage = nlohmann::ordered_json::object();
            for (std::size_t i = 0; i < job.plates.size(); ++i) {
                coverage[job.plates[i].ink] = rounded(report.coverage[i], 4);
            }
            const nlohmann::ordered_json root = {
                {"inks", job.inks()},
                {"median_de", rounded(report.median, 2)},
                {"p95_de", rounded(report.p95, 2)},
                {"mean_de", rounded(report.mean, 2)},
                {"worst_de", rounded(report.worst, 2)},
                {"worst_mm", {rounded(report.worst_x, 1), rounded(report.worst_y, 1)}},
                {"beyond", rounded(report.beyond, 4)},
                {"coverage", coverage}};
            say("%s\n", root.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace).c_str());
            return;
        }
        for (std::size_t i = 0; i < job.plates.size(); ++i) {
            say("%-24s %5.1f %%\n", job.plates[i].ink.c_str(), report.coverage[i] * 100);
        }
        say("ΔE median %.1f, 95 %% %.1f; worst %.1f at %.0f, %.0f mm; %.1f %% is ΔE 6 or more off\n",
            report.median, report.p95, report.worst, report.worst_x, report.worst_y, report.beyond * 100);
    }

    std::string m_file, m_stock, m_inks, m_book, m_out, m_white = "base", m_choke = "0.1mm", m_limit, m_dots;
    std::vector<std::string> m_controls;
    int m_best = 0, m_page = 0;
    bool m_json = false, m_process = false;
};

} // namespace

std::unique_ptr<Command> make_separate_command()
{
    return std::make_unique<SeparateCommand>();
}

} // namespace bichrom
