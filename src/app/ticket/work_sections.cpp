// Sheet, Ground, View and Finish: the whole work.
#include <QComboBox>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QListWidget>
#include <QPushButton>
#include <QSettings>
#include <cmath>

#include "app/fields/one_of_field.h"
#include "app/ticket/finish_starts.h"
#include "app/ticket/layer_rows.h"
#include "app/ticket/picture_rows.h"
#include "app/ticket/sections.h"
#include "session/edits.h"
#include "session/gestures.h"
#include "session/summary.h"
#include "work/grounding.h"

namespace app {

namespace {

template <class T, class Read>
Rows::Get<T> ofWork(const Context& context, Read read)
{
    return [=]() -> std::optional<T> { return static_cast<T>(read(context.session->work())); };
}

Rows::Get<double> usually(double value)
{
    return [value] { return std::optional(value); };
}

// A struct of the work itself.
template <class T, class Of>
Rows::Reach<T> inWork(Of of)
{
    return {[=](const work::Work& w) { return std::vector<const T*>{&of(const_cast<work::Work&>(w))}; },  // read only
            [=](work::Work& w) { return std::vector<T*>{&of(w)}; }};
}

void addMaterialRows(Rows* rows, const char* id, const QString& title, const Context& context, work::Material work::Ground::*material,
                     Rows::When when)
{
    Rows* inner = rows->group(
        id, title, [=] { return text(picture::hexFromRgb((context.session->work().ground.*material).baseColour)); }, std::move(when));
    const auto reach = inWork<work::Material>([material](work::Work& w) -> work::Material& { return w.ground.*material; });
    Rows::Extra colour, roughness;
    colour.id = "colour";
    roughness.usual = usually(0.9);
    // Seen from straight above, of the light that comes from there: the mirror layer's strength times ((n - 1) / (n + 1))^2.
    constexpr double kMostMirror = 0.25;  // of the highest index there is
    const auto strength = [=]() -> std::optional<double> {
        const work::Material& m = context.session->work().ground.*material;
        const double root = (static_cast<double>(m.ior) - 1) / (static_cast<double>(m.ior) + 1);
        return static_cast<double>(m.specular) * root * root;
    };
    const auto mirror = [=](work::Work& w, double share) {
        work::Material& m = w.ground.*material;
        const double root = std::sqrt(std::clamp(share, 0.0, kMostMirror));
        m.specular = share > 0 ? 1 : 0;
        m.ior = share > 0 ? static_cast<float>((1 + root) / (1 - root)) : work::Material().ior;
    };
    inner->property(reach, "baseColour", colour);
    inner->property(reach, "metallic");
    inner->property(reach, "roughness", roughness);
    inner->number(
        "mirror", Section::tr("Mirror"),
        Section::tr("How much of what stands on it is mirrored, looked at from straight above; flatter it is more. Metal mirrors more "
                    "than this goes to, roughness makes it soft"),
        {session::Kind::Percent, 0, kMostMirror, 0.01, 1}, strength, mirror, usually(0));
    addPictureRows(inner, reach, context, false);
}

// Buttons in a row, each with a name.
struct Button {
    const char* id;
    QString label, tip;
    std::function<void()> run;
};
QWidget* buttonRow(const std::vector<Button>& buttons)
{
    auto* row = new QWidget;
    auto* box = new QHBoxLayout(row);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    for (const Button& b : buttons) {
        auto* button = new QPushButton(b.label);
        button->setObjectName(b.id);
        button->setToolTip(b.tip);
        button->setMinimumWidth(10);
        QObject::connect(button, &QPushButton::clicked, button, b.run);
        box->addWidget(button, 1);
    }
    return row;
}

}  // namespace

std::vector<SheetPreset> sheetPresets()
{
    using work::Unit;
    // Screen and social sizes are common practice, A sizes ISO 216.
    std::vector<SheetPreset> presets{{Section::tr("Screen 1920 x 1080"), {1920, 1080, Unit::Px, 72}},
                                     {Section::tr("Screen 1280 x 720"), {1280, 720, Unit::Px, 72}},
                                     {Section::tr("Social square 1080"), {1080, 1080, Unit::Px, 72}},
                                     {Section::tr("Social upright 1080 x 1350"), {1080, 1350, Unit::Px, 72}},
                                     {Section::tr("Story 1080 x 1920"), {1080, 1920, Unit::Px, 72}},
                                     {Section::tr("Avatar 500"), {500, 500, Unit::Px, 72}},
                                     {Section::tr("Poster A3 upright"), {297, 420, Unit::Mm, 300}},
                                     {Section::tr("Poster A2 upright"), {420, 594, Unit::Mm, 300}},
                                     {Section::tr("Card A5 wide"), {210, 148, Unit::Mm, 300}},
                                     {Section::tr("Wallpaper 3840 x 2160"), {3840, 2160, Unit::Px, 72}},
                                     {Section::tr("Phone wallpaper 1440 x 3200"), {1440, 3200, Unit::Px, 72}}};
    QSettings settings;
    const int count = settings.beginReadArray("sheets");
    for (int i = 0; i < count; ++i) {
        settings.setArrayIndex(i);
        work::SheetSize sheet{settings.value("width").toDouble(), settings.value("height").toDouble(),
                              static_cast<Unit>(std::clamp(settings.value("unit").toInt(), 0, 3)), settings.value("ppi").toDouble()};
        if (sheet.width > 0 && sheet.height > 0 && sheet.ppi >= 1)
            presets.push_back({settings.value("name").toString(), sheet});
    }
    settings.endArray();
    return presets;
}

void fillWithSheets(QComboBox* list, const work::SheetSize& now)
{
    list->clear();
    int at = -1;
    for (const SheetPreset& p : sheetPresets()) {
        list->addItem(p.name);
        if (p.sheet.width == now.width && p.sheet.height == now.height && p.sheet.unit == now.unit && p.sheet.ppi == now.ppi)
            at = list->count() - 1;
    }
    list->setCurrentIndex(at);
}

void keepOwnSheet(const QString& name, const work::SheetSize& sheet)
{
    QSettings settings;
    const int count = settings.beginReadArray("sheets");
    settings.endArray();
    settings.beginWriteArray("sheets", count + 1);
    settings.setArrayIndex(count);
    settings.setValue("name", name);
    settings.setValue("width", sheet.width);
    settings.setValue("height", sheet.height);
    settings.setValue("unit", static_cast<int>(sheet.unit));
    settings.setValue("ppi", sheet.ppi);
    settings.endArray();
}

namespace {

using ChangeSheet = std::function<void(work::Work&, const work::SheetSize&)>;

void addSheetPresets(Rows* rows, Section* section, const Context& context, const ChangeSheet& change)
{
    auto* presets = new OneOfField;
    presets->setObjectName("sheet.preset");
    presets->setPlaceholderText(Section::tr("choose"));
    presets->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    presets->setToolTip(Section::tr("Usual sizes, and the ones you kept"));
    QObject::connect(presets, &QComboBox::activated, section, [=](int index) {
        const auto all = sheetPresets();
        if (index < 0 || index >= static_cast<int>(all.size()))
            return;
        context.session->edit(Section::tr("Sheet").toStdString(),
                              [&](work::Work& w) { change(w, all[static_cast<std::size_t>(index)].sheet); });
    });
    rows->labelled(Section::tr("Size from"), presets, [=] { fillWithSheets(presets, context.session->work().sheet()); });
}

void addUnit(Rows* rows, const Context& context)
{
    rows->oneOf("unit", Section::tr("Unit"), Section::tr("Of the sheet and of all lengths in the ticket; the sheet keeps its size"),
                {"px", "mm", "in", "pt"}, ofWork<int>(context, [](const work::Work& w) { return w.sheet().unit; }),
                [](work::Work& w, int v) {
                    work::SheetSize changed = w.sheet();
                    changed.unit = static_cast<work::Unit>(v);
                    const double perUnit = changed.toPt(1);
                    changed.width = std::round(w.sheet().widthPt() / perUnit * 1000) / 1000;
                    changed.height = std::round(w.sheet().heightPt() / perUnit * 1000) / 1000;
                    changed.margin = std::round(w.sheet().toPt(w.sheet().margin) / perUnit * 1000) / 1000;
                    w.sheet() = changed;
                });
}

void addKeepSize(Rows* rows, Section* section, const Context& context)
{
    auto* keep = new QPushButton(Section::tr("Keep this size"));
    keep->setObjectName("sheet.keep");
    keep->setToolTip(Section::tr("Adds it to the sizes to choose from"));
    QObject::connect(keep, &QPushButton::clicked, section, [=] {
        keepOwnSheet(text(session::sheetSummary(context.session->work())), context.session->work().sheet());
        rows->refresh();
    });
    rows->wide(keep);
}

}  // namespace

Section* sheetSection(const Context& context)
{
    auto* section =
        new Section(context, "sheet", Section::tr("Sheet"), [=] { return text(session::sheetSummary(context.session->work())); });
    Rows* rows = section->rows();
    auto takeAlong = std::make_shared<bool>(true);
    const ChangeSheet change = [=](work::Work& w, const work::SheetSize& sheet) { session::changeSheet(w, sheet, *takeAlong); };
    addSheetPresets(rows, section, context, change);
    const auto sheet = inWork<work::SheetSize>([](work::Work& w) -> work::SheetSize& { return w.sheet(); });
    const auto changing = [=](double work::SheetSize::*member) {
        Rows::Extra extra;
        extra.usual = [] { return std::optional<double>(); };
        extra.set = [=](work::Work& w, double v) {
            work::SheetSize changed = w.sheet();
            changed.*member = v;
            change(w, changed);
        };
        return extra;
    };
    rows->property(sheet, "width", changing(&work::SheetSize::width));
    rows->property(sheet, "height", changing(&work::SheetSize::height));
    addUnit(rows, context);
    rows->property(sheet, "ppi", changing(&work::SheetSize::ppi));
    rows->property(sheet, "margin");
    rows->flag(
        "takeAlong", Section::tr("The work grows with the sheet"),
        Section::tr("Type, depths and lights keep their share of the sheet's shorter side"),
        [=]() -> std::optional<bool> { return *takeAlong; }, [=](work::Work&, bool v) { *takeAlong = v; });
    addKeepSize(rows, section, context);
    return section;
}

namespace {

// A view was changed beside what was asked for.
void sayThatItRose(const Context& context, bool& rose)
{
    if (rose)
        context.offer(Section::tr("The view rose a little, so that the floor is more than a line."),
                      {{"undo", Section::tr("Undo all of it"), [=] { context.session->undo(); }}});
    rose = false;
}

}  // namespace

Section* groundSection(const Context& context)
{
    auto* section = new Section(context, "ground", Section::tr("Ground"),
                                [=] { return text(session::groundSummary(context.session->work(), context.unit())); });
    Rows* rows = section->rows();
    using render::GroundKind;
    const auto is = [=](std::initializer_list<GroundKind> kinds) -> Rows::When {
        const std::vector<GroundKind> list = kinds;
        return [=] { return std::find(list.begin(), list.end(), context.session->work().ground.kind) != list.end(); };
    };
    const auto ground = inWork<work::Ground>([](work::Work& w) -> work::Ground& { return w.ground; });
    Rows::Extra bend;
    bend.usual = usually(300);
    auto rose = std::make_shared<bool>(false);
    auto fonts = std::make_shared<work::Cache>();
    Rows::Extra kind;
    kind.choose = [=](work::Work& w, int v) { *rose = work::chooseGround(w, static_cast<GroundKind>(v), *fonts); };
    kind.changed = [=] { sayThatItRose(context, *rose); };
    rows->property(ground, "kind", kind);
    rows->property(ground, "wallBehindPt");
    rows->property(ground, "floorBelowPt");
    rows->property(ground, "sweepPt", bend);
    addMaterialRows(rows, "wall", Section::tr("Wall"), context, &work::Ground::wall, is({GroundKind::Wall, GroundKind::Sweep}));
    addMaterialRows(rows, "floor", Section::tr("Floor"), context, &work::Ground::floor, is({GroundKind::Floor, GroundKind::Sweep}));
    rows->property(ground, "backdropKind");
    addPictureRow(
        rows, "ground.backdropPicture", Section::tr("Picture"), Section::tr("Fills the frame behind everything, as typed"), context,
        [](work::Work& w) -> std::string& { return w.ground.backdropPicture; },
        [=] { return context.session->work().ground.backdropKind == work::BackdropKind::Picture; });
    for (const char* key : {"backdrop", "backdropTop", "backdropBlur"})
        rows->property(ground, key);
    return section;
}

namespace {

void addStandardViews(Rows* rows, const Context& context)
{
    using session::StandardView;
    const auto to = [=](StandardView which) {
        return [=] {
            if (context.session->work().viewLocked) {
                context.say(Section::tr("The view is locked; unlock it in the View section"));
                return;
            }
            context.session->edit(Section::tr("View").toStdString(),
                                  [&](work::Work& w) { w.view() = session::standardView(w.view(), which); });
        };
    };
    rows->wide(buttonRow({{"view.home", Section::tr("Home"), Section::tr("The straight view (Home)"), to(StandardView::Straight)},
                          {"view.above", Section::tr("From above"), Section::tr("Straight down"), to(StandardView::FromAbove)},
                          {"view.last", Section::tr("Last view"), Section::tr("Back to the view before, and forth again"),
                           [=] { context.session->backToLastView(); }}}));
    rows->wide(buttonRow(
        {{"view.isoLeft", Section::tr("Iso left"), Section::tr("Isometric from the left: all three directions equally short"),
          to(StandardView::IsometricLeft)},
         {"view.isoRight", Section::tr("Iso right"), Section::tr("Isometric from the right"), to(StandardView::IsometricRight)},
         {"view.dimLeft", Section::tr("2:1 left"), Section::tr("Dimetric: edges go two across for one up"), to(StandardView::DimetricLeft)},
         {"view.dimRight", Section::tr("2:1 right"), Section::tr("Dimetric from the right"), to(StandardView::DimetricRight)}}));
}

void addSavedViews(Rows* rows, Section* section, const Context& context)
{
    auto* saved = new QListWidget;
    saved->setObjectName("view.saved");
    saved->setAccessibleName(Section::tr("Saved views"));
    saved->setFixedHeight(64);
    saved->setToolTip(Section::tr("A click goes there; double-click renames"));
    QObject::connect(saved, &QListWidget::itemClicked, section, [=](QListWidgetItem* item) {
        const std::string id = item->data(Qt::UserRole).toString().toStdString();
        if (!context.session->work().viewLocked)
            context.session->edit(Section::tr("Saved view").toStdString(), [&](work::Work& w) { w.view() = w.views.items.at(id).view; });
    });
    QObject::connect(saved, &QListWidget::itemChanged, section, [=](QListWidgetItem* item) {
        const std::string id = item->data(Qt::UserRole).toString().toStdString(), name = item->text().toStdString();
        context.session->edit(Section::tr("Rename view").toStdString(), [&](work::Work& w) { w.views.items.at(id).name = name; });
    });
    rows->wide(
        saved,
        [=] {
            const QSignalBlocker quiet(saved);
            saved->clear();
            for (const std::string& id : context.session->work().views.order) {
                const work::SavedView& v = context.session->work().views.items.at(id);
                auto* item = new QListWidgetItem(text(v.name), saved);
                item->setData(Qt::UserRole, text(id));
                item->setFlags(item->flags() | Qt::ItemIsEditable);
                item->setSelected(v.view == context.session->work().view());
            }
        },
        [=] { return !context.session->work().views.order.empty(); });
    rows->wide(buttonRow({{"view.save", Section::tr("Save this view"), Section::tr("By name, to come back to"),
                           [=] {
                               const auto number = context.session->work().views.order.size() + 1;
                               context.session->edit(Section::tr("Save view").toStdString(), [&](work::Work& w) {
                                   session::saveView(w, Section::tr("View %1").arg(number).toStdString());
                               });
                           }},
                          {"view.remove", Section::tr("Remove"), Section::tr("The chosen saved view"), [=] {
                               if (const auto* item = saved->currentItem()) {
                                   const std::string id = item->data(Qt::UserRole).toString().toStdString();
                                   context.session->edit(Section::tr("Remove view").toStdString(), [&](work::Work& w) {
                                       w.views.items.erase(id);
                                       std::erase(w.views.order, id);
                                   });
                               }
                           }}}));
}

}  // namespace

Section* viewSection(const Context& context)
{
    auto* section = new Section(context, "view", Section::tr("View"), [=] { return text(session::viewSummary(context.session->work())); });
    Rows* rows = section->rows();
    auto rose = std::make_shared<bool>(false);
    auto* projection =
        rows->oneOf("kind", Section::tr("Projection"), Section::tr("Parallel has no perspective at all"),
                    {Section::tr("Parallel"), Section::tr("Perspective")},
                    ofWork<int>(context, [](const work::Work& w) { return w.view().perspective ? 1 : 0; }), [=](work::Work& w, int v) {
                        w.view().perspective = v == 1;
                        if (v == 1)
                            *rose = work::riseOverFloor(w);
                    });
    QObject::connect(projection, &QComboBox::activated, section, [=] { sayThatItRose(context, *rose); });
    const auto view = inWork<work::View>([](work::Work& w) -> work::View& { return w.view(); });
    for (const char* key : {"focalLengthMm", "walk", "rise", "frame"})
        rows->property(view, key);
    Rows* aim = rows->group("aim", Section::tr("Aim, roll and cut"), [] { return QString(); });
    for (const char* key : {"aimX", "aimY", "aimZ", "roll", "cutsNear", "cutBeforePt"})
        aim->property(view, key);
    Rows* lens = rows->group(
        "lens", Section::tr("Depth of field"), [=] { return text(session::lensText(context.session->work().view())); },
        [=] { return context.session->work().view().perspective; });
    lens->wide(buttonRow({{"view.sharp", Section::tr("Pick what is sharp"), Section::tr("By a click in the picture"),
                           [=] { context.aimAt(AimAt::Sharp, {}); }}}));
    for (const char* key : {"fNumber", "sharpPt", "blades"})
        lens->property(view, key);

    addStandardViews(rows, context);
    rows->flag("locked", Section::tr("Lock the view"), Section::tr("Hands in the picture leave it as it is"),
               ofWork<bool>(context, [](const work::Work& w) { return w.viewLocked; }), [](work::Work& w, bool v) { w.viewLocked = v; });
    addSavedViews(rows, section, context);
    return section;
}

Section* finishSection(const Context& context)
{
    auto* section =
        new Section(context, "finish", Section::tr("Finish"), [=] { return text(session::finishSummary(context.session->work())); });
    Rows* rows = section->rows();
    rows->wide(finishStarts(context));
    rows->properties(inWork<work::Finish>([](work::Work& w) -> work::Finish& { return w.finish; }));
    addLayerRows(rows, context);
    return section;
}

}  // namespace app
