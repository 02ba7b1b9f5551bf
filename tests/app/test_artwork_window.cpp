// Artwork in the window: dropped, pasted, chosen shape by shape and by colour, replaced when its file changes.
#include <QClipboard>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>

#include "app/driver.h"
#include "app/window/artwork_files.h"
#include "work/artwork.h"

using driver::Window;

namespace {

const char* const kMark = OPEN_GLOW_SOURCE "/assets/demo/kite-mark.svg";

bool write(const QString& path, const QByteArray& bytes)
{
    QFile file(path);
    return file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size();
}

void drop(Window& w, const QString& path)
{
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(path)});
    QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&w.window, &enter);
    QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&w.window, &event);
}

const work::Artwork* first(Window& w)
{
    return w.work().pieces.order.empty() ? nullptr : w.piece().artwork();
}

}  // namespace

class TestArtworkWindow : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void shapesAreChosenColouredAndFormed()
    {
        Window w(work::emptyWork({320, 320, work::Unit::Px, 72}));
        drop(w, kMark);
        QTRY_VERIFY_WITH_TIMEOUT(first(w), 60000);
        QVERIFY(w.settle());
        w.openSection("lettering");
        QCOMPARE(w.window.ticket()->section("lettering")->title(), "Artwork");
        auto* shapes = w.find<QListWidget>("artwork.shapes");
        QCOMPARE(shapes->count(), 6);
        QCOMPARE(shapes->item(0)->text(), "bow-low");  // the topmost first
        // From the list, then all of its colour.
        QTest::mouseClick(shapes->viewport(), Qt::LeftButton, {}, shapes->visualItemRect(shapes->item(0)).center());
        QCOMPARE(w.session().choice().targets.size(), std::size_t{1});
        w.click("artwork.sameColour");
        QCOMPARE(w.session().choice().targets.size(), std::size_t{3});
        w.openSection("form");
        w.type("form.depth.edit", "3");
        int flat = 0;
        for (const auto& [_, own] : w.piece().letters)
            flat += own.form && std::get<solid::SlabForm>(*own.form).depthPt == 3;
        QCOMPARE(flat, 3);
        // In the picture: the piece, then a shape; the menu offers its colour.
        QVERIFY(w.settle());
        w.session().choose({});
        w.clickAt(w.letterPlace(0));
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{w.work().pieces.order.front(), {}}}));
        w.clickAt(w.letterPlace(0));
        QCOMPARE(w.session().choice().targets.front().letter, w.piece().letterIds()[0]);
        QVERIFY(w.find<QLabel>("ticket.choice")->text().contains("sail-left"));
        w.drag(w.letterPlace(0), w.letterPlace(0) + QPointF(0, -20));
        QVERIFY(w.piece().letters.at(w.piece().letterIds()[0]).isPosed());
        w.openSection("lettering");
        w.click("artwork.swatches");
        QCOMPARE(w.work().swatches.order.size(), std::size_t{4});
        w.type("lettering.height.edit", "100");
        QCOMPARE(first(w)->heightPt, 100.0);
        w.session().undo();
        w.session().undo();
        QVERIFY(w.work().swatches.order.empty());
    }

    // Text of an SVG, as editors and browsers copy it; and what is none becomes lettering as before.
    void artworkIsPasted()
    {
        Window w(work::emptyWork({320, 320, work::Unit::Px, 72}));
        QApplication::clipboard()->setText(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"9\" height=\"9\"><rect id=\"board\" width=\"9\" height=\"5\"/></svg>");
        QVERIFY(w.trigger("edit.paste"));
        QTRY_VERIFY_WITH_TIMEOUT(first(w), 60000);
        QCOMPARE(first(w)->shapes.items.begin()->second.name, "board");
        QApplication::clipboard()->setText("board");
        QVERIFY(w.trigger("edit.paste"));
        QVERIFY(w.piece().lettering());
    }

    // The file changes on disk: the window says so, and takes it over with what the shapes have.
    void aChangedFileIsTakenOver()
    {
        const QString path = driver::path("mark.svg");
        QFile original(kMark);
        QVERIFY(original.open(QIODevice::ReadOnly));
        const QByteArray before = original.readAll();
        QVERIFY(write(path, before));
        Window w(work::emptyWork({320, 320, work::Unit::Px, 72}));
        w.window.artwork()->add(path);
        QTRY_VERIFY_WITH_TIMEOUT(first(w), 60000);
        const std::string sail = w.piece().letterIds()[1];
        w.session().edit("pose", [&](work::Work& now) { now.pieces.items.begin()->second.letters[sail].z = 9; });
        QByteArray after = before;
        after.replace("#F7B733", "#3B4BA3").replace("</svg>", "<circle id=\"sun\" cx=\"350\" cy=\"60\" r=\"30\" fill=\"#F7B733\"/></svg>");
        QVERIFY(after != before && write(path, after));
        QTRY_VERIFY_WITH_TIMEOUT(w.window.findChild<QPushButton*>("message.update"), 20000);
        QVERIFY(w.find<QLabel>("message.text")->text().contains("mark.svg"));
        w.click("message.update");
        QTRY_COMPARE_WITH_TIMEOUT(first(w)->shapes.order.size(), std::size_t{7}, 60000);
        QCOMPARE(w.piece().letters.at(sail).z, 9.0);
        QCOMPARE(picture::hexFromRgb(w.piece().materialOf(sail).piece.baseColour), "#3B4BA3");
        QTRY_VERIFY(w.find<QLabel>("message.text")->text().contains("1 are new"));
        w.session().undo();
        QCOMPARE(first(w)->shapes.order.size(), std::size_t{6});
    }

    // Wrong files are told, and the work stays as it is.
    void wrongArtworkIsTold()
    {
        Window w;
        const work::Work before = w.work();
        QVERIFY(write(driver::path("broken.svg"), "<svg"));
        drop(w, driver::path("broken.svg"));
        QTRY_VERIFY_WITH_TIMEOUT(w.find<QLabel>("message.text")->text().contains("cannot be read"), 60000);
        QVERIFY(w.find<QLabel>("message.text")->text().contains("broken.svg"));
        QVERIFY(w.work() == before);
    }
};

OPEN_GLOW_WINDOW_TEST(TestArtworkWindow)
#include "test_artwork_window.moc"
