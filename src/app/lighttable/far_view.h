/// \file
/// A picture as it looks from farther away, kept until there is another.
/// Layer: app/lighttable. May use core/proof.
#pragma once

#include <QImage>

namespace bichrom {

class FarView
{
public:
    /// \p near blurred by \p sigma pixels (core/proof/eye_blur.h). Made anew only when one of them differs
    /// from the last time: the table is painted again for every move of the pointer.
    [[nodiscard]] const QImage &of(const QImage &near, double sigma);

private:
    QImage m_near, m_far;
    double m_sigma = 0;
};

} // namespace bichrom
