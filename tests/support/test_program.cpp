// test_program TEST [Qt Test's own options]
#include "support/test_program.h"

#include <cstdio>

int main(int argc, char **argv)
{
    const auto &tests = bichrom::test::tests_of_this_program();
    if (const auto found = argc > 1 ? tests.find(argv[1]) : tests.end(); found != tests.end()) {
        argv[1] = argv[0];
        return found->second(argc - 1, argv + 1);
    }
    std::fprintf(stderr, "usage: %s TEST [options]; the tests here:\n", argv[0]);
    for (const auto &[name, main] : tests) {
        std::fprintf(stderr, "  %s\n", name.c_str());
    }
    return 2;
}
