// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/try_sheet.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr int cell_gap = 8, head_height = 34, side_width = 84, sheet_margin = 14, caption_room = 18, ramp_room = 14,
              least_side = 64, most_side = 320;
}

TrySheet::TrySheet(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(320, 240);
    setAccessibleName(tr("Sheet of tries"));
}

void TrySheet::begin(QStringList captions, int columns, QStringList heads, QStringList sides) {
    cells_.clear();
    for (QString& caption : captions) cells_.push_back({std::move(caption), {}});
    fixed_columns_ = columns, heads_ = std::move(heads), sides_ = std::move(sides);
    kept_.clear(), compared_.clear(), ramps_.clear();
    chosen_ = -1, present_ = -1;
    // Where many stand side by side it is wider than its place, which scrolls.
    const int across = fixed_columns_ > 0 ? fixed_columns_ : 1, down = fixed_columns_ > 0 ? (count() + across - 1) / across : 1;
    setMinimumSize(std::max(320, 2 * sheet_margin + (sides_.isEmpty() ? 0 : side_width) + across * (least_side + cell_gap)),
                   std::max(240, 2 * sheet_margin + (heads_.isEmpty() ? 0 : head_height) +
                                     down * (least_side + caption_room + cell_gap / 2)));
    update();
}

void TrySheet::set_ramps(std::vector<QImage> ramps) {
    ramps_ = std::move(ramps);
    update();
}

void TrySheet::set_picture(int index, const QImage& picture) {
    cells_[static_cast<std::size_t>(index)].picture = picture;
    update(place(index));
}

void TrySheet::set_failed(int index) {
    cells_[static_cast<std::size_t>(index)].failed = true;
    update(place(index));
}

void TrySheet::set_present(int index) {
    present_ = index;
    update();
}

void TrySheet::set_kept(std::set<int> kept) {
    kept_ = std::move(kept);
    update();
}

void TrySheet::choose(int index) {
    if (index < 0 || index >= count() || index == chosen_) return;
    chosen_ = index;
    setAccessibleDescription(tr("%1 of %2: %3").arg(index + 1).arg(count()).arg(caption(index)));
    update();
    emit chosen_changed(index);
}

TrySheet::Grid TrySheet::grid() const {
    Grid best;
    const int left = sides_.isEmpty() ? 0 : side_width, top = heads_.isEmpty() ? 0 : head_height;
    const int below = caption_room + (ramps_.empty() ? 0 : ramp_room);
    const int wide = width() - 2 * sheet_margin - left, high = height() - 2 * sheet_margin - top;
    const int first = fixed_columns_ > 0 ? fixed_columns_ : 1, last = fixed_columns_ > 0 ? fixed_columns_ : std::max(1, count());
    for (int columns = first; columns <= last; ++columns) {
        const int rows = (count() + columns - 1) / columns;
        const int side =
            std::min((wide - (columns - 1) * cell_gap) / columns, rows > 0 ? high / rows - below - cell_gap / 2 : high);
        if (side > best.side || columns == first) best = {columns, side, below, 0, 0};
    }
    best.side = std::clamp(best.side, least_side, most_side);
    best.left = sheet_margin + left, best.top = sheet_margin + top;
    return best;
}

int TrySheet::columns() const { return grid().columns; }
int TrySheet::rows() const { return (count() + columns() - 1) / columns(); }

QRect TrySheet::place(int index) const {
    const Grid g = grid();
    return {g.left + index % g.columns * (g.side + cell_gap), g.top + index / g.columns * (g.side + g.below + cell_gap / 2),
            g.side, g.side};
}

int TrySheet::at(const QPoint& where) const {
    for (int k = 0; k < count(); ++k)
        if (place(k).adjusted(0, 0, 0, grid().below).contains(where)) return k;
    return -1;
}

void TrySheet::compare(int index) {
    if (index < 0) return;
    const auto found = std::find(compared_.begin(), compared_.end(), index);
    if (found == compared_.end())
        compared_.push_back(index);
    else
        compared_.erase(found);
    // As many as can be told apart beside each other.
    if (compared_.size() > 3) compared_.erase(compared_.begin());
    update();
    emit compared_changed();
}

