#include "app/worktops/release/ticket_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/release/work_strip.h"
#include "core/base/original_guard.h"
#include "core/report/proof.h"

#include <QDate>
#include <QFileInfo>
#include <QGridLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTreeWidget>

namespace bichrom {

namespace {

std::string date_today()
{
    return QDate::currentDate().toString(Qt::ISODate).toStdString();
}

Done write_document(const OpenedJob &opened, const std::filesystem::path &path, bool proof,
                    const JobControl &control)
{
    if (!proof) {
        const auto ticket = job_ticket(opened, control);
        return ticket ? write_ticket(path, *ticket, date_today()) : Done(ticket.error());
    }
    const auto form = proof_form_of(path);
    if (!form) {
        return form.error();
    }
    auto made = make_proof(opened, usual_proof(*form, date_today()), control);
    return made ? write_proof(path, {std::move(*made)}) : Done(made.error());
}

} // namespace

TicketPanel::TicketPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to write its proof and ticket."), parent), m_prompts(prompts)
{
    setObjectName(QStringLiteral("ticketPanel"));
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(0, 1);
    grid->setColumnStretch(2, 1);
    int count = 0;
    const auto number = [&](const char *object, const QString &name, const QString &unit, int decimals,
                            double most, auto member, const QString &step) {
        NumberField *field =
            make_number_field(object, step, unit, decimals, NumberField::plain(unit, 0, most), 74,
                              tr("%1; 0 = not said").arg(step), m_body);
        grid->addWidget(make_label(name, 12, QFont::Normal, true, m_body), count / 2, count % 2 * 2);
        grid->addWidget(field, count / 2, count % 2 * 2 + 1);
        ++count;
        connect(field, &NumberField::valueEntered, this, [this, member, step](double value) {
            change(step, [member, value](PrintRun &run) {
                run.*member = static_cast<std::remove_reference_t<decltype(run.*member)>>(value);
            });
        });
        m_numbers.emplace_back(field,
                               [member](const PrintRun &run) { return static_cast<double>(run.*member); });
    };
    number("runPieces", tr("Pieces"), {}, 0, 1e7, &PrintRun::pieces, tr("How many pieces are printed"));
    number("runSpeed", tr("Speed"), tr("/h"), 0, 1e5, &PrintRun::pieces_per_hour, tr("Prints an hour"));
    number("runSetup", tr("Set-up"), tr("min"), 1, 1e3, &PrintRun::minutes_per_plate,
           tr("Minutes to set a plate up and take it off"));
    number("runHour", tr("Press"), tr("/h"), 2, 1e9, &PrintRun::hour_price,
           tr("Price of an hour of the press"));
    number("runFilm", tr("Film"), tr("/m²"), 2, 1e9, &PrintRun::film_price,
           tr("Price of a square metre of film"));
    number("runInk", tr("Ink"), tr("/kg"), 2, 1e9, &PrintRun::ink_price, tr("Price of a kilogram of ink"));
    m_column->addLayout(grid);
    auto *words = new QGridLayout();
    words->setColumnStretch(1, 1);
    const auto line = [&](const char *object, const QString &name, int row, std::string PrintRun::*member,
                          const QString &step) {
        auto *edit = new QLineEdit(m_body);
        edit->setObjectName(QLatin1String(object));
        edit->setAccessibleName(name);
        words->addWidget(make_label(name, 12, QFont::Normal, true, m_body), row, 0);
        words->addWidget(edit, row, 1);
        connect(edit, &QLineEdit::editingFinished, this, [this, edit, member, step] {
            if (m_session.isOpen() && m_session.job().run.*member != edit->text().toStdString()) {
                change(step, [&](PrintRun &run) { run.*member = edit->text().toStdString(); });
            }
        });
        return edit;
    };
    m_currency = line("runCurrency", tr("Currency"), 0, &PrintRun::currency, tr("Currency"));
    m_note = line("runNote", tr("To the printer"), 1, &PrintRun::note, tr("Note to the printer"));
    m_column->addLayout(words);
    m_plates = new QTreeWidget(m_body);
    m_plates->setObjectName(QStringLiteral("ticketPlates"));
    m_plates->setAccessibleName(tr("Plates on the ticket"));
    m_plates->setHeaderLabels({tr("plate"), tr("ink, cm³/m²"), tr("squeegee, notes")});
    m_plates->setRootIsDecorated(false);
    m_plates->setStyleSheet(theme::listStyle());
    m_plates->setFont(theme::font(12));
    m_plates->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                              QAbstractItemView::SelectedClicked);
    m_plates->setToolTip(
        tr("Double-click to write: wet ink of a hit on a square metre of solid (0 = what the "
           "mesh holds), and what the printer is told"));
    m_plates->header()->setStretchLastSection(true);
    m_plates->header()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    m_plates->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_plates->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_column->addWidget(m_plates);
    m_facts = new FactList(m_body);
    m_facts->setObjectName(QStringLiteral("ticketFacts"));
    m_column->addWidget(m_facts);
    m_column->addWidget(make_rule(m_body));
    auto *buttons = new QHBoxLayout();
    m_proof = new QPushButton(tr("Write proof …"), m_body);
    m_proof->setObjectName(QStringLiteral("writeProof"));
    m_proof->setToolTip(tr("PDF to sign, HTML for any browser, or PNG, by the name's ending"));
    m_ticket = new QPushButton(tr("Write ticket …"), m_body);
    m_ticket->setObjectName(QStringLiteral("writeTicket"));
    m_ticket->setToolTip(tr("PDF for the printer, or JSON for another program"));
    buttons->addWidget(m_proof);
    buttons->addWidget(m_ticket);
    m_column->addLayout(buttons);
    m_work = new WorkStrip("stopDocument", "documentProgress", "ticketResult", m_body);
    m_column->addWidget(m_work);
    m_column->addStretch();
    connect(m_plates, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem *item, int column) {
        plateChanged(m_plates->indexOfTopLevelItem(item), column);
    });
    connect(m_work, &WorkStrip::busyChanged, this, [this](bool busy) {
        m_proof->setEnabled(!busy);
        m_ticket->setEnabled(!busy);
    });
    connect(m_proof, &QPushButton::clicked, this, [this] { write(true); });
    connect(m_ticket, &QPushButton::clicked, this, [this] { write(false); });
}

