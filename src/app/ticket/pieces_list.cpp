#include "app/ticket/pieces_list.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>

#include "app/style.h"
#include "session/edits.h"

namespace app {

namespace {

constexpr int kMostShown = 5;  // rows before the list scrolls
enum Role { Id = Qt::UserRole, Detail, Faint };

QSize pictureSize()
{
    return QSize(44, 32) * currentLook().textPercent / 100;
}

int rowHeight()
{
    return pictureSize().height() + kGrid;
}

class PieceDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {120, rowHeight()}; }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const Colours& c = colours();
        const bool chosen = option.state & QStyle::State_Selected, over = option.state & QStyle::State_MouseOver;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const QRect box = option.rect.adjusted(1, 1, -1, -1);
        painter->setPen(Qt::NoPen);
        painter->setBrush(chosen ? c.accent : over ? c.hover : c.field);
        painter->drawRoundedRect(box, kRound, kRound);
        const QSize size = pictureSize();
        const QRect tile(box.left() + kGrid, box.top() + (box.height() - size.height()) / 2 + 1, size.width(), size.height() - 2);
        const QPixmap picture = index.data(Qt::DecorationRole).value<QPixmap>();
        painter->setOpacity(index.data(Faint).toBool() ? 0.45 : 1);
        if (picture.isNull())
            painter->fillRect(tile, c.band);
        else
            painter->drawPixmap(tile, picture);
        const int left = tile.right() + 2 * kGrid;
        const QRect words(left, box.top(), box.right() - kGrid - left, box.height());
        QFont name = option.font, detail = option.font;
        name.setWeight(QFont::DemiBold);
        detail.setPixelSize(smallTextPx());
        const QFontMetrics nameSize(name), detailSize(detail);
        const int top = words.top() + (words.height() - nameSize.height() - detailSize.height()) / 2;
        painter->setOpacity(1);
        painter->setFont(name);
        painter->setPen(chosen ? c.onAccent : c.ink);
        painter->drawText(QRect(words.left(), top, words.width(), nameSize.height()), Qt::AlignVCenter,
                          nameSize.elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideRight, words.width()));
        painter->setFont(detail);
        painter->setPen(chosen ? c.onAccent : c.softInk);
        painter->drawText(QRect(words.left(), top + nameSize.height(), words.width(), detailSize.height()), Qt::AlignVCenter,
                          detailSize.elidedText(index.data(Detail).toString(), Qt::ElideRight, words.width()));
        painter->restore();
    }

    // The name alone is typed, over where it stands.
    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option, const QModelIndex&) const override
    {
        const int left = option.rect.left() + pictureSize().width() + 3 * kGrid;
        editor->setGeometry(QRect(left, option.rect.top() + 2, option.rect.right() - left, option.rect.height() - 4));
    }
};

// One picture for each piece that is seen: what its pixels cover, the rest as it is there.
std::map<std::uint16_t, QRect> boxesOf(const picture::Raster<film::PixelId>& ids)
{
    std::map<std::uint16_t, QRect> boxes;
    for (int y = 0; y < ids.height; ++y)
        for (int x = 0; x < ids.width; ++x)
            if (const std::uint16_t piece = ids.at(x, y)->piece; piece > 0)
                boxes[piece] |= QRect(x, y, 1, 1);
    return boxes;
}

}  // namespace

QString pieceDetail(const work::Piece& piece)
{
    QString line = piece.lettering() ? PiecesList::tr("lettering") : PiecesList::tr("made by a newer version");
    if (piece.copies.count > 0)
        line += PiecesList::tr(", %n linked", nullptr, piece.copies.count);
    if (piece.hidden)
        line += PiecesList::tr(", hidden");
    if (piece.locked)
        line += PiecesList::tr(", locked");
    return line;
}

PiecesList::PiecesList(const Context& context, QWidget* parent) : QListWidget(parent), m_context(context)
{
    setObjectName("pieces");
    setAccessibleName(tr("Pieces, front to back"));
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setDragDropMode(QAbstractItemView::InternalMove);
    setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setUniformItemSizes(true);
    setItemDelegate(new PieceDelegate(this));
    setMouseTracking(true);
    setToolTip(tr("Drag to change the order; double click or F2 renames"));
    connect(this, &QListWidget::itemSelectionChanged, this, &PiecesList::chooseFromList);
    connect(this, &QListWidget::itemChanged, this, &PiecesList::takeName);
    connect(model(), &QAbstractItemModel::rowsMoved, this, [this] {
        std::vector<std::string> order;
        for (int i = 0; i < count(); ++i)
            order.push_back(item(i)->data(Id).toString().toStdString());
        m_context.session->edit(tr("Order").toStdString(), [&](work::Work& w) { w.pieces.order = order; });
    });
}

