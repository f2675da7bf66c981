/// \file
/// How long a test waits for what must come: long, for a machine may be slow and have other work.
#pragma once

#include <QtTest>

namespace bichrom::test {

inline constexpr int patience_ms = 30'000;

} // namespace bichrom::test

// Qt's own wait five seconds.
#undef QTRY_VERIFY
#define QTRY_VERIFY(condition) QTRY_VERIFY_WITH_TIMEOUT(condition, ::bichrom::test::patience_ms)
#undef QTRY_COMPARE
#define QTRY_COMPARE(actual, expected)                                                                       \
    QTRY_COMPARE_WITH_TIMEOUT(actual, expected, ::bichrom::test::patience_ms)
