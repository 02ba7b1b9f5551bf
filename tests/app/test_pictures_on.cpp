// Pictures on materials in the window: chosen, dropped, moved by hand.
#include <QDropEvent>
#include <QImage>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>

#include "app/picture/picture_view.h"
#include "app/window/picture_files.h"
#include "driver.h"
#include "work/pictures.h"

using driver::Window;

namespace {

QString picturePath(const char* name, QColor left, QColor right)
{
    QImage image(64, 32, QImage::Format_RGB888);
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 64; ++x)
            image.setPixelColor(x, y, x < 32 ? left : right);
    const QString at = driver::path(name);
    image.save(at);
    return at;
}

const work::Pictures& pictures(Window& w)
{
    return w.piece().material.piece.pictures;
}

// Lays it as the row's menu does when a file was chosen there.
void lay(Window& w, const QString& path)
{
    w.window.pictures()->lay(path, "Picture", [&](work::Work& work, const std::string& asset) {
        work::layPicture(work.pieces.items.at(work.pieces.order[0]).material.piece, asset, 100);
    });
    QTRY_VERIFY_WITH_TIMEOUT(!pictures(w).colour.empty(), 60000);
}

// Drops a file and gives the menu that comes of it, by the words of its lines.
QMenu* drop(Window& w, const QString& path, QPointF place)
{
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(path)});
    const QPoint at = w.picture().mapTo(&w.window, place.toPoint());
    QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(&w.window, &enter);
    QDropEvent event(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(&w.window, &event);
    for (int i = 0; i < 50; ++i) {
        QTest::qWait(20);
        if (auto* menu = w.window.findChild<QMenu*>("dropped.picture"))
            return menu;
    }
    return nullptr;
}

QStringList linesOf(const QMenu* menu)
{
    QStringList lines;
    for (const QAction* action : menu->actions())
        lines << action->objectName();
    return lines;
}

void take(QMenu* menu, const char* line)
{
    menu->findChild<QAction*>(line)->trigger();
    menu->close();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

}  // namespace

