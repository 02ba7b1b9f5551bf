// Light transport against closed forms.
#include <QtTest>

#include "base/parallel.h"
#include "base/units.h"
#include "light/light.h"
#include "render/integrator.h"
#include "render/render.h"
#include "render/sampler.h"
#include "render/tracer.h"
#include "solid/check.h"
#include "solid/slab.h"
#include "support/expose.h"
#include "support/support.h"

using base::kPi;
using base::Rgb;
using base::Vec3;
using base::Vec3f;
using film::Film;
using light::Light;
using light::LightKind;
using render::Scene;
using support::addLight;
using support::alphaOf;
using support::expose;
using support::meanOf;
using support::meanOver;
using support::square;
using surface::Material;

namespace {

const Material kMatte{{1, 1, 1}, 0, 1, 0};

solid::SharedBody letter(const char* text, double depth)
{
    const auto font = support::font("League Spartan", "Bold");
    const auto placed = support::outlines(text, *font, 0.02).outlines.at(0);
    const solid::SlabForm form{depth, {3, 3, solid::Profile::Roundover, 8}, {}, solid::Corners::Round};
    return std::make_shared<const solid::Body>(*solid::makeSlab(*placed.outline, form, 0.02, {}));
}

}  // namespace

class TestTransport : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Albedo 1 in surroundings of 1 is invisible: a convex ball, and a letter whose parts light each other by paths of any
    // length, ended by roulette. A quarter of a per cent for noise.
    void furnace_data()
    {
        QTest::addColumn<bool>("convex");
        QTest::addColumn<Material>("material");
        QTest::newRow("ball, matte") << true << kMatte;
        QTest::newRow("ball, plastic") << true << Material{{1, 1, 1}, 0, 0.4f, 1};
        QTest::newRow("ball, metal") << true << Material{{1, 1, 1}, 1, 0.3f, 1};
        QTest::newRow("letter, matte") << false << kMatte;
        QTest::newRow("letter, plastic") << false << Material{{1, 1, 1}, 0, 0.4f, 1};
        QTest::newRow("letter, metal") << false << Material{{1, 1, 1}, 1, 0.5f, 1};
    }
    void furnace()
    {
        QFETCH(bool, convex);
        QFETCH(Material, material);
        Scene scene = support::scene({convex ? support::sphere(40, 64) : letter("E", 40)}, material, 90, 90);
        if (!convex)
            scene.camera.eye = {30, 35, 1000};
        scene.surroundings = true;
        scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
        const auto film = expose(scene, 48, 48, 128);
        double light = 0, covered = 0;
        for (int y = 0; y < 48; ++y)
            for (int x = 0; x < 48; ++x) {
                light += double(meanOf(*film, x, y).y);
                covered += alphaOf(*film, x, y);
            }
        QVERIFY(covered > 300);
        QVERIFY2(std::abs(light / covered - 1) < (convex ? 0.003 : 0.006), qPrintable(QString::number(light / covered)));
    }

    // Howell, A Catalog of Radiation Heat Transfer Configuration Factors: parallel unit squares one apart (C-11), and squares
    // with a common edge at a right angle (C-14). The mean radiance of a white matte square lit by the other is L F.
    void configurationFactors()
    {
        const auto plate = support::plate({-300, -300, 0}, {600, 0, 0}, {0, 600, 0});
        Scene parallel = support::scene({plate}, kMatte, 100, 100);
        addLight(parallel, square({0, 0, 100}, {0, 0, -1}, {1, 0, 0}, 50, 100));
        const double one = meanOver(*expose(parallel, 32, 32, 128)) / light::radianceAtBrightness1(parallel.lights[0]);
        QVERIFY2(std::abs(one / 0.19982 - 1) < 0.01, qPrintable(QString::number(one)));

        Scene corner = support::scene({support::plate({-300, -300, 0}, {600, 0, 0}, {0, 600, 0})}, kMatte, 100, 100);
        addLight(corner, square({-50, 0, 50}, {1, 0, 0}, {0, 1, 0}, 50, 100));
        const double two = meanOver(*expose(corner, 32, 32, 256)) / light::radianceAtBrightness1(corner.lights[0]);
        QVERIFY2(std::abs(two / 0.20004 - 1) < 0.01, qPrintable(QString::number(two)));
    }

    // The integrating sphere (D. Goebel, Generalized integrating-sphere theory, 1967): a bulb in the middle of a white ball of
    // reflectance rho; the wall's radiance is rho E / (pi (1 - rho)), E = I / R^2 being the direct irradiance.
    void integratingSphere()
    {
        for (const float rho : {0.5f, 0.9f}) {
            Scene scene = support::scene({support::sphere(100, 96, true)}, {{rho, rho, rho}, 0, 1, 0}, 40, 40);
            scene.camera.perspective = true;
            scene.camera.eye = {0, 0, 60};
            scene.camera.frameDistance = 40;
            Light bulb;
            bulb.kind = LightKind::Bulb;
            bulb.radius = 1;
            bulb.aimDistance = 100;  // brightness 1: direct irradiance pi at the wall
            addLight(scene, bulb);
            const double mean = meanOver(*expose(scene, 16, 16, 512));
            QVERIFY2(std::abs(mean / (rho / (1 - rho)) - 1) < 0.01, qPrintable(QString::number(mean)));
        }
    }

    // Parallel straight view: mean coverage times the frame's area is the outline's area.
    void silhouette()
    {
        const auto font = support::font("Junicode Two Beta", "Bold");
        QVERIFY(font);
        const auto placed = support::outlines("R", *font, 0.01).outlines.at(0);
        const auto body =
            std::make_shared<const solid::Body>(*solid::makeSlab(*placed.outline, {10, {2, 2}, {}, solid::Corners::Round}, 0.01, {}));
        Scene scene = support::scene({body}, kMatte, 120, 120);
        scene.camera.eye = {40, 40, 500};
        scene.surroundings = true;
        scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
        const auto film = expose(scene, 100, 100, 64);
        double covered = 0;
        for (int y = 0; y < 100; ++y)
            for (int x = 0; x < 100; ++x)
                covered += alphaOf(*film, x, y);
        const double ratio = covered * 1.2 * 1.2 / outline::area(*placed.outline);
        QVERIFY2(std::abs(ratio - 1) < 1e-3, qPrintable(QString::number(ratio)));
    }

    // A post of height h under a sun at elevation e throws a shadow of length h / tan(e).
    void shadowLength_data()
    {
        QTest::addColumn<double>("elevation");
        for (const double e : {20.0, 45.0, 70.0})
            QTest::addRow("%g degrees", e) << e;
    }
    void shadowLength()
    {
        QFETCH(double, elevation);
        const double height = 40, width = 20;
        Scene scene = support::scene({support::box({-10, 0, -10}, {10, height, 0})}, {{0, 0, 0}, 0, 1, 0}, 300, 300);
        scene.materials.push_back(kMatte);
        scene.ground = {render::GroundKind::Floor, 0, 0, 0, 1, 1};
        scene.camera = {{0, 500, 0}, {1, 0, 0}, {0, 0, -1}, {0, -1, 0}, false, 300, 300, 500};
        Light sun;
        sun.kind = LightKind::Sun;
        sun.radius = base::radians(0.05);
        sun.towardsAim = {0, -std::sin(base::radians(elevation)), std::cos(base::radians(elevation))};
        addLight(scene, sun);
        const auto film = expose(scene, 150, 150, 32);
        const double lit = std::sin(base::radians(elevation));  // of a white floor
        double dark = 0;
        for (int y = 0; y < 150; ++y)
            for (int x = 0; x < 150; ++x)
                if (y >= 75)  // in front of the post, where the shadow falls
                    dark += std::max(0.0, 1 - double(meanOf(*film, x, y).y) / lit);
        // The post is black, so that nothing but the sun lights the floor.
        const double length = dark * 4 / width;
        QVERIFY2(std::abs(length - height / std::tan(base::radians(elevation))) < 1.2, qPrintable(QString::number(length)));
    }

    // The soft edge of a softbox of size s at distance a from an edge, on a parallel receiver b behind it, is s b / a wide.
    void softShadowEdge()
    {
        const double s = 60, a = 400, b = 200;
        Scene scene = support::scene({support::plate({-300, -300, b}, {300, 0, 0}, {0, 600, 0})}, {{0, 0, 0}, 0, 1, 0}, 80, 2);
        scene.materials.push_back(kMatte);
        scene.ground = {render::GroundKind::Wall, 0, 0, 0, 1, 1};
        scene.camera.eye = {0, 0, b / 2};  // behind the edge
        Light box = square({0, 0, a + b}, {0, 0, -1}, {1, 0, 0}, s / 2, a + b);
        box.halfHeight = 20;
        addLight(scene, box);
        const auto film = expose(scene, 400, 10, 256);
        const auto lit = [&](int x) {
            double sum = 0;
            for (int y = 0; y < 10; ++y)
                sum += double(meanOf(*film, x, y).y);
            return sum;
        };
        const double full = lit(395);
        double low = 0, high = 0;
        for (int x = 1; x < 399; ++x) {
            low = lit(x) < 0.25 * full ? x : low;
            high = lit(x) < 0.75 * full ? x : high;
        }
        const double width = 2 * (high - low) * 80 / 400;  // between a quarter and three quarters lies half of it
        QVERIFY2(std::abs(width / (s * b / a) - 1) < 0.04, qPrintable(QString::number(width)));
    }

    // A ball of 16 rings of flat triangles, in light that grazes it: as bright as the ball it stands for, without steps of its facets where
    // day turns to night (Lambert's cosine law; facets that hide themselves from the light are wrong by a half).
    void noStepsAtTheTerminator()
    {
        constexpr int kSide = 120;
        constexpr double kRadius = 100;
        Scene scene = support::scene({support::sphere(kRadius, 16)}, kMatte, 2 * kRadius, 2 * kRadius);
        scene.surroundings = false;
        scene.entries.clear();
        Light sun;
        sun.kind = LightKind::Sun;
        sun.radius = base::radians(0.25);
        sun.towardsAim = normalized(Vec3{-0.9, -0.25, 0.35});
        addLight(scene, sun);
        const auto film = expose(scene, kSide, kSide, 64);
        double worst = 0;
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const double u = (x + 0.5) / kSide * 2 - 1, v = 1 - (y + 0.5) / kSide * 2, r2 = u * u + v * v;
                if (r2 > 0.85 * 0.85)
                    continue;
                const double expected = std::max(0.0, -dot(Vec3{u, v, std::sqrt(1 - r2)}, sun.towardsAim));
                worst = std::max(worst, std::abs(double(meanOf(*film, x, y).y) - expected));
            }
        QVERIFY2(worst < 0.03, qPrintable(QString::number(worst)));
    }

    // The error against a long render falls at least as fast as 1 / sqrt(samples), and two seeds agree.
    void convergence()
    {
        const Scene scene = busyScene();
        const auto reference = expose(scene, 24, 24, 4096, 77);
        const auto error = [&](std::uint32_t samples) {
            double sum = 0;
            for (std::uint32_t seed = 1; seed <= 4; ++seed) {
                const auto film = expose(scene, 24, 24, samples, seed);
                for (int y = 0; y < 24; ++y)
                    for (int x = 0; x < 24; ++x)
                        for (std::size_t e = 0; e < scene.entries.size(); ++e) {
                            // The absolute error: rare bright paths would rule a squared one.
                            sum += std::abs(double(meanOf(*film, x, y, e).y - meanOf(*reference, x, y, e).y));
                        }
            }
            return sum;
        };
        const double few = error(16), many = error(256);
        QVERIFY2(many < few / 4 * 1.15, qPrintable(QString("%1 then %2").arg(few).arg(many)));
        const auto other = expose(scene, 24, 24, 1024, 78);
        for (std::size_t e = 0; e < scene.entries.size(); ++e)
            QVERIFY(std::abs(meanOver(*other, e) / meanOver(*reference, e) - 1) < 0.01);
    }

    // Same seed and samples: same bytes for 1 and 2 threads, in one go or in two, whole or as a region; also of metal, where it is learnt
    // where thrown light comes from.
    void sameFilmHoweverItIsMade_data()
    {
        QTest::addColumn<float>("metallic");
        QTest::newRow("painted") << 0.0f;
        QTest::newRow("metal") << 1.0f;
    }
    void sameFilmHoweverItIsMade()
    {
        QFETCH(float, metallic);
        Scene scene = busyScene();
        scene.materials.push_back(scene.materials[0]);
        scene.materials.back().metallic = metallic;
        for (render::PlacedBody& body : scene.bodies)
            body.materials.fill(int(scene.materials.size()) - 1);
        const render::Tracer tracer(scene);
        QCOMPARE(render::Integrator(scene, tracer).learnThrownLight(), metallic > 0);
        std::unique_ptr<Film> one;
        {
            const base::ThreadLimit limit(1);
            one = expose(scene, 70, 50, 8);
        }
        const base::ThreadLimit limit(2);
        const auto two = expose(scene, 70, 50, 8);
        auto pieces = expose(scene, 70, 50, 3);
        render::RenderSettings settings;
        settings.stop = {8, 0, 0};
        QVERIFY(render::render(scene, settings, *pieces, {}).has_value());
        auto region = Film::create({70, 50, 11, 17, 40, 20, scene.entries});
        QVERIFY(render::render(scene, settings, **region, {}).has_value());
        for (int y = 0; y < 50; ++y)
            for (int x = 0; x < 70; ++x)
                for (int half = 0; half < 2; ++half)
                    for (std::size_t e = 0; e < scene.entries.size(); ++e) {
                        const Rgb value = one->at(x, y).colours[half][e];
                        QCOMPARE(two->at(x, y).colours[half][e], value);
                        QCOMPARE(pieces->at(x, y).colours[half][e], value);
                        if (x >= 11 && x < 51 && y >= 17 && y < 37)
                            QCOMPARE((*region)->at(x, y).colours[half][e], value);
                    }
    }

    // Light i alone agrees with its film beside the others.
    void everyLightHasItsOwnFilm()
    {
        const Scene scene = busyScene();
        const auto together = expose(scene, 32, 32, 512, 5);
        for (std::size_t i = 0; i < scene.lights.size(); ++i) {
            Scene alone = scene;
            alone.surroundings = false;
            alone.lights = {scene.lights[i]};
            alone.entries = {{"only"}};
            const double own = meanOver(*expose(alone, 32, 32, 512, 6));
            QVERIFY2(std::abs(own / meanOver(*together, i + 1) - 1) < 0.01, qPrintable(QString::number(own)));
        }
    }

    // Where a ray meets a face, u and v are the place on it (solid/body.h), whatever the body's pose; on the wall they are the wall's.
    void surfacesSayWhereTheyAreMet()
    {
        const auto body = letter("I", 40);
        Scene scene = support::scene({body}, kMatte, 100, 100);
        scene.bodies[0].pose.origin = {7, -5, 3};
        scene.ground.kind = render::GroundKind::Wall;
        const render::Tracer tracer(scene);
        const base::Box3 box = solid::bounds(*body);
        base::V3<base::Wide> from, to;
        for (int lane = 0; lane < base::kLanes; ++lane) {
            const auto share = 0.4f + 0.2f * float(lane) / base::kLanes;
            // The last one goes beside the letter.
            const float x = lane == base::kLanes - 1 ? 500 : float(box.low.x + (box.high.x - box.low.x) * share) + 7;
            base::setLane(from, lane, {x, float(box.low.y + (box.high.y - box.low.y) * share) - 5, 200});
            base::setLane(to, lane, {0, 0, -1});
        }
        render::Hits hits;
        base::Mask found;
        tracer.intersect(from, to, base::Mask::firstOf(base::kLanes), true, hits, found);
        for (int lane = 0; lane < base::kLanes; ++lane) {
            QVERIFY(found[lane]);
            const bool onBody = hits.body[lane] >= 0;
            QCOMPARE(onBody, lane < base::kLanes - 1);
            const surface::Place place = tracer.placeAt(hits, lane);
            QVERIFY(std::abs(place.u - (from.x[lane] - (onBody ? 7 : 0))) < 1e-3f);
            QVERIFY(std::abs(place.v - (from.y[lane] + (onBody ? 5 : 0))) < 1e-3f);
            QVERIFY(std::abs(place.point.x - from.x[lane]) < 1e-3f);
        }
    }

    // Rays from inside closed bodies never get out: none of 40 million is under 1e-7 with 95 % confidence (rule of three).
    void bodiesDoNotLeak()
    {
        for (const char* text : {"R", "E"}) {
            const auto body = letter(text, 40);
            const Scene scene = support::scene({body}, kMatte, 100, 100);
            const render::Tracer tracer(scene);
            std::vector<Vec3f> inside;
            for (std::size_t i = 0; i < body->triangles.size(); ++i)
                if (body->parts[i] == solid::Part::Face) {
                    const auto& t = body->triangles[i];
                    const Vec3f a = body->positions[t[0]], b = body->positions[t[1]], c = body->positions[t[2]];
                    if (length(cross(b - a, c - a)) > 1)
                        inside.push_back((a + b + c) * (1.0f / 3) - Vec3f{0, 0, 20});
                }
            QVERIFY(!inside.empty());
            int escaped = 0;
            for (std::uint32_t i = 0; i < 20000000; i += base::kLanes) {
                base::V3<base::Wide> from, to;
                for (int lane = 0; lane < base::kLanes; ++lane) {
                    render::Sampler sampler(1, 1, i + std::uint32_t(lane), 2);
                    const auto [u, v] = sampler.next2();
                    const float z = 1 - 2 * u, r = std::sqrt(std::max(0.0f, 1 - z * z)), phi = float(2 * kPi) * v;
                    base::setLane(from, lane, inside[(i + std::uint32_t(lane)) % inside.size()]);
                    base::setLane(to, lane, {r * std::cos(phi), r * std::sin(phi), z});
                }
                render::Hits hits;
                base::Mask found;
                tracer.intersect(from, to, base::Mask::firstOf(base::kLanes), false, hits, found);
                escaped += base::kLanes - base::countOf(found);
            }
            QCOMPARE(escaped, 0);
        }
    }

    // The noise figure is what it says: the spread of many renders of the same length.
    void noiseIsTheStandardError()
    {
        const Scene scene = busyScene();
        const film::Viewing viewing{{{}, {0.5f, 0.5f, 0.5f}, {}}, [](Rgb light, float) { return light; }};
        double estimated = 0;
        std::vector<double> sum(32 * 32), square(32 * 32);
        const int runs = 16;
        for (int seed = 0; seed < runs; ++seed) {
            const auto film = expose(scene, 32, 32, 16, std::uint32_t(seed));
            estimated += denoise::estimateNoise(*film, *denoise::clean(*film, {denoise::Mode::Off, viewing.desk}, {}), viewing) / runs;
            for (int i = 0; i < 32 * 32; ++i) {
                const double v = 255 * 0.5 * double(meanOf(*film, i % 32, i / 32, 1).y);
                sum[std::size_t(i)] += v;
                square[std::size_t(i)] += v * v;
            }
        }
        std::vector<double> errors;
        for (std::size_t i = 0; i < sum.size(); ++i)
            errors.push_back(std::sqrt(std::max(0.0, square[i] / runs - sum[i] * sum[i] / runs / runs) * runs / (runs - 1)));
        std::nth_element(errors.begin(), errors.begin() + 972, errors.end());
        // Low-discrepancy halves differ more than independent ones would, and 7 x 7 windows blur: within a factor of two.
        QVERIFY2(estimated > errors[972] / 2 && estimated < errors[972] * 2.5,
                 qPrintable(QString("%1, true %2").arg(estimated).arg(errors[972])));
    }

    void stopsByTimeAndOnRequest()
    {
        const Scene scene = busyScene();
        auto film = Film::create({200, 200, 0, 0, 200, 200, scene.entries});
        render::RenderSettings settings;
        settings.stop = {0, 0.3, 0};
        const auto timed = render::render(scene, settings, **film, {});
        QVERIFY(timed->reason == render::Stopped::BySeconds);
        QVERIFY((*film)->leastSamples() >= 1);
        std::stop_source source;
        settings.stop = {1000000, 0, 0};
        settings.sink.onRound = [&](const render::RoundStatus&) { source.request_stop(); };
        const auto stopped = render::render(scene, settings, **film, base::Progress(source.get_token()));
        QVERIFY(stopped->reason == render::Stopped::ByRequest);
        settings.stop = {0, 0, 0};
        QVERIFY(!render::render(scene, settings, **film, {}).has_value());
    }

    // In a level parallel view the floor is folded down: a shadow on it keeps its true length below the line.
    void foldedFloor()
    {
        Scene scene = support::scene({support::box({-10, 0, -10}, {10, 40, 0})}, kMatte, 200, 200);
        scene.materials.push_back(kMatte);
        scene.ground = {render::GroundKind::Floor, 0, 0, 0, 1, 1};
        scene.foldZ = 0;
        Light sun;
        sun.kind = LightKind::Sun;
        sun.radius = base::radians(0.05);
        sun.towardsAim = normalized(Vec3{0, -1, 1});
        addLight(scene, sun);
        const auto film = expose(scene, 100, 100, 16);
        QVERIFY(alphaOf(*film, 50, 20) == 0);      // above the post
        QVERIFY(alphaOf(*film, 5, 90) == 1);       // the floor fills the frame below its line
        QVERIFY(meanOf(*film, 50, 60).y < 0.05f);  // 20 pt before the post: in its shadow of 40 pt
        QVERIFY(meanOf(*film, 50, 80).y > 0.6f);   // 60 pt before it: lit, cos 45 degrees
    }

private:
    static Scene busyScene()
    {
        Scene scene = support::scene({letter("E", 40)}, {{0.8f, 0.3f, 0.2f}, 0, 0.3f, 1}, 140, 140);
        scene.materials.push_back({{0.7f, 0.7f, 0.7f}, 0, 0.8f, 1});
        scene.ground = {render::GroundKind::Wall, 0, 0, 0, 1, 1};
        scene.camera.eye = {30, 35, 500};
        scene.surroundings = true;
        scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
        const Vec3 place{-200, 300, 400};
        Light box = square(place, -normalized(place), normalized(cross(Vec3{0, 1, 0}, place)), 60, length(place));
        addLight(scene, box);
        Light bulb;
        bulb.kind = LightKind::Bulb;
        bulb.position = {300, 20, 200};
        bulb.radius = 15;
        bulb.aimDistance = 360;
        bulb.deskLuminance = 0.3f;
        addLight(scene, bulb);
        return scene;
    }
};

OPEN_GLOW_TEST(TestTransport)
#include "test_transport.moc"
