// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/job.h"

#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <malloc.h>

#include <algorithm>
#include <chrono>
#include <numeric>
#include <memory>
#include <optional>

#include "core/base/fork.h"

namespace loom {

void for_ranges(const Job& job, int count, int grain, const std::function<void(int, int)>& body) {
    if (count <= 0) return;
    const int step = std::max(1, grain);
    const int ranges = (count + step - 1) / step;
    thread_local bool observed = false;
    if (RangeObserver* observer = job.observer(); observer && !observed) {
        std::vector<double> milliseconds;
        observed = true;
        for (int index = 0; index < ranges; ++index) {
            const auto start = std::chrono::steady_clock::now();
            body(index * step, std::min(count, (index + 1) * step));
            milliseconds.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
        }
        observed = false;
        return observer->ranges(milliseconds);
    }
    if (job.shuffled()) {
        // A stride that has no divisor in common with the count meets each of them once.
        int stride = std::max(1, ranges * 5 / 8);
        while (std::gcd(stride, ranges) != 1) ++stride;
        for (int n = 0, index = ranges - 1; n < ranges; ++n, index = (index + stride) % ranges) {
            job.check();
            body(index * step, std::min(count, (index + 1) * step));
        }
        return;
    }
    // Cancelled passes through parallel_for, which stops the ranges that have not begun.
    Fork fork;
    tbb::parallel_for(0, ranges, [&](int index) {
        const Fork::Part part(fork);
        job.check();
        body(index * step, std::min(count, (index + 1) * step));
    });
}

void for_rows(const Job& job, int rows, const std::function<void(int, int)>& body) { for_ranges(job, rows, 16, body); }

void keep_freed_memory() {
    // Planes come and go by the dozen; giving each back to the system costs a page fault for every page of the next.
    mallopt(M_MMAP_THRESHOLD, 1 << 30);
    mallopt(M_TRIM_THRESHOLD, 1 << 30);
}

void give_freed_memory_back() { malloc_trim(0); }

void use_threads(int count) {
    // Never destroyed: work may still run when the process ends.
    static auto* limit = new std::unique_ptr<tbb::global_control>;
    limit->reset();
    if (count > 0)
        *limit =
            std::make_unique<tbb::global_control>(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(count));
}

void with_threads(int threads, const std::function<void()>& work) {
    // More threads than cores have to be allowed first.
    std::optional<tbb::global_control> allowed;
    if (threads > tbb::this_task_arena::max_concurrency())
        allowed.emplace(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads));
    tbb::task_arena arena(threads > 0 ? threads : tbb::task_arena::automatic);
    arena.execute(work);
}

}  // namespace loom
