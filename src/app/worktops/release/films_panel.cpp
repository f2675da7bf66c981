#include "app/worktops/release/films_panel.h"

#include "app/services/film_layout.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/release/film_thumbnails.h"
#include "app/worktops/release/folder_row.h"
#include "app/worktops/release/pages_row.h"
#include "app/worktops/release/work_strip.h"
#include "core/base/original_guard.h"
#include "core/output/compose.h"
#include "core/output/films_together.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QHeaderView>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTreeWidget>

#include <algorithm>
#include <set>

namespace bichrom {

namespace {

/// What the artwork lacks and the artist has accepted, for the line that tells of success.
QString accepted_damage(const std::vector<std::string> &damage)
{
    if (damage.empty()) {
        return {};
    }
    QString text = FilmsPanel::tr("\nWith damage that was accepted: %1").arg(theme::text_of(damage.front()));
    if (damage.size() > 1) {
        text += FilmsPanel::tr(" and %1 more").arg(damage.size() - 1);
    }
    return text;
}

/// What of an earlier release in the same folder is no part of this one.
QString earlier_files(const Manifest &manifest)
{
    const auto list = [](const std::vector<std::string> &files) {
        QStringList names;
        for (const std::string &name : files) {
            names << theme::text_of(name);
        }
        return names.join(QStringLiteral(", "));
    };
    QString text;
    if (!manifest.moved.empty()) {
        text += FilmsPanel::tr("\nOf an earlier release, moved to %2: %1")
                    .arg(list(manifest.moved), theme::text_of(manifest.moved_to));
    }
    if (!manifest.earlier.empty()) {
        text += FilmsPanel::tr("\nStill in the folder from an earlier release, no part of this one: %1")
                    .arg(list(manifest.earlier));
    }
    return text;
}

} // namespace

FilmsPanel::FilmsPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view), m_prompts(prompts)
{
    setObjectName(QStringLiteral("filmsPanel"));
    QVBoxLayout *column = make_scrolling_column(this);
    QWidget *content = column->parentWidget();
    column->setSpacing(8);
    column->setContentsMargins(16, 4, 16, 12);
    m_empty = make_label(tr("Open artwork to write its films."), 12, QFont::Normal, true, content);
    m_empty->setWordWrap(true);
    column->addWidget(m_empty);
    m_body = new QWidget(content);
    column->addWidget(m_body);
    column->addStretch();

    auto *body = new QVBoxLayout(m_body);
    body->setContentsMargins(0, 0, 0, 0);
    body->setSpacing(8);
    auto *options = new QGridLayout();
    options->setHorizontalSpacing(8);
    options->setVerticalSpacing(6);
    options->setColumnStretch(0, 1);
    m_format = new QComboBox(m_body);
    m_format->setObjectName(QStringLiteral("filmFormat"));
    m_format->setAccessibleName(tr("Film format"));
    m_format->addItem(tr("TIFF, one a plate"));
    m_format->addItem(tr("PDF, one for all"));
    m_format->addItem(tr("PostScript, one for all"));
    m_box = new QComboBox(m_body);
    m_box->setObjectName(QStringLiteral("filmBox"));
    m_box->setAccessibleName(tr("Page box to write"));
    for (const PageBox box : all_page_boxes) {
        m_box->addItem(tr("%1 box").arg(QString::fromLatin1(to_string(box))));
    }
    for (QComboBox *box : {m_format, m_box}) { // as narrow as the panel in a low window
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(12);
        box->setMinimumWidth(146);
    }
    options->addWidget(make_label(tr("Films as"), 12, QFont::Normal, true, m_body), 0, 0);
    options->addWidget(m_format, 0, 1);
    options->addWidget(make_label(tr("Art taken from"), 12, QFont::Normal, true, m_body), 1, 0);
    options->addWidget(m_box, 1, 1);
    m_together =
        make_number_field("filmsTogether", tr("Width of a film that several share"), tr("mm"), 0,
                          NumberField::length(0, 5000), 90,
                          tr("Of the roll or larger film that several films are put on, in rows; 0 = each "
                             "by itself."),
                          m_body);
    m_together->setValue(0);
    options->addWidget(make_label(tr("Shared film, wide"), 12, QFont::Normal, true, m_body), 2, 0);
    auto *shared = new QHBoxLayout();
    m_turned = new QCheckBox(tr("turned"), m_body);
    m_turned->setObjectName(QStringLiteral("filmsTurned"));
    m_turned->setToolTip(
        tr("Films that share one lie turned by 90°, all of them: cut apart they are as before"));
    shared->setSpacing(8);
    shared->addStretch();
    shared->addWidget(m_turned);
    shared->addWidget(m_together);
    options->addLayout(shared, 2, 1);
    connect(m_together, &NumberField::valueEntered, this, &FilmsPanel::showSheet);
    connect(m_turned, &QCheckBox::toggled, this, &FilmsPanel::showSheet);
    body->addLayout(options);
    m_marks = new QCheckBox(tr("Registration, crop marks, wedge, label"), m_body);
    m_marks->setObjectName(QStringLiteral("filmMarks"));
    m_mirror = new QCheckBox(tr("Wrong-reading (mirrored)"), m_body);
    m_mirror->setToolTip(tr("Seen from its emulsion side the film reads wrong: the emulsion then lies on the "
                            "screen or plate when it is read right from behind"));
    m_mirror->setObjectName(QStringLiteral("filmMirror"));
    m_negative = new QCheckBox(tr("Negative"), m_body);
    m_negative->setObjectName(QStringLiteral("filmNegative"));
    body->addWidget(m_marks);
    auto *sides = new QHBoxLayout();
    sides->addWidget(m_mirror);
    sides->addWidget(m_negative);
    sides->addStretch();
    body->addLayout(sides);
    m_moveEarlier = new QCheckBox(tr("Move films of an earlier set away"), m_body);
    m_moveEarlier->setObjectName(QStringLiteral("moveEarlier"));
    m_moveEarlier->setToolTip(tr("Into a folder 'earlier' beside the new ones; without it they stay and are "
                                 "named"));
    body->addWidget(m_moveEarlier);
    body->addWidget(make_rule(m_body));
    m_pages = new PagesRow("filmPages", tr("Pages to write"), tr("Of several pages each gets a folder."),
                           session, m_body);
    body->addWidget(m_pages);
    m_films = new QTreeWidget(m_body);
    m_films->setObjectName(QStringLiteral("filmList"));
    m_films->setAccessibleName(tr("Films to write"));
    m_films->setColumnCount(3);
    m_films->setHeaderHidden(true);
    m_films->setRootIsDecorated(false);
    m_films->setUniformRowHeights(true);
    m_films->setStyleSheet(theme::listStyle());
    m_films->setFont(theme::font(12));
    m_films->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_films->header()->setStretchLastSection(false);
    m_films->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_films->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_films->header()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    body->addWidget(m_films);
    m_filmsNote = make_label({}, 11, QFont::Normal, true, m_body);
    m_filmsNote->setObjectName(QStringLiteral("filmListNote"));
    m_filmsNote->setWordWrap(true);
    body->addWidget(m_filmsNote);
    m_sheet = new FactList(m_body);
    m_sheet->setObjectName(QStringLiteral("filmSheet"));
    body->addWidget(m_sheet);
    body->addWidget(make_rule(m_body));
    body->addWidget(make_label(tr("Folder for the films"), 12, QFont::Normal, true, m_body));
    m_folder = new FolderRow("filmFolder", "chooseFolder", tr("Folder for the films"), prompts, m_body);
    body->addWidget(m_folder);
    m_look = new QPushButton(tr("See the films first"), m_body);
    m_look->setObjectName(QStringLiteral("seeFilms"));
    m_look->setToolTip(tr("On the light table, exactly as they will be exposed, before anything is written"));
    body->addWidget(m_look);
    m_write = new QPushButton(tr("Write films"), m_body);
    m_write->setObjectName(QStringLiteral("writeFilms"));
    m_write->setProperty("main", true);
    body->addWidget(m_write);
    m_compose = new QPushButton(tr("Write plates as PDF …"), m_body);
    m_compose->setObjectName(QStringLiteral("writePlatePdf"));
    m_compose->setToolTip(tr("Every ink a named plate; shapes stay shapes"));
    auto *pdf_row = new QHBoxLayout();
    m_pdfForm = new QComboBox(m_body);
    m_pdfForm->setObjectName(QStringLiteral("platePdfForm"));
    m_pdfForm->setAccessibleName(tr("Kind of PDF"));
    m_pdfForm->addItem(tr("PDF/X-4"));
    m_pdfForm->addItem(tr("flat, 1.3"));
    m_pdfForm->addItem(tr("separated"));
    m_pdfForm->setToolTip(
        tr("PDF/X-4: shapes stay shapes. Flat: a picture of all inks, for old RIPs. Separated: "
           "a grey page for each plate."));
    pdf_row->addWidget(m_pdfForm);
    m_compose->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed); // the panel grows no wider for it
    pdf_row->addWidget(m_compose, 1);
    body->addLayout(pdf_row);
    m_work = new WorkStrip("stopWriting", "writeProgress", "writeResult", m_body);
    body->addWidget(m_work);
    m_thumbnails = new FilmThumbnails(m_body);
    m_thumbnails->setObjectName(QStringLiteral("filmThumbnails"));
    m_thumbnails->hide();
    body->addWidget(m_thumbnails);

    connect(m_format, &QComboBox::activated, this, [this](int index) {
        edit(tr("Films as %1").arg(m_format->itemText(index)),
             [index](FilmOptions &film) { film.format = static_cast<FilmFormat>(index); });
    });
    connect(m_box, &QComboBox::activated, this, [this](int index) {
        edit(tr("Art from the %1").arg(m_box->itemText(index)),
             [index](FilmOptions &film) { film.box = static_cast<PageBox>(index); });
    });
    connect(m_marks, &QCheckBox::clicked, this, [this](bool on) {
        edit(on ? tr("Films with marks") : tr("Films without marks"),
             [on](FilmOptions &film) { film.marks = on; });
    });
    connect(m_mirror, &QCheckBox::clicked, this, [this](bool on) {
        edit(on ? tr("Films wrong-reading") : tr("Films right-reading"),
             [on](FilmOptions &film) { film.mirror = on; });
    });
    connect(m_negative, &QCheckBox::clicked, this, [this](bool on) {
        edit(on ? tr("Negative films") : tr("Positive films"),
             [on](FilmOptions &film) { film.negative = on; });
    });
    connect(m_films, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem *item) {
        m_ticks[item->data(0, Qt::UserRole).toString().toStdString()] = item->checkState(0) == Qt::Checked;
        showSheet();
    });
    m_films->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_films, &QTreeWidget::customContextMenuRequested, this, &FilmsPanel::openFilmMenu);
    connect(&m_session.facts(), &Facts::coverageChanged, this, &FilmsPanel::listFilms);
    connect(&m_session.facts(), &Facts::printedChanged, this, [this] {
        describeSheet();
        if (m_session.isOpen() && isVisible()) {
            showSheet();
        }
    });
    connect(&m_view, &ViewState::changed, this, &FilmsPanel::listFilms);
    connect(m_write, &QPushButton::clicked, this, &FilmsPanel::write);
    connect(m_look, &QPushButton::clicked, this, [this] {
        const QTreeWidgetItem *chosen = m_films->currentItem();
        Q_EMIT filmsWanted(tickedInks(), chosen != nullptr
                                             ? chosen->data(0, Qt::UserRole).toString().toStdString()
                                             : std::string());
    });
    connect(m_films, &QTreeWidget::itemDoubleClicked, this, [this](QTreeWidgetItem *item) {
        Q_EMIT filmsWanted(tickedInks(), item->data(0, Qt::UserRole).toString().toStdString());
    });
    connect(m_compose, &QPushButton::clicked, this, &FilmsPanel::compose);
    connect(m_work, &WorkStrip::busyChanged, this, &FilmsPanel::setBusy);
    connect(&m_session, &Session::pageChanged, this, [this] {
        m_thumbnails->setFilms({});
        m_work->clear();
        refresh();
    });
    connect(&m_session, &Session::jobChanged, this, &FilmsPanel::refresh);
    connect(&m_session, &Session::artworkChanged, this, [this] {
        m_released = false;
        m_ticks.clear();
        m_pages->clear();
    });
    connect(&m_session, &Session::pathChanged, this, [this] {
        m_folder->forget();
        refresh();
    });
    refresh();
}

