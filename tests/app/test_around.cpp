// What comes from all round, in the window.
#include <QListWidget>

#include "app/drawer/sky_charts.h"
#include "app/driver.h"
#include "work/pictures.h"
#include "work/surroundings.h"

using driver::Window;

namespace {

const work::Surroundings& around(Window& w)
{
    return w.work().surroundings;
}

void open(Window& w, const char* group)
{
    w.click(group);
    QTest::qWait(50);
}

}  // namespace

class TestAround : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Ready ones are shown on the own letter; one is taken, the picture changes, and it is taken back.
    void readyOnes()
    {
        Window w;
        QVERIFY(w.settle());
        const work::Surroundings before = around(w);
        w.openSection("light");
        open(w, "light.surroundings");
        w.click("surroundings.ready");
        auto* list = w.find<QListWidget>("surroundings.ready.list");
        QVERIFY(list->item(0)->toolTip().contains(", "));  // what it is sought by
        QVERIFY(list->isVisible() && list->count() >= 14);
        const auto seen = [&](int row) { return list->item(row)->icon().pixmap(80).toImage(); };
        const QImage blank = seen(list->count() - 1);
#ifndef OPEN_GLOW_CHECKED
        QTRY_VERIFY_WITH_TIMEOUT(seen(0) != blank && seen(2) != blank, 120000);
        QVERIFY(seen(0) != seen(2));
#endif
        const auto tent = list->findItems("Two strips", Qt::MatchExactly);
        QCOMPARE(tent.size(), 1);
        Q_EMIT list->itemClicked(tent.front());
        QVERIFY(!list->isVisible());
        QCOMPARE(around(w).kind, work::SurroundingsKind::Sky);
        QCOMPARE(around(w).cards.order.size(), std::size_t{3});
        QVERIFY(std::abs(around(w).stops - before.stops) > 0.01);  // a white card stays as bright
        QVERIFY(w.settle());
        w.session().undo();
        QVERIFY(around(w) == before);
    }

    // Cards and flags are added, changed by their values, named, taken away for a while and for good.
    void cards()
    {
        Window w;
        w.openSection("light");
        open(w, "light.surroundings.cards");
        w.click("surroundings.card.add");
        QCOMPARE(around(w).kind, work::SurroundingsKind::Sky);
        QTest::qWait(50);  // its rows have pushed the buttons away
        w.click("surroundings.flag.add");
        QCOMPARE(around(w).cards.order.size(), std::size_t{2});
        const auto card = [&](std::size_t i) { return around(w).cards.items.at(around(w).cards.order[i]); };
        QVERIFY(card(0).colour == (base::Rgb{1, 1, 1}) && card(1).colour == (base::Rgb{0, 0, 0}));
        auto* list = w.find<QListWidget>("surroundings.cards.list");
        QCOMPARE(list->item(0)->text(), QString("Card"));
        QCOMPARE(list->item(1)->text(), QString("Flag"));
        w.type("light.surroundings.cards.width.edit", "24");  // of the flag, which is shown
        QCOMPARE(card(1).width, 24.0);
        list->setCurrentRow(0);
        QTest::qWait(20);
        w.type("light.surroundings.cards.direction.edit", "-120");
        w.type("light.surroundings.cards.colour.hex", "#FF8000");
        QCOMPARE(card(0).direction, -120.0);
        QVERIFY(card(0).colour.x > 0.99f && card(1).width == 24);
        list->item(0)->setText("Late glow");
        QCOMPARE(card(0).name, std::string("Late glow"));
        list->item(1)->setCheckState(Qt::Unchecked);
        QVERIFY(!card(1).on);
        list->setCurrentRow(1);
        w.click("surroundings.card.remove");
        QCOMPARE(around(w).cards.order.size(), std::size_t{1});
        QCOMPARE(card(0).name, std::string("Late glow"));
        QVERIFY(w.settle());
    }

    // A metal taken while light is the same from everywhere: it is said why it is dull, with something to put there; once.
    void metalAsksForSomethingToShow()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.trigger("view.book"));
        auto* list = w.find<QListWidget>("book.list");
        const auto take = [&](const QString& name) { Q_EMIT list->itemClicked(list->findItems(name, Qt::MatchExactly).front()); };
        take("Oak");
        QVERIFY(!w.find<QLabel>("message.text")->isVisible());
        take("Gold");
        QVERIFY(w.find<QLabel>("message.text")->text().contains("Metal shows"));
        w.click("message.around.two-strips");
        QCOMPARE(around(w).kind, work::SurroundingsKind::Sky);
        QVERIFY(w.piece().material.piece.metallic == 1);
        w.session().undo();
        QVERIFY(around(w).kind == work::SurroundingsKind::Even && w.piece().material.piece.metallic == 1);
    }

    // A picture of all round: chosen from a file, named, turned; dropped as an HDR; what is none is told and nothing is lost.
    void aPictureAllRound()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("light");
        open(w, "light.surroundings");
        QImage image(64, 32, QImage::Format_RGB888);
        image.fill(QColor(90, 140, 220));
        QVERIFY(image.save(driver::path("dune sky.png")));
        driver::answerFileDialog(driver::path("dune sky.png"));
        w.click("surroundings.picture");
        QTRY_VERIFY_WITH_TIMEOUT(around(w).kind == work::SurroundingsKind::Picture, 60000);
        QTest::qWait(20);
        QVERIFY(w.find<QLabel>("surroundings.pictureName")->text().contains("dune-sky.png"));
        QVERIFY(work::panoramaOf(w.work(), around(w).picture) != nullptr);
        QVERIFY(!w.find<QWidget>("light.surroundings.horizon.hex")->isVisible());
        w.type("light.surroundings.tilt.edit", "15");
        QCOMPARE(around(w).tilt, 15.0);
        QVERIFY(w.settle());
        const work::Work before = w.work();
        QFile none(driver::path("none.hdr"));
        QVERIFY(none.open(QIODevice::WriteOnly) && none.write("kites fly") > 0);
        none.close();
        driver::answerFileDialog(driver::path("none.hdr"));
        w.click("surroundings.picture");
        QTRY_VERIFY_WITH_TIMEOUT(w.find<QLabel>("message.text")->text().contains("no HDR"), 60000);
        QVERIFY(w.work() == before);
    }

    // The charts: a card is chosen there, dragged, made larger, turned and made brighter; added, moved by keys and removed. Each drag is a
    // step of the history, and the picture follows.
    void onTheCharts()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("light");
        open(w, "light.surroundings.cards");
        w.click("surroundings.charts");
        auto* charts = w.find<app::SkyCharts>("drawer.sky");
        QVERIFY(charts->isVisible());
        const auto drag = [&](base::Vec3 from, base::Vec3 to) {
            QTest::mousePress(charts, Qt::LeftButton, {}, charts->at(from).toPoint());
            QMouseEvent move(QEvent::MouseMove, charts->at(to), charts->mapToGlobal(charts->at(to)), Qt::NoButton, Qt::LeftButton, {});
            QCoreApplication::sendEvent(charts, &move);
            QTest::mouseRelease(charts, Qt::LeftButton, {}, charts->at(to).toPoint());
        };
        const base::Vec3 first = normalized(base::Vec3{-0.4, 0.3, 1}), second = normalized(base::Vec3{0.5, 0.1, -1});
        QTest::mouseDClick(charts, Qt::LeftButton, {}, charts->at(first).toPoint());
        QCOMPARE(around(w).kind, work::SurroundingsKind::Sky);
        QCOMPARE(around(w).cards.order.size(), std::size_t{1});
        const std::string id = around(w).cards.order.front();
        const auto card = [&]() -> const work::SkyCard& { return around(w).cards.items.at(id); };
        const auto miss = [&](base::Vec3 at) { return length(session::directionOf(card(), around(w)) - at); };
        QVERIFY2(miss(first) < 0.03, qPrintable(QString::number(miss(first))));
        drag(session::directionOf(card(), around(w)), second);  // to the other chart
        QVERIFY2(miss(second) < 0.03, qPrintable(QString::number(miss(second))));
        const double width = card().width, roll = card().roll, stops = card().stops;
        drag(session::cornerOf(card(), around(w)), normalized(session::cornerOf(card(), around(w)) * 1.6 - second * 0.6));
        QVERIFY(card().width > width + 8 && miss(second) < 0.03);
        drag(session::topOf(card(), around(w)), session::cornerOf(card(), around(w)));
        QVERIFY(std::abs(card().roll - roll) > 10);
        const QPointF at = charts->at(second);
        QWheelEvent wheel(at, charts->mapToGlobal(at), {}, {0, 120}, {}, {}, Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(charts, &wheel);
        QVERIFY(card().stops > stops);
        QTest::keyClick(charts, Qt::Key_Up);
        QTest::keyClick(charts, Qt::Key_Up, Qt::ShiftModifier);
        QVERIFY(session::directionOf(card(), around(w)).y > second.y + 0.15);
        QVERIFY(w.settle());
        w.session().undo();
        QVERIFY(card().stops > stops);  // the keys were one step
        QTest::keyClick(charts, Qt::Key_Delete);
        QVERIFY(around(w).cards.order.empty());
        QTest::keyClick(charts, Qt::Key_Escape);
        QVERIFY(!charts->isVisible());
    }

    // Even light has no rows of a sky; with one, its colours are there.
    void rowsOfASky()
    {
        Window w;
        w.openSection("light");
        open(w, "light.surroundings");
        QVERIFY(!w.find<QWidget>("light.surroundings.horizon.hex")->isVisible());
        w.choose("light.surroundings.kind", "Sky and cards");
        QTest::qWait(20);
        w.type("light.surroundings.horizon.hex", "#FF0000");
        w.type("light.surroundings.turn.edit", "30");
        QVERIFY(around(w).horizon == (base::Rgb{1, 0, 0}) && around(w).turn == 30);
        QVERIFY(w.settle());
    }
};

OPEN_GLOW_WINDOW_TEST(TestAround)
#include "test_around.moc"
