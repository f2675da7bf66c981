#include "app/dialogs/separation_dialog.h"

#include "app/services/picture.h"
#include "app/widgets/controls.h"
#include "app/widgets/swatch.h"
#include "app/widgets/theme.h"
#include "core/report/page_pictures.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int thumbnail_side = 150;

QString count_words(std::size_t inks)
{
    return inks == 1 ? SeparationDialog::tr("1 ink") : SeparationDialog::tr("%1 inks").arg(inks);
}

/// In the middle of a square, so that all have one size.
QIcon thumbnail_of(const QImage &picture)
{
    QPixmap square(thumbnail_side, thumbnail_side);
    square.fill(theme::field);
    const QImage small = picture.scaled(square.size(), Qt::KeepAspectRatio, Qt::SmoothTransformation);
    QPainter painter(&square);
    painter.drawImage((thumbnail_side - small.width()) / 2, (thumbnail_side - small.height()) / 2, small);
    QIcon icon(square);
    icon.addPixmap(square, QIcon::Selected); // its colours stay when it is chosen
    return icon;
}

} // namespace

InkCountPlot::InkCountPlot(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("inkCountPlot"));
    setAccessibleName(tr("Expected difference by number of inks"));
    setMinimumHeight(150);
}

void InkCountPlot::show(std::vector<InkSet> sets, int chosen_set)
{
    m_sets = std::move(sets);
    m_chosen = chosen_set;
    m_top = 1;
    for (const InkSet &set : m_sets) {
        m_top = std::max(m_top, set.mean_difference);
    }
    update();
}

QPointF InkCountPlot::place(std::size_t set) const
{
    const QRectF field(40, 34, width() - 74, height() - 62);
    const double step = m_sets.size() > 1 ? field.width() / static_cast<double>(m_sets.size() - 1) : 0;
    return {field.left() + step * static_cast<double>(set),
            field.bottom() - field.height() * m_sets[set].mean_difference / m_top};
}

void InkCountPlot::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::field);
    painter.setFont(theme::font(11));
    painter.setPen(theme::quiet);
    if (m_sets.empty()) {
        painter.drawText(rect(), Qt::AlignCenter, tr("No inks have been looked for yet."));
        return;
    }
    painter.drawText(QRectF(6, 2, width() - 12, 14), Qt::AlignLeft, tr("mean ΔE that is expected"));
    painter.setPen(QPen(theme::line, 1.5));
    for (std::size_t i = 1; i < m_sets.size(); ++i) {
        painter.drawLine(place(i - 1), place(i));
    }
    for (std::size_t i = 0; i < m_sets.size(); ++i) {
        const QPointF at = place(i);
        const bool is_chosen = static_cast<int>(i) == m_chosen;
        painter.setPen(QPen(is_chosen ? theme::amber : theme::text, is_chosen ? 3 : 1.2));
        painter.setBrush(theme::field);
        painter.drawEllipse(at, 5, 5);
        painter.setPen(theme::text);
        painter.drawText(QRectF(at.x() - 25, at.y() - 21, 50, 14), Qt::AlignCenter,
                         theme::text_of(format_number(m_sets[i].mean_difference, 1)));
        painter.setPen(theme::quiet);
        painter.drawText(QRectF(at.x() - 25, height() - 22, 50, 16), Qt::AlignCenter,
                         count_words(m_sets[i].inks.size()));
    }
}

void InkCountPlot::mousePressEvent(QMouseEvent *event)
{
    int nearest = -1;
    double least = 60;
    for (std::size_t i = 0; i < m_sets.size(); ++i) {
        if (const double away = std::fabs(place(i).x() - event->position().x()); away < least) {
            least = away;
            nearest = static_cast<int>(i);
        }
    }
    if (nearest >= 0) {
        Q_EMIT chosen(nearest);
    }
}

