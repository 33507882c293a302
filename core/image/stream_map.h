// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where the lines of a slowly turning direction field lead. The lines are followed once, on a coarse grid; pictures of any size
// then read between its points. Means over long lines become a few means of three or five places each, as a mean of means is a
// mean over a longer line (after Cabral & Leedom 1993).
#pragma once

#include <vector>

#include "core/image/stream.h"

namespace loom {

class StreamMap {
public:
    /// Follows the lines of `field`, whose planes lie over the tile, for each of the `distances`, rising, in `tile` pixels, to
    /// both sides. The field has to be smooth over its pixels.
    StreamMap(const DirectionField& field, Size tile, const std::vector<double>& distances, const Job& job);

    /// Places in pixels that pixels from..to - 1 of row y of a picture reach after distance k: x and y one way, then the other.
    /// Buffers are longer than that by stream_padding.
    void row(Size picture, int y, int from, int to, std::size_t k, float* const out[4]) const;

private:
    void mend(Size picture, int y, int from, int to, std::size_t k, float* const out[4]) const;

    Size grid_;
    std::vector<Plane> moved_;              ///< four for each distance: x and y one way and the other, in tiles
    std::vector<float> start_x_, start_y_;  ///< the direction that "one way" is at each point
    std::vector<std::vector<int>> mixed_;   ///< of each row of cells, those between whose corners the ways change places
};

/// The mean of each pixel and the places of both sides of its line at these distances of the map.
Plane stream_mean(const Plane& plane, const StreamMap& map, const std::vector<std::size_t>& at, const Job& job);

}  // namespace loom
