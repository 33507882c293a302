// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/cloud_picture.h"

#include "core/noise/clouds.h"

#include <cmath>

#include "core/base/hash.h"
#include "core/structures/drift.h"

namespace loom {

namespace {

using Settings = CloudPicture;

/// Tone deviation at contrast 100 %: nearly all values then lie between black and white.
constexpr float tone_deviation = 0.17f;

}  // namespace

CloudSettings cloud_settings(const CloudPicture& s, Size tile, std::uint64_t seed) {
    CloudSettings clouds;
    clouds.basis = s.basis, clouds.form = s.form;
    clouds.across = tile.width / s.size_x, clouds.down = tile.height / s.size_y;
    clouds.octaves = s.octaves, clouds.step = s.step, clouds.seed = seed;
    clouds.slant = s.slant, clouds.twin_value = s.twin;
    // Power that falls with frequency to the power of the slope: an octave of a plane holds frequencies as its square.
    clouds.roughness = s.weights == CloudPicture::Weights::slope ? std::pow(s.step, 1 - s.slope / 2) : s.roughness / 100;
    return clouds;
}

namespace {

/// What a row is made from, worked out once for all.
struct Made {
    CloudField field;
    std::optional<Drift> drift;
};

}  // namespace

Bundle cloud_picture(const CloudPicture& s, const StepContext& context) {
    const bool bent = s.wander > 0;
    const float factor = tone_deviation * static_cast<float>(s.contrast / 100);
    const float centre = 0.5f + static_cast<float>(s.bias / 100);
    DriftSettings wander;
    wander.distance_px = s.wander;
    wander.size_x_px = s.size_x, wander.size_y_px = s.size_y;
    wander.octaves = 3, wander.seed = mix64(context.seed, 0x64726966);
    const auto made = context.once([&] {
        Made all{CloudField(cloud_settings(s, context.tile, context.seed), context.size, bent ? nullptr : context.job), {}};
        if (bent) all.drift.emplace(wander, context);
        return all;
    });
    const CloudField& field = made->field;
    Plane plane = context.plane();
    context.for_rows([&](int first, int last) {
        const auto padded = static_cast<std::size_t>(field.padded_width());
        std::vector<float> values(padded), du(padded), dv(padded);
        for (int y = first; y < last; ++y) {
            if (bent) {
                made->drift->row(y, du.data(), dv.data());
                field.row(y, values.data(), du.data(), dv.data());
            } else {
                field.row(y, values.data());
            }
            float* row = plane.row(y);
            for (int x = 0; x < context.size.width; ++x) row[x] = centre + factor * values[static_cast<std::size_t>(x)];
        }
    });
    return Bundle::of(std::move(plane));
}

}  // namespace loom
