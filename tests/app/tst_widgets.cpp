#include "app/bench/stage_strip.h"
#include "app/lighttable/rulers.h"
#include "app/lighttable/view_transform.h"
#include "app/models/view_state.h"
#include "app/services/fact.h"
#include "app/tasks/task_scope.h"
#include "app/widgets/controls.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/theme.h"
#include "app/widgets/when_seen.h"
#include "app/worktops/ink/flow_picture.h"

#include "support/patience.h"
#include "support/test_program.h"

#include <QPainter>
#include <QtTest>

#include <atomic>
#include <cmath>
#include <utility>

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
            QVERIFY(contrast(theme::unusable, ground) >= 4.5);
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

    void theViewKeepsItsPlace()
    {
        ViewTransform view;
        view.fit({20, 20, 600, 400}, {2, 2}); // two inches square
        QCOMPARE(view.dpi(), 200.0);
        QCOMPARE(view.origin(), QPointF(120, 20)); // centred, on whole pixels
        QCOMPARE(view.toPage({120 + 200, 20 + 100}), QPointF(25.4, 12.7));
        const QPointF anchor(333, 111);
        const QPointF point = view.toPage(anchor);
        for (const double dpi : {1000.0, 17.0, 19200.0}) {
            view.zoom(dpi, anchor);
            QVERIFY((view.toPixel(point) - anchor).manhattanLength() < 1e-6);
        }
        view.zoom(1e9, anchor);
        QCOMPARE(view.dpi(), ViewTransform::largest_dpi);
        view.zoom(0, anchor);
        QCOMPARE(view.dpi(), ViewTransform::smallest_dpi);
        // However far it is dragged, some of the page stays in sight, on whole pixels.
        view.fit({0, 0, 600, 400}, {2, 2});
        view.moveBy({1e6, -1e6});
        view.limit({0, 0, 600, 400}, {400, 400});
        QCOMPARE(view.origin(), QPointF(540, -340));
        view.place({25.4, 25.4}, {300.4, 200.4});
        QVERIFY((view.toPixel({25.4, 25.4}) - QPointF(300.4, 200.4)).manhattanLength() < 1e-6);
    }

    void rulersShowTheirUnit_data()
    {
        QTest::addColumn<int>("unit");
        QTest::addColumn<double>("length"); ///< of one unit in mm
        QTest::newRow("millimetres") << static_cast<int>(LengthUnit::Millimetre) << 1.0;
        QTest::newRow("inches") << static_cast<int>(LengthUnit::Inch) << 25.4;
        QTest::newRow("points") << static_cast<int>(LengthUnit::Point) << 25.4 / 72;
    }
    void rulersShowTheirUnit()
    {
        // The long marks stand at whole multiples of 1, 2 or 5 times a power of ten of the unit.
        QFETCH(int, unit);
        QFETCH(double, length);
        QImage picture(800, 20, QImage::Format_RGB32);
        QPainter painter(&picture);
        const double per_mm = 3.7;
        paint_ruler(painter, picture.rect(), Qt::Horizontal, 0, per_mm, static_cast<LengthUnit>(unit), -1);
        painter.end();
        QList<int> marks;
        for (int x = 1; x < picture.width() - 1; ++x) {
            // Long marks reach row 10; numbers end above it.
            if (picture.pixelColor(x, 11) != theme::strip && picture.pixelColor(x, 14) != theme::strip) {
                marks << x;
            }
        }
        QVERIFY(marks.size() >= 4);
        const double step =
            (marks.last() - marks.first()) / static_cast<double>(marks.size() - 1) / per_mm / length;
        const double power = std::pow(10.0, std::floor(std::log10(step) + 1e-6));
        const double leading = step / power;
        QVERIFY2(std::fabs(leading - 1) < 0.05 || std::fabs(leading - 2) < 0.1 ||
                     std::fabs(leading - 5) < 0.2 || std::fabs(leading - 10) < 0.4,
                 qPrintable(QString::number(step)));
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

    void aCurveIsBentWithinItsBounds()
    {
        CurveEdit edit;
        edit.resize(120, 100);
        QSignalSpy changes(&edit, &CurveEdit::curveChanged);
        QVERIFY(edit.curve().is_identity());
        const auto drag = [&](CurvePoint from, CurvePoint to) {
            QTest::mousePress(&edit, Qt::LeftButton, {}, edit.placeOf(from).toPoint());
            QTest::mouseMove(&edit, edit.placeOf(to).toPoint());
            QTest::mouseRelease(&edit, Qt::LeftButton, {}, edit.placeOf(to).toPoint());
        };
        QTest::mouseDClick(&edit, Qt::LeftButton, {}, edit.placeOf({0.5, 0.75}).toPoint());
        QCOMPARE(changes.count(), 1);
        QCOMPARE(edit.curve().points().size(), std::size_t(3));
        QVERIFY(std::fabs(edit.curve().at(0.5) - 0.75) < 0.02);
        drag(edit.curve().points()[1], {0.5, 2.0}); // dragged out of the field it stays at its edge
        QCOMPARE(edit.curve().points()[1].out, 1.0);
        drag(edit.curve().points()[1], {-1.0, 0.5}); // and never passes its neighbour
        QVERIFY(edit.curve().points()[1].in > edit.curve().points()[0].in);
        drag(edit.curve().points()[2], {0.0, 1.0});
        QVERIFY(edit.curve().points()[2].in > edit.curve().points()[1].in);
        QTest::keyClick(&edit, Qt::Key_PageDown);
        QTest::keyClick(&edit, Qt::Key_Delete);
        QCOMPARE(edit.curve().points().size(), std::size_t(2));
        const auto before = changes.count();
        QTest::keyClick(&edit, Qt::Key_Delete); // two points stay
        QCOMPARE(changes.count(), before);
        auto given = ToneCurve::through({{0.1, 0.9}, {0.9, 0.1}});
        edit.setCurve(*given);
        QVERIFY(edit.curve() == *given);
        QCOMPARE(changes.count(), before); // setting tells nobody
    }

    void theFlowIsChosenAndSentByMouseAndKeys()
    {
        FlowPicture flow;
        std::vector<FlowSource> sources(3);
        for (int i = 0; i < 3; ++i) {
            sources[static_cast<std::size_t>(i)] = {
                QColor(Qt::red), QString::number(i), QStringLiteral("tip"), 1.0, i == 2, {}};
        }
        sources[0].streams = {{1, 0.5}};
        flow.setFlow(sources, {{QColor(Qt::blue), QStringLiteral("one"), true},
                               {QColor(Qt::white), QStringLiteral("two"), false}});
        flow.resize(flow.sizeHint());
        QVERIFY(!flow.grab().isNull());
        QSignalSpy chosen(&flow, &FlowPicture::sourceChosen);
        QSignalSpy ends(&flow, &FlowPicture::endChosen);
        QSignalSpy sent(&flow, &FlowPicture::sent);
        QSignalSpy released(&flow, &FlowPicture::released);
        QTest::mouseClick(&flow, Qt::LeftButton, {}, flow.sourceRect(1).center());
        QCOMPARE(chosen.takeLast().at(0).toInt(), 1);
        QTest::keyClick(&flow, Qt::Key_Return); // no end is chosen yet
        QVERIFY(sent.isEmpty());
        QTest::mouseClick(&flow, Qt::LeftButton, {}, flow.endRect(0).center());
        QCOMPARE(ends.takeLast().at(0).toInt(), 0);
        QTest::keyClick(&flow, Qt::Key_Right);
        QTest::keyClick(&flow, Qt::Key_Right); // stays at the last
        QTest::keyClick(&flow, Qt::Key_Down);
        QTest::keyClick(&flow, Qt::Key_Return);
        QCOMPARE(sent.takeLast(), (QVariantList{2, 1}));
        QTest::keyClick(&flow, Qt::Key_Delete);
        QCOMPARE(released.takeLast().at(0).toInt(), 2);
        QVERIFY(flow.accessibleDescription().contains(QStringLiteral("two")));
        // A drag that ends nowhere sends nothing.
        QTest::mousePress(&flow, Qt::LeftButton, {}, flow.sourceRect(0).center());
        QTest::mouseMove(&flow, QPoint(flow.width() / 2, 10));
        QTest::mouseRelease(&flow, Qt::LeftButton, {}, QPoint(flow.width() / 2, 10));
        QVERIFY(sent.isEmpty());
        flow.setFlow({}, {}); // another page: nothing stays chosen
        QTest::keyClick(&flow, Qt::Key_Return);
        QVERIFY(sent.isEmpty());
    }

    void whatNobodySeesIsSetOutOnceItIsSeen()
    {
        QWidget window;
        auto *part = new QWidget(&window);
        int times = 0;
        WhenSeen seen(part, [&] { ++times; });
        seen.refresh();
        seen.refresh();
        QCOMPARE(times, 0);
        window.show();
        QCOMPARE(times, 1);
        seen.refresh();
        QCOMPARE(times, 2); // it is looked at
        part->hide();
        part->show();
        QCOMPARE(times, 2); // nothing changed meanwhile
        part->hide();
        seen.refresh();
        seen.settle();
        seen.settle();
        QCOMPARE(times, 3);
        part->show();
        QCOMPARE(times, 3);
    }

    void anErrorIsNotNothing()
    {
        using Number = Fact<int>;
        Number fact;
        QCOMPARE(fact.state(), Number::State::Unknown);
        QVERIFY(fact.value() == nullptr);
        quint64 ticket = fact.begin();
        QCOMPARE(fact.state(), Number::State::Running);
        QVERIFY(fact.take(ticket, 7));
        QCOMPARE(fact.state(), Number::State::Known);
        QCOMPARE(*fact.value(), 7);
        const quint64 earlier = std::exchange(ticket, fact.begin()); // the value of before is shown meanwhile
        QCOMPARE(*fact.value(), 7);
        QVERIFY2(!fact.take(earlier, 8), "what an earlier measurement found is not taken");
        QCOMPARE(*fact.value(), 7);
        fact.take(ticket, Error{ErrorCode::Cancelled, "Stopped.", {}, {}});
        QCOMPARE(fact.state(), Number::State::Running);
        fact.take(ticket, Error{ErrorCode::TooLarge, "No memory.", {}, {}});
        QCOMPARE(fact.state(), Number::State::Failed);
        QVERIFY(fact.value() == nullptr && fact.fault().contains(QStringLiteral("No memory")));
        ticket = fact.begin();
        fact.forget();
        QCOMPARE(fact.state(), Number::State::Unknown);
        QVERIFY(fact.fault().isEmpty());
        QVERIFY2(!fact.take(ticket, 9), "nor one that was given up");
    }
};

BICHROM_TEST(TestWidgets, QApplication)
#include "tst_widgets.moc"
