#include "solid/dome_field.h"

#include <Eigen/Dense>
#include <Eigen/Sparse>
#include <algorithm>
#include <cmath>

namespace solid {

namespace {

constexpr double kFlat = 1e-13;                       // triangles of less area, of the step between vertices squared, have no say
constexpr double kLeastSource = -4, kMostSource = 6;  // rings and discs have -5 to 4
constexpr double kFirstStep = 2;
constexpr int kNeighbours = 14;  // at least, for a fit of six

// Vertices joined by an edge, for each vertex, in one list.
struct Adjacency {
    std::vector<std::uint32_t> begin, list;

    Adjacency(const RoofSheet& sheet)
    {
        std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
        pairs.reserve(sheet.triangles.size() * 6);
        for (const RoofTriangle& t : sheet.triangles)
            for (std::size_t i = 0; i < 3; ++i) {
                pairs.emplace_back(t.v[i], t.v[(i + 1) % 3]);
                pairs.emplace_back(t.v[(i + 1) % 3], t.v[i]);
            }
        std::sort(pairs.begin(), pairs.end());
        pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
        begin.assign(sheet.vertices.size() + 1, 0);
        for (const auto& [a, b] : pairs) {
            ++begin[a + 1];
            list.push_back(b);
        }
        for (std::size_t i = 1; i < begin.size(); ++i)
            begin[i] += begin[i - 1];
    }
    std::span<const std::uint32_t> of(std::uint32_t v) const { return {list.data() + begin[v], list.data() + begin[v + 1]}; }
};

// Value, gradient and second derivatives of a field at each vertex, from the quadratic that fits its values there and round it best
// (Zhang and Naga 2005, with the neighbours brought to one scale in each direction first).
class Fitter {
public:
    explicit Fitter(const RoofSheet& sheet) : m_sheet(sheet), m_adjacency(sheet)
    {
        m_begin.reserve(sheet.vertices.size() + 1);
        for (std::uint32_t v = 0; v < sheet.vertices.size(); ++v) {
            m_begin.push_back(static_cast<std::uint32_t>(m_list.size()));
            if (!m_adjacency.of(v).empty())
                addPatch(v);
        }
        m_begin.push_back(static_cast<std::uint32_t>(m_list.size()));
    }

    struct Fit {
        Vec2 gradient;
        double xx = 0, xy = 0, yy = 0;
    };
    Fit at(std::uint32_t v, const std::vector<double>& u) const
    {
        Vector5 c = Vector5::Zero();
        for (std::uint32_t i = m_begin[v]; i < m_begin[v + 1]; ++i)
            c += m_list[i].weights * (u[m_list[i].vertex] - u[v]);
        return {{c(0), c(1)}, c(2), c(3), c(4)};
    }
    const Adjacency& adjacency() const { return m_adjacency; }

private:
    using Vector5 = Eigen::Matrix<double, 5, 1>;
    using Matrix5 = Eigen::Matrix<double, 5, 5>;
    struct Neighbour {
        std::uint32_t vertex;
        Vector5 weights;  // from its difference to gradient and second derivatives
    };

    void findNear(std::uint32_t v)
    {
        const auto direct = m_adjacency.of(v);
        m_near.assign(direct.begin(), direct.end());
        for (std::size_t begin = 0, end = m_near.size(); end < kNeighbours && begin < end; begin = end, end = m_near.size())
            for (std::size_t i = begin; i < end; ++i)
                for (const std::uint32_t w : m_adjacency.of(m_near[i]))
                    if (w != v && std::find(m_near.begin(), m_near.end(), w) == m_near.end())
                        m_near.push_back(w);
    }

