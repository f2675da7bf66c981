#include "core/artwork/found_colours.h"
#include "core/artwork/object_filter.h"
#include "core/artwork/scene.h"
#include "core/job/job_file.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <algorithm>
#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

QStringList ink_names(const Scene &scene)
{
    QStringList names;
    for (const FoundInk &ink : scene.inks) {
        names << QString::fromStdString(ink.name);
    }
    return names;
}

} // namespace

class TestScene : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void objectsComeInPaintingOrderAsWritten()
    {
        const Scene scene =
            spots_page("/A cs 0.6 scn 10 10 20 30 re f /OPM1 gs 0 0 0 1 K 2 w 0 5 m 72 5 l S").scene();
        QCOMPARE(scene.objects.size(), std::size_t(2));
        const SceneObject &fill = scene.objects[0];
        QCOMPARE(fill.kind, ObjectKind::Fill);
        QCOMPARE(fill.index, 0);
        QCOMPARE(fill.colour.space, std::string("Separation"));
        QCOMPARE(fill.colour.colorants, std::vector<std::string>{"Alpha"});
        QVERIFY(std::fabs(fill.colour.values[0] - 0.6f) < 1e-6f);
        QVERIFY(!fill.overprint);
        QCOMPARE(fill.bounds, (Rect{10, 32, 20, 30})); // y down from the top of 72
        const SceneObject &line = scene.objects[1];
        QCOMPARE(line.kind, ObjectKind::Stroke);
        QVERIFY(line.overprint);
        QCOMPARE(line.overprint_mode, 1);
        QCOMPARE(line.stroke_width, 2.0);
        QVERIFY(scene.uses_overprint);
        QVERIFY(!scene.uses_transparency);
        QCOMPARE(QString::fromStdString(describe(fill.colour)), QStringLiteral("Alpha 60 %"));
        QCOMPARE(QString::fromStdString(describe(line.colour)), QStringLiteral("C 0 M 0 Y 0 K 100"));
    }

    void inksAreFoundWhereverTheyPaint_data()
    {
        QTest::addColumn<QString>("contents");
        QTest::addColumn<QStringList>("inks");
        const QString rest = QStringLiteral(" 0 0 72 72 re f ");
        QTest::newRow("nothing painted, nothing found") << QString() << QStringList();
        QTest::newRow("a spot in the resources that nothing uses")
            << QStringLiteral("/A cs 1 scn") + rest << QStringList{QStringLiteral("Alpha")};
        QTest::newRow("DeviceN names all its inks")
            << QStringLiteral("/N cs 1 0 scn") + rest
            << QStringList{QStringLiteral("Alpha"), QStringLiteral("Beta")};
        QTest::newRow("None is no ink") << QStringLiteral("/No cs 1 scn") + rest << QStringList();
        QTest::newRow("All is no ink of its own") << QStringLiteral("/All cs 1 scn") + rest << QStringList();
        QTest::newRow("only process inks that hold ink")
            << QStringLiteral("0 0.5 0 0 k") + rest << QStringList{QStringLiteral("Magenta")};
        QTest::newRow("white is no ink") << QStringLiteral("1 g") + rest << QStringList();
        QTest::newRow("process inks stand first")
            << QStringLiteral("/B cs 1 scn") + rest + QStringLiteral("0 g") + rest
            << QStringList{QStringLiteral("Black"), QStringLiteral("Beta")};
        QTest::newRow("inside a tiling pattern")
            << QStringLiteral("/Pattern cs /Tile scn") + rest << QStringList{QStringLiteral("Beta")};
        QTest::newRow("inside a form") << QStringLiteral("/Form Do ") << QStringList{QStringLiteral("Beta")};
    }
    void inksAreFoundWhereverTheyPaint()
    {
        QFETCH(QString, contents);
        QFETCH(QStringList, inks);
        MiniPdf pdf =
            spots_page(contents.toStdString(), "/Pattern << /Tile 11 0 R >> /XObject << /Form 12 0 R >>");
        const std::string drawing = "/B cs 1 scn 0 0 5 5 re f";
        const std::string resources = "/Resources << /ColorSpace << " + separation("B", "Beta") +
                                      " >> >> /Length " + std::to_string(drawing.size()) + " >>\nstream\n" +
                                      drawing + "\nendstream";
        pdf.objects.push_back("<< /Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 10 10] "
                              "/XStep 10 /YStep 10 " +
                              resources);
        pdf.objects.push_back("<< /Type /XObject /Subtype /Form /BBox [0 0 10 10] " + resources);
        QCOMPARE(ink_names(pdf.scene()), inks);
    }

    void namesOfAnyKindAreExact()
    {
        MiniPdf pdf;
        pdf.resources = "/ColorSpace << " + separation("A", "Gr#C3#BCn#20#2F#20No.#281#29") + ">>";
        pdf.contents = "/A cs 1 scn 0 0 72 72 re f";
        QCOMPARE(ink_names(pdf.scene()), QStringList{QStringLiteral("Grün / No.(1)")});
    }

    void aSpotsColourIsItsAlternateAtFullTint()
    {
        const Scene scene = spots_page("/A cs 0.1 scn 0 0 72 72 re f").scene();
        const Lab magenta = ProcessProfile::fogra39()->to_lab({0, 1, 0, 0});
        QVERIFY(std::fabs(scene.inks[0].solid.a - magenta.a) < 0.5);
        QVERIFY(std::fabs(scene.inks[0].solid.l - magenta.l) < 0.5);
    }

    void imagesTellTheirResolution()
    {
        MiniPdf pdf = spots_page("144 0 0 36 0 0 cm /Im Do ", "/XObject << /Im 11 0 R >>");
        pdf.width = 144;
        pdf.objects.push_back("<< /Type /XObject /Subtype /Image /Width 4 /Height 2 /BitsPerComponent 8 "
                              "/ColorSpace /DeviceGray "
                              "/Filter /ASCIIHexDecode /Length 17 >>\nstream\n0011223344556677>\nendstream");
        const Scene scene = pdf.scene();
        QCOMPARE(scene.objects.size(), std::size_t(1));
        QCOMPARE(scene.objects[0].kind, ObjectKind::Image);
        QCOMPARE(scene.objects[0].image_width, 4);
        QCOMPARE(scene.objects[0].image_ppi, 2.0); // 4 pixels over 2 inches, 2 over half an inch: the lower
    }

    void textTellsFontAndSize()
    {
        const Scene scene = take(record_scene(
            *take(take(Artwork::open(demo_file().toStdString()))->interpret(1, PageBox::Media))));
        const auto text = std::find_if(scene.objects.begin(), scene.objects.end(),
                                       [](const SceneObject &o) { return o.kind == ObjectKind::Text; });
        QVERIFY(text != scene.objects.end());
        QVERIFY(text->font.find("BichromSans") != std::string::npos);
        QVERIFY(std::fabs(text->font_size - 58) < 0.01);
        // The faults put into the demo on purpose.
        const auto thin = std::count_if(scene.objects.begin(), scene.objects.end(), [](const SceneObject &o) {
            return o.kind == ObjectKind::Stroke && std::fabs(o.stroke_width * 25.4 / 72 - 0.05) < 1e-4;
        });
        QCOMPARE(thin, 1);
        const auto stray = std::count_if(scene.objects.begin(), scene.objects.end(),
                                         [](const SceneObject &o) { return o.colour.space == "DeviceCMYK"; });
        QCOMPARE(stray, 1);
    }

    void coloursAreListedOnceWithTheirObjects()
    {
        const Scene scene =
            spots_page("/A cs 0.6 scn 0 0 9 9 re f 9 9 9 9 re f 0 0 0 1 k 0 0 5 5 re f").scene();
        const auto colours = find_colours(scene);
        QCOMPARE(colours.size(), std::size_t(2));
        QCOMPARE(colours[0]->objects, 2);
        QCOMPARE(colours[1]->objects, 1);
    }

    void objectsAtAPoint_data()
    {
        QTest::addColumn<QString>("contents");
        QTest::addColumn<QList<int>>("hits"); // at 20, 20 points from the top left of 72
        QTest::newRow("bare") << QStringLiteral("0 0 9 9 re f") << QList<int>{};
        QTest::newRow("two fills, the upper last")
            << QStringLiteral("0 0 72 72 re f 10 42 20 20 re f") << QList<int>{0, 1};
        QTest::newRow("the hole of a ring")
            << QStringLiteral("0 0 72 72 re 10 42 20 20 re f*") << QList<int>{};
        QTest::newRow("inside the bounds, beside the triangle")
            << QStringLiteral("0 0 m 72 72 l 72 0 l f") << QList<int>{};
        QTest::newRow("a line") << QStringLiteral("2 w 0 52 m 72 52 l S 0 30 m 72 30 l S") << QList<int>{0};
        QTest::newRow("clipped away")
            << QStringLiteral("q 40 0 30 72 re W n 0 0 72 72 re f Q 0 0 72 72 re f") << QList<int>{1};
        QTest::newRow("inside a clip")
            << QStringLiteral("q 0 30 30 30 re W n 0 0 72 72 re f Q") << QList<int>{0};
        QTest::newRow("a form") << QStringLiteral("/A cs 1 scn 0 0 72 72 re f") << QList<int>{0};
    }
    void objectsAtAPoint()
    {
        QFETCH(QString, contents);
        QFETCH(QList<int>, hits);
        const auto page = spots_page(contents.toStdString()).content();
        const auto found = take(objects_at(*page, Points(20), Points(20)));
        QCOMPARE(QList<int>(found.begin(), found.end()), hits);
    }

    void objectsAreDescribed()
    {
        const Scene scene = spots_page("/OP gs /A cs 0.6 scn /A CS 1 SCN 0.5 w 0 5 m 72 5 l S").scene();
        QCOMPARE(QString::fromStdString(describe(scene.objects[0])),
                 QStringLiteral("stroke, Alpha 100 %, line 0.5 pt, overprints"));
    }

    void layersAreNamedAndHiddenOnesLeftOut()
    {
        MiniPdf pdf = spots_page(
            "/OC /Shown BDC /A cs 1 scn 0 0 9 9 re f EMC /OC /Hidden BDC /B cs 1 scn 0 0 9 9 re f EMC",
            "/Properties << /Shown 11 0 R /Hidden 12 0 R >>");
        pdf.objects.push_back("<< /Type /OCG /Name (Print) >>");
        pdf.objects.push_back("<< /Type /OCG /Name (Notes) >>");
        pdf.catalog_extra = "/OCProperties << /OCGs [11 0 R 12 0 R] /D << /OFF [12 0 R] >> >>";
        const auto artwork = pdf.artwork();
        QCOMPARE(artwork->layers().size(), std::size_t(2));
        QVERIFY(artwork->layers()[0].prints);
        QVERIFY(!artwork->layers()[1].prints);
        const Scene scene = take(record_scene(*take(artwork->interpret(1, PageBox::Media))));
        QCOMPARE(ink_names(scene), QStringList{QStringLiteral("Alpha")});
        QCOMPARE(scene.objects[0].layer, std::string("Print"));
    }

    void objectsAreFiltered_data()
    {
        QTest::addColumn<QString>("what");
        QTest::addColumn<QList<int>>("expected");
        QTest::newRow("nothing asked") << "" << QList<int>{0, 1, 2, 3, 4};
        QTest::newRow("lines") << "stroke" << QList<int>{1};
        QTest::newRow("Alpha, but not its 0 %") << "Alpha" << QList<int>{0};
        QTest::newRow("cyan: named, and as RGB becomes it") << "Cyan" << QList<int>{3, 4};
        QTest::newRow("black: RGB may become it, this CMYK holds none") << "Black" << QList<int>{4};
        QTest::newRow("one colour as written") << "colour" << QList<int>{3};
        QTest::newRow("overprints") << "overprint" << QList<int>{1};
        QTest::newRow("small") << "small" << QList<int>{2};
        QTest::newRow("large") << "large" << QList<int>{0, 1};
        QTest::newRow("outside all layers") << "no layer" << QList<int>{0, 1, 2, 3, 4};
    }
    void objectsAreFiltered()
    {
        QFETCH(QString, what);
        QFETCH(QList<int>, expected);
        const Scene scene = spots_page("/A cs 1 scn 0 0 60 60 re f /OP gs /B CS 1 SCN 2 w 5 5 m 65 5 l S "
                                       "/Half gs q /A cs 0 scn 10 10 4 4 re f Q 1 0 0 0 k 0 0 20 20 re f "
                                       "1 0 0 rg 0 0 20 20 re f")
                                .scene();
        ObjectFilter filter;
        if (what == QStringLiteral("stroke")) {
            filter.kind = ObjectKind::Stroke;
        } else if (what == QStringLiteral("colour")) {
            filter.colour = describe(scene.objects[3].colour);
        } else if (what == QStringLiteral("overprint")) {
            filter.overprint = true;
            filter.kind = ObjectKind::Stroke; // the state stays on for what follows
        } else if (what == QStringLiteral("small")) {
            filter.smaller_than = Millimetres(2);
        } else if (what == QStringLiteral("large")) {
            filter.larger_than = Millimetres(10);
        } else if (what == QStringLiteral("no layer")) {
            filter.layer = "";
        } else {
            filter.ink = what.toStdString();
        }
        const std::vector<int> found = find_objects(scene, filter);
        QCOMPARE(QList<int>(found.begin(), found.end()), expected);
    }

    void textThatTellsNoCharactersHasNone()
    {
        // The demo's handbill is set in glyphs that its writer did not name.
        const OpenedJob opened = take(open_job_or_artwork(BICHROM_SOURCE_DIR "/demo/handbill.pdf"));
        const auto content = take(opened.artwork->interpret(1, PageBox::Media, opened.job.colours));
        int texts = 0;
        for (const SceneObject &object : take(record_scene(*content)).objects) {
            texts += object.kind == ObjectKind::Text ? 1 : 0;
            QVERIFY(object.text.empty() || object.text.find_first_not_of(' ') != std::string::npos);
        }
        QVERIFY(texts > 0);
    }
};

BICHROM_TEST(TestScene, QCoreApplication)
#include "tst_scene.moc"
