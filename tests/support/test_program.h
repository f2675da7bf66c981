/// \file
/// Many tests in one program: each test class registers itself under the name of its file, and the program
/// runs the one named first. Each still runs in a process of its own; what is shared is the linking.
#pragma once

#include <QtTest>

#include <map>
#include <memory>
#include <string>

namespace bichrom::test {

using TestMain = int (*)(int argc, char **argv);

/// The tests of this program by name ("tst_raster").
inline std::map<std::string, TestMain> &tests_of_this_program()
{
    static std::map<std::string, TestMain> tests;
    return tests;
}

inline bool add_test(const std::string &file, TestMain main)
{
    const std::size_t slash = file.find_last_of('/') + 1; // npos + 1 is 0
    return tests_of_this_program().emplace(file.substr(slash, file.find_last_of('.') - slash), main).second;
}

/// Nothing stands beside the test: for what must hold without an application, too.
struct NoApplication
{
    NoApplication(int & /*argc*/, char ** /*argv*/) {}
};

template <class Test, class Application> int run_test(int argc, char **argv)
{
    QTest::Internal::callInitMain<Test>();
    const Application application(argc, argv);
    if constexpr (std::is_base_of_v<QCoreApplication, Application>) {
        Application::setAttribute(Qt::AA_Use96Dpi, true);
    }
    Test test;
    return QTest::qExec(&test, argc, argv);
}

} // namespace bichrom::test

/// Puts \p Test into the program it is linked into; \p Application is what Qt object runs beside it.
#define BICHROM_TEST(Test, Application)                                                                      \
    [[maybe_unused]] static const bool registered_##Test =                                                   \
        bichrom::test::add_test(__FILE__, &bichrom::test::run_test<Test, Application>);
