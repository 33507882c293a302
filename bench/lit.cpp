// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lit preview at 512 x 512, as it follows a dragged lamp: on each shape, and what a changed recipe costs first.
#include <benchmark/benchmark.h>

#include "core/files/kept_picture.h"
#include "core/maps/lit.h"
#include "core/recipe/container.h"
#include "core/render/render.h"

using namespace loom;

namespace {

constexpr Size size{512, 512};

const LitMaterial::Maps& maps() {
    static const LitMaterial::Maps made = [] {
        const auto file = read_loom(KEEN_LOOM_SAMPLES "/gilded-sign.loom");
        RenderOptions options;
        options.pictures = &picture_reader();
        const auto wanted = [](Map map) { return map == Map::colour ? Wanted{} : Wanted{Wanted::What::map, "", "", map}; };
        std::vector<Wanted> all;
        for (const MapInfo& info : map_table) all.push_back(wanted(info.map));
        auto rendered = render(file->recipe, size, all, options, Job());
        const auto of = [&](Map map) { return rendered->results.at(wanted(map)); };
        LitMaterial::Maps result;
        result.colour = of(Map::colour), result.normal = of(Map::normal);
        result.height = of(Map::height).colour[0], result.roughness = of(Map::roughness).colour[0];
        result.metalness = of(Map::metalness).colour[0], result.occlusion = of(Map::occlusion).colour[0];
        result.deep = file->recipe.tile.deep / 2;
        return result;
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
    const LitMaterial::Maps& of = maps();
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
