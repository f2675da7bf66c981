#include "core/standin/device_parts.h"

#include "core/base/atomic_file.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/report/pdf_pages.h"
#include "core/standin/cut_path.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

namespace fs = std::filesystem;

/// The paths as the knife goes, on white.
ReportPicture drawing_of(const CutPath &path, double width, double height)
{
    constexpr double longest = 1200; // pixels
    const double scale = longest / std::max(width, height);
    ReportPicture picture;
    picture.width = std::max(1, static_cast<int>(width * scale));
    picture.height = std::max(1, static_cast<int>(height * scale));
    picture.pixels.assign(static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.height),
                          0xFFFFFFFF);
    for (const std::vector<CutPoint> &piece : path.pieces) {
        for (std::size_t i = 1; i < piece.size(); ++i) {
            const double dx = (piece[i].x - piece[i - 1].x) * scale,
                         dy = (piece[i].y - piece[i - 1].y) * scale;
            const int steps = std::max(1, static_cast<int>(std::ceil(2 * std::hypot(dx, dy))));
            for (int step = 0; step <= steps; ++step) {
                const int x = static_cast<int>(piece[i - 1].x * scale + dx * step / steps);
                const int y = static_cast<int>(piece[i - 1].y * scale + dy * step / steps);
                if (x >= 0 && y >= 0 && x < picture.width && y < picture.height) {
                    picture.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width) +
                                   static_cast<std::size_t>(x)] = 0xFF1C1C1B;
                }
            }
        }
    }
    return picture;
}

std::string names_of(const std::vector<std::string> &inks)
{
    std::string text;
    for (const std::string &ink : inks) {
        text += (text.empty() ? "'" : ", '") + ink + "'";
    }
    return text.empty() ? "no ink at all" : text;
}

} // namespace

Outcome<DeviceEvent> cut_lines(DeviceFolder &device, const fs::path &file, const JobControl &control)
{
    const std::string ink = device.word("ink", "Cut");
    const auto artwork = Artwork::open(file, {}, control);
    if (!artwork) {
        return artwork.error().code == ErrorCode::Cancelled
                   ? Outcome<DeviceEvent>(artwork.error())
                   : device.refuse(file, artwork.error().reason + " " + artwork.error().remedy);
    }
    double length = 0;
    std::size_t pieces = 0, open = 0;
    std::vector<std::string> known;
    for (int number = 1; number <= (*artwork)->page_count(); ++number) {
        const auto page = (*artwork)->interpret(number, PageBox::Media, {}, control);
        if (!page) {
            return device.refuse(file, page.error().reason);
        }
        const auto scene = record_scene(**page, control);
        if (!scene) {
            return device.refuse(file, scene.error().reason);
        }
        const std::vector<std::string> inks = propose_job(*scene, {}, number).inks();
        for (const std::string &one : inks) {
            if (std::find(known.begin(), known.end(), one) == known.end()) {
                known.push_back(one);
            }
        }
        if (std::find(inks.begin(), inks.end(), ink) == inks.end()) {
            continue;
        }
        const auto line = PlateLine::make(*page, {ink}, control);
        if (!line) {
            return device.refuse(file, line.error().reason);
        }
        const auto vectors = (*line)->vector_page({}, control);
        if (!vectors) {
            return device.refuse(file, vectors.error().reason);
        }
        const CutPath path = cut_path(*vectors);
        if (path.raster) {
            return device.refuse(file, "Page " + std::to_string(number) + " holds pixels or a gradient in " +
                                           ink +
                                           "; a knife follows lines only. Draw the cut as a stroked line.");
        }
        length += path.length_mm();
        pieces += path.pieces.size();
        open += path.open;
        const auto png = png_bytes(drawing_of(path, vectors->width, vectors->height));
        if (!png) {
            return png.error();
        }
        if (const Done ready = prepare_folder(device.path() / "cut"); !ready) {
            return ready.error();
        }
        if (const Done done = write_file(device.path() / "cut" /
                                             (file.stem().string() + "-p" + std::to_string(number) + ".png"),
                                         *png);
            !done) {
            return done.error();
        }
    }
    if (pieces == 0) {
        return device.refuse(file, "There is no line in '" + ink + "', told to the letter; the file holds " +
                                       names_of(known) + ".");
    }
    return device.take(file, format_number(length, 1) + " mm in " + std::to_string(pieces) +
                                 (pieces == 1 ? " piece" : " pieces") +
                                 (open > 0 ? ", " + std::to_string(open) + " of them not closed." : "."));
}

} // namespace bichrom
