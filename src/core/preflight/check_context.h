/// \file
/// What a check can look at, and how it reports.
/// Layer: core/preflight. May use core/artwork, core/fit, core/job, core/line.
#pragma once

#include "core/artwork/scene.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/preflight/finding.h"
#include "core/preflight/shop_rules.h"

#include <map>
#include <string>
#include <string_view>
#include <unordered_map>
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
    /// How many pixels to go on, across and down, so that no more than some thousands of \p part are looked
    /// at: a page may hold a hundred thousand objects as large as itself.
    [[nodiscard]] static int step(const PixelRect &part);
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
    /// Details coarser than pixels that pictures were found to have, by object (image_detail.h).
    std::map<int, double> upscaled;
    std::string condition; ///< a word for the printing condition the artwork is read in; empty = not known
    std::vector<bool> leaves_no_trace; ///< objects that the job prints on no plate, by index; empty = none

    /// The objects that count: what prints, and stands within the trim or reaches into it. Marks beside the
    /// artwork (crop and registration marks, colour bars) do not.
    [[nodiscard]] const std::vector<const SceneObject *> &art() const { return m_art; }
    /// Whether the object stands wholly beside a trim that the file gives.
    [[nodiscard]] bool beside_trim(const SceneObject &object) const;
    /// Chooses art() anew.
    void choose_art();

    /// What an ink is for: as the job says, else as its name says.
    [[nodiscard]] InkUse use_of(const std::string &ink) const;
    /// Whether an ink is as dark and neutral as black: Black itself, or a spot like it.
    [[nodiscard]] bool is_black(const std::string &ink) const;
    /// How dark an ink is in solid, 0 (white) to 1.
    [[nodiscard]] double darkness(const std::string &ink) const;
    /// Inks that an object puts down, with their amounts; of pictures and shadings all that their space names
    /// or can make, where the survey shows them, at 1.
    [[nodiscard]] std::vector<std::pair<std::string, double>> inks_put_down(const SceneObject &object) const;
    /// Mean tone of a survey plate over \p area (mm), 0 to 1.
    [[nodiscard]] double mean_tone(std::size_t plate, const Rect &area) const;

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
    /// Lists the finding about \p subject without its places being walked.
    void mute(const std::string &subject);
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
    Gathered &gathered(const std::string &subject);
    const CheckInfo *m_check = nullptr;
    mutable std::vector<std::pair<std::string_view, double>> m_limits; ///< of m_check, asked for before:
                                                                       ///< checks ask for each object
    std::vector<const SceneObject *> m_art;
    std::unordered_map<std::string, std::size_t> m_places_of; ///< into m_gathered, by check and subject
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
/// "'Quarry Moth' 6.5 pt Serif": words, as far as the font tells them, size and font.
[[nodiscard]] std::string quoted(const TextRun &run);
/// "0.25 pt"
[[nodiscard]] std::string with_unit(double value, const char *unit, int decimals = 2);

} // namespace bichrom
