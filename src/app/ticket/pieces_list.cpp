#include "app/ticket/pieces_list.h"

#include <QFile>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>
#include <QRegularExpression>
#include <QStyledItemDelegate>
#include <QUrl>

#include "app/style.h"
#include "session/edits.h"
#include "session/groups.h"
#include "work/piece_outlines.h"

namespace app {

namespace {

constexpr int kMostShown = 5;  // rows before the list scrolls
constexpr int kInner = 3 * kGrid;
// A row is a piece, or the head of a group, whose pieces follow it further in.
enum Role { Id = Qt::UserRole, Detail, Faint, IsGroup, Inner };

QSize pictureSize();

int groupHeight()
{
    return pictureSize().height() * 2 / 3;
}

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

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override
    {
        return {120, index.data(IsGroup).toBool() ? groupHeight() : rowHeight()};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const Colours& c = colours();
        const bool chosen = option.state & QStyle::State_Selected, over = option.state & QStyle::State_MouseOver;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const QRect box = option.rect.adjusted(index.data(Inner).toBool() ? 1 + kInner : 1, 1, -1, -1);
        painter->setPen(Qt::NoPen);
        painter->setBrush(chosen ? c.accent : over ? c.hover : c.field);
        painter->drawRoundedRect(box, kRound, kRound);
        if (index.data(IsGroup).toBool()) {
            QFont bold = option.font;
            bold.setWeight(QFont::DemiBold);
            painter->setFont(bold);
            painter->setPen(chosen ? c.onAccent : c.ink);
            painter->drawText(
                box.adjusted(2 * kGrid, 0, -kGrid, 0), Qt::AlignVCenter,
                QFontMetrics(bold).elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideRight, box.width() - 3 * kGrid));
            painter->restore();
            return;
        }
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
    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const int left =
            option.rect.left() +
            (index.data(IsGroup).toBool() ? 2 * kGrid : pictureSize().width() + 3 * kGrid + index.data(Inner).toBool() * kInner);
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

QString pieceDetail(const work::Piece& piece, bool flat)
{
    QString line = piece.lettering() ? PiecesList::tr("lettering")
                   : piece.artwork() ? (piece.letterIds().size() == 1 ? PiecesList::tr("artwork, 1 shape")
                                                                      : PiecesList::tr("artwork, %1 shapes").arg(piece.letterIds().size()))
                   : piece.shape()   ? (piece.shape()->isPlate() ? PiecesList::tr("plate") : PiecesList::tr("shape"))
                                     : PiecesList::tr("made by a newer version");
    if (piece.copies.all() > 1)
        line += PiecesList::tr(", %n linked", nullptr, piece.copies.all() - 1);
    if (flat)
        line += PiecesList::tr(", printed flat");
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
    setDefaultDropAction(Qt::MoveAction);
    setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setItemDelegate(new PieceDelegate(this));
    setMouseTracking(true);
    setToolTip(tr("Drag to change the order, or out into another program: as outlines (SVG); double click or F2 renames"));
    connect(this, &QListWidget::itemSelectionChanged, this, &PiecesList::chooseFromList);
    connect(this, &QListWidget::itemChanged, this, &PiecesList::takeName);
    connect(model(), &QAbstractItemModel::rowsMoved, this, [this] {
        std::vector<std::string> order;
        for (int i = 0; i < count(); ++i)
            if (!item(i)->data(IsGroup).toBool())
                order.push_back(item(i)->data(Id).toString().toStdString());
        m_context.session->edit(tr("Order").toStdString(), [&](work::Work& w) { session::setOrder(w, order); });
    });
}

QSize PiecesList::sizeHint() const
{
    int height = count() == 0 ? rowHeight() : 0;
    for (int i = 0; i < count() && height < kMostShown * rowHeight(); ++i)
        height += item(i)->data(IsGroup).toBool() ? groupHeight() : rowHeight();
    return {200, std::min(height, kMostShown * rowHeight()) + 2 * frameWidth() + 2};
}

void PiecesList::takeName(QListWidgetItem* item)
{
    if (m_refreshing)
        return;
    const std::string id = item->data(Id).toString().toStdString(), name = item->data(Qt::EditRole).toString().toStdString();
    const bool isGroup = item->data(IsGroup).toBool();
    m_context.session->edit(tr("Name").toStdString(),
                            [&](work::Work& w) { (isGroup ? w.groups.items.at(id).name : w.pieces.items.at(id).name) = name; });
    refresh();
}

void PiecesList::rename()
{
    if (currentItem())
        editItem(currentItem());
}

QMimeData* PiecesList::mimeData(const QList<QListWidgetItem*>& items) const
{
    QMimeData* dragged = QListWidget::mimeData(items);
    const work::Work& w = m_context.session->work();
    std::vector<std::string> pieces;
    for (const std::string& id : w.pieces.order)
        for (const QListWidgetItem* item : items)
            if (item->data(Id).toString().toStdString() == id)
                pieces.push_back(id);
    const auto svg = work::piecesAsSvg(w, pieces, m_fonts);
    if (pieces.empty() || !svg)
        return dragged;
    const QByteArray bytes = QByteArray::fromStdString(*svg);
    dragged->setData("image/svg+xml", bytes);
    QString name = QString::fromStdString(session::titleOf(w.pieces.items.at(pieces.front())));
    static const QRegularExpression s_noName("[^\\w -]");
    name = name.remove(s_noName).trimmed();
    QFile file(m_draggedTo.filePath((name.isEmpty() ? tr("Outlines") : name) + ".svg"));
    if (file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size()) {
        file.close();
        dragged->setUrls({QUrl::fromLocalFile(file.fileName())});
    }
    return dragged;
}

void PiecesList::refresh()
{
    m_refreshing = true;
    const work::Work& w = m_context.session->work();
    struct Row {
        std::string id;
        bool isGroup = false;
    };
    std::vector<Row> rows;
    std::string last;
    for (const std::string& id : w.pieces.order) {
        const std::string group = session::groupOf(w, id);
        if (!group.empty() && group != last)
            rows.push_back({group, true});
        rows.push_back({id});
        last = group;
    }
    // Items stay where the pieces are the same, so that a drag or an edit in the list is not cut off.
    bool same = count() == static_cast<int>(rows.size());
    for (int i = 0; same && i < count(); ++i)
        same = item(i)->data(Id).toString().toStdString() == rows[static_cast<std::size_t>(i)].id;
    if (!same) {
        clear();
        for (const Row& row : rows) {
            auto* added = new QListWidgetItem(this);
            added->setData(Id, QString::fromStdString(row.id));
            added->setData(IsGroup, row.isGroup);
            added->setFlags((added->flags() | Qt::ItemIsEditable) & ~Qt::ItemIsDropEnabled);
            if (row.isGroup)
                added->setFlags(added->flags() & ~Qt::ItemIsDragEnabled);
        }
        updateGeometry();
    }
    const auto& targets = m_context.session->choice().targets;
    const auto isChosen = [&](const std::string& id) {
        return std::any_of(targets.begin(), targets.end(), [&](const auto& t) { return t.piece == id; });
    };
    for (int i = 0; i < count(); ++i) {
        const std::string& id = rows[static_cast<std::size_t>(i)].id;
        if (rows[static_cast<std::size_t>(i)].isGroup) {
            const QString title = QString::fromStdString(session::groupTitle(w, id));
            const auto members = session::piecesIn(w, id);
            item(i)->setText(title);
            item(i)->setData(Qt::AccessibleTextRole, tr("Group %1").arg(title));
            item(i)->setSelected(std::all_of(members.begin(), members.end(), isChosen));
            continue;
        }
        const work::Piece& piece = w.pieces.items.at(id);
        const QString title = QString::fromStdString(session::titleOf(piece)),
                      detail = pieceDetail(piece, isFlat(m_context.session->work(), id));
        item(i)->setText(title);
        item(i)->setData(Detail, detail);
        item(i)->setData(Faint, piece.hidden);
        item(i)->setData(Inner, !session::groupOf(w, id).empty());
        item(i)->setData(Qt::AccessibleTextRole, title + ", " + detail);
        const auto picture = m_pictures.find(id);
        item(i)->setData(Qt::DecorationRole, picture == m_pictures.end() ? QVariant() : QVariant(picture->second));
        item(i)->setSelected(isChosen(id));
    }
    m_refreshing = false;
}

namespace {

// Where pieces lie that are printed flat, in a picture of this size.
std::map<std::string, QRectF> printedBoxes(const work::Work& work, QSize picture)
{
    std::map<std::string, QRectF> boxes;
    const double perPt = picture.width() / work.sheet().widthPt();
    for (const finish::Layer& layer : work::layersOf(work)) {
        const auto* print = std::get_if<finish::Print>(&layer.what);
        base::Box2 box;
        if (print && print->shape)
            for (const auto& line : *print->shape)
                for (const base::Vec2& p : line)
                    box.add(p);
        if (!box.empty())
            boxes[print->piece] = {QPointF(picture.width() / 2.0 + box.low.x * perPt, picture.height() / 2.0 - box.high.y * perPt),
                                   QPointF(picture.width() / 2.0 + box.high.x * perPt, picture.height() / 2.0 - box.low.y * perPt)};
    }
    return boxes;
}

}  // namespace

void PiecesList::showPictures(const session::LiveFrame& frame)
{
    if (!frame.picture || !frame.ids || frame.ids->width != frame.picture->width || frame.ids->height != frame.picture->height)
        return;
    const picture::Raster<std::uint8_t>& seen = *frame.picture;
    const QImage image(seen.values.data(), seen.width, seen.height, seen.width * seen.channels, QImage::Format_RGB888);
    const QSize size = pictureSize() * devicePixelRatioF();
    std::map<std::string, QRectF> boxes = printedBoxes(frame.shownWork->work, image.size());
    for (const auto& [number, box] : boxesOf(*frame.ids))
        boxes[work::addressOf(frame.shownWork->work, {number, 0, 0}).piece] = QRectF(box);
    for (const auto& [id, box] : boxes) {
        if (id.empty())
            continue;
        // A little of what is round it, in the tile's proportions.
        QRectF part = box.adjusted(-2, -2, 2, 2);
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
    // A group's head stands for all its pieces, unless some of them were taken out of the choice.
    const auto& before = m_context.session->choice();
    session::Choice choice;
    for (int i = 0; i < count(); ++i) {
        const std::string id = item(i)->data(Id).toString().toStdString();
        if (!item(i)->isSelected())
            continue;
        if (!item(i)->data(IsGroup).toBool())
            choice.add({id, {}});
        else if (const auto members = session::piecesIn(m_context.session->work(), id); !std::all_of(members.begin(), members.end(),
                                                                                                     [&](const std::string& m) {
                                                                                                         return before.has({m, {}});
                                                                                                     }) ||
                                                                                        currentItem() == item(i))
            for (const std::string& member : members)
                choice.add({member, {}});
    }
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
