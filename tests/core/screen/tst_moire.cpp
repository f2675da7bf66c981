#include "core/screen/moire.h"

#include "core/colour/colour_settings.h"
#include "core/screen/art_period.h"
#include "core/screen/densitometer.h"
#include "core/screen/halftone.h"
#include "core/screen/moire_survey.h"
#include "core/screen/screen_advice.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <complex>
#include <numbers>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Lattice dots(double lpi, double angle)
{
    return {lpi, angle, false, {}};
}

AngleTask equal_task(std::size_t count, double lpi = 55)
{
    AngleTask task;
    for (std::size_t i = 0; i < count; ++i) {
        task.plates.push_back(dots(lpi, 10 * static_cast<double>(i)));
    }
    task.held.assign(count, false);
    task.meet.assign(count * count, 1);
    return task;
}

/// How far two angles of dots are apart.
double apart(double a, double b)
{
    return std::fabs(std::remainder(a - b, 90));
}

} // namespace

class TestMoire : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void periodsAreThoseOfTheFormula_data()
    {
        // Equal rulings f turned by θ beat at 25.4 / (2 f sin θ/2) mm; worked by hand for 55 lpi.
        QTest::addColumn<double>("turn");
        QTest::addColumn<double>("period");
        QTest::newRow("30°") << 30.0 << 0.892;
        QTest::newRow("22.5°") << 22.5 << 1.184;
        QTest::newRow("15°") << 15.0 << 1.769;
        QTest::newRow("7.5°") << 7.5 << 3.531;
        QTest::newRow("5°") << 5.0 << 5.294;
    }
    void periodsAreThoseOfTheFormula()
    {
        QFETCH(double, turn);
        QFETCH(double, period);
        const Beat beat = beat_of(dots(55, 20), dots(55, 20 + turn), 0.4, 0.4);
        QVERIFY2(std::fabs(beat.period_mm - period) < 1e-3, qPrintable(QString::number(beat.period_mm)));
        // Dots turned by a quarter more are the same.
        QVERIFY(std::fabs(beat_of(dots(55, 20), dots(55, 110 + turn), 0.4, 0.4).period_mm - period) < 1e-3);
    }

    void contrastsAreThoseOfDiscsAndBars()
    {
        // Worked by hand: R·J1(2πRq)/q of a disc of that tone, sin(πna)/πn of a bar.
        for (const auto &[tone, value] : {std::pair(0.1, 0.085), {0.2, 0.143}, {0.4, 0.196}, {0.5, 0.198}}) {
            QVERIFY(std::fabs(contrast(dots(55, 0), 1, 0, tone) - value) < 1e-3);
            QVERIFY(std::fabs(contrast(dots(55, 0), 0, 1, 1 - tone) - value) < 1e-3); // holes likewise
        }
        const Lattice lines{55, 0, true, {}};
        QVERIFY(std::fabs(contrast(lines, 0, 1, 0.5) - 1 / std::numbers::pi) < 1e-9);
        QCOMPARE(contrast(lines, 1, 0, 0.5), 0.0); // they do not repeat along themselves
        QCOMPARE(contrast(dots(55, 0), 0, 0, 0.5), 0.0);
    }

    void closeAnglesAreToBeSeenAndWideOnesAreNot()
    {
        const auto badness = [](double turn) {
            return beat_of(dots(55, 45), dots(55, 45 + turn), 0.4, 0.4).badness;
        };
        QVERIFY(badness(30) < 0.15);
        QVERIFY(badness(15) < 0.25);
        QVERIFY(badness(7.5) > 0.25);
        QVERIFY(badness(5) > badness(7.5));
        QVERIFY(badness(0) >= badness(5)); // where the least slip changes the shade of all of it
        QVERIFY(visibility(1.75, 500) > 0.99 && visibility(0.5, 500) < 0.1 && visibility(1e5, 500) <= 4);
    }

    void aBeatIsFoundInTheDotsOfTwoFilms()
    {
        // The product of two films at 40 %, at the frequency that the formula says: as strong as it says.
        const double dpi = 1200;
        for (const auto &[second, angle] : {std::pair(55.0, 37.5), {60.0, 40.0}, {52.0, 20.0}}) {
            const auto a = take(Halftone::make({Lpi(55), Degrees(30), DotShape::Round}, Dpi(dpi)));
            const auto b = take(Halftone::make({Lpi(second), Degrees(angle), DotShape::Round}, Dpi(dpi)));
            const Beat beat = beat_of(dots(55, 30), dots(second, angle), 0.4, 0.4);
            // First orders: the vector between the two.
            const std::complex<double> from = std::polar(55 / dpi, 30 * std::numbers::pi / 180),
                                       to = std::polar(second / dpi, angle * std::numbers::pi / 180);
            QVERIFY(std::fabs(25.4 / (std::abs(from - to) * dpi) - beat.period_mm) < 1e-6);
            const int side = 3000;
            const auto amplitude = [&](std::complex<double> f) {
                std::complex<double> sum;
                double all = 0;
                for (int y = 0; y < side; ++y) {
                    const double wy = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * (y + 0.5) / side);
                    for (int x = 0; x < side; ++x) {
                        const double weight =
                            wy * (0.5 - 0.5 * std::cos(2 * std::numbers::pi * (x + 0.5) / side));
                        all += weight;
                        if (a.threshold_at(x, y) < 102 && b.threshold_at(x, y) < 102) {
                            sum += std::polar(weight, -2 * std::numbers::pi * (f.real() * x - f.imag() * y));
                        }
                    }
                }
                return 2 * std::abs(sum) / all;
            };
            const double found = amplitude(from - to);
            QVERIFY2(found > 0.8 * beat.strength && found < 1.15 * beat.strength,
                     qPrintable(QStringLiteral("%1, not %2").arg(found).arg(beat.strength)));
        }
    }

    void theMeshBeatsToo()
    {
        const Lattice mesh = lattice_of(Mesh{48, 0, 0});
        QVERIFY(std::fabs(mesh.ruling - 121.92) < 1e-9); // 2.54 × threads a centimetre
        // A ruling that is half of the mesh, parallel, beats with its own second order.
        const Beat near = beat_of(dots(60, 1), mesh, 0.4, 0.4), far = beat_of(dots(55, 22.5), mesh, 0.4, 0.4);
        QVERIFY(near.badness > far.badness);
        QVERIFY(near.period_mm > 5);
    }

    void threeEqualPlatesAreProposedThirtyDegreesApart()
    {
        const auto angles = best_angles(equal_task(3));
        QCOMPARE(angles.size(), std::size_t(3));
        for (std::size_t i = 0; i < 3; ++i) {
            for (std::size_t j = i + 1; j < 3; ++j) {
                QVERIFY2(std::fabs(apart(angles[i], angles[j]) - 30) <= 2,
                         qPrintable(QString::number(apart(angles[i], angles[j]))));
            }
        }
    }

    void proposalsHoldWhatIsHeldAndLeaveAloneWhatDoesNotMeet()
    {
        AngleTask task = equal_task(4);
        task.held[1] = true;
        task.plates[1].angle = 33;
        const auto angles = best_angles(task);
        QCOMPARE(angles[1], 33.0);
        AngleTask proposed = task;
        for (std::size_t i = 0; i < 4; ++i) {
            proposed.plates[i].angle = angles[i];
        }
        QVERIFY(badness_of(proposed) < 0.7 * badness_of(task));
        // Plates that never lie on each other may share an angle.
        AngleTask apart_task = equal_task(2);
        apart_task.meet.assign(4, 0);
        QCOMPARE(badness_of(apart_task), 0.0);
        QVERIFY(best_angles(apart_task) == (std::vector<double>{0, 10}));
    }

    void adviceIsANumberAndASentence()
    {
        Job job;
        job.plates = {propose_plate({}, "Alpha", InkUse::Spot, {50, 0, 0}),
                      propose_plate({}, "Beta", InkUse::Spot, {50, 0, 0})};
        job.film.resolution = Dpi(1200);
        Scene scene;
        const auto said = [&](const char *words) {
            const auto all = screen_advice(job, scene);
            return std::find_if(all.begin(), all.end(),
                                [&](const ScreenAdvice &one) {
                                    return one.text.find(words) != std::string::npos;
                                }) == all.end()
                       ? 0
                       : 1 + std::count_if(all.begin(), all.end(),
                                           [](const ScreenAdvice &one) { return one.warns; });
        };
        // 55 lpi at 1200 dpi: (1200/55)² pixels a cell; 3 % is a disc of 90 µm.
        QCOMPARE(said("476 pixels a cell"), 1);
        QCOMPARE(said("90 µm wide"), 1);
        job.plates[0].printing.mesh = 120; // 120 × 2.54 / 55
        QCOMPARE(said("5.5 threads a line"), 1);
        job.plates[0].printing.mesh = 77;
        QCOMPARE(said("3.6 threads a line"), 2); // too few: use 43 lpi
        QCOMPARE(said("use 43 lpi"), 2);
        job.plates[0].printing.mesh = 0;
        SceneObject picture;
        picture.kind = ObjectKind::Image;
        picture.image_ppi = 72;
        scene.objects.push_back(picture);
        QCOMPARE(said("72 ppi"), 2);
        scene.objects[0].image_ppi = 83;
        QCOMPARE(said("ppi"), 0);
        job.plates[0].screen.ruling = Lpi(200); // 36 pixels
        QCOMPARE(said("coarse"), 3);            // and the picture is too coarse for it
        job.plates[0].screen.kind = ScreenKind::Fm;
        job.plates[0].printing.mesh = 120;
        QCOMPARE(said("42 µm wide. The mesh"), 2);
        job.plates[0].printing.mesh = 0;
        job.plates[0].screen.least_dot = 1;
        QCOMPARE(said("pack badly"), 2);
    }

    void aJobsPlatesAreSurveyed()
    {
        // Alpha and Beta lie on each other in the right half.
        MiniPdf pdf = spots_page("/A cs 0.4 scn 0 0 72 72 re f /OP gs /B cs 0.5 scn 36 0 36 72 re f");
        OpenedJob opened = pdf.job();
        opened.job.plates[0].screen.angle = Degrees(45);
        opened.job.plates[1].screen.angle = Degrees(50);
        const auto line = take(PlateLine::make(pdf.content(), setup_of(opened.job)));
        const auto condition = take(condition_of(opened.job.colours));
        const auto survey = take(survey_moire(*line, opened.job, *condition, {}, Mesh{48, 0, 0}, {"Alpha"}));
        QCOMPARE(survey.pairs.size(), std::size_t(3));
        const auto found = std::find_if(survey.pairs.begin(), survey.pairs.end(),
                                        [](const MoirePair &pair) { return pair.b != "mesh"; });
        QVERIFY(found->meet && found->worst_x > 12.7);
        QVERIFY(std::fabs(found->beat.period_mm - 5.294) < 0.01);
        QVERIFY(found->beat.strength > 0 && found->beat.strength < 1);
        QCOMPARE(survey.proposed.at("Alpha"), 45.0);
        QVERIFY(apart(survey.proposed.at("Beta"), 45) >= 15);
        QVERIFY(survey.badness_proposed < survey.badness);
        // The nearest angle at which the two are not seen: none in between is as good.
        QVERIFY(found->unseen_angle.has_value());
        QCOMPARE(found->turned().angle, 50.0);
        const TurnedBeat turned(found->fixed(), found->turned(), found->beat.badness);
        QVERIFY(std::fabs(turned.at(50) - found->beat.badness) < 1e-9);
        const double away = std::fabs(*found->unseen_angle - 50);
        QVERIFY(away > 0);
        for (double step = 0.5 - away; step < away; step += 0.5) {
            QVERIFY(turned.at(50 + step) >= seen_badness);
        }
        QVERIFY(turned.at(*found->unseen_angle) < seen_badness);
        // What does not meet does not beat; scattered dots have no lattice.
        pdf.contents = "/A cs 0.4 scn 0 0 30 72 re f /B cs 0.5 scn 42 0 30 72 re f";
        const auto beside = take(PlateLine::make(pdf.content(), setup_of(opened.job)));
        const auto none = take(survey_moire(*beside, opened.job, *condition, {}));
        QVERIFY(!none.pairs[0].meet && none.pairs[0].beat.badness == 0);
        opened.job.plates[0].screen.kind = ScreenKind::Fm;
        QVERIFY(take(survey_moire(*beside, opened.job, *condition, {})).pairs.empty());
    }

    void artworkThatRepeatsIsFound_data()
    {
        QTest::addColumn<double>("lpi");
        QTest::addColumn<double>("angle");
        for (const auto &[lpi, angle] :
             {std::pair(50.0, 0.0), std::pair(52.0, 30.0), std::pair(75.0, 110.0), std::pair(20.0, 45.0)}) {
            QTest::addRow("lines, %g lpi at %g°", lpi, angle) << lpi << angle;
        }
    }
    void artworkThatRepeatsIsFound()
    {
        QFETCH(double, lpi);
        QFETCH(double, angle);
        // A hatching of lines a third as wide as their distance, in Beta at 60 %; Alpha is flat.
        std::string lines =
            "/A cs 0.3 scn 0 0 360 360 re f /OP gs /B CS 0.6 SCN " + std::to_string(24 / lpi) + " w ";
        const double turn = angle * std::numbers::pi / 180, step = 72 / lpi;
        for (int i = -400; i <= 400; ++i) {
            const double x = 180 - std::sin(turn) * step * i, y = 180 + std::cos(turn) * step * i;
            const double dx = 600 * std::cos(turn), dy = 600 * std::sin(turn);
            lines += std::to_string(x - dx) + " " + std::to_string(y - dy) + " m " + std::to_string(x + dx) +
                     " " + std::to_string(y + dy) + " l S ";
        }
        MiniPdf pdf = spots_page(lines);
        pdf.width = pdf.height = 360;
        OpenedJob opened = pdf.job();
        const auto line = take(PlateLine::make(pdf.content(), setup_of(opened.job)));
        const auto periods = take(find_art_periods(*line));
        const auto beta = static_cast<std::size_t>(opened.job.find_plate("Beta"));
        QVERIFY(!periods.empty());
        for (const ArtPeriod &one : periods) {
            QCOMPARE(one.plate, beta); // nothing of Alpha repeats
        }
        const ArtPeriod &strongest = periods.front();
        QVERIFY(strongest.lattice.lines);
        QVERIFY2(std::fabs(strongest.lattice.ruling - lpi) < 0.05,
                 qPrintable(QString::number(strongest.lattice.ruling)));
        QVERIFY(apart(strongest.lattice.angle, angle) < 0.1);
        // The first order of bars a third wide: sin(π/3)/π of their tone; its smooth edges take little of it.
        const double bars = 0.6 * std::sin(std::numbers::pi / 3) / std::numbers::pi;
        QVERIFY2(std::fabs(strongest.lattice.swing / bars - 1) < 0.15,
                 qPrintable(QString::number(strongest.lattice.swing)));
        // It beats with the screen of its own plate, the nearer the more; the way apart by hand.
        opened.job.plates[beta].screen.ruling = Lpi(lpi + 2);
        opened.job.plates[beta].screen.angle = Degrees(angle);
        const auto condition = take(condition_of(opened.job.colours));
        const auto survey = take(survey_moire(*line, opened.job, *condition, periods));
        const auto pair = std::find_if(survey.pairs.begin(), survey.pairs.end(), [](const MoirePair &one) {
            return one.b == "artwork" && one.a == one.art_of;
        });
        QVERIFY(pair != survey.pairs.end() && pair->has_place());
        QCOMPARE(pair->a, std::string("Beta"));
        QVERIFY2(std::fabs(pair->beat.period_mm - 25.4 / 2) < 0.5,
                 qPrintable(QString::number(pair->beat.period_mm)));
        // The angles proposed keep away from it, as far as any angle does.
        Lattice turned = pair->turned();
        turned.angle = survey.proposed.at("Beta");
        const auto beat_at = [&](const Lattice &screen) {
            double sum = 0;
            for (const ArtPeriod &one : periods) {
                sum += beat_of(screen, one.lattice, one.tone, one.tone).badness;
            }
            return sum;
        };
        const double before = beat_at(pair->turned());
        double least = before;
        for (Lattice tried = turned; tried.angle < turned.angle + 180; tried.angle += 0.5) {
            least = std::min(least, beat_at(tried));
        }
        QVERIFY2(beat_at(turned) < least + 0.3 * (before - least),
                 qPrintable(QStringLiteral("%1 of %2 to %3").arg(beat_at(turned)).arg(least).arg(before)));
        // Screens far from it in ruling and angle beat less.
        opened.job.plates[beta].screen.ruling = Lpi(1.7 * lpi);
        opened.job.plates[beta].screen.angle = Degrees(angle + 37);
        const auto apart_now = take(survey_moire(*line, opened.job, *condition, periods));
        const auto other =
            std::find_if(apart_now.pairs.begin(), apart_now.pairs.end(),
                         [](const MoirePair &one) { return one.b == "artwork" && one.a == one.art_of; });
        QVERIFY2(pair->beat.badness > 0.05 && other->beat.badness < 0.5 * pair->beat.badness,
                 qPrintable(QStringLiteral("%1 %2").arg(pair->beat.badness).arg(other->beat.badness)));
    }

    void artworkOfOnePlateBeatsWithTheScreenOfAnother()
    {
        // Bars of Beta, solid and without a screen of its own, 50 to the inch, over a tint of Alpha.
        std::string bars = "/OP gs /B CS 1 SCN 0.48 w ";
        for (int i = 0; i < 250; ++i) {
            const std::string x = format_number(1.44 * i, 3);
            bars += x + " 0 m " + x + " 360 l S ";
        }
        const auto surveyed = [&](const std::string &tint, double ruling) {
            MiniPdf pdf = spots_page(tint + bars);
            pdf.width = pdf.height = 360;
            OpenedJob opened = pdf.job();
            Plate &alpha = opened.job.plates[static_cast<std::size_t>(opened.job.find_plate("Alpha"))];
            Plate &beta = opened.job.plates[static_cast<std::size_t>(opened.job.find_plate("Beta"))];
            alpha.screen.ruling = Lpi(ruling);
            alpha.screen.angle = Degrees(90);
            beta.screen.kind = ScreenKind::None;
            const auto line = take(PlateLine::make(pdf.content(), setup_of(opened.job)));
            const auto condition = take(condition_of(opened.job.colours));
            MoireSurvey survey =
                take(survey_moire(*line, opened.job, *condition, take(find_art_periods(*line))));
            std::erase_if(survey.pairs, [](const MoirePair &pair) { return pair.b != "artwork"; });
            return survey;
        };
        const MoireSurvey near = surveyed("/A cs 0.3 scn 0 0 360 360 re f ", 52);
        QVERIFY(!near.pairs.empty());
        const MoirePair &worst = near.pairs.front();
        QCOMPARE(worst.a, std::string("Alpha"));
        QCOMPARE(worst.art_of, std::string("Beta"));
        QVERIFY(worst.has_place());
        QVERIFY2(std::fabs(worst.beat.period_mm - 25.4 / 2) < 0.1, // by hand: 1 / (52 − 50) inch
                 qPrintable(QString::number(worst.beat.period_mm)));
        QVERIFY(worst.beat.badness >= seen_badness);
        // As it prints: bands that far apart, where dots fill the gaps or hide behind the bars.
        const auto swing = [](const MoirePair &pair) {
            const BeatPatch patch = take(beat_patch(pair.task, 254, 8, 50.8));
            std::complex<double> sum = 0;
            for (int x = 0; x < patch.width; ++x) {
                double light = 0;
                for (int y = 0; y < patch.height; ++y) {
                    light += patch.pixels[static_cast<std::size_t>(y * patch.width + x)] >> 8 & 255;
                }
                sum += light / patch.height * std::polar(1.0, 2 * std::numbers::pi * x * 4 / patch.width);
            }
            return std::abs(sum) / patch.width;
        };
        QVERIFY2(swing(worst) > 2, qPrintable(QString::number(swing(worst))));
        const MoireSurvey far = surveyed("/A cs 0.3 scn 0 0 360 360 re f ", 85);
        QVERIFY(far.badness < near.badness / 2);
        QVERIFY2(swing(far.pairs.front()) < swing(worst) / 4,
                 qPrintable(QString::number(swing(far.pairs.front()))));
        // Angles proposed keep away from it.
        QVERIFY(near.badness_proposed < near.badness / 2);
        QVERIFY(apart(near.proposed.at("Alpha"), 90) > 5);
        // Where Alpha does not print nothing beats.
        QVERIFY(surveyed("/A cs 0.3 scn 0 0 9 9 re f ", 52).pairs.empty());
    }

    void picturesThatDoNotRepeatAreLeftAlone()
    {
        for (const char *demo : {"handbill.pdf", "trail-card.pdf"}) {
            const QString path = QStringLiteral(BICHROM_SOURCE_DIR "/demo/") + QString::fromLatin1(demo);
            const OpenedJob opened = take(open_job_or_artwork(path.toStdString()));
            const auto page = take(opened.artwork->interpret(1, PageBox::Media));
            const auto line = take(PlateLine::make(page, setup_of(opened.job)));
            for (const ArtPeriod &one : take(find_art_periods(*line))) {
                QFAIL(qPrintable(QStringLiteral("%1: %2 lpi at %3, swing %4, %5 mm, %6 mm")
                                     .arg(QString::fromStdString(line->inks()[one.plate]))
                                     .arg(one.lattice.ruling)
                                     .arg(one.lattice.angle)
                                     .arg(one.lattice.swing)
                                     .arg(one.x)
                                     .arg(one.y)));
            }
        }
    }

    void aPatchShowsTheBandsWhereTheyAre_data()
    {
        QTest::addColumn<int>("with"); // a screen, the mesh, artwork
        QTest::newRow("two screens") << 0;
        QTest::newRow("the mesh") << 1;
        QTest::newRow("artwork") << 2;
    }
    void aPatchShowsTheBandsWhereTheyAre()
    {
        // 55 lpi against 50 at one angle: bands 5.08 mm apart, five of them in 25.4 mm, across it.
        QFETCH(int, with);
        BeatTask task;
        task.first = {Lpi(55), Degrees(0), DotShape::Round};
        task.looks = {Rgb8{255, 255, 255}, Rgb8{0, 0, 0}, Rgb8{0, 0, 0}, Rgb8{0, 0, 0}};
        if (with == 0) {
            task.second = Screen{Lpi(50), Degrees(0), DotShape::Round};
        } else if (with == 1) {
            task.other = lattice_of(Mesh{50 / 2.54, 0, 0});
        } else {
            task.other = Lattice{50, 0, false, {}, 0.15};
        }
        const BeatPatch patch = take(beat_patch(task, 254, 100, 25.4));
        QCOMPARE(patch.pixels.size(), std::size_t(254 * 100));
        const auto swing = [&](double periods, bool across) { // of the amplitude of a frequency, of 255
            std::complex<double> sum;
            for (int y = 0; y < patch.height; ++y) {
                for (int x = 0; x < patch.width; ++x) {
                    const double phase = 2 * std::numbers::pi * periods * (across ? x : y) / 254;
                    sum +=
                        std::polar(double(patch.pixels[static_cast<std::size_t>(y * 254 + x)] & 255), phase);
                }
            }
            return std::abs(sum) / static_cast<double>(patch.pixels.size());
        };
        QVERIFY2(swing(5, true) > 3, qPrintable(QString::number(swing(5, true))));
        for (const double other : {3.0, 4.0, 6.0, 7.0, 8.0}) {
            QVERIFY2(swing(other, true) < 0.3 * swing(5, true),
                     qPrintable(QString::number(swing(other, true))));
        }
        // Where the film's pixels are the larger ones they are enlarged, and it shows as much of it.
        task.resolution = Dpi(200);
        const BeatPatch own = take(beat_patch(task, 200, 100, 25.4)),
                        enlarged = take(beat_patch(task, 254, 127, 25.4));
        for (int y = 0; y < 127; ++y) {
            for (int x = 0; x < 254; ++x) {
                QCOMPARE(enlarged.pixels[static_cast<std::size_t>(y * 254 + x)],
                         own.pixels[static_cast<std::size_t>(y * 100 / 127 * 200 + x * 200 / 254)]);
            }
        }
        QCOMPARE(beat_patch(task, 0, 5, 10).error().code, ErrorCode::OutOfRange);
        task.first.kind = ScreenKind::Fm;
        QCOMPARE(beat_patch(task, 5, 5, 10).error().code, ErrorCode::OutOfRange);
    }
};

BICHROM_TEST(TestMoire, QCoreApplication)
#include "tst_moire.moc"
