// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/blend_chooser.h"

#include "app/widgets/text.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

/// What people want, as words.
QString words_of(BlendWant want) {
    switch (want) {
        case BlendWant::cover: return BlendChooser::tr("Cover");
        case BlendWant::shade: return BlendChooser::tr("Shade");
        case BlendWant::light_up: return BlendChooser::tr("Light up");
        case BlendWant::texture: return BlendChooser::tr("Texture");
        case BlendWant::take_apart: return BlendChooser::tr("Take apart");
        case BlendWant::tint: return BlendChooser::tr("Tint");
        case BlendWant::heights: return BlendChooser::tr("Heights");
    }
    return {};
}

std::vector<Candidate> candidates() {
    std::vector<Candidate> all;
    for (Blend each : blends_by_want()) {
        const BlendName& name = blend_name(each);
        all.push_back({qt(name.id), qt(name.title), words_of(name.want), qt(name.help), true});
    }
    return all;
}

}  // namespace

BlendChooser::BlendChooser(const Recipe& recipe, const std::string& strand, QWidget* parent)
    : PictureChooser("blends", tr("Blends"), tr("Find a blend"), candidates(),
                     {{tr("The whole cloth"),
                       [recipe, strand](const QString& id) {
                           Join join = recipe.strand(strand)->join;
                           join.blend = blend_of(id);
                           return TryOrder{with_join(recipe, strand, join), {}};
                       },
                       true}},
                     parent) {
    mark(qt(blend_id(recipe.strand(strand)->join.blend)));
    // From faint to strong, as they come out on this cloth.
    order_by_strength({strand_switched(recipe, strand, false), {}});
}

Blend BlendChooser::blend_of(const QString& id) { return find_blend(id.toStdString()).value_or(Blend::normal); }

}  // namespace loom
