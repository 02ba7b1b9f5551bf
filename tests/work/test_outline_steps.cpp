// Steps on the outlines of pieces: joined, cut into segments, replayed when the text changes.
#include <QtTest>

#include <set>

#include "files/work_json.h"
#include "support/support.h"
#include "work/outline_steps.h"
#include "work/properties.h"
#include "work/scene.h"
#include "work/values.h"
#include "works.h"

using base::Vec2;

namespace {

work::LinePoint point(double x, double y)
{
    return {x, y, 0, 0, 0, 0};
}

double areaOf(const work::Work& work, const std::string& letter = {})
{
    work::Cache cache;
    const auto outlines = work::outlinesOf(work, "p1", 0.01, cache, {});
    double sum = 0;
    for (const auto& part : outlines->parts)
        if (letter.empty() || part.letter == letter)
            for (const auto& o : part.outlined->outlines)
                sum += outline::area(*o.outline);
    return sum;
}

std::string addStep(work::Work& work, work::StepWhat what, const std::string& piece = "p1")
{
    const std::string id = work.newId("g");
    work.pieces.items.at(piece).steps.add(id, {true, std::move(what)});
    return id;
}

// A level cut through a letter, at a share of its height.
work::Cut cutThrough(const std::string& letter, double y)
{
    work::Cut cut;
    cut.letter = letter;
    cut.line.points.add("n1", point(-20, y));
    cut.line.points.add("n2", point(200, y));
    return cut;
}

std::set<std::string> lettersIn(const work::WorkBodies& bodies)
{
    std::set<std::string> letters;
    for (const work::WorkBody& body : bodies.bodies)
        letters.insert(body.letters.begin(), body.letters.end());
    return letters;
}

bool has(const base::Notes& notes, const std::string& kind)
{
    return std::any_of(notes.begin(), notes.end(), [&](const base::Note& n) { return n.kind == kind; });
}

std::string addPiece(work::Work& work, work::Shape shape, double x, double y)
{
    work::Piece piece = works::piece(work);
    piece.source = std::move(shape);
    piece.steps = {};
    piece.placement.x = x;
    piece.placement.y = y;
    const std::string id = work.newId("p");
    work.pieces.add(id, std::move(piece));
    return id;
}

}  // namespace

