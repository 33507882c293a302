// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/cloth_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QTabletEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <utility>

#include "app/hand/cloth_hand.h"
#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr double least_zoom = 0.02, greatest_zoom = 32;
constexpr int border = 6;
constexpr int loupe_radius = 96, loupe_times = 4;
}  // namespace

ClothCanvas::ClothCanvas(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 160);
    setAccessibleName(tr("Cloth"));
    setToolTip(tr("Turn the wheel to zoom, drag to move, hold C to see it without the selected step, L for a loupe."));
}

void ClothCanvas::show_picture(const ClothPicture& picture) {
    if (picture.before) {
        before_ = picture.image;
    } else {
        // A draft never replaces the finished picture of the same recipe.
        if (picture.draft && !cloth_.draft && picture.ticket <= cloth_.ticket && !cloth_.image.isNull()) return;
        cloth_ = picture;
        if (!shows_before()) halves_ = cloth_.halves, halves_of_ = cloth_.image.cacheKey();
    }
    update();
}

void ClothCanvas::set_tile(Size design) {
    if (design == design_) return;
    design_ = design;
    update();
}

void ClothCanvas::set_repeat(int count) {
    repeat_ = std::max(1, count);
    update();
    emit zoom_changed();
}

void ClothCanvas::set_half(bool half) {
    // An even count has a corner in the middle already.
    const bool shifted = half == (repeat_ % 2 == 1);
    centre_ = shifted ? QPointF(0, 0) : QPointF(0.5, 0.5);
    update();
}

void ClothCanvas::keep_in_view() {
    if (repeat_ > 1)
        centre_ -= QPointF(std::floor(centre_.x()), std::floor(centre_.y()));
    else
        centre_ = {std::clamp(centre_.x(), 0.0, 1.0), std::clamp(centre_.y(), 0.0, 1.0)};
}

QRectF ClothCanvas::covered() const { return repeat_ > 1 ? QRectF(rect()) : tile_rect().intersected(QRectF(rect())); }

void ClothCanvas::set_before(bool on, const QString& label) {
    before_on_ = on, before_name_ = label;
    if (!on) before_ = {};
    update();
}

void ClothCanvas::set_loupe(bool on) {
    loupe_on_ = on;
    update();
}

double ClothCanvas::fitting_zoom() const {
    const double across = (width() - 2.0 * border) / (design_.width * repeat_),
                 down = (height() - 2.0 * border) / (design_.height * repeat_);
    return std::max(least_zoom, std::min(across, down));
}

double ClothCanvas::zoom() const { return zoom_ == 0 ? fitting_zoom() : zoom_; }

void ClothCanvas::set_zoom(double zoom) {
    zoom_ = zoom == 0 ? 0 : std::clamp(zoom, least_zoom, greatest_zoom);
    if (zoom_ == 0) centre_ = {0.5, 0.5};
    update();
    emit zoom_changed();
}

void ClothCanvas::zoom_about(double factor, const QPointF& place) {
    const QRectF tile = middle_tile();
    const QPointF at((place.x() - tile.left()) / tile.width(), (place.y() - tile.top()) / tile.height());
    const double next = std::clamp(zoom() * factor, least_zoom, greatest_zoom);
    // The place under the pointer stays where it is.
    const QPointF middle(width() / 2.0, height() / 2.0);
    centre_ = at - QPointF((place.x() - middle.x()) / (design_.width * next), (place.y() - middle.y()) / (design_.height * next));
    zoom_ = next;
    keep_in_view();
    update();
    emit zoom_changed();
}

QRectF ClothCanvas::middle_tile() const {
    const double scale = zoom();
    const QSizeF size(design_.width * scale, design_.height * scale);
    return {QPointF(width() / 2.0 - centre_.x() * size.width(), height() / 2.0 - centre_.y() * size.height()), size};
}

/// Repeated cloths are laid evenly around the view's middle.
QRectF ClothCanvas::tile_rect() const {
    const QRectF tile = middle_tile();
    return repeat_ % 2 == 0 ? tile.translated(-tile.width() / 2, -tile.height() / 2) : tile;
}

void ClothCanvas::set_aside(const QImage& image, const QString& name) {
    aside_ = image, aside_name_ = name;
    update();
}

void ClothCanvas::set_instead(const QImage& map, const QString& name) {
    instead_ = map, instead_name_ = name;
    update();
}

void ClothCanvas::set_wipe(double place) {
    wipe_ = std::clamp(place, 0.0, 1.0);
    update();
}

bool ClothCanvas::on_line(const QPointF& place) const {
    return !aside_.isNull() && !shows_before() && std::abs(place.x() - wipe_ * width()) < 8;
}

