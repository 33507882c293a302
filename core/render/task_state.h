// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a Task's handles and the scheduler share.
#pragma once

#include <atomic>
#include <cassert>
#include <functional>
#include <mutex>

#include "core/base/job.h"
#include "core/render/task.h"

namespace loom {

struct Task::State {
    Job job{[this](double now) { share = now; }};
    std::atomic<double> share = 0;
    std::atomic<bool> told = false;
    std::function<void()> stop;  ///< set before anyone holds a handle

    /// The first to say how it ended has said so; false for all others.
    bool end(Ended how) {
        const std::lock_guard lock(mutex_);
        if (ended_) return false;
        ended_ = std::move(how);
        return true;
    }
    std::optional<Ended> ended() const {
        const std::lock_guard lock(mutex_);
        return ended_;
    }

private:
    mutable std::mutex mutex_;
    std::optional<Ended> ended_;
};

}  // namespace loom
