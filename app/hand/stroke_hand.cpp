// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/stroke_hand.h"

#include <QLineF>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/document/preferences.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

/// Tools that go on working where the pen stands still.
bool goes_on(const std::string& tool) {
    return tool == "swell" || tool == "pinch" || tool == "turn" || tool == "churn" || tool == "restore";
}

int eighths(double px) { return static_cast<int>(std::lround(px * StrokePoint::per_px)); }

}  // namespace

StrokeHand::StrokeHand(Session& session, Brush& brush, QObject* parent) : QObject(parent), session_(session), brush_(brush) {
    still_.setInterval(50);
    connect(&still_, &QTimer::timeout, this, [this] {
        if (stroke_ && goes_on(stroke_->tool)) add(latest_, tile_, true);
    });
    connect(&brush_, &Brush::changed, this, &StrokeHand::looks_changed);
    // Whatever was drawn for another document or step is not for this one.
    connect(&session_, &Session::selection_changed, this, &StrokeHand::give_up);
    connect(&session_, &Session::file_changed, this, &StrokeHand::give_up);
}

QSizeF StrokeHand::design() const { return {double(session_.recipe().tile.width), double(session_.recipe().tile.height)}; }

bool StrokeHand::press(const Touch& touch, const QRectF& tile) {
    if (!brush_.parameter() || resizing_) return false;
    if (brush_.strokes().size() >= most_strokes) {
        emit session_.refused(tr("%1 strokes is the most that a step can hold; add another step for more").arg(most_strokes));
        return true;
    }
    stroke_ = brush_.stroke();
    const QPointF first = in_design(touch.at, tile, design());
    shift_ = {-std::floor(first.x() / design().width()) * design().width(),
              -std::floor(first.y() / design().height()) * design().height()};
    brush_.show_stroke(-1);
    add(touch, tile, true);
    still_.start();
    return true;
}

void StrokeHand::drag(const Touch& touch, const QRectF& tile) {
    pointer_ = touch.at;
    add(touch, tile, false);
}

void StrokeHand::add(const Touch& touch, const QRectF& tile, bool again) {
    if (!stroke_) return;
    latest_ = touch, tile_ = tile;
    const QPointF place = in_design(touch.at, tile, design()) + shift_;
    StrokePoint point;
    point.x = eighths(place.x()), point.y = eighths(place.y());
    point.pressure = static_cast<int>(std::lround(PresentPreferences::instance().pressed(std::clamp(touch.pressure, 0.0, 1.0)) * 255));
    point.tilt_x = static_cast<int>(std::clamp(touch.tilt_x, -60.0, 60.0));
    point.tilt_y = static_cast<int>(std::clamp(touch.tilt_y, -60.0, 60.0));
    auto& points = stroke_->points;
    // Closer than this the hand's tremble is all there is.
    const double least = std::max(0.75, stroke_->size / 40) * StrokePoint::per_px;
    if (!again && !points.empty() && std::hypot(point.x - points.back().x, point.y - points.back().y) < least) return;
    if (points.size() >= most_stroke_points) return;
    points.push_back(point);
    // The curve changes as far back as it is smoothed.
    const std::size_t from = points.size() > 3 ? points.size() - 3 : 0;
    QPolygonF places;
    for (std::size_t k = from; k < points.size(); ++k) places << QPointF(points[k].x, points[k].y) / double(StrokePoint::per_px);
    const double around = stroke_->size;
    const QRectF changed = places.boundingRect().adjusted(-around, -around, around, around);
    emit drawn(with_value(session_.recipe(), brush_.address(), Value(brush_.strokes().appended(*stroke_))), changed);
    emit looks_changed();
}

void StrokeHand::release() {
    still_.stop();
    if (!stroke_) return;
    const Stroke done = *stroke_;
    stroke_.reset();
    const Parameter* p = brush_.parameter();
    if (!p || done.points.empty()) return;
    QString name;
    for (const Choice& tool : p->choices)
        if (tool.id == done.tool) name = qt(tool.title);
    emit finishing();
    session_.apply(with_value(session_.recipe(), brush_.address(), Value(brush_.strokes().appended(done))),
                   tr("%1, stroke %2").arg(name).arg(brush_.strokes().size() + 1));
}

