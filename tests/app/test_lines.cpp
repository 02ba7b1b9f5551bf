// Lines in the window: lettering along and between them, shapes, the pen, and steps on outlines, by hand and by number.
#include <QComboBox>
#include <QListWidget>
#include <QPushButton>

#include "app/driver.h"

using driver::Window;
using Kind = session::LineHandle::Kind;

namespace {

const work::Run& runOf(Window& w)
{
    return w.piece().lettering()->run;
}

void choose(Window& w, const QString& field, int index)
{
    auto* combo = w.find<QComboBox>(field);
    combo->setCurrentIndex(index);
    Q_EMIT combo->activated(index);
}

// Where a handle of a kind is seen, the n-th of them.
std::optional<QPointF> handle(Window& w, Kind kind, int number = 0)
{
    for (const app::Lug& lug : w.picture().hands()->lugs())
        if (lug.line && lug.line->kind == kind && number-- == 0)
            return lug.at;
    return std::nullopt;
}

void chooseFirst(Window& w)
{
    session::Choice choice;
    choice.set({w.work().pieces.order.front(), {}});
    w.session().choose(choice);
}

work::Piece& firstIn(work::Work& work)
{
    return work.pieces.items.at(work.pieces.order.front());
}

}  // namespace

class TestLines : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void letteringRunsRoundACircle()
    {
        Window w;
        chooseFirst(w);
        w.openSection("lettering");
        w.click("lettering.run");
        choose(w, "lettering.run.kind", 2);
        QCOMPARE(runOf(w).kind, work::RunKind::Circle);
        QVERIFY(runOf(w).width != work::Run().width);  // as large as it fits
        QVERIFY(w.settle());
        const double width = runOf(w).width;
        const auto edge = handle(w, Kind::Width);
        QVERIFY(edge);
        w.drag(*edge, *edge + QPointF(-30, 0));
        QVERIFY(runOf(w).width < width * 0.95);
        QVERIFY(w.settle());
        const auto start = handle(w, Kind::Start);
        QVERIFY(start);
        w.drag(*start, *start + QPointF(60, 40));
        QVERIFY(runOf(w).start > 0.02);
        w.type("lettering.run.start.edit", "25");
        QCOMPARE(runOf(w).start, 0.25);
        choose(w, "lettering.run.side", 1);
        QCOMPARE(runOf(w).side, work::Side::Under);
        w.click("lettering.run.backwards");
        QVERIFY(runOf(w).backwards);
        // One step of the history each; all are taken back.
        for (int i = 0; i < 6; ++i)
            w.session().undo();
        QVERIFY(runOf(w).isStraight());
    }

    void anArcIsBentByItsEnd()
    {
        Window w;
        chooseFirst(w);
        w.session().edit("arc", [](work::Work& work) { firstIn(work).lettering()->run.kind = work::RunKind::Arc; });
        QVERIFY(w.settle());
        const auto end = handle(w, Kind::Bend);
        QVERIFY(end);
        w.drag(*end, *end + QPointF(0, -25));
        QVERIFY(runOf(w).bend < 85);
        QVERIFY(w.settle());
        // The end is where the hand let it go.
        QVERIFY(std::abs(handle(w, Kind::Bend)->y() - (end->y() - 25)) < 8);
    }

    void twoLinesAreDraggedAndLetGo()
    {
        Window w;
        chooseFirst(w);
        w.openSection("lettering");
        w.click("lettering.run");
        choose(w, "lettering.run.kind", 7);
        choose(w, "lettering.run.lines", 3);
        QCOMPARE(runOf(w).lines, outline::LineStart::Barrel);
        w.type("lettering.run.amount.edit", "80");
        QVERIFY(w.settle());
        const auto middle = handle(w, Kind::Point, 1);
        QVERIFY(middle);
        w.drag(*middle, *middle + QPointF(0, -20));
        QCOMPARE(runOf(w).top.order.size(), std::size_t(3));
        QCOMPARE(runOf(w).amount, 1.0);
        QVERIFY(w.settle());
        QVERIFY(std::abs(handle(w, Kind::Point, 1)->y() - (middle->y() - 20)) < 3);
        // A double click on the line puts a point there; Delete over it takes it away.
        const auto a = handle(w, Kind::Point, 0), out = handle(w, Kind::Out, 0), in = handle(w, Kind::In, 0), b = handle(w, Kind::Point, 1);
        const QPointF on = (*a + 3 * *out + 3 * *in + *b) / 8;  // the middle of the first curve
        QTest::mouseDClick(&w.picture(), Qt::LeftButton, {}, on.toPoint());
        QCOMPARE(runOf(w).top.order.size(), std::size_t(4));
        QVERIFY(w.settle());
        const auto added = handle(w, Kind::Point, 1);
        QTest::mouseMove(&w.picture(), added->toPoint());
        w.key(Qt::Key_Delete);
        QCOMPARE(runOf(w).top.order.size(), std::size_t(3));
        QCOMPARE(w.work().pieces.order.size(), std::size_t(1));  // the piece stays
        w.click("lettering.run.begin");
        QVERIFY(runOf(w).top.items.empty());
    }

    void shapesAreAddedAndSized()
    {
        Window w;
        QVERIFY(w.settle());
        QVERIFY(w.trigger("shape.star"));
        const work::Shape* star = w.piece().shape();
        QVERIFY(star && star->kind == work::ShapeKind::Star);
        QCOMPARE(w.window.ticket()->section("lettering")->title(), "Shape");
        w.type("lettering.points.edit", "7");
        QCOMPARE(w.piece().shape()->points, 7);
        QVERIFY(w.settle());
        const double width = w.piece().shape()->width;
        const auto corner = handle(w, Kind::Size);
        QVERIFY(corner);
        w.drag(*corner, *corner + QPointF(20, -20));
        QVERIFY(w.piece().shape()->width > width * 1.1);
        QVERIFY(std::abs(w.piece().shape()->width / w.piece().shape()->height - 1) < 1e-9);
    }

    // Corners by clicks, curves by drags; closed on the first point, or ended by Enter.
    void thePenDrawsShapesAndLines()
    {
        Window w(work::emptyWork({320, 180, work::Unit::Px, 72}));
        QVERIFY(w.settle());
        const QRectF frame = w.picture().frameRect();
        const auto at = [&](double x, double y) { return frame.topLeft() + QPointF(frame.width() * x, frame.height() * y); };
        QVERIFY(w.trigger("piece.pen"));
        w.clickAt(at(0.3, 0.3));
        w.clickAt(at(0.7, 0.3));
        w.drag(at(0.7, 0.7), at(0.6, 0.8));
        w.clickAt(at(0.3, 0.3));
        QCOMPARE(w.work().pieces.order.size(), std::size_t(1));
        const work::Shape* shape = w.piece().shape();
        QVERIFY(shape && shape->kind == work::ShapeKind::Drawn && shape->line.closed);
        QCOMPARE(shape->line.points.order.size(), std::size_t(3));
        QVERIFY(shape->line.points.items.at("n3").outX != 0);
        QVERIFY(w.settle());
        QVERIFY(w.letterPlace(0).x() > 0);
        // Its points are dragged after.
        const auto point = handle(w, Kind::Point, 1);
        QVERIFY(point);
        w.drag(*point, *point + QPointF(15, 10));
        QVERIFY(w.settle());
        QVERIFY(std::abs(handle(w, Kind::Point, 1)->x() - (point->x() + 15)) < 2);
        QTest::mouseDClick(&w.picture(), Qt::LeftButton, {}, handle(w, Kind::Point, 1)->toPoint());
        QVERIFY(w.piece().shape()->line.points.items.at("n2").outX != 0);

        // An open one, a point taken back; called off it leaves nothing.
        QVERIFY(w.trigger("piece.pen"));
        w.clickAt(at(0.1, 0.9));
        w.clickAt(at(0.5, 0.9));
        w.clickAt(at(0.9, 0.5));
        w.key(Qt::Key_Backspace);
        w.key(Qt::Key_Return);
        QCOMPARE(w.work().pieces.order.size(), std::size_t(2));
        QCOMPARE(w.piece().shape()->line.points.order.size(), std::size_t(2));
        QVERIFY(!w.piece().shape()->line.closed);
        QVERIFY(w.trigger("piece.pen"));
        w.clickAt(at(0.2, 0.2));
        w.clickAt(at(0.4, 0.2));
        w.key(Qt::Key_Escape);
        QCOMPARE(w.work().pieces.order.size(), std::size_t(2));
    }

    void letteringRunsAlongADrawnLine()
    {
        Window w;
        QVERIFY(w.settle());
        chooseFirst(w);
        w.openSection("lettering");
        w.click("lettering.run");
        choose(w, "lettering.run.kind", 5);
        QVERIFY(w.picture().hands()->isDrawing());  // there is no line yet
        QVERIFY(w.settle());
        const QRectF frame = w.picture().frameRect();
        w.drag(frame.topLeft() + QPointF(30, frame.height() * 0.7), frame.topLeft() + QPointF(80, frame.height() * 0.3));
        w.clickAt(frame.topLeft() + QPointF(frame.width() - 30, frame.height() * 0.6));
        w.key(Qt::Key_Return);
        QCOMPARE(runOf(w).kind, work::RunKind::Drawn);
        QCOMPARE(runOf(w).line.points.order.size(), std::size_t(2));
        QVERIFY(w.settle());
        QVERIFY(handle(w, Kind::Point, 1));
        QVERIFY(handle(w, Kind::Out));
    }

    void letteringRunsRoundAPiece()
    {
        Window w;
        QVERIFY(w.trigger("shape.ellipse"));
        session::Choice choice;
        choice.set({w.work().pieces.order.back(), {}});
        w.session().choose(choice);
        w.openSection("lettering");
        w.click("lettering.run");
        choose(w, "lettering.run.kind", 6);
        const work::Run& run = w.work().pieces.items.at(w.work().pieces.order.back()).lettering()->run;
        QCOMPARE(run.piece, w.work().pieces.order.front());
        QCOMPARE(w.find<QComboBox>("lettering.run.piece")->currentText(), "Ellipse");
    }

    // Two letters joined by a shape into one and cut into segments, of which one gets its own colour.
    void stepsJoinAndCut()
    {
        Window w(driver::kites("II"));
        QVERIFY(w.settle());
        QVERIFY(w.trigger("shape.rectangle"));
        w.type("lettering.shapeWidth.edit", "60");
        w.type("lettering.shapeHeight.edit", "10");
        const std::string bar = w.work().pieces.order.front(), word = w.work().pieces.order.back();
        session::Choice choice;
        choice.set({word, {}});
        w.session().choose(choice);
        w.openSection("lettering");
        w.click("lettering.steps");
        QVERIFY(w.trigger("step.unite"));
        const auto piece = [&]() -> const work::Piece& { return w.work().pieces.items.at(word); };
        QCOMPARE(piece().steps.order.size(), std::size_t(1));
        QVERIFY(w.work().pieces.items.at(bar).hidden);
        QVERIFY(w.settle());
        // The cut: a line across the first letter.
        QVERIFY(w.trigger("step.cut"));
        QVERIFY(w.picture().hands()->isDrawing());
        const QPointF letter = w.letterPlace(0, 1);
        w.clickAt(letter + QPointF(-60, 25));
        w.clickAt(letter + QPointF(220, 25));
        w.key(Qt::Key_Return);
        QCOMPARE(piece().steps.order.size(), std::size_t(2));
        const std::string cut = piece().steps.order.back();
        QCOMPARE(std::get<work::Cut>(piece().steps.items.at(cut).what).letter, piece().letterIds()[0]);
        QVERIFY(w.settle());
        const std::string segment = work::segmentOf(piece().letterIds()[0], cut, 1);
        QVERIFY(piece().hasLetter(segment));
        choice.set({word, segment});
        w.session().choose(choice);
        QVERIFY(w.find<QLabel>("ticket.choice")->text().contains("segment"));
        w.openSection("material");
        w.type("material.colour.hex", "#E5A52B");
        QCOMPARE(picture::hexFromRgb(piece().materialOf(segment).piece.baseColour), "#E5A52B");
        QVERIFY(picture::hexFromRgb(piece().material.piece.baseColour) != "#E5A52B");
        // Steps are ordered, switched and taken away; what was hidden for one comes back.
        choice.set({word, {}});
        w.session().choose(choice);
        auto* list = w.find<QListWidget>("lettering.steps.list");
        QCOMPARE(list->count(), 2);
        list->setCurrentRow(1);
        w.click("lettering.steps.up");
        QCOMPARE(piece().steps.order.front(), cut);
        list->item(0)->setCheckState(Qt::Unchecked);
        QVERIFY(!piece().steps.items.at(cut).on);
        w.type("lettering.steps.gap.edit", "4");
        QCOMPARE(std::get<work::Cut>(piece().steps.items.at(cut).what).gap, 4.0);
        list->setCurrentRow(1);
        w.click("lettering.steps.remove");
        QCOMPARE(piece().steps.order.size(), std::size_t(1));
        QVERIFY(!w.work().pieces.items.at(bar).hidden);
    }

    void demosAreOpened()
    {
        Window w;
        for (const auto& [name, title] : app::WorkFiles::demos()) {
            w.session().saved({}, w.work());
            QVERIFY(w.trigger("demo." + name));
            QVERIFY(w.work().pieces.order.size() >= 1);
            QVERIFY(w.window.windowTitle().contains(title.toLower()));
        }
        // The badge: two lines on one circle, a mark of shapes between them.
        w.session().saved({}, w.work());
        QVERIFY(w.trigger("demo.pilots-badge"));
        const auto& pieces = w.work().pieces.items;
        QCOMPARE(std::count_if(pieces.begin(), pieces.end(),
                               [](const auto& p) { return p.second.lettering() && p.second.lettering()->run.isAlong(); }),
                 2);
        QVERIFY(std::any_of(pieces.begin(), pieces.end(), [](const auto& p) { return p.second.artwork(); }));
    }

    void aPushIsDragged()
    {
        Window w(driver::kites("O"));
        chooseFirst(w);
        w.openSection("lettering");
        w.click("lettering.steps");
        QVERIFY(w.trigger("step.push"));
        QVERIFY(w.settle());
        const auto to = handle(w, Kind::PushTo);
        QVERIFY(to);
        const auto push = [&] { return std::get<work::Push>(w.piece().steps.items.begin()->second.what); };
        const double by = push().byY;
        w.drag(*to, *to + QPointF(0, -15));
        QVERIFY(push().byY > by);
        QVERIFY(w.settle());
        const double radius = push().radius;
        const auto rim = handle(w, Kind::PushRadius);
        w.drag(*rim, *rim + QPointF(12, 0));
        QVERIFY(push().radius > radius);
        QVERIFY(w.trigger("step.round"));
        QVERIFY(w.trigger("step.mirror"));
        QCOMPARE(w.piece().steps.order.size(), std::size_t(3));
    }
};

OPEN_GLOW_WINDOW_TEST(TestLines)
#include "test_lines.moc"
