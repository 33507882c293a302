// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/render.h"

#include <atomic>
#include <chrono>
#include <thread>

#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Something of everything: masks, edges, within, local masks, borrowed strands, what lies beneath, amounts.
Recipe rich() {
    Strand ground = strand_of("ground", {{"clouds", {{"size-x", 40.0}}, 1}, {"gradientmap", {}}});
    Strand shape = strand_of("shape",
                             {{"static", {{"grain-x", 8.0}, {"grain-y", 8.0}}, 2},
                              {"gaussian", {{"radius", 3.0}}},
                              {"levels", {{"in-black", 0.45}, {"in-white", 0.55}}}},
                             {Blend::multiply, 80, false});
    shape.mask = strand_of("x", {{"clouds", {{"contrast", 300.0}}, 5}}).steps;
    shape.edge = strand_of("x", {{"relief", {{"height", std::string("coverage")}, {"depth", 6.0}}}}).steps;
    shape.edge.change(0).id = "e1";
    shape.mask.change(0).id = "m1";
    Strand inside =
        strand_of("inside", {{"borrow", {{"strand", std::string("hidden")}}}, {"wander", {}, 4}, {"huesat", {{"hue", 40.0}}}},
                  {Blend::soft_light, 60, true});
    inside.steps.change(1).amount = 50;
    inside.steps.change(2).where = "ground";
    inside.steps.change(2).amount = 70;
    Strand hidden = strand_of("hidden", {{"gradient", {{"form", std::string("radial")}, {"to-x", 50.0}}}});
    hidden.on = false;
    Strand top = strand_of(
        "top", {{"beneath", {}}, {"directional", {{"length", 20.0}, {"direction", 30.0}}}, {"contrast", {{"contrast", 20.0}}}},
        {Blend::luminosity, 40, false});
    return recipe_of({ground, shape, inside, hidden, top}, 96);
}

const Size size{96, 96};

}  // namespace

TEST_CASE("thread counts 1, 2 and 5 give the same bytes", "[render][threads]") {
    const Bundle one = cloth(rich(), size, 1);
    CHECK(same_bytes(one, cloth(rich(), size, 2)));
    CHECK(same_bytes(one, cloth(rich(), size, 5)));
    for (const char* name : {"carriage-oak", "rail-steel", "glove-suede"}) {
        const auto file = read_loom(sample(name));
        REQUIRE(file);
        const Bundle sample_one = cloth(file->recipe, {160, 160}, 1);
        for (int threads : {2, 5}) CHECK(same_bytes(sample_one, cloth(file->recipe, {160, 160}, threads)));
    }
}

TEST_CASE("a cache gives back what a cold rendering gives, also after edits", "[render][cache]") {
    Cache cache(64 << 20);
    const Recipe r = rich();
    const Recipe edits[] = {r,
                            with_value(r, {"shape", "s3", "in-black"}, Value(0.3)),
                            with_value(r, {"ground", "s1", "octaves"}, Value(3.0)),
                            with_join(r, "inside", {Blend::screen, 30, false}),
                            with_seed(r, 9),
                            strand_switched(r, "shape", false),
                            with_value(r, {"inside", "s2", "amount"}, Value(10.0)),
                            with_linear_light(r, true),
                            r};
    for (const Recipe& edit : edits) {
        const Bundle warm = cloth(edit, size, 0, &cache);
        CHECK(same_bytes(warm, cloth(edit, size)));
        CHECK(same_bytes(warm, cloth(edit, size, 0, &cache)));
    }
    CHECK(cache.bytes() > 0);
    CHECK(cache.bytes() <= cache.budget());
}

TEST_CASE("only what hangs below a changed value is rendered again", "[render][cache]") {
    Cache cache(64 << 20);
    RenderOptions options;
    options.cache = &cache;
    const Recipe r = rich();
    REQUIRE(render(r, size, {Wanted{}}, options, job));
    const auto again = render(with_join(r, "top", {Blend::luminosity, 50, false}), size, {Wanted{}}, options, job);
    REQUIRE(again);
    std::string run;
    for (const NodeTiming& timing : again->timings)
        if (!timing.cached) run += timing.label + " ";
    CHECK(run == "top join ");
}

