#include <QTemporaryDir>
#include <QtTest>
#include <functional>
#include <set>

#include "base/units.h"
#include "film/merge.h"
#include "render/camera.h"
#include "solid/check.h"
#include "support/support.h"
#include "work/coplanar.h"
#include "work/light_desk.h"
#include "work/make_still.h"

using base::Vec2;
using base::Vec3;
using work::Stance;
using work::Work;

namespace {

Work kites(const std::string& text = "KITE")
{
    work::FontChoice font;
    font.style = "Bold";
    Work work = work::newWork(text, font, {800, 600, work::Unit::Px, 72});
    work.pieces.items.at("p1").lettering.layout.sizePt = 150;
    return work;
}

work::Piece& piece(Work& work)
{
    return work.pieces.items.at("p1");
}

work::WorkBodies bodiesOf(const Work& work, double tolerance = 0.05)
{
    work::Cache cache;
    auto bodies = work::makeBodies(work, tolerance, cache, {});
    if (!bodies)
        qFatal("%s", bodies.error().message.c_str());
    return std::move(*bodies);
}

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

class TestWork : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Ranges from a text field tell what comparing cannot: the first A of AAA goes, the third keeps its own.
    void textsAreEditedAsRanges()
    {
        work::Piece piece;
        work::setText(piece, "AAA");
        const std::vector<std::string> ids = piece.lettering.letterIds;
        piece.letters[ids[0]].x = 1;
        piece.letters[ids[2]].x = 3;
        work::editText(piece, 0, 1, "");
        QCOMPARE(piece.lettering.text, "AA");
        QCOMPARE(piece.lettering.letterIds, (std::vector<std::string>{ids[1], ids[2]}));
        QCOMPARE(piece.letters.size(), std::size_t{1});
        QCOMPARE(piece.letters.at(ids[2]).x, 3.0);
        work::editText(piece, 1, 0, "xy");
        QCOMPARE(piece.lettering.text, "AxyA");
        QCOMPARE(piece.lettering.letterIds.front(), ids[1]);
        QCOMPARE(piece.lettering.letterIds.back(), ids[2]);
        // An accent joins the letter before it (UAX 29): still that letter. Typed over, it is another one.
        work::editText(piece, 4, 0, "\u0301");
        QCOMPARE(piece.lettering.letterIds.size(), std::size_t{4});
        QCOMPARE(piece.lettering.letterIds.back(), ids[2]);
        QCOMPARE(piece.letters.at(ids[2]).x, 3.0);
        work::editText(piece, 3, 3, "B");
        QCOMPARE(piece.lettering.text, "AxyB");
        QVERIFY(piece.lettering.letterIds.back() != ids[2] && piece.letters.empty());
        work::editText(piece, 99, 99, "!");  // beyond the end is at the end
        QCOMPARE(piece.lettering.text, "AxyB!");
    }

    // Ids are found free, also when their numbers have run out.
    void idsNeverRunOut()
    {
        work::Work w = work::newWork("AB", {}, {});
        w.nextId = 2000000000;
        QCOMPARE(w.newId("l"), "l1");
        w.nextId = 2;
        QCOMPARE(w.newId("l"), "l3");  // l2 is there
        work::Lettering& l = w.pieces.items.at("p1").lettering;
        l.nextLetter = 2000000000;
        QCOMPARE(l.newLetterIds(1), std::vector<std::string>{"a3"});
        QCOMPARE(work::leastNextId(w), 3);
    }

