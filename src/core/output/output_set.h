/// \file
/// Writes all plates or all films of a job, and the manifest that describes them.
/// Layer: core/output.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/base/page_list.h"
#include "core/fit/film_sheet.h"
#include "core/job/job_file.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace bichrom {

/// One file, or one page of the film PDF, as the manifest lists it.
struct WrittenPlate
{
    std::string ink;
    InkUse kind = InkUse::Spot;
    std::string file; ///< name in the output folder
    Dpi resolution;
    int width = 0; ///< pixels
    int height = 0;
    double coverage = 0; ///< mean tone over the art, 0 to 1
    Screen screen;
    int order = 1;             ///< printing order, from 1
    bool shares = false;       ///< its film is one of several on a larger one
    double x_mm = 0, y_mm = 0; ///< then: from that one's top left
    int sheet = 1;             ///< then: which of the larger ones, from 1, and page of a document
    bool turned = false;       ///< then: lies turned by 90° clockwise; width and height are as before
    Plane thumbnail; ///< films: share of black film in each square, 255 = all black; not in the manifest
};

/// What was written.
struct Manifest
{
    std::string source;
    int page = 1;
    Millimetres width; ///< of the art as it is written, one copy
    Millimetres height;
    double scale = 1;             ///< how large it is printed
    double across = 1, along = 1; ///< what it is stretched by besides
    int columns = 1, rows = 1;    ///< copies of it
    bool screened = false;        ///< films; plates have no ruling, angle and dot yet
    std::vector<WrittenPlate> plates;
    std::vector<std::string> blank;  ///< inks whose plates print nothing here, and were not written
    std::vector<std::string> damage; ///< of the artwork, accepted
    // What of earlier sets in the folder is no part of this one.
    std::vector<std::string>
        earlier; ///< files that are still there; in the file, so that they are not forgotten
    std::vector<std::string> moved; ///< files that were moved away
    std::string moved_to;           ///< the folder they went to
};

/// The text of manifest.json (DESIGN 7).
[[nodiscard]] std::string manifest_to_json(const Manifest &manifest);

/// What becomes of files of an earlier, larger set in the same folder.
enum class EarlierFiles
{
    Keep,    ///< they stay, and are named
    MoveAway ///< into a folder "earlier" beside the new ones
};

/// Several films on a larger one.
struct FilmsTogether
{
    double width = 0;    ///< mm of the larger film, or of a roll; 0 = each film by itself
    double height = 0;   ///< mm; 0 = of a roll, as long as needed
    double gap = 5;      ///< mm between films
    bool turned = false; ///< each film by 90° clockwise
};

/// Options of both writers that are not part of the job.
struct OutputRequest
{
    std::filesystem::path folder; ///< made when missing
    LabelText label;
    /// Of the plates to write, in any order; empty = all. Those that print nothing are left out.
    std::vector<std::string> inks;
    std::vector<std::string> without; ///< inks whose plates are not written
    bool blank_too = false;           ///< of those: also plates that print nothing
    int threads = 0;                  ///< 0 = as many as the machine has
    int band_rows = 0;                ///< 0 = chosen to fit the cache
    EarlierFiles earlier = EarlierFiles::Keep;
    FilmsTogether together{}; ///< of films
};

/// How plates become files.
enum class PlateFiles
{
    OneEach,  ///< a grey TIFF a plate
    OneForAll ///< one TIFF whose samples are the plates, with their inks' names (TIFF 6.0, section 16)
};

/// Writes the plates as 8-bit TIFF and manifest.json.
/// \param resolution, box  instead of the job's film settings
/// NothingToPrint, UnknownInk, Damaged, TooLarge, CannotRead, CannotWrite, DiskFull, Cancelled; then no file
/// is left, and what stood in the folder stands there as before. CannotWrite also when the folder holds a set
/// of another file or page, or of another kind, that is not to be moved away.
[[nodiscard]] Outcome<Manifest> write_plates(const OpenedJob &opened, Dpi resolution, PageBox box,
                                             const OutputRequest &request, const JobControl &control = {},
                                             PlateFiles files = PlateFiles::OneEach);

/// Writes the 1-bit films that the job's settings describe and manifest.json; their names tell job, page,
/// printing order and ink. Errors as write_plates().
[[nodiscard]] Outcome<Manifest> write_films(const OpenedJob &opened, const OutputRequest &request,
                                            const JobControl &control = {});

/// Writes one page of a job into a folder: write_films(), or write_plates() with its settings.
using PageWriter =
    std::function<Outcome<Manifest>(const OpenedJob &, const OutputRequest &, const JobControl &)>;

/// write_plates() at 300 dpi of the media box, as plates are looked at or proofed elsewhere.
[[nodiscard]] PageWriter plate_writer();

/// Writes several pages of a job, each a set of its own: one page into the request's folder, several into
/// folders "page-1", "page-2" … in it.
/// \param pages  ascending, not empty
/// \param accept_damage  why damage of the pages is accepted; empty = only what the job accepts
/// \return a manifest a page. A page on which no plate prints is left out when others are written. Errors as
/// of
///         \p write, of the first page that fails: pages before it stay written.
[[nodiscard]] Outcome<std::vector<Manifest>>
write_pages(const OpenedJob &opened, const PageList &pages, const OutputRequest &request,
            const std::string &accept_damage, const PageWriter &write, const JobControl &control = {});

} // namespace bichrom