TEST_CASE("many edits at one size leave what another size begins from", "[render][cache]") {
    RenderOptions options;
    const Recipe r = rich();
    const Size small{40, 24};
    const auto edited = [&](int opacity, Size at) {
        const auto done =
            render(with_join(r, "top", {Blend::luminosity, static_cast<double>(opacity), false}), at, {Wanted{}}, options, job);
        REQUIRE(done);
        return std::count_if(done->timings.begin(), done->timings.end(), [](const NodeTiming& node) { return !node.cached; });
    };
    std::size_t all = 0;
    {
        Cache cache(64 << 20);
        options.cache = &cache;
        edited(50, small), edited(50, size);
        all = cache.bytes();
    }
    Cache cache(all * 5 / 4);
    options.cache = &cache;
    edited(50, small), edited(50, size);
    CHECK(edited(49, small) == 1);
    for (int opacity = 1; opacity < 49; ++opacity) CHECK(edited(opacity, size) == 1);
    CHECK(edited(48, small) == 1);
    // Of pictures that follow a hand no more is kept than of two.
    options.fleeting = true;
    CHECK(edited(60, size) == 1);
    CHECK(edited(61, size) == 1);
    const std::size_t two = cache.bytes();
    for (int opacity = 62; opacity < 90; ++opacity) CHECK(edited(opacity, size) == 1);
    CHECK(cache.bytes() == two);
    // The last of them stays once it is the picture that is looked at.
    options.fleeting = false;
    CHECK(edited(89, size) == 0);
}

TEST_CASE("a small cache drops the longest unused and stays right", "[render][cache]") {
    Cache cache(200000);
    const Recipe r = rich();
    for (int k = 0; k < 4; ++k)
        CHECK(same_bytes(cloth(with_seed(r, static_cast<std::uint32_t>(k % 2)), size, 0, &cache),
                         cloth(with_seed(r, static_cast<std::uint32_t>(k % 2)), size)));
    CHECK(cache.bytes() <= 200000);
    cache.clear();
    CHECK(cache.bytes() == 0);
}

TEST_CASE("a cancelled rendering ends soon and says so", "[render][cancel]") {
    Job job;
    job.cancel();
    const auto at_once = render_cloth(rich(), size, {}, job);
    REQUIRE_FALSE(at_once);
    CHECK(at_once.error().fault == Fault::cancelled);

    Job running;
    std::thread impatient([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(60));
        running.cancel();
    });
    const auto result = render_cloth(rich(), {4096, 4096}, {}, running);
    impatient.join();
    REQUIRE_FALSE(result);
    CHECK(result.error().fault == Fault::cancelled);
}

TEST_CASE("progress rises to the end", "[render]") {
    std::vector<double> shares;
    const Job job([&](double share) { shares.push_back(share); });
    REQUIRE(render_cloth(rich(), size, {}, job));
    REQUIRE(shares.size() > 5);
    CHECK(std::is_sorted(shares.begin(), shares.end()));
    CHECK(shares.back() == Approx(1));
}

TEST_CASE("too much memory is refused before the work begins, with numbers and a remedy", "[render][memory]") {
    RenderOptions options;
    options.memory_limit = 1 << 20;
    const auto result = render_cloth(rich(), {2048, 2048}, options, job);
    REQUIRE_FALSE(result);
    CHECK(result.error().fault == Fault::memory);
    CHECK_THAT(result.error().message,
               Catch::Contains("2048x2048") && Catch::Contains("1 MiB are allowed") && Catch::Contains("choose a smaller size"));
    CHECK(make_plan(rich(), {2048, 2048}, {Wanted{}}).peak_bytes() ==
          64 * make_plan(rich(), {256, 256}, {Wanted{}}).peak_bytes());
}

