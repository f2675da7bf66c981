#include "app/worktops/release/work_strip.h"

#include "app/widgets/controls.h"

#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>

namespace bichrom {

WorkStrip::WorkStrip(const char *stop, const char *progress, const char *result, QWidget *parent)
    : QWidget(parent)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto *row = new QHBoxLayout();
    m_progress = new QProgressBar(this);
    m_progress->setObjectName(QLatin1String(progress));
    m_stop = make_small_button(stop, tr("Stop"), {}, this);
    row->addWidget(m_progress, 1);
    row->addWidget(m_stop);
    column->addLayout(row);
    m_result = make_label({}, 12, QFont::Normal, false, this);
    m_result->setObjectName(QLatin1String(result));
    m_result->setWordWrap(true);
    m_result->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(m_result);
    for (QWidget *widget : std::initializer_list<QWidget *>{m_progress, m_stop, m_result}) {
        widget->hide();
    }
    hide();
    connect(m_stop, &QPushButton::clicked, this, [this] { m_running.cancel(); });
}

void WorkStrip::begin()
{
    m_busy = true;
    m_result->hide();
    m_progress->setRange(0, 0);
    m_progress->show();
    m_stop->show();
    show();
    Q_EMIT busyChanged(true);
}

void WorkStrip::end()
{
    m_busy = false;
    m_progress->hide();
    m_stop->hide();
    hide();
    Q_EMIT busyChanged(false);
}

void WorkStrip::tell(qint64 done, qint64 total)
{
    m_progress->setRange(0, static_cast<int>(total));
    m_progress->setValue(static_cast<int>(done));
}

void WorkStrip::say(const QString &text, bool needs_artist)
{
    m_result->setText(text);
    m_result->setStyleSheet(notice_style(needs_artist));
    m_result->show();
    show();
    // What came of it must not lie out of sight below.
    QTimer::singleShot(0, this, [this] {
        for (QWidget *up = parentWidget(); up != nullptr; up = up->parentWidget()) {
            if (auto *scroll = qobject_cast<QScrollArea *>(up)) {
                scroll->ensureWidgetVisible(m_result, 0, 90); // and a little of what is under it
                return;
            }
        }
    });
}

void WorkStrip::clear()
{
    m_result->hide();
    setVisible(m_busy);
}

} // namespace bichrom
