/// \file
/// What of a page could not be read or painted whole.
/// Layer: core/artwork. May use core/base.
#pragma once

#include "core/base/units.h"

#include <mutex>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// The check that reports damage; people accept its findings.
inline constexpr const char *damaged_check = "damaged_content";

/// What kind of thing is damaged; people accept damage kind by kind.
enum class DamageKind
{
    Structure,    ///< the file as a whole
    Instructions, ///< what the page says to draw
    MissingPart,  ///< a form, picture, colour space … that the page names and the file lacks
    Picture,      ///< pixels cut short or corrupt, masks included
    Font,         ///< glyphs that cannot be read
    Painting      ///< read, but it cannot be painted
};
[[nodiscard]] const char *to_string(DamageKind kind); ///< "structure", "instructions", …
/// One plain sentence: what is wrong and what prints instead.
[[nodiscard]] const char *describe(DamageKind kind);

/// One thing that could not be read or painted whole.
struct Damage
{
    DamageKind kind = DamageKind::Painting;
    int object = -1;  ///< index in the page's scene; −1 when no single object is meant
    Rect area;        ///< points in page space, where known without the object; empty = somewhere on the page
    std::string note; ///< the reader's own words
    friend bool operator==(const Damage &, const Damage &) = default;
};

/// "object 12: A picture's data is … (padding truncated image)"
[[nodiscard]] std::string describe(const Damage &damage);

/// Whether \p note of an interpreter means that something prints otherwise than was meant; harmless ones
/// tell of repairs without loss.
[[nodiscard]] bool is_damage(std::string_view note);

/// What an interpreter's words are about.
/// \param of_picture  said while a picture was being decoded
[[nodiscard]] DamageKind kind_of_note(std::string_view note, bool of_picture);

/// Gathers the damage of one page from whoever reads or paints it; any thread.
class DamageLog
{
public:
    /// Keeps the first 500 distinct ones; a hostile page can have millions.
    void add(Damage damage);
    /// In painting order, what belongs to no object first. Of one object and kind only what says how much
    /// is lost, else what was said first: what a reader says next follows from it.
    [[nodiscard]] std::vector<Damage> all() const;
    [[nodiscard]] bool empty() const;

private:
    mutable std::mutex m_guard;
    std::vector<Damage> m_all;
};

} // namespace bichrom
