// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/theme/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QProxyStyle>

// Resources of a static library are only linked in if somebody asks for them, outside all namespaces.
static void link_resources() { Q_INIT_RESOURCE(theme); }

namespace loom::theme {

namespace {

Scheme current = Scheme::light;

const Colours light{QColor("#dcdcdc"), QColor("#ececec"), QColor("#f8f8f8"), QColor("#ffffff"), QColor("#c4c4c4"),
                    QColor("#1c1c1c"), QColor("#5f5f5f"), QColor("#a92f48"), QColor("#ffffff"), QColor("#9c9c9c"),
                    QColor("#256a30"), QColor("#855300"), QColor("#8a8a8a")};
const Colours dark{QColor("#262626"), QColor("#303030"), QColor("#3a3a3a"), QColor("#222222"), QColor("#505050"),
                   QColor("#ececec"), QColor("#a4a4a4"), QColor("#e88a9c"), QColor("#1c1c1c"), QColor("#7a7a7a"),
                   QColor("#6fbf7c"), QColor("#e0a040"), QColor("#5a5a5a")};

/// Fusion without the platform's pictures on buttons of dialogs.
class PlainStyle : public QProxyStyle {
public:
    PlainStyle() : QProxyStyle("Fusion") {}
    int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget, QStyleHintReturn* data) const override {
        return hint == SH_DialogButtonBox_ButtonsHaveIcons ? 0 : QProxyStyle::styleHint(hint, option, widget, data);
    }
};

QFont font(int pixels, QFont::Weight weight) {
    QFont f("Inter");
    f.setPixelSize(pixels);
    f.setWeight(weight);
    return f;
}

QString style_sheet(const Colours& c) {
    // Colours stand by their names, so that the sheet can be read; all of them come from the table above.
    QString sheet = R"(
        QMenuBar { background: @panel; padding: 1px 4px; }
        QMenuBar::item { padding: 4px 10px; background: transparent; }
        QMenuBar::item:selected, QMenu::item:selected { background: @accent; color: @onaccent; }
        QMenu { background: @card; border: 1px solid @line; padding: 4px; }
        QMenu::item { padding: 5px 24px; }
        QMenu::item:disabled { color: @faint; }
        QMenu::separator { height: 1px; background: @line; margin: 4px 8px; }
        QToolTip { background: @card; color: @text; border: 1px solid @line; padding: 4px; }
        QLineEdit, QDoubleSpinBox, QSpinBox, QComboBox { background: @field; color: @text; border: 1px solid @line; border-radius: 3px; padding: 2px 6px; min-height: 18px; selection-background-color: @accent; selection-color: @onaccent; }
        QLineEdit:focus, QDoubleSpinBox:focus, QSpinBox:focus, QComboBox:focus { border: 2px solid @accent; padding: 1px 5px; }
        QComboBox::drop-down { border: 0; width: 18px; }
        QComboBox::down-arrow { image: url(:/theme/@arrow); width: 9px; height: 9px; }
        QComboBoxPrivateContainer { background: @card; border: 1px solid @line; }
        QComboBox QAbstractItemView { background: @card; border: 0; outline: 0; selection-background-color: @accent; selection-color: @onaccent; }
        QPushButton { background: @card; color: @text; border: 1px solid @line; border-radius: 4px; padding: 5px 12px; }
        QPushButton:hover { border-color: @faint; }
        QPushButton:disabled { color: @faint; }
        QPushButton:pressed { background: @window; }
        QPushButton:focus { border: 2px solid @accent; padding: 4px 11px; }
        QPushButton:checked { border: 2px solid @accent; padding: 4px 11px; font-weight: 600; }
        QPushButton[primary="true"] { background: @accent; color: @onaccent; border-color: @accent; }
        QPushButton[primary="true"]:hover { border-color: @text; }
        QPushButton[primary="true"]:focus { border-color: @text; }
        QPushButton[primary="true"]:disabled { background: @line; color: @faint; border-color: @line; }
        QPushButton[chip="true"] { border-radius: 9px; padding: 2px 8px; }
        QPushButton[chip="true"]:focus { padding: 1px 7px; }
        QPushButton[chip="true"]:checked { background: @text; color: @panel; }
        QPushButton:default { border-color: @text; }
        QToolButton { background: transparent; color: @text; border: 1px solid transparent; border-radius: 3px; padding: 3px 8px; }
        QToolButton:hover { background: @card; border-color: @line; }
        QToolButton:focus { border: 1px solid @accent; }
        QToolButton:checked { color: @text; background: @field; border: 1px solid @text; font-weight: 600; }
        QToolButton:checked:focus { border-color: @accent; }
        QToolButton:disabled { color: @line; }
        QCheckBox { spacing: 8px; color: @text; }
        QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid @faint; border-radius: 3px; background: @field; }
        QCheckBox::indicator:checked { background: @accent; border-color: @accent; image: url(:/theme/tick.svg); }
        QCheckBox:focus { color: @accent; }
        QRadioButton { spacing: 8px; color: @text; }
        QRadioButton::indicator { width: 14px; height: 14px; border: 1px solid @faint; border-radius: 8px; background: @field; }
        QRadioButton::indicator:checked { width: 6px; height: 6px; border: 5px solid @accent; border-radius: 8px; background: @field; }
        QRadioButton:focus { color: @accent; }
        QSlider { min-height: 20px; }
        QSlider::groove:horizontal { height: 3px; background: @line; border-radius: 1px; }
        QSlider::sub-page:horizontal { background: @text; height: 3px; border-radius: 1px; }
        QSlider::handle:horizontal { background: @field; border: 1px solid @text; width: 12px; height: 12px; margin: -6px 0; border-radius: 7px; }
        QSlider::handle:horizontal:focus { border: 2px solid @accent; width: 11px; height: 11px; }
        QSlider::sub-page:horizontal:disabled { background: @line; }
        QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
        QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
        QScrollBar::handle { background: @line; border-radius: 4px; min-height: 24px; min-width: 24px; margin: 1px; }
        QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: transparent; width: 0; height: 0; }
        QScrollArea { background: transparent; border: 0; }
        QAbstractScrollArea::corner { background: transparent; border: 0; }
        QListWidget { background: @card; border: 1px solid @line; outline: 0; }
        QListWidget::item { padding: 6px 8px; }
        QListWidget::item:selected { background: @accent; color: @onaccent; }
        QStatusBar { background: @panel; color: @text; border-top: 1px solid @line; }
        QStatusBar::item { border: 0; }
    )";
    const std::pair<const char*, QColor> names[] = {
        {"@onaccent", c.on_accent}, {"@accent", c.accent}, {"@window", c.window}, {"@panel", c.panel}, {"@card", c.card},
        {"@field", c.field},        {"@line", c.line},     {"@text", c.text},     {"@faint", c.faint}, {"@thread", c.thread}};
    sheet.replace("@arrow", current == Scheme::light ? "arrow-light.svg" : "arrow-dark.svg");
    for (const auto& [name, colour] : names) sheet.replace(QLatin1String(name), colour.name());
    return sheet;
}

}  // namespace

