#include "app/ticket/surroundings_rows.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

#include "app/ticket/chosen.h"
#include "app/ticket/letter_sample.h"
#include "app/ticket/sample_panel.h"
#include "app/window/picture_files.h"
#include "session/summary.h"
#include "work/surroundings.h"

namespace app {

namespace {

using work::SkyCard;
using work::Surroundings;

const Surroundings& now(const Context& context)
{
    return context.session->work().surroundings;
}

// Those that are ready, on the first letter of what is chosen.
std::vector<SamplePanel::Entry> readyOnes(const Context& context, bool keepsExposure)
{
    std::vector<SamplePanel::Entry> entries;
    const work::Piece* lead = leadOrFirstPiece(context);
    if (!lead)
        return entries;
    work::Work sample = sampleOf(context.session->work(), *lead);
    for (auto& [_, light] : sample.lights.items)
        light.on = false;
    sample.surroundings.stops = -1;
    for (const work::ReadySurroundings& ready : work::readySurroundings())
        entries.push_back({Section::tr(ready.name), listed(Section::tr(ready.words)),
                           [sample, &ready] {
                               work::Work shown = sample;
                               work::useSurroundings(shown, ready);
                               return shown;
                           },
                           Section::tr("Surroundings"),
                           [keepsExposure, &ready](work::Work& w) { work::useSurroundings(w, ready, keepsExposure); }});
    return entries;
}

// Buttons for those that are ready and for a picture.
QWidget* beginRow(const Context& context, Section* section)
{
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    const auto button = [&](const char* id, const QString& label, const QString& tip) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        line->addWidget(b, 1);
        return b;
    };
    auto* ready = button("surroundings.ready", Section::tr("Ready ones..."),
                         Section::tr("Skies, rooms and studios, on your own first letter; everything in them can be changed after"));
    auto* picture =
        button("surroundings.picture", Section::tr("Picture..."),
               Section::tr("A picture of all round from a file: HDR, EXR, or an ordinary one, whose white becomes light of 16"));
    auto* keeps = new QCheckBox(Section::tr("Keep exposure"));
    keeps->setObjectName("surroundings.keep");
    keeps->setToolTip(Section::tr("A white card that faces you stays as bright as it was"));
    keeps->setChecked(true);
    line->addWidget(keeps);
    auto* panel = new SamplePanel(context, "surroundings.ready", Section::tr("Surroundings that are ready"), section);
    QObject::connect(ready, &QPushButton::clicked, section, [=] {
        if (const auto entries = readyOnes(context, keeps->isChecked()); !entries.empty())
            panel->open(ready, entries);
    });
    QObject::connect(picture, &QPushButton::clicked, section, [=] {
        const QString path = QFileDialog::getOpenFileName(section->window(), Section::tr("Choose a picture of all round"), {},
                                                          PictureFiles::panoramaFilter());
        if (!path.isEmpty())
            context.surround(path, keeps->isChecked());
    });
    return box;
}

// What the picture is called, where there is one.
QLabel* pictureName()
{
    auto* label = new QLabel;
    label->setObjectName("surroundings.pictureName");
    label->setWordWrap(true);
    return label;
}

QString cardTitle(const SkyCard& card)
{
    return !card.name.empty() ? text(card.name) : card.colour == base::Rgb{0, 0, 0} ? Section::tr("Flag") : Section::tr("Card");
}

// The cards by name with a tick, which one the rows below speak of, and buttons.
class CardsList : public QWidget {
public:
    explicit CardsList(const Context& context) : m_context(context), m_shown(context.card), m_list(new QListWidget)
    {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(4);
        m_list->setObjectName("surroundings.cards.list");
        m_list->setAccessibleName(Section::tr("Cards, the later over the earlier"));
        m_list->setFixedHeight(84);
        m_list->setToolTip(Section::tr("The tick takes a card away for a while; double-click renames"));
        column->addWidget(m_list);
        QHBoxLayout* buttons = nullptr;
        const auto newRow = [&] {
            buttons = new QHBoxLayout;
            buttons->setSpacing(4);
            column->addLayout(buttons);
        };
        newRow();
        const auto button = [&](const char* id, const QString& label, const QString& tip, std::function<void()> run) {
            auto* b = new QPushButton(label);
            b->setObjectName(id);
            b->setToolTip(tip);
            buttons->addWidget(b, 1);
            QObject::connect(b, &QPushButton::clicked, this, std::move(run));
        };
        button("surroundings.card.add", Section::tr("Card"), Section::tr("Adds a card that gives light"), [this] {
            add(Section::tr("Add card"), {1, 1, 1});
        });
        button("surroundings.flag.add", Section::tr("Flag"), Section::tr("Adds a black card that takes light away"), [this] {
            add(Section::tr("Add flag"), {0, 0, 0});
        });
        button("surroundings.card.remove", Section::tr("Remove"), {}, [this] {
            if (now(m_context).cards.items.contains(*m_shown))
                m_context.session->edit(Section::tr("Remove card").toStdString(), [&](work::Work& w) {
                    w.surroundings.cards.items.erase(*m_shown);
                    std::erase(w.surroundings.cards.order, *m_shown);
                });
        });
        newRow();
        button("surroundings.charts", Section::tr("Charts..."),
               Section::tr("Two round charts of the sky under the picture, where cards are dragged, made larger and turned"),
               [this] { m_context.openCharts(); });
        button("surroundings.card.glint", Section::tr("Point at its glint"),
               Section::tr("Then drag over a letter in the picture: the card goes where its reflection is seen there"), [this] {
                   if (now(m_context).cards.items.contains(*m_shown))
                       m_context.aimAt(AimAt::CardGlint, *m_shown);
               });
        QObject::connect(m_list, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
            if (!item)
                return;
            *m_shown = item->data(Qt::UserRole).toString().toStdString();
            m_context.session->choose(m_context.session->choice());  // rows show it
        });
        QObject::connect(m_list, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
            const std::string id = item->data(Qt::UserRole).toString().toStdString();
            const bool on = item->checkState() == Qt::Checked;
            const std::string name = item->text().toStdString();
            const SkyCard& card = now(m_context).cards.items.at(id);
            const bool renamed = name != cardTitle(card).toStdString();
            m_context.session->edit((renamed ? Section::tr("Rename card")
                                     : on    ? Section::tr("Card on")
                                             : Section::tr("Card off"))
                                        .toStdString(),
                                    [&](work::Work& w) {
                                        w.surroundings.cards.items.at(id).on = on;
                                        if (renamed)
                                            w.surroundings.cards.items.at(id).name = name;
                                    });
        });
    }

    void refresh()
    {
        const auto& cards = now(m_context).cards;
        if (!cards.items.contains(*m_shown))
            *m_shown = cards.order.empty() ? std::string() : cards.order.back();
        const QSignalBlocker quiet(m_list);
        m_list->clear();
        for (const std::string& id : cards.order) {
            const SkyCard& card = cards.items.at(id);
            auto* item = new QListWidgetItem(cardTitle(card), m_list);
            item->setData(Qt::UserRole, text(id));
            item->setFlags(item->flags() | Qt::ItemIsEditable | Qt::ItemIsUserCheckable);
            item->setCheckState(card.on ? Qt::Checked : Qt::Unchecked);
            if (id == *m_shown)
                m_list->setCurrentItem(item);
        }
    }

