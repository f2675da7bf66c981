/// \file
/// Small PDFs made in tests, a page each, with what the test needs written out.
#pragma once

#include "core/artwork/artwork.h"
#include "core/job/job_file.h"
#include "core/line/plate_line.h"

#include <QtTest>

#include <string>
#include <vector>

namespace bichrom::test {

/// A one-page PDF put together from text.
struct MiniPdf
{
    double width = 72; ///< points
    double height = 72;
    std::string contents;                ///< content stream
    std::string resources;               ///< entries of the resource dictionary, without << >>
    std::string page_extra;              ///< more entries of the page dictionary
    std::string catalog_extra;           ///< more entries of the catalog
    std::vector<std::string> objects;    ///< further objects, numbered from 10
    std::vector<std::string> more_pages; ///< content streams of further pages, otherwise alike

    [[nodiscard]] std::vector<std::byte> bytes() const;
    [[nodiscard]] std::shared_ptr<const Artwork> artwork() const;
    [[nodiscard]] std::shared_ptr<const PageContent> content(PageBox box = PageBox::Media) const;
    [[nodiscard]] Scene scene() const;
    /// All inks found, each on its plate, at \p dpi.
    [[nodiscard]] PlateTile plates(double dpi = 72, Edges edges = Edges::Smooth) const;
    [[nodiscard]] OpenedJob job() const;
    void save(const QString &path) const;
};

/// "/CSx [/Separation /Name /DeviceCMYK …]" for the ColorSpace dictionary.
[[nodiscard]] std::string separation(const std::string &key, const std::string &name,
                                     const std::string &cmyk = "0 1 0 0");

/// A page whose colour spaces are the spots /A "Alpha", /B "Beta" and /N DeviceN of both, and
/// whose graphics states are /OP (overprint), /OPM1 (with OPM 1), /Half (alpha 0.5),
/// /Mul (Multiply), /Luna (Luminosity).
[[nodiscard]] MiniPdf spots_page(std::string contents, std::string more_resources = {});

/// An encrypted copy of \p bytes with a user password.
[[nodiscard]] std::vector<std::byte> encrypted(const std::vector<std::byte> &bytes,
                                               const std::string &password);

void save_bytes(const std::vector<std::byte> &bytes, const QString &path);

/// The plane of \p ink; fails the test when there is none.
[[nodiscard]] const Plane &plane(const PlateTile &tile, const Scene &scene, const std::string &ink);

/// The value of an outcome, or a failure with its message.
template <typename T> T take(Outcome<T> outcome)
{
    if (!outcome) {
        qFatal("%s", outcome.error().message().c_str());
    }
    return std::move(*outcome);
}

/// The demo artwork.
[[nodiscard]] QString demo_file();

} // namespace bichrom::test
