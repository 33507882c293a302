// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a cache lets go of first.
#include "core/render/cache.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Key key_of(int number) { return Key{}.add(static_cast<std::uint64_t>(number)); }

std::shared_ptr<const Bundle> bundle_of(int side) { return std::make_shared<const Bundle>(Bundle::of(Plane({side, side}))); }

}  // namespace

TEST_CASE("what was used again outlives what was made once, and of each the longest unseen go first", "[cache]") {
    const auto piece = bundle_of(64);
    Cache cache(piece->bytes() * 8);
    cache.keep(key_of(0), piece);
    cache.used(key_of(0));
    for (int k = 1; k <= 7; ++k) cache.keep(key_of(k), piece);
    REQUIRE(cache.bytes() == cache.budget());
    // Seen, but not used.
    CHECK(cache.find(key_of(1)));
    cache.keep(key_of(8), piece);
    CHECK_FALSE(cache.find(key_of(2)));
    CHECK(cache.find(key_of(1)));
    for (int k = 100; k < 200; ++k) cache.keep(key_of(k), piece);
    CHECK(cache.find(key_of(0)));
    CHECK_FALSE(cache.find(key_of(1)));
    for (int k = 193; k < 200; ++k) CHECK(cache.find(key_of(k)));
    // Where memory is short, what was made once goes first too.
    cache.yield(piece->bytes() * 7);
    CHECK(cache.bytes() == piece->bytes());
    CHECK(cache.find(key_of(0)));
    cache.yield(1);
    CHECK(cache.bytes() == 0);
    CHECK_FALSE(cache.find(key_of(0)));
}

TEST_CASE("a cache whose used results take all their share goes on with new ones", "[cache]") {
    const auto piece = bundle_of(64);
    Cache cache(piece->bytes() * 8);
    for (int k = 0; k < 8; ++k) cache.keep(key_of(k), piece), cache.used(key_of(k));
    REQUIRE(cache.bytes() == cache.budget());
    // Those used longest ago count as made once: they make room.
    cache.keep(key_of(8), piece), cache.keep(key_of(9), piece);
    CHECK_FALSE(cache.find(key_of(0)));
    CHECK_FALSE(cache.find(key_of(1)));
    for (int k = 2; k < 10; ++k) CHECK(cache.find(key_of(k)));
    // One larger than what they leave is kept, at their cost.
    const auto large = bundle_of(128);
    cache.keep(key_of(20), large);
    CHECK(cache.find(key_of(20)));
    CHECK(cache.bytes() <= cache.budget());
    cache.used(key_of(20));
    cache.used(key_of(21));  // that there is not
    for (int k = 30; k < 60; ++k) cache.keep(key_of(k), piece);
    CHECK(cache.find(key_of(20)));
    cache.keep(key_of(70), bundle_of(1024));  // more than all of it
    CHECK_FALSE(cache.find(key_of(70)));
    cache.clear();
    CHECK(cache.bytes() == 0);
    cache.keep(key_of(80), piece);
    CHECK(cache.find(key_of(80)));
}

TEST_CASE("what is kept for a moment goes unless it is found, and lasts once another rendering finds it", "[cache]") {
    const auto piece = bundle_of(64);
    Cache cache(piece->bytes() * 8);
    for (int k = 0; k < 6; ++k) cache.keep(key_of(k), piece);
    cache.keep(key_of(10), piece, true), cache.keep(key_of(11), piece, true);
    cache.sweep();  // of the frame that made them
    CHECK(cache.bytes() == piece->bytes() * 8);
    CHECK(cache.find(key_of(10), true));
    cache.keep(key_of(12), piece, true);
    cache.sweep();
    CHECK_FALSE(cache.find(key_of(11), true));
    CHECK(cache.find(key_of(10)));  // by a picture that stays
    cache.sweep(), cache.sweep();
    CHECK(cache.find(key_of(10)));
    CHECK_FALSE(cache.find(key_of(12)));
    // Neither frame pushed out more than it needed room for.
    CHECK_FALSE(cache.find(key_of(0)));
    for (int k = 1; k < 6; ++k) CHECK(cache.find(key_of(k)));
    cache.keep(key_of(13), piece, true), cache.used(key_of(13));
    cache.sweep(), cache.sweep();
    CHECK(cache.find(key_of(13)));
}
