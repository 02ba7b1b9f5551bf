#include "app/ticket/picture_rows.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QMenu>
#include <QPushButton>

#include "app/style.h"
#include "app/window/picture_files.h"
#include "base/file.h"
#include "session/summary.h"
#include "work/pictures.h"

namespace app {

namespace {

using PictureRole = std::string work::Pictures::*;
using PictureReach = Rows::Reach<work::Pictures>;
using OwnPicture = std::function<std::optional<std::string>(const work::Work&)>;  // nothing where it is mixed
using PutPicture = std::function<void(work::Work&, const std::string& asset)>;

constexpr int kSmallPicture = 20;  // px of a small picture

// A picture of the work, and a menu of others.
class PictureField : public QPushButton {
public:
    PictureField(const Context& context, const QString& id, const QString& name, OwnPicture own, PutPicture put)
        : m_context(context), m_own(std::move(own)), m_put(std::move(put))
    {
        setObjectName(id);
        setAccessibleName(name);
        setIconSize({kSmallPicture, kSmallPicture});
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        connect(this, &QPushButton::clicked, this, [this] { showMenu(); });
    }

    void refresh()
    {
        const auto asset = now();
        const auto found = asset ? m_context.session->work().assets.find(*asset) : m_context.session->work().assets.end();
        const auto texture = found == m_context.session->work().assets.end() ? nullptr : found->second.texture;
        if (texture != m_shown) {
            m_shown = texture;
            setIcon(texture ? QIcon(QPixmap::fromImage(smallPicture(m_context.session->work(), *asset, 2 * kSmallPicture))) : QIcon());
        }
        const QString words = !asset ? Section::tr("mixed") : asset->empty() ? Section::tr("none") : app::text(work::pictureTitle(*asset));
        setText(fontMetrics().elidedText(words, Qt::ElideMiddle, std::max(60, width() - kSmallPicture - 5 * kGrid)));
        const bool broken = asset && !asset->empty() && !texture;
        setToolTip(broken ? Section::tr("%1 cannot be shown; put another file in its place").arg(words) : words);
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        QPushButton::resizeEvent(event);
        refresh();
    }

private:
    std::optional<std::string> now() const { return m_own(m_context.session->work()); }
    QString ask() const { return QFileDialog::getOpenFileName(window(), Section::tr("Choose a picture"), {}, PictureFiles::nameFilter()); }

    void showMenu()
    {
        QMenu menu;
        menu.setObjectName("picture.choices");
        menu.addAction(Section::tr("Choose a file..."), this, [this] { layFile(); })->setObjectName("picture.file");
        const auto own = now();
        bool first = true;
        for (const auto& [name, asset] : m_context.session->work().assets)
            if (work::isPicture(name)) {
                if (first)
                    menu.addSeparator();
                first = false;
                QAction* action = menu.addAction(
                    QIcon(QPixmap::fromImage(smallPicture(m_context.session->work(), name, 2 * kSmallPicture))),
                    app::text(work::pictureTitle(name)), this, [this, name = name] {
                        m_context.session->edit(Section::tr("Picture").toStdString(), [&](work::Work& w) { m_put(w, name); });
                    });
                QFont font = action->font();
                font.setBold(own == name);
                action->setFont(font);
            }
        if (own && !own->empty()) {
            menu.addSeparator();
            menu.addAction(Section::tr("Another file in its place, everywhere..."), this,
                           [this, asset = *own] {
                               if (const QString path = ask(); !path.isEmpty())
                                   m_context.replacePicture(asset, path);
                           })
                ->setObjectName("picture.replace");
            menu.addAction(Section::tr("Save the file as..."), this, [this, asset = *own] { saveAs(asset); })
                ->setObjectName("picture.saveAs");
        }
        if (!own || !own->empty()) {
            menu.addAction(
                    Section::tr("Take it away"), this,
                    [this] { m_context.session->edit(Section::tr("Without picture").toStdString(), [&](work::Work& w) { m_put(w, {}); }); })
                ->setObjectName("picture.none");
        }
        menu.exec(mapToGlobal(QPoint(0, height())));
    }
    // For what is chosen now: when something else is by the time it has been read, it only comes to the list.
    void layFile()
    {
        const QString path = ask();
        if (path.isEmpty())
            return;
        m_context.layPicture(path, Section::tr("Picture"),
                             [this, choice = m_context.session->choice()](work::Work& w, const std::string& asset) {
                                 if (m_context.session->choice() == choice)
                                     m_put(w, asset);
                                 else
                                     m_context.say(Section::tr("The picture is in the work now: choose it in the row's list"));
                             });
    }
    void saveAs(const std::string& asset)
    {
        const QString path = QFileDialog::getSaveFileName(window(), Section::tr("Save the picture"), app::text(work::pictureTitle(asset)));
        const auto found = m_context.session->work().assets.find(asset);
        if (path.isEmpty() || found == m_context.session->work().assets.end() || !found->second.bytes)
            return;
        if (const auto saved = base::replaceFile(path.toStdString(), *found->second.bytes); !saved)
            m_context.say(app::text(base::oneLine(saved.error())));
    }

