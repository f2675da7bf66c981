// Layers of ink against measured prints (FOGRA39, zlib licence, tests/data) and against what must hold of any
// film (Kubelka & Munk 1948; Yule & Nielsen 1951).
#include "core/colour/colour_difference.h"
#include "core/colour/ink_film.h"
#include "core/colour/process_profile.h"
#include "core/colour/process_roots.h"
#include "core/colour/tone_curve.h"
#include "core/print/ink_solver.h"

#include "support/layered_print.h"
#include "support/measured_table.h"
#include "support/neugebauer_print.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <functional>
#include <numeric>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Lab measured(const std::vector<MeasuredPatch> &table, Cmyk tones)
{
    for (const MeasuredPatch &patch : table) {
        if (patch.cmyk == tones) {
            return patch.lab;
        }
    }
    qFatal("no such patch");
}

/// The smallest argument of \p error from −0.4 to 0.4.
double least(const std::function<double(double)> &error)
{
    double best = 0;
    for (double step = 0.1, at = -0.4, end = 0.4; step > 1e-4; step /= 5) {
        for (double g = at; g <= end + 1e-12; g += step) {
            best = error(g) < error(best) ? g : best;
        }
        at = best - step;
        end = best + step;
    }
    return best;
}

double root_of(const Lab &lab)
{
    return lab_to_xyz(lab)[1];
}

} // namespace

