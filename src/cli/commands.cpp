// new, mesh, info, schema.
#include "cli/commands.h"

#include <fmt/format.h>

#include <cmath>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>

#include "base/file.h"
#include "base/words.h"
#include "cli/terminal.h"
#include "cli/works.h"
#include "files/artwork.h"
#include "files/finish_start.h"
#include "files/form_start.h"
#include "files/light_setup.h"
#include "files/material_sample.h"
#include "files/mesh_file.h"
#include "files/panorama_file.h"
#include "files/still_file.h"
#include "files/texture_file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "outline/text.h"
#include "solid/centre_line.h"
#include "solid/check.h"
#include "work/fonts.h"
#include "work/make_still.h"
#include "work/pictures.h"
#include "work/piece_outlines.h"
#include "work/surroundings.h"
#include "work/typeset.h"

namespace cli {

namespace {

constexpr double kPreviewSide = 256;  // px
constexpr const char* kUsualFont = "League Spartan Bold";

base::Result<work::Work> newLettering(const NewOptions& options, const work::SheetSize& sheet, work::Cache& cache, base::Notes& notes)
{
    const auto font = !options.fontFile.empty() ? work::fontFromFile(options.fontFile)
                                                : work::fontNamed(options.font.empty() ? kUsualFont : options.font);
    if (!font)
        return tl::unexpected<base::Error>(font.error());
    if (!font->exact && !options.font.empty())
        notes.push_back(
            {"missing-font", fmt::format("\"{}\" is not on this machine; \"{}\" stands in", options.font, font->choice.family), "--font"});
    work::Work work = work::newWork(options.text, font->choice, sheet);
    work.assets[font->choice.asset] = font->asset;
    work::Piece& piece = work.pieces.items.begin()->second;
    if (options.sizePt > 0) {
        work::scaleTo(piece, options.sizePt);
    } else {
        // As large as fits four fifths of the width and three fifths of the height.
        const auto set = work::typeset(work, piece, cache, notes);
        if (!set)
            return tl::unexpected<base::Error>(set.error());
        const double now = piece.sizePt(), wide = set->layout.widthPt;
        const double high = set->capHeightPt - set->layout.baselines.back();
        const double fit = std::min(wide > 0 ? 0.8 * sheet.widthPt() / wide : 1, 0.6 * sheet.heightPt() / high);
        work::scaleTo(piece, now * fit);
    }
    return work;
}

base::Result<work::Work> newArtwork(const NewOptions& options, const work::SheetSize& sheet, base::Notes& notes)
{
    const auto file = files::readArtworkFile(options.artwork, options.page, base::Progress(stopOnSignals()));
    if (!file)
        return tl::unexpected<base::Error>(file.error());
    notes.insert(notes.end(), file->drawing.notes.begin(), file->drawing.notes.end());
    work::Work work = work::emptyWork(sheet);
    const std::string id = work::addArtwork(work, *file);
    if (options.sizePt > 0)
        work::scaleTo(work.pieces.items.at(id), options.sizePt);
    return work;
}

}  // namespace

int runListForms()
{
    base::Notes notes;
    for (const files::FormStart& form : files::formStarts(files::formFolders(), &notes))
        fmt::print("{}\t{}\n", form.id, form.name);
    printNotes(notes);
    return kDone;
}

int runListMaterials()
{
    base::Notes notes;
    for (const files::MaterialSample& sample : files::materialSamples(files::materialFolders(), &notes))
        fmt::print("{}\t{}\t{}\n", sample.id, sample.name, sample.group);
    printNotes(notes);
    return kDone;
}

int runListSurroundings()
{
    for (const work::ReadySurroundings& ready : work::readySurroundings())
        fmt::print("{}\t{}\t{}\n", ready.id, ready.name, ready.words);
    return kDone;
}

int runListLightSetups()
{
    base::Notes notes;
    for (const files::NamedLightSetup& setup : files::lightSetups(files::lightSetupFolders(), &notes))
        fmt::print("{}\t{}\t{}\n", setup.id, setup.name, setup.words);
    printNotes(notes);
    return kDone;
}

int runListFinishes()
{
    base::Notes notes;
    for (const files::NamedFinish& finish : files::finishes(files::finishFolders(), &notes))
        fmt::print("{}\t{}\t{}\n", finish.id, finish.name, finish.words);
    printNotes(notes);
    return kDone;
}

namespace {

// The one with that name or title, in any case, for an option and the command that lists them; nothing where the option was not given.
// Errors: what is wrong with it.
template <class Kept>
base::Result<std::optional<Kept>> named(const std::vector<Kept>& all, const std::string& id, const char* option, const char* what,
                                        const char* list)
{
    if (id.empty())
        return std::optional<Kept>();
    auto found = std::ranges::find(all, id, &Kept::id);
    if (found == all.end())
        found = std::ranges::find_if(all, [&](const Kept& k) { return base::sameInAnyCase(k.id, id) || base::sameInAnyCase(k.name, id); });
    if (found == all.end())
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("{}: there is no {} \"{}\"; open-glow-cli list {} names them", option, what, id, list));
    return std::optional(*found);
}

}  // namespace