void FilmsPanel::edit(const QString &text, const std::function<void(FilmOptions &)> &change)
{
    Job job = m_session.job();
    change(job.film);
    m_session.change(job, text);
}

void FilmsPanel::refresh()
{
    const bool open = m_session.isOpen();
    m_empty->setVisible(!open);
    m_body->setVisible(open);
    if (!open) {
        return;
    }
    const FilmOptions &film = m_session.job().film;
    m_format->setCurrentIndex(static_cast<int>(film.format));
    m_box->setCurrentIndex(static_cast<int>(film.box));
    m_marks->setChecked(film.marks);
    m_mirror->setChecked(film.mirror);
    m_negative->setChecked(film.negative);
    const QFileInfo file(m_session.path());
    m_folder->offer(file.absolutePath() + QLatin1Char('/') + file.completeBaseName() +
                    QStringLiteral(" films"));
    m_pages->refresh();
    describeSheet();
    listFilms();
}

/// A plate that prints nothing on this page is off until it is ticked on; others are on until ticked off.
bool FilmsPanel::isTicked(const std::string &ink) const
{
    const auto said = m_ticks.find(ink);
    return said != m_ticks.end() ? said->second : m_session.facts().coverage(ink) != 0.0;
}

void FilmsPanel::listFilms()
{
    if (!m_session.isOpen() || !isVisible()) {
        return;
    }
    const QSignalBlocker quiet(m_films);
    m_films->clear();
    const Job &job = m_session.job();
    const Rect trim = m_session.trimArea();
    QStringList hidden, blank;
    constexpr int row_height = 21, most_rows = 7;
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        const std::string &ink = job.plates[i].ink;
        const double share = m_session.facts().coverage(ink);
        const QString name = theme::text_of(ink);
        auto *item = new QTreeWidgetItem(
            m_films,
            {QStringLiteral("%1  %2").arg(i + 1).arg(name),
             share == 0 ? tr("nothing") : theme::coverage(share),
             share > 0 ? tr("%1 cm²").arg(share * trim.width * trim.height / 100.0, 0, 'f', 1) : QString()});
        item->setData(0, Qt::UserRole, name);
        item->setSizeHint(0, QSize(0, row_height));
        item->setCheckState(0, isTicked(ink) ? Qt::Checked : Qt::Unchecked);
        item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
        item->setTextAlignment(2, Qt::AlignRight | Qt::AlignVCenter);
        if (share == 0) {
            blank << name;
        }
        if (!m_view.isShown(name) && isTicked(ink)) {
            hidden << name;
        }
    }
    m_films->setFixedHeight(std::clamp(m_films->topLevelItemCount(), 1, most_rows) * row_height + 4);
    QStringList notes;
    if (!blank.isEmpty()) {
        notes << tr("Nothing of the page prints on %1.").arg(blank.join(tr(", ")));
    }
    if (!hidden.isEmpty()) {
        notes << tr("Hidden on the table, written all the same: %1.").arg(hidden.join(tr(", ")));
    }
    m_filmsNote->setText(notes.join(QLatin1Char(' ')));
    m_filmsNote->setVisible(!notes.isEmpty());
    showSheet();
}

