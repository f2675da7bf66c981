#include "core/artwork/rename_ink.h"

#include "core/artwork/intake/input_kind.h"
#include "core/artwork/intake/pdf_names.h"
#include "core/artwork/text_encoding.h"

#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFExc.hh>
#include <qpdf/QPDFWriter.hh>

#include <pugixml.hpp>

#include <algorithm>
#include <functional>
#include <map>
#include <optional>
#include <regex>
#include <set>
#include <sstream>

namespace bichrom {

namespace {

constexpr int most_depth = 100;

std::string lower(std::string text)
{
    for (char &c : text) {
        c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    }
    return text;
}

/// Gives an ink's new name, if it has one.
class Renamer
{
public:
    explicit Renamer(const InkRename &rename) : m_rename(rename)
    {
        if (rename.match == NameMatch::Regex || rename.match == NameMatch::RegexNoCase) {
            const auto alike =
                rename.match == NameMatch::RegexNoCase ? std::regex::icase : std::regex::flag_type();
            m_expression = std::regex(rename.from, std::regex::ECMAScript | alike);
        }
    }

    [[nodiscard]] std::optional<std::string> operator()(const std::string &name) const
    {
        if (name == "All" || name == "None") {
            return std::nullopt;
        }
        std::string to;
        switch (m_rename.match) {
        case NameMatch::Exact:
            if (name != m_rename.from) {
                return std::nullopt;
            }
            to = m_rename.to;
            break;
        case NameMatch::NoCase:
            if (lower(name) != lower(m_rename.from)) {
                return std::nullopt;
            }
            to = m_rename.to;
            break;
        case NameMatch::Regex:
        case NameMatch::RegexNoCase:
            if (!std::regex_match(name, m_expression)) {
                return std::nullopt;
            }
            to = std::regex_replace(name, m_expression, m_rename.to, std::regex_constants::format_first_only);
            break;
        }
        return to == name || to.empty() || to == "All" || to == "None" ? std::nullopt : std::optional(to);
    }

private:
    InkRename m_rename;
    std::regex m_expression;
};

/// A space that would name one ink twice.
struct Collision
{
    std::string name;
};

/// One pass over a file.
class Renaming
{
public:
    Renaming(const Renamer &renamer, const std::optional<std::array<double, 4>> &standin)
        : m_renamer(renamer), m_standin(standin)
    {
    }

    void run(QPDF &pdf)
    {
        for (QPDFObjectHandle object : pdf.getAllObjects()) {
            walk(object, 0);
        }
    }
    [[nodiscard]] std::vector<RenamedInk> inks() const
    {
        std::vector<RenamedInk> found;
        for (const auto &[from, ink] : m_inks) {
            found.push_back(ink);
        }
        return found;
    }
    [[nodiscard]] bool changed() const { return m_changed; }

private:
    /// Visits arrays and dictionaries in \p object, without following references.
    void walk(QPDFObjectHandle object, int depth)
    {
        if (depth > most_depth) {
            return;
        }
        if (object.isArray()) {
            rename_space(object);
            for (int i = 0; i < object.getArrayNItems(); ++i) {
                if (QPDFObjectHandle item = object.getArrayItem(i); !item.isIndirect()) {
                    walk(item, depth + 1);
                }
            }
            return;
        }
        QPDFObjectHandle dict = object.isStream() ? object.getDict() : object;
        if (!dict.isDictionary()) {
            return;
        }
        rename_in_dictionary(dict);
        if (object.isStream() && dict.getKey("/Type").isNameAndEquals("/Metadata")) {
            rename_in_metadata(object);
        }
        for (const std::string &key : dict.getKeys()) {
            if (QPDFObjectHandle item = dict.getKey(key); !item.isIndirect()) {
                walk(item, depth + 1);
            }
        }
    }

    /// The new name of a name object, with its slash; its own when it stays.
    std::string renamed(const std::string &slashed, bool count)
    {
        const std::string name = valid_utf8(std::string_view(slashed).substr(1));
        const auto to = m_renamer(name);
        if (!to) {
            return slashed;
        }
        m_changed = true;
        RenamedInk &ink = m_inks.try_emplace(name, RenamedInk{name, *to, 0}).first->second;
        ink.spaces += count ? 1 : 0;
        return "/" + *to;
    }

    void rename_space(QPDFObjectHandle array)
    {
        if (array.getArrayNItems() < 4 || !array.getArrayItem(0).isName()) {
            return;
        }
        const std::string family = array.getArrayItem(0).getName();
        QPDFObjectHandle names = array.getArrayItem(1);
        if (family == "/Separation" && names.isName()) {
            const std::string now = names.getName();
            if (const std::string to = renamed(now, true); to != now) {
                array.setArrayItem(1, QPDFObjectHandle::newName(to));
                set_standin(array);
            }
        } else if (family == "/DeviceN" && names.isArray()) {
            rename_list(names, true);
            if (array.getArrayNItems() > 4) {
                rename_attributes(array.getArrayItem(4));
            }
        }
    }

