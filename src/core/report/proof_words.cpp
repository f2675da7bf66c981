#include "core/report/proof_words.h"

#include <algorithm>

namespace bichrom {

std::vector<std::pair<std::string, std::string>> proof_facts(const Proof &proof)
{
    const FilmOptions &film = proof.job.film;
    std::vector<std::pair<std::string, std::string>> facts = {
        {"file", proof.file + ", page " + std::to_string(proof.job.page)},
        {"size in print",
         format_number(proof.width_mm, 1) + " × " + format_number(proof.height_mm, 1) + " mm"},
        {"stock", proof.job.stock_here().name},
        {"inks", std::to_string(proof.plates.size())}};
    if (proof.job.run.pieces > 0) {
        facts.emplace_back("pieces", std::to_string(proof.job.run.pieces));
    }
    if (film.columns * film.rows > 1) {
        facts.emplace_back("copies on a film", std::to_string(film.columns * film.rows));
    }
    facts.emplace_back("made", proof.date);
    return facts;
}

std::vector<std::string> ink_heads()
{
    return {"", "ink", "kind", "coverage", "hits", "mesh", "screen"};
}

WordRows ink_rows(const Proof &proof)
{
    WordRows rows;
    for (const ProofPlate &one : proof.plates) {
        const Plate &plate = proof.job.plates[one.number];
        rows.push_back({std::to_string(one.number + 1), plate.ink, to_string(plate.kind),
                        format_number(one.coverage * 100, 1) + " %",
                        std::to_string(plate.printing.hits) + (plate.printing.wet ? ", wet on wet" : "") +
                            (plate.printing.flash ? ", flash" : ""),
                        plate.printing.mesh > 0 ? format_number(plate.printing.mesh, 0) + "/cm" : "–",
                        describe(plate.screen)});
    }
    return rows;
}

std::vector<std::string> finding_heads()
{
    return {"", "finding", "accepted because"};
}

WordRows finding_rows(const Proof &proof)
{
    WordRows rows;
    for (const Finding &finding : proof.findings) {
        const auto accepted = std::find_if(proof.job.accepted.begin(), proof.job.accepted.end(),
                                           [&](const AcceptedFinding &one) { return covers(one, finding); });
        rows.push_back({to_string(finding.severity), finding.title,
                        accepted != proof.job.accepted.end() ? accepted->reason : "open"});
    }
    return rows;
}

std::vector<std::string> change_heads()
{
    return {"what is done to the artwork", "why", "state"};
}

WordRows change_rows(const Proof &proof)
{
    WordRows rows;
    for (const ChangeEntry &change : proof.changes) {
        rows.push_back({change.what, change.why, to_string(change.state)});
    }
    return rows;
}

std::string proof_caution(const Proof &proof)
{
    std::string words = "The print is predicted from the inks' colours on this stock.";
    const auto has = [&](InkUse kind) {
        return std::any_of(proof.plates.begin(), proof.plates.end(), [&](const ProofPlate &plate) {
            return proof.job.plates[plate.number].kind == kind;
        });
    };
    if (has(InkUse::Metallic) || has(InkUse::Foil)) {
        words += " Metallic ink and foil change with the light: their picture is only a stand-in.";
    }
    if (has(InkUse::Varnish)) {
        words += " Stripes show where varnish lies; it has no colour.";
    }
    if (proof.job.stock_here().clear) {
        words += " A chequered ground is clear film.";
    }
    return words;
}

} // namespace bichrom
