// The part of the table of properties that speaks of the finish; see properties.h.
#pragma once

#include "work/finish.h"
#include "work/visitor.h"

namespace work {

template <>
struct Kinds<decltype(Layer::what)> {
    static constexpr KindName names[] = {
        {"tone", "Tone"},         {"levels", "Levels"},       {"duotone", "Two colours"},    {"fill", "Fill"},
        {"halo", "Halo"},         {"soften", "Soften"},       {"sharpen", "Sharpen"},        {"grain", "Grain"},
        {"vignette", "Vignette"}, {"raster", "Print raster"}, {"flatShadow", "Flat shadow"}, {"picture", "Picture"},
        {"lines", "Edge lines"}};
};

inline constexpr Named<picture::ViewTransform> kViewTransforms[] = {{picture::ViewTransform::TrueColour, "true", "True colour"},
                                                                    {picture::ViewTransform::SoftWhites, "soft", "Soft whites"}};
inline constexpr Named<finish::Blend> kBlends[] = {{finish::Blend::Normal, "normal", "Normal"},
                                                   {finish::Blend::Multiply, "multiply", "Multiply"},
                                                   {finish::Blend::Screen, "screen", "Screen"},
                                                   {finish::Blend::Overlay, "overlay", "Overlay"},
                                                   {finish::Blend::Darken, "darken", "Darken"},
                                                   {finish::Blend::Lighten, "lighten", "Lighten"},
                                                   {finish::Blend::ColorDodge, "color-dodge", "Colour dodge"},
                                                   {finish::Blend::ColorBurn, "color-burn", "Colour burn"},
                                                   {finish::Blend::HardLight, "hard-light", "Hard light"},
                                                   {finish::Blend::SoftLight, "soft-light", "Soft light"},
                                                   {finish::Blend::Difference, "difference", "Difference"},
                                                   {finish::Blend::Exclusion, "exclusion", "Exclusion"},
                                                   {finish::Blend::Hue, "hue", "Hue"},
                                                   {finish::Blend::Saturation, "saturation", "Saturation"},
                                                   {finish::Blend::Color, "color", "Colour"},
                                                   {finish::Blend::Luminosity, "luminosity", "Luminosity"},
                                                   {finish::Blend::PlusLighter, "plus-lighter", "Add"}};
inline constexpr Named<finish::Acts> kActs[] = {{finish::Acts::Everywhere, "everywhere", "Everywhere"},
                                                {finish::Acts::Lettering, "lettering", "Pieces"},
                                                {finish::Acts::Behind, "behind", "Behind the pieces"},
                                                {finish::Acts::Ground, "ground", "Wall and floor"},
                                                {finish::Acts::Backdrop, "backdrop", "Backdrop"}};
inline constexpr Named<finish::FillForm> kFillForms[] = {{finish::FillForm::Even, "even", "Even"},
                                                         {finish::FillForm::Linear, "linear", "Along a line"},
                                                         {finish::FillForm::Round, "round", "Round"}};

inline constexpr Named<surface::PictureEdges> kPictureEdges[] = {{surface::PictureEdges::Repeat, "repeat", "Repeated"},
                                                                 {surface::PictureEdges::Mirror, "mirror", "Mirrored"},
                                                                 {surface::PictureEdges::Once, "once", "Once"}};

void describe(Visitor& v, finish::Tone& of);
void describe(Visitor& v, finish::Levels& of);
void describe(Visitor& v, finish::Duotone& of);
void describe(Visitor& v, finish::Fill& of);
void describe(Visitor& v, finish::Halo& of);
void describe(Visitor& v, finish::Soften& of);
void describe(Visitor& v, finish::Sharpen& of);
void describe(Visitor& v, finish::Grain& of);
void describe(Visitor& v, finish::Vignette& of);
void describe(Visitor& v, finish::PrintRaster& of);
void describe(Visitor& v, finish::FlatShadow& of);
void describe(Visitor& v, finish::Picture& of);
void describe(Visitor& v, finish::Lines& of);
void describe(Visitor& v, Layer& of);
void describe(Visitor& v, Finish& of);

}  // namespace work
