// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/edits.h"

#include "core/base/hash.h"
#include "core/catalogue/description.h"

#include "core/recipe/drives.h"
#include "core/recipe/groups.h"
#include "core/recipe/json.h"
#include "core/recipe/references.h"
#include "core/recipe/several.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Recipe three() {
    return recipe_of({strand_of("a", {{"clouds", {}}, {"levels", {}}, {"invert", {}}}), strand_of("b", {{"static", {}}}),
                      strand_of("c", {{"flat", {}}})});
}

std::string order(const Recipe& recipe, const std::string& strand, ChainKind chain = ChainKind::steps) {
    std::string ids;
    for (const Step& step : recipe.strand(strand)->chain(chain)) ids += step.id + "/" + step.kind + " ";
    return ids;
}

std::string strands(const Recipe& recipe) {
    std::string ids;
    for (const StrandRef& strand : recipe.strands) ids += strand->id + " ";
    return ids;
}

}  // namespace

TEST_CASE("steps move up, down, into other chains and strands", "[edits]") {
    const Recipe r = three();
    CHECK(order(step_moved(r, "a", "s3", {"a", ChainKind::steps, 0}), "a") == "s3/invert s1/clouds s2/levels ");
    CHECK(order(step_moved(r, "a", "s1", {"a", ChainKind::steps, 3}), "a") == "s2/levels s3/invert s1/clouds ");
    CHECK(order(step_moved(r, "a", "s1", {"a", ChainKind::steps, 1}), "a") == order(r, "a"));
    const Recipe across = step_moved(r, "a", "s1", {"b", ChainKind::steps, 1});
    CHECK(order(across, "a") == "s2/levels s3/invert ");
    // The id was taken there, so it gets another one.
    CHECK(order(across, "b") == "s1/static s2/clouds ");
    CHECK(order(step_moved(r, "a", "s3", {"a", ChainKind::mask, 0}), "a", ChainKind::mask) == "s3/invert ");
    CHECK(step_moved(r, "a", "nothing", {"b", ChainKind::steps, 0}) == r);
    CHECK(step_moved(r, "a", "s1", {"nothing", ChainKind::steps, 0}) == r);
}

TEST_CASE("steps are added, removed, duplicated, renamed and reset", "[edits]") {
    const Recipe r = three();
    Step step;
    step.kind = "grain";
    const Recipe added = step_added(r, {"a", ChainKind::steps, 1}, step);
    CHECK(order(added, "a") == "s1/clouds s4/grain s2/levels s3/invert ");
    CHECK(step_removed(added, "a", "s4") == r);
    CHECK(order(step_duplicated(r, "a", "s2"), "a") == "s1/clouds s2/levels s4/levels s3/invert ");
    CHECK(step_title(*step_renamed(r, "a", "s2", "Tight").strand("a")->step("s2")) == "Tight");
    CHECK(step_title(*r.strand("a")->step("s2")) == "Levels");
    const Recipe set = with_value(r, {"a", "s2", "in-black"}, Value(0.3));
    CHECK(step_reset(set, "a", "s2") == r);
    CHECK(slot_of(r, "a", "s3") == Slot{"a", ChainKind::steps, 2});
    CHECK_FALSE(slot_of(r, "a", "s9"));
}

TEST_CASE("strands are added, moved, duplicated, renamed, switched and joined", "[edits]") {
    const Recipe r = three();
    CHECK(strands(strand_shifted(r, "c", -1)) == "a c b ");
    CHECK(strands(strand_shifted(r, "a", 1)) == "b a c ");
    CHECK(strands(strand_removed(r, "b")) == "a c ");
    CHECK(strands(strand_duplicated(r, "a")) == "a a-2 b c ");
    CHECK(strand_duplicated(r, "a").strand("a-2")->steps == r.strand("a")->steps);
    CHECK(strand_renamed(r, "a", "Long").strand("a")->name == "Long");
    CHECK_FALSE(strand_switched(r, "a", false).strand("a")->on);
    CHECK(with_join(r, "b", {Blend::screen, 40, true}).strand("b")->join == Join{Blend::screen, 40, true});
    const Recipe routed = with_route(r, "b", Map::height, Route{Blend::plus, 20});
    CHECK(routed.strand("b")->routes.at(Map::height).amount == 20);
    CHECK(with_route(routed, "b", Map::height, std::nullopt) == r);
    Strand fresh;
    fresh.name = "Über Grain  2!";
    CHECK(strand_added(r, fresh, 1).strands[1]->id == "ber-grain-2");
    CHECK(new_strand_id(r, "a") == "a-2");
}

