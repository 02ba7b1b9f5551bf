#include "files/form_start.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/file.h"
#include "files/json_reader.h"
#include "files/json_text.h"
#include "files/json_writer.h"
#include "files/own_files.h"
#include "work/values.h"

namespace files {

namespace {

constexpr const char* kFormKind = "form";
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
    const auto bad = [&](const std::string& message, const std::string& where) {
        return base::fail(base::ErrorCode::BadInput, message, path + ", " + where);
    };
    const auto file = readOwnFile(path, kFormKind);
    if (!file)
        return base::failed(file);
    const json::Json& j = file->json;
    FormStart start;
    start.id = file->id;
    start.name = file->name;
    const auto size = j.find("sizePt"), form = j.find("form");
    if (size == j.end() || !size->is_number() || !(size->get<double>() >= kLeastSize && size->get<double>() <= kMostSize))
        return bad(fmt::format("sizePt must be a number from {} to {}", kLeastSize, kMostSize), "/sizePt");
    start.sizePt = size->get<double>();
    if (form == j.end() || !form->is_object())
        return bad("The form is missing; it is an object as docs/format.md describes it", "/form");
    base::Error error;
    json::Reader reader(*form, "/form", error);
    describe(reader, start.form);
    if (!error.message.empty())
        return bad(error.message, error.place);
    if (std::holds_alternative<work::Newer>(start.form))
        return bad("This kind of form was made by a newer Open Glow; update Open Glow", "/form/kind");
    return start;
}

std::vector<FormStart> formStarts(const std::vector<std::string>& folders, base::Notes* notes)
{
    return readAll(folders, ownFormFolder(), readFormStart, notes);
}

base::Result<FormStart> keepForm(const std::string& folder, const std::string& name, const work::Form& form, double sizePt)
{
    FormStart start{{}, name, std::clamp(sizePt, kLeastSize, kMostSize), form, true};
    const auto id = keepOwnFile(folder, kFormKind, name, {{"sizePt", start.sizePt}, {"form", json::Writer::of(form)}});
    if (!id)
        return base::failed(id);
    start.id = *id;
    return start;
}

std::string ownFormFolder()
{
    return ownFolder("forms");
}

std::vector<std::string> formFolders()
{
    return foldersOf("forms");
}

}  // namespace files
