// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/clouds.h"

#include <cmath>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"
#include "core/steps/drift.h"

namespace loom {

namespace {

struct Settings {
    Basis basis = Basis::gradient;
    CloudForm form = CloudForm::smooth;
    double size_x = 256, size_y = 256;
    int octaves = 6;
    double roughness = 50;
    double step = 2;
    double wander = 0;
    double contrast = 100;
    double bias = 0;
};

/// Tone deviation at contrast 100 %: nearly all values then lie between black and white.
constexpr float tone_deviation = 0.17f;

CloudSettings cloud_settings(const Settings& s, Size tile, std::uint64_t seed) {
    CloudSettings clouds;
    clouds.basis = s.basis, clouds.form = s.form;
    clouds.across = tile.width / s.size_x, clouds.down = tile.height / s.size_y;
    clouds.octaves = s.octaves, clouds.roughness = s.roughness / 100, clouds.step = s.step, clouds.seed = seed;
    return clouds;
}

/// What a row is made from, worked out once for all.
struct Made {
    CloudField field;
    std::optional<Drift> drift;
};

Bundle run(const Settings& s, const StepContext& context) {
    const bool bent = s.wander > 0;
    const float factor = tone_deviation * static_cast<float>(s.contrast / 100);
    const float centre = 0.5f + static_cast<float>(s.bias / 100);
    DriftSettings wander;
    wander.distance_px = s.wander;
    wander.size_x_px = s.size_x, wander.size_y_px = s.size_y;
    wander.octaves = 3, wander.seed = mix64(context.seed, 0x64726966);
    const auto made = context.once([&] {
        Made all{CloudField(cloud_settings(s, context.tile, context.seed), context.size, bent ? nullptr : context.job), {}};
        if (bent) all.drift.emplace(wander, context);
        return all;
    });
    const CloudField& field = made->field;
    Plane plane = context.plane();
    context.for_rows([&](int first, int last) {
        const auto padded = static_cast<std::size_t>(field.padded_width());
        std::vector<float> values(padded), du(padded), dv(padded);
        for (int y = first; y < last; ++y) {
            if (bent) {
                made->drift->row(y, du.data(), dv.data());
                field.row(y, values.data(), du.data(), dv.data());
            } else {
                field.row(y, values.data());
            }
            float* row = plane.row(y);
            for (int x = 0; x < context.size.width; ++x) row[x] = centre + factor * values[static_cast<std::size_t>(x)];
        }
    });
    return Bundle::of(std::move(plane));
}

}  // namespace

StepDescription describe_clouds() {
    StepDescription base;
    base.id = "clouds", base.title = "Clouds", base.family = Family::make;
    base.summary = "Fractal noise: soft areas that hold ever smaller ones.";
    base.seeded = true;
    base.headline = {"size-x"};
    return Describe<Settings>(std::move(base))
        .choice("basis", "Basis", &Settings::basis, {{"gradient", "Gradient"}, {"value", "Value"}, {"simplex", "Simplex-like"}},
                "The noise that is summed: gradient is the most even, value the blotchiest, simplex-like the sharpest.")
        .choice("form", "Form", &Settings::form,
                {{"smooth", "Smooth"},
                 {"billowed", "Billowed"},
                 {"ridged", "Ridged"},
                 {"folded", "Folded"},
                 {"single-band", "Single band"}},
                "How octaves are joined: plain, puffed up, as ridges, folded at the middle tone, or the finest octave alone.")
        .number("size-x", "Size across", &Settings::size_x, {4, 16384, Unit::px, 1024, Scale::root},
                "Width of the largest clouds; rounded so that whole cells fill the tile.")
        .number("size-y", "Size down", &Settings::size_y, {4, 16384, Unit::px, 1024, Scale::root},
                "Height of the largest clouds; rounded so that whole cells fill the tile.")
        .count("octaves", "Octaves", &Settings::octaves, {1, 12, Unit::none}, "How many sizes of cloud are summed.")
        .number("roughness", "Roughness", &Settings::roughness, {0, 100, Unit::percent},
                "How strong each finer size is beside the one before.")
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
        .run(run);
}

}  // namespace loom
