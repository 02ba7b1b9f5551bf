#include <QImage>
#include <QTemporaryDir>
#include <QtTest>
#include <condition_variable>
#include <csignal>
#include <mutex>
#include <sys/wait.h>
#include <unistd.h>

#include "files/render_still.h"
#include "session/render_queue.h"
#include "support/support.h"

using session::FinalStatus;
using session::LiveFrame;
using session::RenderQueue;

namespace {

// Collects what the queue sends and waits for something in it.
template <class T>
class Mailbox {
public:
    void add(T item)
    {
        const std::lock_guard lock(m_mutex);
        m_items.push_back(std::move(item));
        m_changed.notify_all();
    }
    // False when nothing comes for two minutes.
    bool waitFor(const std::function<bool(const T&)>& wanted)
    {
        std::unique_lock lock(m_mutex);
        while (!std::any_of(m_items.begin(), m_items.end(), wanted))
            if (!m_changed.wait_for(lock, std::chrono::seconds(120), [&, seen = m_items.size()] { return m_items.size() > seen; }))
                return false;
        return true;
    }
    std::vector<T> all()
    {
        const std::lock_guard lock(m_mutex);
        return m_items;
    }

private:
    std::mutex m_mutex;
    std::condition_variable m_changed;
    std::vector<T> m_items;
};

work::Work kites(const std::string& text)
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {160, 90, work::Unit::Px, 72});
}

struct Setup {
    QTemporaryDir folder;
    Mailbox<LiveFrame> frames;
    Mailbox<FinalStatus> finals;
    session::FinalStore store{folder.filePath("finals").toStdString()};
    std::unique_ptr<RenderQueue> queue = std::make_unique<RenderQueue>(
        store, [this](LiveFrame f) { frames.add(std::move(f)); }, [this](FinalStatus s) { finals.add(std::move(s)); });

    session::Final final(const std::string& text, const render::StopRule& stop, int width = 160)
    {
        session::FinalSettings settings;
        settings.widthPx = width;
        settings.heightPx = width * 9 / 16;
        settings.output.stop = stop;
        settings.out = folder.filePath("out.png").toStdString();
        return *store.create(kites(text), settings);
    }
};

work::Still still(const work::Work& work, int width, int height, std::uint32_t samples)
{
    work::Cache cache;
    work::StillSettings settings;
    settings.widthPx = width;
    settings.heightPx = height;
    settings.stop = {samples, 0, 0};
    return std::move(*work::makeStill(work, settings, cache, {}));
}

// A PNG with exactly the pixels of a still.
bool holds(const std::string& png, const work::Still& still)
{
    const QImage saved = QImage(QString::fromStdString(png)).convertToFormat(QImage::Format_RGB888);
    const auto expected = finish::to8Bits(still.picture);
    if (saved.width() != expected.width || saved.height() != expected.height)
        return false;
    for (int y = 0; y < expected.height; ++y)
        if (std::memcmp(saved.constScanLine(y), expected.at(0, y), std::size_t(expected.width) * 3) != 0)
            return false;
    return true;
}

}  // namespace

