#include "app/fields/font_field.h"

#include <QAbstractListModel>
#include <QFileDialog>
#include <QFontDatabase>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPainter>
#include <QPushButton>
#include <QScrollBar>
#include <QSettings>
#include <QSortFilterProxyModel>
#include <QStyledItemDelegate>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>
#include <numbers>

#include "app/fields/one_of_field.h"
#include "app/fields/panel.h"
#include "app/style.h"
#include "outline/faces_here.h"

namespace app {

namespace {

// px, at the text's size
int scaled(int px)
{
    return px * currentLook().textPercent / 100;
}

int nameHeight()
{
    return scaled(18);
}

enum Role { Family = Qt::UserRole, Style, IsFavourite, IsLastUsed };

using Kept = QStringList;  // of faces, as "family|style"
constexpr const char* kUsed = "faces/used";
constexpr const char* kFavourites = "faces/favourites";
constexpr int kMostUsed = 6;

QString keyOf(const QString& family, const QString& style)
{
    return family + "|" + style;
}

}  // namespace

// Scalable faces of this machine, family by family; over them those that were used last, once more.
class FontField::Faces : public QAbstractListModel {
public:
    Faces() : m_here(outline::facesHere()) { readKept(); }

    void readKept()
    {
        beginResetModel();
        m_favourites = QSettings().value(kFavourites).toStringList();
        m_rows.clear();
        for (const QString& used : QSettings().value(kUsed).toStringList())
            for (std::size_t i = 0; i < m_here.size(); ++i)
                if (keyOf(familyOf(i), styleOf(i)) == used)
                    m_rows.push_back(i);
        m_used = static_cast<int>(m_rows.size());
        for (std::size_t i = 0; i < m_here.size(); ++i)
            m_rows.push_back(i);
        endResetModel();
    }
    int rowCount(const QModelIndex& parent) const override { return parent.isValid() ? 0 : static_cast<int>(m_rows.size()); }
    QVariant data(const QModelIndex& index, int role) const override
    {
        const std::size_t face = m_rows[static_cast<std::size_t>(index.row())];
        switch (role) {
        case Qt::DisplayRole:
            return QString(familyOf(face) + " " + styleOf(face));
        case Qt::AccessibleTextRole: {
            const QString name = familyOf(face) + " " + styleOf(face);
            return isFavourite(face) ? QObject::tr("%1, a favourite").arg(name) : name;
        }
        case Family:
            return familyOf(face);
        case Style:
            return styleOf(face);
        case IsFavourite:
            return isFavourite(face);
        case IsLastUsed:
            return index.row() == m_used - 1;
        default:
            return {};
        }
    }
    unsigned kinds(int row)
    {
        const std::size_t face = m_rows[static_cast<std::size_t>(row)];
        if (m_kinds.empty())
            for (const outline::FaceHere& here : m_here)
                m_kinds.push_back(outline::kindsOf(here));
        return m_kinds[face];
    }
    bool isUsed(int row) const { return row < m_used; }

private:
    QString familyOf(std::size_t face) const { return QString::fromStdString(m_here[face].family); }
    QString styleOf(std::size_t face) const { return QString::fromStdString(m_here[face].style); }
    bool isFavourite(std::size_t face) const { return m_favourites.contains(keyOf(familyOf(face), styleOf(face))); }