void TicketPanel::change(const QString &text, const std::function<void(PrintRun &)> &edit)
{
    Job job = m_session.job();
    edit(job.run);
    m_session.change(job, text);
}

void TicketPanel::plateChanged(int row, int column)
{
    Job job = m_session.job();
    if (row < 0 || static_cast<std::size_t>(row) >= job.plates.size()) {
        return;
    }
    Plate &plate = job.plates[static_cast<std::size_t>(row)];
    const QString text = m_plates->topLevelItem(row)->text(column).trimmed();
    if (column == 2) {
        plate.printing.squeegee = text.toStdString();
    } else if (column == 1) {
        const auto value = parse_number(text.isEmpty() ? "0" : text.toStdString());
        if (value && *value >= 0 && *value <= 1000) {
            plate.printing.deposit = *value;
        } else {
            m_work->say(tr("‘%1’ is no amount of ink: write 0 to 1000 cm³ a square metre.").arg(text), true);
        }
    }
    if (job == m_session.job()) {
        fill();
    } else {
        m_session.change(job, tr("Ticket of %1").arg(theme::text_of(plate.ink)));
    }
}

void TicketPanel::fill()
{
    const PrintRun &run = m_session.job().run;
    for (const auto &[field, value] : m_numbers) {
        field->setValue(value(run));
    }
    for (const auto &[edit, text] : {std::pair(m_currency, run.currency), std::pair(m_note, run.note)}) {
        if (!edit->hasFocus()) {
            edit->setText(theme::text_of(text));
        }
    }
    const QSignalBlocker quiet(m_plates);
    m_plates->clear();
    for (const Plate &plate : m_session.job().plates) {
        auto *item = new QTreeWidgetItem(m_plates);
        item->setText(0, theme::text_of(plate.ink));
        item->setText(1, plate.printing.deposit > 0 ? theme::text_of(format_number(plate.printing.deposit, 1))
                         : plate.printing.mesh > 0
                             ? tr("by mesh %1").arg(theme::text_of(format_number(plate.printing.mesh, 0)))
                             : QString());
        item->setText(2, theme::text_of(plate.printing.squeegee));
        item->setFlags(item->flags() | Qt::ItemIsEditable);
    }
    const int rows = std::min(8, m_plates->topLevelItemCount());
    m_plates->setFixedHeight(std::max(18, m_plates->sizeHintForRow(0)) * std::max(1, rows) +
                             m_plates->header()->sizeHint().height() + 8);
    showTicket();
}

