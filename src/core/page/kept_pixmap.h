/// \file
/// A pixmap that lives on by itself.
/// Layer: core/page, private to it.
#pragma once

#include "core/artwork/mupdf/runtime.h"

#include <memory>

namespace bichrom {

/// Keeps \c pixels, given to it, until it goes; any thread.
struct KeptPixmap
{
    std::shared_ptr<MupdfRuntime> runtime;
    fz_pixmap *pixels = nullptr;

    KeptPixmap(std::shared_ptr<MupdfRuntime> own_runtime, fz_pixmap *own_pixels)
        : runtime(std::move(own_runtime)), pixels(own_pixels)
    {
    }
    KeptPixmap(const KeptPixmap &) = delete;
    KeptPixmap &operator=(const KeptPixmap &) = delete;
    ~KeptPixmap()
    {
        const auto lease = runtime->lease();
        fz_drop_pixmap(lease.ctx(), pixels);
    }
};

} // namespace bichrom
