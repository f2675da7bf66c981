#include "pages.h"

#include <cmath>
#include <cstdio>
#include <cstring>
#include <random>

namespace bichrom::bench {

namespace {

std::string spot(int i)
{
    char text[256];
    std::snprintf(text, sizeof text,
                  "/S%d [/Separation /Ink%d /DeviceCMYK << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] "
                  "/C1 [%.1f %.1f %.1f 0] >>] ",
                  i, i, i % 2 * 0.8, i % 3 * 0.4, i % 5 * 0.2);
    return text;
}

/// \param more  objects from number 5 on
std::vector<std::byte> pdf(double width, double height, const std::string &contents,
                           const std::string &resources, const std::vector<std::string> &more)
{
    std::string out = "%PDF-1.7\n";
    std::vector<std::size_t> places;
    const auto add = [&](const std::string &body) {
        places.push_back(out.size());
        out += std::to_string(places.size()) + " 0 obj\n" + body + "\nendobj\n";
    };
    add("<< /Type /Catalog /Pages 2 0 R >>");
    add("<< /Type /Pages /Kids [3 0 R] /Count 1 >>");
    char box[64];
    std::snprintf(box, sizeof box, "%.3f %.3f", width, height);
    add("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 " + std::string(box) +
        "] /Contents 4 0 R /Resources << " + resources + " >> >>");
    add("<< /Length " + std::to_string(contents.size()) + " >>\nstream\n" + contents + "\nendstream");
    for (const std::string &object : more) {
        add(object);
    }
    const std::size_t start = out.size();
    out += "xref\n0 " + std::to_string(places.size() + 1) + "\n0000000000 65535 f \n";
    for (const std::size_t place : places) {
        char line[32];
        std::snprintf(line, sizeof line, "%010zu 00000 n \n", place);
        out += line;
    }
    out += "trailer\n<< /Size " + std::to_string(places.size() + 1) + " /Root 1 0 R >>\nstartxref\n" +
           std::to_string(start) + "\n%%EOF\n";
    std::vector<std::byte> bytes(out.size());
    std::memcpy(bytes.data(), out.data(), out.size());
    return bytes;
}

constexpr const char *states = "/ExtGState << /OP << /OP true /op true >> /No << /OP false /op false >> >> ";

} // namespace

std::vector<std::byte> line_art(double width_mm, double height_mm)
{
    const double w = width_mm * 72 / 25.4, h = height_mm * 72 / 25.4;
    std::mt19937 random(5);
    std::uniform_real_distribution<double> x(0, w), y(0, h), unit(0, 1);
    std::string s, colours = "/ColorSpace << ";
    char line[512];
    for (int i = 0; i < 6; ++i) {
        colours += spot(i);
    }
    colours += ">> ";
    for (int i = 0; i < 220; ++i) { // round shapes, solid and tinted
        const double cx = x(random), cy = y(random), r = 10 + unit(random) * w * 0.06, k = r * 0.5523;
        const double tint = i % 3 == 0 ? 1.0 : 0.1 + 0.8 * unit(random);
        std::snprintf(line, sizeof line,
                      "/%s gs /S%d cs %.2f scn %.1f %.1f m %.1f %.1f %.1f %.1f %.1f %.1f c %.1f %.1f %.1f "
                      "%.1f %.1f %.1f c "
                      "%.1f %.1f %.1f %.1f %.1f %.1f c %.1f %.1f %.1f %.1f %.1f %.1f c f\n",
                      i % 4 == 0 ? "OP" : "No", i % 6, tint, cx + r, cy, cx + r, cy + k, cx + k, cy + r, cx,
                      cy + r, cx - k, cy + r, cx - r, cy + k, cx - r, cy, cx - r, cy - k, cx - k, cy - r, cx,
                      cy - r, cx + k, cy - r, cx + r, cy - k, cx + r, cy);
        s += line;
    }
    for (int i = 0; i < 600; ++i) { // lines
        std::snprintf(line, sizeof line, "/S%d CS 1 SCN %.2f w %.1f %.1f m %.1f %.1f l S\n", i % 6,
                      0.3 + unit(random), x(random), y(random), x(random), y(random));
        s += line;
    }
    for (int i = 0; i < 3000; ++i) { // small marks, as text would be
        std::snprintf(line, sizeof line, "/S%d cs 1 scn %.1f %.1f %.1f 2 re f\n", i % 6, x(random), y(random),
                      1 + 6 * unit(random));
        s += line;
    }
    return pdf(w, h, s, colours + states, {});
}

std::vector<std::byte> photo(double width_mm, double height_mm, double ppi)
{
    const double w = width_mm * 72 / 25.4, h = height_mm * 72 / 25.4;
    const int columns = static_cast<int>(width_mm / 25.4 * ppi),
              rows = static_cast<int>(height_mm / 25.4 * ppi);
    std::string pixels(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows) * 3, '\0');
    std::mt19937 random(9);
    std::size_t at = 0;
    for (int y = 0; y < rows; ++y) {
        for (int x = 0; x < columns; ++x) {
            const double u = x * 0.013, v = y * 0.011;
            const int noise = static_cast<int>(random() % 9);
            pixels[at++] = static_cast<char>(120 + 100 * std::sin(u) * std::cos(v) + noise);
            pixels[at++] = static_cast<char>(110 + 90 * std::sin(u * 0.7 + 1) + noise);
            pixels[at++] = static_cast<char>(100 + 80 * std::cos(v * 1.3) + noise);
        }
    }
    char place[128];
    std::snprintf(place, sizeof place,
                  "q %.3f 0 0 %.3f 0 0 cm /Im Do Q /OP gs /S0 cs 0.5 scn %.1f %.1f 200 200 re f /S1 cs 1 scn "
                  "40 40 300 60 re f\n",
                  w, h, w / 3, h / 3);
    const std::string image = "<< /Type /XObject /Subtype /Image /Width " + std::to_string(columns) +
                              " /Height " + std::to_string(rows) +
                              " /BitsPerComponent 8 /ColorSpace /DeviceRGB /Length " +
                              std::to_string(pixels.size()) + " >>\nstream\n" + pixels + "\nendstream";
    return pdf(w, h, place, "/ColorSpace << " + spot(0) + spot(1) + ">> /XObject << /Im 5 0 R >> " + states,
               {image});
}

