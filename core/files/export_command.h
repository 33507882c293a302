// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Exports as commands for a shell: what the window does, done again without it.
#pragma once

#include <string>
#include <vector>

#include "core/files/export.h"

namespace loom {

/// A word as a shell reads it.
std::string shell_word(const std::string& word);
/// " OPTION VALUE", or nothing without a value.
std::string shell_option(const std::string& option, const std::string& value);

/// One command that writes what a preset says. Pictures of several formats need several commands, one a line.
std::string export_command(const ExportPreset& preset, const Recipe& recipe, const std::string& path, const std::string& folder);

/// One command for each file of the runs: what can be made by itself, on any machine. A material that lies beside its pictures is
/// a document alone, which needs to know what is `wanted`. `common` are options that go to all.
std::vector<std::string> export_jobs(const std::vector<ExportRun>& runs, const std::string& path, const std::string& folder,
                                     const std::string& common, const std::string& wanted);

}  // namespace loom
