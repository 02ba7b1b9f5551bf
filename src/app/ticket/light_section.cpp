// Light: the lamps and what comes from all round.
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>

#include "app/ticket/light_setups.h"
#include "app/ticket/sections.h"
#include "app/ticket/surroundings_rows.h"
#include "session/edits.h"
#include "session/summary.h"

namespace app {

namespace {

const work::Light* shownLight(const Context& context)
{
    const auto& lights = context.session->work().lights;
    const auto at = lights.items.find(*context.light);
    return at == lights.items.end() ? nullptr : &at->second;
}

// The light that is shown, last, after those that are changed together with it.
std::vector<std::string> chosenLights(const Context& context, const work::Work& w)
{
    std::vector<std::string> ids;
    const auto& together = *context.lightsTogether;
    if (std::find(together.begin(), together.end(), *context.light) != together.end())
        std::copy_if(together.begin(), together.end(), std::back_inserter(ids),
                     [&](const std::string& id) { return id != *context.light && w.lights.items.contains(id); });
    if (w.lights.items.contains(*context.light))
        ids.push_back(*context.light);
    return ids;
}

Rows::Reach<work::Light> inLight(const Context& context)
{
    return {[=](const work::Work& w) {
                std::vector<const work::Light*> lights;
                for (const std::string& id : chosenLights(context, w))
                    lights.push_back(&w.lights.items.at(id));
                return lights;
            },
            [=](work::Work& w) {
                std::vector<work::Light*> lights;
                for (const std::string& id : chosenLights(context, w))
                    lights.push_back(&w.lights.items.at(id));
                return lights;
            }};
}

// All lights of its group, or it alone.
std::vector<std::string> groupOf(const work::Work& w, const std::string& light)
{
    const auto found = w.lights.items.find(light);
    std::vector<std::string> group;
    for (const std::string& id : w.lights.order)
        if (id == light ||
            (found != w.lights.items.end() && !found->second.group.empty() && w.lights.items.at(id).group == found->second.group))
            group.push_back(id);
    return group;
}

// The group of the shown lights: one that is there, or a new name.
void addGroupRow(Rows* rows, const Context& context)
{
    auto* field = new QComboBox;
    field->setObjectName("light.beam.group");
    field->setEditable(true);
    field->setInsertPolicy(QComboBox::NoInsert);
    field->setToolTip(Section::tr("Lights of one name are marked and changed together; empty: of no group"));
    field->setAccessibleName(Section::tr("Group"));
    field->lineEdit()->setAccessibleName(Section::tr("Group"));
    field->lineEdit()->setPlaceholderText(Section::tr("none"));
    const auto set = [=](const QString& name) {
        const work::Light* light = shownLight(context);
        if (!light || text(light->group) == name.trimmed())
            return;
        context.session->edit(Section::tr("Group of lights").toStdString(), [&](work::Work& w) {
            for (const std::string& id : chosenLights(context, w))
                w.lights.items.at(id).group = name.trimmed().toStdString();
        });
    };
    QObject::connect(field, &QComboBox::activated, field, [=] { set(field->currentText()); });
    QObject::connect(field->lineEdit(), &QLineEdit::editingFinished, field, [=] { set(field->currentText()); });
    rows->labelled(
        Section::tr("Group"), field,
        [=] {
            const QSignalBlocker quiet(field);
            field->clear();
            for (const auto& [_, light] : context.session->work().lights.items)
                if (!light.group.empty() && field->findText(text(light.group)) < 0)
                    field->addItem(text(light.group));
            field->setEditText(shownLight(context) ? text(shownLight(context)->group) : QString());
        },
        [=] { return shownLight(context) != nullptr; });
}

// Add, duplicate and remove.
QHBoxLayout* lampButtons(const Context& context, QWidget* box)
{
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(4);
    const auto button = [&](const char* id, const QString& label, const QString& tip) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        buttons->addWidget(b, 1);
        return b;
    };
    auto* add = button("light.add", Section::tr("Add"), Section::tr("A lamp of the chosen kind, from the other side"));
    auto* menu = new QMenu(add);
    menu->setObjectName("light.addMenu");
    static constexpr const char* kMnemonics[] = {"&Softbox", "S&un", "&Bulb", "S&pot"};
    for (const auto& kind : work::kLights)
        menu->addAction(Section::tr(kMnemonics[&kind - work::kLights]), box, [context, kind = kind.value] {
            std::string id;
            context.session->edit(Section::tr("Add light").toStdString(), [&](work::Work& w) { id = session::addLight(w, kind); });
            *context.light = id;
            context.lightChanged();
        });
    add->setMenu(menu);
    QObject::connect(button("light.double", Section::tr("Duplicate"), Section::tr("The same lamp from the other side")),
                     &QPushButton::clicked, box, [=] {
                         if (!shownLight(context))
                             return;
                         std::vector<std::string> copies;
                         context.session->edit(Section::tr("Duplicate light").toStdString(), [&](work::Work& w) {
                             for (const std::string& id : chosenLights(context, w))
                                 copies.push_back(session::duplicateLight(w, id));
                         });
                         *context.light = copies.back();
                         *context.lightsTogether = copies;
                         context.lightChanged();
                     });
    QObject::connect(button("light.remove", Section::tr("Remove"), {}), &QPushButton::clicked, box, [=] {
        if (shownLight(context))
            context.session->edit(Section::tr("Remove light").toStdString(), [&](work::Work& w) {
                for (const std::string& id : chosenLights(context, w))
                    session::removeLight(w, id);
            });
    });
    return buttons;
}

// The lights by name, with a tick for those that are on; and buttons to add, double and remove.
QWidget* lightList(const Context& context, QListWidget*& list)
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    list = new QListWidget;
    list->setObjectName("light.list");
    list->setAccessibleName(Section::tr("Lights"));
    list->setFixedHeight(84);
    list->setToolTip(Section::tr("The tick switches a light on and off; double-click renames. Several that are marked, with Ctrl or Shift, "
                                 "are changed together; a group is marked at once, and one of it alone by a second click"));
    list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    column->addWidget(list);
    column->addLayout(lampButtons(context, box));
    auto* casting = new QPushButton(Section::tr("Who casts on whom..."));
    casting->setObjectName("light.casting");
    casting->setToolTip(Section::tr("A table under the picture: which light falls on which piece, and what throws a shadow in it"));
    column->addWidget(casting);
    QObject::connect(casting, &QPushButton::clicked, box, [=] { context.openCasting(); });
    QObject::connect(list, &QListWidget::itemSelectionChanged, box, [=] {
        const auto idOf = [](const QListWidgetItem* item) { return item->data(Qt::UserRole).toString().toStdString(); };
        const std::vector<std::string> before = *context.lightsTogether;
        context.lightsTogether->clear();
        for (const QListWidgetItem* item : list->selectedItems())
            context.lightsTogether->push_back(idOf(item));
        if (context.lightsTogether->empty())
            return;
        // One of a group marks all of it; clicked again it is alone.
        if (context.lightsTogether->size() == 1)
            if (const auto group = groupOf(context.session->work(), context.lightsTogether->front());
                group.size() > 1 && !std::ranges::is_permutation(group, before))
                *context.lightsTogether = group;
        const QListWidgetItem* current = list->currentItem();
        *context.light = current && current->isSelected() ? idOf(current) : context.lightsTogether->back();
        context.lightChanged();
    });
    QObject::connect(list, &QListWidget::itemChanged, box, [=](QListWidgetItem* item) {
        const std::string id = item->data(Qt::UserRole).toString().toStdString();
        const bool on = item->checkState() == Qt::Checked;
        const std::string name = item->text().toStdString();
        const bool renamed = name != session::lightTitle(context.session->work(), id);
        context.session->edit((renamed ? Section::tr("Rename light")
                               : on    ? Section::tr("Light on")
                                       : Section::tr("Light off"))
                                  .toStdString(),
                              [&](work::Work& w) {
                                  w.lights.items.at(id).on = on;
                                  if (renamed)
                                      w.lights.items.at(id).name = name;
                              });
    });
    return box;
}

