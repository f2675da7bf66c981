/// \file
/// Another artwork laid over or under the customer's first file.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/artwork.h"

#include <memory>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace bichrom {

/// A page of another file, placed on a page of the first one. A value: the file itself is shared and never
/// changed.
struct PlacedArtwork
{
    int id = 1; ///< 1 and more, different for each of a job; the first file itself is 0
    std::string name;
    std::shared_ptr<const Artwork> original; ///< never null
    int page = 1;                            ///< of the original
    int on_page = 1;                         ///< of the first file
    double x = 0, y = 0;     ///< mm from the scaled media box's top left to that of what is placed, y down
    double scale = 1;        ///< of its own size, 0.01 to 100
    int turn = 0;            ///< quarter turns clockwise, 0 to 3
    bool overprints = false; ///< its inks add to what lies under it; else it knocks that out
    bool prints = true;      ///< else it leaves no trace and is only there for recipes to look at
    friend bool operator==(const PlacedArtwork &, const PlacedArtwork &) = default;
};

/// What is printed beyond the trim where the artwork ends at it.
enum class BleedBy
{
    Mirror, ///< the art turned over at the trim
    Extend  ///< the colours at the trim, drawn outwards
};
[[nodiscard]] const char *to_string(BleedBy by); ///< "mirror", "extend"
[[nodiscard]] Outcome<BleedBy> parse_bleed_by(std::string_view name);

/// Bleed that is made from the art. It takes the place of whatever the artwork holds between the trim and the
/// bleed; pages grow where they are smaller than that.
struct MadeBleed
{
    static constexpr double most = 50;
    double width = 0; ///< mm beyond the trim on all sides, 0 to most; 0 = none is made
    BleedBy by = BleedBy::Mirror;
    friend bool operator==(const MadeBleed &, const MadeBleed &) = default;
};

/// What a job is printed from: the first file, how large it is, and what is placed on it.
struct Placements
{
    std::vector<PlacedArtwork> artworks; ///< lowest first
    std::size_t below = 0;               ///< that many of them lie under the first file
    double scale = 1;                    ///< of the first file's pages, 0.01 to 100
    /// Everything, stretched across the page as seen and along (down) it, so that the press brings it back:
    /// of outputs, never of a job at work. 0.5 to 2.
    double across = 1, along = 1;
    MadeBleed bleed{}; ///< of all pages
    /// Lent; null when there is none with that id.
    [[nodiscard]] const PlacedArtwork *find(int id) const;
    friend bool operator==(const Placements &, const Placements &) = default;
};

/// Width and height, mm, that \p placed takes up: its original's crop box, turned and scaled. NoSuchPage.
[[nodiscard]] Outcome<std::pair<double, double>> placed_size(const PlacedArtwork &placed);

/// Scales \p first and lays all artworks of \p placements over and under it, in an artwork of its own:
/// bytes(), sha256() and name() stay those of \p first, originals are never written to; pages, boxes and what
/// is interpreted of them have the new size. \p first may itself be assembled; what was placed on it before
/// goes, and so does its scale. With no placements it is \p first's own file again.
/// \return NoSuchPage when a page named does not exist; OutOfRange for a scale, place or bleed that cannot
/// be; CannotRead when a file's structure does not allow it; TooLarge for a page found hostile before
[[nodiscard]] Outcome<std::shared_ptr<const Artwork>> assemble(const std::shared_ptr<const Artwork> &first,
                                                               const Placements &placements);

} // namespace bichrom
