#include "core/base/hidden_folder.h"

#include "core/base/atomic_file.h"

#include <cerrno>

namespace bichrom {

namespace fs = std::filesystem;

HiddenFolder::HiddenFolder(fs::path path) : m_path(std::move(path))
{
    clear();
}

HiddenFolder::~HiddenFolder()
{
    clear();
}

Done HiddenFolder::move_to(const fs::path &place) const
{
    std::error_code fault;
    if (fs::exists(place, fault)) { // rename() would replace an empty folder
        return write_error(place, EEXIST);
    }
    fs::rename(m_path, place, fault);
    return fault ? Done(write_error(place, fault.value())) : Done();
}

void HiddenFolder::clear() const
{
    std::error_code fault;
    fs::remove_all(m_path, fault);
}

} // namespace bichrom
