/// \file
/// Which ink spreads under which where two places of a print meet, and how far.
/// Layer: core/job. May use core/colour.
#pragma once

#include "core/job/job.h"

#include <cstdint>
#include <span>
#include <string>
#include <utility>
#include <vector>

namespace bichrom {

/// One plate that changes at the edge between two places: of the giving place p, towards its neighbour q.
struct TrapGive
{
    int plate = 0; ///< whose tone changes
    int cover = 0; ///< only where this plate has at least
    std::uint8_t threshold = 0;
    /// Spreads: at least this tone. Holds back: at most this one.
    std::uint8_t tone = 0;
    /// Holds back on its own side, from q into p; else spreads from p into q.
    bool holds = false;
    double width = 0; ///< mm, of the pair or of what holds back
    double share = 1; ///< of that width; above 0
    friend bool operator==(const TrapGive &, const TrapGive &) = default;
};

/// The rules of a job's plates. Tones are 0 to 255, one a plate.
///
/// Inks but white, varnish and technical ones count, and these in pairs that the artist decided. Where some
/// of them fall and others rise by a tenth: places that share half of the lighter one's ink need no trap; ink
/// that covers, printed later, spreads nothing and is spread under; metal and foil take and do not give; else
/// the lighter by neutral density gives, each half where they are equal, sliding between. What falls spreads
/// with its tone, lightened so that the overlap hides in the ink that rises. At the edge of a black the inks
/// under it draw back, and a white base where it ends together with its colours.
class TrapRules
{
public:
    /// Tones nearer to each other are no edge: a tenth of solid.
    static constexpr int least_step = 26;

    TrapRules() = default;
    /// \param inks    a plate each, in the order in which tones are given; those that \p plates lack have no
    /// part \param plates  what the inks look like, in printing order \param behind  printed on the back of
    /// film and seen through it: the first plate lies in front
    TrapRules(const std::vector<std::string> &inks, const std::vector<Plate> &plates, TrapSettings settings,
              bool behind = false);

    [[nodiscard]] const TrapSettings &settings() const { return m_settings; }
    [[nodiscard]] int plates() const { return static_cast<int>(m_inks.size()); }
    /// Whether a plate can ever be part of a trap.
    [[nodiscard]] bool counts(int plate) const;

    /// What changes at an edge between \p p and \p q because of what p has. Empty when nothing does.
    [[nodiscard]] std::vector<TrapGive> gives(std::span<const std::uint8_t> p,
                                              std::span<const std::uint8_t> q) const;

    /// The pair of plates that an edge is about: the strongest that falls from \p p to \p q and the strongest
    /// that rises; −1, −1 where none do.
    [[nodiscard]] std::pair<int, int> pair_at(std::span<const std::uint8_t> p,
                                              std::span<const std::uint8_t> q) const;

private:
    struct Ink
    {
        std::string name;
        double density = 0;  ///< neutral, of the solid
        double strength = 0; ///< how much it counts as ink in common
        bool counts = false; ///< neither white, varnish nor technical
        bool chosen = false; ///< counts, or stands in a pair that the artist decided
        bool covers = false;
        bool metal = false; ///< or foil
        bool white = false;
        bool black = false;
        int height = 0; ///< in the pile as it is seen, the bottom first
    };
    [[nodiscard]] double density_of(std::span<const std::uint8_t> tones) const;
    [[nodiscard]] std::uint8_t hidden_tone(std::span<const std::uint8_t> under, const Ink &ink,
                                           std::uint8_t tone) const;

    std::vector<Ink> m_inks;
    std::vector<std::size_t> m_pile; ///< inks from the bottom of the pile as it is seen
    TrapSettings m_settings;
};

} // namespace bichrom
