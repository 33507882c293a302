// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <array>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/sample.h"
#include "core/structures/read_planes.h"

namespace loom {

namespace place_step {
namespace {

enum class Mirror { none, across, down, both };

struct Settings {
    double scale = 50;
    double turn = 0;
    double x = 0, y = 0;
    Mirror mirror = Mirror::none;
    bool keep = true;
    bool sharp = true;
    bool anew = true;
};

constexpr double pi = 3.14159265358979323846;

/// As many times as the picture grows, to what memory bears.
int enlarges(const Settings& s) {
    constexpr double greatest = 4;
    return s.sharp && !s.keep ? static_cast<int>(std::ceil(std::clamp(s.scale / 100, 1.0, greatest))) : 1;
}

/// From a place of the result to one of the picture, both in tiles; four numbers row by row.
using Matrix = std::array<double, 4>;

Matrix matrix_of(const Settings& s, Size tile) {
    const double c = std::cos(s.turn * pi / 180) * 100 / s.scale, n = std::sin(s.turn * pi / 180) * 100 / s.scale;
    const double ratio = static_cast<double>(tile.height) / tile.width;
    const double flip_x = s.mirror == Mirror::across || s.mirror == Mirror::both ? -1 : 1;
    const double flip_y = s.mirror == Mirror::down || s.mirror == Mirror::both ? -1 : 1;
    Matrix m{flip_x * c, -flip_x * n * ratio, flip_y * n / ratio, flip_y * c};
    if (!s.keep) return m;
    // Whole numbers carry tiles onto tiles.
    for (double& entry : m) entry = std::round(entry);
    if (m[0] * m[3] - m[1] * m[2] == 0) m = {flip_x, 0, 0, flip_y};
    return m;
}

/// A tile that is kept cannot grow; but what stands before can be made on a smaller one.
double remakes(const Settings& s) { return s.keep && s.anew && s.scale > 100 ? s.scale : 100; }

Bundle run(const Settings& given, const StepContext& context) {
    const Bundle& in = *context.input;
    Settings s = given;
    if (context.other("remade")) s.scale = 100;
    // What comes in may be larger than what goes out.
    const Size size = context.size, own = in.size();
    const Matrix m = matrix_of(s, context.tile);
    // A picture made smaller is read at several places a pixel.
    const double steep = std::max(std::hypot(m[0], m[2]), std::hypot(m[1], m[3])) * own.width / size.width;
    const int reads = std::clamp(static_cast<int>(std::ceil(steep)), 1, 8);
    ReadPlanes planes(in, [&] { return Plane(size); });
    auto& sources = planes.all;
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                for (ReadPlanes::Source& source : sources) source.out.row(y)[x] = 0;
                for (int j = 0; j < reads; ++j)
                    for (int i = 0; i < reads; ++i) {
                        const double u = (x + (i + 0.5) / reads) / size.width - 0.5 - s.x / 100;
                        const double v = (y + (j + 0.5) / reads) / size.height - 0.5 - s.y / 100;
                        double px = m[0] * u + m[1] * v + 0.5, py = m[2] * u + m[3] * v + 0.5;
                        px -= std::floor(px), py -= std::floor(py);
                        const auto at_x = static_cast<float>(px * own.width - 0.5),
                                   at_y = static_cast<float>(py * own.height - 0.5);
                        const bool middle = i == reads / 2 && j == reads / 2;
                        const float share = 1.0f / static_cast<float>(reads * reads);
                        if (!sources.empty() && reads > 1) {
                            for (ReadPlanes::Source& source : sources)
                                if (!source.whole) source.out.row(y)[x] += share * sample_bilinear(*source.plane, at_x, at_y);
                        } else {
                            const CubicPlace place(own, at_x, at_y);
                            for (ReadPlanes::Source& source : sources)
                                if (!source.whole) source.out.row(y)[x] = place.read(*source.plane);
                        }
                        if (!middle) continue;
                        for (ReadPlanes::Source& source : sources)
                            if (source.whole)
                                source.out.row(y)[x] =
                                    source.plane->row(nearest_pixel(at_y, own.height))[nearest_pixel(at_x, own.width)];
                    }
            }
    });
    return planes.finish();
}

}  // namespace
}  // namespace place_step

StepDescription describe_place() {
    using namespace place_step;
    StepDescription base;
    base.id = "place", base.title = "Place", base.family = Family::bend;
    base.summary = "Scales, turns, mirrors and moves the picture.";
    base.words = "scale size bigger larger smaller resize rotate turn flip mirror move enlarge";
    base.tiles = Tiling::depends,
    base.tiles_note = "it repeats while the tiling is kept, or scale and turn fit the tile by chance";
    base.headline = {"scale", "turn"};
    const Range share{-100, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("scale", "Scale", &Settings::scale, {2, 1600, Unit::percent, 400, Scale::root},
                "Size of the picture beside what it was.")
        .number("turn", "Turn", &Settings::turn, {-360, 360, Unit::degrees, 180}, "How far it is turned to the left.")
        .number("x", "Right", &Settings::x, share, "How far to the right, as a share of the tile.")
        .number("y", "Down", &Settings::y, share, "How far down, as a share of the tile.")
        .pair("Place", "x", "y")
        .choice("mirror", "Mirror", &Settings::mirror,
                {{"none", "None"}, {"across", "Across"}, {"down", "Down"}, {"both", "Both"}},
                "Swaps left and right, top and bottom, or both.")
        .visual({{"scale", 100.0}})
        .toggle("sharp", "Made at its size", &Settings::sharp,
                "Makes what comes before at the size it is shown at, up to 400 %, so that it stays sharp; this takes its memory. "
                "Only where the tiling is not kept, as a tile that is kept cannot grow.",
                {"keep", {"off"}})
        .enlarges(enlarges)
        .toggle("keep", "Keep tiling", &Settings::keep, "Snaps scale and turn to what closes at the tile edge.")
        .toggle("anew", "Made anew", &Settings::anew,
                "Above 100 % makes what comes before on a tile so much smaller, so that everything in it is larger and still "
                "closes. It is another piece of the same stuff then.",
                {"keep", {"on"}})
        .once(1, Value(false))
        .remakes(remakes)
        .rounded([](const Settings& given, Size tile) {
            if (!given.keep) return std::string();
            Settings s = given;
            const double made = remakes(s);
            if (made > 100) s.scale = 100;
            const Matrix m = matrix_of(s, tile);
            const double ratio = static_cast<double>(tile.height) / tile.width;
            const double scale = made / std::hypot(m[0], m[2] * ratio);
            const double turn = std::atan2(m[2] * ratio, m[0]) * 180 / pi;
            return "The tile closes at " + write_number(std::round(scale * 10) / 10) + " % and " +
                   write_number(std::round(turn * 10) / 10) + " degrees.";
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
