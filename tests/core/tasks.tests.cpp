// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// However a piece of work goes, it ends once, and whoever asked for it hears how.
#include <future>
#include <random>

#include "tests/support/scheduling.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("a task knows how far it is and how it ended, and work that throws fails with a sentence and takes nothing with it",
          "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    std::vector<std::string> unheard;
    Client client(scheduler, "a", {}, [&](const Error& error) { unheard.push_back(error.message); });
    CHECK_FALSE(Task().under_way());
    Work broken;
    broken.doing = "sewing", broken.run = runs([](const WorkContext&) { throw std::bad_alloc(); });
    std::vector<Ended> ends;
    const Task lost = client.submit(broken);
    broken.ended = [&](const Ended& how) { ends.push_back(how); };
    const Task heard = client.submit(broken);
    REQUIRE(eventually([&] { return !heard.under_way(); }));
    CHECK(lost.ended()->failed());
    // A sentence that nobody listens for by itself is told to the client.
    REQUIRE(unheard.size() == 1);
    CHECK_THAT(unheard[0], Catch::StartsWith("sewing ran out of memory"));
    REQUIRE(ends.size() == 1);
    CHECK(ends[0].error.message == unheard[0]);
    Work request;
    request.run = runs([&](const WorkContext& context) { context.job.report(0.5); });
    const Task task = client.submit(std::move(request));
    REQUIRE(eventually([&] { return !task.under_way(); }));
    CHECK(task.share() == 0.5);
    CHECK(task.ended()->outcome == Outcome::done);
}

TEST_CASE("work that is stopped while it waits is told so at once, whatever holds its worker", "[scheduler][cancel]") {
    Rested scheduler(1 << 20, nullptr);
    Client busy(scheduler, "busy"), client(scheduler, "a");
    static std::atomic<int> begun = 0, ended = 0;
    busy.submit(endless(begun, ended));
    REQUIRE(eventually([&] { return begun == 1; }));
    int stopped = 0;
    const auto waiting = [&](std::string slot, std::uint64_t document) {
        Work work;
        work.slot = std::move(slot), work.document = document;
        work.run = runs([](const WorkContext&) {});
        work.ended = [&](const Ended& how) { stopped += how.stopped(); };
        return client.submit(std::move(work));
    };
    const Task one = waiting("", 0);
    CHECK(one.under_way());
    one.stop();
    CHECK_FALSE(one.under_way());
    CHECK(stopped == 1);
    // The same where another takes its slot, where the slot is dropped, and where its document is closed.
    waiting("x", 0), waiting("x", 0);
    CHECK(stopped == 2);
    client.drop("x");
    CHECK(stopped == 3);
    waiting("", 0);
    client.begin_document(2);
    CHECK(stopped == 4);
    waiting("", 2), waiting("", 2);
    client.cancel_all();
    CHECK(stopped == 6);
    CHECK(ended == 0);
}

TEST_CASE("who hears on a thread of its own hears there, in order, and only what it still wants", "[scheduler]") {
    Rested scheduler(1 << 20, nullptr);
    Inbox inbox;
    std::vector<std::string> heard;
    auto client = std::make_unique<Client>(scheduler, "a", [&](std::function<void()> call) { inbox.post(std::move(call)); });
    const auto ask = [&](const std::string& name, std::uint64_t document) {
        Work work;
        work.document = document;
        work.run = runs([&, name](const WorkContext& context) {
            context.tell([&, name] { heard.push_back(name); });
            context.tell_anyway([&, name] { heard.push_back(name + " anyway"); });
        });
        work.ended = [&, name](const Ended&) { heard.push_back(name + " ended"); };
        return client->submit(std::move(work));
    };
    const Task first = ask("first", 0);
    REQUIRE(eventually([&] { return first.ended().has_value() && !client->busy(); }));
    CHECK(heard.empty());
    CHECK(first.under_way());
    inbox.hear();
    CHECK_FALSE(first.under_way());
    CHECK(heard == std::vector<std::string>{"first", "first anyway", "first ended"});
    // Given up after it was done, before it was heard of.
    heard.clear();
    ask("second", 0);
    REQUIRE(eventually([&] { return !client->busy(); }));
    client->begin_document(5);
    inbox.hear();
    CHECK(heard == std::vector<std::string>{"second ended"});
    heard.clear();
    const Task third = ask("third", 5);
    REQUIRE(eventually([&] { return !client->busy(); }));
    client.reset();
    inbox.hear();
    CHECK(heard.empty());
    CHECK_FALSE(third.under_way());
}

