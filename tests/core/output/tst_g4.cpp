// The encoder is checked by decoding with libtiff, an independent reader of ITU-T T.6.
#include "core/output/g4.h"

#include "core/output/film_thumbnail.h"
#include "core/output/tiff_writer.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QtTest>

#include <numeric>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

void set_pixel(Bitmap &film, int x, int y)
{
    film.row(y)[x / 8] = static_cast<std::uint8_t>(film.row(y)[x / 8] | (0x80 >> (x % 8)));
}

Bitmap decoded(const Bitmap &film, const std::vector<std::uint8_t> &strip)
{
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("g4.tif"));
    auto writer = take(TiffWriter::create(path.toStdString(), TiffWriter::Kind::Film,
                                          {film.width, film.height, film.height, Dpi(1200), "test"}));
    if (!writer.write_strip(0, strip) || !writer.finish() || !writer.file().commit()) {
        qFatal("cannot write");
    }
    return read_tiff(path).film;
}

} // namespace

class TestG4 : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void libtiffReadsWhatWasEncoded_data()
    {
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("kind");
        const char *kinds[] = {"blank",        "solid",     "single pixels", "dense noise",
                               "sparse noise", "long runs", "slanted lines", "every run length"};
        for (int kind = 0; kind < 8; ++kind) {
            for (const int width : {1, 2, 64, 100, 1728, 5000}) {
                QTest::addRow("%s, %d wide", kinds[kind], width) << width << kind;
            }
        }
    }
    void libtiffReadsWhatWasEncoded()
    {
        QFETCH(int, width);
        QFETCH(int, kind);
        std::mt19937 random(7);
        Bitmap film(width, 40);
        for (int y = 0; y < film.height; ++y) {
            for (int x = 0; x < width; ++x) {
                bool ink = false;
                switch (kind) {
                case 1:
                    ink = true;
                    break;
                case 2:
                    ink = (x + y * 3) % 11 == 0;
                    break;
                case 3:
                    ink = random() % 2 == 0;
                    break;
                case 4:
                    ink = random() % 97 == 0;
                    break;
                case 5:
                    ink = (x + y) / 700 % 2 == 1;
                    break;
                case 6:
                    ink = (x - y * (y % 5)) / 9 % 3 == 0;
                    break;
                case 7:
                    ink = static_cast<int>(std::sqrt(x * 2.0 + y)) % 2 == 0;
                    break;
                default:
                    break;
                }
                if (ink) {
                    set_pixel(film, x, y);
                }
            }
        }
        QVERIFY(decoded(film, encode_g4_strip(film)) == film);
    }

    void everyRunLengthDecodes()
    {
        // A white and a black run of each length from 1 to 2700: every code word of T.4's tables.
        const int longest = 2700;
        Bitmap film(longest * 2 + 3, longest / 3);
        for (int y = 0; y < film.height; ++y) {
            const int run = y * 3 + 1;
            for (int x = run; x < run * 2 && x < film.width; ++x) {
                set_pixel(film, x, y);
            }
            for (int x = run * 2 + run + 1; x < film.width && x < run * 3 + run + 2; ++x) {
                set_pixel(film, x, y);
            }
        }
        QVERIFY(decoded(film, encode_g4_strip(film)) == film);
    }

    void partsJoinIntoTheSameStream()
    {
        std::mt19937 random(11);
        Bitmap film(333, 60);
        for (int y = 0; y < film.height; ++y) {
            for (int x = 0; x < film.width; ++x) {
                if ((random() % 5) == 0) {
                    set_pixel(film, x, y);
                }
            }
        }
        const std::vector<std::uint8_t> whole = encode_g4_strip(film);
        BitString joined;
        for (int top = 0; top < film.height; top += 7) {
            BitString part;
            const int bottom = std::min(film.height, top + 7);
            encode_g4_rows(film, top, bottom, top == 0 ? nullptr : film.row(top - 1), part);
            joined.append(part);
        }
        end_g4(joined);
        QCOMPARE(joined.take_bytes(), whole);
    }

    /// Bits, changes, or both by turns: the same stream and the same small picture.
    void rowsToldByTheirChangesAreTheSame()
    {
        std::mt19937 random(5);
        for (const int width : {1, 63, 64, 65, 333, 2000}) {
            Bitmap film(width, 90);
            std::vector<std::vector<int>> changes(90);
            for (int y = 0; y < film.height; ++y) {
                const int kind = static_cast<int>(random() % 5);
                std::vector<int> &here = changes[static_cast<std::size_t>(y)];
                if (kind == 0 && y > 0) {
                    here = changes[static_cast<std::size_t>(y - 1)];
                } else if (kind == 1) {
                    here = {0}; // ink from edge to edge
                } else if (kind > 2) {
                    for (int x = static_cast<int>(random() % 3); x < width;
                         x += 1 + static_cast<int>(random() % 90)) {
                        here.push_back(x);
                    }
                }
                for (std::size_t i = 0; i < here.size(); i += 2) {
                    const int end = i + 1 < here.size() ? here[i + 1] : width;
                    for (int x = here[i]; x < end; ++x) {
                        set_pixel(film, x, y);
                    }
                }
            }
            QVERIFY(decoded(film, encode_g4_strip(film)) == film);
            const ThumbnailGrid grid(width, 20000); // squares of more than a word
            for (int by = 1; by <= 3; ++by) {
                BitString bits;
                G4Rows rows(width, nullptr, bits);
                ThumbnailCount counted = no_black(grid, 700, film.height),
                               expected = no_black(grid, 700, film.height);
                for (int y = 0; y < film.height; ++y) {
                    add_black(grid, 700 + y, film.row(y), expected);
                    if (y % by == 0) {
                        rows.add(changes[static_cast<std::size_t>(y)]);
                        add_black(grid, 700 + y, changes[static_cast<std::size_t>(y)], counted);
                    } else {
                        rows.add(film.row(y));
                        add_black(grid, 700 + y, film.row(y), counted);
                    }
                }
                end_g4(bits);
                QCOMPARE(bits.take_bytes(), encode_g4_strip(film));
                QCOMPARE(black_of(grid, counted), black_of(grid, expected));
            }
            std::uint64_t ink = 0, sum = 0;
            for (int y = 0; y < film.height; ++y) {
                for (int x = 0; x < width; ++x) {
                    ink += film.at(x, y) ? 1 : 0;
                }
            }
            ThumbnailCount all = no_black(grid, 700, film.height);
            for (int y = 0; y < film.height; ++y) {
                add_black(grid, 700 + y, film.row(y), all);
            }
            const std::vector<std::uint64_t> black = black_of(grid, all);
            sum = std::accumulate(black.begin(), black.end(), std::uint64_t(0));
            QCOMPARE(sum, ink);
        }
    }
};

BICHROM_TEST(TestG4, QCoreApplication)
#include "tst_g4.moc"
