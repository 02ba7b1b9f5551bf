// Rows for the pictures that lie on a material.
#pragma once

#include "app/ticket/section.h"

namespace app {

// A group of them. `part`: the material is a part's or a letter's, not that of wall or floor.
void addPictureRows(Rows* rows, const Rows::Reach<work::Material>& reach, const Context& context, bool part);

// One row, of a picture that lies elsewhere: `of` names its asset in a work.
void addPictureRow(Rows* rows, const QString& id, const QString& label, const QString& what, const Context& context,
                   std::function<std::string&(work::Work&)> of, Rows::When when);

// A small picture of an asset; nothing where it cannot be shown.
QImage smallPicture(const work::Work& work, const std::string& asset, int side);

}  // namespace app
