// Every kind of input as plates, compared with what independent libraries made or say.
#include "core/artwork/artwork.h"
#include "core/artwork/intake/glance.h"
#include "core/artwork/intake/read_postscript.h"
#include "core/colour/source_profile.h"
#include "core/job/job_file.h"
#include "core/output/output_set.h"
#include "core/page/picture_pixels.h"

#include "support/mini_pdf.h"
#include "support/picture_files.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QtTest>

#include <zlib.h>

#include <algorithm>

using namespace bichrom;
using namespace bichrom::test;

namespace {

std::vector<std::byte> bytes_of(const QByteArray &text)
{
    const auto *first = reinterpret_cast<const std::byte *>(text.constData());
    return {first, first + text.size()};
}

struct Read
{
    std::shared_ptr<const Artwork> artwork;
    Scene scene;
    PageInfo info;
    PlateTile tile;

    [[nodiscard]] int at(const std::string &ink, int x, int y) const
    {
        return plane(tile, scene, ink).at(x, y);
    }
    [[nodiscard]] bool assumes(const char *words) const
    {
        const auto &all = artwork->assumptions();
        return std::any_of(all.begin(), all.end(),
                           [&](const std::string &text) { return text.find(words) != std::string::npos; });
    }
};

Read read(const std::vector<std::byte> &bytes, double dpi, const ReadingOptions &options = {},
          const ColourSettings &colours = {})
{
    Read r;
    r.artwork = take(Artwork::open_bytes(bytes, "input", options));
    r.info = take(r.artwork->page_info(1));
    const auto page = take(r.artwork->interpret(1, PageBox::Media, colours));
    r.scene = take(record_scene(*page));
    const auto plate_line = take(PlateLine::make(page, propose_job(r.scene, "t").inks()));
    r.tile = take(plate_line->render(plate_line->extent(Dpi(dpi)), Dpi(dpi)));
    return r;
}

double width_of(const Read &r)
{
    return r.info.box(PageBox::Media).width;
}

QByteArray eps(const QByteArray &header, const QByteArray &body)
{
    return "%!PS-Adobe-3.0 EPSF-3.0\n" + header + "%%EndComments\n" + body;
}

const QByteArray spot_body = "[/Separation (Luna Green) /DeviceCMYK {dup 0.6 mul exch 0 exch 0.5 mul 0}] "
                             "setcolorspace 1 setcolor 10 20 36 36 rectfill "
                             "true setoverprint 0 1 0 0 setcmykcolor 28 20 18 36 rectfill\n";

} // namespace

