/// \file
/// The only place that includes MuPDF.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

// Debian's library is built without ICC and without lock debugging; structures
// declared in its headers must have the same shape here.
#ifndef FZ_ENABLE_ICC
#define FZ_ENABLE_ICC 0
#endif
#ifndef NDEBUG
#define NDEBUG
#define BICHROM_UNDEF_NDEBUG
#endif

#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wpedantic"
#pragma GCC diagnostic ignored "-Wconversion"
#pragma GCC diagnostic ignored "-Wold-style-cast"
#pragma GCC diagnostic ignored "-Wshadow"
#include <mupdf/fitz.h>
#include <mupdf/pdf.h>
#pragma GCC diagnostic pop

#ifdef BICHROM_UNDEF_NDEBUG
#undef NDEBUG
#undef BICHROM_UNDEF_NDEBUG
#endif
