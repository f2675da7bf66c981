#include "core/colour/tone_value.h"
#include "core/job/curve_file.h"
#include "core/job/screen_settings.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

class TestCurves : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aMeasuredPressGivesTheWorkedFilm()
    {
        // Worked by hand with the cubic of Fritsch & Carlson and weighted harmonic slopes: film → print, then
        // the film that prints a tone, by bisection.
        const auto read = take(read_measured_curve("# film print\n0 0\n2, 3\n5 7.5%\n10 15\n25 38.5\n50 68\n"
                                                   "75;88\n90 96.5\n95 98.5\n100 100\n",
                                                   "press"));
        QVERIFY(!read.smoothed);
        for (const auto &[film, print] : {std::pair(40.0, 57.4523), {60.0, 76.9029}, {80.0, 91.1508}}) {
            QVERIFY(std::fabs(read.printed.at(film / 100) * 100 - print) < 1e-3);
        }
        PressCurve press;
        press.printed = read.printed;
        for (const auto &[print, film] :
             {std::pair(10.0, 6.673), {25.0, 16.239}, {50.0, 33.791}, {75.0, 57.740}, {90.0, 78.126}}) {
            QVERIFY(std::fabs(film_tone(press, print / 100) * 100 - film) < 1e-2);
        }
    }

    void densitiesGiveTheHandbooksToneValues()
    {
        // Murray–Davies and Yule–Nielsen, worked by hand: D 0.30, Ds 1.50 above stock.
        QVERIFY(std::fabs(murray_davies(0.30, 1.50) * 100 - 51.510) < 1e-3);
        QVERIFY(std::fabs(murray_davies(0.30, 1.50, 1.7) * 100 - 38.430) < 1e-3);
        QVERIFY(std::fabs(murray_davies(0.30, 1.50, 2) * 100 - 35.522) < 1e-3);
        QCOMPARE(murray_davies(0, 1.5), 0.0);
        QCOMPARE(murray_davies(1.5, 1.5), 1.0);
        QCOMPARE(murray_davies(0.3, 0), 0.0); // no ink at all
    }

    void spotToneValuesAreThoseOfTheStandard()
    {
        // ISO 20654, formula from memory, worked by hand.
        const Lab stock{95, 0, -2};
        const double first = spot_tone_value(stock, {55, -37, -50}, {75.5, -18.2, -27.1});
        QVERIFY(std::fabs(first * 100 - 48.5265) < 1e-3);
        const double second = spot_tone_value(stock, {89, -5, 93}, {92.1, -3.2, 41});
        QVERIFY(std::fabs(second * 100 - 45.6668) < 1e-3);
        QCOMPARE(spot_tone_value(stock, stock, stock), 0.0);
    }

    void tablesOfOneInkAreRead()
    {
        const std::string lab = "CGATS.17\nORIGINATOR \"the shop\"\nNUMBER_OF_FIELDS 5\nBEGIN_DATA_FORMAT\n"
                                "SAMPLE_ID SPOT_1 LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nNUMBER_OF_SETS 3\n"
                                "BEGIN_DATA\n\"bare stock\" 0 95 0 -2\nA2 50 75.5 -18.2 -27.1\n"
                                "A3 100 55 -37 -50\nEND_DATA\n";
        const auto read = take(read_measured_curve(lab, "table"));
        QVERIFY(std::fabs(read.printed.at(0.5) * 100 - 48.5265) < 1e-3);
        QVERIFY(read.how.find("ISO 20654") != std::string::npos);
        const std::string density =
            "CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID CMYK_C CMYK_K D_VIS\nEND_DATA_FORMAT\n"
            "BEGIN_DATA\n1 0 0 0.10\n2 0 40 0.40\n3 0 100 1.60\nEND_DATA\n";
        QVERIFY(std::fabs(take(read_measured_curve(density, "table")).printed.at(0.4) * 100 - 51.510) < 1e-3);
    }

    void measuredPointsThatFallAreEvenedOut()
    {
        // Two readings of one tone count as their mean; a dip is shared by its neighbours.
        const auto made =
            take(measured_curve({{0.2, 0.30}, {0.2, 0.34}, {0.5, 0.7}, {0.6, 0.66}, {0.8, 0.9}}));
        QVERIFY(made.smoothed);
        QVERIFY(std::fabs(made.printed.at(0.2) - 0.32) < 1e-9);
        QVERIFY(std::fabs(made.printed.at(0.5) - 0.68) < 1e-9);
        QVERIFY(std::fabs(made.printed.at(0.6) - 0.68) < 1e-9);
        QCOMPARE(made.printed.at(0), 0.0);
        QCOMPARE(made.printed.at(1), 1.0);
        double before = 0;
        for (int tone = 0; tone <= 1000; ++tone) {
            const double now = made.printed.at(tone / 1000.0);
            QVERIFY(now >= before - 1e-12);
            before = now;
        }
    }

    void whatIsNoCurveIsRefused_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("says");
        const auto row = [](const char *name, const char *text, const char *says) {
            QTest::newRow(name) << QString::fromUtf8(text) << QString::fromUtf8(says);
        };
        row("nothing", "", "no points");
        row("words", "0 0\nfifty sixty\n", "Line 2");
        row("three numbers", "0 0 0\n", "Line 1");
        row("outside", "50 140\n", "outside");
        row("not a number", "nan 5\n", "Line 1");
        row("a table without solid",
            "BEGIN_DATA_FORMAT\nSPOT_1 D_VIS\nEND_DATA_FORMAT\nBEGIN_DATA\n0 0\n50 0.4\nEND_DATA\n", "solid");
        row("a table of two inks",
            "BEGIN_DATA_FORMAT\nCMYK_C CMYK_M D_VIS\nEND_DATA_FORMAT\nBEGIN_DATA\n0 0 0\n100 0 1\n0 100 1\n"
            "END_DATA\n",
            "one ink");
        row("a row too short",
            "BEGIN_DATA_FORMAT\nSPOT_1 D_VIS\nEND_DATA_FORMAT\nBEGIN_DATA\n0 0\n50\nEND_DATA\n", "Line 6");
        row("a table without columns", "BEGIN_DATA\n0 0\nEND_DATA\n", "values");
    }
    void whatIsNoCurveIsRefused()
    {
        QFETCH(QString, text);
        QFETCH(QString, says);
        const auto read = read_measured_curve(text.toStdString(), "a file");
        QVERIFY(!read);
        QVERIFY2(read.error().reason.find(says.toStdString()) != std::string::npos,
                 read.error().reason.c_str());
        QVERIFY(!read.error().remedy.empty());
    }

    void junkNeitherCrashesNorHangs()
    {
        std::string junk;
        for (int i = 0; i < 200000; ++i) {
            junk += static_cast<char>(i * 131 % 251);
        }
        QVERIFY(!read_measured_curve(junk, "junk"));
        QVERIFY(!read_measured_curve("BEGIN_DATA_FORMAT\n" + junk, "junk"));
        QVERIFY(!read_measured_curve(std::string(2 << 20, '5'), "junk"));
    }
};

BICHROM_TEST(TestCurves, QCoreApplication)
#include "tst_curves.moc"
