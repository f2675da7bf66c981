// Layers of ink against measured prints (FOGRA39, zlib licence, tests/data) and against what must hold of any
// film (Kubelka & Munk 1948; Yule & Nielsen 1951).
#include "core/colour/colour_difference.h"
#include "core/colour/ink_film.h"

#include "support/measured_table.h"

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
        const LayeredPrint print(paper, {{transparent_film(solid, paper)}}, 0.01);
        const std::array<double, 1> full = {1.0};
        QVERIFY(ciede2000(print.lab(full), {60, 60, 30}) < 0.05);
        const std::array<double, 1> none = {0.0};
        QVERIFY(ciede2000(print.lab(none), {95, 0, -2}) < 0.05);
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
        const LayeredPrint print(stock, {{white, 2}, {yellow}});
        const std::array<double, 2> bare = {0, 1};
        QVERIFY(print.lab(bare).l < 13);
        const std::array<double, 2> both = {1, 1};
        const Lab seen = print.lab(both);
        QVERIFY(seen.l > 75 && seen.b > 70);
        // The other way round the white covers the yellow: order matters.
        const LayeredPrint wrong(stock, {{yellow}, {white, 2}});
        QVERIFY(wrong.lab(both).b < 10);
    }

    void orderOfTransparentInksDoesNotMatter()
    {
        const Bands paper = without_floor({95, 0, -2}, 0);
        const InkFilm a = transparent_film(without_floor({55, -37, -50}, 0), paper);
        const InkFilm b = transparent_film(without_floor({48, 74, -3}, 0), paper);
        for (const auto &[one, other] : {std::pair(0.3, 0.8), std::pair(1.0, 0.5)}) {
            const std::array<double, 2> ab = {one, other};
            const std::array<double, 2> ba = {other, one};
            QVERIFY(ciede2000(LayeredPrint(paper, {{a}, {b}}).lab(ab),
                              LayeredPrint(paper, {{b}, {a}}).lab(ba)) < 1e-9);
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
        const Bands got = LayeredPrint(paper, layers).reflectance(tones);
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
            QVERIFY(std::fabs(got[k] - root * root) < 1e-12);
        }
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

    void solidsAndOneGainEachPredictFogra39()
    {
        const std::vector<MeasuredPatch> table = measured_table(QStringLiteral("FOGRA39L.ti3"));
        const Lab paper = measured(table, {0, 0, 0, 0});
        std::array<Lab, 4> solids;
        double darkest = 1;
        for (std::size_t i = 0; i < 4; ++i) {
            Cmyk tones{};
            tones[i] = 1;
            solids[i] = measured(table, tones);
            darkest = std::min(darkest, root_of(solids[i]));
        }
        const double floor = 0.5 * darkest; // coated
        const Bands stock = without_floor(paper, floor);
        constexpr std::array<std::size_t, 4> order = {3, 0, 1, 2}; // black is printed first (common practice)
        std::vector<PrintedLayer> layers;
        std::array<ToneGain, 4> gains;
        for (const std::size_t ink : order) {
            const InkFilm film = transparent_film(without_floor(solids[ink], floor), stock);
            layers.push_back({film, 1, true});
            const LayeredPrint alone(stock, {{film}}, floor);
            gains[ink] = ToneGain(least([&](double g) {
                double sum = 0;
                for (const MeasuredPatch &patch : table) {
                    const auto t = static_cast<double>(patch.cmyk[ink]);
                    if (t > 0 &&
                        std::accumulate(patch.cmyk.begin(), patch.cmyk.end(), 0.0f) == patch.cmyk[ink]) {
                        const std::array<double, 1> a = {ToneGain(g).coverage(t)};
                        sum += std::pow(ciede2000(alone.lab(a), patch.lab), 2);
                    }
                }
                return sum;
            }));
        }
        const LayeredPrint print(stock, layers, floor, 0.75);
        std::vector<double> differences;
        for (const MeasuredPatch &patch : table) {
            std::array<double, 4> a{};
            for (std::size_t i = 0; i < 4; ++i) {
                a[i] = gains[order[i]].coverage(static_cast<double>(patch.cmyk[order[i]]));
            }
            differences.push_back(ciede2000(print.lab(a), patch.lab));
        }
        std::sort(differences.begin(), differences.end());
        const double mean = std::accumulate(differences.begin(), differences.end(), 0.0) /
                            static_cast<double>(differences.size());
        const double most = differences[differences.size() * 95 / 100];
        qInfo("FOGRA39, %zu patches: mean %.2f, 95 %% %.2f", differences.size(), mean, most);
        QVERIFY2(mean <= 1.4, qPrintable(QString::number(mean)));
        QVERIFY2(most <= 3.8, qPrintable(QString::number(most)));
    }
};

QTEST_GUILESS_MAIN(TestInkFilm)
#include "tst_ink_film.moc"