TEST_CASE("a fused run of per-pixel steps is the same as one after the other", "[render]") {
    const Recipe r = recipe_of({strand_of("a", {{"clouds", {}, 1},
                                                {"gradientmap", {}},
                                                {"levels", {{"in-black", 0.2}}},
                                                {"huesat", {{"hue", 30.0}}},
                                                {"grain", {}, 2},
                                                {"invert", {}}})});
    Bundle step = applied("clouds", {}, nullptr, {128, 128}, 1);
    // Seeds of a recipe are mixed the same way when its own seed is 0.
    for (const auto& [kind, set, seed] : std::vector<StepOrder>{{"gradientmap", {}, 0},
                                                                {"levels", {{"in-black", 0.2}}, 0},
                                                                {"huesat", {{"hue", 30.0}}, 0},
                                                                {"grain", {}, 2},
                                                                {"invert", {}, 0}})
        step = applied(kind, set, &step, {128, 128}, seed);
    CHECK(greatest_difference(cloth(r, {128, 128}), step) < 1e-5);
}

TEST_CASE("a step that is wanted for its card is the strand up to there", "[render]") {
    const Recipe r = rich();
    const Wanted card{Wanted::What::step, "shape", "s2", Map::height};
    const auto result = render(r, size, {card}, {}, job);
    REQUIRE(result);
    Recipe cut = r;
    cut = strand_removed(strand_removed(strand_removed(strand_removed(cut, "ground"), "inside"), "hidden"), "top");
    cut = step_removed(step_removed(step_removed(cut, "shape", "s3"), "shape", "m1"), "shape", "e1");
    CHECK(same_bytes(result->results.at(card), cloth(with_join(cut, "shape", {}), size)));
}

TEST_CASE("amount mixes a step with what came in, and a local mask says where", "[render]") {
    Recipe r = recipe_of({strand_of("a", {{"clouds", {}, 1}, {"invert", {}}}),
                          strand_of("white", {{"flat", {{"colour", Colour{1, 1, 1}}}}}),
                          strand_of("black", {{"flat", {{"colour", Colour{0, 0, 0}}}}})});
    r = strand_switched(strand_switched(r, "white", false), "black", false);
    auto with = [&](double amount, const std::string& where) {
        return cloth(with_value(with_value(r, {"a", "s2", "amount"}, Value(amount)), {"a", "s2", "where"}, Value(where)), size);
    };
    const Bundle before = cloth(with_value(r, {"a", "s2", "on"}, Value(false)), size), after = with(100, "");
    CHECK(greatest_difference(with(0, ""), before) < 1e-6);
    CHECK(greatest_difference(with(100, "white"), after) < 1e-6);
    CHECK(greatest_difference(with(100, "black"), before) < 1e-6);
    // Half of a tone and half of its inverse are mid grey everywhere.
    const Bundle half = with(50, "");
    CHECK(half.channel(0).at(5, 5) == Approx(0.5).margin(1e-5));
}

TEST_CASE("a mask cuts the strand and the edge chain sees the cut", "[render]") {
    Strand strand = strand_of("a", {{"flat", {{"colour", Colour{1, 0, 0}}}}});
    strand.mask = strand_of("x", {{"gradient",
                                   {{"form", std::string("linear")},
                                    {"to-x", 100.0},
                                    {"to-y", 0.0},
                                    {"stops", Stops{{0, {0, 0, 0}, 0}, {1, {1, 1, 1}, 0}}},
                                    {"mix", std::string("srgb")},
                                    {"repeat", std::string("once")}}}})
                      .steps;
    strand.mask.change(0).id = "m";
    const Bundle cut = cloth(recipe_of({strand}), {128, 128});
    REQUIRE(cut.coverage);
    CHECK(cut.coverage->at(0, 3) == Approx(0.5 / 128).margin(0.01));
    CHECK(cut.coverage->at(127, 3) == Approx(127.5 / 128).margin(0.01));
    // Premultiplied: red is the coverage.
    CHECK(greatest_difference(*cut.coverage, cut.channel(0)) < 1e-6);
    strand.edge = strand_of("x", {{"gaussian", {{"radius", 10.0}}}}).steps;
    const Bundle soft = cloth(recipe_of({strand}), {128, 128});
    CHECK(soft.coverage->at(127, 3) < cut.coverage->at(127, 3));
}

