// Keeps an unsaved work on disk while it is edited, and finds what a program that ended badly left behind.
#pragma once

#include <atomic>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <set>
#include <string>
#include <thread>
#include <vector>

#include "base/file_lock.h"
#include "base/result.h"
#include "work/work.h"

namespace session {

// A work that was not saved when its program ended.
struct LeftWork {
    std::string place;     // the kept copy: a folder, or a work file of an earlier version
    std::string original;  // path of the work it comes from, or ""
};

// A copy is a folder of its own, locked by its program: work.json with the work and where it comes from, written anew each time in one
// step, and each asset once, under its content's name.
class Recovery {
public:
    // `folder` holds the copies of all running programs.
    explicit Recovery(std::string folder);
    ~Recovery();  // the copy goes: the program ended in order
    Recovery(const Recovery&) = delete;
    Recovery& operator=(const Recovery&) = delete;

    // Writes the work soon, on a thread of its own: when a quarter of a second went by without a newer one, at the latest after
    // kLatest.
    void keep(work::Work work, const std::string& original);
    static constexpr std::chrono::milliseconds kLatest{700};
    // Nothing is unsaved any more: the copy goes.
    void forget();
    // Waits until what was kept is on disk. For tests and for leaving.
    void flush();

    // Copies whose program is gone, newest first.
    std::vector<LeftWork> left() const;
    // Reads a copy. Errors: as files::openWork.
    static base::Result<work::Work> open(const LeftWork& left);
    // Takes a copy away for good.
    static void drop(const LeftWork& left);

    // The last fault of writing, once.
    std::optional<base::Error> takeFault();
    // How often a work was written, and how many bytes of assets. For tests.
    int writings() const { return m_writings; }
    std::uint64_t assetBytes() const { return m_assetBytes; }

private:
    struct Wanted {
        work::Work work;
        std::string original;
    };
    void run(std::stop_token stop);
    base::Result<void> write(const Wanted& wanted);

    std::string m_folder, m_own;
    std::shared_ptr<base::FileLock> m_lock;
    std::mutex m_mutex, m_writing;
    std::condition_variable_any m_wake;
    std::optional<Wanted> m_wanted;
    std::chrono::steady_clock::time_point m_first, m_last;  // when the wanted work and its latest version came
    bool m_hurry = false;
    std::optional<base::Error> m_fault;
    std::set<std::string> m_assets;  // contents that are there
    std::atomic<int> m_writings{0};
    std::atomic<std::uint64_t> m_assetBytes{0};
    std::jthread m_worker;
};

}  // namespace session
