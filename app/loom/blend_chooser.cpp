// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/blend_chooser.h"

#include "app/widgets/text.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

/// What a blend does to what lies beneath, as people look for it.
QString group_of(Blend blend) {
    switch (blend) {
        case Blend::normal:
        case Blend::stipple:
        case Blend::height_aware: return BlendChooser::tr("Cover");
        case Blend::multiply:
        case Blend::darken:
        case Blend::linear_burn:
        case Blend::colour_burn: return BlendChooser::tr("Darker");
        case Blend::screen:
        case Blend::lighten:
        case Blend::colour_dodge:
        case Blend::reflect:
        case Blend::plus: return BlendChooser::tr("Lighter");
        case Blend::overlay:
        case Blend::hard_light:
        case Blend::linear_light:
        case Blend::vivid_light:
        case Blend::pin_light:
        case Blend::hard_mix:
        case Blend::soft_light: return BlendChooser::tr("Contrast");
        case Blend::difference:
        case Blend::subtract:
        case Blend::divide:
        case Blend::exclusion: return BlendChooser::tr("Difference");
        case Blend::hue:
        case Blend::saturation:
        case Blend::colour:
        case Blend::cielch_colour:
        case Blend::oklch_hue:
        case Blend::oklch_chroma:
        case Blend::oklch_colour:
        case Blend::oklch_lightness:
        case Blend::luminosity: return BlendChooser::tr("Colour");
    }
    return {};
}

/// In the order of the groups.
std::vector<Candidate> candidates() {
    std::vector<Candidate> all;
    for (const BlendName& name : blend_names()) {
        const Candidate each{qt(name.id), qt(name.title), group_of(name.blend), {}, true};
        auto place = all.end();
        for (auto it = all.begin(); it != all.end(); ++it)
            if (it->group == each.group) place = it + 1;
        all.insert(place, each);
    }
    return all;
}

}  // namespace

BlendChooser::BlendChooser(const Recipe& recipe, const std::string& strand, QWidget* parent)
    : PictureChooser("blends", tr("Blends"), tr("Find a blend"), candidates(),
                     {{tr("On the cloth"),
                       [recipe, strand](const QString& id) {
                           Join join = recipe.strand(strand)->join;
                           join.blend = blend_of(id);
                           return TryOrder{with_join(recipe, strand, join), {}};
                       },
                       true}},
                     parent) {
    mark(qt(blend_id(recipe.strand(strand)->join.blend)));
}

Blend BlendChooser::blend_of(const QString& id) { return find_blend(id.toStdString()).value_or(Blend::normal); }

}  // namespace loom
