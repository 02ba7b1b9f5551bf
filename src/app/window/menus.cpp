// The window's menus.
#include <QActionGroup>
#include <QApplication>
#include <QFileInfo>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QToolButton>

#include "app/style.h"
#include "app/window/help.h"
#include "app/window/main_window.h"
#include "app/window/state_line.h"

namespace app {

void MainWindow::makeMenus()
{
    const auto action = [this](QMenu* menu, const char* id, const QString& text, const QKeySequence& keys, auto run) {
        auto* a = menu->addAction(text);
        a->setObjectName(id);
        a->setShortcut(keys);
        connect(a, &QAction::triggered, this, run);
        return a;
    };
    const auto toggle = [&](QMenu* menu, const char* id, const QString& text, const QKeySequence& keys, QToolButton* button) {
        auto* a = action(menu, id, text, keys, [button] { button->click(); });
        a->setCheckable(true);
        connect(button, &QToolButton::toggled, a, &QAction::setChecked);
        return a;
    };

    QMenu* file = menuBar()->addMenu(tr("&File"));
    QMenu* fresh = file->addMenu(tr("&New"));
    fresh->setObjectName("file.new");
    connect(fresh, &QMenu::aboutToShow, this, [this, fresh] {
        fresh->clear();
        for (const SheetPreset& p : sheetPresets())
            fresh->addAction(p.name, this, [this, sheet = p.sheet] {
                if (m_files->mayLeave())
                    m_files->newWork(sheet);
            });
    });
    action(file, "file.newSame", tr("New, &same size"), QKeySequence::New, [this] {
        if (m_files->mayLeave())
            m_files->newWork(m_session.work().sheet());
    });
    action(file, "file.open", tr("&Open..."), QKeySequence::Open, [this] { m_files->openByDialog(); });
    QMenu* recent = file->addMenu(tr("&Recent works"));
    recent->setObjectName("file.recent");
    connect(recent, &QMenu::aboutToShow, this, [this, recent] {
        recent->clear();
        for (const QString& path : m_files->recent())
            recent->addAction(QFileInfo(path).completeBaseName() + "  (" + QFileInfo(path).path() + ")", this, [this, path] {
                if (m_files->mayLeave())
                    m_files->open(path);
            });
        if (recent->isEmpty())
            recent->addAction(tr("None yet"))->setEnabled(false);
    });
    action(file, "file.demo", tr("Open the &demo"), {}, [this] {
        if (m_files->mayLeave())
            m_files->openDemo();
    });
    file->addSeparator();
    action(file, "file.save", tr("&Save"), QKeySequence::Save, [this] { m_files->save(); });
    action(file, "file.saveAs", tr("Save &as..."), QKeySequence("Ctrl+Shift+S"), [this] { m_files->saveAs(); });
    file->addSeparator();
    action(file, "file.exportAgain", tr("&Export again"), QKeySequence("Ctrl+E"), [this] { m_finals->again(); });
    file->addSeparator();
    action(file, "file.quit", tr("&Quit"), QKeySequence("Ctrl+Q"), [this] { close(); });

    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    m_undo = action(edit, "edit.undo", tr("&Undo"), QKeySequence::Undo, [this] { m_session.undo(); });
    m_redo = action(edit, "edit.redo", tr("&Redo"), QKeySequence("Ctrl+Shift+Z"), [this] { m_session.redo(); });
    m_undo->setEnabled(false);
    m_redo->setEnabled(false);
    edit->addSeparator();
    action(edit, "edit.chooseAll", tr("Choose &all"), QKeySequence::SelectAll, [this] {
        session::Choice choice;
        for (const std::string& id : m_session.work().pieces.order)
            choice.add({id, {}});
        m_session.choose(choice);
    });
    action(edit, "edit.chooseNothing", tr("Choose &nothing"), {}, [this] { m_session.choose({}); });

    QMenu* piece = menuBar()->addMenu(tr("&Piece"));
    action(piece, "piece.add", tr("Add &lettering"), QKeySequence("Ctrl+Shift+L"), [this] { m_ticket->addLettering(); });
    action(piece, "piece.duplicate", tr("&Duplicate"), QKeySequence("Ctrl+D"), [this] { m_ticket->duplicateChosen(); });
    piece->addSeparator();
    action(piece, "piece.front", tr("To the &front"), {}, [this] { m_ticket->moveChosen(-1); });
    action(piece, "piece.back", tr("To the &back"), {}, [this] { m_ticket->moveChosen(1); });
    action(piece, "piece.hide", tr("&Hide"), {}, [this] { m_ticket->setHidden(true); });
    action(piece, "piece.show", tr("&Show"), {}, [this] { m_ticket->setHidden(false); });
    action(piece, "piece.lock", tr("Loc&k"), {}, [this] { m_ticket->setLocked(true); });
    action(piece, "piece.unlock", tr("&Unlock"), {}, [this] { m_ticket->setLocked(false); });
    piece->addSeparator();
    action(piece, "piece.delete", tr("D&elete"), {}, [this] { m_ticket->removeChosen(); });

    QMenu* view = menuBar()->addMenu(tr("&View"));
    action(view, "view.menuHome", tr("&Home"), {}, [this] { standardView(session::StandardView::Straight); });
    action(view, "view.menuLast", tr("Back to the &last view"), {}, [this] { m_session.backToLastView(); });
    action(view, "view.menuIsoLeft", tr("&Isometric from the left"), {}, [this] { standardView(session::StandardView::IsometricLeft); });
    action(view, "view.menuIsoRight", tr("Isometric from the &right"), {}, [this] { standardView(session::StandardView::IsometricRight); });
    action(view, "view.menuAbove", tr("From &above"), {}, [this] { standardView(session::StandardView::FromAbove); });
    view->addSeparator();
    toggle(view, "view.hold", tr("Hol&d the picture"), QKeySequence("Ctrl+Shift+H"), m_state->hold);
    auto* part = action(view, "view.part", tr("&Part only"), QKeySequence("Ctrl+Shift+P"), [this] {
        if (m_picture->hasPart() || m_session.choice().empty() || !m_picture->partOfChosen())
            m_state->part->click();
    });
    part->setCheckable(true);
    connect(m_state->part, &QToolButton::toggled, part, &QAction::setChecked);
    toggle(view, "view.actualSize", tr("Pixel for pi&xel"), QKeySequence("Ctrl+1"), m_state->actualSize);
    toggle(view, "view.clipped", tr("Mark &clipped pixels"), QKeySequence("Ctrl+Shift+C"), m_state->clipped);
    auto* side = toggle(view, "view.bench", tr("&Side view"), QKeySequence("Ctrl+Shift+B"), m_state->bench);
    auto* desk = toggle(view, "view.desk", tr("Li&ght desk"), QKeySequence("Ctrl+Shift+D"), m_state->desk);
    connect(this, &MainWindow::benchChanged, this, [this, side, desk] {
        side->setChecked(m_state->bench->isChecked());
        desk->setChecked(m_state->desk->isChecked());
    });
    auto* reduce = action(view, "view.denoise", tr("&Noise reduction"), {}, [this] {
        m_reducesNoise = !m_reducesNoise;
        restart();
    });
    reduce->setCheckable(true);
    reduce->setChecked(true);
    view->addSeparator();
    QMenu* appearance = view->addMenu(tr("Appea&rance"));
    auto* group = new QActionGroup(appearance);
    const std::pair<const char*, QString> variants[] = {{"desktop", tr("As the &desktop")}, {"light", tr("&Light")}, {"dark", tr("Dar&k")}};
    for (const auto& [id, text] : variants) {
        auto* a = action(appearance, id, text, {}, [this, id = QString(id)] { setAppearance(id); });
        a->setObjectName(QString("view.appearance.") + id);
        a->setCheckable(true);
        a->setChecked(QSettings().value("appearance", "desktop").toString() == id);
        group->addAction(a);
    }
    // Sections and the two halves of the window by key.
    for (int i = 1; i <= 9; ++i) {
        auto* open = new QAction(this);
        open->setObjectName(QString("section.key%1").arg(i));
        open->setShortcut(QKeySequence(QString("Alt+%1").arg(i)));
        connect(open, &QAction::triggered, this, [this, i] { m_ticket->openSection(i); });
        addAction(open);
    }
    auto* halves = new QAction(this);
    halves->setObjectName("window.halves");
    halves->setShortcut(QKeySequence("F6"));
    connect(halves, &QAction::triggered, this, [this] {
        if (m_picture->hasFocus())
            m_ticket->findChild<QWidget*>("pieces")->setFocus(Qt::ShortcutFocusReason);
        else
            m_picture->setFocus(Qt::ShortcutFocusReason);
    });
    addAction(halves);

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    action(help, "help.guide", tr("&How a still is made"), QKeySequence("F1"), [this] { showGuide(this); });
    action(help, "help.shortcuts", tr("All &shortcuts"), QKeySequence("Shift+F1"), [this] { showShortcuts(this); });
    action(help, "help.about", tr("&About Open Glow"), {}, [this] {
        QMessageBox box(QMessageBox::NoIcon, tr("Open Glow"),
                        tr("Open Glow %1: lettering in light and depth.\n\nFree software under the GNU General Public License, version 3 "
                           "or later. It comes with no warranty.")
                            .arg(QApplication::applicationVersion()),
                        QMessageBox::Close, this);
        box.exec();
    });
}

void MainWindow::setAppearance(const QString& appearance)
{
    QSettings().setValue("appearance", appearance);
    showMessage(tr("Open Glow takes the new look when it starts again."));
}

}  // namespace app
