#include "app/drawer/sample_book.h"

#include <QAction>
#include <QCheckBox>
#include <QFile>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMimeData>
#include <QPushButton>
#include <QScrollBar>
#include <QSettings>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "app/ticket/chosen.h"
#include "app/ticket/letter_sample.h"
#include "files/texture_file.h"
#include "files/work_json.h"
#include "picture/colour.h"
#include "work/surroundings.h"

namespace app {

namespace {

constexpr int kAcross = 3;
constexpr int kIdRole = Qt::UserRole, kAskedRole = Qt::UserRole + 1;              // its picture is there or being made
constexpr const char *kFavourites = "book/favourites", *kRecent = "book/recent";  // lists of ids
constexpr int kMostRecent = 12;
enum Group { kAllGroups, kFavouriteGroup, kRecentGroup };  // first in the list of groups

QStringList listed(const char* key)
{
    return QSettings().value(key).toStringList();
}

// Drags its samples out as their ids.
class SampleList : public QListWidget {
protected:
    QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override
    {
        auto* dragged = new QMimeData;
        if (!items.isEmpty())
            dragged->setData(kSampleMime, items.front()->data(kIdRole).toString().toUtf8());
        return dragged;
    }
};

}  // namespace

SampleBook::SampleBook(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("book");
    setAttribute(Qt::WA_StyledBackground);
    setProperty("slip", true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(2 * kGrid, kGrid, 2 * kGrid, 2 * kGrid);
    column->setSpacing(kGrid);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Sample book"));
    title->setObjectName("book.title");
    title->setProperty("title", true);
    head->addWidget(title, 1);
    auto* keeps = new QPushButton(tr("Keep this material..."));
    keeps->setObjectName("book.keep");
    keeps->setToolTip(tr("Keeps the material of what is chosen by a name, for other works"));
    connect(keeps, &QPushButton::clicked, this, &SampleBook::keep);
    auto* closes = new QToolButton;
    closes->setObjectName("book.close");
    closes->setText(tr("Close"));
    closes->setToolTip(tr("Puts the sample book away"));
    connect(closes, &QToolButton::clicked, this, &SampleBook::closeWanted);
    head->addWidget(closes);
    column->addLayout(head);

    m_search = new QLineEdit;
    m_search->setObjectName("book.search");
    m_search->setPlaceholderText(tr("Search, such as shiny red"));
    m_search->setAccessibleName(tr("Search the sample book"));
    m_search->setClearButtonEnabled(true);
    connect(m_search, &QLineEdit::textChanged, this, &SampleBook::fill);
    connect(m_search, &QLineEdit::returnPressed, this, [this] {  // what was looked for, without a way to the list
        if (!m_search->text().isEmpty() && m_list->count() > 0)
            give(0);
    });
    auto* down = new QAction(m_search);
    down->setShortcut(Qt::Key_Down);
    down->setShortcutContext(Qt::WidgetShortcut);
    connect(down, &QAction::triggered, this, [this] {
        m_list->setFocus();
        m_list->setCurrentRow(std::max(0, m_list->currentRow()));
    });
    m_search->addAction(down);
    setFocusProxy(m_search);
    column->addWidget(m_search);
    m_group = new OneOfField;
    m_group->setObjectName("book.group");
    m_group->setAccessibleName(tr("Group of materials"));
    connect(m_group, &QComboBox::activated, this, &SampleBook::fill);
    column->addWidget(m_group);
    auto* onPart = new QHBoxLayout;
    onPart->addWidget(new QLabel(tr("Goes on")));
    m_part = new OneOfField;
    m_part->setObjectName("book.part");
    m_part->setAccessibleName(tr("Part it goes on"));
    m_part->addItem(tr("All parts"));
    for (const auto& part : work::kParts)
        m_part->addItem(Section::tr(part.label));
    onPart->addWidget(m_part, 1);
    column->addLayout(onPart);
    for (QComboBox* list : {m_group, m_part}) {
        list->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        list->setMinimumContentsLength(6);
    }
    m_keepsColour = new QCheckBox(tr("Leave the colour"));
    m_keepsColour->setObjectName("book.keepsColour");
    m_keepsColour->setToolTip(tr("Gives everything of a material but its base colour"));
    connect(m_keepsColour, &QCheckBox::toggled, this, &SampleBook::renderSamples);
    column->addWidget(m_keepsColour);

    m_list = new SampleList;
    m_list->setObjectName("book.list");
    m_list->setAccessibleName(tr("Materials"));
    arrangeSamples(*m_list);
    m_list->setDragEnabled(true);
    m_list->setDragDropMode(QAbstractItemView::DragOnly);
    connect(m_list->verticalScrollBar(), &QScrollBar::valueChanged, this, &SampleBook::renderSamples);
    connect(m_list->verticalScrollBar(), &QScrollBar::rangeChanged, this, &SampleBook::renderSamples);
    connect(m_list, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { give(m_list->row(item)); });
    connect(m_list, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) { give(m_list->row(item)); });
    auto* favours = new QAction(tr("Mark as favourite, or no longer"), m_list);
    favours->setObjectName("book.favourite");
    favours->setShortcut(Qt::Key_Asterisk);
    favours->setShortcutContext(Qt::WidgetShortcut);
    connect(favours, &QAction::triggered, this, &SampleBook::markFavourite);
    m_list->addAction(favours);
    auto* forgets = new QAction(tr("Forget this material"), m_list);
    forgets->setObjectName("book.forget");
    forgets->setShortcut(QKeySequence::Delete);
    forgets->setShortcutContext(Qt::WidgetShortcut);
    connect(forgets, &QAction::triggered, this, &SampleBook::forget);
    m_list->addAction(forgets);
    m_list->setContextMenuPolicy(Qt::ActionsContextMenu);
    column->addWidget(m_list, 1);
    column->addWidget(keeps);
    fitText();

    m_context.session->observe([this](const session::Change&) {
        if (isVisible())
            renderSamples();
    });
}

// Room for two lines of a name under each sample.
void SampleBook::fitText()
{
    m_list->setGridSize({kSampleSide + 12, kSampleSide + 2 * m_list->fontMetrics().lineSpacing() + 12});
    m_list->setMinimumWidth(m_list->gridSize().width() + 24);
    for (int row = 0; row < m_list->count(); ++row)
        m_list->item(row)->setSizeHint(m_list->gridSize());  // else names are cut to one line
    updateGeometry();
}

QSize SampleBook::sizeHint() const
{
    return {std::max(minimumSizeHint().width(), kAcross * m_list->gridSize().width() + 4 * kGrid + 24), QWidget::sizeHint().height()};
}

void SampleBook::changeEvent(QEvent* event)
{
    QWidget::changeEvent(event);
    if (m_list && (event->type() == QEvent::FontChange || event->type() == QEvent::StyleChange))
        fitText();
}

void SampleBook::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    read();
}

