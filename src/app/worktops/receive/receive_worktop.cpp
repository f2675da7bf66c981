#include "app/worktops/receive/receive_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/artwork/found_colours.h"

#include <QComboBox>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QRegularExpression>

#include <algorithm>
#include <map>
#include <set>

namespace bichrom {

namespace {

QString size_of(const Rect &box)
{
    return QStringLiteral("%1 × %2 mm")
        .arg(theme::text_of(format_number(box.width, 2)), theme::text_of(format_number(box.height, 2)));
}

QString yes_no(bool yes)
{
    return yes ? ReceiveWorktop::tr("yes") : ReceiveWorktop::tr("no");
}

} // namespace

ReceiveWorktop::ReceiveWorktop(Session &session, QWidget *parent) : QWidget(parent), m_session(session)
{
    setObjectName(QStringLiteral("receiveWorktop"));
    QVBoxLayout *column = make_scrolling_column(this);
    QWidget *content = column->parentWidget();
    column->setSpacing(6);

    column->addWidget(make_heading(tr("Receive"), content));
    m_file = make_label({}, 12, QFont::Medium, false, content);
    m_file->setObjectName(QStringLiteral("fileName"));
    m_file->setWordWrap(true);
    column->addWidget(m_file);
    m_promise = make_label({}, 11, QFont::Normal, true, content);
    m_promise->setWordWrap(true);
    column->addWidget(m_promise);
    auto *page_row = new QHBoxLayout();
    m_pageLabel = make_label(tr("Page"), 12, QFont::Normal, true, content);
    m_page = new QComboBox(content);
    m_page->setObjectName(QStringLiteral("pageChooser"));
    m_page->setAccessibleName(tr("Page"));
    page_row->addWidget(m_pageLabel);
    page_row->addStretch();
    page_row->addWidget(m_page);
    column->addLayout(page_row);
    connect(m_page, &QComboBox::activated, this, [this](int index) { Q_EMIT pageChosen(index + 1); });

    const auto group = [&](const QString &name) {
        column->addSpacing(4);
        column->addWidget(make_rule(content));
        column->addWidget(make_heading(name, content));
        auto *facts = new FactList(content);
        column->addWidget(facts);
        return facts;
    };
    m_inks = group(tr("Inks found"));
    m_inks->setObjectName(QStringLiteral("inksFound"));
    m_contents = group(tr("Painted"));
    m_boxes = group(tr("Page"));
    m_about = group(tr("File"));
    m_notesHead = make_heading(tr("Read with these assumptions"), content);
    column->addSpacing(4);
    column->addWidget(m_notesHead);
    m_notes = make_label({}, 12, QFont::Normal, false, content);
    m_notes->setWordWrap(true);
    m_notes->setStyleSheet(
        QStringLiteral("background: %1; border: 1px solid %2; color: %3; padding: 8px; font-size: 12px;")
            .arg(theme::amberField.name(), theme::amber.name(), theme::amberText.name()));
    column->addWidget(m_notes);
    column->addStretch();
    connect(&m_session, &Session::pageChanged, this, &ReceiveWorktop::refresh);
    connect(&m_session, &Session::coverageChanged, this, &ReceiveWorktop::refresh);
    refresh();
}

void ReceiveWorktop::refresh()
{
    for (FactList *facts : {m_inks, m_contents, m_boxes, m_about}) {
        facts->clear();
    }
    const bool open = m_session.isOpen();
    m_page->setVisible(open && m_session.artwork().page_count() > 1);
    m_pageLabel->setVisible(m_page->isVisibleTo(this));
    m_notes->setVisible(false);
    m_notesHead->setVisible(false);
    if (!open) {
        m_file->setText(tr("No artwork is open."));
        m_promise->setText(
            tr("This stage shows what a customer's file contains: inks, sizes, pictures and layers."));
        return;
    }
    const Artwork &artwork = m_session.artwork();
    const LoadedPage &page = *m_session.page();
    const Scene &scene = page.scene;
    m_file->setText(QFileInfo(theme::text_of(artwork.name())).fileName());
    m_promise->setText(tr("Only looked at: the file is kept as it came."));
    if (m_page->count() != artwork.page_count()) {
        m_page->clear();
        for (int i = 1; i <= std::min(artwork.page_count(), 2000); ++i) {
            m_page->addItem(tr("%1 of %2").arg(i).arg(artwork.page_count()));
        }
    }
    m_page->setCurrentIndex(m_session.job().page - 1);

    const PageContent &content = page.renderer->page();
    const double page_cm2 =
        to_millimetres(content.width()).value * to_millimetres(content.height()).value / 100.0;
    for (const FoundInk &ink : scene.inks) {
        const double share = m_session.coverage(ink.name);
        QString amount = QStringLiteral("…");
        if (share >= 0) {
            const double area = share * page_cm2;
            amount = tr("%1   %2 cm²")
                         .arg(theme::percent(share, 2), QString::number(area, 'f', area < 10 ? 2 : 1));
        }
        const QString kind = ink.kind == InkKind::Process ? tr("process") : tr("spot");
        m_inks->add(QStringLiteral("%1\n%2").arg(theme::text_of(ink.name), kind),
                    QStringLiteral("%1\n%2").arg(
                        amount, ink.objects == 1 ? tr("1 object") : tr("%1 objects").arg(ink.objects)));
    }
    if (scene.inks.empty()) {
        m_inks->add(tr("none: the page paints nothing"), {});
    }

    std::map<ObjectKind, int> kinds;
    std::set<std::string> fonts;
    double thinnest = -1;
    double lowest_ppi = -1;
    for (const SceneObject &object : scene.objects) {
        ++kinds[object.kind];
        if (!object.font.empty()) {
            fonts.insert(object.font);
        }
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
            m_contents->add(name, QString::number(kinds[kind]));
        }
    }
    if (thinnest >= 0) {
        m_contents->add(tr("thinnest line"), theme::text_of(format_length(to_millimetres(Points(thinnest)),
                                                                          LengthUnit::Millimetre, 3)));
    }
    if (lowest_ppi >= 0) {
        m_contents->add(tr("lowest picture resolution"), tr("%1 ppi").arg(lowest_ppi, 0, 'f', 0));
    }
    m_contents->add(tr("colours as written"), QString::number(find_colours(scene).size()));
    m_contents->add(tr("overprint"), yes_no(scene.uses_overprint));
    m_contents->add(tr("transparency"), yes_no(scene.uses_transparency));
    if (scene.uses_registration_colour) {
        m_contents->add(tr("registration colour (All)"), yes_no(true));
    }
    for (const std::string &font : fonts) {
        // A subset's name begins with six capitals and a plus sign (ISO 32000-1, 9.6.4).
        static const QRegularExpression subset(QStringLiteral("^[A-Z]{6}\\+"));
        m_contents->add(tr("font"), theme::text_of(font).remove(subset));
    }

