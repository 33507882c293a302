// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/scheduler.h"

#include "core/base/priority.h"
#include "core/files/kept_picture.h"

namespace loom {

Scheduler& scheduler() {
    // Never destroyed: its workers may still be ending when the program does.
    static auto* one = [] {
        work_in_background();
        auto* made = new Scheduler(std::size_t{1} << 30, &picture_reader());
        // What is kept is enough for a cloth's last steps.
        made->give_back_after(std::chrono::seconds(4), std::size_t{96} << 20);
        return made;
    }();
    return *one;
}

}  // namespace loom
