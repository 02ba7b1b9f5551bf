#include "session/session.h"

#include "work/artwork.h"
#include "work/fit.h"

#include "work/values.h"

namespace session {

Session::Session(work::Work work, std::string path) : m_history(work), m_path(std::move(path)), m_saved(std::move(work))
{
    if (!this->work().pieces.order.empty())
        m_choice.set({this->work().pieces.order.front(), {}});
}

void Session::tell(const Change& change)
{
    for (const auto& observer : m_observers)
        observer(change);
}

bool Session::edit(const std::string& label, const std::string& mergeKey, const std::function<void(work::Work&)>& change)
{
    const work::View before = work().view();
    work::Work changed = work();
    change(changed);
    work::clamp(changed);
    tidyLetters(changed);
    work::keepTraced(work(), changed);
    work::keepFitted(work(), changed, m_fonts);
    if (!m_history.apply(std::move(changed), label, mergeKey))
        return false;
    if (!(before == work().view())) {
        if (mergeKey.empty() || mergeKey != m_viewKey) {
            m_lastView = before;
            m_hasLastView = true;
        }
        m_viewKey = mergeKey;
    } else {
        m_viewKey.clear();
    }
    const Choice choice = valid(work(), m_choice);
    const bool choiceChanged = !(choice == m_choice);
    m_choice = choice;
    tell({true, choiceChanged, false});
    return true;
}

void Session::editAll(const std::function<void(work::Work&)>& change)
{
    m_history.applyToAll(change);
    tell({true, false, false});
}

void Session::afterJump(const work::View& before)
{
    ++m_jumps;
    if (!(before == work().view())) {
        m_lastView = before;
        m_hasLastView = true;
    }
    m_viewKey.clear();
    m_choice = valid(work(), m_choice);
    tell({true, true, false});
}

void Session::undo()
{
    const work::View before = work().view();
    if (m_history.undo())
        afterJump(before);
}

void Session::redo()
{
    const work::View before = work().view();
    if (m_history.redo())
        afterJump(before);
}

void Session::choose(const Choice& choice)
{
    const Choice next = valid(work(), choice);
    if (next == m_choice)
        return;
    m_choice = next;
    m_history.endMerge();
    tell({false, true, false});
}

bool Session::backToLastView()
{
    if (!m_hasLastView)
        return false;
    const work::View last = m_lastView;
    return edit("Last view", [&](work::Work& w) { w.view() = last; });
}

void Session::open(work::Work work, const std::string& path, bool changed)
{
    m_saved = changed ? work::Work{} : work;
    m_history = History(std::move(work));
    m_path = path;
    m_choice = {};
    m_hasLastView = false;
    ++m_jumps;
    if (!this->work().pieces.order.empty())
        m_choice.set({this->work().pieces.order.front(), {}});
    tell({true, true, true});
}

void Session::saved(const std::string& path, const work::Work& what)
{
    m_path = path;
    m_saved = what;
    tell({false, false, true});
}

}  // namespace session
