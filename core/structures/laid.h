// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Laying pictures of other sizes into the tile.
#pragma once

#include <functional>

#include "core/base/job.h"
#include "core/image/bundle.h"

namespace loom {

/// Every pixel reads `in` where `place` says, in pixels of `in` (centre of the first at 0,0); across its edges by wrapping.
/// Object planes take the nearest value. `inside` (may be empty) says whether a pixel is covered at all.
Bundle laid(const Bundle& in, Size size, const std::function<void(double u, double v, double& x, double& y)>& place,
            const std::function<bool(double u, double v)>& inside, const Job& job);

}  // namespace loom
