#include "core/colour/colour_difference.h"
#include "core/job/print_model.h"
#include "core/proof/change_look.h"
#include "core/proof/core_sample.h"
#include "core/proof/dots_look.h"
#include "core/proof/original_view.h"
#include "core/proof/outline_view.h"
#include "core/proof/plate_changes.h"
#include "core/proof/plates_look.h"
#include "core/proof/print_estimate.h"
#include "core/proof/print_look.h"

#include "core/output/output_set.h"
#include "support/layered_print.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QtTest>

#include <cmath>
#include <set>

using namespace bichrom;
using namespace bichrom::test;

class TestLooks : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void dotsAreThePixelsOfTheFilm()
    {
        // The view at film resolution against the films that are written, pixel by pixel.
        auto opened = take(open_job_or_artwork(demo_file().toStdString()));
        opened.job.film.marks = false;
        opened.job.film.resolution = Dpi(400);
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const Manifest manifest = take(write_films(opened, request));
        const auto page = take(opened.artwork->interpret(1, PageBox::Media));
        const auto plate_line = take(PlateLine::make(page, opened.job.inks()));
        std::vector<Halftone> screens;
        for (const Plate &plate : opened.job.plates) {
            screens.push_back(take(Halftone::make(plate.screen, Dpi(400))));
        }
        const PixelRect rect = {1500, 1200, 512, 512};
        const PlateTile dots = take(render_dots(*plate_line, screens, rect, Dpi(400), Dpi(400)));
        for (std::size_t i = 0; i < manifest.plates.size(); ++i) {
            const Bitmap film =
                read_tiff(folder.filePath(QString::fromStdString(manifest.plates[i].file))).film;
            int differing = 0;
            for (int y = 0; y < rect.height; ++y) {
                for (int x = 0; x < rect.width; ++x) {
                    differing += (dots.plates[i].at(x, y) == 255) != film.at(rect.x + x, rect.y + y) ? 1 : 0;
                }
            }
            QCOMPARE(differing, 0);
        }
        // Zoomed in by two, every film pixel stands on two by two view pixels.
        const PlateTile near =
            take(render_dots(*plate_line, screens, {3000, 2400, 64, 64}, Dpi(800), Dpi(400)));
        // Zoomed out by four, a view pixel is the mean of sixteen film pixels.
        const PlateTile far =
            take(render_dots(*plate_line, screens, {375, 300, 128, 128}, Dpi(100), Dpi(400)));
        for (std::size_t i = 0; i < screens.size(); ++i) {
            for (int y = 0; y < 64; ++y) {
                for (int x = 0; x < 64; ++x) {
                    QCOMPARE(near.plates[i].at(x, y), dots.plates[i].at(x / 2, y / 2));
                    int sum = 0;
                    for (int k = 0; k < 16; ++k) {
                        sum += dots.plates[i].at(x * 4 + k % 4, y * 4 + k / 4);
                    }
                    QVERIFY(std::abs(far.plates[i].at(x, y) - sum / 16.0) <= 0.51);
                }
            }
        }
    }

    void dotsTooSmallToSeeAreRefused()
    {
        const auto plate_line =
            take(PlateLine::make(spots_page("/A cs 1 scn 0 0 9 9 re f").content(), {"Alpha"}));
        const std::vector<Halftone> screens = {take(Halftone::make({}, Dpi(1200)))};
        const auto tile = render_dots(*plate_line, screens, {0, 0, 10, 10}, Dpi(72), Dpi(1200));
        QVERIFY(!tile);
        QCOMPARE(tile.error().code, ErrorCode::OutOfRange);
    }

    void platesMultiplyOverTheStock()
    {
        PlateTile tile;
        tile.plates = {Plane(2, 1), Plane(2, 1)};
        tile.plates[0].pixels = {255, 0};
        tile.plates[1].pixels = {255, 128};
        std::vector<std::uint32_t> pixels(2);
        const std::vector<PlateShow> shows = {{{255, 0, 0}, true}, {{0, 0, 255}, true}};
        compose_plates(tile, shows, {255, 255, 255}, pixels);
        QCOMPARE(pixels[0], 0xFF000000u); // red film on blue film lets nothing through
        QCOMPARE(pixels[1], 0xFF7F7FFFu); // half blue
        compose_plates(tile, std::vector<PlateShow>{{{255, 0, 0}, true}, {{0, 0, 255}, false}},
                       {255, 255, 255}, pixels);
        QCOMPARE(pixels[0], 0xFFFF0000u); // the hidden plate is gone
        QCOMPARE(pixels[1], 0xFFFFFFFFu);
        compose_film(tile.plates[1], pixels);
        QCOMPARE(pixels[0], 0xFF000000u);
        QCOMPARE(pixels[1], 0xFF7F7F7Fu);
    }

    void hardEdgesOfFilmsDoNotReachTheView()
    {
        // Contexts are shared: rendering for film must not leave its edges behind.
        const auto content = spots_page("/A cs 1 scn 10.5 10.5 20.25 20.25 re f").content();
        const auto view = take(OriginalView::make(content));
        const auto before = take(view->render({0, 0, 72, 72}, Dpi(72)));
        const auto plate_line = take(PlateLine::make(content, {"Alpha"}));
        QVERIFY(plate_line->render({0, 0, 72, 72}, Dpi(72), Edges::Crisp));
        QVERIFY(take(view->render({0, 0, 72, 72}, Dpi(72))) == before);
        QVERIFY(std::any_of(before.begin(), before.end(),
                            [&](std::uint32_t p) { return p != 0xFFFFFFFFu && p != before[50 * 72 + 20]; }));
    }

    void theOriginalIsShownInItsOwnColours()
    {
        const auto view = take(
            OriginalView::make(spots_page("0 1 0 0 k 0 0 36 72 re f /A cs 1 scn 36 0 36 36 re f").content()));
        const auto pixels = take(view->render({0, 0, 72, 72}, Dpi(72)));
        const Rgb8 magenta = ProcessProfile::fogra39()->to_rgb({0, 1, 0, 0});
        const std::uint32_t expected =
            0xFF000000u | (std::uint32_t(magenta.r) << 16) | (std::uint32_t(magenta.g) << 8) | magenta.b;
        QCOMPARE(pixels[36 * 72 + 10], expected);
        QCOMPARE(pixels[60 * 72 + 50], expected); // the spot's alternate is the same magenta
        QCOMPARE(pixels[10 * 72 + 50], 0xFFFFFFFFu);
    }

    void thePrintLook()
    {
        const ProcessProfile &fogra = *ProcessProfile::fogra39();
        PlateTile tile;
        tile.rect = {0, 0, 3, 1};
        tile.plates = {Plane(3, 1), Plane(3, 1)};
        tile.plates[0].row(0)[1] = 255; // magenta
        tile.plates[0].row(0)[2] = 255;
        tile.plates[1].row(0)[2] = 255; // and a spot
        const Lab spot{80, 0, 80};
        std::vector<std::uint32_t> pixels(3);
        const auto rgb = [&](std::size_t i) {
            return Rgb8{static_cast<std::uint8_t>(pixels[i] >> 16 & 0xFF),
                        static_cast<std::uint8_t>(pixels[i] >> 8 & 0xFF),
                        static_cast<std::uint8_t>(pixels[i] & 0xFF)};
        };
        // Process alone is what the profile says, to two steps of a byte: it goes through a table.
        const auto near = [&](const Rgb8 &a, const Rgb8 &b) {
            return std::abs(a.r - b.r) <= 2 && std::abs(a.g - b.g) <= 2 && std::abs(a.b - b.b) <= 2;
        };
        const auto look = [&](bool process, const Lab &stock) {
            Job job;
            job.plates = {{"Magenta", InkUse::Process, {48, 74, -3}, {}, {}, {}, {}},
                          {"Spot", InkUse::Spot, spot, {}, {}, {}, {}}};
            job.stock.colour = stock;
            PrintView view;
            if (!process) {
                view.hidden = {"Magenta"};
            }
            return PrintLook(job, {"Magenta", "Spot"}, fogra, view);
        };
        look(true, {100, 0, 0}).compose(tile, pixels);
        QVERIFY(near(rgb(0), {255, 255, 255}));
        // As measured, without the deepening of blacks that suits screens.
        QVERIFY2(near(rgb(1), fogra.lab_to_rgb(fogra.to_lab({0, 1, 0, 0}))),
                 qPrintable(QStringLiteral("%1 %2 %3").arg(rgb(1).r).arg(rgb(1).g).arg(rgb(1).b)));
        const Rgb8 both = rgb(2);
        // A film takes light away: it gets darker, though a yellow film over magenta may gain in red on a
        // screen that cannot show either.
        QVERIFY2(fogra.rgb_to_lab(both).l < fogra.rgb_to_lab(rgb(1)).l && both.b < rgb(1).b,
                 qPrintable(QStringLiteral("%1 %2 %3").arg(both.r).arg(both.g).arg(both.b)));
        // A spot alone over white is its own colour; over a stock it is darker than the stock.
        look(false, {100, 0, 0}).compose(tile, pixels);
        QVERIFY(near(rgb(2), fogra.lab_to_rgb(spot)));
        const Lab kraft{60, 8, 20};
        look(false, kraft).compose(tile, pixels);
        QVERIFY(near(rgb(0), fogra.lab_to_rgb(kraft)));
        QVERIFY(rgb(2).b < rgb(0).b);
    }

    void thePrintLookIsTheModelOfLayers()
    {
        // Against the layers computed one by one in double precision, for any order, hits and wet inks.
        Job job;
        job.stock.colour = {14, 0, -2};
        job.plates = {{"White",
                       InkUse::White,
                       {96, 0, 0},
                       {},
                       usual_traits(InkUse::White),
                       {2, false, false, 43},
                       {},
                       {}},
                      {"Rust", InkUse::Spot, {45, 50, 42}, {}, {}, {}, {}, {}},
                      {"Blue", InkUse::Spot, {38, -5, -40}, {}, {}, {}, {}, {}}};
        job.plates[1].traits.opacity = 0.5;
        job.plates[1].traits.gain = take(ToneCurve::through({{0, 0}, {0.5, 0.65}, {1, 1}}));
        job.plates[2].printing.wet = true;
        const std::vector<std::string> names = {"Blue", "White", "Rust"}; // not in printing order
        PlateTile tile;
        tile.rect = {0, 0, 64, 1};
        for (int i = 0; i < 3; ++i) {
            tile.plates.emplace_back(64, 1);
            for (int x = 0; x < 64; ++x) {
                tile.plates.back().row(0)[static_cast<std::size_t>(x)] =
                    static_cast<std::uint8_t>((x >> (2 * i) & 3) * 85);
            }
        }
        for (const bool white_first : {true, false}) {
            if (!white_first) {
                std::swap(job.plates[0], job.plates[1]);
            }
            std::vector<std::uint32_t> pixels(64);
            PrintLook(job, names, *ProcessProfile::fogra39()).compose(tile, pixels);
            const PrintStack print = stack_of(job, names, *ProcessProfile::fogra39());
            int compared = 0;
            for (std::size_t x = 0; x < 64; ++x) {
                std::vector<double> tones;
                for (const Plane &plate : tile.plates) {
                    tones.push_back(plate.pixels[x] / 255.0);
                }
                const Rgb8 expected = ProcessProfile::fogra39()->lab_to_rgb(print.colour(tones));
                const int away = std::max({std::abs(int(pixels[x] >> 16 & 255) - expected.r),
                                           std::abs(int(pixels[x] >> 8 & 255) - expected.g),
                                           std::abs(int(pixels[x] & 255) - expected.b)});
                // Dots mark ink like what is under it; they stand on a few of these pixels.
                compared += away <= 3 ? 1 : 0;
            }
            QVERIFY2(compared >= 52, qPrintable(QString::number(compared)));
        }
    }

    void theEstimateFollowsTheLayers()
    {
        Job job;
        job.stock.colour = {14, 0, -2};
        job.plates = {{"White",
                       InkUse::White,
                       {96, 0, 0},
                       {},
                       usual_traits(InkUse::White),
                       {2, false, false, 43},
                       {},
                       {}},
                      {"Rust", InkUse::Spot, {45, 50, 42}, {}, {}, {}, {}, {}},
                      {"Cut", InkUse::Technical, {50, 70, 0}, {}, {}, {}, {}, {}}};
        const ProcessProfile &fogra = *ProcessProfile::fogra39();
        const std::vector<double> tones = {0.8, 0.5, 1};
        const PrintEstimate estimate = estimate_print(job, tones, fogra);
        const PrintGround ground = print_ground(job.plates, job.stock);
        QCOMPARE(estimate.after.size(), std::size_t(3));
        QVERIFY(ciede2000(estimate.stock, job.stock.colour) < 0.1);
        const auto film = [&](const Plate &plate) {
            return scattering_film(without_floor(plate.solid, ground.floor), ground.paper,
                                   scattering_of(plate.traits.opacity));
        };
        const PrintedLayer white{film(job.plates[0]), 2}, rust{film(job.plates[1])};
        const PrintStack print = layered_print(ground.stock, {white, rust}, ground.floor, ground.transfer);
        const std::array<double, 2> first = {0.8, 0};
        QVERIFY(ciede2000(estimate.after[0], print.colour(first)) < 1e-6);
        const std::array<double, 2> both = {0.8, 0.5};
        QVERIFY(ciede2000(estimate.after[1], print.colour(both)) < 1e-6);
        QVERIFY(ciede2000(estimate.print(), estimate.after[1]) < 1e-9); // a cut line is not seen
        QVERIFY(estimate.predictable);
        // Through its film the print is seen from the other side: the first plate in front.
        job.stock.clear = job.stock.behind = true;
        const PrintEstimate through = estimate_print(job, tones, fogra);
        const PrintStack turned = layered_print(ground.stock, {rust, white}, ground.floor, ground.transfer);
        const std::array<double, 2> back = {0.5, 0.8};
        QVERIFY(ciede2000(through.print(), turned.colour(back)) < 1e-6);
        QVERIFY(ciede2000(through.print(), estimate.print()) > 5);
        job.stock.clear = job.stock.behind = false;
        job.plates[1].kind = InkUse::Metallic;
        QVERIFY(!estimate_print(job, tones, fogra).predictable);
    }

    void aRunOfProcessInksIsTheProfilesAnswer()
    {
        // On a white stock, relative to the paper of the condition: within the eight bands' own error.
        Job job;
        for (const char *ink : process_names) {
            job.plates.push_back(propose_plate(job.plates, ink, InkUse::Process, {}));
        }
        const ProcessProfile &fogra = *ProcessProfile::fogra39();
        for (const Cmyk &cmyk :
             {Cmyk{0, 0, 0, 0}, Cmyk{1, 0, 0, 0}, Cmyk{0.2f, 0.6f, 0.1f, 0.3f}, Cmyk{0, 1, 1, 0}}) {
            const std::vector<double> tones(cmyk.begin(), cmyk.end());
            const Lab print = estimate_print(job, tones, fogra).print();
            QVERIFY2(ciede2000(print, fogra.to_lab(cmyk)) < 0.3,
                     qPrintable(QString::number(ciede2000(print, fogra.to_lab(cmyk)))));
        }
        // A spot between them parts the run: black over it is a run of its own.
        job.plates.insert(job.plates.begin() + 3,
                          propose_plate(job.plates, "Rust", InkUse::Spot, {45, 50, 42}));
        const std::vector<double> tones = {0.5, 0, 0, 0, 0.5};
        const PrintEstimate parted = estimate_print(job, tones, fogra);
        QVERIFY(ciede2000(parted.after[0], fogra.to_lab({0.5f, 0, 0, 0})) < 0.3);
        QVERIFY(parted.after[4].l < parted.after[3].l - 10);
    }

    void whiteIsDottedInTheLookPlatesToo()
    {
        PlateTile tile;
        tile.rect = {0, 0, 64, 64};
        tile.plates = {Plane(64, 64, 255), Plane(64, 64, 255)};
        const auto colours = [&](Rgb8 first, Rgb8 second, bool both) {
            std::vector<std::uint32_t> pixels(64 * 64);
            const std::vector<PlateShow> shows = {{first, true}, {second, both}};
            compose_plates(tile, shows, {255, 255, 255}, pixels);
            return std::set<std::uint32_t>(pixels.begin(), pixels.end()).size();
        };
        QCOMPARE(colours({244, 244, 242}, {0, 0, 0}, false), std::size_t(2)); // white on white
        QCOMPARE(colours({40, 120, 90}, {0, 0, 0}, false), std::size_t(1));
        QCOMPARE(colours({40, 120, 90}, {244, 244, 242}, true), std::size_t(2)); // white on green
        tile.plates[0] = Plane(64, 64, 60); // a light tint of white is left alone
        QCOMPARE(colours({244, 244, 242}, {0, 0, 0}, false), std::size_t(1));
    }

    void inkThatCannotBeSeenIsMarked()
    {
        // White on white and varnish anywhere are never invisible; an ink that is seen is left alone.
        PlateTile tile;
        tile.rect = {0, 0, 64, 64};
        tile.plates = {Plane(64, 64, 255)};
        const auto marked = [&](const Plate &plate, const Lab &stock) {
            Job job;
            job.plates = {plate};
            job.stock.colour = stock;
            std::vector<std::uint32_t> pixels(64 * 64);
            PrintLook(job, {plate.ink}, *ProcessProfile::fogra39()).compose(tile, pixels);
            return std::set<std::uint32_t>(pixels.begin(), pixels.end()).size() > 1;
        };
        Plate white;
        white.ink = "White";
        white.kind = InkUse::White;
        white.solid = {96, 0, 0};
        white.traits = usual_traits(InkUse::White);
        const Plate varnish{"Gloss", InkUse::Varnish, {95, 0, 2}, {}, {}, {}, {}, {}};
        const Plate yellow{"Yellow ink", InkUse::Spot, {88, -5, 90}, {}, {}, {}, {}, {}};
        QVERIFY(marked(white, {97, 0, 0}));
        QVERIFY(!marked(white, {14, 0, 0}));
        QVERIFY(marked(varnish, {97, 0, 0}));
        QVERIFY(marked(varnish, {14, 0, 0}));
        QVERIFY(!marked(yellow, {97, 0, 0}));
        QVERIFY(marked(yellow, {8, 0, 0})); // nearly black on black
        // Colours that are compared bear none.
        PrintView plain;
        plain.marks = false;
        for (const Plate &plate : {white, varnish}) {
            Job job;
            job.plates = {plate};
            job.stock.colour = {97, 0, 0};
            std::vector<std::uint32_t> pixels(64 * 64);
            PrintLook(job, {plate.ink}, *ProcessProfile::fogra39(), plain).compose(tile, pixels);
            QCOMPARE(std::set<std::uint32_t>(pixels.begin(), pixels.end()).size(), std::size_t(1));
        }
    }

    void clearFilmIsShownOnAChecker()
    {
        const ProcessProfile &fogra = *ProcessProfile::fogra39();
        PlateTile tile;
        tile.rect = {4, 0, 8, 4}; // squares follow the page, not the tile
        tile.plates = {Plane(8, 4)};
        std::vector<std::uint32_t> pixels(32);
        Job job;
        job.stock.colour = {96, 0, 0};
        job.stock.clear = true;
        PrintView view;
        view.checker = 4;
        PrintLook(job, {"Bare"}, fogra, view).compose(tile, pixels);
        QVERIFY(pixels[0] != pixels[4]);
        QCOMPARE(pixels[0], pixels[3]);
        const Rgb8 light = fogra.lab_to_rgb({96, 0, 0});
        QVERIFY(std::abs(int(pixels[4] & 0xFFu) - light.b) <= 1); // the square at (8, 0) is a light one
        view.checker = 0;
        PrintLook(job, {"Bare"}, fogra, view).compose(tile, pixels);
        QCOMPARE(pixels[0], pixels[4]);
    }

    void outlinesOfWhatPrintsNothing_data()
    {
        QTest::addColumn<QString>("contents");
        QTest::addColumn<QPoint>("line");
        QTest::addColumn<QPoint>("bare");
        QTest::newRow("white on white") << "1 g 20 20 30 30 re f" << QPoint(20, 36) << QPoint(35, 36);
        QTest::newRow("a spot of 0 %") << "/A cs 0 scn 20 20 30 30 re f" << QPoint(20, 36) << QPoint(35, 36);
        QTest::newRow("a thick line shows its middle")
            << "/A CS 1 SCN 20 w 0 36 m 72 36 l S" << QPoint(36, 36) << QPoint(36, 30);
        QTest::newRow("a picture is a crossed frame")
            << "q 40 0 0 40 16 16 cm BI /W 1 /H 1 /CS /G /BPC 8 ID \xff EI Q" << QPoint(36, 36)
            << QPoint(36, 30);
        QTest::newRow("a clip holds")
            << "0 0 30 72 re W n /A cs 1 scn 20 20 30 30 re f" << QPoint(20, 36) << QPoint(50, 36);
    }
    void outlinesOfWhatPrintsNothing()
    {
        QFETCH(QString, contents);
        QFETCH(QPoint, line);
        QFETCH(QPoint, bare);
        const OutlineView view(spots_page(contents.toStdString()).content());
        const auto pixels = take(view.render({0, 0, 72, 72}, Dpi(72)));
        const auto darkest = [&](QPoint at) {
            int most = 0;
            for (int dy = -1; dy <= 1; ++dy) {
                for (int dx = -1; dx <= 1; ++dx) {
                    most = std::max(most,
                                    int(pixels[static_cast<std::size_t>((at.y() + dy) * 72 + at.x() + dx)]));
                }
            }
            return most;
        };
        QVERIFY2(darkest(line) > 100, qPrintable(QString::number(darkest(line))));
        QCOMPARE(darkest(bare), 0);
        // Lines keep their width whatever the zoom: no more of the picture is inked at ten times the size.
        const auto large = take(view.render({0, 0, 720, 720}, Dpi(720)));
        const auto inked = [](const std::vector<std::uint8_t> &all) {
            return double(std::count_if(all.begin(), all.end(), [](auto p) { return p > 60; })) /
                   double(all.size());
        };
        QVERIFY2(inked(large) < 0.25 * inked(pixels),
                 qPrintable(QStringLiteral("%1 %2").arg(inked(large)).arg(inked(pixels))));
    }

    void coreSamplesAreMeans()
    {
        // The left half solid Alpha, everything 40 % Beta.
        const auto plate_line = take(PlateLine::make(
            spots_page("/A cs 1 scn 0 0 36 72 re f /OP gs /B cs 0.4 scn 0 0 72 72 re f").content(),
            {"Alpha", "Beta"}));
        const double middle = 12.7; // mm, where the half ends
        const auto at = [&](double x, double y, int side) {
            return take(take_sample(*plate_line, sample_square(*plate_line, x, y, side)));
        };
        const CoreSample left = at(3, 5, 1);
        QCOMPARE(left.tones[0], 1.0);
        QVERIFY(std::fabs(left.tones[1] - 0.4) < 0.003);
        QVERIFY(std::fabs(left.total() - 1.4) < 0.003);
        QCOMPARE(left.painted, 1.0);
        QCOMPARE(at(20, 5, 5).tones[0], 0.0);
        // 51 pixels around the first one right of the edge: 25 of 51 columns are solid.
        QVERIFY(std::fabs(at(middle + 0.01, 12, 51).tones[0] - 25.0 / 51) < 0.001);
        // At a corner of the page only what lies on it counts.
        QCOMPARE(sample_square(*plate_line, 0, 0, 11).width, 6);
        QCOMPARE(at(0, 0, 11).tones[0], 1.0);
        // A rectangle of known shares: a quarter solid.
        const Rect area{middle - 2, 2, 8, 10};
        const CoreSample quarter = take(take_sample(*plate_line, sample_area(*plate_line, area)));
        QVERIFY2(std::fabs(quarter.tones[0] - 0.25) < 0.01, qPrintable(QString::number(quarter.tones[0])));
        // The same bits however it is cut into tiles.
        const PixelRect place = sample_area(*plate_line, area);
        SampleSum sum;
        for (const PixelRect &tile : {PixelRect{0, 0, 150, 300}, PixelRect{150, 0, 150, 300}}) {
            sum.add(take(plate_line->render(tile, sample_resolution)), place);
        }
        QCOMPARE(sum.pixels(), static_cast<long long>(place.width) * place.height);
        QVERIFY(std::fabs(sum.mean().tones[0] - quarter.tones[0]) < 0.002);
        CancelSwitch cancel;
        cancel.cancel();
        const auto stopped = take_sample(*plate_line, place, JobControl(cancel));
        QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
    }

    void overprintIsHonouredOrNot()
    {
        const auto page =
            spots_page("/A cs 1 scn 0 0 72 72 re f /OP gs /B cs 1 scn 0 0 72 72 re f").content();
        for (const Overprint overprint : {Overprint::Honoured, Overprint::Ignored}) {
            const auto plate_line = take(PlateLine::make(page, {"Alpha", "Beta"}, {}, overprint));
            const PlateTile tile = take(plate_line->render({0, 0, 8, 8}, Dpi(72)));
            QCOMPARE(int(tile.plates[0].at(4, 4)), overprint == Overprint::Honoured ? 255 : 0);
            QCOMPARE(int(tile.plates[1].at(4, 4)), 255);
        }
    }

    void differencesAreThoseOfTheColours()
    {
        // sRGB to Lab by lcms2, ΔE by the formula that the 34 published pairs check.
        const auto &screen = *ProcessProfile::fogra39();
        const std::vector<std::uint32_t> a = {0xFFFFFFFF, 0xFF808080, 0xFF206040, 0xFF000000, 0xFFC04020};
        const std::vector<std::uint32_t> b = {0xFFFFFFFF, 0xFF848080, 0xFF286848, 0xFFFFFFFF, 0xFFC04824};
        const auto map = difference_map(a, b);
        QCOMPARE(map[0], std::uint8_t(0));
        QCOMPARE(map[3], std::uint8_t(255));
        for (std::size_t i = 0; i < a.size(); ++i) {
            const auto lab = [&](std::uint32_t p) {
                return screen.rgb_to_lab({static_cast<std::uint8_t>(p >> 16),
                                          static_cast<std::uint8_t>(p >> 8), static_cast<std::uint8_t>(p)});
            };
            const double expected = std::min(1.0, ciede2000(lab(a[i]), lab(b[i])) / darkest_difference) * 255;
            QVERIFY2(std::fabs(map[i] - expected) <= 3,
                     qPrintable(QStringLiteral("%1: %2").arg(map[i]).arg(expected)));
        }
    }

    // 72 points are an inch: the areas are the rectangles' own, by their sides.
    void changesOfPlatesHaveTheirAreaAndPlace()
    {
        const std::string common = "/A cs 1 scn 4 4 10 10 re f /OP gs ";
        const auto plates = [](const MiniPdf &pdf, std::vector<std::string> inks) {
            return take(PlateLine::make(pdf.content(), std::move(inks)));
        };
        // Beta moves from one corner to another, Gamma is new, Alpha stays.
        MiniPdf one = spots_page(common + "/B cs 1 scn 40 50 18 9 re f");
        MiniPdf two = spots_page(common + "/B cs 0.5 scn 40 10 18 9 re f /A cs 0.03 scn 30 30 9 9 re f");
        const auto before = plates(one, {"Alpha", "Beta", "Old"});
        const auto after = plates(two, {"Beta", "Alpha", "New"});
        const PlateChanges changes = take(compare_plates(*before, *after));
        QVERIFY(!changes.page_size && !changes.alike());
        QCOMPARE(changes.inks.size(), std::size_t(1)); // 3 % less is no change, and empty plates are none
        const InkChange &beta = changes.inks.front();
        QCOMPARE(beta.ink, std::string("Beta"));
        QVERIFY(!beta.added && !beta.removed);
        const double rectangle = 18 * 9 * std::pow(25.4 / 72, 2); // mm²
        QVERIFY2(std::fabs(beta.area_mm2 - 2 * rectangle) < 0.02 * rectangle,
                 qPrintable(QString::number(beta.area_mm2)));
        const double share = 18.0 * 9.0 / (72.0 * 72.0);
        QVERIFY(std::fabs(beta.before - share) < 0.0005 && std::fabs(beta.after - share / 2) < 0.0005);
        QCOMPARE(changes.places.size(), std::size_t(2));
        QCOMPARE(changes.places_in_all, std::size_t(2));
        const double expected_tops[] = {72 - 59, 72 - 19};
        for (std::size_t i = 0; i < 2; ++i) {
            const ChangedPlace &place = changes.places[i];
            QCOMPARE(place.inks, std::vector<std::string>{"Beta"});
            constexpr double cell = 12 * 25.4 / 150;
            QVERIFY(std::fabs(place.area.x - 40 * 25.4 / 72) <= cell);
            QVERIFY(std::fabs(place.area.y - expected_tops[i] * 25.4 / 72) <= cell);
            QVERIFY(place.area.width >= 18 * 25.4 / 72 - 0.2);
            QVERIFY(place.area.width <= 18 * 25.4 / 72 + 2 * cell);
            QVERIFY(std::fabs(place.area_mm2 - rectangle) < 0.1 * rectangle); // whole pixels
        }
    }

    void platesThatComeOrGoAreSaid()
    {
        const auto plates = [](const std::string &contents, std::vector<std::string> inks) {
            return take(PlateLine::make(spots_page(contents).content(), std::move(inks)));
        };
        const auto alpha = plates("/A cs 1 scn 10 10 20 20 re f", {"Alpha"});
        const auto beta = plates("/B cs 1 scn 10 10 20 20 re f", {"Beta"});
        const PlateChanges changes = take(compare_plates(*alpha, *beta));
        QCOMPARE(changes.inks.size(), std::size_t(2));
        for (const InkChange &ink : changes.inks) {
            QCOMPARE(ink.added, ink.ink == "Beta");
            QCOMPARE(ink.removed, ink.ink == "Alpha");
        }
        QCOMPARE(changes.places.size(), std::size_t(1)); // both at one place
        QCOMPARE(changes.places.front().inks.size(), std::size_t(2));
        QVERIFY(take(compare_plates(*alpha, *alpha)).alike());
        MiniPdf large = spots_page("/A cs 1 scn 10 10 20 20 re f");
        large.height = 144;
        const auto wide = take(PlateLine::make(large.content(), {"Alpha"}));
        const PlateChanges sizes = take(compare_plates(*alpha, *wide));
        QVERIFY(sizes.page_size && sizes.places.size() == 2);
        CancelSwitch cancel;
        cancel.cancel();
        const auto stopped = compare_plates(*alpha, *wide, JobControl(cancel));
        QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
    }
};

BICHROM_TEST(TestLooks, QCoreApplication)
#include "tst_looks.moc"
