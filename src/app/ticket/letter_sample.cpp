#include "app/ticket/letter_sample.h"

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QSaveFile>
#include <QStandardPaths>
#include <QtMath>
#include <fmt/format.h>

#include "app/picture/raster_image.h"
#include "app/style.h"
#include "files/work_json.h"
#include "film/film.h"
#include "finish/develop.h"
#include "outline/text.h"
#include "work/fonts.h"
#include "work/make_still.h"
#include "work/surroundings.h"
#include "work/values.h"

namespace app {

work::Work sampleOf(const work::Work& work, const work::Piece& piece)
{
    work::SheetSize sheet;
    sheet.width = sheet.height = 2 * kSampleSide;
    std::string letter = "K";
    work::FontChoice font;
    if (const work::Lettering* lettering = piece.lettering()) {
        for (const outline::Grapheme& g : outline::graphemes(lettering->text))
            if (const std::string one = lettering->text.substr(g.begin, g.end - g.begin); one != " " && one != "\n") {
                letter = one;
                break;
            }
        font = lettering->font;
    }
    work::Work sample = work::newWork(letter, font, sheet);
    sample.assets = work.assets;
    work::Piece& shown = sample.pieces.items.begin()->second;
    if (piece.lettering())
        work::scaleTo(shown, sheet.heightPt());
    else
        shown.source = piece.source;
    const double size = piece.sizePt();
    work::Piece own = piece;
    if (size > 0)
        work::grow(own, shown.sizePt() / size);
    shown.form = own.form;
    shown.material = own.material;                      // patterns as large on it as on the piece
    work::dropUnusedAssets(sample);                     // what the work has besides makes no other sample
    if (work::isDullInEvenLight(shown.material.piece))  // metal is chosen for what it shows
        work::useSurroundings(sample, *work::readySurroundings(work::kFrontForMetal));
    sample.view().perspective = true;
    sample.view().walk = -24;
    sample.view().rise = 14;
    return sample;
}

QImage renderedSample(work::Work sample, int side, const base::Progress& progress)
{
    sample.ground.wallBehind = work::depthOf(sample.pieces.items.begin()->second.form);  // however deep, its front is where the sheet is
    work::StillSettings settings;
    settings.widthPx = settings.heightPx = side;
    settings.stop = {16, 0, 0};  // mirrors need more than the fewest
    work::Cache cache;
    const auto still = work::makeStill(sample, settings, cache, progress);
    if (!still)
        return {};
    return imageOf(finish::to8Bits(still->picture));
}

QImage keptSample(const work::Work& sample, int side, const base::Progress& progress)
{
    const std::string json = fmt::format("{} {} {} {}", QCoreApplication::applicationVersion().toStdString(), film::kRendererVersion, side,
                                         files::toJson(sample));
    const QByteArray key = QCryptographicHash::hash({json.data(), static_cast<qsizetype>(json.size())}, QCryptographicHash::Sha1).toHex();
    const QDir folder(sampleFolder());
    const QString path = folder.filePath(QString::fromLatin1(key) + ".png");
    if (QImage kept(path); !kept.isNull()) {
        QFile used(path);  // what is used stays
        if (used.open(QIODevice::ReadWrite))
            used.setFileTime(QDateTime::currentDateTime(), QFileDevice::FileModificationTime);
        return kept;
    }
    const QImage made = renderedSample(sample, side, progress);
    if (!made.isNull() && folder.mkpath(".")) {
        QSaveFile file(path);
        if (file.open(QIODevice::WriteOnly) && made.save(&file, "PNG"))
            file.commit();
        forgetOldSamples(kMostKeptSamples);
    }
    return made;
}

QString sampleFolder()
{
    return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/samples";
}

void forgetOldSamples(qsizetype most)
{
    QDir folder(sampleFolder());
    const QStringList names = folder.entryList({"*.png"}, QDir::Files, QDir::Time);  // the latest first
    if (names.size() > most)
        for (const QString& name : names.mid(most * 3 / 4))
            folder.remove(name);
}

int sampleSideOn(const QWidget& widget)
{
    return qCeil(kSampleSide * widget.devicePixelRatioF());
}

QIcon sampleIcon(const QImage& picture)
{
    QIcon icon;
    for (const QIcon::Mode mode : {QIcon::Normal, QIcon::Selected})
        icon.addPixmap(QPixmap::fromImage(picture), mode);
    return icon;
}

void arrangeSamples(QListWidget& list)
{
    list.setViewMode(QListView::IconMode);
    list.setMovement(QListView::Static);
    list.setResizeMode(QListView::Adjust);
    list.setWordWrap(true);
    list.setIconSize({kSampleSide, kSampleSide});
}

QIcon blankSample()
{
    QImage blank(kSampleSide, kSampleSide, QImage::Format_RGB888);
    blank.fill(colours().press);
    return sampleIcon(blank);
}

}  // namespace app
