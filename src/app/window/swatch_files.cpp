#include "app/window/swatch_files.h"

#include <QFileDialog>
#include <QFileInfo>

#include "files/swatch_file.h"
#include "session/edits.h"

namespace app {

SwatchFiles::SwatchFiles(session::Session* session, QWidget* parent) : QObject(parent), m_session(session), m_window(parent) {}

bool SwatchFiles::isSwatchFile(const QString& path)
{
    const QString ending = QFileInfo(path).suffix().toLower();
    return ending == "gpl" || ending == "css" || ending == "txt";
}

QString SwatchFiles::ask(const QString& title) const
{
    return QFileDialog::getOpenFileName(m_window, title, {}, tr("Colours (*.gpl *.css *.svg *.txt);;All files (*)"));
}

void SwatchFiles::add(const QString& path)
{
    const auto swatches = files::readSwatches(path.toStdString());
    if (!swatches) {
        Q_EMIT say(QString::fromStdString(base::oneLine(swatches.error())));
        return;
    }
    int added = 0;
    m_session->edit(tr("Add swatches").toStdString(), [&](work::Work& w) { added = session::addSwatches(w, *swatches); });
    Q_EMIT say(added == 0   ? tr("The work has all colours of %1 as swatches already").arg(QFileInfo(path).fileName())
               : added == 1 ? tr("One swatch added; every colour field offers it")
                            : tr("%1 swatches added; every colour field offers them").arg(added));
}

void SwatchFiles::addByDialog()
{
    if (const QString path = ask(tr("Add swatches from a file")); !path.isEmpty())
        add(path);
}

void SwatchFiles::exchange(const QString& path)
{
    if (m_session->work().swatches.order.empty()) {
        Q_EMIT say(tr("The work has no swatches yet: make some in a colour field, then everything that follows them can be exchanged"));
        return;
    }
    const auto swatches = files::readSwatches(path.toStdString());
    if (!swatches) {
        Q_EMIT say(QString::fromStdString(base::oneLine(swatches.error())));
        return;
    }
    const int all = static_cast<int>(m_session->work().swatches.order.size());
    int changed = 0;
    m_session->edit(tr("Exchange swatches").toStdString(), [&](work::Work& w) { changed = session::exchangeSwatches(w, *swatches); });
    Q_EMIT say(changed == 0 ? tr("The swatches have the colours of %1 already").arg(QFileInfo(path).fileName())
                            : tr("%1 of %2 swatches have another colour now, and all that follows them").arg(changed).arg(all));
}

void SwatchFiles::exchangeByDialog()
{
    if (const QString path = ask(tr("Exchange the work's swatches for a file's")); !path.isEmpty())
        exchange(path);
}

}  // namespace app
