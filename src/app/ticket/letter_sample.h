// Small pictures of the designer's own first letter, for choosing forms and materials by.
#pragma once

#include <QIcon>
#include <QImage>
#include <QListWidget>

#include "base/progress.h"
#include "work/work.h"

namespace app {

inline constexpr int kSampleSide = 84;  // px a side

// A sheet with the first letter of a piece, or all of it where it has no letters, in its form and material, seen a little from the side.
work::Work sampleOf(const work::Work& work, const work::Piece& piece);
// Its picture, `side` px a side; empty when it was stopped or could not be made. Some 0.2 s at kSampleSide, on all threads.
QImage renderedSample(work::Work sample, int side, const base::Progress& progress);
// The same kept on disk, beside what else can be made again, and taken from there.
QImage keptSample(const work::Work& sample, int side, const base::Progress& progress);
inline constexpr qsizetype kMostKeptSamples = 3000;  // some 10 kB each
QString sampleFolder();
// Where there are more than so many, a quarter goes: those that were not used for the longest time.
void forgetOldSamples(qsizetype most);
// As many px as kSampleSide is on this widget's screen.
int sampleSideOn(const QWidget& widget);
// The same where it is marked: a tint would change its colours.
QIcon sampleIcon(const QImage& picture);
// A list of samples side by side, with their names under them.
void arrangeSamples(QListWidget& list);
// While there is none.
QIcon blankSample();

}  // namespace app
