// Lettering on lines and between two of them, and shapes of our own, as pieces of a work.
#include <QtTest>

#include <cmath>
#include <numbers>
#include <set>

#include "files/work_json.h"
#include "support/support.h"
#include "work/fit.h"
#include "work/piece_outlines.h"
#include "work/runs.h"
#include "work/shapes.h"
#include "work/values.h"
#include "works.h"

using base::Vec2;
using std::numbers::pi;

namespace {

work::Work withShape(const work::Shape& shape)
{
    work::Work work = works::kites();
    works::piece(work).source = shape;
    return work;
}

double areaOf(const work::Work& work, const std::string& piece = "p1", double tolerance = 0.001)
{
    work::Cache cache;
    const auto outlines = work::outlinesOf(work, piece, tolerance, cache, {});
    double area = 0;
    for (const auto& part : outlines->parts)
        for (const auto& o : part.outlined->outlines)
            area += outline::area(*o.outline);
    return area;
}

work::Run& runOf(work::Work& work)
{
    return works::piece(work).lettering()->run;
}

// Middles of the bodies' boxes.
std::vector<base::Vec3> middles(const work::WorkBodies& bodies)
{
    std::vector<base::Vec3> all;
    for (const work::WorkBody& body : bodies.bodies) {
        base::Box3 own;
        for (const base::Vec3f& p : body.body->positions)
            own.add(body.pose.apply(toDouble(p)));
        all.push_back(own.centre());
    }
    return all;
}

work::LinePoint point(double x, double y)
{
    return {x, y, 0, 0, 0, 0};
}

}  // namespace

