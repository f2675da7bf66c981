#include "app/worktops/screen/beat_picture.h"

#include "app/widgets/theme.h"
#include "core/proof/eye_blur.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int picture_height = 64;

} // namespace

BeatPicture::BeatPicture(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("beatPicture"));
    setAccessibleName(tr("How the two look on each other"));
    setFixedHeight(picture_height + QFontMetrics(theme::font(11)).height() + 4);
}

void BeatPicture::clear()
{
    m_running.cancel();
    m_picture = {};
    m_words.clear();
    update();
}

void BeatPicture::take(const MoirePair &pair, double viewing_mm)
{
    clear();
    if (!pair.meet || width() < 16) {
        return;
    }
    constexpr double usual_mm = 20, least_mm = 8, most_mm = 80;
    const double bands = std::isfinite(pair.beat.period_mm) ? 3 * pair.beat.period_mm : usual_mm;
    const double wide_mm = std::clamp(bands, least_mm, most_mm);
    const double ratio = devicePixelRatioF();
    const int wide = static_cast<int>((width() - 8) * ratio), high = static_cast<int>(picture_height * ratio);
    m_words = tr("being made …");
    const QString words = tr("%1 mm of it, as seen from %2 m")
                              .arg(wide_mm, 0, 'f', 0)
                              .arg(theme::text_of(format_number(viewing_mm / 1000, 2)));
    m_running = m_tasks.start(
        [task = pair.task, wide, high, wide_mm, viewing_mm](const JobControl &) {
            auto patch = beat_patch(task, wide, high, wide_mm);
            if (patch) {
                blur_in_light(patch->pixels.data(), patch->width, patch->height,
                              eye_spread(viewing_mm / 1000).value * wide / wide_mm);
            }
            return patch;
        },
        [this, words](const Outcome<BeatPatch> &patch) {
            if (patch) {
                m_words = words;
                m_picture = QImage(reinterpret_cast<const uchar *>(patch->pixels.data()), patch->width,
                                   patch->height, patch->width * 4, QImage::Format_RGB32)
                                .copy();
            } else {
                m_words = theme::text_of(patch.error().message());
            }
            update();
        });
}

void BeatPicture::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setFont(theme::font(11));
    const QRect field(4, 0, width() - 8, picture_height);
    painter.fillRect(field, theme::field);
    painter.drawImage(field, m_picture); // also when the panel has grown or shrunk a little since
    painter.setPen(theme::quiet);
    painter.drawText(QRect(4, picture_height, width() - 8, height() - picture_height),
                     Qt::AlignLeft | Qt::AlignVCenter, m_words);
}

} // namespace bichrom
