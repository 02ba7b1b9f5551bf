// The sections of the ticket, each filled with its rows.
#pragma once

#include "app/ticket/section.h"

namespace app {

class FinalsDesk;

// For what is chosen.
Section* letteringSection(const Desk& desk);
Section* formSection(const Desk& desk);
Section* materialSection(const Desk& desk);

// For the whole work.
Section* sheetSection(const Desk& desk);
Section* groundSection(const Desk& desk);
Section* viewSection(const Desk& desk);
Section* lightSection(const Desk& desk);
Section* finishSection(const Desk& desk);
Section* exportSection(const Desk& desk, FinalsDesk* finals);

// Sheets to start from: screen, social, poster, wallpaper.
struct SheetPreset {
    QString name;
    work::SheetSize sheet;
};
std::vector<SheetPreset> sheetPresets();  // those that ship, then the person's own
void keepOwnSheet(const QString& name, const work::SheetSize& sheet);

}  // namespace app
