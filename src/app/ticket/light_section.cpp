// Light: the lamps and what comes from all round.
#include <QHBoxLayout>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>

#include "app/ticket/sections.h"
#include "session/edits.h"
#include "session/summary.h"

namespace app {

namespace {

using render::LightKind;
using session::Kind;

const work::Light* shownLight(const Desk& desk)
{
    const auto& lights = desk.session->work().lights;
    const auto at = lights.items.find(*desk.light);
    return at == lights.items.end() ? nullptr : &at->second;
}

template <class T, class Read>
Rows::Get<T> ofLight(const Desk& desk, Read read)
{
    return [=]() -> std::optional<T> {
        const work::Light* l = shownLight(desk);
        return l ? std::optional<T>(static_cast<T>(read(*l))) : std::nullopt;
    };
}
template <class T, class Write>
Rows::Set<T> onLight(const Desk& desk, Write write)
{
    return [=](work::Work& w, const T& v) {
        if (const auto at = w.lights.items.find(*desk.light); at != w.lights.items.end())
            write(at->second, v);
    };
}

// The lights by name, with a tick for those that are on; and buttons to add, double and remove.
QWidget* lightList(const Desk& desk, QListWidget*& list)
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    list = new QListWidget;
    list->setObjectName("light.list");
    list->setAccessibleName(Section::tr("Lights"));
    list->setFixedHeight(84);
    list->setToolTip(Section::tr("The tick switches a light on and off; double-click renames"));
    column->addWidget(list);
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
    const std::pair<LightKind, QString> kinds[] = {{LightKind::Softbox, Section::tr("&Softbox")},
                                                   {LightKind::Sun, Section::tr("S&un")},
                                                   {LightKind::Bulb, Section::tr("&Bulb")},
                                                   {LightKind::Spot, Section::tr("S&pot")}};
    for (const auto& [kind, name] : kinds)
        menu->addAction(name, box, [desk, kind = kind] {
            std::string id;
            desk.session->edit(Section::tr("Add light").toStdString(), [&](work::Work& w) { id = session::addLight(w, kind); });
            *desk.light = id;
            desk.lightChanged();
        });
    add->setMenu(menu);
    QObject::connect(button("light.double", Section::tr("Duplicate"), Section::tr("The same lamp from the other side")),
                     &QPushButton::clicked, box, [=] {
                         if (!shownLight(desk))
                             return;
                         std::string id;
                         desk.session->edit(Section::tr("Duplicate light").toStdString(),
                                            [&](work::Work& w) { id = session::duplicateLight(w, *desk.light); });
                         *desk.light = id;
                         desk.lightChanged();
                     });
    QObject::connect(button("light.remove", Section::tr("Remove"), {}), &QPushButton::clicked, box, [=] {
        if (shownLight(desk))
            desk.session->edit(Section::tr("Remove light").toStdString(), [&](work::Work& w) { session::removeLight(w, *desk.light); });
    });
    column->addLayout(buttons);
    QObject::connect(list, &QListWidget::currentItemChanged, box, [=](QListWidgetItem* item) {
        if (!item)
            return;
        *desk.light = item->data(Qt::UserRole).toString().toStdString();
        desk.lightChanged();
    });
    QObject::connect(list, &QListWidget::itemChanged, box, [=](QListWidgetItem* item) {
        const std::string id = item->data(Qt::UserRole).toString().toStdString();
        const bool on = item->checkState() == Qt::Checked;
        const std::string name = item->text().toStdString();
        const bool renamed = name != session::lightTitle(desk.session->work(), id);
        desk.session->edit((renamed ? Section::tr("Rename light")
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

void showLights(const Desk& desk, QListWidget* list)
{
    const work::Work& w = desk.session->work();
    if (!w.lights.items.contains(*desk.light))
        *desk.light = w.lights.order.empty() ? std::string() : w.lights.order.front();
    const QSignalBlocker quiet(list);
    list->clear();
    for (const std::string& id : w.lights.order) {
        auto* item = new QListWidgetItem(text(session::lightTitle(w, id)), list);
        item->setData(Qt::UserRole, text(id));
        item->setFlags(item->flags() | Qt::ItemIsEditable | Qt::ItemIsUserCheckable);
        item->setCheckState(w.lights.items.at(id).on ? Qt::Checked : Qt::Unchecked);
        if (id == *desk.light)
            list->setCurrentItem(item);
    }
}

}  // namespace

Section* lightSection(const Desk& desk)
{
    auto* section = new Section(desk, "light", Section::tr("Light"), [=] { return text(session::lightSummary(desk.session->work())); });
    Rows* rows = section->rows();
    QListWidget* list = nullptr;
    QWidget* box = lightList(desk, list);
    rows->wide(box, [=] { showLights(desk, list); });
    const auto is = [=](std::initializer_list<LightKind> kinds) -> Rows::When {
        const std::vector<LightKind> wanted = kinds;
        return [=] {
            const work::Light* l = shownLight(desk);
            return l && std::find(wanted.begin(), wanted.end(), l->kind) != wanted.end();
        };
    };
    const std::initializer_list<LightKind> all = {LightKind::Softbox, LightKind::Sun, LightKind::Bulb, LightKind::Spot};
    rows->choice("kind", Section::tr("Kind"),
                 Section::tr("A softbox is a bright rectangle, a sun shines from far away, a bulb all round, a spot in a cone"),
                 {Section::tr("Softbox"), Section::tr("Sun"), Section::tr("Bulb"), Section::tr("Spot")},
                 ofLight<int>(desk, [](const work::Light& l) { return l.kind; }),
                 onLight<int>(desk, [](work::Light& l, int v) { l.kind = static_cast<LightKind>(v); }), is(all));
    struct Number {
        const char* id;
        QString label, tip;
        double work::Light::*member;
        NumberSpec spec;
        std::optional<double> usual;
        std::initializer_list<LightKind> kinds;
    };
    const Number numbers[] = {
        {"direction",
         Section::tr("From"),
         Section::tr("Round the lettering: 0 from you, 90 from the right, 180 from behind"),
         &work::Light::direction,
         {Kind::Angle, -180, 180, 1, 1},
         {},
         all},
        {"height",
         Section::tr("Height"),
         Section::tr("Over the lettering; higher makes shadows shorter"),
         &work::Light::height,
         {Kind::Angle, -90, 90, 1, 1},
         45,
         all},
        {"stops",
         Section::tr("Brightness"),
         Section::tr("0 makes a white card at the lettering white; each stop doubles"),
         &work::Light::stops,
         {Kind::Stops, -20, 20, 0.1, 2},
         0,
         all},
        {"distance",
         Section::tr("Distance"),
         Section::tr("Nearer is softer; the brightness stays"),
         &work::Light::distance,
         {Kind::Length, 1, 1e6, 10, 1},
         {},
         {LightKind::Softbox, LightKind::Bulb, LightKind::Spot}},
        {"width",
         Section::tr("Width"),
         Section::tr("Larger is softer"),
         &work::Light::width,
         {Kind::Length, 0.1, 1e6, 10, 1},
         {},
         {LightKind::Softbox}},
        {"breadth",
         Section::tr("Breadth"),
         Section::tr("Larger is softer"),
         &work::Light::breadth,
         {Kind::Length, 0.1, 1e6, 10, 1},
         {},
         {LightKind::Softbox}},
        {"size",
         Section::tr("Size"),
         Section::tr("Diameter; larger is softer"),
         &work::Light::size,
         {Kind::Length, 0.1, 1e6, 1, 1},
         {},
         {LightKind::Bulb, LightKind::Spot}},
        {"sunSize",
         Section::tr("Size"),
         Section::tr("Diameter as seen; the real sun has 0.53"),
         &work::Light::sunSize,
         {Kind::Angle, 0.01, 90, 0.1, 2},
         0.53,
         {LightKind::Sun}},
        {"cone", Section::tr("Cone"), Section::tr("Full angle"), &work::Light::cone, {Kind::Angle, 1, 179, 1, 1}, 40, {LightKind::Spot}},
        {"fade",
         Section::tr("Fading edge"),
         Section::tr("How much of the cone's edge fades"),
         &work::Light::fade,
         {Kind::Angle, 0, 90, 1, 1},
         10,
         {LightKind::Spot}}};
    for (const Number& n : numbers) {
        const auto member = n.member;
        const auto usual = n.usual;
        rows->number(
            n.id, n.label, n.tip, n.spec, ofLight<double>(desk, [member](const work::Light& l) { return l.*member; }),
            onLight<double>(desk, [member](work::Light& l, double v) { l.*member = v; }), [usual] { return usual; }, is(n.kinds));
    }
    rows->colour("colour", Section::tr("Colour"), {},
                 ofLight<ColourField::Value>(desk,
                                             [](const work::Light& l) {
                                                 return ColourField::Value{l.colour, l.swatch};
                                             }),
                 onLight<ColourField::Value>(desk,
                                             [](work::Light& l, const ColourField::Value& v) {
                                                 l.colour = v.colour;
                                                 l.swatch = v.swatch;
                                             }),
                 is(all));
    Rows* around = rows->group("surroundings", Section::tr("Surroundings"), [=] {
        const work::Surroundings& s = desk.session->work().surroundings;
        return s.on ? Section::tr("%1, %2 stops").arg(text(picture::hexFromRgb(s.colour))).arg(s.stops, 0, 'g', 3) : Section::tr("black");
    });
    around->flag(
        "on", Section::tr("Light from all round"), Section::tr("Fills the shadows; without it they are black"),
        [=]() -> std::optional<bool> { return desk.session->work().surroundings.on; },
        [](work::Work& w, bool v) { w.surroundings.on = v; });
    around->number(
        "stops", Section::tr("Brightness"), Section::tr("0 makes a white card white by itself"), {Kind::Stops, -20, 20, 0.1, 2},
        [=]() -> std::optional<double> { return desk.session->work().surroundings.stops; },
        [](work::Work& w, double v) { w.surroundings.stops = v; }, [] { return std::optional(-1.6); });
    around->colour(
        "colour", Section::tr("Colour"), {},
        [=]() -> std::optional<ColourField::Value> {
            const work::Surroundings& s = desk.session->work().surroundings;
            return ColourField::Value{s.colour, s.swatch};
        },
        [](work::Work& w, const ColourField::Value& v) {
            w.surroundings.colour = v.colour;
            w.surroundings.swatch = v.swatch;
        });
    return section;
}

}  // namespace app
