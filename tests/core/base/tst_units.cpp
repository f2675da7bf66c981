#include "core/base/file_name.h"
#include "core/base/units.h"

#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;

class TestUnits : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void lengthsAreReadWithTheirUnit_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("mm");
        QTest::newRow("inches without a blank") << "14in" << 355.6;
        QTest::newRow("millimetres") << "0.2 mm" << 0.2;
        QTest::newRow("a point is 1/72 inch") << "1pt" << 25.4 / 72;
        QTest::newRow("a decimal comma") << "2,5 cm" << 25.0;
        QTest::newRow("a bare number is millimetres") << " 12 " << 12.0;
        QTest::newRow("micrometres") << "50 µm" << 0.05;
        QTest::newRow("negative") << "-3 mm" << -3.0;
    }
    void lengthsAreReadWithTheirUnit()
    {
        QFETCH(QString, text);
        QFETCH(double, mm);
        const auto length = parse_length(text.toStdString());
        QVERIFY(length);
        QCOMPARE(length->value, mm);
    }

    void wordsThatAreNoLengthAreRefused_data()
    {
        QTest::addColumn<QString>("text");
        for (const char *text : {"", "mm", "12 ells", "1e999 mm", "nan", "3 mm mm", "1..2"}) {
            QTest::newRow(text) << QString::fromUtf8(text);
        }
    }
    void wordsThatAreNoLengthAreRefused()
    {
        QFETCH(QString, text);
        const auto length = parse_length(text.toStdString());
        QVERIFY(!length);
        QCOMPARE(length.error().code, ErrorCode::OutOfRange);
        QVERIFY(!length.error().remedy.empty());
    }

    void numbersHaveNoTrailingZeros()
    {
        QCOMPARE(format_number(22.5, 3), std::string("22.5"));
        QCOMPARE(format_number(55.0, 2), std::string("55"));
        QCOMPARE(format_number(-0.0001, 2), std::string("0"));
        QCOMPARE(format_length(Millimetres(355.6), LengthUnit::Inch), std::string("14 in"));
    }

    void fileNamesAreSafe_data()
    {
        QTest::addColumn<QString>("ink");
        QTest::addColumn<QString>("file");
        QTest::newRow("plain names stay") << "Luna Green"
                                          << "Luna Green";
        QTest::newRow("separators go") << "a/b\\c:d"
                                       << "a_b_c_d";
        QTest::newRow("no way up") << "../../etc"
                                   << "_._.._etc";
        QTest::newRow("control characters go") << "a\nb\tc"
                                               << "a_b_c";
        QTest::newRow("letters of any language stay") << "Grün €"
                                                      << "Grün €";
        QTest::newRow("empty") << ""
                               << "_";
        QTest::newRow("a device of an old system") << "CON"
                                                   << "CON_";
        QTest::newRow("trailing dots and blanks") << "ink. "
                                                  << "ink._";
    }
    void fileNamesAreSafe()
    {
        QFETCH(QString, ink);
        QFETCH(QString, file);
        const QString safe = QString::fromStdString(safe_file_name(ink.toStdString()));
        if (ink.startsWith(QStringLiteral(".."))) {
            QVERIFY(!safe.contains(QLatin1Char('/')));
            QVERIFY(!safe.startsWith(QLatin1Char('.')));
        } else {
            QCOMPARE(safe, file);
        }
        QVERIFY(safe_file_name(std::string(500, 'x')).size() <= 80);
    }

    void sameFileNamesAreToldApart()
    {
        const auto names = distinct_file_names({"a/b", "a:b", "A_B", "c"});
        QCOMPARE(names, (std::vector<std::string>{"a_b", "a_b-2", "A_B-3", "c"}));
    }
};

BICHROM_TEST(TestUnits, QCoreApplication)
#include "tst_units.moc"
