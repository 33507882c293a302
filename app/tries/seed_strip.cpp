// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/seed_strip.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <algorithm>

#include "app/theme/theme.h"
#include "core/catalogue/description.h"

namespace loom {

namespace {
constexpr int seed_side = 56, gap = 8, seed_caption = 15, fold_width = 22, folded_height = 24;
}

SeedStrip::SeedStrip(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    fold_ = new QToolButton(this);
    fold_->setFont(theme::small_font());
    fold_->setStyleSheet("QToolButton { padding: 1px 3px; }");
    fold_->setFocusPolicy(Qt::StrongFocus);
    connect(fold_, &QToolButton::clicked, this, [this] { set_folded(!folded_); });
    setAccessibleName(tr("Neighbouring seeds"));
    setToolTip(tr("The cloth with neighbouring seeds of this step; click one to take it."));
    // Pictures wait until a drag has settled.
    later_.setSingleShot(true);
    later_.setInterval(200);
    connect(&later_, &QTimer::timeout, this, &SeedStrip::order);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        pictures_[static_cast<std::size_t>(index)] =
            image.scaled(QSize(seed_side, seed_side) * devicePixelRatioF(), Qt::KeepAspectRatio, Qt::SmoothTransformation);
        update();
    });
    connect(&session_, &Session::recipe_changed, this, &SeedStrip::follow);
    connect(&session_, &Session::selection_changed, this, [this] {
        pictures_ = {};
        follow();
    });
    set_folded(false);
    follow();
}

void SeedStrip::set_folded(bool folded) {
    folded_ = folded;
    setFixedHeight(folded ? folded_height : seed_side + seed_caption + 5);
    setFocusPolicy(folded ? Qt::NoFocus : Qt::StrongFocus);
    fold_->setText(folded ? QString::fromUtf8("▸ ") + tr("Other seeds") : QString::fromUtf8("▾"));
    fold_->setAccessibleName(folded ? tr("Unfold the other seeds") : tr("Fold the other seeds"));
    fold_->setToolTip(fold_->accessibleName());
    fold_->setGeometry(
        QRect(QPoint(0, 1), folded ? QSize(fold_->sizeHint().width(), folded_height - 2) : QSize(fold_width - 4, 20)));
    follow();
}

void SeedStrip::set_room(bool room) {
    if (room == room_) return;
    room_ = room;
    follow();
}

bool SeedStrip::complete() const {
    if (folded_ || !room_) return true;
    return !later_.isActive() && std::all_of(pictures_.begin(), pictures_.end(), [](const QImage& i) { return !i.isNull(); });
}

void SeedStrip::follow() {
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    const bool seeded = description && description->seeded && description->draws(step->set);
    setVisible(seeded && room_);
    if (!seeded) {
        later_.stop();
        service_.stop();
        return;
    }
    if (folded_ || !room_) {
        later_.stop();
        return service_.stop();
    }
    // Four before and four after the present one, as far as there are any.
    const std::uint32_t first = step->seed < 4 ? 0 : step->seed - 4;
    std::uint32_t next = first;
    for (std::uint32_t& seed : seeds_) {
        if (next == step->seed) ++next;
        seed = next++;
    }
    later_.start();
    update();
}

void SeedStrip::order() {
    const Selection selection = session_.selection();
    std::vector<TryOrder> orders;
    for (std::uint32_t seed : seeds_)
        orders.push_back(
            {with_value(session_.recipe(), {selection.strand, selection.step, "seed"}, Value(static_cast<double>(seed))), {}});
    pictures_ = {};
    ticket_ = service_.submit(std::move(orders));
}

QRect SeedStrip::place(int index) const { return {fold_width + index * (seed_side + gap), 2, seed_side, seed_side}; }

int SeedStrip::shown() const { return folded_ ? 0 : std::clamp((width() - fold_width) / (seed_side + gap), 1, count); }

int SeedStrip::at(const QPoint& place_of_pointer) const {
    for (int k = 0; k < shown(); ++k)
        if (place(k).adjusted(0, 0, 0, seed_caption).contains(place_of_pointer)) return k;
    return -1;
}

void SeedStrip::take(int index) {
    const Selection selection = session_.selection();
    const double chosen = seeds_[static_cast<std::size_t>(index)];
    session_.set_value({selection.strand, selection.step, "seed"}, Value(chosen));
}

void SeedStrip::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setFont(theme::small_font());
    for (int k = 0; k < shown(); ++k) {
        const QRect frame = place(k);
        const QImage& picture = pictures_[static_cast<std::size_t>(k)];
        painter.fillRect(frame, c.field);
        if (!picture.isNull()) {
            const QSize shown = picture.size().scaled(frame.size(), Qt::KeepAspectRatio);
            painter.drawImage(
                QRect(frame.topLeft() + QPoint((seed_side - shown.width()) / 2, (seed_side - shown.height()) / 2), shown),
                picture);
        }
        const bool marked = hasFocus() && k == marked_;
        painter.setPen(QPen(marked || k == hovered_ ? c.accent : c.line, marked || k == hovered_ ? 2 : 1));
        painter.drawRect(frame.adjusted(0, 0, -1, -1));
        painter.setPen(marked || k == hovered_ ? c.text : c.faint);
        painter.drawText(QRect(frame.left() - 6, frame.bottom() + 2, seed_side + 12, seed_caption), Qt::AlignCenter,
                         QString::number(seeds_[static_cast<std::size_t>(k)]));
    }
    constexpr int least_room = 90;
    if (folded_ || width() - place(count).left() < least_room) return;
    painter.setPen(c.faint);
    const QRect rest(place(count).left() + 2, 2, width() - place(count).left() - 2, seed_side);
    painter.drawText(rest, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, tr("Other seeds, the cloth with each"));
}

void SeedStrip::mousePressEvent(QMouseEvent* event) {
    if (const int index = at(event->pos()); index >= 0 && event->button() == Qt::LeftButton) take(index);
}

void SeedStrip::mouseMoveEvent(QMouseEvent* event) {
    hovered_ = at(event->pos());
    setCursor(hovered_ >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
}

void SeedStrip::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}

void SeedStrip::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Left: marked_ = std::max(0, marked_ - 1); break;
        case Qt::Key_Right: marked_ = std::min(shown() - 1, marked_ + 1); break;
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Space: take(marked_); break;
        default: return QWidget::keyPressEvent(event);
    }
    update();
}

void SeedStrip::focusInEvent(QFocusEvent*) { update(); }
void SeedStrip::focusOutEvent(QFocusEvent*) { update(); }

}  // namespace loom
