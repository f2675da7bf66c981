#include "app/worktops/fit/overprint_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/job/routing.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QSignalBlocker>

#include <algorithm>
#include <memory>

namespace bichrom {

namespace {

constexpr Dpi map_resolution(200);

/// What the patterns on the light table mean.
class Legend : public QWidget
{
public:
    explicit Legend(QWidget *parent) : QWidget(parent) { setFixedHeight(3 * row); }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter painter(this);
        painter.setFont(theme::font(11));
        const QString words[] = {OverprintPanel::tr("overprints, as in the file"),
                                 OverprintPanel::tr("made to overprint"),
                                 OverprintPanel::tr("made to knock out")};
        for (int i = 0; i < 3; ++i) {
            const QRect sample(0, i * row + 2, 28, row - 5);
            painter.fillRect(sample, Qt::white);
            painter.setPen(theme::text);
            painter.save();
            painter.setClipRect(sample);
            for (int at = -row; at < sample.width() + row && i < 2; at += 5) {
                painter.drawLine(sample.x() + at, sample.bottom(), sample.x() + at + row,
                                 sample.bottom() - row);
                if (i == 1) {
                    painter.drawLine(sample.x() + at, sample.top(), sample.x() + at + row,
                                     sample.top() + row);
                }
            }
            for (int x = 0; x < sample.width() && i == 2; x += 4) {
                for (int y = 0; y < sample.height(); y += 4) {
                    painter.fillRect(sample.x() + x, sample.y() + y, 2, 2, theme::text);
                }
            }
            painter.restore();
            painter.drawText(QRect(36, i * row, width() - 36, row), Qt::AlignVCenter, words[i]);
        }
    }

private:
    static constexpr int row = 18;
};

} // namespace