class TestInkFilm : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aReconstructionHasTheColourItWasGiven()
    {
        int exact = 0;
        const std::vector<MeasuredPatch> table = measured_table(QStringLiteral("FOGRA39L.ti3"));
        for (const MeasuredPatch &patch : table) {
            const Reconstruction made = reconstruct(patch.lab);
            const Lab back = bands_to_lab(made.bands);
            const double away = std::hypot(back.l - patch.lab.l, back.a - patch.lab.a, back.b - patch.lab.b);
            QVERIFY2(away < 0.1, qPrintable(QStringLiteral("%1 %2 %3: %4")
                                                .arg(patch.lab.l)
                                                .arg(patch.lab.a)
                                                .arg(patch.lab.b)
                                                .arg(away)));
            QVERIFY(
                std::all_of(made.bands.begin(), made.bands.end(), [](double r) { return r > 0 && r < 1; }));
            exact += made.exact ? 1 : 0;
        }
        QCOMPARE(exact, static_cast<int>(table.size()));
    }

    void aColourNoReflectanceHasIsReported()
    {
        QVERIFY(!reconstruct({95, 30, 110}).exact); // brighter than anything of its hue can be
        QVERIFY(reconstruct({50, 0, 0}).exact);
        const Bands grey = reconstruct({50, 0, 0}).bands;
        for (const double r : grey) { // and the smoothest one is flat
            QVERIFY(std::fabs(r - grey[0]) < 1e-6);
        }
    }

    void theWeightsAddUpToTheWhite()
    {
        Bands white;
        white.fill(1);
        const Lab lab = bands_to_lab(white);
        QVERIFY(std::fabs(lab.l - 100) < 1e-9 && std::fabs(lab.a) < 1e-9 && std::fabs(lab.b) < 1e-9);
    }

    void aTransparentInkOverItsPaperIsItsSolid()
    {
        const Bands paper = without_floor({95, 0, -2}, 0.01);
        const Bands solid = without_floor({60, 60, 30}, 0.01);
        const PrintStack print = layered_print(paper, {{transparent_film(solid, paper)}}, 0.01);
        const std::array<double, 1> full = {1.0};
        QVERIFY(ciede2000(print.colour(full), {60, 60, 30}) < 0.05);
        const std::array<double, 1> none = {0.0};
        QVERIFY(ciede2000(print.colour(none), {95, 0, -2}) < 0.05);
    }

    void anOpaqueInkHasItsOwnColourOverAnything()
    {
        const Bands white = without_floor({95, 0, -2}, 0);
        const Bands solid = without_floor({62, 50, 62}, 0);
        const InkFilm film = scattering_film(solid, white, 40);
        for (const Lab &under : {Lab{95, 0, -2}, Lab{10, 0, 0}, Lab{40, 50, -40}}) {
            QVERIFY(ciede2000(bands_to_lab(film.over(without_floor(under, 0))), {62, 50, 62}) < 0.1);
        }
    }

    void whatAScatteringWordMeans()
    {
        // Over its paper each has the solid's colour; over black it is the lighter the more it scatters.
        const Bands white = without_floor({95, 0, -2}, 0);
        const Bands black = without_floor({10, 0, 0}, 0);
        const Bands solid = without_floor({80, 5, 90}, 0);
        double before = 0;
        for (const double scattering : {0.0, 0.35, 1.5, 3.0}) {
            const InkFilm film = scattering_film(solid, white, scattering);
            QVERIFY(ciede2000(bands_to_lab(film.over(white)), {80, 5, 90}) < 0.05);
            const double lightness = bands_to_lab(film.over(black)).l;
            QVERIFY(lightness > before);
            before = lightness;
        }
    }

    void aFilmIsFoundFromWhiteAndBlack()
    {
        const Bands white = without_floor({95, 0, -2}, 0);
        const Bands black = without_floor({10, 0, 0}, 0);
        for (const double scattering : {0.0, 0.35, 1.5}) {
            const InkFilm film = scattering_film(without_floor({55, 40, 20}, 0), white, scattering);
            const InkFilm found = measured_film(film.over(white), film.over(black), white, black);
            for (std::size_t k = 0; k < band_count; ++k) {
                QVERIFY(std::fabs(found.body[k] - film.body[k]) < 1e-6);
                QVERIFY(std::fabs(found.through[k] - film.through[k]) < 1e-6);
            }
        }
    }

    void yellowOnBlackNeedsWhite()
    {
        // On black cotton: nearly black without a white hit, yellow with one.
        const Bands stock = without_floor({12, 0, 0}, 0);
        const Bands paper = without_floor({96, 0, 0}, 0);
        const InkFilm white = scattering_film(paper, without_floor({100, 0, 0}, 0), 3);
        const InkFilm yellow = transparent_film(without_floor({87, -4, 92}, 0), paper);
        const PrintStack print = layered_print(stock, {{white, 2}, {yellow}});
        const std::array<double, 2> bare = {0, 1};
        QVERIFY(print.colour(bare).l < 13);
        const std::array<double, 2> both = {1, 1};
        const Lab seen = print.colour(both);
        QVERIFY(seen.l > 75 && seen.b > 70);
        // The other way round the white covers the yellow: order matters.
        const PrintStack wrong = layered_print(stock, {{yellow}, {white, 2}});
        QVERIFY(wrong.colour(both).b < 10);
    }

    void orderOfTransparentInksDoesNotMatter()
    {
        const Bands paper = without_floor({95, 0, -2}, 0);
        const InkFilm a = transparent_film(without_floor({55, -37, -50}, 0), paper);
        const InkFilm b = transparent_film(without_floor({48, 74, -3}, 0), paper);
        for (const auto &[one, other] : {std::pair(0.3, 0.8), std::pair(1.0, 0.5)}) {
            const std::array<double, 2> ab = {one, other};
            const std::array<double, 2> ba = {other, one};
            QVERIFY(ciede2000(layered_print(paper, {{a}, {b}}).colour(ab),
                              layered_print(paper, {{b}, {a}}).colour(ba)) < 1e-9);
        }
    }

    void aLayerEqualsTheWholeSum()
    {
        // Demichel's 2^n areas with Yule–Nielsen n = 2, for transparent dry inks.
        const Bands paper = without_floor({95, 0, -2}, 0);
        const std::array<Lab, 3> solids = {{{55, -37, -50}, {48, 74, -3}, {89, -5, 93}}};
        std::vector<PrintedLayer> layers;
        for (const Lab &solid : solids) {
            layers.push_back({transparent_film(without_floor(solid, 0), paper)});
        }
        const std::array<double, 3> tones = {0.3, 0.6, 0.45};
        Bands sum{};
        for (std::size_t k = 0; k < band_count; ++k) {
            double root = 0;
            for (unsigned set = 0; set < 8; ++set) {
                double weight = 1;
                double r = paper[k];
                for (std::size_t i = 0; i < 3; ++i) {
                    const bool on = (set >> i & 1u) != 0;
                    weight *= on ? tones[i] : 1 - tones[i];
                    r *= on ? layers[i].film.through[k] : 1.0;
                }
                root += weight * std::sqrt(r);
            }
            sum[k] = root * root;
        }
        QVERIFY(ciede2000(layered_print(paper, layers).colour(tones), bands_to_lab(sum)) < 1e-9);
    }

    void gainsGoBackAndForth()
    {
        for (const double g : {-0.3, -0.1, 0.0, 0.16, 0.25, 0.4}) {
            const ToneGain gain(g);
            QVERIFY(std::fabs(gain.coverage(0.5) - 0.5 - g) < 1e-9);
            for (double t = 0; t <= 1; t += 0.05) {
                QVERIFY(std::fabs(gain.tone(gain.coverage(t)) - t) < 1e-9);
            }
        }
        // Murray–Davies: the same reflectance at one half in the ink's darkest band.
        const double s = 0.05;
        const double a = 0.5 + gain_from_murray_davies(0.18, s);
        const double root = 1 - a + a * std::sqrt(s);
        QVERIFY(std::fabs(root * root - (1 - 0.68 * (1 - s))) < 1e-9);
    }

    void measuredPrintsArePredicted_data()
    {
        // The tables' sources are named in tests/data/README.md. What was reached, and for FOGRA39 asked
        // for (mean 1.4 and 95 % 3.8 from solids; 0.9 and 1.7 from all overprints), rounded up.
        QTest::addColumn<bool>("coated");
        QTest::addColumn<double>("solids_mean");     // CIEDE2000 from four solids and one gain each
        QTest::addColumn<double>("solids_most");     // 95 % below
        QTest::addColumn<double>("overprints_mean"); // from all 16 solid overprints and one gain each
        QTest::addColumn<double>("overprints_most");
        QTest::newRow("FOGRA39L") << true << 1.4 << 3.8 << 0.9 << 1.7;
        QTest::newRow("FOGRA28L") << true << 1.8 << 4.6 << 0.95 << 1.85;
        QTest::newRow("FOGRA29L") << false << 1.9 << 3.8 << 1.3 << 2.4;
        QTest::newRow("FOGRA30L") << false << 2.9 << 5.5 << 2.0 << 3.8;
        QTest::newRow("FOGRA40L") << false << 1.4 << 3.1 << 0.8 << 1.55;
        QTest::newRow("TR002") << false << 1.7 << 3.5 << 1.05 << 1.9;
        QTest::newRow("TR003") << true << 1.5 << 3.6 << 0.7 << 1.35;
        QTest::newRow("TR005") << true << 1.6 << 3.5 << 0.75 << 1.45;
        QTest::newRow("TR006") << true << 1.7 << 3.7 << 0.8 << 1.55;
    }
    void measuredPrintsArePredicted()
    {
        const std::vector<MeasuredPatch> table =
            measured_table(QString::fromLatin1(QTest::currentDataTag()) + QStringLiteral(".ti3"));
        QFETCH(bool, coated);
        const Lab paper = measured(table, {0, 0, 0, 0});
        std::array<Lab, 4> solids;
        double darkest = 1;
        for (std::size_t i = 0; i < 4; ++i) {
            Cmyk tones{};
            tones[i] = 1;
            solids[i] = measured(table, tones);
            darkest = std::min(darkest, root_of(solids[i]));
        }
        const double floor = (coated ? 0.5 : 0.7) * darkest;
        const Bands stock = without_floor(paper, floor);
        constexpr std::array<std::size_t, 4> order = {3, 0, 1, 2}; // black is printed first (common practice)
        std::vector<PrintedLayer> layers;
        for (const std::size_t ink : order) {
            layers.push_back({transparent_film(without_floor(solids[ink], floor), stock), 1, true});
        }
        const PrintStack films =
            layered_print(stock, layers, floor, coated ? wet_transfer : wet_transfer_uncoated);
        std::vector<Lab> overprints;
        for (unsigned i = 0; i < 16; ++i) {
            overprints.push_back(measured(
                table, {i & 1 ? 1.0f : 0.0f, i & 2 ? 1.0f : 0.0f, i & 4 ? 1.0f : 0.0f, i & 8 ? 1.0f : 0.0f}));
        }
        const NeugebauerPrint whole(overprints);
        QCOMPARE(whole.inks(), std::size_t(4));
        const auto by_films = [&](const std::array<double, 4> &a) {
            const std::array<double, 4> in_order = {a[3], a[0], a[1], a[2]};
            return films.colour(in_order);
        };
        const auto by_overprints = [&](const std::array<double, 4> &a) { return whole.lab(a); };
        // What each patch of an ink's own ramp covers, as its colour says.
        const auto ramp = [&](std::size_t ink, auto predict) {
            std::vector<CurvePoint> points = {{0, 0}, {1, 1}};
            for (const MeasuredPatch &patch : table) {
                const auto t = static_cast<double>(patch.cmyk[ink]);
                if (t > 0 && t < 1 &&
                    std::accumulate(patch.cmyk.begin(), patch.cmyk.end(), 0.0f) == patch.cmyk[ink] &&
                    std::none_of(points.begin(), points.end(),
                                 [&](const CurvePoint &point) { return std::fabs(point.in - t) < 0.02; })) {
                    points.push_back({t, t + least([&](double gain) {
                                             std::array<double, 4> a{};
                                             a[ink] = std::clamp(t + gain, 0.0, 1.0);
                                             return ciede2000(predict(a), patch.lab);
                                         })});
                }
            }
            std::sort(points.begin(), points.end(),
                      [](const CurvePoint &a, const CurvePoint &b) { return a.in < b.in; });
            auto curve = ToneCurve::through(points);
            if (!curve) {
                qFatal("%s", curve.error().message().c_str());
            }
            return *curve;
        };
        const auto judge = [&](const char *name, auto predict, const auto &coverage, double mean_limit,
                               double most_limit) {
            std::vector<double> differences;
            for (const MeasuredPatch &patch : table) {
                std::array<double, 4> a{};
                for (std::size_t i = 0; i < 4; ++i) {
                    a[i] = coverage(i, static_cast<double>(patch.cmyk[i]));
                }
                differences.push_back(ciede2000(predict(a), patch.lab));
            }
            std::sort(differences.begin(), differences.end());
            const double mean = std::accumulate(differences.begin(), differences.end(), 0.0) /
                                static_cast<double>(differences.size());
            const double most = differences[differences.size() * 95 / 100];
            qInfo("%s, %zu patches, %s: mean %.2f, 95 %% %.2f", QTest::currentDataTag(), differences.size(),
                  name, mean, most);
            QVERIFY2(mean <= mean_limit, qPrintable(QString::number(mean)));
            QVERIFY2(most <= most_limit, qPrintable(QString::number(most)));
        };
        QFETCH(double, solids_mean);
        QFETCH(double, solids_most);
        QFETCH(double, overprints_mean);
        QFETCH(double, overprints_most);
        std::array<ToneGain, 4> gains; // one number each, from the ink's own ramp
        for (std::size_t ink = 0; ink < 4; ++ink) {
            gains[ink] = ToneGain(least([&](double g) {
                double sum = 0;
                for (const MeasuredPatch &patch : table) {
                    const auto t = static_cast<double>(patch.cmyk[ink]);
                    if (t > 0 &&
                        std::accumulate(patch.cmyk.begin(), patch.cmyk.end(), 0.0f) == patch.cmyk[ink]) {
                        std::array<double, 4> a{};
                        a[ink] = ToneGain(g).coverage(t);
                        sum += std::pow(ciede2000(by_films(a), patch.lab), 2);
                    }
                }
                return sum;
            }));
        }
        judge(
            "four solids and one gain each", by_films,
            [&](std::size_t ink, double tone) { return gains[ink].coverage(tone); }, solids_mean,
            solids_most);
        std::array<ToneCurve, 4> curves;
        for (std::size_t ink = 0; ink < 4; ++ink) {
            curves[ink] = ramp(ink, by_overprints);
        }
        judge(
            "all overprints and each ink's ramp", by_overprints,
            [&](std::size_t ink, double tone) { return curves[ink].at(tone); }, overprints_mean,
            overprints_most);
        if (QByteArray(QTest::currentDataTag()) == "FOGRA39L") {
            std::vector<SolvedInk> inks;
            for (const std::size_t ink : order) {
                inks.push_back({ramp(ink, by_films), 1});
            }
            solvedBack("from solids and ramps", table, InkSolver(films, std::move(inks)), {1, 2, 3, 0}, false,
                       1.2);
            // From all 16 solids, and from 81 patches in cells of two a way.
            const auto by_cells = cellular(table, curves);
            const auto tell = [&](const Cmyk &cmyk) {
                std::array<double, 4> a{};
                for (std::size_t i = 0; i < 4; ++i) {
                    a[i] = curves[i].at(static_cast<double>(cmyk[i]));
                }
                return relative(paper, whole.lab(a));
            };
            const auto solve = [&](const char *name, const ProcessRoots &roots, double limit) {
                std::vector<StackInk> stack(4);
                for (std::size_t i = 0; i < 4; ++i) {
                    stack[i].plane = i;
                    stack[i].process = static_cast<int>(i);
                }
                const StackGround ground{without_floor({100, 0, 0}, 0), 0, 1, false};
                solvedBack(name, table,
                           InkSolver({ground, stack, &roots},
                                     std::vector<SolvedInk>(4, {{}, InkSolver::process_thrift})),
                           {0, 1, 2, 3}, true, limit);
            };
            solve("from 16 solids and ramps", ProcessRoots(tell), 0.87);
            solve("from 81 patches",
                  ProcessRoots([&](const Cmyk &cmyk) { return relative(paper, by_cells(cmyk)); }), 0.4);
        }
    }

