// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

namespace loom::test {

/// Runs the tests that the arguments name and returns what the process returns.
int run_tests(int argc, char** argv);

}  // namespace loom::test
