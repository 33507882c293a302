// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

struct Moments {
    double mean = 0, variance = 0;  ///< variance is at least 0
};

/// Of all values of a whole plane; the same on any number of threads.
Moments moments_of(const Plane& plane, const Job& job);

}  // namespace loom
