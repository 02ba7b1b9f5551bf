#include "app/window/finals.h"

#include <fmt/format.h>

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QLocale>
#include <QStandardPaths>
#include <QUuid>

#include "base/file.h"
#include "files/mesh_file.h"
#include "files/still_file.h"
#include "session/kept_light.h"
#include "session/outputs.h"
#include "session/summary.h"
#include "work/piece_outlines.h"

namespace app {

using session::FinalStatus;

namespace {

constexpr double kClean = 2.5;  // noise that is hardly seen; above it the grain shows

}  // namespace

Finals::Finals(session::Session* session, session::RenderQueue* queue, QObject* parent)
    : QObject(parent), m_session(session), m_queue(queue)
{
    connect(&m_background, &Background::failed, this, &Finals::say);
    // What was left unfinished goes on when asked; what is finished can be mixed.
    for (session::Final& f : queue->store().all()) {
        FinalStatus status;
        status.folder = f.folder;
        status.state = f.finished ? FinalStatus::State::Finished : FinalStatus::State::Stopped;
        status.samples = f.samples;
        if (f.finished)
            status.saved = f.settings.out;
        const std::uint64_t bytes = f.finished ? session::FinalStore::bytesOf(f) : 0;
        m_entries.push_back({std::move(f), status, bytes});
    }
}

QString Finals::pathOf(const work::Output& output) const
{
    const QString work = QString::fromStdString(m_session->path());
    QString folder = work.isEmpty() ? QStandardPaths::writableLocation(QStandardPaths::PicturesLocation) : QFileInfo(work).path();
    if (!QFileInfo(folder).isWritable())
        folder = QDir::homePath();
    const std::string own = work.isEmpty() ? std::string() : QFileInfo(work).completeBaseName().toStdString();
    const std::string name = session::fileNameOf(m_session->work(), output, own, QDate::currentDate().toString(Qt::ISODate).toStdString());
    return folder + "/" + QString::fromStdString(name) + files::exporterOf(output.format).ending;
}

QString Finals::free(const QString& path, const QStringList& taken)
{
    const QFileInfo file(path);
    QString is = path;
    for (int i = 2; (QFileInfo::exists(is) || taken.contains(is)) && i < 1000; ++i)
        is = QString("%1/%2 %3.%4").arg(file.path(), file.completeBaseName()).arg(i).arg(file.suffix());
    return is;
}

QString Finals::suggestedPath() const
{
    return free(pathOf(m_session->work().output()));
}

// --- whose they are ----------------------------------------------------------------------------------------------------------------

namespace {

const std::string kUnsaved = "unsaved ";  // followed by a name of its own

}  // namespace

void Finals::takeOrigin(bool sameWork)
{
    const std::string before = m_origin;
    m_origin = m_session->path().empty() ? kUnsaved + QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString() : m_session->path();
    // What an unsaved work made stays with it when it gets its file.
    if (sameWork && before.starts_with(kUnsaved))
        for (Entry& e : m_entries)
            if (e.final.settings.origin == before) {
                e.final.settings.origin = m_origin;
                (void)m_queue->store().update(e.final);
            }
    Q_EMIT changed();
}

bool Finals::isOwn(const Entry& entry) const
{
    const std::string& origin = entry.final.settings.origin;
    return origin == m_origin || (!entry.final.finished && (origin.empty() || origin.starts_with(kUnsaved)));
}

bool Finals::isClean(const FinalStatus& status)
{
    return status.noise <= kClean;
}

int Finals::removeOlderThan(int days)
{
    QStringList folders;
    for (const Entry& e : m_entries) {
        const QString folder = QString::fromStdString(e.final.folder);
        if (QFileInfo(folder + "/final.json").lastModified().daysTo(QDateTime::currentDateTime()) >= days)
            folders << folder;
    }
    const std::size_t before = m_entries.size();
    for (const QString& folder : folders)
        remove(folder);
    return static_cast<int>(before - m_entries.size());
}

void Finals::forgetPath()
{
    m_path.clear();
    m_last.clear();
}

int Finals::widthPx() const
{
    return session::widthOf(m_session->work(), m_session->work().output());
}

int Finals::heightPx() const
{
    return session::heightOf(m_session->work(), m_session->work().output());
}

bool Finals::startWith(const session::FinalSettings& settings)
{
    if (settings.output.stop == render::StopRule{0, 0, 0}) {
        Q_EMIT say(tr("Say in the Export section when the final should stop: samples, noise or time"));
        return false;
    }
    if (const auto can = files::exporterFor(settings.out, settings.output.format); !can) {
        Q_EMIT say(QString::fromStdString(base::oneLine(can.error())));
        return false;
    }
    const QString folder = QFileInfo(QString::fromStdString(settings.out)).path();
    if (!QFileInfo(folder).isDir() || !QFileInfo(folder).isWritable()) {
        Q_EMIT say(tr("Nothing can be saved in %1; choose another folder").arg(folder));
        return false;
    }
    auto made = m_queue->store().create(m_session->work(), settings);
    if (!made) {
        Q_EMIT say(QString::fromStdString(base::oneLine(made.error())));
        return false;
    }
    FinalStatus status;
    status.folder = made->folder;
    m_entries.insert(m_entries.begin(), {*made, status, 0});
    m_queue->startFinal(*made);
    Q_EMIT changed();
    return true;
}

session::FinalSettings Finals::settingsFor(const work::Output& output, const QString& path) const
{
    session::FinalSettings settings;
    settings.output = output;
    settings.widthPx = session::widthOf(m_session->work(), output);
    settings.heightPx = session::heightOf(m_session->work(), output);
    settings.out = path.toStdString();
    settings.origin = m_origin;
    return settings;
}

void Finals::start()
{
    const work::Sheet& sheet = m_session->work().shownSheet();
    const QString to = path();
    if (startWith(settingsFor(m_session->work().output(), to)))
        repeatable({{sheet.outputId(), to}});
}

void Finals::repeatable(std::map<std::string, QString> exports)
{
    m_last = std::move(exports);
    m_lastSheet = m_session->work().shown;
}

void Finals::startAll()
{
    const work::Sheet& sheet = m_session->work().shownSheet();
    std::map<std::string, QString> all;
    QStringList taken;
    for (const std::string& id : sheet.outputs.order) {
        const QString to = id == sheet.outputId() && !m_path.isEmpty() ? m_path : free(pathOf(sheet.outputs.items.at(id)), taken);
        if (!startWith(settingsFor(sheet.outputs.items.at(id), to)))
            break;
        taken << to;
        all[id] = to;
    }
    if (!all.empty())
        repeatable(std::move(all));
}

bool Finals::again()
{
    if (m_last.empty()) {
        Q_EMIT say(tr("There was no export yet: its file and size are chosen here"));
        return false;
    }
    const work::Sheet& sheet = m_session->work().shownSheet();
    bool some = false;
    for (const auto& [id, to] : m_lastSheet == m_session->work().shown ? m_last : decltype(m_last)())
        if (const auto output = sheet.outputs.items.find(id); output != sheet.outputs.items.end()) {
            some = true;
            if (!startWith(settingsFor(output->second, to)))
                return true;
        }
    if (!some)
        Q_EMIT say(tr("The last exports were of another sheet; show that, or render a final in the Export section"));
    return some;
}

void Finals::stop(const QString& folder, bool save)
{
    m_queue->stopFinal(folder.toStdString(), save);
}

void Finals::goOn(const QString& folder)
{
    for (Entry& e : m_entries)
        if (e.final.folder == folder.toStdString() &&
            (e.status.state == FinalStatus::State::Stopped || e.status.state == FinalStatus::State::Failed)) {
            e.status.state = FinalStatus::State::Waiting;
            repeatable({{m_session->work().shownSheet().outputId(), QString::fromStdString(e.final.settings.out)}});
            m_queue->startFinal(e.final);
        }
    Q_EMIT changed();
}

bool Finals::canGoFurther(const Entry& entry)
{
    return entry.status.state == FinalStatus::State::Finished && !files::LightFolder::isOne(entry.final.filmPath());
}

void Finals::goFurther(const QString& folder)
{
    for (Entry& e : m_entries)
        if (e.final.folder == folder.toStdString() && e.status.state == FinalStatus::State::Finished) {
            render::StopRule& stop = e.final.settings.output.stop;
            stop = {stop.samples * 2, stop.seconds * 2, stop.noise / 2};
            e.final.finished = false;
            e.status.state = FinalStatus::State::Waiting;
            e.status.saved.clear();
            m_queue->startFinal(e.final);
        }
    Q_EMIT changed();
}

void Finals::saveAsItIs(const QString& folder)
{
    for (Entry& e : m_entries)
        if (e.final.folder == folder.toStdString() && e.status.state == FinalStatus::State::Stopped) {
            e.status.state = FinalStatus::State::Waiting;
            m_queue->startFinal(e.final);
            m_queue->stopFinal(folder.toStdString(), true);
        }
    Q_EMIT changed();
}

void Finals::remove(const QString& folder)
{
    std::erase_if(m_entries, [&](const Entry& e) {
        const bool busy = e.status.state == FinalStatus::State::Running || e.status.state == FinalStatus::State::Waiting;
        if (e.final.folder != folder.toStdString() || busy)
            return false;
        m_queue->store().remove(e.final.folder);
        return true;
    });
    Q_EMIT changed();
}

void Finals::keepInWork(const QString& folder)
{
    const auto entry =
        std::find_if(m_entries.begin(), m_entries.end(), [&](const Entry& e) { return e.final.folder == folder.toStdString(); });
    if (entry == m_entries.end() || !entry->final.finished)
        return;
    Q_EMIT say(tr("Keeping the picture in the work..."));
    m_background.run(
        [final = entry->final](const base::Progress& progress) -> base::Result<outline::SharedBytes> {
            const auto light = session::KeptLight::open(final, progress);
            if (!light)
                return tl::unexpected<base::Error>(light.error());
            auto bytes = (*light)->bytes();
            if (!bytes)
                return tl::unexpected<base::Error>(bytes.error());
            return std::make_shared<const outline::Bytes>(std::move(*bytes));
        },
        [this, title = QFileInfo(QString::fromStdString(entry->final.settings.out)).completeBaseName()](
            const base::Result<outline::SharedBytes>& bytes) {
            if (!bytes) {
                Q_EMIT say(QString::fromStdString(base::oneLine(bytes.error())));
                return;
            }
            const auto nameOf = [&](int i) {
                return fmt::format("{}{}{}.exr", work::kKeptFolder, title.toStdString(), i > 1 ? fmt::format(" {}", i) : "");
            };
            int i = 1;
            while (m_session->work().assets.contains(nameOf(i)))
                ++i;
            m_session->edit(tr("Keep the picture").toStdString(), [&](work::Work& w) { w.assets[nameOf(i)].bytes = *bytes; });
            Q_EMIT say(tr("The work keeps the picture, %1; save the work to take it along")
                           .arg(QLocale().formattedDataSize(static_cast<qint64>((*bytes)->size()))));
            Q_EMIT changed();
        });
}

void Finals::removeFromWork(const QString& asset)
{
    m_session->edit(tr("Remove the kept picture").toStdString(), [&](work::Work& w) { w.assets.erase(asset.toStdString()); });
    Q_EMIT changed();
}

std::vector<QString> Finals::keptInWork() const
{
    std::vector<QString> names;
    for (const auto& [name, asset] : m_session->work().assets)
        if (work::isKeptPicture(name) && asset.bytes)
            names.push_back(QString::fromStdString(name));
    return names;
}

std::uint64_t Finals::bytesInWork(const QString& asset) const
{
    const auto kept = m_session->work().assets.find(asset.toStdString());
    return kept != m_session->work().assets.end() && kept->second.bytes ? kept->second.bytes->size() : 0;
}

bool Finals::running() const
{
    return std::any_of(m_entries.begin(), m_entries.end(), [](const Entry& e) {
        return e.status.state == FinalStatus::State::Running || e.status.state == FinalStatus::State::Waiting;
    });
}

void Finals::take(const FinalStatus& status)
{
    for (Entry& e : m_entries)
        if (e.final.folder == status.folder) {
            e.status = status;
            e.final.samples = status.samples;
            e.final.finished = status.state == FinalStatus::State::Finished;
        }
    // The store may have made room.
    if (status.state == FinalStatus::State::Finished) {
        for (Entry& e : m_entries)
            e.bytes = e.final.finished ? session::FinalStore::bytesOf(e.final) : 0;
        std::erase_if(m_entries, [](const Entry& e) { return e.final.finished && e.bytes == 0; });
    }
    if (status.error)
        Q_EMIT say(QString::fromStdString(base::oneLine(*status.error)));
    else if (!status.saved.empty()) {
        QString sentence = tr("Saved %1, %2 samples").arg(QString::fromStdString(status.saved)).arg(status.samples, 0, 'f', 0);
        if (!isClean(status))
            sentence += tr("; it is not clean yet, noise %1").arg(status.noise, 0, 'f', 1);
        Q_EMIT say(sentence);
        Q_EMIT saved(QString::fromStdString(status.saved));
        Q_EMIT finished(QString::fromStdString(status.folder), sentence);
    }
    Q_EMIT changed();
}

void Finals::saveMesh(const QString& path)
{
    Q_EMIT say(tr("Saving the meshes..."));
    saveBehind(path, [work = m_session->work(), path](const base::Progress& progress) -> base::Result<void> {
        work::Cache cache;
        const auto bodies = work::makeBodies(work, work::toleranceFor(work.sheet(), work.sheet().widthPx()), cache, progress);
        if (!bodies)
            return tl::unexpected(bodies.error());
        return files::saveMesh(work, *bodies, path.toStdString());
    });
}

void Finals::saveOutlines(const QString& path, std::vector<std::string> pieces)
{
    Q_EMIT say(tr("Saving the outlines..."));
    if (pieces.empty())
        pieces = m_session->work().pieces.order;
    saveBehind(path, [work = m_session->work(), path, pieces](const base::Progress&) -> base::Result<void> {
        work::Cache cache;
        const auto text = work::piecesAsSvg(work, pieces, cache);
        if (!text)
            return tl::unexpected(text.error());
        return base::replaceFile(path.toStdString(), *text);
    });
}

void Finals::saveBehind(const QString& path, std::function<base::Result<void>(const base::Progress&)> save)
{
    m_background.run(std::move(save), [this, path](const base::Result<void>& done) {
        Q_EMIT say(done ? tr("Saved %1").arg(path) : QString::fromStdString(base::oneLine(done.error())));
        if (done)
            Q_EMIT saved(path);
    });
}

}  // namespace app
