// Final renders and other exports, as the window knows them.
#pragma once

#include <QObject>
#include <map>

#include "app/window/background.h"
#include "session/render_queue.h"
#include "session/session.h"

namespace app {

class Finals : public QObject {
    Q_OBJECT

public:
    Finals(session::Session* session, session::RenderQueue* queue, QObject* parent = nullptr);

    struct Entry {
        session::Final final;
        session::FinalStatus status;
        std::uint64_t bytes = 0;  // on disk, when it is finished
    };

    // Where the next final goes; empty: a name from the work. What it will be is the work's own output.
    void setPath(const QString& path) { m_path = path; }
    QString path() const { return m_path.isEmpty() ? suggestedPath() : m_path; }
    // Another work is open: its exports do not go where the last one's went.
    void forgetPath();
    QString suggestedPath() const;  // of the output that is shown: by its pattern, and free
    int widthPx() const;
    int heightPx() const;

    void start();
    // All outputs of the sheet, one after the other; those of one size are rendered once.
    void startAll();
    // The last exports, of the work as it is now, to the files they went to.
    bool again();  // false where nothing was exported yet
    bool canRepeat() const { return !m_last.empty(); }
    void stop(const QString& folder, bool save);
    void goOn(const QString& folder);
    // Whether a finished one still has its samples and can be rendered on.
    static bool canGoFurther(const Entry& entry);
    // A finished one that is not clean: to twice the samples and time, or half the noise.
    void goFurther(const QString& folder);
    // A stopped one is saved as far as it is.
    void saveAsItIs(const QString& folder);
    void remove(const QString& folder);
    // Puts a finished one into the work, from where it can be opened wherever the work goes; in the background.
    void keepInWork(const QString& folder);
    void removeFromWork(const QString& asset);
    void saveMesh(const QString& path);
    void saveOutlines(const QString& path, std::vector<std::string> pieces);  // none: of all

    const std::vector<Entry>& entries() const { return m_entries; }
    // Of this work; and unfinished ones of works that were never saved, which would be lost from sight.
    bool isOwn(const Entry& entry) const;
    // Whether its grain is hardly seen, as far as the noise was told.
    static bool isClean(const session::FinalStatus& status);
    // Takes away finished and stopped ones of any work that are older. Returns how many.
    int removeOlderThan(int days);
    // Another work is open, or it has another name now.
    void takeOrigin(bool sameWork);
    // Finished pictures in the work, by the names of their assets.
    std::vector<QString> keptInWork() const;
    std::uint64_t bytesInWork(const QString& asset) const;
    bool running() const;

    void take(const session::FinalStatus& status);

Q_SIGNALS:
    void changed();
    void say(const QString& sentence);
    void saved(const QString& path);
    void finished(const QString& folder, const QString& sentence);  // it is on disk; `sentence` says how it is
    void deskWanted(const QString& folder);                         // a finished one, to be mixed
    void keptWanted(const QString& asset);                          // the same of one that the work keeps

private:
    void saveBehind(const QString& path, std::function<base::Result<void>(const base::Progress&)> save);
    session::FinalSettings settingsFor(const work::Output& output, const QString& path) const;
    QString pathOf(const work::Output& output) const;
    void repeatable(std::map<std::string, QString> exports);
    static QString free(const QString& path, const QStringList& taken = {});
    bool startWith(const session::FinalSettings& settings);

    session::Session* m_session;
    session::RenderQueue* m_queue;
    QString m_path;
    std::string m_origin;
    std::map<std::string, QString> m_last;  // by output: where it went
    std::string m_lastSheet;                // whose they are
    std::vector<Entry> m_entries;
    Background m_background;
};

}  // namespace app
