#include "files/material_sample.h"

#include <algorithm>
#include <cctype>

#include "files/json_reader.h"
#include "files/json_writer.h"
#include "files/own_files.h"
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

base::Result<MaterialSample> readMaterialSample(const std::string& path)
{
    const auto bad = [&](const std::string& message, const std::string& where) {
        return base::fail(base::ErrorCode::BadInput, message, path + ", " + where);
    };
    const auto file = readOwnFile(path, kMaterialKind);
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
    json::Reader reader{&*material, "/material", &error, nullptr};
    describe(reader, sample.material);
    if (!error.message.empty())
        return bad(error.message, error.place);
    sample.material.swatch.clear();
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

base::Result<MaterialSample> keepMaterial(const std::string& folder, const std::string& name, const work::Material& material)
{
    MaterialSample sample{{}, name, kOwnMaterials, {}, material, true};
    sample.material.swatch.clear();
    const auto id = keepOwnFile(folder, kMaterialKind, name, {{"material", json::Writer::of(sample.material)}});
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
