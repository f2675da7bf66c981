#include "app/bench/bench_window.h"

#include "app/bench/core_sample_bar.h"
#include "app/bench/key_home.h"
#include "app/bench/pointing.h"
#include "app/dialogs/keys_dialog.h"
#include "app/dialogs/rename_dialog.h"
#include "app/laydown/lay_down.h"
#include "app/laydown/page_strip.h"
#include "app/lighttable/film_table.h"
#include "app/lighttable/light_table.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/build/build_worktop.h"
#include "app/worktops/fit/fit_worktop.h"
#include "app/worktops/ink/ink_worktop.h"
#include "app/worktops/receive/findings_panel.h"
#include "app/worktops/receive/objects_panel.h"
#include "app/worktops/receive/receive_worktop.h"
#include "app/worktops/release/release_worktop.h"
#include "app/worktops/screen/screen_worktop.h"

#include <QAction>
#include <QActionGroup>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QToolButton>
#include <QUndoView>
#include <QWidgetAction>

#include <algorithm>

namespace bichrom {

namespace {

constexpr int most_recent = 8;

QString unit_key(LengthUnit unit)
{
    return unit == LengthUnit::Inch    ? QStringLiteral("in")
           : unit == LengthUnit::Point ? QStringLiteral("pt")
                                       : QStringLiteral("mm");
}

} // namespace

BenchWindow::BenchWindow(Prompts &prompts, QWidget *parent)
    : QMainWindow(parent), m_prompts(prompts),
      m_recovery(m_session, QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
                                QStringLiteral("/unsaved")),
      m_library(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) +
                QStringLiteral("/inks.txt")),
      m_shelf(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + QStringLiteral("/rules"))
{
    setObjectName(QStringLiteral("bench"));
    setAcceptDrops(true);
    setMinimumSize(1000, 640);
    resize(1280, 800);
    build();
    buildActions();
    connect(&m_session, &Session::artworkChanged, this, &BenchWindow::takeArtwork);
    connect(&m_recovery, &Recovery::kept, this, &BenchWindow::dropTakenLeftover);
    connect(&m_recovery, &Recovery::failed, this, [this](const Error &error) {
        m_prompts.showError(tr("Unsaved work cannot be kept"), theme::text_of(error.message()));
    });
    connect(&m_session, &Session::pathChanged, this, [this] {
        addRecent(m_session.path());
        refreshTitle();
    });
    connect(&m_session, &Session::openFailed, this, &BenchWindow::openFailed);
    connect(&m_session, &Session::saved, this, &BenchWindow::saved);
    connect(&m_session, &Session::saveFailed, this, [this](const Error &error) {
        m_afterSaving = {};
        m_prompts.showError(tr("The job was not saved"), theme::text_of(error.message()));
    });
    connect(&m_session, &Session::artworkReplaced, this, &BenchWindow::tellOfDropped);
    connect(&m_session, &Session::loadingChanged, this, &BenchWindow::refreshTitle);
    connect(&m_session, &Session::pageChanged, this, [this] { m_pageIsNew = true; });
    connect(&m_session.facts(), &Facts::coverageChanged, this, &BenchWindow::showWhatThePageHas);
    connect(&m_session.undoStack(), &QUndoStack::indexChanged, this, &BenchWindow::refreshTitle);
    connect(&m_session.undoStack(), &QUndoStack::cleanChanged, this, &BenchWindow::refreshTitle);

    const QSettings settings;
    m_session.setUsualRules(settings.value(QStringLiteral("rules")).toString().toStdString());
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    const QString unit = settings.value(QStringLiteral("unit"), QStringLiteral("mm")).toString();
    setUnit(unit == QStringLiteral("in")   ? LengthUnit::Inch
            : unit == QStringLiteral("pt") ? LengthUnit::Point
                                           : LengthUnit::Millimetre);
    setStage(static_cast<Stage>(
        std::clamp(settings.value(QStringLiteral("window/stage"), 0).toInt(), 0, stage_count - 1)));
    refreshTitle();
    m_table->setFocus();
    new KeyHome(*this, *m_table); // belongs to the window
}

