// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

/// Rows as columns.
Plane transposed(const Plane& plane, const Job& job);
/// Back again, as `rows` of a tile of `size`.
Plane transposed(const Plane& plane, Size size, Rows rows, const Job& job);

}  // namespace loom
