#include "app/ticket/finish_starts.h"

#include <QCheckBox>

#include "app/ticket/chosen.h"
#include "app/ticket/kept_starts.h"
#include "app/ticket/letter_sample.h"
#include "app/ticket/sample_panel.h"
#include "files/finish_start.h"

namespace app {

namespace {

std::vector<KeptStarts::Start> finishesFor(const Context& context, QCheckBox* adds, base::Notes& notes)
{
    std::vector<KeptStarts::Start> starts;
    const work::Piece* piece = leadOrFirstPiece(context);
    if (!piece) {
        context.say(Section::tr("There is nothing to finish yet: write something, or place artwork"));
        return starts;
    }
    const bool over = adds->isChecked();
    const work::Work sample = sampleOf(context.session->work(), *piece);
    for (const files::NamedFinish& one : files::finishes(files::finishFolders(), &notes))
        starts.push_back({one.id, text(one.name), one.words.empty() ? text(one.name) : listed(text(one.words)), one.own,
                          [sample, start = one.start] {
                              work::Work shown = sample;
                              work::useFinish(shown, start);
                              return shown;
                          },
                          over ? Section::tr("Add layers") : Section::tr("Finish"),
                          [over, start = one.start](work::Work& w) { work::useFinish(w, start, over); }});
    return starts;
}

}  // namespace

QWidget* finishStarts(const Context& context)
{
    auto* adds = new QCheckBox(Section::tr("Add"));
    adds->setObjectName("finish.starts.adds");
    adds->setToolTip(Section::tr("Its layers come over those that are there, instead of in their place"));
    auto* row = new KeptStarts(
        context,
        {"finish",
         [context, adds](base::Notes& notes) { return finishesFor(context, adds, notes); },
         [context](const std::string& name) {
             return files::keepFinish(files::ownFinishFolder(), name, work::finishStartOf(context.session->work()))
                 .map([](const files::NamedFinish& kept) { return kept.name; });
         },
         files::ownFinishFolder(),
         {Section::tr("Finishes..."), Section::tr("Layers that go together, on your own first letter; all of them can be changed after"),
          Section::tr("Keeps all layers as they are by a name, for other works"), Section::tr("Finishes"),
          Section::tr("A finish was left out: %1"), Section::tr("Forget this finish"), Section::tr("Keep this finish"),
          Section::tr("Its name; a finish of yours with the same name is replaced"), Section::tr("\"%1\" is among the finishes"),
          Section::tr("Only finishes you kept can be forgotten"), Section::tr("\"%1\" is forgotten")}});
    row->addBeside(adds);
    return row;
}

}  // namespace app
