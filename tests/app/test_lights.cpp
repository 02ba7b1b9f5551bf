// Lights in the window: set-ups, temperature and beam, aimed by their glint and their shadow; what is behind, and the lens.
#include <QCheckBox>
#include <QComboBox>
#include <QInputDialog>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>

#include "app/driver.h"
#include "base/units.h"
#include "files/light_setup.h"
#include "session/casting.h"
#include "session/edits.h"
#include "session/light_hand.h"
#include "work/fonts.h"
#include "work/surroundings.h"

using driver::Window;

namespace {

void open(Window& w, const char* group)
{
    w.click(group);
    QTest::qWait(50);
}

const work::Light& first(Window& w)
{
    return w.work().lights.items.at(w.work().lights.order.front());
}

// The middle of the longest level run on a letter (counted from 0) that faces the viewer.
QPointF facing(Window& w, int letter)
{
    const auto& frame = w.picture().frame();
    const session::LightHand hand(frame.shownWork->work, frame.shownWork->bodies);
    QPointF best;
    for (int y = 20, longest = 0; y < 80; ++y)
        for (int x = 0, run = 0; x < 800; ++x) {
            const base::Vec2 uv{x / 800.0, y / 100.0};
            const auto id = w.picture().idAt(w.picture().fromFrame(uv));
            const auto at = id && id->piece == 1 && id->letter == letter + 1 ? hand.touch(uv) : std::nullopt;
            run = at && !at->onGround && at->normal.z > 0.98 ? run + 1 : 0;
            if (run > longest) {
                longest = run;
                best = w.picture().fromFrame({(x - run / 2) / 800.0, uv.y});
            }
        }
    return best;
}

// Where a lamp's reflection would be, in degrees off its place: 0 where the light stands in the mirror direction of a place.
double missOf(Window& w, QPointF place)
{
    const auto& frame = w.picture().frame();
    const session::LightHand hand(frame.shownWork->work, frame.shownWork->bodies);
    const auto at = hand.touch(w.picture().toFrame(place));
    if (!at)
        return 180;
    const base::Vec3 lamp = work::lightOf(first(w)).position - at->point;
    const base::Vec3 mirror = at->normal * (2 * dot(at->normal, at->view)) - at->view;
    return base::degrees(std::acos(std::clamp(dot(normalized(lamp), normalized(mirror)), -1.0, 1.0)));
}

}  // namespace

