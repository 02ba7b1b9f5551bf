#include <QtTest>

#include "base/units.h"
#include "solid/check.h"
#include "support/support.h"
#include "work/coplanar.h"
#include "work/make_still.h"
#include "work/works.h"

using work::Stance;
using work::Work;
using namespace works;

namespace {

base::Box3 worldBox(const work::WorkBodies& bodies)
{
    base::Box3 box;
    for (const auto& b : bodies.bodies)
        for (const auto& p : b.body->positions)
            box.add(b.pose.apply(toDouble(p)));
    return box;
}

work::Still still(const Work& work, work::StillSettings settings)
{
    work::Cache cache;
    auto result = work::makeStill(work, settings, cache, {});
    if (!result)
        qFatal("%s", result.error().message.c_str());
    return std::move(*result);
}

}  // namespace

class TestBodies : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // At the ends of their ranges places make points of small triangles in float; the ray tracing library ended the program over that.
    void farAwayIsNoReasonToEnd()
    {
        work::Work work = work::newWork("KITE", {"League Spartan", "Bold", {}, 0, {}}, {64, 36, work::Unit::Px, 72});
        work.pieces.items.at("p1").placement.stance = work::Stance::Free;
        for (const double far : {1e4, 1e5, 1e6})
            for (const double size : {0.1, 3.0, 400.0}) {
                work::Placement& p = work.pieces.items.at("p1").placement;
                p.x = p.y = far;
                p.z = -far;
                work::scaleTo(work.pieces.items.at("p1"), size);
                work::Cache cache;
                work::StillSettings settings;
                settings.stop = {1, 0, 0};
                const auto still = work::makeStill(work, settings, cache, {});
                QVERIFY2(still.has_value(), still ? "" : base::oneLine(still.error()).c_str());
            }
    }

    // Copies that lie in the piece's own plane: what comes first is in front, by a hair, and it is said.
    void facesInOnePlaneHaveAnOrder()
    {
        work::Work work = work::newWork("K", {"League Spartan", "Bold", {}, 0, {}}, {});
        work.pieces.items.at("p1").copies = {1, 0, 4, 0, 0, {}, 0};
        work.pieces.items["p8"] = work.pieces.items.at("p1");
        work.pieces.items.at("p8").copies = {};
        work.pieces.order = {"p8", "p1"};
        work::Cache cache;
        const auto bodies = work::makeBodies(work, 0.1, cache, {});
        QVERIFY(bodies.has_value());
        std::vector<std::string> told;
        for (const base::Note& n : bodies->notes)
            if (n.kind == "coplanar")
                told.push_back(n.place);
        QCOMPARE(told, (std::vector<std::string>{"pieces/p8", "pieces/p1"}));
        double last = 1e9;
        for (const auto& [piece, copy] : {std::pair{"p8", 0}, {"p1", 0}, {"p1", 1}})
            for (const work::WorkBody& b : bodies->bodies)
                if (b.piece == piece && b.copy == copy) {
                    const double front = b.pose.apply({0, 0, solid::bounds(*b.body).high.z}).z;
                    QVERIFY(front < last - 0.9 * work::kBehindPt);
                    QVERIFY(front > work.pieces.items.at("p1").slab()->depthPt - 3 * work::kBehindPt);
                    last = front;
                }
        // A step back, a turn or another depth: nothing to order. Nor are letters of one piece each other's neighbours.
        for (const work::Copies& copies : {work::Copies{1, 0, 4, 2, 0, {}, 0}, work::Copies{1, -3, 4, 0, 0, {}, 0}}) {
            work.pieces.items.at("p1").copies = copies;
            work.pieces.items.erase("p8");
            work.pieces.order = {"p1"};
            work::setText(work.pieces.items.at("p1"), "KAVA");
            const auto apart = work::makeBodies(work, 0.1, cache, {});
            QVERIFY(std::none_of(apart->notes.begin(), apart->notes.end(), [](const base::Note& n) { return n.kind == "coplanar"; }));
        }
    }

    // Against the wall: the back on it. On the floor: the last baseline on it. Turned about their own axes they stay there.
    void stances()
    {
        Work work = kites("K\nI");
        work.ground.wallBehind = 70;
        work.ground.floorBelow = 200;
        piece(work).placement = {Stance::AgainstWall, 10, 20, 0, 0, 0, 30};
        QVERIFY(std::abs(worldBox(bodiesOf(work)).low.z + 70) < 1e-3);
        piece(work).placement = {Stance::OnFloor, 10, 20, 5, 40, 0, 0};
        const base::Box3 standing = worldBox(bodiesOf(work));
        QVERIFY(std::abs(standing.low.y + 200) < 1e-2);
        piece(work).placement = {Stance::Free, 10, 20, 50, 0, 0, 0};
        const base::Box3 free = worldBox(bodiesOf(work));
        QVERIFY(std::abs(free.low.z - 50) < 1e-3);
        const double capHeight = support::font("League Spartan", "Bold")->capHeight() * 150;
        QVERIFY(std::abs(free.high.y - free.low.y - (180 + capHeight)) < 1);  // K and I are as high as capitals
        QVERIFY(std::abs((free.high.y + free.low.y) / 2 - 20) < 1);
    }

    void bodiesAreMadeOnceAndFoundAgain()
    {
        Work work = kites("KITE KITE");
        work::Cache cache;
        const auto first = work::makeBodies(work, 0.05, cache, {});
        const auto again = work::makeBodies(work, 0.05, cache, {});
        QCOMPARE(first->bodies.size(), again->bodies.size());
        for (std::size_t i = 0; i < first->bodies.size(); ++i)
            QCOMPARE(first->bodies[i].body.get(), again->bodies[i].body.get());
        work::setText(piece(work), "KITE KITTE");
        const auto longer = work::makeBodies(work, 0.05, cache, {});
        QCOMPARE(longer->bodies.front().body.get(), first->bodies.front().body.get());
        piece(work).slab()->depthPt += 1;
        QVERIFY(work::makeBodies(work, 0.05, cache, {})->bodies.front().body != first->bodies.front().body);
    }

    // A square stem grown by d: Minkowski sum with a disc, A + P d + pi d^2; thinned by t: (a - 2t)(b - 2t). A step that is off, or 0,
    // changes nothing; steps follow each other, so that thinning after growing gives a convex shape back.
    void stepsChangeTheOutlines()
    {
        Work work = kites("I");
        piece(work).form = solid::SlabForm{10, {}, {}, solid::Corners::Round};
        const auto area = [&] {
            double volume = 0;
            for (const auto& b : bodiesOf(work).bodies)
                volume += solid::inspect(*b.body).volumePt3;
            return volume / 10;
        };
        const auto size = [&] { return worldBox(bodiesOf(work)).size(); };
        const double before = area();
        const base::Vec3 is = size();
        QVERIFY(std::abs(before - is.x * is.y) < 1e-3 * before);  // the face's I is a rectangle
        piece(work).steps.add("g5", {true, work::Grow{3}});
        QVERIFY(std::abs(area() - (before + 2 * (is.x + is.y) * 3 + base::kPi * 9)) < 2e-3 * before);
        QVERIFY(std::abs(size().x - (is.x + 6)) < 0.01);
        piece(work).steps.items.at("g5").on = false;
        QVERIFY(std::abs(area() - before) < 1e-9);
        piece(work).steps.items.at("g5") = {true, work::Grow{-3}};
        QVERIFY(std::abs(area() - (is.x - 6) * (is.y - 6)) < 2e-3 * before);
        piece(work).steps.items.at("g5") = {true, work::Grow{4}};
        piece(work).steps.add("g6", {true, work::Grow{-4}});
        QVERIFY(std::abs(area() - before) < 2e-3 * before);
        for (const auto& b : bodiesOf(work).bodies)
            QVERIFY(solid::isClosed(*b.body));
        // Thinned away it is said, and nothing else goes with it.
        piece(work).steps = {};
        piece(work).steps.add("g5", {true, work::Grow{-is.x}});
        const work::WorkBodies none = bodiesOf(work);
        QVERIFY(none.bodies.empty());
        QVERIFY(std::any_of(none.notes.begin(), none.notes.end(),
                            [](const base::Note& n) { return n.kind == "thinned-away" && n.place == "pieces/p1/letters/a1"; }));
    }

    // A letter with a form or a place of its own is a body of its own; the others stay as they were.
    void aLetterHasItsOwn()
    {
        Work work = kites("AVA");
        const work::WorkBodies before = bodiesOf(work);
        const std::string second = piece(work).lettering()->letterIds[1];
        work::LetterOwn& own = piece(work).letters[second];
        own.form = piece(work).form;
        std::get<solid::SlabForm>(*own.form).depthPt = 90;
        own.x = 5;
        own.z = 12;
        const work::WorkBodies after = bodiesOf(work);
        QCOMPARE(after.bodies.size(), std::size_t{3});
        int own2 = 0;
        for (const auto& b : after.bodies) {
            const base::Box3 box = solid::bounds(*b.body);
            const bool isSecond = b.letters == std::vector{second};
            own2 += isSecond;
            QVERIFY(std::abs(box.high.z - (isSecond ? 90 : piece(work).slab()->depthPt)) < 1e-4);
            QCOMPARE(b.pose.origin.z, isSecond ? 12.0 : 0.0);
        }
        QCOMPARE(own2, 1);
        QCOMPARE(before.bodies.size(), std::size_t{3});
        // Turned by 180 degrees about its middle its bounds stay.
        own = {};
        const base::Box3 upright = worldBox(bodiesOf(work));
        own.roll = 180;
        QVERIFY(length(worldBox(bodiesOf(work)).size() - upright.size()) < 0.2);
        // What a letter had goes with it.
        work::setText(piece(work), "AA");
        QVERIFY(piece(work).letters.empty());
    }

    // Letters that touch are one body and still keep their own materials.
    void touchingLettersKeepTheirMaterials()
    {
        Work work = kites("AVA");
        piece(work).lettering()->layout.tracking = -250;
        const std::string second = piece(work).lettering()->letterIds[1];
        work::MaterialSet blue = piece(work).material;
        blue.piece.baseColour = {0, 0, 1};
        piece(work).letters[second].material = blue;
        const work::WorkBodies bodies = bodiesOf(work);
        QCOMPARE(bodies.bodies.size(), std::size_t{1});
        const render::Scene scene = work::makeScene(work, bodies);
        const auto& placed = scene.bodies.front();
        QCOMPARE(placed.letterMaterials.size(), placed.letters.size());
        for (std::size_t i = 0; i < placed.letters.size(); ++i)
            QCOMPARE(scene.materials[std::size_t(placed.letterMaterials[i][0])].baseColour == blue.piece.baseColour,
                     placed.letters[i] == 1);
    }

    // Linked copies: each a step deeper, further back and nearer to the tint; the outline grows by the step on every side.
    void copiesFollow()
    {
        Work work = kites("I");
        piece(work).form = solid::SlabForm{10, {}, {}, solid::Corners::Round};
        piece(work).material.piece.baseColour = {1, 0, 0};
        piece(work).copies = {2, 5, 3, 20, 0, {0, 0, 1}, 0.5};
        work.pieces.items.at("p1").placement.stance = Stance::Free;
        const work::WorkBodies bodies = bodiesOf(work, 0.01);
        QCOMPARE(bodies.bodies.size(), std::size_t{3});
        const render::Scene scene = work::makeScene(work, bodies);
        const base::Vec3 size = solid::bounds(*bodies.bodies[0].body).size();
        for (int k = 0; k < 3; ++k) {
            const auto& b = bodies.bodies[std::size_t(k)];
            const base::Box3 box = solid::bounds(*b.body);
            QCOMPARE(b.copy, k);
            QVERIFY(std::abs(box.size().x - size.x - 6 * k) < 0.03 && std::abs(box.size().y - size.y - 6 * k) < 0.03);
            QVERIFY(std::abs(box.size().z - (10 + 5 * k)) < 1e-4);
            QCOMPARE(b.pose.origin.z, -20.0 * k);
            const auto colour = scene.materials[std::size_t(scene.bodies[std::size_t(k)].materials[0])].baseColour;
            QVERIFY(std::abs(colour.z - (1 - std::exp2(-k))) < 1e-6);
            QVERIFY(solid::inspect(*b.body).closed());
        }
    }

    void whatIsWrongIsNoted_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("family");
        QTest::addColumn<QString>("kind");
        QTest::newRow("empty") << ""
                               << "League Spartan"
                               << "empty";
        QTest::newRow("blanks") << " \n "
                                << "League Spartan"
                                << "empty";
        QTest::newRow("emoji") << QString::fromUtf8("A\U0001F6A9") << "League Spartan"
                               << "missing-glyph";
        QTest::newRow("font") << "KITE"
                              << "No Such Face 12345"
                              << "missing-font";
    }

    void whatIsWrongIsNoted()
    {
        QFETCH(QString, text);
        QFETCH(QString, family);
        QFETCH(QString, kind);
        Work work = kites(text.toStdString());
        piece(work).lettering()->font.family = family.toStdString();
        piece(work).lettering()->font.style.clear();
        const work::WorkBodies bodies = bodiesOf(work);
        QVERIFY(!bodies.notes.empty());
        QCOMPARE(QString::fromStdString(bodies.notes.front().kind), kind);
        QVERIFY(QString::fromStdString(bodies.notes.front().place).startsWith("pieces/p1"));
        work::StillSettings settings;
        settings.widthPx = 16;
        settings.heightPx = 12;
        settings.stop = {1, 0, 0};
        QVERIFY(still(work, settings).picture.width == 16);  // a picture all the same
    }

    // A power of two of at most 0.15 px.
    void tolerance()
    {
        const double t = work::toleranceFor({1920, 1080, work::Unit::Px, 72}, 1920);
        QCOMPARE(t, 0.125);
        QCOMPARE(work::toleranceFor({1920, 1080, work::Unit::Px, 72}, 7680), 0.03125);
    }
};

OPEN_GLOW_TEST(TestBodies)
#include "test_bodies.moc"
