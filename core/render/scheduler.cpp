// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/scheduler.h"

#include <algorithm>
#include <chrono>
#include <list>

#include "core/base/guard.h"
#include "core/base/memory.h"

namespace loom {

struct Client::State {
    std::string name;
    mutable std::recursive_mutex answering;  ///< held while an answer is given: a client may go away in answer to one
    bool gone = false;
    std::uint64_t document = 0;
    std::function<void()> rested;

    void rest() {
        const std::lock_guard lock(answering);
        if (!gone && rested) rested();
    }
};

namespace {

struct Entry {
    std::shared_ptr<Client::State> client;
    Client::Request request;
    std::uint64_t number = 0;
    std::shared_ptr<Job> job;
};

std::function<bool(const std::function<void()>&, bool)> answering(const Entry& entry) {
    return [client = entry.client, job = entry.job, document = entry.request.document](const std::function<void()>& deliver,
                                                                                       bool late) {
        const std::lock_guard lock(client->answering);
        if (client->gone || client->document != document || (!late && job->cancelled())) return false;
        deliver();
        return true;
    };
}

}  // namespace

/// Workers hold it, so that it outlives whoever began it.
struct Scheduler::State {
    Cache cache;
    const PictureReader* pictures;
    mutable std::mutex mutex;
    std::condition_variable changed;
    std::list<Entry> waiting;
    std::list<Entry> running;
    std::uint64_t numbers = 0;
    std::size_t leased = 0;  ///< bytes that running work may use
    int workers = 0;
    bool ended = false;

    State(std::size_t bytes, const PictureReader* reader) : cache(bytes), pictures(reader) {}

    bool has_any(const std::shared_ptr<Client::State>& client) const {
        auto mine = [&](const Entry& entry) { return entry.client == client; };
        return std::any_of(waiting.begin(), waiting.end(), mine) || std::any_of(running.begin(), running.end(), mine);
    }

    /// Drops what waits and cancels what runs.
    template <class Which>
    void give_up(Which&& which) {
        std::list<Entry> dropped;  // its work may hold a recipe, and goes without the lock
        const std::lock_guard lock(mutex);
        for (auto entry = waiting.begin(); entry != waiting.end();) {
            const auto next = std::next(entry);
            if (which(*entry)) dropped.splice(dropped.end(), waiting, entry);
            entry = next;
        }
        for (Entry& entry : running)
            if (which(entry)) entry.job->cancel();
        changed.notify_all();
    }

    static Lease room(const std::shared_ptr<State>& state, const Job& job,
                      const std::function<std::size_t(const RenderOptions&)>& announced, RenderOptions& options) {
        const std::size_t limit = options.memory_limit ? options.memory_limit : Memory::process().limit();
        std::unique_lock lock(state->mutex);
        for (;;) {
            const std::size_t leased = state->leased;
            options.memory_limit = leased < limit ? limit - leased : 1;
            lock.unlock();
            const std::size_t bytes = announced(options);
            lock.lock();
            // Others may have taken room meanwhile, or left some.
            if (state->leased != leased && !job.cancelled()) continue;
            // Whoever is too large even with nobody beside it is told so by the rendering.
            if (leased == 0 || job.cancelled() || bytes <= options.memory_limit) {
                if (leased == 0 || job.cancelled()) options.memory_limit = limit;
                state->leased += bytes;
                return Lease(bytes, [state, bytes] {
                    const std::lock_guard end(state->mutex);
                    state->leased -= bytes;
                    state->changed.notify_all();
                });
            }
            state->changed.wait(lock, [&] { return state->leased != leased || job.cancelled(); });
        }
    }

