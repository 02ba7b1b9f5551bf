#include "session/summary.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "session/outputs.h"
#include "work/pictures.h"
#include "work/properties.h"
#include "work/values.h"

namespace session {

namespace {

std::string joined(const std::vector<std::string>& parts, const char* between = ", ")
{
    std::string text;
    for (const std::string& part : parts)
        if (!part.empty())
            text += (text.empty() ? "" : between) + part;
    return text;
}

std::string number(double value, int decimals = 1)
{
    return shownNumber(value, Kind::Plain, {}, decimals);
}

std::string length(double pt, const LengthUnit& unit)
{
    return shownNumber(pt, Kind::Length, unit, 1) + " " + unitName(Kind::Length, unit);
}

// As within a sentence.
std::string lowered(std::string words)
{
    if (!words.empty())
        words[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(words[0])));
    return words;
}

std::string bevelText(const solid::Bevel& bevel, const char* where, const LengthUnit& unit)
{
    if (bevel.none())
        return {};
    return fmt::format("{} {} {}", lowered(labelOf(bevel.profile, work::kProfiles)), length(bevel.widthPt, unit), where);
}

std::string surfaceText(const work::Material& m)
{
    const char* finish = m.roughness < 0.12f ? "mirror" : m.roughness < 0.35f ? "glossy" : m.roughness < 0.7f ? "satin" : "matte";
    const std::string through = throughText(m);
    const char* stuff = m.metallic > 0.5f ? "metal" : !through.empty() ? through.c_str() : "plastic";
    return joined({fmt::format("{} {}", finish, stuff), layersText(m), lowered(patternText(m)),
                   m.pictures.any() ? std::string("with pictures") : std::string()});
}

std::string colourText(const work::Work& work, const work::Material& m)
{
    const auto swatch = work.swatches.items.find(m.swatch);
    return swatch == work.swatches.items.end() ? picture::hexFromRgb(m.baseColour) : swatch->second.name;
}

std::string partText(const std::string& part)
{
    for (const auto& p : work::kParts)
        if (part == p.name)
            return lowered(p.label);
    return part;
}

std::string sideText(double direction, double height)
{
    const double d = std::remainder(direction, 360.0);
    const char* side = std::abs(d) < 15 ? "" : std::abs(d) > 165 ? "behind" : d < 0 ? "left" : "right";
    const char* up = height > 70 ? "above" : height > 15 ? "upper" : height < -15 ? "lower" : "";
    if (height > 70)
        return "from above";
    if (!*side)
        return *up ? fmt::format("from the {} front", up) : "from the front";
    if (std::string(side) == "behind")
        return "from behind";
    return *up ? fmt::format("from the {} {}", up, side) : fmt::format("from the {}", side);
}

}  // namespace

std::string choiceTitle(const work::Work& work, const Choice& choice)
{
    if (choice.empty())
        return "Nothing is chosen";
    std::vector<std::string> whole, letters;
    std::string of;
    for (const Target& t : choice.targets) {
        const work::Piece& piece = work.pieces.items.at(t.piece);
        if (t.letter.empty()) {
            whole.push_back(titleOf(piece));
        } else {
            letters.push_back(letterText(piece, t.letter));
            of = titleOf(piece);
        }
    }
    if (letters.empty())
        return "Chosen: " + joined(whole);
    std::string text = "Chosen: " + joined(letters) + (choice.pieces().size() == 1 ? " of " + of : "");
    return whole.empty() ? text : text + ", " + joined(whole);
}

namespace {

// What lettering runs along, within a sentence; nothing for straight lines.
std::string lowered(const work::Run& run)
{
    if (run.isStraight())
        return {};
    return lowered(labelOf(run.kind, work::kRuns));
}

}  // namespace

