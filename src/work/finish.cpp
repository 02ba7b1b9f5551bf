#include "work/finish.h"

#include <algorithm>

#include "work/properties.h"
#include "work/values.h"

namespace work {

namespace {

template <std::size_t... I>
decltype(Layer::what) kindAt(std::size_t kind, std::index_sequence<I...>)
{
    decltype(Layer::what) what;
    ((kind == I ? (void)what.emplace<I>() : (void)0), ...);
    return what;
}

// Pieces, letters and parts by the numbers that pixels have.
std::vector<finish::MaskItem> itemsOf(const Work& work, const Layer& layer)
{
    constexpr std::uint16_t kNobody = 0xffff;
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

Layer layerOfKind(std::size_t kind)
{
    Layer layer;
    layer.what = kindAt(kind, std::make_index_sequence<std::variant_size_v<decltype(Layer::what)> - 1>());
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
    }
    return layer;
}

namespace {

double reachOfSheet(const Work& work)
{
    return std::max(work.sheet().widthPt(), work.sheet().heightPt());
}

}  // namespace

void useFinish(Work& work, const FinishStart& start, bool adds)
{
    Work grown;
    for (const Layer& layer : start.layers)
        grown.finish.layers.add("y" + std::to_string(grown.finish.layers.order.size() + 1), layer);
    grow(grown, reachOfSheet(work) / start.reachPt);
    if (!adds)
        work.finish.layers = {};
    for (const std::string& id : grown.finish.layers.order)
        work.finish.layers.add(work.newId("y"), grown.finish.layers.items.at(id));
}

FinishStart finishStartOf(const Work& work)
{
    FinishStart start{reachOfSheet(work), {}};
    for (const std::string& id : work.finish.layers.order)
        if (const Layer& layer = work.finish.layers.items.at(id);
            !std::holds_alternative<Newer>(layer.what) && !std::holds_alternative<finish::Picture>(layer.what)) {
            start.layers.push_back(layer);
            start.layers.back().pieces.clear();
            std::visit(
                [](auto& what) {
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

std::vector<finish::Layer> layersOf(const Work& work)
{
    std::vector<finish::Layer> layers;
    for (const std::string& id : work.finish.layers.order) {
        const Layer& layer = work.finish.layers.items.at(id);
        if (!layer.on || layer.strength <= 0)
            continue;
        finish::Layer made{layer.strength, layer.blend, {layer.acts, itemsOf(work, layer), layer.inverted}, {}};
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
                }
                return !std::is_same_v<T, Newer>;
            },
            layer.what);
        if (known)
            layers.push_back(std::move(made));
    }
    return layers;
}

}  // namespace work
