#include "files/work_file.h"

#include <fmt/format.h>
#include <zip.h>

#include <memory>

#include "base/file.h"
#include "files/json_text.h"
#include "files/picture_file.h"
#include "files/texture_file.h"
#include "files/work_json.h"
#include "work/fonts.h"

namespace files {

namespace {

constexpr const char* kMimeType = "application/vnd.open-glow.work+zip";
constexpr std::uint64_t kMostBytes = kMostAssetBytes + json::kMostBytes;  // of the file
constexpr std::uint64_t kMostPreviewBytes = std::uint64_t{16} << 20;
constexpr const char* kAssetFolder = "assets/";

using Archive = std::unique_ptr<zip_t, decltype(&zip_discard)>;

tl::unexpected<base::Error> broken(const std::string& path, const std::string& why)
{
    return base::fail(base::ErrorCode::BadInput, why + "; take an older copy of it", path);
}

base::Result<outline::Bytes> readEntry(zip_t* archive, const std::string& name, const std::string& path, std::uint64_t most)
{
    zip_stat_t status;
    zip_stat_init(&status);
    if (zip_stat(archive, name.c_str(), 0, &status) != 0 || !(status.valid & ZIP_STAT_SIZE))
        return broken(path, fmt::format("This work lacks its {}", name));
    if (status.size > most)
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("{} in this work is larger than {} MB; take an older copy of it", name, most >> 20), path);
    outline::Bytes bytes(status.size);
    zip_file_t* entry = zip_fopen(archive, name.c_str(), 0);
    if (!entry)
        return broken(path, fmt::format("{} in this work cannot be read", name));
    const zip_int64_t read = zip_fread(entry, bytes.data(), bytes.size());
    std::uint8_t more = 0;
    // Reading on to the end makes the library check the checksum.
    const bool whole = read == static_cast<zip_int64_t>(bytes.size()) && zip_fread(entry, &more, 1) == 0;
    const bool sound = zip_fclose(entry) == 0 && whole;
    if (!sound)
        return broken(path, fmt::format("{} in this work is damaged", name));
    return bytes;
}

bool addEntry(zip_t* archive, const std::string& name, const void* data, std::size_t size, bool packed)
{
    zip_source_t* source = zip_source_buffer(archive, data, size, 0);
    if (!source)
        return false;
    const zip_int64_t index = zip_file_add(archive, name.c_str(), source, ZIP_FL_ENC_UTF_8 | ZIP_FL_OVERWRITE);
    if (index < 0) {
        zip_source_free(source);
        return false;
    }
    zip_file_set_mtime(archive, static_cast<zip_uint64_t>(index), 946684800, 0);  // the same bytes for the same work
    return zip_set_file_compression(archive, static_cast<zip_uint64_t>(index), packed ? ZIP_CM_DEFLATE : ZIP_CM_STORE, 0) == 0;
}

}  // namespace

namespace {

Archive archiveOf(const std::vector<std::uint8_t>& bytes)
{
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    Archive archive(source ? zip_open_from_source(source, ZIP_RDONLY, &error) : nullptr, zip_discard);
    zip_error_fini(&error);
    if (!archive && source)
        zip_source_free(source);
    return archive;
}

// The work without the bytes of its assets.
base::Result<work::Work> readJson(zip_t* archive, const std::string& path, base::Notes* notes)
{
    const auto json = readEntry(archive, "work.json", path, json::kMostBytes);
    if (!json)
        return tl::unexpected<base::Error>(json.error());
    auto work = fromJson(std::string(json->begin(), json->end()), notes);
    if (!work) {
        base::Error inner = work.error();
        inner.place = path + (inner.place.empty() ? ", work.json" : ", work.json " + inner.place);
        return tl::unexpected<base::Error>(inner);
    }
    return work;
}

// Whether what was packed opens again to the same work. The assets' checksums were made while they were packed.
base::Result<void> opensAgain(const std::vector<std::uint8_t>& bytes, const work::Work& work, const std::string& path)
{
    const Archive archive = archiveOf(bytes);
    if (!archive)
        return base::fail(base::ErrorCode::CannotWrite, "The work cannot be packed; free some memory and save again", path);
    auto read = readJson(archive.get(), path, nullptr);
    if (!read)
        return base::fail(base::ErrorCode::TooLarge, "This work could not be opened again, so it was not saved: " + read.error().message,
                          read.error().place);
    for (auto& [name, asset] : read->assets) {
        zip_stat_t status;
        zip_stat_init(&status);
        const auto own = work.assets.find(name);
        if (own == work.assets.end() || zip_stat(archive.get(), (kAssetFolder + name).c_str(), 0, &status) != 0 ||
            status.size != own->second.bytes->size())
            return base::fail(base::ErrorCode::CannotWrite, fmt::format("{} was not packed whole; save again", name), path);
        asset.bytes = own->second.bytes;
    }
    if (!(*read == work))
        return base::fail(base::ErrorCode::Internal,
                          "This work opens again as another one, so the old file was kept; save it under another name and report this",
                          path);
    return {};
}

}  // namespace

