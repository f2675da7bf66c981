// Inks chosen for an artwork, and how near their print comes.
#include "core/colour/colour_difference.h"
#include "core/job/print_model.h"
#include "core/job/stocks.h"
#include "core/line/plate_line.h"
#include "core/separate/choose_inks.h"
#include "core/separate/separate_job.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QImage>
#include <QtTest>

#include <cmath>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Stock stock_called(const char *name)
{
    for (const ShippedStock &one : shipped_stocks()) {
        if (one.stock.name == name) {
            return one.stock;
        }
    }
    qFatal("no stock %s", name);
}

BookInk ink_called(const char *name)
{
    for (const BookInk &ink : shipped_inks().inks) {
        if (ink.name == name) {
            return ink;
        }
    }
    qFatal("no ink %s", name);
}

BookInk white()
{
    return {"White", InkUse::White, {96, 0, 0}, usual_traits(InkUse::White), false};
}

/// A picture of bands of colours, the left third transparent.
OpenedJob picture(const QTemporaryDir &folder, const std::vector<QColor> &colours)
{
    QImage image(240, 160, QImage::Format_ARGB32);
    image.setDotsPerMeterX(3937);
    image.setDotsPerMeterY(3937);
    image.fill(Qt::transparent);
    for (int y = 0; y < 160; ++y) {
        for (int x = 80; x < 240; ++x) {
            image.setPixelColor(
                x, y, colours[static_cast<std::size_t>((x - 80) * static_cast<int>(colours.size()) / 160)]);
        }
    }
    const QString path = folder.filePath(QStringLiteral("picture.png"));
    image.save(path);
    return take(open_job_or_artwork(path.toStdString()));
}

Scene scene_of(const OpenedJob &opened)
{
    return take(record_scene(*take(opened.artwork->interpret(1, PageBox::Media))));
}

/// What stock and inks print with these tones, as a wish.
WishedColour printed(const std::vector<BookInk> &inks, const Stock &stock, const std::vector<double> &tones,
                     double share)
{
    std::vector<std::string> names;
    for (const BookInk &ink : inks) {
        names.push_back(ink.name);
    }
    return {solver_of(plates_for_inks(inks, stock), stock, names, *ProcessProfile::fogra39())
                .print()
                .colour(tones),
            share};
}

} // namespace

