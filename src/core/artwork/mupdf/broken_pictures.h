/// \file
/// Pictures that cannot even be loaded, taken out of a page's way.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/artwork/mupdf/picture_faults.h"

#include <vector>

namespace bichrom {

/// A picture that cannot be loaded ends MuPDF's interpretation of the page, and all that follows it is lost.
/// Tries every picture that \p page reaches through its resources, forms and patterns; those that fail
/// become, in MuPDF's memory only, stencils of one pixel that paint nothing, so that they keep their place
/// and number, and \p faults tells what is wrong with them. \param held  references to the stencils, which
/// the caller drops when the page is recorded \return how many there were. Does not throw.
int replace_broken_pictures(fz_context *ctx, pdf_document *document, pdf_obj *page, PictureFaults &faults,
                            std::vector<fz_image *> &held);

} // namespace bichrom
