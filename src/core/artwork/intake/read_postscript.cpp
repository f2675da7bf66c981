#include "core/artwork/intake/read_postscript.h"

#include "core/base/atomic_file.h"
#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <optional>
#include <string_view>

namespace bichrom {

namespace {

std::uint32_t little_endian(std::span<const std::byte> bytes, std::size_t at)
{
    std::uint32_t value = 0;
    for (std::size_t i = 0; i < 4; ++i) {
        value |= std::to_integer<std::uint32_t>(bytes[at + i]) << (8 * i);
    }
    return value;
}

/// Left, bottom, right, top in points.
using BoundingBox = std::array<double, 4>;

/// The first comment of that name that holds four numbers, for a file inside this one has its own; the last
/// when the first defers to the end (DSC 3.0, 5.2).
std::optional<BoundingBox> find_box(std::string_view text, std::string_view comment)
{
    std::optional<BoundingBox> found;
    bool at_end = false;
    for (std::size_t at = text.find(comment); at != std::string_view::npos; at = text.find(comment, at + 1)) {
        std::string_view line = text.substr(at + comment.size());
        line = line.substr(0, line.find_first_of("\r\n"));
        at_end = at_end || line.find("(atend)") != std::string_view::npos;
        BoundingBox box{};
        std::size_t count = 0;
        while (count < 4) {
            const std::size_t start = line.find_first_not_of(" \t");
            if (start == std::string_view::npos) {
                break;
            }
            line.remove_prefix(start);
            const std::size_t end = std::min(line.find_first_of(" \t"), line.size());
            const auto number = parse_number(line.substr(0, end));
            if (!number) {
                break;
            }
            box[count++] = *number;
            line.remove_prefix(end);
        }
        if (count == 4 && box[2] > box[0] && box[3] > box[1]) {
            found = box;
            if (!at_end) {
                break;
            }
        }
    }
    return found;
}

/// What speaks for a file that was cut off, which an interpreter does not notice; empty when nothing does. A
/// document by the structuring conventions (PostScript Language Document Structuring Conventions 3.0, 5.2)
/// ends with a line %%EOF; some leave it out, but they end a line.
std::string why_cut(std::string_view text)
{
    if (text.substr(0, 5) != "%!PS-") {
        return {};
    }
    const std::string_view end = text.substr(text.size() - std::min<std::size_t>(text.size(), 4096));
    if (end.find("%%EOF") != std::string_view::npos || end.find("%%Trailer") != std::string_view::npos) {
        return {};
    }
    constexpr std::array<std::string_view, 3> last = {"showpage", "restore",
                                                      "end"}; // of those written by hand
    const bool ends =
        text.back() == '\n' || text.back() == '\r' || text.back() == '\x04' ||
        std::any_of(last.begin(), last.end(), [&](std::string_view word) { return text.ends_with(word); });
    return ends ? std::string() : "it ends in the middle of a line and without %%EOF";
}

/// The last lines of what the program said, without its name.
std::string last_words(const std::string &output)
{
    const std::size_t error = output.find("Error: ");
    std::string words = output.substr(
        error == std::string::npos ? output.size() - std::min<std::size_t>(output.size(), 200) : error);
    words = words.substr(0, words.find('\n'));
    return words.empty() ? "no reason given" : words.substr(0, 200);
}

} // namespace

Outcome<std::span<const std::byte>> postscript_part(std::span<const std::byte> bytes)
{
    constexpr std::uint32_t signature = 0xC6D3D0C5; // EPS file format specification 3.0, 5.2
    if (bytes.size() < 30 || little_endian(bytes, 0) != signature) {
        return bytes;
    }
    const std::uint64_t start = little_endian(bytes, 4);
    const std::uint64_t length = little_endian(bytes, 8);
    if (length == 0 || start + length > bytes.size()) {
        return Error{ErrorCode::CannotRead,
                     "The header of the EPS file points outside it.",
                     {},
                     "Ask the customer for a new copy."};
    }
    return bytes.subspan(static_cast<std::size_t>(start), static_cast<std::size_t>(length));
}

Outcome<std::vector<std::byte>> postscript_to_pdf(std::span<const std::byte> bytes, bool eps,
                                                  std::vector<std::string> &assumptions,
                                                  std::vector<Damage> &damage, const ChildLimits &limits,
                                                  const JobControl &control)
{
    const auto part = postscript_part(bytes);
    if (!part) {
        return part.error();
    }
    const auto scratch = ScratchFolder::make();
    if (!scratch) {
        return scratch.error();
    }
    const std::string_view text(reinterpret_cast<const char *>(part->data()), part->size());
    std::vector<std::string> place;
    std::string before;
    if (eps) {
        // The specification's exact box wins over the rounded one; its corner goes to the origin.
        auto box = find_box(text, "%%HiResBoundingBox:");
        const bool exact = box.has_value();
        if (!box) {
            box = find_box(text, "%%BoundingBox:");
        }
        if (!box) {
            assumptions.push_back("The EPS gives no bounding box: it is read on a sheet of 612 × 792 pt.");
            box = BoundingBox{0, 0, 612, 792};
        } else if (!exact) {
            assumptions.push_back("The EPS gives its size in whole points only.");
        }
        const BoundingBox &b = *box;
        place = {"-dDEVICEWIDTHPOINTS=" + format_number(b[2] - b[0], 6),
                 "-dDEVICEHEIGHTPOINTS=" + format_number(b[3] - b[1], 6), "-dFIXEDMEDIA"};
        before = "<</Install {" + format_number(-b[0], 6) + " " + format_number(-b[1], 6) +
                 " translate}>> setpagedevice ";
    } else if (text.substr(0, 65536).find("setpagedevice") == std::string_view::npos &&
               text.find("%%DocumentMedia") == std::string_view::npos) {
        place = {"-sPAPERSIZE=a4"};
        assumptions.push_back("The PostScript may not set a page size; where it sets none, pages are "
                              "595 × 842 pt (ISO A4).");
    }
    const std::filesystem::path input = scratch->path() / "input.ps";
    const std::filesystem::path output = scratch->path() / "output.pdf";
    if (const Done written = write_file(input, text); !written) {
        return written.error();
    }
    std::vector<std::string> arguments = {"-q",
                                          "-dSAFER",
                                          "-dNOPAUSE",
                                          "-dBATCH",
                                          "-sDEVICE=pdfwrite",
                                          "-dCompatibilityLevel=1.7",
                                          "-sColorConversionStrategy=LeaveColorUnchanged",
                                          "-dAutoRotatePages=/None",
                                          "-dPreserveOverprintSettings=true",
                                          "-dDownsampleColorImages=false",
                                          "-dDownsampleGrayImages=false",
                                          "-dDownsampleMonoImages=false",
                                          "-dAutoFilterColorImages=false",
                                          "-dAutoFilterGrayImages=false",
                                          "-dColorImageFilter=/FlateEncode",
                                          "-dGrayImageFilter=/FlateEncode",
                                          "-dEmbedAllFonts=true",
                                          "-dSubsetFonts=true",
                                          "-sOutputFile=output.pdf"};
    arguments.insert(arguments.end(), place.begin(), place.end());
    // An EPS may lack showpage.
    const std::vector<std::string> head =
        eps ? std::vector<std::string>{"-c", before} : std::vector<std::string>();
    const std::string unless_shown = "currentpagedevice /PageCount get 0 eq {showpage} if";
    const auto interpret = [&](const std::vector<std::string> &body) {
        std::vector<std::string> all = arguments;
        all.insert(all.end(), head.begin(), head.end());
        all.insert(all.end(), body.begin(), body.end());
        if (eps) {
            all.insert(all.end(), {"-c", unless_shown});
        }
        return run_child("gs", all, scratch->path(), limits, control);
    };
    auto run = interpret({"-f", "input.ps"});
    if (!run) {
        return run.error();
    }
    const bool forbidden = run->output.find("invalidfileaccess") != std::string::npos;
    if (!run->good() && !run->late && run->signal == 0 && !forbidden) {
        // The program fails half way: what it has drawn until then is shown.
        const std::string why = last_words(run->output);
        auto again =
            interpret({"--permit-file-read=input.ps", "-c", "{(input.ps) run} stopped {showpage} if"});
        if (!again) {
            return again.error();
        }
        if (again->good()) {
            damage.push_back({DamageKind::Instructions,
                              -1,
                              {},
                              "the PostScript program fails: " + why + "; what it drew before is shown"});
            run = std::move(again);
        }
    }
    if (run->late) {
        return Error{ErrorCode::TakesLong,
                     "The PostScript program does not come to an end: " +
                         std::to_string(limits.work.count()) + " seconds of work were not enough.",
                     {},
                     "Go on with more patience, or ask the customer for a PDF."};
    }
    if (const std::string why = why_cut(text); !why.empty() && damage.empty()) {
        damage.push_back({DamageKind::Instructions,
                          -1,
                          {},
                          "the PostScript is cut off: " + why + "; what is there is shown"});
    }
    auto pdf = read_file(output);
    if (!run->good() || !pdf || pdf->empty()) {
        return Error{ErrorCode::CannotRead,
                     "The PostScript program fails (" + last_words(run->output) + ").",
                     {},
                     "Ask the customer for a PDF."};
    }
    return pdf;
}

} // namespace bichrom
