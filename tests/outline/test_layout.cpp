#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>
#include <set>

#include "base/file.h"
#include "outline/layout.h"
#include "support/support.h"

using outline::Align;
using outline::LayoutSettings;

class TestLayout : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Axes, names and ranges as fontTools reads them from the fvar table.
    void axesAreThoseOfTheFile()
    {
        const auto found = outline::findFont("Inter", "Black");
        QVERIFY(found && found->exact);
        const auto opened = outline::Font::open(std::make_shared<const outline::Bytes>(*base::readFile(found->path)), found->index,
                                                found->variations, "Inter");
        QVERIFY(opened);
        const outline::Font* font = opened->get();
        const QByteArray script =
            "import sys, json\nfrom fontTools.ttLib import TTFont\nf = TTFont(sys.argv[1])\n"
            "print(json.dumps([[a.axisTag, f['name'].getDebugName(a.axisNameID), a.minValue, a.defaultValue, a.maxValue]"
            " for a in f['fvar'].axes if not a.flags & 1]))";
        const QJsonArray expected =
            QJsonDocument::fromJson(support::run("/usr/bin/python3", {"-c", script, QString::fromStdString(found->path)})).array();
        QVERIFY(!expected.isEmpty());
        QCOMPARE(font->axes().size(), std::size_t(expected.size()));
        for (qsizetype i = 0; i < expected.size(); ++i) {
            const outline::FontAxis& axis = font->axes()[std::size_t(i)];
            QCOMPARE(QString::fromStdString(axis.tag), expected[i][0].toString());
            QCOMPARE(QString::fromStdString(axis.name), expected[i][1].toString());
            QCOMPARE(axis.least, expected[i][2].toDouble());
            QCOMPARE(axis.usual, expected[i][3].toDouble());
            QCOMPARE(axis.most, expected[i][4].toDouble());
            if (axis.tag == "wght")
                QCOMPARE(axis.value, 900.0);  // the instance that fontconfig names Black
        }
        QVERIFY(support::font("Lobster Two")->axes().empty());
    }

    void oneAxisChangesAndTheOthersStay()
    {
        const outline::FontAxis weight{"wght", "Weight", 100, 400, 900, 400};
        QCOMPARE(outline::withVariation("", weight, 650), "wght=650");
        QCOMPARE(outline::withVariation("wdth=90,wght=300,slnt=-4", weight, 650), "wdth=90,slnt=-4,wght=650");
        QCOMPARE(outline::withVariation("wdth=90,wght=300", weight, 400), "wdth=90");
    }

    void shapesLikeHbShape_data()
    {
        QTest::addColumn<QString>("family");
        QTest::addColumn<QString>("style");
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("direction");
        QTest::newRow("kerning") << "League Spartan"
                                 << "Bold"
                                 << "AVATAR To. WAVE"
                                 << "ltr";
        QTest::newRow("ligatures") << "Linux Libertine O"
                                   << "Regular"
                                   << "office affluent"
                                   << "ltr";
        QTest::newRow("script face") << "Lobster Two"
                                     << "Bold Italic"
                                     << "Galepoint"
                                     << "ltr";
        QTest::newRow("joined, right to left") << "Amiri"
                                               << "Regular" << QString::fromUtf8("مهرجان الطائرات") << "rtl";
        QTest::newRow("marks") << "DejaVu Sans"
                               << "Book" << QString::fromUtf8("Dunes e\u0301t a\u0308") << "ltr";
        QTest::newRow("Devanagari: conjuncts, marks that move") << "Lohit Devanagari"
                                                                << "Regular" << QString::fromUtf8("पतंग क्षितिज श्री किरण") << "ltr";
        QTest::newRow("Japanese") << "MotoyaLCedar"
                                  << "Regular" << QString::fromUtf8("凧あげ祭り、ゲール岬") << "ltr";
        QTest::newRow("variable font") << "Inter"
                                       << "Regular"
                                       << "KITE 2026"
                                       << "ltr";
    }
    // The reference is HarfBuzz's own program on the same font and text.
    void shapesLikeHbShape()
    {
        QFETCH(QString, family);
        QFETCH(QString, style);
        QFETCH(QString, text);
        QFETCH(QString, direction);
        const auto font = support::font(family, style);
        QVERIFY(font);
        const QByteArray out = support::run("hb-shape", {"--output-format=json", "--no-glyph-names", "--direction=" + direction,
                                                         "--language=und", support::fontPath(family, style), text});
        const QJsonArray expected = QJsonDocument::fromJson(out).array();
        QVERIFY(expected.size() > 2);

        LayoutSettings settings;
        settings.sizePt = font->unitsPerEm();  // positions come out in font units
        settings.align = direction == "rtl" ? Align::End : Align::Start;
        const auto layout = outline::layoutText(text.toStdString(), *font, settings, {});
        QVERIFY(layout.has_value());
        QCOMPARE(layout->glyphs.size(), static_cast<std::size_t>(expected.size()));
        double pen = 0;
        const double start = layout->glyphs.front().origin.x - expected[0].toObject()["dx"].toDouble();
        for (int i = 0; i < expected.size(); ++i) {
            const QJsonObject e = expected[i].toObject();
            const outline::PlacedGlyph& g = layout->glyphs[static_cast<std::size_t>(i)];
            QCOMPARE(static_cast<int>(g.glyph), e["g"].toInt());
            QVERIFY(std::abs(g.origin.x - start - (pen + e["dx"].toDouble())) < 0.01);
            QVERIFY(std::abs(g.origin.y - e["dy"].toDouble()) < 0.01);
            pen += e["ax"].toDouble();
        }
        QVERIFY(std::abs(layout->widthPt - pen) < 0.01);
    }

    // Features of every face, each switched to the other side, against HarfBuzz's own program; and the list of them against fontTools.
    void featuresLikeHbShape_data()
    {
        QTest::addColumn<QString>("family");
        QTest::addColumn<QString>("style");
        const std::pair<const char*, const char*> faces[] = {{"Linux Libertine O", "Regular"},
                                                             {"Linux Libertine O", "Bold Italic"},
                                                             {"Linux Biolinum O", "Regular"},
                                                             {"Inter", "Regular"},
                                                             {"Lobster Two", "Bold Italic"},
                                                             {"League Spartan", "Bold"},
                                                             {"Junicode Two Beta", "Bold Italic"},
                                                             {"DejaVu Sans", "Book"},
                                                             {"Comfortaa", "Bold"},
                                                             {"Amiri", "Regular"},
                                                             {"Lato", "Black"},
                                                             {"Kristi", "Medium"},
                                                             {"Vollkorn", "Black"},
                                                             {"Roboto Slab", "Bold"},
                                                             {"Yanone Kaffeesatz", "Bold"},
                                                             {"Dancing Script", "Bold"},
                                                             {"Old Standard TT", "Italic"},
                                                             {"Oldania ADF Std", "Regular"},
                                                             {"Quicksand", "Bold"},
                                                             {"Leckerli One", "Regular"}};
        for (const auto& [family, style] : faces)
            QTest::addRow("%s %s", family, style) << family << style;
    }
    void featuresLikeHbShape()
    {
        QFETCH(QString, family);
        QFETCH(QString, style);
        const auto font = support::font(family, style);
        QVERIFY(font);
        const QString path = support::fontPath(family, style);
        const QByteArray script = "import sys, json\nfrom fontTools.ttLib import TTFont\nf = TTFont(sys.argv[1], fontNumber=0)\n"
                                  "t = set()\nfor n in ('GSUB', 'GPOS'):\n  if n in f: t |= {r.FeatureTag for r in "
                                  "f[n].table.FeatureList.FeatureRecord if n == 'GSUB' or "
                                  "r.FeatureTag == 'kern'}\nprint(json.dumps(sorted(t)))";
        const QJsonArray tags = QJsonDocument::fromJson(support::run("/usr/bin/python3", {"-c", script, path})).array();
        std::set<QString> there, listed;
        for (const auto& tag : tags)
            there.insert(tag.toString());
        for (const outline::FontFeature& f : font->features())
            QVERIFY2(there.contains(QString::fromStdString(f.tag)) && listed.insert(QString::fromStdString(f.tag)).second, f.tag.c_str());
        for (const char* tag : {"liga", "smcp", "onum", "frac", "ss01", "ss02", "salt", "swsh", "dlig", "kern"})
            QCOMPARE(listed.contains(tag), there.contains(tag));

        const QString text = "Office AVATAR Quick 1/2 (0) 1st";
        for (const outline::FontFeature& f : font->features()) {
            const bool on = !f.usual;
            LayoutSettings settings;
            settings.sizePt = font->unitsPerEm();
            settings.align = Align::Start;
            settings.features = outline::withFeature("", f, on);
            const auto layout = outline::layoutText(text.toStdString(), *font, settings, {});
            const QJsonArray expected =
                QJsonDocument::fromJson(
                    support::run("hb-shape", {"--output-format=json", "--no-glyph-names", "--direction=ltr", "--language=und",
                                              "--script=latn", "--features=" + QString::fromStdString(settings.features), path, text}))
                    .array();
            QCOMPARE(layout->glyphs.size(), static_cast<std::size_t>(expected.size()));
            double pen = 0;
            for (int i = 0; i < expected.size(); ++i) {
                const QJsonObject e = expected[i].toObject();
                const outline::PlacedGlyph& g = layout->glyphs[static_cast<std::size_t>(i)];
                QVERIFY2(static_cast<int>(g.glyph) == e["g"].toInt(), f.tag.c_str());
                QVERIFY2(std::abs(g.origin.x - (pen + e["dx"].toDouble())) < 0.01, f.tag.c_str());
                pen += e["ax"].toDouble();
            }
        }
    }

    void featuresAreSwitchedOneByOne()
    {
        const outline::FontFeature caps{"smcp", "Small capitals", false}, ligatures{"liga", "Ligatures", true};
        std::string features = outline::withFeature("", caps, true);
        QCOMPARE(features, "smcp=1");
        features = outline::withFeature(features, ligatures, false);
        QCOMPARE(features, "smcp=1,liga=0");
        QVERIFY(outline::isOn(features, caps) && !outline::isOn(features, ligatures) && outline::isOn("", ligatures));
        QCOMPARE(outline::withFeature(features, caps, false), "liga=0");
        // What is no feature changes nothing.
        const auto font = support::font("Lato", "Black");
        LayoutSettings odd;
        odd.features = "x y,=,smcp=1=2,,\xff";
        QVERIFY(outline::layoutText("Kite", *font, odd, {})->glyphs == outline::layoutText("Kite", *font, {}, {})->glyphs);
    }

    // UAX 9: in a left-to-right line, Hebrew runs to the left and the number after it stands left of it.
    void linesOfTwoDirections()
    {
        const auto font = support::font("DejaVu Sans", "Book");
        QVERIFY(font);
        const auto layout = outline::layoutText("ab \u05d0\u05d1 12", *font, {}, {});
        std::vector<int> letters;
        for (const outline::PlacedGlyph& g : layout->glyphs)
            letters.push_back(g.letter);
        QCOMPARE(letters, (std::vector<int>{0, 1, 2, 6, 7, 5, 4, 3}));
    }

    void linesAreAlignedAndSpaced()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        LayoutSettings settings;
        settings.sizePt = 50;
        settings.lineSpacing = 1.1;
        for (const Align align : {Align::Start, Align::Centre, Align::End}) {
            settings.align = align;
            const auto layout = outline::layoutText("KITE\nI", *font, settings, {});
            QCOMPARE(layout->baselines.size(), std::size_t{2});
            QVERIFY(layout->baselines[0] == 0 && std::abs(layout->baselines[1] + 55) < 1e-9);
            const double left = layout->glyphs.front().origin.x;
            const double expected = align == Align::Start ? 0 : align == Align::Centre ? -layout->widthPt / 2 : -layout->widthPt;
            QVERIFY(std::abs(left - expected) < 1e-9);
        }
    }

    // 1000 thousandths after each of three letters, none after the last; ligatures are off then.
    void trackingWidens()
    {
        const auto font = support::font("Linux Libertine O", "Regular");
        QVERIFY(font);
        LayoutSettings settings;
        settings.sizePt = 10;
        const auto plain = outline::layoutText("ffi", *font, settings, {});
        settings.tracking = 1000;
        const auto wide = outline::layoutText("ffi", *font, settings, {});
        QVERIFY(plain->glyphs.size() < 3);
        QCOMPARE(wide->glyphs.size(), std::size_t{3});
        const double between = wide->glyphs[2].origin.x - wide->glyphs[0].origin.x;  // two advances of f and twice 10 pt
        QVERIFY(between > 20 + 2 * 2 && between < 20 + 2 * 5);
        QVERIFY(std::abs(wide->widthPt - plain->widthPt - 20) < 1);
        QCOMPARE(plain->glyphs.front().letter, 0);  // a ligature belongs to its first letter
    }

    void missingGlyphIsANote()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        const auto layout = outline::layoutText("A\u4e00B", *font, {}, {});
        QVERIFY(layout.has_value());
        QCOMPARE(layout->glyphs.size(), std::size_t{2});
        QCOMPARE(layout->notes.size(), std::size_t{1});
        QCOMPARE(layout->notes[0].kind, "missing-glyph");
        QVERIFY(QString::fromStdString(layout->notes[0].message).contains("U+4E00"));
        QCOMPARE(layout->notes[0].place, "letter 2");
    }

    void veryLongTextIsRefusedWithTheLimit()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        QVERIFY(outline::layoutText(std::string(5000, 'K'), *font, {}, {}).has_value());
        const auto layout = outline::layoutText(std::string(10001, 'K'), *font, {}, {});
        QVERIFY(!layout.has_value());
        QVERIFY(QString::fromStdString(layout.error().message).contains("10000"));
    }

    void brokenFontsAreRefused()
    {
        const auto open = [](std::string bytes, int index = 0) {
            return outline::Font::open(std::make_shared<const outline::Bytes>(bytes.begin(), bytes.end()), index, "", "kite.ttf");
        };
        for (const std::string& bad : {std::string(), std::string("not a font at all"), std::string("OTTO\0\0\0\1", 8)}) {
            const auto font = open(bad);
            QVERIFY(!font.has_value());
            QCOMPARE(font.error().place, "kite.ttf");
        }
        QFile file(support::fontPath("League Spartan", "Bold"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray whole = file.readAll();
        QVERIFY(!open(whole.left(300).toStdString()).has_value());
        QVERIFY(!open(whole.toStdString(), 3).has_value());
        QVERIFY(open(whole.toStdString()).has_value());
    }

    // By hand a pair is kerned by exactly so much; what follows goes along, whichever way the text runs.
    void kerningByHand()
    {
        const auto spartan = support::font("League Spartan", "Bold");
        QVERIFY(spartan);
        outline::LayoutSettings settings;
        settings.sizePt = 100;
        settings.align = outline::Align::Start;
        const auto plain = outline::layoutText("AVATAR", *spartan, settings, {});
        settings.styles = {{}, {0, 1, -50}, {}, {0, 1, 120}};
        const auto kerned = outline::layoutText("AVATAR", *spartan, settings, {});
        QVERIFY(plain && kerned);
        const double by[] = {0, 0, -5, -5, 7, 7};
        for (std::size_t i = 0; i < 6; ++i)
            QVERIFY(std::abs(kerned->glyphs[i].origin.x - plain->glyphs[i].origin.x - by[i]) < 1e-9);
        QVERIFY(std::abs(kerned->widthPt - plain->widthPt - 7) < 1e-9);
        const auto hebrew = support::font("Noto Sans Hebrew");
        if (!hebrew)
            return;
        settings.styles = {};
        const std::string word = "\u05d0\u05d1\u05d2";
        const auto before = outline::layoutText(word, *hebrew, settings, {});
        settings.styles = {{0, 1, 80}};
        const auto after = outline::layoutText(word, *hebrew, settings, {});
        QVERIFY(before && after);
        // The first letter stands right: what follows it moves left of it.
        const auto gap = [](const outline::Layout& l) { return l.glyphs[2].origin.x - l.glyphs[1].origin.x; };
        QVERIFY(std::abs(gap(*after) - gap(*before) - 8) < 1e-9);
    }

    void justifiedLinesAreAllAsWide()
    {
        const auto spartan = support::font("League Spartan", "Bold");
        QVERIFY(spartan);
        outline::LayoutSettings settings;
        settings.sizePt = 60;
        settings.align = outline::Align::Justified;
        const auto layout = outline::layoutText("GALEPOINT KITE FAIR\nON THE DUNES\nMAY\n\nI", *spartan, settings, {});
        QVERIFY(layout);
        std::map<int, std::pair<double, double>> lines;
        std::map<int, int> letters;
        for (const outline::PlacedGlyph& g : layout->glyphs) {
            auto [at, isNew] = lines.try_emplace(g.line, g.middle - g.advance / 2, g.middle + g.advance / 2);
            at->second.first = std::min(at->second.first, g.middle - g.advance / 2);
            at->second.second = std::max(at->second.second, g.middle + g.advance / 2);
            ++letters[g.line];
        }
        for (const auto& [line, ends] : lines)
            if (letters[line] > 1) {
                QVERIFY(std::abs(ends.first + layout->widthPt / 2) < 1e-6);
                QVERIFY(std::abs(ends.second - layout->widthPt / 2) < 1e-6);
            }
        // A single letter stays in the middle. Words keep their letters together, a single word is spaced.
        QVERIFY(std::abs(lines.at(4).first + lines.at(4).second) < 1e-6);
        settings.align = outline::Align::Centre;
        const auto centred = outline::layoutText("GALEPOINT KITE FAIR\nON THE DUNES\nMAY\n\nI", *spartan, settings, {});
        const auto step = [](const outline::Layout& l, std::size_t i) { return l.glyphs[i + 1].origin.x - l.glyphs[i].origin.x; };
        const std::size_t on = 19, may = on + 12;  // first glyphs of the second and third line
        QVERIFY(std::abs(step(*layout, on) - step(*centred, on)) < 1e-6);
        QVERIFY(step(*layout, may) > step(*centred, may) + 10);
    }

    void capitalsAreShownNotTyped()
    {
        const auto spartan = support::font("League Spartan", "Bold");
        QVERIFY(spartan);
        outline::LayoutSettings settings;
        const auto typed = outline::layoutText("KITE F\u00c4IR 7", *spartan, settings, {});
        settings.capitals = true;
        const auto shown = outline::layoutText("Kite f\u00e4ir 7", *spartan, settings, {});
        QVERIFY(typed && shown);
        QVERIFY(shown->glyphs == typed->glyphs);
    }
};

OPEN_GLOW_TEST(TestLayout)
#include "test_layout.moc"
