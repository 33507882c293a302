// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/formula_parts.h"

#include "app/widgets/formula_edit.h"
#include "app/widgets/text.h"
#include "core/image/plane_names.h"
#include "core/recipe/strand_planes.h"
#include "core/steps/formula/formula.h"

namespace loom {

FormulaParts::FormulaParts(FormulaEdit* edit) : QObject(edit), edit_(*edit), service_(2 * FormulaEdit::picture_side) {
    connect(edit, &FormulaEdit::parts_shown, this, &FormulaParts::look);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        --missing_;
        if (!image.isNull()) edit_.set_part_picture(static_cast<std::size_t>(index), image);
    });
}

void FormulaParts::show_for(const Recipe& recipe, const Step& step) {
    recipe_ = recipe;
    parts_.clear();
    std::vector<FormulaEdit::Part> shown;
    std::size_t prefix = 0;
    // The strands have their prefixes in the order in which the step names them.
    for (const Parameter& p : find_step(step.kind)->parameters) {
        if (p.kind != Kind::strand || prefix == std::size(formula_prefixes)) continue;
        const std::string strand = as<std::string>(value_or_default(p, step.set));
        const auto made = planes_of_strand(recipe, strand);
        for (const FormulaWord& word : formula_words()) {
            const PlaneName* plane = word.kind == FormulaWord::Kind::plane ? find_plane(word.plane) : nullptr;
            if (!plane || !made.contains(plane->id)) continue;
            parts_.push_back({strand, std::string(plane->word)});
            shown.push_back({qt(formula_prefixes[prefix]) + "." + qt(word.word), qt(plane->title)});
        }
        ++prefix;
    }
    edit_.set_parts(std::move(shown));
}

void FormulaParts::look() {
    std::vector<TryOrder> orders;
    for (const Part& part : parts_) orders.push_back({taken_recipe(recipe_, part.strand, part.word), {}});
    missing_ = static_cast<int>(orders.size());
    ticket_ = service_.submit(std::move(orders));
}

}  // namespace loom
