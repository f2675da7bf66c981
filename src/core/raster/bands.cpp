#include "core/raster/bands.h"

#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/parallel_for.h>
#include <oneapi/tbb/parallel_pipeline.h>
#include <oneapi/tbb/task_arena.h>

#include <algorithm>
#include <atomic>
#include <mutex>
#include <optional>

namespace bichrom {

namespace {

struct InFlight
{
    Band band;
    std::unique_ptr<BandResult> result;
};

} // namespace

Done run_bands(int height, int band_rows, const BandSteps &steps, const JobControl &control, int threads)
{
    if (height <= 0 || band_rows <= 0) {
        return {};
    }
    const int count = (height + band_rows - 1) / band_rows;
    std::atomic<bool> stopped{false};
    std::mutex guard;
    std::optional<Error> first_error;
    const auto fail = [&](Error error) {
        const std::lock_guard lock(guard);
        if (!first_error) {
            first_error = std::move(error);
        }
        stopped = true;
    };

    int next = 0;
    const auto produce = [&](oneapi::tbb::flow_control &flow) -> std::shared_ptr<InFlight> {
        if (control.cancelled() && !stopped) {
            fail({ErrorCode::Cancelled, "Stopped on request.", {}, {}});
        }
        if (next == count || stopped) {
            flow.stop();
            return nullptr;
        }
        auto item = std::make_shared<InFlight>();
        item->band = {next, next * band_rows, std::min(band_rows, height - next * band_rows)};
        ++next;
        return item;
    };
    const auto compute = [&](const std::shared_ptr<InFlight> &item) {
        if (!stopped) {
            auto outcome = steps.compute(item->band);
            if (outcome) {
                item->result = std::move(*outcome);
            } else {
                fail(outcome.error());
            }
        }
        return item;
    };
    const auto take = [&](const std::shared_ptr<InFlight> &item) {
        if (stopped || !item->result) {
            return;
        }
        if (const Done done = steps.take(item->band, *item->result); !done) {
            fail(done.error());
            return;
        }
        control.progress(item->band.index + 1, count);
    };

    using Item = std::shared_ptr<InFlight>;
    oneapi::tbb::task_arena arena(threads > 0 ? threads : oneapi::tbb::task_arena::automatic);
    arena.execute([&] {
        const auto tokens = static_cast<std::size_t>(oneapi::tbb::this_task_arena::max_concurrency()) + 2;
        using oneapi::tbb::filter_mode;
        oneapi::tbb::parallel_pipeline(
            tokens, oneapi::tbb::make_filter<void, Item>(filter_mode::serial_in_order, produce) &
                        oneapi::tbb::make_filter<Item, Item>(filter_mode::parallel, compute) &
                        oneapi::tbb::make_filter<Item, void>(filter_mode::serial_in_order, take));
    });
    if (first_error) {
        return *first_error;
    }
    return {};
}

void each_row(int height, const std::function<void(int row)> &work, const JobControl &control)
{
    constexpr int rows_at_once = 32;
    oneapi::tbb::parallel_for(oneapi::tbb::blocked_range<int>(0, height, rows_at_once),
                              [&](const oneapi::tbb::blocked_range<int> &rows) {
                                  for (int y = rows.begin(); y < rows.end() && !control.cancelled(); ++y) {
                                      work(y);
                                  }
                              });
}

} // namespace bichrom
