// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Anisotropic Kuwahara filter (Kyprianidis, Kang & Doellner 2009): round each pixel lies an ellipse along the edge; the
// means of its eight sectors are averaged, calm sectors counting most. The ellipse is read at a fixed set of places in a
// picture softened to their distance, so that the cost does not grow with the size.
#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/image/sample_kernel.h"
#include "core/steps/roughen/daub_kernel.h"

namespace loom {

namespace daub_step {
namespace {

struct Settings {
    double size = 8;
    double sharpness = 60;
    double follow = 60;
};

constexpr int reach = 4;

/// A place in the unit disc and how much it counts in each sector.
struct Place {
    float x, y;
    std::array<float, daub_sectors> weight;
};

std::vector<Place> places() {
    std::vector<Place> result;
    for (int j = -reach; j <= reach; ++j)
        for (int i = -reach; i <= reach; ++i) {
            const double x = static_cast<double>(i) / reach, y = static_cast<double>(j) / reach, far = std::hypot(x, y);
            if (far > 1.01) continue;
            Place place{static_cast<float>(x), static_cast<float>(y), {}};
            const double bell = std::exp(-2 * far * far), turn = std::atan2(y, x);
            for (int k = 0; k < daub_sectors; ++k) {
                // Sectors overlap: each falls off as the square of a cosine over its neighbours.
                const double off = std::remainder(turn - k * 6.283185307179586 / daub_sectors, 6.283185307179586);
                const double share = far < 1e-9                     ? 1.0 / daub_sectors
                                     : std::abs(off) < 0.7853981634 ? std::pow(std::cos(2 * off), 2)
                                                                    : 0.0;
                place.weight[static_cast<std::size_t>(k)] = static_cast<float>(bell * share);
            }
            result.push_back(place);
        }
    return result;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Size size = context.size;
    const double scale = std::sqrt(context.scale_x() * context.scale_y()), radius = std::max(0.5, s.size * scale);
    const double soft = 0.4 * radius / reach;
    std::vector<PlaneRef> planes = in.colour;
    if (in.coverage) planes.push_back(in.coverage);
    std::vector<Plane> read;
    for (const PlaneRef& plane : planes)
        read.push_back(soft > 0.4 ? gaussian_blur(*plane, soft, soft, *context.job) : plane->clone());
    // The structure tensor says along what the picture runs, and how clearly.
    const PlaneRef tone = tone_of(in, *context.job);
    Plane xx(size), xy(size), yy(size);
    const int step = std::max(1, static_cast<int>(std::lround(scale)));
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const float* row = tone->row(y);
                const float gx = row[wrap_near(x + step, size.width)] - row[wrap_near(x - step, size.width)],
                            gy = tone->row(wrap_near(y + step, size.height))[x] - tone->row(wrap_near(y - step, size.height))[x];
                xx.row(y)[x] = gx * gx, xy.row(y)[x] = gx * gy, yy.row(y)[x] = gy * gy;
            }
    });
    const double even = 2 * scale + 0.3 * radius;
    xx = gaussian_blur(xx, even, even, *context.job), xy = gaussian_blur(xy, even, even, *context.job),
    yy = gaussian_blur(yy, even, even, *context.job);
    static const std::vector<Place> all = places();
    const auto sharp = static_cast<float>(std::pow(10.0, 1 + 3 * s.sharpness / 100)), follow = static_cast<float>(s.follow / 100);
    const std::size_t channels = planes.size();
    std::vector<Plane> out;
    std::vector<const float*> sources;
    for (std::size_t k = 0; k < channels; ++k) out.emplace_back(size), sources.push_back(read[k].data());
    const DaubSettings settings{static_cast<float>(radius), sharp, follow, static_cast<int>(channels)};
    // A tile at a time: its sums stay near the core while all places are read.
    constexpr int tile = daub_tile;
    for_ranges(*context.job, size.height, 4, [&](int first, int last) {
        const auto sums = std::make_unique<DaubSums>();
        std::vector<float> px(tile), py(tile), values(channels * tile);
        std::vector<float*> rows(channels), results(channels);
        for (std::size_t k = 0; k < channels; ++k) rows[k] = values.data() + k * tile;
        for (int left = 0; left < size.width; left += tile)
            for (int y = first; y < last; ++y) {
                context.job->check();
                const int count = std::min(tile, size.width - left);
                for (std::size_t k = 0; k < channels; ++k) results[k] = out[k].row(y) + left;
                daub_begin(settings, xx.row(y) + left, xy.row(y) + left, yy.row(y) + left, count, *sums);
                for (const Place& place : all) {
                    daub_places(*sums, place.x, place.y, static_cast<float>(left), static_cast<float>(y), count, px.data(),
                                py.data());
                    read_bilinear(sources.data(), settings.channels, size, px.data(), py.data(), count, rows.data());
                    daub_add(settings, rows.data(), place.weight.data(), count, *sums);
                }
                daub_finish(settings, *sums, count, results.data());
            }
    });
    Bundle result;
    for (std::size_t k = 0; k < in.colour.size(); ++k) result.colour.push_back(share(std::move(out[k])));
    if (in.coverage) result.coverage = share(std::move(out.back()));
    result.named = in.named;
    return result;
}

}  // namespace
}  // namespace daub_step

StepDescription describe_daub() {
    using namespace daub_step;
    StepDescription base;
    base.id = "daub", base.title = "Daub", base.family = Family::roughen;
    base.summary = "Gathers the picture into painterly areas that follow its edges.";
    base.words = "paint oil painterly brush strokes impressionist smear";
    base.headline = {"size"};
    return Describe<Settings>(std::move(base))
        .number("size", "Size", &Settings::size, {0.5, 256, Unit::px, 32, Scale::root}, "Radius of the areas.")
        .number("sharpness", "Sharpness", &Settings::sharpness, {0, 100, Unit::percent}, "How clearly areas stand apart.")
        .number("follow", "Follow edges", &Settings::follow, {0, 100, Unit::percent}, "How much areas are drawn out along edges.")
        .needs_whole()
        .scratch([](const Settings&, const Scales&, const PlaneCounts& planes) { return planes.in + 2.0; })
        .run(run);
}

}  // namespace loom
