#include "files/form_start.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

#include "base/file.h"
#include "files/json_reader.h"
#include "files/json_text.h"
#include "files/json_writer.h"
#include "files/own_files.h"
#include "work/values.h"

namespace files {

namespace {

namespace places = std::filesystem;

constexpr const char* kFormFormat = "open-glow form";
constexpr std::uint64_t kMostFormFile = 1 << 20;
constexpr double kLeastSize = 0.1, kMostSize = 50000;

}  // namespace

work::Form FormStart::at(double size) const
{
    work::Piece piece;
    piece.form = form;
    work::grow(piece, size / sizePt);
    return piece.form;
}

base::Result<FormStart> readFormStart(const std::string& path)
{
    const auto bad = [&](const std::string& message, const std::string& where = {}) {
        return base::fail(base::ErrorCode::BadInput, message, where.empty() ? path : path + ", " + where);
    };
    const auto bytes = base::readFile(path, kMostFormFile);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    const auto parsed = json::parse({bytes->begin(), bytes->end()});
    if (!parsed)
        return bad(parsed.error().message, parsed.error().place);
    const json::Json& j = *parsed;
    if (!j.is_object() || j.value("format", json::Json()) != kFormFormat)
        return bad("This is no form of Open Glow: it must be an object with \"format\": \"open-glow form\"");
    if (j.value("version", json::Json()) != 1)
        return bad("This form was made by a newer Open Glow; update Open Glow", "/version");
    FormStart start;
    start.id = places::path(path).stem().string();
    const auto name = j.find("name"), size = j.find("sizePt"), form = j.find("form");
    if (name == j.end() || !name->is_string() || name->get<std::string>().empty() || name->get<std::string>().size() > 200)
        return bad("A form needs a name of 1 to 200 bytes", "/name");
    start.name = name->get<std::string>();
    if (size == j.end() || !size->is_number() || !(size->get<double>() >= kLeastSize && size->get<double>() <= kMostSize))
        return bad(fmt::format("sizePt must be a number from {} to {}", kLeastSize, kMostSize), "/sizePt");
    start.sizePt = size->get<double>();
    if (form == j.end() || !form->is_object())
        return bad("The form is missing; it is an object as docs/format.md describes it", "/form");
    base::Error error;
    json::Reader reader{&*form, "/form", &error, nullptr};
    describe(reader, start.form);
    if (!error.message.empty())
        return bad(error.message, error.place);
    if (std::holds_alternative<work::Newer>(start.form))
        return bad("This kind of form was made by a newer Open Glow; update Open Glow", "/form/kind");
    return start;
}

std::vector<FormStart> formStarts(const std::vector<std::string>& folders, base::Notes* notes)
{
    std::vector<FormStart> starts;
    for (const std::string& folder : folders) {
        for (const std::string& path : jsonFilesIn(folder)) {
            auto start = readFormStart(path);
            if (!start) {
                if (notes)
                    notes->push_back({"left-out", start.error().message, start.error().place});
                continue;
            }
            start->own = folder == ownFormFolder();
            std::erase_if(starts, [&](const FormStart& s) { return s.id == start->id; });
            starts.push_back(std::move(*start));
        }
    }
    return starts;
}

base::Result<FormStart> keepForm(const std::string& folder, const std::string& name, const work::Form& form, double sizePt)
{
    FormStart start{fileNameFor(name), name, std::clamp(sizePt, kLeastSize, kMostSize), form, true};
    if (start.id.empty())
        return base::fail(base::ErrorCode::BadInput, "A form is kept by a name; give it one with a letter or a digit");
    std::error_code error;
    places::create_directories(folder, error);
    const json::OrderedJson j = {
        {"format", kFormFormat}, {"version", 1}, {"name", name}, {"sizePt", start.sizePt}, {"form", json::Writer::of(form)}};
    if (auto written = base::replaceFile((places::path(folder) / (start.id + ".json")).string(), j.dump(2) + "\n"); !written)
        return tl::unexpected<base::Error>(written.error());
    return start;
}

std::string ownFormFolder()
{
    return ownFolder("forms");
}

std::vector<std::string> formFolders()
{
    std::error_code error;
    const places::path installed = places::read_symlink("/proc/self/exe", error).parent_path() / "../share/open-glow/forms";
    return {places::is_directory(installed, error) ? installed.string() : std::string(OPEN_GLOW_FORMS), ownFormFolder()};
}

}  // namespace files
