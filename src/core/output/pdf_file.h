/// \file
/// A PDF that is put together and written, whole or not at all.
/// Layer: core/output, private. qpdf stays inside.
#pragma once

#include "core/base/atomic_file.h"
#include "core/base/outcome.h"

#include <functional>
#include <string>

class QPDF;

namespace bichrom {

/// How it is written.
struct PdfWriting
{
    std::string version = "1.5"; ///< at least
    bool compress = true;        ///< streams that are not yet
};

/// Lets \p build fill an empty PDF, and writes it under the hidden name of \p file, which is not committed.
/// Exceptions of the library, and of \p build, end here. CannotWrite, DiskFull, Internal.
[[nodiscard]] Done write_pdf_file(const AtomicFile &file, const std::function<void(QPDF &)> &build,
                                  const PdfWriting &how = {});

} // namespace bichrom
