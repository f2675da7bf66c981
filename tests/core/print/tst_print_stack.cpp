#include "core/colour/colour_difference.h"
#include "core/colour/process_roots.h"
#include "core/job/print_model.h"
#include "core/print/print_stack.h"
#include "core/proof/print_estimate.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const ProcessProfile &condition()
{
    return *ProcessProfile::fogra39();
}

/// Colours of \p tones, a byte a plane, as the pixels of a picture are computed.
Lab pixel_colour(const PrintStack &stack, const std::vector<std::uint8_t> &tones)
{
    static PrintStack::Pixels pixels;
    std::vector<const std::uint8_t *> planes;
    for (const std::uint8_t &tone : tones) {
        planes.push_back(&tone);
    }
    stack.begin(pixels, 1);
    for (const PrintStack::Step &step : stack.steps()) {
        (void)stack.lay(step, planes, pixels);
    }
    const auto reflected = stack.reflectance(pixels, 0);
    Bands bands{};
    std::copy(reflected.begin(), reflected.end(), bands.begin());
    return bands_to_lab(bands);
}

Plate process_plate(const std::string &ink)
{
    Plate plate;
    plate.ink = ink;
    plate.kind = InkUse::Process;
    plate.solid = {50, 0, 0};
    return plate;
}

Plate spot_plate(const std::string &ink, const Lab &solid, double opacity = 0)
{
    Plate plate;
    plate.ink = ink;
    plate.solid = solid;
    plate.traits.opacity = opacity;
    return plate;
}

Job process_job()
{
    Job job;
    for (const char *ink : {"Cyan", "Magenta", "Yellow", "Black"}) {
        job.plates.push_back(process_plate(ink));
    }
    return job;
}

} // namespace

