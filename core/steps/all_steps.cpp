// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/all_steps.h"

namespace loom {

const std::vector<StepDescription>& all_steps() {
    static const std::vector<StepDescription> steps = {
#define KEEN_LOOM_ENTRY(name) describe_##name(),
        KEEN_LOOM_STEPS(KEEN_LOOM_ENTRY)
#undef KEEN_LOOM_ENTRY
    };
    return steps;
}

}  // namespace loom