QPolygonF StrokeHand::way() const {
    QPolygonF way;
    if (!stroke_) return way;
    for (const StrokePoint& p : stroke_->points)
        way << QPointF(p.x / (StrokePoint::per_px * design().width()), p.y / (StrokePoint::per_px * design().height()));
    return way;
}

void StrokeHand::give_up() {
    still_.stop();
    if (!stroke_) return;
    stroke_.reset();
    emit given_up();
}

void StrokeHand::hover(const QPointF& at, const QRectF& tile) {
    if (resizing_) {
        const QPointF way = at - pointer_;
        brush_.set_size(brush_.size() + 2 * way.x() / std::max(1e-6, tile.width()) * design().width());
        brush_.set_strength(brush_.strength() - way.y() / 2);
    }
    pointer_ = at, over_ = true, tile_ = tile;
    if (brush_.parameter()) emit looks_changed();
}

void StrokeHand::leave() {
    over_ = false;
    emit looks_changed();
}

bool StrokeHand::key(const QKeyEvent& event, bool pressed) {
    if (!brush_.parameter()) return false;
    if (event.key() == Qt::Key_B && event.modifiers() == Qt::NoModifier) {
        if (!event.isAutoRepeat()) resizing_ = pressed;
        return true;
    }
    if (pressed && event.key() == Qt::Key_Escape && stroke_) {
        give_up();
        return true;
    }
    const bool more = event.key() == Qt::Key_Period || event.key() == Qt::Key_Greater || event.key() == Qt::Key_Colon,
               less = event.key() == Qt::Key_Comma || event.key() == Qt::Key_Less || event.key() == Qt::Key_Semicolon;
    if ((!more && !less) || event.modifiers() & (Qt::ControlModifier | Qt::AltModifier)) return false;
    if (!pressed) return true;
    if (event.modifiers() & Qt::ShiftModifier)
        brush_.set_strength(brush_.strength() + (more ? 5 : -5));
    else
        brush_.set_size(more ? brush_.size() * 1.1 + 1 : (brush_.size() - 1) / 1.1);
    return true;
}

void StrokeHand::paint(QPainter& painter, const QRectF& tile) const {
    if (!brush_.parameter()) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const double scale = tile.width() / design().width();
    const Strokes strokes = brush_.strokes();
    // The stroke that the desk's list points at, over the tile's edges too.
    if (brush_.shown() >= 0 && brush_.shown() < static_cast<int>(strokes.size())) {
        const Stroke& shown = strokes[static_cast<std::size_t>(brush_.shown())];
        QPolygonF way;
        for (const StrokePoint& p : shown.points)
            way << on_screen(QPointF(p.x, p.y) / double(StrokePoint::per_px), tile, design());
        if (way.size() == 1) way << way.front() + QPointF(0.1, 0);
        for (int down = -1; down <= 1; ++down)
            for (int across = -1; across <= 1; ++across) {
                const QPolygonF moved = way.translated(across * tile.width(), down * tile.height());
                QColor wide = theme::colours().accent;
                wide.setAlpha(90);
                painter.setBrush(Qt::NoBrush);
                painter.setPen(QPen(wide, std::max(2.0, shown.size * scale), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
                painter.drawPolyline(moved);
                draw_line(painter, [&] { painter.drawPolyline(moved); });
            }
    }
    if (!over_ && !stroke_) return;
    const double radius = brush_.size() / 2 * scale, inner = radius * (1 - brush_.softness() / 100);
    draw_line(painter, [&] { painter.drawEllipse(pointer_, radius, radius); });
    if (inner > 2) {
        painter.setPen(QPen(QColor(255, 255, 255, 170), 1, Qt::DotLine));
        painter.drawEllipse(pointer_, inner, inner);
    }
    if (resizing_) {
        painter.setFont(theme::small_font());
        const QString text = tr("%1 px, %2 %").arg(std::lround(brush_.size())).arg(std::lround(brush_.strength()));
        const QRectF box(pointer_.x() + radius + 8, pointer_.y() - 9, painter.fontMetrics().horizontalAdvance(text) + 12, 18);
        painter.fillRect(box, QColor(0, 0, 0, 150));
        painter.setPen(Qt::white);
        painter.drawText(box, Qt::AlignCenter, text);
    }
}

}  // namespace loom
