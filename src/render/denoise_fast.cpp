// The fast form of noise reduction; see denoise.h.
#include <cmath>

#include "base/parallel.h"
#include "render/denoise.h"

namespace render {

namespace {

constexpr int kLevels = 3;
constexpr float kLeastFirst = 0.05f;  // weight of any covered neighbour on the first level: single specks find no like one

// What tells pixels apart.
struct Guide {
    Vec3f normal;        // of the first hit, and of what is seen in mirrors
    Vec3f mirrorNormal;
    float depth = 0, mirrorDepth = 0;
    Rgb over;            // 1 / albedo
    float alpha = 0;
};

class Fast {
public:
    Fast(const Film& film, const std::vector<Rgb>& desk, LightShares& shares)
        : m_shares(shares), m_desk(desk), m_width(shares.shape.regionWidth), m_height(shares.shape.regionHeight), m_channels(3 * shares.shape.entries.size()),
          m_guides(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(m_height)), m_light(m_guides.size()), m_noise(m_guides.size()),
          m_values(m_guides.size() * m_channels)
    {
        forRows([&](int y) { loadRow(film, y); });
        forRows([&](int y) { estimateRow(y); });
    }

    void level(int step, float least)
    {
        std::vector<float> values(m_values.size()), noise(m_noise.size());
        forRows([&](int y) {
            for (int x = 0; x < m_width; ++x)
                filterPixel(x, y, step, least, values, noise);
        });
        m_values.swap(values);
        m_noise.swap(noise);
        forRows([&](int y) { lightRow(y); });
    }

    void finish()
    {
        forRows([&](int y) {
            for (int x = 0; x < m_width; ++x) {
                const std::size_t i = index(x, y);
                float* to = m_shares.at(x, y) + 1;
                for (std::size_t c = 0; c < m_channels; ++c)
                    to[c] = m_values[i * m_channels + c] / m_guides[i].over[static_cast<int>(c % 3)];
            }
        });
    }

private:
    std::size_t index(int x, int y) const { return static_cast<std::size_t>(y) * static_cast<std::size_t>(m_width) + static_cast<std::size_t>(x); }
    template <class Each>
    void forRows(Each each)
    {
        base::parallelFor(static_cast<std::size_t>(m_height), [&](std::size_t row) { each(static_cast<int>(row)); });
    }

