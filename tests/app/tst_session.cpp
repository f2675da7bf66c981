// The open job: read in other ways, changed meanwhile, checked, stopped.
#include "app/services/session.h"

#include "app/lighttable/tile_cache.h"
#include "app/lighttable/tile_source.h"
#include "core/job/routing.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QRandomGenerator>
#include <QSignalSpy>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Two pages: Alpha on the first, Beta on the second; a trim inside, a rotated sheet.
MiniPdf two_pages()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 20 20 40 40 re f");
    pdf.more_pages = {"/B cs 1 scn 20 20 40 40 re f"};
    pdf.width = 200;
    pdf.height = 100;
    pdf.page_extra = "/CropBox [10 5 190 95] /TrimBox [20 10 180 90] /Rotate 90";
    return pdf;
}

struct Opened
{
    QTemporaryDir folder;
    Session session;
    QString path = folder.filePath(QStringLiteral("art.pdf"));

    explicit Opened(const MiniPdf &pdf)
    {
        pdf.save(path);
        open(path);
    }
    void open(const QString &file)
    {
        session.open(file);
        if (!QTest::qWaitFor([&] { return session.isOpen() && !session.isLoading(); }, patience_ms)) {
            qFatal("it does not open");
        }
        wait();
    }
    void wait()
    {
        const bool ready = QTest::qWaitFor(
            [&] { return !session.isLoading() && session.facts().findings().has_value(); }, patience_ms);
        if (!ready) {
            qFatal("it is not read and checked");
        }
    }
    Job with_intent(RenderingIntent intent)
    {
        Job job = session.job();
        job.colours.rendering.intent = intent;
        return job;
    }
    Job with_ruling(double lpi)
    {
        Job job = session.job();
        job.plates[0].screen.ruling = Lpi(lpi);
        return job;
    }
};

} // namespace

