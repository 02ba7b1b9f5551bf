// Pictures traced to outlines, against areas that are known.
#include <QImage>
#include <QPainter>
#include <QPainterPath>

#include "outline/outline.h"
#include "outline/trace.h"
#include "support/support.h"

using outline::Greys;
using outline::TraceSettings;

namespace {

// How much of each pixel is within a disc, 8 x 8 samples.
Greys discs(int width, int height, const std::vector<std::array<double, 3>>& rounds)
{
    Greys greys{width, height, {}};
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            int inside = 0;
            for (int i = 0; i < 64; ++i) {
                const double px = x + (i % 8 + 0.5) / 8, py = y + (double(i / 8) + 0.5) / 8;
                inside += std::any_of(rounds.begin(), rounds.end(), [&](const auto& r) { return std::hypot(px - r[0], py - r[1]) < r[2]; });
            }
            greys.values.push_back(static_cast<std::uint8_t>(std::lround(255.0 * (64 - inside) / 64)));
        }
    return greys;
}

double areaOf(const outline::Drawing& drawing, std::size_t shape)
{
    outline::Drawing one = drawing;
    one.shapes = {drawing.shapes.at(shape)};
    double sum = 0;
    const auto outlined = outline::outlineDrawing(one, {one.heightPt, 0.001}, {});
    for (const auto& o : outlined->outlines)
        sum += outline::area(*o.outline);
    return sum;
}

}  // namespace

