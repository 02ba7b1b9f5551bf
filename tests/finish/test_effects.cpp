// Layers that draw out, strew, print and cover, on small pictures whose answers are known; masks by light, brightness and place.
#include <QtTest>

#include "finish/flat_shape.h"
#include "finish/placed.h"
#include "finish/small_pictures.h"
#include "support/registered.h"

using base::Rgb;
using finish::DevelopSettings;
using finish::FlatShape;
using finish::Layer;
using namespace small;

namespace {

film::LightShares even(int width, int height, Rgb colour)
{
    return pictureOf(width, height, [=](int, int, film::RankedIds& ids) {
        ids.ids[0] = kWall;
        ids.shares[0] = 1;
        return std::pair(colour, 1.0f);
    });
}

// A bright spot of 2 x 2 px in the dark.
film::LightShares spot(int size)
{
    return pictureOf(size, size, [=](int x, int y, film::RankedIds& ids) {
        const bool lit = x / 2 == size / 4 && y / 2 == size / 4;
        ids.ids[0] = lit ? kLetter : kWall;
        ids.shares[0] = 1;
        return std::pair(lit ? Rgb{9, 9, 9} : Rgb{}, 1.0f);
    });
}

double areaOf(const FlatShape& shape)
{
    double twice = 0;
    for (const auto& line : shape)
        for (std::size_t i = 0; i < line.size(); ++i) {
            const base::Vec2 &a = line[i], &b = line[(i + 1) % line.size()];
            twice += a.x * b.y - a.y * b.x;
        }
    return twice / 2;
}

double sumOf(const finish::Image& image)
{
    double sum = 0;
    for (const float v : image.pixels.values)
        sum += double(v);
    return sum;
}

}  // namespace

