// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// An outline edited point by point on the cloth: points and the ends of their curves are dragged, a press on the line adds a
// point, two presses on a point make it a corner or round again, Delete takes it away. An empty outline is drawn point by point;
// a press on its first point closes it.
#pragma once

#include "app/document/session.h"
#include "app/hand/cloth_hand.h"
#include "core/catalogue/description.h"

namespace loom {

class OutlineHand : public ClothHand {
public:
    explicit OutlineHand(Session& session) : session_(session) {}

    void paint(QPainter& painter, const QRectF& tile) const override;
    bool press(const Touch& touch, const QRectF& tile) override;
    void drag(const Touch& touch, const QRectF& tile) override;
    void release() override { part_ = Part::nothing; }
    bool held() const override { return part_ != Part::nothing; }
    bool takes(const QPointF& at, const QRectF& tile) const override;
    bool key(const QKeyEvent& event, bool pressed) override;
    bool chosen() const override { return chosen_ && parameter(); }

private:
    enum class Part { nothing, node, in, out };
    struct Found {
        Part part = Part::nothing;
        std::size_t contour = 0, node = 0;
    };
    /// Where a line between two nodes is nearest to a place.
    struct OnLine {
        std::size_t contour = 0, node = 0;
        double share = 0, away = 1e9;
    };
    /// Whether the next press adds to a line that is not closed.
    bool drawing() const;
    const Parameter* parameter() const;
    Outline outline() const;
    void set(const Outline& outline, const QString& text, const QString& gesture = {});
    /// Between places of the outline and of the screen; the shape may be turned.
    QTransform to_screen(const QRectF& tile) const;
    Found under(const QPointF& at, const QRectF& tile) const;
    OnLine line_at(const QPointF& at, const QRectF& tile) const;

    Session& session_;
    Part part_ = Part::nothing;
    std::size_t contour_ = 0, node_ = 0;
    bool chosen_ = false;
    int drags_ = 0;
};

}  // namespace loom
