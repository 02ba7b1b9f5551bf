#include "work/scene.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

#include "base/units.h"
#include "work/fonts.h"
#include "work/pictures.h"
#include "work/properties.h"
#include "work/values.h"

namespace work {

namespace {

constexpr float kMostSteps = 8;  // of a factor of four: dimmer lights are sampled as if they were no dimmer

constexpr double kFrameWidthMm = 36;
constexpr double kSeenMm = 500;   // a lens blurs as if what is seen at the aim were so wide
constexpr double kMostBlur = 60;  // degrees

// Unit direction for an angle round the lettering (0 towards the viewer, 90 to the right) and one over it.
base::Vec3 directionOf(double around, double over)
{
    const double a = base::radians(around), o = base::radians(over);
    return {std::sin(a) * std::cos(o), std::sin(o), std::cos(a) * std::cos(o)};
}

// Level axes square to a direction; for straight up and down those of the viewer.
void axesOf(base::Vec3 direction, base::Vec3& right, base::Vec3& up)
{
    const base::Vec3 level = cross(base::Vec3{0, 1, 0}, direction);
    right = length(level) > 1e-9 ? normalized(level) : base::Vec3{1, 0, 0};
    up = cross(direction, right);
}

base::Box3 worldBounds(const WorkBodies& bodies)
{
    base::Box3 box;
    for (const WorkBody& b : bodies.bodies)
        box.add(worldBox(b));
    return box;
}

// How far the bodies reach along a direction.
double extentAlong(const base::Box3& box, base::Vec3 d)
{
    if (box.empty())
        return 0;
    return (d.x > 0 ? box.high.x : box.low.x) * d.x + (d.y > 0 ? box.high.y : box.low.y) * d.y + (d.z > 0 ? box.high.z : box.low.z) * d.z;
}

std::shared_ptr<const surface::ThinFilm> filmOver(const Material& m, base::Rgb colour)
{
    const float headOn = (m.ior - 1) / (m.ior + 1);
    return surface::thinFilm(
        {m.iridescenceIor, static_cast<float>(m.iridescenceThicknessNm), m.specularColour * (headOn * headOn), colour});
}

// Puts materials among the scene's; pictures are those of the work.
class Materials {
public:
    Materials(const Work& work, render::Scene& scene) : m_work(work), m_scene(scene) {}

