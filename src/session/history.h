// Undo and redo over whole works: works are values, so a step is a copy.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "work/work.h"

namespace session {

// Not safe from several threads; every call costs a comparison of works at most.
class History {
public:
    explicit History(work::Work work) : m_steps{{std::move(work), {}, {}}} {}

    const work::Work& now() const { return m_steps[m_at].work; }

    // Makes `changed` the present. Steps with the same `mergeKey` in a row are one, until endMerge(); an empty key never merges.
    // False, and nothing kept, when nothing changed. A merged step that comes back to where it began is dropped.
    bool apply(work::Work changed, const std::string& label, const std::string& mergeKey = {});
    // Changes every step, past and undone: what undo does not concern.
    void applyToAll(const std::function<void(work::Work&)>& change);
    void endMerge() { m_merging = false; }

    bool canUndo() const { return m_at > 0; }
    bool canRedo() const { return m_at + 1 < m_steps.size(); }
    std::string undoLabel() const { return canUndo() ? m_steps[m_at].label : std::string(); }
    std::string redoLabel() const { return canRedo() ? m_steps[m_at + 1].label : std::string(); }
    bool undo();
    bool redo();

    static constexpr std::size_t kMostSteps = 500;

private:
    struct Step {
        work::Work work;
        std::string label, mergeKey;  // of the edit that led here
    };
    std::vector<Step> m_steps;
    std::size_t m_at = 0;
    bool m_merging = false;
};

}  // namespace session
