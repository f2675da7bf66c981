// Several artworks in one print: where each point of a placed page lands is worked out by hand from
// ISO 32000-1, 8.3 (boxes, Rotate, UserUnit); two multiplied tones t and u give 1 − (1 − t)(1 − u)
// (ISO 32000-1, 11.3.5.2 and 11.7.4.2).
#include "core/artwork/placed_artwork.h"
#include "core/job/change_slip.h"
#include "core/job/replace_artwork.h"
#include "core/job/routing.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QTemporaryDir>

using namespace bichrom;
using namespace bichrom::test;

namespace {

constexpr double mm = 25.4 / 72;
const std::string all = " 0 0 72 72 re f ";

PlacedArtwork placed(const MiniPdf &pdf, double x = 0, double y = 0)
{
    PlacedArtwork one;
    one.name = "type.pdf";
    one.original = pdf.artwork();
    one.x = x * mm;
    one.y = y * mm;
    return one;
}

struct Printed
{
    std::shared_ptr<const PageContent> page;
    Scene scene;
    std::shared_ptr<const PlateLine> plate_line;
    PlateTile tile;

    [[nodiscard]] int tone(const std::string &ink, int x, int y) const
    {
        for (std::size_t i = 0; i < plate_line->inks().size(); ++i) {
            if (plate_line->inks()[i] == ink) {
                return tile.plates[i].at(x, y);
            }
        }
        return -1;
    }
};

Printed print(const std::shared_ptr<const Artwork> &artwork, const std::vector<Route> &routes = {},
              std::vector<std::string> inks = {})
{
    Printed printed;
    printed.page = take(artwork->interpret(1, PageBox::Media));
    printed.scene = take(record_scene(*printed.page));
    PlateSetup setup;
    setup.inks = inks.empty() ? propose_job(printed.scene, "test").inks() : std::move(inks);
    setup.routes = routes;
    printed.plate_line = take(PlateLine::make(printed.page, setup));
    printed.tile = take(printed.plate_line->render(printed.plate_line->extent(Dpi(72)), Dpi(72)));
    return printed;
}

Printed print(const MiniPdf &first, const Placements &placements)
{
    return print(take(assemble(first.artwork(), placements)));
}

/// Half of the page's own colour, and a mark of one pixel at (10, 20) to (20, 30) from the top left.
MiniPdf marked_page(const std::string &ink_operator)
{
    return spots_page(ink_operator + " 10 42 10 10 re f");
}

} // namespace

