// What cannot be read is told, with its object and place, stops outputs until accepted, and never hides the
// rest.
#include "core/artwork/damage.h"
#include "core/output/compose.h"
#include "core/output/output_set.h"
#include "core/preflight/preflight.h"

#include "support/codecs.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QBuffer>
#include <QColor>
#include <QImage>
#include <QtTest>

#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const std::string square = "q 0 0 0 1 k 4 4 20 20 re f Q ";
const std::string picture = "q 32 0 0 32 36 36 cm /I Do Q ";

/// A page that paints a square, the picture, and a square again.
MiniPdf page_with(const std::string &object, const std::string &contents = square + picture + square)
{
    MiniPdf pdf = spots_page(contents, "/XObject << /I 11 0 R >>");
    pdf.objects.resize(1, "null");
    pdf.objects.push_back(object);
    return pdf;
}

/// Shapes of full colours on paper.
QByteArray jpeg_of_artwork(int quality)
{
    QImage image(320, 240, QImage::Format_RGB32);
    image.fill(Qt::white);
    const QColor colours[] = {Qt::red, Qt::green, Qt::blue, Qt::yellow, Qt::black, Qt::cyan, Qt::magenta};
    std::mt19937 random(6);
    const auto within = [&](int most) { return static_cast<int>(random() % static_cast<unsigned>(most)); };
    for (int i = 0; i < 40; ++i) {
        const QRect part = QRect(within(320), within(240), 4 + within(90), 4 + within(70)) & image.rect();
        for (int y = part.top(); y <= part.bottom(); ++y) {
            for (int x = part.left(); x <= part.right(); ++x) {
                image.setPixelColor(x, y, colours[i % 7]);
            }
        }
    }
    QByteArray data;
    QBuffer buffer(&data);
    if (!buffer.open(QIODevice::WriteOnly) || !image.save(&buffer, "jpg", quality)) {
        qFatal("no JPEG can be written");
    }
    return data;
}

std::string jpeg_object(const QByteArray &data)
{
    return "<< /Type /XObject /Subtype /Image /Width 320 /Height 240 /BitsPerComponent 8 /ColorSpace "
           "/DeviceRGB /Filter /DCTDecode /Length " +
           std::to_string(data.size()) + " >>\nstream\n" + data.toStdString() + "\nendstream";
}

/// The damage after everything has been painted.
std::vector<Damage> damage_of(const MiniPdf &pdf)
{
    const auto page = pdf.content();
    const Scene scene = take(record_scene(*page));
    const auto plate_line = take(PlateLine::make(page, propose_job(scene, "mini").inks()));
    if (!plate_line->render(plate_line->extent(Dpi(72)), Dpi(72))) {
        qFatal("the page cannot be painted");
    }
    return page->damage();
}

std::string words(const std::vector<Damage> &all)
{
    std::string text;
    for (const Damage &damage : all) {
        text += describe(damage) + "\n";
    }
    return text;
}

} // namespace

