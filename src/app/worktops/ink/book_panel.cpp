#include "app/worktops/ink/book_panel.h"

#include "app/dialogs/ink_dialog.h"
#include "app/widgets/controls.h"
#include "app/widgets/ink_words.h"
#include "app/widgets/theme.h"
#include "core/base/atomic_file.h"
#include "core/colour/colour_difference.h"

#include <QApplication>
#include <QComboBox>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPixmap>
#include <QPushButton>
#include <QSignalBlocker>

#include <algorithm>
#include <utility>

namespace bichrom {

namespace {

constexpr int index_role = Qt::UserRole; // of the plate or the book's ink

/// Two colours side by side; without a second one a single swatch.
QIcon swatches(const QColor &left, const QColor &right, qreal ratio)
{
    constexpr int width = 40, height = 20;
    QPixmap picture(QSize(width, height) * ratio);
    picture.setDevicePixelRatio(ratio);
    QPainter painter(&picture);
    painter.fillRect(0, 0, width, height, left);
    if (right.isValid()) {
        painter.fillRect(width / 2, 0, width / 2, height, right);
    }
    painter.setPen(QPen(theme::quiet, 1));
    painter.drawRect(0, 0, width - 1, height - 1);
    QIcon icon;
    for (const QIcon::Mode mode : {QIcon::Normal, QIcon::Selected}) {
        icon.addPixmap(picture, mode); // a chosen row must not tint its colour
    }
    return icon;
}

QString family_name(HueFamily family)
{
    switch (family) {
    case HueFamily::Neutral:
        return BookPanel::tr("neutrals");
    case HueFamily::Red:
        return BookPanel::tr("reds");
    case HueFamily::Orange:
        return BookPanel::tr("oranges");
    case HueFamily::Yellow:
        return BookPanel::tr("yellows");
    case HueFamily::Green:
        return BookPanel::tr("greens");
    case HueFamily::BlueGreen:
        return BookPanel::tr("blue-greens");
    case HueFamily::Blue:
        return BookPanel::tr("blues");
    case HueFamily::Violet:
        return BookPanel::tr("violets");
    case HueFamily::Pink:
        break;
    }
    return BookPanel::tr("pinks");
}

constexpr HueFamily families[] = {HueFamily::Neutral, HueFamily::Red,    HueFamily::Orange,
                                  HueFamily::Yellow,  HueFamily::Green,  HueFamily::BlueGreen,
                                  HueFamily::Blue,    HueFamily::Violet, HueFamily::Pink};

} // namespace

BookPanel::BookPanel(Session &session, InkLibrary &library, Choice &choice, Prompts &prompts, QWidget *parent)
    : QWidget(parent), m_session(session), m_library(library), m_choice(choice), m_prompts(prompts)
{
    setObjectName(QStringLiteral("bookPanel"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 10);
    column->setSpacing(6);
    const auto list = [&](const char *name, const QString &says, int height) {
        auto *made = new QListWidget(this);
        made->setObjectName(QString::fromLatin1(name));
        made->setAccessibleName(says);
        made->setIconSize({40, 20});
        made->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        made->setStyleSheet(theme::listStyle());
        if (height > 0) {
            made->setFixedHeight(height);
        }
        return made;
    };
    m_plates = list("inkPlates", tr("Plates"), 104);
    column->addWidget(m_plates);
    m_edit = new QPushButton(tr("This plate's ink …"), this);
    m_edit->setObjectName(QStringLiteral("editInk"));
    m_edit->setToolTip(tr("Kind, colour, opacity, tone curve, density, screen colour"));
    column->addWidget(m_edit);
    column->addWidget(make_label(tr("Nearest in the ink book: the plate's colour, the book's"), 11,
                                 QFont::Normal, true, this));
    m_nearest = list("nearestInks", tr("The ink of the same name and the five nearest"), 148);
    column->addWidget(m_nearest);
    auto *search_row = new QHBoxLayout();
    m_search = new QLineEdit(this);
    m_search->setObjectName(QStringLiteral("inkSearch"));
    m_search->setPlaceholderText(tr("Search the ink book"));
    m_search->setToolTip(
        tr("Any ink of the lists can be dragged onto the artwork: its colour goes to that ink, with "
           "Shift that object alone."));
    m_search->setClearButtonEnabled(true);
    m_family = new QComboBox(this);
    m_family->setObjectName(QStringLiteral("hueFamily"));
    m_family->setAccessibleName(tr("Family of hue"));
    m_family->addItem(tr("all hues"));
    for (const HueFamily family : families) {
        m_family->addItem(family_name(family));
    }
    search_row->addWidget(m_search, 1);
    search_row->addWidget(m_family);
    column->addLayout(search_row);
    m_book = list("inkBook", tr("Ink book"), 0);
    column->addWidget(m_book, 1);
    m_give = new QPushButton(tr("Give the plate this ink"), this);
    m_give->setObjectName(QStringLiteral("giveColour"));
    m_give->setProperty("main", true);
    column->addWidget(m_give);
    auto *name_row = new QHBoxLayout();
    m_name = new QLineEdit(this);
    m_name->setObjectName(QStringLiteral("inkName"));
    m_name->setAccessibleName(tr("Name of the chosen ink"));
    m_lock = new QPushButton(tr("Lock"), this);
    m_lock->setObjectName(QStringLiteral("lockInk"));
    m_lock->setToolTip(tr("A locked ink is neither renamed nor removed by accident."));
    name_row->addWidget(m_name, 1);
    name_row->addWidget(m_lock);
    column->addLayout(name_row);
    auto *foot = new QHBoxLayout();
    m_add = new QPushButton(tr("Add the plate's"), this);
    m_add->setObjectName(QStringLiteral("addInk"));
    m_add->setToolTip(tr("Puts the plate's ink into the book, under its name."));
    m_remove = new QPushButton(tr("Remove"), this);
    m_remove->setObjectName(QStringLiteral("removeInk"));
    auto *book_menu = new QPushButton(tr("Book"), this);
    book_menu->setObjectName(QStringLiteral("bookMenu"));
    auto *menu = new QMenu(book_menu);
    QAction *import_action = menu->addAction(tr("Import CxF or CGATS …"));
    import_action->setObjectName(QStringLiteral("importInks"));
    QAction *export_action = menu->addAction(tr("Export …"));
    export_action->setObjectName(QStringLiteral("exportInks"));
    book_menu->setMenu(menu);
    for (QPushButton *button : {m_add, m_remove, book_menu}) {
        button->setStyleSheet(QStringLiteral("padding: 4px 8px;"));
        foot->addWidget(button);
    }
    column->addLayout(foot);
    m_state = make_label({}, 11, QFont::Normal, true, this);
    m_state->setObjectName(QStringLiteral("inkState"));
    m_state->setWordWrap(true);
    m_state->setText(m_library.fault());
    column->addWidget(m_state);

    connect(m_plates, &QListWidget::currentRowChanged, this, [this] {
        if (const Plate *plate = chosenPlate()) {
            m_choice.choosePlate(theme::text_of(plate->ink));
        }
        refreshNearest();
        refreshButtons();
    });
    connect(&m_choice, &Choice::plateChanged, this, [this] {
        const int plate =
            m_session.isOpen() ? m_session.job().find_plate(m_choice.plate().toStdString()) : -1;
        if (plate >= 0) {
            m_plates->setCurrentRow(plate);
        }
    });
    for (QListWidget *inks : {m_nearest, m_book}) {
        connect(inks, &QListWidget::itemActivated, this, [this](QListWidgetItem *item) { give(item); });
    }
    connect(m_nearest, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0) {
            const QSignalBlocker quiet(m_book);
            m_book->setCurrentRow(-1);
        }
        refreshButtons();
    });
    connect(m_book, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0) {
            const QSignalBlocker quiet(m_nearest);
            m_nearest->setCurrentRow(-1);
        }
        refreshButtons();
    });
    connect(&m_session, &Session::artworkChanged, m_search, &QLineEdit::clear);
    connect(m_search, &QLineEdit::textChanged, this, &BookPanel::refreshBook);
    connect(m_family, &QComboBox::currentIndexChanged, this, &BookPanel::refreshBook);
    connect(m_edit, &QPushButton::clicked, this, &BookPanel::editInk);
    connect(m_plates, &QListWidget::itemActivated, this, &BookPanel::editInk);
    connect(m_give, &QPushButton::clicked, this, [this] {
        give(m_nearest->currentRow() >= 0 ? m_nearest->currentItem() : m_book->currentItem());
    });
    connect(m_name, &QLineEdit::editingFinished, this, &BookPanel::rename);
    connect(m_lock, &QPushButton::clicked, this, &BookPanel::changeLock);
    connect(m_add, &QPushButton::clicked, this, &BookPanel::addToBook);
    connect(m_remove, &QPushButton::clicked, this, &BookPanel::removeInk);
    connect(import_action, &QAction::triggered, this, &BookPanel::importBook);
    connect(export_action, &QAction::triggered, this, &BookPanel::exportBook);
    connect(&m_session, &Session::jobChanged, this, &BookPanel::refresh);
    connect(&m_library, &InkLibrary::changed, this, [this] {
        refreshBook();
        refreshNearest();
    });
    for (QListWidget *inks : {m_nearest, m_book}) {
        inks->viewport()->installEventFilter(this);
    }
    refreshBook();
    refresh();
}

