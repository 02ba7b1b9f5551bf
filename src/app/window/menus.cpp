// The window's menus.
#include <QActionGroup>
#include <QApplication>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenuBar>
#include <QSettings>
#include <QToolButton>

#include "app/desktop.h"
#include "app/picture/hands.h"
#include "app/style.h"
#include "app/window/help.h"
#include "app/window/main_window.h"
#include "app/window/proof_sheet.h"
#include "app/window/state_line.h"
#include "app/window/swatch_files.h"
#include "session/clip.h"
#include "session/edits.h"
#include "session/lines.h"
#include "work/properties.h"

namespace app {

namespace {

// A line of a menu; without an id it separates.
struct Line {
    const char* id = nullptr;
    QString text = {};
    QKeySequence keys = {};
    std::function<void()> run = {};
};

QAction* addLine(QMenu* menu, QObject* owner, const Line& line)
{
    if (!line.id)
        return menu->addSeparator();
    QAction* action = menu->addAction(line.text);
    action->setObjectName(line.id);
    action->setShortcut(line.keys);
    if (line.run)
        QObject::connect(action, &QAction::triggered, owner, line.run);
    return action;
}

void addLines(QMenu* menu, QObject* owner, const std::vector<Line>& lines)
{
    for (const Line& line : lines)
        addLine(menu, owner, line);
}

// A line that shows and presses a button of the state line.
QAction* addToggle(QMenu* menu, QObject* owner, const char* id, const QString& text, const char* keys, QToolButton* button)
{
    QAction* action = addLine(menu, owner, {id, text, QKeySequence(keys), [button] { button->click(); }});
    action->setCheckable(true);
    QObject::connect(button, &QToolButton::toggled, action, &QAction::setChecked);
    return action;
}

// A menu that is filled when it opens.
QMenu* addFilled(QMenu* menu, const char* id, const QString& text, const std::function<void(QMenu*)>& fill)
{
    QMenu* inner = menu->addMenu(text);
    inner->setObjectName(id);
    QObject::connect(inner, &QMenu::aboutToShow, inner, [inner, fill] {
        inner->clear();
        fill(inner);
    });
    return inner;
}

}  // namespace

void MainWindow::makeMenus()
{
    makeFileMenu(menuBar()->addMenu(tr("&File")));
    makeEditMenu(menuBar()->addMenu(tr("&Edit")));
    makePieceMenu(menuBar()->addMenu(tr("&Piece")));
    makeViewMenu(menuBar()->addMenu(tr("&View")));
    addLines(menuBar()->addMenu(tr("&Help")), this,
             {{"help.guide", tr("&How a still is made"), QKeySequence("F1"), [this] { showGuide(this); }},
              {"help.shortcuts", tr("All &shortcuts"), QKeySequence("Shift+F1"), [this] { showShortcuts(this); }},
              {"help.about", tr("&About Open Glow"), {}, [this] { showAbout(this); }}});
    addKeys();
}

void MainWindow::makeFileMenu(QMenu* file)
{
    addFilled(file, "file.new", tr("&New"), [this](QMenu* menu) {
        for (const SheetPreset& p : sheetPresets())
            menu->addAction(p.name, this, [this, sheet = p.sheet] {
                if (m_files->mayLeave())
                    m_files->newWork(sheet);
            });
    });
    addLines(file, this,
             {{"file.newSame", tr("New, &same size"), QKeySequence::New,
               [this] {
                   if (m_files->mayLeave())
                       m_files->newWork(m_session.work().sheet());
               }},
              {"file.window", tr("New &window"), {}, [this] { openWindow(); }},
              {"file.open", tr("&Open..."), QKeySequence::Open, [this] { m_files->openByDialog(); }}});
    addFilled(file, "file.recent", tr("&Recent works"), [this](QMenu* menu) {
        for (const QString& path : m_files->recent())
            menu->addAction(QFileInfo(path).completeBaseName() + "  (" + QFileInfo(path).path() + ")", this, [this, path] {
                if (m_files->mayLeave())
                    m_files->open(path);
            });
        if (menu->isEmpty())
            menu->addAction(tr("None yet"))->setEnabled(false);
    });
    QMenu* demos = file->addMenu(tr("De&mos"));
    for (const auto& [name, title] : WorkFiles::demos())
        demos
            ->addAction(title, this,
                        [this, name = name] {
                            if (m_files->mayLeave())
                                m_files->openDemo(name);
                        })
            ->setObjectName("demo." + name);
    addLines(file, this,
             {{},
              {"file.save", tr("&Save"), QKeySequence::Save, [this] { m_files->save(); }},
              {"file.saveAs", tr("Save &as..."), QKeySequence("Ctrl+Shift+S"), [this] { m_files->saveAs(); }},
              {},
              {"file.export", tr("E&xport..."), QKeySequence("Ctrl+Shift+E"), [this] { m_ticket->openSection(9); }},
              {"file.exportAgain", tr("&Export again"), QKeySequence("Ctrl+E"),
               [this] {
                   if (!m_finals->again())
                       m_ticket->openSection(9);
               }},
              {},
              {"file.quit", tr("&Quit"), QKeySequence("Ctrl+Q"), [this] { close(); }}});
}

void MainWindow::makeEditMenu(QMenu* edit)
{
    m_undo = addLine(edit, this, {"edit.undo", tr("&Undo"), QKeySequence::Undo, [this] { m_session.undo(); }});
    m_redo = addLine(edit, this, {"edit.redo", tr("&Redo"), QKeySequence("Ctrl+Shift+Z"), [this] { m_session.redo(); }});
    m_undo->setEnabled(false);
    m_redo->setEnabled(false);
    addLines(edit, this,
             {{},
              {"edit.cut", tr("Cu&t"), QKeySequence::Cut, [this] { copyPieces(true); }},
              {"edit.copy", tr("&Copy"), QKeySequence::Copy, [this] { copyPieces(false); }},
              {"edit.paste", tr("&Paste"), QKeySequence::Paste, [this] { paste(); }},
              {"edit.pasteForm", tr("Paste &form"), {}, [this] { pasteAspect(session::pasteForm, tr("Paste form")); }},
              {"edit.pasteMaterial", tr("Paste &material"), {}, [this] { pasteAspect(session::pasteMaterial, tr("Paste material")); }},
              {"edit.copyPicture", tr("Copy the p&icture"), {}, [this] { copyPicture(); }},
              {"edit.addSwatches", tr("Add s&watches from a file..."), {}, [this] { m_swatches->addByDialog(); }},
              {"edit.exchangeSwatches", tr("E&xchange swatches for a file's..."), {}, [this] { m_swatches->exchangeByDialog(); }},
              {},
              {"edit.chooseAll", tr("Choose &all"), QKeySequence::SelectAll,
               [this] {
                   session::Choice choice;
                   for (const std::string& id : m_session.work().pieces.order)
                       choice.add({id, {}});
                   m_session.choose(choice);
               }},
              {"edit.chooseNothing", tr("Choose &nothing"), {}, [this] { m_session.choose({}); }}});
}

void MainWindow::makePieceMenu(QMenu* piece)
{
    addLines(piece, this,
             {{"piece.add", tr("Add &lettering"), QKeySequence("Ctrl+Shift+L"), [this] { m_ticket->addLettering(); }},
              {"piece.artwork", tr("Add &artwork..."), QKeySequence("Ctrl+Shift+A"), [this] { addArtworkByDialog(); }},
              {"piece.pen", tr("Draw &with the pen"), QKeySequence("Ctrl+Shift+K"), [this] { m_picture->draw(PenFor::Shape); }}});
    QMenu* shapes = piece->addMenu(tr("Add a &shape"));
    for (const auto& shape : work::kShapes)
        if (shape.value != work::ShapeKind::Drawn && shape.value != work::ShapeKind::Plate)
            shapes->addAction(tr(shape.label), this, [this, kind = shape.value] { addShape(kind); })
                ->setObjectName(QString("shape.") + shape.name);
    addLines(piece, this,
             {{},
              {"piece.duplicate", tr("&Duplicate"), QKeySequence("Ctrl+D"), [this] { m_ticket->duplicateChosen(); }},
              {},
              {"piece.front", tr("To the &front"), {}, [this] { m_ticket->moveChosen(-1); }},
              {"piece.back", tr("To the &back"), {}, [this] { m_ticket->moveChosen(1); }},
              {"piece.hide", tr("&Hide or show"), QKeySequence("Ctrl+H"), [this] { m_ticket->toggleHidden(); }},
              {"piece.lock", tr("Loc&k or unlock"), QKeySequence("Ctrl+K"), [this] { m_ticket->toggleLocked(); }},
              {"piece.group", tr("&Group"), QKeySequence("Ctrl+G"), [this] { m_ticket->groupChosen(); }},
              {"piece.ungroup", tr("&Ungroup"), QKeySequence("Ctrl+Shift+G"), [this] { m_ticket->ungroupChosen(); }},
              {},
              {"piece.fit", tr("F&it to the sheet"), {}, [this] { m_ticket->fitChosen(); }},
              {"piece.breakLines", tr("Break lines to &fill the sheet"), {}, [this] { m_ticket->breakChosen(); }},
              {},
              {"piece.rename", tr("&Rename"), {}, [this] { m_ticket->rename(); }},
              {},
              {"piece.delete", tr("D&elete"), {}, [this] { m_ticket->removeChosen(); }}});
    makeArrangeMenu(piece->addMenu(tr("A&rrange")));
    QMenu* plates = piece->addMenu(tr("&Plate and rim"));
    addLines(plates, this,
             {{"piece.plate", tr("A &plate behind it"), {}, [this] { addPlates(true, false); }},
              {"piece.rim", tr("A &rim round it"), {}, [this] { addPlates(false, true); }},
              {"piece.plateAndRim", tr("A rim on a plat&e"), {}, [this] { addPlates(true, true); }}});
}

// In the middle of the sheet, a third of it wide.
void MainWindow::addShape(work::ShapeKind kind)
{
    const work::Sheet& sheet = m_session.work().shownSheet();
    work::Shape shape;
    shape.kind = kind;
    shape.width = shape.height = std::round(std::min(sheet.size.widthPt(), sheet.size.heightPt()) / 3);
    if (kind == work::ShapeKind::Rectangle)
        shape.width *= 1.5;
    std::string id;
    m_session.edit(tr("Add a shape").toStdString(), [&](work::Work& w) { id = session::addShape(w, shape, {sheet.x, sheet.y}); });
    session::Choice choice;
    choice.set({id, {}});
    m_session.choose(choice);
    m_ticket->openSection(1);
}

void MainWindow::addPlates(bool plate, bool rim)
{
    std::vector<std::string> ids;
    m_session.edit((rim ? plate ? tr("Plate and rim") : tr("Rim") : tr("Plate")).toStdString(),
                   [&](work::Work& w) { ids = session::addPlates(w, m_session.choice(), plate, rim); });
    if (ids.empty()) {
        showMessage(tr("Choose the lettering, artwork or plate first that it shall go round"));
        return;
    }
    session::Choice choice;
    for (const std::string& id : ids)
        choice.add({id, {}});
    m_session.choose(choice);
    m_ticket->openSection(1);
}

void MainWindow::makeArrangeMenu(QMenu* menu)
{
    using session::AlignTo;
    using session::Edge;
    const auto arrange = [this](const QString& label, auto change) {
        return [this, label, change] {
            if (m_session.choice().empty()) {
                showMessage(tr("Choose the pieces to arrange first: Shift and click, in the picture or in the list"));
                return;
            }
            // The bodies that are shown, where they are those of the work as it is now; else they are made.
            const work::Work& now = m_session.work();
            const auto shown = m_last.shownWork;
            const bool isCurrent = shown && shown->work.pieces == now.pieces && shown->work.ground == now.ground;
            const auto made = isCurrent ? base::Result<work::WorkBodies>()
                                        : work::makeBodies(now, work::toleranceFor(now.sheet(), m_picture->width()), m_arranged, {});
            if (!made) {
                showMessage(QString::fromStdString(base::oneLine(made.error())));
                return;
            }
            m_session.edit(label.toStdString(),
                           [&](work::Work& w) { w = change(w, isCurrent ? shown->bodies : *made, m_session.choice().pieces()); });
        };
    };
    const auto edge = [&](const char* id, const QString& label, Edge which) {
        addLine(menu, this, {id, label, {}, arrange(label, [this, which](const auto& w, const auto& bodies, const auto& pieces) {
                                 return session::aligned(w, bodies, pieces, which, m_alignTo, m_alignBy);
                             })});
    };
    edge("arrange.left", tr("&Left edges"), Edge::Left);
    edge("arrange.across", tr("&Middles, across"), Edge::MiddleAcross);
    edge("arrange.right", tr("&Right edges"), Edge::Right);
    menu->addSeparator();
    edge("arrange.upper", tr("&Upper edges"), Edge::Upper);
    edge("arrange.up", tr("M&iddles, upright"), Edge::MiddleUp);
    edge("arrange.lower", tr("L&ower edges"), Edge::Lower);
    menu->addSeparator();
    for (const bool across : {true, false})
        addLine(menu, this,
                {across ? "arrange.gapsAcross" : "arrange.gapsUp",
                 across ? tr("Equal &gaps, across") : tr("Equal gaps, u&pright"),
                 {},
                 arrange(tr("Equal gaps"), [this, across](const auto& w, const auto& bodies, const auto& pieces) {
                     return session::distributed(w, bodies, pieces, across, m_alignBy);
                 })});
    for (const bool width : {true, false})
        addLine(menu, this,
                {width ? "arrange.sameWidth" : "arrange.sameHeight",
                 width ? tr("Same &width as the last chosen") : tr("Same &height as the last chosen"),
                 {},
                 arrange(tr("Same size"), [width](const auto& w, const auto& bodies, const auto& pieces) {
                     return session::sameSize(w, bodies, pieces, width);
                 })});
    menu->addSeparator();
    addLine(menu, this, {"arrange.behind", tr("One &behind the other..."), {}, [this] {
                             const std::vector<std::string> pieces = m_session.choice().pieces();
                             if (pieces.size() < 2)
                                 return showMessage(tr("Choose two pieces or more first: Shift and click, in the picture or in the list"));
                             if (const auto step = askLength(tr("One behind the other"), tr("Each further back by"), m_depthStepPt)) {
                                 m_depthStepPt = *step;
                                 m_session.edit(tr("One behind the other").toStdString(),
                                                [&](work::Work& w) { w = session::staggered(w, pieces, *step); });
                             }
                         }});
    addLine(menu, this,
            {"arrange.nudge", tr("&Step of the arrow keys..."), {}, [this] {
                 if (const auto step = askLength(tr("Step of the arrow keys"), tr("An arrow moves by"), m_picture->hands()->nudgeStep()))
                     QSettings().setValue("nudgePt", *step);
             }});
    menu->addSeparator();
    auto* group = new QActionGroup(menu);
    const std::tuple<const char*, QString, AlignTo> references[] = {{"arrange.toEachOther", tr("To &each other"), AlignTo::EachOther},
                                                                    {"arrange.toSheet", tr("To the &sheet"), AlignTo::Sheet},
                                                                    {"arrange.toMargin", tr("To the margi&n"), AlignTo::Margin}};
    for (const auto& [id, label, to] : references) {
        QAction* a = addLine(menu, this, {id, label, {}, [this, to = to] { m_alignTo = to; }});
        a->setCheckable(true);
        a->setChecked(to == m_alignTo);
        group->addAction(a);
    }
    QAction* lines = addLine(menu, this, {"arrange.typeLines", tr("By the &type's lines, not by what is seen"), {}, {}});
    lines->setToolTip(tr("Baseline, height of the capitals and advances, so that round letters may reach over"));
    lines->setCheckable(true);
    connect(lines, &QAction::toggled, this, [this](bool on) { m_alignBy = on ? session::AlignBy::TypeLines : session::AlignBy::Outline; });
}

// A length in the unit that is shown, asked for; pt.
std::optional<double> MainWindow::askLength(const QString& title, const QString& label, double nowPt)
{
    const session::LengthUnit unit{m_session.work().sheet().unit, m_session.work().sheet().ppi};
    bool taken = false;
    const double value =
        QInputDialog::getDouble(this, title, label + " (" + QString::fromStdString(unitName(session::Kind::Length, unit)) + ")",
                                nowPt / unit.toPt(1), 0.001, 100000, 2, &taken);
    return taken ? std::optional(unit.toPt(value)) : std::nullopt;
}

void MainWindow::makeViewMenu(QMenu* view)
{
    using session::StandardView;
    addLines(view, this,
             {{"view.menuHome", tr("&Home"), {}, [this] { standardView(StandardView::Straight); }},
              {"view.menuLast", tr("Back to the &last view"), {}, [this] { m_session.backToLastView(); }},
              {"view.menuIsoLeft", tr("&Isometric from the left"), {}, [this] { standardView(StandardView::IsometricLeft); }},
              {"view.menuIsoRight", tr("Isometric from the &right"), {}, [this] { standardView(StandardView::IsometricRight); }},
              {"view.menuAbove", tr("From &above"), {}, [this] { standardView(StandardView::FromAbove); }},
              {}});
    addToggle(view, this, "view.hold", tr("Pause the &picture"), "Ctrl+Shift+H", m_state->hold);
    QAction* part = addLine(view, this, {"view.part", tr("Part onl&y"), QKeySequence("Ctrl+Shift+P"), [this] {
                                             if (m_picture->hasPart() || m_session.choice().empty() || !m_picture->partOfChosen())
                                                 m_state->part->click();
                                         }});
    part->setCheckable(true);
    connect(m_state->part, &QToolButton::toggled, part, &QAction::setChecked);
    addToggle(view, this, "view.actualSize", tr("Pixel for pi&xel"), "Ctrl+1", m_state->actualSize);
    addLines(
        view, this,
        {{"view.fit", tr("&Fit in the window"), QKeySequence("Ctrl+0"), [this] { m_picture->fit(); }},
         {"view.zoomIn", tr("&Zoom in"), QKeySequence::ZoomIn, [this] { m_picture->zoomBy(1.5, m_picture->rect().center()); }},
         {"view.zoomOut", tr("Zoom &out"), QKeySequence::ZoomOut, [this] { m_picture->zoomBy(1 / 1.5, m_picture->rect().center()); }}});
    addToggle(view, this, "view.clipped", tr("Mark what is too &bright"), "Ctrl+Shift+C", m_state->clipped);
    QAction* side = addToggle(view, this, "view.drawer", tr("&Side view"), "Ctrl+Shift+B", m_state->drawer);
    QAction* desk = addToggle(view, this, "view.desk", tr("Li&ght desk"), "Ctrl+Shift+D", m_state->desk);
    connect(this, &MainWindow::drawerChanged, this, [this, side, desk] {
        side->setChecked(m_state->drawer->isChecked());
        desk->setChecked(m_state->desk->isChecked());
    });
    addToggle(view, this, "view.proofs", tr("Pr&oofs"), "Ctrl+Shift+O", m_state->proofs);
    addLine(view, this, {"view.keepProof", tr("K&eep a proof"), QKeySequence("Ctrl+Shift+I"), [this] { m_proofs->keep({}); }});
    QAction* book = addLine(view, this, {"view.book", tr("Sample boo&k"), QKeySequence("Ctrl+Shift+R"), {}});
    book->setCheckable(true);
    connect(book, &QAction::toggled, this, &MainWindow::showBook);
    connect(this, &MainWindow::bookChanged, book, &QAction::setChecked);
    QAction* lamps = addLine(view, this, {"view.lamps", tr("La&mps in the picture"), QKeySequence("Ctrl+Shift+M"), {}});
    lamps->setCheckable(true);
    lamps->setChecked(QSettings().value("lamps", true).toBool());
    connect(lamps, &QAction::toggled, this, [this](bool on) {
        QSettings().setValue("lamps", on);
        m_picture->showLamps(on && m_ticket->section("light")->isOpen());
    });
    QAction* lines = addLine(view, this, {"view.lines", tr("Outlines &only"), QKeySequence("Ctrl+Shift+J"), {}});
    lines->setCheckable(true);
    connect(lines, &QAction::toggled, m_picture, &PictureView::showLines);
    QAction* reduce = addLine(view, this, {"view.denoise", tr("&Noise reduction"), {}, [this] {
                                               m_reducesNoise = !m_reducesNoise;
                                               restart();
                                           }});
    reduce->setCheckable(true);
    reduce->setChecked(true);
    view->addSeparator();
    addLine(view, this,
            {"view.ticket", tr("Fold the &ticket"), QKeySequence("Ctrl+Shift+T"), [this] { m_ticket->setFolded(!m_ticket->isFolded()); }});
    view->addSeparator();
    QMenu* appearance = view->addMenu(tr("Appea&rance"));
    auto* group = new QActionGroup(appearance);
    const std::pair<const char*, QString> variants[] = {{"desktop", tr("As the &desktop")}, {"light", tr("&Light")}, {"dark", tr("Dar&k")}};
    for (const auto& [id, text] : variants) {
        QAction* a = addLine(appearance, this, {id, text, {}, [this, id = QString(id)] { setAppearance(id); }});
        a->setObjectName(QString("view.appearance.") + id);
        a->setCheckable(true);
        a->setChecked(QSettings().value("appearance", "desktop").toString() == id);
        group->addAction(a);
    }
    connect(m_desktop, &Desktop::changed, this, &MainWindow::applyLook);
    appearance->addSeparator();
    auto* sizes = new QActionGroup(appearance);
    for (const int percent : {100, 125, 150, 200}) {
        QAction* a = addLine(appearance, this, {"text", tr("Text at %1 %").arg(percent), {}, [this, percent] {
                                                    QSettings().setValue("textPercent", percent);
                                                    applyLook();
                                                }});
        a->setObjectName(QString("view.text%1").arg(percent));
        a->setCheckable(true);
        a->setChecked(currentLook().textPercent == percent);
        sizes->addAction(a);
    }
    appearance->addSeparator();
    QAction* motion = addLine(appearance, this, {"view.motion", tr("&Short movements"), {}, {}});
    motion->setCheckable(true);
    motion->setChecked(QSettings().value("motion", true).toBool());
    connect(motion, &QAction::toggled, this, [this](bool on) {
        QSettings().setValue("motion", on);
        applyLook();
    });
}

// Sections and the two halves of the window by key.
void MainWindow::addKeys()
{
    const auto add = [this](const QString& id, const QString& keys, const std::function<void()>& run) {
        auto* action = new QAction(this);
        action->setObjectName(id);
        action->setShortcut(QKeySequence(keys));
        connect(action, &QAction::triggered, this, run);
        addAction(action);
    };
    for (int i = 1; i <= 9; ++i)
        add(QString("section.key%1").arg(i), QString("Alt+%1").arg(i), [this, i] { m_ticket->openSection(i); });
    add("window.halves", "F6", [this] {
        if (m_picture->hasFocus())
            m_ticket->findChild<QWidget*>("pieces")->setFocus(Qt::ShortcutFocusReason);
        else
            m_picture->setFocus(Qt::ShortcutFocusReason);
    });
}

void MainWindow::setAppearance(const QString& appearance)
{
    QSettings().setValue("appearance", appearance);
    applyLook();
}

// The look as it is set, or as the desktop has it; a change is seen at once.
void MainWindow::applyLook()
{
    const QSettings settings;
    const QString appearance = settings.value("appearance", "desktop").toString();
    Look look;
    look.variant = appearance == "light" ? Variant::Light : appearance == "dark" ? Variant::Dark : m_desktop->variant();
    look.textPercent = std::clamp(settings.value("textPercent", 100).toInt(), 100, 200);
    look.motion = m_desktop->motion() && settings.value("motion", true).toBool();
    if (qApp->styleSheet().isEmpty() || !(look == currentLook()))
        applyStyle(*qApp, look);
    if (m_columns)
        setTicketWidth();
}

}  // namespace app