std::string letteringSummary(const work::Work& work, const Choice& choice)
{
    if (choice.empty())
        return {};
    const work::Piece& piece = work.pieces.items.at(choice.targets.back().piece);
    if (const auto* newer = std::get_if<work::Newer>(&piece.source))
        return fmt::format("{}, made by a newer version", newer->kind);
    const int linked = piece.copies.all() - 1;
    const std::string copies = linked > 0 ? fmt::format("{} linked {}", linked, linked == 1 ? "copy" : "copies") : std::string();
    if (const work::Artwork* artwork = piece.artwork())
        return joined({artwork->name,
                       fmt::format("{} {}", artwork->shapes.order.size(), artwork->shapes.order.size() == 1 ? "shape" : "shapes"), copies});
    if (const work::Shape* shape = piece.shape(); shape && shape->isPlate()) {
        const auto round = work.pieces.items.find(shape->piece);
        return joined({fmt::format("{} round {}", shape->rim > 0 ? "rim" : "plate",
                                   round == work.pieces.items.end() ? std::string("nothing") : titleOf(round->second)),
                       "margin " + number(shape->margin) + " pt", copies});
    }
    if (const work::Shape* shape = piece.shape())
        return joined({labelOf(shape->kind, work::kShapes),
                       shape->kind == work::ShapeKind::Drawn ? fmt::format("{} points", shape->line.points.order.size())
                                                             : fmt::format("{} x {} pt", number(shape->width), number(shape->height)),
                       copies});
    const work::Lettering& l = *piece.lettering();
    const auto lines = std::count(l.text.begin(), l.text.end(), '\n') + 1;
    return joined({fmt::format("{}{}{}", l.font.family, l.font.style.empty() ? "" : " ", l.font.style), number(l.layout.sizePt) + " pt",
                   lines > 1 ? fmt::format("{} lines", lines) : std::string(), lowered(l.run), copies});
}

std::string sidesSummary(const work::Work& work, const Choice& choice)
{
    const auto slabs = formsOf<solid::SlabForm>(work, choice);
    const auto text = common<std::string>(slabs, [](const solid::SlabForm& f) {
        return joined({lowered(labelOf(f.corners, work::kCorners)), f.grownOut ? "grown out" : "",
                       f.draft != 0 ? fmt::format("leaning {}°", number(f.draft)) : std::string(),
                       f.flutes.none() ? std::string() : fmt::format("{} {}", f.flutes.count, f.flutes.count == 1 ? "flute" : "flutes")});
    });
    return text.value_or("mixed");
}

std::string alongSummary(const work::Work& work, const Choice& choice)
{
    std::vector<const solid::Along*> all;
    for (const work::Form* form : formsOf(work, choice))
        if (const solid::Along* along = work::alongOf(*form))
            all.push_back(along);
    const auto along = common<solid::Along>(all, [](const auto& a) { return a; });
    if (!along)
        return "mixed";
    return along->none() ? "straight"
                         : joined({along->twist != 0 ? fmt::format("twisted {}°", number(along->twist)) : std::string(),
                                   along->taper != 1 ? fmt::format("tapered to {} %", number(along->taper * 100)) : std::string(),
                                   along->leanX != 0 || along->leanY != 0 ? "leaning" : "",
                                   along->bend != 0 ? fmt::format("bent {}°", number(along->bend)) : std::string()});
}

