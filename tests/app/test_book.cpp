// The sample book, and layers of materials, in the window.
#include <QCheckBox>
#include <QInputDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QMimeData>
#include <QTemporaryDir>
#include <QTimer>

#include "app/drawer/sample_book.h"
#include "app/ticket/letter_sample.h"
#include "app/window/swatch_files.h"
#include "driver.h"
#include "files/material_sample.h"

using driver::Window;

namespace {

QListWidgetItem* itemOf(Window& w, const QString& name)
{
    const auto found = w.find<QListWidget>("book.list")->findItems(name, Qt::MatchExactly);
    return found.isEmpty() ? nullptr : found.front();
}

void give(Window& w, const QString& name)
{
    ++w.actions;
    Q_EMIT w.find<QListWidget>("book.list")->itemClicked(itemOf(w, name));
}

work::Material sampleNamed(const std::string& id)
{
    return files::readMaterialSample(files::materialFolders().front() + "/" + id + ".json")->material;
}

void drop(Window& w, const QString& sample, QPointF place)
{
    QMimeData data;
    data.setData(app::kSampleMime, sample.toUtf8());
    const QPoint at = w.picture().mapTo(&w.window, place.toPoint());
    QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&w.window, &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent event(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&w.window, &event);
}

}  // namespace

