#include "core/separate/process_inks.h"

#include "core/job/print_model.h"
#include "core/separate/choose_inks.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

std::vector<BookInk> process_inks(const ProcessProfile &condition)
{
    std::vector<BookInk> inks;
    for (std::size_t channel = 0; channel < process_names.size(); ++channel) {
        const auto printed = [&](double tone) {
            Cmyk cmyk{};
            cmyk[channel] = static_cast<float>(tone);
            return condition.to_lab(cmyk);
        };
        BookInk ink{process_names[channel], InkUse::Process, printed(1), usual_traits(InkUse::Process), true};
        // The coverage of the model's film that is nearest to each tone of the profile.
        Stock paper;
        paper.colour = printed(0);
        const InkSolver solver = solver_of(plates_for_inks({ink}), paper, {ink.name});
        constexpr int steps = 20;
        std::vector<CurvePoint> gain{{0, 0}};
        for (int i = 1; i < steps; ++i) {
            const double tone = static_cast<double>(i) / steps;
            const double coverage = solver.solve(printed(tone), {tone}).coverage.front();
            gain.push_back({tone, std::clamp(coverage, gain.back().out, 1.0)});
        }
        gain.push_back({1, 1});
        if (auto curve = ToneCurve::through(std::move(gain))) {
            ink.traits.gain = std::move(*curve);
        }
        inks.push_back(std::move(ink));
    }
    return inks;
}

} // namespace bichrom
