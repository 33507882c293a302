// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/box_hand.h"

#include <QLineF>
#include <QTransform>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

constexpr double corner_reach = 11, knob_away = 26, snap_px = 7;
constexpr double snap_lines[] = {0, 100.0 / 3, 50, 200.0 / 3, 100};

/// A place in %, or one of the tile's lines if that is near; `edges`: how far the box reaches to both sides, in %.
double snapped_to(double place, double near, double low, double high, std::optional<double>& line) {
    double best = near;
    double result = place;
    line.reset();
    const auto look = [&](double at, double of, double move) {
        if (const double away = std::abs(at - of); away < best) best = away, result = of + move, line = of;
    };
    for (double each : snap_lines) look(place, each, 0);
    for (double edge : {0.0, 100.0}) look(place + low, edge, -low), look(place + high, edge, -high);
    return result;
}

}  // namespace

QSizeF BoxHand::design() const { return {double(session_.recipe().tile.width), double(session_.recipe().tile.height)}; }

const Handle* BoxHand::handle() const {
    const Step* step = session_.selected_step();
    const StepDescription* description = step && step->on ? find_step(step->kind) : nullptr;
    if (!description || !description->extent) return nullptr;
    for (const Handle& each : description->handles)
        if (each.form == Handle::Form::box) return &each;
    return nullptr;
}

double BoxHand::number(std::string_view id) const {
    const Step* step = session_.selected_step();
    return as<double>(value_or_default(*find_step(step->kind)->parameter(id), step->set));
}

QPointF BoxHand::centre(const QRectF& tile) const {
    return {tile.left() + number(handle()->x) / 100 * tile.width(), tile.top() + number(handle()->y) / 100 * tile.height()};
}

QPolygonF BoxHand::corners(const QRectF& tile) const {
    if (!handle()) return {};
    const Step* step = session_.selected_step();
    const Extent extent = find_step(step->kind)->extent(step->set);
    QTransform transform;
    transform.translate(centre(tile).x(), centre(tile).y());
    transform.scale(tile.width() / design().width(), tile.height() / design().height());
    transform.rotate(-number(handle()->angle));
    QPolygonF result;
    for (const QPointF& corner : {QPointF(extent.left, extent.top), QPointF(extent.right, extent.top),
                                  QPointF(extent.right, extent.bottom), QPointF(extent.left, extent.bottom)})
        result << transform.map(corner);
    return result;
}

QPointF BoxHand::knob(const QRectF& tile) const {
    const QPolygonF box = corners(tile);
    const QPointF top = (box[0] + box[1]) / 2;
    const double turn = number(handle()->angle) * 3.14159265358979323846 / 180;
    const QPointF away = QPointF(-std::sin(turn), -std::cos(turn)) * knob_away;
    // Beyond the tile's edge it might be out of sight.
    return !tile.contains(top + away) && tile.contains(top - away) ? top - away : top + away;
}

BoxHand::Part BoxHand::part_at(const QPointF& at, const QRectF& tile) const {
    if (!handle()) return Part::nothing;
    if (QLineF(at, knob(tile)).length() < corner_reach) return Part::turn;
    const QPolygonF box = corners(tile);
    const Step* step = session_.selected_step();
    const bool sized = relevant(*find_step(step->kind), *find_step(step->kind)->parameter(handle()->radius), step->set);
    if (sized)
        for (const QPointF& corner : box)
            if (QLineF(at, corner).length() < corner_reach) return Part::corner;
    return box.containsPoint(at, Qt::OddEvenFill) ? Part::inside : Part::nothing;
}

bool BoxHand::press(const Touch& touch, const QRectF& tile) {
    part_ = part_at(touch.at, tile);
    if (part_ == Part::nothing) return false;
    ++drags_;
    offset_ = in_design(centre(tile), tile, design()) - in_design(touch.at, tile, design());
    const Step* step = session_.selected_step();
    const Extent extent = find_step(step->kind)->extent(step->set);
    held_width_ = std::max(1.0, extent.width()), held_height_ = std::max(1.0, extent.height());
    held_reach_ = std::max(1.0, std::hypot(offset_.x(), offset_.y()));
    held_size_ = number(handle()->radius);
    held_size_down_ = handle()->height.empty() ? held_size_ : number(handle()->height);
    return true;
}

