// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/draft_size.h"

#include "tests/support/support.h"

using namespace loom;

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