void SampleBook::hideEvent(QHideEvent* event)
{
    QWidget::hideEvent(event);
    ++*m_round;
    m_shown.clear();
}

void SampleBook::read()
{
    base::Notes notes;
    m_samples = files::materialSamples(files::materialFolders(), &notes);
    if (!notes.empty())
        m_context.say(tr("A material was left out: %1 (%2)").arg(text(notes.front().message), text(notes.front().place)));
    const QString group = m_group->currentText();
    m_group->clear();
    m_group->addItems({tr("All groups"), tr("Favourites"), tr("Last used")});
    for (const files::MaterialSample& sample : m_samples)
        if (const QString name = text(sample.group); m_group->findText(name) < 0)
            m_group->addItem(name);
    m_group->setCurrentIndex(std::max(0, m_group->findText(group)));
    fill();
}

void SampleBook::fill()
{
    m_list->clear();
    const QIcon blank = blankSample();
    const QStringList favourites = listed(kFavourites);
    const auto add = [&](const files::MaterialSample& sample) {
        const QString id = text(sample.id), name = favourites.contains(id) ? "\u2605 " + text(sample.name) : text(sample.name);
        auto* item = new QListWidgetItem(blank, name, m_list);
        item->setData(kIdRole, id);
        item->setSizeHint(m_list->gridSize());
        item->setToolTip(sample.own ? tr("%1, kept by you").arg(text(sample.name)) : text(sample.name));
    };
    if (m_group->currentIndex() == kRecentGroup) {
        for (const QString& id : listed(kRecent))
            if (const files::MaterialSample* sample = sampleOfId(id); sample && isShown(*sample))
                add(*sample);
    } else {
        for (const files::MaterialSample& sample : m_samples)
            if (isShown(sample))
                add(sample);
    }
    m_shown.clear();
    renderSamples();
}

