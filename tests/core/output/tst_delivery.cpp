// The other forms that films and plates leave in, read again by readers that are not ours.
#include "core/output/compose.h"
#include "core/output/films_together.h"
#include "core/output/output_set.h"

#include "support/ghostscript_plates.h"
#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QtTest>

#include <tiffio.h>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Alpha solid left, Beta 40 % overprinting everywhere, Gamma nowhere; 3 × 2 inches, trimmed at 9 pt.
OpenedJob three_inks()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 0 0 108 144 re f /OP gs /B cs 0.4 scn 0 0 216 144 re f");
    pdf.width = 216;
    pdf.height = 144;
    pdf.page_extra = "/TrimBox [9 9 207 135]";
    OpenedJob opened = pdf.job();
    opened.job.name = "Moths (two) \\ ä";
    opened.job.plates.push_back(propose_plate(opened.job.plates, "Gamma", InkUse::Spot, {50, 0, 0}));
    return opened;
}

QByteArray contents_of(const QString &path)
{
    QFile file(path);
    file.open(QIODevice::ReadOnly);
    return file.readAll();
}

/// An object of a PDF as qpdf, an independent reader, has it.
QString qpdf_json(const QString &pdf)
{
    return output_of(QStringLiteral("qpdf"), {QStringLiteral("--json"), pdf});
}

QString composed(const OpenedJob &opened, const QTemporaryDir &folder, PdfForm form,
                 ComposedPdf *made = nullptr)
{
    const QString path = folder.filePath(QString::fromLatin1(to_string(form)) + QStringLiteral(".pdf"));
    ComposeRequest request;
    request.form = form;
    request.date = "2026-11-28";
    request.resolution = Dpi(300);
    ComposedPdf result = take(compose_pdf(opened, path.toStdString(), request));
    if (made != nullptr) {
        *made = std::move(result);
    }
    return path;
}

} // namespace

