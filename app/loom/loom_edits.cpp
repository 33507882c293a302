// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the loom does to what is selected: a strand, a step or several.
#include <QClipboard>
#include <QFileInfo>
#include <QGuiApplication>
#include <algorithm>

#include "app/loom/loom_view.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/widgets/name_dialog.h"
#include "app/widgets/text.h"
#include "core/catalogue/description.h"
#include "core/recipe/clip.h"
#include "core/recipe/groups.h"
#include "core/recipe/references.h"

namespace loom {

/// "Remove Levels" or "Remove 3 steps".
QString LoomView::about_selected(const QString& one, const QString& many) const {
    const int count = static_cast<int>(session_.selected_steps().size());
    return count > 1 ? many.arg(count) : one.arg(QString::fromStdString(step_title(*session_.selected_step())));
}

void LoomView::duplicate_selected() {
    const Selection selection = session_.selection();
    const Recipe& recipe = session_.recipe();
    if (session_.selected_step()) {
        StepPlaces copies;
        if (session_.apply(steps_duplicated(recipe, session_.selected_steps(), copies),
                           about_selected(tr("Duplicate %1"), tr("Duplicate %1 steps"))))
            session_.select_several(copies, copies.front());
    } else if (session_.selected_strand()) {
        const int index = recipe.index_of(selection.strand);
        if (session_.apply(strand_duplicated(recipe, selection.strand), tr("Duplicate strand")))
            session_.select({session_.recipe().strands[static_cast<std::size_t>(index + 1)]->id, ""});
    }
}

void LoomView::remove_selected() {
    const Selection selection = session_.selection();
    if (session_.selected_step()) {
        const StepPlace first = session_.selected_steps().front();
        const auto slot = slot_of(session_.recipe(), first.strand, first.step);
        if (!session_.apply(steps_removed(session_.recipe(), session_.selected_steps()),
                            about_selected(tr("Remove %1"), tr("Remove %1 steps"))))
            return;
        // The selection stays near, so that the keyboard can go on.
        const Chain& chain = session_.recipe().strand(slot->strand)->chain(slot->chain);
        const int near = std::min(slot->index, static_cast<int>(chain.size()) - 1);
        session_.select({slot->strand, near >= 0 ? chain[static_cast<std::size_t>(near)].id : std::string()});
    } else if (session_.selected_strand()) {
        const QString name = QString::fromStdString(session_.selected_strand()->name);
        QStringList readers;
        for (const std::string& each : readers_of(session_.recipe(), selection.strand)) readers << QString::fromStdString(each);
        if (session_.apply(strand_removed(session_.recipe(), selection.strand), tr("Remove strand")) && !readers.isEmpty())
            emit strand_missed(name, readers);
    }
}

void LoomView::bypass_selected() {
    const Selection& selection = session_.selection();
    const StepPlaces& steps = session_.selected_steps();
    if (const Step* step = session_.selected_step()) {
        if (steps.size() == 1) {
            session_.set_value({selection.strand, selection.step, "on"}, Value(!step->on));
            return;
        }
        session_.apply(steps_switched(session_.recipe(), steps, !step->on),
                       (step->on ? tr("Bypass %1 steps") : tr("Switch on %1 steps")).arg(steps.size()));
    } else if (const Strand* strand = session_.selected_strand()) {
        session_.apply(strand_switched(session_.recipe(), selection.strand, !strand->on),
                       strand->on ? tr("Switch off strand") : tr("Switch on strand"));
    }
}

void LoomView::move_selected(int way, int side) {
    const Selection selection = session_.selection();
    const Recipe& recipe = session_.recipe();
    if (!session_.selected_step()) {
        if (side != 0) session_.apply(strand_shifted(recipe, selection.strand, side), tr("Move strand"));
        return;
    }
    const StepPlaces steps = session_.selected_steps();
    const QString text = about_selected(tr("Move %1"), tr("Move %1 steps"));
    StepPlaces moved = steps;
    const auto lead = std::find(steps.begin(), steps.end(), selection) - steps.begin();
    Recipe next = side == 0 ? steps_shifted(recipe, steps, way) : steps_shifted_across(recipe, steps, side, moved);
    if (moved.size() != steps.size() || !session_.apply(std::move(next), text)) return;
    session_.select_several(moved, moved[static_cast<std::size_t>(lead)]);
}

void LoomView::copy_selected() {
    if (!session_.selected_strand()) return;
    const Recipe& recipe = session_.recipe();
    const std::string text = session_.selected_step() ? clip_of_steps(recipe, session_.selected_steps())
                                                      : clip_of_strands(recipe, {session_.selection().strand});
    QGuiApplication::clipboard()->setText(QString::fromStdString(text));
}

void LoomView::select_chain() {
    const auto slot = slot_of(session_.recipe(), session_.selection().strand, session_.selection().step);
    if (!slot) return;
    const Chain& chain = session_.recipe().strand(slot->strand)->chain(slot->chain);
    session_.select_several(between(session_.recipe(), {slot->strand, chain.front().id}, {slot->strand, chain.back().id}),
                            session_.selection());
}

void LoomView::fold_selected() {
    if (const Strand* strand = session_.selected_strand())
        session_.apply(strand_folded(session_.recipe(), strand->id, !strand->folded),
                       strand->folded ? tr("Unfold strand") : tr("Fold strand"));
}

void LoomView::fold_group() {
    if (const Strand* strand = session_.selected_strand())
        session_.apply(group_folded(session_.recipe(), strand->id, !strand->group.folded),
                       strand->group.folded ? tr("Unfold group") : tr("Fold group"));
}

void LoomView::group_with_next() {
    const Strand* strand = session_.selected_strand();
    if (!strand) return;
    const std::string name =
        strand->group.name.empty() ? new_group_name(session_.recipe(), tr("Group").toStdString()) : strand->group.name;
    session_.apply(grouped_with_next(session_.recipe(), strand->id, name), tr("Group strands"));
}

void LoomView::dissolve_group() {
    if (const Strand* strand = session_.selected_strand())
        session_.apply(group_dissolved(session_.recipe(), strand->id), tr("Dissolve group"));
}

void LoomView::put_step(const Slot& slot, const QString& kind) {
    const StepDescription* description = find_step(kind.toStdString());
    if (!session_.recipe().strand(slot.strand) || !description) return;
    std::string id;
    if (session_.apply(with_new_step(session_.recipe(), slot, *description, id), tr("Add %1").arg(qt(description->title))))
        session_.select({slot.strand, id});
    // The keyboard goes on from what was added.
    strands_->focus_selected();
}

void LoomView::add_step() {
    const Selection& selection = session_.selection();
    const Strand* strand = session_.selected_strand();
    if (!strand && !session_.recipe().strands.empty()) strand = session_.recipe().strands.back().get();
    if (!strand) return add_strand();
    Slot slot{strand->id, ChainKind::steps, static_cast<int>(strand->steps.size())};
    if (const auto present = slot_of(session_.recipe(), strand->id, selection.step))
        slot = {strand->id, present->chain, present->index + 1};
    open_finder(slot);
}

/// Puts a new strand on top and selects it or its step; whether it could.
bool LoomView::put_strand(const QString& name, Chain steps, const QString& text) {
    Strand strand;
    strand.name = name.toStdString();
    strand.id = new_strand_id(session_.recipe(), strand.name);
    strand.steps = std::move(steps);
    const Selection made{strand.id, strand.steps.empty() ? std::string() : strand.steps.front().id};
    if (!session_.apply(strand_added(session_.recipe(), std::move(strand), static_cast<int>(session_.recipe().strands.size())),
                        text))
        return false;
    session_.select(made);
    return true;
}

void LoomView::add_picture(const QString& path) {
    Chain steps;
    steps.push_back({.id = "s1", .kind = "image"});
    if (put_strand(QFileInfo(path).completeBaseName(), std::move(steps), tr("Add %1").arg(QFileInfo(path).fileName())))
        desk_->keep_picture({session_.selection().strand, session_.selection().step, "file"}, path);
}

void LoomView::add_strand() {
    if (!put_strand(tr("Strand %1").arg(session_.recipe().strands.size() + 1), {}, tr("Add strand"))) return;
    // An empty strand wants its first step.
    add_step();
}

void LoomView::rename_selected() {
    const Selection selection = session_.selection();
    const Strand* strand = session_.selected_strand();
    const Step* step = session_.selected_step();
    const QString title = step ? tr("Rename step") : strand ? tr("Rename strand") : tr("Rename recipe");
    ask_name(this, title, step ? tr("Name (empty: the step's own title)") : tr("Name"),
             qt(step     ? step_title(*step)
                : strand ? strand->name
                         : session_.recipe().name),
             [this, selection, title](const QString& text) {
                 const std::string name = text.toStdString();
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
}

void LoomView::cut_selected() {
    copy_selected();
    remove_selected();
}

namespace {
StepPlaces pasted_places(const std::string& strand, const std::vector<std::string>& ids) {
    StepPlaces places;
    for (const std::string& id : ids) places.push_back({strand, id});
    return places;
}
}  // namespace

void LoomView::paste() {
    const auto clip = read_clip(QGuiApplication::clipboard()->text().toStdString());
    if (!clip)
        return emit session_.refused(
            tr("Nothing to paste: %1. Copy steps or strands first.").arg(QString::fromStdString(clip.error().message)));
    const Selection at = session_.selection();
    const Recipe& recipe = session_.recipe();
    std::vector<std::string> ids;
    const int strand = recipe.index_of(at.strand), count = static_cast<int>(recipe.strands.size());
    if (clip->of == Clip::Of::strands || count == 0) {
        if (session_.apply(strands_pasted(recipe, *clip, strand < 0 ? count : strand + 1, ids), tr("Paste strand")))
            session_.select({ids.front(), ""});
        return;
    }
    const std::string into = recipe.strands[static_cast<std::size_t>(strand < 0 ? count - 1 : strand)]->id;
    Slot slot{into, ChainKind::steps, static_cast<int>(recipe.strand(into)->steps.size())};
    if (const auto below = slot_of(recipe, at.strand, at.step)) slot = {into, below->chain, below->index + 1};
    Recipe next = steps_pasted(recipe, *clip, slot, ids);
    if (session_.apply(std::move(next), ids.size() > 1 ? tr("Paste steps") : tr("Paste step")) && !ids.empty())
        session_.select_several(pasted_places(into, ids), {into, ids.back()});
}

void LoomView::keep_colourway() {
    ask_name(this, tr("Keep as colourway"), tr("Name"), {}, [this](const QString& name) {
        if (name.isEmpty()) return;
        // Every colour and gradient of the recipe belongs to a colourway.
        std::vector<Address> colours;
        for (const Address& at : places(session_.recipe()))
            if (const Kind kind = place_at(session_.recipe(), at)->parameter.kind;
                (kind == Kind::colour || kind == Kind::stops) && at.parameter.find('.') == std::string::npos)
                colours.push_back(at);
        session_.apply(colourway_kept(session_.recipe(), name.toStdString(), colours), tr("Keep colourway %1").arg(name));
    });
}

}  // namespace loom
