// Codes for machines, read back by another library's reader, and flat pieces.
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "finish/develop.h"
#include "support/support.h"
#include "work/codes.h"
#include "work/scene.h"

namespace {

// A white sheet of 300 pt with a layer, at `px` pixels, as a PPM file.
void write(const QString& path, const work::Work& w, int px)
{
    finish::DevelopSettings settings = work::developSettingsOf(w, false);
    settings.desk = {{1, 1, 1}};
    settings.backdrop = {1, 1, 1};
    const film::LightShares nothing({px, px, 0, 0, px, px, {{"l1"}}});
    const auto seen = finish::to8Bits(finish::develop(nothing, settings));
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray("P6\n" + QByteArray::number(px) + " " + QByteArray::number(px) + "\n255\n"));
    file.write(reinterpret_cast<const char*>(seen.values.data()), qint64(seen.values.size()));
}

QString read(const QString& path)
{
    QProcess zbar;
    zbar.start("zbarimg", {"--quiet", "--nodbus", path});
    zbar.waitForFinished();
    return QString::fromUtf8(zbar.readAllStandardOutput()).trimmed();
}

}  // namespace

class TestCodes : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // What is written is read by zbar: an address, other scripts, an EAN with its digit checked or added; large, small and turned colours.
    void readBack()
    {
        QTemporaryDir folder;
        const struct {
            finish::CodeForm form;
            std::string text;
            const char* read;
        } cases[] = {{finish::CodeForm::Qr, "https://kites.example/galepoint?day=2", "QR-Code:https://kites.example/galepoint?day=2"},
                     {finish::CodeForm::Qr, "Drachenfest D\u00fcne \u51e7", "QR-Code:Drachenfest D\u00fcne \u51e7"},
                     // 4006381333931 is the example that GS1's check digit calculation is often shown with; from memory
                     {finish::CodeForm::Ean13, "400638133393", "EAN-13:4006381333931"},
                     {finish::CodeForm::Ean13, "4006381333931", "EAN-13:4006381333931"}};
        for (const auto& c : cases)
            for (const int px : {300, 900}) {
                work::Work w = work::newWork("A", {}, {300, 300, work::Unit::Pt, 72});
                work::Layer layer;
                finish::Code code;
                code.form = c.form;
                code.text = c.text;
                code.size = 200;
                code.x = 11;
                code.colour = {0.02f, 0, 0.05f};
                layer.what = code;
                w.finish.layers.add("y1", layer);
                const QString path = folder.filePath("code.ppm");
                write(path, w, px);
                QCOMPARE(read(path), QString::fromUtf8(c.read));
            }
    }

    // What such codes cannot say is refused in words, and nothing is printed.
    void refused()
    {
        for (const char* text : {"", "12345", "4006381333932", "40063813339X", "12345678901234"}) {
            const auto made = work::codeOf(finish::CodeForm::Ean13, text);
            QVERIFY2(!made && made.error().message.size() > 20, text);
        }
        QVERIFY(!work::codeOf(finish::CodeForm::Qr, ""));
        QVERIFY(!work::codeOf(finish::CodeForm::Qr, std::string(9000, 'x')));
        work::Work w = work::newWork("A", {}, {300, 300, work::Unit::Pt, 72});
        work::Layer layer;
        layer.what = finish::Code{finish::CodeForm::Ean13, "12"};
        w.finish.layers.add("y1", layer);
        QVERIFY(!std::get<finish::Code>(work::layersOf(w).front().what).bars);
    }

    // A flat piece is no body, and nothing of it is in the film: its text, face and place change without a render. Its area is that of
    // its outlines, where it lies on the sheet.
    void flatPieces()
    {
        work::Work w = work::newWork("A", {}, {300, 300, work::Unit::Pt, 72});
        work::Piece other = w.pieces.items.begin()->second;
        work::setText(other, "small type");
        other.lettering()->fits = false;
        other.lettering()->layout.sizePt = 20;
        other.placement.y = -100;
        w.pieces.add("p9", other);
        work::Cache cache;
        const auto two = work::makeBodies(w, 0.1, cache, {});
        work::Layer layer;
        layer.what = finish::Print{"p9", nullptr, {0, 0, 0}, {}};
        const work::Work before = w;
        w.finish.layers.add("y1", layer);
        QVERIFY(work::isFlat(w, "p9") && !work::isFlat(w, "p1"));
        const auto one = work::makeBodies(w, 0.1, cache, {});
        QVERIFY(two && one && one->bodies.size() < two->bodies.size());
        QCOMPARE(int(work::reworkBetween(before, w)), int(work::Rework::Expose));
        work::Work changed = w;
        work::setText(changed.pieces.items.at("p9"), "other words");
        changed.pieces.items.at("p9").placement.x = 20;
        QCOMPARE(int(work::reworkBetween(w, changed)), int(work::Rework::Mix));
        changed.finish.layers.items.at("y1").on = false;
        QCOMPARE(int(work::reworkBetween(w, changed)), int(work::Rework::Mix));
        // Where another piece is made with it, it counts.
        work::OutlineStep step;
        step.what = work::Combine{outline::How::Subtract, "p9"};
        w.pieces.items.at(w.pieces.order.front()).steps.add("g1", step);
        changed = w;
        work::setText(changed.pieces.items.at("p9"), "other words");
        QCOMPARE(int(work::reworkBetween(w, changed)), int(work::Rework::Expose));
        const auto shape = std::get<finish::Print>(work::layersOf(w).front().what).shape;
        QVERIFY(shape && !shape->empty());
        for (const auto& line : *shape)
            for (const base::Vec2& p : line)
                QVERIFY(p.y > -115 && p.y < -80 && std::abs(p.x) < 80);
    }
};

OPEN_GLOW_TEST(TestCodes)
#include "test_codes.moc"