void TrySheet::paint_cell(QPainter& painter, int index) const {
    const theme::Colours& c = theme::colours();
    const Cell& cell = cells_[static_cast<std::size_t>(index)];
    const QRect frame = place(index);
    painter.fillRect(frame, c.field);
    if (!cell.picture.isNull()) {
        const QSize shown = cell.picture.size().scaled(frame.size(), Qt::KeepAspectRatio);
        painter.drawImage(
            QRect(frame.topLeft() + QPoint((frame.width() - shown.width()) / 2, (frame.height() - shown.height()) / 2), shown),
            cell.picture);
    } else {
        painter.setPen(c.faint);
        painter.setFont(theme::small_font());
        painter.drawText(frame, Qt::AlignCenter | Qt::TextWordWrap, cell.failed ? tr("cannot be made") : QString::fromUtf8("…"));
    }
    const auto ring = [&](const QColor& colour, int width) {
        painter.setPen(QPen(colour, width, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(frame).adjusted(-width / 2.0, -width / 2.0, width / 2.0, width / 2.0));
    };
    if (index == present_) ring(c.accent, 3);
    if (index == chosen_) ring(c.text, index == present_ ? 1 : 3);
    if (index == chosen_ && hasFocus()) {
        painter.setPen(QPen(c.accent, 1, Qt::DotLine));
        painter.drawRect(frame.adjusted(-5, -5, 4, 4));
    }
    if (const auto found = std::find(compared_.begin(), compared_.end(), index); found != compared_.end()) {
        const QRect badge(frame.right() - 19, frame.top() + 2, 18, 18);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.card);
        painter.drawEllipse(badge);
        painter.setPen(c.text);
        painter.setFont(theme::strong_font(11));
        painter.drawText(badge, Qt::AlignCenter, QString::number(found - compared_.begin() + 1));
    }
}

void TrySheet::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const Grid g = grid();
    for (int k = 0; k < count(); ++k) paint_cell(painter, k);
    painter.setPen(c.text);
    painter.setFont(theme::strong_font());
    const auto elided = [&](const QString& text, int width) {
        return painter.fontMetrics().elidedText(text, Qt::ElideRight, width);
    };
    for (int k = 0; k < std::min<int>(g.columns, static_cast<int>(heads_.size())); ++k)
        painter.drawText(QRect(place(k).left() - cell_gap / 2, g.top - head_height, g.side + cell_gap, head_height - 4),
                         Qt::AlignHCenter | Qt::AlignBottom | Qt::TextWordWrap, heads_[k]);
    for (int k = 0; k < std::min<int>(rows(), static_cast<int>(sides_.size())); ++k)
        painter.drawText(QRect(sheet_margin, place(k * g.columns).top(), side_width - 10, g.side),
                         Qt::AlignRight | Qt::AlignVCenter, elided(sides_[k], side_width - 10));
    for (int k = 0; k < count(); ++k) {
        QRect below(place(k).left(), place(k).bottom() + 3, g.side, g.below - 3);
        if (static_cast<std::size_t>(k) < ramps_.size()) {
            const QRect ramp(below.left(), below.top() + 2, g.side, ramp_room - 5);
            painter.drawImage(ramp, ramps_[static_cast<std::size_t>(k)]);
            below.setTop(below.top() + ramp_room);
        }
        const QString state = k == present_ ? tr("now") : kept_.contains(k) ? tr("kept") : QString();
        QString text = heads_.isEmpty() ? cells_[static_cast<std::size_t>(k)].caption : QString();
        if (!state.isEmpty()) text = text.isEmpty() || text == tr("As it is") ? state : text + QString::fromUtf8(" · ") + state;
        if (text.isEmpty()) continue;
        painter.setFont(k == present_ ? theme::strong_font(11) : theme::small_font());
        painter.setPen(k == present_ ? c.accent : k == chosen_ ? c.text : c.faint);
        painter.drawText(below, Qt::AlignHCenter | Qt::AlignTop, elided(text, g.side));
    }
}

void TrySheet::mousePressEvent(QMouseEvent* event) {
    const int index = at(event->pos());
    if (index < 0) return;
    choose(index);
    // Like several cards of the loom, several pictures are taken together with Ctrl.
    if (event->button() == Qt::RightButton || event->modifiers() & Qt::ControlModifier) compare(index);
}

void TrySheet::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const int index = at(event->pos()); index >= 0 && event->button() == Qt::LeftButton) emit taken(index);
}

void TrySheet::keyPressEvent(QKeyEvent* event) {
    const int now = std::max(0, chosen_), across = columns();
    const auto go = [&](int to) {
        if (to >= 0 && to < count()) choose(to);
    };
    switch (event->key()) {
        case Qt::Key_Left: return go(now % across > 0 ? now - 1 : now);
        case Qt::Key_Right: return go(now % across + 1 < across ? now + 1 : now);
        case Qt::Key_Up: return go(now - across);
        case Qt::Key_Down: return go(now + across);
        case Qt::Key_Home: return go(0);
        case Qt::Key_End: return go(count() - 1);
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (chosen_ >= 0) emit taken(chosen_);
            return;
        case Qt::Key_K:
            if (chosen_ >= 0) emit keep_wanted(chosen_);
            return;
        case Qt::Key_Space: return compare(chosen_);
        default: QWidget::keyPressEvent(event);
    }
}

bool TrySheet::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        if (const int index = at(help->pos()); index >= 0)
            QToolTip::showText(help->globalPos(), caption(index), this, place(index));
        else
            QToolTip::hideText();
        return true;
    }
    return QWidget::event(event);
}

}  // namespace loom
