// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Which of many things that lie one over the other can be seen at all.
#pragma once

#include <cstdint>
#include <vector>

namespace loom {

/// The last of them in the order of their heights (in their own order without any) whose areas come to `enough`, by their place
/// and rising; all, if they do not come to that. What lies under them is hidden.
std::vector<std::uint32_t> topmost(const std::vector<float>& areas, const std::vector<float>& heights, double enough);

}  // namespace loom
