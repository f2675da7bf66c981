#include "cli/size_options.h"

#include "cli/report.h"
#include "cli/words.h"
#include "core/artwork/scene.h"
#include "core/job/edits/bleed.h"
#include "core/job/edits/own_marks.h"
#include "core/job/kept_sets.h"
#include "core/line/painted_area.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

namespace bichrom {

namespace {

/// A length in mm; nothing when \p text is empty.
Outcome<double> length_of(const std::string &text, double otherwise = 0)
{
    if (text.empty()) {
        return otherwise;
    }
    const auto length = parse_length(text, LengthUnit::Millimetre);
    return length ? Outcome<double>(length->value) : Outcome<double>(length.error());
}

/// "98%" or "98" as 0.98.
Outcome<double> share_of(std::string text)
{
    text = CLI::detail::trim_copy(text);
    if (!text.empty() && text.back() == '%') {
        text.pop_back();
    }
    const auto percent = parse_number(text);
    return percent ? Outcome<double>(*percent / 100) : Outcome<double>(percent.error());
}

Outcome<Rect> painted_area_of(const OpenedJob &opened)
{
    const auto page =
        opened.artwork->interpret(opened.job.page, PageBox::Media, opened.job.colours, stoppable());
    if (!page) {
        return page.error();
    }
    const auto line = PlateLine::make(*page, setup_of(opened.job), stoppable());
    return line ? painted_area(**line, stoppable()) : Outcome<Rect>(line.error());
}

} // namespace

void SizeOptions::declare(CLI::App &command)
{
    CLI::Option *width =
        command.add_option("--width", m_width, "Finished width, such as 14in or 355mm; the ratio is kept");
    CLI::Option *height = command.add_option("--height", m_height,
                                             "Finished height; with --width too the art is made to fit both");
    command.add_option("--scale", m_scale, "Percent of the artwork's own size, such as 150%")
        ->excludes(width)
        ->excludes(height);
    command.add_option("--of", m_of,
                       "What --width and --height measure: trim (without a trim box the page), page, or art, "
                       "which is what is painted (trim)");
    command.add_option("--bleed", m_bleed,
                       "WIDTH[,mirror|extend]: bleed made beyond the trim, the art turned over at it or its "
                       "colours drawn outwards (mirror); 0 makes none");
    command.add_option("--own-marks", m_own_marks,
                       "What the file has beside its page: keep, leave-out, or all-plates (keep)");
}

Outcome<OpenedJob> SizeOptions::apply(OpenedJob opened, const PageList &pages) const
{
    auto made = sized(std::move(opened));
    made = made ? bled(std::move(*made)) : std::move(made);
    return made ? marked(std::move(*made), pages) : made;
}

Outcome<OpenedJob> SizeOptions::bled(OpenedJob opened) const
{
    if (m_bleed.empty()) {
        return opened;
    }
    const auto parts = halves_at_first(m_bleed, ',');
    const auto width = length_of(parts ? parts->first : m_bleed);
    const auto by = parse_bleed_by(parts ? CLI::detail::trim_copy(parts->second) : "mirror");
    if (!width || !by) {
        return usage_error("'" + m_bleed + "' is no bleed.",
                           "Write, for example, --bleed 3mm or 3mm,extend.");
    }
    auto job = with_made_bleed(std::move(opened.job), *opened.artwork, {*width, *by});
    if (!job) {
        return job.error();
    }
    opened.job = std::move(*job);
    auto artwork = assemble(opened.artwork, opened.job.placements);
    if (!artwork) {
        return artwork.error();
    }
    opened.artwork = std::move(*artwork);
    opened.read = nullptr;
    return opened;
}

Outcome<OpenedJob> SizeOptions::marked(OpenedJob opened, const PageList &pages) const
{
    if (m_own_marks.empty()) {
        return opened;
    }
    const auto own = parse_own_marks(m_own_marks);
    if (!own) {
        return usage_error(own.error().reason, own.error().remedy);
    }
    for (const int page : pages) {
        const auto info = opened.artwork->page_info(page);
        const auto content = opened.artwork->interpret(page, PageBox::Media, opened.job.colours, stoppable());
        if (!info || !content) {
            return info ? content.error() : info.error();
        }
        const auto scene = record_scene(**content, stoppable());
        if (!scene) {
            return scene.error();
        }
        opened.job =
            with_own_marks(std::move(opened.job), find_own_marks(*scene, *info, PageBox::Media), *own);
    }
    return opened;
}

Outcome<OpenedJob> SizeOptions::sized(OpenedJob opened) const
{
    if (m_width.empty() && m_height.empty() && m_scale.empty()) {
        return m_of.empty() ? Outcome<OpenedJob>(std::move(opened))
                            : usage_error("--of says what a size measures, but no size is given.",
                                          "Give --width or --height.");
    }
    double factor = 1;
    if (!m_scale.empty()) {
        const auto scale = share_of(m_scale);
        if (!scale || !(*scale > 0)) {
            return usage_error("'" + m_scale + "' is no scale.", "Write, for example, --scale 150%.");
        }
        factor = *scale / opened.job.placements.scale;
    } else {
        const auto width = length_of(m_width), height = length_of(m_height);
        if (!width || !height) {
            return width ? height.error() : width.error();
        }
        if (m_of != "" && m_of != "trim" && m_of != "page" && m_of != "art") {
            return usage_error("'" + m_of + "' cannot be measured.", "Use trim, page or art.");
        }
        const auto info = opened.artwork->page_info(opened.job.page);
        if (!info) {
            return info.error();
        }
        const SizeOf of = m_of == "page" ? SizeOf::Page : m_of == "art" ? SizeOf::Art : SizeOf::Trim;
        Rect painted;
        if (of == SizeOf::Art) {
            const auto area = painted_area_of(opened);
            if (!area) {
                return area.error();
            }
            painted = *area;
        }
        const auto found = factor_for(area_of_size(*info, painted, of), *width, *height);
        if (!found) {
            return found.error();
        }
        factor = *found;
    }
    auto job = resized(std::move(opened.job), factor, *opened.artwork);
    if (!job) {
        return job.error();
    }
    opened.job = std::move(*job);
    auto sized = assemble(opened.artwork, opened.job.placements);
    if (!sized) {
        return sized.error();
    }
    opened.artwork = std::move(*sized);
    opened.read = nullptr;
    return opened;
}

void SheetOptions::declare(CLI::App &command)
{
    command.add_option(
        "--distort", m_distort,
        "ALONG%,ACROSS%: what the art is stretched to down the film and across it, so that the "
        "press brings it back, such as 98.5%,100%");
    command.add_option("--copies", m_copies, "Copies of the art across and down, such as 3x2");
    command.add_option("--gap", m_gap, "Between copies, such as 5mm (0)");
    command.add_option("--sheet", m_sheet,
                       "WIDTHxHEIGHT of the film, such as 14inx20in; else it is as small as it can be");
    command.add_option("--place", m_place,
                       "LEFT,TOP: from the edges of --sheet to the art, each a length or centre (centre)");
    command.add_option("--around", m_around,
                       "What films hold and marks stand around: page (its box), or art, which is what prints "
                       "of it (page)");
    command.add_option(
        "--marks", m_marks,
        "Marks with commas between them; no- before a word leaves one out: cross, ring (a cross in a ring), "
        "corners, crop, bleed, centre, pinholes, ruler, wedge, patches, label");
    command.add_option("--mark-set", m_mark_set, "File of a kept set of marks; what else is said changes it");
    command.add_option("--mark-size", m_mark_size, "Of registration marks (8mm)");
    command.add_option("--mark-line", m_mark_line, "Width of their lines (1pt)");
    command.add_option("--mark-distance", m_mark_distance, "From the art to its marks (3mm)");
    command.add_option("--wedge-steps", m_steps, "Percent with commas between them, such as 1,2,3,5,50,100");
    command.add_option("--label", m_label,
                       "Pieces in their order: job, number, page, ink, order, size, screen, printing, "
                       "resolution, side, date");
    command.add_option("--number", m_number, "The customer's number, for the label");
}

Outcome<FilmOptions> SheetOptions::apply(FilmOptions film) const
{
    if (!m_distort.empty()) {
        const auto parts = halves_at_first(m_distort, ',');
        const auto along = share_of(parts ? parts->first : m_distort);
        const auto across = share_of(parts ? parts->second : m_distort);
        if (!parts || !along || !across) {
            return usage_error("'" + m_distort + "' is no stretch along and across.",
                               "Write, for example, --distort 98.5%,100%.");
        }
        film.along = *along;
        film.across = *across;
    }
    if (!m_around.empty()) {
        if (m_around != "page" && m_around != "art") {
            return usage_error("Marks cannot stand around '" + m_around + "'.", "Use page or art.");
        }
        film.around_art = m_around == "art";
    }
    if (!m_copies.empty()) {
        const auto parts = halves_at_first(m_copies, 'x');
        const auto columns = parse_number(parts ? parts->first : m_copies);
        const auto rows = parse_number(parts ? parts->second : m_copies);
        if (!parts || !columns || !rows || std::floor(*columns) != *columns || std::floor(*rows) != *rows ||
            std::max(*columns, *rows) > 100 || std::min(*columns, *rows) < 1) {
            return usage_error("'" + m_copies + "' are no copies.", "Write, for example, --copies 3x2.");
        }
        film.columns = static_cast<int>(*columns);
        film.rows = static_cast<int>(*rows);
    }
    const auto gap = length_of(m_gap, film.gap);
    if (!gap) {
        return gap.error();
    }
    film.gap = *gap;
    if (!m_sheet.empty()) {
        const auto parts = halves_at_first(m_sheet, 'x');
        const auto width = length_of(parts ? parts->first : std::string("-"));
        const auto height = length_of(parts ? parts->second : std::string("-"));
        if (!width || !height || !(*width > 0) || !(*height > 0)) {
            return usage_error("'" + m_sheet + "' is no size of a film.",
                               "Write, for example, --sheet 14inx20in.");
        }
        film.sheet_width = *width;
        film.sheet_height = *height;
    }
    if (!m_place.empty()) {
        const auto parts = halves_at_first(m_place, ',');
        const auto place = [&](const std::string &text) {
            return text == "centre" ? Outcome<double>(-1.0) : length_of(text);
        };
        const auto left = place(parts ? parts->first : "-");
        const auto top = place(parts ? parts->second : "-");
        if (!left || !top) {
            return usage_error("'" + m_place + "' is no place on the film.",
                               "Write, for example, --place centre,30mm.");
        }
        if (!(film.sheet_width > 0)) {
            return usage_error("The art has a place only on a film of a size of its own.", "Give --sheet.");
        }
        film.from_left = *left;
        film.from_top = *top;
    }
    if (!m_mark_set.empty()) {
        const auto text = read_set_file(m_mark_set);
        auto kept = text ? read_mark_set(*text, m_mark_set) : Outcome<MarkSet>(text.error());
        if (!kept) {
            return kept.error();
        }
        kept->number = film.mark_set.number; // of the job's customer
        film.mark_set = std::move(*kept);
    }
    auto marks = marked(std::move(film.mark_set));
    if (!marks) {
        return marks.error();
    }
    film.mark_set = std::move(*marks);
    if (const Done good = check_film(film); !good) {
        return good.error();
    }
    return film;
}

Outcome<MarkSet> SheetOptions::marked(MarkSet marks) const
{
    for (const std::string &part : CLI::detail::split(m_marks, ',')) {
        std::string word = CLI::detail::trim_copy(part);
        if (word.empty()) {
            continue;
        }
        const bool on = word.rfind("no-", 0) != 0;
        word = on ? word : word.substr(3);
        const std::pair<const char *, bool *> switches[] = {
            {"corners", &marks.corners}, {"crop", &marks.crop},         {"bleed", &marks.bleed},
            {"centre", &marks.centre},   {"pinholes", &marks.pinholes}, {"ruler", &marks.ruler},
            {"wedge", &marks.wedge},     {"patches", &marks.patches},   {"label", &marks.label}};
        const auto found = std::find_if(std::begin(switches), std::end(switches),
                                        [&](const auto &one) { return word == one.first; });
        if (found != std::end(switches)) {
            *found->second = on;
        } else if (word == "cross" || word == "ring") {
            marks.registration = !on              ? RegistrationMark::None
                                 : word == "ring" ? RegistrationMark::CrossInRing
                                                  : RegistrationMark::Cross;
        } else {
            return usage_error("'" + word + "' is no mark.",
                               "Marks are cross, ring, corners, crop, bleed, centre, pinholes, ruler, wedge, "
                               "patches and label.");
        }
    }
    const auto size = length_of(m_mark_size, marks.size);
    const auto line = length_of(m_mark_line, to_millimetres(Points(marks.line)).value);
    const auto distance = length_of(m_mark_distance, marks.distance);
    for (const auto *one : {&size, &line, &distance}) {
        if (!*one) {
            return one->error();
        }
    }
    marks.size = *size;
    marks.line = m_mark_line.empty() ? marks.line : to_points(Millimetres(*line)).value;
    marks.distance = *distance;
    if (!m_steps.empty()) {
        marks.wedge_steps.clear();
        for (const std::string &part : CLI::detail::split(m_steps, ',')) {
            const auto step = share_of(part);
            if (!step) {
                return usage_error("'" + part + "' is no step of a wedge.",
                                   "Write percent, such as 1,2,5,50.");
            }
            marks.wedge_steps.push_back(*step * 100);
        }
    }
    if (!m_label.empty()) {
        marks.pieces.clear();
        for (const std::string &part : CLI::detail::split(m_label, ',')) {
            const auto piece = parse_label_piece(CLI::detail::trim_copy(part));
            if (!piece) {
                return piece.error();
            }
            marks.pieces.push_back(*piece);
        }
    }
    marks.number = m_number.empty() ? marks.number : m_number;
    return marks;
}

} // namespace bichrom
