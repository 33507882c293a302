// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the hand does with the cards: choosing one or several, a band drawn around them, dragging them to another place.
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QRubberBand>
#include <algorithm>

#include "app/loom/strand_column.h"
#include "app/loom/strands_view.h"
#include "app/theme/theme.h"

namespace loom {

namespace {

/// A card with the edges of those that are dragged with it.
QPixmap stacked(const QPixmap& card, std::size_t together) {
    const double scale = card.devicePixelRatio();
    const int more = static_cast<int>(std::min<std::size_t>(together, 4)) - 1, step = 4;
    QPixmap all((card.deviceIndependentSize().toSize() + QSize(more * step, more * step)) * scale);
    all.setDevicePixelRatio(scale);
    all.fill(Qt::transparent);
    QPainter painter(&all);
    for (int k = more; k >= 0; --k) painter.drawPixmap(k * step, k * step, card);
    return all;
}

}  // namespace

void StrandsView::choose(const StepCard& card, Qt::KeyboardModifiers with) {
    const Selection at{card.strand_id(), card.step_id()};
    if (with & Qt::ShiftModifier) {
        const Selection from = session_.recipe().step({anchor_.strand, anchor_.step, ""}) ? anchor_ : session_.selection();
        const StepPlaces range = between(session_.recipe(), from, at);
        return session_.select_several(range.empty() ? StepPlaces{at} : range, at);
    }
    anchor_ = at;
    if (!(with & Qt::ControlModifier)) return session_.select(at);
    StepPlaces steps = session_.selected_steps();
    const auto found = std::find(steps.begin(), steps.end(), at);
    if (found == steps.end()) {
        steps.push_back(at);
        return session_.select_several(steps, at);
    }
    // The last one stays: something is always selected.
    if (steps.size() == 1) return;
    steps.erase(found);
    session_.select_several(steps, session_.selection());
}

void StrandsView::extend(const StepCard& card, int way) {
    const auto slot = slot_of(session_.recipe(), card.strand_id(), card.step_id());
    if (!slot) return;
    const Chain& chain = session_.recipe().strand(slot->strand)->chain(slot->chain);
    const int next = slot->index + way;
    if (next < 0 || next >= static_cast<int>(chain.size())) return;
    // The range is counted from the card at which it began.
    const StepPlaces& steps = session_.selected_steps();
    if (std::find(steps.begin(), steps.end(), anchor_) == steps.end()) anchor_ = {card.strand_id(), card.step_id()};
    const Selection to{slot->strand, chain[static_cast<std::size_t>(next)].id};
    session_.select_several(between(session_.recipe(), anchor_, to), to);
    focus_selected();
}

void StrandsView::drop(const StepCard& card, const QPoint& place) {
    end_drag();
    const Selection at{card.strand_id(), card.step_id()};
    const auto slot = slot_at(place);
    const Step* step = session_.recipe().step({at.strand, at.step, ""});
    if (!slot || !step) return;
    const StepPlaces steps = card.selected() ? session_.selected_steps() : StepPlaces{at};
    StepPlaces moved;
    const QString text = steps.size() > 1 ? tr("Move %n steps", nullptr, static_cast<int>(steps.size()))
                                          : tr("Move %1").arg(QString::fromStdString(step_title(*step)));
    if (session_.apply(steps_moved(session_.recipe(), steps, *slot, moved), text)) session_.select_several(moved, moved.front());
}

/// All cards that the band touches, in addition to those that are selected if `also`.
void StrandsView::take_in(const QRect& band, bool also) {
    StepPlaces steps = also ? session_.selected_steps() : StepPlaces{};
    for (const StrandColumn* column : columns_)
        for (ChainKind chain : all_chains)
            for (const StepCard* card : column->cards(chain))
                if (QRect(card->mapTo(canvas_, QPoint(0, 0)), card->size()).intersects(band))
                    steps.push_back({card->strand_id(), card->step_id()});
    if (steps.empty()) return;
    anchor_ = steps.front();
    session_.select_several(steps, steps.front());
    focus_selected();
}

bool StrandsView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == canvas_ && draws_band(event)) return true;
    // Names of groups follow once the columns have their places.
    if (watched == canvas_ && (event->type() == QEvent::Resize || event->type() == QEvent::LayoutRequest))
        QMetaObject::invokeMethod(this, &StrandsView::place_bands, Qt::QueuedConnection);
    return QScrollArea::eventFilter(watched, event);
}

/// What no card, header or join takes comes to the canvas, where a band is drawn.
bool StrandsView::draws_band(QEvent* event) {
    const auto* mouse = static_cast<QMouseEvent*>(event);
    if (event->type() == QEvent::MouseButtonPress && mouse->button() == Qt::LeftButton) {
        pressed_ = mouse->pos();
        if (!rubber_) rubber_ = new QRubberBand(QRubberBand::Rectangle, canvas_);
        rubber_->setGeometry(QRect(pressed_, QSize()));
        return true;
    }
    if (!rubber_) return false;
    if (event->type() == QEvent::MouseMove) {
        rubber_->setGeometry(QRect(pressed_, mouse->pos()).normalized());
        rubber_->show();
        rubber_->raise();
        return true;
    }
    if (event->type() != QEvent::MouseButtonRelease) return false;
    const bool drawn = rubber_->isVisible();
    const QRect band = rubber_->geometry();
    rubber_->hide();
    if (drawn) take_in(band, mouse->modifiers() & Qt::ControlModifier);
    return true;
}

void StrandsView::show_drop(const QPoint& global, const StepCard& card) {
    if (!ghost_) {
        ghost_ = new QLabel(viewport());
        ghost_->setAttribute(Qt::WA_TransparentForMouseEvents);
        const std::size_t together = card.selected() ? session_.selected_steps().size() : 1;
        ghost_->setPixmap(stacked(const_cast<StepCard&>(card).grab(), together));
        ghost_->adjustSize();
        ghost_->show();
        mark_ = new QWidget(canvas_);
        mark_->setAttribute(Qt::WA_TransparentForMouseEvents);
        mark_->setAutoFillBackground(true);
        QPalette palette = mark_->palette();
        palette.setColor(QPalette::Window, theme::colours().accent);
        mark_->setPalette(palette);
    }
    ghost_->move(viewport()->mapFromGlobal(global) + QPoint(8, 8));
    ghost_->raise();
    const auto slot = slot_at(global);
    mark_->setVisible(slot.has_value());
    if (!slot) return;
    for (const StrandColumn* column : columns_)
        if (column->strand_id() == slot->strand) mark_->setGeometry(column->slot_mark(*slot).translated(column->pos()));
    mark_->raise();
}

void StrandsView::end_drag() {
    delete ghost_;
    delete mark_;
    ghost_ = nullptr, mark_ = nullptr;
}

}  // namespace loom
