// Patterns: their sizes, their seeds, what they come to from afar.
#include <QtTest>

#include <cstring>

#include "support/support.h"
#include "surface/pattern.h"

using base::Rgb;
using base::Vec3f;
using surface::Look;
using surface::Pattern;
using surface::PatternKind;
using surface::PatternPlace;

namespace {

const Look kBase{{0.8f, 0.7f, 0.6f}, 0.4f, 0, 0, {}};

Pattern of(PatternKind kind, float size = 20, int seed = 1)
{
    Pattern pattern;
    pattern.kind = kind;
    pattern.sizePt = size;
    pattern.seed = seed;
    pattern.second = {0.1f, 0.2f, 0.3f};
    return pattern;
}

// On a face: u and v are the place itself.
PatternPlace on(float x, float y, float footprint = 0.01f)
{
    return {{x, y, 40}, {0, 0, 1}, x, y, footprint};
}

std::vector<Look> strewn(const Pattern& pattern, float footprint, int count = 4000)
{
    std::vector<Look> looks;
    std::uint32_t h = 7;
    const auto next = [&] { return float((h = h * 1664525u + 1013904223u) >> 8) * 0x1p-24f; };
    for (int i = 0; i < count; ++i) {
        const float x = 600 * next(), y = 600 * next();
        looks.push_back(patterned(pattern, kBase, on(x, y, footprint)));
    }
    return looks;
}

// Where along a line the colour changes from one side of the middle to the other, by walking in steps of 0.01 pt.
std::vector<double> edgesAlong(const Pattern& pattern, double length, bool up, double at)
{
    std::vector<double> edges;
    bool before = false;
    for (int i = 0; i * 0.01 < length; ++i) {
        const float s = float(i * 0.01);
        const bool now = patterned(pattern, kBase, up ? on(float(at), s) : on(s, float(at))).colour.x > 0.45f;
        if (i > 0 && now != before)
            edges.push_back(s);
        before = now;
    }
    return edges;
}

}  // namespace

