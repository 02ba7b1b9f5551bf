#include "app/window/proof_sheet.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/picture/raster_image.h"
#include "app/style.h"
#include "work/make_still.h"

namespace app {

namespace {

constexpr std::size_t kMostCompared = 4;
constexpr int kSmallWide = 220, kSmallHigh = 150;  // px of a proof in the sheet
constexpr int kKeptSide = 1600;                    // px of a proof's picture, at most
constexpr int kRenderedSide = 960;                 // where it must be rendered first
constexpr int kIdRole = Qt::UserRole;

// Fitted into its place, on the surround.
QIcon iconOf(const QImage& picture, double pixelRatio)
{
    const QSize size = QSize(kSmallWide, kSmallHigh) * pixelRatio;
    QImage icon(size, QImage::Format_RGB32);
    icon.fill(colours().surround);
    if (!picture.isNull()) {
        QPainter painter(&icon);
        const QImage fitted = picture.scaled(size, Qt::KeepAspectRatio, Qt::SmoothTransformation);
        painter.drawImage((size.width() - fitted.width()) / 2, (size.height() - fitted.height()) / 2, fitted);
    }
    icon.setDevicePixelRatio(pixelRatio);
    QIcon made;
    for (const QIcon::Mode mode : {QIcon::Normal, QIcon::Selected})
        made.addPixmap(QPixmap::fromImage(icon), mode);
    return made;
}

base::Result<QImage> rendered(const work::Work& work, const base::Progress& progress)
{
    work::StillSettings settings;
    const double wide = work.sheet().widthPt(), high = work.sheet().heightPt(), side = std::max(wide, high);
    settings.widthPx = std::max(1, static_cast<int>(kRenderedSide * wide / side));
    settings.heightPx = std::max(1, static_cast<int>(kRenderedSide * high / side));
    settings.stop = {32, 20, 2};
    work::Cache cache;
    const auto still = work::makeStill(work, settings, cache, progress);
    if (!still)
        return tl::unexpected<base::Error>(still.error());
    return imageOf(finish::to8Bits(still->picture));
}

}  // namespace

ProofSheet::ProofSheet(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("proofs");
    setAccessibleName(tr("Proofs"));
    setAttribute(Qt::WA_StyledBackground);
    setProperty("slip", true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(2 * kGrid, 2 * kGrid, 2 * kGrid, 2 * kGrid);
    column->setSpacing(2 * kGrid);
    column->addWidget(m_head = makeHead());
    m_list = new QListWidget;
    m_list->setObjectName("proofs.list");
    m_list->setAccessibleName(tr("Proofs"));
    m_list->setViewMode(QListView::IconMode);
    m_list->setMovement(QListView::Static);
    m_list->setResizeMode(QListView::Adjust);
    m_list->setWordWrap(true);
    m_list->setSpacing(kGrid);
    m_list->setIconSize({kSmallWide, kSmallHigh});
    m_list->setGridSize({kSmallWide + 4 * kGrid, kSmallHigh + 8 * kGrid + textPx()});
    m_list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_list->setEditTriggers(QAbstractItemView::EditKeyPressed);
    m_list->setToolTip(tr("Choose two to four to compare them; F2 changes a note"));
    connect(m_list, &QListWidget::itemSelectionChanged, this, &ProofSheet::enable);
    connect(m_list, &QListWidget::itemDoubleClicked, this, [this] { m_compare->setChecked(true); });
    connect(m_list, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (m_filling)
            return;
        const std::string id = item->data(kIdRole).toString().toStdString(), note = item->text().simplified().toStdString();
        if (id.empty() || item->text() == nameOf(id))
            return;
        m_context.session->editAll([&](work::Work& w) {
            if (const auto proof = w.proofs.items.find(id); proof != w.proofs.items.end())
                proof->second.note = note == proof->second.made ? std::string() : note;
        });
    });
    column->addWidget(m_list, 1);
    m_comparison = new Comparison;
    m_comparison->hide();
    column->addWidget(m_comparison, 1);
    column->addWidget(m_foot = makeFoot());
    connect(&m_background, &Background::failed, this, [this](const QString& sentence) { m_context.say(sentence); });
    hide();
    enable();
}

QWidget* ProofSheet::makeHead()
{
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2 * kGrid);
    auto* title = new QLabel(tr("Proofs"));
    title->setProperty("title", true);
    row->addWidget(title);
    m_note = new QLineEdit;
    m_note->setObjectName("proofs.note");
    m_note->setAccessibleName(tr("Note for the next proof"));
    m_note->setPlaceholderText(tr("Note, such as warmer light"));
    m_note->setMaxLength(200);
    row->addWidget(m_note, 1);
    auto* keeps = new QPushButton(tr("Keep this version"));
    keeps->setObjectName("proofs.keep");
    keeps->setToolTip(tr("Keeps the work as it is now, with its picture, in the work itself"));
    const auto keepNow = [this] {
        keep(m_note->text());
        m_note->clear();
    };
    connect(keeps, &QPushButton::clicked, this, keepNow);
    connect(m_note, &QLineEdit::returnPressed, this, keepNow);
    row->addWidget(keeps);
    auto* closes = new QToolButton;
    closes->setObjectName("proofs.close");
    closes->setText(tr("Close"));
    closes->setToolTip(tr("Back to the picture"));
    connect(closes, &QToolButton::clicked, this, &QWidget::hide);
    row->addWidget(closes);
    return head;
}

