// What a killed program leaves behind, and finals on disk.
#include <QDirIterator>
#include <QImage>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>
#include <sys/wait.h>
#include <unistd.h>

#include "files/texture_file.h"
#include "files/work_file.h"
#include "session/finals.h"
#include "session/recovery.h"
#include "support/registered.h"

namespace {

work::Work kites(const std::string& text)
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {160, 90, work::Unit::Px, 72});
}

}  // namespace

class TestRecovery : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aKilledProgramLeavesItsWork()
    {
        const QTemporaryDir folder;
        const std::string path = folder.path().toStdString();
        int ready[2];
        QVERIFY(pipe(ready) == 0);
        const pid_t child = fork();
        if (child == 0) {
            session::Recovery recovery(path);
            recovery.keep(kites("OLD"), "/tmp/kite.openglow");
            recovery.keep(kites("KITE"), "/tmp/kite.openglow");
            recovery.flush();
            (void)!write(ready[1], "x", 1);
            pause();
            _exit(1);
        }
        char byte = 0;
        QVERIFY(read(ready[0], &byte, 1) == 1);
        session::Recovery other(path);
        QVERIFY(other.left().empty());  // it still runs
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        const auto left = other.left();
        QCOMPARE(left.size(), std::size_t{1});
        QCOMPARE(left[0].original, std::string("/tmp/kite.openglow"));
        const auto work = session::Recovery::open(left[0]);
        QVERIFY(work && *work == kites("KITE"));
        session::Recovery::drop(left[0]);
        QVERIFY(other.left().empty());
    }

    // The pictures on its materials come back, and are seen.
    void picturesComeBack()
    {
        const QTemporaryDir folder;
        QImage image(6, 4, QImage::Format_RGB888);
        image.fill(QColor(200, 40, 30));
        const QString file = folder.filePath("sail.png");
        QVERIFY(image.save(file));
        work::Work work = kites("KITE");
        std::string name;
        {
            const auto picture = files::readPictureFile(file.toStdString(), {});
            QVERIFY(picture.has_value());
            name = work::addPicture(work, *picture);
            work::layPicture(work.pieces.items.at("p1").material.piece, name, 50);
        }
        const std::string path = folder.filePath("left").toStdString();
        int ready[2];
        QVERIFY(pipe(ready) == 0);
        const pid_t child = fork();
        if (child == 0) {
            session::Recovery recovery(path);
            recovery.keep(work, {});
            recovery.flush();
            (void)!write(ready[1], "x", 1);
            pause();
            _exit(1);
        }
        char byte = 0;
        QVERIFY(read(ready[0], &byte, 1) == 1);
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        const auto left = session::Recovery(path).left();
        QCOMPARE(left.size(), std::size_t{1});
        const auto opened = session::Recovery::open(left[0]);
        QVERIFY(opened && *opened == work && opened->assets.at(name).texture);
        QCOMPARE(opened->assets.at(name).texture->width(), 6);
    }

    void anOrderlyEndLeavesNothing()
    {
        const QTemporaryDir folder;
        {
            session::Recovery recovery(folder.path().toStdString());
            recovery.keep(kites("KITE"), {});
            recovery.flush();
            QVERIFY(QDirIterator(folder.path(), {"work.json"}, QDir::Files, QDirIterator::Subdirectories).hasNext());
            recovery.forget();
            QVERIFY(!QDirIterator(folder.path(), QDir::Files, QDirIterator::Subdirectories).hasNext());
            recovery.keep(kites("FAIR"), {});
        }
        QVERIFY(QDir(folder.path()).isEmpty());
    }

    // A drag writes a new work many times a second: the copy waits for quiet, but no longer than the latest moment, and packs a font once.
    void copiesWaitForQuiet()
    {
        const QTemporaryDir folder;
        session::Recovery recovery(folder.path().toStdString());
        work::Work work = kites("KITE");
        work.pieces.items.at("p1").lettering()->font.asset = "fonts/large";
        work.assets["fonts/large"].bytes = std::make_shared<const outline::Bytes>(1 << 20);
        QElapsedTimer clock;
        clock.start();
        int edits = 0;
        while (clock.elapsed() < 2000) {
            work.view().walk = ++edits;
            recovery.keep(work, {});
            QTest::qSleep(10);
        }
        recovery.flush();
        const auto elapsed = clock.elapsed();
        QVERIFY2(recovery.writings() <= elapsed / session::Recovery::kLatest.count() + 2, qPrintable(QString::number(recovery.writings())));
        QVERIFY(recovery.writings() >= 2);  // it never waits for ever
        QCOMPARE(recovery.assetBytes(), std::uint64_t{1 << 20});
    }

    // Copies of the version before are found and opened as well.
    void copiesOfTheVersionBeforeOpen()
    {
        const QTemporaryDir folder;
        QVERIFY(files::saveWork(kites("OLD"), folder.filePath("a.openglow").toStdString()).has_value());
        QFile original(folder.filePath("a.txt"));
        QVERIFY(original.open(QIODevice::WriteOnly) && original.write("/tmp/old.openglow") > 0);
        original.close();
        session::Recovery recovery(folder.path().toStdString());
        const auto left = recovery.left();
        QCOMPARE(left.size(), std::size_t{1});
        QCOMPARE(left[0].original, std::string("/tmp/old.openglow"));
        QVERIFY(*session::Recovery::open(left[0]) == kites("OLD"));
        session::Recovery::drop(left[0]);
        QVERIFY(recovery.left().empty());
    }

    // Files and folders that another process is at work on are left to it; within a process a lock is shared.
    void locksAreSeenByOthers()
    {
        const QTemporaryDir folder;
        const session::FinalStore store(folder.filePath("finals").toStdString());
        auto made = store.create(kites("KITE"), {{{}, work::FileFormat::Png16, 0, true, true, {64, 0, 1.5}}, 320, 180, 7, "/tmp/kite.png"});
        QVERIFY(made.has_value());
        int ready[2];
        QVERIFY(pipe(ready) == 0);
        const pid_t child = fork();
        if (child == 0) {
            const auto lock = base::FileLock::take(made->folder);
            (void)!write(ready[1], "x", 1);
            pause();
            _exit(lock ? 0 : 1);
        }
        char byte = 0;
        QVERIFY(read(ready[0], &byte, 1) == 1);
        QVERIFY(store.all().empty());
        store.remove(made->folder);
        QVERIFY(QDir(QString::fromStdString(made->folder)).exists());
        QCOMPARE(base::FileLock::take(made->folder).error().code, base::ErrorCode::Busy);
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        const auto first = base::FileLock::take(made->folder), second = base::FileLock::take(made->folder);
        QVERIFY(first && second && *first == *second);
        QCOMPARE(store.all().size(), std::size_t{1});
    }

    void aFullDiskIsSaid()
    {
        session::Recovery recovery("/proc/no-such-folder");
        recovery.keep(kites("KITE"), {});
        recovery.flush();
        const auto fault = recovery.takeFault();
        QVERIFY(fault && fault->code == base::ErrorCode::CannotWrite);
        QVERIFY(!recovery.takeFault());
    }

    void finalsAreKept()
    {
        const QTemporaryDir folder;
        const session::FinalStore store(folder.filePath("finals").toStdString());
        const session::FinalSettings settings{
            {{}, work::FileFormat::Png16, 0, true, true, {64, 0, 1.5}}, 320, 180, 7, "/tmp/kite \xC3\xA4.png"};
        auto made = store.create(kites("KITE"), settings);
        QVERIFY(made.has_value());
        made->samples = 12;
        QVERIFY(store.update(*made).has_value());
        const auto all = store.all();
        QCOMPARE(all.size(), std::size_t{1});
        QVERIFY(all[0].settings == settings);
        QVERIFY(all[0].work == kites("KITE"));
        QCOMPARE(all[0].samples, 12.0);
        QVERIFY(session::FinalStore::bytesOf(all[0]) > 100);
        // A broken one is passed over, a strange folder is not removed.
        QVERIFY(QFile(QString::fromStdString(made->folder + "/final.json")).resize(10));
        QVERIFY(store.all().empty());
        store.remove(folder.path().toStdString());
        QVERIFY(QDir(folder.path()).exists());
        store.remove(made->folder);
        QVERIFY(!QDir(QString::fromStdString(made->folder)).exists());
    }
};

OPEN_GLOW_TEST(TestRecovery)
#include "test_recovery.moc"
