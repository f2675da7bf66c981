#include "core/artwork/intake/prepare_pdf.h"

#include "core/artwork/intake/default_spaces.h"
#include "core/artwork/intake/layer_art.h"
#include "core/artwork/intake/pdf_names.h"
#include "core/artwork/intake/print_layers.h"
#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/text_encoding.h"

#include <qpdf/Buffer.hh>
#include <qpdf/QPDFWriter.hh>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <set>

namespace bichrom {

namespace {

constexpr std::size_t most_profiles = 64;
constexpr int most_depth = 100;

// ISO 32000-1, tables 136 and 137.
constexpr std::array<const char *, 17> blend_modes = {
    "/Normal",    "/Compatible", "/Multiply",   "/Screen",    "/Overlay",   "/Darken",
    "/Lighten",   "/ColorDodge", "/ColorBurn",  "/HardLight", "/SoftLight", "/Difference",
    "/Exclusion", "/Hue",        "/Saturation", "/Color",     "/Luminosity"};

QPDFObjectHandle name(const char *text)
{
    return QPDFObjectHandle::newName(text);
}

bool is_space(QPDFObjectHandle object, const char *family)
{
    return object.isArray() && object.getArrayNItems() >= 2 && object.getArrayItem(0).isName() &&
           object.getArrayItem(0).getName() == family;
}

/// One pass over a file.
class Preparation
{
public:
    Preparation(QPDF &pdf, PreparedPdf &result) : m_pdf(pdf), m_result(result), m_layers(pdf) {}

    void run()
    {
        m_result.layers = m_layers.layers();
        bool counted = true;
        const auto unprinted = count_unprinted(m_pdf, m_layers, counted);
        for (std::size_t i = 0; i < m_result.layers.size(); ++i) {
            if (const auto found = unprinted.find(m_layers.groups()[i].getObjGen());
                found != unprinted.end()) {
                m_result.layers[i].unprinted = found->second;
                m_result.layers[i].counted = counted;
            }
        }
        std::erase_if(m_result.layers,
                      [](const Layer &layer) { return layer.name.starts_with(placed_layer_prefix); });
        read_output_intent();
        m_changed = spell_out_default_spaces(m_pdf) || m_changed;
        std::vector<QPDFObjectHandle> objects = m_pdf.getAllObjects();
        for (QPDFObjectHandle &object : objects) {
            walk(object, 0, [this](QPDFObjectHandle &dict) { correct_dictionary(dict); });
        }
        if (m_layers.any()) {
            m_layers.spell_out();
            m_changed = true;
        }
        // Groups and images are looked at before any space changes, spaces last.
        for (QPDFObjectHandle &object : objects) {
            replace_spaces(object);
        }
    }
    [[nodiscard]] bool changed() const { return m_changed; }

private:
    /// Calls \p visit for every dictionary in \p object, without following references.
    void walk(QPDFObjectHandle object, int depth, const std::function<void(QPDFObjectHandle &)> &visit)
    {
        if (depth > most_depth) {
            return;
        }
        if (object.isArray()) {
            const int count = object.getArrayNItems();
            for (int i = 0; i < count; ++i) {
                if (QPDFObjectHandle item = object.getArrayItem(i); !item.isIndirect()) {
                    walk(item, depth + 1, visit);
                }
            }
            return;
        }
        QPDFObjectHandle dict = object.isStream() ? object.getDict() : object;
        if (!dict.isDictionary()) {
            return;
        }
        visit(dict);
        for (const std::string &key : dict.getKeys()) {
            if (QPDFObjectHandle item = dict.getKey(key); !item.isIndirect()) {
                walk(item, depth + 1, visit);
            }
        }
    }

