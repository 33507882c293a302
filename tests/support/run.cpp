// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Catch2's own code, compiled once for all programs of tests.
#define CATCH_CONFIG_RUNNER
#include "tests/support/run.h"

#include <catch2/catch.hpp>
#include <iostream>

#include "tests/support/step_checks.h"

namespace loom::test {

int run_tests(int argc, char** argv) {
    Catch::Session session;
    std::string step;
    session.cli(session.cli() | Catch::clara::Opt(step, "id")["--step"](
                                    "the one step that tests over all steps try; [over-steps] unless others are named"));
    if (const int wrong = session.applyCommandLine(argc, argv); wrong != 0) return wrong;
    if (!step.empty()) {
        if (!try_only(step)) {
            std::cerr << "--step: there is no step '" << step << "'; keen-loom-batch steps lists them\n";
            return 2;
        }
        if (session.configData().testsOrTags.empty()) session.configData().testsOrTags = {"[over-steps]"};
    }
    return session.run();
}

std::string running_test() { return Catch::getResultCapture().getCurrentTestName(); }

}  // namespace loom::test
