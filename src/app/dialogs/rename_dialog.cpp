#include "app/dialogs/rename_dialog.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QTreeWidget>

namespace bichrom {

namespace {

constexpr int typing_rests = 250; // ms

} // namespace

RenameDialog::RenameDialog(Prompts &prompts, QWidget *parent) : QDialog(parent), m_prompts(prompts)
{
    setObjectName(QStringLiteral("renameDialog"));
    setWindowTitle(tr("Rename an ink in files"));
    resize(760, 520);
    auto *column = new QVBoxLayout(this);
    column->setSpacing(8);
    QLabel *about =
        make_label(tr("Every PDF is copied into the folder with the new name in it; the files themselves "
                      "stay as they are. Files without such an ink are copied as they are."),
                   12, QFont::Normal, true, this);
    about->setWordWrap(true);
    column->addWidget(about);
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(8);
    grid->setColumnStretch(1, 1);
    grid->setColumnStretch(3, 1);
    const auto field = [&](const char *object, const QString &words, int row, int at) {
        auto *made = new QLineEdit(this);
        made->setObjectName(QLatin1String(object));
        made->setAccessibleName(words);
        grid->addWidget(make_label(words, 12, QFont::Normal, true, this), row, at);
        grid->addWidget(made, row, at + 1);
        connect(made, &QLineEdit::textChanged, this, [this] {
            refresh();
            m_resting.start();
        });
        return made;
    };
    m_from = field("renameFrom", tr("Name now"), 0, 0);
    m_to = field("renameTo", tr("New name"), 0, 2);
    m_match = new QComboBox(this);
    m_match->setObjectName(QStringLiteral("renameMatch"));
    m_match->setAccessibleName(tr("How names are compared"));
    m_match->addItems({tr("exactly this name"), tr("upper and lower case alike"),
                       tr("an expression; $1 is its first group"),
                       tr("an expression, upper and lower case alike")});
    grid->addWidget(make_label(tr("Compared"), 12, QFont::Normal, true, this), 1, 0);
    grid->addWidget(m_match, 1, 1);
    column->addLayout(grid);
    m_list = new QTreeWidget(this);
    m_list->setObjectName(QStringLiteral("renameFiles"));
    m_list->setAccessibleName(tr("Files and what would be renamed"));
    m_list->setStyleSheet(theme::listStyle());
    m_list->setRootIsDecorated(false);
    m_list->setHeaderLabels({tr("File"), tr("What is renamed")});
    m_list->header()->setSectionResizeMode(0, QHeaderView::Interactive);
    m_list->header()->resizeSection(0, 280);
    m_list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_list->setTextElideMode(Qt::ElideMiddle);
    column->addWidget(m_list, 1);
    auto *files = new QHBoxLayout();
    m_add = make_small_button("renameAdd", tr("Add files …"), tr("PDFs in which the ink is renamed"), this);
    m_remove = make_small_button("renameRemove", tr("Take off the list"),
                                 tr("The chosen files are left alone"), this);
    m_words = make_label({}, 12, QFont::DemiBold, false, this);
    m_words->setObjectName(QStringLiteral("renameWords"));
    files->addWidget(m_add);
    files->addWidget(m_remove);
    files->addStretch();
    files->addWidget(m_words);
    column->addLayout(files);
    auto *foot = new QHBoxLayout();
    m_folder = new QLineEdit(this);
    m_folder->setObjectName(QStringLiteral("renameFolder"));
    m_folder->setAccessibleName(tr("Folder for the copies"));
    m_folder->setPlaceholderText(tr("folder for the copies"));
    m_choose = make_small_button("renameChoose", tr("Choose …"), tr("Choose the folder"), this);
    m_write = new QPushButton(tr("Write copies"), this);
    m_write->setObjectName(QStringLiteral("renameWrite"));
    m_write->setProperty("main", true);
    auto *close = new QPushButton(tr("Close"), this);
    close->setObjectName(QStringLiteral("renameClose"));
    foot->addWidget(m_folder, 1);
    foot->addWidget(m_choose);
    foot->addWidget(m_write);
    foot->addWidget(close);
    column->addLayout(foot);
    m_progress = new QProgressBar(this);
    m_progress->setTextVisible(false);
    m_progress->hide();
    column->addWidget(m_progress);

    connect(m_match, &QComboBox::activated, this, &RenameDialog::tryOut);
    connect(m_add, &QPushButton::clicked, this,
            [this] { addFiles(m_prompts.askOpenFiles(FileUse::Artwork, QString())); });
    connect(m_remove, &QPushButton::clicked, this, [this] {
        for (const QTreeWidgetItem *item : m_list->selectedItems()) {
            m_files.removeAll(item->data(0, Qt::UserRole).toString());
        }
        tryOut();
    });
    connect(m_choose, &QPushButton::clicked, this, [this] {
        if (const QString folder = m_prompts.askFolder(m_folder->text()); !folder.isEmpty()) {
            m_folder->setText(folder);
        }
    });
    connect(m_folder, &QLineEdit::textChanged, this, &RenameDialog::refresh);
    connect(m_write, &QPushButton::clicked, this, &RenameDialog::write);
    connect(close, &QPushButton::clicked, this, [this] {
        m_running.cancel();
        accept();
    });
    m_resting.setSingleShot(true);
    m_resting.setInterval(typing_rests);
    connect(&m_resting, &QTimer::timeout, this, &RenameDialog::tryOut);
    tryOut();
}

void RenameDialog::addFiles(const QStringList &paths)
{
    for (const QString &path : paths) {
        if (!m_files.contains(path)) {
            m_files << path;
        }
    }
    tryOut();
}

InkRename RenameDialog::rename() const
{
    InkRename made;
    made.from = m_from->text().toStdString();
    made.to = m_to->text().toStdString();
    made.match = static_cast<NameMatch>(m_match->currentIndex());
    return made;
}

void RenameDialog::refresh()
{
    const bool named = !m_from->text().isEmpty() && !m_to->text().isEmpty();
    m_remove->setEnabled(!m_files.isEmpty() && !m_writing);
    m_add->setEnabled(!m_writing);
    m_write->setEnabled(named && !m_files.isEmpty() && !m_folder->text().isEmpty() && !m_writing);
    m_progress->setVisible(m_writing);
}

/// What would be renamed, by file; nothing is written.
void RenameDialog::tryOut()
{
    if (m_writing) {
        return;
    }
    m_list->clear();
    for (const QString &path : m_files) {
        auto *item = new QTreeWidgetItem(m_list, {QFileInfo(path).fileName(), QString()});
        item->setData(0, Qt::UserRole, path);
        item->setToolTip(0, path);
    }
    if (m_files.isEmpty()) {
        m_words->setText(tr("Add the files first."));
    } else if (m_from->text().isEmpty() || m_to->text().isEmpty()) {
        m_words->setText(tr("Type the name now and the new one."));
    } else {
        m_words->setText(tr("Looking …"));
        start({});
    }
    refresh();
}

void RenameDialog::write()
{
    m_writing = true;
    refresh();
    m_words->setText(tr("Writing …"));
    start(m_folder->text().toStdString());
}

void RenameDialog::start(const std::filesystem::path &folder)
{
    m_running.cancel();
    std::vector<std::filesystem::path> files;
    for (const QString &path : m_files) {
        files.emplace_back(path.toStdString());
    }
    m_running = m_tasks.start(
        [files, rename = rename(), folder](const JobControl &control) {
            return rename_in_files(files, rename, folder, {}, control);
        },
        [this, ticket = ++m_ticket,
         written = !folder.empty()](const Outcome<std::vector<RenamedFile>> &made) {
            if (ticket == m_ticket) {
                show(made, written);
            }
        },
        [this](qint64 done, qint64 total) {
            m_progress->setMaximum(static_cast<int>(total));
            m_progress->setValue(static_cast<int>(done));
        });
}

void RenameDialog::show(const Outcome<std::vector<RenamedFile>> &made, bool written)
{
    m_writing = false;
    refresh();
    if (!made) {
        m_words->setText(theme::text_of(made.error().message()));
        return;
    }
    for (std::size_t i = 0; i < made->size() && static_cast<int>(i) < m_list->topLevelItemCount(); ++i) {
        const RenamedFile &one = (*made)[i];
        QTreeWidgetItem *item = m_list->topLevelItem(static_cast<int>(i));
        QStringList words;
        for (const RenamedInk &ink : one.inks) {
            words << tr("%1 → %2, in %3")
                         .arg(theme::text_of(ink.from), theme::text_of(ink.to),
                              ink.spaces == 1 ? tr("one colour space")
                                              : tr("%1 colour spaces").arg(ink.spaces));
        }
        item->setText(1, one.fault          ? tr("Cannot: %1").arg(theme::text_of(one.fault->reason))
                         : one.inks.empty() ? tr("no ink of that name")
                                            : words.join(QStringLiteral("; ")));
        item->setToolTip(1, one.fault ? theme::text_of(one.fault->message()) : item->text(1));
        item->setFont(1, theme::font(12, one.inks.empty() ? QFont::Normal : QFont::DemiBold));
    }
    const RenameSummary sum = sum_up(*made);
    m_words->setText((written ? tr("Written: %1 changed, %2 without such an ink, %3 failed")
                              : tr("%1 would change, %2 without such an ink, %3 cannot"))
                         .arg(sum.changed)
                         .arg(sum.without)
                         .arg(sum.failed));
}

} // namespace bichrom
