// The finish in the window: layers listed, changed and ordered, where they act, finishes that are ready.
#include <QAction>
#include <QCheckBox>
#include <QColorSpace>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>

#include "app/driver.h"
#include "files/colour_profile.h"
#include "files/finish_start.h"
#include "finish/cube.h"
#include "session/layers.h"
#include "work/fonts.h"
#include "work/scene.h"

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

    // A caption is added, chosen and typed: it is printed flat, nothing is rendered anew for it, and it is no body. Its layer chooses it
    // again, gives it a colour, and takes it along when it goes.
    void aCaption()
    {
        Window w;
        QVERIFY(w.settle());
        const QImage was = w.picture().image();
        w.openSection("finish");
        w.find<QAction>("layer.caption")->trigger();
        QTest::qWait(50);
        QCOMPARE(w.session().choice().pieces().size(), std::size_t{1});
        const std::string piece = w.session().choice().pieces().front();
        QVERIFY(isFlat(w.work(), piece));
        QVERIFY(w.settle());
        QVERIFY(w.picture().image() != was && !w.picture().frame().draft);  // the film was kept
        const auto* list = w.find<QListWidget>("pieces");                   // there it has its picture as bodies have
        for (int i = 0; i < list->count(); ++i)
            QVERIFY(!list->item(i)->data(Qt::DecorationRole).value<QPixmap>().isNull());
        w.session().edit("text", [&](work::Work& x) {
            work::setText(x.pieces.items.at(piece), "on the dunes");
            x.pieces.items.at(piece).lettering()->layout.sizePt = 60;
            x.pieces.items.at(piece).placement.y = 0;
        });
        QVERIFY(w.settle());
        QVERIFY(!w.picture().frame().draft);
        w.type("finish.print.colour.hex", "#FF0000");
        QVERIFY(w.settle());
        int red = 0;
        const QImage seen = w.picture().image();
        for (int y = 0; y < seen.height(); ++y)
            for (int x = 0; x < seen.width(); ++x)
                red += QColor(seen.pixel(x, y)) == QColor(255, 0, 0);
        QVERIFY2(red > 100, qPrintable(QString::number(red)));
        w.session().choose({});
        w.click("finish.print.choose");
        QCOMPARE(w.session().choice().pieces(), std::vector{piece});
        w.click("finish.layers.remove");
        QVERIFY(w.work().pieces.items.at(piece).hidden && !isFlat(w.work(), piece));
    }

    // The chosen piece becomes flat, behind an undo a body again; a code says what is typed, or why it cannot; a colour table is opened,
    // and a broken one is refused in words.
    void flatPiecesCodesAndTables()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("finish");
        w.session().choose({});
        w.find<QAction>("layer.print")->trigger();
        QVERIFY(w.work().finish.layers.order.empty());  // nothing is chosen
        w.clickAt(w.letterPlace(0));
        const std::string piece = w.session().choice().pieces().front();
        w.find<QAction>("layer.print")->trigger();
        QVERIFY(isFlat(w.work(), piece));
        w.session().undo();
        QVERIFY(!isFlat(w.work(), piece));
        add(w, "code");
        QTest::qWait(50);
        QVERIFY(w.find<QWidget>("finish.code.wrong")->isVisible());
        w.type("finish.code.text", "https://kites.example");
        QVERIFY(!w.find<QWidget>("finish.code.wrong")->isVisible());
        w.choose("finish.code.code", "EAN-13");
        QVERIFY(w.find<QWidget>("finish.code.wrong")->isVisible());
        add(w, "lookup");
        QTest::qWait(50);
        const auto open = [&](const char* text) {
            QFile file(driver::path("look.cube"));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(text);
            file.close();
            driver::answerFileDialog(driver::path("look.cube"));
            w.click("finish.lookup.choose");
        };
        open("LUT_1D_SIZE 2\n0 0\n");
        QTest::qWait(50);
        QVERIFY(std::get<finish::Lookup>(layer(w, 1).what).asset.empty());
        open("LUT_1D_SIZE 2\n1 1 1\n0 0 0\n");
        QTRY_VERIFY(!std::get<finish::Lookup>(layer(w, 1).what).asset.empty());
        QVERIFY(w.settle());
        work::Work less = w.work();
        work::dropUnusedAssets(less);
        QCOMPARE(less.assets.size(), w.work().assets.size());
        const auto layers = work::layersOf(w.work());
        QVERIFY(length(std::get<finish::Lookup>(layers.back().what).cube->at({1, 0.25f, 0}) - base::Rgb{0, 0.75f, 1}) < 1e-6f);
    }

    // A layer is told where it acts by whose light it is, how bright, where it fades.
    void masksInTheWindow()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("finish");
        add(w, "fill");
        w.click("finish.where");
        QTest::qWait(50);
        w.choose("finish.where.lightOf", "Surroundings");
        QCOMPARE(layer(w, 0).light, std::string("surroundings"));
        w.type("finish.where.darkest.edit", "40");
        w.type("finish.where.brightest.edit", "90");
        QVERIFY(!w.find<QWidget>("finish.where.fadesTurn.edit")->isVisible());
        w.type("finish.where.fades.edit", "100");
        w.type("finish.where.fadesTurn.edit", "180");
        w.type("finish.where.edge.edit", "12");
        w.type("finish.where.farFrom.edit", "-20");
        w.type("finish.where.farTo.edit", "40");
        const work::Layer& is = layer(w, 0);
        QVERIFY(is.darkest == 0.4 && is.brightest == 0.9 && is.fades == 1 && is.fadesTurn == 180 && is.edge > 0 && is.farFrom < 0 &&
                is.farTo > 0);
        QVERIFY(w.settle());
    }

    // A flare stands where its lamp is seen, and goes with it; its place is typed where it has none, or where that one is behind the
    // viewer.
    void aFlareOfALamp()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("finish");
        add(w, "flare");
        QTest::qWait(50);
        QVERIFY(w.find<QWidget>("finish.flare.x.edit")->isVisible() && !w.find<QWidget>("finish.flare.unseen")->isVisible());
        auto* lamp = w.find<QComboBox>("finish.flare.lamp");
        w.choose("finish.flare.lamp", lamp->itemText(1));
        const std::string id = w.work().lights.order.front();
        QCOMPARE(std::get<finish::Flare>(layer(w, 0).what).lamp, id);
        QVERIFY(!w.find<QWidget>("finish.flare.x.edit")->isVisible());
        const auto placed = [&] { return std::get<finish::Flare>(work::layersOf(w.work()).front().what); };
        // Seen straight on, in parallel, it stands over its own place.
        const light::Light is = work::lightOf(w.work().lights.items.at(id));
        QVERIFY(std::abs(placed().x - is.position.x) < 1e-6 && std::abs(placed().y - is.position.y) < 1e-6 && !placed().hidden);
        // Behind the wall nothing is left of it, and the row says so.
        const double direction = w.work().lights.items.at(id).direction;
        QCOMPARE(placed().open, 1.0);
        w.session().edit("lamp", [&](work::Work& x) { x.lights.items.at(id).direction = 180; });
        QTest::qWait(50);
        QVERIFY(placed().open == 0 && w.find<QLabel>("finish.flare.unseen")->isVisible());
        w.session().edit("lamp", [&](work::Work& x) { x.lights.items.at(id).direction = direction - 10; });
        QVERIFY(std::abs(placed().x - work::lightOf(w.work().lights.items.at(id)).position.x) < 1e-6);
        w.session().edit("view", [&](work::Work& x) {
            x.view().perspective = true;
            x.lights.items.at(id).distance = 1e5;
        });
        QVERIFY(placed().hidden && w.find<QWidget>("finish.flare.unseen")->isVisible());
        QVERIFY(w.settle());
        w.session().edit("gone", [](work::Work& x) { x.lights = {}; });
        QVERIFY(placed().hidden);
        QVERIFY(w.settle());
    }

    // A group round a layer: it is in bold with its layers further in, moves them by the arrows, fades all of them at once, and goes
    // without them.
    void aGroup()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("finish");
        add(w, "tone");
        add(w, "vignette");
        add(w, "group");
        auto* list = w.find<QListWidget>("finish.layers.list");
        QStringList rows;
        for (int i = 0; i < list->count(); ++i)
            rows << list->item(i)->text();
        QCOMPARE(rows, (QStringList{"Group", "Vignette", "Tone"}));
        QVERIFY(list->item(0)->font().bold() && !list->item(1)->icon().isNull() && list->item(2)->icon().isNull());
        list->setCurrentRow(2);
        w.click("finish.layers.up");  // into it
        QVERIFY(!list->item(2)->icon().isNull() &&
                work::groupOf(w.work().finish.layers, w.work().finish.layers.order.front()) == w.work().finish.layers.order.back());
        w.type("finish.tone.exposure.edit", "-2");
        QVERIFY(w.settle());
        const double all = meanOf(w.picture().image());
        list->setCurrentRow(0);
        QTest::qWait(50);
        QVERIFY(!w.find<QWidget>("finish.tone.exposure.edit")->isVisible() && w.find<QWidget>("finish.group.dissolve")->isVisible());
        w.type("finish.layer.strength.edit", "50");
        QVERIFY(w.settle());
        const double half = meanOf(w.picture().image());
        w.type("finish.layer.strength.edit", "0");
        QVERIFY(w.settle());
        const double none = meanOf(w.picture().image());
        QVERIFY2(all < half - 5 && half < none - 5 && std::abs(half - (all + none) / 2) < 2,
                 qPrintable(QString("%1 %2 %3").arg(all).arg(half).arg(none)));
        w.click("finish.group.dissolve");
        QVERIFY(w.work().finish.layers.order.size() == 2 && work::layersOf(w.work()).size() == 2);
        w.session().undo();
        QCOMPARE(w.work().finish.layers.order.size(), std::size_t{3});
    }

    // Where a layer acts is drawn by a drag, with Shift taken away again; each stroke is one step, and Clear lets it act everywhere.
    void drawnByHand()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("finish");
        add(w, "fill");
        w.type("finish.layer.strength.edit", "100");
        w.type("finish.fill.colour.hex", "#FF0000");
        w.click("finish.drawn");
        QTest::qWait(50);
        w.type("finish.drawn.size.edit", "60");
        w.type("finish.drawn.softness.edit", "0");
        w.click("finish.drawn.draw");
        const QRectF frame = w.picture().frameRect();
        const auto at = [&](double u, double v) {
            return QPointF(frame.x() + u * frame.width(), frame.y() + v * frame.height()).toPoint();
        };
        w.drag(at(0.1, 0.5), at(0.5, 0.5));
        QCOMPARE(layer(w, 0).strokes.order.size(), std::size_t{1});
        QVERIFY(w.settle());
        const auto red = [&](double u, double v) {
            const QColor c = w.picture().image().pixelColor(int(u * w.picture().image().width()), int(v * w.picture().image().height()));
            return c.red() > 240 && c.green() < 15;
        };
        QVERIFY(red(0.2, 0.5) && red(0.45, 0.5) && !red(0.8, 0.5) && !red(0.3, 0.05));
        w.drag(at(0.2, 0.3), at(0.2, 0.7), Qt::LeftButton, Qt::ShiftModifier);
        QVERIFY(w.settle());
        QVERIFY(!red(0.2, 0.5) && red(0.45, 0.5));
        w.clickAt(at(0.8, 0.5));  // a dot
        QVERIFY(w.settle());
        QVERIFY(red(0.8, 0.5) && layer(w, 0).strokes.order.size() == 3);
        QVERIFY(session::whereText(w.work(), layer(w, 0)).find("drawn by hand") != std::string::npos);
        w.session().undo();
        QCOMPARE(layer(w, 0).strokes.order.size(), std::size_t{2});
        w.key(Qt::Key_Escape);
        w.drag(at(0.1, 0.1), at(0.2, 0.1));  // it is no brush any more
        QCOMPARE(layer(w, 0).strokes.order.size(), std::size_t{2});
        w.click("finish.drawn.clear");
        QVERIFY(w.settle());
        QVERIFY(red(0.3, 0.05) && layer(w, 0).strokes.order.empty());
    }

    // A slow finish is followed in fewer pixels, and is whole again at rest: the same as if it had been made at once.
    void followedInFewerPixels()
    {
        Window w(driver::kites("KITE", 1280, 720), driver::kSamples, {1280, 800});
        QVERIFY(w.settle());
        w.session().edit("slow", [](work::Work& x) {
            for (int i = 0; i < 6; ++i) {
                work::Layer soft;
                soft.what = finish::Soften{3.0 + i};
                x.finish.layers.add(x.newId("y"), soft);
            }
        });
        QVERIFY(w.settle());
        int smaller = 0;
        const QSize whole(w.picture().frame().widthPx, w.picture().frame().heightPx);
        for (int i = 1; i <= 12; ++i) {
            w.session().edit("strength", "strength", [&](work::Work& x) { x.finish.layers.items.begin()->second.strength = 1 - i * 0.05; });
            for (int k = 0; k < 40; ++k) {
                QTest::qWait(5);
                smaller += w.picture().frame().widthPx < whole.width();
            }
        }
        QVERIFY(w.settle());
        QVERIFY(smaller > 0);
        QCOMPARE(QSize(w.picture().frame().widthPx, w.picture().frame().heightPx), whole);
        QVERIFY(!w.picture().frame().draft);
        const QImage followed = w.picture().image().copy();
        Window fresh(w.work(), driver::kSamples, {1280, 800});
        QVERIFY(fresh.settle());
        QCOMPARE(fresh.picture().image().size(), followed.size());
        QCOMPARE(fresh.picture().image(), followed);
    }

    // Passes are ticked: an EXR begins with all of them, a PNG with none; they are written beside it. Colours by a profile of one's own.
    void passesAndColours()
    {
        Window w;
        QVERIFY(w.settle());
        w.session().edit("few", [](work::Work& x) { x.output().stop = {2, 0, 0}; });
        w.openSection("export");
        w.type("export.path", driver::path("passes.exr"));
        w.click("export.further");
        QTest::qWait(50);
        QVERIFY(w.find<QCheckBox>("export.passes.position")->isChecked() && !w.find<QWidget>("export.further.colours")->isVisible());
        w.click("export.passes.position");
        QCOMPARE(w.work().output().passes.size(), std::size_t{12});
        w.click("export.passes.position");
        QVERIFY(w.work().output().passes.empty());
        w.type("export.path", driver::path("passes.png"));
        QVERIFY(!w.find<QCheckBox>("export.passes.shadow")->isChecked() && !w.find<QCheckBox>("export.passes.position")->isEnabled());
        w.click("export.passes.shadow");
        QCOMPARE(w.work().output().passes, std::vector<std::string>{"shadow"});
        w.choose("export.further.colours", "A profile of one's own");
        QTest::qWait(50);
        {
            QFile file(driver::path("paper.icc"));
            QVERIFY(file.open(QIODevice::WriteOnly));
            const auto& bytes = files::ColourProfile::displayP3().bytes();
            file.write(reinterpret_cast<const char*>(bytes.data()), qint64(bytes.size()));
        }
        driver::answerFileDialog(driver::path("paper.icc"));
        w.click("export.profile");
        QVERIFY2(w.work().output().profile.starts_with("profiles/paper"), w.work().output().profile.c_str());
        w.click("export.render");
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo::exists(driver::path("passes.shadow.png")), 120000);
        const QImage image(driver::path("passes.png"));
        QVERIFY(image.colorSpace() == QColorSpace(QColorSpace::DisplayP3));
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
        // And says how large it will be, about.
        QVERIFY(w.settle());
        w.type("export.quality.edit", "95");
        const QString good = w.find<QLabel>("export.takes")->text();
        w.type("export.quality.edit", "60");
        const QString small = w.find<QLabel>("export.takes")->text();
        QVERIFY2(good.contains("about") && small.contains("about") && good != small, qPrintable(good + " and " + small));
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
