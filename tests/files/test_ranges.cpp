// Every property below, at and above its range, through --set, through an edit, through a gesture and through the file: always a work
// that opens again as it was, or a clear refusal.
#include <QTemporaryDir>
#include <QtTest>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "files/work_file.h"
#include "files/work_json.h"
#include "session/gesture.h"
#include "session/gestures.h"
#include "support/support.h"
#include "work/values.h"

namespace {

using Json = nlohmann::ordered_json;

// A work in which every struct of the table is there at least once.
work::Work full()
{
    work::Work w = work::newWork("KA\nB", {}, {});
    work::Piece& p = w.pieces.items.at("p1");
    p.material.parts["side"] = p.material.piece;
    p.letters["a1"].form = solid::SlabForm{5, {1, 1}, {}, solid::Corners::Mitred};
    p.letters["a2"].form = solid::DomedForm{2, 1.2, 0.5, -0.5, 1};
    p.letters["a4"].form = solid::TubeForm{3, 1, solid::TubePath::Centre, solid::TubeSection::Rope, 1, true};
    p.letters["a1"].material = p.material;
    p.letters["a1"].roll = 3;
    p.copies.count = 1;
    w.swatches.items[w.newId("s")] = {"Sand", {0.9f, 0.8f, 0.6f}};
    w.swatches.order = {w.swatches.items.begin()->first};
    p.steps.add(w.newId("g"), {true, work::Grow{2}});
    w.shownSheet().shifts["p1"] = {1, 2, 3};
    w.views.items[w.newId("v")] = {"Dunes", {}};
    w.views.order = {w.views.items.begin()->first};
    return w;
}

struct Property {
    std::string pointer;
    double least = 0, most = 0;
    bool whole = false;
};

// All numbers of the schema, at the places they have in this work.
void collect(const Json& schema, const Json& value, const std::string& pointer, std::vector<Property>& found)
{
    if (schema.contains("minimum"))
        found.push_back({pointer, schema["minimum"], schema["maximum"], schema["type"] == "integer"});
    if (!value.is_object())
        return;
    if (schema.contains("anyOf"))
        for (const Json& kind : schema["anyOf"])
            if (kind["properties"]["kind"].value("const", Json()) == value["kind"])
                collect(kind, value, pointer, found);
    for (const auto& [key, inner] : value.items())
        if (schema.contains("properties") && schema["properties"].contains(key))
            collect(schema["properties"][key], inner, pointer + "/" + key, found);
        else if (schema.contains("additionalProperties"))
            collect(schema["additionalProperties"], inner, pointer + "/" + key, found);
}

std::vector<Property> properties()
{
    std::vector<Property> found;
    collect(Json::parse(files::schema()), Json::parse(files::toJson(full())), "", found);
    std::erase_if(found, [](const Property& p) { return p.pointer == "/version"; });
    return found;
}

}  // namespace

class TestRanges : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;

    // Empty when the work is saved and opens as it was.
    QString wrongWith(const work::Work& work)
    {
        const std::string path = m_folder.filePath("r.openglow").toStdString();
        if (auto saved = files::saveWork(work, path); !saved)
            return QString::fromStdString(base::oneLine(saved.error()));
        const auto opened = files::openWork(path);
        if (!opened)
            return QString::fromStdString(base::oneLine(opened.error()));
        return *opened == work ? QString() : QStringLiteral("it opens as another work");
    }