class TestLights : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Set-ups are shown on the own letter; one is taken in the place of the lamps, or beside them, in one step each.
    void setups()
    {
        Window w;
        QVERIFY(w.settle());
        const work::Work before = w.work();
        w.openSection("light");
        w.click("light.starts");
        auto* list = w.find<QListWidget>("light.starts.list");
        QVERIFY(list->isVisible() && list->count() >= 14);
        const auto item = [&](const QString& name) { return list->findItems(name, Qt::MatchExactly).front(); };
        const auto seen = [&](const QString& name) { return item(name)->icon().pixmap(80).toImage(); };
        const QImage blank = seen(list->item(list->count() - 1)->text());
#ifndef OPEN_GLOW_CHECKED
        QTRY_VERIFY_WITH_TIMEOUT(seen(list->item(0)->text()) != blank && seen("High noon") != blank && seen("Flat and bright") != blank,
                                 120000);
        QVERIFY(seen("High noon") != seen("Flat and bright"));
#endif
        Q_EMIT list->itemClicked(item("Two coloured sides"));
        QVERIFY(!list->isVisible());
        QCOMPARE(w.work().lights.order.size(), std::size_t{2});
        QVERIFY(w.settle());
        w.find<QCheckBox>("light.starts.adds")->click();
        const double around = w.work().surroundings.stops;
        w.click("light.starts");
        Q_EMIT list->itemClicked(item("Candle"));
        QCOMPARE(w.work().lights.order.size(), std::size_t{3});
        QCOMPARE(w.work().surroundings.stops, around);
        w.session().undo();
        w.session().undo();
        QVERIFY(w.work() == before);
    }

    // The lamps that are there are kept by a name, found among the set-ups, and forgotten.
    void ownSetups()
    {
        Window w;
        w.openSection("light");
        QTimer::singleShot(0, &w.window, [] {
            auto* ask = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            if (!ask)
                return;
            ask->setTextValue("Dunes at five");
            ask->accept();
        });
        w.click("light.keep");
        const auto kept = files::lightSetups({files::ownLightSetupFolder()});
        QVERIFY(kept.size() == 1 && kept[0].name == "Dunes at five" && kept[0].setup.lights.size() == 1);
        w.click("light.starts");
        auto* list = w.find<QListWidget>("light.starts.list");
        const auto found = list->findItems("Dunes at five", Qt::MatchExactly);
        QCOMPARE(found.size(), 1);
        list->setCurrentItem(found.front());
        w.find<QAction>("light.starts.forget")->trigger();
        QVERIFY(files::lightSetups({files::ownLightSetupFolder()}).empty());
    }

    // Temperature is mixed at the desk, the beam is exposed anew; rows are there where they mean something.
    void temperatureAndBeam()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("light");
        const work::Work before = w.work();
        w.type("light.kelvin.edit", "2856 K");
        QCOMPARE(first(w).kelvin, 2856.0);
        QCOMPARE(work::reworkBetween(before, w.work()), work::Rework::Mix);
        QVERIFY(first(w).factor().x > 1.5f * first(w).factor().z);
        open(w, "light.beam");
        w.choose("light.beam.form", "Disc");
        QTest::qWait(20);
        QVERIFY(first(w).form == light::SoftboxForm::Disc && !w.find<QWidget>("light.beam.breadth.edit")->isVisible());
        w.type("light.beam.grid.edit", "30");
        QCOMPARE(first(w).grid, 30.0);
        QCOMPARE(work::reworkBetween(before, w.work()), work::Rework::Expose);
        w.find<QCheckBox>("light.beam.falls")->click();
        QVERIFY(!first(w).falls);
        w.choose("light.kind", "Sun");
        QTest::qWait(20);
        QVERIFY(!w.find<QWidget>("light.beam.grid.edit")->isVisible());
        QVERIFY(w.settle());
    }

    // Dragged over a letter, the light stands where its reflection is seen under the pointer, at its distance; one step of the history. A
    // click does the same, and Esc ends it.
    void pointedAtByItsGlint()
    {
        work::Work work = driver::kites("KITE", 480, 270);
        work.pieces.items.begin()->second.slab()->front = {3, 3, solid::Profile::Roundover, 16};
        Window w(work);
        QVERIFY(w.settle());
        const double distance = first(w).distance;
        const work::Light before = first(w);
        w.openSection("light");
        w.click("light.glint");
        const QPointF from = facing(w, 0), to = facing(w, 3);
        w.drag(from, to);
        QVERIFY(!(first(w) == before) && std::abs(first(w).distance - distance) < 1e-9);
        QVERIFY2(missOf(w, to) < 0.5, qPrintable(QString::number(missOf(w, to))));
        w.clickAt(facing(w, 2));
        QVERIFY2(missOf(w, facing(w, 2)) < 0.5, qPrintable(QString::number(missOf(w, facing(w, 2)))));
        w.session().undo();
        w.session().undo();
        QVERIFY(first(w) == before);
        w.key(Qt::Key_Escape);
        w.clickAt(w.letterPlace(3));  // chooses again
        QVERIFY(first(w) == before && !w.session().choice().empty());
    }

    // A shadow on the wall is pulled further, and with Shift it gets softer; where there is none, it is said.
    void pulledByItsShadow()
    {
        work::Work work = driver::kites("I", 480, 270);
        work.ground.wallBehind = 60;
        work.pieces.items.begin()->second.placement.stance = work::Stance::Free;
        work::Light& lamp = work.lights.items.begin()->second;
        lamp.direction = -45;
        lamp.height = 10;
        lamp.width = lamp.breadth = 20;
        Window w(work);
        QVERIFY(w.settle());
        w.openSection("light");
        w.click("light.shadow");
        const work::Light before = first(w);
        // Somewhere to the right of the letter its shadow lies.
        const auto& shown = *w.picture().frame().shownWork;
        const session::LightHand hand(shown.work, shown.bodies);
        std::optional<QPointF> place;
        for (double x = 0.5; x < 0.95 && !place; x += 0.01)
            if (const auto at = hand.touch({x, 0.5}); at && at->onGround && hand.casterOf(at->point, before))
                place = w.picture().fromFrame({x + 0.01, 0.5});
        QVERIFY(place.has_value());
        w.drag(*place, *place + QPointF(40, 12));
        QVERIFY(first(w).direction < before.direction - 2 && first(w).width == before.width);
        w.session().undo();
        w.drag(*place, *place + QPointF(18, 0), Qt::LeftButton, Qt::ShiftModifier);
        QVERIFY(first(w).width > 2 * before.width && first(w).direction == before.direction);
        w.session().undo();
        w.clickAt(w.picture().fromFrame({0.03, 0.05}));
        QVERIFY(first(w) == before);
        QVERIFY(w.find<QLabel>("message.text")->text().contains("no shadow"));
    }

    // A card comes where its reflection was pointed at.
    void aCardByItsGlint()
    {
        work::Work work = driver::kites();
        work::useSurroundings(work, *work::readySurroundings("two-strips"));
        Window w(work);
        QVERIFY(w.settle());
        w.openSection("light");
        open(w, "light.surroundings.cards");
        auto* cards = w.find<QListWidget>("surroundings.cards.list");
        cards->setCurrentRow(0);
        const std::string id = w.work().surroundings.cards.order.front();
        const work::SkyCard before = w.work().surroundings.cards.items.at(id);
        w.click("surroundings.card.glint");
        w.clickAt(facing(w, 1));
        const work::SkyCard& after = w.work().surroundings.cards.items.at(id);
        // The face looks at the viewer: what it mirrors is behind the viewer.
        QVERIFY(!(after == before) && std::abs(after.direction) < 1 && std::abs(after.height) < 1 && after.width == before.width);
    }

    // What is behind: a gradient, or the surroundings; the picture shows it at once, without a new exposure.
    void behind()
    {
        work::Work work = driver::kites();
        work.ground.kind = render::GroundKind::None;
        Window w(work);
        QVERIFY(w.settle());
        w.openSection("ground");
        const work::Work before = w.work();
        const auto corner = [&](bool top) { return QColor(w.picture().image().pixel(2, top ? 2 : w.picture().image().height() - 3)); };
        w.choose("ground.backdropKind", "Gradient");
        QTest::qWait(20);
        w.type("ground.backdrop.hex", "#FF0000");
        w.type("ground.backdropTop.hex", "#0000FF");
        QCOMPARE(work::reworkBetween(before, w.work()), work::Rework::Mix);
        QVERIFY(w.settle());
        QTRY_VERIFY(corner(true).blue() > 220 && corner(false).red() > 220 && corner(true).red() < 60);
        w.choose("ground.backdropKind", "Surroundings");
        w.session().edit("dark", [](work::Work& x) { x.surroundings.stops = -4; });
        QVERIFY(w.settle());
        QTRY_VERIFY(std::abs(corner(true).red() - 71) < 4 && std::abs(corner(false).blue() - 71) < 4);  // 1/16 in sRGB
    }

    // A picture behind: chosen from a file, it fills the frame at once, and a finished still has it; a colour shows where it lets through.
    void pictureBehind()
    {
        work::Work work = driver::kites();
        work.ground.kind = render::GroundKind::None;
        Window w(work);
        QVERIFY(w.settle());
        const work::Work before = w.work();
        QImage dunes(64, 36, QImage::Format_ARGB32);
        dunes.fill(QColor(0, 120, 200));
        for (int x = 0; x < 64; ++x)
            for (int y = 18; y < 36; ++y)
                dunes.setPixelColor(x, y, x < 32 ? QColor(220, 180, 40) : QColor(0, 0, 0, 0));
        dunes.save(driver::path("dunes.png"));
        w.openSection("ground");
        w.choose("ground.backdropKind", "Picture");
        QTest::qWait(20);
        w.type("ground.backdrop.hex", "#FF00FF");
        driver::answerFileDialog(driver::path("dunes.png"));
        QTimer::singleShot(0, &w.window, [] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
                menu->findChild<QAction*>("picture.file")->trigger();
                menu->close();
            }
        });
        w.click("ground.backdropPicture");
        QTRY_VERIFY_WITH_TIMEOUT(!w.work().ground.backdropPicture.empty(), 60000);
        QCOMPARE(work::reworkBetween(before, w.work()), work::Rework::Mix);
        QVERIFY(w.settle());
        const auto pixel = [&](double x, double y) {
            const QImage& image = w.picture().image();
            return QColor(image.pixel(int(x * image.width()), int(y * image.height())));
        };
        const auto isNear = [](QColor a, QColor b) {
            return std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue()) < 12;
        };
        QTRY_VERIFY(isNear(pixel(0.03, 0.05), QColor(0, 120, 200)));
        QVERIFY(isNear(pixel(0.03, 0.95), QColor(220, 180, 40)) && isNear(pixel(0.97, 0.95), QColor(255, 0, 255)));
        // It stays in the work while it is shown, and is left out when it is not.
        work::Work kept = w.work();
        work::dropUnusedAssets(kept);
        QVERIFY(kept.assets.contains(kept.ground.backdropPicture));
        kept.ground.backdropKind = work::BackdropKind::Colour;
        work::dropUnusedAssets(kept);
        QVERIFY(!kept.assets.contains(kept.ground.backdropPicture));
    }

    // Lights that are marked together are changed, doubled and removed together, one step each; one that is marked alone stays alone.
    void severalAtOnce()
    {
        Window w;
        w.openSection("light");
        for (int i = 0; i < 2; ++i) {
            w.click("light.double");
            QTest::qWait(20);
        }
        auto* list = w.find<QListWidget>("light.list");
        QCOMPARE(list->count(), 3);
        const auto at = [&](int i) -> const work::Light& { return w.work().lights.items.at(w.work().lights.order[std::size_t(i)]); };
        list->setCurrentRow(0);
        QTest::qWait(20);
        w.type("light.stops.edit", "1.5");
        QVERIFY(at(0).stops == 1.5 && at(1).stops != 1.5 && at(2).stops != 1.5);
        list->setCurrentRow(2, QItemSelectionModel::Select);
        QTest::qWait(20);
        QCOMPARE(list->selectedItems().size(), 2);
        QVERIFY(!w.find<QLineEdit>("light.stops.edit")->text().contains("1.5"));  // they differ
        const double other = at(1).stops;
        w.type("light.stops.edit", "-2");
        QVERIFY(at(0).stops == -2 && at(1).stops == other && at(2).stops == -2);
        QCOMPARE(list->selectedItems().size(), 2);
        w.session().undo();
        QVERIFY(at(0).stops == 1.5 && at(2).stops != -2);
        w.click("light.double");
        QCOMPARE(w.work().lights.order.size(), std::size_t{5});
        QTest::qWait(20);
        w.click("light.remove");
        QCOMPARE(w.work().lights.order.size(), std::size_t{3});
    }

    // Lights of a group are marked by one click, and one of them alone by a second; the group lasts in the work.
    void groupsStay()
    {
        Window w;
        w.openSection("light");
        for (int i = 0; i < 2; ++i) {
            w.click("light.double");
            QTest::qWait(20);
        }
        auto* list = w.find<QListWidget>("light.list");
        list->setCurrentRow(0, QItemSelectionModel::ClearAndSelect);
        list->setCurrentRow(2, QItemSelectionModel::Select);
        QTest::qWait(20);
        open(w, "light.beam");
        auto* group = w.find<QComboBox>("light.beam.group");
        group->lineEdit()->setText("Rims");
        Q_EMIT group->lineEdit()->editingFinished();
        const auto at = [&](int i) -> const work::Light& { return w.work().lights.items.at(w.work().lights.order[std::size_t(i)]); };
        QVERIFY(at(0).group == "Rims" && at(1).group.empty() && at(2).group == "Rims");
        list->setCurrentRow(1, QItemSelectionModel::ClearAndSelect);
        QTest::qWait(20);
        QCOMPARE(list->selectedItems().size(), 1);
        list->setCurrentRow(2, QItemSelectionModel::ClearAndSelect);
        QTest::qWait(20);
        QCOMPARE(list->selectedItems().size(), 2);
        w.type("light.stops.edit", "-3");
        QVERIFY(at(0).stops == -3 && at(1).stops != -3 && at(2).stops == -3);
        list->setCurrentRow(0, QItemSelectionModel::ClearAndSelect);
        QTest::qWait(20);
        QCOMPARE(list->selectedItems().size(), 1);
    }

    // What the pointer rests on is tried in the large picture; nothing of it is left when the panel closes, also not in the history.
    void tries()
    {
        Window w;
        QVERIFY(w.settle());
        w.session().edit("first", [](work::Work& x) { x.finish.exposure = 0.25; });
        const work::Work before = w.work();
        w.openSection("light");
        w.click("light.starts");
        auto* list = w.find<QListWidget>("light.starts.list");
        const auto rest = [&](const QString& name) { Q_EMIT list->itemEntered(list->findItems(name, Qt::MatchExactly).front()); };
        rest("Two coloured sides");
        QTRY_COMPARE(w.work().lights.order.size(), std::size_t{2});
        rest("Candle");
        QTRY_VERIFY(w.work().lights.order.size() == 1 && !(w.work() == before));
        QTest::keyClick(list, Qt::Key_Escape);
        QVERIFY(!list->isVisible() && w.work() == before);
        QVERIFY(w.settle());
        w.session().undo();
        QCOMPARE(w.work().finish.exposure, 0.0);
        w.session().redo();
        // Taken after others were tried it is one step.
        w.click("light.starts");
        rest("Candle");
        QTRY_VERIFY(!(w.work() == before));
        Q_EMIT list->itemClicked(list->findItems("Two coloured sides", Qt::MatchExactly).front());
        QCOMPARE(w.work().lights.order.size(), std::size_t{2});
        w.session().undo();
        QVERIFY(w.work() == before);
    }

    // The table: ticks take light and shadow from pieces and give them back; the picture follows. A light alone for the ground.
    void whoCastsOnWhom()
    {
        work::Work two = driver::kites();
        session::addLettering(two, "SUN");
        Window w(two);
        QVERIFY(w.settle());
        const work::Work before = w.work();
        const std::string light = w.work().lights.order.front(), front = w.work().pieces.order.front();
        w.openSection("light");
        w.click("light.casting");
        auto* table = w.find<QTableWidget>("drawer.casting.table");
        QVERIFY(table->isVisible());
        QCOMPARE(table->rowCount(), 4);               // all, two pieces, wall and floor
        const int lit = 2 + 2 * 1, shadow = lit + 1;  // after the surroundings' columns
        const auto tick = [&](int row, int column) {
            QTableWidgetItem* item = table->item(row, column);
            item->setCheckState(item->checkState() == Qt::Checked ? Qt::Unchecked : Qt::Checked);
        };
        QCOMPARE(table->horizontalHeaderItem(lit)->text().section('\n', 1), QString("lights it"));
        tick(1, lit);
        QCOMPARE(w.work().lights.items.at(light).casting.unlit, std::vector<std::string>{front});
        QVERIFY(table->item(0, lit)->checkState() == Qt::Unchecked);
        QVERIFY(w.settle());
        w.session().undo();
        QVERIFY(w.work() == before);
        QCOMPARE(table->item(1, lit)->checkState(), Qt::Checked);
        // Nothing but the ground: all off, the ground on.
        tick(0, lit);
        tick(3, lit);
        QVERIFY(session::casts(w.work(), session::Casts::Lit, light, work::kGroundId));
        QVERIFY(!session::casts(w.work(), session::Casts::Lit, light, front));
        // No shadow at all: then single ones cannot be chosen.
        tick(0, shadow);
        QVERIFY(!w.work().lights.items.at(light).casting.shadows);
        QVERIFY(!(table->item(1, shadow)->flags() & Qt::ItemIsEnabled) && !(table->item(3, shadow)->flags() & Qt::ItemIsEnabled));
        tick(2, 0);
        tick(2, 1);
        const work::Piece& back = w.work().pieces.items.at(w.work().pieces.order.back());
        QVERIFY(!back.castsShadow && !back.mirrored);
        QVERIFY(w.settle());
        QTest::keyClick(table, Qt::Key_Escape);
        QVERIFY(!table->isVisible());
    }

    // The lens: off at first; what is clicked on is sharp, and the lens is on.
    void pickedSharp()
    {
        work::Work work = driver::kites();
        work.view().perspective = true;
        work.pieces.items.begin()->second.placement.stance = work::Stance::Free;
        work.pieces.items.begin()->second.placement.z = 40;
        Window w(work);
        QVERIFY(w.settle());
        w.openSection("view");
        open(w, "view.lens");
        w.click("view.sharp");
        w.clickAt(w.letterPlace(1));
        const double front = 40 + w.piece().slab()->depthPt;
        QVERIFY2(std::abs(w.work().view().sharp - front) < 0.2, qPrintable(QString::number(w.work().view().sharp)));
        QVERIFY(w.work().view().fNumber > 0);
        w.type("view.lens.fNumber.edit", "1.4");
        w.type("view.lens.blades.edit", "6");
        QVERIFY(w.work().view().fNumber == 1.4 && w.work().view().blades == 6);
        QVERIFY(w.settle());
        w.clickAt(w.letterPlace(0));
        QVERIFY(!w.session().choice().empty());  // the picture's hands are as before
    }
};

OPEN_GLOW_WINDOW_TEST(TestLights)
#include "test_lights.moc"
