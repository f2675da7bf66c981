/// \file
/// Other programs that tests ask for a second opinion.
#pragma once

#include <QtTest>

namespace bichrom::test {

/// What \p program prints; the test ends when it fails.
inline QString output_of(const QString &program, const QStringList &arguments)
{
    QProcess process;
    process.start(program, arguments);
    if (!process.waitForFinished(60'000) || process.exitCode() != 0) {
        qFatal("%s fails: %s", qPrintable(program), process.readAllStandardError().constData());
    }
    return QString::fromUtf8(process.readAllStandardOutput());
}

} // namespace bichrom::test