int runNew(const NewOptions& options)
{
    const auto size = wholeNumbers(options.sheet, 'x', 2);
    if (!size || (*size)[0] < 1 || (*size)[1] < 1)
        return wrongUsage(fmt::format("--sheet takes WIDTHxHEIGHT in px, such as 1920x1080, not \"{}\"", options.sheet));
    if (!outline::isUtf8(options.text))
        return wrongUsage("--text must be UTF-8");
    if (!options.force && files::endingOf(options.out) != ".openglow")
        return wrongUsage(fmt::format("OUT takes a name that ends in .openglow, not \"{}\"; --force writes it all the same", options.out));
    if (const auto place = base::writablePlace(options.out); !place)
        return report(place.error());
    work::Cache cache;
    base::Notes notes;
    work::SheetSize sheet;
    sheet.width = (*size)[0];
    sheet.height = (*size)[1];
    sheet.ppi = options.ppi;
    const auto all = [](bool wanted, auto read, auto folders) {
        return wanted ? read(folders(), nullptr) : decltype(read(folders(), nullptr))();
    };
    const auto form = named(all(!options.form.empty(), files::formStarts, files::formFolders), options.form, "--form", "form", "forms");
    if (!form)
        return wrongUsage(form.error().message);
    const auto material = named(all(!options.material.empty(), files::materialSamples, files::materialFolders), options.material,
                                "--material", "material", "materials");
    if (!material)
        return wrongUsage(material.error().message);
    const auto lights = named(all(!options.light.empty(), files::lightSetups, files::lightSetupFolders), options.light, "--light",
                              "light set-up", "light-set-ups");
    if (!lights)
        return wrongUsage(lights.error().message);
    const auto finish =
        named(all(!options.finish.empty(), files::finishes, files::finishFolders), options.finish, "--finish", "finish", "finishes");
    if (!finish)
        return wrongUsage(finish.error().message);
    const work::ReadySurroundings* around = work::readySurroundings(options.surroundings);
    std::optional<work::PanoramaFile> round;
    if (!around && !options.surroundings.empty()) {
        if (!std::filesystem::exists(options.surroundings))
            return wrongUsage(fmt::format(
                "--surroundings: there are none of the name \"{}\", and no such file; open-glow-cli list surroundings names them",
                options.surroundings));
        auto file = files::readPanoramaFile(options.surroundings, &notes, {});
        if (!file)
            return report(file.error());
        round = std::move(*file);
    }
    auto made = options.artwork.empty() ? newLettering(options, sheet, cache, notes) : newArtwork(options, sheet, notes);
    if (!made)
        return report(made.error());
    work::Work& work = *made;
    if (*form)
        for (auto& [_, piece] : work.pieces.items)
            piece.form = (*form)->at(piece.sizePt());
    if (*material)
        for (auto& [_, piece] : work.pieces.items) {
            piece.material = {(*material)->material, {}};
            for (auto& [letter, own] : piece.letters)
                own.material.reset();
        }
    if (around)
        work::useSurroundings(work, *around);
    else if (!round && *material && work::isDullInEvenLight((*material)->material))
        work::useSurroundings(work, *work::readySurroundings(work::kFrontForMetal));
    if (round)
        work::usePanorama(work, *round);
    if (*lights)
        work::useLightSetup(work, (*lights)->setup);
    if (*finish)
        work::useFinish(work, (*finish)->start);
    if (!options.picture.empty()) {
        const auto file = files::readPictureFile(options.picture, {});
        if (!file)
            return report(file.error());
        const std::string asset = work::addPicture(work, *file);
        for (auto& [id, piece] : work.pieces.items)
            for (work::Material* m : work::materialsIn(piece))
                work::layPicture(*m, asset, work::usualPictureWidth(work, id));
    }
    const auto valid = files::fromJson(files::toJson(work));
    if (!valid)
        return report(valid.error());
    auto bodies = work::makeBodies(work, work::toleranceFor(sheet, sheet.widthPx()), cache, {});
    if (!bodies)
        return report(bodies.error());
    notes.insert(notes.end(), bodies->notes.begin(), bodies->notes.end());
    printNotes(notes);
    // A small picture for file managers.
    work::StillSettings small;
    const double shrink = kPreviewSide / std::max(sheet.width, sheet.height);
    small.widthPx = std::max(1, static_cast<int>(std::lround(sheet.width * shrink)));
    small.heightPx = std::max(1, static_cast<int>(std::lround(sheet.height * shrink)));
    small.stop = {16, 0, 0};
    const auto preview = work::makeStill(work, small, cache, {});
    if (!preview)
        return report(preview.error());
    if (auto saved = files::saveWork(work, options.out, finish::to8Bits(preview->picture)); !saved)
        return report(saved.error());
    return kDone;
}

