// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/cloud_picture.h"

namespace loom {

namespace clouds_step {
namespace {

using Settings = CloudPicture;

}  // namespace
}  // namespace clouds_step

StepDescription describe_clouds() {
    using namespace clouds_step;
    StepDescription base;
    base.id = "clouds", base.title = "Clouds", base.family = Family::make;
    base.scratch_planes = 1.7;
    base.summary = "Fractal noise: soft areas that hold ever smaller ones.";
    base.words = "noise fog smoke perlin fractal turbulence soft patches marble stain";
    base.seeded = true;
    base.headline = {"size-x"};
    return Describe<Settings>(std::move(base))
        .choice("basis", "Basis", &Settings::basis, {{"gradient", "Gradient"}, {"value", "Value"}, {"simplex", "Simplex-like"}},
                "The noise that is summed: gradient is the most even, value the blotchiest, simplex-like the sharpest.")
        .visual({{"size-x", 64.0}, {"size-y", 64.0}, {"octaves", 1.0}})
        .toggle("twin", "Without axes", &Settings::twin,
                "Draws value noise on two lattices, so that the directions of neither show.", {"basis", {"value"}})
        .once(2, Value(false))
        .choice("form", "Form", &Settings::form,
                {{"smooth", "Smooth"},
                 {"billowed", "Billowed"},
                 {"ridged", "Ridged"},
                 {"folded", "Folded"},
                 {"single-band", "Single band"}},
                "How octaves are joined: plain, puffed up, as ridges, folded at the middle tone, or the finest octave alone.")
        .visual({{"size-x", 128.0}, {"size-y", 128.0}, {"octaves", 4.0}})
        .number("size-x", "Size across", &Settings::size_x, {4, 16384, Unit::px, 1024, Scale::root},
                "Width of the largest clouds; rounded so that whole cells fill the tile.")
        .number("size-y", "Size down", &Settings::size_y, {4, 16384, Unit::px, 1024, Scale::root},
                "Height of the largest clouds; rounded so that whole cells fill the tile.")
        .pair("Size", "size-x", "size-y")
        .count("octaves", "Octaves", &Settings::octaves, {1, 12, Unit::none}, "How many sizes of cloud are summed.")
        .choice("weights", "Finer ones by", &Settings::weights, {{"roughness", "Roughness"}, {"slope", "Slope of the spectrum"}},
                "How strong finer sizes are: each by a share of the one before, or all by one slope.",
                !When("form", {"single-band"}))
        .number("roughness", "Roughness", &Settings::roughness, {0, 100, Unit::percent},
                "How strong each finer size is beside the one before.", {"weights", {"roughness"}})
        .number(
            "slope", "Slope", &Settings::slope, {0, 6},
            "How fast power falls with frequency: 0 is as rough as static, 2 is even at every size, 4 is like clouds, 6 is like "
            "smoke.",
            {"weights", {"slope"}})
        .count("slant", "Slant", &Settings::slant, {-8, 8, Unit::none, 4},
               "Tiles that what stands upright moves across on its way down one; long clouds then run aslant.")
        .number("step", "Frequency step", &Settings::step, {1.2, 4, Unit::none},
                "How much finer each size is than the one before.")
        .number("wander", "Wander", &Settings::wander, {0, 2048, Unit::px, 256, Scale::root},
                "Bends the clouds by other clouds, this far.")
        .number("contrast", "Contrast", &Settings::contrast, {0, 1000, Unit::percent, 300},
                "How far tones stray from the middle.")
        .number("bias", "Bias", &Settings::bias, {-100, 100, Unit::percent}, "Lighter or darker as a whole.")
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .rounded([](const Settings& s, Size tile) {
            const CloudField field(cloud_settings(s, tile, 0), {16, 16});
            const double across = tile.width / field.across(), down = tile.height / field.down();
            const bool same = std::abs(across - s.size_x) < 0.05 && std::abs(down - s.size_y) < 0.05;
            return same ? std::string() : "Whole clouds fill the tile at " + show_pixels(across, down) + ".";
        })
        .pixelwise()
        .run(cloud_picture);
}

}  // namespace loom
