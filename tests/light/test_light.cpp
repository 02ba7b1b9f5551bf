#include <QtTest>

#include "base/units.h"
#include "light/light.h"
#include "render/sampler.h"
#include "support/support.h"

using base::Vec3;
using base::Vec3f;
using light::Light;
using light::LightKind;
using light::LightSampler;

namespace {

// Irradiance at a point with normal n, by the light's own sampling.
double irradiance(const Light& light, Vec3f point, Vec3f n, int samples = 1 << 15)
{
    const LightSampler sampler(light);
    double sum = 0;
    for (int i = 0; i < samples; ++i) {
        render::Sampler numbers(1, 1, static_cast<std::uint32_t>(i), 4);
        const auto [u, v] = numbers.next2();
        const light::LightSample s = sampler.sample(point, u, v);
        if (s.pdf > 0)
            sum += s.radiance * std::max(0.0f, dot(s.direction, n)) / s.pdf;
    }
    return sum / samples;
}

// Softboxes of other kinds, beside LightKind.
constexpr int kDisc = 10, kGrid = 11, kEverywhere = 12;

Light ofKind(int kind, Vec3 place)
{
    Light light = support::lightAt(kind >= kDisc ? LightKind::Softbox : LightKind(kind), place);
    if (kind == kDisc)
        light.form = light::SoftboxForm::Disc;
    if (kind == kGrid)
        light.gridAngle = base::radians(35);
    light.falls = kind != kEverywhere;
    return light;
}

// A softbox that looks towards -z.
Light inTheMiddle()
{
    Light light = support::lightAt(LightKind::Softbox, {0, 0, 0});
    light.position = {0, 0, 0};
    light.towardsAim = {0, 0, -1};
    light.right = {1, 0, 0};
    light.up = {0, 1, 0};
    return light;
}

// Lambert 1760: E = L/2 sum gamma_i cos delta_i over the edges of a polygon above the horizon.
double lambertPolygon(const std::vector<Vec3>& corners, Vec3 point, Vec3 n, double radiance)
{
    double sum = 0;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        const Vec3 a = normalized(corners[i] - point), b = normalized(corners[(i + 1) % corners.size()] - point);
        sum += std::acos(std::clamp(dot(a, b), -1.0, 1.0)) * dot(normalized(cross(a, b)), n);
    }
    return radiance / 2 * std::abs(sum);
}

}  // namespace

