#include "app/bench/stage_strip.h"
#include "app/models/view_state.h"
#include "app/tasks/task_scope.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QtTest>

#include <atomic>
#include <cmath>

using namespace bichrom;

namespace {

/// WCAG 2.1 contrast ratio of two opaque colours.
double contrast(const QColor &a, const QColor &b)
{
    const auto luminance = [](const QColor &c) {
        const auto linear = [](double v) {
            return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
    };
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

} // namespace

class TestWidgets : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }

    void textCanBeRead()
    {
        for (const QColor &ground : {theme::strip, theme::panel, theme::card, theme::field}) {
            QVERIFY(contrast(theme::text, ground) >= 4.5);
            QVERIFY(contrast(theme::quiet, ground) >= 4.5);
        }
        QVERIFY(contrast(theme::amberText, theme::amberField) >= 4.5);
        QVERIFY(contrast(theme::text, theme::surround) >= 4.5);
        // Only inks carry colour: every ground is neutral.
        for (const QColor &ground :
             {theme::strip, theme::panel, theme::card, theme::field, theme::surround}) {
            QVERIFY(ground.hsvSaturation() <= 10);
        }
    }

    void theShippedTypefaceIsUsedAndItsFiguresLineUp()
    {
        const QFont font = theme::font(12);
        QCOMPARE(QFontInfo(font).family(), QStringLiteral("Bichrom Sans"));
        const QFontMetricsF metrics(font);
        for (int digit = 1; digit <= 9; ++digit) {
            QCOMPARE(metrics.horizontalAdvance(QString::number(digit)),
                     metrics.horizontalAdvance(QStringLiteral("0")));
        }
    }

    void aNumberFieldTakesUnitsAndRefusesNonsense()
    {
        NumberField field(QStringLiteral("lpi"), 2, NumberField::plain(QStringLiteral("lpi"), 1, 600));
        field.setValue(55);
        QCOMPARE(field.text(), QStringLiteral("55 lpi"));
        QSignalSpy entered(&field, &NumberField::valueEntered);
        const auto enter = [&](const QString &text) {
            field.selectAll();
            QTest::keyClicks(&field, text);
            QTest::keyClick(&field, Qt::Key_Return);
        };
        field.show();
        enter(QStringLiteral("62,5 lpi"));
        QCOMPARE(entered.size(), 1);
        QCOMPARE(field.value(), 62.5);
        enter(QStringLiteral("62.5"));
        QCOMPARE(entered.size(), 1); // the same value is no change
        enter(QStringLiteral("many"));
        QCOMPARE(entered.size(), 1);
        QVERIFY(field.property("wrong").toBool());
        QVERIFY(field.toolTip().contains(QStringLiteral("600")));
        field.setValue(55);
        QVERIFY(!field.property("wrong").toBool());
    }

    void showingAndHidingPlates()
    {
        ViewState view;
        QSignalSpy changed(&view, &ViewState::changed);
        view.setShown(QStringLiteral("A"), false);
        QVERIFY(!view.isShown(QStringLiteral("A")));
        QVERIFY(view.isShown(QStringLiteral("B")));
        view.setAlone(QStringLiteral("A"));
        QVERIFY(view.isShown(QStringLiteral("A")));
        QVERIFY(!view.isShown(QStringLiteral("B")));
        view.setAlone({});
        QVERIFY(!view.isShown(QStringLiteral("A"))); // alone does not forget what was hidden
        view.reset();
        QVERIFY(view.isShown(QStringLiteral("A")));
        QCOMPARE(changed.size(), 4);
    }

    void stagesTellTheirStateInWords()
    {
        StageStrip strip;
        strip.setState(Stage::Screen, StageState::FindingsOpen);
        auto *button = strip.findChild<StageButton *>(QStringLiteral("stage4"));
        QVERIFY(button);
        QCOMPARE(button->accessibleName(), QStringLiteral("Screen, findings open"));
        QSignalSpy chosen(&strip, &StageStrip::chosen);
        strip.show();
        QTest::mouseClick(button, Qt::LeftButton);
        QCOMPARE(chosen.size(), 1);
    }

    void aTaskScopeWaitsForItsWork()
    {
        static std::atomic<bool> running{false};
        bool finished = false;
        {
            TaskScope scope;
            scope.start(
                [](const JobControl &control) {
                    running = true;
                    while (!control.cancelled()) {
                        QThread::msleep(1);
                    }
                    running = false;
                    return 1;
                },
                [&](int) { finished = true; });
            QTRY_VERIFY(running);
        }
        QVERIFY(!running); // told to stop, and waited for
        QCoreApplication::processEvents();
        QVERIFY(!finished); // and its result dropped
    }
};

QTEST_MAIN(TestWidgets)
#include "tst_widgets.moc"
