#include "solid/domed.h"

#include <algorithm>
#include <cmath>

#include "solid/along.h"
#include "solid/dome_field.h"
#include "solid/sides.h"

namespace solid {

namespace {

constexpr double kPillow = 6;  // screening of the fullest
constexpr int kRounds = 4;     // of the field

// From the field to a height for rise 1, and how the height answers to the field.
class Flank {
public:
    Flank(const DomedForm& form, const DomePlan& plan, const DomeField& field)
        : m_radius(plan.largestDistance), m_power(0.5 - 0.5 * std::min(0.0, form.fullness)), m_seam(form.seamPt)
    {
        const double top = plain(field.largest);
        m_scale = m_seam > 0 && top > 0 ? top / std::sqrt(top * top + 2 * m_seam * top) : 1;
    }

    double height(double u) const
    {
        const double h = plain(u);
        return m_seam > 0 ? m_scale * std::sqrt(h * h + 2 * m_seam * h) : h;
    }
    // du / dheight
    double flatness(double u) const
    {
        if (u <= 0)
            return m_power < 1 || m_seam > 0 ? 0 : m_radius;
        const double h = plain(u), plainFlatness = u / (m_power * h);
        return m_seam > 0 ? plainFlatness * std::sqrt(h * h + 2 * m_seam * h) / (m_scale * (h + m_seam)) : plainFlatness;
    }

private:
    double plain(double u) const { return m_radius * std::pow(std::max(0.0, u) / (m_radius * m_radius), m_power); }

    double m_radius, m_power, m_seam, m_scale = 1;
};

class DomedBuilder {
public:
    DomedBuilder(const DomedForm& form, const DomePlan& plan, const DomeField& field, int slices)
        : m_plan(plan), m_field(field), m_rim(rimOf(plan.outline)), m_profile(form, plan, field)
    {
        const double top = m_profile.height(field.largest);
        const bool isFlat = form.rise * top < kThinnestPt && form.backRise * top < kThinnestPt;
        const double depth = isFlat ? std::max(form.depthPt, kThinnestPt) : form.depthPt;
        const double back = form.backRise * top;
        m_sharedBorder = depth <= 0;
        addSheet(form.rise, back + depth, true);
        addSheet(form.backRise, back, false);
        if (!m_sharedBorder)
            addWall(m_body, {wallEdges(m_plan.feet, m_rim), m_backIds, m_frontIds, back, back + depth, slices});
    }

    Body take() { return std::move(m_body); }

private:
    void addSheet(double rise, double foot, bool front)
    {
        const auto border = static_cast<std::uint32_t>(m_plan.feet.size());
        const bool share = m_sharedBorder && !front;
        std::vector<std::uint32_t> ids(m_plan.sheet.vertices.size(), 0xffffffff);
        const auto idOf = [&](std::uint32_t v) {
            if (share && v < border)
                return m_frontIds[v];
            if (ids[v] == 0xffffffff) {
                ids[v] = static_cast<std::uint32_t>(m_body.positions.size());
                const Vec2 p = m_plan.sheet.vertices[v].p;
                const double h = v < border ? 0 : rise * m_profile.height(m_field.u[v]);
                m_body.positions.push_back({float(p.x), float(p.y), float(front ? foot + h : foot - h)});
            }
            return ids[v];
        };
        for (const RoofTriangle& t : m_plan.sheet.triangles) {
            std::array<std::uint32_t, 3> v{};
            std::array<Corner, 3> corners;
            for (std::size_t i = 0; i < 3; ++i) {
                v[i] = idOf(t.v[i]);
                corners[i] = cornerOf(t, static_cast<int>(i), rise, front);
            }
            if (!front) {
                std::swap(v[1], v[2]);
                std::swap(corners[1], corners[2]);
            }
            add(v, corners, front ? Part::Face : Part::Back, m_rim[static_cast<std::size_t>(t.site)].letter);
        }
        for (std::uint32_t v = 0; v < border; ++v)
            (front ? m_frontIds : m_backIds).push_back(idOf(v));
    }

    Corner cornerOf(const RoofTriangle& t, int i, double rise, bool front) const
    {
        const std::uint32_t v = t.v[static_cast<std::size_t>(i)];
        const Vec2 p = m_plan.sheet.vertices[v].p;
        const double z = front ? 1 : -1;
        if (rise <= 0)
            return {{0, 0, float(z)}, float(p.x), float(p.y)};
        Vec2 outward = m_field.gradient[v] * -1.0;
        double up = m_profile.flatness(m_field.u[v]) / rise;
        if (v < m_plan.feet.size()) {
            double along = 0;
            outward = outwardAt(m_rim, m_plan.sheet, t, i, along) * std::max(length(outward), 1e-3 * m_plan.largestDistance);
        }
        const double size = std::sqrt(dot(outward, outward) + up * up);
        if (!(size > 0))
            return {{0, 0, float(z)}, float(p.x), float(p.y)};
        return {{float(outward.x / size), float(outward.y / size), float(z * up / size)}, float(p.x), float(p.y)};
    }

    void add(const std::array<std::uint32_t, 3>& v, const std::array<Corner, 3>& corners, Part part, std::uint16_t letter)
    {
        m_body.triangles.push_back(v);
        m_body.corners.push_back(corners);
        m_body.parts.push_back(part);
        m_body.letters.push_back(letter);
    }

    const DomePlan& m_plan;
    const DomeField& m_field;
    std::vector<RimEdge> m_rim;
    Flank m_profile;
    bool m_sharedBorder = false;
    std::vector<std::uint32_t> m_frontIds, m_backIds;  // of the border
    Body m_body;
};

}  // namespace

base::Result<Body> makeDomed(const outline::Outline& outline, const DomedForm& form, double tolerancePt, const base::Progress& progress)
{
    if (progress.stopRequested())
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    const AlongSteps steps = stepsFor(form.along, outline, tolerancePt);
    const auto plan = planDome(outline, tolerancePt, progress, steps.longestEdgePt);
    if (!plan)
        return tl::unexpected<base::Error>(plan.error());
    const auto field = solveDome(*plan, {kPillow * std::max(0.0, form.fullness), kRounds}, progress);
    if (!field)
        return tl::unexpected<base::Error>(field.error());
    Body body = DomedBuilder(form, *plan, *field, steps.slices).take();
    deform(body, form.along, form.along.about.value_or(outline::bounds(outline).centre()));
    return body;
}

}  // namespace solid
