// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/cloth_handles.h"

#include <QLineF>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {
constexpr double grip_size = 7, reach = 12, dial_length = 0.28;
}

double ClothHandles::value(std::string_view parameter) const {
    const Selection& selection = session_.selection();
    const auto found = value_at(session_.recipe(), {selection.strand, selection.step, std::string(parameter)});
    return found && std::holds_alternative<double>(*found) ? as<double>(*found) : 0;
}

std::vector<ClothHandles::Shown> ClothHandles::shown() const {
    std::vector<Shown> result;
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    if (!description || !step->on) return result;
    const bool shared = description->follows_lamp && description->follows_lamp(step->set);
    for (const Handle& handle : description->handles) {
        if (handle.form == Handle::Form::box) continue;
        const bool turns = handle.form == Handle::Form::direction;
        if (!relevant(*description, *description->parameter(turns ? handle.angle : handle.x), step->set)) continue;
        Shown each;
        each.handle = &handle;
        if (turns)
            each.point = QPointF(0.5, 0.5), each.angle = value(handle.angle);
        else if (handle.form == Handle::Form::offset)
            each.point = QPointF(0.5 + value(handle.x) / session_.recipe().tile.width,
                                 0.5 + value(handle.y) / session_.recipe().tile.height);
        else
            each.point = QPointF(value(handle.x) / 100, value(handle.y) / 100);
        if (handle.form == Handle::Form::radius) each.radius = value(handle.radius);
        result.push_back(each);
    }
    if (shared) {
        static const Handle lamp{Handle::Form::direction, "Lamp of the recipe", {}, {}, {}, {}};
        Shown each;
        each.handle = &lamp, each.lamp = true, each.point = QPointF(0.5, 0.5), each.angle = session_.recipe().lamp.direction;
        result.push_back(each);
    }
    return result;
}

QPointF ClothHandles::grip(const Shown& shown, const QRectF& tile) const {
    const QPointF point(tile.left() + shown.point.x() * tile.width(), tile.top() + shown.point.y() * tile.height());
    if (shown.handle->form == Handle::Form::point || shown.handle->form == Handle::Form::offset) return point;
    if (shown.handle->form == Handle::Form::direction) {
        const double turn = shown.angle * 3.14159265358979323846 / 180,
                     length = dial_length * std::min(tile.width(), tile.height());
        return point + QPointF(length * std::cos(turn), -length * std::sin(turn));
    }
    return point + QPointF(shown.radius * tile.width() / session_.recipe().tile.width, 0);
}

std::vector<QPointF> ClothHandles::grips(const QRectF& tile) const {
    std::vector<QPointF> result;
    for (const Shown& each : shown()) result.push_back(grip(each, tile));
    return result;
}

int ClothHandles::under(const QPointF& at, const QRectF& tile) const {
    int best = -1;
    double least = reach;
    const auto all = shown();
    for (std::size_t k = 0; k < all.size(); ++k)
        if (const double away = QLineF(at, grip(all[k], tile)).length(); away < least) least = away, best = static_cast<int>(k);
    return best;
}

bool ClothHandles::press(const Touch& touch, const QRectF& tile) {
    const QPointF at = touch.at;
    held_ = under(at, tile);
    if (held_ < 0) return false;
    offset_ = grip(shown()[static_cast<std::size_t>(held_)], tile) - at;
    ++drags_;
    return true;
}

