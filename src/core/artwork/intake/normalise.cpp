#include "core/artwork/intake/normalise.h"

#include "core/artwork/intake/intake_program.h"
#include "core/artwork/intake/read_postscript.h"
#include "core/base/atomic_file.h"
#include "core/base/child_process.h"
#include "core/base/units.h"

#include <sstream>

namespace bichrom {

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
        if (line[0] == intake_words::assumption) {
            result.assumptions.push_back(words);
        } else if (line[0] == intake_words::damage) {
            const int which = words.empty() ? -1 : words[0] - '0';
            if (which >= 0 && which <= static_cast<int>(DamageKind::Painting)) {
                result.damage.push_back({static_cast<DamageKind>(which), -1, {}, words.substr(1)});
            }
        } else if (line[0] == intake_words::reason) {
            error.reason = words;
        } else if (line[0] == intake_words::remedy) {
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

} // namespace bichrom
