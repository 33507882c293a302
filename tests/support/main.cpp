// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Linked where a program of tests has no main of its own.
#include "tests/support/run.h"

int main(int argc, char** argv) { return loom::test::run_tests(argc, argv); }
