/// \file
/// The main window.
/// Layer: app/bench.
#pragma once

#include "app/bench/stage_strip.h"
#include "app/models/choice.h"
#include "app/models/spotlight.h"
#include "app/models/view_state.h"
#include "app/services/ink_library.h"
#include "app/services/prompts.h"
#include "app/services/recovery.h"
#include "app/services/router.h"
#include "app/services/rules_shelf.h"
#include "app/services/session.h"

#include <QMainWindow>

#include <array>
#include <functional>
#include <optional>

class QLabel;
class QMenu;
class QPushButton;
class QStackedWidget;
class QToolButton;

namespace bichrom {

class CoreSampleBar;
class FilmTable;
class LayDown;
class LightTable;
class ReceiveWorktop;
class Worktop;

/// Stage strip on top, lay-down, light table, worktop of the active stage, core sample below.
class BenchWindow : public QMainWindow
{
    Q_OBJECT

public:
    explicit BenchWindow(Prompts &prompts, QWidget *parent = nullptr);
    ~BenchWindow() override;

    /// Opens artwork or a job in the background; asks about unsaved work first.
    void openPath(const QString &path, int page = 0);
    [[nodiscard]] Session &session() { return m_session; }
    [[nodiscard]] ViewState &view() { return m_view; }
    [[nodiscard]] Choice &choice() { return m_choice; }
    [[nodiscard]] Spotlight &spotlight() { return m_spotlight; }
    [[nodiscard]] ReceiveWorktop &receive() { return *m_receive; }
    void setStage(Stage stage);
    /// Asks about work that a crash left behind; called once after the window is shown. Whether some is being
    /// opened.
    [[nodiscard]] bool offerLeftovers();
    [[nodiscard]] Recovery &recovery() { return m_recovery; }

protected:
    void closeEvent(QCloseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void keyReleaseEvent(QKeyEvent *event) override;
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;

private:
    void build();
    QWidget *buildHeader();
    void buildActions();
    QAction *addShortcut(const QString &name, const QString &text, const QKeySequence &keys,
                         const std::function<void()> &act);
    void chooseFile();
    /// Asks for a place first when there is none, or \p as; \p then is called when the job is on disk.
    void save(bool as, std::function<void()> then = {});
    void saved();
    /// Calls \p then when the open job is saved, or may be lost; not at all when the artist stays with it.
    void leaveFor(std::function<void()> then);
    void openFailed(const Error &error, const QString &path, int page);
    void takeArtwork();
    void stepPlace(int by);
    void turnPage(int by);
    void showWhatThePageHas();
    void holdSample(QPointF mm);
    void replaceArtwork();
    void tellOfDropped(const std::vector<Route> &dropped, const std::vector<OverprintRule> &dropped_rules);
    void refreshState(Stage stage);
    void tellHand();                  ///< to the active stage
    [[nodiscard]] Worktop &worktop(); ///< of the active stage
    void blinkLosses();
    void dropTakenLeftover();
    void refreshTitle();
    void refreshRecent();
    void addRecent(const QString &path);
    void setUnit(LengthUnit unit);

    Prompts &m_prompts;
    ViewState m_view;
    Spotlight m_spotlight;
    Session m_session;
    Recovery m_recovery;
    std::optional<Recovery::Leftover> m_leftover; ///< opened, and not yet saved or kept anew
    InkLibrary m_library;
    Choice m_choice;
    Router m_router{m_session, m_choice, m_library};
    RulesShelf m_shelf;
    void sendChosen();
    StageStrip *m_stages = nullptr;
    std::function<void()> m_afterSaving;
    bool m_pageIsNew = false; ///< and not yet known what prints on it
    bool m_left = false;      ///< nothing holds the window open any more
    QAction *m_replace = nullptr;
    LayDown *m_layDown = nullptr;
    LightTable *m_table = nullptr;
    FilmTable *m_films = nullptr; ///< over the light table, when films are looked at
    CoreSampleBar *m_sample = nullptr;
    std::array<Worktop *, stage_count> m_tops{}; ///< in the order of the stages
    std::array<bool, stage_count> m_lookedAt{};
    ReceiveWorktop *m_receive = nullptr; ///< where findings are walked and objects listed
    QStackedWidget *m_worktops = nullptr;
    QLabel *m_title = nullptr;
    QLabel *m_subtitle = nullptr;
    QToolButton *m_fileButton = nullptr;
    QMenu *m_recent = nullptr;
    QAction *m_undo = nullptr;
    QAction *m_redo = nullptr;
    QPushButton *m_stopOpening = nullptr;
};

} // namespace bichrom
