// Handles of lines as mathematics: where a hand puts one, there it is.
#include <QtTest>

#include <cmath>

#include "session/lines.h"
#include "support/support.h"

using base::Vec2;
using session::LineHandle;
using Kind = LineHandle::Kind;

namespace {

struct Placed {
    work::Work work;
    work::Cache cache;

    explicit Placed(const std::string& text = "KITE")
    {
        work::FontChoice font;
        font.style = "Bold";
        work = work::newWork(text, font, {800, 600, work::Unit::Px, 72});
    }
    work::Piece& piece() { return work.pieces.items.at("p1"); }
    work::Run& run() { return piece().lettering()->run; }
    work::PiecePlace place()
    {
        const auto bodies = work::makeBodies(work, 0.5, cache, {});
        return bodies->places.front();
    }
    std::optional<LineHandle> handle(Kind kind, int number = 0, const std::string& step = {})
    {
        for (const LineHandle& h : session::lineHandles(piece(), place(), step))
            if (h.kind == kind && number-- == 0)
                return h;
        return std::nullopt;
    }
    // Moves it and looks where it is then.
    double missedBy(Kind kind, Vec2 by, int number = 0, const std::string& step = {})
    {
        const auto before = handle(kind, number, step);
        const Vec2 to = before->at + by;
        session::moveHandle(piece(), place(), *before, to);
        return length(handle(kind, number, step)->at - to);
    }
};

}  // namespace