BenchWindow::~BenchWindow()
{
    m_session.disconnect(this);
    hide(); // panels that are hidden say so to what goes before them
}

QWidget *BenchWindow::buildHeader()
{
    auto *header = new QWidget(this);
    header->setObjectName(QStringLiteral("header"));
    header->setFixedHeight(52);
    header->setStyleSheet(QStringLiteral("#header { background: %1; }").arg(theme::strip.name()));
    auto *row = new QHBoxLayout(header);
    row->setContentsMargins(8, 0, 8, 0);
    row->setSpacing(8);

    m_fileButton = new QToolButton(header);
    m_fileButton->setObjectName(QStringLiteral("fileMenuButton"));
    m_fileButton->setText(tr("Job ▾"));
    m_fileButton->setAccessibleName(tr("Job menu"));
    m_fileButton->setPopupMode(QToolButton::InstantPopup);
    m_fileButton->setStyleSheet(QStringLiteral("QToolButton { border: 1px solid #a9a9a4; border-radius: 3px; "
                                               "padding: 4px 8px; background: #eeeeeb; }"
                                               "QToolButton::menu-indicator { image: none; }"));
    row->addWidget(m_fileButton);
    auto *titles = new QVBoxLayout();
    titles->setSpacing(0);
    titles->setContentsMargins(0, 8, 0, 8);
    m_title = make_label({}, 15, QFont::DemiBold, false, header);
    m_title->setObjectName(QStringLiteral("jobTitle"));
    m_subtitle = make_label({}, 11, QFont::Normal, true, header);
    m_subtitle->setObjectName(QStringLiteral("jobState"));
    m_title->setFixedWidth(166);
    m_subtitle->setFixedWidth(166);
    titles->addWidget(m_title);
    titles->addWidget(m_subtitle);
    row->addLayout(titles);
    m_stages = new StageStrip(header);
    row->addWidget(m_stages);
    row->addStretch();
    m_stopOpening = new QPushButton(tr("Stop opening"), header);
    m_stopOpening->setObjectName(QStringLiteral("stopOpening"));
    m_stopOpening->hide();
    row->addWidget(m_stopOpening);
    connect(m_stopOpening, &QPushButton::clicked, &m_session, &Session::cancelOpening);
    connect(m_stages, &StageStrip::chosen, this, &BenchWindow::setStage);
    return header;
}