TEST_CASE("an edit leaves the recipe it began with as it was, and shares what it did not touch", "[edits]") {
    const Recipe r = three();
    const std::string before = write_recipe(r);
    const Recipe next = with_value(r, {"a", "s2", "in-black"}, Value(0.5));
    CHECK(write_recipe(r) == before);
    CHECK_FALSE(next == r);
    CHECK(next.strands[1] == r.strands[1]);
    CHECK(next.strands[0] != r.strands[0]);
}

TEST_CASE("values are set, checked and forgotten when they are the default", "[edits]") {
    const Recipe r = three();
    const Address at{"a", "s2", "in-black"};
    CHECK(value_at(r, at) == Value(0.0));
    const Recipe set = with_value(r, at, Value(0.4));
    CHECK(value_at(set, at) == Value(0.4));
    CHECK(with_value(set, at, Value(0.0)) == r);
    CHECK_FALSE(refuses(r, at, Value(0.4)));
    CHECK(refuses(r, at, Value(4.0)));
    CHECK(refuses(r, at, Value(true)));
    CHECK_THAT(*refuses(r, {"a", "s2", "nope"}, Value(1.0)), Catch::Contains("no parameter 'nope'"));
    CHECK_THAT(*refuses(r, {"a", "s9", "x"}, Value(1.0)), Catch::Contains("no step 's9'"));
    CHECK_THAT(*refuses(r, {"z", "s1", "x"}, Value(1.0)), Catch::Contains("no strand 'z'"));
    // The fields every step has.
    CHECK(with_value(r, {"a", "s2", "amount"}, Value(30.0)).strand("a")->step("s2")->amount == 30);
    CHECK_FALSE(with_value(r, {"a", "s2", "on"}, Value(false)).strand("a")->step("s2")->on);
    CHECK(with_value(r, {"a", "s1", "seed"}, Value(12.0)).strand("a")->step("s1")->seed == 12);
    CHECK(refuses(r, {"a", "s1", "seed"}, Value(-1.0)));
    CHECK(refuses(r, {"a", "s1", "seed"}, Value(0.5)));
    CHECK(refuses(r, {"a", "s1", "amount"}, Value(101.0)));
}

TEST_CASE("addresses are read and written", "[edits]") {
    CHECK(Address::parse("long-grain/s3.middle") == Address{"long-grain", "s3", "middle"});
    CHECK(Address{"a", "b", "c"}.text() == "a/b.c");
    for (const char* wrong : {"", "a", "a/b", "a.", "/b.c", "a/.c", "a/b."}) CHECK_FALSE(Address::parse(wrong));
}

TEST_CASE("a dial moves everything it drives, between its two ends", "[edits][dials]") {
    Recipe r = three();
    r.dials.push_back({"Tightness", 50, {{{"a", "s2", "in-black"}, 0.1, 0.5}, {{"a", "s1", "octaves"}, 2, 7}}});
    const Recipe moved = with_dial(r, "Tightness", 25);
    CHECK(moved.dials[0].value == 25);
    CHECK(as<double>(*value_at(moved, {"a", "s2", "in-black"})) == Approx(0.2));
    CHECK(value_at(moved, {"a", "s1", "octaves"}) == Value(3.0));
    CHECK(with_dial(r, "nothing", 10) == r);
}

TEST_CASE("colourways are laid over, recognised and kept", "[edits][colourways]") {
    Recipe r = three();
    const Address colour{"c", "s1", "colour"}, black{"a", "s2", "in-black"};
    r.colourways.push_back({"Red", {{colour, Value(Colour{1, 0, 0})}}});
    r.colourways.push_back({"Blue", {{colour, Value(Colour{0, 0, 1})}, {black, Value(0.2)}}});
    CHECK(present_colourway(r).empty());
    const Recipe blue = with_colourway(r, "Blue");
    CHECK(present_colourway(blue) == "Blue");
    CHECK(value_at(blue, black) == Value(0.2));
    const Recipe own = colourway_kept(with_value(blue, colour, Value(Colour{0, 1, 0})), "Green");
    CHECK(present_colourway(own) == "Green");
    CHECK(own.colourways.size() == 3);
    CHECK(own.colourway("Green")->set.at(black) == Value(0.2));
    CHECK(colourway_kept(own, "Green").colourways.size() == 3);
    CHECK(with_colourway(r, "None") == r);
}

