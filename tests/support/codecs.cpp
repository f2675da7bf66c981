#include "support/codecs.h"

#include "core/output/g4.h"
#include "core/raster/bitmap_ops.h"

#include <openjpeg.h>
#include <zlib.h>

#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>

#include <jpeglib.h>

namespace bichrom::test {

namespace {

constexpr int side = 128;

/// Grey pixels: waves with noise, so that no coding can leave much out.
std::vector<std::uint8_t> pixels()
{
    std::vector<std::uint8_t> out;
    std::uint32_t seed = 12345;
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            seed = seed * 1664525u + 1013904223u;
            out.push_back(static_cast<std::uint8_t>((x * 3 + y * 2 + static_cast<int>(seed >> 27)) & 255));
        }
    }
    return out;
}

std::string grey(const std::string &filter)
{
    return "/Width 128 /Height 128 /BitsPerComponent 8 /ColorSpace /DeviceGray " + filter;
}

std::string text_of(const std::vector<std::uint8_t> &bytes)
{
    return {bytes.begin(), bytes.end()};
}

std::string deflated(const std::vector<std::uint8_t> &bytes)
{
    uLongf size = compressBound(bytes.size());
    std::string out(size, '\0');
    compress2(reinterpret_cast<Bytef *>(out.data()), &size, bytes.data(), bytes.size(), 9);
    out.resize(size);
    return out;
}

std::string ascii_hex(const std::vector<std::uint8_t> &bytes)
{
    std::string out;
    for (const std::uint8_t byte : bytes) {
        char two[3];
        std::snprintf(two, sizeof two, "%02X", byte);
        out += two;
    }
    return out + ">";
}

std::string ascii_85(const std::vector<std::uint8_t> &bytes)
{
    std::string out;
    for (std::size_t i = 0; i + 4 <= bytes.size(); i += 4) { // the size is a multiple of four
        std::uint32_t word = 0;
        for (std::size_t k = 0; k < 4; ++k) {
            word = word << 8 | bytes[i + k];
        }
        char five[5];
        for (int k = 4; k >= 0; --k) {
            five[k] = static_cast<char>('!' + word % 85);
            word /= 85;
        }
        out.append(five, 5);
    }
    return out + "~>";
}

std::string run_length(const std::vector<std::uint8_t> &bytes)
{
    std::string out;
    for (std::size_t i = 0; i < bytes.size(); i += 128) {
        out += static_cast<char>(127);
        out.append(bytes.begin() + static_cast<std::ptrdiff_t>(i),
                   bytes.begin() + static_cast<std::ptrdiff_t>(i + 128));
    }
    return out + static_cast<char>(128);
}

/// LZW without any dictionary: a clear code often enough that all codes have 9 bits (ISO 32000-1, 7.4.4).
std::string lzw(const std::vector<std::uint8_t> &bytes)
{
    std::string out;
    std::uint32_t bits = 0;
    int count = 0;
    const auto put = [&](std::uint32_t code) {
        bits = bits << 9 | code;
        count += 9;
        while (count >= 8) {
            out += static_cast<char>(bits >> (count - 8) & 255);
            count -= 8;
        }
    };
    for (std::size_t i = 0; i < bytes.size(); ++i) {
        if (i % 200 == 0) {
            put(256);
        }
        put(bytes[i]);
    }
    put(257);
    if (count > 0) {
        out += static_cast<char>(bits << (8 - count) & 255);
    }
    return out;
}

std::string jpeg(const std::vector<std::uint8_t> &bytes, bool progressive)
{
    jpeg_compress_struct info{};
    jpeg_error_mgr errors{};
    info.err = jpeg_std_error(&errors);
    jpeg_create_compress(&info);
    unsigned char *data = nullptr;
    unsigned long size = 0;
    jpeg_mem_dest(&info, &data, &size);
    info.image_width = info.image_height = side;
    info.input_components = 1;
    info.in_color_space = JCS_GRAYSCALE;
    jpeg_set_defaults(&info);
    jpeg_set_quality(&info, 90, TRUE);
    if (progressive) {
        jpeg_simple_progression(&info);
    }
    jpeg_start_compress(&info, TRUE);
    for (int y = 0; y < side; ++y) {
        auto *row = const_cast<JSAMPROW>(bytes.data() + y * side);
        jpeg_write_scanlines(&info, &row, 1);
    }
    jpeg_finish_compress(&info);
    std::string out(reinterpret_cast<char *>(data), size);
    std::free(data);
    jpeg_destroy_compress(&info);
    return out;
}

std::vector<std::uint8_t> fax()
{
    Bitmap bitmap(side, side);
    const std::vector<std::uint8_t> tones = pixels();
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            if (tones[static_cast<std::size_t>(y * side + x)] > 127) {
                bitmap.row(y)[x / 8] = static_cast<std::uint8_t>(bitmap.row(y)[x / 8] | 128 >> x % 8);
            }
        }
    }
    return encode_g4_strip(bitmap);
}