void BenchWindow::build()
{
    auto *centre = new QWidget(this);
    auto *column = new QVBoxLayout(centre);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildHeader());
    auto *middle = new QHBoxLayout();
    middle->setSpacing(0);
    m_layDown = new LayDown(m_session, m_view, m_choice, m_prompts, centre);
    m_table = new LightTable(m_session, m_view, m_spotlight, centre);
    m_worktops = new QStackedWidget(centre);
    m_worktops->setFixedWidth(308);
    auto *left = new QVBoxLayout();
    left->setSpacing(0);
    left->addWidget(m_layDown, 1);
    auto *pages = new PageStrip(m_session, centre);
    pages->setFixedWidth(m_layDown->minimumWidth());
    connect(pages, &PageStrip::pageChosen, &m_session, &Session::showPage);
    left->addWidget(pages);
    middle->addLayout(left);
    middle->addWidget(m_table, 1);
    middle->addWidget(m_worktops);
    column->addLayout(middle, 1);
    m_sample = new CoreSampleBar(m_session, centre);
    column->addWidget(m_sample);
    setCentralWidget(centre);
    connect(m_table, &LightTable::pointed, m_sample, &CoreSampleBar::setPoint);
    connect(m_table, &LightTable::areaDrawn, m_sample,
            [this](const QRectF &area) { m_sample->setArea(area); });
    connect(m_table, &LightTable::handChanged, this, [this] {
        if (m_table->hand() != Hand::Area) {
            m_sample->setArea({});
        }
        tellHand();
    });
    connect(m_table, &LightTable::holdWanted, this, &BenchWindow::holdSample);
    connect(m_table, &LightTable::blinkWanted, this, &BenchWindow::blinkLosses);

    m_receive = new ReceiveWorktop(m_session, m_view, m_router, m_choice, m_spotlight, m_shelf, m_prompts,
                                   m_worktops);
    auto *release = new ReleaseWorktop(m_session, m_view, m_prompts, m_worktops);
    m_films = new FilmTable(m_session, m_table);
    connect(release, &ReleaseWorktop::filmsWanted, m_films, &FilmTable::open);
    connect(m_films, &FilmTable::closed, m_table, qOverload<>(&QWidget::setFocus));
    auto *screen = new ScreenWorktop(m_session, m_view, m_prompts, m_worktops);
    connect(screen, &ScreenWorktop::placeChosen, m_table, &LightTable::centreOn);
    auto *ink =
        new InkWorktop(m_session, m_router, m_view, m_choice, m_library, m_spotlight, m_prompts, m_worktops);
    m_tops = {m_receive,
              ink,
              new BuildWorktop(m_session, m_choice, m_spotlight, m_worktops),
              new FitWorktop(m_session, m_view, m_choice, m_spotlight, m_prompts, m_worktops),
              screen,
              release};
    for (int i = 0; i < stage_count; ++i) {
        Worktop *top = m_tops[static_cast<std::size_t>(i)];
        m_worktops->addWidget(top);
        connect(top, &Worktop::stateChanged, this, [this, i] { refreshState(static_cast<Stage>(i)); });
        connect(top, &Worktop::note, m_table, &LightTable::note);
        connect(top, &Worktop::pourChanged, this, [this] { m_table->setPourWords(worktop().pourWords()); });
        connect(top, &Worktop::pourWanted, this, [this] {
            m_table->setHand(Hand::Pour);
            m_table->setFocus();
        });
    }
    connect(m_table, &LightTable::clicked, this, [this](QPointF mm) { worktop().clicked(mm); });
    connect(m_table, &LightTable::slid, this,
            [this](QPointF mm, bool released) { worktop().slid(mm, released); });
    connect(m_table, &LightTable::areaDrawn, this,
            [this](const QRectF &area, Gesture how) { worktop().areaDrawn(area, how); });
    auto *pointing = new Pointing(m_session, m_router, m_choice, m_spotlight, m_library, *m_table, *m_layDown,
                                  [this]() -> Worktop & { return worktop(); });
    connect(pointing, &Pointing::objectChosen, m_receive, &ReceiveWorktop::chooseObject);
    connect(m_sample, &CoreSampleBar::objectsFound, pointing, &Pointing::frame);
    connect(m_layDown, &LayDown::plateDropped, pointing, &Pointing::dropPlate);
    connect(ink, &InkWorktop::inkDropped, pointing, &Pointing::dropInk);
}

QAction *BenchWindow::addShortcut(const QString &name, const QString &text, const QKeySequence &keys,
                                  const std::function<void()> &act)
{
    auto *action = new QAction(text, this);
    action->setObjectName(name);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, [act] { act(); });
    addAction(action);
    return action;
}