TEST_CASE("keep within finds the strand it is cut by", "[edits]") {
    Recipe r = three();
    CHECK(within_base(r, 0) == -1);
    CHECK(within_base(r, 2) == 1);
    r = with_join(r, "b", {Blend::normal, 100, true});
    CHECK(within_base(r, 2) == 0);
    r = strand_switched(r, "a", false);
    CHECK(within_base(r, 2) == -1);
}

TEST_CASE("what is taken away is named by nothing any more, and what is moved takes its names along", "[edits][references]") {
    Recipe r =
        recipe_of({strand_of("a", {{"clouds", {}, 1}, {"levels", {}}}), strand_of("b", {{"static", {}, 2}, {"levels", {}}}),
                   strand_of("c", {{"borrow", {{"strand", std::string("b")}}}, {"wander", {}}})});
    r = with_value(std::move(r), {"c", "s2", "where"}, Value(std::string("b")));
    r.dials.push_back({"Dial", 50, {{{"b", "s2", "in-black"}, 0, 1}, {{"a", "s2", "in-black"}, 0, 1}}});
    r.colourways.push_back({"Way", {{{"b", "s1", "seed"}, Value(4.0)}, {{"a", "s1", "octaves"}, Value(2.0)}}});
    const Recipe without = without_loose_ends(strand_removed(r, "b"));
    CHECK(without.strand("c")->steps[0].set.empty());
    CHECK(without.strand("c")->steps[1].where.empty());
    REQUIRE(without.dials[0].drives.size() == 1);
    CHECK(without.dials[0].drives[0].at.strand == "a");
    CHECK(without.colourways[0].set.size() == 1);
    CHECK_FALSE(read_recipe(write_recipe(without)).first_fault());
    // What names nothing that is gone is left as it is, shared strands and all.
    const Recipe same = without_loose_ends(r);
    CHECK(same == r);
    for (std::size_t k = 0; k < r.strands.size(); ++k) CHECK(same.strands[k] == r.strands[k]);
    CHECK(without_loose_ends(step_removed(r, "b", "s2")).dials[0].drives.size() == 1);
    // Moved to another strand, where its id is taken.
    const Recipe moved = step_moved(r, "b", "s2", {"a", ChainKind::steps, 2});
    REQUIRE(moved.strand("a")->steps.size() == 3);
    const std::string id = moved.strand("a")->steps[2].id;
    CHECK(id != "s2");
    CHECK(moved.dials[0].drives[0].at == Address{"a", id, "in-black"});
    CHECK(without_loose_ends(moved) == moved);
    const Recipe seeded = step_moved(r, "b", "s1", {"c", ChainKind::mask, 0});
    CHECK(seeded.colourways[0].set.contains({"c", seeded.strand("c")->mask[0].id, "seed"}));
    // A step of a later version keeps what is said of it.
    Recipe later = r;
    Strand strand = *later.strands[0];
    strand.steps.change(0).kind = "quilt";
    later.strands[0] = std::make_shared<const Strand>(strand);
    CHECK(without_loose_ends(later).colourways[0].set.size() == 2);
}

