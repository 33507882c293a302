// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/colour_button.h"

#include <QPainter>

#include "app/theme/theme.h"
#include "app/widgets/colour_panel.h"

namespace loom {

QColor to_qcolor(const Colour& c) {
    auto part = [](float value) { return std::clamp(value, 0.0f, 1.0f); };
    return QColor::fromRgbF(part(c.red), part(c.green), part(c.blue));
}

Colour from_qcolor(const QColor& c) {
    return {static_cast<float>(c.redF()), static_cast<float>(c.greenF()), static_cast<float>(c.blueF())};
}

ColourButton::ColourButton(QWidget* parent) : QPushButton(parent) {
    setFixedHeight(24);
    setMinimumWidth(104);
    connect(this, &QPushButton::clicked, this, &ColourButton::choose);
}

void ColourButton::set_colour(const Colour& colour) {
    colour_ = colour;
    setToolTip(QString::fromStdString(write_colour(colour)));
    update();
}

ColourPanel* ColourButton::panel() const { return panel_; }

void ColourButton::choose() {
    // One at a time for each button.
    if (panel_) return panel_->raise();
    panel_ = new ColourPanel(colour_, this);
    connect(panel_, &ColourPanel::changed, this, [this](const Colour& colour, const QString& gesture) {
        set_colour(colour);
        emit changed(colour_, gesture);
    });
    panel_->show();
}

void ColourButton::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF frame = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen(hasFocus() ? c.accent : c.line, hasFocus() ? 2 : 1));
    painter.setBrush(c.field);
    painter.drawRoundedRect(frame, 3, 3);
    painter.setPen(QPen(QColor(0, 0, 0, 60), 1));
    painter.setBrush(to_qcolor(colour_));
    painter.drawRoundedRect(QRectF(4.5, 4.5, 28, height() - 9), 2, 2);
    painter.setPen(c.text);
    painter.setFont(theme::text_font());
    painter.drawText(rect().adjusted(40, 0, -6, 0), Qt::AlignVCenter | Qt::AlignLeft,
                     QString::fromStdString(write_colour(colour_)));
}

}  // namespace loom
