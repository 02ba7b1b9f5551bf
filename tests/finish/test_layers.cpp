// Layers on small pictures whose answers are known.
#include <QtTest>
#include <random>

#include "finish/blur.h"
#include "finish/develop.h"
#include "finish/layer_steps.h"
#include "finish/small_pictures.h"
#include "finish/tone.h"
#include "support/registered.h"

using base::Rgb;
using film::PixelId;
using finish::Acts;
using finish::DevelopSettings;
using finish::Layer;
using namespace small;

namespace {

// Red on the left, blue on the right, and nothing in its lower half.
surface::SharedTexture cutOut()
{
    std::vector<std::uint8_t> rgba;
    for (int y = 0; y < 8; ++y)
        for (int x = 0; x < 8; ++x)
            for (const int v : {x < 4 ? 255 : 0, 0, x < 4 ? 0 : 255, y < 4 ? 255 : 0})
                rgba.push_back(std::uint8_t(v));
    auto texture = std::make_shared<surface::Texture>(8, 8, std::move(rgba));
    texture->makeColours();
    return texture;
}

std::shared_ptr<const finish::FlatShape> triangle()
{
    return std::make_shared<const finish::FlatShape>(finish::FlatShape{{{-9.3, -7.1}, {8.8, -6}, {1.2, 9.4}}});
}

std::vector<Layer> oneOfEach()
{
    std::vector<Layer> layers{
        layer(finish::Halo{3, 0.5}),
        layer(finish::Tone{0.2, 0.3, 0.2, 0.3, 0.1, -0.2, 0.1, 0.1, 0.1, 0.3, 20}),
        layer(finish::Levels{0.05, 0.95, 1.1, 0.02, 0.98}),
        layer(finish::Duotone{{0, 0, 0.1f}, {1, 0.9f, 0.8f}}, 0.3),
        layer(finish::Fill{finish::FillForm::Linear, {1, 0, 0}, {}, {0, 0, 1}, 0.2, 30}, 0.4, finish::Blend::SoftLight),
        layer(finish::Fill{finish::FillForm::Round, {1, 1, 0}}, 0.3, finish::Blend::Multiply),
        layer(finish::Soften{2}, 0.5, finish::Blend::Screen),
        layer(finish::Sharpen{2, 1}),
        layer(finish::Grain{1.5, 0.5, 0.5, 3}, 0.4, finish::Blend::Overlay),
        layer(finish::Vignette{}),
        layer(finish::PrintRaster{5, 30}, 0.5),
        layer(finish::FlatShadow{4, 3, 1, false}, 0.5),
        layer(finish::FlatShadow{-6, 5, 0, true}, 0.5)};
    layers.push_back(layer(finish::Picture{{}, cutOut(), 3, -2, 20, 15, surface::PictureEdges::Repeat}, 0.4, finish::Blend::Screen));
    layers.push_back(layer(finish::Picture{{}, cutOut(), 1, 2, 22, -20, surface::PictureEdges::Once, 0.1, 0.2, 0.05, 0.3}, 0.7));
    layers.push_back(layer(finish::Lines{1.5, {1, 1, 1}}, 0.8, finish::Blend::Screen));
    layers.push_back(layer(finish::Curves{finish::CurveOf::Red, 0.1, 0.2, 0.6, 0.8, 0.95}));
    layers.push_back(layer(finish::Mixer{0.8, 0.1, 0.1, 0, 1, 0, 0.2, -0.1, 0.9}));
    layers.push_back(layer(finish::Rays{4, 6, 20, 0.6, 1}));
    layers.push_back(layer(finish::Flare{{}, 6, 5, false, 14, 1, 6, 0.5}, 0.8));
    layers.push_back(layer(finish::Particles{finish::ParticleForm::Sparks, 30, 5}, 1, finish::Blend::Screen));
    layers.push_back(layer(finish::Particles{finish::ParticleForm::Confetti, 30, 5}, 0.8));
    layers.push_back(layer(finish::Particles{finish::ParticleForm::Dots, 30, 5}, 0.5));
    layers.push_back(layer(finish::Smoke{12, 0.6}, 0.7));
    layers.push_back(layer(finish::Trail{finish::TrailForm::Along, 5, 30}, 0.6));
    layers.push_back(layer(finish::Trail{finish::TrailForm::Round, 5, 30, 8, 0.1, 2, 1}));
    layers.push_back(layer(finish::Trail{finish::TrailForm::Zoom, 5, 0, 6, 0.15, 0, 0, true}, 0.8));
    layers.push_back(layer(finish::Stuff{finish::StuffForm::Paper, 4}, 0.5, finish::Blend::SoftLight));
    layers.push_back(layer(finish::Stuff{finish::StuffForm::Canvas, 4}, 0.5, finish::Blend::SoftLight));
    layers.push_back(layer(finish::Stuff{finish::StuffForm::Dust, 3, 0.7}));
    layers.push_back(layer(finish::Stuff{finish::StuffForm::Scratches, 3, 0.7}));
    layers.push_back(layer(finish::Stuff{finish::StuffForm::Worn, 3, 0.5}, 0.6));
    layers.push_back(layer(finish::Misprint{0.8, 0.4}));
    layers.push_back(layer(finish::Bands{9, 25}, 0.5, finish::Blend::SoftLight));
    layers.push_back(layer(finish::Print{{}, triangle(), {0.2f, 0, 0}}));
    layers.push_back(layer(finish::Code{finish::CodeForm::Qr, "x", triangle(), triangle(), 8, -4, 0.5}));
    layers[1].mask = {Acts::Lettering};
    layers[6].mask = {Acts::Behind, {}, {}, 0, 0, 1, 0, 90, true};
    layers[5].mask = {Acts::Lettering, {}, {}, 3, 0.1, 0.9, 0.5, 20};
    layers.push_back(layer(finish::Soften{3}));
    layers.back().mask.farFrom = -20;
    layers.back().mask.farTo = 30;
    layers.push_back(layer(finish::Fill{}, 0.3));
    layers.back().mask.farFrom = 10;
    layers.back().mask.farTo = -10;
    return layers;
}

}  // namespace

