// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Bands and parts give the bytes of whole pictures.
#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/render/band_passes.h"
#include "core/render/gathering.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("bands and whole results have the same bytes, on every sample and map, at any thread count",
          "[render][bands][samples]") {
    int count = 0;
    for (const std::string& path : sample_paths()) {
        const auto file = read_loom(path);
        REQUIRE(file);
        // On a thread alone there is less to go wrong: a third of the samples tells that.
        const bool alone_too = count++ % 3 == 0;
        const Size size = size_for(file->recipe.tile, 400);
        RenderOptions options;
        options.pictures = &picture_reader(), options.way = RenderWay::whole;
        const auto whole = render(file->recipe, size, all_maps_wanted(), options, job);
        REQUIRE(whole);
        for (int threads : {1, 3}) {
            if (threads == 1 && !alone_too) continue;
            options.way = RenderWay::bands, options.threads = threads;
            const auto bands = render(file->recipe, size, all_maps_wanted(), options, job);
            REQUIRE(bands);
            INFO(path << " at " << threads << " threads");
            for (const auto& [wanted, picture] : whole->results) {
                INFO(map_id(wanted.map));
                CHECK(same_bytes(picture, bands->results.at(wanted)));
            }
        }
    }
}

TEST_CASE("a part of a picture is that part of the whole, also across the tile's edges", "[render][bands]") {
    for (const char* name : {"carriage-oak", "rail-steel"}) {
        const auto file = read_loom(sample(name));
        REQUIRE(file);
        const Size size{320, 320};
        const Bundle whole = cloth(file->recipe, size);
        Cache cache(std::size_t{256} << 20);
        for (Cache* each : {static_cast<Cache*>(nullptr), &cache})
            for (const Region& region : {Region{10, 20, 50, 40}, Region{300, 290, 90, 70}, Region{-15, -8, 30, 320}}) {
                RenderOptions options;
                options.cache = each;
                const auto part = render_region(file->recipe, size, {}, region, options, job);
                REQUIRE(part);
                REQUIRE(part->size() == Size{region.width, region.height});
                int wrong = 0;
                for (int c = 0; c < 3; ++c)
                    for (int y = 0; y < region.height; ++y)
                        for (int x = 0; x < region.width; ++x)
                            wrong += part->channel(c).at(x, y) != whole.channel(c).wrapped(region.x + x, region.y + y);
                CHECK(wrong == 0);
            }
    }
}

TEST_CASE("bands that leave out different things become one picture that has all of them", "[bands]") {
    const Size size{7, 6};
    const auto band = [&](int first, float value) { return share(Plane(size, Rows{first, 2}, value)); };
    Bundle grey, coloured, covered;
    grey.colour = {band(0, 0.1f)};
    grey.named["height"] = grey.colour[0];
    coloured.colour = {band(2, 0.2f), band(2, 0.3f), band(2, 0.4f)};
    coloured.named["height"] = band(2, 0.5f);
    covered.colour = {band(4, 0.6f)};
    covered.coverage = band(4, 0.7f);
    covered.named["height"] = covered.coverage;
    Gathering gathering;
    for (const Bundle* each : {&grey, &coloured, &covered}) gathering.add(*each, job);
    const Bundle whole = std::move(gathering).whole();
    const auto column = [&](const Plane& plane) { return std::vector<float>{plane.at(3, 0), plane.at(3, 3), plane.at(6, 5)}; };
    REQUIRE(whole.colour.size() == 3);
    CHECK(column(whole.channel(0)) == std::vector<float>{0.1f, 0.2f, 0.6f});
    CHECK(column(whole.channel(1)) == std::vector<float>{0.1f, 0.3f, 0.6f});
    CHECK(column(whole.channel(2)) == std::vector<float>{0.1f, 0.4f, 0.6f});
    REQUIRE(whole.coverage);
    CHECK(column(*whole.coverage) == std::vector<float>{1, 1, 0.7f});
    CHECK(column(*whole.plane("height")) == std::vector<float>{0.1f, 0.5f, 0.7f});
}

TEST_CASE("what feeds colour and height is made in one pass, though occlusion waits for all of the height", "[bands]") {
    Strand a = strand_of("a", {{"clouds", {}}});
    a.routes[Map::height] = {Blend::normal, 100};
    a.routes[Map::roughness] = {Blend::plus, 50};
    const Recipe recipe = recipe_of({a}, 1024);
    // The lit map needs the colour and the occlusion at once, and is another pass.
    std::vector<Wanted> wanted = all_maps_wanted();
    std::erase_if(wanted, [](const Wanted& each) { return each.map == Map::lit; });
    const Plan plan = make_plan(recipe, {1024, 1024}, wanted);
    const Passes passes(plan, std::vector<bool>(plan.nodes.size(), false), 32);
    REQUIRE(passes.last() == 1);
    int made = 0;
    std::size_t streamed = 0;
    for (int level = 0; level <= passes.last(); ++level) {
        const std::vector<bool> there = passes.there(level);
        for (const auto& [node, readers] : readers_of(plan, passes.targets(level), there))
            made += plan.nodes[static_cast<std::size_t>(node)].label == "a/s1" && !there[static_cast<std::size_t>(node)];
        streamed += passes.targets(level).size();
    }
    CHECK(made == 1);
    // The height is gathered; all others are streamed, each once.
    CHECK(streamed == plan.outputs.size());
}
