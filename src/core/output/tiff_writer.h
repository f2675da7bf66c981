/// \file
/// TIFF 6.0 files of films and plates.
/// Layer: core/output. libtiff stays inside.
#pragma once

#include "core/base/atomic_file.h"
#include "core/base/outcome.h"
#include "core/base/units.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// What a TIFF says about itself.
struct TiffHead
{
    int width = 0;
    int height = 0;
    int rows_per_strip = 0;
    Dpi resolution;
    std::string description;         ///< ImageDescription, e.g. the ink
    std::vector<std::string> inks{}; ///< of a file of several
};

/// Writes a TIFF strip by strip, top down; the file appears when finish() succeeds.
/// PhotometricInterpretation is MinIsWhite, or Separated where each sample is an ink: 0 = bare, the highest
/// value = solid ink.
class TiffWriter
{
public:
    enum class Kind
    {
        Film,  ///< 1 bit, Group 4; strips come encoded
        Plate, ///< 8 bits, Deflate
        Inks   ///< 8 bits a sample, a sample for each ink (Separated, 0 = bare), Deflate
    };
    /// A file that may become larger than TIFF's 4 GB is a BigTIFF. CannotWrite, DiskFull.
    [[nodiscard]] static Outcome<TiffWriter> create(const std::filesystem::path &path, Kind kind,
                                                    const TiffHead &head);
    ~TiffWriter();
    TiffWriter(TiffWriter &&) noexcept;
    TiffWriter &operator=(TiffWriter &&) = delete;

    /// Film: an encoded strip. Others: the strip's rows without padding.
    [[nodiscard]] Done write_strip(int index, std::span<const std::uint8_t> bytes);
    /// Completes the file under a hidden name; commit_together() then renames it into place.
    [[nodiscard]] Done finish();
    [[nodiscard]] AtomicFile &file();

private:
    struct Impl;
    explicit TiffWriter(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