class TestTrace : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // pi r^2, and where they lie: y up.
    void discsKeepTheirAreaAndPlace()
    {
        const auto drawing = outline::traced(discs(300, 200, {{80, 60, 40}, {220, 150, 25}}), {});
        QCOMPARE(drawing.shapes.size(), std::size_t{2});
        QCOMPARE(drawing.widthPt, 300.0);
        QCOMPARE(drawing.heightPt, 200.0);
        std::vector<double> radii{40, 25};
        for (std::size_t i = 0; i < 2; ++i) {
            outline::Drawing one = drawing;
            one.shapes = {drawing.shapes[i]};
            base::Box2 box = outline::bounds(*outline::outlineDrawing(one, {200, 0.001}, {}));
            box.low = box.low + base::Vec2{150, 100};  // from the page's middle
            box.high = box.high + base::Vec2{150, 100};
            const bool first = (box.low.x + box.high.x) / 2 < 150;
            const double r = first ? 40 : 25;
            QVERIFY(std::abs(areaOf(drawing, i) / (std::numbers::pi * r * r) - 1) < 5e-3);
            QVERIFY(std::abs((box.low.x + box.high.x) / 2 - (first ? 80 : 220)) < 0.3);
            QVERIFY(std::abs((box.low.y + box.high.y) / 2 - (first ? 140 : 50)) < 0.3);
        }
        QVERIFY(drawing.shapes[0].id != drawing.shapes[1].id);
    }

    // A ring is one shape with its hole; an island in the hole is one of its own.
    void holesBelongToTheirShape()
    {
        Greys ring = discs(240, 240, {{120, 120, 100}});
        const Greys hole = discs(240, 240, {{120, 120, 70}}), island = discs(240, 240, {{120, 120, 30}});
        for (std::size_t i = 0; i < ring.values.size(); ++i)
            ring.values[i] = static_cast<std::uint8_t>(std::min(255, ring.values[i] + 255 - hole.values[i]) - (255 - island.values[i]));
        const auto drawing = outline::traced(ring, {});
        QCOMPARE(drawing.shapes.size(), std::size_t{2});
        std::vector<double> areas{areaOf(drawing, 0), areaOf(drawing, 1)};
        std::sort(areas.begin(), areas.end());
        QVERIFY(std::abs(areas[0] / (std::numbers::pi * 900) - 1) < 5e-3);
        QVERIFY(std::abs(areas[1] / (std::numbers::pi * 5100) - 1) < 5e-3);
    }

    // A ramp from black to white: the threshold is where the edge runs.
    void theThresholdMovesTheEdge()
    {
        Greys ramp{512, 64, {}};
        for (int i = 0; i < 512 * 64; ++i)
            ramp.values.push_back(static_cast<std::uint8_t>(i % 512 / 2));
        for (const double threshold : {0.25, 0.5, 0.75}) {
            TraceSettings settings;
            settings.threshold = threshold;
            const double dark = areaOf(outline::traced(ramp, settings), 0);
            QVERIFY(std::abs(dark / 64 - 510 * threshold) < 2.5);
            settings.inverse = true;
            QVERIFY(std::abs(dark + areaOf(outline::traced(ramp, settings), 0) - 512 * 64) < 3 * 64);
        }
    }

    // Otsu's threshold lies between two greys, in the middle where there is nothing else; for two normal heaps of the same size and width
    // between their means.
    void theUsualThresholdPartsTwoGreys()
    {
        Greys two{100, 10, std::vector<std::uint8_t>(1000, 200)};
        std::fill_n(two.values.begin(), 300, std::uint8_t{40});
        QVERIFY(std::abs(outline::usualThreshold(two) - 120.0 / 255) < 1.0 / 255);
        Greys heaps{1000, 20, {}};
        std::mt19937 random(4);
        std::normal_distribution<double> dark(70, 18), light(170, 18);
        for (int i = 0; i < 20000; ++i)
            heaps.values.push_back(static_cast<std::uint8_t>(std::clamp(i % 2 ? dark(random) : light(random), 0.0, 255.0)));
        QVERIFY(std::abs(outline::usualThreshold(heaps) - 120.0 / 255) < 4.0 / 255);
        const Greys plain{4, 4, std::vector<std::uint8_t>(16, 90)};
        QVERIFY(outline::traced(plain, {0.1, false, 0.75, 4}).shapes.empty());
    }

    // Smoothness 0 keeps straight edges alone, specks go by their size.
    void settingsAreTaken()
    {
        Greys picture = discs(200, 200, {{100, 100, 60}, {15, 15, 2.2}, {180, 20, 4.5}});
        TraceSettings settings;
        settings.specks = 0;
        QCOMPARE(outline::traced(picture, settings).shapes.size(), std::size_t{3});
        settings.specks = 30;
        QCOMPARE(outline::traced(picture, settings).shapes.size(), std::size_t{2});
        settings.specks = 100;
        const auto rounded = outline::traced(picture, settings);
        QCOMPARE(rounded.shapes.size(), std::size_t{1});
        const auto curves = [](const outline::Drawing& d) {
            std::size_t count = 0;
            for (const auto& contour : d.shapes[0].contours)
                for (const outline::Curve& c : contour)
                    count += c.degree == 3;
            return count;
        };
        QVERIFY(curves(rounded) > 3);
        settings.smoothness = 0;
        QCOMPARE(curves(outline::traced(picture, settings)), std::size_t{0});
    }

    // A letter drawn by Qt comes back as large as its outline, within 1 % of it.
    void lettersComeBack()
    {
        const auto font = support::font("Lato", "Black");
        QVERIFY(font);
        const auto outlined = support::outlines("R", *font, 0.02, 300);
        double expected = 0;
        QImage image(320, 320, QImage::Format_Grayscale8);
        image.fill(Qt::white);
        QPainter painter(&image);
        painter.setRenderHint(QPainter::Antialiasing);
        QPainterPath path;
        for (const outline::PlacedOutline& o : outlined.outlines) {
            expected += outline::area(*o.outline);
            for (const outline::Contour& contour : o.outline->contours) {
                QPolygonF polygon;
                for (const outline::Edge& e : contour)
                    polygon << QPointF(160 + o.at(e.from).x, 280 - o.at(e.from).y);
                path.addPolygon(polygon);
            }
        }
        painter.fillPath(path, Qt::black);
        painter.end();
        Greys greys{320, 320, {}};
        for (int y = 0; y < 320; ++y)
            greys.values.insert(greys.values.end(), image.constScanLine(y), image.constScanLine(y) + 320);
        const auto drawing = outline::traced(greys, {});
        QCOMPARE(drawing.shapes.size(), std::size_t{1});
        QVERIFY(std::abs(areaOf(drawing, 0) / expected - 1) < 0.01);
    }

    void greysAreKeptAndRead()
    {
        const Greys greys = discs(31, 7, {{9, 3, 3}});
        const std::string text = outline::pgmOf(greys);
        QVERIFY(*outline::greysFromPgm(text, "it") == greys);
        // Netpbm's own layout (pgm(5)): magic, sizes, greatest value, one space, rows.
        const QImage read = QImage::fromData(QByteArray::fromStdString(text), "PGM");
        QCOMPARE(read.size(), QSize(31, 7));
        for (int y = 0; y < 7; ++y)
            for (int x = 0; x < 31; ++x)
                QCOMPARE(qGray(read.pixel(x, y)), int(greys.values[std::size_t(y * 31 + x)]));
        for (const std::string& bad :
             {std::string(), std::string("P5"), std::string("P5 3 3 255\n12345678"), text + "x", "P6" + text.substr(2),
              std::string("P5 99999 99999 255\n"), std::string("P5 -3 3 255\nabc"), std::string("P5 2 2 65535\nabcdefgh")})
            QVERIFY(!outline::greysFromPgm(bad, "it"));
    }
};

OPEN_GLOW_TEST(TestTrace)
#include "test_trace.moc"
