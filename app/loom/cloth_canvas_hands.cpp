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

namespace {

/// How much of a picture of a part shows: all of it along the way, ever less beside it.
QImage along(const QPolygonF& way, double width, QSizeF tile, const QRect& part) {
    QImage mask(part.size(), QImage::Format_ARGB32_Premultiplied);
    mask.fill(Qt::transparent);
    QPainter painter(&mask);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setCompositionMode(QPainter::CompositionMode_Source);
    QPolygonF line;
    for (const QPointF& place : way) line << QPointF(place.x() * tile.width(), place.y() * tile.height()) - part.topLeft();
    if (line.size() == 1) line << line.front() + QPointF(0.1, 0);
    constexpr int steps = 6;
    constexpr double widest = 1.5;
    for (int k = 1; k <= steps; ++k) {
        const double times = widest - (widest - 1) * k / steps;
        painter.setPen(QPen(QColor(0, 0, 0, 255 * k / steps), std::max(2.0, width * tile.width() * times), Qt::SolidLine,
                            Qt::RoundCap, Qt::RoundJoin));
        for (int down = -1; down <= 1; ++down)
            for (int across = -1; across <= 1; ++across) {
                const QPolygonF moved = line.translated(across * tile.width(), down * tile.height());
                const double room = width * tile.width();
                if (moved.boundingRect().adjusted(-room, -room, room, room).intersects(mask.rect())) painter.drawPolyline(moved);
            }
    }
    return mask;
}

}  // namespace

void ClothCanvas::show_part(const QImage& picture, const QRectF& place, const QRectF& part, const QPolygonF& way, double width) {
    if (cloth_.image.isNull() || picture.isNull()) return;
    const QSizeF size = cloth_.image.size();
    const auto scaled = [&](const QRectF& shares, int across, int down) {
        return QRectF((shares.x() + across) * size.width(), (shares.y() + down) * size.height(), shares.width() * size.width(),
                      shares.height() * size.height());
    };
    // The picture may have few pixels: what the hand has not touched keeps those it has.
    const QRect within = scaled(part, 0, 0).toAlignedRect();
    const QImage mask = along(way, width, size, within);
    QImage patch(within.size(), QImage::Format_ARGB32_Premultiplied);
    patch.fill(Qt::transparent);
    QPainter cut(&patch);
    cut.setRenderHint(QPainter::SmoothPixmapTransform);
    cut.translate(-within.topLeft());
    if (place == part) {
        cut.drawImage(scaled(place, 0, 0), picture);
    } else {
        // A picture of the whole tile goes on over its edges.
        for (int down = -1; down <= 1; ++down)
            for (int across = -1; across <= 1; ++across)
                if (scaled(place, across, down).intersects(within)) cut.drawImage(scaled(place, across, down), picture);
    }
    cut.setCompositionMode(QPainter::CompositionMode_DestinationIn);
    cut.drawImage(within.topLeft(), mask);
    cut.end();
    const bool halved = halves_of_ == cloth_.image.cacheKey();
    QPainter painter(&cloth_.image);
    for (int down = -1; down <= 1; ++down)
        for (int across = -1; across <= 1; ++across) {
            const QPointF at = within.topLeft() + QPointF(across * size.width(), down * size.height());
            if (!QRectF(at, within.size()).intersects(cloth_.image.rect())) continue;
            if (cloth_.image.hasAlphaChannel()) {
                // What was there makes room, so that it does not show through what is less opaque.
                painter.setCompositionMode(QPainter::CompositionMode_DestinationOut);
                painter.drawImage(at, mask);
                painter.setCompositionMode(QPainter::CompositionMode_Plus);
            }
            painter.drawImage(at, patch);
        }
    painter.end();
    if (halved) renew_halves(within);
    update();
}

void ClothCanvas::renew_halves(const QRect& within) {
    halves_of_ = cloth_.image.cacheKey();
    const QSize size = cloth_.image.size();
    for (QImage& half : halves_) {
        const double across = static_cast<double>(half.width()) / size.width(),
                     down = static_cast<double>(half.height()) / size.height();
        QPainter painter(&half);
        painter.setCompositionMode(QPainter::CompositionMode_Source);
        for (int y = -1; y <= 1; ++y)
            for (int x = -1; x <= 1; ++x) {
                const QRect here = within.translated(x * size.width(), y * size.height()) & cloth_.image.rect();
                if (here.isEmpty()) continue;
                const QRect there =
                    QRectF(here.x() * across, here.y() * down, here.width() * across, here.height() * down).toAlignedRect();
                const QRectF from(there.x() / across, there.y() / down, there.width() / across, there.height() / down);
                painter.drawImage(there.topLeft(), cloth_.image.copy(from.toAlignedRect() & cloth_.image.rect())
                                                       .scaled(there.size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
            }
    }
}

}  // namespace loom
