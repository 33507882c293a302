// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/points_hand.h"

#include <QLineF>
#include <algorithm>
#include <cmath>

namespace loom {

namespace {

constexpr double grab_reach = 12;
const QSizeF in_percent(100, 100);  // moves are kept in % of the tile

double to_hundredths(double value) { return std::round(value * 100) / 100; }

}  // namespace

const Parameter* PointsHand::parameter() const {
    const Step* step = session_.selected_step();
    const StepDescription* description = step && step->on ? find_step(step->kind) : nullptr;
    return description ? description->parameter_of(Kind::moves) : nullptr;
}

Moves PointsHand::moves() const {
    const Parameter* p = parameter();
    return p ? as<Moves>(value_or_default(*p, session_.selected_step()->set)) : Moves();
}

void PointsHand::set(const Moves& moves, const QString& text, const QString& gesture) {
    const Selection& at = session_.selection();
    const Address address{at.strand, at.step, std::string(parameter()->id)};
    if (refuses(session_.recipe(), address, Value(moves))) {
        session_.set_value(address, Value(moves));  // says why
        return;
    }
    session_.apply(with_value(session_.recipe(), address, Value(moves)), text, {gesture, QString::fromStdString(address.text())});
}

int PointsHand::under(const QPointF& at, const QRectF& tile, bool from) const {
    const Moves all = moves();
    int best = -1;
    double least = grab_reach;
    for (std::size_t k = 0; k < all.size(); ++k) {
        const QPointF place = on_screen(from ? QPointF(all[k].x, all[k].y) : QPointF(all[k].to_x, all[k].to_y), tile, in_percent);
        if (const double away = QLineF(at, place).length(); away < least) least = away, best = static_cast<int>(k);
    }
    return best;
}

bool PointsHand::takes(const QPointF& at, const QRectF& tile) const { return under(at, tile, false) >= 0; }

bool PointsHand::press(const Touch& touch, const QRectF& tile) {
    chosen_ = under(touch.at, tile, (touch.keys & Qt::ControlModifier) != 0);
    dragging_ = chosen_ >= 0;
    if (dragging_) ++drags_;
    return dragging_;
}

void PointsHand::drag(const Touch& touch, const QRectF& tile) {
    Moves all = moves();
    if (chosen_ < 0 || chosen_ >= static_cast<int>(all.size())) return;
    Move& move = all[static_cast<std::size_t>(chosen_)];
    const QPointF place = in_design(touch.at, tile, in_percent);
    if (touch.keys & Qt::ControlModifier) {
        move.x = to_hundredths(std::clamp(place.x(), 0.0, 100.0)), move.y = to_hundredths(std::clamp(place.y(), 0.0, 100.0));
    } else {
        move.to_x = to_hundredths(std::clamp(place.x(), -farthest_move, 100 + farthest_move));
        move.to_y = to_hundredths(std::clamp(place.y(), -farthest_move, 100 + farthest_move));
    }
    set(all, QObject::tr("Drag a point"), QString("point %1").arg(drags_));
}

void PointsHand::click(const QPointF& at, const QRectF& tile) {
    if (!parameter()) return;
    QPointF place = in_design(at, tile, in_percent);
    place -= QPointF(std::floor(place.x() / 100) * 100, std::floor(place.y() / 100) * 100);
    Moves all = moves();
    all.push_back({to_hundredths(place.x()), to_hundredths(place.y()), to_hundredths(place.x()), to_hundredths(place.y())});
    chosen_ = static_cast<int>(all.size()) - 1;
    set(all, QObject::tr("Set a point"));
}

bool PointsHand::key(const QKeyEvent& event, bool pressed) {
    Moves all = moves();
    if (event.key() != Qt::Key_Delete && event.key() != Qt::Key_Backspace) return false;
    if (!parameter() || chosen_ < 0 || chosen_ >= static_cast<int>(all.size())) return false;
    if (!pressed) return true;
    all.erase(all.begin() + chosen_);
    chosen_ = -1;
    set(all, QObject::tr("Take a point away"));
    return true;
}

void PointsHand::paint(QPainter& painter, const QRectF& tile) const {
    if (!parameter()) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const Moves all = moves();
    for (std::size_t k = 0; k < all.size(); ++k) {
        const QPointF from = on_screen({all[k].x, all[k].y}, tile, in_percent),
                      to = on_screen({all[k].to_x, all[k].to_y}, tile, in_percent);
        draw_line(painter, [&] {
            painter.drawLine(from, to);
            painter.drawEllipse(from, 3, 3);
        });
        draw_grip(painter, to, static_cast<int>(k) == chosen_);
    }
}

}  // namespace loom
