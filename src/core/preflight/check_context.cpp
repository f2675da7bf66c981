#include "core/preflight/check_context.h"

#include "core/artwork/page_boxes.h"
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
}

void CheckContext::begin(const CheckInfo &check)
{
    m_check = &check;
}

double CheckContext::limit(const char *name) const
{
    return rules.limit(m_check->name, name);
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

void CheckContext::report(const std::string &subject, const FindingPlace &place, double badness,
                          const std::string &limit_text, const std::string &title)
{
    auto found = std::find_if(m_gathered.begin(), m_gathered.end(), [&](const Gathered &gathered) {
        return gathered.finding.check == m_check->name && gathered.finding.subject == subject;
    });
    if (found == m_gathered.end()) {
        Gathered gathered;
        gathered.finding.check = m_check->name;
        gathered.finding.severity = rules.setting(m_check->name).severity;
        gathered.finding.page = info.number;
        gathered.finding.subject = subject;
        gathered.finding.title = title.empty() ? m_check->title : title;
        gathered.finding.limit = limit_text;
        gathered.finding.why = m_check->why;
        gathered.finding.remedy = m_check->remedy;
        m_gathered.push_back(std::move(gathered));
        found = m_gathered.end() - 1;
    }
    found->places.emplace_back(badness, place);
}

void CheckContext::report(const std::string &subject, const SceneObject &object, const std::string &measured,
                          double badness, const std::string &limit_text, const std::string &title)
{
    report(subject, FindingPlace{object.index, area(object), measured}, badness, limit_text, title);
}

std::vector<Finding> CheckContext::take()
{
    std::vector<Finding> findings;
    for (Gathered &gathered : m_gathered) {
        std::stable_sort(gathered.places.begin(), gathered.places.end(),
                         [](const auto &a, const auto &b) { return a.first > b.first; });
        for (auto &[badness, place] : gathered.places) {
            gathered.finding.places.push_back(std::move(place));
        }
        findings.push_back(std::move(gathered.finding));
    }
    m_gathered.clear();
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

std::string with_unit(double value, const char *unit, int decimals)
{
    const std::string number = format_number(value, decimals);
    return *unit == '\0' ? number : number + " " + unit;
}

} // namespace bichrom