private:
    /// \p lab as it is beside a paper of the colour \p paper that is taken for white.
    static Lab relative(const Lab &paper, const Lab &lab)
    {
        const Xyz white = lab_to_xyz(paper), d50 = lab_to_xyz({100, 0, 0});
        Xyz xyz = lab_to_xyz(lab);
        for (std::size_t i = 0; i < 3; ++i) {
            xyz[i] *= d50[i] / white[i];
        }
        return xyz_to_lab(xyz);
    }

    /// A cellular Yule–Nielsen–Neugebauer print (n = 2): the patches of \p table at 0, 40 and 100 % of each
    /// ink are the corners of 16 cells; \p curves share out what lies between.
    static std::function<Lab(const Cmyk &)> cellular(const std::vector<MeasuredPatch> &table,
                                                     const std::array<ToneCurve, 4> &curves)
    {
        static constexpr std::array<float, 3> at = {0, 0.4f, 1};
        std::vector<Bands> roots;
        for (int i = 0; i < 81; ++i) {
            const Lab lab = measured(
                table, {at[static_cast<std::size_t>(i / 27)], at[static_cast<std::size_t>(i / 9 % 3)],
                        at[static_cast<std::size_t>(i / 3 % 3)], at[static_cast<std::size_t>(i % 3)]});
            roots.push_back(without_floor(lab, 0));
            for (double &root : roots.back()) {
                root = std::sqrt(root);
            }
        }
        return [roots, curves](const Cmyk &cmyk) {
            std::array<std::size_t, 4> cell{};
            std::array<double, 4> share{};
            for (std::size_t c = 0; c < 4; ++c) {
                cell[c] = cmyk[c] > at[1] ? 1 : 0;
                const auto coverage = [&](float tone) { return curves[c].at(static_cast<double>(tone)); };
                share[c] = (coverage(cmyk[c]) - coverage(at[cell[c]])) /
                           (coverage(at[cell[c] + 1]) - coverage(at[cell[c]]));
            }
            Bands bands{};
            for (std::size_t corner = 0; corner < 16; ++corner) {
                double weight = 1;
                std::size_t node = 0;
                for (std::size_t c = 0; c < 4; ++c) {
                    const std::size_t up = corner >> c & 1;
                    weight *= up != 0 ? share[c] : 1 - share[c];
                    node = node * 3 + cell[c] + up;
                }
                for (std::size_t k = 0; k < band_count; ++k) {
                    bands[k] += weight * roots[node][k];
                }
            }
            for (double &band : bands) {
                band *= band;
            }
            return bands_to_lab(bands);
        };
    }

    /// Every measured colour through the solver into tones, and those through the condition's ICC profile, a
    /// model of its own, into the colour that the press prints.
    /// \param place  of cyan, magenta, yellow, black among its inks \param beside  it solves for colours
    ///               relative to the paper
    static void solvedBack(const char *name, const std::vector<MeasuredPatch> &table, const InkSolver &solver,
                           const std::array<std::size_t, 4> &place, bool beside, double limit)
    {
        const auto profile = ProcessProfile::open(ProcessProfile::fogra39_bytes(),
                                                  {RenderingIntent::RelativeColorimetric, false});
        QVERIFY(bool(profile));
        const Xyz white = lab_to_xyz((*profile)->paper());
        const Xyz d50 = lab_to_xyz({100, 0, 0});
        // The profile's side is relative to its paper.
        const Lab paper = (*profile)->paper();
        const auto printed = [&](const Cmyk &tones) {
            Xyz xyz = lab_to_xyz((*profile)->to_lab(tones));
            for (std::size_t i = 0; i < 3; ++i) {
                xyz[i] *= white[i] / d50[i];
            }
            return xyz_to_lab(xyz);
        };
        std::vector<double> solved, inverse;
        double solver_ink = 0, profile_ink = 0;
        for (const MeasuredPatch &patch : table) {
            const Solution found = solver.solve(beside ? relative(paper, patch.lab) : patch.lab);
            Cmyk tones{};
            for (std::size_t c = 0; c < 4; ++c) {
                tones[c] =
                    static_cast<float>(solver.inks()[place[c]].gain.tone_for(found.coverage[place[c]]));
            }
            const Cmyk own = (*profile)->from_lab(relative(paper, patch.lab));
            solved.push_back(ciede2000(printed(tones), patch.lab));
            inverse.push_back(ciede2000(printed(own), patch.lab));
            for (std::size_t i = 0; i < 4; ++i) {
                solver_ink += static_cast<double>(tones[i]);
                profile_ink += static_cast<double>(own[i]);
            }
        }
        const auto mean = [](const std::vector<double> &all) {
            return std::accumulate(all.begin(), all.end(), 0.0) / static_cast<double>(all.size());
        };
        std::sort(solved.begin(), solved.end());
        qInfo("solved into four process inks %s: mean %.2f, 95 %% %.2f, ink %.0f %%; by the profile's own "
              "inverse: mean %.2f, ink %.0f %%",
              name, mean(solved), solved[solved.size() * 95 / 100],
              100 * solver_ink / static_cast<double>(table.size()), mean(inverse),
              100 * profile_ink / static_cast<double>(table.size()));
        QVERIFY2(mean(solved) <= limit, qPrintable(QString::number(mean(solved))));
    }

