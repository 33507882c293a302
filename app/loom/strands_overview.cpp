// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/strands_overview.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr int cell_side = 22, cell_gap = 5, margin = 8, least_cell = 6;
}

StrandsOverview::StrandsOverview(QWidget* parent) : QWidget(parent) {
    setFixedHeight(strip_height);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(tr("All strands"));
}

void StrandsOverview::set_cells(std::vector<Cell> cells) {
    cells_ = std::move(cells);
    QStringList names;
    for (const Cell& cell : cells_) names << cell.name;
    setAccessibleDescription(names.join(", "));
    update();
}

/// As wide as there is room for.
QRect StrandsOverview::place(std::size_t index) const {
    const int count = std::max(1, static_cast<int>(cells_.size()));
    const int each = std::clamp((width() - 2 * margin) / count - cell_gap, least_cell, cell_side);
    return {margin + static_cast<int>(index) * (each + cell_gap), 3, each, cell_side};
}

int StrandsOverview::at(const QPoint& where) const {
    for (std::size_t k = 0; k < cells_.size(); ++k)
        if (place(k).adjusted(-cell_gap / 2, -3, cell_gap / 2, 6).contains(where)) return static_cast<int>(k);
    return -1;
}

bool StrandsOverview::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    auto* help = static_cast<QHelpEvent*>(event);
    const int index = at(help->pos());
    QToolTip::showText(help->globalPos(), index < 0 ? QString() : cells_[static_cast<std::size_t>(index)].name, this);
    return true;
}

void StrandsOverview::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.window);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    for (std::size_t k = 0; k < cells_.size(); ++k) {
        const Cell& cell = cells_[k];
        const QRect frame = place(k);
        painter.fillRect(frame, c.card);
        if (!cell.picture.isNull()) {
            painter.setOpacity(cell.on ? 1 : 0.35);
            const int side = std::min(cell.picture.width(), cell.picture.height()) / 2;
            const int wide = side * frame.width() / frame.height();
            painter.drawImage(frame, cell.picture,
                              QRect((cell.picture.width() - wide) / 2, (cell.picture.height() - side) / 2, wide, side));
            painter.setOpacity(1);
        }
        painter.setPen(QPen(cell.selected ? c.accent : c.line, cell.selected ? 2 : 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(frame.adjusted(0, 0, -1, -1));
        // A bar under what is in view.
        if (cell.in_view)
            painter.fillRect(QRect(frame.left() - cell_gap / 2, frame.bottom() + 3, frame.width() + cell_gap, 2), c.text);
    }
}

void StrandsOverview::mousePressEvent(QMouseEvent* event) {
    const int index = at(event->pos());
    if (index < 0 || event->button() != Qt::LeftButton) return;
    // The cells are others once somebody goes there.
    const std::string strand = cells_[static_cast<std::size_t>(index)].strand;
    emit wanted(strand);
}

}  // namespace loom
