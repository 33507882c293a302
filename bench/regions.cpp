// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Whole results beside bands and parts, with the memory each has alive; and steps as the program meets them: cold, when their
// planes come fresh from the system, and warm, when they take the place of others.
#include <benchmark/benchmark.h>

#include "core/base/memory.h"
#include "core/image/distance.h"
#include "core/recipe/container.h"
#include "core/render/render.h"

namespace {

using namespace loom;

const Recipe& oak() {
    static const Recipe recipe = read_loom(KEEN_LOOM_SAMPLES "/carriage-oak.loom")->recipe;
    return recipe;
}

std::vector<Wanted> maps() {
    std::vector<Wanted> wanted;
    for (const MapInfo& info : map_table) wanted.push_back({Wanted::What::map, "", "", info.map});
    return wanted;
}

void counted(benchmark::State& state, int side) {
    state.SetItemsProcessed(state.iterations() * side * side);
    state.counters["MiB"] = static_cast<double>(Memory::process().counts().most >> 20);
}

/// Carriage oak with its six maps, all cores.
void rendered(benchmark::State& state, RenderWay way) {
    const int side = static_cast<int>(state.range(0));
    const Job job;
    RenderOptions options;
    options.way = way;
    Memory::process().release();
    Memory::process().count_anew();
    for (auto _ : state) {
        const auto done = render_bands(
            oak(), {side, side}, maps(), options,
            [](const Wanted&, const Bundle& band) -> Result<Done> {
                benchmark::DoNotOptimize(band.channel(0).data());
                return Done{};
            },
            job);
        if (!done) state.SkipWithError(done.error().message.c_str());
    }
    counted(state, side);
}
void regions_whole(benchmark::State& state) { rendered(state, RenderWay::whole); }
void regions_bands(benchmark::State& state) { rendered(state, RenderWay::bands); }
BENCHMARK(regions_whole)->Arg(2048)->Arg(4096)->Arg(8192)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(regions_bands)->Arg(2048)->Arg(4096)->Arg(8192)->Unit(benchmark::kMillisecond)->UseRealTime();

/// What a view of 1000 x 600 pixels shows of a cloth of 4096 at 1:1.
void regions_part_of_4096(benchmark::State& state) {
    const Job job;
    for (auto _ : state)
        benchmark::DoNotOptimize(render_region(oak(), {4096, 4096}, {}, {1200, 1500, 1000, 600}, {}, job)->channel(0).data());
}
BENCHMARK(regions_part_of_4096)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Three planes of 2048 blurred by 32 px.
void blurred(benchmark::State& state, bool cold) {
    constexpr int side = 2048;
    const Job job;
    Bundle in;
    for (int c = 0; c < 3; ++c) in.colour.push_back(share(Plane({side, side}, 0.3f + 0.1f * static_cast<float>(c))));
    const StepDescription& step = *find_step("gaussian");
    for (auto _ : state) {
        if (cold) {
            state.PauseTiming();
            Memory::process().release();
            state.ResumeTiming();
        }
        const auto out = apply_step(step, {{"radius", Value(32.0)}}, 0, {side, side}, &in, {}, 1, job);
        benchmark::DoNotOptimize(out->channel(0).data());
    }
}
void blur_32_px_cold(benchmark::State& state) { blurred(state, true); }
void blur_32_px_warm(benchmark::State& state) { blurred(state, false); }
BENCHMARK(blur_32_px_cold)->Unit(benchmark::kMillisecond);
BENCHMARK(blur_32_px_warm)->Unit(benchmark::kMillisecond);

/// One thread; relief_plain is the measure for it.
void distance(benchmark::State& state) {
    constexpr int side = 2048;
    const Job job;
    const auto veins = apply_step(*find_step("clouds"), {{"size-x", Value(96.0)}, {"size-y", Value(96.0)}}, 3, {side, side},
                                  nullptr, {}, 0, job);
    with_threads(1, [&] {
        for (auto _ : state)
            benchmark::DoNotOptimize(distance_to_level(veins->channel(0), 0.5f, static_cast<double>(state.range(0)), job).data());
    });
    state.SetItemsProcessed(state.iterations() * side * side);
}
BENCHMARK(distance)->Arg(8)->Arg(32)->Arg(200)->Unit(benchmark::kMillisecond);

}  // namespace
