#include "app/ticket/artwork_rows.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>

#include "app/style.h"
#include "app/ticket/wrapped_line.h"
#include "app/window/artwork_files.h"
#include "session/summary.h"
#include "work/artwork.h"

namespace app {

namespace {

constexpr int kMostRows = 7;

// The artwork that leads the choice, and its piece's id.
std::pair<std::string, const work::Artwork*> lead(const Context& context)
{
    const session::Choice& choice = context.session->choice();
    if (choice.empty())
        return {{}, nullptr};
    const std::string& id = choice.targets.back().piece;
    return {id, context.session->work().pieces.items.at(id).artwork()};
}

// The shapes, the topmost first, each with its colour as it is now; what is chosen here is chosen.
class ShapesList : public QListWidget {
public:
    explicit ShapesList(const Context& context) : m_context(context)
    {
        setObjectName("artwork.shapes");
        setAccessibleName(Section::tr("Shapes, the topmost first"));
        setSelectionMode(QAbstractItemView::ExtendedSelection);
        setUniformItemSizes(true);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        QObject::connect(this, &QListWidget::itemSelectionChanged, this, [this] { choose(); });
    }
    void refresh()
    {
        const auto [piece, artwork] = lead(m_context);
        if (!artwork)
            return;
        m_refreshing = true;
        const work::Piece& p = m_context.session->work().pieces.items.at(piece);
        const auto& order = artwork->shapes.order;
        if (count() != static_cast<int>(order.size())) {
            clear();
            for (std::size_t i = 0; i < order.size(); ++i)
                new QListWidgetItem(this);
        }
        for (int i = 0; i < count(); ++i) {
            const std::string& letter = order[order.size() - 1 - static_cast<std::size_t>(i)];
            const work::ArtShape& shape = artwork->shapes.items.at(letter);
            item(i)->setData(Qt::UserRole, text(letter));
            item(i)->setText(text(session::letterText(p, letter)));
            item(i)->setToolTip(Section::tr("%1, painted %2 in the artwork").arg(item(i)->text(), text(picture::hexFromRgb(shape.colour))));
            item(i)->setIcon(chip(p.materialOf(letter).of("face").baseColour));
            item(i)->setSelected(m_context.session->choice().has({piece, letter}));
        }
        const int rows = std::clamp(count(), 1, kMostRows);
        setFixedHeight(rows * std::max(sizeHintForRow(0), 20) + 2 * frameWidth() + 2);
        m_refreshing = false;
    }

private:
    static QIcon chip(base::Rgb colour)
    {
        QPixmap chip(16, 16);
        chip.fill(Qt::transparent);
        QPainter painter(&chip);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(seenColour(colour));
        painter.setPen(colours().edge);
        painter.drawRoundedRect(QRectF(1.5, 1.5, 13, 13), 3, 3);
        return QIcon(chip);
    }
    void choose()
    {
        const auto [piece, artwork] = lead(m_context);
        if (m_refreshing || !artwork)
            return;
        session::Choice choice;
        for (const QListWidgetItem* item : selectedItems())
            choice.add({piece, item->data(Qt::UserRole).toString().toStdString()});
        if (choice.empty())
            choice.set({piece, {}});
        m_context.session->choose(choice);
    }

