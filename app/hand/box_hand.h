// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The box round a form: moved by its inside, sized by its corners and sides, turned by the knob above it, or within where that
// would lie beyond the tile. It snaps to the tile's edges, middle and thirds, unless Ctrl is held; Shift keeps its proportions,
// and turns by 15 degrees.
#pragma once

#include <QPolygonF>
#include <optional>

#include "app/document/session.h"
#include "app/hand/cloth_hand.h"
#include "core/catalogue/description.h"

namespace loom {

class BoxHand : public ClothHand {
public:
    explicit BoxHand(Session& session) : session_(session) {}

    void paint(QPainter& painter, const QRectF& tile) const override;
    bool press(const Touch& touch, const QRectF& tile) override;
    void drag(const Touch& touch, const QRectF& tile) override;
    void release() override { part_ = Part::nothing, snapped_x_.reset(), snapped_y_.reset(); }
    bool held() const override { return part_ != Part::nothing; }
    bool takes(const QPointF& at, const QRectF& tile) const override { return part_at(at, tile) != Part::nothing; }
    Qt::CursorShape cursor() const override { return Qt::SizeAllCursor; }

    /// Corners of the box on the screen, from the upper left one on with the clock, and the knob; empty if the step has none.
    QPolygonF corners(const QRectF& tile) const;
    QPointF knob(const QRectF& tile) const;

private:
    enum class Part { nothing, inside, corner, turn };
    const Handle* handle() const;
    double number(std::string_view id) const;
    Part part_at(const QPointF& at, const QRectF& tile) const;
    QPointF centre(const QRectF& tile) const;
    QSizeF design() const;

    Session& session_;
    Part part_ = Part::nothing;
    int drags_ = 0;
    QPointF offset_;  // of the box's middle from where it is held, design px
    double held_width_ = 1, held_height_ = 1, held_reach_ = 1, held_size_ = 1, held_size_down_ = 1;
    std::optional<double> snapped_x_, snapped_y_;  // lines shown, % of the tile
};

}  // namespace loom
