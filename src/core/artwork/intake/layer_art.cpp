#include "core/artwork/intake/layer_art.h"

#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

#include <algorithm>
#include <array>
#include <set>
#include <string_view>
#include <utility>

namespace bichrom {

namespace {

using Groups = std::set<QPDFObjGen>;

/// The groups of \p object, a group or a membership (ISO 32000-1, 8.11.2), that keep it from printing.
Groups hidden_by(QPDFObjectHandle object, const PrintLayers &layers)
{
    Groups groups;
    if (!object.isDictionary()) {
        return groups;
    }
    QPDFObjectHandle members = object.getKey("/OCGs");
    if (members.isNull()) {
        if (!layers.prints(object)) {
            groups.insert(object.getObjGen());
        }
        return groups;
    }
    if (layers.membership_prints(object)) {
        return groups;
    }
    const auto add = [&](QPDFObjectHandle group) {
        if (group.isDictionary() && !layers.prints(group)) {
            groups.insert(group.getObjGen());
        }
    };
    if (members.isArray()) {
        for (int i = 0; i < std::min(members.getArrayNItems(), 10000); ++i) {
            add(members.getArrayItem(i));
        }
    } else {
        add(members);
    }
    return groups;
}

bool paints(std::string_view operation)
{
    // ISO 32000-1, table 51; of an inline picture's three operators the last.
    static constexpr std::array<std::string_view, 16> painting = {
        "f", "F", "f*", "B", "B*", "b", "b*", "S", "s", "sh", "Do", "Tj", "TJ", "'", "\"", "EI"};
    return std::find(painting.begin(), painting.end(), operation) != painting.end();
}

/// Reads one content stream.
class Reader final : public QPDFObjectHandle::ParserCallbacks
{
public:
    Reader(QPDFObjectHandle properties, const PrintLayers &layers, std::map<QPDFObjGen, int> &counts)
        : m_properties(std::move(properties)), m_layers(layers), m_counts(counts)
    {
    }
    void handleObject(QPDFObjectHandle object) override
    {
        if (!object.isOperator()) {
            m_before = std::exchange(m_last, object);
            return;
        }
        const std::string operation = object.getOperatorValue();
        if (operation == "BDC" || operation == "BMC") {
            Groups groups;
            if (operation == "BDC" && m_before.isName() && m_before.getName() == "/OC" && m_last.isName() &&
                m_properties.isDictionary()) {
                groups = hidden_by(m_properties.getKey(m_last.getName()), m_layers);
            }
            m_open.push_back(std::move(groups));
        } else if (operation == "EMC" && !m_open.empty()) {
            m_open.pop_back();
        } else if (paints(operation)) {
            Groups all;
            for (const Groups &groups : m_open) {
                all.insert(groups.begin(), groups.end());
            }
            for (const QPDFObjGen &group : all) {
                ++m_counts[group];
            }
        }
        m_before = m_last = QPDFObjectHandle::newNull();
    }
    void handleEOF() override {}

private:
    QPDFObjectHandle m_properties;
    const PrintLayers &m_layers;
    std::map<QPDFObjGen, int> &m_counts;
    QPDFObjectHandle m_before = QPDFObjectHandle::newNull();
    QPDFObjectHandle m_last = QPDFObjectHandle::newNull();
    std::vector<Groups> m_open;
};

/// Whether any of \p properties is hidden, so that it is worth reading what it is used in.
bool any_hidden(QPDFObjectHandle properties, const PrintLayers &layers)
{
    if (!properties.isDictionary()) {
        return false;
    }
    const auto keys = properties.getKeys();
    return std::any_of(keys.begin(), keys.end(), [&](const std::string &key) {
        return !hidden_by(properties.getKey(key), layers).empty();
    });
}

} // namespace

std::map<QPDFObjGen, int> count_unprinted(QPDF &pdf, const PrintLayers &layers, bool &whole)
{
    std::map<QPDFObjGen, int> counts;
    whole = true;
    for (const QPDFObjectHandle &group : layers.groups()) {
        if (!layers.prints(group)) {
            counts[group.getObjGen()] = 0;
        }
    }
    if (counts.empty()) {
        return counts;
    }
    constexpr std::size_t most_streams = 2000; // reading is slow; no ordinary file has that many
    std::size_t streams = 0;
    const auto read = [&](QPDFObjectHandle resources, const auto &parse) {
        QPDFObjectHandle properties =
            resources.isDictionary() ? resources.getKey("/Properties") : QPDFObjectHandle::newNull();
        if (!any_hidden(properties, layers)) {
            return;
        }
        if (++streams > most_streams) {
            whole = false;
            return;
        }
        Reader reader(properties, layers, counts);
        try {
            parse(reader);
        } catch (const std::exception &) { // content that is cut or garbled; the interpreter tells of it
            whole = false;
        }
    };
    for (QPDFPageObjectHelper &page : QPDFPageDocumentHelper(pdf).getAllPages()) {
        read(page.getAttribute("/Resources", false), [&](Reader &reader) { page.parseContents(&reader); });
    }
    for (QPDFObjectHandle &object : pdf.getAllObjects()) {
        if (!object.isStream()) {
            continue;
        }
        QPDFObjectHandle dict = object.getDict();
        for (const QPDFObjGen &group : hidden_by(dict.getKey("/OC"), layers)) {
            ++counts[group];
        }
        if (dict.getKey("/Subtype").isName() && dict.getKey("/Subtype").getName() == "/Form") {
            read(dict.getKey("/Resources"), [&](Reader &reader) { object.parseAsContents(&reader); });
        }
    }
    return counts;
}

} // namespace bichrom
