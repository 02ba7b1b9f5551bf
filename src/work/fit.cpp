#include "work/fit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "outline/layout.h"
#include "outline/text.h"
#include "render/camera.h"
#include "work/runs.h"
#include "work/typeset.h"

namespace work {

namespace {

constexpr double kOfWidth = 0.84, kOfHeight = 0.72;
constexpr std::size_t kMostLines = 40;

// The size that fills the sheet with this text; 0 for one that shows nothing.
base::Result<double> fittingSize(const Work& work, const Piece& piece, const std::string& text, Cache& cache)
{
    const Lettering& lettering = *piece.lettering();
    base::Notes notes;  // said where bodies are made
    const auto set = typeset(work, piece, text, 1, cache, notes);
    if (!set)
        return tl::unexpected<base::Error>(set.error());
    const outline::Layout& layout = set->layout;
    const double height = set->capHeightPt + layout.baselines.front() - layout.baselines.back();
    if (layout.widthPt <= 0 || height <= 0)
        return 0.0;
    base::Vec2 size{layout.widthPt, height};
    if (!lettering.run.isStraight()) {
        const base::Box2 box = boxOf(setOnRun(work, lettering, layout, set->capHeightPt, cache), set->capHeightPt);
        size = box.high - box.low;
    }
    const double frame = work.view().frame;
    return std::min(kOfWidth * work.sheet().widthPt() * frame / size.x, kOfHeight * work.sheet().heightPt() * frame / size.y);
}

// The text in so many lines, each about as long as the others: greedy, by the letters' count.
std::string inLines(const std::string& text, std::size_t lines)
{
    const double share = static_cast<double>(text.size()) / static_cast<double>(lines);
    std::string broken = text;
    std::size_t made = 1;
    for (std::size_t at = text.find(' '); at != std::string::npos && made < lines; at = text.find(' ', at + 1)) {
        const std::size_t next = std::min(text.find(' ', at + 1), text.size());
        // Here, unless the line's end comes nearer to its share one word later.
        const double goal = share * static_cast<double>(made);
        if (std::abs(static_cast<double>(at) - goal) <= std::abs(static_cast<double>(next) - goal)) {
            broken[at] = '\n';
            ++made;
        }
    }
    return broken;
}

bool isSetOtherwise(const Lettering& a, const Lettering& b)
{
    outline::LayoutSettings layout = b.layout;
    layout.sizePt = a.layout.sizePt;
    return a.text != b.text || !(a.font == b.font) || !(a.layout == layout) || !(a.run == b.run);
}

}  // namespace

double pageHeightFor(const Work& work, double widthPt, double heightPt)
{
    return work.view().frame * std::min(kOfWidth * work.sheet().widthPt() * heightPt / widthPt, kOfHeight * work.sheet().heightPt());
}

base::Result<void> fitToSheet(Work& work, const std::string& id, Cache& cache)
{
    Piece& piece = work.pieces.items.at(id);
    if (const Artwork* artwork = piece.artwork()) {
        const auto drawing = openDrawing(work, *artwork, cache);
        if (!drawing)
            return tl::unexpected<base::Error>(drawing.error());
        scaleTo(piece, pageHeightFor(work, (*drawing)->widthPt, (*drawing)->heightPt));
        return {};
    }
    if (const Shape* shape = piece.shape()) {
        if (shape->isPlate())
            return {};  // as large as what it goes round
        const double width = shape->kind == ShapeKind::Drawn ? piece.sizePt() : shape->width;
        scaleTo(piece, pageHeightFor(work, width, piece.sizePt()));
        return {};
    }
    // What runs round a line of its own is as large as that.
    if (!piece.lettering() || piece.lettering()->run.hasOwnMiddle())
        return {};
    const auto size = fittingSize(work, piece, piece.lettering()->text, cache);
    if (!size)
        return tl::unexpected<base::Error>(size.error());
    if (*size > 0)
        scaleTo(piece, *size);
    return {};
}

base::Result<void> breakLines(Work& work, const std::string& id, Cache& cache)
{
    Piece& piece = work.pieces.items.at(id);
    if (!piece.lettering())
        return {};
    std::string joined = piece.lettering()->text;
    std::replace(joined.begin(), joined.end(), '\n', ' ');
    std::string best = joined;
    double largest = 0;
    const auto words = static_cast<std::size_t>(std::count(joined.begin(), joined.end(), ' ')) + 1;
    for (std::size_t lines = 1; lines <= std::min(words, kMostLines); ++lines) {
        const std::string text = inLines(joined, lines);
        const auto size = fittingSize(work, piece, text, cache);
        if (!size)
            return tl::unexpected<base::Error>(size.error());
        if (*size > largest) {
            largest = *size;
            best = text;
        }
    }
    // One byte for another, so that every letter stays the letter it was.
    const std::string was = piece.lettering()->text;
    for (std::size_t at = 0; at < best.size(); ++at)
        if (best[at] != was[at])
            editText(piece, at, 1, std::string(1, best[at]));
    if (largest > 0)
        scaleTo(piece, largest);
    return {};
}

void keepFitted(const Work& before, Work& changed, Cache& cache)
{
    for (auto& [id, piece] : changed.pieces.items) {
        Lettering* lettering = piece.lettering();
        if (!lettering || !lettering->fits)
            continue;
        const auto was = before.pieces.items.find(id);
        const Lettering* then = was == before.pieces.items.end() ? nullptr : was->second.lettering();
        if (!then || !then->fits || isSetOtherwise(*then, *lettering) || !(before.sheet() == changed.sheet()))
            (void)fitToSheet(changed, id, cache);  // a face that cannot be opened is said where bodies are made
        else if (then->layout.sizePt != lettering->layout.sizePt)
            lettering->fits = false;
    }
}

base::Notes offSheet(const Work& work, const WorkBodies& bodies, const render::Camera& camera)
{
    std::map<std::string, std::pair<std::size_t, std::size_t>> counts;  // of each piece: letters off the sheet, all
    for (const WorkBody& body : bodies.bodies) {
        if (body.copy > 0)
            continue;
        const base::Box3 box = worldBox(body);
        int left = 0, right = 0, above = 0, below = 0, behind = 0;
        for (int i = 0; i < 8; ++i) {
            const base::Vec3 corner{i & 1 ? box.high.x : box.low.x, i & 2 ? box.high.y : box.low.y, i & 4 ? box.high.z : box.low.z};
            base::Vec2 uv;
            if (!render::project(camera, corner, uv)) {
                ++behind;
                continue;
            }
            left += uv.x < 0;
            right += uv.x > 1;
            above += uv.y < 0;
            below += uv.y > 1;
        }
        auto& [off, all] = counts[body.piece];
        all += body.letters.size();
        if (std::max({left, right, above, below}) + behind == 8)
            off += body.letters.size();
    }
    base::Notes notes;
    for (const std::string& id : work.pieces.order) {
        const auto found = counts.find(id);
        if (found == counts.end() || found->second.first == 0)
            continue;
        const auto [off, all] = found->second;
        const std::string title = titleOf(work.pieces.items.at(id));
        notes.push_back({"off-sheet",
                         off == all ? fmt::format("{} is not on the sheet", title)
                                    : fmt::format("{} of {} letters of {} are off the sheet", off, all, title),
                         placeOf({id})});
    }
    return notes;
}

}  // namespace work
