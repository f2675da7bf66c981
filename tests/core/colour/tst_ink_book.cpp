// Colour differences against the published pairs; ink books read, written, searched.
#include "core/colour/colour_difference.h"
#include "core/colour/ink_book.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QXmlStreamReader>
#include <QtTest>

#include <cmath>
#include <lcms2.h>
#include <set>

using namespace bichrom;
using namespace bichrom::test;

namespace {

std::span<const std::byte> bytes_of(const std::string &text)
{
    return std::as_bytes(std::span(text.data(), text.size()));
}

InkBook some_book()
{
    BookInk measured{"Pond \"deep\"", InkUse::Spot, {40.125, -31.5, -8.25}, {}, true};
    measured.traits.opacity = 0.25;
    measured.traits.reflectance = Spectrum{};
    measured.traits.gain = take(ToneCurve::through({{0, 0}, {0.25, 0.36}, {0.5, 0.65}, {1, 1}}));
    measured.traits.shown_as = Lab{60, 20.5, -30};
    measured.traits.density = 1.15;
    for (std::size_t i = 0; i < measured.traits.reflectance->size(); ++i) {
        (*measured.traits.reflectance)[i] = 0.05 + 0.01 * static_cast<double>(i);
    }
    return {"A <book> & more",
            {measured, {"Водяной белый", InkUse::White, {95, 0, 0}, usual_traits(InkUse::White), false}}};
}

} // namespace

