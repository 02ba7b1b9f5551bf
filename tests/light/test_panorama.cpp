// Pictures of all round, as surroundings are.
#include <QtTest>

#include "base/units.h"
#include "light/surroundings.h"
#include "render/sampler.h"
#include "support/registered.h"

using base::Rgb;
using base::Vec3f;
using light::Panorama;
using light::SkyMap;

namespace {

// Soft clouds of light, and a sun of a single pixel.
Panorama busy(int width = 256, bool sun = true)
{
    Panorama p(width, width / 2);
    for (int y = 0; y < p.height; ++y)
        for (int x = 0; x < p.width; ++x) {
            const Vec3f d = p.directionAt(x + 0.5, y + 0.5);
            p.pixel(x, y) = {1 + 0.8f * d.x, 1 + 0.5f * d.y * d.z, 0.6f + 0.5f * d.y};
        }
    if (sun)
        p.pixel(width * 3 / 4, width / 8) = {50000, 40000, 30000};
    return p;
}

light::Sky skyOf(const Panorama& p)
{
    light::Sky sky;
    sky.picture = std::make_shared<const Panorama>(p);
    return sky;
}

// By the picture itself: weighted by the cosine of the latitude, and by that to a direction.
Rgb onCard(const Panorama& p, Vec3f facing)
{
    base::Vec3 sum;
    for (int y = 0; y < p.height; ++y)
        for (int x = 0; x < p.width; ++x)
            if (const float c = dot(p.directionAt(x + 0.5, y + 0.5), facing); c > 0)
                sum = sum + toDouble(p.pixel(x, y)) * (double(c) * p.solidAngleOf(y) / base::kPi);
    return toFloat(sum);
}

bool near(const Rgb& a, const Rgb& b, float share)
{
    return length(a - b) <= share * length(b);
}

}  // namespace

