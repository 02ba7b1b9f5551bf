#include <QFile>
#include <QTemporaryDir>
#include <QtTest>

#include "film/film.h"

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

QTEST_APPLESS_MAIN(TestFilm)
#include "test_film.moc"
