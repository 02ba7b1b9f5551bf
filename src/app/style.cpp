#include "app/style.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>
#include <algorithm>

#include "picture/colour.h"

// The resources lie in a static library; this takes them along.
static void takeResources()
{
    Q_INIT_RESOURCE(resources);
}

namespace app {

namespace {

Look s_look;

const Colours kLight{QColor("#F5F4F1"), QColor("#EBE9E4"), QColor("#FFFFFF"), QColor("#1D2123"), QColor("#50575A"),
                     QColor("#D8D6CF"), QColor("#85898A"), QColor("#0B5A61"), QColor("#FFFFFF"), QColor("#E4E9E7"),
                     QColor("#D2DCDA"), QColor("#DFEAE9"), QColor("#8A3412"), QColor("#777777")};
const Colours kDark{QColor("#2B2C2D"), QColor("#353738"), QColor("#1E1F20"), QColor("#EDEDEB"), QColor("#B7BBBC"),
                    QColor("#484A4B"), QColor("#85898A"), QColor("#6CC5C6"), QColor("#0B2527"), QColor("#3A4041"),
                    QColor("#465153"), QColor("#304142"), QColor("#F2B088"), QColor("#777777")};

QString styleSheet(const Colours& c, Variant variant)
{
    QString sheet = R"(
QToolTip { color: %ink; background: %field; border: 1px solid %edge; padding: 4px; }
QMenuBar { background: %paper; padding: 0 4px; } QMenuBar::item { padding: 5px 9px; border-radius: 4px; }
QMenuBar::item:selected { background: %hover; } QMenuBar::item:pressed { background: %accent; color: %onAccent; }
QWidget[panel="true"] { background: %paper; border: 1px solid %edge; }
QMenu { background: %field; border: 1px solid %edge; padding: 4px 0; } QMenu::item { padding: 5px 24px; }
QMenu::item:selected { background: %accent; color: %onAccent; } QMenu::item:disabled { color: %softInk; background: transparent; }
QMenu::separator { height: 1px; background: %line; margin: 4px 8px; }
QPushButton, QToolButton { background: %band; color: %ink; border: 1px solid %line; border-radius: 4px; padding: 4px 9px; outline: none; }
QPushButton:hover, QToolButton:hover { background: %hover; border-color: %edge; }
QPushButton:pressed, QToolButton:pressed { background: %press; border-color: %edge; }
QPushButton:focus, QToolButton:focus { border: 2px solid %accent; padding: 3px 8px; }
QPushButton:checked, QToolButton:checked { background: %accent; color: %onAccent; border-color: %accent; font-weight: 600; }
QPushButton:disabled, QToolButton:disabled { color: %softInk; background: transparent; border-color: %line; }
QPushButton[primary="true"] { background: %accent; color: %onAccent; border-color: %accent; font-weight: 600; }
QPushButton[primary="true"]:hover { border: 1px solid %ink; }
QPushButton[primary="true"]:focus { border: 2px solid %ink; }
QPushButton[primary="true"]:disabled { background: %band; color: %softInk; border-color: %line; }
QToolButton[mark="true"] { padding: 1px 5px; font-size: %smallpx; background: transparent; border-color: transparent; }
QToolButton[mark="true"]:hover { background: %hover; border-color: %edge; } QToolButton[mark="true"]:focus { border-color: %accent; }
QComboBox { background: %field; border: 1px solid %edge; border-radius: 3px; padding: 4px 7px; combobox-popup: 0; }
QComboBox:hover { border-color: %accent; }
QComboBox:focus { border: 2px solid %accent; padding: 3px 6px; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(%down); width: 10px; height: 6px; }
QPushButton::menu-indicator { image: url(%down); width: 10px; height: 6px; subcontrol-position: right center; right: 8px; }
QComboBox QAbstractItemView { background: %field; color: %ink; border: 1px solid %edge; outline: 0; padding: 2px 0; }
QComboBox QAbstractItemView::item { padding: 5px 8px; color: %ink; background: %field; border: 0; }
QComboBox QAbstractItemView::item:selected, QComboBox QAbstractItemView::item:hover { background: %accent; color: %onAccent; }
QLineEdit, QPlainTextEdit { background: %field; color: %ink; border: 1px solid %edge; border-radius: 3px; padding: 4px 6px; selection-background-color: %accent; selection-color: %onAccent; }
QLineEdit:hover, QPlainTextEdit:hover { border-color: %accent; }
QLineEdit:focus, QPlainTextEdit:focus { border: 2px solid %accent; padding: 3px 5px; }
QCheckBox { spacing: 8px; padding: 2px 0; } QCheckBox:focus { color: %accent; }
QCheckBox::indicator, QListWidget::indicator { width: 14px; height: 14px; border: 1px solid %edge; border-radius: 3px; background: %field; }
QCheckBox::indicator:hover { border-color: %accent; background: %hover; }
QCheckBox::indicator:focus { border: 2px solid %accent; width: 12px; height: 12px; }
QCheckBox::indicator:checked, QListWidget::indicator:checked { image: url(%check); }
QCheckBox::indicator:indeterminate { image: url(%dash); }
QListWidget { background: %field; border: 1px solid %line; border-radius: 4px; } QListWidget:focus { border: 2px solid %accent; }
QListWidget { outline: 0; } QListWidget::item { padding: 4px; border: 0; } QListWidget::item:hover { background: %hover; }
QListWidget::item:selected { background: %accent; color: %onAccent; }
#middle { background: %surround; } #middle QSplitter::handle { background: transparent; } #middle QSplitter::handle:hover { background: %edge; }
#stateLine, #message, QWidget[slip="true"] { background: %paper; border-radius: 6px; }
QSlider:vertical { min-width: 22px; }
QSlider::groove:vertical { width: 4px; background: %line; border-radius: 2px; } QSlider::add-page:vertical { background: %accent; border-radius: 2px; }
QSlider::handle:vertical { height: 10px; margin: 0 -8px; background: %paper; border: 1px solid %edge; border-radius: 3px; }
QSlider::handle:vertical:hover { border-color: %accent; background: %hover; } QSlider::handle:vertical:focus { border: 2px solid %accent; }
QSlider::handle:vertical:disabled { background: %band; border-color: %line; } QSlider::add-page:vertical:disabled { background: %line; }
QToolButton[symbol="true"] { padding: 4px 2px 4px 6px; } QToolButton[symbol="true"]:focus { padding: 3px 1px 3px 5px; }
#stateLine QToolButton { padding: 4px 5px; } #stateLine QToolButton:focus { padding: 3px 4px; } #stateLine QToolButton[mark="true"] { padding: 1px 5px; }
#stateLine QToolButton[symbol="true"] { padding: 4px 1px 4px 5px; } #stateLine QToolButton[symbol="true"]:focus { padding: 3px 0 3px 4px; }
QToolButton[picture="true"] { padding: 6px; background: transparent; border-color: %line; }
QToolButton[picture="true"]:hover { background: %hover; border-color: %accent; }
QToolButton[picture="true"]:focus { border: 2px solid %accent; padding: 5px; }
QScrollArea { border: none; background: transparent; } QScrollBar:vertical { background: transparent; width: 10px; margin: 0; } QScrollBar:horizontal { background: transparent; height: 10px; margin: 0; }
QScrollBar::handle { background: %edge; border-radius: 3px; min-height: 24px; min-width: 24px; margin: 2px; }
QScrollBar::handle:hover { background: %accent; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QLabel[soft="true"] { color: %softInk; } QLabel[warning="true"] { color: %warning; }
QLabel[title="true"] { font-weight: 600; color: %softInk; font-size: %smallpx; }
QProgressBar { background: %field; border: 1px solid %edge; border-radius: 3px; text-align: center; height: 14px; } QProgressBar::chunk { background: %accent; }
)";
    const std::pair<const char*, QColor> names[] = {
        {"%paper", c.paper}, {"%band", c.band},   {"%field", c.field},      {"%ink", c.ink},           {"%softInk", c.softInk},
        {"%line", c.line},   {"%edge", c.edge},   {"%accent", c.accent},    {"%onAccent", c.onAccent}, {"%warning", c.warning},
        {"%hover", c.hover}, {"%press", c.press}, {"%surround", c.surround}};
    for (const auto& [name, colour] : names)
        sheet.replace(name, colour.name());
    sheet.replace("%small", QString::number(smallTextPx()));
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
            {"link", c.accent, c.paper},
            {"text under the pointer", c.ink, c.hover},
            {"text pressed", c.ink, c.press},
            {"summary under the pointer", c.softInk, c.hover},
            {"open head", c.accent, c.chosen},
            {"open head's summary", c.softInk, c.chosen}};
}

const Look& currentLook()
{
    return s_look;
}

// Typed colours are sRGB (IEC 61966-2-1).
QColor seenColour(base::Rgb linear)
{
    const base::Rgb e = picture::encodeSrgb(linear);
    return QColor::fromRgbF(std::clamp(e.x, 0.0f, 1.0f), std::clamp(e.y, 0.0f, 1.0f), std::clamp(e.z, 0.0f, 1.0f));
}

int textPx()
{
    return 13 * s_look.textPercent / 100;
}

int smallTextPx()
{
    return 12 * s_look.textPercent / 100;
}

void applyStyle(QApplication& application, const Look& look)
{
    takeResources();
    s_look = look;
    const Colours& c = colours(look.variant);
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
    font.setPixelSize(textPx());
    QApplication::setFont(font);
    application.setStyleSheet(styleSheet(c, look.variant));
}

}  // namespace app
