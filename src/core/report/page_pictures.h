/// \file
/// Pictures of pages for reports.
/// Layer: core/report, private.
#pragma once

#include "core/job/job_file.h"
#include "core/report/html_pdf.h"

#include <vector>

namespace bichrom {

/// The whole page of a job as it will print, by its plates and routes (without plates: every ink found), \p
/// side pixels along its longer side.
[[nodiscard]] Outcome<ReportPicture> picture_of_print(const OpenedJob &opened, int side,
                                                      const std::string &name, const JobControl &control);

/// The surroundings of \p area (mm of the page \p content) as the customer made it, with a frame around it.
[[nodiscard]] Outcome<ReportPicture> picture_of_place(const std::shared_ptr<const PageContent> &content,
                                                      const Rect &area, const std::string &name,
                                                      const JobControl &control);

/// A thin grey line along the edges, so that white pictures are seen on white paper.
void draw_border(ReportPicture &picture);

} // namespace bichrom
