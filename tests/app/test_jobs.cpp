// Whole jobs as a designer does them, from the empty window to the picture on disk, counted in actions: a click, a shortcut, a word or a
// value typed, a drag.
#include <QTableWidget>
#include <QToolButton>
#include <set>

#include "app/job.h"
#include "app/window/artwork_files.h"
#include "work/starts.h"

using namespace job;

class TestJobs : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aBevelledWord()
    {
        Window w;
        begin(w, "kite");
        QCOMPARE(w.piece().lettering()->text, "kite");
        w.openSection("form");
        w.type("form.width.edit", "4");
        const QImage still = exported(w, "word.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QCOMPARE(w.piece().slab()->front.widthPt, 4.0);
        QVERIFY2(w.actions <= 10, qPrintable(QString::number(w.actions)));
    }

    // Every start is a work of the empty window's sheet, in the middle of it, with its word marked to be typed over.
    void starts()
    {
        for (const work::Start& start : work::kStartList) {
            Window w;
            w.window.files()->newWork(kSheet);
            QTest::qWait(20);
            w.actions = 0;
            w.click(QString("start.%1").arg(start.id));
            QCOMPARE(w.work().sheet(), kSheet);
            QCOMPARE(w.piece().lettering()->text, work::kStartWord);
            w.session().edit("few samples", [](work::Work& now) { now.output().stop = {4, 0, 0}; });
            w.actions += 1;
            for (const char c : {'F', 'a', 'i', 'r'})
                QTest::keyClick(QApplication::focusWidget(), c);
            QCOMPARE(w.piece().lettering()->text, "Fair");
            QVERIFY(w.settle());
            const QRect letters = w.picture().lettersRect();
            const QRectF frame = w.picture().frameRect();
            QVERIFY2(frame.contains(letters) && letters.width() > frame.width() / 3, start.id);
            if (&start == std::begin(work::kStartList))  // the others are rendered alike
                QCOMPARE(exported(w, "start.png").size(), QSize(320, 180));
            QVERIFY(w.actions <= 6);
        }
    }

    void whiteOnWhite()
    {
        Window w;
        begin(w, "dunes");
        w.openSection("material");
        w.type("material.colour.hex", "#FFFFFF");
        w.openSection("ground");
        w.click("ground.wall");
        w.type("ground.wall.colour.hex", "#FFFFFF");
        w.openSection("light");
        w.type("light.direction.edit", "-70");
        const QImage still = exported(w, "white.png");
        // All of it is grey: shape comes from light alone.
        int colourful = 0, darkest = 255;
        for (int y = 0; y < still.height(); ++y)
            for (int x = 0; x < still.width(); ++x) {
                const QColor c = still.pixelColor(x, y);
                colourful += c.hsvSaturation() > 20;
                darkest = std::min(darkest, c.lightness());
            }
        QCOMPARE(colourful, 0);
        QVERIFY(darkest < 200);
        QVERIFY2(w.actions <= 12, qPrintable(QString::number(w.actions)));
    }

    void aDarkFloorAndTwoColouredLights()
    {
        Window w;
        begin(w, "wind");
        w.openSection("material");
        w.type("material.colour.hex", "#FFFFFF");
        w.openSection("ground");
        choose(w, "ground.kind", 2);
        w.click("ground.floor");
        w.type("ground.floor.colour.hex", "#101014");
        w.openSection("light");
        w.type("light.colour.hex", "#FF5A3C");
        w.actions += 2;  // Add, Softbox
        w.window.findChild<QMenu*>("light.addMenu")->actions().front()->trigger();
        w.type("light.colour.hex", "#3C7BFF");
        const QImage still = exported(w, "floor.png");
        QCOMPARE(w.piece().placement.stance, work::Stance::OnFloor);
        QCOMPARE(w.work().lights.order.size(), std::size_t{2});
        int red = 0, blue = 0;
        for (int y = 0; y < still.height(); ++y)
            for (int x = 0; x < still.width(); ++x) {
                const QColor c = still.pixelColor(x, y);
                red += c.red() > c.blue() + 20;
                blue += c.blue() > c.red() + 20;
            }
        QVERIFY2(red > 100 && blue > 100, qPrintable(QString("%1 %2").arg(red).arg(blue)));
        QVERIFY2(w.actions <= 16, qPrintable(QString::number(w.actions)));
    }

    void aFourLampTitle()
    {
        Window w;
        begin(w, "gale");
        w.openSection("material");
        w.type("material.colour.hex", "#D9A441");
        w.type("material.metallic.edit", "100");
        w.openSection("light");
        w.type("light.colour.hex", "#FFF2DC");
        const char* const colours[] = {"#3C7BFF", "#FF5A3C", "#FFC24B"};
        for (int i = 0; i < 3; ++i) {
            w.actions += 2;  // Add, its kind
            w.window.findChild<QMenu*>("light.addMenu")->actions()[i == 2 ? 3 : 0]->trigger();
            w.type("light.colour.hex", colours[i]);
        }
        const QImage still = exported(w, "title.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QCOMPARE(w.work().lights.order.size(), std::size_t{4});
        // No two lamps stand in one place.
        std::set<std::pair<double, double>> places;
        for (const auto& [_, light] : w.work().lights.items)
            places.insert({light.direction, light.height});
        QCOMPARE(places.size(), std::size_t{4});
        QVERIFY2(w.actions <= 20, qPrintable(QString::number(w.actions)));
    }

    void anIsometricLetterWithPartOnly()
    {
        Window w;
        begin(w, "g");
        w.openSection("view");
        w.click("view.isoLeft");
        QVERIFY(w.settle());
        shortcut(w, "view.part");  // of what is chosen
        QVERIFY(w.picture().hasPart());
        w.openSection("form");
        w.type("form.depth.edit", "40");
        QVERIFY(w.settle());
        shortcut(w, "view.part");
        QVERIFY(!w.picture().hasPart());
        const QImage still = exported(w, "letter.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QVERIFY2(w.actions <= 12, qPrintable(QString::number(w.actions)));
    }

    void aLinkedStack()
    {
        Window w;
        begin(w, "may");
        w.openSection("lettering");
        w.click("lettering.copies");
        w.type("lettering.copies.count.edit", "4");
        const QImage still = exported(w, "stack.png");
        QCOMPARE(w.piece().copies.count, 4);
        QCOMPARE(still.size(), QSize(320, 180));
        QVERIFY2(w.actions <= 8, qPrintable(QString::number(w.actions)));
    }

    // Two lines, swollen, at 300 ppi on a square sheet.
    void anInflatedWordOnASquare()
    {
        Window w;
        begin(w, "kite\nclub");
        w.openSection("sheet");
        w.type("sheet.width.edit", "180");
        w.type("sheet.ppi.edit", "300");
        w.openSection("form");
        choose(w, "form.kind", 1);
        w.type("form.fullness.edit", "40");
        const QImage still = exported(w, "square.png");
        QCOMPARE(still.size(), QSize(180, 180));
        QCOMPARE(still.dotsPerMeterX(), 11811);
        QVERIFY(std::holds_alternative<solid::DomedForm>(w.piece().form));
        QVERIFY2(w.actions <= 17, qPrintable(QString::number(w.actions)));
    }

    // Letters with a sunk face on a board, seen straight from above.
    void lettersOnABoardFromAbove()
    {
        Window w;
        begin(w, "fair");
        w.trigger("piece.plate");
        w.actions += 1;  // its menu
        w.session().choose({{{w.work().pieces.order.front(), ""}}});
        w.actions += 1;  // a click on a letter; the board lies in the wall's plane, seen straight
        w.openSection("form");
        w.type("form.width.edit", "1");
        w.click("form.inlay");
        w.type("form.inlay.sunk.edit", "3");
        const QImage still = exported(w, "board.png");
        QVERIFY(!still.isNull());
        QCOMPARE(w.work().pieces.order.size(), 2u);
        QVERIFY(w.piece().slab()->inlay.borderPt > 0);
        QVERIFY2(w.actions <= 16, qPrintable(QString::number(w.actions)));
    }

    // Initials on two plates, one round the other.
    void initialsOnNestedPlates()
    {
        Window w;
        begin(w, "gk");
        w.trigger("piece.plate");
        w.trigger("piece.plate");  // the next one goes behind it
        w.actions += 2;
        const auto& order = w.work().pieces.order;
        QCOMPARE(order.size(), 3u);
        const auto zOf = [&](std::size_t i) { return w.work().placementOf(order[i]).z; };
        const auto depth = [&](std::size_t i) { return work::depthOf(w.work().pieces.items.at(order[i]).form); };
        QVERIFY(std::abs(zOf(0) - zOf(1) - depth(1)) < 1e-9 && std::abs(zOf(1) - zOf(2) - depth(2)) < 1e-9);
        QVERIFY(std::abs(zOf(2) + w.work().ground.wallBehind) < 1e-9);
        w.openSection("material");
        w.type("material.metallic.edit", "100");
        const QImage still = exported(w, "plates.png");
        QVERIFY(!still.isNull());
        QCOMPARE(w.work().pieces.order.size(), 3u);
        QVERIFY2(w.actions <= 16, qPrintable(QString::number(w.actions)));
    }

    void lettersPosedAndTheTextChanged()
    {
        Window w;
        begin(w, "kite");
        QVERIFY(w.settle());
        const std::string third = w.piece().letterIds()[2];
        w.clickAt(w.letterPlace(2));
        w.drag(w.letterPlace(2), w.letterPlace(2) + QPointF(0, -20));
        w.openSection("lettering");
        w.actions += 2;  // End, a word
        auto* text = w.find<QPlainTextEdit>("lettering.text");
        text->setFocus();
        text->moveCursor(QTextCursor::End);
        QTest::keyClicks(text, "s");
        const QImage still = exported(w, "posed.png");
        QCOMPARE(w.piece().lettering()->text, "kites");
        QVERIFY(w.piece().letters.at(third).isPosed());
        QCOMPARE(still.size(), QSize(320, 180));
        QVERIFY2(w.actions <= 12, qPrintable(QString::number(w.actions)));
    }

    // Two numerals joined by a small shape into one, cut into segments in colours of their own.
    void numeralsJoinedAndCut()
    {
        Window w;
        begin(w, "23");
        QVERIFY(w.settle());
        w.trigger("shape.rectangle");
        w.type("lettering.shapeWidth.edit", "120");
        w.type("lettering.shapeHeight.edit", "16");
        QVERIFY(w.settle());
        const std::string word = w.work().pieces.order.back();
        w.clickAt(w.letterPlace(0, 1));
        QCOMPARE(w.session().choice().targets.back().piece, word);
        w.openSection("lettering");
        w.click("lettering.steps");
        w.actions += 1;  // the button that opens the list
        w.trigger("step.unite");
        const auto piece = [&]() -> const work::Piece& { return w.work().pieces.items.at(word); };
        const QRectF frame = w.picture().frameRect();
        for (const double height : {0.4, 0.65}) {
            QVERIFY(w.settle());
            w.actions += 1;
            w.trigger("step.cut");
            w.clickAt({frame.left() + 2, frame.top() + frame.height() * height});
            w.clickAt({frame.right() - 2, frame.top() + frame.height() * height});
            w.key(Qt::Key_Return);
        }
        QCOMPARE(piece().steps.order.size(), std::size_t{3});
        QVERIFY(w.settle());
        w.openSection("material");
        const char* const colours[] = {"#E5A52B", "#0F7C82"};
        for (int i = 0; i < 2; ++i) {
            const std::string step = piece().steps.order[static_cast<std::size_t>(i) + 1];
            session::Choice choice;
            for (const std::string& letter : piece().letterIds())
                choice.add({word, work::segmentOf(letter, step, 1)});
            w.actions += 2;  // a click on each of the two, with Shift
            w.session().choose(choice);
            w.type("material.colour.hex", colours[i]);
        }
        const QImage still = exported(w, "numerals.png");
        std::set<int> hues;
        for (int y = 0; y < still.height(); ++y)
            for (int x = 0; x < still.width(); ++x)
                if (const QColor c = still.pixelColor(x, y); c.saturation() > 110 && c.value() > 60)
                    hues.insert(c.hue() / 20);
        QVERIFY2(hues.size() >= 3, qPrintable(QString::number(hues.size())));
        QVERIFY2(w.actions <= 32, qPrintable(QString::number(w.actions)));
    }

    // Type on a circle, a mark from an SVG in its middle.
    void aCircularBadge()
    {
        Window w;
        begin(w, "GALEPOINT KITE FAIR");
        QVERIFY(w.settle());
        w.openSection("lettering");
        w.click("lettering.run");
        choose(w, "lettering.run.kind", 2);
        w.click("lettering.run.fill");
        QVERIFY(w.settle());
        w.actions += 1;  // dropped on the window
        w.window.artwork()->add(OPEN_GLOW_SOURCE "/assets/demo/kite-mark.svg");
        QTRY_VERIFY_WITH_TIMEOUT(w.work().pieces.order.size() == 2, 60000);
        QVERIFY(w.settle());
        w.openSection("lettering");
        w.type("lettering.height.edit", "90");
        const QImage still = exported(w, "badge.png");
        QCOMPARE(still.size(), QSize(320, 180));
        const work::Piece& mark = w.work().pieces.items.at(w.work().pieces.order.front());
        const work::Piece& word = w.work().pieces.items.at(w.work().pieces.order.back());
        QVERIFY(mark.artwork() && word.lettering()->run.isAlong());
        QVERIFY(std::abs(mark.placement.x - word.placement.x) < 1 && std::abs(mark.placement.y - word.placement.y) < 1);
        QVERIFY2(w.actions <= 13, qPrintable(QString::number(w.actions)));
    }

    // --- out of the sample book -------------------------------------------------------------------------------------------------------

    // Hard bevels in gold under lights of all four kinds.
    void aGoldenTitle()
    {
        Window w;
        begin(w, "gale");
        w.openSection("form");
        w.type("form.width.edit", "6");
        shortcut(w, "view.book");
        take(w, "Gold");
        w.openSection("light");
        for (const int kind : {1, 2, 3})
            addLight(w, kind);
        QVERIFY(w.settle());
        const QRect letters = w.picture().lettersRect();
        const QImage still = exported(w, "gold.png");
        QCOMPARE(w.work().lights.order.size(), std::size_t{4});
        QVERIFY(!letters.isEmpty());
        int yellow = 0;
        for (int y = 0; y < still.height(); ++y)
            for (int x = 0; x < still.width(); ++x) {
                const QColor c = still.pixelColor(x, y);
                yellow += c.red() > c.green() + 5 && c.green() > c.blue() + 15;
            }
        QVERIFY2(yellow > 1500, qPrintable(QString::number(yellow)));
        QVERIFY2(w.actions <= 16, qPrintable(QString::number(w.actions)));
    }

    // Face, side and bevel differ, tilted before a grey wall, and the light is warm and comes from above.
    void threePartsOnAGreyWall()
    {
        Window w;
        begin(w, "dune");
        shortcut(w, "view.book");
        for (const auto& [part, sample] : {std::pair{"Face", "Midnight lacquer"}, {"Front bevel", "Brass"}, {"Side", "Oak"}}) {
            w.choose("book.part", part);
            take(w, sample);
        }
        w.openSection("ground");
        w.click("ground.wall");
        w.type("ground.wall.colour.hex", "#808080");
        w.openSection("light");
        w.type("light.height.edit", "70");
        w.type("light.colour.hex", "#FFE2B8");
        const QImage still = exported(w, "dune.png");
        QCOMPARE(still.size(), QSize(320, 180));
        const work::MaterialSet& set = w.piece().material;
        QVERIFY(set.of("frontBevel").metallic == 1 && set.of("side").pattern == surface::PatternKind::Wood &&
                set.of("face").clearcoat == 1);
        QVERIFY2(w.actions <= 19, qPrintable(QString::number(w.actions)));
    }

    // A word of glass and one of brick, side by side.
    void glassAndBrick()
    {
        Window w;
        begin(w, "sea");
        shortcut(w, "view.book");
        take(w, "Clear glass");
        w.trigger("piece.add");
        w.actions += 1;
        for (const char c : {'w', 'a', 'l', 'l'})
            QTest::keyClick(QApplication::focusWidget(), c);
        take(w, "Brick");
        shortcut(w, "edit.chooseAll");
        w.trigger("piece.fit");
        const QImage still = exported(w, "sea.png");
        QVERIFY(!still.isNull());
        QCOMPARE(w.work().pieces.order.size(), std::size_t{2});
        const auto materialOf = [&](std::size_t i) { return w.work().pieces.items.at(w.work().pieces.order[i]).material.piece; };
        const work::Material one = materialOf(0), other = materialOf(1);
        QVERIFY(one.transmission + other.transmission == 1);
        QVERIFY((one.pattern == surface::PatternKind::Brick) != (other.pattern == surface::PatternKind::Brick));
        QVERIFY2(w.actions <= 13, qPrintable(QString::number(w.actions)));
    }

    // A swollen initial, glossy, between two coloured lights; its surface is changed without its colour.
    void aGlossyInitial()
    {
        Window w;
        begin(w, "k");
        w.openSection("form");
        choose(w, "form.kind", 1);
        shortcut(w, "view.book");
        take(w, "Glossy red plastic");
        w.openSection("light");
        w.type("light.colour.hex", "#FF8A5C");
        addLight(w, 0);
        w.type("light.colour.hex", "#5C8AFF");
        w.click("book.keepsColour");
        const base::Rgb red = w.piece().material.piece.baseColour;
        take(w, "Pearl paint");
        const QImage still = exported(w, "k.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QVERIFY(w.piece().material.piece.baseColour == red && w.piece().material.piece.iridescence > 0);
        QVERIFY2(w.actions <= 17, qPrintable(QString::number(w.actions)));
    }

    // --- by what it reflects, and who casts on whom ------------------------------------------------------------------------------------

    // A swollen word in chrome, compared under several surroundings in the large picture, before a gradient.
    void aChromeWordComparedUnderSurroundings()
    {
        Window w;
        begin(w, "gale");
        w.openSection("form");
        choose(w, "form.kind", 1);
        shortcut(w, "view.book");
        take(w, "Chrome");
        w.openSection("ground");
        choose(w, "ground.kind", 0);
        choose(w, "ground.backdropKind", 1);
        QTest::qWait(20);
        w.type("ground.backdropTop.hex", "#20304A");
        w.openSection("light");
        w.click("light.surroundings");
        QTest::qWait(50);
        w.click("surroundings.ready");
        auto* list = w.find<QListWidget>("surroundings.ready.list");
        const auto item = [&](const char* name) { return list->findItems(name, Qt::MatchExactly).front(); };
        std::set<QByteArray> seen;
        for (const char* name : {"Light tent", "Evening sun"}) {
            ++w.actions;
            Q_EMIT list->itemEntered(item(name));
            QTest::qWait(300);
            QVERIFY(w.settle());
            const QImage& picture = w.picture().image();
            seen.insert(QByteArray(reinterpret_cast<const char*>(picture.constBits()), picture.sizeInBytes()));
        }
        QCOMPARE(seen.size(), std::size_t{2});
        ++w.actions;
        Q_EMIT list->itemClicked(item("Two strips"));
        const QImage still = exported(w, "chrome.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QCOMPARE(w.work().surroundings.cards.order.size(), std::size_t{3});
        QVERIFY(w.piece().material.piece.metallic == 1);
        QVERIFY2(w.actions <= 27, qPrintable(QString::number(w.actions)));
    }

    // A tilted word under a warm soft light from above that is painted on the sky.
    void warmLightPaintedAbove()
    {
        Window w;
        begin(w, "dusk");
        w.openSection("light");
        w.click("light.remove");
        w.click("light.surroundings.cards");
        QTest::qWait(50);
        w.click("surroundings.card.add");
        QTest::qWait(20);
        for (const auto& [field, value] :
             {std::pair{"height", "80"}, {"width", "90"}, {"breadth", "60"}, {"softness", "100"}, {"colour", "#FFC890"}})
            w.type(QString("light.surroundings.cards.%1.%2").arg(field, QString(field) == "colour" ? "hex" : "edit"), value);
        w.openSection("view");
        w.type("view.walk.edit", "-25");
        const QImage still = exported(w, "dusk.png");
        QCOMPARE(still.size(), QSize(320, 180));
        const work::SkyCard& card = w.work().surroundings.cards.items.at(w.work().surroundings.cards.order.front());
        QVERIFY(card.height == 80 && card.width == 90 && card.softness == 1 && w.work().lights.order.empty());
        QVERIFY2(w.actions <= 26, qPrintable(QString::number(w.actions)));
    }

    // Two suns on letters seen straight from above; one is heard alone at the desk, then both with light from all round.
    void twoSunsOneSoloed()
    {
        Window w;
        begin(w, "fair");
        w.openSection("light");
        choose(w, "light.kind", 1);
        w.click("light.double");
        w.openSection("view");
        w.click("view.above");
        QVERIFY(w.settle());
        const QImage both = w.picture().image();
        ++w.actions;
        w.find<QToolButton>("state.desk")->click();
        QTest::qWait(50);
        w.click(QString("drawer.desk.%1.solo").arg(w.work().lights.order.front().c_str()));
        QTRY_VERIFY(w.picture().image() != both);
        QCOMPARE(w.work().lights.order.size(), std::size_t{2});
        w.click("drawer.desk.back");
        const QImage still = exported(w, "suns.png");
        QVERIFY(!still.isNull());
        QVERIFY(w.work().lights.items.at(w.work().lights.order.back()).kind == light::LightKind::Sun);
        QVERIFY2(w.actions <= 17, qPrintable(QString::number(w.actions)));
    }

    // Foil balloons before a plain wall, under black surroundings with one soft patch, that throw no shadow; one letter in another colour.
    void balloonsWithoutShadow()
    {
        Window w;
        begin(w, "foil");
        w.openSection("form");
        choose(w, "form.kind", 1);
        shortcut(w, "view.book");
        take(w, "Gold");
        w.openSection("light");
        w.click("light.surroundings");
        QTest::qWait(50);
        w.click("surroundings.ready");
        ++w.actions;
        auto* list = w.find<QListWidget>("surroundings.ready.list");
        Q_EMIT list->itemClicked(list->findItems("Soft patch", Qt::MatchExactly).front());
        w.click("light.casting");
        ++w.actions;
        w.find<QTableWidget>("drawer.casting.table")->item(0, 0)->setCheckState(Qt::Unchecked);
        w.session().choose({{{w.work().pieces.order.front(), w.piece().letterIds()[1]}}});
        w.actions += 2;  // two clicks on the letter
        w.openSection("material");
        w.type("material.colour.hex", "#D84A6A");
        const QImage still = exported(w, "foil.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QVERIFY(!w.piece().castsShadow);
        QCOMPARE(w.piece().letters.size(), std::size_t{1});
        // The wall is even: as bright close to the letters as in the corners.
        const int corner = still.pixelColor(3, 3).lightness();
        int darkest = 255;
        for (int x = 0; x < still.width(); ++x)
            darkest = std::min(darkest, still.pixelColor(x, still.height() - 4).lightness());
        QVERIFY2(std::abs(darkest - corner) < 40, qPrintable(QString("%1 and %2").arg(darkest).arg(corner)));
        QVERIFY2(w.actions <= 24, qPrintable(QString::number(w.actions)));
    }
};

OPEN_GLOW_WINDOW_TEST(TestJobs)
#include "test_jobs.moc"
