// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/edge.h"

#include <cmath>

#include "core/image/distance.h"
#include "core/image/tally.h"
#include "core/structures/filled.h"

namespace loom {

PlaneRef form_of(const StepContext& context) {
    const Bundle* form = context.other(form_name);
    return form && !form->empty() ? form->coverage : context.input->coverage;
}

Plane edge_distance(double reach, const StepContext& context) {
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    Plane distance = distance_to_level(*form_of(context), 0.5f, reach * scale, *context.job);
    const auto factor = static_cast<float>(1 / scale);
    for_values(*context.job, distance, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) distance.data()[i] *= factor;
    });
    return distance;
}

Bundle layer_of(const Colour& colour, Plane cover, const StepContext& context) {
    Bundle layer;
    const float channels[3] = {colour.red, colour.green, colour.blue};
    for (int c = 0; c < (is_grey(colour) ? 1 : 3); ++c) {
        Plane plane = cover.alike();
        for_values(*context.job, cover, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) plane.data()[i] = channels[c] * cover.data()[i];
        });
        layer.colour.push_back(share(std::move(plane)));
    }
    layer.coverage = share(std::move(cover));
    return layer;
}

namespace {

/// Opaque and not premultiplied; transparent places are black.
Bundle straightened(const Bundle& in, const Job& job) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(straight(plane, in.coverage, job));
    return out;
}

PlaneRef times(const PlaneRef& plane, const PlaneRef& by, const Job& job) {
    if (!by) return plane;
    Plane out = plane->alike();
    for_values(job, out, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) out.data()[i] = plane->data()[i] * by->data()[i];
    });
    return share(std::move(out));
}

}  // namespace

Bundle laid_within(const Bundle& in, const Bundle& layer, const BlendSettings& settings, const StepContext& context) {
    // What other steps have laid beside the form stays as it is.
    const PlaneRef form = context.other(form_name) ? form_of(context) : nullptr;
    Bundle out = blended(straightened(in, *context.job), layer, settings, form, *context.job);
    for (PlaneRef& plane : out.colour) plane = times(plane, in.coverage, *context.job);
    out.coverage = in.coverage;
    out.named = in.named;
    return out;
}

Bundle laid_under(const Bundle& in, const Bundle& layer, const BlendSettings& settings, const StepContext& context) {
    if (!in.coverage) return in;
    Bundle under = layer;
    const Bundle* beneath = settings.blend == Blend::normal ? nullptr : context.other("beneath");
    if (beneath && !beneath->empty()) {
        // Opaque over what lies beneath, it has the colour that the blend makes of both.
        under = blended(*beneath, straightened(layer, *context.job), {settings.blend, 1, settings.linear}, nullptr, *context.job);
        for (PlaneRef& plane : under.colour) plane = times(plane, layer.coverage, *context.job);
    }
    under.coverage = layer.coverage;
    under.named.clear();
    // Amount first, so that what is laid over it keeps its own.
    if (settings.amount < 1) {
        const PlaneRef share_of = share(Plane(in.size(), in.rows(), settings.amount));
        for (PlaneRef& plane : under.colour) plane = times(plane, share_of, *context.job);
        under.coverage = times(under.coverage, share_of, *context.job);
    }
    Bundle out = blended(under, in, {Blend::normal, 1, settings.linear}, nullptr, *context.job);
    out.named = in.named;
    return out;
}

Bundle edge_picture(Bundle picture, const Bundle& in, bool grey, bool meets_beneath) {
    const Shape shape = edge_shape({in.grey() ? 1 : 3, static_cast<bool>(in.coverage)}, grey, meets_beneath);
    if (shape.channels == 3 && picture.grey()) picture.colour.resize(3, picture.colour.front());
    return picture;
}

std::vector<Choice> blend_choices() {
    std::vector<Choice> choices;
    for (const BlendName& name : blend_names()) choices.push_back({name.id, name.title});
    return choices;
}

}  // namespace loom
