#include "app/window/help.h"

#include <QApplication>
#include <QCoreApplication>
#include <QDialog>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QScrollArea>

#include "app/style.h"

namespace app {

namespace {

QString translated(const char* text)
{
    return QCoreApplication::translate("app::Help", text);
}

// A dialog with something to scroll in it; one of its kind at a time.
void showScrolled(QWidget* parent, const char* name, const QString& title, QSize size, const std::function<QWidget*()>& make)
{
    if (auto* there = parent->findChild<QDialog*>(name)) {
        there->raise();
        there->activateWindow();
        return;
    }
    auto* dialog = new QDialog(parent);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setObjectName(name);
    dialog->setWindowTitle(title);
    auto* column = new QVBoxLayout(dialog);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(make());
    scroll->setAccessibleName(title);
    column->addWidget(scroll, 1);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    buttons->button(QDialogButtonBox::Close)->setObjectName(QString(name) + ".close");
    QObject::connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::close);
    column->addWidget(buttons);
    dialog->resize(size);
    dialog->show();
}

}  // namespace

std::vector<GuideStep> guideSteps()
{
    return {
        {translated("1. The sheet"),
         translated("Start with File, New: a screen, a social picture, a poster or a wallpaper. Sheet in the ticket changes size and "
                    "resolution at any time; the work grows with it."),
         ":/guide/1.png"},
        {translated("2. The lettering"),
         translated("Add lettering, then type. The face opens a list of all fonts in their own letters. Click a letter in the picture, or "
                    "select characters in the text, to choose single letters; everything in Form and Material then acts on them alone."),
         ":/guide/2.png"},
        {translated("3. The form"),
         translated("Depth makes letters solid, the bevel cuts their edge. Type numbers and sums such as 12mm or 24+6, drag the ruler edge "
                    "under a field, or take the lugs on the letters themselves."),
         ":/guide/3.png"},
        {translated("4. Colour and light"),
         translated("Material gives colour and gloss to the whole letter or to its face, bevel and side. With Light open each lamp stands "
                    "on a plan round the lettering: drag its foot for direction and distance, its head for the height."),
         ":/guide/4.png"},
        {translated("5. The view"),
         translated(
             "Drag outside the frame to walk round, drag with the middle button to slide, turn the wheel to come closer. Home brings the "
             "straight view back. The picture sharpens by itself while nothing changes; it is the same picture the final will be."),
         ":/guide/5.png"},
        {translated("6. The still"),
         translated("Export says how large the still is and when it counts as clean. Render the final; you can go on editing meanwhile. "
                    "Ctrl+E makes the last exports again, of the work as it is then."),
         ":/guide/6.png"}};
}

