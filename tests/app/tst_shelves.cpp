// The shop's own rules and inks on disk.
#include "app/services/ink_library.h"
#include "app/services/rules_shelf.h"

#include "core/base/atomic_file.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QSignalSpy>
#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

class TestShelves : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void rulesAreKeptAFileEach()
    {
        QTemporaryDir folder;
        const QString place = folder.filePath(QStringLiteral("rules"));
        RulesShelf shelf(place);
        QCOMPARE(shelf.entries().size(), std::size_t(4));
        QSignalSpy changed(&shelf, &RulesShelf::changed);
        ShopRules rules = shelf.entries()[1].rules;
        QCOMPARE(shelf.find(rules), 1);
        rules.name = "Night shift / film";
        rules.press.units = 3;
        const int own = take(shelf.add(rules));
        QCOMPARE(own, 4);
        QCOMPARE(changed.count(), 1);
        QVERIFY(QFileInfo(shelf.entries()[4].path).fileName().indexOf(QLatin1Char('/')) < 0);
        // The same name again is told apart, in the list and on disk.
        const int twin = take(shelf.add(rules));
        QCOMPARE(shelf.entries()[static_cast<std::size_t>(twin)].rules.name,
                 std::string("Night shift / film 2"));
        QVERIFY(shelf.entries()[4].path != shelf.entries()[5].path);
        rules.press.units = 9;
        QVERIFY(shelf.replace(own, rules));
        // Another start finds the same.
        const RulesShelf again(place);
        QCOMPARE(again.entries().size(), std::size_t(6));
        QVERIFY(again.find(rules) >= 4); // in the order of the file names
        QVERIFY(again.fault().isEmpty());
        QVERIFY(shelf.remove(twin));
        QCOMPARE(RulesShelf(place).entries().size(), std::size_t(5));
    }

    void fieldsOfNewerVersionsAreKept()
    {
        QTemporaryDir folder;
        std::string text = rules_to_json(shipped_rules().front());
        text.replace(text.find("\"name\""), 6, "\"colour_of_the_lid\": \"amber\",\n  \"name\"");
        QVERIFY(write_file(folder.filePath(QStringLiteral("new.json")).toStdString(), text));
        RulesShelf shelf(folder.path());
        ShopRules rules = shelf.entries()[4].rules;
        rules.press.units = 2;
        QVERIFY(shelf.replace(4, rules));
        QFile file(shelf.entries()[4].path);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(file.readAll().contains("colour_of_the_lid"));
    }

    void whatCannotBeReadIsSaidAndLeftAlone()
    {
        QTemporaryDir folder;
        const QString broken = folder.filePath(QStringLiteral("broken.json"));
        QVERIFY(write_file(broken.toStdString(), std::string_view("{")));
        const RulesShelf shelf(folder.path());
        QCOMPARE(shelf.entries().size(), std::size_t(4));
        QVERIFY2(shelf.fault().contains(QStringLiteral("broken.json")), qPrintable(shelf.fault()));
        QVERIFY(QFile::exists(broken));
    }

    void aFolderThatCannotBeWrittenIsSaid()
    {
        QTemporaryDir folder;
        const QString place = folder.filePath(QStringLiteral("in the way"));
        QVERIFY(write_file(place.toStdString(), std::string_view("a file")));
        RulesShelf shelf(place);
        const auto added = shelf.add(shipped_rules().front());
        QVERIFY(!added && !added.error().reason.empty());
        QCOMPARE(shelf.entries().size(), std::size_t(4));
        InkLibrary library(place + QStringLiteral("/inks.txt"));
        QVERIFY(!library.add({{"New", InkUse::Spot, {50, 0, 0}, {}, false}}));
        QCOMPARE(library.find("New"), -1);
    }

    void inksAreReplacedUnderTheirOwnNames()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("inks.txt"));
        InkLibrary library(file);
        QSignalSpy changed(&library, &InkLibrary::changed);
        const int index = library.find("Luna Green");
        QVERIFY(index >= 0);
        BookInk ink = library.book().inks[static_cast<std::size_t>(index)];
        ink.name = "Wing Rust"; // taken
        QVERIFY(!library.replace(index, ink));
        ink.name = "";
        QVERIFY(!library.replace(index, ink));
        QCOMPARE(changed.count(), 0);
        QVERIFY(!QFile::exists(file));
        ink.name = "Luna Green";
        ink.solid.l = 60;
        ink.locked = true;
        QVERIFY(library.replace(index, ink));
        QCOMPARE(changed.count(), 1);
        // Locked, it neither changes nor goes; unlocked it does.
        BookInk other = ink;
        other.solid.l = 10;
        QVERIFY(!library.replace(index, other));
        QVERIFY(!library.remove(index));
        other.locked = false;
        QVERIFY(library.replace(index, other));
        QVERIFY(library.remove(index));
        QCOMPARE(library.find("Luna Green"), -1);
        const InkLibrary again(file);
        QCOMPARE(again.find("Luna Green"), -1);
        QCOMPARE(again.book().inks.size(), shipped_inks().inks.size() - 1);
    }

    void namesThatAreKnownAreNotAddedTwice()
    {
        QTemporaryDir folder;
        InkLibrary library(folder.filePath(QStringLiteral("inks.txt")));
        const BookInk fresh{"Fresh", InkUse::Spot, {50, 0, 0}, {}, false};
        const BookInk known{"Soot", InkUse::Spot, {1, 0, 0}, {}, false};
        QCOMPARE(take(library.add({fresh, known, fresh})), 1);
        QCOMPARE(take(library.add({fresh, known})), 0);
        QVERIFY(library.book().inks[static_cast<std::size_t>(library.find("Soot"))].solid.l > 10);
    }
};

BICHROM_TEST(TestShelves, QCoreApplication)
#include "tst_shelves.moc"
