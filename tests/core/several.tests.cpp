// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Edits of several steps together, and groups of strands.
#include "core/recipe/several.h"

#include "core/recipe/groups.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Strand a with steps s1 to s5, strand b with s1 to s3; seeds tell the steps apart wherever they go.
Recipe two() {
    Recipe recipe = recipe_of(
        {strand_of("a", {{"clouds", {}, 1}, {"levels", {}, 2}, {"invert", {}, 3}, {"gaussian", {}, 4}, {"levels", {}, 5}}),
         strand_of("b", {{"static", {}, 11}, {"levels", {}, 12}, {"invert", {}, 13}})});
    recipe.dials.push_back({"Black", 50, {{{"a", "s2", "in-black"}, 0, 0.5}}});
    return recipe;
}

std::string seeds(const Recipe& recipe, const char* strand, ChainKind chain = ChainKind::steps) {
    std::string all;
    for (const Step& step : recipe.strand(strand)->chain(chain)) all += std::to_string(step.seed) + " ";
    return all;
}

Recipe row(std::initializer_list<const char*> ids) {
    std::vector<Strand> strands;
    for (const char* id : ids) strands.push_back(strand_of(id, {{"flat", {}}}));
    Recipe recipe;
    for (Strand& strand : strands) recipe = strand_added(std::move(recipe), strand, 99);
    return recipe;
}

/// Ids from left to right, groups in brackets.
std::string shown(const Recipe& recipe) {
    std::string all;
    for (const Run& run : runs(recipe)) {
        const Group& group = recipe.strands[static_cast<std::size_t>(run.first)]->group;
        if (!group.name.empty()) all += group.name + (group.folded ? "-[" : "[");
        for (int k = run.first; k <= run.last; ++k) all += recipe.strands[static_cast<std::size_t>(k)]->id;
        if (!group.name.empty()) all += "]";
        all += " ";
    }
    return all;
}

}  // namespace

TEST_CASE("several steps are moved, copied and removed in their order", "[several][edits]") {
    const Recipe r = two();
    StepPlaces out;
    // However they are named, they arrive as they stood; what is not there is passed over.
    const StepPlaces mixed = {{"b", "s2"}, {"a", "s4"}, {"a", "s2"}, {"a", "none"}};
    const Recipe moved = steps_moved(r, mixed, {"b", ChainKind::steps, 1}, out);
    CHECK(seeds(moved, "a") == "1 3 5 ");
    CHECK(seeds(moved, "b") == "11 2 4 12 13 ");
    REQUIRE(out.size() == 3);
    CHECK(moved.step({out[0].strand, out[0].step, ""})->seed == 2);
    CHECK(moved.step({out[2].strand, out[2].step, ""})->seed == 12);
    // What a dial drives is driven where it is now.
    CHECK(moved.dials[0].drives[0].at == Address{"b", out[0].step, "in-black"});

    // Into the middle of themselves, and past those that go along.
    CHECK(seeds(steps_moved(r, {{"a", "s2"}, {"a", "s4"}}, {"a", ChainKind::steps, 3}, out), "a") == "1 3 2 4 5 ");
    CHECK(seeds(steps_moved(r, {{"a", "s1"}, {"a", "s2"}}, {"a", ChainKind::steps, 5}, out), "a") == "3 4 5 1 2 ");
    CHECK(seeds(steps_moved(r, {{"a", "s4"}, {"a", "s5"}}, {"a", ChainKind::steps, 0}, out), "a") == "4 5 1 2 3 ");
    CHECK(steps_moved(r, mixed, {"none", ChainKind::steps, 0}, out) == r);
    // Beyond the end is at the end.
    CHECK(seeds(steps_moved(r, {{"a", "s1"}}, {"b", ChainKind::mask, 7}, out), "b", ChainKind::mask) == "1 ");
    CHECK(out.size() == 1);

    const Recipe copied = steps_duplicated(r, {{"a", "s3"}, {"a", "s2"}, {"a", "s5"}, {"b", "s1"}}, out);
    CHECK(seeds(copied, "a") == "1 2 3 2 3 4 5 5 ");
    CHECK(seeds(copied, "b") == "11 11 12 13 ");
    CHECK(out.size() == 4);
    CHECK(in_order(copied, out) == out);

    CHECK(seeds(steps_removed(r, mixed), "a") == "1 3 5 ");
    const Recipe off = steps_switched(r, mixed, false);
    CHECK(!off.step({"a", "s2", ""})->on);
    CHECK(off.step({"a", "s3", ""})->on);
}

