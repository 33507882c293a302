// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/image/sample.h"
#include "core/image/resample.h"
#include "core/structures/cell_layout.h"
#include "core/structures/drift.h"

namespace loom {

namespace dapple_step {
namespace {

struct Settings {
    double size = 12, size_spread = 50;
    double parting = 25;
    double pores = 12;
    double softness = 55;
    double spread = 30;
};

/// Dabs over the picture: what each brings of its own place, how much of that counts, and how dark it is. All are bent by
/// clouds afterwards, as straight borders between dabs betray how they were found.
Bundle dabs_over(const Bundle& in, const Settings& s, const StepContext& context) {
    const Size size = context.size;
    CellSettings cells = cells_apart(s.size, s.size, context.tile);
    cells.layout.relaxation = 0, cells.layout.seed = context.seed;
    const double parting = s.parting / 100;
    // Where dabs run together their borders are drawn away, each by its own lot.
    cells.merging_px = (1 - parting) * 0.55 * s.size, cells.rounding_px = 0.16 * s.size;
    if (s.size_spread > 0) {
        // Large dabs and small ones gather in places.
        CloudSettings clouds;
        clouds.across = context.tile.width / (5 * s.size), clouds.down = context.tile.height / (5 * s.size);
        clouds.octaves = 2, clouds.seed = mix64(context.seed, 0x7370726561);
        constexpr int side = 64;
        const CloudField field(clouds, {side, side});
        auto map = std::make_shared<Plane>(Size{side, side});
        std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
        for (int y = 0; y < side; ++y) field.row(y, row.data()), std::copy_n(row.begin(), side, map->row(y));
        cells.layout.density = [map, spread = s.size_spread / 100](double u, double v) {
            return std::exp2(1.8 * spread *
                             static_cast<double>(
                                 sample_bilinear(*map, static_cast<float>(u * side - 0.5), static_cast<float>(v * side - 0.5))));
        };
    }
    const CellField field(cells, size, *context.job);
    std::vector<PlaneRef> planes = in.colour;
    if (in.coverage) planes.push_back(in.coverage);
    std::vector<Plane> own;
    for (std::size_t k = 0; k < planes.size(); ++k) own.emplace_back(size);
    Plane share_plane(size), shade(size);
    // As wide as leaves that share of the area open between dabs.
    const auto pore = static_cast<float>(s.pores / 100 * 0.3 * s.size),
               soft = static_cast<float>(std::max(0.04 * s.size, s.softness / 100 * 0.4 * s.size)),
               deep = static_cast<float>(0.35 + 0.4 * parting), spread = static_cast<float>(s.spread / 100);
    for_cell_pixels(field, size, *context.job, [&](int x, int y, const CellRows& rows, std::size_t at) {
        const std::int32_t owner = rows.owner[at];
        const Cell& cell = field.cells()[static_cast<std::size_t>(owner)];
        const auto px = static_cast<float>(cell.x / cells.layout.width * size.width - 0.5);
        const auto py = static_cast<float>(cell.y / cells.layout.height * size.height - 0.5);
        // What a dab has of its own fades towards its true edge where it runs into the next one.
        const float apart = std::clamp(rows.edge[at] / soft + static_cast<float>(parting), 0.0f, 1.0f);
        const float open = std::clamp((rows.border[at] - pore) / soft + 0.5f, 0.0f, 1.0f);
        const float covered = pore > 0 ? open * open * (3 - 2 * open) : 1.0f;
        shade.row(y)[x] = (1 - deep * (1 - covered)) * (1 + spread * apart * (field.draw(owner, 0) - 0.5f));
        share_plane.row(y)[x] = apart;
        for (std::size_t k = 0; k < planes.size(); ++k) own[k].row(y)[x] = sample_bilinear(*planes[k], px, py);
    });
    Bundle dabs;
    for (Plane& plane : own) dabs.colour.push_back(share(std::move(plane)));
    dabs.colour.push_back(share(std::move(share_plane))), dabs.colour.push_back(share(std::move(shade)));
    DriftSettings bends;
    bends.distance_px = 0.45 * s.size, bends.size_x_px = bends.size_y_px = 1.3 * s.size;
    bends.octaves = 3, bends.seed = mix64(context.seed, 0x62656e64);
    const Drift drift(bends, context);
    return resampled(
        dabs, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            const auto padded = static_cast<std::size_t>(drift.padded_width());
            std::vector<float> du(padded), dv(padded);
            drift.row(y, du.data(), dv.data());
            for (int x = 0; x < size.width; ++x) {
                px[x] = static_cast<float>(x) + du[static_cast<std::size_t>(x)] * static_cast<float>(size.width);
                py[x] = static_cast<float>(y) + dv[static_cast<std::size_t>(x)] * static_cast<float>(size.height);
            }
        },
        *context.job, PixelReading::straight);
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Bundle dabs = dabs_over(in, s, context);
    const std::size_t count = dabs.colour.size() - 2;
    const Plane &apart = *dabs.colour[count], &shade = *dabs.colour[count + 1];
    // Parted dabs are each of one tone; those that run together only lean that way.
    const auto own = static_cast<float>(0.3 + 0.6 * s.parting / 100);
    Bundle result;
    for (std::size_t k = 0; k < count; ++k) {
        const bool colour = k < in.colour.size();
        const Plane& before = colour ? *in.colour[k] : *in.coverage;
        Plane out(context.size);
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x) {
                    const float here = before.row(y)[x], share = own * apart.row(y)[x];
                    const float mixed = here + share * (dabs.colour[k]->row(y)[x] - here);
                    out.row(y)[x] = colour ? mixed * shade.row(y)[x] : std::clamp(mixed, 0.0f, 1.0f);
                }
        });
        if (colour)
            result.colour.push_back(share(std::move(out)));
        else
            result.coverage = share(std::move(out));
    }
    result.named = in.named;
    return result;
}

}  // namespace
}  // namespace dapple_step

StepDescription describe_dapple() {
    using namespace dapple_step;
    StepDescription base;
    base.id = "dapple", base.title = "Dapple", base.family = Family::roughen;
    base.summary = "Breaks smooth tone into irregular dabs with pores between: run together it is skin, parted it is grit.";
    base.words = "leather skin pebbled orange peel stipple spots bumps";
    base.seeded = true;
    base.headline = {"size", "parting"};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("size", "Dab size", &Settings::size, {4, 512, Unit::px, 64, Scale::root}, "Middle width of a dab.")
        .number("size-spread", "Size spread", &Settings::size_spread, share, "How much dabs differ in size; alike ones gather.")
        .number("parting", "Parting", &Settings::parting, share, "From dabs that run together to dabs that stand apart.")
        .number("pores", "Pore share", &Settings::pores, {0, 60, Unit::percent}, "How much of the area lies open between dabs.")
        .number("softness", "Edge softness", &Settings::softness, share, "How softly dabs fall into the pores.")
        .number("tone-spread", "Tone spread", &Settings::spread, share, "How much dabs differ in tone.")
        .needs_whole()
        .scratch([](const Settings&, const Scales&, const PlaneCounts& planes) { return planes.in + 2.5; })
        .run(run);
}

}  // namespace loom
