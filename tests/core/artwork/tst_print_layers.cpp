// Which layers print: ISO 32000-1, 8.11.
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

class TestPrintLayers : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void states_data()
    {
        // Groups: 11 "Art", 12 "Notes". The page paints Beta inside the property /M.
        QTest::addColumn<QString>("membership");
        QTest::addColumn<QString>("configuration");
        QTest::addColumn<QString>("usage"); // of group 12
        QTest::addColumn<bool>("prints");
        const QString off = QStringLiteral("/OFF [12 0 R]");
        const auto row = [](const char *name) -> QTestData & { return QTest::newRow(name); };
        row("a group that is on") << QStringLiteral("11 0 R") << off << QString() << true;
        row("a group that is off") << QStringLiteral("12 0 R") << off << QString() << false;
        row("base state off") << QStringLiteral("11 0 R") << QStringLiteral("/BaseState /OFF") << QString()
                              << false;
        row("base state off, switched on")
            << QStringLiteral("11 0 R") << QStringLiteral("/BaseState /OFF /ON [11 0 R]") << QString()
            << true;
        const auto member = [](const char *rest) {
            return QStringLiteral("<< /Type /OCMD %1 >>").arg(QString::fromLatin1(rest));
        };
        const char *both = "/OCGs [11 0 R 12 0 R]";
        row("any on is the default") << member(both) << off << QString() << true;
        row("AllOn") << member("/OCGs [11 0 R 12 0 R] /P /AllOn") << off << QString() << false;
        row("AnyOff") << member("/OCGs [11 0 R 12 0 R] /P /AnyOff") << off << QString() << true;
        row("AnyOff, nothing off") << member("/OCGs [11 0 R 12 0 R] /P /AnyOff") << QString() << QString()
                                   << false;
        row("AllOff") << member("/OCGs [11 0 R 12 0 R] /P /AllOff") << off << QString() << false;
        row("AllOff of one") << member("/OCGs 12 0 R /P /AllOff") << off << QString() << true;
        row("no groups: no effect") << member("/OCGs []") << off << QString() << true;
        row("expression Not") << member("/VE [/Not 12 0 R]") << off << QString() << true;
        row("expression And, Not") << member("/OCGs 12 0 R /VE [/And 11 0 R [/Not 12 0 R]]") << off
                                   << QString() << true;
        row("expression And") << member("/VE [/And 11 0 R 12 0 R]") << off << QString() << false;
        row("expression Or") << member("/VE [/Or 12 0 R 11 0 R]") << off << QString() << true;
        const QString no_print = QStringLiteral("/Usage << /Print << /PrintState /OFF >> >>");
        const QString yes_print = QStringLiteral("/Usage << /Print << /PrintState /ON >> >>");
        const QString automatic =
            QStringLiteral("/AS [<< /Event /Print /OCGs [12 0 R] /Category [/Print] >>]");
        row("usage counts when it is applied: off")
            << QStringLiteral("12 0 R") << automatic << no_print << false;
        row("usage counts when it is applied: on")
            << QStringLiteral("12 0 R") << off + automatic << yes_print << true;
        row("usage alone changes nothing") << QStringLiteral("12 0 R") << QString() << no_print << true;
        row("usage for viewing changes nothing in print")
            << QStringLiteral("12 0 R")
            << QStringLiteral("/AS [<< /Event /View /OCGs [12 0 R] /Category [/Print] >>]") << no_print
            << true;
    }
    void states()
    {
        QFETCH(QString, membership);
        QFETCH(QString, configuration);
        QFETCH(QString, usage);
        QFETCH(bool, prints);
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 9 9 re f /OC /M BDC /B cs 1 scn 0 0 9 9 re f EMC",
                                 "/Properties << /M " + membership.toStdString() + " >>");
        pdf.objects.push_back("<< /Type /OCG /Name (Art) >>");
        pdf.objects.push_back("<< /Type /OCG /Name (Notes) " + usage.toStdString() + " >>");
        pdf.catalog_extra =
            "/OCProperties << /OCGs [11 0 R 12 0 R] /D << " + configuration.toStdString() + " >> >>";
        QCOMPARE(pdf.scene().inks.size(), std::size_t(prints ? 2 : 1));
        QCOMPARE(pdf.artwork()->layers().size(), std::size_t(2));
    }
};

BICHROM_TEST(TestPrintLayers, QCoreApplication)
#include "tst_print_layers.moc"
