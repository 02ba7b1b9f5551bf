// How the window looks: lists that open, both looks, sizes of window and text, and what does not move.
#include <QAbstractItemView>
#include <QComboBox>
#include <QDBusVariant>
#include <QListWidget>
#include <QMimeData>
#include <QScrollArea>
#include <QScrollBar>
#include <QSettings>

#include "app/desktop.h"
#include "app/driver.h"
#include "app/motion.h"
#include "app/ticket/head.h"
#include "app/window/start_page.h"
#include "session/edits.h"

using driver::contrastIn;
using driver::Window;

namespace {

const char* const kSections[] = {"lettering", "form", "material", "sheet", "ground", "view", "light", "finish", "export"};

// Sanitizers are slow: they look for other faults, and need no size twice.
#ifdef OPEN_GLOW_CHECKED
const std::vector<int> kPercents{150};
const std::vector<QSize> kSizes{{1024, 640}};
#else
const std::vector<int> kPercents{100, 150, 200};
const std::vector<QSize> kSizes{{1024, 640}, {1280, 800}, {2560, 1440}};
#endif

work::Work full()
{
    work::Work work = driver::kites("Galepoint Kite Fair\non the dunes", 1920, 1080);
    work.ground.kind = render::GroundKind::Sweep;
    work.view().perspective = true;
    session::addLight(work, light::LightKind::Spot);
    return work;
}

// Every section open, with all its groups.
void openAll(Window& w, const char* id)
{
    w.window.ticket()->section(id)->setOpen(true);
    for (auto* group : w.window.ticket()->section(id)->rows()->findChildren<app::GroupHead*>())
        if (group->isVisible() && !group->isChecked())
            group->click();
    QTest::qWait(20);
}

}  // namespace

