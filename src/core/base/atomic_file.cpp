#include "core/base/atomic_file.h"

#include "core/base/original_guard.h"

#include <atomic>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <unistd.h>
#include <utility>

namespace bichrom {

namespace fs = std::filesystem;

namespace {

fs::path hidden_name(const fs::path &target, const char *ending)
{
    static std::atomic<unsigned> counter{0};
    const std::string tag = std::to_string(::getpid()) + "-" + std::to_string(counter++);
    return target.parent_path() / ("." + target.filename().string() + "." + tag + ending);
}

fs::path part_name(const fs::path &target)
{
    return hidden_name(target, ".part");
}

int sync_path(const fs::path &path)
{
    const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (fd < 0) {
        return errno;
    }
    const int fault = ::fsync(fd) == 0 ? 0 : errno;
    ::close(fd);
    return fault;
}

} // namespace

Error write_error(const fs::path &path, int error_number)
{
    if (error_number == ENOSPC || error_number == EDQUOT || error_number == EFBIG) {
        return {ErrorCode::DiskFull, "The disk is full; nothing incomplete was kept.", path.string(),
                "Free some space or choose another folder, then try again."};
    }
    std::string why = error_number == 0 ? std::string("the system gave no reason")
                                        : std::string(std::strerror(error_number));
    return {ErrorCode::CannotWrite, "Cannot write here (" + why + ").", path.string(),
            "Choose a folder you may write to."};
}

AtomicFile::AtomicFile(fs::path target) : m_target(std::move(target)), m_path(part_name(m_target)) {}

AtomicFile::AtomicFile(AtomicFile &&other) noexcept
    : m_target(std::move(other.m_target)), m_path(std::move(other.m_path)), m_pending(other.m_pending)
{
    other.m_pending = false;
}

AtomicFile::~AtomicFile()
{
    if (m_pending) {
        std::error_code ignored;
        fs::remove(m_path, ignored);
    }
}

Done AtomicFile::commit()
{
    if (Done good = may_replace(m_target); !good) {
        return good;
    }
    if (const int fault = sync_path(m_path); fault != 0) {
        return write_error(m_target, fault);
    }
    std::error_code fault;
    fs::rename(m_path, m_target, fault);
    if (fault) {
        return write_error(m_target, fault.value());
    }
    m_pending = false;
    return {};
}

Done commit_together(std::span<AtomicFile *const> files)
{
    for (const AtomicFile *file : files) {
        if (Done good = may_replace(file->m_target); !good) {
            return good;
        }
        std::error_code fault;
        if (fs::is_directory(fs::symlink_status(file->m_target, fault))) {
            return write_error(file->m_target, EISDIR); // somebody's folder is not to be put aside
        }
    }
    std::vector<std::pair<AtomicFile *, fs::path>> placed; ///< and where what stood there waits
    Done result;
    for (AtomicFile *file : files) {
        std::error_code fault;
        if (const int unsynced = sync_path(file->m_path); unsynced != 0) {
            result = write_error(file->m_target, unsynced);
            break;
        }
        fs::path before;
        if (fs::exists(fs::symlink_status(file->m_target, fault))) {
            before = hidden_name(file->m_target, ".before");
            fs::rename(file->m_target, before, fault);
            if (fault) {
                result = write_error(file->m_target, fault.value());
                break;
            }
        }
        fs::rename(file->m_path, file->m_target, fault);
        placed.emplace_back(file, before);
        if (fault) {
            result = write_error(file->m_target, fault.value());
            break;
        }
        file->m_pending = false;
    }
    for (auto &[file, before] : placed) {
        std::error_code ignored;
        if (result) {
            if (!before.empty()) {
                fs::remove(before, ignored);
            }
            continue;
        }
        if (!file->m_pending) {
            fs::remove(file->m_target, ignored);
        }
        if (!before.empty()) {
            fs::rename(before, file->m_target, ignored);
        }
    }
    return result;
}

Outcome<std::vector<std::byte>> read_file(const fs::path &path, std::uintmax_t limit)
{
    std::error_code fault;
    const fs::file_status status = fs::status(path, fault);
    if (!fs::exists(status)) {
        return Error{ErrorCode::FileMissing, "There is no such file.", path.string(),
                     "Check the name and whether the disk or share is connected."};
    }
    if (!fs::is_regular_file(status)) {
        return Error{ErrorCode::CannotRead, "This is not a file.", path.string(), "Choose a file."};
    }
    std::FILE *file = std::fopen(path.c_str(), "rbe");
    if (file == nullptr) {
        return Error{ErrorCode::CannotRead,
                     "The file cannot be read (" + std::string(std::strerror(errno)) + ").", path.string(),
                     "Ask for the right to read it, or copy it somewhere else."};
    }
    const std::uintmax_t size = fs::file_size(path, fault);
    if (!fault && size > limit) {
        std::fclose(file);
        return Error{ErrorCode::TooLarge, "The file is larger than " + std::to_string(limit >> 20) + " MB.",
                     path.string(), "Reduce it before opening it here."};
    }
    std::vector<std::byte> bytes(fault ? 0 : static_cast<std::size_t>(size));
    const std::size_t count = bytes.empty() ? 0 : std::fread(bytes.data(), 1, bytes.size(), file);
    std::fclose(file);
    if (count != bytes.size()) {
        return Error{ErrorCode::CannotRead, "The file ended early while it was read.", path.string(),
                     "Copy it again and retry."};
    }
    return bytes;
}

Outcome<AtomicFile> write_aside(const fs::path &path, std::string_view text)
{
    AtomicFile part(path);
    std::FILE *file = std::fopen(part.path().c_str(), "wbe");
    if (file == nullptr) {
        return write_error(path, errno);
    }
    errno = 0;
    const bool written = text.empty() || std::fwrite(text.data(), 1, text.size(), file) == text.size();
    int fault = written ? 0 : errno;
    if (std::fclose(file) != 0 && fault == 0) {
        fault = errno;
    }
    if (!written || fault != 0) {
        return write_error(path, fault);
    }
    return part;
}

Done write_file(const fs::path &path, std::span<const std::byte> bytes)
{
    return write_file(path, std::string_view(reinterpret_cast<const char *>(bytes.data()), bytes.size()));
}

Done write_file(const fs::path &path, std::string_view text)
{
    auto part = write_aside(path, text);
    return part ? part->commit() : Done(part.error());
}

Done prepare_folder(const fs::path &folder)
{
    std::error_code fault;
    fs::create_directories(folder, fault);
    if (fault || !fs::is_directory(folder)) {
        return write_error(folder, fault.value());
    }
    const fs::path probe = part_name(folder / "probe");
    const int fd = ::open(probe.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0600);
    if (fd < 0) {
        return write_error(folder, errno);
    }
    ::close(fd);
    fs::remove(probe, fault);
    return {};
}

} // namespace bichrom
