#include "app/ticket/step_rows.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "app/ticket/chosen.h"

namespace app {

namespace {

constexpr int kMostRows = 5;

std::string leadId(const Context& context)
{
    const session::Choice& choice = context.session->choice();
    return choice.empty() ? std::string() : choice.targets.back().piece;
}

QString lowered(QString words)
{
    return words.isEmpty() ? words : words.at(0).toLower() + words.mid(1);
}

// A step in a line: what it does, and with what.
QString titleOf(const Context& context, const work::OutlineStep& step)
{
    using work::Kinds;
    if (const auto* newer = std::get_if<work::Newer>(&step.what))
        return Section::tr("%1, made by a newer version").arg(text(newer->kind));
    const QString name = Section::tr(Kinds<work::StepWhat>::names[step.what.index()].label);
    const auto length = [&](double pt) { return text(session::shownNumber(pt, session::Kind::Length, context.unit(), 1)); };
    if (const auto* grow = std::get_if<work::Grow>(&step.what))
        return name + " " + length(grow->by);
    if (const auto* round = std::get_if<work::RoundCorners>(&step.what))
        return name + " " + length(round->radius);
    if (const auto* combine = std::get_if<work::Combine>(&step.what)) {
        const auto& pieces = context.session->work().pieces.items;
        const auto other = pieces.find(combine->piece);
        if (combine->piece.empty() && combine->how == outline::How::Unite)
            return Section::tr("Unite letters");
        return Section::tr("%1: %2").arg(Section::tr(work::labelOf(combine->how, work::kHows)),
                                         other == pieces.end() ? Section::tr("no piece") : text(work::titleOf(other->second)));
    }
    if (const auto* mirror = std::get_if<work::Mirror>(&step.what))
        return mirror->across ? Section::tr("Mirror left and right") : Section::tr("Mirror top and bottom");
    return name;
}

// Switches, and which one the rows below speak of.
class StepsList : public QListWidget {
public:
    explicit StepsList(const Context& context) : m_context(context)
    {
        setObjectName("lettering.steps.list");
        setAccessibleName(Section::tr("Steps, from the first to the last"));
        setUniformItemSizes(true);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        QObject::connect(this, &QListWidget::currentRowChanged, this, [this](int row) {
            if (m_refreshing || row < 0)
                return;
            *m_context.step = item(row)->data(Qt::UserRole).toString().toStdString();
            m_context.session->choose(m_context.session->choice());
            changed();
        });
        QObject::connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
            if (m_refreshing)
                return;
            const std::string id = item->data(Qt::UserRole).toString().toStdString();
            const bool on = item->checkState() == Qt::Checked;
            m_context.session->edit((on ? Section::tr("Step on") : Section::tr("Step off")).toStdString(), [&](work::Work& w) {
                auto& steps = w.pieces.items.at(leadId(m_context)).steps.items;
                if (const auto step = steps.find(id); step != steps.end())
                    step->second.on = on;
            });
        });
    }
    std::function<void()> changed = [] {};

    void refresh()
    {
        const work::Piece* piece = leadPiece(m_context);
        if (!piece)
            return;
        m_refreshing = true;
        const auto& order = piece->steps.order;
        if (!piece->steps.items.contains(*m_context.step))
            *m_context.step = order.empty() ? std::string() : order.back();
        while (count() > static_cast<int>(order.size()))
            delete takeItem(count() - 1);
        while (count() < static_cast<int>(order.size()))
            new QListWidgetItem(this);
        for (int i = 0; i < count(); ++i) {
            const std::string& id = order[static_cast<std::size_t>(i)];
            const work::OutlineStep& step = piece->steps.items.at(id);
            item(i)->setData(Qt::UserRole, text(id));
            item(i)->setText(titleOf(m_context, step));
            item(i)->setCheckState(step.on ? Qt::Checked : Qt::Unchecked);
            if (id == *m_context.step)
                setCurrentRow(i);
        }
        const int rows = std::clamp(count(), 1, kMostRows);
        setFixedHeight(rows * std::max(sizeHintForRow(0), 24) + 2 * frameWidth() + 2);
        m_refreshing = false;
    }

private:
    Context m_context;
    bool m_refreshing = false;
};

// Values of the chosen step, where it is of this kind.
template <class T>
Rows::Reach<T> ofStep(const Context& context)
{
    const auto find = [=](work::Work& w) -> T* {
        const auto piece = w.pieces.items.find(leadId(context));
        if (piece == w.pieces.items.end())
            return nullptr;
        const auto step = piece->second.steps.items.find(*context.step);
        return step == piece->second.steps.items.end() ? nullptr : std::get_if<T>(&step->second.what);
    };
    return {[=](const work::Work& w) {
                const T* step = find(const_cast<work::Work&>(w));  // read only
                return step ? std::vector<const T*>{step} : std::vector<const T*>{};
            },
            [=](work::Work& w) {
                T* step = find(w);
                return step ? std::vector<T*>{step} : std::vector<T*>{};
            }};
}

