// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/scheduler.h"

#include "core/files/kept_picture.h"

namespace loom {

Scheduler& scheduler() {
    // Never destroyed: its workers may still be ending when the program does.
    static auto* one = new Scheduler(std::size_t{1} << 30, &picture_reader());
    return *one;
}

}  // namespace loom
