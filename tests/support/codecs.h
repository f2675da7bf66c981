/// \file
/// One picture in every coding a PDF may hold it in, made by the libraries that own the codings.
#pragma once

#include <string>
#include <vector>

namespace bichrom::test {

/// A picture as a PDF image object.
struct CodedPicture
{
    const char *name = ""; ///< of the coding
    std::string entries;   ///< of its dictionary: size, space, filter
    std::string data;

    [[nodiscard]] std::string object() const
    {
        return "<< /Type /XObject /Subtype /Image " + entries + " /Length " + std::to_string(data.size()) +
               " >>\nstream\n" + data + "\nendstream";
    }
};

/// 128 × 128 pixels with plenty of detail, in raw, ASCIIHex, ASCII85, RunLength, LZW, Flate, Flate with
/// predictor, DCT, progressive DCT, CCITT, JBIG2 and JPX.
[[nodiscard]] std::vector<CodedPicture> every_coding();

} // namespace bichrom::test
