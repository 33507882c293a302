// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/reliefs.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <string>

#include "core/base/hash.h"
#include "core/structures/cell_picture.h"
#include "core/structures/cloud_picture.h"
#include "core/structures/woven.h"

namespace loom {

namespace {

constexpr double pi = 3.14159265358979323846;

/// A context to make part of a relief in: on this tile, with lots of its own, and only the height besides.
StepContext apart(const StepContext& context, std::uint64_t lot) {
    static const std::set<std::string, std::less<>> height{std::string(height_plane)};
    StepContext own = context;
    own.input = nullptr, own.others.clear();
    own.wanted = &height, own.seed = mix64(context.seed, 0x72656c + lot);
    return own;
}

/// Its height if it has one, else its tone.
Plane height_of(const Bundle& made) {
    const PlaneRef named = made.plane(height_plane);
    return named ? named->clone() : tone_of(made)->clone();
}

Plane made(const Woven& cloth, const StepContext& context) { return height_of(woven(cloth, apart(context, 0))); }
Plane made(const CellPicture& cells, const StepContext& context, std::uint64_t lot = 0) {
    return height_of(cell_picture(cells, apart(context, lot)));
}
Plane made(const CloudPicture& clouds, const StepContext& context, std::uint64_t lot = 0) {
    return height_of(cloud_picture(clouds, apart(context, lot)));
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

Woven cloth(double repeat_px, Size tile) {
    auto threads = [&](int length) { return std::clamp(2 * static_cast<int>(std::lround(length / repeat_px)), 2, 1024); };
    Woven cloth = plain_cloth();
    cloth.draft = Woven::Binding::plain, cloth.warp = threads(tile.width), cloth.weft = threads(tile.height);
    return cloth;
}

Plane duck(double repeat_px, const StepContext& context) {
    Woven duck = cloth(repeat_px, context.tile);
    duck.gap = 0, duck.width = 112, duck.roundness = 85;
    duck.jitter = 70, duck.slub = 22, duck.slub_size = 5 * repeat_px, duck.fuzz = 20;
    return made(duck, context);
}

Plane sacking(double repeat_px, const StepContext& context) {
    Woven sacking = cloth(repeat_px, context.tile);
    sacking.gap = 22, sacking.roundness = 100, sacking.twist = 34, sacking.twist_depth = 80;
    sacking.jitter = 55, sacking.slub = 18, sacking.slub_size = std::clamp(2.5 * repeat_px, 4.0, 1024.0);
    sacking.fuzz = 30, sacking.closing = 40;
    return made(sacking, context);
}

Plane grit(double repeat_px, const StepContext& context) {
    // Grains of two sizes that lean every way, with few large ones standing out.
    auto grains = [&](double size, double tilt, std::uint64_t lot) {
        CellPicture cells = plain_cells();
        cells.size = std::max(4.0, size), cells.relaxation = 0, cells.merging = 0;
        cells.rounding = 12, cells.spread = 100, cells.tilt = tilt;
        return made(cells, context, lot);
    };
    return joined(grains(repeat_px, 80, 0), grains(0.55 * repeat_px, 60, 1), *context.job,
                  [](float large, float small) { return std::max(large * large * 1.2f, 0.75f * small); });
}

Plane hide(double repeat_px, const StepContext& context) {
    auto pebbles = [&](double size, double merging, std::uint64_t lot) {
        CellPicture cells = plain_cells();
        cells.size = std::max(4.0, size), cells.relaxation = 1, cells.merging = merging;
        cells.rounding = 70, cells.spread = 35, cells.tilt = 12;
        return made(cells, context, lot);
    };
    return joined(pebbles(repeat_px, 70, 0), pebbles(0.42 * repeat_px, 85, 1), *context.job,
                  [](float large, float small) { return large * (0.78f + 0.22f * small); });
}

CloudPicture clouds_of(double size_px, int octaves) {
    CloudPicture clouds;
    clouds.size_x = clouds.size_y = std::clamp(size_px, 4.0, 16384.0), clouds.octaves = octaves;
    return clouds;
}

Plane laid(double repeat_px, const StepContext& context) {
    // Close ribs across, and a chain line now and then down; the pulp lies unevenly over both.
    const Size tile = context.tile, size = context.size;
    const int chains = std::max(1, static_cast<int>(std::lround(tile.width / repeat_px))),
              ribs = std::max(2, static_cast<int>(std::lround(tile.height / (repeat_px / 8))));
    const Plane uneven = made(clouds_of(0.5 * repeat_px, 5), context);
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
    CellPicture dents = plain_cells();
    dents.size = std::max(4.0, repeat_px), dents.show = CellPicture::Show::centre, dents.relaxation = 1;
    Plane dish = made(dents, context);
    const Plane uneven = made(clouds_of(0.7 * repeat_px, 4), context, 1);
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