QWidget* ProofSheet::makeFoot()
{
    auto* foot = new QWidget;
    auto* row = new QHBoxLayout(foot);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2 * kGrid);
    const auto button = [&](const char* id, const QString& label, const QString& tip) {
        auto* b = new QPushButton(label);
        b->setObjectName(QString("proofs.") + id);
        b->setToolTip(tip);
        row->addWidget(b);
        return b;
    };
    m_compare = button("compare", tr("Compare"), tr("One with the work as it is now, two with each other, or up to four at once"));
    m_compare->setCheckable(true);
    connect(m_compare, &QPushButton::toggled, this, &ProofSheet::compare);
    m_take = button("take", tr("Take over"), tr("One side of the chosen proof, into the work as it is now"));
    auto* sides = new QMenu(m_take);
    sides->setObjectName("proofs.sides");
    const std::tuple<const char*, QString, session::ProofSide> all[] = {{"view", tr("View"), session::ProofSide::View},
                                                                        {"light", tr("Light"), session::ProofSide::Light},
                                                                        {"materials", tr("Materials"), session::ProofSide::Materials},
                                                                        {"finish", tr("Finish"), session::ProofSide::Finish}};
    for (const auto& [id, label, side] : all)
        sides->addAction(label, this, [this, side = side, label = label] { takeOver(side, label); })
            ->setObjectName(QString("proofs.take.") + id);
    m_take->setMenu(sides);
    m_take->setMinimumWidth(m_take->sizeHint().width() + 4 * kGrid);  // the arrow stands beside the words
    m_back = button("back", tr("Go back to it"), tr("The whole work becomes the chosen proof; one step that can be undone"));
    connect(m_back, &QPushButton::clicked, this, &ProofSheet::goBack);
    row->addStretch(1);
    m_remove = button("remove", tr("Remove"), tr("Takes the chosen proofs out of the work"));
    connect(m_remove, &QPushButton::clicked, this, &ProofSheet::remove);
    return foot;
}

void ProofSheet::open()
{
    m_peeks = false;
    m_compare->setChecked(false);
    m_head->show();
    m_foot->show();
    m_list->show();
    m_comparison->hide();
    fill();
    show();
    raise();
    m_list->setFocus();
}

void ProofSheet::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    Q_EMIT shown(!m_peeks);
}

void ProofSheet::hideEvent(QHideEvent* event)
{
    QWidget::hideEvent(event);
    Q_EMIT shown(false);
}

void ProofSheet::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape)
        m_compare->isChecked() ? m_compare->setChecked(false) : hide();
    else if (event->key() == Qt::Key_Delete && m_remove->isEnabled() && !m_compare->isChecked())
        remove();
    else
        QWidget::keyPressEvent(event);
}

void ProofSheet::anotherWork()
{
    ++m_works;
    m_small.clear();
    m_last.clear();
    hide();
}

void ProofSheet::refresh()
{
    if (!isVisible() || m_peeks || m_listed == m_context.session->work().proofs)
        return;
    fill();
}

void ProofSheet::showNow()
{
    const QImage picture = isVisible() && m_list->count() > 0 ? m_context.shownPicture() : QImage();
    if (picture.isNull())
        return;
    m_filling = true;
    m_list->item(0)->setIcon(iconOf(picture, devicePixelRatioF()));
    m_filling = false;
}

QString ProofSheet::nameOf(const std::string& id) const
{
    if (id.empty())
        return tr("As it is now");
    const work::Proof& proof = m_context.session->work().proofs.items.at(id);
    return QString::fromStdString(proof.note.empty() ? proof.made : proof.note);
}

