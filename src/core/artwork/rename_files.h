/// \file
/// Another name for an ink in many PDFs: copies in a folder, the originals stay.
/// Layer: core/artwork. May use core/base.
#pragma once

#include "core/artwork/rename_ink.h"
#include "core/base/job_control.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

/// What became of one file.
struct RenamedFile
{
    std::filesystem::path file;
    std::vector<RenamedInk> inks; ///< none: it holds no ink of that name, and is copied as it is
    std::optional<Error> fault;   ///< then nothing was written of it
};

struct RenameSummary
{
    int changed = 0, without = 0, failed = 0; ///< files
};
[[nodiscard]] RenameSummary sum_up(const std::vector<RenamedFile> &files);

/// Goes through \p files one by one; one that fails keeps the others from nothing. Files of one name, and a
/// folder that holds an original, are faults of the file.
/// \param folder  for the copies, made when missing; empty = nothing is written, only told
/// \return as far as it came when \p control asks to stop; as check_rename(); CannotWrite for the folder
[[nodiscard]] Outcome<std::vector<RenamedFile>>
rename_in_files(const std::vector<std::filesystem::path> &files, const InkRename &rename,
                const std::filesystem::path &folder, const std::string &password = {},
                const JobControl &control = {});

} // namespace bichrom