std::string formSummary(const work::Work& work, const Choice& choice, const LengthUnit& unit)
{
    const auto all = formsOf(work, choice);
    if (all.empty())
        return {};
    const auto kind = common<std::size_t>(all, [](const auto& f) { return f.index(); });
    if (!kind)
        return "mixed forms";
    if (const auto domes = formsOf<solid::DomedForm>(work, choice); !domes.empty()) {
        const auto value = [&](auto member) { return common<double>(domes, [=](const auto& f) { return f.*member; }); };
        const auto rise = value(&solid::DomedForm::rise), back = value(&solid::DomedForm::backRise),
                   depth = value(&solid::DomedForm::depthPt), full = value(&solid::DomedForm::fullness);
        return joined({!back       ? "domed"
                       : *back > 0 ? "domed in front and at the back"
                                   : "domed in front",
                       !rise ? "mixed rise" : fmt::format("rise {} %", number(*rise * 100)),
                       !full       ? "mixed fullness"
                       : *full > 0 ? "full"
                       : *full < 0 ? "like a tent"
                                   : "round",
                       !depth       ? "mixed depth"
                       : *depth > 0 ? "side " + length(*depth, unit)
                                    : std::string()});
    }
    if (const auto tubes = formsOf<solid::TubeForm>(work, choice); !tubes.empty()) {
        const auto section = common<solid::TubeSection>(tubes, [](const auto& f) { return f.section; });
        const auto path = common<solid::TubePath>(tubes, [](const auto& f) { return f.path; });
        const auto width = common<double>(tubes, [](const auto& f) { return f.widthPt; });
        return joined({(!section                                ? "tubes"
                        : *section == solid::TubeSection::Round ? "round tube"
                                                                : lowered(labelOf(*section, work::kTubeSections))) +
                           (width ? " " + length(*width, unit) : " of mixed width"),
                       !path                              ? ""
                       : *path == solid::TubePath::Centre ? "along the strokes"
                                                          : "along the outline"});
    }
    if (const auto blocks = formsOf<solid::BlockForm>(work, choice); !blocks.empty()) {
        const auto toPoint = common<bool>(blocks, [](const auto& f) { return f.toPoint; });
        const auto depth = common<double>(blocks, [](const auto& f) { return f.depthPt; });
        return joined({!toPoint   ? "blocks"
                       : *toPoint ? "block to a point"
                                  : "block in a direction",
                       !depth       ? "mixed depth"
                       : *depth > 0 ? "depth " + length(*depth, unit)
                                    : "flat"});
    }
    const auto forms = formsOf<solid::SlabForm>(work, choice);
    if (forms.empty())
        return "made by a newer version";
    const auto depth = common<double>(forms, [](const auto& f) { return f.depthPt; });
    const auto front = common<solid::Bevel>(forms, [](const auto& f) { return f.front; });
    const auto back = common<solid::Bevel>(forms, [](const auto& f) { return f.linked ? f.front : f.back; });
    return joined({depth ? (*depth > 0 ? "slab " + length(*depth, unit) : "flat") : "slabs of mixed depth",
                   forms.back()->grownOut && !(front && front->none() && back && back->none()) ? "grown out" : "",
                   front ? bevelText(*front, "in front", unit) : "mixed bevels in front",
                   back ? bevelText(*back, "at the back", unit) : "mixed bevels at the back"});
}

std::string layersText(const work::Material& m)
{
    std::vector<std::string> layers;
    if (m.clearcoat > 0)
        layers.push_back("coated");
    if (m.sheenColour != base::Rgb{0, 0, 0})
        layers.push_back("sheen");
    if (m.anisotropy > 0)
        layers.push_back("brushed");
    if (m.iridescence > 0)
        layers.push_back("thin film");
    if (m.ior != work::Material().ior || m.specularColour != base::Rgb{1, 1, 1})
        layers.push_back("own mirror layer");
    return joined(layers);
}

std::string lensText(const work::View& view)
{
    return view.fNumber > 0 ? fmt::format("f/{:.3g}", view.fNumber) : "all sharp";
}

std::string beamText(const work::Light& l)
{
    std::vector<std::string> parts;
    switch (l.kind) {
    case light::LightKind::Softbox:
        parts.push_back(l.form == light::SoftboxForm::Disc ? "disc" : "rectangle");
        if (l.grid < 90)
            parts.push_back(fmt::format("grid {:.3g}\u00b0", l.grid));
        break;
    case light::LightKind::Sun:
        parts.push_back(fmt::format("{:.3g}\u00b0 wide", l.sunSize));
        break;
    case light::LightKind::Bulb:
        parts.push_back("all round");
        break;
    case light::LightKind::Spot:
        parts.push_back(fmt::format("cone {:.3g}\u00b0", l.cone));
        break;
    }
    if (!l.falls && l.kind != light::LightKind::Sun)
        parts.push_back("does not fall off");
    return joined(parts);
}

std::string surroundingsText(const work::Surroundings& s)
{
    if (!s.on)
        return "black";
    const std::string stops = fmt::format("{:.3g} stops", s.stops);
    if (s.kind == work::SurroundingsKind::Picture)
        return "picture, " + stops;
    return s.kind == work::SurroundingsKind::Sky ? "sky, " + stops : fmt::format("{}, {}", picture::hexFromRgb(s.colour), stops);
}

