// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/structures/laid.h"

namespace loom {

namespace image_step {
namespace {

enum class Fit { stretch, fit, fill, repeat };

struct Settings {
    std::string file;
    Fit fit = Fit::fill;
    double scale = 100;
    bool close = false;
    double overlap = 15;
};

/// The picture as it lies: how many tiles one picture is wide and high, and where it begins.
struct Lie {
    double width = 1, height = 1, left = 0, top = 0;
};

Lie lie_of(const Settings& s, Size picture, Size tile) {
    const double across = static_cast<double>(tile.width) / picture.width,
                 down = static_cast<double>(tile.height) / picture.height;
    switch (s.fit) {
        case Fit::stretch: return {};
        case Fit::repeat:
            return {1.0 / repeats(tile.width, picture.width, s.scale), 1.0 / repeats(tile.height, picture.height, s.scale), 0, 0};
        case Fit::fit:
        case Fit::fill: {
            const double scale = s.fit == Fit::fit ? std::min(across, down) : std::max(across, down);
            const double w = picture.width * scale / tile.width, h = picture.height * scale / tile.height;
            return {w, h, (1 - w) / 2, (1 - h) / 2};
        }
    }
    return {};
}

Bundle mixed(const Bundle& a, const Bundle& b, const std::function<float(int, int)>& share_of_b, const Job& job) {
    const Size size = a.size();
    auto mix = [&](const PlaneRef& from, const PlaneRef& to) {
        Plane out(size);
        for_rows(job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; ++x)
                    out.row(y)[x] = from->row(y)[x] + share_of_b(x, y) * (to->row(y)[x] - from->row(y)[x]);
        });
        return share(std::move(out));
    };
    Bundle result;
    for (std::size_t k = 0; k < a.colour.size(); ++k) result.colour.push_back(mix(a.colour[k], b.colour[k]));
    if (a.coverage) result.coverage = mix(a.coverage, b.coverage);
    return result;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = context.other("file");
    if (!source || source->empty()) return Bundle::nothing(context.size);
    const Size size = context.size;
    const Lie lie = lie_of(s, source->size(), context.tile);
    const double overlap = s.close ? s.overlap / 100 : 0;
    // Brought near its final size by averages first, so that shrinking loses nothing.
    const Size near{
        std::clamp(static_cast<int>(std::lround(lie.width * size.width * (1 + overlap))), 1, 4 * source->size().width),
        std::clamp(static_cast<int>(std::lround(lie.height * size.height * (1 + overlap))), 1, 4 * source->size().height)};
    const Bundle picture =
        near.width < source->size().width || near.height < source->size().height ? resized(*source, near, *context.job) : *source;
    const Size own = picture.size();
    auto at = [&](double across, double down) {
        return [&, across, down](double u, double v, double& x, double& y) {
            const double s1 = (u - lie.left) / lie.width, t1 = (v - lie.top) / lie.height;
            // With an overlap the tile is a part of the picture, and what is left over lies behind it.
            x = (s1 + across) / (1 + overlap) * own.width - 0.5, y = (t1 + down) / (1 + overlap) * own.height - 0.5;
            if (s.fit != Fit::repeat) x = std::clamp(x, 0.0, own.width - 1.0), y = std::clamp(y, 0.0, own.height - 1.0);
        };
    };
    std::function<bool(double, double)> inside;
    if (s.fit == Fit::fit)
        inside = [&](double u, double v) {
            return u >= lie.left && u < lie.left + lie.width && v >= lie.top && v < lie.top + lie.height;
        };
    Bundle result = laid(picture, size, at(0, 0), inside, *context.job);
    if (overlap == 0) return result;
    // Near the left edge the picture beyond the right edge fades out, and so at the top.
    auto fade = [&](double place, double length) {
        const double t = std::clamp((place - std::floor(place / length) * length) / length / overlap, 0.0, 1.0);
        return static_cast<float>(t * t * (3 - 2 * t));
    };
    auto across = [&](int x, int) { return fade((x + 0.5) / size.width - lie.left, lie.width); };
    auto down = [&](int, int y) { return fade((y + 0.5) / size.height - lie.top, lie.height); };
    const Bundle top = mixed(laid(picture, size, at(1, 0), inside, *context.job), result, across, *context.job);
    const Bundle bottom = mixed(laid(picture, size, at(1, 1), inside, *context.job),
                                laid(picture, size, at(0, 1), inside, *context.job), across, *context.job);
    return mixed(bottom, top, down, *context.job);
}

}  // namespace
}  // namespace image_step

StepDescription describe_image() {
    using namespace image_step;
    StepDescription base;
    base.id = "image", base.title = "Picture", base.family = Family::make;
    base.summary = "A picture file, kept inside the recipe.";
    base.words = "photo photograph file import load bitmap scan";
    base.tiles = Tiling::depends;
    base.tiles_note = "on the picture; with its edges closed it always does";
    base.headline = {"fit"};
    base.scratch_planes = 8;
    const When repeated{"fit", {"repeat"}}, closed{"tile-it", {"on"}};
    return Describe<Settings>(std::move(base))
        .picture("file", "File", &Settings::file, "The picture; its file is copied into the recipe.")
        .choice("fit", "Fit", &Settings::fit, {{"stretch", "Stretch"}, {"fit", "Fit"}, {"fill", "Fill"}, {"repeat", "Repeat"}},
                "How it lies on the tile: drawn to its size, whole with room beside it, filling it with parts cut off, or as "
                "often as it "
                "goes into it.")
        .number("scale", "Scale", &Settings::scale, {1, 1000, Unit::percent, 400, Scale::root},
                "Size of each picture; 100 % is one pixel on one design pixel, rounded so that whole ones fill the tile.",
                repeated)
        .toggle("tile-it", "Close its edges", &Settings::close, "Lets opposite edges fade into each other, so that it repeats.")
        .number("overlap", "Overlap", &Settings::overlap, {1, 50, Unit::percent}, "How much of the picture the edges fade over.",
                closed)
        .shape([](const Settings&, Shape) {
            return Shape{3, true};
        })
        .notice([](const Settings& s) { return std::string(s.file.empty() ? "No picture is chosen yet." : ""); })
        .needs_whole()
        .run(run);
}

}  // namespace loom