bool BookPanel::eventFilter(QObject *watched, QEvent *event)
{
    QListWidget *list = watched == m_nearest->viewport() ? m_nearest : m_book;
    const auto *mouse = dynamic_cast<QMouseEvent *>(event);
    if (mouse == nullptr) {
        return false;
    }
    switch (event->type()) {
    case QEvent::MouseButtonPress:
        m_pressed =
            mouse->button() == Qt::LeftButton ? std::optional(mouse->position().toPoint()) : std::nullopt;
        m_dragged.clear();
        return false;
    case QEvent::MouseMove:
        if (m_pressed && m_dragged.isEmpty() && (mouse->buttons() & Qt::LeftButton) != 0 &&
            (mouse->position().toPoint() - *m_pressed).manhattanLength() >=
                QApplication::startDragDistance()) {
            const QListWidgetItem *item = list->itemAt(*m_pressed);
            const int index = item == nullptr ? -1 : item->data(index_role).toInt();
            if (index >= 0) {
                m_dragged = theme::text_of(m_library.book().inks[static_cast<std::size_t>(index)].name);
                list->viewport()->setCursor(Qt::DragCopyCursor);
            }
        }
        return !m_dragged.isEmpty(); // the list would choose what it passes
    case QEvent::MouseButtonRelease:
        m_pressed.reset();
        if (!m_dragged.isEmpty()) {
            list->viewport()->unsetCursor();
            Q_EMIT inkDropped(std::exchange(m_dragged, {}), mouse->globalPosition().toPoint());
        }
        return false;
    default:
        return false;
    }
}

