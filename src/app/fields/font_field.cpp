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
#include <QSortFilterProxyModel>
#include <QStyledItemDelegate>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/fields/panel.h"
#include "app/style.h"

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

enum Role { Family = Qt::UserRole, Style };

struct Face {
    QString family, style;
    bool italic = false;
    int weight = 0;
};

// Scalable faces of this machine, family by family.
class Faces : public QAbstractListModel {
public:
    Faces()
    {
        for (const QString& family : QFontDatabase::families()) {
            if (!QFontDatabase::isSmoothlyScalable(family) || QFontDatabase::isPrivateFamily(family))
                continue;
            std::vector<Face> faces;
            for (const QString& style : QFontDatabase::styles(family))
                faces.push_back({family, style, QFontDatabase::italic(family, style), QFontDatabase::weight(family, style)});
            // Upright from light to heavy, then italic.
            std::stable_sort(faces.begin(), faces.end(),
                             [](const Face& a, const Face& b) { return a.italic != b.italic ? b.italic : a.weight < b.weight; });
            m_faces.insert(m_faces.end(), faces.begin(), faces.end());
        }
    }
    int rowCount(const QModelIndex& parent) const override { return parent.isValid() ? 0 : static_cast<int>(m_faces.size()); }
    QVariant data(const QModelIndex& index, int role) const override
    {
        const Face& face = m_faces[static_cast<std::size_t>(index.row())];
        switch (role) {
        case Qt::DisplayRole:
        case Qt::AccessibleTextRole:
            return QString(face.family + " " + face.style);
        case Family:
            return face.family;
        case Style:
            return face.style;
        default:
            return {};
        }
    }

private:
    std::vector<Face> m_faces;
};

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
    m_filter->setPlaceholderText(tr("Part of a name, such as \"black\" or \"lob\""));
    m_filter->setAccessibleName(tr("Filter faces"));
    m_filter->installEventFilter(this);
    box->addWidget(m_filter);
    m_list = new QListView;
    m_list->setObjectName(objectName() + ".list");
    m_list->setAccessibleName(tr("Faces"));
    m_list->setUniformItemSizes(true);
    m_list->setMinimumHeight(scaled(48) * 3);
    m_shown = new QSortFilterProxyModel(m_panel);
    auto* faces = new Faces;
    faces->setParent(m_panel);
    m_shown->setSourceModel(faces);
    m_shown->setFilterCaseSensitivity(Qt::CaseInsensitive);
    m_list->setModel(m_shown);
    m_list->installEventFilter(this);
    m_list->setItemDelegate(new FaceRow);
    m_list->itemDelegate()->setParent(m_list);
    box->addWidget(m_list, 1);
    auto* file = new QPushButton(tr("Font file from disk..."));
    file->setObjectName(objectName() + ".file");
    box->addWidget(file);
    connect(m_filter, &QLineEdit::textChanged, this, [this](const QString& text) {
        // Every word must be there, in any order.
        QString pattern;
        for (const QString& word : text.split(' ', Qt::SkipEmptyParts))
            pattern += "(?=.*" + QRegularExpression::escape(word) + ")";
        m_shown->setFilterRegularExpression(QRegularExpression(pattern, QRegularExpression::CaseInsensitiveOption));
        if (!text.isEmpty())
            m_list->setCurrentIndex(m_shown->index(0, 0));
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

void FontField::openPanel()
{
    if (!m_panel)
        makePanel();
    static_cast<FaceRow*>(m_list->itemDelegate())->sample = m_sample.isEmpty() ? tr("Kite fair") : m_sample;
    m_filter->clear();
    if (m_value) {
        const QString wanted = QString::fromStdString(m_value->family + " " + m_value->style);
        for (int i = 0; i < m_shown->rowCount(); ++i)
            if (m_shown->index(i, 0).data().toString() == wanted) {
                m_list->setCurrentIndex(m_shown->index(i, 0));
                m_list->scrollTo(m_shown->index(i, 0), QAbstractItemView::PositionAtCenter);
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
