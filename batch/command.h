// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// One command of keen-loom-batch: its options, and what it does with them.
#pragma once

#include <CLI/CLI.hpp>
#include <functional>
#include <string>

#include "core/base/job.h"
#include "core/base/result.h"

namespace loom::batch {

/// What a command gets besides its options.
struct Surroundings {
    const Job& job;
};

/// Exit code, or the error that ends it.
using Outcome = Result<int>;
using Action = std::function<Outcome(const Surroundings&)>;

/// Each adds its subcommand and sets `action` if that is the one called.
void add_render(CLI::App& app, Action& action);
void add_apply(CLI::App& app, Action& action);
void add_blend(CLI::App& app, Action& action);
void add_sheet(CLI::App& app, Action& action);
void add_measure(CLI::App& app, Action& action);
void add_steps(CLI::App& app, Action& action);
void add_check(CLI::App& app, Action& action);
void add_fonts(CLI::App& app, Action& action);
void add_pack(CLI::App& app, Action& action);

}  // namespace loom::batch
