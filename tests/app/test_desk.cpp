// The light desk over live and kept pictures, and noise reduction as the window has it.
#include <QCheckBox>
#include <QImage>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>

#include "app/drawer/light_desk_view.h"
#include "app/driver.h"
#include "app/window/kept_picture.h"
#include "files/work_file.h"

using driver::Window;

namespace {

// A window whose final was rendered to the folder and is kept.
bool renderFinal(Window& w, const QString& path)
{
    if (!w.settle())
        return false;
    w.session().edit("few", [](work::Work& x) { x.output().stop = {driver::kSamples, 0, 0}; });
    w.openSection("export");
    w.type("export.path", path);
    w.click("export.render");
    // Finals of earlier tests may stand in the list as well; the newest comes first.
    return QTest::qWaitFor([&] { return QFileInfo::exists(path) && !w.window.findChild<QPushButton*>("export.stop"); }, 120000);
}

}  // namespace

class TestDesk : public QObject {
    Q_OBJECT

    QString strip(Window& w) { return QString("drawer.desk.%1").arg(QString::fromStdString(w.work().lights.order.front())); }
    void darken(Window& w)
    {
        auto* fader = w.find<QSlider>(strip(w) + ".fader");
        fader->setValue(fader->value() - 80);
    }

private Q_SLOTS:
    // The light desk changes what is seen, not the work, until the work takes it over; then undo takes it back.
    void lightDesk()
    {
        Window w;
        QVERIFY(w.settle());
        const work::Work work = w.work();
        w.click("state.desk");
        QVERIFY(w.settle());
        const QImage before = w.picture().image().copy();
        QVERIFY(w.find<QWidget>("drawer.desk")->isVisible() && !w.find<QWidget>("drawer.side")->isVisible());
        const QString light = QString("drawer.desk.%1").arg(QString::fromStdString(work.lights.order.front()));
        w.find<QSlider>(light + ".fader")->setValue(w.find<QSlider>(light + ".fader")->value() - 60);
        QVERIFY(w.settle());
        QVERIFY(w.picture().image() != before);
        QVERIFY(w.work() == work);
        w.click("drawer.desk.back");
        QVERIFY(w.settle());
        QCOMPARE(w.picture().image(), before);
        // One light alone is darker than both.
        w.click(light + ".solo");
        QVERIFY(w.settle());
        QVERIFY(w.picture().image() != before);
        w.click(light + ".solo");
        w.type(light + ".stops.edit", "1.5");
        QVERIFY(w.settle());
        w.click("drawer.desk.use");
        QVERIFY(std::abs(w.work().lights.items.begin()->second.stops - 1.5) < 1e-9);
        QVERIFY(w.trigger("edit.undo"));
        QVERIFY(w.work() == work);
        // A light that is off cannot be mixed.
        w.session().edit("off", [](work::Work& x) { x.surroundings.on = false; });
        QVERIFY(!w.find<QSlider>("drawer.desk.surroundings.fader")->isEnabled());
        QVERIFY(w.find<QToolButton>("drawer.desk.surroundings.solo")->text().contains("not rendered"));
    }

    // A card that has its own fader: the picture is the same as before, its light moves alone, and the work takes it over.
    void aCardOfItsOwn()
    {
        work::Work work = driver::kites();
        work.lights = {};
        work.surroundings.kind = work::SurroundingsKind::Sky;
        work.surroundings.cards.add("k1", {});
        work.surroundings.cards.items.at("k1").width = 90;
        Window w(work, 8);
        QVERIFY(w.settle());
        const QPointF place = w.groundPlace();
        const int was = w.picture().colourAt(place)->green();
        w.openSection("light");
        w.click("light.surroundings.cards");
        QTest::qWait(50);
        w.find<QCheckBox>("light.surroundings.cards.own")->click();
        QVERIFY(w.settle());
        QVERIFY2(std::abs(w.picture().colourAt(place)->green() - was) < 25, "ticking it changes nothing but noise");
        w.click("state.desk");
        auto* fader = w.find<QSlider>("drawer.desk.k1.fader");
        QVERIFY(fader && fader->isEnabled());
        fader->setValue(-200);
        QVERIFY(w.settle());
        QVERIFY(w.picture().colourAt(place)->green() < was - 15);
        QVERIFY(!w.picture().frame().draft);
        w.click("drawer.desk.use");
        QCOMPARE(w.work().surroundings.cards.items.at("k1").stops, -10.0);
    }

    // Colour of a light at the desk; a click on the plan leads to the light's fader.
    void colourAndPlan()
    {
        Window w;
        QVERIFY(w.settle());
        const work::Work work = w.work();
        w.click("state.desk");
        w.type(strip(w) + ".colour.hex", "#FF2010");
        QVERIFY(w.settle());
        const QColor seen = *w.picture().colourAt(w.groundPlace());
        QVERIFY(seen.red() > seen.blue());
        QVERIFY(w.work() == work);
        auto* plan = w.find<app::LightPlan>("drawer.desk.plan");
        QTest::mouseClick(plan, Qt::LeftButton, {}, plan->placeOf(work.lights.order.front()).toPoint());
        QVERIFY(w.find<QSlider>(strip(w) + ".fader")->hasFocus());
        w.click("drawer.desk.use");
        QCOMPARE(picture::hexFromRgb(w.work().lights.items.at(work.lights.order.front()).colour), "#FF2010");
    }

