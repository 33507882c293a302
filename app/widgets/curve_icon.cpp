// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/curve_icon.h"

#include <QPainter>
#include <QPixmap>

#include "app/theme/theme.h"

namespace loom {

QIcon curve_icon(const std::function<double(double)>& height, int side, double screen_scale) {
    const theme::Colours& c = theme::colours();
    QPixmap pixmap(QSize(side, side) * screen_scale);
    pixmap.setDevicePixelRatio(screen_scale);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(c.line, 1));
    painter.setBrush(c.field);
    painter.drawRect(QRectF(0.5, 0.5, side - 1, side - 1));
    const double margin = side / 9.0, room = side - 2 * margin;
    QPolygonF line;
    for (double x = 0; x <= room; x += 0.25) line << QPointF(margin + x, side - margin - room * height(x / room));
    painter.setPen(QPen(c.text, side / 20.0, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(line);
    painter.end();
    return QIcon(pixmap);
}

}  // namespace loom
