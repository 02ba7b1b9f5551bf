#include "files/material_sample.h"

#include <algorithm>
#include <cctype>

#include "files/base64.h"
#include "files/json_reader.h"
#include "files/json_text.h"
#include "files/json_writer.h"
#include "files/own_files.h"
#include "work/pictures.h"
#include "work/properties.h"

namespace files {

namespace {

constexpr const char* kMaterialKind = "material";

// In small letters, as far as they are ASCII.
std::vector<std::string> wordsOf(const std::string& text)
{
    std::vector<std::string> words(1);
    for (const unsigned char c : text)
        if (c >= 0x80 || std::isalnum(c))
            words.back() += static_cast<char>(c < 0x80 ? std::tolower(c) : c);
        else if (!words.back().empty())
            words.emplace_back();
    if (words.back().empty())
        words.pop_back();
    return words;
}

}  // namespace

bool MaterialSample::isFoundBy(const std::string& search) const
{
    const std::vector<std::string> known = wordsOf(name + " " + group + " " + words), wanted = wordsOf(search);
    return std::all_of(wanted.begin(), wanted.end(), [&](const std::string& word) {
        return std::any_of(known.begin(), known.end(), [&](const std::string& k) { return k.starts_with(word); });
    });
}

namespace {

// The pictures of a sample, under the names that works give them; those it names and has not are left out.
base::Result<void> readFiles(const OwnFile& file, MaterialSample& sample)
{
    work::Work taken;
    work::Pictures named = std::move(sample.material.pictures);
    sample.material.pictures = named;
    for (const auto role : work::kPictureRoles)
        (sample.material.pictures.*role).clear();
    const auto files = file.json.find("files");
    if (files == file.json.end())
        return {};
    if (!files->is_object())
        return base::fail(base::ErrorCode::BadInput, "This must be an object in braces", "/files");
    for (const auto& [name, text] : files->items()) {
        auto bytes = text.is_string() ? bytesFromBase64(text.get_ref<const std::string&>()) : std::nullopt;
        if (!bytes)
            return base::fail(base::ErrorCode::BadInput, "This must be a file in base64", "/files/" + json::escaped(name));
        const std::string key =
            work::addPicture(taken, {work::pictureTitle(name), std::make_shared<const outline::Bytes>(std::move(*bytes)), {}});
        for (const auto role : work::kPictureRoles)
            if (named.*role == name)
                sample.material.pictures.*role = key;
    }
    sample.pictures = std::move(taken.assets);
    return {};
}

}  // namespace

base::Result<MaterialSample> readMaterialSample(const std::string& path)
{
    const auto bad = [&](const std::string& message, const std::string& where) {
        return base::fail(base::ErrorCode::BadInput, message, path + ", " + where);
    };
    const auto file = readOwnFile(path, kMaterialKind, json::kMostBytes);
    if (!file)
        return base::failed(file);
    MaterialSample sample;
    sample.id = file->id;
    sample.name = file->name;
    for (const auto& [key, value] : {std::pair{"group", &sample.group}, std::pair{"words", &sample.words}}) {
        const auto found = file->json.find(key);
        if (found == file->json.end())
            continue;
        if (!found->is_string() || found->get<std::string>().size() > 1000)
            return bad("This must be a text of up to 1000 bytes", std::string("/") + key);
        *value = found->get<std::string>();
    }
    const auto material = file->json.find("material");
    if (material == file->json.end() || !material->is_object())
        return bad("The material is missing; it is an object as docs/format.md describes it", "/material");
    base::Error error;
    json::Reader reader(*material, "/material", error);
    describe(reader, sample.material);
    if (!error.message.empty())
        return bad(error.message, error.place);
    sample.material.swatch.clear();
    if (const auto pictures = readFiles(*file, sample); !pictures)
        return bad(pictures.error().message, pictures.error().place);
    return sample;
}

std::vector<MaterialSample> materialSamples(const std::vector<std::string>& folders, base::Notes* notes)
{
    std::vector<MaterialSample> samples = readAll(folders, ownMaterialFolder(), readMaterialSample, notes);
    for (MaterialSample& sample : samples)
        if (sample.own)
            sample.group = kOwnMaterials;
    std::stable_sort(samples.begin(), samples.end(),
                     [](const MaterialSample& a, const MaterialSample& b) { return a.own != b.own ? a.own : a.group < b.group; });
    return samples;
}

base::Result<MaterialSample> keepMaterial(const std::string& folder, const std::string& name, const work::Material& material,
                                          const std::map<std::string, work::Asset>& assets)
{
    MaterialSample sample{{}, name, kOwnMaterials, {}, material, true, {}};
    sample.material.swatch.clear();
    json::OrderedJson pictures = json::OrderedJson::object();
    std::size_t size = 0;
    for (const auto role : work::kPictureRoles) {
        const std::string& key = sample.material.pictures.*role;
        const auto asset = key.empty() ? assets.end() : assets.find(key);
        if (asset == assets.end() || !asset->second.bytes || !sample.pictures.insert(*asset).second)
            continue;
        pictures[key] = base64Of(*asset->second.bytes);
        size += asset->second.bytes->size() / 3 * 4 + key.size() + 100;
    }
    if (size + 100000 > json::kMostBytes)
        return base::fail(base::ErrorCode::TooLarge, "The pictures of this material are too large to be kept with it; make them smaller");
    json::OrderedJson values = {{"material", json::Writer::of(sample.material)}};
    if (!pictures.empty())
        values["files"] = std::move(pictures);
    const auto id = keepOwnFile(folder, kMaterialKind, name, values);
    if (!id)
        return base::failed(id);
    sample.id = *id;
    return sample;
}

std::string ownMaterialFolder()
{
    return ownFolder("materials");
}

std::vector<std::string> materialFolders()
{
    return foldersOf("materials");
}

}  // namespace files
