/// \file
/// A job as plain values.
/// Layer: core/job. May use core/artwork, core/base.
#pragma once

#include "core/artwork/artwork.h"
#include "core/artwork/placed_artwork.h"
#include "core/artwork/scene.h"
#include "core/base/outcome.h"
#include "core/colour/colour_settings.h"
#include "core/colour/ink_traits.h"
#include "core/job/agreement.h"
#include "core/job/film_settings.h"
#include "core/job/named_area.h"
#include "core/job/overprint.h"
#include "core/job/print_run.h"
#include "core/job/recipe.h"
#include "core/job/route.h"
#include "core/job/screen_settings.h"
#include "core/job/trap_settings.h"

#include <map>
#include <string>
#include <utility>
#include <vector>

namespace bichrom {

/// How a plate is printed.
struct Printing
{
    int hits = 1;       ///< 1 to 3, one on the other
    bool wet = false;   ///< on the plates before it while they are wet
    bool flash = false; ///< dried by a flash after it
    double mesh = 0;    ///< threads per cm; 0 = not said
    double deposit = 0; ///< cm³ of wet ink on a square metre of solid at one hit; 0 = what the mesh holds
    std::string squeegee{}; ///< and whatever else the printer is told about this plate
    friend bool operator==(const Printing &, const Printing &) = default;
};

/// One ink that the shop prints, in printing order.
struct Plate
{
    std::string ink; ///< exactly as in the artwork; no two plates of a job share it
    InkUse kind = InkUse::Spot;
    Lab solid; ///< D50/2°, over white stock
    Screen screen;
    InkTraits traits;
    Printing printing{};
    Recipe recipe{};         ///< none: the plate is what the artwork and its routes make it
    PageList recipe_pages{}; ///< that the recipe holds for; on others the plate is as without one
    /// The plate from whose tin it is printed, a base and its highlight, say; empty = a tin of its own.
    /// Colour and traits are those of that plate.
    std::string tin{};
    /// Nobody has said its colour: it takes that of what is first sent to it.
    bool uncoloured = false;
    PressCurve press{}; ///< what becomes of its tones in print
    /// What stands for the ink on the screen where no print is computed.
    [[nodiscard]] const Lab &shown() const { return traits.shown_as ? *traits.shown_as : solid; }
    /// The recipe where it holds, else an empty one.
    [[nodiscard]] const Recipe &recipe_on(int page) const;
    friend bool operator==(const Plate &, const Plate &) = default;
};

/// What is printed on.
struct Stock
{
    std::string name = "White stock";
    Lab colour{100, 0, 0}; ///< D50/2°; of clear film what lies behind it
    bool clear = false;    ///< film; shown with a checker
    bool behind = false;   ///< of film: printed on its back and seen through it, the first plate in front
    bool absorbs = false;  ///< uncoated: ink dulls on it, and wet ink takes less of the next
    std::optional<Spectrum> reflectance{}; ///< measured; then its colour is that spectrum's
    friend bool operator==(const Stock &, const Stock &) = default;
};

/// A place whose core sample is kept.
struct Pin
{
    double x = 0, y = 0;          ///< mm from the media box's top left after rotation, y down
    double width = 0, height = 0; ///< mm of the area averaged over; 0 = one pixel at 300 dpi
    int page = 1;
    friend bool operator==(const Pin &, const Pin &) = default;
};

/// Everything decided about a piece of artwork. The first file stands beside it, others that are placed on it
/// belong to it.
struct Job
{
    std::string name;          ///< shown and printed on films
    int page = 1;              ///< of the artwork, that is worked on
    Placements placements;     ///< how large the first artwork is, and others over and under it
    std::vector<Plate> plates; ///< first printed first
    std::vector<Route> routes; ///< of several that fit the first decides
    FilmOptions film;
    OverprintSettings overprint;
    TrapSettings traps;
    PrintRun run;
    ColourSettings colours; ///< how the artwork's colours are read
    std::string rules;      ///< shop rules in use, as JSON; empty = the first shipped set
    std::vector<AcceptedFinding> accepted;
    std::vector<Question> questions;                  ///< to the customer, about findings
    std::map<std::string, ChangeState> change_states; ///< by the keys of the change slip
    double assumed_ppi = 300;                         ///< of a picture file that does not say its resolution
    Stock stock;                                      ///< of all pages but those of
    std::map<int, Stock> page_stocks{};               ///< by page
    std::vector<Pin> pins;                            ///< held core samples
    std::vector<NamedArea> areas{};                   ///< folds, glue and the like; they never print
    /// Inks whose plates were taken away: what the artwork holds of them prints no longer, unless it is sent
    /// elsewhere.
    std::vector<std::string> removed;
    /// Inks whose screens stand close because they are meant to, each pair in the order of the alphabet.
    std::vector<std::pair<std::string, std::string>> meant_angles;
    friend bool operator==(const Job &, const Job &) = default;

    [[nodiscard]] std::vector<std::string> inks() const;
    /// Index of the plate of \p ink, or −1.
    [[nodiscard]] int find_plate(const std::string &ink) const;
    /// The stock that the page worked on is printed on.
    [[nodiscard]] const Stock &stock_here() const;
    /// How many inks are printed: plates of one tin count once.
    [[nodiscard]] int tins() const;
    /// Gives every plate of another's tin that one's colour and traits; a tin unknown becomes its own.
    void share_tins();
    /// The name of a placed artwork, or empty.
    [[nodiscard]] std::string artwork_name(int artwork) const;
};

/// A job that prints every ink found, each on its own plate: process inks first, then
/// spots in order of painting, at 55 lpi, round dots. Black stands at 45°, cyan 15°,
/// magenta 75°, yellow 0°; each spot takes an angle 15° or more from those before it while
/// there is one, 30° between the first three (common practice, no source).
[[nodiscard]] Job propose_job(const Scene &scene, std::string name, int page = 1);

/// A plate for \p ink whose screen keeps away from those of \p plates: the process inks at their usual
/// angles, others at the first free one; 55 lpi, round dots.
[[nodiscard]] Plate propose_plate(const std::vector<Plate> &plates, std::string ink, InkUse kind,
                                  const Lab &solid);

/// That \p job holds no ink of that name, with those that it holds.
[[nodiscard]] Error unknown_ink(const Job &job, const std::string &name);

/// Checks resolution and every screen. OutOfRange, with the ink as its place.
[[nodiscard]] Done check_job(const Job &job);

} // namespace bichrom