void apply(QApplication& app, Scheme wanted) {
    static const bool fonts_loaded = [] {
        link_resources();
        for (const char* file :
             {":/theme/fonts/Inter-Regular.otf", ":/theme/fonts/Inter-Medium.otf", ":/theme/fonts/Inter-SemiBold.otf"})
            QFontDatabase::addApplicationFont(QLatin1String(file));
        return true;
    }();
    Q_UNUSED(fonts_loaded);
    current = wanted;
    const Colours& c = colours();
    app.setStyle(new PlainStyle);
    QPalette palette;
    palette.setColor(QPalette::Window, c.panel);
    palette.setColor(QPalette::WindowText, c.text);
    palette.setColor(QPalette::Base, c.field);
    palette.setColor(QPalette::AlternateBase, c.card);
    palette.setColor(QPalette::Text, c.text);
    palette.setColor(QPalette::Mid, c.line);
    palette.setColor(QPalette::Button, c.card);
    palette.setColor(QPalette::ButtonText, c.text);
    palette.setColor(QPalette::Highlight, c.accent);
    palette.setColor(QPalette::HighlightedText, c.on_accent);
    palette.setColor(QPalette::PlaceholderText, c.faint);
    palette.setColor(QPalette::ToolTipBase, c.card);
    palette.setColor(QPalette::ToolTipText, c.text);
    for (QPalette::ColorRole role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, c.thread);
    app.setPalette(palette);
    app.setFont(text_font());
    app.setStyleSheet(style_sheet(c));
}

Scheme scheme() { return current; }

Scheme wanted(bool dark, bool as_system) {
    // The palette that the program is given before it has one of its own.
    static const bool system_is_dark = QGuiApplication::palette().color(QPalette::Window).lightness() < 128;
    return (as_system ? system_is_dark : dark) ? Scheme::dark : Scheme::light;
}

const Colours& colours() { return current == Scheme::light ? light : dark; }
QFont text_font() { return font(12, QFont::Normal); }
QFont small_font() { return font(11, QFont::Normal); }
QFont strong_font(int pixels) { return font(pixels, QFont::DemiBold); }

}  // namespace loom::theme
