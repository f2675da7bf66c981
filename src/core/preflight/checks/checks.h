/// \file
/// The functions behind the checks; their words and limits stand in check_table.cpp.
/// Layer: core/preflight, private to it.
#pragma once

#include "core/preflight/check_context.h"

namespace bichrom::checks {

// what could not be read
void damaged_content(CheckContext &c);

// inks
void ink_count(CheckContext &c);
void process_in_spot_job(CheckContext &c);
void ink_not_in_list(CheckContext &c);
void ink_twice(CheckContext &c);
void ink_alternates(CheckContext &c);
void process_as_spot(CheckContext &c);

// colours
void unready_colour(CheckContext &c);
void built_black(CheckContext &c);
void black_knocks_out(CheckContext &c);
void white_overprints(CheckContext &c);
void registration_colour(CheckContext &c);
void total_ink(CheckContext &c);
void small_tint(CheckContext &c);
void transparency(CheckContext &c);
void overprint(CheckContext &c);
void near_invisible(CheckContext &c);
void overprint_vanishes(CheckContext &c);
void white_on_stock(CheckContext &c);
void white_knocked_out(CheckContext &c);

// lines and text
void thin_line(CheckContext &c);
void small_text(CheckContext &c);
void screened_text(CheckContext &c);
void text_at_trim(CheckContext &c);
void fonts_missing(CheckContext &c);

// images
void image_coarse(CheckContext &c);
void image_fine(CheckContext &c);
void image_moire(CheckContext &c);
void image_upscaled(CheckContext &c);
void rasterised_text(CheckContext &c);

// page
void blank_page(CheckContext &c);
void page_sizes(CheckContext &c);
void output_intent(CheckContext &c);
void covered_art(CheckContext &c);
void stacked_twice(CheckContext &c);
void heavy_path(CheckContext &c);
void gradient_steps(CheckContext &c);
void page_boxes(CheckContext &c);
void sheet_size(CheckContext &c);
void bleed(CheckContext &c);
void near_edge(CheckContext &c);
void outside_bleed(CheckContext &c);
void hidden_layers(CheckContext &c);
void annotations(CheckContext &c);

// plates of a job: their context has one
void plate_not_in_list(CheckContext &c);
void plate_empty(CheckContext &c);
void white_missing(CheckContext &c);
void finish_knocks_out(CheckContext &c);
void finish_thin(CheckContext &c);
void finish_large(CheckContext &c);
void finish_near_edge(CheckContext &c);
void under_foil(CheckContext &c);
void picture_in_line_plate(CheckContext &c);
void unscreened_tint(CheckContext &c);
void named_areas(CheckContext &c);

} // namespace bichrom::checks