int runOutline(const std::string& path, const std::string& out, const std::string& piece, const std::vector<std::string>& set)
{
    if (files::endingOf(out) != ".svg")
        return wrongUsage(fmt::format("-o takes a name that ends in .svg, not \"{}\"", out));
    const auto work = openWith(path, set);
    if (!work)
        return report(work.error(), path);
    if (!piece.empty() && !work->pieces.items.contains(piece))
        return wrongUsage(fmt::format("--piece: there is no piece \"{}\" in {}; open-glow-cli info names them", piece, path));
    work::Cache cache;
    const auto text = work::piecesAsSvg(*work, piece.empty() ? work->pieces.order : std::vector{piece}, cache);
    if (!text)
        return report(text.error(), path);
    if (auto saved = base::replaceFile(out, *text); !saved)
        return report(saved.error());
    return kDone;
}

int runMesh(const std::string& path, const std::string& out, const std::vector<std::string>& set)
{
    if (!files::isMeshName(out))
        return wrongUsage(fmt::format("-o takes a name that ends in .stl or .glb, not \"{}\"", out));
    const auto work = openWith(path, set);
    if (!work)
        return report(work.error(), path);
    if (const auto place = base::writablePlace(out); !place)
        return report(place.error());
    work::Cache cache;
    const auto bodies =
        work::makeBodies(*work, work::toleranceFor(work->sheet(), work->sheet().widthPx()), cache, base::Progress(stopOnSignals()));
    if (!bodies)
        return report(bodies.error(), path);
    printNotes(bodies->notes);
    if (auto saved = files::saveMesh(*work, *bodies, out); !saved)
        return report(saved.error());
    return kDone;
}

