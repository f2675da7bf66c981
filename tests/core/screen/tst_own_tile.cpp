#include "core/screen/halftone.h"
#include "core/screen/tile_file.h"

#include "support/mini_pdf.h"
#include "support/picture_files.h"
#include "support/test_program.h"

#include <QtTest>

#include <algorithm>
#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// The ordered dither matrix of B. E. Bayer (IEEE ICC 1973), 4 × 4.
constexpr int bayer[4][4] = {{0, 8, 2, 10}, {12, 4, 14, 6}, {3, 11, 1, 9}, {15, 7, 13, 5}};

void save(const QString &path, const QByteArray &bytes)
{
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size());
}

Screen screen_of(const OwnTile &tile)
{
    Screen screen;
    screen.kind = ScreenKind::Tile;
    screen.tile = tile;
    return screen;
}

void inksInTheOrderOf(const OwnTile &tile)
{
    QCOMPARE(tile.side(), 4);
    QCOMPARE(tile.tones(), 17);
    const Halftone screen = take(Halftone::make(screen_of(tile), Dpi(1200)));
    for (int ink = 0; ink <= 16; ++ink) { // of 16 places
        const int tone = static_cast<int>(std::lround(ink * 255 / 16.0));
        for (int y = 0; y < 8; ++y) {
            for (int x = -4; x < 70; ++x) {
                QCOMPARE(tone > screen.threshold_at(x, y), bayer[y % 4][(x + 4) % 4] < ink);
            }
        }
    }
}

} // namespace

