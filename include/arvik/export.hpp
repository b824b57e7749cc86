#pragma once

/// ARVIK_API marks what a shared library of Arvik exports; everything else is hidden. On Windows
/// build the static libraries.
#if defined(__GNUC__) && !defined(_WIN32)
#define ARVIK_API __attribute__((visibility("default")))
#else
#define ARVIK_API
#endif
