// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What stays in sight while the strands are scrolled: names of groups, one more strand, how many lie beyond, all of them small.
#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollBar>
#include <QToolButton>

#include "app/loom/strand_column.h"
#include "app/loom/strand_groups.h"
#include "app/loom/strands_overview.h"
#include "app/loom/strands_view.h"
#include "app/theme/theme.h"
#include "core/recipe/groups.h"

namespace loom {

namespace {
constexpr int rail_height = 34;
constexpr std::size_t most_without_overview = 5;
}  // namespace

void StrandsView::build_rail() {
    rail_ = new QWidget(this);
    rail_->setAutoFillBackground(true);
    add_strand_ = new QPushButton(tr("+ strand"), rail_);
    add_strand_->setAccessibleName(tr("Add a strand"));
    add_strand_->setToolTip(tr("Adds a strand on the right"));
    add_strand_->setFixedHeight(24);
    add_strand_->setStyleSheet("QPushButton { padding: 2px 4px; } QPushButton:focus { padding: 1px 3px; }");
    connect(add_strand_, &QPushButton::clicked, this, &StrandsView::add_strand_wanted);
    const auto arrow = [this](int way) {
        auto* made = new QToolButton(rail_);
        made->setFocusPolicy(Qt::StrongFocus);
        connect(made, &QToolButton::clicked, this,
                [this, way] { horizontalScrollBar()->setValue(horizontalScrollBar()->value() + way * theme::card_width); });
        return made;
    };
    to_left_ = arrow(-1), to_right_ = arrow(1);
    overview_ = new StrandsOverview(rail_);
    auto* line = new QHBoxLayout(rail_);
    line->setContentsMargins(2, 1, 14, 1);
    line->setSpacing(4);
    line->addWidget(overview_, 20);
    line->addStretch(1);
    line->addWidget(to_left_);
    line->addWidget(to_right_);
    line->addWidget(add_strand_);
    connect(overview_, &StrandsOverview::wanted, this, [this](const std::string& strand) {
        session_.select({strand, ""});
        bring_into_view(strand);
    });
}

QRect StrandsView::place_on_canvas(const std::string& strand) const {
    for (const StrandColumn* column : columns_)
        if (column->strand_id() == strand) return column->geometry();
    const FoldedStrands* narrow = folded(strand);
    return narrow ? narrow->geometry() : QRect();
}

void StrandsView::bring_into_view(const std::string& strand) {
    // New columns widen the canvas, and with it the scroll bar's range, only later by themselves.
    canvas_->layout()->activate();
    canvas_->resize(viewport()->size().expandedTo(canvas_->minimumSizeHint()));
    const QRect place = place_on_canvas(strand);
    if (place.isValid()) ensureVisible(place.center().x(), verticalScrollBar()->value(), place.width(), 0);
}

std::pair<int, int> StrandsView::beyond() const {
    const int left = horizontalScrollBar()->value(), right = left + viewport()->width();
    int before = 0, after = 0;
    for (const StrandRef& strand : session_.recipe().strands) {
        // More than half of it is out of sight.
        const int middle = place_on_canvas(strand->id).center().x();
        before += middle<left, after += middle> right;
    }
    return {before, after};
}

void StrandsView::follow_view() {
    const auto& strands = session_.recipe().strands;
    const bool many = strands.size() > most_without_overview;
    if (viewportMargins() != QMargins(0, rail_height, 0, 0)) setViewportMargins(0, rail_height, 0, 0);
    rail_->setGeometry(0, 0, width(), rail_height);
    overview_->setVisible(many);
    // In the colour that the theme has now.
    if (QPalette ground = rail_->palette(); ground.color(QPalette::Window) != theme::colours().window) {
        ground.setColor(QPalette::Window, theme::colours().window);
        rail_->setPalette(ground);
    }
    canvas_->layout()->activate();
    const auto [before, after] = beyond();
    to_left_->setVisible(before > 0);
    to_left_->setText(QString::fromUtf8("‹ %1").arg(before));
    to_left_->setAccessibleName(tr("%1 to the left").arg(before));
    to_left_->setToolTip(tr("%1 more to the left").arg(before));
    to_right_->setVisible(after > 0);
    to_right_->setText(QString::fromUtf8("%1 ›").arg(after));
    to_right_->setAccessibleName(tr("%1 to the right").arg(after));
    to_right_->setToolTip(tr("%1 more to the right").arg(after));
    if (!many) return;
    const int left = horizontalScrollBar()->value(), right = left + viewport()->width();
    std::vector<StrandsOverview::Cell> cells;
    for (const StrandRef& strand : strands) {
        StrandsOverview::Cell cell;
        cell.strand = strand->id, cell.name = QString::fromStdString(strand->name), cell.on = strand->on;
        cell.selected = strand->id == session_.selection().strand;
        if (!strand->steps.empty())
            if (const auto found = pictures_.find({strand->id, strand->steps.back().id}); found != pictures_.end())
                cell.picture = found->second.image;
        const int middle = place_on_canvas(strand->id).center().x();
        cell.in_view = middle >= left && middle <= right;
        cells.push_back(std::move(cell));
    }
    overview_->set_cells(std::move(cells));
}

/// Names of groups stay at the top of what can be seen, each over all of its strands.
void StrandsView::place_bands() {
    if (bands_.empty()) return;
    canvas_->layout()->activate();
    for (GroupBand* band : bands_) {
        const auto run = run_of(session_.recipe(), band->strand_id());
        if (!run) continue;
        const auto id = [&](int index) { return session_.recipe().strands[static_cast<std::size_t>(index)]->id; };
        const QRect all = place_on_canvas(id(run->first)).united(place_on_canvas(id(run->last)));
        band->setGeometry(all.left() + 2, verticalScrollBar()->value() + 2, all.width() - 4, group_strip);
        band->raise();
    }
}

}  // namespace loom
