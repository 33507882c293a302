// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/histogram_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr int foot = 40 + 15;  // handles and caption
constexpr ToneHandle handles[] = {ToneHandle::black, ToneHandle::middle, ToneHandle::white};
}  // namespace

HistogramView::HistogramView(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(110);
    setAccessibleName(tr("Histogram"));
}

void HistogramView::set_histogram(const Histogram& histogram, const QString& caption) {
    histogram_ = histogram;
    caption_ = caption;
    update();
}

void HistogramView::set_handles(double black, double middle, double white) {
    has_handles_ = true;
    black_ = black, middle_ = middle, white_ = white;
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::ArrowCursor);
    update();
}

void HistogramView::clear_handles() {
    has_handles_ = false;
    held_ = ToneHandle::none;
    setFocusPolicy(Qt::NoFocus);
    update();
}

QRect HistogramView::plot() const { return rect().adjusted(0, 0, -1, -foot); }

double HistogramView::tone_of(ToneHandle handle) const {
    if (handle == ToneHandle::black) return black_;
    if (handle == ToneHandle::white) return white_;
    // The tone that becomes one half: t^(1/middle) = 1/2.
    return black_ + (white_ - black_) * std::pow(0.5, middle_);
}

QPoint HistogramView::handle_place(ToneHandle handle) const {
    const QRect area = plot().adjusted(6, 0, -6, 0);
    return {area.left() + static_cast<int>(std::lround(tone_of(handle) * area.width())), area.bottom() + 9};
}

void HistogramView::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRect area = plot();
    painter.setPen(QPen(c.line, 1));
    painter.setBrush(c.card);
    painter.drawRoundedRect(QRectF(area).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    const QRect inner = area.adjusted(6, 8, -6, -1);
    // A square-root scale shows thin tails beside a tall middle.
    double tallest = 1e-9;
    for (int k = 1; k < Histogram::bins - 1; ++k) tallest = std::max(tallest, histogram_.share[static_cast<std::size_t>(k)]);
    QPainterPath path;
    path.moveTo(inner.left(), inner.bottom());
    for (int k = 0; k < Histogram::bins; ++k) {
        const double share = std::min(1.0, histogram_.share[static_cast<std::size_t>(k)] / tallest);
        path.lineTo(inner.left() + inner.width() * k / 255.0, inner.bottom() - inner.height() * std::sqrt(share));
    }
    path.lineTo(inner.right(), inner.bottom());
    path.closeSubpath();
    painter.setPen(QPen(c.faint, 1));
    QColor fill = c.thread;
    fill.setAlpha(150);
    painter.setBrush(fill);
    painter.drawPath(path);

    if (has_handles_) {
        for (ToneHandle handle : handles) {
            const QPoint at = handle_place(handle);
            painter.setPen(QPen(c.faint, 1, Qt::DotLine));
            painter.drawLine(at.x(), inner.top(), at.x(), area.bottom());
            QPolygonF mark;
            mark << QPointF(at.x(), at.y() - 7) << QPointF(at.x() - 6, at.y() + 5) << QPointF(at.x() + 6, at.y() + 5);
            const bool marked = hasFocus() && handle == chosen_;
            painter.setPen(QPen(marked ? c.accent : c.text, marked ? 2 : 1));
            painter.setBrush(handle == ToneHandle::black   ? QColor(20, 20, 20)
                             : handle == ToneHandle::white ? QColor(250, 250, 250)
                                                           : QColor(128, 128, 128));
            painter.drawPolygon(mark);
        }
    }
    painter.setFont(theme::small_font());
    painter.setPen(c.faint);
    const QRect text = QRect(0, height() - 32, width(), 15);
    painter.drawText(text, Qt::AlignLeft | Qt::AlignVCenter, caption_);
    painter.drawText(text.translated(0, 15), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("black %1 %  white %2 %").arg(histogram_.black * 100, 0, 'f', 1).arg(histogram_.white * 100, 0, 'f', 1));
}

void HistogramView::mousePressEvent(QMouseEvent* event) {
    if (!has_handles_ || event->button() != Qt::LeftButton) return;
    int nearest = 1000;
    // The last of several handles in one place can still be pulled away.
    for (ToneHandle handle : handles) {
        const int distance = std::abs(handle_place(handle).x() - event->pos().x());
        if (distance <= nearest) nearest = distance, held_ = handle;
    }
    if (nearest > 14) held_ = ToneHandle::none;
    if (held_ == ToneHandle::none) return;
    chosen_ = held_;
    gestures_.begin();
    update();
}

void HistogramView::mouseMoveEvent(QMouseEvent* event) {
    if (held_ == ToneHandle::none) return;
    const QRect area = plot().adjusted(6, 0, -6, 0);
    move_to(held_, static_cast<double>(event->pos().x() - area.left()) / area.width());
}

void HistogramView::mouseReleaseEvent(QMouseEvent*) {
    held_ = ToneHandle::none;
    gestures_.end();
}

void HistogramView::move_to(ToneHandle handle, double tone) {
    const double gap = 1.0 / 255;
    double value = 0;
    switch (handle) {
        case ToneHandle::black: value = black_ = std::clamp(tone, 0.0, std::max(0.0, white_ - gap)); break;
        case ToneHandle::white: value = white_ = std::clamp(tone, std::min(1.0, black_ + gap), 1.0); break;
        case ToneHandle::middle: {
            const double share = std::clamp((tone - black_) / std::max(gap, white_ - black_), 0.01, 0.96);
            value = middle_ = std::round(std::log(share) / std::log(0.5) * 100) / 100;
            break;
        }
        case ToneHandle::none: return;
    }
    update();
    emit handle_moved(handle, value, gestures_.current());
}

void HistogramView::keyPressEvent(QKeyEvent* event) {
    const double step = (event->modifiers() & Qt::ShiftModifier ? 10 : 1) / 255.0;
    switch (event->key()) {
        case Qt::Key_Left: move_to(chosen_, tone_of(chosen_) - step); return;
        case Qt::Key_Right: move_to(chosen_, tone_of(chosen_) + step); return;
        case Qt::Key_Up:
        case Qt::Key_Down:
            chosen_ = static_cast<ToneHandle>(1 + (static_cast<int>(chosen_) + (event->key() == Qt::Key_Up ? 0 : 1)) % 3);
            update();
            return;
        default: QWidget::keyPressEvent(event);
    }
}

}  // namespace loom
