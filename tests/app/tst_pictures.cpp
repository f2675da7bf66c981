// Pictures as tints and as flat artwork, in the real window.
#include "app/dialogs/separation_dialog.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/hue_bar.h"
#include "app/widgets/theme.h"
#include "app/worktops/ink/flow_picture.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

using namespace bichrom;
using namespace bichrom::test;

namespace {

struct Pictures : Bench
{
    QListWidget *pictures = find<QListWidget>(QStringLiteral("pictureList"));
    QListWidget *palette = find<QListWidget>(QStringLiteral("palette"));

    void openDemo(const char *file)
    {
        open(QStringLiteral(BICHROM_SOURCE_DIR "/demo/") + QString::fromLatin1(file));
        window.setStage(Stage::Ink);
    }
    const Job &job() { return window.session().job(); }
    void addPlate(const char *ink)
    {
        click(find<QPushButton>(QStringLiteral("panelRoutes")));
        auto *name = find<QLineEdit>(QStringLiteral("newPlate"));
        name->setText(QString::fromLatin1(ink));
        QTest::keyClick(name, Qt::Key_Return);
        click(find<QPushButton>(QStringLiteral("panelPictures")));
    }
    void treat(int treatment)
    {
        auto *chooser = find<QComboBox>(QStringLiteral("pictureTreatment"));
        if (!chooser->isEnabled() || !chooser->isVisible()) {
            qFatal("the treatment cannot be chosen");
        }
        chooser->setCurrentIndex(treatment);
        Q_EMIT chooser->activated(treatment);
    }
    void chooseInk(const char *name, const char *ink)
    {
        auto *chooser = find<QComboBox>(QString::fromLatin1(name));
        const int index = chooser->findText(QString::fromLatin1(ink));
        if (index < 0 || !chooser->isVisible()) {
            qFatal("no ink %s", ink);
        }
        chooser->setCurrentIndex(index);
        Q_EMIT chooser->activated(index);
    }
    /// Tone of a plate at a page point.
    int tone(const char *ink, QPointF mm)
    {
        waitForPlates();
        const auto &plate_line = *window.session().page()->plate_line;
        const Dpi dpi(200);
        const PixelRect at{static_cast<int>(mm.x() / 25.4 * 200), static_cast<int>(mm.y() / 25.4 * 200), 1,
                           1};
        const PlateTile tile = take(plate_line.render(at, dpi));
        const auto plate =
            std::find(plate_line.inks().begin(), plate_line.inks().end(), ink) - plate_line.inks().begin();
        return tile.plates.at(static_cast<std::size_t>(plate)).at(0, 0);
    }
};

const QPointF on_wing(13, 17);       // of the badge, green
const QPointF on_ring(19.05, 1.6);   // rust
const QPointF on_ground(19.05, 5.5); // white

} // namespace

