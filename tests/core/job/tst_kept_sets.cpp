// Sets kept under a name: what is written is read again, what is not one of them is refused.
#include "core/job/kept_sets.h"

#include "core/base/atomic_file.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

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
