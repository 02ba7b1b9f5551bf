#include "session/recovery.h"

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "files/json_text.h"
#include "files/texture_file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "session/places.h"
#include "work/fonts.h"

namespace session {

namespace {

using namespace std::chrono_literals;
namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;
using Json = nlohmann::json;

constexpr auto kQuiet = 250ms;  // without a newer work
constexpr const char* kWork = "work.json";

// Copies of this process: their locks do not show to itself.
struct Own {
    std::mutex mutex;
    std::set<std::string> folders;
};
Own& own()
{
    static Own s_own;
    return s_own;
}

// "original" of a copy's description.
struct Description {
    std::string original, work;
    std::map<std::string, std::string> assets;  // content by name
};

base::Result<Description> read(const fs::path& folder)
{
    const std::string path = (folder / kWork).string();
    const auto bytes = base::readFile(path, 2 * files::json::kMostBytes);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    try {
        const Json j = Json::parse(bytes->begin(), bytes->end());
        return Description{j.at("original"), j.at("work"), j.at("assets").get<std::map<std::string, std::string>>()};
    } catch (const Json::exception&) {
        return base::fail(base::ErrorCode::BadInput, "This copy of an unsaved work is damaged", path);
    }
}

// Of the format before: a work file, its original's path beside it, and a lock.
bool isOlder(const fs::path& file)
{
    return file.extension() == ".openglow";
}

}  // namespace

Recovery::Recovery(std::string folder) : m_folder(std::move(folder)), m_own((fs::path(m_folder) / freshName()).string())
{
    std::error_code error;
    fs::create_directories(m_own, error);
    if (auto lock = base::FileLock::take(m_own))
        m_lock = std::move(*lock);
    {
        const std::lock_guard lock(own().mutex);
        own().folders.insert(m_own);
    }
    m_worker = std::jthread([this](std::stop_token stop) { run(std::move(stop)); });
}

Recovery::~Recovery()
{
    m_worker.request_stop();
    m_worker.join();
    drop({m_own, {}});
    const std::lock_guard lock(own().mutex);
    own().folders.erase(m_own);
}

void Recovery::keep(work::Work work, const std::string& original)
{
    const std::lock_guard lock(m_mutex);
    m_last = Clock::now();
    if (!m_wanted)
        m_first = m_last;
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
    for (const auto& entry : fs::directory_iterator(m_own, error))
        fs::remove(entry.path(), error);
    m_assets.clear();
}

void Recovery::flush()
{
    std::unique_lock lock(m_mutex);
    m_hurry = true;
    m_wake.notify_all();
    m_wake.wait(lock, [&] { return !m_wanted; });
    lock.unlock();
    const std::lock_guard writing(m_writing);  // until the last one is written
}

void Recovery::run(std::stop_token stop)
{
    while (!stop.stop_requested()) {
        std::unique_lock lock(m_mutex);
        if (!m_wake.wait(lock, stop, [&] { return m_wanted.has_value(); }))
            return;
        // Each newer work moves the quiet on, but not beyond the latest moment.
        while (m_wanted && !m_hurry && !stop.stop_requested()) {
            const auto until = std::min(m_last + kQuiet, m_first + kLatest);
            if (Clock::now() >= until)
                break;
            m_wake.wait_until(lock, stop, until, [&] { return m_hurry || !m_wanted; });
        }
        // What is forgotten from here on is forgotten after it is written: m_writing first, then m_mutex.
        lock.unlock();
        std::unique_lock writing(m_writing);
        lock.lock();
        m_hurry = false;
        if (!m_wanted)
            continue;  // forgotten meanwhile
        const Wanted wanted = std::move(*m_wanted);
        m_wanted.reset();
        lock.unlock();
        const auto written = write(wanted);
        writing.unlock();
        lock.lock();
        if (!written)
            m_fault = written.error();
        m_wake.notify_all();
    }
}

base::Result<void> Recovery::write(const Wanted& wanted)
{
    work::Work work = wanted.work;
    work::dropUnusedAssets(work);
    Json assets = Json::object();
    for (const auto& [name, asset] : work.assets) {
        const std::string contents = asset.contents();
        assets[name] = contents;
        if (!asset.bytes || m_assets.contains(contents))
            continue;
        if (auto written = base::replaceFile((fs::path(m_own) / contents).string(), *asset.bytes); !written)
            return written;
        m_assets.insert(contents);
        m_assetBytes += asset.bytes->size();
    }
    const Json j = {{"original", wanted.original}, {"assets", std::move(assets)}, {"work", files::toJson(work)}};
    ++m_writings;
    return base::replaceFile((fs::path(m_own) / kWork).string(), j.dump(-1, ' ', false, Json::error_handler_t::replace));
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
        const fs::path place = entry.path();
        {
            const std::lock_guard lock(own().mutex);
            if (own().folders.contains(place.string()))
                continue;
        }
        if (isOlder(place)) {
            if (const auto lock = base::FileLock::take(fs::path(place).replace_extension(".lock").string());
                !lock && lock.error().code == base::ErrorCode::Busy)
                continue;
            const auto original = base::readFile(fs::path(place).replace_extension(".txt").string(), 1 << 16);
            found.push_back({entry.last_write_time(error),
                             {place.string(), original ? std::string(original->begin(), original->end()) : std::string()}});
            continue;
        }
        if (!entry.is_directory(error) || !base::FileLock::take(place.string()))
            continue;
        if (!fs::exists(place / kWork, error)) {
            drop({place.string(), {}});  // nothing was unsaved
            continue;
        }
        const auto description = read(place);
        found.push_back({fs::last_write_time(place / kWork, error), {place.string(), description ? description->original : std::string()}});
    }
    std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<LeftWork> list;
    for (auto& [_, work] : found)
        list.push_back(std::move(work));
    return list;
}

base::Result<work::Work> Recovery::open(const LeftWork& left)
{
    if (isOlder(left.place))
        return files::openWork(left.place);
    const auto description = read(left.place);
    if (!description)
        return tl::unexpected<base::Error>(description.error());
    auto work = files::fromJson(description->work);
    if (!work)
        return work;
    for (auto& [name, asset] : work->assets) {
        const auto contents = description->assets.find(name);
        if (contents == description->assets.end())
            return base::fail(base::ErrorCode::BadInput, "This copy of an unsaved work lacks " + name, left.place);
        auto bytes = base::readFile((fs::path(left.place) / fs::path(contents->second).filename()).string(), files::kMostAssetBytes);
        if (!bytes)
            return tl::unexpected<base::Error>(bytes.error());
        asset.bytes = std::make_shared<const outline::Bytes>(std::move(*bytes));
    }
    files::readPictures(*work, nullptr);
    return work;
}

void Recovery::drop(const LeftWork& left)
{
    std::error_code error;
    if (isOlder(left.place)) {
        for (const char* ending : {".openglow", ".txt", ".lock"})
            fs::remove(fs::path(left.place).replace_extension(ending), error);
        return;
    }
    for (const auto& entry : fs::directory_iterator(left.place, error))
        fs::remove(entry.path(), error);
    fs::remove(left.place, error);
}

}  // namespace session
