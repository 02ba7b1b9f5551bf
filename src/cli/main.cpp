// open-glow-cli: works to stills, meshes and facts without a window.
#include <CLI/CLI.hpp>

#include <charconv>
#include <csignal>
#include <cstdio>
#include <new>

#include "cli/commands.h"

namespace {

// A number in a range, and a number indeed: "nan" is in no range, whatever compares.
CLI::Validator numberIn(double least, double most)
{
    return CLI::Validator(
        [=](std::string& text) {
            double value = 0;
            const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
            if (error == std::errc{} && end == text.data() + text.size() && value >= least && value <= most)
                return std::string();
            return "takes a number from " + CLI::detail::to_string(least) + " to " + CLI::detail::to_string(most) + ", not " +
                   text.substr(0, 60);
        },
        "NUMBER");
}

// Options of the commands, and what was given.
struct Given {
    cli::NewOptions make;
    cli::RenderOptions render;
    cli::DeskOptions desk;
    cli::OutputsOptions outputs;
    std::vector<std::string> films, set;
    std::string work, out, piece;
    int status = cli::kDone;
};

void addNew(CLI::App& app, Given& given)
{
    auto* newCommand = app.add_subcommand("new", "make a work with one piece: lettering or artwork");
    newCommand->add_option("OUT", given.make.out, "the work to write, .openglow")->required();
    auto* what = newCommand->add_option_group("what it shows")->require_option(1);
    what->add_option("--text", given.make.text, "what it says; $'A\\nB' for lines");
    auto* artwork = what->add_option("--artwork", given.make.artwork, "an SVG, PDF or picture instead of a text; it is kept in the work");
    newCommand->add_option("--page", given.make.page, "page of a PDF (1)")->needs(artwork)->check(CLI::Range(1, 100000));
    auto* fontFile = newCommand->add_option("--font-file", given.make.fontFile, "a font file; it is kept in the work");
    newCommand->add_option("--font", given.make.font, "a family on this machine; its file is kept in the work")->excludes(fontFile);
    newCommand->add_option("--size-pt", given.make.sizePt, "size of the em in pt; without it the text fills the sheet")
        ->check(numberIn(0.1, 50000.0));
    newCommand->add_option("--sheet", given.make.sheet, "WIDTHxHEIGHT in px (1920x1080)");
    newCommand->add_option("--ppi", given.make.ppi, "pixels per inch (72)")->check(numberIn(1.0, 4800.0));
    newCommand->add_option("--material", given.make.material, "a material of the sample book; list materials names them");
    newCommand->add_option("--surroundings", given.make.surroundings,
                           "what is round the letters: a name of list surroundings, or a picture of all round (HDR, EXR, ...)");
    newCommand->add_option("--finish", given.make.finish, "a finish; list finishes names them");
    newCommand->add_option("--light", given.make.light, "a light set-up; list light-set-ups names them");
    newCommand->add_option("--picture", given.make.picture, "a picture laid over it; it is kept in the work");
    newCommand->add_option("--form", given.make.form, "a form to begin with; list forms names them");
    newCommand->add_flag("--force", given.make.force, "write also to a name that does not end in .openglow");
    newCommand->callback([&given] { given.status = cli::runNew(given.make); });
}

void addRender(CLI::App& app, Given& given)
{
    auto* renderCommand = app.add_subcommand("render", "render a work to a picture");
    renderCommand->add_option("WORK", given.render.work, "the work, .openglow")->required();
    renderCommand
        ->add_option("-o,--output", given.render.out, "the picture: .png, .jpg, .webp, .avif, .jxl, .tif, .pdf, or .exr with all passes")
        ->required();
    renderCommand->add_option("--size", given.render.size, "WIDTHxHEIGHT in px instead of the sheet's");
    renderCommand->add_option("--samples", given.render.samples, "stop after so many samples per pixel")->check(CLI::Range(1u, 1000000u));
    renderCommand->add_option("--seconds", given.render.seconds, "stop after so many seconds")->check(numberIn(0.01, 1e7));
    renderCommand->add_option("--noise", given.render.noise, "stop at this noise, in 1/255; 1.5 looks clean")->check(numberIn(0.01, 255.0));
    renderCommand->add_option("--threads", given.render.threads, "use so many threads")->check(CLI::Range(1, 1024));
    renderCommand->add_option("--seed", given.render.seed, "another pattern of grain");
    renderCommand
        ->add_option("--first-sample", given.render.firstSample, "begin with this sample, an even one: a film to be merged with others")
        ->check(CLI::Range(0u, 1000000000u));
    renderCommand->add_option("--region", given.render.region, "X,Y,WIDTH,HEIGHT in px: only this part");
    renderCommand->add_flag("--transparent", given.render.transparent, "keep transparency instead of the backdrop");
    renderCommand->add_option("--bits", given.render.bits, "8 or 16 bits a channel, or 32 of a .tif (8)");
    renderCommand->add_option("--quality", given.render.quality, "of JPEG, WebP, AVIF and JPEG XL, 1 to 100 (92)")
        ->check(CLI::Range(1, 100));
    renderCommand->add_option("--passes", given.render.passes,
                              "of an .exr (without it: all), or as files beside a .png (without it: none): all, or names with commas "
                              "between them: lights, alpha, albedo, normal, depth, position, shadow, ids, coverage, samples, finish, "
                              "layers, lines");
    renderCommand->add_option("--colours", given.render.colours,
                              "of .png, .jpg, .webp and .tif: srgb (as without it), p3, rec2020, or an .icc file");
    renderCommand->add_option("--view-transform", given.render.viewTransform, "true or soft instead of the work's")
        ->check(CLI::IsMember({"true", "soft"}));
    renderCommand->add_option("--denoise", given.render.denoise, "noise reduction: off, fast or full (full)")
        ->check(CLI::IsMember({"off", "fast", "full"}));
    renderCommand->add_option(
        "--film", given.render.film,
        "keep the film in this file, or in bands in this folder for a picture that memory does not hold; the same command goes on from it");
    renderCommand->add_option("--memory", given.render.memory, "GB to use at most; a picture that needs more is made in bands")
        ->check(numberIn(0.01, 1e6));
    renderCommand->add_option("--set", given.render.set, "/json/pointer=value: change the work for this render; can be repeated")
        ->take_all()
        ->expected(1);
    renderCommand->callback([&given] { given.status = cli::runRender(given.render); });
}

void addOutputs(CLI::App& app, Given& given)
{
    auto* outputs = app.add_subcommand("outputs", "render the files that a work's sheet becomes, as its outputs say");
    outputs->add_option("WORK", given.outputs.work, "the work, .openglow")->required();
    outputs->add_option("-o,--output", given.outputs.folder, "the folder they go to")->required();
    outputs->add_option("--samples", given.outputs.samples, "stop each after so many samples per pixel, whatever it says")
        ->check(CLI::Range(1u, 1000000u));
    outputs->add_option("--set", given.outputs.set, "/json/pointer=value")->take_all()->expected(1);
    outputs->callback([&given] { given.status = cli::runOutputs(given.outputs); });
}

void addDesk(CLI::App& app, Given& given)
{
    auto* deskCommand = app.add_subcommand("desk", "mix the lights of a film anew, without rendering");
    deskCommand->add_option("WORK", given.desk.work, "the work that was rendered, .openglow")->required();
    deskCommand->add_option("FILM", given.desk.film, "the film that render --film kept")->required();
    deskCommand->add_option("-o,--output", given.desk.out, "the picture: .png, .jpg, .webp, .tif, or .exr with all passes")->required();
    deskCommand->add_option("--set", given.desk.set, "/json/pointer=value: brightness, colour, finish; can be repeated")
        ->take_all()
        ->expected(1);
    deskCommand->add_option("--solo", given.desk.solo, "only this light, or surroundings or emissive; can be repeated")
        ->take_all()
        ->expected(1);
    deskCommand->add_option("--seed", given.desk.seed, "the seed the film was made with");
    deskCommand->add_option("--denoise", given.desk.denoise, "noise reduction: off, fast or full (full)")
        ->check(CLI::IsMember({"off", "fast", "full"}));
    deskCommand->add_flag("--transparent", given.desk.transparent, "keep transparency instead of the backdrop");
    deskCommand->add_option("--bits", given.desk.bits, "8 or 16 bits a channel (8)");
    deskCommand->add_option("--quality", given.desk.quality, "of JPEG and WebP, 1 to 100 (92)")->check(CLI::Range(1, 100));
    deskCommand->callback([&given] { given.status = cli::runDesk(given.desk); });
}

void addFilm(CLI::App& app, Given& given)
{
    auto* film = app.add_subcommand("film", "films as files");
    film->require_subcommand(1);
    auto* merge = film->add_subcommand("merge", "make one film of several of the same work that hold different samples");
    merge->add_option("FILMS", given.films, "films that render --film kept, with different --first-sample")->required();
    merge->add_option("-o,--output", given.out, "the merged film")->required();
    merge->callback([&given] { given.status = cli::runMerge(given.films, given.out); });
}

void addMeshOutlineAndInfo(CLI::App& app, Given& given)
{
    auto* mesh = app.add_subcommand("mesh", "save the bodies of a work");
    mesh->add_option("WORK", given.work, "the work, .openglow")->required();
    mesh->add_option("-o,--output", given.out, "the mesh: .stl for printing, .glb with materials and view")->required();
    mesh->add_option("--set", given.set, "/json/pointer=value")->take_all()->expected(1);
    mesh->callback([&given] { given.status = cli::runMesh(given.work, given.out, given.set); });

    auto* outline = app.add_subcommand("outline", "write the outlines of a work as an SVG in true curves");
    outline->add_option("WORK", given.work, "the work, .openglow")->required();
    outline->add_option("-o,--output", given.out, "the drawing, .svg")->required();
    outline->add_option("--piece", given.piece, "only this one, by its id as info tells it");
    outline->add_option("--set", given.set, "/json/pointer=value")->take_all()->expected(1);
    outline->callback([&given] { given.status = cli::runOutline(given.work, given.out, given.piece, given.set); });

    auto* info = app.add_subcommand("info", "facts about a work, as JSON");
    info->add_option("WORK", given.work, "the work, .openglow")->required();
    info->add_option("--set", given.set, "/json/pointer=value")->take_all()->expected(1);
    info->callback([&given] { given.status = cli::runInfo(given.work, given.set); });
}

void addList(CLI::App& app, Given& given)
{
    auto* list = app.add_subcommand("list", "what there is to begin with");
    list->require_subcommand(1);
    auto* materials =
        list->add_subcommand("materials", "the sample book's materials for new --material, your own among them: name, title and group");
    materials->callback([&given] { given.status = cli::runListMaterials(); });
    auto* around = list->add_subcommand("surroundings", "surroundings for new --surroundings: name, title, and what they are like");
    around->callback([&given] { given.status = cli::runListSurroundings(); });
    auto* lights =
        list->add_subcommand("light-set-ups", "light set-ups for new --light, your own among them: name, title, and what they are like");
    lights->callback([&given] { given.status = cli::runListLightSetups(); });
    auto* finishes =
        list->add_subcommand("finishes", "finishes for new --finish, your own among them: name, title, and what they are like");
    finishes->callback([&given] { given.status = cli::runListFinishes(); });
    auto* forms = list->add_subcommand("forms", "forms for new --form, your own among them: name and title on a line each");
    forms->callback([&given] { given.status = cli::runListForms(); });
}

int run(int argc, char** argv)
{
    CLI::App app{"Makes 3D type from the command line. Exit status: 0 done, 1 the work or a file is at fault, 2 wrong usage, 130 stopped."};
    app.name("open-glow-cli");
    app.require_subcommand(1);
    app.set_version_flag("--version", "open-glow-cli " OPEN_GLOW_VERSION);
    Given given;
    addNew(app, given);
    addRender(app, given);
    addOutputs(app, given);
    addDesk(app, given);
    addFilm(app, given);
    addMeshOutlineAndInfo(app, given);
    addList(app, given);
    auto* schema = app.add_subcommand("schema", "the JSON schema of the work file");
    schema->callback([&given] { given.status = cli::runSchema(); });

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        if (e.get_exit_code() == 0)
            return app.exit(e);
        std::string line = e.what();
        for (char& c : line)
            if (c == '\n')
                c = ' ';
        std::fprintf(stderr, "open-glow-cli: %s; see open-glow-cli --help\n", line.c_str());
        return cli::kUsage;
    }
    return given.status;
}

}  // namespace

int main(int argc, char** argv)
{
    std::signal(SIGXFSZ, SIG_IGN);  // a file that grows over the system's limit is an error like a full disk
    try {
        return run(argc, argv);
    } catch (const std::bad_alloc&) {
        std::fprintf(stderr, "open-glow-cli: There is not enough memory; close other programs or make the picture smaller\n");
    } catch (const std::exception&) {
        std::fprintf(stderr, "open-glow-cli: The system refuses what is needed, such as threads; close other programs and try again\n");
    }
    return cli::kFault;
}