TEST_CASE("whatever edits are made, the file that comes of them opens again and says the same", "[edits][fuzz]") {
    const StepDescription* const kinds[] = {find_step("clouds"),  find_step("levels"), find_step("inlay"), find_step("displace"),
                                            find_step("formula"), find_step("press"),  find_step("borrow")};
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
        Recipe r = recipe_of({strand_of("a", {{"clouds", {}, 1}, {"levels", {}}}), strand_of("b", {{"static", {}, 2}})});
        r.dials.push_back({"Dial", 50, {{{"a", "s2", "middle"}, 0.5, 1.5}}});
        r.colourways.push_back({"Way", {{{"b", "s1", "strength"}, Value(20.0)}}});
        for (std::uint64_t k = 0; k < 150; ++k) {
            const std::uint64_t lots = mix64(mix64(seed, 9), k);
            auto lot = [&](std::uint64_t which, std::uint64_t count) {
                return mix64(lots, which) % std::max<std::uint64_t>(1, count);
            };
            if (r.strands.empty()) break;
            const Strand& strand = *r.strands[lot(0, r.strands.size())];
            const Strand& other = *r.strands[lot(1, r.strands.size())];
            const std::string step = strand.steps.empty() ? "" : strand.steps[lot(2, strand.steps.size())].id;
            Recipe next = r;
            switch (lot(3, 14)) {
                case 0: {
                    Step made;
                    made.kind = std::string(kinds[lot(4, std::size(kinds))]->id);
                    next = step_added(r, {strand.id, all_chains[lot(5, 3)], static_cast<int>(lot(6, 4))}, made);
                    break;
                }
                case 1: next = step_removed(r, strand.id, step); break;
                case 2:
                    next = step_moved(r, strand.id, step, {other.id, all_chains[lot(4, 3)], static_cast<int>(lot(5, 3))});
                    break;
                case 3: next = strand_duplicated(r, strand.id); break;
                case 4:
                    if (r.strands.size() > 1) next = strand_removed(r, strand.id);
                    break;
                case 5: next = with_value(r, {strand.id, step, "where"}, Value(other.id)); break;
                case 6: {
                    const Step* present = strand.step(step);
                    const StepDescription* description = present ? find_step(present->kind) : nullptr;
                    const Parameter* p = description ? description->parameter_of(Kind::strand) : nullptr;
                    if (p) next = with_value(r, {strand.id, step, std::string(p->id)}, Value(other.id));
                    break;
                }
                case 7: next = strand_shifted(r, strand.id, lot(4, 2) == 0 ? -1 : 1); break;
                case 8: next = colourway_kept(r, "Kept", {{strand.id, step, "amount"}}); break;
                case 9: next = grouped_with_next(r, strand.id, lot(4, 2) == 0 ? "G" : "H"); break;
                case 10: next = group_folded(r, strand.id, lot(4, 2) == 0); break;
                case 11: {
                    StepPlaces moved;
                    const StepPlaces some = {{strand.id, step}, {other.id, other.steps.empty() ? "" : other.steps[0].id}};
                    next = steps_moved(r, some, {other.id, ChainKind::steps, static_cast<int>(lot(5, 3))}, moved);
                    break;
                }
                case 12: {
                    StepPlaces copies;
                    next = steps_duplicated(r, {{strand.id, step}}, copies);
                    break;
                }
                case 13:
                    next = driven_by(dial_made(r, {strand.id, step, "amount"}, "Dial"), {other.id, "", "amount"}, "Dial");
                    break;
            }
            next = without_loose_ends(std::move(next));
            // As the window does: what would go round in a circle is refused.
            if (circle(next).empty()) r = std::move(next);
        }
        const Reading back = read_recipe(write_recipe(r));
        INFO(seed << (back.first_fault() ? back.first_fault()->text() : std::string()));
        REQUIRE_FALSE(back.first_fault());
        CHECK(back.recipe == r);
        // And it renders.
        CHECK(cloth(r, {32, 32}).size() == Size{32, 32});
    }
}

TEST_CASE("a step is exchanged for another kind, and keeps what both have", "[edits]") {
    Recipe r = recipe_of({strand_of(
        "a", {{"clouds", {{"roughness", 41.0}, {"contrast", 500.0}, {"size-x", 40.0}}, 9}, {"levels", {{"in-black", 0.25}}}})});
    r = with_value(r, {"a", "s1", "amount"}, Value(60.0));
    r = step_renamed(r, "a", "s1", "Drift");
    const StepDescription& shiny = *find_step("reflections");
    const Recipe now = step_exchanged(r, "a", "s1", shiny);
    const Step& step = now.strand("a")->steps[0];
    CHECK(step.kind == "reflections");
    CHECK(step.id == "s1");
    CHECK(step.name == "Drift");
    CHECK(step.seed == 9);
    CHECK(step.amount == 60);
    CHECK(as<double>(step.set.at("roughness")) == 41);
    // Beyond the new range: its end.
    CHECK(as<double>(step.set.at("contrast")) == shiny.parameter("contrast")->max);
    CHECK_FALSE(step.set.contains("size-x"));
    CHECK(now.strand("a")->steps[1] == r.strand("a")->steps[1]);
    // Every step for every other: what is kept is a value of the new kind, and the file opens again.
    for (const StepDescription& from : all_steps())
        for (const StepDescription& to : all_steps()) {
            Recipe each = recipe_of({strand_of("a", {{std::string(from.id), {}}})});
            each = step_exchanged(each, "a", "s1", to);
            const Step& made = each.strand("a")->steps[0];
            bool sound = made.kind == to.id;
            for (const auto& [id, value] : made.set) {
                const Parameter* p = to.parameter(id);
                sound = sound && p && !refuses(*p, value);
                if (const Parameter* before = from.parameter(id)) sound = sound && value.index() == before->fallback.index();
            }
            INFO(from.id << " for " << to.id);
            CHECK(sound);
        }
    CHECK(step_exchanged(r, "a", "none", shiny) == r);
}