class TestLayers : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Without layers, and with layers that are neutral, the picture is the same.
    void neutralOnes()
    {
        const film::LightShares shares = letterOnWall();
        const auto plain = finish::develop(shares, with({}));
        for (const Layer& l : {layer(finish::Tone{}), layer(finish::Levels{}), layer(finish::Soften{0}), layer(finish::Sharpen{2, 0}),
                               layer(finish::Vignette{0}), layer(finish::Halo{4, 50}), layer(finish::Fill{}, 1, finish::Blend::Multiply)}) {
            const auto same = finish::develop(shares, with({l}));
            for (std::size_t i = 0; i < plain.values.size(); ++i)
                QVERIFY2(std::abs(plain.values[i] - same.values[i]) < 2e-3f, qPrintable(QString::number(l.what.index())));
        }
    }

    // Levels by their formula; one stop of exposure doubles light; -1 of saturation leaves luma (W3C Filter Effects), -1 of contrast the
    // middle grey; hue turned by 360 degrees is the hue.
    void toneByFormula()
    {
        const finish::Levels levels{0.2, 0.8, 2, 0.1, 0.9};
        QVERIFY(std::abs(finish::levelsAt(levels, 0.5f) - float(0.1 + 0.8 * std::sqrt(0.5))) < 1e-6f);
        QCOMPARE(finish::levelsAt(levels, 0.1f), 0.1f);
        QCOMPARE(finish::levelsAt(levels, 0.95f), 0.9f);
        QCOMPARE(finish::levelsAt({0.5, 0.5}, 0.4f), 0.0f);
        const Rgb c = picture::encodeSrgb({0.1f, 0.2f, 0.05f});
        finish::Tone tone;
        tone.exposure = 1;
        QVERIFY(length(picture::decodeSrgb(finish::ToneMaker(tone).at(c)) - Rgb{0.2f, 0.4f, 0.1f}) < 1e-3f);
        tone = {};
        tone.saturation = -1;
        const Rgb grey = finish::ToneMaker(tone).at(c);
        QVERIFY(std::abs(grey.x - (0.213f * c.x + 0.715f * c.y + 0.072f * c.z)) < 1e-3f && std::abs(grey.x - grey.z) < 1e-4f);
        tone = {};
        tone.contrast = -1;
        QVERIFY(length(finish::ToneMaker(tone).at(c) - Rgb{0.5f, 0.5f, 0.5f}) < 1e-4f);
        tone = {};
        tone.hue = 180;
        const Rgb turned = finish::ToneMaker(tone).at({0.6f, 0.5f, 0.4f});
        // Twice half a turn; the matrix of the standard is rounded to three places.
        QVERIFY(length(finish::ToneMaker(tone).at(turned) - Rgb{0.6f, 0.5f, 0.4f}) < 5e-3f);
        tone = {};
        tone.warmth = 1;
        const Rgb warm = picture::decodeSrgb(finish::ToneMaker(tone).at({0.5f, 0.5f, 0.5f}));
        QVERIFY(warm.x > warm.y && warm.y > warm.z);
        QVERIFY(std::abs(luminance(warm) - picture::decodeSrgb(0.5f)) < 2e-3f);
    }

    // Whatever its values are, tone never turns the scale round.
    void toneRises()
    {
        std::mt19937 random(3);
        std::uniform_real_distribution<double> any(-1, 1);
        for (int i = 0; i < 200; ++i) {
            finish::Tone tone{any(random), any(random), 0, 0, any(random), any(random), any(random), any(random)};
            const finish::ToneMaker maker(tone);
            for (float v = 0, before = -1; v <= 1; v += 0.01f) {
                const float now = maker.at({v, v, v}).x;
                QVERIFY2(now >= before - 1e-5f && now >= 0 && now <= 1, qPrintable(QString("%1: %2 after %3").arg(v).arg(now).arg(before)));
                before = now;
            }
        }
    }

    // A point becomes as much light as it was, spread with the variance that was asked for; and looks like a Gaussian.
    void blurIsGaussian()
    {
        for (const double sigma : {0.6, 2.0, 7.5, 20.0}) {
            const int side = 2 * finish::blurReach(sigma) + 3, middle = side / 2;
            finish::Image point({0, 0, side, side}, 1);
            *point.at(middle, middle) = 1;
            const finish::Image soft = finish::blurred(point, point.area, sigma);
            double sum = 0, second = 0, most = 0;
            for (int y = 0; y < side; ++y)
                for (int x = 0; x < side; ++x) {
                    const double v = double(*soft.at(x, y));
                    sum += v;
                    second += v * (x - middle) * (x - middle);
                    const double d2 = (x - middle) * (x - middle) + (y - middle) * (y - middle);
                    const double gaussian = std::exp(-d2 / (2 * sigma * sigma)) / (2 * M_PI * sigma * sigma);
                    most = std::max(most, std::abs(v - gaussian) * 2 * M_PI * sigma * sigma);
                }
            QVERIFY2(std::abs(sum - 1) < 1e-4, qPrintable(QString::number(sum)));
            QVERIFY2(std::abs(second / (sigma * sigma) - 1) < (sigma > 8 ? 1e-2 : 2e-3),
                     qPrintable(QString("%1: %2").arg(sigma).arg(second)));
            if (sigma >= 2)
                QVERIFY2(most < 0.08, qPrintable(QString("%1: off by %2 of its peak").arg(sigma).arg(most)));
        }
    }

    // Every layer there is, at once: parts of the picture are those of the whole, to the bit.
    void partsEqualTheWhole()
    {
        // Wide ones are blurred in blocks.
        const std::vector<Layer> wide{layer(finish::Halo{50, 0.5}), layer(finish::Soften{38}, 0.5)};
        std::vector<std::tuple<std::vector<Layer>, int, int, double>> sets;
        for (const Layer& one : oneOfEach())
            sets.push_back({{one}, 60, 60, 30.0});
        sets.push_back({oneOfEach(), 120, 90, 60.0});
        sets.push_back({wide, 30, 500, 30.0});
        for (const auto& [layers, width, height, widthPt] : sets) {
            const film::LightShares shares = busy(width, height);
            const DevelopSettings settings = with(layers, widthPt);
            const auto whole = finish::develop(shares, settings);
            const int reach = finish::graphOf(settings, width, height).reach(), third = height / 3;
            if (layers.size() > 1)
                QVERIFY2(reach > 10 && reach < 400, qPrintable(QString::number(reach)));
            for (const auto& [y0, y1] : {std::pair(0, third), {third, third + 1}, {third + 1, height}}) {
                const int first = std::max(0, y0 - reach), last = std::min(height, y1 + reach);
                film::FilmShape shape = shares.shape;
                shape.regionY = first;
                shape.regionHeight = last - first;
                film::LightShares rows(shape);
                std::copy_n(shares.at(0, first), rows.values.size(), rows.values.begin());
                rows.ids.assign(shares.ids.begin() + first * width, shares.ids.begin() + last * width);
                const auto part = finish::developRows(rows, settings, y0, y1, 0, height);
                QVERIFY2(std::equal(part.values.begin(), part.values.end(), whole.at(0, y0)),
                         qPrintable(QString("%1 layers, the last of kind %2").arg(layers.size()).arg(layers.back().what.index())));
            }
        }
    }

    // Letters, ground and backdrop share every pixel among them; pieces, letters and parts by their numbers; inverted is the rest.
    void masks()
    {
        const film::LightShares shares = letterOnWall();
        const auto of = [&](Acts acts, std::vector<finish::MaskItem> items, int x, int y) {
            Layer l = layer(finish::Tone{});
            l.mask.acts = acts;
            l.mask.items = std::move(items);
            return finish::maskOf(l, shares.idsAt(x, y));
        };
        for (int y = 0; y < 30; ++y)
            for (int x = 0; x < 40; ++x)
                QVERIFY(std::abs(of(Acts::Lettering, {}, x, y) + of(Acts::Ground, {}, x, y) + of(Acts::Backdrop, {}, x, y) - 1) <
                        1.0f / 255);
        QCOMPARE(of(Acts::Lettering, {}, 20, 3), 0.5f);
        QCOMPARE(of(Acts::Behind, {}, 20, 3), 0.5f);
        QCOMPARE(of(Acts::Backdrop, {}, 10, 28), 1.0f);
        QCOMPARE(of(Acts::Everywhere, {{1, 2, 0}}, 2, 3), 1.0f);
        QCOMPARE(of(Acts::Everywhere, {{1, 2, 0}}, 10, 3), 0.0f);
        QCOMPARE(of(Acts::Everywhere, {{0, 0, 1}}, 10, 3), 1.0f);
        QCOMPARE(of(Acts::Everywhere, {{0, 0, 3}}, 10, 3), 0.0f);
        QCOMPARE(of(Acts::Behind, {{2, 0, 0}}, 10, 3), 1.0f);
    }

    // By depth: nothing before it begins, all where it ends, a smooth step between (t^2 (3 - 2 t)); either way round; the backdrop is
    // further than all. Depth is across the view: all of the plane through the aim is at 0, in perspective too.
    void masksByDepth()
    {
        Layer l = layer(finish::Tone{});
        l.mask.farFrom = 10;
        l.mask.farTo = 30;
        film::RankedIds ids;
        ids.ids[0] = kWall;
        ids.shares[0] = 0.75f;
        ids.ids[1] = kNothing;
        ids.shares[1] = 0.25f;
        for (const auto& [depth, share] :
             {std::pair{0.0f, 0.0f}, {10.0f, 0.0f}, {15.0f, 0.15625f}, {20.0f, 0.5f}, {30.0f, 1.0f}, {900.0f, 1.0f}}) {
            ids.depth = depth;
            QVERIFY(std::abs(finish::maskOf(l, ids) - (0.75f * share + 0.25f)) < 1e-5f);
        }
        std::swap(l.mask.farFrom, l.mask.farTo);
        ids.depth = 15;
        QVERIFY(std::abs(finish::maskOf(l, ids) - (0.75f * (1 - 0.15625f) + 0.25f)) < 1e-5f);
        QVERIFY(l.mask.looksAtIds() && !finish::Mask().byDepth());
        const film::Viewpoint parallel{false, 400, 300, 700}, perspective{true, 400, 300, 700};
        QCOMPARE(parallel.behindAim(0, 0, 720), 20.0f);
        for (const auto& [u, v] : {std::pair{0.5, 0.5}, {0.0, 0.0}, {0.9, 0.3}}) {
            const double along = std::hypot(700, (u - 0.5) * 400, (v - 0.5) * 300);
            QVERIFY(std::abs(perspective.behindAim(u, v, float(along))) < 1e-3f);
            QVERIFY(std::abs(perspective.behindAim(u, v, float(along * 1.1)) - 70) < 1e-3f);
        }
    }

    // Softer by depth: what is before it stays as it is to the bit, what is behind it is as soft as all of it would be, and what is sharp
    // does not run into it: a plain wall stays plain up to the letter's edge.
    void softerByDepth()
    {
        const auto picture = [](bool striped) {
            return pictureOf(120, 20, [=](int x, int, film::RankedIds& ids) {
                const bool near = x < 40;
                ids.ids[0] = near ? kLetter : kWall;
                ids.shares[0] = 1;
                ids.depth = near ? 0 : 100;
                const float wall = striped && x % 16 < 8 ? 0.6f : 0.2f;
                return std::pair(near ? Rgb{0.9f, 0.1f, 0.1f} : Rgb{wall, wall, wall}, 1.0f);
            });
        };
        Layer soft = layer(finish::Soften{8});
        const auto all = finish::develop(picture(true), with({soft}));
        soft.mask.farFrom = 20;
        soft.mask.farTo = 60;
        const auto plain = finish::develop(picture(false), with({})), made = finish::develop(picture(false), with({soft}));
        for (int x = 0; x < 120; ++x)
            QVERIFY2(length(at(made, x, 10) - at(plain, x, 10)) < (x < 40 ? 1e-7f : 2.0f / 255), qPrintable(QString::number(x)));
        const auto stripes = finish::develop(picture(true), with({soft}));
        QVERIFY(length(at(stripes, 90, 10) - at(all, 90, 10)) < 2.0f / 255);
        // Half as far, half as wide: more is left of the stripes.
        soft.mask.farTo = 180;
        const auto less = finish::develop(picture(true), with({soft}));
        const auto spread = [&](const picture::Raster<float>& of) {
            float low = 1, high = 0;
            for (int x = 72; x < 88; ++x) {
                low = std::min(low, at(of, x, 10).x);
                high = std::max(high, at(of, x, 10).x);
            }
            return high - low;
        };
        QVERIFY2(spread(less) > 2 * spread(stripes), qPrintable(QString("%1 %2").arg(double(spread(less))).arg(double(spread(stripes)))));
    }

    // A fill on the letters alone: they are it, the wall is untouched, and what is half letter is half of both.
    void fillOnLetters()
    {
        const film::LightShares shares = letterOnWall();
        Layer fill = layer(finish::Fill{finish::FillForm::Even, {0, 0, 1}});
        fill.mask.acts = Acts::Lettering;
        const auto plain = finish::develop(shares, with({})), filled = finish::develop(shares, with({fill}));
        QVERIFY(length(at(filled, 10, 3) - Rgb{0, 0, 1}) < 1e-4f);
        QVERIFY(length(at(filled, 30, 3) - at(plain, 30, 3)) < 1e-6f && length(at(filled, 10, 28) - at(plain, 10, 28)) < 1e-6f);
        QVERIFY(length(at(filled, 20, 3) - (Rgb{0, 0, 1} + at(plain, 20, 3)) * 0.5f) < 1e-4f);
        fill.mask.inverted = true;
        const auto others = finish::develop(shares, with({fill}));
        QVERIFY(length(at(others, 10, 3) - at(plain, 10, 3)) < 1e-6f && length(at(others, 30, 3) - Rgb{0, 0, 1}) < 1e-4f);
        QVERIFY(length(at(others, 20, 3) - (Rgb{0, 0, 1} + at(plain, 20, 3)) * 0.5f) < 1e-4f);
    }

    // Transparent: a fill covers what was not there; tone leaves coverage as it is; a flat shadow brings its own, behind the letters.
    void transparentOnes()
    {
        const film::LightShares shares = letterOnWall();
        DevelopSettings settings = with({layer(finish::Tone{0.5})});
        settings.transparent = true;
        QCOMPARE(finish::develop(shares, settings).at(10, 28)[3], 0.0f);
        settings.layers = {layer(finish::Fill{}, 0.4)};
        QVERIFY(std::abs(finish::develop(shares, settings).at(10, 28)[3] - 0.4f) < 1e-6f);
        settings.layers = {layer(finish::FlatShadow{0, 3}, 0.25)};
        const auto shadowed = finish::develop(shares, settings);
        QVERIFY(std::abs(shadowed.at(10, 26)[3] - 0.25f) < 1e-5f);  // below the letter, as far as it was moved
        QCOMPARE(shadowed.at(10, 28)[3], 0.0f);
        QCOMPARE(shadowed.at(10, 10)[3], 1.0f);
    }

    // Light round what is bright, before the view transform: as much as was there, times its brightness; none from what is dark.
    void haloGivesItsLight()
    {
        const auto shares = pictureOf(81, 81, [](int x, int y, film::RankedIds&) {
            return std::pair(x == 40 && y == 40 ? Rgb{1.8f, 1.8f, 1.8f} : Rgb{0.1f, 0.1f, 0.1f}, 1.0f);
        });
        finish::Halo halo{10, 0.8};
        halo.stops = -2;
        const auto plain = finish::develop(shares, with({}, 81)), lit = finish::develop(shares, with({layer(halo)}, 81));
        double more = 0;
        for (int y = 0; y < 81; ++y)
            for (int x = 0; x < 81; ++x)
                if (x != 40 || y != 40)
                    more += double(picture::decodeSrgb(at(lit, x, y).y) - picture::decodeSrgb(at(plain, x, y).y));
        QVERIFY2(std::abs(more / 0.25 - 1) < 0.03, qPrintable(QString::number(more)));
    }

    // A long shadow covers all of the way, one that is not long its end alone.
    void longShadow()
    {
        const auto shares = pictureOf(60, 60, [](int x, int y, film::RankedIds& ids) {
            const bool letter = x >= 10 && x < 16 && y >= 10 && y < 16;
            ids.ids[0] = letter ? kLetter : kWall;
            ids.shares[0] = 1;
            return std::pair(Rgb{0.7f, 0.7f, 0.7f}, 1.0f);
        });
        const auto dark = [&](bool isLong, int x, int y) {
            const auto seen = finish::develop(shares, with({layer(finish::FlatShadow{30, 30, 0, isLong}, 1)}, 60));
            return seen.at(x, y)[0] < 0.01f;
        };
        QVERIFY(dark(true, 25, 25) && dark(true, 42, 42) && !dark(true, 50, 50) && !dark(true, 30, 14));
        QVERIFY(!dark(false, 25, 25) && dark(false, 42, 42) && !dark(false, 12, 12));
    }

    // Dots cover as much as the grey is dark, whatever it is.
    void rasterKeepsGreys()
    {
        for (const float luma : {0.1f, 0.3f, 0.5f, 0.77f, 0.95f}) {
            const float linear = picture::decodeSrgb(luma);
            const auto shares = pictureOf(120, 120, [&](int, int, film::RankedIds&) {
                return std::pair(Rgb{linear, linear, linear}, 1.0f);
            });
            const auto dots = finish::develop(shares, with({layer(finish::PrintRaster{12, 27})}, 120));
            double sum = 0;
            for (std::size_t i = 0; i < dots.values.size(); i += 3)
                sum += double(dots.values[i]);
            QVERIFY2(std::abs(sum / (120 * 120) - double(luma)) < 0.02, qPrintable(QString("%1: %2").arg(luma).arg(sum / 14400)));
        }
    }

    // Grain is grey on the mean with the spread that was asked for, at any size, and the same for the same number.
    void grainByItsNumbers()
    {
        const auto shares = pictureOf(200, 200, [](int, int, film::RankedIds&) { return std::pair(Rgb{0.5f, 0.5f, 0.5f}, 1.0f); });
        const auto statistics = [&](finish::Grain grain) {
            const auto seen = finish::develop(shares, with({layer(grain)}, 200));
            double sum = 0, squares = 0;
            for (std::size_t i = 0; i < seen.values.size(); i += 3) {
                sum += double(seen.values[i]);
                squares += double(seen.values[i]) * double(seen.values[i]);
            }
            const double count = 200 * 200, mean = sum / count;
            return std::pair(mean, std::sqrt(squares / count - mean * mean));
        };
        for (const double size : {0.5, 1.5, 4.0}) {
            const auto [mean, spread] = statistics({size, 0.3, 0, 1});
            QVERIFY2(std::abs(mean - 0.5) < 0.01 && std::abs(spread / 0.15 - 1) < 0.12, qPrintable(QString("%1 %2").arg(mean).arg(spread)));
        }
        const auto one = finish::develop(shares, with({layer(finish::Grain{})})),
                   again = finish::develop(shares, with({layer(finish::Grain{})}));
        finish::Grain other;
        other.seed = 1;
        QVERIFY(one.values == again.values && one.values != finish::develop(shares, with({layer(other)})).values);
    }

    // A picture lies where it was put, as wide as it is told, turned, once or over and over; what lets through in it does here.
    void pictures()
    {
        const auto shares = pictureOf(80, 60, [](int, int, film::RankedIds&) { return std::pair(Rgb{0, 1, 0}, 1.0f); });
        finish::Picture picture{{}, cutOut(), 10, 5, 40};
        auto seen = finish::develop(shares, with({layer(picture)}, 80));  // 1 px is 1 pt; its middle lies at 50, 25
        const auto is = [&](int x, int y, Rgb colour) { return length(at(seen, x, y) - picture::encodeSrgb(colour)) < 0.02f; };
        QVERIFY(is(35, 10, {1, 0, 0}) && is(65, 10, {0, 0, 1}) && is(35, 40, {0, 1, 0}) && is(5, 10, {0, 1, 0}) && is(75, 10, {0, 1, 0}));
        QVERIFY(is(35, 3, {0, 1, 0}));
        // Cropped: a quarter off its top, and off its left as much as ends in the middle of a pixel (20 px of red, from 30 to 50).
        finish::Picture cropped = picture;
        cropped.cropTop = 0.25;
        cropped.cropLeft = 10.5 / 40;
        seen = finish::develop(shares, with({layer(cropped)}, 80));
        QVERIFY(is(35, 20, {0, 1, 0}) && is(45, 20, {1, 0, 0}) && is(45, 12, {0, 1, 0}) && is(65, 20, {0, 0, 1}));
        const Rgb red = picture::encodeSrgb({1, 0, 0}), green = picture::encodeSrgb({0, 1, 0});
        QVERIFY(length(at(seen, 40, 20) - (red + green) * 0.5f) < 0.03f);
        picture.turn = 90;  // its left is below now
        seen = finish::develop(shares, with({layer(picture)}, 80));
        QVERIFY(is(35, 40, {1, 0, 0}) && is(35, 10, {0, 0, 1}) && is(65, 10, {0, 1, 0}));
        picture.turn = 0;
        picture.edges = surface::PictureEdges::Repeat;
        seen = finish::develop(shares, with({layer(picture)}, 80));
        QVERIFY(is(75, 10, {1, 0, 0}) && is(5, 10, {1, 0, 0}) && is(25, 10, {0, 0, 1}) && is(75, 50, {1, 0, 0}));
        picture.texture = nullptr;
        seen = finish::develop(shares, with({layer(picture)}, 80));
        QVERIFY(is(35, 10, {0, 1, 0}));
    }

    // Lines lie where a pixel's share says the border is, as wide as they are told; parts and letters only when they are asked for.
    void linesFollowBorders()
    {
        for (const double border : {20.0, 20.3, 20.5, 20.9}) {
            const auto shares = pictureOf(40, 20, [&](int x, int, film::RankedIds& ids) {
                const float letter = float(std::clamp(border - x, 0.0, 1.0));
                ids.ids[0] = letter >= 0.5f ? (x < 8 ? kOtherLetter : kLetter) : kWall;
                ids.shares[0] = letter >= 0.5f ? letter : 1 - letter;
                ids.ids[1] = letter >= 0.5f ? kWall : kLetter;
                ids.shares[1] = 1 - ids.shares[0];
                return std::pair(Rgb{}, 1.0f);
            });
            const auto measured = [&](finish::Lines lines, int from) {
                const auto seen = finish::develop(shares, with({layer(lines)}));
                double sum = 0, place = 0;
                for (int x = from; x < 40; ++x) {
                    sum += double(seen.at(x, 10)[0]);
                    place += double(seen.at(x, 10)[0]) * (x + 0.5);
                }
                return std::pair(sum, place / std::max(sum, 1e-9));
            };
            const auto [width, place] = measured({3, {1, 1, 1}, {}, false, false}, 0);
            QVERIFY2(std::abs(width - 3) < 0.15 && std::abs(place - border) < 0.1,
                     qPrintable(QString("%1: %2 wide at %3").arg(border).arg(width).arg(place)));
            QVERIFY(std::abs(measured({3, {1, 1, 1}, {}, true, true}, 0).first - 6) < 0.3);
            QVERIFY(std::abs(measured({0.4, {1, 1, 1}, {}, false, false}, 0).first - 0.4) < 0.1);  // thinner than a pixel: fainter
        }
    }

    // What is behind the pieces has no lines in it.
    void noLinesOnTheGround()
    {
        const auto shares = pictureOf(20, 20, [](int, int y, film::RankedIds& ids) {
            ids.ids[0] = y < 7 ? kNothing : y < 14 ? kWall : PixelId{0, 0, 255};
            ids.shares[0] = 1;
            return std::pair(Rgb{}, 1.0f);
        });
        for (const float v : finish::develop(shares, with({layer(finish::Lines{3})})).values)
            QCOMPARE(v, 0.0f);
    }

    // At half as many pixels the picture is the final one made smaller, within 2/255 (but for grain and raster): lengths are pt.
    void sameAtAnySize()
    {
        const auto rendered = [](int width) {
            return pictureOf(width, width * 3 / 4, [=](int x, int y, film::RankedIds& ids) {
                const double u = (x + 0.5) / width, v = (y + 0.5) / width;
                const bool letter = u > 0.25 && u < 0.75 && v > 0.25 && v < 0.5;
                ids.ids[0] = letter ? kLetter : kWall;
                ids.shares[0] = 1;
                const float g = float(0.4 + 0.3 * std::sin(7 * u) * std::cos(5 * v));
                return std::pair(letter ? Rgb{1.2f, 0.9f, 0.4f} : Rgb{g, g, g * 0.8f}, 1.0f);
            });
        };
        for (const Layer& l : oneOfEach()) {
            for (const float v : finish::develop(busy(60, 45), with({l}, 60)).values)
                QVERIFY2(v >= 0 && v <= 1, qPrintable(QString("layer %1: %2").arg(l.what.index()).arg(v)));
            // What is as fine as a pixel differs by what a pixel is.
            const auto* stuff = std::get_if<finish::Stuff>(&l.what);
            if (std::holds_alternative<finish::Grain>(l.what) || std::holds_alternative<finish::PrintRaster>(l.what) ||
                std::holds_alternative<finish::Sharpen>(l.what) || (stuff && stuff->form != finish::StuffForm::Paper))
                continue;
            const auto small = finish::develop(rendered(160), with({l}, 100)), large = finish::develop(rendered(320), with({l}, 100));
            int off = 0;
            double sum = 0;
            for (int y = 0; y < 120; ++y)
                for (int x = 0; x < 160; ++x) {
                    Rgb mean;
                    for (int i = 0; i < 4; ++i)
                        mean += at(large, 2 * x + i % 2, 2 * y + i / 2) * 0.25f;
                    sum += double(length(mean - at(small, x, y)));
                    off += length(mean - at(small, x, y)) > 2.0f / 255 * 1.7f;
                }
            QVERIFY2(sum / (160 * 120) < 1.0 / 255, qPrintable(QString("layer %1: %2").arg(l.what.index()).arg(sum / 192 * 2.55)));
            // The edges of a long shadow, of lines, of thin sparks and of the test's picture are a pixel wide at any size.
            const auto* shadow = std::get_if<finish::FlatShadow>(&l.what);
            QVERIFY2((shadow && shadow->isLong) || std::holds_alternative<finish::Lines>(l.what) ||
                         std::holds_alternative<finish::Picture>(l.what) || std::holds_alternative<finish::Particles>(l.what) ||
                         off < 160 * 120 / 100,
                     qPrintable(QString("layer %1: %2 pixels").arg(l.what.index()).arg(off)));
        }
    }
};

OPEN_GLOW_TEST(TestLayers)
#include "test_layers.moc"