// By group and search.
bool SampleBook::isShown(const files::MaterialSample& sample) const
{
    const int group = m_group->currentIndex();
    const bool isOfGroup = group == kFavouriteGroup ? listed(kFavourites).contains(text(sample.id))
                           : group > kRecentGroup   ? m_group->currentText() == text(sample.group)
                                                    : true;
    return isOfGroup && sample.isFoundBy(m_search->text().toStdString());
}

// On the first letter of what is chosen, or of the front piece; again when that has become another. Those that are seen and the next page;
// the others when they are scrolled to.
void SampleBook::renderSamples()
{
    const work::Work& work = m_context.session->work();
    const work::Piece* piece = leadPiece(m_context);
    if (!piece && !work.pieces.order.empty())
        piece = &work.pieces.items.at(work.pieces.order.front());
    work::Piece given = piece ? *piece : work::newWork("K", {}, {}).pieces.items.begin()->second;
    const work::Rgb colour = given.material.piece.baseColour;
    given.material = {};
    // A pattern is as large on the sample as on the piece.
    const std::string what = files::toJson(sampleOf(work, given)) + std::to_string(given.sizePt()) +
                             (m_keepsColour->isChecked() ? picture::hexFromRgb(colour) : std::string());
    if (what != m_shown) {
        m_shown = what;
        ++*m_round;
        for (int row = 0; row < m_list->count(); ++row)
            m_list->item(row)->setData(kAskedRole, {});
    }
    const int now = *m_round;
    const QRect near = m_list->viewport()->rect().adjusted(0, 0, 0, m_list->viewport()->height());
    for (int row = 0; row < m_list->count(); ++row) {
        QListWidgetItem* item = m_list->item(row);
        const files::MaterialSample* one = sampleOfId(item->data(kIdRole).toString());
        if (!one || item->data(kAskedRole).isValid() || !m_list->visualItemRect(item).intersects(near))
            continue;
        item->setData(kAskedRole, true);
        given.material.piece = one->material;
        if (m_keepsColour->isChecked())
            given.material.piece.baseColour = colour;
        work::Work shown = sampleOf(work, given);
        shown.assets.insert(one->pictures.begin(), one->pictures.end());
        m_background.run(
            [shown = std::move(shown), side = sampleSideOn(*this), round = m_round, now](const base::Progress& progress) mutable {
                if (*round != now)
                    return QImage();
                files::readPictures(shown, nullptr);
                return keptSample(shown, side, progress);
            },
            [this, row, now](const QImage& picture) {
                if (*m_round == now && !picture.isNull() && row < m_list->count())
                    m_list->item(row)->setIcon(sampleIcon(picture));
            });
    }
}

const files::MaterialSample* SampleBook::sampleOfId(const QString& id) const
{
    const auto found = std::find_if(m_samples.begin(), m_samples.end(), [&](const auto& s) { return text(s.id) == id; });
    return found == m_samples.end() ? nullptr : &*found;
}

void SampleBook::setMaterial(work::Material& material, const files::MaterialSample& sample) const
{
    const work::Material was = material;
    material = sample.material;
    if (m_keepsColour->isChecked()) {
        material.baseColour = was.baseColour;
        material.swatch = was.swatch;
    }
}

void SampleBook::give(int row)
{
    const files::MaterialSample* sample = row >= 0 ? sampleOfId(m_list->item(row)->data(kIdRole).toString()) : nullptr;
    if (!sample)
        return;
    if (session::materialsOf(m_context.session->work(), m_context.session->choice()).empty()) {
        m_context.say(tr("Choose what it shall go on: click a piece, again a letter; or drag the sample onto it"));
        return;
    }
    QStringList recent = listed(kRecent);
    recent.removeAll(text(sample->id));
    recent.prepend(text(sample->id));
    QSettings().setValue(kRecent, QStringList(recent.mid(0, kMostRecent)));
    edit(tr("Material"), *sample, [this, choice = m_context.session->choice()](work::Work& w, const files::MaterialSample& given) {
        for (work::MaterialSet* set : session::materialsIn(w, session::valid(w, choice)))
            if (m_part->currentIndex() > 0) {
                setMaterial(set->parts.try_emplace(work::kParts[m_part->currentIndex() - 1].name, set->piece).first->second, given);
            } else {
                setMaterial(set->piece, given);
                set->parts.clear();
            }
    });
    offerSurroundings(sample->material);
}