private Q_SLOTS:
    void whatIsWetDriesBeforeTheNextGroup()
    {
        const Bands white = without_floor({95, 0, -2}, 0.01);
        const InkFilm cyan = transparent_film(without_floor({55, -37, -50}, 0.01), white);
        const InkFilm yellow = transparent_film(without_floor({89, -5, 93}, 0.01), white);
        const std::array<double, 2> full = {1, 1};
        const auto print = [&](bool wet, bool first) {
            PrintedLayer below{cyan, 1, wet, wet};
            PrintedLayer above{yellow, 1, wet, first};
            return lab_to_xyz(layered_print(white, {below, above}, 0.01, wet_transfer).colour(full));
        };
        // In one wet group less yellow takes; as the first of a group of its own it prints as on ink that has
        // dried.
        constexpr std::size_t z = 2; // blue, which yellow takes
        QVERIFY(print(true, false)[z] > print(false, false)[z] * 1.1);
        for (std::size_t k = 0; k < 3; ++k) {
            QVERIFY(std::fabs(print(true, true)[k] - print(false, false)[k]) < 1e-12);
        }
    }

    void aMeasuredSpectrumKeepsItsColour()
    {
        // A spectrum with a dip that the smoothest one has not: bands follow it, the colour stays exact.
        Spectrum measured{};
        for (std::size_t i = 0; i < measured.size(); ++i) {
            const double nm = 380 + 10.0 * static_cast<double>(i);
            measured[i] = 0.6 - 0.45 * std::exp(-std::pow((nm - 555) / 18, 2));
        }
        const Lab lab{62, 22, 8};
        const Bands bands = bands_of(measured, lab);
        QVERIFY(ciede2000(bands_to_lab(bands), lab) < 0.01);
        const Bands smooth = reconstruct(lab).bands;
        QVERIFY(bands[4] < smooth[4] - 0.02); // 540–560 nm, where the dip is
        Spectrum flat;
        flat.fill(0.4);
        for (const double r : bands_of(flat, bands_to_lab({0.4, 0.4, 0.4, 0.4, 0.4, 0.4, 0.4, 0.4}))) {
            QVERIFY(std::fabs(r - 0.4) < 1e-3);
        }
    }
};

BICHROM_TEST(TestInkFilm, QCoreApplication)
#include "tst_ink_film.moc"
