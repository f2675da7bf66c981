#include "app/worktops/fit/size_panel.h"

#include "app/services/film_layout.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/fit/sheet_picture.h"
#include "core/artwork/page_boxes.h"
#include "core/job/edits/bleed.h"
#include "core/job/edits/resize.h"
#include "core/line/painted_area.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QPushButton>

#include <cmath>

namespace bichrom {

namespace {

QString millimetres(double mm)
{
    return theme::text_of(format_number(mm, 2));
}

} // namespace

SizePanel::SizePanel(Session &session, ViewState &view, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to give its print a size."), parent)
{
    setObjectName(QStringLiteral("sizePanel"));
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(0, 1);
    m_column->addLayout(grid);
    int row = 0;
    const auto field = [&](const char *object, const QString &name, const QString &unit, int decimals,
                           const NumberField::Read &read, const QString &tip = {}) {
        return make_number_field(object, name, unit, decimals, read, 82, tip, m_body);
    };
    const auto length = [&](const char *object, const QString &name, double low, double high,
                            const QString &tip = {}) {
        return field(object, name, tr("mm"), 2, NumberField::length(low, high), tip);
    };
    const auto percent = [&](const char *object, const QString &name, double low, double high,
                             const QString &tip = {}) {
        return field(object, name, QStringLiteral("%"), 3, NumberField::plain(QStringLiteral("%"), low, high),
                     tip);
    };
    const auto count = [&](const char *object, const QString &name) {
        return field(object, name, {}, 0, NumberField::plain({}, 1, 100));
    };
    const auto line = [&](const QString &words, QWidget *first, QWidget *second = nullptr) {
        grid->addWidget(make_label(words, 12, QFont::Normal, true, m_body), row, 0);
        if (second == nullptr) {
            grid->addWidget(first, row, 2);
        } else {
            grid->addWidget(first, row, 1);
            grid->addWidget(second, row, 2);
        }
        ++row;
    };
    m_of = new QComboBox(m_body);
    m_of->setObjectName(QStringLiteral("sizeOf"));
    m_of->setAccessibleName(tr("What is measured"));
    m_of->addItems({tr("the trim box"), tr("the whole page"), tr("what is painted")});
    grid->addWidget(make_label(tr("Finished size of"), 12, QFont::Normal, true, m_body), row, 0);
    grid->addWidget(m_of, row++, 1, 1, 2);
    m_width = length("finishedWidth", tr("Finished width"), 0.1, 20000,
                     tr("With any unit, such as 14in; the height follows"));
    m_height = length("finishedHeight", tr("Finished height"), 0.1, 20000,
                      tr("With any unit, such as 20cm; the width follows"));
    line(tr("Width, height"), m_width, m_height);
    m_percent = percent("scale", tr("Scale"), 1, 10000, tr("Of the size that the file has"));
    m_own = make_small_button("ownSize", tr("100 %"), tr("The size that the file has"), m_body);
    line(tr("Scale"), m_own, m_percent);
    m_words = make_label({}, 11, QFont::Normal, true, m_body);
    m_words->setObjectName(QStringLiteral("sizeWords"));
    m_words->setWordWrap(true);
    grid->addWidget(m_words, row++, 0, 1, 3);
    grid->addWidget(make_rule(m_body), row++, 0, 1, 3);
    m_bleed = length("bleedWidth", tr("Bleed made from the art"), 0, MadeBleed::most,
                     tr("Beyond the trim on all sides; 0 makes none. It takes the place of what the artwork "
                        "has there"));
    m_bleedBy = new QComboBox(m_body);
    m_bleedBy->setObjectName(QStringLiteral("bleedBy"));
    m_bleedBy->setAccessibleName(tr("How bleed is made"));
    m_bleedBy->addItems({tr("mirrored"), tr("drawn out")});
    m_bleedBy->setItemData(0, tr("The art is turned over at the trim"), Qt::ToolTipRole);
    m_bleedBy->setItemData(1, tr("The colours at the trim are drawn outwards"), Qt::ToolTipRole);
    line(tr("Bleed made"), m_bleedBy, m_bleed);
    const QString stretch = tr("What the press or the fabric takes away. Films and plate files only; what is "
                               "looked at, and dots, stay as they are");
    m_along = percent("stretchAlong", tr("Stretch along the page"), 50, 200, stretch);
    m_across = percent("stretchAcross", tr("Stretch across the page"), 50, 200, stretch);
    line(tr("Stretch ↓ →"), m_along, m_across);
    m_columns = count("copiesAcross", tr("Copies across"));
    m_rows = count("copiesDown", tr("Copies down"));
    line(tr("Copies → ↓"), m_columns, m_rows);
    m_gap = length("copyGap", tr("Between copies"), 0, 1000, tr("From one copy's page box to the next"));
    line(tr("Between them"), m_gap);
    m_ownSheet = new QCheckBox(tr("Film of a size of its own"), m_body);
    m_ownSheet->setObjectName(QStringLiteral("ownSheet"));
    m_ownSheet->setToolTip(tr("Else it is as small as art and marks allow"));
    grid->addWidget(m_ownSheet, row++, 0, 1, 3);
    m_sheetRow = new QWidget(m_body);
    auto *sheet = new QGridLayout(m_sheetRow);
    sheet->setContentsMargins(0, 0, 0, 0);
    sheet->setHorizontalSpacing(6);
    sheet->setVerticalSpacing(4);
    sheet->setColumnStretch(0, 1);
    m_sheetWidth = length("sheetWidth", tr("Width of the film"), 1, 10000);
    m_sheetHeight = length("sheetHeight", tr("Height of the film"), 1, 10000);
    sheet->addWidget(make_label(tr("Width, height"), 12, QFont::Normal, true, m_sheetRow), 0, 0);
    sheet->addWidget(m_sheetWidth, 0, 1);
    sheet->addWidget(m_sheetHeight, 0, 2);
    m_centred = new QCheckBox(tr("Centred"), m_sheetRow);
    m_centred->setObjectName(QStringLiteral("sheetCentred"));
    m_left = length("sheetLeft", tr("From the left edge to the art"), 0, 10000,
                    tr("From the film's left edge to the art"));
    m_top = length("sheetTop", tr("From the top edge to the art"), 0, 10000,
                   tr("From the film's top edge to the art"));
    sheet->addWidget(m_centred, 1, 0);
    sheet->addWidget(m_left, 1, 1);
    sheet->addWidget(m_top, 1, 2);
    grid->addWidget(m_sheetRow, row++, 0, 1, 3);
    m_picture = new SheetPicture(m_body);
    m_column->addWidget(m_picture, 1);
    m_facts = new FactList(m_body);
    m_facts->setObjectName(QStringLiteral("sizeFacts"));
    m_column->addWidget(m_facts);

    connect(m_of, &QComboBox::activated, this, [this] {
        measure();
        fill();
    });
    connect(m_width, &NumberField::valueEntered, this, [this](double mm) {
        const auto factor = factor_for(measured(), mm, 0);
        factor ? scaleBy(*factor, tr("Width %1 mm").arg(millimetres(mm))) : fill();
    });
    connect(m_height, &NumberField::valueEntered, this, [this](double mm) {
        const auto factor = factor_for(measured(), 0, mm);
        factor ? scaleBy(*factor, tr("Height %1 mm").arg(millimetres(mm))) : fill();
    });
    connect(m_percent, &NumberField::valueEntered, this, [this](double wanted) {
        scaleBy(wanted / 100 / m_session.job().placements.scale,
                tr("Scale %1 %").arg(theme::text_of(format_number(wanted, 3))));
    });
    connect(m_own, &QPushButton::clicked, this,
            [this] { scaleBy(1 / m_session.job().placements.scale, tr("The artwork's own size")); });
    connect(m_bleed, &NumberField::valueEntered, this, [this](double mm) {
        makeBleed({mm, m_session.job().placements.bleed.by},
                  mm > 0 ? tr("%1 mm of bleed made").arg(millimetres(mm)) : tr("No bleed made"));
    });
    connect(m_bleedBy, &QComboBox::activated, this, [this](int by) {
        makeBleed({m_session.job().placements.bleed.width, static_cast<BleedBy>(by)},
                  by == 0 ? tr("Bleed mirrored") : tr("Bleed drawn out"));
    });
    const auto edits = [this](NumberField *made, const QString &words, const auto &set) {
        connect(made, &NumberField::valueEntered, this, [this, words, set](double value) {
            changeFilm(words.arg(theme::text_of(format_number(value, 3))),
                       [&](FilmOptions &film) { set(film, value); });
        });
    };
    edits(m_along, tr("Stretch along %1 %"), [](FilmOptions &film, double v) { film.along = v / 100; });
    edits(m_across, tr("Stretch across %1 %"), [](FilmOptions &film, double v) { film.across = v / 100; });
    edits(m_columns, tr("%1 copies across"),
          [](FilmOptions &film, double v) { film.columns = static_cast<int>(v); });
    edits(m_rows, tr("%1 copies down"), [](FilmOptions &film, double v) { film.rows = static_cast<int>(v); });
    edits(m_gap, tr("%1 mm between copies"), [](FilmOptions &film, double v) { film.gap = v; });
    edits(m_sheetWidth, tr("Film %1 mm wide"), [](FilmOptions &film, double v) { film.sheet_width = v; });
    edits(m_sheetHeight, tr("Film %1 mm high"), [](FilmOptions &film, double v) { film.sheet_height = v; });
    edits(m_left, tr("Art %1 mm from the film's left"),
          [](FilmOptions &film, double v) { film.from_left = v; });
    edits(m_top, tr("Art %1 mm from the film's top"), [](FilmOptions &film, double v) { film.from_top = v; });
    connect(m_ownSheet, &QCheckBox::clicked, this, [this](bool on) {
        // It begins as large as it has to be, and the label's lines may grow.
        const auto now = film_layout(m_session);
        changeFilm(on ? tr("Film of a size of its own") : tr("Film as small as it can be"),
                   [&](FilmOptions &film) {
                       film.from_left = film.from_top = -1;
                       const auto round = [&](int pixels) {
                           return std::ceil((now ? now->to_length(pixels).value : 300) / 10) * 10 + 20;
                       };
                       film.sheet_width = on ? round(now ? now->width : 0) : 0;
                       film.sheet_height = on ? round(now ? now->height : 0) : 0;
                   });
    });
    connect(m_centred, &QCheckBox::clicked, this, [this](bool on) {
        const auto now = film_layout(m_session);
        changeFilm(on ? tr("Art in the middle of the film") : tr("Art at a place on the film"),
                   [&](FilmOptions &film) {
                       film.from_left = on || !now ? -1 : now->to_length(now->art.x).value;
                       film.from_top = on || !now ? -1 : now->to_length(now->art.y).value;
                   });
    });
    connect(&session.facts(), &Facts::printedChanged, this, &SizePanel::layOut);
    refresh();
}

Rect SizePanel::measured() const
{
    const auto of = static_cast<SizeOf>(m_of->currentIndex());
    return area_of_size(m_session.page()->info, m_painted.value() != nullptr ? *m_painted.value() : Rect(),
                        of);
}

void SizePanel::measure()
{
    if (static_cast<SizeOf>(m_of->currentIndex()) != SizeOf::Art) {
        return;
    }
    m_running.cancel();
    const quint64 ticket = m_painted.begin();
    m_running =
        m_tasks.start([page = m_session.page()](
                          const JobControl &control) { return painted_area(*page->plate_line, control); },
                      [this, ticket](Outcome<Rect> area) {
                          if (m_painted.take(ticket, std::move(area))) {
                              fill();
                          }
                      });
}

void SizePanel::scaleBy(double factor, const QString &text)
{
    const double scale = m_session.job().placements.scale * factor;
    if (!(scale >= 0.01 && scale <= 100)) { // a field says so itself, but for a width of another box
        fill();
        return;
    }
    if (auto job = resized(m_session.job(), factor, *m_session.page()->artwork)) {
        m_session.changeReading(*job, text);
    }
}

void SizePanel::makeBleed(const MadeBleed &bleed, const QString &text)
{
    if (auto job = with_made_bleed(m_session.job(), *m_session.page()->artwork, bleed)) {
        m_session.changeReading(*job, text);
    }
}

void SizePanel::changeFilm(const QString &text, const std::function<void(FilmOptions &)> &edit)
{
    Job job = m_session.job();
    edit(job.film);
    m_session.change(job, text);
}

void SizePanel::fill()
{
    const Job &job = m_session.job();
    const FilmOptions &film = job.film;
    const Rect size = measured();
    m_width->setValue(size.width);
    m_height->setValue(size.height);
    const bool paints = size.width > 0 && size.height > 0;
    m_width->setEnabled(paints);
    m_height->setEnabled(paints);
    m_percent->setValue(job.placements.scale * 100);
    m_own->setEnabled(job.placements.scale != 1);
    const bool of_art = static_cast<SizeOf>(m_of->currentIndex()) == SizeOf::Art;
    m_words->setText(of_art && m_painted.state() == Fact<Rect>::State::Running
                         ? tr("Looking what is painted …")
                     : of_art && m_painted.state() == Fact<Rect>::State::Failed
                         ? tr("What is painted cannot be measured: %1").arg(m_painted.fault())
                     : !paints ? tr("The page paints nothing that could be measured.")
                               : tr("In the file %1 × %2 mm. Traps and chokes keep their widths.")
                                     .arg(millimetres(size.width / job.placements.scale),
                                          millimetres(size.height / job.placements.scale)));
    m_bleed->setValue(job.placements.bleed.width);
    m_bleedBy->setCurrentIndex(static_cast<int>(job.placements.bleed.by));
    m_along->setValue(film.along * 100);
    m_across->setValue(film.across * 100);
    m_columns->setValue(film.columns);
    m_rows->setValue(film.rows);
    m_gap->setValue(film.gap);
    m_gap->setEnabled(film.columns * film.rows > 1);
    const bool own = film.sheet_width > 0 || film.sheet_height > 0;
    m_ownSheet->setChecked(own);
    m_sheetRow->setVisible(own);
    m_sheetWidth->setValue(film.sheet_width);
    m_sheetHeight->setValue(film.sheet_height);
    const bool centred = film.from_left < 0 && film.from_top < 0;
    m_centred->setChecked(centred);
    m_left->setEnabled(!centred);
    m_top->setEnabled(!centred);
    layOut();
}

void SizePanel::showEvent(QShowEvent *event)
{
    StagePanel::showEvent(event);
    if (m_session.isOpen()) {
        layOut();
    }
}

void SizePanel::layOut()
{
    if (!isVisible() || !m_session.isOpen()) {
        return;
    }
    const Job &job = m_session.job();
    const auto sheet = film_layout(m_session);
    m_picture->show(sheet, job.film.mirror);
    m_facts->clear();
    if (!sheet) {
        return; // the picture says why
    }
    const double left = sheet->to_length(sheet->art.x).value, top = sheet->to_length(sheet->art.y).value;
    if (job.film.from_left < 0) {
        m_left->setValue(left);
    }
    if (job.film.from_top < 0) {
        m_top->setValue(top);
    }
    const double area = sheet->to_length(sheet->width).value * sheet->to_length(sheet->height).value / 100;
    const auto plates = static_cast<int>(job.plates.size());
    m_facts->add(tr("film size"), sheet_size_words(*sheet));
    m_facts->add(
        tr("film used"),
        tr("%1 cm² each, %2 for all %3").arg(area, 0, 'f', 0).arg(area * plates, 0, 'f', 0).arg(plates));
    const double art = sheet->to_length(sheet->copy_width).value *
                       sheet->to_length(sheet->copy_height).value * sheet->columns * sheet->rows / 100;
    m_facts->add(tr("of it art"), tr("%1 %").arg(100 * art / area, 0, 'f', 0));
}

} // namespace bichrom
