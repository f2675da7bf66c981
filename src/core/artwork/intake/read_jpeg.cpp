#include "core/artwork/intake/picture.h"

#include <cstdio>

#include <jpeglib.h>
#include <libexif/exif-data.h>

#include <csetjmp>
#include <cstdlib>
#include <cstring>

namespace bichrom {

namespace {

struct Reader
{
    jpeg_decompress_struct info{};
    jpeg_error_mgr errors{};
    std::jmp_buf jump;
    char message[JMSG_LENGTH_MAX] = {};
    JOCTET *profile = nullptr; ///< from the C heap
    unsigned profile_size = 0;
    bool has_profile = false;
};

void fail(j_common_ptr common)
{
    auto *reader = static_cast<Reader *>(common->client_data);
    reader->errors.format_message(common, reader->message);
    std::longjmp(reader->jump, 1);
}

void ignore(j_common_ptr, int) {}

/// Everything that may jump; holds no object with a destructor.
bool read_header(Reader &reader, std::span<const std::byte> bytes)
{
    if (setjmp(reader.jump) != 0) {
        return false;
    }
    jpeg_create_decompress(&reader.info);
    reader.info.client_data = &reader;
    jpeg_mem_src(&reader.info, reinterpret_cast<const unsigned char *>(bytes.data()), bytes.size());
    jpeg_save_markers(&reader.info, JPEG_APP0 + 1, 0xFFFF);
    jpeg_save_markers(&reader.info, JPEG_APP0 + 2, 0xFFFF);
    jpeg_save_markers(&reader.info, JPEG_APP0 + 14, 0xFFFF);
    jpeg_read_header(&reader.info, TRUE);
    reader.has_profile = jpeg_read_icc_profile(&reader.info, &reader.profile, &reader.profile_size) != 0;
    return true;
}

/// Reads orientation and, when the file has no other, resolution from EXIF data.
void read_exif(const jpeg_marker_struct &marker, Picture &picture)
{
    ExifData *data = exif_data_new_from_data(marker.data, marker.data_length);
    if (data == nullptr) {
        return;
    }
    const ExifByteOrder order = exif_data_get_byte_order(data);
    const auto entry = [&](ExifTag tag) { return exif_content_get_entry(data->ifd[EXIF_IFD_0], tag); };
    const auto small = [&](ExifTag tag, int otherwise) {
        const ExifEntry *found = entry(tag);
        return found != nullptr && found->format == EXIF_FORMAT_SHORT && found->size >= 2
                   ? int(exif_get_short(found->data, order))
                   : otherwise;
    };
    const auto ratio = [&](ExifTag tag) {
        const ExifEntry *found = entry(tag);
        if (found == nullptr || found->format != EXIF_FORMAT_RATIONAL || found->size < 8) {
            return 0.0;
        }
        const ExifRational value = exif_get_rational(found->data, order);
        return value.denominator == 0 ? 0.0 : double(value.numerator) / double(value.denominator);
    };
    const int orientation = small(EXIF_TAG_ORIENTATION, 1);
    picture.orientation = orientation >= 1 && orientation <= 8 ? orientation : 1;
    if (picture.ppi_across <= 0) {
        const double scale = small(EXIF_TAG_RESOLUTION_UNIT, 2) == 3 ? 2.54 : 1.0;
        picture.ppi_across = ratio(EXIF_TAG_X_RESOLUTION) * scale;
        picture.ppi_down = ratio(EXIF_TAG_Y_RESOLUTION) * scale;
    }
    exif_data_unref(data);
}

/// Whether the application marker 14 stands in the file, by which CMYK is stored inverted.
bool has_inversion_marker(const jpeg_decompress_struct &info)
{
    for (const jpeg_marker_struct *marker = info.marker_list; marker != nullptr; marker = marker->next) {
        if (marker->marker == JPEG_APP0 + 14 && marker->data_length >= 12) {
            return true;
        }
    }
    return false;
}

} // namespace

Outcome<PictureFile> read_jpeg(std::span<const std::byte> bytes)
{
    Reader reader;
    reader.info.err = jpeg_std_error(&reader.errors);
    reader.info.client_data = &reader;
    reader.errors.error_exit = fail;
    reader.errors.emit_message = ignore;
    const bool good = read_header(reader, bytes);
    PictureFile file;
    Picture picture;
    std::string fault = reader.message;
    if (good) {
        const jpeg_decompress_struct &info = reader.info;
        picture.width = static_cast<int>(info.image_width);
        picture.height = static_cast<int>(info.image_height);
        switch (info.num_components) {
        case 1:
            picture.space = Picture::Space::Gray;
            break;
        case 3:
            picture.space = Picture::Space::Rgb;
            break;
        case 4:
            picture.space = Picture::Space::Cmyk;
            // Files with this marker hold the complement of the inks, others the inks
            // (common practice, no source).
            picture.inverted = has_inversion_marker(info);
            file.assumptions.push_back(
                picture.inverted
                    ? "The CMYK picture is stored inverted, as its marker says; it is read so."
                    : "The CMYK picture carries no marker of inversion; its numbers are read as ink.");
            break;
        default:
            fault = "unusual number of channels";
        }
        if (info.density_unit == 1 || info.density_unit == 2) {
            const double scale = info.density_unit == 2 ? 2.54 : 1.0;
            picture.ppi_across = info.X_density * scale;
            picture.ppi_down = info.Y_density * scale;
        }
        for (const jpeg_marker_struct *marker = info.marker_list; marker != nullptr; marker = marker->next) {
            if (marker->marker == JPEG_APP0 + 1 && marker->data_length > 6 &&
                std::memcmp(marker->data, "Exif", 5) == 0) {
                read_exif(*marker, picture);
            }
        }
        if (reader.has_profile) {
            const auto *first = reinterpret_cast<const std::byte *>(reader.profile);
            picture.icc.assign(first, first + reader.profile_size);
        }
    }
    std::free(reader.profile);
    jpeg_destroy_decompress(&reader.info);
    if (!fault.empty()) {
        return Error{ErrorCode::CannotRead,
                     "The JPEG file is damaged (" + fault + ").",
                     {},
                     "Ask the customer for a new copy."};
    }
    picture.is_jpeg = true;
    const auto *first = reinterpret_cast<const std::uint8_t *>(bytes.data());
    picture.samples.assign(first, first + bytes.size());
    file.pages.push_back(std::move(picture));
    return file;
}

} // namespace bichrom