const QImage& ClothCanvas::fitting(const QImage& picture, double shrink) const {
    // Below half size, averaging first keeps fine grain from flickering.
    if (shrink >= 0.5) return picture;
    if (halves_of_ != picture.cacheKey()) halves_ = loom::halves_of(picture), halves_of_ = picture.cacheKey();
    const QImage* best = &picture;
    for (const QImage& half : halves_)
        if (shrink * picture.width() <= half.width()) best = &half;
    return *best;
}

void ClothCanvas::paint_tiles(QPainter& painter, const QImage& picture) const {
    const QRectF tile = tile_rect();
    const bool alone = repeat_ == 1;
    const auto first = [alone](double from, double length) { return alone ? 0 : -static_cast<int>(std::ceil(from / length)); };
    // In pixels of the screen, which may be finer than the window's.
    const double fine = devicePixelRatioF(), shrink = tile.width() * fine / picture.width();
    painter.setRenderHint(QPainter::SmoothPixmapTransform, shrink < 3);
    const QImage& shown = fitting(picture, shrink);
    for (int row = first(tile.top(), tile.height()); tile.top() + row * tile.height() < height(); ++row) {
        for (int column = first(tile.left(), tile.width()); tile.left() + column * tile.width() < width(); ++column) {
            const double x = tile.left() + column * tile.width(), y = tile.top() + row * tile.height();
            // Whole pixels at both ends, so that no gap opens between repeats.
            const auto whole_pixel = [&](double place) { return std::floor(place * fine) / fine; };
            const QRectF target(QPointF(whole_pixel(x), whole_pixel(y)),
                                QPointF(whole_pixel(x + tile.width()), whole_pixel(y + tile.height())));
            if (target.intersects(QRectF(rect()))) painter.drawImage(target, shown);
            if (alone) break;
        }
        if (alone) break;
    }
}

void ClothCanvas::paint_label(QPainter& painter, const QString& text, bool at_right) const {
    painter.setFont(theme::strong_font(11));
    const int wide = std::min(painter.fontMetrics().horizontalAdvance(text) + 18, width() / 2 - 16);
    const QRect label(QPoint(at_right ? width() - 12 - wide : 12, 10), QSize(wide, 20));
    painter.fillRect(label, QColor(0, 0, 0, 150));
    painter.setPen(Qt::white);
    painter.drawText(label, Qt::AlignCenter, painter.fontMetrics().elidedText(text, Qt::ElideRight, wide - 8));
}

void ClothCanvas::paint_wipe(QPainter& painter) const {
    const double line = wipe_ * width();
    painter.save();
    painter.setClipRect(covered().intersected(QRectF(0, 0, line, height())));
    painter.fillRect(rect(), theme::colours().cloth_ground);
    paint_tiles(painter, aside_);
    painter.restore();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(QColor(0, 0, 0, 120), 4));
    painter.drawLine(QPointF(line, 0), QPointF(line, height()));
    painter.setPen(QPen(Qt::white, 2));
    painter.drawLine(QPointF(line, 0), QPointF(line, height()));
    painter.setBrush(Qt::white);
    painter.setPen(QPen(theme::colours().accent, 2));
    painter.drawEllipse(QPointF(line, height() / 2.0), 7, 7);
    paint_label(painter, aside_name_, false);
    paint_label(painter, tr("now"), true);
}

void ClothCanvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::colours().cloth_ground);
    const QImage& picture = seen();
    if (picture.isNull()) return;
    const QRectF whole = covered();
    painter.setClipRect(whole);
    if (picture.hasAlphaChannel()) {
        constexpr int square = 8;
        painter.fillRect(whole, QColor(200, 200, 200));
        for (int y = 0; y < height(); y += square)
            for (int x = (y / square % 2) * square; x < width(); x += 2 * square)
                painter.fillRect(x, y, square, square, QColor(170, 170, 170));
    }
    paint_tiles(painter, picture);
    painter.setClipping(false);
    if (!aside_.isNull() && !shows_before()) paint_wipe(painter);
    if (!shows_before())
        for (const ClothHand* hand : hands_) hand->paint(painter, tile_rect());
    if (loupe_on_) paint_loupe(painter);
    if (shows_before())
        paint_label(painter, before_name_, false);
    else if (!instead_.isNull())
        paint_label(painter, instead_name_, false);
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme::colours().accent, 1, Qt::DotLine));
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
    }
}

