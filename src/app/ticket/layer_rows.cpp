#include "app/ticket/layer_rows.h"

#include <QDropEvent>
#include <QHBoxLayout>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/style.h"
#include "app/ticket/picture_rows.h"
#include "session/layers.h"

namespace app {

namespace {

using Shown = std::shared_ptr<std::string>;  // id of the layer whose values are shown

constexpr int kMostLines = 6;

const work::Ordered<work::Layer>& layersNow(const Context& context)
{
    return context.session->work().finish.layers;
}

// The topmost is the first.
class LayersList : public QListWidget {
public:
    LayersList(const Context& context, Shown shown) : m_context(context), m_shown(std::move(shown))
    {
        setObjectName("finish.layers.list");
        setAccessibleName(Section::tr("Layers, the topmost first"));
        setToolTip(Section::tr("The tick switches a layer on and off; drag changes their order; double-click renames"));
        setUniformItemSizes(true);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        setDragDropMode(QAbstractItemView::InternalMove);
        setDefaultDropAction(Qt::MoveAction);
        QObject::connect(this, &QListWidget::currentRowChanged, this, [this](int row) {
            if (m_refreshing || row < 0)
                return;
            *m_shown = idOf(item(row));
            changed();
        });
        QObject::connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
            if (m_refreshing || !layersNow(m_context).items.contains(idOf(item)))
                return;
            const std::string id = idOf(item), name = item->text().toStdString();
            const bool on = item->checkState() == Qt::Checked;
            const bool renamed = name != session::layerTitle(layersNow(m_context).items.at(id));
            m_context.session->edit((renamed ? Section::tr("Rename layer")
                                     : on    ? Section::tr("Layer on")
                                             : Section::tr("Layer off"))
                                        .toStdString(),
                                    [&](work::Work& w) {
                                        work::Layer& layer = w.finish.layers.items.at(id);
                                        layer.on = on;
                                        if (renamed)
                                            layer.name = name;
                                    });
        });
    }
    std::function<void()> changed = [] {};

    void refresh()
    {
        m_refreshing = true;
        const auto& layers = layersNow(m_context);
        if (!layers.items.contains(*m_shown))
            *m_shown = layers.order.empty() ? std::string() : layers.order.back();
        while (count() > static_cast<int>(layers.order.size()))
            delete takeItem(count() - 1);
        while (count() < static_cast<int>(layers.order.size()))
            new QListWidgetItem(this);
        for (int i = 0; i < count(); ++i) {
            const std::string& id = layers.order[layers.order.size() - 1 - static_cast<std::size_t>(i)];
            const work::Layer& layer = layers.items.at(id);
            item(i)->setData(Qt::UserRole, text(id));
            item(i)->setText(text(session::layerTitle(layer)));
            item(i)->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled | Qt::ItemIsDragEnabled | Qt::ItemIsEditable |
                              Qt::ItemIsUserCheckable);
            item(i)->setCheckState(layer.on ? Qt::Checked : Qt::Unchecked);
            if (id == *m_shown)
                setCurrentRow(i);
        }
        const int lines = std::clamp(count(), 1, kMostLines);
        setFixedHeight(lines * std::max(sizeHintForRow(0), 24) + 2 * frameWidth() + 2);
        m_refreshing = false;
    }

protected:
    void dropEvent(QDropEvent* event) override
    {
        m_refreshing = true;
        QListWidget::dropEvent(event);
        m_refreshing = false;
        std::vector<std::string> order;
        for (int i = count() - 1; i >= 0; --i)
            order.push_back(idOf(item(i)));
        if (order != layersNow(m_context).order && std::ranges::is_permutation(order, layersNow(m_context).order))
            m_context.session->edit(Section::tr("Order of layers").toStdString(), [&](work::Work& w) { w.finish.layers.order = order; });
        else
            refresh();
    }

private:
    static std::string idOf(const QListWidgetItem* item) { return item->data(Qt::UserRole).toString().toStdString(); }

    Context m_context;
    Shown m_shown;
    bool m_refreshing = false;
};

