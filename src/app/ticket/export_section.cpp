// Export: the final render, its progress, and other files.
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>

#include "app/fields/one_of_field.h"
#include "app/ticket/finals_list.h"
#include "app/ticket/sections.h"
#include "app/window/finals.h"
#include "files/still_file.h"
#include "session/summary.h"

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
    rows->properties(output, {"name", "format", "quality", "widthPx"});
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
    const auto takeTyped = addFileRow(rows, section, context, finals);
    addOutputRows(rows, context, finals);
    addStopRows(rows, context);
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
    rows->wide(render);
    auto* mesh = new QPushButton(Section::tr("Meshes (STL, glTF)..."));
    mesh->setObjectName("export.mesh");
    mesh->setToolTip(Section::tr("STL for 3D printing, in millimetres; glTF (.glb) with materials and view, for other programs"));
    QObject::connect(mesh, &QPushButton::clicked, section, [=] {
        const QString chosen =
            QFileDialog::getSaveFileName(section, Section::tr("Save the meshes"), finals->suggestedPath().replace(".png", ".stl"),
                                         Section::tr("Meshes for printing (*.stl);;glTF with materials (*.glb)"));
        if (!chosen.isEmpty())
            finals->saveMesh(chosen);
    });
    rows->wide(mesh);
    auto* outlines = new QPushButton(Section::tr("Outlines as a drawing (SVG)..."));
    outlines->setObjectName("export.outlines");
    outlines->setToolTip(Section::tr("Of what is chosen, or of all pieces: flat, in true curves and real units"));
    QObject::connect(outlines, &QPushButton::clicked, section, [=] {
        const QString chosen = QFileDialog::getSaveFileName(
            section, Section::tr("Save the outlines"), finals->suggestedPath().replace(".png", ".svg"), Section::tr("Drawings (*.svg)"));
        if (!chosen.isEmpty())
            finals->saveOutlines(chosen, context.session->choice().pieces());
    });
    rows->wide(outlines);
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
