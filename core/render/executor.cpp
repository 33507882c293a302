// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/executor.h"

#include <tbb/task_arena.h>
#include <tbb/task_group.h>

#include <algorithm>
#include <chrono>
#include <mutex>
#include <set>

#include "core/base/fork.h"
#include "core/render/plane_book.h"

namespace loom {

Progress::Progress(const Plan& plan, const std::vector<bool>& to_run, const Job& job)
    : plan_(plan), job_(job), spent_(plan.nodes.size(), 0), ran_(plan.nodes.size(), false) {
    for (std::size_t k = 0; k < plan.nodes.size(); ++k)
        if (to_run[k]) total_ += plan.nodes[k].cost;
}

void Progress::add(int node, double milliseconds, double share) {
    // Told while it is held, or one thread would tell less after another has told more.
    const std::lock_guard lock(mutex_);
    const auto k = static_cast<std::size_t>(node);
    spent_[k] += milliseconds, ran_[k] = true;
    done_ += share * plan_.nodes[k].cost;
    job_.report(total_ > 0 ? std::min(1.0, done_ / total_) : 1);
}

std::vector<NodeTiming> Progress::timings(const std::vector<bool>& needed) const {
    std::vector<NodeTiming> all;
    for (std::size_t k = 0; k < plan_.nodes.size(); ++k)
        if (needed[k]) all.push_back({plan_.nodes[k].label, spent_[k], !ran_[k]});
    return all;
}

std::vector<bool> needed(const Plan& plan, const std::vector<BundleRef>& have) {
    std::vector<bool> need(plan.nodes.size(), false);
    for (const auto& [wanted, node] : plan.outputs) need[static_cast<std::size_t>(node)] = true;
    for (std::size_t k = plan.nodes.size(); k-- > 0;)
        if (need[k] && !have[k])
            for (int input : plan.nodes[k].inputs) need[static_cast<std::size_t>(input)] = true;
    return need;
}

namespace {

/// Nodes whose inputs are there wait in one queue, in the plan's order; each starts when there is memory for it, or when nothing
/// else runs.
class ReadyQueue {
public:
    ReadyQueue(const Plan& plan, std::vector<BundleRef>& have, std::size_t bytes, const RenderOptions& options,
               Progress& progress, const Job& job)
        : plan_(plan),
          have_(have),
          room_(bytes),
          cache_(options.cache),
          fleeting_(options.fleeting),
          progress_(progress),
          job_(job),
          need_(needed(plan, have)),
          waits_(plan.nodes.size(), 0),
          readers_(plan.nodes.size(), 0),
          followers_(plan.nodes.size()),
          book_(plan) {
        for (const auto& [wanted, node] : plan.outputs) ++readers_[at(node)];
        for (std::size_t k = 0; k < plan.nodes.size(); ++k) {
            if (!need_[k] || have_[k]) continue;
            // Planes of a node that several inputs name are read once.
            for (int input : std::set<int>(plan.nodes[k].inputs.begin(), plan.nodes[k].inputs.end())) {
                ++readers_[at(input)];
                if (!have_[at(input)]) ++waits_[k], followers_[at(input)].push_back(static_cast<int>(k));
            }
            if (waits_[k] == 0) ready_.insert(static_cast<int>(k));
        }
        for (std::size_t k = 0; k < plan.nodes.size(); ++k) {
            if (have_[k] && readers_[k] == 0) have_[k].reset();
            if (have_[k]) book_.take(static_cast<int>(k));
        }
        // What the plan needs at each node, one after the other.
        PlaneBook book = book_;
        std::vector<int> readers = readers_;
        in_turn_.assign(plan.nodes.size(), 0);
        for (std::size_t k = 0; k < plan.nodes.size(); ++k) {
            if (!need_[k] || have_[k]) continue;
            in_turn_[k] = book.bytes() + plan.nodes[k].working_bytes();
            book.take(static_cast<int>(k));
            for (int input : std::set<int>(plan.nodes[k].inputs.begin(), plan.nodes[k].inputs.end()))
                if (--readers[at(input)] == 0) book.let_go(input);
        }
        done_ = std::vector<bool>(plan.nodes.size());
        for (std::size_t k = 0; k < plan.nodes.size(); ++k) done_[k] = !need_[k] || have_[k];
    }

    void run() {
        {
            const std::lock_guard lock(mutex_);
            start_ready();
        }
        group_.wait();
        fork_.joined();
        if (failure_) std::rethrow_exception(failure_);
    }

private:
    static std::size_t at(int node) { return static_cast<std::size_t>(node); }

    /// Whether a node may start before those that stand before it: these still have to find room for what they need in turn.
    bool fits_early(int node) const {
        const Node& what = plan_.nodes[at(node)];
        if (book_.bytes() + working_ + what.working_bytes() > room_) return false;
        for (int k = first_; k < node; ++k)
            if (!done_[at(k)] && in_turn_[at(k)] + early_ + what.bytes() > room_) return false;
        return true;
    }

