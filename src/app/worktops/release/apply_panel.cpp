#include "app/worktops/release/apply_panel.h"

#include "app/services/picture.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/release/folder_row.h"
#include "app/worktops/release/work_strip.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QDir>
#include <QFileInfo>
#include <QHeaderView>
#include <QPushButton>
#include <QTreeWidget>

#include <memory>
#include <set>

namespace bichrom {

namespace {

constexpr int thumbnail_side = 56;
enum Role
{
    path_role = Qt::UserRole,
    done_role ///< it was worked off
};

} // namespace

ApplyPanel::ApplyPanel(Session &session, Prompts &prompts, QWidget *parent)
    : QWidget(parent), m_session(session), m_prompts(prompts)
{
    setObjectName(QStringLiteral("applyPanel"));
    QVBoxLayout *column = make_scrolling_column(this);
    column->setContentsMargins(16, 4, 16, 12);
    QWidget *content = column->parentWidget();
    m_empty = make_label(tr("Open a job to lay it on other files."), 12, QFont::Normal, true, content);
    m_empty->setWordWrap(true);
    column->addWidget(m_empty);
    m_body = new QWidget(content);
    column->addWidget(m_body, 1);
    auto *body = new QVBoxLayout(m_body);
    body->setContentsMargins(0, 0, 0, 0);
    QLabel *words =
        make_label(tr("This job's routes, recipes, plates, stock and screens on other artwork. What "
                      "does not fit is told beside each file."),
                   12, QFont::Normal, true, m_body);
    words->setWordWrap(true);
    body->addWidget(words);
    m_files = new QTreeWidget(m_body);
    m_files->setObjectName(QStringLiteral("applyFiles"));
    m_files->setAccessibleName(tr("Files, and what became of them"));
    m_files->setHeaderHidden(true);
    m_files->setColumnCount(1);
    m_files->setRootIsDecorated(false);
    m_files->setIndentation(14);
    m_files->setWordWrap(true);
    m_files->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_files->setStyleSheet(theme::listStyle());
    m_files->setFont(theme::font(12));
    m_files->setIconSize(QSize(thumbnail_side, thumbnail_side));
    m_files->setMinimumHeight(220);
    body->addWidget(m_files, 1);
    auto *file_row = new QHBoxLayout();
    m_add = make_small_button("applyAdd", tr("Add files …"), {}, m_body);
    m_remove = make_small_button("applyRemove", tr("Remove"), tr("From this list"), m_body);
    file_row->addWidget(m_add);
    file_row->addWidget(m_remove);
    file_row->addStretch();
    body->addLayout(file_row);
    m_watch = new QCheckBox(tr("Watch a folder …"), m_body);
    m_watch->setObjectName(QStringLiteral("applyWatch"));
    m_watch->setToolTip(tr("Files that come into it are added and worked off"));
    body->addWidget(m_watch);
    m_do = new QComboBox(m_body);
    m_do->setObjectName(QStringLiteral("applyDo"));
    m_do->setAccessibleName(tr("What is made of each"));
    m_do->addItems(
        {tr("Films"), tr("8-bit plates at 300 dpi"), tr("Plates as PDF/X-4"), tr("Jobs, to be looked at")});
    body->addWidget(m_do);
    body->addWidget(make_label(tr("Into the folder"), 12, QFont::Normal, true, m_body));
    m_folder = new FolderRow("applyFolder", "chooseApplyFolder", tr("Folder"), prompts, m_body);
    body->addWidget(m_folder);
    m_run = new QPushButton(tr("Work them off"), m_body);
    m_run->setObjectName(QStringLiteral("applyRun"));
    m_run->setProperty("main", true);
    body->addWidget(m_run);
    m_work = new WorkStrip("stopApply", "applyProgress", "applyResult", m_body);
    body->addWidget(m_work);

    connect(m_add, &QPushButton::clicked, this, [this] {
        addFiles(m_prompts.askOpenFiles(FileUse::Artwork, QFileInfo(m_session.path()).absolutePath()));
    });
    connect(m_remove, &QPushButton::clicked, this, [this] {
        qDeleteAll(m_files->selectedItems());
        refresh();
    });
    connect(m_watch, &QCheckBox::clicked, this, &ApplyPanel::chooseWatched);
    connect(m_run, &QPushButton::clicked, this, &ApplyPanel::run);
    connect(m_work, &WorkStrip::busyChanged, this, &ApplyPanel::setBusy);
    connect(&m_session, &Session::jobChanged, this, &ApplyPanel::refresh);
    connect(&m_session, &Session::pageChanged, this, &ApplyPanel::refresh);
    connect(&m_session, &Session::pathChanged, this, [this] {
        m_folder->forget();
        refresh();
    });
    m_looking.setInterval(1500);
    connect(&m_looking, &QTimer::timeout, this, &ApplyPanel::lookIntoFolder);
    refresh();
}

void ApplyPanel::refresh()
{
    const bool open = m_session.isOpen();
    m_empty->setVisible(!open);
    m_body->setVisible(open);
    if (!open) {
        return;
    }
    const QFileInfo file(m_session.path());
    m_folder->offer(file.absolutePath() + QLatin1Char('/') +
                    tr("%1 on other files").arg(file.completeBaseName()));
    m_run->setEnabled(!m_work->isBusy() && m_files->topLevelItemCount() > 0);
}

void ApplyPanel::addFiles(const QStringList &paths)
{
    std::set<QString> known;
    for (int i = 0; i < m_files->topLevelItemCount(); ++i) {
        known.insert(m_files->topLevelItem(i)->data(0, path_role).toString());
    }
    for (const QString &path : paths) {
        const QString full = QFileInfo(path).absoluteFilePath();
        if (known.insert(full).second) {
            auto *item = new QTreeWidgetItem(m_files, {QFileInfo(full).fileName()});
            item->setData(0, path_role, full);
            item->setToolTip(0, full);
        }
    }
    refresh();
}

void ApplyPanel::chooseWatched(bool on)
{
    m_watched = on ? m_prompts.askFolder(QFileInfo(m_session.path()).absolutePath()) : QString();
    m_watch->setChecked(!m_watched.isEmpty());
    m_watch->setText(m_watched.isEmpty() ? tr("Watch a folder …") : tr("Watches %1").arg(m_watched));
    m_watched.isEmpty() ? m_looking.stop() : m_looking.start();
}

/// Takes files that have not been written to for two seconds.
void ApplyPanel::lookIntoFolder()
{
    if (m_work->isBusy() || !m_session.isOpen()) {
        return;
    }
    QStringList fresh;
    const QDateTime settled = QDateTime::currentDateTime().addSecs(-2);
    for (const QFileInfo &file : QDir(m_watched).entryInfoList(QDir::Files, QDir::Name)) {
        if (file.lastModified() < settled && file.size() > 0 && file.suffix() != QLatin1String("bichrom")) {
            fresh << file.absoluteFilePath();
        }
    }
    const int before = m_files->topLevelItemCount();
    addFiles(fresh);
    if (m_files->topLevelItemCount() > before) {
        run();
    }
}

void ApplyPanel::run()
{
    const QString folder = m_folder->folder();
    if (folder.isEmpty()) {
        m_work->say(tr("Choose a folder first."), true);
        return;
    }
    if (!m_watched.isEmpty()) {
        if (const Done good = may_be_watched(m_watched.toStdString(), folder.toStdString()); !good) {
            m_work->say(theme::text_of(good.error().message()), true);
            return;
        }
    }
    std::vector<std::filesystem::path> files, all_files;
    std::vector<std::size_t> numbers; // of the list's rows
    for (int i = 0; i < m_files->topLevelItemCount(); ++i) {
        QTreeWidgetItem *item = m_files->topLevelItem(i);
        all_files.emplace_back(item->data(0, path_role).toString().toStdString());
        if (!item->data(0, done_role).toBool() || m_watched.isEmpty()) {
            files.push_back(all_files.back());
            numbers.push_back(static_cast<std::size_t>(i));
            qDeleteAll(item->takeChildren());
        }
    }
    if (files.empty()) {
        return;
    }
    const auto what = static_cast<ApplyDo>(m_do->currentIndex());
    const std::string date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    using All = Outcome<std::pair<int, int>>; // good, failed
    m_work->run(
        [this, opened = m_session.opened(), files, numbers, what, folder = folder.toStdString(), date,
         names = apply_names(all_files)](const JobControl &control) -> All {
            const auto pattern = JobPattern::make(opened, control);
            if (!pattern) {
                return pattern.error();
            }
            int good = 0;
            for (std::size_t i = 0; i < files.size(); ++i) {
                if (control.cancelled()) {
                    return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
                }
                const auto applied = std::make_shared<Applied>(apply_job(
                    *pattern, files[i], what, {folder, names[numbers[i]], date, {}, thumbnail_side * 2},
                    control.with_report({})));
                good += applied->written ? 1 : 0;
                QMetaObject::invokeMethod(
                    this, [this, number = numbers[i], applied] { tell(number, *applied); },
                    Qt::QueuedConnection);
                control.progress(static_cast<std::int64_t>(i) + 1, static_cast<std::int64_t>(files.size()));
            }
            return std::pair(good, static_cast<int>(files.size()) - good);
        },
        [this, folder](const All &all) {
            if (!all) {
                m_work->say(all.error().code == ErrorCode::Cancelled
                                ? tr("Stopped. What is told as written stays; the job is as it was.")
                                : theme::text_of(all.error().message()),
                            true);
            } else {
                m_work->say(all->second == 0 ? tr("%1 files worked off into %2").arg(all->first).arg(folder)
                                             : tr("%1 files worked off into %2; %3 failed, see the list")
                                                   .arg(all->first)
                                                   .arg(folder)
                                                   .arg(all->second),
                            all->second > 0);
            }
        });
}

void ApplyPanel::tell(std::size_t number, const Applied &applied)
{
    QTreeWidgetItem *item = m_files->topLevelItem(static_cast<int>(number));
    if (item == nullptr) {
        return;
    }
    item->setData(0, done_role, true);
    qDeleteAll(item->takeChildren());
    if (const QImage picture = picture_of(applied.thumbnail); !picture.isNull()) {
        item->setIcon(0, QIcon(QPixmap::fromImage(picture)));
    }
    const QString name = QFileInfo(item->data(0, path_role).toString()).fileName();
    const bool good = applied.written.ok();
    item->setText(0, !good                        ? tr("%1\nfailed").arg(name)
                     : applied.exceptions.empty() ? tr("%1\nas the job").arg(name)
                                                  : tr("%1\nwritten, with exceptions").arg(name));
    QFont font = theme::font(12, good && applied.exceptions.empty() ? QFont::Normal : QFont::DemiBold);
    item->setFont(0, font);
    QStringList lines;
    if (!good) {
        lines << theme::text_of(applied.written.error().message());
    }
    for (const std::string &words : applied.exceptions.words()) {
        lines << theme::text_of(words);
    }
    for (const QString &line : lines) {
        auto *child = new QTreeWidgetItem(item, {line});
        child->setFlags(Qt::ItemIsEnabled);
        child->setToolTip(0, line);
    }
    item->setExpanded(true);
}

void ApplyPanel::setBusy(bool busy)
{
    for (QWidget *widget : std::initializer_list<QWidget *>{m_add, m_remove, m_do, m_folder}) {
        widget->setEnabled(!busy);
    }
    m_run->setEnabled(!busy && m_files->topLevelItemCount() > 0);
}

} // namespace bichrom