/// A page with one generic region in MMR coding (ISO/IEC 14492, 7.2, 7.4.6 and 7.4.8).
std::string jbig2(const std::vector<std::uint8_t> &mmr)
{
    std::string out;
    const auto word = [&](std::uint32_t value) {
        for (int shift = 24; shift >= 0; shift -= 8) {
            out += static_cast<char>(value >> shift & 255);
        }
    };
    const auto header = [&](std::uint32_t number, int type, std::size_t length) {
        word(number);
        out += static_cast<char>(type);
        out += '\0'; // refers to no other segment
        out += '\1'; // page
        word(static_cast<std::uint32_t>(length));
    };
    header(0, 48, 19);
    word(side);
    word(side);
    word(0);
    word(0);
    out.append(3, '\0');
    header(1, 38, 18 + mmr.size());
    word(side);
    word(side);
    word(0);
    word(0);
    out += '\0'; // OR
    out += '\1'; // MMR
    out.append(mmr.begin(), mmr.end());
    return out;
}

OPJ_SIZE_T append_to(void *buffer, OPJ_SIZE_T count, void *user)
{
    static_cast<std::string *>(user)->append(static_cast<const char *>(buffer), count);
    return count;
}

OPJ_OFF_T skip_in(OPJ_OFF_T count, void *user)
{
    static_cast<std::string *>(user)->append(static_cast<std::size_t>(count), '\0');
    return count;
}

OPJ_BOOL seek_in(OPJ_OFF_T, void *)
{
    return OPJ_FALSE;
}

std::string jpeg_2000(const std::vector<std::uint8_t> &bytes)
{
    opj_cparameters_t parameters;
    opj_set_default_encoder_parameters(&parameters);
    parameters.tcp_numlayers = 1;
    parameters.cp_disto_alloc = 1;
    opj_image_cmptparm_t component{};
    component.w = component.h = side;
    component.dx = component.dy = 1;
    component.prec = 8;
    opj_image_t *image = opj_image_create(1, &component, OPJ_CLRSPC_GRAY);
    image->x1 = image->y1 = side;
    for (std::size_t i = 0; i < bytes.size(); ++i) {
        image->comps[0].data[i] = bytes[i];
    }
    std::string out;
    opj_codec_t *codec = opj_create_compress(OPJ_CODEC_J2K);
    opj_setup_encoder(codec, &parameters, image);
    opj_stream_t *stream = opj_stream_create(1 << 20, OPJ_FALSE);
    opj_stream_set_user_data(stream, &out, nullptr);
    opj_stream_set_write_function(stream, append_to);
    opj_stream_set_skip_function(stream, skip_in);
    opj_stream_set_seek_function(stream, seek_in);
    opj_start_compress(codec, image, stream);
    opj_encode(codec, stream);
    opj_end_compress(codec, stream);
    opj_stream_destroy(stream);
    opj_destroy_codec(codec);
    opj_image_destroy(image);
    return out;
}

} // namespace

std::vector<CodedPicture> every_coding()
{
    const std::vector<std::uint8_t> raw = pixels();
    std::vector<std::uint8_t> predicted; // PNG's predictor Sub on every row
    for (int y = 0; y < side; ++y) {
        predicted.push_back(1);
        for (int x = 0; x < side; ++x) {
            const auto at = static_cast<std::size_t>(y * side + x);
            predicted.push_back(static_cast<std::uint8_t>(raw[at] - (x > 0 ? raw[at - 1] : 0)));
        }
    }
    const std::vector<std::uint8_t> coded = fax();
    const std::string bilevel = "/Width 128 /Height 128 /BitsPerComponent 1 /ColorSpace /DeviceGray ";
    return {
        {"raw", grey(""), text_of(raw)},
        {"ASCIIHex", grey("/Filter /ASCIIHexDecode"), ascii_hex(raw)},
        {"ASCII85", grey("/Filter /ASCII85Decode"), ascii_85(raw)},
        {"RunLength", grey("/Filter /RunLengthDecode"), run_length(raw)},
        {"LZW", grey("/Filter /LZWDecode"), lzw(raw)},
        {"Flate", grey("/Filter /FlateDecode"), deflated(raw)},
        {"Flate with predictor",
         grey("/Filter /FlateDecode /DecodeParms << /Predictor 15 /Columns 128 /Colors 1 >>"),
         deflated(predicted)},
        {"DCT", grey("/Filter /DCTDecode"), jpeg(raw, false)},
        {"progressive DCT", grey("/Filter /DCTDecode"), jpeg(raw, true)},
        {"CCITT", bilevel + "/Filter /CCITTFaxDecode /DecodeParms << /K -1 /Columns 128 /Rows 128 >>",
         text_of(coded)},
        {"JBIG2", bilevel + "/Filter /JBIG2Decode", jbig2(coded)},
        {"JPX", grey("/Filter /JPXDecode"), jpeg_2000(raw)},
    };
}

} // namespace bichrom::test
