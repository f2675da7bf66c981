/// \file
/// Thumbnails of all pages, to choose one.
/// Layer: app/laydown.
#pragma once

#include "app/services/session.h"

#include <QListWidget>

namespace bichrom {

/// Pictures are made in the background, for the pages in sight first; hidden for a single page.
class PageStrip : public QListWidget
{
    Q_OBJECT

public:
    explicit PageStrip(Session &session, QWidget *parent = nullptr);

Q_SIGNALS:
    void pageChosen(int page);

protected:
    void resizeEvent(QResizeEvent *event) override;

private:
    void takeArtwork();
    void takePage();
    void makeNext();

    Session &m_session;
    std::shared_ptr<const Artwork> m_artwork;
    bool m_running = false;
    CancelSwitch m_making;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
