// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Builds the columns of the strands, and connects what they ask for with the session.
#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

#include "app/loom/strand_column.h"
#include "app/loom/strand_groups.h"
#include "app/loom/strands_view.h"
#include "app/theme/theme.h"
#include "app/widgets/name_dialog.h"
#include "app/widgets/tab_order.h"
#include "core/recipe/groups.h"

namespace loom {

void StrandsView::rebuild() {
    end_drag();
    const bool had_focus = canvas_->isAncestorOf(focusWidget());
    columns_.clear(), folded_.clear(), bands_.clear();
    rubber_ = nullptr;
    qDeleteAll(canvas_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    delete canvas_->layout();
    auto* row = new QHBoxLayout(canvas_);
    row->setContentsMargins(6, 0, 10, 0);
    row->setSpacing(theme::column_gap);
    const Recipe& recipe = session_.recipe();
    const std::vector<Run> all = runs(recipe);
    const auto first_of = [&](const Run& run) -> const Strand& { return *recipe.strands[static_cast<std::size_t>(run.first)]; };
    const auto is_open = [&](const Run& run) { return !first_of(run).group.name.empty() && !first_of(run).group.folded; };
    const int above = std::any_of(all.begin(), all.end(), is_open) ? group_strip : 0;
    for (const Run& run : all) {
        if (!first_of(run).group.name.empty() && first_of(run).group.folded) {
            add_folded(first_of(run), run.count());
            continue;
        }
        for (int index = run.first; index <= run.last; ++index) {
            const Strand& strand = *recipe.strands[static_cast<std::size_t>(index)];
            if (strand.folded)
                add_folded(strand, 0);
            else
                add_column(strand, index == 0, above);
        }
        if (!is_open(run)) continue;
        const std::string id = first_of(run).id;
        auto* band = new GroupBand(id, QString::fromStdString(first_of(run).group.name), canvas_);
        bands_.push_back(band);
        // No layout shows it, as one would the columns.
        band->show();
        connect(band, &GroupBand::fold_wanted, this,
                [this, id] { session_.apply(group_folded(session_.recipe(), id, true), tr("Fold group")); });
        connect(band, &GroupBand::rename_wanted, this, [this, id] { rename_group(id); });
    }
    row->addStretch(1);
    QWidget* last = canvas_;
    for (int k = 0; k < row->count(); ++k)
        if (auto* column = row->itemAt(k)->widget()) {
            auto* strand = qobject_cast<StrandColumn*>(column);
            last = strand ? strand->tab_from(last) : tab_through(last, column);
        }
    for (GroupBand* band : bands_) last = tab_through(last, band);
    for (QWidget* each : std::initializer_list<QWidget*>{to_left_, to_right_, add_strand_}) last = tab_through(last, each);
    if (had_focus) focus_selected();
    show_cards(pictures_);
    pin();
}

void StrandsView::add_column(const Strand& strand, bool first, int above) {
    auto* column = new StrandColumn(strand, first, above, canvas_);
    columns_.push_back(column);
    canvas_->layout()->addWidget(column);
    const std::string id = strand.id;
    connect(column->header(), &StrandHeader::chosen, this, [this, id] { session_.select({id, ""}); });
    connect(column->header(), &StrandHeader::menu_wanted, this, [this](const QPoint& place) {
        if (strand_menu_) strand_menu_->popup(place);
    });
    connect(column->header(), &StrandHeader::switched, this, [this, id] {
        const Strand* now = session_.recipe().strand(id);
        if (now)
            session_.apply(strand_switched(session_.recipe(), id, !now->on),
                           now->on ? tr("Switch off %1").arg(QString::fromStdString(now->name))
                                   : tr("Switch on %1").arg(QString::fromStdString(now->name)));
    });
    connect(column->header(), &StrandHeader::rename_wanted, this, [this, id] {
        session_.select({id, ""});
        emit rename_wanted();
    });
    connect(column->join(), &JoinCard::chosen, this, [this, id] { session_.select({id, ""}); });
    connect(column->join(), &JoinCard::menu_wanted, this, [this](const QPoint& place) {
        if (strand_menu_) strand_menu_->popup(place);
    });
    connect(column->join()->blend_box(), &BlendBox::pictures_wanted, this, [this, id] { emit blends_wanted(id); });
    connect(column->join(), &JoinCard::changed, this, [this, id](const Join& join, const QString& gesture) {
        const Strand* now = session_.recipe().strand(id);
        if (now)
            session_.apply(with_join(session_.recipe(), id, join), tr("Join of %1").arg(QString::fromStdString(now->name)),
                           {gesture, QString::fromStdString(id)});
    });
    connect(column, &StrandColumn::insert_wanted, this, &StrandsView::add_step_wanted);
    for (ChainKind chain : all_chains) {
        connect(column->add_button(chain), &QPushButton::clicked, this, [this, id, chain] {
            const Strand* now = session_.recipe().strand(id);
            if (now) emit add_step_wanted({id, chain, static_cast<int>(now->chain(chain).size())});
        });
        for (StepCard* card : column->cards(chain)) connect_card(card);
    }
}

void StrandsView::connect_card(StepCard* card) {
    connect(card, &StepCard::chosen, this, [this, card](Qt::KeyboardModifiers with) { choose(*card, with); });
    connect(card, &StepCard::extended, this, [this, card](int way) { extend(*card, way); });
    connect(card, &StepCard::dragged, this, [this, card](const QPoint& place) { show_drop(place, *card); });
    connect(card, &StepCard::drag_given_up, this, &StrandsView::end_drag);
    connect(card, &StepCard::dropped, this, [this, card](const QPoint& place) { drop(*card, place); });
    connect(card, &StepCard::menu_wanted, this, [this](const QPoint& place) {
        if (card_menu_) card_menu_->popup(place);
    });
}

void StrandsView::add_folded(const Strand& strand, int group_count) {
    const std::string id = strand.id;
    // A group is on while anything of it is.
    bool on = strand.on;
    if (const auto run = run_of(session_.recipe(), id); run && group_count > 0)
        for (int index = run->first; index <= run->last; ++index)
            on = on || session_.recipe().strands[static_cast<std::size_t>(index)]->on;
    auto* folded = new FoldedStrands(id, QString::fromStdString(group_count > 0 ? strand.group.name : strand.name), group_count,
                                     on, canvas_);
    folded_.push_back(folded);
    canvas_->layout()->addWidget(folded);
    connect(folded, &FoldedStrands::chosen, this, [this, id] { session_.select({id, ""}); });
    connect(folded, &FoldedStrands::menu_wanted, this, [this](const QPoint& place) {
        if (strand_menu_) strand_menu_->popup(place);
    });
    connect(folded, &FoldedStrands::unfold_wanted, this, [this, id, group_count] {
        if (group_count > 0)
            session_.apply(group_folded(session_.recipe(), id, false), tr("Unfold group"));
        else
            session_.apply(strand_folded(session_.recipe(), id, false), tr("Unfold strand"));
    });
}

void StrandsView::rename_group(const std::string& strand) {
    const Strand* now = session_.recipe().strand(strand);
    if (!now || now->group.name.empty()) return;
    ask_name(this, tr("Rename group"), tr("Name"), QString::fromStdString(now->group.name), [this, strand](const QString& name) {
        if (!name.isEmpty()) session_.apply(group_renamed(session_.recipe(), strand, name.toStdString()), tr("Rename group"));
    });
}

}  // namespace loom
