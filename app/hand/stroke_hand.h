// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Draws strokes on the cloth. While one is drawn the recipe stays as it was; others see the stroke through `drawn`. When it ends
// it is one edit.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <optional>

#include "app/hand/brush.h"
#include "app/hand/cloth_hand.h"

namespace loom {

class StrokeHand : public QObject, public ClothHand {
    Q_OBJECT
public:
    StrokeHand(Session& session, Brush& brush, QObject* parent = nullptr);

    void paint(QPainter& painter, const QRectF& tile) const override;
    bool press(const Touch& touch, const QRectF& tile) override;
    void drag(const Touch& touch, const QRectF& tile) override;
    void release() override;
    bool held() const override { return stroke_.has_value(); }
    /// Where the stroke that is being drawn has been: its middle, in shares of the tile, which it may leave.
    QPolygonF way() const;
    /// And how wide it is, as a share of the tile's width.
    double width() const { return stroke_ ? stroke_->size / design().width() : 0; }
    void hover(const QPointF& at, const QRectF& tile) override;
    void leave() override;
    bool takes(const QPointF&, const QRectF&) const override { return brush_.parameter() != nullptr; }
    /// Full stop and comma make the brush larger and smaller, with Shift stronger and weaker; B, held, does so by dragging.
    bool key(const QKeyEvent& event, bool pressed) override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }
    /// Leaves the stroke that is being drawn.
    void give_up();

signals:
    /// The recipe with the stroke so far, and where on the tile it has changed since the last time, in design px; it may go
    /// beyond the tile.
    void drawn(const loom::Recipe& recipe, const QRectF& changed);
    /// Before the edit is made.
    void finishing();
    void given_up();
    void looks_changed();

private:
    void add(const Touch& touch, const QRectF& tile, bool again);
    QSizeF design() const;

    Session& session_;
    Brush& brush_;
    std::optional<Stroke> stroke_;
    QPointF shift_;  // design px that bring the first place onto the tile
    QPointF pointer_{-1, -1};
    bool over_ = false, resizing_ = false;
    Touch latest_;
    QRectF tile_;
    QTimer still_;
};

}  // namespace loom