class TestEffects : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Coverage of a shape sums to its area (shoelace formula) within the grid of 1/4096 px, holes taken out, wherever it lies; a square
    // off the pixels covers them by their overlap; parts of a picture equal the whole, also cut off on the left.
    void coverageIsArea()
    {
        const FlatShape ring{{{-14.3, -11.7}, {15.1, -9.2}, {12.4, 13.8}, {-8.8, 16.1}}, {{-4, -3.5}, {-3.2, 5.1}, {6.3, 4.4}}};
        for (const double off : {0.0, 0.37, 0.5, 0.993}) {
            const finish::Image whole = finish::coverageOf(ring, {0, 0, 60, 50}, 30 + off, 25 - off, 1.3);
            QVERIFY2(std::abs(sumOf(whole) - areaOf(ring) * 1.69) < 0.02, qPrintable(QString::number(sumOf(whole) - areaOf(ring) * 1.69)));
            for (const finish::Area part : {finish::Area{0, 17, 60, 18}, {23, 9, 41, 33}, {31, 0, 60, 50}}) {
                const finish::Image cut = finish::coverageOf(ring, part, 30 + off, 25 - off, 1.3);
                for (int y = part.y0; y < part.y1; ++y)
                    for (int x = part.x0; x < part.x1; ++x)
                        QCOMPARE(*cut.at(x, y), *whole.at(x, y));
            }
        }
        const finish::Image square = finish::coverageOf({{{0, 0}, {2, 0}, {2, 2}, {0, 2}}}, {0, 0, 4, 4}, 0.25, 3.5, 1);
        const float expected[4][4] = {{0, 0, 0, 0}, {0.375f, 0.5f, 0.125f, 0}, {0.75f, 1, 0.25f, 0}, {0.375f, 0.5f, 0.125f, 0}};
        for (int y = 0; y < 4; ++y)
            for (int x = 0; x < 4; ++x)
                QVERIFY2(std::abs(*square.at(x, y) - expected[y][x]) < 1e-3f, qPrintable(QString("%1 %2").arg(x).arg(y)));
    }

    // Print in its colour, exactly as far as it covers, at twice the pixels in the same place.
    void printedFlat()
    {
        const auto shape = std::make_shared<const FlatShape>(FlatShape{{{-5, -2}, {5, -2}, {5, 2}, {-5, 2}}});
        for (const int px : {1, 2, 4}) {
            const auto seen = finish::develop(even(40 * px, 30 * px, {1, 1, 1}), with({layer(finish::Print{{}, shape, {0, 0, 0}})}, 40));
            double sum = 0;
            for (std::size_t i = 0; i < seen.values.size(); i += 3)
                sum += 1 - double(seen.values[i] / seen.values[0]);
            QVERIFY2(std::abs(sum / (px * px) - 40) < 1e-3, qPrintable(QString::number(sum / (px * px))));
            QVERIFY(length(at(seen, 20 * px, 15 * px)) < 1e-6f && at(seen, 20 * px, 12 * px) == at(seen, 0, 0));
        }
    }

    // A curve goes through its values, keeps a straight line straight (closed form), and never turns a rise round: Fritsch and Carlson.
    void curveThroughItsValues()
    {
        for (int i = 0; i <= 100; ++i)
            QVERIFY(std::abs(finish::curveAt({}, float(i) / 100) - float(i) / 100) < 1e-6f);
        std::mt19937 random(3);
        std::uniform_real_distribution<double> uniform;
        for (int n = 0; n < 200; ++n) {
            std::array<double, 5> y;
            for (double& v : y)
                v = uniform(random);
            std::sort(y.begin(), y.end());
            if (n % 3 == 0)
                y[2] = y[1];  // level there
            const finish::Curves curve{finish::CurveOf::All, y[0], y[1], y[2], y[3], y[4]};
            float last = -1;
            for (int i = 0; i <= 200; ++i) {
                const float v = finish::curveAt(curve, float(i) / 200);
                QVERIFY(v >= last - 1e-6f);
                last = v;
                if (i % 50 == 0)
                    QVERIFY(std::abs(double(v) - y[std::size_t(i / 50)]) < 1e-6);
            }
        }
        const finish::Curves green{finish::CurveOf::Green, 0, 0.1, 0.2, 0.6, 1};
        const Rgb typed = picture::decodeSrgb(Rgb{0.5f, 0.5f, 0.5f});
        const auto seen = finish::develop(even(4, 4, typed), with({layer(green)}));
        QVERIFY(length(at(seen, 1, 1) - Rgb{0.5f, 0.2f, 0.5f}) < 2e-3f);
    }

    // A colour table that changes nothing changes nothing, in one and three dimensions and another domain; a table of a linear rule gives
    // that rule between its points as well (tetrahedra keep what is linear); curves of a 1D table are read between their points.
    void colourTables()
    {
        const auto table = [](int size, double low, double high, auto rule) {
            std::string text = QString("# made up\nTITLE \"dunes\"\nLUT_3D_SIZE %1\nDOMAIN_MIN %2 %2 %2\nDOMAIN_MAX %3 %3 %3\n")
                                   .arg(size)
                                   .arg(low)
                                   .arg(high)
                                   .toStdString();
            for (int b = 0; b < size; ++b)
                for (int g = 0; g < size; ++g)
                    for (int r = 0; r < size; ++r) {
                        const auto v = [&](int i) { return float(low + (high - low) * i / (size - 1)); };
                        const Rgb out = rule(Rgb{v(r), v(g), v(b)});
                        text += QString("%1 %2 %3\r\n")
                                    .arg(double(out.x), 0, 'g', 9)
                                    .arg(double(out.y), 0, 'g', 9)
                                    .arg(double(out.z), 0, 'g', 9)
                                    .toStdString();
                    }
            return text;
        };
        const auto same = [](Rgb c) { return c; };
        const auto linear = [](Rgb c) { return Rgb{0.7f * c.x + 0.1f * c.y, 0.2f + 0.5f * c.z, 0.9f * c.y}; };
        std::mt19937 random(4);
        std::uniform_real_distribution<float> uniform;
        for (const int size : {2, 5, 17}) {
            const auto identity = finish::Cube::read(table(size, -0.5, 1.5, same)), ruled = finish::Cube::read(table(size, 0, 1, linear));
            QVERIFY(identity && ruled && identity->size() == size && identity->is3d());
            for (int i = 0; i < 200; ++i) {
                const Rgb c{uniform(random), uniform(random), uniform(random)};
                QVERIFY(length(identity->at(c) - c) < 1e-5f && length(ruled->at(c) - linear(c)) < 1e-5f);
            }
            QVERIFY(length(ruled->at({2, -1, 0.5f}) - linear({1, 0, 0.5f})) < 1e-5f);  // beyond its ends it is as there
        }
        const auto curves = finish::Cube::read("LUT_1D_SIZE 3\n0 0 1\n0.2 0.5 0.5\n1 1 0\n");
        QVERIFY(curves && !curves->is3d() && length(curves->at({0.25f, 0.5f, 0.75f}) - Rgb{0.1f, 0.5f, 0.25f}) < 1e-6f);
        // And in the picture.
        finish::Lookup lookup{"t", std::make_shared<const finish::Cube>(*curves)};
        const auto seen = finish::develop(even(4, 4, picture::decodeSrgb(Rgb{0.25f, 0.5f, 0.75f})), with({layer(lookup)}));
        QVERIFY(length(at(seen, 1, 1) - Rgb{0.1f, 0.5f, 0.25f}) < 2e-3f);
    }

    // Broken ones are refused with their line; nothing hostile takes memory or time.
    void brokenColourTables()
    {
        for (const char* text :
             {"", "LUT_3D_SIZE 2\n", "0 0 0\n", "LUT_3D_SIZE 2\n0 0\n", "LUT_3D_SIZE 1000\n", "LUT_3D_SIZE 2.5\n",
              "LUT_1D_SIZE 2\n0 0 0\n1 1 1\n1 1 1\n", "LUT_1D_SIZE 2\nLUT_3D_SIZE 2\n", "LUT_1D_SIZE 2\nnan 0 0\n1 1 1\n",
              "LUT_1D_SIZE 2\n0 0 0\n1 1 1e999\n", "LUT_1D_SIZE 2\nDOMAIN_MAX 0 0 0\n0 0 0\n1 1 1\n", "LUT_1D_SIZE 2\n0 0 0x\n1 1 1\n"}) {
            const auto read = finish::Cube::read(text);
            QVERIFY2(!read && read.error().place.starts_with("line ") && read.error().message.size() > 30, text);
        }
        std::mt19937 random(9);
        const std::string good = "LUT_3D_SIZE 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n";
        QVERIFY(finish::Cube::read(good).has_value());
        for (int i = 0; i < 2000; ++i) {
            std::string text = good;
            for (int k = 0; k < 3; ++k)
                text[random() % text.size()] = char(random());
            (void)finish::Cube::read(text);
        }
    }

    // Channels by their sums; the usual ones change nothing; luminance's weights make it grey.
    void channelsMixed()
    {
        const Rgb is{0.2f, 0.5f, 0.8f};
        const auto seen = [&](finish::Mixer m) { return at(finish::develop(even(4, 4, picture::decodeSrgb(is)), with({layer(m)})), 1, 1); };
        QVERIFY(length(seen({}) - is) < 2e-3f);
        QVERIFY(length(seen({0.5, 0.5, 0, 0, 0, 1, 2, -0.5, 0}) - Rgb{0.35f, 0.8f, 0.15f}) < 2e-3f);
        const Rgb grey = seen({0.2126, 0.7152, 0.0722, 0.2126, 0.7152, 0.0722, 0.2126, 0.7152, 0.0722});
        QVERIFY(std::abs(grey.x - 0.4578f) < 3e-3f && grey.x == grey.y && grey.y == grey.z);
    }

    // A flare's glow: (1 + (r / c)^2)^(-3/2), half of what it is in its middle an eighth of its size away; each stop doubles it. Its ring
    // has its size, red outside and blue inside; ghosts lie on the line through the frame's middle. Behind the viewer there is nothing.
    void flareOfALamp()
    {
        const int size = 200;
        const auto lightOf = [&](const finish::Flare& flare) {
            finish::Graph graph;
            finish::addLight(graph, finish::Graph::kSource, {layer(flare)}, {size, size, 1});
            return graph.run(finish::Image({0, 0, size, size}, 4), {0, 0, size, size}, {0, 0, size, size});
        };
        finish::Flare flare{{}, -39.5, 20.5, false, 80, 0, 0};  // its middle is that of pixel (60, 79)
        const finish::Image glow = lightOf(flare);
        QVERIFY(std::abs(glow.at(60, 79)[0] - 1) < 1e-5f);
        for (const auto& [x, y] : {std::pair{70, 79}, {60, 89}, {54, 71}})
            QVERIFY(std::abs(glow.at(x, y)[1] - 0.5f) < 1e-3f);
        QVERIFY(std::abs(glow.at(140, 79)[2] - float(std::pow(1 + std::pow(80 / (10 / 0.7664), 2), -1.5))) < 1e-5f);
        flare.stops = 2;
        QVERIFY(std::abs(lightOf(flare).at(70, 79)[0] - 2) < 4e-3f);
        flare.stops = 0;
        flare.ring = 1;
        const finish::Image ring = lightOf(flare);
        const auto most = [&](int c) {  // how far from the lamp the ring is brightest
            const auto more = [&](int x) { return ring.at(x, 79)[c] - glow.at(x, 79)[c]; };
            int at = 120;
            for (int x = 120; x < 160; ++x)
                at = more(x) > more(at) ? x : at;
            return at - 60;
        };
        QVERIFY2(std::abs(most(1) - 80) <= 1 && most(0) > most(1) && most(2) < most(1),
                 qPrintable(QString("%1 %2 %3").arg(most(0)).arg(most(1)).arg(most(2))));
        flare.ring = 0;
        flare.ghosts = 6;
        const finish::Image ghosts = lightOf(flare);
        double along = 0, across = 0;  // where their light lies, along the line and beside it
        for (int y = 0; y < size; ++y)
            for (int x = 0; x < size; ++x) {
                const double more = double(ghosts.at(x, y)[1] - glow.at(x, y)[1]), dx = x + 0.5 - 60.5, dy = y + 0.5 - 79.5;
                QVERIFY(more >= -1e-6);
                along += more * (dx * 39.5 + dy * 20.5) / std::hypot(39.5, 20.5);
                across += more * (dx * 20.5 - dy * 39.5) / std::hypot(39.5, 20.5);
            }
        QVERIFY2(along > 0 && std::abs(across) < 0.03 * along, qPrintable(QString("%1 %2").arg(along).arg(across)));
        flare.open = 0.25;
        QVERIFY(std::abs(lightOf(flare).at(60, 79)[0] - 0.25f) < 0.05f);
        flare.hidden = true;
        QCOMPARE(lightOf(flare).at(60, 79)[0], 0.0f);
    }

    // Rays have the light they are given, their number of arms, and a tenth of it left at their length; nothing where nothing is bright.
    void raysOfAStar()
    {
        const int size = 240;
        const finish::Rays star{3, 40, 90, 1, 0, {1, 1, 1}};
        finish::Graph graph;
        const Layer l = layer(star);
        finish::addLight(graph, finish::Graph::kSource, {l}, {size, size, 1});
        finish::Image source({0, 0, size, size}, 4);
        const film::LightShares shares = spot(size);
        for (int y = 0; y < size; ++y)
            for (int x = 0; x < size; ++x)
                for (int c = 0; c < 4; ++c)
                    source.at(x, y)[c] = c < 3 ? shares.at(x, y)[1 + c] : 1;
        const finish::Image made = graph.run(source, {0, 0, size, size}, {0, 0, size, size});
        double light = 0, was = 0;
        for (int y = 0; y < size; ++y)
            for (int x = 0; x < size; ++x) {
                light += double(made.at(x, y)[0]);
                was += double(source.at(x, y)[0]);
            }
        // Of a spot of 9 only what is above 1 gives some off: 8, once for each of three rays.
        QVERIFY2(std::abs(light / was - (1 + 3 * 8.0 / 9)) < 0.02, qPrintable(QString::number(light / was)));
        const auto across = [&](int up) {  // of the ray that goes up
            double sum = 0;
            for (int x = size / 2 - 12; x < size / 2 + 14; ++x)
                sum += double(made.at(x, size / 2 - up)[0]);
            return sum;
        };
        QVERIFY2(std::abs(across(50) / across(10) - 0.1) < 0.015, qPrintable(QString::number(across(50) / across(10))));
        QVERIFY(made.at(size / 2, size / 2 + 40)[0] < 1e-3f);  // three arms: none goes down
        const auto dark = finish::develop(even(20, 20, {0.5f, 0.5f, 0.5f}), with({l}));
        QVERIFY(dark.values == finish::develop(even(20, 20, {0.5f, 0.5f, 0.5f}), with({})).values);
    }

    // Motion keeps light and its middle: along a line, round a point and towards one; an even picture stays as it is.
    void motionKeepsLight()
    {
        const auto light = [](const picture::Raster<float>& seen, double& x, double& y) {
            double sum = 0;
            x = y = 0;
            for (int row = 0; row < seen.height; ++row)
                for (int column = 0; column < seen.width; ++column) {
                    const double v = double(picture::decodeSrgb(seen.at(column, row)[0]));
                    sum += v;
                    x += v * (column + 0.5);
                    y += v * (row + 0.5);
                }
            x /= sum;
            y /= sum;
            return sum;
        };
        const film::LightShares dot = pictureOf(80, 80, [](int x, int y, film::RankedIds&) {
            const bool lit = std::abs(x - 39.5) < 2 && std::abs(y - 24.5) < 2;
            return std::pair(lit ? Rgb{1, 1, 1} : Rgb{}, 1.0f);
        });
        for (const finish::Trail& trail :
             {finish::Trail{finish::TrailForm::Along, 12, 30}, finish::Trail{finish::TrailForm::Round, 0, 0, 20}}) {
            double x0, y0, x1, y1;
            const double was = light(finish::develop(dot, with({}, 80)), x0, y0),
                         is = light(finish::develop(dot, with({layer(trail)}, 80)), x1, y1);
            QVERIFY2(std::abs(is / was - 1) < 0.03, qPrintable(QString::number(is / was)));
            QVERIFY2(std::hypot(x1 - x0, y1 - y0) < 0.4, qPrintable(QString("%1 %2").arg(x1 - x0).arg(y1 - y0)));
        }
        // Only behind: drawn out towards where it came from, and what moved stands before it as it was.
        double x0, y0, x1, y1;
        light(finish::develop(dot, with({}, 80)), x0, y0);
        const auto trailed = finish::develop(dot, with({layer(finish::Trail{finish::TrailForm::Along, 20, 0, 0, 0, 0, 0, true})}, 80));
        light(trailed, x1, y1);
        QVERIFY2(x1 < x0 - 1.5 && std::abs(y1 - y0) < 0.1, qPrintable(QString::number(x1 - x0)));
        for (const finish::Trail& trail :
             {finish::Trail{finish::TrailForm::Zoom, 0, 0, 0, 0.2}, finish::Trail{finish::TrailForm::Along, 15, 40}}) {
            DevelopSettings settings = with({layer(trail)});
            settings.transparent = true;  // an even picture is as opaque as it was, to its edges
            const auto grey = finish::develop(even(40, 40, {0.3f, 0.3f, 0.3f}), settings);
            for (std::size_t i = 0; i < grey.values.size(); ++i)
                QVERIFY2(std::abs(grey.values[i] - (i % 4 == 3 ? 1 : picture::encodeSrgb(0.3f))) < 0.03f,
                         qPrintable(QString::number(grey.values[i])));
        }
    }

    // Cyan (what takes red away) is moved one way, yellow the other, magenta stays.
    void inksApart()
    {
        const film::LightShares edge = pictureOf(40, 10, [](int x, int, film::RankedIds&) {
            return std::pair(x < 20 ? Rgb{} : Rgb{1, 1, 1}, 1.0f);
        });
        const auto seen = finish::develop(edge, with({layer(finish::Misprint{3, 0})}));
        const float white = at(seen, 30, 5).x;
        const auto is = [&](int x, Rgb colour) { return length(at(seen, x, 5) - colour * white) < 1e-3f; };
        QVERIFY(is(21, {0, 1, 1}) && is(18, {0, 0, 1}) && is(10, {0, 0, 0}) && is(30, {1, 1, 1}));  // cyan lies 3 px further right
    }

    // Strewn the same for one number, differently for another, in the colours that were asked for, nearer the middle when they gather.
    void particlesAreStrewn()
    {
        const auto drawn = [](finish::Particles p) { return finish::develop(even(120, 120, {}), with({layer(p, 1)}, 120)); };
        finish::Particles dots{finish::ParticleForm::Dots, 200, 3, 0.5, 0, 0, 0, {1, 0, 0}, {1, 0, 0}};
        const auto one = drawn(dots);
        QVERIFY(one.values == drawn(dots).values);
        const auto farness = [](const picture::Raster<float>& r) {
            double sum = 0, far = 0;
            for (int y = 0; y < r.height; ++y)
                for (int x = 0; x < r.width; ++x) {
                    sum += double(r.at(x, y)[0]);
                    far += double(r.at(x, y)[0]) * std::hypot(x - 59.5, y - 59.5);
                    if (r.at(x, y)[1] > 1e-4f)
                        return -1.0;  // none is anything but red
                }
            return sum > 0 ? far / sum : -2;
        };
        const double spread = farness(one);
        QVERIFY2(std::abs(spread - 120 * 0.3826) < 4, qPrintable(QString::number(spread)));  // mean distance from a square's middle
        dots.gathers = 0.8;
        QVERIFY(farness(drawn(dots)) < spread * 0.7);
        dots.seed = 1;
        QVERIFY(one.values != drawn(dots).values);
        dots.count = 0;
        QVERIFY(drawn(dots).values == finish::develop(even(120, 120, {}), with({})).values);
    }

    // Smoke is thickest where it comes from and gone beyond its reach; bands alternate at the way they were given.
    void smokeAndBands()
    {
        finish::Smoke smoke{20, 1, -90, 0.5, {1, 1, 1}};
        const auto seen = finish::develop(even(100, 100, {}), with({layer(smoke)}, 100));
        const auto meanOfRows = [&](const picture::Raster<float>& r, int from, int to) {
            double sum = 0;
            for (int y = from; y < to; ++y)
                for (int x = 0; x < 100; ++x)
                    sum += double(r.at(x, y)[0]);
            return sum / (100 * (to - from));
        };
        QVERIFY2(meanOfRows(seen, 85, 100) > 0.5, qPrintable(QString::number(meanOfRows(seen, 85, 100))));
        QVERIFY(meanOfRows(seen, 0, 49) == 0);
        finish::Bands bands{10, 0, 0, 0, {1, 1, 1}, {0, 0, 0}, 1};
        const auto striped = finish::develop(even(100, 4, {0.5f, 0.5f, 0.5f}), with({layer(bands)}, 100));
        for (int x = 0; x < 100; ++x)
            if (const int inside = (x + 100 - 50) % 10; inside > 0 && inside < 9)
                QVERIFY2(std::abs(striped.at(x, 2)[0] - float((x / 10) % 2 == 1)) < 1e-3f, qPrintable(QString::number(x)));
    }

    // Paper and canvas are grey on the mean; dust and scratches cover more the more there is of them.
    void stuffIsEven()
    {
        const auto mean = [](finish::Stuff stuff) {
            const auto seen = finish::develop(even(200, 200, {}), with({layer(stuff)}, 200));
            double sum = 0;
            for (std::size_t i = 0; i < seen.values.size(); i += 3)
                sum += double(seen.values[i]);
            return sum / (200 * 200);
        };
        using finish::StuffForm;
        for (const StuffForm form : {StuffForm::Paper, StuffForm::Canvas})
            QVERIFY2(std::abs(mean({form, 3, 1}) - 0.5) < 0.02, qPrintable(QString::number(mean({form, 3, 1}))));
        for (const StuffForm form : {StuffForm::Dust, StuffForm::Scratches, StuffForm::Worn}) {
            const double little = mean({form, 3, 0.2}), much = mean({form, 3, 0.9});
            QVERIFY2(little > 0 && much > 2 * little && much < 0.9, qPrintable(QString("%1: %2 %3").arg(int(form)).arg(little).arg(much)));
        }
    }

    // Masks: only what is bright, fading across the frame, soft at the border, by the light of one lamp; turned round it is the rest.
    void masksCombined()
    {
        const film::LightShares steps = pictureOf(60, 20, [](int x, int, film::RankedIds& ids) {
            ids.ids[0] = x < 30 ? kLetter : kWall;
            ids.shares[0] = 1;
            const float v = picture::decodeSrgb(x < 20 ? 0.1f : x < 40 ? 0.5f : 0.9f);
            return std::pair(Rgb{v, v, v}, 1.0f);
        });
        const auto filled = [&](finish::Mask mask) {
            Layer l = layer(finish::Fill{finish::FillForm::Even, {1, 0, 0}});
            l.mask = std::move(mask);
            return finish::develop(steps, with({l}, 60));
        };
        finish::Mask mask;
        mask.darkest = 0.3;
        mask.brightest = 0.7;
        auto seen = filled(mask);
        QVERIFY(length(at(seen, 10, 9) - Rgb{0.1f, 0.1f, 0.1f}) < 2e-3f && length(at(seen, 30, 9) - Rgb{1, 0, 0}) < 2e-3f);
        QVERIFY(length(at(seen, 50, 9) - Rgb{0.9f, 0.9f, 0.9f}) < 2e-3f);
        mask.inverted = true;
        seen = filled(mask);
        QVERIFY(length(at(seen, 10, 9) - Rgb{1, 0, 0}) < 2e-3f && length(at(seen, 30, 9) - Rgb{0.5f, 0.5f, 0.5f}) < 2e-3f);
        mask = {};
        mask.fades = 1;
        mask.fadesTurn = 0;
        seen = filled(mask);
        for (const int x : {5, 30, 55}) {
            const float is = x < 20 ? 0.1f : x < 40 ? 0.5f : 0.9f, w = 1 - (float(x) + 0.5f) / 60;
            QVERIFY(std::abs(at(seen, x, 3).x - (is + (1 - is) * w)) < 3e-3f);
        }
        mask = {};
        mask.acts = finish::Acts::Lettering;
        mask.edge = 8;  // a standard deviation of 4
        seen = filled(mask);
        // A border made soft by a Gaussian is half at the border, and 0.8413 a standard deviation inside (normal distribution).
        const auto weight = [&](int x) {
            const float is = x < 20 ? 0.1f : 0.5f;
            return (at(seen, x, 9).x - is) / (1 - is);
        };
        QVERIFY2(std::abs(weight(29) + weight(30) - 1) < 0.01f, qPrintable(QString::number(weight(29) + weight(30))));
        QVERIFY2(std::abs((weight(25) + weight(26)) / 2 - 0.8413f) < 0.02f, qPrintable(QString::number(weight(25))));
    }

    // By a lamp's share of the light, as the desk has it; a lamp that is not there has none.
    void masksByLight()
    {
        film::LightShares shares({4, 1, 0, 0, 4, 1, {film::Entry{"l1"}, film::Entry{"l2"}}});
        for (int x = 0; x < 4; ++x) {
            const float one = float(x) / 3;
            const float values[] = {1, one, one, one, 1 - one, 1 - one, 1 - one};
            std::copy(std::begin(values), std::end(values), shares.at(x, 0));
        }
        Layer l = layer(finish::Fill{finish::FillForm::Even, {0, 0, 0}});
        const auto weights = [&](const char* light, Rgb second) {
            l.mask.light = light;
            DevelopSettings s = with({l});
            s.desk = {{1, 1, 1}, second};
            DevelopSettings plain = s;
            plain.layers.clear();
            const auto with = finish::develop(shares, s), without = finish::develop(shares, plain);
            std::vector<float> w;
            for (int x = 0; x < 4; ++x)
                w.push_back(1 - with.at(x, 0)[0] / without.at(x, 0)[0]);
            return w;
        };
        for (int x = 0; x < 4; ++x) {
            const float one = float(x) / 3;
            QVERIFY(std::abs(weights("l1", {1, 1, 1})[std::size_t(x)] - one) < 1e-3f);
            const float second = weights("l2", {0.5f, 0.5f, 0.5f})[std::size_t(x)], half = 0.5f * (1 - one);
            QVERIFY2(std::abs(second - half / (one + half)) < 1e-3f, qPrintable(QString("%1: %2").arg(x).arg(second)));
            QVERIFY(std::abs(weights("gone", {1, 1, 1})[std::size_t(x)]) < 1e-6f);
        }
    }

    // While layers are changed one after the other the picture is that of developing all of it, bit by bit.
    void keptBelow()
    {
        const film::LightShares shares = busy(60, 40);
        DevelopSettings s = with({layer(finish::Halo{3, 0.5}), layer(finish::Tone{0.2}), layer(finish::Soften{2}, 0.5),
                                  layer(finish::Fill{finish::FillForm::Even, {1, 0, 0}}, 0.3), layer(finish::Vignette{})},
                                 60);
        s.layers[3].mask.acts = finish::Acts::Lettering;
        finish::Redeveloper again;
        const auto same = [&] { return again.develop(shares, s)->values == finish::develop(shares, s).values; };
        QVERIFY(same());
        std::mt19937 random(1);
        for (int i = 0; i < 60; ++i) {
            const std::size_t which = random() % s.layers.size();
            if (i % 9 == 4)
                s.layers.push_back(layer(finish::Sharpen{2, 0.3}));
            else if (i % 9 == 8)
                s.layers.erase(s.layers.begin() + std::ptrdiff_t(which));
            else if (i % 13 == 5)
                s.exposureStops += 0.1;
            else if (i % 7 == 3)
                s.transparent = !s.transparent;
            else
                s.layers[which].strength = double(random() % 100) / 100;
            QVERIFY2(same(), qPrintable(QString("change %1 of layer %2").arg(i).arg(which)));
        }
    }
};

OPEN_GLOW_TEST(TestEffects)
#include "test_effects.moc"