    void addPatch(std::uint32_t v)
    {
        findNear(v);
        const Vec2 p = m_sheet.vertices[v].p;
        Eigen::Matrix2d spread = Eigen::Matrix2d::Zero();
        for (const std::uint32_t w : m_near) {
            const Eigen::Vector2d q(m_sheet.vertices[w].p.x - p.x, m_sheet.vertices[w].p.y - p.y);
            spread += q * q.transpose();
        }
        spread /= static_cast<double>(m_near.size());
        // To offsets of about length 1 in every direction.
        Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes;
        axes.computeDirect(spread);
        const Eigen::Vector2d sizes = axes.eigenvalues().cwiseMax(axes.eigenvalues()(1) * 1e-10).cwiseSqrt();
        const Eigen::Matrix2d to = sizes.cwiseInverse().asDiagonal() * axes.eigenvectors().transpose();
        Matrix5 normal = Matrix5::Zero();
        const std::size_t first = m_list.size();
        for (const std::uint32_t w : m_near) {
            const Eigen::Vector2d q = to * Eigen::Vector2d(m_sheet.vertices[w].p.x - p.x, m_sheet.vertices[w].p.y - p.y);
            Vector5 row;
            row << q(0), q(1), q(0) * q(0) / 2, q(0) * q(1), q(1) * q(1) / 2;
            const double weight = 1 / (0.3 + q.squaredNorm());
            normal.selfadjointView<Eigen::Lower>().rankUpdate(row, weight * weight);
            m_list.push_back({w, row * (weight * weight)});
        }
        normal.diagonal().array() += 1e-9 * normal.trace();
        // Back to pt: gradient by the transposed map, second derivatives by both sides.
        Matrix5 back = Matrix5::Zero();
        back.block<2, 2>(0, 0) = to.transpose();
        const double a = to(0, 0), b = to(0, 1), c = to(1, 0), d = to(1, 1);
        back.row(2).tail<3>() << a * a, 2 * a * c, c * c;
        back.row(3).tail<3>() << a * b, a * d + b * c, c * d;
        back.row(4).tail<3>() << b * b, 2 * b * d, d * d;
        const Matrix5 solve = normal.selfadjointView<Eigen::Lower>().ldlt().solve(back.transpose()).transpose();
        for (std::size_t i = first; i < m_list.size(); ++i)
            m_list[i].weights = (solve * m_list[i].weights).eval();
    }

