// The form of what is chosen: its kind, what each kind has, and forms to begin from.
#include <QComboBox>
#include <QListWidget>

#include "driver.h"
#include "files/form_start.h"

using app::Lug;
using driver::Window;

namespace {

template <class F>
const F* formOf(Window& w)
{
    return std::get_if<F>(&w.piece().form);
}

}  // namespace

class TestForms : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // From a slab to a dome and its values, in words at the section's head, and back by undo; the depth stays.
    void aSlabBecomesADome()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        const double depth = w.piece().slab()->depthPt;
        QVERIFY(!w.find<QWidget>("form.rise.edit")->isVisible());
        w.choose("form.kind", "Domed");
        QVERIFY(formOf<solid::DomedForm>(w));
        QCOMPARE(formOf<solid::DomedForm>(w)->depthPt, depth);
        QVERIFY(w.find<QWidget>("form.rise.edit")->isVisible() && !w.find<QWidget>("form.profile")->isVisible());
        w.type("form.rise.edit", "80");
        w.type("form.backRise.edit", "50");
        w.type("form.fullness.edit", "-100");
        w.type("form.seam.edit", "2");
        w.type("form.side.edit", "0");
        QCOMPARE(*formOf<solid::DomedForm>(w), (solid::DomedForm{0, 0.8, 0.5, -1, 2}));
        const QString summary = w.window.ticket()->section("form")->summary();
        QVERIFY2(summary.contains("domed in front and at the back") && summary.contains("rise 80 %") && summary.contains("tent"),
                 qPrintable(summary));
        QVERIFY(w.settle());
        for (int i = 0; i < 6; ++i)
            w.session().undo();
        QVERIFY(w.piece().slab());
        QCOMPARE(w.piece().slab()->depthPt, depth);
    }

    // One letter domed, the others slabs: the kind is mixed, each has its rows.
    void lettersDiffer()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        const std::string k = w.piece().lettering()->letterIds[0];
        w.session().choose({{{"p1", k}}});
        w.openSection("form");
        w.choose("form.kind", "Domed");
        QVERIFY(w.piece().slab() && std::holds_alternative<solid::DomedForm>(*w.piece().letters.at(k).form));
        QVERIFY(w.trigger("edit.chooseAll"));
        QCOMPARE(w.find<QComboBox>("form.kind")->currentIndex(), -1);
        QCOMPARE(w.window.ticket()->section("form")->summary(), QString("mixed forms"));
        QVERIFY(w.settle());
    }

    void theRiseIsPulled()
    {
        work::Work work = driver::kites("KITE", 800, 450);
        work.view().walk = -40;
        work.pieces.items.at("p1").form = solid::DomedForm{0, 1, 0};
        Window w(work);
        QVERIFY(w.settle());
        w.clickAt(w.letterPlace(0));
        w.session().choose({{{"p1", ""}}});
        QVERIFY(w.settle());
        QVERIFY(!w.hasLug(Lug::Kind::Bevel));
        const QPointF rise = w.lug(Lug::Kind::Rise);
        w.drag(rise, rise + QPointF(8, 0));  // seen from the left, towards the viewer is to the right
        QVERIFY2(formOf<solid::DomedForm>(w)->rise > 1.3, qPrintable(QString::number(formOf<solid::DomedForm>(w)->rise)));
        QCOMPARE(w.session().history().undoLabel(), "Rise");
    }

    // Twist and taper, a tube's width and the point of a block are pulled in the picture; each is a step back.
    void lugsOfForms()
    {
        work::Work work = driver::kites("K", 800, 450);
        work.view().walk = -30;
        Window w(work);
        w.session().choose({{{"p1", ""}}});
        const auto pull = [&](Lug::Kind kind, QPointF by, const char* label) {
            QVERIFY(w.settle());
            const QPointF lug = w.lug(kind);
            w.drag(lug, lug + by);
            QCOMPARE(w.session().history().undoLabel(), label);
        };
        pull(Lug::Kind::Twist, {60, -20}, "Twist");
        QVERIFY(w.piece().slab()->along.twist < -5);  // clockwise
        pull(Lug::Kind::Taper, {30, -20}, "Taper");
        QVERIFY(w.piece().slab()->along.taper < 0.9);
        work = w.work();
        work.pieces.items.at("p1").form = solid::TubeForm{8};
        w.session().edit("Tube form", [&](work::Work& now) { now = work; });
        QVERIFY(w.settle());
        QVERIFY(!w.hasLug(Lug::Kind::Twist));
        pull(Lug::Kind::TubeWidth, {0, -12}, "Tube");
        QVERIFY(formOf<solid::TubeForm>(w)->widthPt > 10);
        w.session().edit("Block form", [&](work::Work& now) { now.pieces.items.at("p1").form = solid::BlockForm{20, true, 0, -60, 0.5}; });
        pull(Lug::Kind::Point, {40, 10}, "Point of a block");
        QVERIFY(formOf<solid::BlockForm>(w)->x > 10 && formOf<solid::BlockForm>(w)->y < -62);
        pull(Lug::Kind::Depth, {12, 0}, "Depth");
        QVERIFY(formOf<solid::BlockForm>(w)->depthPt != 20);
    }

    // A block, by its rows.
    void aBlock()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        w.choose("form.kind", "Block");
        QVERIFY(w.find<QWidget>("form.blockX.edit")->isVisible() && !w.find<QWidget>("form.profile")->isVisible());
        w.type("form.blockX.edit", "30");
        w.type("form.blockY.edit", "-50");
        w.type("form.share.edit", "100");
        w.type("form.blockDepth.edit", "0");
        QCOMPARE(*formOf<solid::BlockForm>(w), (solid::BlockForm{0, true, 30, -50, 1}));
        QCOMPARE(w.window.ticket()->section("form")->summary(), QString("block to a point, flat"));
        w.click("form.toPoint");
        QVERIFY(!w.find<QWidget>("form.share.edit")->isVisible());
        QVERIFY(w.settle());
    }

    void aTubeAlongTheStrokes()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        w.choose("form.kind", "Tube");
        QVERIFY(std::abs(formOf<solid::TubeForm>(w)->widthPt - w.piece().sizePt() / 20) < 1e-9);
        QVERIFY(!w.find<QWidget>("form.gap.edit")->isVisible() && !w.find<QWidget>("form.strands.edit")->isVisible());
        w.click("form.gaps");
        w.click("form.over");
        w.type("form.gap.edit", "3");
        w.choose("form.section", "Rope");
        w.type("form.strands.edit", "5");
        w.type("form.tubeWidth.edit", "4");
        const solid::TubeForm& tube = *formOf<solid::TubeForm>(w);
        QVERIFY(tube.gaps && tube.over && tube.gapPt == 3 && tube.section == solid::TubeSection::Rope && tube.strands == 5 &&
                tube.widthPt == 4);
        QVERIFY(w.settle());
        w.choose("form.path", "Outline");
        QVERIFY(!w.find<QWidget>("form.gaps")->isVisible());
        const QString summary = w.window.ticket()->section("form")->summary();
        QVERIFY2(summary.contains("rope 4") && summary.contains("along the outline"), qPrintable(summary));
        QVERIFY(w.settle());
        QVERIFY(!w.hasLug(Lug::Kind::Bevel) && !w.hasLug(Lug::Kind::Rise) && !w.hasLug(Lug::Kind::Depth));
        QVERIFY(w.hasLug(Lug::Kind::Turn));
    }

    void alongTheDepth()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        w.click("form.along");
        QVERIFY(!w.find<QWidget>("form.along.together")->isVisible() && !w.find<QWidget>("form.along.bendTowards.edit")->isVisible());
        w.type("form.along.twist.edit", "90");
        w.type("form.along.taper.edit", "50");
        w.type("form.along.bend.edit", "30");
        w.click("form.along.together");
        const solid::Along& along = w.piece().slab()->along;
        QVERIFY(along.twist == 90 && along.taper == 0.5 && along.bend == 30 && along.together);
        QVERIFY(w.find<QWidget>("form.along.bendTowards.edit")->isVisible());
        QVERIFY(w.settle());
        // A dome keeps it.
        w.choose("form.kind", "Domed");
        QCOMPARE(formOf<solid::DomedForm>(w)->along.twist, 90.0);
        QVERIFY(w.settle());
    }

    // An inlay that begins has a border; its part takes a material.
    void anInlay()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        w.click("form.inlay");
        QVERIFY(!w.find<QWidget>("form.inlay.border.edit")->isVisible());
        w.type("form.inlay.sunk.edit", "2");
        QVERIFY(w.piece().slab()->inlay.borderPt > 0 && w.piece().slab()->inlay.sunkPt == 2);
        w.type("form.inlay.rim.edit", "1");
        w.choose("form.inlay.profile", "Cove");
        QCOMPARE(w.piece().slab()->inlay.profile, solid::Profile::Cove);
        w.openSection("material");
        w.choose("material.part", "Inlay");
        w.type("material.roughness.edit", "90");
        QVERIFY(w.piece().material.parts.contains("inlay"));
        QVERIFY(w.settle());
    }

    // A rim on a plate in one step from the menu; both follow the text, and have rows of their own.
    void aRimOnAPlate()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        QVERIFY(w.trigger("piece.plateAndRim"));
        QCOMPARE(w.work().pieces.order.size(), 3u);
        QCOMPARE(w.work().pieces.order.front(), std::string("p1"));  // in front of both
        QVERIFY(w.settle());
        QVERIFY(!w.find<QWidget>("lettering.shape")->isVisible() && w.find<QWidget>("lettering.plateRound")->isVisible());
        w.type("lettering.margin.edit", "9");
        for (const std::string& id : {w.work().pieces.order[1], w.work().pieces.order[2]})
            QCOMPARE(w.work().pieces.items.at(id).shape()->margin, 9.0);
        QVERIFY2(w.window.ticket()->section("lettering")->summary().contains("round KITE"),
                 qPrintable(w.window.ticket()->section("lettering")->summary()));
        for (int i = 0; i < 2; ++i)
            w.session().undo();
        QCOMPARE(w.work().pieces.order.size(), 1u);
        QVERIFY(w.trigger("edit.chooseNothing"));
        QVERIFY(w.trigger("piece.plate"));  // nothing to go round: it is said
        QCOMPARE(w.work().pieces.order.size(), 1u);
    }

    // Twelve or more, shown on the first letter of what is chosen; one is taken, one's own is kept and forgotten.
    void formsToBeginFrom()
    {
        Window w;
        QVERIFY(w.trigger("edit.chooseAll"));
        w.openSection("form");
        const auto kept = files::keepForm(files::ownFormFolder(), "Fair & square", solid::SlabForm{7}, 100);
        QVERIFY(kept.has_value());
        w.click("form.starts");
        auto* list = w.find<QListWidget>("form.starts.list");
        QVERIFY(list->isVisible() && list->count() >= 13);
        const auto rowOf = [&](const QString& name) {
            const auto found = list->findItems(name, Qt::MatchExactly);
            return found.isEmpty() ? -1 : list->row(found.front());
        };
        const int balloon = rowOf("Balloon"), board = rowOf("Cut board");
        const auto seen = [&](int row) { return list->item(row)->icon().pixmap(80).toImage(); };
        const QImage blank = seen(list->count() - 1);
#ifdef OPEN_GLOW_CHECKED
        QTRY_VERIFY_WITH_TIMEOUT(seen(0) != blank, 120000);  // sanitizers are slow
        Q_UNUSED(board);
#else
        QTRY_VERIFY_WITH_TIMEOUT(seen(list->count() - 1) != blank, 60000);
        QVERIFY(seen(balloon) != seen(board));
#endif
        Q_EMIT list->itemClicked(list->item(balloon));
        QVERIFY(!list->isVisible());
        QVERIFY(formOf<solid::DomedForm>(w) && formOf<solid::DomedForm>(w)->rise == 1.5);
        w.click("form.starts");
        Q_EMIT list->itemClicked(list->item(rowOf("Fair & square")));
        QVERIFY(std::abs(w.piece().slab()->depthPt - 0.07 * w.piece().sizePt()) < 1e-9);  // it grows with the type
        w.click("form.starts");
        list->setCurrentRow(rowOf("Cut board"));
        w.find<QAction>("form.starts.forget")->trigger();  // not the user's own
        QVERIFY(list->isVisible());
        list->setCurrentRow(rowOf("Fair & square"));
        w.find<QAction>("form.starts.forget")->trigger();
        w.click("form.starts");
        QCOMPARE(rowOf("Fair & square"), -1);
        list->window()->hide();
    }
};

OPEN_GLOW_WINDOW_TEST(TestForms)
#include "test_forms.moc"
