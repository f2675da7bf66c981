#include "core/page/picture_pixels.h"

#include "core/page/picture_rows.h"
#include "core/page/routed_list.h"

namespace bichrom {

namespace {

/// Keeps the pixels of one picture and paints nothing.
class PictureCatcher final : public ColourRoute
{
public:
    PictureCatcher(const PageColours &colours, int object, RgbPicture &picture)
        : m_colours(colours), m_wanted(object), m_picture(picture)
    {
    }

    void begin_object(const ObjectPlace &place, const std::string &) override { m_current = place.index; }
    int treatment() const override { return m_current; } // each picture is asked for by itself

    void colour(fz_context *, fz_colorspace *, const float *, fz_color_params, bool,
                RoutedColour &out) override
    {
        out.paints = false;
    }
    fz_colorspace *target_space(fz_context *ctx, fz_colorspace *, bool) override
    {
        return m_current == m_wanted ? fz_device_gray(ctx) : nullptr;
    }
    void components(fz_context *, fz_colorspace *, const float *, bool, float *out) override
    {
        out[0] = 1.0f;
    }
    fz_pixmap *pixels(fz_context *ctx, fz_pixmap *source, bool) override
    {
        fz_pixmap *nothing = fz_new_pixmap(ctx, fz_device_gray(ctx), 1, 1, nullptr, 0);
        fz_clear_pixmap(ctx, nothing);
        m_too_large = std::int64_t(source->w) * source->h > most_pixels_apart;
        m_picture = rgb_picture(ctx, m_colours, *source);
        return nothing;
    }

    [[nodiscard]] bool too_large() const { return m_too_large; }

private:
    const PageColours &m_colours;
    int m_wanted;
    int m_current = -1;
    bool m_too_large = false;
    RgbPicture &m_picture;
};

} // namespace

Outcome<RgbPicture> picture_pixels(const PageContent &page, int object, const JobControl &control)
{
    const PageContent::Impl &content = page.impl();
    const auto lease = content.runtime->lease();
    RgbPicture picture;
    PictureCatcher catcher(*content.colours, object, picture);
    const auto list = route_page(lease.ctx(), content, catcher, control);
    if (!list) {
        return list.error();
    }
    fz_drop_display_list(lease.ctx(), *list);
    if (catcher.too_large()) {
        return Error{ErrorCode::TooLarge, "The picture has more pixels than can be taken apart, 250 million.",
                     content.place, "Ask for a smaller copy of it."};
    }
    if (picture.pixels.empty()) {
        return Error{ErrorCode::NoSuchPage, "This object is no picture.", content.place, "Choose a picture."};
    }
    return picture;
}

Outcome<std::vector<FlatColour>> find_flat_colours(const PageContent &page, const Scene &scene,
                                                   const JobControl &control)
{
    constexpr int most_pictures = 50;
    std::vector<FlatColour> found;
    int pictures = 0;
    for (const SceneObject &object : scene.objects) {
        if (object.kind != ObjectKind::Image || ++pictures > most_pictures ||
            std::int64_t(object.image_width) * object.image_height > most_pixels_apart) {
            continue; // before it is decoded, which takes long
        }
        const auto picture = picture_pixels(page, object.index, control);
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", page.place(), {}};
        }
        if (!picture) {
            continue;
        }
        const double cm = millimetres_per_inch / points_per_inch / 10.0;
        const double area = object.bounds.width * object.bounds.height * cm * cm;
        for (const PaletteColour &colour : find_palette(*picture)) {
            found.push_back({object.index, colour.rgb, colour.share * area});
        }
    }
    return found;
}

} // namespace bichrom
