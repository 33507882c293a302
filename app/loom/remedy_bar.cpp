// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/remedy_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/theme/theme.h"
#include "core/recipe/edits.h"

namespace loom {

std::optional<Selection> first_seam(const Recipe& recipe, const CardPictures& cards) {
    for (const StrandRef& strand : recipe.strands) {
        if (!strand->on) continue;
        std::optional<Selection> culprit;
        for (const Step& step : strand->steps) {
            const auto found = cards.find({strand->id, step.id});
            if (!step.on || found == cards.end()) continue;
            if (found->second.seam <= seam_visible)
                culprit.reset();
            else if (!culprit)
                culprit = Selection{strand->id, step.id};
        }
        if (culprit) return culprit;
    }
    return std::nullopt;
}

namespace {
/// What lets the step close by itself, if anything does.
Values closing_of(const Step& step) {
    const StepDescription* description = find_step(step.kind);
    return description && description->closing ? description->closing(step.set) : Values();
}
}  // namespace

RemedyBar::RemedyBar(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    label_ = new QLabel(this);
    label_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    button_ = new QPushButton(this);
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(18, 4, 16, 4);
    line->addWidget(label_, 1);
    line->addWidget(button_);
    connect(button_, &QPushButton::clicked, this, &RemedyBar::close_seams);
    hide();
}

QString RemedyBar::text() const { return isHidden() ? QString() : label_->text(); }

void RemedyBar::show_cards(const CardPictures& cards) {
    const auto found = first_seam(session_.recipe(), cards);
    const Step* step = found ? session_.recipe().step({found->strand, found->step, ""}) : nullptr;
    setVisible(step != nullptr);
    if (!step) return;
    culprit_ = *found;
    const bool can_close = !closing_of(*step).empty();
    button_->setText(can_close ? tr("Let it close") : tr("Close seams after it"));
    button_->setToolTip(can_close ? tr("Sets it so that it runs back into itself, instead of covering where it does not")
                                  : tr("Puts the step Close seams right below this one"));
    label_->setText(tr("%1 in %2 opens the seam.")
                        .arg(QString::fromStdString(step_title(*step)),
                             QString::fromStdString(session_.recipe().strand(culprit_.strand)->name)));
    QPalette palette = label_->palette();
    palette.setColor(QPalette::WindowText, theme::colours().warn);
    label_->setPalette(palette);
}

void RemedyBar::close_seams() {
    const auto slot = slot_of(session_.recipe(), culprit_.strand, culprit_.step);
    const Strand* strand = session_.recipe().strand(culprit_.strand);
    if (!slot || !strand) return;
    if (const Values closing = closing_of(*strand->step(culprit_.step)); !closing.empty()) {
        std::vector<std::pair<Address, Value>> values;
        for (const auto& [id, value] : closing) values.push_back({{culprit_.strand, culprit_.step, id}, value});
        session_.set_values(values);
        return;
    }
    Step step;
    step.kind = "closeseams", step.id = new_step_id(*strand);
    Slot after = *slot;
    ++after.index;
    const std::string id = step.id;
    if (session_.apply(step_added(session_.recipe(), after, std::move(step)), tr("Close seams")))
        session_.select({culprit_.strand, id});
}

}  // namespace loom
