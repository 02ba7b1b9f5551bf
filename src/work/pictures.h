// Pictures that materials have, as a work keeps them: each file once, by its contents.
#pragma once

#include <array>

#include "work/work.h"

namespace work {

// A file as it was read, see files/texture_file.h.
struct PictureFile {
    std::string name;  // with its ending
    outline::SharedBytes bytes;
    surface::SharedTexture texture;
};

// A picture of all round, see files/panorama_file.h.
struct PanoramaFile {
    std::string name;
    outline::SharedBytes bytes;
    light::SharedPanorama panorama;
};

// What a material can take from a picture.
inline constexpr std::array<std::string Pictures::*, 7> kPictureRoles = {
    &Pictures::colour, &Pictures::roughness, &Pictures::metallic, &Pictures::relief, &Pictures::cutOut, &Pictures::light, &Pictures::coat};

// Whether an asset of this name is one: "pictures/<stem>-<contents>.png".
bool isPicture(const std::string& asset);
// As the file was called, about: "<stem>.png".
std::string pictureTitle(const std::string& asset);

// Takes the file into the work, where it is not there yet, and names it. Nothing uses it then.
std::string addPicture(Work& work, const PictureFile& file);

// The same of pictures of all round: "surroundings/<stem>-<contents>.hdr".
bool isPanorama(const std::string& asset);
std::string addPanorama(Work& work, const PanoramaFile& file);
// What one shows; nothing where it is missing in the work or cannot be read.
light::SharedPanorama panoramaOf(const Work& work, const std::string& asset);

// Puts another picture in the place of one, wherever it is used. Returns in how many materials it was, and behind everything.
int replacePicture(Work& work, const std::string& asset, const PictureFile& by);

// Lays a picture on a material as its colour: as wide as `widthPt`, in the middle.
void layPicture(Material& material, const std::string& asset, double widthPt);

// The materials' pictures as they are rendered. What is missing in the work, or cannot be read, is left out.
surface::Pictures picturesOf(const Work& work, const Pictures& pictures);

// How wide a picture begins: as what it is laid on.
double usualPictureWidth(const Work& work, const std::string& piece);  // "": of wall and floor

}  // namespace work
