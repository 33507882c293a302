// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where a plane crosses a level, as lines that know how long they are, across the tile edges.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <unordered_map>
#include <vector>

#include "core/image/plane.h"

namespace loom {

/// A place on one of the lines.
struct OnContour {
    int line = 0;
    double along = 0;  ///< pixels from where the line begins
};

class Contours {
public:
    Contours(const Plane& plane, float level, const Job& job);

    /// How long each line is, pixels. All are closed, some of them round the tile.
    const std::vector<double>& lengths() const { return lengths_; }
    /// The nearest place of a line, if one passes within about a pixel; centre of the first pixel at 0,0.
    std::optional<OnContour> at(float x, float y) const;

private:
    /// Of a square between four pixels' centres; it runs with the higher side on its left.
    struct Piece {
        int x = 0, y = 0;                      // the square's first pixel
        float x0 = 0, y0 = 0, x1 = 0, y1 = 0;  // from there
        std::uint64_t from = 0, to = 0;        // sides of squares, each of two
        int line = -1;
        double along = 0, length = 0;
    };
    void gather(const Plane& plane, float level, const Job& job);
    void follow(int first, const std::unordered_map<std::uint64_t, int>& beginning_at);
    std::uint64_t square(int x, int y) const {
        return static_cast<std::uint64_t>(y) * static_cast<std::uint64_t>(size_.width) + static_cast<std::uint64_t>(x);
    }

    Size size_;
    std::vector<Piece> pieces_;
    std::unordered_map<std::uint64_t, std::array<int, 2>> in_square_;
    std::vector<double> lengths_;
};

}  // namespace loom