OverprintPanel::OverprintPanel(Session &session, ViewState &view, Choice &choice, Spotlight &spotlight,
                               QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to decide what overprints."), parent), m_choice(choice),
      m_spotlight(spotlight)
{
    setObjectName(QStringLiteral("overprintPanel"));
    QVBoxLayout *column = m_column;
    column->addWidget(make_label(tr("Rules of the house"), 12, QFont::DemiBold, false, m_body));
    const auto box = [&](const char *object, const QString &words) {
        auto *made = new QCheckBox(words, m_body);
        made->setObjectName(QLatin1String(object));
        return made;
    };
    const auto sized = [&](QCheckBox *check, NumberField *field, const char *object, const QString &words) {
        field->setObjectName(QLatin1String(object));
        field->setAccessibleName(words);
        field->setFixedWidth(78);
        auto *row = new QHBoxLayout();
        row->addWidget(check);
        row->addStretch();
        row->addWidget(field);
        column->addLayout(row);
    };
    m_blackText = box("blackText", tr("Black text overprints up to"));
    m_textSize = new NumberField(tr("pt"), 1, NumberField::plain(tr("pt"), 1, 144), m_body);
    sized(m_blackText, m_textSize, "textSize", tr("Size up to which black text overprints"));
    m_blackLines = box("blackLines", tr("Black lines overprint up to"));
    m_lineWidth = new NumberField(tr("pt"), 2, NumberField::plain(tr("pt"), 0, 20), m_body);
    sized(m_blackLines, m_lineWidth, "lineWidth", tr("Width up to which black lines overprint"));
    m_white = box("whiteKnocksOut", tr("White always knocks out"));
    m_finishing = box("finishingOverprints", tr("Varnish, cut and crease always overprint"));
    m_foil = box("foilKnocksOut", tr("Foil always knocks out"));
    for (QCheckBox *one : {m_white, m_finishing, m_foil}) {
        column->addWidget(one);
    }
    column->addWidget(make_rule(m_body));
    m_about = new QComboBox(m_body);
    m_about->setObjectName(QStringLiteral("overprintAbout"));
    m_about->setAccessibleName(tr("What is decided about"));
    m_about->addItems({tr("The object chosen"), tr("All of its colour"), tr("All on the chosen plate")});
    column->addWidget(m_about);
    m_what = make_label({}, 11, QFont::Normal, true, m_body);
    m_what->setObjectName(QStringLiteral("overprintWhat"));
    m_what->setWordWrap(true);
    column->addWidget(m_what);
    auto *row = new QHBoxLayout();
    row->setSpacing(4);
    m_wishes = new QButtonGroup(this);
    const std::pair<OverprintWish, QString> wishes[] = {{OverprintWish::AsFile, tr("As in the file")},
                                                        {OverprintWish::Overprint, tr("Overprint")},
                                                        {OverprintWish::KnockOut, tr("Knock out")}};
    for (const auto &[wish, words] : wishes) {
        auto *button = new QPushButton(words, m_body);
        button->setObjectName(QStringLiteral("wish ") + QString::fromLatin1(to_string(wish)));
        button->setCheckable(true);
        button->setProperty("target", true);
        button->setStyleSheet(QStringLiteral("padding: 3px 8px;"));
        m_wishes->addButton(button, static_cast<int>(wish));
        row->addWidget(button);
    }
    row->addStretch();
    column->addLayout(row);
    m_rules = new QListWidget(m_body);
    m_rules->setObjectName(QStringLiteral("overprintRules"));
    m_rules->setAccessibleName(tr("What is decided"));
    m_rules->setStyleSheet(theme::listStyle());
    m_rules->setFont(theme::font(11));
    m_rules->setTextElideMode(Qt::ElideMiddle);
    m_rules->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_rules, 1);
    m_remove =
        make_small_button("removeRule", tr("As in the file again"), tr("Takes this decision back"), m_body);
    column->addWidget(m_remove, 0, Qt::AlignLeft);
    column->addWidget(make_rule(m_body));
    m_words = make_label({}, 11, QFont::Normal, true, m_body);
    m_words->setObjectName(QStringLiteral("overprintWords"));
    m_words->setWordWrap(true);
    column->addWidget(m_words);
    m_draw = box("showOverprint", tr("Show where"));
    column->addWidget(m_draw);
    m_legend = new Legend(m_body);
    column->addWidget(m_legend);
    column->addStretch();

    const auto house = [&](QCheckBox *check, bool HouseOverprint::*member, const QString &words) {
        connect(check, &QCheckBox::clicked, this, [this, member, words](bool on) {
            changeHouse(words, [&](HouseOverprint &rules) { rules.*member = on; });
        });
    };
    house(m_blackText, &HouseOverprint::black_text, tr("Black text overprints"));
    house(m_blackLines, &HouseOverprint::black_lines, tr("Black lines overprint"));
    house(m_white, &HouseOverprint::white_knocks_out, tr("White knocks out"));
    house(m_finishing, &HouseOverprint::finishing_overprints, tr("Finishing overprints"));
    house(m_foil, &HouseOverprint::foil_knocks_out, tr("Foil knocks out"));
    connect(m_textSize, &NumberField::valueEntered, this, [this](double points) {
        changeHouse(tr("Black text overprints up to %1 pt").arg(points), [&](HouseOverprint &rules) {
            rules.text_size = points;
            rules.black_text = true;
        });
    });
    connect(m_lineWidth, &NumberField::valueEntered, this, [this](double points) {
        changeHouse(tr("Black lines overprint up to %1 pt").arg(points), [&](HouseOverprint &rules) {
            rules.line_width = points;
            rules.black_lines = true;
        });
    });
    connect(m_about, &QComboBox::activated, this, &OverprintPanel::refreshChosen);
    connect(m_wishes, &QButtonGroup::idClicked, this,
            [this](int id) { decide(static_cast<OverprintWish>(id)); });
    connect(m_rules, &QListWidget::currentRowChanged, this,
            [this](int at) { m_remove->setVisible(at >= 0); });
    connect(m_remove, &QPushButton::clicked, this, [this] {
        const int at = m_rules->currentRow();
        Job job = m_session.job();
        if (at >= 0 && static_cast<std::size_t>(at) < job.overprint.rules.size()) {
            job.overprint.rules.erase(job.overprint.rules.begin() + at);
            m_session.change(job, tr("Overprint as in the file again"));
        }
    });
    connect(m_draw, &QCheckBox::clicked, this, &OverprintPanel::draw);
    connect(&m_choice, &Choice::plateChanged, this, [this] {
        m_about->setCurrentIndex(static_cast<int>(About::Plate));
        refreshChosen();
    });
    connect(&m_spotlight, &Spotlight::changed, this, [this] {
        if (m_spotlight.object() >= 0 && m_about->currentIndex() == static_cast<int>(About::Plate)) {
            m_about->setCurrentIndex(static_cast<int>(About::Object));
        }
        refreshChosen();
    });
    connect(&m_choice, &Choice::colourChanged, this, &OverprintPanel::refreshChosen);
    refresh();
}

void OverprintPanel::changeHouse(const QString &text, const std::function<void(HouseOverprint &)> &edit)
{
    Job job = m_session.job();
    edit(job.overprint.house);
    m_session.change(job, text);
}

std::optional<Route> OverprintPanel::source(About about) const
{
    if (!m_session.isOpen()) {
        return std::nullopt;
    }
    const Scene &scene = m_session.page()->scene;
    Route route;
    switch (about) {
    case About::Object: {
        const int object = m_spotlight.object();
        if (object < 0 || static_cast<std::size_t>(object) >= scene.objects.size()) {
            return std::nullopt;
        }
        route.by = RouteBy::Objects;
        route.artwork = scene.objects[static_cast<std::size_t>(object)].artwork;
        route.objects = {m_session.markOf(object)};
        return route;
    }
    case About::Colour: {
        const int colour = m_choice.colour();
        if (colour < 0 || static_cast<std::size_t>(colour) >= scene.colours.size() ||
            scene.colours[static_cast<std::size_t>(colour)].colour.values.empty()) {
            return std::nullopt;
        }
        return route_from(scene, m_session.job().page, {colour}, 0);
    }
    case About::Plate:
        break;
    }
    route.by = RouteBy::Ink;
    route.name = m_choice.plate().toStdString();
    return m_session.job().find_plate(route.name) < 0 ? std::nullopt : std::optional(route);
}