    const std::pair<PageBox, QString> boxes[] = {{PageBox::Media, tr("media box")},
                                                 {PageBox::Crop, tr("crop box")},
                                                 {PageBox::Bleed, tr("bleed box")},
                                                 {PageBox::Trim, tr("trim box")},
                                                 {PageBox::Art, tr("art box")}};
    for (const auto &[box, name] : boxes) {
        m_boxes->add(name, size_of(page.info.box(box)));
    }
    m_boxes->add(tr("rotated"), tr("%1°").arg(page.info.rotate));
    for (const Layer &layer : artwork.layers()) {
        m_boxes->add(tr("layer %1").arg(theme::text_of(layer.name)),
                     layer.prints ? tr("prints") : tr("hidden"));
    }
    m_about->add(tr("pages"), QString::number(artwork.page_count()));
    m_about->add(tr("size"), tr("%1 KB").arg(QString::number(
                                 static_cast<double>(artwork.bytes().size()) / 1024.0, 'f', 0)));
    m_about->add(tr("fingerprint"), theme::text_of(artwork.sha256().substr(0, 12)) + QStringLiteral("…"),
                 tr("SHA-256 of the original: %1").arg(theme::text_of(artwork.sha256())));
    QStringList notes;
    for (const std::string &warning : content.warnings()) {
        notes << theme::text_of(warning);
    }
    for (const std::string &warning : m_session.opened().warnings) {
        if (!notes.contains(theme::text_of(warning))) {
            notes << theme::text_of(warning);
        }
    }
    m_notes->setText(notes.join(QLatin1Char('\n')));
    m_notes->setVisible(!notes.isEmpty());
    m_notesHead->setVisible(!notes.isEmpty());
}

} // namespace bichrom
