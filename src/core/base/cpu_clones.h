/// \file
/// Functions compiled once more for newer processors.
/// Layer: core/base.
#pragma once

/// Before a plain function of loops over words: the compiler makes it for AVX2 as well, where it also counts
/// bits by one instruction, and the loader takes what the processor has. Same results either way: for whole
/// numbers only. Not under the address sanitizer, which begins later than the loader chooses.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_ADDRESS__)
#define BICHROM_CPU_CLONES __attribute__((target_clones("avx2", "default")))
#else
#define BICHROM_CPU_CLONES
#endif
