// Bodies made behind: what takes long comes coarse first.
#include <QtTest>

#include "session/body_maker.h"
#include "support/registered.h"

namespace {

// Letters that are bent one by one, so that none shares its body.
work::Work bent(int letters)
{
    work::FontChoice font;
    font.style = "Bold";
    std::string text;
    for (int i = 0; i < letters; ++i)
        text += i % 50 == 49 ? '\n' : static_cast<char>('A' + i % 26);
    work::Work work = work::newWork(text, font, {960, 540, work::Unit::Px, 72});
    work.pieces.items.at("p1").lettering()->layout.sizePt = 14;
    work.pieces.items.at("p1").lettering()->run.kind = work::RunKind::TwoLines;
    return work;
}

std::size_t trianglesOf(const work::WorkBodies& bodies)
{
    std::size_t sum = 0;
    for (const work::WorkBody& body : bodies.bodies)
        sum += body.body->triangles.size();
    return sum;
}

struct Maker {
    work::Cache cache;
    std::mutex mutex;
    std::vector<std::pair<std::uint64_t, std::size_t>> made;  // number and triangles
    std::optional<session::BodyMaker> maker;

    Maker()
    {
        maker.emplace(cache, [this] {
            const auto newest = maker->newest(0, {});
            const std::lock_guard lock(mutex);
            made.emplace_back(newest->number, newest->bodies ? trianglesOf(*newest->bodies) : 0);
        });
    }
    void wait(std::uint64_t number)
    {
        while (maker->newestNumber() < number)
            QTest::qWait(5);
        QTest::qWait(20);
    }
};

}  // namespace

class TestBodyMaker : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void longTextsComeCoarseFirst()
    {
        Maker m;
        const work::Work work = bent(900);
        const std::uint64_t wanted = m.maker->want(work, 0.01);
        m.wait(wanted);
        QCOMPARE(m.made.size(), std::size_t{2});
        QCOMPARE(m.made[0].first, wanted - 1);
        QCOMPARE(m.made[1].first, wanted);
        QVERIFY(m.made[0].second > 0 && m.made[0].second < m.made[1].second);
        // The last word is the same as if it had been made at once.
        work::Cache other;
        QCOMPARE(m.made[1].second, trianglesOf(*work::makeBodies(work, 0.01, other, {})));
    }

    // What is quickly made, as from the cache here, comes once.
    void shortTextsComeOnce()
    {
        Maker m;
        QVERIFY(work::makeBodies(bent(4), 0.1, m.cache, {}));
        const std::uint64_t first = m.maker->want(bent(4), 0.1);
        m.wait(first);
        QCOMPARE(m.made.size(), std::size_t{1});
        const std::uint64_t second = m.maker->want(bent(4), 0.1);
        QVERIFY(second > first + 1);
        m.wait(second);
        QCOMPARE(m.made.size(), std::size_t{2});
        QCOMPARE(m.made[1].first, second);
    }
};

OPEN_GLOW_TEST_WITH_EVENTS(TestBodyMaker)
#include "test_body_maker.moc"
