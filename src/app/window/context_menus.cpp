// What a right click offers: of what lies under it, in words.
#include <QMenu>

#include "app/picture/hands.h"
#include "app/picture/paint.h"
#include "app/window/main_window.h"
#include "session/clip.h"
#include "session/edits.h"
#include "work/artwork.h"

namespace app {

// Lines of the window's own menus; an empty id separates.
void MainWindow::addActions(QMenu* menu, const std::vector<const char*>& ids)
{
    for (const char* id : ids)
        if (!*id)
            menu->addSeparator();
        else if (auto* action = findChild<QAction*>(id))
            menu->addAction(action);
}

void MainWindow::addUnderPointer(QMenu* menu, QPointF place)
{
    const std::vector<session::Target> all = m_picture->targetsUnder(place);
    if (all.empty())
        return;
    menu->addAction(tr("Under the pointer, front to back"))->setEnabled(false);
    std::string last;
    int number = 0;
    for (const session::Target& target : all) {
        const work::Piece& piece = m_session.work().pieces.items.at(target.piece);
        const auto line = [&](const QString& words, const session::Target& chosen) {
            QAction* action = menu->addAction(words, this, [this, chosen] {
                session::Choice choice;
                choice.set(chosen);
                m_session.choose(choice);
            });
            action->setObjectName(QString("under.%1").arg(++number));
        };
        if (target.piece != last)
            line(tr("Choose %1").arg(QString::fromStdString(session::titleOf(piece))), {target.piece, {}});
        line(tr("   its letter %1").arg(QString::fromStdString(session::letterText(piece, target.letter))), target);
        last = target.piece;
    }
    menu->addSeparator();
}

void MainWindow::addLampMenu(QMenu* menu, const std::string& id)
{
    menu->addAction(QString::fromStdString(session::lightTitle(m_session.work(), id)))->setEnabled(false);
    QAction* on = menu->addAction(tr("&On"), this, [this, id](bool checked) {
        m_session.edit((checked ? tr("Light on") : tr("Light off")).toStdString(),
                       [&](work::Work& w) { w.lights.items.at(id).on = checked; });
    });
    on->setObjectName("lamp.on");
    on->setCheckable(true);
    on->setChecked(m_session.work().lights.items.at(id).on);
    menu->addAction(tr("&Duplicate"), this, [this, id] {
        m_session.edit(tr("Duplicate light").toStdString(), [&](work::Work& w) { session::duplicateLight(w, id); });
    });
    menu->addAction(tr("&Copy"), this, [this, id] { copyLight(id); })->setObjectName("lamp.copy");
    QAction* like = menu->addAction(tr("&Make it like the copied light"), this, [this, id] {
        if (const auto from = clip())
            m_session.edit(tr("Paste light").toStdString(), [&](work::Work& w) { session::pasteLight(w, id, *from); });
    });
    like->setObjectName("lamp.pasteLight");
    const auto copied = clip();
    like->setEnabled(copied && !copied->lights.order.empty());
    menu->addAction(tr("&Remove"), this,
                    [this, id] { m_session.edit(tr("Remove light").toStdString(), [&](work::Work& w) { session::removeLight(w, id); }); });
}

// Of a chosen shape of an artwork: all in its colour.
void MainWindow::addSameColour(QMenu* menu)
{
    const session::Choice& choice = m_session.choice();
    if (choice.empty() || choice.targets.back().letter.empty())
        return;
    const session::Target shape = choice.targets.back();
    const auto same = work::shapesOfColour(m_session.work(), shape.piece, shape.letter);
    if (same.empty())
        return;
    menu->addAction(tr("Choose all shapes of this colour (%1)").arg(same.size()), this,
                    [this, shape, same] {
                        session::Choice all;
                        for (const std::string& letter : same)
                            all.add({shape.piece, letter});
                        m_session.choose(all);
                    })
        ->setObjectName("picture.sameColour");
}

void MainWindow::showPictureMenu(QPointF place, const QPoint& global)
{
    auto* menu = new QMenu(this);
    menu->setObjectName("picture.menu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const std::vector<Lug> lugs = m_picture->hands()->lugs();
    const auto lamp =
        std::find_if(lugs.begin(), lugs.end(), [&](const Lug& lug) { return !lug.light.empty() && distance(lug.at, place) < 2 * kTake; });
    if (lamp != lugs.end()) {
        addLampMenu(menu, lamp->light);
    } else {
        addUnderPointer(menu, place);
        addSameColour(menu);
        if (!m_session.choice().empty())
            addActions(menu, {"edit.cut", "edit.copy", "edit.pasteForm", "edit.pasteMaterial", "piece.duplicate", "", "piece.fit",
                              "piece.breakLines", "piece.group", "piece.ungroup", "piece.hide", "piece.lock", "piece.front", "piece.back",
                              "piece.delete", ""});
        addActions(menu, {"edit.paste", "edit.copyPicture", "", "view.fit", "view.actualSize", "view.part", "view.lines", "view.lamps"});
    }
    menu->popup(global);
}

void MainWindow::showSectionMenu(Section* section, const QPoint& global)
{
    auto* menu = new QMenu(this);
    menu->setObjectName("section.menu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(section->isOpen() ? tr("Close") : tr("Open"), section, [section] { section->setOpen(!section->isOpen()); });
    menu->addAction(tr("Close all"), this, [this] {
        for (Section* s : m_ticket->sections())
            s->setOpen(false);
    });
    addActions(menu, {"", "view.ticket"});
    const QString id = section->objectName().mid(8);
    if (id == "form")
        addActions(menu, {"", "edit.pasteForm"});
    if (id == "material")
        addActions(menu, {"", "edit.pasteMaterial"});
    if (id == "export")
        addActions(menu, {"", "file.exportAgain", "edit.copyPicture"});
    menu->popup(global);
}

}  // namespace app