class TestRuns : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void lettersStandRoundACircle()
    {
        work::Work work = works::kites("OOOOOO");
        works::piece(work).lettering()->layout.sizePt = 40;
        runOf(work).kind = work::RunKind::Circle;
        runOf(work).width = 300;
        const work::WorkBodies bodies = works::bodiesOf(work);
        QCOMPARE(bodies.bodies.size(), std::size_t(6));
        const auto at = middles(bodies);
        const double reach = std::hypot(at[0].x, at[0].y);
        QVERIFY(reach > 150 && reach < 180);
        for (std::size_t i = 0; i < at.size(); ++i) {
            QVERIFY(std::abs(std::hypot(at[i].x, at[i].y) - reach) < 0.3);
            // One body, turned: a letter typed into a long text makes none of the others anew.
            QCOMPARE(bodies.bodies[i].body, bodies.bodies[0].body);
        }
        QVERIFY(std::abs(at[0].x + at[5].x) < 1);  // even about the top
        QVERIFY(at[2].y > at[0].y);

        // Hanging they are inside; from the other end they are in the lower half, still from the left.
        runOf(work).side = work::Side::Under;
        const auto under = middles(works::bodiesOf(work));
        QVERIFY(std::hypot(under[0].x, under[0].y) < 150);
        runOf(work).backwards = true;
        const auto below = middles(works::bodiesOf(work));
        QVERIFY(below[0].y < -100 && below[0].x < below[5].x);
        QVERIFY(std::hypot(below[0].x, below[0].y) > 150);  // hanging from the line there is outside
        // A quarter on.
        runOf(work) = {};
        runOf(work).kind = work::RunKind::Circle;
        runOf(work).width = 300;
        runOf(work).start = 0.25;
        const auto right = middles(works::bodiesOf(work));
        QVERIFY(right[2].x > 140);
        QVERIFY(std::abs(right[2].y + right[3].y) < 1);
    }

    void uprightLettersDoNotTurn()
    {
        work::Work work = works::kites("III");
        runOf(work).kind = work::RunKind::Arc;
        runOf(work).bend = 120;
        const auto turned = works::bodiesOf(work);
        QVERIFY(std::abs(turned.bodies[0].pose.right.y) > 0.2);
        runOf(work).upright = true;
        for (const work::WorkBody& body : works::bodiesOf(work).bodies)
            QCOMPARE(body.pose.right.y, 0.0);
    }

    void anArcKeepsTheMiddleLetterInItsPlace()
    {
        work::Work work = works::kites("OIO");
        works::piece(work).lettering()->layout.tracking = 300;  // far enough not to meet where the arc hangs
        const auto straight = middles(works::bodiesOf(work));
        runOf(work).kind = work::RunKind::Arc;
        for (const double bend : {30.0, 180.0, -90.0}) {
            runOf(work).bend = bend;
            const auto bent = middles(works::bodiesOf(work));
            QVERIFY2(std::abs(bent[1].x - straight[1].x) < 0.5 && std::abs(bent[1].y - straight[1].y) < 0.5,
                     qPrintable(QString("%1: %2 %3").arg(bend).arg(bent[1].x - straight[1].x).arg(bent[1].y - straight[1].y)));
            QVERIFY(bend > 0 ? bent[0].y < straight[0].y : bent[0].y > straight[0].y);
        }
        runOf(work).bend = 0.0;
        QCOMPARE(works::bodiesOf(work).bodies.size(), std::size_t(3));
    }

    // A drawn level line, an amount of 0 and a kind of a newer version: the lettering as it was.
    void whatIsStraightChangesNothing()
    {
        work::Work work = works::kites("Kite fair");
        const auto straight = works::bodiesOf(work);
        runOf(work).kind = work::RunKind::TwoLines;
        runOf(work).amount = 0;
        const auto none = works::bodiesOf(work);
        QCOMPARE(none.bodies.size(), straight.bodies.size());
        for (std::size_t i = 0; i < none.bodies.size(); ++i) {
            QVERIFY(none.bodies[i].body->positions == straight.bodies[i].body->positions);
            QVERIFY(none.bodies[i].pose.origin == straight.bodies[i].pose.origin);
        }
        runOf(work).newer.emplace(work::Newer{"moebius", "{}"});
        QCOMPARE(works::bodiesOf(work).bodies.size(), straight.bodies.size());

        runOf(work) = {};
        runOf(work).kind = work::RunKind::Drawn;
        runOf(work).line.points.add("n1", point(-400, -30));
        runOf(work).line.points.add("n2", point(400, -30));
        const auto drawn = works::bodiesOf(work);
        for (std::size_t i = 0; i < drawn.bodies.size(); ++i) {
            QVERIFY(drawn.bodies[i].body->positions == straight.bodies[i].body->positions);
            QVERIFY(std::abs(drawn.bodies[i].pose.origin.x - straight.bodies[i].pose.origin.x) < 1e-6);
        }
        // Without points it says so and stays straight.
        runOf(work).line = {};
        const auto empty = works::bodiesOf(work);
        QCOMPARE(empty.bodies.size(), straight.bodies.size());
        QVERIFY(std::any_of(empty.notes.begin(), empty.notes.end(), [](const base::Note& n) { return n.kind == "no-line"; }));
    }

    void letteringRunsRoundAPiece()
    {
        work::Work work = works::kites("KITE FAIR");
        work::Shape disc;
        disc.kind = work::ShapeKind::Ellipse;
        disc.width = disc.height = 300;
        work::Piece plate;
        plate.source = disc;
        work.pieces.add("p2", plate);
        runOf(work).kind = work::RunKind::Circle;
        runOf(work).width = 300;
        works::piece(work).lettering()->layout.sizePt = 50;
        const auto circle = middles(works::bodiesOf(work));
        runOf(work).kind = work::RunKind::Artwork;
        runOf(work).piece = "p2";
        const auto round = middles(works::bodiesOf(work));
        QCOMPARE(round.size(), circle.size());
        for (std::size_t i = 0; i + 1 < round.size(); ++i)  // the last one is the piece itself
            QVERIFY(std::hypot(round[i].x - circle[i].x, round[i].y - circle[i].y) < 0.5);
        work.pieces.items.erase("p2");
        std::erase(work.pieces.order, "p2");
        const auto gone = works::bodiesOf(work);
        QVERIFY(std::any_of(gone.notes.begin(), gone.notes.end(), [](const base::Note& n) { return n.kind == "no-line"; }));
    }

    void twoLinesBendEveryLetterWhereItStands()
    {
        work::Work work = works::kites("HHH");
        const auto straight = works::bodiesOf(work);
        runOf(work).kind = work::RunKind::TwoLines;
        runOf(work).lines = outline::LineStart::Barrel;
        runOf(work).amount = 1;
        const auto bent = works::bodiesOf(work);
        QCOMPARE(bent.bodies.size(), std::size_t(3));
        const auto height = [](const work::WorkBody& b) {
            const base::Box3 box = work::worldBox(b);
            return box.high.y - box.low.y;
        };
        QVERIFY(height(bent.bodies[1]) > 1.8 * height(straight.bodies[1]));
        QVERIFY(height(bent.bodies[0]) < height(bent.bodies[1]));
        // Own points, as the lines were, change nothing; a letter keeps what it has of its own.
        const outline::TwoLines lines = work::linesOf(runOf(work));
        for (std::size_t i = 0; i < lines.top.size(); ++i)
            runOf(work).top.add("n" + std::to_string(i + 1), {lines.top[i]});
        for (std::size_t i = 0; i < lines.bottom.size(); ++i)
            runOf(work).bottom.add("n" + std::to_string(i + 1), {lines.bottom[i]});
        const auto own = works::bodiesOf(work);
        for (std::size_t i = 0; i < own.bodies.size(); ++i)
            QVERIFY(own.bodies[i].body->positions == bent.bodies[i].body->positions);
        const std::string first = works::piece(work).letterIds()[0];
        works::piece(work).letters[first].y = 40;
        const auto moved = middles(works::bodiesOf(work)), before = middles(own);
        QVERIFY(std::any_of(moved.begin(), moved.end(), [&](base::Vec3 m) { return std::abs(m.y - before[0].y - 40) < 0.5; }));
    }

    void eachLineIsBentByItself()
    {
        work::Work work = works::kites("HH\nHH");
        runOf(work).kind = work::RunKind::TwoLines;
        runOf(work).lines = outline::LineStart::Pennant;
        runOf(work).amount = 1;
        const auto height = [](const work::WorkBody& b) { return work::worldBox(b).high.y - work::worldBox(b).low.y; };
        const auto block = works::bodiesOf(work);
        runOf(work).eachLine = true;
        const auto each = works::bodiesOf(work);
        QVERIFY(std::abs(height(each.bodies[0]) - height(each.bodies[2])) < 0.1);
        QVERIFY(std::abs(work::worldBox(block.bodies[0]).low.y - work::worldBox(each.bodies[0]).low.y) > 1);
    }

    void itStandsOnTheFloorWithItsLowestPlace()
    {
        work::Work work = works::kites("KITES");
        work.ground.kind = render::GroundKind::Floor;
        works::piece(work).placement.stance = work::Stance::OnFloor;
        for (const work::RunKind kind : {work::RunKind::Straight, work::RunKind::Arc, work::RunKind::Circle, work::RunKind::TwoLines}) {
            runOf(work).kind = kind;
            runOf(work).lines = outline::LineStart::Valley;
            base::Box3 box;
            for (const auto& place : works::bodiesOf(work).places)
                box = place.box;
            QVERIFY2(std::abs(box.low.y + work.ground.floorBelow) < 3, qPrintable(QString::number(box.low.y)));
        }
    }

    void fittedLetteringFitsAsItIsBent()
    {
        for (const work::RunKind kind : {work::RunKind::Arc, work::RunKind::TwoLines}) {
            work::Work work = works::kites("KITE FAIR");
            runOf(work).kind = kind;
            runOf(work).bend = 160;
            runOf(work).amount = 1.5;
            work::Cache cache;
            QVERIFY(work::fitToSheet(work, "p1", cache));
            const base::Box3 box = works::bodiesOf(work).places[0].box;
            QVERIFY(box.high.x - box.low.x < 0.9 * work.sheet().widthPt());
            QVERIFY(box.high.y - box.low.y < 0.85 * work.sheet().heightPt());
            QVERIFY(box.high.x - box.low.x > 0.6 * work.sheet().widthPt() || box.high.y - box.low.y > 0.6 * work.sheet().heightPt());
        }
        work::Work work = works::kites("KITE");
        runOf(work).kind = work::RunKind::Circle;
        const double size = works::piece(work).sizePt();
        work::Cache cache;
        QVERIFY(work::fitToSheet(work, "p1", cache));
        QCOMPARE(works::piece(work).sizePt(), size);
        work::scaleTo(works::piece(work), size * 2);
        QCOMPARE(runOf(work).width, 400.0);
    }

    // Closed forms of plane geometry.
    void shapesHaveTheirAreas()
    {
        work::Shape s;
        s.width = 200;
        s.height = 100;
        s.round = 20;
        const auto near = [&](double expected) {
            const double found = areaOf(withShape(s));
            if (std::abs(found / expected - 1) > 2e-4)
                qWarning("%g instead of %g", found, expected);
            return std::abs(found / expected - 1) <= 2e-4;
        };
        QVERIFY(near(200 * 100 - (4 - pi) * 20 * 20));
        s.round = 500;  // as far as the sides allow
        QVERIFY(near(100 * 100 + pi * 50 * 50));
        s.kind = work::ShapeKind::Ellipse;
        QVERIFY(near(pi * 100 * 50));
        s.kind = work::ShapeKind::Ring;
        s.inner = 0.6;
        QVERIFY(near(pi * 100 * 50 * (1 - 0.36)));
        s.kind = work::ShapeKind::Polygon;
        s.round = 0;
        s.points = 6;
        QVERIFY(near(100 * 50 * 6 / 2.0 * std::sin(2 * pi / 6)));
        s.kind = work::ShapeKind::Star;
        s.points = 5;
        s.inner = 0.4;
        QVERIFY(near(5 * 100 * 50 * 0.4 * std::sin(pi / 5)));
        // A closed line is filled, an open one has a stroke with round ends.
        s.kind = work::ShapeKind::Drawn;
        s.stroke = 12;
        s.line.points.add("n1", point(0, 0));
        s.line.points.add("n2", point(80, 0));
        QVERIFY(near(80 * 12 + pi * 36));
        s.line.points.add("n3", point(80, 60));
        s.line.closed = true;
        QVERIFY(near(80 * 60 / 2.0));
        // An arc's stroke: its length times its width, and the ends.
        s.line = {};
        const double h = 4.0 / 3 * std::tan(pi / 8) * 100;
        s.line.points.add("n1", {100, 0, 0, 0, 0, h});
        s.line.points.add("n2", {0, 100, h, 0, 0, 0});
        QVERIFY(near(pi / 2 * 100 * 12 + pi * 36));
        // One that turns more sharply than it is wide has no holes.
        s.line.points.items.at("n1") = {0, 0, 0, 0, 60, 0};
        s.line.points.items.at("n2") = {0, 4, 60, 0, 0, 0};
        s.stroke = 40;
        work::Cache cache;
        const auto outlines = work::outlinesOf(withShape(s), "p1", 0.01, cache, {});
        QCOMPARE(outlines->parts[0].outlined->outlines.size(), std::size_t(1));
        QCOMPARE(outlines->parts[0].outlined->outlines[0].outline->contours.size(), std::size_t(1));
    }

    void shapesAreBodiesLikeAnyOther()
    {
        work::Shape s;
        s.kind = work::ShapeKind::Star;
        work::Work work = withShape(s);
        works::piece(work).copies.count = 1;
        works::piece(work).copies.growth = 4;
        works::piece(work).copies.back = 5;
        const auto bodies = works::bodiesOf(work);
        QCOMPARE(bodies.bodies.size(), std::size_t(2));
        QCOMPARE(bodies.bodies[0].letters, std::vector<std::string>{work::kShapeLetter});
        QVERIFY(bodies.notes.empty());
        QCOMPARE(work::titleOf(works::piece(work)), "Star");
        work::scaleTo(works::piece(work), 400);
        QCOMPARE(works::piece(work).shape()->width, 400.0);
        works::piece(work).source = work::Shape{work::ShapeKind::Drawn};
        const auto none = works::bodiesOf(work);
        QVERIFY(none.bodies.empty());
        QCOMPARE(none.notes.front().kind, std::string("empty"));
        work::Cache cache;
        works::piece(work).source = s;
        const auto drawn = work::drawnLetters(work, "p1", 0.1, cache);
        QVERIFY(drawn && drawn->size() == 1);
    }

    // Turned letters leave as curves, where they are.
    void curvesGoOutWhereLettersStand()
    {
        work::Work work = works::kites("OOO");
        runOf(work).kind = work::RunKind::Circle;
        runOf(work).width = 500;
        works::piece(work).placement.x = 30;
        work::Cache cache;
        const auto drawn = work::drawnLetters(work, "p1", 0.05, cache);
        QVERIFY(drawn);
        const auto bodies = works::bodiesOf(work);
        const auto at = middles(bodies);
        for (std::size_t i = 0; i < 3; ++i) {
            base::Box2 box;
            for (const auto& contour : (*drawn)[i].shape.contours)
                for (const outline::Curve& c : contour)
                    for (int k = 0; k <= 20; ++k)
                        box.add(outline::pointAt(c, k / 20.0));
            const Vec2 middle = (box.low + box.high) * 0.5;
            QVERIFY(std::hypot(middle.x - at[i].x, middle.y - at[i].y) < 0.3);
        }
        runOf(work).kind = work::RunKind::TwoLines;
        QVERIFY(work::drawnLetters(work, "p1", 0.05, cache)->size() == 3);
    }

    void aWorkKeepsThem()
    {
        work::Work work = works::kites("KITE");
        runOf(work).kind = work::RunKind::Drawn;
        runOf(work).line.points.add("n2", {1, 2, 3, 4, 5, 6});
        runOf(work).line.points.add("n1", point(90, 2));
        runOf(work).top.add("n1", {{0, 1.5, 0, 0, 0.3, 0}});
        work::Piece star;
        star.source = work::Shape{work::ShapeKind::Star, 120, 80, 3, 7, 0.3};
        work.pieces.add("p7", star);
        work.nextId = 8;
        const auto read = files::fromJson(files::toJson(work));
        QVERIFY(read);
        QVERIFY(*read == work);
        // What a gesture changed and nothing else: the text that was typed meanwhile stays.
        work::Work after = work, typed = work;
        runOf(after).line.points.items.at("n2").x = 50;
        runOf(after).start = 0.2;
        after.pieces.items.at("p7").shape()->width = 333;
        work::setText(works::piece(typed), "KITES");
        work::applyDifference(typed, work, after);
        QCOMPARE(runOf(typed).line.points.items.at("n2").x, 50.0);
        QCOMPARE(runOf(typed).start, 0.2);
        QCOMPARE(typed.pieces.items.at("p7").shape()->width, 333.0);
        QCOMPARE(works::piece(typed).lettering()->text, std::string("KITES"));
        runOf(after).line.points.add("n3", point(1, 1));
        work::applyDifference(typed, work, after);
        QCOMPARE(runOf(typed).line.points.order.size(), std::size_t(3));
    }
};

OPEN_GLOW_TEST(TestRuns)
#include "test_runs.moc"