/// What can be done about the film under the pointer.
void FilmsPanel::openFilmMenu(const QPoint &at)
{
    const QTreeWidgetItem *item = m_films->itemAt(at);
    if (item == nullptr) {
        return;
    }
    const QString ink = item->data(0, Qt::UserRole).toString();
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("filmMenu"));
    const auto add = [&](const char *name, const QString &words, const std::function<void()> &act) {
        QAction *action = menu.addAction(words);
        action->setObjectName(QLatin1String(name));
        connect(action, &QAction::triggered, this, act);
    };
    const bool alone = m_view.alone() == ink;
    add("filmAlone", alone ? tr("Show all plates again") : tr("Show %1 alone").arg(ink),
        [&] { m_view.setAlone(alone ? QString() : ink); });
    menu.addSeparator();
    const auto tick = [&](const auto &wanted) {
        for (const std::string &one : m_session.job().inks()) {
            m_ticks[one] = wanted(one);
        }
        listFilms();
    };
    const std::string name = ink.toStdString();
    add("filmOnly", tr("Write only %1").arg(ink),
        [&] { tick([&](const std::string &one) { return one == name; }); });
    add("filmOthers", tr("Write all but %1").arg(ink),
        [&] { tick([&](const std::string &one) { return one != name; }); });
    add("filmUsual", tr("Write all that print something"), [&] {
        m_ticks.clear();
        listFilms();
    });
    menu.exec(m_films->viewport()->mapToGlobal(at));
}

