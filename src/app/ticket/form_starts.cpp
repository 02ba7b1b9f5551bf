#include "app/ticket/form_starts.h"

#include "app/ticket/chosen.h"
#include "app/ticket/kept_starts.h"
#include "app/ticket/letter_sample.h"
#include "files/form_start.h"

namespace app {

namespace {

// Of what is chosen.
void take(work::Work& w, const session::Choice& choice, const files::FormStart& start)
{
    for (const session::Target& target : choice.targets) {
        work::Piece& piece = w.pieces.items.at(target.piece);
        const work::Form form = start.at(piece.sizePt());
        if (!target.letter.empty()) {
            piece.letters[target.letter].form = form;
            continue;
        }
        piece.form = form;
        for (auto& [_, own] : piece.letters)
            own.form.reset();
    }
    session::tidyLetters(w);
}

std::vector<KeptStarts::Start> startsFor(const Context& context, base::Notes& notes)
{
    std::vector<KeptStarts::Start> starts;
    const work::Piece* piece = leadPiece(context);
    if (!piece)
        return starts;
    work::Work sample = sampleOf(context.session->work(), *piece);
    work::Piece& shown = sample.pieces.items.begin()->second;
    for (const files::FormStart& start : files::formStarts(files::formFolders(), &notes)) {
        shown.form = start.at(shown.sizePt());
        starts.push_back({start.id, text(start.name), text(start.name), start.own, [sample] { return sample; }, Section::tr("Form"),
                          [context, start](work::Work& w) { take(w, context.session->choice(), start); }});
    }
    return starts;
}

base::Result<std::string> keep(const Context& context, const std::string& name)
{
    const work::Piece* piece = leadPiece(context);
    const auto forms = session::formsOf(context.session->work(), context.session->choice());
    if (!piece || forms.empty())
        return base::fail(base::ErrorCode::BadInput, "Nothing is chosen; choose a piece or a letter");
    return files::keepForm(files::ownFormFolder(), name, *forms.back(), piece->sizePt()).map([](const files::FormStart& kept) {
        return kept.name;
    });
}

}  // namespace

QWidget* formStarts(const Context& context)
{
    return new KeptStarts(
        context,
        {"form",
         [context](base::Notes& notes) { return startsFor(context, notes); },
         [context](const std::string& name) { return keep(context, name); },
         files::ownFormFolder(),
         {Section::tr("Begin from..."),
          Section::tr("Forms that are ready, on your own first letter; everything in them can be changed after"),
          Section::tr("Keeps the form of what is chosen by a name, for other works"), Section::tr("Forms to begin from"),
          Section::tr("A form was left out: %1"), Section::tr("Forget this form"), Section::tr("Keep this form"),
          Section::tr("Its name; a form of yours with the same name is replaced"), Section::tr("\"%1\" is among the forms to begin from"),
          Section::tr("Only forms you kept can be forgotten"), Section::tr("\"%1\" is forgotten")}});
}

}  // namespace app
