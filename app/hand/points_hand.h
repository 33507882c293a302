// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Points of the cloth that are dragged from one place to another: a click sets one, a drag moves where it goes to, with Ctrl
// where it comes from; Delete takes it away.
#pragma once

#include "app/document/session.h"
#include "app/hand/cloth_hand.h"
#include "core/catalogue/description.h"

namespace loom {

class PointsHand : public ClothHand {
public:
    explicit PointsHand(Session& session) : session_(session) {}

    void paint(QPainter& painter, const QRectF& tile) const override;
    bool press(const Touch& touch, const QRectF& tile) override;
    void drag(const Touch& touch, const QRectF& tile) override;
    void release() override { dragging_ = false; }
    bool held() const override { return dragging_; }
    bool takes(const QPointF& at, const QRectF& tile) const override;
    void click(const QPointF& at, const QRectF& tile) override;
    bool key(const QKeyEvent& event, bool pressed) override;
    bool chosen() const override { return chosen_ >= 0 && parameter(); }

private:
    const Parameter* parameter() const;
    Moves moves() const;
    void set(const Moves& moves, const QString& text, const QString& gesture = {});
    int under(const QPointF& at, const QRectF& tile, bool from) const;

    Session& session_;
    int chosen_ = -1;
    bool dragging_ = false;
    int drags_ = 0;
};

}  // namespace loom