void BoxHand::drag(const Touch& touch, const QRectF& tile) {
    const Handle* h = handle();
    if (!h) return release();
    const Selection selection = session_.selection();
    const Step* step = session_.selected_step();
    const StepDescription& description = *find_step(step->kind);
    Recipe next = session_.recipe();
    const auto set = [&](std::string_view id, double wanted) {
        const Parameter& p = *description.parameter(id);
        next = with_value(std::move(next), {selection.strand, selection.step, std::string(id)},
                          Value(std::clamp(std::round(wanted * 100) / 100, p.min, p.max)));
    };
    const bool free = (touch.keys & Qt::ControlModifier) != 0, shift = (touch.keys & Qt::ShiftModifier) != 0;
    const QPointF place = in_design(touch.at, tile, design());
    if (part_ == Part::inside) {
        double x = (place.x() + offset_.x()) / design().width() * 100, y = (place.y() + offset_.y()) / design().height() * 100;
        // Its middle stays on the tile: a form that goes over the edge comes in again on the other side.
        x -= std::floor(x / 100) * 100 * (x < 0 || x > 100), y -= std::floor(y / 100) * 100 * (y < 0 || y > 100);
        snapped_x_.reset(), snapped_y_.reset();
        if (!free) {
            const QRectF box = corners(tile).boundingRect();
            const auto share = [](double way, double length) { return way / length * 100; };
            x = snapped_to(x, share(snap_px, tile.width()), share(box.left() - centre(tile).x(), tile.width()),
                           share(box.right() - centre(tile).x(), tile.width()), snapped_x_);
            y = snapped_to(y, share(snap_px, tile.height()), share(box.top() - centre(tile).y(), tile.height()),
                           share(box.bottom() - centre(tile).y(), tile.height()), snapped_y_);
        }
        set(h->x, x), set(h->y, y);
    } else if (part_ == Part::turn) {
        const QPointF way = touch.at - centre(tile);
        if (std::hypot(way.x(), way.y()) < 4) return;
        double degrees = std::atan2(-way.y(), way.x()) * 180 / 3.14159265358979323846 - 90;
        if (degrees < -180) degrees += 360;
        const double step_of = shift ? 15 : 1;
        set(h->angle, std::round(degrees / step_of) * step_of);
    } else {
        const QPointF middle = in_design(centre(tile), tile, design());
        QTransform back;
        back.rotate(number(h->angle));
        const QPointF from_middle = back.map(place - middle);
        if (h->height.empty()) {
            set(h->radius, held_size_ * std::hypot(from_middle.x(), from_middle.y()) / held_reach_);
        } else if (shift) {
            const double factor = std::hypot(from_middle.x(), from_middle.y()) / held_reach_;
            set(h->radius, held_size_ * factor), set(h->height, held_size_down_ * factor);
        } else {
            set(h->radius, 2 * std::abs(from_middle.x())), set(h->height, 2 * std::abs(from_middle.y()));
        }
    }
    session_.apply(std::move(next), QObject::tr("%1 of %2").arg(qt(h->title), QString::fromStdString(step_title(*step))),
                   {QString("box %1").arg(drags_), QString::fromStdString(selection.strand + "/" + selection.step)});
}

void BoxHand::paint(QPainter& painter, const QRectF& tile) const {
    if (!handle()) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const QPolygonF box = corners(tile);
    const auto guide = [&](bool across, double percent) {
        painter.setPen(QPen(theme::colours().accent, 1, Qt::DashLine));
        const double x = tile.left() + percent / 100 * tile.width(), y = tile.top() + percent / 100 * tile.height();
        across ? painter.drawLine(QPointF(x, tile.top()), QPointF(x, tile.bottom()))
               : painter.drawLine(QPointF(tile.left(), y), QPointF(tile.right(), y));
    };
    if (snapped_x_) guide(true, *snapped_x_);
    if (snapped_y_) guide(false, *snapped_y_);
    draw_line(painter, [&] {
        painter.drawPolygon(box);
        painter.drawLine((box[0] + box[1]) / 2, knob(tile));
    });
    const Step* step = session_.selected_step();
    if (relevant(*find_step(step->kind), *find_step(step->kind)->parameter(handle()->radius), step->set))
        for (const QPointF& corner : box) draw_grip(painter, corner, part_ == Part::corner, true);
    draw_grip(painter, knob(tile), part_ == Part::turn);
}

}  // namespace loom
