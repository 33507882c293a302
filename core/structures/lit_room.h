// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a cloth is lit by: a key lamp, a broad second source opposite it, and one of our rooms as soft lights around.
#pragma once

#include "core/catalogue/rooms.h"
#include "core/structures/lit_kernel.h"

namespace loom {

struct LitLight {
    double direction = 135,
           elevation = 45;  ///< of the key lamp, in degrees: 0 is right, 90 above; 90 of elevation faces the surface
    double exposure = 0;    ///< stops
    double warmth = 30;     ///< -100..100: the lamp from blue to amber; what is not lit by it turns the other way
    double width = 7;       ///< degrees that the lamp takes of the sky: how soft its shadows and glints are
    double strength = 100;  ///< percent
    RoomKind room = RoomKind::workshop;
    double turn = 0;    ///< degrees that the room is turned by, counterclockwise as it is seen from above the cloth
    double fill = 100;  ///< percent: how bright the room is
    bool operator==(const LitLight&) const = default;
};

/// What lies on a surface or happens within it; percent.
struct LitFinish {
    double sheen = 0;  ///< short fibres that catch light from the side
    double coat = 0;   ///< a clear layer: varnish, wax, glass
    double coat_rough = 12;
    double spread = 0;  ///< light that goes in and comes out beside: stone, skin, paper
    bool operator==(const LitFinish&) const = default;
};

LitRoom room_for(const LitLight& light, const LitFinish& finish);

}  // namespace loom
