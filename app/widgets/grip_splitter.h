// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QPainter>
#include <QSplitter>
#include <QSplitterHandle>

#include "app/theme/theme.h"

namespace loom {

/// A splitter whose dividers are wide enough to be met, with a line and a grip.
class GripSplitter : public QSplitter {
public:
    static constexpr int handle_width = 8;
    GripSplitter(Qt::Orientation way, QWidget* parent) : QSplitter(way, parent) { setHandleWidth(handle_width); }

protected:
    QSplitterHandle* createHandle() override { return new Grip(orientation(), this); }

private:
    class Grip : public QSplitterHandle {
    public:
        using QSplitterHandle::QSplitterHandle;

    protected:
        void paintEvent(QPaintEvent*) override {
            const theme::Colours& c = theme::colours();
            QPainter painter(this);
            painter.fillRect(rect(), underMouse() ? c.card : c.panel);
            const bool upright = orientation() == Qt::Horizontal;
            painter.setPen(c.line);
            if (upright)
                painter.drawLine(width() - 1, 0, width() - 1, height());
            else
                painter.drawLine(0, height() - 1, width(), height() - 1);
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(Qt::NoPen);
            painter.setBrush(underMouse() ? c.text : c.thread);
            constexpr double apart = 6, radius = 1.5;
            for (int k = -1; k <= 1; ++k)
                painter.drawEllipse(QRectF(rect()).center() + (upright ? QPointF(-0.5, k * apart) : QPointF(k * apart, -0.5)),
                                    radius, radius);
        }
        void enterEvent(QEnterEvent*) override { update(); }
        void leaveEvent(QEvent*) override { update(); }
    };
};

}  // namespace loom
