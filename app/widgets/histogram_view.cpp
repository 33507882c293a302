// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/histogram_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/tone_counts.h"

namespace loom {

namespace {
constexpr int captions = 33, in_room = 23, out_room = 26, strip = 7;
constexpr ToneHandle handles[] = {ToneHandle::black, ToneHandle::middle, ToneHandle::white, ToneHandle::out_black,
                                  ToneHandle::out_white};
bool goes_out(ToneHandle handle) { return handle == ToneHandle::out_black || handle == ToneHandle::out_white; }
}  // namespace

HistogramView::HistogramView(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(110);
    setAccessibleName(tr("Histogram"));
    automatic_ = new QToolButton(this);
    automatic_->setText(tr("Automatic"));
    automatic_->setFont(theme::small_font());
    automatic_->setToolTip(tr("Black and white where the tones end, but for half a hundredth of the area at either end"));
    automatic_->setFocusPolicy(Qt::StrongFocus);
    automatic_->hide();
    connect(automatic_, &QToolButton::clicked, this, &HistogramView::automatic_wanted);
}

void HistogramView::resizeEvent(QResizeEvent*) {
    const QSize size = automatic_->sizeHint();
    automatic_->setGeometry(QRect(QPoint(width() - size.width(), height() - captions - 4), QSize(size.width(), 20)));
}

int HistogramView::foot() const { return captions + (has_handles_ ? in_room + out_room : 8); }

void HistogramView::set_histogram(const Histogram& histogram, const QString& caption) {
    histogram_ = histogram;
    caption_ = caption;
    update();
}

void HistogramView::set_reference(const std::optional<Histogram>& histogram) {
    reference_ = histogram;
    update();
}

void HistogramView::set_handles(const Handles& tones) {
    has_handles_ = true;
    tones_ = tones;
    automatic_->show();
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::ArrowCursor);
    update();
}

void HistogramView::clear_handles() {
    has_handles_ = false;
    automatic_->hide();
    held_ = ToneHandle::none;
    setFocusPolicy(Qt::NoFocus);
    update();
}

QRect HistogramView::plot() const { return rect().adjusted(0, 0, -1, -foot()); }

double HistogramView::tone_of(ToneHandle handle) const {
    const auto own = [this](ToneHandle of) { return tones_[static_cast<std::size_t>(of)]; };
    if (handle != ToneHandle::middle) return own(handle);
    // The tone that becomes one half: t^(1/middle) = 1/2.
    const double black = own(ToneHandle::black);
    return black + (own(ToneHandle::white) - black) * std::pow(0.5, own(ToneHandle::middle));
}

QPoint HistogramView::handle_place(ToneHandle handle) const {
    const QRect area = plot().adjusted(6, 0, -6, 0);
    return {area.left() + static_cast<int>(std::lround(tone_of(handle) * area.width())),
            area.bottom() + 9 + (goes_out(handle) ? in_room + strip : 0)};
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
    const QPainterPath path = tone_path(histogram_, inner);
    painter.setPen(QPen(c.faint, 1));
    QColor fill = c.thread;
    fill.setAlpha(150);
    painter.setBrush(fill);
    painter.drawPath(path);
    if (reference_) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(c.accent, 1.2));
        painter.drawPath(tone_path(*reference_, inner));
    }

    if (has_handles_) {
        const QRect out(inner.left(), area.bottom() + in_room, inner.width(), strip);
        QLinearGradient ramp(out.topLeft(), out.topRight());
        ramp.setColorAt(0, Qt::black), ramp.setColorAt(1, Qt::white);
        painter.setPen(QPen(c.line, 1));
        painter.setBrush(ramp);
        painter.drawRect(out);
        for (ToneHandle handle : handles) {
            const QPoint at = handle_place(handle);
            painter.setPen(QPen(c.faint, 1, Qt::DotLine));
            if (!goes_out(handle)) painter.drawLine(at.x(), inner.top(), at.x(), area.bottom());
            QPolygonF mark;
            mark << QPointF(at.x(), at.y() - 7) << QPointF(at.x() - 6, at.y() + 5) << QPointF(at.x() + 6, at.y() + 5);
            const bool marked = hasFocus() && handle == chosen_;
            painter.setPen(QPen(marked ? c.accent : c.text, marked ? 2 : 1));
            painter.setBrush(handle == ToneHandle::middle                                     ? QColor(128, 128, 128)
                             : handle == ToneHandle::black || handle == ToneHandle::out_black ? QColor(20, 20, 20)
                                                                                              : QColor(250, 250, 250));
            painter.drawPolygon(mark);
        }
    }
    painter.setFont(theme::small_font());
    painter.setPen(c.faint);
    const QRect text = QRect(0, height() - captions + 1, width(), 15);
    // The button says what the handles stand on.
    if (!has_handles_) painter.drawText(text, Qt::AlignLeft | Qt::AlignVCenter, caption_);
    painter.drawText(text.translated(0, 15), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("black %1 %  white %2 %").arg(histogram_.black * 100, 0, 'f', 1).arg(histogram_.white * 100, 0, 'f', 1));
}

void HistogramView::mousePressEvent(QMouseEvent* event) {
    if (!has_handles_ || event->button() != Qt::LeftButton) return;
    int nearest = 1000;
    // The last of several handles in one place can still be pulled away.
    for (ToneHandle handle : handles) {
        const QPoint off = handle_place(handle) - event->pos();
        // The two rows of handles are told apart by height, wherever else one presses.
        const bool below = event->pos().y() > plot().bottom() + in_room - 2;
        const int distance = goes_out(handle) == below ? std::abs(off.x()) : 1000;
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
        case ToneHandle::black: value = std::clamp(tone, 0.0, std::max(0.0, tone_of(ToneHandle::white) - gap)); break;
        case ToneHandle::white: value = std::clamp(tone, std::min(1.0, tone_of(ToneHandle::black) + gap), 1.0); break;
        case ToneHandle::out_black:
        case ToneHandle::out_white: value = std::clamp(tone, 0.0, 1.0); break;
        case ToneHandle::middle: {
            const double black = tone_of(ToneHandle::black), range = tone_of(ToneHandle::white) - black;
            const double share = std::clamp((tone - black) / std::max(gap, range), 0.01, 0.96);
            value = std::round(std::log(share) / std::log(0.5) * 100) / 100;
            break;
        }
        case ToneHandle::none: return;
    }
    value_of(handle) = value;
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
            // Round and round through all five.
            chosen_ = static_cast<ToneHandle>(1 + (static_cast<int>(chosen_) + (event->key() == Qt::Key_Up ? 0 : 3)) % 5);
            update();
            return;
        default: QWidget::keyPressEvent(event);
    }
}

}  // namespace loom
