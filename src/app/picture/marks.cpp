#include "app/picture/marks.h"

#include <map>

namespace app {

namespace {

constexpr QRgb kDarkDash = 0xff101314, kLightDash = 0xffffffff;
constexpr int kDash = 5;    // px
constexpr int kHatch = 16;  // px from line to line, a power of two

bool alike(const film::PixelId& a, const film::PixelId& b)
{
    return a.piece == b.piece && a.letter == b.letter && a.part == b.part;
}

// isChosen() asked once for each run of alike pixels.
picture::Raster<std::uint8_t> chosenMask(const Ids& ids, const std::function<bool(const film::PixelId&)>& isChosen)
{
    picture::Raster<std::uint8_t> mask(ids.width, ids.height, 1);
    film::PixelId last{};
    std::uint8_t was = isChosen(last);
    for (std::size_t i = 0; i < mask.values.size(); ++i) {
        if (!alike(ids.values[i], last)) {
            last = ids.values[i];
            was = isChosen(last);
        }
        mask.values[i] = was;
    }
    return mask;
}

}  // namespace

QImage choiceLine(const Ids& ids, const std::function<bool(const film::PixelId&)>& isChosen, int thick)
{
    QImage image(ids.width, ids.height, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    auto mask = chosenMask(ids, isChosen);
    const int dash = kDash * thick;
    for (int ring = 0; ring < thick; ++ring) {
        const auto inside = mask;  // each ring grows by one
        const auto chosen = [&](int x, int y) {
            return x >= 0 && y >= 0 && x < inside.width && y < inside.height && *inside.at(x, y) != 0;
        };
        for (int y = 0; y < ids.height; ++y) {
            auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
            for (int x = 0; x < ids.width; ++x) {
                if (*inside.at(x, y) != 0 || !(chosen(x - 1, y) || chosen(x + 1, y) || chosen(x, y - 1) || chosen(x, y + 1)))
                    continue;
                line[x] = ((x + y) / dash) % 2 == 0 ? kDarkDash : kLightDash;
                *mask.at(x, y) = 1;
            }
        }
    }
    return image;
}

QImage clippedMarks(const picture::Raster<std::uint8_t>& clipped)
{
    QImage image(clipped.width, clipped.height, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    for (int y = 0; y < clipped.height; ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < clipped.width; ++x) {
            const int across = (x - y) & (kHatch - 1);
            if (*clipped.at(x, y) != 0 && across < 4)
                line[x] = across < 2 ? kDarkDash : kLightDash;
        }
    }
    return image;
}

QRect chosenBounds(const Ids& ids, const std::function<bool(const film::PixelId&)>& isChosen)
{
    const auto mask = chosenMask(ids, isChosen);
    int left = ids.width, right = -1, top = ids.height, bottom = -1;
    for (int y = 0; y < ids.height; ++y)
        for (int x = 0; x < ids.width; ++x)
            if (*mask.at(x, y) != 0) {
                left = std::min(left, x);
                right = std::max(right, x);
                top = std::min(top, y);
                bottom = std::max(bottom, y);
            }
    return {QPoint(left, top), QPoint(right, bottom)};
}

std::vector<std::pair<int, int>> lettersWithin(const Ids& ids, const QRect& area)
{
    std::map<std::pair<int, int>, std::pair<std::size_t, std::size_t>> counts;  // all, within
    for (int y = 0; y < ids.height; ++y)
        for (int x = 0; x < ids.width; ++x) {
            const film::PixelId& id = *ids.at(x, y);
            if (id.piece == 0 || id.letter == 0)
                continue;
            auto& [all, within] = counts[{id.piece, id.letter}];
            ++all;
            within += area.contains(x, y);
        }
    std::vector<std::pair<int, int>> letters;
    for (const auto& [letter, count] : counts)
        if (count.second * 2 >= count.first)
            letters.push_back(letter);
    return letters;
}

}  // namespace app
