// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/draft_size.h"

#include "tests/support/support.h"

using namespace loom;

TEST_CASE("what follows a hand has the size that keeps up with it", "[draft][hand]") {
    PartSize part(1024, 20);
    CHECK(part.own_size());
    part.took(18, 1024);
    CHECK(part.pixels() == 1024);
    part.took(24, 1024);
    CHECK(part.pixels() == 256);
    CHECK_FALSE(part.own_size());
    part.took(40, 1024);
    CHECK(part.pixels() == 256);
    part.took(28, 256);
    part.took(21, 160);
    CHECK(part.pixels() == 96);
    // It cannot be smaller.
    part.took(80, 96);
    CHECK(part.pixels() == 96);
    // Where there is time it grows again, but not to what was too much for the whole.
    part.took(6, 96);
    part.took(6, 160);
    part.took(1, 256);
    CHECK(part.pixels() == 256);
    // A cloth that takes long is not tried at its own size; one that is small has no larger one.
    CHECK(PartSize(1024, 91).pixels() == 256);
    CHECK(PartSize(200, 91).pixels() == 200);
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
