// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Catch2's own code, compiled once for all programs of tests.
#define CATCH_CONFIG_RUNNER
#include "tests/support/run.h"

#include <catch2/catch.hpp>

namespace loom::test {

int run_tests(int argc, char** argv) { return Catch::Session().run(argc, argv); }

}  // namespace loom::test
