#include "core/artwork/intake/normalise.h"

#include "core/artwork/intake/intake_program.h"
#include "core/artwork/intake/picture.h"
#include "core/artwork/intake/read_postscript.h"
#include "core/artwork/intake/read_svg.h"
#include "core/base/atomic_file.h"
#include "core/base/child_process.h"
#include "core/base/units.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <new>
#include <sstream>

namespace bichrom {

namespace {

// The helper's words: a line each, told apart by their first sign.
constexpr char assumption_sign = '+';
constexpr char damage_sign = '-';
constexpr char reason_sign = '!';
constexpr char remedy_sign = '?';

std::string one_line(std::string text)
{
    std::replace(text.begin(), text.end(), '\n', ' ');
    return text;
}

} // namespace

Outcome<NormalisedInput> convert_picture(std::span<const std::byte> bytes, const IntakeOptions &options)
{
    NormalisedInput result;
    const InputKind kind = input_kind(bytes);
    if (kind == InputKind::Svg) {
        auto pdf = svg_to_pdf(bytes, options.folder, result.assumptions, result.damage);
        if (!pdf) {
            return pdf.error();
        }
        result.pdf = std::move(*pdf);
        return result;
    }
    const auto read =
        kind == InputKind::Png    ? read_png(bytes)
        : kind == InputKind::Jpeg ? read_jpeg(bytes)
        : kind == InputKind::Tiff
            ? read_tiff_pictures(bytes)
            : Outcome<PictureFile>(Error{ErrorCode::WrongFormat, "This is not a picture.", {}, {}});
    if (!read) {
        return read.error();
    }
    result.damage = read->damage;
    auto pdf = wrap_pictures(*read, options.assumed_ppi, result.assumptions);
    if (!pdf) {
        return pdf.error();
    }
    result.pdf = std::move(*pdf);
    return result;
}

Outcome<NormalisedInput> normalise(std::span<const std::byte> bytes, InputKind kind,
                                   const IntakeOptions &options, const JobControl &control)
{
    NormalisedInput result;
    if (kind == InputKind::PostScript || kind == InputKind::Eps) {
        auto pdf = postscript_to_pdf(bytes, kind == InputKind::Eps, result.assumptions, result.damage,
                                     limits_for(bytes.size(), options.patience), control);
        if (!pdf) {
            return pdf.error();
        }
        result.pdf = std::move(*pdf);
        return result;
    }
    const auto helper = IntakeHelper::make();
    if (!helper) {
        return helper.error();
    }
    const std::string_view text(reinterpret_cast<const char *>(bytes.data()), bytes.size());
    if (const Done written = write_file(helper->file("input"), text); !written) {
        return written.error();
    }
    std::error_code fault;
    const std::string folder =
        options.folder.empty() ? std::string() : std::filesystem::absolute(options.folder, fault).string();
    const ChildLimits limits = limits_for(bytes.size(), options.patience);
    const auto run =
        helper->run({"input", "output.pdf", format_number(options.assumed_ppi, 3), folder}, limits, control);
    if (!run) {
        return run.error();
    }
    Error error{ErrorCode::CannotRead,
                std::string("The ") + to_string(kind) + " file makes its reader fail.",
                {},
                "Ask the customer for a new copy, best as PDF."};
    if (run->late) {
        return Error{ErrorCode::TakesLong,
                     std::string("The ") + to_string(kind) + " file takes very long to read: " +
                         std::to_string(limits.work.count()) + " seconds of work were not enough.",
                     {},
                     "Go on with more patience, or ask the customer for a simpler file."};
    }
    std::istringstream lines(run->output);
    for (std::string line; std::getline(lines, line);) {
        if (line.empty()) {
            continue;
        }
        const std::string words = line.substr(1);
        if (line[0] == assumption_sign) {
            result.assumptions.push_back(words);
        } else if (line[0] == damage_sign) {
            const int which = words.empty() ? -1 : words[0] - '0';
            if (which >= 0 && which <= static_cast<int>(DamageKind::Painting)) {
                result.damage.push_back({static_cast<DamageKind>(which), -1, {}, words.substr(1)});
            }
        } else if (line[0] == reason_sign) {
            error.reason = words;
        } else if (line[0] == remedy_sign) {
            error.remedy = words;
        }
    }
    if (!run->good()) {
        return error;
    }
    auto pdf = read_file(helper->file("output.pdf"));
    if (!pdf) {
        return error;
    }
    result.pdf = std::move(*pdf);
    return result;
}

int run_intake(int argc, char **argv)
{
    if (argc != 5) {
        std::printf("%cThis program belongs to Bichrom and is not called by hand.\n", reason_sign);
        return 1;
    }
    std::set_new_handler([] {
        std::printf("%cThe file needs more memory than is allowed for one file.\n", reason_sign);
        std::fflush(stdout);
        std::_Exit(1);
    });
    const auto fail = [](const Error &error) {
        std::printf("%c%s\n%c%s\n", reason_sign, one_line(error.reason).c_str(), remedy_sign,
                    one_line(error.remedy).c_str());
        return 1;
    };
    const auto bytes = read_file(argv[1]);
    if (!bytes) {
        return fail(bytes.error());
    }
    IntakeOptions options;
    options.folder = argv[4];
    if (const auto ppi = parse_number(argv[3]); ppi && *ppi >= 1) {
        options.assumed_ppi = *ppi;
    }
    const auto result = convert_picture(*bytes, options);
    if (!result) {
        return fail(result.error());
    }
    for (const std::string &text : result->assumptions) {
        std::printf("%c%s\n", assumption_sign, one_line(text).c_str());
    }
    for (const Damage &damage : result->damage) {
        std::printf("%c%d%s\n", damage_sign, static_cast<int>(damage.kind), one_line(damage.note).c_str());
    }
    if (const Done written = write_file(argv[2], std::span<const std::byte>(result->pdf)); !written) {
        return fail(written.error());
    }
    return 0;
}

} // namespace bichrom
