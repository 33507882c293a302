// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Hands on the cloth: which of them has what pen, mouse and keys do, and what they draw before the whole picture follows.
#include <QKeyEvent>
#include <QPainter>
#include <QTabletEvent>
#include <utility>

#include "app/hand/cloth_hand.h"
#include "app/loom/cloth_view.h"

namespace loom {

bool ClothCanvas::press_hand(const Touch& touch) {
    for (ClothHand* hand : hands_)
        if (hand->press(touch, tile_rect())) {
            holding_ = hand;
            setFocus(Qt::MouseFocusReason);
            update();
            return true;
        }
    return false;
}

bool ClothCanvas::drag_hand(const Touch& touch) {
    if (!holding_) return false;
    moved_ = true;
    if (holding_->held()) holding_->drag(touch, tile_rect());
    update();
    return true;
}

bool ClothCanvas::key_hand(QKeyEvent* event, bool pressed) {
    for (ClothHand* hand : hands_)
        if (hand->key(*event, pressed)) {
            event->accept();
            update();
            return true;
        }
    return false;
}

/// A pen presses as it does and leans as it is held; a mouse is made of what is not taken here.
void ClothCanvas::tabletEvent(QTabletEvent* event) {
    const Touch touch{.at = event->position(),
                      .pressure = event->pressure(),
                      .tilt_x = event->xTilt(),
                      .tilt_y = event->yTilt(),
                      .keys = event->modifiers()};
    bool taken = false;
    if (event->type() == QEvent::TabletPress && event->button() == Qt::LeftButton) {
        moved_ = false;
        taken = !on_line(touch.at) && press_hand(touch);
    } else if (event->type() == QEvent::TabletMove && event->buttons() & Qt::LeftButton) {
        taken = drag_hand(touch);
    } else if (event->type() == QEvent::TabletRelease && holding_) {
        std::exchange(holding_, nullptr)->release();
        taken = true;
        update();
    }
    taken ? event->accept() : event->ignore();
}

void ClothCanvas::leaveEvent(QEvent*) {
    for (ClothHand* hand : hands_) hand->leave();
}

bool ClothCanvas::event(QEvent* event) {
    // What a hand would take is no command of the window's.
    if (event->type() == QEvent::ShortcutOverride)
        for (ClothHand* hand : hands_) {
            auto* key = static_cast<QKeyEvent*>(event);
            const bool plain = !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
            const bool removes = key->key() == Qt::Key_Delete || key->key() == Qt::Key_Backspace;
            if (plain && (hand->types() || (removes && hand->chosen()))) {
                event->accept();
                return true;
            }
        }
    return QWidget::event(event);
}

void ClothCanvas::keyReleaseEvent(QKeyEvent* event) {
    if (!key_hand(event, false)) QWidget::keyReleaseEvent(event);
}

void ClothCanvas::show_part(const QImage& picture, const QRectF& place, const QRectF& part) {
    if (cloth_.image.isNull() || picture.isNull()) return;
    const QSizeF size = cloth_.image.size();
    const auto scaled = [&](const QRectF& shares, int across, int down) {
        return QRectF((shares.x() + across) * size.width(), (shares.y() + down) * size.height(), shares.width() * size.width(),
                      shares.height() * size.height());
    };
    QPainter painter(&cloth_.image);
    painter.setCompositionMode(QPainter::CompositionMode_Source);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    for (int down = -1; down <= 1; ++down)
        for (int across = -1; across <= 1; ++across) {
            painter.setClipRect(scaled(part, across, down));
            // A picture of the whole tile is the same for every copy of the part.
            const QRectF to = place == part ? scaled(place, across, down) : scaled(place, 0, 0);
            if (to.intersects(scaled(part, across, down))) painter.drawImage(to, picture);
        }
    painter.end();
    update();
}

}  // namespace loom