void BenchWindow::buildActions()
{
    auto *menu = new QMenu(m_fileButton);
    menu->setObjectName(QStringLiteral("jobMenu"));
    menu->addAction(
        addShortcut(QStringLiteral("open"), tr("Open …"), QKeySequence::Open, [this] { chooseFile(); }));
    m_replace = addShortcut(QStringLiteral("replaceArtwork"), tr("Replace the artwork …"), {},
                            [this] { replaceArtwork(); });
    menu->addAction(m_replace);
    m_recent = menu->addMenu(tr("Open recent"));
    m_recent->setObjectName(QStringLiteral("recentMenu"));
    menu->addSeparator();
    menu->addAction(
        addShortcut(QStringLiteral("save"), tr("Save job"), QKeySequence::Save, [this] { save(false); }));
    menu->addAction(addShortcut(QStringLiteral("saveAs"), tr("Save job as …"),
                                QKeySequence(tr("Ctrl+Shift+S")), [this] { save(true); }));
    menu->addSeparator();
    menu->addAction(addShortcut(QStringLiteral("renameInFiles"), tr("Rename an ink in files …"), {}, [this] {
        RenameDialog dialog(m_prompts, this);
        dialog.exec();
    }));
    menu->addSeparator();
    m_undo = m_session.undoStack().createUndoAction(this, tr("Undo"));
    m_undo->setObjectName(QStringLiteral("undo"));
    m_undo->setShortcut(QKeySequence::Undo);
    m_redo = m_session.undoStack().createRedoAction(this, tr("Redo"));
    m_redo->setObjectName(QStringLiteral("redo"));
    m_redo->setShortcuts({QKeySequence(tr("Ctrl+Shift+Z")), QKeySequence(tr("Ctrl+Y"))});
    addAction(m_undo);
    addAction(m_redo);
    menu->addAction(m_undo);
    menu->addAction(m_redo);
    menu->addSeparator();
    QMenu *units = menu->addMenu(tr("Lengths in"));
    auto *group = new QActionGroup(this);
    const std::pair<LengthUnit, QString> names[] = {{LengthUnit::Millimetre, tr("millimetres")},
                                                    {LengthUnit::Inch, tr("inches")},
                                                    {LengthUnit::Point, tr("points")}};
    for (const auto &[unit, name] : names) {
        QAction *action = units->addAction(name);
        action->setObjectName(QStringLiteral("unit ") + unit_key(unit));
        action->setCheckable(true);
        group->addAction(action);
        connect(action, &QAction::triggered, this, [this, unit = unit] { setUnit(unit); });
    }
    menu->addAction(addShortcut(QStringLiteral("fitPage"), tr("Show the whole page"),
                                QKeySequence(tr("Ctrl+0")), [this] { m_table->fitPage(); }));
    menu->addSeparator();
    menu->addAction(
        addShortcut(QStringLiteral("quit"), tr("Quit"), QKeySequence(tr("Ctrl+Q")), [this] { close(); }));
    m_fileButton->setMenu(menu);
    for (int i = 0; i < stage_count; ++i) {
        const auto stage = static_cast<Stage>(i);
        addShortcut(QStringLiteral("goto%1").arg(i), tr("Stage %1").arg(StageStrip::nameOf(stage)),
                    QKeySequence(QStringLiteral("Alt+%1").arg(i + 1)), [this, stage] { setStage(stage); });
    }
    for (auto *button : {m_undo, m_redo}) {
        auto *tool = new QToolButton(this);
        tool->setDefaultAction(button);
        tool->setObjectName(button->objectName() + QStringLiteral("Button"));
        tool->setAutoRaise(true);
        tool->setFocusPolicy(Qt::TabFocus);
        tool->setMaximumWidth(150);
        if (button == m_undo) {
            auto *history = new QMenu(tool);
            history->setObjectName(QStringLiteral("undoHistory"));
            auto *list = new QUndoView(&m_session.undoStack(), history);
            list->setEmptyLabel(tr("as it came"));
            list->setFixedSize(260, 240);
            list->setStyleSheet(theme::listStyle());
            list->setFont(theme::font(11));
            list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
            auto *entry = new QWidgetAction(history);
            entry->setDefaultWidget(list);
            history->addAction(entry);
            tool->setMenu(history);
            tool->setPopupMode(QToolButton::MenuButtonPopup);
        }
        m_fileButton->parentWidget()->layout()->addWidget(tool);
        connect(button, &QAction::changed, tool, [tool, button] {
            // The step's name stands in the tool tip; the button keeps its width.
            tool->setToolTip(button->text());
            tool->setText(button->objectName() == QStringLiteral("undo") ? tr("↶ Undo") : tr("↷ Redo"));
        });
        Q_EMIT button->changed();
    }
    addShortcut(QStringLiteral("nextPlace"), tr("Next place found"), QKeySequence(tr("N")),
                [this] { stepPlace(1); });
    addShortcut(QStringLiteral("previousPlace"), tr("Place found before"), QKeySequence(tr("Shift+N")),
                [this] { stepPlace(-1); });
    addShortcut(QStringLiteral("findObjects"), tr("Find objects, inks, words"), QKeySequence::Find, [this] {
        if (m_session.isOpen()) {
            setStage(Stage::Receive);
            m_receive->showPanel(ReceiveWorktop::Panel::Objects);
            m_receive->objects().find();
        }
    });
    addShortcut(QStringLiteral("doDeed"), tr("Do what the finding proposes"), QKeySequence(tr("D")), [this] {
        if (m_receive->findings().isVisible()) {
            m_receive->findings().doDeed();
        }
    });
    addShortcut(QStringLiteral("zoomToChosen"), tr("Zoom to what is chosen"), QKeySequence(tr("Z")), [this] {
        QRectF all;
        for (const QRectF &area : m_spotlight.areas()) {
            all |= area;
        }
        if (!all.isEmpty()) {
            m_table->bringIntoView(all);
        } else {
            m_table->note(tr("Nothing is chosen to zoom to."));
        }
    });
    addShortcut(QStringLiteral("showKeys"), tr("Keys"), QKeySequence::HelpContents,
                [this] { KeysDialog(m_stages->current(), this).exec(); });
    addShortcut(QStringLiteral("routeColour"), tr("Send the chosen colour to the chosen plate"),
                QKeySequence(tr("R")), [this] { sendChosen(); });
    refreshRecent();
}

