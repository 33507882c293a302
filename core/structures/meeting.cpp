// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/meeting.h"

#include <algorithm>

#include "core/colour/blend.h"

namespace loom {

namespace {

/// `in` where `cover` is, or is not.
Bundle cut_by(const Bundle& in, const Plane& cover, bool away, const StepContext& context) {
    const auto times = [&](const PlaneRef& plane) {
        Plane out = context.plane();
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x) {
                    const float share = std::clamp(cover.row(y)[x], 0.0f, 1.0f);
                    out.row(y)[x] = (plane ? plane->row(y)[x] : 1.0f) * (away ? 1 - share : share);
                }
        });
        return share(std::move(out));
    };
    Bundle out;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(times(plane));
    out.coverage = times(in.coverage);
    return out;
}

}  // namespace

Bundle met_form(Meets meets, Bundle form, const StepContext& context) {
    if (meets == Meets::alone || !context.input || context.input->empty()) return form;
    const Bundle in = part_of(*context.input, context.wanted_rows());
    Bundle out;
    if (meets == Meets::added) {
        // What covers everything would leave nothing of it: the lighter of both shows.
        const Blend blend = form.coverage ? Blend::normal : Blend::lighten;
        form.named.clear();
        out = blended(in, form, {blend, 1, false}, nullptr, *context.job);
    } else {
        const PlaneRef cover = form.coverage ? form.coverage : tone_of(form, *context.job);
        out = cut_by(in, *cover, meets == Meets::taken, context);
    }
    out.named = in.named;
    return out;
}

Shape met_shape(Meets meets, Shape form, Shape in) {
    if (meets == Meets::alone || in.channels == 0) return form;
    if (meets == Meets::added) return {std::max(form.channels, in.channels), in.coverage};
    return {in.channels, true};
}

}  // namespace loom
