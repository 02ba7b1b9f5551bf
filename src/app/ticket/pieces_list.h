// The pieces of the work, front to back: a small picture of each, its name, and what it is.
#pragma once

#include <QListWidget>
#include <QPixmap>
#include <QTemporaryDir>
#include <map>

#include "app/ticket/section.h"
#include "session/render_queue.h"
#include "work/cache.h"

namespace app {

class PiecesList : public QListWidget {
    Q_OBJECT

public:
    explicit PiecesList(const Context& context, QWidget* parent = nullptr);

    void refresh();
    // Small pictures from what the renderer shows; those of pieces it does not show stay. O(pixels).
    void showPictures(const session::LiveFrame& frame);
    void rename();  // the current one, in its place

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {QSize(80, sizeHint().height())}; }

protected:
    void keyPressEvent(QKeyEvent* event) override;
    // Beside the rows for this list: the outlines as SVG, as such and as a file, for other programs.
    QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override;
    void startDrag(Qt::DropActions) override { QListWidget::startDrag(Qt::CopyAction | Qt::MoveAction); }

private:
    void chooseFromList();
    void takeName(QListWidgetItem* item);

    Context m_context;
    std::map<std::string, QPixmap> m_pictures;  // by piece
    bool m_refreshing = false;
    mutable work::Cache m_fonts;        // of what is dragged out
    mutable QTemporaryDir m_draggedTo;  // its file, while the window lives
};

// What the list says of a piece beside its name: "lettering, 2 linked, hidden".
QString pieceDetail(const work::Piece& piece, bool flat);

}  // namespace app