template <class T>
Rows::Reach<T> ofLayer(Shown shown)
{
    const auto find = [=](work::Work& w) -> T* {
        const auto at = w.finish.layers.items.find(*shown);
        if (at == w.finish.layers.items.end() || std::holds_alternative<work::Newer>(at->second.what))
            return nullptr;
        if constexpr (std::is_same_v<T, work::Layer>)
            return &at->second;
        else
            return std::get_if<T>(&at->second.what);
    };
    return {[=](const work::Work& w) {
                const T* it = find(const_cast<work::Work&>(w));  // read only
                return it ? std::vector<const T*>{it} : std::vector<const T*>{};
            },
            [=](work::Work& w) {
                T* it = find(w);
                return it ? std::vector<T*>{it} : std::vector<T*>{};
            }};
}

// Rows of one kind of layer: those in `first` always, the others in a group of their own; without any named all stand there.
template <class T>
void addKind(Rows* rows, const Context& context, const Shown& shown, const std::vector<std::string>& first = {})
{
    const char* name = work::Kinds<decltype(work::Layer::what)>::names[decltype(work::Layer::what)(T{}).index()].name;
    const auto reach = ofLayer<T>(shown);
    T usual{};
    const auto idOf = [](std::string key) { return key.ends_with("Pt") ? key.substr(0, key.size() - 2) : key; };
    const auto values = work::valuesIn(usual);
    for (const work::Value& value : values)
        if (first.empty() || std::ranges::find(first, value.number.key) != first.end())
            rows->property(reach, value.number.key, {.id = (std::string(name) + "." + idOf(value.number.key)).c_str()});
    if (first.empty())
        return;
    Rows* more = rows->group((std::string(name) + ".more").c_str(), Section::tr("More"), [] { return QString(); },
                             [=] { return !reach.of(context.session->work()).empty(); });
    for (const work::Value& value : values)
        if (std::ranges::find(first, value.number.key) == first.end())
            more->property(reach, value.number.key, {.id = idOf(value.number.key).c_str()});
}

// What of the picture a layer acts on.
void addWhere(Rows* rows, const Context& context, const Shown& shown)
{
    const auto reach = ofLayer<work::Layer>(shown);
    const auto layerNow = [=]() -> const work::Layer* {
        const auto found = reach.of(context.session->work());
        return found.empty() ? nullptr : found.front();
    };
    Rows* where = rows->group(
        "where", Section::tr("Where"),
        [=] { return layerNow() ? text(session::whereText(context.session->work(), *layerNow())) : QString(); },
        [=] { return layerNow() != nullptr; });
    where->property(reach, "acts");
    where->property(reach, "inverted");
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    const auto button = [&](const char* id, const QString& label, const QString& tip, std::function<void()> run) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        line->addWidget(b, 1);
        QObject::connect(b, &QPushButton::clicked, box, std::move(run));
        return b;
    };
    button("finish.where.chosen", Section::tr("Only on what is chosen"),
           Section::tr("Pieces, letters and parts that are chosen in the picture"), [=] {
               if (!layerNow())
                   return;
               if (context.session->choice().empty()) {
                   context.say(Section::tr("Nothing is chosen: click a letter in the picture first"));
                   return;
               }
               context.session->edit(Section::tr("Where a layer acts").toStdString(),
                                     [&](work::Work& w) { session::actOnChosen(w, *shown, context.session->choice()); });
           });
    QPushButton* all = button("finish.where.all", Section::tr("On all pieces"), {}, [=] {
        context.session->edit(Section::tr("Where a layer acts").toStdString(), [&](work::Work& w) {
            for (work::Layer* layer : reach.in(w)) {
                layer->pieces.clear();
                layer->parts.clear();
            }
        });
    });
    where->wide(box, [=] { all->setEnabled(layerNow() && !(layerNow()->pieces.empty() && layerNow()->parts.empty())); });
}

