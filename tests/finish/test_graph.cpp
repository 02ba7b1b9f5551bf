// Steps with a reach, in parts and as a whole.
#include <QtTest>
#include <random>

#include "finish/develop.h"
#include "support/registered.h"

using finish::Area;
using finish::Graph;
using finish::Image;

namespace {

// Mean over a square of (2 r + 1) px, of what of it lies in the picture.
finish::Step boxBlur(int input, int r)
{
    return {{input}, r, 1, [r](std::span<const Image* const> in, Image& out) {
                const Area& have = in[0]->area;
                for (int y = out.area.y0; y < out.area.y1; ++y)
                    for (int x = out.area.x0; x < out.area.x1; ++x) {
                        float sum = 0, count = 0;
                        for (int j = std::max(have.y0, y - r); j < std::min(have.y1, y + r + 1); ++j)
                            for (int i = std::max(have.x0, x - r); i < std::min(have.x1, x + r + 1); ++i, ++count)
                                sum += *in[0]->at(i, j);
                        *out.at(x, y) = sum / count;
                    }
            }};
}

finish::Step difference(int a, int b)
{
    return {{a, b}, 0, 1, [](std::span<const Image* const> in, Image& out) {
                for (int y = out.area.y0; y < out.area.y1; ++y)
                    for (int x = out.area.x0; x < out.area.x1; ++x)
                        *out.at(x, y) = *in[0]->at(x, y) - *in[1]->at(x, y);
            }};
}

Image noise(const Area& area)
{
    Image image(area, 1);
    std::mt19937 random(7);
    std::uniform_real_distribution<float> uniform;
    for (float& v : image.pixels.values)
        v = uniform(random);
    return image;
}

Image partOf(const Image& image, const Area& area)
{
    Image part(area, image.pixels.channels);
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x)
            std::copy_n(image.at(x, y), image.pixels.channels, part.at(x, y));
    return part;
}

}  // namespace

class TestGraph : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Reaches add up along the longest way; what no result needs is neither made nor asked for.
    void reachesAddUp()
    {
        Graph graph;
        QCOMPARE(graph.reach(), 0);
        const int soft = graph.add(boxBlur(Graph::kSource, 3));
        const int softer = graph.add(boxBlur(soft, 4));
        graph.add({{Graph::kSource}, 100, 1, [](auto, Image&) { QFAIL("nobody asked"); }});
        graph.add(difference(softer, soft));
        QCOMPARE(graph.reach(), 7);
    }

    // A picture in parts of any shape is the whole, byte for byte, up to its edges.
    void partsAreTheWhole()
    {
        const Area whole{-5, 10, 58, 47};
        const Image source = noise(whole);
        Graph graph;
        const int soft = graph.add(boxBlur(Graph::kSource, 2));
        const int softer = graph.add(boxBlur(soft, 5));
        graph.add(difference(softer, soft));
        const Image all = graph.run(source, whole, whole);
        double sum = 0;
        for (const int step : {1, 7, 16, 40})
            for (int y = whole.y0; y < whole.y1; y += step)
                for (int x = whole.x0; x < whole.x1; x += 2 * step) {
                    const Area wanted{x, y, std::min(x + 2 * step, whole.x1), std::min(y + step, whole.y1)};
                    const Image part = graph.run(partOf(source, wanted.grownBy(graph.reach(), whole)), wanted, whole);
                    QCOMPARE(part.area, wanted);
                    QVERIFY(part.pixels == partOf(all, wanted).pixels);
                    sum += std::abs(double(part.pixels.values[0]));
                }
        QVERIFY(sum > 1);
    }

    // Exposure and view transform are the first two steps, and the whole of them is what a pixel alone becomes.
    void theFirstStepsAreExposureAndViewTransform()
    {
        film::LightShares shares({40, 37, 3, 2, 33, 35, film::entriesNamed({"l1", "l2"})});
        std::mt19937 random(3);
        std::uniform_real_distribution<float> uniform;
        for (float& v : shares.values)
            v = uniform(random);
        *shares.at(4, 4) = 0;
        for (const bool transparent : {false, true}) {
            finish::DevelopSettings s;
            s.desk = {{1, 0.5f, 0.25f}, {2, 2, 2}};
            s.exposureStops = 0.7;
            s.viewTransform = picture::ViewTransform::SoftWhites;
            s.transparent = transparent;
            QCOMPARE(finish::graphOf(s).reach(), 0);
            const picture::Raster<float> all = finish::develop(shares, s);
            for (int y = 0; y < all.height; ++y)
                for (int x = 0; x < all.width; ++x) {
                    const Rgb alone = finish::developed(shares.entries(x, y), shares.alpha(x, y), s);
                    // Encoded by a table: within a step of 16 bits.
                    QVERIFY(length(Rgb{all.at(x, y)[0], all.at(x, y)[1], all.at(x, y)[2]} - alone) < 1.0f / 65535);
                }
            const picture::Raster<float> rows = finish::developRows(shares, s, 9, 20, 2, 37);
            QCOMPARE(rows.height, 11);
            QVERIFY(std::equal(rows.values.begin(), rows.values.end(), all.at(0, 7)));
        }
    }

private:
    using Rgb = base::Rgb;
};

OPEN_GLOW_TEST(TestGraph)
#include "test_graph.moc"