void TicketPanel::measure()
{
    m_measuring.cancel();
    m_measuring = m_tasks.start(
        [opened = m_session.opened()](const JobControl &control) { return job_ticket(opened, control); },
        [this](Outcome<JobTicket> ticket) {
            if (ticket || ticket.error().code != ErrorCode::Cancelled) {
                m_known = std::move(ticket);
                showTicket();
            }
        });
}

void TicketPanel::stop()
{
    m_measuring.cancel();
}

void TicketPanel::forget()
{
    m_known.reset();
    m_work->clear();
}

void TicketPanel::showTicket()
{
    m_facts->clear();
    if (!m_known) {
        m_facts->add(tr("ink and film"), tr("being measured …"));
        return;
    }
    if (!*m_known) {
        m_facts->add(tr("not known"), theme::text_of((*m_known).error().message()));
        return;
    }
    const JobTicket &ticket = **m_known;
    const auto text = [](double value, int decimals) {
        return theme::text_of(format_number(value, decimals));
    };
    for (const TicketPlate &plate : ticket.plates) {
        const QString ink = theme::text_of(plate.ink);
        if (plate.kind == InkUse::Technical) {
            continue;
        }
        m_facts->add(
            ink,
            plate.deposit <= 0 ? tr("mesh and ink are not said")
            : plate.grams > 0
                ? tr("%1 cm², %2 g").arg(text(plate.area_cm2, 1), text(plate.grams, plate.grams < 10 ? 2 : 0))
                : tr("%1 cm², %2 g a piece").arg(text(plate.area_cm2, 1), text(plate.grams_a_piece, 3)));
    }
    m_facts->add(tr("film"), tr("%1 m²").arg(text(ticket.film_m2, 3)));
    if (ticket.minutes > 0) {
        m_facts->add(tr("on press"), tr("%1 min").arg(text(ticket.minutes, 0)));
    }
    if (ticket.cost() > 0) {
        m_facts->add(tr("cost"), QStringLiteral("%1 %2").arg(text(ticket.cost(), 2),
                                                             theme::text_of(ticket.run.currency)));
    }
}

void TicketPanel::write(bool proof)
{
    const QFileInfo file(m_session.path());
    const QString path =
        m_prompts.askSaveFile(proof ? FileUse::Proof : FileUse::Ticket,
                              file.absolutePath() + QLatin1Char('/') + file.completeBaseName() +
                                  (proof ? QStringLiteral(" proof.pdf") : QStringLiteral(" ticket.pdf")));
    if (path.isEmpty()) {
        return;
    }
    if (const Done good = may_replace(path.toStdString()); !good) {
        m_work->say(theme::text_of(good.error().message()), true);
        return;
    }
    if (const Done good = proof ? Done() : may_be_ticket(path.toStdString()); !good) {
        m_work->say(theme::text_of(good.error().message()), true);
        return;
    }
    m_work->run(
        [opened = m_session.opened(), path, proof](const JobControl &control) {
            return write_document(opened, path.toStdString(), proof, control);
        },
        [this, path](const Done &done) {
            m_work->say(done                                        ? tr("Written to %1").arg(path)
                        : done.error().code == ErrorCode::Cancelled ? tr("Stopped. Nothing was written.")
                                                                    : theme::text_of(done.error().message()),
                        !done);
        });
}

} // namespace bichrom
