// The table of properties: every value of a work, said once.
//
// Reader, writer and schema of the file, --set, limits, growing with the sheet, what a change makes anew, the ticket's rows and
// the summaries' words all come from here. A new value is a member of its struct, a line here, the code that uses it, and a test.
//
// What goes through it is a Visitor (visitor.h).
#pragma once

#include <string_view>

#include "work/finish_properties.h"
#include "work/visitor.h"
#include "work/work.h"

namespace work {

inline constexpr Named<Unit> kUnits[] = {{Unit::Px, "px", "px"}, {Unit::Mm, "mm", "mm"}, {Unit::In, "in", "in"}, {Unit::Pt, "pt", "pt"}};
inline constexpr Named<outline::Align> kAligns[] = {{outline::Align::Start, "start", "Start"},
                                                    {outline::Align::Centre, "centre", "Centre"},
                                                    {outline::Align::End, "end", "End"},
                                                    {outline::Align::Justified, "justified", "Justified"}};
inline constexpr Named<solid::Profile> kProfiles[] = {{solid::Profile::Chamfer, "chamfer", "Chamfer"},
                                                      {solid::Profile::Roundover, "roundover", "Roundover"},
                                                      {solid::Profile::Cove, "cove", "Cove"},
                                                      {solid::Profile::Ogee, "ogee", "Ogee"},
                                                      {solid::Profile::Terraces, "terraces", "Terraces"},
                                                      {solid::Profile::Drawn, "drawn", "Drawn by hand"}};
inline constexpr Named<solid::Corners> kCorners[] = {
    {solid::Corners::Round, "round", "Round"}, {solid::Corners::Mitred, "mitred", "Mitred"}, {solid::Corners::Flat, "flat", "Flat"}};
inline constexpr Named<RunKind> kRuns[] = {
    {RunKind::Straight, "straight", "Straight"},    {RunKind::Arc, "arc", "Along an arc"},
    {RunKind::Circle, "circle", "Round a circle"},  {RunKind::Ellipse, "ellipse", "Round an ellipse"},
    {RunKind::Spiral, "spiral", "Along a spiral"},  {RunKind::Drawn, "drawn", "Along a drawn line"},
    {RunKind::Artwork, "artwork", "Round a piece"}, {RunKind::TwoLines, "twoLines", "Between two lines"}};
inline constexpr Named<Side> kSides[] = {{Side::Over, "over", "Stands on the line"}, {Side::Under, "under", "Hangs from the line"}};
inline constexpr Named<outline::LineStart> kLineStarts[] = {
    {outline::LineStart::Hill, "hill", "Hill"},          {outline::LineStart::Valley, "valley", "Valley"},
    {outline::LineStart::Bridge, "bridge", "Bridge"},    {outline::LineStart::Barrel, "barrel", "Barrel"},
    {outline::LineStart::Waist, "waist", "Waist"},       {outline::LineStart::Swell, "swell", "Swell"},
    {outline::LineStart::Pennant, "pennant", "Pennant"}, {outline::LineStart::Fan, "fan", "Fan"},
    {outline::LineStart::Road, "road", "Road"}};
inline constexpr Named<ShapeKind> kShapes[] = {{ShapeKind::Rectangle, "rectangle", "Rectangle"},
                                               {ShapeKind::Ellipse, "ellipse", "Ellipse"},
                                               {ShapeKind::Ring, "ring", "Ring"},
                                               {ShapeKind::Polygon, "polygon", "Polygon"},
                                               {ShapeKind::Star, "star", "Star"},
                                               {ShapeKind::Drawn, "drawn", "Drawn"},
                                               {ShapeKind::Plate, "plate", "Plate"}};
template <>
struct Kinds<Source> {
    static constexpr KindName names[] = {{"lettering", "Lettering"}, {"artwork", "Artwork"}, {"shape", "Shape"}};
};
template <>
struct Kinds<StepWhat> {
    static constexpr KindName names[] = {{"grow", "Heavier or thinner"}, {"round", "Round corners"}, {"combine", "With another piece"},
                                         {"cut", "Cut apart"},           {"push", "Push"},           {"mirror", "Mirror"}};
};
template <>
struct Kinds<Form> {
    static constexpr KindName names[] = {{"slab", "Slab"}, {"domed", "Domed"}, {"tube", "Tube"}, {"block", "Block"}};
};

inline constexpr Named<FileFormat> kFileFormats[] = {{FileFormat::Png8, "png8", "PNG, 8 bits, dithered"},
                                                     {FileFormat::Png16, "png16", "PNG, 16 bits"},
                                                     {FileFormat::Jpeg, "jpeg", "JPEG"},
                                                     {FileFormat::WebP, "webp", "WebP"},
                                                     {FileFormat::Avif, "avif", "AVIF"},
                                                     {FileFormat::Jxl8, "jxl8", "JPEG XL, 8 bits"},
                                                     {FileFormat::Jxl16, "jxl16", "JPEG XL, 16 bits"},
                                                     {FileFormat::Tiff8, "tiff8", "TIFF, 8 bits, dithered"},
                                                     {FileFormat::Tiff16, "tiff16", "TIFF, 16 bits"},
                                                     {FileFormat::Tiff32, "tiff32", "TIFF, 32 bits, floating point"},
                                                     {FileFormat::Pdf, "pdf", "PDF, a page in its size"},
                                                     {FileFormat::Exr, "exr", "EXR, all passes"}};
inline constexpr Named<FileColours> kColours[] = {{FileColours::Srgb, "srgb", "sRGB, for every screen"},
                                                  {FileColours::DisplayP3, "p3", "Display P3"},
                                                  {FileColours::Rec2020, "rec2020", "Rec. 2020"},
                                                  {FileColours::Profile, "profile", "A profile of one's own"}};
// Of the forms there are.
inline constexpr Named<solid::Part> kParts[] = {
    {solid::Part::Face, "face", "Face"},      {solid::Part::FrontBevel, "frontBevel", "Front bevel"},
    {solid::Part::Side, "side", "Side"},      {solid::Part::BackBevel, "backBevel", "Back bevel"},
    {solid::Part::Back, "back", "Back"},      {solid::Part::Inlay, "inlay", "Inlay"},
    {solid::Part::Rim, "rim", "Inlay's rim"}, {solid::Part::Riser, "riser", "Terraces' risers"},
    {solid::Part::Tube, "tube", "Tube"}};
inline constexpr Named<solid::TubePath> kTubePaths[] = {{solid::TubePath::Centre, "centre", "Middle of the strokes"},
                                                        {solid::TubePath::Outline, "outline", "Outline"}};
inline constexpr Named<solid::TubeSection> kTubeSections[] = {{solid::TubeSection::Round, "round", "Round"},
                                                              {solid::TubeSection::Rope, "rope", "Rope"},
                                                              {solid::TubeSection::Ribbon, "ribbon", "Ribbon"}};
inline constexpr Named<surface::PatternKind> kPatterns[] = {{surface::PatternKind::None, "none", "None"},
                                                            {surface::PatternKind::Granite, "granite", "Granite"},
                                                            {surface::PatternKind::Marble, "marble", "Marble"},
                                                            {surface::PatternKind::Sandstone, "sandstone", "Sandstone"},
                                                            {surface::PatternKind::Concrete, "concrete", "Concrete"},
                                                            {surface::PatternKind::Terrazzo, "terrazzo", "Terrazzo"},
                                                            {surface::PatternKind::Brick, "brick", "Brick"},
                                                            {surface::PatternKind::Wood, "wood", "Wood"},
                                                            {surface::PatternKind::Plywood, "plywood", "Plywood"},
                                                            {surface::PatternKind::Card, "card", "Corrugated card"},
                                                            {surface::PatternKind::Rust, "rust", "Rust"},
                                                            {surface::PatternKind::Hammered, "hammered", "Hammered"},
                                                            {surface::PatternKind::Leather, "leather", "Leather"},
                                                            {surface::PatternKind::Cracked, "cracked", "Cracked paint"},
                                                            {surface::PatternKind::Crinkled, "crinkled", "Crinkled foil"},
                                                            {surface::PatternKind::Chalk, "chalk", "Chalk"},
                                                            {surface::PatternKind::Sand, "sand", "Sand"},
                                                            {surface::PatternKind::Frost, "frost", "Frost"},
                                                            {surface::PatternKind::Glitter, "glitter", "Glitter"},
                                                            {surface::PatternKind::Felt, "felt", "Felt"},
                                                            {surface::PatternKind::Paper, "paper", "Paper"},
                                                            {surface::PatternKind::Brushed, "brushed", "Brushed"},
                                                            {surface::PatternKind::Woven, "woven", "Woven cloth"},
                                                            {surface::PatternKind::Knit, "knit", "Knit"},
                                                            {surface::PatternKind::Dots, "dots", "Dots"},
                                                            {surface::PatternKind::Stripes, "stripes", "Stripes"},
                                                            {surface::PatternKind::Checks, "checks", "Checks"}};
inline constexpr Named<surface::PictureLies> kPictureLies[] = {{surface::PictureLies::Wrapped, "wrapped", "Front and sides"},
                                                               {surface::PictureLies::Front, "front", "From the front"},
                                                               {surface::PictureLies::Letter, "letter", "Letter by letter"},
                                                               {surface::PictureLies::Outline, "outline", "Along the outline"}};
inline constexpr Named<Stance> kStances[] = {{Stance::AgainstWall, "againstWall", "Against the wall"},
                                             {Stance::OnFloor, "onFloor", "Standing on the floor"},
                                             {Stance::Free, "free", "Free"}};
inline constexpr Named<render::GroundKind> kGrounds[] = {{render::GroundKind::None, "none", "None"},
                                                         {render::GroundKind::Wall, "wall", "Wall"},
                                                         {render::GroundKind::Floor, "floor", "Floor"},
                                                         {render::GroundKind::Sweep, "sweep", "Sweep"}};
inline constexpr Named<SurroundingsKind> kSurroundings[] = {{SurroundingsKind::Even, "even", "Even"},
                                                            {SurroundingsKind::Sky, "sky", "Sky and cards"},
                                                            {SurroundingsKind::Picture, "picture", "Picture"}};
inline constexpr Named<BackdropKind> kBackdrops[] = {{BackdropKind::Colour, "colour", "Colour"},
                                                     {BackdropKind::Gradient, "gradient", "Gradient"},
                                                     {BackdropKind::Surroundings, "surroundings", "Surroundings"},
                                                     {BackdropKind::Picture, "picture", "Picture"}};
inline constexpr Named<light::SoftboxForm> kSoftboxForms[] = {{light::SoftboxForm::Rectangle, "rectangle", "Rectangle"},
                                                              {light::SoftboxForm::Disc, "disc", "Disc"}};
inline constexpr Named<light::LightKind> kLights[] = {{light::LightKind::Softbox, "softbox", "Softbox"},
                                                      {light::LightKind::Sun, "sun", "Sun"},
                                                      {light::LightKind::Bulb, "bulb", "Bulb"},
                                                      {light::LightKind::Spot, "spot", "Spot"}};
template <class E, std::size_t N>
constexpr std::optional<E> valueNamed(std::string_view name, const Named<E> (&names)[N])
{
    for (const Named<E>& n : names)
        if (name == n.name)
            return n.value;
    return std::nullopt;
}
template <class E, std::size_t N>
constexpr const char* nameOf(E value, const Named<E> (&names)[N])
{
    for (const Named<E>& n : names)
        if (n.value == value)
            return n.name;
    return "";
}
template <class E, std::size_t N>
constexpr const char* labelOf(E value, const Named<E> (&names)[N])
{
    for (const Named<E>& n : names)
        if (n.value == value)
            return n.label;
    return "";
}

// Beside a colour stands the id of the swatch it follows, or an empty text, under this key.
constexpr const char* swatchKey(std::string_view colour)
{
    return colour == "backdrop" ? "backdropSwatch" : "swatch";
}

inline constexpr std::size_t kMostText = 400000;   // bytes of a lettering
inline constexpr std::size_t kMostThings = 10000;  // pieces, lights, views, swatches: each
inline constexpr Named<outline::How> kHows[] = {{outline::How::Unite, "unite", "Unite"},
                                                {outline::How::Subtract, "subtract", "Cut out"},
                                                {outline::How::Intersect, "intersect", "Keep the overlap"}};

void describe(Visitor& v, SheetSize& of);
void describe(Visitor& v, FontChoice& of);
void describe(Visitor& v, LinePoint& of);
void describe(Visitor& v, SharePoint& of);
void describe(Visitor& v, DrawnLine& of);
void describe(Visitor& v, Run& of);
void describe(Visitor& v, Shape& of);
void describe(Visitor& v, Lettering& of);
void describe(Visitor& v, ArtShape& of);
void describe(Visitor& v, Artwork& of);
void describe(Visitor& v, Grow& of);
void describe(Visitor& v, RoundCorners& of);
void describe(Visitor& v, Combine& of);
void describe(Visitor& v, Cut& of);
void describe(Visitor& v, Push& of);
void describe(Visitor& v, Mirror& of);
void describe(Visitor& v, OutlineStep& of);
void describe(Visitor& v, solid::Bevel& of);
void describe(Visitor& v, solid::Flutes& of);
void describe(Visitor& v, solid::Along& of);
void describe(Visitor& v, solid::Inlay& of);
void describe(Visitor& v, solid::SlabForm& of);
void describe(Visitor& v, solid::DomedForm& of);
void describe(Visitor& v, solid::TubeForm& of);
void describe(Visitor& v, solid::BlockForm& of);
void describe(Visitor& v, Pictures& of);
void describe(Visitor& v, Material& of);
void describe(Visitor& v, MaterialSet& of);
void describe(Visitor& v, Placement& of);
void describe(Visitor& v, LetterOwn& of);
void describe(Visitor& v, Copies& of);
void describe(Visitor& v, Piece& of);
void describe(Visitor& v, Ground& of);
void describe(Visitor& v, View& of);
void describe(Visitor& v, Casting& of);
void describe(Visitor& v, Light& of);
void describe(Visitor& v, SkyCard& of);
void describe(Visitor& v, Surroundings& of);
void describe(Visitor& v, Emissive& of);
void describe(Visitor& v, render::StopRule& of);
void describe(Visitor& v, Swatch& of);
void describe(Visitor& v, Group& of);
void describe(Visitor& v, SavedView& of);
void describe(Visitor& v, Proof& of);
void describe(Visitor& v, Shift& of);
void describe(Visitor& v, Output& of);
void describe(Visitor& v, Sheet& of);
void describe(Visitor& v, Credits& of);
void describe(Visitor& v, Work& of);

}  // namespace work