class TestPlacedArtwork : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aPlacedPageLandsWhereItIsPut_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::addColumn<double>("scale");
        QTest::addColumn<int>("turn");
        QTest::addColumn<int>("first_rotate");
        QTest::addColumn<int>("left"); // of the mark, in pixels of the shown page
        QTest::addColumn<int>("top");
        QTest::addColumn<int>("size");
        // The mark lies 10 from the left and 20 from the top of a 72 point square, 10 wide.
        QTest::newRow("as it is") << 0.0 << 0.0 << 1.0 << 0 << 0 << 10 << 20 << 10;
        QTest::newRow("shifted") << 5.0 << 7.0 << 1.0 << 0 << 0 << 15 << 27 << 10;
        QTest::newRow("half as large") << 20.0 << 0.0 << 0.5 << 0 << 0 << 25 << 10 << 5;
        QTest::newRow("a quarter turn") << 0.0 << 0.0 << 1.0 << 1 << 0 << 72 - 30 << 10 << 10;
        QTest::newRow("upside down") << 0.0 << 0.0 << 1.0 << 2 << 0 << 72 - 20 << 72 - 30 << 10;
        QTest::newRow("three quarters") << 0.0 << 0.0 << 1.0 << 3 << 0 << 20 << 72 - 20 << 10;
        QTest::newRow("on a page turned by itself") << 5.0 << 7.0 << 1.0 << 0 << 90 << 15 << 27 << 10;
        QTest::newRow("on a page turned back") << 5.0 << 7.0 << 0.5 << 1 << 270 << 5 + 21 << 7 + 5 << 5;
        QTest::newRow("on a page upside down") << 5.0 << 7.0 << 1.0 << 0 << 180 << 15 << 27 << 10;
    }
    void aPlacedPageLandsWhereItIsPut()
    {
        QFETCH(double, x);
        QFETCH(double, y);
        QFETCH(double, scale);
        QFETCH(int, turn);
        QFETCH(int, first_rotate);
        QFETCH(int, left);
        QFETCH(int, top);
        QFETCH(int, size);
        MiniPdf first = spots_page("");
        first.width = 100; // not square, so that a mixed-up turn shows
        first.page_extra = "/Rotate " + std::to_string(first_rotate);
        PlacedArtwork one = placed(marked_page("/A cs 1 scn"), x, y);
        one.scale = scale;
        one.turn = turn;
        const Printed printed = print(first, {{one}, 0});
        QCOMPARE(printed.scene.objects.size(), std::size_t(1));
        for (const auto &[px, py, tone] : {std::tuple(left, top, 255),
                                           {left + size - 1, top + size - 1, 255},
                                           {left - 1, top, 0},
                                           {left, top - 1, 0},
                                           {left + size, top, 0},
                                           {left, top + size, 0}}) {
            QVERIFY2(
                printed.tone("Alpha", px, py) == tone,
                qPrintable(QStringLiteral("%1 %2: %3").arg(px).arg(py).arg(printed.tone("Alpha", px, py))));
        }
    }

    void theBoxThatIsPlacedIsTheCropBox()
    {
        MiniPdf upper = marked_page("/A cs 1 scn");
        upper.page_extra = "/CropBox [5 32 45 62] /UserUnit 2"; // 40 × 30, twice as large on paper
        MiniPdf first = spots_page("");
        first.width = first.height = 100;
        PlacedArtwork one = placed(upper, 3, 4);
        const auto size = take(placed_size(one));
        QVERIFY(std::abs(size.first - 80 * mm) < 1e-6 && std::abs(size.second - 60 * mm) < 1e-6);
        const Printed printed = print(first, {{one}, 0});
        // The mark: 5 to 15 from the crop box's left, 10 to 20 from its top; doubled, then shifted.
        QCOMPARE(printed.tone("Alpha", 3 + 10, 4 + 20), 255);
        QCOMPARE(printed.tone("Alpha", 3 + 29, 4 + 39), 255);
        QCOMPARE(printed.tone("Alpha", 3 + 9, 4 + 20), 0);
        QCOMPARE(printed.tone("Alpha", 3 + 30, 4 + 39), 0);
    }

    void whatIsOutsideTheCropBoxIsNotPlaced()
    {
        MiniPdf upper = spots_page("/A cs 1 scn" + all);
        upper.page_extra = "/CropBox [0 36 72 72]";
        MiniPdf first = spots_page("");
        const Printed printed = print(first, {{placed(upper)}, 0});
        QCOMPARE(printed.tone("Alpha", 36, 35), 255);
        QCOMPARE(printed.tone("Alpha", 36, 36), 0);
    }

    void theUpperKnocksOutOrOverprints()
    {
        const MiniPdf first = spots_page("/B cs 0.6 scn" + all);
        const MiniPdf upper = spots_page("/A cs 1 scn 0 0 36 72 re f /B cs 0.5 scn 36 0 18 72 re f");
        PlacedArtwork one = placed(upper);
        const Printed out = print(first, {{one}, 0});
        QCOMPARE(out.tone("Alpha", 10, 36), 255);
        QCOMPARE(out.tone("Beta", 10, 36), 0);
        QCOMPARE(out.tone("Beta", 40, 36), 128);
        QCOMPARE(out.tone("Beta", 60, 36), 153); // nothing over it
        one.overprints = true;
        const Printed over = print(first, {{one}, 0});
        QCOMPARE(over.tone("Alpha", 10, 36), 255);
        QCOMPARE(over.tone("Beta", 10, 36), 153);
        QVERIFY(std::abs(over.tone("Beta", 40, 36) - 204) <= 1); // 1 − 0.4 × 0.5 = 0.8
        QCOMPARE(over.tone("Beta", 60, 36), 153);
    }

    void anOverprintingArtworkKnocksOutWithinItself()
    {
        const MiniPdf upper = spots_page("/A cs 1 scn" + all + "/B cs 1 scn 0 0 36 72 re f");
        PlacedArtwork one = placed(upper);
        one.overprints = true;
        const Printed printed = print(spots_page(""), {{one}, 0});
        QCOMPARE(printed.tone("Alpha", 10, 36), 0);
        QCOMPARE(printed.tone("Beta", 10, 36), 255);
        QCOMPARE(printed.tone("Alpha", 60, 36), 255);
    }

    void theyLieInTheOrderGiven()
    {
        const MiniPdf first = spots_page("/A cs 1 scn 0 0 72 36 re f");
        PlacedArtwork under = placed(spots_page("/B cs 1 scn 0 0 36 72 re f"));
        PlacedArtwork over = placed(spots_page("/A cs 0.5 scn 0 0 18 72 re f"));
        over.id = 2;
        const Printed printed = print(first, {{under, over}, 1});
        QCOMPARE(printed.tone("Alpha", 30, 60), 255); // the first file over the lower one
        QCOMPARE(printed.tone("Beta", 30, 60), 0);
        QCOMPARE(printed.tone("Beta", 30, 10), 255);
        QCOMPARE(printed.tone("Alpha", 9, 60), 128); // and the upper one over both
        QCOMPARE(printed.tone("Beta", 9, 10), 0);
        const Scene &scene = printed.scene;
        QCOMPARE(scene.objects.size(), std::size_t(3));
        QCOMPARE(scene.objects[0].artwork, 1);
        QCOMPARE(scene.objects[1].artwork, 0);
        QCOMPARE(scene.objects[1].own_index, 0); // its number in its own file
        QCOMPARE(scene.objects[2].artwork, 2);
    }

    void eachKeepsItsOwnRoutes()
    {
        // The same colour, layer, ink and object number in both.
        const std::string layers = "/Properties << /L 11 0 R >>"; // of both files, under one name
        MiniPdf both =
            spots_page("/OC /L BDC /A cs 1 scn 0 0 36 72 re f EMC 0 0 0 1 k 36 0 36 72 re f", layers);
        both.objects.push_back("<< /Type /OCG /Name (Type) >>");
        both.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /ON [11 0 R] >> >>";
        MiniPdf first = both;
        first.width = 144;
        const auto artwork = take(assemble(first.artwork(), {{placed(both, 72, 0)}, 0}));
        const Scene scene = print(artwork).scene;
        QCOMPARE(scene.objects.size(), std::size_t(4));
        QCOMPARE(scene.colours.size(), std::size_t(4)); // by artwork
        QCOMPARE(scene.objects[2].layer, std::string("Type"));
        QCOMPARE(artwork->layers().size(), std::size_t(2)); // the private ones are not listed
        const std::vector<std::string> inks = {"Cyan", "Magenta", "Yellow", "Black", "Alpha", "Gold"};
        Route route;
        route.targets = {{"Gold", false, 1, {}}};
        const auto check = [&](int first_gold, int placed_gold, int at) {
            const Printed printed = print(artwork, {route}, inks);
            QCOMPARE(printed.tone("Gold", at, 36), first_gold);
            QCOMPARE(printed.tone("Gold", 72 + at, 36), placed_gold);
            // What the tables say of each object is what the plates get.
            for (const SceneObject &object : scene.objects) {
                const Reach reach = reach_of({1, object.own_index, object.layer,
                                              &scene.colours[static_cast<std::size_t>(object.colour_number)]},
                                             {route}, inks);
                const bool gold = reach.plates.size() == 1 && reach.plates[0].ink == "Gold";
                const int x = static_cast<int>(object.bounds.x + object.bounds.width / 2);
                QCOMPARE(printed.tone("Gold", x, 36), gold ? 255 : 0);
            }
        };
        for (const int artwork_id : {0, 1}) {
            route.artwork = artwork_id;
            const int one = artwork_id == 0 ? 255 : 0;
            route.by = RouteBy::Colour;
            route.colour = scene.colours[1].colour; // the black
            check(one, 255 - one, 50);
            route.by = RouteBy::Layer;
            route.name = "Type";
            check(one, 255 - one, 10);
            route.by = RouteBy::Ink;
            route.name = "Alpha";
            check(one, 255 - one, 10);
            route.by = RouteBy::Objects;
            route.objects = {{1, 1, ObjectKind::Fill, {}}};
            check(one, 255 - one, 50);
        }
    }

    void layersOfAPlacedFileStayAsTheyPrint()
    {
        MiniPdf upper =
            spots_page("/OC /L BDC /A cs 1 scn 0 0 36 72 re f EMC /OC /M BDC /A cs 1 scn 36 0 18 72 re f EMC",
                       "/Properties << /L 11 0 R /M 12 0 R >>");
        upper.objects.push_back("<< /Type /OCG /Name (Hidden) >>");
        upper.objects.push_back("<< /Type /OCMD /OCGs [11 0 R] /P /AllOff >>");
        upper.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /OFF [11 0 R] >> >>";
        const Printed printed = print(spots_page(""), {{placed(upper)}, 0});
        QCOMPARE(printed.tone("Alpha", 10, 36), 0);
        QCOMPARE(printed.tone("Alpha", 40, 36), 255);
    }

    void aLayerNamedLikeOursBelongsToItsOwnFile()
    {
        MiniPdf first = spots_page("/OC /L BDC /A cs 1 scn" + all + "EMC", "/Properties << /L 11 0 R >>");
        first.objects.push_back("<< /Type /OCG /Name (bichrom-placed:7) >>");
        first.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /ON [11 0 R] >> >>";
        QCOMPARE(first.scene().objects[0].artwork, 0);
        PlacedArtwork one = placed(first);
        one.id = 3;
        const Printed printed = print(spots_page(""), {{one}, 0});
        QCOMPARE(printed.scene.objects[0].artwork, 3);
    }

    void picturesAndDrawingsCanBePlaced()
    {
        const char *svg =
            "<svg xmlns='http://www.w3.org/2000/svg' width='72pt' height='72pt' viewBox='0 0 72 72'>"
            "<rect x='0' y='0' width='36' height='72' fill='#000'/></svg>";
        const auto *bytes = reinterpret_cast<const std::byte *>(svg);
        PlacedArtwork one;
        one.name = "drawing.svg";
        one.original = take(Artwork::open_bytes({bytes, bytes + std::strlen(svg)}, one.name));
        one.overprints = true;
        const Printed printed = print(spots_page("/A cs 1 scn" + all), {{one}, 0});
        QVERIFY(printed.tone("Black", 10, 36) > 200);
        QCOMPARE(printed.tone("Alpha", 10, 36), 255);
        QCOMPARE(printed.tone("Black", 60, 36), 0);
    }

    void theOriginalsStayAsTheyCame()
    {
        const MiniPdf first = spots_page("/A cs 1 scn" + all);
        const auto artwork = first.artwork();
        const auto assembled = take(assemble(artwork, {{placed(marked_page("/B cs 1 scn"))}, 0}));
        QCOMPARE(assembled->sha256(), artwork->sha256());
        QVERIFY(std::equal(assembled->bytes().begin(), assembled->bytes().end(), artwork->bytes().begin(),
                           artwork->bytes().end()));
        // Taken away again, the first file prints as it did.
        const Printed before = print(artwork);
        const Printed after = print(take(assemble(assembled, {})));
        QCOMPARE(after.tile.plates.size(), before.tile.plates.size());
        QVERIFY(after.tile.plates[0] == before.tile.plates[0]);
    }

    void whatCannotBePlacedIsSaid()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn" + all);
        PlacedArtwork one = placed(pdf);
        one.page = 2;
        QCOMPARE(assemble(pdf.artwork(), {{one}, 0}).error().code, ErrorCode::NoSuchPage);
        one.page = 1;
        one.on_page = 2;
        QCOMPARE(assemble(pdf.artwork(), {{one}, 0}).error().code, ErrorCode::NoSuchPage);
        one.on_page = 1;
        for (const double scale : {0.0, -1.0, 1000.0, std::nan("")}) {
            one.scale = scale;
            QCOMPARE(assemble(pdf.artwork(), {{one}, 0}).error().code, ErrorCode::OutOfRange);
        }
    }

    void aSavedJobBringsAllItsArtworksBack()
    {
        QTemporaryDir folder;
        const MiniPdf first = spots_page("/B cs 1 scn" + all);
        PlacedArtwork one = placed(marked_page("/A cs 1 scn"), 5, 7);
        one.id = 4;
        one.turn = 1;
        one.scale = 0.5;
        one.overprints = true;
        OpenedJob opened = first.job();
        opened.job.placements = {{one}, 1};
        opened.artwork = take(assemble(opened.artwork, opened.job.placements));
        Route route;
        route.by = RouteBy::Ink;
        route.artwork = 4;
        route.name = "Alpha";
        route.targets = {{"Gold", true, 1, {}}};
        opened.job.routes = {route};
        const std::string path = folder.filePath(QStringLiteral("two.bichrom")).toStdString();
        QVERIFY(save_job(path, opened.job, *opened.artwork));
        const OpenedJob back = take(open_job(path));
        QCOMPARE(back.job.placements.below, std::size_t(1));
        const PlacedArtwork &again = back.job.placements.artworks.at(0);
        QCOMPARE(again.original->sha256(), one.original->sha256());
        PlacedArtwork expected = one;
        expected.original = again.original;
        QVERIFY(again == expected);
        QVERIFY(back.job.routes == opened.job.routes);
        QVERIFY(print(back.artwork).tile.plates[0] == print(opened.artwork).tile.plates[0]);
        QVERIFY(list_changes(back.job)[0].what.find("under the artwork") != std::string::npos);
        QVERIFY(list_changes(back.job)[1].what.starts_with("In type.pdf: "));
    }

    void aRevisedPlacedFileKeepsItsRoutes()
    {
        const MiniPdf first = spots_page("/A cs 1 scn 0 0 9 9 re f");
        const auto before = take(assemble(first.artwork(), {{placed(marked_page("/A cs 1 scn"))}, 0}));
        // The revision paints something else first; the marked square is the same.
        const auto after = take(
            assemble(first.artwork(),
                     {{placed(spots_page("/B cs 1 scn 60 60 9 9 re f /A cs 1 scn 10 42 10 10 re f"))}, 0}));
        const Scene old_scene = print(before).scene;
        Job job = propose_job(old_scene, "test");
        Route route;
        route.by = RouteBy::Objects;
        route.artwork = 1;
        const Rect &b = old_scene.objects[1].bounds;
        route.objects = {{1, 0, ObjectKind::Fill, {b.x * mm, b.y * mm, b.width * mm, b.height * mm}}};
        route.targets = {{"Alpha", false, 0.5, {}}};
        job.routes = {route};
        const Replacement replaced = carry_over(job, {{1, old_scene}}, {{1, print(after).scene}});
        QVERIFY(replaced.dropped.empty());
        QCOMPARE(replaced.job.routes[0].objects[0].index, 1);
        QCOMPARE(print(after, replaced.job.routes).tone("Alpha", 15, 25), 128);
    }

    void aFileThatDoesNotPrintGivesRecipesAnArea()
    {
        // A grey half and a black bar placed over a page of Alpha: they leave no trace on the plates, and a
        // recipe takes them as dark as they are, also where something of the page lies over them.
        Placements placements;
        placements.artworks = {
            placed(MiniPdf{72, 72, "0.5 g 0 0 36 72 re f 0 g 36 0 10 72 re f", "", "", "", {}, {}})};
        placements.artworks[0].prints = false;
        const MiniPdf first = spots_page("/A cs 1 scn 0 0 72 72 re f");
        OpenedJob job = first.job();
        job.job.placements = placements;
        const auto artwork = take(assemble(first.artwork(), placements));
        Plate white = propose_plate(job.job.plates, "White", InkUse::White, {96, 0, 0});
        RecipeStep file;
        file.source.from = RecipeFrom::File;
        file.source.artwork = 1;
        white.recipe = {file};
        job.job.plates.push_back(white);
        const auto page = take(artwork->interpret(1, PageBox::Media));
        const auto tones = [&](const Job &asked) {
            return take(take(PlateLine::make(page, setup_of(asked)))->render({0, 0, 72, 72}, Dpi(72)));
        };
        const PlateTile silent = tones(job.job);
        QCOMPARE(int(silent.plates[0].at(20, 36)), 255);
        QCOMPARE(int(silent.plates[0].at(40, 36)), 255);
        QVERIFY(std::abs(silent.plates[1].at(20, 36) - 128) <= 1);
        QCOMPARE(int(silent.plates[1].at(40, 36)), 255);
        QCOMPARE(int(silent.plates[1].at(60, 36)), 0);
        // The same file printing: it knocks Alpha out; the recipe sees it all the same.
        job.job.placements.artworks[0].prints = true;
        const PlateTile loud = tones(job.job);
        QCOMPARE(int(loud.plates[0].at(20, 36)), 0);
        QVERIFY(std::abs(loud.plates[1].at(20, 36) - 128) <= 1);
        // Under the page it is hidden in print, not for recipes.
        job.job.placements.below = 1;
        const auto under = take(assemble(first.artwork(), job.job.placements));
        const auto below = take(under->interpret(1, PageBox::Media));
        const PlateTile hidden =
            take(take(PlateLine::make(below, setup_of(job.job)))->render({0, 0, 72, 72}, Dpi(72)));
        QCOMPARE(int(hidden.plates[0].at(20, 36)), 255);
        QVERIFY(std::abs(hidden.plates[1].at(20, 36) - 128) <= 1);
        // And it is kept in the job.
        const QTemporaryDir folder;
        const std::filesystem::path path = folder.filePath(QStringLiteral("job.bichrom")).toStdString();
        job.job.placements.artworks[0].prints = false;
        QVERIFY(bool(save_job(path, job.job, *first.artwork())));
        QVERIFY(!take(open_job(path)).job.placements.artworks.at(0).prints);
        const auto changes = list_changes(job.job);
        QVERIFY(std::any_of(changes.begin(), changes.end(), [](const ChangeEntry &entry) {
            return entry.what.find("does not print") != std::string::npos;
        }));
    }
};

BICHROM_TEST(TestPlacedArtwork, QCoreApplication)
#include "tst_placed_artwork.moc"