SeparationDialog::SeparationDialog(Session &session, InkBook book, QWidget *parent)
    : QDialog(parent), m_session(session), m_book(std::move(book))
{
    setObjectName(QStringLiteral("separationDialog"));
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Inks for painted artwork"));
    resize(900, 600);
    auto *row = new QHBoxLayout(this);
    auto *left = new QVBoxLayout();
    m_plot = new InkCountPlot(this);
    left->addWidget(m_plot);
    m_thumbnails = new QListWidget(this);
    m_thumbnails->setObjectName(QStringLiteral("inkCountPictures"));
    m_thumbnails->setAccessibleName(tr("The print by number of inks"));
    m_thumbnails->setViewMode(QListView::IconMode);
    m_thumbnails->setMovement(QListView::Static);
    m_thumbnails->setResizeMode(QListView::Adjust);
    m_thumbnails->setIconSize(QSize(thumbnail_side, thumbnail_side));
    m_thumbnails->setSpacing(6);
    m_thumbnails->setFont(theme::font(11));
    left->addWidget(m_thumbnails, 1);
    row->addLayout(left, 1);
    auto *right = new QVBoxLayout();
    QLabel *stock = make_label(tr("On %1").arg(theme::text_of(session.job().stock_here().name)), 13,
                               QFont::DemiBold, false, this);
    right->addWidget(stock);
    auto *most_row = new QHBoxLayout();
    m_most = new QComboBox(this);
    m_most->setObjectName(QStringLiteral("mostInks"));
    m_most->setAccessibleName(tr("Inks at most"));
    for (std::size_t count = 2; count <= ColourTable::most_inks; ++count) {
        m_most->addItem(tr("up to %1 inks").arg(count), static_cast<int>(count));
    }
    m_most->setCurrentIndex(4);
    most_row->addWidget(m_most, 1);
    m_white = new QCheckBox(tr("white under all"), this);
    m_white->setObjectName(QStringLiteral("whiteUnderAll"));
    m_white->setChecked(session.job().stock_here().colour.l < 85 || session.job().stock_here().clear);
    most_row->addWidget(m_white);
    right->addLayout(most_row);
    m_process = new QCheckBox(tr("process inks, and the best beyond them"), this);
    m_process->setObjectName(QStringLiteral("processInks"));
    m_process->setToolTip(tr("Cyan, magenta, yellow and black are among the inks"));
    right->addWidget(m_process);
    auto *limit_row = new QHBoxLayout();
    limit_row->addWidget(make_label(tr("Ink at a point, at most"), 12, QFont::Normal, true, this), 1);
    m_limit = new QLineEdit(this);
    m_limit->setObjectName(QStringLiteral("inkLimit"));
    m_limit->setAccessibleName(tr("Most ink at a point, white counted, in percent"));
    m_limit->setPlaceholderText(tr("no limit"));
    m_limit->setToolTip(
        tr("All inks of a point together, white counted, in percent: 250 %. It holds exactly, and "
           "the inks are chosen anew for it."));
    m_limit->setFixedWidth(88);
    m_limit->setAlignment(Qt::AlignRight);
    limit_row->addWidget(m_limit);
    right->addLayout(limit_row);
    auto *find_row = new QHBoxLayout();
    m_find = new QPushButton(tr("Find the best inks"), this);
    m_find->setObjectName(QStringLiteral("findInks"));
    m_find->setToolTip(tr("Of the ink book “%1”").arg(theme::text_of(m_book.name)));
    m_stop = make_small_button("stopFinding", tr("Stop"), {}, this);
    m_stop->hide();
    find_row->addWidget(m_find, 1);
    find_row->addWidget(m_stop);
    right->addLayout(find_row);
    m_progress = new QProgressBar(this);
    m_progress->setObjectName(QStringLiteral("findProgress"));
    m_progress->hide();
    right->addWidget(m_progress);
    right->addWidget(make_label(tr("Ticked inks are kept; the right button leaves one out."), 11,
                                QFont::Normal, true, this));
    m_inks = new QListWidget(this);
    m_inks->setObjectName(QStringLiteral("setInks"));
    m_inks->setAccessibleName(tr("Inks of the set, in printing order"));
    m_inks->setStyleSheet(theme::listStyle());
    m_inks->setFont(theme::font(12));
    m_inks->setIconSize(swatch_size);
    m_inks->setContextMenuPolicy(Qt::CustomContextMenu);
    right->addWidget(m_inks, 1);
    m_print = new QPushButton(tr("Print it in these inks"), this);
    m_print->setObjectName(QStringLiteral("printInSet"));
    m_print->setProperty("main", true);
    m_print->setEnabled(false);
    m_words = make_label({}, 12, QFont::Normal, false, this);
    m_words->setObjectName(QStringLiteral("separationWords"));
    m_words->setWordWrap(true);
    m_words->setMinimumHeight(82); // so that the button stays where it is
    m_words->setAlignment(Qt::AlignTop);
    right->addWidget(m_words);
    right->addWidget(m_print);
    row->addLayout(right);
    m_inks->setFixedWidth(290);
    m_words->setFixedWidth(290);

    connect(&m_session, &Session::artworkChanged, this, &QDialog::close); // its inks are of the one before
    connect(m_find, &QPushButton::clicked, this, &SeparationDialog::find);
    connect(m_stop, &QPushButton::clicked, this, [this] { m_finding.cancel(); });
    connect(m_plot, &InkCountPlot::chosen, this, &SeparationDialog::choose);
    connect(m_thumbnails, &QListWidget::currentRowChanged, this, &SeparationDialog::choose);
    connect(m_print, &QPushButton::clicked, this, &SeparationDialog::print);
    connect(m_inks, &QListWidget::itemChanged, this, [this](const QListWidgetItem *item) {
        const std::string ink = item->text().toStdString();
        item->checkState() == Qt::Checked ? (void)m_kept.insert(ink) : (void)m_kept.erase(ink);
    });
    connect(m_inks, &QListWidget::customContextMenuRequested, this, [this](const QPoint &at) {
        const QListWidgetItem *item = m_inks->itemAt(at);
        if (item == nullptr) {
            return;
        }
        const std::string ink = item->text().toStdString();
        QMenu menu(this);
        QAction *out = menu.addAction(tr("Leave %1 out, and find again").arg(item->text()));
        if (menu.exec(m_inks->viewport()->mapToGlobal(at)) == out) {
            m_out.insert(ink);
            m_kept.erase(ink);
            find();
        }
    });
}

