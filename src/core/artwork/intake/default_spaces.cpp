#include "core/artwork/intake/default_spaces.h"

#include <qpdf/Buffer.hh>
#include <qpdf/Pl_Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFTokenizer.hh>

#include <memory>
#include <set>
#include <string>
#include <vector>

namespace bichrom {

namespace {

/// One kind of device colour that resources give a meaning.
struct DefaultSpace
{
    const char *key;        ///< in the ColorSpace resources
    const char *device;     ///< what it stands for
    const char *short_name; ///< of the device space, in inline images
    const char *own_key;    ///< that contents name instead
    const char *fill;       ///< the operators that set a device colour
    const char *stroke;
    int channels;
};
constexpr DefaultSpace kinds[] = {
    {"/DefaultRGB", "/DeviceRGB", "/RGB", "/BichromDefaultRGB", "rg", "RG", 3},
    {"/DefaultCMYK", "/DeviceCMYK", "/CMYK", "/BichromDefaultCMYK", "k", "K", 4}};

using Active = std::vector<const DefaultSpace *>;

bool is_profiled(QPDFObjectHandle space, int channels)
{
    if (!space.isArray() || space.getArrayNItems() < 2 || !space.getArrayItem(0).isName()) {
        return false;
    }
    const std::string family = space.getArrayItem(0).getName();
    if (family == "/CalRGB") {
        return channels == 3;
    }
    QPDFObjectHandle stream = space.getArrayItem(1);
    return family == "/ICCBased" && stream.isStream() && stream.getDict().getKey("/N").isInteger() &&
           stream.getDict().getKey("/N").getIntValue() == channels;
}

/// Makes contents name the profiled space wherever they set a device colour.
class NamingFilter final : public QPDFObjectHandle::TokenFilter
{
public:
    explicit NamingFilter(Active active) : m_active(std::move(active)) {}

    void handleToken(QPDFTokenizer::Token const &token) override
    {
        const auto kind = token.getType();
        if (m_in_image) {
            inline_image_token(token);
            return;
        }
        if (kind != QPDFTokenizer::tt_word) {
            m_held.push_back(token);
            return;
        }
        const std::string word = token.getValue();
        for (const DefaultSpace *space : m_active) {
            if (word == space->fill || word == space->stroke) {
                const bool fill = word == space->fill;
                write(std::string(space->own_key) + (fill ? " cs " : " CS "));
                release();
                write(fill ? "scn" : "SCN");
                return;
            }
            if ((word == "cs" || word == "CS")) {
                rename_last(space->device, space->own_key);
            }
        }
        m_in_image = word == "BI";
        release();
        writeToken(token);
    }
    void handleEOF() override { release(); }

private:
    void release()
    {
        for (const QPDFTokenizer::Token &token : m_held) {
            writeToken(token);
        }
        m_held.clear();
    }
    void rename_last(const char *from, const char *to)
    {
        for (auto token = m_held.rbegin(); token != m_held.rend(); ++token) {
            if (token->getType() == QPDFTokenizer::tt_name) {
                if (token->getValue() == from) {
                    *token = QPDFTokenizer::Token(QPDFTokenizer::tt_name, to);
                }
                return;
            }
        }
    }
    void inline_image_token(const QPDFTokenizer::Token &token)
    {
        if (token.getType() == QPDFTokenizer::tt_word && token.getValue() == "ID") {
            m_in_image = false; // the data follows as one token
        }
        if (token.getType() == QPDFTokenizer::tt_name) {
            const std::string name = token.getValue();
            if (m_space_next) {
                m_space_next = false;
                for (const DefaultSpace *space : m_active) {
                    if (name == space->short_name || name == space->device) {
                        writeToken(QPDFTokenizer::Token(QPDFTokenizer::tt_name, space->own_key));
                        return;
                    }
                }
            }
            m_space_next = name == "/CS" || name == "/ColorSpace";
        }
        writeToken(token);
    }

