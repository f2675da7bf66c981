#include "cli/report.h"

#include "cli/console.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <csignal>
#include <cstdio>
#include <ctime>
#include <unistd.h>

namespace bichrom {

int report_error(const Error &error)
{
    complain("bichrom-cli: %s\n", error.message().c_str());
    switch (error.code) {
    case ErrorCode::CannotWrite:
    case ErrorCode::DiskFull:
        return exit_cannot_write;
    case ErrorCode::OutOfRange:
    case ErrorCode::UnknownInk:
        return exit_usage;
    case ErrorCode::Cancelled:
        return exit_stopped;
    default:
        return exit_cannot_read;
    }
}

void report_warning(const std::string &text)
{
    complain("bichrom-cli: warning: %s\n", text.c_str());
}

OpenWarnings::OpenWarnings(const OpenedJob &opened) : m_told(opened.warnings)
{
    for (const std::string &warning : m_told) {
        report_warning(warning);
    }
}

void OpenWarnings::report_more(const std::vector<std::string> &damage) const
{
    for (const std::string &text : damage) {
        if (std::find(m_told.begin(), m_told.end(), text) == m_told.end()) {
            report_warning(text);
        }
    }
}

void OpenWarnings::report_written(const std::vector<Manifest> &pages) const
{
    for (const Manifest &manifest : pages) {
        report_more(manifest.damage);
        report_earlier(manifest);
        std::string blank;
        for (const std::string &ink : manifest.blank) {
            blank += (blank.empty() ? "" : ", ") + ink;
        }
        if (!blank.empty()) {
            complain("bichrom-cli: page %d: nothing prints on %s; not written (--all-plates)\n",
                     manifest.page, blank.c_str());
        }
    }
}

namespace {

CancelSwitch &stop_switch()
{
    static CancelSwitch one;
    return one;
}

extern "C" void take_stop_signal(int)
{
    stop_switch().cancel(); // a lock-free store
}

} // namespace

void stop_on_signals()
{
    (void)stop_switch();
    for (const int signal : {SIGINT, SIGTERM}) {
        struct sigaction action = {};
        action.sa_handler = take_stop_signal;
        action.sa_flags = static_cast<int>(SA_RESETHAND) | SA_RESTART;
        sigaction(signal, &action, nullptr);
    }
}

JobControl stoppable()
{
    return JobControl(stop_switch());
}

JobControl progress_on_terminal(const std::string &what)
{
    if (::isatty(STDERR_FILENO) == 0) {
        return stoppable();
    }
    return JobControl(stop_switch(), [what](std::int64_t done, std::int64_t total) {
        if (total > 0) {
            std::fprintf(stderr, "\r%s %3d %%%s", what.c_str(), static_cast<int>(done * 100 / total),
                         done == total ? "\n" : "");
        }
    });
}

void report_earlier(const Manifest &manifest)
{
    const auto list = [](const std::vector<std::string> &names) {
        std::string text;
        for (const std::string &name : names) {
            text += (text.empty() ? "" : ", ") + name;
        }
        return text;
    };
    if (!manifest.moved.empty()) {
        report_warning("files of an earlier set went to " + manifest.moved_to + ": " + list(manifest.moved) +
                       ".");
    }
    if (!manifest.earlier.empty()) {
        report_warning("the folder still holds files of an earlier set that are no part of this one: " +
                       list(manifest.earlier) + ". --move-earlier moves such files away.");
    }
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
