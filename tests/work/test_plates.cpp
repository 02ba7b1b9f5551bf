// Plates and rims: as large as what they go round and their margin, and always with it.
#include <QtTest>

#include "base/units.h"
#include "session/edits.h"
#include "session/gestures.h"
#include "solid/check.h"
#include "support/support.h"
#include "work/bodies.h"
#include "work/piece_outlines.h"

using base::kPi;
using work::Stance;
using work::Work;

namespace {

work::Piece shape(work::ShapeKind kind, double width, double height)
{
    work::Piece piece;
    work::Shape s;
    s.kind = kind;
    s.width = width;
    s.height = height;
    s.inner = 0.5;
    piece.source = s;
    piece.form = solid::SlabForm{10};
    return piece;
}

// The piece "p1" with a plate "b" round it.
Work withPlate(work::Piece piece, double margin, double rim = 0)
{
    Work w;
    w.pieces.add("p1", std::move(piece));
    work::Piece plate = shape(work::ShapeKind::Plate, 1, 1);
    plate.shape()->piece = "p1";
    plate.shape()->margin = margin;
    plate.shape()->rim = rim;
    plate.form = solid::SlabForm{4};
    plate.placement.stance = Stance::Free;
    w.pieces.add("b", std::move(plate));
    return w;
}

work::WorkBodies bodiesOf(const Work& w)
{
    work::Cache cache;
    auto bodies = work::makeBodies(w, 0.01, cache, {});
    if (!bodies)
        qFatal("%s", bodies.error().message.c_str());
    return std::move(*bodies);
}

double volumeOf(const Work& w, const std::string& piece)
{
    double volume = 0;
    for (const work::WorkBody& body : bodiesOf(w).bodies)
        if (body.piece == piece)
            volume += solid::volume(*body.body);
    return volume;
}

base::Box3 boxOf(const Work& w, const std::string& piece)
{
    base::Box3 box;
    for (const work::WorkBody& body : bodiesOf(w).bodies)
        if (body.piece == piece)
            for (const auto& p : body.body->positions)
                box.add(body.pose.apply(toDouble(p)));
    return box;
}

bool near(double value, double expected, double tolerance)
{
    if (std::abs(value - expected) <= tolerance)
        return true;
    qWarning("%.6f instead of %.6f", value, expected);
    return false;
}

}  // namespace

