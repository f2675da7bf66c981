// The rules of docs/architecture.md that a compiler does not check.
#include "support/test_program.h"

#include <QtTest>

#include <map>
#include <set>

namespace {

const QString source_dir = QStringLiteral(BICHROM_SOURCE_DIR "/src");

/// What each core folder may include besides itself and base.
const std::map<QString, std::set<QString>> allowed = {
    {QStringLiteral("base"), {}},
    {QStringLiteral("colour"), {}},
    {QStringLiteral("raster"), {}},
    {QStringLiteral("artwork"), {QStringLiteral("colour")}},
    {QStringLiteral("print"), {QStringLiteral("colour")}},
    {QStringLiteral("job"), {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("print")}},
    {QStringLiteral("page"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("raster"), QStringLiteral("job"),
      QStringLiteral("print")}},
    {QStringLiteral("line"),
     {QStringLiteral("artwork"), QStringLiteral("raster"), QStringLiteral("job"), QStringLiteral("page")}},
    {QStringLiteral("fit"),
     {QStringLiteral("artwork"), QStringLiteral("raster"), QStringLiteral("job"), QStringLiteral("page"),
      QStringLiteral("line")}},
    {QStringLiteral("screen"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("job"), QStringLiteral("raster"),
      QStringLiteral("page"), QStringLiteral("line"), QStringLiteral("fit")}},
    {QStringLiteral("output"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("raster"), QStringLiteral("job"),
      QStringLiteral("page"), QStringLiteral("line"), QStringLiteral("fit"), QStringLiteral("screen")}},
    {QStringLiteral("preflight"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("raster"), QStringLiteral("job"),
      QStringLiteral("page"), QStringLiteral("line"), QStringLiteral("fit")}},
    {QStringLiteral("report"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("job"), QStringLiteral("page"),
      QStringLiteral("line"), QStringLiteral("fit"), QStringLiteral("screen"), QStringLiteral("raster"),
      QStringLiteral("output"), QStringLiteral("preflight"), QStringLiteral("proof")}},
    {QStringLiteral("separate"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("job"), QStringLiteral("page"),
      QStringLiteral("line"), QStringLiteral("print"), QStringLiteral("proof")}},
    {QStringLiteral("standin"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("job"), QStringLiteral("page"),
      QStringLiteral("line"), QStringLiteral("screen"), QStringLiteral("proof"), QStringLiteral("report")}},
    {QStringLiteral("release"),
     {QStringLiteral("artwork"), QStringLiteral("job"), QStringLiteral("output"), QStringLiteral("preflight"),
      QStringLiteral("report"), QStringLiteral("standin")}},
    {QStringLiteral("proof"),
     {QStringLiteral("artwork"), QStringLiteral("colour"), QStringLiteral("raster"), QStringLiteral("job"),
      QStringLiteral("page"), QStringLiteral("line"), QStringLiteral("fit"), QStringLiteral("screen"),
      QStringLiteral("print")}},
};

struct Include
{
    QString file;
    QString target;
    bool system;
};

QList<Include> includes_under(const QString &folder)
{
    QList<Include> found;
    QDirIterator it(folder, {QStringLiteral("*.h"), QStringLiteral("*.cpp")}, QDir::Files,
                    QDirIterator::Subdirectories);
    const QRegularExpression pattern(QStringLiteral("^\\s*#include\\s*([<\"])([^>\"]+)[>\"]"),
                                     QRegularExpression::MultilineOption);
    while (it.hasNext()) {
        QFile file(it.next());
        file.open(QIODevice::ReadOnly);
        auto match = pattern.globalMatch(QString::fromUtf8(file.readAll()));
        while (match.hasNext()) {
            const auto m = match.next();
            found.append({QDir(source_dir).relativeFilePath(file.fileName()), m.captured(2),
                          m.captured(1) == QStringLiteral("<")});
        }
    }
    return found;
}

} // namespace

