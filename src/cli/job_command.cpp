#include "cli/commands.h"
#include "cli/fit_options.h"
#include "cli/report.h"
#include "cli/screen_options.h"
#include "cli/size_options.h"
#include "cli/words.h"
#include "core/base/units.h"
#include "core/job/edits/areas.h"
#include "core/job/edits/make_plates.h"
#include "core/job/edits/plates.h"
#include "core/job/kept_sets.h"
#include "core/job/routing.h"
#include "core/job/stocks.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <optional>

namespace bichrom {

namespace {

std::string lower(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
    return text;
}

std::string listed(const std::vector<std::string> &names)
{
    std::string text;
    for (const std::string &name : names) {
        text += (text.empty() ? "" : ", ") + name;
    }
    return text;
}

/// Whether \p text, "#1e90ff", is the RGB colour \p use.
bool is_hex_of(const std::string &text, const ColourUse &use)
{
    if (text.size() != 7 || text.front() != '#' || use.values.size() != 3 || use.colorants.size() != 3 ||
        use.colorants.front() != "Red") {
        return false;
    }
    char digits[8] = {};
    std::snprintf(digits, sizeof digits, "#%02lx%02lx%02lx",
                  std::lround(static_cast<double>(use.values[0]) * 255.0),
                  std::lround(static_cast<double>(use.values[1]) * 255.0),
                  std::lround(static_cast<double>(use.values[2]) * 255.0));
    return lower(text) == digits;
}

class JobCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand("job", "Make a .bichrom job of a file, by the window's own edits");
        sub->add_option("FILE", m_file, "Artwork, or a job to go on with")->required();
        sub->add_option("--out", m_out, "The job to write")->required();
        sub->add_option("--stock", m_stock, "A shipped stock by its id or name");
        const auto many = [&](const char *name, std::vector<std::string> &list, const char *help) {
            sub->add_option(name, list, help)->allow_extra_args(false);
        };
        many("--route", m_routes,
             "COLOUR=INK[@TINT]: sends an ink found, or a colour as inspect lists it or as #rrggbb, to a "
             "plate; "
             "INK may also be process, nothing or bare; may be given many times, like those below");
        sub->add_option("--plates-from-colours", m_from_colours,
                        "A plate for each colour, those within this ΔE taken together (0 to 50)");
        many("--recipe", m_recipes, "PRESET[:INK]: a computed plate, such as \"Base under everything\"");
        many("--kind", m_kinds,
             "INK=KIND: spot, process, white, varnish, metallic, foil or technical; a new plate when it has "
             "none");
        sub->add_option("--order", m_order, "Inks with commas between them, the first printed first");
        sub->add_option("--areas", m_areas,
                        "File of a kept set of areas: folds, glue, what stays free, the platen");
        m_size.declare(*sub);
        m_sheet.declare(*sub);
        m_screen.declare(*sub);
        m_fit.declare(*sub);
        sub->add_option("--page", m_page, "Page number, from 1, that the job opens at");
        sub->add_option("--password", m_password, "For an encrypted file");
        return sub;
    }

    int run() override
    {
        auto opened = open_job_or_artwork(m_file, m_page, {.password = m_password}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened);
        if (const Done read = read_pages(*opened); !read) {
            return report_error(read.error());
        }
        auto job = edited(std::move(opened->job), opened->artwork->page_count() == 1);
        if (!job) {
            return report_error(job.error());
        }
        job = m_fit.apply(std::move(*job));
        if (!job) {
            return report_error(job.error());
        }
        job = m_screen.apply(std::move(*job));
        if (!job) {
            return report_error(job.error());
        }
        auto film = m_sheet.apply(std::move(job->film));
        if (!film) {
            return report_error(film.error());
        }
        job->film = std::move(*film);
        opened->job = std::move(*job);
        opened = m_size.apply(std::move(*opened), *parse_pages("all", opened->artwork->page_count()));
        if (!opened) {
            return report_error(opened.error());
        }
        if (const Done added = add_areas(*opened); !added) {
            return report_error(added.error());
        }
        if (const Done good = check_job(opened->job); !good) {
            return report_error(good.error());
        }
        if (const Done saved = save_job(m_out, opened->job, *opened->artwork); !saved) {
            return report_error(saved.error());
        }
        return exit_done;
    }

private:
    /// The areas that were given, at the trim of the job's page.
    Done add_areas(OpenedJob &opened) const
    {
        if (m_areas.empty()) {
            return {};
        }
        const auto text = read_set_file(m_areas);
        const auto set = text ? read_area_set(*text, m_areas) : Outcome<std::vector<NamedArea>>(text.error());
        const auto info = opened.artwork->page_info(opened.job.page);
        if (!set || !info) {
            return set ? info.error() : set.error();
        }
        opened.job = with_area_set(std::move(opened.job), *info, *set);
        return {};
    }

