/// \file
/// Another name for an ink, everywhere in a PDF.
/// Layer: core/artwork. May use core/base. qpdf stays inside.
#pragma once

#include "core/base/outcome.h"

#include <array>
#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

namespace bichrom {

/// How an ink is recognised by its name.
enum class NameMatch
{
    Exact,
    NoCase,     ///< ignoring the case of letters, ASCII only
    Regex,      ///< ECMAScript, for the whole name; the new name may use $1 and so on
    RegexNoCase ///< the same, ignoring the case of letters
};
[[nodiscard]] Outcome<NameMatch>
parse_name_match(std::string_view name); ///< "exact", "nocase", "regex", "regex-nocase"

/// What to rename. Names are UTF-8.
struct InkRename
{
    std::string from;
    std::string to;
    NameMatch match = NameMatch::Exact;
    /// Stand-in colour that its Separation spaces get, CMYK from 0 to 1; of DeviceN, whose stand-in is a
    /// mixture, and by default of all, it stays.
    std::optional<std::array<double, 4>> standin{};
};

/// The names that \p rename would change, with the new ones, in the order given.
/// As check_rename().
[[nodiscard]] Outcome<std::vector<std::pair<std::string, std::string>>>
match_names(const std::vector<std::string> &names, const InkRename &rename);

/// One ink that got another name.
struct RenamedInk
{
    std::string from;
    std::string to;
    int spaces = 0; ///< colour spaces that named it
    friend bool operator==(const RenamedInk &, const RenamedInk &) = default;
};

struct RenamedPdf
{
    std::vector<std::byte> bytes; ///< the changed file; empty when nothing matched
    std::vector<RenamedInk> inks; ///< in the order of the old names
};

/// Checks the rename itself: OutOfRange for an empty name, for All and None (which are no inks), for an
/// expression that cannot be read.
[[nodiscard]] Done check_rename(const InkRename &rename);

/// Changes colorant names of Separation and DeviceN spaces wherever they are defined, and what the file
/// tells about inks by name: colorant dictionaries, mixing hints, printing order, spectral data, separation
/// info and halftones (ISO 32000-1, 8.6.6, 10.5, 14.11.4), and the plate names in its XMP metadata. Stand-in
/// colours, unless asked for, contents, encryption and all else stay as they are.
/// \return WrongFormat when it is no PDF; PasswordNeeded; CannotRead; OutOfRange when two colorants of one
///         DeviceN space would get the same name, which no PDF may have
[[nodiscard]] Outcome<RenamedPdf> rename_ink(std::span<const std::byte> pdf, const std::string &place,
                                             const InkRename &rename, const std::string &password = {});

} // namespace bichrom
