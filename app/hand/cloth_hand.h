// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a hand can do on the cloth: something of the selected step that is drawn over it and answers to pen, mouse and keys.
#pragma once

#include <QKeyEvent>
#include <QPainter>
#include <QPointF>
#include <QRectF>

namespace loom {

/// Where pen or mouse is, on the screen.
struct Touch {
    QPointF at;
    double pressure = 1;            ///< 0..1; a mouse presses whole
    double tilt_x = 0, tilt_y = 0;  ///< degrees from upright, to the right and down
    Qt::KeyboardModifiers keys = {};
    bool twice = false;  ///< the second press of two
};

class ClothHand {
public:
    virtual ~ClothHand() = default;
    /// `tile` is, here and below, the tile on the screen that what is drawn belongs to.
    virtual void paint(QPainter& painter, const QRectF& tile) const = 0;
    /// Takes hold; false leaves it to others, and in the end to moving the cloth.
    virtual bool press(const Touch& touch, const QRectF& tile) = 0;
    virtual void drag(const Touch& touch, const QRectF& tile) = 0;
    virtual void release() = 0;
    virtual bool held() const = 0;
    /// The pointer goes over the cloth with no button down.
    virtual void hover(const QPointF&, const QRectF&) {}
    virtual void leave() {}
    /// Whether a press there would take hold of something.
    virtual bool takes(const QPointF& at, const QRectF& tile) const = 0;
    virtual void click(const QPointF&, const QRectF&) {}
    virtual bool key(const QKeyEvent&, bool /*pressed*/) { return false; }
    /// Whether Delete would take something of it away.
    virtual bool chosen() const { return false; }
    virtual Qt::CursorShape cursor() const { return Qt::PointingHandCursor; }
    /// Whether what is typed is taken as text, so that no command of a single letter gets it.
    virtual bool types() const { return false; }
};

/// A place of the screen in design px from the tile's upper left corner.
inline QPointF in_design(const QPointF& at, const QRectF& tile, const QSizeF& design) {
    return {(at.x() - tile.left()) / tile.width() * design.width(), (at.y() - tile.top()) / tile.height() * design.height()};
}
inline QPointF on_screen(const QPointF& place, const QRectF& tile, const QSizeF& design) {
    return {tile.left() + place.x() / design.width() * tile.width(), tile.top() + place.y() / design.height() * tile.height()};
}

/// Draws a light line on a dark one, which is seen on any cloth.
template <class Draw>
void draw_line(QPainter& painter, Draw&& draw) {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
    draw();
    painter.setPen(QPen(Qt::white, 1.2));
    draw();
}
void draw_grip(QPainter& painter, const QPointF& at, bool held, bool square = false);

}  // namespace loom
