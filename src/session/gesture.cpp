#include "session/gesture.h"

#include "work/values.h"

namespace session {

Gesture::Gesture(Session& session, std::string label)
    : m_session(&session), m_label(std::move(label)), m_start(session.work()), m_last(session.work()), m_jumps(session.jumps())
{
    session.endMerge();
}

bool Gesture::move(const std::function<void(work::Work&)>& move)
{
    if (isCalledOff())
        return false;
    work::Work moved = m_start;
    move(moved);
    m_session->edit(m_label, "gesture", [&](work::Work& w) { work::applyDifference(w, m_last, moved); });
    m_last = std::move(moved);
    return true;
}

void Gesture::end(bool back)
{
    if (back)
        move([](work::Work&) {});
    m_session->endMerge();
}

}  // namespace session
