// Marks a hot loop that is compiled several times, for plain x86-64 and for wider vectors; the
// fitting one is chosen when the program starts. Elsewhere it is compiled once.
#pragma once

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__)
#define BURNISHER_MULTIVERSION __attribute__((target_clones("default", "arch=x86-64-v3")))
// For what such a loop calls: only what is inlined is compiled for the wider vectors, too.
#define BURNISHER_INLINE inline __attribute__((always_inline))
#else
#define BURNISHER_MULTIVERSION
#define BURNISHER_INLINE inline
#endif
