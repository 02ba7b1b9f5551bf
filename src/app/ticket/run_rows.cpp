#include "app/ticket/run_rows.h"

#include <QComboBox>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>

#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "app/ticket/chosen.h"
#include "outline/route.h"
#include "session/edits.h"
#include "work/runs.h"

namespace app {

namespace {

const work::Run* leadRun(const Context& context)
{
    const work::Piece* piece = leadPiece(context);
    return piece && piece->lettering() ? &piece->lettering()->run : nullptr;
}

QPushButton* button(const char* id, const QString& label, const QString& tip, std::function<void()> run)
{
    auto* b = new QPushButton(label);
    b->setObjectName(id);
    b->setToolTip(tip);
    QObject::connect(b, &QPushButton::clicked, b, std::move(run));
    return b;
}

// The two lines of a start, as they would be between.
QIcon startIcon(outline::LineStart start)
{
    constexpr double kWidth = 30, kHeight = 9, kTop = 10;
    QPixmap picture(QSize(36, 28) * 2);
    picture.setDevicePixelRatio(2);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(colours().ink, 1.6));
    const outline::TwoLines lines = outline::linesOf(start, 0.7);
    for (const auto* points : {&lines.top, &lines.bottom}) {
        QPainterPath path;
        const auto at = [&](base::Vec2 p) { return QPointF(3 + p.x * kWidth, kTop + (1 - p.y) * kHeight); };
        for (const outline::Curve& c : outline::curvesThrough(*points, false)) {
            if (path.elementCount() == 0)
                path.moveTo(at(c.p[0]));
            c.degree == 1 ? path.lineTo(at(c.p[1])) : path.cubicTo(at(c.p[1]), at(c.p[2]), at(c.p[3]));
        }
        painter.drawPath(path);
    }
    return QIcon(picture);
}

// The pieces it can run round, by their titles.
void addRoundRow(Rows* rows, const Context& context)
{
    auto* field = new OneOfField;
    field->setObjectName("lettering.run.piece");
    field->setToolTip(Section::tr("The artwork or shape whose outline the letters follow"));
    QObject::connect(field, &QComboBox::activated, field, [=](int index) {
        const auto pieces = work::piecesToRunRound(context.session->work());
        if (index < 0 || index >= static_cast<int>(pieces.size()))
            return;
        context.session->edit(Section::tr("Round a piece").toStdString(), [&](work::Work& w) {
            const std::string& round = pieces[static_cast<std::size_t>(index)];
            for (const std::string& id : context.session->choice().pieces())
                if (work::Lettering* lettering = w.pieces.items.at(id).lettering()) {
                    lettering->run.piece = round;
                    lettering->run.shape.clear();
                    w.pieces.items.at(id).placement.x = w.pieces.items.at(round).placement.x;
                    w.pieces.items.at(id).placement.y = w.pieces.items.at(round).placement.y;
                }
        });
    });
    rows->labelled(
        Section::tr("Piece"), field,
        [=] {
            const work::Run* run = leadRun(context);
            if (!run)
                return;
            field->clear();
            int at = -1;
            for (const std::string& id : work::piecesToRunRound(context.session->work())) {
                if (id == run->piece)
                    at = field->count();
                field->addItem(text(work::titleOf(context.session->work().pieces.items.at(id))));
            }
            field->setCurrentIndex(at);
            field->setEnabled(field->count() > 0);
        },
        [=] { return leadRun(context) && leadRun(context)->kind == work::RunKind::Artwork; });
}

}  // namespace

