#include <QtTest>
#include <condition_variable>
#include <mutex>

#include "session/live_render.h"

using session::Frame;
using session::LiveRender;

namespace {

// Collects frames and waits for one.
class Frames {
public:
    void add(Frame frame)
    {
        const std::lock_guard lock(m_mutex);
        m_frames.push_back(std::move(frame));
        m_changed.notify_all();
    }
    bool waitFor(const std::function<bool(const Frame&)>& wanted)
    {
        std::unique_lock lock(m_mutex);
        return m_changed.wait_for(lock, std::chrono::seconds(60),
                                  [&] { return std::any_of(m_frames.begin(), m_frames.end(), wanted); });
    }
    std::vector<Frame> all()
    {
        const std::lock_guard lock(m_mutex);
        return m_frames;
    }

private:
    std::mutex m_mutex;
    std::condition_variable m_changed;
    std::vector<Frame> m_frames;
};

work::Work kites(const std::string& text)
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {160, 90, work::Unit::Px, 72});
}

}  // namespace

class TestLiveRender : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // The picture sharpens step by step and ends as makeStill() makes it with the same seed and samples.
    void sharpensToTheFinalPicture()
    {
        Frames frames;
        LiveRender live([&](Frame f) { frames.add(std::move(f)); });
        const auto job = live.start(kites("KITE"), 160, 90, {12, 0, 0});
        QVERIFY(frames.waitFor([&](const Frame& f) { return f.job == job && f.finished; }));
        const std::vector<Frame> all = frames.all();
        QVERIFY(all.size() >= 4);
        QCOMPARE(all.front().status.samples, 1.0);
        for (std::size_t i = 1; i < all.size(); ++i)
            QVERIFY(all[i].status.samples >= all[i - 1].status.samples);
        work::Cache cache;
        work::StillSettings settings;
        settings.widthPx = 160;
        settings.heightPx = 90;
        settings.stop = {12, 0, 0};
        const auto still = work::makeStill(kites("KITE"), settings, cache, {});
        QVERIFY(finish::to8Bits(still->picture) == *all.back().picture);
    }

    void theLatestWorkWins()
    {
        Frames frames;
        LiveRender live([&](Frame f) { frames.add(std::move(f)); });
        const auto first = live.start(kites("SLOW"), 160, 90, {100000, 0, 0});
        QVERIFY(frames.waitFor([&](const Frame& f) { return f.job == first; }));
        live.start(kites("SKIPPED"), 160, 90, {100000, 0, 0});
        const auto last = live.start(kites("KITE"), 160, 90, {2, 0, 0});
        QVERIFY(frames.waitFor([&](const Frame& f) { return f.job == last && f.finished; }));
        for (const Frame& f : frames.all())
            QVERIFY(!f.finished || f.job == last);
    }

    void errorsAndNotesArrive()
    {
        Frames frames;
        LiveRender live([&](Frame f) { frames.add(std::move(f)); });
        work::Work broken = kites("K");
        broken.pieces.items.at("p1").lettering.font.asset = "fonts/bad.otf";
        broken.assets["fonts/bad.otf"].bytes = std::make_shared<const outline::Bytes>(outline::Bytes{1, 2, 3});
        const auto bad = live.start(broken, 16, 9, {1, 0, 0});
        QVERIFY(frames.waitFor([&](const Frame& f) { return f.job == bad && f.error.has_value(); }));
        const auto empty = live.start(kites(""), 16, 9, {1, 0, 0});
        QVERIFY(frames.waitFor([&](const Frame& f) { return f.job == empty && f.finished && f.notes.size() == 1; }));
    }

    // Leaving in the middle of a long render takes no longer than a tile.
    void endsWhenAsked()
    {
        Frames frames;
        auto live = std::make_unique<LiveRender>([&](Frame f) { frames.add(std::move(f)); });
        live->start(kites("LONG"), 1600, 900, {100000, 0, 0});
        QTest::qSleep(200);
        live.reset();
        const std::size_t count = frames.all().size();
        QTest::qSleep(200);
        QCOMPARE(frames.all().size(), count);
    }
};

QTEST_APPLESS_MAIN(TestLiveRender)
#include "test_live_render.moc"
