// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/apart.h"

#include <chrono>
#include <condition_variable>
#include <exception>
#include <memory>
#include <mutex>
#include <thread>

#include "core/base/priority.h"

namespace loom {

namespace {

/// Shared by all; never destroyed, as threads that were left may outlive everything else.
struct Apart {
    std::mutex mutex;
    std::condition_variable changed;
    unsigned running = 0;
    int left = 0;
};
Apart& apart() {
    static auto* one = new Apart;
    return *one;
}

struct Piece {
    std::function<void()> work;
    bool done = false, abandoned = false;
    std::exception_ptr thrown;
};

constexpr std::chrono::milliseconds look{20};

}  // namespace

void run_apart(const Job& job, std::function<void()> work) {
    Apart& all = apart();
    const auto piece = std::make_shared<Piece>();
    piece->work = std::move(work);
    std::unique_lock lock(all.mutex);
    const unsigned most = std::max(1u, std::thread::hardware_concurrency());
    while (all.running >= most) {
        job.check();
        all.changed.wait_for(lock, look);
    }
    job.check();
    ++all.running;
    try {
        std::thread([piece, &all] {
            step_back();
            std::exception_ptr thrown;
            try {
                piece->work();
            } catch (...) {
                thrown = std::current_exception();
            }
            // What the work owned is gone before anybody hears that it is done.
            piece->work = nullptr;
            const std::lock_guard end(all.mutex);
            piece->thrown = thrown, piece->done = true;
            --all.running;
            if (piece->abandoned) --all.left;
            all.changed.notify_all();
        }).detach();
    } catch (...) {
        --all.running;
        throw;
    }
    while (!piece->done) {
        all.changed.wait_for(lock, look);
        if (!piece->done && job.cancelled()) {
            piece->abandoned = true, ++all.left;
            throw Cancelled{};
        }
    }
    lock.unlock();
    if (piece->thrown) std::rethrow_exception(piece->thrown);
}

int left_running() {
    const std::lock_guard lock(apart().mutex);
    return apart().left;
}

}  // namespace loom
