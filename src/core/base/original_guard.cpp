#include "core/base/original_guard.h"

#include <algorithm>
#include <mutex>
#include <vector>

namespace bichrom {

namespace fs = std::filesystem;

namespace {

struct Guarded
{
    std::mutex lock;
    std::vector<fs::path> files; ///< one as often as it is guarded
};

Guarded &guarded()
{
    static Guarded all;
    return all;
}

} // namespace

OriginalGuard::OriginalGuard(const fs::path &file)
{
    std::error_code fault;
    if (file.empty() || !fs::is_regular_file(file, fault)) {
        return;
    }
    m_file = fs::absolute(file, fault);
    Guarded &all = guarded();
    const std::lock_guard hold(all.lock);
    all.files.push_back(m_file);
}

OriginalGuard::~OriginalGuard()
{
    if (m_file.empty()) {
        return;
    }
    Guarded &all = guarded();
    const std::lock_guard hold(all.lock);
    all.files.erase(std::find(all.files.begin(), all.files.end(), m_file));
}

Done may_replace(const fs::path &target)
{
    Guarded &all = guarded();
    const std::lock_guard hold(all.lock);
    const bool original = std::any_of(all.files.begin(), all.files.end(), [&](const fs::path &file) {
        std::error_code fault; // one that is gone is no file to be replaced
        return fs::equivalent(file, target, fault);
    });
    return original ? Done(Error{ErrorCode::CannotWrite,
                                 "That is the customer's own file, which is never changed.", target.string(),
                                 "Choose another name or folder."})
                    : Done();
}

} // namespace bichrom
