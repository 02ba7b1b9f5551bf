// Pieces set in order: in depth, by the type's lines, at equal gaps, by the middles of letters.
#include <QtTest>

#include "session/arrange.h"
#include "session/gestures.h"
#include "support/registered.h"

namespace {

// A free rectangle, its middle at x, y.
std::string addBox(work::Work& work, double x, double y, double width)
{
    work::Piece piece = work.pieces.items.at("p1");
    work::Shape shape;
    shape.width = width;
    shape.height = 40;
    piece.hidden = false;
    piece.source = shape;
    piece.placement = {};
    piece.placement.stance = work::Stance::Free;
    piece.placement.x = x;
    piece.placement.y = y;
    const std::string id = work.newId("p");
    work.pieces.add(id, std::move(piece));
    return id;
}

work::Work sheet()
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work work = work::newWork("HOH", font, {800, 600, work::Unit::Px, 72});
    work.pieces.items.at("p1").slab()->front = {};
    return work;
}

work::WorkBodies bodiesOf(const work::Work& work)
{
    work::Cache cache;
    return std::move(*work::makeBodies(work, 0.1, cache, {}));
}

// Where a piece goes that is dragged by so much, pt, with a reach of 4.
work::Placement dragged(const work::Work& work, const std::string& id, double across, double up)
{
    const auto bodies = bodiesOf(work);
    const session::MoveDrag drag(work, bodies, work::cameraOf(work, bodies), {{id, {}}}, {0.5, 0.5});
    return drag.to({0.5 + across / 800, 0.5 - up / 600}, 4).work.pieces.items.at(id).placement;
}

bool near(double a, double b)
{
    return std::abs(a - b) < 1e-6;
}

}  // namespace

class TestArrange : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void piecesAreStaggeredInDepth()
    {
        work::Work work = sheet();
        const std::string a = addBox(work, 0, 0, 10), b = addBox(work, 0, 0, 10), c = addBox(work, 0, 0, 10);
        work.pieces.items.at(a).placement.stance = work::Stance::AgainstWall;
        work.pieces.items.at(c).placement.stance = work::Stance::AgainstWall;
        work.ground.wallBehind = 50;
        const work::Work staggered = session::staggered(work, {c, a, b}, 12);
        const auto at = [&](const std::string& id) { return staggered.pieces.items.at(id).placement; };
        QVERIFY(at(c).stance == work::Stance::AgainstWall);  // the last stays
        QCOMPARE(at(b).z, -38.0);
        QCOMPARE(at(a).z, -26.0);
        QVERIFY(at(a).stance == work::Stance::Free);
        work.pieces.items.at(b).locked = true;
        QCOMPARE(session::staggered(work, {c, a, b}, 12).pieces.items.at(a).placement.z, -38.0);
    }

    // By the type's lines two words stand on one baseline, though one of them reaches under it.
    void alignedByTheTypesLines()
    {
        work::Work work = sheet();
        work.pieces.add("p7", work.pieces.items.at("p1"));
        work::setText(work.pieces.items.at("p7"), "HQJ");
        work.pieces.items.at("p7").placement.y = 90;
        const auto bodies = bodiesOf(work);
        const auto lowest = [&](session::AlignBy by) {
            const work::Work done = session::aligned(work, bodies, {"p1", "p7"}, session::Edge::Lower, session::AlignTo::EachOther, by);
            return std::pair(done.pieces.items.at("p1").placement.y, done.pieces.items.at("p7").placement.y);
        };
        const auto lines = lowest(session::AlignBy::TypeLines), seen = lowest(session::AlignBy::Outline);
        QVERIFY(near(lines.first, lines.second));
        QVERIFY(seen.second > seen.first + 1);
    }

    // Boxes of 40 at -189 and -89 leave a gap of 60; a third one finds it again on either side, or the middle between two.
    void snapsToEqualGaps()
    {
        work::Work work = sheet();
        work.pieces.items.at("p1").hidden = true;
        addBox(work, -189, 100, 40);
        addBox(work, -89, 100, 40);
        const std::string third = addBox(work, 60, 120, 40);
        QVERIFY(near(dragged(work, third, -46, 0).x, 11));
        QVERIFY(near(dragged(work, third, -346, 0).x, -289));
        // Where they are not beside each other there is no gap.
        QVERIFY(near(dragged(work, third, -46, -80).x, 14));
        // Between two that are further apart.
        addBox(work, 211, 100, 40);
        QVERIFY(near(dragged(work, third, 3, 0).x, 61));
        const auto bodies = bodiesOf(work);
        const session::MoveDrag drag(work, bodies, work::cameraOf(work, bodies), {{third, {}}}, {0.5, 0.5});
        QCOMPARE(drag.to({0.5 + 3.0 / 800, 0.5}, 4).lines.size(), std::size_t{2});  // both gaps are shown
    }

    // Under the middle of a letter of another piece.
    void snapsToMiddlesOfLetters()
    {
        work::Work work = sheet();
        work.pieces.items.at("p1").placement.x = 13;
        const std::string box = addBox(work, 300, -200, 30);
        const auto bodies = bodiesOf(work);
        const std::string letter = work.pieces.items.at("p1").letterIds()[1];
        double middle = 0;
        for (const work::WorkBody& body : bodies.bodies)
            if (body.letters.front() == letter)
                middle = work::worldBox(body).centre().x;
        QVERIFY(middle != 0);
        // Near enough to the letter, and not to the piece's own middle.
        work.pieces.items.at("p1").letters[letter].x = 40;
        QVERIFY(near(dragged(work, box, middle + 40 - 300 + 2.5, 0).x, middle + 40));
    }
};

OPEN_GLOW_TEST(TestArrange)
#include "test_arrange.moc"
