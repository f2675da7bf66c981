/// \file
/// A folder that appears whole or not at all.
/// Layer: core/base.
#pragma once

#include "core/base/outcome.h"

#include <filesystem>

namespace bichrom {

/// A folder that goes, with all that is in it, unless it is moved to its place. What one of that name that
/// broke off has left goes first. It is made by who fills it.
class HiddenFolder
{
public:
    /// \param path  its name begins with a dot
    explicit HiddenFolder(std::filesystem::path path);
    ~HiddenFolder();
    HiddenFolder(const HiddenFolder &) = delete;
    HiddenFolder &operator=(const HiddenFolder &) = delete;

    [[nodiscard]] const std::filesystem::path &path() const { return m_path; }
    /// \param place  beside it; CannotWrite when something is there already
    [[nodiscard]] Done move_to(const std::filesystem::path &place) const;

private:
    void clear() const;
    std::filesystem::path m_path;
};

} // namespace bichrom
