// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/strands_view.h"

#include <QLayout>
#include <QPainter>
#include <QPushButton>
#include <QScrollBar>

#include "app/loom/strand_column.h"
#include "app/loom/strand_groups.h"
#include "app/theme/theme.h"
#include "core/recipe/groups.h"

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
        shape += strand->id + "{" + (strand->folded ? "folded" : "") + strand->group.name + (strand->group.folded ? "-" : "+");
        // A folded one shows its name and whether it is on from the start.
        if (strand->folded || strand->group.folded) shape += strand->name + (strand->on ? "on" : "off");
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
    canvas_->installEventFilter(this);
    canvas_->setToolTip(tr("Strands join from left to right into the cloth."));
    build_rail();
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
    for (StrandColumn* column : columns_)
        column->set(*session_.recipe().strand(column->strand_id()), session_.recipe().index_of(column->strand_id()) == 0);
    show_selection();
}

void StrandsView::pin() {
    const int top = verticalScrollBar()->value(), height = viewport()->height();
    static_cast<Canvas*>(canvas_)->bottom = top + height;
    for (StrandColumn* column : columns_) column->pin(top, height);
    for (FoldedStrands* each : folded_) each->pin(top, height);
    place_bands();
    follow_view();
    canvas_->update();
}

void StrandsView::show_selection() {
    const Selection& selection = session_.selection();
    for (StrandColumn* column : columns_) {
        const Strand* strand = session_.recipe().strand(column->strand_id());
        const bool own = column->strand_id() == selection.strand;
        if (strand) column->header()->set(QString::fromStdString(strand->name), strand->on, own);
        column->set_selection(own, session_.selected_steps(), selection);
    }
    const FoldedStrands* chosen = folded(selection.strand);
    for (FoldedStrands* each : folded_) each->set_selected(each == chosen);
    follow_view();
}

void StrandsView::reveal_selected() {
    if (StepCard* chosen = card(session_.selection().strand, session_.selection().step)) reveal(chosen);
}

void StrandsView::reveal(const QWidget* widget) {
    // New columns widen the canvas, and with it the scroll bars' range, only later by themselves.
    canvas_->layout()->activate();
    canvas_->resize(viewport()->size().expandedTo(canvas_->minimumSizeHint()));
    ensureWidgetVisible(const_cast<QWidget*>(widget), 12, 0);
    // The strips at top and foot hide what lies under them; what lies on them is always seen.
    for (const QWidget* each = widget; each && each != canvas_; each = each->parentWidget())
        if (each->property("pinned").toBool()) return;
    const int y = widget->mapTo(canvas_, QPoint(0, 0)).y(), top = verticalScrollBar()->value();
    const int above = header_strip + (bands_.empty() ? 0 : group_strip);
    if (y < top + above)
        verticalScrollBar()->setValue(y - above);
    else if (y + widget->height() > top + viewport()->height() - foot_strip)
        verticalScrollBar()->setValue(y + widget->height() + theme::gap + foot_strip - viewport()->height());
}

void StrandsView::focus_selected() {
    if (StepCard* chosen = card(session_.selection().strand, session_.selection().step)) chosen->setFocus(Qt::OtherFocusReason);
}

void StrandsView::show_cards(const CardPictures& cards) {
    pictures_ = cards;
    for (const auto& [where, picture] : cards)
        if (StepCard* found = card(where.first, where.second)) found->set_picture(picture);
    follow_view();
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

FoldedStrands* StrandsView::folded(const std::string& strand) const {
    const auto run = run_of(session_.recipe(), strand);
    if (!run) return nullptr;
    const std::string& first = session_.recipe().strands[static_cast<std::size_t>(run->first)]->id;
    for (FoldedStrands* each : folded_)
        if (each->strand_id() == strand || (each->of_group() && each->strand_id() == first)) return each;
    return nullptr;
}

GroupBand* StrandsView::group_band(const std::string& strand) const {
    const auto run = run_of(session_.recipe(), strand);
    for (GroupBand* band : bands_)
        if (run && run_of(session_.recipe(), band->strand_id()) == run) return band;
    return nullptr;
}

bool StrandsView::focusNextPrevChild(bool next) {
    if (!QScrollArea::focusNextPrevChild(next)) return false;
    if (const QWidget* now = focusWidget(); now && canvas_->isAncestorOf(now)) reveal(now);
    return true;
}

void StrandsView::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    pin();
}

}  // namespace loom
