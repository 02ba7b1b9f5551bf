// Export: the final render, its progress, and other files.
#include <QBuffer>
#include <QCheckBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <cmath>
#include <tuple>

#include "app/fields/one_of_field.h"
#include "app/ticket/finals_list.h"
#include "app/ticket/sections.h"
#include "app/window/finals.h"
#include "base/file.h"
#include "files/still_file.h"
#include "session/outputs.h"
#include "session/summary.h"
#include "work/pictures.h"

namespace app {

namespace {

QString stillPatterns()
{
    QStringList patterns;
    for (const files::Exporter& e : files::exporters())
        if (const QString pattern = QString("*%1").arg(e.ending); !patterns.contains(pattern))
            patterns << pattern;
    return patterns.join(' ');
}

// The file's name, typed or chosen. Returns what takes a name that is still being typed.
std::function<void()> addFileRow(Rows* rows, Section* section, const Context& context, Finals* finals)
{
    auto* file = new QWidget;
    auto* fileRow = new QHBoxLayout(file);
    fileRow->setContentsMargins(0, 0, 0, 0);
    fileRow->setSpacing(4);
    auto* path = new QLineEdit;
    path->setObjectName("export.path");
    path->setAccessibleName(Section::tr("File"));
    path->setToolTip(Section::tr("PNG for a picture, JPEG or WebP for small files, TIFF for print, EXR for all passes in linear light"));
    fileRow->addWidget(path, 1);
    auto* browse = new QPushButton(Section::tr("..."));
    browse->setObjectName("export.browse");
    browse->setAccessibleName(Section::tr("Choose the file"));
    browse->setFixedWidth(32);
    fileRow->addWidget(browse);
    // What the file shall be follows a typed ending.
    const auto takePath = [=] {
        finals->setPath(path->text());
        path->setModified(false);
        const work::Output& now = context.session->work().output();
        if (const auto exporter = files::exporterFor(path->text().toStdString(), now.format); exporter && (*exporter)->format != now.format)
            context.session->edit(Section::tr("Format").toStdString(), [&](work::Work& w) { w.output().format = (*exporter)->format; });
    };
    const auto takeTyped = [=] {
        if (path->isModified())
            takePath();
    };
    QObject::connect(path, &QLineEdit::editingFinished, section, takeTyped);
    QObject::connect(browse, &QPushButton::clicked, section, [=] {
        const QString chosen = QFileDialog::getSaveFileName(section, Section::tr("Save the still"), path->text(),
                                                            Section::tr("Stills (%1)").arg(stillPatterns()));
        if (!chosen.isEmpty()) {
            path->setText(chosen);
            takePath();
        }
    });
    rows->labelled(Section::tr("File"), file, [=] {
        if (!path->hasFocus())
            path->setText(finals->path());
        path->setCursorPosition(static_cast<int>(path->text().size()));
    });
    return takeTyped;
}

// Which of the sheet's files the rows below speak of.
void addOutputsRow(Rows* rows, const Context& context, Finals* finals)
{
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* field = new OneOfField;
    field->setObjectName("export.outputs");
    field->setAccessibleName(Section::tr("Output"));
    field->setToolTip(Section::tr("A sheet can become several files, each with a size, a format and a stop rule of its own"));
    line->addWidget(field, 1);
    const auto button = [&](const char* id, const QString& label, const QString& tip, void (*change)(work::Work&)) {
        auto* b = new QPushButton(label);
        b->setObjectName(QString("export.outputs.") + id);
        b->setToolTip(tip);
        b->setAccessibleName(tip);
        b->setFixedWidth(32);
        line->addWidget(b);
        QObject::connect(b, &QPushButton::clicked, box, [=] {
            context.session->edit(tip.toStdString(), change);
            finals->setPath({});
        });
        return b;
    };
    button("add", "+", Section::tr("Another output, like this one"), [](work::Work& w) { (void)session::addOutput(w); });
    auto* remove = button("remove", QString::fromUtf8("\u2212"), Section::tr("Remove this output"), session::removeOutput);
    QObject::connect(field, &QComboBox::activated, box, [=](int index) {
        const auto& order = context.session->work().shownSheet().outputs.order;
        if (index < 0 || index >= static_cast<int>(order.size()))
            return;
        const std::string id = order[static_cast<std::size_t>(index)];
        context.session->edit(Section::tr("Show output").toStdString(), [&](work::Work& w) { session::showOutput(w, id); });
        finals->setPath({});
    });
    rows->labelled(Section::tr("Output"), box, [=] {
        const work::Work& now = context.session->work();
        field->clear();
        for (const std::string& id : now.shownSheet().outputs.order) {
            field->addItem(text(session::outputTitle(now, id)));
            if (id == now.shownSheet().outputId())
                field->setCurrentIndex(field->count() - 1);
        }
        remove->setEnabled(field->count() > 1);
    });
}

QWidget* sideBySide(QWidget* left, QWidget* right)
{
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    line->addWidget(left, 1);
    line->addWidget(right, 1);
    return box;
}

// How the file is named, and what is said in it.
void addNameAndCredits(Rows* rows, const Context& context, Finals* finals)
{
    const Rows::Reach<work::Output> output{[](const work::Work& w) { return std::vector{&w.output()}; },
                                           [](work::Work& w) { return std::vector{&w.output()}; }};
    const Rows::Reach<work::Credits> credits{[](const work::Work& w) { return std::vector{&w.credits}; },
                                             [](work::Work& w) { return std::vector{&w.credits}; }};
    Rows* said = rows->group("credits", Section::tr("Name and credits"), [=] {
        const work::Credits& c = context.session->work().credits;
        return c.none() ? Section::tr("nothing said in the file") : text(c.author.empty() ? c.licence + c.description : c.author);
    });
    said->words(output, "name");
    auto* is = new QLabel;
    is->setObjectName("export.credits.file");
    is->setProperty("soft", true);
    said->labelled(Section::tr("Now"), is, [=] { is->setText(QFileInfo(finals->suggestedPath()).fileName()); });
    for (const char* key : {"author", "licence", "description"})
        said->words(credits, key);
}

// What a JPEG of that width takes, by the picture as it is shown: 0 for other formats, and while there is none.
double jpegBytes(const Context& context, int widthPx)
{
    const work::Output& output = context.session->work().output();
    if (output.format != work::FileFormat::Jpeg)
        return 0;
    static std::tuple<qint64, int, double> s_last;  // key, quality, bytes a pixel
    const QImage shown = context.shownPicture();
    if (shown.isNull())
        return 0;
    if (std::get<0>(s_last) != shown.cacheKey() || std::get<1>(s_last) != output.quality) {
        QBuffer buffer;
        buffer.open(QIODevice::WriteOnly);
        shown.save(&buffer, "JPEG", output.quality);
        s_last = {shown.cacheKey(), output.quality, static_cast<double>(buffer.size()) / shown.width() / shown.height()};
    }
    return std::get<2>(s_last) * widthPx * (static_cast<double>(shown.height()) * widthPx / shown.width());
}

// A colour profile of one's own.
void addProfileRow(Rows* rows, const Context& context)
{
    constexpr std::uint64_t kMostBytes = 64 << 20;
    auto* choose = new QPushButton;
    choose->setObjectName("export.profile");
    choose->setToolTip(Section::tr("Of a screen, a printer or a paper, as its maker gives it; of red, green and blue"));
    QObject::connect(choose, &QPushButton::clicked, choose, [=] {
        const QString path =
            QFileDialog::getOpenFileName(choose, Section::tr("Open a colour profile"), {}, Section::tr("Colour profiles (*.icc *.icm)"));
        if (path.isEmpty())
            return;
        const auto bytes = base::readFile(path.toStdString(), kMostBytes);
        work::Work trial;
        const auto made = bytes ? files::addProfile(trial, QFileInfo(path).fileName().toStdString(), *bytes)
                                : base::Result<std::string>(base::failed(bytes));
        if (!made) {
            context.say(text(base::oneLine(made.error())));
            return;
        }
        context.session->edit(Section::tr("Colour profile").toStdString(), [&](work::Work& w) {
            w.assets[*made] = trial.assets.at(*made);
            w.output().profile = *made;
        });
    });
    rows->labelled(
        Section::tr("Profile"), choose,
        [=] {
            const std::string& profile = context.session->work().output().profile;
            choose->setText(profile.empty() ? Section::tr("Open an .icc file...") : text(work::pictureTitle(profile)));
        },
        [=] {
            const work::Output& now = context.session->work().output();
            return now.colours == work::FileColours::Profile && work::namesProfile(now.format);
        });
}

// Which passes go into an EXR, or beside a PNG.
void addPassRows(Rows* rows, const Context& context, const Rows::Reach<work::Output>& output)
{
    const std::pair<const char*, QString> labels[] = {
        {"lights", Section::tr("Each light")}, {"shadow", Section::tr("Shadow")},         {"alpha", Section::tr("Alpha")},
        {"albedo", Section::tr("Own colour")}, {"normal", Section::tr("Normals")},        {"depth", Section::tr("Depth")},
        {"position", Section::tr("Position")}, {"ids", Section::tr("Numbers of things")}, {"coverage", Section::tr("Coverage")},
        {"samples", Section::tr("Samples")},   {"finish", Section::tr("With finish")},    {"layers", Section::tr("Each layer")},
        {"lines", Section::tr("Edge lines")},
    };
    static_assert(std::size(labels) == std::size(files::kPassNames));
    const auto now = [=]() -> const work::Output& { return context.session->work().output(); };
    const auto isExr = [=] { return now().format == work::FileFormat::Exr; };
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    std::vector<std::pair<QCheckBox*, std::string>> ticks;
    for (const auto& [name, label] : labels) {
        auto* tick = new QCheckBox(label);
        tick->setObjectName(QString("export.passes.") + name);
        const int at = static_cast<int>(ticks.size());
        grid->addWidget(tick, at / 2, at % 2);
        ticks.emplace_back(tick, name);
        QObject::connect(tick, &QCheckBox::clicked, box, [=, id = std::string(name)](bool on) {
            context.session->edit(Section::tr("Passes").toStdString(), [&](work::Work& w) {
                for (work::Output* one : output.in(w)) {
                    // In an EXR none named are all of them.
                    if (one->passes.empty() && one->format == work::FileFormat::Exr)
                        one->passes.assign(std::begin(files::kPassNames), std::end(files::kPassNames));
                    std::erase(one->passes, id);
                    if (on)
                        one->passes.push_back(id);
                    if (one->passes.size() == std::size(files::kPassNames) && one->format == work::FileFormat::Exr)
                        one->passes.clear();
                }
            });
        });
    }
    const auto show = [=] {
        for (const auto& [tick, name] : ticks) {
            const auto& named = now().passes;
            tick->setChecked(named.empty() ? isExr() : std::ranges::find(named, name) != named.end());
            tick->setEnabled(isExr() ||
                             std::ranges::find(files::kPassesOfExrAlone, std::string_view(name)) == std::end(files::kPassesOfExrAlone));
        }
    };
    rows->wide(box, show, [=] { return work::hasPasses(now().format); });
}

// Which red, green and blue the file names, and what it holds beside the picture.
void addColoursAndPasses(Rows* rows, const Context& context, const Rows::Reach<work::Output>& output)
{
    const auto now = [=]() -> const work::Output& { return context.session->work().output(); };
    Rows* further = rows->group(
        "further", Section::tr("Colours and passes"),
        [=] {
            const bool isExr = now().format == work::FileFormat::Exr;
            const QString passes = !now().passes.empty() ? Section::tr("%n pass(es)", nullptr, static_cast<int>(now().passes.size()))
                                   : isExr               ? Section::tr("all passes")
                                                         : QString();
            const QString colours =
                work::namesProfile(now().format) ? text(work::labelOf(now().colours, work::kColours)).section(',', 0, 0) : QString();
            return passes.isEmpty() || colours.isEmpty() ? colours + passes : colours + ", " + passes;
        },
        [=] { return work::namesProfile(now().format) || work::hasPasses(now().format); });
    further->property(output, "colours");
    addProfileRow(further, context);
    addPassRows(further, context, output);
}

// What the file shall be.
void addOutputRows(Rows* rows, const Context& context, Finals* finals)
{
    const Rows::Reach<work::Output> output{[](const work::Work& w) { return std::vector{&w.output()}; },
                                           [](work::Work& w) { return std::vector{&w.output()}; }};
    Rows::Extra format;
    format.changed = [=] {
        // The file's ending follows what it shall be.
        const QFileInfo now(finals->path());
        finals->setPath(now.path() + "/" + now.completeBaseName() + files::exporterOf(context.session->work().output().format).ending);
    };
    rows->property(output, "format", format);
    rows->property(output, "quality");
    Rows::Extra width;
    width.id = "width";
    width.get = [=] { return std::optional<double>(finals->widthPx()); };
    width.usual = [=] { return std::optional<double>(context.session->work().sheet().widthPx()); };
    width.set = [](work::Work& w, double v) {
        const int px = static_cast<int>(std::lround(v));
        w.output().widthPx = px == w.sheet().widthPx() ? 0 : px;
    };
    rows->property(output, "widthPx", width);
    auto* height = new QLabel;
    height->setObjectName("export.height");
    height->setProperty("soft", true);
    rows->labelled(Section::tr("That is"), height, [=] {
        const work::SheetSize& s = context.session->work().sheet();
        height->setText(Section::tr("%1 x %2 px at %3 ppi")
                            .arg(finals->widthPx())
                            .arg(finals->heightPx())
                            .arg(s.ppi * finals->widthPx() / s.widthPx(), 0, 'g', 5));
    });
    auto* takes = new QLabel;
    takes->setObjectName("export.takes");
    takes->setProperty("soft", true);
    rows->labelled(
        Section::tr("It takes"), takes,
        [=] {
            const double bytes = jpegBytes(context, finals->widthPx());
            takes->setText(bytes > 0 ? Section::tr("about %1").arg(QLocale().formattedDataSize(std::llround(bytes), 1)) : QString());
        },
        [=] { return context.session->work().output().format == work::FileFormat::Jpeg; });
    rows->properties(output, {"name", "format", "quality", "widthPx", "colours", "profile", "passes"});
    addColoursAndPasses(rows, context, output);
}

// When the final stops.
void addStopRows(Rows* rows, const Context& context)
{
    Rows* stop =
        rows->group("stopRule", Section::tr("Stops"), [=] { return text(session::stopSentence(context.session->work().output().stop)); });
    const Rows::Reach<render::StopRule> rule{[](const work::Work& w) { return std::vector{&w.output().stop}; },
                                             [](work::Work& w) { return std::vector{&w.output().stop}; }};
    for (const char* key : {"noise", "samples", "seconds"}) {
        Rows::Extra noUsual;
        noUsual.usual = [] { return std::optional<double>(); };
        stop->property(rule, key, noUsual);
    }
}

// Kept renders of other works, and how they go.
void addOthers(Rows* rows, Section* section, Finals* finals, const std::function<std::ptrdiff_t(bool)>& count)
{
    Rows* others = rows->group(
        "others", Section::tr("All kept renders"),
        [=] {
            std::uint64_t bytes = 0;
            for (const auto& e : finals->entries())
                bytes += e.bytes;
            return Section::tr("%1 of other works, all take %2")
                .arg(count(false))
                .arg(QLocale().formattedDataSize(static_cast<qint64>(bytes)));
        },
        [=] { return count(false) > 0; });
    const FinalsListParts list = finalsList(finals, false);
    others->wide(list.widget, list.refresh);
    auto* row = new QWidget;
    auto* box = new QHBoxLayout(row);
    box->setContentsMargins(0, 0, 0, 0);
    auto* age = new OneOfField;
    age->setObjectName("export.others.age");
    age->setAccessibleName(Section::tr("Age of kept renders"));
    const std::pair<QString, int> ages[] = {{Section::tr("a week"), 7}, {Section::tr("a month"), 30}, {Section::tr("a day"), 1}};
    for (const auto& [name, days] : ages)
        age->addItem(Section::tr("older than %1").arg(name), days);
    box->addWidget(age, 1);
    auto* remove = new QPushButton(Section::tr("Remove"));
    remove->setObjectName("export.others.remove");
    remove->setToolTip(Section::tr("Kept renders of all works; saved pictures stay"));
    QObject::connect(remove, &QPushButton::clicked, section, [=] { finals->removeOlderThan(age->currentData().toInt()); });
    box->addWidget(remove);
    others->wide(row);
}

}  // namespace

Section* exportSection(const Context& context, Finals* finals)
{
    auto* section =
        new Section(context, "export", Section::tr("Export"), [=] { return text(session::exportSummary(context.session->work())); });
    Rows* rows = section->rows();
    addOutputsRow(rows, context, finals);
    const auto takeTyped = addFileRow(rows, section, context, finals);
    addOutputRows(rows, context, finals);
    addStopRows(rows, context);
    addNameAndCredits(rows, context, finals);
    auto* render = new QPushButton(Section::tr("Render the final"));
    render->setObjectName("export.render");
    render->setProperty("primary", true);
    render->setToolTip(Section::tr("Of the work as it is now; you can go on editing meanwhile"));
    QObject::connect(render, &QPushButton::clicked, section, [=] {
        takeTyped();
        const QString path = finals->path();
        finals->start();
        finals->setPath(path);
    });
    auto* all = new QPushButton(Section::tr("Render all"));
    all->setObjectName("export.renderAll");
    all->setToolTip(Section::tr("One after the other, each to a file named by its pattern; those of one size are rendered once"));
    QObject::connect(all, &QPushButton::clicked, section, [=] {
        takeTyped();
        finals->startAll();
    });
    rows->wide(sideBySide(render, all), [=] { all->setVisible(context.session->work().shownSheet().outputs.order.size() > 1); });
    auto* mesh = new QPushButton(Section::tr("Meshes..."));
    mesh->setObjectName("export.mesh");
    mesh->setToolTip(Section::tr("STL for 3D printing, in millimetres; glTF (.glb) with materials and view, for other programs"));
    QObject::connect(mesh, &QPushButton::clicked, section, [=] {
        const QString chosen =
            QFileDialog::getSaveFileName(section, Section::tr("Save the meshes"), finals->suggestedPath().replace(".png", ".stl"),
                                         Section::tr("Meshes for printing (*.stl);;glTF with materials (*.glb)"));
        if (!chosen.isEmpty())
            finals->saveMesh(chosen);
    });
    auto* outlines = new QPushButton(Section::tr("Outlines (SVG)..."));
    outlines->setObjectName("export.outlines");
    outlines->setToolTip(Section::tr("Of what is chosen, or of all pieces: flat, in true curves and real units"));
    QObject::connect(outlines, &QPushButton::clicked, section, [=] {
        const QString chosen = QFileDialog::getSaveFileName(
            section, Section::tr("Save the outlines"), finals->suggestedPath().replace(".png", ".svg"), Section::tr("Drawings (*.svg)"));
        if (!chosen.isEmpty())
            finals->saveOutlines(chosen, context.session->choice().pieces());
    });
    rows->wide(sideBySide(mesh, outlines));
    const auto count = [finals](bool own) {
        return std::count_if(finals->entries().begin(), finals->entries().end(), [&](const auto& e) { return finals->isOwn(e) == own; });
    };
    const FinalsListParts list = finalsList(finals, true);
    // Where it goes on is brought into sight.
    QObject::connect(render, &QPushButton::clicked, list.widget, [widget = list.widget] {
        QTimer::singleShot(50, widget, [widget] {
            for (QWidget* w = widget; w; w = w->parentWidget())
                if (auto* scroll = qobject_cast<QScrollArea*>(w))
                    scroll->ensureWidgetVisible(widget);
        });
    });
    rows->wide(list.widget, list.refresh, [=] { return count(true) > 0 || !finals->keptInWork().empty(); });
    addOthers(rows, section, finals, count);
    QObject::connect(finals, &Finals::changed, section, [=] {
        if (section->isOpen())
            rows->refresh();
    });
    return section;
}

}  // namespace app
