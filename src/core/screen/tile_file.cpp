#include "core/screen/tile_file.h"

#include "core/artwork/intake/picture.h"
#include "core/base/atomic_file.h"
#include "core/base/within_memory.h"

namespace bichrom {

namespace {

/// A sample, as many bits as the picture has, of row \p y.
std::uint16_t sample_at(const Picture &picture, std::size_t row_bytes, int y, int number)
{
    const std::uint8_t *row = picture.samples.data() + static_cast<std::size_t>(y) * row_bytes;
    const auto at = static_cast<std::size_t>(number);
    if (picture.bits == 16) {
        return static_cast<std::uint16_t>(row[at * 2] << 8 | row[at * 2 + 1]);
    }
    const int each = 8 / picture.bits;
    const int shift = 8 - picture.bits * (1 + number % each);
    return static_cast<std::uint16_t>(row[number / each] >> shift & ((1 << picture.bits) - 1));
}

/// Its values, small where it is dark; nothing where it has colours.
std::vector<std::uint16_t> values_of(const Picture &picture)
{
    const int channels = picture.space == Picture::Space::Gray  ? 1
                         : picture.space == Picture::Space::Rgb ? 3
                                                                : 0;
    const std::size_t row_bytes =
        (static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(channels * picture.bits) + 7) / 8;
    if (channels == 0 || picture.is_jpeg || picture.is_deflated ||
        picture.samples.size() < row_bytes * static_cast<std::size_t>(picture.height)) {
        return {};
    }
    std::vector<std::uint16_t> values;
    for (int y = 0; y < picture.height; ++y) {
        for (int x = 0; x < picture.width; ++x) {
            const std::uint16_t value = sample_at(picture, row_bytes, y, x * channels);
            for (int other = 1; other < channels; ++other) {
                if (sample_at(picture, row_bytes, y, x * channels + other) != value) {
                    return {};
                }
            }
            values.push_back(picture.inverted ? static_cast<std::uint16_t>(65535 - value) : value);
        }
    }
    return values;
}

} // namespace

Outcome<OwnTile> read_tile_file(const std::filesystem::path &path)
{
    const auto wrong = [&](const std::string &why) {
        return Error{ErrorCode::WrongFormat, why, path.string(),
                     "Choose a grey PNG or TIFF in which darker places take ink first."};
    };
    return within_memory(path.string(), [&]() -> Outcome<OwnTile> {
        constexpr std::uintmax_t largest_file = 16 << 20;
        const auto bytes = read_file(path, largest_file);
        if (!bytes) {
            return bytes.error();
        }
        const bool png = bytes->size() > 1 && (*bytes)[1] == std::byte('P');
        const auto file = png ? read_png(*bytes) : read_tiff_pictures(*bytes);
        if (!file) {
            return wrong("This is no PNG or TIFF that can be read: " + file.error().reason);
        }
        if (file->pages.empty() || !file->damage.empty()) {
            return wrong("The picture is damaged.");
        }
        const Picture &picture = file->pages.front();
        if (picture.width > OwnTile::largest || picture.height > OwnTile::largest) {
            return OwnTile::ranked(path.filename().string(), picture.width, picture.height, {});
        }
        const std::vector<std::uint16_t> values = values_of(picture);
        if (values.empty()) {
            return wrong("The picture has colours.");
        }
        auto tile = OwnTile::ranked(path.stem().string(), picture.width, picture.height, values);
        if (!tile) {
            Error error = tile.error();
            error.place = path.string();
            return error;
        }
        return tile;
    });
}

} // namespace bichrom
