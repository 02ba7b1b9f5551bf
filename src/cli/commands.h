// What open-glow-cli does, one function a command. Each returns the exit status.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace cli {

enum Exit { kDone = 0, kFault = 1, kUsage = 2, kStopped = 130 };

struct NewOptions {
    std::string out, text, fontFile, font, artwork, form, material, picture, surroundings, light, finish;
    int page = 1;
    double sizePt = 0, ppi = 72;
    std::string sheet = "1920x1080";
    bool force = false;
};
int runNew(const NewOptions& options);
int runListForms();
int runListMaterials();
int runListSurroundings();
int runListLightSetups();
int runListFinishes();

struct RenderOptions {
    std::string work, out, size, region, film;
    unsigned samples = 0;
    double seconds = 0, noise = 0;
    double memory = 0;  // GB; 0: what is free
    int threads = 0;
    std::uint32_t seed = 0, firstSample = 0;
    bool transparent = false;
    int bits = 8, quality = 92;
    std::string viewTransform, denoise = "full", passes, colours;
    std::vector<std::string> set;
};
int runRender(const RenderOptions& options);

// All outputs of the sheet that is shown, into a folder, by their name patterns. Those of one size share a film.
struct OutputsOptions {
    std::string work, folder;
    unsigned samples = 0;  // 0: as each says
    std::vector<std::string> set;
};
int runOutputs(const OutputsOptions& options);

struct DeskOptions {
    std::string work, film, out, denoise = "full";
    std::uint32_t seed = 0;
    bool transparent = false;
    int bits = 8, quality = 92;
    std::vector<std::string> set, solo;
};
int runDesk(const DeskOptions& options);

// Puts films of one exposure together.
int runMerge(const std::vector<std::string>& films, const std::string& out);

// The outlines of all pieces, or of one, as SVG.
int runOutline(const std::string& work, const std::string& out, const std::string& piece, const std::vector<std::string>& set);
int runMesh(const std::string& work, const std::string& out, const std::vector<std::string>& set);
int runInfo(const std::string& work, const std::vector<std::string>& set);
int runSchema();

}  // namespace cli