std::vector<BookInk> SeparationDialog::fixedInks() const
{
    std::vector<BookInk> fixed;
    if (m_white->isChecked()) {
        fixed.push_back(white_of(m_book));
    }
    for (const BookInk &ink : m_book.inks) {
        if (m_kept.contains(ink.name) && ink.use != InkUse::White) {
            fixed.push_back(ink);
        }
    }
    return fixed;
}

void SeparationDialog::setBusy(bool busy)
{
    m_find->setEnabled(!busy);
    m_most->setEnabled(!busy);
    m_white->setEnabled(!busy);
    m_process->setEnabled(!busy);
    m_limit->setEnabled(!busy);
    m_stop->setVisible(busy);
    m_progress->setVisible(busy);
    m_print->setEnabled(!busy && m_chosen >= 0);
}

void SeparationDialog::find()
{
    m_showing.cancel();
    InkWish wish{m_session.job().stock_here(),
                 fixedInks(),
                 {m_out.begin(), m_out.end()},
                 static_cast<std::size_t>(m_most->currentData().toInt())};
    m_progress->setRange(0, 0);
    setBusy(true);
    say(tr("The colours of the artwork are counted, and inks tried for them."), false);
    using Sets = Outcome<std::vector<InkSet>>;
    m_finding = m_tasks.start(
        [opened = m_session.opened(), book = m_book, wish = std::move(wish),
         process = m_process->isChecked()](const JobControl &control) mutable -> Sets {
            const auto condition = condition_of(opened.job.colours);
            if (!condition) {
                return condition.error();
            }
            wish.condition = *condition;
            if (process) {
                for (BookInk &ink : process_inks(**condition)) {
                    wish.fixed.push_back(std::move(ink));
                }
            }
            const auto colours = wished_colours(opened, 160, control.with_report({}));
            return colours ? choose_inks(*colours, book, wish, control) : Sets(colours.error());
        },
        [this](Sets sets) { found(std::move(sets)); },
        [this](qint64 done, qint64 total) {
            m_progress->setRange(0, static_cast<int>(total));
            m_progress->setValue(static_cast<int>(done));
        });
}

void SeparationDialog::found(Outcome<std::vector<InkSet>> sets)
{
    if (!sets) {
        setBusy(false);
        const bool stopped = sets.error().code == ErrorCode::Cancelled;
        say(stopped ? tr("Stopped; what was found before is still there.")
                    : theme::text_of(sets.error().message()),
            !stopped);
        return;
    }
    m_sets = std::move(*sets);
    m_chosen = static_cast<int>(m_sets.size()) - 1;
    {
        const QSignalBlocker quiet(m_thumbnails);
        m_thumbnails->clear();
        for (const InkSet &set : m_sets) {
            auto *item = new QListWidgetItem(tr("%1, ΔE %2")
                                                 .arg(count_words(set.inks.size()))
                                                 .arg(theme::text_of(format_number(set.mean_difference, 1))),
                                             m_thumbnails);
            QPixmap waiting(thumbnail_side, thumbnail_side);
            waiting.fill(theme::strip);
            item->setIcon(QIcon(waiting));
        }
        m_thumbnails->setCurrentRow(m_chosen);
    }
    setBusy(false);
    say(tr("Expected, from colours that the model predicts; what is printed is measured below when you take "
           "a set."),
        false);
    choose(m_chosen);
    makeThumbnails();
}

