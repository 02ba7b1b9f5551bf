#include "work/work.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "outline/text.h"

namespace work {

double Sheet::toPt(double length) const
{
    switch (unit) {
    case Unit::Px:
        return length / ppi * base::kPtPerInch;
    case Unit::Mm:
        return base::ptFromMm(length);
    case Unit::In:
        return length * base::kPtPerInch;
    case Unit::Pt:
        return length;
    }
    return length;
}

int Sheet::toPx(double length) const
{
    return std::max(1, static_cast<int>(std::lround(toPt(length) / base::kPtPerInch * ppi)));
}

Rgb Light::factor() const
{
    return colour * static_cast<float>(std::exp2(stops));
}

const solid::SlabForm& Piece::formOf(const std::string& letter) const
{
    const auto own = letters.find(letter);
    return own != letters.end() && own->second.form ? *own->second.form : form;
}

const MaterialSet& Piece::materialOf(const std::string& letter) const
{
    const auto own = letters.find(letter);
    return own != letters.end() && own->second.material ? *own->second.material : material;
}

Rgb Emissive::factor() const
{
    return colour * static_cast<float>(std::exp2(stops));
}

Rgb Surroundings::factor() const
{
    return colour * static_cast<float>(std::exp2(stops));
}

bool isKeptPicture(const std::string& asset)
{
    return asset.starts_with(kKeptFolder);
}

Work newWork(const std::string& text, const FontChoice& font, const Sheet& sheet)
{
    Work work;
    work.sheet = sheet;
    Piece piece;
    piece.lettering.font = font;
    setText(piece, text);
    const double size = std::min(sheet.heightPt() / 4, sheet.widthPt() / 5);
    piece.lettering.layout.sizePt = size;
    piece.form.depthPt = size / 4;
    piece.form.front = {size / 40, size / 40, solid::Profile::Roundover, 8, false};
    piece.material.piece.baseColour = *picture::rgbFromHex("#E8664F");
    piece.material.piece.roughness = 0.35f;
    const std::string pieceId = work.newId("p");
    work.pieces.items[pieceId] = piece;
    work.pieces.order.push_back(pieceId);

    const double reach = std::max(sheet.widthPt(), sheet.heightPt());
    Light light;
    light.distance = 2 * reach;
    light.width = light.breadth = 0.85 * reach;
    light.height = 42;
    light.stops = -0.3;
    const std::string lightId = work.newId("l");
    work.lights.items[lightId] = light;
    work.lights.order.push_back(lightId);
    return work;
}

Work emptyWork(const Sheet& sheet)
{
    Work work = newWork("x", {}, sheet);
    work.pieces = {};
    return work;
}

void scaleTo(Piece& piece, double sizePt)
{
    const double factor = sizePt / piece.lettering.layout.sizePt;
    piece.lettering.layout.sizePt = sizePt;
    const auto scale = [factor](solid::SlabForm& form) {
        form.depthPt *= factor;
        for (solid::Bevel* bevel : {&form.front, &form.back}) {
            bevel->widthPt *= factor;
            bevel->heightPt *= factor;
        }
    };
    scale(piece.form);
    for (auto& [_, own] : piece.letters) {
        if (own.form)
            scale(*own.form);
        own.x *= factor;
        own.y *= factor;
        own.z *= factor;
    }
}

void setText(Piece& piece, const std::string& text)
{
    Lettering& lettering = piece.lettering;
    const auto split = [](const std::string& t) {
        std::vector<std::string> parts;
        for (const outline::Grapheme& g : outline::graphemes(t))
            parts.push_back(t.substr(g.begin, g.end - g.begin));
        return parts;
    };
    std::vector<std::string> before = split(lettering.text), after = split(text);
    std::vector<std::string> ids = std::move(lettering.letterIds);
    before.resize(std::min(before.size(), ids.size()));
    ids.resize(before.size());
    std::size_t head = 0, tail = 0;
    while (head < before.size() && head < after.size() && before[head] == after[head])
        ++head;
    while (tail + head < before.size() && tail + head < after.size() && before[before.size() - 1 - tail] == after[after.size() - 1 - tail])
        ++tail;
    std::vector<std::string> kept(ids.begin(), ids.begin() + static_cast<std::ptrdiff_t>(head));
    while (kept.size() + tail < after.size())
        kept.push_back("a" + std::to_string(lettering.nextLetter++));
    kept.insert(kept.end(), ids.end() - static_cast<std::ptrdiff_t>(tail), ids.end());
    lettering.letterIds = std::move(kept);
    lettering.text = text;
    std::erase_if(piece.letters, [&](const auto& own) {
        return std::find(lettering.letterIds.begin(), lettering.letterIds.end(), own.first) == lettering.letterIds.end();
    });
}

std::vector<ColourUse> colourUses(Work& work)
{
    std::vector<ColourUse> uses;
    const auto addSet = [&](MaterialSet& set) {
        uses.push_back({set.piece.baseColour, set.piece.swatch});
        for (auto& [_, m] : set.parts)
            uses.push_back({m.baseColour, m.swatch});
    };
    for (auto& [_, piece] : work.pieces.items) {
        addSet(piece.material);
        for (auto& [letter, own] : piece.letters)
            if (own.material)
                addSet(*own.material);
    }
    for (Material* m : {&work.ground.wall, &work.ground.floor})
        uses.push_back({m->baseColour, m->swatch});
    uses.push_back({work.ground.backdrop, work.ground.backdropSwatch});
    uses.push_back({work.surroundings.colour, work.surroundings.swatch});
    for (auto& [_, light] : work.lights.items)
        uses.push_back({light.colour, light.swatch});
    return uses;
}

void setSwatch(Work& work, const std::string& id, Rgb colour)
{
    work.swatches.items.at(id).colour = colour;
    for (const ColourUse& use : colourUses(work))
        if (use.swatch == id)
            use.colour = colour;
}

std::string noticeKey(const base::Note& note)
{
    return note.kind + " " + note.place;
}

}  // namespace work
