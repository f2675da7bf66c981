/// \file
/// A shop's own tile of thresholds, which a plate may be screened with.
/// Layer: core/job. May use core/base.
#pragma once

#include "core/base/outcome.h"

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// Square, laid over the film again and again. Copies share the thresholds, which never change.
class OwnTile
{
public:
    static constexpr int largest = 512; ///< pixels a side

    OwnTile() = default; ///< none

    /// The tile as it is kept: place (x, y) is ink where the tone, 0 to 65536, is larger than \p thresholds
    /// there. \param side  2 to largest, whose square is the number of thresholds; else OutOfRange
    [[nodiscard]] static Outcome<OwnTile> make(std::string name, int side,
                                               std::vector<std::uint16_t> thresholds);

    /// The tile that takes places of a picture in the order of its \p values, the smallest first, those of
    /// one value together, so that a tone inks its share of the places as nearly as the values allow. A
    /// picture that is not square is repeated until it is. \param width, height  of the picture; OutOfRange
    /// when it is too large or has one value only
    [[nodiscard]] static Outcome<OwnTile> ranked(std::string name, int width, int height,
                                                 std::span<const std::uint16_t> values);

    [[nodiscard]] bool empty() const { return m_held == nullptr; }
    [[nodiscard]] const std::string &name() const; ///< of the file it came from; empty of none
    [[nodiscard]] int side() const;                ///< pixels; 0 of none
    [[nodiscard]] std::span<const std::uint16_t> thresholds() const;
    [[nodiscard]] int tones() const; ///< that it can make, bare and solid counted; 0 of none

    friend bool operator==(const OwnTile &a, const OwnTile &b);

private:
    struct Held
    {
        std::string name;
        int side = 0;
        int tones = 0;
        std::vector<std::uint16_t> thresholds;
    };
    std::shared_ptr<const Held> m_held;
};

} // namespace bichrom
