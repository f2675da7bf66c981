#include "core/artwork/intake/unpack.h"

#include <zlib.h>

#include <algorithm>

namespace bichrom {

namespace {

struct Inflater
{
    z_stream stream{};
    bool ready = false;
    explicit Inflater(int kind) { ready = inflateInit2(&stream, 15 + kind) == Z_OK; } // 15 bits of window
    ~Inflater() { inflateEnd(&stream); }
};

constexpr int gzip = 16, zlib = 0;

} // namespace

bool is_gzip(std::span<const std::byte> bytes)
{
    return bytes.size() > 18 && bytes[0] == std::byte{0x1f} && bytes[1] == std::byte{0x8b};
}

Outcome<std::vector<std::byte>> unpack_gzip(std::span<const std::byte> bytes)
{
    constexpr std::size_t most = std::size_t(1) << 30;
    const Error damaged{ErrorCode::CannotRead,
                        "The compressed file is damaged or cut off.",
                        {},
                        "Ask the customer for a new copy, best not compressed."};
    Inflater inflater(gzip);
    z_stream &stream = inflater.stream;
    std::vector<std::byte> out;
    std::vector<unsigned char> chunk(std::size_t(1) << 18);
    std::size_t at = 0;
    for (int state = inflater.ready ? Z_OK : Z_MEM_ERROR; state != Z_STREAM_END;) {
        if (state != Z_OK || (stream.avail_in == 0 && at == bytes.size())) {
            return damaged;
        }
        if (stream.avail_in == 0) {
            const std::size_t some = std::min(bytes.size() - at, std::size_t(1) << 30);
            stream.next_in = reinterpret_cast<unsigned char *>(const_cast<std::byte *>(bytes.data() + at));
            stream.avail_in = static_cast<uInt>(some);
            at += some;
        }
        stream.next_out = chunk.data();
        stream.avail_out = static_cast<uInt>(chunk.size());
        state = inflate(&stream, Z_NO_FLUSH);
        const std::size_t made = chunk.size() - stream.avail_out;
        if (out.size() + made > most) {
            return Error{ErrorCode::TooLarge,
                         "Unpacked, the file is larger than 1 GB.",
                         {},
                         "Ask for it in smaller parts."};
        }
        const auto *first = reinterpret_cast<const std::byte *>(chunk.data());
        out.insert(out.end(), first, first + made);
        if (state == Z_BUF_ERROR && made > 0) {
            state = Z_OK;
        }
    }
    return out;
}

bool is_whole_zlib(std::span<const std::byte> bytes)
{
    Inflater inflater(zlib);
    z_stream &stream = inflater.stream;
    stream.next_in = reinterpret_cast<unsigned char *>(const_cast<std::byte *>(bytes.data()));
    stream.avail_in = static_cast<uInt>(bytes.size());
    std::vector<unsigned char> chunk(std::size_t(1) << 16);
    int state = inflater.ready ? Z_OK : Z_MEM_ERROR;
    while (state == Z_OK) {
        stream.next_out = chunk.data();
        stream.avail_out = static_cast<uInt>(chunk.size());
        state = inflate(&stream, Z_NO_FLUSH);
    }
    return state == Z_STREAM_END;
}

} // namespace bichrom
