// Whole jobs through the real window; finals are in test_finals.cpp.
#include <QImage>
#include <QMimeData>
#include <QPlainTextEdit>
#include <csignal>
#include <sys/wait.h>
#include <unistd.h>

#include "app/driver.h"
#include "app/ticket/head.h"
#include "files/work_file.h"
#include "session/places.h"
#include "support/support.h"

using driver::path;
using driver::Window;

namespace {

QString runCli(const QStringList& arguments)
{
    int code = 0;
    QByteArray errors;
    support::run(qEnvironmentVariable("OPEN_GLOW_CLI"), arguments, &code, &errors);
    return code == 0 ? QString() : QString::fromUtf8(errors);
}

}  // namespace

class TestWindow : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // From an empty sheet to a bevelled word as a PNG: at most 15 actions.
    void anEmptySheetBecomesAStill()
    {
        OPEN_GLOW_LONG_TEST
        Window w;
        w.window.files()->newWork({320, 180, work::Unit::Px, 72});
        QVERIFY(w.work().pieces.order.empty());
        QVERIFY(w.settle());
        w.actions = 0;
        w.click("pieces.add");
        QTest::keyClicks(QApplication::focusWidget(), "KITE");
        ++w.actions;
        QCOMPARE(w.piece().lettering()->text, "KITE");
        w.openSection("form");
        w.type("form.depth.edit", "30");
        w.type("form.width.edit", "2+1");
        w.openSection("material");
        w.type("material.colour.hex", "#E2563A");
        w.openSection("export");
        w.type("export.path", path("still.png"));
        w.click("export.stopRule");
        w.type("export.stopRule.samples.edit", "8");
        w.click("export.render");
        QVERIFY(w.waitForFinal(session::FinalStatus::State::Finished));
        QVERIFY2(w.actions <= 15, qPrintable(QString::number(w.actions)));
        const QImage still(path("still.png"));
        QCOMPARE(still.size(), QSize(320, 180));
        QCOMPARE(w.piece().slab()->front.widthPt, 3.0);
        QCOMPARE(w.piece().slab()->front.heightPt, 3.0);
        // There is red lettering on it: the mean of what is letter is redder than the ground.
        int red = 0;
        for (int y = 0; y < still.height(); ++y)
            for (int x = 0; x < still.width(); ++x)
                red += still.pixelColor(x, y).red() > still.pixelColor(x, y).blue() + 60;
        QVERIFY2(red > 600, qPrintable(QString::number(red)));
        // The same again with one key, of the work as it is now.
        QVERIFY(QFile::remove(path("still.png")));
        QVERIFY(w.trigger("file.exportAgain"));
        QVERIFY(w.waitForFinal(session::FinalStatus::State::Finished));
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(path("still.png")), 60000);
    }

    // The empty window asks for a word: typing begins it, and goes on in its own field. What was saved is offered as a picture.
    void anEmptyWindowTakesAWord()
    {
        Window w;
        QVERIFY(w.settle());
        w.window.files()->saveTo(path("dunes.openglow"));
        QTRY_VERIFY(w.window.files()->recent().contains(path("dunes.openglow")));
        QVERIFY(!w.find<QWidget>("start")->isVisible());
        w.window.files()->newWork({320, 180, work::Unit::Px, 72});
        QTRY_VERIFY(w.find<QWidget>("start")->isVisible());
        QCOMPARE(QApplication::focusWidget()->objectName(), "start.word");
        // It tells the sheet a word would stand on: one of the usual sizes, or its own.
        const auto* sheets = w.find<QComboBox>("start.sheet");
        QVERIFY(sheets->currentIndex() == -1 && sheets->placeholderText().contains("320"));
        w.window.files()->newWork({297, 420, work::Unit::Mm, 300});
        QCOMPARE(sheets->currentText(), "Poster A3 upright");
        w.window.files()->newWork({320, 180, work::Unit::Px, 72});
        auto* recent = w.find<QToolButton>("start.recent1");
        QTRY_VERIFY(!recent->icon().isNull());
        for (const char c : {'K', 'I', 'T', 'E'})
            QTest::keyClick(QApplication::focusWidget(), c, c == 'K' ? Qt::ShiftModifier : Qt::NoModifier);
        QVERIFY(!w.find<QWidget>("start")->isVisible());
        QCOMPARE(QString::fromStdString(w.piece().lettering()->text).toUpper(), "KITE");
        QCOMPARE(w.session().choice().targets.size(), std::size_t{1});
        QVERIFY(w.piece().lettering()->fits);
        // Return ends the word; a second line begins with what is written in it.
        const QString word = QString::fromStdString(w.piece().lettering()->text);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
        QCOMPARE(QString::fromStdString(w.piece().lettering()->text), word);
        QTest::keyClick(QApplication::focusWidget(), 'S');
        QCOMPARE(QString::fromStdString(w.piece().lettering()->text).toUpper(), "KITE\nS");
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Backspace);
        QCOMPARE(QString::fromStdString(w.piece().lettering()->text), word);
        QCOMPARE(w.find<QPlainTextEdit>("lettering.text")->toPlainText(), word + "\n");
        w.picture().setFocus();
        QCOMPARE(w.find<QPlainTextEdit>("lettering.text")->toPlainText(), word);
        while (w.session().history().canUndo())
            w.session().undo();
        QVERIFY(w.find<QWidget>("start")->isVisible());
        w.click("start.recent1");
        QTRY_COMPARE(w.session().path(), path("dunes.openglow").toStdString());
        QVERIFY(!w.find<QWidget>("start")->isVisible());
    }

    void aLetterIsChosenInPictureAndText()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("lettering");
        auto* text = w.find<QPlainTextEdit>("lettering.text");
        const auto& ids = w.piece().lettering()->letterIds;
        // A click chooses the piece, which is chosen already, so the letter.
        w.clickAt(w.letterPlace(2));
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{"p1", ids[2]}}));
        QCOMPARE(text->extraSelections().size(), 1);
        QCOMPARE(text->extraSelections()[0].cursor.selectedText(), "T");
        QVERIFY(w.find<QLabel>("ticket.choice")->text().contains("T"));
        // One more with Shift, and off again.
        w.clickAt(w.letterPlace(0), Qt::ShiftModifier);
        QCOMPARE(w.session().choice().targets.size(), std::size_t{2});
        w.clickAt(w.letterPlace(0), Qt::ShiftModifier);
        QCOMPARE(w.session().choice().targets.size(), std::size_t{1});
        // Now in the text: the last two characters.
        text->setFocus();
        QTest::keyClick(text, Qt::Key_End, Qt::ControlModifier);
        QTest::keyClick(text, Qt::Key_Left, Qt::ShiftModifier);
        QTest::keyClick(text, Qt::Key_Left, Qt::ShiftModifier);
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{"p1", ids[2]}, {"p1", ids[3]}}));
        // Nothing on the ground.
        w.clickAt(w.groundPlace());
        QVERIFY(w.session().choice().empty());
        QVERIFY(!w.window.ticket()->section("form")->head()->isEnabled());
        w.openSection("form");
        QVERIFY(!w.find<QWidget>("form.depth")->isVisible());  // no fields that speak of nothing
    }

    // Two actions: choose the letter, give the colour.
    void aLetterIsRecolouredAlone()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("material");
        w.actions = 0;
        w.clickAt(w.letterPlace(1));
        w.type("material.colour.hex", "#1F7A4D");
        QCOMPARE(w.actions, 2);
        const work::Piece& p = w.piece();
        QCOMPARE(picture::hexFromRgb(p.materialOf(p.lettering()->letterIds[1]).piece.baseColour), "#1F7A4D");
        QVERIFY(picture::hexFromRgb(p.materialOf(p.lettering()->letterIds[0]).piece.baseColour) != "#1F7A4D");
        QVERIFY(w.settle());
        const QColor seen = *w.picture().colourAt(w.letterPlace(1));
        QVERIFY(seen.green() > seen.red());
    }

    void undoLeadsBackToTheStart()
    {
        Window w;
        QVERIFY(w.settle());
        const work::Work start = w.work();
        w.openSection("form");
        w.type("form.depth.edit", "41");
        w.drag(w.letterPlace(1), w.letterPlace(1) + QPointF(40, 25));
        w.drag(QPointF(6, 200), QPointF(80, 170));  // outside the frame: walks
        w.click("pieces.duplicate");
        w.openSection("light");
        w.type("light.stops.edit", "1.5");
        w.openSection("lettering");
        QTest::keyClicks(w.find<QPlainTextEdit>("lettering.text"), "S");
        QVERIFY(!(w.work() == start));
        const work::Work end = w.work();
        int steps = 0;
        while (w.session().history().canUndo()) {
            QVERIFY(w.trigger("edit.undo"));
            ++steps;
        }
        QVERIFY(w.work() == start);
        QCOMPARE(steps, 6);
        while (w.session().history().canRedo())
            QVERIFY(w.trigger("edit.redo"));
        QVERIFY(w.work() == end);
    }

    // What the window shows once it is settled is what the command renders of the same work, seed and samples: every byte.
    void theLivePictureIsTheFinalOne()
    {
        work::Work work = driver::kites("Gale");
        work.view().walk = -24;
        work.view().rise = 12;
        work.view().perspective = true;
        work.pieces.items.at("p1").material.piece.metallic = 1;
        Window w(work, 12, {900, 560});
        QVERIFY(w.settle());
        QVERIFY(files::saveWork(w.work(), path("live.openglow").toStdString()));
        const QSize size = w.picture().wholeSize();
        const QString errors = runCli({"render", path("live.openglow"), "-o", path("live.png"), "--size",
                                       QString("%1x%2").arg(size.width()).arg(size.height()), "--samples", "12", "--seed", "0", "--denoise",
                                       w.find<QAction>("view.denoise")->isChecked() ? "full" : "off"});
        QVERIFY2(errors.isEmpty(), qPrintable(errors));
        const QImage still = QImage(path("live.png")).convertToFormat(QImage::Format_RGB888), live = w.picture().image();
        QCOMPARE(live.size(), still.size());
        int differ = 0;
        for (int y = 0; y < still.height(); ++y)
            differ += !std::equal(still.constScanLine(y), still.constScanLine(y) + still.width() * 3, live.constScanLine(y));
        QCOMPARE(differ, 0);
    }

    void thePictureIsNeverBlankAndSaysWhenItIsOld()
    {
        Window w;
        QVERIFY(w.settle());
        w.window.queue().setSlowStage(std::chrono::milliseconds(300));
        w.openSection("form");
        w.type("form.depth.edit", "60");
        QVERIFY(!w.window.isSettled());
        QVERIFY(w.find<QLabel>("state")->accessibleName().contains("before"));
        QVERIFY(!w.picture().image().isNull());
        w.window.queue().setSlowStage(std::chrono::milliseconds(0));
        QVERIFY(w.settle());
        QVERIFY2(w.find<QLabel>("state")->accessibleName().contains("samples"), qPrintable(w.find<QLabel>("state")->accessibleName()));
    }

    // Brightness, colour and exposure are mixed at once: every picture after the edit is as clean as the last one.
    void lightIsMixedAtOnce()
    {
        OPEN_GLOW_LONG_TEST
        Window w(driver::kites(), 16);
        QVERIFY(w.settle());
        const QImage before = w.picture().image().copy();
        QSignalSpy frames(&w.window, &app::MainWindow::frameReady);
        w.openSection("light");
        w.type("light.stops.edit", "0.4");
        QVERIFY(w.settle());
        w.openSection("finish");
        w.type("finish.exposure.edit", "-1");
        QVERIFY(w.settle());
        QVERIFY(frames.size() >= 2);
        for (const auto& frame : frames) {
            const auto shown = frame[0].value<session::LiveFrame>();
            QVERIFY(shown.status.samples >= 16);  // in fewer pixels where the machine is busy, but never a draft's coarse light
        }
        QVERIFY(w.picture().image() != before);
        w.openSection("view");
        w.type("view.walk.edit", "10");
        QVERIFY(w.settle());
        QVERIFY(std::any_of(frames.begin(), frames.end(),
                            [](const auto& frame) { return frame[0].template value<session::LiveFrame>().draft; }));
    }

    void holdStopsTheSharpening()
    {
        Window w(driver::kites(), 4000);
        QTRY_VERIFY_WITH_TIMEOUT(w.picture().frame().status.samples > 2, 60000);
        w.click("state.hold");
        QTRY_VERIFY(w.find<QLabel>("state")->accessibleName().contains("held"));
        QTest::qWait(300);
        const double samples = w.picture().frame().status.samples;
        QTest::qWait(400);
        QCOMPARE(w.picture().frame().status.samples, samples);
        w.click("state.hold");
        QTRY_VERIFY_WITH_TIMEOUT(w.picture().frame().status.samples > samples, 60000);
    }

    void badWishesAreRefusedInWords()
    {
        Window w;
        auto* message = w.find<QLabel>("message.text");
        w.openSection("form");
        const double depth = w.piece().slab()->depthPt;
        const std::size_t kept = w.window.finals()->entries().size();
        w.type("form.depth.edit", "twelve");
        QVERIFY2(message->text().contains("twelve"), qPrintable(message->text()));
        QCOMPARE(w.piece().slab()->depthPt, depth);
        w.openSection("export");
        w.type("export.path", "/nowhere/at/all.png");
        w.click("export.render");
        QVERIFY2(message->text().contains("/nowhere/at"), qPrintable(message->text()));
        w.type("export.path", path("still.gif"));
        w.click("export.render");
        QVERIFY2(message->text().contains(".png"), qPrintable(message->text()));
        QCOMPARE(w.window.finals()->entries().size(), kept);
        w.window.files()->open(path("no such work.openglow"));
        QTRY_VERIFY2(message->text().contains("no such work"), qPrintable(message->text()));
        QCOMPARE(w.piece().slab()->depthPt, depth);
        w.click("message.close");
        QVERIFY(!message->isVisible());
    }

    void missingGlyphsAreNoticedAndCanBeMeantSo()
    {
        Window w(driver::kites("K\xF0\x9F\x9A\xA9"));
        QVERIFY(w.settle());
        auto* notice = w.find<QLabel>("notice1");
        QVERIFY(notice->text().contains("U+1F6A9"));
        w.openSection("lettering");
        w.click("notice1.meantSo");
        QCOMPARE(w.work().meantSo.size(), std::size_t{1});
        QVERIFY(!w.window.findChild<QLabel*>("notice1"));
        QVERIFY(w.settle());
        QVERIFY(!w.window.findChild<QLabel*>("notice1"));
    }

    void aWorkIsSavedOpenedAndRemembered()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("form");
        w.type("form.depth.edit", "33");
        QVERIFY(w.window.isWindowModified());
        w.window.files()->saveTo(path("kites.openglow"));
        QTRY_VERIFY(!w.window.isWindowModified());
        QVERIFY(w.window.windowTitle().startsWith("kites"));
        QCOMPARE(w.window.files()->recent().front(), path("kites.openglow"));
        const auto saved = files::openWork(path("kites.openglow").toStdString());
        QVERIFY(saved && *saved == w.work());
        // Dropped on the window it opens.
        w.window.files()->newWork({});
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(path("kites.openglow"))});
        QDragEnterEvent enter(QPoint(400, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&w.window, &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(400, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&w.window, &drop);
        QTRY_COMPARE(w.session().path(), path("kites.openglow").toStdString());
        QCOMPARE(w.piece().slab()->depthPt, 33.0);
        // Named on the command line it opens; without a name the last one does.
        for (const QString& name : {path("kites.openglow"), QString()}) {
            w.window.files()->newWork({});
            w.window.files()->start(name);
            QTRY_COMPARE(w.session().path(), path("kites.openglow").toStdString());
        }
    }

    // Everything by keys alone: open sections, go through fields, choose, move, walk, turn.
    // What was mended at opening, what a newer version made, and that another process has the work, is said in a sentence.
    void whatIsFoundAtOpeningIsSaid()
    {
        Window w;
        const auto opened = [&](const QString& file) {
            w.window.files()->open(file);
            return QTest::qWaitFor(
                [&] { return QFileInfo(QString::fromStdString(w.session().path())).fileName() == QFileInfo(file).fileName(); }, 60000);
        };
        const auto says = [&](const char* what) {
            return QTest::qWaitFor([&] { return w.find<QLabel>("message.text")->text().contains(what); }, 60000);
        };
        work::Work work = driver::kites();
        work.pieces.items.at("p1").form = work::Newer{"sponge", "{}"};
        const QString newer = path("newer.openglow"), mended = path("mended.openglow"), shared = path("shared.openglow");
        QVERIFY(files::saveWork(work, newer.toStdString()));
        QVERIFY(opened(newer) && says("made by a newer version"));
        // A work whose next id would give one again.
        QVERIFY(files::saveWork(driver::kites(), mended.toStdString()));
        support::run("python3", {"-c",
                                 "import json, sys, zipfile\n"
                                 "a = zipfile.ZipFile(sys.argv[1]); work = json.loads(a.read('work.json')); work['nextId'] = 1; a.close()\n"
                                 "z = zipfile.ZipFile(sys.argv[1], 'w'); z.writestr('work.json', json.dumps(work)); z.close()\n",
                                 mended});
        QVERIFY(opened(mended) && says("was mended: nextId was too small"));
        // Another process has it open.
        QVERIFY(files::saveWork(driver::kites(), shared.toStdString()));
        int ready[2];
        QVERIFY(pipe(ready) == 0);
        const pid_t child = fork();
        if (child == 0) {
            const auto lock = session::lockOf(shared.toStdString());
            (void)!write(ready[1], lock ? "x" : "-", 1);
            pause();
            _exit(0);
        }
        char byte = 0;
        QVERIFY(read(ready[0], &byte, 1) == 1 && byte == 'x');
        const bool both = opened(shared) && says("open in another window as well");
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        QVERIFY(both);
    }

    // A picture that memory does not hold is said, and comes when there is room.
    void tooLittleMemoryIsSaid()
    {
        Window w;
        QVERIFY(w.settle());
        w.window.queue().setLiveMemory(1000);
        w.session().edit("view", [](work::Work& work) { work.view().walk = 20; });
        QTRY_VERIFY_WITH_TIMEOUT(w.find<QLabel>("state")->accessibleName().contains("make the window smaller"), 60000);
        w.window.queue().setLiveMemory(0);
        w.session().edit("view", [](work::Work& work) { work.view().walk = 25; });
        QVERIFY(w.settle());
        QVERIFY(!w.find<QLabel>("state")->accessibleName().contains("memory"));
    }

    void theKeyboardReachesEverything()
    {
        Window w;
        QVERIFY(w.settle());
        QTest::keyClick(&w.window, Qt::Key_2, Qt::AltModifier);
        QVERIFY(w.window.ticket()->section("form")->isOpen());
        QCOMPARE(QApplication::focusWidget()->objectName(), "form.kind");
        QTest::keyClick(&w.window, Qt::Key_2, Qt::AltModifier);  // stays open
        QVERIFY(w.window.ticket()->section("form")->isOpen());
        QStringList visited;
        for (int i = 0; i < 15 && QApplication::focusWidget(); ++i) {
            visited << QApplication::focusWidget()->objectName();
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        }
        for (const char* field :
             {"form.starts", "form.depth.edit", "form.width.edit", "form.height.edit", "form.profile", "form.sides", "form.back"})
            QVERIFY2(visited.contains(field), qPrintable(QString(field) + " in " + visited.join(' ')));
        auto* depth = w.find<QLineEdit>("form.depth.edit");
        depth->setFocus();
        const double was = w.piece().slab()->depthPt;
        QTest::keyClick(depth, Qt::Key_Up);
        QVERIFY(w.piece().slab()->depthPt > was);
        QTest::keyClick(&w.window, Qt::Key_F6);
        QVERIFY(w.picture().hasFocus());
        w.key(Qt::Key_Escape);
        QVERIFY(w.session().choice().empty());
        w.key(Qt::Key_Space);
        QCOMPARE(w.session().choice().targets.back(), (session::Target{"p1", ""}));
        const double x = w.piece().placement.x;
        w.key(Qt::Key_Right);
        w.key(Qt::Key_Right, Qt::ShiftModifier);
        QCOMPARE(w.piece().placement.x, x + 11);
        w.key(Qt::Key_PageUp);
        QCOMPARE(w.piece().placement.stance, work::Stance::Free);
        w.key(Qt::Key_PageDown);
        QCOMPARE(w.piece().placement.stance, work::Stance::AgainstWall);
        w.key(Qt::Key_PageUp, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(w.piece().placement.roll, 15.0);
        w.key(Qt::Key_Left, Qt::ControlModifier);
        QCOMPARE(w.work().view().walk, -5.0);
        w.key(Qt::Key_Up, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(w.work().view().aimY != 0);
        w.key(Qt::Key_Plus);
        QVERIFY(w.work().view().frame < 1);
        w.key(Qt::Key_Home);
        QCOMPARE(w.work().view().walk, 0.0);
        w.key(Qt::Key_Backspace);
        QCOMPARE(w.work().view().walk, -5.0);
        w.key(Qt::Key_Return);
        QCOMPARE(w.session().choice().targets.back().letter, w.piece().lettering()->letterIds[0]);
        w.key(Qt::Key_Return, Qt::ShiftModifier);
        QCOMPARE(w.session().choice().targets.size(), std::size_t{2});
        w.key(Qt::Key_Escape);
        QCOMPARE(w.session().choice().targets.back(), (session::Target{"p1", ""}));
        w.key(Qt::Key_Delete);
        QVERIFY(w.work().pieces.order.empty());
    }

    // Where unsaved work cannot be kept, the window says so.
    void unsavedWorkThatCannotBeKeptIsSaid()
    {
        QTemporaryDir folder;
        const QByteArray state = qgetenv("XDG_STATE_HOME");
        qputenv("XDG_STATE_HOME", folder.path().toUtf8());
        {
            Window w;
            QDir(folder.path()).removeRecursively();
            for (int i = 1; i <= 2; ++i) {
                w.session().edit("Depth", [&](work::Work& work) { work.pieces.items.at("p1").slab()->depthPt = 40 + i; });
                w.window.files()->recovery().flush();
            }
            w.session().edit("Depth", [](work::Work& work) { work.pieces.items.at("p1").slab()->depthPt = 50; });
            const QString said = w.find<QLabel>("message.text")->text();
            QVERIFY2(said.contains("unsaved"), qPrintable(said));
        }
        qputenv("XDG_STATE_HOME", state);
    }

    void theFirstStartShowsTheDemo()
    {
        QTemporaryDir folder;
        QSettings().clear();
        Window w;
        w.window.files()->start({});
        QVERIFY(!w.work().pieces.order.empty());
        QVERIFY(w.window.windowTitle().startsWith("Demo"));
        QVERIFY(!w.window.isWindowModified());
        QVERIFY(w.session().path().empty());
    }
};

OPEN_GLOW_WINDOW_TEST(TestWindow)
#include "test_window.moc"
