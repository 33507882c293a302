// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What is asked for is answered once, in its turn; what is replaced, of another document or of somebody gone is not.
#include <atomic>
#include <chrono>
#include <future>
#include <thread>

#include "core/render/scheduler.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;
using namespace std::chrono_literals;

namespace {

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

/// Runs until it is cancelled, as a long rendering does.
Client::Request endless(std::atomic<int>& begun, std::atomic<int>& ended, std::string slot = "") {
    Client::Request request;
    request.slot = std::move(slot);
    request.run = [&](const Surface& surface) {
        ++begun;
        while (!surface.job.cancelled()) std::this_thread::sleep_for(1ms);
        ++ended;
    };
    return request;
}

Recipe heavy(std::uint32_t seed) {
    return recipe_of({strand_of("a", {{"clouds", {{"octaves", 8.0}}, seed},
                                      {"daub", {{"size", 12.0}}},
                                      {"directional", {{"length", 200.0}, {"direction", 30.0}}},
                                      {"median", {{"radius", 12.0}}}})},
                     1024);
}

}  // namespace

TEST_CASE("requests of one kind run in their order, and are answered", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    std::mutex mutex;
    std::vector<int> order;
    for (int k = 0; k < 20; ++k) {
        Client::Request request;
        request.urgency = Urgency::pictures;
        request.run = [&, k](const Surface& surface) {
            CHECK(surface.options.threads == 1);
            surface.answer(
                [&] {
                    const std::lock_guard lock(mutex);
                    order.push_back(k);
                },
                false);
        };
        client.submit(std::move(request));
    }
    REQUIRE(eventually([&] { return !client.busy(); }));
    CHECK(order.size() == 20);
    CHECK(std::is_sorted(order.begin(), order.end()));
}

TEST_CASE("a request replaces the one of its slot, which is told before the next begins", "[scheduler][cancel]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    static std::atomic<int> begun = 0, ended = 0;
    client.submit(endless(begun, ended, "cloth"));
    REQUIRE(eventually([&] { return begun == 1; }));
    client.submit(endless(begun, ended, "cloth"));
    REQUIRE(eventually([&] { return begun == 2; }));
    CHECK(ended == 1);
    // Another slot waits for its turn and replaces nothing.
    client.submit(endless(begun, ended, "other"));
    std::this_thread::sleep_for(30ms);
    CHECK(begun == 2);
    client.drop("cloth");
    REQUIRE(eventually([&] { return begun == 3; }));
}

TEST_CASE("a file under way keeps nobody waiting", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    static std::atomic<int> begun = 0, ended = 0, live = 0;
    Client::Request file = endless(begun, ended);
    file.urgency = Urgency::files;
    client.submit(std::move(file));
    Client::Request cloth;
    cloth.run = [&](const Surface& surface) { surface.answer([&] { ++live; }, false); };
    client.submit(std::move(cloth));
    CHECK(eventually([&] { return live == 1; }));
    CHECK(ended == 0);
}

TEST_CASE("nothing of an old document is answered to a new one", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    client.begin_document(1);
    static std::atomic<int> begun = 0, answers = 0, refused = 0;
    std::promise<void> go;
    std::shared_future<void> gone = go.get_future().share();
    Client::Request request;
    request.document = 1;
    request.run = [&](const Surface& surface) {
        ++begun;
        gone.wait();
        if (!surface.answer([&] { ++answers; }, true)) ++refused;
    };
    client.submit(std::move(request));
    // Under way when the document changes.
    REQUIRE(eventually([&] { return begun == 1; }));
    client.begin_document(2);
    go.set_value();
    REQUIRE(eventually([&] { return !client.busy() && refused == 1; }));
    CHECK(answers == 0);
}

TEST_CASE("who goes away waits for nobody and hears no more", "[scheduler][cancel]") {
    Rested scheduler(1 << 20, nullptr);
    static std::atomic<int> begun = 0, heard = 0, refused = 0;
    auto client = std::make_unique<Client>(scheduler, "a");
    std::promise<void> go;
    std::shared_future<void> gone = go.get_future().share();
    Client::Request request;
    request.run = [gone](const Surface& surface) {
        ++begun;
        gone.wait();
        if (!surface.answer([] { ++heard; }, true)) ++refused;
    };
    client->submit(std::move(request));
    REQUIRE(eventually([&] { return begun == 1; }));
    // The work cannot end before it is let go: a client that waited for it would wait for ever.
    std::atomic<bool> left = false;
    std::thread leaving([&] { client.reset(), left = true; });
    CHECK(eventually([&] { return left.load(); }));
    go.set_value();
    leaving.join();
    CHECK(scheduler.rest(10000));
    CHECK(refused == 1);
    CHECK(heard == 0);
}

