#include "app/lighttable/far_view.h"

#include "core/proof/eye_blur.h"

namespace bichrom {

const QImage &FarView::of(const QImage &near, double sigma)
{
    if (m_sigma != sigma || m_near != near || m_far.isNull()) {
        m_near = near;
        m_sigma = sigma;
        m_far = near.convertToFormat(QImage::Format_RGB32);
        blur_in_light(reinterpret_cast<std::uint32_t *>(m_far.bits()), m_far.width(), m_far.height(), sigma);
    }
    return m_far;
}

} // namespace bichrom