    void correct_dictionary(QPDFObjectHandle &dict)
    {
        QPDFObjectHandle modes = dict.getKey("/BM");
        if (modes.isArray()) {
            QPDFObjectHandle chosen = name("/Normal");
            for (int i = 0; i < modes.getArrayNItems(); ++i) {
                QPDFObjectHandle mode = modes.getArrayItem(i);
                if (mode.isName() &&
                    std::find(blend_modes.begin(), blend_modes.end(), mode.getName()) != blend_modes.end()) {
                    chosen = mode;
                    break;
                }
            }
            dict.replaceKey("/BM", chosen);
            m_changed = true;
        }
        // The interpreter hands text knockout to nobody, but this, which nothing here uses: see
        // knocks_out_itself().
        if (QPDFObjectHandle knockout = dict.getKey("/TK"); knockout.isBool()) {
            dict.replaceKey("/UseBlackPtComp", name(knockout.getBoolValue() ? "/ON" : "/OFF"));
            m_changed = true;
        } else if (dict.hasKey("/UseBlackPtComp")) {
            dict.removeKey("/UseBlackPtComp");
            m_changed = true;
        }
        QPDFObjectHandle subtype = dict.getKey("/S");
        if (subtype.isName() && subtype.getName() == "/Transparency") {
            if (const int channels = profiled_channels(dict.getKey("/CS")); channels > 0) {
                dict.replaceKey("/CS", name(channels == 1   ? "/DeviceGray"
                                            : channels == 3 ? "/DeviceRGB"
                                                            : "/DeviceCMYK"));
                m_changed = true;
            }
        }
        if (QPDFObjectHandle space = dict.getKey("/ColorSpace"); dict.hasKey("/BitsPerComponent")) {
            if (is_space(space, "/Lab")) {
                spread_lab_decode(dict, space);
            } else if (is_space(space, "/Indexed") && space.getArrayNItems() == 4 &&
                       is_space(space.getArrayItem(1), "/Lab")) {
                spread_lab_table(dict, space);
            }
        }
        QPDFObjectHandle type = dict.getKey("/Type");
        if (type.isName() && type.getName() == "/OCMD" && m_layers.any()) {
            m_layers.replace_membership(dict);
        }
        for (const char *key : {"/DefaultRGB", "/DefaultCMYK", "/DefaultGray"}) {
            if (dict.hasKey(key)) {
                assume(std::string("The file redefines colours without a profile (") + (key + 1) +
                       ") in a way that is not followed; they are read by this job's assumptions.");
            }
        }
    }

    /// Lower and upper ends of a* and b* in \p space (ISO 32000-1, table 65).
    static std::array<double, 4> lab_range(QPDFObjectHandle space)
    {
        std::array<double, 4> range = {-100, 100, -100, 100};
        if (space.getArrayItem(1).isDictionary()) {
            read_numbers(space.getArrayItem(1).getKey("/Range"), range);
        }
        return range;
    }

    /// The interpreter takes a Lab image's Decode for shares of L* 100 and of a*, b* −128 to 127.
    void spread_lab_decode(QPDFObjectHandle &image, QPDFObjectHandle space)
    {
        const std::array<double, 4> range = lab_range(space);
        std::array<double, 6> decode = {0, 100, range[0], range[1], range[2], range[3]};
        read_numbers(image.getKey("/Decode"), decode);
        QPDFObjectHandle shares = QPDFObjectHandle::newArray();
        for (std::size_t i = 0; i < decode.size(); ++i) {
            const double share = i < 2 ? decode[i] / 100.0 : (decode[i] + 128.0) / 255.0;
            shares.appendItem(QPDFObjectHandle::newReal(share, 6));
        }
        image.replaceKey("/Decode", shares);
        m_changed = true;
    }

    /// The interpreter reads the table of an Indexed Lab image as if a* and b* went from −128 to 127.
    void spread_lab_table(QPDFObjectHandle &image, QPDFObjectHandle space)
    {
        QPDFObjectHandle table = space.getArrayItem(3);
        const std::array<double, 4> range = lab_range(space.getArrayItem(1));
        std::string bytes;
        if (table.isString()) {
            bytes = table.getStringValue();
        } else if (table.isStream()) {
            const auto data = table.getStreamData();
            bytes.assign(reinterpret_cast<const char *>(data->getBuffer()), data->getSize());
        }
        for (std::size_t i = 0; i + 2 < bytes.size(); i += 3) {
            for (std::size_t c = 1; c < 3; ++c) {
                const double low = range[c * 2 - 2];
                const double high = range[c * 2 - 1];
                const double value = low + static_cast<unsigned char>(bytes[i + c]) / 255.0 * (high - low);
                bytes[i + c] = static_cast<char>(
                    static_cast<unsigned char>(std::lround(std::clamp(value + 128.0, 0.0, 255.0))));
            }
        }
        QPDFObjectHandle spread = space.shallowCopy();
        spread.setArrayItem(3, QPDFObjectHandle::newString(bytes));
        image.replaceKey("/ColorSpace", spread);
        m_changed = true;
    }