    void set_standin(QPDFObjectHandle space)
    {
        if (!m_standin) {
            return;
        }
        QPDFObjectHandle function =
            QPDFObjectHandle::parse("<< /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] >>");
        QPDFObjectHandle solid = QPDFObjectHandle::newArray();
        for (const double amount : *m_standin) {
            solid.appendItem(QPDFObjectHandle::newReal(amount, 4));
        }
        function.replaceKey("/C1", solid);
        space.setArrayItem(2, QPDFObjectHandle::newName("/DeviceCMYK"));
        space.setArrayItem(3, function);
    }

    /// The list of plates and the swatches in XMP (XMP specification part 2: xmpTPg:PlateNames, swatchName).
    void rename_in_metadata(QPDFObjectHandle stream)
    {
        const std::shared_ptr<Buffer> data = stream.getStreamData(qpdf_dl_generalized);
        pugi::xml_document document;
        if (!document.load_buffer(data->getBuffer(), data->getSize(), pugi::parse_full)) {
            return; // metadata that nobody can read is left alone
        }
        bool changed = false;
        const std::function<void(pugi::xml_node, bool)> visit = [&](pugi::xml_node node, bool in_plates) {
            for (pugi::xml_node child : node.children()) {
                const std::string_view name = child.name();
                const bool is_name = (in_plates && name == "rdf:li") || name == "xmpG:swatchName";
                const std::string now = child.text().get();
                if (is_name && !now.empty()) {
                    if (const std::string to = renamed("/" + now, false); to.substr(1) != now) {
                        child.text().set(to.substr(1).c_str());
                        changed = true;
                    }
                }
                visit(child, in_plates || name == "xmpTPg:PlateNames");
            }
        };
        visit(document, false);
        if (changed) {
            std::ostringstream text;
            document.save(text, "", pugi::format_raw | pugi::format_no_declaration);
            stream.replaceStreamData(text.str(), QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
        }
    }

    /// Names in an array, which may be shared by several spaces.
    void rename_list(QPDFObjectHandle names, bool is_space)
    {
        if (names.isIndirect() && !m_seen.insert(names.getObjGen()).second) {
            return;
        }
        std::set<std::string> taken;
        for (int i = 0; i < names.getArrayNItems(); ++i) {
            if (!names.getArrayItem(i).isName()) {
                continue;
            }
            const std::string now = names.getArrayItem(i).getName();
            const std::string to = renamed(now, is_space);
            if (to != now) {
                names.setArrayItem(i, QPDFObjectHandle::newName(to));
            }
            if (is_space && to != "/None" && !taken.insert(to).second) {
                throw Collision{to.substr(1)};
            }
        }
    }

    /// Keys that are ink names.
    void rename_keys(QPDFObjectHandle dict, const std::set<std::string> &words = {})
    {
        if (!dict.isDictionary() || (dict.isIndirect() && !m_seen.insert(dict.getObjGen()).second)) {
            return;
        }
        const std::set<std::string> keys = dict.getKeys();
        for (const std::string &key : keys) {
            if (words.count(key) > 0) {
                continue;
            }
            const std::string to = renamed(key, false);
            if (to == key) {
                continue;
            }
            // What the file says of the ink that had the name first stays.
            if (keys.count(to) == 0) {
                dict.replaceKey(to, dict.getKey(key));
            }
            dict.removeKey(key);
        }
    }

    /// ISO 32000-1, tables 71 to 73.
    void rename_attributes(QPDFObjectHandle attributes)
    {
        if (!attributes.isDictionary()) {
            return;
        }
        rename_keys(attributes.getKey("/Colorants"));
        rename_hints(attributes.getKey("/MixingHints"));
        if (QPDFObjectHandle process = attributes.getKey("/Process"); process.isDictionary()) {
            if (QPDFObjectHandle components = process.getKey("/Components"); components.isArray()) {
                rename_list(components, false);
            }
        }
    }

    void rename_hints(QPDFObjectHandle hints)
    {
        if (!hints.isDictionary()) {
            return;
        }
        rename_keys(hints.getKey("/Solidities"), {"/Default"});
        rename_keys(hints.getKey("/DotGain"), {"/Default"});
        if (QPDFObjectHandle order = hints.getKey("/PrintingOrder"); order.isArray()) {
            rename_list(order, false);
        }
    }

    void rename_in_dictionary(QPDFObjectHandle dict)
    {
        if (dict.hasKey("/MixingHints")) { // of an output intent (ISO 32000-2, 14.11.5)
            rename_hints(dict.getKey("/MixingHints"));
        }
        if (dict.hasKey("/SpectralData")) {
            rename_keys(dict.getKey("/SpectralData"));
        }
        if (QPDFObjectHandle type = dict.getKey("/HalftoneType");
            type.isInteger() && type.getIntValue() == 5) {
            rename_keys(dict, {"/Type", "/HalftoneType", "/HalftoneName", "/Default"});
        }
        if (QPDFObjectHandle info = dict.getKey("/SeparationInfo"); info.isDictionary()) {
            QPDFObjectHandle colorant = info.getKey("/DeviceColorant");
            if (colorant.isName() || colorant.isString()) {
                const std::string now =
                    colorant.isName() ? colorant.getName() : "/" + colorant.getStringValue();
                if (const std::string to = renamed(now, false); to != now) {
                    info.replaceKey("/DeviceColorant", colorant.isName()
                                                           ? QPDFObjectHandle::newName(to)
                                                           : QPDFObjectHandle::newString(to.substr(1)));
                }
            }
        }
        if (QPDFObjectHandle names = dict.getKey("/SeparationColorNames"); names.isArray()) {
            rename_list(names, false);
        }
    }

    const Renamer &m_renamer;
    std::optional<std::array<double, 4>> m_standin;
    std::map<std::string, RenamedInk> m_inks;
    std::set<QPDFObjGen> m_seen; ///< shared lists and dictionaries that are done
    bool m_changed = false;
};

} // namespace

Outcome<NameMatch> parse_name_match(std::string_view name)
{
    if (name == "exact") {
        return NameMatch::Exact;
    }
    if (name == "nocase") {
        return NameMatch::NoCase;
    }
    if (name == "regex") {
        return NameMatch::Regex;
    }
    if (name == "regex-nocase") {
        return NameMatch::RegexNoCase;
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no way to match names.",
                 {},
                 "Use exact, nocase, regex or regex-nocase."};
}

Done check_rename(const InkRename &rename)
{
    for (const std::string &name : {rename.from, rename.to}) {
        if (name.empty() || name == "All" || name == "None") {
            return Error{ErrorCode::OutOfRange,
                         name.empty() ? "An ink needs a name." : "'" + name + "' is no ink.",
                         {},
                         "Name the ink as it stands in the file, and its new name."};
        }
    }
    try {
        const Renamer renamer(rename);
    } catch (const std::regex_error &) {
        return Error{ErrorCode::OutOfRange,
                     "'" + rename.from + "' is no regular expression.",
                     {},
                     "Put a backslash before signs that are meant as they are."};
    }
    return {};
}

Outcome<std::vector<std::pair<std::string, std::string>>> match_names(const std::vector<std::string> &names,
                                                                      const InkRename &rename)
{
    if (const Done good = check_rename(rename); !good) {
        return good.error();
    }
    const Renamer renamer(rename);
    std::vector<std::pair<std::string, std::string>> matches;
    for (const std::string &name : names) {
        if (auto to = renamer(name)) {
            matches.emplace_back(name, std::move(*to));
        }
    }
    return matches;
}

Outcome<RenamedPdf> rename_ink(std::span<const std::byte> bytes, const std::string &place,
                               const InkRename &rename, const std::string &password)
{
    if (const Done good = check_rename(rename); !good) {
        return good.error();
    }
    if (input_kind(bytes) != InputKind::Pdf) {
        return Error{ErrorCode::WrongFormat, "Inks can be renamed in PDFs only.", place,
                     "Save the artwork as PDF first."};
    }
    try {
        QPDF pdf;
        pdf.setSuppressWarnings(true);
        pdf.processMemoryFile(place.c_str(), reinterpret_cast<const char *>(bytes.data()), bytes.size(),
                              password.c_str());
        const Renamer renamer(rename);
        Renaming renaming(renamer, rename.standin);
        renaming.run(pdf);
        RenamedPdf result;
        result.inks = renaming.inks();
        if (!renaming.changed()) {
            return result;
        }
        spell_out_number_signs(pdf);
        QPDFWriter writer(pdf);
        writer.setOutputMemory();
        writer.setPreserveEncryption(true);
        writer.setStreamDataMode(qpdf_s_preserve);
        writer.setObjectStreamMode(qpdf_o_preserve);
        writer.write();
        const auto buffer = writer.getBufferSharedPointer();
        const auto *first = reinterpret_cast<const std::byte *>(buffer->getBuffer());
        result.bytes.assign(first, first + buffer->getSize());
        return result;
    } catch (const Collision &collision) {
        return Error{ErrorCode::OutOfRange,
                     "A colour is mixed of both inks; with one name for the two it would name '" +
                         collision.name + "' twice.",
                     place, "Merge such inks in the stage Ink instead."};
    } catch (const QPDFExc &fault) {
        if (fault.getErrorCode() == qpdf_e_password) {
            return Error{ErrorCode::PasswordNeeded,
                         password.empty() ? "The file is encrypted and needs a password."
                                          : "The password does not fit.",
                         place, "Ask the customer for the password."};
        }
        return Error{ErrorCode::CannotRead, "The PDF is damaged.", place,
                     "Ask the customer for a new copy of the file."};
    } catch (const std::exception &) {
        return Error{ErrorCode::CannotRead, "The PDF is damaged.", place,
                     "Ask the customer for a new copy of the file."};
    }
}

} // namespace bichrom
