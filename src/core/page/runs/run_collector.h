/// \file
/// Collects shapes, clips, groups and soft masks into a scene of runs, in the order of painting; what runs
/// cannot say is noted as boxes to be painted by pixels. Layer: core/page, private to it.
#pragma once

#include "core/base/pixel_rect.h"
#include "core/page/runs/run_scene.h"

#include <cstddef>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

/// How the tones of a mask are made of its content.
enum class MaskOf
{
    Luminosity,
    Alpha
};

/// What opens and closes must do so in turn, as the interpreter calls a device.
class RunCollector
{
public:
    RunCollector() = default; ///< collects nothing
    /// \param scene  empty but for its planes; outlives this
    explicit RunCollector(RunScene &scene) { m_now.scene = &scene; }

    /// What is collected into: the page, or a mask within it.
    [[nodiscard]] RunScene &scene() { return *m_now.scene; }
    [[nodiscard]] const RunScene &scene() const { return *m_now.scene; }
    /// Of the mask whose content it is; none for the page.
    [[nodiscard]] const std::optional<MaskOf> &mask() const { return m_now.mask; }
    /// Whether all that comes lies in what is painted by pixels.
    [[nodiscard]] bool skips() const { return m_skipped > 0; }

    /// Says that \p area of the page, in pixels, cannot be runs.
    void by_pixels(const PixelRect &area);
    /// Paints \p area by pixels until what opens here is closed.
    void skip(const PixelRect &area);
    void end_skip();

    /// Adds shape \p shape, when it inks anything, in \p paint. \param shape  −1 inks nothing
    void add_object(int shape, const RunPaint &paint);

    /// Opens a clip by \p shape, which is closed; −1, one that inks nothing, hides all.
    void open_clip(int shape);
    /// Opens a clip by a stencil of the scene, whose place is \p shape.
    void open_stencil(int shape, int stencil);
    void close_clip();

    /// \param box    all of it; painted by pixels where runs cannot say what lies in it
    /// \param alpha  at which strength, 255 = solid
    void open_group(const PixelRect &box, bool isolated, bool knockout, std::uint8_t alpha, bool multiplies);
    void close_group();

    /// Whether runs can say what is painted through a mask that opens here.
    [[nodiscard]] bool takes_mask() const { return m_skipped == 0 && can_merge(true, false); }
    /// Opens a clip by \p mask, as far as \p box: what is painted until it ends is laid on the page through
    /// it. \pre takes_mask()
    void paint_through(std::unique_ptr<const RunScene> mask, const PixelRect &box);
    /// What follows is content of a mask, whose end opens a clip by it.
    /// \param box    outside nothing is painted through it
    /// \param roomy  what is painted by pixels where it cannot be runs
    /// \return whether it is collected
    [[nodiscard]] bool begin_mask(MaskOf of, const PixelRect &box, const PixelRect &roomy);
    void end_mask();

private:
    struct OpenGroup
    {
        bool isolated = false;
        int number = -1; ///< of one whose objects hide each other before they are laid on the page
        bool knockout = false;
        std::uint8_t alpha = 255; ///< at which strength they are, those of numbered groups around it included
        bool by_runs = true;      ///< so far
        PixelRect box{};
        std::size_t objects = 0, pixel_boxes = 0, masks = 0; ///< before it
        int mask = -1;                                       ///< that its objects are painted through
        bool multiplies = false;                             ///< see RunPaint
        bool faint = false;                                  ///< what lies in it does not hide what is below
    };
    /// What is collected into one scene.
    struct Collected
    {
        RunScene *scene = nullptr;
        std::map<std::string, int> paint_of; ///< by its bytes
        std::vector<int> clips;              ///< open ones; −1 is the page
        std::vector<OpenGroup> groups;
        std::vector<std::size_t> masked; ///< how many clips are open where one ends that is a soft mask
        std::optional<MaskOf> mask;      ///< whose content it is
    };
    /// A mask whose content is being collected.
    struct OpenMask
    {
        Collected around;
        std::unique_ptr<RunScene> scene;
        PixelRect box;
        int level = 0; ///< of masks
    };

    [[nodiscard]] int clip() const { return m_now.clips.empty() ? -1 : m_now.clips.back(); }
    [[nodiscard]] PixelRect seen() const;
    [[nodiscard]] bool isolated() const;
    [[nodiscard]] int merged() const; ///< the innermost open group that has a number; −1 = none
    [[nodiscard]] bool can_merge(bool has_mask, bool multiplies) const;
    [[nodiscard]] RunClip clip_within() const;
    [[nodiscard]] int add_paint(const RunPaint &paint);
    void push_clip(const RunClip &one);
    void merge(OpenGroup group);
    void end_group();

    Collected m_now;
    std::vector<OpenMask> m_masks; ///< each within the content of the one before
    std::size_t m_other_edges = 0; ///< in scenes but the one that is collected into
    int m_mask_level = 0;          ///< how many masks are open, those within what is painted by pixels too
    int m_skipped = 0;             ///< open groups, clips, tiles and masks within what is painted by pixels
};

} // namespace bichrom
