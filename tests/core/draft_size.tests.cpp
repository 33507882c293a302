// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/draft_size.h"

#include "tests/support/support.h"

using namespace loom;

TEST_CASE("what follows a hand has the size that keeps up with it", "[draft][hand]") {
    CHECK(PartSize::sizes(1024) == std::vector<int>{1024, 512, 256, 160, 96});
    CHECK(PartSize::sizes(400) == std::vector<int>{400, 256, 160, 96});
    CHECK(PartSize::sizes(64) == std::vector<int>{64});
    PartSize part(1024, 20);
    CHECK(part.part());
    part.took(14, 1024);
    CHECK(part.pixels() == 1024);
    part.took(24, 1024);
    CHECK(part.pixels() == 512);
    CHECK(part.part());
    // What was asked for before says nothing about the size now.
    part.took(40, 1024);
    CHECK(part.pixels() == 512);
    part.took(28, 512);
    part.took(28, 256);
    CHECK_FALSE(part.part());
    part.took(21, 160);
    CHECK(part.pixels() == 96);
    // It cannot be smaller.
    part.took(80, 96);
    CHECK(part.pixels() == 96);
    // Where there is time it grows again, but not to the tile's own size, which took too long.
    part.took(5, 96);
    part.took(5, 160);
    part.took(5, 256);
    CHECK(part.pixels() == 256);
    part.took(3, 256);
    CHECK(part.pixels() == 512);
    part.took(1, 512);
    CHECK(part.pixels() == 512);
    // Nor to one that took too long twice: no going back and forth.
    part.took(22, 512);
    part.took(3, 256);
    CHECK(part.pixels() == 256);
    // A cloth that takes long is not tried at its own size; one that is small has no other.
    CHECK(PartSize(1024, 91).pixels() == 256);
    CHECK(PartSize(64, 91).pixels() == 64);
    CHECK(PartSize(64, 91).part());
}

TEST_CASE("first pictures shrink until they keep up and grow again where there is time", "[draft]") {
    DraftSize draft;
    CHECK(draft.pixels() == 256);
    draft.took(30, 256);
    CHECK(draft.pixels() == 256);
    draft.took(90, 256);
    CHECK(draft.pixels() == 160);
    // What was asked for before says nothing about the size now.
    draft.took(90, 256);
    CHECK(draft.pixels() == 160);
    // The next larger one would take too long again: no going back and forth.
    draft.took(33, 160);
    CHECK(draft.pixels() == 160);
    draft.took(60, 160);
    draft.took(400, 96);
    CHECK(draft.pixels() == 96);
    draft.took(5, 96);
    draft.took(5, 160);
    CHECK(draft.pixels() == 256);
}
