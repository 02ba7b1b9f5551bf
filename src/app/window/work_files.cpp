#include "app/window/work_files.h"
#include "app/window/artwork_files.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>
#include <QRandomGenerator>
#include <QRegularExpression>
#include <QSettings>
#include <QStandardPaths>

#include "files/work_file.h"
#include "session/places.h"

namespace app {

namespace {

constexpr int kMostKept = 10;

QString demoPath(const QString& name)
{
    // Beside an installed program, else in the source it was built from.
    const QString file = "/" + name + ".openglow";
    const QString installed = QCoreApplication::applicationDirPath() + "/../share/open-glow/demo" + file;
    return QFileInfo::exists(installed) ? installed : OPEN_GLOW_DEMO + file;
}

}  // namespace

WorkFiles::WorkFiles(session::Session* session, std::function<std::optional<picture::Raster<std::uint8_t>>()> preview, QWidget* window)
    : QObject(window), m_session(session), m_preview(std::move(preview)), m_window(window), m_recovery(session::stateFolder() + "/unsaved")
{
    connect(&m_background, &Background::failed, this, &WorkFiles::say);
}

QString WorkFiles::title() const
{
    if (!m_session->path().empty())
        return QFileInfo(QString::fromStdString(m_session->path())).completeBaseName();
    return m_name.isEmpty() ? tr("Untitled") : m_name;
}

void WorkFiles::take(work::Work work, const QString& path, bool changed)
{
    m_name.clear();
    m_session->open(std::move(work), path.toStdString(), changed);
    markOpen(path);
    if (!changed)
        m_recovery.forget();
    if (!path.isEmpty())
        remember(path);
    Q_EMIT titleChanged();
}

void WorkFiles::start(const QString& path)
{
    QSettings settings;
    const bool first = !settings.value("started", false).toBool();
    settings.setValue("started", true);
    if (!path.isEmpty()) {
        open(path);
        return;
    }
    if (openLeft())
        return;
    if (!first && !recent().isEmpty() && QFileInfo::exists(recent().front()))
        open(recent().front());
    else
        openDemo();
}

bool WorkFiles::openLeft()
{
    const std::vector<session::LeftWork> left = m_recovery.left();
    for (const session::LeftWork& l : left) {
        auto work = session::Recovery::open(l);
        if (!work)
            continue;  // it stays where it is
        const QString original = QString::fromStdString(l.original);
        take(std::move(*work), original, true);
        if (original.isEmpty())
            m_name = tr("Unsaved work");
        // Kept as this program's own before the old copy goes.
        m_recovery.keep(m_session->work(), l.original);
        m_recovery.flush();
        session::Recovery::drop(l);
        const auto more = static_cast<int>(left.size()) - 1;
        Q_EMIT say(tr("The program ended unsaved last time; this is the work as it was. Save it to keep it.") +
                   (more > 0 ? tr(" %n more will open at the next starts.", nullptr, more) : QString()));
        Q_EMIT titleChanged();
        return true;
    }
    return false;
}

void WorkFiles::newWork(const work::SheetSize& sheet)
{
    take(work::emptyWork(sheet, QRandomGenerator::global()->bounded(work::kColourPairs)), {}, false);
}

void WorkFiles::newFrom(work::Work work)
{
    take(std::move(work), {}, false);
}

std::vector<std::pair<QString, QString>> WorkFiles::demos()
{
    return {{"main-poster", tr("Main poster")},
            {"pilots-badge", tr("Pilots' badge")},
            {"kite-workshop", tr("Children's workshop")},
            {"seven-days", tr("Seven days")},
            {"shop-sign", tr("Shop sign")},
            {"printed-sails", tr("Printed sails")},
            {"after-dark", tr("After dark")},
            {"calm", tr("Calm")},
            {"fair-day", tr("Fair day, finished")}};
}

void WorkFiles::openDemo(const QString& name)
{
    auto work = files::openWork(demoPath(name).toStdString());
    if (!work) {
        newWork({});
        return;
    }
    take(std::move(*work), {}, false);
    for (const auto& [file, title] : demos())
        if (file == name)
            m_name = tr("Demo: %1").arg(title.toLower());
    Q_EMIT titleChanged();
}

void WorkFiles::open(const QString& path)
{
    const QString absolute = QFileInfo(path).absoluteFilePath();
    Q_EMIT say(tr("Opening %1...").arg(QFileInfo(path).fileName()));
    struct Opened {
        base::Notes mended;
        base::Result<work::Work> work;
    };
    m_background.run(
        [file = absolute.toStdString()](const base::Progress&) {
            auto opened = std::make_shared<Opened>();
            opened->work = files::openWork(file, &opened->mended);
            return opened;
        },
        [this, absolute](const std::shared_ptr<Opened>& opened) {
            if (!opened->work) {
                Q_EMIT say(QString::fromStdString(base::oneLine(opened->work.error())));
                return;
            }
            take(std::move(*opened->work), absolute, false);
            QStringList sentences;
            bool isNewer = false;
            for (const base::Note& note : opened->mended) {
                isNewer = isNewer || note.kind == "newer";
                if (sentences.size() < 2 && note.kind != "newer")
                    sentences << QString::fromStdString(note.message);
            }
            if (isNewer)
                Q_EMIT say(tr("Some of this work was made by a newer version: it is kept and saved again, but it is not in the picture"));
            else if (!sentences.isEmpty())
                Q_EMIT say(tr("This work was mended: %1. Save it to keep it so.").arg(sentences.join("; ")));
            else if (!m_open)
                Q_EMIT say(tr("This work is open in another window as well; what is saved last stays"));
            else
                Q_EMIT say({});
        });
}

void WorkFiles::openByDialog()
{
    if (!mayLeave())
        return;
    const QString folder = m_session->path().empty() ? QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation)
                                                     : QFileInfo(QString::fromStdString(m_session->path())).path();
    const QString path = QFileDialog::getOpenFileName(
        m_window, tr("Open a work"), folder,
        tr("Works and artwork (*.openglow *.svg *.svgz *.pdf *.png *.jpg *.jpeg *.tif *.tiff);;Works (*.openglow)"));
    if (ArtworkFiles::isArtwork(path)) {
        newWork(m_session->work().sheet());
        Q_EMIT artworkWanted(path);
    } else if (!path.isEmpty()) {
        open(path);
    }
}

