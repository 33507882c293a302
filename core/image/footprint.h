// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How far a step looks around itself: which rows of its input a band of its result needs.
#pragma once

#include <algorithm>
#include <cmath>

#include "core/image/plane.h"

namespace loom {

/// The size that a footprint is asked for.
struct Scales {
    Size size;  ///< pixels of the picture
    Size tile;  ///< design pixels
    double x() const { return static_cast<double>(size.width) / tile.width; }
    double y() const { return static_cast<double>(size.height) / tile.height; }
    /// Design pixels across and down as whole pixels, and `more` for what is read around a place.
    int across(double px, int more = 0) const { return up(px * x()) + more; }
    int down(double px, int more = 0) const { return up(px * y()) + more; }

private:
    static int up(double pixels) { return static_cast<int>(std::ceil(std::min(pixels, 1e6) - 1e-9)); }
};

struct Footprint {
    enum class Kind {
        pixel,  ///< its own place in every input
        near,   ///< so many pixels round about
        rows,   ///< whole rows, so many pixels above and below
        whole,  ///< anything; it is made in one piece
    };
    Kind kind = Kind::whole;
    int across = 0, down = 0;  ///< pixels to each side
    /// A band of the result is made of whole blocks of so many rows, counted from the tile's first row.
    int block = 1;

    static Footprint pixel() { return {Kind::pixel}; }
    static Footprint near(int across, int down, int block = 1) { return {Kind::near, across, down, block}; }
    static Footprint rows(int down = 0, int block = 1) { return {Kind::rows, 0, down, block}; }
    static Footprint whole() { return {Kind::whole}; }
    bool by_bands() const { return kind != Kind::whole; }
};

/// Either way round, one after the other.
inline Footprint after(const Footprint& a, const Footprint& b) {
    if (!a.by_bands() || !b.by_bands()) return Footprint::whole();
    Footprint both{std::max(a.kind, b.kind), a.across + b.across, a.down + b.down, std::max(a.block, b.block)};
    return both;
}

}  // namespace loom