namespace {

// How thin a piece is where it is thinnest: its narrowest stroke, or its depth or its tube. Nothing where there is nothing to measure.
std::optional<double> thinnestWall(const work::Work& work, const std::string& id, work::Cache& cache)
{
    const work::Piece& piece = work.pieces.items.at(id);
    const auto outlines = work::outlinesOf(work, id, work::toleranceFor(work.sheet(), work.sheet().widthPx()), cache, {});
    if (!outlines)
        return std::nullopt;
    std::optional<double> least;
    const auto take = [&](double pt) { least = std::min(least.value_or(pt), pt); };
    for (const work::PieceOutlines::Part& part : outlines->parts) {
        const work::Form& form = piece.formOf(part.letter);
        if (const auto* tube = std::get_if<solid::TubeForm>(&form)) {
            take(std::min(tube->widthPt, tube->heightPt > 0 ? tube->heightPt : tube->widthPt));
            continue;
        }
        if (const double depth = work::depthOf(form); depth > 0)
            take(depth);
        for (const outline::PlacedOutline& placed : part.outlined->outlines)
            if (const auto stroke = solid::thinnestStroke(*placed.outline); stroke && *stroke > 0)
                take(*stroke);
    }
    return least;
}

}  // namespace

int runInfo(const std::string& path, const std::vector<std::string>& set)
{
    using Json = nlohmann::ordered_json;
    const auto work = openWith(path, set);
    if (!work)
        return report(work.error(), path);
    work::Cache cache;
    const auto bodies =
        work::makeBodies(*work, work::toleranceFor(work->sheet(), work->sheet().widthPx()), cache, base::Progress(stopOnSignals()));
    if (!bodies)
        return report(bodies.error(), path);
    Json out;
    out["sheet"] = {{"widthPx", work->sheet().widthPx()},
                    {"heightPx", work->sheet().heightPx()},
                    {"widthPt", work->sheet().widthPt()},
                    {"heightPt", work->sheet().heightPt()},
                    {"ppi", work->sheet().ppi}};
    base::Box3 box;
    std::size_t triangles = 0;
    double volume = 0;
    bool closed = true;
    std::map<std::string, std::size_t> bodyCount;
    std::map<std::string, double> volumes;  // with its copies
    for (const work::WorkBody& b : bodies->bodies) {
        const solid::BodyReport r = solid::inspect(*b.body);
        triangles += b.body->triangles.size();
        volume += r.volumePt3;
        closed = closed && r.closed();
        ++bodyCount[b.piece];
        volumes[b.piece] += r.volumePt3;
        for (const base::Vec3f& p : b.body->positions)
            box.add(b.pose.apply(toDouble(p)));
    }
    out["pieces"] = Json::array();
    for (const std::string& id : work->pieces.order) {
        const work::Piece& piece = work->pieces.items.at(id);
        out["pieces"].push_back({{"id", id},
                                 {"text", piece.lettering() ? piece.lettering()->text : std::string()},
                                 {"letters", piece.letterIds().size()},
                                 {"bodies", bodyCount[id]},
                                 {"volumePt3", volumes[id]}});
        if (const auto thinnest = thinnestWall(*work, id, cache))
            out["pieces"].back()["thinnestPt"] = *thinnest;
        if (const work::Artwork* artwork = piece.artwork()) {
            Json& shapes = out["pieces"].back()["shapes"] = Json::array();
            for (const std::string& letter : artwork->shapes.order) {
                const work::ArtShape& shape = artwork->shapes.items.at(letter);
                shapes.push_back({{"id", letter}, {"name", shape.name}, {"colour", picture::hexFromRgb(shape.colour)}});
            }
            out["pieces"].back()["artwork"] = artwork->name;
        }
        if (const auto* newer = std::get_if<work::Newer>(&piece.source))
            out["pieces"].back()["newerKind"] = newer->kind;
    }
    out["letters"] = 0;
    for (const auto& piece : out["pieces"])
        out["letters"] = out["letters"].get<std::size_t>() + piece["letters"].get<std::size_t>();
    out["bodies"] = bodies->bodies.size();
    out["triangles"] = triangles;
    if (!box.empty())
        out["boundsPt"] = {{"low", {box.low.x, box.low.y, box.low.z}}, {"high", {box.high.x, box.high.y, box.high.z}}};
    out["volumePt3"] = volume;
    out["closed"] = closed;
    out["notices"] = Json::array();
    for (const base::Note& n : bodies->notes)
        out["notices"].push_back({{"kind", n.kind}, {"message", n.message}, {"place", n.place}});
    return printOut(out.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
}

int runSchema()
{
    return printOut(files::schema());
}

}  // namespace cli