void ClothCanvas::paint_loupe(QPainter& painter) const {
    const QImage& picture = shows_before() ? before_ : cloth_.image;
    const QPointF pointer = mapFromGlobal(QPointF(QCursor::pos()));
    // From the keyboard alone it stands in the middle.
    const QPointF at = QRectF(rect()).contains(pointer) ? pointer : QRectF(rect()).center();
    const QRectF tile = tile_rect();
    const double times = loupe_times / devicePixelRatioF(), wide = picture.width() * times, high = picture.height() * times;
    const auto share = [](double place, double from, double length) {
        const double turns = (place - from) / length;
        return turns - std::floor(turns);
    };
    const QPointF corner =
        at - QPointF(share(at.x(), tile.left(), tile.width()) * wide, share(at.y(), tile.top(), tile.height()) * high);
    QPainterPath glass;
    glass.addEllipse(at, loupe_radius, loupe_radius);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, false);
    painter.setClipPath(glass);
    painter.fillPath(glass, theme::colours().cloth_ground);
    // The tile and its neighbours: the glass goes over the edge.
    for (int row = -1; row <= 1; ++row)
        for (int column = -1; column <= 1; ++column) {
            const QRectF whole(corner + QPointF(column * wide, row * high), QSizeF(wide, high));
            const QRectF seen = whole.intersected(glass.boundingRect());
            if (!seen.isEmpty())
                painter.drawImage(seen, picture, QRectF((seen.topLeft() - whole.topLeft()) / times, seen.size() / times));
        }
    painter.setClipping(false);
    painter.setPen(QPen(theme::colours().text, 1.5));
    painter.drawEllipse(at, loupe_radius, loupe_radius);
    painter.restore();
}

void ClothCanvas::wheelEvent(QWheelEvent* event) {
    zoom_about(std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
    event->accept();
}

void ClothCanvas::mousePressEvent(QMouseEvent* event) {
    held_ = event->pos();
    moved_ = false;
    if (event->button() == Qt::LeftButton && on_line(event->position())) {
        wiping_ = true;
        return setFocus(Qt::MouseFocusReason);
    }
    if (event->button() == Qt::LeftButton &&
        press_hand({.at = event->position(), .keys = event->modifiers(), .twice = event->type() == QEvent::MouseButtonDblClick}))
        return;
    setCursor(Qt::ClosedHandCursor);
    setFocus(Qt::MouseFocusReason);
}

void ClothCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (wiping_) return set_wipe(event->position().x() / std::max(1, width()));
    if (drag_hand({.at = event->position(), .keys = event->modifiers()})) return;
    if (loupe_on_) update();
    if (!(event->buttons() & (Qt::LeftButton | Qt::MiddleButton))) {
        if (on_line(event->position())) return setCursor(Qt::SplitHCursor);
        for (ClothHand* hand : hands_) hand->hover(event->position(), tile_rect());
        for (const ClothHand* hand : hands_)
            if (hand->takes(event->position(), tile_rect())) return setCursor(hand->cursor());
        return setCursor(Qt::ArrowCursor);
    }
    const QPoint way = event->pos() - held_;
    // A hand that trembles has not dragged yet.
    if (!moved_ && way.manhattanLength() < 4) return;
    moved_ = true;
    if (zoom_ == 0) zoom_ = fitting_zoom();
    held_ = event->pos();
    centre_ -= QPointF(way.x() / (design_.width * zoom_), way.y() / (design_.height * zoom_));
    keep_in_view();
    update();
    emit zoom_changed();
}

void ClothCanvas::mouseReleaseEvent(QMouseEvent* event) {
    const bool click = event->button() == Qt::LeftButton && !moved_ && !wiping_ && !holding_;
    wiping_ = false;
    if (holding_) std::exchange(holding_, nullptr)->release();
    if (click)
        for (ClothHand* hand : hands_) hand->click(event->position(), tile_rect());
    if (click) emit clicked(event->position());
    unsetCursor();
    update();
}

void ClothCanvas::keyPressEvent(QKeyEvent* event) {
    if (key_hand(event, true)) return;
    const double step = 40 / zoom();
    QPointF way;
    if (!aside_.isNull() && event->modifiers() & Qt::ControlModifier &&
        (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right))
        return set_wipe(wipe_ + (event->key() == Qt::Key_Left ? -0.05 : 0.05));
    switch (event->key()) {
        case Qt::Key_Left: way = {-step / design_.width, 0}; break;
        case Qt::Key_Right: way = {step / design_.width, 0}; break;
        case Qt::Key_Up: way = {0, -step / design_.height}; break;
        case Qt::Key_Down: way = {0, step / design_.height}; break;
        default: QWidget::keyPressEvent(event); return;
    }
    if (zoom_ == 0) zoom_ = fitting_zoom();
    centre_ += way;
    keep_in_view();
    update();
}

}  // namespace loom