private:
    // Above in front, where the letters show it; a sky is there from then on.
    void add(const QString& label, base::Rgb colour)
    {
        m_context.session->edit(label.toStdString(), [&](work::Work& w) {
            SkyCard card;
            card.colour = colour;
            card.direction = w.surroundings.cards.order.size() % 2 == 0 ? -35 : 35;
            *m_shown = w.newId("k");
            w.surroundings.cards.add(*m_shown, card);
            w.surroundings.kind = work::SurroundingsKind::Sky;
        });
    }

    Context m_context;
    std::shared_ptr<std::string> m_shown;
    QListWidget* m_list;
};

Rows::Reach<SkyCard> inCard(const std::shared_ptr<std::string>& shown)
{
    return {[=](const work::Work& w) {
                const auto at = w.surroundings.cards.items.find(*shown);
                return at == w.surroundings.cards.items.end() ? std::vector<const SkyCard*>() : std::vector{&at->second};
            },
            [=](work::Work& w) {
                const auto at = w.surroundings.cards.items.find(*shown);
                return at == w.surroundings.cards.items.end() ? std::vector<SkyCard*>() : std::vector{&at->second};
            }};
}

}  // namespace

void addSurroundingsRows(Rows* rows, Section* section, const Context& context)
{
    Rows* around = rows->group("surroundings", Section::tr("Surroundings"), [=] { return text(session::surroundingsText(now(context))); });
    around->wide(beginRow(context, section));
    QLabel* name = pictureName();
    around->wide(
        name,
        [=] {
            const Surroundings& s = now(context);
            const auto shown = work::panoramaOf(context.session->work(), s.picture);
            name->setText(s.picture.empty() ? Section::tr("No picture yet: choose one")
                          : shown           ? text(work::pictureTitle(s.picture))
                                            : Section::tr("%1 cannot be shown: choose another").arg(text(work::pictureTitle(s.picture))));
        },
        [=] { return now(context).on && now(context).kind == work::SurroundingsKind::Picture; });
    around->properties(Rows::Reach<Surroundings>{[](const work::Work& w) { return std::vector{&w.surroundings}; },
                                                 [](work::Work& w) { return std::vector{&w.surroundings}; }},
                       {"picture", "casting"});
    Rows* cards = rows->group("surroundings.cards", Section::tr("Cards"), [=] {
        const auto count = now(context).cards.order.size();
        return now(context).kind == work::SurroundingsKind::Even || count == 0 ? Section::tr("none") : QString::number(count);
    });
    auto* list = new CardsList(context);
    cards->wide(list, [=] { list->refresh(); });
    cards->properties(inCard(context.card), {"name", "on"});
}

}  // namespace app
