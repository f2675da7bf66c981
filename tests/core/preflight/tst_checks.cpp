// Every check on a page that trips it and on one that does not.
#include "core/preflight/check_table.h"
#include "core/preflight/preflight.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <functional>
#include <set>

using namespace bichrom;
using namespace bichrom::test;

namespace {

using Change = std::function<void(MiniPdf &, ShopRules &)>;

struct Case
{
    const char *check;
    const char *name;
    std::string contents;
    bool trips;
    Change change = {};
    int places = 0;        ///< 0 = any number
    const char *word = ""; ///< that the title or what was measured must hold
    int object = -2;       ///< index of the worst place's object; −2 = any
};

void resource(MiniPdf &pdf, const std::string &text)
{
    pdf.resources += " " + text;
}

/// A font that stands in the file (a Type 3 square), and one that does not.
void fonts(MiniPdf &pdf)
{
    resource(
        pdf,
        "/Font << /In << /Type /Font /Subtype /Type3 /Name /Squares /FontBBox [0 0 1000 1000] /FontMatrix "
        "[0.001 0 0 0.001 0 0] /FirstChar 97 /LastChar 97 /Widths [1000] /Encoding << /Type /Encoding "
        "/Differences [97 /a] >> /CharProcs << /a 11 0 R >> /Resources << >> >> "
        "/Out << /Type /Font /Subtype /Type1 /BaseFont /NowhereSans >> >>");
    pdf.objects.resize(1, "null");
    pdf.objects.push_back(
        "<< /Length 44 >>\nstream\n1000 0 0 0 1000 1000 d1 0 0 800 800 re f     \nendstream");
}

void trim(MiniPdf &pdf, const char *box = "[9 9 63 63]", const char *bleed = "[0 0 72 72]")
{
    pdf.page_extra += std::string(" /TrimBox ") + box + " /BleedBox " + bleed;
}

std::string image(int width, int height, const char *space, int bits, const std::string &hex)
{
    return "<< /Type /XObject /Subtype /Image /Width " + std::to_string(width) + " /Height " +
           std::to_string(height) + " /ColorSpace " + space + " /BitsPerComponent " + std::to_string(bits) +
           " /Filter /ASCIIHexDecode /Length " + std::to_string(hex.size() + 1) + " >>\nstream\n" + hex +
           ">\nendstream";
}

/// /I, 72 × 72 grey pixels (8-bit) of the given look; shown at 72 ppi on the whole page.
Change grey_image(bool text_like, const char *space = "/DeviceGray")
{
    return [=](MiniPdf &pdf, ShopRules &) {
        std::string hex;
        for (int y = 0; y < 72; ++y) {
            for (int x = 0; x < 72; ++x) {
                // Strokes of 3 pixels every 9, or a slow ramp.
                const bool stroke = x % 9 < 3 && y % 12 < 9;
                char text[8];
                std::snprintf(text, sizeof text, "%02x", text_like ? (stroke ? 0 : 255) : x * 3);
                hex += text;
                if (std::string(space) == "/DeviceRGB") {
                    hex += std::string(text) + text;
                }
            }
        }
        pdf.objects.resize(1, "null");
        pdf.objects.push_back(image(72, 72, space, 8, hex));
        resource(pdf, "/XObject << /I 11 0 R >>");
    };
}

const std::string show = "q 72 0 0 72 0 0 cm /I Do Q";
const std::string quarter = "q 18 0 0 18 9 9 cm /I Do Q"; // at 288 ppi

std::vector<Case> cases()
{
    const auto spot_only = [](MiniPdf &, ShopRules &rules) { rules.spot_only = true; };
    const auto units = [](int count) {
        return [count](MiniPdf &, ShopRules &rules) { rules.press.units = count; };
    };
    const auto inks = [](std::vector<std::string> list) {
        return [list](MiniPdf &, ShopRules &rules) { rules.inks = list; };
    };
    const auto named = [](const char *name) {
        return [name](MiniPdf &pdf, ShopRules &) {
            pdf = MiniPdf{};
            pdf.resources =
                "/ColorSpace << " + separation("A", "Alpha") + " " + separation("Z", name) + " >>";
        };
    };
    const auto with_fonts = [](MiniPdf &pdf, ShopRules &) { fonts(pdf); };
    const auto with_trim = [](MiniPdf &pdf, ShopRules &) { trim(pdf); };
    const std::string all = " 0 0 72 72 re f ";
    const std::string small = " 30 30 9 9 re f ";
    const std::string alpha = "/A cs 1 scn";
    const auto text = [](double size) {
        return " BT /In " + format_number(size, 2) + " Tf 20 30 Td (aaa) Tj ET ";
    };
    return {
        {"ink_count", "three inks on two units", alpha + small + "/B cs 1 scn" + small + "0 g" + small, true,
         units(2), 1, "3 inks"},
        {"ink_count", "two inks on two units", alpha + small + "/B cs 1 scn" + small, false, units(2)},
        {"process_in_spot_job", "a stray black", alpha + all + "0 g" + small, true, spot_only, 1, "Black", 1},
        {"process_in_spot_job", "spots only", alpha + all, false, spot_only},
        {"process_in_spot_job", "a job with process inks", "0 g" + all, false},
        {"ink_not_in_list", "an unknown ink", alpha + small, true, inks({"Gamma"}), 1,
         "not in the shop's list"},
        {"ink_not_in_list", "upper and lower case", alpha + small, true, inks({"ALPHA"}), 1, "case"},
        {"ink_not_in_list", "a suffix", alpha + small, true, inks({"Alpha C"}), 1, "suffix"},
        {"ink_not_in_list", "one letter", alpha + small, true, inks({"Alpna"}), 1, "one letter"},
        {"ink_not_in_list", "spacing", alpha + small, true, inks({"Al pha"}), 1, "spacing"},
        {"ink_not_in_list", "a listed ink", alpha + small, false, inks({"Gamma", "Alpha"})},
        {"ink_not_in_list", "no list", alpha + small, false},
        {"ink_twice", "case", alpha + small + "/Z cs 1 scn" + small, true, named("alpha"), 1, "case", 1},
        {"ink_twice", "finish", alpha + small + "/Z cs 1 scn" + small, true, named("Alpha#20U"), 1, "suffix"},
        {"ink_twice", "another ink", alpha + small + "/Z cs 1 scn" + small, false, named("Omega")},
        {"unready_colour", "RGB", "1 0 0 rg" + small, true, {}, 1, "RGB without a profile"},
        {"unready_colour", "Lab", "/L cs 50 10 10 scn" + small, true,
         [](MiniPdf &pdf, ShopRules &) {
             pdf.resources = "/ColorSpace << /L [/Lab << /WhitePoint [0.96 1 0.82] >>] >>";
         },
         1, "Lab"},
        {"unready_colour", "CMYK, grey and spots", "0 g" + small + "0 1 0 0 k" + small + alpha + small,
         false},
        {"built_black", "text of four inks", "0.6 0.5 0.5 0.9 k" + text(9), true, with_fonts, 1, "", 0},
        {"built_black", "a thin RGB line", "0 0 0 RG 1 w 9 9 m 40 9 l S", true},
        {"built_black", "text in black alone", "0 0 0 1 k" + text(9), false, with_fonts},
        {"built_black", "large text", "0.6 0.5 0.5 0.9 k" + text(40), false, with_fonts},
        {"built_black", "a dark spot ink", alpha + text(9), false, with_fonts},
        {"built_black", "a thin red line", "0 1 1 0 K 1 w 9 9 m 40 9 l S", false},
        {"black_knocks_out", "text on colour", "0 1 0 0 k" + all + "0 0 0 1 k" + text(9), true, with_fonts, 1,
         "", 1},
        {"black_knocks_out", "text that overprints", "0 1 0 0 k" + all + "/OP gs 0 0 0 1 k" + text(9), false,
         with_fonts},
        {"black_knocks_out", "text on bare stock", "0 1 0 0 k 0 0 9 9 re f 0 0 0 1 k" + text(9), false,
         with_fonts},
        {"black_knocks_out", "a black area on colour", "0 1 0 0 k" + all + "0 0 0 1 k" + small, false},
        {"white_overprints",
         "white CMYK",
         "0 1 0 0 k" + all + "/OP gs 0 0 0 0 k" + small,
         true,
         {},
         1,
         "",
         1},
        {"white_overprints", "a spot at 0 %", "0 1 0 0 k" + all + "/OP gs /A cs 0 scn" + small, true},
        {"white_overprints", "white that knocks out", "0 1 0 0 k" + all + "0 0 0 0 k" + small, false},
        {"white_overprints", "colour that overprints", "/OP gs 0 1 0 0 k" + small, false},
        {"registration_colour", "a line in the art", "/All cs 1 scn" + small, true, with_trim},
        {"registration_colour", "a mark outside the trim", "/All cs 1 scn 0 0 4 4 re f", false, with_trim},
        {"total_ink", "four solids", "1 1 1 1 k" + small, true, {}, 1, "400 %"},
        {"total_ink",
         "a spot over a build",
         "1 1 1 0 k" + small + "/OP gs " + alpha + small,
         true,
         {},
         1,
         "400 %"},
        {"total_ink", "just at the limit", "1 1 1 0 k" + small, false},
        {"total_ink", "a speck", "1 1 1 1 k 30 30 1 1 re f", false},
        {"small_tint", "1 %", "/A cs 0.01 scn" + small, true, {}, 1, "too light"},
        {"small_tint", "99 %", "/A cs 0.985 scn" + small, true, {}, 1, "fills in"},
        {"small_tint", "3 %, solid and nothing", "/A cs 0.03 scn" + small + "1 scn" + small + "0 scn" + small,
         false},
        {"thin_line", "0.2 pt", "0.2 w 9 9 m 40 9 l S", true, {}, 1, "0.2 pt", 0},
        {"thin_line", "0 pt", "0 w 9 9 m 40 9 l S", true, {}, 1, "as thin as"},
        {"thin_line",
         "scaled down to 0.2 pt",
         "0.1 0 0 0.1 0 0 cm 2 w 90 90 m 400 90 l S",
         true,
         {},
         1,
         "0.2 pt"},
        {"thin_line", "0.25 pt", "0.25 w 9 9 m 40 9 l S", false},
        {"small_text", "4 pt in one ink", "0 g" + text(4), true, with_fonts, 1, "positive"},
        {"small_text", "5 pt in one ink", "0 g" + text(5), false, with_fonts},
        {"small_text", "6 pt in two inks", "/N cs 1 1 scn" + text(6), true, with_fonts, 1, "2 inks"},
        {"small_text", "6 pt white on colour", "0 0 0 1 k" + all + "0 0 0 0 k" + text(6), true, with_fonts, 1,
         "reversed"},
        {"small_text", "8 pt white on one ink", "0 0 0 1 k" + all + "0 0 0 0 k" + text(8), false, with_fonts},
        {"small_text", "8 pt white on two inks", "1 0 0 1 k" + all + "0 0 0 0 k" + text(8), true, with_fonts,
         1, "2 inks"},
        {"fonts_missing", "a font that is not there", "BT /Out 12 Tf 20 30 Td (moth) Tj ET", true, with_fonts,
         1, "NowhereSans"},
        {"fonts_missing", "a font in the file", text(12), false, with_fonts},
        {"image_coarse", "a photo at 72 ppi", show, true, grey_image(false, "/DeviceRGB"), 1, "72 ppi"},
        {"image_coarse", "grey at 72 ppi", show, true, grey_image(false), 1, "grey"},
        {"image_coarse", "grey at 288 ppi", quarter, false, grey_image(false)},
        {"image_coarse", "line art at 288 ppi", quarter, true,
         [](MiniPdf &pdf, ShopRules &) {
             pdf.objects.push_back(image(72, 72, "/DeviceGray", 1, std::string(72 * 18, '5')));
             resource(pdf, "/XObject << /I 11 0 R >>");
         },
         1, "line art"},
        {"image_fine", "grey at 720 ppi", "q 7.2 0 0 7.2 9 9 cm /I Do Q", true, grey_image(false), 1,
         "720 ppi"},
        {"image_fine", "grey at 288 ppi", quarter, false, grey_image(false)},
        {"image_moire", "112 ppi on 55 lpi", "q 46.2 0 0 46.2 0 0 cm /I Do Q", true, grey_image(false), 1,
         "55 lpi"},
        {"image_moire", "137 ppi on 55 lpi", "q 37.7 0 0 37.7 0 0 cm /I Do Q", false, grey_image(false)},
        {"rasterised_text", "strokes at 72 ppi", show, true, grey_image(true), 1, "72 ppi", 0},
        {"rasterised_text", "a ramp at 72 ppi", show, false, grey_image(false)},
        {"rasterised_text", "strokes at 720 ppi", "q 7.2 0 0 7.2 9 9 cm /I Do Q", false, grey_image(true)},
        {"page_boxes", "no trim", small, true, {}, 1, "does not say"},
        {"page_boxes", "trim beyond the sheet", small, true,
         [](MiniPdf &pdf, ShopRules &) { trim(pdf, "[-9 0 72 72]", "[-9 0 72 72]"); }, 1, "outside"},
        {"page_boxes", "bleed inside the trim", small, true,
         [](MiniPdf &pdf, ShopRules &) { trim(pdf, "[9 9 63 63]", "[10 10 60 60]"); }, 1, "bleed box"},
        {"page_boxes", "crop cuts the trim", small, true,
         [](MiniPdf &pdf, ShopRules &) {
             trim(pdf);
             pdf.page_extra += " /CropBox [20 20 40 40]";
         },
         1, "crop box"},
        {"page_boxes", "all in order", small, false, with_trim},
        {"sheet_size", "larger than the press", small, true,
         [](MiniPdf &, ShopRules &rules) { rules.press.sheet_width = Millimetres(20); }},
        {"sheet_size", "fits when turned", small, false,
         [](MiniPdf &pdf, ShopRules &rules) {
             pdf.width = 144;
             rules.press.sheet_width = Millimetres(30);
             rules.press.sheet_height = Millimetres(60);
         }},
        {"bleed", "ink that ends at the trim", alpha + " 9 9 54 54 re f", true, with_trim, 4, "without"},
        {"bleed", "ink to one side only", alpha + " 9 20 20 20 re f", true, with_trim, 1, "left"},
        {"bleed", "ink into the bleed", alpha + all, false, with_trim},
        {"bleed", "ink away from the edge", alpha + small, false, with_trim},
        {"near_edge", "1 pt from the trim", alpha + " 10 30 9 9 re f", true, with_trim, 1, "0.35 mm", 0},
        {"near_edge", "text on a fold", "0 g" + text(9), true,
         [](MiniPdf &pdf, ShopRules &rules) {
             fonts(pdf);
             rules.folds = {{true, Millimetres(10)}};
         },
         1, "fold"},
        {"near_edge", "in a keep-out zone", alpha + small, true,
         [](MiniPdf &, ShopRules &rules) {
             rules.keep_out = {{12, 12, 3, 3}};
         },
         1, "keep-out"},
        {"near_edge", "in the middle", alpha + small, false,
         [](MiniPdf &pdf, ShopRules &rules) {
             trim(pdf);
             rules.folds = {{false, Millimetres(1)}};
             rules.keep_out = {{0, 0, 3, 3}};
         }},
        {"near_edge", "ink that bleeds", alpha + all, false, with_trim},
        {"outside_bleed", "beyond the bleed", alpha + " 0 0 2 2 re f", true,
         [](MiniPdf &pdf, ShopRules &) { trim(pdf, "[20 20 60 60]", "[12 12 66 66]"); }, 1, "Marks outside"},
        {"outside_bleed", "beyond the page", alpha + " 100 0 9 9 re f", true, with_trim, 1,
         "outside the page"},
        {"outside_bleed", "in the bleed", alpha + " 2 2 5 5 re f", false, with_trim},
        {"near_invisible", "half a per cent", "/A cs 0.005 scn" + small, true, {}, 1, "faint"},
        {"near_invisible", "0.05 mm", alpha + " 30 30 0.14 0.14 re f", true, {}, 1, "small"},
        {"near_invisible", "a plain square", alpha + small, false},
        {"transparency", "half opacity", "/Half gs " + alpha + small, true, {}, 1, "50 %"},
        {"transparency", "a blend mode", "/Mul gs " + alpha + small, true},
        {"transparency", "none", alpha + small, false},
        {"overprint", "a spot", "/OP gs " + alpha + small, true},
        {"overprint", "none", alpha + small, false},
        {"hidden_layers", "one hidden", alpha + small, true,
         [](MiniPdf &pdf, ShopRules &) {
             pdf.objects.push_back("<< /Type /OCG /Name (Old price) >>");
             pdf.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /OFF [11 0 R] >> >>";
         },
         1, "nothing lies on it"},
        {"hidden_layers", "one hidden, with text and a picture",
         alpha + small + " /OC /L BDC" + small + " BT ET Q EMC", true,
         [](MiniPdf &pdf, ShopRules &) {
             pdf.objects.push_back("<< /Type /OCG /Name (Old price) >>");
             pdf.objects.push_back("<< /Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 "
                                   "/ColorSpace /DeviceGray /OC 11 0 R /Length 1 >>\nstream\n0\nendstream");
             pdf.resources += " /Properties << /L 11 0 R >> /XObject << /I 12 0 R >>";
             pdf.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /OFF [11 0 R] >> >>";
         },
         1, "2 objects on it"},
        {"hidden_layers", "all shown", alpha + small, false,
         [](MiniPdf &pdf, ShopRules &) {
             pdf.objects.push_back("<< /Type /OCG /Name (Old price) >>");
             pdf.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << >> >>";
         }},
        {"annotations", "a stamp that prints", alpha + small, true,
         [](MiniPdf &pdf, ShopRules &) {
             pdf.objects.push_back(
                 "<< /Length 0 /Type /XObject /Subtype /Form /BBox [0 0 9 9] >>\nstream\n\nendstream");
             pdf.page_extra =
                 "/Annots [<< /Type /Annot /Subtype /Stamp /Rect [0 0 9 9] /F 4 /AP << /N 11 0 R >> >>]";
         }},
        {"annotations", "a note for the screen", alpha + small, false,
         [](MiniPdf &pdf, ShopRules &) {
             pdf.objects.push_back(
                 "<< /Length 0 /Type /XObject /Subtype /Form /BBox [0 0 9 9] >>\nstream\n\nendstream");
             pdf.page_extra =
                 "/Annots [<< /Type /Annot /Subtype /Stamp /Rect [0 0 9 9] /F 0 /AP << /N 11 0 R >> >>]";
         }},
    };
}

} // namespace

