// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// One piece of work that can be given up: the cancel flag, the progress report and the
// loops that share rows out over the threads. Results never depend on how rows are shared.
#pragma once

#include <atomic>
#include <functional>
#include <mutex>
#include <string>
#include <utility>
#include <vector>

namespace loom {

/// Thrown by Job::check() and caught where a render begins; it never leaves the core.
struct Cancelled {};

/// Watches how work is shared out, for measuring; ranges then run one after the other.
class RangeObserver {
public:
    virtual ~RangeObserver() = default;
    /// The ranges of one loop, each in milliseconds, once it is over. Loops within ranges are not told apart from them.
    virtual void ranges(const std::vector<double>& milliseconds) = 0;
};

class Job {
public:
    /// Progress runs from 0 to 1 and may be reported from any thread.
    using Progress = std::function<void(double)>;

    Job() = default;
    explicit Job(Progress progress) : progress_(std::move(progress)) {}
    Job(const Job&) = delete;
    Job& operator=(const Job&) = delete;

    void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
    bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }
    /// Throws Cancelled once cancel() was called.
    void check() const {
        if (cancelled()) throw Cancelled{};
    }
    /// Notes something that was passed over; may be called from any thread.
    void warn(std::string sentence) const {
        const std::lock_guard lock(mutex_);
        warnings_.push_back(std::move(sentence));
    }
    std::size_t warning_count() const {
        const std::lock_guard lock(mutex_);
        return warnings_.size();
    }
    std::vector<std::string> warnings() const {
        const std::lock_guard lock(mutex_);
        return warnings_;
    }
    void observe(RangeObserver* observer) { observer_ = observer; }
    RangeObserver* observer() const { return observer_; }
    /// Ranges run one after the other in a mixed-up order from now on: whatever depends on the order in which threads finish
    /// shows itself then.
    void shuffle_ranges() { shuffled_ = true; }
    bool shuffled() const { return shuffled_; }
    void report(double share) const {
        if (progress_) progress_(share);
    }

private:
    std::atomic<bool> cancelled_{false};
    Progress progress_;
    RangeObserver* observer_ = nullptr;
    bool shuffled_ = false;
    mutable std::mutex mutex_;
    mutable std::vector<std::string> warnings_;
};

/// Calls body(first, last) for consecutive ranges that together cover [0, count); a range is at most
/// `grain` long. Checks for cancellation before each range.
void for_ranges(const Job& job, int count, int grain, const std::function<void(int, int)>& body);

/// for_ranges with a grain that suits rows of a picture.
void for_rows(const Job& job, int rows, const std::function<void(int, int)>& body);

/// At most so many threads work at once in the whole process from now on (0: as many as there are cores). From one thread.
void use_threads(int count);
/// Runs `work` with at most `threads` threads (0: as many as there are cores).
void with_threads(int threads, const std::function<void()>& work);

/// What the allocator keeps goes back to the system.
void give_freed_memory_back();

/// Tells the allocator to keep freed planes for the next ones; called once when a program starts.
void keep_freed_memory();

}  // namespace loom