class TestSession : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void changesMadeWhileItIsReadAreKept()
    {
        Opened opened(two_pages());
        opened.session.changeReading(opened.with_intent(RenderingIntent::Perceptual),
                                     QStringLiteral("intent"));
        QVERIFY(opened.session.isLoading());
        opened.session.change(opened.with_ruling(33), QStringLiteral("ruling")); // before it is read
        opened.wait();
        QCOMPARE(opened.session.job().colours.rendering.intent, RenderingIntent::Perceptual);
        QCOMPARE(opened.session.job().plates[0].screen.ruling.value, 33.0);
        QCOMPARE(opened.session.page()->colours.rendering.intent, RenderingIntent::Perceptual);
        // Undone in the order in which they came to be.
        opened.session.undoStack().undo();
        opened.wait();
        QCOMPARE(opened.session.page()->colours.rendering.intent, RenderingIntent::RelativeColorimetric);
        QCOMPARE(opened.session.job().plates[0].screen.ruling.value, 33.0);
        opened.session.undoStack().undo();
        QCOMPARE(opened.session.job().plates[0].screen.ruling.value, 55.0);
        QVERIFY(!opened.session.isModified());
    }

    void thePageIsSeenBeforeItIsRead()
    {
        // Many lines take seconds to be read and a moment to be painted roughly.
        MiniPdf pdf;
        pdf.width = 300;
        pdf.height = 200;
        QRandomGenerator random(5);
        for (int i = 0; i < 40'000; ++i) {
            const auto number = [&](int most) { return std::to_string(random.bounded(most)); };
            pdf.contents +=
                number(300) + " " + number(200) + " m " + number(300) + " " + number(200) + " l S\n";
        }
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("lines.pdf"));
        pdf.save(path);
        Session session;
        QList<QImage> seen;
        bool was_open = false;
        QObject::connect(&session, &Session::previewed, &session, [&](const QImage &picture) {
            seen << picture;
            was_open = was_open || session.isOpen();
        });
        session.open(path);
        QTRY_VERIFY_WITH_TIMEOUT(session.isOpen(), 30'000);
        QVERIFY(!seen.isEmpty() && !was_open);
        QVERIFY(std::abs(seen.first().width() * 2 - seen.first().height() * 3) <= 3);
        QVERIFY(qGray(seen.first().pixel(seen.first().width() / 2, seen.first().height() / 2)) < 128);
    }

    void savingHoldsNobodyUpAndLosesNothing()
    {
        Opened opened(two_pages());
        Session &session = opened.session;
        session.change(opened.with_ruling(33), QStringLiteral("ruling"));
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("a.bichrom"));
        QSignalSpy saved(&session, &Session::saved);
        session.save(path);
        QVERIFY(session.isSaving());
        session.change(opened.with_ruling(44), QStringLiteral("ruling again")); // while it is being written
        QTRY_COMPARE_WITH_TIMEOUT(saved.count(), 1, 30'000);
        QCOMPARE(open_job(path.toStdString())->job.plates[0].screen.ruling.value, 33.0);
        QVERIFY(session.isModified()); // by what came meanwhile
        QCOMPARE(session.path(), path);
        session.save(path);
        QTRY_COMPARE_WITH_TIMEOUT(saved.count(), 2, 30'000);
        QVERIFY(!session.isModified());
        QCOMPARE(open_job(path.toStdString())->job.plates[0].screen.ruling.value, 44.0);
        // What cannot be written is told, and stays unsaved where it was.
        session.change(opened.with_ruling(22), QStringLiteral("ruling"));
        QSignalSpy failed(&session, &Session::saveFailed);
        session.save(QStringLiteral("/nowhere/at/all.bichrom"));
        QTRY_COMPARE_WITH_TIMEOUT(failed.count(), 1, 30'000);
        QVERIFY(session.isModified() && !session.isSaving());
        QCOMPARE(session.path(), path);
    }

    void theLastReadingWins()
    {
        Opened opened(two_pages());
        opened.session.changeReading(opened.with_intent(RenderingIntent::Perceptual),
                                     QStringLiteral("first"));
        opened.session.changeReading(opened.with_intent(RenderingIntent::Saturation),
                                     QStringLiteral("second"));
        opened.wait();
        QCOMPARE(opened.session.job().colours.rendering.intent, RenderingIntent::Saturation);
        QCOMPARE(opened.session.page()->colours.rendering.intent, RenderingIntent::Saturation);
        QCOMPARE(opened.session.undoStack().count(), 1);
    }

    void aReadingCanBeStopped()
    {
        Opened opened(two_pages());
        const auto page = opened.session.page();
        opened.session.changeReading(opened.with_intent(RenderingIntent::Perceptual),
                                     QStringLiteral("intent"));
        opened.session.cancelOpening();
        QVERIFY(!opened.session.isLoading());
        QTest::qWait(300);
        QCOMPARE(opened.session.page(), page);
        QCOMPARE(opened.session.undoStack().count(), 0);
        QVERIFY(opened.session.facts().findings().has_value());
    }

    // White that the revised file sets to overprint looks the same in a viewer and vanishes in print.
    void aRevisedFilesOverprintIsAChange()
    {
        const std::string ground = "1 0 0 0 k 0 0 72 72 re f ";
        Opened opened(spots_page(ground + "0 0 0 0 k 20 20 30 30 re f"));
        const QString revised = opened.folder.filePath(QStringLiteral("revised.pdf"));
        const auto grey_at = [&](int x, int y) {
            const auto source = TileSource::make(*opened.session.page(), opened.session.job());
            return qRed(
                take(source->render(TileKind::FileChange, {0, 0, 72, 72}, Dpi(72))).picture.pixel(x, y));
        };
        const auto replace = [&](const std::string &contents) {
            spots_page(contents).save(revised);
            QSignalSpy done(&opened.session, &Session::artworkReplaced);
            opened.session.replaceArtwork(revised);
            QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 30'000);
            opened.wait();
        };
        replace(ground + "/OPM1 gs 0 0 0 0 k 20 20 30 30 re f");
        QVERIFY(opened.session.page()->previous_plates != nullptr);
        QVERIFY(grey_at(35, 35) < 200);
        QCOMPARE(grey_at(5, 5), 255);
    }

    // Nearer than the film there is nothing more to see: its pixels are enlarged.
    void nearerThanTheFilmItsPixelsAreEnlarged()
    {
        Opened opened(spots_page("/A cs 1 scn 20 20 m 50 20 l 35 50 l h f"));
        Job job = opened.session.job();
        job.film.resolution = Dpi(300);
        const auto source = TileSource::make(*opened.session.page(), job);
        const Tile film = take(source->render(TileKind::Plates, {0, 0, 300, 300}, Dpi(300)));
        const PixelRect part = {16 * 120, 16 * 150, 64, 64};
        const Tile near = take(source->render(TileKind::Plates, part, Dpi(4800)));
        for (int y = 0; y < 64; y += 7) {
            for (int x = 0; x < 64; x += 7) {
                QCOMPARE(near.planes->plates[0].at(x, y),
                         film.planes->plates[0].at(120 + x / 16, 150 + y / 16));
            }
        }
        CancelSwitch stop;
        stop.cancel();
        const auto stopped = source->render(TileKind::Plates, {0, 0, 300, 300}, Dpi(300), JobControl(stop));
        QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
    }

    // Seen: a tile beside a wide recipe, far zoomed in, took ten seconds and a gigabyte.
    void aFarZoomedTileOfAWideRecipeIsSmall()
    {
        Opened opened(spots_page("/A cs 1 scn 20 20 30 30 re f"));
        Job job = opened.session.job();
        Plate base = job.plates.front();
        base.ink = "Base";
        RecipeStep add;
        add.source.from = RecipeFrom::Plate;
        add.source.inks = {"Alpha"};
        RecipeStep spread;
        spread.does = RecipeDo::Spread;
        spread.distance = 5;
        base.recipe = {add, spread};
        job.plates.push_back(base);
        opened.session.change(job, QStringLiteral("base"));
        QTRY_VERIFY_WITH_TIMEOUT(opened.session.page()->plate_line->inks().size() == 2, 30'000);
        const auto source = TileSource::make(*opened.session.page(), opened.session.job());
        const Tile tile = take(source->render(TileKind::Plates, {9000, 9000, 256, 256}, Dpi(19200)));
        QCOMPARE(tile.planes->plates.size(), std::size_t(2));
        QCOMPARE(int(tile.planes->plates[1].at(128, 128)), 255);
    }

    void aTileThatFailsSaysSoAndIsNotTriedAgain()
    {
        Opened opened(spots_page("/A cs 1 scn 20 20 30 30 re f"));
        TileCache cache;
        QSignalSpy ready(&cache, &TileCache::tileReady);
        auto source =
            std::make_shared<TileSource>(*TileSource::make(*opened.session.page(), opened.session.job()));
        source->job.plates[0].screen.ruling = Lpi(5000); // dots that cannot be made
        cache.setSource(source);
        const TileKey key{TileKind::Dots, 20000, 0, 0};
        cache.want({key});
        QTRY_COMPARE_WITH_TIMEOUT(ready.count(), 1, 30'000);
        const Tile *tile = cache.find(key);
        QVERIFY(tile != nullptr && !tile->fault.isEmpty());
        cache.want({key});
        QTest::qWait(50);
        QVERIFY(!cache.isBusy());
        QCOMPARE(ready.count(), 1);
        cache.setSource(source); // something changed
        QVERIFY(cache.find(key) == nullptr);
    }

    void aPageThatCannotBeReadIsSaid()
    {
        MiniPdf pdf = two_pages();
        // The second page's box holds no area.
        std::vector<std::byte> bytes = pdf.bytes();
        std::string text(reinterpret_cast<const char *>(bytes.data()), bytes.size());
        const std::size_t box = text.rfind("/MediaBox [0 0 ");
        QVERIFY(box != std::string::npos);
        for (std::size_t at = box + 11; text[at] != ']'; ++at) {
            text[at] = text[at] >= '1' && text[at] <= '9' ? '0' : text[at];
        }
        std::memcpy(bytes.data(), text.data(), text.size());
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("art.pdf"));
        save_bytes(bytes, path);
        Session session;
        session.open(path);
        QTRY_VERIFY(session.isOpen() && !session.isLoading());
        QSignalSpy failed(&session, &Session::openFailed);
        session.showPage(2);
        QTRY_COMPARE(failed.count(), 1);
        QCOMPARE(session.page()->info.number, 1);
        QCOMPARE(session.job().page, 1);
        QVERIFY(!session.isLoading() && !session.isModified());
        // The same when the job is already what it cannot be, as after an undo: it goes back to what is
        // shown.
        Job job = session.job();
        PlacedArtwork beyond;
        beyond.id = 1;
        beyond.original = session.opened().artwork;
        beyond.page = 99;
        job.placements.artworks.push_back(beyond);
        session.change(job, QStringLiteral("place page 99"));
        QTRY_COMPARE(failed.count(), 2);
        QVERIFY(session.job().placements.artworks.empty());
        // The check, which looks at all pages, says so too, and still checks the others.
        QTRY_VERIFY_WITH_TIMEOUT(!session.facts().isChecking() && session.facts().findings().has_value(),
                                 30'000);
        const auto &all = *session.facts().findings();
        QVERIFY(std::any_of(all.begin(), all.end(), [](const Finding &finding) {
            return finding.check == "damaged_content" && finding.page == 2;
        }));
    }

    void checkingCanBeStoppedAndBegunAgain()
    {
        // So many that they are not done before they are stopped, on however busy a machine.
        MiniPdf pdf = two_pages();
        for (int i = 0; i < 500; ++i) {
            pdf.more_pages.push_back(pdf.contents);
        }
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("art.pdf"));
        pdf.save(path);
        Session session;
        QSignalSpy progress(&session.facts(), &Facts::checkProgress);
        session.open(path);
        QTRY_VERIFY(session.facts().isChecking());
        session.facts().cancelChecking();
        QTRY_VERIFY(!session.facts().isChecking());
        QVERIFY(!session.facts().findings().has_value());
        QVERIFY(session.facts().checkFault().isEmpty()); // it was the artist's wish
        session.facts().check();
        QVERIFY(session.facts().isChecking());
        QTRY_VERIFY_WITH_TIMEOUT(session.facts().findings().has_value(), 60'000);
        QVERIFY(progress.count() > 0);
        QCOMPARE(progress.last()[1].toLongLong(), 502LL);
    }

    void rulesThatCannotBeReadAreSaid()
    {
        Opened opened(two_pages());
        Job job = opened.session.job();
        job.rules = "{ nonsense";
        opened.session.change(job, QStringLiteral("rules"));
        opened.wait();
        QCOMPARE(opened.session.facts().rules().name, shipped_rules().front().name);
        QVERIFY2(opened.session.facts().checkFault().contains(QStringLiteral("stands in")),
                 qPrintable(opened.session.facts().checkFault()));
        opened.session.undoStack().undo();
        opened.wait();
        QVERIFY(opened.session.facts().checkFault().isEmpty());
    }

    void openFindingsAreThoseNobodyAccepted()
    {
        Opened opened(spots_page("/B CS 1 SCN 0.1 w 5 40 m 60 40 l S"));
        const auto &findings = *opened.session.facts().findings();
        const auto thin = std::find_if(findings.begin(), findings.end(),
                                       [](const Finding &finding) { return finding.check == "thin_line"; });
        QVERIFY(thin != findings.end());
        const int before = opened.session.facts().openFindings(thin->severity);
        Job job = opened.session.job();
        job.accepted.push_back({thin->check, thin->page, thin->subject, "so be it"});
        opened.session.change(job, QStringLiteral("accept"));
        QVERIFY(opened.session.facts().findings().has_value()); // nothing is checked anew
        QCOMPARE(opened.session.facts().openFindings(thin->severity), before - 1);
    }

    void placesAreTheSameInEveryBox()
    {
        Opened opened(two_pages());
        for (const PageBox box : {PageBox::Media, PageBox::Crop, PageBox::Trim}) {
            Job job = opened.session.job();
            job.film.box = box;
            opened.session.change(job, QStringLiteral("box"));
            QTRY_VERIFY(opened.session.page()->box == box && !opened.session.isLoading());
            // The square of 40 pt at (20, 20) of a page turned by a quarter: x from the left is y, y is x.
            const SceneObject &square = opened.session.page()->scene.objects.front();
            const auto mm = [](double points) { return points * 25.4 / 72; };
            const Rect media = opened.session.mediaArea({mm(square.bounds.x), mm(square.bounds.y),
                                                         mm(square.bounds.width), mm(square.bounds.height)});
            QVERIFY2(std::abs(media.x - mm(20)) < 0.01 && std::abs(media.y - mm(20)) < 0.01,
                     qPrintable(QStringLiteral("%1: %2, %3")
                                    .arg(QLatin1String(to_string(box)))
                                    .arg(media.x)
                                    .arg(media.y)));
            const QRectF shown = opened.session.shownArea(media);
            QVERIFY(std::abs(shown.x() - mm(square.bounds.x)) < 1e-9);
            // The trim lies where its own box says.
            const Rect trim = opened.session.trimArea();
            QVERIFY(std::abs(trim.width - mm(80)) < 0.01 && std::abs(trim.height - mm(160)) < 0.01);
            QVERIFY(std::abs(opened.session.mediaArea({trim.x, trim.y, 0, 0}).x - mm(10)) < 0.01);
        }
    }

    void coverageIsOfTheTrim()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f");
        pdf.page_extra = "/TrimBox [18 0 72 72]"; // a third of it is inked
        Opened opened(pdf);
        QTRY_VERIFY(opened.session.facts().coverage("Alpha") >= 0);
        QVERIFY2(std::abs(opened.session.facts().coverage("Alpha") - 1.0 / 3) < 0.005,
                 qPrintable(QString::number(opened.session.facts().coverage("Alpha"))));
        QCOMPARE(opened.session.facts().coverage("Nobody's"), -1.0);
    }

    void thePlatesFollowTheRoutesThroughPagesAndReadings()
    {
        Opened opened(two_pages());
        Session &session = opened.session;
        QSignalSpy plates(&session, &Session::platesChanged);
        Route route = route_from(session.page()->scene, 1, {0}, 0);
        route.targets = {{"Gamma", false, 1, {}}};
        Job job = with_route(session.job(), route);
        std::erase_if(job.plates, [](const Plate &plate) { return plate.ink == "Alpha"; });
        session.change(job, QStringLiteral("route"));
        QVERIFY(session.page()->routes.empty()); // made in the background
        QTRY_COMPARE(plates.count(), 1);
        QCOMPARE(session.page()->routes, job.routes);
        QCOMPARE(session.page()->plate_line->inks(), std::vector<std::string>{"Gamma"});
        QTRY_VERIFY(session.facts().coverage("Gamma") > 0);
        QVERIFY(session.facts().sourceCoverage("Alpha") > 0); // the file itself is as it was
        QCOMPARE(session.facts().sourceCoverage("Gamma"), -1.0);
        QTRY_VERIFY(session.facts().openLosses().empty());
        // The second page brings its own ink; what routes print on stays.
        session.showPage(2);
        opened.wait();
        QVERIFY(session.job().find_plate("Gamma") >= 0);
        QVERIFY(session.job().find_plate("Beta") >= 0);
        QCOMPARE(session.page()->routes, session.job().routes);
        // Back again: the plate of Alpha, which the artist took out, does not come back.
        session.showPage(1);
        opened.wait();
        QVERIFY(session.job().find_plate("Gamma") >= 0);
        // Many quick changes: the last one counts.
        for (int i = 1; i <= 5; ++i) {
            Job next = session.job();
            next.routes[0].targets[0].tint = i / 10.0;
            session.change(next, QStringLiteral("tint"));
        }
        QTRY_COMPARE(session.page()->routes, session.job().routes);
        QCOMPARE(session.page()->routes[0].targets[0].tint, 0.5);
        while (session.undoStack().canUndo()) {
            session.undoStack().undo();
        }
        opened.wait();
        QTRY_VERIFY(session.page()->routes.empty());
        QTRY_COMPARE(session.page()->plate_line->inks(), std::vector<std::string>{"Alpha"});
    }

    void aStockThatIsNotWhiteAsksAboutWhite()
    {
        Opened opened(spots_page("/A cs 1 scn 0 0 72 72 re f 0 0 0 0 k 10 10 20 20 re f"));
        Session &session = opened.session;
        QVERIFY(session.facts().openLosses().empty());
        Job job = session.job();
        job.stock = {"Black", {16, 0, 0}, false};
        session.change(job, QStringLiteral("stock"));
        QTRY_COMPARE(session.facts().openLosses().size(), std::size_t(1));
        // Accepted with a reason it is open no more, and stands in the list of findings.
        job = session.job();
        const Finding lost = session.facts().openLosses()[0];
        job.accepted.push_back({lost.check, lost.page, lost.subject, "the stock shall show"});
        session.change(job, QStringLiteral("accept"));
        QVERIFY(session.facts().openLosses().empty());
        QTRY_VERIFY(session.facts().findings().has_value());
        QVERIFY(std::any_of(session.facts().findings()->begin(), session.facts().findings()->end(),
                            [&](const Finding &finding) { return finding.check == lost.check; }));
    }
};

BICHROM_TEST(TestSession, QApplication)
#include "tst_session.moc"
