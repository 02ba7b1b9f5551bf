#include "work/artwork.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "base/hash.h"
#include "outline/text.h"
#include "work/asset_name.h"
#include "work/fit.h"

namespace work {

namespace {

constexpr double kLeastOverlap = 0.5;  // of two boxes, of what both cover together: they are one shape at one place

base::Box2 boxOf(const outline::DrawnShape& shape)
{
    base::Box2 box;
    for (const outline::CurveContour& contour : shape.contours)
        for (const outline::Curve& curve : contour)
            for (int i = 0; i <= curve.degree; ++i)
                box.add(curve.p[i]);
    return box;
}

double areaOf(const base::Box2& box)
{
    return box.empty() ? 0 : (box.high.x - box.low.x) * (box.high.y - box.low.y);
}

double overlap(const base::Box2& a, const base::Box2& b)
{
    const double width = std::min(a.high.x, b.high.x) - std::max(a.low.x, b.low.x);
    const double height = std::min(a.high.y, b.high.y) - std::max(a.low.y, b.low.y);
    if (width < 0 || height < 0)
        return 0;
    const double both = width * height, all = areaOf(a) + areaOf(b) - both;
    return all > 0 ? both / all : 1;
}

// The area that a shape encloses, holes taken off where they run the other way.
double inkOf(const outline::DrawnShape& shape)
{
    double twice = 0;
    for (const outline::CurveContour& contour : shape.contours)
        for (const outline::Curve& curve : contour)
            twice += cross(curve.p[0], curve.p[curve.degree]);
    return std::abs(twice) / 2;
}

// As much of a name as a work keeps, in whole characters; what is no UTF-8 gives none.
std::string keptName(const std::string& name)
{
    constexpr std::size_t kMost = 256;  // bytes
    if (!outline::isUtf8(name))
        return {};
    std::size_t end = std::min(name.size(), kMost);
    while (end < name.size() && end > 0 && (static_cast<unsigned char>(name[end]) & 0xC0) == 0x80)
        --end;
    return name.substr(0, end);
}

// Puts the file and its drawing into the work and names them.
void takeFiles(Work& work, Artwork& artwork, const ArtworkFile& file)
{
    const std::string text = outline::svgOf(file.drawing);
    auto drawing = std::make_shared<const outline::Bytes>(text.begin(), text.end());
    const std::string stem = "artwork/" + safeStem(file.name);
    artwork.name = keptName(file.name);
    artwork.path = file.path;
    artwork.page = file.page;
    artwork.original = fmt::format("{}-{:.16}{}", stem, base::contentName(*file.bytes), endingOf(file.name, ".svg"));
    artwork.drawing = fmt::format("{}-{:.16}.shapes.svg", stem, base::contentName(*drawing));
    artwork.greys.clear();
    if (file.greys) {
        artwork.greys = fmt::format("{}-{:.16}.pgm", stem, base::contentName(*file.greys));
        artwork.trace = file.trace;
        work.assets[artwork.greys].bytes = file.greys;
    }
    work.assets[artwork.original].bytes = file.bytes;
    work.assets[artwork.drawing].bytes = std::move(drawing);
}

ArtShape shapeFor(const outline::DrawnShape& drawn)
{
    return {drawn.id, keptName(drawn.name), colourOf(drawn)};
}

void trace(ArtworkFile& file, const outline::TraceSettings& settings)
{
    const auto greys = outline::greysFromPgm({reinterpret_cast<const char*>(file.greys->data()), file.greys->size()}, file.name);
    file.trace = settings;
    file.drawing = greys ? outline::traced(*greys, settings) : outline::Drawing{1, 1, {}, {}};
}

// The shape is of its colour, where the piece is not.
void setColour(Piece& piece, const std::string& letter, Rgb colour)
{
    if (piece.material.piece.baseColour == colour && piece.material.piece.swatch.empty())
        return;
    MaterialSet own = piece.material;
    own.piece.baseColour = colour;
    own.piece.swatch.clear();
    piece.letters[letter].material = std::move(own);
}

}  // namespace

Rgb colourOf(const outline::DrawnShape& shape)
{
    return *picture::rgbFromHex(fmt::format("#{:06X}", shape.colour & 0xFFFFFF));
}

std::string addArtwork(Work& work, const ArtworkFile& file)
{
    Piece piece = newWork("x", {}, work.sheet()).pieces.items.begin()->second;
    Artwork artwork;
    takeFiles(work, artwork, file);
    const outline::Drawing& drawing = file.drawing;
    artwork.heightPt = std::clamp(pageHeightFor(work, drawing.widthPt, drawing.heightPt), 0.1, 100000.0);
    const double size = std::min(artwork.heightPt, artwork.heightPt * drawing.widthPt / drawing.heightPt);
    piece.slab()->depthPt = size / 12;
    piece.slab()->front.widthPt = piece.slab()->front.heightPt = size / 160;
    std::map<std::uint32_t, double> inks;
    for (const outline::DrawnShape& shape : drawing.shapes)
        inks[shape.colour] += inkOf(shape);
    const auto most = std::max_element(inks.begin(), inks.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
    for (const outline::DrawnShape& shape : drawing.shapes) {
        if (most != inks.end() && shape.colour == most->first)
            piece.material.piece.baseColour = colourOf(shape);
        artwork.shapes.add(fmt::format("a{}", artwork.nextShape++), shapeFor(shape));
    }
    piece.source = artwork;
    for (const auto& [letter, shape] : artwork.shapes.items)
        setColour(piece, letter, shape.colour);
    const std::string id = work.newId("p");
    work.pieces.items[id] = std::move(piece);
    work.pieces.order.insert(work.pieces.order.begin(), id);
    return id;
}

Replaced replaceArtwork(Work& work, const std::string& pieceId, ArtworkFile file)
{
    Piece& piece = work.pieces.items.at(pieceId);
    const Artwork before = *piece.artwork();
    if (file.greys && before.isTraced() && !(file.trace == before.trace))
        trace(file, before.trace);
    Artwork artwork = before;
    outline::Drawing old;
    if (const auto asset = work.assets.find(before.drawing); asset != work.assets.end() && asset->second.bytes)
        if (auto read =
                outline::drawingFromSvg({reinterpret_cast<const char*>(asset->second.bytes->data()), asset->second.bytes->size()}, ""))
            old = std::move(*read);
    takeFiles(work, artwork, file);
    if (old.heightPt > 0)
        artwork.heightPt = std::clamp(before.heightPt * file.drawing.heightPt / old.heightPt, 0.1, 100000.0);

    std::map<std::string, const outline::DrawnShape*> drawnBefore;
    for (const outline::DrawnShape& shape : old.shapes)
        drawnBefore[shape.id] = &shape;
    std::vector<std::string> letterOf(file.drawing.shapes.size());
    std::set<std::string> taken;
    const auto take = [&](std::size_t i, const std::string& letter) {
        letterOf[i] = letter;
        taken.insert(letter);
    };
    // By name: the first of a name to the first, and so on.
    for (std::size_t i = 0; i < letterOf.size(); ++i)
        if (const std::string& name = file.drawing.shapes[i].name; !name.empty())
            for (const std::string& letter : before.shapes.order)
                if (!taken.contains(letter) && before.shapes.items.at(letter).name == keptName(name)) {
                    take(i, letter);
                    break;
                }
    // By place: what covers the same most, of the same colour first. Places are counted in the scale that stays.
    struct Pair {
        bool sameColour;
        double overlap;
        std::size_t shape;
        std::string letter;
    };
    std::vector<Pair> pairs;
    for (std::size_t i = 0; i < letterOf.size(); ++i) {
        if (!letterOf[i].empty())
            continue;
        const outline::DrawnShape& shape = file.drawing.shapes[i];
        const base::Box2 box = boxOf(shape);
        for (const std::string& letter : before.shapes.order) {
            const auto was = drawnBefore.find(before.shapes.items.at(letter).shape);
            if (taken.contains(letter) || was == drawnBefore.end() || (!was->second->name.empty() && !shape.name.empty()))
                continue;
            if (const double same = overlap(box, boxOf(*was->second)); same >= kLeastOverlap)
                pairs.push_back({was->second->colour == shape.colour, same, i, letter});
        }
    }
    std::stable_sort(pairs.begin(), pairs.end(),
                     [](const Pair& a, const Pair& b) { return a.sameColour != b.sameColour ? a.sameColour : a.overlap > b.overlap; });
    for (const Pair& pair : pairs)
        if (letterOf[pair.shape].empty() && !taken.contains(pair.letter))
            take(pair.shape, pair.letter);

    Replaced result;
    artwork.shapes = {};
    std::vector<std::pair<std::string, Rgb>> coloured;
    for (std::size_t i = 0; i < letterOf.size(); ++i) {
        const ArtShape shape = shapeFor(file.drawing.shapes[i]);
        std::string letter = letterOf[i];
        if (letter.empty()) {
            letter = fmt::format("a{}", artwork.nextShape++);
            coloured.emplace_back(letter, shape.colour);
            ++result.added;
        } else {
            ++result.kept;
            const Rgb was = before.shapes.items.at(letter).colour;
            const Material& now = piece.materialOf(letter).piece;
            if (!(was == shape.colour) && now.baseColour == was && now.swatch.empty())
                coloured.emplace_back(letter, shape.colour);
        }
        artwork.shapes.add(letter, shape);
    }
    for (const std::string& letter : before.shapes.order)
        if (!taken.contains(letter)) {
            piece.letters.erase(letter);
            ++result.removed;
        }
    piece.source = artwork;
    for (const auto& [letter, colour] : coloured) {
        if (auto own = piece.letters.find(letter); own != piece.letters.end() && own->second.material)
            own->second.material->piece.baseColour = colour;
        else
            setColour(piece, letter, colour);
    }
    return result;
}

void keepTraced(const Work& before, Work& changed)
{
    std::vector<std::string> again;
    for (const auto& [id, piece] : changed.pieces.items) {
        const Artwork* artwork = piece.artwork();
        const auto was = before.pieces.items.find(id);
        const Artwork* then = was == before.pieces.items.end() ? nullptr : was->second.artwork();
        if (artwork && artwork->isTraced() && then && then->greys == artwork->greys && then->drawing == artwork->drawing &&
            !(then->trace == artwork->trace))
            again.push_back(id);
    }
    for (const std::string& id : again) {
        const Artwork artwork = *changed.pieces.items.at(id).artwork();
        const auto greysAsset = changed.assets.find(artwork.greys), original = changed.assets.find(artwork.original);
        if (greysAsset == changed.assets.end() || original == changed.assets.end() || !greysAsset->second.bytes)
            continue;
        ArtworkFile file{artwork.name, artwork.path, original->second.bytes, artwork.page, {}, greysAsset->second.bytes, {}};
        trace(file, artwork.trace);
        if (!file.drawing.shapes.empty())
            replaceArtwork(changed, id, std::move(file));
    }
}

std::vector<std::string> shapesOfColour(const Work& work, const std::string& piece, const std::string& shape)
{
    std::vector<std::string> shapes;
    const Artwork* artwork = work.pieces.items.at(piece).artwork();
    const auto like = artwork ? artwork->shapes.items.find(shape) : decltype(artwork->shapes.items.end())();
    if (!artwork || like == artwork->shapes.items.end())
        return shapes;
    for (const std::string& id : artwork->shapes.order)
        if (artwork->shapes.items.at(id).colour == like->second.colour)
            shapes.push_back(id);
    return shapes;
}

int coloursToSwatches(Work& work, const std::string& pieceId)
{
    Piece& piece = work.pieces.items.at(pieceId);
    const Artwork* artwork = piece.artwork();
    if (!artwork)
        return 0;
    std::vector<std::pair<Rgb, std::string>> made;
    for (const std::string& letter : artwork->shapes.order) {
        const ArtShape& shape = artwork->shapes.items.at(letter);
        auto swatch = std::find_if(made.begin(), made.end(), [&](const auto& m) { return m.first == shape.colour; });
        if (swatch == made.end()) {
            const auto known = std::find_if(work.swatches.items.begin(), work.swatches.items.end(),
                                            [&](const auto& s) { return s.second.colour == shape.colour; });
            const std::string id = known != work.swatches.items.end() ? known->first : work.newId("s");
            if (known == work.swatches.items.end())
                work.swatches.add(id, {picture::hexFromRgb(shape.colour), shape.colour});
            made.emplace_back(shape.colour, id);
            swatch = made.end() - 1;
        }
        if (piece.material.piece.baseColour == shape.colour && !piece.letters.contains(letter)) {
            piece.material.piece.swatch = swatch->second;
            continue;
        }
        auto own = piece.letters.find(letter);
        if (own != piece.letters.end() && own->second.material && own->second.material->piece.baseColour == shape.colour)
            own->second.material->piece.swatch = swatch->second;
    }
    return static_cast<int>(made.size());
}

}  // namespace work