std::vector<std::string> FilmsPanel::tickedInks() const
{
    std::vector<std::string> inks;
    for (const std::string &ink : m_session.job().inks()) {
        if (isTicked(ink)) {
            inks.push_back(ink);
        }
    }
    return inks;
}

void FilmsPanel::showEvent(QShowEvent *)
{
    describeSheet();
    listFilms();
}

/// Laying out a sheet sets its labels: it is done when the job changes, for a page that is seen.
void FilmsPanel::describeSheet()
{
    if (!m_session.isOpen() || !isVisible()) {
        return;
    }
    auto sheet = film_layout(m_session);
    if (!sheet) {
        m_layout = Error(sheet.error());
        return;
    }
    m_layout = SheetSize{sheet->width, sheet->height, sheet->to_length(sheet->width).value,
                         sheet->to_length(sheet->height).value, !sheet->wedge.empty()};
}

void FilmsPanel::showSheet()
{
    m_turned->setEnabled(m_together->value() > 0);
    m_sheet->clear();
    if (!m_layout) {
        m_sheet->add(tr("film"), theme::text_of(m_layout.error().message()));
        return;
    }
    const Job &job = m_session.job();
    const SheetSize &size = *m_layout;
    m_sheet->add(tr("film size"), QStringLiteral("%1 × %2 mm")
                                      .arg(theme::text_of(format_number(size.wide_mm, 1)),
                                           theme::text_of(format_number(size.high_mm, 1))));
    m_sheet->add(tr("pixels"),
                 tr("%1 × %2 at %3 dpi").arg(size.width).arg(size.height).arg(job.film.resolution.value));
    const auto films = static_cast<int>(tickedInks().size());
    if (m_together->value() > 0 && films > 0) {
        FilmsTogether on;
        on.width = m_together->value();
        on.turned = m_turned->isChecked();
        const auto plan =
            plan_together(size.width, size.height, static_cast<std::size_t>(films), job.film.resolution, on);
        if (!plan) {
            m_sheet->add(tr("shared film"), theme::text_of(plan.error().message()));
            return;
        }
        const double mm = millimetres_per_inch / job.film.resolution.value;
        const double used = film_used(*plan, job.film.resolution);
        m_sheet->add(tr("film used"), tr("%1 on %2 × %3 mm, %4 cm²")
                                          .arg(films)
                                          .arg(plan->width * mm, 0, 'f', 0)
                                          .arg(plan->height * mm, 0, 'f', 0)
                                          .arg(used, 0, 'f', 0));
        on.turned = !on.turned;
        const auto other =
            plan_together(size.width, size.height, static_cast<std::size_t>(films), job.film.resolution, on);
        constexpr double worth_it = 0.98;
        if (const double less = other ? film_used(*other, job.film.resolution) : used;
            less < worth_it * used) {
            m_sheet->add({}, (on.turned ? tr("Turned they would take %1 cm².")
                                        : tr("Not turned they would take %1 cm²."))
                                 .arg(less, 0, 'f', 0));
        }
        return;
    }
    m_sheet->add(tr("film used"), tr("%1, %2 cm²")
                                      .arg(films == 1 ? tr("1 film") : tr("%1 films").arg(films))
                                      .arg(size.wide_mm * size.high_mm / 100.0 * films, 0, 'f', 0));
    if (job.film.marks && job.film.mark_set.wedge && !size.has_wedge) {
        m_sheet->add(tr("step wedge"), tr("no room beside this art"));
    }
}