base::Result<work::Work> openWork(const std::string& path, base::Notes* notes)
{
    const auto bytes = base::readFile(path, kMostBytes);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    return workFromBytes(*bytes, path, notes);
}

base::Result<work::Work> workFromBytes(const std::vector<std::uint8_t>& bytes, const std::string& path, base::Notes* notes)
{
    if (bytes.empty())
        return broken(path, "This file is empty");
    const Archive archive = archiveOf(bytes);
    if (!archive)
        return broken(path, "This is not an Open Glow work, or it is cut off or damaged");
    auto work = readJson(archive.get(), path, notes);
    if (!work)
        return work;
    std::uint64_t total = 0;
    for (auto& [name, asset] : work->assets) {
        auto content = readEntry(archive.get(), kAssetFolder + name, path, kMostAssetBytes - total);
        if (!content)
            return tl::unexpected<base::Error>(content.error());
        total += content->size();
        asset.bytes = std::make_shared<const outline::Bytes>(std::move(*content));
    }
    readPictures(*work, notes);
    return work;
}

base::Result<std::vector<std::uint8_t>> previewBytes(const std::string& path)
{
    const auto bytes = base::readFile(path, kMostBytes);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    const Archive archive = archiveOf(*bytes);
    if (!archive)
        return broken(path, "This is not an Open Glow work, or it is cut off or damaged");
    return readEntry(archive.get(), "preview.png", path, kMostPreviewBytes);
}

base::Result<std::vector<std::uint8_t>> workBytes(const work::Work& open, const std::string& path,
                                                  const std::optional<picture::Raster<std::uint8_t>>& preview)
{
    work::Work work = open;
    work::dropUnusedAssets(work);
    work.nextId = std::max(work.nextId, work::leastNextId(work));
    std::uint64_t total = 0;
    for (const auto& [_, asset] : work.assets)
        total += asset.bytes ? asset.bytes->size() : 0;
    if (total > kMostAssetBytes)
        return base::fail(
            base::ErrorCode::TooLarge,
            fmt::format("Fonts and kept pictures of this work take {} MB, {} are allowed; remove kept pictures in the Export section",
                        total >> 20, kMostAssetBytes >> 20),
            path);
    const auto cannot = [&] {
        return base::fail(base::ErrorCode::CannotWrite, "The work cannot be packed; free some memory and save again", path);
    };
    const std::string json = toJson(work);
    std::vector<std::uint8_t> png;
    if (preview) {
        auto encoded = pngBytes(*preview, 72);
        if (!encoded)
            return tl::unexpected<base::Error>(encoded.error());
        png = std::move(*encoded);
    }
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (!target)
        return cannot();
    zip_source_keep(target);
    const std::unique_ptr<zip_source_t, decltype(&zip_source_free)> keep(target, zip_source_free);
    zip_t* archive = zip_open_from_source(target, ZIP_TRUNCATE, &error);
    if (!archive)
        return cannot();
    bool good = addEntry(archive, "mimetype", kMimeType, std::char_traits<char>::length(kMimeType), false) &&
                addEntry(archive, "work.json", json.data(), json.size(), true);
    for (const auto& [name, asset] : work.assets)
        good =
            good && asset.bytes &&
            addEntry(archive, kAssetFolder + name, asset.bytes->data(), asset.bytes->size(), !name.ends_with(".png"));  // those are packed
    if (preview)
        good = good && addEntry(archive, "preview.png", png.data(), png.size(), false);
    if (!good || zip_close(archive) != 0) {
        zip_discard(archive);
        return cannot();
    }
    zip_stat_t status;
    zip_stat_init(&status);
    if (zip_source_stat(target, &status) != 0 || zip_source_open(target) != 0)
        return cannot();
    std::vector<std::uint8_t> bytes(status.size);
    const bool read = zip_source_read(target, bytes.data(), bytes.size()) == static_cast<zip_int64_t>(bytes.size());
    zip_source_close(target);
    if (!read)
        return cannot();
    if (auto again = opensAgain(bytes, work, path); !again)
        return tl::unexpected<base::Error>(again.error());
    return bytes;
}

base::Result<void> saveWork(const work::Work& work, const std::string& path, const std::optional<picture::Raster<std::uint8_t>>& preview)
{
    const auto bytes = workBytes(work, path, preview);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    return base::replaceFile(path, *bytes);
}

}  // namespace files
