// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/cloth_hand.h"

#include "app/theme/theme.h"

namespace loom {

void draw_grip(QPainter& painter, const QPointF& at, bool held, bool square) {
    const theme::Colours& c = theme::colours();
    constexpr double size = 6;
    const QRectF box(at.x() - size, at.y() - size, 2 * size, 2 * size);
    painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
    painter.setBrush(held ? c.accent : QColor(Qt::white));
    square ? painter.drawRect(box) : painter.drawEllipse(box);
    painter.setPen(QPen(c.accent, 2));
    square ? painter.drawRect(box.adjusted(1, 1, -1, -1)) : painter.drawEllipse(box.adjusted(1, 1, -1, -1));
}

}  // namespace loom