QSize PiecesList::sizeHint() const
{
    return {200, std::clamp(count(), 1, kMostShown) * rowHeight() + 2 * frameWidth() + 2};
}

void PiecesList::takeName(QListWidgetItem* item)
{
    if (m_refreshing)
        return;
    const std::string id = item->data(Id).toString().toStdString(), name = item->data(Qt::EditRole).toString().toStdString();
    m_context.session->edit(tr("Name").toStdString(), [&](work::Work& w) { w.pieces.items.at(id).name = name; });
    refresh();
}

void PiecesList::rename()
{
    if (currentItem())
        editItem(currentItem());
}

void PiecesList::refresh()
{
    m_refreshing = true;
    const work::Work& w = m_context.session->work();
    QList<QVariant> ids;
    for (const std::string& id : w.pieces.order)
        ids << QString::fromStdString(id);
    // Items stay where the pieces are the same, so that a drag or an edit in the list is not cut off.
    bool same = count() == ids.size();
    for (int i = 0; same && i < ids.size(); ++i)
        same = item(i)->data(Id) == ids[i];
    if (!same) {
        clear();
        for (const QVariant& id : ids) {
            auto* added = new QListWidgetItem(this);
            added->setData(Id, id);
            added->setFlags((added->flags() | Qt::ItemIsEditable) & ~Qt::ItemIsDropEnabled);
        }
        updateGeometry();
    }
    const auto& targets = m_context.session->choice().targets;
    for (int i = 0; i < count(); ++i) {
        const std::string& id = w.pieces.order[static_cast<std::size_t>(i)];
        const work::Piece& piece = w.pieces.items.at(id);
        const QString title = QString::fromStdString(session::titleOf(piece)), detail = pieceDetail(piece);
        item(i)->setText(title);
        item(i)->setData(Detail, detail);
        item(i)->setData(Faint, piece.hidden);
        item(i)->setData(Qt::AccessibleTextRole, title + ", " + detail);
        const auto picture = m_pictures.find(id);
        item(i)->setData(Qt::DecorationRole, picture == m_pictures.end() ? QVariant() : QVariant(picture->second));
        item(i)->setSelected(std::any_of(targets.begin(), targets.end(), [&](const auto& t) { return t.piece == id; }));
    }
    m_refreshing = false;
}

void PiecesList::showPictures(const session::LiveFrame& frame)
{
    if (!frame.picture || !frame.ids || frame.ids->width != frame.picture->width || frame.ids->height != frame.picture->height)
        return;
    const picture::Raster<std::uint8_t>& seen = *frame.picture;
    const QImage image(seen.values.data(), seen.width, seen.height, seen.width * seen.channels, QImage::Format_RGB888);
    const QSize size = pictureSize() * devicePixelRatioF();
    for (const auto& [number, box] : boxesOf(*frame.ids)) {
        const std::string id = work::addressOf(frame.shownWork->work, {number, 0, 0}).piece;
        if (id.empty())
            continue;
        // A little of what is round it, in the tile's proportions.
        QRectF part = QRectF(box).adjusted(-2, -2, 2, 2);
        const QSizeF room = QSizeF(size).scaled(part.size(), Qt::KeepAspectRatioByExpanding);
        part = QRectF(part.center() - QPointF(room.width() / 2, room.height() / 2), room);
        QPixmap picture(size);
        picture.fill(colours().band);
        QPainter painter(&picture);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const QRectF there = part & QRectF(image.rect());
        const double scale = size.width() / part.width();
        const QImage piece =
            image.copy(there.toAlignedRect()).scaled((there.size() * scale).toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
        painter.drawImage(QPointF((there.x() - part.x()) * scale, (there.y() - part.y()) * scale), piece);
        painter.end();
        picture.setDevicePixelRatio(devicePixelRatioF());
        m_pictures[id] = picture;
    }
    refresh();
}

void PiecesList::chooseFromList()
{
    if (m_refreshing)
        return;
    session::Choice choice;
    for (int i = 0; i < count(); ++i)
        if (item(i)->isSelected())
            choice.add({item(i)->data(Id).toString().toStdString(), {}});
    m_context.session->choose(choice);
}

void PiecesList::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Delete && state() != QAbstractItemView::EditingState) {
        m_context.session->edit(tr("Delete").toStdString(),
                                [&](work::Work& w) { session::remove(w, m_context.session->choice().pieces()); });
        return;
    }
    QListWidget::keyPressEvent(event);
}

}  // namespace app
