#include "core/artwork/rename_files.h"

#include "core/base/atomic_file.h"

#include <algorithm>
#include <span>
#include <system_error>

namespace bichrom {

RenameSummary sum_up(const std::vector<RenamedFile> &files)
{
    RenameSummary sum;
    for (const RenamedFile &one : files) {
        ++(one.fault ? sum.failed : one.inks.empty() ? sum.without : sum.changed);
    }
    return sum;
}

namespace {

RenamedFile rename_file(const std::filesystem::path &file, const InkRename &rename,
                        const std::filesystem::path &folder, const std::string &password,
                        std::vector<std::filesystem::path> &written)
{
    RenamedFile made{file, {}, {}};
    const std::filesystem::path target = folder / file.filename();
    std::error_code fault;
    if (!folder.empty() && std::filesystem::equivalent(file, target, fault)) {
        made.fault = Error{ErrorCode::CannotWrite, "The copy would replace the original.", file.string(),
                           "Choose another folder."};
        return made;
    }
    if (!folder.empty() && std::find(written.begin(), written.end(), target) != written.end()) {
        made.fault = Error{ErrorCode::CannotWrite,
                           "Another of the files has the same name; its copy would be replaced.",
                           file.string(), "Choose another folder for this one."};
        return made;
    }
    const auto bytes = read_file(file);
    if (!bytes) {
        made.fault = bytes.error();
        return made;
    }
    auto renamed = rename_ink(*bytes, file.string(), rename, password);
    if (!renamed) {
        made.fault = renamed.error();
        return made;
    }
    if (!folder.empty()) {
        const Done done =
            write_file(target, std::span<const std::byte>(renamed->bytes.empty() ? *bytes : renamed->bytes));
        if (!done) {
            made.fault = done.error();
            return made;
        }
        written.push_back(target);
    }
    made.inks = std::move(renamed->inks);
    return made;
}

} // namespace

Outcome<std::vector<RenamedFile>> rename_in_files(const std::vector<std::filesystem::path> &files,
                                                  const InkRename &rename,
                                                  const std::filesystem::path &folder,
                                                  const std::string &password, const JobControl &control)
{
    if (const Done good = check_rename(rename); !good) {
        return good.error();
    }
    if (!folder.empty()) {
        if (const Done ready = prepare_folder(folder); !ready) {
            return ready.error();
        }
    }
    std::vector<RenamedFile> made;
    std::vector<std::filesystem::path> written;
    for (const std::filesystem::path &file : files) {
        if (control.cancelled()) {
            break;
        }
        control.progress(static_cast<std::int64_t>(made.size()), static_cast<std::int64_t>(files.size()));
        made.push_back(rename_file(file, rename, folder, password, written));
    }
    return made;
}

} // namespace bichrom
