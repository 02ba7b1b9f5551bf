#include "session/history.h"

namespace session {

bool History::apply(work::Work changed, const std::string& label, const std::string& mergeKey)
{
    if (changed == now())
        return false;
    m_steps.resize(m_at + 1);
    const bool merges = m_merging && m_at > 0 && !mergeKey.empty() && m_steps[m_at].mergeKey == mergeKey;
    m_merging = !mergeKey.empty();
    if (!merges) {
        m_steps.push_back({std::move(changed), label, mergeKey});
        if (m_steps.size() > kMostSteps)
            m_steps.erase(m_steps.begin());
        m_at = m_steps.size() - 1;
        return true;
    }
    if (changed == m_steps[m_at - 1].work) {
        m_steps.pop_back();
        --m_at;
        m_merging = false;
    } else {
        m_steps[m_at].work = std::move(changed);
    }
    return true;
}

void History::applyToAll(const std::function<void(work::Work&)>& change)
{
    for (Step& step : m_steps)
        change(step.work);
}

bool History::undo()
{
    m_merging = false;
    if (!canUndo())
        return false;
    --m_at;
    return true;
}

bool History::redo()
{
    m_merging = false;
    if (!canRedo())
        return false;
    ++m_at;
    return true;
}

}  // namespace session
