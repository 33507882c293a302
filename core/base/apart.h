// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Work of libraries that cannot be stopped, on a thread of its own that is left to itself when nobody wants it any more.
#pragma once

#include <functional>

#include "core/base/job.h"

namespace loom {

/// Runs `work` and waits for it; throws what it throws. Throws Cancelled within some milliseconds once the job is cancelled: the
/// work then goes on by itself, so that it has to own everything it touches. As many as there are cores run at a time, those
/// that were left included; others wait, and may be cancelled meanwhile.
void run_apart(const Job& job, std::function<void()> work);

/// How many were left and still run. A program that ends while there are some ends at once (std::_Exit): what they use goes away.
int left_running();

}  // namespace loom
