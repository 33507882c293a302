// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/histogram_view.h"

#include <QPainter>
#include <QPainterPath>

#include "app/theme/theme.h"
#include "app/widgets/tone_counts.h"

namespace loom {

namespace {
constexpr int captions = 33, below_plot = 8;
}

HistogramView::HistogramView(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(90);
    setAccessibleName(tr("Histogram"));
}

void HistogramView::set_histogram(const Histogram& histogram, const QString& caption) {
    histogram_ = histogram;
    caption_ = caption;
    update();
}

void HistogramView::set_reference(const std::optional<Histogram>& histogram) {
    reference_ = histogram;
    update();
}

void HistogramView::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRect area = rect().adjusted(0, 0, -1, -captions - below_plot);
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

    painter.setFont(theme::small_font());
    painter.setPen(c.faint);
    const QRect text = QRect(0, height() - captions + 1, width(), 15);
    painter.drawText(text, Qt::AlignLeft | Qt::AlignVCenter, caption_);
    painter.drawText(text.translated(0, 15), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("black %1 %  white %2 %").arg(histogram_.black * 100, 0, 'f', 1).arg(histogram_.white * 100, 0, 'f', 1));
}

}  // namespace loom
