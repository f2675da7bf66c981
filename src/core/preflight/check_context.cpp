#include "core/preflight/check_context.h"

#include "core/artwork/page_boxes.h"
#include "core/artwork/text_encoding.h"
#include "core/preflight/check_table.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double millimetres_per_point = millimetres_per_inch / points_per_inch;

} // namespace

PixelRect PlateSurvey::pixels(const Rect &area) const
{
    const double scale = 1.0 / millimetres_per_pixel();
    const auto clamp = [](double value, int most) {
        return static_cast<int>(std::clamp(value, 0.0, static_cast<double>(most)));
    };
    const int left = clamp(std::floor(area.x * scale), tile.rect.width);
    const int top = clamp(std::floor(area.y * scale), tile.rect.height);
    const int right = clamp(std::ceil((area.x + area.width) * scale), tile.rect.width);
    const int bottom = clamp(std::ceil((area.y + area.height) * scale), tile.rect.height);
    return {left, top, std::max(0, right - left), std::max(0, bottom - top)};
}

int PlateSurvey::step(const PixelRect &part)
{
    constexpr double most = 4096;
    return std::max(1, static_cast<int>(std::sqrt(static_cast<double>(part.width) * part.height / most)));
}

Rect PlateSurvey::area_of(const PixelRect &pixels) const
{
    const double scale = millimetres_per_pixel();
    return {pixels.x * scale, pixels.y * scale, pixels.width * scale, pixels.height * scale};
}

int PlateSurvey::find(const std::string &ink) const
{
    const auto found = std::find(inks.begin(), inks.end(), ink);
    return found == inks.end() ? -1 : static_cast<int>(found - inks.begin());
}

CheckContext::CheckContext(const Artwork &page_artwork, const PageInfo &page_info, const Scene &page_scene,
                           const PlateSurvey &page_survey, const ShopRules &shop_rules, const Job *page_job)
    : artwork(page_artwork), info(page_info), scene(page_scene), survey(page_survey), rules(shop_rules),
      job(page_job)
{
    choose_art();
}

bool CheckContext::beside_trim(const SceneObject &object) const
{
    return info.written[static_cast<std::size_t>(PageBox::Trim)] && !object.clipped_away &&
           !overlaps(area(object), box(PageBox::Trim));
}

void CheckContext::choose_art()
{
    m_art.clear();
    for (const SceneObject &object : scene.objects) {
        const auto at = static_cast<std::size_t>(object.index);
        const bool prints = at >= leaves_no_trace.size() || !leaves_no_trace[at];
        if (prints && !object.clipped_away && !beside_trim(object)) {
            m_art.push_back(&object);
        }
    }
}

InkUse CheckContext::use_of(const std::string &ink) const
{
    const int plate = job != nullptr ? job->find_plate(ink) : -1;
    return plate >= 0 && job->plates[static_cast<std::size_t>(plate)].kind != InkUse::Spot
               ? job->plates[static_cast<std::size_t>(plate)].kind
               : use_named(ink);
}

double CheckContext::darkness(const std::string &ink) const
{
    if (ink == "Black") {
        return 0.95;
    }
    for (const FoundInk &one : scene.inks) {
        if (one.name == ink) {
            return std::clamp(1.0 - one.solid.l / 100.0, 0.0, 1.0);
        }
    }
    return 0.5;
}

bool CheckContext::is_black(const std::string &ink) const
{
    if (ink == "Black") {
        return true;
    }
    for (const FoundInk &one : scene.inks) {
        if (one.name == ink && one.kind == InkKind::Spot) {
            return use_of(ink) == InkUse::Spot && bichrom::is_black(one.solid);
        }
    }
    return false;
}

double CheckContext::mean_tone(std::size_t plate, const Rect &where) const
{
    const PixelRect part = survey.pixels(where);
    const int step = PlateSurvey::step(part);
    std::int64_t sum = 0;
    std::int64_t all = 0;
    for (int y = part.y; y < part.y + part.height; y += step) {
        const auto row = survey.tile.plates[plate].row(y);
        for (int x = part.x; x < part.x + part.width; x += step) {
            sum += row[static_cast<std::size_t>(x)];
            ++all;
        }
    }
    return all > 0 ? static_cast<double>(sum) / (255.0 * static_cast<double>(all)) : 0.0;
}

std::vector<std::pair<std::string, double>> CheckContext::inks_put_down(const SceneObject &object) const
{
    std::vector<std::pair<std::string, double>> inks = inks_of(object.colour);
    const FoundColour &found = scene.colours[static_cast<std::size_t>(object.colour_number)];
    if (!object.colour.values.empty()) {
        for (const InkAmount &one : found.inks) { // RGB and the like: what they are converted to
            if (!names_inks(object.colour) && object.colour.values.size() == 3 && one.amount > 0.005f) {
                inks.emplace_back(one.ink, static_cast<double>(one.amount));
            }
        }
        return inks;
    }
    for (const InkAmount &one : found.inks) {
        const int plate = survey.find(one.ink);
        if (plate >= 0 && mean_tone(static_cast<std::size_t>(plate), area(object)) > 0.002) {
            inks.emplace_back(one.ink, 1.0);
        }
    }
    return inks;
}

void CheckContext::begin(const CheckInfo &check)
{
    m_check = &check;
    m_limits.clear();
}

double CheckContext::limit(const char *name) const
{
    const auto known =
        std::find_if(m_limits.begin(), m_limits.end(), [name](const auto &one) { return one.first == name; });
    if (known != m_limits.end()) {
        return known->second;
    }
    return m_limits.emplace_back(name, rules.limit(m_check->name, name)).second;
}

