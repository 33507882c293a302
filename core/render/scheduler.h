// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The one place where work waits and runs: the cloth, cards and measures, the pictures of tries and samples, and files. Nobody
// joins a thread: who asks is told by a call from a worker, and who goes away is not called any more.
#pragma once

#include <condition_variable>
#include <cstdint>
#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <utility>
#include <vector>

#include "core/render/render.h"

namespace loom {

/// Each kind has a worker of its own, so that none waits for another: a cloth under a dragged slider for an export.
enum class Urgency {
    live,      ///< what a person is looking at while it changes; on all cores
    pictures,  ///< small pictures beside it; on one core
    files,     ///< what takes long: reading, export
};
constexpr int urgency_count = 3;

/// Memory that a piece of work may use while it holds this; see Surface::room.
class Lease {
public:
    Lease() = default;
    Lease(std::size_t bytes, std::function<void()> end) : bytes_(bytes), end_(std::move(end)) {}
    Lease(Lease&& other) noexcept : bytes_(other.bytes_), end_(std::exchange(other.end_, nullptr)) {}
    Lease& operator=(Lease&&) = delete;
    ~Lease() {
        if (end_) end_();
    }
    std::size_t bytes() const { return bytes_; }

private:
    std::size_t bytes_ = 0;
    std::function<void()> end_;
};

/// What a piece of work is given.
struct Surface {
    const Job& job;         ///< to be looked at: work has to end within 100 ms of a cancel
    RenderOptions options;  ///< with the shared cache, and the threads that suit the urgency
    /// Calls what is given unless the client or this request is no longer wanted, while the client is kept from going away: the
    /// only place where work may touch who asked for it. False if it was not called. `late`: also of a request that was
    /// cancelled.
    std::function<bool(const std::function<void()>&, bool late)> answer;
    /// Waits until what `announced` says it needs, given the options, is not taken by other work, or no other runs; then that
    /// much is taken. The options' memory limit is set to what is free.
    std::function<Lease(const std::function<std::size_t(const RenderOptions&)>& announced, RenderOptions& options)> room;
};

/// What to make of a recipe, for somebody who shows it.
struct Ask {
    Recipe recipe;
    std::vector<Wanted> wanted{Wanted{}};
    int longest = 256;             ///< pixels of the longer side
    int coarse = 0;                ///< of a first picture, which is made even if the rest is given up; 0, or not less: none
    std::optional<Region> region;  ///< only this part, of the one thing wanted
    std::size_t memory_limit = 0;  ///< bytes; 0: what the process may use
    bool fleeting = false;         ///< see RenderOptions
};

struct Answer {
    bool coarse = false;
    std::map<Wanted, Bundle> pictures;
    std::vector<std::string> warnings;
    double milliseconds = 0;
};

class Scheduler {
public:
    struct State;

    /// All renderings share one cache of `cache_bytes`.
    explicit Scheduler(std::size_t cache_bytes, const PictureReader* pictures);
    /// Gives up everything, and waits for nobody.
    ~Scheduler();
    Scheduler(const Scheduler&) = delete;

    Cache& cache();
    /// Waits until all workers have come to rest, at most so long; true if they have. For the end of a program, where what they
    /// use goes away.
    bool rest(int milliseconds);

private:
    friend class Client;
    std::shared_ptr<State> state_;
};

/// Someone who asks for work. Nothing of it runs or is answered once the client is gone; its end waits at most for an answer that
/// is being given.
class Client {
public:
    struct State;
    Client(Scheduler& scheduler, std::string name);
    ~Client();
    Client(const Client&) = delete;

    struct Request {
        Urgency urgency = Urgency::live;
        /// What this replaces: requests of the same slot that wait are dropped, one that runs is cancelled. "": nothing.
        std::string slot;
        /// Which document it belongs to; see begin_document.
        std::uint64_t document = 0;
        /// Called from any thread while it runs, as answers are; may be empty.
        std::function<void(double share)> progress;
        /// Runs on a worker; what it has to say goes through Surface::answer.
        std::function<void(const Surface&)> run;
    };
    /// Returns a number that rises.
    std::uint64_t submit(Request request);
    /// Makes pictures of a recipe: what is coarse first. `made` is called on the worker with each answer, or with what went wrong
    /// unless that is a cancel. `of` says how urgent and whose it is.
    std::uint64_t submit(Ask ask, Request of, std::function<void(const Result<Answer>&, const Surface&)> made);
    /// `rested` is called from a worker, as answers are, whenever nothing of this client waits or runs any more.
    void when_at_rest(std::function<void()> rested);
    /// Drops and cancels everything of another document, and answers nothing of it any more.
    void begin_document(std::uint64_t document);
    /// Gives up what was asked for under a slot.
    void drop(const std::string& slot);
    void cancel_all();
    /// Whether anything of this client waits or runs.
    bool busy() const;

private:
    std::shared_ptr<Scheduler::State> scheduler_;
    std::shared_ptr<State> state_;
};

}  // namespace loom