TEST_CASE("whatever is asked for, given up, thrown or gone, each piece of work ends exactly once", "[scheduler][fuzz]") {
    for (std::uint32_t seed = 1; seed <= 60; ++seed) {
        INFO("seed " << seed);
        std::mt19937 random(seed);
        const auto any = [&](int count) { return static_cast<int>(random() % static_cast<unsigned>(count)); };
        Inbox inbox;
        struct Asked {
            Task task;
            std::shared_ptr<std::atomic<int>> told;
            int client;
        };
        std::vector<Asked> all;
        Rested scheduler(1 << 20, nullptr);
        std::vector<std::unique_ptr<Client>> clients;
        std::vector<bool> lived;
        for (int k = 0; k < 4; ++k) {
            Client::Post post;
            if (k % 2) post = [&](std::function<void()> call) { inbox.post(std::move(call)); };
            clients.push_back(std::make_unique<Client>(scheduler, "c" + std::to_string(k), post));
            lived.push_back(true);
        }
        for (int step = 0; step < 120; ++step) {
            const int k = any(4);
            if (!clients[static_cast<std::size_t>(k)]) continue;
            Client& client = *clients[static_cast<std::size_t>(k)];
            switch (any(12)) {
                case 0:
                    if (!all.empty()) all[random() % all.size()].task.stop();
                    break;
                case 1: client.drop(std::to_string(any(3))); break;
                case 2: client.begin_document(static_cast<std::uint64_t>(any(3))); break;
                case 3:
                    if (any(6) == 0) client.cancel_all();
                    break;
                case 4: inbox.hear(); break;
                case 5:
                    if (any(12) == 0) clients[static_cast<std::size_t>(k)].reset(), lived[static_cast<std::size_t>(k)] = false;
                    break;
                default: {
                    const auto told = std::make_shared<std::atomic<int>>(0);
                    Work work;
                    work.urgency = static_cast<Urgency>(any(urgency_count));
                    work.document = static_cast<std::uint64_t>(any(3));
                    if (any(2)) work.slot = std::to_string(any(3));
                    const int kind = any(5);
                    work.run = [kind](const WorkContext& context) -> Result<Done> {
                        RenderOptions options = context.options;
                        options.memory_limit = 1000;
                        const Reservation room = context.reserve([](const RenderOptions&) { return 400; }, options);
                        context.tell([] {});
                        if (kind == 0) throw std::runtime_error("torn");
                        if (kind == 1) return Error{Fault::file, "no thread"};
                        if (kind == 2) throw 7;
                        for (int n = 0; kind == 3 && n < 20; ++n, context.job.check()) std::this_thread::sleep_for(1ms);
                        return Done{};
                    };
                    work.ended = [told](const Ended&) { ++*told; };
                    all.push_back({client.submit(std::move(work)), told, k});
                }
            }
        }
        for (auto& client : clients)
            if (client && any(2)) client->cancel_all();
        for (const Asked& each : all)
            if (any(2)) each.task.stop();
        REQUIRE(eventually([&] {
            inbox.hear();
            return std::none_of(all.begin(), all.end(), [](const Asked& each) { return each.task.under_way(); });
        }));
        int wrong = 0;
        for (const Asked& each : all) {
            wrong += !each.task.ended().has_value();
            const bool there = lived[static_cast<std::size_t>(each.client)];
            wrong += there ? *each.told != 1 : *each.told > 1;
        }
        CHECK(wrong == 0);
    }
}
