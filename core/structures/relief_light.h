// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A lamp over a surface of some height, with light from above and from all round.
#pragma once

#include <string>

#include "core/catalogue/description.h"
#include "core/colour/colour.h"

namespace loom {

struct ReliefLighting {
    enum class From { tone, coverage, height, strand };
    enum class LampKind { distant, near, shared };
    enum class Outcome {
        times,  ///< the picture lit
        even,   ///< the light for blends that take one half for nothing: level ground has that
        light   ///< the light as it falls on the surface: level ground has the sine of the lamp's elevation
    };
    enum class ShineOn { rises, all };
    From from = From::tone;
    std::string strand;
    double depth = 8;
    bool own_slopes = false;
    LampKind lamp = LampKind::distant;
    double direction = 135, elevation = 45;
    double lamp_x = 30, lamp_y = 20, lamp_height = 200;
    double diffuse = 100, wrap = 0;
    double shine = 15, sharpness = 18;
    ShineOn shine_on = ShineOn::rises;
    std::string roughness;
    Colour colour{1, 1, 1};
    double shadow = 0, occlusion = 0;
    double ambient = 0, overhead = 0;
    Colour ambient_colour{1, 1, 1}, overhead_colour{1, 1, 1};
    Outcome outcome = Outcome::times;
    double strength = 100, shoulder = 0;
    bool baked = true;          ///< off: the height is handed on, and the picture is as on level ground
    double height_share = 100;  ///< % of the height that comes in which this one's takes the place of
};

Shape relief_shape(const ReliefLighting& settings, Shape in);
Bundle relief_light(const ReliefLighting& settings, const StepContext& context);

}  // namespace loom
