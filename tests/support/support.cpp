#include "support/support.h"

#include <sys/prctl.h>

#include <QFile>
#include <QProcess>
#include <QtDebug>
#include <cmath>
#include <csignal>

#include "base/file.h"
#include "base/units.h"
#include "outline/layout.h"
#include "work/make_still.h"

namespace support {

using base::Vec2;
using base::Vec3;

QString fontPath(const QString& family, const QString& style)
{
    const auto found = outline::findFont(family.toStdString(), style.toStdString());
    if (!found || !found->exact) {
        qWarning() << "This font is missing:" << family << style;
        return {};
    }
    return QString::fromStdString(found->path);
}

std::shared_ptr<const outline::Font> font(const QString& family, const QString& style)
{
    const auto found = outline::findFont(family.toStdString(), style.toStdString());
    const QString path = fontPath(family, style);
    if (path.isEmpty())
        return nullptr;
    auto bytes = base::readFile(path.toStdString());
    auto opened =
        outline::Font::open(std::make_shared<const outline::Bytes>(std::move(*bytes)), found->index, found->variations, path.toStdString());
    return opened ? *opened : nullptr;
}

outline::Outlined outlines(const std::string& text, const outline::Font& font, double tolerancePt, double sizePt)
{
    outline::LayoutSettings settings;
    settings.sizePt = sizePt;
    const auto layout = outline::layoutText(text, font, settings, {});
    auto result = outline::outlineLayout(*layout, text, font, {sizePt, tolerancePt, {}}, {});
    return std::move(*result);
}

outline::Outline polygon(const std::vector<std::vector<Vec2>>& contours, double unitPt)
{
    outline::Outline result;
    result.unitPt = unitPt;
    for (const auto& points : contours) {
        outline::Contour contour;
        for (std::size_t i = 0; i < points.size(); ++i) {
            const Vec2 d = normalized(points[(i + 1) % points.size()] - points[i]);
            const base::V2<float> n{float(d.y), float(-d.x)};
            contour.push_back({{int(std::lround(points[i].x / unitPt)), int(std::lround(points[i].y / unitPt))}, n, n, 0});
        }
        result.contours.push_back(contour);
    }
    return result;
}

outline::Contour circle(double radiusPt, Vec2 centre, int corners, bool hole, double unitPt)
{
    outline::Contour contour;
    const auto direction = [&](int i) {
        const double a = 2 * base::kPi * i / corners * (hole ? -1 : 1);
        return Vec2{std::cos(a), std::sin(a)};
    };
    const float out = hole ? -1 : 1;
    for (int i = 0; i < corners; ++i) {
        const Vec2 p = centre + direction(i) * radiusPt, a = direction(i), b = direction(i + 1);
        contour.push_back({{int(std::lround(p.x / unitPt)), int(std::lround(p.y / unitPt))},
                           {out * float(a.x), out * float(a.y)},
                           {out * float(b.x), out * float(b.y)},
                           0});
    }
    return contour;
}

QByteArray run(const QString& program, const QStringList& arguments, int* exitCode, QByteArray* errors)
{
    QProcess process;
    process.setChildProcessModifier([] { prctl(PR_SET_PDEATHSIG, SIGKILL); });  // does not outlive a test that is given up
    process.start(program, arguments);
    if (!process.waitForFinished(600000))
        qWarning() << program << "did not run:" << process.errorString();
    if (exitCode)
        *exitCode = process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1;
    const QByteArray err = process.readAllStandardError();
    if (errors)
        *errors = err;
    return process.readAllStandardOutput();
}

solid::SharedBody body(const std::vector<std::array<Vec3, 3>>& triangles, const Vec3* smoothRound)
{
    auto result = std::make_shared<solid::Body>();
    for (const auto& t : triangles) {
        const auto first = static_cast<std::uint32_t>(result->positions.size());
        const Vec3 flat = normalized(cross(t[1] - t[0], t[2] - t[0]));
        std::array<solid::Corner, 3> corners;
        for (std::size_t i = 0; i < 3; ++i) {
            result->positions.push_back(toFloat(t[i]));
            corners[i].normal = toFloat(smoothRound ? normalized(t[i] - *smoothRound) : flat);
        }
        result->triangles.push_back({first, first + 1, first + 2});
        result->corners.push_back(corners);
        result->parts.push_back(solid::Part::Face);
        result->letters.push_back(0);
    }
    return result;
}

solid::SharedBody sphere(double radius, int rings, bool insideOut)
{
    std::vector<std::array<Vec3, 3>> triangles;
    const auto point = [&](int i, int j) {
        const double a = base::kPi * i / rings, b = base::kPi * j / rings;
        return Vec3{std::sin(a) * std::cos(b), std::cos(a), -std::sin(a) * std::sin(b)} * radius;
    };
    for (int i = 0; i < rings; ++i)
        for (int j = 0; j < 2 * rings; ++j) {
            if (i + 1 < rings)
                triangles.push_back({point(i, j), point(i + 1, j), point(i + 1, j + 1)});
            if (i > 0)
                triangles.push_back({point(i, j), point(i + 1, j + 1), point(i, j + 1)});
        }
    if (insideOut)
        for (auto& t : triangles)
            std::swap(t[1], t[2]);
    const Vec3 centre;
    return body(triangles, insideOut ? nullptr : &centre);
}

solid::SharedBody plate(Vec3 corner, Vec3 u, Vec3 v)
{
    return body({{corner, corner + u, corner + u + v}, {corner, corner + u + v, corner + v}});
}

solid::SharedBody box(Vec3 a, Vec3 b, bool insideOut)
{
    const Vec3 x{b.x - a.x, 0, 0}, y{0, b.y - a.y, 0}, z{0, 0, b.z - a.z};
    std::vector<std::array<Vec3, 3>> triangles;
    const auto side = [&](Vec3 c, Vec3 u, Vec3 v) {
        if (insideOut)
            std::swap(u, v);
        triangles.push_back({c, c + u, c + u + v});
        triangles.push_back({c, c + u + v, c + v});
    };
    side(a, y, x);
    side(a + z, x, y);
    side(a, x, z);
    side(a + y, z, x);
    side(a, z, y);
    side(a + x, y, z);
    return body(triangles);
}

render::Scene scene(const std::vector<solid::SharedBody>& bodies, const surface::Material& material, double width, double height)
{
    render::Scene result;
    result.materials = {material};
    for (const auto& b : bodies)
        result.bodies.push_back({b, {}, {}, 0, {0}});
    result.surroundings = false;
    result.camera.frameWidth = width;
    result.camera.frameHeight = height;
    result.camera.eye = {0, 0, 1000};
    return result;
}

QString unlikely(const std::vector<double>& found, const std::vector<double>& expected, double least)
{
    double chi2 = 0;
    int cells = 0;
    for (std::size_t i = 0; i < expected.size(); ++i)
        if (expected[i] > least) {
            chi2 += (found[i] - expected[i]) * (found[i] - expected[i]) / expected[i];
            ++cells;
        }
    const double k = cells - 1, limit = k * std::pow(1 - 2 / (9 * k) + 3.72 * std::sqrt(2 / (9 * k)), 3);
    return cells > 5 && chi2 < limit ? QString() : QString("%1 over %2 in %3 cells").arg(chi2).arg(limit).arg(cells);
}

light::Light lightAt(light::LightKind kind, base::Vec3 position)
{
    light::Light light;
    light.kind = kind;
    light.position = position;
    light.aimDistance = length(position);
    light.towardsAim = -normalized(position);
    light.right = normalized(cross(base::Vec3{0, 1, 0}, -light.towardsAim));
    light.up = cross(-light.towardsAim, light.right);
    return light;
}

std::uint64_t bytesForRows(const work::Work& work, int widthPx, int rows)
{
    work::Cache cache;
    const auto bodies = work::makeBodies(work, work::toleranceFor(work.sheet(), widthPx), cache, {});
    work::StillSettings settings;
    settings.widthPx = widthPx;
    settings.heightPx = static_cast<int>(std::lround(widthPx * work.sheet().heightPt() / work.sheet().widthPt()));
    settings.hasRegion = true;
    settings.region = {0, 0, widthPx, rows};
    return work::bytesNeeded(*work::filmShapeFor(work::makeScene(work, *bodies), work.sheet(), settings), *bodies) + 200000;
}

}  // namespace support
