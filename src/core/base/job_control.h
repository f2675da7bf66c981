/// \file
/// How a long computation tells its progress and is asked to stop.
/// Layer: core/base.
#pragma once

#include <atomic>
#include <cstdint>
#include <functional>
#include <memory>

namespace bichrom {

/// A switch that one thread throws and others look at.
class CancelSwitch
{
public:
    void cancel() { m_flag->store(true, std::memory_order_relaxed); }
    [[nodiscard]] bool cancelled() const { return m_flag->load(std::memory_order_relaxed); }

private:
    std::shared_ptr<std::atomic<bool>> m_flag = std::make_shared<std::atomic<bool>>(false);
};

/// Goes down every long call. Copies share the same switch; a default one never
/// stops and reports to nobody. \c report may be called from any worker thread,
/// one call at a time.
class JobControl
{
public:
    /// \param done, total  steps; total 0 means not known
    using Report = std::function<void(std::int64_t done, std::int64_t total)>;

    JobControl() = default;
    explicit JobControl(CancelSwitch cancel, Report report = {})
        : m_cancel(std::move(cancel)), m_report(std::move(report))
    {
    }

    /// Stops with this one, and tells its progress to \p report instead.
    [[nodiscard]] JobControl with_report(Report report) const
    {
        return JobControl(m_cancel, std::move(report));
    }

    [[nodiscard]] bool cancelled() const { return m_cancel.cancelled(); }
    void progress(std::int64_t done, std::int64_t total) const
    {
        if (m_report) {
            m_report(done, total);
        }
    }

private:
    CancelSwitch m_cancel;
    Report m_report;
};

} // namespace bichrom