class TestDelivery : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void postScriptFilmsAreTheTiffsToThePixel()
    {
        OpenedJob opened = three_inks();
        opened.job.film.resolution = Dpi(400);
        QTemporaryDir folder;
        OutputRequest request;
        request.label.date = "2026-11-28";
        request.folder = folder.filePath(QStringLiteral("tiff")).toStdString();
        const Manifest tiffs = take(write_films(opened, request));
        opened.job.film.format = FilmFormat::PostScript;
        request.folder = folder.filePath(QStringLiteral("ps")).toStdString();
        const Manifest made = take(write_films(opened, request));
        QCOMPARE(made.plates.size(), std::size_t(2)); // without the one that prints nothing
        const QString ps = QString::fromStdString((request.folder / made.plates[0].file).string());
        (void)output_of(QStringLiteral("gs"),
                        {QStringLiteral("-q"), QStringLiteral("-dSAFER"), QStringLiteral("-dBATCH"),
                         QStringLiteral("-dNOPAUSE"), QStringLiteral("-sDEVICE=tiffg4"),
                         QStringLiteral("-r400"), QStringLiteral("-o"),
                         folder.filePath(QStringLiteral("page%d.tif")), ps});
        for (std::size_t i = 0; i < 2; ++i) {
            const TiffFile ours = read_tiff(folder.filePath(QStringLiteral("tiff/")) +
                                            QString::fromStdString(tiffs.plates[i].file));
            const TiffFile theirs = read_tiff(folder.filePath(QStringLiteral("page%1.tif").arg(i + 1)));
            QCOMPARE(theirs.width, ours.width);
            QCOMPARE(theirs.height, ours.height);
            int differing = 0;
            for (int y = 0; y < ours.height; ++y) {
                for (int x = 0; x < ours.width; ++x) {
                    differing += ours.film.at(x, y) != theirs.film.at(x, y) ? 1 : 0;
                }
            }
            QCOMPARE(differing, 0);
        }
        // Document Structuring Conventions 3.0, and the comments of colour separations (from memory).
        const QByteArray text = contents_of(ps);
        QVERIFY(text.startsWith("%!PS-Adobe-3.0\n%%Title: (Moths \\(two\\) \\\\ \\303\\244)\n"));
        QVERIFY(text.contains("%%Pages: 2\n"));
        QVERIFY(text.contains("%%DocumentCustomColors: (Alpha)\n%%+ (Beta)\n"));
        QVERIFY(text.contains("%%Page: (Beta) 2\n"));
        QVERIFY(text.contains("%%PlateColor: (Alpha)\n"));
        for (const QByteArray &line : text.split('\n')) {
            QVERIFY(line.size() <= 255);
        }
    }

    void severalFilmsShareOneToThePixel()
    {
        OpenedJob opened = three_inks();
        opened.job.film.resolution = Dpi(300);
        QTemporaryDir folder;
        OutputRequest request;
        request.blank_too = true; // three films
        request.folder = folder.filePath(QStringLiteral("each")).toStdString();
        const Manifest each = take(write_films(opened, request));
        const TiffFile one =
            read_tiff(folder.filePath(QStringLiteral("each/")) + QString::fromStdString(each.plates[0].file));
        const double wide = one.width * 25.4 / 300;
        struct Case
        {
            FilmsTogether on;
            std::vector<int> sheets; ///< of each film
            int files;
        };
        const std::vector<Case> cases = {
            {{2 * wide + 20, 0, 5}, {1, 1, 1}, 1},     // a roll: two beside each other
            {{wide + 1, 0, 5}, {1, 1, 1}, 1},          // one below the other
            {{2 * wide + 20, wide, 5}, {1, 1, 2}, 2}}; // sheets that hold two
        for (const Case &one_case : cases) {
            QTemporaryDir place;
            request.folder = place.path().toStdString();
            request.together = one_case.on;
            const Manifest made = take(write_films(opened, request));
            QCOMPARE(
                QDir(place.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot).size(),
                one_case.files + 1); // and the manifest; nothing hidden is left
            for (std::size_t i = 0; i < 3; ++i) {
                const WrittenPlate &plate = made.plates[i];
                QVERIFY(plate.file.ends_with("-films-" + std::to_string(one_case.sheets[i]) + ".tif"));
                const TiffFile sheet = read_tiff(place.filePath(QString::fromStdString(plate.file)));
                const TiffFile film = read_tiff(folder.filePath(QStringLiteral("each/")) +
                                                QString::fromStdString(each.plates[i].file));
                const int x0 = static_cast<int>(std::lround(plate.x_mm * 300 / 25.4));
                const int y0 = static_cast<int>(std::lround(plate.y_mm * 300 / 25.4));
                QVERIFY(x0 + film.width <= sheet.width && y0 + film.height <= sheet.height);
                int differing = 0;
                for (int y = 0; y < film.height; ++y) {
                    for (int x = 0; x < film.width; ++x) {
                        differing += film.film.at(x, y) != sheet.film.at(x0 + x, y0 + y) ? 1 : 0;
                    }
                }
                QCOMPARE(differing, 0);
            }
            QVERIFY(manifest_to_json(made).find("\"x_mm\"") != std::string::npos);
        }
        QTemporaryDir none;
        request.folder = none.path().toStdString();
        request.together = {wide - 5, 0, 5};
        QCOMPARE(write_films(opened, request).error().code, ErrorCode::OutOfRange);
        QVERIFY(
            QDir(none.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot).isEmpty());
    }

    void filmsThatShareOneMayLieTurnedAndBePagesOfADocument()
    {
        OpenedJob opened = three_inks();
        opened.job.film.resolution = Dpi(300);
        QTemporaryDir folder;
        OutputRequest request;
        request.blank_too = true;
        request.folder = folder.filePath(QStringLiteral("each")).toStdString();
        const Manifest each = take(write_films(opened, request));
        std::vector<TiffFile> films;
        for (const WrittenPlate &plate : each.plates) {
            films.push_back(
                read_tiff(folder.filePath(QStringLiteral("each/")) + QString::fromStdString(plate.file)));
        }
        const double high = films[0].height * 25.4 / 300, wide = films[0].width * 25.4 / 300;
        const FilmsTogether on{2 * high + 20, wide + 1, 5, true}; // two on the first, one on the second
        const TogetherPlan plan = take(plan_together(films[0].width, films[0].height, 3, Dpi(300), on));
        QCOMPARE(plan.sheets, 2);
        QVERIFY(std::abs(film_used(plan, Dpi(300)) - 2 * on.width * on.height / 100) < 1);
        request.together = on;
        for (const FilmFormat format : {FilmFormat::Tiff, FilmFormat::Pdf, FilmFormat::PostScript}) {
            opened.job.film.format = format;
            request.folder = folder.filePath(QString::fromLatin1(to_string(format))).toStdString();
            const Manifest made = take(write_films(opened, request));
            std::vector<TiffFile> sheets;
            for (int sheet = 1; sheet <= 2; ++sheet) {
                const WrittenPlate &plate = made.plates[sheet == 1 ? 0 : 2];
                QString file = QString::fromStdString((request.folder / plate.file).string());
                if (format != FilmFormat::Tiff) { // an outside reader makes pixels of it
                    const QString read = folder.filePath(QStringLiteral("sheet%1.tif").arg(sheet));
                    QProcess gs;
                    gs.start(QStringLiteral("gs"),
                             {QStringLiteral("-q"), QStringLiteral("-dNOPAUSE"), QStringLiteral("-dBATCH"),
                              QStringLiteral("-sDEVICE=tiffg4"), QStringLiteral("-r300"),
                              QStringLiteral("-sPageList=%1").arg(sheet),
                              QStringLiteral("-sOutputFile=") + read, file});
                    QVERIFY(gs.waitForFinished(300'000) && gs.exitCode() == 0);
                    file = read;
                }
                sheets.push_back(read_tiff(file));
            }
            for (std::size_t i = 0; i < 3; ++i) {
                const WrittenPlate &plate = made.plates[i];
                QVERIFY(plate.turned && plate.shares);
                QCOMPARE(plate.sheet, i < 2 ? 1 : 2);
                const TiffFile &sheet = sheets[static_cast<std::size_t>(plate.sheet - 1)], &film = films[i];
                const int x0 = static_cast<int>(std::lround(plate.x_mm * 300 / 25.4));
                const int y0 = static_cast<int>(std::lround(plate.y_mm * 300 / 25.4));
                QVERIFY(x0 + film.height <= sheet.width && y0 + film.width <= sheet.height);
                int differing = 0;
                for (int y = 0; y < film.height; ++y) {
                    for (int x = 0; x < film.width; ++x) {
                        // Clockwise: the lower left corner becomes the upper left one.
                        differing +=
                            film.film.at(x, y) != sheet.film.at(x0 + film.height - 1 - y, y0 + x) ? 1 : 0;
                    }
                }
                QVERIFY2(differing == 0, to_string(format));
            }
            QVERIFY(manifest_to_json(made).find("\"turned\": true") != std::string::npos);
        }
    }

    void filmPdfsAreNotToBeScaled()
    {
        OpenedJob opened = three_inks();
        opened.job.film.format = FilmFormat::Pdf;
        opened.job.film.resolution = Dpi(300);
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const Manifest made = take(write_films(opened, request));
        const QString json = qpdf_json(folder.filePath(QString::fromStdString(made.plates[0].file)));
        QVERIFY(json.contains(QStringLiteral("\"/PrintScaling\": \"/None\"")));
    }

    void oneTiffHoldsAllInksByName()
    {
        const OpenedJob opened = three_inks();
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.filePath(QStringLiteral("single")).toStdString();
        const Manifest single = take(write_plates(opened, Dpi(150), PageBox::Media, request));
        request.folder = folder.filePath(QStringLiteral("multi")).toStdString();
        const Manifest multi =
            take(write_plates(opened, Dpi(150), PageBox::Media, request, {}, PlateFiles::OneForAll));
        QCOMPARE(multi.plates.size(), std::size_t(2));
        QCOMPARE(multi.plates[0].file, multi.plates[1].file);
        QCOMPARE(multi.plates[1].coverage, single.plates[1].coverage);
        TIFF *tiff = TIFFOpen((request.folder / multi.plates[0].file).c_str(), "r");
        QVERIFY(tiff != nullptr);
        // TIFF 6.0, section 16: Separated, InkSet 2, the names with a zero after each.
        std::uint16_t photometric = 0, samples = 0, set = 0;
        char *names = nullptr;
        TIFFGetField(tiff, TIFFTAG_PHOTOMETRIC, &photometric);
        TIFFGetField(tiff, TIFFTAG_SAMPLESPERPIXEL, &samples);
        TIFFGetField(tiff, TIFFTAG_INKSET, &set);
        TIFFGetField(tiff, TIFFTAG_INKNAMES, &names);
        QCOMPARE(int(photometric), PHOTOMETRIC_SEPARATED);
        QCOMPARE(int(samples), 2);
        QCOMPARE(int(set), INKSET_MULTIINK);
        QCOMPARE(QByteArray(names, 11), QByteArray("Alpha\0Beta\0", 11));
        std::vector<std::uint8_t> row(static_cast<std::size_t>(TIFFScanlineSize(tiff)));
        const TiffFile alpha = read_tiff(
            folder.filePath(QStringLiteral("single/") + QString::fromStdString(single.plates[0].file)));
        const TiffFile beta = read_tiff(
            folder.filePath(QStringLiteral("single/") + QString::fromStdString(single.plates[1].file)));
        for (int y = 0; y < alpha.height; ++y) {
            QCOMPARE(TIFFReadScanline(tiff, row.data(), static_cast<std::uint32_t>(y)), 1);
            for (int x = 0; x < alpha.width; ++x) {
                QCOMPARE(row[static_cast<std::size_t>(2 * x)], alpha.plate.at(x, y));
                QCOMPARE(row[static_cast<std::size_t>(2 * x + 1)], beta.plate.at(x, y));
            }
        }
        TIFFClose(tiff);
        // And this program finds the same inks in it.
        const auto again = take(open_job_or_artwork(request.folder / multi.plates[0].file));
        QCOMPARE(again.job.inks(), (std::vector<std::string>{"Alpha", "Beta"}));
    }

    /// ISO 15930-7:2010, from memory: what a PDF/X-4 must hold.
    void theUsualPdfSaysWhatPdfX4Asks()
    {
        OpenedJob opened = three_inks();
        QTemporaryDir folder;
        ComposedPdf made;
        const QString path = composed(opened, folder, PdfForm::X4, &made);
        QVERIFY(made.against.empty());
        const QByteArray raw = contents_of(path);
        QVERIFY(raw.startsWith("%PDF-1.6"));
        QVERIFY(raw.contains("<pdfxid:GTS_PDFXVersion>PDF/X-4</pdfxid:GTS_PDFXVersion>"));
        QVERIFY(raw.contains("<xmpMM:RenditionClass>default</xmpMM:RenditionClass>"));
        QVERIFY(raw.contains("<pdf:Trapped>False</pdf:Trapped>"));
        const QString json = qpdf_json(path);
        for (const char *key :
             {"\"/S\": \"/GTS_PDFX\"", "\"/OutputConditionIdentifier\"", "\"/DestOutputProfile\"",
              "\"/N\": 4", "\"/TrimBox\"", "\"/BleedBox\"", "\"/Trapped\": \"/False\"", "\"/ModDate\"",
              "\"/CreationDate\"", "\"/ID\"", "\"/OCProperties\"", "u:Artwork"}) {
            QVERIFY2(json.contains(QLatin1String(key)), key);
        }
        QVERIFY(!json.contains(QStringLiteral("\"/ArtBox\"")));
        QVERIFY(!json.contains(QStringLiteral("\"/Encrypt\"")));
        const QString info = output_of(QStringLiteral("pdfinfo"), {QStringLiteral("-box"), path});
        QVERIFY(info.contains(QRegularExpression(QStringLiteral("TrimBox: +9.00 +9.00 +207.00 +135.00"))));
        QVERIFY(info.contains(QStringLiteral("216 x 144 pts")));
        // Made again it is the same file.
        QTemporaryDir other;
        QCOMPARE(contents_of(composed(opened, other, PdfForm::X4)), raw);
        opened.job.traps.on = true;
        QVERIFY(
            contents_of(composed(opened, folder, PdfForm::X4)).contains("<pdf:Trapped>True</pdf:Trapped>"));
        // What cannot keep to it is told.
        MiniPdf wide = spots_page("/A cs 1 scn 0 0 100 100 re f");
        wide.width = 15000;
        (void)composed(wide.job(), folder, PdfForm::X4, &made);
        QCOMPARE(made.against.size(), std::size_t(1));
    }

    void pixelPdfsHoldThePlates()
    {
        const OpenedJob opened = three_inks();
        QTemporaryDir folder;
        ComposedPdf made;
        const QString flat = composed(opened, folder, PdfForm::Flat, &made);
        QCOMPARE(made.pages.front().plates.size(), std::size_t(2)); // Gamma prints nothing
        QVERIFY(contents_of(flat).startsWith("%PDF-1.3"));
        const auto theirs = ghostscript_plates(flat, 300, {QStringLiteral("Alpha"), QStringLiteral("Beta")});
        const auto line =
            take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(opened.job)));
        const PlateTile ours = take(line->render(line->extent(Dpi(300)), Dpi(300)));
        QVERIFY(mean_difference(ours.plates[0], theirs.at(QStringLiteral("Alpha"))) <= 0.002);
        QVERIFY(mean_difference(ours.plates[1], theirs.at(QStringLiteral("Beta"))) <= 0.002);

        const QString separated = composed(opened, folder, PdfForm::Separated);
        QVERIFY(contents_of(separated).startsWith("%PDF-1.3"));
        const QString info = output_of(QStringLiteral("pdfinfo"), {separated});
        QVERIFY(info.contains(QRegularExpression(QStringLiteral("Pages: +2"))));
        QVERIFY(qpdf_json(separated).contains(QStringLiteral("\"/DeviceColorant\": \"/Beta\"")));
        (void)output_of(QStringLiteral("pdftoppm"),
                        {QStringLiteral("-gray"), QStringLiteral("-r"), QStringLiteral("72"), separated,
                         folder.filePath(QStringLiteral("grey"))});
        const QImage beta(folder.filePath(QStringLiteral("grey-2.pgm")));
        QCOMPARE(beta.size(), QSize(216, 144));
        QVERIFY(std::abs(qGray(beta.pixel(100, 70)) - 153) <= 1); // 40 % ink
    }

    /// More inks than a PDF 1.3 space may hold go into several, which overprint.
    void flatPdfsOfManyInksKeepThemAll()
    {
        MiniPdf pdf;
        QStringList inks;
        for (int i = 0; i < 10; ++i) {
            const std::string name = "Ink " + std::to_string(i);
            inks << QString::fromStdString(name);
            pdf.resources += separation("S" + std::to_string(i), "Ink#20" + std::to_string(i));
            pdf.contents += "/S" + std::to_string(i) + " cs 1 scn " + std::to_string(i * 6) + " 0 6 72 re f ";
        }
        pdf.resources = "/ColorSpace << " + pdf.resources + " >>";
        QTemporaryDir folder;
        const auto plates = ghostscript_plates(composed(pdf.job(), folder, PdfForm::Flat), 72, inks);
        for (int i = 0; i < 10; ++i) {
            const Plane &plane = plates.at(inks[i]);
            QCOMPARE(int(plane.at(i * 6 + 3, 30)), 255);
            QCOMPARE(int(plane.at((i * 6 + 15) % 60, 30)), 0);
        }
    }

    void otherReadersFindNoFault()
    {
        OpenedJob opened = three_inks();
        opened.job.traps.on = true;
        QTemporaryDir folder;
        for (const PdfForm form : {PdfForm::X4, PdfForm::Flat, PdfForm::Separated}) {
            const QString path = composed(opened, folder, form);
            QVERIFY(output_of(QStringLiteral("qpdf"), {QStringLiteral("--check"), path})
                        .contains(QStringLiteral("No syntax or stream encoding errors found")));
            (void)output_of(QStringLiteral("pdftocairo"),
                            {QStringLiteral("-png"), QStringLiteral("-r"), QStringLiteral("72"), path,
                             folder.filePath(QStringLiteral("seen"))});
        }
        QVERIFY(QDir(folder.path()).entryList({QStringLiteral("seen*")}).size() >= 2);
    }

    void stoppingLeavesNothing()
    {
        const OpenedJob opened = three_inks();
        QTemporaryDir folder;
        CancelSwitch stop;
        stop.cancel();
        for (const PdfForm form : {PdfForm::X4, PdfForm::Flat, PdfForm::Separated}) {
            ComposeRequest request;
            request.form = form;
            const auto made = compose_pdf(opened, folder.filePath(QStringLiteral("x.pdf")).toStdString(),
                                          request, JobControl(stop));
            QVERIFY(!made);
            QCOMPARE(made.error().code, ErrorCode::Cancelled);
        }
        QVERIFY(
            QDir(folder.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot).isEmpty());
    }
};

BICHROM_TEST(TestDelivery, QCoreApplication)
#include "tst_delivery.moc"