class TestOutlineSteps : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void stepsAreTakenInTheirOrder()
    {
        work::Work work = works::kites("H");
        const double plain = areaOf(work);
        const std::string round = addStep(work, work::RoundCorners{5});
        const double rounded = areaOf(work);
        QVERIFY(rounded < plain);
        const std::string grow = addStep(work, work::Grow{4});
        const double grownAfter = areaOf(work);
        std::swap(works::piece(work).steps.order[0], works::piece(work).steps.order[1]);
        const double grownFirst = areaOf(work);
        QVERIFY(std::abs(grownAfter - grownFirst) > 1);
        works::piece(work).steps.items.at(round).on = works::piece(work).steps.items.at(grow).on = false;
        QCOMPARE(areaOf(work), plain);
        works::piece(work).steps.items.at(round).on = true;
        works::piece(work).copies.count = 2;
        works::piece(work).copies.growth = 3;
        works::piece(work).copies.back = 10;
        QCOMPARE(works::bodiesOf(work).bodies.size(), std::size_t(3));
    }

    // Two numerals joined by a small shape into one, cut into segments in colours of their own.
    void numeralsAreJoinedAndCut()
    {
        work::Work work = works::kites("23");
        works::piece(work).lettering()->layout.tracking = 100;
        QCOMPARE(works::bodiesOf(work).bodies.size(), std::size_t(2));
        const double apart = areaOf(work);
        work::Shape bar;
        bar.width = 120;
        bar.height = 14;
        const std::string join = addPiece(work, bar, 0, -20);
        work.pieces.items.at(join).hidden = true;
        addStep(work, work::Combine{outline::How::Unite, join});
        const auto joined = works::bodiesOf(work);
        QCOMPARE(joined.bodies.size(), std::size_t(1));
        QCOMPARE(joined.bodies[0].letters.size(), std::size_t(2));
        QVERIFY(areaOf(work) > apart);
        QVERIFY(joined.notes.empty());

        const std::string two = works::piece(work).letterIds()[0];
        const std::string cut = addStep(work, cutThrough("", 10));
        works::piece(work).steps.items.at(cut).what = [] {
            work::Cut across;
            across.line.points.add("n1", point(-300, 10));
            across.line.points.add("n2", point(300, 10));
            across.gap = 3;
            return across;
        }();
        const auto bodies = works::bodiesOf(work);
        const auto letters = lettersIn(bodies);
        QVERIFY(letters.contains(work::segmentOf(two, cut, 1)));
        QVERIFY(bodies.bodies.size() >= 3);
        for (const std::string& letter : letters)
            QVERIFY(works::piece(work).hasLetter(letter));
        // A colour of its own; a segment without one has that of its letter, then of the piece.
        const std::string segment = work::segmentOf(two, cut, 1);
        work::MaterialSet red = works::piece(work).material;
        red.piece.baseColour = {1, 0, 0};
        works::piece(work).letters[two].material = red;
        QVERIFY(works::piece(work).materialOf(segment) == red);
        work::MaterialSet blue = red;
        blue.piece.baseColour = {0, 0, 1};
        works::piece(work).letters[segment].material = blue;
        QVERIFY(works::piece(work).materialOf(segment) == blue);
        QVERIFY(works::piece(work).materialOf(two) == red);
        // A form of its own, and a place.
        solid::SlabForm flat;
        flat.depthPt = 3;
        works::piece(work).letters[segment].form = flat;
        works::piece(work).letters[segment].y = 50;
        const auto formed = works::bodiesOf(work);
        bool found = false;
        for (const work::WorkBody& body : formed.bodies)
            if (body.letters.front() == segment) {
                const base::Box3 box = work::worldBox(body);
                QVERIFY(std::abs(box.high.z - box.low.z - 3) < 0.01);
                found = true;
            }
        QVERIFY(found);
        const auto read = files::fromJson(files::toJson(work));
        QVERIFY(read && *read == work);
    }

    // The same cut makes the same segments when another comes before or after it, and when one is switched off.
    void segmentsKeepTheirNames()
    {
        work::Work work = works::kites("I");
        const std::string letter = works::piece(work).letterIds()[0];
        const std::string first = addStep(work, cutThrough(letter, 30));
        const double below = areaOf(work, work::segmentOf(letter, first, 1));
        QVERIFY(below > 0);
        const std::string second = addStep(work, cutThrough(letter, 70));
        QCOMPARE(areaOf(work, work::segmentOf(letter, first, 1)), below);
        QVERIFY(areaOf(work, work::segmentOf(letter, second, 1)) > 0);
        works::piece(work).steps.items.at(second).on = false;
        QCOMPARE(areaOf(work, work::segmentOf(letter, first, 1)), below);
        QCOMPARE(areaOf(work, work::segmentOf(letter, second, 1)), 0.0);
    }

    void otherPiecesCutOutAndOverlap()
    {
        work::Work work = works::kites("O");
        const double whole = areaOf(work);
        work::Shape disc;
        disc.kind = work::ShapeKind::Ellipse;
        disc.width = disc.height = 60;
        const std::string other = addPiece(work, disc, 40, 0);
        const std::string step = addStep(work, work::Combine{outline::How::Subtract, other});
        const double less = areaOf(work);
        auto& combine = std::get<work::Combine>(works::piece(work).steps.items.at(step).what);
        combine.how = outline::How::Intersect;
        const double overlap = areaOf(work);
        QVERIFY(less < whole && overlap > 0);
        QVERIFY(std::abs(less + overlap - whole) < 0.5);
        // As both stand on the sheet: turned and moved together nothing changes.
        for (const std::string& id : {std::string("p1"), other}) {
            work::Placement& p = work.pieces.items.at(id).placement;
            const double x = p.x, y = p.y;
            p.roll += 90;
            p.x = -y + 13;
            p.y = x - 7;
        }
        QVERIFY(std::abs(areaOf(work) - overlap) < 0.5);
        // What is not there, and what goes round in a circle, is said and changes nothing.
        addStep(work, work::Combine{outline::How::Subtract, "p1"}, other);
        QVERIFY(std::abs(areaOf(work) - overlap) < 0.5);
        combine.piece = "p99";
        const auto gone = works::bodiesOf(work);
        QVERIFY(has(gone.notes, "step-unused"));
        QCOMPARE(areaOf(work), whole);
    }

    void aPushGoesWithItsLetter()
    {
        work::Work work = works::kites("IOI");
        const std::string middle = works::piece(work).letterIds()[1];
        const double plain = areaOf(work);
        const std::string step = addStep(work, work::Push{middle, 40, 105, 0, 20, 40});
        const double pushed = areaOf(work);
        QVERIFY(pushed > plain + 50);
        std::get<work::Push>(works::piece(work).steps.items.at(step).what).byY = 0;
        QCOMPARE(areaOf(work), plain);
        std::get<work::Push>(works::piece(work).steps.items.at(step).what).byY = 20;
        work::setText(works::piece(work), "IIIIOI");
        QVERIFY(has(works::bodiesOf(work).notes, "step-unused") == !works::piece(work).hasLetter(middle));
        work::setText(works::piece(work), "");
        QVERIFY(works::bodiesOf(work).bodies.empty());
    }

    // Text edits keep pose, form, material and segments of the letters that stay.
    void editsKeepWhatLettersHave_data()
    {
        QTest::addColumn<QString>("before");
        QTest::addColumn<QString>("after");
        const char* const edits[][2] = {
            {"KITE FAIR", "KITES FAIR"},
            {"KITE FAIR", "A KITE FAIR"},
            {"KITE FAIR", "KITE FAIRS"},
            {"KITE FAIR", "KITE  FAIR"},
            {"KITE FAIR", "KTE FAIR"},
            {"KITE FAIR", "ITE FAIR"},
            {"KITE FAIR", "KITE FAI"},
            {"KITE FAIR", "KITE\nFAIR"},
            {"KITE FAIR", "FAIR"},
            {"KITE FAIR", "KITE"},
            {"KITE FAIR", "KIXTE FAIR"},
            {"KITE FAIR", "KIITE FAIR"},
            {"KITE FAIR", "KITE FÄIR"},
            {"KITE FAIR", "KITE Ö FAIR"},
            {"OOOO", "OOOOO"},
            {"OOOO", "OOO"},
            {"KITE FAIR", "KITE 🪁 FAIR"},
            {"KITE FAIR", "BITE FAIR"},
            {"KITE FAIR", "KITE HAIR"},
            {"KITE FAIR", "SOMETHING ELSE"},
            {"KITE FAIR", ""},
            {"AB", "ABABAB"},
            {"KITE FAIR", "KITE FAIR!"},
        };
        for (const auto& edit : edits)
            QTest::addRow("%s to %s", edit[0], edit[1]) << edit[0] << edit[1];
    }
    void editsKeepWhatLettersHave()
    {
        QFETCH(QString, before);
        QFETCH(QString, after);
        work::Work work = works::kites(before.toStdString());
        work::Piece& piece = works::piece(work);
        const std::vector<std::string> ids = piece.letterIds();
        // Every letter has something of its own, and one a cut.
        for (std::size_t i = 0; i < ids.size(); ++i) {
            piece.letters[ids[i]].y = 3.0 + double(i);
            piece.letters[ids[i]].roll = double(i);
            piece.letters[ids[i]].material = piece.material;
            piece.letters[ids[i]].material->piece.roughness = float(i) / 20;
        }
        const std::string cutLetter = ids[ids.size() / 2 + 1 < ids.size() ? ids.size() / 2 + 1 : 0];
        const std::string step = addStep(work, cutThrough(cutLetter, 40)), segment = work::segmentOf(cutLetter, step, 1);
        piece.letters[segment].material = piece.material;
        piece.letters[segment].material->piece.baseColour = {0, 1, 0};
        const work::Piece was = piece;
        const double area = areaOf(work, segment);
        QVERIFY(area > 0);

        work::setText(piece, after.toStdString());
        std::size_t kept = 0;
        for (const std::string& id : piece.letterIds())
            if (std::find(ids.begin(), ids.end(), id) != ids.end()) {
                QVERIFY(piece.letters.at(id) == was.letters.at(id));
                ++kept;
            }
        QVERIFY(kept + 1 >= std::min(piece.letterIds().size(), ids.size()) || after == "SOMETHING ELSE" || after.isEmpty() ||
                before.size() > after.size() + 1);
        const auto bodies = works::bodiesOf(work);
        if (piece.hasLetter(cutLetter)) {
            QVERIFY(lettersIn(bodies).contains(segment));
            QVERIFY(piece.letters.at(segment) == was.letters.at(segment));
            if (!after.contains(u'Ä'))
                QVERIFY(std::abs(areaOf(work, segment) - area) < 0.02 * area);
        } else {
            QVERIFY(has(bodies.notes, "step-unused"));
            QVERIFY(!piece.letters.contains(segment));
            QVERIFY(piece.steps.items.contains(step));  // nothing is thrown away
        }
    }

    // What pixels count is what the list says, one by one.
    void pixelsCountAllLetters()
    {
        work::Work work = works::kites("AB");
        addStep(work, cutThrough("", 10));
        addStep(work, work::RoundCorners{2});
        addStep(work, cutThrough("", 60));
        const std::vector<std::string> all = works::piece(work).allLetters();
        QCOMPARE(all.size(), std::size_t(2 + 2 * 2 * work::kMostSegments));
        for (std::size_t i = 0; i < all.size(); ++i)
            QCOMPARE(work::addressOf(work, {1, static_cast<std::uint16_t>(i + 1), 0}).letter, all[i]);
        QVERIFY(work::addressOf(work, {1, static_cast<std::uint16_t>(all.size() + 1), 0}).letter.empty());
    }

    void gesturesTakeSteps()
    {
        work::Work work = works::kites("I");
        const std::string cut = addStep(work, cutThrough("", 0)), push = addStep(work, work::Push{});
        work::Work moved = work;
        std::get<work::Cut>(works::piece(moved).steps.items.at(cut).what).line.points.items.at("n1").y = 44;
        std::get<work::Push>(works::piece(moved).steps.items.at(push).what).byX = 9;
        work::Work now = work;
        work::applyDifference(now, work, moved);
        QVERIFY(now == moved);
    }

    // A step for letters of their own: the others stay to the last point, copies and segments go along.
    void stepsGoForChosenLetters()
    {
        const work::Work plain = works::kites("KITE");
        const auto areas = [](const work::Work& work) {
            work::Cache cache;
            std::vector<double> sums(4, 0.0);
            const auto outlines = work::outlinesOf(work, "p1", 0.01, cache, {});
            for (const auto& part : outlines->parts)
                for (const auto& o : part.outlined->outlines)
                    sums[std::size_t(o.letters.front())] += outline::area(*o.outline);
            return sums;
        };
        const std::vector<double> was = areas(plain);
        for (const bool grows : {true, false}) {
            work::Work work = plain;
            work::Piece& piece = works::piece(work);
            const std::string id = grows ? addStep(work, work::Grow{2}) : addStep(work, work::RoundCorners{4});
            piece.steps.items.at(id).letters = {piece.letterIds()[1], piece.letterIds()[3]};
            const std::vector<double> now = areas(work);
            for (std::size_t i = 0; i < 4; ++i)
                QCOMPARE(std::abs(now[i] - was[i]) > 1, i == 1 || i == 3);
            // A letter typed before it changes nothing of that.
            work::setText(piece, "xKITE");
            work::Cache cache;
            QVERIFY(!has(work::outlinesOf(work, "p1", 0.01, cache, {})->notes, "step-unused"));
            // Letters that went are said, once all of them did.
            work::setText(piece, "K");
            QVERIFY(has(work::outlinesOf(work, "p1", 0.01, cache, {})->notes, "step-unused"));
        }
        // The same for all letters as for the piece.
        work::Work some = plain, all = plain;
        const std::string id = addStep(some, work::RoundCorners{4});
        some.pieces.items.at("p1").steps.items.at(id).letters = works::piece(some).letterIds();
        addStep(all, work::RoundCorners{4});
        QVERIFY(std::abs(areaOf(some) - areaOf(all)) < 1e-6 * areaOf(all));
    }

    // Letters that reach into each other by hand become one outline: areas by inclusion and exclusion; the others stay.
    void chosenNeighboursAreUnited()
    {
        work::Work work = works::kites("HHH");
        work::Piece& piece = works::piece(work);
        const auto ids = piece.letterIds();
        work::Cache cache;
        const auto before = work::outlinesOf(work, "p1", 0.01, cache, {});
        const double one = areaOf(work) / 3;
        const base::Box2 box = outline::bounds(before->parts[0].outlined->outlines[0]);
        const double stem = 0.1 * (box.high.x - box.low.x);  // overlap, less than a stem
        const double apart = outline::bounds(before->parts[0].outlined->outlines[1]).low.x - box.high.x;
        piece.letters[ids[1]].x = -apart - stem;
        const std::string id = addStep(work, work::Combine{outline::How::Unite, {}});
        piece.steps.items.at(id).letters = {ids[0], ids[1]};
        const auto after = work::outlinesOf(work, "p1", 0.01, cache, {});
        std::size_t outlines = 0;
        double area = 0;
        for (const auto& part : after->parts)
            for (const auto& o : part.outlined->outlines) {
                ++outlines;
                area += outline::area(*o.outline);
            }
        QCOMPARE(outlines, std::size_t{2});
        QVERIFY(std::abs(area - (3 * one - stem * (box.high.y - box.low.y))) < 1e-3 * one);
    }
};

OPEN_GLOW_TEST(TestOutlineSteps)
#include "test_outline_steps.moc"
