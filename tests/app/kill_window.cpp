// Kills the window at random moments while somebody types, drags, saves and renders, and looks at what is left.
//
// usage: kill_window COUNT [SEED [MS]]
//
// After each kill: the saved work opens, what was unsaved is found and opens, and of what was done until MS (1000) before the kill
// nothing is missing. The next window goes on from there. Exit status 0 when that held every time.
#include <sys/types.h>

#include <QDateTime>
#include <QDir>
#include <QPlainTextEdit>
#include <QProcess>
#include <csignal>
#include <cstdio>
#include <random>

#include "app/driver.h"
#include "files/work_file.h"
#include "session/recovery.h"

namespace {

QString journal(const QString& home)
{
    return home + "/journal";
}

QString savedPath(const QString& home)
{
    return home + "/kite.openglow";
}

// The number of the last edit is the name of the first piece, so that a work tells how far it is.
int numberIn(const work::Work& work)
{
    return work.pieces.order.empty() ? -1 : QString::fromStdString(work.pieces.items.at(work.pieces.order.front()).name).toInt();
}

// Goes on until it is killed.
class Victim : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void works()
    {
        driver::Window w(driver::kites(), 2, {900, 640});
        w.window.files()->start(savedPath(driver::home()));
        if (!QTest::qWaitFor([&] { return w.session().path() == savedPath(driver::home()).toStdString(); }, 240000))
            return;
        std::mt19937 random(static_cast<unsigned>(QDateTime::currentMSecsSinceEpoch()));
        QFile log(journal(driver::home()));
        if (!log.open(QIODevice::WriteOnly | QIODevice::Append | QIODevice::Unbuffered))
            return;
        int number = numberIn(w.work());
        w.window.finals()->setPath(driver::path("still.png"));
        w.session().edit("width", [](work::Work& work) { work.output().widthPx = 400; });
        for (;;) {
            switch (random() % 8) {
            case 0:
                w.window.files()->saveTo(savedPath(driver::home()));
                break;
            case 1:
                if (!w.window.finals()->running())
                    w.window.finals()->start();
                break;
            case 2:
                w.trigger("edit.undo");
                w.trigger("edit.redo");
                break;
            case 3:
                if (auto* text = w.find<QPlainTextEdit>("lettering.text")) {
                    text->setFocus();
                    QTest::keyClicks(text, random() % 2 ? "A" : "\b");
                }
                break;
            default: {
                const QPointF from = w.letterPlace(0);
                if (from.x() >= 0)
                    w.drag(from, from + QPointF(static_cast<double>(random() % 60) - 30, static_cast<double>(random() % 40) - 20));
                break;
            }
            }
            ++number;
            w.session().edit("Name", [&](work::Work& now) { now.pieces.items.at(now.pieces.order.front()).name = std::to_string(number); });
            log.write(QByteArray::number(number) + " " + QByteArray::number(QDateTime::currentMSecsSinceEpoch()) + "\n");
            QTest::qWait(static_cast<int>(random() % 40));
        }
    }
};

// The last edit that must be there, and what is there: -1 and a sentence when something does not open.
int lastBefore(const QString& home, qint64 moment)
{
    QFile log(journal(home));
    int last = 0;
    if (log.open(QIODevice::ReadOnly))
        for (const QByteArray& line : log.readAll().split('\n'))
            if (const auto words = line.split(' '); words.size() == 2 && words[1].toLongLong() <= moment)
                last = std::max(last, words[0].toInt());
    return last;
}

int numberLeft(const QString& home, QString& wrong)
{
    const auto saved = files::openWork(savedPath(home).toStdString());
    if (!saved) {
        wrong = "the saved work: " + QString::fromStdString(base::oneLine(saved.error()));
        return -1;
    }
    int number = numberIn(*saved);
    const session::Recovery recovery((home + "/state/open-glow/unsaved").toStdString());
    for (const session::LeftWork& left : recovery.left()) {
        const auto work = session::Recovery::open(left);
        if (!work) {
            wrong = "an unsaved work: " + QString::fromStdString(base::oneLine(work.error()));
            return -1;
        }
        number = std::max(number, numberIn(*work));
    }
    return number;
}

int killAgainAndAgain(const QString& program, int count, unsigned seed, qint64 mayBeLost)
{
    QTemporaryDir folder;
    const QString home = folder.path();
    if (!files::saveWork(driver::kites(), savedPath(home).toStdString()))
        return 2;
    auto environment = QProcessEnvironment::systemEnvironment();
    environment.insert("OPEN_GLOW_TEST_HOME", home);
    std::mt19937 random(seed);
    int edits = 0;
    for (int i = 1; i <= count; ++i) {
        QProcess child;
        child.setProcessEnvironment(environment);
        child.setStandardOutputFile(QProcess::nullDevice());
        const qint64 began = QFileInfo(journal(home)).size();
        child.start(program, {"victim"});
        if (!child.waitForStarted())
            return 2;
        // From its first edit on.
        while (child.state() == QProcess::Running && QFileInfo(journal(home)).size() == began)
            child.waitForFinished(20);
        child.waitForFinished(200 + static_cast<int>(random() % 2500));
        if (child.state() != QProcess::Running) {
            std::fprintf(stderr, "kill %d: the window ended by itself\n", i);
            return 1;
        }
        ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
        const qint64 moment = QDateTime::currentMSecsSinceEpoch();
        child.waitForFinished();
        QString wrong;
        const int wanted = lastBefore(home, moment - mayBeLost), there = numberLeft(home, wrong);
        if (there < wanted) {
            std::fprintf(stderr, "kill %d: edit %d is there, edit %d was made long before it. %s\n", i, there, wanted, qPrintable(wrong));
            return 1;
        }
        edits = lastBefore(home, moment);
        // Numbers go on from what is there.
        QFile(journal(home)).resize(0);
        QFile log(journal(home));
        if (log.open(QIODevice::WriteOnly))
            log.write(QByteArray::number(there) + " 0\n");
    }
    std::printf("%d kills, %d edits: nothing was lost but the last %lld ms\n", count, edits, static_cast<long long>(mayBeLost));
    return 0;
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc > 1 && QByteArray(argv[1]) == "victim") {
        Victim victim;
        int one = 1;
        return driver::runTest(one, argv, victim);
    }
    if (argc < 2 || QByteArray(argv[1]).toInt() < 1) {
        std::fprintf(stderr, "usage: kill_window COUNT [SEED [MS]]\n");
        return 2;
    }
    return killAgainAndAgain(argv[0], QByteArray(argv[1]).toInt(), argc > 2 ? QByteArray(argv[2]).toUInt() : 1,
                             argc > 3 ? QByteArray(argv[3]).toInt() : 1000);
}

#include "kill_window.moc"
