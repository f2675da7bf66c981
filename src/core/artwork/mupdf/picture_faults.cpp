#include "core/artwork/mupdf/picture_faults.h"

#include "core/artwork/mupdf/jpeg_check.h"
#include "core/artwork/mupdf/notes.h"

#include <cstdint>

namespace bichrom {

namespace {

/// Whether every segment of an embedded JBIG2 stream is there to its end (ISO/IEC 14492, 7.2): the decoder
/// leaves out the one that is cut, without a word.
bool jbig2_is_whole(const unsigned char *data, std::size_t size)
{
    const auto number = [&](std::size_t at, std::size_t bytes) {
        std::uint64_t value = 0;
        for (std::size_t i = 0; i < bytes; ++i) {
            value = value << 8 | data[at + i];
        }
        return value;
    };
    std::size_t at = 0;
    while (at + 11 <= size) {
        const std::uint64_t segment = number(at, 4);
        const unsigned flags = data[at + 4];
        at += 5;
        std::uint64_t referred = data[at] >> 5;
        if (referred == 7) {
            if (at + 4 > size) {
                return false;
            }
            referred = number(at, 4) & 0x1FFFFFFF;
            at += 4 + static_cast<std::size_t>((referred + 8) / 8);
        } else {
            ++at;
        }
        const std::size_t reference = segment <= 256 ? 1 : segment <= 65536 ? 2 : 4;
        at += static_cast<std::size_t>(referred) * reference + ((flags & 0x40) != 0 ? 4 : 1);
        if (at + 4 > size) {
            return false;
        }
        const std::uint64_t length = number(at, 4);
        at += 4;
        if (length == 0xFFFFFFFF) {
            return true; // of unknown length: goes on until its own mark
        }
        if (length > size - at) {
            return false;
        }
        at += static_cast<std::size_t>(length);
    }
    return size - at < 4; // some line ends may follow
}

/// Large pictures of which next to nothing is there are not shown: what a hostile file claims would be held
/// in memory all the same. Throws MuPDF's way. \param there, claimed  bytes or pixels
void give_up_if_far_too_short(fz_context *ctx, std::uint64_t there, std::uint64_t claimed)
{
    constexpr std::uint64_t small = 64u << 20, share = 16;
    if (claimed > small && there < claimed / share) {
        fz_throw(ctx, FZ_ERROR_GENERIC, "image data far too short");
    }
}

/// Reads everything that \p image's data decodes to. Throws MuPDF's way when it cannot even be opened.
void read_to_the_end(fz_context *ctx, fz_image *image)
{
    fz_compressed_buffer *buffer = fz_compressed_image_buffer(ctx, image);
    if (buffer == nullptr || buffer->buffer == nullptr) {
        return; // pixels already
    }
    if (buffer->params.type == FZ_IMAGE_JPX) {
        fz_drop_pixmap(ctx, fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr));
        return;
    }
    unsigned char *data = nullptr;
    const std::size_t size = fz_buffer_storage(ctx, buffer->buffer, &data);
    if (buffer->params.type == FZ_IMAGE_JPEG) {
        char fault[most_jpeg_text] = {};
        JpegSize held;
        const bool whole = jpeg_is_whole({data, size}, fault, held);
        const auto held_width = static_cast<int>(held.width), held_height = static_cast<int>(held.height);
        if (!held.possible) {
            fz_throw(ctx, FZ_ERROR_GENERIC, "jpeg: %d x %d pixels in %d bytes, which cannot be", held_width,
                     held_height, static_cast<int>(size));
        }
        if (!whole) {
            fz_warn(ctx, "jpeg: %s", fault);
        }
        if (held.width > 0 && (held_width != image->w || held_height != image->h)) {
            fz_warn(ctx, "jpeg: the data holds %d x %d pixels instead of %d x %d", held_width, held_height,
                    image->w, image->h);
            give_up_if_far_too_short(ctx, std::uint64_t(held.width) * held.height,
                                     std::uint64_t(image->w) * static_cast<std::uint64_t>(image->h));
        }
        return;
    }
    if (buffer->params.type == FZ_IMAGE_JBIG2 && !jbig2_is_whole(data, size)) {
        fz_warn(ctx, "jbig2 data ends early");
    }
    int factor = 0;
    fz_stream *stream = fz_open_image_decomp_stream_from_buffer(ctx, buffer, &factor);
    fz_try(ctx)
    {
        static thread_local unsigned char chunk[1 << 16];
        const std::uint64_t expected = (static_cast<std::uint64_t>(image->w) * image->n * image->bpc + 7) /
                                       8 * static_cast<std::uint64_t>(image->h);
        // A little beyond the pixels, so that a checksum at the end is read too, but no bomb.
        const std::uint64_t most = expected + sizeof chunk;
        std::uint64_t total = 0;
        while (total < most) {
            const std::size_t count = fz_read(ctx, stream, chunk, sizeof chunk);
            if (count == 0) {
                break;
            }
            total += count;
        }
        if (total >= most) { // what is damaged may become more just as well as less
            fz_warn(ctx, "image data too long: it goes on beyond the pixels");
        }
        if (total < expected) {
            fz_warn(ctx, "image data too short: %d %% of it are there",
                    static_cast<int>(total * 100 / expected));
            give_up_if_far_too_short(ctx, total, expected);
        }
    }
    fz_always(ctx)
    {
        fz_drop_stream(ctx, stream);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

} // namespace

void PictureFaults::know(const fz_image *image, std::string note)
{
    const std::lock_guard guard(m_guard);
    m_known[image].notes.push_back(std::move(note));
}

bool PictureFaults::is_whole(const fz_image *image) const
{
    const std::lock_guard guard(m_guard);
    const auto known = m_known.find(image);
    return known != m_known.end() && known->second.readable && known->second.notes.empty();
}

bool PictureFaults::tell(fz_context *ctx, fz_image *image)
{
    NoteScope *told = NoteScope::current();
    {
        const std::lock_guard guard(m_guard);
        if (const auto known = m_known.find(image); known != m_known.end()) {
            if (told != nullptr) {
                told->decoding(true);
                for (const std::string &note : known->second.notes) {
                    told->add(note);
                }
                told->decoding(false);
            }
            return known->second.readable;
        }
    }
    Known known;
    {
        NoteScope heard(ctx);
        bool readable = true;
        fz_var(readable);
        fz_try(ctx)
        {
            read_to_the_end(ctx, image);
        }
        fz_catch(ctx)
        {
            readable = false;
            fz_warn(ctx, "%s", fz_caught_message(ctx));
        }
        fz_flush_warnings(ctx);
        known.readable = readable;
        for (const NoteScope::Note &note : heard.notes()) {
            known.notes.push_back(note.text);
        }
    }
    if (told != nullptr) {
        told->decoding(true);
        for (const std::string &note : known.notes) {
            told->add(note);
        }
        told->decoding(false);
    }
    const bool readable = known.readable;
    const std::lock_guard guard(m_guard);
    m_known.emplace(image, std::move(known));
    return readable;
}

} // namespace bichrom