std::string throughText(const work::Material& m)
{
    if (!m.letsThrough())
        return {};
    return std::string(m.solid ? "solid " : "thin ") + (m.transmission >= m.translucency ? "glass" : "translucent") +
           (m.solid && m.attenuationDistancePt > 0 ? ", coloured inside" : "");
}

std::string patternText(const work::Material& m)
{
    const auto named =
        std::find_if(std::begin(work::kPatterns), std::end(work::kPatterns), [&](const auto& k) { return k.value == m.pattern; });
    return m.pattern == surface::PatternKind::None ? std::string() : std::string(named->label);
}

std::string furtherPicturesText(const work::Pictures& p)
{
    work::Pictures pictures = p;
    std::vector<std::string> names;
    for (const work::Value& v : work::valuesIn(pictures))
        if (const auto* asset = std::get_if<std::string*>(&v.at); asset && !(*asset)->empty() && *asset != &pictures.colour)
            names.push_back(lowered(v.number.label));
    return joined(names);
}

std::string picturesText(const work::Pictures& p)
{
    return joined({p.colour.empty() ? std::string() : work::pictureTitle(p.colour), furtherPicturesText(p)});
}

std::string whySeenOtherwise(const work::Material& m, base::Rgb typed, base::Rgb seen)
{
    constexpr float kAlike = 6 / 255.0f;  // of encoded channels
    const base::Rgb a = picture::encodeSrgb(typed), b = picture::encodeSrgb(seen);
    if (std::max({std::abs(a.x - b.x), std::abs(a.y - b.y), std::abs(a.z - b.z)}) <= kAlike)
        return {};
    // What the material does itself comes before what light does to it.
    const bool lighter = luminance(seen) > luminance(typed);
    if (m.emission > 0)
        return "gives off light";
    if (m.metallic > 0.5f)
        return "mirrors what is around it";
    if (m.letsThrough())
        return m.transmission > m.translucency ? "seen through" : "light from inside";
    if (m.pattern != surface::PatternKind::None && m.patternStrength > 0)
        return "pattern";
    if (!m.pictures.colour.empty())
        return "picture";
    // Light by the channels: the share of the typed colour that is sent back.
    const auto share = [](float is, float was) { return is / std::max(was, 0.02f); };
    const float r = share(seen.x, typed.x), g = share(seen.y, typed.y), bl = share(seen.z, typed.z);
    const float least = std::min({r, g, bl}), most = std::max({r, g, bl});
    if (lighter && most > 1.1f && least < most) {
        if (m.clearcoat > 0.1f)
            return "clear coat";
        if (m.sheenColour != base::Rgb{0, 0, 0})
            return "sheen";
        // White on top of the colour: the darker channels gain more.
        if (m.specular > 0.1f && seen.x - typed.x > 0 && seen.y - typed.y > 0 && seen.z - typed.z > 0)
            return "mirror layer";
    }
    if (most > 1.25f * std::max(least, 0.01f))
        return "coloured light";
    return lighter ? "strong light" : "shadow";
}

std::string materialSummary(const work::Work& work, const Choice& choice)
{
    const auto sets = materialsOf(work, choice);
    if (sets.empty())
        return {};
    const auto set = common<work::MaterialSet>(sets, [](const auto& s) { return s; });
    if (!set)
        return "mixed";
    std::vector<std::string> parts{colourText(work, set->piece) + ", " + surfaceText(set->piece)};
    for (const auto& [part, m] : set->parts)
        parts.push_back(fmt::format("{} {}", partText(part), colourText(work, m)));
    return joined(parts, "; ");
}

std::string sheetSummary(const work::Work& work)
{
    const work::SheetSize& s = work.sheet();
    const LengthUnit unit{s.unit, s.ppi};
    return fmt::format("{} x {} {}, {} ppi", number(s.width, 2), number(s.height, 2), unitName(Kind::Length, unit), number(s.ppi));
}