    /// With the lock held.
    void start_ready() {
        while (first_ < static_cast<int>(done_.size()) && done_[at(first_)]) ++first_;
        for (auto next = ready_.begin(); next != ready_.end() && !failure_;) {
            const int node = *next;
            if (running_ > 0 && !fits_early(node)) {
                ++next;
                continue;
            }
            next = ready_.erase(next);
            if (node != first_) early_ += plan_.nodes[at(node)].bytes(), last_early_ = std::max(last_early_, node);
            ++running_, working_ += plan_.nodes[at(node)].working_bytes();
            fork_.begin();
            group_.run([this, node] { work(node); });
        }
    }

    void work(int node) {
        const Fork::Part part(fork_);
        const Node& what = plan_.nodes[at(node)];
        BundleRef result;
        std::exception_ptr failure;
        const auto start = std::chrono::steady_clock::now();
        try {
            job_.check();
            NodeInputs inputs;
            for (int input : what.inputs) inputs.push_back(have_[at(input)].get());
            const std::size_t warned = job_.warning_count();
            // Within a node only its own ranges are worked on: others would wait for this one and need memory besides.
            tbb::this_task_arena::isolate([&] {
                result = std::make_shared<const Bundle>(what.run(inputs, {{0, what.size.height}, nullptr, &shared_, job_}));
            });
            // What could not be done has to be said again next time.
            if (cache_ && job_.warning_count() == warned) cache_->keep(what.key, result, fleeting_);
        } catch (...) {
            failure = std::current_exception();
        }
        const std::chrono::duration<double, std::milli> spent = std::chrono::steady_clock::now() - start;
        if (!failure) progress_.add(node, spent.count());
        std::vector<int> gone;
        if (!failure) {
            std::vector<BundleRef> dropped;  // freed without the lock, and before anybody takes the room for free
            const std::lock_guard lock(mutex_);
            have_[at(node)] = std::move(result);
            for (int input : std::set<int>(what.inputs.begin(), what.inputs.end()))
                if (--readers_[at(input)] == 0) {
                    gone.push_back(input);
                    dropped.push_back(std::move(have_[at(input)]));
                    have_[at(input)] = nullptr;
                }
        }
        const std::lock_guard lock(mutex_);
        --running_;
        working_ -= what.working_bytes();
        if (failure) {
            if (!failure_) failure_ = failure;
            return;
        }
        done_[at(node)] = true;
        while (first_ < static_cast<int>(done_.size()) && done_[at(first_)]) ++first_;
        // Once everything before has been made, nothing is early any more.
        if (first_ > last_early_) early_ = 0;
        book_.take(node);
        for (int input : gone) book_.let_go(input);
        for (int follower : followers_[at(node)])
            if (--waits_[at(follower)] == 0) ready_.insert(follower);
        start_ready();
    }

    const Plan& plan_;
    std::vector<BundleRef>& have_;
    const std::size_t room_;
    Cache* cache_;
    bool fleeting_;
    Progress& progress_;
    const Job& job_;
    Shared shared_;
    std::vector<bool> need_;
    std::vector<int> waits_, readers_;
    std::vector<std::vector<int>> followers_;
    std::mutex mutex_;
    std::set<int> ready_;
    int running_ = 0;
    std::vector<std::size_t> in_turn_;  ///< bytes while a node runs, if all go in the plan's order
    std::vector<bool> done_;
    int first_ = 0, last_early_ = -1;  ///< the first that is not done; the last that started out of turn
    PlaneBook book_;
    std::size_t working_ = 0, early_ = 0;
    std::exception_ptr failure_;
    Fork fork_;
    tbb::task_group group_;
};

}  // namespace

void run_whole(const Plan& plan, std::vector<BundleRef>& have, std::size_t bytes, const RenderOptions& options,
               Progress& progress, const Job& job) {
    ReadyQueue(plan, have, bytes, options, progress, job).run();
}

std::size_t Node::row_bytes() const {
    const int planes = std::max(1, shape.channels) + (shape.coverage ? 1 : 0) + named_planes;
    return static_cast<std::size_t>(planes) * static_cast<std::size_t>(size.width) * sizeof(float);
}

std::size_t Node::working_bytes() const {
    const double planes = scratch_planes - shared_planes;
    const double more = planes * static_cast<double>(size.pixels() * sizeof(float));
    return static_cast<std::size_t>(std::max(0.0, static_cast<double>(bytes()) + more));
}

std::vector<std::size_t> Plan::last_uses() const {
    std::vector<std::size_t> last(nodes.size(), 0);
    for (std::size_t k = 0; k < nodes.size(); ++k) {
        last[k] = std::max(last[k], k);
        for (int input : nodes[k].inputs) last[static_cast<std::size_t>(input)] = k;
    }
    for (const auto& [wanted, node] : outputs) last[static_cast<std::size_t>(node)] = nodes.size();
    return last;
}

std::size_t Plan::peak_bytes() const {
    const auto last = last_uses();
    PlaneBook book(*this);
    std::size_t peak = 0;
    for (std::size_t k = 0; k < nodes.size(); ++k) {
        peak = std::max(peak, book.bytes() + nodes[k].working_bytes());
        book.take(static_cast<int>(k));
        for (std::size_t j = 0; j <= k; ++j)
            if (last[j] == k) book.let_go(static_cast<int>(j));
    }
    return peak;
}

}  // namespace loom