class TestLineHandles : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void handlesGoWhereTheyAreDragged()
    {
        Placed p;
        p.run().kind = work::RunKind::Circle;
        QVERIFY(p.missedBy(Kind::Width, {30, 0}) < 1e-6);
        p.run().kind = work::RunKind::Ellipse;
        QVERIFY(p.missedBy(Kind::Width, {-40, 0}) < 1e-6);
        QVERIFY(p.missedBy(Kind::Height, {0, -25}) < 1e-6);
        p.run().kind = work::RunKind::Arc;
        QVERIFY(p.missedBy(Kind::Bend, {0, -0.0}) < 1e-6);
        const double bend = p.run().bend;
        const auto end = p.handle(Kind::Bend);
        session::moveHandle(p.piece(), p.place(), *end, end->at + Vec2{0, 40});
        QVERIFY(p.run().bend < bend);
        p.run().kind = work::RunKind::TwoLines;
        QVERIFY(p.missedBy(Kind::Point, {5, 12}, 1) < 1e-6);
        QVERIFY(p.missedBy(Kind::Point, {-3, -9}, 4) < 1e-6);
        QVERIFY(p.missedBy(Kind::Out, {6, 6}) < 1e-6);
        // A start: along the line.
        p.run() = {};
        p.run().kind = work::RunKind::Circle;
        const auto start = p.handle(Kind::Start);
        session::moveHandle(p.piece(), p.place(), *start, {p.run().width, 0});
        QVERIFY(std::abs(p.run().start - 0.25) < 1e-3);
        p.run().backwards = true;
        session::moveHandle(p.piece(), p.place(), *p.handle(Kind::Start), {0, -p.run().width});
        QVERIFY(std::abs(p.run().start) < 1e-3);
    }

    // Lines that were begun with are the same lines once they are points of their own.
    void ownPointsAreWhatWasSeen()
    {
        for (const auto start : {outline::LineStart::Hill, outline::LineStart::Swell, outline::LineStart::Fan, outline::LineStart::Road}) {
            Placed p;
            p.run().kind = work::RunKind::TwoLines;
            p.run().lines = start;
            p.run().amount = 0.7;
            const auto before = session::linesSeen(p.piece(), p.place());
            const auto handle = *p.handle(Kind::Point, 0);
            session::moveHandle(p.piece(), p.place(), handle, handle.at);
            QVERIFY(!p.run().top.items.empty());
            const auto after = session::linesSeen(p.piece(), p.place());
            for (std::size_t i = 0; i < before.size(); ++i)
                for (std::size_t k = 0; k < before[i].size(); ++k)
                    QVERIFY(length(before[i][k] - after[i][k]) < 1e-6);
        }
    }

    void armsOfACurveGoTogetherUnlessFree()
    {
        Placed p;
        p.run().kind = work::RunKind::Drawn;
        p.run().line.points.add("n1", {0, 0, 0, 0, 10, 0});
        p.run().line.points.add("n2", {100, 0, -20, 0, 10, 0});
        p.run().line.points.add("n3", {200, 0, -10, 0, 0, 0});
        const LineHandle out{Kind::Out, LineHandle::Line::Main, "n2", {}, {}, {}};
        session::moveHandle(p.piece(), p.place(), out, Vec2{100, 30} + p.place().shift);
        const work::LinePoint& point = p.run().line.points.items.at("n2");
        QVERIFY(std::abs(point.inX) < 1e-9 && std::abs(point.inY + 20) < 1e-9);
        session::moveHandle(p.piece(), p.place(), out, Vec2{140, 0} + p.place().shift, true);
        QVERIFY(std::abs(point.inY + 20) < 1e-9);
        // Corner and curve.
        const LineHandle at{Kind::Point, LineHandle::Line::Main, "n2", {}, {}, {}};
        session::toggleCorner(p.piece(), p.place(), at);
        QVERIFY(point.inX == 0 && point.outX == 0);
        session::toggleCorner(p.piece(), p.place(), at);
        QVERIFY(point.inX < 0 && point.outX > 0);
    }

    // A point more changes nothing of the line.
    void addedPointsKeepTheLine()
    {
        Placed p;
        p.run().kind = work::RunKind::Drawn;
        p.run().line.points.add("n1", {-200, 0, 0, 0, 80, 120});
        p.run().line.points.add("n2", {200, 0, -60, -90, 0, 0});
        const auto before = session::linesSeen(p.piece(), p.place()).front();
        const Vec2 near = before[before.size() / 3];
        QVERIFY(!session::addPoint(p.piece(), p.place(), near + Vec2{0, 80}, 5));
        QVERIFY(session::addPoint(p.piece(), p.place(), near, 5));
        QCOMPARE(p.run().line.points.order.size(), std::size_t(3));
        const outline::Route line(outline::curvesThrough({p.run().line.points.items.at(p.run().line.points.order[0]),
                                                          p.run().line.points.items.at(p.run().line.points.order[1]),
                                                          p.run().line.points.items.at(p.run().line.points.order[2])},
                                                         false),
                                  false);
        for (std::size_t i = 0; i < before.size(); i += 7)
            QVERIFY(length(line.at(line.length() * double(i) / double(before.size() - 1)).point + p.place().shift - before[i]) < 1);
        const LineHandle added{Kind::Point, LineHandle::Line::Main, p.run().line.points.order[1], {}, {}, {}};
        QVERIFY(session::removePoint(p.piece(), p.place(), added));
        QVERIFY(!session::removePoint(p.piece(), p.place(), {Kind::Point, LineHandle::Line::Main, "n1", {}, {}, {}}));
    }

    void cutsGoWithTheirLetter()
    {
        Placed p("IO");
        const std::string letter = p.piece().letterIds()[1];
        const work::LetterFrame frame{{30, -10}, 0.5};
        session::PenLine line{{{0, 0, 0, 0, 0, 0}, {50, 20, 0, 0, 0, 0}}, false};
        const std::string step = session::addCut(p.work, "p1", line, letter, frame);
        const auto& cut = std::get<work::Cut>(p.piece().steps.items.at(step).what);
        QVERIFY(length(frame.at({cut.line.points.items.at("n2").x, cut.line.points.items.at("n2").y}) - Vec2{50, 20}) < 1e-9);
        QVERIFY(p.missedBy(Kind::Point, {7, -4}, 1, step) < 1e-6);
        work::Push push;
        push.letter = letter;
        push.byX = 10;
        p.piece().steps.add("g9", {true, push});
        QVERIFY(p.missedBy(Kind::PushFrom, {3, 5}, 0, "g9") < 1e-6);
        QVERIFY(p.missedBy(Kind::PushTo, {-6, 5}, 0, "g9") < 1e-6);
        QCOMPARE(session::linesSeen(p.piece(), p.place(), "g9").size(), std::size_t(2));
    }

    void drawnShapesLieWhereTheyWereDrawn()
    {
        Placed p;
        session::PenLine line{{{100, 50, 0, 0, 0, 0}, {200, 50, 0, 0, 0, 0}, {150, 120, 0, 0, 0, 0}}, true};
        const std::string id = session::addDrawn(p.work, line);
        const auto bodies = work::makeBodies(p.work, 0.5, p.cache, {});
        base::Box3 box;
        for (const work::PiecePlace& place : bodies->places)
            if (place.id == id)
                box = place.box;
        QVERIFY(std::abs(box.low.x - 100) < 0.5 && std::abs(box.high.x - 200) < 0.5);
        QVERIFY(std::abs(box.low.y - 50) < 0.5 && std::abs(box.high.y - 120) < 0.5);
    }
};

OPEN_GLOW_TEST(TestLineHandles)
#include "test_line_handles.moc"
