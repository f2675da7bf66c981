/// \file
/// Pictures read to their end, to hear what is wrong with them before they are painted.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

#include <map>
#include <mutex>
#include <string>
#include <vector>

namespace bichrom {

/// The pictures of one page; any thread. Each is read once.
class PictureFaults
{
public:
    /// Reads \p image to its end, and its mask, and tells the thread's NoteScope of what is wrong: data that
    /// ends early, does not fit its checksum, or that the decoder complains about. Later calls tell the same
    /// again. Takes about as long as decoding; JPEG less. Does not throw.
    /// \return whether anything of it can be decoded
    bool tell(fz_context *ctx, fz_image *image);

    /// Whether tell() has read \p image and had nothing to say.
    [[nodiscard]] bool is_whole(const fz_image *image) const;

    /// Makes tell() say \p note of \p image, whatever it reads like.
    void know(const fz_image *image, std::string note);

private:
    struct Known
    {
        bool readable = true;
        std::vector<std::string> notes;
    };
    mutable std::mutex m_guard;
    std::map<const fz_image *, Known> m_known; ///< the page's list keeps the pictures
};

} // namespace bichrom
