// The window's clipboard: pieces and lights as a small work of their own, beside their text and, where asked for, the picture.
#include <QBuffer>
#include <QClipboard>
#include <QGuiApplication>
#include <QMimeData>

#include "app/picture/picture_view.h"
#include "app/window/artwork_files.h"
#include "app/window/main_window.h"
#include "files/work_file.h"
#include "session/clip.h"
#include "session/edits.h"

namespace app {

namespace {

const char* const kMime = "application/vnd.open-glow.work+zip";  // the bytes of an .openglow file, docs/format.md

// False with a message when it cannot be packed.
bool put(const work::Work& clip, QString& fault)
{
    const auto bytes = files::workBytes(clip, "the clipboard");
    if (!bytes) {
        fault = QString::fromStdString(base::oneLine(bytes.error()));
        return false;
    }
    auto* data = new QMimeData;
    data->setData(kMime, QByteArray(reinterpret_cast<const char*>(bytes->data()), static_cast<qsizetype>(bytes->size())));
    QStringList texts;
    for (const std::string& id : clip.pieces.order)
        if (const work::Lettering* lettering = clip.pieces.items.at(id).lettering())
            texts << QString::fromStdString(lettering->text);
    if (!texts.isEmpty())
        data->setText(texts.join('\n'));
    QGuiApplication::clipboard()->setMimeData(data);
    return true;
}

// An SVG or PDF as other programs copy it: as such, as its text, or as a file.
QByteArray artworkIn(const QMimeData& data)
{
    for (const char* type : {"image/svg+xml", "application/pdf"})
        if (data.hasFormat(type))
            return data.data(type);
    const QByteArray text = data.text().trimmed().toUtf8();
    return text.startsWith("<svg") || (text.startsWith("<?xml") && text.contains("<svg")) ? text : QByteArray();
}

}  // namespace

void MainWindow::copyPieces(bool cut)
{
    const std::vector<std::string> pieces = m_session.choice().pieces();
    if (pieces.empty()) {
        showMessage(tr("Choose a piece first: click it in the picture or in the list"));
        return;
    }
    QString fault;
    if (!put(session::clipOf(m_session.work(), pieces), fault)) {
        showMessage(fault);
        return;
    }
    if (cut)
        m_session.edit(tr("Cut").toStdString(), [&](work::Work& w) { session::remove(w, pieces); });
}

void MainWindow::copyLight(const std::string& id)
{
    if (QString fault; !put(session::clipOfLight(m_session.work(), id), fault))
        showMessage(fault);
}

void MainWindow::copyPicture()
{
    if (!m_picture->image().isNull())
        QGuiApplication::clipboard()->setImage(m_picture->image());
}

std::optional<work::Work> MainWindow::clip() const
{
    const QMimeData* there = QGuiApplication::clipboard()->mimeData();
    if (!there || !there->hasFormat(kMime))
        return std::nullopt;
    const QByteArray bytes = there->data(kMime);
    auto work = files::workFromBytes({bytes.begin(), bytes.end()}, "the clipboard");
    return work ? std::optional(std::move(*work)) : std::nullopt;
}

// Pieces and lights of a work, or a text, which becomes lettering.
void MainWindow::paste()
{
    const auto from = clip();
    const QMimeData* there = QGuiApplication::clipboard()->mimeData();
    if (there && !from)
        if (const QByteArray svg = artworkIn(*there); !svg.isEmpty()) {
            m_artwork->addBytes(svg, tr("Pasted.svg"));
            return;
        }
    // A picture alone is traced; beside words it only shows them.
    if (there && !from && there->hasImage() && !there->hasText()) {
        QByteArray png;
        QBuffer buffer(&png);
        if (qvariant_cast<QImage>(there->imageData()).save(&buffer, "PNG"))
            m_artwork->addBytes(png, tr("Pasted.png"));
        return;
    }
    const QString words = there && !from ? there->text().trimmed() : QString();
    if (!from && words.isEmpty()) {
        showMessage(tr("There is nothing to paste: copy pieces, a light or a text first"));
        return;
    }
    if (words.toUtf8().size() > static_cast<qsizetype>(work::kMostText)) {
        showMessage(tr("The text to paste is too long; a lettering has %1 bytes at most").arg(work::kMostText));
        return;
    }
    std::vector<std::string> ids;
    m_session.edit(tr("Paste").toStdString(), [&](work::Work& w) {
        ids = from ? session::paste(w, *from) : std::vector{session::addLettering(w, words.toStdString())};
    });
    if (ids.empty())
        return;
    session::Choice choice;
    for (const std::string& id : ids)
        choice.add({id, {}});
    m_session.choose(choice);
}

void MainWindow::pasteAspect(bool (*use)(work::Work&, const session::Choice&, const work::Work&), const QString& label)
{
    const auto from = clip();
    bool used = false;
    if (from && !m_session.choice().empty())
        m_session.edit(label.toStdString(), [&](work::Work& w) { used = use(w, m_session.choice(), *from); });
    if (!used)
        showMessage(tr("Copy a piece first, then choose what shall become like it"));
}

}  // namespace app
