#include <QtTest>

#include "base/units.h"
#include "light/surroundings.h"
#include "render/sampler.h"
#include "support/support.h"

using base::Rgb;
using base::Vec3f;
using light::Sky;
using light::SkyCard;
using light::SkyMap;

namespace {

Vec3f towards(double direction, double height)
{
    const double a = base::radians(direction), o = base::radians(height);
    return {float(std::sin(a) * std::cos(o)), float(std::sin(o)), float(std::cos(a) * std::cos(o))};
}

float tangent(double angle)
{
    return float(std::tan(base::radians(angle) / 2));
}

Sky black()
{
    return {{}, {}, {}, 1, 0, {}};
}

// Some of everything.
Sky busy()
{
    Sky sky{{0.2f, 0.4f, 0.9f}, {0.9f, 0.8f, 0.6f}, {0.1f, 0.1f, 0.1f}, 0.4f, 0.7f, {}};
    sky.cards.push_back({towards(-40, 30), tangent(50), tangent(30), 0.4f, 0, 0.3f, {4, 3, 2}});
    sky.cards.push_back({towards(90, 60), tangent(6), tangent(6), 0, 1, 0, {60, 60, 50}});
    sky.cards.push_back({towards(-40, 30), tangent(14), tangent(8), 0, 0, 0, {}});
    return sky;
}

}  // namespace