std::vector<std::byte> soft_edges(double width_mm, double height_mm)
{
    const double w = width_mm * 72 / 25.4, h = height_mm * 72 / 25.4;
    constexpr int side = 300;
    std::string colour, mask;
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            const double away = std::hypot(x - side / 2, y - side / 2) / (side / 2);
            mask += static_cast<char>(away < 0.5 ? 255 : away > 1 ? 0 : 510 * (1 - away));
            colour += static_cast<char>(x * 255 / side);
            colour += static_cast<char>(y * 255 / side);
            colour += '\x40';
        }
    }
    const auto stream = [](const std::string &dictionary, const std::string &data) {
        return "<< " + dictionary + " /Length " + std::to_string(data.size()) + " >>\nstream\n" + data +
               "\nendstream";
    };
    const std::string picture = "/Type /XObject /Subtype /Image /Width 300 /Height 300 /BitsPerComponent 8 ";
    std::string art = "/S0 cs 0.7 scn 0 0 " + std::to_string(w) + " " + std::to_string(h / 2) + " re f ";
    std::mt19937 random(3);
    std::uniform_real_distribution<double> x(0, w - 150), y(0, h - 150);
    for (int i = 0; i < 12; ++i) { // pictures with soft edges, each with its shadow
        const std::string place = "150 0 0 150 ";
        const double left = x(random), low = y(random);
        art += "q /Cast gs " + place + std::to_string(left + 8) + " " + std::to_string(low - 8) +
               " cm /Dark Do Q q " + place + std::to_string(left) + " " + std::to_string(low) +
               " cm /Im Do Q ";
    }
    art += "/Fade gs /S1 cs 1 scn 40 40 " + std::to_string(w - 80) + " " + std::to_string(h / 3) + " re f ";
    return pdf(
        w, h, art,
        "/ColorSpace << " + spot(0) + spot(1) +
            ">> /ExtGState << /Cast << /BM /Multiply /ca 0.6 >> /Fade << /SMask << /S /Luminosity /G "
            "8 0 R >> >> >> /XObject << /Im 5 0 R /Dark 7 0 R >>",
        {stream(picture + "/ColorSpace /DeviceRGB /SMask 6 0 R", colour),
         stream(picture + "/ColorSpace /DeviceGray", mask),
         stream("/Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 /ColorSpace "
                "/DeviceGray /SMask 6 0 R",
                std::string(1, '\0')),
         stream("/Type /XObject /Subtype /Form /BBox [0 0 " + std::to_string(w) + " " + std::to_string(h) +
                    "] /Group << /S /Transparency /CS /DeviceGray >> /Resources << /Shading << /S << "
                    "/ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 " +
                    std::to_string(w) +
                    " 0] /Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0] /C1 [1] >> >> >> >>",
                "/S sh")});
}

} // namespace bichrom::bench