/// A plate alone that prints nothing on the page turned to would show an empty sheet.
void BenchWindow::showWhatThePageHas()
{
    using State = Fact<Facts::Coverage>::State;
    if (!m_pageIsNew || m_session.facts().coverages().state() != State::Known) {
        return;
    }
    m_pageIsNew = false;
    const QString alone = m_view.alone();
    if (!alone.isEmpty() && m_session.facts().coverage(alone.toStdString()) == 0.0) {
        m_view.setAlone({});
        m_table->note(tr("%1 prints nothing on this page; all plates are shown again.").arg(alone));
    }
}

void BenchWindow::turnPage(int by)
{
    if (m_session.isOpen()) {
        m_session.showPage(std::clamp(m_session.wantedPage() + by, 1, m_session.artwork().page_count()));
    }
}

/// Walks what is on the light table: changed places, else findings.
void BenchWindow::stepPlace(int by)
{
    if (m_table->comparesFiles()) {
        m_table->stepChange(by);
    } else if (m_receive->objects().finds()) {
        m_receive->objects().step(by);
    } else if (m_session.isOpen()) {
        setStage(Stage::Receive);
        m_receive->showPanel(ReceiveWorktop::Panel::Findings);
        m_receive->findings().step(by);
    }
}

void BenchWindow::sendChosen()
{
    if (m_choice.plate().isEmpty()) {
        m_table->note(tr("Choose the plate first, in the lay-down."));
        return;
    }
    m_router.sendChosen();
}

void BenchWindow::blinkLosses()
{
    std::vector<QRectF> areas;
    for (const Finding &finding : m_session.facts().openLosses()) {
        for (const FindingPlace &place : finding.places) {
            areas.push_back(m_session.shownArea(place.area));
        }
    }
    if (areas.empty()) {
        using State = Fact<Facts::Followed>::State;
        const State state = m_session.facts().followed().state();
        m_table->note(
            state == State::Known ? tr("Everything on this page reaches a plate.")
            : state == State::Failed
                ? tr("What reaches no plate could not be found: %1").arg(m_session.facts().followed().fault())
                : tr("What reaches no plate is still being looked for."));
        return;
    }
    const auto count = areas.size();
    m_spotlight.blink(std::move(areas), count == 1 ? tr("1 place reaches no plate")
                                                   : tr("%1 places reach no plate").arg(count));
}

