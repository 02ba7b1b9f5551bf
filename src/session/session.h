// An open work: its history, what is chosen, and who wants to know.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "session/choice.h"
#include "session/history.h"
#include "work/cache.h"

namespace session {

// What an event changed.
struct Change {
    bool work = false, choice = false;
    bool opened = false;  // another work, or another name
};

// All calls on one thread, the window's.
class Session {
public:
    explicit Session(work::Work work, std::string path = {});

    const work::Work& work() const { return m_history.now(); }
    const Choice& choice() const { return m_choice; }
    const std::string& path() const { return m_path; }  // "" for a work without a file
    bool isChanged() const { return !(m_saved == work()); }

    // Changes the work in one step of the history; every value stays in its range. Steps with the same `mergeKey` in a row become one until
    // endMerge(). False when nothing changed; then nothing is kept and nobody is told.
    bool edit(const std::string& label, const std::string& mergeKey, const std::function<void(work::Work&)>& change);
    bool edit(const std::string& label, const std::function<void(work::Work&)>& change) { return edit(label, {}, change); }
    // Changes every step of the history: for what undo does not concern.
    void editAll(const std::function<void(work::Work&)>& change);
    void endMerge() { m_history.endMerge(); }

    // How often undo, redo or opening made the work another one.
    std::uint64_t jumps() const { return m_jumps; }

    const History& history() const { return m_history; }
    void undo();
    void redo();

    void choose(const Choice& choice);

    // The view before the last change of view; false when there was none.
    bool backToLastView();

    void open(work::Work work, const std::string& path, bool changed = false);
    // `what` is on disk now; the work may have gone on since.
    void saved(const std::string& path, const work::Work& what);

    void observe(std::function<void(const Change&)> observer) { m_observers.push_back(std::move(observer)); }

private:
    void tell(const Change& change);
    void afterJump(const work::View& before);

    work::Cache m_fonts;  // for letterings that stay fitted
    History m_history;
    Choice m_choice;
    std::string m_path;
    work::Work m_saved;
    work::View m_lastView;
    bool m_hasLastView = false;
    std::uint64_t m_jumps = 0;
    std::string m_viewKey;  // merge key of the view change that goes on
    std::vector<std::function<void(const Change&)>> m_observers;
};

}  // namespace session