    Context m_context;
    bool m_refreshing = false;
};

QPushButton* button(QHBoxLayout* row, const char* id, const QString& label, const QString& tip, std::function<void()> run)
{
    auto* b = new QPushButton(label);
    b->setObjectName(id);
    b->setToolTip(tip);
    QObject::connect(b, &QPushButton::clicked, b, std::move(run));
    row->addWidget(b, 1);
    return b;
}

QWidget* rowOf(QHBoxLayout*& row)
{
    auto* widget = new QWidget;
    row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(kGrid);
    return widget;
}

void chooseSameColour(const Context& context)
{
    const session::Choice& before = context.session->choice();
    session::Choice choice;
    for (const session::Target& t : before.targets)
        for (const std::string& shape : work::shapesOfColour(context.session->work(), t.piece, t.letter))
            choice.add({t.piece, shape});
    if (choice.empty())
        context.say(Section::tr("Choose a shape first, in the list or in the picture"));
    else
        context.session->choose(choice);
}

}  // namespace

void addArtworkRows(Section* section, const Context& context)
{
    Rows* rows = section->rows();
    const auto isArtwork = [=] { return lead(context).second != nullptr; };
    auto* shapes = new ShapesList(context);
    rows->wide(
        shapes, [=] { shapes->refresh(); }, isArtwork);
    QHBoxLayout* row = nullptr;
    QWidget* choosing = rowOf(row);
    button(row, "artwork.sameColour", Section::tr("All of this colour"),
           Section::tr("Chooses every shape the artwork paints in the colour of the chosen ones"), [=] { chooseSameColour(context); });
    button(row, "artwork.swatches", Section::tr("Colours to swatches"), Section::tr("A swatch for each colour; the shapes follow them"),
           [=] {
               context.session->edit(Section::tr("Colours to swatches").toStdString(),
                                     [&](work::Work& w) { work::coloursToSwatches(w, lead(context).first); });
           });
    rows->wide(choosing, {}, isArtwork);

    const session::Session* session = context.session;
    const Rows::Reach<work::Artwork> reach{[=](const work::Work& w) {
                                               std::vector<const work::Artwork*> all;
                                               for (const std::string& id : session->choice().pieces())
                                                   if (const work::Artwork* artwork = w.pieces.items.at(id).artwork())
                                                       all.push_back(artwork);
                                               return all;
                                           },
                                           [=](work::Work& w) {
                                               std::vector<work::Artwork*> all;
                                               for (const std::string& id : session->choice().pieces())
                                                   if (work::Artwork* artwork = w.pieces.items.at(id).artwork())
                                                       all.push_back(artwork);
                                               return all;
                                           }};
    Rows::Extra height;
    height.when = isArtwork;
    height.set = [=](work::Work& w, double v) {
        for (const std::string& id : session->choice().pieces())
            if (w.pieces.items.at(id).artwork())
                work::scaleTo(w.pieces.items.at(id), v);
    };
    rows->property(reach, "heightPt", height);
    const auto isTraced = [=] { return lead(context).second && lead(context).second->isTraced(); };
    Rows* trace = rows->group(
        "trace", Section::tr("Traced from a picture"),
        [=] { return isTraced() ? QString("%1 %").arg(std::round(100 * lead(context).second->trace.threshold)) : QString(); }, isTraced);
    for (const char* key : {"threshold", "inverse", "smoothness", "specks"})
        trace->property(reach, key);

    auto* about = new WrappedLine;
    about->setObjectName("artwork.file");
    about->setProperty("soft", true);
    rows->wide(
        about,
        [=] {
            if (const work::Artwork* artwork = lead(context).second) {
                about->showText(text(artwork->name));
                about->setToolTip(artwork->path.empty() ? Section::tr("It lies in the work alone") : text(artwork->path));
            }
        },
        isArtwork);
    Rows::Extra page;
    page.when = [=] {
        const work::Artwork* artwork = lead(context).second;
        return artwork && artwork->name.size() > 4 && artwork->name.substr(artwork->name.size() - 4) == ".pdf";
    };
    page.set = [=](work::Work&, double v) { context.artworkPage(text(lead(context).first), static_cast<int>(v)); };
    rows->property(reach, "page", page);
    QWidget* replacing = rowOf(row);
    button(row, "artwork.replace", Section::tr("Replace..."),
           Section::tr("By a newer version: shapes of the same name or place keep form, material and pose"), [=] {
               const auto [piece, artwork] = lead(context);
               const QString path = QFileDialog::getOpenFileName(section, Section::tr("Replace the artwork"), text(artwork->path),
                                                                 ArtworkFiles::nameFilter());
               if (!path.isEmpty())
                   context.replaceArtwork(text(piece), path);
           });
    auto* update = button(row, "artwork.update", Section::tr("Update"), Section::tr("Reads the file again from where it was read"), [=] {
        const auto [piece, artwork] = lead(context);
        context.replaceArtwork(text(piece), text(artwork->path));
    });
    rows->wide(
        replacing, [=] { update->setEnabled(lead(context).second && !lead(context).second->path.empty()); }, isArtwork);
}

}  // namespace app
