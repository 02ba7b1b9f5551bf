#include "session/finals.h"

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "base/file_lock.h"
#include "files/light_folder.h"
#include "files/still_file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "film/film.h"
#include "session/places.h"
#include "work/properties.h"

namespace session {

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

base::Result<Final> read(const fs::path& folder)
{
    const auto bytes = base::readFile((folder / "final.json").string(), 1 << 20);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    Final f;
    f.folder = folder.string();
    try {
        const Json j = Json::parse(bytes->begin(), bytes->end());
        FinalSettings& s = f.settings;
        s.widthPx = j.at("widthPx");
        s.heightPx = j.at("heightPx");
        s.output.transparent = j.at("transparent");
        s.output.quality = std::clamp(j.value("quality", work::Output().quality), 1, 100);
        s.output.colours = work::valueNamed(j.value("colours", std::string()), work::kColours).value_or(work::FileColours::Srgb);
        s.output.profile = j.value("profile", std::string());
        s.output.passes = j.value("passes", std::vector<std::string>());
        s.output.denoise = j.at("denoise");
        s.output.stop = {j.at("stopSamples"), j.at("stopSeconds"), j.at("stopNoise")};
        s.seed = j.at("seed");
        s.out = j.at("out");
        s.origin = j.value("origin", "");
        s.output.format = files::formatOf(s.out, j.at("bits"));
        f.samples = j.at("samples");
        f.seconds = j.at("seconds");
        f.finished = j.at("finished");
    } catch (const Json::exception&) {
        return base::fail(base::ErrorCode::BadInput, "The description of this final is broken; render it again", f.folder);
    }
    auto work = files::openWork((folder / "work.openglow").string());
    if (!work)
        return tl::unexpected<base::Error>(work.error());
    f.work = std::move(*work);
    return f;
}

// `old` is finished, and its film is one of `f`, whose key it is.
bool showsTheSame(const Final& old, const Final& f, const std::string& key)
{
    return old.finished && old.settings.widthPx == f.settings.widthPx && old.settings.heightPx == f.settings.heightPx &&
           old.settings.seed == f.settings.seed && files::filmKey(old.work, old.settings.seed) == key;
}

}  // namespace

denoise::Mode denoiseOf(const work::Output& output)
{
    return output.denoise ? denoise::Mode::Full : denoise::Mode::Off;
}

FinalStore::FinalStore(std::string folder) : m_folder(std::move(folder))
{
    std::error_code error;
    fs::create_directories(m_folder, error);
}

namespace {

// An earlier version of the program may have named it otherwise.
bool isFilmOf(const std::string& path, const std::string& key)
{
    return files::LightFolder::isOne(path) ? files::LightFolder::open(path, key).has_value()
                                           : film::Film::openToRead(path, key).has_value();
}

}  // namespace

base::Result<Final> FinalStore::create(const work::Work& work, const FinalSettings& settings) const
{
    Final f;
    f.folder = (fs::path(m_folder) / freshName()).string();
    f.work = work;
    f.work.proofs = {};  // no part of what is rendered
    f.settings = settings;
    std::error_code error;
    fs::create_directories(f.folder, error);
    if (error)
        return base::fail(base::ErrorCode::CannotWrite, "The folder for the final render cannot be made: " + error.message(), f.folder);
    // The film of a finished one that shows the same serves again: only desk and finish are new.
    const std::string key = files::filmKey(work, settings.seed);
    for (const Final& old : all())
        if ((old.settings.out == settings.out || !(old.work == f.work)) && showsTheSame(old, f, key) && isFilmOf(old.filmPath(), key)) {
            fs::rename(old.filmPath(), f.filmPath(), error);
            if (error)
                continue;
            f.samples = old.samples;
            f.seconds = old.seconds;
            remove(old.folder);
            break;
        }
    if (auto saved = files::saveWork(f.work, f.folder + "/work.openglow"); !saved)
        return tl::unexpected<base::Error>(saved.error());
    if (auto kept = update(f); !kept)
        return tl::unexpected<base::Error>(kept.error());
    return f;
}

void FinalStore::borrowFilm(const Final& f) const
{
    std::error_code error;
    if (fs::exists(f.filmPath(), error))
        return;
    const std::string key = files::filmKey(f.work, f.settings.seed), begun = f.filmPath() + ".copy";
    for (const Final& old : all()) {
        if (!showsTheSame(old, f, key) || !isFilmOf(old.filmPath(), key))
            continue;
        constexpr std::uint64_t kMostCopied = 4ull << 30;  // what is larger changes hands
        fs::remove_all(begun, error);
        if (bytesOf(old) <= kMostCopied)
            fs::copy(old.filmPath(), begun, fs::copy_options::recursive, error);
        else
            fs::rename(old.filmPath(), begun, error);
        if (!error)
            fs::rename(begun, f.filmPath(), error);
        if (error)
            fs::remove_all(begun, error);  // it is rendered, then
        return;
    }
}

base::Result<void> FinalStore::update(const Final& f) const
{
    const FinalSettings& s = f.settings;
    const Json j = {{"widthPx", s.widthPx},
                    {"heightPx", s.heightPx},
                    {"transparent", s.output.transparent},
                    {"quality", s.output.quality},
                    {"colours", work::nameOf(s.output.colours, work::kColours)},
                    {"profile", s.output.profile},
                    {"passes", s.output.passes},
                    {"bits", files::exporterOf(s.output.format).bits},
                    {"denoise", s.output.denoise},
                    {"stopSamples", s.output.stop.samples},
                    {"stopSeconds", s.output.stop.seconds},
                    {"stopNoise", s.output.stop.noise},
                    {"seed", s.seed},
                    {"out", s.out},
                    {"origin", s.origin},
                    {"samples", f.samples},
                    {"seconds", f.seconds},
                    {"finished", f.finished}};
    const std::string text = j.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
    return base::replaceFile(f.folder + "/final.json", text);
}

std::vector<Final> FinalStore::all() const
{
    std::vector<Final> finals;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(m_folder, error))
        if (entry.is_directory(error) && base::FileLock::take(entry.path().string()))  // else another window is at it
            if (auto f = read(entry.path()))
                finals.push_back(std::move(*f));
    std::sort(finals.begin(), finals.end(), [](const Final& a, const Final& b) { return a.folder > b.folder; });
    return finals;
}

void FinalStore::remove(const std::string& folder) const
{
    // Only what lies in this store.
    std::error_code error;
    if (fs::path(folder).parent_path() == fs::path(m_folder) && base::FileLock::take(folder))
        fs::remove_all(folder, error);
}

void FinalStore::makeRoom(const std::string& newest) const
{
    std::uint64_t bytes = 0;
    for (const Final& f : all())
        if (f.finished && (bytes += bytesOf(f)) > kMostBytes && f.folder != newest)
            remove(f.folder);
}

std::uint64_t FinalStore::bytesOf(const Final& f)
{
    std::uint64_t bytes = 0;
    std::error_code error;
    for (const auto& entry : fs::recursive_directory_iterator(f.folder, error))
        if (const auto size = entry.file_size(error); !error)
            bytes += size;
    return bytes;
}

}  // namespace session
