// Embedded and assumed colour profiles, against lcms2 called directly.
#include "core/colour/source_profile.h"
#include "core/job/job_file.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <lcms2.h>

#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// A wide-gamut RGB profile: primaries of ROMM RGB (ISO 22028-2), gamma 1.8.
std::vector<std::byte> wide_gamut()
{
    const cmsCIExyY white = {0.3457, 0.3585, 1.0};
    const cmsCIExyYTRIPLE primaries = {{0.7347, 0.2653, 1}, {0.1596, 0.8404, 1}, {0.0366, 0.0001, 1}};
    cmsToneCurve *gamma = cmsBuildGamma(nullptr, 1.8);
    cmsToneCurve *curves[] = {gamma, gamma, gamma};
    cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
    cmsFreeToneCurve(gamma);
    cmsUInt32Number size = 0;
    cmsSaveProfileToMem(profile, nullptr, &size);
    std::vector<std::byte> bytes(size);
    cmsSaveProfileToMem(profile, bytes.data(), &size);
    cmsCloseProfile(profile);
    return bytes;
}

/// \p rgb (bytes) through \p icc into FOGRA39, by lcms2 alone.
std::array<int, 4> directly(const std::vector<std::byte> &icc, std::array<int, 3> rgb)
{
    const auto fogra = ProcessProfile::fogra39_bytes();
    cmsHPROFILE in = cmsOpenProfileFromMem(icc.data(), static_cast<cmsUInt32Number>(icc.size()));
    cmsHPROFILE out = cmsOpenProfileFromMem(fogra.data(), static_cast<cmsUInt32Number>(fogra.size()));
    cmsHTRANSFORM transform =
        cmsCreateTransform(in, TYPE_RGB_16, out, TYPE_CMYK_16, INTENT_RELATIVE_COLORIMETRIC,
                           cmsFLAGS_BLACKPOINTCOMPENSATION | cmsFLAGS_NOOPTIMIZE);
    std::array<cmsUInt16Number, 3> from{};
    for (std::size_t i = 0; i < 3; ++i) {
        from[i] = static_cast<cmsUInt16Number>(rgb[i] * 257);
    }
    std::array<cmsUInt16Number, 4> to{};
    cmsDoTransform(transform, from.data(), to.data(), 1);
    cmsDeleteTransform(transform);
    cmsCloseProfile(in);
    cmsCloseProfile(out);
    std::array<int, 4> result{};
    for (std::size_t i = 0; i < 4; ++i) {
        result[i] = static_cast<int>(std::lround(to[i] / 257.0));
    }
    return result;
}

std::string hex(const void *data, std::size_t size)
{
    static constexpr char digits[] = "0123456789abcdef";
    std::string text;
    for (std::size_t i = 0; i < size; ++i) {
        const auto byte = static_cast<const unsigned char *>(data)[i];
        text += digits[byte >> 4];
        text += digits[byte & 15];
    }
    return text + ">";
}

std::string stream(const std::string &entries, const std::string &hexed)
{
    return "<< " + entries + " /Filter /ASCIIHexDecode /Length " + std::to_string(hexed.size()) +
           " >>\nstream\n" + hexed + "\nendstream";
}

std::string icc_stream(const std::vector<std::byte> &icc, int channels)
{
    return stream("/N " + std::to_string(channels), hex(icc.data(), icc.size()));
}

/// A page with the colour space /P; object 10 is its profile, 11 an image of one colour in it.
MiniPdf profiled_page(const std::string &contents, const std::vector<std::byte> &icc, int channels,
                      const std::string &pixel)
{
    MiniPdf pdf;
    pdf.contents = contents;
    pdf.resources = "/ColorSpace << /P [/ICCBased 10 0 R] /X [/Indexed [/ICCBased 10 0 R] 0 <" + pixel +
                    ">] >> /XObject << /I 11 0 R >> /ExtGState << /OPM << /OP true /op true /OPM 1 >> >>";
    pdf.objects = {icc_stream(icc, channels),
                   stream("/Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 "
                          "/ColorSpace [/ICCBased 10 0 R]",
                          pixel + ">")};
    return pdf;
}

