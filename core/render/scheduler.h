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
#include <memory>
#include <mutex>
#include <string>
#include <thread>
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

/// What a piece of work is given.
struct Surface {
    const Job& job;         ///< to be looked at: work has to end within 100 ms of a cancel
    RenderOptions options;  ///< with the shared cache, and the threads that suit the urgency
    /// Calls what is given unless the client or this request is no longer wanted, while the client is kept from going away: the
    /// only place where work may touch who asked for it. False if it was not called. `late`: also of a request that was
    /// cancelled.
    std::function<bool(const std::function<void()>&, bool late)> answer;
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
