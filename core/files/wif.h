// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Drafts as WIF text (Weaving Information File 1.1, 1997): sections of keys and values, as weaving programs exchange them.
#pragma once

#include <string>
#include <string_view>

#include "core/base/draft.h"

namespace loom {

/// The drawdown of threading, tie-up and treadling, or of a lift plan, cut to its smallest repeat. Sinking sheds are turned over.
/// The error names section and key; `name` stands before it.
Result<Draft> read_wif(std::string_view text, const std::string& name);

/// The same from a file.
Result<Draft> read_wif_file(const std::string& path);

/// Threading, tie-up and treadling that weave the draft, with one shaft for each kind of end and one treadle for each kind of
/// pick.
std::string write_wif(const Draft& draft);

}  // namespace loom
