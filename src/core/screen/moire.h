/// \file
/// Beats between screens, and between screens and the mesh.
/// Layer: core/screen. May use core/job, core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/units.h"
#include "core/job/screen_settings.h"

#include <array>
#include <optional>
#include <span>
#include <vector>

namespace bichrom {

/// The mesh of a printing screen.
struct Mesh
{
    double per_cm = 0;    ///< threads
    double angle = 0;     ///< degrees, anticlockwise, of the threads against the film's edge
    double thread_um = 0; ///< diameter; 0 = a third of the distance between threads
    /// Of the distance between threads, what a thread covers, 0 to 1.
    [[nodiscard]] double covered() const;
    friend bool operator==(const Mesh &, const Mesh &) = default;
};

/// Something that repeats in two directions at a right angle, or in one.
struct Lattice
{
    double ruling = 0;          ///< lines an inch
    double angle = 0;           ///< degrees, anticlockwise
    bool lines = false;         ///< repeats in one direction only: across its angle
    std::optional<Mesh> mesh{}; ///< it is one: its threads are bars, not dots
    double swing = 0; ///< of artwork that repeats: the contrast of its first orders, the only ones it has
};

/// The lattice of a screen; none of scattered dots and plates without halftone.
[[nodiscard]] std::optional<Lattice> lattice_of(const Screen &screen);
[[nodiscard]] Lattice lattice_of(const Mesh &mesh);

/// The share of contrast that order (m, n) of a lattice has in a tint of \p tone, 0 to 1: the amplitude of
/// that frequency as a share of full ink. Dots count as discs, lines and threads as bars.
[[nodiscard]] double contrast(const Lattice &lattice, int m, int n, double tone);

/// A beat: where two or three rulings differ by little, dark and light bands that far apart.
struct Beat
{
    double period_mm = 0; ///< infinity of equal screens, and where nothing beats
    double strength = 0;  ///< of its contrast, 0 to 1, for inks that darken fully
    double badness = 0;   ///< strength by how the eye sees that period
};

/// How much a period of \p mm is seen from a distance of \p viewing_mm; 1 at the finest that is seen, 4 at
/// most. (Weighting of our own; common practice, no source.)
[[nodiscard]] double visibility(double mm, double viewing_mm);

/// The worst beat of two lattices in tints of \p a and \p b, up to the third order of each; badness is the
/// sum of all.
[[nodiscard]] Beat beat_of(const Lattice &first, const Lattice &second, double a, double b,
                           double viewing_mm = 500);
/// The worst beat of three in tints alike, first orders; what is longer than 1.5 m is no pattern.
[[nodiscard]] Beat beat_of(const std::array<Lattice, 3> &lattices, double tone, double viewing_mm = 500);

/// The badness from which a beat is seen.
inline constexpr double seen_badness = 0.2;

/// A beat as one of its two is turned.
class TurnedBeat
{
public:
    /// \param badness  of the beat as it is now, by which it is known how much of full contrast it has
    TurnedBeat(const Lattice &fixed, const Lattice &turned, double badness, double viewing_mm = 500);

    /// The badness with the other at \p angle, in tints of 40 %.
    [[nodiscard]] double at(double angle) const;
    /// The angle, 0 to 180°, in half degrees from that of now, nearest to it at which nothing is seen; none
    /// where there is none.
    [[nodiscard]] std::optional<double> nearest_unseen() const;

private:
    [[nodiscard]] double full(double angle) const;

    Lattice m_fixed, m_turned;
    double m_viewing_mm, m_share = 1;
};

/// Artwork that repeats, under the screen of its own plate or of another.
struct RepeatedArt
{
    std::size_t plate = 0; ///< of the task, whose screen it is
    Lattice lattice;
    double tone = 0;  ///< mean of that plate there, 0 to 1
    double share = 1; ///< of full contrast, 0 to 1, that is seen of it
};

/// What of each other plates show where they overlap, and how far they may turn.
struct AngleTask
{
    std::vector<Lattice> plates;
    std::vector<bool> held; ///< by plate: its angle is not to be changed
    /// By pair (i, j), i < j, as i · plates + j: how strongly they meet, 0 to 1.
    std::vector<double> meet;
    std::optional<Lattice> mesh{};
    double viewing_mm = 500;
    std::vector<RepeatedArt> art{};
};

/// The sum of the badness of all pairs, triples and each with the mesh and its artwork, as they meet.
[[nodiscard]] double badness_of(const AngleTask &task);

/// The angles, 0 to 180°, that are least bad: known sets and many starts, each bettered plate by plate in
/// steps of half a degree. The same for the same task. \return by plate; when \p control asks to stop, the
/// best until then
[[nodiscard]] std::vector<double> best_angles(const AngleTask &task, const JobControl &control = {});

} // namespace bichrom
