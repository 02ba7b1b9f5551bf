// Layers in groups, masks that are drawn and masks by light and shadow, gradients letter by letter: on small pictures whose answers are
// known.
#include <QtTest>

#include <numbers>

#include "finish/placed.h"
#include "finish/small_pictures.h"
#include "finish/strokes.h"
#include "picture/colour.h"
#include "support/registered.h"

using base::Rgb;
using finish::DevelopSettings;
using finish::Layer;
using finish::Stroke;
using namespace small;

namespace {

double difference(const picture::Raster<float>& a, const picture::Raster<float>& b)
{
    double most = a.values.size() == b.values.size() ? 0 : 1e9;
    for (std::size_t i = 0; i < a.values.size() && i < b.values.size(); ++i)
        most = std::max(most, std::abs(double(a.values[i]) - double(b.values[i])));
    return most;
}

picture::Raster<float> seen(const film::LightShares& shares, std::vector<Layer> layers)
{
    return finish::develop(shares, with(std::move(layers)));
}

double areaOf(const std::vector<Stroke>& strokes, double pxPerPt = 1)
{
    const int w = int(200 * pxPerPt), h = int(120 * pxPerPt);
    finish::Image image({0, 0, w, h}, 1);
    finish::paint(strokes, {w, h, pxPerPt}, image);
    double sum = 0;
    for (const float v : image.pixels.values)
        sum += double(v);
    return sum / pxPerPt / pxPerPt;
}

}  // namespace