PlateTile plates_of(const MiniPdf &pdf, const ColourSettings &settings = {})
{
    const auto page = take(pdf.artwork()->interpret(1, PageBox::Media, settings));
    const auto plate_line = take(PlateLine::make(page, {"Cyan", "Magenta", "Yellow", "Black"}));
    return take(plate_line->render(plate_line->extent(Dpi(36)), Dpi(36)));
}

std::array<int, 4> centre(const PlateTile &tile)
{
    std::array<int, 4> values{};
    for (std::size_t i = 0; i < 4; ++i) {
        values[i] = tile.plates[i].at(tile.rect.width / 2, tile.rect.height / 2);
    }
    return values;
}

bool near(const std::array<int, 4> &a, const std::array<int, 4> &b, int most)
{
    for (std::size_t i = 0; i < 4; ++i) {
        if (std::abs(a[i] - b[i]) > most) {
            qWarning("%d %d %d %d against %d %d %d %d", a[0], a[1], a[2], a[3], b[0], b[1], b[2], b[3]);
            return false;
        }
    }
    return true;
}

bool assumes(const Artwork &artwork, const char *words)
{
    const auto &all = artwork.assumptions();
    return std::any_of(all.begin(), all.end(),
                       [&](const std::string &text) { return text.find(words) != std::string::npos; });
}

const std::string fill = "0 0 72 72 re f";

} // namespace

