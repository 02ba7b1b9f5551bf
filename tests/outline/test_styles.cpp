// Text in more than one way: stacked, in several faces and sizes, in a second shaper's opinion; and the faces of the machine.
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>

#include "base/file.h"
#include "outline/faces_here.h"
#include "outline/layout.h"
#include "support/support.h"

using outline::LayoutSettings;

namespace {

// Faces of all kinds that come with the program.
const std::vector<std::pair<QString, QString>> kFaces{{"League Spartan", "Bold"},
                                                      {"Linux Libertine O", "Regular"},
                                                      {"Linux Biolinum O", "Regular"},
                                                      {"Lobster Two", "Bold Italic"},
                                                      {"DejaVu Sans", "Book"},
                                                      {"Comfortaa", "Bold"},
                                                      {"Lato", "Black"},
                                                      {"Kristi", "Medium"},
                                                      {"Vollkorn", "Black"},
                                                      {"Roboto Slab", "Bold"},
                                                      {"Yanone Kaffeesatz", "Bold"},
                                                      {"Dancing Script", "Bold"},
                                                      {"Old Standard TT", "Italic"},
                                                      {"Bebas Neue", "Regular"},
                                                      {"Quicksand", "Bold"},
                                                      {"Leckerli One", "Regular"},
                                                      {"CabinSketch", "Bold"},
                                                      {"Tomson Talks", "Regular"}};

QJsonArray hbShape(const QString& path, const QString& text, const QStringList& more)
{
    return QJsonDocument::fromJson(support::run("hb-shape", QStringList{"--output-format=json", "--no-glyph-names", "--language=und"} +
                                                                more + QStringList{path, text}))
        .array();
}

LayoutSettings inFontUnits(const outline::Font& font)
{
    LayoutSettings settings;
    settings.sizePt = font.unitsPerEm();
    settings.align = outline::Align::Start;
    return settings;
}

bool near(double a, double b, double within = 0.01)
{
    return std::abs(a - b) < within;
}

}  // namespace

