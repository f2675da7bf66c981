// Pictures as tints and as flat artwork, in the real window.
#include "app/widgets/curve_edit.h"
#include "app/widgets/theme.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"

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
        const auto &renderer = *window.session().page()->renderer;
        const Dpi dpi(200);
        const PixelRect at{static_cast<int>(mm.x() / 25.4 * 200), static_cast<int>(mm.y() / 25.4 * 200), 1,
                           1};
        const PlateTile tile = take(renderer.render(at, dpi));
        const auto plate =
            std::find(renderer.inks().begin(), renderer.inks().end(), ink) - renderer.inks().begin();
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
        bench.treat(4);
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
        bench.treat(5);
        QCOMPARE(bench.tone("Lantern Orange", middle) + bench.tone("Dusk Blue", middle), 0);
        bench.window.session().undoStack().undo();
        QVERIFY(bench.tone("Lantern Orange", middle) > 0);
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

QTEST_MAIN(TestPictures)
#include "tst_pictures.moc"
