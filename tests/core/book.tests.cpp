// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a sample of the book owes: it looks as it did, repeats unseen, and everything on its front does something.
#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <filesystem>

#include "core/files/picture.h"
#include "core/measure/measure.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/render/render.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

constexpr int side = 256, kept_side = 64;

/// The samples whose picture is lit: those that were made to what is asked here.
std::vector<std::string> book() {
    std::vector<std::string> names;
    for (const std::string& path : sample_paths()) {
        if (path.find("/studies/") != std::string::npos) continue;
        const auto file = read_loom(path);
        REQUIRE(file);
        if (file->recipe.shown_lit) names.push_back(std::filesystem::path(path).stem().string());
    }
    REQUIRE(names.size() >= 4);
    return names;
}

Recipe recipe_of_sample(const std::string& name) {
    const auto file = read_loom(sample(name));
    REQUIRE(file);
    CHECK(file->findings.empty());
    return file->recipe;
}

Bundle lit(const Recipe& recipe, int across) {
    const Wanted wanted{Wanted::What::map, "", "", Map::lit};
    auto made = render(recipe, {across, across}, {wanted}, {}, job);
    REQUIRE(made);
    return made->results.at(wanted);
}

double apart(const Bundle& a, const Bundle& b) {
    double mean = 0;
    for (int c = 0; c < 3; ++c) mean += 255 * mean_difference(a.channel(c), b.channel(c)) / 3;
    return mean;
}

}  // namespace

TEST_CASE("a sample of the book looks as it did when it was judged", "[book][samples]") {
    for (const std::string& name : book()) {
        INFO(name);
        const Bundle now = resized(lit(recipe_of_sample(name), side), {kept_side, kept_side});
        std::string path = KEEN_LOOM_ROOT "/tests/core/book/";
        path += name, path += ".png";
        // KEEN_LOOM_JUDGED=1 keeps what has been looked at and found better.
        if (std::getenv("KEEN_LOOM_JUDGED")) REQUIRE(write_picture(path, now, PictureFormat::png));
        const auto then = read_picture(path);
        REQUIRE(then);
        CHECK(apart(now, *then) < 2);
    }
}

TEST_CASE("a sample of the book repeats unseen and has no tone that is cut off", "[book][samples]") {
    for (const std::string& name : book()) {
        const Bundle picture = lit(recipe_of_sample(name), 1024);
        const Measures m = measure(picture, job);
        INFO(name << ": seam " << m.across.ratio << ", " << m.down.ratio << "; evenness " << m.evenness);
        CHECK(m.across.ratio <= 1.1);
        CHECK(m.down.ratio <= 1.1);
        CHECK(m.evenness >= 0.9);
        CHECK(m.histogram.black < 0.001);
        CHECK(m.histogram.white < 0.001);
    }
}

TEST_CASE("every dial of a sample of the book shows over all its way, and every colourway is another one", "[book][samples]") {
    for (const std::string& name : book()) {
        const Recipe recipe = recipe_of_sample(name);
        CHECK(recipe.dials.size() >= 3);
        CHECK(recipe.dials.size() <= 6);
        CHECK(recipe.colourways.size() >= 3);
        CHECK_FALSE(recipe.exports.empty());
        CHECK(recipe.tile.wide_cm);
        CHECK(present_colourway(recipe) == recipe.colourways.front().name);
        for (const Dial& dial : recipe.dials) {
            INFO(name << ": " << dial.name);
            // Where the dial stands is where the recipe does.
            CHECK(apart(lit(with_dial(recipe, dial.name, dial.value), side), lit(recipe, side)) < 0.01);
            const Bundle low = lit(with_dial(recipe, dial.name, 0), side), middle = lit(with_dial(recipe, dial.name, 50), side),
                         high = lit(with_dial(recipe, dial.name, 100), side);
            CHECK(apart(low, middle) > 0.3);
            CHECK(apart(middle, high) > 0.3);
        }
        std::vector<Bundle> seen;
        for (const Colourway& each : recipe.colourways) {
            INFO(name << ": " << each.name);
            seen.push_back(lit(with_colourway(recipe, each.name), side));
            for (std::size_t k = 0; k + 1 < seen.size(); ++k) CHECK(apart(seen[k], seen.back()) > 6);
            // Going back from any of them leads to the first picture.
            CHECK(with_colourway(with_colourway(recipe, each.name), recipe.colourways.front().name) == recipe);
        }
    }
}

TEST_CASE("every step of a sample of the book says why it is there", "[book][samples]") {
    for (const std::string& name : book())
        for (const StrandRef& strand : recipe_of_sample(name).strands)
            for (const ChainKind kind : {ChainKind::steps, ChainKind::mask, ChainKind::edge})
                for (const Step& step : strand->chain(kind)) {
                    INFO(name << ": " << strand->id << "/" << step.id);
                    CHECK_FALSE(step.note.empty());
                }
}
