#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>
#include <random>
#include <set>
#include <sys/resource.h>

#include "base/file.h"
#include "files/form_start.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "solid/check.h"
#include "support/support.h"
#include "work/scene.h"

using work::Work;

namespace {

// A work in which nothing has its usual value.
Work odd()
{
    Work w = work::newWork("KÏTE\n凧", {"League Spartan", "Bold", "fonts/kite.otf", 0, "wght=700"}, {297, 420, work::Unit::Mm, 300});
    w.sheet().margin = 12;
    work::Piece& p = w.pieces.items.at("p1");
    p.name = "Title";
    p.form =
        solid::SlabForm{31.7, {2.5, 3.25, solid::Profile::Chamfer, 3, true}, {1, 2, solid::Profile::Roundover, 9}, solid::Corners::Mitred};
    p.material.piece = {{0.1f, 0.7f, 0.33f}, 0.6f, 0.17f, 0.5f, 0, "s7", {0.9f, 0.5f, 0.25f}, 1.75f, 0.8f, 0.25f, {0.125f, 0.5f, 1}, 0.75f};
    p.material.parts["backBevel"] = {*picture::rgbFromHex("#FFF1DC"), 1, 0.2f, 1, 0, {}};
    p.placement = {work::Stance::Free, 1.5, -2, 3, 4, 5, 6};
    p.locked = true;
    p.slab()->along = {30, 0.5, 4, -6, 12, 45, true};
    p.slab()->inlay = {1.5, -2.25, 0.75, solid::Profile::Ogee, 5, "M0 0 L1 1"};
    p.slab()->front.drawn = "M0 0 C0 0.5 0.5 1 1 1";
    p.slab()->grownOut = p.slab()->linked = true;
    p.slab()->draft = -4.5;
    p.slab()->flutes = {7, 1.25, "M0 0 L0.5 1 L1 0"};
    p.letters["a1"].form = solid::DomedForm{3, 0.75, 0.25, -0.5, 1.5, {0, 2}};
    p.letters["a4"].form = solid::TubeForm{2, 3, solid::TubePath::Outline, solid::TubeSection::Rope, 4, true, 5, false, 6, 7, true};
    p.letters["a5"].form = solid::BlockForm{9, false, 12, -34, 0.25};
    p.letters["a2"] = {solid::SlabForm{5, {}, {}, solid::Corners::Mitred}, {}, 1, 2, 3, 4};
    p.letters["a3"].material = p.material;
    p.steps.add("g4", {false, work::Grow{-1.5}});
    p.steps.add("g3", {true, work::Grow{2}});
    p.copies = {2, -10, 3, 12, 5, {0.1f, 0.2f, 0.3f}, 0.25};
    w.pieces.items["second"] = p;
    w.pieces.items["second"].hidden = true;
    w.pieces.order = {"second", "p1"};
    w.ground = {render::GroundKind::Sweep, 10, 20, 30, {{0.5f, 0.25f, 0.125f}, 0, 1, 0, 0, {}}, {}, {0.2f, 0.3f, 0.4f}, "s7"};
    w.view() = {true, 85, 10, 20, 30, 1, 2, 3, 0.5};
    w.viewLocked = true;
    w.views.items["v3"] = {"From the dunes", {true, 24, -30, 5, 0, 1, 2, 3, 2}};
    w.views.order = {"v3"};
    w.swatches.items["s7"] = {"Kite red", {0.9f, 0.1f, 0.05f}};
    w.swatches.order = {"s7"};
    w.meantSo = {"missing-glyph pieces/p1"};
    w.surroundings = {false, {0.9f, 0.8f, 0.7f}, "s7", 1};
    w.lights.items["l2"] = {"Key", light::LightKind::Spot, false, 1, 2, 300, 4, 5, 6, 7, 80, 9, {0.3f, 0.6f, 0.9f}, "s7", -2.5};
    w.finish = {-0.5, picture::ViewTransform::SoftWhites};
    work::Sheet& sheet = w.shownSheet();
    sheet.name = "Poster";
    sheet.x = 12;
    sheet.y = -3;
    sheet.shifts["p1"] = {1, -2, 3};
    sheet.outputs.items["o1"] = {"kite", work::FileFormat::Exr, 3000, true, false, {100, 10, 1.5}};
    sheet.outputs.add("o6", {"small", work::FileFormat::Png16, 400, false, true, {0, 0, 3}});
    work::Sheet banner = sheet;
    banner.size = {1500, 500, work::Unit::Px, 72};
    w.sheets.items["sh5"] = banner;
    w.sheets.order = {"sh5", "sh1"};
    w.nextId = 8;
    w.assets["fonts/kite.otf"] = {std::make_shared<const outline::Bytes>(outline::Bytes{1, 2, 3, 0, 255}), "OFL"};
    return w;
}

QByteArray read(const QString& path)
{
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

void write(const QString& path, const QByteArray& bytes)
{
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly) || file.write(bytes) != bytes.size())
        qFatal("cannot write");
}

}  // namespace