// Where the shown light is set by what it does.
QWidget* aimButtons(const Context& context)
{
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    const auto button = [&](const char* id, const QString& label, const QString& tip, AimAt what) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        line->addWidget(b, 1);
        QObject::connect(b, &QPushButton::clicked, box, [=] {
            if (shownLight(context))
                context.aimAt(what, *context.light);
        });
    };
    button("light.glint", Section::tr("Point at its glint"),
           Section::tr("Then drag over a letter in the picture: the light goes where its reflection is seen there"), AimAt::Glint);
    button("light.shadow", Section::tr("Pull its shadow"),
           Section::tr("Then drag a shadow on wall or floor: the light goes where it falls so; with Shift it gets softer"), AimAt::Shadow);
    return box;
}

void showLights(const Context& context, QListWidget* list)
{
    const work::Work& w = context.session->work();
    if (!w.lights.items.contains(*context.light))
        *context.light = w.lights.order.empty() ? std::string() : w.lights.order.front();
    const QSignalBlocker quiet(list);
    const std::vector<std::string> chosen = chosenLights(context, w);
    // In place: what is clicked must outlive the click.
    while (list->count() > static_cast<int>(w.lights.order.size()))
        delete list->takeItem(list->count() - 1);
    while (list->count() < static_cast<int>(w.lights.order.size()))
        new QListWidgetItem(list);
    for (int i = 0; i < list->count(); ++i) {
        const std::string& id = w.lights.order[static_cast<std::size_t>(i)];
        QListWidgetItem* item = list->item(i);
        item->setText(text(session::lightTitle(w, id)));
        item->setData(Qt::UserRole, text(id));
        item->setFlags(item->flags() | Qt::ItemIsEditable | Qt::ItemIsUserCheckable);
        item->setCheckState(w.lights.items.at(id).on ? Qt::Checked : Qt::Unchecked);
        if (id == *context.light && list->currentItem() != item)
            list->setCurrentItem(item, QItemSelectionModel::NoUpdate);
        item->setSelected(std::find(chosen.begin(), chosen.end(), id) != chosen.end());
    }
}

}  // namespace

Section* lightSection(const Context& context)
{
    auto* section =
        new Section(context, "light", Section::tr("Light"), [=] { return text(session::lightSummary(context.session->work())); });
    Rows* rows = section->rows();
    rows->wide(lightSetups(context));
    QListWidget* list = nullptr;
    QWidget* box = lightList(context, list);
    rows->wide(box, [=] { showLights(context, list); });
    const auto light = inLight(context);
    Rows::Extra noUsual;
    noUsual.usual = [] { return std::optional<double>(); };
    rows->wide(aimButtons(context), {}, [=] { return shownLight(context) != nullptr; });
    rows->property(light, "kind");
    rows->property(light, "direction", noUsual);
    rows->property(light, "height");
    rows->property(light, "stops");
    rows->property(light, "colour");
    rows->property(light, "kelvin");
    Rows* beam = rows->group(
        "beam", Section::tr("Size and beam"),
        [=] {
            const work::Light* l = shownLight(context);
            return l ? text(session::beamText(*l)) : QString();
        },
        [=] { return shownLight(context) != nullptr; });
    beam->properties(light, {"name", "kind", "on", "direction", "height", "stops", "colour", "kelvin", "casting", "group"});
    addGroupRow(beam, context);
    addSurroundingsRows(rows, section, context);
    return section;
}

}  // namespace app