class TestStyles : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void eachFace_data()
    {
        QTest::addColumn<QString>("family");
        QTest::addColumn<QString>("style");
        for (const auto& [family, style] : kFaces)
            QTest::addRow("%s %s", qPrintable(family), qPrintable(style)) << family << style;
    }

    // The reference is HarfBuzz's own program, set from top to bottom.
    void stackedLikeHbShape_data() { eachFace_data(); }
    void stackedLikeHbShape()
    {
        QFETCH(QString, family);
        QFETCH(QString, style);
        const auto font = support::font(family, style);
        QVERIFY(font);
        const QString text = "KITE Fair, 7";
        const QJsonArray expected = hbShape(support::fontPath(family, style), text, {"--direction=ttb", "--script=latn"});
        LayoutSettings settings = inFontUnits(*font);
        settings.stacked = true;
        const auto layout = outline::layoutText(text.toStdString(), *font, settings, {});
        QVERIFY(layout);
        QCOMPARE(layout->glyphs.size(), static_cast<std::size_t>(expected.size()));
        double x = 0, y = 0;
        const double startX = layout->glyphs[0].origin.x - expected[0].toObject()["dx"].toDouble();
        const double startY = layout->glyphs[0].origin.y - expected[0].toObject()["dy"].toDouble();
        for (int i = 0; i < expected.size(); ++i) {
            const QJsonObject e = expected[i].toObject();
            const outline::PlacedGlyph& g = layout->glyphs[static_cast<std::size_t>(i)];
            QCOMPARE(static_cast<int>(g.glyph), e["g"].toInt());
            QVERIFY(near(g.origin.x - startX, x + e["dx"].toDouble()) && near(g.origin.y - startY, y + e["dy"].toDouble()));
            x += e["ax"].toDouble();
            y += e["ay"].toDouble();
        }
        // The first letter stands on the first baseline, the last one on the last.
        QVERIFY(near(layout->glyphs.front().origin.y, 0) && near(layout->glyphs.back().origin.y, layout->baselines.back(), 1));
    }

    // Japanese stands in columns with the face's own vertical glyphs (OpenType "vert": the long vowel's stroke, the comma, brackets).
    void japaneseStandsLikeHbShape()
    {
        const auto font = support::font("MotoyaLCedar", "Regular");
        QVERIFY(font);
        const QString text = QString::fromUtf8("凧あげ、ゲール「岬」");
        const QJsonArray expected = hbShape(support::fontPath("MotoyaLCedar", "Regular"), text, {"--direction=ttb"});
        LayoutSettings settings = inFontUnits(*font);
        const auto level = outline::layoutText(text.toStdString(), *font, settings, {});
        settings.stacked = true;
        const auto layout = outline::layoutText(text.toStdString(), *font, settings, {});
        QCOMPARE(layout->glyphs.size(), static_cast<std::size_t>(expected.size()));
        double y = 0;
        int vertical = 0;
        const outline::PlacedGlyph first = layout->glyphs[0];
        const QJsonObject begin = expected[0].toObject();
        for (int i = 0; i < expected.size(); ++i) {
            const QJsonObject e = expected[i].toObject();
            const outline::PlacedGlyph& g = layout->glyphs[static_cast<std::size_t>(i)];
            QCOMPARE(static_cast<int>(g.glyph), e["g"].toInt());
            QVERIFY(near(g.origin.x - first.origin.x, e["dx"].toDouble() - begin["dx"].toDouble()));
            QVERIFY(near(g.origin.y - first.origin.y, y + e["dy"].toDouble() - begin["dy"].toDouble()));
            y += e["ay"].toDouble();
            vertical += g.glyph != level->glyphs[static_cast<std::size_t>(i)].glyph;
        }
        QVERIFY(vertical >= 3);
    }

    // Columns: from the left, or from the right where they begin in such a script; aligned along their length.
    void columnsStandSideBySide()
    {
        const auto font = support::font("DejaVu Sans", "Book");
        QVERIFY(font);
        LayoutSettings settings;
        settings.sizePt = 100;
        settings.lineSpacing = 1.5;
        settings.stacked = true;
        settings.align = outline::Align::Start;
        const auto middles = [&](const std::string& text, std::vector<double>& tops) {
            const auto layout = outline::layoutText(text, *font, settings, {});
            std::map<int, std::pair<double, double>> columns;  // middle, highest
            for (const outline::PlacedGlyph& g : layout->glyphs) {
                const auto [column, isNew] = columns.try_emplace(g.line, g.middle, g.origin.y);
                column->second.second = std::max(column->second.second, g.origin.y);
            }
            std::vector<double> xs;
            tops.clear();
            for (const auto& [_, column] : columns) {
                xs.push_back(column.first);
                tops.push_back(column.second);
            }
            return xs;
        };
        std::vector<double> tops;
        QCOMPARE(middles("KITE\nAB\nI", tops), (std::vector<double>{-150, 0, 150}));
        QVERIFY(near(tops[0], tops[1]) && near(tops[1], tops[2]));
        const auto hanging = outline::layoutText("KITE", *font, settings, {});
        const double advance = (hanging->glyphs[0].origin.y - hanging->glyphs[3].origin.y) / 3;
        settings.align = outline::Align::End;
        (void)middles("KITE\nAB\nI", tops);
        QVERIFY(near(tops[0] - tops[1], 2 * advance) && near(tops[0] - tops[2], 3 * advance));
        settings.align = outline::Align::Centre;
        (void)middles("KITE\nAB\nI", tops);
        QVERIFY(near(tops[0] - tops[1], advance) && near(tops[0] - tops[2], 1.5 * advance));
        // Space after letters and tracking go down.
        settings.align = outline::Align::Start;
        settings.tracking = 200;
        const auto wide = outline::layoutText("KITE", *font, settings, {});
        QVERIFY(near(wide->glyphs[0].origin.y - wide->glyphs[3].origin.y, 3 * (advance + 20)));
        // U+3042 has no glyph here, what it says about the column counts all the same.
        settings.tracking = 0;
        QCOMPARE(middles("\u3042K\nAB", tops).front(), 75.0);
    }

    // A stretch of letters in another face or size is shaped like that face alone.
    void mixedStylesLikeHbShape_data() { eachFace_data(); }
    void mixedStylesLikeHbShape()
    {
        QFETCH(QString, family);
        QFETCH(QString, style);
        const auto usual = support::font("Lato", "Bold");
        const auto other = support::font(family, style);
        QVERIFY(usual && other);
        const QString text = "Offer AVATAR Waft";
        // "AVATAR" in the other face at 1.5 times the size, "Waft" in it at its usual size.
        LayoutSettings settings = inFontUnits(*usual);
        settings.styles.resize(17);
        for (std::size_t i = 6; i < 17; ++i)
            settings.styles[i] = i < 12 ? outline::LetterStyle{1, 1.5} : i > 12 ? outline::LetterStyle{1, 1} : outline::LetterStyle{};
        const auto layout = outline::layoutText(text.toStdString(), outline::Faces({usual, other}), settings, {});
        QVERIFY(layout);
        struct Stretch {
            QString before, text, after;
            int face;
            double scale;
        };
        const Stretch stretches[] = {{"", "Offer ", "AVATAR Waft", 0, 1},
                                     {"Offer ", "AVATAR", " Waft", 1, 1.5},
                                     {"Offer AVATAR", " ", "Waft", 0, 1},
                                     {"Offer AVATAR ", "Waft", "", 1, 1}};
        double pen = 0;
        std::size_t at = 0;
        for (const Stretch& s : stretches) {
            const outline::Font& font = s.face ? *other : *usual;
            const double scale = settings.sizePt * s.scale / font.unitsPerEm();
            for (const auto& value :
                 hbShape(support::fontPath(s.face ? family : "Lato", s.face ? style : "Bold"), s.text,
                         {"--direction=ltr", "--script=latn", "--text-before=" + s.before, "--text-after=" + s.after})) {
                const QJsonObject e = value.toObject();
                QVERIFY(at < layout->glyphs.size());
                const outline::PlacedGlyph& g = layout->glyphs[at++];
                QCOMPARE(static_cast<int>(g.glyph), e["g"].toInt());
                QCOMPARE(g.face, s.face);
                QCOMPARE(g.scale, s.scale);
                QVERIFY(near(g.origin.x, pen + e["dx"].toDouble() * scale, 0.05));
                pen += e["ax"].toDouble() * scale;
            }
        }
        QCOMPARE(at, layout->glyphs.size());
        QVERIFY(near(layout->widthPt, pen, 0.05));
    }

    // A second shaper, written by others in another language: fontkit 2.0 (MIT), from the npm registry.
    void shapesLikeFontkit_data() { eachFace_data(); }
    void shapesLikeFontkit()
    {
        QFETCH(QString, family);
        QFETCH(QString, style);
        const QString modules = OPEN_GLOW_SOURCE "/build/npm/node_modules";
        if (!QFile::exists(modules + "/fontkit"))
            QSKIP("fontkit is not there: run tools/npm-packages with a network");
        const auto font = support::font(family, style);
        QVERIFY(font && font->axes().empty());
        struct Case {
            const char* text;
            const char* features;  // ours
            QJsonObject theirs;
        };
        const Case cases[] = {{"AVATAR To. WAVE 1954", "", {}},
                              {"office affluent fjord", "", {}},
                              {"office affluent fjord", "liga=0", {{"liga", false}}},
                              {"Galepoint Kite Fair", "smcp=1", {{"smcp", true}}},
                              {"0123456789", "onum=1", {{"onum", true}}}};
        QByteArray lines;
        for (const Case& c : cases)
            lines += QJsonDocument(QJsonObject{{"text", c.text}, {"features", c.theirs}}).toJson(QJsonDocument::Compact) + "\n";
        QProcess node;
        auto environment = QProcessEnvironment::systemEnvironment();
        environment.insert("NODE_PATH", modules);
        node.setProcessEnvironment(environment);
        node.start("node", {OPEN_GLOW_SOURCE "/tests/npm/shape.js", support::fontPath(family, style)});
        node.write(lines);
        node.closeWriteChannel();
        QVERIFY(node.waitForFinished(60000) && node.exitCode() == 0);
        const QList<QByteArray> answers = node.readAllStandardOutput().trimmed().split('\n');
        QCOMPARE(answers.size(), static_cast<qsizetype>(std::size(cases)));
        for (qsizetype i = 0; i < answers.size(); ++i) {
            const Case& c = cases[i];
            LayoutSettings settings = inFontUnits(*font);
            settings.features = c.features;
            const auto layout = outline::layoutText(c.text, *font, settings, {});
            const QJsonArray expected = QJsonDocument::fromJson(answers[i]).array();
            QVERIFY2(layout->glyphs.size() == static_cast<std::size_t>(expected.size()), c.text);
            double pen = 0;
            for (qsizetype k = 0; k < expected.size(); ++k) {
                const QJsonArray e = expected[k].toArray();
                const outline::PlacedGlyph& g = layout->glyphs[static_cast<std::size_t>(k)];
                QVERIFY2(static_cast<int>(g.glyph) == e[0].toInt(), c.text);
                QVERIFY2(near(g.origin.x, pen + e[1].toDouble(), 0.6 * double(k + 1)), c.text);  // its advances are whole numbers
                pen += e[3].toDouble();
            }
        }
    }

    // The list against fontconfig's own program, kinds against what the faces are.
    void facesOfTheMachine()
    {
        const auto faces = outline::facesHere();
        std::set<std::string> families;
        std::set<std::pair<std::string, std::string>> seen;
        for (const outline::FaceHere& f : faces) {
            families.insert(f.family);
            QVERIFY2(seen.emplace(f.family, f.style).second, f.family.c_str());
            QVERIFY(QFile::exists(QString::fromStdString(f.path)));
        }
        std::set<std::string> expected;
        for (const QByteArray& line :
             support::run("fc-list", {":outline=true:variable=false:color=false", "--format=%{family[0]}\n"}).split('\n'))
            if (!line.isEmpty() && !line.startsWith('.'))
                expected.insert(line.toStdString());
        QVERIFY(families == expected);

        const auto kinds = [&](const char* family, const char* style) {
            for (const outline::FaceHere& f : faces)
                if (f.family == family && f.style == style)
                    return outline::kindsOf(f);
            return ~0u;
        };
        using namespace outline;
        QCOMPARE(kinds("Lato", "Black"), unsigned{Heavy});
        QCOMPARE(kinds("Lato", "Regular"), 0u);
        QCOMPARE(kinds("Bebas Neue", "Regular") & (Narrow | Heavy | Script), unsigned{Narrow});
        QVERIFY(kinds("Yanone Kaffeesatz", "Bold") & Narrow);
        QVERIFY(kinds("Roboto Slab", "Bold") & Slab);
        QVERIFY(kinds("Dancing Script", "Bold") & Script);
        QVERIFY(kinds("Quicksand", "Bold") & Rounded);
        QVERIFY(kinds("Comfortaa", "Bold") & Rounded);
        QVERIFY(!(kinds("League Spartan", "Bold") & (Rounded | Slab | Script | Blackletter)));
        QVERIFY(kinds("Blankenburg_UNZ1A", "Regular") & Blackletter);
        QCOMPARE(kindsOf({"No such", "face", "/nowhere.ttf"}), 0u);
    }

    // Faces that have a character, most like the one that lacks it first.
    void facesThatHaveACharacter()
    {
        const auto found = outline::findFontsWith(U'\u0416', "League Spartan", "Bold", 3);
        QVERIFY(!found.empty() && found.size() <= 3);
        std::set<std::string> families;
        for (const outline::FoundFont& f : found) {
            QVERIFY(families.insert(f.family).second);
            const auto font =
                outline::Font::open(std::make_shared<const outline::Bytes>(*base::readFile(f.path)), f.index, f.variations, "it");
            QVERIFY(font && (*font)->has(U'\u0416'));
        }
        QVERIFY(outline::findFontsWith(U'\U0010FFFD', "Lato", "", 3).empty());
    }
};

OPEN_GLOW_TEST(TestStyles)
#include "test_styles.moc"
