#include "core/artwork/intake/intake_program.h"

#include <array>
#include <filesystem>
#include <unistd.h>

namespace bichrom {

namespace {

Outcome<std::string> find_intake_program()
{
    std::array<char, 4096> self{};
    const ssize_t length = ::readlink("/proc/self/exe", self.data(), self.size() - 1);
    const std::filesystem::path folder =
        length > 0 ? std::filesystem::path(self.data()).parent_path() : std::filesystem::path();
    for (const char *place : {"", "../bin", "../libexec/bichrom"}) {
        const std::filesystem::path candidate = folder / place / intake_program;
        if (::access(candidate.c_str(), X_OK) == 0) {
            return candidate.string();
        }
    }
    return Error{ErrorCode::Internal, "A part of Bichrom is missing.", intake_program,
                 "Install Bichrom again."};
}

} // namespace

Outcome<IntakeHelper> IntakeHelper::make()
{
    auto program = find_intake_program();
    if (!program) {
        return program.error();
    }
    auto scratch = ScratchFolder::make();
    if (!scratch) {
        return scratch.error();
    }
    return IntakeHelper(std::move(*program), std::move(*scratch));
}

} // namespace bichrom
