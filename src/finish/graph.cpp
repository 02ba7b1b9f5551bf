#include "finish/graph.h"

#include <algorithm>
#include <cassert>

namespace finish {

Area Area::grownBy(int px, const Area& within) const
{
    return {std::max(x0 - px, within.x0), std::max(y0 - px, within.y0), std::min(x1 + px, within.x1), std::min(y1 + px, within.y1)};
}

int Graph::add(Step step)
{
    for ([[maybe_unused]] const int input : step.inputs)
        assert(input >= kSource && input < static_cast<int>(m_steps.size()));
    m_steps.push_back(std::move(step));
    return static_cast<int>(m_steps.size()) - 1;
}

std::vector<int> Graph::reaches() const
{
    constexpr int kUnused = -1;
    std::vector<int> needed(m_steps.size() + 1, kUnused);
    const auto at = [&](int step) -> int& { return needed[step == kSource ? m_steps.size() : static_cast<std::size_t>(step)]; };
    if (m_steps.empty())
        return {0};
    needed[m_steps.size() - 1] = 0;
    for (std::size_t i = m_steps.size(); i-- > 0;)
        if (needed[i] != kUnused)
            for (const int input : m_steps[i].inputs)
                at(input) = std::max(at(input), needed[i] + m_steps[i].reach);
    return needed;
}

int Graph::reach() const
{
    return std::max(0, reaches().back());
}

Image Graph::run(const Image& source, const Area& wanted, const Area& whole, const std::stop_token& stop) const
{
    const std::vector<int> needed = reaches();
    assert(source.area.covers(wanted.grownBy(std::max(0, needed.back()), whole)));
    std::vector<Image> made(m_steps.size());
    std::vector<std::size_t> lastUse(m_steps.size(), 0);
    for (std::size_t i = 0; i < m_steps.size(); ++i)
        for (const int input : m_steps[i].inputs)
            if (input != kSource)
                lastUse[static_cast<std::size_t>(input)] = i;
    for (std::size_t i = 0; i < m_steps.size(); ++i) {
        const Step& step = m_steps[i];
        if (needed[i] < 0)
            continue;
        if (stop.stop_requested())
            return {};
        std::vector<const Image*> in;
        for (const int input : step.inputs)
            in.push_back(input == kSource ? &source : &made[static_cast<std::size_t>(input)]);
        made[i] = Image(wanted.grownBy(needed[i], whole), step.channels);
        step.run(in, made[i]);
        for (const int input : step.inputs)
            if (input != kSource && lastUse[static_cast<std::size_t>(input)] == i)
                made[static_cast<std::size_t>(input)] = {};
    }
    return made.empty() ? source : std::move(made.back());
}

}  // namespace finish
