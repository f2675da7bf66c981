#include "cli/report.h"

#include <cstdio>
#include <ctime>
#include <unistd.h>

namespace bichrom {

int report_error(const Error &error)
{
    std::fprintf(stderr, "bichrom-cli: %s\n", error.message().c_str());
    switch (error.code) {
    case ErrorCode::CannotWrite:
    case ErrorCode::DiskFull:
        return exit_cannot_write;
    case ErrorCode::OutOfRange:
    case ErrorCode::UnknownInk:
        return exit_usage;
    default:
        return exit_cannot_read;
    }
}

void report_warning(const std::string &text)
{
    std::fprintf(stderr, "bichrom-cli: warning: %s\n", text.c_str());
}

JobControl progress_on_terminal(const std::string &what)
{
    if (::isatty(STDERR_FILENO) == 0) {
        return {};
    }
    return JobControl(CancelSwitch(), [what](std::int64_t done, std::int64_t total) {
        if (total > 0) {
            std::fprintf(stderr, "\r%s %3d %%%s", what.c_str(), static_cast<int>(done * 100 / total),
                         done == total ? "\n" : "");
        }
    });
}

std::string today()
{
    const std::time_t now = std::time(nullptr);
    std::tm parts{};
    localtime_r(&now, &parts);
    char text[16];
    std::strftime(text, sizeof text, "%Y-%m-%d", &parts);
    return text;
}

} // namespace bichrom
