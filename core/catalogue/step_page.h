// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <string>

#include "core/catalogue/description.h"

namespace loom {

/// What there is to read about a step, in Markdown, from its description: title, what it does, how it tiles and a table of its
/// parameters. For docs/steps and for help in the window.
std::string step_page(const StepDescription& step);

}  // namespace loom
