#include "app/ticket/surroundings_rows.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>

#include "app/ticket/chosen.h"
#include "app/ticket/letter_sample.h"
#include "app/ticket/sample_panel.h"
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

// The button that shows those that are ready, on the first letter of what is chosen.
QWidget* readyButton(const Context& context, Section* section)
{
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    auto* button = new QPushButton(Section::tr("Ready ones..."));
    button->setObjectName("surroundings.ready");
    button->setToolTip(Section::tr("Skies, rooms and studios, on your own first letter; everything in them can be changed after"));
    auto* keeps = new QCheckBox(Section::tr("Keep exposure"));
    keeps->setObjectName("surroundings.keep");
    keeps->setToolTip(Section::tr("A white card that faces you stays as bright as it was"));
    keeps->setChecked(true);
    line->addWidget(button, 1);
    line->addWidget(keeps);
    auto* panel = new SamplePanel("surroundings.ready", Section::tr("Surroundings that are ready"), section);
    QObject::connect(button, &QPushButton::clicked, section, [=] {
        const work::Work& w = context.session->work();
        const work::Piece* lead = leadPiece(context);
        if (!lead && !w.pieces.order.empty())
            lead = &w.pieces.items.at(w.pieces.order.front());
        if (!lead)
            return;
        work::Work sample = sampleOf(w, *lead);
        for (auto& [_, light] : sample.lights.items)
            light.on = false;
        std::vector<SamplePanel::Entry> entries;
        sample.surroundings.stops = -1;
        for (const work::ReadySurroundings& ready : work::readySurroundings())
            entries.push_back({Section::tr(ready.name), Section::tr(ready.words), [sample, &ready] {
                                   work::Work shown = sample;
                                   work::useSurroundings(shown, ready);
                                   return shown;
                               }});
        panel->open(button, entries);
    });
    QObject::connect(panel, &SamplePanel::taken, section, [=](int row) {
        const work::ReadySurroundings& ready = work::readySurroundings()[static_cast<std::size_t>(row)];
        context.session->edit(Section::tr("Surroundings").toStdString(),
                              [&](work::Work& w) { work::useSurroundings(w, ready, keeps->isChecked()); });
    });
    return box;
}

QString cardTitle(const SkyCard& card)
{
    return !card.name.empty() ? text(card.name) : card.colour == base::Rgb{0, 0, 0} ? Section::tr("Flag") : Section::tr("Card");
}

// The cards by name with a tick, which one the rows below speak of, and buttons.
class CardsList : public QWidget {
public:
    CardsList(const Context& context, std::shared_ptr<std::string> shown)
        : m_context(context), m_shown(std::move(shown)), m_list(new QListWidget)
    {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(4);
        m_list->setObjectName("surroundings.cards.list");
        m_list->setAccessibleName(Section::tr("Cards, the later over the earlier"));
        m_list->setFixedHeight(84);
        m_list->setToolTip(Section::tr("The tick takes a card away for a while; double-click renames"));
        column->addWidget(m_list);
        auto* buttons = new QHBoxLayout;
        buttons->setSpacing(4);
        column->addLayout(buttons);
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
    around->wide(readyButton(context, section));
    around->properties(Rows::Reach<Surroundings>{[](const work::Work& w) { return std::vector{&w.surroundings}; },
                                                 [](work::Work& w) { return std::vector{&w.surroundings}; }});
    Rows* cards = rows->group("surroundings.cards", Section::tr("Cards"), [=] {
        const auto count = now(context).cards.order.size();
        return now(context).kind == work::SurroundingsKind::Even || count == 0 ? Section::tr("none") : QString::number(count);
    });
    auto shown = std::make_shared<std::string>();
    auto* list = new CardsList(context, shown);
    cards->wide(list, [=] { list->refresh(); });
    cards->properties(inCard(shown), {"name", "on"});
}

}  // namespace app
