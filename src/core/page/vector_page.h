/// \file
/// A page's plates as shapes, pictures and text outlines: everything a PDF of them needs, as plain values.
/// Layer: core/page. May use core/base.
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace bichrom {

/// A picture. Rows top down without padding, pixels interleaved; or the customer's own JPEG.
struct VectorImage
{
    int width = 0, height = 0;
    int space = -1;     ///< into the page's spaces; −1 = grey, 0 black
    int components = 1; ///< bytes of a pixel
    std::vector<std::uint8_t> data;
    int soft_mask = -1; ///< a grey image; −1 = none
    bool interpolate = false;
    bool is_jpeg = false;         ///< data is one
    int jpeg_transform = -1;      ///< what its colour transform is said to be; −1 = nothing is said
    std::vector<double> decode{}; ///< from and to for each component; empty = 0 to 1
};

/// What a font program is.
enum class FontProgram
{
    TrueType, ///< codes are glyphs
    Cff,      ///< bare; codes are glyphs, or CIDs where it has such
    Type1     ///< codes 1 to 255, each with the name of its glyph
};

/// A glyph that is used.
struct VectorGlyph
{
    int code = 0;
    double width = 0;      ///< thousandths of an em
    std::string name{};    ///< of Type 1
    std::u32string text{}; ///< what it stands for, where that is known
};

/// A font, with the glyphs that the page uses.
struct VectorFont
{
    FontProgram program = FontProgram::TrueType;
    std::string name;
    std::string data;
    bool fixed_width = false, serif = false, italic = false;
    std::array<double, 4> box{}; ///< left, bottom, right, top, thousandths of an em
    double ascent = 0, descent = 0;
    std::map<int, VectorGlyph> glyphs; ///< by number in the program
};

/// A piece of content that is drawn as a whole.
struct VectorForm
{
    std::string content;
    std::array<double, 4> box{}; ///< left, top, right, bottom in the page's points, y down
    bool group = false;          ///< of transparency
    bool isolated = false, knockout = false;
    bool grey = false; ///< blends in grey, as masks do
};

/// A linear or radial shading.
struct VectorShading
{
    bool radial = false;
    std::vector<double> coords; ///< 4 or 6, as ISO 32000 orders them, in shading space
    std::array<bool, 2> extend{};
    int space = 0;
    std::vector<std::uint8_t> samples; ///< 256 colours from start to end, interleaved
};

/// What a graphics state sets.
struct VectorState
{
    std::string entries; ///< of its dictionary, as PDF text
    int mask_form = -1;  ///< a soft mask
    bool luminosity = true;
    double backdrop = 0; ///< grey, of the mask
};

/// Resources are shared by the page and all forms: /I, /F, /S, /G, /T and /C with their number name images,
/// forms, shadings, states, fonts and colour spaces.
struct VectorPage
{
    double width = 0, height = 0;         ///< points
    std::string content;                  ///< PDF operators; origin at the top left, y down
    std::vector<std::vector<int>> spaces; ///< numbers of plates; one = Separation, more = DeviceN
    std::vector<VectorImage> images;
    std::vector<VectorForm> forms;
    std::vector<VectorShading> shadings;
    std::vector<VectorState> states;
    std::vector<VectorFont> fonts;
    bool transparent = false; ///< blends anywhere
};

} // namespace bichrom