class TestPicturesOn : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Dropped on a letter it goes on the piece, on that letter, or is traced; on the wall it goes there. One step each.
    void dropped()
    {
        const QString path = picturePath("sail.png", QColor(230, 40, 40), QColor(40, 60, 220));
        Window w;
        QVERIFY(w.settle());
        QMenu* menu = drop(w, path, w.letterPlace(1));
        QVERIFY(menu);
        QCOMPARE(linesOf(menu), (QStringList{"dropped.piece", "dropped.letter", "dropped.trace"}));
        take(menu, "dropped.piece");
        QTRY_VERIFY_WITH_TIMEOUT(!pictures(w).colour.empty(), 60000);
        QVERIFY(pictures(w).widthPt > 10 && work::pictureTitle(pictures(w).colour) == "sail.png");
        QVERIFY(w.trigger("edit.undo"));
        QVERIFY(!pictures(w).any());

        take(drop(w, path, w.letterPlace(1)), "dropped.letter");
        QTRY_VERIFY_WITH_TIMEOUT(w.piece().letters.contains("a2") && w.piece().letters.at("a2").material, 60000);
        QVERIFY(w.piece().letters.at("a2").material->piece.pictures.any() && !pictures(w).any());

        menu = drop(w, path, w.groundPlace());
        QVERIFY(menu && linesOf(menu).contains("dropped.wall") && !linesOf(menu).contains("dropped.piece"));
        take(menu, "dropped.wall");
        QTRY_VERIFY_WITH_TIMEOUT(w.work().ground.wall.pictures.any(), 60000);
    }

    // It is seen in the picture: the left half of the word in one colour, the right one in the other.
    void seen()
    {
        Window w;
        lay(w, picturePath("halves.png", QColor(255, 0, 0), QColor(0, 0, 255)));
        w.session().edit("one sheet", [](work::Work& work) {
            work::Pictures& p = work.pieces.items.at(work.pieces.order[0]).material.piece.pictures;
            p.widthPt = 400;
            p.edges = surface::PictureEdges::Once;
        });
        QVERIFY(w.settle());
        const auto redAt = [&](int letter) {
            const auto seen = w.picture().colourAt(w.letterPlace(letter));
            return seen && seen->red() > 2 * seen->blue();
        };
        QVERIFY(redAt(0) && !redAt(3));
    }

    // The rows: what is there, a width, further ones; from the menu one of the work's pictures, and none.
    void rows()
    {
        Window w;
        lay(w, picturePath("one.png", Qt::red, Qt::green));
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("material");
        w.click("material.pictures");
        auto* field = w.find<QPushButton>("material.pictures.colour");
        QVERIFY(field && field->text().contains("one") && !field->icon().isNull());
        w.type("material.pictures.width.edit", "50 px");
        QCOMPARE(pictures(w).widthPt, 50.0);
        w.choose("material.pictures.edges", "Mirrored");
        QVERIFY(pictures(w).edges == surface::PictureEdges::Mirror);
        const auto inMenu = [&](const QString& button, const std::function<QAction*(QMenu*)>& line) {
            QTimer::singleShot(100, this, [&] {
                auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
                QAction* action = menu ? line(menu) : nullptr;
                if (action)
                    action->trigger();
                if (menu)
                    menu->close();
            });
            w.click(button);
        };
        w.click("material.pictures.more");
        QTest::qWait(50);  // until the rows have their places
        const std::string asset = pictures(w).colour;
        inMenu("material.pictures.more.relief", [](QMenu* menu) {
            for (QAction* a : menu->actions())
                if (a->text() == "one.png")
                    return a;
            return static_cast<QAction*>(nullptr);
        });
        QCOMPARE(pictures(w).relief, asset);
        w.type("material.pictures.more.reliefHeight.edit", "3 px");
        inMenu("material.pictures.colour", [](QMenu* menu) { return menu->findChild<QAction*>("picture.none"); });
        QVERIFY(pictures(w).colour.empty() && !pictures(w).relief.empty());
        QVERIFY(field->text().contains("none"));
        QVERIFY(w.settle());
    }

    // By hand: shifted by as much as the pointer goes; its corner widens and turns it about its middle; one step each.
    void byHand()
    {
        Window w;
        lay(w, picturePath("hand.png", Qt::red, Qt::green));
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.settle());
        QVERIFY(w.hasLug(app::Lug::Kind::Depth) && !w.hasLug(app::Lug::Kind::PictureMiddle));
        w.openSection("material");
        w.click("material.pictures");
        w.click("material.pictures.hand");
        QVERIFY(!w.hasLug(app::Lug::Kind::Depth) && w.hasLug(app::Lug::Kind::PictureMiddle));
        const double perPt = w.picture().frameRect().width() / w.work().sheet().widthPt();
        QPointF lug = w.lug(app::Lug::Kind::PictureMiddle);
        w.drag(lug, lug + QPointF(30, -18));
        QVERIFY2(std::abs(pictures(w).x - 30 / perPt) < 1 && std::abs(pictures(w).y - 18 / perPt) < 1,
                 qPrintable(QString("%1 %2").arg(pictures(w).x).arg(pictures(w).y)));
        QVERIFY(w.settle());
        const work::Pictures before = pictures(w);
        const QPointF corner = w.lug(app::Lug::Kind::PictureCorner), middle = w.lug(app::Lug::Kind::PictureMiddle);
        const QPointF arm = corner - middle;
        w.drag(corner, middle + QPointF(arm.y(), -arm.x()) * 1.5);  // a quarter to the left
        QVERIFY2(std::abs(pictures(w).widthPt / before.widthPt - 1.5) < 0.03, qPrintable(QString::number(pictures(w).widthPt)));
        QVERIFY2(std::abs(pictures(w).turn - 90) < 1, qPrintable(QString::number(pictures(w).turn)));
        QVERIFY(w.trigger("edit.undo"));
        QVERIFY(pictures(w) == before);
        w.click("material.pictures.hand");
        QVERIFY(w.hasLug(app::Lug::Kind::Depth));
    }

    // What is no picture is told, and nothing changes; another file takes the place of one everywhere.
    void wrongAndReplaced()
    {
        Window w;
        QString said;
        connect(w.window.pictures(), &app::PictureFiles::say, &w.window, [&](const QString& s) { said = s; });
        QFile bad(driver::path("bad.png"));
        QVERIFY(bad.open(QIODevice::WriteOnly) && bad.write("no picture") > 0);
        bad.close();
        const work::Work before = w.work();
        w.window.pictures()->lay(bad.fileName(), "Picture", [](work::Work&, const std::string&) {});
        QTRY_VERIFY_WITH_TIMEOUT(said.contains("no PNG"), 60000);
        QVERIFY(w.work() == before);
        lay(w, picturePath("first.png", Qt::red, Qt::green));
        const std::string was = pictures(w).colour;
        w.window.pictures()->replace(was, picturePath("second.png", Qt::blue, Qt::yellow));
        QTRY_VERIFY_WITH_TIMEOUT(pictures(w).colour != was, 60000);
        QCOMPARE(work::pictureTitle(pictures(w).colour), std::string("second.png"));
    }

    // The file is painted on in another program: the window says so, and takes it over where it is used; one that is as it was, or
    // broken, or used no more says nothing.
    void changedOnDisk()
    {
        Window w;
        const QString at = picturePath("painted.png", Qt::red, Qt::green);
        lay(w, at);
        const std::string was = pictures(w).colour;
        int told = 0;
        connect(w.window.pictures(), &app::PictureFiles::changedOnDisk, &w.window, [&] { ++told; });
        QFile file(at);
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray bytes = file.readAll();
        file.close();
        const auto write = [&](const QByteArray& what) {
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write(what) == what.size());
            file.close();
            QTest::qWait(1500);
        };
        write(bytes);
        write(bytes.left(40));
        QCOMPARE(told, 0);
        picturePath("painted.png", Qt::red, Qt::blue);
        QTRY_VERIFY_WITH_TIMEOUT(w.window.findChild<QPushButton*>("message.update"), 20000);
        QVERIFY(w.find<QLabel>("message.text")->text().contains("painted.png"));
        QCOMPARE(pictures(w).colour, was);
        w.click("message.update");
        QTRY_VERIFY_WITH_TIMEOUT(pictures(w).colour != was, 60000);
        QCOMPARE(work::pictureTitle(pictures(w).colour), std::string("painted.png"));
        // The next change finds what has become of it.
        told = 0;
        picturePath("painted.png", Qt::yellow, Qt::blue);
        QTRY_COMPARE_WITH_TIMEOUT(told, 1, 20000);
        w.session().edit("Without", [](work::Work& work) { work.pieces.items.at(work.pieces.order[0]).material.piece.pictures = {}; });
        picturePath("painted.png", Qt::black, Qt::blue);
        QTest::qWait(1500);
        QCOMPARE(told, 1);
    }
};

OPEN_GLOW_WINDOW_TEST(TestPicturesOn)
#include "test_pictures_on.moc"
