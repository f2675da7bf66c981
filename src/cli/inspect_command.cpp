#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "core/artwork/found_colours.h"
#include "core/job/job.h"
#include "core/line/coverage.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <map>

namespace bichrom {

namespace {

using json = nlohmann::ordered_json;

/// To so many decimals; dividing, where multiplying by 0.001 would leave noise in the last digit.
double rounded(double value, int decimals)
{
    const double whole = std::pow(10.0, decimals);
    return std::round(value * whole) / whole;
}

json box_json(const Rect &box)
{
    return {rounded(box.x, 3), rounded(box.y, 3), rounded(box.width, 3), rounded(box.height, 3)};
}

Outcome<json> inspect_page(const Artwork &artwork, int number, const JobControl &control)
{
    const auto info = artwork.page_info(number);
    if (!info) {
        return info.error();
    }
    const auto content = artwork.interpret(number, PageBox::Media, {}, control);
    if (!content) {
        return content.error();
    }
    const auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    const Job job = propose_job(*scene, {}, number);
    const auto plate_line = PlateLine::make(*content, job.inks(), control);
    if (!plate_line) {
        return plate_line.error();
    }
    const auto coverage = measure_coverage(**plate_line, Dpi(150), control);
    if (!coverage) {
        return coverage.error();
    }
    json page = {{"number", number}};
    for (const PageBox box : all_page_boxes) {
        page["boxes_mm"][to_string(box)] = box_json(info->box(box));
    }
    page["rotate"] = info->rotate;
    page["inks"] = json::array();
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        page["inks"].push_back({{"name", job.plates[i].ink},
                                {"kind", to_string(job.plates[i].kind)},
                                {"coverage", rounded((*coverage)[i], 5)}});
    }
    page["colours"] = json::array();
    for (const FoundColour *found : find_colours(*scene)) {
        json values = json::array();
        for (const float value : found->colour.values) {
            values.push_back(rounded(static_cast<double>(value), 4));
        }
        page["colours"].push_back({{"text", describe(found->colour)}, // as job --route takes it
                                   {"space", found->colour.space},
                                   {"colorants", found->colour.colorants},
                                   {"values", values},
                                   {"objects", found->objects}});
    }
    page["images"] = json::array();
    for (const SceneObject &object : scene->objects) {
        if (object.kind == ObjectKind::Image || object.kind == ObjectKind::ImageMask) {
            page["images"].push_back({{"ppi", rounded(object.image_ppi, 1)},
                                      {"width", object.image_width},
                                      {"height", object.image_height},
                                      {"space", object.colour.space}});
        }
    }
    std::map<std::string, bool> fonts;
    for (const SceneObject &object : scene->objects) {
        for (const TextRun &run : object.runs) {
            const auto known = fonts.emplace(run.font, run.embedded).first;
            known->second = known->second && run.embedded;
        }
    }
    page["fonts"] = json::array();
    for (const auto &[name, embedded] : fonts) {
        page["fonts"].push_back({{"name", name}, {"embedded", embedded}});
    }
    page["layers"] = json::array();
    for (const Layer &layer : artwork.layers()) {
        json entry = {{"name", layer.name}, {"prints", layer.prints}};
        if (!layer.prints && layer.counted) {
            entry["unprinted_objects"] = layer.unprinted;
        }
        page["layers"].push_back(std::move(entry));
    }
    page["uses_overprint"] = scene->uses_overprint;
    page["uses_transparency"] = scene->uses_transparency;
    page["warnings"] = (*content)->warnings();
    return page;
}

void print_text(const json &report)
{
    say("%s\n", report["file"].get<std::string>().c_str());
    for (const json &assumption : report["assumptions"]) {
        say("  assumed: %s\n", assumption.get<std::string>().c_str());
    }
    for (const json &page : report["pages"]) {
        const json &media = page["boxes_mm"]["media"];
        say("  page %d: %s × %s mm, rotated %d°%s%s\n", page["number"].get<int>(),
            format_number(media[2].get<double>(), 2).c_str(),
            format_number(media[3].get<double>(), 2).c_str(), page["rotate"].get<int>(),
            page["uses_overprint"].get<bool>() ? ", overprint" : "",
            page["uses_transparency"].get<bool>() ? ", transparency" : "");
        for (const json &ink : page["inks"]) {
            say("    ink %-24s %-8s %6.2f %%\n", ink["name"].get<std::string>().c_str(),
                ink["kind"].get<std::string>().c_str(), ink["coverage"].get<double>() * 100.0);
        }
        for (const json &image : page["images"]) {
            say("    image %d × %d px, %s, %.0f ppi\n", image["width"].get<int>(), image["height"].get<int>(),
                image["space"].get<std::string>().c_str(), image["ppi"].get<double>());
        }
        for (const json &font : page["fonts"]) {
            say("    font %s%s\n", font["name"].get<std::string>().c_str(),
                font["embedded"].get<bool>() ? "" : ", not embedded");
        }
        for (const json &warning : page["warnings"]) {
            say("    warning: %s\n", warning.get<std::string>().c_str());
        }
        constexpr std::size_t most_listed = 12;
        for (std::size_t i = 0; i < page["colours"].size() && i < most_listed; ++i) {
            say("    colour %s\n", page["colours"][i]["text"].get<std::string>().c_str());
        }
        say("    %zu colours, %zu layers\n", page["colours"].size(), page["layers"].size());
    }
}

class InspectCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand("inspect", "Tell what artwork contains; nothing is changed");
        sub->add_option("FILE", m_files, "Artwork, one file or many")->required();
        sub->add_option("--page", m_page, "Only this page, from 1");
        sub->add_option("--password", m_password, "For encrypted files");
        sub->add_flag("--json", m_json, "As JSON on standard output: an object, for many files an array");
        return sub;
    }

    int run() override
    {
        json reports = json::array();
        int worst = exit_done;
        for (const std::string &file : m_files) {
            auto report = inspect(file);
            if (!report) {
                const Error &error = report.error();
                worst = std::max(worst, report_error(error));
                if (error.code == ErrorCode::Cancelled) {
                    return worst;
                }
                reports.push_back(
                    {{"file", file},
                     {"error",
                      {{"reason", error.reason}, {"place", error.place}, {"remedy", error.remedy}}}});
                continue;
            }
            if (!m_json) {
                print_text(*report);
            }
            reports.push_back(std::move(*report));
        }
        if (m_json && (m_files.size() > 1 || !reports.empty())) {
            const json &out = m_files.size() > 1 ? reports : reports.front();
            say("%s\n", out.dump(2, ' ', false, json::error_handler_t::replace).c_str());
        }
        return worst;
    }

