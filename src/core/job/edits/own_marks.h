/// \file
/// The marks and notes that the customer's file has beside its page.
/// Layer: core/job/edits. May use core/job, core/artwork.
#pragma once

#include "core/job/job.h"

#include <optional>
#include <vector>

namespace bichrom {

/// What becomes of them.
enum class OwnMarks
{
    AsInFile,    ///< on the plates of the inks they are in
    LeftOut,     ///< they do not print
    OnEveryPlate ///< on all plates, computed ones too, so that they register them
};
[[nodiscard]] const char *to_string(OwnMarks own); ///< "keep", "leave-out", "all-plates"
[[nodiscard]] Outcome<OwnMarks> parse_own_marks(std::string_view name);

/// What the first file paints wholly beside the bleed of \p page, or of its trim where it gives no bleed.
/// None when the file gives no trim. \param shown  the box that \p scene was recorded within
[[nodiscard]] std::vector<ObjectMark> find_own_marks(const Scene &scene, const PageInfo &page, PageBox shown);

/// What \p job does with \p marks; none when it does something else with some of them.
[[nodiscard]] std::optional<OwnMarks> own_marks_of(const Job &job, const std::vector<ObjectMark> &marks);

/// The job that does \p own with \p marks, whatever it did with them before. The same job when there are
/// none.
[[nodiscard]] Job with_own_marks(Job job, const std::vector<ObjectMark> &marks, OwnMarks own);

} // namespace bichrom