void BenchWindow::holdSample(QPointF mm)
{
    const double pixel = millimetres_per_inch / sample_resolution.value;
    const double side = m_sample->side() > 1 ? m_sample->side() * pixel : 0;
    const Rect place = m_session.mediaArea({mm.x() - side / 2, mm.y() - side / 2, side, side});
    Job job = m_session.job();
    job.pins.push_back({place.x, place.y, place.width, place.height, job.page});
    m_session.change(job, tr("Hold sample %1").arg(job.pins.size()));
    m_receive->showPanel(ReceiveWorktop::Panel::Contents); // where it is listed
}

void BenchWindow::refreshState(Stage stage)
{
    const auto number = static_cast<std::size_t>(stage);
    m_stages->setState(stage, m_session.isOpen() ? m_tops[number]->state(m_lookedAt[number])
                                                 : StageState::NotLookedAt);
}

Worktop &BenchWindow::worktop()
{
    return *m_tops[static_cast<std::size_t>(m_stages->current())];
}

void BenchWindow::setUnit(LengthUnit unit)
{
    m_table->setUnit(unit);
    m_sample->setUnit(unit);
    for (Worktop *top : m_tops) {
        top->setUnit(unit);
    }
    if (auto *action = findChild<QAction *>(QStringLiteral("unit ") + unit_key(unit))) {
        action->setChecked(true);
    }
    QSettings().setValue(QStringLiteral("unit"), unit_key(unit));
}

void BenchWindow::tellHand()
{
    worktop().setHand(m_table->hand() == Hand::Pour, m_table->hand() == Hand::Area);
    m_table->setPourWords(worktop().pourWords());
}

void BenchWindow::setStage(Stage stage)
{
    worktop().setHand(false, false); // of the stage that is left
    worktop().setActive(false);
    m_films->closeTable(); // the artwork is worked on elsewhere
    m_stages->setCurrent(stage);
    m_worktops->setCurrentIndex(static_cast<int>(stage));
    worktop().setActive(true);
    tellHand();
    if (m_session.isOpen()) {
        m_lookedAt[static_cast<std::size_t>(stage)] = true;
    }
    refreshState(stage);
}

void BenchWindow::chooseFile()
{
    const QString folder = QSettings().value(QStringLiteral("folder")).toString();
    const QString path = m_prompts.askOpenFile(FileUse::ArtworkOrJob, folder);
    if (!path.isEmpty()) {
        openPath(path);
    }
}

void BenchWindow::replaceArtwork()
{
    const QString folder = QSettings().value(QStringLiteral("folder")).toString();
    const QString path = m_session.isOpen() ? m_prompts.askOpenFile(FileUse::Artwork, folder) : QString();
    if (!path.isEmpty()) {
        m_session.replaceArtwork(path);
    }
}

void BenchWindow::tellOfDropped(const std::vector<Route> &dropped,
                                const std::vector<OverprintRule> &dropped_rules)
{
    m_view.setLook(Look::Change); // what is different in the new file
    if (dropped.empty() && dropped_rules.empty()) {
        m_table->note(tr("Every route still holds in the new file."));
        return;
    }
    QString text =
        tr("These decisions match nothing in the new file and are gone; Undo brings the old file back:");
    const auto add = [&](const Route &source, const QString &end) {
        text += QLatin1Char('\n') + tr("%1 %2").arg(theme::text_of(describe_source(source)), end);
    };
    for (const Route &route : dropped) {
        add(route, theme::text_of(describe_end(route)));
    }
    for (const OverprintRule &rule : dropped_rules) {
        add(rule.source, rule.wish == OverprintWish::Overprint ? tr("overprints") : tr("knocks out"));
    }
    m_prompts.showError(tr("Artwork replaced"), text);
}

