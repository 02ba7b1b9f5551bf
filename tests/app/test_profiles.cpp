// The bench for profiles: drawn by hand, by keys and by numbers, kept by name; and what else a slab's edges have.
#include <QComboBox>
#include <QInputDialog>
#include <QPushButton>
#include <QTimer>

#include "app/drawer/profile_view.h"
#include "driver.h"
#include "solid/profile.h"

using app::ProfileCurve;
using base::Vec2;
using driver::Window;

namespace {

std::vector<solid::ProfileNode> drawn(Window& w)
{
    const auto nodes = solid::readProfile(w.piece().slab()->front.drawn);
    return nodes ? *nodes : std::vector<solid::ProfileNode>();
}

bool isAt(Vec2 p, Vec2 q, double off = 0.02)
{
    if (length(p - q) < off)
        return true;
    qWarning("(%g, %g) instead of (%g, %g)", p.x, p.y, q.x, q.y);
    return false;
}

}  // namespace

class TestProfiles : public QObject {
    Q_OBJECT

    // The bench, with the bevel of all letters drawn from a chamfer.
    static ProfileCurve* openBench(Window& w)
    {
        w.trigger("edit.chooseAll");
        w.openSection("form");
        w.choose("form.profile", "Chamfer");
        w.choose("form.profile", "Drawn by hand");
        return w.find<ProfileCurve>("drawer.profile.curve");
    }

private Q_SLOTS:
    // What is drawn begins as what was there, and the bench opens. A point is put on the line, dragged and bent; the letters follow, and
    // each is one step back.
    void drawnByHand()
    {
        Window w;
        ProfileCurve* curve = openBench(w);
        QVERIFY(curve->isVisible());
        QCOMPARE(w.piece().slab()->front.profile, solid::Profile::Drawn);
        QCOMPARE(QString::fromStdString(w.piece().slab()->front.drawn), QString("M0 0 L1 1"));
        QVERIFY(w.settle());
        QTest::mouseDClick(curve, Qt::LeftButton, {}, curve->place({0.5, 0.5}).toPoint());
        QCOMPARE(drawn(w).size(), 3u);
        driver::dragIn(curve, curve->place({0.5, 0.5}), curve->place({0.25, 0.8}));
        QVERIFY(isAt(drawn(w)[1].p, {0.25, 0.8}));
        QVERIFY(drawn(w)[1].after == Vec2{});
        QTest::mouseDClick(curve, Qt::LeftButton, {}, curve->place(drawn(w)[1].p).toPoint());
        QVERIFY(length(drawn(w)[1].after) > 0.1);
        // A smooth point's handles turn together; with Shift one alone.
        const auto bent = drawn(w)[1];
        driver::dragIn(curve, curve->place(bent.p + bent.after), curve->place({0.6, 0.8}));
        QVERIFY(isAt(drawn(w)[1].p + drawn(w)[1].after, {0.6, 0.8}));
        QVERIFY(std::abs(drawn(w)[1].before.y) < 0.02);
        driver::dragIn(curve, curve->place({0.6, 0.8}), curve->place({0.6, 0.95}), Qt::LeftButton, Qt::ShiftModifier);
        QVERIFY(std::abs(drawn(w)[1].before.y) < 0.02 && drawn(w)[1].after.y > 0.1);
        QVERIFY(w.settle());
        for (int i = 0; i < 5; ++i)
            w.session().undo();
        QCOMPARE(drawn(w).size(), 2u);
        QCOMPARE(static_cast<int>(curve->nodes().size()), 2);
    }

    // Never past its neighbours or out of the square; the ends stay at the edge and the face.
    void pointsStayInOrder()
    {
        Window w;
        ProfileCurve* curve = openBench(w);
        w.click("drawer.profile.add");
        QVERIFY(isAt(drawn(w)[1].p, {0.5, 0.5}));
        w.click("drawer.profile.add");
        QCOMPARE(curve->chosen(), 2);
        driver::dragIn(curve, curve->place(drawn(w)[1].p), curve->place({0.95, 1.3}));
        QVERIFY(isAt(drawn(w)[1].p, {drawn(w)[2].p.x, 1}));
        driver::dragIn(curve, curve->place({0, 0}), curve->place({0.4, 0.3}));
        QVERIFY(isAt(drawn(w)[0].p, {0, 0.3}));
        QVERIFY(solid::readProfile(w.piece().slab()->front.drawn));
    }

