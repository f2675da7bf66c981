/// \file
/// What the command line says.
/// Layer: cli.
#pragma once

namespace bichrom {

/// Writes to standard output like std::printf. Names and notes come from customers' files: whatever would
/// steer a terminal is written as a question mark.
void say(const char *format, ...) __attribute__((format(printf, 1, 2)));
/// The same to standard error.
void complain(const char *format, ...) __attribute__((format(printf, 1, 2)));

} // namespace bichrom