std::string groundSummary(const work::Work& work, const LengthUnit& unit)
{
    const work::Ground& g = work.ground;
    switch (g.kind) {
    case render::GroundKind::None:
        return g.backdropKind == work::BackdropKind::Colour
                   ? "no ground, backdrop " + picture::hexFromRgb(g.backdrop)
                   : fmt::format("no ground, {} behind", lowered(work::labelOf(g.backdropKind, work::kBackdrops)));
    case render::GroundKind::Wall:
        return "wall " + colourText(work, g.wall) + (g.wallBehind != 0 ? ", " + length(g.wallBehind, unit) + " behind" : "");
    case render::GroundKind::Floor:
        return "floor " + colourText(work, g.floor);
    case render::GroundKind::Sweep:
        return fmt::format("sweep, floor {}, wall {}", colourText(work, g.floor), colourText(work, g.wall));
    }
    return {};
}

std::string viewSummary(const work::Work& work)
{
    const work::View& v = work.view();
    std::vector<std::string> parts{v.perspective ? fmt::format("perspective {} mm", number(v.focalLength)) : "parallel"};
    if (v.walk == 0 && v.rise == 0)
        parts.push_back("straight");
    if (v.walk != 0)
        parts.push_back(fmt::format("{}\u00b0 to the {}", number(std::abs(v.walk)), v.walk < 0 ? "left" : "right"));
    if (v.rise != 0)
        parts.push_back(fmt::format("{}\u00b0 {}", number(std::abs(v.rise)), v.rise < 0 ? "below" : "above"));
    if (v.perspective && v.fNumber > 0)
        parts.push_back(lensText(v));
    if (work.viewLocked)
        parts.push_back("locked");
    return joined(parts);
}

std::string lightSummary(const work::Work& work)
{
    const work::Light* brightest = nullptr;
    int on = 0;
    for (const std::string& id : work.lights.order)
        if (const work::Light& l = work.lights.items.at(id); l.shines()) {
            ++on;
            if (!brightest || l.stops > brightest->stops)
                brightest = &l;
        }
    const std::string around = work.surroundings.on ? "surroundings" : "black surroundings";
    if (!brightest)
        return work.surroundings.on ? "surroundings alone" : "no light at all";
    // Softness as seen from the lettering: the light's size over its distance.
    const double angle = brightest->kind == light::LightKind::Sun ? brightest->sunSize
                         : brightest->kind == light::LightKind::Softbox
                             ? 57.3 * std::max(brightest->width, brightest->breadth) / brightest->distance
                             : 57.3 * brightest->size / brightest->distance;
    return fmt::format("{} {}, brightest {}, {}; {}", on, on == 1 ? "light" : "lights", sideText(brightest->direction, brightest->height),
                       angle > 15  ? "soft"
                       : angle > 4 ? "medium"
                                   : "hard",
                       around);
}

std::string finishSummary(const work::Work& work)
{
    return joined({work.finish.viewTransform == picture::ViewTransform::TrueColour ? "true colour" : "soft whites",
                   work.finish.exposure != 0 ? fmt::format("exposure {:+.2g} stops", work.finish.exposure) : std::string(),
                   !work.finish.layers.order.empty()
                       ? fmt::format("{} layer{}", work.finish.layers.order.size(), work.finish.layers.order.size() == 1 ? "" : "s")
                       : std::string()});
}

std::string exportSummary(const work::Work& work)
{
    const work::Output& output = work.output();
    return fmt::format("{} x {} px, stops {}", widthOf(work, output), heightOf(work, output), stopSentence(output.stop));
}

std::string stopSentence(const render::StopRule& rule)
{
    std::vector<std::string> parts;
    if (rule.noise > 0)
        parts.push_back(rule.noise == 1.5 ? "when clean" : "at noise " + number(rule.noise));
    if (rule.samples > 0)
        parts.push_back(fmt::format("at {} samples", rule.samples));
    if (rule.seconds > 0)
        parts.push_back("after " + durationText(rule.seconds));
    return parts.empty() ? "when asked" : joined(parts, " or ");
}

std::string durationText(double seconds)
{
    const auto s = static_cast<long>(std::lround(std::max(0.0, seconds)));
    if (s < 100)
        return fmt::format("{} s", s);
    const long minutes = (s + 30) / 60;
    return minutes < 100 ? fmt::format("{} min", minutes) : fmt::format("{} h {} min", minutes / 60, minutes % 60);
}

}  // namespace session
