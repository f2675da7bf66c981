#include "core/base/deflate.h"

#include <oneapi/tbb/parallel_for.h>
#include <zlib.h>

#include <algorithm>
#include <new>

namespace bichrom {

namespace {

constexpr std::size_t part_size = std::size_t(1) << 20;

struct Part
{
    std::vector<std::uint8_t> out;
    uLong sum = 0;
};

/// Blocks that end on a whole byte, so that others can follow (RFC 1951, 3.2.4).
void deflate_part(std::span<const std::uint8_t> bytes, Part &part)
{
    part.sum = adler32(adler32(0, nullptr, 0), bytes.data(), static_cast<uInt>(bytes.size()));
    z_stream stream = {};
    if (deflateInit2(&stream, Z_BEST_SPEED, Z_DEFLATED, -MAX_WBITS, MAX_MEM_LEVEL, Z_DEFAULT_STRATEGY) !=
        Z_OK) {
        throw std::bad_alloc();
    }
    part.out.resize(deflateBound(&stream, static_cast<uLong>(bytes.size())) + 16);
    stream.next_in = const_cast<Bytef *>(bytes.data()); // zlib does not write there
    stream.avail_in = static_cast<uInt>(bytes.size());
    stream.next_out = part.out.data();
    stream.avail_out = static_cast<uInt>(part.out.size());
    const bool whole = deflate(&stream, Z_FULL_FLUSH) == Z_OK && stream.avail_in == 0 && stream.avail_out > 0;
    part.out.resize(stream.total_out);
    deflateEnd(&stream);
    if (!whole) {
        throw std::bad_alloc(); // there was no room, which the bound rules out
    }
}

} // namespace

void Deflater::append(std::span<const std::uint8_t> bytes)
{
    if (m_out.empty()) { // the head: 32 KB window, fastest
        m_out.push_back(0x78);
        m_out.push_back(0x01);
    }
    std::vector<Part> parts((bytes.size() + part_size - 1) / part_size);
    oneapi::tbb::parallel_for(std::size_t(0), parts.size(), [&](std::size_t i) {
        deflate_part(bytes.subspan(i * part_size, std::min(part_size, bytes.size() - i * part_size)),
                     parts[i]);
    });
    for (std::size_t i = 0; i < parts.size(); ++i) {
        m_out.insert(m_out.end(), parts[i].out.begin(), parts[i].out.end());
        const std::size_t length = std::min(part_size, bytes.size() - i * part_size);
        m_sum = adler32_combine(m_sum, parts[i].sum, static_cast<z_off_t>(length));
    }
}

std::vector<std::uint8_t> Deflater::finish()
{
    append({});
    m_out.push_back(0x03); // an empty last block
    m_out.push_back(0x00);
    for (const int shift : {24, 16, 8, 0}) {
        m_out.push_back(static_cast<std::uint8_t>(m_sum >> shift));
    }
    return std::move(m_out);
}

} // namespace bichrom
