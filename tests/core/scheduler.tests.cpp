// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What is asked for is answered once, in its turn; what is replaced, of another document or of somebody gone is not.
#include <atomic>
#include <chrono>
#include <future>
#include <thread>

#include "core/base/memory.h"
#include "tests/support/scheduling.h"

using namespace loom;
using namespace loom::test;

namespace {

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
        Work request;
        request.urgency = Urgency::pictures;
        request.run = runs([&, k](const WorkContext& context) {
            CHECK(context.options.threads == 1);
            context.tell([&] {
                const std::lock_guard lock(mutex);
                order.push_back(k);
            });
        });
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
    Work file = endless(begun, ended);
    file.urgency = Urgency::lengthy;
    client.submit(std::move(file));
    Work cloth;
    cloth.run = runs([&](const WorkContext& context) { context.tell([&] { ++live; }); });
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
    Work request;
    request.document = 1;
    request.run = runs([&](const WorkContext& context) {
        ++begun;
        gone.wait();
        if (!context.tell_anyway([&] { ++answers; })) ++refused;
    });
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
    Work request;
    request.run = runs([gone](const WorkContext& context) {
        ++begun;
        gone.wait();
        if (!context.tell_anyway([] { ++heard; })) ++refused;
    });
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
        Work request;
        request.run = runs([k](const WorkContext& context) {
            ++begun;
            const auto picture = render_cloth(heavy(k), {1024, 1024}, context.options, context.job);
            ++(picture ? whole : given_up);
        });
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

TEST_CASE("renderings of all kinds share one cache", "[scheduler][cache]") {
    Rested scheduler(std::size_t{64} << 20, nullptr);
    Client one(scheduler, "one"), two(scheduler, "two");
    static std::atomic<int> cached = -1;
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 3}, {"gaussian", {}}})}, 256);
    auto ask = [&](Client& client, Urgency urgency) {
        Work request;
        request.urgency = urgency;
        request.run = runs([&](const WorkContext& context) {
            const auto rendering = render(recipe, {256, 256}, {Wanted{}}, context.options, context.job);
            int found = 0;
            if (rendering)
                for (const NodeTiming& node : rendering->timings) found += node.cached;
            cached = found;
        });
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
    auto listen = [&](const PictureResponse& answer, const WorkContext& context) {
        (answer.coarse ? context.tell_anyway : context.tell)([&] {
            const std::lock_guard lock(mutex);
            heard.push_back({answer.coarse, answer.pictures.begin()->second});
        });
    };
    PictureRequest ask;
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
    client.submit(ask, {}, [&](const PictureResponse& answer, const WorkContext&) { pictures = answer.pictures; });
    REQUIRE(eventually([&] { return !client.busy(); }));
    CHECK(pictures.size() == 3);
}

TEST_CASE("after some rest the cache gives back, and what is free goes to the system", "[scheduler][cache][memory]") {
    Rested scheduler(std::size_t{64} << 20, nullptr);
    scheduler.give_back_after(50ms, 0);
    Client client(scheduler, "a");
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 3}, {"gaussian", {{"radius", 4.0}}}})}, 256);
    for (int round = 0; round < 2; ++round) {
        std::size_t kept = 0;
        PictureRequest request;
        request.recipe = recipe, request.longest = 256;
        const Task task =
            client.submit(request, {}, [&](const PictureResponse&, const WorkContext&) { kept = scheduler.cache().bytes(); });
        REQUIRE(eventually([&] { return !task.under_way(); }));
        CHECK(kept > 0);
        CHECK(eventually([&] { return scheduler.cache().bytes() == 0 && Memory::process().counts().kept == 0; }));
    }
    // As much as it may keep stays.
    scheduler.give_back_after(50ms, std::size_t{1} << 30);
    PictureRequest request;
    request.recipe = recipe, request.longest = 256;
    const Task task = client.submit(request, {}, [](const PictureResponse&, const WorkContext&) {});
    REQUIRE(eventually([&] { return !task.under_way(); }));
    std::this_thread::sleep_for(200ms);
    CHECK(scheduler.cache().bytes() > 0);
}