QWidget* layerButtons(const Context& context, const Shown& shown)
{
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    const auto button = [&](const char* id, const QString& label, const QString& tip) {
        auto* b = new QPushButton(label);
        b->setObjectName(QString("finish.layers.") + id);
        b->setToolTip(tip);
        line->addWidget(b, 1);
        return b;
    };
    auto* add = button("add", Section::tr("Add"), Section::tr("A layer over the others, done to the picture as it is developed"));
    auto* menu = new QMenu(add);
    menu->setObjectName("finish.layers.menu");
    for (std::size_t kind = 0; kind < std::size(work::Kinds<decltype(work::Layer::what)>::names); ++kind) {
        const auto& name = work::Kinds<decltype(work::Layer::what)>::names[kind];
        menu->addAction(Section::tr(name.label), box,
                        [=] {
                            context.session->edit(Section::tr("Add layer").toStdString(),
                                                  [&](work::Work& w) { *shown = session::addLayer(w, kind, *shown); });
                        })
            ->setObjectName(QString("layer.") + name.name);
    }
    add->setMenu(menu);
    QObject::connect(button("double", Section::tr("Duplicate"), {}), &QPushButton::clicked, box, [=] {
        if (layersNow(context).items.contains(*shown))
            context.session->edit(Section::tr("Duplicate layer").toStdString(),
                                  [&](work::Work& w) { *shown = session::duplicateLayer(w, *shown); });
    });
    QObject::connect(button("remove", Section::tr("Remove"), {}), &QPushButton::clicked, box, [=] {
        if (layersNow(context).items.contains(*shown))
            context.session->edit(Section::tr("Remove layer").toStdString(), [&](work::Work& w) { session::removeLayer(w, *shown); });
    });
    const auto move = [&](const char* id, Qt::ArrowType arrow, const QString& tip, int way) {
        auto* b = new QToolButton;
        b->setObjectName(QString("finish.layers.") + id);
        b->setArrowType(arrow);
        b->setToolTip(tip);
        b->setAccessibleName(tip);
        line->addWidget(b);
        QObject::connect(b, &QToolButton::clicked, box, [=] {
            if (session::canMoveLayer(context.session->work(), *shown, way))
                context.session->edit(Section::tr("Order of layers").toStdString(),
                                      [&](work::Work& w) { session::moveLayer(w, *shown, way); });
        });
    };
    move("up", Qt::UpArrow, Section::tr("Over the next one"), 1);
    move("down", Qt::DownArrow, Section::tr("Under the one before"), -1);
    return box;
}

}  // namespace

void addLayerRows(Rows* rows, const Context& context)
{
    const Shown shown = std::make_shared<std::string>();
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* list = new LayersList(context, shown);
    column->addWidget(list);
    column->addWidget(layerButtons(context, shown));
    rows->wide(box, [=] {
        list->refresh();
        list->setVisible(!layersNow(context).order.empty());
    });
    list->changed = [rows] { rows->refresh(); };
    const auto layer = ofLayer<work::Layer>(shown);
    rows->property(layer, "strength", {.id = "layer.strength"});
    rows->property(layer, "blend", {.id = "layer.blend"});
    addWhere(rows, context, shown);
    addKind<finish::Tone>(rows, context, shown, {"exposure", "contrast", "saturation", "warmth"});
    addKind<finish::Levels>(rows, context, shown);
    addKind<finish::Duotone>(rows, context, shown);
    addKind<finish::Fill>(rows, context, shown, {"form", "colour", "to", "turn"});
    addKind<finish::Halo>(rows, context, shown);
    addKind<finish::Soften>(rows, context, shown);
    addKind<finish::Sharpen>(rows, context, shown);
    addKind<finish::Grain>(rows, context, shown);
    addKind<finish::Vignette>(rows, context, shown);
    addKind<finish::PrintRaster>(rows, context, shown);
    addKind<finish::FlatShadow>(rows, context, shown);
    const auto picture = ofLayer<finish::Picture>(shown);
    addPictureRow(
        rows, "finish.picture.picture", Section::tr("Picture"), Section::tr("A cut-out in front, or a texture all over"), context,
        [picture](work::Work& w) -> std::string& {
            static std::string s_none;  // where none is shown any more
            const auto found = picture.in(w);
            s_none.clear();
            return found.empty() ? s_none : found.front()->asset;
        },
        [=] { return !picture.of(context.session->work()).empty(); });
    for (const char* key : {"x", "y", "widthPt", "edges"})
        rows->property(picture, key, {.id = (std::string("picture.") + (std::string(key) == "widthPt" ? "width" : key)).c_str()});
    Rows* more = rows->group(
        "picture.more", Section::tr("More"), [] { return QString(); }, [=] { return !picture.of(context.session->work()).empty(); });
    more->property(picture, "turn");
    addKind<finish::Lines>(rows, context, shown);
}

}  // namespace app
