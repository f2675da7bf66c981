#include "core/artwork/mupdf/jpeg_check.h"

#include <algorithm>
#include <csetjmp>
#include <cstdint>
#include <cstdio>

#include <jpeglib.h>

#include <jerror.h>

namespace bichrom {

namespace {

struct JpegErrors
{
    jpeg_error_mgr base;
    std::jmp_buf back;
    char text[JMSG_LENGTH_MAX];
};

void jpeg_failed(j_common_ptr info)
{
    auto *errors = reinterpret_cast<JpegErrors *>(info->err);
    info->err->format_message(info, errors->text);
    std::longjmp(errors->back, 1);
}

void jpeg_complains(j_common_ptr info, int level)
{
    if (level < 0) {
        auto *errors = reinterpret_cast<JpegErrors *>(info->err);
        if (info->err->num_warnings++ == 0) {
            info->err->format_message(info, errors->text);
        }
    }
}

/// Blocks of 8 × 8 samples looked at, and those that no picture of eight bits becomes.
struct Blocks
{
    std::int64_t seen = 0, impossible = 0;
};

/// The mean of a block in sample values, 0 in the middle (ITU-T T.81, A.3.3: the first coefficient is eight
/// times the mean).
double mean_of(const JCOEF *block, int step)
{
    return block[0] * step / 8.0;
}

bool is_flat(const JCOEF *block)
{
    return std::all_of(block + 1, block + DCTSIZE2, [](JCOEF one) { return one == 0; });
}

int step_of(const jpeg_component_info &component)
{
    return component.quant_table == nullptr ? 1 : component.quant_table->quantval[0];
}

/// \p count rows of blocks from \p row on, lent until the next of the same component.
JBLOCKARRAY block_rows(jpeg_decompress_struct &info, jvirt_barray_ptr blocks, JDIMENSION row,
                       JDIMENSION count = 1)
{
    return (*info.mem->access_virt_barray)(reinterpret_cast<j_common_ptr>(&info), blocks, row, count, FALSE);
}

/// Each component by itself. A flat block's samples are its mean; where a block is not flat some encoders
/// overshoot on purpose, so that edges ring less, by up to 31.
void look_at_means(jpeg_decompress_struct &info, jvirt_barray_ptr *blocks, Blocks &found)
{
    constexpr double darkest = -128, lightest = 127, overshoot = 32, rounding = 2;
    for (int i = 0; i < info.num_components; ++i) {
        const jpeg_component_info &component = info.comp_info[i];
        const int step = step_of(component);
        const double slack = step / 8.0 + rounding;
        for (JDIMENSION y = 0; y < component.height_in_blocks; ++y) {
            const JBLOCKROW row = block_rows(info, blocks[i], y)[0];
            for (JDIMENSION x = 0; x < component.width_in_blocks; ++x) {
                const double mean = mean_of(row[x], step);
                const double beyond = std::max(darkest - mean, mean - lightest);
                ++found.seen;
                found.impossible += beyond > slack && (beyond > slack + overshoot || is_flat(row[x])) ? 1 : 0;
            }
        }
    }
}

/// Luminance and colour together: where all blocks of luminance under one of colour are flat and alike, what
/// lies under it is one colour in the mean, and that is within red, green and blue.
void look_at_colours(jpeg_decompress_struct &info, jvirt_barray_ptr *blocks, Blocks &found)
{
    if (info.jpeg_color_space != JCS_YCbCr || info.num_components != 3) {
        return;
    }
    const jpeg_component_info &light = info.comp_info[0], &blue = info.comp_info[1], &red = info.comp_info[2];
    if (blue.h_samp_factor != red.h_samp_factor || blue.v_samp_factor != red.v_samp_factor ||
        light.h_samp_factor % blue.h_samp_factor != 0 || light.v_samp_factor % blue.v_samp_factor != 0) {
        return;
    }
    const auto across = static_cast<JDIMENSION>(light.h_samp_factor / blue.h_samp_factor);
    const auto down = static_cast<JDIMENSION>(light.v_samp_factor / blue.v_samp_factor);
    const int step = step_of(light), blue_step = step_of(blue), red_step = step_of(red);
    constexpr double rounding = 4, alike = 2;
    const double slack = (step + 1.772 * std::max(blue_step, red_step)) / 16.0 + rounding;
    for (JDIMENSION y = 0; y + 1 < blue.height_in_blocks; ++y) {
        const JBLOCKARRAY lights = block_rows(info, blocks[0], y * down, down);
        const JBLOCKROW blues = block_rows(info, blocks[1], y)[0], reds = block_rows(info, blocks[2], y)[0];
        for (JDIMENSION x = 0; x + 1 < blue.width_in_blocks; ++x) {
            const double b = mean_of(blues[x], blue_step);
            const double r = mean_of(reds[x], red_step);
            // ITU-T T.871, 7: red is light + 1.402 r, blue light + 1.772 b.
            const double green = -0.344136 * b - 0.714136 * r;
            const double most = std::max({1.402 * r, 1.772 * b, green});
            const double least = std::min({1.402 * r, 1.772 * b, green});
            if (most <= slack && least >= -slack) {
                continue; // nearly grey: any light will do
            }
            double low = 1e9, high = -1e9;
            bool flat = true;
            for (JDIMENSION j = 0; j < down && flat; ++j) {
                for (JDIMENSION i = 0; i < across && flat; ++i) {
                    const JCOEF *block = lights[j][x * across + i];
                    flat = is_flat(block);
                    low = std::min(low, mean_of(block, step));
                    high = std::max(high, mean_of(block, step));
                }
            }
            if (flat && high - low <= alike + step / 8.0) {
                found.impossible += high + least < -128 - slack || low + most > 127 + slack ? 1 : 0;
            }
        }
    }
}

/// Reads all blocks and looks at them, which holds them in memory.
void read_blocks(jpeg_decompress_struct &info, Blocks &found)
{
    jvirt_barray_ptr *blocks = jpeg_read_coefficients(&info);
    if (info.data_precision == 8) {
        look_at_means(info, blocks, found);
        look_at_colours(info, blocks, found);
    }
}

/// Reads all of the data a row at a time, at an eighth of the size.
void read_small(jpeg_decompress_struct &info)
{
    info.scale_num = 1;
    info.scale_denom = 8;
    info.dct_method = JDCT_IFAST;
    info.do_fancy_upsampling = FALSE;
    jpeg_start_decompress(&info);
    JSAMPARRAY rows =
        (*info.mem->alloc_sarray)(reinterpret_cast<j_common_ptr>(&info), JPOOL_IMAGE,
                                  info.output_width * static_cast<JDIMENSION>(info.output_components), 1);
    while (info.output_scanline < info.output_height) {
        jpeg_read_scanlines(&info, rows, 1);
    }
}

/// Whether \p bytes of data can be a picture so large: a block takes one bit at least (ITU-T T.81, C: no code
/// is shorter). Small ones are not asked: what of them is there may be shown.
bool could_hold(const jpeg_decompress_struct &info, std::size_t bytes)
{
    constexpr std::uint64_t small = 1u << 20; // blocks
    const std::uint64_t blocks = ((std::uint64_t(info.image_width) + DCTSIZE - 1) / DCTSIZE) *
                                 ((std::uint64_t(info.image_height) + DCTSIZE - 1) / DCTSIZE);
    return blocks <= small || blocks <= std::uint64_t(bytes) * 8;
}

/// Reads all of the data within some memory, whatever the header of a hostile file says.
void read_all(jpeg_decompress_struct &info, Blocks &found)
{
    constexpr std::uint64_t most_held = std::uint64_t(512) << 20; // 89 million pixels of three colours
    constexpr std::uint64_t most_in_scans = std::uint64_t(2) << 30;
    const std::uint64_t bytes = std::uint64_t(info.image_width) * info.image_height *
                                static_cast<std::uint64_t>(info.num_components) * sizeof(JCOEF);
    if (bytes <= most_held) {
        read_blocks(info, found);
    } else if (bytes <= most_in_scans || jpeg_has_multiple_scans(&info) == 0) {
        read_small(info);
    } else { // of several scans libjpeg holds all blocks
        ERREXIT1(&info, JERR_OUT_OF_MEMORY, 0);
    }
}

} // namespace

bool jpeg_is_whole(std::span<const unsigned char> data, char (&fault)[most_jpeg_text], JpegSize &size)
{
    jpeg_decompress_struct info{};
    JpegErrors errors{};
    Blocks blocks;
    info.err = jpeg_std_error(&errors.base);
    errors.base.error_exit = jpeg_failed;
    errors.base.emit_message = jpeg_complains;
    bool whole = true;
    if (setjmp(errors.back) == 0) { // NOLINT: how libjpeg reports errors
        jpeg_create_decompress(&info);
        jpeg_mem_src(&info, data.data(), static_cast<unsigned long>(data.size()));
        jpeg_read_header(&info, TRUE);
        size.width = info.image_width;
        size.height = info.image_height;
        size.possible = could_hold(info, data.size());
        if (!size.possible) {
            ERREXIT(&info, JERR_INPUT_EOF);
        }
        read_all(info, blocks);
        jpeg_finish_decompress(&info);
    } else {
        whole = false;
    }
    whole = whole && errors.base.num_warnings == 0;
    jpeg_destroy_decompress(&info);
    std::snprintf(fault, sizeof fault, "%s", errors.text);
    constexpr std::int64_t few = 8; // an odd encoder may have rounded so
    if (whole && blocks.impossible > few) {
        std::snprintf(fault, sizeof fault,
                      "%lld of %lld blocks are lighter, darker or more colourful than a picture can be",
                      static_cast<long long>(blocks.impossible), static_cast<long long>(blocks.seen));
        return false;
    }
    return whole;
}

} // namespace bichrom
