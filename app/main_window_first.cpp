// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The remarks for somebody's first cloth: six, from opening a sample to looking at its seams.
#include <QPushButton>
#include <QSettings>
#include <QToolButton>

#include "app/help/first_cloth.h"
#include "app/loom/cloth_view.h"
#include "app/loom/join_card.h"
#include "app/loom/loom_view.h"
#include "app/loom/step_card.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "app/tries/picture_chooser.h"

namespace loom {

namespace {

constexpr const char* known_key = "first-cloth-known";

std::size_t count_steps(const Recipe& recipe) {
    std::size_t steps = 0;
    for (const StrandRef& strand : recipe.strands)
        for (ChainKind chain : all_chains) steps += strand->chain(chain).size();
    return steps;
}

std::vector<Join> joins(const Recipe& recipe) {
    std::vector<Join> all;
    for (const StrandRef& strand : recipe.strands) all.push_back(strand->join);
    return all;
}

}  // namespace

void MainWindow::show_first_cloth() {
    delete first_cloth_;
    const auto at_loom = [this](QWidget* widget) { return page() == loom_ ? widget : nullptr; };
    const auto first_card = [this]() -> StepCard* {
        for (const StrandRef& strand : session_->recipe().strands)
            for (const Step& step : strand->steps)
                // One that can be seen; others lie under the names of the strands.
                if (StepCard* card = loom_->strands()->card(strand->id, step.id);
                    card && card->visibleRegion().boundingRect() == card->rect())
                    return card;
        return nullptr;
    };
    const QString at_the_loom = tr("It is at the loom: open a sample, or choose Loom above.");
    std::vector<Remark> remarks;
    remarks.push_back({tr("Every swatch is a recipe that can be taken apart. Open one: the book itself stays as it is."),
                       [this]() -> QWidget* {
                           return page() == samples_ && !samples_->swatches().empty() ? samples_->swatches().front() : nullptr;
                       },
                       [this] { return [this] { return page() == loom_; }; }, tr("They are on the page Samples.")});
    remarks.push_back({tr("A strand runs from top to bottom, one card for each step. Choose a card to see what it does."),
                       [=] { return at_loom(first_card()); },
                       [this] {
                           return [this, before = session_->selection()] {
                               return session_->selection() != before && session_->selected_step();
                           };
                       },
                       at_the_loom});
    remarks.push_back(
        {tr("Here the chosen step is tuned, and the cloth follows. Drag a slider; undo takes the whole drag back."),
         [=, this] { return at_loom(loom_->desk()); },
         [this] { return [this, before = session_->undo_stack().index()] { return session_->undo_stack().index() != before; }; },
         at_the_loom});
    remarks.push_back(
        {tr("The plus adds a step. All of them are shown on your strand before you choose."),
         [=, this]() -> QWidget* {
             const Strand* strand = session_->selected_strand();
             return strand ? at_loom(loom_->strands()->add_button(strand->id, ChainKind::steps)) : nullptr;
         },
         [this] { return [this, before = count_steps(session_->recipe())] { return count_steps(session_->recipe()) > before; }; },
         at_the_loom});
    remarks.push_back(
        {tr("At its foot a strand is joined onto those to its left. The name opens every blend as a picture."),
         [=, this]() -> QWidget* {
             if (session_->recipe().strands.size() < 2) return nullptr;
             JoinCard* join = loom_->strands()->join(session_->recipe().strands[1]->id);
             return join ? at_loom(join) : nullptr;
         },
         [this] { return [this, before = joins(session_->recipe())] { return joins(session_->recipe()) != before; }; },
         tr("A recipe of two strands at the loom has one.")});
    remarks.push_back({tr("Look at it repeated: seams would show here, and the line under the cloth measures them."),
                       [=, this] { return at_loom(loom_->cloth()->repeat_button()); },
                       [this] {
                           return [this, before = loom_->cloth()->canvas()->repeat()] {
                               return loom_->cloth()->canvas()->repeat() != before;
                           };
                       },
                       at_the_loom});
    first_cloth_ = new FirstCloth(std::move(remarks), this);
    connect(first_cloth_, &FirstCloth::ended, this, [] { QSettings().setValue(known_key, true); });
    first_cloth_->begin();
}

void MainWindow::greet() {
    if (!QSettings().value(known_key).toBool()) show_first_cloth();
}

}  // namespace loom