    /// Channels of an ICCBased or CIE-based space, 0 for any other.
    static int profiled_channels(QPDFObjectHandle space)
    {
        if (is_space(space, "/ICCBased") && space.getArrayItem(1).isStream()) {
            QPDFObjectHandle count = space.getArrayItem(1).getDict().getKey("/N");
            return count.isInteger() ? count.getIntValueAsInt() : 0;
        }
        return is_space(space, "/CalRGB") ? 3 : is_space(space, "/CalGray") ? 1 : 0;
    }

    void replace_spaces(QPDFObjectHandle object)
    {
        if (object.isArray() && object.isIndirect()) {
            if (QPDFObjectHandle made = replacement(object); made.isInitialized()) {
                m_pdf.replaceObject(object.getObjGen(), made.isIndirect() ? made.shallowCopy() : made);
                return;
            }
        }
        replace_inside(object, 0);
    }

    void replace_inside(QPDFObjectHandle object, int depth)
    {
        if (depth > most_depth) {
            return;
        }
        if (object.isArray()) {
            const int count = object.getArrayNItems();
            for (int i = 0; i < count; ++i) {
                QPDFObjectHandle item = object.getArrayItem(i);
                if (item.isIndirect()) {
                    continue;
                }
                if (QPDFObjectHandle made = replacement(item); made.isInitialized()) {
                    object.setArrayItem(i, made);
                } else {
                    replace_inside(item, depth + 1);
                }
            }
            return;
        }
        QPDFObjectHandle dict = object.isStream() ? object.getDict() : object;
        if (!dict.isDictionary()) {
            return;
        }
        for (const std::string &key : dict.getKeys()) {
            QPDFObjectHandle item = dict.getKey(key);
            if (item.isIndirect()) {
                continue;
            }
            if (QPDFObjectHandle made = replacement(item); made.isInitialized()) {
                dict.replaceKey(key, made);
            } else {
                replace_inside(item, depth + 1);
            }
        }
    }

    /// The private space for an ICCBased or CalRGB \p space; uninitialised for any other.
    QPDFObjectHandle replacement(QPDFObjectHandle space)
    {
        std::vector<std::byte> icc;
        int channels = 0;
        if (is_space(space, "/ICCBased") && space.getArrayItem(1).isStream()) {
            QPDFObjectHandle stream = space.getArrayItem(1);
            const auto known = m_known.find(stream.getObjGen());
            if (known != m_known.end()) {
                return known->second;
            }
            channels = profiled_channels(space);
            if (channels != 1 && channels != 3 && channels != 4) {
                return {};
            }
            if (channels == 1) {
                assume("Grey with an embedded profile keeps its numbers: it prints in black only.");
                return {}; // the interpreter reads it as DeviceGray
            }
            icc = profile_bytes(stream);
            const QPDFObjectHandle made = private_space(icc, channels);
            m_known[stream.getObjGen()] = made;
            return made;
        }
        if (is_space(space, "/CalRGB") && space.getArrayItem(1).isDictionary()) {
            QPDFObjectHandle dict = space.getArrayItem(1);
            CalibratedRgb colours;
            read_numbers(dict.getKey("/WhitePoint"), colours.white);
            read_numbers(dict.getKey("/Gamma"), colours.gamma);
            read_numbers(dict.getKey("/Matrix"), colours.matrix);
            return private_space(make_profile(colours), 3);
        }
        return {};
    }

    QPDFObjectHandle private_space(const std::vector<std::byte> &icc, int channels)
    {
        if (icc.empty() || !SourceProfile::open(icc, channels)) {
            assume("An embedded colour profile is damaged; its colours are read as if they had none.");
            return name(channels == 3 ? "/DeviceRGB" : "/DeviceCMYK");
        }
        auto found = std::find(m_result.profiles.begin(), m_result.profiles.end(), icc);
        if (found == m_result.profiles.end()) {
            if (m_result.profiles.size() >= most_profiles) {
                assume("The file holds more than 64 colour profiles; the rest are not used.");
                return name(channels == 3 ? "/DeviceRGB" : "/DeviceCMYK");
            }
            m_result.profiles.push_back(icc);
            found = m_result.profiles.end() - 1;
        }
        if (channels == 4) {
            assume("CMYK with an embedded profile keeps its numbers.");
        }
        const auto number = std::to_string(found - m_result.profiles.begin());
        QPDFObjectHandle names = QPDFObjectHandle::newArray();
        QPDFObjectHandle domain = QPDFObjectHandle::newArray();
        for (int i = 0; i < channels; ++i) {
            names.appendItem(name(("/" + (profiled_prefix + number) + ":" + std::to_string(i)).c_str()));
            domain.appendItem(QPDFObjectHandle::newInteger(0));
            domain.appendItem(QPDFObjectHandle::newInteger(1));
        }
        QPDFObjectHandle identity = QPDFObjectHandle::newStream(&m_pdf, "{ }");
        identity.getDict().replaceKey("/FunctionType", QPDFObjectHandle::newInteger(4));
        identity.getDict().replaceKey("/Domain", domain);
        identity.getDict().replaceKey("/Range", domain);
        QPDFObjectHandle made = QPDFObjectHandle::newArray();
        made.appendItem(name("/DeviceN"));
        made.appendItem(names);
        made.appendItem(name(channels == 3 ? "/DeviceRGB" : "/DeviceCMYK"));
        made.appendItem(identity);
        m_changed = true;
        return m_pdf.makeIndirectObject(made);
    }

