// Proofs and tickets: what they say, and that it is right.
#include "core/job/print_model.h"
#include "core/report/job_ticket.h"
#include "core/report/pdf_pages.h"
#include "core/report/proof.h"
#include "core/screen/mesh_fabric.h"

#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QImage>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// 100 × 50 mm: White on the left half, Beta at 50 % all over it.
OpenedJob half_white()
{
    MiniPdf pdf =
        spots_page("/A cs 1 scn 0 0 141.73228 141.73228 re f /OP gs /B cs 0.5 scn 0 0 300 300 re f");
    pdf.width = 283.46457;
    pdf.height = 141.73228;
    OpenedJob opened = pdf.job();
    opened.job.name = "Half <b>white</b> & more";
    opened.job.plates[0].kind = InkUse::White;
    opened.job.plates[0].solid = {96, 0, 0};
    opened.job.plates[0].traits = usual_traits(InkUse::White);
    return opened;
}

QString text_of(const std::vector<std::byte> &pdf, int *pages = nullptr)
{
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("report.pdf"));
    save_bytes(pdf, path);
    if (pages != nullptr) {
        const QString info = output_of(QStringLiteral("pdfinfo"), {path});
        *pages = QRegularExpression(QStringLiteral("Pages: +(\\d+)")).match(info).captured(1).toInt();
    }
    return output_of(QStringLiteral("pdftotext"), {QStringLiteral("-layout"), path, QStringLiteral("-")})
        .normalized(QString::NormalizationForm_KC)
        .simplified();
}

} // namespace