    /// The scenes of all pages; the job gets plates for their inks.
    Done read_pages(OpenedJob &opened)
    {
        const int count = opened.artwork->page_count();
        auto turned = turn_through(std::move(opened), *parse_pages("all", count), stoppable());
        if (!turned) {
            return turned.error();
        }
        opened = std::move(*turned);
        for (int page = 1; page <= count; ++page) {
            const auto content =
                opened.artwork->interpret(page, PageBox::Media, opened.job.colours, stoppable());
            if (!content) {
                return content.error();
            }
            auto scene = record_scene(**content, stoppable());
            if (!scene) {
                return scene.error();
            }
            m_scenes.push_back(std::move(*scene));
        }
        return {};
    }

    Outcome<Job> edited(Job job, bool only_page) const
    {
        const Scene &scene = m_scenes[static_cast<std::size_t>(job.page - 1)];
        if (!m_stock.empty()) {
            const auto &stocks = shipped_stocks();
            const auto stock = std::find_if(stocks.begin(), stocks.end(), [&](const ShippedStock &one) {
                return lower(one.id) == lower(m_stock) || lower(one.stock.name) == lower(m_stock);
            });
            if (stock == stocks.end()) {
                std::vector<std::string> names;
                for (const ShippedStock &one : stocks) {
                    names.push_back(one.stock.name);
                }
                return usage_error("There is no stock '" + m_stock + "'.",
                                   "There are: " + listed(names) + ".");
            }
            job.stock = stock->stock;
        }
        if (m_from_colours) {
            if (!(*m_from_colours >= 0 && *m_from_colours <= 50)) {
                return usage_error("Colours cannot be alike within ΔE " + std::to_string(*m_from_colours) +
                                       ".",
                                   "Write a number from 0 to 50.");
            }
            const auto groups = group_colours(scene.colours, {}, *m_from_colours);
            if (groups.size() > most_groups_to_plates) {
                return usage_error("The page has " + std::to_string(groups.size()) +
                                       " colours that are not alike: too many for a plate each.",
                                   "Take more of them together with a larger ΔE, or separate it into inks "
                                   "(bichrom-cli separate).");
            }
            job = plates_from_colours(std::move(job), scene, groups, *m_from_colours, ColourMeasure::DeltaE,
                                      shipped_inks(), only_page);
        }
        for (const std::string &text : m_routes) {
            auto next = routed(std::move(job), text);
            if (!next) {
                return next;
            }
            job = std::move(*next);
        }
        for (const std::string &text : m_kinds) {
            auto next = declared(std::move(job), scene, text);
            if (!next) {
                return next;
            }
            job = std::move(*next);
        }
        for (const std::string &text : m_recipes) {
            auto next = computed(std::move(job), scene, text);
            if (!next) {
                return next;
            }
            job = std::move(*next);
        }
        return m_order.empty() ? Outcome<Job>(std::move(job)) : ordered(std::move(job));
    }

    /// The route, without an end, that takes what \p source names.
    Outcome<Route> route_of(const std::string &source) const
    {
        std::vector<std::string> known;
        for (std::size_t page = 0; page < m_scenes.size(); ++page) {
            const Scene &scene = m_scenes[page];
            for (const FoundInk &ink : scene.inks) {
                if (ink.name == source) {
                    Route route;
                    route.by = RouteBy::Ink;
                    route.name = source;
                    return route;
                }
                known.push_back(ink.name);
            }
            for (std::size_t i = 0; i < scene.colours.size(); ++i) {
                const ColourUse &use = scene.colours[i].colour;
                if (!use.values.empty() &&
                    (lower(describe(use)) == lower(source) || is_hex_of(source, use))) {
                    return route_from(scene, static_cast<int>(page) + 1, {static_cast<int>(i)}, 0);
                }
                if (!use.values.empty()) {
                    known.push_back(describe(use));
                }
            }
        }
        std::sort(known.begin(), known.end());
        known.erase(std::unique(known.begin(), known.end()), known.end());
        constexpr std::size_t most = 40;
        known.resize(std::min(known.size(), most));
        return usage_error("The artwork holds no ink or colour '" + source + "'.",
                           "It holds: " + listed(known) + ".");
    }

