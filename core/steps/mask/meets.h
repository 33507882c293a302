// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The parameters that steps for masks share: which tones they look at, and how what they find meets the mask that comes in.
#pragma once

#include <algorithm>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/structures/meeting.h"

namespace loom {

enum class LookAt { beneath, own };

inline std::vector<Choice> look_choices() { return {{"beneath", "Beneath"}, {"own", "What comes in"}}; }
constexpr std::string_view look_help =
    "Whether it looks at what the strands to the left have joined to, or at what comes in: the strand's own picture if it is the "
    "first step of a mask.";
constexpr std::string_view meets_help =
    "How what it finds meets the mask that came in: takes its place, narrows it, widens it, or is cut out of it.";

/// The picture that is looked at; null if there is none.
inline const Bundle* looked_at(LookAt look, const StepContext& context) {
    if (look == LookAt::own) return context.input;
    const Bundle* beneath = context.other("beneath");
    return beneath && !beneath->empty() ? beneath : nullptr;
}

/// Where it shows, 0..1, as the step's result.
inline Bundle met(Meets meets, Plane found, const StepContext& context) {
    const Bundle& in = *context.input;
    if (meets != Meets::alone) {
        const PlaneRef before = covered_tone_of(in, *context.job);
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x) {
                    float& value = found.row(y)[x];
                    const float mask = before->row(y)[x];
                    value = meets == Meets::within  ? mask * value
                            : meets == Meets::added ? std::max(mask, value)
                                                    : mask * (1 - value);
                }
        });
    }
    Bundle result = Bundle::of(std::move(found));
    result.named = part_of(in.named, context.wanted_rows());
    return result;
}

inline Shape mask_shape(Shape) { return {1, false}; }

}  // namespace loom
