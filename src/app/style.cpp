#include "app/style.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>

// The resources lie in a static library; this takes them along.
static void takeResources()
{
    Q_INIT_RESOURCE(resources);
}

namespace app {

namespace {

Variant s_current = Variant::Light;

const Colours kLight{QColor("#F2F2F0"), QColor("#E6E6E3"), QColor("#FFFFFF"), QColor("#1D2123"), QColor("#50575A"), QColor("#CFCFCB"),
                     QColor("#85898A"), QColor("#0B5A61"), QColor("#FFFFFF"), QColor("#8A3412"), QColor("#777777")};
const Colours kDark{QColor("#2A2B2C"), QColor("#353738"), QColor("#1E1F20"), QColor("#EDEDEB"), QColor("#B7BBBC"), QColor("#47494A"),
                    QColor("#85898A"), QColor("#6CC5C6"), QColor("#0B2527"), QColor("#F2B088"), QColor("#777777")};

QString styleSheet(const Colours& c, Variant variant)
{
    QString sheet = R"(
QToolTip { color: %ink; background: %field; border: 1px solid %edge; padding: 4px; }
QMenuBar { background: %band; } QMenuBar::item { padding: 4px 8px; } QMenuBar::item:selected { background: %accent; color: %onAccent; }
QMenu { background: %field; border: 1px solid %edge; padding: 4px 0; } QMenu::item { padding: 4px 24px; }
QMenu::item:selected { background: %accent; color: %onAccent; } QMenu::item:disabled { color: %softInk; }
QMenu::separator { height: 1px; background: %line; margin: 4px 8px; }
QPushButton, QToolButton { background: %field; color: %ink; border: 1px solid %edge; border-radius: 2px; padding: 3px 8px; }
QPushButton:hover, QToolButton:hover { border-color: %accent; }
QPushButton:focus, QToolButton:focus { border: 2px solid %accent; padding: 2px 7px; }
QPushButton:checked, QToolButton:checked { background: %accent; color: %onAccent; border-color: %accent; }
QPushButton:disabled, QToolButton:disabled { color: %softInk; background: %paper; border-color: %line; }
QPushButton[primary="true"] { background: %accent; color: %onAccent; border-color: %accent; font-weight: 600; }
QPushButton[primary="true"]:focus { border: 2px solid %ink; }
QPushButton[primary="true"]:disabled { background: %band; color: %softInk; border-color: %line; }
QComboBox { background: %field; border: 1px solid %edge; border-radius: 2px; padding: 3px 6px; }
QComboBox:focus { border: 2px solid %accent; padding: 2px 5px; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(%down); width: 10px; height: 6px; }
QPushButton::menu-indicator { image: url(%down); width: 10px; height: 6px; subcontrol-position: right center; right: 8px; }
QComboBox QAbstractItemView { background: %field; color: %ink; border: 1px solid %edge; selection-background-color: %accent; selection-color: %onAccent; }
QLineEdit, QPlainTextEdit { background: %field; color: %ink; border: 1px solid %edge; border-radius: 2px; padding: 3px 5px; selection-background-color: %accent; selection-color: %onAccent; }
QLineEdit:focus, QPlainTextEdit:focus { border: 2px solid %accent; padding: 2px 4px; }
QCheckBox { spacing: 8px; } QCheckBox:focus { color: %accent; }
QCheckBox::indicator, QListWidget::indicator { width: 12px; height: 12px; border: 1px solid %edge; background: %field; }
QCheckBox::indicator:focus { border: 2px solid %accent; width: 10px; height: 10px; }
QCheckBox::indicator:checked, QListWidget::indicator:checked { image: url(%check); }
QCheckBox::indicator:indeterminate { image: url(%dash); }
QListWidget { background: %field; border: 1px solid %edge; border-radius: 2px; } QListWidget:focus { border: 2px solid %accent; }
QListWidget { outline: 0; } QListWidget::item { padding: 3px 4px; border: 0; } QListWidget::item:selected { padding: 3px 4px; border: 0; background: %accent; color: %onAccent; }
QScrollArea { border: none; } QScrollBar:vertical { background: %paper; width: 12px; margin: 0; } QScrollBar:horizontal { background: %paper; height: 12px; margin: 0; }
QScrollBar::handle { background: %edge; border-radius: 4px; min-height: 24px; min-width: 24px; margin: 2px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QLabel[soft="true"] { color: %softInk; } QLabel[warning="true"] { color: %warning; }
QProgressBar { background: %field; border: 1px solid %edge; border-radius: 2px; text-align: center; height: 16px; } QProgressBar::chunk { background: %accent; }
)";
    const std::pair<const char*, QColor> names[] = {
        {"%paper", c.paper}, {"%band", c.band}, {"%field", c.field},   {"%ink", c.ink},           {"%softInk", c.softInk},
        {"%line", c.line},   {"%edge", c.edge}, {"%accent", c.accent}, {"%onAccent", c.onAccent}, {"%warning", c.warning}};
    for (const auto& [name, colour] : names)
        sheet.replace(name, colour.name());
    for (const char* picture : {"down", "check", "dash"})
        sheet.replace(QString("%") + picture, QString(":/%1-%2.svg").arg(picture, variant == Variant::Dark ? "dark" : "light"));
    return sheet;
}

}  // namespace

const Colours& colours(Variant variant)
{
    return variant == Variant::Dark ? kDark : kLight;
}

std::vector<TextStyle> textStyles(Variant variant)
{
    const Colours& c = colours(variant);
    return {{"text on the ticket", c.ink, c.paper},
            {"text in a head", c.ink, c.band},
            {"text in a field", c.ink, c.field},
            {"summary", c.softInk, c.paper},
            {"summary in a head", c.softInk, c.band},
            {"unit in a field", c.softInk, c.field},
            {"action", c.onAccent, c.accent},
            {"chosen head", c.accent, c.band},
            {"notice", c.warning, c.paper},
            {"notice in a bar", c.warning, c.band},
            {"link", c.accent, c.paper}};
}

Variant desktopVariant()
{
    // What the desktop says, its own palette, or the variable that people set where there is no desktop.
    const QByteArray forced = qgetenv("OPEN_GLOW_APPEARANCE");
    if (!forced.isEmpty())
        return forced == "dark" ? Variant::Dark : Variant::Light;
    return QPalette().color(QPalette::Window).lightness() < 110 ? Variant::Dark : Variant::Light;
}

Variant currentVariant()
{
    return s_current;
}

void applyStyle(QApplication& application, Variant variant)
{
    takeResources();
    s_current = variant;
    const Colours& c = colours(variant);
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    QPalette palette;
    palette.setColor(QPalette::Window, c.paper);
    palette.setColor(QPalette::WindowText, c.ink);
    palette.setColor(QPalette::Base, c.field);
    palette.setColor(QPalette::AlternateBase, c.band);
    palette.setColor(QPalette::Text, c.ink);
    palette.setColor(QPalette::Button, c.field);
    palette.setColor(QPalette::ButtonText, c.ink);
    palette.setColor(QPalette::ToolTipBase, c.field);
    palette.setColor(QPalette::ToolTipText, c.ink);
    palette.setColor(QPalette::PlaceholderText, c.softInk);
    palette.setColor(QPalette::Highlight, c.accent);
    palette.setColor(QPalette::HighlightedText, c.onAccent);
    palette.setColor(QPalette::Link, c.accent);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, c.softInk);
    QApplication::setPalette(palette);
    QFont font("Inter");
    font.setStyleHint(QFont::SansSerif);
    font.setPixelSize(13);
    QApplication::setFont(font);
    application.setStyleSheet(styleSheet(c, variant));
}

}  // namespace app