class TestPrintStack : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    // What the light table shows and what the core sample says are one number.
    void pixelsAndSingleColoursAgree()
    {
        std::mt19937 random(20261128);
        const auto within = [&](double low, double high) {
            return std::uniform_real_distribution<double>(low, high)(random);
        };
        const auto chance = [&](double share) { return within(0, 1) < share; };
        double worst = 0;
        for (int number = 0; number < 2000; ++number) {
            Job job;
            job.stock.colour = {within(5, 98), within(-20, 20), within(-20, 20)};
            job.stock.clear = chance(0.2);
            job.stock.behind = chance(0.5);
            job.stock.absorbs = chance(0.3);
            std::vector<std::string> process = {"Cyan", "Magenta", "Yellow", "Black"};
            const int plates = 1 + static_cast<int>(within(0, 7));
            for (int i = 0; i < plates; ++i) {
                if (!process.empty() && chance(0.5)) {
                    const auto at =
                        static_cast<std::ptrdiff_t>(within(0, static_cast<double>(process.size())));
                    job.plates.push_back(process_plate(process[static_cast<std::size_t>(at)]));
                    process.erase(process.begin() + at);
                } else {
                    Plate plate =
                        spot_plate("Ink " + std::to_string(i),
                                   {within(10, 97), within(-50, 60), within(-40, 80)}, within(0, 1));
                    static constexpr InkUse kinds[] = {InkUse::Spot, InkUse::White, InkUse::Varnish,
                                                       InkUse::Technical, InkUse::Foil};
                    plate.kind = kinds[static_cast<int>(within(0, 5))];
                    plate.printing.hits = 1 + static_cast<int>(within(0, 3));
                    plate.printing.wet = chance(0.5);
                    plate.printing.flash = chance(0.2);
                    job.plates.push_back(plate);
                }
            }
            std::vector<std::uint8_t> bytes;
            std::vector<double> tones;
            for (std::size_t i = 0; i < job.plates.size(); ++i) {
                const int tone = chance(0.2) ? 0 : static_cast<int>(within(0, 256));
                bytes.push_back(static_cast<std::uint8_t>(tone));
                tones.push_back(tone / 255.0);
            }
            const PrintStack stack = stack_of(job, job.inks(), condition());
            const Lab single = estimate_print(job, tones, condition()).print();
            const double away = ciede2000(pixel_colour(stack, bytes), single);
            worst = std::max(worst, away);
            QVERIFY2(
                away <= 0.1,
                qPrintable(QStringLiteral("stack %1: ΔE %2, L* %3").arg(number).arg(away).arg(single.l)));
        }
        qInfo("largest difference: ΔE00 %.3f", worst);
    }

    /// Against small differences: dry, wet, several hits, process inks, seen from
    /// behind.
    void slopesAreHowColoursChange()
    {
        std::mt19937 random(11);
        const auto within = [&](double low, double high) {
            return std::uniform_real_distribution<double>(low, high)(random);
        };
        double worst = 0;
        for (int number = 0; number < 300; ++number) {
            Job job;
            job.stock.colour = {within(10, 96), within(-3, 3), within(-3, 3)};
            job.stock.clear = job.stock.behind = number % 5 == 0;
            const int films = 1 + number % 4;
            for (int i = 0; i < films; ++i) {
                Plate plate = spot_plate("Ink " + std::to_string(i),
                                         {within(20, 95), within(-50, 60), within(-40, 80)}, within(0, 1));
                plate.printing.hits = 1 + static_cast<int>(within(0, 2));
                plate.printing.wet = number % 2 == 0;
                job.plates.push_back(plate);
            }
            if (number % 3 == 0) {
                for (const Plate &plate : process_job().plates) {
                    job.plates.push_back(plate);
                }
            }
            const PrintStack stack = stack_of(job, job.inks(), condition());
            std::vector<double> tones;
            for (std::size_t i = 0; i < job.plates.size(); ++i) {
                tones.push_back(within(0.02, 0.97));
            }
            std::vector<Lab> slopes(tones.size());
            const Lab here = stack.colour(tones, slopes);
            QVERIFY(ciede2000(here, stack.colour(tones)) < 0.01); // the roots of process inks are floats
            for (std::size_t i = 0; i < tones.size(); ++i) {
                constexpr double step = 1e-6; // hardly over a bend of the process inks
                std::vector<double> more = tones, less = tones;
                more[i] += step;
                less[i] -= step;
                std::vector<Lab> unused(tones.size());
                const Lab above = stack.colour(more, unused), below = stack.colour(less, unused);
                const auto off = [&](double a, double b, double slope) {
                    return std::fabs((a - b) / (2 * step) - slope) / (1 + std::fabs(slope));
                };
                worst = std::max({worst, off(above.l, below.l, slopes[i].l),
                                  off(above.a, below.a, slopes[i].a), off(above.b, below.b, slopes[i].b)});
            }
            QVERIFY2(worst < 0.01, qPrintable(QStringLiteral("stack %1: %2").arg(number).arg(worst)));
        }
    }

    /// What was solved is kept under a text: another for all that the print depends on, the same for the
    /// rest.
    void solvedInksAreKeptByWhatTheyDependOn_data()
    {
        QTest::addColumn<int>("change");
        QTest::addColumn<bool>("counts");
        QTest::newRow("its screen") << 0 << false;
        QTest::newRow("its name on the label") << 1 << false;
        QTest::newRow("its colour") << 2 << true;
        QTest::newRow("its opacity") << 3 << true;
        QTest::newRow("its hits") << 4 << true;
        QTest::newRow("its gain") << 5 << true;
        QTest::newRow("the order of two") << 6 << true;
        QTest::newRow("the stock's colour") << 7 << true;
        QTest::newRow("printed on the back") << 8 << true;
        QTest::newRow("its kind") << 9 << true;
        QTest::newRow("the smallest dot that holds") << 10 << true;
    }
    void solvedInksAreKeptByWhatTheyDependOn()
    {
        QFETCH(int, change);
        std::vector<Plate> plates = {spot_plate("One", {60, 40, 20}), spot_plate("Two", {40, -20, -30})};
        Stock stock;
        stock.colour = {20, 0, 0};
        stock.clear = true;
        const auto key = [&] { return solver_key(plates, stock, {"One", "Two"}, &condition()); };
        const std::string before = key();
        Plate &one = plates[0];
        switch (change) {
        case 0:
            one.screen.angle = Degrees(33);
            break;
        case 1:
            one.tin = "Another";
            break;
        case 2:
            one.solid.l += 1;
            break;
        case 3:
            one.traits.opacity = 0.7;
            break;
        case 4:
            one.printing.hits = 2;
            break;
        case 5:
            one.traits.gain = *ToneCurve::through({{0, 0}, {0.5, 0.6}, {1, 1}});
            break;
        case 6:
            std::swap(plates[0], plates[1]);
            break;
        case 7:
            stock.colour.b += 1;
            break;
        case 8:
            stock.behind = true;
            break;
        case 9:
            one.kind = InkUse::White;
            break;
        default:
            one.press.least = 0.05;
        }
        QFETCH(bool, counts);
        QCOMPARE(key() != before, counts);
    }

    void aConditionCountsWhereProcessInksAre()
    {
        const Job process = process_job();
        const auto key = [](const Job &job, const ProcessProfile *by) {
            return solver_key(job.plates, job.stock, job.inks(), by);
        };
        QVERIFY(key(process, &condition()) != key(process, nullptr));
        Job spots;
        spots.plates = {spot_plate("One", {60, 40, 20})};
        QCOMPARE(key(spots, &condition()), key(spots, nullptr));
    }

    // On white the four inks are the profile's own colours; the shipped FOGRA39 profile is the source.
    void processInksAreTheProfiles()
    {
        Job job = process_job();
        const double tones[] = {0.8, 0.8, 0.8, 0.2};
        const PrintEstimate estimate = estimate_print(job, tones, condition());
        const Lab expected = condition().to_lab({0.8f, 0.8f, 0.8f, 0.2f});
        // Dark colours lie at the model's floor, hence not exact.
        QVERIFY2(ciede2000(estimate.print(), expected) < 0.5,
                 qPrintable(QString::number(ciede2000(estimate.print(), expected))));
        double worst = 0;
        double sum = 0;
        std::mt19937 random(7);
        constexpr int count = 4000;
        for (int i = 0; i < count; ++i) {
            Cmyk cmyk{};
            for (float &tone : cmyk) {
                tone = static_cast<float>(random() & 255) / 255.0f;
            }
            Bands bands = condition().roots().at(cmyk);
            for (double &root : bands) {
                root *= root;
            }
            const double away = ciede2000(bands_to_lab(bands), condition().to_lab(cmyk));
            worst = std::max(worst, away);
            sum += away;
        }
        // The profile's own table has 9 nodes an ink: between its bends and ours a little is lost.
        QVERIFY2(worst < 0.4 && sum / count < 0.1,
                 qPrintable(QStringLiteral("%1 %2").arg(worst).arg(sum / count)));
    }

    void aCutLineIsNoPartOfTheColour()
    {
        Job job = process_job();
        const double tones[] = {0.6, 0.4, 0.7, 0.1};
        const Lab before = estimate_print(job, tones, condition()).print();
        Plate cut = spot_plate("Cut", {50, 70, 0});
        cut.kind = InkUse::Technical;
        job.plates.insert(job.plates.begin() + 2, cut);
        for (const double tone : {0.0, 1.0}) {
            const double with_cut[] = {0.6, 0.4, tone, 0.7, 0.1};
            const PrintEstimate estimate = estimate_print(job, with_cut, condition());
            QVERIFY(ciede2000(estimate.print(), before) < 1e-9);
            QVERIFY(ciede2000(estimate.after[2], estimate.after[1]) < 1e-9);
        }
        const PrintStack stack = stack_of(job, job.inks(), condition());
        QCOMPARE(stack.steps().size(), std::size_t(1)); // one run of process inks
    }

    void wetInkCountsFromBothSides()
    {
        // Two transparent inks over clear film before white; films that only absorb look alike from both
        // sides, and so must what the second loses on the first.
        Job job;
        job.stock.colour = {100, 0, 0};
        job.plates = {spot_plate("First", {60, 60, 20}), spot_plate("Second", {70, -40, 10})};
        job.plates[1].printing.wet = true;
        const double solid[] = {1.0, 1.0};
        const Lab front = estimate_print(job, solid, condition()).print();
        job.stock.clear = true;
        job.stock.behind = true;
        const Lab back = estimate_print(job, solid, condition()).print();
        job.plates[1].printing.wet = false;
        const Lab dry = estimate_print(job, solid, condition()).print();
        QVERIFY(ciede2000(back, dry) > 2);
        QVERIFY2(ciede2000(back, front) < 0.01, qPrintable(QString::number(ciede2000(back, front))));
    }

    void whatIsNotPrintedDriesNothing()
    {
        Job job;
        job.plates = {spot_plate("One", {60, 60, 20}), spot_plate("Two", {70, -40, 10}),
                      spot_plate("Three", {50, 10, -40})};
        job.plates[1].printing.wet = true;
        const double pair[] = {0.7, 0.6};
        const double three[] = {0.7, 0.6, 0.0};
        const Lab without = [&] {
            Job two = job;
            two.plates.pop_back();
            return estimate_print(two, pair, condition()).print();
        }();
        QVERIFY(ciede2000(estimate_print(job, three, condition()).print(), without) < 0.1);
    }
};

BICHROM_TEST(TestPrintStack, QCoreApplication)
#include "tst_print_stack.moc"
