// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Facets as the cells of relaxed points: each leans its own way, and so displaces what is seen and catches the light.
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"
#include "core/steps/cell_layout.h"
#include "core/steps/bend/resample.h"

namespace loom {

namespace {

enum class Light { own, shared };

struct Settings {
    double across = 14, down = 14;
    double size = 90;
    double edge = 40;
    double shade = 35;
    Light light = Light::own;
    double direction = 135;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    CellSettings cells = cells_apart(s.size, s.size, context.tile);
    cells.layout.relaxation = 1, cells.layout.seed = context.seed;
    const CellField field(cells, size, *context.job);
    struct Facet {
        float x, y, light;
    };
    std::vector<Facet> facets;
    const double lamp = (s.light == Light::shared ? context.lamp_direction : s.direction) * 3.14159265358979323846 / 180;
    for (int k = 0; k < static_cast<int>(field.cells().size()); ++k) {
        const double turn = 6.283185307179586 * static_cast<double>(field.draw(k, 0)),
                     lean = std::sqrt(static_cast<double>(field.draw(k, 1)));
        facets.push_back({static_cast<float>(lean * std::cos(turn)), static_cast<float>(-lean * std::sin(turn)),
                          static_cast<float>(lean * std::cos(turn - lamp))});
    }
    Plane move_x(size), move_y(size), light(size);
    const auto edge = static_cast<float>(s.edge / 100), reach = static_cast<float>(0.25 * s.size);
    for_cell_pixels(field, size, *context.job, [&](int x, int y, const CellRows& rows, std::size_t at) {
        const Facet& facet = facets[static_cast<std::size_t>(rows.owner[at])];
        // Towards its crease a facet bends back to the plane, by as much as edges count.
        const float t = std::min(1.0f, rows.border[at] / reach), keep = 1 - edge * (1 - t * t * (3 - 2 * t));
        // Within a pixel of the crease both facets count alike.
        const float soft = std::min(1.0f, rows.border[at] * static_cast<float>(context.scale_x()) + 0.5f);
        move_x.row(y)[x] = facet.x * keep * soft, move_y.row(y)[x] = facet.y * keep * soft;
        light.row(y)[x] = facet.light * keep * soft - 0.5f * edge * (1 - t) * (1 - t);
    });
    Bundle out = resampled(
        *context.input,
        [&](int y, float* px, float* py) {
            const auto way_x = static_cast<float>(s.across * context.scale_x()),
                       way_y = static_cast<float>(s.down * context.scale_y());
            for (int x = 0; x < size.width; ++x) {
                px[x] = static_cast<float>(x) + way_x * move_x.row(y)[x];
                py[x] = static_cast<float>(y) + way_y * move_y.row(y)[x];
            }
        },
        *context.job);
    const auto shade = static_cast<float>(s.shade / 100);
    if (shade == 0) return out;
    for (PlaneRef& plane : out.colour) {
        Plane lit(size);
        for_rows(*context.job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; ++x)
                    lit.row(y)[x] = plane->row(y)[x] * std::max(0.0f, 1 + shade * light.row(y)[x]);
        });
        plane = share(std::move(lit));
    }
    return out;
}

}  // namespace

StepDescription describe_crinkle() {
    StepDescription base;
    base.id = "crinkle", base.title = "Crinkle", base.family = Family::bend;
    base.summary = "Facets as in foil or rolled glass: each moves what is seen through it and catches the light.";
    base.seeded = true;
    base.scratch_planes = 5;
    base.headline = {"size"};
    const When own{"light", {"own"}};
    const Range way{0, 1024, Unit::px, 100, Scale::root}, share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("across", "Across", &Settings::across, way, "How far facets move the picture across.")
        .number("down", "Down", &Settings::down, way, "How far facets move the picture down.")
        .number("size", "Size", &Settings::size, {8, 4096, Unit::px, 512, Scale::root}, "Mean width of a facet.")
        .number("edge", "Edge influence", &Settings::edge, share, "How much facets bend back, and darken, towards their creases.")
        .number("shade", "Shade", &Settings::shade, {0, 200, Unit::percent}, "How much leaning facets differ in tone.")
        .choice("light", "Lamp", &Settings::light, {{"own", "Its own"}, {"shared", "The recipe's"}},
                "Whether it has a light of its own or follows the lamp of the recipe.")
        .number("direction", "Light from", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where the light comes from; 0 is right, 90 is above.", own)
        .direction("Light", "direction")
        .follows_lamp([](const Settings& s) { return s.light == Light::shared; })
        .reach([](const Settings& s) { return std::max(s.across, s.down); })
        .run(run);
}

}  // namespace loom
