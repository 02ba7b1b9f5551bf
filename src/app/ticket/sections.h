// The sections of the ticket, each filled with its rows.
#pragma once

#include "app/ticket/section.h"

namespace app {

class Finals;

// For what is chosen.
Section* letteringSection(const Context& context);
Section* formSection(const Context& context);
Section* materialSection(const Context& context);

// For the whole work.
Section* sheetSection(const Context& context);
Section* groundSection(const Context& context);
Section* viewSection(const Context& context);
Section* lightSection(const Context& context);
Section* finishSection(const Context& context);
Section* exportSection(const Context& context, Finals* finals);

// Sheets to start from: screen, social, poster, wallpaper.
struct SheetPreset {
    QString name;
    work::SheetSize sheet;
};
std::vector<SheetPreset> sheetPresets();                           // those that ship, then the person's own
void fillWithSheets(QComboBox* list, const work::SheetSize& now);  // with them, at the one that is `now`, if one is
void keepOwnSheet(const QString& name, const work::SheetSize& sheet);

}  // namespace app
