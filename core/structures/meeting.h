// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How what a step makes or finds meets what came in.
#pragma once

#include <vector>

#include "core/catalogue/describe.h"

namespace loom {

enum class Meets { alone, within, added, taken };

inline std::vector<Choice> meets_choices() {
    return {{"alone", "By itself"}, {"within", "Within it"}, {"added", "Added to it"}, {"taken", "Taken away from it"}};
}

/// A form, or the tone of what covers everything, and what came in: in its place, cut by it, under it, or with a hole of its
/// form.
Bundle met_form(Meets meets, Bundle form, const StepContext& context);
/// `form`: channels and coverage of what is made.
Shape met_shape(Meets meets, Shape form, Shape in);

/// The parameter "meets" of a source, which takes what comes in where it does not stand by itself.
template <class Settings>
Describe<Settings>& describe_meeting(Describe<Settings>& describe) {
    return describe
        .template choice<Meets>(
            "meets", "Meets what came in", &Settings::meets, meets_choices(),
            "Whether it takes the place of what came in, cuts it to its form, is laid over it, or is cut out of it; in a mask "
            "that is what shows already.")
        .takes_input(!When{"meets", {"alone"}});
}

}  // namespace loom