void BenchWindow::openPath(const QString &path, int page)
{
    leaveFor([this, path, page] {
        m_leftover.reset(); // what a crash left is not what is worked on any more: it is offered again
        m_session.open(path, page);
    });
}

bool BenchWindow::offerLeftovers()
{
    for (const Recovery::Leftover &leftover : m_recovery.leftovers()) {
        const QString name =
            QFileInfo(leftover.origin.isEmpty() ? leftover.file : leftover.origin).fileName();
        switch (m_prompts.askLeftover(name, QLocale().toString(leftover.time, QLocale::ShortFormat))) {
        case LeftoverChoice::Open:
            m_leftover = leftover;
            m_session.open(leftover.file, 0, {}, leftover.origin.isEmpty() ? leftover.file : leftover.origin);
            return true; // one at a time; the others wait for the next start
        case LeftoverChoice::Drop:
            Recovery::drop(leftover);
            break;
        case LeftoverChoice::Later:
            break;
        }
    }
    return false;
}

void BenchWindow::leaveFor(std::function<void()> then)
{
    if (m_session.isSaving()) {
        m_afterSaving = std::move(then);
        return;
    }
    if (!m_session.isOpen() || !m_session.isModified()) {
        then();
        return;
    }
    switch (m_prompts.askUnsaved(m_title->text())) {
    case UnsavedChoice::Save:
        save(false, std::move(then));
        break;
    case UnsavedChoice::Discard:
        then();
        break;
    case UnsavedChoice::Stay:
        break;
    }
}

/// What was opened after a crash is saved now, or kept again under this program's own name.
void BenchWindow::dropTakenLeftover()
{
    if (m_leftover) {
        Recovery::drop(*std::exchange(m_leftover, std::nullopt));
    }
}

void BenchWindow::save(bool as, std::function<void()> then)
{
    if (!m_session.isOpen() || m_session.isSaving()) {
        return;
    }
    QString path = m_session.path();
    if (as || !is_job_file(path.toStdString())) {
        const QFileInfo file(path);
        path = m_prompts.askSaveFile(FileUse::Job, file.absolutePath() + QLatin1Char('/') +
                                                       file.completeBaseName() + QStringLiteral(".bichrom"));
        if (path.isEmpty()) {
            return;
        }
    }
    m_afterSaving = std::move(then);
    m_session.save(path);
}

void BenchWindow::saved()
{
    dropTakenLeftover();
    if (const auto then = std::exchange(m_afterSaving, {})) {
        leaveFor(then); // asks again about what was changed while the job was written
    }
}

void BenchWindow::openFailed(const Error &error, const QString &path, int page)
{
    if (error.code == ErrorCode::PasswordNeeded) {
        const auto password = m_prompts.askPassword(path, theme::text_of(error.reason));
        if (password) {
            m_session.open(path, page, *password,
                           m_leftover && m_leftover->file == path ? m_leftover->origin : QString());
        }
        return;
    }
    if (error.code == ErrorCode::TakesLong) {
        constexpr int much_patience = 20;
        if (m_prompts.askPatience(QFileInfo(path).fileName(), theme::text_of(error.reason))) {
            m_session.open(path, page, {},
                           m_leftover && m_leftover->file == path ? m_leftover->origin : QString(),
                           much_patience);
        }
        return;
    }
    m_prompts.showError(tr("The file was not opened"), theme::text_of(error.message()));
}

void BenchWindow::takeArtwork()
{
    m_view.reset();
    m_spotlight.clear();
    m_lookedAt = {};
    for (int i = 0; i < stage_count; ++i) {
        refreshState(static_cast<Stage>(i));
    }
    setStage(m_stages->current());
    refreshTitle();
}

