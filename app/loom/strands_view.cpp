// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/strands_view.h"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/loom/strand_column.h"
#include "app/theme/theme.h"

namespace loom {

namespace {

/// Draws the weft where no strand crosses it; the strands' feet draw the rest.
class Canvas : public QWidget {
public:
    using QWidget::QWidget;
    int bottom = 0;  ///< of what can be seen

protected:
    void paintEvent(QPaintEvent*) override {
        const theme::Colours& c = theme::colours();
        QPainter painter(this);
        painter.fillRect(rect(), c.window);
        painter.setRenderHint(QPainter::Antialiasing);
        const int y = bottom - weft_above_bottom;
        painter.setPen(QPen(c.text, 1.8));
        painter.drawLine(8, y, width() - 12, y);
        painter.setBrush(c.text);
        painter.drawPolygon(QPolygonF() << QPointF(width() - 3, y) << QPointF(width() - 12, y - 4.5)
                                        << QPointF(width() - 12, y + 4.5));
    }
};

std::string shape_of(const Recipe& recipe) {
    std::string shape;
    for (const StrandRef& strand : recipe.strands) {
        shape += strand->id + "{";
        for (ChainKind chain : all_chains) {
            for (const Step& step : strand->chain(chain)) shape += step.id + ",";
            shape += ";";
        }
        shape += "}";
    }
    return shape + (theme::scheme() == theme::Scheme::dark ? "dark" : "");
}

}  // namespace

StrandsView::StrandsView(Session& session, QWidget* parent) : QScrollArea(parent), session_(session) {
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    canvas_ = new Canvas(this);
    setWidget(canvas_);
    canvas_->setToolTip(tr("Strands join from left to right into the cloth."));
    for (QScrollBar* bar : {verticalScrollBar(), horizontalScrollBar()})
        connect(bar, &QScrollBar::valueChanged, this, &StrandsView::pin);
    connect(&session_, &Session::recipe_changed, this, &StrandsView::refresh);
    connect(&session_, &Session::selection_changed, this, &StrandsView::show_selection);
    // Columns that were built just now have their places only when the events are through.
    connect(&session_, &Session::selection_changed, this, &StrandsView::reveal_selected, Qt::QueuedConnection);
    refresh();
}

void StrandsView::refresh() {
    const std::string shape = shape_of(session_.recipe());
    if (shape != shape_) {
        shape_ = shape;
        rebuild();
    }
    for (std::size_t k = 0; k < columns_.size(); ++k) columns_[k]->set(*session_.recipe().strands[k], k == 0);
    show_selection();
}

void StrandsView::pin() {
    const int top = verticalScrollBar()->value(), height = viewport()->height();
    static_cast<Canvas*>(canvas_)->bottom = top + height;
    for (StrandColumn* column : columns_) column->pin(top, height);
    canvas_->update();
}

void StrandsView::rebuild() {
    end_drag();
    const bool had_focus = canvas_->isAncestorOf(focusWidget());
    columns_.clear();
    qDeleteAll(canvas_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    delete canvas_->layout();
    auto* row = new QHBoxLayout(canvas_);
    row->setContentsMargins(6, 0, 10, 0);
    row->setSpacing(theme::column_gap);
    for (const StrandRef& strand : session_.recipe().strands) {
        auto* column = new StrandColumn(*strand, columns_.empty(), canvas_);
        columns_.push_back(column);
        row->addWidget(column);
        const std::string id = strand->id;
        connect(column->header(), &StrandHeader::chosen, this, [this, id] { session_.select({id, ""}); });
        connect(column->header(), &StrandHeader::switched, this, [this, id] {
            const Strand* now = session_.recipe().strand(id);
            if (now)
                session_.apply(strand_switched(session_.recipe(), id, !now->on),
                               now->on ? tr("Switch off %1").arg(QString::fromStdString(now->name))
                                       : tr("Switch on %1").arg(QString::fromStdString(now->name)));
        });
        connect(column->header(), &StrandHeader::rename_wanted, this, [this, id] {
            const Strand* now = session_.recipe().strand(id);
            if (!now) return;
            auto* dialog = new QInputDialog(this);
            dialog->setAttribute(Qt::WA_DeleteOnClose);
            dialog->setWindowTitle(tr("Rename strand"));
            dialog->setLabelText(tr("Name"));
            dialog->setTextValue(QString::fromStdString(now->name));
            connect(dialog, &QInputDialog::textValueSelected, this, [this, id](const QString& name) {
                if (!name.trimmed().isEmpty())
                    session_.apply(strand_renamed(session_.recipe(), id, name.trimmed().toStdString()), tr("Rename strand"));
            });
            dialog->open();
        });
        connect(column->join(), &JoinCard::chosen, this, [this, id] { session_.select({id, ""}); });
        connect(column->join(), &JoinCard::changed, this, [this, id](const Join& join, const QString& gesture) {
            const Strand* now = session_.recipe().strand(id);
            if (now)
                session_.apply(with_join(session_.recipe(), id, join), tr("Join of %1").arg(QString::fromStdString(now->name)),
                               gesture);
        });
        connect(column, &StrandColumn::insert_wanted, this, &StrandsView::add_step_wanted);
        for (ChainKind chain : all_chains) {
            connect(column->add_button(chain), &QPushButton::clicked, this, [this, id, chain] {
                const Strand* now = session_.recipe().strand(id);
                if (now) emit add_step_wanted({id, chain, static_cast<int>(now->chain(chain).size())});
            });
            for (StepCard* card : column->cards(chain)) {
                connect(card, &StepCard::chosen, this, [this, card] { session_.select({card->strand_id(), card->step_id()}); });
                connect(card, &StepCard::dragged, this, [this, card](const QPoint& place) { show_drop(place, *card); });
                connect(card, &StepCard::drag_given_up, this, &StrandsView::end_drag);
                connect(card, &StepCard::menu_wanted, this, [this](const QPoint& place) {
                    if (card_menu_) card_menu_->popup(place);
                });
                connect(card, &StepCard::dropped, this, [this, card](const QPoint& place) {
                    end_drag();
                    const auto slot = slot_at(place);
                    const Strand* strand_now = session_.recipe().strand(card->strand_id());
                    const Step* step = strand_now ? strand_now->step(card->step_id()) : nullptr;
                    if (slot && step)
                        session_.apply(step_moved(session_.recipe(), card->strand_id(), card->step_id(), *slot),
                                       tr("Move %1").arg(QString::fromStdString(step_title(*step))));
                });
            }
        }
    }
    auto* add_strand = new QPushButton(tr("+ strand"), canvas_);
    add_strand->setAccessibleName(tr("Add a strand"));
    add_strand->setToolTip(tr("Adds a strand on the right"));
    connect(add_strand, &QPushButton::clicked, this, &StrandsView::add_strand_wanted);
    row->addSpacing(6);
    add_strand->setFixedHeight(27);
    auto* side = new QVBoxLayout;
    side->setContentsMargins(0, 9, 0, 0);
    side->addWidget(add_strand, 0, Qt::AlignTop);
    row->addLayout(side);
    row->addStretch(1);
    if (had_focus)
        if (StepCard* chosen = card(session_.selection().strand, session_.selection().step)) chosen->setFocus();
    show_cards(pictures_);
    pin();
}

void StrandsView::show_selection() {
    const Selection& selection = session_.selection();
    for (std::size_t k = 0; k < columns_.size() && k < session_.recipe().strands.size(); ++k) {
        const bool own = columns_[k]->strand_id() == selection.strand;
        const Strand& strand = *session_.recipe().strands[k];
        columns_[k]->header()->set(QString::fromStdString(strand.name), strand.on, own);
        columns_[k]->set_selection(own, own ? selection.step : std::string());
    }
}

void StrandsView::reveal_selected() {
    StepCard* chosen = card(session_.selection().strand, session_.selection().step);
    if (!chosen) return;
    // New columns widen the canvas, and with it the scroll bars' range, only later by themselves.
    canvas_->layout()->activate();
    canvas_->resize(viewport()->size().expandedTo(canvas_->minimumSizeHint()));
    // The strips at top and foot hide what lies under them.
    ensureWidgetVisible(chosen, 12, 0);
    const int y = chosen->mapTo(canvas_, QPoint(0, 0)).y(), top = verticalScrollBar()->value();
    if (y < top + header_strip)
        verticalScrollBar()->setValue(y - header_strip);
    else if (y + chosen->height() > top + viewport()->height() - foot_strip)
        verticalScrollBar()->setValue(y + chosen->height() + theme::gap + foot_strip - viewport()->height());
}

void StrandsView::focus_selected() {
    if (StepCard* chosen = card(session_.selection().strand, session_.selection().step)) chosen->setFocus(Qt::OtherFocusReason);
}

void StrandsView::show_cards(const CardPictures& cards) {
    pictures_ = cards;
    for (const auto& [where, picture] : cards)
        if (StepCard* found = card(where.first, where.second)) found->set_picture(picture);
}

StepCard* StrandsView::card(const std::string& strand, const std::string& step) const {
    for (StrandColumn* column : columns_) {
        if (column->strand_id() != strand) continue;
        for (ChainKind chain : all_chains)
            for (StepCard* each : column->cards(chain))
                if (each->step_id() == step) return each;
    }
    return nullptr;
}

JoinCard* StrandsView::join(const std::string& strand) const {
    for (StrandColumn* column : columns_)
        if (column->strand_id() == strand) return column->join();
    return nullptr;
}

QPushButton* StrandsView::add_button(const std::string& strand, ChainKind chain) const {
    for (StrandColumn* column : columns_)
        if (column->strand_id() == strand) return column->add_button(chain);
    return nullptr;
}

std::optional<Slot> StrandsView::slot_at(const QPoint& global) const {
    for (const StrandColumn* column : columns_) {
        const QPoint place = column->mapFromGlobal(global);
        if (place.x() >= 0 && place.x() < column->width() && place.y() > -20 && place.y() < column->height() + 20)
            return column->slot_at(place);
    }
    return std::nullopt;
}

QRect StrandsView::strand_place(const std::string& strand) const {
    const QRect all(viewport()->mapToGlobal(QPoint(0, 0)), viewport()->size());
    for (const StrandColumn* column : columns_)
        if (column->strand_id() == strand) return QRect(column->mapToGlobal(QPoint(0, 0)), column->size()).intersected(all);
    return all;
}

void StrandsView::show_drop(const QPoint& global, const StepCard& card) {
    if (!ghost_) {
        ghost_ = new QLabel(viewport());
        ghost_->setAttribute(Qt::WA_TransparentForMouseEvents);
        ghost_->setPixmap(const_cast<StepCard&>(card).grab());
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

void StrandsView::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    pin();
}

}  // namespace loom
