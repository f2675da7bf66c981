/// \file
/// Writes what is stamped for traps as stretches of plates.
/// Layer: core/line, private to it.
#pragma once

#include "core/line/trap_group.h"
#include "core/line/trap_rows.h"
#include "core/line/tuple_rows.h"

#include <memory>
#include <span>
#include <vector>

namespace bichrom {

/// Takes rows of stamped tones from groups, tile by tile from the left and in each from the top, and keeps
/// what of them changes a plate.
class TrapWriter
{
public:
    /// \param tuples  all of the part, and \p tile the columns begun with; lent
    /// \param counts  pixels by pair are added to it, when given; lent
    /// \param back    pixels with a tone that the plate has anyway are kept too, where they are stamped
    TrapWriter(const TupleRows &tuples, const TupleColumns &tile, std::size_t plates, bool back,
               TrapMeetings *counts);

    /// Writes \p group, which is lent, from now on.
    void add(TrapGroup &group);
    /// Begins with columns [\p left, \p right): the whole of each group's ring, or its beginning. \pre all
    /// rings are empty; \p right is what \p left was the time after
    void begin(int left, int right);
    /// Empties row \p y of all groups.
    void write(int y);
    /// By plate, the rows written of all columns, as many in each tile.
    [[nodiscard]] std::vector<TrapRows> take();

    /// Columns of a ring.
    static constexpr int tile_width = 1024;

private:
    template <class Take> void each_change(TrapGroup &group, int y, const Take &take);
    [[nodiscard]] bool changes(const TrapGroup &group, std::span<const std::uint8_t> tuple, std::uint8_t tone,
                               int pixels);
    void write_several(std::size_t plate, int y, TrapRows &rows);
    TrapRing &line(std::vector<TrapRing *> &lines, int plate);

    const TupleRows &m_tuples;
    const TupleColumns &m_tile;
    bool m_back;
    TrapMeetings *m_counts;
    int m_left = 0, m_right = 0;
    std::vector<std::vector<TrapGroup *>> m_groups; ///< by plate
    std::vector<TrapRing *> m_more, m_less;         ///< by plate, the row being written; null = not needed
    std::vector<std::unique_ptr<TrapRing>> m_lines; ///< these
    std::vector<std::vector<TrapRows>> m_tiles;     ///< from left to right, by plate
};

} // namespace bichrom
