// Hands and keys in the picture, the marks over it, and the side view.
#include <QImage>
#include <QScrollBar>
#include <QToolButton>

#include <QClipboard>
#include <QContextMenuEvent>
#include <QMenu>

#include "app/driver.h"
#include "app/picture/marks.h"
#include "app/picture/side_view.h"
#include "base/units.h"
#include "session/edits.h"

using app::Lug;
using driver::Window;
using session::Target;

namespace {

// Two blocks beside each other, letters 1 and 2 of piece 1.
app::Ids blocks()
{
    app::Ids ids(60, 40, 1);
    for (int y = 10; y < 30; ++y)
        for (int x = 0; x < 60; ++x)
            *ids.at(x, y) = {static_cast<std::uint16_t>(x >= 10 && x < 50),
                             static_cast<std::uint16_t>(x < 10 || x >= 50 ? 0
                                                        : x < 30          ? 1
                                                                          : 2),
                             1};
    return ids;
}

bool isLetter(const film::PixelId& id, int letter)
{
    return id.letter == letter;
}

}  // namespace

class TestPicture : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // --- marks ----------------------------------------------------------------------------------------------------------------

    void theChoiceLineRunsRoundWhatIsChosenInTwoTones()
    {
        const QImage line = app::choiceLine(
            blocks(), [](const auto& id) { return isLetter(id, 1); }, 1);
        int dark = 0, light = 0;
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 60; ++x) {
                const QColor c = line.pixelColor(x, y);
                if (c.alpha() == 0)
                    continue;
                // Just outside the block (10, 10)-(30, 30), nowhere else.
                const int dx = std::max({10 - x, x - 29, 0}), dy = std::max({10 - y, y - 29, 0});
                QCOMPARE(dx + dy, 1);
                (c.lightness() > 128 ? light : dark) += 1;
            }
        QCOMPARE(dark + light, 4 * 20);
        QVERIFY(dark > 20 && light > 20);
        QCOMPARE(app::chosenBounds(blocks(), [](const auto& id) { return isLetter(id, 2); }), QRect(30, 10, 20, 20));
    }

    void aFrameChoosesWhatItCoversByHalf()
    {
        using Pairs = std::vector<std::pair<int, int>>;
        QCOMPARE(app::lettersWithin(blocks(), QRect(0, 0, 20, 40)), (Pairs{{1, 1}}));
        QCOMPARE(app::lettersWithin(blocks(), QRect(0, 0, 19, 40)), Pairs{});
        QCOMPARE(app::lettersWithin(blocks(), QRect(20, 0, 40, 40)), (Pairs{{1, 1}, {1, 2}}));
    }

    // Bodies that take long are not waited for: the window says that the picture has the last ones, and settles on the new.
    void slowBodiesAreSaid()
    {
        Window w;
        QVERIFY(w.settle());
        w.window.queue().setSlowBodies(std::chrono::milliseconds(600));
        w.session().edit("depth", [](work::Work& work) { work.pieces.items.at("p1").slab()->depthPt += 3; });
        QTRY_VERIFY_WITH_TIMEOUT(w.find<QLabel>("state")->accessibleName().contains("new bodies are being made"), 60000);
        QVERIFY(w.settle());
        QVERIFY(!w.find<QLabel>("state")->accessibleName().contains("bodies"));
    }

    void clippedPixelsAreHatchedAndNoOthers()
    {
        picture::Raster<std::uint8_t> clipped(64, 48, 1);
        for (int y = 8; y < 40; ++y)
            for (int x = 16; x < 48; ++x)
                *clipped.at(x, y) = 1;
        const QImage hatch = app::clippedMarks(clipped);
        int marked = 0;
        for (int y = 0; y < 48; ++y)
            for (int x = 0; x < 64; ++x)
                if (qAlpha(hatch.pixel(x, y)) > 0) {
                    QCOMPARE(int(*clipped.at(x, y)), 1);
                    ++marked;
                }
        QCOMPARE(marked, 32 * 32 / 4);
    }

    // The choice line can be read on any colour: one of its tones has at least 4.5:1 against every grey (WCAG 2.2, 1.4.3).
    void oneToneOfTheLineIsReadableOnAnyGrey()
    {
        const QImage line = app::choiceLine(
            blocks(), [](const auto& id) { return isLetter(id, 1); }, 1);
        std::vector<double> tones;
        const auto luminance = [](QColor c) {
            return 0.2126 * picture::decodeSrgb(c.redF()) + 0.7152 * picture::decodeSrgb(c.greenF()) +
                   0.0722 * picture::decodeSrgb(c.blueF());
        };
        for (int x = 0; x < 60; ++x)
            if (const QColor c = line.pixelColor(x, 9); c.alpha() > 0)
                tones.push_back(luminance(c));
        for (int grey = 0; grey < 256; ++grey) {
            const double l = picture::decodeSrgb(grey / 255.0f);
            double best = 0;
            for (const double t : tones)
                best = std::max(best, (std::max(l, t) + 0.05) / (std::min(l, t) + 0.05));
            QVERIFY(best > 4.2);
        }
    }

    // --- moving and forming ---------------------------------------------------------------------------------------------------

    void aDragMovesThePieceUnderThePointer()
    {
        Window w(driver::kites("KITE", 800, 450));
        QVERIFY(w.settle());
        const double scale = 800 / w.picture().frameRect().width();  // straight view: pt for each px
        const auto before = w.piece().placement;
        w.drag(w.letterPlace(1), w.letterPlace(1) + QPointF(60, -24), Qt::LeftButton, Qt::ControlModifier);
        QVERIFY(std::abs(w.piece().placement.x - before.x - 60 * scale) < 1.5 * scale);
        QVERIFY(std::abs(w.piece().placement.y - before.y - 24 * scale) < 1.5 * scale);
        QCOMPARE(w.session().history().undoLabel(), "Move");
        QVERIFY(w.settle());
        // Back to about the middle its ink holds exactly there; the whole drag is one step.
        w.drag(w.letterPlace(1), w.letterPlace(1) + QPointF(-57, 26));
        QVERIFY(w.settle());
        const base::Box3 box = w.picture().frame().shownWork->bodies.places.front().box;
        QVERIFY(std::abs(box.centre().x) < 1e-6);
        QVERIFY(std::abs(box.centre().y) < 1e-6);
        w.session().undo();
        w.session().undo();
        QCOMPARE(w.piece().placement, before);
        // Called off, nothing has happened.
        QTest::mousePress(&w.picture(), Qt::LeftButton, {}, w.letterPlace(1).toPoint());
        QMouseEvent move(QEvent::MouseMove, w.letterPlace(1) + QPointF(50, 0), QPointF(), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&w.picture(), &move);
        QVERIFY(!(w.piece().placement == before));
        QTest::keyClick(&w.picture(), Qt::Key_Escape);
        QCOMPARE(w.piece().placement, before);
        QVERIFY(!w.session().history().canUndo());
    }

    void aLockedPieceStays()
    {
        work::Work work = driver::kites();
        work.pieces.items.at("p1").locked = true;
        Window w(work);
        QVERIFY(w.settle());
        w.drag(w.letterPlace(1), w.letterPlace(1) + QPointF(60, 0));
        QCOMPARE(w.work().pieces, work.pieces);
        QVERIFY(!w.hasLug(Lug::Kind::Depth));
    }

    void aChosenLetterMovesAloneAndTurns()
    {
        Window w;
        QVERIFY(w.settle());
        w.clickAt(w.letterPlace(0));
        const std::string k = w.piece().lettering()->letterIds[0];
        w.drag(w.letterPlace(0), w.letterPlace(0) + QPointF(0, -30));
        QVERIFY(w.piece().letters.at(k).y > 2);
        QCOMPARE(w.piece().placement.y, 0.0);
        QVERIFY(w.settle());
        w.drag(w.lug(Lug::Kind::Turn), w.lug(Lug::Kind::Turn) + QPointF(-10, -30));
        QVERIFY(w.piece().letters.at(k).roll > 1);
        QCOMPARE(w.piece().placement.roll, 0.0);
    }

    void lugsPullDepthAndBevel()
    {
        work::Work work = driver::kites("KITE", 800, 450);
        work.view().walk = -40;
        Window w(work);
        QVERIFY(w.settle());
        const solid::SlabForm before = *w.piece().slab();
        // Seen from the left, what comes towards the viewer goes to the right.
        const QPointF depth = w.lug(Lug::Kind::Depth);
        w.drag(depth, depth + QPointF(20, 0));
        const double scale = 800 / w.picture().frameRect().width();
        const double expected = before.depthPt + 20 * scale / std::sin(base::radians(40));
        QVERIFY2(std::abs(w.piece().slab()->depthPt - expected) < 0.05 * expected,
                 qPrintable(QString("%1 for %2").arg(w.piece().slab()->depthPt).arg(expected)));
        QVERIFY(w.settle());
        const QPointF bevel = w.lug(Lug::Kind::Bevel);
        w.drag(bevel, bevel + QPointF(0, 6));
        QVERIFY(w.piece().slab()->front.widthPt > before.front.widthPt + 3);
        QCOMPARE(w.piece().slab()->front.heightPt, w.piece().slab()->front.widthPt);
        QCOMPARE(w.session().history().undoLabel(), "Bevel");
        // The lug sits on the real edge: on the border of the letters.
        QVERIFY(w.settle());
        bool letter = false;
        for (int d = -5; d <= 5; ++d)
            for (int e = -5; e <= 5; ++e)
                if (const auto id = w.picture().idAt(w.lug(Lug::Kind::Depth) + QPointF(d, e)))
                    letter = letter || id->piece == 1;
        QVERIFY(letter);
    }

    void theProtractorTurnsAndHoldsEvery15Degrees()
    {
        Window w;
        QVERIFY(w.settle());
        const QPointF middle = w.picture().fromFrame({0.5, 0.5}), corner = w.lug(Lug::Kind::Turn);
        const auto turned = [&](double degrees) {
            const QPointF d = corner - middle;
            const double a = -base::radians(degrees);
            return middle + QPointF(d.x() * std::cos(a) - d.y() * std::sin(a), d.x() * std::sin(a) + d.y() * std::cos(a));
        };
        w.drag(corner, turned(29.2));
        QCOMPARE(w.piece().placement.roll, 30.0);
        w.session().undo();
        QVERIFY(w.settle());
        w.drag(corner, turned(29.2), Qt::LeftButton, Qt::ControlModifier);
        QVERIFY(std::abs(w.piece().placement.roll - 29.2) < 0.6);
    }

    void thePlumbLineTakesAPieceOffTheWall()
    {
        work::Work work = driver::kites("KITE", 800, 450);
        work.view().walk = 35;
        Window w(work);
        QVERIFY(w.settle());
        QPointF plumb = w.lug(Lug::Kind::Plumb);
        w.drag(plumb, plumb + QPointF(-40, 0));
        const work::Placement off = w.piece().placement;
        QCOMPARE(off.stance, work::Stance::Free);
        const double scale = 800 / w.picture().frameRect().width();
        QVERIFY(std::abs(off.z - 40 * scale / std::sin(base::radians(35))) < 0.06 * off.z);
        QVERIFY(w.settle());
        plumb = w.lug(Lug::Kind::Plumb);
        w.drag(plumb, plumb + QPointF(60, 0));
        QCOMPARE(w.piece().placement.stance, work::Stance::AgainstWall);
    }

    void aDragAcrossNothingChoosesLetters()
    {
        Window w;
        QVERIFY(w.settle());
        const QRectF frame = w.picture().frameRect();
        const QPointF from(frame.left() + 8, frame.top() + 8);
        w.drag(from, QPointF((w.letterPlace(1).x() + w.letterPlace(2).x()) / 2, frame.bottom() - 8));
        const auto& ids = w.piece().lettering()->letterIds;
        QCOMPARE(w.session().choice().targets, (std::vector<Target>{{"p1", ids[0]}, {"p1", ids[1]}}));
        w.drag(from, frame.bottomRight() - QPointF(8, 8));
        QCOMPARE(w.session().choice().targets, (std::vector<Target>{{"p1", ""}}));
        QVERIFY(!w.session().history().canUndo());
    }

    // --- view -----------------------------------------------------------------------------------------------------------------

    void theMarginWalksTheMiddleSlidesTheWheelComesCloser()
    {
        Window w;
        QVERIFY(w.settle());
        const auto pieces = w.work().pieces;
        w.drag(QPointF(8, 120), QPointF(108, 90));
        QCOMPARE(w.work().view().walk, -30.0);
        QVERIFY(std::abs(w.work().view().rise + 9.0) < 1e-9);
        w.key(Qt::Key_Home);
        QCOMPARE(w.work().view().walk, 0.0);
        QVERIFY(w.settle());
        const QPointF middle = w.picture().frameRect().center();
        w.drag(middle, middle + QPointF(40, 0), Qt::MiddleButton);
        const double scale = 320 / w.picture().frameRect().width();
        QVERIFY(std::abs(w.work().view().aimX + 40 * scale) < 1e-6);
        QVERIFY(w.settle());
        // What is under the pointer stays there.
        const QPointF margin(8, 120);
        w.wheel(margin, 3);
        QVERIFY(std::abs(w.work().view().frame - 0.729) < 1e-9);
        QVERIFY(w.settle());
        QCOMPARE(w.work().pieces, pieces);
        // Locked it stays, and says so.
        w.session().edit("lock", [](work::Work& now) { now.viewLocked = true; });
        const work::View locked = w.work().view();
        w.drag(QPointF(8, 120), QPointF(108, 90));
        w.wheel(margin, 1);
        w.key(Qt::Key_Home);
        QCOMPARE(w.work().view(), locked);
        QVERIFY(w.find<QLabel>("message.text")->text().contains("locked"));
    }

    // --- lamps ----------------------------------------------------------------------------------------------------------------

    void lampsAreDraggedByFootHeadAndSize()
    {
        Window w;
        QVERIFY(w.settle());
        QVERIFY(!w.hasLug(Lug::Kind::LampFoot));
        w.openSection("light");
        const std::string id = w.work().lights.order.front();
        const auto light = [&] { return w.work().lights.items.at(id); };
        const work::Light before = light();
        // The foot to the right of the middle: the light comes from the right, as high as before.
        const QPointF middle = w.picture().frameRect().center();
        const QPointF foot = w.lug(Lug::Kind::LampFoot, id);
        w.drag(foot, QPointF(2 * middle.x() - foot.x(), foot.y()));
        QVERIFY(std::abs(light().direction + before.direction) < 3);
        QCOMPARE(light().height, before.height);
        const QPointF head = w.lug(Lug::Kind::LampHead, id);
        w.drag(head, head + QPointF(0, -12));
        QVERIFY(light().height > before.height + 2);
        const QPointF size = w.lug(Lug::Kind::LampSize, id);
        w.drag(size, size + QPointF(60, 0));
        QVERIFY(std::abs(light().width / before.width - 2) < 0.1);
        // Towards the middle is nearer.
        const double distance = light().distance;
        const QPointF now = w.lug(Lug::Kind::LampFoot, id);
        w.drag(now, now + (middle - now) * 0.4);
        QVERIFY(light().distance < distance * 0.8);
    }

    // --- what is shown --------------------------------------------------------------------------------------------------------

    void theReadoutSaysTypedAndSeen()
    {
        work::Work work = driver::kites();
        work.pieces.items.at("p1").material.piece.baseColour = *picture::rgbFromHex("#3A6EA5");
        Window w(work);
        QVERIFY(w.settle());
        auto* readout = w.find<QLabel>("state.readout");
        const QPointF place = w.letterPlace(1);
        QTest::mouseMove(&w.picture(), place.toPoint());
        QTRY_VERIFY2(readout->text().contains("#3A6EA5"), qPrintable(readout->text()));
        QVERIFY(readout->text().contains(w.picture().colourAt(place.toPoint())->name().toUpper()));
        QTest::mouseMove(&w.picture(), w.groundPlace().toPoint());
        QTRY_VERIFY(readout->text().contains(QString::fromStdString(picture::hexFromRgb(work.ground.wall.baseColour))));
        // And why they differ.
        w.session().edit("gold", [](work::Work& to) { to.pieces.items.at("p1").material.piece.metallic = 1; });
        QVERIFY(w.settle());
        QTest::mouseMove(&w.picture(), place.toPoint());
        QTRY_VERIFY2(readout->text().endsWith(": mirrors what is around it"), qPrintable(readout->text()));
    }

    void aColourIsPickedFromThePicture()
    {
        Window w;
        QVERIFY(w.settle());
        w.openSection("material");
        w.click("material.colour.chip");
        auto* pick = w.window.findChild<QAbstractButton*>("material.colour.pick");
        QVERIFY(pick);
        pick->click();
        const QPointF place = w.groundPlace();
        const QString seen = w.picture().colourAt(place.toPoint())->name().toUpper();
        w.clickAt(place);
        QCOMPARE(QString::fromStdString(picture::hexFromRgb(w.piece().material.piece.baseColour)), seen);
        QVERIFY(!w.session().choice().empty());  // the click chose nothing
    }

    void onlyAPartIsRendered()
    {
        Window w;
        QVERIFY(w.settle());
        w.click("state.part");
        const QRectF frame = w.picture().frameRect();
        w.drag(frame.topLeft() + QPointF(100, 60), frame.topLeft() + QPointF(260, 180));
        QVERIFY(w.settle());
        const auto& shown = w.picture().frame();
        const double ratio = w.picture().devicePixelRatioF();
        QVERIFY(std::abs(shown.place.x1 - shown.place.x0 - 160 * ratio) <= 3);
        QVERIFY(std::abs(shown.place.y1 - shown.place.y0 - 120 * ratio) <= 3);
        QVERIFY(w.find<QToolButton>("state.part")->isChecked());
        QVERIFY(w.find<QLabel>("state")->text().startsWith("Part only"));
        // Called off before a frame was drawn, nothing is a part.
        w.click("state.part");
        w.click("state.part");
        w.key(Qt::Key_Escape);
        QVERIFY(!w.find<QToolButton>("state.part")->isChecked());
        // By key: what is chosen.
        QVERIFY(!w.picture().hasPart());
        w.key(Qt::Key_Space);
        QVERIFY(w.settle());
        w.clickAt(w.letterPlace(0));
        QVERIFY(w.trigger("view.part"));
        QVERIFY(w.settle());
        QVERIFY(w.picture().hasPart());
        QVERIFY(w.picture().frame().place.x1 - w.picture().frame().place.x0 < w.picture().frame().widthPx);
        QVERIFY(w.picture().hasPart());
        // Another work is seen whole.
        w.window.files()->newWork({320, 180, work::Unit::Px, 72});
        QVERIFY(!w.picture().hasPart() && !w.find<QToolButton>("state.part")->isChecked());
    }

    void oneToOneShowsThePixelsOfTheStill()
    {
        OPEN_GLOW_LONG_TEST
        Window w(driver::kites("KITE", 2400, 1350), 2);
        QVERIFY(w.settle());
        w.click("state.actualSize");
        QVERIFY(w.settle());
        QCOMPARE(w.picture().frame().widthPx, 2400);
        const auto place = w.picture().frame().place;
        const double ratio = w.picture().devicePixelRatioF();
        QVERIFY(place.x1 - place.x0 <= w.picture().width() * ratio + 2);
        // Only what is seen is rendered; scrolled, the rest.
        auto* across = w.find<QScrollBar>("picture.across");
        across->setValue(across->maximum());
        QVERIFY(w.settle());
        QCOMPARE(w.picture().frame().place.x1, 2400);
        w.click("state.actualSize");
        QVERIFY(w.settle());
        QVERIFY(w.picture().frame().widthPx < 2400);
    }

    // The wheel over the frame zooms the picture about the pointer; drags slide it; nothing of it is in the work.
    void thePictureIsZoomedAndSlid()
    {
        Window w(driver::kites("KITE", 1600, 900), 2);
        QVERIFY(w.settle());
        const work::Work before = w.work();
        const double fitted = w.picture().zoom();
        const QPointF letter = w.letterPlace(3);
        w.wheel(letter, 8);
        QVERIFY(w.picture().zoom() > 3 * fitted);  // it holds at 100 % on the way
        QVERIFY(w.settle());
        QCOMPARE(int(w.picture().idAt(letter)->letter), 4);
        // Only what is seen is rendered, at that size.
        const auto frame = w.picture().frame();
        QCOMPARE(frame.widthPx, w.picture().wholeSize().width());
        QVERIFY(frame.place.x1 - frame.place.x0 < frame.widthPx);
        const QRectF seen = w.picture().seenPart();
        const QPointF middle = w.picture().rect().center();
        w.drag(middle, middle + QPointF(60, 0), Qt::MiddleButton);
        QVERIFY(w.picture().seenPart().x() < seen.x());
        w.picture().setFocus();
        QTest::keyPress(&w.picture(), Qt::Key_Space);
        w.drag(middle, middle - QPointF(60, 0));
        QTest::keyRelease(&w.picture(), Qt::Key_Space);
        QVERIFY(std::abs(w.picture().seenPart().x() - seen.x()) < 0.01);
        QVERIFY(w.trigger("view.fit"));
        QVERIFY(w.picture().isFitted());
        for (int i = 0; i < 60; ++i)
            w.wheel(middle, 1);
        QVERIFY(w.picture().zoom() <= 16);
        for (int i = 0; i < 60; ++i)
            w.wheel(middle, -1);
        QVERIFY(w.picture().zoom() >= 0.1 - 1e-3);
        QVERIFY(w.trigger("view.actualSize"));
        QCOMPARE(w.picture().zoom(), 1.0);
        QCOMPARE(w.work(), before);
        QVERIFY(!w.session().history().canUndo());
    }

    // What lies round a zoomed part is rendered when it is clean: the paper slides without anything being made anew, and finishing it in
    // another way neither.
    void whatLiesAroundIsRendered()
    {
        Window w(driver::kites("KITE", 1600, 900), 2);
        QVERIFY(w.settle());
        const QPointF middle = w.picture().rect().center();
        w.wheel(middle, 8);
        QVERIFY(w.settle());
        const auto widthOf = [&] { return w.picture().frame().place.x1 - w.picture().frame().place.x0; };
        const int seen = widthOf();
        QTRY_VERIFY_WITH_TIMEOUT(widthOf() > seen * 3 / 2, 60000);
        QVERIFY(w.window.isSettled());
        const auto around = w.picture().frame();
        w.drag(middle, middle + QPointF(60, 30), Qt::MiddleButton);
        QVERIFY(w.window.isSettled());
        QCOMPARE(w.picture().frame().picture, around.picture);
        w.session().edit("exposure", [](work::Work& work) { work.finish.exposure = 1; });
        QVERIFY(w.settle());
        QCOMPARE(widthOf(), around.place.x1 - around.place.x0);
        QVERIFY(w.picture().frame().picture != around.picture);
        // Another light is made of what is seen first.
        w.session().edit("light", [](work::Work& work) { work.surroundings.on = !work.surroundings.on; });
        QVERIFY(w.settle());
        QCOMPARE(widthOf(), seen);
    }

    // Ctrl goes one deeper; a right click lists what lies there, front to back, and what can be done.
    void whatIsBehindIsReached()
    {
        work::Work work = driver::kites("I");
        work.pieces.items.at("p1").placement.stance = work::Stance::Free;
        work::Piece back = work.pieces.items.at("p1");
        back.placement.z = -60;
        work.pieces.add("p9", back);
        Window w(work);
        QVERIFY(w.settle());
        w.session().choose({});
        const QPointF place = w.letterPlace(0);
        w.clickAt(place, Qt::ControlModifier);
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{"p1", ""}}));
        w.clickAt(place, Qt::ControlModifier);
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{"p9", ""}}));
        w.clickAt(place, Qt::ControlModifier);
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{"p1", ""}}));
        QContextMenuEvent event(QContextMenuEvent::Mouse, place.toPoint(), w.picture().mapToGlobal(place.toPoint()));
        QApplication::sendEvent(&w.picture(), &event);
        auto* menu = w.find<QMenu>("picture.menu");
        QStringList lines;
        for (const QAction* action : menu->actions())
            lines << action->objectName();
        QVERIFY(lines.contains("under.4") && lines.contains("piece.duplicate") && lines.contains("edit.copyPicture"));
        menu->findChild<QAction*>("under.3")->trigger();
        QCOMPARE(w.session().choice().targets.back().piece, "p9");
        menu->close();
    }

    // Pieces go by the clipboard from window to window; a text becomes lettering.
    void piecesArePastedInAnotherWindow()
    {
        {
            Window w(driver::kites("DUNES"));
            QVERIFY(w.trigger("edit.chooseAll"));
            QVERIFY(w.trigger("edit.copy"));
            QCOMPARE(QApplication::clipboard()->text(), "DUNES");
            QVERIFY(w.trigger("edit.cut"));
            QVERIFY(w.work().pieces.order.empty());
            w.session().undo();
        }
        Window w;
        QVERIFY(w.trigger("edit.paste"));
        QCOMPARE(w.work().pieces.order.size(), std::size_t{2});
        QCOMPARE(w.piece().lettering()->text, "DUNES");
        QCOMPARE(w.session().history().undoLabel(), "Paste");
        QApplication::clipboard()->setText("MAY");
        QVERIFY(w.trigger("edit.paste"));
        QCOMPARE(w.piece().lettering()->text, "MAY");
        QVERIFY(w.settle());
        QVERIFY(w.trigger("edit.copyPicture"));
        QCOMPARE(QApplication::clipboard()->image().size(), w.picture().image().size());
    }

    // A lamp's menu: copied here, another becomes like it. A second window stands beside the first, with its own work.
    void lampsAreMadeAlikeAndWindowsStandBeside()
    {
        work::Work work = driver::kites();
        const std::string second = session::addLight(work, light::LightKind::Bulb);
        work.lights.items.at(second).stops = 1.5;
        Window w(work, 1);
        QVERIFY(w.settle());
        w.openSection("light");
        const auto menuOf = [&](const std::string& id) {
            const QPointF place = w.lug(app::Lug::Kind::LampFoot, id);
            QContextMenuEvent event(QContextMenuEvent::Mouse, place.toPoint(), w.picture().mapToGlobal(place.toPoint()));
            QApplication::sendEvent(&w.picture(), &event);
            return w.find<QMenu>("picture.menu");
        };
        const auto take = [&](QMenu* menu, const char* id) {
            QAction* action = menu->findChild<QAction*>(id);
            const bool usable = action && action->isEnabled();
            if (usable)
                action->trigger();
            menu->close();
            QTest::qWait(20);
            return usable;
        };
        QApplication::clipboard()->clear();
        QVERIFY(!take(menuOf(second), "lamp.pasteLight"));
        QVERIFY(take(menuOf(second), "lamp.copy"));
        const std::string first = w.work().lights.order.front();
        QVERIFY(take(menuOf(first), "lamp.pasteLight"));
        QCOMPARE(w.work().lights.items.at(first).stops, 1.5);
        QVERIFY(w.work().lights.items.at(first).kind == light::LightKind::Bulb);
        const auto windows = [] {
            std::vector<app::MainWindow*> all;
            for (QWidget* one : QApplication::topLevelWidgets())
                if (auto* window = qobject_cast<app::MainWindow*>(one))
                    all.push_back(window);
            return all;
        };
        QCOMPARE(windows().size(), std::size_t{1});
        QVERIFY(w.trigger("file.window"));
        QCOMPARE(windows().size(), std::size_t{2});
        app::MainWindow* other = windows()[0] == &w.window ? windows()[1] : windows()[0];
        QVERIFY(other->session().work().pieces.order.empty() && !w.work().pieces.order.empty());
        other->close();
        QTRY_COMPARE(windows().size(), std::size_t{1});
    }

    // What stands hidden behind another piece is chosen by its line.
    void hiddenThingsAreChosenByTheirLines()
    {
        work::Work work = driver::kites("H");
        work.pieces.items.at("p1").placement.stance = work::Stance::Free;
        work.pieces.items["p9"] = work.pieces.items.at("p1");
        work::setText(work.pieces.items.at("p9"), "I");
        work.pieces.items.at("p9").placement.z = -300;
        work.pieces.order.push_back("p9");
        Window w(work, 1);
        QVERIFY(w.settle());
        QVERIFY(w.picture().frame().shownWork->lines.empty());
        const QImage before = w.picture().grab().toImage();
        QVERIFY(w.trigger("view.lines"));
        QTRY_VERIFY(!w.picture().frame().shownWork->lines.empty());
        QVERIFY(w.picture().grab().toImage() != before);
        QPointF place;
        for (const session::BodyLines& body : w.picture().frame().shownWork->lines)
            if (body.target.piece == "p9")
                for (const auto& [a, b] : body.lines)
                    if (const QPointF middle = (w.picture().fromFrame(a) + w.picture().fromFrame(b)) / 2;
                        w.picture().lineAt(middle)->piece == "p9")
                        place = middle;
        QVERIFY(!place.isNull());
        w.clickAt(place);
        QCOMPARE(w.session().choice().targets.back().piece, "p9");
        QVERIFY(w.settle());
        QVERIFY(w.trigger("view.lines"));
        QVERIFY(w.settle());
        QVERIFY(w.picture().frame().shownWork->lines.empty());
    }

    void clippedPixelsAreMarked()
    {
        work::Work work = driver::kites();
        work.lights.items.begin()->second.stops = 4;
        Window w(work);
        QVERIFY(w.settle());
        QVERIFY(!w.picture().frame().clipped);
        w.click("state.clipped");
        QVERIFY(w.settle());
        const auto& clipped = w.picture().frame().clipped;
        QVERIFY(clipped);
        const auto count = std::count(clipped->values.begin(), clipped->values.end(), 1);
        QVERIFY(count > 1000);
        w.session().edit("dark", [](work::Work& now) { now.finish.exposure = -8; });
        QVERIFY(w.settle());
        QCOMPARE(std::count(w.picture().frame().clipped->values.begin(), w.picture().frame().clipped->values.end(), 1), 0);
    }

    // --- side view ------------------------------------------------------------------------------------------------------------

    void theSideViewDragsInDepth()
    {
        work::Work work = driver::kites("KITE", 800, 450);
        Window w(work);
        QVERIFY(w.settle());
        QVERIFY(!w.find<QWidget>("drawer")->isVisible());
        w.click("state.drawer");
        auto* side = w.find<app::SideView>("drawer.side");
        QVERIFY(side->isVisible());
        QVERIFY(w.settle());
        const double depth = w.piece().slab()->depthPt;
        const QPointF inside = side->fromSide({0, 0, depth / 2});
        const double perPt = (side->fromSide({0, 0, 1}) - side->fromSide({0, 0, 0})).x();
        driver::dragIn(side, inside, inside + QPointF(50, 0), Qt::LeftButton, Qt::ControlModifier);
        QCOMPARE(w.piece().placement.stance, work::Stance::Free);
        QVERIFY(std::abs(w.piece().placement.z - 50 / perPt) < 2 / perPt);
        QVERIFY(w.settle());
        // Back near the wall it stands against it again.
        const QPointF now = side->fromSide({0, 0, w.piece().placement.z + depth / 2});
        driver::dragIn(side, now, now + QPointF(-47, 0));
        QCOMPARE(w.piece().placement.stance, work::Stance::AgainstWall);
        QVERIFY(w.settle());
        side->setFocus();
        QTest::keyClick(side, Qt::Key_Right);
        QCOMPARE(w.piece().placement.z, 1.0);
    }
};

OPEN_GLOW_WINDOW_TEST(TestPicture)
#include "test_picture.moc"
