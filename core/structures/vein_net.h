// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A net of stone veins: the borders between unlike classes of cells, so that veins fork and never stop dead; how strong one is
// depends on the two classes.
#pragma once

#include "core/catalogue/context.h"

namespace loom {

/// The way that veins run, in whole tiles, so that lines which follow it close: `across` tiles to the right on the way `down`
/// tiles down; and a second way that spans a tile with it.
struct NetWay {
    int across = 0, down = 1;
    int other_across = 1, other_down = 0;
};

struct NetSettings {
    double size_px = 300;  ///< mean distance of the cells, design pixels
    int classes = 4;
    double stretch = 2;  ///< how much longer cells are along the direction
    NetWay way = {};
    double reach_px = 80;  ///< design pixels beyond which nothing is known
    double smoke_px = 0;   ///< design pixels in which smoke gets fainter on the far side of a vein; on the near one sooner
    std::uint64_t seed = 0;
};

/// What is known of places of the tile, before any bending; of no more pixels than the tile has design pixels, as distances
/// change evenly. Four values a pixel, so that one reading brings all: the distance to the nearest vein in pixels of the net, at
/// most the reach; the strength of that vein, 0..1; the smoke of the veins near, 0..1; and the distance again, below 0 on one
/// side of the vein. The last one passes evenly through the vein's middle, where the first one has a fold that reading between
/// pixels would blunt; the first one tells a vein from the border between what belongs to two.
struct VeinNet {
    Size size;
    Plane values;  ///< four times as wide as the net
};

VeinNet lay_net(const NetSettings& settings, const StepContext& context);

}  // namespace loom
