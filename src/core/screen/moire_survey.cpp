#include "core/screen/moire_survey.h"

#include "core/colour/spaces.h"
#include "core/job/print_model.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

/// Plates of the page, each pixel a few millimetres or less.
Outcome<PlateTile> small_page(const PlateLine &line, const JobControl &control)
{
    constexpr double most_pixels = 300;
    const double longest = std::max(line.page().width().value, line.page().height().value);
    const Dpi dpi(std::clamp(most_pixels * points_per_inch / std::max(longest, 1.0), 2.0, 72.0));
    return line.whole_page(dpi, Edges::Smooth, control);
}

/// White under everything may stand at black's angle: only its edges show (common practice, no source).
bool shares_by_intent(const Job &job, const std::string &a, const std::string &b)
{
    const auto plate = [&](const std::string &ink) -> const Plate & {
        return job.plates[static_cast<std::size_t>(job.find_plate(ink))];
    };
    const auto is_pair = [&](const Plate &white, const Plate &black) {
        return white.kind == InkUse::White && process_channel(black.ink) == 3 && white.screen == black.screen;
    };
    return is_pair(plate(a), plate(b)) || is_pair(plate(b), plate(a));
}

bool is_technical(const Plate &plate)
{
    return plate.kind == InkUse::Technical;
}

/// The mean tone, 0 to 1, of what \p plate prints within a centimetre of where \p art is; 0 where it prints
/// on less than a twentieth of that.
double tone_around(const Plane &plate, const ArtPeriod &art, double pixels_per_mm)
{
    constexpr double reach = 10; // mm
    const auto at = [&](double mm, int most) {
        return std::clamp(static_cast<int>(mm * pixels_per_mm), 0, most);
    };
    double sum = 0, inked = 0, all = 0;
    for (int y = at(art.y - reach, plate.height - 1); y <= at(art.y + reach, plate.height - 1); ++y) {
        for (int x = at(art.x - reach, plate.width - 1); x <= at(art.x + reach, plate.width - 1); ++x) {
            const double tone = plate.at(x, y) / 255.0;
            sum += tone;
            inked += tone > 0 ? 1 : 0;
            ++all;
        }
    }
    return inked > all / 20 ? sum / inked : 0;
}

struct Meeting
{
    double mean = 0; ///< of the product of first orders, over the page
    double most = 0;
    int x = 0, y = 0;
    double a = 0.4, b = 0.4; ///< tones there
};

} // namespace

Lattice MoirePair::fixed() const
{
    return task.other ? *task.other : lattice_of(task.first).value_or(Lattice());
}

Lattice MoirePair::turned() const
{
    return lattice_of(task.second.value_or(task.first)).value_or(Lattice());
}