    // Its place. `tint`, by this share, goes over its colour.
    int add(const Material& m, base::Rgb tint = {}, double share = 0)
    {
        m_scene.materials.push_back({lerp(m.baseColour, tint, static_cast<float>(share)), m.metallic, m.roughness, m.specular, m.emission});
        m_scene.layers.push_back({m.specularColour,
                                  m.ior,
                                  m.clearcoat,
                                  m.clearcoatRoughness,
                                  m.sheenColour,
                                  m.sheenRoughness,
                                  m.transmission,
                                  m.translucency,
                                  m.solid && m.letsThrough() ? 1.0f : 0.0f,
                                  surface::absorptionOf(m.attenuationColour, static_cast<float>(m.attenuationDistancePt)),
                                  m.clearcoatRelief,
                                  m.anisotropy,
                                  static_cast<float>(base::radians(m.anisotropyRotation)),
                                  m.iridescence,
                                  {m.iridescence > 0 ? filmOver(m, m_scene.materials.back().baseColour) : nullptr}});
        const double turn = base::radians(m.patternTurn);
        m_scene.covers.push_back({{m.pattern,
                                   static_cast<float>(m.patternSizePt),
                                   m.patternStrength,
                                   m.patternRelief,
                                   {static_cast<float>(std::cos(turn)), static_cast<float>(std::sin(turn))},
                                   m.patternSeed,
                                   m.patternColour},
                                  picturesOf(m_work, m.pictures)});
        return static_cast<int>(m_scene.materials.size()) - 1;
    }

private:
    const Work& m_work;
    render::Scene& m_scene;
};

// How rough a coat or a sheen is that is not there is of no account.
bool isPlain(const surface::Layers& layers)
{
    return layers.specularColour == base::Rgb{1, 1, 1} && layers.ior == surface::Layers().ior && layers.clearcoat == 0 &&
           layers.sheenColour == base::Rgb{0, 0, 0} && !layers.letsThrough() && layers.anisotropy == 0 && layers.iridescence == 0;
}

// What the film counts is the places of pieces in their order, and of letters in their piece.
class Numbers {
public:
    explicit Numbers(const Work& work)
    {
        for (const std::string& id : work.pieces.order) {
            auto& [place, letters] = m_pieces[id];
            place = static_cast<int>(m_pieces.size()) - 1;
            for (const std::string& letter : work.pieces.items.at(id).allLetters())
                letters.emplace(letter, static_cast<int>(letters.size()));
        }
    }
    int ofPiece(const std::string& id) const { return m_pieces.at(id).first; }
    int ofLetter(const std::string& piece, const std::string& id) const { return m_pieces.at(piece).second.at(id); }

private:
    std::map<std::string, std::pair<int, std::unordered_map<std::string, int>>> m_pieces;
};

// Nothing where everybody casts on everybody.
render::Casting castingOf(const Work& work, const Casting& casting)
{
    const auto names = [](const std::vector<std::string>& ids, const std::string& id) { return std::ranges::find(ids, id) != ids.end(); };
    render::Casting result{{names(casting.unlit, kGroundId)}, {false}};
    for (const std::string& id : work.pieces.order) {
        result.unlit.push_back(names(casting.unlit, id));
        result.shadowless.push_back(!casting.shadows || !work.pieces.items.at(id).castsShadow || names(casting.shadowless, id));
    }
    for (std::vector<bool>* pieces : {&result.unlit, &result.shadowless})
        if (std::ranges::find(*pieces, true) == pieces->end())
            pieces->clear();
    return result;
}

void addCasting(const Work& work, render::Scene& scene)
{
    for (const film::Entry& entry : scene.entries)
        scene.castings.push_back(castingOf(work, entry.kind == film::EntryKind::Surroundings ? work.surroundings.casting
                                                 : entry.kind == film::EntryKind::Emissive   ? work.emissive.casting
                                                                                             : work.lights.items.at(entry.name).casting));
    if (std::ranges::all_of(scene.castings, [](const render::Casting& c) { return c == render::Casting(); }))
        scene.castings.clear();
    scene.unmirrored.push_back(false);
    for (const std::string& id : work.pieces.order)
        scene.unmirrored.push_back(!work.pieces.items.at(id).mirrored);
    if (std::ranges::find(scene.unmirrored, true) == scene.unmirrored.end())
        scene.unmirrored.clear();
}

// Bodies with the materials of their letters; copies mix the tint in.
void addBodies(const Work& work, const WorkBodies& bodies, Materials& materials, render::Scene& scene)
{
    std::map<std::tuple<std::string, int, std::string>, render::PartMaterials> known;  // piece, copy, letter with materials of its own
    const auto materialsFor = [&](const WorkBody& b, std::string id) {
        const Piece& piece = work.pieces.items.at(b.piece);
        const auto hasOwn = [&](const std::string& letter) {
            const auto own = piece.letters.find(letter);
            return own != piece.letters.end() && own->second.material;
        };
        if (!hasOwn(id))
            id = hasOwn(letterOf(id)) ? letterOf(id) : std::string();
        const auto [at, isNew] = known.try_emplace({b.piece, b.copy, id});
        if (isNew)
            for (int part = 0; part < solid::kPartCount; ++part) {
                const double share = 1 - std::pow(1 - piece.copies.tintShare, piece.copies.stepOf(b.copy));
                at->second[static_cast<std::size_t>(part)] =
                    materials.add(piece.materialOf(id).of(kParts[part].name), piece.copies.tint, share);
            }
        return at->second;
    };
    const Numbers numbers(work);
    for (const WorkBody& b : bodies.bodies) {
        render::PlacedBody placed{b.body, b.pose, materialsFor(b, b.letters.front()), numbers.ofPiece(b.piece), {}, {}, b.home, b.homeTurn};
        for (const std::string& letter : b.letters) {
            placed.letters.push_back(numbers.ofLetter(b.piece, letter));
            placed.letterMaterials.push_back(materialsFor(b, letter));
        }
        if (std::all_of(placed.letterMaterials.begin(), placed.letterMaterials.end(), [&](const auto& m) { return m == placed.materials; }))
            placed.letterMaterials.clear();
        scene.bodies.push_back(std::move(placed));
    }
}

// How much each light that is on counts for the sampling, 1 for the brightest, in whole steps of a factor of four: small moves at
// the desk change no sample.
std::map<std::string, float> steeringOf(const Work& work)
{
    float most = 0;
    for (const auto& [id, light] : work.lights.items)
        if (light.shines())
            most = std::max(most, luminance(light.factor()));
    std::map<std::string, float> steering;
    for (const auto& [id, light] : work.lights.items)
        if (light.shines()) {
            const float own = luminance(light.factor());
            const float steps = own > 0 && most > 0 ? std::min(kMostSteps, std::round(std::log2(most / own) / 2))
                                : most > 0          ? kMostSteps
                                                    : 0;
            steering[id] = std::exp2(-2 * steps);
        }
    return steering;
}

// Stops that a card of its own counts for the sampling, in the same steps.
double steeringOf(const SkyCard& card)
{
    const float own = luminance(card.factor());
    return own > 0 ? 2.0 * std::clamp(std::round(std::log2(own) / 2), -5.0f, 10.0f) : -10;
}

}  // namespace

std::vector<std::string> ownCardsOf(const Work& work)
{
    std::vector<std::string> own;
    const Surroundings& s = work.surroundings;
    if (s.on && s.kind != SurroundingsKind::Even)
        std::ranges::copy_if(s.cards.order, std::back_inserter(own), [&](const std::string& id) {
            const SkyCard& card = s.cards.items.at(id);
            return card.on && card.own;
        });
    return own;
}

light::Sky skyOf(const Work& work, bool together)
{
    const Surroundings& surroundings = work.surroundings;
    light::Sky sky{surroundings.above,
                   surroundings.horizon,
                   surroundings.below,
                   surroundings.softness,
                   static_cast<float>(base::radians(surroundings.turn)),
                   {},
                   static_cast<float>(base::radians(surroundings.tilt))};
    if (surroundings.kind == SurroundingsKind::Picture) {
        sky.picture = panoramaOf(work, surroundings.picture);
        sky.blur = static_cast<float>(base::radians(kMostBlur)) * surroundings.blur * surroundings.blur;
        // Those of the sky mean nothing then, and are not compared.
        sky.above = sky.horizon = sky.below = {1, 1, 1};
        sky.softness = 1;
    }
    for (const std::string& id : surroundings.cards.order) {
        const SkyCard& card = surroundings.cards.items.at(id);
        const auto tangent = [](double angle) { return static_cast<float>(std::tan(base::radians(angle) / 2)); };
        if (card.on)
            sky.cards.push_back({toFloat(directionOf(card.direction, card.height)), tangent(card.width), tangent(card.breadth),
                                 static_cast<float>(base::radians(card.roll)), card.roundness, card.softness,
                                 card.own && !together ? Rgb{1, 1, 1} : card.factor(),
                                 card.own && !together ? static_cast<float>(std::exp2(steeringOf(card))) : 0});
    }
    return sky;
}

bool isEmissive(const Work& work)
{
    const auto emits = [](const MaterialSet& set) {
        return set.piece.emission > 0 ||
               std::any_of(set.parts.begin(), set.parts.end(), [](const auto& part) { return part.second.emission > 0; });
    };
    return std::any_of(work.pieces.items.begin(), work.pieces.items.end(), [&](const auto& item) {
        const Piece& piece = item.second;
        return !piece.hidden && !isFlat(work, item.first) &&
               (emits(piece.material) || std::any_of(piece.letters.begin(), piece.letters.end(),
                                                     [&](const auto& own) { return own.second.material && emits(*own.second.material); }));
    });
}

namespace {

// All but where a parallel one starts and a lens.
render::Camera directedCamera(const Work& work)
{
    const View& view = work.view();
    render::Camera camera;
    const base::Vec3 towardsViewer = directionOf(view.walk, view.rise);
    base::Vec3 right, up;
    axesOf(towardsViewer, right, up);
    const double c = std::cos(base::radians(view.roll)), s = std::sin(base::radians(view.roll));
    camera.right = right * c + up * s;
    camera.up = up * c - right * s;
    camera.forward = -towardsViewer;
    camera.perspective = view.perspective;
    camera.frameWidth = work.sheet().widthPt() * view.frame;
    camera.frameHeight = work.sheet().heightPt() * view.frame;
    camera.frameDistance = camera.frameWidth * view.focalLength / kFrameWidthMm;
    return camera;
}

}  // namespace

render::Camera cameraOf(const Work& work, const WorkBodies& bodies)
{
    const View& view = work.view();
    render::Camera camera = directedCamera(work);
    const base::Vec3 towardsViewer = -camera.forward;
    const Sheet& sheet = work.shownSheet();
    const base::Vec3 aim{sheet.x + view.aimX, sheet.y + view.aimY, view.aimZ};
    if (!view.perspective) {
        // Back far enough to start before everything, and over the floor wherever the frame reaches below it.
        const double half = (camera.frameWidth + camera.frameHeight) / 2;
        double back = half + std::max(0.0, extentAlong(worldBounds(bodies), towardsViewer) - dot(aim, towardsViewer));
        const double below = -work.ground.floorBelow - (aim.y - half);
        if (towardsViewer.y > 1e-3 && below > 0)
            back = std::max(back, std::min(below / towardsViewer.y + half, 50 * half));
        camera.frameDistance = back;
    }
    camera.eye = aim + towardsViewer * camera.frameDistance;
    if (view.perspective && view.fNumber > 0) {
        camera.lensRadius = view.focalLength / view.fNumber / 2 * camera.frameWidth / kSeenMm;
        camera.sharpDistance = std::max(camera.frameDistance - view.sharp, 1e-3 * camera.frameDistance);
        camera.blades = view.blades < 3 ? 0 : view.blades;
    }
    if (view.cutsNear)
        camera.cutDistance = std::max(camera.frameDistance - view.cutBefore, 0.0);
    return camera;
}

light::Light lightOf(const Light& light)
{
    light::Light result;
    const base::Vec3 from = directionOf(light.direction, light.height);
    result.kind = light.kind;
    result.position = from * light.distance;
    result.towardsAim = -from;
    base::Vec3 right, up;
    axesOf(from, right, up);
    // As the letters see it, right is on the other side.
    const double c = std::cos(base::radians(light.turn)), s = std::sin(base::radians(light.turn));
    result.right = right * c - up * s;
    result.up = up * c + right * s;
    result.form = light.form;
    result.gridAngle = light.grid < 90 ? base::radians(light.grid) : 0;
    result.falls = light.falls;
    result.halfWidth = light.width / 2;
    result.halfHeight = light.breadth / 2;
    result.radius = light.kind == light::LightKind::Sun ? base::radians(light.sunSize / 2) : light.size / 2;
    result.aimDistance = light.distance;
    result.coneCosine = std::cos(base::radians(light.cone / 2));
    result.innerCosine = std::cos(base::radians(std::max(0.0, light.cone / 2 - light.fade)));
    return result;
}

namespace {

// The letter at a place of Piece::allLetters(), without all the others: this is asked for every run of pixels.
std::string letterAt(const Piece& piece, std::size_t place)
{
    const auto& letters = piece.letterIds();
    if (place < letters.size())
        return letters[place];
    std::size_t left = place - letters.size();
    const std::size_t each = letters.size() * kMostSegments;
    for (const std::string& id : piece.steps.order) {
        if (!std::holds_alternative<Cut>(piece.steps.items.at(id).what))
            continue;
        if (left < each)
            return segmentOf(letters[left / kMostSegments], id, static_cast<int>(left % kMostSegments) + 1);
        left -= each;
    }
    return {};
}

}  // namespace

Address addressOf(const Work& work, const film::PixelId& id)
{
    if (id.piece == 0 || id.piece > work.pieces.order.size())
        return {};
    Address address{work.pieces.order[id.piece - 1u]};
    if (id.letter > 0)
        address.letter = letterAt(work.pieces.items.at(address.piece), id.letter - 1u);
    if (id.part > 0 && id.part <= std::size(kParts))
        address.part = kParts[id.part - 1u].name;
    return address;
}

render::Scene makeScene(const Work& work, const WorkBodies& bodies)
{
    render::Scene scene;
    Materials materials(work, scene);
    addBodies(work, bodies, materials, scene);

    scene.ground = {work.ground.kind,  -work.ground.wallBehind,         -work.ground.floorBelow,
                    work.ground.sweep, materials.add(work.ground.wall), materials.add(work.ground.floor)};
    for (const int ground : {scene.ground.wallMaterial, scene.ground.floorMaterial}) {  // there is nothing behind
        render::Layers& layers = scene.layers[static_cast<std::size_t>(ground)];
        layers.transmission = layers.translucency = layers.solid = 0;
        scene.covers[static_cast<std::size_t>(ground)].pictures.cutOut = nullptr;
    }
    if (std::none_of(scene.covers.begin(), scene.covers.end(), [](const surface::Cover& c) { return c.any(); })) {
        scene.covers.clear();
        if (std::all_of(scene.layers.begin(), scene.layers.end(), isPlain))
            scene.layers.clear();
    }

    scene.surroundings = work.surroundings.on;
    if (scene.surroundings && work.surroundings.kind != SurroundingsKind::Even)
        scene.sky = light::skyMap(skyOf(work));
    if (scene.surroundings)
        scene.entries.push_back({kSurroundingsEntry, film::EntryKind::Surroundings});
    for (const std::string& card : ownCardsOf(work))
        scene.entries.push_back({card, film::EntryKind::Surroundings});
    scene.emissive = isEmissive(work);
    if (scene.emissive)
        scene.entries.push_back({kEmissiveEntry, film::EntryKind::Emissive});
    const auto steering = steeringOf(work);
    for (const std::string& id : work.lights.order)
        if (const Light& light = work.lights.items.at(id); light.shines()) {
            scene.lights.push_back(lightOf(light));
            scene.lights.back().deskLuminance = steering.at(id);
            scene.entries.push_back({id, film::EntryKind::Light});
        }
    addCasting(work, scene);
    scene.camera = cameraOf(work, bodies);
    const base::Vec3 level = normalized(base::Vec3{-scene.camera.forward.x, 0, -scene.camera.forward.z});
    scene.foldZ = extentAlong(worldBounds(bodies), level);
    return scene;
}

namespace {

// Some other piece is made with it.
bool isTakenByOthers(const Work& work, const std::string& id)
{
    return std::ranges::any_of(work.pieces.items, [&](const auto& item) {
        const Piece& piece = item.second;
        return (piece.lettering() && piece.lettering()->run.piece == id) || (piece.shape() && piece.shape()->piece == id) ||
               std::ranges::any_of(piece.steps.items, [&](const auto& step) {
                   const auto* combine = std::get_if<Combine>(&step.second.what);
                   return combine && combine->piece == id;
               });
    });
}

}  // namespace

Work exposureOf(const Work& work)
{
    Work exposed = work;
    // What is no body is in no film, but where others are made with it.
    for (auto& [id, piece] : exposed.pieces.items)
        if (piece.hidden || isFlat(work, id)) {
            if (!isTakenByOthers(work, id))
                piece = {};
            piece.hidden = true;
        }
    dropLaterThanExposure(exposed);
    dropUnusedAssets(exposed);
    std::erase_if(exposed.assets, [](const auto& asset) { return isKeptPicture(asset.first); });
    const auto steering = steeringOf(work);
    for (auto& [id, light] : exposed.lights.items)
        light.stops = light.shines() ? std::log2(steering.at(id)) : 0;
    for (auto& [id, card] : exposed.surroundings.cards.items)
        if (card.own)
            card.stops = steeringOf(work.surroundings.cards.items.at(id));
    std::erase_if(exposed.sheets.items, [&](const auto& sheet) { return sheet.first != exposed.shown; });
    exposed.sheets.order = {exposed.shown};
    exposed.kept.clear();
    return exposed;
}

Rework reworkBetween(const Work& before, const Work& after)
{
    if (before == after)
        return Rework::Nothing;
    Work a = exposureOf(before), b = exposureOf(after);
    if (a == b)
        return Rework::Mix;
    for (Work* work : {&a, &b}) {
        for (auto& [_, light] : work->lights.items)
            light.stops = 0;
        for (auto& [_, card] : work->surroundings.cards.items)
            card.stops = card.own ? 0 : card.stops;
    }
    if (a == b)
        return Rework::Steer;
    // What was rendered may be switched off at the desk.
    if (before.surroundings.on && !after.surroundings.on)
        b.surroundings.on = true;
    for (auto& [id, light] : b.lights.items)
        if (const auto was = before.lights.items.find(id); was != before.lights.items.end() && was->second.shines())
            light.on = true;
    return a == b ? Rework::SwitchOff : Rework::Expose;
}

namespace {

finish::Behind behindOf(const Work& work)
{
    finish::Behind behind;
    const Ground& ground = work.ground;
    if (ground.backdropKind == BackdropKind::Gradient) {
        behind.kind = finish::Behind::Kind::Gradient;
        behind.bottom = ground.backdrop;
        behind.top = ground.backdropTop;
    } else if (ground.backdropKind == BackdropKind::Picture) {
        if (const auto found = work.assets.find(ground.backdropPicture); found != work.assets.end() && found->second.texture) {
            found->second.texture->makeColours();
            behind.kind = finish::Behind::Kind::Picture;
            behind.picture = found->second.texture;
            behind.bottom = ground.backdrop;
            behind.camera = directedCamera(work);
        }
    } else if (ground.backdropKind == BackdropKind::Surroundings && work.surroundings.on) {
        behind.kind = finish::Behind::Kind::Light;
        behind.camera = directedCamera(work);
        const auto map = [&](int ownCard) {
            return light::mapOf(skyOf(work), static_cast<float>(base::radians(kMostBlur)) * ground.backdropBlur * ground.backdropBlur,
                                ownCard);
        };
        if (work.surroundings.kind != SurroundingsKind::Even)
            behind.surroundings = map(-1);
        for (std::size_t card = 0; card < ownCardsOf(work).size(); ++card)
            behind.ownCards.push_back(map(static_cast<int>(card)));
    }
    return behind;
}

}  // namespace

finish::DevelopSettings developSettingsOf(const Work& work, bool transparent)
{
    finish::DevelopSettings settings;
    if (work.surroundings.on)
        settings.desk.push_back(work.surroundings.factor());
    for (const std::string& card : ownCardsOf(work))
        settings.desk.push_back(work.surroundings.factor() * work.surroundings.cards.items.at(card).factor());
    if (isEmissive(work))
        settings.desk.push_back(work.emissive.factor());
    for (const std::string& id : work.lights.order)
        if (const Light& light = work.lights.items.at(id); light.shines())
            settings.desk.push_back(light.factor());
    settings.exposureStops = work.finish.exposure;
    settings.viewTransform = work.finish.viewTransform;
    settings.backdrop = work.ground.backdrop;
    if (!transparent)
        settings.behind = behindOf(work);
    settings.transparent = transparent;
    settings.layers = layersOf(work);
    settings.widthPt = work.sheet().widthPt();
    return settings;
}

}  // namespace work
