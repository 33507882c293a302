// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Steps and strands copied as text and pasted, in the same recipe and in another.
#include "core/recipe/clip.h"

#include "core/recipe/assets.h"
#include "core/recipe/json.h"
#include "core/recipe/references.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Recipe three() {
    Recipe recipe =
        recipe_of({strand_of("a", {{"clouds", {{"octaves", 3.0}}, 5}, {"levels", {{"in-black", 0.2}}}, {"invert", {}}}),
                   strand_of("b", {{"borrow", {{"strand", std::string("a")}}}, {"levels", {}}}, {Blend::multiply, 40}),
                   strand_of("c", {{"static", {}, 2}})});
    return with_value(std::move(recipe), {"c", "s1", "where"}, Value(std::string("a")));
}

std::string order(const Recipe& recipe) {
    std::string all;
    for (const StrandRef& strand : recipe.strands) {
        all += strand->id + ":";
        for (const Step& step : strand->steps) all += " " + step.kind;
        all += "; ";
    }
    return all;
}

/// What is saved opens again, without a fault.
bool sound(const Recipe& recipe) { return !read_recipe(write_recipe(recipe)).first_fault(); }

}  // namespace

TEST_CASE("copied steps are pasted with all they had, under ids of their own", "[clip][edits]") {
    const Recipe r = three();
    const auto clip = read_clip(clip_of_steps(r, {{"a", "s2"}, {"a", "s1"}}));
    REQUIRE(clip);
    CHECK(clip->of == Clip::Of::steps);
    std::vector<std::string> ids;
    const Recipe same = steps_pasted(r, *clip, {"a", ChainKind::steps, 1}, ids);
    CHECK(order(same).starts_with("a: clouds clouds levels levels invert; "));
    REQUIRE(ids.size() == 2);
    const Step& first = *same.strand("a")->step(ids[0]);
    CHECK(first.seed == 5);
    CHECK(first.set == r.strand("a")->steps[0].set);
    CHECK(same.strand("a")->steps[0] == r.strand("a")->steps[0]);
    CHECK(sound(same));
    const Recipe mask = steps_pasted(r, *clip, {"c", ChainKind::mask, 0}, ids);
    CHECK(mask.strand("c")->mask.size() == 2);
    CHECK(steps_pasted(r, *clip, {"none", ChainKind::steps, 0}, ids) == r);
}

TEST_CASE("what copied things name is kept where it is, and let go of where it is not", "[clip][edits]") {
    const Recipe r = three();
    const auto clip = read_clip(clip_of_steps(r, {{"c", "s1"}}));
    REQUIRE(clip);
    std::vector<std::string> ids;
    const Recipe same = steps_pasted(r, *clip, {"c", ChainKind::steps, 1}, ids);
    CHECK(same.strand("c")->step(ids[0])->where == "a");
    const Recipe other = recipe_of({strand_of("x", {{"flat", {}}})});
    const Recipe there = steps_pasted(other, *clip, {"x", ChainKind::steps, 1}, ids);
    CHECK(there.strand("x")->step(ids[0])->where.empty());
    CHECK(sound(there));
}

TEST_CASE("strands that borrow from each other are copied together and borrow from the copies", "[clip][edits]") {
    const Recipe r = three();
    const auto clip = read_clip(clip_of_strands(r, {"b", "a"}));
    REQUIRE(clip);
    CHECK(clip->of == Clip::Of::strands);
    std::vector<std::string> ids;
    const Recipe same = strands_pasted(r, *clip, 3, ids);
    REQUIRE(ids.size() == 2);
    CHECK(same.strands.size() == 5);
    CHECK(same.strands[3]->id == ids[0]);
    CHECK(as<std::string>(same.strand(ids[1])->steps[0].set.at("strand")) == ids[0]);
    CHECK(as<std::string>(same.strand("b")->steps[0].set.at("strand")) == "a");
    CHECK(same.strand(ids[1])->join == r.strand("b")->join);
    CHECK(sound(same));
    // Alone, the one that borrows keeps its source where it is pasted beside it, and loses it elsewhere.
    const auto lone = read_clip(clip_of_strands(r, {"b"}));
    REQUIRE(lone);
    CHECK(as<std::string>(strands_pasted(r, *lone, 0, ids).strand(ids[0])->steps[0].set.at("strand")) == "a");
    const Recipe elsewhere = strands_pasted(recipe_of({strand_of("x", {{"flat", {}}})}), *lone, 1, ids);
    CHECK_FALSE(elsewhere.strand(ids[0])->steps[0].set.contains("strand"));
    CHECK(sound(elsewhere));
}

TEST_CASE("kept pictures travel with the steps that name them, and no others", "[clip][assets]") {
    Recipe r = recipe_of({strand_of("a", {{"image", {}}, {"image", {}}})});
    for (const char* step : {"s1", "s2"}) {
        std::string bytes("picture of ");
        bytes += step;
        bytes += std::string("\0\xff\x80", 3);
        const std::string name = asset_name(bytes, "png");
        r.assets[name] = make_asset(name, bytes);
        r = with_value(std::move(r), {"a", step, "file"}, Value(name));
    }
    const auto clip = read_clip(clip_of_steps(r, {{"a", "s2"}}));
    REQUIRE(clip);
    REQUIRE(clip->assets.size() == 1);
    std::vector<std::string> ids;
    const Recipe there = steps_pasted(recipe_of({strand_of("x", {{"flat", {}}})}), *clip, {"x", ChainKind::steps, 1}, ids);
    const auto& name = as<std::string>(there.strand("x")->step(ids[0])->set.at("file"));
    REQUIRE(there.assets.contains(name));
    CHECK(there.assets.at(name)->bytes == r.assets.at(name)->bytes);
}

TEST_CASE("text that is no clip is refused with a sentence, whatever it is", "[clip][damaged]") {
    for (const char* text : {"", "hello", "{}", "[1, 2]", R"({"format": "keen-loom/1", "strands": []})",
                             R"({"format": "keen-loom/2", "strands": []})"}) {
        const auto clip = read_clip(text);
        INFO(text);
        REQUIRE_FALSE(clip);
        CHECK(clip.error().message.size() > 10);
    }
    // Broken off or bent anywhere, it is refused or sound, and never more than that.
    const std::string whole = clip_of_steps(three(), {{"a", "s1"}, {"a", "s2"}});
    for (std::size_t k = 0; k < whole.size(); k += 7) {
        if (k + 2 < whole.size()) CHECK_FALSE(read_clip(whole.substr(0, k)));
        std::string bent = whole;
        bent[k] = bent[k] == '"' ? '1' : '"';
        if (const auto clip = read_clip(bent)) {
            std::vector<std::string> ids;
            CHECK(sound(steps_pasted(three(), *clip, {"a", ChainKind::steps, 0}, ids)));
        }
    }
    // A picture that is not what its name says.
    std::string forged = whole;
    forged.replace(forged.find("\"outside\""), 9, "\"assets\": {\"assets/00.png\": \"!!\"}, \"outside\"");
    CHECK_FALSE(read_clip(forged));
}