class TestLayers : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void theCoreKnowsNoQt()
    {
        for (const Include &include : includes_under(source_dir + QStringLiteral("/core"))) {
            QVERIFY2(!include.target.startsWith(QLatin1Char('Q')),
                     qPrintable(include.file + QStringLiteral(" includes ") + include.target));
        }
        QFile cmake(source_dir + QStringLiteral("/core/CMakeLists.txt"));
        QVERIFY(cmake.open(QIODevice::ReadOnly));
        QVERIFY(!cmake.readAll().contains("Qt6"));
    }

    void layersPointOneWay()
    {
        for (const Include &include : includes_under(source_dir)) {
            if (include.system) {
                continue;
            }
            const QStringList from = include.file.split(QLatin1Char('/'));
            const QStringList to = include.target.split(QLatin1Char('/'));
            const QByteArray words = (include.file + QStringLiteral(" includes ") + include.target).toUtf8();
            if (from[0] == QStringLiteral("core")) {
                QVERIFY2(to[0] == QStringLiteral("core"), words.constData());
                const auto rule = allowed.find(from[1]);
                QVERIFY2(rule != allowed.end(), qPrintable(QStringLiteral("no rule for core/") + from[1]));
                QVERIFY2(to[1] == from[1] || to[1] == QStringLiteral("base") ||
                             rule->second.count(to[1]) == 1,
                         words.constData());
            } else {
                QVERIFY2(to[0] == QStringLiteral("core") || to[0] == from[0], words.constData());
                QVERIFY2(!include.target.startsWith(QStringLiteral("core/artwork/mupdf/")),
                         words.constData());
            }
        }
    }

    void onlyThePlateLinePaintsPlates()
    {
        // Whoever wants plates gives PlateLine a sink or asks it for a rectangle.
        QDirIterator it(source_dir, {QStringLiteral("*.h"), QStringLiteral("*.cpp")}, QDir::Files,
                        QDirIterator::Subdirectories);
        int seen = 0;
        while (it.hasNext()) {
            QFile file(it.next());
            QVERIFY(file.open(QIODevice::ReadOnly));
            const QByteArray text = file.readAll();
            const QString name = QDir(source_dir).relativeFilePath(file.fileName());
            const bool line = name.startsWith(QStringLiteral("core/page/")) ||
                              name.startsWith(QStringLiteral("core/line/"));
            const bool bands = line || name.startsWith(QStringLiteral("core/raster/bands"));
            seen += line && text.contains("PagePainter::make(") ? 1 : 0;
            QVERIFY2(line || !text.contains("PagePainter"), qPrintable(name));
            QVERIFY2(bands || !text.contains("run_bands("), qPrintable(name));
        }
        QVERIFY(seen > 0);
    }

    void librariesStayInsideTheirHomes()
    {
        const std::map<QString, QStringList> homes = {
            {QStringLiteral("mupdf/"), {QStringLiteral("core/artwork/mupdf/mupdf.h")}},
            {QStringLiteral("polyclipping/"), {QStringLiteral("core/raster/polygons.cpp")}},
            {QStringLiteral("lcms2"), {QStringLiteral("core/colour/")}},
            {QStringLiteral("tiffio"),
             {QStringLiteral("core/output/tiff_writer.cpp"),
              QStringLiteral("core/artwork/intake/read_tiff.cpp"),
              QStringLiteral("core/screen/film_reader.cpp")}},
            {QStringLiteral("qpdf/"),
             {QStringLiteral("core/output/film_pdf.cpp"), QStringLiteral("core/output/compose"),
              QStringLiteral("core/output/pdf"), QStringLiteral("core/artwork/ink_space"),
              QStringLiteral("core/artwork/intake/"), QStringLiteral("core/artwork/rename_ink.cpp")}},
            {QStringLiteral("png.h"), {QStringLiteral("core/artwork/intake/read_png.cpp")}},
            {QStringLiteral("jpeglib"),
             {QStringLiteral("core/artwork/intake/read_jpeg.cpp"),
              QStringLiteral("core/artwork/mupdf/jpeg_check.cpp")}},
            {QStringLiteral("libexif/"), {QStringLiteral("core/artwork/intake/read_jpeg.cpp")}},
            {QStringLiteral("librsvg/"), {QStringLiteral("core/artwork/intake/read_svg.cpp")}},
            {QStringLiteral("cairo"), {QStringLiteral("core/artwork/intake/read_svg.cpp")}},
            {QStringLiteral("pugixml"),
             {QStringLiteral("core/artwork/intake/read_svg.cpp"),
              QStringLiteral("core/artwork/rename_ink.cpp"), QStringLiteral("core/colour/ink_book.cpp")}},
            {QStringLiteral("zip.h"), {QStringLiteral("core/job/job_file.cpp")}},
            {QStringLiteral("potracelib"), {QStringLiteral("core/raster/trace.cpp")}},
            {QStringLiteral("Eigen/"),
             {QStringLiteral("core/colour/bands.cpp"), QStringLiteral("core/colour/black_generation.cpp"),
              QStringLiteral("core/print/ink_solver.cpp")}},
            {QStringLiteral("hwy/"),
             {QStringLiteral("core/screen/halftone_kernel.cpp"),
              QStringLiteral("core/raster/count_bits.cpp")}},
        };
        for (const Include &include : includes_under(source_dir)) {
            for (const auto &[library, places] : homes) {
                if (include.system && include.target.startsWith(library)) {
                    const bool home = std::any_of(places.begin(), places.end(), [&](const QString &place) {
                        return include.file.startsWith(place);
                    });
                    QVERIFY2(home, qPrintable(include.file + QStringLiteral(" includes ") + include.target));
                }
            }
        }
    }

    void everySourceFileIsBuilt()
    {
        // No globs: a file that is not listed would be silently left out.
        for (const char *part : {"core", "app", "cli", "intake"}) {
            QFile cmake(source_dir + QLatin1Char('/') + QString::fromLatin1(part) +
                        QStringLiteral("/CMakeLists.txt"));
            QVERIFY(cmake.open(QIODevice::ReadOnly));
            const QString listed = QString::fromUtf8(cmake.readAll());
            const QDir root(source_dir + QLatin1Char('/') + QString::fromLatin1(part));
            QDirIterator it(root.path(), {QStringLiteral("*.cpp")}, QDir::Files,
                            QDirIterator::Subdirectories);
            while (it.hasNext()) {
                const QString file = root.relativeFilePath(it.next());
                QVERIFY2(listed.contains(file), qPrintable(file));
            }
        }
    }
};

BICHROM_TEST(TestLayers, QCoreApplication)
#include "tst_layers.moc"
