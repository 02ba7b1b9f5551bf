// Keeps an unsaved work on disk while it is edited, and finds what a program that ended badly left behind.
#pragma once

#include <condition_variable>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include "base/result.h"
#include "work/work.h"

namespace session {

// A work that was not saved when its program ended.
struct LeftWork {
    std::string file;      // the kept copy
    std::string original;  // path of the work it comes from, or ""
};

class Recovery {
public:
    // `folder` holds the copies of all running programs; a lock tells which of them still run.
    explicit Recovery(std::string folder);
    ~Recovery();  // the copy goes: the program ended in order
    Recovery(const Recovery&) = delete;
    Recovery& operator=(const Recovery&) = delete;

    // Writes the work soon, on a thread of its own: after a moment without a newer one, at the latest every two seconds.
    void keep(work::Work work, const std::string& original);
    // Nothing is unsaved any more: the copy goes.
    void forget();
    // Waits until what was kept is on disk. For tests and for leaving.
    void flush();

    // Copies whose program is gone, newest first.
    std::vector<LeftWork> left() const;
    // Takes a copy away for good.
    static void drop(const LeftWork& work);

    // The last fault of writing, once.
    std::optional<base::Error> takeFault();

private:
    struct Wanted {
        work::Work work;
        std::string original;
    };
    void run(std::stop_token stop);
    void write(const Wanted& wanted);

    std::string m_folder, m_file;
    int m_lock = -1;
    std::mutex m_mutex, m_writing;
    std::condition_variable_any m_wake;
    std::optional<Wanted> m_wanted;
    bool m_hurry = false;
    std::optional<base::Error> m_fault;
    std::jthread m_worker;
};

}  // namespace session
