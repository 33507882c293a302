// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/tone_field.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/tone_counts.h"

namespace loom {

namespace {
constexpr int handle_reach = 11;  ///< pixels from a handle that still mean it
double to_tone(double share) { return std::round(share * 255) / 255; }
}  // namespace

ToneField::ToneField(QWidget* parent) : QWidget(parent), line_(theme::colours().text) {
    setMinimumHeight(110);
    setFocusPolicy(Qt::StrongFocus);
}

void ToneField::set_histogram(const Histogram& histogram) {
    histogram_ = histogram;
    update();
}

void ToneField::set_reference(const std::optional<Histogram>& histogram) {
    reference_ = histogram;
    update();
}

void ToneField::set_line(const QColor& colour) {
    line_ = colour;
    update();
}

void ToneField::choose(int handle) {
    const int count = static_cast<int>(handles().size());
    if (handle < 0 || handle >= count) return;
    chosen_ = handle;
    setAccessibleDescription(tr("Handle %1 of %2").arg(handle + 1).arg(count));
    update();
    emit chosen_changed();
}

QPointF ToneField::at(const CurvePoint& point) const {
    const QRect area = plot();
    return {area.left() + point.in * area.width(), area.bottom() - point.out * area.height()};
}

CurvePoint ToneField::point_at(const QPoint& place) const {
    const QRect area = plot();
    return {std::clamp(static_cast<double>(place.x() - area.left()) / area.width(), 0.0, 1.0),
            std::clamp(static_cast<double>(area.bottom() - place.y()) / area.height(), 0.0, 1.0)};
}

QPoint ToneField::handle_place(int handle) const { return at(handles()[static_cast<std::size_t>(handle)]).toPoint(); }

std::pair<double, double> ToneField::lost() const {
    const auto [low, high] = kept();
    double below = 0, above = 0;
    for (int k = 0; k < Histogram::bins; ++k) {
        const double tone = k / 255.0, share = histogram_.share[static_cast<std::size_t>(k)];
        if (low > 0 && tone <= low) below += share;
        if (high < 1 && tone >= high) above += share;
    }
    return {below, above};
}

void ToneField::paint_lost(QPainter& painter) const {
    const theme::Colours& c = theme::colours();
    const QRect area = plot();
    const auto [low, high] = kept();
    const auto [below, above] = lost();
    const int from = area.left() + static_cast<int>(low * area.width()), to = area.left() + static_cast<int>(high * area.width());
    QColor veil = c.window;
    veil.setAlpha(190);
    painter.setFont(theme::small_font());
    const auto side = [&](const QRect& veiled, double share, bool left) {
        if (veiled.width() <= 0) return;
        painter.fillRect(veiled, veil);
        painter.setPen(share > 0 ? c.text : c.faint);
        // In the veil where there is room, else right beside it.
        const QString text = QString("%1 %").arg(share * 100, 0, 'f', 1);
        const int wide = painter.fontMetrics().horizontalAdvance(text) + 6;
        const int x = left ? (veiled.width() >= wide ? veiled.left() : veiled.right() + 1)
                           : (veiled.width() >= wide ? veiled.right() - wide : veiled.left() - wide - 1);
        painter.drawText(QRect(x + 3, left ? area.top() + 2 : area.bottom() - 16, wide, 14), Qt::AlignLeft | Qt::AlignVCenter,
                         text);
    };
    side(QRect(area.left(), area.top(), from - area.left(), area.height()), below, true);
    side(QRect(to, area.top(), area.right() - to, area.height()), above, false);
}

void ToneField::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRect area = plot();
    painter.setPen(QPen(hasFocus() ? c.accent : c.line, 1));
    painter.setBrush(c.card);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    QColor fill = c.thread;
    fill.setAlpha(110);
    painter.setPen(Qt::NoPen);
    painter.setBrush(fill);
    painter.drawPath(tone_path(histogram_, area));
    painter.setBrush(Qt::NoBrush);
    if (reference_) {
        painter.setPen(QPen(c.accent, 1));
        painter.drawPath(tone_path(*reference_, area));
    }
    paint_lost(painter);
    painter.setPen(QPen(c.line, 1, Qt::DotLine));
    for (int k = 1; k < 4; ++k) {
        painter.drawLine(area.left() + k * area.width() / 4, area.top(), area.left() + k * area.width() / 4, area.bottom());
        painter.drawLine(area.left(), area.top() + k * area.height() / 4, area.right(), area.top() + k * area.height() / 4);
    }
    painter.drawLine(area.bottomLeft(), area.topRight());
    QPainterPath path;
    for (int x = 0; x <= area.width(); ++x) {
        const double in = static_cast<double>(x) / area.width();
        const QPointF to = at({in, out(in)});
        x == 0 ? path.moveTo(to) : path.lineTo(to);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(line_, 1.8));
    painter.drawPath(path);
    const CurvePoints all = handles();
    for (int k = 0; k < static_cast<int>(all.size()); ++k) {
        const QPointF place = at(all[static_cast<std::size_t>(k)]);
        painter.setPen(QPen(k == chosen_ ? c.accent : c.text, k == chosen_ ? 2 : 1));
        painter.setBrush(c.card);
        painter.drawEllipse(place, 4.5, 4.5);
        if (k != chosen_ || !hasFocus()) continue;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(c.accent, 1, Qt::DotLine));
        painter.drawEllipse(place, 7.5, 7.5);
    }
}

void ToneField::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    int nearest = handle_reach, index = -1;
    // The last of several in one place can still be pulled away.
    for (int k = 0; k < static_cast<int>(handles().size()); ++k)
        if (const int off = (handle_place(k) - event->pos()).manhattanLength(); off <= nearest) nearest = off, index = k;
    gestures_.begin();
    if (index >= 0) choose(index);
    held_ = index >= 0 || press_beside(to_tone(point_at(event->pos()).in));
}

void ToneField::mouseMoveEvent(QMouseEvent* event) {
    if (!held_) return;
    const CurvePoint to = point_at(event->pos());
    move_handle(chosen_, {to_tone(to.in), to_tone(to.out)}, gestures_.current());
}

void ToneField::mouseReleaseEvent(QMouseEvent*) {
    held_ = false;
    gestures_.end();
}

void ToneField::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers() & Qt::ShiftModifier ? 10 * tone_step : tone_step;
    CurvePoint to = handles()[static_cast<std::size_t>(chosen_)];
    switch (event->key()) {
        case Qt::Key_Left: to.in -= step; break;
        case Qt::Key_Right: to.in += step; break;
        case Qt::Key_Up: to.out += step; break;
        case Qt::Key_Down: to.out -= step; break;
        case Qt::Key_PageUp: return choose(chosen_ + 1);
        case Qt::Key_PageDown: return choose(chosen_ - 1);
        default: return QWidget::keyPressEvent(event);
    }
    move_handle(chosen_, to, gestures_.current());
}

}  // namespace loom