    // All of it by keys, and by numbers.
    void byKeysAndNumbers()
    {
        Window w;
        ProfileCurve* curve = openBench(w);
        curve->setFocus();
        QTest::keyClick(curve, Qt::Key_Home);
        QTest::keyClick(curve, Qt::Key_Insert);
        QCOMPARE(curve->chosen(), 1);
        QTest::keyClick(curve, Qt::Key_Up, Qt::ShiftModifier);
        QTest::keyClick(curve, Qt::Key_Left);
        QVERIFY(isAt(drawn(w)[1].p, {0.49, 0.6}, 1e-6));
        w.type("drawer.profile.across.edit", "20");
        w.type("drawer.profile.up.edit", "75");
        QVERIFY(isAt(drawn(w)[1].p, {0.2, 0.75}, 1e-6));
        curve->setFocus();
        QTest::keyClick(curve, Qt::Key_Space);
        QVERIFY(drawn(w)[1].after != Vec2{});
        QCOMPARE(w.find<QPushButton>("drawer.profile.bend")->text(), QString("Corner"));
        QTest::keyClick(curve, Qt::Key_Space);
        QVERIFY(drawn(w)[1].after == Vec2{});
        QTest::keyClick(curve, Qt::Key_PageDown);
        QCOMPARE(curve->chosen(), 2);
        QTest::keyClick(curve, Qt::Key_Delete);  // an end stays
        QCOMPARE(drawn(w).size(), 3u);
        QTest::keyClick(curve, Qt::Key_PageUp);
        QTest::keyClick(curve, Qt::Key_Delete);
        QCOMPARE(drawn(w).size(), 2u);
    }

    // Kept by a name, taken for other letters, forgotten; those have theirs still.
    void keptByName()
    {
        Window w;
        openBench(w);
        w.choose("drawer.profile.kept", "Terraces");
        QCOMPARE(drawn(w).size(), 9u);
        QTimer::singleShot(0, [] {
            auto* ask = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            ask->setTextValue("Four steps");
            ask->accept();
        });
        w.click("drawer.profile.keep");
        w.choose("drawer.profile.kept", "Half round");
        const std::string path = w.piece().slab()->front.drawn;
        w.choose("drawer.profile.kept", "Four steps");
        QVERIFY(w.piece().slab()->front.drawn != path);
        QCOMPARE(drawn(w).size(), 9u);
        QVERIFY(w.find<QPushButton>("drawer.profile.forget")->isEnabled());
        w.click("drawer.profile.forget");
        QCOMPARE(w.find<QComboBox>("drawer.profile.kept")->findText("Four steps"), -1);
        QCOMPARE(drawn(w).size(), 9u);
        w.click("drawer.profile.close");
        QVERIFY(!w.find<QWidget>("drawer.profile")->isVisible());
    }

    // Of the back, which may be as the front, of the inlay's rim and of the flutes, each from its own rows.
    void everyEdgeHasItsBench()
    {
        Window w;
        openBench(w);
        w.click("form.back");
        w.type("form.back.width.edit", "3");
        w.choose("form.back.profile", "Drawn by hand");
        QCOMPARE(w.find<QComboBox>("drawer.profile.of")->currentText(), QString("Bevel at the back"));
        w.choose("drawer.profile.kept", "Cove");
        QCOMPARE(w.piece().slab()->back.profile, solid::Profile::Drawn);
        QVERIFY(!w.piece().slab()->back.drawn.empty() && w.piece().slab()->front.drawn == "M0 0 L1 1");
        w.click("form.back.linked");
        QVERIFY(w.piece().slab()->linked && !w.find<QWidget>("form.back.width.edit")->isVisible());
        w.click("form.inlay");
        w.type("form.inlay.sunk.edit", "2");
        w.type("form.inlay.rim.edit", "1");
        w.choose("form.inlay.profile", "Drawn by hand");
        w.click("form.inlay.draw");
        w.choose("drawer.profile.kept", "Ogee");
        QVERIFY(w.piece().slab()->inlay.drawn.find('C') != std::string::npos);
        w.click("form.sides");
        w.choose("form.sides.corners", "Flat");
        w.click("form.sides.grownOut");
        w.type("form.sides.draft.edit", "6");
        w.type("form.sides.flutes.edit", "3");
        w.type("form.sides.fluteDepth.edit", "1");
        w.click("form.sides.draw");
        w.choose("drawer.profile.kept", "Chamfer");
        const solid::SlabForm& slab = *w.piece().slab();
        QVERIFY(slab.corners == solid::Corners::Flat && slab.grownOut && slab.draft == 6 && slab.flutes.count == 3 &&
                slab.flutes.drawn == "M0 0 L1 1" && slab.flutes.deepPt > 0);
        const QString summary = w.window.ticket()->section("form")->summary();
        QVERIFY2(summary.contains("grown out"), qPrintable(summary));
        QVERIFY(w.settle());
    }
};

OPEN_GLOW_WINDOW_TEST(TestProfiles)
#include "test_profiles.moc"
