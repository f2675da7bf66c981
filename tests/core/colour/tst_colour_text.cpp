// Colours as artists type them.
#include "core/colour/colour_text.h"

#include "core/colour/colour_difference.h"

#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;

class TestColourText : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void oneColourInManyWords_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("same"); ///< another way to write it; empty = refused
        QTest::newRow("hex") << "#ff0000"
                             << "rgb 255 0 0";
        QTest::newRow("hex, upper case, blanks") << "  #1E90FF"
                                                 << "30 144 255";
        QTest::newRow("three numbers are RGB") << "12, 34, 56"
                                               << "rgb 12 34 56";
        QTest::newRow("letters between") << "R12 G34 B56"
                                         << "12 34 56";
        QTest::newRow("four numbers are CMYK") << "0 100 100 0"
                                               << "C 0 M 100 Y 100 K 0";
        QTest::newRow("percent") << "cmyk 0% 100% 100% 0%"
                                 << "0/100/100/0";
        QTest::newRow("Lab") << "L50 a20 b-30"
                             << "lab 50 20 -30";
        QTest::newRow("decimals") << "lab 50.5, 20.25, -30"
                                  << "Lab: 50.5 20.25 -30";
        QTest::newRow("hex too short") << "#fff"
                                       << "";
        QTest::newRow("hex too long") << "#ff00000"
                                      << "";
        QTest::newRow("no hex") << "#gg0000"
                                << "";
        QTest::newRow("RGB beyond 255") << "rgb 256 0 0"
                                        << "";
        QTest::newRow("CMYK beyond 100") << "0 100 101 0"
                                         << "";
        QTest::newRow("two numbers") << "12 34"
                                     << "";
        QTest::newRow("five numbers") << "1 2 3 4 5"
                                      << "";
        QTest::newRow("a name") << "Moss"
                                << "";
        QTest::newRow("nothing") << ""
                                 << "";
        QTest::newRow("no number") << "rgb 1 2 --"
                                   << "";
    }

    void oneColourInManyWords()
    {
        QFETCH(const QString, text);
        QFETCH(const QString, same);
        const ProcessProfile &condition = *ProcessProfile::fogra39();
        const auto colour = parse_colour(text.toStdString(), condition);
        QCOMPARE(colour.ok(), !same.isEmpty());
        if (!colour) {
            QCOMPARE(colour.error().code, ErrorCode::OutOfRange);
            return;
        }
        const auto other = parse_colour(same.toStdString(), condition);
        QVERIFY(other.ok());
        QVERIFY(ciede2000(*colour, *other) < 1e-9);
    }

    void knownColoursComeOut()
    {
        const ProcessProfile &condition = *ProcessProfile::fogra39();
        // sRGB red and white to D50 Lab (IEC 61966-2-1, Bradford; values of Lindbloom's tables from memory).
        const Lab red = *parse_colour("#ff0000", condition);
        QVERIFY(ciede2000(red, {54.29, 80.81, 69.89}) < 0.5);
        QVERIFY(ciede2000(*parse_colour("#ffffff", condition), {100, 0, 0}) < 0.5);
        QVERIFY(ciede2000(*parse_colour("0 0 0 0", condition), condition.to_lab({0, 0, 0, 0})) < 1e-9);
        const Lab lab = *parse_colour("lab 40 -30 20", condition);
        QCOMPARE(lab.l, 40.0);
        QCOMPARE(lab.a, -30.0);
        QCOMPARE(lab.b, 20.0);
    }
};

BICHROM_TEST(TestColourText, QCoreApplication)
#include "tst_colour_text.moc"
