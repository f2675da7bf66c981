// Several artworks in one job, in the real window.
#include "app/widgets/theme.h"
#include "app/worktops/ink/pile_picture.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QComboBox>
#include <QListWidget>
#include <QPushButton>
#include <QTextStream>

using namespace bichrom;
using namespace bichrom::test;

namespace {

constexpr double mm = 25.4 / 72;

/// A black square of 20 points, 10 from the left and top, on a sheet of 72.
MiniPdf type_sheet()
{
    return spots_page("0 0 0 1 k 10 42 20 20 re f");
}

struct Files : Bench
{
    QTemporaryDir folder;
    QListWidget *list = find<QListWidget>(QStringLiteral("artworks"));

    Files()
    {
        MiniPdf first = spots_page("/A cs 1 scn 0 0 144 144 re f");
        first.width = first.height = 144;
        first.save(folder.filePath(QStringLiteral("painting.pdf")));
        type_sheet().save(folder.filePath(QStringLiteral("type.pdf")));
        open(folder.filePath(QStringLiteral("painting.pdf")));
        window.setStage(Stage::Ink);
        click(find<QPushButton>(QStringLiteral("panelArtworks")));
        answers.open_file = folder.filePath(QStringLiteral("type.pdf"));
        press("placeArtwork");
        waitForPlaced([](const Placements &p) { return p.artworks.size() == 1; });
    }
    const Job &job() { return window.session().job(); }
    const PlacedArtwork &placed() { return job().placements.artworks.at(0); }
    template <typename Condition> void waitForPlaced(Condition condition)
    {
        waitFor(
            [&] {
                const Session &session = window.session();
                return !session.isLoading() && condition(session.job().placements) &&
                       session.page()->artwork->placements() == session.job().placements &&
                       session.page()->artwork == session.opened().artwork;
            },
            "what is placed does not follow");
        waitForPlates();
    }
    void choose(QComboBox *chooser, int row)
    {
        if (!chooser->isEnabled() || !chooser->isVisible()) {
            qFatal("%s cannot be chosen from", qPrintable(chooser->objectName()));
        }
        chooser->setCurrentIndex(row);
        Q_EMIT chooser->activated(row);
    }
    int tone(const char *ink, double x, double y)
    {
        const auto &plate_line = *window.session().page()->plate_line;
        const PlateTile tile = take(plate_line.render(plate_line.extent(Dpi(72)), Dpi(72)));
        for (std::size_t i = 0; i < plate_line.inks().size(); ++i) {
            if (plate_line.inks()[i] == ink) {
                return tile.plates[i].at(static_cast<int>(x), static_cast<int>(y));
            }
        }
        return -1;
    }
};

} // namespace

