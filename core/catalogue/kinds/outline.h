// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/hash.h"

namespace loom {

struct OutlinePoint {
    double x = 0, y = 0;
    bool operator==(const OutlinePoint&) const = default;
};
/// A corner of an outline, with the ends of the handles by which the curves before and behind it leave it; a handle that lies at
/// the corner makes a straight line, or half of one.
struct OutlineNode {
    OutlinePoint at, in, out;
    bool operator==(const OutlineNode&) const = default;
};
struct Contour {
    std::vector<OutlineNode> nodes;
    bool closed = true;
    bool operator==(const Contour&) const = default;
};
/// Cubic curves from node to node. In files a text: path data as SVG 2 has it, absolute, of the letters M, L, C and Z.
using Outline = std::vector<Contour>;

constexpr std::size_t most_outline_nodes = 20000;
constexpr double farthest_node = 1e5;

void hash_value(Key& key, const Outline& outline);

/// Numbers to a hundredth.
std::string write_outline(const Outline& outline);
/// Nothing if it is no such text.
std::optional<Outline> read_outline(std::string_view text);

std::size_t node_count(const Outline& outline);

}  // namespace loom