class TestGroups : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A group that is everywhere and whole changes nothing; its strength is that of its one layer, on colour and on light; its blend is
    // that of what is in it (W3C Compositing and Blending Level 1, 5.1 and 9).
    void oneOfMany()
    {
        const film::LightShares shares = busy(40, 30);
        const Layer tone = layer(finish::Tone{0.4, 0.3}), soft = layer(finish::Soften{2}), halo = layer(finish::Halo{4, 0.5});
        QVERIFY(seen(shares, {tone, halo, soft, layer(finish::Group{3})}).values == seen(shares, {tone, halo, soft}).values);
        QVERIFY(seen(shares, {tone, soft, layer(finish::Group{0})}).values == seen(shares, {tone, soft}).values);
        Layer weak = tone;
        weak.strength = 0.35;
        QVERIFY(difference(seen(shares, {tone, layer(finish::Group{1}, 0.35)}), seen(shares, {weak})) < 1e-6);
        Layer faint = halo;
        faint.strength = 0.35;
        QVERIFY(difference(seen(shares, {halo, layer(finish::Group{1}, 0.35)}), seen(shares, {faint})) < 1e-5);
        const finish::Fill blue{finish::FillForm::Even, {0.1f, 0.3f, 0.7f}};
        QVERIFY(difference(seen(shares, {layer(blue), layer(finish::Group{1}, 0.6, finish::Blend::Multiply)}),
                           seen(shares, {layer(blue, 0.6, finish::Blend::Multiply)})) < 1e-6);
        // A layer under the group is not in it.
        QVERIFY(difference(seen(shares, {tone, layer(blue), layer(finish::Group{1}, 0)}), seen(shares, {tone})) < 1e-7);
    }

    // The mask is of all of it together: pieces are as with the layers, all else as without, and between them by coverage.
    void maskOfAll()
    {
        const film::LightShares shares = letterOnWall();
        std::vector<Layer> in{layer(finish::Tone{1.2}), layer(finish::Fill{finish::FillForm::Linear, {1, 0, 0}, "", {0, 0, 1}}, 0.5)};
        const auto without = seen(shares, {}), all = seen(shares, in);
        in.push_back(layer(finish::Group{2}));
        in.back().mask.acts = finish::Acts::Lettering;
        const auto some = seen(shares, in);
        for (int y = 0; y < 30; ++y)
            for (int x = 0; x < 40; ++x) {
                const float letter = y >= 25 || x > 20 ? 0 : x == 20 ? 0.5f : 1;
                const Rgb expected = lerp(at(without, x, y), at(all, x, y), letter), is = at(some, x, y);
                QVERIFY2(std::abs(is.x - expected.x) < 1e-6f && std::abs(is.z - expected.z) < 1e-6f,
                         qPrintable(QString("%1 %2").arg(x).arg(y)));
            }
    }

    // While layers in groups are changed one after the other the picture is that of developing all of it, bit by bit; asked to stop, it
    // gives nothing, and the next picture is right all the same.
    void keptBelow()
    {
        const film::LightShares shares = busy(60, 40);
        DevelopSettings s = with({layer(finish::Tone{0.2}), layer(finish::Halo{3, 0.5}), layer(finish::Soften{2}, 0.5),
                                  layer(finish::Group{2}, 0.7), layer(finish::Fill{finish::FillForm::Even, {1, 0, 0}}, 0.3),
                                  layer(finish::Vignette{}), layer(finish::Sharpen{2, 0.3}), layer(finish::Group{2}, 0.5)},
                                 60);
        s.layers[4].mask.acts = finish::Acts::Lettering;
        s.layers[3].mask.strokes = {{{{-10, 0}, {10, 5}}, 12, 0.5, false}};
        s.layers[7].mask.lit = finish::Lit::InLight;
        finish::Redeveloper again;
        std::mt19937 random(1);
        for (int i = 0; i < 80; ++i) {
            const std::size_t which = random() % s.layers.size();
            s.layers[which].strength = double(random() % 100) / 100;
            if (i % 10 == 3) {
                std::stop_source stopped;
                stopped.request_stop();
                QVERIFY(!again.develop(shares, s, stopped.get_token()));
                s.layers[random() % s.layers.size()].strength = 0.4;
            }
            const auto made = again.develop(shares, s);
            QVERIFY2(made && made->values == finish::develop(shares, s).values,
                     qPrintable(QString("change %1 of layer %2").arg(i).arg(which)));
        }
    }

    // Strokes cover what geometry says: a dot its disc, a line its stadium, a soft dot the integral of its smooth step (3 r^2 pi / 10 with
    // all of its radius soft); laid over each other they cover no more than once; what is erased is gone, and erasing first leaves the
    // rest.
    void strokesAreAreas()
    {
        const double pi = std::numbers::pi, r = 17.3;
        const auto near = [](double is, double expected) { return std::abs(is - expected) < 0.004 * expected + 0.5; };
        const Stroke dot{{{3.2, -1.7}}, 2 * r, 0, false}, line{{{-40, -10}, {-10, 5}, {20, 20}}, 2 * r, 0, false};
        QVERIFY2(near(areaOf({dot}), pi * r * r), qPrintable(QString::number(areaOf({dot}))));
        QVERIFY(areaOf({dot, dot}) - areaOf({dot}) < 0.2 * 2 * pi * r);  // the pixels of its edge alone
        const double length = 2 * std::hypot(30, 15);
        QVERIFY2(near(areaOf({line}), pi * r * r + 2 * r * length), qPrintable(QString::number(areaOf({line}))));
        const Stroke soft{{{0, 0}}, 2 * r, 1, false};
        QVERIFY2(near(areaOf({soft}), 3 * pi * r * r / 10), qPrintable(QString::number(areaOf({soft}))));
        Stroke erased = dot;
        erased.erases = true;
        QVERIFY(areaOf({dot, erased}) < 0.2 * 2 * pi * r);
        QVERIFY(near(areaOf({erased}), 200 * 120 - pi * r * r));
        QVERIFY(near(areaOf({line}, 2.5), areaOf({line})));
    }

    // A drawn mask at half the size is the whole one, pixels put together, within 2/255, where edges cross twice that; parts equal the
    // whole.
    void drawnAtAnySize()
    {
        const std::vector<Stroke> strokes{{{{-60, 20}, {-20, -30}, {50, 10}}, 26, 0.5, false}, {{{0, 0}, {30, 30}}, 14, 0.3, true}};
        finish::Image large({0, 0, 400, 240}, 1), small({0, 0, 200, 120}, 1);
        const std::vector<Stroke> straight{{{{-60, 20}, {20, -30}}, 26, 0.5, false}}, dot{{{{3, 7}}, 30, 0.2, false}},
            hard{{{{-60, -31}, {50, 10}}, 14, 0, false}};
        for (const auto& [some, steps] : {std::pair(straight, 2.0f), {dot, 2.0f}, {hard, 3.0f}, {strokes, 8.0f}}) {
            finish::paint(some, {400, 240, 2}, large);
            finish::paint(some, {200, 120, 1}, small);
            const float most = steps / 255;
            for (int y = 0; y < 120; ++y)
                for (int x = 0; x < 200; ++x) {
                    float sum = 0;
                    for (const auto& [dx, dy] : {std::pair(0, 0), {1, 0}, {0, 1}, {1, 1}})
                        sum += *large.at(2 * x + dx, 2 * y + dy);
                    QVERIFY2(std::abs(sum / 4 - *small.at(x, y)) < most,
                             qPrintable(QString("%1 %2: %3 and %4").arg(x).arg(y).arg(sum / 4).arg(*small.at(x, y))));
                }
        }
        finish::Image part({130, 60, 260, 140}, 1);
        finish::paint(strokes, {400, 240, 2}, part);
        for (int y = 60; y < 140; ++y)
            for (int x = 130; x < 260; ++x)
                QCOMPARE(*part.at(x, y), *large.at(x, y));
        // In a picture it is the layer's weight.
        const film::LightShares shares = busy(40, 30);
        Layer white = layer(finish::Fill{finish::FillForm::Even, {1, 1, 1}});
        white.mask.strokes = {{{{-10, 0}}, 12, 0, false}};
        const auto drawn = seen(shares, {white}), without = seen(shares, {});
        const auto isWhite = [](Rgb c) { return std::min({c.x, c.y, c.z}) > 1 - 1e-6f; };
        QVERIFY(isWhite(at(drawn, 10, 15)) && at(drawn, 30, 15) == at(without, 30, 15));
        white.mask.inverted = true;
        const auto turned = seen(shares, {white});
        QVERIFY(at(turned, 10, 15) == at(without, 10, 15) && isWhite(at(turned, 30, 15)));
    }

    // In shadow by the share of lights that is hidden, in the light by the rest; both together are all of what is there. Nothing falls on
    // the backdrop.
    void litAndShaded()
    {
        film::RankedIds ids;
        ids.ids[0] = kWall;
        ids.shares[0] = 0.75f;
        ids.ids[1] = kNothing;
        ids.shares[1] = 0.25f;
        ids.open = 0.3f;
        Layer white = layer(finish::Fill{});
        white.mask.lit = finish::Lit::InShadow;
        QVERIFY(std::abs(finish::maskOf(white, ids) - 0.75f * 0.7f) < 1e-6f);
        white.mask.lit = finish::Lit::InLight;
        QVERIFY(std::abs(finish::maskOf(white, ids) - (0.75f * 0.3f + 0.25f)) < 1e-6f);
        white.mask.acts = finish::Acts::Ground;
        QVERIFY(std::abs(finish::maskOf(white, ids) - 0.75f * 0.3f) < 1e-6f);
    }

    // A gradient begins and ends at each letter's own box: there it has its colours, in the middle what lies between them for the eye; on
    // the wall there is none of it, and at an edge as much as there is of the letter.
    void byLetter()
    {
        const film::LightShares shares = letterOnWall();
        finish::Fill fill{finish::FillForm::Linear, {1, 0, 0}, "", {0, 0, 1}};
        fill.turn = 0;
        fill.byLetter = true;
        // At a pixel per pt the frame's left edge is at -20: one letter has the first four columns, the other the rest up to the middle.
        fill.boxes = {{1, 1, {{-16, -10}, {1, 15}}}, {1, 2, {{-20, -10}, {-16, 15}}}};
        const auto made = seen(shares, {layer(fill)}), without = seen(shares, {});
        const finish::Fill over{finish::FillForm::Linear, {1, 0, 0}, "", {0, 0, 1}, 1, 0};
        const auto whole = seen(even40(), {layer(over)});  // the same gradient over all of 40 columns
        for (const auto& [x, of, width] : {std::tuple(1, 0, 4), {2, 0, 4}, {4, 4, 17}, {10, 4, 17}, {19, 4, 17}}) {
            // Where it is in its box, the same place of the whole frame has the same colour.
            const double share = (x + 0.5 - of) / width;
            const double column = share * 40 - 0.5;
            const int left = int(std::floor(column));
            const Rgb expected = lerp(at(whole, std::max(0, left), 3), at(whole, std::min(39, left + 1), 3), float(column - left));
            const Rgb is = at(made, x, 3);
            QVERIFY2(std::abs(is.x - expected.x) < 0.012f && std::abs(is.z - expected.z) < 0.012f,
                     qPrintable(QString("%1: %2 %3, %4 %5").arg(x).arg(is.x).arg(is.z).arg(expected.x).arg(expected.z)));
        }
        QVERIFY(at(made, 30, 3) == at(without, 30, 3));
        const Rgb edge = at(made, 20, 3), half = lerp(at(without, 20, 3), at(made, 19, 3), 0.5f);
        QVERIFY2(std::abs(edge.x - half.x) < 0.06f && std::abs(edge.y - half.y) < 0.06f && std::abs(edge.z - half.z) < 0.06f,
                 qPrintable(QString("%1 %2 %3, not %4 %5 %6").arg(edge.x).arg(edge.y).arg(edge.z).arg(half.x).arg(half.y).arg(half.z)));
    }

    // Light fog: 1 / (1 + (r / size)^2) where the way from the lamp is open; behind what stands there the share of the way that is open,
    // and a drawing of the same at twice the size. What is deeper than the lamp hides nothing.
    void lightFog()
    {
        const auto fogOf = [&](int size, const finish::Beams& beams, bool blocked, float depth) {
            const int scale = size / 100;
            film::LightShares shares = pictureOf(size, size, [&](int x, int, film::RankedIds& ids) {
                ids.ids[0] = blocked && x / scale >= 30 && x / scale < 40 ? kLetter : kWall;
                ids.shares[0] = 1;
                ids.depth = depth;
                return std::pair(Rgb{}, 1.0f);
            });
            DevelopSettings s = with({layer(beams)}, 100);
            const picture::Raster<float> seenAs = finish::develop(shares, s);
            return [=](int x, int y) { return picture::decodeSrgb(seenAs.at(x * scale + scale / 2, y * scale + scale / 2)[0]); };
        };
        finish::Beams beams;
        beams.x = -40;
        beams.y = 0;
        beams.size = 20;
        beams.stops = -1;
        const auto open = fogOf(100, beams, false, 0), shaded = fogOf(100, beams, true, 0), twice = fogOf(200, beams, true, 0),
                   behind = fogOf(100, beams, true, 5);
        for (const int x : {15, 25, 45, 60, 90}) {
            const double r = (x + 0.5 - 10) / 20, whole = 0.5 / (1 + r * r);
            QVERIFY2(std::abs(double(open(x, 50)) - whole) < 4e-3, qPrintable(QString("%1 %2 %3").arg(x).arg(open(x, 50)).arg(whole)));
            const double way = x + 0.5 - 10, share = x < 30 ? 1 : 1 - 10 / way;
            QVERIFY2(std::abs(double(shaded(x, 50)) - whole * share) < 8e-3,
                     qPrintable(QString("%1 %2 %3").arg(x).arg(shaded(x, 50)).arg(whole * share)));
            QVERIFY(std::abs(shaded(x, 50) - twice(x, 50)) < 8e-3f);
        }
        beams.depth = 3;
        const auto nearer = fogOf(100, beams, true, 0), deeper = fogOf(100, beams, true, 5);
        QVERIFY(nearer(60, 50) == shaded(60, 50) && deeper(60, 50) == open(60, 50) && behind(60, 50) == shaded(60, 50));
        beams.hidden = true;
        QVERIFY(fogOf(100, beams, false, 0)(15, 50) == 0);
    }

private:
    static film::LightShares even40()
    {
        return pictureOf(40, 30, [](int, int, film::RankedIds& ids) {
            ids.ids[0] = kWall;
            ids.shares[0] = 1;
            return std::pair(Rgb{0.5f, 0.5f, 0.5f}, 1.0f);
        });
    }
};

OPEN_GLOW_TEST(TestGroups)
#include "test_groups.moc"
