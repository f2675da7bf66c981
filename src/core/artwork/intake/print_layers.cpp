#include "core/artwork/intake/print_layers.h"

#include "core/artwork/text_encoding.h"

#include <algorithm>

namespace bichrom {

namespace {

constexpr int most_layers = 10000;

std::vector<QPDFObjectHandle> items(QPDFObjectHandle array)
{
    std::vector<QPDFObjectHandle> list;
    if (array.isArray()) {
        const int count = std::min(array.getArrayNItems(), most_layers);
        for (int i = 0; i < count; ++i) {
            list.push_back(array.getArrayItem(i));
        }
    }
    return list;
}

bool is_name(QPDFObjectHandle object, const char *name)
{
    return object.isName() && object.getName() == name;
}

std::string text_of(QPDFObjectHandle string)
{
    return string.isString() ? valid_utf8(string.getUTF8Value()) : std::string();
}

} // namespace

PrintLayers::PrintLayers(QPDF &pdf) : m_pdf(pdf), m_properties(pdf.getRoot().getKey("/OCProperties"))
{
    if (!m_properties.isDictionary()) {
        return;
    }
    QPDFObjectHandle config = m_properties.getKey("/D");
    const bool base = !(config.isDictionary() && is_name(config.getKey("/BaseState"), "/OFF"));
    for (QPDFObjectHandle &group : items(m_properties.getKey("/OCGs"))) {
        if (group.isDictionary() && group.isIndirect()) {
            m_groups.push_back(group);
            m_prints[group.getObjGen()] = base;
        }
    }
    if (!config.isDictionary()) {
        return;
    }
    for (const bool state : {true, false}) {
        for (QPDFObjectHandle &group : items(config.getKey(state ? "/ON" : "/OFF"))) {
            m_prints[group.getObjGen()] = state;
        }
    }
    for (QPDFObjectHandle &application : items(config.getKey("/AS"))) {
        if (!application.isDictionary() || !is_name(application.getKey("/Event"), "/Print")) {
            continue;
        }
        const auto categories = items(application.getKey("/Category"));
        const bool for_print = std::any_of(categories.begin(), categories.end(),
                                           [](const auto &name) { return is_name(name, "/Print"); });
        for (QPDFObjectHandle &group : items(application.getKey("/OCGs"))) {
            QPDFObjectHandle usage =
                group.isDictionary() ? group.getKey("/Usage") : QPDFObjectHandle::newNull();
            QPDFObjectHandle print = usage.isDictionary() ? usage.getKey("/Print") : usage;
            if (for_print && print.isDictionary() && print.getKey("/PrintState").isName()) {
                m_prints[group.getObjGen()] = is_name(print.getKey("/PrintState"), "/ON");
            }
        }
    }
}

std::vector<Layer> PrintLayers::layers() const
{
    std::vector<Layer> list;
    for (QPDFObjectHandle group : m_groups) {
        list.push_back({text_of(group.getKey("/Name")), prints(group)});
    }
    return list;
}

bool PrintLayers::prints(QPDFObjectHandle group) const
{
    const auto found = m_prints.find(group.getObjGen());
    return found == m_prints.end() || found->second;
}

bool PrintLayers::expression_holds(QPDFObjectHandle expression, int depth) const
{
    if (expression.isDictionary()) {
        return prints(expression);
    }
    const auto parts = items(expression);
    if (parts.size() < 2 || depth > 32) {
        return true;
    }
    if (is_name(parts[0], "/Not")) {
        return !expression_holds(parts[1], depth + 1);
    }
    const bool all = is_name(parts[0], "/And");
    for (std::size_t i = 1; i < parts.size(); ++i) {
        if (expression_holds(parts[i], depth + 1) != all) {
            return !all;
        }
    }
    return all;
}

bool PrintLayers::membership_prints(QPDFObjectHandle membership) const
{
    if (membership.getKey("/VE").isArray()) {
        return expression_holds(membership.getKey("/VE"), 0);
    }
    std::vector<QPDFObjectHandle> groups = items(membership.getKey("/OCGs"));
    if (membership.getKey("/OCGs").isDictionary()) {
        groups.push_back(membership.getKey("/OCGs"));
    }
    std::erase_if(groups, [](auto &group) { return !group.isDictionary(); });
    if (groups.empty()) {
        return true;
    }
    const auto on = [this](const QPDFObjectHandle &group) { return prints(group); };
    QPDFObjectHandle policy = membership.getKey("/P");
    if (is_name(policy, "/AllOn")) {
        return std::all_of(groups.begin(), groups.end(), on);
    }
    if (is_name(policy, "/AllOff")) {
        return std::none_of(groups.begin(), groups.end(), on);
    }
    if (is_name(policy, "/AnyOff")) {
        return !std::all_of(groups.begin(), groups.end(), on);
    }
    return std::any_of(groups.begin(), groups.end(), on); // AnyOn, the default
}

void PrintLayers::spell_out()
{
    QPDFObjectHandle on = QPDFObjectHandle::newArray();
    QPDFObjectHandle off = QPDFObjectHandle::newArray();
    for (QPDFObjectHandle group : m_groups) {
        (prints(group) ? on : off).appendItem(group);
        group.removeKey("/Usage");
    }
    QPDFObjectHandle config = QPDFObjectHandle::newDictionary();
    config.replaceKey("/ON", on);
    config.replaceKey("/OFF", off);
    m_properties.replaceKey("/D", config);
    m_properties.removeKey("/Configs");
}

void PrintLayers::replace_membership(QPDFObjectHandle membership)
{
    QPDFObjectHandle first = membership.getKey("/OCGs");
    if (first.isArray() && first.getArrayNItems() > 0) {
        first = first.getArrayItem(0);
    }
    QPDFObjectHandle group = QPDFObjectHandle::newDictionary();
    group.replaceKey("/Type", QPDFObjectHandle::newName("/OCG"));
    group.replaceKey("/Name", first.isDictionary() && first.getKey("/Name").isString()
                                  ? first.getKey("/Name")
                                  : QPDFObjectHandle::newString(""));
    // The interpreter takes groups for the same when all their entries are: this one differs.
    group.replaceKey("/Number", QPDFObjectHandle::newInteger(static_cast<long long>(m_groups.size())));
    group = m_pdf.makeIndirectObject(group);
    m_prints[group.getObjGen()] = membership_prints(membership);
    m_groups.push_back(group);
    m_properties.getKey("/OCGs").appendItem(group);
    membership.removeKey("/P");
    membership.removeKey("/VE");
    membership.replaceKey("/OCGs", group);
}

} // namespace bichrom