class TestRenderQueue : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // First a draft, then sharper step by step; settled it is what makeStill() makes with the same seed and samples.
    void sharpensToTheFinalPicture()
    {
        Setup s;
        const auto job = s.queue->live({kites("KITE"), 160, 90, {}, {12, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.finished; }));
        const std::vector<LiveFrame> all = s.frames.all();
        QVERIFY(all.front().draft && !all.back().draft);
        for (std::size_t i = 1; i < all.size(); ++i)
            QVERIFY(all[i].status.samples >= all[i - 1].status.samples);
        QVERIFY(finish::to8Bits(still(kites("KITE"), 160, 90, 12).picture) == *all.back().picture);
    }

    // Bodies that take long are made behind: the picture goes on with the last ones, in the new material, and says so; what came last
    // wins. Asked to end it does not wait for them.
    void slowBodiesAreMadeBehind()
    {
        Setup s;
        const auto first = s.queue->live({kites("KITE"), 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == first && f.finished; }));
        s.queue->setSlowBodies(std::chrono::milliseconds(400));
        work::Work word = kites("WINDS");
        word.pieces.items.at("p1").material.piece.baseColour = {0, 0, 0};
        (void)s.queue->live({word, 160, 90, {}, {2, 0, 0}, 0});
        word.pieces.items.at("p1").slab()->depthPt = 4;
        const auto job = s.queue->live({word, 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.finished; }));
        bool wasBehind = false;
        for (const LiveFrame& f : s.frames.all())
            if (f.job == job && f.behind) {
                wasBehind = true;
                QVERIFY(f.draft && f.picture && !f.finished);
                QCOMPARE(f.shownWork->work, word);
            }
        QVERIFY(wasBehind);
        const LiveFrame last = s.frames.all().back();
        QVERIFY(!last.behind);
        QVERIFY(finish::to8Bits(still(word, 160, 90, 2).picture) == *last.picture);
        // A change that needs no bodies does not wait for any.
        word.finish.exposure = 1;
        const auto mixed = s.queue->live({word, 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == mixed && f.finished; }));
        for (const LiveFrame& f : s.frames.all())
            QVERIFY(f.job != mixed || !f.behind);
        s.queue->setSlowBodies(std::chrono::hours(1));
        (void)s.queue->live({kites("DUNES"), 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job > mixed && f.behind; }));
        s.queue.reset();  // an hour would end the test
    }

    // They come in beside a final as well, which then goes on.
    void slowBodiesComeInBesideAFinal()
    {
        Setup s;
        s.queue->startFinal(s.final("FAIR", {100000, 0, 0}, 640));
        QVERIFY(s.finals.waitFor([&](const FinalStatus& f) { return f.samples >= 1; }));
        s.queue->setSlowBodies(std::chrono::milliseconds(400));
        const auto first = s.queue->live({kites("KITE"), 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == first && f.finished; }));
        const auto job = s.queue->live({kites("DUNE"), 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.behind; }));
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.finished; }));
        const std::size_t told = s.finals.all().size();
        QVERIFY(s.finals.waitFor([&, sofar = s.finals.all().back().samples](const FinalStatus& f) { return f.samples > sofar; }));
        QVERIFY(s.finals.all().size() > told);
    }

    // Brightness, colour and exposure are mixed from the film that is there: no draft, no sample less, and the same bytes that a
    // render of the changed work gives.
    void lightIsMixedWithoutRenderingAgain()
    {
        Setup s;
        work::Work work = kites("KITE");
        const std::string second = work.newId("l");
        work.lights.items[second] = work.lights.items.begin()->second;
        work.lights.items[second].direction = 50;
        work.lights.items[second].stops = -1.2;
        work.lights.order.push_back(second);
        const auto first = s.queue->live({work, 160, 90, {}, {12, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == first && f.finished; }));
        work::Work mixed = work;
        mixed.lights.items[second].stops = -0.6;
        mixed.lights.items[second].colour = {1, 0.7f, 0.5f};
        mixed.surroundings.stops = -3;
        mixed.finish.exposure = 0.5;
        mixed.pieces.items.begin()->second.name = "kites";
        const auto job = s.queue->live({mixed, 160, 90, {}, {12, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.finished; }));
        LiveFrame last;
        for (const LiveFrame& f : s.frames.all())
            if (f.job == job) {
                QVERIFY(!f.draft);
                QVERIFY(f.status.samples >= 12);
                last = f;
            }
        QVERIFY(finish::to8Bits(still(mixed, 160, 90, 12).picture) == *last.picture);
        QVERIFY(last.shownWork->work == mixed);
        // A light that moves is another film.
        mixed.lights.items[second].direction = 60;
        const auto moved = s.queue->live({mixed, 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == moved && f.draft; }));
    }

    // A final in another light takes the film of the last one: it is there at once, and it is what a new render would be.
    void aFinalInAnotherLightIsMixedFromTheLastFilm()
    {
        Setup s;
        const session::Final first = s.final("KITE", {12, 0, 0});
        s.queue->startFinal(first);
        QVERIFY(s.finals.waitFor([&](const FinalStatus& f) { return f.state == FinalStatus::State::Finished; }));
        work::Work dusk = first.work;
        dusk.finish.exposure = -1;
        dusk.lights.items.begin()->second.colour = {1, 0.5f, 0.25f};
        session::FinalSettings settings = first.settings;
        settings.out = s.folder.filePath("dusk.png").toStdString();
        const auto again = s.store.create(dusk, settings);
        QVERIFY(again.has_value());
        QCOMPARE(again->samples, 12.0);
        QCOMPARE(s.store.all().size(), std::size_t{1});
        s.queue->startFinal(*again);
        QVERIFY(
            s.finals.waitFor([&](const FinalStatus& f) { return f.folder == again->folder && f.state == FinalStatus::State::Finished; }));
        QVERIFY(holds(settings.out, still(dusk, 160, 90, 12)));
        // In another view it is a new one.
        dusk.view().walk = 10;
        QCOMPARE(s.store.create(dusk, settings)->samples, 0.0);
    }

    // The draft is near the settled picture, and its edges and ids are those of the film.
    void theDraftIsTrue()
    {
        Setup s;
        work::Work work = kites("KITE");
        work.sheet() = {640, 360, work::Unit::Px, 72};
        s.queue->live({work, 640, 360, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([](const LiveFrame& f) { return f.finished; }));
        const work::Still clean = still(work, 640, 360, 64);
        const auto reference = finish::to8Bits(clean.picture);
        const LiveFrame draft = s.frames.all().front();
        double difference = 0;
        for (std::size_t i = 0; i < reference.values.size(); ++i)
            difference += std::abs(int(reference.values[i]) - int(draft.picture->values[i]));
        QVERIFY2(difference / double(reference.values.size()) < 8,
                 qPrintable(QString::number(difference / double(reference.values.size()))));
        // Pixel middles against a random place in a pixel: they may differ along edges only.
        int other = 0;
        for (int y = 0; y < 360; ++y)
            for (int x = 0; x < 640; ++x)
                other += draft.ids->at(x, y)->letter != clean.film->at(x, y).ids->most().letter;
        QVERIFY2(other < 640 * 360 / 50, qPrintable(QString::number(other)));
    }

    // A part is the same pixels as the whole.
    void aPartMatchesTheWhole()
    {
        Setup s;
        session::LiveRequest request{kites("KITE"), 160, 90, film::Film::Rect{40, 20, 100, 70}, {4, 0, 0}, 0};
        request.denoise = denoise::Mode::Off;  // it looks beyond the part's edge
        const auto job = s.queue->live(request);
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.finished; }));
        const LiveFrame part = s.frames.all().back();
        QCOMPARE(part.picture->width, 60);
        const work::Still whole = still(kites("KITE"), 160, 90, 4);
        const auto expected = finish::develop(film::sharesOf(*whole.film), whole.develop);
        int same = 0;
        for (int y = 0; y < 50; ++y)
            for (int x = 0; x < 60; ++x)
                same += std::abs(int(part.picture->at(x, y)[0]) - int(std::lround(expected.at(x + 40, y + 20)[0] * 255))) <= 1;  // dither
        QCOMPARE(same, 3000);
    }

    // A quiet request shows nothing before it is finished, and what was shown is still there to be finished in another way: its samples are
    // not taken again. Once it is finished its own film takes that place.
    void aQuietPartComesBehind()
    {
        Setup s;
        session::LiveRequest seen{kites("KITE"), 160, 90, film::Film::Rect{40, 20, 100, 70}, {6, 0, 0}, 0};
        const auto first = s.queue->live(seen);
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == first && f.finished; }));
        session::LiveRequest around = seen;
        around.part = film::Film::Rect{20, 5, 130, 85};
        around.quiet = true;
        around.stop = {100000, 0, 0};
        const auto unseen = s.queue->live(around);
        QTest::qWait(300);
        seen.work.finish.exposure = 1;
        const auto mixed = s.queue->live(seen);
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == mixed && f.finished; }));
        for (const LiveFrame& f : s.frames.all()) {
            QVERIFY(f.job != unseen);
            QVERIFY(f.job != mixed || f.status.samples == 6);  // no coarse light of a draft
        }
        around.stop = {4, 0, 0};
        around.work = seen.work;
        const auto last = s.queue->live(around);
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == last; }));
        QVERIFY(s.frames.all().back().finished && s.frames.all().back().picture->width == 110);
        // And stays there while the next one comes behind.
        session::LiveRequest next = around;
        next.part = film::Film::Rect{30, 10, 140, 90};
        next.stop = {100000, 0, 0};
        s.queue->live(next);
        QTest::qWait(300);
        around.quiet = false;
        around.work.finish.exposure = 0;
        const auto again = s.queue->live(around);
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == again && f.finished; }));
        for (const LiveFrame& f : s.frames.all())
            QVERIFY(f.job != again || f.status.samples == 4);
        s.queue->setLiveMemory(1000);
        around.quiet = true;
        around.part = {};
        const auto failed = s.queue->live(around);
        QTest::qWait(200);
        for (const LiveFrame& f : s.frames.all())
            QVERIFY(f.job != failed);
    }

    void theLatestWorkWins()
    {
        Setup s;
        const auto first = s.queue->live({kites("SLOW"), 160, 90, {}, {100000, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == first && f.status.samples > 2; }));
        s.queue->setSlowStage(std::chrono::milliseconds(50));
        s.queue->live({kites("SKIPPED"), 160, 90, {}, {100000, 0, 0}, 0});
        const auto last = s.queue->live({kites("KITE"), 160, 90, {}, {2, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == last && f.finished; }));
        for (const LiveFrame& f : s.frames.all())
            QVERIFY(!f.finished || f.job == last);
    }

    void heldItDoesNotSharpen()
    {
        Setup s;
        s.queue->hold(true);
        const auto job = s.queue->live({kites("KITE"), 160, 90, {}, {8, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.draft; }));
        // A final waits until the live picture has its first samples: when it is there, the live one has let them be.
        s.queue->startFinal(s.final("FAIR", {1, 0, 0}));
        QVERIFY(s.finals.waitFor([&](const FinalStatus& f) { return f.state == FinalStatus::State::Finished; }));
        for (const LiveFrame& f : s.frames.all())
            QVERIFY(f.draft);
        s.queue->hold(false);
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job && f.finished; }));
    }

    void errorsAndNotesArrive()
    {
        Setup s;
        work::Work broken = kites("K");
        broken.pieces.items.at("p1").lettering()->font.asset = "fonts/bad.otf";
        broken.assets["fonts/bad.otf"].bytes = std::make_shared<const outline::Bytes>(outline::Bytes{1, 2, 3});
        const auto bad = s.queue->live({broken, 16, 9, {}, {1, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == bad && f.error.has_value(); }));
        const auto empty = s.queue->live({kites(""), 16, 9, {}, {1, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == empty && f.finished && f.notes.size() == 1; }));
    }

    // A final has its own snapshot and goes on while the work is edited; the picture is what makeStill() makes.
    void aFinalBesideEdits()
    {
        Setup s;
        const session::Final final = s.final("KITE", {40, 0, 0}, 320);
        s.queue->startFinal(final);
        for (int i = 0; i < 5; ++i) {
            const auto job = s.queue->live({kites("EDIT" + std::to_string(i)), 160, 90, {}, {100000, 0, 0}, 0});
            QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job; }));
        }
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.state == FinalStatus::State::Finished; }));
        QVERIFY(holds(final.settings.out, still(kites("KITE"), 320, 180, 40)));
        QVERIFY(s.store.all().at(0).finished);
    }

    void aStoppedFinalKeepsWhatIsThere()
    {
        Setup s;
        const session::Final final = s.final("KITE", {100000, 0, 0}, 320);
        s.queue->startFinal(final);
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.samples >= 4; }));
        s.queue->stopFinal(final.folder, true);
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.state == FinalStatus::State::Stopped; }));
        QCOMPARE(QImage(QString::fromStdString(final.settings.out)).width(), 320);
        QVERIFY(!s.store.all().at(0).finished);
        QVERIFY(s.store.all().at(0).samples >= 4);
    }

    // Killed in the middle and started again, the final is the one that nobody killed.
    void aKilledFinalGoesOn()
    {
        Setup s;
        const session::Final final = s.final("KITE", {48, 0, 0}, 320);
        s.queue.reset();
        int ready[2];
        QVERIFY(pipe(ready) == 0);
        const pid_t child = fork();
        if (child == 0) {
            // A fresh program: threads do not survive a fork.
            execl("/proc/self/exe", "render-child", final.folder.c_str(), std::to_string(ready[1]).c_str(), nullptr);
            _exit(1);
        }
        char byte = 0;
        QVERIFY(read(ready[0], &byte, 1) == 1);
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        const session::Final kept = s.store.all().at(0);
        QVERIFY(!kept.finished && kept.samples > 0 && kept.samples < 48);
        s.queue = std::make_unique<RenderQueue>(
            s.store, [](LiveFrame) {}, [&](FinalStatus f) { s.finals.add(std::move(f)); });
        s.queue->startFinal(kept);
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.state == FinalStatus::State::Finished; }));
        QVERIFY(holds(final.settings.out, still(kites("KITE"), 320, 180, 48)));
    }

    // What memory does not hold is made in bands, beside edits, goes on after a stop, and is the picture that it would be as a whole.
    void aLargeFinalIsMadeInBands()
    {
        Setup s;
        const session::Final final =
            s.final("KITE", {4, 0, 0}, 640);  // the fast form: sanitizers are slow, and tests/files has the full one
        const work::Work work = kites("KITE");
        s.queue->setMemory(support::bytesForRows(work, 640, 64 + 2 * files::kBandMargin));
        s.queue->startFinal(final);
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.fraction > 0.1; }));
        const auto job = s.queue->live({kites("EDIT"), 160, 90, {}, {8, 0, 0}, 0});
        QVERIFY(s.frames.waitFor([&](const LiveFrame& f) { return f.job == job; }));
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.fraction > 0.3; }));
        s.queue->stopFinal(final.folder, true);
        // Stopped it is saved all the same: what is not finished from a few samples.
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.state == FinalStatus::State::Stopped && !f.saved.empty(); }));
        QCOMPARE(QImage(QString::fromStdString(final.settings.out)).size(), QSize(640, 360));
        QVERIFY(files::LightFolder::isOne(final.filmPath()));
        QVERIFY(!s.store.all().at(0).finished);
        s.queue->startFinal(final);
        QVERIFY(s.finals.waitFor([](const FinalStatus& f) { return f.state == FinalStatus::State::Finished; }));
        QVERIFY(s.store.all().at(0).finished);
        const QImage saved = QImage(QString::fromStdString(final.settings.out)).convertToFormat(QImage::Format_RGB888);
        const auto whole = finish::to8Bits(still(work, 640, 360, 4).picture);
        QCOMPARE(saved.size(), QSize(640, 360));
        double most = 0, sum = 0;
        for (int y = 0; y < 360; ++y)
            for (int i = 0; i < 640 * 3; ++i) {
                const double d = std::abs(saved.constScanLine(y)[i] - whole.at(0, y)[i]);
                most = std::max(most, d);
                sum += d / (360 * 640 * 3);
            }
        // Half floats, and noise reduction counted from another row.
        QVERIFY2(sum < 0.2 && most <= 8, qPrintable(QString("%1, at most %2").arg(sum).arg(most)));
    }

    void aBadFolderIsSaid()
    {
        Setup s;
        session::Final final = s.final("KITE", {1, 0, 0});
        final.settings.out = "/proc/no/picture.png";
        s.queue->startFinal(final);
        QVERIFY(s.finals.waitFor(
            [](const FinalStatus& f) { return f.state == FinalStatus::State::Failed && f.error->code == base::ErrorCode::CannotWrite; }));
    }

    // Leaving in the middle of long renders takes no longer than a tile.
    void endsWhenAsked()
    {
        Setup s;
        s.queue->live({kites("LONG"), 480, 270, {}, {100000, 0, 0}, 0});
        s.queue->startFinal(s.final("LONG", {100000, 0, 0}, 480));
        // In the midst of both: had it waited for either, that would be finished.
        QVERIFY(s.finals.waitFor([&](const FinalStatus& f) { return f.samples >= 1; }));
        s.queue.reset();
        for (const LiveFrame& f : s.frames.all())
            QVERIFY(!f.finished);
        for (const FinalStatus& f : s.finals.all())
            QVERIFY(f.state != FinalStatus::State::Finished && f.samples < 100000);
        const auto kept = s.store.all();
        QCOMPARE(kept.size(), std::size_t{1});
        QVERIFY(kept.front().samples >= 1 && !kept.front().finished);  // it goes on from there
    }
};

// The program that is killed: renders a kept final and says when some of it is there.
int renderChild(const char* folder, int ready)
{
    const session::FinalStore store(QFileInfo(folder).path().toStdString());
    RenderQueue queue(
        store, [](LiveFrame) {},
        [&](FinalStatus s) {
            if (s.samples >= 4)
                (void)!write(ready, "x", 1);
        });
    queue.startFinal(store.all().at(0));
    pause();
    return 1;
}

int main(int argc, char** argv)
{
    if (argc == 3 && std::strcmp(argv[0], "render-child") == 0)
        return renderChild(argv[1], std::atoi(argv[2]));
    TestRenderQueue test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_render_queue.moc"
