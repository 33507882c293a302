// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <atomic>
#include <chrono>
#include <functional>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

#include "core/render/scheduler.h"
#include "tests/support/support.h"

namespace loom::test {

using namespace std::chrono_literals;

template <class Condition>
bool eventually(Condition&& condition) {
    for (int k = 0; k < 4000 && !condition(); ++k) std::this_thread::sleep_for(5ms);
    return condition();
}

/// Waits for work that was given up and still looks at what a test holds. What it counts in is static besides: it goes on for a
/// moment after the test's own things have gone.
struct Rested : Scheduler {
    using Scheduler::Scheduler;
    ~Rested() { rest(10000); }
};

/// What a piece of work does that cannot fail.
inline std::function<Result<Done>(const WorkContext&)> runs(std::function<void(const WorkContext&)> work) {
    return [work = std::move(work)](const WorkContext& context) -> Result<Done> {
        work(context);
        return Done{};
    };
}

/// Runs until it is cancelled, as a long rendering does.
inline Work endless(std::atomic<int>& begun, std::atomic<int>& ended, std::string slot = "") {
    Work request;
    request.slot = std::move(slot);
    request.run = runs([&](const WorkContext& context) {
        ++begun;
        while (!context.job.cancelled()) std::this_thread::sleep_for(1ms);
        ++ended;
    });
    return request;
}

/// A thread's own queue: what is posted there is called when it hears.
class Inbox {
public:
    void post(std::function<void()> call) {
        const std::lock_guard lock(mutex_);
        calls_.push_back(std::move(call));
    }
    void hear() {
        std::vector<std::function<void()>> now;
        {
            const std::lock_guard lock(mutex_);
            now.swap(calls_);
        }
        for (auto& each : now) each();
    }

private:
    std::mutex mutex_;
    std::vector<std::function<void()>> calls_;
};

}  // namespace loom::test