class TestLook : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void cleanup()
    {
        QSettings().clear();
        app::applyStyle(*qApp, app::Variant::Light);
    }

    // Every list that opens, in both looks and at three text sizes: all rows are there as far as it shows that many, whole, and each can be
    // read, the current one too (4.5:1, WCAG 2.2, 1.4.3).
    void everyListCanBeRead()
    {
        OPEN_GLOW_LONG_TEST
        int lists = 0;
        for (const char* look : {"light", "dark"})
            for (const int percent : kPercents) {
                QSettings().setValue("appearance", look);
                QSettings().setValue("textPercent", percent);
                Window w(full(), 1, {1280, 800});
                QCOMPARE(app::currentLook().textPercent, percent);
                for (const char* id : kSections) {
                    openAll(w, id);
                    for (auto* field : w.window.findChildren<QComboBox*>()) {
                        if (!field->isVisible() || field->count() == 0)
                            continue;
                        field->showPopup();
                        QTest::qWait(10);
                        QAbstractItemView* view = field->view();
                        const QImage image = view->viewport()->grab().toImage();
                        const double ratio = image.devicePixelRatio();
                        const QString where = QString("%1 %2 %3").arg(field->objectName(), look).arg(percent);
                        for (int i = 0; i < std::min(field->count(), field->maxVisibleItems()); ++i) {
                            const QModelIndex row = field->model()->index(i, 0);
                            const QRect box = view->visualRect(row);
                            const bool scrolls = view->verticalScrollBar()->isVisible();
                            if (scrolls && !view->viewport()->rect().contains(box))
                                continue;  // more than the screen has room for
                            QVERIFY2(view->viewport()->rect().contains(box), qPrintable(where + " cuts " + field->itemText(i)));
                            QVERIFY2(box.height() >= view->fontMetrics().height(), qPrintable(where));
                            QVERIFY2(box.width() >= view->fontMetrics().horizontalAdvance(field->itemText(i)), qPrintable(where));
                            const QRect pixels(qRound(box.x() * ratio), qRound(box.y() * ratio), qRound(box.width() * ratio) - 1,
                                               qRound(box.height() * ratio) - 1);
                            QVERIFY2(contrastIn(image, pixels & image.rect()) >= 4.5, qPrintable(where + " hides " + field->itemText(i)));
                        }
                        field->hidePopup();
                        ++lists;
                    }
                }
            }
        QVERIFY2(lists > 30 * static_cast<int>(kPercents.size()), qPrintable(QString::number(lists)));
    }

    // The same of the panels that fields open: on the screen, nothing cut off, every word read.
    void everyPanelCanBeRead()
    {
        OPEN_GLOW_LONG_TEST
        const auto unread = [](QWidget* panel) {
            QStringList found = driver::cutOff(panel);
            if (!panel->screen()->availableGeometry().contains(panel->geometry()))
                found << "it leaves the screen";
            const QImage image = panel->grab().toImage();
            const auto read = [&](QWidget* field, const QString& words, const QRect& place) {
                const double ratio = image.devicePixelRatio();
                const QPoint at = field->mapTo(panel, place.topLeft());
                const QRect pixels((QPointF(at) * ratio).toPoint(), (QSizeF(place.size()) * ratio).toSize());
                if (contrastIn(image, pixels & image.rect()) < 4.5)
                    found << words + " cannot be read";
            };
            for (auto* label : panel->findChildren<QLabel*>())
                if (label->isVisible() && !label->text().isEmpty())
                    read(label, label->text(), label->rect());
            for (auto* button : panel->findChildren<QAbstractButton*>())
                if (button->isVisible() && !button->text().isEmpty())
                    read(button, button->text(), button->rect().adjusted(3, 3, -3, -3));
            for (auto* list : panel->findChildren<QAbstractItemView*>())
                for (int i = 0; i < list->model()->rowCount(); ++i) {
                    const QRect row = list->visualRect(list->model()->index(i, 0));
                    const int line = list->fontMetrics().height();  // its name, under the sample
                    if (list->viewport()->rect().contains(row))
                        read(list->viewport(), list->model()->index(i, 0).data().toString(), row.adjusted(2, row.height() - line, -2, -2));
                }
            return found;
        };
        for (const char* look : {"light", "dark"})
            for (const int percent : kPercents)
                for (const QSize size : kSizes) {
                    QSettings().setValue("appearance", look);
                    QSettings().setValue("textPercent", percent);
                    Window w(full(), 1, size);
                    const QString where = QString("%1 at %2 %, %3 wide: ").arg(look).arg(percent).arg(size.width());
                    for (const auto& [section, button, name] : {std::tuple("material", "material.colour.chip", "material.colour.panel"),
                                                                std::tuple("lettering", "lettering.face.button", "lettering.face.panel")}) {
                        w.openSection(section);
                        w.click(button);
                        auto* panel = w.find<QWidget>(name);
                        QTRY_VERIFY(panel->isVisible());
                        const QStringList found = unread(panel);
                        QVERIFY2(found.isEmpty(), qPrintable(where + found.join(", ")));
                        panel->hide();
                    }
                }
    }

    void nothingIsCutOffAtAnySize()
    {
        for (const int percent : kPercents) {
            QSettings().setValue("textPercent", percent);
            for (const QSize size : kSizes) {
                Window w(full(), 1, size);
                QVERIFY2(w.window.minimumSizeHint().width() <= 1024 && w.window.minimumSizeHint().height() <= 640,
                         qPrintable(QString("%1 %: %2 x %3")
                                        .arg(percent)
                                        .arg(w.window.minimumSizeHint().width())
                                        .arg(w.window.minimumSizeHint().height())));
                for (const char* id : kSections) {
                    openAll(w, id);
                    const QStringList found = driver::cutOff(&w.window);
                    QVERIFY2(found.isEmpty(),
                             qPrintable(QString("%1 at %2 %, %3 wide: %4").arg(id).arg(percent).arg(size.width()).arg(found.join(", "))));
                }
                w.trigger("view.book");
                QTest::qWait(20);
                const QStringList found = driver::cutOff(w.find<QWidget>("book"));
                QVERIFY2(found.isEmpty() && w.window.minimumSizeHint().width() <= size.width() && w.window.width() == size.width(),
                         qPrintable(QString("the book at %1 %, %2 wide: %3, %4")
                                        .arg(percent)
                                        .arg(size.width())
                                        .arg(w.window.minimumSizeHint().width())
                                        .arg(found.join(", "))));
            }
        }
    }

    // The start page keeps within the window, with works that were open last too; what has no room is scrolled to.
    void theStartPageFits()
    {
        QStringList recent;
        for (int i = 0; i < 5; ++i)
            recent << "/usr/share/fonts/truetype/dejavu/../dejavu" + QString("/").repeated(i + 1) + "DejaVuSans.ttf";
        for (const int percent : kPercents)
            for (const QSize size : kSizes) {
                QSettings().setValue("textPercent", percent);
                QSettings().setValue("recent", recent);
                Window w(full(), 1, size);
                w.window.files()->newWork({});
                auto* page = w.find<app::StartPage>("start");
                QTRY_VERIFY(page->isVisible());
                QTest::qWait(50);
                const QRect room = w.picture().rect();
                const QString where = QString("%1 %, %2 wide").arg(percent).arg(size.width());
                QVERIFY2(room.contains(QRect(page->mapTo(&w.window, QPoint()) - w.picture().mapTo(&w.window, QPoint()), page->size())),
                         qPrintable(where));
                QCOMPARE(w.window.size(), size);
                QVERIFY(w.window.findChild<QWidget*>("start.recent1"));
                QVERIFY(w.find<QLineEdit>("start.word")->hasFocus());
                const QStringList found = driver::cutOff(page);
                QVERIFY2(found.isEmpty(), qPrintable(where + ": " + found.join(", ")));
            }
    }

    // A larger text under an open window: all of it makes room.
    void textGrowsAtOnce()
    {
        Window w(full(), 1, {1280, 800});
        for (const char* size : {"view.text200", "view.text100", "view.text150"}) {
            QVERIFY(w.trigger(size));
            for (const char* id : kSections) {
                openAll(w, id);
                const QStringList found = driver::cutOff(&w.window);
                QVERIFY2(found.isEmpty(), qPrintable(QString("%1, %2: %3").arg(size, id, found.join(", "))));
            }
        }
    }

    // The look changes under the open window: by the menu, by the desktop, as far as it is left to it.
    void looksChangeAtOnce()
    {
        Window w(full(), 1);
        const auto ground = [&] { return w.window.ticket()->grab().toImage().pixelColor(100, 5); };
        const QColor light = ground();
        QVERIFY(w.trigger("view.appearance.dark"));
        QVERIFY(ground().lightness() < 80 && light.lightness() > 200);
        QVERIFY(w.trigger("view.appearance.desktop"));
        QCOMPARE(ground(), light);
        // XDG Desktop Portal, org.freedesktop.appearance: 1 asks for dark, 2 for light.
        w.window.desktop()->settingChanged("org.freedesktop.appearance", "color-scheme", QDBusVariant(1u));
        QVERIFY(ground().lightness() < 80);
        w.window.desktop()->settingChanged("org.freedesktop.appearance", "color-scheme", QDBusVariant(2u));
        QCOMPARE(ground(), light);
        w.window.desktop()->settingChanged("org.gnome.desktop.interface", "enable-animations", QDBusVariant(false));
        QVERIFY(!app::currentLook().motion);
    }

    // What is under the pointer stays there when a section opens, whatever closes; it closes when the pointer has left.
    void openingMovesNothingUnderThePointer()
    {
        Window w(full(), 1, {1280, 700});
        w.openSection("lettering");
        app::SectionHead* head = w.window.ticket()->section("ground")->head();
        w.find<QScrollArea>("ticket.scroll")->ensureWidgetVisible(head);
        QPoint before;
        QTRY_VERIFY_WITH_TIMEOUT(
            [&] {
                const QPoint was = std::exchange(before, head->mapToGlobal(QPoint(0, 0)));
                QTest::qWait(50);
                return was == before && w.window.isSettled();
            }(),
            60000);
        QTest::mouseClick(head, Qt::LeftButton, {}, QPoint(200, head->height() - 6));  // on its summary
        QTest::qWait(50);
        QVERIFY(w.window.ticket()->section("ground")->isOpen());
        QCOMPARE(head->mapToGlobal(QPoint(0, 0)), before);
        QEvent leave(QEvent::Leave);
        QApplication::sendEvent(w.window.ticket(), &leave);
        QVERIFY(!w.window.ticket()->section("lettering")->isOpen());
        QVERIFY(w.window.ticket()->section("ground")->isOpen());
    }

    // Gentle movements take under 120 ms, and there are none where they are not wished for.
    void movementsAreShortAndCanBeOff()
    {
        Window w(full(), 1);
        auto* section = w.window.ticket()->section("view");
        section->setOpen(true);
        QVERIFY(!section->rows()->graphicsEffect());
        section->setOpen(false);
        w.find<QAction>("view.motion")->setChecked(true);
        QVERIFY(app::currentLook().motion);
        section->setOpen(true);
        QVERIFY(section->rows()->graphicsEffect());
        QVERIFY(app::kMotionMs < 120);
        QTRY_VERIFY(!section->rows()->graphicsEffect());
        w.window.desktop()->settingChanged("org.gnome.desktop.interface", "enable-animations", QDBusVariant(false));
        w.window.ticket()->section("sheet")->setOpen(true);
        QVERIFY(!w.window.ticket()->section("sheet")->rows()->graphicsEffect());
    }

    // A strip of drawings; one of them unfolds it again.
    void theTicketFolds()
    {
        Window w(full(), 1);
        const int wide = w.window.ticket()->width();
        QVERIFY(w.trigger("view.ticket"));
        QTRY_VERIFY(w.window.ticket()->width() < wide / 3);
        QVERIFY(!w.find<QListWidget>("pieces")->isVisible());
        w.click("section.view.head");
        QTRY_COMPARE(w.window.ticket()->width(), wide);
        QVERIFY(w.window.ticket()->section("view")->isOpen());
    }

    // The heads draw what is set: another colour, depth, view or light is another drawing.
    void headsDrawWhatIsSet()
    {
        Window w(full(), 1);
        const auto drawing = [&](const char* id) { return w.window.ticket()->section(id)->head()->grab(QRect(12, 4, 46, 36)).toImage(); };
        const auto changes = [&](const char* id, const std::function<void(work::Work&)>& change) {
            const QImage before = drawing(id);
            w.session().edit("change", change);
            const bool differs = drawing(id) != before;
            w.session().undo();
            return differs && drawing(id) == before;
        };
        QVERIFY(changes("lettering", [](work::Work& now) { work::setText(now.pieces.items.at("p1"), "Wind"); }));
        QVERIFY(changes("form", [](work::Work& now) { now.pieces.items.at("p1").slab()->depthPt *= 3; }));
        QVERIFY(changes("form", [](work::Work& now) { now.pieces.items.at("p1").slab()->front = {}; }));
        QVERIFY(changes("material", [](work::Work& now) { now.pieces.items.at("p1").material.parts["side"].baseColour = {0, 0, 1}; }));
        QVERIFY(changes("sheet", [](work::Work& now) { now.sheet().width = 500; }));
        QVERIFY(changes("ground", [](work::Work& now) { now.ground.wall.baseColour = {1, 0, 0}; }));
        QVERIFY(changes("view", [](work::Work& now) { now.view().walk = 40; }));
        QVERIFY(changes("light", [](work::Work& now) { now.lights.items.begin()->second.direction += 90; }));
        QVERIFY(changes("finish", [](work::Work& now) { now.finish.exposure = 1.5; }));
        QVERIFY(changes("export", [](work::Work& now) { now.output().format = work::FileFormat::Exr; }));
    }

    // A piece of a work with twelve hundred letters is dragged: the window thread beats on.
    void longTextsAreDragged()
    {
        QString words;
        while (words.size() < 1200)
            words += "the kites of galepoint fly over the dunes\n";
        work::Work work = driver::kites("K");
        work::setText(work.pieces.items.at("p1"), words.left(1200).toStdString());
        work::scaleTo(work.pieces.items.at("p1"), 12);
        Window w(work, 1);
        QTRY_VERIFY_WITH_TIMEOUT(w.picture().frame().ids && w.window.isSettled(), 60000);
        const QPointF from = w.letterPlace(601);
        QVERIFY(from.x() >= 0);
        const auto placed = w.piece().placement;
        driver::Heart heart;
        QTest::mousePress(&w.picture(), Qt::LeftButton, {}, from.toPoint());
        for (int i = 1; i <= 40; ++i) {
            const QPointF at = from + QPointF(2 * i, i);
            QMouseEvent move(QEvent::MouseMove, at, w.picture().mapToGlobal(at), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(&w.picture(), &move);
            QTest::qWait(8);
        }
        QTest::mouseRelease(&w.picture(), Qt::LeftButton, {}, (from + QPointF(80, 40)).toPoint());
        const qint64 wait = heart.stop();
        QVERIFY(!(w.piece().placement == placed));
        qInfo("dragging: the window waits %lld ms, at worst %lld", static_cast<long long>(wait), static_cast<long long>(heart.worst()));
        QVERIFY2(wait < driver::kMostWait, qPrintable(QString::number(wait)));
    }

    void droppedFilesAreToldWhatTheyAre()
    {
        Window w(full(), 1);
        const auto drop = [&](const QString& path) {
            QMimeData data;
            data.setUrls({QUrl::fromLocalFile(path)});
            QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(&w.window, &enter);
            QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(&w.window, &event);
            QTest::qWait(50);
            return w.find<QLabel>("message.text")->text();
        };
        QFile picture(driver::path("bird.gif"));
        QVERIFY(picture.open(QIODevice::WriteOnly) && picture.write("GIF89a") == 6);
        picture.close();
        const QString said = drop(picture.fileName());
        QVERIFY2(said.contains("bird.gif") && said.contains("GIF") && said.contains(".openglow"), qPrintable(said));
        QVERIFY(drop(driver::home()).contains("folder"));
        const std::string face = w.piece().lettering()->font.family;
        w.window.session().choose({{{"p1", {}}}});
        drop("/usr/share/fonts/truetype/dejavu/DejaVuSans-Bold.ttf");
        QCOMPARE(w.piece().lettering()->font.family, "DejaVu Sans");
        QVERIFY(face != w.piece().lettering()->font.family);
    }

    // Twelve hundred letters typed: the window answers each key stroke. The mean goes to the log; what is held leaves room for a busy
    // machine.
    void longTextsAreTyped()
    {
        Window w(driver::kites("K"), 1);
        w.trigger("edit.chooseAll");
        w.openSection("lettering");
        auto* text = w.find<QPlainTextEdit>("lettering.text");
        text->setFocus();
        text->moveCursor(QTextCursor::End);
        const QString words = "the kites of galepoint fly over the dunes in may\n";
        qint64 worst = 0;
        QElapsedTimer all;
        all.start();
        for (int i = 0; i < 1200; ++i) {
            QElapsedTimer one;
            one.start();
            const QChar c = words[i % words.size()];
            c == '\n' ? QTest::keyClick(text, Qt::Key_Return) : QTest::keyClick(text, c.toLatin1());
            QCoreApplication::processEvents();
            worst = std::max(worst, one.elapsed());
        }
        qInfo("a key stroke: %.1f ms, at worst %lld ms", all.elapsed() / 1200.0, static_cast<long long>(worst));
        QCOMPARE(w.piece().letterIds().size(), std::size_t{1201});
        QVERIFY2(all.elapsed() < 1200 * 200, "200 ms a key stroke");
    }
};

OPEN_GLOW_WINDOW_TEST(TestLook)
#include "test_look.moc"
