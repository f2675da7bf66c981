#include "core/screen/screen_advice.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom {

namespace {

constexpr double um_per_inch = millimetres_per_inch * 1000;

/// The tone, percent, whose dot on a lattice is a disc \p um wide.
double tone_of_dot(double um, double lpi)
{
    const double cell = um_per_inch / lpi;
    return 100 * std::numbers::pi * um * um / 4 / (cell * cell);
}

ScreenAdvice film_advice(const Plate &plate, double dpi)
{
    const double lpi = plate.screen.ruling.value;
    const double cell = std::pow(dpi / lpi, 2); // pixels
    const double smallest = 2 * std::sqrt(cell * 0.03 / std::numbers::pi) * um_per_inch / dpi;
    ScreenAdvice made{plate.ink, format_number(cell, 0) + " pixels a cell at " + format_number(dpi, 0) +
                                     " dpi; a dot of 3 % is " + format_number(smallest, 0) + " µm wide."};
    constexpr double fewest = 64;
    if (cell < fewest) {
        made.warns = true;
        made.text += " That is coarse: use " + format_number(8 * lpi, 0) + " dpi or more.";
    }
    return made;
}

ScreenAdvice mesh_advice(const Plate &plate)
{
    const double mesh = plate.printing.mesh, lpi = plate.screen.ruling.value;
    const double threads = mesh * millimetres_per_inch / 10 / lpi;
    const double pitch = 1e4 / mesh, dot = pitch * 4 / 3; // an opening and two threads, each a third of it
    ScreenAdvice made{plate.ink, format_number(threads, 1) + " threads a line with mesh " +
                                     format_number(mesh, 0) + "/cm, whose smallest dot is about " +
                                     format_number(dot, 0) + " µm: tones from " +
                                     format_number(tone_of_dot(dot, lpi), 0) + " %."};
    constexpr double fewest = 4;
    if (threads < fewest) {
        made.warns = true;
        made.text += " Too few: use " + format_number(std::floor(mesh * millimetres_per_inch / 10 / 4.5), 0) +
                     " lpi, or mesh " + format_number(std::ceil(lpi * 4.5 * 10 / millimetres_per_inch), 0) +
                     "/cm.";
    }
    return made;
}

ScreenAdvice tile_advice(const Plate &plate)
{
    const OwnTile &tile = plate.screen.tile;
    ScreenAdvice made{plate.ink, "The tile " + tile.name() + ", " + std::to_string(tile.side()) +
                                     " pixels a side, makes " + std::to_string(tile.tones()) + " tones."};
    constexpr int fewest = 64;
    if (tile.tones() < fewest) {
        made.warns = true;
        made.text += " Gradients will show steps.";
    }
    return made;
}

} // namespace

std::vector<ScreenAdvice> screen_advice(const Job &job, const Scene &scene)
{
    std::vector<ScreenAdvice> all;
    double finest = 0, coarsest = 1e9;
    const Plate *finest_plate = nullptr;
    const double dpi = job.film.resolution.value;
    for (const Plate &plate : job.plates) {
        switch (plate.screen.kind) {
        case ScreenKind::None:
            break;
        case ScreenKind::Tile:
            all.push_back(tile_advice(plate));
            break;
        case ScreenKind::Diffusion:
        case ScreenKind::Fm: {
            const double um = least_dot_of(plate.screen) * um_per_inch / dpi;
            ScreenAdvice made{plate.ink, "Scattered dots " + format_number(um, 0) + " µm wide."};
            if (plate.printing.mesh > 0 && um < 1e4 / plate.printing.mesh * 4 / 3) {
                made.warns = true;
                made.text += " The mesh carries none smaller than about " +
                             format_number(1e4 / plate.printing.mesh * 4 / 3, 0) + " µm.";
            }
            if (least_dot_of(plate.screen) == 1) {
                made.warns = true;
                made.text += " Films of single pixels pack badly, to more than twice their raw size: use 2.";
            }
            all.push_back(std::move(made));
            break;
        }
        case ScreenKind::Am:
        case ScreenKind::Hybrid:
            all.push_back(film_advice(plate, dpi));
            if (plate.printing.mesh > 0) {
                all.push_back(mesh_advice(plate));
            }
            if (plate.screen.ruling.value > finest) {
                finest = plate.screen.ruling.value;
                finest_plate = &plate;
            }
            break;
        }
    }
    for (const SceneObject &object : scene.objects) {
        if (object.kind == ObjectKind::Image && object.image_ppi > 0) {
            coarsest = std::min(coarsest, object.image_ppi);
        }
    }
    constexpr double pixels_a_line = 1.5;
    if (finest_plate != nullptr && coarsest < pixels_a_line * finest) {
        all.push_back({finest_plate->ink,
                       "A picture has " + format_number(coarsest, 0) + " ppi: for " +
                           format_number(finest, 0) + " lpi it should have " +
                           format_number(pixels_a_line * finest, 0) + " or more.",
                       true});
    }
    return all;
}

} // namespace bichrom
