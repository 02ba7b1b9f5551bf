// Whole jobs that end in the finish, from the empty window to the file, counted in actions as test_jobs.cpp counts them.
#include <QLineEdit>
#include <QPushButton>

#include "app/job.h"
#include "app/window/artwork_files.h"
#include "app/window/proof_sheet.h"

using namespace job;

namespace {

// Add, its group, its kind.
void addLayer(Window& w, const char* kind)
{
    w.actions += 3;
    w.find<QAction>(QString("layer.") + kind)->trigger();
    QTest::qWait(50);
}

const work::Layer& topmost(Window& w)
{
    return w.work().finish.layers.items.at(w.work().finish.layers.order.back());
}

// Typed into the caption that was added last: a click on its place in the ticket, and its words.
void typeCaption(Window& w, const char* words)
{
    w.openSection("lettering");
    w.actions += 2;
    auto* text = w.find<QPlainTextEdit>("lettering.text");
    text->setFocus();
    text->selectAll();
    QTest::keyClicks(text, words);
}

int count(const QImage& image, const std::function<bool(const QColor&)>& is)
{
    int found = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            found += is(image.pixelColor(x, y));
    return found;
}

}  // namespace

class TestFinishJobs : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A logo under a soft light, letting through at 300 ppi, its edges drawn white with screen.
    void aTransparentLogoWithEdgeLines()
    {
        Window w;
        w.window.files()->newWork(kSheet);
        QTest::qWait(20);
        w.actions = 1;  // dropped on the window
        w.window.artwork()->add(OPEN_GLOW_SOURCE "/assets/demo/kite-mark.svg");
        QTRY_VERIFY_WITH_TIMEOUT(w.work().pieces.order.size() == 1, 60000);
        w.session().edit("few samples", [](work::Work& now) { now.output().stop = {4, 0, 0}; });
        w.openSection("sheet");
        w.type("sheet.ppi.edit", "300");
        w.openSection("ground");
        choose(w, "ground.kind", 0);
        w.openSection("light");
        w.type("light.direction.edit", "-40");
        w.openSection("export");
        w.click("export.transparent");
        const QImage plain = exported(w, "plain.png");
        w.openSection("finish");
        addLayer(w, "lines");
        QVERIFY(topmost(w).blend == finish::Blend::Screen);
        const QImage still = exported(w, "lines.png");
        QCOMPARE(still.dotsPerMeterX(), 11811);
        QVERIFY(qAlpha(still.pixel(1, 1)) == 0 && qAlpha(plain.pixel(1, 1)) == 0);
        const auto isWhite = [](const QColor& c) { return c.alpha() > 200 && c.red() > 245 && c.green() > 245 && c.blue() > 245; };
        QVERIFY2(count(still, isWhite) > count(plain, isWhite) + 100,
                 qPrintable(QString("%1 and %2").arg(count(still, isWhite)).arg(count(plain, isWhite))));
        QVERIFY2(w.actions <= 22, qPrintable(QString::number(w.actions)));
    }

    // Swollen letters along an arc, glossy, graded; a cut-out in front of them, a caption, paper over all with screen, grain, warmth.
    void aPosterWithACutOutInFront()
    {
        Window w;
        begin(w, "kites");
        w.openSection("lettering");
        w.click("lettering.run");
        choose(w, "lettering.run.kind", 1);
        w.openSection("form");
        choose(w, "form.kind", 1);
        shortcut(w, "view.book");
        take(w, "Glossy red plastic");
        QVERIFY(w.settle());
        const QImage before = w.picture().image();
        w.openSection("finish");
        addLayer(w, "tone");
        w.type("finish.tone.contrast.edit", "20");
        w.type("finish.tone.warmth.edit", "25");
        QImage cutOut(40, 60, QImage::Format_ARGB32);
        cutOut.fill(Qt::transparent);
        for (int y = 10; y < 50; ++y)
            for (int x = 10; x < 30; ++x)
                cutOut.setPixelColor(x, y, QColor(0, 90, 255));
        QVERIFY(cutOut.save(path("kite-cut-out.png")));
        addLayer(w, "picture");
        driver::answerFileDialog(path("kite-cut-out.png"));
        QTimer::singleShot(0, &w.window, [] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
                menu->findChild<QAction*>("picture.file")->trigger();
                menu->close();
            }
        });
        w.click("finish.picture.picture");
        w.actions += 1;  // the file
        QTRY_VERIFY(!std::get<finish::Picture>(topmost(w).what).asset.empty());
        w.type("finish.picture.width.edit", "60");
        addLayer(w, "caption");
        typeCaption(w, "on the dunes");
        w.openSection("finish");
        addLayer(w, "stuff");
        w.choose("finish.layer.blend", "Screen");
        w.type("finish.layer.strength.edit", "35");
        addLayer(w, "grain");
        const QImage still = exported(w, "poster.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QCOMPARE(w.work().finish.layers.order.size(), std::size_t{5});
        QVERIFY(topmost(w).blend == finish::Blend::Overlay && topmost(w).strength == 0.4);
        // The cut-out covers the letters in the middle.
        const QColor middle = still.pixelColor(160, 90);
        QVERIFY2(middle.blue() > middle.red() + 60, qPrintable(middle.name()));
        QVERIFY2(w.actions <= 52, qPrintable(QString::number(w.actions)));
    }

    // Initials on nested plates in blue metal, letting through; sparks, smoke, a lens flare and a halo in the same hue.
    void bluePlatesWithSparks()
    {
        Window w;
        begin(w, "gk");
        w.trigger("piece.plate");
        w.trigger("piece.plate");
        w.actions += 2;
        shortcut(w, "edit.chooseAll");
        shortcut(w, "view.book");
        take(w, "Chrome");
        w.openSection("material");
        w.type("material.colour.hex", "#2A5BFF");
        w.openSection("ground");
        choose(w, "ground.kind", 0);
        w.openSection("finish");
        addLayer(w, "particles");
        w.type("finish.particles.colour.hex", "#2A5BFF");
        w.type("finish.particles.to.hex", "#A9C1FF");
        addLayer(w, "smoke");
        w.type("finish.smoke.colour.hex", "#2A5BFF");
        addLayer(w, "flare");
        w.type("finish.flare.tint.hex", "#6F93FF");
        addLayer(w, "halo");
        w.type("finish.halo.tint.hex", "#6F93FF");
        w.openSection("export");
        w.click("export.transparent");
        const QImage still = exported(w, "blue.png");
        QCOMPARE(w.work().pieces.order.size(), std::size_t{3});
        // One hue: whatever has a colour is blue; and something of sparks and smoke lies outside the plates.
        const int blue =
            count(still, [](const QColor& c) { return c.alpha() > 60 && c.hsvSaturation() > 60 && std::abs(c.hue() - 225) < 25; });
        const int other =
            count(still, [](const QColor& c) { return c.alpha() > 60 && c.hsvSaturation() > 60 && std::abs(c.hue() - 225) > 40; });
        QVERIFY2(blue > 2000 && other < blue / 20, qPrintable(QString("%1 %2").arg(blue).arg(other)));
        QVERIFY(count(still, [](const QColor& c) { return c.alpha() > 0 && c.alpha() < 250; }) > 200);
        QVERIFY2(w.actions <= 43, qPrintable(QString::number(w.actions)));
    }

    // A tilted word on a grey wall, face and bevel of two materials, soft warm light from above; two views are kept, the picture is graded.
    void keptViewsAndGrading()
    {
        Window w;
        begin(w, "dune");
        shortcut(w, "view.book");
        for (const auto& [part, sample] : {std::pair{"Face", "Midnight lacquer"}, {"Front bevel", "Brass"}}) {
            w.choose("book.part", part);
            take(w, sample);
        }
        w.openSection("ground");
        w.click("ground.wall");
        w.type("ground.wall.colour.hex", "#808080");
        w.openSection("light");
        w.type("light.height.edit", "70");
        w.type("light.colour.hex", "#FFE2B8");
        w.openSection("view");
        w.click("view.save");
        w.type("view.walk.edit", "-25");
        w.type("view.rise.edit", "8");
        w.click("view.save");
        QCOMPARE(w.work().views.order.size(), std::size_t{2});
        QVERIFY(w.settle());
        const QImage plain = w.picture().image();
        w.openSection("finish");
        addLayer(w, "tone");
        w.type("finish.tone.contrast.edit", "30");
        w.type("finish.tone.saturation.edit", "-40");
        QVERIFY(w.settle());
        QVERIFY(!w.picture().frame().draft);
        const QImage graded = w.picture().image();
        const auto spread = [&](const QImage& of) {  // of what is dark and bright
            return count(of, [](const QColor& c) { return c.lightness() < 40 || c.lightness() > 200; });
        };
        QVERIFY2(spread(graded) > spread(plain), qPrintable(QString("%1 %2").arg(spread(graded)).arg(spread(plain))));
        const QImage still = exported(w, "views.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QVERIFY(w.work().view().walk == -25 && w.work().views.items.at(w.work().views.order.front()).view.walk == 0);
        QVERIFY2(w.actions <= 30, qPrintable(QString::number(w.actions)));
    }

    // Swollen numerals with a flat shadow of a quarter's black, and a caption under them.
    void numeralsWithAFlatShadow()
    {
        Window w;
        begin(w, "23");
        w.openSection("form");
        choose(w, "form.kind", 1);
        w.openSection("ground");
        choose(w, "ground.kind", 0);
        QVERIFY(w.settle());
        const QImage before = w.picture().image();
        w.openSection("finish");
        addLayer(w, "flatShadow");
        QVERIFY(w.settle());
        QVERIFY(topmost(w).strength == 0.25 && !w.picture().frame().draft);
        const QImage shaded = w.picture().image();
        int darker = 0;
        double least = 1;
        for (int y = 0; y < shaded.height(); ++y)
            for (int x = 0; x < shaded.width(); ++x)
                if (const int was = before.pixelColor(x, y).value(), is = shaded.pixelColor(x, y).value(); is < 0.85 * was) {
                    ++darker;
                    least = std::min(least, double(is) / was);
                }
        QVERIFY2(darker > 300 && std::abs(least - 0.75) < 0.02, qPrintable(QString("%1 %2").arg(darker).arg(least)));
        addLayer(w, "caption");
        typeCaption(w, "of May");
        QVERIFY(w.settle());
        QVERIFY(!w.picture().frame().draft);
        const QImage still = exported(w, "numerals.png");
        QVERIFY(!still.isNull());
        QVERIFY2(w.actions <= 20, qPrintable(QString::number(w.actions)));
    }

    // A blackletter title like a mirror; light dodged into one letter, a gradient, bands over the letters, a trail, a halo.
    void aBlackletterTitleLikeAMirror()
    {
        Window w;
        begin(w, "gale");
        w.session().edit("face", [](work::Work& now) {
            now.pieces.items.begin()->second.lettering()->font = {"Blankenburg_UNZ1A", "Regular"};
        });
        w.actions += 3;  // the list of faces, its name, Return
        shortcut(w, "view.book");
        take(w, "Chrome");
        QVERIFY(w.settle());
        w.clickAt(w.letterPlace(0));
        w.clickAt(w.letterPlace(0));
        w.openSection("finish");
        addLayer(w, "fill");
        w.choose("finish.layer.blend", "Colour dodge");
        w.click("finish.where");
        QTest::qWait(50);
        w.click("finish.where.chosen");
        QCOMPARE(topmost(w).pieces.size(), std::size_t{1});
        QVERIFY(topmost(w).pieces.front().find('/') != std::string::npos);
        addLayer(w, "fill");
        w.choose("finish.fill.form", "Along a line");
        w.choose("finish.layer.blend", "Soft light");
        addLayer(w, "bands");
        QVERIFY(topmost(w).acts == finish::Acts::Lettering);
        addLayer(w, "trail");
        w.type("finish.trail.length.edit", "30");
        addLayer(w, "halo");
        const QImage still = exported(w, "title.png");
        QCOMPARE(still.size(), QSize(320, 180));
        QCOMPARE(w.work().finish.layers.order.size(), std::size_t{5});
        QVERIFY2(w.actions <= 45, qPrintable(QString::number(w.actions)));
    }

    // A swollen initial between coloured lights, in three versions that are seen side by side; the second one wins.
    void threeVersionsOfAnInitial()
    {
        Window w;
        begin(w, "k");
        w.openSection("form");
        choose(w, "form.kind", 1);
        w.openSection("light");
        addLight(w, 0);
        std::vector<QImage> versions;
        for (const char* colour : {"#FF5A3C", "#3C7BFF", "#3CFF8A"}) {
            w.type("light.colour.hex", colour);
            QVERIFY(w.settle());
            versions.push_back(w.picture().image());
            shortcut(w, "view.keepProof");
        }
        QCOMPARE(w.work().proofs.order.size(), std::size_t{3});
        shortcut(w, "view.proofs");
        auto* list = w.find<QListWidget>("proofs.list");
        w.actions += 3;  // clicks
        for (int row = 1; row <= 3; ++row)
            list->item(row)->setSelected(true);
        w.click("proofs.compare");
        QVERIFY(w.find<app::Comparison>("proofs.comparison")->isVisible());
        w.click("proofs.compare");
        w.actions += 1;
        list->clearSelection();
        list->item(2)->setSelected(true);
        w.click("proofs.back");
        QVERIFY(!w.find<QWidget>("proofs")->isVisible());
        const work::Light& lamp = w.work().lights.items.at(w.work().lights.order.back());
        QVERIFY(lamp.colour.z > lamp.colour.x * 3);
        const QImage still = exported(w, "initial.png");
        const auto blueness = [](const QImage& of) {
            double sum = 0;
            for (int y = 0; y < of.height(); ++y)
                for (int x = 0; x < of.width(); ++x)
                    sum += of.pixelColor(x, y).blue() - of.pixelColor(x, y).red();
            return sum / (of.width() * of.height());
        };
        QVERIFY2(std::abs(blueness(still) - blueness(versions[1])) < 2 && blueness(still) > blueness(versions[0]) + 5,
                 qPrintable(QString("%1 %2 %3").arg(blueness(still)).arg(blueness(versions[0])).arg(blueness(versions[1]))));
        QVERIFY2(w.actions <= 28, qPrintable(QString::number(w.actions)));
    }
};

OPEN_GLOW_WINDOW_TEST(TestFinishJobs)
#include "test_finish_jobs.moc"
