// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lit preview at 512 x 512, as it follows a dragged lamp: on each shape, and what a changed recipe costs first.
#include <benchmark/benchmark.h>

#include "core/files/kept_picture.h"
#include "core/maps/lit.h"
#include "core/recipe/container.h"
#include "core/render/lighting.h"
#include "core/render/render.h"

using namespace loom;

namespace {

constexpr Size size{512, 512};

const LitMaps& maps() {
    static const LitMaps made = [] {
        const auto file = read_loom(KEEN_LOOM_SAMPLES "/gilded-sign.loom");
        RenderOptions options;
        options.pictures = &picture_reader();
        auto rendered = render(file->recipe, size, wanted_for_light(), options, Job());
        return maps_for_light(file->recipe, size, rendered->results);
    }();
    return made;
}

void lit(benchmark::State& state, LitShape shape) {
    const LitMaterial material(maps(), Job());
    const LitGeometry geometry = lit_geometry(shape, size, 1, 1);
    LitLight light;
    for (auto each : state) {
        (void)each;
        light.direction += 1;
        benchmark::DoNotOptimize(lit_picture(material, geometry, light, 0.1f, Job()));
    }
}

void prepared(benchmark::State& state) {
    const LitMaps& of = maps();
    for (auto each : state) {
        (void)each;
        benchmark::DoNotOptimize(LitMaterial(of, Job()));
    }
}

BENCHMARK_CAPTURE(lit, tile, LitShape::tile)->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(lit, ball, LitShape::ball)->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(lit, sheet, LitShape::sheet)->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(lit, block, LitShape::block)->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(prepared)->Name("lit_material_512")->UseRealTime()->Unit(benchmark::kMillisecond);

}  // namespace
