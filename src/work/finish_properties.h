// The part of the table of properties that speaks of the finish; see properties.h.
#pragma once

#include "work/finish.h"
#include "work/visitor.h"

namespace work {

template <>
struct Kinds<LayerWhat> {
    static constexpr KindName names[] = {{"tone", "Tone"},
                                         {"levels", "Levels"},
                                         {"duotone", "Two colours"},
                                         {"fill", "Fill"},
                                         {"halo", "Halo"},
                                         {"soften", "Soften"},
                                         {"sharpen", "Sharpen"},
                                         {"grain", "Grain"},
                                         {"vignette", "Vignette"},
                                         {"raster", "Print raster"},
                                         {"flatShadow", "Flat shadow"},
                                         {"picture", "Picture"},
                                         {"lines", "Edge lines"},
                                         {"curves", "Curve"},
                                         {"mixer", "Channel mix"},
                                         {"rays", "Star rays"},
                                         {"particles", "Sparks and confetti"},
                                         {"smoke", "Smoke"},
                                         {"trail", "Motion blur"},
                                         {"stuff", "Paper and wear"},
                                         {"misprint", "Misregistration"},
                                         {"bands", "Bands"},
                                         {"print", "Flat piece"},
                                         {"code", "Code"},
                                         {"lookup", "Colour table"},
                                         {"flare", "Lens flare"},
                                         {"group", "Group"},
                                         {"beams", "Light fog"}};
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
inline constexpr Named<finish::Lit> kLits[] = {{finish::Lit::Any, "any", "In light and shadow"},
                                               {finish::Lit::InShadow, "inShadow", "In shadow"},
                                               {finish::Lit::InLight, "inLight", "In the light"}};
inline constexpr Named<finish::FillForm> kFillForms[] = {{finish::FillForm::Even, "even", "Even"},
                                                         {finish::FillForm::Linear, "linear", "Along a line"},
                                                         {finish::FillForm::Round, "round", "Round"}};

inline constexpr Named<surface::PictureEdges> kPictureEdges[] = {{surface::PictureEdges::Repeat, "repeat", "Repeated"},
                                                                 {surface::PictureEdges::Mirror, "mirror", "Mirrored"},
                                                                 {surface::PictureEdges::Once, "once", "Once"}};

inline constexpr Named<finish::CurveOf> kCurvesOf[] = {{finish::CurveOf::All, "all", "All"},
                                                       {finish::CurveOf::Red, "red", "Red"},
                                                       {finish::CurveOf::Green, "green", "Green"},
                                                       {finish::CurveOf::Blue, "blue", "Blue"}};
inline constexpr Named<finish::ParticleForm> kParticleForms[] = {{finish::ParticleForm::Sparks, "sparks", "Sparks"},
                                                                 {finish::ParticleForm::Dots, "dots", "Soft dots"},
                                                                 {finish::ParticleForm::Confetti, "confetti", "Confetti"}};
inline constexpr Named<finish::TrailForm> kTrailForms[] = {{finish::TrailForm::Along, "along", "Along a line"},
                                                           {finish::TrailForm::Round, "round", "Round a point"},
                                                           {finish::TrailForm::Zoom, "zoom", "Towards a point"}};
inline constexpr Named<finish::StuffForm> kStuffForms[] = {{finish::StuffForm::Paper, "paper", "Paper"},
                                                           {finish::StuffForm::Canvas, "canvas", "Canvas"},
                                                           {finish::StuffForm::Dust, "dust", "Dust"},
                                                           {finish::StuffForm::Scratches, "scratches", "Scratches"},
                                                           {finish::StuffForm::Worn, "worn", "Worn print"}};
inline constexpr Named<finish::CodeForm> kCodeForms[] = {{finish::CodeForm::Qr, "qr", "QR code"},
                                                         {finish::CodeForm::Ean13, "ean13", "EAN-13"}};

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
void describe(Visitor& v, finish::Curves& of);
void describe(Visitor& v, finish::Mixer& of);
void describe(Visitor& v, finish::Rays& of);
void describe(Visitor& v, finish::Flare& of);
void describe(Visitor& v, finish::Group& of);
void describe(Visitor& v, finish::Beams& of);
void describe(Visitor& v, Stroke& of);
void describe(Visitor& v, finish::Particles& of);
void describe(Visitor& v, finish::Smoke& of);
void describe(Visitor& v, finish::Trail& of);
void describe(Visitor& v, finish::Stuff& of);
void describe(Visitor& v, finish::Misprint& of);
void describe(Visitor& v, finish::Bands& of);
void describe(Visitor& v, finish::Print& of);
void describe(Visitor& v, finish::Code& of);
void describe(Visitor& v, finish::Lookup& of);
void describe(Visitor& v, Layer& of);
void describe(Visitor& v, Finish& of);

}  // namespace work