void BookPanel::addRow(QListWidget *list, const QString &text, const QColor &left, const QColor &right,
                       int index)
{
    auto *item = new QListWidgetItem(swatches(left, right, devicePixelRatioF()), text, list);
    item->setData(index_role, index);
    item->setToolTip(text);
}

const Plate *BookPanel::chosenPlate() const
{
    const auto row = m_plates->currentRow();
    const auto &plates = m_session.job().plates;
    return row >= 0 && row < static_cast<int>(plates.size()) ? &plates[static_cast<std::size_t>(row)]
                                                             : nullptr;
}

int BookPanel::chosenInk() const
{
    const QListWidgetItem *item =
        m_nearest->currentRow() >= 0 ? m_nearest->currentItem() : m_book->currentItem();
    return item == nullptr ? -1 : item->data(index_role).toInt();
}

void BookPanel::refresh()
{
    {
        const QSignalBlocker quiet(m_plates);
        const int before = m_plates->currentRow();
        m_plates->clear();
        if (m_session.isOpen()) {
            int index = 0;
            for (const Plate &plate : m_session.job().plates) {
                addRow(m_plates, theme::text_of(plate.ink), theme::ink_color(plate.solid), {}, index++);
            }
        }
        m_plates->setCurrentRow(std::clamp(before, 0, std::max(0, m_plates->count() - 1)));
    }
    refreshNearest();
    refreshButtons();
}

