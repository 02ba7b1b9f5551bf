// Fields of the ticket: numbers, colours, faces, and the panels that they open.
#include <QCheckBox>
#include <QComboBox>
#include <QFontDatabase>
#include <QListView>
#include <QScreen>

#include "app/driver.h"
#include "app/fields/colour_panel.h"
#include "app/fields/colour_parts.h"
#include "app/ticket/head.h"
#include "picture/colour.h"
#include "session/edits.h"
#include "work/values.h"

using driver::Window;

class TestFields : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A click into a number takes it whole, so that the next one is typed over it; a second click sets the mark between its digits, a
    // double click takes it whole again.
    void aClickTakesANumberWhole()
    {
        Window w(driver::kites("KITE", 1920, 1080));
        w.openSection("form");
        w.type("form.depth.edit", "64");
        auto* edit = w.find<QLineEdit>("form.depth.edit");
        w.picture().setFocus();
        QTRY_VERIFY(!edit->hasFocus());
        const QPoint middle(12, edit->height() / 2);
        QTest::mouseClick(edit, Qt::LeftButton, {}, middle);
        QTRY_COMPARE(edit->selectedText(), edit->text());
        QTest::keyClicks(edit, "50");
        QTest::keyClick(edit, Qt::Key_Return);
        QCOMPARE(w.piece().slab()->depthPt, 50.0);
        w.picture().setFocus();
        QTest::mouseClick(edit, Qt::LeftButton, {}, middle);
        QTRY_VERIFY(edit->hasSelectedText());
        QTest::qWait(2 * QApplication::doubleClickInterval());
        QTest::mouseClick(edit, Qt::LeftButton, {}, middle);
        QTest::qWait(50);
        QVERIFY(!edit->hasSelectedText());
        QTest::qWait(2 * QApplication::doubleClickInterval());
        QTest::mouseDClick(edit, Qt::LeftButton, {}, middle);
        QTRY_COMPARE(edit->selectedText(), edit->text());
        // Colours too.
        w.openSection("material");
        auto* hex = w.find<QLineEdit>("material.colour.hex");
        QTest::mouseClick(hex, Qt::LeftButton, {}, QPoint(12, hex->height() / 2));
        QTRY_COMPARE(hex->selectedText(), hex->text());
        QTest::keyClicks(hex, "#C02030");
        QTest::keyClick(hex, Qt::Key_Return);
        QCOMPARE(picture::hexFromRgb(w.piece().material.piece.baseColour), std::string("#C02030"));
    }

    void aNumberTakesUnitsSumsStepsAndTheMark()
    {
        Window w(driver::kites("KITE", 1920, 1080));
        w.openSection("form");
        w.type("form.depth.edit", "10mm + 1/2in");
        QVERIFY(std::abs(w.piece().slab()->depthPt - (10 * 72 / 25.4 + 36)) < 1e-9);
        auto* edit = w.find<QLineEdit>("form.depth.edit");
        edit->setFocus();
        QTest::keyClick(edit, Qt::Key_Up);
        QCOMPARE(w.piece().slab()->depthPt, 65.0);  // 64.35 goes up to the next whole one
        QTest::keyClick(edit, Qt::Key_Down, Qt::ShiftModifier);
        QCOMPARE(w.piece().slab()->depthPt, 55.0);
        // The mark stands only beside an unusual value and puts the usual one back: a quarter of the type's size.
        auto* mark = w.find<QToolButton>("form.depth.putBack");
        QVERIFY(mark->isVisible());
        w.click("form.depth.putBack");
        QCOMPARE(w.piece().slab()->depthPt, w.piece().lettering()->layout.sizePt / 4);
        QVERIFY(!mark->isVisible());
        // The ruler edge: a drag is one step of the history.
        auto* field = w.find<app::NumberField>("form.depth");
        const auto steps = [&] {
            int n = 0;
            for (; w.session().history().canUndo(); ++n)
                w.session().undo();
            return n;
        };
        driver::dragIn(field, QPointF(60, field->height() - 2), QPointF(100, field->height() - 2));
        QVERIFY(w.piece().slab()->depthPt > w.piece().lettering()->layout.sizePt / 4 + 5);
        const double dragged = w.piece().slab()->depthPt;
        w.session().undo();
        QCOMPARE(w.piece().slab()->depthPt, w.piece().lettering()->layout.sizePt / 4);
        w.session().redo();
        QCOMPARE(w.piece().slab()->depthPt, dragged);
        // The wheel acts with focus alone.
        w.find<QLineEdit>("form.width.edit")->setFocus();
        QWheelEvent wheel(QPointF(5, 5), edit->mapToGlobal(QPointF(5, 5)), {}, QPoint(0, 120), Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(edit, &wheel);
        QCOMPARE(w.piece().slab()->depthPt, dragged);
        edit->setFocus();
        QApplication::sendEvent(edit, &wheel);
        QVERIFY(w.piece().slab()->depthPt > dragged);
        QCOMPARE(steps(), 5);
    }

    void whatIsBeingTypedIsNotTakenAway()
    {
        Window w;
        w.openSection("form");
        auto* edit = w.find<QLineEdit>("form.depth.edit");
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, "12");
        w.session().edit("other", [](work::Work& now) { now.finish.exposure = 1; });
        QVERIFY(w.settle());
        QCOMPARE(edit->text(), "12");
        QTest::keyClicks(edit, "3");
        QTest::keyClick(edit, Qt::Key_Return);
        QCOMPARE(w.piece().slab()->depthPt, 123.0);
    }

    void aFieldThatGoesTakesNothing()
    {
        QWidget window;
        auto* number = new app::NumberField(app::NumberSpec{}, &window);
        auto* colour = new app::ColourField(&window);
        window.show();
        window.activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(&window));
        QSignalSpy numbers(number, &app::NumberField::changed), colours(colour, &app::ColourField::changed);
        for (QWidget* field : {static_cast<QWidget*>(number), static_cast<QWidget*>(colour)}) {
            auto* edit = field->findChild<QLineEdit*>();
            edit->setFocus();
            edit->selectAll();
            QTest::keyClicks(edit, field == number ? "12" : "#0A0B0C");
            QVERIFY(edit->hasFocus() && edit->isModified());
            delete field;
        }
        QCOMPARE(numbers.count(), 0);
        QCOMPARE(colours.count(), 0);
    }

    void mixedValuesReadMixedAndTypingSetsAll()
    {
        work::Work work = driver::kites();
        const std::string second = session::addLettering(work, "FAIR");
        work.pieces.items.at(second).slab()->depthPt = 5;
        work.pieces.items.at(second).slab()->front.profile = solid::Profile::Chamfer;
        work.pieces.items.at(second).material.piece.baseColour = {0, 0, 0};
        Window w(work);
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        auto* depth = w.find<QLineEdit>("form.depth.edit");
        QCOMPARE(depth->text(), QString());
        QCOMPARE(depth->placeholderText(), "mixed");
        QCOMPARE(w.find<QComboBox>("form.profile")->currentIndex(), -1);
        w.type("form.depth.edit", "8");
        for (const auto& [id, piece] : w.work().pieces.items)
            QCOMPARE(piece.slab()->depthPt, 8.0);
        QCOMPARE(depth->text(), "8");
        w.openSection("material");
        QCOMPARE(w.find<QLineEdit>("material.colour.hex")->placeholderText(), "mixed");
        w.type("material.colour.hex", "#0A0B0C");
        for (const auto& [id, piece] : w.work().pieces.items)
            QCOMPARE(picture::hexFromRgb(piece.material.piece.baseColour), "#0A0B0C");
    }

    void aSwatchChangesAllItsUses()
    {
        Window w;
        w.openSection("material");
        w.type("material.colour.hex", "#336699");
        w.click("material.colour.chip");
        w.find<QPushButton>("material.colour.newSwatch")->click();
        QCOMPARE(w.work().swatches.order.size(), std::size_t{1});
        const std::string id = w.work().swatches.order.front();
        QCOMPARE(w.piece().material.piece.swatch, id);
        // The wall follows it too.
        w.openSection("ground");
        w.click("ground.wall");
        w.click("ground.wall.colour.chip");
        auto* list = w.find<QListWidget>("ground.wall.colour.swatches");
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
        QCOMPARE(w.work().ground.wall.swatch, id);
        // Mixed by its red in the panel: both change, in one step.
        w.type("ground.wall.colour.red.edit", "26");
        QCOMPARE(w.work().ground.wall.baseColour, w.piece().material.piece.baseColour);
        QCOMPARE(picture::hexFromRgb(w.work().swatches.items.at(id).colour), "#1A6699");  // of #336699
        // By name, and with a name of one's own.
        list->item(0)->setText("harbour blue");
        QCOMPARE(w.work().swatches.items.at(id).name, "harbour blue");
        // Removed, its uses keep the colour.
        const base::Rgb kept = w.piece().material.piece.baseColour;
        list->setCurrentRow(0);
        w.find<QPushButton>("ground.wall.colour.removeSwatch")->click();
        QVERIFY(w.work().swatches.order.empty());
        QVERIFY(w.piece().material.piece.swatch.empty());
        QCOMPARE(w.piece().material.piece.baseColour, kept);
    }

    void badColoursAreRefused()
    {
        Window w;
        w.openSection("material");
        const base::Rgb was = w.piece().material.piece.baseColour;
        w.type("material.colour.hex", "reddish");
        QVERIFY(w.find<QLabel>("message.text")->text().contains("reddish"));
        QCOMPARE(w.piece().material.piece.baseColour, was);
        QCOMPARE(w.find<QLineEdit>("material.colour.hex")->text().toStdString(), picture::hexFromRgb(was));
    }

    void aFaceIsChosenFromItsOwnLetters()
    {
        Window w;
        w.openSection("lettering");
        w.click("lettering.face.button");
        auto* list = w.find<QListView>("lettering.face.list");
        const int all = list->model()->rowCount();
        auto* filter = w.find<QLineEdit>("lettering.face.filter");
        QTest::keyClicks(filter, "bebas");
        QTRY_VERIFY(list->model()->rowCount() >= 1 && list->model()->rowCount() < all);
        for (int i = 0; i < list->model()->rowCount(); ++i)
            QVERIFY(list->model()->index(i, 0).data().toString().contains("Bebas"));
        QTest::keyClick(filter, Qt::Key_Return);
        QVERIFY(w.piece().lettering()->font.family.starts_with("Bebas Neue"));
        QVERIFY(w.work().assets.contains(w.piece().lettering()->font.asset));
        // Undo brings face and file back.
        w.session().undo();
        QCOMPARE(w.piece().lettering()->font.family, "League Spartan");
    }

    // A colour by how it looks: along the plane and the hues, one step of the history a drag, never outside the screen's colours; lightness
    // steps, the work's colours and the last used ones are taken by click and by keys.
    void aColourIsPickedByItsLook()
    {
        Window w;
        w.openSection("material");
        w.type("material.colour.hex", "#336699");
        w.click("material.colour.chip");
        const auto colour = [&] { return w.piece().material.piece.baseColour; };
        const auto seen = [&] { return picture::toOklch(colour()); };
        auto* plane = w.find<app::ColourPlane>("material.colour.plane");
        const base::Rgb before = colour();
        const float hue = seen().hue;
        driver::dragIn(plane, {40, 100}, {90, 60});
        QVERIFY2(std::abs(seen().lightness - (1 - 56.0f / 168)) < 0.02f, qPrintable(QString::number(seen().lightness)));
        QVERIFY(std::abs(seen().hue - hue) < 2);
        w.window.session().undo();
        QCOMPARE(colour(), before);
        w.window.session().redo();
        driver::dragIn(plane, {90, 60}, {225, 60});  // past the edge
        QVERIFY(picture::isScreenColour(colour()));
        QVERIFY(std::abs(seen().lightness - (1 - 56.0f / 168)) < 0.02f);
        auto* hues = w.find<app::HueStrip>("material.colour.hues");
        driver::dragIn(hues, {10, 40}, {10, 4 + 168 * 0.75});
        QVERIFY2(std::abs(seen().hue - 90) < 3, qPrintable(QString::number(seen().hue)));
        QTest::keyClick(hues, Qt::Key_Up, Qt::ShiftModifier);
        QVERIFY(std::abs(seen().hue - 100) < 3);
        QTest::keyClick(plane, Qt::Key_Down, Qt::ShiftModifier);
        QVERIFY(std::abs(seen().lightness - (0.95f - 56.0f / 168)) < 0.02f);
        // The darkest step of it.
        auto* steps = w.find<app::ColourRow>("material.colour.steps");
        QTest::mouseClick(steps, Qt::LeftButton, {}, steps->chip(0).center());
        QVERIFY(std::abs(seen().lightness - 0.16f) < 0.02f);
        // The wall's own colour is one of this work's.
        auto* inWork = w.find<app::ColourRow>("material.colour.inWork");
        const auto own = work::coloursOf(w.work());
        const auto wall = std::find_if(own.begin(), own.end(), [&](base::Rgb c) {
            return picture::hexFromRgb(c) == picture::hexFromRgb(w.work().ground.wall.baseColour);
        });
        QVERIFY(wall != own.end());
        inWork->setFocus();
        for (auto i = own.begin(); i != wall; ++i)
            QTest::keyClick(inWork, Qt::Key_Right);
        QTest::keyClick(inWork, Qt::Key_Return);
        QCOMPARE(picture::hexFromRgb(colour()), picture::hexFromRgb(w.work().ground.wall.baseColour));
        QCOMPARE(picture::hexFromRgb(app::ColourPanel::lastUsed().front()), picture::hexFromRgb(colour()));
    }

    // The panel stays on the screen and leaves the letters in sight.
    void panelsHideNoLetters()
    {
        Window w(driver::kites("Kites"), 1, {780, 760});
        QVERIFY(w.settle());
        w.openSection("material");
        w.click("material.colour.chip");
        const QRect panel = w.find<app::ColourPanel>("material.colour.panel")->geometry();
        const QRect screen = w.window.screen()->availableGeometry();
        QVERIFY(screen.contains(panel));
        const QRect letters(w.picture().mapToGlobal(w.picture().lettersRect().topLeft()), w.picture().lettersRect().size());
        QVERIFY(!letters.isEmpty());
        const QRect hidden = panel & letters;
        QVERIFY2(hidden.width() * hidden.height() < letters.width() * letters.height() / 10, qPrintable(QString::number(hidden.width())));
    }

    // The list begins at the face that is set, weights from light to heavy; arrows show a face in the picture, Escape takes it back.
    void facesAreTriedInThePicture()
    {
        Window w(driver::kites("Kites"), 1);
        w.trigger("edit.chooseAll");
        w.openSection("lettering");
        const auto font = w.piece().lettering()->font;
        const work::Work before = w.work();
        w.click("lettering.face.button");
        auto* list = w.find<QListView>("lettering.face.list");
        auto* filter = w.find<QLineEdit>("lettering.face.filter");
        QCOMPARE(list->currentIndex().data().toString().toStdString(), font.family + " " + font.style);
        QVERIFY(list->viewport()->rect().contains(list->visualRect(list->currentIndex()).center()));
        QVERIFY(w.window.screen()->availableGeometry().contains(list->window()->geometry()));
        QTest::keyClick(filter, Qt::Key_Down);
        QVERIFY(!(w.piece().lettering()->font == font));
        QTest::keyClick(filter, Qt::Key_Down);
        QTest::keyClick(list->window(), Qt::Key_Escape);
        QVERIFY(!list->isVisible());
        QVERIFY(w.work() == before);
        // Tried and taken: one step back.
        w.click("lettering.face.button");
        QTest::keyClick(filter, Qt::Key_Down);
        QTest::keyClick(filter, Qt::Key_Up);
        QTest::keyClick(filter, Qt::Key_Up);
        const auto tried = w.piece().lettering()->font;
        QTest::keyClick(filter, Qt::Key_Return);
        QVERIFY(!list->isVisible());
        QVERIFY(w.piece().lettering()->font == tried && !(tried == font));
        w.window.session().undo();
        QVERIFY(w.work() == before);
        // Weights of a family in order (OpenType, OS/2 usWeightClass: 100 thin to 900 black).
        QString family;
        int weight = 0;
        bool italic = false;
        for (int i = 0; i < list->model()->rowCount(); ++i) {
            const QModelIndex row = list->model()->index(i, 0);
            const QString of = row.data(Qt::UserRole).toString(), style = row.data(Qt::UserRole + 1).toString();
            if (!QFontDatabase::styles(of).contains(style))
                continue;  // Qt does not tell all of them apart
            const int now = QFontDatabase::weight(of, style);
            const bool leans = QFontDatabase::italic(of, style) || style.contains("Oblique");
            QVERIFY2(of != family || leans != italic || now >= weight, qPrintable(of + " " + style));
            family = of;
            weight = now;
            italic = leans;
        }
    }

    // A face's features: switched in the ticket, seen in the letters, gone where the face has none.
    void featuresAreSwitched()
    {
        work::Work work = driver::kites("Kite");
        work.pieces.items.at("p1").lettering()->font = {};
        work.pieces.items.at("p1").lettering()->font.family = "Linux Libertine O";
        Window w(work);
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("lettering");
        w.click("lettering.features");
        auto* caps = w.find<QCheckBox>("lettering.features.smcp");
        QVERIFY(caps && !caps->isChecked());
        w.click("lettering.features.smcp");
        QCOMPARE(w.piece().lettering()->layout.features, "smcp=1");
        w.click("lettering.features.liga");
        QCOMPARE(w.piece().lettering()->layout.features, "smcp=1,liga=0");
        w.session().undo();
        QVERIFY(w.find<QCheckBox>("lettering.features.liga")->isChecked());
        // Something else is chosen, and the lettering again: its features are there again.
        w.session().choose({});
        w.session().edit("artwork", [](work::Work& now) {
            work::Piece other = now.pieces.items.at("p1");
            other.source = work::Artwork();
            now.pieces.add("p9", other);
        });
        session::Choice choice;
        choice.set({"p9", {}});
        w.session().choose(choice);
        QVERIFY(!w.window.findChild<QCheckBox*>("lettering.features.smcp"));
        choice.set({"p1", {}});
        w.session().choose(choice);
        QVERIFY(w.find<QCheckBox>("lettering.features.smcp")->isChecked());
        w.session().undo();
        w.session().choose(choice);
        w.session().edit("face", [](work::Work& now) { now.pieces.items.at("p1").lettering()->font = {"Kristi", "", "", 0, ""}; });
        QVERIFY(w.settle());
        QVERIFY(!w.window.findChild<QCheckBox*>("lettering.features.smcp"));
    }

    // A variable face shows its axes under the names and with the ranges that its file gives; fontTools says the same in
    // tests/outline.
    void aVariableFaceHasItsAxes()
    {
        work::Work work = driver::kites();
        work.pieces.items.at("p1").lettering()->font = {};
        work.pieces.items.at("p1").lettering()->font.family = "Inter";
        Window w(work);
        w.openSection("lettering");
        w.click("lettering.axes");
        auto* weight = w.find<app::NumberField>("lettering.axes.wght");
        QVERIFY(weight);
        w.type("lettering.axes.wght.edit", "850");
        QVERIFY(w.piece().lettering()->font.variations.find("wght=850") != std::string::npos);
        w.type("lettering.axes.wght.edit", "5000");
        QVERIFY(w.find<QLabel>("message.text")->text().contains("900"));
        QVERIFY(w.settle());
        w.session().undo();
        QCOMPARE(w.find<QLineEdit>("lettering.axes.wght.edit")->text(), "850");
    }
};

OPEN_GLOW_WINDOW_TEST(TestFields)
#include "test_fields.moc"
