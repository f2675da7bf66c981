/// \file
/// A customer's file, opened to be looked at and never changed.
/// Layer: core/artwork. May use core/base.
#pragma once

#include "core/artwork/damage.h"
#include "core/artwork/intake/input_kind.h"
#include "core/artwork/layer.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/colour/colour_settings.h"

#include <array>
#include <cstddef>
#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

class MupdfRuntime;
class PageContent;
struct PageToPlace;
struct Placements;
struct SourceFile;

/// The five page boxes of ISO 32000-1, 14.11.2.
enum class PageBox
{
    Media,
    Crop,
    Bleed,
    Trim,
    Art
};

inline constexpr std::array<PageBox, 5> all_page_boxes = {PageBox::Media, PageBox::Crop, PageBox::Bleed,
                                                          PageBox::Trim, PageBox::Art};

/// "media", "crop", "bleed", "trim", "art".
[[nodiscard]] const char *to_string(PageBox box);
[[nodiscard]] Outcome<PageBox> parse_page_box(std::string_view name);

/// A note, stamp or form field that prints with the page.
struct PrintingAnnotation
{
    std::string kind; ///< its subtype in words: "form field", "stamp", "highlight" …
    Rect area;        ///< mm, PDF axes like the boxes
};

/// What the page dictionary says, before anything is painted.
struct PageInfo
{
    int number = 1;                ///< from 1
    std::array<Rect, 5> boxes;     ///< mm with UserUnit applied, PDF axes (y up), by PageBox
    int rotate = 0;                ///< clockwise quarter turns in degrees: 0, 90, 180, 270
    std::array<bool, 5> written{}; ///< which boxes the file itself gives, inherited or not
    std::array<Rect, 5> raw;       ///< as written, not cut to the media box; mm; only where written
    /// The media box before bleed was made around the trim, which the media, crop and bleed box hold then.
    Rect own_media;
    std::vector<PrintingAnnotation> annotations; ///< that print with the page

    [[nodiscard]] const Rect &box(PageBox which) const { return boxes[static_cast<std::size_t>(which)]; }
};

/// How an input that leaves something open is read.
struct ReadingOptions
{
    std::string password{};         ///< tried when the file is encrypted
    double assumed_ppi = 300;       ///< of pictures that do not say their resolution
    std::filesystem::path folder{}; ///< where an SVG may find its pictures; open() fills it in
    int patience = 1; ///< how many times the usual work (not time on the clock) reading may take, 1 to 100
    bool untrusted = false; ///< a PDF is first tried out in a process of its own; open() sets it
};

/// An opened document. Immutable; every function may be called from any thread.
class Artwork
{
public:
    /// Reads PDF, PostScript, EPS, SVG, PNG, JPEG and TIFF, told by their contents.
    /// \return FileMissing, CannotRead, WrongFormat, PasswordNeeded, TooLarge, Cancelled
    [[nodiscard]] static Outcome<std::shared_ptr<const Artwork>> open(const std::filesystem::path &path,
                                                                      const ReadingOptions &options = {},
                                                                      const JobControl &control = {});

    /// The same from bytes in memory; \p name is used in messages.
    [[nodiscard]] static Outcome<std::shared_ptr<const Artwork>>
    open_bytes(std::vector<std::byte> bytes, const std::string &name, const ReadingOptions &options = {},
               const JobControl &control = {});

    ~Artwork();
    Artwork(const Artwork &) = delete;
    Artwork &operator=(const Artwork &) = delete;

    [[nodiscard]] const std::string &name() const;          ///< file name or path as opened
    [[nodiscard]] std::span<const std::byte> bytes() const; ///< the original, untouched
    /// SHA-256 of the original, 64 hex digits; worked out when it is first asked for, which takes long for
    /// large ones.
    [[nodiscard]] const std::string &sha256() const;
    [[nodiscard]] InputKind kind() const;
    [[nodiscard]] const Placements &placements() const; ///< what assemble() laid over and under it
    [[nodiscard]] int page_count() const;
    [[nodiscard]] const std::vector<Layer> &layers() const;
    [[nodiscard]] const std::vector<std::string> &warnings() const; ///< from opening
    /// What of the file as a whole could not be read; each page's own damage holds it too.
    [[nodiscard]] const std::vector<Damage> &damage() const;
    /// How doubtful things were read, a sentence each.
    [[nodiscard]] const std::vector<std::string> &assumptions() const;
    /// The printing condition that the file itself names; empty when none.
    [[nodiscard]] const std::string &output_intent() const;

    /// Whether the file holds the profile of the printing condition it names.
    [[nodiscard]] bool output_intent_has_profile() const;

    /// \return NoSuchPage for a number outside 1 … page_count(); CannotRead
    [[nodiscard]] Outcome<PageInfo> page_info(int number) const;

    /// Interprets a page as it prints (layers and annotations with print usage),
    /// clipped to \p box, its colours read by \p settings. What cannot be read is left out and told by the
    /// page's damage(). NoSuchPage, CannotRead (also a page without any area), TooLarge (also when it takes
    /// more than a minute of work), WrongFormat for an unusable profile in the settings, Cancelled.
    [[nodiscard]] Outcome<std::shared_ptr<const PageContent>> interpret(int number, PageBox box,
                                                                        const ColourSettings &settings = {},
                                                                        const JobControl &control = {}) const;

private:
    struct Impl;
    [[nodiscard]] Outcome<PageInfo> own_page_info(int number) const;
    explicit Artwork(std::shared_ptr<Impl> impl);
    static Outcome<std::shared_ptr<const Artwork>> load(std::shared_ptr<const SourceFile> source,
                                                        const Placements &placements,
                                                        const std::vector<PageToPlace> &pages);
    friend Outcome<std::shared_ptr<const Artwork>> assemble(const std::shared_ptr<const Artwork> &first,
                                                            const Placements &placements);
    std::shared_ptr<Impl> m_impl; ///< shared with the pages interpreted from it
};

/// A page ready to be painted many times. Immutable, shareable between threads.
/// Page space: points, origin at the box's top left after rotation, y down.
class PageContent
{
public:
    ~PageContent();
    PageContent(const PageContent &) = delete;
    PageContent &operator=(const PageContent &) = delete;

    [[nodiscard]] Points width() const;
    [[nodiscard]] Points height() const;
    [[nodiscard]] const std::string &place() const; ///< "file, page 1", for messages
    /// Damage in words, and harmless notes of the interpreter.
    [[nodiscard]] std::vector<std::string> warnings() const;
    /// What could not be read or painted whole, as far as is known: what interpretation noted, what is wrong
    /// with pictures once the page has been routed to plates, what failed to paint once it was painted.
    [[nodiscard]] std::vector<Damage> damage() const;

    struct Impl;
    explicit PageContent(std::unique_ptr<Impl> impl);
    [[nodiscard]] const Impl &impl() const { return *m_impl; }

private:
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
