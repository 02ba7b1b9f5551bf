// Progress and the wish to stop, handed down as the last parameter of long work.
#pragma once

#include <algorithm>
#include <functional>
#include <stop_token>

namespace base {

// `report` gets the finished fraction, 0 to 1, on whatever thread does the work. Copies share the stop token.
class Progress {
public:
    using Report = std::function<void(double fraction)>;

    Progress() = default;
    explicit Progress(std::stop_token stop, Report report = {}) : m_stop(std::move(stop)), m_report(std::move(report)) {}

    bool stopRequested() const { return m_stop.stop_requested(); }
    const std::stop_token& stopToken() const { return m_stop; }

    void set(double fraction) const
    {
        if (m_report)
            m_report(m_from + (m_to - m_from) * std::clamp(fraction, 0.0, 1.0));
    }

    // A progress whose 0 to 1 fills `from` to `to` of this one.
    Progress split(double from, double to) const
    {
        Progress part = *this;
        part.m_from = m_from + (m_to - m_from) * from;
        part.m_to = m_from + (m_to - m_from) * to;
        return part;
    }

private:
    std::stop_token m_stop;
    Report m_report;
    double m_from = 0;
    double m_to = 1;
};

}  // namespace base
