// Renamed inks, read again by this program, by Poppler and by Ghostscript.
#include "core/artwork/rename_ink.h"

#include "core/artwork/intake/convert_picture.h"

#include "core/base/atomic_file.h"

#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QtTest>

#include <memory>
#include <tiffio.h>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const std::string tint = "<< /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [0 1 0 0] /N 1 >>";
const std::string alpha_space = "[/Separation /Alpha /DeviceCMYK " + tint + "]";

std::string stream(const std::string &dict, const std::string &data)
{
    return "<< " + dict + " /Length " + std::to_string(data.size()) + " >>\nstream\n" + data + "\nendstream";
}

/// Alpha in every place where a name can stand.
MiniPdf everywhere()
{
    MiniPdf pdf;
    pdf.width = pdf.height = 200;
    pdf.contents =
        "/A cs 0.8 scn 10 10 40 40 re f /I cs 1 scn 60 10 40 40 re f /N cs 0.5 0.5 scn 110 10 40 40 re f "
        "q 10 60 40 40 re W n /Sh sh Q /Pattern cs /P scn 60 60 40 40 re f q 1 0 0 1 110 60 cm /F Do Q "
        "q 40 0 0 40 10 110 cm /Im Do Q q /Soft gs 0 0 1 0 k 60 110 40 40 re f Q /Half gs";
    pdf.resources =
        "/ColorSpace << /A 10 0 R /I [/Indexed " + alpha_space +
        " 1 <00C0>] /N [/DeviceN [/Alpha /Beta] /DeviceCMYK << /FunctionType 4 /Domain [0 1 0 1] "
        "/Range [0 1 0 1 0 1 0 1] /Length 17 >> << /Colorants 11 0 R /MixingHints << /PrintingOrder [/Beta "
        "/Alpha] "
        "/Solidities << /Alpha 0.9 /Default 0.1 >> /DotGain << /Alpha 12 0 R >> >> >>] >> "
        "/Shading << /Sh << /ShadingType 2 /ColorSpace 10 0 R /Coords [10 60 50 60] /Function "
        "<< /FunctionType 2 /Domain [0 1] /C0 [0] /C1 [1] /N 1 >> >> >> /Pattern << /P 13 0 R >> "
        "/XObject << /F 14 0 R /Im 15 0 R >> /ExtGState << /Soft << /SMask << /S /Luminosity /G 16 0 R >> >> "
        "/Half << /HT << /Type /Halftone /HalftoneType 5 /Alpha 17 0 R /Default 17 0 R >> >> >>";
    // A type 4 function is a stream; DeviceN's stands as its own object.
    const std::string inline_function =
        "<< /FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1 0 1] /Length 17 >>";
    pdf.resources.replace(pdf.resources.find(inline_function), inline_function.size(), "18 0 R");
    const std::string form_resources = "/Resources << /ColorSpace << /A " + alpha_space + " >> >>";
    const std::string halftone =
        "<< /Type /Halftone /HalftoneType 1 /Frequency 60 /Angle 30 /SpotFunction /Round >>";
    pdf.objects = {
        alpha_space,
        "<< /Alpha " + alpha_space + " >>",
        "<< /FunctionType 2 /Domain [0 1] /N 1 >>",
        stream("/Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 8 8] /XStep 8 /YStep 8 " +
                   form_resources,
               "/A cs 1 scn 0 0 4 4 re f"),
        stream("/Type /XObject /Subtype /Form /BBox [0 0 40 40] " + form_resources,
               "/A cs 0.3 scn 0 0 40 40 re f"),
        stream("/Type /XObject /Subtype /Image /Width 2 /Height 2 /BitsPerComponent 8 /ColorSpace 10 0 R",
               std::string("\x10\x50\x90\xD0", 4)),
        stream("/Type /XObject /Subtype /Form /BBox [0 0 200 200] /Group << /S /Transparency /CS " +
                   alpha_space + " >> " + form_resources,
               "/A cs 0.4 scn 0 0 200 200 re f"),
        halftone,
        stream("/FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1 0 1]", "{ 0 3 1 roll 0 }"),
    };
    pdf.page_extra = "/SeparationInfo << /Pages [3 0 R] /DeviceColorant /Alpha >>";
    pdf.catalog_extra =
        "/OutputIntents [<< /Type /OutputIntent /S /GTS_PDFX /OutputConditionIdentifier (made up) "
        "/MixingHints << /Solidities << /Alpha 1 >> >> /SpectralData << /Alpha 17 0 R >> >>]";
    return pdf;
}

