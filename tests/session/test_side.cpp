// The work from the side and from above.
#include <QtTest>

#include "session/edits.h"
#include "session/side.h"
#include "support/registered.h"

using base::Vec2;
using base::Vec3;
using session::MoveDrag;

namespace {

work::Work kites(const std::string& text = "HI")
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {800, 600, work::Unit::Px, 72});
}

work::WorkBodies bodiesOf(const work::Work& work)
{
    work::Cache cache;
    return *work::makeBodies(work, 0.1, cache, {});
}

base::Box2 boxOf(const std::vector<Vec2>& outline)
{
    base::Box2 box;
    for (const Vec2& p : outline)
        box.add(p);
    return box;
}

double areaOf(const std::vector<Vec2>& p)
{
    double sum = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Vec2 a = p[i], b = p[(i + 1) % p.size()];
        sum += a.x * b.y - a.y * b.x;
    }
    return sum / 2;
}

const session::Contact* find(const std::vector<session::Contact>& contacts, const std::string& other)
{
    for (const session::Contact& c : contacts)
        if (c.other == other)
            return &c;
    return nullptr;
}

}  // namespace

class TestSide : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A slab without bevel is a rectangle from both sides: depth by height, width by depth.
    void aSlabIsARectangleFromTheSideAndFromAbove()
    {
        work::Work work = kites("I");
        work.pieces.items.at("p1").form = solid::SlabForm{40, {}, {}, solid::Corners::Round};
        const auto outlines = session::sideOutlines(bodiesOf(work));
        QCOMPARE(outlines.size(), std::size_t{1});
        QCOMPARE(outlines[0].letter, work.pieces.items.at("p1").lettering()->letterIds[0]);
        const base::Box2 side = boxOf(outlines[0].side), above = boxOf(outlines[0].above);
        QVERIFY(std::abs(side.high.x - side.low.x - 40) < 1e-3);
        QVERIFY(std::abs(above.high.y - above.low.y - 40) < 1e-3);
        QVERIFY(std::abs(areaOf(outlines[0].side) - 40 * (side.high.y - side.low.y)) < 1);
        QVERIFY(std::abs(areaOf(outlines[0].above) - 40 * (above.high.x - above.low.x)) < 1);
    }

    // Its outline is convex and holds the bevel: by two chamfers of 6 x 6 the side loses two triangles.
    void bevelsCutTheCorners()
    {
        work::Work work = kites("I");
        work.pieces.items.at("p1").form = solid::SlabForm{40, {6, 6, solid::Profile::Chamfer, 1, false}, {}, solid::Corners::Mitred};
        const auto outlines = session::sideOutlines(bodiesOf(work));
        const base::Box2 side = boxOf(outlines[0].side);
        QVERIFY(std::abs(areaOf(outlines[0].side) - (40 * (side.high.y - side.low.y) - 36)) < 1);
    }

    void contactsAreFound()
    {
        work::Work work = kites();
        QVERIFY(find(session::contactsOf(work, bodiesOf(work)), "wall"));
        const double depth = work.pieces.items.at("p1").slab()->depthPt;
        // One free in front, its back on the other's front.
        const std::string front = session::addLettering(work, "HI");
        work.pieces.items.at(front).placement = work.pieces.items.at("p1").placement;
        work.pieces.items.at(front).placement.stance = work::Stance::Free;
        work.pieces.items.at(front).placement.z = depth;
        auto contacts = session::contactsOf(work, bodiesOf(work));
        const session::Contact* touch = find(contacts, "p1");
        QVERIFY(touch && !touch->cutsIn);
        QVERIFY(std::abs(touch->place.low.z - depth) < 1e-3);
        work.pieces.items.at(front).placement.z = depth - 5;
        contacts = session::contactsOf(work, bodiesOf(work));
        QVERIFY(find(contacts, "p1")->cutsIn);
        work.pieces.items.at(front).placement.z = depth + 5;
        contacts = session::contactsOf(work, bodiesOf(work));
        QVERIFY(!find(contacts, "p1"));
        // On the floor round letters dip a little below it; that is touching.
        work = kites("O");
        work.ground.kind = render::GroundKind::Floor;
        work.pieces.items.at("p1").placement.stance = work::Stance::OnFloor;
        contacts = session::contactsOf(work, bodiesOf(work));
        QVERIFY(find(contacts, "floor") && !find(contacts, "floor")->cutsIn);
    }

    void depthIsDraggedAndHeldAtGroundAndNeighbours()
    {
        work::Work work = kites();
        const double depth = work.pieces.items.at("p1").slab()->depthPt;
        const std::string other = session::addLettering(work, "HI");
        const std::vector<MoveDrag::Item> items{{other, {}}};
        const auto bodies = bodiesOf(work);
        const auto placement = [&](const MoveDrag::Step& step) { return step.work.pieces.items.at(other).placement; };
        // Off the wall it is free.
        auto step = session::movedInDepth(work, bodies, items, {0, 0, 7.5}, 0);
        QCOMPARE(placement(step).stance, work::Stance::Free);
        QCOMPARE(placement(step).z, 7.5);
        QVERIFY(!step.snapped);
        // Near the neighbour's front it holds there.
        step = session::movedInDepth(work, bodies, items, {0, 0, depth - 3}, 5);
        QVERIFY(step.snapped);
        QVERIFY(std::abs(placement(step).z - depth) < 1e-3);
        // And back on the wall it is against it.
        const work::Work off = step.work;
        step = session::movedInDepth(off, bodiesOf(off), items, {0, 0, 3 - depth}, 5);
        QCOMPARE(placement(step).stance, work::Stance::AgainstWall);
        // Letters move out of their piece.
        const std::string letter = work.pieces.items.at("p1").lettering()->letterIds[0];
        step = session::movedInDepth(work, bodies, {{"p1", letter}}, {0, 0, 4}, 5);
        QCOMPARE(step.work.pieces.items.at("p1").letters.at(letter).z, 4.0);
        QCOMPARE(step.work.pieces.items.at("p1").placement, work.pieces.items.at("p1").placement);
        // A standing piece moves over the floor and up off it.
        work.ground.kind = render::GroundKind::Floor;
        work.pieces.items.at(other).placement.stance = work::Stance::OnFloor;
        const auto standing = bodiesOf(work);
        step = session::movedInDepth(work, standing, items, {5, 0, 6}, 0);
        QCOMPARE(placement(step).stance, work::Stance::OnFloor);
        QCOMPARE(placement(step).x, work.pieces.items.at(other).placement.x + 5);
        QCOMPARE(placement(step).z, work.pieces.items.at(other).placement.z + 6);
        step = session::movedInDepth(work, standing, items, {0, 20, 0}, 0);
        QCOMPARE(placement(step).stance, work::Stance::Free);
    }
};

OPEN_GLOW_TEST(TestSide)
#include "test_side.moc"
