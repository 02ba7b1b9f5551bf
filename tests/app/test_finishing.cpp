// The finish in the window: layers listed, changed and ordered, where they act, finishes that are ready.
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>

#include "app/driver.h"
#include "files/finish_start.h"
#include "work/fonts.h"

using driver::Window;

namespace {

void add(Window& w, const char* kind)
{
    w.find<QAction>(QString("layer.") + kind)->trigger();
    QTest::qWait(20);
}

const work::Layer& layer(Window& w, std::size_t place)
{
    return w.work().finish.layers.items.at(w.work().finish.layers.order.at(place));
}

double meanOf(const QImage& image)
{
    double sum = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            sum += qGray(image.pixel(x, y));
    return sum / (image.width() * image.height());
}

}  // namespace

class TestFinishing : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A layer is added, its values and how it goes over the rest are changed: the picture follows, and nothing is rendered anew.
    void layersAreAddedAndChanged()
    {
        Window w;
        QVERIFY(w.settle());
        const work::Work before = w.work();
        const double was = meanOf(w.picture().image());
        w.openSection("finish");
        QVERIFY(!w.find<QListWidget>("finish.layers.list")->isVisible());
        add(w, "tone");
        QVERIFY(w.find<QListWidget>("finish.layers.list")->isVisible());
        w.type("finish.tone.exposure.edit", "-1");
        QVERIFY(w.settle());
        const double dark = meanOf(w.picture().image());
        QVERIFY2(dark < was - 20, qPrintable(QString("%1 %2").arg(was).arg(dark)));
        QVERIFY(!w.picture().frame().draft);  // the film was kept
        // Held, a key shows the picture without its layers; the work stays as it is.
        QTest::keyPress(&w.window, Qt::Key_F7);
        QVERIFY(w.settle());
        QVERIFY2(std::abs(meanOf(w.picture().image()) - was) < 3, qPrintable(QString("%1 %2").arg(meanOf(w.picture().image())).arg(was)));
        QCOMPARE(w.work().finish.layers.order.size(), std::size_t{1});
        QTest::keyRelease(&w.window, Qt::Key_F7);
        QVERIFY(w.settle());
        QVERIFY(std::abs(meanOf(w.picture().image()) - dark) < 3);
        w.type("finish.layer.strength.edit", "50");
        QVERIFY(w.settle());
        const double half = meanOf(w.picture().image());
        QVERIFY(half > dark + 5 && half < was - 5);
        QCOMPARE(layer(w, 0).strength, 0.5);
        add(w, "fill");
        w.choose("finish.layer.blend", "Multiply");
        w.choose("finish.fill.form", "Along a line");
        QVERIFY(layer(w, 1).blend == finish::Blend::Multiply && w.find<QWidget>("finish.fill.turn.edit")->isVisible());
        QVERIFY(!w.find<QWidget>("finish.tone.exposure.edit")->isVisible());
        w.session().undo();
        w.session().undo();
        w.session().undo();
        w.session().undo();
        w.session().undo();
        w.session().undo();
        QVERIFY(w.work() == before);
    }

    // The topmost stands first; ticks, names, order, copies and removing.
    void theList()
    {
        Window w;
        w.openSection("finish");
        for (const char* kind : {"tone", "grain", "vignette"})
            add(w, kind);
        auto* list = w.find<QListWidget>("finish.layers.list");
        QCOMPARE(list->count(), 3);
        QCOMPARE(list->item(0)->text(), "Vignette");
        list->item(0)->setCheckState(Qt::Unchecked);
        QVERIFY(!layer(w, 2).on);
        list->item(0)->setText("Dark corners");
        QCOMPARE(layer(w, 2).name, std::string("Dark corners"));
        w.click("finish.layers.down");
        QCOMPARE(layer(w, 1).name, std::string("Dark corners"));
        w.click("finish.layers.up");
        w.click("finish.layers.up");  // it is the topmost: nothing happens
        QCOMPARE(layer(w, 2).name, std::string("Dark corners"));
        list->setCurrentRow(2);
        QVERIFY(w.find<QWidget>("finish.tone.contrast.edit")->isVisible());
        w.click("finish.layers.double");
        QVERIFY(w.work().finish.layers.order.size() == 4 && layer(w, 1).what == layer(w, 0).what);
        w.click("finish.layers.remove");
        w.click("finish.layers.remove");
        QCOMPARE(w.work().finish.layers.order.size(), std::size_t{2});
    }

    // Only on a letter that is chosen: the ground stays as it was to the pixel, the letter does not; then on the rest alone.
    void whereItActs()
    {
        Window w;
        QVERIFY(w.settle());
        const QPointF letter = w.letterPlace(0), ground = w.groundPlace();
        const QColor letterWas = *w.picture().colourAt(letter), groundWas = *w.picture().colourAt(ground);
        w.session().choose({});
        w.openSection("finish");
        add(w, "fill");
        w.click("finish.where");
        QTest::qWait(50);
        w.click("finish.where.chosen");  // nothing is: it says so
        QVERIFY(layer(w, 0).pieces.empty());
        w.clickAt(letter);
        w.clickAt(letter);
        w.click("finish.where.chosen");
        QVERIFY(!layer(w, 0).pieces.empty());
        w.type("finish.fill.colour.hex", "#0030FF");
        w.type("finish.layer.strength.edit", "100");
        QVERIFY(w.settle());
        QVERIFY(w.picture().colourAt(letter)->blue() > 240 && w.picture().colourAt(letter)->red() < 20);
        QVERIFY(std::abs(w.picture().colourAt(ground)->red() - groundWas.red()) < 3);
        w.find<QCheckBox>("finish.where.inverted")->click();
        QVERIFY(w.settle());
        QVERIFY(w.picture().colourAt(ground)->blue() > 240 && w.picture().colourAt(ground)->red() < 20);
        QVERIFY(std::abs(w.picture().colourAt(letter)->red() - letterWas.red()) < 12);
        w.click("finish.where.all");
        QVERIFY(layer(w, 0).pieces.empty());
    }

    // A picture lies in front once its file is chosen; it travels with the work, and goes with its layer.
    void aPictureInFront()
    {
        Window w;
        QVERIFY(w.settle());
        QImage image(40, 40, QImage::Format_RGB888);
        image.fill(QColor(0, 40, 255));
        QVERIFY(image.save(driver::path("sticker.png")));
        w.openSection("finish");
        add(w, "picture");
        driver::answerFileDialog(driver::path("sticker.png"));
        QTimer::singleShot(0, &w.window, [] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
                menu->findChild<QAction*>("picture.file")->trigger();
                menu->close();
            }
        });
        w.click("finish.picture.picture");
        QTRY_VERIFY(!std::get<finish::Picture>(layer(w, 0).what).asset.empty());
        w.type("finish.picture.width.edit", "5000");
        QVERIFY(w.settle());
        const QColor seen = *w.picture().colourAt(w.picture().rect().center());
        QVERIFY2(seen.blue() > 240 && seen.red() < 10, qPrintable(seen.name()));
        QCOMPARE(w.work().assets.size(), std::size_t{1} + work::Work(driver::kites()).assets.size());
        work::Work less = w.work();
        less.finish.layers = {};
        work::dropUnusedAssets(less);
        QCOMPARE(less.assets.size(), work::Work(driver::kites()).assets.size());
    }

    // A small file: its ending is its format, which has a quality and lets nothing through.
    void aJpegOfIt()
    {
        Window w;
        QVERIFY(w.settle());
        w.session().edit("few", [](work::Work& x) { x.output().stop = {2, 0, 0}; });
        w.openSection("export");
        QVERIFY(!w.find<QWidget>("export.quality.edit")->isVisible() && w.find<QWidget>("export.transparent")->isVisible());
        const QString path = driver::path("still.jpg");
        w.type("export.path", path);
        QCOMPARE(w.work().output().format, work::FileFormat::Jpeg);
        w.type("export.quality.edit", "60");
        QCOMPARE(w.work().output().quality, 60);
        QVERIFY(!w.find<QWidget>("export.transparent")->isVisible());
        w.click("export.render");
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo::exists(path), 120000);
        QCOMPARE(QImage(path).size(), QSize(320, 180));
    }

    // A finish is tried where the pointer rests, taken by a click in one step; another one replaces it, or comes over it; one's own is
    // kept.
    void finishesThatAreReady()
    {
        Window w;
        QVERIFY(w.settle());
        const work::Work before = w.work();
        w.openSection("finish");
        w.click("finish.starts");
        auto* list = w.find<QListWidget>("finish.starts.list");
        QVERIFY(list->isVisible() && list->count() >= 16);
        const auto item = [&](const QString& name) { return list->findItems(name, Qt::MatchExactly).front(); };
        list->setCurrentItem(item("Newsprint"));
        QTRY_COMPARE(w.work().finish.layers.order.size(), std::size_t{3});
        list->hide();
        w.find<QWidget>("finish.starts.panel")->hide();
        QVERIFY(w.work() == before);
        w.click("finish.starts");
        list->show();
        Q_EMIT list->itemClicked(item("Night"));
        QCOMPARE(w.work().finish.layers.order.size(), std::size_t{3});
        QVERIFY(w.settle());
        w.find<QCheckBox>("finish.starts.adds")->click();
        w.click("finish.starts");
        Q_EMIT list->itemClicked(item("Cut paper"));
        QCOMPARE(w.work().finish.layers.order.size(), std::size_t{5});
        w.session().undo();
        w.session().undo();
        QVERIFY(w.work() == before);
    }
};

OPEN_GLOW_WINDOW_TEST(TestFinishing)
#include "test_finishing.moc"