// The letters of the leading piece that are chosen; none: the whole piece is.
std::vector<std::string> chosenLetters(const Context& context)
{
    std::vector<std::string> letters;
    for (const session::Target& t : context.session->choice().targets)
        if (t.piece == leadId(context) && !t.letter.empty())
            letters.push_back(t.letter);
    return letters;
}

std::string addStep(const Context& context, const QString& label, work::StepWhat what)
{
    std::string id;
    context.session->edit(label.toStdString(), [&](work::Work& w) {
        id = w.newId("g");
        w.pieces.items.at(leadId(context)).steps.add(id, {true, what, chosenLetters(context)});
        *context.step = id;
    });
    return id;
}

// With the other chosen piece, else with the next one in front. What is taken is hidden, so that one sees what it made.
void addCombine(const Context& context, outline::How how)
{
    const work::Work& now = context.session->work();
    std::vector<std::string> chosen = context.session->choice().pieces();
    std::string other;
    if (chosen.size() > 1) {
        other = chosen[chosen.size() - 2];
    } else {
        for (const std::string& id : now.pieces.order)
            if (id != leadId(context) && (other.empty() || !now.pieces.items.at(id).hidden)) {
                other = id;
                break;
            }
    }
    if (other.empty()) {
        context.say(Section::tr("There is no other piece yet: add a shape or lettering, or draw one with the pen"));
        return;
    }
    const std::string lead = leadId(context);
    context.session->edit(Section::tr(work::labelOf(how, work::kHows)).toStdString(), [&](work::Work& w) {
        const std::string id = w.newId("g");
        w.pieces.items.at(lead).steps.add(id, {true, work::Combine{how, other}});
        w.pieces.items.at(other).hidden = true;
        *context.step = id;
    });
    session::Choice choice;
    choice.set({lead, {}});
    context.session->choose(choice);
}

QPushButton* adder(const Context& context)
{
    auto* add = new QPushButton(Section::tr("Add a step"));
    add->setObjectName("lettering.steps.add");
    auto* menu = new QMenu(add);
    const auto line = [&](const char* id, const QString& label, std::function<void()> run) {
        menu->addAction(label, add, std::move(run))->setObjectName(QString("step.") + id);
    };
    const auto size = [=] { return leadPiece(context) ? leadPiece(context)->sizePt() : 100.0; };
    line("round", Section::tr("Round corners"),
         [=] { addStep(context, Section::tr("Round corners"), work::RoundCorners{std::round(size() / 30)}); });
    line("grow", Section::tr("Heavier or thinner"),
         [=] { addStep(context, Section::tr("Heavier or thinner"), work::Grow{std::round(size() / 40)}); });
    menu->addSeparator();
    line("join", Section::tr("Unite letters that touch"), [=] {
        addStep(context, Section::tr("Unite letters"), work::Combine{outline::How::Unite, {}});
    });
    line("unite", Section::tr("Unite with a piece"), [=] { addCombine(context, outline::How::Unite); });
    line("subtract", Section::tr("Cut out a piece"), [=] { addCombine(context, outline::How::Subtract); });
    line("intersect", Section::tr("Keep the overlap with a piece"), [=] { addCombine(context, outline::How::Intersect); });
    menu->addSeparator();
    line("cut", Section::tr("Cut apart along a line"), [=] { context.penCut(leadId(context)); });
    line("push", Section::tr("Push"), [=] {
        work::Push push;
        push.radius = std::round(size() / 3);
        push.byY = std::round(size() / 8);
        addStep(context, Section::tr("Push"), push);
        context.say(Section::tr("Drag the ring where it is pushed, its arrow's end for how far, and the rim for how much goes along"));
    });
    line("mirror", Section::tr("Mirror"), [=] { addStep(context, Section::tr("Mirror"), work::Mirror{}); });
    add->setMenu(menu);
    return add;
}

// Up, down and away.
void moveStep(const Context& context, int by)
{
    context.session->edit(Section::tr("Order of steps").toStdString(), [&](work::Work& w) {
        auto& order = w.pieces.items.at(leadId(context)).steps.order;
        const auto at = std::find(order.begin(), order.end(), *context.step);
        if (at == order.end() || (by < 0 ? at == order.begin() : at + 1 == order.end()))
            return;
        std::iter_swap(at, at + by);
    });
}