class TestProfiles : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void wideGamutRgbEqualsLcms_data()
    {
        QTest::addColumn<QString>("contents");
        QTest::newRow("a fill") << QStringLiteral("/P cs 0.2 0.6 0.4 scn 0 0 72 72 re f");
        QTest::newRow("a stroke") << QStringLiteral("/P CS 0.2 0.6 0.4 SCN 80 w 0 36 m 72 36 l S");
        QTest::newRow("an image") << QStringLiteral("72 0 0 72 0 0 cm /I Do");
        QTest::newRow("an indexed fill") << QStringLiteral("/X cs 0 scn 0 0 72 72 re f");
    }
    void wideGamutRgbEqualsLcms()
    {
        QFETCH(QString, contents);
        const auto icc = wide_gamut();
        const std::array<int, 3> rgb = {51, 153, 102};
        const MiniPdf pdf = profiled_page(contents.toStdString(), icc, 3, "339966");
        const auto got = centre(plates_of(pdf));
        QVERIFY(near(got, directly(icc, rgb), 1));
        MiniPdf plain;
        plain.contents = "0.2 0.6 0.4 rg " + fill;
        const auto srgb = centre(plates_of(plain));
        QVERIFY(std::abs(got[0] - srgb[0]) > 20); // and not as if it were sRGB
        const Scene scene = pdf.scene();
        QVERIFY(scene.objects[0].colour.space.ends_with("ICCBased"));
        QCOMPARE(scene.objects[0].colour.colorants.front(), std::string("Red"));
        QVERIFY(scene.objects[0].colour.profile.find("RGB") != std::string::npos);
    }

    void aGradientInAProfiledSpace()
    {
        MiniPdf pdf = profiled_page("/Sh sh", wide_gamut(), 3, "339966");
        pdf.resources +=
            " /Shading << /Sh << /ShadingType 2 /ColorSpace [/ICCBased 10 0 R] /Coords [0 0 72 0] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.2 0.6 0.4] /C1 [0.2 0.6 0.4] "
            ">> >> >>";
        QVERIFY(near(centre(plates_of(pdf)), directly(wide_gamut(), {51, 153, 102}), 1));
    }

    void calibratedRgbIsConverted()
    {
        // ROMM primaries at gamma 1.8 written as ISO 32000-1, 8.6.5.3 wants them.
        const CalibratedRgb romm{{0.9642, 1.0, 0.8249},
                                 {1.8, 1.8, 1.8},
                                 {0.7977, 0.2880, 0.0, 0.1352, 0.7119, 0.0, 0.0313, 0.0001, 0.8249}};
        MiniPdf pdf;
        pdf.contents = "/C cs 0.2 0.6 0.4 scn " + fill;
        pdf.resources =
            "/ColorSpace << /C [/CalRGB << /WhitePoint [0.9642 1 0.8249] /Gamma [1.8 1.8 1.8] /Matrix "
            "[0.7977 0.2880 0 0.1352 0.7119 0 0.0313 0.0001 0.8249] >>] >>";
        QVERIFY(near(centre(plates_of(pdf)), directly(make_profile(romm), {51, 153, 102}), 1));
        QVERIFY(
            near(centre(plates_of(pdf)), directly(wide_gamut(), {51, 153, 102}), 3)); // the same primaries
        QVERIFY(make_profile(CalibratedRgb{{0, 0, 0}, {0, 0, 0}, {}}).empty());
    }

    void labImagesAreReadByTheirRange_data()
    {
        QTest::addColumn<QString>("image");
        // L* 53.33, a* 40, b* −20 each time (ISO 32000-1, 8.6.5.4 and 8.9.5.2)
        const QString head =
            QStringLiteral("/ColorSpace [/Lab << /WhitePoint [0.9642 1 0.8249] %1 >>] %2|%3");
        QTest::newRow("usual range") << head.arg(QStringLiteral("/Range [-128 127 -128 127]"), QString(),
                                                 QStringLiteral("88a86c>"));
        QTest::newRow("default range ±100")
            << head.arg(QString(), QString(), QStringLiteral("88b266>")); // 178 and 102 of 255
        QTest::newRow("own Decode") << head.arg(QStringLiteral("/Range [-128 127 -128 127]"),
                                                QStringLiteral("/Decode [0 100 0 127.5 -127.5 0]"),
                                                QStringLiteral("8850d7>"));
        QTest::newRow("indexed") << QStringLiteral(
            "/ColorSpace [/Indexed [/Lab << /WhitePoint [0.9642 1 0.8249] >>] "
            "0 <88b266>]|00>");
    }
    void labImagesAreReadByTheirRange()
    {
        QFETCH(QString, image);
        MiniPdf pdf;
        pdf.contents = "72 0 0 72 0 0 cm /I Do";
        pdf.resources = "/XObject << /I 10 0 R >>";
        const QStringList parts = image.split(QLatin1Char('|'));
        pdf.objects = {stream("/Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 " +
                                  parts[0].toStdString(),
                              parts[1].toStdString())};
        const Cmyk expected = ProcessProfile::fogra39()->from_lab({53.33, 40, -20});
        std::array<int, 4> bytes{};
        for (std::size_t i = 0; i < 4; ++i) {
            bytes[i] = static_cast<int>(std::lround(expected[i] * 255.0f));
        }
        QVERIFY(near(centre(plates_of(pdf)), bytes, 2)); // pixels carry whole units of a* and b*
    }

    void cmykWithAProfileKeepsItsNumbersOrIsConverted()
    {
        const auto fogra = ProcessProfile::fogra39_bytes();
        const std::vector<std::byte> icc(fogra.begin(), fogra.end());
        for (const char *contents : {"/P cs 0 0 0 1 scn 0 0 72 72 re f", "72 0 0 72 0 0 cm /I Do"}) {
            const MiniPdf pdf = profiled_page(contents, icc, 4, "000000ff");
            QCOMPARE(centre(plates_of(pdf)), (std::array{0, 0, 0, 255}));
            QVERIFY(assumes(*pdf.artwork(), "keeps its numbers"));
            ColourSettings convert;
            convert.convert_cmyk = true;
            const auto got = centre(plates_of(pdf, convert));
            QVERIFY(got[0] > 100 && got[3] < 255); // black alone becomes four inks: why it is not the default
        }
    }

    void overprintModeSparesDeviceCmykOnly()
    {
        // ISO 32000-1, 11.7.4.3: OPM 1 concerns DeviceCMYK written directly, not ICCBased.
        const auto fogra = ProcessProfile::fogra39_bytes();
        const std::vector<std::byte> icc(fogra.begin(), fogra.end());
        const std::string under = "1 0 0 0 k 0 0 72 72 re f /OPM gs ";
        QCOMPARE(centre(plates_of(profiled_page(under + "0 0 1 0 k " + fill, icc, 4, "00000000")))[0], 255);
        QCOMPARE(centre(plates_of(profiled_page(under + "/P cs 0 0 1 0 scn " + fill, icc, 4, "00000000")))[0],
                 0);
    }

    void aDamagedProfileFallsBackWithAWord()
    {
        std::vector<std::byte> rubbish(400, std::byte{0x41});
        const MiniPdf pdf = profiled_page("/P cs 0.2 0.6 0.4 scn " + fill, rubbish, 3, "339966");
        MiniPdf plain;
        plain.contents = "0.2 0.6 0.4 rg " + fill;
        QCOMPARE(centre(plates_of(pdf)), centre(plates_of(plain)));
        QVERIFY(assumes(*pdf.artwork(), "damaged"));
        // A profile of another number of channels is no use either.
        const MiniPdf other = profiled_page("/P cs 0 0 0 1 scn " + fill, wide_gamut(), 4, "000000ff");
        QCOMPARE(centre(plates_of(other)), (std::array{0, 0, 0, 255}));
        QVERIFY(assumes(*other.artwork(), "damaged"));
    }

    void untaggedRgbIsReadAsAssumed()
    {
        MiniPdf pdf;
        pdf.contents = "0.2 0.6 0.4 rg " + fill;
        ColourSettings settings;
        settings.untagged_rgb = std::make_shared<const std::vector<std::byte>>(wide_gamut());
        QVERIFY(near(centre(plates_of(pdf, settings)), directly(wide_gamut(), {51, 153, 102}), 1));
        const Lab lab = ProcessProfile::fogra39()->rgb_to_lab({51, 153, 102});
        settings.untagged_rgb = std::make_shared<const std::vector<std::byte>>(8, std::byte{1});
        QVERIFY(!pdf.artwork()->interpret(1, PageBox::Media, settings));
        QVERIFY(lab.a < 0);
    }

    void thePrintingConditionCanBeAnother()
    {
        MiniPdf pdf;
        pdf.contents = "0.2 0.6 0.4 rg " + fill;
        ColourSettings settings;
        settings.rendering = {RenderingIntent::Perceptual, false};
        const auto perceptual = centre(plates_of(pdf, settings));
        QVERIFY(perceptual != centre(plates_of(pdf)));
        settings.condition =
            std::make_shared<const std::vector<std::byte>>(wide_gamut()); // no printing condition
        const auto page = pdf.artwork()->interpret(1, PageBox::Media, settings);
        QVERIFY(!page);
        QCOMPARE(page.error().code, ErrorCode::WrongFormat);
    }

    void settingsTravelWithTheJob()
    {
        const QTemporaryDir folder;
        MiniPdf pdf;
        pdf.contents = "0.2 0.6 0.4 rg " + fill;
        OpenedJob opened = pdf.job();
        opened.job.colours.untagged_rgb = std::make_shared<const std::vector<std::byte>>(wide_gamut());
        opened.job.colours.rendering = {RenderingIntent::Perceptual, false};
        opened.job.colours.convert_cmyk = true;
        opened.job.assumed_ppi = 123;
        const auto path = folder.filePath(QStringLiteral("a.bichrom")).toStdString();
        QVERIFY(save_job(path, opened.job, *opened.artwork));
        QVERIFY(take(open_job(path)).job == opened.job);
    }

    void nothingIsCopiedThatNeedsNoMending()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f");
        QVERIFY(pdf.artwork()->assumptions().empty());
        const auto bytes = pdf.bytes();
        const auto artwork = take(Artwork::open_bytes(bytes, "a.pdf"));
        QVERIFY(std::equal(bytes.begin(), bytes.end(), artwork->bytes().begin(), artwork->bytes().end()));
    }

    void aListOfBlendModesMeansItsFirstKnownOne()
    {
        // ISO 32000-1, 11.6.3: the first name recognised; Multiply darkens, Normal would not.
        for (const char *modes : {"[/Multiply /Screen]", "[/NoSuchMode /Multiply]"}) {
            MiniPdf pdf;
            pdf.contents = "0 0 0 0.5 k " + fill + " /B gs 0 0 0 0.5 k " + fill;
            pdf.resources = std::string("/ExtGState << /B << /BM ") + modes + " >> >>";
            QVERIFY(centre(plates_of(pdf))[3] > 180);
        }
    }

    void deviceColoursFollowTheDefaultSpaces_data()
    {
        QTest::addColumn<QString>("contents");
        // Device colours on a page whose DefaultRGB is a wide-gamut profile, each covering the page.
        QTest::newRow("a fill") << "0.2 0.8 0.1 rg 0 0 72 72 re f";
        QTest::newRow("a line") << "0.2 0.8 0.1 RG 90 w 0 36 m 72 36 l S";
        QTest::newRow("a space that is set") << "/DeviceRGB cs 0.2 0.8 0.1 sc 0 0 72 72 re f";
        QTest::newRow("a picture") << "q 72 0 0 72 0 0 cm /I Do Q";
        QTest::newRow("a picture with a table") << "q 72 0 0 72 0 0 cm /T Do Q";
        QTest::newRow("an inline picture")
            << "q 72 0 0 72 0 0 cm BI /W 1 /H 1 /BPC 8 /CS /RGB /F /AHx ID 33cc1a> EI Q";
        QTest::newRow("a shading") << "/S sh";
        QTest::newRow("a form with resources of its own") << "/F Do";
        QTest::newRow("words that look like operators in text stay")
            << "0.2 0.8 0.1 rg 0 0 72 72 re f BT (1 0 0 rg) Tj ET";
    }
    void deviceColoursFollowTheDefaultSpaces()
    {
        QFETCH(QString, contents);
        const std::vector<std::byte> icc = wide_gamut();
        MiniPdf pdf;
        pdf.contents = contents.toStdString();
        const std::string function =
            "<< /FunctionType 2 /Domain [0 1] /C0 [0.2 0.8 0.1] /C1 [0.2 0.8 0.1] /N 1 >>";
        pdf.resources =
            "/ColorSpace << /DefaultRGB [/ICCBased 10 0 R] >> /XObject << /I 11 0 R /T 12 0 R /F 13 0 R >> "
            "/Shading << /S << /ShadingType 2 /ColorSpace /DeviceRGB /Coords [0 0 72 0] /Extend [true true] "
            "/Function " +
            function + " >> >>";
        const std::string image =
            "/Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 /ColorSpace ";
        pdf.objects = {
            icc_stream(icc, 3), stream(image + "/DeviceRGB", "33cc1a>"),
            stream(image + "[/Indexed /DeviceRGB 0 <33cc1a>]", "00>"),
            "<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] /Resources << /ColorSpace << /DefaultRGB "
            "[/ICCBased 10 0 R] >> >> /Length 31 >>\nstream\n0.2 0.8 0.1 rg 0 0 72 72 re f  \nendstream"};
        QVERIFY(near(centre(plates_of(pdf)), directly(icc, {0x33, 0xCC, 0x1A}), 1));
        // Without the default space the same colours are sRGB: other plates.
        MiniPdf plain = pdf;
        for (std::string *text : {&plain.resources, &plain.objects[3]}) {
            text->replace(text->find("/DefaultRGB"), 11, "/Elsewhere1");
        }
        QVERIFY(!(centre(plates_of(plain)) == centre(plates_of(pdf))));
    }

    void defaultCmykIsKeptOrConverted()
    {
        const std::span<const std::byte> fogra = ProcessProfile::fogra39_bytes();
        MiniPdf pdf;
        pdf.contents = "0.6 0.2 0 0.1 k 0 0 72 72 re f";
        pdf.resources = "/ColorSpace << /DefaultCMYK [/ICCBased 10 0 R] >>";
        pdf.objects = {icc_stream({fogra.begin(), fogra.end()}, 4)};
        QVERIFY(near(centre(plates_of(pdf)), {153, 51, 0, 26}, 1)); // the numbers are kept
        ColourSettings converted;
        converted.convert_cmyk = true;
        // Into its own condition nearly the same colour comes out, but by another mixture.
        QVERIFY(!near(centre(plates_of(pdf, converted)), {153, 51, 0, 26}, 1));
    }
};

BICHROM_TEST(TestProfiles, QCoreApplication)
#include "tst_profiles.moc"