void ProofSheet::fill()
{
    m_filling = true;
    const std::vector<std::string> were = chosen();
    m_list->clear();
    const work::Work& w = m_context.session->work();
    m_listed = w.proofs;
    const auto add = [&](const std::string& id, const QImage& picture) {
        auto* item = new QListWidgetItem(iconOf(picture, devicePixelRatioF()), nameOf(id));
        item->setData(kIdRole, QString::fromStdString(id));
        m_list->addItem(item);
        return item;
    };
    add({}, m_context.shownPicture())->setToolTip(tr("The work as it is now"));
    for (const std::string& id : w.proofs.order) {
        const work::Proof& proof = w.proofs.items.at(id);
        const auto small = m_small.find(proof.picture);
        QListWidgetItem* item = add(id, small == m_small.end() ? QImage() : small->second);
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        item->setToolTip(proof.note.empty()
                             ? tr("Kept %1").arg(QString::fromStdString(proof.made))
                             : tr("%1, kept %2").arg(QString::fromStdString(proof.note), QString::fromStdString(proof.made)));
        item->setSelected(std::ranges::find(were, id) != were.end());
        if (m_small.try_emplace(proof.picture).second)
            addPicture(proof);
    }
    m_filling = false;
    enable();
}

// Its picture for the list, off the window's thread.
void ProofSheet::addPicture(const work::Proof& proof)
{
    const auto asset = m_context.session->work().assets.find(proof.picture);
    if (asset == m_context.session->work().assets.end() || !asset->second.bytes)
        return;
    m_background.run(
        [bytes = asset->second.bytes, size = QSize(kSmallWide, kSmallHigh) * devicePixelRatioF()](const base::Progress&) {
            const QImage picture = QImage::fromData(bytes->data(), static_cast<int>(bytes->size()));
            return picture.isNull() ? picture : picture.scaled(size, Qt::KeepAspectRatio, Qt::SmoothTransformation);
        },
        [this, name = proof.picture](const QImage& picture) {
            m_small[name] = picture;
            const auto& proofs = m_context.session->work().proofs.items;
            m_filling = true;
            for (int i = 0; i < m_list->count(); ++i)
                if (const auto p = proofs.find(m_list->item(i)->data(kIdRole).toString().toStdString());
                    p != proofs.end() && p->second.picture == name)
                    m_list->item(i)->setIcon(iconOf(picture, devicePixelRatioF()));
            m_filling = false;
        });
}

std::vector<std::string> ProofSheet::chosen() const
{
    std::vector<std::string> ids;
    for (int i = 0; i < m_list->count(); ++i)
        if (m_list->item(i)->isSelected())
            if (const QString id = m_list->item(i)->data(kIdRole).toString(); !id.isEmpty())
                ids.push_back(id.toStdString());
    return ids;
}

void ProofSheet::enable()
{
    if (m_filling)
        return;
    const std::vector<std::string> ids = chosen();
    if (!ids.empty())
        m_last = ids.back();
    m_compare->setEnabled(m_compare->isChecked() || !ids.empty());
    m_take->setEnabled(ids.size() == 1);
    m_back->setEnabled(ids.size() == 1);
    m_remove->setEnabled(!ids.empty());
}

QImage ProofSheet::pictureOf(const std::string& id) const
{
    if (id.empty())
        return m_context.shownPicture();
    const work::Work& w = m_context.session->work();
    const auto proof = w.proofs.items.find(id);
    const auto asset = proof == w.proofs.items.end() ? w.assets.end() : w.assets.find(proof->second.picture);
    if (asset == w.assets.end() || !asset->second.bytes)
        return {};
    return QImage::fromData(asset->second.bytes->data(), static_cast<int>(asset->second.bytes->size()));
}

void ProofSheet::compare(bool on)
{
    std::vector<std::string> ids = chosen();
    const bool withNow = ids.size() == 1 || (m_list->count() > 0 && m_list->item(0)->isSelected());
    if (withNow)
        ids.insert(ids.begin(), std::string());
    std::vector<Comparison::Shown> pictures;
    for (const std::string& id : ids)
        if (const QImage picture = pictureOf(id); !picture.isNull() && pictures.size() < kMostCompared)
            pictures.push_back({picture, nameOf(id)});
    if (on && pictures.size() < 2) {
        m_context.say(withNow ? tr("The picture is still coarse; compare when it has come out of that")
                              : tr("Choose a proof to compare it with the work as it is now"));
        m_compare->setChecked(false);
        return;
    }
    m_list->setVisible(!on);
    m_comparison->setVisible(on);
    if (on) {
        m_comparison->setPictures(std::move(pictures));
        m_comparison->setFocus();
    }
    enable();
}