void SeparationDialog::choose(int set)
{
    if (set < 0 || static_cast<std::size_t>(set) >= m_sets.size()) {
        return;
    }
    m_chosen = set;
    m_plot->show(m_sets, m_chosen);
    const QSignalBlocker quiet(m_thumbnails);
    m_thumbnails->setCurrentRow(set);
    m_print->setEnabled(m_find->isEnabled());
    showInks();
}

void SeparationDialog::showInks()
{
    const QSignalBlocker quiet(m_inks);
    m_inks->clear();
    for (const BookInk &ink : m_sets[static_cast<std::size_t>(m_chosen)].inks) {
        auto *item =
            new QListWidgetItem(make_swatch(theme::ink_color(ink.solid)), theme::text_of(ink.name), m_inks);
        if (ink.use == InkUse::Spot) {
            item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
            item->setCheckState(m_kept.contains(ink.name) ? Qt::Checked : Qt::Unchecked);
        }
    }
}

/// The print with each set, one after the other.
void SeparationDialog::makeThumbnails()
{
    m_showing = m_tasks.start(
        [this, opened = m_session.opened(), scene = m_session.page()->scene,
         sets = m_sets](const JobControl &control) {
            for (std::size_t i = 0; i < sets.size() && !control.cancelled(); ++i) {
                OpenedJob one = opened;
                auto job = separated_job(opened.job, scene, sets[i].inks);
                if (!job) {
                    continue;
                }
                one.job = std::move(*job);
                const auto picture = picture_of_print(one, thumbnail_side * 2, {}, control);
                if (!picture) {
                    continue;
                }
                const QImage image = picture_of(*picture);
                QMetaObject::invokeMethod(
                    this,
                    [this, i, image, control] {
                        if (!control.cancelled() && static_cast<int>(i) < m_thumbnails->count()) {
                            m_thumbnails->item(static_cast<int>(i))->setIcon(thumbnail_of(image));
                        }
                    },
                    Qt::QueuedConnection);
            }
            return true;
        },
        [](bool) {});
}

void SeparationDialog::print()
{
    if (m_chosen < 0) {
        return;
    }
    m_showing.cancel();
    const std::vector<BookInk> inks = m_sets[static_cast<std::size_t>(m_chosen)].inks;
    constexpr double choke = 0.1; // mm that white draws back by
    const auto limit = parse_ink_limit(m_limit->text().trimmed().toStdString());
    if (!limit) {
        say(theme::text_of(limit.error().message()), true);
        return;
    }
    setBusy(true);
    m_progress->setRange(0, 0);
    m_finding = m_tasks.start(
        [job = m_session.job(), page = m_session.page(), inks, most = *limit](const JobControl &) {
            return separated_job(job, page->scene, inks, {choke, most});
        },
        [this, count = inks.size()](Outcome<Job> job) {
            setBusy(false);
            if (!job) {
                say(theme::text_of(job.error().message()), true);
                return;
            }
            m_session.change(*job, tr("Separated into %1 inks").arg(count));
            measure();
        });
}

/// How near the print comes, once it is what the job prints.
void SeparationDialog::measure()
{
    say(tr("Being printed and measured …"), false);
    m_showing = m_tasks.start(
        [made = m_session.opened()](const JobControl &control) {
            return measure_separation(made, 700, control);
        },
        [this](const Outcome<SeparationReport> &report) {
            if (!report) {
                say(theme::text_of(report.error().message()), report.error().code != ErrorCode::Cancelled);
                return;
            }
            const auto text = [](double value, int decimals) {
                return theme::text_of(format_number(value, decimals));
            };
            say(tr("ΔE median %1, 95 % under %2. Worst %3, at %4, %5 mm. %6 of the artwork is ΔE 6 or more "
                   "off: "
                   "these inks do not reach it on this stock. Undo brings the job back.")
                    .arg(text(report->median, 1), text(report->p95, 1), text(report->worst, 1),
                         text(report->worst_x, 0), text(report->worst_y, 0), theme::percent(report->beyond)),
                false);
        });
}

void SeparationDialog::say(const QString &text, bool needs_artist)
{
    m_words->setText(text);
    m_words->setStyleSheet(notice_style(needs_artist));
}

} // namespace bichrom
