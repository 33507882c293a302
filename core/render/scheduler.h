// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The one place where work waits and runs: the cloth, cards and measures, the pictures of tries and samples, and files. Nobody
// joins a thread: who asks is told where it wants to hear it, and who goes away is not called any more.
#pragma once

#include <chrono>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/render/render.h"
#include "core/render/task.h"

namespace loom {

/// Each kind has a worker of its own, so that none waits for another: a cloth under a dragged slider for an export, what is not
/// saved yet for a search. On all cores where it says nothing else.
enum class Urgency {
    live,      ///< what a person is looking at while it changes
    pictures,  ///< small pictures beside it; on one core
    reading,   ///< a file that somebody waits for
    saving,    ///< the recipe's own file
    search,    ///< trying one thing after the other for somebody who may stop it
    lengthy,   ///< exports, which take as long as they take
    journal,   ///< keeping what is not saved; on one core
};
constexpr int urgency_count = 7;

/// What of a limit in bytes work may use: a quarter is for live work alone, which therefore waits behind none that fits into
/// that.
std::size_t memory_for(Urgency urgency, std::size_t limit);

/// Memory that a piece of work may use while it holds this; see WorkContext::reserve.
class Reservation {
public:
    Reservation() = default;
    Reservation(std::size_t bytes, std::function<void()> end) : bytes_(bytes), end_(std::move(end)) {}
    Reservation(Reservation&& other) noexcept : bytes_(other.bytes_), end_(std::exchange(other.end_, nullptr)) {}
    Reservation& operator=(Reservation&&) = delete;
    ~Reservation() {
        if (end_) end_();
    }
    std::size_t bytes() const { return bytes_; }

private:
    std::size_t bytes_ = 0;
    std::function<void()> end_;
};

/// What a piece of work is given.
struct WorkContext {
    using Announced = std::function<std::size_t(const RenderOptions&)>;

    const Job& job;         ///< to be looked at: work has to end within 100 ms of a cancel
    RenderOptions options;  ///< with the shared cache, and the threads that suit the urgency
    /// Tells who asked, where it wants to hear it: calls what is given unless the client, the document or this work is no longer
    /// wanted then. The only way in which work may touch who asked for it. False if it is known already that nobody listens.
    std::function<bool(std::function<void()>)> tell;
    /// The same, also of work that was given up.
    std::function<bool(std::function<void()>)> tell_anyway;
    /// Waits until what `announced` says it needs, given the options, is not taken by other work, or no other runs; then that
    /// much is taken. The options' memory limit is set to what is free of memory_for.
    std::function<Reservation(const Announced& announced, RenderOptions& options)> reserve;
};

/// A piece of work, as it is asked for.
struct Work {
    /// Begins the sentence where it throws: "writing the sheet".
    std::string doing = "the work";
    Urgency urgency = Urgency::live;
    /// What this replaces: work of the same slot that waits is dropped, what runs is cancelled. "": nothing.
    std::string slot;
    /// Which document it belongs to; see Client::begin_document.
    std::uint64_t document = 0;
    /// Runs on a worker; what it has to say besides how it went goes through WorkContext::tell.
    std::function<Result<Done>(const WorkContext&)> run;
    /// Told once, of whatever document, after all that the work told; may be empty.
    std::function<void(const Ended&)> ended;
};

/// What to make of a recipe, for somebody who shows it.
struct PictureRequest {
    Recipe recipe;
    std::vector<Wanted> wanted{Wanted{}};
    int longest = 256;             ///< pixels of the longer side
    int coarse = 0;                ///< of a first picture, which is made even if the rest is given up; 0, or not less: none
    std::optional<Region> region;  ///< only this part, of the one thing wanted
    std::size_t memory_limit = 0;  ///< bytes; 0: what the process may use
    bool fleeting = false;         ///< see RenderOptions
};

struct PictureResponse {
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
    /// Gives up everything and waits until all workers have come to rest, at most so long; true if they have. For the end of a
    /// program, where what they use goes away.
    bool rest(int milliseconds);
    /// When nothing has waited or run for so long, the cache is cut down to `keep_bytes`, and what is free goes back to the
    /// system.
    void give_back_after(std::chrono::milliseconds rest, std::size_t keep_bytes);

private:
    friend class Client;
    std::shared_ptr<State> state_;
};

/// Someone who asks for work. Nothing of it runs or is told once the client is gone; its end waits at most for what is being
/// told.
class Client {
public:
    struct State;
    /// Carries a call to where the client wants to hear it, in order: to the thread of an interface. Empty: called at once, on
    /// whichever thread.
    using Post = std::function<void(std::function<void()>)>;
    /// `failed` hears of work that failed and has no `ended` of its own.
    Client(Scheduler& scheduler, std::string name, Post post = {}, std::function<void(const Error&)> failed = {});
    ~Client();
    Client(const Client&) = delete;

    Task submit(Work work);
    /// Makes pictures of a recipe, what is coarse first; `made` is called on the worker with each. `of` says how urgent it is,
    /// whose, and who hears of its end.
    Task submit(PictureRequest request, Work of, std::function<void(const PictureResponse&, const WorkContext&)> made);
    /// What `make` makes on a worker is told to `take`.
    template <class Made>
    Task submit(Work of, std::function<Result<Made>(const WorkContext&)> make, std::function<void(Made&)> take) {
        of.run = [make = std::move(make), take = std::move(take)](const WorkContext& context) -> Result<Done> {
            Result<Made> made = make(context);
            if (!made) return made.error();
            auto kept = std::make_shared<Made>(std::move(*made));
            context.tell([take, kept] { take(*kept); });
            return Done{};
        };
        return submit(std::move(of));
    }
    /// `rested` is told whenever nothing of this client waits or runs any more.
    void when_at_rest(std::function<void()> rested);
    /// Drops and cancels everything of another document; of that, only how it ended is told any more.
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
