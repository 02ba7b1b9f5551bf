// Makes the pictures of docs/screenshots and of the guide from the demo, by driving the window: build the target
// make_screenshots and run it with the names of the pictures that are wanted, or none for all.
#include <QApplication>
#include <QDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QListWidget>
#include <QMenuBar>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QSlider>
#include <QTemporaryDir>
#include <QToolButton>
#include <QtTest>
#include <cstdio>

#include "app/drawer/profile_view.h"
#include "app/picture/hands.h"
#include "app/style.h"
#include "app/ticket/letter_sample.h"
#include "app/window/artwork_files.h"
#include "app/window/finals.h"
#include "app/window/help.h"
#include "app/window/main_window.h"
#include "app/window/picture_files.h"
#include "files/material_sample.h"
#include "files/work_file.h"
#include "session/edits.h"
#include "session/lines.h"
#include "work/fonts.h"
#include "work/pictures.h"
#include "work/starts.h"
#include "work/surroundings.h"

namespace {

using app::MainWindow;

const QString kDocs = OPEN_GLOW_SOURCE "/docs/screenshots/", kGuide = OPEN_GLOW_SOURCE "/assets/guide/";

void settle(MainWindow& window, int samples = 64)
{
    window.setLiveStop({static_cast<std::uint32_t>(samples), 0, 0});
    QElapsedTimer timer;
    timer.start();
    while (!window.isSettled() && timer.elapsed() < 300000)
        QTest::qWait(50);
    QTest::qWait(50);
}

// Pictures side by side with their names, in docs.
void contactSheet(const std::vector<std::pair<QString, work::Work>>& samples, const char* name)
{
    constexpr int kSide = 150, kAcross = 10, kText = 22, kGap = 8;
    const int rows = (static_cast<int>(samples.size()) + kAcross - 1) / kAcross;
    QImage sheet(kAcross * (kSide + kGap) + kGap, rows * (kSide + kText + kGap) + kGap, QImage::Format_RGB888);
    sheet.fill(Qt::white);
    QPainter painter(&sheet);
    painter.setPen(Qt::black);
    painter.setFont(QFont(painter.font().family(), 8));
    for (int i = 0; i < static_cast<int>(samples.size()); ++i) {
        const auto& [title, shown] = samples[static_cast<std::size_t>(i)];
        const QPoint at(kGap + i % kAcross * (kSide + kGap), kGap + i / kAcross * (kSide + kText + kGap));
        painter.drawImage(at, app::renderedSample(shown, kSide, base::Progress()));
        painter.drawText(QRect(at + QPoint(0, kSide), QSize(kSide, kText)), Qt::AlignCenter, title);
    }
    painter.end();
    if (!sheet.save(QString(OPEN_GLOW_SOURCE "/docs/") + name, "JPEG", 88))
        qFatal("cannot write %s", name);
}

work::Work letter()
{
    return work::newWork("Ka", {"League Spartan", "ExtraBold"}, {});
}

work::Work letterSample()
{
    const work::Work work = letter();
    work::Work sample = app::sampleOf(work, work.pieces.items.begin()->second);
    work::useSurroundings(sample, *work::readySurroundings("window-wall"));
    return sample;
}

std::vector<std::pair<QString, work::Work>> materialSamples()
{
    std::vector<std::pair<QString, work::Work>> samples;
    for (const files::MaterialSample& material : files::materialSamples({files::materialFolders().front()})) {
        work::Work work = letter();
        work::Piece& piece = work.pieces.items.begin()->second;
        piece.material = {material.material, {}};
        samples.emplace_back(QString::fromStdString(material.name), app::sampleOf(work, piece));  // as the sample book shows them
    }
    return samples;
}

// On chrome, gold and white plastic.
std::vector<std::pair<QString, work::Work>> surroundingsSamples()
{
    std::vector<std::pair<QString, work::Work>> samples;
    const auto materials = files::materialSamples({files::materialFolders().front()});
    for (const char* id : {"chrome", "gold", "matte-white-plastic"}) {
        const auto found = std::find_if(materials.begin(), materials.end(), [&](const auto& m) { return m.id == id; });
        for (const work::ReadySurroundings& ready : work::readySurroundings()) {
            work::Work sample = letterSample();
            for (auto& [_, light] : sample.lights.items)
                light.on = false;
            sample.surroundings.stops = -1;
            sample.surroundings.kind = work::SurroundingsKind::Even;
            work::useSurroundings(sample, ready);
            sample.pieces.items.begin()->second.material = {found->material, {}};
            samples.emplace_back(ready.name, std::move(sample));
        }
    }
    return samples;
}

std::unique_ptr<MainWindow> demo()
{
    auto window = std::make_unique<MainWindow>();
    window->resize(1280, 800);
    window->show();
    window->resize(1280, 800);  // larger than the platform's screen, which it would keep to
    window->files()->openDemo();
    window->finals()->setPath("/home/gale/Posters/gale-point.png");
    return window;
}

void open(MainWindow& window, const char* section)
{
    window.ticket()->section(section)->setOpen(true);
    QTest::qWait(50);
}

void chooseLetter(MainWindow& window, std::size_t letter)
{
    const std::string piece = window.session().work().pieces.order.front();
    session::Choice choice;
    choice.set({piece, window.session().work().pieces.items.at(piece).letterIds()[letter]});
    window.session().choose(choice);
}

void save(const QPixmap& picture, const QString& path)
{
    picture.save(path);
    std::printf("%s\n", qPrintable(path));
}

// A print for kites: waves and suns.
QImage sailCloth()
{
    QImage cloth(480, 320, QImage::Format_RGB32);
    cloth.fill(QColor("#F3E9D2"));
    QPainter painter(&cloth);
    painter.setRenderHint(QPainter::Antialiasing);
    const QColor blues[] = {"#0E4A5C", "#2A7F8E", "#7FB8B2"};
    for (int band = 0; band < 6; ++band) {
        QPainterPath wave(QPointF(0, 40 + 53.3 * band));
        for (int x = 0; x < 480; x += 80)
            wave.cubicTo(x + 27, 20 + 53.3 * band, x + 53, 60 + 53.3 * band, x + 80, 40 + 53.3 * band);
        painter.strokePath(wave, QPen(blues[band % 3], 14));
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor("#E8664F"));
    for (const QPointF sun : {QPointF(120, 90), QPointF(360, 90), QPointF(240, 250), QPointF(0, 250), QPointF(480, 250)})
        painter.drawEllipse(sun, 30, 30);
    return cloth;
}

// On the first piece.
void layPicture(MainWindow& window, const QImage& picture)
{
    const QTemporaryDir folder;
    const QString path = folder.filePath("sail-cloth.png");
    picture.save(path);
    window.pictures()->lay(path, "Picture", [](work::Work& w, const std::string& asset) {
        for (work::Material* m : work::materialsIn(w.pieces.items.at(w.pieces.order.front())))
            work::layPicture(*m, asset, 480);
    });
    const auto isThere = [&] {
        const auto& assets = window.session().work().assets;
        return std::any_of(assets.begin(), assets.end(), [](const auto& a) { return work::isPicture(a.first); });
    };
    (void)QTest::qWaitFor(isThere, 30000);
}

// A busy work: twelve pieces on a wide sheet.
work::Work twelve()
{
    work::Work w = work::newWork("GALEPOINT", {}, {1920, 1080, work::Unit::Px, 72});
    const char* const words[] = {"KITE", "FAIR", "DUNES", "WIND", "TAIL", "LINE", "REEL", "LIFT", "SAND", "GUST", "SEA"};
    int i = 0;
    w.pieces.items.begin()->second.placement.y = 330;
    work::scaleTo(w.pieces.items.begin()->second, 200);
    for (const char* word : words) {
        const std::string id = session::addLettering(w, word);
        work::Piece& p = w.pieces.items.at(id);
        work::scaleTo(p, 110);
        p.placement.x = (i % 4 - 1.5) * 420;
        p.placement.y = 60 - (i / 4) * 190;
        p.placement.roll = (i % 3 - 1) * 6;
        p.material.piece.baseColour = *picture::rgbFromHex(i % 3 == 0 ? "#E2563A" : i % 3 == 1 ? "#F0B93A" : "#2C7FA3");
        ++i;
    }
    return w;
}

void choosePiece(MainWindow& window, const std::string& piece)
{
    session::Choice choice;
    choice.set({piece, {}});
    window.session().choose(choice);
}

work::Work inColours(const std::string& text, double sizePt, int colours)
{
    work::Work w = work::emptyWork({1920, 1080, work::Unit::Px, 72}, colours);
    const std::string id = session::addLettering(w, text);
    work::Piece& piece = w.pieces.items.at(id);
    piece.lettering()->fits = false;
    piece.lettering()->font.style = "Bold";
    work::scaleTo(piece, sizePt);
    w.pieces.items["p1"] = piece;
    w.pieces.items.erase(id);
    w.pieces.order = {"p1"};
    return w;
}

// Two lines of text between two lines, one point moved by hand.
work::Work lines()
{
    work::Work w = inColours("KITES OVER\nTHE DUNES", 250, 1);
    work::Run& run = w.pieces.items.at("p1").lettering()->run;
    run.kind = work::RunKind::TwoLines;
    const outline::TwoLines swell = outline::linesOf(outline::LineStart::Swell, 0.55),
                            barrel = outline::linesOf(outline::LineStart::Barrel, 0.6);
    for (std::size_t i = 0; i < swell.top.size(); ++i)
        run.top.add("n" + std::to_string(i + 1), {swell.top[i]});
    for (std::size_t i = 0; i < barrel.bottom.size(); ++i)
        run.bottom.add("n" + std::to_string(i + 1), {barrel.bottom[i]});
    run.amount = 1;
    return w;
}

// Two lines, each in a face of its own, the second one larger.
work::Work twoFaces()
{
    work::Work w = inColours("KITE\nfair", 330, 3);
    work::Piece& piece = w.pieces.items.at("p1");
    const auto font = work::fontOnMachine("Lobster Two", "Bold Italic");
    if (!font)
        return w;
    w.assets[font->choice.asset] = font->asset;
    for (std::size_t i = 5; i < 9; ++i) {
        piece.letters[piece.letterIds()[i]].font = font->choice;
        piece.letters[piece.letterIds()[i]].typeSize = 1.25;
    }
    piece.lettering()->layout.lineSpacing = 1;
    return w;
}

}  // namespace

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    QApplication::setApplicationName("open-glow-pictures");
    const QStringList wanted = QApplication::arguments().mid(1);
    const bool dark = qEnvironmentVariable("OPEN_GLOW_APPEARANCE") == "dark";
    qputenv("OPEN_GLOW_APPEARANCE", dark ? "dark" : "light");
    const auto wants = [&](const char* name) { return wanted.isEmpty() || wanted.contains(name); };

    if (wants("window")) {
        auto w = demo();
        settle(*w, 200);
        save(w->grab(), kDocs + "window.png");
    }
    if (wants("letters")) {
        auto w = demo();
        chooseLetter(*w, 1);
        open(*w, "form");
        w->picture()->setFocus();
        settle(*w);
        save(w->grab(), kDocs + "letters.png");
    }
    if (wants("light")) {
        auto w = demo();
        w->session().edit("sky", [](work::Work& work) {
            work::useSurroundings(work, *work::readySurroundings("evening-sun"));
            work.pieces.items.begin()->second.material.piece.roughness = 0.2f;
        });
        open(*w, "light");
        for (const char* group : {"light.surroundings", "light.surroundings.cards"}) {
            w->findChild<QAbstractButton*>(group)->click();
            QTest::qWait(100);
        }
        w->findChild<QPushButton*>("surroundings.charts")->click();
        settle(*w);
        if (auto* area = w->findChild<QScrollArea*>("ticket.scroll"))
            area->ensureWidgetVisible(w->findChild<QPushButton*>("surroundings.charts"), 0, 260);
        QTest::qWait(100);
        save(w->grab(), kDocs + "light.png");
    }
    if (wants("finish")) {
        auto w = demo();
        w->files()->openDemo("fair-day");
        settle(*w);
        open(*w, "finish");
        auto* layers = w->findChild<QListWidget*>("finish.layers.list");
        layers->setCurrentRow(7, QItemSelectionModel::ClearAndSelect);
        QTest::qWait(100);
        if (auto* area = w->findChild<QScrollArea*>("ticket.scroll"))
            area->ensureWidgetVisible(w->findChild<QWidget*>("finish.layer.blend"), 0, 300);
        QTest::qWait(100);
        save(w->grab(), kDocs + "finish.png");
    }
    if (wants("drawer")) {
        auto w = demo();
        w->findChild<QToolButton*>("state.drawer")->click();
        open(*w, "view");
        w->session().edit("view", [](work::Work& work) { work.view().walk = -28; });
        settle(*w);
        save(w->grab(), kDocs + "drawer.png");
    }
    if (wants("desk")) {
        auto w = demo();
        w->findChild<QToolButton*>("state.desk")->click();
        settle(*w);
        w->findChild<QSlider*>("drawer.desk.l2.fader")->setValue(-10);
        w->findChild<QSlider*>("drawer.desk.surroundings.fader")->setValue(8);
        settle(*w);
        save(w->grab(), kDocs + "light-desk.png");
    }
    if (wants("export")) {
        auto w = demo();
        w->session().edit("few", [](work::Work& work) { work.output().stop = {16, 0, 0}; });
        open(*w, "export");
        settle(*w, 8);
        // One that is finished, and in the work as well.
        const QTemporaryDir folder;
        w->finals()->setPath(folder.filePath("kite fair, badge.png"));
        w->session().edit("width", [](work::Work& work) { work.output().widthPx = 480; });
        w->findChild<QPushButton*>("export.render")->click();
        (void)QTest::qWaitFor(
            [&] { return QFileInfo::exists(folder.filePath("kite fair, badge.png")) && !w->findChild<QPushButton*>("export.stop"); },
            120000);
        w->findChild<QPushButton*>("export.keep")->click();
        (void)QTest::qWaitFor([&] { return w->findChild<QPushButton*>("export.kept.desk") != nullptr; }, 60000);
        settle(*w);
        for (auto* area : w->ticket()->findChildren<QScrollArea*>())
            area->verticalScrollBar()->setValue(area->verticalScrollBar()->maximum());
        QTest::qWait(50);
        save(w->grab(), kDocs + "export.png");
    }
    if (wants("busy")) {
        auto w = demo();
        w->session().open(twelve(), {});
        open(*w, "material");
        settle(*w);
        save(w->grab(), kDocs + "busy.png");
    }
    // The guide's pictures: the ticket from `top` on, beside the middle of the picture.
    const auto guide = [&](int step, MainWindow& window, const char* section) {
        settle(window, 100);
        QWidget* head = window.findChild<QWidget*>(QString("section.%1.head").arg(section));
        const int top = std::clamp(head->mapTo(&window, QPoint(0, 0)).y() - 24, 0, 350);
        const QPixmap all = window.grab();
        QPixmap part(720, 450);
        QPainter painter(&part);
        painter.drawPixmap(0, 0, all.copy(0, top, 352, 450));
        painter.drawPixmap(352, 0, all.copy(624, 190, 368, 450));
        painter.end();
        save(part, kGuide + QString::number(step) + ".png");
    };
    if (wants("guide-pictures")) {
        auto w = demo();
        open(*w, "sheet");
        guide(1, *w, "sheet");
        open(*w, "lettering");
        chooseLetter(*w, 1);
        guide(2, *w, "lettering");
        open(*w, "form");
        w->picture()->setFocus();
        guide(3, *w, "form");
        open(*w, "light");
        guide(4, *w, "light");
        open(*w, "view");
        w->session().edit("view", [](work::Work& work) { work.view().walk = -42; });
        guide(5, *w, "view");
        open(*w, "export");
        guide(6, *w, "export");
    }
    // The start page's pictures.
    if (wants("starts"))
        for (const work::Start& start : work::kStartList) {
            auto w = demo();
            w->session().open(start.make({660, 480, work::Unit::Px, 72}), {});
            settle(*w, 96);
            save(QPixmap::fromImage(w->picture()->image().scaled(264, 192, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)),
                 QString(OPEN_GLOW_SOURCE "/assets/starts/%1.png").arg(start.id));
        }
    if (wants("artwork")) {
        auto w = demo();
        w->files()->newFrom(work::emptyWork({1920, 1080, work::Unit::Px, 72}, 1));
        w->artwork()->add(OPEN_GLOW_SOURCE "/assets/demo/kite-mark.svg");
        (void)QTest::qWaitFor([&] { return !w->session().work().pieces.order.empty(); }, 30000);
        open(*w, "lettering");
        settle(*w, 64);
        save(w->grab(), kDocs + "artwork.png");
    }
    if (wants("badge")) {
        auto w = demo();
        w->files()->openDemo("pilots-badge");
        choosePiece(*w, "p2");
        open(*w, "lettering");
        settle(*w, 64);
        w->picture()->setFocus();
        save(w->grab(), kDocs + "badge.png");
    }
    if (wants("forms")) {
        auto w = demo();
        w->files()->openDemo("kite-workshop");
        choosePiece(*w, "p1");
        open(*w, "form");
        settle(*w, 64);
        w->picture()->setFocus();
        save(w->grab(), kDocs + "forms.png");
    }
    if (wants("profile")) {
        auto w = demo();
        choosePiece(*w, "p1");
        w->session().edit("Profile", [](work::Work& now) {
            solid::SlabForm& slab = *now.pieces.items.at("p1").slab();
            slab.front.widthPt = slab.front.heightPt = 18;
            slab.front.profile = solid::Profile::Drawn;
            slab.front.drawn = "M0 0 L0 0.3 L0.25 0.3 C0.25 0.7 0.45 0.72 0.6 0.8 C0.75 0.88 0.8 1 1 1";
            slab.grownOut = true;
        });
        open(*w, "form");
        w->findChild<QPushButton*>("form.draw")->click();
        w->findChild<app::ProfileCurve*>("drawer.profile.curve")->choose(3);
        settle(*w, 64);
        save(w->grab(), kDocs + "profile.png");
    }
    if (wants("book")) {
        auto w = demo();
        w->files()->openDemo("shop-sign");
        choosePiece(*w, "p1");
        w->findChild<QAction*>("view.book")->trigger();
        w->findChild<QLineEdit*>("book.search")->setText("polished");
        settle(*w, 64);
        QTest::qWait(30000);  // for its samples
        w->picture()->setFocus();
        save(w->grab(), kDocs + "book.png");
    }
    if (wants("materials"))
        contactSheet(materialSamples(), "materials.jpg");
    if (wants("surroundings"))
        contactSheet(surroundingsSamples(), "surroundings.jpg");
    if (wants("pictures")) {
        auto w = demo();
        choosePiece(*w, "p1");
        layPicture(*w, sailCloth());
        open(*w, "material");
        w->findChild<QAbstractButton*>("material.pictures")->click();
        w->findChild<QAbstractButton*>("material.pictures.hand")->click();
        settle(*w, 64);
        w->picture()->setFocus();
        save(w->grab(), kDocs + "pictures.png");
    }
    if (wants("lines")) {
        auto w = demo();
        w->session().open(lines(), {});
        choosePiece(*w, "p1");
        open(*w, "lettering");
        w->findChild<QAbstractButton*>("lettering.run")->setChecked(true);
        settle(*w, 64);
        w->picture()->setFocus();
        QTest::qWait(100);
        save(w->grab(), kDocs + "lines.png");
    }
    if (wants("faces")) {
        auto w = demo();
        w->session().open(twoFaces(), {});
        session::Choice choice;
        for (const std::size_t letter : {5, 6, 7, 8})
            choice.add({"p1", w->session().work().pieces.items.at("p1").letterIds()[letter]});
        w->session().choose(choice);
        open(*w, "lettering");
        settle(*w, 64);
        w->findChild<QAbstractButton*>("lettering.face.button")->click();
        QTest::qWait(200);
        auto* panel = w->findChild<QWidget*>("lettering.face.panel");
        QPixmap whole = w->grab();
        QPainter(&whole).drawPixmap(w->mapFromGlobal(panel->mapToGlobal(QPoint())), panel->grab());
        save(whole, kDocs + "faces.png");
        panel->hide();
    }
    if (wants("proofs")) {
        auto w = demo();
        settle(*w, 64);
        for (const auto& [note, colour] : {std::pair{"evening, from the left", base::Rgb{1, 0.4f, 0.15f}}, {"cold", {0.3f, 0.5f, 1}}}) {
            w->session().edit("light", [&, colour = colour](work::Work& work) {
                work.lights.items.begin()->second.colour = colour;
                work.view().walk -= 12;
            });
            settle(*w, 64);
            w->findChild<QLineEdit*>("proofs.note")->setText(note);
            w->findChild<QPushButton*>("proofs.keep")->click();
        }
        w->findChild<QAction*>("view.proofs")->trigger();
        settle(*w, 64);
        QTest::qWait(400);
        if (wanted.contains("proofs"))
            save(w->grab(), "/tmp/look-proofs.png");
        w->findChild<QListWidget*>("proofs.list")->item(1)->setSelected(true);
        w->findChild<QPushButton*>("proofs.compare")->click();
        save(w->grab(), kDocs + "proofs.png");
    }
    if (wants("start")) {
        auto w = demo();
        w->files()->newWork({1920, 1080, work::Unit::Px, 72});
        settle(*w, 64);
        save(w->grab(), kDocs + "start.png");
    }
    // Sections and states to look at; not kept.
    for (const char* section : {"lettering", "form", "material", "sheet", "ground", "view", "light", "finish", "export"})
        if (wanted.contains(QString("section-") + section)) {
            auto w = demo();
            open(*w, section);
            for (auto* group : w->ticket()->section(section)->rows()->findChildren<QAbstractButton*>())
                if (wanted.contains("groups") && group->isCheckable() && group->isVisible() && !group->isChecked())
                    group->click();
            settle(*w, 8);
            save(w->grab(), QString("/tmp/look-%1.png").arg(section));
        }
    if (wanted.contains("jpeg")) {
        auto w = demo();
        settle(*w, 8);
        w->session().edit("jpeg", [](work::Work& work) { work.output().format = work::FileFormat::Jpeg; });
        settle(*w, 8);
        open(*w, "export");
        save(w->grab(), "/tmp/look-jpeg.png");
    }
    if (wanted.contains("flare")) {
        auto w = demo();
        w->files()->openDemo("fair-day");
        settle(*w, 8);
        open(*w, "finish");
        w->findChild<QAction*>("layer.flare")->trigger();
        w->session().edit("flare", [](work::Work& work) {
            auto& flare = std::get<finish::Flare>(work.finish.layers.items.at(work.finish.layers.order.back()).what);
            flare.x = -200;
            flare.y = 260;
            flare.size = 220;
            flare.stops = 1;
        });
        settle(*w, 48);
        save(w->grab(), "/tmp/look-flare.png");
        w->session().edit("deep", [](work::Work& work) {
            work.finish.layers.items.erase(work.finish.layers.order.back());
            work.finish.layers.order.pop_back();
        });
        w->findChild<QAction*>("layer.soften")->trigger();
        w->session().edit("deep", [](work::Work& work) {
            work::Layer& layer = work.finish.layers.items.at(work.finish.layers.order.back());
            layer.farFrom = 0;
            layer.farTo = 250;
            std::get<finish::Soften>(layer.what).radius = 24;
        });
        w->findChild<QAbstractButton*>("finish.where")->click();
        settle(*w, 48);
        save(w->grab(), "/tmp/look-deep.png");
    }
    if (wanted.contains("drawn")) {
        auto w = demo();
        settle(*w, 8);
        open(*w, "finish");
        const auto last = [&](work::Work& work) -> work::Layer& { return work.finish.layers.items.at(work.finish.layers.order.back()); };
        w->findChild<QAction*>("layer.beams")->trigger();
        w->session().edit("beams", [&](work::Work& work) {
            auto& beams = std::get<finish::Beams>(last(work).what);
            beams.y = 60;
            beams.x = -40;
            beams.stops = 1;
        });
        settle(*w, 48);
        save(w->grab(), "/tmp/look-beams.png");
        w->findChild<QAction*>("layer.fill")->trigger();
        w->session().edit("letters", [&](work::Work& work) {
            auto& fill = std::get<finish::Fill>(last(work).what);
            fill.form = finish::FillForm::Linear;
            fill.colour = {1, 0.2f, 0};
            fill.to = {0.1f, 0, 0.6f};
            fill.byLetter = true;
            last(work).strength = 0.9;
        });
        w->findChild<QAction*>("layer.group")->trigger();
        w->findChild<QAbstractButton*>("finish.drawn")->click();
        QTest::qWait(100);
        w->findChild<QAbstractButton*>("finish.drawn.draw")->click();
        const QRectF frame = w->picture()->frameRect();
        const auto at = [&](double u, double v) { return QPointF(frame.x() + u * frame.width(), frame.y() + v * frame.height()); };
        QTest::mousePress(w->picture(), Qt::LeftButton, {}, at(0.15, 0.35).toPoint());
        for (int i = 1; i <= 10; ++i)
            QTest::mouseMove(w->picture(), at(0.15 + 0.07 * i, 0.35 + 0.01 * i).toPoint());
        QTest::mouseRelease(w->picture(), Qt::LeftButton, {}, at(0.85, 0.45).toPoint());
        settle(*w, 48);
        QTest::mouseMove(w->picture(), at(0.6, 0.6).toPoint());
        w->findChild<QScrollArea*>("ticket.scroll")->ensureWidgetVisible(w->findChild<QWidget*>("finish.drawn.erases"));
        QTest::qWait(100);
        save(w->grab(), "/tmp/look-drawn.png");
        w->findChild<QPushButton*>("finish.layers.add")->menu()->popup(w->mapToGlobal(QPoint(900, 300)));
        QTest::qWait(200);
        save(w->findChild<QMenu*>("finish.layers.menu")->grab(), "/tmp/look-menu.png");
    }
    if (wanted.contains("passes")) {
        auto w = demo();
        settle(*w, 8);
        w->session().edit("png", [](work::Work& work) { work.output().colours = work::FileColours::Profile; });
        open(*w, "export");
        w->findChild<QAbstractButton*>("export.further")->click();
        QTest::qWait(200);
        save(w->grab(), "/tmp/look-passes.png");
    }
    if (wanted.contains("empty")) {
        auto w = demo();
        w->files()->newWork({});
        settle(*w, 8);
        save(w->grab(), "/tmp/look-empty.png");
    }
    if (wanted.contains("marks")) {
        auto w = demo();
        w->session().edit("bright", [](work::Work& work) { work.lights.items.begin()->second.stops = 2.4; });
        w->findChild<QToolButton*>("state.clipped")->click();
        settle(*w, 16);
        w->findChild<QToolButton*>("state.part")->click();
        w->picture()->setPart({0.2, 0.45, 0.5, 0.3});
        settle(*w, 32);
        w->picture()->setFocus();
        save(w->grab(), "/tmp/look-marks.png");
    }
    if (wanted.contains("popups")) {
        auto w = demo();
        open(*w, "material");
        const auto popup = [&](const char* button, const char* panel) {
            w->findChild<QAbstractButton*>(button)->click();
            QTest::qWait(400);
            save(w->findChild<QWidget*>(panel)->grab(), QString("/tmp/look-%1.png").arg(panel));
            w->findChild<QWidget*>(panel)->hide();
        };
        popup("material.colour.chip", "material.colour.panel");
        w->findChild<QAbstractButton*>("material.colour.newSwatch")->click();
        popup("material.colour.chip", "material.colour.panel");
        open(*w, "lettering");
        popup("lettering.face.button", "lettering.face.panel");
        QTimer::singleShot(500, w.get(), [&] {
            auto* box = w->findChild<QDialog*>("leave");
            save(box->grab(), "/tmp/look-leave.png");
            box->reject();
        });
        w->session().edit("x", [](work::Work& work) { work.finish.exposure = 1; });
        w->close();
    }
    if (wanted.contains("error")) {
        auto w = demo();
        w->files()->open("/tmp/not-there.openglow");
        QTest::qWait(500);
        w->session().edit("text", [](work::Work& work) {
            work::setText(work.pieces.items.begin()->second, "K\xF0\x9F\x9A\xA9"
                                                             "E");
        });
        open(*w, "lettering");
        settle(*w, 8);
        save(w->grab(), "/tmp/look-error.png");
    }
    if (wanted.contains("guide-dialog") || wanted.contains("shortcuts")) {
        auto w = demo();
        wanted.contains("guide-dialog") ? app::showGuide(w.get()) : app::showShortcuts(w.get());
        QTest::qWait(300);
        save(w->findChild<QDialog*>(wanted.contains("guide-dialog") ? "guide" : "shortcuts")->grab(), "/tmp/look-help.png");
    }
    return 0;
}
