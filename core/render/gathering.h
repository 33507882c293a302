// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Puts bands together again. Private to core/render.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/image/bundle.h"

namespace loom {

/// Planes that are one in the first band are one in the whole.
class Gathering {
public:
    /// Rows of the tile.
    void add(const Bundle& band) { add(band, band.size(), band.rows().first, 0); }
    /// Rows that become those from `row` on of a picture of `size`; each begins at `left` of the tile and goes on over its edge.
    void add(const Bundle& band, Size size, int row, int left);
    Bundle whole() &&;

private:
    std::vector<Plane> planes_;
    std::vector<std::size_t> colour_;
    std::optional<std::size_t> coverage_;
    std::map<std::string, std::size_t, std::less<>> named_;
};

}  // namespace loom