class TestPanorama : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // The middle is the viewer's side, a quarter further right, its upper edge straight up; and back.
    void whereThingsAre()
    {
        const Panorama p(64, 32);
        QVERIFY(length(p.directionAt(32, 16) - Vec3f{0, 0, 1}) < 1e-6f);
        QVERIFY(length(p.directionAt(48, 16) - Vec3f{1, 0, 0}) < 1e-6f);
        QVERIFY(length(p.directionAt(5, 0) - Vec3f{0, 1, 0}) < 1e-6f);
        double all = 0;
        for (int y = 0; y < 32; ++y) {
            all += 64 * p.solidAngleOf(y);
            const base::Vec2 at = p.placeOf(p.directionAt(10.5, y + 0.5));
            QVERIFY(std::abs(at.x - 10) < 1e-4 && std::abs(at.y - y) < 1e-4);
        }
        QVERIFY(std::abs(all - 4 * base::kPi) < 1e-9);
    }

    // A card gets what the picture gives, weighted by the cosine of the latitude; turned and tilted with it.
    void lightOfAPicture()
    {
        const Panorama p = busy();
        const SkyMap map(skyOf(p));
        for (const Vec3f n : {Vec3f{0, 0, 1}, Vec3f{0, 1, 0}, normalized(Vec3f{1, 0.5f, -0.3f})})
            QVERIFY(near(map.onCard(n), onCard(p, n), 0.01f));
        light::Sky turned = skyOf(p);
        turned.turn = float(base::radians(50));
        turned.tilt = float(base::radians(30));
        // What faced the viewer faces 50 degrees to the right of it, then leans down by 30.
        const SkyMap other(turned);
        const auto moved = [](Vec3f d) {
            const double a = base::radians(50), b = base::radians(30);
            const double x = double(d.x) * std::cos(a) + double(d.z) * std::sin(a),
                         z = double(d.z) * std::cos(a) - double(d.x) * std::sin(a), y = double(d.y);
            return Vec3f{float(x), float(y * std::cos(b) - z * std::sin(b)), float(z * std::cos(b) + y * std::sin(b))};
        };
        for (const Vec3f n : {Vec3f{0, 0, 1}, Vec3f{0, 1, 0}, normalized(Vec3f{1, 0.5f, -0.3f})})
            QVERIFY(near(other.onCard(moved(n)), onCard(p, n), 0.01f));
        QVERIFY(near(other.onCard(moved({0, 1, 0})), onCard(p, {0, 1, 0}), 0.01f));
        QVERIFY(moved({0, 1, 0}).z > 0.4f);  // what was straight up comes towards the viewer
    }

    // A picture of one colour is plain, in every direction exactly.
    void oneColourIsPlain()
    {
        Panorama p(64, 32);
        for (Rgb& c : p.pixels)
            c = {0.25f, 0.5f, 1};
        const SkyMap map(skyOf(p));
        for (int i = 0; i < 1000; ++i) {
            render::Sampler numbers(1, 1, std::uint32_t(i), 3);
            const auto [u, v] = numbers.next2();
            const SkyMap::Sample s = map.sample(u, v);
            QCOMPARE(s.radiance, (Rgb{0.25f, 0.5f, 1}));
            QVERIFY(std::abs(s.pdf * 4 * kPi - 1) < 0.01f);
        }
    }

    // Directions are drawn as often as their density says, a sun of one pixel among them (Pearson's chi-square, 1 in a million), and what
    // is gathered by them is the light there is.
    void drawnByItsLight()
    {
        const Panorama p = busy();
        const SkyMap map(skyOf(p));
        constexpr int kAcross = 24, kDown = 12, kDraws = 200000;
        std::vector<double> expected(kAcross * kDown), drawn(kAcross * kDown);
        const Panorama& all = map.map();
        for (int y = 0; y < all.height; ++y)
            for (int x = 0; x < all.width; ++x)
                expected[std::size_t(y * kDown / all.height * kAcross + x * kAcross / all.width)] +=
                    kDraws * double(map.density(all.directionAt(x + 0.5, y + 0.5))) * all.solidAngleOf(y);
        base::Vec3 sum;
        for (int i = 0; i < kDraws; ++i) {
            render::Sampler numbers(7, 7, std::uint32_t(i), 11);
            const auto [u, v] = numbers.next2();
            const SkyMap::Sample s = map.sample(u, v);
            const base::Vec2 at = all.placeOf(s.direction);
            const int x = std::clamp(int(at.x + 0.5), 0, all.width - 1), y = std::clamp(int(at.y + 0.5), 0, all.height - 1);
            drawn[std::size_t(y * kDown / all.height * kAcross + x * kAcross / all.width)] += 1;
            sum = sum + toDouble(s.radiance) * double(std::max(0.0f, s.direction.x) / s.pdf / kPi / kDraws);
        }
        double chi2 = 0;
        int cells = 0;
        for (std::size_t i = 0; i < expected.size(); ++i)
            if (expected[i] > 5) {
                chi2 += (drawn[i] - expected[i]) * (drawn[i] - expected[i]) / expected[i];
                ++cells;
            }
        // Wilson and Hilferty's bound for 4.8 standard deviations.
        const double k = cells - 1, bound = k * std::pow(1 - 2 / (9 * k) + 4.8 * std::sqrt(2 / (9 * k)), 3);
        QVERIFY2(chi2 < bound, qPrintable(QString("%1 of %2").arg(chi2).arg(bound)));
        QVERIFY(near(toFloat(sum), onCard(p, {1, 0, 0}), 0.02f));
    }

    // Blurred, the light stays; a sun becomes a soft disc of the radius, and what is even stays so.
    void blurred()
    {
        const Panorama p = busy();
        for (const double radius : {0.05, 0.3, 1.0}) {
            const Panorama soft = light::blurred(p, radius);
            base::Vec3 before, after;
            for (int y = 0; y < p.height; ++y)
                for (int x = 0; x < p.width; ++x)
                    before = before + toDouble(p.pixel(x, y)) * p.solidAngleOf(y);
            for (int y = 0; y < soft.height; ++y)
                for (int x = 0; x < soft.width; ++x)
                    after = after + toDouble(soft.pixel(x, y)) * soft.solidAngleOf(y);
            QVERIFY2(near(toFloat(after), toFloat(before), 0.03f), qPrintable(QString::number(after.x / before.x)));
            const Vec3f sun = p.directionAt(256 * 3 / 4 + 0.5, 256 / 8 + 0.5);
            QVERIFY(soft.at(sun).x > 20);
            const Vec3f beside = normalized(sun + normalized(cross(sun, {0, 1, 0})) * float(1.5 * radius));
            QVERIFY(std::abs(soft.at(beside).x - busy(256, false).at(beside).x) < 0.5f);
        }
    }

private:
    static constexpr float kPi = float(base::kPi);
};

OPEN_GLOW_TEST(TestPanorama)
#include "test_panorama.moc"