    // The compare key shows the grain while it is held; off for good in the View menu.
    void noiseReductionIsCompared()
    {
        Window w;
#ifdef OPEN_GLOW_CHECKED
        QVERIFY(w.trigger("view.denoise"));  // the driver has it off
#endif
        QVERIFY(w.settle());
        const QImage clean = w.picture().image().copy();
        QTest::keyPress(&w.window, Qt::Key_F4);
        QVERIFY(w.settle());
        const QImage gathered = w.picture().image().copy();
        QVERIFY(gathered != clean);
        QTest::keyRelease(&w.window, Qt::Key_F4);
        QVERIFY(w.settle());
        QCOMPARE(w.picture().image(), clean);
        QVERIFY(w.trigger("view.denoise"));
        QVERIFY(w.settle());
        QCOMPARE(w.picture().image(), gathered);
    }

    // Switched off for a final, grain is in the file.
    void aFinalWithoutNoiseReduction()
    {
        Window w;
        const QTemporaryDir folder;
        QVERIFY(renderFinal(w, folder.filePath("clean.png")));
        w.find<QAbstractButton>("export.denoise")->click();
        w.type("export.path", folder.filePath("grain.png"));
        w.click("export.render");
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo::exists(folder.filePath("grain.png")), 120000);
        const QImage clean(folder.filePath("clean.png")), grain(folder.filePath("grain.png"));
        QCOMPARE(clean.size(), grain.size());
        QVERIFY(clean != grain);
    }

    // A finished final is kept: opened at the desk, mixed, saved again without rendering, and its mix taken over by the work.
    void aKeptPictureIsMixed()
    {
        Window w;
        const QTemporaryDir folder;
        QVERIFY(renderFinal(w, folder.filePath("kite.png")));
        w.click("export.desk");
        QTRY_VERIFY_WITH_TIMEOUT(w.window.kept()->isOpen(), 60000);
        QVERIFY(w.window.kept()->isVisible() && w.find<QWidget>("drawer.desk")->isVisible());
        const QImage before = w.window.kept()->image().copy();
        darken(w);
        QVERIFY(w.window.kept()->image() != before);
        driver::answerFileDialog(folder.filePath("dark.png"));
        w.click("drawer.desk.save");
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo::exists(folder.filePath("dark.png")), 60000);
        const QImage first(folder.filePath("kite.png")), dark(folder.filePath("dark.png"));
        QCOMPARE(dark.size(), first.size());
        QVERIFY(dark.pixelColor(5, 5).lightness() < first.pixelColor(5, 5).lightness());
        const double stops = w.work().lights.items.begin()->second.stops;
        w.click("drawer.desk.use");
        QVERIFY(w.work().lights.items.begin()->second.stops < stops);
        w.click("drawer.desk.close");
        QVERIFY(!w.window.kept()->isOpen() && !w.window.kept()->isVisible());
    }

    // The work takes a finished picture along: saved, opened elsewhere and mixed there, without the film.
    void aWorkKeepsAPicture()
    {
        const QTemporaryDir folder;
        const std::string file = folder.filePath("along.openglow").toStdString();
        {
            Window w;
            w.session().edit("colours", [](work::Work& work) { work.output().colours = work::FileColours::DisplayP3; });
            QVERIFY(renderFinal(w, folder.filePath("kite.png")));
            w.click("export.keep");
            QTRY_VERIFY_WITH_TIMEOUT(w.window.findChild<QPushButton*>("export.kept.desk"), 60000);
            QVERIFY(w.find<QLabel>("export.kept.sentence")->text().contains("kite"));
            QVERIFY(files::saveWork(w.work(), file).has_value());
            w.trigger("edit.undo");
            QTRY_VERIFY(!w.window.findChild<QPushButton*>("export.kept.desk"));
            w.click("export.remove");  // its film goes
        }
        const auto work = files::openWork(file);
        QVERIFY(work.has_value());
        Window w(*work);
        QVERIFY(w.settle());
        w.openSection("export");
        w.click("export.kept.desk");
        QTRY_VERIFY_WITH_TIMEOUT(w.window.kept()->isOpen(), 60000);
        const QImage p3 = QImage(folder.filePath("kite.png"));
        QVERIFY(p3.colorSpace().primaries() == QColorSpace::Primaries::DciP3D65);
        const QImage still = p3.convertedToColorSpace(QColorSpace::SRgb).convertToFormat(QImage::Format_RGB888);
        QCOMPARE(w.window.kept()->image().size(), still.size());
        // Half floats hold it to a step of 8 bits, and dither may go the other way.
        for (int y = 0; y < still.height(); y += 7)
            for (int x = 0; x < still.width(); x += 5) {
                const QColor a = still.pixelColor(x, y), b = w.window.kept()->image().pixelColor(x, y);
                QVERIFY(std::abs(a.red() - b.red()) <= 2 && std::abs(a.green() - b.green()) <= 2 && std::abs(a.blue() - b.blue()) <= 2);
            }
        const QImage before = w.window.kept()->image().copy();
        darken(w);
        QVERIFY(w.window.kept()->image() != before);
        // Saved from there it has the colours of its output still.
        driver::answerFileDialog(folder.filePath("dark.png"));
        w.click("drawer.desk.save");
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo::exists(folder.filePath("dark.png")), 60000);
        QVERIFY(QImage(folder.filePath("dark.png")).colorSpace() == p3.colorSpace());
        w.click("export.kept.remove");
        QTRY_VERIFY(!w.window.findChild<QPushButton*>("export.kept.desk"));
    }
};

OPEN_GLOW_WINDOW_TEST(TestDesk)
#include "test_desk.moc"