void ClothHandles::drag(const Touch& touch, const QRectF& tile) {
    const QPointF at = touch.at;
    const auto all = shown();
    if (held_ < 0 || held_ >= static_cast<int>(all.size())) return;
    const Shown& held = all[static_cast<std::size_t>(held_)];
    const Step* step = session_.selected_step();
    const StepDescription& description = *find_step(step->kind);
    const Selection selection = session_.selection();
    Recipe next = session_.recipe();
    auto set = [&](std::string_view id, double wanted) {
        const Parameter& p = *description.parameter(id);
        // Two places after the point are finer than a pixel on any screen.
        const double rounded = std::clamp(std::round(wanted * 100) / 100, p.min, p.max);
        next = with_value(std::move(next), {selection.strand, selection.step, std::string(id)}, Value(rounded));
    };
    const QPointF place = at + offset_;
    if (held.handle->form == Handle::Form::direction) {
        const double dx = place.x() - (tile.left() + held.point.x() * tile.width());
        const double dy = tile.top() + held.point.y() * tile.height() - place.y();
        if (std::hypot(dx, dy) < 2) return;
        const double angle = std::round(std::atan2(dy, dx) * 180 / 3.14159265358979323846);
        if (held.lamp)
            next = with_lamp(std::move(next), {angle, session_.recipe().lamp.elevation});
        else
            set(held.handle->angle, angle);
    } else if (held.handle->form == Handle::Form::point) {
        set(held.handle->x, (place.x() - tile.left()) / tile.width() * 100);
        set(held.handle->y, (place.y() - tile.top()) / tile.height() * 100);
    } else if (held.handle->form == Handle::Form::offset) {
        const Tile& own = session_.recipe().tile;
        set(held.handle->x, std::round((place.x() - tile.center().x()) / tile.width() * own.width));
        set(held.handle->y, std::round((place.y() - tile.center().y()) / tile.height() * own.height));
    } else {
        const QPointF centre(tile.left() + held.point.x() * tile.width(), tile.top() + held.point.y() * tile.height());
        set(held.handle->radius, QLineF(centre, place).length() * session_.recipe().tile.width / tile.width());
    }
    session_.apply(std::move(next),
                   QObject::tr("%1 of %2").arg(qt(held.handle->title), QString::fromStdString(step_title(*step))),
                   {QString("handle %1").arg(drags_),
                    QString::fromStdString(Address{selection.strand, selection.step, std::string(held.handle->title)}.text())});
}

void ClothHandles::click(const QPointF& at, const QRectF& tile) {
    const auto all = shown();
    for (std::size_t k = 0; k < all.size(); ++k) {
        if (!all[k].handle->by_click) continue;
        // On any repeat of the tile it means the same place.
        const auto within = [](double place) { return place - std::floor(place); };
        const QPointF place(tile.left() + within((at.x() - tile.left()) / tile.width()) * tile.width(),
                            tile.top() + within((at.y() - tile.top()) / tile.height()) * tile.height());
        held_ = static_cast<int>(k), offset_ = {};
        ++drags_;
        drag({.at = place}, tile);
        return release();
    }
}

void ClothHandles::paint(QPainter& painter, const QRectF& tile) const {
    const auto all = shown();
    if (all.empty()) return;
    const theme::Colours& c = theme::colours();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(theme::small_font());
    // A light line on a dark one is seen on any cloth.
    auto stroke = [&](auto&& draw) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
        draw();
        painter.setPen(QPen(Qt::white, 1.2));
        draw();
    };
    std::vector<QPointF> points;
    for (const Shown& each : all)
        if (each.handle->form == Handle::Form::point) points.push_back(grip(each, tile));
    if (points.size() > 1) stroke([&] { painter.drawLine(points[0], points[1]); });
    for (std::size_t k = 0; k < all.size(); ++k) {
        const Shown& each = all[k];
        const QPointF at = grip(each, tile);
        if (each.handle->form == Handle::Form::direction || each.handle->form == Handle::Form::offset)
            stroke([&] { painter.drawLine(tile.center(), at); });
        if (each.handle->form == Handle::Form::radius) {
            const QPointF centre(tile.left() + each.point.x() * tile.width(), tile.top() + each.point.y() * tile.height());
            const double radius = QLineF(centre, at).length();
            stroke([&] { painter.drawEllipse(centre, radius, radius); });
        }
        painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
        painter.setBrush(held_ == static_cast<int>(k) ? c.accent : QColor(Qt::white));
        painter.drawEllipse(at, grip_size, grip_size);
        painter.setPen(QPen(c.accent, 2));
        painter.drawEllipse(at, grip_size - 1, grip_size - 1);
        const QString title = qt(each.handle->title);
        const QRectF text(at.x() + 12, at.y() - 9, QFontMetricsF(painter.font()).horizontalAdvance(title) + 10, 18);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0, 0, 0, 150));
        painter.drawRoundedRect(text, 3, 3);
        painter.setPen(Qt::white);
        painter.drawText(text, Qt::AlignCenter, title);
    }
}

}  // namespace loom
