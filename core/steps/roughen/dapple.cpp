// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Dabs are relaxed cells that each take the picture near their middle and a tone of their own; pores are what lies
// between them.
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/image/sample.h"
#include "core/steps/all_steps.h"
#include "core/steps/cell_layout.h"

namespace loom {

namespace {

struct Settings {
    double size = 14;
    double definition = 45;
    double softness = 50;
    double variety = 40;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Size size = context.size;
    CellSettings cells = cells_apart(s.size, s.size, context.tile);
    cells.layout.relaxation = 1, cells.layout.seed = context.seed;
    // Low definition lets dabs run together, as leather does; high keeps every grain apart.
    const double definition = s.definition / 100;
    cells.merging_px = (1 - definition) * 0.5 * s.size, cells.rounding_px = s.softness / 100 * 0.2 * s.size;
    const CellField field(cells, size, *context.job);
    std::vector<PlaneRef> planes = in.colour;
    if (in.coverage) planes.push_back(in.coverage);
    std::vector<Plane> out;
    for (std::size_t k = 0; k < planes.size(); ++k) out.emplace_back(size);
    const auto variety = static_cast<float>(s.variety / 100),
               depth = static_cast<float>(s.size * (0.08 + 0.22 * s.softness / 100));
    const auto dab = static_cast<float>(0.35 + 0.65 * definition), pore = static_cast<float>(0.35 + 0.5 * definition);
    for_cell_pixels(field, size, *context.job, [&](int x, int y, const CellRows& rows, std::size_t at) {
        const std::int32_t owner = rows.owner[at];
        const Cell& cell = field.cells()[static_cast<std::size_t>(owner)];
        const auto px = static_cast<float>(cell.x / cells.layout.width * size.width - 0.5);
        const auto py = static_cast<float>(cell.y / cells.layout.height * size.height - 0.5);
        // What a dab has of its own fades towards its true edge where it runs into the next one.
        const float own = std::min(1.0f, rows.edge[at] / depth + static_cast<float>(definition));
        const float cover = 1 - std::exp(-rows.border[at] / depth);
        const float shade = (1 - pore * (1 - cover)) * (1 + own * variety * (field.draw(owner, 0) - 0.5f));
        for (std::size_t k = 0; k < planes.size(); ++k) {
            const float here = planes[k]->row(y)[x];
            const float there = sample_bilinear(*planes[k], px, py);
            const float mixed = here + dab * own * (there - here);
            out[k].row(y)[x] = k < in.colour.size() ? mixed * shade : std::clamp(mixed, 0.0f, 1.0f);
        }
    });
    Bundle result;
    for (std::size_t k = 0; k < in.colour.size(); ++k) result.colour.push_back(share(std::move(out[k])));
    if (in.coverage) result.coverage = share(std::move(out.back()));
    result.named = in.named;
    return result;
}

}  // namespace

StepDescription describe_dapple() {
    StepDescription base;
    base.id = "dapple", base.title = "Dapple", base.family = Family::roughen;
    base.summary = "Breaks smooth tone into irregular dabs and pores: leather at low definition, sandpaper at high.";
    base.seeded = true;
    base.scratch_planes = 2;
    base.headline = {"size", "definition"};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("size", "Pore size", &Settings::size, {4, 512, Unit::px, 64, Scale::root}, "Mean distance between dabs.")
        .number("definition", "Definition", &Settings::definition, share,
                "From dabs that run together to grains that stand apart.")
        .number("softness", "Softness", &Settings::softness, share, "How round dabs are and how softly they fall into the pores.")
        .number("variety", "Variety", &Settings::variety, share, "How much dabs differ in tone.")
        .reach([](const Settings& s) { return 2 * s.size; })
        .run(run);
}

}  // namespace loom
