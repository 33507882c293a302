// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Puts bands together again. Private to core/render.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/job.h"
#include "core/image/bundle.h"

namespace loom {

/// Planes that are one in every band are one in the whole. Bands may differ in what they leave out: a coverage of ones, a grey
/// for three alike.
class Gathering {
public:
    /// Rows of the tile.
    void add(const Bundle& band, const Job& job) { add(band, band.size(), band.rows().first, 0, job); }
    /// Rows that become those from `row` on of a picture of `size`; each begins at `left` of the tile and goes on over its edge.
    void add(const Bundle& band, Size size, int row, int left, const Job& job);
    Bundle whole() &&;

private:
    void fit(const Bundle& band, Size size);

    std::vector<Plane> planes_;
    std::vector<std::size_t> colour_;
    std::optional<std::size_t> coverage_;
    std::map<std::string, std::size_t, std::less<>> named_;
};

}  // namespace loom
