// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A lamp over a surface of some height.
#pragma once

#include <string>

#include "core/catalogue/description.h"
#include "core/colour/colour.h"

namespace loom {

struct ReliefLighting {
    enum class From { tone, coverage, height, strand };
    enum class LampKind { distant, near, shared };
    enum class Outcome { times, light };
    From from = From::tone;
    std::string strand;
    double depth = 8;
    LampKind lamp = LampKind::distant;
    double direction = 135, elevation = 45;
    double lamp_x = 30, lamp_y = 20, lamp_height = 200;
    double diffuse = 100, shine = 15, sharpness = 18;
    Colour colour{1, 1, 1};
    double shadow = 0, occlusion = 0;
    Outcome outcome = Outcome::times;
    double strength = 100;
};

Shape relief_shape(const ReliefLighting& settings, Shape in);
Bundle relief_light(const ReliefLighting& settings, const StepContext& context);

}  // namespace loom
