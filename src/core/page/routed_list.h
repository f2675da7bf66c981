/// \file
/// A page run through a colour route once, ready to be painted many times.
/// Layer: core/page, private to the core. May use core/artwork.
#pragma once

#include "core/artwork/mupdf/page_content_impl.h"
#include "core/base/job_control.h"
#include "core/page/routing_device.h"

namespace bichrom {

/// Records \p page with the colours \p route gives. New reference.
/// CannotRead, TooLarge (also when it takes longer than two minutes), Cancelled.
[[nodiscard]] Outcome<fz_display_list *> route_page(fz_context *ctx, const PageContent::Impl &page,
                                                    ColourRoute &route, const JobControl &control,
                                                    RoutedFor use = RoutedFor::Painting);

} // namespace bichrom
