#include "core/colour/ink_book.h"

#include "core/base/atomic_file.h"
#include "core/base/units.h"
#include "core/colour/colour_difference.h"
#include "core/colour/lcms_handles.h"

#include <pugixml.hpp>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <memory>
#include <sstream>

extern "C" {
extern const unsigned char bichrom_inks[];
extern const unsigned char bichrom_inks_end[];
}

namespace bichrom {

namespace {

constexpr std::size_t most_inks = 100'000;
constexpr std::uintmax_t largest_file = std::uintmax_t(64) << 20;
constexpr const char *cxf_namespace = "http://colorexchangeformat.com/CxF3-core"; // ISO 17972-1

Error no_book(const std::string &place, const std::string &why)
{
    return {ErrorCode::WrongFormat, "No inks can be read (" + why + ").", place,
            "Choose a CGATS text or CxF3 file with names and Lab values."};
}

std::string lower(std::string_view text)
{
    std::string out(text);
    for (char &c : out) {
        c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    }
    return out;
}

struct It8Deleter
{
    void operator()(void *table) const { cmsIT8Free(table); }
};

/// Wavelength of a spectral field in nm; 0 for any other. Names as ISO 28178 and common writers have them.
int wavelength_of(const std::string &field)
{
    for (const char *start : {"SPECTRAL_NM_", "SPECTRAL_NM", "SPEC_", "NM_", "NM", "R_"}) {
        const std::size_t length = std::strlen(start);
        if (lower(field.substr(0, length)) == lower(start)) {
            const auto number = parse_number(field.substr(length));
            if (number && *number >= 200 && *number <= 1100) {
                return static_cast<int>(std::lround(*number));
            }
        }
    }
    return 0;
}

/// Reflectances at our wavelengths from those given; nothing when some of 400 to 700 nm are missing.
std::optional<Spectrum> spectrum_from(const std::map<int, double> &given)
{
    if (given.empty()) {
        return std::nullopt;
    }
    double most = 0;
    for (const auto &[nm, value] : given) {
        most = std::max(most, value);
    }
    const double unit = most > 2.0 ? 0.01 : 1.0; // percent, or factors
    Spectrum spectrum{};
    for (std::size_t i = 0; i < spectrum.size(); ++i) {
        const int nm = spectrum_start + static_cast<int>(i) * spectrum_step;
        const auto after = given.lower_bound(nm);
        const bool inside = nm >= 400 && nm <= 700;
        if (after == given.end() || (after == given.begin() && after->first != nm)) {
            if (inside) {
                return std::nullopt;
            }
            // Outside what was measured the nearest value stands in.
            spectrum[i] = (after == given.end() ? given.rbegin()->second : given.begin()->second) * unit;
            continue;
        }
        if (after->first == nm) {
            spectrum[i] = after->second * unit;
            continue;
        }
        const auto before = std::prev(after);
        if (after->first - before->first > 20) {
            return std::nullopt;
        }
        const double share = static_cast<double>(nm - before->first) / (after->first - before->first);
        spectrum[i] = (before->second + share * (after->second - before->second)) * unit;
    }
    return spectrum;
}

bool plausible(const Lab &lab)
{
    return lab.l >= 0 && lab.l <= 120 && std::abs(lab.a) <= 200 && std::abs(lab.b) <= 200;
}

/// "0.25:0.36 0.5:0.65", or "-" for none.
std::string curve_words(const ToneCurve &curve)
{
    std::string words;
    for (const CurvePoint &point : curve.points()) {
        words += (words.empty() ? "" : " ") + format_number(point.in, 4) + ":" + format_number(point.out, 4);
    }
    return words.empty() ? "-" : words;
}

std::optional<ToneCurve> curve_from_words(const std::string &words)
{
    std::vector<CurvePoint> points;
    std::istringstream in(words);
    for (std::string word; in >> word;) {
        const std::size_t colon = word.find(':');
        const auto from = parse_number(word.substr(0, colon));
        const auto to = parse_number(colon == std::string::npos ? "" : word.substr(colon + 1));
        if (!from || !to) {
            return std::nullopt;
        }
        points.push_back({*from, *to});
    }
    auto curve = ToneCurve::through(std::move(points));
    return curve ? std::optional<ToneCurve>(std::move(*curve)) : std::nullopt;
}

Outcome<InkBook> parse_cgats(std::span<const std::byte> bytes, const std::string &place)
{
    const LcmsContext context(cmsCreateContext(nullptr, nullptr));
    std::string text(reinterpret_cast<const char *>(bytes.data()), bytes.size());
    const std::unique_ptr<void, It8Deleter> table(
        cmsIT8LoadFromMem(context.get(), text.data(), static_cast<cmsUInt32Number>(text.size())));
    if (table == nullptr) {
        return no_book(place, "it is no CGATS text");
    }
    InkBook book;
    if (const char *descriptor = cmsIT8GetProperty(table.get(), "DESCRIPTOR")) {
        book.name = descriptor;
    }
    char **names = nullptr;
    const int columns = cmsIT8EnumDataFormat(table.get(), &names);
    std::map<std::string, int> column;
    std::map<int, int> spectral; // nm to column
    for (int i = 0; i < columns; ++i) {
        column[names[i]] = i;
        if (const int nm = wavelength_of(names[i]); nm > 0) {
            spectral[nm] = i;
        }
    }
    for (const char *needed : {"LAB_L", "LAB_A", "LAB_B"}) {
        if (column.count(needed) == 0) {
            return no_book(place, std::string("the column ") + needed + " is missing");
        }
    }
    const char *name_field = column.count("SAMPLE_NAME") > 0 ? "SAMPLE_NAME" : "SAMPLE_ID";
    if (column.count(name_field) == 0) {
        return no_book(place, "no column holds names");
    }
    const double count = cmsIT8GetPropertyDbl(table.get(), "NUMBER_OF_SETS");
    if (count > static_cast<double>(most_inks)) {
        return Error{ErrorCode::TooLarge, "The file holds too many colours for an ink book.", place,
                     "Choose a file with at most 100 000."};
    }
    const auto words = [&](int row, const char *field) -> std::string {
        const auto at = column.find(field);
        const char *value = at == column.end() ? nullptr : cmsIT8GetDataRowCol(table.get(), row, at->second);
        return value == nullptr ? std::string() : value;
    };
    const auto number = [&](int row, const char *field, double otherwise) {
        const auto read = parse_number(words(row, field));
        return read ? *read : otherwise;
    };
    for (int row = 0; row < static_cast<int>(count); ++row) {
        BookInk ink;
        ink.name = words(row, name_field);
        ink.solid = {number(row, "LAB_L", -1), number(row, "LAB_A", 999), number(row, "LAB_B", 999)};
        if (ink.name.empty() || !plausible(ink.solid)) {
            continue;
        }
        if (const auto use = parse_ink_use(words(row, "INK_USE"))) {
            ink.use = *use;
        }
        ink.traits = usual_traits(ink.use);
        ink.traits.opacity = std::clamp(number(row, "INK_OPACITY", ink.traits.opacity), 0.0, 1.0);
        if (const double density = number(row, "INK_DENSITY", -9); density > -1 && density < 10) {
            ink.traits.density = density;
        }
        const Lab shown = {number(row, "INK_SHOWN_L", -1), number(row, "INK_SHOWN_A", 999),
                           number(row, "INK_SHOWN_B", 999)};
        if (plausible(shown)) {
            ink.traits.shown_as = shown;
        }
        if (auto gain = curve_from_words(words(row, "INK_GAIN"))) {
            ink.traits.gain = std::move(*gain);
        }
        ink.locked = number(row, "INK_LOCKED", 0) != 0;
        std::map<int, double> given;
        for (const auto &[nm, at] : spectral) {
            const char *value = cmsIT8GetDataRowCol(table.get(), row, at);
            if (const auto read = value == nullptr ? parse_number("") : parse_number(value)) {
                given[nm] = *read;
            }
        }
        ink.traits.reflectance = spectrum_from(given);
        book.inks.push_back(std::move(ink));
    }
    if (book.inks.empty()) {
        return no_book(place, "it holds no colours");
    }
    return book;
}

/// An element's name without its prefix.
std::string_view local_name(const pugi::xml_node &node)
{
    const std::string_view name = node.name();
    const std::size_t colon = name.find(':');
    return colon == std::string_view::npos ? name : name.substr(colon + 1);
}

pugi::xml_node find_below(const pugi::xml_node &parent, std::string_view name)
{
    return parent.find_node([&](const pugi::xml_node &node) { return local_name(node) == name; });
}

double child_number(const pugi::xml_node &parent, std::string_view name, double otherwise)
{
    for (const pugi::xml_node &child : parent.children()) {
        if (local_name(child) == name) {
            const auto read = parse_number(child.text().as_string());
            return read ? *read : otherwise;
        }
    }
    return otherwise;
}

/// The measuring steps that CxF3 tells once for all spectra, by the name that objects refer to.
struct Wavelengths
{
    double start = 380, step = 10;
};

Outcome<InkBook> parse_cxf(std::span<const std::byte> bytes, const std::string &place)
{
    pugi::xml_document document;
    // Without a document type nothing can be expanded or fetched; pugixml does neither.
    const pugi::xml_parse_result parsed = document.load_buffer(bytes.data(), bytes.size());
    const pugi::xml_node root = document.document_element();
    if (!parsed || local_name(root) != "CxF") {
        return no_book(place, "it is no CxF3");
    }
    InkBook book;
    if (const pugi::xml_node description = find_below(root, "Description")) {
        book.name = description.text().as_string();
    }
    Wavelengths general;
    if (const pugi::xml_node range = find_below(root, "WavelengthRange")) {
        general = {range.attribute("StartWL").as_double(380), range.attribute("Increment").as_double(10)};
    }
    const pugi::xml_node objects = find_below(root, "ObjectCollection");
    for (const pugi::xml_node &object : objects.children()) {
        if (local_name(object) != "Object") {
            continue;
        }
        if (book.inks.size() >= most_inks) {
            return Error{ErrorCode::TooLarge, "The file holds too many colours for an ink book.", place,
                         "Choose a file with at most 100 000."};
        }
        BookInk ink;
        ink.name = object.attribute("Name").as_string();
        if (ink.name.empty()) {
            ink.name = object.attribute("Id").as_string();
        }
        const pugi::xml_node lab = find_below(object, "ColorCIELab");
        ink.solid = {child_number(lab, "L", -1), child_number(lab, "A", 999), child_number(lab, "B", 999)};
        if (ink.name.empty() || !plausible(ink.solid)) {
            continue;
        }
        if (const pugi::xml_node spectrum = find_below(object, "ReflectanceSpectrum")) {
            const double start = spectrum.attribute("StartWL").as_double(general.start);
            const double step = spectrum.attribute("Increment").as_double(general.step);
            std::istringstream values(spectrum.text().as_string());
            std::map<int, double> given;
            double nm = start;
            for (std::string word; values >> word && given.size() < 1000; nm += step) {
                if (const auto read = parse_number(word)) {
                    given[static_cast<int>(std::lround(nm))] = *read;
                }
            }
            ink.traits.reflectance = spectrum_from(given);
        }
        book.inks.push_back(std::move(ink));
    }
    if (book.inks.empty()) {
        return no_book(place, "it holds no colours with names and Lab values");
    }
    return book;
}

std::string quoted(const std::string &text)
{
    std::string out = "\"";
    for (const char c : text) {
        out += c == '"' || c == '\n' || c == '\r' || c == '\t' ? '\'' : c;
    }
    return out + "\"";
}

} // namespace

const char *to_string(InkUse use)
{
    static constexpr const char *names[] = {"spot",     "process", "white",    "varnish",
                                            "metallic", "foil",    "technical"};
    return names[static_cast<std::size_t>(use)];
}

Outcome<InkUse> parse_ink_use(std::string_view name)
{
    for (const InkUse use : all_ink_uses) {
        if (name == to_string(use)) {
            return use;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no kind of ink.",
                 {},
                 "Use spot, process, white, varnish, metallic, foil or technical."};
}

const InkBook &shipped_inks()
{
    static const InkBook book = [] {
        const auto *first = reinterpret_cast<const std::byte *>(bichrom_inks);
        return *parse_ink_book({first, static_cast<std::size_t>(bichrom_inks_end - bichrom_inks)},
                               "shipped inks");
    }();
    return book;
}

HueFamily hue_family(const Lab &lab)
{
    // CIELAB hue angles of the common colour words, rounded; from memory.
    if (chroma(lab) < 8) {
        return HueFamily::Neutral;
    }
    const double h = hue(lab);
    if (h < 15 || h >= 330) {
        return lab.l > 60 || h >= 330 ? HueFamily::Pink : HueFamily::Red;
    }
    return h < 45    ? HueFamily::Red
           : h < 75  ? HueFamily::Orange
           : h < 105 ? HueFamily::Yellow
           : h < 165 ? HueFamily::Green
           : h < 230 ? HueFamily::BlueGreen
           : h < 290 ? HueFamily::Blue
                     : HueFamily::Violet;
}

std::vector<NearInk> nearest_inks(const InkBook &book, const Lab &sample, int count)
{
    std::vector<NearInk> all;
    for (std::size_t i = 0; i < book.inks.size(); ++i) {
        all.push_back({static_cast<int>(i), ciede2000(sample, book.inks[i].solid)});
    }
    const std::size_t kept = std::min(all.size(), static_cast<std::size_t>(std::max(0, count)));
    std::partial_sort(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(kept), all.end(),
                      [](const NearInk &a, const NearInk &b) {
                          return a.difference != b.difference ? a.difference < b.difference
                                                              : a.index < b.index;
                      });
    all.resize(kept);
    return all;
}

std::vector<int> find_inks(const InkBook &book, std::string_view text)
{
    std::vector<std::string> words;
    std::istringstream stream(lower(text));
    for (std::string word; stream >> word;) {
        words.push_back(word);
    }
    std::vector<int> found;
    for (std::size_t i = 0; i < book.inks.size(); ++i) {
        const std::string name = lower(book.inks[i].name);
        if (std::all_of(words.begin(), words.end(),
                        [&](const std::string &word) { return name.find(word) != std::string::npos; })) {
            found.push_back(static_cast<int>(i));
        }
    }
    return found;
}

Outcome<InkBook> parse_ink_book(std::span<const std::byte> bytes, const std::string &place)
{
    const std::string_view text(reinterpret_cast<const char *>(bytes.data()), bytes.size());
    const std::size_t first = text.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    if (first == std::string_view::npos) {
        return no_book(place, "the file is empty");
    }
    return text[first] == '<' ? parse_cxf(bytes, place) : parse_cgats(bytes, place);
}

Outcome<InkBook> read_ink_book(const std::filesystem::path &path)
{
    const auto bytes = read_file(path, largest_file);
    if (!bytes) {
        return bytes.error();
    }
    auto book = parse_ink_book(*bytes, path.string());
    if (book && book->name.empty()) {
        book->name = path.stem().string();
    }
    return book;
}

std::string to_cgats(const InkBook &book)
{
    const bool spectral = std::any_of(book.inks.begin(), book.inks.end(),
                                      [](const BookInk &ink) { return ink.traits.reflectance.has_value(); });
    std::string out = "CGATS.17\nORIGINATOR \"Bichrom\"\nDESCRIPTOR " + quoted(book.name) +
                      "\nILLUMINATION_NAME \"D50\"\nOBSERVER_ANGLE \"2\"\nKEYWORD \"INK_USE\"\nKEYWORD "
                      "\"INK_OPACITY\"\nKEYWORD \"INK_LOCKED\"\nKEYWORD \"INK_DENSITY\"\nKEYWORD "
                      "\"INK_SHOWN_L\"\nKEYWORD \"INK_SHOWN_A\"\nKEYWORD \"INK_SHOWN_B\"\nKEYWORD "
                      "\"INK_GAIN\"\n";
    int fields = 13;
    std::string format = "SAMPLE_ID\tSAMPLE_NAME\tLAB_L\tLAB_A\tLAB_B\tINK_USE\tINK_OPACITY\tINK_LOCKED\t"
                         "INK_DENSITY\tINK_SHOWN_L\tINK_SHOWN_A\tINK_SHOWN_B\tINK_GAIN";
    for (std::size_t i = 0; spectral && i < Spectrum().size(); ++i, ++fields) {
        format += "\tSPECTRAL_NM" + std::to_string(spectrum_start + static_cast<int>(i) * spectrum_step);
    }
    out += "NUMBER_OF_FIELDS " + std::to_string(fields) + "\nBEGIN_DATA_FORMAT\n" + format +
           "\nEND_DATA_FORMAT\nNUMBER_OF_SETS " + std::to_string(book.inks.size()) + "\nBEGIN_DATA\n";
    int number = 0;
    for (const BookInk &ink : book.inks) {
        out += std::to_string(++number) + "\t" + quoted(ink.name);
        for (const double value : {ink.solid.l, ink.solid.a, ink.solid.b}) {
            out += "\t" + format_number(value, 4);
        }
        out += std::string("\t") + to_string(ink.use) + "\t" + format_number(ink.traits.opacity, 3) + "\t" +
               (ink.locked ? "1" : "0");
        // CGATS has no word for "not given": NaN cannot be taken for a value.
        const auto given = [](const auto &value) {
            return value ? format_number(*value, 4) : std::string("NaN");
        };
        const std::optional<Lab> &shown = ink.traits.shown_as;
        out += "\t" + given(ink.traits.density);
        for (const auto part : {&Lab::l, &Lab::a, &Lab::b}) {
            out += "\t" + (shown ? format_number((*shown).*part, 4) : std::string("NaN"));
        }
        out += "\t" + quoted(curve_words(ink.traits.gain));
        for (std::size_t i = 0; spectral && i < Spectrum().size(); ++i) {
            out += "\t" + (ink.traits.reflectance ? format_number((*ink.traits.reflectance)[i], 5)
                                                  : std::string("NaN"));
        }
        out += "\n";
    }
    return out + "END_DATA\n";
}

std::string to_cxf(const InkBook &book)
{
    pugi::xml_document document;
    pugi::xml_node declaration = document.append_child(pugi::node_declaration);
    declaration.append_attribute("version") = "1.0";
    declaration.append_attribute("encoding") = "UTF-8";
    pugi::xml_node root = document.append_child("cc:CxF");
    root.append_attribute("xmlns:cc") = cxf_namespace;
    pugi::xml_node file = root.append_child("cc:FileInformation");
    file.append_child("cc:Creator").text() = "Bichrom";
    file.append_child("cc:Description").text() = book.name.c_str();
    pugi::xml_node resources = root.append_child("cc:Resources");
    pugi::xml_node objects = resources.append_child("cc:ObjectCollection");
    int number = 0;
    for (const BookInk &ink : book.inks) {
        pugi::xml_node object = objects.append_child("cc:Object");
        object.append_attribute("ObjectType") = "Standard";
        object.append_attribute("Name") = ink.name.c_str();
        object.append_attribute("Id") = ("ink" + std::to_string(++number)).c_str();
        pugi::xml_node values = object.append_child("cc:ColorValues");
        if (ink.traits.reflectance) {
            pugi::xml_node spectrum = values.append_child("cc:ReflectanceSpectrum");
            spectrum.append_attribute("ColorSpecification") = "spectral";
            spectrum.append_attribute("StartWL") = spectrum_start;
            std::string text;
            for (const double value : *ink.traits.reflectance) {
                text += (text.empty() ? "" : " ") + format_number(value, 5);
            }
            spectrum.text() = text.c_str();
        }
        pugi::xml_node lab = values.append_child("cc:ColorCIELab");
        lab.append_attribute("ColorSpecification") = "lab";
        lab.append_child("cc:L").text() = format_number(ink.solid.l, 4).c_str();
        lab.append_child("cc:A").text() = format_number(ink.solid.a, 4).c_str();
        lab.append_child("cc:B").text() = format_number(ink.solid.b, 4).c_str();
    }
    pugi::xml_node specifications = resources.append_child("cc:ColorSpecificationCollection");
    const auto specify = [&](const char *id, bool spectral) {
        pugi::xml_node one = specifications.append_child("cc:ColorSpecification");
        one.append_attribute("Id") = id;
        if (spectral) {
            pugi::xml_node range = one.append_child("cc:MeasurementSpec").append_child("cc:WavelengthRange");
            range.append_attribute("StartWL") = spectrum_start;
            range.append_attribute("Increment") = spectrum_step;
        } else {
            pugi::xml_node tristimulus = one.append_child("cc:TristimulusSpec");
            tristimulus.append_child("cc:Illuminant").text() = "D50";
            tristimulus.append_child("cc:Observer").text() = "2_Degree";
        }
    };
    specify("lab", false);
    specify("spectral", true);
    std::ostringstream out;
    document.save(out, "  ");
    return out.str();
}

} // namespace bichrom