class TestPictures : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void flatArtworkIsTakenApart()
    {
        Pictures bench;
        bench.openDemo("moth-badge.png");
        bench.addPlate("Luna Green");
        bench.addPlate("Wing Rust");
        bench.addPlate("Lamp Yellow");
        QCOMPARE(bench.pictures->count(), 1);
        bench.treat(5);
        QTRY_COMPARE(bench.palette->count(), 4); // white, green, rust, yellow
        QStringList inks;
        for (int row = 0; row < 4; ++row) {
            inks << bench.palette->item(row)->text();
        }
        QVERIFY2(inks.contains(QStringLiteral("background: prints nothing")), qPrintable(inks.join(u'|')));
        // Each colour has a plate that looks like it, or the artist says which.
        const auto give = [&](const Lab &like, const char *ink) {
            const auto &colours = bench.job().routes.at(0).split.colours;
            int best = 0;
            double least = 1e9;
            for (std::size_t i = 0; i < colours.size(); ++i) {
                const Lab lab = ProcessProfile::fogra39()->rgb_to_lab(
                    {colours[i].rgb[0], colours[i].rgb[1], colours[i].rgb[2]});
                const double away = std::hypot(lab.l - like.l, lab.a - like.a, lab.b - like.b);
                if (away < least) {
                    least = away;
                    best = static_cast<int>(i);
                }
            }
            bench.palette->setCurrentRow(best);
            bench.chooseInk("paletteInk", ink);
        };
        give({45, -38, 20}, "Luna Green");
        give({42, 45, 43}, "Wing Rust");
        give({85, 8, 65}, "Lamp Yellow");
        QCOMPARE(bench.tone("Luna Green", on_wing), 255);
        QCOMPARE(bench.tone("Wing Rust", on_wing), 0);
        QCOMPARE(bench.tone("Wing Rust", on_ring), 255);
        QCOMPARE(bench.tone("Cyan", on_wing), 0);
        for (const char *ink : {"Luna Green", "Wing Rust", "Lamp Yellow", "Black"}) {
            QCOMPARE(bench.tone(ink, on_ground), 0);
        }
        // Tolerance and specks are kept; a colour picked in the artwork joins, one taken out goes.
        bench.enter(bench.find<QLineEdit>(QStringLiteral("splitTolerance")), QStringLiteral("12 %"));
        QCOMPARE(bench.job().routes.at(0).split.tolerance, 0.12);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("despeckle")), QStringLiteral("20"));
        QCOMPARE(bench.job().routes.at(0).split.despeckle, 20);
        bench.click(bench.find<QPushButton>(QStringLiteral("pickColour")));
        LightTable *table = bench.table();
        QTest::mouseClick(table, Qt::LeftButton, {}, table->widgetFromPage(on_wing).toPoint());
        QCOMPARE(bench.palette->count(), 5);
        const auto &picked = bench.job().routes.at(0).split.colours.back().rgb;
        QVERIFY(std::abs(picked[0] - 38) <= 2 && std::abs(picked[1] - 122) <= 2 &&
                std::abs(picked[2] - 70) <= 2);
        bench.click(bench.find<QPushButton>(QStringLiteral("dropColour")));
        QCOMPARE(bench.palette->count(), 4);
        bench.click(bench.find<QCheckBox>(QStringLiteral("traceOutlines")));
        QVERIFY(bench.job().routes.at(0).split.outlines);
        QCOMPARE(bench.tone("Luna Green", on_wing), 255);
        QCOMPARE(bench.tone("Wing Rust", on_ring), 255);
        QCOMPARE(bench.tone("Wing Rust", on_ground), 0);
        bench.treat(0);
        QVERIFY(bench.job().routes.empty());
        QVERIFY(bench.tone("Cyan", on_wing) > 100); // process inks again
    }

    void aPhotoBecomesATintOfOneOrTwoInks()
    {
        Pictures bench;
        bench.openDemo("handbill.pdf");
        bench.click(bench.find<QPushButton>(QStringLiteral("panelPictures")));
        QCOMPARE(bench.pictures->count(), 1);
        QTRY_VERIFY(!bench.pictures->item(0)->icon().isNull());
        const QPointF middle(27, 117); // of the picture: 12 to 42 across, 102 to 132 down
        const int before =
            bench.tone("Cyan", middle) + bench.tone("Magenta", middle) + bench.tone("Yellow", middle);
        QVERIFY(before > 0);
        bench.treat(2);
        bench.chooseInk("firstInk", "Dusk Blue");
        const int tint = bench.tone("Dusk Blue", middle);
        QVERIFY(tint > 0);
        QCOMPARE(bench.tone("Cyan", middle) + bench.tone("Magenta", middle) + bench.tone("Yellow", middle),
                 0);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("firstTint")), QStringLiteral("50 %"));
        QVERIFY(std::abs(bench.tone("Dusk Blue", middle) - tint / 2) <= 1);
        // The curve, by keys: its upper end down to 0.8, and by mouse a point in the middle.
        auto *curve = bench.find<CurveEdit>(QStringLiteral("firstCurve"));
        curve->setFocus();
        QTest::keyClick(curve, Qt::Key_PageUp);
        for (int i = 0; i < 20; ++i) {
            QTest::keyClick(curve, Qt::Key_Down);
        }
        QVERIFY(std::fabs(bench.job().routes.at(0).targets.at(0).curve.at(1.0) - 0.8) < 1e-9);
        QTest::mouseDClick(curve, Qt::LeftButton, {}, curve->placeOf({0.5, 0.2}).toPoint());
        QVERIFY(std::fabs(bench.job().routes.at(0).targets.at(0).curve.at(0.5) - 0.2) < 0.03);
        QVERIFY(bench.tone("Dusk Blue", middle) < tint / 2);
        // Two inks; then the picture goes altogether.
        bench.treat(3);
        QCOMPARE(bench.job().routes.at(0).targets.size(), std::size_t(2));
        bench.chooseInk("firstInk", "Lantern Orange");
        bench.chooseInk("secondInk", "Dusk Blue");
        QVERIFY(bench.tone("Lantern Orange", middle) > 0);
        bench.treat(6);
        QCOMPARE(bench.tone("Lantern Orange", middle) + bench.tone("Dusk Blue", middle), 0);
        bench.window.session().undoStack().undo();
        QVERIFY(bench.tone("Lantern Orange", middle) > 0);
    }

    void aPhotoIsSolvedIntoSeveralInks()
    {
        Pictures bench;
        bench.openDemo("handbill.pdf");
        bench.click(bench.find<QPushButton>(QStringLiteral("panelPictures")));
        const QPointF middle(27, 117);
        bench.treat(4);
        QVERIFY(bench.job().routes.at(0).separated);
        auto *inks = bench.find<QListWidget>(QStringLiteral("separationInks"));
        QCOMPARE(inks->count(), static_cast<int>(bench.job().plates.size()));
        // Only the two inks of the press.
        for (int row = 0; row < inks->count(); ++row) {
            const bool wanted = inks->item(row)->text() == QStringLiteral("Dusk Blue") ||
                                inks->item(row)->text() == QStringLiteral("Lantern Orange");
            if (!wanted && inks->item(row)->checkState() == Qt::Checked) {
                inks->item(row)->setCheckState(Qt::Unchecked);
            }
        }
        QCOMPARE(bench.job().routes.at(0).targets.size(), std::size_t(2));
        QTRY_VERIFY_WITH_TIMEOUT(bench.window.session().page()->routes == bench.job().routes, 60'000);
        QVERIFY(bench.tone("Dusk Blue", middle) + bench.tone("Lantern Orange", middle) > 40);
        QCOMPARE(bench.tone("Cyan", middle) + bench.tone("Magenta", middle) + bench.tone("Yellow", middle),
                 0);
        // One ink is thinned, held to hues by the mouse and by words; undo takes each back.
        const auto row_of = [&](const char *ink) {
            const auto found = inks->findItems(QString::fromLatin1(ink), Qt::MatchExactly);
            return found.isEmpty() ? -1 : inks->row(found.front());
        };
        const auto &routes = bench.job().routes;
        const auto target = [&](const char *ink) -> const RouteTarget & {
            return *std::find_if(routes[0].targets.begin(), routes[0].targets.end(),
                                 [&](const RouteTarget &one) { return one.ink == ink; });
        };
        inks->setCurrentRow(row_of("Cyan"));
        auto *strength = bench.find<QLineEdit>(QStringLiteral("inkStrength"));
        QVERIFY(!strength->isEnabled()); // the picture does not print in it
        inks->setCurrentRow(row_of("Dusk Blue"));
        QVERIFY(strength->isEnabled());
        const int full = bench.tone("Dusk Blue", middle);
        QTest::mouseClick(strength, Qt::LeftButton);
        strength->selectAll();
        QTest::keyClicks(strength, QStringLiteral("50 %"));
        QTest::keyClick(strength, Qt::Key_Return);
        QTRY_COMPARE(target("Dusk Blue").control.strength, 0.5);
        QVERIFY(std::abs(bench.tone("Dusk Blue", middle) * 2 - full) <= 3);
        auto *bar = bench.find<HueBar>(QStringLiteral("hueBar"));
        const int y = bar->height() / 2;
        QTest::mousePress(bar, Qt::LeftButton, {}, {bar->width() / 4, y});
        QTest::mouseMove(bar, {bar->width() / 3, y});
        QTest::mouseMove(bar, {bar->width() / 2, y});
        QTest::mouseRelease(bar, Qt::LeftButton, {}, {bar->width() / 2, y});
        QTRY_VERIFY(target("Dusk Blue").control.hues.holds());
        const HueHold held = target("Dusk Blue").control.hues;
        QVERIFY2(std::fabs(held.middle - 135) < 6 && std::fabs(held.width - 90) < 8,
                 qPrintable(QStringLiteral("%1 %2").arg(held.middle).arg(held.width)));
        auto *hues = bench.find<QLineEdit>(QStringLiteral("inkHues"));
        QTest::mouseDClick(bar, Qt::LeftButton, {}, {bar->width() / 2, y});
        QCOMPARE(hues->text(), QStringLiteral("all"));
        QTRY_VERIFY(!target("Dusk Blue").control.hues.holds());
        hues->selectAll();
        QTest::keyClicks(hues, QStringLiteral("200-300"));
        QTest::keyClick(hues, Qt::Key_Return);
        QTRY_COMPARE(target("Dusk Blue").control.hues.middle, 250.0);
        hues->selectAll();
        QTest::keyClicks(hues, QStringLiteral("blue"));
        QTest::keyClick(hues, Qt::Key_Return);
        QCOMPARE(hues->text(), QStringLiteral("200-300")); // what is no range is put back, and explained
        QVERIFY(hues->toolTip().contains(QStringLiteral("30-90")));
        QVERIFY(bar->hold() == target("Dusk Blue").control.hues);
        // Two inks one straight after the other: neither is forgotten.
        strength->selectAll();
        QTest::keyClicks(strength, QStringLiteral("70 %"));
        QTest::keyClick(strength, Qt::Key_Return);
        inks->setCurrentRow(row_of("Lantern Orange"));
        strength->selectAll();
        QTest::keyClicks(strength, QStringLiteral("60 %"));
        QTest::keyClick(strength, Qt::Key_Return);
        QTRY_COMPARE(target("Lantern Orange").control.strength, 0.6);
        QTRY_COMPARE(target("Dusk Blue").control.strength, 0.7);
        inks->setCurrentRow(row_of("Dusk Blue"));
        // Square dots; what does not concern them cannot be changed.
        auto *dots = bench.find<QComboBox>(QStringLiteral("pictureDots"));
        dots->setCurrentIndex(1);
        Q_EMIT dots->activated(1);
        QCOMPARE(bench.job().routes.at(0).dots.size_mm, 0.2);
        const int dot = bench.tone("Lantern Orange", middle);
        QVERIFY(dot == 0 || dot == 255);
        QVERIFY(!strength->isEnabled());
        QVERIFY(bench.find<QLineEdit>(QStringLiteral("dotSize"))->isEnabled());
        while (bench.job().routes.at(0).dots.wanted() || target("Dusk Blue").control != InkControl() ||
               target("Lantern Orange").control != InkControl()) {
            bench.window.session().undoStack().undo();
        }
        QTRY_COMPARE_WITH_TIMEOUT(bench.tone("Dusk Blue", middle), full, 60'000);
        // Another colour of an ink needs other tones: the plates follow.
        const int blue = bench.tone("Dusk Blue", middle);
        Job lighter = bench.job();
        lighter.plates[static_cast<std::size_t>(lighter.find_plate("Dusk Blue"))].solid.l += 25;
        const auto before = bench.window.session().page();
        bench.window.session().change(lighter, QStringLiteral("a lighter blue"));
        QTRY_VERIFY_WITH_TIMEOUT(bench.window.session().page() != before, 60'000);
        QVERIFY(bench.tone("Dusk Blue", middle) != blue);
    }

    void processInksTakeTheBlackAskedFor()
    {
        Pictures bench;
        bench.openDemo("handbill.pdf");
        bench.click(bench.find<QPushButton>(QStringLiteral("panelPictures")));
        bench.treat(1);
        auto *amount = bench.find<QComboBox>(QStringLiteral("blackAmount"));
        QVERIFY(amount->isVisible());
        const auto follow = [&] {
            QTRY_VERIFY_WITH_TIMEOUT(bench.window.session().page()->routes == bench.job().routes, 60'000);
        };
        amount->setCurrentIndex(static_cast<int>(BlackAmount::Least));
        Q_EMIT amount->activated(static_cast<int>(BlackAmount::Least));
        QCOMPARE(bench.job().routes.at(0).black.amount, BlackAmount::Least);
        follow();
        const QPointF middle(27, 117);
        const int least = bench.tone("Black", middle);
        amount->setCurrentIndex(static_cast<int>(BlackAmount::Most));
        Q_EMIT amount->activated(static_cast<int>(BlackAmount::Most));
        follow();
        QVERIFY(bench.tone("Black", middle) > least);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("inkLimit")), QStringLiteral("240 %"));
        QCOMPARE(bench.job().routes.at(0).black.ink_limit, 2.4);
        follow();
    }

    void flatColoursOfAPictureStandAmongTheColoursFound()
    {
        Pictures bench;
        bench.openDemo("moth-badge.png");
        bench.addPlate("Luna Green");
        bench.addPlate("Wing Rust");
        bench.click(bench.find<QPushButton>(QStringLiteral("panelRoutes")));
        auto *flow = bench.find<FlowPicture>(QStringLiteral("flowPicture"));
        QTRY_COMPARE(flow->sources().size(), std::size_t(5)); // the picture, and its four colours
        int green = -1;
        for (std::size_t i = 1; i < flow->sources().size(); ++i) {
            const QColor swatch = flow->sources()[i].swatch;
            green = swatch.green() > swatch.red() + 40 ? static_cast<int>(i) : green;
            QVERIFY(flow->sources()[i].area > 0);
            QVERIFY(flow->sources()[i].streams.empty()); // with the picture
        }
        QVERIFY(green > 0);
        QTest::mouseClick(flow, Qt::LeftButton, {}, flow->sourceRect(green).center());
        for (std::size_t i = 0; i < flow->ends().size(); ++i) {
            if (flow->ends()[i].name == QStringLiteral("Luna Green")) {
                QTest::mouseClick(flow, Qt::LeftButton, {}, flow->endRect(static_cast<int>(i)).center());
            }
        }
        bench.click(bench.find<QPushButton>(QStringLiteral("sendColour")));
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].split.colours.size(), std::size_t(4));
        QCOMPARE(bench.tone("Luna Green", on_wing), 255);
        QCOMPARE(bench.tone("Luna Green", on_ground), 0);
        const auto stream = [&](int source) {
            const auto &streams = flow->sources()[static_cast<std::size_t>(source)].streams;
            return streams.empty() ? QString() : flow->ends()[static_cast<std::size_t>(streams[0].to)].name;
        };
        QCOMPARE(stream(green), QStringLiteral("Luna Green"));
        // It shows the bare stock; then the whole picture is as it was.
        bench.click(bench.find<QPushButton>(QStringLiteral("endBare")));
        QCOMPARE(stream(green), QStringLiteral("bare stock"));
        QCOMPARE(bench.tone("Luna Green", on_wing), 0);
        bench.click(bench.find<QPushButton>(QStringLiteral("endRelease")));
        QVERIFY(bench.job().routes.empty());
        QVERIFY(bench.tone("Cyan", on_wing) > 100);
    }

    void inksAreChosenForAPaintingOnItsStock()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("paint.png"));
        QImage image(120, 80, QImage::Format_RGB32);
        for (int y = 0; y < 80; ++y) {
            for (int x = 0; x < 120; ++x) {
                image.setPixelColor(x, y, QColor(60 + x, 30 + y, 120 - x / 2));
            }
        }
        QVERIFY(image.save(file));
        Pictures bench;
        bench.open(file);
        bench.window.setStage(Stage::Ink);
        bench.click(bench.find<QPushButton>(QStringLiteral("panelPictures")));
        bench.actions = 0;
        bench.press("chooseInks");
        auto *dialog = bench.window.findChild<SeparationDialog *>(QStringLiteral("separationDialog"));
        QVERIFY(dialog != nullptr);
        dialog->findChild<QComboBox *>(QStringLiteral("mostInks"))->setCurrentIndex(1); // three
        const auto press = [&](const char *name) {
            auto *button = dialog->findChild<QPushButton *>(QLatin1String(name));
            QVERIFY(button->isEnabled());
            bench.click(button);
        };
        press("findInks");
        auto *pictures = dialog->findChild<QListWidget *>(QStringLiteral("inkCountPictures"));
        QTRY_COMPARE_WITH_TIMEOUT(pictures->count(), 3, 30'000);
        auto *inks = dialog->findChild<QListWidget *>(QStringLiteral("setInks"));
        QCOMPARE(inks->count(), 3);
        // One is kept, and stays when they are looked for again.
        const QString kept = inks->item(2)->text();
        inks->item(2)->setCheckState(Qt::Checked);
        press("findInks");
        auto *find = dialog->findChild<QPushButton *>(QStringLiteral("findInks"));
        QTRY_VERIFY_WITH_TIMEOUT(find->isEnabled(), 30'000);
        QVERIFY(!inks->findItems(kept, Qt::MatchExactly).isEmpty());
        // Two are enough: the smaller set is chosen, and printed in.
        pictures->setCurrentRow(pictures->count() - 2);
        const int count = inks->count();
        auto *limit = dialog->findChild<QLineEdit *>(QStringLiteral("inkLimit"));
        QTest::keyClicks(limit, QStringLiteral("9000"));
        press("printInSet");
        auto *told = dialog->findChild<QLabel *>(QStringLiteral("separationWords"));
        QVERIFY(told->text().contains(QStringLiteral("no ink limit")));
        limit->clear();
        QTest::keyClicks(limit, QStringLiteral("180 %"));
        press("printInSet");
        QTRY_COMPARE_WITH_TIMEOUT(static_cast<int>(bench.job().plates.size()), count, 30'000);
        auto *words = dialog->findChild<QLabel *>(QStringLiteral("separationWords"));
        QTRY_VERIFY_WITH_TIMEOUT(words->text().contains(QStringLiteral("median")), 30'000);
        QVERIFY(bench.actions <= 6);
        QVERIFY(std::any_of(bench.job().routes.begin(), bench.job().routes.end(),
                            [](const Route &route) { return route.ink_limit == 1.8; }));
        dialog->close();
        bench.window.session().undoStack().undo(); // all of it was one step
        QVERIFY(bench.job().routes.empty());
    }

    void whatAPictureLaysDownIsSaid()
    {
        // Two pictures: grey, which prints in black only, and one of heavy process builds.
        MiniPdf pdf;
        pdf.width = pdf.height = 200;
        pdf.objects = {
            "<< /Type /XObject /Subtype /Image /Width 2 /Height 1 /BitsPerComponent 8 /ColorSpace "
            "/DeviceGray /Filter /ASCIIHexDecode /Length 5 >>\nstream\n00FF>\nendstream",
            "<< /Type /XObject /Subtype /Image /Width 2 /Height 1 /BitsPerComponent 8 /ColorSpace "
            "/DeviceCMYK /Filter /ASCIIHexDecode /Length 17 >>\nstream\nFFFFFFFF00000000>\nendstream"};
        pdf.resources = "/XObject << /G 10 0 R /C 11 0 R >>";
        pdf.contents = "q 80 0 0 40 10 10 cm /G Do Q q 80 0 0 40 10 100 cm /C Do Q";
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("two.pdf"));
        pdf.save(file);
        Pictures bench;
        bench.open(file);
        bench.window.setStage(Stage::Ink);
        bench.click(bench.find<QPushButton>(QStringLiteral("panelPictures")));
        auto *ink = bench.find<QLabel>(QStringLiteral("pictureInk"));
        QTRY_COMPARE_WITH_TIMEOUT(
            ink->text(), QStringLiteral("Prints in Black only; at most 100 %, on average 50 %."), 30'000);
        auto *list = bench.find<QListWidget>(QStringLiteral("pictureList"));
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(1)).center());
        QTRY_VERIFY2_WITH_TIMEOUT(ink->text().contains(QStringLiteral("at most 400 %, on average 20")),
                                  qPrintable(ink->text()), 30'000);
        // One ink instead: less is laid down, and both are told.
        QTest::keyClick(list, Qt::Key_Tab);
        auto *treatment = bench.find<QComboBox>(QStringLiteral("pictureTreatment"));
        treatment->setFocus();
        QTest::keyClick(treatment, Qt::Key_Down);
        QTest::keyClick(treatment, Qt::Key_Down);
        QTRY_VERIFY2_WITH_TIMEOUT(
            ink->text().contains(QStringLiteral("only; at most 100 %")) &&
                ink->text().contains(QStringLiteral("As it came: at most 400 %, on average 20")),
            qPrintable(ink->text()), 30'000);
    }

    void aPageWithoutPicturesSaysSo()
    {
        Pictures bench;
        bench.openDemo("night-tote.pdf");
        bench.click(bench.find<QPushButton>(QStringLiteral("panelPictures")));
        QCOMPARE(bench.find<QLabel>(QStringLiteral("pictureState"))->text(),
                 QStringLiteral("This page holds no pictures."));
    }
};

BICHROM_TEST(TestPictures, QApplication)
#include "tst_pictures.moc"
