// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/samples/swatch.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include "app/samples/colour_words.h"
#include "app/theme/theme.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

constexpr int rim = 10, above = 8, words_height = 56;  ///< around a swatch's picture
constexpr double proportions = 168.0 / 256;            ///< of the picture

/// A rectangle whose edges are cut in teeth, as shears cut a sample.
QPainterPath pinked(const QRectF& area) {
    constexpr double tooth = 7, depth = 3.5;
    const int across = static_cast<int>(area.width() / tooth), down = static_cast<int>(area.height() / tooth);
    const double w = area.width() / across, h = area.height() / down;
    QPainterPath path(area.topLeft());
    for (int k = 0; k < across; ++k) {
        path.lineTo(area.left() + (k + 0.5) * w, area.top() + depth);
        path.lineTo(area.left() + (k + 1) * w, area.top());
    }
    for (int k = 0; k < down; ++k) {
        path.lineTo(area.right() - depth, area.top() + (k + 0.5) * h);
        path.lineTo(area.right(), area.top() + (k + 1) * h);
    }
    for (int k = 0; k < across; ++k) {
        path.lineTo(area.right() - (k + 0.5) * w, area.bottom() - depth);
        path.lineTo(area.right() - (k + 1) * w, area.bottom());
    }
    for (int k = 0; k < down; ++k) {
        path.lineTo(area.left() + depth, area.bottom() - (k + 0.5) * h);
        path.lineTo(area.left(), area.bottom() - (k + 1) * h);
    }
    path.closeSubpath();
    return path;
}

}  // namespace

Swatch::Swatch(Recipe recipe, QString path, QWidget* parent)
    : QWidget(parent), recipe_(std::move(recipe)), path_(std::move(path)) {
    fit(least_width);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(tr("Sample %1").arg(QString::fromStdString(recipe_.name)));
}

void Swatch::fit(int width) { setFixedSize(width, above + static_cast<int>((width - 2 * rim) * proportions) + words_height); }

void Swatch::set_picture(const QImage& image) {
    picture_ = image;
    update();
}

void Swatch::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF area(rim, above, width() - 2 * rim, height() - above - words_height);
    const int line = height() - words_height + 6;
    if (hasFocus() || hovered_) {
        painter.setPen(QPen(hasFocus() ? c.accent : c.thread, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(area.adjusted(-6, -6, 6, 6));
    }
    painter.setPen(Qt::NoPen);
    painter.setClipPath(pinked(area));
    if (picture_.isNull()) {
        painter.fillRect(area, c.panel);
    } else if (hovered_) {
        // Repeated while one looks closer.
        const double tile = area.width() / 2;
        for (double y = area.top(); y < area.bottom(); y += tile)
            for (double x : {area.left(), area.left() + tile}) painter.drawImage(QRectF(x, y, tile, tile), picture_);
    } else {
        // The middle strip of the tile, in the swatch's proportions.
        const QRectF source(0, (picture_.height() - picture_.width() * area.height() / area.width()) / 2, picture_.width(),
                            picture_.width() * area.height() / area.width());
        painter.drawImage(area, picture_, source);
    }
    painter.setClipping(false);
    painter.setPen(c.text);
    painter.setFont(theme::strong_font(13));
    painter.drawText(QRect(rim + 2, line, width() - 2 * rim - 76, 20), Qt::AlignLeft | Qt::AlignVCenter,
                     QString::fromStdString(recipe_.name));
    if (recipe_.tile.wide_cm) {
        painter.setPen(c.faint);
        painter.setFont(theme::small_font());
        painter.drawText(QRect(width() - rim - 86, line, 86, 20), Qt::AlignRight | Qt::AlignVCenter,
                         tr("%1 cm").arg(*recipe_.tile.wide_cm, 0, 'g', 4));
    }
    for (int k = 0; k < static_cast<int>(recipe_.colourways.size()); ++k) {
        const QRectF place = dot(k);
        if (place.isNull()) continue;
        painter.setPen(QPen(QColor(0, 0, 0, 110), 1));
        painter.setBrush(dot_of(recipe_.colourways[static_cast<std::size_t>(k)]));
        painter.drawEllipse(place);
        if (k != colourway_) continue;
        painter.setPen(QPen(c.text, 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(place.adjusted(-3, -3, 3, 3));
    }
}

QRectF Swatch::dot(int index) const {
    int x = 20;
    for (int k = 0; k < static_cast<int>(recipe_.colourways.size()); ++k) {
        if (!dot_of(recipe_.colourways[static_cast<std::size_t>(k)]).isValid()) continue;
        if (k == index) return QRectF(x - 7, height() - words_height + 31, 14, 14);
        x += 24;
    }
    return {};
}

Recipe Swatch::shown() const {
    return colourway_ < 0 ? recipe_ : with_colourway(recipe_, recipe_.colourways[static_cast<std::size_t>(colourway_)].name);
}

void Swatch::show_colourway(int index) {
    if (index == colourway_ || index >= static_cast<int>(recipe_.colourways.size())) return;
    colourway_ = index;
    update();
    emit colourway_chosen();
}

bool Swatch::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    QString text = tr("Opens as a copy; keys 1 to 9 show its colourways");
    for (int k = 0; k < static_cast<int>(recipe_.colourways.size()); ++k)
        if (dot(k).adjusted(-4, -4, 4, 4).contains(help->pos()))
            text = QString::fromStdString(recipe_.colourways[static_cast<std::size_t>(k)].name);
    QToolTip::showText(help->globalPos(), text, this);
    return true;
}

void Swatch::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !rect().contains(event->pos())) return;
    for (int k = 0; k < static_cast<int>(recipe_.colourways.size()); ++k)
        if (dot(k).adjusted(-4, -4, 4, 4).contains(event->pos())) return show_colourway(k);
    emit opened();
}

void Swatch::keyPressEvent(QKeyEvent* event) {
    if (event->key() >= Qt::Key_1 && event->key() <= Qt::Key_9) return show_colourway(event->key() - Qt::Key_1);
    switch (event->key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Space: return emit opened();
        case Qt::Key_Right:
        case Qt::Key_Down: focusNextChild(); return;
        case Qt::Key_Left:
        case Qt::Key_Up: focusPreviousChild(); return;
        default: QWidget::keyPressEvent(event);
    }
}

void Swatch::enterEvent(QEnterEvent*) { hovered_ = true, update(); }
void Swatch::leaveEvent(QEvent*) { hovered_ = false, update(); }
void Swatch::focusInEvent(QFocusEvent* event) { QWidget::focusInEvent(event), update(); }
void Swatch::focusOutEvent(QFocusEvent* event) { QWidget::focusOutEvent(event), update(); }

}  // namespace loom
