#include <QFile>
#include <QTemporaryDir>
#include <QtTest>

#include <csignal>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include "film/film.h"
#include "film/merge.h"
#include "support/registered.h"

using film::Film;
using film::FilmShape;

namespace {

const FilmShape kShape{100, 70, 0, 0, 100, 70, {{"surroundings", film::EntryKind::Surroundings}, {"l1"}}};

}  // namespace

class TestFilm : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aFilmInAFileIsItsOwnCheckpoint()
    {
        const QTemporaryDir folder;
        const std::string path = folder.filePath("kite.film").toStdString();
        {
            auto film = Film::openFile(kShape, path, "work A");
            QVERIFY(film.has_value());
            std::vector<std::uint32_t> goal(100 * 70, 8);
            goal[5 * 100 + 70] = 12;
            (*film)->setGoal(goal);
            (*film)->beginRound(16);
            (*film)->beginTile(2);
            (*film)->targetAt(70, 5).colours[1][1] = {1, 2, 3};
            (*film)->targetAt(70, 5).halves[1]->alpha = 4;
            (*film)->endTile(2);
            (*film)->beginTile(1);  // as if killed here
            (*film)->targetAt(40, 5).colours[0][0] = {9, 9, 9};
        }
        auto film = Film::openFile(kShape, path, "work A");
        QVERIFY(film.has_value());
        QVERIFY((*film)->tileEnded(2) && !(*film)->tileEnded(1) && !(*film)->roundEnded());
        QCOMPARE((*film)->samplesAt(71, 5), 8u);
        QCOMPARE((*film)->samplesAt(70, 5), 12u);
        QCOMPARE((*film)->wantedAt(40, 5), 8u);
        QCOMPARE((*film)->at(70, 5).colours[1][1], (base::Rgb{1, 2, 3}));
        QCOMPARE((*film)->at(70, 5).halves[1]->alpha, 4.0f);
        QCOMPARE((*film)->samplesAt(40, 5), 0u);
        QCOMPARE((*film)->at(40, 5).colours[0][0], (base::Rgb{}));
        QCOMPARE((*film)->leastSamples(), 0u);
    }

    // Goals are reached in rounds; what a pixel has it keeps.
    void goalsAndRounds()
    {
        auto film = Film::create({40, 1, 0, 0, 40, 1, {}});
        QVERIFY(film.has_value());
        const auto finishRound = [&] {
            for (int tile = 0; tile < (*film)->tileCount(); ++tile) {
                (*film)->beginTile(tile);
                (*film)->endTile(tile);
            }
        };
        QVERIFY((*film)->goalReached());  // none is set
        std::vector<std::uint32_t> goal(40, 4);
        goal[35] = 20;
        (*film)->setGoal(goal);
        QVERIFY(!(*film)->goalReached());
        (*film)->beginRound(16);
        finishRound();
        QVERIFY(!(*film)->goalReached());
        QCOMPARE((*film)->samplesAt(35, 0), 16u);
        QCOMPARE((*film)->leastSamples(), 4u);
        QVERIFY(std::abs((*film)->meanSamples() - (39 * 4 + 16) / 40.0) < 1e-9);
        (*film)->beginRound(16);
        QCOMPARE((*film)->samplesAt(35, 0), 16u);  // not exposed yet
        finishRound();
        QCOMPARE((*film)->samplesAt(35, 0), 20u);
        QVERIFY((*film)->goalReached());
    }

    void aFilmFileTellsItsShape()
    {
        const QTemporaryDir folder;
        const std::string path = folder.filePath("kite.film").toStdString();
        FilmShape shape = kShape;
        shape.reach = 480;
        QVERIFY(Film::openFile(shape, path, "work A").has_value());
        const auto read = Film::readShape(path);
        QVERIFY(read.has_value());
        QCOMPARE(*read, shape);
        QVERIFY(QFile::resize(folder.filePath("kite.film"), 5000));
        QVERIFY(Film::readShape(path).error().code == base::ErrorCode::BadInput);
        QVERIFY(Film::readShape("/no/such/film").error().code == base::ErrorCode::CannotRead);
    }

    void anotherFileIsNeverOverwritten()
    {
        const QTemporaryDir folder;
        const QString path = folder.filePath("kite.film");
        QVERIFY(Film::openFile(kShape, path.toStdString(), "work A").has_value());
        for (const auto& [shape, key] : {std::pair{kShape, "work B"}, std::pair{FilmShape{100, 70, 0, 0, 100, 70, {{"l1"}}}, "work A"}}) {
            const auto other = Film::openFile(shape, path.toStdString(), key);
            QVERIFY(!other.has_value());
            QCOMPARE(other.error().place, path.toStdString());
        }
        const QString letter = folder.filePath("letter.txt");
        QFile file(letter);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("dear kite flyers");
        file.close();
        QVERIFY(!Film::openFile(kShape, letter.toStdString(), "work A").has_value());
        QVERIFY(file.open(QIODevice::ReadOnly));
        QCOMPARE(file.readAll(), QByteArray("dear kite flyers"));
        QVERIFY(!Film::openFile(kShape, folder.filePath("no/such/folder").toStdString(), "a").has_value());
    }

    // Devices, pipes and what belongs to others are refused as they are.
    void onlyFilesAreFilms()
    {
        const QTemporaryDir folder;
        const std::string pipe = folder.filePath("pipe").toStdString();
        QCOMPARE(mkfifo(pipe.c_str(), 0600), 0);
        for (const std::string& place : {pipe, std::string("/dev/null"), folder.path().toStdString()}) {
            QVERIFY(!Film::openFile(kShape, place, "work A").has_value());
            QVERIFY(!Film::readShape(place).has_value());
            QVERIFY(QFileInfo::exists(QString::fromStdString(place)));
        }
    }

    // Another process has it: both would write one film.
    void aFilmHasOneProcess()
    {
        const QTemporaryDir folder;
        const std::string path = folder.filePath("kite.film").toStdString();
        int ready[2];
        QCOMPARE(pipe(ready), 0);
        const pid_t child = fork();
        if (child == 0) {
            const auto film = Film::openFile(kShape, path, "work A");
            (void)!write(ready[1], "x", 1);
            pause();
            _exit(film ? 0 : 1);
        }
        char byte = 0;
        QVERIFY(read(ready[0], &byte, 1) == 1);
        QCOMPARE(Film::openFile(kShape, path, "work A").error().code, base::ErrorCode::Busy);
        QCOMPARE(Film::openToRead(path, "work A").error().code, base::ErrorCode::Busy);
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        QVERIFY(Film::openFile(kShape, path, "work A").has_value());
        QVERIFY(Film::openToRead(path, "work A").has_value());
        QCOMPARE(Film::openToRead(path, "work B").error().code, base::ErrorCode::BadInput);
    }

    // A film whose file is cut off while it is in use gives zeros and says so; without care the program would end (SIGBUS).
    void aFilmThatIsCutOffIsNoticed()
    {
        const QTemporaryDir folder;
        auto film = Film::openFile(kShape, folder.filePath("kite.film").toStdString(), "work A");
        QVERIFY(film.has_value() && !(*film)->isLost());
        QVERIFY(QFile::resize(folder.filePath("kite.film"), 4096));
        (*film)->targetAt(99, 69).halves[0]->alpha = 1;
        QCOMPARE((*film)->at(99, 0).halves[0]->alpha, 0.0f);
        QVERIFY((*film)->isLost());
    }

    // The things a pixel shows, with how many samples show each; the first stays the first.
    void pixelsKeepTheirIds()
    {
        film::PixelIds ids;
        ids.add({1, 2, 3}, 1);
        for (int i = 0; i < 5; ++i)
            ids.add({7, 0, 254}, 1);
        ids.add({2, 1, 1}, 2);
        ids.add({3, 1, 1}, 1);
        ids.add({4, 1, 1}, 9);  // a fifth thing has no place
        QCOMPARE(ids.first(), (film::PixelId{1, 2, 3}));
        QCOMPARE(ids.most(), (film::PixelId{7, 0, 254}));
        QCOMPARE(ids.ids[1].samples(), 5u);
        QCOMPARE(ids.ids[2].samples(), 2u);
        for (int i = 0; i < 40; ++i)
            ids.add({2, 1, 1}, 1u << 23);
        QCOMPARE(ids.ids[2].samples(), (1u << 24) - 1);  // it counts no further
        QCOMPARE(ids.ids[2].id(), (film::PixelId{2, 1, 1}));
    }

    // What cannot be one film says why, and makes none.
    void strangersAreNotMerged()
    {
        const QTemporaryDir folder;
        const auto path = [&](const char* name) { return folder.filePath(name).toStdString(); };
        const auto make = [&](const char* name, const FilmShape& shape, const film::Exposed& exposed, unsigned samples) {
            auto film = Film::openFile(shape, path(name), exposed);
            if (!film || samples == 0)
                return;
            (*film)->setGoal(std::vector<std::uint32_t>(std::size_t(shape.regionWidth * shape.regionHeight), samples));
            (*film)->beginRound(samples);
            for (int tile = 0; tile < (*film)->tileCount(); ++tile)
                (*film)->endTile(tile);
        };
        make("a", kShape, {"work A", 1, 0}, 8);
        make("b", kShape, {"work A", 1, 8}, 8);
        make("overlaps", kShape, {"work A", 1, 6}, 8);
        make("other work", kShape, {"work B", 1, 8}, 8);
        make("other seed", kShape, {"work A", 2, 8}, 8);
        make("other size", {100, 70, 0, 0, 50, 70, kShape.entries}, {"work A", 1, 8}, 8);
        make("empty", kShape, {"work A", 1, 8}, 0);
        for (const char* other : {"overlaps", "other work", "other seed", "other size", "empty", "not there", "a"}) {
            const auto merged = film::merge({path("a"), path(other)}, path("merged"));
            QVERIFY2(!merged.has_value(), other);
            QCOMPARE(merged.error().place, path(other));
            QVERIFY2(!QFile::exists(folder.filePath("merged")), other);
        }
        QVERIFY(!film::merge({path("a"), path("b")}, path("a")).has_value());
        QVERIFY(film::merge({path("b"), path("a")}, path("merged")).has_value());  // in any order
        const auto merged = Film::openToRead(path("merged"), "work A");
        QVERIFY(merged.has_value());
        QCOMPARE((*merged)->leastSamples(), 16u);
        QVERIFY(!Film::openFile(kShape, path("merged"), {"work A", 1, 0}).has_value());  // it is not exposed further
    }

    void tilesCoverTheRegionOnce()
    {
        auto film = Film::create({500, 400, 33, 45, 90, 70, {}});
        QVERIFY(film.has_value());
        std::vector<int> count(500 * 400);
        for (int tile = 0; tile < (*film)->tileCount(); ++tile) {
            const Film::Rect r = (*film)->tileRect(tile);
            for (int y = r.y0; y < r.y1; ++y)
                for (int x = r.x0; x < r.x1; ++x)
                    ++count[std::size_t(y * 500 + x)];
        }
        for (int y = 0; y < 400; ++y)
            for (int x = 0; x < 500; ++x)
                QCOMPARE(count[std::size_t(y * 500 + x)], x >= 33 && x < 123 && y >= 45 && y < 115 ? 1 : 0);
    }
};

OPEN_GLOW_TEST(TestFilm)
#include "test_film.moc"
