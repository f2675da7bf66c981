/// \file
/// Pages of other PDFs laid over and under a page.
/// Layer: core/artwork/intake, private to it. qpdf stays inside.
#pragma once

#include "core/artwork/layer.h"
#include "core/base/units.h"

#include <cstddef>
#include <memory>
#include <span>
#include <string>
#include <vector>

class QPDF;

namespace bichrom {

/// A box of a page, and how the page is turned.
struct PageFrame
{
    Rect box;       ///< mm with UserUnit applied, y up
    int rotate = 0; ///< clockwise: 0, 90, 180, 270
};

/// A page to be placed.
struct PageToPlace
{
    int id = 1;
    std::span<const std::byte> pdf;
    std::string password;
    int page = 1;
    PageFrame crop; ///< of that page
    int on_page = 1;
    PageFrame media;     ///< of the page it is placed on
    double x = 0, y = 0; ///< mm from the media box's top left after rotation to what is placed, y down
    double scale = 1;
    int turn = 0; ///< quarter turns clockwise
    bool overprints = false;
    bool below = false; ///< under the page's own contents
};

/// Writes \p pages into \p pdf, lowest first, each in a layer of its own named placed_layer_prefix and id.
/// What is placed is the crop box, cut to it. Annotations of placed pages become part of them as they print.
/// Overprinting pages are multiplied onto what lies under them: inks add up on every plate.
/// Layers of placed files come along with their states in print. Throws as qpdf does.
/// \return the other files, to be kept until \p pdf is written
[[nodiscard]] std::vector<std::shared_ptr<QPDF>> place_pages(QPDF &pdf, std::span<const PageToPlace> pages);

/// Takes the prefix away from names of layers in \p pdf, which only we may use. \return whether any had it
bool clear_placed_names(QPDF &pdf);

} // namespace bichrom
