// Lettering, Form and Material: what is chosen.
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "app/ticket/artwork_rows.h"
#include "app/ticket/axes_rows.h"
#include "app/ticket/chosen.h"
#include "app/ticket/feature_rows.h"
#include "app/ticket/form_starts.h"
#include "app/ticket/picture_rows.h"
#include "app/ticket/run_rows.h"
#include "app/ticket/sections.h"
#include "app/ticket/step_rows.h"
#include "app/ticket/text_row.h"
#include "session/summary.h"
#include "solid/profile.h"
#include "work/fonts.h"
#include "work/properties.h"

namespace app {

namespace {

Rows::Reach<work::Lettering> inLetterings(const Context& context)
{
    return inPieces<work::Lettering>(context, [](work::Piece& p) { return p.lettering(); });
}

// What the chosen letters have of their own.
Rows::Reach<work::LetterOwn> inLetters(const Context& context)
{
    const session::Session* session = context.session;
    return {[=](const work::Work& w) {
                static const work::LetterOwn s_none;
                std::vector<const work::LetterOwn*> letters;
                for (const session::Target& t : session->choice().targets)
                    if (!t.letter.empty()) {
                        const work::Piece& piece = w.pieces.items.at(t.piece);
                        const auto own = piece.letters.find(t.letter);
                        letters.push_back(own == piece.letters.end() ? &s_none : &own->second);
                    }
                return letters;
            },
            [=](work::Work& w) {
                std::vector<work::LetterOwn*> letters;
                for (const session::Target& t : session->choice().targets)
                    if (!t.letter.empty())
                        letters.push_back(&w.pieces.items.at(t.piece).letters[t.letter]);
                return letters;
            }};
}

// A struct of all chosen forms of one kind.
template <class F, class T, class Of>
Rows::Reach<T> inForms(const Context& context, Of of)
{
    const session::Session* session = context.session;
    return {[=](const work::Work& w) {
                std::vector<const T*> things;
                for (const F* form : session::formsOf<F>(w, session->choice()))
                    things.push_back(&of(const_cast<F&>(*form)));  // read only
                return things;
            },
            [=](work::Work& w) {
                std::vector<T*> things;
                for (F* form : session::formsIn<F>(w, session->choice()))
                    things.push_back(&of(*form));
                return things;
            }};
}
template <class F>
Rows::Reach<F> inForms(const Context& context)
{
    return inForms<F, F>(context, [](F& f) -> F& { return f; });
}

void addPlaceRows(Rows* rows, const Context& context)
{
    Rows* place = rows->group("place", Section::tr("Place"), [=] {
        const work::Piece* p = leadPiece(context);
        if (p && p->shape() && p->shape()->isPlate())
            return Section::tr("with its piece");
        return p ? Section::tr(work::labelOf(p->placement.stance, work::kStances)).toLower() : QString();
    });
    // A plate stands as its piece does: it is only moved against that.
    const auto standsAlone = [=] {
        const work::Piece* p = leadPiece(context);
        return !(p && p->shape() && p->shape()->isPlate());
    };
    const auto reach = inPieces<work::Placement>(context, [](work::Piece& p) { return &p.placement; });
    work::Placement usual;
    for (const work::Value& value : work::valuesIn(usual)) {
        Rows::Extra extra;
        if (const std::string key = value.number.key; key != "x" && key != "y" && key != "z")
            extra.when = standsAlone;
        place->property(reach, value.number.key, extra);
    }
}

void addLetterRows(Rows* rows, const Context& context)
{
    const Rows::Reach<work::LetterOwn> reach = inLetters(context);
    const session::Session* session = context.session;
    Rows* letters = rows->group(
        "letters", Section::tr("Chosen letters"),
        [=] {
            const auto chosen = reach.of(session->work());
            const bool inLine = std::none_of(chosen.begin(), chosen.end(), [](const work::LetterOwn* l) { return l->isPosed(); });
            return inLine ? Section::tr("in line") : Section::tr("moved by hand");
        },
        [=] { return !reach.of(session->work()).empty(); });
    auto* name = new QLineEdit;
    name->setObjectName("lettering.letters.name");
    name->setMaxLength(100);
    name->setToolTip(Section::tr("Of the letter, shape or segment, as it is told above"));
    QObject::connect(name, &QLineEdit::editingFinished, name, [=] {
        if (name->isModified())
            context.session->edit(Section::tr("Name").toStdString(), [&](work::Work& w) {
                for (work::LetterOwn* own : reach.in(w))
                    own->name = name->text().trimmed().toStdString();
            });
        name->setModified(false);
    });
    letters->labelled(Section::tr("Name"), name, [=] {
        if (name->hasFocus() && name->isModified())
            return;
        const auto common = session::common<std::string>(reach.of(session->work()), [](const work::LetterOwn& l) { return l.name; });
        name->setText(common ? text(*common) : QString());
        const session::Choice& choice = session->choice();
        name->setPlaceholderText(!common ? Section::tr("mixed")
                                 : choice.empty() || choice.targets.back().letter.empty()
                                     ? QString()
                                     : text(session::letterText(*leadPiece(context), choice.targets.back().letter)));
    });
    const auto inText = [=] { return leadPiece(context)->lettering() != nullptr; };
    letters->property(reach, "typeSize", {.when = inText});
    letters->property(reach, "space", {.when = inText});
    letters->properties(reach, {"typeSize", "space"});
}

void addCopiesRows(Rows* rows, const Context& context)
{
    Rows* copies = rows->group("copies", Section::tr("Linked copies"), [=] {
        const work::Piece* p = leadPiece(context);
        return !p || p->copies.all() == 1 ? Section::tr("none") : QString::number(p->copies.all() - 1);
    });
    copies->properties(inPieces<work::Copies>(context, [](work::Piece& p) { return &p.copies; }));
}

// --- form ----------------------------------------------------------------------------------------------------------------------

// A length's usual value, as a share of the type's size.
Rows::Get<double> usuallyOfSize(const Context& context, double share)
{
    return [=]() -> std::optional<double> {
        const work::Piece* p = leadPiece(context);
        return p ? std::optional(p->sizePt() * share) : std::nullopt;
    };
}

// Opens the bench for a profile that is drawn.
void addDrawRow(Rows* rows, const Context& context, const char* id, session::ProfileOf of, Rows::When when)
{
    auto* draw = new QPushButton(Section::tr("Draw..."));
    draw->setObjectName(id);
    draw->setToolTip(Section::tr("Opens the bench under the picture, where its points are moved"));
    QObject::connect(draw, &QPushButton::clicked, rows, [=] { context.drawProfile(of); });
    rows->labelled(Section::tr("Curve"), draw, {}, std::move(when));
}

void addBevelRows(Rows* rows, const Context& context, solid::Bevel solid::SlabForm::*bevel, double usualShare, session::ProfileOf of)
{
    const auto reach = inForms<solid::SlabForm, solid::Bevel>(context, [bevel](solid::SlabForm& f) -> solid::Bevel& { return f.*bevel; });
    Rows::Extra width, height;
    width.usual = height.usual = usuallyOfSize(context, usualShare);
    width.set = [reach](work::Work& w, double v) {
        // Equal width and height stay equal: 45 degrees. A bevel that begins gets its height too.
        for (solid::Bevel* b : reach.in(w)) {
            if (b->heightPt == b->widthPt || b->heightPt == 0)
                b->heightPt = v;
            b->widthPt = v;
        }
    };
    // Nothing of its own to set while the back is as the front.
    const auto isOwn = [=] {
        const auto slabs = session::formsOf<solid::SlabForm>(context.session->work(), context.session->choice());
        return of != session::ProfileOf::Back || slabs.empty() || !slabs.back()->linked;
    };
    width.when = height.when = isOwn;
    rows->property(reach, "widthPt", width);
    rows->property(reach, "heightPt", height);
    Rows::Extra profile, other;
    profile.when = other.when = isOwn;
    // What is drawn begins as what was there.
    profile.choose = [=](work::Work& w, int index) {
        for (solid::Bevel* b : reach.in(w)) {
            const solid::Profile next = work::kProfiles[index].value;
            if (next == solid::Profile::Drawn && b->profile != next && b->drawn.empty() && b->profile != solid::Profile::Terraces)
                b->drawn = solid::asDrawn(b->profile, b->steps);
            b->profile = next;
        }
    };
    profile.changed = [=] {
        const auto chosen = reach.of(context.session->work());
        if (!chosen.empty() && chosen.back()->profile == solid::Profile::Drawn)
            context.drawProfile(of);
    };
    rows->property(reach, "profile", profile);
    addDrawRow(rows, context, of == session::ProfileOf::Back ? "form.back.draw" : "form.draw", of, [=] {
        const auto chosen = reach.of(context.session->work());
        return isOwn() && !chosen.empty() && chosen.back()->profile == solid::Profile::Drawn;
    });
    for (const char* key : {"steps", "facets"})
        rows->property(reach, key, other);
}

void addSideRows(Rows* rows, const Context& context, const Rows::Reach<solid::SlabForm>& slab)
{
    const auto flutes = inForms<solid::SlabForm, solid::Flutes>(context, [](solid::SlabForm& f) -> solid::Flutes& { return f.flutes; });
    Rows* sides = rows->group(
        "sides", Section::tr("Corners and sides"),
        [=] { return text(session::sidesSummary(context.session->work(), context.session->choice())); },
        [=] { return !slab.of(context.session->work()).empty(); });
    sides->property(slab, "corners");
    sides->property(slab, "grownOut");
    sides->property(slab, "draft");
    Rows::Extra count, deep;
    count.id = "flutes";
    count.set = [=](work::Work& w, double v) {
        // Those that begin get a depth that is seen.
        const work::Piece* p = leadPiece(context);
        for (solid::Flutes* f : flutes.in(w)) {
            if (f->none() && p)
                f->deepPt = p->sizePt() / 60;
            f->count = static_cast<int>(std::lround(v));
        }
    };
    deep.id = "fluteDepth";
    sides->property(flutes, "count", count);
    sides->property(flutes, "deepPt", deep);
    addDrawRow(sides, context, "form.sides.draw", session::ProfileOf::Flutes, [=] {
        const auto chosen = flutes.of(context.session->work());
        return !chosen.empty() && chosen.back()->count > 0;
    });
}

}  // namespace

namespace {

// Whether the rows of a lettering have something to speak of.
bool isLettering(const Context& context)
{
    return leadPiece(context) && leadPiece(context)->lettering();
}

void addFaceRow(Rows* rows, Section* section, const Context& context)
{
    auto* face = new FontField;
    face->setObjectNames("lettering.face");
    face->setToolTip(Section::tr("Every face of this machine, shown in its own letters"));
    // Faces that are tried are one step, which a choice ends and Escape takes back.
    const auto before = std::make_shared<std::optional<work::Work>>();
    static constexpr const char* kStep = "lettering.face";
    const auto take = [=](const base::Result<work::FontWithFile>& font) {
        if (!font) {
            context.say(text(base::oneLine(font.error())));
            return;
        }
        if (!*before)
            *before = context.session->work();
        context.session->edit(Section::tr("Face").toStdString(), kStep, [&](work::Work& w) {
            w.assets[font->choice.asset] = font->asset;
            session::changeFaces(w, context.session->choice(), [&](work::FontChoice& own) { own = font->choice; });
        });
    };
    const auto end = [=](bool back) {
        if (*before && back)
            context.session->edit(Section::tr("Face").toStdString(), kStep, [&](work::Work& w) {
                w.assets = (*before)->assets;
                for (auto& [id, piece] : w.pieces.items)
                    if (const auto was = (*before)->pieces.items.find(id); piece.lettering() && was != (*before)->pieces.items.end()) {
                        piece.lettering()->font = was->second.lettering()->font;
                        piece.letters = was->second.letters;
                    }
            });
        before->reset();
        context.session->endMerge();
    };
    QObject::connect(face, &FontField::tried, section, [=](const QString& family, const QString& style) {
        take(work::fontOnMachine(family.toStdString(), style.toStdString()));
    });
    QObject::connect(face, &FontField::chosen, section, [=](const QString& family, const QString& style) {
        take(work::fontOnMachine(family.toStdString(), style.toStdString()));
        end(false);
    });
    QObject::connect(face, &FontField::takenBack, section, [=] { end(true); });
    QObject::connect(face, &FontField::fileChosen, section, [=](const QString& path) {
        take(work::fontFromFile(path.toStdString()));
        end(false);
    });
    rows->labelled(
        Section::tr("Face"), face,
        [=] {
            const work::Piece* p = leadPiece(context);
            face->showValue(session::common<work::FontChoice>(session::facesOf(context.session->work(), context.session->choice()),
                                                              [](const work::FontChoice& f) { return f; }),
                            p && p->lettering() ? text(p->lettering()->text) : QString());
        },
        [=] { return isLettering(context); });
}

void addAxesRows(Rows* rows, const Context& context)
{
    auto* axes = new AxesRows(context);
    Rows* axesGroup = rows->group(
        "axes", Section::tr("Axes"), [=] { return axes->summary(); },
        [=] {
            axes->refresh();
            return isLettering(context) && !axes->isEmpty();
        });
    axesGroup->wide(axes);
}

}  // namespace

namespace {

void addFeatureRows(Rows* rows, const Context& context)
{
    auto* features = new FeatureRows(context);
    Rows* group = rows->group(
        "features", Section::tr("Features"), [=] { return features->summary(); },
        [=] {
            features->refresh();
            return isLettering(context);
        });
    group->wide(
        features, [=] { features->refresh(); }, [=] { return !features->isEmpty(); });
    group->property(inLetterings(context), "capitals");
}

}  // namespace

Section* letteringSection(const Context& context)
{
    auto* section = new Section(context, "lettering", Section::tr("Lettering"),
                                [=] { return text(session::letteringSummary(context.session->work(), context.session->choice())); });
    Rows* rows = section->rows();
    section->setTitleBy([=] {
        const work::Piece* piece = leadPiece(context);
        return piece && piece->artwork() ? Section::tr("Artwork")
               : piece && piece->shape() ? Section::tr("Shape")
                                         : Section::tr("Lettering");
    });
    const auto anything = [=] { return isLettering(context); };
    auto* typed = new TextRow(context);
    rows->wide(
        typed, [=] { typed->refresh(); }, anything);

    addFaceRow(rows, section, context);
    addAxesRows(rows, context);
    addFeatureRows(rows, context);
    const auto lettering = inLetterings(context);
    Rows::Extra size;
    size.when = anything;
    size.unit = session::LengthUnit{};
    size.set = [=](work::Work& w, double v) {
        for (const std::string& id : context.session->choice().pieces())
            work::scaleTo(w.pieces.items.at(id), v);
    };
    rows->property(lettering, "sizePt", size);
    rows->properties(lettering, {"text", "sizePt", "nextLetter", "features", "capitals", "stacked"});
    addRunRows(rows, context);
    addShapeRows(rows, context);
    addArtworkRows(section, context);
    addStepsRows(rows, context);
    addPlaceRows(rows, context);
    addLetterRows(rows, context);
    addCopiesRows(rows, context);
    return section;
}

namespace {

void addAlongRows(Rows* rows, const Context& context)
{
    const session::Session* session = context.session;
    const Rows::Reach<solid::Along> reach{[=](const work::Work& w) {
                                              std::vector<const solid::Along*> all;
                                              for (const work::Form* form : session::formsOf(w, session->choice()))
                                                  if (const solid::Along* along = work::alongOf(*form))
                                                      all.push_back(along);
                                              return all;
                                          },
                                          [=](work::Work& w) {
                                              std::vector<solid::Along*> all;
                                              for (work::Form* form : session::formsIn(w, session->choice()))
                                                  if (solid::Along* along = work::alongOf(*form))
                                                      all.push_back(along);
                                              return all;
                                          }};
    Rows* along = rows->group(
        "along", Section::tr("Along the depth"), [=] { return text(session::alongSummary(session->work(), session->choice())); },
        [=] { return !reach.of(session->work()).empty(); });
    along->properties(reach);
}

// What kind of form: the other rows are those of the kinds that are chosen.
void addKindRow(Rows* rows, Section* section, const Context& context)
{
    auto* kinds = new OneOfField;
    kinds->setObjectName("form.kind");
    for (const auto& kind : work::Kinds<work::Form>::names)
        kinds->addItem(Section::tr(kind.label));
    kinds->setToolTip(Section::tr("What the outlines become; the depth is kept"));
    QObject::connect(kinds, &QComboBox::activated, section, [=](int index) {
        context.session->edit(Section::tr("Form").toStdString(), [&](work::Work& w) {
            const double size = leadPiece(context) ? leadPiece(context)->sizePt() : outline::LayoutSettings{}.sizePt;
            for (work::Form* form : session::formsIn(w, context.session->choice()))
                *form = work::formOfKind(*form, static_cast<std::size_t>(index), size);
            session::tidyLetters(w);
        });
    });
    rows->labelled(Section::tr("Kind"), kinds, [=] {
        const auto kind = session::common<std::size_t>(session::formsOf(context.session->work(), context.session->choice()),
                                                       [](const work::Form& f) { return f.index(); });
        kinds->setCurrentIndex(kind && *kind < std::size(work::Kinds<work::Form>::names) ? static_cast<int>(*kind) : -1);
    });
}

}  // namespace

namespace {

// An inlay that begins gets a border too.
Rows::Extra sunkBy(const Context& context, const Rows::Reach<solid::Inlay>& reach)
{
    const auto usual = usuallyOfSize(context, 1.0 / 60);
    Rows::Extra extra;
    extra.set = [=](work::Work& w, double v) {
        const double border = usual().value_or(2);
        for (solid::Inlay* inlay : reach.in(w)) {
            if (inlay->none() && inlay->borderPt == 0)
                inlay->borderPt = border;
            inlay->sunkPt = v;
        }
    };
    return extra;
}

}  // namespace

Section* formSection(const Context& context)
{
    auto* section = new Section(context, "form", Section::tr("Form"), [=] {
        return text(session::formSummary(context.session->work(), context.session->choice(), context.unit()));
    });
    Rows* rows = section->rows();
    addKindRow(rows, section, context);
    rows->wide(formStarts(context));
    Rows::Extra depth;
    depth.usual = usuallyOfSize(context, 1.0 / 4);
    const auto slab = inForms<solid::SlabForm>(context);
    const auto isSlab = [=] { return !slab.of(context.session->work()).empty(); };
    rows->property(slab, "depthPt", depth);
    addBevelRows(rows, context, &solid::SlabForm::front, 1.0 / 40, session::ProfileOf::Front);
    addSideRows(rows, context, slab);
    Rows* back = rows->group(
        "back", Section::tr("Bevel at the back"),
        [=] {
            const auto kind = session::common<int>(slab.of(context.session->work()), [](const solid::SlabForm& f) {
                return f.linked ? 2 : f.back.none() ? 0 : 1;
            });
            return !kind        ? Section::tr("mixed")
                   : *kind == 2 ? Section::tr("as in front")
                   : *kind == 1 ? Section::tr("set")
                                : Section::tr("none");
        },
        isSlab);
    back->property(slab, "linked");
    addBevelRows(back, context, &solid::SlabForm::back, 0, session::ProfileOf::Back);
    const auto inlay = inForms<solid::SlabForm, solid::Inlay>(context, [](solid::SlabForm& f) -> solid::Inlay& { return f.inlay; });
    Rows* inner = rows->group(
        "inlay", Section::tr("Inlay"),
        [=] {
            const auto sunk = session::common<double>(inlay.of(context.session->work()), [](const solid::Inlay& i) { return i.sunkPt; });
            return !sunk ? Section::tr("mixed") : *sunk > 0 ? Section::tr("sunk") : *sunk < 0 ? Section::tr("raised") : Section::tr("none");
        },
        isSlab);
    Rows::Extra border;
    border.usual = usuallyOfSize(context, 1.0 / 60);
    inner->property(inlay, "sunkPt", sunkBy(context, inlay));
    inner->property(inlay, "borderPt", border);
    inner->properties(inlay, {"sunkPt", "borderPt", "steps", "drawn"});
    addDrawRow(inner, context, "form.inlay.draw", session::ProfileOf::Rim, [=] {
        const auto chosen = inlay.of(context.session->work());
        return !chosen.empty() && !chosen.back()->none() && chosen.back()->rimPt > 0 && chosen.back()->profile == solid::Profile::Drawn;
    });
    inner->property(inlay, "steps");
    const auto domed = inForms<solid::DomedForm>(context);
    Rows::Extra straight;
    straight.id = "side";
    rows->properties(domed, {"depthPt"});
    rows->property(domed, "depthPt", straight);
    const auto tube = inForms<solid::TubeForm>(context);
    Rows::Extra across, up;
    across.id = "tubeWidth";
    up.id = "tubeHeight";
    across.usual = usuallyOfSize(context, 1.0 / 20);
    for (const char* key : {"path", "section"})
        rows->property(tube, key);
    rows->property(tube, "widthPt", across);
    rows->property(tube, "heightPt", up);
    rows->properties(tube, {"path", "section", "widthPt", "heightPt"});
    const auto block = inForms<solid::BlockForm>(context);
    Rows::Extra blockX, blockY, blockDepth;
    blockX.id = "blockX";
    blockY.id = "blockY";
    blockDepth.id = "blockDepth";
    rows->property(block, "toPoint");
    rows->property(block, "x", blockX);
    rows->property(block, "y", blockY);
    rows->property(block, "share");
    rows->property(block, "depthPt", blockDepth);
    addAlongRows(rows, context);
    return section;
}

namespace {

// Which part the other rows speak of; -1: all.
void addPartRow(Rows* rows, Section* section, const std::shared_ptr<int>& part)
{
    auto* parts = new OneOfField;
    parts->setObjectName("material.part");
    parts->addItem(Section::tr("All parts"));
    for (const auto& p : work::kParts)
        parts->addItem(Section::tr(p.label));
    parts->setToolTip(Section::tr("A part takes the common material until it gets one of its own"));
    QObject::connect(parts, &QComboBox::activated, section, [=](int index) {
        *part = index - 1;
        rows->refresh();
    });
    rows->labelled(Section::tr("Part"), parts);
}

// What lies over the base, its mirror layer's index and colour, what goes through, its pattern and its pictures.
void addLayerRows(Rows* rows, const Rows::Reach<work::Material>& reach, const Context& context)
{
    const session::Session* session = context.session;
    const auto summary = [=](std::string (*textOf)(const work::Material&)) {
        return [=] {
            const auto common = session::common<std::string>(reach.of(session->work()), [=](const work::Material& m) { return textOf(m); });
            return !common ? Section::tr("mixed") : common->empty() ? Section::tr("none") : text(*common);
        };
    };
    Rows* layers = rows->group("layers", Section::tr("Layers"), summary(session::layersText));
    Rows::Extra coatRoughness;
    coatRoughness.id = "coatRoughness";
    layers->property(reach, "clearcoat");
    layers->property(reach, "clearcoatRoughness", coatRoughness);
    for (const char* key : {"clearcoatRelief", "sheenColour", "sheenRoughness", "ior", "specularColour", "anisotropy", "anisotropyRotation",
                            "iridescence", "iridescenceThicknessNm", "iridescenceIor"})
        layers->property(reach, key);
    Rows* through = rows->group("through", Section::tr("Light through"), summary(session::throughText));
    for (const char* key : {"transmission", "translucency", "solid", "attenuationDistancePt", "attenuationColour"})
        through->property(reach, key);
    Rows* pattern = rows->group("pattern", Section::tr("Pattern"), summary(session::patternText));
    for (const char* key : {"pattern", "patternSizePt", "patternColour", "patternStrength", "patternRelief", "patternTurn", "patternSeed"})
        pattern->property(reach, key);
    addPictureRows(rows, reach, context, true);
}

// Takes away what parts have of their own.
void addCommonButton(Rows* rows, Section* section, const Context& context, const std::shared_ptr<int>& part)
{
    auto* common = new QPushButton;
    common->setObjectName("material.common");
    QObject::connect(common, &QPushButton::clicked, section, [=] {
        context.session->edit(Section::tr("One material").toStdString(), [&](work::Work& w) {
            for (work::MaterialSet* s : session::materialsIn(w, context.session->choice()))
                if (*part < 0)
                    s->parts.clear();
                else
                    s->parts.erase(work::kParts[*part].name);
        });
    });
    const auto hasOwn = [=] {
        for (const work::MaterialSet* s : session::materialsOf(context.session->work(), context.session->choice()))
            if (*part < 0 ? !s->parts.empty() : s->parts.contains(work::kParts[*part].name))
                return true;
        return false;
    };
    rows->wide(
        common,
        [=] { common->setText(*part < 0 ? Section::tr("Give all parts this material") : Section::tr("Back to the common material")); },
        hasOwn);
}

}  // namespace

Section* materialSection(const Context& context)
{
    auto* section = new Section(context, "material", Section::tr("Material"),
                                [=] { return text(session::materialSummary(context.session->work(), context.session->choice())); });
    Rows* rows = section->rows();
    // Which part the rows below speak of: the whole letter, or one part.
    auto part = std::make_shared<int>(-1);
    auto* book = new QPushButton(Section::tr("Sample book..."));
    book->setObjectName("material.book");
    book->setToolTip(Section::tr("Materials that are ready, on your own first letter; it stays open beside the picture"));
    QObject::connect(book, &QPushButton::clicked, section, [context] { context.openBook(); });
    rows->wide(book);
    addPartRow(rows, section, part);

    // Writing to all parts changes the common material; parts with one of their own keep it, as the trade's face-and-bevel pairs need.
    const session::Session* session = context.session;
    const Rows::Reach<work::Material> reach{
        [=](const work::Work& w) {
            std::vector<const work::Material*> materials;
            for (const work::MaterialSet* s : session::materialsOf(w, session->choice()))
                materials.push_back(*part < 0 ? &s->piece : &s->of(work::kParts[*part].name));
            return materials;
        },
        [=](work::Work& w) {
            std::vector<work::Material*> materials;
            for (work::MaterialSet* s : session::materialsIn(w, session->choice()))
                materials.push_back(*part < 0 ? &s->piece : &s->parts.try_emplace(work::kParts[*part].name, s->piece).first->second);
            return materials;
        }};
    Rows::Extra colour, roughness;
    colour.id = "colour";
    roughness.usual = [] { return std::optional(0.35); };
    rows->property(reach, "baseColour", colour);
    rows->property(reach, "metallic");
    rows->property(reach, "roughness", roughness);
    addLayerRows(rows, reach, context);
    rows->properties(reach, {"baseColour",
                             "metallic",
                             "roughness",
                             "clearcoat",
                             "clearcoatRoughness",
                             "clearcoatRelief",
                             "sheenColour",
                             "sheenRoughness",
                             "ior",
                             "specularColour",
                             "anisotropy",
                             "anisotropyRotation",
                             "iridescence",
                             "iridescenceThicknessNm",
                             "iridescenceIor",
                             "transmission",
                             "translucency",
                             "solid",
                             "attenuationDistancePt",
                             "attenuationColour",
                             "pattern",
                             "patternSizePt",
                             "patternColour",
                             "patternStrength",
                             "patternRelief",
                             "patternTurn",
                             "patternSeed"});
    addCommonButton(rows, section, context, part);
    return section;
}

}  // namespace app
