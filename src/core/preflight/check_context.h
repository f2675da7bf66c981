/// \file
/// What a check can look at, and how it reports.
/// Layer: core/preflight. May use core/artwork, core/fit, core/job, core/plates.
#pragma once

#include "core/artwork/scene.h"
#include "core/job/job.h"
#include "core/plates/plate_renderer.h"
#include "core/preflight/finding.h"
#include "core/preflight/shop_rules.h"

#include <string>
#include <vector>

namespace bichrom {

struct CheckInfo;

/// All plates of a page at a resolution fit for looking for areas.
struct PlateSurvey
{
    std::vector<std::string> inks;
    PlateTile tile;
    Dpi resolution{100};

    [[nodiscard]] double millimetres_per_pixel() const { return millimetres_per_inch / resolution.value; }
    /// The pixels that \p area (mm) touches, within the page.
    [[nodiscard]] PixelRect pixels(const Rect &area) const;
    [[nodiscard]] Rect area_of(const PixelRect &pixels) const; ///< mm
    /// Index of \p ink, or −1.
    [[nodiscard]] int find(const std::string &ink) const;
};

/// One page under one check. Findings with the same subject gather their places.
class CheckContext
{
public:
    /// \param job  of checks that look at the job's plates; then the survey is of those
    CheckContext(const Artwork &artwork, const PageInfo &info, const Scene &scene, const PlateSurvey &survey,
                 const ShopRules &rules, const Job *job = nullptr);

    const Artwork &artwork;
    const PageInfo &info;
    const Scene &scene;
    const PlateSurvey &survey;
    const ShopRules &rules;
    const Job *const job;       ///< null for checks of the artwork
    std::vector<Damage> damage; ///< of the page, known when its plates have been painted

    /// Sets the check that limit() and report() are about.
    void begin(const CheckInfo &check);
    [[nodiscard]] double limit(const char *name) const;

    /// mm from the media box's top left, y down, after rotation.
    [[nodiscard]] Rect box(PageBox which) const;
    [[nodiscard]] Rect area(const SceneObject &object) const;
    [[nodiscard]] Rect whole_page() const { return box(PageBox::Media); }

    /// Adds a place to the finding about \p subject. \p badness sorts places, worst first.
    /// \param title  in place of the check's own
    void report(const std::string &subject, const FindingPlace &place, double badness = 0,
                const std::string &limit = {}, const std::string &title = {});
    void report(const std::string &subject, const SceneObject &object, const std::string &measured,
                double badness = 0, const std::string &limit = {}, const std::string &title = {});

    /// Findings so far, places sorted.
    [[nodiscard]] std::vector<Finding> take();

private:
    struct Gathered
    {
        Finding finding;
        std::vector<std::pair<double, FindingPlace>> places;
    };
    const CheckInfo *m_check = nullptr;
    std::vector<Gathered> m_gathered;
};

// ---- questions several checks ask -----------------------------------------------------------------

[[nodiscard]] bool is_text(const SceneObject &object);
[[nodiscard]] bool is_image(const SceneObject &object);
/// Whether the object's colour names inks (Separation, DeviceN).
[[nodiscard]] bool names_inks(const ColourUse &colour);
/// Whether every component says "no ink": zero tints and process parts, or white.
[[nodiscard]] bool is_paper_white(const ColourUse &colour);
/// Inks the colour paints with more than \p least (0 to 1), by name; RGB and the like count as none.
[[nodiscard]] std::vector<std::pair<std::string, double>> inks_of(const ColourUse &colour,
                                                                  double least = 0.005);
[[nodiscard]] bool overlaps(const Rect &a, const Rect &b);
[[nodiscard]] bool inside(const Rect &inner, const Rect &outer, double slack = 0.01);
/// "0.25 pt"
[[nodiscard]] std::string with_unit(double value, const char *unit, int decimals = 2);

} // namespace bichrom
