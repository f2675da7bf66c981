/// \file
/// Reading of files and pages, and of the same page by other plates: the work itself, for a thread beside the
/// window's.
/// Layer: app/services.
#pragma once

#include "app/services/loaded_page.h"
#include "core/job/job_file.h"
#include "core/job/replace_artwork.h"

#include <QImage>
#include <QString>

#include <functional>
#include <memory>

namespace bichrom {

/// A job, and the page of it that was read.
struct OpenedPage
{
    OpenedJob opened;
    std::shared_ptr<const LoadedPage> page;
};

/// What to open, and how.
struct Opening
{
    QString path;
    int page = 0; ///< 0 = the job's own, or the first
    QString password;
    int patience = 1;  ///< how many times the usual work reading may take (ReadingOptions)
    std::string rules; ///< that artwork without a job is checked by; empty = the first shipped set
};

/// \param look  is given a first picture as soon as there is one; may be empty
/// \return as open_job_or_artwork() and Artwork::interpret()
[[nodiscard]] Outcome<OpenedPage> open_page(const Opening &what, const std::function<void(QImage)> &look,
                                            const JobControl &control);

/// What the job becomes when the page's scene is known.
using Adapt = std::function<Job(Job, const Scene &)>;

/// The page of \p opened 's job. Its artwork is read again when it was read by another picture size than the
/// job's, and put together again when other artworks are placed.
/// \param read_ppi  the picture size that the artwork was read by
/// \param adapt  makes the job that the page is separated by; empty: it stays as it is
/// \param look   as of open_page()
[[nodiscard]] Outcome<OpenedPage> read_page(OpenedJob opened, double read_ppi, const Adapt &adapt,
                                            const std::function<void(QImage)> &look,
                                            const JobControl &control);

/// \p page with plates and routes of \p job.
[[nodiscard]] Outcome<LoadedPage> separate_anew(const LoadedPage &page, const Job &job,
                                                const JobControl &control);

/// A job carried over to another file.
struct CarriedOver
{
    std::shared_ptr<const Artwork> artwork;
    Replacement replacement;
};

/// \param artwork  whose file \p path replaces: 0 = the first, else the id of a placed one
[[nodiscard]] Outcome<CarriedOver> carry_over_to(const QString &path, int artwork, const OpenedJob &opened,
                                                 const JobControl &control);

} // namespace bichrom
