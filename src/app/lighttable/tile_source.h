/// \file
/// What tiles of the light table are made from.
/// Layer: app/lighttable.
#pragma once

#include "app/services/loaded_page.h"
#include "core/fit/slip_test.h"
#include "core/job/job.h"
#include "core/proof/print_look.h"
#include "core/screen/densitometer.h"
#include "core/screen/halftone.h"

#include <QImage>

#include <memory>
#include <vector>

namespace bichrom {

enum class TileKind
{
    Plates,
    KnockedOut, ///< plates as if nothing overprinted
    Dots,
    Outline,
    Original,
    PrintChange, ///< the estimate of the print against the customer's artwork
    FileChange   ///< the customer's artwork against the file it replaced
};
inline constexpr TileKind all_tile_kinds[] = {
    TileKind::Plates,   TileKind::KnockedOut,  TileKind::Dots,      TileKind::Outline,
    TileKind::Original, TileKind::PrintChange, TileKind::FileChange};

/// A finished tile: planes of values for plates and dots, a picture for the others.
struct Tile
{
    std::shared_ptr<const PlateTile> planes; ///< null for pictures
    QImage picture;
    quint64 look = 0;   ///< the number of the look that planes were composed by
    bool stale = false; ///< a picture of how it was, until the tile is made anew; no planes
    QString fault;      ///< why it could not be made; empty = it was
};

/// Everything needed to make tiles. Immutable; used from several threads.
struct TileSource
{
    std::shared_ptr<const PlateLine> plate_line;
    std::shared_ptr<const PlateLine> knocked_out;
    std::shared_ptr<const OriginalView> original;
    std::shared_ptr<const OriginalView> previous;     ///< may be null
    std::shared_ptr<const PlateLine> previous_plates; ///< null when previous is
    std::shared_ptr<const PlateLine> revised_plates;  ///< what they are compared with
    std::shared_ptr<const ProcessProfile> condition;
    Job job;                 ///< as it prints
    std::vector<Slip> slips; ///< by which plates are shown moved; of the look of plates and print
    bool screenable = true;  ///< whether all screens can be made
    Dpi film{1200};

    /// Screens follow the job; the plate line's own order of inks is kept.
    [[nodiscard]] static std::shared_ptr<const TileSource> make(const LoadedPage &page, const Job &job,
                                                                std::vector<Slip> slips = {});

    /// Nearer than the film's own resolution its pixels are enlarged. Errors as PlateLine::render().
    [[nodiscard]] Outcome<Tile> render(TileKind kind, PixelRect rect, Dpi resolution,
                                       const JobControl &control = {}) const;

    /// The side of a square that holds enough dots of every plate to read their ruling, film pixels.
    [[nodiscard]] int reading_side() const;
    /// What stands on the film of each plate, by the plate line's inks. \param rect  film pixels. Errors as
    /// PlateLine::render() and Halftone::make()
    [[nodiscard]] Outcome<std::vector<DotReading>> read_films(PixelRect rect,
                                                              const JobControl &control = {}) const;

private:
    /// Screens by the plate line's inks, made when they are first asked for: that takes a while. Errors as
    /// Halftone::make().
    [[nodiscard]] Outcome<std::vector<Halftone>> screens() const;
    [[nodiscard]] Outcome<Tile> make_tile(TileKind kind, PixelRect rect, Dpi resolution,
                                          const JobControl &control) const;
    [[nodiscard]] Outcome<PlateTile> plates(const PlateLine &from, PixelRect rect, Dpi resolution,
                                            const JobControl &control) const;
    [[nodiscard]] Outcome<PlateTile> slipped(const PlateLine &from, PixelRect rect, Dpi resolution,
                                             const JobControl &control) const;
};

} // namespace bichrom
