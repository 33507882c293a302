// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Handles of the selected step on the cloth: points that are dragged over the tile, and rings round them.
#pragma once

#include <QPointF>
#include <QRectF>
#include <QString>
#include <vector>

#include "app/document/session.h"
#include "app/hand/cloth_hand.h"
#include "core/catalogue/description.h"

class QPainter;

namespace loom {

class ClothHandles : public ClothHand {
public:
    explicit ClothHandles(Session& session) : session_(session) {}

    /// Draws what the selected step has; `tile` is the tile on the screen.
    void paint(QPainter& painter, const QRectF& tile) const override;
    /// Takes the handle under the pointer; false if there is none.
    bool press(const Touch& touch, const QRectF& tile) override;
    void drag(const Touch& touch, const QRectF& tile) override;
    /// A click that moved nothing: sets the point of a step that takes it so.
    void click(const QPointF& at, const QRectF& tile) override;
    void release() override { held_ = -1; }
    bool held() const override { return held_ >= 0; }
    bool takes(const QPointF& at, const QRectF& tile) const override { return under(at, tile) >= 0; }
    /// Where a handle is taken hold of; an empty list if the selected step has none.
    std::vector<QPointF> grips(const QRectF& tile) const;

private:
    struct Shown {
        const Handle* handle = nullptr;
        bool lamp = false;  // the recipe's, not the step's own
        QPointF point;      // in tiles
        double radius = 0;  // design pixels
        double angle = 0;   // degrees
    };
    std::vector<Shown> shown() const;
    QPointF grip(const Shown& shown, const QRectF& tile) const;
    int under(const QPointF& at, const QRectF& tile) const;
    double value(std::string_view parameter) const;

    Session& session_;
    int held_ = -1;
    int drags_ = 0;
    QPointF offset_;
};

}  // namespace loom
