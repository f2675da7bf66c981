#include "core/artwork/ink_space.h"

#include "core/base/units.h"

#include <qpdf/QPDF.hh>

namespace bichrom {

namespace {

QPDFObjectHandle number(int value)
{
    return QPDFObjectHandle::newInteger(value);
}

/// Adds up the looks of the inks on the stack.
QPDFObjectHandle tint_transform(QPDF &pdf, const std::vector<std::array<double, 4>> &looks)
{
    const int count = static_cast<int>(looks.size());
    QPDFObjectHandle domain = QPDFObjectHandle::newArray();
    for (int i = 0; i < count; ++i) {
        domain.appendItem(number(0));
        domain.appendItem(number(1));
    }
    std::string code = "{";
    for (int channel = 0; channel < 4; ++channel) {
        code += " 0";
        for (int i = 0; i < count; ++i) {
            // Above ink i lie the inks after it, the sums already made, and this one.
            const double part = looks[static_cast<std::size_t>(i)][static_cast<std::size_t>(channel)];
            if (part > 0) {
                code += " " + std::to_string(count - 1 - i + channel + 1) + " index " +
                        format_number(part, 3) + " mul add";
            }
        }
    }
    code += " " + std::to_string(count + 4) + " 4 roll";
    for (int i = 0; i < count; ++i) {
        code += " pop";
    }
    code += " }";
    QPDFObjectHandle tint = QPDFObjectHandle::newStream(&pdf, code);
    tint.getDict().replaceKey("/FunctionType", number(4));
    tint.getDict().replaceKey("/Domain", domain);
    tint.getDict().replaceKey("/Range", QPDFObjectHandle::parse("[0 1 0 1 0 1 0 1]"));
    return tint;
}

QPDFObjectHandle space(QPDF &pdf, const char *kind, QPDFObjectHandle names, QPDFObjectHandle tint)
{
    QPDFObjectHandle made = QPDFObjectHandle::newArray();
    made.appendItem(QPDFObjectHandle::newName(kind));
    made.appendItem(names);
    made.appendItem(QPDFObjectHandle::newName("/DeviceCMYK"));
    made.appendItem(tint);
    return pdf.makeIndirectObject(made);
}

} // namespace

QPDFObjectHandle ink_space(QPDF &pdf, const std::vector<std::string> &inks,
                           const std::vector<std::array<double, 4>> &looks)
{
    QPDFObjectHandle names = QPDFObjectHandle::newArray();
    for (const std::string &ink : inks) {
        names.appendItem(QPDFObjectHandle::newName("/" + ink));
    }
    return space(pdf, "/DeviceN", names, tint_transform(pdf, looks));
}

QPDFObjectHandle ink_space(QPDF &pdf, const std::string &ink, const std::array<double, 4> &look)
{
    return space(pdf, "/Separation", QPDFObjectHandle::newName("/" + ink), tint_transform(pdf, {look}));
}

} // namespace bichrom
