// Letters with a face, a size, a name and a pose of their own, by rows and by hand; faces found by kind; pictures traced; notices that
// mend what they speak of; pieces set in order.
#include <QAction>
#include <QClipboard>
#include <QComboBox>
#include <QInputDialog>
#include <QLineEdit>
#include <QListView>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QPainter>
#include <QSettings>
#include <QToolButton>
#include <QUrl>

#include "app/driver.h"
#include "app/picture/hands.h"
#include "app/picture/picture_view.h"
#include "app/ticket/section.h"
#include "app/ticket/ticket.h"
#include "app/window/artwork_files.h"
#include "session/edits.h"
#include "work/fonts.h"

using driver::Window;

namespace {

void chooseLetters(Window& w, const std::vector<std::size_t>& letters)
{
    session::Choice choice;
    for (const std::size_t i : letters)
        choice.add({"p1", w.piece().letterIds()[i]});
    w.session().choose(choice);
}

void chooseItem(Window& w, const QString& combo, int index)
{
    auto* field = w.find<QComboBox>(combo);
    field->setCurrentIndex(index);
    Q_EMIT field->activated(index);
}

// From the face list, by words of its name.
void takeFace(Window& w, const QString& words)
{
    w.click("lettering.face.button");
    w.find<QLineEdit>("lettering.face.filter")->setText(words);
    QTest::keyClick(w.find<QLineEdit>("lettering.face.filter"), Qt::Key_Return);
}

const work::LetterOwn* ownOf(Window& w, std::size_t letter)
{
    const auto own = w.piece().letters.find(w.piece().letterIds()[letter]);
    return own == w.piece().letters.end() ? nullptr : &own->second;
}

// Answers the next question for a number.
void answer(double value)
{
    QTimer::singleShot(50, [value] {
        auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
        if (!dialog)
            qFatal("nothing was asked");
        dialog->setDoubleValue(value);
        dialog->accept();
    });
}

}  // namespace