QByteArray bytes_of(const std::vector<std::byte> &bytes)
{
    return {reinterpret_cast<const char *>(bytes.data()), static_cast<qsizetype>(bytes.size())};
}

std::vector<std::byte> vector_of(const QByteArray &bytes)
{
    const auto *first = reinterpret_cast<const std::byte *>(bytes.data());
    return {first, first + bytes.size()};
}

QStringList inks_of(const std::vector<std::byte> &pdf)
{
    const auto artwork = take(Artwork::open_bytes(pdf, "renamed.pdf"));
    QStringList names;
    for (const FoundInk &ink : take(record_scene(*take(artwork->interpret(1, PageBox::Media)))).inks) {
        names << QString::fromStdString(ink.name);
    }
    return names;
}

/// An 8-bit TIFF's pixels without its header, whose time stamp differs from run to run.
QByteArray pixels_of(const QString &path)
{
    const std::unique_ptr<TIFF, decltype(&TIFFClose)> tiff(TIFFOpen(qPrintable(path), "r"), TIFFClose);
    if (!tiff) {
        qFatal("no TIFF: %s", qPrintable(path));
    }
    QByteArray pixels;
    for (tstrip_t strip = 0; strip < TIFFNumberOfStrips(tiff.get()); ++strip) {
        QByteArray part(TIFFStripSize(tiff.get()), '\0');
        part.truncate(TIFFReadEncodedStrip(tiff.get(), strip, part.data(), part.size()));
        pixels += part;
    }
    return pixels;
}

} // namespace

class TestRenameInk : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;

    QByteArray poppler(const QString &pdf, const char *name)
    {
        const QString stem = m_folder.filePath(QString::fromLatin1(name));
        (void)output_of(QStringLiteral("pdftoppm"), {QStringLiteral("-r"), QStringLiteral("72"),
                                                     QStringLiteral("-singlefile"), pdf, stem});
        QFile file(stem + QStringLiteral(".ppm"));
        file.open(QIODevice::ReadOnly);
        return file.readAll();
    }

    /// Ghostscript's plates by name, each as the bytes of its file.
    QMap<QString, QByteArray> ghostscript(const QString &pdf, const char *name)
    {
        QDir folder(m_folder.filePath(QString::fromLatin1(name)));
        folder.removeRecursively();
        folder.mkpath(QStringLiteral("."));
        (void)output_of(QStringLiteral("gs"),
                        {QStringLiteral("-q"), QStringLiteral("-dBATCH"), QStringLiteral("-dNOPAUSE"),
                         QStringLiteral("-sDEVICE=tiffsep"), QStringLiteral("-r72"), QStringLiteral("-o"),
                         folder.filePath(QStringLiteral("p.tif")), pdf});
        QMap<QString, QByteArray> plates;
        const QRegularExpression named(QStringLiteral("\\((.*)\\)\\.tif$"));
        for (const QString &file : folder.entryList({QStringLiteral("p(*).tif")})) {
            plates[named.match(file).captured(1)] = pixels_of(folder.filePath(file));
        }
        return plates;
    }