class TestWorkFile : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::string path(const char* name) { return m_folder.filePath(name).toStdString(); }

private Q_SLOTS:
    // Every form to begin with is read and makes closed bodies.
    void formsToBeginWith()
    {
        base::Notes notes;
        const auto forms = files::formStarts({files::formFolders().front()}, &notes);
        QVERIFY(forms.size() >= 12 && notes.empty());
        for (const files::FormStart& start : forms) {
            work::FontChoice font;
            font.style = "Bold";
            Work w = work::newWork("&B", font, {});
            w.pieces.items.at("p1").form = start.at(60);
            work::Cache cache;
            const auto bodies = work::makeBodies(w, 0.1, cache, {});
            QVERIFY2(bodies && !bodies->bodies.empty(), start.id.c_str());
            for (const work::WorkBody& body : bodies->bodies)
                QVERIFY2(solid::inspect(*body.body).closed() && solid::volume(*body.body) > 0, start.id.c_str());
        }
    }

    void whatWasSavedOpensEqual()
    {
        const Work work = odd();
        QVERIFY(files::saveWork(work, path("a.openglow")).has_value());
        const auto opened = files::openWork(path("a.openglow"));
        QVERIFY2(opened.has_value(), opened ? "" : base::oneLine(opened.error()).c_str());
        QVERIFY(*opened == work);
        QVERIFY(files::saveWork(*opened, path("b.openglow")).has_value());
        QCOMPARE(read(m_folder.filePath("a.openglow")), read(m_folder.filePath("b.openglow")));  // the same work, the same bytes
    }

    // Another ZIP reader finds the archive sound, the mimetype first and stored, and a preview.
    void theArchiveIsAnOpenOne()
    {
        picture::Raster<std::uint8_t> preview(20, 10, 3);
        QVERIFY(files::saveWork(odd(), path("c.openglow"), preview).has_value());
        int code = -1;
        support::run("unzip", {"-t", m_folder.filePath("c.openglow")}, &code);
        QCOMPARE(code, 0);
        const QString list = support::run("unzip", {"-Z1", m_folder.filePath("c.openglow")});
        QCOMPARE(list.split('\n', Qt::SkipEmptyParts), (QStringList{"mimetype", "work.json", "assets/fonts/kite.otf", "preview.png"}));
        QVERIFY(read(m_folder.filePath("c.openglow")).left(100).contains("mimetypeapplication/vnd.open-glow.work+zip"));
    }

    // python3-jsonschema holds the JSON against the published schema.
    void theJsonFollowsTheSchema()
    {
        write(m_folder.filePath("schema.json"), QByteArray::fromStdString(files::schema()));
        const char* check = "import json,sys,jsonschema\n"
                            "schema=json.load(open(sys.argv[1])); jsonschema.Draft202012Validator.check_schema(schema)\n"
                            "jsonschema.validate(json.load(open(sys.argv[2])),schema)\n";
        const auto valid = [&](const std::string& json) {
            write(m_folder.filePath("work.json"), QByteArray::fromStdString(json));
            int code = -1;
            support::run("/usr/bin/python3", {"-c", check, m_folder.filePath("schema.json"), m_folder.filePath("work.json")}, &code);
            return code == 0;
        };
        const std::string json = files::toJson(odd());
        QVERIFY(valid(json));
        QVERIFY(valid(files::toJson(work::newWork("KITE", {}, {}))));
        std::string wrong = json;
        wrong.replace(wrong.find("\"free\""), 6, "\"hung\"");
        QVERIFY(!valid(wrong));
    }

    void badJsonNamesThePlace_data()
    {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("place");
        QTest::newRow("wrong type") << "\"depthPt\": 31.7"
                                    << "\"depthPt\": \"deep\""
                                    << "/pieces/p1/form/depthPt";
        QTest::newRow("negative depth") << "\"depthPt\": 31.7"
                                        << "\"depthPt\": -1"
                                        << "/pieces/p1/form/depthPt";
        QTest::newRow("1e9 pt") << "\"depthPt\": 31.7"
                                << "\"depthPt\": 1e9"
                                << "/pieces/p1/form/depthPt";
        QTest::newRow("beyond all numbers") << "\"depthPt\": 31.7"
                                            << "\"depthPt\": 1e999"
                                            << "";
        QTest::newRow("NaN") << "\"depthPt\": 31.7"
                             << "\"depthPt\": NaN"
                             << "";
        QTest::newRow("half a step") << "\"steps\": 9"
                                     << "\"steps\": 2.5"
                                     << "/pieces/p1/form/back/steps";
        QTest::newRow("unknown choice") << "\"free\""
                                        << "\"hanging\""
                                        << "/pieces/p1/placement/stance";
        QTest::newRow("no kind") << "\"spot\""
                                 << "7"
                                 << "/lights/l2/kind";
        QTest::newRow("no colour") << "\"#FFF1DC\""
                                   << "\"cream\""
                                   << "/pieces/p1/material/parts/backBevel/baseColour";
        QTest::newRow("list for object") << "\"surroundings\": {"
                                         << "\"surroundings\": [], \"s\": {"
                                         << "/surroundings";
        QTest::newRow("newer version") << "\"version\": 2"
                                       << "\"version\": 3"
                                       << "/version";
        QTest::newRow("no version") << "\"version\": 2"
                                    << "\"edition\": 1"
                                    << "/version";
        QTest::newRow("another format") << "\"open-glow work\""
                                        << "\"shopping list\""
                                        << "/format";
        QTest::newRow("cut off") << "\"assets\""
                                 << ""
                                 << "";
    }
    void badJsonNamesThePlace()
    {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(QString, place);
        QString json = QString::fromStdString(files::toJson(odd()));
        const auto at = json.indexOf(from);
        QVERIFY(at > 0);
        json.replace(at, from.size(), to);
        const auto work = files::fromJson(json.toStdString());
        QVERIFY(!work.has_value());
        QCOMPARE(QString::fromStdString(work.error().place), place);
        QVERIFY(work.error().message.size() > 20);
        QVERIFY(work.error().message.find('\n') == std::string::npos);
    }

    // What can be mended is mended and told; nothing is lost by it.
    void whatDoesNotFitIsMended_data()
    {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("kind");
        QTest::newRow("order of strangers") << "\"second\",\n"
                                            << "\"third\",\n"
                                            << "order";
        QTest::newRow("order names one twice") << "\"second\",\n"
                                               << "\"p1\", \"second\",\n"
                                               << "order";
        QTest::newRow("nextId too small") << "\"nextId\": 8"
                                          << "\"nextId\": 2"
                                          << "next-id";
        QTest::newRow("letters with one id") << "\"a2\",\n"
                                             << "\"a1\",\n"
                                             << "letter-ids";
        QTest::newRow("two pieces of one id") << "\"second\": {"
                                              << "\"p1\": {"
                                              << "twice";
    }
    void whatDoesNotFitIsMended()
    {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(QString, kind);
        QString json = QString::fromStdString(files::toJson(odd()));
        const auto at = json.indexOf(from);
        QVERIFY(at > 0);
        json.replace(at, from.size(), to);
        base::Notes notes;
        auto work = files::fromJson(json.toStdString(), &notes);
        QVERIFY2(work.has_value(), work ? "" : base::oneLine(work.error()).c_str());
        QVERIFY(!notes.empty());
        QCOMPARE(QString::fromStdString(notes.front().kind), kind);
        QCOMPARE(work->pieces.items.size(), std::size_t{2});
        QCOMPARE(work->pieces.order.size(), std::size_t{2});
        for (const auto& [_, piece] : work->pieces.items)
            QCOMPARE(std::set<std::string>(piece.lettering()->letterIds.begin(), piece.lettering()->letterIds.end()).size(),
                     std::size_t{6});
        QVERIFY(!work->pieces.items.contains(work->newId("p")));
        work->assets = odd().assets;
        QVERIFY(files::saveWork(*work, path("mended.openglow")).has_value());
        base::Notes none;
        QVERIFY(files::openWork(path("mended.openglow"), &none).has_value());
        QVERIFY2(none.empty(), none.empty() ? "" : none.front().message.c_str());
    }

    // Hostile JSON is refused before it takes time or memory; each of these took seconds, gigabytes or the program.
    void hostileJsonIsRefused()
    {
        const std::string head = "{\"format\": \"open-glow work\", \"version\": 1, ",
                          word = "\"pieces\": {\"p1\": {\"lettering\": {\"text\": \"";
        const auto many = [](std::size_t count, const std::string& item) {
            std::string list;
            list.reserve(count * (item.size() + 1));
            for (std::size_t i = 0; i < count; ++i)
                list += (i ? "," : "") + item;
            return list;
        };
        const std::pair<const char*, std::string> cases[] = {
            {"nested under an unknown key", head + "\"x\": " + std::string(60000, '[') + std::string(60000, ']') + "}"},
            {"nested under a number", head + "\"nextId\": " + std::string(300, '[') + "}"},
            {"ten million zeros", head + "\"x\": [" + many(10'000'000, "0") + "]}"},
            {"a number of a million digits", head + "\"nextId\": 1" + std::string(1'000'000, '0') + "}"},
            {"a long text", head + word + std::string(1'000'000, 'A') + "\"}}}}"},
            {"too large", head + "\"x\": \"" + std::string(70u << 20, 'x') + "\"}"}};
        for (const auto& [name, json] : cases) {
            const auto work = files::fromJson(json);
            QVERIFY2(!work.has_value(), name);
            QVERIFY2(work.error().message.size() < 300, name);
        }
        // Many equal or many different ids are only many.
        std::string ids, swatches;
        for (int i = 0; i < 9000; ++i)
            swatches += (i ? "," : "") + std::string("\"s") + std::to_string(i) + "\": {}";
        QVERIFY(files::fromJson(head + "\"swatches\": {" + swatches + "}}").has_value());
        QVERIFY(!files::fromJson(head + "\"swatches\": {" + many(50000, "\"s1\": {}") + "}}").has_value());
        const auto letters =
            files::fromJson(head + word + std::string(100000, 'A') + "\", \"letterIds\": [" + many(100000, "\"a1\"") + "]}}}}");
        QVERIFY(letters.has_value());
        QCOMPARE(letters->pieces.items.at("p1").lettering()->letterIds.size(), std::size_t{100000});
        // A wrong value is repeated by its beginning alone.
        const auto wrong = files::fromJson(head + "\"sheet\": {\"unit\": \"" + std::string(500000, 'u') + "\"}}");
        QVERIFY(!wrong.has_value() && wrong.error().message.size() < 300);
    }

    // Works of every version that was ever landed open, with all they have.
    void worksOfEarlierVersionsOpen()
    {
        base::Notes notes;
        const auto opened = files::openWork(OPEN_GLOW_SOURCE "/tests/kept/0.1/kite.openglow", &notes);
        QVERIFY2(opened.has_value(), opened ? "" : base::oneLine(opened.error()).c_str());
        QVERIFY(notes.empty());
        const work::Piece& p = opened->pieces.items.at("p1");
        QCOMPARE(p.name, "Kite");
        QCOMPARE(p.copies.count, 1);
        QCOMPARE(p.letters.at("a1").roll, 12.0);
        QCOMPARE(p.letters.at("a1").material->piece.swatch, "s9");
        QVERIFY(p.material.parts.contains("side"));
        QCOMPARE(opened->lights.items.at("l7").name, "Evening");
        QVERIFY(opened->kept.find("newerThing") != std::string::npos);
        QVERIFY(opened->assets.at(p.lettering()->font.asset).bytes->size() > 1000);
        QVERIFY(files::saveWork(*opened, path("anew.openglow")).has_value());
        QVERIFY(*files::openWork(path("anew.openglow")) == *opened);
    }

    // What a newer version made of kinds that are not known here opens, is named, is saved as it was, and can be moved and deleted.
    void newerKindsAreKept()
    {
        QString json = QString::fromStdString(files::toJson(odd()));
        const auto change = [&](const char* from, const char* to) {
            QVERIFY2(json.contains(from), from);
            json.replace(json.indexOf(from), int(std::strlen(from)), to);
        };
        change("\"kind\": \"lettering\"", "\"kind\": \"kelp\", \"fronds\": [1, {\"a\": null}]");
        change("\"kind\": \"slab\"", "\"kind\": \"sponge\", \"pores\": 1e400");
        QVERIFY(!files::fromJson(json.toStdString()).has_value());  // no number there is
        change("1e400", "7");
        change("\"kind\": \"grow\"", "\"kind\": \"knit\", \"steps\": -3");
        change("\"kind\": \"spot\"", "\"kind\": \"firefly\", \"flight\": \"everywhere\"");
        base::Notes notes;
        auto work = files::fromJson(json.toStdString(), &notes);
        QVERIFY2(work.has_value(), work ? "" : work.error().message.c_str());
        QCOMPARE(std::count_if(notes.begin(), notes.end(), [](const base::Note& n) { return n.kind == "newer"; }), 4);
        QVERIFY(notes.front().message.find("newer version") != std::string::npos);
        work::Piece& p = work->pieces.items.at("p1");
        QVERIFY(!p.lettering() && !p.slab());
        QCOMPARE(std::get<work::Newer>(p.source).kind, "kelp");
        QVERIFY(!work->lights.items.at("l2").shines());
        work->assets = odd().assets;
        // What is known beside it can still be changed.
        p.placement.x = 77;
        p.steps.items.at("g4").on = !p.steps.items.at("g4").on;
        work->lights.items.at("l2").name = "Swarm";
        QVERIFY(files::saveWork(*work, path("newer.openglow")).has_value());
        const auto again = files::openWork(path("newer.openglow"));
        QVERIFY(*again == *work);
        QVERIFY(again->assets.contains("fonts/kite.otf"));  // who knows what it is for
        const QString saved = QString::fromStdString(files::toJson(*again));
        for (const char* kept : {"\"fronds\"", "\"pores\": 7", "\"steps\": -3", "\"everywhere\""})
            QVERIFY2(saved.contains(kept), kept);
        QCOMPARE(saved.count("\"kind\": \"firefly\""), 1);
        // It is not rendered, and its neighbours are.
        work::Work shown = *again;
        shown.pieces.items.at("second").hidden = false;
        shown.pieces.items.at("second").lettering()->font.asset.clear();
        work::Cache cache;
        const auto bodies = work::makeBodies(shown, 1, cache, {});
        QVERIFY(bodies.has_value());
        QVERIFY(std::none_of(bodies->bodies.begin(), bodies->bodies.end(), [](const work::WorkBody& b) { return b.piece == "p1"; }));
        QVERIFY(work::makeScene(shown, *bodies).lights.empty());
        // By hand no unknown kind comes in, but what is there may stay.
        QVERIFY(files::withValueAt(*again, "/pieces/p1/placement/x", "5").has_value());
        QCOMPARE(files::withValueAt(odd(), "/pieces/p1/form/kind", "sponge").error().place, "/pieces/p1/form/kind");
        // Gone is gone.
        work::Work without = *again;
        without.lights = {};
        QVERIFY(!QString::fromStdString(files::toJson(without)).contains("everywhere"));
    }

    // A work of format 1 becomes one of the present format, value by value; its pointers serve as short forms.
    void format1IsBroughtAlong()
    {
        const auto work = files::fromJson(R"({"format": "open-glow work", "version": 1,
            "sheet": {"width": 640, "height": 360}, "view": {"walk": 14}, "final": {"samples": 77},
            "pieces": {"p1": {"lettering": {"text": "KITE", "sizePt": 90, "calm": true}, "form": {"depthPt": 12},
                              "letters": {"a2": {"form": {"depthPt": 5}}}}}, "piecesOrder": ["p1"]})");
        QVERIFY2(work.has_value(), work ? "" : work.error().message.c_str());
        QCOMPARE(work->sheet().widthPx(), 640);
        QCOMPARE(work->view().walk, 14.0);
        QCOMPARE(work->output().stop.samples, 77u);
        const work::Piece& p = work->pieces.items.at("p1");
        QCOMPARE(p.lettering()->text, "KITE");
        QCOMPARE(p.slab()->depthPt, 12.0);
        QCOMPARE(work::depthOf(p.formOf("a2")), 5.0);
        QVERIFY(files::toJson(*work).find("\"calm\": true") != std::string::npos);  // unknown keys move along
        for (const auto& [shortForm, whole] : {std::pair{"/view/walk", "/sheets/sh1/view/walk"},
                                               {"/sheet/width", "/sheets/sh1/size/width"},
                                               {"/final/samples", "/sheets/sh1/outputs/o1/stop/samples"},
                                               {"/pieces/p1/lettering/sizePt", "/pieces/p1/source/sizePt"}})
            QVERIFY2(*files::withValueAt(*work, shortForm, "33") == *files::withValueAt(*work, whole, "33"), shortForm);
    }

    // Whatever is missing, there is a sheet to work on.
    void aSheetIsAlwaysThere()
    {
        const char* const head = R"({"format": "open-glow work", "version": 2, )";
        for (const char* rest : {R"("shown": "sh9"})", R"("sheets": {}, "sheetsOrder": []})", R"("sheets": {"sh4": {"outputs": {}}}})"}) {
            const auto work = files::fromJson(std::string(head) + rest);
            QVERIFY2(work.has_value(), rest);
            QCOMPARE(work->sheet().widthPx(), 1920);
            QCOMPARE(work->output().format, work::FileFormat::Png8);
        }
        QVERIFY(!files::withValueAt(odd(), "/shown", "sh9").has_value());
        QCOMPARE(files::withValueAt(odd(), "/shown", "sh5")->sheet().widthPx(), 1500);
    }

    void unknownKeysAreKept()
    {
        QString json = QString::fromStdString(files::toJson(odd()));
        json.replace("\"depthPt\": 31.7", "\"depthPt\": 31.7, \"twist\": {\"degrees\": 20}");
        json.replace("\"ground\": {", "\"mood\": [1, \"windy\"], \"ground\": {");
        auto work = files::fromJson(json.toStdString());
        QVERIFY(work.has_value());
        work->assets = odd().assets;
        QVERIFY(files::saveWork(*work, path("kept.openglow")).has_value());
        auto again = files::openWork(path("kept.openglow"));
        QVERIFY(*again == *work);
        QVERIFY(QString::fromStdString(files::toJson(*again)).contains("\"degrees\": 20"));
        QVERIFY(QString::fromStdString(files::toJson(*again)).contains("windy"));
        again->pieces.items.clear();  // what belonged to a piece goes with it
        again->pieces.order.clear();
        const QString without = QString::fromStdString(files::toJson(*again));
        QVERIFY(!without.contains("\"degrees\": 20") && without.contains("windy"));
        QVERIFY(files::fromJson(without.toStdString()).has_value());
    }

    // A work of before letters had ids, and one with hardly anything in it.
    void olderAndShorterWorksOpen()
    {
        const auto shortest = files::fromJson("{\"format\": \"open-glow work\", \"version\": 1}");
        QVERIFY(shortest.has_value());
        QVERIFY(shortest->pieces.order.empty());
        const auto plain = files::fromJson(
            "{\"format\": \"open-glow work\", \"version\": 1, \"pieces\": {\"p1\": {\"lettering\": {\"text\": \"KITE\"}}}}");
        QVERIFY(plain.has_value());
        QCOMPARE(plain->pieces.items.at("p1").lettering()->letterIds.size(), std::size_t{4});
        QCOMPARE(plain->pieces.order, std::vector<std::string>{"p1"});
    }

    void brokenFilesAreRefused()
    {
        QVERIFY(files::saveWork(odd(), path("good.openglow")).has_value());
        const QByteArray good = read(m_folder.filePath("good.openglow"));
        QByteArray flipped = good;
        flipped[flipped.indexOf("work.json") + 60] = char(flipped[flipped.indexOf("work.json") + 60] ^ 0x5a);
        const std::pair<const char*, QByteArray> cases[] = {{"empty", ""},
                                                            {"text", "Not a zip archive at all"},
                                                            {"cut in half", good.left(good.size() / 2)},
                                                            {"last byte missing", good.left(good.size() - 1)},
                                                            {"flipped", flipped}};
        for (const auto& [name, bytes] : cases) {
            write(m_folder.filePath("bad.openglow"), bytes);
            const auto work = files::openWork(path("bad.openglow"));
            QVERIFY2(!work.has_value(), name);
            QVERIFY2(QString::fromStdString(work.error().place).startsWith(m_folder.filePath("bad.openglow")), name);
        }
        QCOMPARE(files::openWork(path("nowhere.openglow")).error().code, base::ErrorCode::CannotRead);
        QCOMPARE(files::openWork(m_folder.path().toStdString()).error().code, base::ErrorCode::CannotRead);
    }

    // A save that fails, here for lack of room, leaves the old file and nothing else.
    void aFailedSaveLosesNothing()
    {
        QVERIFY(files::saveWork(odd(), path("safe.openglow")).has_value());
        const QByteArray before = read(m_folder.filePath("safe.openglow"));
        Work larger = odd();
        outline::Bytes noise(3 << 20);
        std::mt19937 random(1);
        for (std::uint8_t& byte : noise)
            byte = std::uint8_t(random());
        larger.assets["fonts/kite.otf"].bytes = std::make_shared<const outline::Bytes>(noise);
        rlimit old{};
        getrlimit(RLIMIT_FSIZE, &old);
        signal(SIGXFSZ, SIG_IGN);
        const rlimit tight{1 << 16, old.rlim_max};
        setrlimit(RLIMIT_FSIZE, &tight);
        const auto saved = files::saveWork(larger, path("safe.openglow"));
        setrlimit(RLIMIT_FSIZE, &old);
        QVERIFY(!saved.has_value());
        QCOMPARE(saved.error().code, base::ErrorCode::CannotWrite);
        QCOMPARE(saved.error().place, path("safe.openglow"));
        QCOMPARE(read(m_folder.filePath("safe.openglow")), before);
        QVERIFY(QDir(m_folder.path()).entryList({"*part*"}, QDir::Files | QDir::Hidden).isEmpty());
        QVERIFY(!files::saveWork(odd(), path("no/such/folder/x.openglow")).has_value());
    }

    // RFC 6901: ~1 is a slash, ~0 a tilde; "" is the whole document.
    void valuesAreSetByPointer()
    {
        const Work work = odd();
        const auto deeper = files::withValueAt(work, "/pieces/p1/form/depthPt", "80");
        QCOMPARE(deeper->pieces.items.at("p1").slab()->depthPt, 80.0);
        QCOMPARE(files::withValueAt(work, "/sheet/unit", "in")->sheet().unit, work::Unit::In);
        QCOMPARE(files::withValueAt(work, "/assets/fonts~1kite.otf/licence", "CC0")->assets.at("fonts/kite.otf").licence, "CC0");
        QCOMPARE(files::withValueAt(work, "/pieces/p1/name", "2026")->pieces.items.at("p1").name, "2026");
        const auto part = files::withValueAt(work, "/pieces/p1/material/parts/side", "{\"baseColour\": \"#102030\"}");
        QVERIFY(part->pieces.items.at("p1").material.parts.contains("side"));
        const auto renamed = files::withValueAt(work, "/pieces/p1/lettering/text", "KITES");
        QCOMPARE(renamed->pieces.items.at("p1").lettering()->letterIds[0], work.pieces.items.at("p1").lettering()->letterIds[0]);
        QVERIFY(renamed->assets.at("fonts/kite.otf").bytes);
        for (const auto& [pointer, value] : {std::pair{"/pieces/p9/form/depthPt", "1"},
                                             {"/pieces/p1/form/deepness", "1"},
                                             {"", "{}"},
                                             {"pieces", "1"},
                                             {"/pieces/p1/form/depthPt", "-3"},
                                             {"/pieces/p1/form/depthPt", "deep"}}) {
            const auto bad = files::withValueAt(work, pointer, value);
            QVERIFY2(!bad.has_value(), pointer);
            QCOMPARE(bad.error().place, pointer);
        }
    }
};

OPEN_GLOW_TEST(TestWorkFile)
#include "test_work_file.moc"