class TestSeparate : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void wishesAreTheColoursThatAreThere()
    {
        const QTemporaryDir folder;
        const OpenedJob opened = picture(
            folder, {QColor(200, 30, 40), QColor(200, 30, 40), QColor(20, 60, 180), QColor(30, 30, 30)});
        const auto wish = take(wished_colours(opened));
        QVERIFY(wish.size() >= 3 && wish.size() < 12);  // and edges between them
        QVERIFY(std::fabs(wish[0].share - 0.5) < 0.05); // of what is painted
        QVERIFY(ciede2000(wish[0].colour, srgb_to_lab({200 / 255.0, 30 / 255.0, 40 / 255.0})) < 1.5);
        double all = 0;
        for (const WishedColour &one : wish) {
            all += one.share;
        }
        QVERIFY(std::fabs(all - 1) < 1e-9);
        QCOMPARE(take(wished_colours(opened, 2)).size(), std::size_t(2));
        MiniPdf empty;
        QCOMPARE(wished_colours(empty.job()).error().code, ErrorCode::NothingToPrint);
    }

    /// Colours that three inks of the book print: with three the choice comes to next to nothing, and more do
    /// not make it worse.
    void colourantsThatExistAreFoundOrEqualled()
    {
        const Stock stock = stock_called("White stock");
        std::vector<BookInk> inks = {ink_called("Lamp Yellow"), ink_called("Wing Rust"),
                                     ink_called("Deep Gentian")};
        std::vector<WishedColour> wish;
        for (const std::vector<double> &tones : std::vector<std::vector<double>>{{1, 0, 0},
                                                                                 {0, 1, 0},
                                                                                 {0, 0, 1},
                                                                                 {0.5, 0.5, 0},
                                                                                 {0, 0.6, 0.4},
                                                                                 {0.7, 0, 0.5},
                                                                                 {0.3, 0.3, 0.3},
                                                                                 {1, 1, 0}}) {
            wish.push_back(printed(inks, stock, tones, 0.125));
        }
        const InkSet meant = expected_difference(wish, inks, stock, *ProcessProfile::fogra39());
        const auto choices = take(choose_inks(wish, shipped_inks(), {stock, {}, {}, 4}));
        QCOMPARE(choices.size(), std::size_t(4));
        for (std::size_t i = 1; i < choices.size(); ++i) {
            QCOMPARE(choices[i].inks.size(), i + 1);
            QVERIFY(choices[i].mean_difference < choices[i - 1].mean_difference + 0.05);
        }
        QVERIFY2(
            choices[2].mean_difference < meant.mean_difference + 1.5,
            qPrintable(
                QStringLiteral("%1, not %2").arg(choices[2].mean_difference).arg(meant.mean_difference)));
        QVERIFY(choices[0].mean_difference > 3 * choices[2].mean_difference);
        // From light to dark.
        for (std::size_t i = 1; i < choices[3].inks.size(); ++i) {
            QVERIFY(choices[3].inks[i - 1].solid.l >= choices[3].inks[i].solid.l);
        }
    }

    void noInkIsChosenThatHelpsNothing()
    {
        // The stock and tones of one ink of the book.
        const Stock stock = stock_called("White stock");
        std::vector<WishedColour> wish;
        for (const double tone : {0.0, 0.25, 0.5, 0.75, 1.0}) {
            wish.push_back(printed({ink_called("Night Black")}, stock, {tone}, 0.2));
        }
        const auto choices = take(choose_inks(wish, shipped_inks(), {stock, {}, {}, 4}));
        for (std::size_t i = 1; i < choices.size(); ++i) {
            QVERIFY(choices[i].mean_difference <= choices[i - 1].mean_difference - 0.01);
        }
        QStringList told;
        for (const InkSet &set : choices) {
            told << QString::number(set.mean_difference);
        }
        QVERIFY2(choices.size() == 1, qPrintable(told.join(QLatin1Char(' '))));
    }

    void fixedInksStayAndExcludedOnesStayOut()
    {
        const std::vector<WishedColour> wish = {{{50, 60, 40}, 0.5}, {{40, 10, -50}, 0.5}};
        const Stock stock = stock_called("Black cotton");
        const auto first = take(choose_inks(wish, shipped_inks(), {stock, {white()}, {}, 3}));
        QCOMPARE(first.back().inks.front().name, std::string("White")); // printed first
        const std::string best = first.back().inks[1].name;
        const auto without = take(choose_inks(wish, shipped_inks(), {stock, {white()}, {best}, 3}));
        for (const BookInk &ink : without.back().inks) {
            QVERIFY(ink.name != best);
        }
        QVERIFY(without.back().mean_difference >= first.back().mean_difference - 0.3);
        QCOMPARE(choose_inks(wish, shipped_inks(), {stock, {}, {}, 9}).error().code, ErrorCode::OutOfRange);
        CancelSwitch stop;
        stop.cancel();
        QCOMPARE(choose_inks(wish, shipped_inks(), {stock, {}, {}, 2}, JobControl(stop)).error().code,
                 ErrorCode::Cancelled);
    }

    /// A black shirt prints black with no ink, white where it is white, and the picture's transparent part
    /// nothing.
    void theStockHelps()
    {
        const QTemporaryDir folder;
        OpenedJob opened = picture(folder, {QColor(0, 0, 0), QColor(255, 255, 255)});
        opened.job.stock = stock_called("Black cotton");
        opened.job = take(separated_job(opened.job, scene_of(opened),
                                        {white(), ink_called("Wing Rust"), ink_called("Deep Gentian")}));
        const auto line =
            take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(opened.job)));
        const PlateTile tile = take(line->render(line->extent(Dpi(100)), Dpi(100)));
        for (const Plane &plane : tile.plates) {
            QVERIFY(plane.at(40, 80) == 0);                                                   // transparent
            QVERIFY2(plane.at(120, 80) <= 8, qPrintable(QString::number(plane.at(120, 80)))); // black
        }
        QVERIFY(tile.plates[0].at(200, 80) > 240);
        const SeparationReport report = take(measure_separation(opened));
        QCOMPARE(report.coverage.size(), std::size_t(3));
        QVERIFY(std::fabs(report.coverage[0] - 0.5) < 0.03);
        QVERIFY(report.mean < 14); // the shirt is not as black as black, nor white ink as white as white
    }

    /// Printed on a film's back the colours come first and white last, and what is measured from the front is
    /// what was expected.
    void aFilmPrintedOnItsBackIsSeenFromTheFront()
    {
        const QTemporaryDir folder;
        OpenedJob opened = picture(folder, {QColor(150, 70, 50), QColor(225, 170, 60), QColor(50, 50, 110)});
        opened.job.stock = stock_called("Clear film, printed on its back");
        const std::vector<BookInk> inks = {white(), ink_called("Lamp Yellow"), ink_called("Wing Rust"),
                                           ink_called("Deep Gentian")};
        opened.job = take(separated_job(opened.job, scene_of(opened), inks));
        QCOMPARE(opened.job.plates.back().kind, InkUse::White);
        const SeparationReport report = take(measure_separation(opened));
        const auto wish = take(wished_colours(opened));
        const InkSet meant = expected_difference(wish, inks, opened.job.stock, *ProcessProfile::fogra39());
        QVERIFY2(std::fabs(report.mean - meant.mean_difference) < 1.5,
                 qPrintable(QStringLiteral("%1, expected %2").arg(report.mean).arg(meant.mean_difference)));
        // White lies under the colours, as seen: ochre is light.
        const auto line =
            take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(opened.job)));
        const PlateTile tile = take(line->render(line->extent(Dpi(100)), Dpi(100)));
        QVERIFY(tile.plates.back().at(160, 80) > 150 && tile.plates[2].at(160, 80) > 80);
    }

    void betterInksAreToldToBeBetter()
    {
        const QTemporaryDir folder;
        OpenedJob opened = picture(
            folder, {QColor(200, 40, 40), QColor(230, 190, 40), QColor(40, 60, 150), QColor(120, 90, 60)});
        opened.job.stock = stock_called("Black cotton");
        const auto wish = take(wished_colours(opened));
        const auto choices = take(choose_inks(wish, shipped_inks(), {opened.job.stock, {white()}, {}, 5}));
        const Job untouched = opened.job;
        const auto measured = [&](const std::vector<BookInk> &inks) {
            opened.job = take(separated_job(untouched, scene_of(opened), inks));
            return take(measure_separation(opened));
        };
        const SeparationReport best = measured(choices.back().inks);
        const SeparationReport poor = measured({white(), ink_called("Deep Gentian")});
        QVERIFY(best.median < poor.median && best.p95 < poor.p95);
        QVERIFY2(best.mean < 8, qPrintable(QString::number(best.mean)));
        QVERIFY2(
            std::fabs(best.mean - choices.back().mean_difference) <
                2.5, // what was expected is what is printed
            qPrintable(QStringLiteral("%1, expected %2").arg(best.mean).arg(choices.back().mean_difference)));
        QVERIFY(poor.beyond > best.beyond);
        QVERIFY(poor.worst_x > 20 && poor.worst_x < 61); // mm; not in the transparent third
        QCOMPARE(poor.map.size(),
                 static_cast<std::size_t>(poor.width) * static_cast<std::size_t>(poor.height));
    }

    void aHighlightStaysWithinTheInkLimit_data()
    {
        QTest::addColumn<double>("limit");
        QTest::newRow("160 %") << 1.6;
        QTest::newRow("200 %") << 2.0;
        QTest::newRow("230 %") << 2.3;
    }
    void aHighlightStaysWithinTheInkLimit()
    {
        QFETCH(double, limit);
        OpenedJob opened = take(open_job_or_artwork(BICHROM_SOURCE_DIR "/demo/moth-plate.png"));
        opened.job.stock = stock_called("Black cotton");
        const std::vector<BookInk> inks = {white(), ink_called("Lamp Yellow"), ink_called("Wing Rust"),
                                           ink_called("Deep Gentian")};
        opened.job = with_highlight(take(separated_job(opened.job, scene_of(opened), inks, {0, limit})));
        const auto line =
            take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(opened.job)));
        const PlateTile tile = take(line->whole_page(Dpi(72), Edges::Smooth));
        int most = 0, lit = 0;
        for (std::size_t i = 0; i < tile.plates[0].pixels.size(); ++i) {
            int sum = 0;
            for (const Plane &plate : tile.plates) {
                sum += plate.pixels[i];
            }
            most = std::max(most, sum);
            lit += tile.plates.back().pixels[i] > 0 ? 1 : 0;
        }
        QVERIFY2(most <= limit * 255 + 3, qPrintable(QString::number(most / 255.0))); // five rounded tones
        QVERIFY2(lit > (limit < 2 ? 0 : 100), qPrintable(QString::number(lit)));
    }

    /// Flat colours of vector artwork are solved by themselves: the colour of an ink prints as that ink.
    void aHighlightLiesWhereNoColourIs()
    {
        QTemporaryDir folder;
        OpenedJob opened = picture(folder, {Qt::white, QColor(200, 60, 30), QColor(120, 120, 120)});
        opened.job.stock = stock_called("Black cotton");
        const Job base =
            take(separated_job(opened.job, scene_of(opened), {white(), ink_called("Wing Rust")}));
        const Job both = with_highlight(base);
        QCOMPARE(both.plates.size(), base.plates.size() + 1);
        QCOMPARE(both.plates.back().ink, std::string("Highlight White"));
        QCOMPARE(both.plates.back().tin, std::string("White")); // both are printed from one tin
        const auto content = take(opened.artwork->interpret(1, PageBox::Media));
        const auto line = take(PlateLine::make(content, setup_of(both)));
        const PlateTile tile = take(line->render(line->extent(Dpi(72)), Dpi(72)));
        const auto tone = [&](double share) {
            return int(tile.plates.back().at(static_cast<int>(tile.plates.back().width * share), 10));
        };
        QVERIFY(tone(0.45) > 200); // where it is white
        QVERIFY(tone(0.66) < 20);  // under a colour
        QVERIFY(tone(0.88) < 200); // a tint of the base is no highlight
        QCOMPARE(tone(0.15), 0);   // bare stock
        Job dark = base;
        std::erase_if(dark.plates, [](const Plate &plate) { return plate.kind == InkUse::White; });
        QCOMPARE(with_highlight(dark).plates.size(), dark.plates.size());
    }

    void artworkOfSpotsIsMeasuredToo()
    {
        // Inks of its own, no process ink anywhere: half of the page, in the colour that the file gives the
        // ink.
        OpenedJob opened = spots_page("/A cs 1 scn 0 0 36 72 re f").job();
        const SeparationReport report = take(measure_separation(opened, 200));
        QCOMPARE(report.coverage.size(), opened.job.plates.size());
        QVERIFY2(report.mean < 6, qPrintable(QString::number(report.mean)));
        opened.job.plates[static_cast<std::size_t>(opened.job.find_plate("Alpha"))].solid = {90, 0, 0};
        QVERIFY(take(measure_separation(opened, 200)).mean > report.mean + 20);
        opened = spots_page("").job();
        QCOMPARE(measure_separation(opened, 200).error().code, ErrorCode::NothingToPrint);
    }

    void controlsChangeWhatWasSolvedAndNothingElse()
    {
        // A picture, a flat colour that is solved along with it, and one that the artist has sent elsewhere.
        MiniPdf pdf;
        pdf.contents = "0.8 0.3 0.2 rg 0 0 20 20 re f 0.2 0.3 0.8 rg 30 0 20 20 re f q 40 0 0 20 0 40 cm "
                       "BI /W 4 /H 1 /CS /RGB /BPC 8 /F /AHx ID 1020C0C04020808080F0E020> EI Q";
        OpenedJob opened = pdf.job();
        opened.job.stock.colour = {16, 0, -1};
        const Scene scene = scene_of(opened);
        opened.job = take(separated_job(
            opened.job, scene, {white(), ink_called("Wing Rust"), ink_called("Deep Gentian")}, {0.1, 0, {}}));
        const auto tint = [&](const Route &route, const char *ink) {
            for (const RouteTarget &target : route.targets) {
                if (target.ink == ink) {
                    return target.tint;
                }
            }
            return 0.0;
        };
        // The picture, the colour that is mostly rust, and the other.
        Job job = opened.job;
        QCOMPARE(job.routes.size(), std::size_t(3));
        const auto place = [&](auto &&is) {
            return static_cast<std::size_t>(std::find_if(job.routes.begin(), job.routes.end(), is) -
                                            job.routes.begin());
        };
        const std::size_t number = place([](const Route &route) { return route.separated; });
        const std::size_t rusty =
            place([&](const Route &route) { return !route.separated && tint(route, "Wing Rust") > 0.2; });
        QVERIFY(number < 3 && rusty < 3);
        const std::size_t other = 3 - number - rusty;
        const double rust = tint(job.routes[rusty], "Wing Rust");
        job.routes[other].targets = {{"Wing Rust", false, 0.42, {}}};
        std::vector<RouteTarget> targets = job.routes[number].targets;
        targets[1].control.strength = 0.5;
        const Job half = with_controls(job, scene, number, targets);
        QVERIFY(half.routes[number].targets == targets);
        QVERIFY(std::fabs(tint(half.routes[rusty], "Wing Rust") - rust / 2) < 1e-9);
        QCOMPARE(tint(half.routes[other], "Wing Rust"), 0.42); // as the artist has sent it
        // Asked for once more, and taken back: as it was.
        targets[1].control.strength = 1;
        QVERIFY(with_controls(half, scene, number, targets) == job);
        // Square dots are too small for a choked white; one of the artist's own stays.
        QVERIFY(!job.plates[0].recipe.empty());
        const Job dots = with_dots(job, number, {0.2, true});
        QVERIFY(dots.plates[0].recipe.empty());
        QCOMPARE(dots.routes[number].dots.size_mm, 0.2);
        job.plates[0].recipe.push_back(job.plates[0].recipe.back());
        QCOMPARE(with_dots(job, number, {0.2, true}).plates[0].recipe.size(), std::size_t(3));
        QVERIFY(
            take(separated_job(opened.job, scene, {white(), ink_called("Wing Rust")}, {0.1, 0, {0.2, true}}))
                .plates[0]
                .recipe.empty());
    }

    void processInksPrintAsTheirProfileSays()
    {
        // Independent: the profile's own forward answer (FOGRA39, data/icc).
        const ProcessProfile &condition = *ProcessProfile::fogra39();
        const std::vector<BookInk> inks = process_inks(condition);
        QCOMPARE(inks.size(), std::size_t(4));
        Stock paper;
        paper.colour = {100, 0, 0};
        const InkSolver solver =
            solver_of(plates_for_inks(inks), paper, {process_names.begin(), process_names.end()}, condition);
        for (const SolvedInk &ink : solver.inks()) {
            QCOMPARE(ink.thrift, InkSolver::process_thrift);
            QVERIFY(ink.gain.is_identity()); // the profile knows it
        }
        std::mt19937 random(3);
        std::uniform_real_distribution<double> tone(0, 1);
        double sum = 0;
        constexpr int count = 200;
        for (int i = 0; i < count; ++i) {
            const std::vector<double> tones = {tone(random), tone(random), tone(random), tone(random) / 2};
            Cmyk cmyk{};
            std::transform(tones.begin(), tones.end(), cmyk.begin(),
                           [](double one) { return static_cast<float>(one); });
            const Lab wish = condition.to_lab(cmyk);
            QVERIFY(ciede2000(solver.print().colour(tones), wish) < 0.6);
            const Solution found = solver.solve(wish);
            std::transform(found.coverage.begin(), found.coverage.end(), cmyk.begin(),
                           [](double one) { return static_cast<float>(one); });
            sum += ciede2000(condition.to_lab(cmyk), wish);
        }
        QVERIFY2(sum / count < 0.4, qPrintable(QString::number(sum / count)));
    }

    void flatColoursAreTheirInks()
    {
        MiniPdf pdf;
        const BookInk rust = ink_called("Wing Rust");
        pdf.resources = "/ColorSpace << " + separation("R", "Some red") +
                        " /L [/Lab << /WhitePoint [0.9642 1 0.8249] /Range [-128 127 -128 127] >>] >>";
        pdf.contents = "/L cs " + format_number(rust.solid.l, 2) + " " + format_number(rust.solid.a, 2) +
                       " " + format_number(rust.solid.b, 2) + " scn 0 0 36 72 re f";
        OpenedJob opened = pdf.job();
        opened.job = take(separated_job(opened.job, scene_of(opened),
                                        {ink_called("Lamp Yellow"), rust, ink_called("Deep Gentian")}));
        const auto line =
            take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(opened.job)));
        const PlateTile tile = take(line->render(line->extent(Dpi(72)), Dpi(72)));
        QVERIFY2(tile.plates[1].at(18, 36) > 215, qPrintable(QString::number(tile.plates[1].at(18, 36))));
        QVERIFY(tile.plates[2].at(18, 36) < 40);
        QCOMPARE(int(tile.plates[1].at(60, 36)), 0);
        QCOMPARE(separated_job(opened.job, scene_of(opened), {}).error().code, ErrorCode::OutOfRange);
    }
};

BICHROM_TEST(TestSeparate, QCoreApplication)
#include "tst_separate.moc"
