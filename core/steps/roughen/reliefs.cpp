// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/roughen/reliefs.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <string>

#include "core/base/hash.h"
#include "core/catalogue/description.h"

namespace loom {

namespace {

constexpr double pi = 3.14159265358979323846;

/// What a step of ours makes on this tile: its height if it has one, else its tone.
Plane made(std::string_view step, const Values& values, const StepContext& context, std::uint64_t lot = 0) {
    static const std::set<std::string, std::less<>> height{std::string(height_plane)};
    StepContext own = context;
    own.input = nullptr, own.others.clear();
    own.wanted = &height, own.seed = mix64(context.seed, 0x72656c + lot);
    const Bundle bundle = find_step(step)->run(values, own);
    const PlaneRef named = bundle.plane(height_plane);
    return named ? named->clone() : tone_of(bundle)->clone();
}

/// Changes every value by a function of it and of the value of a second plane at its place.
template <class Change>
Plane joined(Plane plane, const Plane& other, const Job& job, Change change) {
    for_rows(job, plane.height(), [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < plane.width(); ++x) plane.row(y)[x] = change(plane.row(y)[x], other.row(y)[x]);
    });
    return plane;
}

Values cloth(double repeat_px, Size tile) {
    auto threads = [&](int length) {
        return static_cast<double>(std::clamp(2 * static_cast<int>(std::lround(length / repeat_px)), 2, 1024));
    };
    return {{"draft", Value(std::string("plain"))}, {"warp", Value(threads(tile.width))}, {"weft", Value(threads(tile.height))}};
}

Plane duck(double repeat_px, const StepContext& context) {
    Values values = cloth(repeat_px, context.tile);
    values["gap"] = 0.0, values["width"] = 112.0, values["roundness"] = 85.0;
    values["jitter"] = 70.0, values["slub"] = 22.0, values["slub-size"] = 5 * repeat_px, values["fuzz"] = 20.0;
    return made("weave", values, context);
}

Plane sacking(double repeat_px, const StepContext& context) {
    Values values = cloth(repeat_px, context.tile);
    values["gap"] = 22.0, values["roundness"] = 100.0, values["twist"] = 34.0, values["twist-depth"] = 80.0;
    values["jitter"] = 55.0, values["slub"] = 18.0, values["slub-size"] = std::clamp(2.5 * repeat_px, 4.0, 1024.0);
    values["fuzz"] = 30.0, values["closing"] = 40.0;
    return made("weave", values, context);
}

Plane grit(double repeat_px, const StepContext& context) {
    // Grains of two sizes that lean every way, with few large ones standing out.
    auto grains = [&](double size, double tilt, std::uint64_t lot) {
        return made("cells",
                    {{"size", Value(std::max(4.0, size))},
                     {"relaxation", Value(0.0)},
                     {"merging", Value(0.0)},
                     {"rounding", Value(12.0)},
                     {"tone-spread", Value(100.0)},
                     {"tilt", Value(tilt)}},
                    context, lot);
    };
    return joined(grains(repeat_px, 80, 0), grains(0.55 * repeat_px, 60, 1), *context.job,
                  [](float large, float small) { return std::max(large * large * 1.2f, 0.75f * small); });
}

Plane hide(double repeat_px, const StepContext& context) {
    auto pebbles = [&](double size, double merging, std::uint64_t lot) {
        return made("cells",
                    {{"size", Value(std::max(4.0, size))},
                     {"relaxation", Value(1.0)},
                     {"merging", Value(merging)},
                     {"rounding", Value(70.0)},
                     {"tone-spread", Value(35.0)},
                     {"tilt", Value(12.0)}},
                    context, lot);
    };
    return joined(pebbles(repeat_px, 70, 0), pebbles(0.42 * repeat_px, 85, 1), *context.job,
                  [](float large, float small) { return large * (0.78f + 0.22f * small); });
}

Plane laid(double repeat_px, const StepContext& context) {
    // Close ribs across, and a chain line now and then down; the pulp lies unevenly over both.
    const Size tile = context.tile, size = context.size;
    const int chains = std::max(1, static_cast<int>(std::lround(tile.width / repeat_px))),
              ribs = std::max(2, static_cast<int>(std::lround(tile.height / (repeat_px / 8))));
    const double pulp = std::clamp(0.5 * repeat_px, 4.0, 16384.0);
    const Plane uneven = made("clouds", {{"size-x", Value(pulp)}, {"size-y", Value(pulp)}, {"octaves", Value(5.0)}}, context);
    Plane out(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double u = (x + 0.5) / size.width, v = (y + 0.5) / size.height;
                const double cloud = static_cast<double>(uneven.row(y)[x]) - 0.5;
                const double rib = 0.5 + 0.5 * std::cos(2 * pi * (ribs * v + 0.9 * cloud));
                const double off = u * chains + 0.06 * cloud, chain = std::abs(off - std::round(off)) * repeat_px / 2.2;
                out.row(y)[x] =
                    static_cast<float>(0.35 * rib * (1 + 0.8 * cloud) + 0.55 * std::exp(-chain * chain) + 0.5 * cloud + 0.25);
            }
    });
    return out;
}

Plane hammered(double repeat_px, const StepContext& context) {
    const Values dents{
        {"size", Value(std::max(4.0, repeat_px))}, {"show", Value(std::string("centre"))}, {"relaxation", Value(1.0)}};
    Plane dish = made("cells", dents, context);
    const double skin = std::clamp(0.7 * repeat_px, 4.0, 16384.0);
    const Plane uneven = made("clouds", {{"size-x", Value(skin)}, {"size-y", Value(skin)}, {"octaves", Value(4.0)}}, context, 1);
    // Round dishes that meet in soft ridges, none quite as deep as the next.
    return joined(std::move(dish), uneven, *context.job,
                  [](float way, float cloud) { return 1.8f * way * way + 0.25f * (cloud - 0.5f); });
}

}  // namespace

Plane own_relief(OwnRelief relief, double repeat_px, const StepContext& context) {
    switch (relief) {
        case OwnRelief::duck: return duck(repeat_px, context);
        case OwnRelief::sacking: return sacking(repeat_px, context);
        case OwnRelief::grit: return grit(repeat_px, context);
        case OwnRelief::hide: return hide(repeat_px, context);
        case OwnRelief::laid: return laid(repeat_px, context);
        case OwnRelief::hammered: break;
    }
    return hammered(repeat_px, context);
}

}  // namespace loom