class TestBook : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // What is looked for is typed at once, Return gives the first that is found, the key down leads to the list; what is put away, the book
    // or a message whose button was pressed, hands the keys to the picture. Metal's sample is no grey letter: it has bright places and dark
    // ones.
    void itBeginsWithItsSearch()
    {
        Window w;
        QVERIFY(w.settle());
        QVERIFY(w.trigger("view.book"));
        auto* search = w.find<QLineEdit>("book.search");
        auto* list = w.find<QListWidget>("book.list");
        QTRY_VERIFY(search->hasFocus());
        QTest::keyClicks(search, "chrome");
        QTest::keyClick(search, Qt::Key_Return);
        QVERIFY(w.piece().material.piece == sampleNamed("chrome"));
        QPushButton* offered = w.find<QPushButton>("message.around.bright-front");
        offered->setFocus();
        offered->click();
        QTRY_VERIFY(w.picture().hasFocus());
        QCOMPARE(w.work().surroundings.kind, work::SurroundingsKind::Sky);
        search->setFocus();
        QTest::keyClick(search, Qt::Key_Down);
        QVERIFY(list->hasFocus() && list->currentRow() == 0);
        work::Piece piece = w.piece();
        QCOMPARE(app::sampleOf(w.work(), piece).surroundings.kind, work::SurroundingsKind::Sky);
        piece.material.piece = sampleNamed("brick");
        QCOMPARE(app::sampleOf(w.work(), piece).surroundings.kind, work::SurroundingsKind::Even);
        w.find<QToolButton>("book.close")->click();
        QTRY_VERIFY(w.picture().hasFocus());
    }

    // It opens beside the picture and stays: a letter is recoloured in two actions, and the next one again.
    void itStaysOpen()
    {
        Window w;
        QVERIFY(w.settle());
        QVERIFY(w.trigger("view.book"));
        QVERIFY(w.find<QWidget>("book")->isVisible() && w.find<QListWidget>("book.list")->count() >= 60);
        QVERIFY(w.settle());
        QVERIFY(w.trigger("edit.chooseNothing"));
        give(w, "Gold");  // it is said
        QVERIFY(w.find<QLabel>("message.text")->text().contains("Choose"));
        QCOMPARE(w.piece().material.piece.metallic, 0.0f);
        w.clickAt(w.letterPlace(1));
        w.clickAt(w.letterPlace(1));
        w.actions = 1;
        give(w, "Gold");
        QVERIFY(w.actions <= 2);
        QVERIFY(w.piece().letters.at("a2").material->piece == sampleNamed("gold"));
        QVERIFY(w.piece().material.piece != sampleNamed("gold"));
        QVERIFY(w.settle());
        w.clickAt(w.letterPlace(3));
        give(w, "Red velvet");
        QVERIFY(w.piece().letters.at("a4").material->piece == sampleNamed("red-velvet"));
        QVERIFY(w.find<QWidget>("book")->isVisible());
        w.session().undo();
        QVERIFY(!w.piece().letters.contains("a4") || !w.piece().letters.at("a4").material);
        w.click("book.close");
        QVERIFY(!w.find<QWidget>("book")->isVisible());
        QVERIFY(!w.find<QAction>("view.book")->isChecked());
        // The material's section opens it too.
        w.openSection("material");
        w.click("material.book");
        QVERIFY(w.find<QWidget>("book")->isVisible() && w.find<QAction>("view.book")->isChecked());
    }

    // In words and by group; on one part; without its colour.
    void whatIsShownAndWhereItGoes()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.trigger("view.book"));
        auto* list = w.find<QListWidget>("book.list");
        w.find<QLineEdit>("book.search")->setText("shiny red");
        QVERIFY(list->count() >= 2 && list->count() < 12);
        QVERIFY(itemOf(w, "Red lacquer") && !itemOf(w, "Gold"));
        w.find<QLineEdit>("book.search")->clear();
        w.choose("book.group", "Cloth");
        QVERIFY(itemOf(w, "Grey felt") && !itemOf(w, "Gold"));
        w.choose("book.group", "All groups");
        w.choose("book.part", "Side");
        give(w, "Chrome");
        QVERIFY(w.piece().material.of("side") == sampleNamed("chrome") && w.piece().material.of("face").metallic == 0);
        w.choose("book.part", "All parts");
        const base::Rgb was = w.piece().material.piece.baseColour;
        w.click("book.keepsColour");
        give(w, "Balloon skin");
        QVERIFY(w.piece().material.parts.empty());
        QVERIFY(w.piece().material.piece.baseColour == was && w.piece().material.piece.clearcoat == sampleNamed("balloon-skin").clearcoat);
        QVERIFY(w.settle());
    }

    // Dropped on a letter, on the wall; a foreign one is no file to open.
    void dropped()
    {
        Window w;
        QVERIFY(w.trigger("view.book"));
        QVERIFY(w.settle());
        drop(w, "copper", w.letterPlace(2));
        QVERIFY(w.piece().letters.at("a3").material->piece == sampleNamed("copper"));
        QVERIFY(w.settle());
        drop(w, "plaster", w.groundPlace());
        QVERIFY(w.work().ground.wall == sampleNamed("plaster"));
        const work::Work before = w.work();
        drop(w, "nothing-of-that-name", w.letterPlace(2));
        QVERIFY(w.work() == before);
    }

    // Samples are rendered on the first letter; the second time they are there at once.
    void samplesAreRendered()
    {
        OPEN_GLOW_LONG_TEST
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.trigger("view.book"));
        auto* list = w.find<QListWidget>("book.list");
        w.find<QLineEdit>("book.search")->setText("gold");
        const auto seen = [&](int row) { return list->item(row)->icon().pixmap(80).toImage(); };
        QVERIFY(list->count() >= 3);
        QTRY_VERIFY_WITH_TIMEOUT(seen(0) != seen(1) && seen(1) != seen(2), 300000);
        const QImage first = seen(0);
        w.click("book.close");
        QVERIFY(w.trigger("view.book"));
        QTRY_VERIFY_WITH_TIMEOUT(seen(0) == first, 300000);
        // Of all of them those that are seen come first, the last when it is scrolled to.
        w.find<QLineEdit>("book.search")->clear();
        const int last = list->count() - 1;
        const QImage blank = seen(last);
        QTRY_VERIFY_WITH_TIMEOUT(seen(0) != blank, 300000);
        QTest::qWait(200);
        QVERIFY(seen(last) == blank);
        list->scrollToBottom();
        QTRY_VERIFY_WITH_TIMEOUT(seen(last) != blank, 300000);
    }

    // The store does not grow for ever: what was not used for the longest time goes.
    void oldSamplesGo()
    {
        QDir folder(app::sampleFolder());
        QVERIFY(folder.mkpath("."));
        for (const QString& name : folder.entryList({"*.png"}, QDir::Files))
            folder.remove(name);
        for (int i = 0; i < 12; ++i) {
            QFile file(folder.filePath(QString("s%1.png").arg(i)));
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write("x") == 1 && file.flush());
            QVERIFY(file.setFileTime(QDateTime::currentDateTime().addDays(i == 0 ? 0 : i - 20), QFileDevice::FileModificationTime));
        }
        app::forgetOldSamples(12);
        QCOMPARE(folder.entryList({"*.png"}, QDir::Files).size(), qsizetype{12});
        app::forgetOldSamples(8);
        const QStringList left = folder.entryList({"*.png"}, QDir::Files);
        QCOMPARE(left.size(), qsizetype{6});
        QVERIFY(left.contains("s0.png") && left.contains("s11.png") && !left.contains("s6.png"));
        for (const QString& name : left)
            folder.remove(name);
    }

    // What is marked and what was given last are groups of their own, in every window.
    void favouritesAndLastUsed()
    {
        {
            Window w;
            QVERIFY(w.trigger("edit.chooseAll"));
            QVERIFY(w.trigger("view.book"));
            auto* list = w.find<QListWidget>("book.list");
            give(w, "Oak");
            give(w, "Brick");
            give(w, "Oak");
            list->setCurrentItem(itemOf(w, "White marble"));
            w.find<QAction>("book.favourite")->trigger();
            QVERIFY(itemOf(w, "\u2605 White marble"));
        }
        Window w;
        QVERIFY(w.trigger("view.book"));
        auto* list = w.find<QListWidget>("book.list");
        w.choose("book.group", "Last used");
        QCOMPARE(list->item(0)->text(), QString("Oak"));
        QCOMPARE(list->item(1)->text(), QString("Brick"));
        w.choose("book.group", "Favourites");
        QCOMPARE(list->count(), 1);
        list->setCurrentRow(0);
        w.find<QAction>("book.favourite")->trigger();
        QCOMPARE(list->count(), 0);
    }

    // A designer's own is kept by a name and forgotten.
    void ownOnes()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.trigger("view.book"));
        give(w, "Copper");
        QTimer::singleShot(0, [] {
            auto* ask = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            QVERIFY(ask);
            ask->setTextValue("Dune copper");
            ask->accept();
        });
        w.click("book.keep");
        QVERIFY(itemOf(w, "Dune copper"));
        QVERIFY(files::readMaterialSample(files::ownMaterialFolder() + "/dune-copper.json")->material == w.piece().material.piece);
        auto* list = w.find<QListWidget>("book.list");
        list->setCurrentItem(itemOf(w, "Gold"));
        w.find<QAction>("book.forget")->trigger();  // not the user's own
        QVERIFY(itemOf(w, "Gold"));
        list->setCurrentItem(itemOf(w, "Dune copper"));
        w.find<QAction>("book.forget")->trigger();
        QVERIFY(!itemOf(w, "Dune copper"));
        QVERIFY(!QFile::exists(QString::fromStdString(files::ownMaterialFolder() + "/dune-copper.json")));
    }

    // Colours of a file become swatches, each once; what has none is told.
    void swatchesOfAFile()
    {
        Window w;
        QTemporaryDir folder;
        const auto dropFile = [&](const char* name, const QByteArray& bytes) {
            QFile file(folder.filePath(name));
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size());
            file.close();
            QMimeData data;
            data.setUrls({QUrl::fromLocalFile(file.fileName())});
            QDragEnterEvent enter(QPoint(500, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(&w.window, &enter);
            QDropEvent event(QPointF(500, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(&w.window, &event);
        };
        const auto message = [&] { return w.find<QLabel>("message.text")->text(); };
        dropFile("fair.css", ":root { --sand: #F3D9B1; --sea: #19768A }");
        QTRY_COMPARE(w.work().swatches.order.size(), std::size_t{2});
        QCOMPARE(w.work().swatches.items.at(w.work().swatches.order[1]).name, std::string("sea"));
        QVERIFY2(message().startsWith("2 swatches"), qPrintable(message()));
        dropFile("fair.gpl", "243 217 177 Sand\n228 87 46 Kite\n");
        QTRY_COMPARE(w.work().swatches.order.size(), std::size_t{3});
        dropFile("fair.txt", "no colours");
        QTRY_VERIFY2(message().contains("fair.txt"), qPrintable(message()));
        w.session().undo();
        QCOMPARE(w.work().swatches.order.size(), std::size_t{2});
        QVERIFY(w.find<QAction>("edit.addSwatches") && w.find<QAction>("edit.exchangeSwatches"));

        // Exchanged for others: by name, then in order; what follows them is recoloured in one step.
        const std::string sea = w.work().swatches.order[1];
        w.session().edit("follow", [&](work::Work& work) {
            work::Material& m = work.pieces.items.begin()->second.material.piece;
            m.swatch = sea;
            m.baseColour = work.swatches.items.at(sea).colour;
        });
        QFile others(folder.filePath("others.css"));
        QVERIFY(others.open(QIODevice::WriteOnly));
        others.write("--first: #102030; --SEA: #405060");
        others.close();
        w.window.swatches()->exchange(others.fileName());
        QCOMPARE(picture::hexFromRgb(w.piece().material.piece.baseColour), std::string("#405060"));
        QCOMPARE(picture::hexFromRgb(w.work().swatches.items.at(w.work().swatches.order[0]).colour), std::string("#102030"));
        QVERIFY2(message().startsWith("2 of 2"), qPrintable(message()));
        w.session().undo();
        QCOMPARE(picture::hexFromRgb(w.piece().material.piece.baseColour), std::string("#19768A"));
    }

    // Light through and patterns have rows of their own, which come when they count; what a work has of them is saved and opens again.
    void lightThroughAndPatterns()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("material");
        w.click("material.through");
        QVERIFY(!w.find<QWidget>("material.through.solid")->isVisible());
        w.type("material.through.transmission.edit", "100");
        w.type("material.through.attenuationDistance.edit", "40");
        const work::Material& m = w.piece().material.piece;
        QVERIFY(m.transmission == 1 && m.solid && m.attenuationDistancePt > 0);
        QVERIFY2(w.window.ticket()->section("material")->summary().contains("glass"),
                 qPrintable(w.window.ticket()->section("material")->summary()));
        QVERIFY(w.settle());
    }
    void patterns()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("material");
        w.click("material.pattern");
        QVERIFY(!w.find<QWidget>("material.pattern.patternSize.edit")->isVisible());
        w.choose("material.pattern.pattern", "Brick");
        w.type("material.pattern.patternSize.edit", "50");
        w.type("material.pattern.patternTurn.edit", "45");
        const work::Material& m = w.piece().material.piece;
        QVERIFY(m.pattern == surface::PatternKind::Brick && m.patternTurn == 45 && m.patternSizePt > 0);
        QVERIFY2(w.window.ticket()->section("material")->summary().contains("brick", Qt::CaseInsensitive),
                 qPrintable(w.window.ticket()->section("material")->summary()));
        QVERIFY(w.settle());
    }

    // Layers have rows of their own, which come when they count.
    void layers()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("material");
        w.click("material.layers");
        QVERIFY(!w.find<QWidget>("material.layers.coatRoughness.edit")->isVisible());
        w.type("material.layers.clearcoat.edit", "100");
        w.type("material.layers.coatRoughness.edit", "5");
        w.type("material.layers.ior.edit", "2.42");
        const work::Material& m = w.piece().material.piece;
        QVERIFY(m.clearcoat == 1 && m.clearcoatRoughness == 0.05f && m.ior == 2.42f);
        QVERIFY2(w.window.ticket()->section("material")->summary().contains("coated"),
                 qPrintable(w.window.ticket()->section("material")->summary()));
        QVERIFY(w.settle());
    }
};

OPEN_GLOW_WINDOW_TEST(TestBook)
#include "test_book.moc"
