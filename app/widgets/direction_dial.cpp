// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/direction_dial.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/theme/theme.h"

namespace loom {

DirectionDial::DirectionDial(double low, double high, QWidget* parent) : QWidget(parent), low_(low), high_(high) {
    setFixedSize(sizeHint());
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Drag the hand; Shift keeps to 15°"));
}

void DirectionDial::set_degrees(double degrees) {
    if (degrees == degrees_) return;
    degrees_ = degrees;
    update();
}

void DirectionDial::turn_to(double degrees) {
    // The same way, as near to where it was as the range allows.
    if (high_ - low_ >= 360) {
        while (degrees < low_) degrees += 360;
        while (degrees > high_) degrees -= 360;
    }
    degrees = std::clamp(degrees, low_, high_);
    if (degrees == degrees_) return;
    degrees_ = degrees;
    update();
    emit turned(degrees);
}

void DirectionDial::point_at(const QPointF& place, bool coarse) {
    const QPointF way = place - QRectF(rect()).center();
    if (std::hypot(way.x(), way.y()) < 2) return;
    const double grain = coarse ? 15 : 1;
    double degrees = std::round(std::atan2(-way.y(), way.x()) * 180 / std::numbers::pi / grain) * grain;
    if (degrees <= -180) degrees = 180;
    turn_to(degrees);
}

void DirectionDial::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF round = QRectF(rect()).adjusted(2, 2, -2, -2);
    painter.setPen(QPen(hasFocus() ? c.accent : isEnabled() ? c.faint : c.line, hasFocus() ? 2 : 1));
    painter.setBrush(c.field);
    painter.drawEllipse(round);
    const double angle = degrees_ * std::numbers::pi / 180, reach = round.width() / 2 - 2;
    const QPointF end = round.center() + QPointF(std::cos(angle), -std::sin(angle)) * reach;
    painter.setPen(QPen(isEnabled() ? c.text : c.line, 1.6));
    painter.drawLine(round.center(), end);
    painter.setBrush(isEnabled() ? c.text : c.line);
    painter.drawEllipse(end, 1.8, 1.8);
}

void DirectionDial::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return event->ignore();
    setFocus(Qt::MouseFocusReason);
    emit turn_began();
    point_at(event->position(), event->modifiers() & Qt::ShiftModifier);
}

void DirectionDial::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) point_at(event->position(), event->modifiers() & Qt::ShiftModifier);
}

void DirectionDial::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) emit turn_ended();
}

void DirectionDial::keyPressEvent(QKeyEvent* event) {
    const double by = event->modifiers() & Qt::ShiftModifier ? 45 : event->modifiers() & Qt::ControlModifier ? 1 : 5;
    switch (event->key()) {
        case Qt::Key_Left:
        case Qt::Key_Up: return turn_to(degrees_ + by);
        case Qt::Key_Right:
        case Qt::Key_Down: return turn_to(degrees_ - by);
        default: QWidget::keyPressEvent(event);
    }
}

void DirectionDial::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}
void DirectionDial::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

}  // namespace loom
