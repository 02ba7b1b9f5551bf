// Artwork in a work: put in, replaced by another version with all that its shapes have, and written out again.
#include <QTemporaryDir>
#include <QtTest>

#include "base/units.h"
#include "files/work_file.h"
#include "support/support.h"
#include "work/artwork.h"
#include "work/bodies.h"
#include "work/fit.h"
#include "work/piece_outlines.h"

using base::Vec2;

namespace {

constexpr std::uint32_t kRed = 0xFF0000, kBlue = 0x0000FF, kGreen = 0x00FF00;

outline::DrawnShape square(const char* name, std::uint32_t colour, Vec2 low, double side)
{
    outline::DrawnShape shape;
    shape.name = name;
    shape.colour = colour;
    const Vec2 p[] = {low, low + Vec2{side, 0}, low + Vec2{side, side}, low + Vec2{0, side}};
    outline::CurveContour contour;
    for (int i = 0; i < 4; ++i)
        contour.push_back({1, {p[i], p[(i + 1) % 4]}});
    shape.contours = {contour};
    return shape;
}

work::ArtworkFile file(std::vector<outline::DrawnShape> shapes, const char* name = "mark.svg")
{
    work::ArtworkFile file{name, {}, nullptr, 1, {200, 100, std::move(shapes), {}}};
    for (std::size_t i = 0; i < file.drawing.shapes.size(); ++i)
        file.drawing.shapes[i].id = "s" + std::to_string(i + 1);
    const std::string text = outline::svgOf(file.drawing);
    file.bytes = std::make_shared<const outline::Bytes>(text.begin(), text.end());
    return file;
}

work::ArtworkFile mark()
{
    return file({square("plate", kRed, {0, 0}, 100), square("dot", kBlue, {120, 10}, 30), square("", kBlue, {120, 60}, 30)});
}

struct Placed {
    work::Work work;
    std::string id;

    Placed()
    {
        work = work::emptyWork({800, 600, work::Unit::Pt, 72});
        id = work::addArtwork(work, mark());
    }
    work::Piece& piece() { return work.pieces.items.at(id); }
    std::string letter(const std::string& name)
    {
        for (const auto& [letter, shape] : piece().artwork()->shapes.items)
            if (shape.name == name)
                return letter;
        return {};
    }
};

}  // namespace