// Once: a mirror in even light looks dull, and one would seek the fault in the material.
void SampleBook::offerSurroundings(const work::Material& material)
{
    const work::Surroundings& around = m_context.session->work().surroundings;
    if (m_hasOffered || !work::isDullInEvenLight(material) || !around.on || around.kind != work::SurroundingsKind::Even)
        return;
    m_hasOffered = true;
    std::vector<Offer> offers;
    for (const char* id : {work::kFrontForMetal, "window-wall", "two-strips"}) {
        const work::ReadySurroundings* ready = work::readySurroundings(id);
        offers.push_back({QString("around.") + id, tr(ready->name), [this, ready] {
                              m_context.session->edit(tr("Surroundings").toStdString(),
                                                      [ready](work::Work& w) { work::useSurroundings(w, *ready); });
                          }});
    }
    m_context.offer(tr("Metal shows what is round it, and that is the same everywhere. Put something there?"), offers);
}

// What a sample has in pictures is read before, behind everything else.
void SampleBook::edit(const QString& label, const files::MaterialSample& sample,
                      const std::function<void(work::Work&, const files::MaterialSample&)>& change)
{
    const auto give = [this, label, change](const files::MaterialSample& given) {
        m_context.session->edit(label.toStdString(), [&](work::Work& w) {
            w.assets.insert(given.pictures.begin(), given.pictures.end());
            change(w, given);
        });
    };
    if (sample.pictures.empty()) {
        give(sample);
        return;
    }
    m_reading.run(
        [sample](const base::Progress&) {
            work::Work pictures;
            pictures.assets = sample.pictures;
            files::readPictures(pictures, nullptr);
            files::MaterialSample read = sample;
            read.pictures = std::move(pictures.assets);
            return read;
        },
        give);
}

void SampleBook::giveTo(const work::Address& at, const QString& id)
{
    const files::MaterialSample* sample = sampleOfId(id);
    if (!sample || !m_context.session->work().pieces.items.contains(at.piece))
        return;
    session::Choice choice;
    choice.set({at.piece, at.letter});
    m_context.session->choose(choice);
    for (int row = 0; row < m_list->count(); ++row)
        if (m_list->item(row)->data(kIdRole).toString() == id)
            give(row);
}

void SampleBook::giveToGround(bool wall, const QString& id)
{
    if (const files::MaterialSample* sample = sampleOfId(id))
        edit(wall ? tr("Wall") : tr("Floor"), *sample, [this, wall](work::Work& w, const files::MaterialSample& given) {
            setMaterial(wall ? w.ground.wall : w.ground.floor, given);
        });
}

void SampleBook::markFavourite()
{
    const QListWidgetItem* item = m_list->currentItem();
    if (!item) {
        m_context.say(tr("Choose a material first"));
        return;
    }
    const QString id = item->data(kIdRole).toString();
    QStringList favourites = listed(kFavourites);
    if (favourites.removeAll(id) == 0)
        favourites.append(id);
    QSettings().setValue(kFavourites, favourites);
    fill();
}

void SampleBook::keep()
{
    const auto sets = session::materialsOf(m_context.session->work(), m_context.session->choice());
    if (sets.empty()) {
        m_context.say(tr("Choose the piece or letter first whose material shall be kept"));
        return;
    }
    const work::Material material =
        m_part->currentIndex() > 0 ? sets.back()->of(work::kParts[m_part->currentIndex() - 1].name) : sets.back()->piece;
    QInputDialog ask(this);
    ask.setObjectName("book.keep.ask");
    ask.setWindowTitle(tr("Keep this material"));
    ask.setLabelText(tr("Its name; a material of yours with the same name is replaced"));
    if (ask.exec() != QDialog::Accepted)
        return;
    const auto kept = files::keepMaterial(files::ownMaterialFolder(), ask.textValue().trimmed().toStdString(), material,
                                          m_context.session->work().assets);
    m_context.say(kept ? tr("\"%1\" is in the sample book").arg(text(kept->name)) : text(base::oneLine(kept.error())));
    if (kept)
        read();
}

void SampleBook::forget()
{
    const QListWidgetItem* item = m_list->currentItem();
    const files::MaterialSample* sample = item ? sampleOfId(item->data(kIdRole).toString()) : nullptr;
    if (!sample || !sample->own) {
        m_context.say(tr("Only materials you kept can be forgotten"));
        return;
    }
    const QString name = text(sample->name);
    QFile::remove(text(files::ownMaterialFolder() + "/" + sample->id + ".json"));
    m_context.say(tr("\"%1\" is forgotten").arg(name));
    read();
}

}  // namespace app
