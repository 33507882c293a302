// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/scheduler.h"

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <list>
#include <mutex>
#include <set>
#include <thread>

#include "core/base/priority.h"
#include "core/base/guard.h"
#include "core/base/memory.h"
#include "core/render/task_state.h"

namespace loom {

bool Task::under_way() const { return state_ && !state_->told; }
double Task::share() const { return state_ ? state_->share.load() : 0.0; }
std::optional<Ended> Task::ended() const { return state_ ? state_->ended() : Ended{}; }
void Task::stop() const {
    if (state_) state_->stop();
}

std::size_t memory_for(Urgency urgency, std::size_t limit) { return urgency == Urgency::live ? limit : limit - limit / 4; }

struct Client::State {
    std::string name;
    Post post;
    std::function<void(const Error&)> failed;
    mutable std::recursive_mutex telling;  ///< held while something is told: a client may go away in answer to it
    bool gone = false;
    std::uint64_t document = 0;
    std::function<void()> rested;

    bool is_gone() const {
        const std::lock_guard lock(telling);
        return gone;
    }

    /// Where the client wants to hear it, unless it is gone by then; `otherwise` is called in its stead.
    static bool carry(const std::shared_ptr<State>& state, std::function<void()> call, std::function<void()> otherwise = {}) {
        const std::lock_guard lock(state->telling);
        if (state->gone) {
            if (otherwise) otherwise();
            return false;
        }
        if (!state->post) return call(), true;
        // There it cannot go away but in answer to the call, so that the lock is not held meanwhile and no worker waits for it.
        state->post([state, call = std::move(call), otherwise = std::move(otherwise)] {
            if (!state->is_gone())
                call();
            else if (otherwise)
                otherwise();
        });
        return true;
    }
};

namespace {

using Clock = std::chrono::steady_clock;

struct Entry {
    std::shared_ptr<Client::State> client;
    Work work;
    std::uint64_t number = 0;
    std::shared_ptr<Task::State> task;
};

std::function<bool(std::function<void()>)> telling(const Entry& entry, bool anyway) {
    return [client = entry.client, task = entry.task, document = entry.work.document, anyway](std::function<void()> call) {
        const auto wanted = [client, task, document, anyway] {
            return client->document == document && (anyway || !task->job.cancelled());
        };
        const std::lock_guard lock(client->telling);
        if (client->gone || !wanted()) return false;
        return Client::State::carry(client, [wanted, call = std::move(call)] {
            if (wanted()) call();
        });
    };
}

/// The one place where work ends.
void end(const Entry& entry, Ended how) {
    if (!entry.task->end(how)) return;
    const auto told = [task = entry.task] { task->told = true; };
    Client::State::carry(
        entry.client,
        [told, how, client = entry.client.get(), ended = entry.work.ended] {
            told();
            if (ended)
                ended(how);
            else if (how.failed() && client->failed)
                client->failed(how.error);
        },
        told);
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
    std::size_t reserved = 0, reserved_live = 0;    ///< bytes that running work may use, and what of them is live work's
    std::optional<std::chrono::milliseconds> rest;  ///< after which memory is given back
    std::size_t keep_bytes = 0;                     ///< that the cache keeps then
    Clock::time_point at_rest_since = Clock::now();
    bool gave_back = false;  ///< since anything was asked for
    bool ended = false;

    State(std::size_t bytes, const PictureReader* reader) : cache(bytes), pictures(reader) {}

    bool has_any(const std::shared_ptr<Client::State>& client) const {
        auto mine = [&](const Entry& entry) { return entry.client == client; };
        return std::any_of(waiting.begin(), waiting.end(), mine) || std::any_of(running.begin(), running.end(), mine);
    }

    /// Drops what waits and cancels what runs.
    template <class Which>
    void give_up(Which&& which) {
        std::list<Entry> dropped;  // ends without the lock: its work may hold a recipe, and who asked may ask again
        {
            const std::lock_guard lock(mutex);
            for (auto entry = waiting.begin(); entry != waiting.end();) {
                const auto next = std::next(entry);
                if (which(*entry)) dropped.splice(dropped.end(), waiting, entry);
                entry = next;
            }
            for (Entry& entry : running)
                if (which(entry)) entry.task->job.cancel();
            at_rest_since = Clock::now();
            changed.notify_all();
        }
        std::set<std::shared_ptr<Client::State>> clients;
        for (const Entry& entry : dropped) {
            end(entry, {Outcome::stopped, {}});
            clients.insert(entry.client);
        }
        for (const auto& client : clients) tell_rest(client);
    }

    void tell_rest(const std::shared_ptr<Client::State>& client) const {
        {
            const std::lock_guard lock(mutex);
            if (has_any(client)) return;
        }
        const std::lock_guard lock(client->telling);
        if (client->rested) Client::State::carry(client, client->rested);
    }

    static Reservation reserve(const std::shared_ptr<State>& state, const Entry& entry, const WorkContext::Announced& announced,
                               RenderOptions& options) {
        const std::size_t whole = options.memory_limit ? options.memory_limit : Memory::process().limit();
        const bool live = entry.work.urgency == Urgency::live;
        const std::size_t limit = memory_for(entry.work.urgency, whole);
        const Job& job = entry.task->job;
        const auto less = [](std::size_t all, std::size_t some) { return some < all ? all - some : 1; };
        std::unique_lock lock(state->mutex);
        for (;;) {
            const std::size_t reserved = state->reserved, others = live ? reserved : reserved - state->reserved_live;
            options.memory_limit = std::min(less(whole, reserved), less(limit, others));
            lock.unlock();
            const std::size_t bytes = announced(options);
            lock.lock();
            // Others may have taken room meanwhile, or left some.
            if (state->reserved != reserved && !job.cancelled()) continue;
            // Whoever is too large even with nobody beside it is told so by the rendering.
            if (reserved == 0 || job.cancelled() || bytes <= options.memory_limit) {
                if (reserved == 0 || job.cancelled()) options.memory_limit = limit;
                const auto take = [state, live](std::size_t more, std::size_t back) {
                    state->reserved += more - back;
                    if (live) state->reserved_live += more - back;
                };
                take(bytes, 0);
                return Reservation(bytes, [state, take, bytes] {
                    const std::lock_guard end(state->mutex);
                    take(0, bytes);
                    state->changed.notify_all();
                });
            }
            state->changed.wait(lock, [&] { return state->reserved != reserved || job.cancelled(); });
        }
    }

    /// Waits until it is, or anything has changed.
    void give_back_if_due(std::unique_lock<std::mutex>& lock) {
        if (!waiting.empty() || !running.empty()) return changed.wait(lock);
        const auto due = at_rest_since + *rest;
        if (Clock::now() < due) {
            changed.wait_until(lock, due);
            return;
        }
        gave_back = true;
        const std::size_t keep = keep_bytes;
        lock.unlock();
        if (const std::size_t held = cache.bytes(); held > keep) cache.yield(held - keep);
        Memory::process().release();
        give_freed_memory_back();
        lock.lock();
    }

    static Ended run(const std::shared_ptr<State>& state, const Entry& entry) {
        RenderOptions options;
        options.cache = &state->cache, options.pictures = state->pictures;
        const bool beside = entry.work.urgency == Urgency::pictures || entry.work.urgency == Urgency::journal;
        options.threads = beside ? 1 : 0;
        const WorkContext context{
            entry.task->job, options, telling(entry, false), telling(entry, true),
            [&](const WorkContext::Announced& announced, RenderOptions& of) { return reserve(state, entry, announced, of); }};
        if (entry.task->job.cancelled()) return {Outcome::stopped, {}};
        const auto done = guarded(entry.work.doing, [&] { return entry.work.run(context); });
        if (done) return {};
        return {done.error().fault == Fault::cancelled ? Outcome::stopped : Outcome::failed, done.error()};
    }

    static void work(std::shared_ptr<State> state, Urgency urgency) {
        for (;;) {
            std::list<Entry> mine;
            {
                std::unique_lock lock(state->mutex);
                auto next = state->waiting.end();
                const auto wanted = [&] {
                    next = std::find_if(state->waiting.begin(), state->waiting.end(),
                                        [&](const Entry& entry) { return entry.work.urgency == urgency; });
                    return state->ended || next != state->waiting.end();
                };
                // One of the workers sees to the memory while it has nothing else to do.
                while (!wanted())
                    if (urgency == Urgency::pictures && state->rest && !state->gave_back)
                        state->give_back_if_due(lock);
                    else
                        state->changed.wait(lock);
                if (state->ended) return;
                state->running.splice(state->running.end(), state->waiting, next);
                mine.push_back(state->running.back());
            }
            const Entry& entry = mine.front();
            end(entry, run(state, entry));
            {
                const std::lock_guard lock(state->mutex);
                state->running.remove_if([&](const Entry& each) { return each.number == entry.number; });
                state->at_rest_since = Clock::now();
                state->changed.notify_all();
            }
            state->tell_rest(entry.client);
        }
    }
};

Scheduler::Scheduler(std::size_t cache_bytes, const PictureReader* pictures)
    : state_(std::make_shared<State>(cache_bytes, pictures)) {
    for (int k = 0; k < urgency_count; ++k)
        std::thread([state = state_, urgency = static_cast<Urgency>(k)] {
            step_back();
            State::work(state, urgency);
        }).detach();
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

void Scheduler::give_back_after(std::chrono::milliseconds rest, std::size_t keep_bytes) {
    const std::lock_guard lock(state_->mutex);
    state_->rest = rest, state_->keep_bytes = keep_bytes;
    state_->changed.notify_all();
}

Client::Client(Scheduler& scheduler, std::string name, Post post, std::function<void(const Error&)> failed)
    : scheduler_(scheduler.state_), state_(std::make_shared<State>()) {
    state_->name = std::move(name), state_->post = std::move(post), state_->failed = std::move(failed);
}

Client::~Client() {
    {
        const std::lock_guard lock(state_->telling);
        state_->gone = true;
    }
    cancel_all();
}

Task Client::submit(Work work) {
    if (!work.slot.empty()) drop(work.slot);
    Entry entry;
    entry.client = state_, entry.task = std::make_shared<Task::State>(), entry.work = std::move(work);
    const Task task(entry.task);
    const std::lock_guard lock(scheduler_->mutex);
    entry.number = ++scheduler_->numbers;
    entry.task->stop = [scheduler = std::weak_ptr(scheduler_), number = entry.number] {
        if (const auto there = scheduler.lock()) there->give_up([&](const Entry& each) { return each.number == number; });
    };
    scheduler_->waiting.push_back(std::move(entry));
    scheduler_->gave_back = false;
    scheduler_->changed.notify_all();
    return task;
}

namespace {

Result<PictureResponse> made(const PictureRequest& request, int longest, const WorkContext& context, const Job& job) {
    const auto start = Clock::now();
    const Size size = size_for(request.recipe.tile, longest);
    RenderOptions options = context.options;
    options.memory_limit = request.memory_limit, options.fleeting = request.fleeting;
    const Reservation reservation = context.reserve(
        [&](const RenderOptions& of) {
            return announced_bytes(make_plan(request.recipe, size, request.wanted, of.pictures, &job), of);
        },
        options);
    PictureResponse response;
    response.coarse = longest < request.longest;
    if (request.region && !response.coarse) {
        auto part = render_region(request.recipe, size, request.wanted.front(), *request.region, options, job);
        if (!part) return part.error();
        response.pictures[request.wanted.front()] = std::move(*part);
    } else {
        auto rendering = render(request.recipe, size, request.wanted, options, job);
        if (!rendering) return rendering.error();
        response.pictures = std::move(rendering->results), response.warnings = std::move(rendering->warnings);
    }
    response.milliseconds = std::chrono::duration<double, std::milli>(Clock::now() - start).count();
    return response;
}

}  // namespace

Task Client::submit(PictureRequest request, Work of, std::function<void(const PictureResponse&, const WorkContext&)> take) {
    of.doing = "rendering '" + request.recipe.name + "'";
    of.run = [request = std::move(request), take = std::move(take)](const WorkContext& context) -> Result<Done> {
        auto make = [&](int longest, const Job& job) -> Result<Done> {
            const auto response = made(request, longest, context, job);
            if (!response) return response.error();
            take(*response, context);
            return Done{};
        };
        if (request.coarse > 0 && request.coarse < request.longest) {
            // What is coarse has a job of its own that nobody cancels: it is short, and keeps a drag alive.
            const Job never;
            if (const auto first = make(request.coarse, never); !first) return first;
            context.job.check();
        }
        return make(request.longest, context.job);
    };
    return submit(std::move(of));
}

void Client::when_at_rest(std::function<void()> rested) {
    const std::lock_guard lock(state_->telling);
    state_->rested = std::move(rested);
}

void Client::begin_document(std::uint64_t document) {
    {
        const std::lock_guard lock(state_->telling);
        state_->document = document;
    }
    scheduler_->give_up([&](const Entry& entry) { return entry.client == state_ && entry.work.document != document; });
}

void Client::drop(const std::string& slot) {
    scheduler_->give_up([&](const Entry& entry) { return entry.client == state_ && entry.work.slot == slot; });
}

void Client::cancel_all() {
    scheduler_->give_up([&](const Entry& entry) { return entry.client == state_; });
}

bool Client::busy() const {
    const std::lock_guard lock(scheduler_->mutex);
    return scheduler_->has_any(state_);
}

}  // namespace loom