Rect CheckContext::box(PageBox which) const
{
    return box_within(info, which, PageBox::Media);
}

Rect CheckContext::area(const SceneObject &object) const
{
    return {object.bounds.x * millimetres_per_point, object.bounds.y * millimetres_per_point,
            object.bounds.width * millimetres_per_point, object.bounds.height * millimetres_per_point};
}

CheckContext::Gathered &CheckContext::gathered(const std::string &subject)
{
    const auto [at, is_new] =
        m_places_of.try_emplace(std::string(m_check->name) + '\n' + subject, m_gathered.size());
    if (is_new) {
        Gathered one;
        one.finding.check = m_check->name;
        one.finding.severity = rules.setting(m_check->name).severity;
        one.finding.page = info.number;
        one.finding.subject = subject;
        one.finding.title = m_check->title;
        one.finding.why = m_check->why;
        one.finding.remedy = m_check->remedy;
        m_gathered.push_back(std::move(one));
    }
    return m_gathered[at->second];
}

void CheckContext::report(const std::string &subject, const FindingPlace &place, double badness,
                          const std::string &limit_text, const std::string &title)
{
    Gathered &one = gathered(subject);
    if (one.places.empty()) {
        one.finding.limit = limit_text;
        if (!title.empty()) {
            one.finding.title = title;
        }
    }
    ++one.finding.places_in_all;
    // Of a page with a hundred thousand objects the worst are kept.
    constexpr std::size_t most = Finding::most_places;
    if (one.places.size() >= 4 * most) {
        std::stable_sort(one.places.begin(), one.places.end(),
                         [](const auto &a, const auto &b) { return a.first > b.first; });
        one.places.resize(most);
    }
    one.places.emplace_back(badness, place);
}

void CheckContext::mute(const std::string &subject)
{
    gathered(subject).finding.muted = true;
}

void CheckContext::report(const std::string &subject, const SceneObject &object, const std::string &measured,
                          double badness, const std::string &limit_text, const std::string &title)
{
    report(subject, FindingPlace{object.index, area(object), measured}, badness, limit_text, title);
}

std::vector<Finding> CheckContext::take()
{
    std::vector<Finding> findings;
    for (Gathered &one : m_gathered) {
        std::stable_sort(one.places.begin(), one.places.end(),
                         [](const auto &a, const auto &b) { return a.first > b.first; });
        one.places.resize(std::min(one.places.size(), Finding::most_places));
        for (auto &[badness, place] : one.places) {
            one.finding.places.push_back(std::move(place));
        }
        findings.push_back(std::move(one.finding));
    }
    m_gathered.clear();
    m_places_of.clear();
    return findings;
}

bool is_text(const SceneObject &object)
{
    return object.kind == ObjectKind::Text || object.kind == ObjectKind::StrokedText;
}

bool is_image(const SceneObject &object)
{
    return object.kind == ObjectKind::Image || object.kind == ObjectKind::ImageMask;
}

bool names_inks(const ColourUse &colour)
{
    return colour.space.ends_with("Separation") || colour.space.ends_with("DeviceN");
}

bool is_paper_white(const ColourUse &colour)
{
    if (colour.values.empty()) {
        return false;
    }
    constexpr float near_nothing = 0.002f; // less than half a step of 255
    const auto all = [&](auto test) { return std::all_of(colour.values.begin(), colour.values.end(), test); };
    if (names_inks(colour) || colour.values.size() == 4) {
        return all([](float v) { return v <= near_nothing; });
    }
    if (colour.space == "Lab") {
        return colour.values[0] >= 99.8f;
    }
    return all([](float v) { return v >= 1.0f - near_nothing; });
}

std::vector<std::pair<std::string, double>> inks_of(const ColourUse &colour, double least)
{
    std::vector<std::pair<std::string, double>> inks;
    if (colour.colorants.size() == 1 && colour.colorants[0] == "Gray" && !colour.values.empty()) {
        const double black = 1.0 - static_cast<double>(colour.values[0]);
        if (black > least) {
            inks.emplace_back("Black", black);
        }
        return inks;
    }
    if (!names_inks(colour) && colour.values.size() != 4) {
        return inks;
    }
    for (std::size_t i = 0; i < colour.values.size() && i < colour.colorants.size(); ++i) {
        if (static_cast<double>(colour.values[i]) > least && colour.colorants[i] != "None") {
            inks.emplace_back(colour.colorants[i], static_cast<double>(colour.values[i]));
        }
    }
    return inks;
}

bool overlaps(const Rect &a, const Rect &b)
{
    return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

bool inside(const Rect &inner, const Rect &outer, double slack)
{
    return inner.x >= outer.x - slack && inner.y >= outer.y - slack &&
           inner.x + inner.width <= outer.x + outer.width + slack &&
           inner.y + inner.height <= outer.y + outer.height + slack;
}

std::string quoted(const TextRun &run)
{
    // A subset's name begins with six capitals and a plus sign (ISO 32000-1, 9.6.4).
    const bool subset = run.font.size() > 7 && run.font[6] == '+';
    const std::string size = with_unit(run.size, "pt", 1) + " " + (subset ? run.font.substr(7) : run.font);
    const bool blank = run.text.find_first_not_of(' ') == std::string::npos; // a font that does not tell
    return blank ? size : "'" + valid_utf8(run.text.substr(0, 40)) + "' " + size;
}

std::string with_unit(double value, const char *unit, int decimals)
{
    const std::string number = format_number(value, decimals);
    return *unit == '\0' ? number : number + " " + unit;
}

} // namespace bichrom