    // One rule says what a change asks for. All changes of desk and finish are tried, alone and two by two.
    void reworkIsOneRule()
    {
        using work::Rework;
        const work::Work before = [] {
            work::Work w = work::newWork("KITE", {}, {});
            w.lights.items["l8"] = w.lights.items.at("l2");
            w.lights.order.push_back("l8");
            return w;
        }();
        struct Change {
            const char* name;
            Rework asks;
            std::function<void(work::Work&)> make;
        };
        const Change changes[] = {{"nothing", Rework::Nothing, [](work::Work&) {}},
                                  {"name", Rework::Mix, [](work::Work& w) { w.pieces.items.at("p1").name = "x"; }},
                                  {"exposure", Rework::Mix, [](work::Work& w) { w.finish.exposure = 1; }},
                                  {"backdrop", Rework::Mix,
                                   [](work::Work& w) {
                                       w.ground.backdrop = {0, 0, 0};
                                   }},
                                  {"surroundings' colour", Rework::Mix,
                                   [](work::Work& w) {
                                       w.surroundings.colour = {1, 0, 0};
                                   }},
                                  {"a little brighter", Rework::Mix, [](work::Work& w) { w.lights.items.at("l2").stops += 0.3; }},
                                  {"red", Rework::Steer,
                                   [](work::Work& w) {
                                       w.lights.items.at("l8").colour = {1, 0, 0};
                                   }},
                                  {"much darker", Rework::Steer, [](work::Work& w) { w.lights.items.at("l8").stops -= 6; }},
                                  {"off", Rework::SwitchOff, [](work::Work& w) { w.lights.items.at("l8").on = false; }},
                                  {"surroundings off", Rework::SwitchOff, [](work::Work& w) { w.surroundings.on = false; }},
                                  {"moved", Rework::Expose, [](work::Work& w) { w.lights.items.at("l2").direction += 1; }},
                                  {"deeper", Rework::Expose, [](work::Work& w) { w.pieces.items.at("p1").form.depthPt += 1; }},
                                  {"matte", Rework::Expose, [](work::Work& w) { w.pieces.items.at("p1").material.piece.roughness = 1; }},
                                  {"one more light", Rework::Expose, [](work::Work& w) {
                                       w.lights.items["l9"] = {};
                                       w.lights.order.push_back("l9");
                                   }}};
        for (const Change& first : changes)
            for (const Change& second : changes) {
                work::Work after = before;
                first.make(after);
                second.make(after);
                if (&first == &second && first.asks == Rework::Expose)
                    continue;
                const Rework asks = work::reworkBetween(before, after);
                QVERIFY2(asks >= std::max(first.asks, second.asks) || &first == &second,
                         (std::string(first.name) + ", " + second.name).c_str());
                QVERIFY2(asks <=
                             std::max({first.asks, second.asks,
                                       first.asks == Rework::Nothing || second.asks == Rework::Nothing ? Rework::Nothing : Rework::Steer}),
                         (std::string(first.name) + ", " + second.name).c_str());
                // The desk takes what the rule allows it, and nothing else.
                QCOMPARE(work::onlyDeskMoved(before, after).has_value(), asks != Rework::Expose);
            }
        work::Work off = before, on = before;
        off.lights.items.at("l2").on = false;
        QVERIFY(work::reworkBetween(off, on) == Rework::Expose);  // what was not rendered cannot be switched on
    }

    // Films of 2 and of 4 sample ranges are, merged, the film of one run: each half of it, to what float sums round.
    void mergedFilmsAreOneRun_data()
    {
        QTest::addColumn<int>("parts");
        QTest::newRow("two") << 2;
        QTest::newRow("four") << 4;
    }
    void mergedFilmsAreOneRun()
    {
        QFETCH(int, parts);
        const QTemporaryDir folder;
        const work::Work work = work::newWork("KF", {"League Spartan", "Bold", {}, 0, {}}, {96, 54, work::Unit::Px, 72});
        work::Cache cache;
        const auto expose = [&](const char* name, unsigned first, unsigned samples) {
            work::StillSettings settings;
            settings.stop = {samples, 0, 0};
            settings.firstSample = first;
            settings.filmPath = folder.filePath(name).toStdString();
            settings.filmKey = "work";
            settings.denoise = denoise::Mode::Off;
            return work::makeStill(work, settings, cache, {}).has_value();
        };
        constexpr unsigned kSamples = 32;
        QVERIFY(expose("whole", 0, kSamples));
        std::vector<std::string> paths;
        for (int i = 0; i < parts; ++i) {
            const QByteArray name = QByteArray::number(i);
            QVERIFY(expose(name, unsigned(i) * kSamples / unsigned(parts), kSamples / unsigned(parts)));
            paths.push_back(folder.filePath(name).toStdString());
        }
        const auto merge = film::merge(paths, folder.filePath("merged").toStdString());
        QVERIFY2(merge.has_value(), merge ? "" : base::oneLine(merge.error()).c_str());
        const auto whole = film::Film::openToRead(folder.filePath("whole").toStdString(), "work"),
                   merged = film::Film::openToRead(folder.filePath("merged").toStdString(), "work");
        QVERIFY(whole && merged);
        const auto near = [](float a, float b) { return std::abs(a - b) <= 1e-6f * std::max({1.0f, std::abs(a), std::abs(b)}); };
        for (int y = 0; y < 54; ++y)
            for (int x = 0; x < 96; ++x) {
                const film::Film::Pixel a = (*whole)->at(x, y), b = (*merged)->at(x, y);
                QCOMPARE(a.samples, b.samples);
                for (int half = 0; half < 2; ++half) {
                    QVERIFY(near(a.halves[half]->alpha, b.halves[half]->alpha) && near(a.halves[half]->depth, b.halves[half]->depth));
                    for (int e = 0; e < (*whole)->entryCount(); ++e)
                        for (int c = 0; c < 3; ++c)
                            QVERIFY(near(a.colours[half][e][c], b.colours[half][e][c]));
                }
                QCOMPARE(a.ids->first(), b.ids->first());
                QCOMPARE(a.ids->ids[0].samples(), b.ids->ids[0].samples());
            }
    }

