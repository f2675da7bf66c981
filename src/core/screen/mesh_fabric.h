/// \file
/// What a screen's fabric holds.
/// Layer: core/screen. May use core/base.
#pragma once

namespace bichrom {

/// A plain-weave fabric.
struct MeshFabric
{
    double threads = 0;      ///< per cm
    double thread_um = 0;    ///< diameter
    double opening_um = 0;   ///< between threads
    double open_share = 0;   ///< of the area, 0 to 1
    double thickness_um = 0; ///< of the fabric
    /// Ink that fills its openings, cm³ a square metre: open share × thickness. In print it is less, by what
    /// stays in the fabric.
    double volume = 0;
};

/// The fabric of that count with the thread that is usual for it (common practice, no source), woven 1.62
/// times as thick as its thread (from memory of makers' tables: 1.6 to 1.7).
/// \param threads  per cm, 5 to 200; nothing (all 0) for others
[[nodiscard]] MeshFabric usual_fabric(double threads);

} // namespace bichrom