    void loadRow(const Film& film, int y)
    {
        const FilmShape& s = film.shape();
        for (int x = 0; x < m_width; ++x) {
            const std::size_t i = index(x, y);
            const int fx = s.regionX + x, fy = s.regionY + y;
            const std::uint32_t n = film.samplesAt(fx, fy);
            if (n == 0)
                continue;
            const PixelSums &a = film.sums(fx, fy, 0), &b = film.sums(fx, fy, 1);
            const float scale = 1.0f / static_cast<float>(n), alpha = (a.alpha + b.alpha) * scale;
            const float depth = alpha > 0 ? (a.depth + b.depth) * scale / alpha : 0;
            const Rgb albedo = (a.mirrorAlbedo + b.mirrorAlbedo) * scale;
            const auto over = [&](float v) { return 1 / (std::max(v, 0.01f * alpha) + 0.04f * alpha + 1e-6f); };
            m_guides[i] = {(a.normal + b.normal) * scale, (a.mirrorNormal + b.mirrorNormal) * scale, depth / (depth + s.reach), (a.mirrorDepth + b.mirrorDepth) * scale,
                           {over(albedo.x), over(albedo.y), over(albedo.z)}, alpha};
            const Rgb* entries = m_shares.entries(x, y);
            for (std::size_t e = 0; e < m_desk.size(); ++e) {
                const Rgb value = entries[e] * m_guides[i].over;
                float* to = &m_values[i * m_channels + 3 * e];
                to[0] = value.x;
                to[1] = value.y;
                to[2] = value.z;
            }
        }
        lightRow(y);
    }
    void lightRow(int y)
    {
        for (int x = 0; x < m_width; ++x) {
            const std::size_t i = index(x, y);
            const float* from = &m_values[i * m_channels];
            float sum = 0;
            for (std::size_t e = 0; e < m_desk.size(); ++e, from += 3)
                sum += luminance(Rgb{from[0], from[1], from[2]} * m_desk[e]);
            m_light[i] = sum;
        }
    }
    // Squared noise of a pixel from the spread of 3 x 3 pixels, two apart, that face the same way.
    void estimateRow(int y)
    {
        for (int x = 0; x < m_width; ++x) {
            const std::size_t i = index(x, y);
            float sum = 0, squares = 0;
            int count = 0;
            for (int dy = -2; dy <= 2; dy += 2)
                for (int dx = -2; dx <= 2; dx += 2) {
                    const int qx = x + dx, qy = y + dy;
                    if (qx < 0 || qy < 0 || qx >= m_width || qy >= m_height)
                        continue;
                    const std::size_t q = index(qx, qy);
                    if (dot(m_guides[q].normal, m_guides[i].normal) < 0.9f * dot(m_guides[i].normal, m_guides[i].normal))
                        continue;
                    sum += m_light[q];
                    squares += m_light[q] * m_light[q];
                    ++count;
                }
            const float mean = count > 0 ? sum / static_cast<float>(count) : m_light[i];
            m_noise[i] = count > 2 ? std::max(0.0f, squares / static_cast<float>(count) - mean * mean) : 0.25f * m_light[i] * m_light[i];
        }
    }
    float distance(std::size_t p, std::size_t q) const
    {
        const Guide &a = m_guides[p], &b = m_guides[q];
        const Vec3f n = a.normal - b.normal, m = a.mirrorNormal - b.mirrorNormal;
        const float dl = m_light[p] - m_light[q], dd = a.depth - b.depth, dm = a.mirrorDepth - b.mirrorDepth, da = a.alpha - b.alpha;
        const float unseen = 1e-6f + 1e-4f * m_light[p] * m_light[p];
        return dl * dl / (4 * (m_noise[p] + m_noise[q]) + unseen) + dot(n, n) * 12 + dot(m, m) * 6 + dd * dd * 4000 + dm * dm * 400 + da * da * 8;
    }
    void filterPixel(int x, int y, int step, float least, std::vector<float>& values, std::vector<float>& noise) const
    {
        const std::size_t p = index(x, y);
        if (!(m_guides[p].alpha > 0))
            return;
        constexpr float kKernel[2] = {0.5f, 0.25f};
        float* to = &values[p * m_channels];
        float weights = 0, noises = 0;
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx) {
                const int qx = x + dx * step, qy = y + dy * step;
                if (qx < 0 || qy < 0 || qx >= m_width || qy >= m_height)
                    continue;
                const std::size_t q = index(qx, qy);
                if (!(m_guides[q].alpha > 0))
                    continue;
                const float like = std::max(0.0f, 1 - distance(p, q) / 4);
                const float w = kKernel[std::abs(dx)] * kKernel[std::abs(dy)] * std::max(least, like * like * like * like);
                const float* from = &m_values[q * m_channels];
                for (std::size_t c = 0; c < m_channels; ++c)
                    to[c] += w * from[c];
                weights += w;
                noises += w * w * m_noise[q];
            }
        for (std::size_t c = 0; c < m_channels; ++c)
            to[c] /= weights;
        noise[p] = noises / (weights * weights);
    }

    LightShares& m_shares;
    const std::vector<Rgb>& m_desk;
    int m_width, m_height;
    std::size_t m_channels;
    std::vector<Guide> m_guides;
    std::vector<float> m_light, m_noise;  // luminance of the mix over albedo, and its squared noise
    std::vector<float> m_values;          // shares over albedo
};

}  // namespace

bool cleanQuickly(const Film& film, const std::vector<Rgb>& desk, LightShares& shares, const base::Progress& progress)
{
    Fast fast(film, desk, shares);
    for (int level = 0; level < kLevels; ++level) {
        if (progress.stopRequested())
            return false;
        fast.level(1 << level, level == 0 ? kLeastFirst : 0);
    }
    fast.finish();
    return true;
}

}  // namespace render