TEST_CASE("a rendering that nobody waits for any more is given up before its end", "[scheduler][cancel]") {
    Rested scheduler(std::size_t{64} << 20, nullptr);
    static std::atomic<int> begun = 0, whole = 0, given_up = 0;
    auto client = std::make_unique<Client>(scheduler, "a");
    for (std::uint32_t k = 0; k < 4; ++k) {
        Client::Request request;
        request.run = [k](const Surface& surface) {
            ++begun;
            const auto picture = render_cloth(heavy(k), {1024, 1024}, surface.options, surface.job);
            ++(picture ? whole : given_up);
        };
        client->submit(std::move(request));
    }
    REQUIRE(eventually([&] { return begun > 0; }));
    client.reset();
    CHECK(scheduler.rest(10000));
    // Those that waited never begin; a rendering may have been done just then.
    CHECK(whole + given_up == begun);
    CHECK(begun < 4);
    CHECK(given_up == 1);
}

TEST_CASE("progress reaches who asked, and work that throws takes nothing with it", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    static std::atomic<double> share = 0;
    static std::atomic<int> ran = 0;
    Client::Request broken;
    broken.run = [](const Surface&) { throw std::bad_alloc(); };
    client.submit(std::move(broken));
    Client::Request request;
    request.progress = [&](double now) { share = now; };
    request.run = [&](const Surface& surface) {
        surface.job.report(0.5);
        ++ran;
    };
    client.submit(std::move(request));
    REQUIRE(eventually([&] { return ran == 1; }));
    CHECK(share == 0.5);
}

TEST_CASE("renderings of all kinds share one cache", "[scheduler][cache]") {
    Rested scheduler(std::size_t{64} << 20, nullptr);
    Client one(scheduler, "one"), two(scheduler, "two");
    static std::atomic<int> cached = -1;
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 3}, {"gaussian", {}}})}, 256);
    auto ask = [&](Client& client, Urgency urgency) {
        Client::Request request;
        request.urgency = urgency;
        request.run = [&](const Surface& surface) {
            const auto rendering = render(recipe, {256, 256}, {Wanted{}}, surface.options, surface.job);
            int found = 0;
            if (rendering)
                for (const NodeTiming& node : rendering->timings) found += node.cached;
            cached = found;
        };
        client.submit(std::move(request));
        REQUIRE(eventually([&] { return !client.busy(); }));
    };
    ask(one, Urgency::live);
    CHECK(cached == 0);
    ask(two, Urgency::pictures);
    CHECK(cached > 0);
}

TEST_CASE("a recipe asked for is answered coarse, then full, with the bytes of a rendering", "[scheduler]") {
    Rested scheduler(std::size_t{64} << 20, nullptr);
    Client client(scheduler, "a");
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 3}, {"gaussian", {{"radius", 4.0}}}})}, 128);
    struct Heard {
        bool coarse;
        Bundle picture;
    };
    std::mutex mutex;
    std::vector<Heard> heard;
    auto listen = [&](const Result<Answer>& answer, const Surface& surface) {
        REQUIRE(answer);
        surface.answer(
            [&] {
                const std::lock_guard lock(mutex);
                heard.push_back({answer->coarse, answer->pictures.begin()->second});
            },
            answer->coarse);
    };
    Ask ask;
    ask.recipe = recipe, ask.longest = 128, ask.coarse = 32;
    client.submit(ask, {}, listen);
    REQUIRE(eventually([&] { return !client.busy(); }));
    REQUIRE(heard.size() == 2);
    CHECK(heard[0].coarse);
    CHECK(heard[0].picture.size() == Size{32, 32});
    CHECK_FALSE(heard[1].coarse);
    CHECK(same_bytes(heard[1].picture, cloth(recipe, {128, 128})));
    // A part, across the tile's edge; what is no smaller than the full picture is not made first.
    heard.clear();
    ask.coarse = 128, ask.region = Region{100, -10, 40, 30};
    client.submit(ask, {}, listen);
    REQUIRE(eventually([&] { return !client.busy(); }));
    REQUIRE(heard.size() == 1);
    REQUIRE(heard[0].picture.size() == Size{40, 30});
    const Bundle whole = cloth(recipe, {128, 128});
    int wrong = 0;
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 40; ++x) wrong += heard[0].picture.channel(0).at(x, y) != whole.channel(0).wrapped(100 + x, y - 10);
    CHECK(wrong == 0);
    // Maps and steps, several at once.
    std::map<Wanted, Bundle> pictures;
    ask.region.reset(), ask.longest = 64, ask.coarse = 0;
    ask.wanted = {Wanted{}, {Wanted::What::step, "a", "s1", Map::height}, {Wanted::What::map, "", "", Map::normal}};
    client.submit(ask, {}, [&](const Result<Answer>& answer, const Surface&) { pictures = answer->pictures; });
    REQUIRE(eventually([&] { return !client.busy(); }));
    CHECK(pictures.size() == 3);
}

