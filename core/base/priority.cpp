// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/priority.h"

#include <sys/resource.h>
#include <tbb/task_scheduler_observer.h>

#include <atomic>

namespace loom {

namespace {

std::atomic<bool> in_background{false};
/// A third of an interface's weight: enough to yield, and nothing is lost where nobody else wants the cores.
constexpr int nice_by = 5;

class Workers final : public tbb::task_scheduler_observer {
public:
    void on_scheduler_entry(bool is_worker) override {
        if (is_worker) step_back();
    }
};

}  // namespace

void work_in_background() {
    if (in_background.exchange(true)) return;
    // Never destroyed: workers may still come and go when the process ends.
    static auto* workers = new Workers;
    workers->observe(true);
}

void step_back() {
    // On Linux this is of the calling thread alone. It may be refused, and then everything goes on as before.
    if (in_background.load()) (void)setpriority(PRIO_PROCESS, 0, nice_by);
}

int steps_back() { return getpriority(PRIO_PROCESS, 0); }

}  // namespace loom
