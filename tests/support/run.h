// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <string>

namespace loom::test {

/// Runs the tests that the arguments name and returns what the process returns.
int run_tests(int argc, char** argv);

/// The test case that runs just now.
std::string running_test();

}  // namespace loom::test