private Q_SLOTS:
    void throughSet()
    {
        const work::Work work = full();
        const std::vector<Property> all = properties();
        QVERIFY2(all.size() > 90, qPrintable(QString::number(all.size())));
        for (const Property& p : all) {
            const double beyond = std::max(1.0, (p.most - p.least) / 1000);
            for (const double value : {p.least, p.most}) {
                const auto changed = files::withValueAt(work, p.pointer, fmt::format("{}", value));
                QVERIFY2(changed.has_value(), p.pointer.c_str());
                QVERIFY2(wrongWith(*changed).isEmpty(), (p.pointer + " " + wrongWith(*changed).toStdString()).c_str());
            }
            for (const std::string& value :
                 {fmt::format("{}", p.least - beyond), fmt::format("{}", p.most + beyond), std::string("\"x\""), std::string("1e999")}) {
                const auto refused = files::withValueAt(work, p.pointer, value);
                QVERIFY2(!refused.has_value(), (p.pointer + " = " + value).c_str());
                QCOMPARE(refused.error().place, p.pointer);
                QVERIFY(refused.error().message.size() > 20);
            }
        }
    }

    // What the program itself writes is clamped: by the same table, so also where an edit has gone far out of range.
    void throughEdits()
    {
        const auto everyNumber = [&](double value) {
            session::Session s(full());
            s.edit("Far", [&](work::Work& w) {
                const auto set = [&](auto& thing) {
                    for (const work::Value& v : work::valuesIn(thing))
                        if (auto* number = std::get_if<work::NumberAt>(&v.at); number && !number->isWhole())
                            number->set(value);
                        else if (auto* colour = std::get_if<work::ColourAt>(&v.at))
                            *colour->colour = {static_cast<float>(value), 0, 0};
                        else if (auto* text = std::get_if<std::string*>(&v.at); text && (*text)->empty())
                            **text = std::string(5000, 'x') + "\u00e9";
                };
                work::Piece& p = w.pieces.items.at("p1");
                set(p.placement);
                set(*p.slab());
                set(p.slab()->front);
                set(p.copies);
                set(p.material.piece);
                set(p.letters.at("a1"));
                set(*p.lettering());
                set(w.ground);
                set(w.view());
                set(w.lights.items.begin()->second);
                set(w.surroundings);
                set(w.finish);
                set(w.output().stop);
                w.sheet().margin = value;
            });
            return s.work();
        };
        for (const double value :
             {-1e300, 1e300, std::nan(""), std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()})
            QVERIFY2(wrongWith(everyNumber(value)).isEmpty(), qPrintable(QString::number(value) + ": " + wrongWith(everyNumber(value))));
    }

    // A sheet that grows and shrinks without end takes lengths along only as far as they go.
    void throughTheSheet()
    {
        session::Session s(full());
        for (const double side : {0.01, 100000.0, 0.01, 100000.0}) {
            s.edit("Sheet", [&](work::Work& w) {
                work::SheetSize sheet{side, side, work::Unit::In, 72};
                const double before = std::min(w.sheet().widthPt(), w.sheet().heightPt());
                w.sheet() = sheet;
                work::grow(w, sheet.widthPt() / before);
            });
            QVERIFY2(wrongWith(s.work()).isEmpty(), qPrintable(wrongWith(s.work())));
        }
    }

    void throughGestures()
    {
        session::Session s(full());
        const std::vector<session::MoveDrag::Item> items{{"p1", ""}, {"p1", "a2"}};
        for (const double far : {1e9, -1e9}) {
            session::Gesture move(s, "Move");
            QVERIFY(move.move([&](work::Work& w) { w = session::nudged(w, items, {far, far, far}); }));
            move.end();
            session::Gesture turn(s, "Turn");
            QVERIFY(turn.move([&](work::Work& w) { w = session::turned(w, items, far); }));
            turn.end();
            session::Gesture walk(s, "Walk");
            QVERIFY(walk.move([&](work::Work& w) { w.view() = session::walked(w.view(), far + 1, far); }));
            walk.end();
            session::Gesture deep(s, "Depth");
            QVERIFY(deep.move([&](work::Work& w) { w.pieces.items.at("p1").slab()->depthPt += far; }));
            deep.end();
            QVERIFY2(wrongWith(s.work()).isEmpty(), qPrintable(wrongWith(s.work())));
        }
        QCOMPARE(s.work().pieces.items.at("p1").placement.x, -1e6);
    }
};

OPEN_GLOW_TEST(TestRanges)
#include "test_ranges.moc"
