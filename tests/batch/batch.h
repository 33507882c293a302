// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "tests/support/support.h"

namespace loom::test {

inline const std::string oak = sample("carriage-oak");

inline Ran batch(const std::string& arguments, const std::string& before = {}) {
    return run("keen-loom-batch", arguments, before);
}

/// A failed call says why in one line on standard error and nothing on standard output.
inline void check_refused(const Ran& ran, int code, const std::string& words) {
    INFO(ran.err);
    CHECK(ran.code == code);
    CHECK(lines_in(ran.err) == 1);
    CHECK_THAT(ran.err, Catch::Contains(words));
    CHECK(ran.out.empty());
}

}  // namespace loom::test