    static void work(std::shared_ptr<State> state, Urgency urgency) {
        for (;;) {
            std::list<Entry> mine;
            {
                std::unique_lock lock(state->mutex);
                auto next = state->waiting.end();
                state->changed.wait(lock, [&] {
                    next = std::find_if(state->waiting.begin(), state->waiting.end(),
                                        [&](const Entry& entry) { return entry.request.urgency == urgency; });
                    return state->ended || next != state->waiting.end();
                });
                if (state->ended) break;
                state->running.splice(state->running.end(), state->waiting, next);
                mine.push_back(state->running.back());
            }
            const Entry& entry = mine.front();
            RenderOptions options;
            options.cache = &state->cache, options.pictures = state->pictures;
            options.threads = urgency == Urgency::pictures ? 1 : 0;
            bool at_rest = false;
            try {
                auto room_for = [&](const std::function<std::size_t(const RenderOptions&)>& announced, RenderOptions& of) {
                    return room(state, *entry.job, announced, of);
                };
                if (!entry.job->cancelled()) entry.request.run({*entry.job, options, answering(entry), room_for});
            } catch (...) {
                // Work answers for its own faults; what it throws all the same ends it.
            }
            {
                const std::lock_guard lock(state->mutex);
                state->running.remove_if([&](const Entry& each) { return each.number == entry.number; });
                at_rest = !state->has_any(entry.client);
                state->changed.notify_all();
            }
            if (at_rest) entry.client->rest();
        }
        const std::lock_guard lock(state->mutex);
        --state->workers;
        state->changed.notify_all();
    }
};

Scheduler::Scheduler(std::size_t cache_bytes, const PictureReader* pictures)
    : state_(std::make_shared<State>(cache_bytes, pictures)) {
    state_->workers = urgency_count;
    for (int k = 0; k < urgency_count; ++k) std::thread(State::work, state_, static_cast<Urgency>(k)).detach();
}

Scheduler::~Scheduler() {
    state_->give_up([](const Entry&) { return true; });
    const std::lock_guard lock(state_->mutex);
    state_->ended = true;
    state_->changed.notify_all();
}

Cache& Scheduler::cache() { return state_->cache; }

bool Scheduler::rest(int milliseconds) {
    state_->give_up([](const Entry&) { return true; });
    std::unique_lock lock(state_->mutex);
    return state_->changed.wait_for(lock, std::chrono::milliseconds(milliseconds), [&] { return state_->running.empty(); });
}

Client::Client(Scheduler& scheduler, std::string name) : scheduler_(scheduler.state_), state_(std::make_shared<State>()) {
    state_->name = std::move(name);
}

Client::~Client() {
    {
        const std::lock_guard lock(state_->answering);
        state_->gone = true;
    }
    cancel_all();
}

std::uint64_t Client::submit(Request request) {
    if (!request.slot.empty()) drop(request.slot);
    const std::lock_guard lock(scheduler_->mutex);
    Entry entry;
    entry.client = state_, entry.number = ++scheduler_->numbers;
    if (request.progress)
        entry.job = std::make_shared<Job>([client = state_, tell = request.progress](double share) {
            const std::lock_guard answering(client->answering);
            if (!client->gone) tell(share);
        });
    else
        entry.job = std::make_shared<Job>();
    entry.request = std::move(request);
    scheduler_->waiting.push_back(std::move(entry));
    scheduler_->changed.notify_all();
    return scheduler_->numbers;
}

namespace {

Result<Answer> answered(const Ask& ask, int longest, const Surface& surface, const Job& job) {
    const auto start = std::chrono::steady_clock::now();
    const Size size = size_for(ask.recipe.tile, longest);
    RenderOptions options = surface.options;
    options.memory_limit = ask.memory_limit, options.fleeting = ask.fleeting;
    const Lease lease = surface.room(
        [&](const RenderOptions& of) { return announced_bytes(make_plan(ask.recipe, size, ask.wanted, of.pictures, &job), of); },
        options);
    Answer answer;
    answer.coarse = longest < ask.longest;
    if (ask.region && !answer.coarse) {
        auto part = render_region(ask.recipe, size, ask.wanted.front(), *ask.region, options, job);
        if (!part) return part.error();
        answer.pictures[ask.wanted.front()] = std::move(*part);
    } else {
        auto rendering = render(ask.recipe, size, ask.wanted, options, job);
        if (!rendering) return rendering.error();
        answer.pictures = std::move(rendering->results), answer.warnings = std::move(rendering->warnings);
    }
    answer.milliseconds = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    return answer;
}

}  // namespace

std::uint64_t Client::submit(Ask ask, Request of, std::function<void(const Result<Answer>&, const Surface&)> made) {
    of.run = [ask = std::move(ask), made = std::move(made)](const Surface& surface) {
        const auto done = guarded("rendering '" + ask.recipe.name + "'", [&]() -> Result<Done> {
            auto make = [&](int longest, const Job& job) -> Result<Done> {
                const auto answer = answered(ask, longest, surface, job);
                if (!answer) return answer.error();
                made(answer, surface);
                return Done{};
            };
            if (ask.coarse > 0 && ask.coarse < ask.longest) {
                // What is coarse has a job of its own that nobody cancels: it is short, and keeps a drag alive.
                const Job never;
                const auto first = make(ask.coarse, never);
                if (!first || surface.job.cancelled()) return first;
            }
            return make(ask.longest, surface.job);
        });
        if (!done && done.error().fault != Fault::cancelled) made(done.error(), surface);
    };
    return submit(std::move(of));
}

void Client::when_at_rest(std::function<void()> rested) {
    const std::lock_guard lock(state_->answering);
    state_->rested = std::move(rested);
}

void Client::begin_document(std::uint64_t document) {
    {
        const std::lock_guard lock(state_->answering);
        state_->document = document;
    }
    scheduler_->give_up([&](const Entry& entry) { return entry.client == state_ && entry.request.document != document; });
}

void Client::drop(const std::string& slot) {
    scheduler_->give_up([&](const Entry& entry) { return entry.client == state_ && entry.request.slot == slot; });
}

void Client::cancel_all() {
    scheduler_->give_up([&](const Entry& entry) { return entry.client == state_; });
}

bool Client::busy() const {
    const std::lock_guard lock(scheduler_->mutex);
    return scheduler_->has_any(state_);
}

}  // namespace loom
