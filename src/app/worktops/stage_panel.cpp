#include "app/worktops/stage_panel.h"

#include "app/widgets/controls.h"

namespace bichrom {

namespace {

constexpr int edits_rest = 250; // milliseconds without another edit

} // namespace

StagePanel::StagePanel(Session &session, ViewState &view, const QString &empty, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view)
{
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 4, 16, 10);
    outer->setSpacing(6);
    m_empty = make_label(empty, 12, QFont::Normal, true, this);
    m_empty->setWordWrap(true);
    outer->addWidget(m_empty);
    m_body = new QWidget(this);
    outer->addWidget(m_body, 1);
    m_column = new QVBoxLayout(m_body);
    m_column->setContentsMargins(0, 0, 0, 0);
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
    refresh();
    if (m_shown) {
        m_resting.start();
    }
}

void StagePanel::setShown(bool shown)
{
    m_shown = shown;
    if (!shown) {
        stop();
    } else if (m_session.isOpen()) {
        refresh();
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
    m_body->setVisible(open);
    if (open) {
        fill();
    }
}

} // namespace bichrom
