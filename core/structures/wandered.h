// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a source has drawn, moved by clouds of several sizes, so that nothing that was laid straight stays so.
#pragma once

#include <vector>

#include "core/catalogue/context.h"

namespace loom {

struct WanderScale {
    double distance_px, size_px;
};

/// All planes of it; those of objects are read at the nearest pixel. Needs as many planes again.
Bundle wandered(const Bundle& in, const std::vector<WanderScale>& scales, std::uint64_t seed, const StepContext& context);

}  // namespace loom
