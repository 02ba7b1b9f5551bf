#include "film/shares.h"

#include <algorithm>
#include <utility>

#include "base/parallel.h"

namespace film {

LightShares::LightShares(const FilmShape& of)
    : shape(of), values(static_cast<std::size_t>(of.regionWidth) * static_cast<std::size_t>(of.regionHeight) * stride())
{
}

void LightShares::append(const LightShares& below)
{
    values.insert(values.end(), below.values.begin(), below.values.end());
    ids.insert(ids.end(), below.ids.begin(), below.ids.end());
    shape.regionHeight += below.shape.regionHeight;
}

namespace {

// Collects what was seen, in any order.
class Ranking {
public:
    void add(const PixelId& id, float share)
    {
        if (share <= 0)
            return;
        for (auto& [known, sum] : m_found)
            if (known == id) {
                sum += share;
                return;
            }
        m_found.emplace_back(id, share);
    }
    RankedIds ranked()
    {
        std::stable_sort(m_found.begin(), m_found.end(), [](const auto& a, const auto& b) { return a.second > b.second; });
        m_found.resize(std::min(m_found.size(), static_cast<std::size_t>(kIds)));
        float sum = 0;
        for (const auto& [_, share] : m_found)
            sum += share;
        RankedIds result;
        if (sum <= 0)
            result.shares[0] = 1;  // nothing is there
        for (std::size_t i = 0; i < m_found.size(); ++i) {
            result.ids[i] = m_found[i].first;
            result.shares[i] = m_found[i].second / sum;
        }
        m_found.clear();
        return result;
    }

private:
    std::vector<std::pair<PixelId, float>> m_found;
};

}  // namespace

float Viewpoint::behindAim(double u, double v, float distance) const
{
    const double x = (u - 0.5) * frameWidth, y = (v - 0.5) * frameHeight;
    const double along = perspective ? distance * frameDistance / std::sqrt(frameDistance * frameDistance + x * x + y * y) : distance;
    return static_cast<float>(along - frameDistance);
}

void addIds(LightShares& shares, const Film& film, const Viewpoint& from)
{
    const FilmShape& s = shares.shape;
    const auto width = static_cast<std::size_t>(s.regionWidth);
    shares.ids.resize(width * static_cast<std::size_t>(s.regionHeight));
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        Ranking ranking;
        for (int c = 0; c < s.regionWidth; ++c) {
            const int x = s.regionX + c, y = s.regionY + static_cast<int>(row);
            const Film::Pixel pixel = film.at(x, y);
            for (const IdWeight& seen : *pixel.ids)
                ranking.add(seen.id(), static_cast<float>(seen.samples()));
            RankedIds& ids = shares.ids[row * width + static_cast<std::size_t>(c)] = ranking.ranked();
            const PixelSums &a = *pixel.halves[0], &b = *pixel.halves[1];
            if (const float hits = a.alpha + b.alpha; hits > 0) {
                ids.depth = from.behindAim((x + 0.5) / s.width, (y + 0.5) / s.height, (a.depth + b.depth) / hits);
                ids.open = std::min(1.0f, (a.open + b.open) / hits);
            }
        }
    });
}

LightShares sharesOf(const Film& film)
{
    LightShares shares(film.shape());
    const FilmShape& s = shares.shape;
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        const int r = static_cast<int>(row);
        for (int c = 0; c < s.regionWidth; ++c) {
            const Film::Pixel p = film.at(s.regionX + c, s.regionY + r);
            if (p.samples == 0)
                continue;
            const float scale = 1.0f / static_cast<float>(p.samples);
            float* to = shares.at(c, r);
            *to++ = (p.halves[0]->alpha + p.halves[1]->alpha) * scale;
            for (std::size_t i = 0; i < s.entries.size(); ++i) {
                const Rgb mean = (p.colours[0][i] + p.colours[1][i]) * scale;
                *to++ = mean.x;
                *to++ = mean.y;
                *to++ = mean.z;
            }
        }
    });
    return shares;
}

LightShares smaller(const LightShares& shares, int step)
{
    if (step <= 1)
        return shares;
    FilmShape s = shares.shape;
    s.regionWidth = std::max(1, shares.shape.regionWidth / step);
    s.regionHeight = std::max(1, shares.shape.regionHeight / step);
    s.width = std::max(1, s.width / step);
    s.height = std::max(1, s.height / step);
    s.regionX /= step;
    s.regionY /= step;
    LightShares result(s);
    const std::size_t stride = result.stride();
    if (!shares.ids.empty())
        result.ids.resize(static_cast<std::size_t>(s.regionWidth) * static_cast<std::size_t>(s.regionHeight));
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        const int r = static_cast<int>(row);
        Ranking ranking;
        for (int c = 0; c < s.regionWidth; ++c) {
            float* to = result.at(c, r);
            const int y1 = std::min((r + 1) * step, shares.shape.regionHeight), x1 = std::min((c + 1) * step, shares.shape.regionWidth);
            int count = 0;
            for (int y = r * step; y < y1; ++y)
                for (int x = c * step; x < x1; ++x, ++count)
                    for (std::size_t i = 0; i < stride; ++i)
                        to[i] += shares.at(x, y)[i];
            for (std::size_t i = 0; i < stride; ++i)
                to[i] /= static_cast<float>(std::max(1, count));
            if (shares.ids.empty())
                continue;
            float depth = 0, open = 0;
            for (int y = r * step; y < y1; ++y)
                for (int x = c * step; x < x1; ++x) {
                    depth += shares.idsAt(x, y).depth;
                    open += shares.idsAt(x, y).open;
                    for (int i = 0; i < kIds; ++i)
                        ranking.add(shares.idsAt(x, y).ids[i], shares.idsAt(x, y).shares[i]);
                }
            RankedIds& ids = result.ids[row * static_cast<std::size_t>(s.regionWidth) + static_cast<std::size_t>(c)] = ranking.ranked();
            ids.depth = depth / static_cast<float>(std::max(1, count));
            ids.open = open / static_cast<float>(std::max(1, count));
        }
    });
    return result;
}

}  // namespace film
