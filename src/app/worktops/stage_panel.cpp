#include "app/worktops/stage_panel.h"

#include "app/widgets/controls.h"

#include <QScrollArea>

namespace bichrom {

namespace {

constexpr int edits_rest = 250; // milliseconds without another edit

} // namespace

StagePanel::StagePanel(Session &session, ViewState &view, const QString &empty, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view)
{
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    m_empty = make_label(empty, 12, QFont::Normal, true, this);
    m_empty->setWordWrap(true);
    m_empty->setContentsMargins(16, 4, 16, 10);
    outer->addWidget(m_empty);
    // At 1280 × 800 all of it is seen; in a lower window it scrolls.
    m_scroll = new QScrollArea(this);
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    outer->addWidget(m_scroll, 1);
    outer->addStretch();
    m_body = new QWidget(m_scroll);
    m_scroll->setWidget(m_body);
    m_column = new QVBoxLayout(m_body);
    m_column->setContentsMargins(16, 4, 16, 10);
    m_column->setSpacing(6);
    m_resting.setSingleShot(true);
    m_resting.setInterval(edits_rest);
    connect(&m_resting, &QTimer::timeout, this, [this] {
        // Else they are on their way, and what was measured meanwhile would be of others.
        if (m_shown && m_session.isOpen() && m_session.platesFollow()) {
            measure();
        }
    });
    connect(&m_session, &Session::jobChanged, this, &StagePanel::measureSoon);
    connect(&m_session, &Session::platesChanged, this, &StagePanel::measureSoon);
    connect(&m_session, &Session::pageChanged, this, [this] {
        forget();
        measureSoon();
    });
}

void StagePanel::measureSoon()
{
    if (m_shown) {
        refresh();
        m_resting.start();
    }
}

void StagePanel::setShown(bool shown)
{
    m_shown = shown;
    if (!shown) {
        stop();
        return;
    }
    refresh();
    if (m_session.isOpen()) {
        if (m_session.platesFollow()) {
            measure();
        }
        draw();
    }
}

void StagePanel::refresh()
{
    const bool open = m_session.isOpen();
    m_empty->setVisible(!open);
    m_scroll->setVisible(open);
    if (open) {
        fill();
    }
}

} // namespace bichrom
