// Real outlines: every body closed, no folds, in ten faces of different kinds.
#include <QtTest>
#include <set>

#include "solid/check.h"
#include "solid/domed.h"
#include "solid/slab.h"
#include "support/support.h"

using solid::Bevel;
using solid::Profile;

namespace {

int touches(const outline::Outline& outline)
{
    std::set<std::pair<int, int>> places;
    for (const auto& contour : outline.contours)
        for (const auto& e : contour)
            places.emplace(e.from.x, e.from.y);
    return static_cast<int>(outline::edgeCount(outline) - places.size());
}

solid::SlabForm grown(solid::SlabForm form)
{
    form.grownOut = true;
    return form;
}

solid::SlabForm fluted(solid::SlabForm form, double draft, int flutes)
{
    form.draft = draft;
    form.flutes = {flutes, 0.8, {}};
    return form;
}

}  // namespace

class TestGlyphs : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void bodiesAreSound_data()
    {
        QTest::addColumn<QString>("family");
        QTest::addColumn<QString>("style");
        QTest::addColumn<QString>("text");
        const QString latin = "GALEPOINTkitefairs&8gBR$@?";
        QTest::newRow("geometric heavy") << "League Spartan"
                                         << "Black" << latin;
        QTest::newRow("condensed") << "Bebas Neue"
                                   << "Bold" << latin;
        QTest::newRow("script") << "Lobster Two"
                                << "Bold Italic" << latin;
        QTest::newRow("old style") << "Junicode Two Beta"
                                   << "Regular" << latin;
        QTest::newRow("rounded") << "Comfortaa"
                                 << "Bold" << latin;
        QTest::newRow("blackletter") << "Blankenburg_UNZ1A"
                                     << "Regular"
                                     << "GALEPOINTkitefairsgBR?";
        QTest::newRow("brush") << "Kristi"
                               << "Medium" << latin;
        QTest::newRow("Arabic") << "Amiri"
                                << "Bold" << QString::fromUtf8("مهرجانالطائرات٣٨");
        QTest::newRow("book sans") << "DejaVu Sans"
                                   << "Book" << latin + QString::fromUtf8("ЖФ§‰");
        QTest::newRow("book serif") << "Linux Libertine O"
                                    << "Regular" << latin;
        QTest::newRow("variable") << "Inter"
                                  << "Regular" << latin;
        QTest::newRow("hairline, nearly parallel") << "Lato"
                                                   << "Hairline Italic" << latin;
    }
    void bodiesAreSound()
    {
        QFETCH(QString, family);
        QFETCH(QString, style);
        QFETCH(QString, text);
        const auto font = support::font(family, style);
        QVERIFY(font);
        const solid::SlabForm forms[] = {
            {24, {2, 2, Profile::Roundover, 8}, {1, 1, Profile::Chamfer}, solid::Corners::Round},
            {24, {40, 12, Profile::Chamfer}, {}, solid::Corners::Mitred},  // wider than any stroke
            {24, {4, 6, Profile::Terraces, 5}, {2, 3, Profile::Ogee, 6}, solid::Corners::Round},
            {24, {30, 9, Profile::Terraces, 7}, {3, 3, Profile::Cove, 4}, solid::Corners::Mitred},
            {24, {3, 3, Profile::Roundover, 3, true}, {3, 3, Profile::Roundover, 3}, solid::Corners::Mitred},
            {24, {0.5, 0.5}, {}, solid::Corners::Mitred, {}, {1, 4, 0.7, Profile::Cove, 4}},
            {20, {}, {1, 1}, solid::Corners::Round, {5, 0.9, 2, 1}, {0.6, -1, 0}},
            grown({24, {3, 4, Profile::Roundover, 5}, {1, 1}, solid::Corners::Round}),
            grown({24, {25, 9, Profile::Ogee, 6}, {25, 5, Profile::Terraces, 3}, solid::Corners::Flat}),  // closes every counter
            grown({24, {2, 4, Profile::Drawn, 5}, {}, solid::Corners::Mitred}),
            fluted({24, {2, 2, Profile::Roundover, 4}, {}, solid::Corners::Flat}, 5, 0),
            fluted({24, {1, 1}, {1, 2, Profile::Cove, 3}, solid::Corners::Mitred}, -12, 0),
            fluted({24, {1, 1}, {}, solid::Corners::Round}, 3, 4),
        };
        const solid::DomedForm domes[] = {{0, 1, 1}, {0, 1, 0, 0.7}, {6, 0.6, 0, -1, 0.5}};
        int bodies = 0;
        // Each letter takes every third form, so that a face tries all of them on several letters; the bench's --glyphs leaves none out.
        std::size_t every = 3;
#ifdef OPEN_GLOW_CHECKED
        text = text.first(4);  // sanitizers are slow
        every = 7;
#endif
        std::size_t turn = 0;
        const auto isTurn = [&](std::size_t number) { return (number + turn) % every == 0; };
        for (const QChar c : text) {
            ++turn;
            for (const auto& placed : support::outlines(QString(c).toStdString(), *font, 0.05).outlines) {
                const QByteArray what = QString("%1 in %2").arg(c).arg(family).toUtf8();
                const auto isSound = [&](const base::Result<solid::Body>& body, bool leans, bool changesHoles = false) {
                    if (!body) {
                        qWarning("%s", body.error().message.c_str());
                        return false;
                    }
                    const solid::BodyReport r = solid::inspect(*body);
                    // A hole through takes 2, each point where contours touch gives 2: it has two vertices.
                    const int holes = static_cast<int>(placed.outline->contours.size()) - 1;
                    ++bodies;
                    const bool sound = r.closed() && r.volumePt3 > 0 &&
                                       (leans || r.foldedAreaPt2 < 1e-5 * outline::area(*placed.outline)) &&
                                       (changesHoles || r.euler == 2 - 2 * holes + 2 * touches(*placed.outline));
                    if (!sound)
                        qWarning("unpaired %zu, repeated %zu, volume %g, folded %g, euler %d", r.unpairedEdges, r.repeatedEdges,
                                 r.volumePt3, r.foldedAreaPt2, r.euler);
                    return sound;
                };
                for (const solid::SlabForm& form : forms) {
                    if (!isTurn(static_cast<std::size_t>(&form - forms)))
                        continue;
                    const auto body = solid::makeSlab(*placed.outline, form, 0.05, {});
                    QVERIFY2(isSound(body, !form.along.none() || !form.flutes.none(), form.grownOut || !form.flutes.none()), what);
                    QVERIFY2(solid::bounds(*body).high.z <= 24 + 1e-4, what);
                }
                for (const solid::DomedForm& form : domes)
                    if (isTurn(static_cast<std::size_t>(&form - domes)))
                        QVERIFY2(isSound(solid::makeDomed(*placed.outline, form, 0.05, {}), false), what);
            }
        }
        QVERIFY(bodies >= 4);
    }
};

OPEN_GLOW_TEST(TestGlyphs)
#include "test_glyphs.moc"