TEST_CASE("steps that are shifted together keep their distance and stop at the end", "[several][edits]") {
    const Recipe r = two();
    CHECK(seeds(steps_shifted(r, {{"a", "s2"}, {"a", "s3"}}, -1), "a") == "2 3 1 4 5 ");
    CHECK(seeds(steps_shifted(r, {{"a", "s2"}, {"a", "s4"}}, 1), "a") == "1 3 2 5 4 ");
    CHECK(seeds(steps_shifted(r, {{"a", "s1"}, {"a", "s2"}, {"a", "s4"}}, -1), "a") == "1 2 4 3 5 ");
    StepPlaces out;
    const Recipe across = steps_shifted_across(r, {{"a", "s2"}, {"a", "s3"}}, 1, out);
    CHECK(seeds(across, "a") == "1 4 5 ");
    CHECK(seeds(across, "b") == "11 2 3 12 13 ");
    REQUIRE(out.size() == 2);
    // Nothing moves if one of them cannot.
    CHECK(steps_shifted_across(r, {{"a", "s2"}, {"b", "s2"}}, 1, out) == r);
    CHECK(out.empty());
}

TEST_CASE("a range runs from one step to another over chains and strands", "[several]") {
    Recipe r = step_added(two(), {"a", ChainKind::mask, 0}, {"m", "clouds"});
    CHECK(between(r, {"a", "s4"}, {"a", "s2"}) == StepPlaces{{"a", "s2"}, {"a", "s3"}, {"a", "s4"}});
    CHECK(between(r, {"a", "s5"}, {"b", "s1"}) == StepPlaces{{"a", "s5"}, {"a", "m"}, {"b", "s1"}});
    CHECK(between(r, {"a", "none"}, {"b", "s1"}).empty());
}

TEST_CASE("neighbouring strands are grouped, folded and parted again", "[groups][edits]") {
    Recipe r = row({"a", "b", "c", "d"});
    CHECK(shown(r) == "a b c d ");
    r = grouped_with_next(r, "b", "G");
    CHECK(shown(r) == "a G[bc] d ");
    CHECK(new_group_name(r, "G") == "G 2");
    CHECK(grouped_with_next(r, "d", "H") == r);
    CHECK(shown(grouped_with_next(r, "a", "H")) == "H[abc] d ");
    CHECK(shown(group_renamed(r, "c", "Grain")) == "a Grain[bc] d ");
    CHECK(shown(group_dissolved(r, "c")) == "a b c d ");
    CHECK(shown(group_folded(r, "c", true)) == "a G-[bc] d ");
    CHECK(group_folded(r, "a", true) == r);
    // In the file and back.
    const Recipe folded = strand_folded(group_folded(r, "b", true), "d", true);
    CHECK(read_recipe(write_recipe(folded)).recipe == folded);
    const auto wrong = read_recipe(R"({"format": "keen-loom/1", "strands": [{"id": "a", "group": {"folded": true}}]})");
    REQUIRE(wrong.first_fault());
    CHECK(wrong.first_fault()->text().find("/strands/0/group/name") != std::string::npos);
}

TEST_CASE("a strand that is shifted enters, leaves and passes groups", "[groups][edits]") {
    const Recipe r = grouped_with_next(row({"a", "b", "c", "d"}), "b", "G");
    // Between two of a group it belongs to it, beside them not.
    CHECK(shown(strand_shifted(r, "a", 1)) == "G[bac] d ");
    CHECK(shown(strand_shifted(r, "b", -1)) == "b a G[c] d ");
    CHECK(shown(strand_shifted(r, "b", 1)) == "a G[cb] d ");
    const Recipe folded = group_folded(r, "b", true);
    CHECK(shown(strand_shifted(folded, "a", 1)) == "G-[bc] a d ");
    CHECK(shown(strand_shifted(folded, "d", -1)) == "a d G-[bc] ");
    CHECK(shown(strand_shifted(folded, "c", 1)) == "a d G-[bc] ");
    CHECK(shown(strand_shifted(folded, "b", -1)) == "G-[bc] a d ");
    CHECK(strand_shifted(r, "a", -1) == r);
    CHECK(strand_shifted(r, "d", 1) == r);
}
