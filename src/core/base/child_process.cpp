#include "core/base/child_process.h"

#include "core/base/atomic_file.h"

#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

namespace bichrom {

namespace {

constexpr std::size_t most_output = 64 << 10;

/// The program's full path, or empty.
std::string find_program(const std::string &program)
{
    if (program.find('/') != std::string::npos) {
        return ::access(program.c_str(), X_OK) == 0 ? program : std::string();
    }
    const char *path = std::getenv("PATH");
    const std::string list = path != nullptr ? path : "/usr/local/bin:/usr/bin:/bin";
    std::size_t start = 0;
    while (start <= list.size()) {
        const std::size_t end = std::min(list.find(':', start), list.size());
        const std::string candidate = list.substr(start, end - start) + "/" + program;
        if (::access(candidate.c_str(), X_OK) == 0) {
            return candidate;
        }
        start = end + 1;
    }
    return {};
}

/// In the child, between fork and exec: only calls that are safe there.
void set_limit(int what, std::uint64_t value)
{
    const rlimit limit = {static_cast<rlim_t>(value), static_cast<rlim_t>(value)};
    ::setrlimit(static_cast<__rlimit_resource_t>(what), &limit);
}

} // namespace

ChildLimits limits_for(std::size_t bytes, int patience)
{
    constexpr std::size_t bytes_a_second = std::size_t(8) << 20;
    ChildLimits limits;
    limits.work = (limits.work + std::chrono::seconds(bytes / bytes_a_second)) * patience;
    limits.memory += 4 * static_cast<std::uint64_t>(bytes);
    return limits;
}

Outcome<ChildResult> run_child(const std::string &program, const std::vector<std::string> &arguments,
                               const std::filesystem::path &folder, const ChildLimits &limits,
                               const JobControl &control)
{
    const std::string path = find_program(program);
    if (path.empty()) {
        return Error{ErrorCode::FileMissing, "The program '" + program + "' is not installed.", program,
                     "Install it and try again."};
    }
    // Everything that allocates happens before the fork.
    std::vector<char *> argv;
    std::vector<std::string> words = {path};
    words.insert(words.end(), arguments.begin(), arguments.end());
    for (std::string &word : words) {
        argv.push_back(word.data());
    }
    argv.push_back(nullptr);
    const std::string directory = folder.string();
    std::string home = "HOME=" + directory;
    std::string temporary = "TMPDIR=" + directory;
    std::string search = "PATH=/usr/local/bin:/usr/bin:/bin";
    std::string locale = "LC_ALL=C.UTF-8";
    char *environment[] = {home.data(), temporary.data(), search.data(), locale.data(), nullptr};

    int output[2] = {-1, -1};
    if (::pipe2(output, O_CLOEXEC) != 0) {
        return Error{ErrorCode::Internal, "Another program cannot be started.", program, "Try again."};
    }
    const pid_t child = ::fork();
    if (child == 0) {
        ::setpgid(0, 0);
        const int nothing = ::open("/dev/null", O_RDONLY);
        ::dup2(nothing, STDIN_FILENO);
        ::dup2(output[1], STDOUT_FILENO);
        ::dup2(output[1], STDERR_FILENO);
        // A little above, so that the signal is the one that says why, and one that cannot be caught follows.
        const rlimit work = {static_cast<rlim_t>(limits.work.count()),
                             static_cast<rlim_t>(limits.work.count() + 2)};
        ::setrlimit(RLIMIT_CPU, &work);
#ifndef __SANITIZE_ADDRESS__ // which reserves more address space than any limit
        set_limit(RLIMIT_AS, limits.memory);
#endif
        set_limit(RLIMIT_FSIZE, limits.file);
        set_limit(RLIMIT_CORE, 0);
        if (::chdir(directory.c_str()) == 0) {
            ::execve(path.c_str(), argv.data(), environment);
        }
        ::_exit(127);
    }
    ::close(output[1]);
    if (child < 0) {
        ::close(output[0]);
        return Error{ErrorCode::Internal, "Another program cannot be started.", program, "Try again."};
    }
    ChildResult result;
    const auto end = std::chrono::steady_clock::now() + limits.work * limits.idle_factor;
    bool cancelled = false;
    bool killed = false;
    char buffer[4096];
    for (;;) {
        pollfd wait = {output[0], POLLIN, 0};
        const int ready = ::poll(&wait, 1, 50);
        if (ready > 0) {
            const ssize_t count = ::read(output[0], buffer, sizeof buffer);
            if (count <= 0) {
                break; // the child and all it started have closed it
            }
            const std::size_t room = most_output - std::min(most_output, result.output.size());
            result.output.append(buffer, std::min(room, static_cast<std::size_t>(count)));
        }
        cancelled = cancelled || control.cancelled();
        result.late = result.late || std::chrono::steady_clock::now() > end;
        if ((cancelled || result.late) && !killed) {
            ::kill(-child, SIGKILL);
            ::kill(child, SIGKILL);
            killed = true;
        }
    }
    ::close(output[0]);
    int status = 0;
    while (::waitpid(child, &status, 0) < 0 && errno == EINTR) {
    }
    if (cancelled) {
        return Error{ErrorCode::Cancelled, "Stopped.", program, {}};
    }
    if (WIFSIGNALED(status)) {
        result.signal = WTERMSIG(status);
        result.late = result.late || result.signal == SIGXCPU;
    } else {
        result.exit_code = WEXITSTATUS(status);
    }
    return result;
}

Outcome<ScratchFolder> ScratchFolder::make()
{
    std::error_code fault;
    std::string name = (std::filesystem::temp_directory_path(fault) / "bichrom-XXXXXX").string();
    if (::mkdtemp(name.data()) == nullptr) {
        return write_error(name, errno);
    }
    return ScratchFolder(std::filesystem::path(name));
}

ScratchFolder::ScratchFolder(ScratchFolder &&other) noexcept : m_path(std::move(other.m_path))
{
    other.m_path.clear();
}

ScratchFolder::~ScratchFolder()
{
    if (!m_path.empty()) {
        std::error_code fault;
        std::filesystem::remove_all(m_path, fault);
    }
}

} // namespace bichrom
