// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/loom_view.h"

#include <QInputDialog>
#include <QPushButton>
#include <QSplitter>
#include <QVBoxLayout>
#include <algorithm>

#include "app/loom/cloth_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/remedy_bar.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/widgets/text.h"
#include "core/catalogue/description.h"

namespace loom {

LoomView::LoomView(Session& session, RenderService& service, QWidget* parent)
    : Page(parent), session_(session), service_(service), handles_(session) {
    strands_ = new StrandsView(session, this);
    cloth_ = new ClothView(this);
    desk_ = new TuningDesk(session, this);
    measures_ = new MeasuresBar(this);
    desk_->setMinimumHeight(150);
    upright_ = new QSplitter(Qt::Vertical, this);
    upright_->addWidget(cloth_);
    upright_->addWidget(desk_);
    upright_->setStretchFactor(0, 1);
    upright_->setSizes({400, 290});
    upright_->setHandleWidth(1);
    upright_->setChildrenCollapsible(false);
    auto* right = new QWidget(this);
    auto* stack = new QVBoxLayout(right);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(0);
    stack->addWidget(upright_, 1);
    remedy_ = new RemedyBar(session, right);
    stack->addWidget(remedy_);
    stack->addWidget(measures_);
    across_ = new QSplitter(Qt::Horizontal, this);
    across_->addWidget(strands_);
    across_->addWidget(right);
    across_->setStretchFactor(1, 1);
    across_->setSizes({596, 684});
    across_->setHandleWidth(1);
    across_->setChildrenCollapsible(false);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(across_);

    cloth_->canvas()->set_handles(&handles_);
    connect(&session_, &Session::selection_changed, cloth_->canvas(), qOverload<>(&QWidget::update));
    connect(&session_, &Session::recipe_changed, this, &LoomView::render);
    connect(&service_, &RenderService::cloth_ready, this, [this](const ClothPicture& picture) {
        if (picture.document != session_.document()) return;
        if (!picture.before || picture.ticket == ticket_) cloth_->show_picture(picture);
    });
    connect(&service_, &RenderService::cards_ready, this, [this](const CardPictures& cards, quint64 ticket) {
        if (ticket != ticket_) return;
        strands_->show_cards(cards);
        desk_->show_cards(cards);
        remedy_->show_cards(cards);
    });
    connect(&service_, &RenderService::measures_ready, this, [this](const Measures& measures, quint64 ticket) {
        if (ticket == ticket_) measures_->show_measures(measures);
    });
    connect(&service_, &RenderService::busy_changed, cloth_, &ClothView::show_busy);
    connect(strands_, &StrandsView::add_step_wanted, this,
            [this](const Slot& slot, const QPoint& place) { open_finder(slot, place); });
    connect(strands_, &StrandsView::add_strand_wanted, this, &LoomView::add_strand);
    render();
}

void LoomView::render() {
    cloth_->set_tile(session_.recipe().tile.size());
    measures_->set_stale(true);
    ticket_ = service_.submit(session_.recipe(), session_.document());
}

StepFinder* LoomView::open_finder(const Slot& slot, const QPoint& place) {
    auto* finder = new StepFinder(session_.recipe(), slot, this);
    connect(finder, &StepFinder::chosen, this, [this, slot](const QString& kind) { put_step(slot, kind); });
    const QRect within(window()->mapToGlobal(QPoint(0, 0)), window()->size());
    finder->open_at(place, within);
    return finder;
}

void LoomView::put_step(const Slot& slot, const QString& kind) {
    const StepDescription* description = find_step(kind.toStdString());
    if (!session_.recipe().strand(slot.strand) || !description) return;
    std::string id;
    if (session_.apply(with_new_step(session_.recipe(), slot, *description, id), tr("Add %1").arg(qt(description->title))))
        session_.select({slot.strand, id});
}

void LoomView::add_step() {
    const Selection& selection = session_.selection();
    const Strand* strand = session_.selected_strand();
    if (!strand && !session_.recipe().strands.empty()) strand = session_.recipe().strands.back().get();
    if (!strand) return add_strand();
    Slot slot{strand->id, ChainKind::steps, static_cast<int>(strand->steps.size())};
    if (const auto present = slot_of(session_.recipe(), strand->id, selection.step))
        slot = {strand->id, present->chain, present->index + 1};
    const QPushButton* button = strands_->add_button(strand->id, slot.chain);
    open_finder(slot, button ? button->mapToGlobal(QPoint(0, button->height() + 4)) : mapToGlobal(QPoint(40, 80)));
}

void LoomView::add_strand() {
    Strand strand;
    strand.name = tr("Strand %1").arg(session_.recipe().strands.size() + 1).toStdString();
    strand.id = new_strand_id(session_.recipe(), strand.name);
    const std::string id = strand.id;
    if (!session_.apply(strand_added(session_.recipe(), std::move(strand), static_cast<int>(session_.recipe().strands.size())),
                        tr("Add strand")))
        return;
    session_.select({id, ""});
    // An empty strand wants its first step.
    add_step();
}

void LoomView::duplicate_selected() {
    const Selection selection = session_.selection();
    if (const Step* step = session_.selected_step()) {
        const auto slot = slot_of(session_.recipe(), selection.strand, selection.step);
        const QString text = tr("Duplicate %1").arg(QString::fromStdString(step_title(*step)));
        if (session_.apply(step_duplicated(session_.recipe(), selection.strand, selection.step), text))
            session_.select(
                {selection.strand, session_.selected_strand()->chain(slot->chain)[static_cast<std::size_t>(slot->index + 1)].id});
    } else if (session_.selected_strand()) {
        const int index = session_.recipe().index_of(selection.strand);
        if (session_.apply(strand_duplicated(session_.recipe(), selection.strand), tr("Duplicate strand")))
            session_.select({session_.recipe().strands[static_cast<std::size_t>(index + 1)]->id, ""});
    }
}

void LoomView::remove_selected() {
    const Selection selection = session_.selection();
    if (const Step* step = session_.selected_step()) {
        const auto slot = slot_of(session_.recipe(), selection.strand, selection.step);
        if (!session_.apply(step_removed(session_.recipe(), selection.strand, selection.step),
                            tr("Remove %1").arg(QString::fromStdString(step_title(*step)))))
            return;
        // The selection stays near, so that the keyboard can go on.
        const Chain& chain = session_.recipe().strand(selection.strand)->chain(slot->chain);
        const int near = std::min(slot->index, static_cast<int>(chain.size()) - 1);
        session_.select({selection.strand, near >= 0 ? chain[static_cast<std::size_t>(near)].id : std::string()});
    } else if (session_.selected_strand()) {
        session_.apply(strand_removed(session_.recipe(), selection.strand), tr("Remove strand"));
    }
}

void LoomView::rename_selected() {
    const Selection selection = session_.selection();
    const Strand* strand = session_.selected_strand();
    const Step* step = session_.selected_step();
    auto* dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(step ? tr("Rename step") : strand ? tr("Rename strand") : tr("Rename recipe"));
    dialog->setLabelText(step ? tr("Name (empty: the step's own title)") : tr("Name"));
    dialog->setTextValue(QString::fromStdString(step ? step_title(*step) : strand ? strand->name : session_.recipe().name));
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this, selection, title = dialog->windowTitle()](const QString& text) {
                const std::string name = text.trimmed().toStdString();
                const Step* now = session_.recipe().step({selection.strand, selection.step, ""});
                if (now) {
                    const StepDescription* description = find_step(now->kind);
                    session_.apply(step_renamed(session_.recipe(), selection.strand, selection.step,
                                                description && name == description->title ? std::string() : name),
                                   title);
                } else if (!name.empty()) {
                    session_.apply(selection.strand.empty() ? renamed(session_.recipe(), name)
                                                            : strand_renamed(session_.recipe(), selection.strand, name),
                                   title);
                }
            });
    dialog->open();
}

