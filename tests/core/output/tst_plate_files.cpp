#include "core/output/output_set.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QtTest>

#include <tiffio.h>

using namespace bichrom;
using namespace bichrom::test;

class TestPlateFiles : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void platesAreMinIsWhiteTones()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f /OP gs /B cs 0.4 scn 0 0 72 72 re f");
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const Manifest manifest = take(write_plates(pdf.job(), Dpi(144), PageBox::Media, request));
        QCOMPARE(manifest.plates.size(), std::size_t(2));
        const TiffFile alpha = read_tiff(folder.filePath(QString::fromStdString(manifest.plates[0].file)));
        QCOMPARE(alpha.bits, 8);
        QCOMPARE(alpha.photometric, PHOTOMETRIC_MINISWHITE);
        QCOMPARE(alpha.width, 144);
        QCOMPARE(alpha.x_resolution, 144.0);
        QCOMPARE(alpha.plate.at(10, 10), std::uint8_t(255));
        QCOMPARE(alpha.plate.at(100, 10), std::uint8_t(0));
        const TiffFile beta = read_tiff(folder.filePath(QString::fromStdString(manifest.plates[1].file)));
        QCOMPARE(beta.plate.at(100, 10), std::uint8_t(102));
        QVERIFY(manifest_to_json(manifest).find("\"lpi\": null") != std::string::npos);
    }

    void inkNamesBecomeSafeDistinctFiles()
    {
        MiniPdf pdf;
        pdf.resources = "/ColorSpace << " + separation("A", "a#2Fb") + separation("B", "a#3Ab") +
                        separation("C", "..#2F..#2Fx") + ">>";
        pdf.contents = "/A cs 1 scn 0 0 9 9 re f /B cs 1 scn 9 9 9 9 re f /C cs 1 scn 20 20 9 9 re f";
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.filePath(QStringLiteral("plates")).toStdString();
        const Manifest manifest = take(write_plates(pdf.job(), Dpi(72), PageBox::Media, request));
        QCOMPARE(manifest.plates[0].ink, std::string("a/b"));
        QCOMPARE(manifest.plates[1].ink, std::string("a:b"));
        const QStringList files = QDir(folder.filePath(QStringLiteral("plates"))).entryList(QDir::Files);
        QCOMPARE(files.size(), 4); // three plates and the manifest, nothing outside
        QCOMPARE(QDir(folder.path()).entryList(QDir::AllEntries | QDir::NoDotAndDotDot).size(), 1);
    }

    void bandsOfAnyHeightGiveTheSamePlates()
    {
        const auto opened = take(open_job_or_artwork(demo_file().toStdString()));
        std::vector<Plane> first;
        for (const int rows : {37, 256, 3000}) {
            QTemporaryDir folder;
            OutputRequest request;
            request.folder = folder.path().toStdString();
            request.band_rows = rows;
            const Manifest manifest = take(write_plates(opened, Dpi(150), PageBox::Trim, request));
            for (std::size_t i = 0; i < manifest.plates.size(); ++i) {
                Plane plane =
                    read_tiff(folder.filePath(QString::fromStdString(manifest.plates[i].file))).plate;
                if (rows == 37) {
                    first.push_back(std::move(plane));
                } else {
                    QVERIFY(plane == first[i]);
                }
            }
        }
        QCOMPARE(first[0].width, 1772); // 300 mm at 150 dpi
    }
};

BICHROM_TEST(TestPlateFiles, QCoreApplication)
#include "tst_plate_files.moc"