Outcome<MoireSurvey> survey_moire(const PlateLine &line, const Job &job, const ProcessProfile &condition,
                                  std::span<const ArtPeriod> periods, const std::optional<Mesh> &mesh,
                                  const std::vector<std::string> &held, double viewing_mm,
                                  const JobControl &control)
{
    const auto page = small_page(line, control);
    if (!page) {
        return page.error();
    }
    struct Screened
    {
        std::string ink;
        std::size_t plane = 0;
        Lattice lattice;
        Screen screen;
    };
    std::vector<Screened> plates;
    for (std::size_t i = 0; i < line.inks().size(); ++i) {
        const int plate = job.find_plate(line.inks()[i]);
        const auto lattice =
            plate < 0 ? std::nullopt : lattice_of(job.plates[static_cast<std::size_t>(plate)].screen);
        if (lattice && !is_technical(job.plates[static_cast<std::size_t>(plate)])) {
            plates.push_back(
                {line.inks()[i], i, *lattice, job.plates[static_cast<std::size_t>(plate)].screen});
        }
    }
    const std::size_t count = plates.size();
    const PrintStack stack = stack_of(job, line.inks(), condition);
    const auto look = [&](const std::vector<std::size_t> &inked) {
        std::vector<double> tones(line.inks().size(), 0);
        for (const std::size_t plane : inked) {
            tones[plane] = 1;
        }
        return stack.at(tones).print();
    };
    const auto light = [](const Lab &lab) { return lab_to_xyz(lab)[1]; };
    const Lab bare = look({});
    /// What a plate by itself looks like beside bare stock; the mesh and artwork that repeats only have one.
    const auto alone = [&](const Screened &one) {
        BeatTask task;
        task.first = one.screen;
        task.resolution = job.film.resolution;
        task.looks = {condition.lab_to_rgb(bare), condition.lab_to_rgb(look({one.plane})), {}, {}};
        return task;
    };
    // What the eye sees of two inks' beat goes by how they darken each other.
    const auto darkens_on = [&](std::size_t one, std::size_t other) {
        return std::fabs(light(bare) - light(look({one})) - light(look({other})) + light(look({one, other})));
    };
    const double per_mm =
        static_cast<double>(page->rect.width) / std::max(to_millimetres(line.page().width()).value, 1e-6);
    // First orders by tone.
    std::array<double, 256> first{};
    for (std::size_t tone = 0; tone < first.size(); ++tone) {
        first[tone] = contrast({60, 0, false, {}}, 1, 0, static_cast<double>(tone) / 255);
    }
    const auto meet = [&](std::size_t i, std::size_t j) {
        Meeting made;
        double sum = 0;
        for (int y = 0; y < page->rect.height; ++y) {
            const auto a = page->plates[plates[i].plane].row(y), b = page->plates[plates[j].plane].row(y);
            for (std::size_t x = 0; x < a.size(); ++x) {
                const double product = first[a[x]] * first[b[x]];
                sum += product;
                if (product > made.most) {
                    made = {0, product, static_cast<int>(x), y, a[x] / 255.0, b[x] / 255.0};
                }
            }
        }
        made.mean = sum / std::max(1.0, static_cast<double>(page->rect.width) * page->rect.height);
        return made;
    };
    MoireSurvey survey;
    AngleTask task;
    task.viewing_mm = viewing_mm;
    task.meet.assign(count * count, 0);
    double most_meet = 0;
    for (std::size_t i = 0; i < count; ++i) {
        task.plates.push_back(plates[i].lattice);
        task.held.push_back(std::find(held.begin(), held.end(), plates[i].ink) != held.end());
        for (std::size_t j = i + 1; j < count; ++j) {
            const Meeting here = meet(i, j);
            const Lab both = look({plates[i].plane, plates[j].plane}), other = look({plates[j].plane});
            const double darkens = darkens_on(plates[i].plane, plates[j].plane);
            BeatTask task_of_pair = alone(plates[i]);
            task_of_pair.first_tone = here.a;
            task_of_pair.second = plates[j].screen;
            task_of_pair.second_tone = here.b;
            task_of_pair.looks[2] = condition.lab_to_rgb(other);
            task_of_pair.looks[3] = condition.lab_to_rgb(both);
            MoirePair pair{plates[i].ink,
                           plates[j].ink,
                           beat_of(plates[i].lattice, plates[j].lattice, here.a, here.b, viewing_mm),
                           (here.x + 0.5) / per_mm,
                           (here.y + 0.5) / per_mm,
                           here.most > 0,
                           task_of_pair};
            if (shares_by_intent(job, plates[i].ink, plates[j].ink)) {
                pair.meet = false;
            }
            pair.beat.strength *= darkens;
            pair.meet = pair.meet && here.most > 0;
            pair.beat.badness *= pair.meet ? darkens : 0;
            survey.pairs.push_back(pair);
            task.meet[i * count + j] = pair.meet ? here.mean * darkens : 0;
            most_meet = std::max(most_meet, here.mean * darkens);
        }
    }
    if (mesh) {
        task.mesh = lattice_of(*mesh);
        for (const Screened &one : plates) {
            MoirePair pair{one.ink, "mesh",    beat_of(one.lattice, *task.mesh, 0.4, 0.4, viewing_mm), 0, 0,
                           true,    alone(one)};
            pair.task.other = task.mesh;
            survey.pairs.push_back(std::move(pair));
        }
    }
    for (const ArtPeriod &art : periods) {
        for (std::size_t i = 0; i < count; ++i) {
            const Screened &one = plates[i];
            const bool own = one.plane == art.plate;
            const int of = job.find_plate(line.inks()[art.plate]);
            const double tone = own ? art.tone : tone_around(page->plates[one.plane], art, per_mm);
            if (!(tone > 0) || (!own && (of < 0 || is_technical(job.plates[static_cast<std::size_t>(of)])))) {
                continue;
            }
            // On another plate it is that ink that lightens and darkens under the screen.
            const double darkens =
                own ? std::fabs(light(bare) - light(look({one.plane}))) : darkens_on(one.plane, art.plate);
            task.art.push_back({i, art.lattice, tone, darkens});
            MoirePair pair;
            pair.a = one.ink;
            pair.b = "artwork";
            pair.art_of = line.inks()[art.plate];
            pair.beat = beat_of(one.lattice, art.lattice, tone, art.tone, viewing_mm);
            pair.worst_x = art.x;
            pair.worst_y = art.y;
            pair.task = alone(one);
            pair.beat.strength *= darkens;
            pair.beat.badness *= darkens;
            pair.task.first_tone = tone;
            pair.task.other = art.lattice;
            if (!own) {
                pair.task.art_tone = art.tone;
                pair.task.looks[2] = condition.lab_to_rgb(look({art.plate}));
                pair.task.looks[3] = condition.lab_to_rgb(look({one.plane, art.plate}));
            }
            survey.pairs.push_back(std::move(pair));
        }
    }
    std::stable_sort(survey.pairs.begin(), survey.pairs.end(),
                     [](const MoirePair &a, const MoirePair &b) { return a.beat.badness > b.beat.badness; });
    for (MoirePair &pair : survey.pairs) {
        if (pair.meet && pair.beat.badness >= seen_badness) {
            pair.unseen_angle =
                TurnedBeat(pair.fixed(), pair.turned(), pair.beat.badness, viewing_mm).nearest_unseen();
        }
    }
    // Little that is seen is seen: by the root of the area. What hardly meets keeps its distance too.
    constexpr double least_meet = 0.05;
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t j = i + 1; j < count; ++j) {
            double &one = task.meet[i * count + j];
            const bool by_intent = shares_by_intent(job, plates[i].ink, plates[j].ink);
            one = by_intent ? 0 : std::max(most_meet > 0 ? std::sqrt(one / most_meet) : 0, least_meet);
        }
    }
    survey.badness = badness_of(task);
    const std::vector<double> angles = best_angles(task, control);
    if (control.cancelled()) {
        return Error{ErrorCode::Cancelled, "Stopped.", line.page().place(), {}};
    }
    for (std::size_t i = 0; i < count; ++i) {
        survey.proposed[plates[i].ink] = angles[i];
        task.plates[i].angle = angles[i];
    }
    survey.badness_proposed = badness_of(task);
    return survey;
}

} // namespace bichrom
