// The files a sheet becomes, and films that serve several.
#include <QTemporaryDir>
#include <QtTest>

#include "files/work_json.h"
#include "session/finals.h"
#include "session/outputs.h"
#include "support/support.h"
#include "work/make_still.h"

class TestOutputs : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Added like the one that is shown, shown, taken away; one stays; saved and read again.
    void addedAndRemoved()
    {
        work::Work w = work::newWork("GALE", {}, {800, 600, work::Unit::Px, 72});
        session::removeOutput(w);
        QCOMPARE(w.shownSheet().outputs.order.size(), std::size_t{1});
        w.output().widthPx = 400;
        const std::string second = session::addOutput(w);
        QVERIFY(w.shownSheet().outputId() == second && w.output().widthPx == 400);
        w.output().format = work::FileFormat::Jpeg;
        QCOMPARE(session::outputTitle(w, second), std::string("JPEG, 400 px"));
        const auto read = files::fromJson(files::toJson(w));
        QVERIFY(read && *read == w && read->output().format == work::FileFormat::Jpeg);
        session::showOutput(w, "o1");
        QVERIFY(w.output().format == work::FileFormat::Png8);
        session::showOutput(w, "gone");
        QCOMPARE(w.shownSheet().outputId(), std::string("o1"));
        session::removeOutput(w);
        QCOMPARE(w.shownSheet().outputId(), second);
        QVERIFY(work::leastNextId(w) <= w.nextId);
        w.shownSheet().shownOutput = "nobody";
        QVERIFY(w.output().format == work::FileFormat::Jpeg);
    }

    // A pattern is filled in; what no file name may have is left out, and a name is never empty, hidden or too long.
    void named()
    {
        work::Work w = work::newWork("GALE/POINT", {}, {800, 600, work::Unit::Px, 72});
        w.shownSheet().name = "Poster A3";
        const auto name = [&](const char* pattern, const char* file = "kite fair") {
            work::Output o = w.output();
            o.name = pattern;
            return session::fileNameOf(w, o, file, "2026-05-30");
        };
        QCOMPARE(name(""), std::string("kite fair"));
        QCOMPARE(name("", ""), std::string("GALE POINT"));
        QCOMPARE(name("{work} {sheet} {width}x{height} {date}"), std::string("kite fair Poster A3 800x600 2026-05-30"));
        QCOMPARE(name("{what} {width"), std::string("{what} {width"));
        QCOMPARE(name("../../etc/pass:wd?"), std::string("etc pass wd"));
        QCOMPARE(name(" . "), std::string("still"));
        QCOMPARE(name("a\nb"), std::string("a b"));
        const std::string longest = name(std::string(500, 'x').c_str());
        QVERIFY(longest.size() <= 120);
        std::string umlauts;
        for (int i = 0; i < 100; ++i)
            umlauts += "\u00fc";
        QVERIFY(QString::fromStdString(name(("a" + umlauts).c_str())).toStdString() == name(("a" + umlauts).c_str()));
        work::Output half = w.output();
        half.widthPx = 333;
        QVERIFY(session::widthOf(w, half) == 333 && session::heightOf(w, half) == 250);
    }

    // A final gets a copy of the film of a finished one of the same picture and size, whatever their formats; not of another size or work.
    void filmsServeSeveral()
    {
        QTemporaryDir folder;
        const session::FinalStore store(folder.path().toStdString());
        const work::Work w = work::newWork("A", {}, {80, 60, work::Unit::Px, 72});
        session::FinalSettings settings;
        settings.output = w.output();
        settings.widthPx = 80;
        settings.heightPx = 60;
        settings.out = folder.filePath("one.png").toStdString();
        auto one = store.create(w, settings);
        QVERIFY(one);
        const QString film = QString::fromStdString(one->filmPath());
        const auto expose = [&](const std::string& key) {
            QFile::remove(film);
            work::StillSettings still;
            still.widthPx = 80;
            still.heightPx = 60;
            still.stop = {2, 0, 0};
            still.denoise = denoise::Mode::Off;
            still.filmPath = one->filmPath();
            still.filmKey = key;
            work::Cache cache;
            return work::makeStill(w, still, cache, {}).has_value();
        };
        QVERIFY(expose("as an earlier version named it"));
        one->finished = true;
        QVERIFY(store.update(*one));
        const auto borrowed = [&](int width, const work::Work& of) {
            session::FinalSettings other = settings;
            other.widthPx = width;
            other.out = folder.filePath("two.jpg").toStdString();
            const auto two = store.create(of, other);
            store.borrowFilm(*two);
            return QFile::exists(QString::fromStdString(two->filmPath()));
        };
        QVERIFY(!borrowed(80, w));                    // it would be no film of that picture, and its render would fail
        const auto next = store.create(w, settings);  // nor does the next one to the same file take it over
        QVERIFY(next && !QFile::exists(QString::fromStdString(next->filmPath())) && QFile::exists(film));
        QVERIFY(expose(files::filmKey(w, settings.seed)));
        QVERIFY(borrowed(80, w));
        QVERIFY(QFile::exists(film));  // the first one still has its own
        work::Work brighter = w;
        brighter.finish.exposure = 1;
        QVERIFY(borrowed(80, brighter));  // it takes the film over
        QVERIFY(!QFile::exists(film));
        QVERIFY(!borrowed(40, w));
        work::Work deeper = w;
        deeper.pieces.items.at("p1").slab()->depthPt += 5;
        QVERIFY(!borrowed(80, deeper));
    }
};

OPEN_GLOW_TEST(TestOutputs)
#include "test_outputs.moc"
