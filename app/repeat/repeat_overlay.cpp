// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/repeat/repeat_overlay.h"

#include <QPolygonF>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace loom {

namespace {

/// Screen px that a seam's line swings to each side where the difference is five times the usual one and more.
constexpr double greatest_swing = 18, greatest_mark = 5;
constexpr double circle_share = 0.1;  ///< of the tile: radius of the circle around what stands out

}  // namespace

void RepeatOverlay::set_marks(const RepeatMarks& marks) {
    across_ = marks.across, down_ = marks.down;
    const Plane& plane = marks.light;
    light_ = QImage(plane.width(), plane.height(), QImage::Format_ARGB32);
    // A tenth of lightness either way is much.
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x) {
            const double share = std::clamp(static_cast<double>(plane.at(x, y)) / 0.1, -1.0, 1.0);
            const int strength = static_cast<int>(std::abs(share) * 170);
            light_.setPixel(x, y, share > 0 ? qRgba(255, 255, 255, strength) : qRgba(0, 0, 0, strength));
        }
}

void RepeatOverlay::forget() { across_.clear(), down_.clear(), light_ = {}, standout_ = {}; }

void RepeatOverlay::paint_seams(QPainter& painter, const QRectF& tile) const {
    const auto swing = [](double mark, std::size_t k) {
        const double size = std::clamp(mark / greatest_mark, 0.0, 1.0) * greatest_swing;
        return k % 2 ? size : -size;
    };
    QPolygonF upright, level;
    for (std::size_t k = 0; k < across_.size(); ++k)
        upright << QPointF(tile.left() + swing(across_[k], k),
                           tile.top() + (static_cast<double>(k) + 0.5) / static_cast<double>(across_.size()) * tile.height());
    for (std::size_t k = 0; k < down_.size(); ++k)
        level << QPointF(tile.left() + (static_cast<double>(k) + 0.5) / static_cast<double>(down_.size()) * tile.width(),
                         tile.top() + swing(down_[k], k));
    painter.setBrush(Qt::NoBrush);
    for (const auto& [colour, width] : {std::pair{QColor(255, 255, 255, 140), 2.6}, {theme::colours().accent, 1.2}}) {
        painter.setPen(QPen(colour, width));
        painter.drawPolyline(upright);
        painter.drawPolyline(level);
    }
}

void RepeatOverlay::paint(QPainter& painter, const QRectF& tile) const {
    if (!known() || tile.width() < 8 || tile.height() < 8) return;
    const QRectF seen(painter.window());
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const auto steps = [](double from, double length) { return static_cast<int>(std::floor(from / length)); };
    for (int row = -steps(tile.top() - seen.top(), tile.height()) - 1;
         tile.top() + row * tile.height() < seen.bottom() + greatest_swing; ++row)
        for (int column = -steps(tile.left() - seen.left(), tile.width()) - 1;
             tile.left() + column * tile.width() < seen.right() + greatest_swing; ++column) {
            const QRectF here = tile.translated(column * tile.width(), row * tile.height());
            if (light) painter.drawImage(here, light_);
            if (seams) paint_seams(painter, here);
            if (!standouts) continue;
            const QPointF middle(here.left() + standout_.x * here.width(), here.top() + standout_.y * here.height());
            const double radius = std::max(8.0, circle_share * std::min(here.width(), here.height()));
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(QColor(0, 0, 0, 130), 3.4));
            painter.drawEllipse(middle, radius, radius);
            painter.setPen(QPen(Qt::white, 1.8, Qt::DashLine));
            painter.drawEllipse(middle, radius, radius);
        }
    painter.restore();
}

}  // namespace loom