bool WorkFiles::save()
{
    if (m_session->path().empty())
        return saveAs();
    saveTo(QString::fromStdString(m_session->path()));
    return true;
}

// The file's name, or what the work says.
QString WorkFiles::proposedName() const
{
    QString name = title();
    const auto& pieces = m_session->work().pieces;
    if (m_session->path().empty() && m_name.isEmpty() && !pieces.order.empty())
        name = QString::fromStdString(session::titleOf(pieces.items.at(pieces.order.front())));
    name.replace(QRegularExpression("[^\\w -]", QRegularExpression::UseUnicodePropertiesOption), "");
    return name.simplified().isEmpty() ? tr("Untitled") : name.simplified().left(60);
}

bool WorkFiles::saveAs()
{
    const QString folder = m_session->path().empty() ? QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation)
                                                     : QFileInfo(QString::fromStdString(m_session->path())).path();
    QString path =
        QFileDialog::getSaveFileName(m_window, tr("Save the work"), folder + "/" + proposedName() + ".openglow", tr("Works (*.openglow)"));
    if (path.isEmpty())
        return false;
    if (QFileInfo(path).suffix().isEmpty())
        path += ".openglow";
    saveTo(path);
    return true;
}

void WorkFiles::saveTo(const QString& path)
{
    const QString absolute = QFileInfo(path).absoluteFilePath();
    auto work = std::make_shared<work::Work>(m_session->work());
    m_background.run([work, file = absolute.toStdString(),
                      preview = m_preview()](const base::Progress&) { return files::saveWork(*work, file, preview); },
                     [this, work, absolute](const base::Result<void>& done) {
                         if (!done) {
                             Q_EMIT say(QString::fromStdString(base::oneLine(done.error())));
                             return;
                         }
                         m_session->saved(absolute.toStdString(), *work);
                         markOpen(absolute);
                         keep();
                         remember(absolute);
                         Q_EMIT say(tr("Saved %1").arg(absolute));
                         Q_EMIT titleChanged();
                     });
}

void WorkFiles::markOpen(const QString& path)
{
    m_open.reset();
    if (path.isEmpty())
        return;
    const QString canonical = QFileInfo(path).canonicalFilePath();
    if (auto lock = session::lockOf((canonical.isEmpty() ? path : canonical).toStdString()))
        m_open = std::move(*lock);
}

QStringList WorkFiles::recent() const
{
    return QSettings().value("recent").toStringList();
}

void WorkFiles::remember(const QString& path)
{
    QStringList paths = recent();
    paths.removeAll(path);
    paths.prepend(path);
    while (paths.size() > kMostKept)
        paths.removeLast();
    QSettings().setValue("recent", paths);
}

bool WorkFiles::mayLeave()
{
    m_background.waitForDone();
    QCoreApplication::sendPostedEvents(&m_background);
    if (!m_session->isChanged())
        return true;
    QMessageBox box(QMessageBox::NoIcon, tr("Unsaved changes"), tr("%1 has changes that are not saved.").arg(title()),
                    QMessageBox::NoButton, m_window);
    box.setObjectName("leave");
    auto* save = box.addButton(tr("&Save"), QMessageBox::AcceptRole);
    save->setObjectName("leave.save");
    auto* drop = box.addButton(tr("&Close without saving"), QMessageBox::DestructiveRole);
    drop->setObjectName("leave.drop");
    auto* stay = box.addButton(tr("&Go back"), QMessageBox::RejectRole);
    stay->setObjectName("leave.stay");
    box.setDefaultButton(save);
    box.exec();
    if (box.clickedButton() == stay || !box.clickedButton())
        return false;
    if (box.clickedButton() == drop) {
        m_recovery.forget();
        return true;
    }
    if (!this->save())
        return false;
    m_background.waitForDone();
    QCoreApplication::sendPostedEvents(&m_background);
    return !m_session->isChanged();
}

void WorkFiles::keep()
{
    if (const auto fault = m_recovery.takeFault())
        Q_EMIT say(QString::fromStdString(base::oneLine(*fault)));
    if (m_session->isChanged())
        m_recovery.keep(m_session->work(), m_session->path());
    else
        m_recovery.forget();
}

}  // namespace app