class TestIntake : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void kindsAreToldByContents_data()
    {
        QTest::addColumn<QByteArray>("head");
        QTest::addColumn<int>("kind");
        QTest::newRow("PDF after rubbish") << QByteArray("rubbish\n%PDF-1.4\n") << int(InputKind::Pdf);
        QTest::newRow("PostScript") << QByteArray("%!PS-Adobe-3.0\n") << int(InputKind::PostScript);
        QTest::newRow("EPS") << QByteArray("%!PS-Adobe-3.0 EPSF-3.0\n") << int(InputKind::Eps);
        QTest::newRow("EPS with a binary header")
            << QByteArray("\xc5\xd0\xd3\xc6....") << int(InputKind::Eps);
        QTest::newRow("SVG after a declaration")
            << QByteArray("<?xml version='1.0'?>\n<!-- x --><svg>") << int(InputKind::Svg);
        QTest::newRow("big-endian TIFF") << QByteArray("MM\0*", 4) << int(InputKind::Tiff);
        QTest::newRow("text") << QByteArray("dear printer") << int(InputKind::Unknown);
        QTest::newRow("nothing") << QByteArray() << int(InputKind::Unknown);
    }
    void kindsAreToldByContents()
    {
        QFETCH(QByteArray, head);
        QFETCH(int, kind);
        QCOMPARE(int(input_kind(bytes_of(head))), kind);
    }

    // ---- PostScript: Encapsulated PostScript File Format Specification 3.0 --------------------

    void epsKeepsSpotsOverprintAndSize_data()
    {
        QTest::addColumn<QByteArray>("file");
        const QByteArray plain = eps("%%BoundingBox: 10 20 46 56\n", spot_body);
        QTest::newRow("without showpage") << plain;
        QTest::newRow("with showpage") << plain + "showpage\n";
        QTest::newRow("the exact box wins")
            << eps("%%BoundingBox: 9 19 47 57\n%%HiResBoundingBox: 10.0 20.0 46.0 56.0\n", spot_body);
        QTest::newRow("negative corner")
            << eps("%%BoundingBox: -10 -20 26 16\n", "-20 -40 translate\n" + spot_body);
        QTest::newRow("box at the end")
            << eps("%%BoundingBox: (atend)\n", spot_body + "%%Trailer\n%%BoundingBox: 10 20 46 56\n");
        QByteArray header("\xc5\xd0\xd3\xc6", 4);
        const auto number = [](qsizetype value) {
            QByteArray four;
            for (int i = 0; i < 4; ++i) {
                four += static_cast<char>(value >> (8 * i) & 0xFF);
            }
            return four;
        };
        header += number(30) + number(plain.size()) + QByteArray(16, '\0') + QByteArray("\xff\xff", 2);
        QTest::newRow("binary header and a preview") << header + plain + QByteArray("preview pixels");
    }
    void epsKeepsSpotsOverprintAndSize()
    {
        QFETCH(QByteArray, file);
        const Read r = read(bytes_of(file), 72);
        QCOMPARE(r.artwork->page_count(), 1);
        QVERIFY(std::fabs(width_of(r) - 36 * 25.4 / 72) < 0.01);
        QCOMPARE(r.tile.rect, (PixelRect{0, 0, 36, 36}));
        QVERIFY(r.scene.uses_overprint);
        QCOMPARE(r.at("Luna Green", 5, 18), 255);
        QCOMPARE(r.at("Magenta", 5, 18), 0);
        QCOMPARE(r.at("Luna Green", 25, 18), 255); // overprinted, so still there
        QCOMPARE(r.at("Magenta", 25, 18), 255);
    }

    void hostilePostScriptIsStopped_data()
    {
        QTest::addColumn<QByteArray>("body");
        QTest::addColumn<int>("code");
        QTest::newRow("writes a file")
            << QByteArray("(OUTSIDE) (w) file dup (bad) writestring closefile showpage")
            << int(ErrorCode::CannotRead);
        QTest::newRow("reads a file")
            << QByteArray("(/etc/passwd) (r) file 100 string readstring pop == showpage")
            << int(ErrorCode::CannotRead);
    }
    void hostilePostScriptIsStopped()
    {
        QFETCH(QByteArray, body);
        QFETCH(int, code);
        const QTemporaryDir folder;
        const QString outside = folder.filePath(QStringLiteral("outside"));
        body.replace("OUTSIDE", outside.toUtf8());
        const auto artwork = Artwork::open_bytes(bytes_of("%!PS\n" + body), "evil.ps");
        QVERIFY(!artwork);
        QCOMPARE(int(artwork.error().code), code);
        QVERIFY(!artwork.error().remedy.empty());
        QVERIFY(!QFile::exists(outside));
    }

    void aLoopIsEndedAndAStopIsHeard()
    {
        const auto loop = bytes_of("%!PS\n{ 1 pop } loop");
        std::vector<std::string> assumptions;
        ChildLimits limits;
        limits.work = std::chrono::seconds(1);
        std::vector<Damage> damage;
        const auto late = postscript_to_pdf(loop, false, assumptions, damage, limits);
        QVERIFY(!late);
        QCOMPARE(late.error().code, ErrorCode::TakesLong);
        CancelSwitch cancel;
        cancel.cancel();
        const auto stopped = Artwork::open_bytes(loop, "loop.ps", {}, JobControl(cancel));
        QVERIFY(!stopped);
        QCOMPARE(stopped.error().code, ErrorCode::Cancelled);
    }

    void cutPostScriptIsTold_data()
    {
        QTest::addColumn<QByteArray>("file");
        QTest::addColumn<bool>("told");
        const QByteArray begin = "%!PS-Adobe-3.0\n%%EndComments\n", end = "showpage\n%%Trailer\n%%EOF\n";
        const QByteArray squares = "10 10 20 20 rectfill 40 10 20 20 rectfill\n10 40 20 20 rectfill\n";
        QTest::newRow("whole") << begin + squares + end << false;
        QTest::newRow("whole, with more behind its end") << begin + squares + end + "\x04" << false;
        QTest::newRow("cut between two objects") << begin + squares.left(32) << true;
        QTest::newRow("cut within its last word") << (begin + squares + end).chopped(24) << true;
        QTest::newRow("an EPS that is whole") << eps("%%BoundingBox: 0 0 80 80\n", squares + end) << false;
        QTest::newRow("an EPS that is cut") << eps("%%BoundingBox: 0 0 80 80\n", squares.left(32)) << true;
        QTest::newRow("an EPS written by hand, without an end")
            << eps("%%BoundingBox: 0 0 80 80\n", squares) << false;
        QTest::newRow("an EPS written by hand, without an end of line")
            << eps("%%BoundingBox: 0 0 80 80\n", squares + "showpage") << false;
        QTest::newRow("a program that follows no conventions") << "%!\n" + squares.left(32) << false;
    }
    void cutPostScriptIsTold()
    {
        QFETCH(QByteArray, file);
        QFETCH(bool, told);
        const bool is_eps = file.contains("EPSF");
        std::vector<std::string> assumptions;
        std::vector<Damage> damage;
        const auto pdf = postscript_to_pdf(bytes_of(file), is_eps, assumptions, damage, {}, {});
        QVERIFY(pdf); // what is there is shown
        QCOMPARE(!damage.empty(), told);
        QVERIFY(!told || damage.front().kind == DamageKind::Instructions);
    }

    // ---- SVG -------------------------------------------------------------------------------------

    void svgSizes_data()
    {
        QTest::addColumn<QByteArray>("attributes");
        QTest::addColumn<double>("width_mm");
        QTest::addColumn<bool>("assumed");
        // CSS 2.1, 4.3.2: 1in = 2.54cm = 25.4mm = 72pt = 6pc = 96px
        QTest::newRow("millimetres") << QByteArray("width='50mm' height='20mm'") << 50.0 << false;
        QTest::newRow("inches") << QByteArray("width='2in' height='1in'") << 50.8 << false;
        QTest::newRow("points") << QByteArray("width='72pt' height='36pt'") << 25.4 << false;
        QTest::newRow("picas") << QByteArray("width='6pc' height='3pc'") << 25.4 << false;
        QTest::newRow("bare pixels") << QByteArray("width='96' height='48'") << 25.4 << false;
        QTest::newRow("per cent of nothing")
            << QByteArray("width='100%' height='100%' viewBox='0 0 192 96'") << 50.8 << true;
        QTest::newRow("a viewBox only") << QByteArray("viewBox='0 0 192 96'") << 50.8 << true;
        QTest::newRow("nothing at all") << QByteArray() << 96 * 25.4 / 96 << true;
    }
    void svgSizes()
    {
        QFETCH(QByteArray, attributes);
        QFETCH(double, width_mm);
        QFETCH(bool, assumed);
        const Read r = read(bytes_of("<svg xmlns='http://www.w3.org/2000/svg' " + attributes +
                                     "><rect width='96' height='24'/></svg>"),
                            72);
        QVERIFY2(std::fabs(width_of(r) - width_mm) < 0.02, qPrintable(QString::number(width_of(r))));
        QCOMPARE(r.assumes("gives no size"), assumed);
    }

    void svgFontsThatAreMissingAreNamed()
    {
        const Read r = read(bytes_of("<svg xmlns='http://www.w3.org/2000/svg' width='50mm' height='20mm'>"
                                     "<style>.a { font-family: 'Nowhere Sans', serif }</style>"
                                     "<text y='20' class='a'>a</text>"
                                     "<text y='30' font-family='Lost Grotesk'>b</text></svg>"),
                            72);
        QVERIFY(r.assumes("'Nowhere Sans'"));
        QVERIFY(r.assumes("'Lost Grotesk'"));
    }

    void svgReachesNothingOutside()
    {
        const QTemporaryDir folder;
        QImage red(4, 4, QImage::Format_RGB32);
        red.fill(Qt::red);
        QVERIFY(QDir(folder.path()).mkdir(QStringLiteral("art")));
        QVERIFY(red.save(folder.filePath(QStringLiteral("outside.png"))));
        QVERIFY(red.save(folder.filePath(QStringLiteral("art/beside.png"))));
        const auto drawing = [](const QByteArray &reference) {
            return "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' "
                   "width='72pt' height='72pt'><image width='96' height='96' xlink:href='" +
                   reference + "'/></svg>";
        };
        const auto inks = [&](const QByteArray &reference) {
            const QString path = folder.filePath(QStringLiteral("art/drawing.svg"));
            save_bytes(bytes_of(drawing(reference)), path);
            const auto artwork = take(Artwork::open(path.toStdString()));
            return take(record_scene(*take(artwork->interpret(1, PageBox::Media)))).inks.size();
        };
        QVERIFY(inks("beside.png") > 0);
        QCOMPARE(inks("../outside.png"), std::size_t(0));
        QCOMPARE(inks("http://127.0.0.1:9/outside.png"), std::size_t(0));
        const auto entity = Artwork::open_bytes(
            bytes_of("<!DOCTYPE svg [<!ENTITY x SYSTEM 'file:///etc/passwd'>]><svg "
                     "xmlns='http://www.w3.org/2000/svg' width='9mm' height='9mm'><text>&x;</text></svg>"),
            "entity.svg");
        QVERIFY(!entity);
    }

    void svgBombsAreDefused()
    {
        QByteArray entities = "<!DOCTYPE svg [<!ENTITY a0 'moth'>";
        for (int i = 1; i < 12; ++i) {
            const QByteArray before = "&a" + QByteArray::number(i - 1) + ";";
            entities += "<!ENTITY a" + QByteArray::number(i) + " '" + before.repeated(10) + "'>";
        }
        entities +=
            "]><svg xmlns='http://www.w3.org/2000/svg' width='9mm' height='9mm'><text>&a11;</text></svg>";
        QElapsedTimer clock;
        clock.start();
        const auto artwork = Artwork::open_bytes(bytes_of(entities), "bomb.svg");
        QVERIFY(clock.elapsed() < 30000);
        QVERIFY(artwork || !artwork.error().reason.empty());
    }

    // ---- pictures --------------------------------------------------------------------------------

    void pictureSizes_data()
    {
        QTest::addColumn<int>("dots_per_metre");
        QTest::addColumn<double>("width_mm");
        QTest::newRow("150 ppi") << 5906 << 60 / 150.0 * 25.4;
        QTest::newRow("none, so 300 ppi are assumed") << 0 << 60 / 300.0 * 25.4;
    }
    void pictureSizes()
    {
        QFETCH(int, dots_per_metre);
        QFETCH(double, width_mm);
        QImage image(60, 40, QImage::Format_RGB32);
        image.fill(Qt::red);
        image.setDotsPerMeterX(dots_per_metre);
        image.setDotsPerMeterY(dots_per_metre);
        QByteArray png = encoded(image, "png");
        if (dots_per_metre == 0) {
            png = without_chunk(png, "pHYs");
        }
        const Read r = read(bytes_of(png), 72);
        QVERIFY2(std::fabs(width_of(r) - width_mm) < 0.01, qPrintable(QString::number(width_of(r))));
        QCOMPARE(r.assumes("does not say its resolution"), dots_per_metre == 0);
        if (dots_per_metre == 0) {
            ReadingOptions coarse;
            coarse.assumed_ppi = 60;
            QVERIFY(std::fabs(width_of(read(bytes_of(png), 72, coarse)) - 25.4) < 0.01);
        }
    }

    void aFirstLookShowsThePageAsItLies()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("look.pdf"));
        MiniPdf pdf = spots_page("1 0 0 rg 0 0 36 144 re f /B cs 1 scn 36 0 36 72 re f");
        pdf.height = 144;
        pdf.page_extra = "/CropBox [10 10 60 120]";
        pdf.more_pages = {"0 0 1 rg 0 0 72 144 re f"};
        pdf.save(path);
        const auto at = [](const Glance &look, double across, double down) {
            return look
                .pixels[static_cast<std::size_t>(look.height * down) * static_cast<std::size_t>(look.width) +
                        static_cast<std::size_t>(look.width * across)];
        };
        const std::filesystem::path file = path.toStdString();
        const Glance look = take(glance_at_pdf(file, 1, {}));
        QCOMPARE(look.height, glance_side);
        QCOMPARE(look.width, glance_side / 2); // the media box, whatever is cropped
        QCOMPARE(at(look, 0.05, 0.05), 0xFFFF0000u);
        QCOMPARE(at(look, 0.95, 0.05), 0xFFFFFFFFu);
        QVERIFY(at(look, 0.95, 0.95) != 0xFFFFFFFFu); // the spot by its stand-in colour
        QCOMPARE(at(take(glance_at_pdf(file, 2, {})), 0.5, 0.5), 0xFF0000FFu);
        // Protected, it is seen with its password only.
        save_bytes(encrypted(pdf.bytes(), "key"), path);
        QCOMPARE(at(take(glance_at_pdf(file, 1, "key")), 0.05, 0.05), 0xFFFF0000u);
        const auto code = [](const Outcome<Glance> &got) {
            return got ? ErrorCode::Internal : got.error().code;
        };
        QCOMPARE(code(glance_at_pdf(file, 1, "no")), ErrorCode::CannotRead);
        QCOMPARE(code(glance_at_pdf(file, 9, "key")), ErrorCode::CannotRead);
        // What is none, or broken, or asked for no more.
        save_bytes(bytes_of("%PDF-1.4\nnothing"), path);
        QCOMPARE(code(glance_at_pdf(file, 1, {})), ErrorCode::CannotRead);
        save_bytes(bytes_of("GIF89a"), path);
        QCOMPARE(code(glance_at_pdf(file, 1, {})), ErrorCode::WrongFormat);
        pdf.save(path);
        CancelSwitch stop;
        stop.cancel();
        QCOMPARE(code(glance_at_pdf(file, 1, {}, JobControl(stop))), ErrorCode::Cancelled);
    }

    void largePicturesAreReadInBands_data()
    {
        QTest::addColumn<int>("tile");
        QTest::addColumn<int>("samples");
        QTest::newRow("grey, in strips") << 0 << 1;
        QTest::newRow("RGB with alpha, in tiles") << 512 << 4;
    }

    /// More than 256 MB: a grey that differs from row to row, in every band, and a mark in the last corner.
    void largePicturesAreReadInBands()
    {
        QFETCH(int, tile);
        QFETCH(int, samples);
        const int width = samples == 1 ? 16400 : 8200, height = samples == 1 ? 16900 : 8500;
        const auto value = [&](int y) { return samples == 1 ? y / 7 % 200 : y / 7 % 2 * 255; };
        QByteArray rows(qsizetype(width) * samples * height, '\0');
        for (int y = 0; y < height; ++y) {
            char *row = rows.data() + qsizetype(width) * samples * y;
            std::memset(row, value(y), std::size_t(width) * std::size_t(samples));
            for (int x = 0; samples == 4 && x < width; ++x) {
                row[x * 4 + 3] = x < width / 2 ? char(255) : char(0);
            }
        }
        std::memset(rows.data() + rows.size() - samples * 400, 255, std::size_t(samples) * 400);
        const QByteArray file = tiff_file({.width = width,
                                           .height = height,
                                           .samples = samples,
                                           .photometric = samples == 1 ? 1 : 2,
                                           .compression = 8,
                                           .tile = tile,
                                           .extra = samples == 1 ? 0 : 2,
                                           .ppi = 600},
                                          rows);
        rows.clear();
        const auto artwork = take(Artwork::open_bytes(bytes_of(file), "input", {}));
        QVERIFY(artwork->damage().empty());
        const auto page = take(artwork->interpret(1, PageBox::Media));
        const Scene scene = take(record_scene(*page));
        QCOMPARE(scene.objects.front().image_width, width);
        QCOMPARE(scene.objects.front().image_height, height);
        const auto line = take(PlateLine::make(page, propose_job(scene, "t").inks()));
        const auto ink_at = [&](int x, int y) { // of the strongest plate, pixel for pixel
            const PlateTile one = take(line->render({x, y, 1, 1}, Dpi(600)));
            int most = 0;
            for (const Plane &plate : one.plates) {
                most = std::max<int>(most, plate.at(0, 0));
            }
            return most;
        };
        for (const int y : {3, 4000, 4007, 4097, height / 2, height - 30}) {
            const int ink = ink_at(100, y);
            QVERIFY2(samples == 1    ? ink == 255 - value(y)
                     : value(y) == 0 ? ink > 200
                                     : ink == 0,
                     qPrintable(QStringLiteral("row %1: %2").arg(y).arg(ink)));
        }
        QCOMPARE(ink_at(width - 4, height - 1), 0);
        if (samples == 4) {
            QCOMPARE(ink_at(width - 600, 3), 0); // transparent
        } else {
            QCOMPARE(picture_pixels(*page, 0).error().code, ErrorCode::TooLarge);
        }
    }

    void pictureKinds_data()
    {
        // Each file shows 255/51/153 red, green, blue at the left and paper white at the right.
        QTest::addColumn<QByteArray>("file");
        QImage image(40, 20, QImage::Format_RGBA64);
        image.fill(Qt::white);
        image.setDotsPerMeterX(11811); // 300 ppi
        image.setDotsPerMeterY(11811);
        for (int y = 0; y < 20; ++y) {
            for (int x = 0; x < 20; ++x) {
                image.setPixelColor(x, y, QColor(255, 51, 153));
            }
        }
        QTest::newRow("16-bit PNG") << encoded(image.convertToFormat(QImage::Format_RGBX64), "png");
        QTest::newRow("8-bit PNG") << encoded(image.convertToFormat(QImage::Format_RGB32), "png");
        QTest::newRow("palette PNG") << encoded(image.convertToFormat(QImage::Format_Indexed8), "png");
        QImage clear = image;
        for (int y = 0; y < 20; ++y) {
            for (int x = 20; x < 40; ++x) {
                clear.setPixelColor(x, y, QColor(0, 0, 0, 0));
            }
        }
        QTest::newRow("PNG with alpha: transparent is no ink")
            << encoded(clear.convertToFormat(QImage::Format_ARGB32), "png");
        QTest::newRow("16-bit PNG with alpha") << encoded(clear, "png");
        const QByteArray rgb = rgb_rows(image);
        QTest::newRow("RGB TIFF") << tiff_file({.width = 40, .height = 20, .samples = 3, .photometric = 2},
                                               rgb);
        QTest::newRow("RGB TIFF, planes apart")
            << tiff_file({.width = 40, .height = 20, .samples = 3, .photometric = 2, .planar = 2}, rgb);
        QTest::newRow("RGB TIFF in tiles")
            << tiff_file({.width = 40, .height = 20, .samples = 3, .photometric = 2, .tile = 16}, rgb);
        QTest::newRow("RGB TIFF, LZW")
            << tiff_file({.width = 40, .height = 20, .samples = 3, .photometric = 2, .compression = 5}, rgb);
        QTest::newRow("16-bit RGB TIFF") << tiff_file(
            {.width = 40, .height = 20, .samples = 3, .bits = 16, .photometric = 2}, doubled(rgb));
        QTest::newRow("TIFF with premultiplied alpha")
            << tiff_file({.width = 40, .height = 20, .samples = 4, .photometric = 2, .extra = 1},
                         rgba_rows(clear.convertToFormat(QImage::Format_ARGB32_Premultiplied)));
    }
    void pictureKinds()
    {
        QFETCH(QByteArray, file);
        const Read r = read(bytes_of(file), 300);
        const Cmyk expected = ProcessProfile::fogra39()->from_rgb({1.0f, 0.2f, 0.6f});
        for (std::size_t i = 0; i < 4; ++i) {
            const char *ink = std::array{"Cyan", "Magenta", "Yellow", "Black"}[i];
            if (find_ink(r.scene, ink)) {
                QVERIFY(std::abs(r.at(ink, 10, 10) - int(std::lround(expected[i] * 255.0f))) <= 1);
                QCOMPARE(r.at(ink, 30, 10), 0);
            }
        }
        QVERIFY(find_ink(r.scene, "Magenta"));
    }

    void cmykJpegStoredEitherWay()
    {
        // A marker of inversion or none: the same ink must come out.
        for (const bool inverted : {false, true}) {
            const Read r = read(bytes_of(cmyk_jpeg({204, 0, 51, 0}, inverted)), 300);
            QVERIFY(std::abs(r.at("Cyan", 8, 8) - 204) <= 2);
            QVERIFY(std::abs(r.at("Yellow", 8, 8) - 51) <= 2);
            QVERIFY(r.at("Magenta", 8, 8) <= 2);
            QVERIFY(r.assumes(inverted ? "stored inverted" : "no marker of inversion"));
        }
    }

    void orientationIsUndone_data()
    {
        QTest::addColumn<int>("orientation");
        QTest::addColumn<int>("x");
        QTest::addColumn<int>("y");
        // EXIF 2.3, 4.6.4, tag 0x0112: where row 0 and column 0 of the file stand. The black
        // corner is the first pixel of a file of 48 × 16.
        QTest::newRow("1: top, left") << 1 << 2 << 2;
        QTest::newRow("2: top, right") << 2 << 45 << 2;
        QTest::newRow("3: bottom, right") << 3 << 45 << 13;
        QTest::newRow("4: bottom, left") << 4 << 2 << 13;
        QTest::newRow("5: left, top") << 5 << 2 << 2;
        QTest::newRow("6: right, top") << 6 << 13 << 2;
        QTest::newRow("7: right, bottom") << 7 << 13 << 45;
        QTest::newRow("8: left, bottom") << 8 << 2 << 45;
    }
    void orientationIsUndone()
    {
        QFETCH(int, orientation);
        QFETCH(int, x);
        QFETCH(int, y);
        QImage image(48, 16, QImage::Format_Grayscale8);
        image.fill(Qt::white);
        image.setDotsPerMeterX(11811); // 300 ppi
        image.setDotsPerMeterY(11811);
        for (int i = 0; i < 8; ++i) {
            for (int k = 0; k < 8; ++k) {
                image.setPixelColor(i, k, Qt::black);
            }
        }
        const Read r = read(bytes_of(with_orientation(encoded(image, "jpg"), orientation)), 300);
        QCOMPARE(r.tile.rect.width > r.tile.rect.height, orientation < 5);
        QVERIFY(r.at("Black", x, y) > 240);
        QVERIFY(r.at("Black", r.tile.rect.width - 1 - x, r.tile.rect.height - 1 - y) < 15);
    }

    void labTiffGoesThroughTheProfile()
    {
        const Lab lab{53.33, 40, -20};
        QByteArray rows;
        for (int i = 0; i < 16; ++i) {
            rows += static_cast<char>(136); // L* 53.33
            rows += static_cast<char>(40);
            rows += static_cast<char>(-20); // signed, TIFF 6.0 section 23
        }
        const Read r =
            read(bytes_of(tiff_file({.width = 4, .height = 4, .samples = 3, .photometric = 8}, rows)), 300);
        const Cmyk expected = ProcessProfile::fogra39()->from_lab(lab);
        for (std::size_t i = 0; i < 4; ++i) {
            const char *ink = std::array{"Cyan", "Magenta", "Yellow", "Black"}[i];
            if (find_ink(r.scene, ink)) {
                QVERIFY(std::abs(r.at(ink, 1, 1) - int(std::lround(expected[i] * 255.0f))) <= 1);
            }
        }
    }

    void separatedTiffKeepsItsInks()
    {
        QByteArray rows;
        for (int i = 0; i < 16; ++i) {
            rows += QByteArray("\x00\x10\x20\x30\xC8\x64", 6);
        }
        TiffLayout layout{.width = 4, .height = 4, .samples = 6, .photometric = 5};
        layout.inks = QByteArray("Cyan\0Magenta\0Yellow\0Black\0Wing Rust\0Base White\0", 47);
        const Read r = read(bytes_of(tiff_file(layout, rows)), 300);
        QCOMPARE(r.at("Magenta", 2, 2), 0x10);
        QCOMPARE(r.at("Black", 2, 2), 0x30);
        QCOMPARE(r.at("Wing Rust", 2, 2), 0xC8);
        QCOMPARE(r.at("Base White", 2, 2), 0x64);
        QVERIFY(r.assumes("made up"));
    }

    // TIFF 6.0, section 18: ExtraSamples says what further channels are; inks are often saved as several
    // alphas.
    void inksBeyondCmykReachPlates_data()
    {
        QTest::addColumn<int>("extra");
        QTest::addColumn<int>("extras");
        QTest::addColumn<bool>("inks");
        QTest::newRow("one of no declared kind") << 9 << 1 << true;
        QTest::newRow("two of no declared kind") << 9 << 2 << true;
        QTest::newRow("two alphas are inks") << 2 << 2 << true;
        QTest::newRow("one alpha is alpha") << 2 << 1 << false;
    }
    void inksBeyondCmykReachPlates()
    {
        QFETCH(int, extra);
        QFETCH(int, extras);
        QFETCH(bool, inks);
        QByteArray rows;
        for (int i = 0; i < 16; ++i) {
            rows += QByteArray("\x11\x22\x33\x44\xC8\x64", 4 + extras);
        }
        TiffLayout layout{.width = 4, .height = 4, .samples = 4 + extras, .photometric = 5};
        layout.extra = extra;
        layout.extras = extras;
        const Read r = read(bytes_of(tiff_file(layout, rows)), 300);
        QCOMPARE(r.assumes("without names"), inks);
        if (inks) {
            QCOMPARE(r.at("Cyan", 2, 2), 0x11);
            QCOMPARE(r.at("Black", 2, 2), 0x44);
            QCOMPARE(r.at("Channel 5", 2, 2), 0xC8);
            QVERIFY(extras < 2 || r.at("Channel 6", 2, 2) == 0x64);
        } else {
            QCOMPARE(r.scene.inks.size(), std::size_t(4));
        }
    }

    void inksBeyondRgbPrintOverIt()
    {
        QByteArray rows;
        for (int i = 0; i < 16; ++i) {
            rows += QByteArray("\xFF\xFF\xFF\x80", 4);
        }
        TiffLayout layout{.width = 4, .height = 4, .samples = 4, .photometric = 2};
        layout.extra = 9;
        const Read r = read(bytes_of(tiff_file(layout, rows)), 300);
        QCOMPARE(r.at("Channel 4", 2, 2), 0x80);
    }

    void picturesThatBreakOffAreShownAsFarAsTheyGo_data()
    {
        QTest::addColumn<QByteArray>("file");
        QImage image(64, 64, QImage::Format_RGB888);
        for (int y = 0; y < 64; ++y) {
            for (int x = 0; x < 64; ++x) {
                image.setPixel(x, y, qRgb((x * 37 + y * 11) & 255, (x * y) & 255, (y * 53) & 255));
            }
        }
        QTest::newRow("PNG") << encoded(image, "PNG");
        QTest::newRow("JPEG") << encoded(image, "JPEG");
        QTest::newRow("TIFF") << tiff_file(
            {.width = 64, .height = 64, .samples = 3, .photometric = 2, .compression = 8}, rgb_rows(image));
    }
    void picturesThatBreakOffAreShownAsFarAsTheyGo()
    {
        QFETCH(QByteArray, file);
        const auto damage = [](const QByteArray &bytes) {
            const auto artwork = take(Artwork::open_bytes(bytes_of(bytes), "picture"));
            const auto page = take(artwork->interpret(1, PageBox::Media));
            const Scene scene = take(record_scene(*page));
            const auto plate_line = take(PlateLine::make(page, propose_job(scene, "t").inks()));
            return page->damage().size();
        };
        QCOMPARE(damage(file), std::size_t(0));
        QByteArray cut = file;
        if (cut.startsWith("II") ||
            cut.startsWith("MM")) { // the directory stands at the end: the data is spoilt
            for (int i = 200; i < 600; ++i) {
                cut[i] = static_cast<char>(i * i * 71);
            }
        } else {
            cut.truncate(file.size() * 2 / 3);
        }
        QVERIFY(damage(cut) > 0);
    }

    void epsIsKnownWithoutItsMark_data()
    {
        QTest::addColumn<QByteArray>("file");
        QTest::addColumn<QString>("name");
        QTest::addColumn<double>("height");
        const QByteArray head = "%!PS\n%%BoundingBox: 0 0 10 2400\n%%EndComments\n";
        QTest::newRow("by its box") << head + "0 0 9 9 rectfill showpage\n"
                                    << "art.ps" << 2400.0;
        QTest::newRow("by its name") << QByteArray("%!PS\n%%BoundingBox: 0 0 50 60\n0 0 9 9 rectfill\n")
                                     << "art.EPS" << 60.0;
        QTest::newRow("a sheet of its own")
            << head + "<< /PageSize [100 200] >> setpagedevice 0 0 9 9 rectfill showpage\n"
            << "art.ps" << 200.0;
    }
    void epsIsKnownWithoutItsMark()
    {
        QFETCH(QByteArray, file);
        QFETCH(QString, name);
        QFETCH(double, height);
        const auto artwork = take(Artwork::open_bytes(bytes_of(file), name.toStdString()));
        const Rect box = take(artwork->page_info(1)).box(PageBox::Media);
        QVERIFY2(std::fabs(box.height - height * 25.4 / 72) < 0.1, qPrintable(QString::number(box.height)));
    }

    void aPostScriptThatFailsHalfWayIsShownSoFar()
    {
        const auto artwork = take(Artwork::open_bytes(
            bytes_of("%!PS\n<< /PageSize [72 72] >> setpagedevice 0 0 36 36 rectfill nonsense showpage\n"),
            "half.ps"));
        QVERIFY(!artwork->damage().empty());
        const Scene scene = take(record_scene(*take(artwork->interpret(1, PageBox::Media))));
        QCOMPARE(scene.objects.size(), std::size_t(1));
    }

    void whatAnSvgDoesNotShowIsTold_data()
    {
        QTest::addColumn<QByteArray>("inside");
        QTest::addColumn<QString>("told");
        QTest::newRow("flowing text")
            << QByteArray("<flowRoot><flowPara>Moth night</flowPara></flowRoot>") << "Moth night";
        QTest::newRow("no text in it") << QByteArray("<flowRoot><flowPara> </flowPara></flowRoot>") << "";
        QTest::newRow("hidden")
            << QByteArray("<g style='display:none'><flowRoot><flowPara>Moth</flowPara></flowRoot></g>") << "";
        QTest::newRow("text on a path")
            << QByteArray("<text><textPath>Lantern</textPath></text>") << "Lantern";
        QTest::newRow("a picture that is not there")
            << QByteArray("<image width='9' height='9' href='nowhere.png'/>") << "nowhere.png";
    }
    void whatAnSvgDoesNotShowIsTold()
    {
        QFETCH(QByteArray, inside);
        QFETCH(QString, told);
        const auto artwork =
            take(Artwork::open_bytes(bytes_of("<svg xmlns='http://www.w3.org/2000/svg' width='72' "
                                              "height='72'><rect width='9' height='9'/>" +
                                              inside + "</svg>"),
                                     "drawing.svg"));
        QCOMPARE(artwork->damage().empty(), told.isEmpty());
        QVERIFY(told.isEmpty() ||
                artwork->damage().front().note.find(told.toStdString()) != std::string::npos);
    }

    void compressedFilesAreUnpacked()
    {
        // gzip (RFC 1952) by zlib's own writer.
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("drawing.svgz"));
        gzFile file = gzopen(path.toUtf8().constData(), "wb");
        const QByteArray svg = "<svg xmlns='http://www.w3.org/2000/svg' width='72' height='72'><rect "
                               "width='9' height='9'/></svg>";
        gzwrite(file, svg.constData(), static_cast<unsigned>(svg.size()));
        gzclose(file);
        const auto artwork = take(Artwork::open(path.toStdString()));
        QCOMPARE(artwork->kind(), InputKind::Svg);
        QFile packed(path);
        QVERIFY(packed.open(QIODevice::ReadOnly));
        const QByteArray whole = packed.readAll();
        const auto cut = Artwork::open_bytes(bytes_of(whole.left(whole.size() - 12)), "cut.svgz");
        QVERIFY(!cut);
        QCOMPARE(cut.error().code, ErrorCode::CannotRead);
    }

    void aScreenedPictureComesThroughPixelForPixel()
    {
        // A 1-bit TIFF at film resolution must come out of the film as it went in.
        constexpr int side = 240;
        QByteArray rows;
        unsigned state = 1;
        for (int i = 0; i < side * side / 8; ++i) {
            state = state * 1664525u + 1013904223u;
            rows += static_cast<char>(state >> 24);
        }
        const auto file =
            tiff_file({.width = side, .height = side, .bits = 1, .photometric = 0, .ppi = 1200}, rows);
        const auto artwork = take(Artwork::open_bytes(bytes_of(file), "screened.tif"));
        const auto page = take(artwork->interpret(1, PageBox::Media));
        OpenedJob opened{propose_job(take(record_scene(*page)), "screened"), artwork, {}};
        opened.job.film.marks = false;
        const QTemporaryDir folder;
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const Manifest written = take(write_films(opened, request));
        const auto film = read_tiff(folder.filePath(QString::fromStdString(written.plates[0].file)));
        QCOMPARE(film.width, side);
        QCOMPARE(film.height, side);
        for (int y = 0; y < side; ++y) {
            for (int x = 0; x < side; ++x) {
                const bool black =
                    (static_cast<unsigned char>(rows[(y * side + x) / 8]) >> (7 - x % 8) & 1) != 0;
                QVERIFY2(film.film.at(x, y) == black, qPrintable(QStringLiteral("%1 %2").arg(x).arg(y)));
            }
        }
    }

    void damagedPicturesAreErrors_data()
    {
        QTest::addColumn<QByteArray>("file");
        QImage image(64, 64, QImage::Format_RGB32);
        image.fill(Qt::green);
        const QByteArray png = encoded(image, "png");
        QTest::newRow("PNG header only") << png.left(30);
        QTest::newRow("JPEG header only") << encoded(image, "jpg").left(4);
        const QByteArray tiff =
            tiff_file({.width = 64, .height = 64, .samples = 3, .photometric = 2}, rgb_rows(image));
        QTest::newRow("cut TIFF") << tiff.left(tiff.size() / 2);
        QByteArray giant = png;
        giant.replace(16, 8, QByteArray("\x00\x01\x00\x00\x00\x01\x00\x00", 8)); // 65536 × 65536
        QTest::newRow("giant PNG") << giant;
        QTest::newRow("SVG that is no XML") << QByteArray("<svg xmlns='http://www.w3.org/2000/svg'><g>");
    }
    void damagedPicturesAreErrors()
    {
        QFETCH(QByteArray, file);
        QElapsedTimer clock;
        clock.start();
        const auto artwork = Artwork::open_bytes(bytes_of(file), "broken");
        QVERIFY(!artwork);
        QVERIFY(clock.elapsed() < 11000);
        QVERIFY(!artwork.error().reason.empty() && !artwork.error().remedy.empty());
        QCOMPARE(QString::fromStdString(artwork.error().place), QStringLiteral("broken"));
    }

    void deflatedTiffsThatAreDamagedAreTold_data()
    {
        QTest::addColumn<int>("tile");
        QTest::newRow("strips") << 0;
        QTest::newRow("tiles") << 64;
    }
    void deflatedTiffsThatAreDamagedAreTold()
    {
        // A bit changed anywhere in the data: what it unpacks to may well be as long as it should be.
        QFETCH(int, tile);
        std::mt19937 random(8);
        std::vector<unsigned char> grey;
        for (int i = 0; i < 256 * 256; ++i) {
            grey.push_back(static_cast<unsigned char>(i / 256 + static_cast<int>(random() % 4)));
        }
        constexpr int deflate = 8;
        const QByteArray whole = tiff_file(
            {.width = 256,
             .height = 256,
             .samples = 1,
             .photometric = 1,
             .compression = deflate,
             .tile = tile},
            QByteArray(reinterpret_cast<const char *>(grey.data()), static_cast<qsizetype>(grey.size())));
        QVERIFY(take(take(Artwork::open_bytes(bytes_of(whole), "whole"))->interpret(1, PageBox::Media))
                    ->damage()
                    .empty());
        for (int round = 0; round < 60; ++round) {
            QByteArray file = whole;
            const auto at =
                static_cast<qsizetype>(1000 + random() % static_cast<unsigned>(file.size() - 2000));
            file[at] = static_cast<char>(file[at] ^ 1 << random() % 8);
            const auto artwork = Artwork::open_bytes(bytes_of(file), "damaged");
            const bool told = !artwork || !take((*artwork)->interpret(1, PageBox::Media))->damage().empty();
            QVERIFY2(told, qPrintable(QStringLiteral("byte %1 of %2").arg(at).arg(file.size())));
        }
    }

    void theOriginalIsKeptAndTheJobOpensAgain()
    {
        const QTemporaryDir folder;
        const auto file = bytes_of(eps("%%BoundingBox: 10 20 46 56\n", spot_body));
        const QString path = folder.filePath(QStringLiteral("moth.eps"));
        save_bytes(file, path);
        const OpenedJob opened = take(open_job_or_artwork(path.toStdString()));
        QVERIFY(std::equal(file.begin(), file.end(), opened.artwork->bytes().begin(),
                           opened.artwork->bytes().end()));
        const auto job = folder.filePath(QStringLiteral("moth.bichrom")).toStdString();
        QVERIFY(save_job(job, opened.job, *opened.artwork));
        const OpenedJob again = take(open_job(job));
        QCOMPARE(again.artwork->sha256(), opened.artwork->sha256());
        QVERIFY(again.artwork->kind() == InputKind::Eps);
        QVERIFY(again.job == opened.job);
    }

private:
    static bool find_ink(const Scene &scene, const std::string &name)
    {
        return std::any_of(scene.inks.begin(), scene.inks.end(),
                           [&](const FoundInk &ink) { return ink.name == name; });
    }
};

BICHROM_TEST(TestIntake, QGuiApplication)
#include "tst_intake.moc"
