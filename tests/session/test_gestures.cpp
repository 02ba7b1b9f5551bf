// Hands in the picture, as mathematics.
#include <QtTest>

#include "base/units.h"
#include "session/gestures.h"
#include "support/registered.h"

using base::Vec2;
using base::Vec3;
using session::MoveDrag;

namespace {

work::Work kites(const std::string& text = "KITE")
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {800, 600, work::Unit::Px, 72});
}

struct Seen {
    work::WorkBodies bodies;
    render::Camera camera;
};
Seen seen(const work::Work& work)
{
    work::Cache cache;
    auto bodies = work::makeBodies(work, 0.25, cache, {});
    const render::Camera camera = work::cameraOf(work, *bodies);
    return {std::move(*bodies), camera};
}

Vec2 project(const render::Camera& camera, Vec3 p)
{
    Vec2 uv;
    if (!render::project(camera, p, uv))
        qFatal("behind the viewer");
    return uv;
}

}  // namespace

class TestGestures : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // What was grabbed stays under the pointer, in any view, and the piece stays on its ground.
    void aPieceFollowsThePointer_data()
    {
        QTest::addColumn<int>("stance");
        QTest::addColumn<double>("walk");
        QTest::addColumn<double>("rise");
        QTest::addColumn<bool>("perspective");
        QTest::newRow("wall, straight") << int(work::Stance::AgainstWall) << 0.0 << 0.0 << false;
        QTest::newRow("wall, perspective") << int(work::Stance::AgainstWall) << 25.0 << 15.0 << true;
        QTest::newRow("floor, from above") << int(work::Stance::OnFloor) << -30.0 << 40.0 << true;
        QTest::newRow("free, from the side") << int(work::Stance::Free) << 85.0 << 5.0 << false;
    }
    void aPieceFollowsThePointer()
    {
        QFETCH(int, stance);
        QFETCH(double, walk);
        QFETCH(double, rise);
        QFETCH(bool, perspective);
        work::Work work = kites();
        work::Piece& piece = work.pieces.items.at("p1");
        piece.placement.stance = work::Stance(stance);
        work.view().walk = walk;
        work.view().rise = rise;
        work.view().perspective = perspective;
        work.ground.floorBelow = 100;
        const Seen s = seen(work);
        const base::Pose pose = work::poseOf(piece.placement, work.ground);
        const Vec3 grabbed = stance == int(work::Stance::OnFloor) ? pose.origin : pose.origin + pose.out * piece.slab()->depthPt;
        const Vec2 from = project(s.camera, grabbed), to = from + Vec2{0.11, 0.07};
        const MoveDrag drag(work, s.bodies, s.camera, {{"p1", {}}}, from);
        const work::Work moved = drag.to(to, 0).work;
        const work::Placement& p = moved.pieces.items.at("p1").placement;
        const base::Pose after = work::poseOf(p, moved.ground);
        const Vec3 now = grabbed + (after.origin - pose.origin);
        QVERIFY(length(project(s.camera, now) - to) < 1e-4);
        QCOMPARE(p.stance, piece.placement.stance);
        if (stance == int(work::Stance::AgainstWall))
            QCOMPARE(after.origin.z, pose.origin.z);
        if (stance == int(work::Stance::OnFloor))
            QCOMPARE(after.origin.y, pose.origin.y);
    }

    void snapsToTheSheetAndToNeighbours()
    {
        work::Work work = kites();
        work.sheet().margin = 40;
        work::Piece& piece = work.pieces.items.at("p1");
        piece.placement.x = 7;
        const Seen s = seen(work);
        const MoveDrag drag(work, s.bodies, s.camera, {{"p1", {}}}, {0.5, 0.5});
        const auto step = drag.to({0.5 - 5.0 / 800, 0.5}, 6);
        const auto box = s.bodies.places[0].box;
        QVERIFY(step.snapped);
        QVERIFY(std::abs(step.work.pieces.items.at("p1").placement.x - (7 - box.centre().x)) < 1e-6);  // its middle on the sheet's
        // Its left edge to the margin.
        const double toMargin = -400 + 40 - box.low.x;
        const auto edge = drag.to({0.5 + (toMargin + 3) / 800, 0.5}, 6);
        QVERIFY(std::abs(edge.work.pieces.items.at("p1").placement.x - (7 + toMargin)) < 1e-6);
        QVERIFY(!drag.to({0.5 + (toMargin + 3) / 800, 0.5}, 0).snapped);

        // Baselines of two pieces.
        work::Work two = kites();
        two.pieces.items["p2"] = two.pieces.items.at("p1");
        two.pieces.items["p2"].lettering()->layout.sizePt *= 0.5;
        two.pieces.items["p2"].placement.x = 300;
        two.pieces.order.push_back("p2");
        const Seen t = seen(two);
        const double base1 = t.bodies.places[0].pose.origin.y + t.bodies.places[0].baseline;
        const double base2 = t.bodies.places[1].pose.origin.y + t.bodies.places[1].baseline;
        const MoveDrag other(two, t.bodies, t.camera, {{"p2", {}}}, {0.5, 0.5});
        const auto at = other.to({0.5 + 31.0 / 800, 0.5 - (base1 - base2 + 0.8) / 600}, 1);
        QVERIFY(std::abs(at.work.pieces.items.at("p2").placement.y - (base1 - base2)) < 1e-6);
    }

    void aLetterMovesOnItsPiece()
    {
        work::Work work = kites();
        work.pieces.items.at("p1").placement.roll = 90;
        const Seen s = seen(work);
        const std::string letter = work.pieces.items.at("p1").lettering()->letterIds[1];
        const MoveDrag drag(work, s.bodies, s.camera, {{"p1", letter}}, {0.5, 0.5});
        const auto own = drag.to({0.5 + 10.0 / 800, 0.5}, 5).work.pieces.items.at("p1").letters.at(letter);
        QVERIFY(std::abs(own.x) < 1e-9 && std::abs(own.y + 10) < 1e-4);  // the piece's up points left
    }

    // The point under the pointer stays when coming closer, and comes along when sliding.
    void theViewKeepsWhatIsHeld()
    {
        for (const bool perspective : {false, true}) {
            work::Work work = kites();
            work.view() = {perspective, 35, 20, 10, 5, 3, -4, 2, 0.8};
            const Seen s = seen(work);
            const Vec2 at{0.3, 0.8};
            // A point in the plane through the aim.
            const Vec3 held = s.camera.eye + s.camera.forward * s.camera.frameDistance +
                              s.camera.right * ((at.x - 0.5) * s.camera.frameWidth) + s.camera.up * ((0.5 - at.y) * s.camera.frameHeight);
            QVERIFY(length(project(s.camera, held) - at) < 1e-9);
            work::Work near = work;
            near.view() = session::closer(work.view(), s.camera, at, 0.5);
            QVERIFY(length(project(seen(near).camera, held) - at) < 1e-6);
            work::Work slid = work;
            slid.view() = session::slid(work.view(), s.camera, at, {0.5, 0.5});
            QVERIFY(length(project(seen(slid).camera, held) - Vec2{0.5, 0.5}) < 1e-6);
        }
    }

    // True isometric projection (ISO 5456-3): the three axes are equally short, sqrt(2/3), and 120 degrees apart.
    void isometric()
    {
        work::Work work = kites();
        work.view() = session::standardView(work.view(), session::StandardView::IsometricRight);
        const render::Camera camera = seen(work).camera;
        const auto onFrame = [&](Vec3 v) { return Vec2{dot(v, camera.right), dot(v, camera.up)}; };
        const Vec2 x = onFrame({1, 0, 0}), y = onFrame({0, 1, 0}), z = onFrame({0, 0, 1});
        for (const Vec2 v : {x, y, z})
            QVERIFY(std::abs(length(v) - std::sqrt(2.0 / 3)) < 1e-9);
        QVERIFY(std::abs(dot(normalized(x), normalized(y)) + 0.5) < 1e-9);
        QVERIFY(std::abs(dot(normalized(x), normalized(z)) + 0.5) < 1e-9);
        QCOMPARE(session::standardView(work.view(), session::StandardView::Straight).walk, 0.0);
    }

    // Off the ground and back; height over the floor is that of the baseline.
    void plumb()
    {
        work::Work work = kites();
        work.ground.kind = render::GroundKind::Floor;
        work.ground.floorBelow = 120;
        work::Placement& p = work.pieces.items.at("p1").placement;
        p.stance = work::Stance::OnFloor;
        const double middle = seen(work).bodies.places[0].middle;
        const double lowest = seen(work).bodies.places[0].box.low.y;
        const work::Placement up = session::plumbed(p, work.ground, 30, middle);
        QCOMPARE(up.stance, work::Stance::Free);
        QVERIFY(std::abs(session::plumbDistance(up, work.ground, middle) - 30) < 1e-9);
        p = up;
        QVERIFY(std::abs(seen(work).bodies.places[0].box.low.y - lowest - 30) < 1e-6);
        QCOMPARE(session::plumbed(up, work.ground, -1, middle).stance, work::Stance::OnFloor);
        work.ground.kind = render::GroundKind::Wall;
        work.ground.wallBehind = 10;
        QCOMPARE(session::plumbed({}, work.ground, 25, 0).z, 15.0);
    }

    void alongAnAxis()
    {
        work::Work work = kites();
        work.view().walk = 90;  // from the right: towards the viewer is to the left
        const render::Camera side = seen(work).camera;
        QVERIFY(std::abs(session::alongAxis(side, {}, {0, 0, 1}, {0.5, 0.5}, {0.4, 0.5}) - 80) < 1e-6);
        work.view().walk = 0;  // seen from its end: upwards counts
        QVERIFY(std::abs(session::alongAxis(seen(work).camera, {}, {0, 0, 1}, {0.5, 0.5}, {0.4, 0.4}) - 60) < 1e-6);
    }

    // A lamp's foot and head on the plan lead back to the light they were drawn for.
    void lampsOnThePlan()
    {
        work::Work work = kites();
        work.view().walk = 30;
        const session::LampPlan plan(work);
        for (const double direction : {-140.0, -40.0, 10.0, 75.0, 160.0})
            for (const double height : {5.0, 45.0, 70.0}) {
                work::Light light;
                light.direction = direction;
                light.height = height;
                light.distance = 900;
                const session::Lamp lamp = plan.lamp(light);
                const work::Light foot = plan.withFoot(light, lamp.foot);
                QVERIFY(std::abs(std::remainder(foot.direction - direction, 360)) < 1e-6 && std::abs(foot.distance - 900) < 1e-6);
                const work::Light head = plan.withHead(light, lamp.head.y);
                QVERIFY(std::abs(head.height - height) < 0.5 && head.direction == direction);
                // Higher is higher, and nothing else; far behind, the top of its way is seen lower.
                if (height > 60 && std::cos(base::radians(direction - 30)) < 0)
                    continue;
                const work::Light raised = plan.withHead(light, lamp.head.y + 0.05);
                QVERIFY(raised.height > height && raised.direction == direction && raised.distance == 900);
            }
    }
};

OPEN_GLOW_TEST(TestGestures)
#include "test_gestures.moc"