    std::vector<outline::FaceHere> m_here;
    std::vector<unsigned> m_kinds;    // of each, once they are asked for
    std::vector<std::size_t> m_rows;  // places in m_here
    int m_used = 0;                   // rows at the top
    Kept m_favourites;
};

namespace {

// Which faces are listed.
struct Choice {
    const char* label;
    unsigned kind;  // 0: all
};
constexpr Choice kChoices[] = {{QT_TRANSLATE_NOOP("app::FontField", "All faces"), 0},
                               {QT_TRANSLATE_NOOP("app::FontField", "Favourites"), 0},
                               {QT_TRANSLATE_NOOP("app::FontField", "Heavy"), outline::Heavy},
                               {QT_TRANSLATE_NOOP("app::FontField", "Narrow"), outline::Narrow},
                               {QT_TRANSLATE_NOOP("app::FontField", "Rounded"), outline::Rounded},
                               {QT_TRANSLATE_NOOP("app::FontField", "Script"), outline::Script},
                               {QT_TRANSLATE_NOOP("app::FontField", "Slab"), outline::Slab},
                               {QT_TRANSLATE_NOOP("app::FontField", "Blackletter"), outline::Blackletter}};
constexpr int kFavouriteChoice = 1;

}  // namespace

// By words in the name, any order, and by kind. While anything is asked for, those used last stand in their places alone.
class FontField::ShownFaces : public QSortFilterProxyModel {
public:
    ShownFaces(Faces* faces, QObject* parent) : QSortFilterProxyModel(parent), m_faces(faces) { setSourceModel(faces); }
    void ask(const QString& words, int choice)
    {
        m_words = words.split(' ', Qt::SkipEmptyParts);
        m_choice = choice;
        invalidateFilter();
    }

protected:
    bool filterAcceptsRow(int row, const QModelIndex& parent) const override
    {
        if (m_words.isEmpty() && m_choice == 0)
            return true;
        const QModelIndex index = m_faces->index(row, 0, parent);
        const QString name = index.data().toString();
        if (m_faces->isUsed(row) ||
            !std::all_of(m_words.begin(), m_words.end(), [&](const QString& word) { return name.contains(word, Qt::CaseInsensitive); }))
            return false;
        if (m_choice == kFavouriteChoice)
            return index.data(IsFavourite).toBool();
        const unsigned kind = kChoices[m_choice].kind;
        return kind == 0 || (m_faces->kinds(row) & kind);
    }

private:
    Faces* m_faces;
    QStringList m_words;
    int m_choice = 0;
};

namespace {

void paintStar(QPainter& painter, QPointF middle, double radius)
{
    QPolygonF star;
    for (int i = 0; i < 10; ++i) {
        const double angle = std::numbers::pi * (i / 5.0 - 0.5), r = i % 2 ? radius * 0.4 : radius;
        star << middle + QPointF(std::cos(angle), std::sin(angle)) * r;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(painter.pen().color());
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(star);
}

// A row: the sample in the face itself over the face's name.
class FaceRow : public QStyledItemDelegate {
public:
    QString sample;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {200, scaled(48)}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const bool chosen = option.state & QStyle::State_Selected;
        painter->save();
        painter->fillRect(option.rect, chosen ? colours().accent : colours().field);
        painter->setClipRect(option.rect);
        QFont face = QFontDatabase::font(index.data(Family).toString(), index.data(Style).toString(), 12);
        face.setPixelSize(scaled(22));
        painter->setFont(face);
        painter->setPen(chosen ? colours().onAccent : colours().ink);
        const QRect upper = option.rect.adjusted(8, 0, -8, -nameHeight() + 2);
        painter->drawText(upper, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextSingleLine, sample);
        QFont name = option.font;
        name.setPixelSize(smallTextPx());
        painter->setFont(name);
        painter->setPen(chosen ? colours().onAccent : colours().softInk);
        painter->drawText(option.rect.adjusted(8, option.rect.height() - nameHeight(), -8, -2), Qt::AlignLeft | Qt::AlignVCenter,
                          index.data().toString());
        if (index.data(IsFavourite).toBool())
            paintStar(*painter, QPointF(option.rect.right() - 14, option.rect.bottom() - nameHeight() / 2.0 - 1), scaled(6));
        if (index.data(IsLastUsed).toBool()) {
            painter->setPen(QPen(colours().softInk, 1));
            painter->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
        }
        painter->restore();
    }
};

}  // namespace

FontField::FontField(QWidget* parent) : QWidget(parent)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    m_button = new QToolButton;
    m_button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_button->setMinimumHeight(30);
    row->addWidget(m_button);
    setFocusProxy(m_button);
    connect(m_button, &QToolButton::clicked, this, &FontField::openPanel);
}