class TestType : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // The face, size and name of chosen letters; the others and the piece keep theirs, and each is one step back.
    void chosenLettersHaveTheirOwn()
    {
        Window w(driver::kites("KITE"));
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("lettering");
        takeFace(w, "lato black");
        const auto face = w.piece().lettering()->font;
        QCOMPARE(face.family, "Lato");
        chooseLetters(w, {1, 2});
        takeFace(w, "lobster two bold");
        QVERIFY(w.piece().lettering()->font == face);
        QVERIFY(ownOf(w, 1) && ownOf(w, 1)->font && ownOf(w, 1)->font->family == "Lobster Two" && !ownOf(w, 0));
        QCOMPARE(ownOf(w, 1)->font, ownOf(w, 2)->font);
        QVERIFY(w.find<QToolButton>("lettering.face.button")->text().startsWith("Lobster Two"));
        w.click("lettering.letters");
        w.type("lettering.letters.typeSize.edit", "150");
        QCOMPARE(ownOf(w, 2)->typeSize, 1.5);
        w.type("lettering.letters.name", "the mast");
        QCOMPARE(ownOf(w, 1)->name, "the mast");
        QVERIFY(w.find<QLabel>("ticket.choice")->text().contains("the mast"));
        // Back to the piece's face: nothing of their own is left of it.
        takeFace(w, "lato black");
        QVERIFY(!ownOf(w, 1)->font);
        for (int i = 0; i < 4; ++i)
            w.session().undo();
        QVERIFY(!ownOf(w, 1));
    }

    // By hand: a letter is made larger, turned in space, and stands back as it was.
    void lettersAreSizedAndTurnedByHand()
    {
        Window w(driver::kites("KITE"));
        chooseLetters(w, {1});
        QVERIFY(w.settle());
        const work::Work before = w.work();
        const QPointF corner = w.lug(app::Lug::Kind::Size);
        w.drag(corner, corner + QPointF(30, 30));
        QVERIFY(ownOf(w, 1) && ownOf(w, 1)->scale > 1.2);
        QCOMPARE(w.piece().sizePt(), before.pieces.items.at("p1").sizePt());
        w.session().undo();
        QVERIFY(w.work() == before);
        QVERIFY(w.settle());
        const QPointF globe = w.lug(app::Lug::Kind::Swing);
        w.drag(globe, globe + QPointF(40, 25));
        QVERIFY(ownOf(w, 1)->turn > 5 && ownOf(w, 1)->tilt > 5 && ownOf(w, 1)->roll == 0);
        w.session().undo();
        QVERIFY(w.work() == before);
        // A whole piece: its size, and where it stands free its turn.
        session::Choice whole;
        whole.set({"p1", {}});
        w.session().choose(whole);
        QVERIFY(w.settle());
        QVERIFY(!w.hasLug(app::Lug::Kind::Swing));
        const QPointF end = w.lug(app::Lug::Kind::Size);
        w.drag(end, end - QPointF(60, 22));
        QVERIFY(w.piece().sizePt() < before.pieces.items.at("p1").sizePt() * 0.95);
        w.session().edit("free", [](work::Work& work) { work.pieces.items.at("p1").placement.stance = work::Stance::Free; });
        QVERIFY(w.settle());
        const QPointF other = w.lug(app::Lug::Kind::Swing);
        w.drag(other, other + QPointF(-40, 0));
        QVERIFY(w.piece().placement.turn < -5);
    }

    void linesAreStacked()
    {
        Window w(driver::kites("KITE\nFAIR"));
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("lettering");
        w.click("lettering.run");
        w.click("lettering.run.stacked");
        QVERIFY(w.piece().lettering()->layout.stacked);
        QVERIFY(w.settle());
        const base::Box3 box = w.picture().frame().shownWork->bodies.places.front().box;
        QVERIFY(box.high.y - box.low.y > 1.2 * (box.high.x - box.low.x));
        chooseItem(w, "lettering.run.kind", 1);  // an arc: letters run along it
        QVERIFY(!w.find<QWidget>("lettering.run.stacked")->isVisible());
    }

    // Those used last come first, favourites are kept, and kinds are told apart.
    void facesAreFoundByKind()
    {
        QSettings().remove("faces");
        Window w(driver::kites("KITE"));
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("lettering");
        takeFace(w, "vollkorn black");
        takeFace(w, "bebas neue bold");
        w.click("lettering.face.button");
        auto* list = w.find<QListView>("lettering.face.list");
        QCOMPARE(list->model()->index(0, 0).data().toString(), "Bebas Neue Bold");
        QVERIFY(list->model()->index(1, 0).data().toString().startsWith("Vollkorn Black"));
        QCOMPARE(list->currentIndex().row(), 0);
        w.click("lettering.face.favourite");
        QVERIFY(QSettings().value("faces/favourites").toStringList().contains("Bebas Neue|Bold"));
        const auto names = [&](int kind) {
            chooseItem(w, "lettering.face.kind", kind);
            QStringList all;
            for (int i = 0; i < list->model()->rowCount(); ++i)
                all << list->model()->index(i, 0).data().toString();
            return all;
        };
        QCOMPARE(names(1), QStringList{"Bebas Neue Bold"});
        const QStringList heavy = names(2), narrow = names(3), script = names(5), all = names(0);
        QVERIFY(heavy.contains("Lato Black") && !heavy.contains("Lato Regular"));
        QVERIFY(narrow.contains("Bebas Neue Bold") && script.contains("Dancing Script Bold") && !script.contains("Lato Black"));
        QVERIFY(all.size() > heavy.size() + narrow.size());
        // Chosen from a kind, and no favourite any more.
        chooseItem(w, "lettering.face.kind", 1);
        w.click("lettering.face.favourite");
        QCOMPARE(list->model()->rowCount(), 0);
        QTest::keyClick(list->window(), Qt::Key_Escape);
        QSettings().remove("faces");
    }

    // A notice names the face that is lent, and sets all such letters in it for good.
    void aLentFaceIsKept()
    {
        Window w(driver::kites("K\u0416T\u0416"));
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("lettering");
        QVERIFY(w.settle());
        QTRY_VERIFY(w.window.findChild<QLabel*>("notice1"));
        QVERIFY(w.find<QLabel>("notice1")->text().contains("stands in"));
        const auto buttons = w.window.ticket()->section("lettering")->findChildren<QPushButton*>();
        const auto set =
            std::find_if(buttons.begin(), buttons.end(), [](QPushButton* b) { return b->objectName().startsWith("notice1.face."); });
        QVERIFY(set != buttons.end());
        w.click((*set)->objectName());
        QVERIFY(ownOf(w, 1) && ownOf(w, 1)->font && ownOf(w, 3)->font == ownOf(w, 1)->font && !ownOf(w, 0));
        QVERIFY(w.work().assets.contains(ownOf(w, 1)->font->asset));
        QVERIFY(w.settle());
        QTRY_VERIFY(!w.window.findChild<QLabel*>("notice1"));
    }

    // A step for chosen letters, for all, and letters united.
    void stepsGoForChosenLetters()
    {
        Window w(driver::kites("KITE"));
        chooseLetters(w, {0, 3});
        w.openSection("lettering");
        w.click("lettering.steps");
        const auto add = [&](const char* what) { w.window.findChild<QAction*>(QString("step.") + what)->trigger(); };
        add("round");
        const auto step = [&](std::size_t i) { return w.piece().steps.items.at(w.piece().steps.order[i]); };
        QCOMPARE(step(0).letters, (std::vector<std::string>{w.piece().letterIds()[0], w.piece().letterIds()[3]}));
        auto* field = w.find<QComboBox>("lettering.steps.letters");
        QCOMPARE(field->currentText(), "K, E");
        chooseLetters(w, {1});
        QCOMPARE(field->itemText(field->count() - 1), "Chosen: I");
        chooseItem(w, "lettering.steps.letters", field->count() - 1);
        QCOMPARE(step(0).letters, (std::vector<std::string>{w.piece().letterIds()[1]}));
        chooseItem(w, "lettering.steps.letters", 0);
        QVERIFY(step(0).letters.empty());
        add("join");
        QVERIFY(std::get<work::Combine>(step(1).what).piece.empty());
        w.session().choose({{{"p1", {}}}});
        add("grow");
        QVERIFY(step(2).letters.empty());
        QVERIFY(w.settle());
    }

    // A picture dropped is traced; its threshold moves the shapes, live.
    void aPictureIsTraced()
    {
        QImage image(200, 100, QImage::Format_RGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        painter.fillRect(10, 10, 60, 80, QColor(20, 20, 20));
        painter.fillRect(120, 10, 60, 80, QColor(200, 200, 200));
        painter.end();
        const QString path = driver::path("two.png");
        QVERIFY(image.save(path));
        Window w(work::emptyWork({320, 320, work::Unit::Px, 72}));
        QVERIFY(app::ArtworkFiles::isArtwork(path));
        w.window.artwork()->add(path);
        QTRY_VERIFY_WITH_TIMEOUT(!w.work().pieces.order.empty(), 60000);
        QVERIFY(w.piece().artwork()->isTraced());
        QCOMPARE(w.piece().letterIds().size(), std::size_t{1});
        w.openSection("lettering");
        w.click("lettering.trace");
        w.type("lettering.trace.threshold.edit", "90");
        QCOMPARE(w.piece().letterIds().size(), std::size_t{2});
        QCOMPARE(w.find<QListWidget>("artwork.shapes")->count(), 2);
        w.click("lettering.trace.inverse");
        QCOMPARE(w.piece().letterIds().size(), std::size_t{1});
        w.session().undo();
        w.session().undo();
        QCOMPARE(w.piece().letterIds().size(), std::size_t{1});
        QVERIFY(w.settle());
        // The same from the clipboard.
        QGuiApplication::clipboard()->setImage(image);
        QVERIFY(w.trigger("edit.paste"));
        QTRY_COMPARE_WITH_TIMEOUT(w.work().pieces.order.size(), std::size_t{2}, 60000);
        QVERIFY(w.piece().artwork()->isTraced());
    }

    // Two pieces in each other are told of, and parted by one click.
    void clashesAreParted()
    {
        work::Work work = driver::kites("KITE");
        work.pieces.add("p7", work.pieces.items.at("p1"));
        work.pieces.items.at("p7").placement.x = 4;
        work.pieces.items.at("p7").placement.stance = work::Stance::Free;
        work.pieces.items.at("p7").placement.z = 3;
        work.pieces.items.at("p7").slab()->depthPt *= 0.5;
        Window w(work);
        QVERIFY(w.settle());
        w.session().choose({{{"p1", {}}}});
        w.openSection("lettering");
        QTRY_VERIFY(w.window.findChild<QPushButton*>("notice1.part"));
        QVERIFY(w.find<QLabel>("notice1")->text().contains("cut into each other"));
        QCOMPARE(w.picture().frame().shownWork->bodies.clashes.size(), std::size_t{1});  // and a sign in the picture
        w.click("notice1.part");
        QVERIFY(w.settle());
        QTRY_VERIFY(!w.window.findChild<QPushButton*>("notice1.part"));
        QVERIFY(!(w.piece().placement == work.pieces.items.at("p1").placement));
    }

    // The step of the arrow keys is chosen; pieces stand one behind the other; alignment by the type's lines.
    void piecesAreSetInOrder()
    {
        QSettings().remove("nudgePt");
        work::Work work = driver::kites("HOH");
        work.pieces.add("p7", work.pieces.items.at("p1"));
        work::setText(work.pieces.items.at("p7"), "HQJ");
        work.pieces.items.at("p7").placement.y = 40;
        Window w(work);
        QVERIFY(w.settle());
        w.session().choose({{{"p1", {}}}});
        const double x = w.piece().placement.x;
        w.key(Qt::Key_Right);
        QCOMPARE(w.piece().placement.x, x + 1);
        answer(2.5);
        QVERIFY(w.trigger("arrange.nudge"));
        w.key(Qt::Key_Right);
        QCOMPARE(w.piece().placement.x, x + 3.5);
        QSettings().remove("nudgePt");
        w.session().choose({{{"p1", {}}, {"p7", {}}}});
        answer(15);
        QVERIFY(w.trigger("arrange.behind"));
        QCOMPARE(w.work().pieces.items.at("p1").placement.z, -work.ground.wallBehind + 15);
        w.session().undo();
        QVERIFY(w.trigger("arrange.typeLines"));
        QVERIFY(w.trigger("arrange.lower"));
        const auto& pieces = w.work().pieces.items;
        QVERIFY(std::abs(pieces.at("p1").placement.y - pieces.at("p7").placement.y) < 1e-6);
    }

    // A piece dragged out of the list is its outlines, for programs that take the drawing and for those that take its file.
    void piecesAreDraggedOutAsOutlines()
    {
        Window w(driver::kites("KITE"));
        auto* list = w.find<QListWidget>("pieces");
        const std::unique_ptr<QMimeData> data(list->model()->mimeData({list->model()->index(0, 0)}));
        QVERIFY(data->hasFormat("image/svg+xml") && data->hasUrls());
        QFile file(data->urls().front().toLocalFile());
        QVERIFY(file.fileName().endsWith("KITE.svg") && file.open(QIODevice::ReadOnly));
        const QByteArray svg = file.readAll();
        QCOMPARE(svg, data->data("image/svg+xml"));
        QCOMPARE(svg.count("<path"), 4);
        QVERIFY(list->model()->supportedDragActions() & Qt::MoveAction);  // the order is still changed by hand
        QVERIFY(data->formats().size() > 2);
    }

    void noShortcutIsGivenTwice()
    {
        Window w;
        std::map<QString, QString> keys;
        for (const QAction* action : w.window.findChildren<QAction*>())
            for (const QKeySequence& key : action->shortcuts())
                QVERIFY2(keys.emplace(key.toString(), action->objectName()).second,
                         qPrintable(key.toString() + ": " + keys[key.toString()] + ", " + action->objectName()));
        QVERIFY(keys.size() > 20);
    }
};

OPEN_GLOW_WINDOW_TEST(TestType)
#include "test_type.moc"