class TestArtworkPieces : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void coloursBecomeMaterials()
    {
        Placed p;
        QCOMPARE(picture::hexFromRgb(p.piece().material.piece.baseColour), "#FF0000");  // it covers most
        QVERIFY(!p.piece().letters.contains(p.letter("plate")));
        QCOMPARE(picture::hexFromRgb(p.piece().materialOf(p.letter("dot")).piece.baseColour), "#0000FF");
        QCOMPARE(work::titleOf(p.piece()), "mark");
        // As large as the sheet allows: 84 % of 800 pt wide.
        QVERIFY(std::abs(p.piece().artwork()->heightPt - 0.84 * 800 / 2) < 1e-9);
        work::Cache cache;
        const auto bodies = work::makeBodies(p.work, 0.05, cache, {});
        QVERIFY(bodies && bodies->bodies.size() == 3 && bodies->notes.empty());
        work::scaleTo(p.piece(), 50);
        QVERIFY(work::fitToSheet(p.work, p.id, cache));
        QVERIFY(std::abs(p.piece().artwork()->heightPt - 0.84 * 800 / 2) < 1e-9);
        QCOMPARE(work::shapesOfColour(p.work, p.id, p.letter("dot")).size(), std::size_t{2});
        QCOMPARE(work::coloursToSwatches(p.work, p.id), 2);
        for (const std::string& swatch : p.work.swatches.order)
            if (picture::hexFromRgb(p.work.swatches.items.at(swatch).colour) == "#0000FF")
                work::setSwatch(p.work, swatch, {0, 1, 0});
        QCOMPARE(picture::hexFromRgb(p.piece().materialOf(p.letter("dot")).piece.baseColour), "#00FF00");
        QCOMPARE(work::coloursToSwatches(p.work, p.id), 2);
        QCOMPARE(p.work.swatches.order.size(), std::size_t{3});  // one was changed by hand and is another now
    }

    void fileAndBack()
    {
        Placed p;
        p.piece().letters[p.letter("dot")].z = 12;
        const auto bytes = files::workBytes(p.work, "w");
        QVERIFY(bytes);
        const auto back = files::workFromBytes(*bytes, "w");
        QVERIFY(back && *back == p.work);
        // What is gone with its piece is not saved.
        work::Work without = p.work;
        without.pieces = {};
        const auto less = files::workFromBytes(*files::workBytes(without, "w"), "w");
        QVERIFY(less && less->assets.empty());
        // One that lacks its drawing says so and shows the rest.
        work::Work broken = p.work;
        broken.assets.erase(p.piece().artwork()->drawing);
        work::Cache cache;
        const auto bodies = work::makeBodies(broken, 0.05, cache, {});
        QVERIFY(bodies && bodies->bodies.empty() && bodies->notes.size() == 1);
        QVERIFY(bodies->notes[0].message.find("mark.svg") != std::string::npos);
    }

    // A newer version: what has the same name or lies at the same place keeps pose, form and material.
    void aNewerVersionKeepsWhatShapesHave_data()
    {
        QTest::addColumn<int>("version");
        QTest::addColumn<int>("kept");
        QTest::addColumn<int>("added");
        QTest::addColumn<int>("removed");
        QTest::newRow("the same") << 0 << 3 << 0 << 0;
        QTest::newRow("one more, below all") << 1 << 3 << 1 << 0;
        QTest::newRow("one fewer") << 2 << 2 << 0 << 1;
        QTest::newRow("all moved, names kept") << 3 << 2 << 1 << 1;
        QTest::newRow("another order") << 4 << 3 << 0 << 0;
        QTest::newRow("names gone, places kept") << 5 << 3 << 0 << 0;
        QTest::newRow("painted otherwise") << 6 << 3 << 0 << 0;
    }
    void aNewerVersionKeepsWhatShapesHave()
    {
        QFETCH(int, version);
        QFETCH(int, kept);
        QFETCH(int, added);
        QFETCH(int, removed);
        Placed p;
        const std::string dot = p.letter("dot"), plate = p.letter("plate"), nameless = p.letter("");
        p.piece().letters[dot].z = 25;
        p.piece().letters[dot].roll = 10;
        p.piece().letters[nameless].form = solid::SlabForm{77, {}, {}, solid::Corners::Round};
        p.piece().letters[plate].material = p.piece().material;
        p.piece().letters[plate].material->piece.roughness = 0.123f;
        auto shapes = mark().drawing.shapes;
        switch (version) {
        case 1:
            shapes.insert(shapes.begin(), square("board", kGreen, {60, 0}, 90));
            break;
        case 2:
            shapes.erase(shapes.begin());
            break;
        case 3:
            shapes = {square("plate", kRed, {90, 0}, 100), square("dot", kBlue, {10, 10}, 30), square("", kBlue, {10, 60}, 30)};
            break;
        case 4:
            std::reverse(shapes.begin(), shapes.end());
            break;
        case 5:
            for (auto& shape : shapes)
                shape.name.clear();
            break;
        case 6:
            shapes[1].colour = kGreen;
            break;
        default:
            break;
        }
        const work::Replaced replaced = work::replaceArtwork(p.work, p.id, file(shapes, "newer.svg"));
        QCOMPARE(replaced.kept, kept);
        QCOMPARE(replaced.added, added);
        QCOMPARE(replaced.removed, removed);
        QCOMPARE(p.piece().artwork()->name, "newer.svg");
        QVERIFY(p.piece().letters.at(dot).z == 25 && p.piece().letters.at(dot).roll == 10);
        QCOMPARE(picture::hexFromRgb(p.piece().materialOf(dot).piece.baseColour), version == 6 ? "#00FF00" : "#0000FF");
        if (version != 2)
            QCOMPARE(p.piece().letters.at(plate).material->piece.roughness, 0.123f);
        else
            QVERIFY(!p.piece().letters.contains(plate));
        if (version != 3)
            QCOMPARE(std::get<solid::SlabForm>(*p.piece().letters.at(nameless).form).depthPt, 77.0);
        // Every shape has a letter of its own, and a colour.
        QCOMPARE(p.piece().letterIds().size(), shapes.size());
        for (std::size_t i = 0; i < shapes.size(); ++i)
            if (shapes[i].colour != kRed)
                QCOMPARE(p.piece().materialOf(p.piece().letterIds()[i]).piece.baseColour, work::colourOf(shapes[i]));
        work::Cache cache;
        const auto bodies = work::makeBodies(p.work, 0.05, cache, {});
        QVERIFY(bodies && bodies->bodies.size() == shapes.size());
    }

    // A letter of two parts turns as one: the dot of an i about the middle of both.
    void aLetterOfTwoPartsTurnsAsOne()
    {
        work::Work w = work::newWork("i", {}, {800, 600, work::Unit::Pt, 72});
        work::Piece& piece = w.pieces.items.at("p1");
        const auto middles = [&] {
            work::Cache cache;
            const auto bodies = work::makeBodies(w, 0.05, cache, {});
            std::vector<Vec2> found;
            for (const work::WorkBody& b : bodies->bodies) {
                const base::Box3 box = work::worldBox(b);
                found.push_back({(box.low.x + box.high.x) / 2, (box.low.y + box.high.y) / 2});
            }
            return found;
        };
        const auto before = middles();
        QCOMPARE(before.size(), std::size_t{2});
        piece.letters[piece.letterIds()[0]].roll = 180;
        const auto after = middles();
        // Half a turn: each part comes to lie on the other side of the common middle.
        const Vec2 was = before[1] - before[0], is = after[1] - after[0];
        QVERIFY2(length(was + is) < 0.05 * length(was), qPrintable(QString("%1 %2").arg(was.y).arg(is.y)));
    }

    // A letter turned and tilted about its own middle, and larger: its box in the world by the formulas of a turned plate.
    void lettersTurnAboutAllAxes()
    {
        work::Work w = work::emptyWork({800, 600, work::Unit::Pt, 72});
        const std::string id = work::addArtwork(w, file({square("plate", kRed, {50, 0}, 100)}));
        work::Piece& piece = w.pieces.items.at(id);
        piece.form = solid::SlabForm{0.1, {}, {}, solid::Corners::Round};
        const double side = piece.artwork()->heightPt;
        const auto box = [&] {
            work::Cache cache;
            const auto bodies = work::makeBodies(w, 0.01, cache, {});
            base::Box3 all;  // of the corners themselves
            for (const work::WorkBody& b : bodies->bodies)
                for (const base::Vec3f& p : b.body->positions)
                    all.add(b.pose.apply({p.x, p.y, p.z}));
            return all;
        };
        const base::Box3 flat = box();
        work::LetterOwn& own = piece.letters["a1"];
        own.turn = 30;
        const base::Box3 turned = box();
        QVERIFY(std::abs((turned.high.x - turned.low.x) - (side * std::cos(base::radians(30)) + 0.1 * 0.5)) < 0.01);
        QVERIFY(std::abs((turned.high.z - turned.low.z) - (side * 0.5 + 0.1 * std::cos(base::radians(30)))) < 0.01);
        QVERIFY(std::abs((turned.high.x + turned.low.x) / 2 - (flat.high.x + flat.low.x) / 2) < 0.1);
        own = {};
        own.tilt = -90;
        const base::Box3 tilted = box();
        QVERIFY(std::abs((tilted.high.z - tilted.low.z) - side) < 0.01 && tilted.high.y - tilted.low.y < 0.2);
        own = {};
        own.scale = 0.5;
        const base::Box3 small = box();
        QVERIFY(std::abs((small.high.x - small.low.x) - side / 2) < 0.01);
        QVERIFY(std::abs((small.high.y + small.low.y) - (flat.high.y + flat.low.y)) < 0.01);
        QVERIFY(std::abs((small.high.z - small.low.z) - 0.1) < 1e-4);  // its depth stays
        // Written flat: as large as it is.
        work::Cache cache;
        const auto drawn = work::drawnLetters(w, id, 0.01, cache);
        base::Box2 written;
        for (const outline::Curve& c : (*drawn)[0].shape.contours[0])
            written.add(c.p[0]);
        QVERIFY(std::abs((written.high.x - written.low.x) - side / 2) < 0.01);
    }

    // The outlines as SVG: true curves, and the same area as the bodies' fronts (Green's theorem).
    void outlinesAreWritten()
    {
        work::Work w = work::newWork("Bo", {}, {800, 600, work::Unit::Mm, 72});
        w.sheet() = {200, 100, work::Unit::Mm, 300};
        const std::string id = work::addArtwork(w, mark());
        work::Piece& letters = w.pieces.items.at("p1");
        letters.letters[letters.letterIds()[1]].roll = 30;
        work::Cache cache;
        const auto text = work::piecesAsSvg(w, w.pieces.order, cache);
        QVERIFY(text);
        QVERIFY(text->find("width=\"200mm\" height=\"100mm\"") != std::string::npos);
        QVERIFY(text->find("<g id=\"p1-" + letters.letterIds()[1] + "\">") != std::string::npos);
        QVERIFY(text->find(" C ") != std::string::npos || text->find(" Q ") != std::string::npos);
        QVERIFY(w.pieces.order.front() == id && text->find("<g id=\"" + id) > text->find("<g id=\"p1\">"));  // in front: painted last
        for (const std::string& piece : w.pieces.order) {
            const auto drawn = work::drawnLetters(w, piece, 0.01, cache);
            QVERIFY(drawn && drawn->size() == w.pieces.items.at(piece).letterIds().size());
            double area = 0;
            for (const work::DrawnLetter& letter : *drawn)
                for (const outline::CurveContour& contour : letter.shape.contours) {
                    std::vector<outline::FlatEdge> edges;
                    for (const outline::Curve& curve : contour)
                        outline::flatten(curve, 0.001, edges);
                    for (const outline::FlatEdge& e : edges)
                        area += cross(e.from, e.to) / 2;
                }
            double expected = 0;
            const auto outlines = work::outlinesOf(w, piece, 0.01, cache, {});
            for (const auto& part : outlines->parts)
                for (const outline::PlacedOutline& o : part.outlined->outlines)
                    expected += outline::area(*o.outline);
            QVERIFY2(std::abs(std::abs(area) / expected - 1) < 2e-3, qPrintable(QString("%1 %2").arg(area).arg(expected)));
        }
    }

    // A traced picture: another threshold draws it anew, shapes that stay keep what they have, and the picture travels with the work.
    void aTracedPictureIsTracedAnew()
    {
        outline::Greys greys{120, 60, std::vector<std::uint8_t>(120 * 60, 255)};
        for (int y = 10; y < 50; ++y)
            for (int x = 0; x < 40; ++x) {
                greys.values[std::size_t(y * 120 + 10 + x)] = 30;   // dark
                greys.values[std::size_t(y * 120 + 70 + x)] = 150;  // lighter
            }
        work::ArtworkFile file{"two.png", {}, nullptr, 1, {}, {}, {}};
        const std::string text = outline::pgmOf(greys);
        file.bytes = file.greys = std::make_shared<const outline::Bytes>(text.begin(), text.end());
        file.trace.threshold = 0.3;
        file.drawing = outline::traced(greys, file.trace);
        work::Work work = work::emptyWork({800, 600, work::Unit::Pt, 72});
        const std::string id = work::addArtwork(work, file);
        const auto artworkOf = [&](const work::Work& w) { return *w.pieces.items.at(id).artwork(); };
        QVERIFY(artworkOf(work).isTraced());
        QCOMPARE(artworkOf(work).shapes.order.size(), std::size_t{1});
        const std::string dark = artworkOf(work).shapes.order.front();
        work.pieces.items.at(id).letters[dark].z = 12;
        const double height = artworkOf(work).heightPt;

        const auto with = [&](double threshold, bool inverse) {
            work::Work changed = work;
            changed.pieces.items.at(id).artwork()->trace.threshold = threshold;
            changed.pieces.items.at(id).artwork()->trace.inverse = inverse;
            work::keepTraced(work, changed);
            return changed;
        };
        const work::Work both = with(0.8, false);
        QCOMPARE(artworkOf(both).shapes.order.size(), std::size_t{2});
        QCOMPARE(both.pieces.items.at(id).letters.at(dark).z, 12.0);
        QCOMPARE(artworkOf(both).heightPt, height);
        QVERIFY(artworkOf(both).drawing != artworkOf(work).drawing);
        // Where nothing is left to see it stays as it was.
        const work::Work none = with(0.05, false);
        QCOMPARE(artworkOf(none).drawing, artworkOf(work).drawing);
        QCOMPARE(artworkOf(with(0.3, true)).shapes.order.size(), std::size_t{1});
        // A newer picture in its place is traced as this one was.
        work::Work newer = both;
        work::ArtworkFile later = file;
        later.trace.threshold = 0.5;
        later.drawing = outline::traced(greys, later.trace);
        work::replaceArtwork(newer, id, later);
        QCOMPARE(artworkOf(newer).trace.threshold, 0.8);
        QCOMPARE(artworkOf(newer).shapes.order.size(), std::size_t{2});
        // It is saved, read again, and nothing of it is dropped.
        QTemporaryDir folder;
        const std::string path = folder.filePath("traced.openglow").toStdString();
        QVERIFY(files::saveWork(both, path));
        const auto again = files::openWork(path);
        QVERIFY(again && again->assets.contains(artworkOf(both).greys));
        QVERIFY(artworkOf(*again) == artworkOf(both));
    }
};

OPEN_GLOW_TEST(TestArtworkPieces)
#include "test_artwork_pieces.moc"
