/// \file
/// Which optional content prints.
/// Layer: core/artwork/intake, private to it.
#pragma once

#include "core/artwork/layer.h"

#include <qpdf/QPDF.hh>

#include <map>
#include <vector>

namespace bichrom {

/// The states of a file's optional-content groups when it is printed.
class PrintLayers
{
public:
    /// Reads the default configuration of \p pdf (ISO 32000-1, 8.11.4.3) with its automatic states for
    /// printing (8.11.4.4).
    explicit PrintLayers(QPDF &pdf);

    [[nodiscard]] bool any() const { return !m_groups.empty(); }
    /// In the order of groups().
    [[nodiscard]] std::vector<Layer> layers() const;
    [[nodiscard]] const std::vector<QPDFObjectHandle> &groups() const { return m_groups; }
    [[nodiscard]] bool prints(QPDFObjectHandle group) const;
    /// Of a membership dictionary: visibility expression, or policy over its groups (8.11.2.2).
    [[nodiscard]] bool membership_prints(QPDFObjectHandle membership) const;

    /// Writes the states out as plain ON and OFF lists and takes usage away.
    void spell_out();
    /// Makes \p membership point to one new group with the membership's own state.
    void replace_membership(QPDFObjectHandle membership);

private:
    [[nodiscard]] bool expression_holds(QPDFObjectHandle expression, int depth) const;
    QPDF &m_pdf;
    QPDFObjectHandle m_properties;
    std::vector<QPDFObjectHandle> m_groups;
    std::map<QPDFObjGen, bool> m_prints;
};

} // namespace bichrom