TEST_CASE("a mask that makes nothing of its own works on the strand's picture", "[render]") {
    Strand strand = strand_of("a", {{"clouds", {}, 4}});
    strand.mask = strand_of("x", {{"invert", {}}}).steps;
    strand.mask.change(0).id = "m";
    const Bundle own = applied("clouds", {}, nullptr, {128, 128}, 4), result = cloth(recipe_of({strand}), {128, 128});
    for (int k = 0; k < 128; ++k)
        CHECK(result.coverage->at(k, k) == Approx(std::clamp(1 - own.channel(0).at(k, k), 0.0f, 1.0f)).margin(1e-5));
}

TEST_CASE("keep within shows a strand only where the one to its left shows", "[render]") {
    Strand hole = strand_of("hole", {{"flat", {}}});
    hole.mask = strand_of("x", {{"flat", {{"colour", Colour{0, 0, 0}}}}}).steps;
    hole.mask.change(0).id = "m";
    const Strand over = strand_of("over", {{"flat", {{"colour", Colour{0, 1, 0}}}}}, {Blend::normal, 100, true});
    const Strand ground = strand_of("ground", {{"flat", {{"colour", Colour{1, 0, 0}}}}});
    CHECK(cloth(recipe_of({ground, hole, over}), {16, 16}).channel(1).at(4, 4) == 0);
    CHECK(cloth(recipe_of({ground, over}), {16, 16}).channel(1).at(4, 4) == 1);
}

TEST_CASE("unsound recipes render with a warning instead of failing", "[render][faults]") {
    const Recipe recipes[] = {
        recipe_of({strand_of("a", {{"levels", {}}})}),
        recipe_of({strand_of("a", {{"quilt", {}}, {"clouds", {}}})}),
        recipe_of({strand_of("a", {{"borrow", {{"strand", std::string("a")}}}})}),
        recipe_of({strand_of("a", {{"borrow", {{"strand", std::string("b")}}}}), strand_of("b", {{"beneath", {}}})}),
        recipe_of({strand_of("a", {{"borrow", {{"strand", std::string("gone")}}}})}),
    };
    for (const Recipe& recipe : recipes) {
        const auto result = render(recipe, {32, 32}, {Wanted{}}, {}, job);
        REQUIRE(result);
        CHECK(result->warnings.size() >= 1);
        CHECK(result->results.begin()->second.size() == Size{32, 32});
    }
    CHECK(cloth(Recipe{}, {16, 16}).coverage);
}

TEST_CASE("a rendering tells what was passed over in it, not what its job told before", "[render][faults]") {
    Job earlier;
    earlier.warn("of another recipe");
    const auto result = render(recipe_of({strand_of("a", {{"clouds", {}}})}), {32, 32}, {Wanted{}}, {}, earlier);
    REQUIRE(result);
    CHECK(result->warnings.empty());
}

TEST_CASE("the same cloth at 512 and at 2048 shrunk to 512 look the same", "[render][scale][samples]") {
    constexpr int side = side_tried(512);
    for (const char* name : {"carriage-oak", "rail-steel", "glove-suede"}) {
        const auto file = read_loom(sample(name));
        REQUIRE(file);
        const Bundle small = cloth(file->recipe, {side, side}),
                     large = resized(cloth(file->recipe, {4 * side, 4 * side}), {side, side});
        double mean = 0;
        for (int c = 0; c < 3; ++c) mean += mean_difference(small.channel(c), large.channel(c)) / 3;
        INFO(name << " differs by " << mean * 255 << " of 255");
        CHECK(mean * 255 < 6);
    }
}

TEST_CASE("a size follows the tile's proportions", "[render]") {
    Tile tile;
    tile.width = 1024, tile.height = 512;
    CHECK(size_for(tile, 256) == Size{256, 128});
    tile.height = 3000;
    CHECK(size_for(tile, 300) == Size{102, 300});
}
