// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/cloth_view.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/loom/cloth_handles.h"
#include "app/theme/theme.h"
#include "app/widgets/elided_label.h"

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

void ClothCanvas::set_wipe(double place) {
    wipe_ = std::clamp(place, 0.0, 1.0);
    update();
}

bool ClothCanvas::on_line(const QPointF& place) const {
    return !aside_.isNull() && !shows_before() && std::abs(place.x() - wipe_ * width()) < 8;
}

void ClothCanvas::paint_tiles(QPainter& painter, const QImage& picture) const {
    const QRectF tile = tile_rect();
    const int before = (repeat_ - 1) / 2, after = repeat_ - 1 - before;
    // In pixels of the screen, which may be finer than the window's.
    const double fine = devicePixelRatioF(), shrink = tile.width() * fine / picture.width();
    painter.setRenderHint(QPainter::SmoothPixmapTransform, shrink < 3);
    // Below half size, averaging first keeps fine grain from flickering.
    const QImage shown = shrink < 0.5 ? picture.scaled((tile.size() * fine).toSize().expandedTo(QSize(1, 1)),
                                                       Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                                      : picture;
    for (int row = -before; row <= after; ++row)
        for (int column = -before; column <= after; ++column) {
            const double x = tile.left() + column * tile.width(), y = tile.top() + row * tile.height();
            // Whole pixels at both ends, so that no gap opens between repeats.
            const auto whole_pixel = [&](double place) { return std::floor(place * fine) / fine; };
            const QRectF target(QPointF(whole_pixel(x), whole_pixel(y)),
                                QPointF(whole_pixel(x + tile.width()), whole_pixel(y + tile.height())));
            if (target.intersects(QRectF(rect()))) painter.drawImage(target, shown);
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
    const QRectF tile = tile_rect();
    const int before = (repeat_ - 1) / 2, after = repeat_ - 1 - before;
    const QRectF whole =
        tile.adjusted(-before * tile.width(), -before * tile.height(), after * tile.width(), after * tile.height());
    painter.setClipRect(whole.intersected(QRectF(0, 0, line, height())));
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
    const QImage& picture = shows_before() ? before_ : cloth_.image;
    if (picture.isNull()) return;
    QRectF tile = tile_rect();
    const int before = (repeat_ - 1) / 2, after = repeat_ - 1 - before;
    const QRectF whole =
        tile.adjusted(-before * tile.width(), -before * tile.height(), after * tile.width(), after * tile.height());
    painter.setClipRect(whole.intersected(QRectF(rect())));
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
    if (handles_ && !shows_before()) handles_->paint(painter, tile_rect());
    if (loupe_on_) paint_loupe(painter);
    if (shows_before()) paint_label(painter, before_name_, false);
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
    if (handles_ && event->button() == Qt::LeftButton && handles_->press(event->position(), tile_rect())) {
        setFocus(Qt::MouseFocusReason);
        return update();
    }
    setCursor(Qt::ClosedHandCursor);
    setFocus(Qt::MouseFocusReason);
}

void ClothCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (wiping_) return set_wipe(event->position().x() / std::max(1, width()));
    if (handles_ && handles_->held()) {
        moved_ = true;
        return handles_->drag(event->position(), tile_rect());
    }
    if (loupe_on_) update();
    if (!(event->buttons() & (Qt::LeftButton | Qt::MiddleButton))) {
        if (on_line(event->position())) return setCursor(Qt::SplitHCursor);
        const bool over = handles_ && handles_->hovers(event->position(), tile_rect());
        return setCursor(over ? Qt::PointingHandCursor : Qt::ArrowCursor);
    }
    const QPoint way = event->pos() - held_;
    // A hand that trembles has not dragged yet.
    if (!moved_ && way.manhattanLength() < 4) return;
    moved_ = true;
    if (zoom_ == 0) zoom_ = fitting_zoom();
    held_ = event->pos();
    centre_ -= QPointF(way.x() / (design_.width * zoom_), way.y() / (design_.height * zoom_));
    update();
    emit zoom_changed();
}

void ClothCanvas::mouseReleaseEvent(QMouseEvent* event) {
    const bool click = event->button() == Qt::LeftButton && !moved_ && !wiping_ && !(handles_ && handles_->held());
    wiping_ = false;
    if (handles_) handles_->release();
    if (click && handles_) handles_->click(event->position(), tile_rect());
    if (click) emit clicked(event->position());
    unsetCursor();
    update();
}

void ClothCanvas::keyPressEvent(QKeyEvent* event) {
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
    update();
}

ClothView::ClothView(QWidget* parent) : QWidget(parent) {
    canvas_ = new ClothCanvas(this);
    auto button = [this](const QString& text, const QString& help, bool checkable) {
        auto* made = new QToolButton(this);
        made->setText(text);
        made->setToolTip(help);
        made->setAccessibleName(help);
        made->setCheckable(checkable);
        made->setFocusPolicy(Qt::StrongFocus);
        return made;
    };
    tile_ = button(tr("Tile"), tr("Show one tile"), true);
    repeat_ = button(QString::fromUtf8("Repeat 2×2"), tr("Show the tile repeated"), true);
    one_ = button("1:1", tr("One screen pixel for each design pixel"), false);
    fit_ = button(tr("Fit"), tr("Fit the cloth into the view"), false);
    alone_ = button(tr("Alone"), tr("Nothing but the cloth (Ctrl+L)"), true);
    auto* group = new QButtonGroup(this);
    group->addButton(tile_);
    group->addButton(repeat_);
    tile_->setChecked(true);
    state_ = new ElidedLabel(this);
    state_->setFont(theme::small_font());
    state_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    auto* bar = new QWidget(this);
    bar->setFixedHeight(34);
    auto* line = new QHBoxLayout(bar);
    line->setContentsMargins(10, 0, 14, 0);
    line->setSpacing(4);
    line->addWidget(tile_);
    line->addWidget(repeat_);
    line->addSpacing(18);
    line->addWidget(one_);
    line->addWidget(fit_);
    line->addWidget(alone_);
    // On a small screen the buttons come first.
    line->addWidget(state_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(bar);
    layout->addWidget(canvas_, 1);
    connect(repeat_, &QToolButton::toggled, this, [this](bool on) { canvas_->set_repeat(on ? 2 : 1); });
    connect(one_, &QToolButton::clicked, this, [this] { canvas_->set_zoom(1); });
    connect(fit_, &QToolButton::clicked, this, [this] { canvas_->set_zoom(0); });
    connect(alone_, &QToolButton::clicked, this, &ClothView::alone_wanted);
    connect(canvas_, &ClothCanvas::zoom_changed, this, &ClothView::refresh);
}

void ClothView::set_repeat(bool on) { (on ? repeat_ : tile_)->setChecked(true); }

void ClothView::show_alone(bool alone) { alone_->setChecked(alone); }
void ClothView::show_apart(bool apart) { alone_->setVisible(!apart); }

void ClothView::set_tile(Size design) {
    canvas_->set_tile(design);
    refresh();
}

void ClothView::show_picture(const ClothPicture& picture) {
    canvas_->show_picture(picture);
    refresh();
}

void ClothView::show_busy(bool busy) {
    busy_ = busy;
    refresh();
}

void ClothView::refresh() {
    const ClothPicture& cloth = canvas_->cloth();
    QStringList parts{tr("%1 %").arg(canvas_->zoom() * 100, 0, 'f', 0), tr("hold C: before")};
    if (!cloth.image.isNull()) parts << QString::fromUtf8("%1 × %2").arg(cloth.image.width()).arg(cloth.image.height());
    if (!cloth.image.isNull()) parts << (cloth.draft ? tr("draft") : tr("%1 ms").arg(cloth.milliseconds, 0, 'f', 0));
    if (busy_) parts << tr("weaving");
    state_->setText(parts.join(QString::fromUtf8(" · ")));
}

}  // namespace loom