void FilmsPanel::setBusy(bool busy)
{
    for (QWidget *widget : std::initializer_list<QWidget *>{
             m_format, m_box, m_marks, m_mirror, m_negative, m_pages, m_films, m_moveEarlier, m_together,
             m_folder, m_write, m_compose, m_pdfForm, m_look}) {
        widget->setEnabled(!busy);
    }
    m_turned->setEnabled(!busy && m_together->value() > 0);
}

void FilmsPanel::write()
{
    const QString folder = m_folder->folder();
    if (folder.isEmpty()) {
        m_work->say(tr("Choose a folder for the films first."), true);
        return;
    }
    const auto pages = m_pages->pages();
    if (!pages) {
        m_work->say(theme::text_of(pages.error().message()), true);
        return;
    }
    OutputRequest request;
    // On other pages other plates may print nothing: what was not ticked off is written where it prints.
    for (const std::string &ink : m_session.job().inks()) {
        const auto said = m_ticks.find(ink);
        if (said != m_ticks.end() && !said->second) {
            request.without.push_back(ink);
        }
        request.blank_too = request.blank_too ||
                            (said != m_ticks.end() && said->second && m_session.facts().coverage(ink) == 0.0);
    }
    const std::size_t plates = m_session.job().plates.size();
    if (plates > 0 && request.without.size() == plates) {
        m_work->say(tr("Tick at least one film to write."), true);
        return;
    }
    m_thumbnails->setFilms({});
    request.folder = folder.toStdString();
    request.earlier = m_moveEarlier->isChecked() ? EarlierFiles::MoveAway : EarlierFiles::Keep;
    request.label = film_label_text(m_session.artwork());
    request.together.width = m_together->value();
    request.together.turned = m_turned->isChecked();
    m_work->run(
        [opened = m_session.opened(), pages = *pages, request](const JobControl &control) {
            return write_pages(opened, pages, request, {}, write_films, control);
        },
        [this, folder](Outcome<std::vector<Manifest>> written) { finish(std::move(written), folder); });
}

