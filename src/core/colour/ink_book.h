/// \file
/// Inks by name and colour: a shop's book of what it can print.
/// Layer: core/colour. May use core/base. Reading XML and CGATS text stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/colour/ink_traits.h"
#include "core/colour/process_profile.h"

#include <array>
#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

struct BookInk
{
    std::string name;
    InkUse use = InkUse::Spot;
    Lab solid; ///< D50/2°, over white stock
    InkTraits traits;
    bool locked = false; ///< not to be changed by accident
    friend bool operator==(const BookInk &, const BookInk &) = default;
};

struct InkBook
{
    std::string name;
    std::vector<BookInk> inks;
    friend bool operator==(const InkBook &, const InkBook &) = default;
};

/// The shipped book: made-up inks with plausible colours.
[[nodiscard]] const InkBook &shipped_inks();

/// Families of hue, for people who look for a colour before they look for a name.
enum class HueFamily
{
    Neutral, ///< chroma under 8
    Red,
    Orange,
    Yellow,
    Green,
    BlueGreen,
    Blue,
    Violet,
    Pink ///< light reds and purples
};
[[nodiscard]] HueFamily hue_family(const Lab &lab);

/// An ink of a book and how far its solid is from a sample.
struct NearInk
{
    int index = 0;
    double difference = 0; ///< CIEDE2000
};

/// The inks nearest to \p sample, nearest first.
[[nodiscard]] std::vector<NearInk> nearest_inks(const InkBook &book, const Lab &sample, int count = 5);

/// Indices of inks whose names hold all words of \p text, in any order, ignoring the case of letters.
[[nodiscard]] std::vector<int> find_inks(const InkBook &book, std::string_view text);

/// Reads CGATS text (ISO 28178) or CxF3 XML (ISO 17972), told by its contents. Each sample or object with a
/// name and Lab becomes an ink; spectra are kept.
/// \return WrongFormat when it is neither, or holds no colours; TooLarge beyond 100 000 inks
[[nodiscard]] Outcome<InkBook> parse_ink_book(std::span<const std::byte> bytes, const std::string &place);
[[nodiscard]] Outcome<InkBook> read_ink_book(const std::filesystem::path &path);

/// CGATS text; also holds use, opacity and lock, in fields that the file declares.
[[nodiscard]] std::string to_cgats(const InkBook &book);
/// CxF3 XML: Lab and, where known, reflectance.
[[nodiscard]] std::string to_cxf(const InkBook &book);

} // namespace bichrom
