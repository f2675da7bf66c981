#include "cli/commands.h"
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
#include <cstdio>

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
        const auto inks = chosen_inks(*opened, *read);
        if (!inks) {
            return report_error(inks.error());
        }
        if (const Done done = separate(*opened, *inks, choke->value, *limit); !done) {
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
        if (m_best > 0 || m_inks.empty()) {
            auto wish = wished_colours(opened, 160, progress_on_terminal("colours"));
            if (!wish) {
                return wish.error();
            }
            InkWish asked{opened.job.stock, inks, {}, static_cast<std::size_t>(m_best > 0 ? m_best : 6)};
            const auto choices = choose_inks(*wish, book, asked, progress_on_terminal("inks"));
            if (!choices) {
                return choices.error();
            }
            for (const InkSet &choice : *choices) {
                std::fprintf(stderr, "%zu inks: expected ΔE %.1f\n", choice.inks.size(),
                             choice.mean_difference);
            }
            return choices->back().inks;
        }
        for (const std::string &part : CLI::detail::split(m_inks, ',')) {
            const std::string name = CLI::detail::trim_copy(part);
            const auto found = std::find_if(book.inks.begin(), book.inks.end(),
                                            [&](const BookInk &ink) { return ink.name == name; });
            if (found == book.inks.end()) {
                return Error{ErrorCode::UnknownInk, "The ink book holds no '" + name + "'.", book.name,
                             "Give another book with --book, or --best N."};
            }
            if (found->use != InkUse::White || inks.empty()) {
                inks.push_back(*found);
            }
        }
        return in_printing_order(std::move(inks));
    }

    Done separate(OpenedJob &opened, const std::vector<BookInk> &inks, double choke, double limit) const
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
        auto job = separated_job(std::move(opened.job), *scene, inks, choke, limit);
        if (!job) {
            return job.error();
        }
        opened.job = m_white == "base+highlight" ? with_highlight(std::move(*job)) : std::move(*job);
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
            std::printf("%s\n",
                        root.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace).c_str());
            return;
        }
        for (std::size_t i = 0; i < job.plates.size(); ++i) {
            std::printf("%-24s %5.1f %%\n", job.plates[i].ink.c_str(), report.coverage[i] * 100);
        }
        std::printf("ΔE median %.1f, 95 %% %.1f; worst %.1f at %.0f, %.0f mm; %.1f %% is ΔE 6 or more off\n",
                    report.median, report.p95, report.worst, report.worst_x, report.worst_y,
                    report.beyond * 100);
    }

    std::string m_file, m_stock, m_inks, m_book, m_out, m_white = "base", m_choke = "0.1mm", m_limit;
    int m_best = 0, m_page = 0;
    bool m_json = false;
};

} // namespace

std::unique_ptr<Command> make_separate_command()
{
    return std::make_unique<SeparateCommand>();
}

} // namespace bichrom
