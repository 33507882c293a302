// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/structures/cell_layout.h"

namespace loom {

namespace mosaic_step {
namespace {

struct Settings {
    double size = 48;
    double stretch = 100;
    double jitter = 100;
    double line = 3;
    Colour colour{0.12f, 0.11f, 0.10f};
    double rounding = 20;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Size size = context.size;
    CellSettings cells = cells_apart(s.size * s.stretch / 100, s.size, context.tile);
    cells.layout.jitter = s.jitter / 100, cells.layout.relaxation = 1, cells.layout.seed = context.seed;
    cells.rounding_px = s.rounding / 100 * 0.2 * std::sqrt(cells.spacing_x * cells.spacing_y);
    const CellField field(cells, size, *context.job);

    std::vector<PlaneRef> planes = in.colour;
    if (in.coverage) planes.push_back(in.coverage);
    const std::size_t count = planes.size();
    std::vector<double> sums(field.cells().size() * (count + 1), 0);
    std::vector<std::int32_t> owner(size.pixels());
    Plane cover(size);
    const auto soft = static_cast<float>(std::max(1.0, 1 / std::sqrt(context.scale_x() * context.scale_y())));
    for_cell_pixels(field, size, *context.job, [&](int x, int y, const CellRows& rows, std::size_t at) {
        owner[static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) + static_cast<std::size_t>(x)] = rows.owner[at];
        const float inside = (rows.border[at] - static_cast<float>(s.line / 2)) / soft + 0.5f;
        cover.row(y)[x] = s.line > 0 ? std::clamp(inside, 0.0f, 1.0f) : 1.0f;
    });
    // Each plane by itself in one order, so that the means do not depend on threads.
    for_ranges(*context.job, static_cast<int>(count) + 1, 1, [&](int first, int last) {
        for (auto k = static_cast<std::size_t>(first); k < static_cast<std::size_t>(last); ++k)
            for (std::size_t i = 0; i < size.pixels(); ++i)
                sums[static_cast<std::size_t>(owner[i]) * (count + 1) + k] +=
                    k < count ? static_cast<double>(planes[k]->data()[i]) : 1.0;
    });
    const float line[3] = {s.colour.red, s.colour.green, s.colour.blue};
    const int channels = s.line > 0 ? 3 : static_cast<int>(in.colour.size());
    std::vector<Plane> out;
    for (int c = 0; c < channels; ++c) out.emplace_back(size);
    Plane coverage = in.coverage ? Plane(size) : Plane();
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const std::size_t i =
                    static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) + static_cast<std::size_t>(x);
                const double* sum = sums.data() + static_cast<std::size_t>(owner[i]) * (count + 1);
                const float share = cover.row(y)[x];
                auto mean = [&](std::size_t k) { return static_cast<float>(sum[k] / sum[count]); };
                const float covered = in.coverage ? mean(count - 1) : 1.0f;
                for (int c = 0; c < channels; ++c)
                    out[static_cast<std::size_t>(c)].row(y)[x] =
                        share * mean(in.grey() ? 0 : static_cast<std::size_t>(c)) + (1 - share) * line[c] * covered;
                if (in.coverage) coverage.row(y)[x] = covered;
            }
    });
    Bundle result;
    for (Plane& plane : out) result.colour.push_back(share(std::move(plane)));
    if (in.coverage) result.coverage = share(std::move(coverage));
    result.named = in.named;
    return result;
}

}  // namespace
}  // namespace mosaic_step

StepDescription describe_mosaic() {
    using namespace mosaic_step;
    StepDescription base;
    base.id = "mosaic", base.title = "Cell mosaic", base.family = Family::roughen;
    base.summary = "Gathers the picture into cells of one colour each, with leads between them.";
    base.words = "pixelate tiles blocks stained glass cells";
    base.seeded = true;
    base.scratch_planes = 0;
    base.headline = {"size"};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("size", "Cell size", &Settings::size, {4, 4096, Unit::px, 256, Scale::root}, "Mean distance between cells.")
        .number("stretch", "Stretch", &Settings::stretch, {10, 1000, Unit::percent, 400, Scale::root},
                "Width of the cells beside their height.")
        .number("jitter", "Jitter", &Settings::jitter, share, "How far cells stray from staggered rows.")
        .number("line", "Line", &Settings::line, {0, 256, Unit::px, 24, Scale::root}, "Width of the leads; 0 for none.")
        .colour("line-colour", "Line colour", &Settings::colour, "The colour of the leads.")
        .number("rounding", "Rounding", &Settings::rounding, share, "Rounds the corners of the cells.")
        .shape([](const Settings& s, Shape in) {
            return Shape{s.line > 0 ? 3 : in.channels, in.coverage};
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