void removeStep(const Context& context)
{
    context.session->edit(Section::tr("Take a step away").toStdString(), [&](work::Work& w) {
        work::Piece& piece = w.pieces.items.at(leadId(context));
        const auto step = piece.steps.items.find(*context.step);
        if (step == piece.steps.items.end())
            return;
        // The piece it was made with is seen again.
        if (const auto* combine = std::get_if<work::Combine>(&step->second.what))
            if (const auto other = w.pieces.items.find(combine->piece); other != w.pieces.items.end())
                other->second.hidden = false;
        piece.steps.items.erase(step);
        std::erase(piece.steps.order, *context.step);
    });
}

// Heavier or thinner: a step on the outlines, which is there as long as it is not 0.
void addGrowRow(Rows* rows, const Context& context)
{
    const session::Session* session = context.session;
    const auto growOf = [](work::Piece& piece) -> work::Grow* {
        for (const std::string& id : piece.steps.order)
            if (auto* grow = std::get_if<work::Grow>(&piece.steps.items.at(id).what); grow && piece.steps.items.at(id).letters.empty())
                return grow;
        return nullptr;
    };
    const Rows::Reach<work::Grow> reach{[=](const work::Work& w) {
                                            static const work::Grow s_none;
                                            std::vector<const work::Grow*> steps;
                                            for (const std::string& id : session->choice().pieces()) {
                                                auto& piece = const_cast<work::Piece&>(w.pieces.items.at(id));  // read only
                                                if (!std::holds_alternative<work::Newer>(piece.source))
                                                    steps.push_back(growOf(piece) ? growOf(piece) : &s_none);
                                            }
                                            return steps;
                                        },
                                        [=](work::Work& w) {
                                            std::vector<work::Grow*> steps;
                                            for (const std::string& id : session->choice().pieces()) {
                                                work::Piece& piece = w.pieces.items.at(id);
                                                if (std::holds_alternative<work::Newer>(piece.source))
                                                    continue;
                                                if (!growOf(piece))
                                                    piece.steps.add(w.newId("g"), {});
                                                steps.push_back(growOf(piece));
                                            }
                                            return steps;
                                        }};
    Rows::Extra grow;
    grow.set = [=](work::Work& w, double v) {
        for (work::Grow* step : reach.in(w))
            step->by = v;
        for (const std::string& id : session->choice().pieces()) {
            auto& steps = w.pieces.items.at(id).steps;
            std::erase_if(steps.items, [](const auto& item) {
                const auto* step = std::get_if<work::Grow>(&item.second.what);
                return step && item.second.letters.empty() && step->by == 0;
            });
            std::erase_if(steps.order, [&](const std::string& step) { return !steps.items.contains(step); });
        }
    };
    rows->property(reach, "byPt", grow);
}

void addOtherRow(Rows* rows, const Context& context, const Rows::Reach<work::Combine>& reach)
{
    auto* field = new OneOfField;
    field->setObjectName("lettering.steps.piece");
    field->setToolTip(Section::tr("Whose outlines are taken, as both stand on the sheet; it may be hidden"));
    const auto others = [=] {
        std::vector<std::string> ids = context.session->work().pieces.order;
        std::erase(ids, leadId(context));
        return ids;
    };
    QObject::connect(field, &QComboBox::activated, field, [=](int index) {
        const auto ids = others();
        if (index >= 0 && index < static_cast<int>(ids.size()))
            context.session->edit(Section::tr("With another piece").toStdString(), [&](work::Work& w) {
                for (work::Combine* combine : reach.in(w))
                    combine->piece = ids[static_cast<std::size_t>(index)];
            });
    });
    rows->labelled(
        Section::tr("Piece"), field,
        [=] {
            const auto combine = reach.of(context.session->work());
            if (combine.empty())
                return;
            field->clear();
            int at = -1;
            for (const std::string& id : others()) {
                if (id == combine.front()->piece)
                    at = field->count();
                field->addItem(text(work::titleOf(context.session->work().pieces.items.at(id))));
            }
            field->setCurrentIndex(at);
        },
        [=] { return !reach.of(context.session->work()).empty(); });
}

