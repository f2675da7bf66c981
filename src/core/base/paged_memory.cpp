#include "core/base/paged_memory.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/statvfs.h>
#include <unistd.h>

#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <string>

namespace bichrom {

namespace {

/// An open file that no name leads to, or −1.
int nameless_file(const std::string &folder) noexcept
{
    if (const int file = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600); file >= 0) {
        return file;
    }
    std::string name = folder + "/bichrom-XXXXXX"; // not every file system knows the other way
    const int file = ::mkostemp(name.data(), O_CLOEXEC);
    if (file >= 0) {
        ::unlink(name.c_str());
    }
    return file;
}

} // namespace

void *map_paged(std::size_t bytes) noexcept
{
    constexpr std::uint64_t left_free = std::uint64_t(1) << 30;
    // /tmp often lies in memory itself; what is large belongs into /var/tmp (Filesystem Hierarchy
    // Standard 3.0, 5.15).
    const char *chosen = std::getenv("TMPDIR");
    for (const char *folder : {chosen, "/var/tmp", "/tmp"}) {
        struct statvfs space = {};
        if (folder == nullptr || ::statvfs(folder, &space) != 0 ||
            std::uint64_t(space.f_bavail) * space.f_frsize < bytes + left_free) {
            continue;
        }
        const int file = nameless_file(folder);
        if (file < 0) {
            continue;
        }
        void *block = MAP_FAILED;
        if (::posix_fallocate(file, 0, static_cast<off_t>(bytes)) ==
            0) { // else a full disk would be a signal
            block = ::mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, file, 0);
        }
        ::close(file); // the mapping keeps it
        if (block != MAP_FAILED) {
            return block;
        }
    }
    return nullptr;
}

void unmap_paged(void *block, std::size_t bytes) noexcept
{
    ::munmap(block, bytes);
}

} // namespace bichrom
