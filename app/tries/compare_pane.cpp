// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/compare_pane.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr int pane_margin = 14, name_height = 18, name_room = 2 * name_height + 8, room_between = 10;
}

ComparePane::ComparePane(QWidget* parent) : QWidget(parent) {
    setMinimumSize(240, 200);
    setAccessibleName(tr("Pictures compared"));
}

void ComparePane::set_pictures(std::vector<Picture> pictures) {
    pictures_ = std::move(pictures);
    QStringList names;
    for (const Picture& each : pictures_) names << each.name;
    setAccessibleDescription(names.join(", "));
    update();
}

void ComparePane::set_way(Way way) {
    way_ = way;
    setFocusPolicy(way == Way::wipe ? Qt::StrongFocus : Qt::NoFocus);
    setCursor(way == Way::wipe ? Qt::SplitHCursor : Qt::ArrowCursor);
    update();
}

void ComparePane::set_line(double line) {
    line_ = std::clamp(line, 0.0, 1.0);
    update();
}

QRect ComparePane::box(int index) const {
    const int count = wipes() ? 1 : std::max(1, static_cast<int>(pictures_.size()));
    const QRect all = rect().adjusted(pane_margin, pane_margin, -pane_margin, 0);
    if (wipes()) return all;
    // Four stand in two rows and columns; more than two beside each other would be narrow.
    const int columns = way_ == Way::beside ? std::min(count, 2) : count > 2 ? 2 : 1, rows = (count + columns - 1) / columns;
    const int wide = (all.width() - (columns - 1) * room_between) / columns, high = all.height() / rows;
    return {all.left() + index % columns * (wide + room_between), all.top() + index / columns * high, wide, high};
}

QRect ComparePane::fitted(const QRect& box, const QImage& image) const {
    const QRect room = box.adjusted(0, 0, 0, -name_room);
    const QSize size = (image.isNull() ? QSize(1, 1) : image.size()).scaled(room.size(), Qt::KeepAspectRatio);
    return {room.left() + (room.width() - size.width()) / 2, room.top(), size.width(), size.height()};
}

QRect ComparePane::place(int index) const { return fitted(box(index), pictures_[static_cast<std::size_t>(index)].image); }

void ComparePane::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.fillRect(rect(), c.cloth_ground);
    const QColor light(Qt::white), soft(225, 225, 225);
    const auto name = [&](const Picture& picture, const QRect& frame, Qt::Alignment side) {
        const QRect line(frame.left(), frame.bottom() + 3, frame.width(), name_height);
        const int width = wipes() ? line.width() / 2 - 6 : line.width();
        const QRect own(side & Qt::AlignRight ? line.right() - width : line.left(), line.top(), width, name_height);
        painter.setFont(theme::strong_font());
        painter.setPen(light);
        painter.drawText(own, side | Qt::AlignVCenter, painter.fontMetrics().elidedText(picture.name, Qt::ElideRight, width));
        painter.setFont(theme::small_font());
        painter.setPen(soft);
        painter.drawText(own.translated(0, name_height - 2), side | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(picture.note, Qt::ElideRight, width));
    };
    const auto draw = [&](const Picture& picture, const QRect& frame) {
        if (!picture.image.isNull()) return painter.drawImage(frame, picture.image);
        painter.fillRect(frame, c.cloth_ground.darker(110));
    };
    if (wipes()) {
        const QRect frame = place(0);
        const int at = frame.left() + static_cast<int>(line_ * frame.width());
        draw(pictures_[0], frame);
        painter.save();
        painter.setClipRect(QRect(at, frame.top(), frame.right() - at + 1, frame.height()));
        draw(pictures_[1], frame);
        painter.restore();
        painter.fillRect(QRect(at - 1, frame.top(), 2, frame.height()), light);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(light);
        painter.setPen(QPen(hasFocus() ? c.accent : soft, hasFocus() ? 2 : 1));
        painter.drawEllipse(QPointF(at, frame.center().y()), 7, 7);
        name(pictures_[0], frame, Qt::AlignLeft), name(pictures_[1], frame, Qt::AlignRight);
        return;
    }
    for (int k = 0; k < static_cast<int>(pictures_.size()); ++k) {
        draw(pictures_[static_cast<std::size_t>(k)], place(k));
        name(pictures_[static_cast<std::size_t>(k)], place(k), Qt::AlignLeft);
    }
}

void ComparePane::mousePressEvent(QMouseEvent* event) { mouseMoveEvent(event); }

void ComparePane::mouseMoveEvent(QMouseEvent* event) {
    if (wipes() && event->buttons() & Qt::LeftButton)
        set_line((event->position().x() - place(0).left()) / std::max(1, place(0).width()));
}

void ComparePane::keyPressEvent(QKeyEvent* event) {
    if (wipes() && event->key() == Qt::Key_Left) return set_line(line_ - 0.05);
    if (wipes() && event->key() == Qt::Key_Right) return set_line(line_ + 0.05);
    QWidget::keyPressEvent(event);
}

}  // namespace loom
