#include "app/bench/bench_window.h"
#include "app/services/dialog_prompts.h"
#include "app/widgets/theme.h"

#include <QApplication>
#include <QCommandLineParser>

#include <csignal>

int main(int argc, char **argv)
{
    // A file that hits a size limit is an error to report, not a reason to die.
    std::signal(SIGXFSZ, SIG_IGN);
    QApplication app(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("Bichrom"));
    QCoreApplication::setOrganizationName(QStringLiteral("Bichrom"));
    QCoreApplication::setApplicationVersion(QStringLiteral("0.1.0"));
    QCommandLineParser parser;
    parser.setApplicationDescription(QCoreApplication::translate(
        "main", "Turns artwork into plates and films for screen and specialty inks."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(
        QStringLiteral("FILE"),
        QCoreApplication::translate(
            "main", "Artwork (PDF, PostScript, EPS, SVG, TIFF, PNG, JPEG) or a .bichrom job"));
    parser.process(app);

    bichrom::theme::apply(app);
    bichrom::DialogPrompts prompts;
    bichrom::BenchWindow window(prompts);
    prompts.setParent(&window);
    window.show();
    const bool recovering = window.offerLeftovers(); // what was asked for by name is opened another time
    if (!recovering && !parser.positionalArguments().isEmpty()) {
        window.openPath(parser.positionalArguments().front());
    }
    return QApplication::exec();
}