void BookPanel::refreshNearest()
{
    const QSignalBlocker quiet(m_nearest);
    m_nearest->clear();
    if (const Plate *plate = chosenPlate()) {
        std::vector<NearInk> shown = nearest_inks(m_library.book(), plate->solid);
        // The book's ink of the same name comes first, however far its colour is from the file's stand-in.
        if (const int same = m_library.find(plate->ink); same >= 0) {
            std::erase_if(shown, [same](const NearInk &near) { return near.index == same; });
            const BookInk &ink = m_library.book().inks[static_cast<std::size_t>(same)];
            shown.insert(shown.begin(), {same, ciede2000(plate->solid, ink.solid)});
        }
        for (const NearInk &near : shown) {
            const BookInk &ink = m_library.book().inks[static_cast<std::size_t>(near.index)];
            const QString name = ink.name == plate->ink ? tr("%1, same name").arg(theme::text_of(ink.name))
                                                        : theme::text_of(ink.name);
            addRow(m_nearest, tr("ΔE %1   %2").arg(near.difference, 0, 'f', 1).arg(name),
                   theme::ink_color(plate->solid), theme::ink_color(ink.solid), near.index);
        }
    }
    refreshButtons();
}

void BookPanel::refreshBook()
{
    {
        const QSignalBlocker quiet(m_book);
        const int before =
            m_book->currentItem() == nullptr ? -1 : m_book->currentItem()->data(index_role).toInt();
        m_book->clear();
        for (const int index : find_inks(m_library.book(), m_search->text().toStdString())) {
            const BookInk &ink = m_library.book().inks[static_cast<std::size_t>(index)];
            if (m_family->currentIndex() > 0 &&
                hue_family(ink.solid) != families[m_family->currentIndex() - 1]) {
                continue;
            }
            QString text = theme::text_of(ink.name);
            if (ink.use != InkUse::Spot) {
                text += QStringLiteral(", ") + ink_use_words(ink.use);
            }
            if (ink.locked) {
                text += tr(", locked");
            }
            addRow(m_book, text, theme::ink_color(ink.solid), {}, index);
            if (index == before) {
                m_book->setCurrentRow(m_book->count() - 1);
            }
        }
    }
    refreshButtons();
}

void BookPanel::refreshButtons()
{
    const Plate *plate = chosenPlate();
    const int index = chosenInk();
    const BookInk *ink = index >= 0 && index < static_cast<int>(m_library.book().inks.size())
                             ? &m_library.book().inks[static_cast<std::size_t>(index)]
                             : nullptr;
    m_give->setEnabled(plate != nullptr && ink != nullptr &&
                       !(plate->solid == ink->solid && plate->traits == ink->traits));
    m_edit->setEnabled(plate != nullptr);
    m_add->setEnabled(plate != nullptr && m_library.find(plate->ink) < 0);
    m_name->setEnabled(ink != nullptr && !ink->locked);
    m_lock->setEnabled(ink != nullptr);
    m_lock->setText(ink != nullptr && ink->locked ? tr("Unlock") : tr("Lock"));
    m_remove->setEnabled(ink != nullptr && !ink->locked);
    m_name->setText(ink == nullptr ? QString() : theme::text_of(ink->name));
}