void FontField::setObjectNames(const QString& name)
{
    setObjectName(name);
    m_button->setObjectName(name + ".button");
}

void FontField::showValue(const std::optional<work::FontChoice>& value, const QString& sample)
{
    m_value = value;
    m_sample = sample.simplified();
    if (!value) {
        m_button->setText(tr("mixed"));
        m_button->setFont(font());
        return;
    }
    const QString family = QString::fromStdString(value->family), style = QString::fromStdString(value->style);
    QFont face = QFontDatabase::families().contains(family) ? QFontDatabase::font(family, style, 12) : font();
    face.setPixelSize(16);
    m_button->setFont(face);
    m_button->setText(QFontMetrics(face).elidedText(family + (style.isEmpty() ? "" : " " + style), Qt::ElideRight, 190));
    m_button->setAccessibleName(tr("Face: %1 %2").arg(family, style));
}

void FontField::makePanel()
{
    m_panel = new QWidget(this, Qt::Popup);
    m_panel->setObjectName(objectName() + ".panel");
    m_panel->setFixedWidth(360);
    m_panel->installEventFilter(this);
    auto* box = new QVBoxLayout(m_panel);
    box->setContentsMargins(2 * kGrid, 2 * kGrid, 2 * kGrid, 2 * kGrid);
    m_filter = new QLineEdit;
    m_filter->setObjectName(objectName() + ".filter");
    m_filter->setPlaceholderText(tr("Part of a name"));
    m_filter->setAccessibleName(tr("Filter faces"));
    m_filter->installEventFilter(this);
    auto* asking = new QHBoxLayout;
    asking->setSpacing(kGrid);
    asking->addWidget(m_filter, 1);
    m_kind = new OneOfField;
    m_kind->setObjectName(objectName() + ".kind");
    m_kind->setAccessibleName(tr("Kind of face"));
    for (const Choice& choice : kChoices)
        m_kind->addItem(tr(choice.label));
    asking->addWidget(m_kind);
    m_favourite = new QToolButton;
    m_favourite->setObjectName(objectName() + ".favourite");
    m_favourite->setCheckable(true);
    m_favourite->setText(QString::fromUtf8("\u2605"));
    m_favourite->setAccessibleName(tr("Favourite"));
    m_favourite->setToolTip(tr("Keeps the face that is marked among the favourites"));
    asking->addWidget(m_favourite);
    box->addLayout(asking);
    m_list = new QListView;
    m_list->setObjectName(objectName() + ".list");
    m_list->setAccessibleName(tr("Faces"));
    m_list->setUniformItemSizes(true);
    m_list->setMinimumHeight(scaled(48) * 3);
    m_faces = new Faces;
    m_faces->setParent(m_panel);
    m_shown = new ShownFaces(m_faces, m_panel);
    m_list->setModel(m_shown);
    m_list->installEventFilter(this);
    m_list->setItemDelegate(new FaceRow);
    m_list->itemDelegate()->setParent(m_list);
    box->addWidget(m_list, 1);
    auto* file = new QPushButton(tr("Font file from disk..."));
    file->setObjectName(objectName() + ".file");
    box->addWidget(file);
    const auto ask = [this] {
        m_shown->ask(m_filter->text(), m_kind->currentIndex());
        if (!m_filter->text().isEmpty() || m_kind->currentIndex() > 0)
            m_list->setCurrentIndex(m_shown->index(0, 0));
        showFavourite();
    };
    connect(m_filter, &QLineEdit::textChanged, this, ask);
    connect(m_kind, &QComboBox::currentIndexChanged, this, ask);
    connect(m_list->selectionModel(), &QItemSelectionModel::currentChanged, this, &FontField::showFavourite);
    connect(m_favourite, &QToolButton::clicked, this, [this](bool on) {
        const QModelIndex index = m_list->currentIndex();
        if (!index.isValid())
            return;
        const QString key = keyOf(index.data(Family).toString(), index.data(Style).toString());
        Kept kept = QSettings().value(kFavourites).toStringList();
        kept.removeAll(key);
        if (on)
            kept << key;
        QSettings().setValue(kFavourites, kept);
        const int row = index.row(), scrolled = m_list->verticalScrollBar()->value();
        m_faces->readKept();
        m_list->setCurrentIndex(m_shown->index(std::min(row, m_shown->rowCount() - 1), 0));
        m_list->verticalScrollBar()->setValue(scrolled);
    });
    connect(m_filter, &QLineEdit::returnPressed, this, [this] { take(m_list->currentIndex()); });
    connect(m_list, &QListView::clicked, this, &FontField::take);
    connect(m_list, &QListView::activated, this, &FontField::take);
    connect(file, &QPushButton::clicked, this, [this] {
        m_panel->hide();
        const QString path = QFileDialog::getOpenFileName(this, tr("Font file"), {}, tr("Fonts (*.ttf *.otf *.ttc *.otc)"));
        if (!path.isEmpty())
            Q_EMIT fileChosen(path);
    });
}

