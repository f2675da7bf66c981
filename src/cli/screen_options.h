/// \file
/// Options by which commands screen plates and make up for what the press does to tones.
/// Layer: cli.
#pragma once

#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace bichrom {

/// --lpi, --angle, --dot, --screen, --screen-of, --least-dot, --curve, --holds.
class ScreenOptions
{
public:
    void declare(CLI::App &command);
    /// \p job with what was given. OutOfRange, UnknownInk; FileMissing, CannotRead and WrongFormat of curves.
    [[nodiscard]] Outcome<Job> apply(Job job) const;

private:
    [[nodiscard]] Done apply_screens(Job &job) const;
    [[nodiscard]] Done apply_curves(Job &job) const;

    std::optional<double> m_lpi;
    std::optional<int> m_least;
    std::string m_dot, m_screen, m_holds;
    std::vector<std::string> m_angles, m_screens, m_curves;
};

} // namespace bichrom
