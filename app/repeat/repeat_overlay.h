// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the Repeat view draws over the cloth: seams with the difference along them, the place that stands out, light and dark.
#pragma once

#include <QImage>

#include "app/hand/cloth_hand.h"
#include "core/measure/repeat.h"

namespace loom {

class RepeatOverlay : public ClothHand {
public:
    void set_marks(const RepeatMarks& marks);
    void set_standout(const Standout& standout) { standout_ = standout; }
    void forget();
    bool known() const { return !across_.empty(); }

    bool seams = true, standouts = true, light = false;

    void paint(QPainter& painter, const QRectF& tile) const override;
    bool press(const Touch&, const QRectF&) override { return false; }
    void drag(const Touch&, const QRectF&) override {}
    void release() override {}
    bool held() const override { return false; }
    bool takes(const QPointF&, const QRectF&) const override { return false; }

private:
    /// Those of one tile, with room around it.
    QImage seam_lines(const QSizeF& tile, double fine) const;
    std::vector<double> across_, down_;
    QImage light_;
    Standout standout_;
};

}  // namespace loom