private:
    [[nodiscard]] Outcome<json> inspect(const std::string &file) const
    {
        const auto artwork = Artwork::open(file, {.password = m_password}, stoppable());
        if (!artwork) {
            return artwork.error();
        }
        json report = {{"file", file},
                       {"sha256", (*artwork)->sha256()},
                       {"kind", to_string((*artwork)->kind())},
                       {"output_intent", (*artwork)->output_intent()},
                       {"assumptions", (*artwork)->assumptions()},
                       {"pages", json::array()}};
        for (const std::string &warning : (*artwork)->warnings()) {
            report_warning(warning);
        }
        report["warnings"] = (*artwork)->warnings();
        const int first = m_page == 0 ? 1 : m_page;
        const int last = m_page == 0 ? (*artwork)->page_count() : m_page;
        for (int number = first; number <= last; ++number) {
            auto page = inspect_page(**artwork, number, progress_on_terminal("inspect"));
            if (!page) {
                return page.error();
            }
            report["pages"].push_back(std::move(*page));
        }
        return report;
    }

    std::vector<std::string> m_files;
    std::string m_password;
    int m_page = 0;
    bool m_json = false;
};

} // namespace

std::unique_ptr<Command> make_inspect_command()
{
    return std::make_unique<InspectCommand>();
}

} // namespace bichrom