class TestPlates : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Grown by g a convex outline has the area A + L g + pi g^2 (J. Steiner, 1840); a rim is the difference of two.
    void areas()
    {
        const auto area = [](double g) { return 100 * 60 + 320 * g + kPi * g * g; };
        const work::Piece board = shape(work::ShapeKind::Rectangle, 100, 60);
        QVERIFY(near(volumeOf(withPlate(board, 8), "b"), 4 * area(8), 2));
        QVERIFY(near(volumeOf(withPlate(board, 8, 5), "b"), 4 * (area(13) - area(8)), 2));
        QVERIFY(near(volumeOf(withPlate(board, -10), "b"), 4 * 80 * 40, 2));  // inside it
        Work copies = withPlate(board, 8);
        copies.pieces.items.at("b").copies = {1, 0, 5, 4, 0, {}, 0};
        QVERIFY(near(volumeOf(copies, "b"), 4 * (area(8) + area(13)), 8));
    }

    // A ring's hole is filled or stays; where the margin closes it there is none.
    void holes()
    {
        Work w = withPlate(shape(work::ShapeKind::Ring, 100, 100), 5);
        QVERIFY(near(volumeOf(w, "b"), 4 * kPi * 55 * 55, 10));
        w.pieces.items.at("b").shape()->fillsHoles = false;
        QVERIFY(near(volumeOf(w, "b"), 4 * kPi * (55 * 55 - 20 * 20), 10));
        w.pieces.items.at("b").shape()->margin = 30;
        QVERIFY(near(volumeOf(w, "b"), 4 * kPi * 80 * 80, 20));
    }

    // Its front lies on the piece's back, however that stands: turned and tilted, on the floor, against the wall, where the piece comes
    // forward by as much as the plate is deep.
    void behindItsPiece()
    {
        Work w = withPlate(shape(work::ShapeKind::Rectangle, 100, 60), 8);
        work::Placement& p = w.pieces.items.at("p1").placement;
        p = {Stance::Free, 20, -10, 30, 35, 20, 15};
        for (const auto& body : bodiesOf(w).bodies) {
            const base::Pose plane = work::poseOf(p, w.ground);
            double low = 1e9, high = -1e9;
            for (const auto& q : body.body->positions) {
                const double out = dot(body.pose.apply(toDouble(q)) - plane.origin, plane.out);
                low = std::min(low, out);
                high = std::max(high, out);
            }
            QVERIFY(near(low, body.piece == "b" ? -4 : 0, 1e-3) && near(high, body.piece == "b" ? 0 : 10, 1e-3));
        }
        w.pieces.items.at("b").shape()->behind = false;
        p = {Stance::Free, 0, 0, 30, 0, 0, 0};
        QVERIFY(near(boxOf(w, "b").low.z, 30, 1e-3));
        w.pieces.items.at("b").shape()->behind = true;
        p = {Stance::AgainstWall, 5, 6};
        w.ground.wallBehind = 50;
        QVERIFY(near(boxOf(w, "b").low.z, -50, 1e-3) && near(boxOf(w, "p1").low.z, -46, 1e-3));
        w.pieces.items.at("b").form = solid::SlabForm{9};
        QVERIFY(near(boxOf(w, "p1").low.z, -41, 1e-3));
        w.pieces.items.at("b").hidden = true;
        QVERIFY(near(boxOf(w, "p1").low.z, -50, 1e-3));
        w.pieces.items.at("b").hidden = false;
        p = {Stance::OnFloor};
        w.ground.floorBelow = 70;
        QVERIFY(near(boxOf(w, "b").low.y, -70, 1e-3) && near(boxOf(w, "b").high.y, -70 + 60 + 8, 0.05));  // it ends at the floor
    }

    // It follows text, letters that are moved by hand, and what is moved; moved by itself it keeps the distance. Together they go once.
    void followsItsPiece()
    {
        Work w = work::newWork("KITE", {"League Spartan", "Bold", {}, 0, {}}, {});
        session::Choice choice;
        choice.set({"p1", {}});
        const std::vector<std::string> made = session::addPlates(w, choice, true, true);
        QCOMPARE(made.size(), 2u);
        const std::string plate = made[0], rim = made[1];
        const base::Box3 before = boxOf(w, plate), letters = boxOf(w, "p1");
        const double margin = w.pieces.items.at(plate).shape()->margin;
        QVERIFY(near(before.low.x, letters.low.x - margin, 0.1) && near(before.high.y, letters.high.y + margin, 0.1));
        QVERIFY(near(before.high.z, letters.low.z, 1e-3) && near(boxOf(w, rim).low.z, letters.low.z, 1e-3));
        w.pieces.items.at(rim).form = w.pieces.items.at("p1").form;  // as high as the letters it is no face over another
        QVERIFY(bodiesOf(w).notes.empty());
        work::setText(w.pieces.items.at("p1"), "KITE FAIR");
        QVERIFY(near(boxOf(w, plate).low.x, boxOf(w, "p1").low.x - margin, 0.1));
        const double left = boxOf(w, plate).low.x;
        w = session::nudged(w, {{"p1", {}}, {plate, {}}, {rim, {}}}, {12, 0, 0});
        QVERIFY(near(boxOf(w, plate).low.x, left + 12, 1e-3) && near(boxOf(w, rim).low.x - boxOf(w, plate).low.x, 0, 0.2));
        w = session::nudged(w, {{plate, {}}}, {0, 3, 0});
        QVERIFY(near(boxOf(w, plate).low.x, left + 12, 1e-3));
        w.pieces.items.at("p1").letters["a1"].y = 40;
        QVERIFY(near(boxOf(w, plate).high.y, boxOf(w, "p1").high.y + margin + 3, 0.1));
        // A copy of both goes round the copy.
        const auto copies = session::duplicate(w, {"p1", plate});
        QCOMPARE(w.pieces.items.at(copies[1]).shape()->piece, copies[0]);
    }

    // Round some letters only; a plate round a plate; itself it cannot go round; what is gone is told.
    void whatItGoesRound()
    {
        Work w = work::newWork("KITE", {"League Spartan", "Bold", {}, 0, {}}, {});
        session::Choice choice;
        choice.set({"p1", w.pieces.items.at("p1").letterIds()[0]});
        const std::string plate = session::addPlates(w, choice, true, false).front();
        QVERIFY(boxOf(w, plate).high.x < boxOf(w, "p1").high.x - 20);
        const std::string next = session::addPlates(w, choice, true, false).front();
        QCOMPARE(w.pieces.items.at(next).shape()->piece, plate);
        QVERIFY(near(boxOf(w, next).high.z, boxOf(w, plate).low.z, 1e-3));
        session::remove(w, {next});
        work::Piece second = w.pieces.items.at(plate);
        second.shape()->piece = plate;
        second.shape()->letters.clear();
        w.pieces.add("second", second);
        QVERIFY(near(boxOf(w, "second").low.x, boxOf(w, plate).low.x - second.shape()->margin, 0.1));
        QVERIFY(near(boxOf(w, "second").high.z, boxOf(w, plate).low.z, 1e-3));
        w.pieces.items.at(plate).shape()->piece = "second";  // round each other: neither has anything to go round
        QVERIFY(boxOf(w, "second").empty());
        w.pieces.items.at(plate).shape()->piece = "p9";
        const auto notes = bodiesOf(w).notes;
        QVERIFY(std::any_of(notes.begin(), notes.end(),
                            [&](const base::Note& n) { return n.kind == "plate-alone" && n.place == "pieces/" + plate; }));
    }

    // As a drawing it is what it is in the picture.
    void asADrawing()
    {
        const Work w = withPlate(shape(work::ShapeKind::Rectangle, 100, 60), 8);
        work::Cache cache;
        const auto drawn = work::drawnLetters(w, "b", 0.01, cache);
        QVERIFY(drawn && drawn->size() == 1);
        double low = 0, high = 0;
        for (const auto& contour : drawn->front().shape.contours)
            for (const auto& curve : contour) {
                low = std::min(low, curve.p[0].x);
                high = std::max(high, curve.p[0].x);
            }
        QVERIFY(near(low, -58, 0.05) && near(high, 58, 0.05));
    }
};

OPEN_GLOW_TEST(TestPlates)
#include "test_plates.moc"
