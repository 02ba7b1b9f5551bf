// The ticket: sections, pieces; and that all of it can be read, reached and told apart.
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QFontDatabase>
#include <QListView>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScreen>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

#include <fmt/format.h>

#include "app/driver.h"
#include "app/ticket/head.h"
#include "app/window/help.h"
#include "files/work_file.h"
#include "session/edits.h"
#include "work/values.h"

using driver::contrast;
using driver::cutOff;
using driver::Window;

namespace {

const char* const kSections[] = {"lettering", "form", "material", "sheet", "ground", "view", "light", "finish", "export"};

}  // namespace

class TestTicket : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Heavier is a step on the outlines: there once it is more than nothing, gone with it, and undone like anything else.
    void letteringIsMadeHeavier()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("lettering");
        w.click("lettering.steps");
        w.type("lettering.steps.by.edit", "3");
        QCOMPARE(w.piece().steps.order.size(), std::size_t{1});
        QCOMPARE(std::get<work::Grow>(w.piece().steps.items.begin()->second.what).by, 3.0);
        w.type("lettering.steps.by.edit", "-1.5");
        QCOMPARE(w.piece().steps.order.size(), std::size_t{1});
        w.type("lettering.steps.by.edit", "0");
        QVERIFY(w.piece().steps.order.empty());
        w.session().undo();
        QCOMPARE(std::get<work::Grow>(w.piece().steps.items.begin()->second.what).by, -1.5);
    }

    // Every profile, by its name in the list; terraces have a count, curves their steps and facets, a chamfer neither.
    void bevelsHaveProfiles()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        auto* profile = w.find<QComboBox>("form.profile");
        for (const char* label : {"Chamfer", "Roundover", "Cove", "Ogee", "Terraces"}) {
            const QString name = label;
            const int index = profile->findText(name);
            QVERIFY2(index >= 0, qPrintable(name));
            profile->setCurrentIndex(index);
            Q_EMIT profile->activated(index);
            QCOMPARE(static_cast<int>(w.piece().slab()->front.profile), index);
            QCOMPARE(w.find<QWidget>("form.steps.edit")->isVisible(), name != "Chamfer");
            QCOMPARE(w.find<QWidget>("form.facets")->isVisible(), name != "Chamfer" && name != "Terraces");
            QVERIFY(w.window.ticket()->section("form")->summary().contains(name.toLower()));
        }
        w.type("form.steps.edit", "4");
        QCOMPARE(w.piece().slab()->front.steps, 4);
        QVERIFY(w.settle());
    }

    // What a newer version made is in the lists, named, and its sections have no rows that could spoil it.
    void newerKindsAreShown()
    {
        Window w;
        w.session().edit("newer", [](work::Work& work) {
            work.pieces.items.at("p1").source = work::Newer{"kelp", "{\"fronds\":3}"};
            work.pieces.items.at("p1").form = work::Newer{"sponge", "{}"};
            work::Light light;
            light.newer = work::Newer{"firefly", "{}"};
            work.lights.add(work.newId("l"), light);
        });
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.find<QListWidget>("pieces")->item(0)->data(Qt::AccessibleTextRole).toString().contains("kelp, made by a newer version"));
        for (const char* section : {"lettering", "form"}) {
            w.openSection(section);
            QVERIFY(w.window.ticket()->section(section)->summary().contains("newer version"));
        }
        QVERIFY(!w.find<QWidget>("form.depth.edit")->isVisible());
        QVERIFY(!w.find<QWidget>("lettering.text")->isVisible());
        w.openSection("light");
        QVERIFY(w.settle());
        w.session().edit("delete", [](work::Work& work) { work.lights = {}; });
        QVERIFY(w.settle());
    }

    // Every number of every section, typed beyond both ends of its range: the nearest is set and that is said, and the work that comes
    // of it is saved and opens as it was.
    void everyRowKeepsToItsRange()
    {
        work::Work work = driver::kites();
        work::Piece& piece = work.pieces.items.at("p1");
        piece.placement.stance = work::Stance::Free;
        piece.copies.count = 1;
        piece.slab()->back = {1, 1, solid::Profile::Roundover, 4, false};
        work.ground.kind = render::GroundKind::Sweep;
        work.view().perspective = true;
        for (const auto kind : {light::LightKind::Sun, light::LightKind::Bulb, light::LightKind::Spot})
            session::addLight(work, kind);
        Window w(work, 1, {1000, 900});
        w.window.session().choose({{{"p1", piece.lettering()->letterIds[0]}}});
        const std::string file = driver::path("range.openglow").toStdString();
        QSet<QString> seen;
        const auto tryAll = [&](const QString& section) {
            for (auto* field : w.window.ticket()->section(section)->findChildren<app::NumberField*>()) {
                if (!field->isVisible() || !field->value() || field->objectName().startsWith("export."))
                    continue;
                const app::NumberSpec& spec = field->spec();
                seen << field->objectName();
                for (const bool above : {true, false}) {
                    const double end = above ? spec.most : spec.least, beyond = end + (above ? 1 : -1) * (spec.most - spec.least);
                    w.find<QLabel>("message.text")->clear();
                    w.type(field->objectName() + ".edit",
                           QString::fromStdString(fmt::format("{:.9f}", spec.kind == work::Kind::Percent ? beyond * 100 : beyond)));
                    if (!field->isVisible())
                        break;  // no copies: no rows of copies
                    QVERIFY2(std::abs(*field->value() - end) <= 1e-6 * std::max(1.0, std::abs(end)),
                             qPrintable(QString("%1: %2 instead of %3").arg(field->objectName()).arg(*field->value()).arg(end)));
                    QVERIFY2(w.find<QLabel>("message.text")->text().contains("nearest"), qPrintable(field->objectName()));
                    QVERIFY(files::saveWork(w.work(), file).has_value());
                    const auto opened = files::openWork(file);
                    QVERIFY2(opened && *opened == w.work(), qPrintable(field->objectName()));
                }
            }
        };
        for (const char* section : {"lettering", "form", "material", "ground", "view", "finish", "light"}) {
            w.openSection(section);
            for (auto* head : w.window.ticket()->section(section)->findChildren<app::GroupHead*>())
                if (head->isVisible() && !head->isChecked())
                    head->click();
            tryAll(section);
            if (section == std::string("light"))
                for (const std::string& id : w.work().lights.order) {
                    w.find<QListWidget>("light.list")->setCurrentRow(static_cast<int>(&id - w.work().lights.order.data()));
                    tryAll(section);
                }
        }
        QVERIFY2(seen.size() > 45, qPrintable(QString::number(seen.size())));
    }

    // --- pieces and sections --------------------------------------------------------------------------------------------------

    void piecesAreAddedOrderedHiddenLockedNamedAndDeleted()
    {
        Window w;
        QVERIFY(w.settle());
        auto* list = w.find<QListWidget>("pieces");
        w.click("pieces.add");
        QTest::keyClicks(QApplication::focusWidget(), "FAIR");
        QCOMPARE(list->count(), 2);
        const auto said = [&](int row) { return list->item(row)->data(Qt::AccessibleTextRole).toString(); };
        QCOMPARE(said(0), "FAIR, lettering");
        const std::string fair = w.work().pieces.order[0];
        QVERIFY(w.trigger("piece.back"));
        QCOMPARE(w.work().pieces.order[1], fair);
        QVERIFY(w.trigger("piece.hide"));
        QVERIFY(w.work().pieces.items.at(fair).hidden);
        QVERIFY(said(1).endsWith("hidden"));
        QVERIFY(w.trigger("piece.hide"));
        QVERIFY(!w.work().pieces.items.at(fair).hidden);
        QVERIFY(w.trigger("piece.lock"));
        QVERIFY(w.work().pieces.items.at(fair).locked);
        QVERIFY(w.trigger("piece.lock"));
        QVERIFY(!w.work().pieces.items.at(fair).locked);
        list->item(1)->setData(Qt::EditRole, "second line");
        QCOMPARE(w.work().pieces.items.at(fair).name, "second line");
        QCOMPARE(said(1), "second line, lettering");
        QVERIFY(w.trigger("piece.duplicate"));
        QCOMPARE(w.work().pieces.order.size(), std::size_t{3});
        QVERIFY(w.trigger("piece.delete"));
        QCOMPARE(w.work().pieces.order.size(), std::size_t{2});
        // Chosen in the list is chosen everywhere.
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{w.work().pieces.order[0], ""}}));
    }

    // A group by the menu: chosen as one in the picture and in the list, a piece of it by a further click, named, and taken apart.
    void piecesAreGrouped()
    {
        work::Work work = driver::kites("KI");
        work.pieces.items.at("p1").placement.x = -70;
        const std::string second = session::addLettering(work, "TE");
        work.pieces.items.at(second).placement = work.pieces.items.at("p1").placement;
        work.pieces.items.at(second).placement.x = 70;
        Window w(work);
        QVERIFY(w.settle());
        auto* list = w.find<QListWidget>("pieces");
        QVERIFY(w.trigger("piece.group"));
        QVERIFY(w.find<QLabel>("message.text")->text().contains("two or more"));
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.trigger("piece.group"));
        QCOMPARE(list->count(), 3);
        w.session().choose({});
        w.clickAt(w.letterPlace(0));
        QCOMPARE(w.session().choice().pieces().size(), std::size_t{2});
        w.clickAt(w.letterPlace(0));
        QCOMPARE(w.session().choice().targets, (std::vector<session::Target>{{w.work().pieces.order.front(), {}}}));
        w.clickAt(w.letterPlace(0));
        QVERIFY(!w.session().choice().targets.front().letter.empty());
        w.session().choose({});
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
        QCOMPARE(w.session().choice().pieces().size(), std::size_t{2});
        QTest::keyClick(list, Qt::Key_F2);
        auto* name = list->findChild<QLineEdit*>();
        QVERIFY(name);
        name->setText("Title");
        QTest::keyClick(name, Qt::Key_Return);
        QTRY_COMPARE(list->item(0)->text(), "Title");
        // Both move.
        const auto before = w.work().pieces.items;
        QVERIFY(w.settle());
        w.drag(w.letterPlace(1), w.letterPlace(1) + QPointF(0, -12));
        for (const auto& [id, piece] : w.work().pieces.items)
            QVERIFY(piece.placement.y > before.at(id).placement.y + 1);
        QVERIFY(w.trigger("piece.ungroup"));
        QCOMPARE(list->count(), 2);
        // In line by the menu.
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.settle());
        QVERIFY(w.trigger("arrange.left"));
        QVERIFY(w.settle());
        const auto& pieces = w.work().pieces;
        QVERIFY(std::abs(pieces.items.at(pieces.order[0]).placement.x - pieces.items.at(pieces.order[1]).placement.x) < 30);
        w.session().undo();
        QVERIFY(w.trigger("arrange.toSheet"));
        QVERIFY(w.trigger("arrange.across"));
        for (const auto& [_, piece] : w.work().pieces.items)
            QVERIFY(std::abs(piece.placement.x) < 5);
        w.session().undo();
        w.session().undo();
        QCOMPARE(list->count(), 3);
    }

    void linkedCopiesStepInDepthGrowthAndTint()
    {
        Window w;
        w.openSection("lettering");
        w.click("lettering.copies");
        w.type("lettering.copies.count.edit", "2");
        w.type("lettering.copies.depthStep.edit", "-3");
        w.type("lettering.copies.growth.edit", "4");
        w.type("lettering.copies.tintShare.edit", "50");
        w.type("lettering.copies.tint.hex", "#000000");
        QCOMPARE(w.piece().copies, (work::Copies{2, -3, 4, 0, 0, {0, 0, 0}, 0.5}));
        QVERIFY(w.settle());
        const auto& bodies = w.picture().frame().shownWork->bodies.bodies;
        QCOMPARE(std::count_if(bodies.begin(), bodies.end(), [](const auto& b) { return b.copy == 2; }) > 0, true);
        QVERIFY(w.find<QListWidget>("pieces")->item(0)->data(Qt::AccessibleTextRole).toString().contains("2 linked"));
    }

    void sheetPresetsGroundViewAndFinishAreSet()
    {
        Window w(driver::kites("KITE", 1920, 1080));
        w.openSection("sheet");
        auto* preset = w.find<QComboBox>("sheet.preset");
        QCOMPARE(preset->currentText(), "Screen 1920 x 1080");
        const double size = w.piece().lettering()->layout.sizePt;
        preset->setFocus();
        QTest::keyClicks(preset, "Social sq");
        QTest::keyClick(preset, Qt::Key_Return);
        Q_EMIT preset->activated(preset->findText("Social square 1080"));
        QCOMPARE(w.work().sheet().widthPx(), 1080);
        QCOMPARE(w.piece().lettering()->layout.sizePt, size);  // the shorter side stayed
        w.type("sheet.height.edit", "540");
        QCOMPARE(w.piece().lettering()->layout.sizePt, size / 2);
        w.click("sheet.keep");
        QCOMPARE(app::sheetPresets().back().sheet.height, 540.0);
        w.openSection("ground");
        auto* kind = w.find<QComboBox>("ground.kind");
        kind->setCurrentIndex(2);
        Q_EMIT kind->activated(2);
        QCOMPARE(w.work().ground.kind, render::GroundKind::Floor);
        w.type("ground.floorBelow.edit", "100");
        QCOMPARE(w.work().ground.floorBelow, 100.0);
        w.openSection("view");
        w.click("view.isoRight");
        QCOMPARE(w.work().view().walk, 45.0);
        QVERIFY(std::abs(w.work().view().rise - 35.264) < 1e-3);  // ISO 5456-3
        w.click("view.save");
        w.click("view.home");
        auto* saved = w.find<QListWidget>("view.saved");
        QTest::mouseClick(saved->viewport(), Qt::LeftButton, {}, saved->visualItemRect(saved->item(0)).center());
        QCOMPARE(w.work().view().walk, 45.0);
        w.click("view.last");
        QCOMPARE(w.work().view().walk, 0.0);
        w.openSection("finish");
        w.type("finish.exposure.edit", "-1/2");
        QCOMPARE(w.work().finish.exposure, -0.5);
        QVERIFY(w.window.ticket()->section("finish")->summary().contains("0.5"));
    }

    void lightsAreAddedSwitchedAndSet()
    {
        Window w;
        w.openSection("light");
        w.window.findChild<QMenu*>("light.addMenu")->actions()[3]->trigger();
        QCOMPARE(w.work().lights.order.size(), std::size_t{2});
        const std::string id = w.work().lights.order.back();
        QCOMPARE(w.work().lights.items.at(id).kind, light::LightKind::Spot);
        w.click("light.beam");
        QTest::qWait(50);
        w.type("light.beam.cone.edit", "25");
        w.type("light.colour.hex", "#FFE0B0");
        QCOMPARE(w.work().lights.items.at(id).cone, 25.0);
        auto* list = w.find<QListWidget>("light.list");
        list->currentItem()->setCheckState(Qt::Unchecked);
        QVERIFY(!w.work().lights.items.at(id).on);
        w.click("light.remove");
        QCOMPARE(w.work().lights.order.size(), std::size_t{1});
        w.click("light.surroundings");
        w.click("light.surroundings.on");
        QVERIFY(!w.work().surroundings.on);
    }

    void oneSectionIsOpenUnlessItIsPinned()
    {
        Window w;
        w.openSection("form");
        w.click("section.form.pin");
        w.openSection("material");
        w.openSection("view");
        QEvent leave(QEvent::Leave);
        QApplication::sendEvent(w.window.ticket(), &leave);  // what lay over it closes when the pointer has left
        QVERIFY(w.window.ticket()->section("form")->isOpen());
        QVERIFY(!w.window.ticket()->section("material")->isOpen());
        QVERIFY(w.window.ticket()->section("view")->isOpen());
    }

    // --- all of it ------------------------------------------------------------------------------------------------------------

    void aSectionHasAtMostTwelveRows()
    {
        work::Work work = driver::kites("KITE\nFAIR");
        work.ground.kind = render::GroundKind::Sweep;
        work.view().perspective = true;
        Window w(work);
        for (const char* id : kSections) {
            w.openSection(id);
            QVERIFY2(w.window.ticket()->section(id)->rows()->visibleRows() <= 12, id);
            QVERIFY2(!w.window.ticket()->section(id)->summary().isEmpty(), id);
        }
    }

    // At 1280x800 in every section, with a long text, a long name and large numbers. QT_SCALE_FACTOR says how large all is.
    void nothingIsCutOff()
    {
        work::Work work = driver::kites("Galepoint Kite Fair\non the dunes", 3508, 4961);
        work.sheet().unit = work::Unit::Mm;
        work.sheet().width = 297.123;
        work.sheet().height = 420.5;
        work.ground.kind = render::GroundKind::Sweep;
        work.view().perspective = true;
        work.pieces.items.at("p1").copies.count = 3;
        Window w(work, 2, {1280, 800});
        QVERIFY(w.settle());
        QVERIFY(w.window.minimumSizeHint().width() <= 1280 && w.window.minimumSizeHint().height() <= 800);
        for (const char* id : kSections) {
            w.openSection(id);
            // All of its groups open too.
            for (auto* group : w.window.ticket()->section(id)->rows()->findChildren<QAbstractButton*>())
                if (qobject_cast<app::GroupHead*>(group) && group->isVisible() && !group->isChecked())
                    group->click();
            QTest::qWait(20);
            const QStringList found = cutOff(&w.window);
            QVERIFY2(found.isEmpty(), qPrintable(QString(id) + ": " + found.join(", ")));
            QVERIFY(!w.find<QScrollArea>("ticket.scroll")->horizontalScrollBar()->isVisible());
        }
        for (auto* show : {app::showGuide, app::showShortcuts}) {
            show(&w.window);
            QTest::qWait(20);
        }
        for (QDialog* dialog : w.window.findChildren<QDialog*>()) {
            const QStringList found = cutOff(dialog);
            QVERIFY2(found.isEmpty(), qPrintable(found.join(", ")));
        }
    }

    // WCAG 2.2 AA, 1.4.3: 4.5:1, in both variants; and 3:1 for the borders of fields (1.4.11).
    void allTextsHaveContrast()
    {
        for (const app::Variant variant : {app::Variant::Light, app::Variant::Dark}) {
            for (const app::TextStyle& style : app::textStyles(variant))
                QVERIFY2(contrast(style.ink, style.ground) >= (style.large ? 3 : 4.5),
                         qPrintable(QString("%1: %2").arg(style.name).arg(contrast(style.ink, style.ground))));
            const app::Colours& c = app::colours(variant);
            QVERIFY(contrast(c.edge, c.field) >= 3 || contrast(c.edge, c.paper) >= 3);
            QVERIFY(contrast(c.accent, c.paper) >= 3);
            // What surrounds the picture is neutral.
            QCOMPARE(c.surround.hsvSaturation(), 0);
        }
    }

    // Everything that takes a click or a key has an object name and a name that is read aloud.
    void everythingHasNames()
    {
        Window w;
        QVERIFY(w.settle());
        for (const char* id : kSections) {
            w.openSection(id);
            for (auto* widget : w.window.findChildren<QWidget*>()) {
                const bool control = qobject_cast<QAbstractButton*>(widget) || qobject_cast<QLineEdit*>(widget) ||
                                     qobject_cast<QComboBox*>(widget) || qobject_cast<QAbstractItemView*>(widget) ||
                                     qobject_cast<QPlainTextEdit*>(widget);
                if (!control || !widget->isVisible() || widget->focusPolicy() == Qt::NoFocus)
                    continue;
                QVERIFY2(!widget->objectName().isEmpty(), qPrintable(QString(id) + ": a " + widget->metaObject()->className() + " in " +
                                                                     widget->parentWidget()->objectName()));
                auto* button = qobject_cast<QAbstractButton*>(widget);
                const auto* label = w.window.findChild<QLabel*>(widget->objectName() + ".label");
                QVERIFY2(!widget->accessibleName().isEmpty() || (button && !button->text().isEmpty()) || label,
                         qPrintable(widget->objectName()));
            }
        }
    }

    // The sheet of shortcuts names every key that a menu has.
    void allShortcutsAreOnTheSheet()
    {
        Window w;
        QString sheet;
        for (const auto& [keys, what] : app::shortcutSheet())
            sheet += keys + "\n";
        for (const QAction* action : w.window.findChildren<QAction*>()) {
            const QString keys = action->shortcut().toString(QKeySequence::PortableText);
            if (!keys.isEmpty() && !keys.startsWith("Alt+") && keys != "Ctrl+Q")
                QVERIFY2(sheet.contains(keys), qPrintable(keys));
        }
        QVERIFY(w.trigger("help.shortcuts"));
        QVERIFY(w.window.findChild<QDialog*>("shortcuts")->isVisible());
        QVERIFY(w.trigger("help.guide"));
        auto* guide = w.window.findChild<QDialog*>("guide");
        QCOMPARE(guide->findChildren<QLabel*>("guide.step").size(), 6);
        for (const app::GuideStep& step : app::guideSteps())
            QVERIFY(!QPixmap(step.picture).isNull());
    }
};

OPEN_GLOW_WINDOW_TEST(TestTicket)
#include "test_ticket.moc"