void BenchWindow::refreshTitle()
{
    m_stopOpening->setVisible(m_session.isLoading());
    if (!m_session.isOpen()) {
        m_title->setText(tr("Bichrom"));
        m_subtitle->setText(m_session.isLoading() ? tr("opening …") : tr("no job open"));
        setWindowTitle(tr("Bichrom"));
        return;
    }
    const QString name = theme::text_of(m_session.job().name);
    m_title->setText(m_title->fontMetrics().elidedText(name, Qt::ElideMiddle, 160));
    m_title->setToolTip(m_session.path());
    const QUndoStack &undo = m_session.undoStack();
    QString state = is_job_file(m_session.path().toStdString()) ? tr("saved") : tr("not saved as a job yet");
    if (m_session.isModified()) {
        const int steps = undo.cleanIndex() < 0 ? undo.count() : std::abs(undo.index() - undo.cleanIndex());
        state = steps == 0   ? tr("not saved") // taken up again after a crash
                : steps == 1 ? tr("1 step not saved")
                             : tr("%1 steps not saved").arg(steps);
    }
    m_subtitle->setText(m_session.isSaving()    ? tr("saving …")
                        : m_session.isLoading() ? tr("opening …")
                                                : state);
    setWindowTitle(QStringLiteral("%1%2 – Bichrom")
                       .arg(name, m_session.isModified() ? QStringLiteral(" *") : QString()));
}

void BenchWindow::addRecent(const QString &path)
{
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    const QFileInfo file(path);
    recent.removeAll(file.absoluteFilePath());
    recent.prepend(file.absoluteFilePath());
    settings.setValue(QStringLiteral("recent"), QStringList(recent.mid(0, most_recent)));
    settings.setValue(QStringLiteral("folder"), file.absolutePath());
    refreshRecent();
}

void BenchWindow::refreshRecent()
{
    m_recent->clear();
    const QStringList recent = QSettings().value(QStringLiteral("recent")).toStringList();
    for (const QString &path : recent) {
        QAction *action = m_recent->addAction(QFileInfo(path).fileName());
        action->setToolTip(path);
        connect(action, &QAction::triggered, this, [this, path] { openPath(path); });
    }
    m_recent->setToolTipsVisible(true);
    m_recent->setEnabled(!recent.isEmpty());
}

void BenchWindow::closeEvent(QCloseEvent *event)
{
    if (!m_left) {
        const auto asking = std::make_shared<bool>(true);
        leaveFor([this, asking] {
            m_left = true;
            if (!*asking) {
                close(); // the job was still being written
            }
        });
        *asking = false;
    }
    if (!m_left) {
        event->ignore();
        return;
    }
    QSettings settings;
    settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
    settings.setValue(QStringLiteral("window/stage"), static_cast<int>(m_stages->current()));
    event->accept();
}

// The light table's keys work wherever the focus is and nobody else wants them.
void BenchWindow::keyPressEvent(QKeyEvent *event)
{
    const bool plain = (event->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == Qt::NoModifier;
    if (plain && (event->key() == Qt::Key_PageDown || event->key() == Qt::Key_PageUp)) {
        turnPage(event->key() == Qt::Key_PageDown ? 1 : -1);
        return;
    }
    if (plain && !m_table->hasFocus() && LightTable::takesKey(event->key())) {
        QCoreApplication::sendEvent(m_table, event);
        return;
    }
    QMainWindow::keyPressEvent(event);
}

void BenchWindow::keyReleaseEvent(QKeyEvent *event)
{
    if (!m_table->hasFocus() && event->key() == Qt::Key_O) { // the only one whose end means something
        QCoreApplication::sendEvent(m_table, event);
        return;
    }
    QMainWindow::keyReleaseEvent(event);
}

void BenchWindow::dragEnterEvent(QDragEnterEvent *event)
{
    if (event->mimeData()->hasUrls() && event->mimeData()->urls().front().isLocalFile()) {
        event->acceptProposedAction();
    }
}

void BenchWindow::dropEvent(QDropEvent *event)
{
    const QList<QUrl> urls = event->mimeData()->urls();
    if (!urls.isEmpty()) {
        openPath(urls.front().toLocalFile());
    }
}

} // namespace bichrom