class TestOwnTile : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void placesTakeInkInTheOrderOfTheFilesValues_data()
    {
        QTest::addColumn<QString>("kind");
        for (const char *kind : {"8-bit PNG", "16-bit PNG", "PNG of grey in three channels", "8-bit TIFF",
                                 "TIFF whose white is 0", "16-bit TIFF"}) {
            QTest::newRow(kind) << QString::fromLatin1(kind);
        }
    }
    void placesTakeInkInTheOrderOfTheFilesValues()
    {
        // Values are unevenly spread on purpose: their order counts alone.
        QFETCH(QString, kind);
        const auto value = [](int rank) { return 3 + rank * rank; };
        QTemporaryDir folder;
        QString path = folder.filePath(QStringLiteral("moth grain.png"));
        if (kind.endsWith(QStringLiteral("PNG")) || kind.startsWith(QStringLiteral("PNG"))) {
            QImage image(4, 4,
                         kind.startsWith(QStringLiteral("16"))  ? QImage::Format_Grayscale16
                         : kind.startsWith(QStringLiteral("8")) ? QImage::Format_Grayscale8
                                                                : QImage::Format_RGB888);
            for (int y = 0; y < 4; ++y) {
                for (int x = 0; x < 4; ++x) {
                    const int grey = value(bayer[y][x]);
                    if (image.format() == QImage::Format_Grayscale16) {
                        reinterpret_cast<quint16 *>(image.scanLine(y))[x] = static_cast<quint16>(grey * 200);
                    } else {
                        image.setPixel(x, y, qRgb(grey, grey, grey));
                    }
                }
            }
            save(path, encoded(image, "PNG"));
        } else {
            path = folder.filePath(QStringLiteral("moth grain.tif"));
            const bool white_is_0 = kind.contains(QStringLiteral("white"));
            QByteArray rows;
            for (const auto &line : bayer) {
                for (const int rank : line) {
                    rows.append(static_cast<char>(white_is_0 ? 255 - value(rank) : value(rank)));
                }
            }
            TiffLayout layout;
            layout.width = layout.height = 4;
            layout.photometric = white_is_0 ? 0 : 1;
            if (kind.startsWith(QStringLiteral("16"))) {
                layout.bits = 16;
                rows = doubled(rows);
            }
            save(path, tiff_file(layout, rows));
        }
        const OwnTile tile = take(read_tile_file(path.toStdString()));
        QCOMPARE(tile.name(), std::string("moth grain"));
        inksInTheOrderOf(tile);
    }

    void aTileThatIsNotSquareIsRepeated()
    {
        const std::vector<std::uint16_t> values = {5, 1, 9, 7, 2, 8}; // 3 × 2
        const OwnTile tile = take(OwnTile::ranked("six", 3, 2, values));
        QCOMPARE(tile.side(), 6);
        QCOMPARE(tile.tones(), 7);
        const Halftone screen = take(Halftone::make(screen_of(tile), Dpi(600)));
        const int half = 128; // takes the three smallest
        for (int y = 0; y < 12; ++y) {
            for (int x = 0; x < 12; ++x) {
                QCOMPARE(half > screen.threshold_at(x, y),
                         values[static_cast<std::size_t>(y % 2 * 3 + x % 3)] <= 5);
            }
        }
    }

    void placesOfOneValueTakeInkTogether()
    {
        // Four values, 8, 4, 2 and 2 places: tones go up where half of what comes is reached.
        const std::vector<std::uint16_t> values = {0, 0, 1, 0, 0, 2, 1, 0, 0, 3, 1, 0, 0, 2, 1, 3};
        const OwnTile tile = take(OwnTile::ranked("steps", 4, 4, values));
        QCOMPARE(tile.tones(), 5);
        const Halftone screen = take(Halftone::make(screen_of(tile), Dpi(600)));
        const auto inked = [&](int tone) {
            int count = 0;
            for (int place = 0; place < 16; ++place) {
                count += tone > screen.threshold_at(place % 4, place / 4) ? 1 : 0;
            }
            return count;
        };
        QCOMPARE(inked(60), 0);
        QCOMPARE(inked(70), 8);
        QCOMPARE(inked(155), 8);
        QCOMPARE(inked(165), 12);
        QCOMPARE(inked(210), 14);
        QCOMPARE(inked(255), 16);
    }

    void theJobKeepsIt()
    {
        std::vector<std::uint16_t> values(48 * 48);
        for (std::size_t i = 0; i < values.size(); ++i) {
            values[i] = static_cast<std::uint16_t>(i * 40503 % 65521);
        }
        OpenedJob opened = spots_page("/A cs 0.4 scn 0 0 72 72 re f").job();
        opened.job.plates[0].screen = screen_of(take(OwnTile::ranked("grain \"7\"", 48, 48, values)));
        QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("kept.bichrom")).toStdString();
        QVERIFY(save_job(path, opened.job, *opened.artwork));
        const OpenedJob again = take(open_job(path));
        QVERIFY(again.job.plates[0].screen == opened.job.plates[0].screen);
        QCOMPARE(describe(again.job.plates[0].screen), std::string("tile grain \"7\""));
        // One that differs in a single place is another.
        values[1000] = static_cast<std::uint16_t>(values[1000] / 2);
        QVERIFY(screen_of(take(OwnTile::ranked("grain \"7\"", 48, 48, values))) !=
                opened.job.plates[0].screen);
    }

    void otherFilesAreRefusedInWords_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("words");
        QImage colours(4, 4, QImage::Format_RGB888);
        colours.fill(QColor(200, 30, 30));
        QImage flat(8, 8, QImage::Format_Grayscale8);
        flat.fill(90);
        QImage large(600, 20, QImage::Format_Grayscale8);
        large.fill(1);
        QImage odd(511, 510, QImage::Format_Grayscale8);
        odd.fill(1);
        const QByteArray png = encoded(flat, "PNG");
        QTest::newRow("colours") << encoded(colours, "PNG") << "has colours";
        QTest::newRow("one value") << png << "has one value";
        QTest::newRow("too large") << encoded(large, "PNG") << "600 × 20 pixels is no tile";
        QTest::newRow("fits into no square") << encoded(odd, "PNG") << "fits into no square";
        QTest::newRow("cut") << png.left(png.size() / 2) << "";
        QTest::newRow("no picture") << QByteArray("PNG? no: just words") << "";
        QTest::newRow("empty") << QByteArray() << "";
    }
    void otherFilesAreRefusedInWords()
    {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, words);
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("tile.png"));
        save(path, bytes);
        const auto tile = read_tile_file(path.toStdString());
        QVERIFY(!tile);
        QVERIFY2(QString::fromStdString(tile.error().message()).contains(words),
                 tile.error().message().c_str());
        QCOMPARE(read_tile_file("/nowhere/tile.png").error().code, ErrorCode::FileMissing);
    }
};

BICHROM_TEST(TestOwnTile, QCoreApplication)
#include "tst_own_tile.moc"