    Active m_active;
    std::vector<QPDFTokenizer::Token> m_held; ///< operands, until their operator is known
    bool m_in_image = false;
    bool m_space_next = false;
};

/// The meaning in \p spaces of what \p space names; nothing when it stays.
QPDFObjectHandle meaning_of(QPDFObjectHandle space, QPDFObjectHandle spaces, const Active &active)
{
    for (const DefaultSpace *one : active) {
        if (space.isName() && space.getName() == one->device) {
            return spaces.getKey(one->own_key);
        }
    }
    if (space.isArray() && space.getArrayNItems() == 4 && space.getArrayItem(0).isName() &&
        space.getArrayItem(0).getName() == "/Indexed") {
        QPDFObjectHandle base = meaning_of(space.getArrayItem(1), spaces, active);
        if (base.isInitialized() && base.isArray()) {
            QPDFObjectHandle indexed = space.shallowCopy();
            indexed.setArrayItem(1, base);
            return indexed;
        }
    }
    return {};
}

void give_meaning(QPDFObjectHandle dict, QPDFObjectHandle spaces, const Active &active)
{
    QPDFObjectHandle meaning = meaning_of(dict.getKey("/ColorSpace"), spaces, active);
    if (meaning.isInitialized() && meaning.isArray()) {
        dict.replaceKey("/ColorSpace", meaning);
    }
}

/// Names the profiled spaces of \p resources and gives pictures and shadings their meaning.
/// \return what contents must name
Active prepare_resources(QPDFObjectHandle resources)
{
    Active active;
    if (!resources.isDictionary()) {
        return active;
    }
    QPDFObjectHandle spaces = resources.getKey("/ColorSpace");
    if (!spaces.isDictionary()) {
        return active;
    }
    for (const DefaultSpace &kind : kinds) {
        if (is_profiled(spaces.getKey(kind.key), kind.channels)) {
            spaces.replaceKey(kind.own_key, spaces.getKey(kind.key));
            spaces.removeKey(kind.key);
        }
        if (spaces.hasKey(kind.own_key)) { // also when other contents share the resources
            active.push_back(&kind);
        }
    }
    if (active.empty()) {
        return active;
    }
    for (const char *group : {"/XObject", "/Shading", "/Pattern"}) {
        QPDFObjectHandle members = resources.getKey(group);
        if (!members.isDictionary()) {
            continue;
        }
        for (const std::string &key : members.getKeys()) {
            QPDFObjectHandle member = members.getKey(key);
            QPDFObjectHandle dict = member.isStream() ? member.getDict() : member;
            if (!dict.isDictionary()) {
                continue;
            }
            give_meaning(dict, spaces, active);
            QPDFObjectHandle shading = dict.getKey("/Shading"); // of a shading pattern
            if (shading.isStream() || shading.isDictionary()) {
                give_meaning(shading.isStream() ? shading.getDict() : shading, spaces, active);
            }
        }
    }
    return active;
}

/// Now, not when the file is written: a writer that keeps streams as they are applies no filters.
void rewrite(QPDFObjectHandle stream, const Active &active)
{
    NamingFilter filter(active);
    Pl_Buffer buffer("contents");
    stream.filterAsContents(&filter, &buffer);
    stream.replaceStreamData(buffer.getBufferSharedPointer(), QPDFObjectHandle::newNull(),
                             QPDFObjectHandle::newNull());
}

} // namespace

bool spell_out_default_spaces(QPDF &pdf)
{
    bool changed = false;
    for (QPDFPageObjectHelper &page : QPDFPageDocumentHelper(pdf).getAllPages()) {
        const Active active = prepare_resources(page.getAttribute("/Resources", false));
        if (!active.empty()) {
            NamingFilter filter(active);
            Pl_Buffer buffer("contents");
            page.filterContents(&filter, &buffer);
            page.getObjectHandle().replaceKey(
                "/Contents", QPDFObjectHandle::newStream(&pdf, buffer.getBufferSharedPointer()));
            changed = true;
        }
    }
    for (QPDFObjectHandle object : pdf.getAllObjects()) {
        if (object.isStream()) { // forms and tiling patterns
            const Active active = prepare_resources(object.getDict().getKey("/Resources"));
            if (!active.empty()) {
                rewrite(object, active);
                changed = true;
            }
        } else if (object.isDictionary() && object.getKey("/CharProcs").isDictionary()) { // Type 3 fonts
            const Active active = prepare_resources(object.getKey("/Resources"));
            QPDFObjectHandle glyphs = object.getKey("/CharProcs");
            for (const std::string &key : active.empty() ? std::set<std::string>() : glyphs.getKeys()) {
                if (QPDFObjectHandle glyph = glyphs.getKey(key); glyph.isStream()) {
                    rewrite(glyph, active);
                    changed = true;
                }
            }
        }
    }
    return changed;
}

} // namespace bichrom
