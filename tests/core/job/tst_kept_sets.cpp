// Sets kept under a name: what is written is read again, what is not one of them is refused.
#include "core/job/kept_sets.h"

#include "core/base/atomic_file.h"
#include "core/job/edits/areas.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

MarkSet large_marks()
{
    MarkSet marks;
    marks.registration = RegistrationMark::Cross;
    marks.size = 12;
    marks.wedge_steps = {1, 2, 3, 5};
    marks.pieces = {LabelPiece::Ink, LabelPiece::Order};
    return marks;
}

PressCurve wet_on_wet()
{
    PressCurve press;
    press.printed = take(ToneCurve::through({{0.25, 0.4}, {0.5, 0.7}}));
    press.wish = take(ToneCurve::through({{0.5, 0.6}}));
    press.least = 0.04;
    press.hold = true;
    return press;
}

} // namespace

class TestKeptSets : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void whatIsKeptIsReadAgain()
    {
        const std::string marks = mark_set_text("Large, \"night\"", large_marks());
        QVERIFY(take(read_mark_set(marks, {})) == large_marks());
        QCOMPARE(name_of_set(marks), std::string("Large, \"night\""));
        const std::string press = press_curve_text("300 mesh", wet_on_wet());
        QVERIFY(take(read_press_curve(press, {})) == wet_on_wet());
        QCOMPARE(name_of_set(press), std::string("300 mesh"));
    }

    void areasOfAStockAreKeptFromItsTrim()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 10 10 20 20 re f");
        pdf.page_extra = "/TrimBox [7.2 14.4 64.8 57.6]"; // 2.54 mm from the left, 5.08 from the top
        const PageInfo page = take(pdf.artwork()->page_info(1));
        Job job = pdf.job().job;
        job.areas = {{AreaKind::Fold, "spine", {12.54, 5.08, 0, 15}, 0},
                     {AreaKind::Glue, {}, {3, 6, 2, 2}, 1},
                     {AreaKind::KeepOut, "of page 2", {0, 0, 1, 1}, 2}};
        const std::string text = area_set_text("Trail box", area_set_of(job, page));
        QCOMPARE(name_of_set(text), std::string("Trail box"));
        const auto set = take(read_area_set(text, {}));
        QCOMPARE(set.size(), std::size_t(2)); // that of another page is not of this stock
        QVERIFY(std::fabs(set[0].area.x - 10) < 1e-4 && std::fabs(set[0].area.y) < 1e-4);
        QCOMPARE(set[1].page, 0);
        // On a page without a trim of its own it stands where that page begins; once, however often used.
        const MiniPdf other = spots_page("/A cs 1 scn 10 10 20 20 re f");
        Job used = with_area_set(other.job().job, take(other.artwork()->page_info(1)), set);
        used = with_area_set(std::move(used), take(other.artwork()->page_info(1)), set);
        QCOMPARE(used.areas.size(), std::size_t(2));
        QVERIFY(std::fabs(used.areas[0].area.x - 10) < 1e-4);
        QCOMPARE(used.areas[0].kind, AreaKind::Fold);
        // Areas that cannot be are refused, and not silently left out.
        for (const char *wrong : {"[{\"kind\":\"glue\",\"name\":\"\",\"page\":0,\"area_mm\":[0,0,0,5]}]",
                                  "[{\"kind\":\"moat\",\"name\":\"\",\"page\":0,\"area_mm\":[0,0,5,5]}]",
                                  "[{\"kind\":\"glue\",\"name\":\"\",\"page\":0,\"area_mm\":[0,0,5]}]"}) {
            const std::string file =
                "{\"bichrom\": \"areas\", \"name\": \"x\", \"values\": " + std::string(wrong) + "}";
            QVERIFY(!read_area_set(file, {}));
        }
        QVERIFY(!read_area_set(mark_set_text("x", large_marks()), {}));
    }

    void whatARecipeLooksAtIsNoTemplate()
    {
        Job job = spots_page("/A cs 1 scn 10 10 20 20 re f").job().job;
        PlacedArtwork placed;
        placed.id = 3;
        QVERIFY(!is_template(job, placed)); // it prints
        placed.prints = false;
        QVERIFY(is_template(job, placed));
        RecipeStep step;
        step.source.from = RecipeFrom::File;
        step.source.artwork = 2;
        job.plates[0].recipe = {step};
        QVERIFY(is_template(job, placed));
        job.plates[0].recipe[0].source.artwork = 3;
        QVERIFY(!is_template(job, placed));
        job.plates[0].recipe[0].does = RecipeDo::Invert; // which has no source
        QVERIFY(is_template(job, placed));
    }

    void whatIsNoSetIsRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("nothing") << QByteArray();
        QTest::newRow("no JSON") << QByteArray("25 40\n50 70\n");
        QTest::newRow("a list") << QByteArray("[1, 2]");
        QTest::newRow("of another program") << QByteArray("{\"name\": \"x\", \"values\": {}}");
        QTest::newRow("without values") << QByteArray("{\"bichrom\": \"marks\", \"name\": \"x\"}");
        QTest::newRow("values of another kind")
            << QByteArray("{\"bichrom\": \"marks\", \"name\": \"x\", \"values\": {\"registration\": 5}}");
        QTest::newRow("a size that cannot be")
            << QByteArray::fromStdString(mark_set_text("x", large_marks())).replace("12.0", "4000.0");
        QTest::newRow("of the other kind") << QByteArray::fromStdString(press_curve_text("x", wet_on_wet()));
    }
    void whatIsNoSetIsRefused()
    {
        QFETCH(QByteArray, text);
        const auto marks = read_mark_set(text.toStdString(), "kept.json");
        QVERIFY(!marks);
        QCOMPARE(marks.error().place, std::string("kept.json"));
        QVERIFY(!marks.error().message().empty());
    }

    void aCurveThatFallsIsRefused()
    {
        QByteArray text = QByteArray::fromStdString(press_curve_text("x", wet_on_wet()));
        QVERIFY(!read_press_curve(mark_set_text("x", large_marks()), {}));
        text.replace("\"least\": 0.04", "\"least\": 0.9");
        QVERIFY(text.contains("0.9"));
        QVERIFY(!read_press_curve(text.toStdString(), {}));
    }

    void filesAreReadUpToAMegabyte()
    {
        QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("a.json")).toStdString();
        QVERIFY(!read_set_file(path));
        QVERIFY(write_file(path, std::string_view("{}")));
        QCOMPARE(take(read_set_file(path)), std::string("{}"));
        QVERIFY(write_file(path, std::string((1 << 20) + 1, ' ')));
        QVERIFY(!read_set_file(path));
    }
};

BICHROM_TEST(TestKeptSets, QCoreApplication)
#include "tst_kept_sets.moc"
