#include "app/ticket/layer_rows.h"

#include <QDropEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "app/ticket/picture_rows.h"
#include "app/ticket/wrapped_line.h"
#include "base/file.h"
#include "session/edits.h"
#include "session/layers.h"
#include "work/codes.h"
#include "work/light_desk.h"
#include "work/pictures.h"
#include "work/seen_letters.h"

namespace app {

namespace {

using Shown = std::shared_ptr<std::string>;  // id of the layer whose values are shown

constexpr int kMostLines = 8;

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
            const bool renamed = name != session::layerTitle(m_context.session->work(), layersNow(m_context).items.at(id));
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
        const std::vector<std::string> order = work::together(layers);
        while (count() > static_cast<int>(order.size()))
            delete takeItem(count() - 1);
        while (count() < static_cast<int>(order.size()))
            new QListWidgetItem(this);
        for (int i = 0; i < count(); ++i) {
            const std::string& id = order[order.size() - 1 - static_cast<std::size_t>(i)];
            const work::Layer& layer = layers.items.at(id);
            item(i)->setData(Qt::UserRole, text(id));
            item(i)->setText(text(session::layerTitle(m_context.session->work(), layer)));
            item(i)->setIcon(work::groupOf(layers, id).empty() ? QIcon() : inGroupIcon());
            QFont font = this->font();
            font.setBold(std::holds_alternative<finish::Group>(layer.what));
            item(i)->setFont(font);
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
        const std::string moved = currentItem() ? idOf(currentItem()) : std::string();
        m_refreshing = true;
        QListWidget::dropEvent(event);
        m_refreshing = false;
        std::vector<std::string> order;
        for (int i = count() - 1; i >= 0; --i)
            order.push_back(idOf(item(i)));
        if (std::ranges::is_permutation(order, layersNow(m_context).order)) {
            work::Work after = m_context.session->work();
            session::dropLayer(after, moved, order);
            if (!(after.finish.layers == layersNow(m_context))) {
                m_context.session->edit(Section::tr("Order of layers").toStdString(),
                                        [&](work::Work& w) { w.finish.layers = after.finish.layers; });
                return;
            }
        }
        refresh();
    }

private:
    // A layer of a group is further in, on the group's line.
    QIcon inGroupIcon() const
    {
        constexpr int kSide = 16;
        QPixmap drawn(kSide * 2, kSide * 2);
        drawn.setDevicePixelRatio(2);
        drawn.fill(Qt::transparent);
        QPainter painter(&drawn);
        painter.setPen(QPen(colours().softInk, 1));
        painter.drawLine(QPointF(kSide / 2.0, 0), QPointF(kSide / 2.0, kSide));
        return QIcon(drawn);
    }
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
    const char* name = work::Kinds<work::LayerWhat>::names[work::LayerWhat(T{}).index()].name;
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

// Whose light it acts on: any, or that of a lamp, of the surroundings or a card.
void addLightOf(Rows* rows, const Context& context, const Rows::Reach<work::Layer>& reach)
{
    auto* field = new OneOfField;
    field->setObjectName("finish.where.lightOf");
    field->setToolTip(Section::tr("It acts as far as the light there is of this one"));
    const auto entries = [=] {
        std::vector<std::string> ids{std::string()};
        for (const work::DeskChannel& channel : work::deskOf(context.session->work()).channels)
            ids.push_back(channel.entry);
        return ids;
    };
    QObject::connect(field, &QComboBox::activated, field, [=](int index) {
        const auto ids = entries();
        if (index >= 0 && index < static_cast<int>(ids.size()))
            context.session->edit(Section::tr("Where a layer acts").toStdString(), [&](work::Work& w) {
                for (work::Layer* layer : reach.in(w))
                    layer->light = ids[static_cast<std::size_t>(index)];
            });
    });
    rows->labelled(Section::tr("Light of"), field, [=] {
        const auto layer = reach.of(context.session->work());
        if (layer.empty())
            return;
        field->clear();
        int at = -1;
        for (const std::string& id : entries()) {
            if (id == layer.front()->light)
                at = field->count();
            field->addItem(id.empty() ? Section::tr("Any") : text(session::entryTitle(context.session->work(), id)));
        }
        field->setCurrentIndex(at);
    });
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
    where->property(reach, "lit");
    addLightOf(where, context, reach);
    for (const char* key : {"edgePt", "darkest", "brightest", "fades", "fadesTurn", "farFromPt", "farToPt", "inverted"})
        where->property(reach, key);
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

// Drawn by hand: the brush, and what it drew.
void addDrawn(Rows* rows, const Context& context, const Shown& shown)
{
    const auto reach = ofLayer<work::Layer>(shown);
    const auto strokes = [=] {
        const auto found = reach.of(context.session->work());
        return found.empty() ? 0 : static_cast<int>(found.front()->strokes.order.size());
    };
    Rows* drawn = rows->group(
        "drawn", Section::tr("Drawn"),
        [=] { return strokes() == 0 ? Section::tr("not by hand") : Section::tr("%n stroke(s)", nullptr, strokes()); },
        [=] { return !reach.of(context.session->work()).empty(); });
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* draw = new QPushButton(Section::tr("Draw where it acts"));
    draw->setObjectName("finish.drawn.draw");
    draw->setToolTip(Section::tr("Strokes in the picture; with Shift they take away. Esc ends"));
    QObject::connect(draw, &QPushButton::clicked, box, [=] { context.aimAt(AimAt::Brush, *shown); });
    auto* clear = new QPushButton(Section::tr("Clear"));
    clear->setObjectName("finish.drawn.clear");
    clear->setToolTip(Section::tr("Takes all strokes away: it acts wherever it says"));
    QObject::connect(clear, &QPushButton::clicked, box, [=] {
        context.session->edit(Section::tr("Clear strokes").toStdString(), [&](work::Work& w) {
            for (work::Layer* layer : reach.in(w))
                layer->strokes = {};
        });
    });
    line->addWidget(draw, 2);
    line->addWidget(clear, 1);
    drawn->wide(box, [=] { clear->setEnabled(strokes() > 0); });
    // The brush is no part of the work.
    const auto number = [&](const char* id, const QString& label, const NumberSpec& spec, std::function<double()> get,
                            std::function<void(double)> set) {
        auto* field = new NumberField(spec);
        field->setAccessibleName(label);
        field->setObjectNames(QString("finish.drawn.") + id);
        QObject::connect(field, &NumberField::changed, field, [=](double value, bool) {
            set(value);
            field->showValue(get());
            context.handsChanged();
        });
        QObject::connect(field, &NumberField::refused, field, [=](const QString& why) { context.say(why); });
        drawn->labelled(label, field, [=] {
            field->setUnit(context.unit());
            field->showValue(get());
        });
    };
    number(
        "size", Section::tr("Brush"), {session::Kind::Length, 0.5, 1e5, 5, 1},
        [=] { return context.brush->sizeOn(context.session->work().sheet()); }, [=](double v) { context.brush->size = v; });
    number(
        "softness", Section::tr("Softness"), {session::Kind::Percent, 0, 1, 0.05, 0}, [=] { return context.brush->softness; },
        [=](double v) { context.brush->softness = v; });
    auto* erases = new QCheckBox(Section::tr("Takes away"));
    erases->setObjectName("finish.drawn.erases");
    erases->setToolTip(Section::tr("From the strokes before it; the first one leaves all but where it is"));
    QObject::connect(erases, &QCheckBox::toggled, erases, [=](bool on) { context.brush->erases = on; });
    drawn->wide(erases);
}

void choosePiece(const Context& context, const std::string& piece)
{
    session::Choice choice;
    choice.set({piece, {}});
    context.session->choose(choice);
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
    const auto entry = [&](QMenu* to, const char* name, const QString& label, std::function<std::string(work::Work&)> make) {
        to->addAction(label, box, [=] {
              context.session->edit(Section::tr("Add layer").toStdString(), [&](work::Work& w) { *shown = make(w); });
          })->setObjectName(QString("layer.") + name);
    };
    const auto kinds = [&](const QString& title, std::initializer_list<const char*> names) {
        QMenu* to = menu->addMenu(title);
        for (const char* name : names) {
            const auto& all = work::Kinds<work::LayerWhat>::names;
            const auto kind = std::ranges::find_if(all, [&](const auto& k) { return std::string_view(k.name) == name; }) - std::begin(all);
            entry(to, name, Section::tr(all[kind].label),
                  [=](work::Work& w) { return session::addLayer(w, static_cast<std::size_t>(kind), *shown); });
        }
        return to;
    };
    kinds(Section::tr("Tone"), {"tone", "levels", "curves", "mixer", "duotone", "lookup"});
    kinds(Section::tr("Colour and texture"), {"fill", "bands", "stuff", "grain", "raster", "misprint", "vignette"});
    kinds(Section::tr("Light"), {"halo", "rays", "flare", "beams", "particles", "smoke"});
    kinds(Section::tr("Blur and sharpen"), {"soften", "trail", "sharpen"});
    kinds(Section::tr("Lines and shadow"), {"lines", "flatShadow"});
    QMenu* in = kinds(Section::tr("In front"), {"picture", "code"});
    in->addAction(Section::tr("Caption"), box, [=] {
          std::string piece;
          context.session->edit(Section::tr("Add caption").toStdString(), [&](work::Work& w) {
              *shown = session::addCaption(w, Section::tr("Caption").toStdString(), *shown);
              piece = std::get<finish::Print>(w.finish.layers.items.at(*shown).what).piece;
          });
          choosePiece(context, piece);
      })->setObjectName("layer.caption");
    menu->addSeparator();
    menu->addAction(Section::tr("Group round this layer"), box,
                    [=] {
                        context.session->edit(Section::tr("Group layers").toStdString(),
                                              [&](work::Work& w) { *shown = session::addGroup(w, *shown); });
                    })
        ->setObjectName("layer.group");
    in->addAction(Section::tr("The chosen piece, flat"), box, [=] {
          const auto chosen = context.session->choice().pieces();
          if (chosen.empty()) {
              context.say(Section::tr("No piece is chosen: click one in the picture or in the list first"));
              return;
          }
          context.session->edit(Section::tr("Add layer").toStdString(),
                                [&](work::Work& w) { *shown = session::addPrint(w, chosen.back(), *shown); });
      })->setObjectName("layer.print");
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

void addGroupRows(Rows* rows, const Context& context, const Shown& shown)
{
    const auto group = ofLayer<finish::Group>(shown);
    auto* out = new QPushButton(Section::tr("Take its layers out"));
    out->setObjectName("finish.group.dissolve");
    out->setToolTip(Section::tr("The group goes, its layers stay. Others come in by being dragged under it"));
    QObject::connect(out, &QPushButton::clicked, out, [=] {
        context.session->edit(Section::tr("Take layers out of their group").toStdString(),
                              [&](work::Work& w) { session::dissolveGroup(w, *shown); });
    });
    rows->wide(out, {}, [=] { return !group.of(context.session->work()).empty(); });
}

void addPrintRows(Rows* rows, const Context& context, const Shown& shown)
{
    const auto print = ofLayer<finish::Print>(shown);
    auto* choose = new QPushButton(Section::tr("Choose its piece"));
    choose->setObjectName("finish.print.choose");
    choose->setToolTip(Section::tr("Then its text, face and place are in the sections for pieces"));
    QObject::connect(choose, &QPushButton::clicked, choose, [=] {
        const auto found = print.of(context.session->work());
        if (!found.empty() && context.session->work().pieces.items.contains(found.front()->piece))
            choosePiece(context, found.front()->piece);
    });
    rows->wide(choose, {}, [=] { return !print.of(context.session->work()).empty(); });
    rows->property(print, "colour", {.id = "print.colour"});
}

void addCodeRows(Rows* rows, const Context& context, const Shown& shown)
{
    const auto code = ofLayer<finish::Code>(shown);
    const auto when = [=] { return !code.of(context.session->work()).empty(); };
    auto* wrong = new WrappedLine;
    wrong->setObjectName("finish.code.wrong");
    rows->property(code, "code", {.id = "code.code"});
    rows->words(code, "text", {.id = "code.text"});
    rows->wide(
        wrong,
        [=] {
            const auto found = code.of(context.session->work());
            const auto made = found.empty() ? base::Result<work::CodeShapes>() : work::codeOf(found.front()->form, found.front()->text);
            wrong->showText(made ? QString() : text(made.error().message));
        },
        [=] {
            const auto found = code.of(context.session->work());
            return !found.empty() && !work::codeOf(found.front()->form, found.front()->text);
        });
    for (const char* key : {"x", "y", "sizePt"})
        rows->property(code, key, {.id = (std::string("code.") + (std::string(key) == "sizePt" ? "size" : key)).c_str()});
    Rows* more = rows->group(
        "code.more", Section::tr("More"), [] { return QString(); }, when);
    more->property(code, "colour");
    more->property(code, "paper");
}

// The lamp of a flare or of light fog, or that its place is typed; and why it is not seen. The values in `further` are in a group of their
// own.
template <class T>
void addLampRows(Rows* rows, const Context& context, const Shown& shown, const std::string& name,
                 std::initializer_list<const char*> further)
{
    const auto reach = ofLayer<T>(shown);
    const auto now = [=]() -> const T* {
        const auto found = reach.of(context.session->work());
        return found.empty() ? nullptr : found.front();
    };
    auto* field = new OneOfField;
    field->setObjectName(text("finish." + name + ".lamp"));
    field->setToolTip(Section::tr("It follows this lamp, wherever it is seen"));
    const auto lamps = [=] {
        std::vector<std::string> ids{std::string()};
        ids.insert(ids.end(), context.session->work().lights.order.begin(), context.session->work().lights.order.end());
        return ids;
    };
    QObject::connect(field, &QComboBox::activated, field, [=](int index) {
        if (const auto ids = lamps(); index >= 0 && index < static_cast<int>(ids.size()))
            context.session->edit(Section::tr("Lamp of a layer").toStdString(), [&](work::Work& w) {
                for (T* one : reach.in(w))
                    one->lamp = ids[static_cast<std::size_t>(index)];
            });
    });
    rows->labelled(
        Section::tr("Lamp"), field,
        [=] {
            if (!now())
                return;
            field->clear();
            for (const std::string& id : lamps()) {
                field->addItem(id.empty() ? Section::tr("None: by its place") : text(session::entryTitle(context.session->work(), id)));
                if (id == now()->lamp)
                    field->setCurrentIndex(field->count() - 1);
            }
        },
        [=] { return now() != nullptr; });
    auto* unseen = new WrappedLine;
    unseen->setObjectName(text("finish." + name + ".unseen"));
    const auto why = [=] {
        const work::Work& w = context.session->work();
        if (!now() || now()->lamp.empty())
            return QString();
        if (!work::lampOnSheet(w, now()->lamp))
            return Section::tr("This lamp is behind the viewer: turn the view, or type a place");
        if (std::is_same_v<T, finish::Flare> && work::openToLamp(w, now()->lamp) <= 0)
            return Section::tr("Letters or the ground hide this lamp: move it, or type a place");
        return QString();
    };
    rows->wide(
        unseen, [=] { unseen->showText(why()); }, [=] { return !why().isEmpty(); });
    for (const char* key : {"x", "y", "sizePt", "stops", "tint"})
        rows->property(reach, key, {.id = (name + "." + (std::string(key) == "sizePt" ? "size" : key)).c_str()});
    if (further.size() == 0)
        return;
    Rows* more = rows->group((name + ".more").c_str(), Section::tr("More"), [] { return QString(); }, [=] { return now() != nullptr; });
    for (const char* key : further)
        more->property(reach, key);
}

void addLookupRows(Rows* rows, const Context& context, const Shown& shown)
{
    constexpr std::uint64_t kMostBytes = 64 << 20;
    const auto lookup = ofLayer<finish::Lookup>(shown);
    auto* choose = new QPushButton;
    choose->setObjectName("finish.lookup.choose");
    choose->setToolTip(Section::tr("A colour table, .cube, as photo and film programs save their looks"));
    QObject::connect(choose, &QPushButton::clicked, choose, [=] {
        const QString path =
            QFileDialog::getOpenFileName(choose, Section::tr("Open a colour table"), {}, Section::tr("Colour tables (*.cube)"));
        if (path.isEmpty())
            return;
        const auto bytes = base::readFile(path.toStdString(), kMostBytes);
        work::Work trial;
        const auto made = bytes ? work::addColourTable(trial, QFileInfo(path).fileName().toStdString(), *bytes)
                                : base::Result<std::string>(tl::unexpected<base::Error>(bytes.error()));
        if (!made) {
            context.say(text(base::oneLine(made.error())));
            return;
        }
        context.session->edit(Section::tr("Colour table").toStdString(), [&](work::Work& w) {
            w.assets[*made] = trial.assets.at(*made);
            for (finish::Lookup* one : lookup.in(w))
                one->asset = *made;
        });
    });
    rows->labelled(
        Section::tr("Table"), choose,
        [=] {
            const auto found = lookup.of(context.session->work());
            const bool some = !found.empty() && !found.front()->asset.empty();
            choose->setText(some ? text(work::pictureTitle(found.front()->asset)) : Section::tr("Open a .cube file..."));
        },
        [=] { return !lookup.of(context.session->work()).empty(); });
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
    addDrawn(rows, context, shown);
    addGroupRows(rows, context, shown);
    addKind<finish::Tone>(rows, context, shown, {"exposure", "contrast", "saturation", "warmth"});
    addKind<finish::Levels>(rows, context, shown);
    addKind<finish::Duotone>(rows, context, shown);
    addKind<finish::Fill>(rows, context, shown, {"form", "colour", "to", "turn", "byLetter"});
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
    for (const char* key : {"turn", "cropLeft", "cropRight", "cropTop", "cropBottom"})
        more->property(picture, key);
    addKind<finish::Lines>(rows, context, shown);
    addKind<finish::Curves>(rows, context, shown);
    addKind<finish::Mixer>(rows, context, shown, {"redRed", "redGreen", "redBlue"});
    addKind<finish::Rays>(rows, context, shown);
    addLampRows<finish::Flare>(rows, context, shown, "flare", {"ring", "ghosts", "seed"});
    addLampRows<finish::Beams>(rows, context, shown, "beams", {});
    addKind<finish::Particles>(rows, context, shown, {"form", "count", "sizePt", "colour", "to"});
    addKind<finish::Smoke>(rows, context, shown);
    addKind<finish::Trail>(rows, context, shown);
    addKind<finish::Stuff>(rows, context, shown);
    addKind<finish::Misprint>(rows, context, shown);
    addKind<finish::Bands>(rows, context, shown, {"sizePt", "turn", "colour", "to"});
    addPrintRows(rows, context, shown);
    addCodeRows(rows, context, shown);
    addLookupRows(rows, context, shown);
}

}  // namespace app
