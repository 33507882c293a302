// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Fractal noise as a picture.
#pragma once

#include <string>

#include "core/catalogue/context.h"
#include "core/noise/clouds.h"

namespace loom {

struct CloudPicture {
    enum class Weights { roughness, slope };
    Basis basis = Basis::gradient;
    CloudForm form = CloudForm::smooth;
    double size_x = 256, size_y = 256;
    int octaves = 6;
    Weights weights = Weights::roughness;
    double roughness = 50, slope = 4;
    int slant = 0;
    bool twin = true;
    double step = 2;
    double wander = 0;
    double contrast = 100;
    double bias = 0;
};

/// What they are made from on a tile.
CloudSettings cloud_settings(const CloudPicture& settings, Size tile, std::uint64_t seed);
Bundle cloud_picture(const CloudPicture& settings, const StepContext& context);

}  // namespace loom
