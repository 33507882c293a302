// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What large values and chains share, and that sharing shows nowhere else.
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Counts how often it is copied.
struct Item {
    int number = 0;
    static inline int copies = 0;
    explicit Item(int given) : number(given) {}
    Item(const Item& other) : number(other.number) { ++copies; }
    Item(Item&&) = default;
    Item& operator=(const Item&) = delete;
    bool operator==(const Item& other) const { return number == other.number; }
};
void hash_value(Key& key, const Item& item) { key.add(static_cast<std::uint64_t>(item.number)); }

}  // namespace

TEST_CASE("a shared list grows without its items being copied, and older lists stay as they were", "[values][shared]") {
    std::vector<SharedList<Item>> all(1);
    Item::copies = 0;
    for (int k = 0; k < 200; ++k) all.push_back(all.back().appended(Item(k)));
    CHECK(Item::copies == 0);
    for (std::size_t n = 0; n < all.size(); ++n) {
        REQUIRE(all[n].size() == n);
        int wrong = 0;
        for (std::size_t k = 0; k < n; ++k) wrong += all[n][k].number != static_cast<int>(k);
        CHECK(wrong == 0);
    }
    // Items are the same objects, in lists that go different ways too.
    const auto other = all[100].appended(Item(-1));
    CHECK(&other[99] == &all[200][99]);
    CHECK(other[100].number == -1);
    CHECK(all[101][100].number == 100);
    CHECK_FALSE(other == all[101]);
    // Hash and equality go by content.
    SharedList<Item> again;
    for (int k = 0; k < 101; ++k) again = again.appended(Item(k));
    CHECK(again == all[101]);
    CHECK(again.hash() == all[101].hash());
    CHECK_FALSE(again.hash() == other.hash());
}

TEST_CASE("large values are shared by copies, and equal by content", "[values][shared]") {
    const Stops stops{{0, {0, 0, 0}, 0}, {1, {1, 1, 1}, 20}};
    const Value a = stops, copy = a, same = stops;
    CHECK(&as<Stops>(a) == &as<Stops>(copy));
    CHECK(&as<Stops>(a) != &as<Stops>(same));
    CHECK(a == same);
    Stops other = stops;
    other[1].grain = 21;
    CHECK_FALSE(a == Value(other));
    Key first, second, third;
    hash_value(first, a), hash_value(second, same), hash_value(third, Value(other));
    CHECK(first == second);
    CHECK_FALSE(first == third);
    // A note is no part of what is shown, but of the value.
    const Inputs noted{{"k", 0.5, 0, 1, "Once."}}, renoted{{"k", 0.5, 0, 1, "Twice."}};
    CHECK_FALSE(Value(noted) == Value(renoted));
}

TEST_CASE("an edit copies the one step that it changes", "[edits][shared]") {
    std::vector<StepOrder> orders{{"clouds", {}}};
    for (int k = 0; k < 20; ++k) orders.push_back({"gradientmap", {{"stops", Stops(50, Stop{0.5, {1, 0, 0}, 0})}}});
    const Recipe before = recipe_of({strand_of("left", {{"cells", {}}}), strand_of("a", orders)});
    const Recipe after = with_value(before, {"a", "s7", "stops.3.grain"}, Value(5.0));
    CHECK(before.strands[0] == after.strands[0]);
    const Chain &old_steps = before.strand("a")->steps, &steps = after.strand("a")->steps;
    REQUIRE(steps.size() == old_steps.size());
    for (std::size_t k = 0; k < steps.size(); ++k) {
        INFO(steps[k].id);
        CHECK((&steps[k] == &old_steps[k]) == (steps[k].id != "s7"));
    }
    CHECK(value_at(before, {"a", "s7", "stops.3.grain"}) == Value(0.0));
    CHECK(value_at(after, {"a", "s7", "stops.3.grain"}) == Value(5.0));
    // Moving, adding and removing copy none.
    const Recipe moved = step_moved(before, "a", "s9", {"a", ChainKind::steps, 3});
    CHECK(moved.strand("a")->step("s9") == moved.strand("a")->step("s9"));
    CHECK(moved.strand("a")->step("s12") == before.strand("a")->step("s12"));
    CHECK(step_removed(before, "a", "s4").strand("a")->step("s12") == before.strand("a")->step("s12"));
}

TEST_CASE("a chain is changed, walked and compared like a list of steps", "[recipe]") {
    Chain chain{{"s1", "clouds"}, {"s2", "levels"}};
    chain.insert(1, {"m", "invert"});
    const Chain before = chain;
    chain.change(2).amount = 40;
    CHECK(before[2].amount == 100);
    CHECK(chain[2].amount == 40);
    CHECK_FALSE(chain == before);
    CHECK(chain.end() - chain.begin() == 3);
    CHECK((chain.begin() + 1)->id == "m");
    std::string ids;
    for (const Step& step : chain) ids += step.id + " ";
    CHECK(ids == "s1 m s2 ");
    chain.erase("m");
    CHECK(chain.size() == 2);
    Chain same{{"s1", "clouds"}, {"s2", "levels"}};
    same.change(1).amount = 40;
    CHECK(chain == same);
}