void BookPanel::give(const QListWidgetItem *item)
{
    const Plate *plate = chosenPlate();
    if (item == nullptr || plate == nullptr) {
        return;
    }
    const BookInk &ink = m_library.book().inks[static_cast<std::size_t>(item->data(index_role).toInt())];
    Job job = m_session.job();
    Plate &given = job.plates[static_cast<std::size_t>(m_plates->currentRow())];
    given.solid = ink.solid;
    given.traits = ink.traits;
    m_session.change(job, tr("%1: colour of %2").arg(theme::text_of(plate->ink), theme::text_of(ink.name)));
}

void BookPanel::editInk()
{
    const Plate *plate = chosenPlate();
    if (plate == nullptr || m_session.page() == nullptr) {
        return;
    }
    auto *dialog =
        new InkDialog(*plate, m_session.job().stock_here(), m_session.page()->condition, m_prompts, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog] {
        Job job = m_session.job();
        const int at = job.find_plate(dialog->plate().ink);
        if (at >= 0) {
            job.plates[static_cast<std::size_t>(at)] = dialog->plate();
            m_session.change(job, tr("Ink %1").arg(theme::text_of(dialog->plate().ink)));
        }
    });
    dialog->open();
}

void BookPanel::complain(const Error &error)
{
    m_prompts.showError(tr("Ink book"), theme::text_of(error.message()));
}

void BookPanel::addToBook()
{
    const Plate *plate = chosenPlate();
    if (plate == nullptr) {
        return;
    }
    std::vector<BookInk> inks(1);
    inks.front().name = plate->ink;
    inks.front().use = plate->kind;
    inks.front().solid = plate->solid;
    inks.front().traits = plate->traits;
    if (const auto added = m_library.add(inks); !added) {
        complain(added.error());
    }
}

void BookPanel::changeLock()
{
    const int index = chosenInk();
    if (index < 0) {
        return;
    }
    BookInk ink = m_library.book().inks[static_cast<std::size_t>(index)];
    ink.locked = !ink.locked;
    if (const Done done = m_library.replace(index, ink); !done) {
        complain(done.error());
    }
}

void BookPanel::rename()
{
    const int index = chosenInk();
    const std::string name = m_name->text().trimmed().toStdString();
    if (index < 0 || !m_name->isEnabled()) {
        return;
    }
    BookInk ink = m_library.book().inks[static_cast<std::size_t>(index)];
    if (ink.name == name) {
        return;
    }
    ink.name = name;
    if (const Done done = m_library.replace(index, ink); !done) {
        refreshButtons();
        complain(done.error());
    }
}

void BookPanel::removeInk()
{
    const int index = chosenInk();
    if (index < 0) {
        return;
    }
    if (const Done done = m_library.remove(index); !done) {
        complain(done.error());
    }
}

void BookPanel::importBook()
{
    const QString path = m_prompts.askOpenFile(FileUse::InkBook, {});
    if (path.isEmpty()) {
        return;
    }
    const auto book = read_ink_book(path.toStdString());
    if (!book) {
        complain(book.error());
        return;
    }
    const auto added = m_library.add(book->inks);
    if (!added) {
        complain(added.error());
        return;
    }
    m_state->setText(tr("%1 inks added; %2 were in the book by name already.")
                         .arg(*added)
                         .arg(static_cast<int>(book->inks.size()) - *added));
}

void BookPanel::exportBook()
{
    const QString path = m_prompts.askSaveFile(FileUse::InkBook, QStringLiteral("inks.cxf"));
    if (path.isEmpty()) {
        return;
    }
    const bool text = QFileInfo(path).suffix() == QStringLiteral("txt");
    const Done done =
        write_file(path.toStdString(), text ? to_cgats(m_library.book()) : to_cxf(m_library.book()));
    if (!done) {
        complain(done.error());
        return;
    }
    m_state->setText(tr("Ink book written: %1").arg(QFileInfo(path).fileName()));
}

} // namespace bichrom
