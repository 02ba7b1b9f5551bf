// Lettering, Form and Material: what is chosen.
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QPushButton>

#include "app/style.h"
#include "app/ticket/axes_rows.h"
#include "app/ticket/sections.h"
#include "app/ticket/text_row.h"
#include "session/summary.h"
#include "work/fonts.h"

namespace app {

namespace {

using session::Kind;
using solid::Part;

// Reads a value from every chosen piece, and writes it to all of them.
template <class T, class Read>
Rows::Get<T> ofPieces(const Desk& desk, Read read)
{
    return [=]() -> std::optional<T> {
        std::vector<const work::Piece*> pieces;
        for (const std::string& id : desk.session->choice().pieces())
            pieces.push_back(&desk.session->work().pieces.items.at(id));
        return session::common<T>(pieces, [&](const work::Piece& p) { return static_cast<T>(read(p)); });
    };
}
template <class T, class Write>
Rows::Set<T> onPieces(const Desk& desk, Write write)
{
    return [=](work::Work& w, const T& value) {
        for (const std::string& id : desk.session->choice().pieces())
            write(w.pieces.items.at(id), value);
    };
}

// The same for what single letters have of their own.
template <class Read>
Rows::Get<double> ofLetters(const Desk& desk, Read read)
{
    return [=]() -> std::optional<double> {
        static const work::LetterOwn s_none;
        std::vector<const work::LetterOwn*> letters;
        for (const session::Target& t : desk.session->choice().targets)
            if (!t.letter.empty()) {
                const work::Piece& piece = desk.session->work().pieces.items.at(t.piece);
                const auto own = piece.letters.find(t.letter);
                letters.push_back(own == piece.letters.end() ? &s_none : &own->second);
            }
        return session::common<double>(letters, read);
    };
}
template <class Write>
Rows::Set<double> onLetters(const Desk& desk, Write write)
{
    return [=](work::Work& w, double value) {
        for (const session::Target& t : desk.session->choice().targets)
            if (!t.letter.empty())
                write(w.pieces.items.at(t.piece).letters[t.letter], value);
    };
}

const work::Piece* lead(const Desk& desk)
{
    const session::Choice& choice = desk.session->choice();
    return choice.empty() ? nullptr : &desk.session->work().pieces.items.at(choice.targets.back().piece);
}

Rows::Get<double> usually(double value)
{
    return [value] { return std::optional(value); };
}

void addPlaceRows(Rows* rows, const Desk& desk)
{
    Rows* place = rows->group("place", Section::tr("Place"), [=] {
        const work::Piece* p = lead(desk);
        if (!p)
            return QString();
        static const char* const kStances[] = {QT_TRANSLATE_NOOP("app::Section", "against the wall"),
                                               QT_TRANSLATE_NOOP("app::Section", "standing on the floor"),
                                               QT_TRANSLATE_NOOP("app::Section", "free")};
        return Section::tr(kStances[static_cast<int>(p->placement.stance)]);
    });
    place->choice("stance", Section::tr("Stance"),
                  Section::tr("How the piece meets the ground. Against the wall it never sinks in, however deep it is."),
                  {Section::tr("Against the wall"), Section::tr("Standing on the floor"), Section::tr("Free")},
                  ofPieces<int>(desk, [](const work::Piece& p) { return p.placement.stance; }),
                  onPieces<int>(desk, [](work::Piece& p, int v) { p.placement.stance = static_cast<work::Stance>(v); }));
    const auto is = [=](std::initializer_list<work::Stance> stances) {
        const std::vector<work::Stance> list = stances;
        return [=] {
            const work::Piece* p = lead(desk);
            return p && std::find(list.begin(), list.end(), p->placement.stance) != list.end();
        };
    };
    using work::Stance;
    struct Number {
        const char* id;
        QString label, tip;
        double work::Placement::*member;
        Kind kind;
        std::initializer_list<Stance> when;
    };
    const Number numbers[] = {
        {"x",
         Section::tr("Across"),
         Section::tr("Right of the sheet's middle"),
         &work::Placement::x,
         Kind::Length,
         {Stance::AgainstWall, Stance::OnFloor, Stance::Free}},
        {"y",
         Section::tr("Up"),
         Section::tr("Above the sheet's middle"),
         &work::Placement::y,
         Kind::Length,
         {Stance::AgainstWall, Stance::Free}},
        {"z",
         Section::tr("Towards you"),
         Section::tr("In front of the sheet's plane, measured at the back of the letters"),
         &work::Placement::z,
         Kind::Length,
         {Stance::OnFloor, Stance::Free}},
        {"turn",
         Section::tr("Turn"),
         Section::tr("About the upright axis"),
         &work::Placement::turn,
         Kind::Angle,
         {Stance::OnFloor, Stance::Free}},
        {"tilt", Section::tr("Tilt"), Section::tr("Top towards you"), &work::Placement::tilt, Kind::Angle, {Stance::Free}},
        {"roll",
         Section::tr("Roll"),
         Section::tr("In its own plane, counter-clockwise"),
         &work::Placement::roll,
         Kind::Angle,
         {Stance::AgainstWall, Stance::Free}}};
    for (const Number& n : numbers) {
        const auto member = n.member;
        place->number(n.id, n.label, n.tip, {n.kind, n.kind == Kind::Angle ? -360.0 : -1e6, n.kind == Kind::Angle ? 360.0 : 1e6, 1, 1},
                      ofPieces<double>(desk, [member](const work::Piece& p) { return p.placement.*member; }),
                      onPieces<double>(desk, [member](work::Piece& p, double v) { p.placement.*member = v; }), usually(0), is(n.when));
    }
}

void addLetterRows(Rows* rows, const Desk& desk)
{
    const auto hasLetters = [=] {
        const auto& targets = desk.session->choice().targets;
        return std::any_of(targets.begin(), targets.end(), [](const session::Target& t) { return !t.letter.empty(); });
    };
    Rows* letters = rows->group(
        "letters", Section::tr("Chosen letters"),
        [=] {
            return ofLetters(desk, [](const work::LetterOwn& l) { return l.isPosed() ? 1.0 : 0.0; })() == 0.0
                       ? Section::tr("in line")
                       : Section::tr("moved by hand");
        },
        hasLetters);
    struct Number {
        const char* id;
        QString label, tip;
        double work::LetterOwn::*member;
        Kind kind;
    };
    const Number numbers[] = {
        {"x", Section::tr("Across"), Section::tr("Moved along the line"), &work::LetterOwn::x, Kind::Length},
        {"y", Section::tr("Up"), Section::tr("Moved off the baseline"), &work::LetterOwn::y, Kind::Length},
        {"z", Section::tr("Towards you"), Section::tr("Moved out of the piece"), &work::LetterOwn::z, Kind::Length},
        {"roll", Section::tr("Roll"), Section::tr("About the letter's middle, counter-clockwise"), &work::LetterOwn::roll, Kind::Angle}};
    for (const Number& n : numbers) {
        const auto member = n.member;
        letters->number(n.id, n.label, n.tip, {n.kind, -1e6, 1e6, 1, 1},
                        ofLetters(desk, [member](const work::LetterOwn& l) { return l.*member; }),
                        onLetters(desk, [member](work::LetterOwn& l, double v) { l.*member = v; }), usually(0));
    }
}

void addCopiesRows(Rows* rows, const Desk& desk)
{
    Rows* copies = rows->group("copies", Section::tr("Linked copies"), [=] {
        const work::Piece* p = lead(desk);
        return !p || p->copies.count == 0 ? Section::tr("none") : QString::number(p->copies.count);
    });
    copies->number("count", Section::tr("Copies"), Section::tr("They follow text and form of the piece, each a step further"),
                   {Kind::Plain, 0, 50, 1, 0}, ofPieces<double>(desk, [](const work::Piece& p) { return p.copies.count; }),
                   onPieces<double>(desk, [](work::Piece& p, double v) { p.copies.count = static_cast<int>(std::lround(v)); }), usually(0));
    const auto some = [=] {
        const work::Piece* p = lead(desk);
        return p && p->copies.count > 0;
    };
    struct Number {
        const char* id;
        QString label, tip;
        double work::Copies::*member;
        NumberSpec spec;
    };
    const Number numbers[] = {
        {"depthStep",
         Section::tr("Deeper by"),
         Section::tr("Each copy; negative for flatter ones, as a plate behind a word"),
         &work::Copies::depthStep,
         {Kind::Length, -100000, 100000, 1, 1}},
        {"growth",
         Section::tr("Larger by"),
         Section::tr("Each outline grows outwards, with round corners: a rim"),
         &work::Copies::growth,
         {Kind::Length, 0, 10000, 1, 1}},
        {"back",
         Section::tr("Back by"),
         Section::tr("Each copy stands so much further behind"),
         &work::Copies::back,
         {Kind::Length, -1e6, 1e6, 1, 1}},
        {"turn", Section::tr("Turned by"), Section::tr("Each copy, in its plane"), &work::Copies::turn, {Kind::Angle, -360, 360, 1, 1}},
        {"tintShare",
         Section::tr("Tinted by"),
         Section::tr("How much of the tint each step mixes in"),
         &work::Copies::tintShare,
         {Kind::Percent, 0, 1, 0.05, 0}}};
    for (const Number& n : numbers) {
        const auto member = n.member;
        copies->number(n.id, n.label, n.tip, n.spec, ofPieces<double>(desk, [member](const work::Piece& p) { return p.copies.*member; }),
                       onPieces<double>(desk, [member](work::Piece& p, double v) { p.copies.*member = v; }), usually(0), some);
    }
    copies->colour("tint", Section::tr("Tint"), Section::tr("The copies' colours go towards it"),
                   ofPieces<ColourField::Value>(desk,
                                                [](const work::Piece& p) {
                                                    return ColourField::Value{p.copies.tint, {}};
                                                }),
                   onPieces<ColourField::Value>(desk, [](work::Piece& p, const ColourField::Value& v) { p.copies.tint = v.colour; }), some);
}

// --- form ----------------------------------------------------------------------------------------------------------------------

template <class T, class Read>
Rows::Get<T> ofForms(const Desk& desk, Read read)
{
    return [=]() -> std::optional<T> {
        return session::common<T>(session::formsOf(desk.session->work(), desk.session->choice()),
                                  [&](const solid::SlabForm& f) { return static_cast<T>(read(f)); });
    };
}
template <class T, class Write>
Rows::Set<T> onForms(const Desk& desk, Write write)
{
    return [=](work::Work& w, const T& value) {
        for (solid::SlabForm* f : session::formsIn(w, desk.session->choice()))
            write(*f, value);
    };
}

void addBevelRows(Rows* rows, const Desk& desk, solid::Bevel solid::SlabForm::*bevel, double usualShare)
{
    const auto usual = [=]() -> std::optional<double> {
        const work::Piece* p = lead(desk);
        return p ? std::optional(p->lettering.layout.sizePt * usualShare) : std::nullopt;
    };
    rows->number("width", Section::tr("Bevel width"), Section::tr("Cut in along the face. Wider than the stroke it ends in a clean ridge."),
                 {Kind::Length, 0, 100000, 0.5, 2}, ofForms<double>(desk, [=](const solid::SlabForm& f) { return (f.*bevel).widthPt; }),
                 onForms<double>(desk,
                                 [=](solid::SlabForm& f, double v) {
                                     // Equal width and height stay equal: 45 degrees. A bevel that begins gets its height too.
                                     solid::Bevel& b = f.*bevel;
                                     if (b.heightPt == b.widthPt || b.heightPt == 0)
                                         b.heightPt = v;
                                     b.widthPt = v;
                                 }),
                 usual);
    rows->number("height", Section::tr("Bevel height"), Section::tr("Along the depth. Equal to the width the edge stands at 45 degrees."),
                 {Kind::Length, 0, 100000, 0.5, 2}, ofForms<double>(desk, [=](const solid::SlabForm& f) { return (f.*bevel).heightPt; }),
                 onForms<double>(desk, [=](solid::SlabForm& f, double v) { (f.*bevel).heightPt = v; }), usual);
    rows->choice("profile", Section::tr("Profile"), Section::tr("Cross-section: straight, or a quarter round"),
                 {Section::tr("Chamfer"), Section::tr("Roundover")},
                 ofForms<int>(desk, [=](const solid::SlabForm& f) { return (f.*bevel).profile; }),
                 onForms<int>(desk, [=](solid::SlabForm& f, int v) { (f.*bevel).profile = static_cast<solid::Profile>(v); }));
    const auto curved = [=] {
        return ofForms<int>(desk, [=](const solid::SlabForm& f) { return (f.*bevel).profile == solid::Profile::Roundover; })() !=
               std::optional(0);
    };
    rows->number("steps", Section::tr("Steps"), Section::tr("Of the curve: few catch hard glints, many look smooth"),
                 {Kind::Plain, 1, 64, 1, 0}, ofForms<double>(desk, [=](const solid::SlabForm& f) { return (f.*bevel).steps; }),
                 onForms<double>(desk, [=](solid::SlabForm& f, double v) { (f.*bevel).steps = static_cast<int>(std::lround(v)); }),
                 usually(8), curved);
    rows->flag("facets", Section::tr("Hard facets"), Section::tr("Each step is flat with hard edges instead of one curve"),
               ofForms<bool>(desk, [=](const solid::SlabForm& f) { return (f.*bevel).facets; }),
               onForms<bool>(desk, [=](solid::SlabForm& f, bool v) { (f.*bevel).facets = v; }), curved);
}

}  // namespace

Section* letteringSection(const Desk& desk)
{
    auto* section = new Section(desk, "lettering", Section::tr("Lettering"),
                                [=] { return text(session::letteringSummary(desk.session->work(), desk.session->choice())); });
    Rows* rows = section->rows();
    const auto anything = [=] { return lead(desk) != nullptr; };
    auto* typed = new TextRow(desk);
    rows->wide(
        typed, [=] { typed->refresh(); }, anything);

    auto* face = new FontField;
    face->setObjectNames("lettering.face");
    face->setToolTip(Section::tr("Every face of this machine, shown in its own letters"));
    const auto take = [=](const base::Result<work::FontWithFile>& font) {
        if (!font) {
            desk.say(text(base::oneLine(font.error())));
            return;
        }
        desk.session->edit(Section::tr("Face").toStdString(), [&](work::Work& w) {
            w.assets[font->choice.asset] = font->asset;
            for (const std::string& id : desk.session->choice().pieces())
                w.pieces.items.at(id).lettering.font = font->choice;
            work::dropUnusedAssets(w);
        });
    };
    QObject::connect(face, &FontField::chosen, section, [=](const QString& family, const QString& style) {
        take(work::fontOnMachine(family.toStdString(), style.toStdString()));
    });
    QObject::connect(face, &FontField::fileChosen, section, [=](const QString& path) { take(work::fontFromFile(path.toStdString())); });
    rows->labelled(
        Section::tr("Face"), face,
        [=] {
            const work::Piece* p = lead(desk);
            face->showValue(ofPieces<work::FontChoice>(desk, [](const work::Piece& piece) { return piece.lettering.font; })(),
                            p ? text(p->lettering.text) : QString());
        },
        anything);
    auto* axes = new AxesRows(desk);
    Rows* axesGroup = rows->group(
        "axes", Section::tr("Axes"), [=] { return axes->summary(); },
        [=] {
            axes->refresh();
            return anything() && !axes->isEmpty();
        });
    axesGroup->wide(axes);
    rows->number("size", Section::tr("Size"), Section::tr("Of the em; depth and bevels grow with it"),
                 {Kind::Length, 0.1, 50000, 1, 1, session::LengthUnit{}},
                 ofPieces<double>(desk, [](const work::Piece& p) { return p.lettering.layout.sizePt; }),
                 onPieces<double>(desk, [](work::Piece& p, double v) { work::scaleTo(p, v); }), {}, anything);
    rows->number("tracking", Section::tr("Tracking"), Section::tr("Space between all letters, in thousandths of an em"),
                 {Kind::Plain, -1000, 10000, 5, 1},
                 ofPieces<double>(desk, [](const work::Piece& p) { return p.lettering.layout.tracking; }),
                 onPieces<double>(desk, [](work::Piece& p, double v) { p.lettering.layout.tracking = v; }), usually(0), anything);
    rows->number("lineSpacing", Section::tr("Line spacing"), Section::tr("From baseline to baseline, in em"),
                 {Kind::Plain, -10, 10, 0.05, 2},
                 ofPieces<double>(desk, [](const work::Piece& p) { return p.lettering.layout.lineSpacing; }),
                 onPieces<double>(desk, [](work::Piece& p, double v) { p.lettering.layout.lineSpacing = v; }), usually(1.2), [=] {
                     const auto* p = lead(desk);
                     return p && p->lettering.text.find('\n') != std::string::npos;
                 });
    rows->choice("align", Section::tr("Alignment"), Section::tr("Of the lines to each other"),
                 {Section::tr("Start"), Section::tr("Centre"), Section::tr("End")},
                 ofPieces<int>(desk, [](const work::Piece& p) { return p.lettering.layout.align; }),
                 onPieces<int>(desk, [](work::Piece& p, int v) { p.lettering.layout.align = static_cast<outline::Align>(v); }), anything);
    addPlaceRows(rows, desk);
    addLetterRows(rows, desk);
    addCopiesRows(rows, desk);
    return section;
}

Section* formSection(const Desk& desk)
{
    auto* section = new Section(desk, "form", Section::tr("Form"),
                                [=] { return text(session::formSummary(desk.session->work(), desk.session->choice(), desk.unit())); });
    Rows* rows = section->rows();
    rows->number("depth", Section::tr("Depth"), Section::tr("From front to back; 0 is flat"), {Kind::Length, 0, 100000, 1, 2},
                 ofForms<double>(desk, [](const solid::SlabForm& f) { return f.depthPt; }),
                 onForms<double>(desk, [](solid::SlabForm& f, double v) { f.depthPt = v; }), [=]() -> std::optional<double> {
                     const work::Piece* p = lead(desk);
                     return p ? std::optional(p->lettering.layout.sizePt / 4) : std::nullopt;
                 });
    addBevelRows(rows, desk, &solid::SlabForm::front, 1.0 / 40);
    rows->choice("corners", Section::tr("Inner corners"), Section::tr("How the bevel runs round inner corners of the outline"),
                 {Section::tr("Round"), Section::tr("Mitred")}, ofForms<int>(desk, [](const solid::SlabForm& f) { return f.corners; }),
                 onForms<int>(desk, [](solid::SlabForm& f, int v) { f.corners = static_cast<solid::Corners>(v); }));
    Rows* back = rows->group("back", Section::tr("Bevel at the back"), [=] {
        const auto none = ofForms<bool>(desk, [](const solid::SlabForm& f) { return f.back.none(); })();
        return !none ? Section::tr("mixed") : *none ? Section::tr("none") : Section::tr("set");
    });
    addBevelRows(back, desk, &solid::SlabForm::back, 0);
    return section;
}

Section* materialSection(const Desk& desk)
{
    auto* section = new Section(desk, "material", Section::tr("Material"),
                                [=] { return text(session::materialSummary(desk.session->work(), desk.session->choice())); });
    Rows* rows = section->rows();
    // Which part the rows below speak of: the whole letter, or one part.
    auto part = std::make_shared<int>(-1);
    auto* parts = new QComboBox;
    parts->setObjectName("material.part");
    parts->addItems({Section::tr("All parts"), Section::tr("Face"), Section::tr("Front bevel"), Section::tr("Side"),
                     Section::tr("Back bevel"), Section::tr("Back")});
    parts->setToolTip(Section::tr("A part takes the common material until it gets one of its own"));
    QObject::connect(parts, &QComboBox::activated, section, [=](int index) {
        *part = index - 1;
        rows->refresh();
    });
    rows->labelled(Section::tr("Part"), parts);

    const auto read = [=](auto get) {
        using T = decltype(get(std::declval<const work::Material&>()));
        return Rows::Get<T>([=]() -> std::optional<T> {
            return session::common<T>(session::materialsOf(desk.session->work(), desk.session->choice()), [&](const work::MaterialSet& s) {
                return get(*part < 0 ? s.piece : s.of(static_cast<Part>(*part)));
            });
        });
    };
    // Writing to all parts changes the common material; parts with one of their own keep it, as the trade's face-and-bevel pairs need.
    const auto write = [=](work::Work& w, auto set) {
        for (work::MaterialSet* s : session::materialsIn(w, desk.session->choice())) {
            if (*part < 0) {
                set(s->piece);
                continue;
            }
            const auto at = s->parts.try_emplace(static_cast<Part>(*part), s->piece).first;
            set(at->second);
        }
    };
    rows->colour("colour", Section::tr("Base colour"), Section::tr("In true colour what is typed is what is seen under even white light"),
                 read([](const work::Material& m) {
                     return ColourField::Value{m.baseColour, m.swatch};
                 }),
                 [=](work::Work& w, const ColourField::Value& v) {
                     write(w, [&](work::Material& m) {
                         m.baseColour = v.colour;
                         m.swatch = v.swatch;
                     });
                 });
    struct Number {
        const char* id;
        QString label, tip;
        float render::Material::*member;
        double usual;
    };
    const Number numbers[] = {
        {"metallic", Section::tr("Metallic"), Section::tr("0 is plastic or paint, 100 metal; shiny balloon plastic is 50 to 60"),
         &render::Material::metallic, 0},
        {"roughness", Section::tr("Roughness"), Section::tr("0 is a mirror, 17 glossy lettering, 43 a soft toy, 100 chalk"),
         &render::Material::roughness, 0.35},
        {"specular", Section::tr("Mirror layer"), Section::tr("Strength of the clear reflection over a plastic's colour"),
         &render::Material::specular, 1},
        {"emission", Section::tr("Gives off light"), Section::tr("In its base colour: 100 is as bright as a white card in full light, neon 500 and more"),
         &render::Material::emission, 0}};
    for (const Number& n : numbers) {
        const auto member = n.member;
        rows->number(
            n.id, n.label, n.tip, n.member == &render::Material::emission ? NumberSpec{Kind::Percent, 0, 1000, 0.1, 0} : NumberSpec{Kind::Percent, 0, 1, 0.01, 0},
            read([member](const work::Material& m) { return static_cast<double>(m.*member); }),
            [=](work::Work& w, double v) { write(w, [&](work::Material& m) { m.*member = static_cast<float>(v); }); }, usually(n.usual));
    }
    auto* common = new QPushButton;
    common->setObjectName("material.common");
    QObject::connect(common, &QPushButton::clicked, section, [=] {
        desk.session->edit(Section::tr("One material").toStdString(), [&](work::Work& w) {
            for (work::MaterialSet* s : session::materialsIn(w, desk.session->choice()))
                if (*part < 0)
                    s->parts.clear();
                else
                    s->parts.erase(static_cast<Part>(*part));
        });
    });
    const auto hasOwn = [=] {
        for (const work::MaterialSet* s : session::materialsOf(desk.session->work(), desk.session->choice()))
            if (*part < 0 ? !s->parts.empty() : s->parts.contains(static_cast<Part>(*part)))
                return true;
        return false;
    };
    rows->wide(
        common,
        [=] { common->setText(*part < 0 ? Section::tr("Give all parts this material") : Section::tr("Back to the common material")); },
        hasOwn);
    return section;
}

}  // namespace app