TEST_CASE("pictures that follow a hand leave in the cache no more than two of them", "[scheduler][cache]") {
    Rested scheduler(std::size_t{64} << 20, nullptr);
    Client client(scheduler, "a");
    auto follow = [&](double radius, bool fleeting) {
        Ask ask;
        ask.recipe = recipe_of({strand_of("a", {{"clouds", {}, 3}, {"gaussian", {{"radius", radius}}}})}, 128);
        ask.longest = 128, ask.fleeting = fleeting;
        client.submit(ask, {}, [](const Result<Answer>& answer, const Surface&) { CHECK(answer); });
        REQUIRE(eventually([&] { return !client.busy(); }));
        return scheduler.cache().bytes();
    };
    follow(2, false);
    follow(3, true);
    const std::size_t two = follow(4, true);
    for (double radius = 5; radius < 15; ++radius) CHECK(follow(radius, true) == two);
    CHECK(follow(20, false) > two);
}

TEST_CASE("what cannot be made is told in a sentence, what was given up is not told at all", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    std::vector<std::string> faults;
    Ask ask;
    ask.recipe = recipe_of({strand_of("a", {{"clouds", {}}})}, 512), ask.longest = 512, ask.memory_limit = 1000;
    client.submit(ask, {}, [&](const Result<Answer>& answer, const Surface&) {
        if (!answer) faults.push_back(answer.error().message);
    });
    REQUIRE(eventually([&] { return !client.busy(); }));
    REQUIRE(faults.size() == 1);
    CHECK_THAT(faults[0], Catch::Contains("choose a smaller size"));
    faults.clear();
    static std::atomic<int> coarse = 0;
    ask.recipe = heavy(1), ask.longest = 1024, ask.coarse = 16, ask.memory_limit = 0;
    client.submit(ask, {}, [&](const Result<Answer>& answer, const Surface&) {
        if (!answer)
            faults.push_back(answer.error().message);
        else if (answer->coarse)
            ++coarse;
    });
    REQUIRE(eventually([&] { return coarse == 1; }));
    client.cancel_all();
    REQUIRE(eventually([&] { return !client.busy(); }));
    CHECK(faults.empty());
}

TEST_CASE("work waits for the memory that other work holds, and goes on when it is free or given up", "[scheduler][memory]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    constexpr std::size_t mib = std::size_t{1} << 20;
    static std::atomic<bool> holds = false, let_go = false;
    static std::atomic<int> got = 0;
    auto holder = [&](Urgency urgency, std::size_t bytes, std::atomic<bool>* until) {
        Client::Request request;
        request.urgency = urgency;
        request.run = [&, bytes, until](const Surface& surface) {
            RenderOptions options = surface.options;
            options.memory_limit = 100 * mib;
            const Lease lease = surface.room([&](const RenderOptions&) { return bytes; }, options);
            CHECK(lease.bytes() == bytes);
            ++got;
            if (!until) return;
            holds = true;
            while (!*until) std::this_thread::sleep_for(1ms);
        };
        client.submit(std::move(request));
    };
    holder(Urgency::files, 70 * mib, &let_go);
    REQUIRE(eventually([&] { return holds.load(); }));
    // What fits beside it does not wait.
    holder(Urgency::live, 20 * mib, nullptr);
    REQUIRE(eventually([&] { return got == 2; }));
    holder(Urgency::pictures, 40 * mib, nullptr);
    std::this_thread::sleep_for(30ms);
    CHECK(got == 2);
    let_go = true;
    REQUIRE(eventually([&] { return got == 3 && !client.busy(); }));
}

TEST_CASE("a client is told when nothing of it waits or runs any more", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    static std::atomic<int> rested = 0, ran = 0;
    {
        Client client(scheduler, "a");
        client.when_at_rest([&] { ++rested; });
        for (int k = 0; k < 5; ++k) {
            Client::Request request;
            request.urgency = Urgency::pictures;
            request.run = [&](const Surface&) {
                std::this_thread::sleep_for(2ms);
                ++ran;
            };
            client.submit(std::move(request));
        }
        REQUIRE(eventually([&] { return rested >= 1 && ran == 5; }));
        CHECK(rested == 1);
        static std::atomic<int> begun = 0, ended = 0;
        client.submit(endless(begun, ended));
        REQUIRE(eventually([&] { return begun == 1; }));
    }
    // Nobody is told once it is gone.
    std::this_thread::sleep_for(30ms);
    CHECK(rested == 1);
}