class TestProof : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aProofHoldsPrintPlatesInksFindingsAndChanges()
    {
        OpenedJob opened = half_white();
        opened.job.accepted.push_back({"no_trim_box", 1, "", "the printer cuts by hand"});
        const Proof proof = take(make_proof(opened, {.date = "2026-11-28"}));
        QCOMPARE(proof.plates.size(), std::size_t(2));
        QVERIFY(std::fabs(proof.plates[0].coverage - 0.5) < 0.002);
        QVERIFY(std::fabs(proof.plates[1].coverage - 0.5) < 0.002);
        int pages = 0;
        const QString text = text_of(take(proof_to_pdf({proof}, ProofSize::Fitted)), &pages);
        QVERIFY(pages >= 1);
        for (const char *words : {"Half <b>white</b> & more", "100 × 50 mm", "Alpha", "50 %", "Change slip",
                                  "Findings", "agreed: print as shown", "signature", "2026-11-28"}) {
            QVERIFY2(text.contains(QString::fromUtf8(words)), words);
        }
        // At 100 % the first sheet holds the print at its size: 283.46 pt and 28 at each side.
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("true.pdf"));
        save_bytes(take(proof_to_pdf({proof}, ProofSize::TrueSize)), path);
        const QString info = output_of(QStringLiteral("pdfinfo"), {path});
        QVERIFY2(info.contains(QStringLiteral("339.465 x 211.732 pts")), qPrintable(info));
    }

    void pagesOfAJobAreProvedTogether()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f");
        pdf.more_pages = {"/B cs 1 scn 0 0 36 72 re f"};
        OpenedJob opened = take(turn_through(pdf.job(), {1, 2}));
        std::vector<Proof> proofs;
        for (const int page : {1, 2}) {
            opened.job.page = page;
            proofs.push_back(take(make_proof(opened, {.date = "2026-11-28", .findings = false})));
        }
        QCOMPARE(proofs[0].plates.size(), std::size_t(1)); // only those that print there
        QCOMPARE(opened.job.plates[proofs[1].plates[0].number].ink, std::string("Beta"));
        const QString text = text_of(take(proof_to_pdf(proofs, ProofSize::Fitted)));
        QVERIFY(text.contains(QStringLiteral(", page 1")) && text.contains(QStringLiteral(", page 2")));
        QCOMPARE(text.count(QStringLiteral("signature")), 1); // signed once
        const QString html = QString::fromStdString(take(proof_to_html(proofs)));
        QCOMPARE(html.count(QStringLiteral("<section>")), 2);
    }

    void damageAndEmptyPagesStopProofsAndTickets()
    {
        const QString faults = QStringLiteral(BICHROM_SOURCE_DIR "/tests/data/faults/");
        OpenedJob damaged =
            take(open_job_or_artwork((faults + QStringLiteral("cut-flate-picture.pdf")).toStdString()));
        QCOMPARE(make_proof(damaged, {.date = {}, .findings = false}).error().code, ErrorCode::Damaged);
        QCOMPARE(job_ticket(damaged).error().code, ErrorCode::Damaged);
        QVERIFY(make_proof(damaged, {.date = {}, .findings = false, .accept_damage = "seen"}).ok());
        const OpenedJob empty =
            take(open_job_or_artwork((faults + QStringLiteral("white-page.pdf")).toStdString()));
        QCOMPARE(make_proof(empty, {.date = {}, .findings = false}).error().code, ErrorCode::NothingToPrint);
        QCOMPARE(job_ticket(empty).error().code, ErrorCode::NothingToPrint);
        QCOMPARE(make_proof(half_white(), {.date = {}, .dpi = 1e5, .findings = false}).error().code,
                 ErrorCode::TooLarge);
    }

    void findingsOnAProofSayWhyTheyWereAccepted()
    {
        OpenedJob opened = half_white();
        const Proof before = take(make_proof(opened, {.date = {}}));
        QVERIFY(!before.findings.empty());
        const Finding &first = before.findings.front();
        opened.job.accepted.push_back({first.check, first.page, first.subject, "the customer wants it so"});
        const QString text =
            text_of(take(proof_to_pdf({take(make_proof(opened, {.date = {}}))}, ProofSize::Fitted)));
        QVERIFY(text.contains(QStringLiteral("the customer wants it so")));
        QVERIFY(!text_of(take(proof_to_pdf({before}, ProofSize::Fitted)))
                     .contains(QStringLiteral("the customer wants it so")));
    }

    void thePngIsAsLargeAsThePage()
    {
        const Proof proof = take(make_proof(half_white(), {.date = {}, .dpi = 150, .findings = false}));
        const auto png = take(proof_to_png(proof));
        QImage image;
        QVERIFY(
            image.loadFromData(reinterpret_cast<const uchar *>(png.data()), static_cast<int>(png.size())));
        QCOMPARE(image.size(), QSize(591, 295));
        QCOMPARE(image.dotsPerMeterX(), 5906); // 150 dpi
    }

    void theHtmlNeedsNothingFromOutside()
    {
        OpenedJob opened = half_white();
        opened.job.plates[1].ink = "<script>alert(1)</script>\" onload=\"x";
        const Proof proof = take(make_proof(half_white(), {.date = "2026-11-28"}));
        Proof hostile = proof;
        hostile.job = opened.job;
        const QString html = QString::fromStdString(take(proof_to_html({hostile})));
        QVERIFY(!html.contains(QStringLiteral("http://")) && !html.contains(QStringLiteral("https://")));
        QVERIFY(!html.contains(QStringLiteral("<script>alert")));
        QVERIFY(!html.contains(QStringLiteral("\" onload=\"")));
        QVERIFY(html.contains(QStringLiteral("default-src 'none'")));
        QCOMPARE(html.count(QStringLiteral("data:image/png;base64,")), 4); // original, print, two plates
        QCOMPARE(html.count(QStringLiteral("<input type=\"checkbox\" checked")), 2);
        // The pictures are pictures.
        const auto at = html.indexOf(QStringLiteral("base64,")) + 7;
        const QByteArray png =
            QByteArray::fromBase64(html.mid(at, html.indexOf(QLatin1Char('"'), at) - at).toLatin1());
        QImage image;
        QVERIFY(image.loadFromData(png));
        QCOMPARE(image.width(), proof.original.width);
    }

    /// What the browser is told of the layers gives the colours of the model: computed here as the page's
    /// script does.
    void theLayersInTheHtmlAreThoseOfTheModel()
    {
        const OpenedJob opened = half_white();
        const Proof proof = take(make_proof(opened, {.date = {}, .findings = false}));
        const QJsonObject model = QJsonDocument::fromJson(QByteArray::fromStdString(proof.layers)).object();
        const auto condition = take(condition_of(opened.job.colours));
        const PrintStack stack = stack_of(opened.job, opened.job.inks(), *condition);
        for (const auto &[white, beta] : {std::pair(0.0, 0.0), std::pair(1.0, 0.0), std::pair(1.0, 1.0),
                                          std::pair(0.0, 0.5), std::pair(1.0, 0.5)}) {
            const std::vector<double> tones = {white, beta};
            std::array<double, 8> root{};
            for (int k = 0; k < 8; ++k) {
                root[static_cast<std::size_t>(k)] = model[QStringLiteral("stock")][k].toDouble();
            }
            for (const QJsonValue &layer : model[QStringLiteral("layers")].toArray()) {
                const double tone = tones[static_cast<std::size_t>(layer[QStringLiteral("plane")].toInt())];
                const double at = tone * 32;
                const int low = std::min(31, static_cast<int>(at));
                const auto gain = layer[QStringLiteral("gain")];
                const double cover =
                    gain[low].toDouble() + (at - low) * (gain[low + 1].toDouble() - gain[low].toDouble());
                for (int k = 0; k < 8 && tone > 0; ++k) {
                    double &one = root[static_cast<std::size_t>(k)];
                    const double r = one * one, body = layer[QStringLiteral("body")][k].toDouble();
                    const double solid = std::sqrt(std::max(
                        0.0, body + layer[QStringLiteral("through")][k].toDouble() * r / (1 - body * r)));
                    one += cover * (solid - one);
                }
            }
            Bands bands{};
            for (std::size_t k = 0; k < 8; ++k) {
                bands[k] = root[k] * root[k] + model[QStringLiteral("floor")].toDouble();
            }
            const Lab ours = bands_to_lab(bands), meant = stack.at(tones).print();
            QVERIFY2(
                std::hypot(ours.l - meant.l, ours.a - meant.a, ours.b - meant.b) < 0.3,
                qPrintable(
                    QStringLiteral("%1/%2: L* %3, not %4").arg(white).arg(beta).arg(ours.l).arg(meant.l)));
        }
    }

    /// A worked example by hand: 100 × 50 mm, half of it white, 30 cm³/m² wet, 1.4 g/cm³, two hits, 200
    /// pieces: 0.0025 m² × 30 × 1.4 × 2 = 0.21 g a piece, 42 g in all.
    void inkFilmAndTimeAreCounted()
    {
        OpenedJob opened = half_white();
        Job &job = opened.job;
        job.plates[0].printing.hits = 2;
        job.plates[0].printing.deposit = 30;
        job.plates[0].printing.squeegee = "soft, 70 shore";
        job.plates[1].printing.mesh = 77;
        job.run = {200, 400, 15, 20, 50, 60, "crowns", "dry well"};
        job.film.columns = 2;
        job.film.marks = false;
        const JobTicket ticket = take(job_ticket(opened));
        QVERIFY(std::fabs(ticket.plates[0].grams_a_piece - 0.21) < 0.001);
        QVERIFY(std::fabs(ticket.plates[0].grams - 42) < 0.2);
        QVERIFY(!ticket.plates[0].by_mesh);
        // Beta: 50 cm² at 50 % of what mesh 77 holds.
        const double volume = usual_fabric(77).volume;
        QVERIFY(ticket.plates[1].by_mesh);
        QVERIFY(std::fabs(ticket.plates[1].grams_a_piece - 0.0025 * volume * 1.1) < 0.001);
        QCOMPARE(ticket.sheets, 100); // two to a print
        // Two plates of 15 min, 100 prints at 400 an hour.
        QCOMPARE(ticket.minutes, 45.0);
        QCOMPARE(ticket.press_cost, 45.0);
        // Two films of 2 × 100 × 50 mm.
        QVERIFY(std::fabs(ticket.film_m2 - 0.02) < 1e-4);
        QVERIFY(std::fabs(ticket.film_cost - 0.4) < 0.002);
        QVERIFY(std::fabs(ticket.ink_cost - ticket.ink_grams * 0.05) < 1e-9);

        const QJsonObject json =
            QJsonDocument::fromJson(QByteArray::fromStdString(ticket_to_json(ticket, "2026-11-28"))).object();
        QCOMPARE(json[QStringLiteral("plates")][0][QStringLiteral("deposit_from")].toString(),
                 QStringLiteral("job"));
        QCOMPARE(json[QStringLiteral("plates")][1][QStringLiteral("deposit_from")].toString(),
                 QStringLiteral("mesh"));
        QCOMPARE(json[QStringLiteral("minutes")].toDouble(), 45.0);
        const QString text = text_of(take(ticket_to_pdf(ticket, "2026-11-28")));
        for (const char *words : {"soft, 70 shore", "dry well", "2 hits", "77/cm", "45 min", "crowns",
                                  "0.21 g", "200, 2 to a print, 100 prints"}) {
            QVERIFY2(text.contains(QString::fromUtf8(words)), words);
        }
    }

    void whatIsNotSaidIsNotCounted()
    {
        OpenedJob opened = half_white();
        opened.job.plates[0].kind = InkUse::Technical; // a cut line is no ink
        opened.job.plates[0].printing.mesh = 77;
        opened.job.run.pieces = 100;
        const JobTicket ticket = take(job_ticket(opened));
        QCOMPARE(ticket.plates[0].grams, 0.0);
        QCOMPARE(ticket.plates[1].grams, 0.0); // no mesh, no deposit
        QCOMPARE(ticket.cost(), 0.0);
        QVERIFY(
            text_of(take(ticket_to_pdf(ticket, {}))).contains(QStringLiteral("the use of ink is not known")));
    }

    /// Makers' tables, from memory: 120 threads of 34 µm, opening about 45 to 50 µm, fabric 55 µm; 43 of 80
    /// µm, 130 µm.
    void fabricsAreAsMakersTellThem()
    {
        const MeshFabric fine = usual_fabric(120), coarse = usual_fabric(43);
        QCOMPARE(fine.thread_um, 34.0);
        QVERIFY(fine.opening_um > 44 && fine.opening_um < 50);
        QVERIFY(std::fabs(fine.thickness_um - 55) < 1);
        QVERIFY(std::fabs(coarse.thickness_um - 130) < 2);
        QVERIFY(coarse.volume > 2 * fine.volume);
        QVERIFY(std::fabs(fine.volume - fine.open_share * fine.thickness_um) < 1e-9);
        QCOMPARE(usual_fabric(0).volume, 0.0);
        QCOMPARE(usual_fabric(500).volume, 0.0);
    }

    void longWordsAndTextsAreBroken()
    {
        const auto pages = take(PdfPages::make());
        const WordStyle style{10};
        const auto lines = pages.lines_of("eins zwei äääääääääääääääääääääääääääääää drei", style, 60);
        for (const std::string &line : lines) {
            QVERIFY(pages.width_of(line, style) <= 60);
            QVERIFY(!QString::fromStdString(line).contains(QChar::ReplacementCharacter));
        }
        QCOMPARE(lines.front(), std::string("eins zwei"));
        QCOMPARE(pages.lines_of("", style, 60).size(), std::size_t(1));
    }
};

BICHROM_TEST(TestProof, QCoreApplication)
#include "tst_proof.moc"
