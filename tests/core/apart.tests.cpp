// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Work of libraries that cannot be stopped is left to itself, and what it uses with it.
#include "core/base/apart.h"

#include <chrono>
#include <future>
#include <stdexcept>
#include <thread>

#include "core/files/kept_picture.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;
using namespace std::chrono_literals;

namespace {

bool eventually(const std::function<bool()>& condition) {
    for (int k = 0; k < 4000 && !condition(); ++k) std::this_thread::sleep_for(5ms);
    return condition();
}

}  // namespace

TEST_CASE("work apart is waited for, and what it throws comes back", "[apart]") {
    auto made = std::make_shared<int>(0);
    run_apart(job, [made] { *made = 7; });
    CHECK(*made == 7);
    CHECK(made.use_count() == 1);
    CHECK_THROWS_AS(run_apart(job, [] { throw std::runtime_error("no"); }), std::runtime_error);
    CHECK(left_running() == 0);
}

TEST_CASE("who gives work apart up does not wait for its end, however long that takes", "[apart][cancel]") {
    std::promise<void> go;
    const std::shared_future<void> gate = go.get_future().share();
    auto begun = std::make_shared<std::atomic<int>>(0), ended = std::make_shared<std::atomic<int>>(0);
    // More than may run at a time: those that wait for their turn are given up too.
    std::vector<std::thread> askers;
    std::vector<std::unique_ptr<Job>> jobs;
    std::atomic<int> cancelled = 0;
    for (unsigned k = 0; k < 2 * std::max(1u, std::thread::hardware_concurrency()); ++k) {
        jobs.push_back(std::make_unique<Job>());
        askers.emplace_back([&, own = jobs.back().get()] {
            try {
                run_apart(*own, [gate, begun, ended] { ++*begun, gate.wait(), ++*ended; });
            } catch (const Cancelled&) {
                ++cancelled;
            }
        });
    }
    REQUIRE(eventually([&] { return *begun == static_cast<int>(std::max(1u, std::thread::hardware_concurrency())); }));
    for (const auto& each : jobs) each->cancel();
    for (std::thread& asker : askers) asker.join();
    CHECK(cancelled == static_cast<int>(askers.size()));
    CHECK(*ended == 0);
    CHECK(left_running() == *begun);
    go.set_value();
    CHECK(eventually([] { return left_running() == 0; }));
    CHECK(*ended == *begun);
}

TEST_CASE("a drawing is read once for all bands, and given up with the job", "[apart][forms]") {
    std::string svg = R"(<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><g id="a0"><path d="M0 0L9 9L0 9z"/></g>)";
    for (int k = 1; k < 9; ++k) {
        svg += "<g id='a" + std::to_string(k) + "'>";
        for (int n = 0; n < 3; ++n)
            svg +=
                "<use href='#a" + std::to_string(k - 1) + "' x='" + std::to_string(n * k) + "' y='" + std::to_string(n) + "'/>";
        svg += "</g>";
    }
    const auto text = std::make_shared<const std::string>(svg + "</svg>");
    const auto drawing = picture_reader().drawing(text, job);
    REQUIRE(drawing);
    CHECK((*drawing)->size().width == 100);
    const Affine placing{0.6, 0, 0, 0.6, 2, 1};
    const auto whole = (*drawing)->drawn(placing, {{0, 0}}, {64, 64}, {0, 64}, job);
    REQUIRE(whole);
    CHECK(mean_of(*whole) > 0.02);
    const auto band = (*drawing)->drawn(placing, {{0, 0}}, {64, 64}, {10, 20}, job);
    REQUIRE(band);
    for (int y = 10; y < 30; ++y) CHECK(std::equal(band->row(y), band->row(y) + 64, whole->row(y)));
    Job given_up;
    given_up.cancel();
    CHECK_THROWS_AS((*drawing)->drawn(placing, {{0, 0}}, {64, 64}, {0, 64}, given_up), Cancelled);
    CHECK_THROWS_AS(picture_reader().drawing(text, given_up), Cancelled);
}
