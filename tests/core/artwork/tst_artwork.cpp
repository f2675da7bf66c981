#include "core/artwork/artwork.h"
#include "core/artwork/page_boxes.h"
#include "core/artwork/text_encoding.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

namespace {

std::vector<std::byte> bytes_of(const QByteArray &text)
{
    std::vector<std::byte> bytes(static_cast<std::size_t>(text.size()));
    std::copy_n(reinterpret_cast<const std::byte *>(text.constData()), bytes.size(), bytes.begin());
    return bytes;
}

} // namespace

class TestArtwork : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void badFilesSayWhatIsWrong_data()
    {
        QTest::addColumn<QByteArray>("contents");
        QTest::addColumn<int>("code");
        QTest::newRow("empty") << QByteArray() << static_cast<int>(ErrorCode::WrongFormat);
        QTest::newRow("not a PDF") << QByteArray("GIF89a and so on")
                                   << static_cast<int>(ErrorCode::WrongFormat);
        QTest::newRow("only a header") << QByteArray("%PDF-1.7\n") << static_cast<int>(ErrorCode::CannotRead);
        QTest::newRow("garbage behind a header")
            << QByteArray("%PDF-1.7\n") + QByteArray(5000, '\x9c') << static_cast<int>(ErrorCode::CannotRead);
    }
    void badFilesSayWhatIsWrong()
    {
        QFETCH(QByteArray, contents);
        QFETCH(int, code);
        const auto artwork = Artwork::open_bytes(bytes_of(contents), "bad.pdf");
        QVERIFY(!artwork);
        QCOMPARE(static_cast<int>(artwork.error().code), code);
        QCOMPARE(artwork.error().place, std::string("bad.pdf"));
        QVERIFY(!artwork.error().remedy.empty());
        QVERIFY(!artwork.error().reason.empty());
    }

    void aMissingFileSaysSo()
    {
        const auto artwork = Artwork::open("/nowhere/at/all.pdf");
        QVERIFY(!artwork);
        QCOMPARE(artwork.error().code, ErrorCode::FileMissing);
        QVERIFY(artwork.error().message().find("/nowhere/at/all.pdf") != std::string::npos);
    }

    void everyTruncationIsSurvived()
    {
        // The demo cut short at many places: an error or what can be saved, never a crash.
        QFile file(demo_file());
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray whole = file.readAll();
        for (int part = 1; part < 24; ++part) {
            const auto artwork =
                Artwork::open_bytes(bytes_of(whole.left(whole.size() * part / 24)), "cut.pdf");
            if (artwork) {
                const auto content = (*artwork)->interpret(1, PageBox::Media);
                QVERIFY(content || !content.error().message().empty());
            } else {
                QVERIFY(!artwork.error().remedy.empty());
            }
        }
    }

    void anEncryptedFileAsksForItsPassword()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f");
        const auto locked = encrypted(pdf.bytes(), "lamp");
        const auto without = Artwork::open_bytes(locked, "locked.pdf");
        QVERIFY(!without);
        QCOMPARE(without.error().code, ErrorCode::PasswordNeeded);
        const auto wrong = Artwork::open_bytes(locked, "locked.pdf", {.password = "candle"});
        QVERIFY(!wrong);
        QCOMPARE(wrong.error().code, ErrorCode::PasswordNeeded);
        QVERIFY(wrong.error().reason != without.error().reason);
        const auto right = Artwork::open_bytes(locked, "locked.pdf", {.password = "lamp"});
        QVERIFY(right);
        QVERIFY((*right)->interpret(1, PageBox::Media));
    }

    void theOriginalIsKeptByteForByte()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f");
        const auto before = pdf.bytes();
        const auto artwork = pdf.artwork();
        QVERIFY(artwork->interpret(1, PageBox::Trim));
        QVERIFY(std::equal(before.begin(), before.end(), artwork->bytes().begin(), artwork->bytes().end()));
        const QByteArray digest =
            QCryptographicHash::hash(QByteArrayView(reinterpret_cast<const char *>(before.data()),
                                                    static_cast<qsizetype>(before.size())),
                                     QCryptographicHash::Sha256);
        QCOMPARE(QString::fromStdString(artwork->sha256()), QString::fromLatin1(digest.toHex()));
    }

    void boxesFollowTheStandard()
    {
        // ISO 32000-1, 14.11.2: crop defaults to media, the others to crop; all clipped to media.
        MiniPdf pdf;
        pdf.width = 720;
        pdf.height = 360;
        pdf.page_extra = "/CropBox [36 36 684 324] /TrimBox [72 72 648 288] /BleedBox [-100 60 660 300] "
                         "/UserUnit 2 /Rotate 90";
        const PageInfo info = take(pdf.artwork()->page_info(1));
        const double mm = 2 * 25.4 / 72;
        QCOMPARE(info.box(PageBox::Media).width, 720 * mm);
        QCOMPARE(info.box(PageBox::Crop).x, 36 * mm);
        QCOMPARE(info.box(PageBox::Art), info.box(PageBox::Crop));
        QCOMPARE(info.box(PageBox::Bleed).x, 0.0);
        QCOMPARE(info.box(PageBox::Trim).height, 216 * mm);
        QCOMPARE(info.rotate, 90);
        // Turned clockwise by 90°, the trim box's left distance stands at the top.
        const Rect trim = box_within(info, PageBox::Trim, PageBox::Media);
        QCOMPARE(trim, (Rect{72 * mm, 72 * mm, 216 * mm, 576 * mm}));
    }

    void everyBoxCanBeTakenAndRotationHolds_data()
    {
        QTest::addColumn<int>("rotate");
        QTest::addColumn<QPoint>("corner"); ///< where the inked lower left corner of the trim box appears
        QTest::newRow("upright") << 0 << QPoint(5, 95);
        QTest::newRow("90") << 90 << QPoint(5, 5);
        QTest::newRow("180") << 180 << QPoint(195, 5);
        QTest::newRow("270") << 270 << QPoint(95, 195);
    }
    void everyBoxCanBeTakenAndRotationHolds()
    {
        QFETCH(int, rotate);
        QFETCH(QPoint, corner);
        MiniPdf pdf = spots_page("/A cs 1 scn 50 20 10 10 re f");
        pdf.width = 300;
        pdf.height = 150;
        pdf.page_extra = "/TrimBox [50 20 250 120] /Rotate " + std::to_string(rotate);
        const auto artwork = pdf.artwork();
        const auto content = take(artwork->interpret(1, PageBox::Trim));
        const bool turned = rotate % 180 != 0;
        QCOMPARE(content->width().value, turned ? 100.0 : 200.0);
        QCOMPARE(content->height().value, turned ? 200.0 : 100.0);
        const auto plate_line = take(PlateLine::make(content, {"Alpha"}));
        const PlateTile tile = take(plate_line->render(plate_line->extent(Dpi(72)), Dpi(72)));
        QCOMPARE(tile.plates[0].at(corner.x(), corner.y()), std::uint8_t(255));
        QCOMPARE(tile.plates[0].at(tile.rect.width / 2, tile.rect.height / 2), std::uint8_t(0));
        // Taking one box leaves the file's own boxes as they were.
        QCOMPARE(take(artwork->page_info(1)).box(PageBox::Crop).width, 300 * 25.4 / 72);
    }

    void aPageThatIsNotThereIsRefused()
    {
        const auto content = spots_page("").artwork()->interpret(2, PageBox::Media);
        QVERIFY(!content);
        QCOMPARE(content.error().code, ErrorCode::NoSuchPage);
    }

    void aStopIsHeard()
    {
        CancelSwitch cancel;
        cancel.cancel();
        const auto artwork = take(Artwork::open(demo_file().toStdString()));
        const auto content = artwork->interpret(1, PageBox::Media, {}, JobControl(cancel));
        QVERIFY(content || content.error().code == ErrorCode::Cancelled);
    }

    void namesBecomeUtf8()
    {
        QCOMPARE(valid_utf8("Grün"), std::string("Grün"));
        QCOMPARE(valid_utf8("Gr\xFCn"), std::string("Grün"));              // ISO 8859-1
        QCOMPARE(valid_utf8("\xC0\x80"), std::string("\xC3\x80\xC2\x80")); // an overlong form is not UTF-8
    }
};

BICHROM_TEST(TestArtwork, QCoreApplication)
#include "tst_artwork.moc"