// What the step goes for: all of the piece, or letters of it.
void addLettersRow(Rows* rows, const Context& context)
{
    auto* field = new OneOfField;
    field->setObjectName("lettering.steps.letters");
    field->setToolTip(Section::tr("The step is taken on the whole piece, or on the letters that are chosen now and their segments"));
    const auto shown = [=]() -> const work::OutlineStep* {
        const work::Piece* piece = leadPiece(context);
        const auto step = piece ? piece->steps.items.find(*context.step) : decltype(piece->steps.items.end())();
        // Cuts and pushes go with a letter of their own.
        return !piece || step == piece->steps.items.end() || std::holds_alternative<work::Newer>(step->second.what) ? nullptr
                                                                                                                    : &step->second;
    };
    enum { Whole, Kept, Chosen };
    QObject::connect(field, &QComboBox::activated, field, [=](int index) {
        const int what = field->itemData(index).toInt();
        if (what != Kept)
            context.session->edit(Section::tr("What a step goes for").toStdString(), [&](work::Work& w) {
                w.pieces.items.at(leadId(context)).steps.items.at(*context.step).letters =
                    what == Whole ? std::vector<std::string>() : chosenLetters(context);
            });
    });
    rows->labelled(
        Section::tr("Goes for"), field,
        [=] {
            const work::OutlineStep* step = shown();
            if (!step)
                return;
            const auto words = [=](const std::vector<std::string>& letters) {
                QStringList names;
                for (const std::string& letter : letters)
                    names << (leadPiece(context)->hasLetter(letter) ? text(session::letterText(*leadPiece(context), letter))
                                                                    : Section::tr("gone"));
                return names.join(", ");
            };
            field->clear();
            field->addItem(Section::tr("The whole piece"), Whole);
            if (!step->letters.empty())
                field->addItem(words(step->letters), Kept);
            field->setCurrentIndex(step->letters.empty() ? 0 : 1);
            if (const auto chosen = chosenLetters(context); !chosen.empty() && chosen != step->letters)
                field->addItem(Section::tr("Chosen: %1").arg(words(chosen)), Chosen);
        },
        [=] { return shown() != nullptr; });
}

}  // namespace

void addStepsRows(Rows* rows, const Context& context)
{
    const auto any = [=] { return leadPiece(context) && !std::holds_alternative<work::Newer>(leadPiece(context)->source); };
    Rows* group = rows->group(
        "steps", Section::tr("Steps"),
        [=] {
            const work::Piece* piece = leadPiece(context);
            if (!piece || piece->steps.order.empty())
                return Section::tr("none");
            QStringList names;
            for (const std::string& id : piece->steps.order)
                if (piece->steps.items.at(id).on)
                    names << lowered(titleOf(context, piece->steps.items.at(id)));
            return names.isEmpty() ? Section::tr("switched off") : names.join(", ");
        },
        any);
    addGrowRow(group, context);
    const auto some = [=] { return leadPiece(context) && !leadPiece(context)->steps.order.empty(); };
    auto* list = new StepsList(context);
    group->wide(
        list, [=] { list->refresh(); }, some);
    list->changed = [group] { group->refresh(); };
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(kGrid);
    row->addWidget(adder(context), 2);
    const auto button = [&](const char* id, const QString& label, const QString& tip, std::function<void()> run) {
        auto* b = new QPushButton(label);
        b->setObjectName(QString("lettering.steps.") + id);
        b->setToolTip(tip);
        QObject::connect(b, &QPushButton::clicked, b, std::move(run));
        row->addWidget(b, 1);
        return b;
    };
    const std::vector<QPushButton*> forStep{
        button("up", Section::tr("Earlier"), Section::tr("Before the step before it"), [=] { moveStep(context, -1); }),
        button("down", Section::tr("Later"), Section::tr("After the step after it"), [=] { moveStep(context, 1); }),
        button("remove", Section::tr("Remove"), Section::tr("Takes the chosen step away"), [=] { removeStep(context); })};
    group->wide(buttons, [=] {
        for (QPushButton* b : forStep)
            b->setVisible(some());
    });
    addLettersRow(group, context);
    // The first one has its row above.
    const auto grow = ofStep<work::Grow>(context);
    Rows::Extra more;
    more.id = "more";
    more.when = [=] {
        const work::Piece* piece = leadPiece(context);
        if (!piece)
            return false;
        const auto first = std::find_if(piece->steps.order.begin(), piece->steps.order.end(), [&](const std::string& id) {
            const work::OutlineStep& step = piece->steps.items.at(id);
            return std::holds_alternative<work::Grow>(step.what) && step.letters.empty();
        });
        return first == piece->steps.order.end() || *first != *context.step;
    };
    group->property(grow, "byPt", more);
    group->property(ofStep<work::RoundCorners>(context), "radiusPt");
    const auto combine = ofStep<work::Combine>(context);
    group->property(combine, "how");
    addOtherRow(group, context, combine);
    group->property(ofStep<work::Cut>(context), "gapPt");
    const auto push = ofStep<work::Push>(context);
    group->property(push, "x");
    group->property(push, "y");
    group->property(push, "byX");
    group->property(push, "byY");
    group->property(push, "radiusPt", {.id = "pushRadius"});
    group->property(ofStep<work::Mirror>(context), "across");
}

}  // namespace app
