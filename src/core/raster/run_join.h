/// \file
/// Planes of runs changed tone by tone: by a table, or together with another plane.
/// Layer: core/raster.
#pragma once

#include "core/raster/run_plane.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace bichrom {

/// Memory for the tones of runs, handed out in pieces that stay where they are.
class ToneMemory
{
public:
    /// \p count bytes, not set.
    [[nodiscard]] std::uint8_t *take(std::size_t count);
    /// Lets \p plane keep all that was handed out so far.
    void give_to(RunPlane &plane);

private:
    std::vector<std::shared_ptr<std::uint8_t[]>> m_blocks;
    std::size_t m_left = 0; ///< of the last block
    std::uint8_t *m_next = nullptr;
};

/// What two tones make of each other, and what of that is so for all tones. Immutable; any thread.
class PairTable
{
public:
    /// Changes \p count tones by as many others, in place; the two do not overlap.
    using Change = void (*)(std::uint8_t *out, const std::uint8_t *other, std::size_t count);

    /// By arithmetic, that many tones go through at once.
    explicit PairTable(Change by);
    /// By \p values: 65536, of the one × 256 + the other.
    explicit PairTable(std::vector<std::uint8_t> values);

    [[nodiscard]] std::uint8_t at(std::uint8_t one, std::uint8_t other) const
    {
        return m_values[std::size_t(one) << 8 | other];
    }
    /// Whether many tones go through at once.
    [[nodiscard]] bool by_arithmetic() const { return m_change != nullptr; }
    /// Changes \p count tones by as many others.
    void change(std::uint8_t *out, const std::uint8_t *other, std::size_t count) const;

    /// What comes of any tone beside one that is known.
    struct Beside
    {
        enum class Kind : std::uint8_t
        {
            Leaves, ///< it stays as it is
            Tone,   ///< always the same tone
            Changes ///< it depends
        };
        Kind kind = Kind::Changes;
        std::uint8_t tone = 0;
    };
    /// Where the other tone is \p other.
    [[nodiscard]] const Beside &by_other(std::uint8_t other) const { return m_by_other[other]; }
    /// Where the one is \p one; Leaves is the other as it is.
    [[nodiscard]] const Beside &by_one(std::uint8_t one) const { return m_by_one[one]; }

private:
    void look();

    std::vector<std::uint8_t> m_values;
    Change m_change = nullptr;
    std::array<Beside, 256> m_by_other{}, m_by_one{};
};

/// The table of \p by, made once.
template <PairTable::Change by> [[nodiscard]] const std::shared_ptr<const PairTable> &table_by()
{
    static const auto table = std::make_shared<const PairTable>(by);
    return table;
}

/// Adds to \p to a row in which each tone of \p one is changed by that of \p other in the same place. Tones
/// of the two may be lent on: what lends them is to be kept. The row is ended.
void add_joined(RunPlane &to, std::span<const ToneRun> one, std::span<const ToneRun> other,
                const PairTable &table, ToneMemory &memory);

using ToneTable = std::array<std::uint8_t, 256>;
/// Adds to \p to a row of the tones that \p table makes of those of \p row, bare ones too. As above.
void add_changed(RunPlane &to, std::span<const ToneRun> row, const ToneTable &table, ToneMemory &memory);

} // namespace bichrom
