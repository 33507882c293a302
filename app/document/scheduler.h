// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/render/scheduler.h"

namespace loom {

/// The one scheduler of the program: everything that computes is asked of it.
Scheduler& scheduler();

}  // namespace loom
