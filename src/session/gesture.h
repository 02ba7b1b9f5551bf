// A gesture that goes on: it changes the work while it lasts, and is one step of the history.
#pragma once

#include "session/session.h"

namespace session {

// Moves are made from the work as it stood at the beginning, so that nothing adds up; what they change of it, and nothing else, is
// changed in the work as it stands. So whatever else happens meanwhile (a kept picture, a window that saves) stays. When undo, redo
// or opening make the work another one, the gesture is called off and changes nothing more.
class Gesture {
public:
    Gesture(Session& session, std::string label);

    const work::Work& start() const { return m_start; }
    const std::string& label() const { return m_label; }
    bool isCalledOff() const { return m_session->jumps() != m_jumps; }

    // The work of the beginning, changed by `move`, shows in the session's. False when called off.
    bool move(const std::function<void(work::Work&)>& move);
    // Ends it; `back` takes back what it did.
    void end(bool back = false);

private:
    Session* m_session;
    std::string m_label;
    work::Work m_start, m_last;  // of the beginning; as the gesture would have it now
    std::uint64_t m_jumps = 0;
};

}  // namespace session