class TestInkBook : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void ciede2000OfThePublishedPairs()
    {
        // Sharma, Wu and Dalal 2005, table 1: L*, a*, b* of both colours, and the difference.
        // The table is written from memory; that the formula meets all 34 to four decimals says it is right.
        static constexpr double pairs[34][7] = {
            {50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425},
            {50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615},
            {50, 2.8361, -74.0200, 50, 0, -82.7485, 3.4412},
            {50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0000},
            {50, -1.1848, -84.8006, 50, 0, -82.7485, 1.0000},
            {50, -0.9009, -85.5211, 50, 0, -82.7485, 1.0000},
            {50, 0, 0, 50, -1, 2, 2.3669},
            {50, -1, 2, 50, 0, 0, 2.3669},
            {50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792},
            {50, 2.49, -0.001, 50, -2.49, 0.0010, 7.1792},
            {50, 2.49, -0.001, 50, -2.49, 0.0011, 7.2195},
            {50, 2.49, -0.001, 50, -2.49, 0.0012, 7.2195},
            {50, -0.001, 2.49, 50, 0.0009, -2.49, 4.8045},
            {50, -0.001, 2.49, 50, 0.0010, -2.49, 4.8045},
            {50, -0.001, 2.49, 50, 0.0011, -2.49, 4.7461},
            {50, 2.5, 0, 50, 0, -2.5, 4.3065},
            {50, 2.5, 0, 73, 25, -18, 27.1492},
            {50, 2.5, 0, 61, -5, 29, 22.8977},
            {50, 2.5, 0, 56, -27, -3, 31.9030},
            {50, 2.5, 0, 58, 24, 15, 19.4535},
            {50, 2.5, 0, 50, 3.1736, 0.5854, 1.0000},
            {50, 2.5, 0, 50, 3.2972, 0, 1.0000},
            {50, 2.5, 0, 50, 1.8634, 0.5757, 1.0000},
            {50, 2.5, 0, 50, 3.2592, 0.3350, 1.0000},
            {60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644},
            {63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630},
            {61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731},
            {35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645},
            {22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373},
            {36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146},
            {90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441},
            {90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381},
            {6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377},
            {2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082}};
        for (const auto &p : pairs) {
            const Lab a{p[0], p[1], p[2]}, b{p[3], p[4], p[5]};
            QVERIFY2(
                std::abs(ciede2000(a, b) - p[6]) < 0.00005,
                qPrintable(QStringLiteral("%1, published %2").arg(ciede2000(a, b), 0, 'f', 4).arg(p[6])));
            QVERIFY(std::abs(ciede2000(b, a) - ciede2000(a, b)) < 1e-12);
        }
    }

    void ciede2000AgreesWithLcms()
    {
        for (int i = 0; i < 500; ++i) {
            const auto part = [&](int factor, double low, double high) {
                return low + (i * factor % 997) / 997.0 * (high - low);
            };
            const Lab a{part(31, 2, 98), part(57, -80, 80), part(73, -80, 80)};
            const Lab b{part(91, 2, 98), part(13, -80, 80), part(7, -80, 80)};
            const cmsCIELab x{a.l, a.a, a.b}, y{b.l, b.a, b.b};
            QVERIFY(std::abs(ciede2000(a, b) - cmsCIE2000DeltaE(&x, &y, 1, 1, 1)) < 1e-3);
        }
        QCOMPARE(ciede2000({30, 5, 5}, {30, 5, 5}), 0.0);
    }

    void theShippedBook()
    {
        const InkBook &book = shipped_inks();
        QVERIFY(book.inks.size() >= 120);
        std::set<std::string> names;
        std::set<InkUse> uses;
        const ProcessProfile &screen = *ProcessProfile::fogra39();
        for (const BookInk &ink : book.inks) {
            QVERIFY2(names.insert(ink.name).second, ink.name.c_str()); // each name once
            uses.insert(ink.use);
            QVERIFY(ink.solid.l > 5 && ink.solid.l < 98);
            // No colour that a screen cannot show at least roughly.
            QVERIFY2(ciede2000(screen.rgb_to_lab(screen.lab_to_rgb(ink.solid)), ink.solid) < 16,
                     ink.name.c_str());
        }
        QCOMPARE(uses.size(), std::size_t(6)); // all but process
        // What the demo and the shipped rules name is in it.
        for (const char *name : {"Base White", "Lamp Yellow", "Luna Green", "Wing Rust", "Dusk Blue",
                                 "Night Black", "Copper Metallic", "Spot Varnish", "Lantern Orange"}) {
            QVERIFY2(names.count(name) == 1, name);
        }
    }

    void booksRoundTrip()
    {
        const InkBook book = some_book();
        const InkBook cgats = take(parse_ink_book(bytes_of(to_cgats(book)), "x"));
        QCOMPARE(cgats.inks.size(), std::size_t(2));
        QCOMPARE(cgats.inks[0].name, std::string("Pond 'deep'")); // CGATS text cannot hold double quotes
        QVERIFY(cgats.inks[0].solid == book.inks[0].solid);
        QVERIFY(cgats.inks[0].locked);
        InkTraits traits = book.inks[0].traits;
        traits.reflectance = cgats.inks[0].traits.reflectance; // compared below, to what is written of it
        QVERIFY(cgats.inks[0].traits == traits);
        QVERIFY(cgats.inks[1] == book.inks[1]);
        const std::string xml = to_cxf(book);
        const InkBook cxf = take(parse_ink_book(bytes_of(xml), "x"));
        QCOMPARE(cxf.name, book.name);
        QCOMPARE(cxf.inks[0].name, book.inks[0].name);
        QCOMPARE(cxf.inks[1].name, book.inks[1].name);
        for (const InkBook *read : {&cgats, &cxf}) {
            QVERIFY(read->inks[0].solid == book.inks[0].solid);
            QVERIFY(read->inks[0].traits.reflectance && !read->inks[1].traits.reflectance);
            for (std::size_t i = 0; i < Spectrum().size(); ++i) {
                QVERIFY(std::abs((*read->inks[0].traits.reflectance)[i] -
                                 (*book.inks[0].traits.reflectance)[i]) < 1e-5);
            }
        }
        // Another reader finds well-formed XML in the standard's namespace.
        QXmlStreamReader reader(QString::fromStdString(xml));
        int objects = 0;
        while (!reader.atEnd()) {
            if (reader.readNext() == QXmlStreamReader::StartElement &&
                reader.name() == QStringLiteral("Object")) {
                QCOMPARE(reader.namespaceUri(), QStringLiteral("http://colorexchangeformat.com/CxF3-core"));
                ++objects;
            }
        }
        QVERIFY(!reader.hasError());
        QCOMPARE(objects, 2);
    }

    void aMeasuredTableIsRead()
    {
        // 1617 patches from Debian's icc-profiles-free; patch 9 is solid magenta.
        const InkBook table = take(read_ink_book(BICHROM_SOURCE_DIR "/tests/data/FOGRA39L.ti3"));
        QCOMPARE(table.inks.size(), std::size_t(1617));
        QCOMPARE(table.name, std::string("FOGRA39L"));
        QVERIFY((table.inks[8].solid == Lab{48, 74, -3}));
    }

    void spectraOfOtherStepsAreRead()
    {
        const auto with = [](const std::string &fields, const std::string &values, int count) {
            const std::string text = "CGATS.17\nNUMBER_OF_FIELDS " + std::to_string(4 + count) +
                                     "\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B" + fields +
                                     "\nEND_DATA_FORMAT\nNUMBER_OF_SETS 1\nBEGIN_DATA\nOne 50 10 10" +
                                     values + "\nEND_DATA\n";
            return take(parse_ink_book(bytes_of(text), "x")).inks[0].traits.reflectance;
        };
        std::string fields, percent, coarse_fields, coarse;
        for (int nm = 400; nm <= 700; nm += 20) {
            fields += " nm" + std::to_string(nm);
            percent += " " + std::to_string((nm - 400) / 10 + 5);
        }
        const auto every20 = with(fields, percent, 16); // in percent, every 20 nm, from 400
        QVERIFY(every20);
        QVERIFY(std::abs((*every20)[2] - 0.05) < 1e-9); // 400 nm
        QVERIFY(std::abs((*every20)[3] - 0.06) < 1e-9); // 410 nm lies between
        QVERIFY(std::abs((*every20)[0] - 0.05) < 1e-9); // not measured: the nearest
        QVERIFY(std::abs((*every20)[35] - 0.35) < 1e-9);
        for (int nm = 400; nm <= 700; nm += 50) {
            coarse_fields += " SPECTRAL_NM" + std::to_string(nm);
            coarse += " 0.2";
        }
        QVERIFY(!with(coarse_fields, coarse, 7)); // too coarse to be made up
    }

    void whatIsNoBookIsRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("empty") << QByteArray();
        QTest::newRow("other text") << QByteArray("hello, world");
        QTest::newRow("other XML") << QByteArray("<svg></svg>");
        QTest::newRow("broken XML") << QByteArray("<cc:CxF");
        QTest::newRow("no colours") << QByteArray("<CxF><Resources/></CxF>");
        QTest::newRow("no Lab") << QByteArray("CGATS.17\nNUMBER_OF_FIELDS 1\nBEGIN_DATA_FORMAT\nSAMPLE_ID\n"
                                              "END_DATA_FORMAT\nNUMBER_OF_SETS 1\nBEGIN_DATA\n1\nEND_DATA\n");
        QTest::newRow("entities that grow")
            << QByteArray("<!DOCTYPE a [<!ENTITY b \"bbbbbbbb\"><!ENTITY c \"&b;&b;&b;\">]><CxF>&c;</CxF>");
    }
    void whatIsNoBookIsRefused()
    {
        QFETCH(QByteArray, text);
        const auto book = parse_ink_book(bytes_of(text.toStdString()), "odd.txt");
        QVERIFY(!book);
        QCOMPARE(book.error().code, ErrorCode::WrongFormat);
        QCOMPARE(book.error().place, std::string("odd.txt"));
    }

    void inksAreFound()
    {
        const InkBook &book = shipped_inks();
        const auto near = nearest_inks(book, {67, 46, 70});
        QCOMPARE(near.size(), std::size_t(5));
        QCOMPARE(book.inks[static_cast<std::size_t>(near[0].index)].name, std::string("Lantern Orange"));
        QCOMPARE(near[0].difference, 0.0);
        for (std::size_t i = 1; i < near.size(); ++i) {
            QVERIFY(near[i].difference >= near[i - 1].difference);
        }
        for (std::size_t i = 0; i < book.inks.size(); ++i) { // nobody nearer is left out
            QVERIFY(ciede2000({67, 46, 70}, book.inks[i].solid) >= near.back().difference ||
                    std::any_of(near.begin(), near.end(),
                                [&](const NearInk &one) { return one.index == static_cast<int>(i); }));
        }
        const auto found = find_inks(book, "blue DUSK");
        QCOMPARE(found.size(), std::size_t(4)); // pale, bright, deep, dull
        QCOMPARE(find_inks(book, "").size(), book.inks.size());
        QVERIFY(find_inks(book, "no such ink").empty());
        QCOMPARE(hue_family({50, 1, 1}), HueFamily::Neutral);
        QCOMPARE(hue_family({87, 4, 78}), HueFamily::Yellow);
        QCOMPARE(hue_family({48, -60, 30}), HueFamily::Green);
        QCOMPARE(hue_family({40, 10, -45}), HueFamily::Blue);
        QCOMPARE(hue_family({45, 60, 40}), HueFamily::Red);
    }
};

BICHROM_TEST(TestInkBook, QCoreApplication)
#include "tst_ink_book.moc"