void OverprintPanel::decide(OverprintWish wish)
{
    const auto about = source(static_cast<About>(m_about->currentIndex()));
    if (!about) {
        return;
    }
    Job job = m_session.job();
    job.overprint = with_rule(std::move(job.overprint), {*about, wish});
    m_session.change(job, wish == OverprintWish::Overprint  ? tr("Overprint: %1").arg(m_what->text())
                          : wish == OverprintWish::KnockOut ? tr("Knock out: %1").arg(m_what->text())
                                                            : tr("Overprint as in the file again"));
    refreshChosen();
}

void OverprintPanel::fill()
{
    const HouseOverprint &house = m_session.job().overprint.house;
    m_blackText->setChecked(house.black_text);
    m_textSize->setValue(house.text_size);
    m_blackLines->setChecked(house.black_lines);
    m_lineWidth->setValue(house.line_width);
    m_white->setChecked(house.white_knocks_out);
    m_finishing->setChecked(house.finishing_overprints);
    m_foil->setChecked(house.foil_knocks_out);
    const auto &rules = m_session.job().overprint.rules;
    {
        const QSignalBlocker quiet(m_rules);
        m_rules->clear();
        for (const OverprintRule &rule : rules) {
            const QString what = rule.source.by == RouteBy::Ink
                                     ? tr("all on %1").arg(theme::text_of(rule.source.name))
                                     : theme::text_of(describe_source(rule.source));
            m_rules->addItem(
                (rule.wish == OverprintWish::Overprint ? tr("%1: overprints") : tr("%1: knocks out"))
                    .arg(what));
        }
    }
    m_rules->setVisible(!rules.empty());
    m_remove->setVisible(!rules.empty() && m_rules->currentRow() >= 0);
    const OverprintMap *map = m_map.value();
    switch (m_map.state()) {
    case Mapped::State::Unknown:
        m_words->setText(tr("Nobody has looked yet what overprints."));
        break;
    case Mapped::State::Running:
        m_words->setText(tr("Looking what overprints …"));
        break;
    case Mapped::State::Failed:
        m_words->setText(tr("It is not known what overprints: %1").arg(m_map.fault()));
        break;
    case Mapped::State::Known:
        m_words->setText(
            tr("Objects of this page: %1 overprint as in the file, %2 more are made to, %3 are made to "
               "knock out.")
                .arg(map->as_file)
                .arg(map->to_overprint)
                .arg(map->to_knock_out));
        break;
    }
    m_legend->setVisible(m_draw->isChecked());
    refreshChosen();
}

void OverprintPanel::refreshChosen()
{
    if (!m_session.isOpen()) {
        return;
    }
    const auto about = static_cast<About>(m_about->currentIndex());
    const auto chosen = source(about);
    OverprintWish wish = OverprintWish::AsFile;
    if (!chosen) {
        m_what->setText(about == About::Plate ? tr("Choose a plate in the lay-down.")
                                              : tr("Click an object on the light table."));
    } else {
        const Scene &scene = m_session.page()->scene;
        if (about == About::Object) {
            const SceneObject &object = scene.objects[static_cast<std::size_t>(m_spotlight.object())];
            m_what->setText(tr("object %1, %2; in the file it %3")
                                .arg(object.index + 1)
                                .arg(QString::fromLatin1(to_string(object.kind)),
                                     object.overprint ? tr("overprints") : tr("knocks out")));
        } else {
            m_what->setText(about == About::Colour ? theme::text_of(describe(chosen->colour))
                                                   : tr("all that prints on %1").arg(m_choice.plate()));
        }
        wish = wish_about(m_session.job().overprint, *chosen);
    }
    for (QAbstractButton *button : m_wishes->buttons()) {
        button->setEnabled(chosen.has_value());
        button->setChecked(m_wishes->id(button) == static_cast<int>(wish));
    }
}

void OverprintPanel::measure()
{
    m_running.cancel();
    const quint64 ticket = m_map.begin();
    m_running = m_tasks.start(
        [page = m_session.page(), job = m_session.job()](const JobControl &control) {
            return overprint_map(page->plate_line->share_page(), page->scene, job, map_resolution, control);
        },
        [this, ticket](Outcome<OverprintMap> map) {
            if (m_map.take(ticket, std::move(map))) {
                refresh();
                draw();
            }
        });
    refresh();
}

void OverprintPanel::draw()
{
    m_legend->setVisible(m_draw->isChecked());
    if (!isShown()) {
        return;
    }
    const OverprintMap *map = m_map.value();
    if (!m_draw->isChecked() || map == nullptr) {
        m_view.setOverlay(nullptr);
        return;
    }
    auto overlay = std::make_shared<Overlay>();
    overlay->resolution = map->resolution;
    overlay->layers = {{std::make_shared<const BitPlane>(map->overprints), OverlayPattern::Hatch},
                       {std::make_shared<const BitPlane>(map->now_overprints), OverlayPattern::Cross},
                       {std::make_shared<const BitPlane>(map->now_knocks_out), OverlayPattern::Dots}};
    m_view.setOverlay(std::move(overlay));
}

} // namespace bichrom
