#include <QTemporaryDir>
#include <QtTest>
#include <functional>

#include "base/units.h"
#include "film/merge.h"
#include "finish/layer_steps.h"
#include "render/camera.h"
#include "support/support.h"
#include "work/light_desk.h"
#include "work/make_still.h"
#include "work/works.h"

using base::Vec2;
using base::Vec3;
using work::Work;
using namespace works;

namespace {

work::Still still(const Work& work, work::StillSettings settings)
{
    work::Cache cache;
    auto result = work::makeStill(work, settings, cache, {});
    if (!result)
        qFatal("%s", result.error().message.c_str());
    return std::move(*result);
}

}  // namespace

class TestStill : public QObject {
    Q_OBJECT

private Q_SLOTS:
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
                                  {"deeper", Rework::Expose, [](work::Work& w) { w.pieces.items.at("p1").slab()->depthPt += 1; }},
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

    // Straight parallel view: the sheet's plane fills the frame exactly. With perspective too, at any focal length.
    void straightView()
    {
        Work work = kites();
        for (const bool perspective : {false, true})
            for (const double focal : {18.0, 50.0, 200.0}) {
                work.view().perspective = perspective;
                work.view().focalLength = focal;
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
        work.view().walk = 45;
        work.view().rise = base::degrees(std::atan(1 / std::sqrt(2.0)));
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

    // Where a gradient by letter lies: the box of each letter's face as the camera sees it is that of the pixels that show the face, in
    // parallel and in perspective, for letters moved and sized by hand too. Without a lamp nothing lies in shadow.
    void boxesOfLetters()
    {
        Work work = kites();
        const std::vector<std::string> letters = piece(work).letterIds();
        piece(work).letters[letters[1]].scale = 1.3;
        piece(work).letters[letters[2]].y = 40;
        piece(work).slab()->front = {};  // the face is all of the outline
        work::Layer layer;
        finish::Fill fill;
        fill.form = finish::FillForm::Linear;
        fill.byLetter = true;
        layer.what = fill;
        work.finish.layers.add("y1", layer);
        for (const bool perspective : {false, true}) {
            work.view().perspective = perspective;
            work.view().walk = perspective ? 20 : 0;
            work.view().rise = perspective ? 15 : 0;
            work::StillSettings settings;
            settings.stop = {2, 0, 0};
            const work::Still made = still(work, settings);
            const auto boxes = std::get<finish::Fill>(work::layersOf(work).front().what).boxes;
            QCOMPARE(boxes.size(), letters.size());
            for (const finish::LetterBox& box : boxes) {
                base::Box2 seen;
                for (int y = 0; y < 600; ++y)
                    for (int x = 0; x < 800; ++x) {
                        const film::PixelId id = made.film->at(x, y).ids->most();
                        if (id.piece == box.piece && id.letter == box.letter && id.part == int(solid::Part::Face) + 1)
                            seen.add(Vec2{x + 0.5 - 400, 300 - y - 0.5});
                    }
                const double off = std::max({std::abs(seen.low.x - box.box.low.x), std::abs(seen.low.y - box.box.low.y),
                                             std::abs(seen.high.x - box.box.high.x), std::abs(seen.high.y - box.box.high.y)});
                QVERIFY2(off < 1.5, qPrintable(QString("letter %1: %2 pt").arg(box.letter).arg(off)));
            }
        }
        work.finish.layers.items.at("y1").lit = finish::Lit::InShadow;
        film::RankedIds ids;
        ids.ids[0] = {0, 0, 254};
        ids.shares[0] = 1;
        ids.open = 0.25f;
        QVERIFY(std::abs(finish::maskOf(work::layersOf(work).front(), ids) - 0.75f) < 1e-6f);
        work.lights = {};
        ids.open = 0;
        QVERIFY(finish::maskOf(work::layersOf(work).front(), ids) == 0);
        work.finish.layers.items.at("y1").lit = finish::Lit::InLight;
        QVERIFY(finish::maskOf(work::layersOf(work).front(), ids) == 1);
    }

    // A flare is as bright as the share of its lamp that is seen: counted in the rendered picture, whose letters stand before the lamp. A
    // wall before it hides it, a piece beside it or behind it does not.
    void flareOfAHiddenLamp()
    {
        Work work = kites();
        work.ground.kind = render::GroundKind::None;
        piece(work).slab()->front = {};
        piece(work).placement.stance = work::Stance::Free;
        work.lights = {};
        work::Light bulb;
        bulb.kind = light::LightKind::Bulb;
        bulb.size = 120;
        bulb.distance = 400;
        work.lights.add("l1", bulb);
        finish::Flare flare;
        flare.lamp = "l1";
        work::Layer layer;
        layer.what = flare;
        work.finish.layers.add("y1", layer);
        work::Light& lamp = work.lights.items.at("l1");
        const auto open = [&] { return std::get<finish::Flare>(work::layersOf(work).front().what).open; };
        int partly = 0;
        for (const bool perspective : {false, true}) {
            work.view().perspective = perspective;
            work.view().walk = perspective ? 20 : 0;
            piece(work).placement.turn = perspective ? 25 : 0;
            work::StillSettings settings;
            settings.stop = {2, 0, 0};
            const work::Still made = still(work, settings);
            const render::Camera camera = work::cameraOf(work, {});
            for (const double direction : {150.0, 165.0, 180.0, 187.0, 200.0}) {
                lamp.direction = direction;
                lamp.height = 3;
                const light::Light placed = work::lightOf(lamp);
                Vec2 middle, edge;
                QVERIFY(render::project(camera, placed.position, middle));
                QVERIFY(render::project(camera, placed.position + camera.right * placed.radius, edge));
                const double radius = (edge.x - middle.x) * 800;
                int all = 0, seen = 0;
                for (int y = 0; y < 600; ++y)
                    for (int x = 0; x < 800; ++x)
                        if (std::hypot(x + 0.5 - middle.x * 800, y + 0.5 - middle.y * 600) < radius) {
                            ++all;
                            seen += made.film->at(x, y).ids->most().piece == 0;
                        }
                QVERIFY(all > 1000);
                const double expected = double(seen) / all;
                partly += expected > 0.1 && expected < 0.9;
                QVERIFY2(std::abs(open() - expected) < 0.06,
                         qPrintable(QString("%1 %2: %3, not %4").arg(perspective).arg(direction).arg(open()).arg(expected)));
            }
        }
        QVERIFY(partly >= 5);
        work.ground.kind = render::GroundKind::Wall;
        QCOMPARE(open(), 0.0);
        lamp.direction = 0;
        QCOMPARE(open(), 1.0);
        work.ground.kind = render::GroundKind::None;
        lamp.direction = 180;
        piece(work).hidden = true;
        QCOMPARE(open(), 1.0);
    }

    // Typed is seen: matte, in plain surroundings of 1, true colour: CIEDE2000 at most 1 and nearly always the same byte.
    void typedIsSeen()
    {
        for (const char* hex : {"#E8664F", "#0B6E6E", "#FFFFFF", "#123456", "#FFC800", "#010203", "#C0C0C0"}) {
            Work work = kites("I");
            work.ground.kind = render::GroundKind::None;
            work.lights = {};
            work.surroundings.stops = 0;
            piece(work).slab()->front = {};
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

    // A sheet that lies elsewhere, with its piece moved along, gives the picture of the first: nothing hangs on the first sheet's middle.
    void sheetsLieWhereTheyLike()
    {
        Work work = kites("KITE");
        for (auto& [_, light] : work.lights.items)
            light.kind = light::LightKind::Sun;
        work.view().walk = 20;
        work.view().perspective = true;
        work::Sheet other = work.shownSheet();
        other.x = 300;
        other.y = -120;
        other.shifts["p1"] = {300, -120, 0};
        work.sheets.add("sh2", other);
        work::StillSettings settings;
        settings.widthPx = 160;
        settings.heightPx = 90;
        settings.stop = {4, 0, 0};
        const work::Still first = still(work, settings);
        work.shown = "sh2";
        const work::Still second = still(work, settings);
        QCOMPARE(work.placementOf("p1").x, 300.0);
        double sum = 0;
        for (std::size_t i = 0; i < first.picture.values.size(); ++i)
            sum += std::abs(double(first.picture.values[i]) - double(second.picture.values[i]));
        QVERIFY2(sum / double(first.picture.values.size()) < 2e-3, qPrintable(QString::number(sum / double(first.picture.values.size()))));
        // What is on another sheet has no say in the film.
        Work moved = work;
        moved.sheets.items.at("sh1").view.walk = 50;
        QCOMPARE(work::reworkBetween(work, moved), work::Rework::Mix);
        moved.sheets.items.at("sh2").view.walk = 50;
        QCOMPARE(work::reworkBetween(work, moved), work::Rework::Expose);
    }

    void whatCannotFitIsRefusedWithTheNumber()
    {
        Work work = kites();
        work.sheet() = {99000, 99000, work::Unit::Px, 72};
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
        QVERIFY(!same([](work::Work& w) { w.view().walk = 1; }));
        QVERIFY(!same([](work::Work& w) { w.pieces.items.begin()->second.material.piece.roughness = 0.1f; }));
    }
};

OPEN_GLOW_TEST(TestStill)
#include "test_still.moc"