class TestArtworks : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void aFileIsPlacedInTheMiddleAndPrints()
    {
        Files bench;
        QVERIFY(std::abs(bench.placed().x - 36 * mm) < 1e-6);
        QCOMPARE(bench.tone("Black", 36 + 15, 36 + 15), 255);
        QCOMPARE(bench.tone("Alpha", 36 + 15, 36 + 15), 0); // knocked out
        QCOMPARE(bench.list->count(), 2);
        QVERIFY(bench.list->item(0)->text().contains(QStringLiteral("type.pdf")));
        QVERIFY(bench.list->item(1)->text().contains(QStringLiteral("painting.pdf")));
        QVERIFY(bench.job().find_plate("Black") >= 0); // its ink got a plate
        // The light table shows it.
        QVERIFY(bench.shownAt({51 * mm, 51 * mm}).lightness() < 80);
        bench.window.session().undoStack().undo();
        bench.waitForPlaced([](const Placements &p) { return p.artworks.empty(); });
        QCOMPARE(bench.tone("Alpha", 51, 51), 255);
        QCOMPARE(bench.job().find_plate("Black"), -1);
        bench.window.session().undoStack().redo();
        bench.waitForPlaced([](const Placements &p) { return p.artworks.size() == 1; });
        QCOMPARE(bench.tone("Black", 51, 51), 255);
    }

    void fieldsMoveScaleAndTurnIt()
    {
        Files bench;
        bench.list->setCurrentRow(0);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("placedX")), QStringLiteral("0 mm"));
        bench.waitForPlaced([](const Placements &p) { return p.artworks[0].x == 0; });
        bench.enter(bench.find<QLineEdit>(QStringLiteral("placedY")), QStringLiteral("1in")); // 72 pt
        bench.waitForPlaced([](const Placements &p) { return p.artworks[0].y == 25.4; });
        QCOMPARE(bench.tone("Black", 20, 72 + 20), 255);
        QCOMPARE(bench.tone("Black", 51, 51), 0);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("placedScale")), QStringLiteral("50"));
        bench.waitForPlaced([](const Placements &p) { return p.artworks[0].scale == 0.5; });
        QCOMPARE(bench.tone("Black", 10, 72 + 10), 255);
        QCOMPARE(bench.tone("Black", 20, 72 + 20), 0);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("placedWidth")), QStringLiteral("72pt"));
        bench.waitForPlaced([](const Placements &p) { return std::abs(p.artworks[0].scale - 1) < 1e-6; });
        bench.choose(bench.find<QComboBox>(QStringLiteral("placedTurn")), 1);
        bench.waitForPlaced([](const Placements &p) { return p.artworks[0].turn == 1; });
        QCOMPARE(bench.tone("Black", 72 - 20, 72 + 20), 255);
        bench.choose(bench.find<QComboBox>(QStringLiteral("placedMeeting")), 1);
        bench.waitForPlaced([](const Placements &p) { return p.artworks[0].overprints; });
        QCOMPARE(bench.tone("Black", 72 - 20, 72 + 20), 255);
        QCOMPARE(bench.tone("Alpha", 72 - 20, 72 + 20), 255); // prints over it
        // A scale that cannot be is not taken.
        bench.enter(bench.find<QLineEdit>(QStringLiteral("placedScale")), QStringLiteral("0"));
        QVERIFY(std::abs(bench.placed().scale - 1) < 1e-6);
        QVERIFY(bench.answers.errors.isEmpty());
    }

    void itIsDraggedInThePicture()
    {
        Files bench;
        auto *picture = bench.find<PilePicture>(QStringLiteral("pilePicture"));
        const double before = bench.placed().x;
        const QPoint from = picture->shownAt({72 * mm, 72 * mm}).toPoint();
        const QPoint to = picture->shownAt({108 * mm, 72 * mm}).toPoint();
        QTest::mousePress(picture, Qt::LeftButton, {}, from);
        QTest::mouseMove(picture, (from + to) / 2);
        QTest::mouseMove(picture, to);
        QTest::mouseRelease(picture, Qt::LeftButton, {}, to);
        bench.waitForPlaced([&](const Placements &p) { return p.artworks[0].x > before; });
        QVERIFY(std::abs(bench.placed().x - before - 36 * mm) < 1); // to the picture's pixel
        QCOMPARE(bench.tone("Black", 72 + 20, 36 + 15), 255);
    }

    void itIsDraggedOnTheLightTable()
    {
        Files bench;
        LightTable *table = bench.table();
        const QPointF before(bench.placed().x, bench.placed().y);
        const auto drag = [&](QPointF from_mm, QPointF to_mm) {
            const QPoint from = table->widgetFromPage(from_mm).toPoint();
            const QPoint to = table->widgetFromPage(to_mm).toPoint();
            QTest::mousePress(table, Qt::LeftButton, {}, from);
            QTest::mouseMove(table, (from + to) / 2);
            QTest::mouseMove(table, to);
            QTest::mouseRelease(table, Qt::LeftButton, {}, to);
            return QPointF(table->pageFromWidget(to) - table->pageFromWidget(from));
        };
        const QPointF by = drag({72 * mm, 72 * mm}, {90 * mm, 60 * mm});
        bench.waitForPlaced([&](const Placements &p) { return p.artworks[0].x > before.x(); });
        QVERIFY(std::abs(bench.placed().x - before.x() - by.x()) < 0.01);
        QVERIFY(std::abs(bench.placed().y - before.y() - by.y()) < 0.01);
        // Beside it the page is moved, not the file; so it is once its panel is left.
        const QPointF after(bench.placed().x, bench.placed().y);
        (void)drag({4 * mm, 4 * mm}, {8 * mm, 8 * mm});
        bench.press("panelRoutes");
        (void)drag({90 * mm, 60 * mm}, {80 * mm, 60 * mm});
        QVERIFY(QPointF(bench.placed().x, bench.placed().y) == after);
        QCOMPARE(bench.window.session().undoStack().count(), 2); // placed, moved
    }

    void theOrderDecidesWhatIsOnTop()
    {
        Files bench;
        bench.list->setCurrentRow(0);
        bench.press("artworkDown"); // under the painting
        bench.waitForPlaced([](const Placements &p) { return p.below == 1; });
        QCOMPARE(bench.tone("Alpha", 51, 51), 255);
        QCOMPARE(bench.tone("Black", 51, 51), 0);
        QCOMPARE(bench.list->currentRow(), 1);
        bench.press("artworkUp");
        bench.waitForPlaced([](const Placements &p) { return p.below == 0; });
        QCOMPARE(bench.tone("Black", 51, 51), 255);
        // The first file can be chosen and moved as well.
        bench.list->setCurrentRow(1);
        bench.press("artworkUp");
        bench.waitForPlaced([](const Placements &p) { return p.below == 1; });
        QCOMPARE(bench.tone("Alpha", 51, 51), 255);
    }

    void routesOfAPlacedFileAreItsOwnAndGoWithIt()
    {
        Files bench;
        QVERIFY(bench.window.session().page()->scene.colours.size() == 2);
        bench.window.choice().chooseColour(1);
        bench.click(bench.find<QPushButton>(QStringLiteral("panelRoutes")));
        bench.window.choice().choosePlate(QStringLiteral("Alpha"));
        bench.press("sendColour");
        bench.waitForPlates();
        QCOMPARE(bench.job().routes.at(0).artwork, 1);
        QCOMPARE(bench.tone("Alpha", 51, 51), 255);
        QCOMPARE(bench.tone("Black", 51, 51), 0);
        // A revised file of the type keeps the route.
        MiniPdf revised = spots_page("0 0 0 1 k 10 42 30 20 re f");
        revised.save(bench.folder.filePath(QStringLiteral("type 2.pdf")));
        bench.answers.open_file = bench.folder.filePath(QStringLiteral("type 2.pdf"));
        bench.click(bench.find<QPushButton>(QStringLiteral("panelArtworks")));
        bench.list->setCurrentRow(0);
        bench.press("replacePlaced");
        bench.waitForPlaced([](const Placements &p) { return p.artworks[0].name == "type 2.pdf"; });
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.tone("Alpha", 36 + 35, 51), 255);
        // Taken away, its route goes too; undo brings both back.
        bench.press("removePlaced");
        bench.waitForPlaced([](const Placements &p) { return p.artworks.empty(); });
        QVERIFY(bench.job().routes.empty());
        bench.window.session().undoStack().undo();
        bench.waitForPlaced([](const Placements &p) { return p.artworks.size() == 1; });
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
    }

    void aFileThatCannotBeReadChangesNothing()
    {
        Files bench;
        bench.answers.open_file = bench.folder.filePath(QStringLiteral("broken.pdf"));
        save_bytes(std::vector<std::byte>(100, std::byte('x')), bench.answers.open_file);
        bench.press("placeArtwork");
        bench.waitFor([&] { return bench.answers.errors.size() == 1; }, "nothing is said");
        QCOMPARE(bench.job().placements.artworks.size(), std::size_t(1));
        bench.waitForPlaced([](const Placements &p) { return p.artworks.size() == 1; });
        // A protected file must not take the job's place by way of the question for its password.
        bench.answers.open_file = bench.folder.filePath(QStringLiteral("locked.pdf"));
        save_bytes(encrypted(type_sheet().bytes(), "secret"), bench.answers.open_file);
        bench.answers.password = QStringLiteral("secret");
        bench.press("placeArtwork");
        bench.waitFor([&] { return bench.answers.errors.size() == 2; }, "nothing is said");
        QCOMPARE(bench.answers.asked_password, 0);
        QVERIFY(bench.window.session().path().endsWith(QStringLiteral("painting.pdf")));
        QVERIFY(bench.answers.errors[1].contains(QStringLiteral("password")));
    }

    void aSavedJobOpensWithAllItsFiles()
    {
        const QString path = m_settings.filePath(QStringLiteral("two.bichrom"));
        {
            Files bench;
            bench.window.session().save(path);
            QTRY_VERIFY_WITH_TIMEOUT(!bench.window.session().isSaving(), 30000);
        }
        Bench bench;
        bench.open(path);
        QCOMPARE(bench.window.session().job().placements.artworks.size(), std::size_t(1));
        QVERIFY(bench.shownAt({51 * mm, 51 * mm}).lightness() < 80);
    }
};

BICHROM_TEST(TestArtworks, QApplication)
#include "tst_artworks.moc"
