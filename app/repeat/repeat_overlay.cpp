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
constexpr double seam_room = greatest_swing + 2;  ///< around a tile, for the swings
constexpr double circle_share = 0.1;              ///< of the tile: radius of the circle around what stands out

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

QImage RepeatOverlay::seam_lines(const QSizeF& tile, double fine) const {
    const auto swing = [](double mark, std::size_t k) {
        const double size = std::clamp(mark / greatest_mark, 0.0, 1.0) * greatest_swing;
        return k % 2 ? size : -size;
    };
    // No more swings than the screen has room for; each is as wide as the widest it stands for.
    const auto line = [&](const std::vector<double>& marks, double length, auto&& point) {
        constexpr double least_way = 3;
        const std::size_t count = std::clamp<std::size_t>(static_cast<std::size_t>(length / least_way), 2, marks.size());
        QPolygonF swings;
        for (std::size_t k = 0; k < count; ++k) {
            const auto first = marks.begin() + static_cast<std::ptrdiff_t>(k * marks.size() / count),
                       last = marks.begin() + static_cast<std::ptrdiff_t>((k + 1) * marks.size() / count);
            swings << point((static_cast<double>(k) + 0.5) / static_cast<double>(count),
                            swing(*std::max_element(first, last), k));
        }
        return swings;
    };
    const QPolygonF upright = line(across_, tile.height(), [&](double along, double out) {
        return QPointF(seam_room + out, seam_room + along * tile.height());
    });
    const QPolygonF level = line(down_, tile.width(), [&](double along, double out) {
        return QPointF(seam_room + along * tile.width(), seam_room + out);
    });
    QImage lines(((tile + QSizeF(2 * seam_room, 2 * seam_room)) * fine).toSize(), QImage::Format_ARGB32_Premultiplied);
    lines.setDevicePixelRatio(fine);
    lines.fill(Qt::transparent);
    QPainter painter(&lines);
    painter.setRenderHint(QPainter::Antialiasing);
    for (const auto& [colour, width] : {std::pair{QColor(255, 255, 255, 140), 2.6}, {theme::colours().accent, 1.2}}) {
        painter.setPen(QPen(colour, width));
        painter.drawPolyline(upright);
        painter.drawPolyline(level);
    }
    return lines;
}

void RepeatOverlay::paint(QPainter& painter, const QRectF& tile) const {
    if (!known() || tile.width() < 8 || tile.height() < 8) return;
    const QRectF seen(painter.window());
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    // Drawn once: a line that swings as often takes long.
    const QImage lines = seams ? seam_lines(tile.size(), painter.device()->devicePixelRatioF()) : QImage();
    const auto steps = [](double from, double length) { return static_cast<int>(std::floor(from / length)); };
    for (int row = -steps(tile.top() - seen.top(), tile.height()) - 1;
         tile.top() + row * tile.height() < seen.bottom() + greatest_swing; ++row)
        for (int column = -steps(tile.left() - seen.left(), tile.width()) - 1;
             tile.left() + column * tile.width() < seen.right() + greatest_swing; ++column) {
            const QRectF here = tile.translated(column * tile.width(), row * tile.height());
            if (light) painter.drawImage(here, light_);
            if (seams) painter.drawImage(here.topLeft() - QPointF(seam_room, seam_room), lines);
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
