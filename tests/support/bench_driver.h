/// \file
/// Drives the real window: opens files, clicks, types, points, looks.
#pragma once

#include "app/bench/bench_window.h"
#include "app/lighttable/light_table.h"
#include "app/widgets/theme.h"
#include "support/patience.h"

#include <QAbstractButton>
#include <QCheckBox>
#include <QLineEdit>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QtTest>

namespace bichrom::test {

/// Settings of the person at this machine are neither read nor changed, nor those of another test beside this
/// one.
inline void keep_settings_apart(const QTemporaryDir &folder)
{
    qputenv("XDG_CONFIG_HOME", folder.filePath(QStringLiteral("config")).toLocal8Bit());
    qputenv("XDG_DATA_HOME", folder.filePath(QStringLiteral("data")).toLocal8Bit());
    QCoreApplication::setOrganizationName(QStringLiteral("BichromTest"));
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, folder.path());
}

/// Base of tests of the window: settings of their own, empty before each test.
class WindowTest : public QObject
{
    Q_OBJECT

protected:
    QTemporaryDir m_settings;

private Q_SLOTS:
    void initTestCase()
    {
        keep_settings_apart(m_settings);
        theme::apply(*qApp);
    }
    void init()
    {
        QSettings().clear();
        QDir(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation)).removeRecursively();
    }
};

/// Answers what the window asks.
class Answers final : public Prompts
{
public:
    QString open_file, save_file, folder;
    std::optional<QString> password;
    std::optional<QColor> colour;
    QList<FileUse> uses; ///< what files were asked for
    LeftoverChoice leftover = LeftoverChoice::Later;
    QStringList leftovers; ///< that were asked about
    UnsavedChoice unsaved = UnsavedChoice::Discard;
    QStringList errors;
    int asked_password = 0, asked_unsaved = 0;

    QString askOpenFile(FileUse use, const QString &) override
    {
        uses << use;
        return open_file;
    }
    QStringList open_files;
    QStringList askOpenFiles(FileUse use, const QString &) override
    {
        uses << use;
        return open_files;
    }
    QString askSaveFile(FileUse use, const QString &) override
    {
        uses << use;
        return save_file;
    }
    std::optional<QColor> askColour(const QString &, const QColor &) override { return colour; }
    QString askFolder(const QString &) override { return folder; }
    std::optional<QString> askPassword(const QString &, const QString &) override
    {
        ++asked_password;
        return std::exchange(password, std::nullopt);
    }
    UnsavedChoice askUnsaved(const QString &) override
    {
        ++asked_unsaved;
        return unsaved;
    }
    LeftoverChoice askLeftover(const QString &name, const QString &) override
    {
        leftovers << name;
        return leftover;
    }
    bool patient = false;
    int asked_patience = 0;
    bool askPatience(const QString &, const QString &) override
    {
        ++asked_patience;
        return std::exchange(patient, false);
    }
    void showError(const QString &, const QString &text) override { errors << text; }
};

struct Bench
{
    Answers answers;
    BenchWindow window{answers};

    Bench()
    {
        window.resize(1280, 800);
        window.show();
        window.activateWindow(); // shortcuts only reach the active window
        if (!QTest::qWaitForWindowExposed(&window, patience_ms) ||
            !QTest::qWaitForWindowActive(&window, patience_ms)) {
            qFatal("no window");
        }
    }
    template <typename T> T *find(const QString &name)
    {
        T *found = window.findChild<T *>(name);
        if (found == nullptr) {
            qFatal("no widget %s", qPrintable(name));
        }
        return found;
    }
    int actions = 0; ///< clicks and entries so far, as an artist would count them
    /// A click on a stage of the stage strip.
    void chooseStage(Stage stage)
    {
        click(find<QWidget>(QStringLiteral("stage%1").arg(static_cast<int>(stage))));
    }
    /// A click on a plate of the lay-down.
    void choosePlate(const char *ink)
    {
        const QString name = QStringLiteral("plate ") + QLatin1String(ink);
        waitFor([&] { return find<QWidget>(name)->isVisible(); },
                "the plate does not show"); // rows are made anew
        click(find<QWidget>(name));
    }
    void press(const char *name) { click(find<QAbstractButton>(QString::fromLatin1(name))); }
    template <typename Condition> void waitFor(Condition condition, const char *otherwise)
    {
        if (!QTest::qWaitFor(condition, patience_ms)) {
            qFatal("%s", otherwise);
        }
    }
    /// Waits until the plates shown are those of the job.
    void waitForPlates()
    {
        waitFor(
            [&] {
                const LoadedPage &page = *window.session().page();
                return page.routes == window.session().job().routes &&
                       page.plate_line->inks().size() == window.session().job().plates.size();
            },
            "the plates do not follow");
    }
    LightTable *table() { return find<LightTable>(QStringLiteral("lightTable")); }
    void open(const QString &path)
    {
        window.openPath(path);
        if (!QTest::qWaitFor(
                [&] {
                    return window.session().isOpen() && !window.session().isLoading() &&
                           window.session().path() == path;
                },
                patience_ms)) {
            qFatal("%s does not open", qPrintable(path));
        }
    }
    void click(QWidget *widget)
    {
        if (!widget->isEnabled() || !widget->isVisible()) {
            qFatal("%s cannot be clicked", qPrintable(widget->objectName()));
        }
        ++actions;
        // A check box reacts on its box and words only, not on the room behind them.
        const bool check = qobject_cast<QCheckBox *>(widget) != nullptr;
        QTest::mouseClick(widget, Qt::LeftButton, {},
                          check ? QPoint(8, widget->height() / 2) : widget->rect().center());
    }
    void enter(QLineEdit *field, const QString &text)
    {
        if (!field->isEnabled() || !field->isVisible()) {
            qFatal("%s cannot be typed into", qPrintable(field->objectName()));
        }
        ++actions;
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }
    void pointAt(QPointF mm)
    {
        const QPointF at = table()->widgetFromPage(mm);
        QMouseEvent move(QEvent::MouseMove, at, table()->mapToGlobal(at), Qt::NoButton, Qt::NoButton,
                         Qt::NoModifier);
        QCoreApplication::sendEvent(table(), &move);
    }
    /// The colour the window shows at a page point, once its tiles are there.
    QColor shownAt(QPointF mm)
    {
        const bool complete = QTest::qWaitFor(
            [&] {
                window.repaint();
                return table()->isComplete();
            },
            patience_ms);
        if (!complete) {
            qFatal("the light table does not fill");
        }
        const QImage picture = table()->grab().toImage();
        const QPointF at = table()->widgetFromPage(mm) * picture.devicePixelRatio();
        return picture.pixelColor(at.toPoint());
    }
};

inline QByteArray contents(const QString &path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) {
        qFatal("cannot read %s", qPrintable(path));
    }
    return file.readAll();
}

} // namespace bichrom::test
