// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <set>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/resample.h"
#include "core/structures/facet_sheet.h"

namespace loom {

namespace crinkle_step {
namespace {

enum class Light { own, shared };

struct Settings {
    double push = 14;
    double push_direction = 0, one_sided = 0;
    double size = 90, size_spread = 60;
    double fold_back = 35;
    double glint = 35;
    Light light = Light::own;
    double direction = 135;
};

constexpr double degree = 3.14159265358979323846 / 180;

/// A crumpled sheet of ours, turned back at its creases by what lies higher and lower round about.
Plane sheet_of(const Settings& s, const StepContext& context) {
    static const std::set<std::string, std::less<>> none;
    StepContext own = context;
    own.input = nullptr, own.others.clear(), own.wanted = &none;
    const double count = static_cast<double>(context.tile.width) * context.tile.height / (s.size * s.size);
    FacetSheet facets = plain_facets();
    facets.count = static_cast<int>(std::clamp(std::round(count), 4.0, 16384.0));
    facets.levels = 1 + static_cast<int>(std::round(3 * s.size_spread / 100));
    facets.clumping = s.size_spread, facets.bend = std::clamp(0.12 * s.size, 0.0, 256.0);
    facets.sharpness = 70, facets.slope_limit = 80;
    const Bundle sheet = facet_sheet(facets, own);
    Plane height = sheet.colour.front()->clone();
    if (s.fold_back <= 0) return height;
    const Plane wide = gaussian_blur(height, 0.3 * s.size * context.scale_x(), 0.3 * s.size * context.scale_y(), *context.job);
    const auto fold = static_cast<float>(s.fold_back / 100);
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) height.row(y)[x] -= fold * wide.row(y)[x];
    });
    return height;
}

/// Leans between -1 and 1 to the right and down, as a picture of two planes. They are taken over a design pixel or two, so that
/// they mean the same at every size.
Bundle leans_of(const Plane& height, const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const int step_x = std::max(1, static_cast<int>(std::lround(context.scale_x()))),
              step_y = std::max(1, static_cast<int>(std::lround(context.scale_y())));
    // A sheet's slopes are about a fifth of its range over a facet.
    const auto to_x = static_cast<float>(3 * s.size / (2 * step_x / context.scale_x())),
               to_y = static_cast<float>(3 * s.size / (2 * step_y / context.scale_y()));
    auto bounded = [](float slope) { return slope / std::sqrt(1 + slope * slope); };
    Plane right(size), down(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float *here = height.row(y), *above = height.row(wrap(y - step_y, size.height)),
                        *below = height.row(wrap(y + step_y, size.height));
            for (int x = 0; x < size.width; ++x) {
                right.row(y)[x] = bounded(to_x * (here[wrap(x + step_x, size.width)] - here[wrap(x - step_x, size.width)]));
                down.row(y)[x] = bounded(to_y * (below[x] - above[x]));
            }
        }
    });
    Bundle leans;
    leans.colour = {share(std::move(right)), share(std::move(down))};
    return leans;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const Bundle leans = leans_of(sheet_of(s, context), s, context);
    const Plane &right = *leans.colour[0], &down = *leans.colour[1];
    // Along the push direction facets move the picture whole, across it as far as the push is not one-sided.
    const double turn = s.push_direction * degree, c = std::cos(turn), n = -std::sin(turn), other = 1 - s.one_sided / 100;
    const auto xx = static_cast<float>(c * c + other * n * n), xy = static_cast<float>((1 - other) * c * n),
               yy = static_cast<float>(n * n + other * c * c);
    const auto way_x = static_cast<float>(s.push * context.scale_x()), way_y = static_cast<float>(s.push * context.scale_y());
    Bundle out = resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            for (int x = 0; x < size.width; ++x) {
                const float lean_x = right.row(y)[x], lean_y = down.row(y)[x];
                px[x] = static_cast<float>(x) + way_x * (xx * lean_x + xy * lean_y);
                py[x] = static_cast<float>(y) + way_y * (xy * lean_x + yy * lean_y);
            }
        },
        *context.job);
    if (s.glint <= 0) return out;
    const double lamp = (s.light == Light::shared ? context.lamp_direction : s.direction) * degree;
    const auto lit_x = static_cast<float>(-s.glint / 100 * std::cos(lamp)),
               lit_y = static_cast<float>(s.glint / 100 * std::sin(lamp));
    for (PlaneRef& plane : out.colour) {
        Plane lit(size);
        for_rows(*context.job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; ++x)
                    lit.row(y)[x] = plane->row(y)[x] * std::max(0.0f, 1 + lit_x * right.row(y)[x] + lit_y * down.row(y)[x]);
        });
        plane = share(std::move(lit));
    }
    return out;
}

}  // namespace
}  // namespace crinkle_step

StepDescription describe_crinkle() {
    using namespace crinkle_step;
    StepDescription base;
    base.id = "crinkle", base.title = "Crinkle", base.family = Family::bend;
    base.summary = "Wrinkles as in foil or rolled glass: facets move what is seen through them and catch the light.";
    base.words = "crumple wrinkle creases folds paper leather";
    base.seeded = true;
    base.scratch_planes = 3;
    base.headline = {"size", "push"};
    const When own{"light", {"own"}};
    const Range share{0, 100, Unit::percent}, angle{-360, 360, Unit::degrees, 180};
    return Describe<Settings>(std::move(base))
        .number("push", "Push", &Settings::push, {0, 1024, Unit::px, 100, Scale::root}, "How far steep facets move the picture.")
        .number("push-direction", "Push direction", &Settings::push_direction, angle,
                "The way of a one-sided push; 0 is across, 90 up and down.")
        .number("one-sided", "One-sided", &Settings::one_sided, share, "How much of the push goes that way only.")
        .number("size", "Facet size", &Settings::size, {8, 4096, Unit::px, 512, Scale::root},
                "Middle width of the largest facets.")
        .number("size-spread", "Size spread", &Settings::size_spread, share, "How many smaller facets lie on the large ones.")
        .number("fold-back", "Fold back", &Settings::fold_back, share, "How much facets turn back towards their creases.")
        .number("glint", "Glint", &Settings::glint, {0, 200, Unit::percent}, "How much leaning facets differ in tone.")
        .choice("light", "Lamp", &Settings::light, {{"own", "Its own"}, {"shared", "The recipe's"}},
                "Whether it has a light of its own or follows the lamp of the recipe.")
        .number("direction", "Light from", &Settings::direction, angle, "Where the light comes from; 0 is right, 90 is above.",
                own)
        .direction("Light", "direction")
        .follows_lamp([](const Settings& s) { return s.light == Light::shared; })
        .needs_whole()
        .run(run);
}

}  // namespace loom