    template <std::size_t Count>
    static void read_numbers(QPDFObjectHandle array, std::array<double, Count> &out)
    {
        if (!array.isArray() || array.getArrayNItems() != static_cast<int>(Count)) {
            return;
        }
        for (int i = 0; i < static_cast<int>(Count); ++i) {
            if (array.getArrayItem(i).isNumber()) {
                out[static_cast<std::size_t>(i)] = array.getArrayItem(i).getNumericValue();
            }
        }
    }

    static std::vector<std::byte> profile_bytes(QPDFObjectHandle stream)
    {
        constexpr std::size_t largest = std::size_t(64) << 20;
        try {
            const auto data = stream.getStreamData(qpdf_dl_specialized);
            const auto *first = reinterpret_cast<const std::byte *>(data->getBuffer());
            return data->getSize() > largest ? std::vector<std::byte>()
                                             : std::vector<std::byte>(first, first + data->getSize());
        } catch (const std::exception &) {
            return {};
        }
    }

    void read_output_intent()
    {
        QPDFObjectHandle intents = m_pdf.getRoot().getKey("/OutputIntents");
        if (intents.isArray() && intents.getArrayNItems() > 0 && intents.getArrayItem(0).isDictionary()) {
            m_result.output_intent_has_profile =
                intents.getArrayItem(0).getKey("/DestOutputProfile").isStream();
            for (const char *key : {"/OutputConditionIdentifier", "/OutputCondition", "/Info"}) {
                QPDFObjectHandle text = intents.getArrayItem(0).getKey(key);
                if (text.isString() && !text.getUTF8Value().empty()) {
                    m_result.output_intent = valid_utf8(text.getUTF8Value());
                    return;
                }
            }
        }
    }

    void assume(const std::string &text)
    {
        if (std::find(m_result.assumptions.begin(), m_result.assumptions.end(), text) ==
            m_result.assumptions.end()) {
            m_result.assumptions.push_back(text);
        }
    }

    QPDF &m_pdf;
    PreparedPdf &m_result;
    PrintLayers m_layers;
    std::map<QPDFObjGen, QPDFObjectHandle> m_known; ///< private spaces by profile stream
    bool m_changed = false;
};

} // namespace

PreparedPdf prepare_pdf(std::span<const std::byte> bytes, const std::string &password,
                        std::span<const PageToPlace> placed)
{
    PreparedPdf result;
    try {
        QPDF pdf;
        pdf.setSuppressWarnings(true);
        pdf.processMemoryFile("artwork", reinterpret_cast<const char *>(bytes.data()), bytes.size(),
                              password.c_str());
        const bool renamed = clear_placed_names(pdf);
        const auto sources = place_pages(pdf, placed); // kept until all is written
        Preparation preparation(pdf, result);
        preparation.run();
        if (!preparation.changed() && !renamed && placed.empty()) {
            return result;
        }
        spell_out_number_signs(pdf);
        QPDFWriter writer(pdf);
        writer.setOutputMemory();
        writer.setPreserveEncryption(false);
        writer.setStreamDataMode(qpdf_s_preserve);
        writer.setObjectStreamMode(qpdf_o_disable);
        writer.write();
        const auto buffer = writer.getBufferSharedPointer();
        const auto *first = reinterpret_cast<const std::byte *>(buffer->getBuffer());
        result.bytes.assign(first, first + buffer->getSize());
        return result;
    } catch (const std::exception &) {
        PreparedPdf untouched;
        untouched.damaged = true;
        return untouched;
    }
}

} // namespace bichrom