void FilmsPanel::compose()
{
    const QFileInfo file(m_session.path());
    const QString path =
        m_prompts.askSaveFile(FileUse::PlatePdf, file.absolutePath() + QLatin1Char('/') +
                                                     file.completeBaseName() + QStringLiteral(" plates.pdf"));
    if (path.isEmpty()) {
        return;
    }
    // All pages, unless the artist says which.
    auto listed =
        m_pages->isEmpty() ? parse_pages("all", m_session.artwork().page_count()) : m_pages->pages();
    if (!listed) {
        m_work->say(theme::text_of(listed.error().message()), true);
        return;
    }
    ComposeRequest request;
    request.form = static_cast<PdfForm>(m_pdfForm->currentIndex());
    request.resolution = std::min(m_session.job().film.resolution, Dpi(600));
    request.date = film_label_text(m_session.artwork()).date;
    request.pages = std::move(*listed);
    if (const Done good = may_replace(path.toStdString()); !good) {
        m_work->say(theme::text_of(good.error().message()), true);
        return;
    }
    m_thumbnails->setFilms({});
    m_work->run(
        [opened = m_session.opened(), path, request](const JobControl &control) {
            return compose_pdf(opened, path.toStdString(), request, control);
        },
        [this, path](const Outcome<ComposedPdf> &made) {
            if (made) {
                QStringList pictures;
                std::set<std::string> plates;
                for (const ComposedPage &page : made->pages) {
                    for (const ComposedPlate &plate : page.plates) {
                        plates.insert(plate.ink);
                        const QString ink = theme::text_of(plate.ink);
                        if (plate.how == Composed::Picture && !pictures.contains(ink)) {
                            pictures << ink;
                        }
                    }
                }
                const int pages = static_cast<int>(made->pages.size());
                m_work->say((pages == 1 ? tr("%1 plates written to %2").arg(plates.size()).arg(path)
                                        : tr("%1 plates of %2 pages written to %3")
                                              .arg(plates.size())
                                              .arg(pages)
                                              .arg(path)) +
                                (pictures.isEmpty()
                                     ? QString()
                                     : tr("\nAs a picture, for its tones: %1").arg(pictures.join(tr(", ")))) +
                                accepted_damage(made->damage),
                            false);
            } else {
                m_work->say(made.error().code == ErrorCode::Cancelled
                                ? tr("Stopped. No file was written; the job is as it was.")
                                : theme::text_of(made.error().message()),
                            true);
            }
        });
}

void FilmsPanel::finish(Outcome<std::vector<Manifest>> pages, const QString &folder)
{
    if (pages) {
        std::vector<WrittenPlate> films;
        QString more;
        QStringList blank;
        for (const Manifest &page : *pages) {
            films.insert(films.end(), page.plates.begin(), page.plates.end());
            more += accepted_damage(page.damage) + earlier_files(page);
            for (const std::string &ink : page.blank) {
                blank << (pages->size() == 1 ? theme::text_of(ink)
                                             : tr("%1 on page %2").arg(theme::text_of(ink)).arg(page.page));
            }
        }
        if (!blank.isEmpty()) {
            more += tr("\nNot written, since nothing prints there: %1").arg(blank.join(tr(", ")));
        }
        const auto count = static_cast<int>(films.size());
        const QString what = count == 1 ? tr("1 film") : tr("%1 films").arg(count);
        m_work->say((pages->size() == 1
                         ? tr("%1 written to %2").arg(what, folder)
                         : tr("%1 of %2 pages written to %3").arg(what).arg(pages->size()).arg(folder)) +
                        more,
                    false);
        m_thumbnails->setFilms(films);
    } else if (pages.error().code == ErrorCode::Cancelled) {
        m_work->say(tr("Stopped. No film of the page that was being written was kept; the job is as it was."),
                    true);
    } else {
        m_work->say(theme::text_of(pages.error().message()), true);
    }
    m_released = pages.ok();
    Q_EMIT stateChanged();
}

} // namespace bichrom