class TestLight : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Brightness 1: a white card at the aim, square to the light, sends back 1, so E = pi, whatever place and size.
    void brightnessIsRelativeToAWhiteCard_data()
    {
        QTest::addColumn<int>("kind");
        QTest::newRow("softbox") << int(LightKind::Softbox);
        QTest::newRow("sun") << int(LightKind::Sun);
        QTest::newRow("bulb") << int(LightKind::Bulb);
        QTest::newRow("spot") << int(LightKind::Spot);
        QTest::newRow("disc") << kDisc;
        QTest::newRow("grid") << kGrid;
        QTest::newRow("without falling off") << kEverywhere;
    }
    void brightnessIsRelativeToAWhiteCard()
    {
        QFETCH(int, kind);
        for (const Vec3 place : {Vec3{0, 0, 500}, Vec3{300, 400, 200}, Vec3{-900, 50, 100}})
            for (const double size : {5.0, 60.0}) {
                Light light = ofKind(kind, place);
                light.halfWidth = 2 * size;
                light.halfHeight = 3 * size;
                light.radius = light.kind == LightKind::Sun ? base::radians(size / 10) : size;
                light.coneCosine = 0.5;
                light.innerCosine = 0.9;
                const double e = irradiance(light, {0, 0, 0}, toFloat(-light.towardsAim));
                QVERIFY2(std::abs(e / base::kPi - 1) < 2e-3, qPrintable(QString::number(e / base::kPi)));
            }
    }

    // A near softbox is sampled evenly over the solid angle it is seen under: the closed form of four corners, atan(x y / (d r)); samples
    // lie on it, its halves and quarters get their share, and a ray that meets it has the density it would have been chosen with.
    void softboxBySolidAngle()
    {
        Light light = inTheMiddle();
        light.halfWidth = 120;
        light.halfHeight = 70;
        const LightSampler sampler(light);
        for (const Vec3 at : {Vec3{0, 0, -100}, Vec3{90, 40, -60}, Vec3{-300, 20, -150}, Vec3{119, 69, -5}, Vec3{0, 200, -300}}) {
            const Vec3f point = toFloat(at);
            const auto corner = [&](double x, double y) { return std::atan(x * y / (-at.z * std::sqrt(x * x + y * y + at.z * at.z))); };
            const auto angle = [&](double x0, double x1, double y0, double y1) {
                x0 -= at.x, x1 -= at.x, y0 -= at.y, y1 -= at.y;
                return corner(x1, y1) - corner(x0, y1) - corner(x1, y0) + corner(x0, y0);
            };
            const double whole = angle(-120, 120, -70, 70);
            QVERIFY(whole > 0.03);
            constexpr int kCount = 1 << 14;
            int left = 0, quarter = 0;
            for (int i = 0; i < kCount; ++i) {
                render::Sampler numbers(3, 2, static_cast<std::uint32_t>(i), 9);
                const auto [u, v] = numbers.next2();
                const light::LightSample s = sampler.sample(point, u, v);
                QVERIFY2(std::abs(double(s.pdf) * whole - 1) < 2e-3, qPrintable(QString::number(double(s.pdf) * whole)));
                const Vec3f on = point + s.direction * s.distance;
                QVERIFY(std::abs(on.x) < 120.1f && std::abs(on.y) < 70.1f && std::abs(on.z) < 0.1f);
                left += on.x < 0;
                quarter += on.x < 0 && on.y < 20;
                if (std::abs(on.x) < 119 && std::abs(on.y) < 69)
                    QVERIFY(std::abs(sampler.hit(point, s.direction, 1e9f).pdf / s.pdf - 1) < 1e-3f);
            }
            QVERIFY(std::abs(left / double(kCount) - angle(-120, 0, -70, 70) / whole) < 0.01);
            QVERIFY(std::abs(quarter / double(kCount) - angle(-120, 0, -70, 20) / whole) < 0.01);
        }
    }

    // A disc seen from the side is a spherical ellipse: samples are even in its solid angle within a hundredth, their densities are exact
    // (the mean of 1 / pdf is the solid angle, here by fine quadrature, on the axis 2 pi (1 - h / sqrt(h2 + r2))), halves get their share,
    // and a ray that meets it has the density it would have been chosen with.
    void discBySolidAngle()
    {
        Light light = inTheMiddle();
        light.form = light::SoftboxForm::Disc;
        light.halfWidth = 60;
        const LightSampler sampler(light);
        for (const Vec3 at :
             {Vec3{0, 0, -80}, Vec3{30, 40, -10}, Vec3{59, 0, -5}, Vec3{20, -61, -2}, Vec3{-200, 20, -150}, Vec3{100, 0, -4}}) {
            double whole = 0, half = 0;
            constexpr int kRings = 2000, kTurns = 500;
            for (int i = 0; i < kRings; ++i)
                for (int k = 0; k < kTurns; ++k) {
                    const double r = 60 * std::sqrt((i + 0.5) / kRings), turn = 2 * base::kPi * (k + 0.5) / kTurns;
                    const Vec3 to = Vec3{r * std::cos(turn), r * std::sin(turn), 0} - at;
                    const double angle = base::kPi * 3600 / (kRings * kTurns) * to.z / std::pow(dot(to, to), 1.5);
                    whole += angle;
                    half += to.x + to.y + at.x + at.y < 0 ? angle : 0;
                }
            if (at.x == 0)
                QVERIFY(std::abs(whole / (2 * base::kPi * (1 - 80 / std::hypot(80, 60))) - 1) < 1e-4);
            QVERIFY(whole > 0.03);
            constexpr int kCount = 1 << 14;
            double mean = 0, meanHalf = 0;
            for (int i = 0; i < kCount; ++i) {
                render::Sampler numbers(3, 2, static_cast<std::uint32_t>(i), 9);
                const auto [u, v] = numbers.next2();
                const light::LightSample s = sampler.sample(toFloat(at), u, v);
                QVERIFY2(std::abs(double(s.pdf) * whole - 1) < 0.025, qPrintable(QString::number(double(s.pdf) * whole)));
                const Vec3f on = toFloat(at) + s.direction * s.distance;
                QVERIFY(std::hypot(on.x, on.y) < 60.1f && std::abs(on.z) < 0.1f);
                mean += 1 / s.pdf / kCount;
                meanHalf += on.x + on.y < 0 ? 1 / s.pdf / kCount : 0;
                if (std::hypot(on.x, on.y) < 59)
                    QVERIFY(std::abs(sampler.hit(toFloat(at), s.direction, 1e9f).pdf / s.pdf - 1) < 1e-3f);
            }
            QVERIFY2(std::abs(mean / whole - 1) < 1e-3, qPrintable(QString("%1 for %2").arg(mean).arg(whole)));
            QVERIFY2(std::abs(meanHalf / whole - half / whole) < 0.01, qPrintable(QString("%1 for %2").arg(meanHalf).arg(half)));
        }
    }

    // Inverse square and cosine laws of a small bulb: E = I cos / d^2 with I = pi d0^2.
    void pointLight()
    {
        Light light = support::lightAt(LightKind::Bulb, {0, 0, 100});
        light.radius = 0.5;
        const double intensity = base::kPi * 100 * 100;
        for (const Vec3f point : {Vec3f{0, 0, 0}, Vec3f{80, 20, -50}, Vec3f{-300, 0, 90}}) {
            const Vec3 d = Vec3{0, 0, 100} - toDouble(point);
            const double expected = intensity * d.z / length(d) / dot(d, d);
            QVERIFY(std::abs(irradiance(light, point, {0, 0, 1}) / expected - 1) < 1e-3);
        }
    }

    // A softbox over a floor at several places against Lambert's polygon formula.
    void softboxLikeLambertsPolygon()
    {
        Light light = support::lightAt(LightKind::Softbox, {60, 200, 30});
        light.halfWidth = 80;
        light.halfHeight = 40;
        const double radiance = light::radianceAtBrightness1(light);
        std::vector<Vec3> corners;
        for (const auto& [x, y] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
            corners.push_back(light.position + light.right * (x * light.halfWidth) + light.up * (y * light.halfHeight));
        for (const Vec3f point : {Vec3f{0, 0, 0}, Vec3f{100, 0, -40}, Vec3f{-150, 0, 60}}) {
            const double expected = lambertPolygon(corners, toDouble(point), {0, 1, 0}, radiance);
            QVERIFY2(std::abs(irradiance(light, point, {0, 1, 0}) / expected - 1) < 2e-3, qPrintable(QString::number(expected)));
        }
    }

    // A disc over points beside its axis: J. Howell, A Catalog of Radiation Heat Transfer Configuration Factors, planar element to a
    // circular disc in a parallel plane.
    void discLikeHowell()
    {
        Light light = ofKind(kDisc, {0, 0, 150});
        light.halfWidth = 60;
        const double radiance = light::radianceAtBrightness1(light);
        for (const double aside : {30.0, 60.0, 200.0}) {
            const double h = 150 / aside, r = 60 / aside, z = 1 + h * h + r * r;
            const double expected = base::kPi * radiance * 0.5 * (1 - (z - 2 * r * r) / std::sqrt(z * z - 4 * r * r));
            const double e = irradiance(light, {float(aside * 0.6), float(aside * 0.8), 0}, {0, 0, 1});
            QVERIFY2(std::abs(e / expected - 1) < 2e-3, qPrintable(QString("%1: %2 for %3").arg(aside).arg(e).arg(expected)));
        }
    }

    // What is seen of a small lamp through cells as deep as the grid's angle says: a share that falls to nothing there, across and up.
    void gridNarrows()
    {
        Light light = ofKind(kGrid, {0, 0, 1000});
        light.halfWidth = light.halfHeight = 1;
        const double cut = std::tan(base::radians(35)), full = irradiance(light, {0, 0, 0}, {0, 0, 1});
        for (const double degrees : {10.0, 20.0, 30.0}) {
            const double t = std::tan(base::radians(degrees)), cosine = std::cos(base::radians(degrees));
            const auto at = [&](double x, double y) { return irradiance(light, {float(1000 * x), float(1000 * y), 0}, {0, 0, 1}) / full; };
            QVERIFY(std::abs(at(t, 0) - (1 - t / cut) * std::pow(cosine, 4)) < 2e-3);
            QVERIFY(std::abs(at(0, -t) - (1 - t / cut) * std::pow(cosine, 4)) < 2e-3);
        }
        QVERIFY(irradiance(light, {float(1000 * cut * 1.01), 0, 0}, {0, 0, 1}) < 1e-6 * full);
    }

    // Without falling off, a card gets as much wherever it is on the axis; only its cosine counts beside it.
    void withoutFallingOff()
    {
        for (const LightKind kind : {LightKind::Softbox, LightKind::Bulb, LightKind::Spot}) {
            Light light = support::lightAt(kind, {0, 0, 1000});
            light.halfWidth = light.halfHeight = light.radius = 1;
            light.coneCosine = 0.1;
            light.innerCosine = 0.2;
            light.falls = false;
            for (const float z : {0.0f, 700.0f, -3000.0f})
                QVERIFY(std::abs(irradiance(light, {0, 0, z}, {0, 0, 1}) / base::kPi - 1) < 2e-3);
        }
    }

    // A ray sent where sample() points meets the light there, with the same radiance and density.
    void hitsAgreeWithSamples()
    {
        for (const int kind :
             {int(LightKind::Softbox), int(LightKind::Sun), int(LightKind::Bulb), int(LightKind::Spot), kDisc, kGrid, kEverywhere}) {
            Light light = ofKind(kind, {200, 300, 250});
            light.radius = light.kind == LightKind::Sun ? 0.05 : 30;
            light.coneCosine = 0.7;
            light.innerCosine = 0.8;
            const LightSampler sampler(light);
            const Vec3f point{10, -20, 5};
            int hits = 0;
            for (int i = 0; i < 1000; ++i) {
                render::Sampler numbers(2, 2, static_cast<std::uint32_t>(i), 8);
                const auto [u, v] = numbers.next2();
                const light::LightSample s = sampler.sample(point, u * 0.98f + 0.01f, v * 0.98f + 0.01f);
                const light::LightSample h = sampler.hit(point, s.direction, std::numeric_limits<float>::infinity());
                if (h.pdf <= 0)
                    continue;  // rounding at the very rim
                ++hits;
                QVERIFY(std::abs(h.pdf / s.pdf - 1) < 2e-2f);
                QVERIFY(std::abs(h.radiance - s.radiance) <= 2e-2f * s.radiance + 1e-3f);
            }
            QVERIFY(hits > 980);
            QVERIFY(!(sampler.hit(point, -sampler.sample(point, 0.5f, 0.5f).direction, 1e9f).pdf > 0));
        }
    }

    // A spot is full inside, dark outside its cone.
    void spotCone()
    {
        Light light = support::lightAt(LightKind::Spot, {0, 0, 100});
        light.radius = 1;
        light.coneCosine = std::cos(base::radians(20));
        light.innerCosine = std::cos(base::radians(10));
        const auto at = [&](double degrees) { return Vec3f{float(100 * std::tan(base::radians(degrees))), 0, 0}; };
        const double full = irradiance(light, at(0), {0, 0, 1});
        QVERIFY(std::abs(irradiance(light, at(8), {0, 0, 1}) / full - std::pow(std::cos(base::radians(8)), 4)) < 0.01);  // cos^4 of a disc
        QVERIFY(irradiance(light, at(15), {0, 0, 1}) < 0.8 * full);
        QCOMPARE(irradiance(light, at(22), {0, 0, 1}), 0.0);
    }
};

OPEN_GLOW_TEST(TestLight)
#include "support/support.h"
#include "test_light.moc"
