// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Structures with their height at 2048 x 2048 of a tile of 1024 design pixels, on one thread (argument 1) and on all (argument
// 0), beside six-octave clouds made the same way; and the first picture of 256 pixels that a knob shows, on all threads, each
// time with another seed, so that nothing that was kept from the last one helps.
#include <benchmark/benchmark.h>

#include "core/catalogue/description.h"

namespace {

using namespace loom;

constexpr int side = 2048;

void structure(benchmark::State& state, const char* kind, const Values& values, int width, int threads, bool reseed) {
    const std::set<std::string, std::less<>> wanted{"height"};
    const Job job;
    StepContext context;
    context.size = {width, width}, context.tile = {side / 2, side / 2}, context.seed = 1, context.wanted = &wanted,
    context.job = &job;
    const StepDescription& step = *find_step(kind);
    with_threads(threads, [&] {
        for (auto _ : state) {
            benchmark::DoNotOptimize(step.run(values, context).colour.data());
            context.seed += reseed;
        }
    });
    state.SetItemsProcessed(state.iterations() * width * width);
}

#define KEEN_LOOM_STRUCTURE(name, kind, ...)                                                                         \
    void name(benchmark::State& state) {                                                                             \
        structure(state, kind, Values __VA_ARGS__, side, static_cast<int>(state.range(0)), false);                   \
    }                                                                                                                \
    BENCHMARK(name)->Unit(benchmark::kMillisecond)->Arg(1)->Arg(0)->UseRealTime();                                   \
    void first_picture_##name(benchmark::State& state) { structure(state, kind, Values __VA_ARGS__, 256, 0, true); } \
    BENCHMARK(first_picture_##name)->Unit(benchmark::kMillisecond)->UseRealTime()

KEEN_LOOM_STRUCTURE(clouds_6_octaves_beside, "clouds", {});
KEEN_LOOM_STRUCTURE(rings_defaults, "rings", {});
KEEN_LOOM_STRUCTURE(weave_defaults, "weave", {});
KEEN_LOOM_STRUCTURE(streaks_straight, "streaks", {});
KEEN_LOOM_STRUCTURE(streaks_along_clouds, "streaks", {{"field", std::string("clouds")}});
KEEN_LOOM_STRUCTURE(veins_defaults, "veins", {});
KEEN_LOOM_STRUCTURE(courses_running, "courses", {});
KEEN_LOOM_STRUCTURE(scatter_defaults, "scatter", {});
KEEN_LOOM_STRUCTURE(dashes_defaults, "dashes", {});
KEEN_LOOM_STRUCTURE(scatter_50000_stacked, "scatter", {{"count", 50000.0}, {"size", 9.4}});
KEEN_LOOM_STRUCTURE(dashes_150000, "dashes", {{"count", 150000.0}, {"length", 11.0}, {"width", 0.9}});
KEEN_LOOM_STRUCTURE(facets_5000, "facets", {{"count", 5000.0}, {"levels", 1.0}});
KEEN_LOOM_STRUCTURE(facets_defaults, "facets", {});

}  // namespace