private Q_SLOTS:
    void aNameIsChangedWhereverItStands()
    {
        const MiniPdf pdf = everywhere();
        const std::vector<std::byte> before = pdf.bytes();
        QVERIFY(bytes_of(before).count("/Alpha") >= 14);
        const RenamedPdf renamed =
            take(rename_ink(before, "x.pdf", {"Alpha", "Gamma Ray #2", NameMatch::Exact}));
        QCOMPARE(renamed.inks.size(), std::size_t(1));
        QVERIFY(renamed.inks[0].spaces >= 7);
        const QByteArray after = bytes_of(renamed.bytes);
        QCOMPARE(after.count("Alpha"), 0);
        QCOMPARE(after.count("/Gamma#20Ray#20#232"), bytes_of(before).count("/Alpha"));
        QCOMPARE(inks_of(renamed.bytes),
                 inks_of(before).replaceInStrings(QStringLiteral("Alpha"), QStringLiteral("Gamma Ray #2")));
        QVERIFY(inks_of(renamed.bytes).contains(QStringLiteral("Gamma Ray #2")));
    }

    void pixelsStayTheSame_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("ink");
        const QString made = m_folder.filePath(QStringLiteral("everywhere.pdf"));
        everywhere().save(made);
        QTest::newRow("a name in every place") << made << "Alpha";
        QTest::newRow("the demo") << demo_file() << "Luna Green";
        QTest::newRow("made by LaTeX's colorspace package")
            << QStringLiteral(BICHROM_SOURCE_DIR "/tests/data/latex-spots.pdf") << "MOTH GREEN";
        // A file by another program: Ghostscript's PDF writer, from PostScript.
        const QString ps = m_folder.filePath(QStringLiteral("corpus.ps"));
        QFile file(ps);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(
            "%!PS\n<< /PageSize [200 200] >> setpagedevice\n"
            "[/Separation (Pond Blue) /DeviceCMYK { dup 0.5 mul exch 0 exch 0 exch pop 0 }] setcolorspace\n"
            "0.7 setcolor 20 20 100 100 rectfill\n"
            "[/DeviceN [(Pond Blue) (Reed)] /DeviceCMYK { 0 exch 0 }] setcolorspace\n"
            "0.5 1 setcolor 60 60 100 100 rectfill showpage\n");
        file.close();
        const QString written = m_folder.filePath(QStringLiteral("corpus.pdf"));
        (void)output_of(QStringLiteral("gs"),
                        {QStringLiteral("-q"), QStringLiteral("-dBATCH"), QStringLiteral("-dNOPAUSE"),
                         QStringLiteral("-sDEVICE=pdfwrite"), QStringLiteral("-o"), written, ps});
        QTest::newRow("Ghostscript's PDF, in object streams") << written << "Pond Blue";
    }
    void pixelsStayTheSame()
    {
        QFETCH(QString, file);
        QFETCH(QString, ink);
        const auto before = take(read_file(file.toStdString()));
        const RenamedPdf renamed = take(
            rename_ink(before, file.toStdString(), {ink.toStdString(), "Quite Another", NameMatch::Exact}));
        QCOMPARE(renamed.inks.size(), std::size_t(1));
        const QString after = m_folder.filePath(QStringLiteral("after.pdf"));
        save_bytes(renamed.bytes, after);
        QCOMPARE(poppler(after, "after"), poppler(file, "before"));
        const auto old_plates = ghostscript(file, "old");
        auto new_plates = ghostscript(after, "new");
        QVERIFY2(new_plates.contains(QStringLiteral("Quite Another")),
                 qPrintable(QStringList(new_plates.keys()).join(u',')));
        QVERIFY(!new_plates.contains(ink));
        QVERIFY(old_plates.contains(ink));
        new_plates[ink] = new_plates.take(QStringLiteral("Quite Another"));
        QCOMPARE(new_plates.keys(), old_plates.keys());
        for (const QString &name : old_plates.keys()) {
            QVERIFY2(new_plates[name] == old_plates[name], qPrintable(name));
        }
    }

    void aFileByCairoIsLeftAsItIs()
    {
        // cairo 1.16 writes device colours only: there is no spot to rename, and nothing may be touched.
        const std::string svg = "<svg xmlns='http://www.w3.org/2000/svg' width='40' height='40'>"
                                "<circle cx='20' cy='20' r='15' fill='#287846' opacity='0.5'/></svg>";
        const NormalisedInput made =
            take(convert_picture(std::as_bytes(std::span(svg.data(), svg.size())), {}));
        QVERIFY(bytes_of(made.pdf).contains("cairo"));
        for (const char *name : {"Luna Green", "Black", ".*"}) {
            const RenamedPdf renamed =
                take(rename_ink(made.pdf, "drawing.pdf", {name, "Quite Another", NameMatch::Regex}));
            QVERIFY(renamed.inks.empty() && renamed.bytes.empty());
        }
    }

    void namesAreMatched_data()
    {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<int>("match");
        QTest::addColumn<QString>("expected"); ///< of "Deep Sea C", "DEEP SEA C" and "Reed 40 U"
        const auto exact = static_cast<int>(NameMatch::Exact);
        const auto nocase = static_cast<int>(NameMatch::NoCase);
        const auto regex = static_cast<int>(NameMatch::Regex);
        QTest::newRow("to the letter") << "Deep Sea C"
                                       << "Tide" << exact << "Tide,DEEP SEA C,Reed 40 U";
        QTest::newRow("ignoring case merges") << "deep sea c"
                                              << "Tide" << nocase << "Tide,Reed 40 U";
        QTest::newRow("part of a name is no match") << "Deep"
                                                    << "Tide" << exact << "";
        QTest::newRow("a suffix off all names") << "(.*) [CU]"
                                                << "$1" << regex << "Deep Sea,DEEP SEA,Reed 40";
        QTest::newRow("an expression must match the whole name") << "Reed"
                                                                 << "X" << regex << "";
        QTest::newRow("signs are signs when exact") << "Deep.*"
                                                    << "X" << exact << "";
        QTest::newRow("other alphabets") << "Reed 40 U"
                                         << "Тростник" << exact << "Deep Sea C,DEEP SEA C,Тростник";
    }
    void namesAreMatched()
    {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(int, match);
        QFETCH(QString, expected);
        MiniPdf pdf;
        pdf.contents = "/A cs 1 scn 0 0 9 9 re f /B cs 1 scn 20 0 9 9 re f /C cs 1 scn 40 0 9 9 re f";
        pdf.resources = "/ColorSpace << " + separation("A", "Deep#20Sea#20C") +
                        separation("B", "DEEP#20SEA#20C") + separation("C", "Reed#2040#20U") + " >>";
        const RenamedPdf renamed = take(rename_ink(
            pdf.bytes(), "x.pdf", {from.toStdString(), to.toStdString(), static_cast<NameMatch>(match)}));
        QCOMPARE(renamed.bytes.empty(), expected.isEmpty());
        if (!expected.isEmpty()) {
            QCOMPARE(inks_of(renamed.bytes).join(QLatin1Char(',')), expected);
        }
    }

    void namesWithSignsAreWrittenAsTheyWere()
    {
        // "A #41" is no "A A", neither for the ink that is renamed beside it nor when the copy for the
        // interpreter is made (here for a list of blend modes); keys that contents name stay found.
        MiniPdf pdf;
        pdf.contents = "/S#231 cs 1 scn 0 0 9 9 re f /G#2341 gs /T cs 1 scn 20 0 9 9 re f";
        pdf.resources = "/ColorSpace << " + separation("S#231", "A#20#2341") + separation("T", "Reed") +
                        " >> /ExtGState << /G#2341 << /BM [/Unknown /Multiply] >> >>";
        const QStringList before = inks_of(pdf.bytes());
        QCOMPARE(before, (QStringList{QStringLiteral("A #41"), QStringLiteral("Reed")}));
        const RenamedPdf renamed =
            take(rename_ink(pdf.bytes(), "x.pdf", {"Reed", "Tide #1", NameMatch::Exact}));
        QCOMPARE(inks_of(renamed.bytes), (QStringList{QStringLiteral("A #41"), QStringLiteral("Tide #1")}));
        QVERIFY(bytes_of(renamed.bytes).contains("/Tide#20#231"));
    }

    void theStandInColourChangesWhenAsked()
    {
        MiniPdf pdf;
        pdf.contents = "/A cs 1 scn 0 0 9 9 re f /B cs 1 scn 20 0 9 9 re f";
        pdf.resources = "/ColorSpace << " + separation("A", "Alpha", "0 1 0 0") +
                        separation("B", "Beta", "1 0 0 0") + " >>";
        InkRename rename{"Alpha", "Gamma", NameMatch::Exact};
        rename.standin = {0.2, 0.4, 0.6, 0.1};
        const RenamedPdf renamed = take(rename_ink(pdf.bytes(), "x.pdf", rename));
        const auto artwork = take(Artwork::open_bytes(renamed.bytes, "x.pdf"));
        const Scene scene = take(record_scene(*take(artwork->interpret(1, PageBox::Media))));
        QCOMPARE(scene.inks[0].name, std::string("Gamma"));
        const Cmyk expected = {0.2f, 0.4f, 0.6f, 0.1f};
        for (std::size_t i = 0; i < 4; ++i) {
            QVERIFY(std::fabs(scene.colours[0].build[i] - expected[i]) < 1e-4f);
        }
        QCOMPARE(scene.colours[1].build[0], 1.0f); // the other ink's stays
    }

    void plateNamesInTheMetadataFollow()
    {
        MiniPdf pdf;
        const std::string xmp =
            "<?xpacket begin=\"\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?><x:xmpmeta "
            "xmlns:x=\"urn:meta\"><rdf:RDF "
            "xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\"><rdf:Description "
            "xmlns:xmpTPg=\"urn:pages\" "
            "xmlns:dc=\"http://purl.org/dc/elements/1.1/\">"
            "<dc:title><rdf:Alt><rdf:li>Alpha</rdf:li></rdf:Alt></dc:title><xmpTPg:PlateNames><rdf:Seq>"
            "<rdf:li>Black</rdf:li><rdf:li>Alpha</rdf:li></rdf:Seq></xmpTPg:PlateNames></rdf:Description></"
            "rdf:RDF>"
            "</x:xmpmeta><?xpacket end=\"w\"?>";
        pdf.contents = "/A cs 1 scn 0 0 9 9 re f";
        pdf.resources = "/ColorSpace << " + separation("A", "Alpha") + " >>";
        pdf.catalog_extra = "/Metadata 10 0 R";
        pdf.objects = {"<< /Type /Metadata /Subtype /XML /Length " + std::to_string(xmp.size()) +
                       " >>\nstream\n" + xmp + "\nendstream"};
        const RenamedPdf renamed =
            take(rename_ink(pdf.bytes(), "x.pdf", {"Alpha", "Gamma & Co", NameMatch::Exact}));
        const QByteArray bytes = bytes_of(renamed.bytes);
        QVERIFY(bytes.contains("<rdf:li>Black</rdf:li><rdf:li>Gamma &amp; Co</rdf:li>"));
        QVERIFY(bytes.contains("<rdf:li>Alpha</rdf:li></rdf:Alt>")); // a title is no plate
        QVERIFY(bytes.contains("<?xpacket end=\"w\"?>"));
        QCOMPARE(renamed.inks.at(0).spaces, 1);
    }

    void whatCannotBeIsRefused()
    {
        const auto bytes = everywhere().bytes();
        // [Alpha Beta] would become [Beta Beta].
        const auto twice = rename_ink(bytes, "x.pdf", {"Alpha", "Beta", NameMatch::Exact});
        QVERIFY(!twice && twice.error().code == ErrorCode::OutOfRange);
        QCOMPARE(twice.error().place, std::string("x.pdf"));
        for (const InkRename &bad :
             {InkRename{"", "x", NameMatch::Exact}, InkRename{"Alpha", "", NameMatch::Exact},
              InkRename{"All", "x", NameMatch::Exact}, InkRename{"Alpha", "None", NameMatch::Exact},
              InkRename{"(", "x", NameMatch::Regex}}) {
            QVERIFY(!check_rename(bad));
            QVERIFY(!rename_ink(bytes, "x.pdf", bad));
        }
        QVERIFY(check_rename({"(", "x", NameMatch::Exact}));
        const auto picture =
            rename_ink(vector_of("\x89PNG\r\n\x1a\n"), "x.png", {"a", "b", NameMatch::Exact});
        QVERIFY(!picture && picture.error().code == ErrorCode::WrongFormat);
        const auto broken = rename_ink(vector_of("%PDF-1.4 nothing"), "x.pdf", {"a", "b", NameMatch::Exact});
        QVERIFY(!broken && broken.error().code == ErrorCode::CannotRead);
    }

    void encryptedFilesStayEncrypted()
    {
        const auto locked = encrypted(spots_page("/A cs 1 scn 0 0 9 9 re f").bytes(), "moth");
        const InkRename rename{"Alpha", "Gamma", NameMatch::Exact};
        const auto refused = rename_ink(locked, "x.pdf", rename);
        QVERIFY(!refused && refused.error().code == ErrorCode::PasswordNeeded);
        const RenamedPdf renamed = take(rename_ink(locked, "x.pdf", rename, "moth"));
        const auto closed = Artwork::open_bytes(renamed.bytes, "x.pdf");
        QVERIFY(!closed && closed.error().code == ErrorCode::PasswordNeeded);
        ReadingOptions options;
        options.password = "moth";
        const auto artwork = take(Artwork::open_bytes(renamed.bytes, "x.pdf", options));
        const Scene scene = take(record_scene(*take(artwork->interpret(1, PageBox::Media))));
        QCOMPARE(scene.inks[0].name, std::string("Gamma"));
    }
};

BICHROM_TEST(TestRenameInk, QCoreApplication)
#include "tst_rename_ink.moc"
