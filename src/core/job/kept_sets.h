/// \file
/// Sets that a shop keeps under a name and uses again in other jobs: marks of films, curves of a press, areas
/// of a stock. Each is a file of its own. Layer: core/job. May use core/base.
#pragma once

#include "core/job/film_settings.h"
#include "core/job/named_area.h"
#include "core/job/screen_settings.h"

#include <filesystem>
#include <string>

namespace bichrom {

/// What a file holds: "marks", "curve" or "areas" ("bichrom"), its "name", and the values as a job holds
/// them. \param name  as people read it
[[nodiscard]] std::string mark_set_text(const std::string &name, const MarkSet &marks);
[[nodiscard]] std::string press_curve_text(const std::string &name, const PressCurve &press);
/// \param areas  mm from the top left of the trim, which is what the stock is cut to; pages do not count
[[nodiscard]] std::string area_set_text(const std::string &name, const std::vector<NamedArea> &areas);

/// The set that \p text holds. WrongFormat, OutOfRange, at \p place.
[[nodiscard]] Outcome<MarkSet> read_mark_set(const std::string &text, const std::string &place);
[[nodiscard]] Outcome<PressCurve> read_press_curve(const std::string &text, const std::string &place);
[[nodiscard]] Outcome<std::vector<NamedArea>> read_area_set(const std::string &text,
                                                            const std::string &place);

/// The name of a set of either kind; empty when \p text holds none.
[[nodiscard]] std::string name_of_set(const std::string &text);

/// Reads a file of at most a megabyte. CannotRead, TooLarge.
[[nodiscard]] Outcome<std::string> read_set_file(const std::filesystem::path &path);

} // namespace bichrom