class TestPattern : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void all_data()
    {
        QTest::addColumn<int>("kind");
        for (int kind = 1; kind < surface::kPatternKinds; ++kind)
            QTest::addRow("%d", kind) << kind;
    }

    // The same seed is the same to the last bit, another one another piece; but for what is drawn.
    void seeds_data() { all_data(); }
    void seeds()
    {
        QFETCH(int, kind);
        const auto one = strewn(of(PatternKind(kind)), 0.1f), same = strewn(of(PatternKind(kind)), 0.1f),
                   other = strewn(of(PatternKind(kind), 20, 2), 0.1f);
        QVERIFY(std::memcmp(one.data(), same.data(), one.size() * sizeof(Look)) == 0);
        int differ = 0;
        for (std::size_t i = 0; i < one.size(); ++i)
            differ += one[i].colour != other[i].colour || one[i].height != other[i].height;
        const bool drawn = kind >= int(PatternKind::Dots);
        QVERIFY2(drawn ? differ == 0 : differ > int(one.size()) / 4, qPrintable(QString::number(differ)));
    }

    // From afar it has the colour it has on average near by, and says so without flicker: a seventh of the contrast at most.
    void fromAfarItIsItsMean_data() { all_data(); }
    void fromAfarItIsItsMean()
    {
        QFETCH(int, kind);
        const Pattern pattern = of(PatternKind(kind), 6);
        const auto meanAndSpread = [&](float footprint) {
            double sum = 0, square = 0;
            const auto looks = strewn(pattern, footprint, 20000);
            for (const Look& look : looks) {
                sum += double(look.colour.y);
                square += double(look.colour.y) * double(look.colour.y);
            }
            const double n = double(looks.size());
            return std::pair(sum / n, std::sqrt(std::max(0.0, square / n - sum * sum / n / n)));
        };
        const auto [near, spread] = meanAndSpread(0.02f);
        const auto [far, left] = meanAndSpread(400);
        QVERIFY2(std::abs(near - far) < 0.06, qPrintable(QString("%1 near, %2 from afar").arg(near).arg(far)));
        QVERIFY2(left <= std::max(0.01, 0.15 * spread), qPrintable(QString("%1 of %2 is left").arg(left).arg(spread)));
    }

    // Half of checks and stripes is the one colour and half the other, and pi r^2 of dots: at every footprint, on average.
    void drawnOnesKeepTheirShares()
    {
        for (const auto& [kind, share] :
             {std::pair{PatternKind::Checks, 0.5}, {PatternKind::Stripes, 0.5}, {PatternKind::Dots, base::kPi * 0.34 * 0.34}})
            for (const float footprint : {0.01f, 2.0f, 9.0f, 50.0f}) {
                double sum = 0;
                constexpr int n = 400;
                for (int i = 0; i < n; ++i)
                    for (int j = 0; j < n; ++j)
                        sum += double(patterned(of(kind, 10), kBase, on(40.0f * float(i) / n, 40.0f * float(j) / n, footprint)).colour.x);
                const double expected = 0.8 + (0.1 - 0.8) * share;
                QVERIFY2(std::abs(sum / (n * n) - expected) < 0.008,
                         qPrintable(QString("%1 at %2: %3, not %4").arg(int(kind)).arg(footprint).arg(sum / (n * n)).arg(expected)));
            }
    }

    // Bricks of the normal format lie 250 mm apart along and 83.3 mm up, joints of 10 among them (DIN 105, and DIN 4172 for the modules):
    // of a length of 60 pt 20 pt up, and half a brick further in the next course.
    void bricksAreBondedAsBricks()
    {
        Pattern brick = of(PatternKind::Brick, 60);
        brick.strength = 0;  // without what differs from brick to brick
        const auto up = edgesAlong(brick, 600, true, 15), along = edgesAlong(brick, 600, false, 10),
                   next = edgesAlong(brick, 600, false, 30);
        QVERIFY2(up.size() >= 56 && up.size() <= 64,
                 qPrintable(QString::number(up.size())));  // two edges for each of 30 joints, 19.44 pt apart
        QVERIFY(along.size() >= 19 && along.size() <= 21);
        const auto middle = [](const std::vector<double>& edges, std::size_t i) { return (edges[i] + edges[i + 1]) / 2; };
        // A joint is short, a brick long: begin with a joint.
        const auto first = [](const std::vector<double>& edges) { return edges[1] - edges[0] < 10 ? std::size_t(0) : std::size_t(1); };
        const double a = middle(along, first(along)), b = middle(along, first(along) + 2), c = middle(next, first(next));
        QVERIFY2(std::abs(b - a - 60) < 1.5, qPrintable(QString::number(b - a)));
        QVERIFY2(std::abs(std::fmod(std::abs(c - a), 60.0) - 30) < 1.5, qPrintable(QString("%1 and %2").arg(a).arg(c)));
    }

    void stripesAreAsWideAsSaid()
    {
        const auto edges = edgesAlong(of(PatternKind::Stripes, 14), 140, false, 0);
        QVERIFY(edges.size() >= 19);
        for (std::size_t i = 1; i < edges.size(); ++i)
            QVERIFY(std::abs(edges[i] - edges[i - 1] - 7) < 0.03);
        Pattern turned = of(PatternKind::Stripes, 14);
        turned.turn = {0, 1};
        QVERIFY(edgesAlong(turned, 140, false, 3).empty() && edgesAlong(turned, 140, true, 3).size() >= 19);
    }

    // What is solid does not mind which side of the body it is seen from: it goes round the edge.
    void solidOnesGoRoundTheEdge()
    {
        for (const auto kind : {PatternKind::Granite, PatternKind::Marble, PatternKind::Sandstone, PatternKind::Concrete,
                                PatternKind::Terrazzo, PatternKind::Wood, PatternKind::Rust, PatternKind::Leather, PatternKind::Cracked})
            for (int i = 0; i < 200; ++i) {
                PatternPlace place = on(float(i) * 1.7f, float(i) * 0.6f, 0.2f);
                const Look face = patterned(of(kind), kBase, place);
                place.normal = {1, 0, 0};
                place.u = 500;
                place.v = -3;
                QCOMPARE(patterned(of(kind), kBase, place).colour, face.colour);
            }
    }

    // The relief leans by its slope: the normal of a ball's dents is that of the height, and without relief it stays.
    void reliefLeansTheNormal_data() { all_data(); }
    void reliefLeansTheNormal()
    {
        QFETCH(int, kind);
        Pattern pattern = of(PatternKind(kind));
        const Vec3f along[2] = {{1, 0, 0}, {0, 1, 0}};
        const float du[2] = {1, 0}, dv[2] = {0, 1};
        int leaning = 0;
        for (int i = 0; i < 300; ++i) {
            const PatternPlace place = on(float(i) * 1.31f, float(i) * 0.77f, 0.3f);
            pattern.relief = 1;
            const Look here = patterned(pattern, kBase, place);
            const Vec3f normal = relievedNormal(pattern, kBase, place, along, du, dv, here);
            QVERIFY(std::abs(length(normal) - 1) < 1e-4f && normal.z > 0);
            leaning += normal.z < 0.9999f;
            pattern.relief = 0;
            const Look flat = patterned(pattern, kBase, place);
            QCOMPARE(relievedNormal(pattern, kBase, place, along, du, dv, flat), place.normal);
        }
        const bool polished = kind <= int(PatternKind::Marble) || kind == int(PatternKind::Terrazzo);
        QCOMPARE(leaning > 30, kind < int(PatternKind::Dots) && !polished);
    }

    // Numbers at the ends of what can be typed, and far away, come to colours all the same.
    void nothingIsNaN_data() { all_data(); }
    void nothingIsNaN()
    {
        QFETCH(int, kind);
        for (const float size : {0.01f, 1.0f, 1e5f})
            for (const float far : {0.0f, 1e4f, 1e6f, 1e9f})
                for (const float strength : {0.0f, 1.0f}) {
                    Pattern pattern = of(PatternKind(kind), size, 9999);
                    pattern.strength = strength;
                    const Look look = patterned(pattern, kBase, on(far, -0.3f * far, 0.1f));
                    for (const float c : {look.colour.x, look.colour.y, look.colour.z, look.roughness, look.metallic})
                        QVERIFY(c >= 0 && c <= 1.0001f);
                    QVERIFY(std::isfinite(look.height) && std::isfinite(look.tilt.x + look.tilt.y + look.tilt.z));
                    if (strength == 0 && kind >= int(PatternKind::Dots))
                        QCOMPARE(look.colour, kBase.colour);
                }
    }
};

OPEN_GLOW_TEST(TestPattern)
#include "test_pattern.moc"
