// What is dropped on the window: samples, works, artwork, pictures, swatches, fonts.
#include <QFileInfo>
#include <QMenu>
#include <QMimeData>
#include <QMimeDatabase>
#include <QTimer>

#include "app/drawer/sample_book.h"
#include "app/picture/picture_view.h"
#include "app/ticket/ticket.h"
#include "app/window/artwork_files.h"
#include "app/window/main_window.h"
#include "app/window/picture_files.h"
#include "app/window/swatch_files.h"
#include "app/window/work_files.h"
#include "session/edits.h"
#include "session/summary.h"

namespace app {

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasFormat(kSampleMime) ||
        (event->mimeData()->hasUrls() && !event->source()))  // what is dragged within the program is no file to open
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    if (event->mimeData()->hasFormat(kSampleMime)) {
        event->acceptProposedAction();
        dropSample(QString::fromUtf8(event->mimeData()->data(kSampleMime)), m_picture->mapFrom(this, event->position()));
        return;
    }
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) {
            event->acceptProposedAction();
            // After the drop has ended: a question may follow.
            QTimer::singleShot(0, this, [this, path = url.toLocalFile(), place = m_picture->mapFrom(this, event->position())] {
                if (PictureFiles::isPanorama(path))
                    m_pictures->surround(path, true);
                else
                    PictureFiles::isPicture(path) ? takeDroppedPicture(path, place) : takeDropped(path);
            });
            return;
        }
}

void MainWindow::dropSample(const QString& sample, QPointF place)
{
    if (const work::Address at = m_picture->addressAt(place); !at.piece.empty())
        m_book->giveTo(at, sample);
    else if (const PictureView::OnGround ground = m_picture->groundAt(place); ground != PictureView::OnGround::Nothing)
        m_book->giveToGround(ground == PictureView::OnGround::Wall, sample);
    else
        showMessage(tr("There is nothing to give a material to; drop it on a letter, the wall or the floor"));
}

// A picture can be laid on what it is dropped on, or become a piece: its shapes are traced.
void MainWindow::takeDroppedPicture(const QString& path, QPointF place)
{
    const work::Address at = m_picture->addressAt(place);
    const PictureView::OnGround ground = at.piece.empty() ? m_picture->groundAt(place) : PictureView::OnGround::Nothing;
    auto* menu = new QMenu(this);
    menu->setObjectName("dropped.picture");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto lay = [&](const char* id, const QString& words, const std::string& piece,
                         std::function<std::vector<work::Material*>(work::Work&)> on) {
        menu->addAction(words, this,
                        [this, path, piece, on] {
                            m_pictures->lay(path, tr("Lay picture"), [=](work::Work& w, const std::string& asset) {
                                for (work::Material* m : on(w))
                                    work::layPicture(*m, asset, work::usualPictureWidth(w, piece));
                            });
                        })
            ->setObjectName(id);
    };
    const auto of = [](const session::Choice& choice) {
        return [choice](work::Work& w) {
            std::vector<work::Material*> all;
            for (work::MaterialSet* set : session::materialsIn(w, session::valid(w, choice))) {
                all.push_back(&set->piece);
                for (auto& [_, material] : set->parts)
                    all.push_back(&material);
            }
            return all;
        };
    };
    if (!at.piece.empty()) {
        const work::Piece& piece = m_session.work().pieces.items.at(at.piece);
        session::Choice whole, letter;
        whole.set({at.piece, {}});
        letter.set({at.piece, at.letter});
        lay("dropped.piece", tr("Lay it on %1").arg(QString::fromStdString(session::titleOf(piece))), at.piece, of(whole));
        if (piece.letterIds().size() > 1 && !at.letter.empty())
            lay("dropped.letter", tr("Lay it on the %1 alone").arg(QString::fromStdString(session::letterText(piece, at.letter))), at.piece,
                of(letter));
    } else if (ground == PictureView::OnGround::Wall) {
        lay("dropped.wall", tr("Lay it on the wall"), {}, [](work::Work& w) { return std::vector{&w.ground.wall}; });
    } else if (ground == PictureView::OnGround::Floor) {
        lay("dropped.floor", tr("Lay it on the floor"), {}, [](work::Work& w) { return std::vector{&w.ground.floor}; });
    }
    if (ArtworkFiles::isArtwork(path))
        menu->addAction(tr("Trace its shapes as a piece"), this, [this, path] { m_artwork->add(path); })->setObjectName("dropped.trace");
    if (menu->actions().size() == 1 && ArtworkFiles::isArtwork(path)) {  // nothing to lay it on
        menu->deleteLater();
        m_artwork->add(path);
    } else if (menu->isEmpty()) {
        menu->deleteLater();
        showMessage(tr("%1 can be laid on letters, wall or floor: drop it there").arg(QFileInfo(path).fileName()));
    } else {
        menu->popup(m_picture->mapToGlobal(place.toPoint()));
    }
}

void MainWindow::takeDropped(const QString& path)
{
    const QFileInfo file(path);
    const QMimeType type = QMimeDatabase().mimeTypeForFile(file);
    const QString ending = file.suffix().toLower();
    if (ending == "openglow") {
        if (m_files->mayLeave())
            m_files->open(path);
    } else if (ArtworkFiles::isArtwork(path)) {
        m_artwork->add(path);
    } else if (SwatchFiles::isSwatchFile(path)) {
        m_swatches->add(path);
    } else if (type.name().startsWith("font/") || ending == "otf" || ending == "ttf" || ending == "ttc") {
        if (m_session.choice().empty())
            showMessage(tr("%1 is a font. Choose lettering first, then drop it again: it becomes its face.").arg(file.fileName()));
        else
            m_ticket->useFontFile(path);
    } else {
        showMessage(file.isDir() ? tr("%1 is a folder. Works (.openglow) and artwork (.svg, .pdf, .png, .jpg, .tif) can be opened here, "
                                      "and fonts (.otf, .ttf) become faces.")
                                       .arg(file.fileName())
                                 : tr("%1 is a %2. Works (.openglow) and artwork (.svg, .pdf, .png, .jpg, .tif) can be opened here, and "
                                      "fonts (.otf, .ttf) become faces.")
                                       .arg(file.fileName(), type.comment().isEmpty() ? tr("file of an unknown kind") : type.comment()));
    }
}

}  // namespace app
