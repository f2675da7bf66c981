#include "core/fit/film_label.h"

#include "core/base/units.h"

namespace bichrom {

namespace {

std::string size_words(const Job &job, double width, double height)
{
    std::string words;
    if (width > 0 && height > 0) {
        words = format_number(width, 1) + " × " + format_number(height, 1) + " mm";
    }
    const Placements &made = job.placements;
    if (made.scale != 1) {
        words += (words.empty() ? "" : ", ") + format_number(made.scale * 100, 2) + " %";
    }
    const double along = made.along * job.film.along, across = made.across * job.film.across;
    if (across != 1 || along != 1) {
        words += (words.empty() ? "" : ", ") + ("stretched " + format_number(along * 100, 3) + " % along, " +
                                                format_number(across * 100, 3) + " % across");
    }
    return words;
}

std::string printing_words(const Printing &printing)
{
    std::string words;
    const auto add = [&](bool holds, const std::string &word) {
        words += !holds ? "" : (words.empty() ? "" : " · ") + word;
    };
    add(printing.mesh > 0, "mesh " + format_number(printing.mesh, 0) + "/cm");
    add(printing.hits > 1, std::to_string(printing.hits) + " hits");
    add(printing.wet, "wet on wet");
    add(printing.flash, "flash");
    return words;
}

} // namespace

std::string film_label(const Job &job, std::size_t index, const LabelText &text, double width, double height)
{
    const Plate &plate = job.plates[index];
    const auto words_of = [&](LabelPiece piece) -> std::string {
        switch (piece) {
        case LabelPiece::Job:
            return job.name;
        case LabelPiece::Number:
            return job.film.mark_set.number;
        case LabelPiece::Page:
            return text.page ? "page " + std::to_string(job.page) : std::string();
        case LabelPiece::Ink:
            return plate.ink;
        case LabelPiece::Order:
            return "plate " + std::to_string(index + 1) + " of " + std::to_string(job.plates.size());
        case LabelPiece::Size:
            return size_words(job, width, height);
        case LabelPiece::Screen:
            return describe(plate.screen) + (plate.press.is_identity() ? "" : ", curve");
        case LabelPiece::Printing:
            return printing_words(plate.printing);
        case LabelPiece::Resolution:
            return format_number(job.film.resolution.value, 1) + " dpi";
        case LabelPiece::Side:
            return std::string(job.film.mirror ? "wrong-reading" : "right-reading") +
                   (job.film.negative ? " · negative" : "");
        case LabelPiece::Date:
            break;
        }
        return text.date;
    };
    std::string label;
    for (const LabelPiece piece : job.film.mark_set.pieces) {
        const std::string words = words_of(piece);
        label += words.empty() ? "" : (label.empty() ? "" : " · ") + words;
    }
    return label;
}

} // namespace bichrom
