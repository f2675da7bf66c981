#include "core/artwork/intake/pdf_names.h"

#include <qpdf/QPDF.hh>

#include <string>

namespace bichrom {

namespace {

constexpr int most_depth = 100;

bool has_sign(const std::string &name)
{
    return name.find('#') != std::string::npos;
}

std::string spelled_out(std::string name)
{
    for (std::size_t at = name.find('#'); at != std::string::npos; at = name.find('#', at + 3)) {
        name.replace(at, 1, "#23");
    }
    return name;
}

QPDFObjectHandle spelled_out(QPDFObjectHandle name)
{
    return QPDFObjectHandle::newName(spelled_out(name.getName()));
}

bool is_signed_name(QPDFObjectHandle object)
{
    return object.isName() && has_sign(object.getName());
}

void walk(QPDFObjectHandle object, int depth)
{
    if (depth > most_depth) {
        return;
    }
    if (object.isArray()) {
        for (int i = 0; i < object.getArrayNItems(); ++i) {
            QPDFObjectHandle item = object.getArrayItem(i);
            if (item.isIndirect()) {
                continue;
            }
            if (is_signed_name(item)) {
                object.setArrayItem(i, spelled_out(item));
            } else {
                walk(item, depth + 1);
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
        if (!item.isIndirect()) {
            if (is_signed_name(item)) {
                item = spelled_out(item);
                dict.replaceKey(key, item);
            } else {
                walk(item, depth + 1);
            }
        }
        if (has_sign(key)) {
            dict.removeKey(key);
            dict.replaceKey(spelled_out(key), item);
        }
    }
}

} // namespace

void spell_out_number_signs(QPDF &pdf)
{
    for (QPDFObjectHandle object : pdf.getAllObjects()) {
        if (is_signed_name(object)) {
            pdf.replaceObject(object.getObjGen(), spelled_out(object));
        } else {
            walk(object, 0);
        }
    }
    walk(pdf.getTrailer(), 0);
}

} // namespace bichrom