void LoomView::bypass_selected() {
    const Selection& selection = session_.selection();
    if (const Step* step = session_.selected_step())
        session_.set_value({selection.strand, selection.step, "on"}, Value(!step->on));
    else if (const Strand* strand = session_.selected_strand())
        session_.apply(strand_switched(session_.recipe(), selection.strand, !strand->on),
                       strand->on ? tr("Switch off strand") : tr("Switch on strand"));
}

void LoomView::move_selected(int way, int side) {
    const Selection selection = session_.selection();
    const Step* step = session_.selected_step();
    const int index = session_.recipe().index_of(selection.strand);
    if (index < 0) return;
    const int beside = index + side;
    if (!step) {
        if (side != 0 && beside >= 0 && beside < static_cast<int>(session_.recipe().strands.size()))
            session_.apply(strand_moved(session_.recipe(), selection.strand, beside), tr("Move strand"));
        return;
    }
    const auto from = slot_of(session_.recipe(), selection.strand, selection.step);
    Slot to = *from;
    const QString text = tr("Move %1").arg(QString::fromStdString(step_title(*step)));
    if (side == 0) {
        // One further down means past the next card.
        to.index = way < 0 ? from->index - 1 : from->index + 2;
        if (to.index < 0) return;
        session_.apply(step_moved(session_.recipe(), selection.strand, selection.step, to), text);
        return;
    }
    if (beside < 0 || beside >= static_cast<int>(session_.recipe().strands.size())) return;
    to.strand = session_.recipe().strands[static_cast<std::size_t>(beside)]->id;
    const std::size_t room = session_.recipe().strands[static_cast<std::size_t>(beside)]->chain(to.chain).size();
    to.index = std::min(to.index, static_cast<int>(room));
    const auto next = step_moved(session_.recipe(), selection.strand, selection.step, to);
    const std::string id = next.strand(to.strand)->chain(to.chain)[static_cast<std::size_t>(to.index)].id;
    if (session_.apply(next, text)) session_.select({to.strand, id});
}

void LoomView::set_before(bool on) {
    cloth_->canvas()->set_before(on);
    if (!on) return;
    const Selection& selection = session_.selection();
    Recipe without = session_.recipe();
    if (session_.selected_step())
        without = with_value(std::move(without), {selection.strand, selection.step, "on"}, Value(false));
    else
        without = strand_switched(std::move(without), selection.strand, false);
    service_.submit_before(std::move(without), session_.document());
}

}  // namespace loom
