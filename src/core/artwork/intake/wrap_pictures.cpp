#include "core/artwork/intake/picture.h"

#include "core/artwork/ink_space.h"

#include "core/base/units.h"

#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

#include <algorithm>
#include <array>

namespace bichrom {

namespace {

constexpr double longest_side = 200.0 * points_per_inch; // ISO 32000-1, annex C

QPDFObjectHandle number(int value)
{
    return QPDFObjectHandle::newInteger(value);
}

QPDFObjectHandle real(double value)
{
    return QPDFObjectHandle::newReal(format_number(value, 6));
}

/// Lent to qpdf: \p data must live until the PDF is written.
class Lent final : public QPDFObjectHandle::StreamDataProvider
{
public:
    Lent(const void *data, std::size_t size) : m_data(data), m_size(size) {}
    void provideStreamData(int, int, Pipeline *pipeline) override
    {
        pipeline->write(static_cast<unsigned char *>(const_cast<void *>(m_data)), m_size); // not written to
        pipeline->finish();
    }

private:
    const void *m_data;
    std::size_t m_size;
};

QPDFObjectHandle stream_of(QPDF &pdf, const void *data, std::size_t size, const char *filter = nullptr)
{
    QPDFObjectHandle stream = QPDFObjectHandle::newStream(&pdf);
    stream.replaceStreamData(std::make_shared<Lent>(data, size),
                             filter == nullptr ? QPDFObjectHandle::newNull()
                                               : QPDFObjectHandle::newName(filter),
                             QPDFObjectHandle::newNull());
    return stream;
}

QPDFObjectHandle name(const std::string &text)
{
    return QPDFObjectHandle::newName("/" + text);
}

/// A screen colour for ink \p index of a file that names inks but not their looks: process inks
/// by name, others spread over the hues so that they can be told apart.
std::array<double, 4> look_of(const std::string &ink, std::size_t index)
{
    static const std::pair<const char *, std::array<double, 4>> known[] = {
        {"Cyan", {1, 0, 0, 0}}, {"Magenta", {0, 1, 0, 0}}, {"Yellow", {0, 0, 1, 0}}, {"Black", {0, 0, 0, 1}}};
    for (const auto &[text, look] : known) {
        if (ink == text) {
            return look;
        }
    }
    static constexpr std::array<std::array<double, 4>, 8> others = {{{0, 0.55, 0.9, 0},
                                                                     {0.75, 0, 0.7, 0},
                                                                     {0.7, 0.75, 0, 0},
                                                                     {0.1, 0.85, 0.5, 0.1},
                                                                     {0.8, 0.3, 0, 0.1},
                                                                     {0.35, 0, 0.8, 0.1},
                                                                     {0.2, 0.6, 0, 0.05},
                                                                     {0.2, 0.4, 0.6, 0.3}}};
    return others[index % others.size()];
}

QPDFObjectHandle space_of_inks(QPDF &pdf, const std::vector<std::string> &inks)
{
    std::vector<std::array<double, 4>> looks;
    for (std::size_t i = 0; i < inks.size(); ++i) {
        looks.push_back(look_of(inks[i], i));
    }
    return ink_space(pdf, inks, looks);
}

QPDFObjectHandle space_of(QPDF &pdf, const Picture &picture)
{
    const auto with_profile = [&](const char *device) {
        if (picture.icc.empty()) {
            return name(device);
        }
        QPDFObjectHandle icc = stream_of(pdf, picture.icc.data(), picture.icc.size());
        icc.getDict().replaceKey("/N", number(picture.space == Picture::Space::Gray   ? 1
                                              : picture.space == Picture::Space::Cmyk ? 4
                                                                                      : 3));
        QPDFObjectHandle space = QPDFObjectHandle::newArray();
        space.appendItem(name("ICCBased"));
        space.appendItem(icc);
        return pdf.makeIndirectObject(space);
    };
    switch (picture.space) {
    case Picture::Space::Gray:
        return with_profile("DeviceGray");
    case Picture::Space::Rgb:
        return with_profile("DeviceRGB");
    case Picture::Space::Cmyk:
        return with_profile("DeviceCMYK");
    case Picture::Space::CieLab:
        return QPDFObjectHandle::parse(
            "[/Lab << /WhitePoint [0.9642 1 0.8249] /Range [-128 127 -128 127] >>]");
    case Picture::Space::Inks:
        return space_of_inks(pdf, picture.inks);
    case Picture::Space::Palette:
        break;
    }
    QPDFObjectHandle space = QPDFObjectHandle::newArray();
    space.appendItem(name("Indexed"));
    space.appendItem(with_profile("DeviceRGB"));
    space.appendItem(number(std::max(0, static_cast<int>(picture.palette.size() / 3) - 1)));
    space.appendItem(
        QPDFObjectHandle::newString(std::string(picture.palette.begin(), picture.palette.end())));
    return space;
}

QPDFObjectHandle image_dict(QPDFObjectHandle image, const Picture &picture, int bits)
{
    QPDFObjectHandle dict = image.getDict();
    dict.replaceKey("/Type", name("XObject"));
    dict.replaceKey("/Subtype", name("Image"));
    dict.replaceKey("/Width", number(picture.width));
    dict.replaceKey("/Height", number(picture.height));
    dict.replaceKey("/BitsPerComponent", number(bits));
    return dict;
}

/// How the unit square is turned for each EXIF orientation (EXIF 2.3, 4.6.4, tag 0x0112).
std::string turned(int orientation, double width, double height, const char *picture)
{
    static constexpr double matrices[8][6] = {{1, 0, 0, 1, 0, 0},  {-1, 0, 0, 1, 1, 0},  {-1, 0, 0, -1, 1, 1},
                                              {1, 0, 0, -1, 0, 1}, {0, -1, -1, 0, 1, 1}, {0, -1, 1, 0, 0, 1},
                                              {0, 1, 1, 0, 0, 0},  {0, 1, -1, 0, 1, 0}};
    const double *m = matrices[orientation - 1];
    std::string text;
    for (int i = 0; i < 6; ++i) {
        text += format_number(m[i] * (i % 2 == 0 ? width : height), 6) + " ";
    }
    return "q " + text + "cm " + picture + " Do Q\n";
}

} // namespace

int Picture::channels() const
{
    switch (space) {
    case Space::Gray:
    case Space::Palette:
        return 1;
    case Space::Rgb:
    case Space::CieLab:
        return 3;
    case Space::Cmyk:
        return 4;
    case Space::Inks:
        break;
    }
    return static_cast<int>(inks.size());
}

Outcome<std::vector<std::byte>> wrap_pictures(const PictureFile &file, double assumed_ppi,
                                              std::vector<std::string> &assumptions)
{
    assumptions.insert(assumptions.end(), file.assumptions.begin(), file.assumptions.end());
    bool assumed = false;
    try {
        QPDF pdf;
        pdf.emptyPDF();
        for (const Picture &picture : file.pages) {
            double across = picture.ppi_across;
            double down = picture.ppi_down;
            if (!(across > 1) || !(down > 1)) {
                across = down = assumed_ppi;
                assumed = true;
            }
            const bool lies = picture.orientation >= 5;
            const double width = (lies ? picture.height / down : picture.width / across) * points_per_inch;
            const double height = (lies ? picture.width / across : picture.height / down) * points_per_inch;
            if (std::max(width, height) > longest_side) {
                return Error{ErrorCode::TooLarge,
                             "The picture would be " +
                                 format_number(std::max(width, height) / points_per_inch, 1) +
                                 " inches long at " + format_number(std::min(across, down), 1) + " ppi.",
                             {},
                             "Ask for the right resolution, or for a smaller picture."};
            }
            const char *filter = picture.is_jpeg       ? "/DCTDecode"
                                 : picture.is_deflated ? "/FlateDecode"
                                                       : nullptr;
            QPDFObjectHandle image = stream_of(pdf, picture.samples.data(), picture.samples.size(), filter);
            QPDFObjectHandle dict = image_dict(image, picture, picture.bits);
            dict.replaceKey("/ColorSpace", space_of(pdf, picture));
            if (picture.inverted) {
                QPDFObjectHandle decode = QPDFObjectHandle::newArray();
                for (int i = 0; i < picture.channels(); ++i) {
                    decode.appendItem(number(1));
                    decode.appendItem(number(0));
                }
                dict.replaceKey("/Decode", decode);
            }
            if (!picture.alpha.empty()) {
                QPDFObjectHandle mask = stream_of(pdf, picture.alpha.data(), picture.alpha.size(), filter);
                image_dict(mask, picture, picture.alpha_bits).replaceKey("/ColorSpace", name("DeviceGray"));
                dict.replaceKey("/SMask", mask);
            }
            QPDFObjectHandle page = QPDFObjectHandle::newDictionary();
            page.replaceKey("/Type", name("Page"));
            QPDFObjectHandle box = QPDFObjectHandle::newArray();
            for (const double side : {0.0, 0.0, width, height}) {
                box.appendItem(real(side));
            }
            page.replaceKey("/MediaBox", box);
            QPDFObjectHandle resources = QPDFObjectHandle::parse("<< /XObject << >> >>");
            resources.getKey("/XObject").replaceKey("/Picture", image);
            std::string content = turned(picture.orientation, width, height, "/Picture");
            if (!picture.extra_inks.empty()) { // printed over it, whatever its colours
                QPDFObjectHandle extra =
                    stream_of(pdf, picture.extra_samples.data(), picture.extra_samples.size(), filter);
                image_dict(extra, picture, picture.bits)
                    .replaceKey("/ColorSpace", space_of_inks(pdf, picture.extra_inks));
                resources.getKey("/XObject").replaceKey("/Inks", extra);
                resources.replaceKey("/ExtGState",
                                     QPDFObjectHandle::parse("<< /Over << /op true /OP true /OPM 0 >> >>"));
                content += "/Over gs " + turned(picture.orientation, width, height, "/Inks");
            }
            page.replaceKey("/Resources", resources);
            page.replaceKey("/Contents", QPDFObjectHandle::newStream(&pdf, content));
            pdf.addPage(pdf.makeIndirectObject(page), false);
        }
        if (assumed) {
            assumptions.push_back("The picture does not say its resolution: it is taken at " +
                                  format_number(assumed_ppi, 1) + " ppi, which sets its size.");
        }
        QPDFWriter writer(pdf);
        writer.setOutputMemory();
        writer.setStreamDataMode(qpdf_s_preserve);
        writer.write();
        const auto buffer = writer.getBufferSharedPointer();
        const auto *first = reinterpret_cast<const std::byte *>(buffer->getBuffer());
        return std::vector<std::byte>(first, first + buffer->getSize());
    } catch (const std::exception &fault) {
        return Error{ErrorCode::Internal,
                     std::string("The picture cannot be wrapped (") + fault.what() + ").",
                     {},
                     "Ask for another copy."};
    }
}

} // namespace bichrom