    Outcome<Job> routed(Job job, const std::string &text) const
    {
        const auto parts = halves_at_last(text, '=');
        if (!parts) {
            return usage_error("'" + text + "' is no route.",
                               "Write, for example, --route \"Dusk Blue=Black@40\".");
        }
        auto route = route_of(parts->first);
        if (!route) {
            return route.error();
        }
        const std::string end = lower(parts->second);
        if (end == "process" || end == "nothing" || end == "bare") {
            route->to = end == "process" ? RouteTo::Process
                        : end == "bare"  ? RouteTo::BareStock
                                         : RouteTo::Nothing;
            return with_route(std::move(job), std::move(*route));
        }
        RouteTarget target{parts->second, route->by == RouteBy::Ink, 1, {}};
        if (const std::size_t at = parts->second.rfind('@'); at != std::string::npos && at > 0) {
            std::string tint = parts->second.substr(at + 1);
            if (!tint.empty() && tint.back() == '%') {
                tint.pop_back();
            }
            const auto percent = parse_number(tint);
            if (!percent || !(*percent >= 0 && *percent <= 100)) {
                return usage_error("'" + tint + "' is no tint.", "Write percent from 0 to 100 after the @.");
            }
            target.ink = parts->second.substr(0, at);
            target.tint = *percent / 100;
        }
        route->targets = {target};
        return with_route(std::move(job), std::move(*route));
    }

    static Outcome<Job> declared(Job job, const Scene &scene, const std::string &text)
    {
        const auto parts = halves_at_last(text, '=');
        const auto kind = parts ? parse_ink_use(parts->second)
                                : Outcome<InkUse>(usage_error("'" + text + "' is no ink and kind.",
                                                              "Write, for example, --kind \"Milk=white\"."));
        if (!kind) {
            return kind.error();
        }
        if (job.find_plate(parts->first) < 0) {
            auto added = add_named_plate(std::move(job), parts->first, shipped_inks(), scene);
            if (!added) {
                return added;
            }
            job = std::move(*added);
        }
        return declare_kind(std::move(job), parts->first, *kind);
    }

    static Outcome<Job> computed(Job job, const Scene &scene, const std::string &text)
    {
        const auto presets = recipe_presets(preset_table(job, scene));
        const auto find = [&](const std::string &name) {
            return std::find_if(presets.begin(), presets.end(),
                                [&](const RecipePreset &one) { return lower(one.name) == lower(name); });
        };
        auto preset = find(text);
        std::string ink;
        if (const std::size_t colon = text.find(':'); preset == presets.end() && colon != std::string::npos) {
            preset = find(text.substr(0, colon));
            ink = text.substr(colon + 1);
        }
        if (preset == presets.end()) {
            std::vector<std::string> names;
            for (const RecipePreset &one : presets) {
                names.push_back(one.name);
            }
            return usage_error("There is no ready-made recipe '" + text + "'.",
                               "There are: " + listed(names) + ".");
        }
        auto made = make_preset_plate(std::move(job), *preset, ink);
        if (!made) {
            return made.error();
        }
        return std::move(made->job);
    }

    Outcome<Job> ordered(Job job) const
    {
        std::size_t place = 0;
        for (const std::string &part : CLI::detail::split(m_order, ',')) {
            const int plate = job.find_plate(CLI::detail::trim_copy(part));
            if (plate < 0) {
                return usage_error("There is no plate of '" + part + "'.",
                                   "The plates are: " + listed(job.inks()) + ".");
            }
            if (static_cast<std::size_t>(plate) < place) {
                return usage_error("'" + part + "' stands twice in the order.", "Name each ink once.");
            }
            job = move_plate(std::move(job), static_cast<std::size_t>(plate), place++);
        }
        return job;
    }

    FitOptions m_fit;
    SizeOptions m_size;
    SheetOptions m_sheet;
    ScreenOptions m_screen;
    std::string m_file, m_out, m_stock, m_order, m_password, m_areas;
    std::vector<std::string> m_routes, m_recipes, m_kinds;
    std::optional<double> m_from_colours;
    int m_page = 0;
    std::vector<Scene> m_scenes; ///< of all pages
};

} // namespace

std::unique_ptr<Command> make_job_command()
{
    return std::make_unique<JobCommand>();
}

} // namespace bichrom
