/// \file
/// What an artist can do about a finding at once.
/// Layer: core/preflight. May use core/job.
#pragma once

#include "core/job/job.h"
#include "core/preflight/finding.h"

#include <string>
#include <vector>

namespace bichrom {

struct Deed
{
    enum class Does
    {
        Send,      ///< \c objects to the plate of \c into
        Merge,     ///< the plate of \c from becomes, or joins, the one of \c into
        Overprint, ///< \c objects print on top of what is under them
        KnockOut
    };
    Does does = Does::Send;
    std::vector<int> objects; ///< of the scene of the finding's page
    std::string from, into;
    bool own_tint = false; ///< of Send: each is one ink in a tint, which it keeps; else solid
    std::string words;     ///< "Send these 4 objects to Black"
    friend bool operator==(const Deed &, const Deed &) = default;
};

/// What can be done about \p finding in \p job, the likeliest first; nothing when it is solved or asks for
/// judgement. Objects are those of its listed places. Likeliest to send to are the plate of \p chosen, when
/// it is one, and those that look like the first object.
///
/// \param scene   of the finding's page
/// \param chosen  an ink, or empty
[[nodiscard]] std::vector<Deed> deeds_for(const Finding &finding, const Job &job, const Scene &scene,
                                          const std::string &chosen);

} // namespace bichrom
