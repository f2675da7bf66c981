#include "app/worktops/receive/contents_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/layer_table.h"
#include "app/worktops/receive/ink_table.h"
#include "app/worktops/receive/page_ink_grid.h"
#include "core/artwork/found_colours.h"
#include "core/artwork/page_boxes.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QPushButton>
#include <QRegularExpression>
#include <QToolButton>

#include <algorithm>
#include <map>

namespace bichrom {

ContentsPanel::ContentsPanel(Session &session, ViewState &view, Router &router, Spotlight &spotlight,
                             QWidget *parent)
    : QWidget(parent), m_session(session), m_spotlight(spotlight),
      m_inksSeen(this, [this] { refreshInks(); }), m_pageSeen(this, [this] {
          refreshPainted();
          refreshPage();
      })
{
    setObjectName(QStringLiteral("contentsPanel"));
    QVBoxLayout *column = make_scrolling_column(this);
    column->setContentsMargins(16, 8, 16, 10);
    column->setSpacing(6);
    QWidget *content = column->parentWidget();
    column->addWidget(make_heading(tr("Inks found"), content));
    m_units = make_label({}, 11, QFont::Normal, true, content);
    m_units->setObjectName(QStringLiteral("unitsNeeded"));
    m_units->setWordWrap(true);
    column->addWidget(m_units);
    m_inks = new InkTable(content);
    m_inks->setObjectName(QStringLiteral("inksFound"));
    column->addWidget(m_inks);
    auto *grid = new PageInkGrid(session, content);
    column->addWidget(grid);
    connect(grid, &PageInkGrid::cellChosen, this, [this, &view](int page, const QString &ink) {
        m_session.showPage(page);
        view.setAlone(ink);
    });

    auto *layers = new LayerTable(session, router, content);
    layers->setObjectName(QStringLiteral("layersFound"));
    column->addWidget(layers);

    m_pinsGroup = new QWidget(content);
    m_pinsGroup->setObjectName(QStringLiteral("heldSamples"));
    auto *pins = new QVBoxLayout(m_pinsGroup);
    pins->setContentsMargins(0, 0, 0, 0);
    pins->setSpacing(4);
    pins->addWidget(make_rule(m_pinsGroup));
    auto *head = new QHBoxLayout();
    head->addWidget(make_heading(tr("Held samples"), m_pinsGroup));
    head->addStretch();
    m_copy = new QPushButton(tr("Copy"), m_pinsGroup);
    m_copy->setObjectName(QStringLiteral("copySamples"));
    m_copy->setToolTip(tr("As a table for a spreadsheet or a letter"));
    head->addWidget(m_copy);
    pins->addLayout(head);
    m_pinsColumn = new QVBoxLayout();
    m_pinsColumn->setSpacing(4);
    pins->addLayout(m_pinsColumn);
    column->addWidget(m_pinsGroup);
    connect(m_copy, &QPushButton::clicked, this,
            [this] { QApplication::clipboard()->setText(samplesText()); });

    const auto group = [&](const QString &name, const char *object) {
        column->addSpacing(2);
        column->addWidget(make_rule(content));
        column->addWidget(make_heading(name, content));
        auto *facts = new FactList(content);
        facts->setObjectName(QString::fromLatin1(object));
        column->addWidget(facts);
        return facts;
    };
    m_painted = group(tr("Painted"), "painted");
    m_boxes = group(tr("Page"), "pageBoxes");
    m_fonts = group(tr("Fonts"), "fontsFound");
    m_about = group(tr("File"), "aboutFile");
    column->addStretch();
    const auto take_page = [this] {
        m_inksSeen.refresh();
        m_pageSeen.refresh();
        samplePins();
    };
    connect(&m_session, &Session::pageChanged, this, take_page);
    connect(&m_session.facts(), &Facts::coverageChanged, &m_inksSeen, &WhenSeen::refresh);
    connect(&m_session, &Session::jobChanged, this, [this] {
        m_inksSeen.refresh();
        samplePins();
    });
    take_page();
}

QString ContentsPanel::length(double mm) const
{
    return theme::text_of(format_length(Millimetres(mm), m_unit, m_unit == LengthUnit::Inch ? 3 : 2));
}

void ContentsPanel::setUnit(LengthUnit unit)
{
    m_unit = unit;
    m_pageSeen.refresh();
}

void ContentsPanel::refreshInks()
{
    std::vector<InkTable::Row> rows;
    m_units->clear();
    if (m_session.isOpen()) {
        const Scene &scene = m_session.page()->scene;
        const Rect trim = m_session.trimArea();
        for (const FoundInk &ink : scene.inks) {
            const double share = m_session.facts().sourceCoverage(ink.name);
            rows.push_back(
                {theme::text_of(ink.name), ink.kind == InkKind::Process ? tr("process") : tr("spot"),
                 theme::ink_color(ink.solid), share, share * trim.width * trim.height / 100.0, ink.objects});
        }
        const auto &plates = m_session.job().plates; // of all pages; cut and crease lines are not printed
        const auto needed =
            static_cast<int>(std::count_if(plates.begin(), plates.end(), [](const Plate &plate) {
                return plate.kind != InkUse::Technical;
            }));
        const int units = m_session.facts().rules().press.units;
        const QString press = theme::text_of(m_session.facts().rules().name);
        m_units->setText(
            needed <= units
                ? tr("%1 press units needed; %2 has %3. Shares are of the trim.")
                      .arg(needed)
                      .arg(press)
                      .arg(units)
                : tr("%1 press units needed, but %2 has only %3: %4 runs. Shares are of the trim.")
                      .arg(needed)
                      .arg(press)
                      .arg(units)
                      .arg((needed + units - 1) / units));
        if (scene.uses_registration_colour) {
            m_units->setText(m_units->text() + QLatin1Char('\n') +
                             tr("Something is painted in the registration colour (All): on every plate."));
        }
    }
    m_inks->setRows(std::move(rows));
}

void ContentsPanel::refreshPainted()
{
    m_painted->clear();
    if (!m_session.isOpen()) {
        return;
    }
    const Scene &scene = m_session.page()->scene;
    std::map<ObjectKind, int> kinds;
    double thinnest = -1;
    double lowest_ppi = -1;
    for (const SceneObject &object : scene.objects) {
        ++kinds[object.kind];
        if (object.kind == ObjectKind::Stroke && (thinnest < 0 || object.stroke_width < thinnest)) {
            thinnest = object.stroke_width;
        }
        if (object.kind == ObjectKind::Image && (lowest_ppi < 0 || object.image_ppi < lowest_ppi)) {
            lowest_ppi = object.image_ppi;
        }
    }
    const std::pair<ObjectKind, QString> names[] = {
        {ObjectKind::Fill, tr("filled shapes")},  {ObjectKind::Stroke, tr("lines")},
        {ObjectKind::Text, tr("pieces of text")}, {ObjectKind::StrokedText, tr("pieces of outlined text")},
        {ObjectKind::Image, tr("pictures")},      {ObjectKind::ImageMask, tr("stencils")},
        {ObjectKind::Shading, tr("shadings")}};
    for (const auto &[kind, name] : names) {
        if (kinds[kind] > 0) {
            m_painted->add(name, QString::number(kinds[kind]));
        }
    }
    if (thinnest >= 0) {
        m_painted->add(tr("thinnest line"), tr("%1 pt").arg(theme::text_of(format_number(thinnest, 3))));
    }
    if (lowest_ppi >= 0) {
        m_painted->add(tr("lowest picture resolution"), tr("%1 ppi").arg(lowest_ppi, 0, 'f', 0));
    }
    const auto yes_no = [](bool yes) { return yes ? tr("yes") : tr("no"); };
    m_painted->add(tr("colours as written"), QString::number(find_colours(scene).size()));
    m_painted->add(tr("overprint"), yes_no(scene.uses_overprint));
    m_painted->add(tr("transparency"), yes_no(scene.uses_transparency));
}

void ContentsPanel::refreshPage()
{
    for (FactList *facts : {m_boxes, m_fonts, m_about}) {
        facts->clear();
    }
    if (!m_session.isOpen()) {
        return;
    }
    const Artwork &artwork = m_session.artwork();
    const LoadedPage &page = *m_session.page();
    const std::pair<PageBox, QString> boxes[] = {{PageBox::Media, tr("media box")},
                                                 {PageBox::Crop, tr("crop box")},
                                                 {PageBox::Bleed, tr("bleed box")},
                                                 {PageBox::Trim, tr("trim box")},
                                                 {PageBox::Art, tr("art box")}};
    for (const auto &[box, name] : boxes) {
        const Rect area = box_within(page.info, box, PageBox::Media);
        const bool written = page.info.written[static_cast<std::size_t>(box)];
        m_boxes->add(
            written ? name : tr("%1, not given").arg(name),
            tr("%1 × %2").arg(length(area.width).section(QLatin1Char(' '), 0, 0), // one unit for both
                              length(area.height)),
            tr("from the media box's left %1, from its top %2").arg(length(area.x), length(area.y)));
    }
    m_boxes->add(tr("rotated"), tr("%1°").arg(page.info.rotate));
    if (!page.info.annotations.empty()) {
        m_boxes->add(tr("notes and stamps that print"), QString::number(page.info.annotations.size()));
    }
    // A subset's name begins with six capitals and a plus sign (ISO 32000-1, 9.6.4).
    static const QRegularExpression subset(QStringLiteral("^[A-Z]{6}\\+"));
    std::map<QString, bool> fonts;
    for (const SceneObject &object : page.scene.objects) {
        for (const TextRun &run : object.runs) {
            fonts[theme::text_of(run.font).remove(subset)] = run.embedded;
        }
    }
    for (const auto &[font, embedded] : fonts) {
        m_fonts->add(font, embedded ? tr("embedded") : tr("not embedded"));
    }
    if (fonts.empty()) {
        m_fonts->add(tr("no text"), {});
    }
    m_about->add(tr("kind"), QString::fromLatin1(to_string(artwork.kind())));
    m_about->add(tr("pages"), QString::number(artwork.page_count()));
    m_about->add(tr("size"), tr("%1 KB").arg(QString::number(
                                 static_cast<double>(artwork.bytes().size()) / 1024.0, 'f', 0)));
    m_about->add(tr("fingerprint"), theme::text_of(artwork.sha256().substr(0, 12)) + QStringLiteral("…"),
                 tr("SHA-256 of the original: %1").arg(theme::text_of(artwork.sha256())));
}

void ContentsPanel::samplePins()
{
    const std::vector<Pin> pins = m_session.isOpen() ? m_session.job().pins : std::vector<Pin>();
    const auto page = m_session.isOpen() ? m_session.page() : nullptr;
    if (pins == m_sampledPins && page == m_sampledPage) {
        return;
    }
    m_sampledPins = pins;
    m_sampledPage = page;
    m_samples.clear();
    refreshPins();
    m_sampling.cancel();
    if (pins.empty()) {
        return;
    }
    std::vector<PixelRect> places; // empty for those of other pages
    for (const Pin &pin : pins) {
        if (pin.page != page->info.number) {
            places.emplace_back();
            continue;
        }
        const QRectF area = m_session.shownArea({pin.x, pin.y, pin.width, pin.height});
        places.push_back(
            pin.width > 0 ? sample_area(*page->plate_line, {area.x(), area.y(), area.width(), area.height()})
                          : sample_square(*page->plate_line, area.x(), area.y(), 1));
    }
    m_sampling = m_tasks.start(
        [page, places](const JobControl &control) -> Outcome<std::vector<CoreSample>> {
            std::vector<CoreSample> samples;
            for (const PixelRect &place : places) {
                if (place.empty()) {
                    samples.emplace_back();
                    continue;
                }
                auto sample = take_sample(*page->plate_line, place, control);
                if (!sample) {
                    return sample.error();
                }
                samples.push_back(std::move(*sample));
            }
            return samples;
        },
        [this, request = ++m_request](Outcome<std::vector<CoreSample>> samples) {
            if (request == m_request && samples) {
                m_samples = std::move(*samples);
                refreshPins();
            }
        });
}

void ContentsPanel::refreshPins()
{
    while (QLayoutItem *item = m_pinsColumn->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    m_pinsGroup->setVisible(!m_sampledPins.empty());
    for (std::size_t i = 0; i < m_sampledPins.size(); ++i) {
        auto *line = new QWidget(m_pinsGroup);
        auto *row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(6);
        auto *show = new QToolButton(line);
        show->setObjectName(QStringLiteral("showSample%1").arg(i + 1));
        show->setText(QString::number(i + 1));
        show->setToolTip(tr("Show where it was taken"));
        QStringList tones;
        double total = 0;
        if (i < m_samples.size()) {
            const auto &inks = m_sampledPage->plate_line->inks();
            for (std::size_t k = 0; k < inks.size() && k < m_samples[i].tones.size(); ++k) {
                total += m_samples[i].tones[k];
                if (m_samples[i].tones[k] > 0) {
                    tones << theme::text_of(inks[k]) + QLatin1Char(' ') +
                                 theme::percent(m_samples[i].tones[k]);
                }
            }
        }
        QLabel *words = make_label(
            m_sampledPins[i].page != m_sampledPage->info.number ? tr("on page %1").arg(m_sampledPins[i].page)
            : i >= m_samples.size()                             ? QStringLiteral("…")
            : tones.isEmpty()
                ? tr("bare")
                : tr("%1\ntotal %2").arg(tones.join(QStringLiteral(", ")), theme::percent(total)),
            12, QFont::Normal, false, line);
        words->setWordWrap(true);
        auto *drop = new QToolButton(line);
        drop->setObjectName(QStringLiteral("dropSample%1").arg(i + 1));
        drop->setText(QStringLiteral("×"));
        drop->setAccessibleName(tr("Drop sample %1").arg(i + 1));
        drop->setToolTip(tr("Drop this sample"));
        row->addWidget(show, 0, Qt::AlignTop);
        row->addWidget(words, 1);
        row->addWidget(drop, 0, Qt::AlignTop);
        m_pinsColumn->addWidget(line);
        connect(show, &QToolButton::clicked, this, [this, pin = m_sampledPins[i]] {
            if (pin.page != m_session.job().page) {
                m_session.showPage(pin.page);
                return;
            }
            const QRectF area = m_session.shownArea({pin.x, pin.y, pin.width, pin.height});
            m_spotlight.light({area}, 0, {}, -1, true);
        });
        connect(
            drop, &QToolButton::clicked, this,
            [this, i] {
                Job job = m_session.job();
                if (i < job.pins.size()) {
                    job.pins.erase(job.pins.begin() + static_cast<std::ptrdiff_t>(i));
                    m_session.change(job, tr("Drop sample %1").arg(i + 1));
                }
            },
            Qt::QueuedConnection); // the button goes with its row
    }
}

QString ContentsPanel::samplesText() const
{
    if (m_sampledPage == nullptr) {
        return {};
    }
    QStringList head = {tr("sample"), tr("x mm"), tr("y mm")};
    for (const std::string &ink : m_sampledPage->plate_line->inks()) {
        head << theme::text_of(ink) + QStringLiteral(" %");
    }
    head << tr("total %");
    QStringList lines = {head.join(QLatin1Char('\t'))};
    for (std::size_t i = 0; i < m_samples.size() && i < m_sampledPins.size(); ++i) {
        const Pin &pin = m_sampledPins[i];
        QStringList fields = {QString::number(i + 1), theme::text_of(format_number(pin.x, 2)),
                              theme::text_of(format_number(pin.y, 2))};
        for (const double tone : m_samples[i].tones) {
            fields << theme::text_of(format_number(tone * 100.0, 1));
        }
        fields << theme::text_of(format_number(m_samples[i].total() * 100.0, 1));
        lines << fields.join(QLatin1Char('\t'));
    }
    return lines.join(QLatin1Char('\n'));
}

} // namespace bichrom