    const RoofSheet& m_sheet;
    Adjacency m_adjacency;
    std::vector<std::uint32_t> m_begin, m_near;
    std::vector<Neighbour> m_list;
};

// The second derivative along the level line. On a ridge, where no line is, the smaller bend of the two.
double alongLevel(const Fitter::Fit& f, double radius)
{
    const double g2 = dot(f.gradient, f.gradient);
    const Vec2 t = g2 > 0 ? Vec2{-f.gradient.y, f.gradient.x} * (1 / std::sqrt(g2)) : Vec2{1, 0};
    const double along = t.x * t.x * f.xx + 2 * t.x * t.y * f.xy + t.y * t.y * f.yy;
    const double middle = (f.xx + f.yy) / 2, larger = middle + std::hypot((f.xx - f.yy) / 2, f.xy);
    const double share = std::clamp(g2 / (0.04 * radius * radius), 0.0, 1.0);
    return larger + (along - larger) * share;
}

// The matrix of the unknowns, `row` of each vertex or -1, and their masses: stiffness by cotangents, mass lumped.
Eigen::SparseMatrix<double> assembled(const RoofSheet& sheet, const std::vector<int>& row, int unknowns, double leastArea, double screen,
                                      Eigen::VectorXd& mass)
{
    std::vector<Eigen::Triplet<double>> entries;
    entries.reserve(sheet.triangles.size() * 12);
    mass = Eigen::VectorXd::Zero(unknowns);
    for (const RoofTriangle& t : sheet.triangles) {
        std::array<Vec2, 3> p;
        for (std::size_t i = 0; i < 3; ++i)
            p[i] = sheet.vertices[t.v[i]].p;
        const double area = cross(p[1] - p[0], p[2] - p[0]) / 2;
        if (area <= leastArea)
            continue;
        for (std::size_t i = 0; i < 3; ++i) {
            const std::size_t j = (i + 1) % 3, k = (i + 2) % 3;
            const double weight = dot(p[i] - p[k], p[j] - p[k]) / (4 * area);  // half the cotangent at k
            const int a = row[t.v[i]], b = row[t.v[j]];
            for (const auto& [from, to] : {std::pair{a, b}, std::pair{b, a}})
                if (from >= 0) {
                    entries.emplace_back(from, from, weight);
                    if (to >= 0)
                        entries.emplace_back(from, to, -weight);
                }
            if (a >= 0)
                mass(a) += area / 3;
        }
    }
    for (int i = 0; i < unknowns; ++i)
        entries.emplace_back(i, i, screen * mass(i) + 1e-12);  // one that no triangle holds is 0
    Eigen::SparseMatrix<double> matrix(unknowns, unknowns);
    matrix.setFromTriplets(entries.begin(), entries.end());
    return matrix;
}

}  // namespace

base::Result<DomeField> solveDome(const DomePlan& plan, const DomeFieldSettings& settings, const base::Progress& progress)
{
    const auto stopped = [] { return base::fail(base::ErrorCode::Stopped, "Stopped"); };
    const RoofSheet& sheet = plan.sheet;
    const auto border = static_cast<std::uint32_t>(plan.feet.size());
    const std::size_t count = sheet.vertices.size();
    std::vector<int> row(count, -1);
    int unknowns = 0;
    for (const RoofTriangle& t : sheet.triangles)
        for (const std::uint32_t v : t.v)
            if (v >= border && row[v] < 0)
                row[v] = unknowns++;
    const double radius = plan.largestDistance, screen = settings.screening * settings.screening / (radius * radius);

    Eigen::VectorXd mass;
    const Eigen::SparseMatrix<double> matrix = assembled(sheet, row, unknowns, kFlat * radius * radius, screen, mass);
    if (progress.stopRequested())
        return stopped();
    Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> factored(matrix);
    if (factored.info() != Eigen::Success)
        return base::fail(base::ErrorCode::BadInput, "The outline of this letter is too tangled to be domed");

    DomeField field;
    field.u.assign(count, 0);
    const auto solve = [&](const std::vector<double>& source) {
        Eigen::VectorXd right(unknowns);
        for (std::size_t v = 0; v < count; ++v)
            if (row[v] >= 0)
                right(row[v]) = source[v] * mass(row[v]);
        const Eigen::VectorXd solution = factored.solve(right);
        for (std::size_t v = 0; v < count; ++v)
            if (row[v] >= 0)
                field.u[v] = solution(row[v]);
    };
    std::vector<double> source(count, 2);
    solve(source);
    const Fitter fitter(sheet);
    for (int round = 0; round < settings.rounds; ++round) {
        if (progress.stopRequested())
            return stopped();
        std::vector<double> next(count, 2);
        for (std::uint32_t v = 0; v < count; ++v)
            if (row[v] >= 0) {
                // Where triangles change their size the fit's second derivatives are off; what both must sum to is known, and
                // the one across is the better one: rings run along.
                const Fitter::Fit fit = fitter.at(v, field.u);
                const double missing = screen * field.u[v] - source[v] - (fit.xx + fit.yy);
                next[v] = std::clamp(2 - alongLevel(fit, radius) - missing, kLeastSource, kMostSource);
            }
        // Calmed among neighbours. The first step is twice as long: on a disc each by itself goes half the way.
        for (std::uint32_t v = 0; v < count; ++v)
            if (row[v] >= 0) {
                double sum = next[v];
                int near = 1;
                for (const std::uint32_t w : fitter.adjacency().of(v))
                    if (row[w] >= 0) {
                        sum += next[w];
                        ++near;
                    }
                source[v] += (round == 0 ? kFirstStep : 1) * (sum / near - source[v]);
            }
        solve(source);
    }

    const double k = settings.screening;
    const double scale = k > 1e-3 ? k * k / (2 * (1 - 1 / std::cosh(k))) : 1;
    const auto full = scale * radius * radius;
    field.gradient.assign(count, {});
    for (std::uint32_t v = 0; v < count; ++v) {
        if (row[v] < 0 && fitter.adjacency().of(v).empty())
            continue;
        field.gradient[v] = fitter.at(v, field.u).gradient * scale;
    }
    for (std::uint32_t v = border; v < count; ++v)
        if (row[v] >= 0)
            // Never below a thousandth of what a straight border has there, so that front and back do not touch.
            field.u[v] = std::max(field.u[v] * scale, 1e-3 * std::min(full, sheet.vertices[v].distance * radius));
    field.largest = *std::max_element(field.u.begin(), field.u.end());
    return field;
}

}  // namespace solid