    // Films of the landed version are mixed and gone on with, and give the picture that version made of them.
    void filmsOfEarlierVersionsOpen()
    {
        const QTemporaryDir folder;
        const std::string kept = OPEN_GLOW_SOURCE "/tests/kept/0.1/kite.film", own = folder.filePath("kite.film").toStdString();
        QVERIFY(QFile::copy(QString::fromStdString(kept), QString::fromStdString(own)));
        const auto read = film::Film::openToRead(own, "any");
        QVERIFY2(read.has_value(), read ? "" : base::oneLine(read.error()).c_str());
        QVERIFY((*read)->isUnchecked());
        QCOMPARE((*read)->leastSamples(), 8u);
        QCOMPARE((*read)->shape().entries.front().kind, film::EntryKind::Surroundings);
        QCOMPARE(QFileInfo(QString::fromStdString(own)).size(), QFileInfo(QString::fromStdString(kept)).size());  // reading changes nothing
        const auto goesOn = film::Film::openFile((*read)->shape(), own, "any");
        QVERIFY2(goesOn.has_value(), goesOn ? "" : base::oneLine(goesOn.error()).c_str());
        QVERIFY((*goesOn)->isUnchecked());
        const film::FilmShape& s = (*read)->shape();
        for (int y = 0; y < s.height; ++y)
            for (int x = 0; x < s.width; ++x)
                QCOMPARE((*goesOn)->at(x, y).colours[1][2], (*read)->at(x, y).colours[1][2]);
        film::FilmShape other = s;
        other.width += 1;
        QVERIFY(!film::Film::openFile(other, folder.filePath("kite.film").toStdString(), "any").has_value());
        // Brought up to date it is checked like any other.
        QVERIFY(!film::Film::openFile(s, own, "another").has_value());
    }

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
        for (const auto& [piece, copy] : {std::pair{0, 0}, {1, 0}, {1, 1}})
            for (const work::WorkBody& b : bodies->bodies)
                if (b.piece == piece && b.copy == copy) {
                    const double front = b.pose.apply({0, 0, solid::bounds(*b.body).high.z}).z;
                    QVERIFY(front < last - 0.9 * work::kBehindPt);
                    QVERIFY(front > work.pieces.items.at("p1").form.depthPt - 3 * work::kBehindPt);
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

    // 1 in = 25.4 mm (1959) = 72 pt (ISO 32000); A3 = 297 x 420 mm (ISO 216), at 300 ppi 3508 x 4961 px.
    void sheetUnits()
    {
        const work::Sheet a3{297, 420, work::Unit::Mm, 300};
        QCOMPARE(a3.widthPx(), 3508);
        QCOMPARE(a3.heightPx(), 4961);
        QVERIFY(std::abs(a3.widthPt() - 841.8898) < 1e-4);
        QCOMPARE((work::Sheet{25.4, 1, work::Unit::Mm, 72}).widthPt(), 72.0);
        QCOMPARE((work::Sheet{1920, 1080, work::Unit::Px, 144}).widthPt(), 960.0);
    }

    void lettersKeepTheirIds_data()
    {
        QTest::addColumn<QString>("before");
        QTest::addColumn<QString>("after");
        QTest::addColumn<QString>("ids");  // numbers of the first text's letters, x for a new one
        QTest::newRow("corrected") << "GAIL"
                                   << "GALE"
                                   << "1 2 x x";
        QTest::newRow("in the middle") << "KTE"
                                       << "KITE"
                                       << "1 x 2 3";
        QTest::newRow("doubled") << "AA"
                                 << "AAA"
                                 << "1 2 x";
        QTest::newRow("cut") << "KITES"
                             << "KIT"
                             << "1 2 3";
        QTest::newRow("graphemes") << QString::fromUtf8("e\u0301a") << QString::fromUtf8("e\u0301ba") << "1 x 2";
        QTest::newRow("emptied") << "KITE"
                                 << ""
                                 << "";
    }
    void lettersKeepTheirIds()
    {
        QFETCH(QString, before);
        QFETCH(QString, after);
        QFETCH(QString, ids);
        work::Piece piece;
        const work::Lettering& lettering = piece.lettering;
        work::setText(piece, before.toStdString());
        const std::vector<std::string> old = lettering.letterIds;
        work::setText(piece, after.toStdString());
        const QStringList expected = ids.split(' ', Qt::SkipEmptyParts);
        QCOMPARE(lettering.letterIds.size(), std::size_t(expected.size()));
        std::set<std::string> unique(lettering.letterIds.begin(), lettering.letterIds.end());
        QCOMPARE(unique.size(), lettering.letterIds.size());
        for (int i = 0; i < expected.size(); ++i) {
            const std::string& id = lettering.letterIds[std::size_t(i)];
            if (expected[i] == "x")
                QVERIFY(std::find(old.begin(), old.end(), id) == old.end());
            else
                QCOMPARE(id, old[std::size_t(expected[i].toInt() - 1)]);
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

    // Straight parallel view: the sheet's plane fills the frame exactly. With perspective too, at any focal length.
    void straightView()
    {
        Work work = kites();
        for (const bool perspective : {false, true})
            for (const double focal : {18.0, 50.0, 200.0}) {
                work.view.perspective = perspective;
                work.view.focalLength = focal;
                const render::Camera camera = work::cameraOf(work, bodiesOf(work));
                Vec2 uv;
                QVERIFY(render::project(camera, {-400, 300, 0}, uv));
                QVERIFY(length(uv - Vec2{0, 0}) < 1e-9);
                QVERIFY(render::project(camera, {400, -300, 0}, uv));
                QVERIFY(length(uv - Vec2{1, 1}) < 1e-9);
                if (perspective)  // 36 mm wide frame: horizontal angle 2 atan(18 / f)
                    QVERIFY(std::abs(2 * std::atan(camera.frameWidth / 2 / camera.frameDistance) - 2 * std::atan(18 / focal)) < 1e-12);
            }
    }

    // True isometric projection: walk 45, rise atan(1/sqrt 2): all edges shortened to sqrt(2/3), the level ones at 30 degrees.
    void isometricView()
    {
        Work work = kites();
        work.view.walk = 45;
        work.view.rise = base::degrees(std::atan(1 / std::sqrt(2.0)));
        const render::Camera camera = work::cameraOf(work, bodiesOf(work));
        const auto onFrame = [&](Vec3 p) {
            Vec2 uv;
            render::project(camera, p, uv);
            return Vec2{uv.x * 800, -uv.y * 600};
        };
        for (const Vec3 axis : {Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, 1}}) {
            const Vec2 edge = onFrame(axis) - onFrame({0, 0, 0});
            QVERIFY(std::abs(length(edge) - std::sqrt(2.0 / 3)) < 1e-9);
            if (axis.y == 0)
                QVERIFY(std::abs(std::abs(edge.y / edge.x) - std::tan(base::radians(30))) < 1e-9);
            else
                QVERIFY(std::abs(edge.x) < 1e-9);
        }
    }

    // Typed is seen: matte, in plain surroundings of 1, true colour: CIEDE2000 at most 1 and nearly always the same byte.
    void typedIsSeen()
    {
        for (const char* hex : {"#E8664F", "#0B6E6E", "#FFFFFF", "#123456", "#FFC800", "#010203", "#C0C0C0"}) {
            Work work = kites("I");
            work.ground.kind = render::GroundKind::None;
            work.lights = {};
            work.surroundings.stops = 0;
            piece(work).form.front = {};
            piece(work).material.piece = {*picture::rgbFromHex(hex), 0, 1, 0};
            work::StillSettings settings;
            settings.hasRegion = true;
            settings.region = {398, 298, 402, 302};
            settings.stop = {8, 0, 0};
            const work::Still result = still(work, settings);
            for (std::size_t i = 0; i < 3; ++i) {
                // Over 0.95 linear the shoulder takes up to 2.5/255 of all channels, which is CIEDE2000 0.43 at most.
                const float typed = picture::encodeSrgb(*picture::rgbFromHex(hex))[int(i)];
                const bool shoulder = largest(*picture::rgbFromHex(hex)) > 0.95f;
                QVERIFY2(std::abs(result.picture.values[i] - typed) * 255 < (shoulder ? 2.6f : 0.01f), hex);
            }
        }
    }

    // A light is a factor at the desk: half as bright, or blue for red, is the same film developed otherwise.
    void lightDesk()
    {
        Work work = kites();
        work.surroundings.on = false;
        work.lights.items.at("l2").colour = {1, 0, 0};
        work::StillSettings settings;
        settings.widthPx = 80;
        settings.heightPx = 60;
        settings.stop = {8, 0, 0};
        const work::Still red = still(work, settings);
        work.lights.items.at("l2").colour = {0, 0, 1};
        work.lights.items.at("l2").stops = -1;
        const work::Still blue = still(work, settings);
        const auto developed = finish::develop(red.shares, work::developSettingsOf(work, false));
        double worst = 0;
        for (std::size_t i = 0; i < developed.values.size(); ++i)
            worst = std::max(worst, double(std::abs(developed.values[i] - blue.picture.values[i])));
        QVERIFY2(worst < 1e-5, qPrintable(QString::number(worst)));
        double light = 0;
        for (std::size_t i = 2; i < blue.picture.values.size(); i += 3)
            light += double(blue.picture.values[i]);
        QVERIFY(light > 100);
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
        piece(work).form.depthPt += 1;
        QVERIFY(work::makeBodies(work, 0.05, cache, {})->bodies.front().body != first->bodies.front().body);
    }

    // A letter with a form or a place of its own is a body of its own; the others stay as they were.
    void aLetterHasItsOwn()
    {
        Work work = kites("AVA");
        const work::WorkBodies before = bodiesOf(work);
        const std::string second = piece(work).lettering.letterIds[1];
        work::LetterOwn& own = piece(work).letters[second];
        own.form = piece(work).form;
        own.form->depthPt = 90;
        own.x = 5;
        own.z = 12;
        const work::WorkBodies after = bodiesOf(work);
        QCOMPARE(after.bodies.size(), std::size_t{3});
        int own2 = 0;
        for (const auto& b : after.bodies) {
            const base::Box3 box = solid::bounds(*b.body);
            const bool isSecond = b.letters == std::vector<int>{1};
            own2 += isSecond;
            QVERIFY(std::abs(box.high.z - (isSecond ? 90 : piece(work).form.depthPt)) < 1e-4);
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
        piece(work).lettering.layout.tracking = -250;
        const std::string second = piece(work).lettering.letterIds[1];
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
        piece(work).form = {10, {}, {}, solid::Corners::Round};
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

    // A changed swatch changes all that follows it and nothing else.
    void swatchesAreShared()
    {
        Work work = kites();
        work.swatches.items["s1"] = {"Kite red", {1, 0, 0}};
        work.swatches.order = {"s1"};
        piece(work).material.piece.swatch = "s1";
        work.ground.wall.swatch = "s1";
        const base::Rgb floor = work.ground.floor.baseColour;
        work::setSwatch(work, "s1", {0, 0.5f, 0});
        QCOMPARE(piece(work).material.piece.baseColour, (base::Rgb{0, 0.5f, 0}));
        QCOMPARE(work.ground.wall.baseColour, (base::Rgb{0, 0.5f, 0}));
        QCOMPARE(work.ground.floor.baseColour, floor);
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
        piece(work).lettering.font.family = family.toStdString();
        piece(work).lettering.font.style.clear();
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

    void whatCannotFitIsRefusedWithTheNumber()
    {
        Work work = kites();
        work.sheet = {99000, 99000, work::Unit::Px, 72};
        work::Cache cache;
        const auto result = work::makeStill(work, {}, cache, {});
        QVERIFY(!result.has_value());
        QCOMPARE(result.error().code, base::ErrorCode::TooLarge);
        QVERIFY(QString::fromStdString(result.error().message).contains("GB"));
    }

    // What does not fit into the budget is refused; with its film in a file it does fit.
    void theBudgetHolds()
    {
        work::StillSettings settings;
        settings.widthPx = 160;
        settings.heightPx = 120;
        settings.stop = {2, 0, 0};
        const work::Still inMemory = still(kites(), settings);
        settings.memoryBudget = work::bytesNeeded(inMemory.film->shape(), bodiesOf(kites())) - 1000;
        work::Cache cache;
        const auto refused = work::makeStill(kites(), settings, cache, {});
        QVERIFY(!refused.has_value());
        QCOMPARE(refused.error().code, base::ErrorCode::TooLarge);
        const QTemporaryDir folder;
        settings.filmPath = folder.filePath("film").toStdString();
        QVERIFY(still(kites(), settings).picture == inMemory.picture);
    }

    // A power of two of at most 0.15 px.
    void tolerance()
    {
        const double t = work::toleranceFor({1920, 1080, work::Unit::Px, 72}, 1920);
        QCOMPARE(t, 0.125);
        QCOMPARE(work::toleranceFor({1920, 1080, work::Unit::Px, 72}, 7680), 0.03125);
    }

    // What shares a film and what does not.
    void deskAndFinishAreNotExposed()
    {
        work::Work work = work::newWork("KITE", {}, {800, 600, work::Unit::Px, 72});
        const std::string second = work.newId("l");
        work.lights.items[second] = work.lights.items.begin()->second;
        work.lights.items[second].stops = -0.3 - 2;  // a factor of four under the first
        work.lights.order.push_back(second);
        const work::Work exposed = work::exposureOf(work);
        const auto same = [&](auto change) {
            work::Work changed = work;
            change(changed);
            return work::exposureOf(changed) == exposed;
        };
        QVERIFY(same([](work::Work& w) { w.finish.exposure = 2; }));
        QVERIFY(same([](work::Work& w) { w.ground.backdrop = {0, 0, 0}; }));
        QVERIFY(same([](work::Work& w) { w.surroundings.stops = 3; }));
        QVERIFY(same([&](work::Work& w) { w.lights.items[second].stops -= 0.9; }));
        QVERIFY(same([](work::Work& w) { w.lights.items.begin()->second.name = "evening"; }));
        QVERIFY(same([](work::Work& w) {
            for (auto& [id, light] : w.lights.items)
                light.stops += 4;
        }));
        QVERIFY(!same([&](work::Work& w) { w.lights.items[second].stops -= 2.1; }));  // so much dimmer it wants fewer samples
        QVERIFY(!same([&](work::Work& w) { w.lights.items[second].on = false; }));
        QVERIFY(!same([](work::Work& w) { w.surroundings.on = false; }));
        QVERIFY(!same([](work::Work& w) { w.view.walk = 1; }));
        QVERIFY(!same([](work::Work& w) { w.pieces.items.begin()->second.material.piece.roughness = 0.1f; }));
    }
};

QTEST_APPLESS_MAIN(TestWork)
#include "test_work.moc"
