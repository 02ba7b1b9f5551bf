#include "session/recovery.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <filesystem>

#include "base/file.h"
#include "files/work_file.h"
#include "session/places.h"

namespace session {

namespace {

using namespace std::chrono_literals;
namespace fs = std::filesystem;

constexpr auto kQuiet = 250ms;  // without a newer work
constexpr auto kLatest = 2s;

std::string besides(const std::string& file, const char* ending)
{
    return fs::path(file).replace_extension(ending).string();
}

}  // namespace

Recovery::Recovery(std::string folder) : m_folder(std::move(folder))
{
    std::error_code error;
    fs::create_directories(m_folder, error);
    m_file = (fs::path(m_folder) / (freshName() + ".openglow")).string();
    m_lock = open(besides(m_file, ".lock").c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0600);
    if (m_lock >= 0)
        flock(m_lock, LOCK_EX | LOCK_NB);
    m_worker = std::jthread([this](std::stop_token stop) { run(std::move(stop)); });
}

Recovery::~Recovery()
{
    m_worker.request_stop();
    m_worker.join();
    drop({m_file, {}});
    if (m_lock >= 0)
        close(m_lock);
}

void Recovery::keep(work::Work work, const std::string& original)
{
    const std::lock_guard lock(m_mutex);
    m_wanted = Wanted{std::move(work), original};
    m_wake.notify_all();
}

void Recovery::forget()
{
    {
        const std::lock_guard lock(m_mutex);
        m_wanted.reset();
    }
    const std::lock_guard writing(m_writing);
    std::error_code error;
    fs::remove(m_file, error);
    fs::remove(besides(m_file, ".txt"), error);
}

void Recovery::flush()
{
    {
        const std::lock_guard lock(m_mutex);
        m_hurry = true;
        m_wake.notify_all();
    }
    for (;;) {
        {
            const std::lock_guard lock(m_mutex);
            if (!m_wanted)
                break;
        }
        std::this_thread::sleep_for(2ms);
    }
    const std::lock_guard writing(m_writing);  // until the last one is written
}

void Recovery::run(std::stop_token stop)
{
    while (!stop.stop_requested()) {
        std::unique_lock lock(m_mutex);
        if (!m_wake.wait(lock, stop, [&] { return m_wanted.has_value(); }))
            return;
        const auto latest = std::chrono::steady_clock::now() + kLatest;
        while (!m_hurry && !stop.stop_requested() && std::chrono::steady_clock::now() < latest)
            if (!m_wake.wait_for(lock, stop, kQuiet, [&] { return m_hurry; }) && !stop.stop_requested())
                break;
        m_hurry = false;
        const std::lock_guard writing(m_writing);
        if (!m_wanted)
            continue;  // forgotten meanwhile
        const Wanted wanted = std::move(*m_wanted);
        m_wanted.reset();
        lock.unlock();
        write(wanted);
    }
}

void Recovery::write(const Wanted& wanted)
{
    auto saved = files::saveWork(wanted.work, m_file);
    if (saved) {
        const auto* bytes = reinterpret_cast<const std::uint8_t*>(wanted.original.data());
        saved = base::replaceFile(besides(m_file, ".txt"), {bytes, wanted.original.size()});
    }
    if (!saved) {
        const std::lock_guard lock(m_mutex);
        m_fault = saved.error();
    }
}

std::optional<base::Error> Recovery::takeFault()
{
    const std::lock_guard lock(m_mutex);
    return std::exchange(m_fault, std::nullopt);
}

std::vector<LeftWork> Recovery::left() const
{
    std::vector<std::pair<fs::file_time_type, LeftWork>> found;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(m_folder, error)) {
        const std::string file = entry.path().string();
        if (entry.path().extension() != ".openglow" || file == m_file)
            continue;
        const int lock = open(besides(file, ".lock").c_str(), O_RDWR | O_CLOEXEC);
        const bool runs = lock >= 0 && flock(lock, LOCK_EX | LOCK_NB) != 0;
        if (lock >= 0)
            close(lock);
        if (runs)
            continue;
        const auto original = base::readFile(besides(file, ".txt"), 1 << 16);
        found.push_back({entry.last_write_time(error), {file, original ? std::string(original->begin(), original->end()) : std::string()}});
    }
    std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<LeftWork> list;
    for (auto& [_, work] : found)
        list.push_back(std::move(work));
    return list;
}

void Recovery::drop(const LeftWork& work)
{
    std::error_code error;
    for (const char* ending : {".openglow", ".txt", ".lock"})
        fs::remove(besides(work.file, ending), error);
}

}  // namespace session
