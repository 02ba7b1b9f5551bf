// Proofs in the window: kept, listed over the picture, compared, taken from, gone back to, removed and put back.
#include <QFileInfo>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include "app/driver.h"
#include "app/window/proof_sheet.h"

using driver::Window;

namespace {

QListWidget& list(Window& w)
{
    return *w.find<QListWidget>("proofs.list");
}

void choose(Window& w, std::initializer_list<int> rows)
{
    list(w).clearSelection();
    for (const int row : rows)
        list(w).item(row)->setSelected(true);
}

QColor middle(const QWidget& of, double across)
{
    const QImage seen = const_cast<QWidget&>(of).grab().toImage();
    return seen.pixelColor(static_cast<int>(across * seen.width()), seen.height() / 2);
}

}  // namespace

class TestProofsSheet : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Three versions, each kept with what it showed; nothing is lost by undo. They are seen side by side, one side of one is taken over,
    // and the whole of another comes back.
    void threeVersions()
    {
        Window w;
        QVERIFY(w.settle());
        w.session().edit("paint", [](work::Work& x) {
            x.surroundings.stops = 0;
            x.ground.kind = render::GroundKind::None;
        });
        const auto backdrop = [&](base::Rgb colour) {
            w.session().edit("backdrop", [&](work::Work& x) { x.ground.backdrop = colour; });
            return w.settle();
        };
        QVERIFY(!w.find<QWidget>("proofs")->isVisible());
        QVERIFY(backdrop({1, 0, 0}));
        QVERIFY(w.trigger("view.keepProof"));
        QVERIFY(w.find<QPushButton>("message.proofs")->isVisible());
        w.session().undo();
        w.session().undo();
        QCOMPARE(w.work().proofs.order.size(), std::size_t{1});
        w.session().redo();
        QVERIFY(backdrop({0, 1, 0}));
        w.session().edit("walk", [](work::Work& x) { x.view().walk = 20; });
        QVERIFY(w.settle());
        w.click("state.proofs");
        QVERIFY(w.find<QWidget>("proofs")->isVisible());
        w.find<QLineEdit>("proofs.note")->setText("green, from the right");
        w.click("proofs.keep");
        QCOMPARE(w.work().proofs.order.size(), std::size_t{2});
        QCOMPARE(list(w).count(), 3);
        QCOMPARE(list(w).item(2)->text(), QString("green, from the right"));
        QVERIFY(!w.find<QPushButton>("proofs.compare")->isEnabled() && !w.find<QPushButton>("proofs.remove")->isEnabled());
        QVERIFY(backdrop({0, 0, 1}));

        // With each other: the divider shows one to its left, the other to its right, and moves.
        choose(w, {1, 2});
        QVERIFY(!w.find<QPushButton>("proofs.back")->isEnabled());
        w.click("proofs.compare");
        auto* comparison = w.find<app::Comparison>("proofs.comparison");
        QVERIFY(comparison->isVisible() && !list(w).isVisible());
        const auto isRed = [](const QColor& c) { return c.red() > 200 && c.green() < 60; };
        const auto isGreen = [](const QColor& c) { return c.green() > 200 && c.red() < 60; };
        QVERIFY(isRed(middle(*comparison, 0.1)) && isGreen(middle(*comparison, 0.9)));
        driver::dragIn(comparison, QPointF(comparison->width() / 2.0, 90), QPointF(comparison->width() * 0.95, 90));
        QVERIFY(comparison->divider() > 0.9 && isRed(middle(*comparison, 0.85)));
        QTest::keyPress(comparison, Qt::Key_Space);
        QVERIFY(isGreen(middle(*comparison, 0.1)));
        QTest::keyRelease(comparison, Qt::Key_Space);
        QTest::keyClick(comparison, Qt::Key_Left, Qt::ShiftModifier);
        QVERIFY(isRed(middle(*comparison, 0.1)) && comparison->divider() < 0.9);
        QTest::keyClick(comparison, Qt::Key_Escape);
        QVERIFY(list(w).isVisible());
        // One with the work as it is; all three beside each other.
        choose(w, {1});
        w.click("proofs.compare");
        QVERIFY(middle(*comparison, 0.1).blue() > 200 && isRed(middle(*comparison, 0.9)));
        w.click("proofs.compare");
        choose(w, {0, 1, 2});
        w.click("proofs.compare");
        const QImage all = comparison->grab().toImage();
        const auto at = [&](double x, double y) { return all.pixelColor(int(x * all.width()), int(y * all.height())); };
        QVERIFY(at(0.05, 0.25).blue() > 200 && isRed(at(0.95, 0.25)) && isGreen(at(0.05, 0.75)));
        w.click("proofs.compare");

        // The camera of the second alone; then all of the first.
        choose(w, {2});
        w.session().edit("walk", [](work::Work& x) { x.view().walk = 0; });
        QVERIFY(w.trigger("proofs.take.view"));
        QCOMPARE(w.work().view().walk, 20.0);
        QVERIFY(w.work().ground.backdrop == (base::Rgb{0, 0, 1}) && !w.find<QWidget>("proofs")->isVisible());
        w.click("state.proofs");
        choose(w, {1});
        w.click("proofs.back");
        QVERIFY(w.work().ground.backdrop == (base::Rgb{1, 0, 0}) && w.work().view().walk == 0);
        QCOMPARE(w.work().proofs.order.size(), std::size_t{2});
        w.click("message.undo");
        QVERIFY(w.work().ground.backdrop == (base::Rgb{0, 0, 1}));

        // Held, a key shows the last one over the picture.
        QTest::keyPress(&w.window, Qt::Key_F8);
        QVERIFY(comparison->isVisible() && isRed(middle(*comparison, 0.1)) && !list(w).isVisible());
        QTest::keyRelease(&w.window, Qt::Key_F8);
        QVERIFY(!comparison->isVisible());

        // A note changed; removed and put back.
        w.click("state.proofs");
        list(w).item(1)->setText("red");
        QCOMPARE(w.work().proofs.items.at(w.work().proofs.order.front()).note, std::string("red"));
        const auto were = w.work().proofs;
        choose(w, {1, 2});
        w.click("proofs.remove");
        QVERIFY(w.work().proofs.order.empty());
        QCOMPARE(list(w).count(), 1);
        w.click("message.putBack");
        QVERIFY(w.work().proofs == were);
        QCOMPARE(list(w).count(), 3);
        w.click("state.proofs");
        QVERIFY(!w.find<QWidget>("proofs")->isVisible());
    }

    // While the picture shows a part, the proof's picture is rendered by itself, of all of the sheet.
    void ofAPart()
    {
        Window w;
        QVERIFY(w.settle());
        w.picture().setPart(QRectF(0.2, 0.2, 0.3, 0.3));
        QVERIFY(w.settle());
        QVERIFY(w.trigger("view.keepProof"));
        QTRY_COMPARE_WITH_TIMEOUT(w.work().proofs.order.size(), std::size_t{1}, 60000);
        const work::Proof& proof = w.work().proofs.items.begin()->second;
        const auto& bytes = *w.work().assets.at(proof.picture).bytes;
        const QImage picture = QImage::fromData(bytes.data(), static_cast<int>(bytes.size()));
        QCOMPARE(picture.size(), QSize(960, 540));
        // What is on its way when another work is opened does not land in that one.
        w.session().edit("walk", [](work::Work& x) { x.view().walk = 5; });
        QVERIFY(w.trigger("view.keepProof"));
        w.session().open(driver::kites("other"), {});
        QTest::qWait(4000);
        QVERIFY(w.work().proofs.order.empty());
    }
};

OPEN_GLOW_WINDOW_TEST(TestProofsSheet)
#include "test_proofs_sheet.moc"