class TestChecks : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void check_data()
    {
        QTest::addColumn<int>("index");
        const auto all = cases();
        for (int i = 0; i < static_cast<int>(all.size()); ++i) {
            const Case &one = all[static_cast<std::size_t>(i)];
            QTest::addRow("%s: %s", one.check, one.name) << i;
        }
    }
    void check()
    {
        QFETCH(int, index);
        const Case one = cases()[static_cast<std::size_t>(index)];
        MiniPdf pdf = spots_page("");
        ShopRules rules;
        rules.checks[one.check].severity = Severity::Warning;
        if (one.change) {
            one.change(pdf, rules);
        }
        pdf.contents = one.contents;
        const auto findings = take(check_page(*pdf.artwork(), 1, rules));
        if (!one.trips) {
            QVERIFY2(findings.empty(), findings.empty() ? "" : findings[0].title.c_str());
            return;
        }
        QCOMPARE(findings.size(), std::size_t(1));
        const Finding &finding = findings.front();
        QCOMPARE(finding.check, std::string(one.check));
        QVERIFY(!finding.title.empty() && !finding.why.empty() && !finding.remedy.empty());
        if (one.places > 0) {
            QCOMPARE(static_cast<int>(finding.places.size()), one.places);
        }
        const std::string words = finding.title + " " + finding.places.front().measured;
        QVERIFY2(words.find(one.word) != std::string::npos, words.c_str());
        if (one.object > -2) {
            QCOMPARE(finding.places.front().object, one.object);
        }
        for (const FindingPlace &place : finding.places) {
            QVERIFY(place.area.x > -100 && place.area.width < 100);
        }
        // Switched off, nothing is found.
        rules.checks[one.check].severity = Severity::Off;
        QVERIFY(take(check_page(*pdf.artwork(), 1, rules)).empty());
    }

    void everyCheckIsTested()
    {
        std::map<std::string, std::pair<bool, bool>> seen;
        for (const Case &one : cases()) {
            (one.trips ? seen[one.check].first : seen[one.check].second) = true;
        }
        // Those of plates are tested in tst_plate_checks, these in tst_fault_files.
        const std::set<std::string> by_files = {
            "damaged_content", "blank_page",      "page_sizes",         "output_intent",
            "ink_alternates",  "process_as_spot", "image_upscaled",     "white_on_stock",
            "covered_art",     "stacked_twice",   "overprint_vanishes", "text_at_trim",
            "screened_text",   "heavy_path",      "gradient_steps",     "white_knocked_out"};
        for (const CheckInfo &check : all_checks()) {
            QVERIFY2(check.plates || by_files.count(check.name) > 0 ||
                         (seen[check.name].first && seen[check.name].second),
                     check.name);
            QVERIFY(!check.plates || seen.count(check.name) == 0);
        }
    }

    void limitsMoveTheResult()
    {
        MiniPdf pdf = spots_page("0.4 w 9 9 m 40 9 l S");
        ShopRules rules;
        rules.checks["thin_line"].severity = Severity::Error;
        QVERIFY(take(check_page(*pdf.artwork(), 1, rules)).empty());
        rules.checks["thin_line"].limits["line_pt"] = 0.5;
        const auto findings = take(check_page(*pdf.artwork(), 1, rules));
        QCOMPARE(findings.size(), std::size_t(1));
        QCOMPARE(findings[0].severity, Severity::Error);
        QCOMPARE(QString::fromStdString(findings[0].limit), QStringLiteral("at least 0.5 pt"));
        // The place in mm from the top left of 72 pt.
        QVERIFY(std::fabs(findings[0].places[0].area.x - 9 * 25.4 / 72) < 0.15);
        QVERIFY(std::fabs(findings[0].places[0].area.y - (72 - 9) * 25.4 / 72) < 0.15);
    }

    void findingsComeMostSevereFirst()
    {
        MiniPdf pdf = spots_page("/OP gs /A cs 1 scn 0 0 9 9 re f 0.1 w 9 9 m 40 9 l S");
        ShopRules rules;
        rules.checks["overprint"].severity = Severity::Error;
        rules.checks["thin_line"].severity = Severity::Note;
        const auto findings = take(check_page(*pdf.artwork(), 1, rules));
        QCOMPARE(findings.front().check, std::string("overprint"));
        QCOMPARE(findings.back().check, std::string("thin_line"));
    }

    void theHandbillHasTheFaultsPutIntoIt()
    {
        // The demo is made with these faults on purpose; whatever paints the plates must let them be found.
        const auto artwork = take(Artwork::open(BICHROM_SOURCE_DIR "/demo/handbill.pdf"));
        std::set<std::string> found;
        for (const Finding &finding : take(check_artwork(*artwork, shipped_rules().front()))) {
            found.insert(finding.check);
        }
        for (const char *check :
             {"annotations", "built_black", "hidden_layers", "image_coarse", "ink_twice", "near_invisible",
              "overprint", "overprint_vanishes", "registration_colour", "small_text", "small_tint",
              "thin_line", "total_ink", "unready_colour", "white_overprints"}) {
            QVERIFY2(found.count(check) == 1, check);
        }
    }
};

BICHROM_TEST(TestChecks, QCoreApplication)
#include "tst_checks.moc"