std::vector<std::pair<QString, QString>> shortcutSheet()
{
    return {
        {"", translated("Works")},
        {"Ctrl+N", translated("An empty sheet of the same size")},
        {"Ctrl+O", translated("Open a work")},
        {"Ctrl+S", translated("Save")},
        {"Ctrl+Shift+S", translated("Save under another name")},
        {"Ctrl+Shift+E", translated("The Export section")},
        {"Ctrl+E", translated("The last exports again")},
        {"", translated("Ticket")},
        {"Alt+1 ... Alt+9", translated("Open a section: Lettering, Form, Material, Sheet, Ground, View, Light, Finish, Export")},
        {"Ctrl+Shift+L", translated("Add lettering")},
        {"Ctrl+Shift+A", translated("Add artwork: an SVG, a PDF or a picture")},
        {"Ctrl+Shift+K", translated("Draw with the pen")},
        {"Ctrl+D", translated("Duplicate what is chosen")},
        {"Ctrl+A", translated("Choose all pieces")},
        {"Ctrl+X, Ctrl+C, Ctrl+V", translated("Cut, copy and paste pieces, also between works and windows")},
        {"Ctrl+H, Ctrl+K", translated("Hide or show, lock or unlock what is chosen")},
        {"Ctrl+G, Ctrl+Shift+G", translated("Group the chosen pieces, take their group apart")},
        {"F2", translated("Rename, in the list of pieces")},
        {"Ctrl+.", translated("In a number: put back the usual value")},
        {"Ctrl+Z, Ctrl+Shift+Z", translated("Undo, redo")},
        {translated("Up, Down in a number"), translated("Step; with Shift ten steps")},
        {"", translated("Profile on the bench")},
        {translated("Page up, Page down"), translated("The point before, the next one; Home and End for the first and the last")},
        {translated("Arrows on a point"), translated("Move it by a hundredth; with Shift by a tenth")},
        {translated("Insert, Delete"), translated("A new point after the chosen one; take it away")},
        {translated("Space on a point"), translated("Bend or straighten it")},
        {"", translated("Picture")},
        {"F6", translated("From the ticket to the picture and back")},
        {translated("Space, Shift+Space"), translated("Next piece, piece before")},
        {translated("Enter, Shift+Enter"), translated("Into the letters and on to the next; add the next")},
        {"Esc", translated("Call off; back to the piece; choose nothing")},
        {translated("Arrows"), translated("Move what is chosen; with Shift ten times as far")},
        {"Page Up, Page Down", translated("Away from the ground, towards it")},
        {"Ctrl+Page Up, Ctrl+Page Down", translated("Turn; with Shift by 15 degrees")},
        {translated("Ctrl+arrows"), translated("Walk round; with Shift slide")},
        {"+, -", translated("Closer, further away")},
        {"Home", translated("The straight view")},
        {"Backspace", translated("Back to the last view")},
        {"Delete", translated("Delete the chosen pieces")},
        {"Ctrl+Shift+H", translated("Pause the picture")},
        {"Ctrl+Shift+P", translated("Only a part: of what is chosen, else drag a frame")},
        {"Ctrl+0, Ctrl++, Ctrl+-", translated("Fit the picture in the window, zoom in and out; the work is not changed by it")},
        {"Ctrl+1", translated("One pixel for each pixel of the still; once more fits all in")},
        {"Ctrl+Shift+C", translated("Mark what is too bright")},
        {"Ctrl+Shift+B", translated("The side view under the picture")},
        {"Ctrl+Shift+T", translated("Fold the ticket to a strip")},
        {"Ctrl+Shift+M", translated("Lamps in the picture")},
        {"Ctrl+Shift+J", translated("Outlines only: what is hidden is chosen by its lines")},
        {"Ctrl+Shift+D", translated("The light desk under the picture")},
        {"Ctrl+Shift+R", translated("The sample book beside the picture")},
        {"*", translated("In the sample book: marks a material as favourite, or no longer")},
        {"Return, Down", translated("In the search of the sample book: gives the first that is found; leads to what is found")},
        {"F4", translated("While it is held: the picture without noise reduction")},
        {"Ctrl+Shift+O", translated("Proofs over the picture")},
        {"Ctrl+Shift+I", translated("Keep the work as it is as a proof")},
        {"F7", translated("While it is held: the picture without the layers of the finish")},
        {"F8", translated("While it is held: the proof that was looked at last")},
        {"", translated("With the pointer")},
        {translated("Drag outside the frame"), translated("Walk round")},
        {translated("Drag with the middle button"), translated("Slide")},
        {translated("Wheel"), translated("Closer, further away")},
        {translated("Click, click again"), translated("Choose a piece, then a letter; with Shift one more, with Ctrl what lies behind it")},
        {translated("Drag a piece"), translated("Move; Shift keeps it straight, Ctrl does not snap")},
        {translated("Drag across nothing"), translated("Choose all letters it covers")},
        {"", translated("Help")},
        {"F1", translated("How a still is made")},
        {"Shift+F1", translated("This sheet")}};
}

void showGuide(QWidget* parent)
{
    showScrolled(parent, "guide", translated("How a still is made"), {820, 680}, [] {
        auto* page = new QWidget;
        auto* grid = new QGridLayout(page);
        grid->setHorizontalSpacing(4 * kGrid);
        grid->setVerticalSpacing(4 * kGrid);
        int row = 0;
        for (const GuideStep& step : guideSteps()) {
            auto* picture = new QLabel;
            QPixmap pixmap(step.picture);
            picture->setPixmap(pixmap.scaledToWidth(360, Qt::SmoothTransformation));
            picture->setAccessibleName(step.title);
            grid->addWidget(picture, row, 0, Qt::AlignTop);
            auto* text = new QLabel("<b>" + step.title.toHtmlEscaped() + "</b><br>" + step.text.toHtmlEscaped());
            text->setObjectName("guide.step");
            text->setWordWrap(true);
            text->setAlignment(Qt::AlignTop | Qt::AlignLeft);
            grid->addWidget(text, row++, 1);
        }
        grid->setColumnStretch(1, 1);
        return page;
    });
}

void showShortcuts(QWidget* parent)
{
    showScrolled(parent, "shortcuts", translated("All shortcuts"), {640, 640}, [] {
        auto* page = new QWidget;
        auto* grid = new QGridLayout(page);
        grid->setHorizontalSpacing(6 * kGrid);
        int row = 0;
        for (const auto& [keys, what] : shortcutSheet()) {
            auto* right = new QLabel(what);
            right->setWordWrap(true);
            if (keys.isEmpty()) {
                QFont font = right->font();
                font.setWeight(QFont::DemiBold);
                right->setFont(font);
                right->setContentsMargins(0, row == 0 ? 0 : 3 * kGrid, 0, 0);
                grid->addWidget(right, row++, 0, 1, 2);
                continue;
            }
            grid->addWidget(new QLabel(keys), row, 0, Qt::AlignTop);
            grid->addWidget(right, row++, 1);
        }
        grid->setColumnStretch(1, 1);
        grid->setRowStretch(row, 1);
        return page;
    });
}

void showAbout(QWidget* parent)
{
    QMessageBox box(QMessageBox::NoIcon, translated("Open Glow"),
                    translated("Open Glow %1: lettering in light and depth.\n\nFree software under the GNU General Public License, version "
                               "3 or later. It comes with no warranty.")
                        .arg(QApplication::applicationVersion()),
                    QMessageBox::Close, parent);
    box.exec();
}

}  // namespace app
