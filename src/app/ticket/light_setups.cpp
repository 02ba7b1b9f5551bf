#include "app/ticket/light_setups.h"

#include <QCheckBox>

#include "app/ticket/chosen.h"
#include "app/ticket/kept_starts.h"
#include "app/ticket/letter_sample.h"
#include "app/ticket/sample_panel.h"
#include "files/light_setup.h"

namespace app {

namespace {

std::vector<KeptStarts::Start> startsFor(const Context& context, QCheckBox* adds, base::Notes& notes)
{
    std::vector<KeptStarts::Start> starts;
    const work::Piece* piece = leadOrFirstPiece(context);
    if (!piece) {
        context.say(Section::tr("There is nothing to light yet: write something, or place artwork"));
        return starts;
    }
    const bool beside = adds->isChecked();
    const work::Work sample = sampleOf(context.session->work(), *piece);
    for (const files::NamedLightSetup& start : files::lightSetups(files::lightSetupFolders(), &notes))
        starts.push_back({start.id, text(start.name), start.words.empty() ? text(start.name) : listed(text(start.words)), start.own,
                          [sample, setup = start.setup] {
                              work::Work shown = sample;
                              work::useLightSetup(shown, setup);
                              return shown;
                          },
                          beside ? Section::tr("Add lights") : Section::tr("Light set-up"),
                          [beside, setup = start.setup](work::Work& w) { work::useLightSetup(w, setup, beside); }});
    return starts;
}

base::Result<std::string> keep(const Context& context, const std::string& name)
{
    return files::keepLightSetup(files::ownLightSetupFolder(), name, work::lightSetupOf(context.session->work()))
        .map([](const files::NamedLightSetup& kept) { return kept.name; });
}

}  // namespace

QWidget* lightSetups(const Context& context)
{
    auto* adds = new QCheckBox(Section::tr("Add"));
    adds->setObjectName("light.starts.adds");
    adds->setToolTip(Section::tr("Its lamps come beside those that are there, instead of in their place"));
    auto* row = new KeptStarts(
        context,
        {"light",
         [context, adds](base::Notes& notes) { return startsFor(context, adds, notes); },
         [context](const std::string& name) { return keep(context, name); },
         files::ownLightSetupFolder(),
         {Section::tr("Set-ups..."), Section::tr("Lamps that are set together, on your own first letter; all of them can be changed after"),
          Section::tr("Keeps all lamps as they are by a name, for other works"), Section::tr("Light set-ups"),
          Section::tr("A light set-up was left out: %1"), Section::tr("Forget this set-up"), Section::tr("Keep this light"),
          Section::tr("Its name; a set-up of yours with the same name is replaced"), Section::tr("\"%1\" is among the light set-ups"),
          Section::tr("Only set-ups you kept can be forgotten"), Section::tr("\"%1\" is forgotten")}});
    row->addBeside(adds);
    return row;
}

}  // namespace app