void FontField::showFavourite()
{
    m_favourite->setEnabled(m_list->currentIndex().isValid());
    m_favourite->setChecked(m_list->currentIndex().data(IsFavourite).toBool());
}

void FontField::openPanel()
{
    if (!m_panel)
        makePanel();
    m_faces->readKept();
    m_kind->setCurrentIndex(0);
    static_cast<FaceRow*>(m_list->itemDelegate())->sample = m_sample.isEmpty() ? tr("Kite fair") : m_sample;
    m_filter->clear();
    if (m_value) {
        const QString wanted = QString::fromStdString(m_value->family + " " + m_value->style);
        for (int i = 0; i < m_shown->rowCount(); ++i)
            if (m_shown->index(i, 0).data().toString() == wanted) {
                m_list->setCurrentIndex(m_shown->index(i, 0));
                m_list->scrollTo(m_shown->index(i, 0), QAbstractItemView::PositionAtCenter);
                break;  // where it was used last
            }
    }
    m_triedAny = false;
    const int most = roomFor(m_button).height();
    m_panel->setFixedHeight(std::min(most, std::max(most * 2 / 3, 12 * scaled(48))));
    openBeside(m_panel, m_button);
    m_list->scrollTo(m_list->currentIndex(), QAbstractItemView::PositionAtCenter);  // once more: now it has its height
    m_filter->setFocus();
}

void FontField::tryFace(const QModelIndex& index)
{
    if (!index.isValid())
        return;
    m_list->setCurrentIndex(index);
    m_triedAny = true;
    Q_EMIT tried(index.data(Family).toString(), index.data(Style).toString());
}

void FontField::take(const QModelIndex& index)
{
    if (!index.isValid())
        return;
    m_triedAny = false;  // it is chosen, and not taken back when the panel closes
    m_panel->hide();
    const QString key = keyOf(index.data(Family).toString(), index.data(Style).toString());
    Kept used = QSettings().value(kUsed).toStringList();
    used.removeAll(key);
    used.prepend(key);
    QSettings().setValue(kUsed, Kept(used.mid(0, kMostUsed)));
    Q_EMIT chosen(index.data(Family).toString(), index.data(Style).toString());
}

// Arrows in the filter or the list walk it, and show each face in the picture. Closed in any other way, the face is as before.
bool FontField::eventFilter(QObject* object, QEvent* event)
{
    if ((object == m_filter || object == m_list) && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Up || key == Qt::Key_Down) {
            const int row =
                std::clamp(m_list->currentIndex().row() + (key == Qt::Key_Down ? 1 : -1), 0, std::max(0, m_shown->rowCount() - 1));
            tryFace(m_shown->index(row, 0));
            return true;
        }
    }
    if (object == m_panel && event->type() == QEvent::Hide && m_triedAny) {
        m_triedAny = false;
        Q_EMIT takenBack();
    }
    return QWidget::eventFilter(object, event);
}

}  // namespace app
