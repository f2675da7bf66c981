// What inspect says, against independent readers: pdfinfo, pdfimages and pdffonts (Poppler) and
// Ghostscript's ink coverage device.
#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>

#include <cmath>

using namespace bichrom::test;

namespace {

QJsonObject inspected(const QString &path)
{
    return QJsonDocument::fromJson(output_of(QStringLiteral(BICHROM_CLI),
                                             {QStringLiteral("inspect"), path, QStringLiteral("--json")})
                                       .toUtf8())
        .object();
}

/// Lines of a table without its heading, split at blanks.
QList<QStringList> table_of(const QString &text)
{
    QList<QStringList> rows;
    const QStringList lines = text.split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    for (const QString &line : lines.mid(2)) {
        rows << line.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    }
    return rows;
}

} // namespace

class TestInspect : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;

    QString saved(const MiniPdf &pdf, const char *name)
    {
        const QString path = m_folder.filePath(QString::fromLatin1(name));
        pdf.save(path);
        return path;
    }

private Q_SLOTS:
    void boxesAreThoseOfPdfinfo()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 20 20 re f");
        pdf.width = 400;
        pdf.height = 300;
        pdf.page_extra = "/CropBox [10 20 390 280] /BleedBox [20.5 30 380 270] /TrimBox [29 39 371 261] "
                         "/ArtBox [100 100 200 150] /Rotate 270";
        const QString path = saved(pdf, "boxes.pdf");
        const QString info = output_of(QStringLiteral("pdfinfo"), {QStringLiteral("-box"), path});
        const QJsonObject page = inspected(path)[QStringLiteral("pages")][0].toObject();
        int compared = 0;
        for (const char *name : {"Media", "Crop", "Bleed", "Trim", "Art"}) {
            const QRegularExpression line(QStringLiteral("%1Box:\\s+([\\d. ]+)").arg(QLatin1String(name)));
            const QStringList numbers =
                line.match(info).captured(1).split(QLatin1Char(' '), Qt::SkipEmptyParts);
            QCOMPARE(numbers.size(), 4);
            const QJsonArray box =
                page[QStringLiteral("boxes_mm")][QString::fromLatin1(name).toLower()].toArray();
            const double x = numbers[0].toDouble(), y = numbers[1].toDouble();
            const double expected[] = {x, y, numbers[2].toDouble() - x, numbers[3].toDouble() - y};
            for (int i = 0; i < 4; ++i) {
                QVERIFY2(std::abs(box[i].toDouble() - expected[i] * 25.4 / 72) < 0.01,
                         qPrintable(QStringLiteral("%1 box, number %2").arg(QLatin1String(name)).arg(i)));
                ++compared;
            }
        }
        QCOMPARE(compared, 20);
        QVERIFY(info.contains(QStringLiteral("Page rot:        270")));
        QCOMPARE(page[QStringLiteral("rotate")].toInt(), 270);
    }

    void picturesAreThoseOfPdfimages()
    {
        MiniPdf pdf;
        pdf.width = pdf.height = 288;
        pdf.contents = "q 144 0 0 72 10 10 cm /P Do Q q 36 0 0 72 10 120 cm /Q Do Q";
        pdf.resources = "/XObject << /P 10 0 R /Q 11 0 R >>";
        const auto picture = [](int width, int height, const char *space, int channels) {
            const std::string data(static_cast<std::size_t>(width * height * channels), 'x');
            return "<< /Type /XObject /Subtype /Image /Width " + std::to_string(width) + " /Height " +
                   std::to_string(height) + " /ColorSpace /" + space + " /BitsPerComponent 8 /Length " +
                   std::to_string(data.size()) + " >>\nstream\n" + data + "\nendstream";
        };
        pdf.objects = {picture(300, 200, "DeviceCMYK", 4), picture(40, 60, "DeviceGray", 1)};
        const QString path = saved(pdf, "pictures.pdf");
        const QList<QStringList> rows =
            table_of(output_of(QStringLiteral("pdfimages"), {QStringLiteral("-list"), path}));
        const QJsonArray images =
            inspected(path)[QStringLiteral("pages")][0][QStringLiteral("images")].toArray();
        QCOMPARE(rows.size(), 2);
        QCOMPARE(images.size(), 2);
        for (int i = 0; i < 2; ++i) {
            // page num type width height color comp bpc enc interp object ID x-ppi y-ppi size ratio
            QCOMPARE(images[i][QStringLiteral("width")].toInt(), rows[i][3].toInt());
            QCOMPARE(images[i][QStringLiteral("height")].toInt(), rows[i][4].toInt());
            const int lower = std::min(rows[i][12].toInt(), rows[i][13].toInt());
            QVERIFY2(std::abs(images[i][QStringLiteral("ppi")].toDouble() - lower) < 1,
                     qPrintable(rows[i].join(QLatin1Char(' '))));
        }
    }

    void fontsAreThoseOfPdffonts()
    {
        MiniPdf pdf;
        pdf.contents = "BT /F 12 Tf 5 30 Td (moth) Tj ET";
        pdf.resources = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>";
        for (const QString &path : {saved(pdf, "fonts.pdf"), demo_file()}) {
            QMap<QString, bool> expected;
            for (const QStringList &row : table_of(output_of(QStringLiteral("pdffonts"), {path}))) {
                // name, kind (one or several words), encoding, emb, sub, uni, object, ID
                // A composite font's name may end with that of its CMap (ISO 32000-1, 9.7.6.1).
                expected[QString(row.first()).remove(QStringLiteral("-Identity-H"))] =
                    row[row.size() - 5] == QStringLiteral("yes");
            }
            QVERIFY(!expected.isEmpty());
            QMap<QString, bool> found;
            for (const QJsonValue &font :
                 inspected(path)[QStringLiteral("pages")][0][QStringLiteral("fonts")].toArray()) {
                found[font[QStringLiteral("name")].toString()] = font[QStringLiteral("embedded")].toBool();
            }
            QCOMPARE(found, expected);
        }
    }

    void coverageIsThatOfGhostscript()
    {
        MiniPdf pdf;
        pdf.width = pdf.height = 200;
        pdf.contents = "0.5 0.25 0 0 k 20 20 100 100 re f 0 0 1 0 k 60 60 100 40 re f "
                       "0 0 0 1 k 10 150 m 190 150 l 100 190 l f";
        const QString path = saved(pdf, "coverage.pdf");
        const QString text =
            output_of(QStringLiteral("gs"),
                      {QStringLiteral("-q"), QStringLiteral("-dBATCH"), QStringLiteral("-dNOPAUSE"),
                       QStringLiteral("-r150"), QStringLiteral("-sDEVICE=ink_cov"), QStringLiteral("-o"),
                       QStringLiteral("-"), path});
        const QStringList numbers = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
        QVERIFY2(numbers.size() >= 4, qPrintable(text));
        const QJsonArray inks = inspected(path)[QStringLiteral("pages")][0][QStringLiteral("inks")].toArray();
        QCOMPARE(inks.size(), 4);
        for (int i = 0; i < 4; ++i) {
            // ink_cov gives percent of the page, weighted by tone.
            QVERIFY2(std::abs(inks[i][QStringLiteral("coverage")].toDouble() * 100 - numbers[i].toDouble()) <
                         0.3,
                     qPrintable(QStringLiteral("ink %1: %2, Ghostscript %3")
                                    .arg(i)
                                    .arg(inks[i][QStringLiteral("coverage")].toDouble() * 100)
                                    .arg(numbers[i])));
        }
    }

    void manyFilesGiveTheSame()
    {
        const QString one = saved(spots_page("/A cs 1 scn 0 0 36 72 re f"), "one.pdf");
        const QString two = saved(spots_page("/B cs 1 scn 0 0 36 72 re f"), "two.pdf");
        const auto json = [](const QStringList &arguments) {
            return QJsonDocument::fromJson(output_of(QStringLiteral(BICHROM_CLI), arguments).toUtf8());
        };
        for (const char *command : {"inspect", "check"}) {
            const QString name = QString::fromLatin1(command);
            const QJsonArray both = json({name, one, two, QStringLiteral("--json")}).array();
            QCOMPARE(both.size(), 2);
            QCOMPARE(both[0].toObject(), json({name, one, QStringLiteral("--json")}).object());
            QCOMPARE(both[1].toObject(), json({name, two, QStringLiteral("--json")}).object());
        }
    }
};

BICHROM_TEST(TestInspect, QCoreApplication)
#include "tst_inspect.moc"
