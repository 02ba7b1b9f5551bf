// Files are replaced whole or not at all.
#include <fcntl.h>
#include <sys/file.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>

#include "base/file.h"
#include "base/hash.h"
#include "support/registered.h"

class TestFile : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::string path(const char* name) { return m_folder.filePath(name).toStdString(); }
    QStringList leftovers() { return QDir(m_folder.path()).entryList({"*.part"}, QDir::Files | QDir::Hidden); }
    static std::string read(const std::string& path)
    {
        const auto bytes = base::readFile(path);
        return bytes ? std::string(bytes->begin(), bytes->end()) : "cannot";
    }
    static mode_t modeOf(const std::string& path)
    {
        struct stat status {};
        return stat(path.c_str(), &status) == 0 ? status.st_mode & 07777 : 0;
    }

private Q_SLOTS:
    void aNewFileIsAsUmaskLeavesIt()
    {
        const mode_t before = umask(027);
        QVERIFY(base::replaceFile(path("new"), "one").has_value());
        umask(before);
        QCOMPARE(modeOf(path("new")), mode_t{0640});
        QCOMPARE(read(path("new")), "one");
        QVERIFY(leftovers().isEmpty());
    }

    void rightsAndLinksAreKept()
    {
        QVERIFY(base::replaceFile(path("secret"), "one").has_value());
        chmod(path("secret").c_str(), 0600);
        symlink("secret", path("link").c_str());
        symlink(path("link").c_str(), path("link of a link").c_str());
        QVERIFY(base::replaceFile(path("link of a link"), "two").has_value());
        QCOMPARE(read(path("secret")), "two");
        QCOMPARE(modeOf(path("secret")), mode_t{0600});
        QVERIFY(QFileInfo(m_folder.filePath("link")).isSymLink());
        symlink("circle", path("circle").c_str());
        QVERIFY(!base::replaceFile(path("circle"), "x").has_value());
        symlink("nowhere yet", path("to be").c_str());
        QVERIFY(base::replaceFile(path("to be"), "three").has_value());
        QCOMPARE(read(path("nowhere yet")), "three");
    }

    // A device, a pipe, a folder stay what they are; a pipe is not waited for.
    void nothingButPlainFilesIsReplaced()
    {
        mkfifo(path("pipe").c_str(), 0600);
        QDir(m_folder.path()).mkdir("folder");
        for (const std::string& place :
             {path("pipe"), path("folder"), std::string("/dev/null"), std::string("/dev/full"), path("no/such/file")}) {
            const auto written = base::replaceFile(place, "x");
            QVERIFY2(!written.has_value(), place.c_str());
            QCOMPARE(written.error().code, base::ErrorCode::CannotWrite);
            QCOMPARE(written.error().place, place);
        }
        QVERIFY(S_ISFIFO([&] {
            struct stat s {};
            lstat(path("pipe").c_str(), &s);
            return s.st_mode;
        }()));
        QVERIFY(S_ISCHR([] {
            struct stat s {};
            lstat("/dev/null", &s);
            return s.st_mode;
        }()));
        QCOMPARE(base::readFile(path("pipe")).error().code, base::ErrorCode::CannotRead);
        QCOMPARE(base::readFile("/dev/zero").error().code, base::ErrorCode::CannotRead);
    }

    void aFullDiskIsNoticed()
    {
        QVERIFY(base::replaceFile(path("full"), "before").has_value());
        rlimit old{};
        getrlimit(RLIMIT_FSIZE, &old);
        signal(SIGXFSZ, SIG_IGN);
        const rlimit tight{1 << 14, old.rlim_max};
        setrlimit(RLIMIT_FSIZE, &tight);
        const auto written = base::replaceFile(path("full"), std::string(1 << 20, 'x'));
        setrlimit(RLIMIT_FSIZE, &old);
        QVERIFY(!written.has_value());
        QCOMPARE(read(path("full")), "before");
        QVERIFY(leftovers().isEmpty());
    }

    // What a killed process left goes at the next write to that place; what is being written stays, and so does what is not ours.
    void leftoversGo()
    {
        const auto put = [&](const char* name) { QFile(m_folder.filePath(name)).open(QIODevice::WriteOnly); };
        put(".k.png.0123abcd.part");
        put(".other.png.0123abcd.part");
        put(".k.png.being.part");
        symlink("/etc/hostname", path(".k.png.link.part").c_str());
        const int busy = ::open(path(".k.png.being.part").c_str(), O_RDWR);
        QCOMPARE(flock(busy, LOCK_EX | LOCK_NB), 0);
        QVERIFY(base::replaceFile(path("k.png"), "x").has_value());
        ::close(busy);
        QCOMPARE(leftovers(), (QStringList{".k.png.being.part", ".k.png.link.part", ".other.png.0123abcd.part"}));
        QVERIFY(QFile::exists("/etc/hostname"));
    }

    void writersThatAreGivenUpLeaveNothing()
    {
        QVERIFY(base::replaceFile(path("kept"), "old").has_value());
        {
            auto writer = base::FileWriter::open(path("kept"));
            QVERIFY(writer->write("new", 3) && writer->seek(1) && writer->write("E", 1));
            QCOMPARE(writer->tell(), std::int64_t{2});
            auto moved = std::move(*writer);
        }
        QCOMPARE(read(path("kept")), "old");
        QVERIFY(QDir(m_folder.path()).entryList({".kept*"}, QDir::Files | QDir::Hidden).isEmpty());
    }

    // XXH3's own value for the empty text (xxHash specification, 128 bits: 99aa06d3014798d86001c324468d497f).
    void contentsHaveNames()
    {
        QCOMPARE(base::contentName(std::string_view()), "99aa06d3014798d86001c324468d497f");
        QVERIFY(base::contentName("Regular") != base::contentName("Regulas"));
    }
};

OPEN_GLOW_TEST_WITH_EVENTS(TestFile)
#include "test_file.moc"