    Context m_context;
    OwnPicture m_own;
    PutPicture m_put;
    surface::SharedTexture m_shown;  // what the icon is made of
};

void addRole(Rows* rows, const PictureReach& reach, const Context& context, const char* key, bool part)
{
    static work::Pictures s_usual;
    const work::Value value = work::valueIn(s_usual, key);
    const PictureRole role = *std::find_if(work::kPictureRoles.begin(), work::kPictureRoles.end(),
                                           [&](PictureRole r) { return &(s_usual.*r) == std::get<std::string*>(value.at); });
    const auto own = [=](const work::Work& w) {
        return session::common<std::string>(reach.of(w), [role](const work::Pictures& p) { return p.*role; });
    };
    const auto put = [=](work::Work& w, const std::string& asset) {
        const session::Choice& choice = context.session->choice();
        const double width = work::usualPictureWidth(w, choice.empty() || !part ? std::string() : choice.targets.back().piece);
        for (work::Pictures* p : reach.in(w)) {
            if (!p->any())
                p->widthPt = width;
            p->*role = asset;
        }
    };
    auto* field = new PictureField(context, rows->named(key), Section::tr(value.number.label), own, put);
    field->setWhatsThis(Section::tr(value.number.what));
    rows->labelled(Section::tr(value.number.label), field, [=] { field->refresh(); });
}

}  // namespace

void addPictureRow(Rows* rows, const QString& id, const QString& label, const QString& what, const Context& context,
                   std::function<std::string&(work::Work&)> of, Rows::When when)
{
    auto* field = new PictureField(
        context, id, label, [=](const work::Work& w) { return std::optional(of(const_cast<work::Work&>(w))); },
        [=](work::Work& w, const std::string& asset) { of(w) = asset; });
    field->setWhatsThis(what);
    rows->labelled(
        label, field, [=] { field->refresh(); }, std::move(when));
}

QImage smallPicture(const work::Work& work, const std::string& asset, int side)
{
    const auto found = work.assets.find(asset);
    if (found == work.assets.end() || !found->second.texture)
        return {};
    const surface::Texture& texture = *found->second.texture;
    // What fits a square, from its middle; a few of its pixels for each.
    const double aspect = texture.aspect();
    const float across = static_cast<float>(std::min(1.0, aspect)), up = static_cast<float>(std::min(1.0, 1 / aspect));
    QImage small(side, side, QImage::Format_ARGB32);
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            constexpr int kEach = 3;
            surface::Rgba sum;
            for (int j = 0; j < kEach; ++j)
                for (int i = 0; i < kEach; ++i) {
                    const auto at = [&](int px, int part) {
                        return (static_cast<float>(px) + (static_cast<float>(part) + 0.5f) / kEach) / static_cast<float>(side) - 0.5f;
                    };
                    sum = sum + texture.valueAt(0.5f + across * at(x, i), 0.5f - up * at(y, j), 0, surface::PictureEdges::Mirror) *
                                    (1.0f / (kEach * kEach));
                }
            const auto byte = [](float v) { return static_cast<int>(std::clamp(v, 0.0f, 1.0f) * 255 + 0.5f); };
            small.setPixel(x, y, qRgba(byte(sum.colour.x), byte(sum.colour.y), byte(sum.colour.z), byte(sum.alpha)));
        }
    return small;
}

void addPictureRows(Rows* rows, const Rows::Reach<work::Material>& reach, const Context& context, bool part)
{
    const session::Session* session = context.session;
    const PictureReach pictures{[=](const work::Work& w) {
                                    std::vector<const work::Pictures*> all;
                                    for (const work::Material* m : reach.of(w))
                                        all.push_back(&m->pictures);
                                    return all;
                                },
                                [=](work::Work& w) {
                                    std::vector<work::Pictures*> all;
                                    for (work::Material* m : reach.in(w))
                                        all.push_back(&m->pictures);
                                    return all;
                                }};
    Rows* group = rows->group("pictures", Section::tr("Pictures"), [=] {
        const auto common =
            session::common<std::string>(pictures.of(session->work()), [](const work::Pictures& p) { return session::picturesText(p); });
        return !common ? Section::tr("mixed") : common->empty() ? Section::tr("none") : text(*common);
    });
    addRole(group, pictures, context, "colour", part);
    if (part) {
        group->property(pictures, "lies");
        const auto some = [=] {
            const auto all = pictures.of(session->work());
            return std::any_of(all.begin(), all.end(), [](const work::Pictures* p) { return p->any(); });
        };
        auto* hand = new QCheckBox(Section::tr("Move it in the picture"));
        hand->setObjectName(rows->named("pictures") + ".hand");
        hand->setToolTip(Section::tr("Handles on the letters shift, turn and widen it"));
        QObject::connect(hand, &QCheckBox::toggled, hand, [=](bool on) {
            *context.movesPictures = on;
            context.handsChanged();
        });
        group->wide(
            hand,
            [=] {
                const QSignalBlocker quiet(hand);
                hand->setChecked(*context.movesPictures);
            },
            some);
    }
    for (const char* key : {"widthPt", "turn", "x", "y", "edges"})
        group->property(pictures, key);
    Rows* more = group->group("more", Section::tr("More from pictures"), [=] {
        const auto common = session::common<std::string>(pictures.of(session->work()),
                                                         [](const work::Pictures& p) { return session::furtherPicturesText(p); });
        return !common ? Section::tr("mixed") : common->empty() ? Section::tr("none") : text(*common);
    });
    for (const char* key : {"roughness", "metallic", "relief", "coat"})
        addRole(more, pictures, context, key, part);
    Rows::Extra height;
    height.id = "reliefHeight";
    more->property(pictures, "reliefPt", height);
    more->property(pictures, "normals");
    if (part)
        for (const char* key : {"cutOut", "light"})
            addRole(more, pictures, context, key, part);
}

}  // namespace app
