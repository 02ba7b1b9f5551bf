// Stills to picture files: one table of the formats there are.
#pragma once

#include <optional>
#include <span>

#include "files/colour_profile.h"
#include "files/light_source.h"
#include "finish/develop.h"
#include "render/scene.h"
#include "work/work.h"

namespace files {

// What a file shall be beside its format.
struct FileOptions {
    int quality = 92;                      // where something can be lost, 1 to 100
    SharedProfile profile = {};            // of those that name one; nothing: sRGB
    std::vector<std::string> passes = {};  // some of kPassNames: of an EXR, none of them: all; of a PNG those that become files beside it
};
// As an output wishes it. Errors: as profileOf().
base::Result<FileOptions> optionsOf(const work::Work& work, const work::Output& output);

// What a file is written from: the light, and the film where there is one, for passes; and what is said of it.
struct StillSource {
    LightSource light;
    const film::Film* film = nullptr;
    FileOptions options = {};
    work::Credits credits = {};                 // written into all but EXR and AVIF
    std::optional<render::Camera> camera = {};  // for the pass of positions
};

// What an EXR can hold beside its picture, in linear light and premultiplied: each light; coverage; albedo, normals, depth from the
// viewer and place in the world (pt); how much of the lights is hidden; what is seen (piece, letter, part), and how much of a pixel it
// covers; number of samples; the picture with its finish; each layer that covers, by itself; edge lines of a pixel's width.
inline constexpr const char* kPassesOfExrAlone[] = {"position", "coverage", "samples"};
inline constexpr const char* kPassNames[] = {"lights", "alpha",    "albedo",  "normal", "depth",  "position", "shadow",
                                             "ids",    "coverage", "samples", "finish", "layers", "lines"};
// From "all" (those that files of this format can hold), names with commas between them, or nothing. Errors: BadInput.
base::Result<std::vector<std::string>> passesNamed(const std::string& list, work::FileFormat format);

// A format: its ending with the point, bits a channel, and who writes it.
struct Exporter {
    work::FileFormat format;
    const char* ending;
    int bits;
    base::Result<void> (*write)(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                                const base::Progress& progress);
};
std::span<const Exporter> exporters();
const Exporter& exporterOf(work::FileFormat format);
// The one for a file name: that of the format if the ending fits, else the first with this ending. Errors: BadInput.
base::Result<const Exporter*> exporterFor(const std::string& path, work::FileFormat format);
// The format of a name and a number of bits; 8 bits where the format has no such choice.
work::FileFormat formatOf(const std::string& path, int bits);

// Lower-case ending of a file name with its point: ".png".
std::string endingOf(const std::string& path);

// Develops a still into a file, row by row. An .exr holds linear light with the passes of the film, without one coverage and the lights
// alone; those of a PNG become PNGs beside it (pass_pictures.h). `ppi` is that of the written pixels. Errors: BadInput for another ending,
// CannotWrite, those of the source, Stopped.
base::Result<void> saveStill(const StillSource& still, const finish::DevelopSettings& develop, double ppi, work::FileFormat format,
                             const std::string& path, const base::Progress& progress);

// Pixels per inch of a sheet that is rendered `widthPx` wide.
double ppiFor(const work::SheetSize& sheet, int widthPx);

}  // namespace files