void addRunRows(Rows* rows, const Context& context)
{
    const auto reach = inPieces<work::Run>(context, [](work::Piece& p) { return p.lettering() ? &p.lettering()->run : nullptr; });
    Rows* group = rows->group(
        "run", Section::tr("Line"),
        [=] {
            const work::Run* run = leadRun(context);
            if (!run)
                return QString();
            if (run->newer)
                return text(run->newer->kind);
            if (run->kind == work::RunKind::TwoLines && run->top.items.empty())
                return Section::tr("between two lines, %1").arg(Section::tr(work::labelOf(run->lines, work::kLineStarts)).toLower());
            if (run->isStraight() && leadPiece(context)->lettering()->layout.stacked)
                return Section::tr("stacked upright");
            return Section::tr(work::labelOf(run->kind, work::kRuns)).toLower();
        },
        [=] { return leadRun(context) != nullptr; });
    const auto cache = std::make_shared<work::Cache>();
    Rows::Extra kind;
    kind.choose = [=](work::Work& w, int index) {
        for (const std::string& id : context.session->choice().pieces())
            work::chooseRun(w, id, work::kRuns[index].value, *cache);
    };
    kind.changed = [=] {
        const work::Run* run = leadRun(context);
        if (run && run->kind == work::RunKind::Drawn && run->line.points.items.empty())
            context.pen(context.session->choice().targets.back().piece);
        if (run && run->kind == work::RunKind::Artwork && work::piecesToRunRound(context.session->work()).empty())
            context.say(Section::tr("There is no artwork or shape to run round yet; add one from the Piece menu"));
    };
    group->property(reach, "kind", kind);
    addRoundRow(group, context);
    group->wide(button("lettering.run.draw", Section::tr("Draw the line"),
                       Section::tr("With the pen in the picture: clicks for corners, drags for curves"),
                       [=] { context.pen(context.session->choice().targets.back().piece); }),
                {}, [=] { return leadRun(context) && leadRun(context)->kind == work::RunKind::Drawn; });
    group->property(inPieces<work::Lettering>(context, [](work::Piece& p) { return p.lettering(); }), "stacked");
    group->properties(reach, {"kind", "piece", "shape"});
    if (auto* starts = group->findChild<QComboBox*>("lettering.run.lines")) {
        for (int i = 0; i < starts->count(); ++i)
            starts->setItemIcon(i, startIcon(work::kLineStarts[i].value));
        starts->setIconSize({36, 28});
    }
    group->wide(button("lettering.run.begin", Section::tr("Lines as they begin"),
                       Section::tr("Lets go of points moved by hand and offers the starts again"),
                       [=] {
                           context.session->edit(Section::tr("Lines as they begin").toStdString(), [&](work::Work& w) {
                               for (work::Run* run : reach.in(w)) {
                                   run->top = run->bottom = {};
                                   run->amount = work::Run().amount;
                               }
                           });
                       }),
                {}, [=] {
                    const work::Run* run = leadRun(context);
                    return run && run->kind == work::RunKind::TwoLines && !run->top.items.empty();
                });
}

void addShapeRows(Rows* rows, const Context& context)
{
    const auto reach = inPieces<work::Shape>(context, [](work::Piece& p) { return p.shape(); });
    const auto plate = [=]() -> const work::Shape* {
        const work::Piece* piece = leadPiece(context);
        return piece && piece->shape() && piece->shape()->isPlate() ? piece->shape() : nullptr;
    };
    Rows::Extra shape;
    shape.when = [=] { return !plate(); };
    shape.choose = [=](work::Work& w, int index) {
        const work::ShapeKind kind = work::kShapes[index].value;
        for (const std::string& id : context.session->choice().pieces())
            if (work::Shape* s = w.pieces.items.at(id).shape(); s && s->kind != kind && !s->isPlate()) {
                if (kind == work::ShapeKind::Plate)
                    session::becomePlate(w, id);
                else
                    s->kind = kind;
            }
    };
    rows->property(reach, "shape", shape);
    // Which piece a plate goes round: any but plates, and not itself.
    const auto others = [=] {
        std::vector<std::string> pieces;
        for (const std::string& id : context.session->work().pieces.order) {
            const work::Shape* other = context.session->work().pieces.items.at(id).shape();
            if (!(other && other->isPlate()))
                pieces.push_back(id);
        }
        return pieces;
    };
    auto* round = new OneOfField;
    round->setObjectName("lettering.plateRound");
    round->setToolTip(Section::tr("The piece it goes round, and follows"));
    QObject::connect(round, &QComboBox::activated, round, [=](int index) {
        const auto pieces = others();
        if (index < 0 || index >= static_cast<int>(pieces.size()))
            return;
        context.session->edit(Section::tr("Plate").toStdString(), [&](work::Work& w) {
            for (work::Shape* s : reach.in(w))
                if (s->isPlate() && s->piece != pieces[static_cast<std::size_t>(index)]) {
                    s->piece = pieces[static_cast<std::size_t>(index)];
                    s->letters.clear();
                }
        });
    });
    rows->labelled(
        Section::tr("Round"), round,
        [=] {
            const work::Shape* now = plate();
            if (!now)
                return;
            round->clear();
            int at = -1;
            for (const std::string& id : others()) {
                if (id == now->piece)
                    at = round->count();
                round->addItem(text(work::titleOf(context.session->work().pieces.items.at(id))));
            }
            round->setCurrentIndex(at);
        },
        [=] { return plate() != nullptr; });
    rows->property(reach, "widthPt", {.id = "shapeWidth"});
    rows->property(reach, "heightPt", {.id = "shapeHeight"});
    rows->properties(reach, {"shape", "widthPt", "heightPt", "piece"});
}

}  // namespace app