TEST_CASE("pictures that follow a hand leave in the cache no more than two of them", "[scheduler][cache]") {
    Rested scheduler(std::size_t{64} << 20, nullptr);
    Client client(scheduler, "a");
    auto follow = [&](double radius, bool fleeting) {
        PictureRequest ask;
        ask.recipe = recipe_of({strand_of("a", {{"clouds", {}, 3}, {"gaussian", {{"radius", radius}}}})}, 128);
        ask.longest = 128, ask.fleeting = fleeting;
        const Task task = client.submit(ask, {}, [](const PictureResponse&, const WorkContext&) {});
        REQUIRE(eventually([&] { return !client.busy(); }));
        CHECK(task.ended()->outcome == Outcome::done);
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
    PictureRequest ask;
    ask.recipe = recipe_of({strand_of("a", {{"clouds", {}}})}, 512), ask.longest = 512, ask.memory_limit = 1000;
    const auto nothing = [](const PictureResponse&, const WorkContext&) {};
    Task task = client.submit(ask, {}, nothing);
    REQUIRE(eventually([&] { return !task.under_way(); }));
    REQUIRE(task.ended()->failed());
    CHECK_THAT(task.ended()->error.message, Catch::Contains("choose a smaller size"));
    static std::atomic<int> coarse = 0;
    ask.recipe = heavy(1), ask.longest = 1024, ask.coarse = 16, ask.memory_limit = 0;
    task = client.submit(ask, {}, [&](const PictureResponse& answer, const WorkContext&) { coarse += answer.coarse; });
    REQUIRE(eventually([&] { return coarse == 1; }));
    client.cancel_all();
    REQUIRE(eventually([&] { return !task.under_way(); }));
    CHECK(task.ended()->stopped());
}

TEST_CASE("work waits for the memory that other work holds, and goes on when it is free or given up", "[scheduler][memory]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    constexpr std::size_t mib = std::size_t{1} << 20;
    static std::atomic<bool> holds = false, let_go = false;
    static std::atomic<int> got = 0;
    auto holder = [&](Urgency urgency, std::size_t bytes, std::atomic<bool>* until) {
        Work request;
        request.urgency = urgency;
        request.run = runs([&, bytes, until](const WorkContext& context) {
            RenderOptions options = context.options;
            options.memory_limit = 100 * mib;
            const Reservation lease = context.reserve([&](const RenderOptions&) { return bytes; }, options);
            CHECK(lease.bytes() == bytes);
            ++got;
            if (!until) return;
            holds = true;
            while (!*until) std::this_thread::sleep_for(1ms);
        });
        client.submit(std::move(request));
    };
    holder(Urgency::lengthy, 70 * mib, &let_go);
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

TEST_CASE("what is live waits behind nobody's memory", "[scheduler][memory]") {
    Rested scheduler(1 << 20, nullptr);
    Client client(scheduler, "a");
    static std::atomic<bool> holds = false, let_go = false;
    static std::atomic<std::size_t> largest = 0, room = 0, taken = 0;
    Work large;
    large.urgency = Urgency::lengthy;
    large.run = runs([&](const WorkContext& context) {
        RenderOptions options = context.options;
        options.memory_limit = 100000;
        const Reservation all = context.reserve([](const RenderOptions& of) { return of.memory_limit; }, options);
        largest = all.bytes(), holds = true;
        while (!let_go) std::this_thread::sleep_for(1ms);
    });
    client.submit(std::move(large));
    REQUIRE(eventually([&] { return holds.load(); }));
    CHECK(largest == 75000);
    Work live;
    live.run = runs([&](const WorkContext& context) {
        RenderOptions options = context.options;
        options.memory_limit = 100000;
        // As a rendering does that goes in bands where the whole would not fit.
        const auto announced = [](const RenderOptions& of) -> std::size_t { return of.memory_limit < 60000 ? 20000 : 60000; };
        const Reservation mine = context.reserve(announced, options);
        room = options.memory_limit, taken = mine.bytes();
    });
    const Task task = client.submit(std::move(live));
    CHECK(eventually([&] { return !task.under_way(); }));
    CHECK(room == 25000);
    CHECK(taken == 20000);
    let_go = true;
}

TEST_CASE("a client is told when nothing of it waits or runs any more", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    static std::atomic<int> rested = 0, ran = 0;
    {
        Client client(scheduler, "a");
        client.when_at_rest([&] { ++rested; });
        for (int k = 0; k < 5; ++k) {
            Work request;
            request.urgency = Urgency::pictures;
            request.run = runs([&](const WorkContext&) {
                std::this_thread::sleep_for(2ms);
                ++ran;
            });
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
