#include "core/output/tiff_writer.h"

#include <tiffio.h>

#include <cerrno>
#include <mutex>

namespace bichrom {

namespace {

constexpr int deflate = 8; ///< the registered number of zlib compression in TIFF

void silence_libtiff()
{
    static std::once_flag once;
    std::call_once(once, [] {
        TIFFSetErrorHandler(nullptr);
        TIFFSetWarningHandler(nullptr);
    });
}

} // namespace

struct TiffWriter::Impl
{
    AtomicFile file;
    Kind kind;
    TIFF *tiff = nullptr;

    Impl(std::filesystem::path path, Kind which) : file(std::move(path)), kind(which) {}
    ~Impl()
    {
        if (tiff != nullptr) {
            TIFFCleanup(tiff); // frees without writing the directory
        }
    }
};

TiffWriter::TiffWriter(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
TiffWriter::~TiffWriter() = default;
TiffWriter::TiffWriter(TiffWriter &&) noexcept = default;

Outcome<TiffWriter> TiffWriter::create(const std::filesystem::path &path, Kind kind, const TiffHead &head)
{
    silence_libtiff();
    auto impl = std::make_unique<Impl>(path, kind);
    errno = 0;
    const std::size_t samples = kind == Kind::Inks ? head.inks.size() : 1;
    const double bytes = double(head.width) * head.height * static_cast<double>(samples);
    const bool large = kind == Kind::Inks && bytes > 4.0e9; // not known before: compressed it may be small
    impl->tiff = TIFFOpen(impl->file.path().c_str(), large ? "w8" : "w");
    if (impl->tiff == nullptr) {
        return write_error(path, errno);
    }
    TIFF *t = impl->tiff;
    TIFFSetField(t, TIFFTAG_IMAGEWIDTH, static_cast<uint32_t>(head.width));
    TIFFSetField(t, TIFFTAG_IMAGELENGTH, static_cast<uint32_t>(head.height));
    TIFFSetField(t, TIFFTAG_BITSPERSAMPLE, kind == Kind::Film ? 1 : 8);
    TIFFSetField(t, TIFFTAG_SAMPLESPERPIXEL, static_cast<int>(samples));
    TIFFSetField(t, TIFFTAG_COMPRESSION, kind == Kind::Film ? COMPRESSION_CCITTFAX4 : deflate);
    TIFFSetField(t, TIFFTAG_PHOTOMETRIC, kind == Kind::Inks ? PHOTOMETRIC_SEPARATED : PHOTOMETRIC_MINISWHITE);
    TIFFSetField(t, TIFFTAG_FILLORDER, FILLORDER_MSB2LSB);
    TIFFSetField(t, TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
    TIFFSetField(t, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
    TIFFSetField(t, TIFFTAG_ROWSPERSTRIP, static_cast<uint32_t>(head.rows_per_strip));
    TIFFSetField(t, TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
    TIFFSetField(t, TIFFTAG_XRESOLUTION, head.resolution.value);
    TIFFSetField(t, TIFFTAG_YRESOLUTION, head.resolution.value);
    TIFFSetField(t, TIFFTAG_IMAGEDESCRIPTION, head.description.c_str());
    TIFFSetField(t, TIFFTAG_SOFTWARE, "Bichrom");
    if (kind != Kind::Film) {
        TIFFSetField(t, TIFFTAG_ZIPQUALITY, 3);
    }
    if (kind == Kind::Inks) {
        std::string names;
        for (const std::string &ink : head.inks) {
            names += ink + '\0';
        }
        TIFFSetField(t, TIFFTAG_INKSET, INKSET_MULTIINK);
        TIFFSetField(t, TIFFTAG_NUMBEROFINKS, static_cast<int>(samples));
        TIFFSetField(t, TIFFTAG_INKNAMES, static_cast<int>(names.size()), names.data());
    }
    return TiffWriter(std::move(impl));
}

Done TiffWriter::write_strip(int index, std::span<const std::uint8_t> bytes)
{
    errno = 0;
    auto *data = const_cast<std::uint8_t *>(bytes.data()); // libtiff takes no const; it does not write here
    const auto size = static_cast<tmsize_t>(bytes.size());
    const auto strip = static_cast<uint32_t>(index);
    const tmsize_t written = m_impl->kind == Kind::Film
                                 ? TIFFWriteRawStrip(m_impl->tiff, strip, data, size)
                                 : TIFFWriteEncodedStrip(m_impl->tiff, strip, data, size);
    if (written < 0) {
        return write_error(m_impl->file.target(), errno);
    }
    return {};
}

Done TiffWriter::finish()
{
    errno = 0;
    const bool good = TIFFFlush(m_impl->tiff) == 1;
    const int fault = errno;
    if (!good) {
        return write_error(m_impl->file.target(), fault);
    }
    TIFFClose(m_impl->tiff);
    m_impl->tiff = nullptr;
    return {};
}

AtomicFile &TiffWriter::file()
{
    return m_impl->file;
}

} // namespace bichrom
