/// \file
/// Which inks of a book print an artwork best on a stock.
/// Layer: core/separate. May use core/colour, core/job.
#pragma once

#include "core/base/job_control.h"
#include "core/colour/ink_book.h"
#include "core/colour/process_profile.h"
#include "core/job/job.h"
#include "core/separate/wished_colours.h"

#include <string>
#include <vector>

namespace bichrom {

/// What is asked for.
struct InkWish
{
    Stock stock;
    std::vector<BookInk> fixed;        ///< printed whatever else is, white first where there is one
    std::vector<std::string> excluded; ///< inks of the book that are not to be used
    std::size_t most = 6; ///< inks in all, white and fixed ones counted; 1 to ColourTable::most_inks
    std::shared_ptr<const ProcessProfile> condition = ProcessProfile::fogra39(); ///< never null
};

/// The best that was found with so many inks.
struct InkSet
{
    std::vector<BookInk> inks;  ///< in printing order: white, then from light to dark
    double mean_difference = 0; ///< CIEDE2000 between wish and print, by share
};

/// The white of \p book, or one that is usual.
[[nodiscard]] BookInk white_of(const InkBook &book);

/// Cyan, magenta, yellow and black of \p condition.
[[nodiscard]] std::vector<BookInk> process_inks(const ProcessProfile &condition);

/// White first, then from light to dark: transparent inks are laid so (common practice, no source). Process
/// inks follow each other, last: their condition's profile knows them together.
[[nodiscard]] std::vector<BookInk> in_printing_order(std::vector<BookInk> inks);

/// Plates for \p inks in printing order on paper or cloth, with screens that keep away from each other. On a
/// film that is seen through they are printed the other way round.
[[nodiscard]] std::vector<Plate> plates_for_inks(const std::vector<BookInk> &inks, const Stock &stock = {});

/// What these inks come to: the mean difference of the best tones for each colour.
[[nodiscard]] InkSet expected_difference(const std::vector<WishedColour> &wish, std::vector<BookInk> inks,
                                         const Stock &stock, const ProcessProfile &condition);

/// The best inks for each number, from one more than the fixed ones to the most: each number begins with the
/// inks of the one before and the ink that helps most, and then lets each be swapped for a better one. Fewer
/// where no further ink of the book helps.
/// Found on the 48 colours that cover most. Cancelled; OutOfRange for a number that cannot be.
[[nodiscard]] Outcome<std::vector<InkSet>> choose_inks(const std::vector<WishedColour> &wish,
                                                       const InkBook &book, const InkWish &asked,
                                                       const JobControl &control = {});

} // namespace bichrom
