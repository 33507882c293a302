// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Who waits for whom where there are more threads than cores: what works in the background steps back behind the thread of an
// interface, which has little to do and must answer at once.
#pragma once

namespace loom {

/// From now on all threads that work, those that share rows out included, yield to the one that calls this. Once, at the start.
void work_in_background();
/// For threads that work to say so of themselves when they begin; does nothing unless work_in_background was called.
void step_back();
/// How far the calling thread stands back: 0 for an interface's (nice values of the system).
int steps_back();

}  // namespace loom
