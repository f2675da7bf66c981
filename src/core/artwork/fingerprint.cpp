#include "core/artwork/fingerprint.h"

#include "core/artwork/mupdf/mupdf.h"

#include <array>
#include <fstream>
#include <vector>

namespace bichrom {

namespace {

std::string digest_of(fz_sha256 &state)
{
    std::array<unsigned char, 32> digest{};
    fz_sha256_final(&state, digest.data());
    static constexpr char digits[] = "0123456789abcdef";
    std::string text;
    for (const unsigned char byte : digest) {
        text += digits[byte >> 4];
        text += digits[byte & 15];
    }
    return text;
}

} // namespace

std::string fingerprint_of(std::span<const std::byte> bytes)
{
    fz_sha256 state;
    fz_sha256_init(&state);
    fz_sha256_update(&state, reinterpret_cast<const unsigned char *>(bytes.data()), bytes.size());
    return digest_of(state);
}

Outcome<std::string> fingerprint_of_file(const std::filesystem::path &path)
{
    std::ifstream file(path, std::ios::binary);
    if (!file) {
        return Error{ErrorCode::FileMissing, "There is no such file, or it cannot be opened.", path.string(),
                     "Check the name and the rights."};
    }
    fz_sha256 state;
    fz_sha256_init(&state);
    std::vector<char> block(1 << 18);
    while (file.read(block.data(), static_cast<std::streamsize>(block.size())), file.gcount() > 0) {
        fz_sha256_update(&state, reinterpret_cast<const unsigned char *>(block.data()),
                         static_cast<std::size_t>(file.gcount()));
    }
    if (file.bad()) {
        return Error{ErrorCode::CannotRead, "The file could not be read to its end.", path.string(), {}};
    }
    return digest_of(state);
}

} // namespace bichrom
