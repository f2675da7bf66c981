/// \file
/// Ink, panel Artworks: other files over and under the first.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/router.h"
#include "app/services/session.h"

#include <QWidget>

#include <functional>

class QComboBox;
class QListWidget;
class QPushButton;

namespace bichrom {

class NumberField;
class PilePicture;

class ArtworksPanel : public QWidget
{
    Q_OBJECT

public:
    ArtworksPanel(Session &session, Router &router, ViewState &view, Spotlight &spotlight, Prompts &prompts,
                  QWidget *parent = nullptr);
    /// The chosen file was dragged on the light table.
    void slid(QPointF mm, bool released);

protected:
    void showEvent(QShowEvent *event) override;
    void hideEvent(QHideEvent *event) override;

private:
    void refreshMovable();
    void buildFields(class QVBoxLayout *column);
    void refresh();
    void refreshFields();
    void refreshPicture();
    void place();
    void replace();
    void remove();
    void move(int by);
    void choose(int id);
    void drop(int id, QPointF top_left);
    void light();
    /// Changes the chosen artwork; \p key merges changes of one kind into one step of the history.
    void edit(const QString &text, const QString &key, const std::function<void(PlacedArtwork &)> &change);
    [[nodiscard]] int chosen() const; ///< id; 0 = the first file, −1 = none
    [[nodiscard]] const PlacedArtwork *chosenArtwork() const;
    [[nodiscard]] QRectF areaOf(const PlacedArtwork &placed) const;

    Session &m_session;
    ViewState &m_view;
    Spotlight &m_spotlight;
    Prompts &m_prompts;
    PilePicture *m_picture;
    QListWidget *m_list;
    QPushButton *m_place;
    QPushButton *m_replace;
    QPushButton *m_remove;
    QPushButton *m_up;
    QPushButton *m_down;
    QWidget *m_fields;
    NumberField *m_x;
    NumberField *m_y;
    NumberField *m_width;
    NumberField *m_scale;
    NumberField *m_page;
    QComboBox *m_turn;
    QComboBox *m_meeting;
    int m_newest = 0; ///< highest id among the placed files
};

} // namespace bichrom
