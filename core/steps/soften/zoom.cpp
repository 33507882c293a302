// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Averages along rays: on each ray running sums give the mean between two distances.
#include <algorithm>
#include <cmath>

#include "core/steps/all_steps.h"
#include "core/steps/each_plane.h"
#include "core/steps/soften/round.h"

namespace loom {

namespace {

struct Settings {
    double reach = 20;
    double centre_x = 50, centre_y = 50;
};

/// Each place becomes the mean from (1 - reach) to 1 of its distance.
void ray_mean(std::vector<float>& ray, double reach, std::vector<float>& out) {
    std::vector<double> sums(ray.size() + 1, 0);
    for (std::size_t k = 0; k < ray.size(); ++k) sums[k + 1] = sums[k] + static_cast<double>(ray[k]);
    // The integral up to a distance, samples standing for half a pixel each way.
    auto until = [&](double distance) {
        const double at = std::clamp(distance + 0.5, 0.0, static_cast<double>(ray.size()));
        const auto k = std::min(static_cast<std::size_t>(at), ray.size() - 1);
        return sums[k] + (at - static_cast<double>(k)) * static_cast<double>(ray[k]);
    };
    out.resize(ray.size());
    for (std::size_t r = 0; r < ray.size(); ++r) {
        const double far = static_cast<double>(r) + 0.5, near = std::min(far - 1, static_cast<double>(r) * (1 - reach) - 0.5);
        out[r] = static_cast<float>((until(far) - until(near)) /
                                    (std::min(far, static_cast<double>(ray.size()) - 0.5) - std::max(near, -0.5)));
    }
    ray.swap(out);
}

Bundle run(const Settings& s, const StepContext& context) {
    const Rings rings(context, s.centre_x, s.centre_y);
    return each_plane(*context.input, [&](const Plane& plane) {
        return rings.ray_filtered(plane, *context.job, [&](std::vector<float>& ray, std::vector<float>& scratch) {
            ray_mean(ray, s.reach / 100, scratch);
        });
    });
}

}  // namespace

StepDescription describe_zoom() {
    StepDescription base;
    base.id = "zoom", base.title = "Zoom blur", base.family = Family::soften;
    base.summary = "Blurs along the rays from a centre.";
    base.tiles = Tiling::breaks, base.tiles_note = "rays from one centre cannot meet at the edges";
    base.scratch_planes = 8;
    base.headline = {"reach"};
    const Range share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .number("reach", "Reach", &Settings::reach, {0, 100, Unit::percent},
                "How much of its distance from the centre each place looks inwards.")
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the centre across the tile.")
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the centre down the tile.")
        .point("Centre", "centre-x", "centre-y")
        .run(run);
}

}  // namespace loom