bool ProofSheet::peek(bool on)
{
    const auto& proofs = m_context.session->work().proofs;
    if (m_peeks == on || (on && (isVisible() || proofs.order.empty())))
        return !proofs.order.empty();
    m_peeks = on;
    if (!on) {
        hide();
        return true;
    }
    const std::string id = proofs.items.contains(m_last) ? m_last : proofs.order.back();
    m_comparison->setPictures({{pictureOf(id), nameOf(id)}});
    m_comparison->show();
    m_head->hide();
    m_foot->hide();
    m_list->hide();
    show();
    raise();
    return true;
}

void ProofSheet::keep(const QString& note)
{
    const work::Work version = m_context.session->work();
    if (const QImage picture = m_context.shownPicture(); !picture.isNull()) {
        add(version, note, picture);
        return;
    }
    m_context.say(tr("Rendering the picture for the proof..."));
    m_background.run([version](const base::Progress& progress) { return rendered(version, progress); },
                     [this, version, note, of = m_works](const base::Result<QImage>& picture) {
                         if (of != m_works)
                             return;
                         if (!picture)
                             m_context.say(QString::fromStdString(base::oneLine(picture.error())));
                         else
                             add(version, note, *picture);
                     });
}

void ProofSheet::add(const work::Work& version, const QString& note, const QImage& picture)
{
    const QImage sized = std::max(picture.width(), picture.height()) > kKeptSide
                             ? picture.scaled(kKeptSide, kKeptSide, Qt::KeepAspectRatio, Qt::SmoothTransformation)
                             : picture;
    work::Work with = version;
    with.proofs = m_context.session->work().proofs;
    const auto proof = session::newProof(with, note.simplified().toStdString(),
                                         QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm").toStdString(), rasterOf(sized));
    if (!proof) {
        m_context.say(QString::fromStdString(base::oneLine(proof.error())));
        return;
    }
    m_context.session->editAll([&](work::Work& w) { proof->addTo(w); });
    m_last = proof->id;
    if (isVisible())
        m_context.say({});
    else
        m_context.offer(tr("Kept as a proof; it stays in the work, whatever is undone"), {{"proofs", tr("Show proofs"), [this] {
                                                                                               m_context.say({});
                                                                                               open();
                                                                                           }}});
}

std::optional<work::Work> ProofSheet::version() const
{
    const std::vector<std::string> ids = chosen();
    if (ids.size() != 1)
        return std::nullopt;
    auto version = session::versionOf(m_context.session->work(), ids.front());
    if (version)
        return std::move(*version);
    m_context.say(QString::fromStdString(version.error().message));
    return std::nullopt;
}

void ProofSheet::takeOver(session::ProofSide side, const QString& label)
{
    const auto from = version();
    if (!from)
        return;
    hide();
    if (m_context.session->edit(tr("Take over: %1").arg(label).toStdString(), [&](work::Work& w) { session::takeOver(w, *from, side); }))
        m_context.say({});
    else
        m_context.say(tr("That is as in the proof already"));
}

void ProofSheet::goBack()
{
    const auto to = version();
    if (!to)
        return;
    hide();
    if (m_context.session->edit(tr("Go back to a proof").toStdString(), [&](work::Work& w) { session::goBackTo(w, *to); }))
        m_context.offer(tr("The work is as the proof kept it"), {{"undo", tr("Undo"), [this] {
                                                                      m_context.say({});
                                                                      m_context.session->undo();
                                                                  }}});
    else
        m_context.say(tr("The work is as the proof kept it already"));
}

void ProofSheet::remove()
{
    const std::vector<std::string> ids = chosen();
    if (ids.empty())
        return;
    m_compare->setChecked(false);
    const work::Ordered<work::Proof> were = m_context.session->work().proofs;
    m_context.session->editAll([&](work::Work& w) {
        for (const std::string& id : ids)
            w.proofs.items.erase(id);
        std::erase_if(w.proofs.order, [&](const std::string& id) { return !w.proofs.items.contains(id); });
    });
    m_context.offer(ids.size() == 1 ? tr("The proof is removed") : tr("%1 proofs are removed").arg(ids.size()),
                    {{"putBack", tr("Put back"), [this, were] {
                          m_context.say({});
                          m_context.session->editAll([&](work::Work& w) {
                              for (const std::string& id : were.order)
                                  if (!w.proofs.items.contains(id))
                                      w.proofs.add(id, were.items.at(id));
                          });
                      }}});
}

}  // namespace app
