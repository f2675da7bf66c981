#include "core/artwork/intake/convert_picture.h"

#include "core/artwork/intake/intake_program.h"
#include "core/artwork/intake/picture.h"
#include "core/artwork/intake/read_svg.h"
#include "core/base/atomic_file.h"
#include "core/base/units.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <new>

namespace bichrom {

namespace {

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

int run_intake(int argc, char **argv)
{
    if (argc != 5) {
        std::printf("%cThis program belongs to Bichrom and is not called by hand.\n", intake_words::reason);
        return 1;
    }
    std::set_new_handler([] {
        std::printf("%cThe file needs more memory than is allowed for one file.\n", intake_words::reason);
        std::fflush(stdout);
        std::_Exit(1);
    });
    const auto fail = [](const Error &error) {
        std::printf("%c%s\n%c%s\n", intake_words::reason, one_line(error.reason).c_str(),
                    intake_words::remedy, one_line(error.remedy).c_str());
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
        std::printf("%c%s\n", intake_words::assumption, one_line(text).c_str());
    }
    for (const Damage &damage : result->damage) {
        std::printf("%c%d%s\n", intake_words::damage, static_cast<int>(damage.kind),
                    one_line(damage.note).c_str());
    }
    if (const Done written = write_file(argv[2], std::span<const std::byte>(result->pdf)); !written) {
        return fail(written.error());
    }
    return 0;
}

} // namespace bichrom
