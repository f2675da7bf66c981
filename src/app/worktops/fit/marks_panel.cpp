#include "app/worktops/fit/marks_panel.h"

#include "app/services/film_layout.h"
#include "app/widgets/controls.h"
#include "app/widgets/kept_sets_row.h"
#include "app/widgets/theme.h"
#include "app/worktops/fit/sheet_picture.h"
#include "core/job/edits/own_marks.h"
#include "core/job/kept_sets.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QSignalBlocker>

#include <algorithm>

namespace bichrom {

namespace {

QString piece_words(LabelPiece piece)
{
    switch (piece) {
    case LabelPiece::Job:
        return MarksPanel::tr("job");
    case LabelPiece::Number:
        return MarksPanel::tr("customer's number");
    case LabelPiece::Page:
        return MarksPanel::tr("page, of several");
    case LabelPiece::Ink:
        return MarksPanel::tr("ink");
    case LabelPiece::Order:
        return MarksPanel::tr("order, 2 of 5");
    case LabelPiece::Size:
        return MarksPanel::tr("size and scale");
    case LabelPiece::Screen:
        return MarksPanel::tr("ruling, angle, dot");
    case LabelPiece::Printing:
        return MarksPanel::tr("mesh, hits, flash");
    case LabelPiece::Resolution:
        return MarksPanel::tr("resolution");
    case LabelPiece::Side:
        return MarksPanel::tr("which side reads");
    case LabelPiece::Date:
        break;
    }
    return MarksPanel::tr("date");
}

QString steps_words(const std::vector<double> &steps)
{
    QStringList words;
    for (const double step : steps) {
        words << theme::text_of(format_number(step, 1));
    }
    return words.join(QStringLiteral(", "));
}

} // namespace

MarksPanel::MarksPanel(Session &session, ViewState &view, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to choose the marks of its films."), parent)
{
    setObjectName(QStringLiteral("marksPanel"));
    auto *kept = new KeptSetsRow(
        QStringLiteral("marks"), QStringLiteral("marks"),
        [this](const std::string &name) { return mark_set_text(name, m_session.job().film.mark_set); },
        m_body);
    m_column->addWidget(kept);
    connect(kept, &KeptSetsRow::chosen, this, &MarksPanel::useKept);
    connect(kept, &KeptSetsRow::failed, this, [this](const QString &words) { m_words->setText(words); });
    auto *head = new QHBoxLayout();
    head->setSpacing(6);
    m_on = new QCheckBox(tr("Marks around"), m_body);
    m_on->setObjectName(QStringLiteral("marksOn"));
    m_around = new QComboBox(m_body);
    m_around->setObjectName(QStringLiteral("marksAround"));
    m_around->setAccessibleName(tr("What films hold, and marks stand around"));
    m_around->addItems({tr("the page"), tr("what prints")});
    m_around->setItemData(0, tr("Films hold the page box"), Qt::ToolTipRole);
    m_around->setItemData(1, tr("Films are no larger than what prints on any plate, with its marks"),
                          Qt::ToolTipRole);
    head->addWidget(m_on);
    head->addWidget(m_around, 1);
    m_column->addLayout(head);
    m_rest = new QWidget(m_body);
    m_column->addWidget(m_rest);
    auto *grid = new QGridLayout(m_rest);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(0, 1);
    int row = 0;
    m_registration = new QComboBox(m_rest);
    m_registration->setObjectName(QStringLiteral("registration"));
    m_registration->setAccessibleName(tr("Registration marks"));
    m_registration->addItems({tr("none"), tr("cross"), tr("cross in ring")});
    grid->addWidget(make_label(tr("Registration"), 12, QFont::Normal, true, m_rest), row, 0);
    grid->addWidget(m_registration, row++, 1, 1, 2);
    const auto field = [&](const char *object, const QString &name, const QString &unit, int decimals,
                           const NumberField::Read &read) {
        return make_number_field(object, name, unit, decimals, read, 80, {}, m_rest);
    };
    m_size = field("markSize", tr("Size of registration marks"), tr("mm"), 1, NumberField::length(2, 30));
    m_line = field("markLine", tr("Width of their lines"), tr("pt"), 2, NumberField::plain(tr("pt"), 0.1, 6));
    grid->addWidget(make_label(tr("Size, line"), 12, QFont::Normal, true, m_rest), row, 0);
    grid->addWidget(m_size, row, 1);
    grid->addWidget(m_line, row++, 2);
    m_distance = field("markDistance", tr("From the art"), tr("mm"), 1, NumberField::length(0, 50));
    grid->addWidget(make_label(tr("From the art"), 12, QFont::Normal, true, m_rest), row, 0);
    grid->addWidget(m_distance, row++, 2);
    auto *switches = new QGridLayout();
    switches->setVerticalSpacing(1);
    const std::tuple<const char *, QString, bool MarkSet::*, QString> all[] = {
        {"markCrop", tr("crop marks"), &MarkSet::crop, tr("At the corners of the trim box")},
        {"markCorners", tr("crosses at corners"), &MarkSet::corners, tr("Registration marks there too")},
        {"markBleed", tr("bleed marks"), &MarkSet::bleed, tr("At the corners of the bleed box")},
        {"markCentre", tr("centre marks"), &MarkSet::centre,
         tr("At the middle of the trim; registration marks move there")},
        {"markPinholes", tr("pin targets"), &MarkSet::pinholes, tr("Rings left and right, to punch by")},
        {"markRuler", tr("ruler, 100 mm"), &MarkSet::ruler, tr("Stretched as the art is")},
        {"markPatches", tr("solid, 50 %"), &MarkSet::patches, tr("Two patches at the head")},
        {"markWedge", tr("step wedge"), &MarkSet::wedge, tr("At the foot; over a white base once more")},
        {"markLabel", tr("label"), &MarkSet::label, tr("At the foot")}};
    int number = 0;
    for (const auto &[object, words, member, tip] : all) {
        auto *box = new QCheckBox(words, m_rest);
        box->setObjectName(QLatin1String(object));
        box->setToolTip(tip);
        box->setFont(theme::font(12));
        switches->addWidget(box, number / 2, number % 2);
        ++number;
        m_switches.emplace_back(box, member);
        connect(box, &QCheckBox::clicked, this, [this, words = words, member = member](bool on) {
            change(on ? tr("Films with %1").arg(words) : tr("Films without %1").arg(words),
                   [&](FilmOptions &film) { film.mark_set.*member = on; });
        });
    }
    grid->addLayout(switches, row++, 0, 1, 3);
    m_own = new QComboBox(m_rest);
    m_own->setObjectName(QStringLiteral("ownMarks"));
    m_own->setAccessibleName(tr("What the file has beside its page"));
    m_own->addItems({tr("as in the file"), tr("left out"), tr("on every plate")});
    m_own->setToolTip(tr("Marks and notes that the customer's file has beside its trim"));
    grid->addWidget(make_label(tr("File's own"), 12, QFont::Normal, true, m_rest), row, 0);
    grid->addWidget(m_own, row++, 1, 1, 2);
    const auto line_edit = [&](const char *object, const QString &name, const QString &placeholder) {
        auto *made = new QLineEdit(m_rest);
        made->setObjectName(QLatin1String(object));
        made->setAccessibleName(name);
        made->setPlaceholderText(placeholder);
        grid->addWidget(make_label(name, 12, QFont::Normal, true, m_rest), row, 0);
        grid->addWidget(made, row++, 1, 1, 2);
        return made;
    };
    m_steps = line_edit("wedgeSteps", tr("Steps, %"), tr("as many as fit"));
    m_steps->setToolTip(tr("Percent with commas between them, such as 1, 2, 3, 5, 50, 100"));
    m_number = line_edit("customerNumber", tr("Customer no."), tr("none"));
    m_column->addWidget(
        make_label(tr("The label says, in this order (drag)"), 11, QFont::Normal, true, m_body));
    m_pieces = new QListWidget(m_body);
    m_pieces->setObjectName(QStringLiteral("labelPieces"));
    m_pieces->setAccessibleName(tr("Pieces of the label"));
    m_pieces->setStyleSheet(theme::listStyle());
    m_pieces->setFont(theme::font(11));
    m_pieces->setDragDropMode(QAbstractItemView::InternalMove);
    m_pieces->setFixedHeight(96);
    m_column->addWidget(m_pieces);
    m_picture = new SheetPicture(m_body);
    m_picture->setMinimumHeight(110);
    m_column->addWidget(m_picture, 1);
    m_words = make_label({}, 11, QFont::Normal, true, m_body);
    m_words->setObjectName(QStringLiteral("marksWords"));
    m_words->setWordWrap(true);
    m_column->addWidget(m_words);

    connect(m_on, &QCheckBox::clicked, this, [this](bool on) {
        change(on ? tr("Films with marks") : tr("Films without marks"),
               [on](FilmOptions &film) { film.marks = on; });
    });
    connect(m_around, &QComboBox::activated, this, [this](int index) {
        change(index == 0 ? tr("Films hold the page") : tr("Films hold what prints"),
               [index](FilmOptions &film) { film.around_art = index == 1; });
    });
    connect(m_own, &QComboBox::activated, this, [this](int index) {
        m_session.change(with_own_marks(m_session.job(), ownMarks(), static_cast<OwnMarks>(index)),
                         tr("The file's own marks: %1").arg(m_own->itemText(index)));
    });
    connect(&session.facts(), &Facts::printedChanged, this, &MarksPanel::layOut);
    connect(m_registration, &QComboBox::activated, this, [this](int index) {
        change(tr("Registration marks: %1").arg(m_registration->itemText(index)),
               [&](FilmOptions &film) { film.mark_set.registration = static_cast<RegistrationMark>(index); });
    });
    const auto edits = [this](NumberField *made, double MarkSet::*member, const QString &words) {
        connect(made, &NumberField::valueEntered, this, [this, member, words](double value) {
            change(words.arg(theme::text_of(format_number(value, 2))),
                   [&](FilmOptions &film) { film.mark_set.*member = value; });
        });
    };
    edits(m_size, &MarkSet::size, tr("Registration marks of %1 mm"));
    edits(m_line, &MarkSet::line, tr("Marks with lines of %1 pt"));
    edits(m_distance, &MarkSet::distance, tr("Marks %1 mm from the art"));
    connect(m_steps, &QLineEdit::editingFinished, this, [this] {
        std::vector<double> steps;
        for (const QString &part : m_steps->text().split(QLatin1Char(','), Qt::SkipEmptyParts)) {
            QString digits = part.trimmed();
            digits.remove(QLatin1Char('%'));
            const auto step = parse_number(digits.trimmed().toStdString());
            if (!step || !(*step >= 0 && *step <= 100)) {
                m_words->setText(
                    tr("“%1” is no step: write percent from 0 to 100 with commas between them.").arg(part));
                return;
            }
            steps.push_back(*step);
        }
        if (steps != m_session.job().film.mark_set.wedge_steps) {
            change(tr("Steps of the wedge"),
                   [&](FilmOptions &film) { film.mark_set.wedge_steps = std::move(steps); });
        }
    });
    connect(m_number, &QLineEdit::editingFinished, this, [this] {
        const std::string said = m_number->text().trimmed().toStdString();
        if (said != m_session.job().film.mark_set.number) {
            change(tr("The customer's number"), [&](FilmOptions &film) { film.mark_set.number = said; });
        }
    });
    connect(m_pieces, &QListWidget::itemChanged, this, &MarksPanel::changePieces);
    connect(m_pieces->model(), &QAbstractItemModel::rowsMoved, this, &MarksPanel::changePieces);
    refresh();
}

void MarksPanel::change(const QString &text, const std::function<void(FilmOptions &)> &edit)
{
    Job job = m_session.job();
    edit(job.film);
    m_session.change(job, text);
}

std::vector<ObjectMark> MarksPanel::ownMarks() const
{
    const LoadedPage &page = *m_session.page();
    return find_own_marks(page.scene, page.info, page.box);
}

void MarksPanel::useKept(const QString &name, const QString &path)
{
    const auto text = read_set_file(path.toStdString());
    const auto marks = text ? read_mark_set(*text, path.toStdString()) : Outcome<MarkSet>(text.error());
    if (!marks) {
        m_words->setText(theme::text_of(marks.error().message()));
        return;
    }
    change(tr("Marks of the set %1").arg(name), [&](FilmOptions &film) {
        const std::string number = film.mark_set.number; // of the customer of this job
        film.marks = true;
        film.mark_set = *marks;
        film.mark_set.number = number;
    });
}

void MarksPanel::changePieces()
{
    std::vector<LabelPiece> pieces;
    for (int i = 0; i < m_pieces->count(); ++i) {
        const QListWidgetItem *item = m_pieces->item(i);
        if (item->checkState() == Qt::Checked) {
            pieces.push_back(static_cast<LabelPiece>(item->data(Qt::UserRole).toInt()));
        }
    }
    if (pieces != m_session.job().film.mark_set.pieces) {
        change(tr("What the label says"),
               [&](FilmOptions &film) { film.mark_set.pieces = std::move(pieces); });
    }
}

void MarksPanel::fill()
{
    const FilmOptions &film = m_session.job().film;
    const MarkSet &marks = film.mark_set;
    m_on->setChecked(film.marks);
    m_rest->setEnabled(film.marks);
    m_around->setCurrentIndex(film.around_art ? 1 : 0);
    const std::vector<ObjectMark> own = ownMarks();
    m_own->setEnabled(!own.empty());
    const auto treated = own_marks_of(m_session.job(), own);
    m_own->setCurrentIndex(treated ? static_cast<int>(*treated) : -1);
    m_registration->setCurrentIndex(static_cast<int>(marks.registration));
    m_size->setValue(marks.size);
    m_line->setValue(marks.line);
    m_distance->setValue(marks.distance);
    for (const auto &[box, member] : m_switches) {
        box->setChecked(marks.*member);
    }
    if (!m_steps->hasFocus()) {
        m_steps->setText(steps_words(marks.wedge_steps));
    }
    if (!m_number->hasFocus()) {
        m_number->setText(theme::text_of(marks.number));
    }
    m_pieces->setEnabled(film.marks && marks.label);
    // Those that are said come first, in their order.
    std::vector<LabelPiece> order = marks.pieces;
    for (const LabelPiece piece : all_label_pieces) {
        if (std::find(order.begin(), order.end(), piece) == order.end()) {
            order.push_back(piece);
        }
    }
    std::vector<LabelPiece> shown;
    for (int i = 0; i < m_pieces->count(); ++i) {
        shown.push_back(static_cast<LabelPiece>(m_pieces->item(i)->data(Qt::UserRole).toInt()));
    }
    const QSignalBlocker quiet(m_pieces);
    if (shown != order) {
        const int chosen = m_pieces->currentRow();
        m_pieces->clear();
        for (const LabelPiece piece : order) {
            auto *item = new QListWidgetItem(piece_words(piece), m_pieces);
            item->setData(Qt::UserRole, static_cast<int>(piece));
            item->setFlags((item->flags() | Qt::ItemIsUserCheckable) & ~Qt::ItemIsDropEnabled);
        }
        m_pieces->setCurrentRow(chosen);
    }
    for (int i = 0; i < m_pieces->count(); ++i) {
        const bool said = std::find(marks.pieces.begin(), marks.pieces.end(),
                                    order[static_cast<std::size_t>(i)]) != marks.pieces.end();
        m_pieces->item(i)->setCheckState(said ? Qt::Checked : Qt::Unchecked);
    }
    layOut();
}

void MarksPanel::showEvent(QShowEvent *event)
{
    StagePanel::showEvent(event);
    if (m_session.isOpen()) {
        layOut();
    }
}

void MarksPanel::layOut()
{
    if (!isVisible() || !m_session.isOpen()) {
        return;
    }
    const Job &job = m_session.job();
    const auto sheet = film_layout(m_session);
    m_picture->show(sheet, job.film.mirror);
    if (!sheet) {
        m_words->clear();
        return;
    }
    QString words = tr("The film is %1.").arg(sheet_size_words(*sheet));
    if (job.film.marks && job.film.mark_set.wedge && sheet->wedge.empty()) {
        words += QLatin1Char(' ') + tr("There is no room for a step wedge.");
    }
    if (sheet->boxes_beyond) {
        words += QLatin1Char(' ') + tr("Crop marks beyond what prints are left out.");
    }
    m_words->setText(words);
}

} // namespace bichrom