class TestDamage : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void wholePicturesAreNotDamaged()
    {
        for (const CodedPicture &coded : every_coding()) {
            const std::vector<Damage> damage = damage_of(page_with(coded.object()));
            QVERIFY2(damage.empty(), (std::string(coded.name) + ": " + words(damage)).c_str());
        }
    }

    void cutPicturesAreTold_data()
    {
        QTest::addColumn<int>("coding");
        QTest::addColumn<double>("keep");
        const auto codings = every_coding();
        for (int i = 0; i < static_cast<int>(codings.size()); ++i) {
            for (const double keep : {0.01, 0.33, 0.8}) {
                QTest::addRow("%s, %.0f %% of the data", codings[static_cast<std::size_t>(i)].name,
                              keep * 100)
                    << i << keep;
            }
        }
    }
    void cutPicturesAreTold()
    {
        QFETCH(int, coding);
        QFETCH(double, keep);
        CodedPicture coded = every_coding()[static_cast<std::size_t>(coding)];
        coded.data.resize(static_cast<std::size_t>(static_cast<double>(coded.data.size()) * keep));
        const MiniPdf pdf = page_with(coded.object());
        const std::vector<Damage> damage = damage_of(pdf);
        QVERIFY(!damage.empty());
        const bool placed = std::any_of(damage.begin(), damage.end(), [](const Damage &one) {
            return one.kind == DamageKind::Picture && one.object == 1;
        });
        QVERIFY2(placed, words(damage).c_str());
        // What stands before and behind it is there.
        QCOMPARE(pdf.scene().objects.size(), std::size_t(3));
        QCOMPARE(int(plane(pdf.plates(), pdf.scene(), "Black").at(10, 72 - 10)), 255);
    }

    void corruptPicturesAreTold_data()
    {
        QTest::addColumn<int>("coding");
        const auto codings = every_coding();
        for (int i = 0; i < static_cast<int>(codings.size()); ++i) {
            // Pixels as they are, and codings that give every byte a meaning, hold nothing to tell by.
            const std::string name = codings[static_cast<std::size_t>(i)].name;
            if (name != "raw" && name != "ASCII85" && name != "RunLength" && name != "LZW") {
                QTest::newRow(name.c_str()) << i;
            }
        }
    }
    void corruptPicturesAreTold()
    {
        QFETCH(int, coding);
        const CodedPicture whole = every_coding()[static_cast<std::size_t>(coding)];
        std::mt19937 random(4711);
        int told = 0;
        constexpr int rounds = 12;
        for (int round = 0; round < rounds; ++round) {
            CodedPicture coded = whole;
            for (int flips = 0; flips < 12; ++flips) { // behind the header
                const std::size_t first = coded.data.size() / 5;
                const std::size_t at = first + random() % (coded.data.size() - first - 8);
                coded.data[at] = static_cast<char>(random() & 255);
            }
            told += damage_of(page_with(coded.object())).empty() ? 0 : 1;
        }
        // A coding without checksum can turn into another picture that is right by its rules.
        const std::string name = whole.name;
        const int least = name.find("Flate") == 0 || name == "ASCIIHex" ? rounds
                          : name == "JPX"                               ? 0
                                                                        : rounds / 2;
        QVERIFY2(told >= least, qPrintable(QString::number(told)));
    }

    void jpegsOfArtworkAreWhole()
    {
        // Solid red, green and blue, paper and black, at any quality: nothing of it is beyond eight bits.
        for (const int quality : {0, 1, 5, 20, 50, 75, 90, 95, 100}) {
            const std::vector<Damage> damage = damage_of(page_with(jpeg_object(jpeg_of_artwork(quality))));
            QVERIFY2(damage.empty(), (std::to_string(quality) + ": " + words(damage)).c_str());
        }
    }

    void jpegsOfArtworkThatChangedMuchAreTold()
    {
        // JPEG has no checksum: what decodes without a word may be of other colours from there on.
        const QByteArray whole = jpeg_of_artwork(85);
        const QImage expected = QImage::fromData(whole, "jpg").convertToFormat(QImage::Format_RGB32);
        std::mt19937 random(12);
        int changed = 0;
        for (int round = 0; round < 60; ++round) {
            QByteArray data = whole;
            const auto at = data.size() / 4 + static_cast<qsizetype>(random() % (data.size() * 3 / 4 - 20));
            for (int i = 0; i < 4; ++i) {
                data[at + i] = static_cast<char>(random());
            }
            if (!damage_of(page_with(jpeg_object(data))).empty()) {
                continue;
            }
            const QImage made = QImage::fromData(data, "jpg").convertToFormat(QImage::Format_RGB32);
            QCOMPARE(made.size(), expected.size());
            int off = 0;
            for (int y = 0; y < made.height(); ++y) {
                for (int x = 0; x < made.width(); ++x) {
                    off += std::abs(qGray(made.pixel(x, y)) - qGray(expected.pixel(x, y))) > 16 ? 1 : 0;
                }
            }
            changed += off > 0 ? 1 : 0;
            QVERIFY2(off * 100 <= made.width() * made.height(),
                     qPrintable(QStringLiteral("%1 pixels, byte %2").arg(off).arg(at)));
        }
        QVERIFY(changed < 12);
    }

    void aJpegInScansThatClaimsBillionsOfPixelsIsToldAtOnce()
    {
        // All of its blocks would have to be held: 25 GB of them.
        const auto codings = every_coding();
        const auto found = std::find_if(codings.begin(), codings.end(), [](const CodedPicture &one) {
            return std::string(one.name) == "progressive DCT";
        });
        QVERIFY(found != codings.end());
        CodedPicture coded = *found;
        const std::size_t frame =
            coded.data.find("\xFF\xC2"); // ITU-T T.81, B.2.2: length, precision, height, width
        QVERIFY(frame != std::string::npos);
        coded.data.replace(frame + 5, 4, "\xFD\xE8\xFD\xE8");
        QElapsedTimer clock;
        clock.start();
        const std::vector<Damage> damage = damage_of(page_with(coded.object()));
        QVERIFY(!damage.empty());
        QVERIFY2(words(damage).find("which cannot be") != std::string::npos, words(damage).c_str());
        QVERIFY(clock.elapsed() < 30000);
    }

    void picturesThatClaimFarMoreThanTheyHoldAreNotDecoded_data()
    {
        QTest::addColumn<QByteArray>("object");
        QTest::addColumn<QString>("word");
        const std::string head = "<< /Type /XObject /Subtype /Image /Width 60000 /Height 60000 "
                                 "/BitsPerComponent 8 /ColorSpace /DeviceRGB ";
        const auto with = [&](const char *filter, std::string data) {
            return QByteArray::fromStdString(head + "/Filter /" + filter + " /Length " +
                                             std::to_string(data.size()) + " >>\nstream\n" + std::move(data) +
                                             "\nendstream");
        };
        const auto codings = every_coding();
        const auto found = std::find_if(codings.begin(), codings.end(), [](const CodedPicture &one) {
            return std::string(one.name) == "DCT";
        });
        QVERIFY(found != codings.end());
        std::string large = found->data;
        const std::size_t frame = large.find("\xFF\xC0");
        QVERIFY(frame != std::string::npos);
        large.replace(frame + 5, 4, "\xEA\x60\xEA\x60");
        QTest::newRow("a JPEG whose header says so") << with("DCTDecode", large) << "which cannot be";
        QTest::newRow("a JPEG of another size")
            << with("DCTDecode", found->data) << "instead of 60000 x 60000";
        const QByteArray some = qCompress(QByteArray(1000, 'x')).mid(4); // Qt writes the length before it
        QTest::newRow("Flate of a few bytes")
            << with("FlateDecode", some.toStdString()) << "image data too short";
    }
    void picturesThatClaimFarMoreThanTheyHoldAreNotDecoded()
    {
        QFETCH(QByteArray, object);
        QFETCH(QString, word);
        const MiniPdf pdf = page_with(object.toStdString());
        QElapsedTimer clock;
        clock.start();
        const std::vector<Damage> damage = damage_of(pdf);
        QVERIFY2(words(damage).find(word.toStdString()) != std::string::npos, words(damage).c_str());
        // What is decoded is paid for in memory and time: ten gigabytes.
        QVERIFY2(words(damage).find("cannot be read") != std::string::npos, words(damage).c_str());
        QCOMPARE(int(plane(pdf.plates(), pdf.scene(), "Black").at(10, 72 - 10)), 255);
        QVERIFY(clock.elapsed() < 30000);
    }

    void garbageIsTold_data()
    {
        QTest::addColumn<QString>("object");
        const QString head = QStringLiteral("<< /Type /XObject /Subtype /Image /Width 64 /Height 64 ");
        const QString grey = QStringLiteral("/BitsPerComponent 8 /ColorSpace /DeviceGray ");
        const QString tail = QStringLiteral("/Length 9 >>\nstream\nnot this.\nendstream");
        QTest::newRow("a JPEG that is none") << head + grey + "/Filter /DCTDecode " + tail;
        QTest::newRow("a JPX that is none") << head + grey + "/Filter /JPXDecode " + tail;
        QTest::newRow("a JBIG2 mask that is none")
            << head + "/ImageMask true /BitsPerComponent 1 /Filter /JBIG2Decode " + tail;
        QTest::newRow("a fax that is none")
            << head + "/ImageMask true /BitsPerComponent 1 /Filter /CCITTFaxDecode " + tail;
        QTest::newRow("Flate that is none") << head + grey + "/Filter /FlateDecode " + tail;
        QTest::newRow("data that goes on far beyond the pixels")
            << head + grey + "/Length 200000 >>\nstream\n" + QString(200000, QLatin1Char('x')) +
                   "\nendstream";
        QTest::newRow("a picture too wide to be true")
            << QStringLiteral("<< /Type /XObject /Subtype /Image /Width 100000 /Height 100000 ") + grey +
                   tail;
    }
    void garbageIsTold()
    {
        QFETCH(QString, object);
        const MiniPdf pdf = page_with(object.toStdString());
        const std::vector<Damage> damage = damage_of(pdf);
        QVERIFY2(!damage.empty(), "nothing is told");
        QVERIFY2(damage.back().object == 1, words(damage).c_str());
        QCOMPARE(int(plane(pdf.plates(), pdf.scene(), "Black").at(10, 72 - 10)), 255);
    }

    void missingPartsAreTold_data()
    {
        QTest::addColumn<QString>("contents");
        QTest::addColumn<int>("kind");
        const auto part = static_cast<int>(DamageKind::MissingPart);
        QTest::newRow("a form that is not there") << "/Nothing Do" << part;
        QTest::newRow("a colour space that is not there") << "/Nothing cs 1 scn 30 30 9 9 re f" << part;
        QTest::newRow("a pattern that is not there") << "/Pattern cs /No scn 30 30 9 9 re f" << part;
        QTest::newRow("a shading that is not there") << "/Nothing sh" << part;
        QTest::newRow("words that mean nothing")
            << "30 30 9 9 re nonsense f" << static_cast<int>(DamageKind::Instructions);
    }
    void missingPartsAreTold()
    {
        QFETCH(QString, contents);
        QFETCH(int, kind);
        const std::vector<Damage> damage =
            damage_of(spots_page(square + "q " + contents.toStdString() + " Q " + square));
        QVERIFY(!damage.empty());
        QVERIFY2(int(damage.front().kind) == kind, words(damage).c_str());
    }

    void aFontThatCannotBeReadIsToldWithItsText()
    {
        MiniPdf pdf =
            spots_page(square + "BT /Bad 12 Tf 9 30 Td (moth) Tj ET " + square,
                       "/Font << /Bad << /Type /Font /Subtype /TrueType /BaseFont /Nowhere /FirstChar "
                       "97 /LastChar 97 /Widths [600] /FontDescriptor << /Type /FontDescriptor /FontName "
                       "/Nowhere /Flags 32 /FontFile2 11 0 R >> >> >>");
        pdf.objects.resize(1, "null");
        pdf.objects.push_back("<< /Length 20 /Length1 20 >>\nstream\nthis is not a font !\nendstream");
        const std::vector<Damage> damage = damage_of(pdf);
        QVERIFY(!damage.empty());
        QVERIFY2(damage.back().kind == DamageKind::Font && damage.back().object == 1, words(damage).c_str());
    }

    void harmlessNotesAreNoDamage()
    {
        MiniPdf pdf =
            spots_page(square + "Q Q 30 30 l 9 9 re f " + square); // too many Q, a line from nowhere
        QVERIFY2(damage_of(pdf).empty(), words(damage_of(pdf)).c_str());
    }

    void theCheckNamesObjectAndPlace()
    {
        CodedPicture coded = every_coding()[5];
        coded.data.resize(coded.data.size() / 3);
        const auto artwork = page_with(coded.object()).artwork();
        const auto findings =
            take(check_page(*artwork, 1, ShopRules{})); // on even where a set does not name it
        QCOMPARE(findings.size(), std::size_t(1));
        QCOMPARE(findings[0].check, std::string("damaged_content"));
        QCOMPARE(findings[0].severity, Severity::Error);
        QCOMPARE(findings[0].places.front().object, 1);
        const Rect area = findings[0].places.front().area;
        const double mm = millimetres_per_inch / points_per_inch;
        QVERIFY(std::fabs(area.x - 36 * mm) < 0.05 && std::fabs(area.width - 32 * mm) < 0.1);
    }

    void outputsStopUntilSomebodyAccepts()
    {
        CodedPicture coded = every_coding()[5];
        coded.data.resize(coded.data.size() / 3);
        OpenedJob job = page_with(coded.object()).job();
        QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const std::filesystem::path pdf = request.folder / "all.pdf";
        QCOMPARE(write_plates(job, Dpi(72), PageBox::Media, request).error().code, ErrorCode::Damaged);
        QCOMPARE(write_films(job, request).error().code, ErrorCode::Damaged);
        QCOMPARE(compose_pdf(job, pdf).error().code, ErrorCode::Damaged);
        QVERIFY(QDir(folder.path()).isEmpty());

        job.job.accepted.push_back({"damaged_content", 1, "font", "another kind"});
        QVERIFY(!write_plates(job, Dpi(72), PageBox::Media, request));
        job.job.accepted.push_back({"damaged_content", 1, "picture", "the customer knows"});
        const auto manifest = write_plates(job, Dpi(72), PageBox::Media, request);
        QVERIFY2(manifest.ok(), manifest.ok() ? "" : manifest.error().message().c_str());
        QVERIFY(!manifest->damage.empty());
        request.folder /= "films"; // sets do not mix
        QVERIFY(write_films(job, request).ok());
        QVERIFY(compose_pdf(job, pdf).ok());
    }

    // A path packed to its length did not fit into the second list, where its colour takes more room.
    void anyPathGoesThroughBothLists()
    {
        std::mt19937 random(2026);
        const auto number = [&] {
            return format_number(4 + 64 * static_cast<double>(random() % 1000) / 1000.0, 3) + " ";
        };
        for (int round = 0; round < 200; ++round) {
            std::string path = number() + number() + "m ";
            const int segments = static_cast<int>(random() % 12);
            for (int i = 0; i < segments; ++i) {
                switch (random() % 6) {
                case 0:
                    path += number() + number() + "l ";
                    break;
                case 1:
                    path += number() + number() + number() + number() + number() + number() + "c ";
                    break;
                case 2:
                    path += number() + number() + number() + number() + "v ";
                    break;
                case 3:
                    path += number() + number() + number() + number() + "y ";
                    break;
                case 4:
                    path += "h " + number() + number() + "m ";
                    break;
                default:
                    path += number() + number() + "20 10 re ";
                }
            }
            path += random() % 2 == 0 ? "h " : "";
            static const char *paints[] = {
                "f ", "f* ", "S ", "B ", "W n 0 0 72 72 re f ", "W* n 0 0 72 72 re f "};
            const std::string contents =
                "q 0.1 0.2 0.3 0.4 k /N CS 0.5 0.6 SCN " + path + paints[random() % 6] + "Q " + square;
            const MiniPdf pdf = spots_page(contents);
            const std::vector<Damage> damage = damage_of(pdf);
            QVERIFY2(damage.empty(), (contents + "\n" + words(damage)).c_str());
            QCOMPARE(pdf.scene().inks.empty(), false);
        }
    }

    void aCircleByFourCurvesIsPainted()
    {
        const MiniPdf pdf =
            spots_page("1 0 0 RG 70 50 m 70 61.046 61.046 70 50 70 c 38.954 70 30 61.046 30 50 c 30 38.954 "
                       "38.954 30 50 30 c 61.046 30 70 38.954 70 50 c h S");
        QVERIFY(damage_of(pdf).empty());
        QVERIFY(int(plane(pdf.plates(), pdf.scene(), "Magenta").at(50, 72 - 30)) > 100);
    }

    void pagesWithoutSize_data()
    {
        QTest::addColumn<QString>("box");
        QTest::addColumn<bool>("opens");
        QTest::newRow("no MediaBox") << "" << true;
        QTest::newRow("an empty one") << "/MediaBox [0 0 0 0]" << false;
        QTest::newRow("one without height") << "/MediaBox [0 5 100 5]" << false;
        QTest::newRow("words") << "/MediaBox [(a) (b) (c) (d)]" << false;
        QTest::newRow("three numbers") << "/MediaBox [0 0 100]" << false;
        QTest::newRow("upside down") << "/MediaBox [100 100 0 0]" << true;
    }
    void pagesWithoutSize()
    {
        QFETCH(QString, box);
        QFETCH(bool, opens);
        std::vector<std::byte> bytes = spots_page(square).bytes();
        std::string text(reinterpret_cast<const char *>(bytes.data()), bytes.size());
        const std::string own = "/MediaBox [0 0 72 72]";
        const std::size_t at = text.find(own);
        QVERIFY(at != std::string::npos);
        std::string other = box.toStdString();
        other.resize(std::max(other.size(), own.size()), ' ');
        text.replace(at, own.size(), other);
        std::memcpy(bytes.data(), text.data(), bytes.size());
        const auto artwork = take(Artwork::open_bytes(bytes, "page.pdf"));
        const auto page = artwork->interpret(1, PageBox::Media);
        QCOMPARE(page.ok(), opens);
        if (!opens) {
            QVERIFY(page.error().message().find("MediaBox") != std::string::npos);
        }
        const auto &told = artwork->assumptions();
        const bool said = std::any_of(told.begin(), told.end(), [](const std::string &line) {
            return line.find("MediaBox") != std::string::npos;
        });
        QCOMPARE(said, box.isEmpty());
    }
};

BICHROM_TEST(TestDamage, NoApplication)
#include "tst_damage.moc"
