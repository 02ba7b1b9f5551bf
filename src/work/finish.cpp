#include "work/finish.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <mutex>

#include "base/hash.h"
#include "base/variant_compiled.h"
#include "render/camera.h"
#include "work/asset_name.h"
#include "work/codes.h"
#include "work/properties.h"
#include "work/scene.h"
#include "work/seen_letters.h"
#include "work/values.h"

template class base::Variant<finish::Tone, finish::Levels, finish::Duotone, finish::Fill, finish::Halo, finish::Soften, finish::Sharpen,
                             finish::Grain, finish::Vignette, finish::PrintRaster, finish::FlatShadow, finish::Picture, finish::Lines,
                             finish::Curves, finish::Mixer, finish::Rays, finish::Particles, finish::Smoke, finish::Trail, finish::Stuff,
                             finish::Misprint, finish::Bands, finish::Print, finish::Code, finish::Lookup, finish::Flare, finish::Group,
                             finish::Beams, work::Newer>;

namespace work {

namespace {

template <std::size_t... I>
LayerWhat kindAt(std::size_t kind, std::index_sequence<I...>)
{
    LayerWhat what;
    ((kind == I ? (void)what.emplace<I>() : (void)0), ...);
    return what;
}

constexpr std::uint16_t kNobody = 0xffff;  // among the numbers of pieces, letters and parts

// Pieces, letters and parts by the numbers that pixels have.
std::vector<finish::MaskItem> itemsOf(const Work& work, const Layer& layer)
{
    std::vector<finish::MaskItem> named;
    for (const std::string& name : layer.pieces) {
        const std::size_t slash = name.find('/');
        const std::string id = name.substr(0, slash);
        const auto piece = std::ranges::find(work.pieces.order, id);
        finish::MaskItem item{kNobody};
        if (piece != work.pieces.order.end()) {
            item.piece = static_cast<std::uint16_t>(piece - work.pieces.order.begin() + 1);
            if (slash != std::string::npos) {
                const std::vector<std::string> letters = work.pieces.items.at(id).allLetters();
                const auto letter = std::ranges::find(letters, name.substr(slash + 1));
                item.letter = letter == letters.end() ? kNobody : static_cast<std::uint16_t>(letter - letters.begin() + 1);
            }
        }
        named.push_back(item);
    }
    if (layer.parts.empty())
        return named;
    if (named.empty())
        named.push_back({});
    std::vector<finish::MaskItem> items;
    for (const finish::MaskItem& item : named)
        for (const std::string& part : layer.parts) {
            const auto found = std::ranges::find_if(kParts, [&](const auto& p) { return part == p.name; });
            finish::MaskItem one = item;
            one.part = found == std::end(kParts) ? kNobody : static_cast<std::uint16_t>(static_cast<int>(found->value) + 1);
            items.push_back(one);
        }
    return items;
}

}  // namespace

std::vector<base::Vec2> pointsOf(const std::string& points)
{
    std::vector<base::Vec2> found;
    const char *at = points.data(), *end = at + points.size();
    const auto number = [&](double& to) {
        while (at < end && (*at == ' ' || *at == ','))
            ++at;
        const auto read = std::from_chars(at, end, to);
        at = read.ptr;
        return read.ec == std::errc() && std::isfinite(to);
    };
    for (base::Vec2 p; number(p.x) && number(p.y);)
        found.push_back(p);
    return found;
}

std::string textOf(const std::vector<base::Vec2>& points)
{
    std::string text;
    for (const base::Vec2& p : points)
        text += fmt::format("{}{:.2f},{:.2f}", text.empty() ? "" : " ", p.x, p.y);
    return text;
}

std::string groupOf(const Ordered<Layer>& layers, const std::string& id)
{
    const auto layer = layers.items.find(id);
    if (layer == layers.items.end() || std::holds_alternative<finish::Group>(layer->second.what))
        return {};
    const auto group = layers.items.find(layer->second.group);
    return group != layers.items.end() && std::holds_alternative<finish::Group>(group->second.what) ? group->first : std::string();
}

std::vector<std::string> together(const Ordered<Layer>& layers)
{
    std::map<std::string, std::vector<std::string>> inGroup;
    for (const std::string& id : layers.order)
        if (const std::string group = groupOf(layers, id); !group.empty())
            inGroup[group].push_back(id);
    std::vector<std::string> order;
    for (const std::string& id : layers.order)
        if (groupOf(layers, id).empty()) {
            if (const auto found = inGroup.find(id); found != inGroup.end())
                order.insert(order.end(), found->second.begin(), found->second.end());
            order.push_back(id);
        }
    return order;
}

Layer layerOfKind(std::size_t kind)
{
    Layer layer;
    layer.what = kindAt(kind, std::make_index_sequence<std::variant_size_v<LayerWhat> - 1>());
    if (auto* grain = std::get_if<finish::Grain>(&layer.what)) {
        grain->amount = 0.3;
        layer.blend = finish::Blend::Overlay;
        layer.strength = 0.4;
    } else if (std::holds_alternative<finish::PrintRaster>(layer.what)) {
        layer.blend = finish::Blend::SoftLight;
        layer.strength = 0.5;
    } else if (std::holds_alternative<finish::FlatShadow>(layer.what)) {
        layer.strength = 0.25;
    } else if (std::holds_alternative<finish::Lines>(layer.what)) {
        layer.blend = finish::Blend::Screen;
    } else if (std::holds_alternative<finish::Fill>(layer.what)) {
        layer.strength = 0.5;
    } else if (std::holds_alternative<finish::Particles>(layer.what)) {
        layer.blend = finish::Blend::Screen;
    } else if (std::holds_alternative<finish::Stuff>(layer.what)) {
        layer.blend = finish::Blend::SoftLight;
    } else if (std::holds_alternative<finish::Bands>(layer.what)) {
        layer.blend = finish::Blend::SoftLight;
        layer.acts = finish::Acts::Lettering;
    }
    return layer;
}

namespace {

double reachOfSheet(const Work& work)
{
    return std::max(work.sheet().widthPt(), work.sheet().heightPt());
}

}  // namespace

bool isContent(const Layer& layer)
{
    return std::holds_alternative<finish::Picture>(layer.what) || std::holds_alternative<finish::Print>(layer.what) ||
           std::holds_alternative<finish::Code>(layer.what);
}

void useFinish(Work& work, const FinishStart& start, bool adds)
{
    Work grown;
    for (const Layer& layer : start.layers)
        grown.finish.layers.add("y" + std::to_string(grown.finish.layers.order.size() + 1), layer);
    grow(grown, reachOfSheet(work) / start.reachPt);
    Ordered<Layer> kept;
    for (const std::string& id : work.finish.layers.order)
        if (const Layer& layer = work.finish.layers.items.at(id); isContent(layer))
            kept.add(id, layer);
    if (!adds)
        work.finish.layers = {};
    std::map<std::string, std::string> added;
    for (const std::string& id : grown.finish.layers.order)
        added[id] = work.newId("y");
    for (const std::string& id : grown.finish.layers.order) {
        Layer& layer = grown.finish.layers.items.at(id);
        const auto group = added.find(layer.group);
        layer.group = group == added.end() ? std::string() : group->second;
        work.finish.layers.add(added.at(id), layer);
    }
    if (!adds)
        for (const std::string& id : kept.order)
            work.finish.layers.add(id, kept.items.at(id));
}

FinishStart finishStartOf(const Work& work)
{
    FinishStart start{reachOfSheet(work), {}};
    const auto isKept = [](const Layer& layer) {
        return !std::holds_alternative<Newer>(layer.what) && !isContent(layer) && !std::holds_alternative<finish::Lookup>(layer.what);
    };
    std::map<std::string, std::string> names;
    for (const std::string& id : work.finish.layers.order)
        if (isKept(work.finish.layers.items.at(id)))
            names.emplace(id, "y" + std::to_string(names.size() + 1));
    for (const std::string& id : work.finish.layers.order)
        if (const Layer& layer = work.finish.layers.items.at(id); isKept(layer)) {
            start.layers.push_back(layer);
            const auto group = names.find(layer.group);
            start.layers.back().group = group == names.end() ? std::string() : group->second;
            start.layers.back().strokes = {};
            start.layers.back().pieces.clear();
            start.layers.back().light.clear();
            std::visit(
                [](auto& what) {
                    if constexpr (requires { what.lamp; })
                        what.lamp.clear();
                    if constexpr (requires { what.swatch; })
                        what.swatch.clear();
                },
                start.layers.back().what);
        }
    return start;
}

std::vector<std::string*> layerPicturesIn(Work& work)
{
    std::vector<std::string*> pictures;
    for (auto& [_, layer] : work.finish.layers.items)
        if (auto* picture = std::get_if<finish::Picture>(&layer.what))
            pictures.push_back(&picture->asset);
    return pictures;
}

namespace {

// What was made of a work's flat pieces and codes, for as long as they stay as they are.
class FlatShapes {
public:
    std::shared_ptr<const finish::FlatShape> of(const Work& work, const std::string& id)
    {
        const auto piece = work.pieces.items.find(id);
        if (piece == work.pieces.items.end())
            return nullptr;
        const std::lock_guard lock(m_mutex);
        const Sheet& sheet = work.shownSheet();
        if (!(m_pieces == work.pieces) || !(m_size == sheet.size) || m_x != sheet.x || m_y != sheet.y || !(m_shifts == sheet.shifts) ||
            !(m_assets == work.assets)) {
            m_shapes.clear();
            m_pieces = work.pieces;
            m_size = sheet.size;
            m_x = sheet.x;
            m_y = sheet.y;
            m_shifts = sheet.shifts;
            m_assets = work.assets;
        }
        auto& shape = m_shapes[id];
        if (!shape) {
            constexpr double kOfSheet = 1.0 / 40000;  // half a pixel of the largest prints
            auto made = flatShapeOf(work, id, std::exp2(std::floor(std::log2(kOfSheet * sheet.size.widthPt()))), m_cache);
            shape = made ? std::make_shared<const finish::FlatShape>(std::move(*made)) : std::make_shared<const finish::FlatShape>();
        }
        return shape;
    }

private:
    std::mutex m_mutex;
    Cache m_cache{std::size_t{64} << 20};
    Ordered<Piece> m_pieces;
    SheetSize m_size;
    double m_x = 0, m_y = 0;
    decltype(Sheet::shifts) m_shifts;
    decltype(Work::assets) m_assets;
    std::map<std::string, std::shared_ptr<const finish::FlatShape>> m_shapes;
};

void setCode(finish::Code& code)
{
    if (const auto shapes = codeOf(code.form, code.text)) {
        code.bars = shapes->bars;
        code.field = shapes->field;
    }
}

}  // namespace

bool isFlat(const Work& work, const std::string& piece)
{
    return std::ranges::any_of(work.finish.layers.items, [&](const auto& layer) {
        const auto* print = std::get_if<finish::Print>(&layer.second.what);
        return print && print->piece == piece;
    });
}

std::vector<std::string*> colourTablesIn(Work& work)
{
    std::vector<std::string*> tables;
    for (auto& [_, layer] : work.finish.layers.items)
        if (auto* lookup = std::get_if<finish::Lookup>(&layer.what))
            tables.push_back(&lookup->asset);
    return tables;
}

base::Result<std::string> addColourTable(Work& work, const std::string& name, const std::vector<std::uint8_t>& bytes)
{
    const auto cube = finish::Cube::read({reinterpret_cast<const char*>(bytes.data()), bytes.size()});
    if (!cube)
        return tl::unexpected<base::Error>(cube.error());
    const std::string key = fmt::format("tables/{}-{:.16}.cube", safeStem(name, "table"), base::contentName(bytes));
    work.assets[key].bytes = std::make_shared<const std::vector<std::uint8_t>>(bytes);
    return key;
}

namespace {

// Read once for as long as its bytes are there.
finish::SharedCube cubeOf(const Work& work, const std::string& name)
{
    static std::mutex s_mutex;
    static std::map<const void*, std::pair<std::weak_ptr<const void>, finish::SharedCube>> s_known;
    const auto asset = work.assets.find(name);
    if (asset == work.assets.end() || !asset->second.bytes)
        return nullptr;
    const auto& bytes = asset->second.bytes;
    const std::lock_guard lock(s_mutex);
    std::erase_if(s_known, [](const auto& known) { return known.second.first.expired(); });
    auto found = s_known.find(bytes.get());
    if (found == s_known.end()) {
        auto cube = finish::Cube::read({reinterpret_cast<const char*>(bytes->data()), bytes->size()});
        found = s_known
                    .emplace(bytes.get(), std::pair(std::weak_ptr<const void>(bytes),
                                                    cube ? std::make_shared<const finish::Cube>(std::move(*cube)) : nullptr))
                    .first;
    }
    return found->second.second;
}

}  // namespace

std::optional<base::Vec2> lampOnSheet(const Work& work, const std::string& lamp)
{
    const auto light = work.lights.items.find(lamp);
    if (light == work.lights.items.end())
        return std::nullopt;
    // A sun is as far away as its direction can say; how far back a parallel camera stands moves nothing.
    constexpr double kFar = 1e6;
    const light::Light seen = lightOf(light->second);
    const base::Vec3 at = seen.kind == light::LightKind::Sun ? seen.towardsAim * -kFar : seen.position;
    render::Camera camera = cameraOf(work, {});
    if (!camera.perspective)
        camera.eye = camera.eye - camera.forward * (2 * kFar);
    base::Vec2 uv;
    if (!render::project(camera, at, uv))
        return std::nullopt;
    const Sheet& sheet = work.shownSheet();
    return base::Vec2{(uv.x - 0.5) * sheet.size.widthPt(), (0.5 - uv.y) * sheet.size.heightPt()};
}

namespace {

// Where the lamp of a flare or of beams is seen, and how deep it is.
template <class T>
void setLamp(const Work& work, T& what)
{
    if (what.lamp.empty())
        return;
    const auto at = lampOnSheet(work, what.lamp);
    what.hidden = !at;
    if (!at)
        return;
    what.x = at->x;
    what.y = at->y;
    if constexpr (requires { what.open; })
        what.open = openToLamp(work, what.lamp);
    if constexpr (requires { what.depth; }) {
        const light::Light seen = lightOf(work.lights.items.at(what.lamp));
        const render::Camera camera = cameraOf(work, {});
        if (seen.kind != light::LightKind::Sun)
            what.depth = dot(seen.position - camera.eye, camera.forward) - camera.frameDistance;
    }
}

}  // namespace

namespace {

std::vector<finish::Stroke> strokesOf(const Layer& layer)
{
    std::vector<finish::Stroke> strokes;
    for (const std::string& id : layer.strokes.order) {
        const Stroke& s = layer.strokes.items.at(id);
        strokes.push_back({pointsOf(s.points), s.size, s.softness, s.erases});
    }
    return strokes;
}

finish::Mask maskOf(const Work& work, const Layer& layer)
{
    finish::Mask mask{layer.acts,      itemsOf(work, layer), layer.light,   layer.edge,  layer.darkest, layer.brightest, layer.fades,
                      layer.fadesTurn, layer.inverted,       layer.farFrom, layer.farTo, layer.lit,     strokesOf(layer)};
    // Where no light can be hidden everything is lit.
    const bool someCasts = (work.surroundings.on && work.surroundings.kind != SurroundingsKind::Even) || isEmissive(work) ||
                           std::ranges::any_of(work.lights.items, [](const auto& light) { return light.second.shines(); });
    if (!someCasts && mask.lit == finish::Lit::InLight)
        mask.lit = finish::Lit::Any;
    if (!someCasts && mask.lit == finish::Lit::InShadow) {
        mask.acts = finish::Acts::Lettering;
        mask.items = {{kNobody, 0, 0}};
    }
    return mask;
}

}  // namespace

std::vector<finish::Layer> layersOf(const Work& work)
{
    static FlatShapes s_flat;
    std::vector<finish::Layer> layers;
    std::map<std::string, int> inGroup;  // how many of each are seen
    const Ordered<Layer>& all = work.finish.layers;
    const auto isSeen = [&](const Layer& layer) { return layer.on && layer.strength > 0; };
    for (const std::string& id : together(all)) {
        const Layer& layer = all.items.at(id);
        const std::string group = groupOf(all, id);
        if (!isSeen(layer) || (!group.empty() && !isSeen(all.items.at(group))))
            continue;
        finish::Layer made{layer.strength, layer.blend, maskOf(work, layer), {}};
        const bool known = std::visit(
            [&]<class T>(const T& what) {
                if constexpr (!std::is_same_v<T, Newer>) {
                    made.what = what;
                    if constexpr (requires { what.swatch; })
                        std::get<T>(made.what).swatch.clear();
                    if constexpr (std::is_same_v<T, finish::Picture>) {
                        finish::Picture& picture = std::get<T>(made.what);
                        if (const auto asset = work.assets.find(what.asset); asset != work.assets.end() && asset->second.texture) {
                            asset->second.texture->makeColours();
                            picture.texture = asset->second.texture;
                        }
                    }
                    if constexpr (std::is_same_v<T, finish::Print>)
                        std::get<T>(made.what).shape = s_flat.of(work, what.piece);
                    if constexpr (std::is_same_v<T, finish::Code>)
                        setCode(std::get<T>(made.what));
                    if constexpr (requires { what.lamp; })
                        setLamp(work, std::get<T>(made.what));
                    if constexpr (std::is_same_v<T, finish::Lookup>)
                        std::get<T>(made.what).cube = cubeOf(work, what.asset);
                    if constexpr (std::is_same_v<T, finish::Fill>)
                        if (what.isByLetter())
                            std::get<T>(made.what).boxes = letterBoxes(work);
                    if constexpr (std::is_same_v<T, finish::Group>)
                        std::get<T>(made.what).layers = inGroup[id];
                }
                return !std::is_same_v<T, Newer>;
            },
            layer.what);
        if (!known || (std::holds_alternative<finish::Group>(made.what) && inGroup[id] == 0))
            continue;
        layers.push_back(std::move(made));
        ++inGroup[group];
    }
    return layers;
}

}  // namespace work