class TestSurroundings : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // One colour is that colour everywhere, and its mean.
    void oneColour()
    {
        const SkyMap map({{0.25f, 0.5f, 1}, {0.25f, 0.5f, 1}, {0.25f, 0.5f, 1}, 0.5f, 0, {}});
        for (const double direction : {0.0, 77.0, 179.9, -179.9})
            for (const double height : {-90.0, -3.0, 40.0, 90.0})
                QCOMPARE(map.radiance(towards(direction, height)), (Rgb{0.25f, 0.5f, 1}));
        QVERIFY(std::abs(map.mean().y - 0.5f) < 1e-5f);
        // A white card in even light sends back as much.
        QVERIFY(std::abs(map.onCard(towards(30, 20)).z - 1) < 1e-3f);
    }

    // Its own cards are told apart in white, under what covers them; they hide what is behind whatever their light.
    void ownCards()
    {
        Sky sky = busy();
        const SkyMap together(sky);
        sky.cards[0].own = luminance(sky.cards[0].radiance);
        sky.cards[1].own = luminance(sky.cards[1].radiance);
        const SkyMap apart(sky);
        QCOMPARE(sky.ownCards(), 2);
        QCOMPARE(apart.ownCards().size(), std::size_t(2));
        for (int i = 0; i < 400; ++i) {
            const Vec3f d = towards(i * 137.5, std::asin(2 * (i + 0.5) / 400 - 1) * 180 / M_PI);
            const Rgb sum =
                apart.radiance(d) + apart.ownCards()[0].at(d) * sky.cards[0].radiance + apart.ownCards()[1].at(d) * sky.cards[1].radiance;
            QVERIFY(length(sum - together.radiance(d)) < 0.02f * (0.2f + length(together.radiance(d))));
        }
        QCOMPARE(apart.ownCards()[0].at(towards(-40, 30)).y, 0.0f);  // under the flag in its middle
    }

    // Up, level and down; turned to the right, what was in front is on the right.
    void whereThingsAre()
    {
        Sky sky{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}, 1, 0, {}};
        QCOMPARE(sky.radiance({0, 1, 0}), (Rgb{1, 0, 0}));
        QCOMPARE(sky.radiance({0, 0, 1}), (Rgb{0, 1, 0}));
        QCOMPARE(sky.radiance({0, -1, 0}), (Rgb{0, 0, 1}));
        sky.cards.push_back({towards(0, 0), 0.2f, 0.2f, 0, 0, 0, {9, 9, 9}});
        sky.turn = float(base::radians(90));
        QCOMPARE(sky.radiance(towards(90, 0)), (Rgb{9, 9, 9}));
        QCOMPARE(sky.radiance(towards(0, 0)), (Rgb{0, 1, 0}));
        // The later one is over the earlier, and its edge is where its angle says.
        sky.turn = 0;
        sky.cards.push_back({towards(0, 0), tangent(10), tangent(4), 0, 0, 0, {}});
        QCOMPARE(sky.radiance(towards(4.9, 0)), (Rgb{}));
        QCOMPARE(sky.radiance(towards(5.1, 0)), (Rgb{9, 9, 9}));
        QCOMPARE(sky.radiance(towards(0, 1.9)), (Rgb{}));
        QCOMPARE(sky.radiance(towards(0, 2.1)), (Rgb{9, 9, 9}));
        // Turned by a quarter it lies the other way; seen from inside, counter-clockwise goes from up to the left.
        sky.cards.back().turn = float(base::radians(90));
        QCOMPARE(sky.radiance(towards(0, 4.9)), (Rgb{}));
        sky.cards.back().turn = float(base::radians(45));
        QVERIFY(sky.radiance(towards(3, 3)) != sky.radiance(towards(-3, 3)));
    }

    // J. R. Howell and others, A Catalog of Radiation Heat Transfer Configuration Factors: a disc seen square under the half angle a lights
    // by sin^2 a (B-1 at no offset); a rectangle a x b at a distance of 1 over its corner by the sum of two arc tangents (B-4), four times.
    void cardsLightAsDiscsAndRectangles()
    {
        for (const double angle : {20.0, 70.0}) {
            Sky sky = black();
            sky.cards.push_back({{0, 0, 1}, tangent(angle), tangent(angle), 0, 1, 0, {1, 1, 1}});
            const double expected = std::pow(std::sin(base::radians(angle / 2)), 2), is = double(SkyMap(sky).onCard({0, 0, 1}).y);
            QVERIFY2(std::abs(is - expected) < 0.01 * expected, qPrintable(QString("%1 for %2").arg(is).arg(expected)));
        }
        Sky sky = black();
        const double a = 0.8, b = 0.35;
        sky.cards.push_back({{0, 0, 1}, float(a), float(b), 0, 0, 0, {1, 1, 1}});
        const double ra = std::sqrt(1 + a * a), rb = std::sqrt(1 + b * b);
        const double expected = 4 / (2 * base::kPi) * (a / ra * std::atan(b / ra) + b / rb * std::atan(a / rb));
        QVERIFY(std::abs(double(SkyMap(sky).onCard({0, 0, 1}).y) - expected) < 0.01 * expected);
    }

    // The density covers the sphere once, samples say what it is where they are, and they estimate the mean.
    void samplesEstimateTheMean()
    {
        const SkyMap map(busy());
        double sphere = 0;
        constexpr int kRows = 400, kColumns = 800;
        for (int i = 0; i < kRows; ++i)
            for (int k = 0; k < kColumns; ++k) {
                const double y = -1 + 2 * (i + 0.5) / kRows, phi = 2 * base::kPi * (k + 0.5) / kColumns, s = std::sqrt(1 - y * y);
                sphere +=
                    double(map.density({float(s * std::sin(phi)), float(y), float(s * std::cos(phi))})) * 4 * base::kPi / kRows / kColumns;
            }
        QVERIFY2(std::abs(sphere - 1) < 0.01, qPrintable(QString::number(sphere)));
        double mean = 0;
        constexpr int n = 1 << 16;
        for (int i = 0; i < n; ++i) {
            render::Sampler sampler(1, 2, static_cast<std::uint32_t>(i), 3);
            const auto [u, v] = sampler.next2();
            const SkyMap::Sample s = map.sample(u, v);
            QVERIFY(std::abs(length(s.direction) - 1) < 1e-5f && s.pdf > 0);
            mean += double(s.radiance.y / s.pdf) / n / (4 * base::kPi);
        }
        QVERIFY2(std::abs(mean / double(map.mean().y) - 1) < 0.01, qPrintable(QString("%1 for %2").arg(mean).arg(map.mean().y)));
    }

    // Pearson's chi-square: directions that are drawn against their density; 1 in 10,000 would fail by chance.
    void samplesFollowTheirDensity()
    {
        const SkyMap map(busy());
        // Cells are 32 x 32 of the map's, so that the density of each is a sum.
        constexpr int kRows = 16, kColumns = 32, kSamples = 200000, kFine = 32;
        std::vector<double> expected(kRows * kColumns), found(kRows * kColumns);
        std::uint32_t h = 1;
        const auto next = [&] {
            h = render::mixBits(h + 0x9e3779b9u);
            return float(h >> 8) * 0x1p-24f;
        };
        for (int i = 0; i < kSamples; ++i) {
            const float u = next(), v = next();
            const Vec3f d = map.sample(u, v).direction;
            const int row = std::clamp(int(std::acos(double(d.y)) / base::kPi * kRows), 0, kRows - 1);
            const int column = std::clamp(int((std::atan2(double(d.x), double(d.z)) / (2 * base::kPi) + 0.5) * kColumns), 0, kColumns - 1);
            ++found[std::size_t(row * kColumns + column)];
        }
        for (int i = 0; i < kRows * kFine; ++i)
            for (int k = 0; k < kColumns * kFine; ++k) {
                const double top = base::kPi * i / (kRows * kFine), down = base::kPi * (i + 1) / (kRows * kFine), middle = (top + down) / 2,
                             phi = ((k + 0.5) / (kColumns * kFine) - 0.5) * 2 * base::kPi, s = std::sin(middle);
                expected[std::size_t(i / kFine * kColumns + k / kFine)] +=
                    double(map.density({float(s * std::sin(phi)), float(std::cos(middle)), float(s * std::cos(phi))})) *
                    (std::cos(top) - std::cos(down)) * 2 * base::kPi / (kColumns * kFine) * kSamples;
            }
        const QString wrong = support::unlikely(found, expected, 20);
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
    }

    // Side by side they are as alone; black ones are nothing to aim at, and the same sky is one.
    void sideBySideAndBlack()
    {
        const SkyMap map(busy());
        base::V3<base::Wide> directions;
        base::Wide u, v;
        for (int i = 0; i < base::kLanes; ++i) {
            setLane(directions, i, towards(-170 + 47 * i, -80 + 22 * i));
            u.v[i] = float(i) / 8;
            v.v[i] = 1 - float(i) / 8;
        }
        const base::Mask active = base::Mask::firstOf(7);
        const auto seen = map.look(directions, active);
        const auto samples = map.sampleAll(u, v);
        for (int i = 0; i < base::kLanes; ++i) {
            const Vec3f d = laneOf(directions, i);
            QVERIFY(length(laneOf(seen.radiance, i) - (i < 7 ? map.radiance(d) : Rgb{})) < 1e-4f);
            QCOMPARE(seen.density[i], i < 7 ? map.density(d) : 0.0f);
            QVERIFY(length(laneOf(samples.direction, i) - map.sample(u[i], v[i]).direction) < 1e-6f);
            QCOMPARE(samples.pdf[i], map.sample(u[i], v[i]).pdf);
        }
        const SkyMap none(black());
        QCOMPARE(none.sample(0.3f, 0.4f).pdf, 0.0f);
        QCOMPARE(none.density({0, 0, 1}), 0.0f);
        const auto one = light::skyMap(busy());
        QCOMPARE(light::skyMap(busy()), one);
    }
};

OPEN_GLOW_TEST(TestSurroundings)
#include "test_surroundings.moc"
