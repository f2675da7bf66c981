#include "core/page/runs/run_collector.h"

#include <algorithm>
#include <utility>

namespace bichrom {

namespace {

constexpr std::size_t most_edges = std::size_t(12) << 20; // 480 MB; more are painted pixel by pixel

} // namespace

bool RunCollector::isolated() const
{
    return std::any_of(m_now.groups.begin(), m_now.groups.end(),
                       [](const OpenGroup &one) { return one.isolated; });
}

int RunCollector::merged() const // it is all that lies in those around it
{
    const auto at = std::find_if(m_now.groups.rbegin(), m_now.groups.rend(),
                                 [](const OpenGroup &one) { return one.number >= 0; });
    return static_cast<int>(m_now.groups.rend() - at) - 1;
}

/// Whether a group whose objects hide each other before they are laid on the page can be opened, as far as
/// runs can say it.
bool RunCollector::can_merge(bool has_mask, bool multiplies) const
{
    const int around = merged();
    if (around < 0) {
        return !multiplies || !isolated();
    }
    const OpenGroup &outer = m_now.groups[static_cast<std::size_t>(around)];
    return scene().objects.size() == outer.objects && !(has_mask && outer.mask >= 0) && !multiplies;
}

PixelRect RunCollector::seen() const
{
    return clip() < 0 ? scene().page : scene().clips[static_cast<std::size_t>(clip())].box;
}

void RunCollector::by_pixels(const PixelRect &area)
{
    const PixelRect box = intersection(area, seen());
    if (!box.empty()) {
        scene().pixel_boxes.push_back(box);
        for (OpenGroup &group : m_now.groups) {
            group.by_runs = group.number < 0; // all of it is looked at together
        }
    }
}

void RunCollector::skip(const PixelRect &area)
{
    if (m_skipped == 0) {
        by_pixels(area);
    }
    ++m_skipped;
}

void RunCollector::end_skip()
{
    m_skipped = std::max(0, m_skipped - 1);
}

int RunCollector::add_paint(const RunPaint &paint)
{
    std::vector<RunPaint> &paints = scene().paints;
    if (paint.sampler >= 0 || paint.mask >= 0) {
        paints.push_back(paint);
        return static_cast<int>(paints.size()) - 1;
    }
    std::string key(reinterpret_cast<const char *>(paint.tones.data()), paint.tones.size());
    key.push_back(static_cast<char>(paint.alpha));
    key.push_back(paint.multiplies ? '*' : ' ');
    key.append(reinterpret_cast<const char *>(&paint.replaces), sizeof paint.replaces);
    const auto [at, is_new] = m_now.paint_of.try_emplace(std::move(key), static_cast<int>(paints.size()));
    if (is_new) {
        paints.push_back(paint);
    }
    return at->second;
}

void RunCollector::add_object(int shape, const RunPaint &paint)
{
    if (m_other_edges + scene().shapes.edge_count() > most_edges) {
        scene().pixels_only = true;
        m_skipped += 1 << 20; // nothing more is collected
    }
    if (shape < 0) {
        return;
    }
    const PixelRect box = intersection(scene().shapes.shape(shape).box, seen());
    if (box.empty()) {
        return;
    }
    // In an isolated group what lies under it is not there to be left alone.
    if (paint.replaces != scene().all_planes && isolated()) {
        by_pixels(box);
    }
    const int group = merged();
    if (group < 0) {
        scene().objects.push_back({shape, add_paint(paint), clip(), box});
        return;
    }
    // The topmost is all that is seen only where everything hides what is below; what is faint in a group
    // that knocks out does so, but not in a group of its own within. Where it lies alone it may be faint.
    OpenGroup &outer = m_now.groups[static_cast<std::size_t>(group)];
    const bool knocks_out = outer.knockout && &outer == &m_now.groups.back();
    const bool hides = knocks_out || paint.alpha == 255;
    const bool alone = scene().objects.size() == outer.objects;
    outer.by_runs = outer.by_runs && paint.replaces == scene().all_planes && !outer.faint && (hides || alone);
    outer.faint = !hides;
    RunPaint laid = paint;
    laid.alpha = static_cast<std::uint8_t>(paint.alpha * outer.alpha / 255);
    laid.multiplies = outer.multiplies;
    RunObject object{shape, add_paint(laid), clip(), box, outer.number};
    if (outer.mask >= 0) {
        laid.mask = outer.mask;
        object.masked = add_paint(laid);
    }
    scene().objects.push_back(object);
}

/// A clip that cuts nothing more than those that are open.
RunClip RunCollector::clip_within() const
{
    RunClip made;
    made.box = seen();
    if (const int around = clip(); around >= 0) {
        const RunClip &outer = scene().clips[static_cast<std::size_t>(around)];
        made.around = outer.cuts() ? around : outer.around;
    }
    return made;
}

void RunCollector::push_clip(const RunClip &one)
{
    scene().clips.push_back(one);
    m_now.clips.push_back(static_cast<int>(scene().clips.size()) - 1);
}

void RunCollector::open_clip(int shape)
{
    RunClip made = clip_within();
    if (shape < 0) {
        made.box = {};
    } else {
        const Shape &edge = scene().shapes.shape(shape);
        made.box = intersection(made.box, edge.box);
        made.shape = edge.rectangle ? -1 : shape;
    }
    push_clip(made);
}

void RunCollector::open_stencil(int shape, int stencil)
{
    open_clip(shape); // it ends where its corners say
    RunClip within = scene().clips.back();
    within.around = within.cuts() ? clip() : within.around;
    within.shape = -1;
    within.stencil = stencil;
    m_now.clips.pop_back();
    push_clip(within);
}

void RunCollector::close_clip()
{
    if (m_skipped > 0) {
        --m_skipped;
    } else if (!m_now.clips.empty()) {
        if (!m_now.masked.empty() && m_now.masked.back() == m_now.clips.size() && !m_now.groups.empty()) {
            m_now.masked.pop_back();
            end_group();
        }
        m_now.clips.pop_back();
    }
}

/// Opens \p group, whose objects hide each other before they are laid on the page.
void RunCollector::merge(OpenGroup group)
{
    if (const int around = merged(); around >= 0) {
        const OpenGroup &outer = m_now.groups[static_cast<std::size_t>(around)];
        group.number = outer.number;
        group.alpha = static_cast<std::uint8_t>(group.alpha * outer.alpha / 255);
        group.mask = std::max(group.mask, outer.mask);
        group.multiplies = outer.multiplies;
    } else {
        group.number = scene().groups++;
    }
    group.objects = scene().objects.size();
    group.pixel_boxes = scene().pixel_boxes.size();
    group.masks = scene().masks.size();
    m_now.groups.push_back(group);
}

void RunCollector::open_group(const PixelRect &box, bool isolated, bool knockout, std::uint8_t alpha,
                              bool multiplies)
{
    const bool merges = alpha < 255 || knockout || multiplies;
    if (m_skipped > 0 || (merges && !can_merge(false, multiplies))) {
        skip(box);
        return;
    }
    OpenGroup group;
    group.isolated = isolated;
    if (!merges) { // at full strength, in the order of painting, a group is what lies in it
        m_now.groups.push_back(group);
        return;
    }
    group.knockout = knockout;
    group.alpha = alpha;
    group.multiplies = multiplies;
    group.box = box;
    merge(group);
}

void RunCollector::close_group()
{
    if (m_skipped > 0) {
        --m_skipped;
    } else if (!m_now.groups.empty()) {
        end_group();
    }
}

/// Ends the group opened last, which is painted by pixels where runs cannot say it.
void RunCollector::end_group()
{
    const OpenGroup group = m_now.groups.back();
    m_now.groups.pop_back();
    if (!group.by_runs) { // all of it, then
        scene().objects.resize(group.objects);
        scene().pixel_boxes.resize(group.pixel_boxes);
        scene().masks.resize(group.masks);
        by_pixels(group.box);
    } else if (const int around = group.number < 0 ? -1 : merged(); around >= 0) {
        OpenGroup &outer = m_now.groups[static_cast<std::size_t>(around)];
        outer.faint = outer.faint || scene().objects.size() > group.objects;
    }
}

void RunCollector::paint_through(std::unique_ptr<const RunScene> mask, const PixelRect &box)
{
    OpenGroup group;
    group.mask = static_cast<int>(scene().masks.size());
    group.box = box;
    merge(group);
    RunClip made = clip_within();
    made.box = intersection(made.box, box);
    push_clip(made);
    m_now.masked.push_back(m_now.clips.size());
    scene().masks.push_back({std::move(mask), made.box});
}

bool RunCollector::begin_mask(MaskOf of, const PixelRect &box, const PixelRect &roomy)
{
    ++m_mask_level;
    if (!takes_mask()) {
        skip(roomy);
        return false;
    }
    auto content = std::make_unique<RunScene>(scene().page.width, scene().page.height);
    content->all_planes = 1;
    m_other_edges += scene().shapes.edge_count();
    Collected inner;
    inner.scene = content.get();
    inner.mask = of;
    m_masks.push_back({std::exchange(m_now, std::move(inner)), std::move(content), box, m_mask_level});
    return true;
}

void RunCollector::end_mask()
{
    const int level = m_mask_level--;
    if (m_masks.empty() || m_masks.back().level != level) {
        return; // it lies in what is painted by pixels
    }
    OpenMask mask = std::move(m_masks.back());
    m_masks.pop_back();
    m_now = std::move(mask.around);
    m_other_edges -= scene().shapes.edge_count();
    if (mask.scene->pixels_only || !mask.scene->pixel_boxes.empty()) {
        m_skipped = 0;
        skip(mask.box);
    } else {
        m_other_edges += mask.scene->shapes.edge_count();
        paint_through(std::move(mask.scene), mask.box);
    }
}

} // namespace bichrom
